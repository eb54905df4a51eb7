"""Job sheets over the API: entries from several devices, what is measured in the document, photos, signing."""

from __future__ import annotations

import io
import struct
import zlib
from datetime import UTC, datetime, timedelta
from typing import Any

from django.test import Client
from django.utils import timezone
from PIL import Image
from pypdf import PdfReader

from tests.api.base import ApiTestCase
from tests.installations import document
from workshop.models import Photo, Revision, SheetEntry, SheetLink

AT = datetime(2026, 5, 2, 10, 0, tzinfo=UTC).isoformat()


def entry(key: str, step: str, what: str = "done", **changes: Any) -> dict[str, Any]:
    return {"key": f"key-{key:0>8}", "step": step, "what": what, "by": "mechanic", "at": AT} | changes


def photo(width: int = 400, height: int = 300, kind: str = "JPEG", **options: Any) -> bytes:
    made = io.BytesIO()
    Image.new("RGB", (width, height), "navy").save(made, kind, **options)
    return made.getvalue()


class SheetsTestCase(ApiTestCase):
    def setUp(self) -> None:
        super().setUp()
        made = self.send("post", f"/installations/{self.installation.pk}/sheets", {"template": "tyre_change"})
        self.assertEqual(made.status_code, 201, made.content)
        self.sheet = made.json()
        self.path = f"/sheets/{self.sheet['id']}"

    def add(self, *entries: dict[str, Any]) -> dict[str, Any]:
        answer = self.send("post", f"{self.path}/entries", {"entries": list(entries)})
        self.assertEqual(answer.status_code, 200, answer.content)
        found: dict[str, Any] = answer.json()
        return found

    def record(self, shown: dict[str, Any], step: str) -> dict[str, Any]:
        found: dict[str, Any] = next(item for item in shown["records"] if item["code"] == step)
        return found

    def everything(self) -> list[dict[str, Any]]:
        made = []
        for number, step in enumerate(self.sheet["steps"]):
            value = {"roll_out": "5.94 m", "setting": "24242"}.get(step["measure"], "3")  # 48 × 10⁶/1980
            changes: dict[str, Any] = {"acknowledged": True}
            if step["kind"] in ("measure", "torque"):
                changes["value"] = "120" if step["kind"] == "torque" else value
            changes |= {"unit": "N·m"} if step["kind"] == "torque" else {}
            changes |= {"answer": True} if step["kind"] == "decide" else {}
            made.append(entry(f"{number}", step["code"], **changes))
            if step["second"]:
                made.append(entry(f"c{number}", step["code"], "checked", by="steward"))
        return made


class Sheets(SheetsTestCase):
    def test_a_job_from_its_offer_to_the_signature(self) -> None:
        jobs = self.send("get", f"/installations/{self.installation.pk}/jobs").json()
        self.assertIn("tyre_change", [offer["template"] for offer in jobs["offers"]])
        self.assertEqual([one["settled"] for one in jobs["sheets"]], [0])
        self.assertTrue(self.sheet["in_the_way"])
        refused = self.refused(self.send("post", f"{self.path}/sign", {"by": "mechanic"}), 422)
        self.assertTrue(refused["problems"][0]["path"].startswith("step."))
        shown = self.add(*self.everything())
        self.assertEqual(shown["in_the_way"], [])
        signed = self.send("post", f"{self.path}/sign", {"by": "mechanic", "remark": "new tyre is run in"}).json()
        self.assertEqual(signed["signed_by"], "mechanic")
        self.refused(self.send("post", f"{self.path}/entries", {"entries": [entry("late", "marking")]}), 422)
        self.refused(self.send("delete", self.path), 422)
        text = "".join(
            page.extract_text() for page in PdfReader(io.BytesIO(self.client.get(f"/api{self.path}/pdf").content)).pages
        )
        self.assertIn("Signed by mechanic", text)
        self.assertIn("120 N·m", text)

    def test_what_is_measured_sets_the_steps_that_hang_on_it(self) -> None:
        """5.94 m for three turns: 48 × 10⁶/1980 = 24 242.4 pulses per km, which over-reads when rounded down."""

        def text(shown: dict[str, Any]) -> str:
            return str(next(item["text"] for item in shown["steps"] if item["code"] == "enter_setting"))

        self.assertIn("The number follows after step", text(self.sheet))
        shown = self.add(entry("1", "roll", value="5.94 m"))
        self.assertEqual(text(shown), "Enter 24242 pulses per km into Dash.")
        self.assertEqual(self.record(shown, "roll")["number"], 5940)
        self.assertEqual(self.record(shown, "roll")["red"], "")

    def test_a_red_value_is_kept_with_a_reason_said_on_paper_and_left_failed(self) -> None:
        made = [
            item | ({"value": "24000"} if item["step"] == "read_back" and item["what"] == "done" else {})
            for item in self.everything()
        ]
        shown = self.add(*made)
        self.assertIn("24242", self.record(shown, "read_back")["red"])
        self.assertEqual([item["path"] for item in shown["in_the_way"]], ["read_back"])
        self.refused(self.send("post", f"{self.path}/sign", {"by": "mechanic"}), 422)
        shown = self.add(entry("kept", "read_back", value="24000", reason="the display takes steps of 1000"))
        self.assertEqual(shown["in_the_way"], [])
        self.assertEqual(self.send("post", f"{self.path}/sign", {"by": "mechanic"}).status_code, 200)
        head = Revision.objects.filter(installation=self.installation).order_by("-number").first()
        assert head is not None
        (failed,) = [item for item in head.document["test_records"] if item["test"] == "sheet"]
        self.assertEqual((failed["stage"], failed["outcome"]), ("readout", "differed"))
        pages = PdfReader(io.BytesIO(self.client.get(f"/api{self.path}/pdf").content)).pages
        paper = " ".join("".join(page.extract_text() for page in pages).split())
        self.assertIn("Not as expected at step", paper)
        self.assertIn("steps of 1000", paper)

    def test_what_is_blocked_is_said_at_the_top(self) -> None:
        base = Revision.objects.get(installation=self.installation, number=1).document
        changed = document(base, readouts__0__current_setting=30_000)
        self.send("put", f"/installations/{self.installation.pk}", {"base_revision": 1, "document": changed})
        shown = self.send("get", self.path).json()
        self.assertTrue(any("under-reads" in text for text in shown["blocked"]))

    def test_what_is_measured_is_in_the_document_with_date_and_role(self) -> None:
        self.add(entry("1", "roll", value="5.94 m"))
        head = Revision.objects.get(installation=self.installation, number=2)
        self.assertEqual(head.document["wheel"]["roll_out"]["distance_mm"], 5940)
        self.assertEqual(head.document["wheel"]["method"], "roll_out")
        self.assertEqual(head.document["wheel"]["measured"]["by"], "mechanic")
        self.assertEqual(SheetEntry.objects.get().applied, 2)

    def test_a_value_that_cannot_be_is_refused_and_nothing_is_lost(self) -> None:
        body = self.refused(
            self.send(
                "post", f"{self.path}/entries", {"entries": [entry("1", "marking"), entry("2", "roll", value="5 cm")]}
            ),
            422,
        )
        self.assertEqual(body["problems"][0]["path"], "value")
        self.assertIn("mm per turn", body["problems"][0]["limit"])
        self.assertEqual(SheetEntry.objects.count(), 0)

    def test_what_was_changed_elsewhere_since_is_not_overwritten(self) -> None:
        path = f"/installations/{self.installation.pk}"
        base = Revision.objects.get(installation=self.installation, number=1).document
        changed = document(base, wheel__roll_out={"turns": 2, "distance_mm": 3960}, wheel__method="roll_out")
        self.send("put", path, {"base_revision": 1, "document": changed})
        shown = self.add(entry("1", "roll", value="5.97 m"))
        (kept,) = shown["not_applied"]
        self.assertEqual(kept["step"], "roll")
        self.assertIn("changed elsewhere", kept["problem"]["message"])
        self.assertEqual(self.record(shown, "roll")["value"], "5.97 m")
        self.assertEqual(Revision.objects.filter(installation=self.installation).count(), 2)
        # another field is merged
        self.add(entry("2", "tread", value="6 mm"))
        head = Revision.objects.filter(installation=self.installation).first()
        assert head is not None
        self.assertEqual(head.document["wheel"]["roll_out"]["distance_mm"], 3960)
        self.assertEqual(head.document["wheel"]["corrections"]["tread_now_mm"], 6)

    def test_entries_twice_and_in_another_order_from_two_devices(self) -> None:
        mine, theirs = entry("a", "marking"), entry("b", "marking", "undone", by="driver", at="2020-01-01T00:00:00Z")
        self.add(mine)
        self.add(mine, theirs)
        shown = self.add(theirs, mine)
        self.assertEqual(SheetEntry.objects.count(), 2)
        self.assertEqual(self.record(shown, "marking")["state"], "open")
        self.assertEqual(len(shown["keys"]), 2)

    def test_a_link_for_the_customer_expires_and_is_revoked(self) -> None:
        made = self.send("post", f"{self.path}/links", {"days": 2}).json()
        path = "/" + made["address"].split("/", 3)[3]
        stranger = Client()
        text = PdfReader(io.BytesIO(stranger.get(path).content)).pages[0].extract_text()
        self.assertIn("Change of the tyre", text)
        self.assertEqual(stranger.post(path, {}, content_type="application/json").status_code, 405)
        SheetLink.objects.update(expires_at=timezone.now() - timedelta(seconds=1))
        self.assertEqual(stranger.get(path).status_code, 404)
        again = self.send("post", f"{self.path}/links", {}).json()
        path = "/" + again["address"].split("/", 3)[3]
        self.assertEqual([link["id"] for link in self.send("get", self.path).json()["links"]], [again["id"]])
        self.assertEqual(self.send("delete", f"{self.path}/links/{again['id']}").status_code, 204)
        self.assertEqual(stranger.get(path).status_code, 404)
        self.assertEqual(stranger.get("/api/shared/guessed.pdf").status_code, 404)
        self.refused(self.send("post", f"{self.path}/links", {"days": 400}), 422)

    def test_a_torque_of_the_manual_is_asked_once(self) -> None:
        done = {"value": "120", "unit": "N·m", "tool": "torque wrench 40-200", "acknowledged": True}
        self.assertIsNone(next(step for step in self.sheet["steps"] if step["code"] == "torque_wheel")["torque"])
        shown = self.add(entry("1", "torque_wheel", **done))
        self.assertEqual(self.record(shown, "torque_wheel")["tool"], "torque wrench 40-200")
        kept = Revision.objects.filter(installation=self.installation).latest("number").document["torques"]
        self.assertEqual(
            [(item["fastener"], item["torque"], item["unit"]) for item in kept], [("torque_wheel", 120.0, "N·m")]
        )
        number = Revision.objects.filter(installation=self.installation).count()
        again = self.send("post", f"/installations/{self.installation.pk}/sheets", {"template": "wheel_swap"}).json()
        known = next(step for step in again["steps"] if step["code"] == "torque_wheel")["torque"]
        self.assertEqual((known["value"], known["unit"], known["tool"]), ("120", "N·m", "torque wrench 40-200"))
        self.assertIn("mechanic", known["source"])
        self.path = f"/sheets/{again['id']}"
        pages = PdfReader(io.BytesIO(self.client.get(f"/api{self.path}/pdf").content)).pages
        paper = " ".join(" ".join(page.extract_text() for page in pages).split())
        self.assertIn("120 N·m, torque wrench 40-200, from the manual", paper)
        self.add(entry("2", "torque_wheel", **done))
        self.assertEqual(Revision.objects.filter(installation=self.installation).count(), number)  # nothing new
        self.add(entry("3", "torque_wheel", "undone"), entry("4", "torque_wheel", **done | {"value": "130"}))
        kept = Revision.objects.filter(installation=self.installation).latest("number").document["torques"]
        self.assertEqual([item["torque"] for item in kept], [130.0])
        for value in ("nan", "0", "100001", "-5"):
            refused = self.send(
                "post", f"{self.path}/entries", {"entries": [entry(value, "torque_wheel", **done | {"value": value})]}
            )
            self.assertIn("100000", self.refused(refused, 422)["problems"][0]["limit"])

    def test_a_link_is_read_in_the_units_of_whoever_made_it(self) -> None:
        made = self.send("post", f"/installations/{self.installation.pk}/sheets", {"template": "yearly_service"}).json()
        links = f"/sheets/{made['id']}/links"
        units = (("km/h", "km/h"), ("mph", "mph"), ("kn", "kn"))
        for unit, seen in units:
            link = self.client.post(
                f"/api{links}",
                {},
                content_type="application/json",
                headers={"X-Speed-Unit": unit},
            ).json()
            pages = PdfReader(io.BytesIO(Client().get("/" + link["address"].split("/", 3)[3]).content)).pages
            text = " ".join(" ".join(page.extract_text() for page in pages).split())
            self.assertIn(seen, {word.strip(".") for word in text.split("Expected: shows")[1].split()[:3]}, unit)

    def test_jobs_of_another_kind_and_sheets_of_others(self) -> None:
        self.refused(
            self.send("post", f"/installations/{self.installation.pk}/sheets", {"template": "water_check"}), 422
        )
        self.client.force_login(self.their_vehicle.workshop.members.first().user)
        self.refused(self.send("get", self.path), 404)
        self.client.force_login(self.user)
        self.assertEqual(self.send("delete", self.path).status_code, 204)


class OwnTemplates(SheetsTestCase):
    STEPS = (
        {"text": "Rinse {it} off", "part": "Before"},
        {"text": "It is dry", "kind": "decide", "safety": True, "stop": "Wait.", "second": True},
    )

    def test_a_job_of_our_own_from_writing_to_signing(self) -> None:
        made = self.send("post", "/templates", {"job": {"title": "Wash", "needs": "Water", "steps": self.STEPS}}).json()
        path = f"/installations/{self.installation.pk}"
        offers = self.send("get", f"{path}/jobs").json()["offers"]
        self.assertIn((f"own-{made['id']}", "Wash"), [(offer["template"], offer["title"]) for offer in offers])
        sheet = self.send("post", f"{path}/sheets", {"template": f"own-{made['id']}"}).json()
        self.assertEqual([step["text"] for step in sheet["steps"]], ["Rinse {it} off", "It is dry"])
        self.path = f"/sheets/{sheet['id']}"
        self.refused(self.send("post", f"{self.path}/sign", {"by": "mechanic"}), 422)
        shown = self.add(entry("1", "s2", answer=True), entry("2", "s2", "checked", by="steward"))
        self.assertEqual(shown["in_the_way"], [])
        changed = {"title": "Wash well", "steps": self.STEPS[:1]}
        stale = self.send("put", f"/templates/{made['id']}", {"job": changed, "base_version": 9})
        self.refused(stale, 409)
        again = self.send("put", f"/templates/{made['id']}", {"job": changed, "base_version": 1}).json()
        self.assertEqual((again["version"], again["job"]["title"]), (2, "Wash well"))
        self.assertEqual(len(self.send("get", self.path).json()["steps"]), 2)  # the sheet stays as it was drawn up
        self.client.force_login(self.their_vehicle.workshop.members.first().user)
        self.assertEqual(self.send("get", "/templates").json(), [])
        self.client.force_login(self.user)
        self.send("delete", f"/templates/{made['id']}")
        self.refused(self.send("post", f"{path}/sheets", {"template": f"own-{made['id']}"}), 404)

    def test_a_built_in_job_copied_measures_into_the_document(self) -> None:
        built_in = next(
            item for item in self.send("get", "/templates/built-in").json() if item["code"] == "tyre_change"
        )
        steps = [{"like": step["code"]} for step in built_in["steps"] if not step["safety"]]
        job = {"like": "tyre_change", "title": "Tyres, our way", "steps": steps}
        made = self.send("post", "/templates", {"job": job}).json()
        sheet = self.send(
            "post", f"/installations/{self.installation.pk}/sheets", {"template": f"own-{made['id']}"}
        ).json()
        self.path = f"/sheets/{sheet['id']}"
        self.add(entry("1", "roll", value="5.82 m", acknowledged=True))
        document = Revision.objects.filter(installation=self.installation).latest("number").document
        self.assertEqual(document["wheel"]["roll_out"]["distance_mm"], 5820.0)
        asked = next(step for step in self.send("get", self.path).json()["steps"] if step["code"] == "enter_setting")
        self.assertIn("24742", asked["text"])  # 48 × 10⁶/1940
        self.assertEqual(self.send("post", f"{self.path}/sign", {"by": "mechanic"}).status_code, 200)
        follows = self.send("get", f"/vehicles/{self.installation.vehicle_id}/due").json()
        self.assertTrue(follows["items"] if isinstance(follows, dict) else follows)  # as after the built-in job
        wrong = self.send("post", "/templates", {"job": job | {"steps": [{"like": "gone"}]}})
        self.assertIn("steps.0.like", self.refused(wrong, 422)["problems"][0]["path"])

    def test_a_safety_check_without_a_stop_and_a_timer_without_time_are_refused(self) -> None:
        for step, field in (({"kind": "decide", "safety": True}, "stop"), ({"kind": "timer"}, "seconds")):
            body = {"job": {"title": "x", "steps": [{"text": "y"} | step]}}
            self.assertIn(field, self.refused(self.send("post", "/templates", body), 422)["problems"][0]["path"])
        self.refused(self.send("post", "/templates", {"job": {"title": "x", "steps": []}}), 422)


class Photos(SheetsTestCase):
    def put(self, data: bytes, key: str = "key-photo-1", step: str = "photo_before") -> Any:
        return self.client.put(f"/api{self.path}/photos/{step}/{key}", data, "application/octet-stream")

    def kept(self, made: Any) -> Image.Image:
        answer = self.client.get(f"/api{self.path}/photos/{made.json()['id']}")
        self.assertEqual(answer["Content-Type"], "image/jpeg")
        return Image.open(io.BytesIO(answer.content))

    def test_its_place_is_gone_it_is_upright_and_smaller(self) -> None:
        exif = Image.Exif()
        exif[0x0112] = 6  # taken with the phone on its side
        exif.get_ifd(0x8825)[2] = (54.0, 54.0, 0.0)
        exif[0x010F] = "a phone"
        made = self.put(photo(3000, 2000, exif=exif))
        self.assertEqual((made.json()["width"], made.json()["height"]), (1067, 1600))
        kept = self.kept(made)
        self.assertEqual(dict(kept.getexif()), {})
        self.assertNotIn(b"a phone", bytes(Photo.objects.get().content))

    def test_the_same_photo_twice_is_one(self) -> None:
        self.assertEqual(self.put(photo()).json()["id"], self.put(photo()).json()["id"])
        self.assertEqual(Photo.objects.count(), 1)

    def test_png_with_holes_and_webp(self) -> None:
        see_through = io.BytesIO()
        Image.new("RGBA", (50, 40), (255, 0, 0, 0)).save(see_through, "PNG")
        red, green, blue = self.kept(self.put(see_through.getvalue())).convert("RGB").getpixel((20, 20))  # type: ignore[misc]
        self.assertGreater(min(red, green, blue), 250)
        self.assertEqual(self.put(photo(kind="WEBP"), "key-photo-2").status_code, 200)

    def test_sixty_megapixels_are_taken_and_a_bomb_is_not(self) -> None:
        self.assertEqual(self.put(photo(9000, 6700)).status_code, 200)
        chunk = struct.pack(">IIBBBBB", 60_000, 60_000, 8, 2, 0, 0, 0)
        bomb = (
            b"\x89PNG\r\n\x1a\n"
            + struct.pack(">I", 13)
            + b"IHDR"
            + chunk
            + struct.pack(">I", zlib.crc32(b"IHDR" + chunk))
        )
        body = self.refused(self.put(bomb + b"\0" * 40, "key-photo-2"), 422)
        self.assertEqual(body["problems"][0]["path"], "photo")

    def test_what_is_none_broken_or_at_no_step(self) -> None:
        for data in (b"%PDF-1.7 not a photo", photo()[:300], b"GIF89a", b"x"):
            self.refused(self.put(data), 422)
        self.refused(self.put(photo(), step="nowhere"), 422)
        self.assertEqual(Photo.objects.count(), 0)
        answer = self.client.put(f"/api{self.path}/photos/a/key-photo-9", b"{}", "application/json")
        self.refused(answer, 415)
