"""Faults over the API: opened, answered from two devices, closed; the bench; the workshop's own table."""

from __future__ import annotations

from datetime import timedelta
from typing import Any

from django.utils import timezone

from speedchain.faults import CAUSES
from speedchain.faults.causes import REPLACED
from tests.api.base import ApiTestCase
from tests.installations import CAR, document
from workshop.models import FaultRecord, Revision

KEY = "key-{:08d}"


class FaultCase(ApiTestCase):
    def setUp(self) -> None:
        super().setUp()
        self.path = f"/installations/{self.installation.pk}/faults"

    def start(self, *symptoms: str, **more: Any) -> dict[str, Any]:
        answer = self.send("post", self.path, {"symptoms": symptoms} | more)
        self.assertEqual(answer.status_code, 201, answer.content)
        return answer.json()

    def row(self) -> dict[str, Any]:
        """The installation on the page of the vehicles."""
        return self.send("get", "/vehicles").json()["vehicles"][0]["installations"][0]

    def answer(self, fault: int, test: str, outcome: str, number: int = 1) -> Any:
        body = {"key": KEY.format(number), "answer": {"test": test, "outcome": outcome}}
        return self.send("post", f"/faults/{fault}/answers", body)


class EverWorked(FaultCase):
    def test_it_is_asked_kept_and_weighed(self) -> None:
        choices = self.client.get(f"/api{self.path}").json()
        self.assertEqual([item["code"] for item in choices["histories"]], ["never", "before", "changed"])
        new, old = self.start("nothing", history="never"), self.start("nothing", history="before")
        self.assertEqual(FaultRecord.objects.get(pk=new["id"]).seen["history"], "never")
        first = [fault["view"]["causes"][0] for fault in (new, old)]
        self.assertNotEqual(first[0]["code"], first[1]["code"])
        self.assertIn("it has never worked", first[0]["because"])
        self.refused(self.send("post", self.path, {"symptoms": ["nothing"], "history": "sometimes"}), 422)


class Closing(FaultCase):
    """What was repaired enters the installation, its parts and what is due; the retest is a test there."""

    def document(self) -> dict[str, Any]:
        return Revision.objects.filter(installation=self.installation).latest("number").document

    def close(self, cause: str, **more: Any) -> Any:
        fault = self.start("nothing")["id"]
        return self.send("post", f"/faults/{fault}/close", {"cause": cause} | more)

    def test_a_new_sensor_and_a_retest_that_agreed(self) -> None:
        on = timezone.now().date().isoformat()
        old = {"kind": "sensor", "name": "Old one", "fitted_on": "2025-01-05"}
        self.send("post", f"/vehicles/{self.vehicle.pk}/parts", {"part": old, "installation_id": self.installation.pk})
        new = {"kind": "sensor", "name": "Gear-tooth sensor, short", "fitted_on": on}
        closed = self.close("sensor_dead", retest="agreed", part=new).json()
        self.assertIn("The retest agreed.", closed["closed_text"])
        fitted = {row.content["name"]: row.content["removed_on"] for row in self.installation.parts.all()}
        self.assertEqual(fitted, {"Old one": on, "Gear-tooth sensor, short": None})
        due = [str(item.text) for item in self.vehicle.due_items.all()]
        self.assertIn("New sensor: check the air gap and the plug again.", due)
        record = self.document()["test_records"][-1]
        self.assertEqual((record["test"], record["outcome"], record["note"]), ("spin", "agreed", "retest of a fault"))
        self.assertEqual(self.document()["target"]["verification"]["test"], "spin")

    def test_a_retest_on_the_road_verifies_the_readout_alone(self) -> None:
        self.assertEqual(self.close("tyre_changed", retest="agreed").status_code, 200)
        document = self.document()
        self.assertEqual(document["readouts"][0]["verification"]["test"], "road")
        self.assertIsNone(document["target"]["verification"])

    def test_none_made_leaves_the_installation_and_a_part_without_a_name_closes_nothing(self) -> None:
        before = self.document()
        bad = {"kind": "sensor", "name": " ", "fitted_on": "2026-05-01"}
        self.refused(self.close("sensor_dead", part=bad), 422)
        self.assertIsNone(FaultRecord.objects.latest("pk").closed_at)
        self.assertEqual(self.close("sensor_dead").status_code, 200)
        self.assertEqual(self.document(), before)
        self.refused(self.close("sensor_dead", retest="maybe"), 422)

    def test_what_is_replaced_is_said_of_known_causes_alone(self) -> None:
        self.assertLessEqual(set(REPLACED), {cause.code for cause in CAUSES})


class Searching(FaultCase):
    def test_from_nothing_shown_to_the_cause_and_closed(self) -> None:
        begun = self.start("nothing", changed=["wheel"])
        self.assertEqual(begun["view"]["state"], "open")
        self.assertEqual((self.row()["open_fault"], self.row()["state"]), (begun["id"], "to_do"))
        self.assertEqual(self.send("get", "/vehicles?state=to_do").json()["to_do"], 1)
        first = begun["view"]["tests"][0]
        self.assertTrue(first["steps"] and first["outcomes"][0]["leads_to"].startswith("then most likely"))
        self.answer(begun["id"], "look", "missing", 1)
        self.answer(begun["id"], "output", "stays", 7)
        found = self.answer(begun["id"], "magnet", "shows", 2).json()["view"]
        self.assertEqual((found["state"], found["causes"][0]["code"]), ("found", "target_left_behind"))
        self.assertEqual(found["causes"][0]["job"], "wheel_swap")
        self.assertIn("Visual inspection: No magnet or ring, and no trace of one", found["causes"][0]["because"])
        self.answer(begun["id"], "cure:target_left_behind", "cured", 3)
        closed = self.send("post", f"/faults/{begun['id']}/close", {"cause": "target_left_behind"}).json()
        self.assertIn("Closed fault. Nothing is shown. Cause: The magnet or ring", closed["closed_text"])
        self.assertIn("No retest was made.", closed["closed_text"])
        self.assertIsNone(self.row()["open_fault"])
        self.refused(self.answer(begun["id"], "gap", "wide", 4), 422)
        timeline = self.send("get", f"/vehicles/{self.vehicle.pk}/timeline?kind=fault").json()["items"]
        self.assertEqual([item["link"] for item in timeline], [f"/fault/{begun['id']}"])

    def test_two_devices_and_a_repeat(self) -> None:
        fault = self.start("noisy")["id"]
        for _ in range(2):
            self.answer(fault, "gap", "in_window", 1)
        self.answer(fault, "quarter_turn", "better", 2)
        done = self.send("get", f"/faults/{fault}").json()["view"]["done"]
        self.assertEqual([item["test"] for item in done], ["gap", "quarter_turn"])
        self.assertEqual(FaultRecord.objects.get(pk=fault).entries.count(), 2)

    def test_a_spin_test_becomes_evidence_on_the_installation(self) -> None:
        fault = self.start("nothing")["id"]
        self.answer(fault, "spin", "nothing", 1)
        self.answer(fault, "spin", "agrees", 2)
        records = Revision.objects.get(installation=self.installation, number=3).document["test_records"]
        self.assertEqual(
            [(item["test"], item["outcome"]) for item in records], [("spin", "nothing"), ("spin", "agreed")]
        )
        self.assertEqual([entry.applied for entry in FaultRecord.objects.get(pk=fault).entries.all()], [2, 3])
        self.assertEqual(records[0]["by"], "builder")

    def test_a_count_that_agrees_verifies_the_target(self) -> None:
        fault = self.start("steady_off")["id"]
        shown = self.answer(fault, "count", "as_entered").json()
        self.assertEqual((shown["answers"][0]["by"], shown["answers"][0]["revision"]), ("builder", 2))
        target = Revision.objects.get(installation=self.installation, number=2).document["target"]
        self.assertEqual(target["verification"]["test"], "second_count")
        self.assertIsNone(self.answer(fault, "look", "fine", 2).json()["answers"][1]["revision"])

    def test_parts_fitted_lately_are_suggested_as_changed(self) -> None:
        for kind, days in (("wheel", 3), ("battery", 90)):
            on = (timezone.now().date() - timedelta(days=days)).isoformat()
            part = {"kind": kind, "name": "x", "fitted_on": on}
            self.send("post", f"/vehicles/{self.vehicle.pk}/parts", {"part": part})
        self.assertEqual(self.send("get", self.path).json()["suggested"]["changed"], ["wheel"])

    def test_a_failed_test_suggests_how_to_begin(self) -> None:
        failed = {"test": "spin", "on": "2026-05-02", "outcome": "differed", "expected_kmh": 7, "shown_kmh": 3.5}
        body = {"base_revision": 1, "document": document(CAR, test_records=[failed])}
        self.send("put", f"/installations/{self.installation.pk}", body)
        found = self.send("get", self.path).json()["suggested"]
        self.assertEqual((found["symptoms"], found["pairs"]), (["half"], [{"true_kmh": 7.0, "shown_kmh": 3.5}]))

    def test_what_cannot_be_is_refused(self) -> None:
        self.assertEqual(self.refused(self.send("post", self.path, {}), 422)["problems"][0]["path"], "symptoms")
        self.refused(self.send("post", self.path, {"symptoms": ["ghosts"]}), 422)
        fault = self.start("nothing")["id"]
        self.refused(self.answer(fault, "look", "green"), 422)
        self.refused(self.answer(fault, "polarity", "same"), 422)
        other = self.send("post", f"/faults/{fault}/close", {"cause": "other"})
        self.assertEqual(self.refused(other, 422)["problems"][0]["path"], "remark")
        self.refused(self.send("post", f"/faults/{fault}/close", {"cause": "gremlins"}), 422)
        self.assertEqual(self.send("delete", f"/faults/{fault}").status_code, 204)

    def test_on_the_bench(self) -> None:
        fault = self.start("double")["id"]
        found = self.send("post", f"/faults/{fault}/bench", {"cause": "edges_double"}).json()
        self.assertEqual((found["true_kmh"], found["shown_kmh"]), (50, 100))
        self.assertGreater(len(found["frame"]["scope"]["raw"]), 100)
        self.refused(self.send("post", f"/faults/{fault}/bench", {"cause": "gremlins"}), 422)


class OwnTable(FaultCase):
    def test_a_workshop_enters_its_own(self) -> None:
        table = self.send("get", "/fault-table").json()
        self.assertEqual(len(table["causes"]), len(CAUSES))
        own = {"weights": [{"cause": "ground_bad", "weight": 60}], "chances": []}
        saved = self.send("put", "/fault-table", {"base_version": 1, "own": own}).json()
        self.assertEqual((saved["version"], saved["own"]["weights"]), (2, own["weights"]))
        self.assertEqual(self.start("noisy")["view"]["causes"][0]["code"], "ground_bad")
        self.refused(self.send("put", "/fault-table", {"base_version": 1, "own": own}), 409)
        wrong = {"weights": [{"cause": "gremlins", "weight": 1}]}
        self.refused(self.send("put", "/fault-table", {"base_version": 2, "own": wrong}), 422)
        self.client.force_login(self.their_vehicle.workshop.members.first().user)
        self.assertEqual(self.send("get", "/fault-table").json()["own"]["weights"], [])
