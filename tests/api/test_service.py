"""What is due, notes and the timeline over the API; the calendar is read back by a second library and by dateutil."""

from __future__ import annotations

import csv
import io
import re
from datetime import UTC, date, datetime, timedelta
from typing import Any

import vobject
from dateutil.rrule import rrulestr
from django.test import Client
from django.utils import timezone
from pypdf import PdfReader

from speedchain.fields import Language, said, spoken_in
from tests.api.base import ApiTestCase
from tests.installations import CAR, document
from workshop.models import DueItem, Note, Task

TODAY = timezone.now().date()


def unfolded(text: str) -> dict[str, list[str]]:
    """iCalendar content lines (RFC 5545, 3.1), read by hand: a line that begins with a space goes on."""
    found: dict[str, list[str]] = {}
    for line in re.sub(r"\r\n[ \t]", "", text).split("\r\n"):
        name, _, value = line.partition(":")
        found.setdefault(name.partition(";")[0], []).append(value)
    return found


class ServiceTestCase(ApiTestCase):
    def setUp(self) -> None:
        super().setUp()
        self.path = f"/vehicles/{self.vehicle.pk}"

    def note(self, kind: str = "note", **changes: Any) -> Any:
        return self.send("post", f"{self.path}/notes", {"kind": kind, "on": TODAY.isoformat()} | changes)

    def part(self, kind: str, name: str, **changes: Any) -> Any:
        part = {"kind": kind, "name": name, "fitted_on": TODAY.isoformat()} | changes
        return self.send("post", f"{self.path}/parts", {"part": part, "installation_id": self.installation.pk})

    def bring_in(self, file: str) -> Any:
        return self.send("post", f"{self.path}/timeline", {"file": file})

    def due(self, text: str = "Clean the sensor", **due: Any) -> Any:
        return self.send("post", f"{self.path}/due", {"text": text, "due": due, "assigned_to": "mechanic"})


class Due(ServiceTestCase):
    def test_by_date_and_by_distance_with_its_forecast(self) -> None:
        for days, km in ((60, 1000), (30, 1600), (0, 2200)):
            self.note("odometer", value=km, on=(TODAY - timedelta(days=days)).isoformat())
        self.due("Check the ring", at_km=3200)
        self.due("Replace the battery", on=(TODAY - timedelta(days=1)).isoformat())
        shown = self.send("get", f"{self.path}/due").json()["items"]
        self.assertEqual(
            [(item["text"], item["state"]) for item in shown],
            [("Replace the battery", "overdue"), ("Check the ring", "later")],
        )
        self.assertEqual(shown[1]["forecast"]["on"], (TODAY + timedelta(days=50)).isoformat())

    def test_done_it_is_due_again_and_put_off_with_a_reason(self) -> None:
        self.due(on=TODAY.isoformat(), every_months=6)
        item = DueItem.objects.get()
        refused = self.send("put", f"/due/{item.pk}", {"postponed_to": "2030-01-01", "reason": ""})
        self.assertEqual(self.refused(refused, 422)["problems"][0]["path"], "reason")
        put_off = self.send("put", f"/due/{item.pk}", {"postponed_to": "2030-01-01", "reason": "no parts"}).json()
        self.assertEqual((put_off["items"][0]["due"]["on"], put_off["items"][0]["reason"]), ("2030-01-01", "no parts"))
        again = self.send("put", f"/due/{item.pk}", {"done": True}).json()["items"]
        self.assertEqual(len(again), 1)
        self.assertGreater(date.fromisoformat(again[0]["due"]["on"]), TODAY + timedelta(days=150))
        self.assertEqual(self.send("delete", f"/due/{again[0]['id']}").status_code, 204)

    def test_what_says_nothing_is_refused(self) -> None:
        self.assertEqual(self.refused(self.due(), 422)["problems"][0]["path"], "due.on")
        self.assertEqual(self.refused(self.due(" ", at_km=5), 422)["problems"][0]["path"], "text")
        self.assertEqual(self.refused(self.note(), 422)["problems"][0]["path"], "text")
        self.assertEqual(self.refused(self.note("odometer"), 422)["problems"][0]["path"], "value")
        theirs = self.note(text="x", installation_id=self.their_installation.pk)
        self.refused(theirs, 404)

    def test_wear_moves_what_is_shown(self) -> None:
        self.assertIsNone(self.send("get", f"{self.path}/due").json()["wear"])
        self.note("tread", value=8, km=0)
        self.note("tread", value=6, km=10_000)
        wear = self.send("get", f"{self.path}/due").json()["wear"]
        self.assertAlmostEqual(wear["per_1000_km_mm"], 0.2)
        self.assertGreater(wear["limit_km"], 5000)

    def test_wear_is_due_at_the_users_limit_until_it_is_seen_to(self) -> None:
        """At the odometer's d0 + p·C/(2π·w), by hand from the forecast; a limit twice as large is twice as far."""
        self.note("tread", value=8, km=1000)
        self.note("tread", value=6, km=11_000)
        wear = self.send("get", f"{self.path}/due").json()["wear"]
        item = DueItem.objects.get(rule="wear")
        self.assertEqual(item.due["at_km"], 1000 + round(wear["limit_km"]))
        limit = {"base_version": 1, "limit_pct": 1}
        self.refused(self.send("put", f"{self.path}/wear-limit", limit | {"limit_pct": 0}), 422)
        shown = self.send("put", f"{self.path}/wear-limit", limit).json()
        stale = self.refused(self.send("put", f"{self.path}/wear-limit", limit | {"limit_pct": 2}), 409)
        self.assertEqual((stale["base"], stale["newest"], shown["wear_limit_version"]), (1, 2, 2))
        self.assertEqual(shown["wear_limit_pct"], 1)
        self.assertAlmostEqual(shown["wear"]["limit_km"], 2 * wear["limit_km"], places=3)
        (twice,) = DueItem.objects.filter(rule="wear")
        self.assertAlmostEqual(twice.due["at_km"], 1000 + 2 * wear["limit_km"], delta=1)
        german = {"Wear: the shown speed, and the false slip against a wheel that does not wear, move by {0:g} %. "
            "Measure the "
            "circumference and enter the new setting.": "Verschleiß: {0:g} %."}  # fmt: skip
        with spoken_in(Language(code="de", translations=german)):
            self.assertEqual(said(twice.text), "Verschleiß: 1 %.")
        self.send("put", f"/due/{twice.pk}", {"done": True})
        Note.objects.update(on=TODAY - timedelta(days=30))
        self.note("tread", value=5.9, km=12_000)
        self.assertIsNone(self.send("get", f"{self.path}/due").json()["wear"])
        self.assertEqual(DueItem.objects.filter(rule="wear", done_at=None).count(), 0)

    def test_another_tyre_wears_anew(self) -> None:
        """Depths before the day it was fitted are of the tyre before: no forecast, and nothing due, until two of its
        own."""
        for depth, km, days in ((8, 1000, 90), (6, 11_000, 30)):
            self.note("tread", value=depth, km=km, on=(TODAY - timedelta(days=days)).isoformat())
        self.assertEqual(DueItem.objects.filter(rule="wear").count(), 1)
        self.part("tyre", "205/55 R16", fitted_on=(TODAY - timedelta(days=20)).isoformat())
        self.assertIsNone(self.send("get", f"{self.path}/due").json()["wear"])
        self.assertEqual(DueItem.objects.filter(rule="wear").count(), 0)
        self.note("tread", value=8, km=11_500, on=(TODAY - timedelta(days=15)).isoformat())
        self.note("tread", value=7.5, km=14_000)
        self.assertAlmostEqual(self.send("get", f"{self.path}/due").json()["wear"]["per_1000_km_mm"], 0.2)

    def test_another_size_marked_is_another_tyre(self) -> None:
        """By an edit as by a part: the depths of before do not count, what was due by them is not due any more."""
        for depth, km, days in ((8, 1000, 90), (6, 11_000, 30)):
            self.note("tread", value=depth, km=km, on=(TODAY - timedelta(days=days)).isoformat())
        self.assertEqual(DueItem.objects.filter(rule="wear").count(), 1)
        now = document(CAR, wheel={"method": "marking", "marking": {"text": "195/50R15"}})
        body = {"base_revision": 1, "document": now}
        self.assertEqual(self.send("put", f"/installations/{self.installation.pk}", body).status_code, 200)
        self.assertIsNone(self.send("get", f"{self.path}/due").json()["wear"])
        self.assertEqual(DueItem.objects.filter(rule="wear").count(), 0)

    def test_what_follows_a_part_is_due_anew_with_the_next_one(self) -> None:
        """A battery of 20 months ago is due in 4; a new one today is due in 24. A tyre is measured 14 days after the
        last."""
        self.part("battery", "CR2032", fitted_on=(TODAY - timedelta(days=600)).isoformat())
        self.part("tyre", "28-622", fitted_on=(TODAY - timedelta(days=10)).isoformat())
        self.part("battery", "CR2032, new")
        self.part("tyre", "32-622")
        self.part("tyre", "28-622, found later", fitted_on=(TODAY - timedelta(days=12)).isoformat())
        items = {str(item.text): item.due["on"] for item in DueItem.objects.filter(done_at=None)}
        renewed = date.fromisoformat(items["Replace the battery of sensor or display."])
        self.assertTrue(725 <= (renewed - TODAY).days <= 735, renewed)
        measured = items["New tyre: measure the rolling circumference again, once it has run in."]
        self.assertEqual(measured, (TODAY + timedelta(days=14)).isoformat())

    def test_a_trailer_card_that_nobody_could_read_is_refused(self) -> None:
        """9 wheels with 8 × 7 + 1 readers are 513 rows, and 400 the most; a hundred installations of eight took two
        minutes."""
        readouts = [{"name": f"Reader {place}", "encoding": "pulses_per_km"} for place in range(7)]
        for place in range(8):
            made = self.send("post", f"{self.path}/installations", document(CAR, name=f"W {place}", readouts=readouts))
            self.assertEqual(made.status_code, 201, made.content)
        body = self.refused(self.client.get(f"/api{self.path}/trailer-card"), 422)
        self.assertIn("513 rows", body["problems"][0]["message"])
        self.assertIn("at most 400 rows", body["problems"][0]["limit"])

    def test_the_trailer_card_has_every_wheel_with_every_reader(self) -> None:
        """Pulses per km by hand, rounded down so that the display never shows less: 48 teeth on 2092 mm. A worn tyre is
        smaller."""
        other = document(CAR, name="Spare", wheel={"method": "entered", "entered": {"circumference_mm": 2092}})
        self.assertEqual(self.send("post", f"{self.path}/installations", other).status_code, 201)
        pdf = self.client.get(f"/api{self.path}/trailer-card")
        text = re.sub(r"\s+", " ", "".join(page.extract_text() for page in PdfReader(io.BytesIO(pdf.content)).pages))
        self.assertIn(f"Dash (Spare) {int(48e6 / 2092)} pulses per km", text)
        found = re.search(rf"Dash \({CAR['name']}\) (\d+) pulses per km (\d+) pulses per km", text)
        assert found is not None
        self.assertGreater(int(found[2]), int(found[1]))
        self.assertEqual(text.count("Dash (Spare)"), 2)
        self.assertEqual(text.count(f"Dash ({CAR['name']})"), 2)


class Parts(ServiceTestCase):
    def test_a_part_brings_what_is_due_after_it_once(self) -> None:
        self.part("wheel", "Spare wheel")
        self.part("wheel", "Another spare wheel")
        self.part("battery", "Coin cell", fitted_on="2026-01-31")
        self.part("other", "Washer")
        texts = [item["text"] for item in self.send("get", f"{self.path}/due").json()["items"]]
        self.assertEqual(len(texts), 3)
        (battery,) = [item for item in DueItem.objects.all() if "battery" in item.text]
        self.assertEqual((battery.due["on"], battery.due["every_months"]), ("2028-01-31", 24))

    def test_a_new_ring_makes_the_count_of_the_old_one_void(self) -> None:
        path = f"/installations/{self.installation.pk}"
        head = self.send("get", path).json()["head"]
        old = {"test": "second_count", "on": "2026-05-02", "by": "x", "note": "", "value": 48, "recording": ""}
        counted = document(head["document"], target__verification=old)
        self.send("put", path, {"base_revision": head["number"], "document": counted})
        self.part("ring", "40 teeth")
        shown = self.send("get", path).json()
        self.assertEqual(shown["head"]["document"]["target"]["verification"]["voided_by"], "target")
        evaluated = self.send("post", "/evaluate", shown["head"]["document"]).json()["result"]
        self.assertEqual([item["stage"] for item in evaluated["voids"]], ["target"])
        tasks = self.send("get", f"{path}/tasks").json()
        self.assertTrue(any("Repeat the test of target" in item["text"] for item in tasks), tasks)

    def test_a_new_display_does_not_hold_the_number_of_the_old_one(self) -> None:
        path = f"/installations/{self.installation.pk}"

        def held() -> float | None:
            found = self.send("get", path).json()["head"]["document"]["readouts"][0]["current_setting"]
            return None if found is None else float(found)

        head = self.send("get", path).json()["head"]
        self.send("put", path, {
            "base_revision": head["number"], "document": document(head["document"],
                readouts__0__current_setting=24_000),
        })  # fmt: skip
        self.part("display", "Fitted long ago", fitted_on="2020-01-01")
        self.assertEqual(held(), 24_000)  # read back since
        self.part("other", "No display")
        self.assertEqual(held(), 24_000)
        self.part("display", "New dash", fitted_on=timezone.now().date().isoformat())
        self.assertIsNone(held())
        texts = [item["text"] for item in self.send("get", f"{self.path}/due").json()["items"]]
        self.assertIn("New display or controller: enter the setting and read it back.", texts)

    def test_it_is_changed_and_deleted_by_its_workshop_alone(self) -> None:
        made = self.part("ring", "40 teeth").json()
        gone = made["part"] | {"removed_on": "2020-01-01"}
        path = f"{self.path}/parts/{made['id']}"
        refused = self.send("put", path, {"part": gone, "base_version": 1})
        self.assertEqual(self.refused(refused, 422)["problems"][0]["path"], "part.removed_on")
        gone["removed_on"] = TODAY.isoformat()
        changed = {"part": gone, "base_version": 1}
        found = self.send("put", path, changed).json()
        self.assertEqual((found["part"]["removed_on"], found["version"]), (TODAY.isoformat(), 2))
        stale = self.refused(self.send("put", path, changed), 409)
        self.assertEqual((stale["base"], stale["newest"]), (1, 2))
        self.refused(self.send("put", f"/vehicles/{self.their_vehicle.pk}/parts/{made['id']}", changed), 404)
        self.client.force_login(self.their_vehicle.workshop.members.first().user)
        self.refused(self.send("delete", f"/parts/{made['id']}"), 404)
        self.client.force_login(self.user)
        self.assertEqual(self.send("delete", f"/parts/{made['id']}").status_code, 204)

    def test_the_order_sheet_has_the_suppliers_number_and_the_pins(self) -> None:
        self.part("connector", "Three-pin plug", supplier_number="SHELF-4", pins="1 supply, 2 ground, 3 signal")
        self.part("sensor", "Taken out", removed_on=TODAY.isoformat())
        pdf = self.send("post", f"/wiring/pdf?installation_id={self.installation.pk}", CAR)
        text = re.sub(r"\s+", " ", "".join(page.extract_text() for page in PdfReader(io.BytesIO(pdf.content)).pages))
        for words in ("Parts fitted", "SHELF-4", "1 supply, 2 ground, 3 signal"):
            self.assertIn(words, text)
        self.assertNotIn("Taken out", text)

    def test_an_open_task_is_put_off_with_a_role(self) -> None:
        task = Task.objects.create(installation=self.installation, stage="wheel", text="Roll it out")
        body = {"text": task.text, "due": {"on": TODAY.isoformat()}, "assigned_to": "helper", "task_id": task.pk}
        self.assertEqual(
            self.refused(self.send("post", f"{self.path}/due", body), 422)["problems"][0]["path"], "reason"
        )
        body["reason"] = "no stands here"
        self.assertEqual(self.send("post", f"{self.path}/due", body).status_code, 201)
        self.refused(self.send("post", f"{self.path}/due", body), 404)  # it is closed
        (found,) = self.send("get", f"/installations/{self.installation.pk}/tasks").json()
        self.assertTrue(found["put_off"])
        self.assertEqual(DueItem.objects.get().assigned_to, "helper")
        self.assertNotIn("Done: Roll it out", self.client.get(f"/api{self.path}/timeline").content.decode())
        (again,) = [self.send("put", f"/tasks/{task.pk}", {"done": False}).json()]
        self.assertFalse(again["put_off"])


class Timeline(ServiceTestCase):
    def test_all_that_happened_is_on_it_and_is_found(self) -> None:
        self.note(text="New loom fitted")
        self.part("sensor", "Hall sensor", pins="1 red, 2 black, 3 white")
        self.send(
            "put",
            f"/installations/{self.installation.pk}",
            {"base_revision": 1, "document": document(CAR, target__count=44)},
        )
        record = {"test": "spin", "on": TODAY.isoformat(), "outcome": "agreed", "by": "builder"}
        head = self.send(
            "post", "/bench/record", {"document": document(CAR, target__count=44), "record": record}
        ).json()
        self.send("put", f"/installations/{self.installation.pk}", {"base_revision": 2, "document": head})
        sheet = self.send("post", f"/installations/{self.installation.pk}/sheets", {"template": "yearly_service"})
        self.assertEqual(sheet.status_code, 201)
        self.send("post", f"{self.path}/recordings", {"name": "drive.csv", "size_bytes": 9})
        items = self.send("get", f"{self.path}/timeline").json()["items"]
        self.assertEqual({item["kind"] for item in items}, {"revision", "test", "recording", "sheet", "note", "part"})
        times = [item["at"] for item in items]
        self.assertEqual(times, sorted(times, reverse=True))
        found = self.send("get", f"{self.path}/timeline?search=WHITE%20hall").json()["items"]
        self.assertEqual(
            [item["text"] for item in found], ["Fitted: Sensor: Hall sensor, pins 1 red, 2 black, 3 white"]
        )
        only = self.send("get", f"{self.path}/timeline?kind=test").json()["items"]
        self.assertEqual([item["text"] for item in only], ["Test, spin: agreed."])

    def test_it_says_which_installation_at_which_wheel_and_leads_there(self) -> None:
        here = f"/installations/{self.installation.pk}"
        self.send("put", here, {"base_revision": 1, "document": document(CAR, sensed_at="rear_left")})
        self.part("sensor", "Hall sensor")
        found = self.send("get", f"{self.path}/timeline?search=rear%20left").json()["items"]
        said = {(item["kind"], item["name"], item["wheel"], item["link"][:14]) for item in found}
        name = CAR["name"]
        self.assertEqual(
            said,
            {(kind, name, "Rear left wheel", "/installation/") for kind in ("revision", "part")},
        )
        rows = list(csv.DictReader(io.StringIO(self.client.get(f"/api{self.path}/timeline/csv").content.decode())))
        self.assertEqual({row["wheel"] for row in rows}, {"Rear left wheel"})

    def test_out_as_csv_without_formulas_and_as_json_that_comes_in_again(self) -> None:
        self.note(text="=HYPERLINK(1)", on="2026-01-02")
        self.note("odometer", value=1234.5, on="2026-01-03")
        rows = list(csv.reader(io.StringIO(self.client.get(f"/api{self.path}/timeline/csv").content.decode())))
        self.assertIn("'=HYPERLINK(1)", [row[2] for row in rows])
        self.assertFalse([cell for row in rows for cell in row if cell[:1] in "=+-@" and cell])
        for ending in ("csv", "json"):
            with self.subTest(ending):
                file = self.client.get(f"/api{self.path}/timeline/{ending}").content.decode()
                again = self.bring_in(file).json()
                self.assertEqual((again["added"], again["known"]), (0, 3))
                Note.objects.all().delete()
                self.assertEqual(self.bring_in(file).json()["added"], 2)
                self.assertEqual(Note.objects.filter(value=1234.5, kind="odometer").count(), 1)
                self.assertEqual(Note.objects.filter(text="=HYPERLINK(1)").count(), 1)

    def test_what_happened_to_another_vehicle_comes_as_a_note(self) -> None:
        file = self.client.get(f"/api{self.path}/timeline/csv").content.decode()
        other = self.send("post", "/vehicles", {"name": "Copy", "kind": "car", "note": ""}).json()["id"]
        self.path = f"/vehicles/{other}"
        self.assertEqual(self.bring_in(file).json(), {"added": 1, "known": 0})
        self.assertEqual(self.bring_in(file).json(), {"added": 0, "known": 1})
        found = self.send("get", f"{self.path}/timeline").json()["items"]
        self.assertIn("Revision 1: First saved", found[0]["text"])

    def test_files_that_are_none_are_refused_by_line(self) -> None:
        for file, words in (
            ("", "lacks the columns"),
            ("a,b\n1,2\n", "lacks the columns"),
            ("{", "not a timeline in JSON"),
            ('{"items": 5}', None),
            ("date,kind,what\n2026-01-02,note,fine\nyesterday,note,wrong\n", "Entry 2: date: This is not a date."),
            ('{"items": [{"date": "2026-01-02", "kind": "note", "what": "x", "value": "many"}]}', "Entry 1: value"),
            ('{"items": [7]}', "Entry 1"),
        ):
            with self.subTest(file):
                answer = self.bring_in(file)
                if words is None:
                    self.assertEqual(answer.json(), {"added": 0, "known": 0})
                else:
                    self.assertIn(words, self.refused(answer, 422)["problems"][0]["message"])
        self.assertEqual(Note.objects.count(), 0)

    def test_a_note_is_removed_by_its_workshop_alone(self) -> None:
        number = self.note(text="wrong").json()["id"]
        self.client.force_login(self.their_vehicle.workshop.members.first().user)
        self.refused(self.send("delete", f"/notes/{number}"), 404)
        self.client.force_login(self.user)
        self.assertEqual(self.send("delete", f"/notes/{number}").status_code, 204)


class Feed(ServiceTestCase):
    def read(self, address: str) -> Any:
        return Client().get("/" + address.split("/", 3)[3])

    def test_it_is_read_back_and_its_recurrence_is_dateutils(self) -> None:
        self.due("Recalibrate, after the «winter» tyres; all four", on="2026-12-31", every_months=2)
        self.due("By distance alone", at_km=100)
        address = self.send("post", "/calendar", {}).json()["address"]
        answer = self.read(address)
        self.assertEqual(answer["Content-Type"], "text/calendar")
        found = unfolded(answer.content.decode())
        self.assertEqual(found["DTSTART"], ["20261231"])
        self.assertEqual(found["SUMMARY"], ["Avocet: Recalibrate\\, after the «winter» tyres\\; all four"])
        event = vobject.readOne(answer.content.decode()).vevent
        self.assertEqual(event.summary.value, "Avocet: Recalibrate, after the «winter» tyres; all four")
        self.assertEqual((event.dtstart.value, event.dtend.value), (date(2026, 12, 31), date(2027, 1, 1)))
        self.assertEqual(event.description.value, "For: mechanic")
        dates = rrulestr(found["RRULE"][0], dtstart=datetime(2026, 12, 31, tzinfo=UTC))[:3]  # type: ignore[index]
        self.assertEqual([one.date().isoformat() for one in dates], ["2026-12-31", "2027-08-31", "2027-10-31"])
        self.assertEqual(found["BEGIN"].count("VEVENT"), 1)

    def test_a_new_address_ends_the_old_one_and_it_is_revoked(self) -> None:
        first = self.send("post", "/calendar", {}).json()["address"]
        second = self.send("post", "/calendar", {}).json()["address"]
        self.assertEqual(self.read(first).status_code, 404)
        self.assertEqual(self.read(second).status_code, 200)
        self.assertEqual(self.send("get", "/calendar").json(), {"exists": True, "address": ""})
        self.send("delete", "/calendar")
        self.assertEqual(self.read(second).status_code, 404)
        self.assertFalse(self.send("get", "/calendar").json()["exists"])
