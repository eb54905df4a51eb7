"""Who may have what: headers of every answer, secrets that are kept nowhere, accounts that may only read, the audit."""

from __future__ import annotations

import importlib
import os
import re
from datetime import timedelta
from pathlib import Path
from tempfile import TemporaryDirectory
from typing import Any
from unittest import mock

from axes.models import AccessAttempt
from django.conf import settings
from django.contrib.auth.models import User
from django.contrib.sessions.models import Session
from django.test import Client, override_settings
from django.utils import timezone

import wheelometron.settings
from tests.api.base import ApiTestCase
from tests.api.test_recordings import RecordingsTestCase
from tests.worker import work_all
from wheelometron.lan.certificates import authority
from workshop import bin as the_bin
from workshop.models import (
    AuditEntry,
    CalendarFeed,
    FaultRecord,
    InstallationRecord,
    Member,
    OutPiece,
    PairingLink,
    RecordingRecord,
    Vehicle,
    Work,
    WriteKey,
)

TABLE = b"time,gps km/h,dash km/h\n" + b"".join([b"%d,50,51\n" % at for at in range(200)])
LAN = override_settings(LAN_ADDRESS="https://192.168.1.20:8443/")


class Answers(RecordingsTestCase):
    def test_answers_are_kept_nowhere_and_run_nothing(self) -> None:
        for path in ("/api/session", "/api/vehicles", "/api/nowhere", "/api/openapi.json"):
            answer = self.client.get(path)
            self.assertEqual(answer["Cache-Control"], "no-store", path)
            self.assertIn("sandbox", answer["Content-Security-Policy"])
            self.assertEqual(answer["Cross-Origin-Resource-Policy"], "same-origin")
            self.assertIn("camera=(self)", answer["Permissions-Policy"])

    def test_the_page_takes_styles_and_scripts_from_files_alone(self) -> None:
        for path in ("/", "/index.html", "/vehicle/1"):
            policy = self.client.get(path)["Content-Security-Policy"]
            self.assertIn("default-src 'self'", policy)
            self.assertNotIn("unsafe", policy)
            self.assertIn("frame-ancestors 'none'", policy)

    def test_the_page_about_trust_has_a_style_of_its_own_and_nothing_else(self) -> None:
        with TemporaryDirectory() as folder:
            authority(Path(folder), "bench-pc")
            with LAN, override_settings(LAN_FOLDER=folder):
                answer = self.client.get("/trust/")
        nonce = re.search(r"style-src 'nonce-([^']+)'", answer["Content-Security-Policy"])
        assert nonce is not None
        self.assertIn(f'<style nonce="{nonce[1]}">', answer.content.decode())
        self.assertIn("default-src 'none'", answer["Content-Security-Policy"])

    def test_an_original_is_never_a_page_or_a_drawing(self) -> None:
        for name in ("drive.html", "drive.svg", "drive.csv"):
            sent = self.read(TABLE + name.encode(), name)["recording"]
            answer = self.client.get(f"/api/recordings/{sent['id']}/original")
            self.assertEqual(answer["Content-Type"], "application/octet-stream", name)
            self.assertTrue(answer["Content-Disposition"].startswith("attachment"), name)

    def test_under_tls_cookies_are_bound_to_the_host(self) -> None:
        """RFC 6265bis, 4.1.3.2: the prefix __Host-; RFC 6797: strict transport."""
        try:
            with mock.patch.dict(os.environ, {"WHEELOMETRON_TLS": "1"}):
                under_tls = importlib.reload(wheelometron.settings)
                self.assertEqual(under_tls.SESSION_COOKIE_NAME[:7], "__Host-")
                self.assertEqual(under_tls.CSRF_COOKIE_NAME[:7], "__Host-")
                self.assertTrue(under_tls.SESSION_COOKIE_SECURE)
                self.assertEqual(under_tls.SECURE_HSTS_SECONDS, 30 * 24 * 3600)
        finally:
            plain = importlib.reload(wheelometron.settings)
        self.assertEqual((plain.SESSION_COOKIE_NAME, plain.SECURE_HSTS_SECONDS), ("sessionid", 0))


class KeptAnswers(ApiTestCase):
    def write(self, path: str, key: str, body: Any = None) -> Any:
        return self.client.post(f"/api{path}", body or {}, "application/json", headers={"Idempotency-Key": key})

    @LAN
    def test_secrets_are_not_kept(self) -> None:
        for path in ("/pairing/links", "/calendar"):
            first, again = (self.write(path, "abcdefgh-1").json()["address"] for _ in range(2))
            self.assertNotEqual(first, again)
        self.assertEqual(WriteKey.objects.count(), 0)

    def test_large_answers_are_not_kept_and_the_repeat_says_that_it_was_done(self) -> None:
        body = {"name": "Tern", "kind": "car"}
        with mock.patch("api.repeats.LARGEST_KEPT_BYTES", 10):
            self.assertEqual(self.write("/vehicles", "abcdefgh-2", body).status_code, 201)
        again = self.refused(self.write("/vehicles", "abcdefgh-2", body), 409)
        self.assertIn("done already", again["detail"])
        self.assertEqual(Vehicle.objects.filter(name="Tern").count(), 1)

    def test_only_so_many_are_kept(self) -> None:
        with mock.patch("api.repeats.MOST_KEPT", 3):
            for at in range(6):
                self.write("/vehicles", f"abcdefgh-{at}", {"name": f"Tern {at}", "kind": "car"})
        self.assertEqual(WriteKey.objects.count(), 3)


class OnlyReading(RecordingsTestCase):
    def setUp(self) -> None:
        super().setUp()
        reader = User.objects.create_user("reader", password="a long pass phrase")
        Member.objects.create(user=reader, workshop=self.vehicle.workshop, role="steward", may_edit=False)
        self.found = self.read(TABLE)["recording"]["id"]
        self.reader = Client()
        self.reader.force_login(reader)

    def ask(self, path: str, body: Any) -> int:
        return int(self.reader.post(f"/api{path}", body, "application/json").status_code)

    def test_it_starts_no_work_and_sees_what_was_done(self) -> None:
        wanted = {"true_channel": "gps", "shown_channel": "dash"}
        before = Work.objects.count()
        self.assertEqual(self.ask(f"/recordings/{self.found}/slip", wanted), 403)
        self.assertEqual(self.ask(f"/recordings/{self.found}/export", {"kind": "csv"}), 403)
        self.assertEqual(Work.objects.count(), before)
        self.answered(self.found, "export", {"kind": "csv"})
        kept = OutPiece.objects.count()
        self.assertEqual(self.ask(f"/recordings/{self.found}/export", {"kind": "csv"}), 202)
        self.assertEqual((Work.objects.count(), OutPiece.objects.count()), (before + 1, kept))

    def test_it_makes_no_calendar(self) -> None:
        self.assertEqual(self.ask("/calendar", {}), 403)
        self.assertEqual(CalendarFeed.objects.count(), 0)


class Audited(RecordingsTestCase):
    def actions(self) -> list[str]:
        return list(AuditEntry.objects.order_by("pk").values_list("action", flat=True))

    @LAN
    def test_links_feeds_pairing_and_derived_channels(self) -> None:
        link = self.send("post", "/pairing/links", {}).json()
        self.send("delete", f"/pairing/links/{link['id']}")
        self.send("post", "/calendar", {})
        self.send("delete", "/calendar")
        self.assertEqual(self.actions()[-4:], ["make_link", "revoke_link", "make_feed", "drop_feed"])
        sheet = self.send("post", f"/installations/{self.installation.pk}/sheets", {"template": "tyre_change"}).json()[
            "id"
        ]
        shared = self.send("post", f"/sheets/{sheet}/links", {}).json()
        self.send("delete", f"/sheets/{sheet}/links/{shared['id']}")
        self.assertEqual(self.actions()[-2:], ["make_link", "revoke_link"])
        found = self.read(TABLE)["recording"]["id"]
        self.send("post", f"/recordings/{found}/derived", {"kind": "distance", "of": "gps"})
        work_all()
        self.send("delete", f"/recordings/{found}/derived?name=distance from gps")
        self.assertEqual(self.actions()[-2:], ["add_derived", "remove_derived"])
        self.send("post", f"/recordings/{found}/marks", {"at_s": 1, "text": "here"})
        self.send("delete", f"/recordings/{found}/marks?at_s=1")
        self.assertEqual(self.actions()[-2:], ["mark_recording", "unmark_recording"])

    def test_a_device_that_is_signed_out_takes_its_links_and_calendar_along(self) -> None:
        with LAN:
            link = self.send("post", "/pairing/links", {}).json()
            phone = Client()
            secret = link["address"].rpartition("/")[2]
            phone.get("/api/session")
            self.assertEqual(
                phone.post("/api/session/pair", {"secret": secret, "name": "Phone"}, "application/json").status_code,
                200,
            )
            phone.post("/api/pairing/links", {}, "application/json")
            address = phone.post("/api/calendar", {}, "application/json").json()["address"]
            path = "/" + address.partition("//")[2].partition("/")[2]
            self.assertEqual(self.client.get(path).status_code, 200)
            self.send("post", "/pairing/links", {})  # of the other device: it stays
            device = self.send("get", "/pairing").json()["devices"][0]["id"]
            self.assertEqual(self.send("delete", f"/pairing/devices/{device}").status_code, 204)
        self.assertEqual(self.client.get(path).status_code, 404)
        self.assertEqual(PairingLink.objects.count(), 1)
        self.assertEqual(self.actions()[-1], "remove_device")
        self.assertFalse(phone.get("/api/session").json()["signed_in"])


class Bins(RecordingsTestCase):
    def test_looking_deletes_nothing_and_the_queue_does_with_an_entry_each(self) -> None:
        recording = self.read(TABLE)["recording"]["id"]
        self.send("delete", f"/recordings/{recording}")
        self.send("delete", f"/installations/{self.installation.pk}?base_revision=1")
        for days, there in ((29.9, 2), (30.1, 0)):
            for items in (RecordingRecord.everything, InstallationRecord.everything):
                items.exclude(deleted_at=None).update(deleted_at=timezone.now() - timedelta(days=days))
            self.assertEqual(len(self.send("get", "/bin").json()), there)
            self.assertEqual(RecordingRecord.everything.filter(pk=recording).count(), 1)
            if there:
                the_bin.purge_bins()  # as the worker does every hour
                self.assertEqual(RecordingRecord.everything.filter(pk=recording).count(), 1)
        the_bin.purge_bins()
        self.assertEqual(RecordingRecord.everything.filter(pk=recording).count(), 0)
        self.assertEqual(InstallationRecord.everything.filter(pk=self.installation.pk).count(), 0)
        actions = AuditEntry.objects.filter(action__startswith="purge").values_list("action", flat=True)
        self.assertEqual(sorted(actions), ["purge_installation", "purge_recording"])
        Vehicle.objects.filter(pk=self.vehicle.pk).update(deleted_at=timezone.now() - timedelta(days=31))
        the_bin.purge_bins()
        self.assertFalse(Vehicle.everything.filter(pk=self.vehicle.pk).exists())
        self.assertEqual(self.user.member.workshop.audit.filter(action="purge_vehicle").get().subject, "Avocet")


class SignIns(ApiTestCase):
    def sign_in(self, name: str, password: str = "wrong", address: str = "192.168.1.7") -> int:
        body = {"username": name, "password": password}
        return int(Client(REMOTE_ADDR=address).post("/api/session", body, "application/json").status_code)

    def test_an_address_is_stopped_across_names_and_others_are_not(self) -> None:
        answers = [self.sign_in(f"name {at // 5}") for at in range(41)]
        self.assertEqual((answers[:40], answers[40]), ([401] * 40, 429))
        self.assertEqual(self.sign_in("builder", "a long pass phrase"), 429)
        self.assertEqual(self.sign_in("builder", "a long pass phrase", "192.168.1.8"), 200)

    def test_it_is_forgotten_in_time(self) -> None:
        for at in range(40):
            self.sign_in(f"name {at // 5}")
        AccessAttempt.objects.update(attempt_time=timezone.now() - timedelta(minutes=16))
        self.assertEqual(self.sign_in("builder", "a long pass phrase"), 200)
        AccessAttempt.objects.update(attempt_time=timezone.now() - timedelta(days=2))
        Session.objects.update(expire_date=timezone.now() - timedelta(days=1))
        the_bin.purge_sign_ins()
        self.assertEqual((AccessAttempt.objects.count(), Session.objects.count()), (0, 0))

    def test_behind_a_proxy_the_address_is_the_clients(self) -> None:
        """waitress takes X-Forwarded-For from the named proxy alone (its `trusted_proxy`)."""
        from wheelometron.serve import behind_proxy

        self.assertEqual(behind_proxy(), {})
        with override_settings(TRUSTED_PROXY="127.0.0.1"):
            self.assertEqual(behind_proxy()["trusted_proxy"], "127.0.0.1")
            self.assertIn("x-forwarded-for", behind_proxy()["trusted_proxy_headers"])
        self.assertEqual(settings.TRUSTED_PROXY, "")


class OnceAndForAll(ApiTestCase):
    def test_a_closed_fault_is_not_closed_again(self) -> None:
        fault = self.send("post", f"/installations/{self.installation.pk}/faults", {"symptoms": ["nothing"]}).json()[
            "id"
        ]
        self.assertEqual(self.send("post", f"/faults/{fault}/close", {"cause": "gap_wide"}).status_code, 200)
        again = self.refused(self.send("post", f"/faults/{fault}/close", {"cause": "target_left_behind"}), 422)
        self.assertIn("closed", again["detail"])
        self.assertEqual(FaultRecord.objects.get(pk=fault).cause, "gap_wide")

    def test_a_signed_change_of_the_tyre_plans_what_follows(self) -> None:
        sheet = self.send("post", f"/installations/{self.installation.pk}/sheets", {"template": "tyre_change"}).json()[
            "id"
        ]
        self.assertEqual(self.vehicle.due_items.count(), 0)
        with mock.patch("workshop.jobs.before_signing", return_value=()):
            self.assertEqual(self.send("post", f"/sheets/{sheet}/sign", {"by": "builder"}).status_code, 200)
        self.assertGreater(self.vehicle.due_items.count(), 0)
