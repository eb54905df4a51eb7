"""Phones and tablets: a link signs one in, once, within minutes, revocable; a device that is removed is signed out."""

from __future__ import annotations

import re
from datetime import timedelta
from io import StringIO
from urllib.parse import unquote

import segno
from django.core.management import call_command
from django.test import Client, override_settings
from django.utils import timezone

from tests.api.base import ApiTestCase
from workshop.models import Device, PairingLink

ADDRESS = "https://192.168.7.7:8443/"


@override_settings(LAN_ADDRESS=ADDRESS)
class Pairing(ApiTestCase):
    def setUp(self) -> None:
        super().setUp()
        self.phone = Client(enforce_csrf_checks=True)
        self.phone.get("/api/session")

    def link(self) -> str:
        made = self.send("post", "/pairing/links", {})
        self.assertEqual(made.status_code, 201, made.content)
        return str(made.json()["address"])

    def pair(self, address: str, phone: Client | None = None, name: str = "Phone of the pit") -> object:
        phone = phone or self.phone
        token = {"X-CSRFToken": phone.cookies["csrftoken"].value}
        body = {"secret": address.rsplit("/", 1)[1], "name": name}
        return phone.post("/api/session/pair", body, content_type="application/json", headers=token)

    def test_a_link_signs_one_device_in_and_no_second(self) -> None:
        address = self.link()
        self.assertTrue(address.startswith(f"{ADDRESS}pair/"))
        self.assertEqual(self.pair(address).json()["workshop"], "Ours")  # type: ignore[attr-defined]
        self.assertEqual(self.phone.get("/api/vehicles").status_code, 200)
        other = Client(enforce_csrf_checks=True)
        other.get("/api/session")
        body = self.refused(self.pair(address, other), 404)
        self.assertIn("was used", body["detail"])
        shown = self.send("get", "/pairing").json()
        self.assertEqual(([item["name"] for item in shown["devices"]], shown["links"]), (["Phone of the pit"], []))

    def test_its_secret_is_not_kept_and_it_grows_old(self) -> None:
        address = self.link()
        secret = address.rsplit("/", 1)[1]
        self.assertNotIn(secret, str(PairingLink.objects.values_list()))
        PairingLink.objects.update(expires_at=timezone.now() - timedelta(seconds=1))
        self.refused(self.pair(address), 404)
        self.assertEqual(self.send("get", "/pairing").json()["links"], [])

    def test_it_is_revoked_by_its_maker_alone(self) -> None:
        address = self.link()
        number = self.send("get", "/pairing").json()["links"][0]["id"]
        self.client.force_login(self.their_vehicle.workshop.members.first().user)
        self.refused(self.send("delete", f"/pairing/links/{number}"), 404)
        self.client.force_login(self.user)
        self.assertEqual(self.send("delete", f"/pairing/links/{number}").status_code, 204)
        self.refused(self.pair(address), 404)

    def test_a_device_that_is_removed_is_signed_out(self) -> None:
        self.pair(self.link())
        number = Device.objects.get().pk
        self.client.force_login(self.their_vehicle.workshop.members.first().user)
        self.refused(self.send("delete", f"/pairing/devices/{number}"), 404)
        self.client.force_login(self.user)
        self.assertEqual(self.send("delete", f"/pairing/devices/{number}").status_code, 204)
        self.assertEqual(self.phone.get("/api/vehicles").status_code, 401)
        self.assertEqual(self.send("get", "/pairing").json()["devices"], [])

    def test_one_that_signed_out_by_itself_is_not_shown(self) -> None:
        self.pair(self.link())
        token = {"X-CSRFToken": self.phone.cookies["csrftoken"].value}
        self.phone.delete("/api/session", headers=token)
        self.assertEqual(self.send("get", "/pairing").json()["devices"], [])

    def test_forged_wrong_or_without_a_network(self) -> None:
        self.assertEqual(
            self.phone.post("/api/session/pair", {"secret": "x"}, content_type="application/json").status_code, 403
        )
        self.refused(self.pair("x/" + "y" * 24), 404)
        for _ in range(7):
            self.link()
        self.assertEqual(PairingLink.objects.count(), 5)
        with override_settings(LAN_ADDRESS=""):
            body = self.refused(self.send("post", "/pairing/links", {}), 422)
            self.assertIn("--lan", body["problems"][0]["remedy"])

    def test_the_codes_are_those_of_the_addresses(self) -> None:
        """The picture and the letters in the terminal, against the library's own drawing of the same address."""
        made = self.send("post", "/pairing/links", {}).json()
        path = re.search(r' d="[^"]+"', segno.make(made["address"], error="m").svg_inline(scale=6, border=4))
        assert path is not None
        self.assertIn(path[0].strip(), unquote(made["code"]).replace("'", '"'))
        said = StringIO()
        call_command("lan", trust="http://192.168.7.7:8444/trust/", fingerprint="AB:CD", stdout=said)
        drawn = StringIO()
        segno.make("http://192.168.7.7:8444/trust/", error="l").terminal(drawn, border=2, compact=True)
        self.assertIn(drawn.getvalue(), said.getvalue())
        self.assertIn("AB:CD", said.getvalue())
        self.assertRegex(said.getvalue(), r"within 10 minutes: https://192\.168\.7\.7:8443/pair/\S{20,}")
