"""What recordings answer over the API: derived channels, distances, changes of a ring, coast-down, drift; results are
kept."""

from __future__ import annotations

import re
from typing import Any

import gpxpy
import numpy as np

from speedchain.runs import WRITERS, Drive, Ring, as_edges, as_table
from tests.api.test_recordings import DASH, SPEEDS, RecordingsTestCase
from tests.installations import document
from workshop.models import RecordingRecord, Samples, Work


class Derived(RecordingsTestCase):
    def setUp(self) -> None:
        super().setUp()
        self.found = self.read(as_table(Drive(hold_s=20, driven=True, false_slip_pct=1.2)).encode())["recording"]["id"]

    def derive(self, recording: int | None = None, **body: Any) -> dict[str, Any]:
        return self.answered(recording or self.found, "derived", body)

    def channels(self, recording: int | None = None) -> dict[str, dict[str, Any]]:
        shown = self.send("get", f"/recordings/{recording or self.found}").json()["recording"]
        return {channel["name"]: channel for channel in shown["channels"]}

    def test_a_derived_channel_is_drawn_and_handed_out_like_any_other(self) -> None:
        self.assertEqual(self.derive(kind="acceleration", of="display")["state"], "done")
        made = self.channels()["acceleration from display"]
        self.assertTrue(made["derived"])
        self.assertEqual(made["unit"], "m/s²")
        self.assertAlmostEqual(made["greatest"], 50 / 3.6 / 15, delta=0.3)
        curve = self.send("post", f"/recordings/{self.found}/plot", {"channels": ["acceleration from display"]}).json()
        self.assertGreater(len(curve["curves"][0]["values"]), 500)
        text = self.file(self.found, "csv").decode()
        self.assertIn("acceleration from display [m/s²]", text.splitlines()[0])

    def test_slip_against_a_reference_and_away_again(self) -> None:
        self.derive(kind="slip", of="driven wheel", against="satellite speed")
        name = "slip of driven wheel against satellite speed"
        histogram = self.send("get", f"/recordings/{self.found}/histogram?channel={name}").json()
        longest = histogram["edges"][int(np.argmax(histogram["seconds"]))]
        self.assertAlmostEqual(longest, 1.2, delta=0.6)
        answer = self.send("delete", f"/recordings/{self.found}/derived?name={name}")
        self.assertNotIn(name, {channel["name"] for channel in answer.json()["channels"]})
        self.assertFalse(Samples.objects.filter(stream=name).exists())
        self.refused(self.send("delete", f"/recordings/{self.found}/derived?name={name}"), 404)

    def test_they_are_computed_again_when_the_file_is_read_in_another_way(self) -> None:
        self.derive(kind="distance", of="display")
        before = self.channels()["distance from display"]["greatest"]
        speed = {"meaning": "speed", "unit": "mph"}
        columns = [{"meaning": "time"}, speed, speed, {"meaning": "ignored"}, speed]
        self.read_again(self.found, columns=columns)
        self.assertAlmostEqual(self.channels()["distance from display"]["greatest"] / before, 1.609344, delta=1e-3)
        columns[2] = {"meaning": "ignored"}
        self.read_again(self.found, columns=columns)
        self.assertNotIn("distance from display", self.channels())
        self.assertEqual(RecordingRecord.objects.get(pk=self.found).derived, [])

    def test_speed_from_pulses_by_this_installation(self) -> None:
        ring = self.read(as_edges(Ring(teeth=48, turns=30, turns_per_s=5, speeding_pct=0, noise_pct=0)).encode())
        recording = ring["recording"]["id"]
        self.refused(
            self.send("post", f"/recordings/{recording}/derived", {"kind": "wheel_speed", "of": "pulses"}), 422
        )
        pulses = ring["recording"]["channels"][0]["name"]
        self.derive(recording, kind="wheel_speed", of=pulses, installation=self.installation.pk)
        found = [channel for channel in self.channels(recording).values() if channel["derived"]]
        self.assertIn("revision 1", found[0]["name"])
        head = self.send("post", "/evaluate", self.installation.revisions.first().document).json()["result"]
        expected = 3.6 * 5 * 48 * head["metres_per_pulse"]
        self.assertAlmostEqual(found[0]["greatest"], expected, delta=1e-3 * expected)
        theirs = {"kind": "wheel_speed", "of": pulses, "installation": self.their_installation.pk}
        self.refused(self.send("post", f"/recordings/{recording}/derived", theirs), 404)

    def test_what_cannot_be_is_said_and_leaves_nothing(self) -> None:
        failed = self.derive(kind="slip", of="display", against="gone")
        self.assertEqual((failed["state"], failed["problem"]["path"]), ("failed", "against"))
        self.assertEqual(RecordingRecord.objects.get(pk=self.found).derived, [])
        for number in range(12):
            RecordingRecord.objects.filter(pk=self.found).update(
                derived=[{"kind": "distance", "of": str(n)} for n in range(number + 1)]
            )
        body = self.refused(
            self.send("post", f"/recordings/{self.found}/derived", {"kind": "distance", "of": "display"}), 422
        )
        self.assertIn("at most 12", body["problems"][0]["limit"])

    def test_a_name_that_the_file_has_is_taken(self) -> None:
        table = "time [s],v [km/h],distance from v [m]\n" + "".join(f"{at},36,{at}\n" for at in range(40))
        found = self.read(table.encode(), "taken.csv")["recording"]["id"]
        body = self.refused(self.send("post", f"/recordings/{found}/derived", {"kind": "distance", "of": "v"}), 422)
        self.assertIn("already", body["problems"][0]["message"])

    def test_how_far_it_had_come(self) -> None:
        found = self.send("get", f"/recordings/{self.found}/along").json()
        self.assertEqual(found["distance_m"][0], 0)
        rows = [36.0] * 11
        table = "time [s],gps [km/h]\n" + "".join(f"{at},{kmh}\n" for at, kmh in enumerate(rows))
        even = self.read(table.encode(), "even.csv")["recording"]["id"]
        self.assertEqual(self.send("get", f"/recordings/{even}/along").json()["distance_m"][-1], 100.0)
        ring = self.read(as_edges(Ring()).encode(), "ring.csv")["recording"]["id"]
        self.refused(self.send("get", f"/recordings/{ring}/along"), 422)
        self.refused(self.send("get", f"/recordings/{ring}/histogram?channel=none"), 422)


class Answers(RecordingsTestCase):
    def test_a_distance_by_places_and_one_measured(self) -> None:
        data = WRITERS["nmea"](Drive(seed=4))
        found = self.read(data, "beach.nmea")["recording"]
        speed = found["usual"]["true_channel"]
        by_places = self.answered(found["id"], "distance", {"true": "places", "shown": speed})["distance"]
        self.assertLess(abs(by_places["error_pct"]), by_places["expanded_pct"])
        wrong = by_places["true"]["length_m"] * 1.05
        measured = {"true": "measured", "measured_m": wrong, "shown": speed}
        self.assertEqual(self.answered(found["id"], "distance", measured)["distance"]["verdict"], "wrong")
        without = self.answered(found["id"], "distance", {"true": "measured", "shown": speed})
        self.assertEqual(without["problem"]["path"], "measured_m")

    def test_the_track_with_the_corrected_speed(self) -> None:
        found = self.read(WRITERS["nmea"](Drive(seed=4)), "beach.nmea")["recording"]
        speed = found["usual"]["true_channel"]
        text = self.file(found["id"], "gpx", shown=speed, ratio=1.05).decode()
        fastest = max(float(value) for value in re.findall(r"<speed>([\d.]+)</speed>", text))
        channel = next(item for item in found["channels"] if item["name"] == speed)
        self.assertAlmostEqual(fastest, channel["greatest"] / 1.05 / 3.6, delta=0.01)
        self.assertGreater(len(gpxpy.parse(text).tracks[0].segments[0].points), 100)

    def test_traction_and_coast_down(self) -> None:
        found = self.read(as_table(Drive(driven=True, false_slip_pct=1.0)).encode())["recording"]["id"]
        asked = {"true_channel": "satellite speed", "shown_channel": "driven wheel"}
        axes = {"action": "retard", "most": 10, "spin_in": "mph", "speed_in": "mph", "rows": 3, "columns": 4}
        table = self.answered(found, "traction", asked | axes)["traction"]
        self.assertEqual((len(table["cells"]), len(table["cells"][0]), len(table["spins"])), (3, 4, 4))
        self.assertEqual((table["cells"][0][0], table["cells"][-1][-1]), (0, 10))
        self.assertIn("front speed, mph", table["csv"])
        self.refused(self.send("post", f"/recordings/{found}/traction", asked | axes | {"spin_in": "ft"}), 422)
        none = self.answered(found, "coast-down", {"channel": "gone"})
        self.assertEqual(none["problem"]["path"], "channel")
        rolls = self.answered(found, "coast-down", {"channel": "satellite speed"})
        self.assertIn("roll", rolls["problem"]["remedy"])  # it brakes from 80 km/h in 15 s

    def test_spins_before_and_after_a_change_of_tune(self) -> None:
        before, after = (
            self.read(as_table(Drive(driven=True, slip_pct_per_m_s2=slip, seed=1)).encode(), f"{slip}.csv")["recording"]
            for slip in (6.0, 3.0)
        )
        asked = {"true_channel": "satellite speed", "shown_channel": "driven wheel", "earlier": before["id"]}
        found = self.answered(after["id"], "tune-change", asked)["tune_change"]
        self.assertGreater(len(found["pairs"]), 0)
        for pair in found["pairs"]:
            self.assertAlmostEqual(pair["after_pct"] / pair["before_pct"], 0.5, delta=0.1)
        gone = self.answered(after["id"], "tune-change", asked | {"earlier": after["id"] + 99})
        self.assertEqual(gone["problem"]["path"], "earlier")

    def test_two_recordings_laid_over_each_other(self) -> None:
        one, two = (self.read(as_table(Drive(seed=seed)).encode(), f"{seed}.csv")["recording"]["id"] for seed in (1, 2))
        for by in ("begin", "launch", "speed"):
            found = self.send("get", f"/recordings/{one}/laid-over?other={two}&by={by}").json()
            self.assertAlmostEqual(found["shift_s"], 0, delta=0.5)
            self.assertLess(found["differ_kmh"], 2)
        self.refused(self.send("get", f"/recordings/{one}/laid-over?other={two + 99}&by=begin"), 404)
        self.refused(self.send("get", f"/recordings/{one}/laid-over?other={two}&by=moon"), 422)

    def test_marks(self) -> None:
        found = self.read(as_table(Drive(seed=4)).encode())["recording"]
        marks = f"/recordings/{found['id']}/marks"
        self.send("post", marks, {"at_s": 20.5, "text": "Gauge 120 km/h"})
        body = self.send("post", marks, {"at_s": 3, "text": "starts"}).json()
        self.assertEqual(
            [(mark["at_s"], mark["text"]) for mark in body["marks"]], [(3, "starts"), (20.5, "Gauge 120 km/h")]
        )
        body = self.send("post", marks, {"at_s": 3, "text": "moves off"}).json()
        self.assertEqual([mark["text"] for mark in body["marks"]], ["moves off", "Gauge 120 km/h"])
        late = self.refused(self.send("post", marks, {"at_s": found["seconds"] + 1, "text": "x"}), 422)
        self.assertIn("Put the mark within it", str(late))
        self.assertEqual(len(self.send("delete", f"{marks}?at_s=3").json()["marks"]), 1)
        self.refused(self.send("delete", f"{marks}?at_s=3"), 404)

    def test_a_ring_against_an_earlier_capture(self) -> None:
        before = self.read(as_edges(Ring(teeth=44, seed=1)).encode(), "spring.csv")["recording"]
        now = self.read(as_edges(Ring(teeth=44, seed=2, bent=9)).encode(), "autumn.csv")["recording"]
        pulses = now["channels"][0]["name"]
        asked = {"channel": pulses, "count": 44, "mark_s": now["begins_s"], "earlier": before["id"]}
        found = self.answered(now["id"], "ring-change", asked | {"earlier_mark_s": before["begins_s"]})["ring_change"]
        self.assertEqual([tooth["number"] for tooth in found["teeth"]], [9])
        self.assertAlmostEqual(found["teeth"][0]["by_pct"], 12, delta=1.5)
        gone = self.answered(now["id"], "ring-change", asked | {"earlier": now["id"] + 99})
        self.assertEqual(gone["problem"]["path"], "earlier")

    def test_a_paddle_that_grows_over(self) -> None:
        water = {"speeds_kmh": (10.0,) * 6, "hold_s": 60.0, "shown_step_kmh": 0.0}
        ids = []
        for seed, ratio in enumerate((0.99, 0.92)):
            data = as_table(Drive(**water, seed=seed, shown_per_true=ratio)).encode()  # type: ignore[arg-type]
            ids.append(self.read(data, f"{seed}.csv")["recording"]["id"])
        found = RecordingRecord.objects.get(pk=ids[1])
        found.summary = found.summary | {"begins_s": found.summary["begins_s"] + 90 * 86_400}
        found.save()
        self.assertIsNone(self.send("get", f"/recordings/{ids[0]}/drift").json()["drift"])
        for recording in ids:
            self.answered(recording, "reciprocal", SPEEDS)
        drift = self.send("get", f"/recordings/{ids[0]}/drift").json()
        self.assertEqual([run["name"] for run in drift["runs"]], ["0.csv", "1.csv"])
        self.assertAlmostEqual(drift["drift"]["change_pct"], -7, delta=0.7)
        self.assertIn("Clean the paddle", drift["drift"]["advice"])


class Results(RecordingsTestCase):
    def test_they_are_kept_with_revision_and_core(self) -> None:
        path = f"/installations/{self.installation.pk}"
        self.send("put", path, {"base_revision": 1, "document": DASH})
        found = self.read(as_table(Drive(shown_per_true=0.98)).encode())["recording"]["id"]
        wanted = {"document": DASH, "wanted": SPEEDS, "installation": self.installation.pk}
        self.answered(found, "check", wanted)
        self.answered(found, "check", wanted)
        self.answered(found, "health", {"channel": "display"})
        health, check = self.send("get", f"/recordings/{found}/results").json()
        self.assertEqual((health["kind"], health["installation"]), ("health", None))
        self.assertEqual(
            (check["kind"], check["installation"], check["revision"], check["same_core"]),
            ("check", self.installation.pk, 2, True),
        )
        self.assertIn("The display is wrong", check["text"])
        Work.objects.filter(kind="check").update(core="another")
        self.send("put", path, {"base_revision": 2, "document": document(DASH, notes="new tyre")})
        check = self.send("get", f"/recordings/{found}/results").json()[1]
        self.assertEqual((check["revision"], check["same_core"]), (None, False))

    def test_of_another_workshop_no_installation_is_named(self) -> None:
        found = self.read(as_table(Drive(hold_s=20)).encode())["recording"]["id"]
        wanted = {"document": DASH, "wanted": SPEEDS, "installation": self.their_installation.pk}
        self.refused(self.send("post", f"/recordings/{found}/check", wanted), 404)
