"""Recordings over the API: sent in pieces, read, drawn, asked what they prove, taken out again."""

from __future__ import annotations

import gzip
import io
from datetime import timedelta
from typing import Any
from unittest import mock

import gpxpy
import numpy as np
import polars as pl
from django.test import override_settings
from django.utils import timezone
from pypdf import PdfReader

from speedchain.runs import DBC, WRITERS, Drive, Ring, as_dump, as_edges, as_sound, as_table, edges_of
from tests.api.base import ApiTestCase
from tests.installations import CAR, document
from tests.worker import work_all
from workshop import samples
from workshop.models import OriginalPiece, OutPiece, RecordingRecord, Samples, Work

DASH = document(CAR, readouts__0__current_setting=23000)
SPEEDS = {"true_channel": "satellite speed", "shown_channel": "display"}


class RecordingsTestCase(ApiTestCase):
    def sent(self, data: bytes, name: str = "drive.csv") -> dict[str, Any]:
        """A recording with all of its pieces there, not read yet."""
        made = self.send("post", f"/vehicles/{self.vehicle.pk}/recordings", {"name": name, "size_bytes": len(data)})
        self.assertEqual(made.status_code, 201, made.content)
        found: dict[str, Any] = made.json()
        for number, begin in enumerate(range(0, len(data), 1_000_000)):
            self.assertEqual(self.piece(found["id"], number, data[begin : begin + 1_000_000]).status_code, 204)
        return found

    def piece(self, recording: int, number: int, content: bytes) -> Any:
        return self.client.put(f"/api/recordings/{recording}/pieces/{number}", content, "application/octet-stream")

    def read(self, data: bytes, name: str = "drive.csv", **read_as: Any) -> dict[str, Any]:
        """The same, read."""
        return self.read_again(self.sent(data, name)["id"], **read_as)

    def read_again(self, recording: int, **read_as: Any) -> dict[str, Any]:
        answer = self.send("post", f"/recordings/{recording}/read", read_as)
        self.assertEqual(answer.status_code, 200, answer.content)
        work_all()
        shown: dict[str, Any] = self.send("get", f"/recordings/{answer.json()['id']}").json()
        return shown

    def answered(self, recording: int, question: str, body: dict[str, Any]) -> dict[str, Any]:
        answer = self.send("post", f"/recordings/{recording}/{question}", body)
        self.assertEqual(answer.status_code, 202, answer.content)
        work_all()
        found: dict[str, Any] = self.send("get", f"/work/{answer.json()['id']}").json()
        return found

    def file(self, recording: int, kind: str, **asked: Any) -> bytes:
        """A file of its channels, made by a worker and fetched."""
        done = self.answered(recording, "export", {"kind": kind} | asked)
        self.assertEqual(done["state"], "done", done["problem"])
        answer = self.client.get(f"/api/work/{done['id']}/file")
        self.assertIn(f".{kind}", answer["Content-Disposition"])
        return b"".join(answer.streaming_content)  # type: ignore[attr-defined]


class Reading(RecordingsTestCase):
    def test_a_drive_is_sent_read_and_listed(self) -> None:
        shown = self.read(as_table(Drive()).encode())
        found = shown["recording"]
        self.assertEqual(
            (found["state"], found["format"], found["lines"], found["bad_lines"]), ("ready", "table", 1175, 0)
        )
        self.assertEqual(found["usual"], SPEEDS)
        self.assertEqual([column["meaning"] for column in shown["columns"]], ["time", "speed", "speed", "course"])
        by_name = {channel["name"]: channel for channel in found["channels"]}
        self.assertEqual(by_name["display"]["samples"], 1175)
        self.assertAlmostEqual(by_name["display"]["greatest"], 80, delta=1)
        listed = self.send("get", f"/vehicles/{self.vehicle.pk}/recordings").json()
        self.assertEqual([item["id"] for item in listed], [found["id"]])

    def test_every_format_is_read(self) -> None:
        for name, write in WRITERS.items():
            with self.subTest(name=name):
                shown = self.read(write(Drive(seed=2)), f"drive.{name}", dbc=DBC)["recording"]
                self.assertEqual(shown["state"], "ready", shown["problem"])
                self.assertTrue(any(item["quantity"] == "speed" for item in shown["channels"]))
                self.assertEqual(shown["begins_at"] is None, name in ("csv", "asc"))
        for data in (as_edges(Ring()).encode(), as_dump(Ring()).encode(), as_sound(Ring(turns=8))):
            shown = self.read(data, "ring")["recording"]
            self.assertEqual([item["quantity"] for item in shown["channels"]], ["pulses"])

    def test_a_bus_is_read_again_with_its_dbc(self) -> None:
        shown = self.read(WRITERS["candump"](Drive()))
        self.assertEqual(shown["recording"]["state"], "failed")
        self.assertIn("DBC file is needed", shown["recording"]["problem"]["message"])
        again = self.read_again(shown["recording"]["id"], dbc=DBC)
        self.assertEqual(
            again["recording"]["usual"], {"true_channel": "Satellite.Speed", "shown_channel": "Wheels.Display"}
        )
        self.assertEqual(len(again["signals"]), 4)
        wrong = self.read_again(shown["recording"]["id"], dbc="no dbc {")
        self.assertEqual(wrong["recording"]["state"], "failed")
        self.assertEqual(wrong["signals"], [])

    def test_columns_as_a_person_says(self) -> None:
        found = self.read(as_table(Drive()).encode())["recording"]
        speed = {"meaning": "speed", "unit": "mph"}
        columns = [{"meaning": "time"}, speed, speed, {"meaning": "ignored"}]
        again = self.read_again(found["id"], columns=columns)["recording"]
        self.assertAlmostEqual(again["channels"][0]["greatest"], 80 * 1.609344, delta=2)
        self.assertEqual(Samples.objects.filter(recording=found["id"]).values("version").distinct().count(), 1)
        none = self.read_again(found["id"], columns=[{"meaning": "ignored"}] * 4)["recording"]
        self.assertIn("A column for the time", none["problem"]["message"])
        # what was read before is still there to be looked at
        self.assertEqual(self.plot(found["id"], ["display"])["curves"][0]["name"], "display")

    def test_what_speeds_are_for_is_said_without_reading_again(self) -> None:
        text = "time s,gps km/h,front km/h,rear km/h\n" + "".join(f"{at},50,51,52\n" for at in range(30))
        shown = self.read(text.encode())
        found = shown["recording"]
        self.assertEqual([item["role"] for item in found["channels"]], ["true", "shown", "driven"])
        self.assertTrue(all(item["guessed"] for item in found["channels"]))
        self.assertEqual(found["channels"][2]["source"], "column 4")
        self.assertEqual(found["lacks"], [])
        works = Work.objects.count()
        said = {"gps": "true", "front": "free", "rear": "shown"}
        answer = self.send("post", f"/recordings/{found['id']}/read", shown["read_as"] | {"roles": said})
        self.assertEqual((answer.status_code, Work.objects.count()), (200, works))
        again = answer.json()
        self.assertEqual(again["usual"], {"true_channel": "gps", "shown_channel": "rear"})
        self.assertEqual(again["wheels"], {"true_channel": "front", "shown_channel": "rear"})
        self.assertFalse(any(item["guessed"] for item in again["channels"]))
        later = self.read(text.replace("50", "55").encode(), "later.csv")  # the same headings: read in the same way
        self.assertEqual(later["recording"]["usual"], again["usual"])
        refused = self.send("post", f"/recordings/{found['id']}/read", {"roles": {"rear": "best"}})
        self.assertEqual(refused.status_code, 422)

    def test_gaps_are_counted_and_what_is_lacking_is_said(self) -> None:
        rows = "".join(f"{at},{'' if at % 4 == 3 else 50}\n" for at in range(40))
        found = self.read(b"time s,gps km/h\n" + rows.encode())["recording"]
        self.assertEqual(found["channels"][0]["gaps"], 0.25)
        self.assertEqual([item["code"] for item in found["lacks"]], ["shown"])

    def test_shown_speeds_by_hand_prove_a_display(self) -> None:
        """Four steady speeds by satellite alone; what the display showed is typed: 10 % too much each time."""
        rows = "".join(f"{at},{40 + 20 * (at // 60)}\n" for at in range(240))
        found = self.read(b"time s,gps km/h\n" + rows.encode())["recording"]
        noted = [{"at_s": 60 * step + at, "shown_kmh": 1.1 * (40 + 20 * step)} for step in range(4) for at in (20, 40)]
        made = self.answered(found["id"], "derived", {"kind": "noted", "of": "gps", "noted": noted[:3]})
        self.assertEqual(made["state"], "done", made["problem"])
        self.answered(found["id"], "derived", {"kind": "noted", "of": "gps", "noted": noted})  # in place of the first
        shown = self.send("get", f"/recordings/{found['id']}").json()["recording"]
        self.assertEqual(len(shown["noted"]), 8)
        self.assertEqual(shown["usual"], {"true_channel": "gps", "shown_channel": "shown, by hand"})
        wanted = {"true_channel": "gps", "shown_channel": "shown, by hand"}
        done = self.answered(found["id"], "check", {"document": DASH, "wanted": wanted})
        self.assertEqual(done["state"], "done", done["problem"])
        proof = done["check"]
        self.assertAlmostEqual(proof["check"]["error_pct"], 10, delta=0.3)
        self.assertEqual(proof["verdict"], "wrong")
        beyond = {"kind": "noted", "of": "gps", "noted": [{"at_s": 500, "shown_kmh": 50}]}
        refused = self.answered(found["id"], "derived", beyond)
        self.assertIn("Nothing was recorded at 500.0 s", refused["problem"]["message"])

    def test_the_distance_that_a_display_counted(self) -> None:
        """Two kilometres by satellite; the display went from 12 345.6 to 12 347.7 km, in steps of 0.1 km: 2.1 km,
        √(2·0.1²/12) km twice is ± 0.082 km, 3.89 % of 2.1 km; ends half a second off at 20 m/s, √2·10 m twice, are
        1.41 %: together 4.14 %."""
        rows = "".join(f"{at},72\n" for at in range(101))
        found = self.read(b"time s,gps km/h\n" + rows.encode())["recording"]
        asked = {"true": "gps", "shown": "counted", "counted_before_m": 12_345_600, "counted_after_m": 12_347_700}
        answer = self.answered(found["id"], "distance", asked | {"counted_step_m": 100})["distance"]
        self.assertAlmostEqual(answer["error_pct"], 5, delta=0.1)
        self.assertAlmostEqual(answer["expanded_pct"], 4.14, delta=0.02)
        back = self.answered(found["id"], "distance", asked | {"counted_after_m": 12_345_600})
        self.assertIn("has to count more", back["problem"]["message"])

    def test_a_file_that_was_given_up_is_gone_after_a_day(self) -> None:
        old = self.sent(b"time,v km/h\n0,1\n")
        RecordingRecord.objects.filter(pk=old["id"]).update(created_at=timezone.now() - timedelta(hours=25))
        young = self.sent(b"time,v km/h\n0,2\n")
        last = self.sent(b"time,v km/h\n0,3\n")
        there = set(RecordingRecord.objects.values_list("pk", flat=True))
        self.assertEqual(there, {young["id"], last["id"]})

    def test_how_a_file_is_read_is_remembered(self) -> None:
        """The next table with these headings, and the next log of a bus, are read as the last one was."""
        first = self.read(as_table(Drive(seed=1)).encode())["recording"]
        speed = {"meaning": "speed", "unit": "mph"}
        self.read_again(first["id"], columns=[{"meaning": "time"}, speed, speed, {"meaning": "ignored"}])
        second = self.read(as_table(Drive(seed=2)).encode(), "second.csv")
        self.assertEqual([column["unit"] for column in second["columns"]][1:3], ["mph", "mph"])
        other = self.read(b"time,gps km/h,dash km/h\n0,1,1\n1,2,2\n", "other.csv")
        self.assertEqual([column["unit"] for column in other["columns"]][1:], ["km/h", "km/h"])
        self.read(WRITERS["candump"](Drive(seed=1)), "bus.log", dbc=DBC)
        again = self.read(WRITERS["candump"](Drive(seed=2)), "bus 2.log")["recording"]
        self.assertEqual(again["state"], "ready")

    def test_the_same_file_is_recognised(self) -> None:
        data = as_table(Drive()).encode()
        first, second = self.read(data)["recording"], self.read(data, "copy.csv")["recording"]
        self.assertEqual(first["id"], second["id"])
        self.assertEqual(RecordingRecord.everything.count(), 1)

    def test_pieces_in_any_order_and_again_and_missing(self) -> None:
        rows = "".join(f"{at / 100:.2f},60.0,61.2\n" for at in range(60_000))
        data = b"time,gps km/h,dash km/h\n" + rows.encode()
        made = self.send(
            "post", f"/vehicles/{self.vehicle.pk}/recordings", {"name": "a", "size_bytes": len(data)}
        ).json()
        self.piece(made["id"], 1, data[1_000_000:])
        body = self.refused(self.send("post", f"/recordings/{made['id']}/read", {}), 422)
        self.assertIn(f"of {len(data)} bytes", body["detail"])
        for _ in range(2):
            self.piece(made["id"], 0, data[:1_000_000])
        for number, content in ((0, data[:10]), (2, b"more"), (7, data[:1_000_000])):
            self.assertIn("was to have", self.refused(self.piece(made["id"], number, content), 422)["detail"])
        found = self.read_again(made["id"])["recording"]
        self.assertEqual((found["lines"], found["seconds"]), (60_000, 599.99))
        again = self.refused(self.piece(made["id"], 0, data[:1_000_000]), 422)
        self.assertIn("Send the file again", again["problems"][0]["remedy"])

    def test_limits(self) -> None:
        path = f"/vehicles/{self.vehicle.pk}/recordings"
        for size in (0, 250_000_001):
            self.assertIn(
                "at most 250 MB",
                self.refused(self.send("post", path, {"name": "a", "size_bytes": size}), 422)["problems"][0]["limit"],
            )
        made = self.send("post", path, {"name": "a", "size_bytes": 2_000_000}).json()
        self.refused(self.piece(made["id"], 0, bytes(1_000_001)), 413)
        self.refused(self.client.put(f"/api/recordings/{made['id']}/pieces/0", "x" * 10, "application/json"), 415)
        with mock.patch("workshop.recordings.MOST_BYTES_OF_A_WORKSHOP", 2_000_001):
            body = self.refused(self.send("post", path, {"name": "a", "size_bytes": 2}), 422)
        self.assertIn("Delete recordings", body["problems"][0]["remedy"])
        self.refused(self.send("post", f"/recordings/{made['id']}/plot", {"channels": ["a"]}), 422)

    def test_what_is_no_recording_says_so(self) -> None:
        for data in (b"\x89PNG\r\n\x1a\n" + bytes(200), b"no numbers\nhere\n", b"<html></html>"):
            with self.subTest(data[:8]):
                shown = self.read(data)["recording"]
                self.assertEqual(shown["state"], "failed")
                self.assertTrue(shown["problem"]["message"] and shown["problem"]["remedy"])

    def test_it_goes_to_the_bin_and_comes_back(self) -> None:
        found = self.read(as_table(Drive()).encode())["recording"]
        self.assertEqual(self.send("delete", f"/recordings/{found['id']}").status_code, 204)
        self.refused(self.send("get", f"/recordings/{found['id']}"), 404)
        item = self.send("get", "/bin").json()[0]
        self.assertEqual((item["kind"], item["name"]), ("recording", "drive.csv"))
        back = self.send("post", f"/bin/recording/{found['id']}", {})
        self.assertEqual(back.status_code, 204, back.content)
        self.assertEqual(self.send("get", f"/recordings/{found['id']}").json()["recording"]["state"], "ready")

    def plot(self, recording: int, channels: list[str], **more: Any) -> dict[str, Any]:
        found: dict[str, Any] = self.send(
            "post", f"/recordings/{recording}/plot", {"channels": channels, **more}
        ).json()
        return found

    def test_a_plot_of_many_samples_keeps_its_extremes(self) -> None:
        values = 50 + 10 * np.sin(np.arange(60_000) / 900)
        values[41_234] = 97.5
        rows = "".join(f"{at / 100:.2f},{value:.3f}\n" for at, value in enumerate(values))
        with mock.patch.object(samples, "MOST_ROWS", 3_000), mock.patch.object(samples, "FEW_ROWS", 500):
            found = self.read(b"time,gps km/h\n" + rows.encode())["recording"]
            self.assertEqual(Samples.objects.filter(recording=found["id"]).count(), 20)
            whole = self.plot(found["id"], ["gps"], points=200)["curves"][0]
            self.assertLessEqual(len(whole["time_s"]), 202)
            self.assertEqual(max(whole["values"]), 97.5)
            near = self.plot(found["id"], ["gps"], from_s=412.3, to_s=412.4)["curves"][0]
        self.assertIn(97.5, near["values"])
        self.assertLess(len(near["values"]), 16)
        np.testing.assert_allclose(near["time_s"][0], 412.3, atol=0.011)

    def test_a_track_with_its_errors(self) -> None:
        found = self.read(WRITERS["nmea"](Drive(speeds_kmh=(36.0,), hold_s=100, true_noise_kmh=0)))["recording"]
        track = self.send("get", f"/recordings/{found['id']}/track").json()
        # 36 km/h are 10 m/s: 100 s, and twice half of 15 s
        self.assertAlmostEqual(track["length_m"], 1150, delta=10)
        self.assertAlmostEqual(np.hypot(np.ptp(track["east_m"]), np.ptp(track["north_m"])), track["length_m"], delta=5)
        csv = self.read(as_table(Drive()).encode())["recording"]
        self.assertIn("no places", self.refused(self.send("get", f"/recordings/{csv['id']}/track"), 422)["detail"])

    def test_errors_along_a_track_stand_where_something_was_shown_and_not_on_water(self) -> None:
        rows = "".join(f"{at},60,{'66' if 20 <= at <= 30 else ''},{45 + at * 1.5e-4:.6f},8\n" for at in range(60))
        found = self.read(b"time s,gps km/h,dash km/h,lat deg,lon deg\n" + rows.encode())["recording"]
        path = f"/recordings/{found['id']}/track?true=gps&shown=dash"
        errors = self.send("get", path).json()["error_pct"]
        known = [at for at, error in enumerate(errors) if error is not None]
        self.assertEqual((min(known) >= 18, max(known) <= 32, errors[25]), (True, True, 10.0))
        self.vehicle.kind = "boat"
        self.vehicle.save()
        self.assertEqual(set(self.send("get", path).json()["error_pct"]), {None})

    def test_files_out(self) -> None:
        data = as_table(Drive()).encode()
        found = self.read(data)["recording"]
        original = self.client.get(f"/api/recordings/{found['id']}/original")
        self.assertEqual(b"".join(original.streaming_content), data)  # type: ignore[attr-defined]
        frame = pl.read_csv(self.file(found["id"], "csv", shown="display", ratio=1.02))
        self.assertEqual(frame.height, 1175)
        np.testing.assert_allclose(frame["display corrected [km/h]"], frame["display [km/h]"] / 1.02)
        other = pl.read_parquet(io.BytesIO(self.file(found["id"], "parquet")))
        np.testing.assert_array_equal(other["time [s]"], frame["time [s]"])

    def test_a_track_out_and_in_again(self) -> None:
        """GPX 1.1, read by gpxpy and by ourselves."""
        found = self.read(WRITERS["nmea"](Drive(seed=6)), "track.nmea")["recording"]
        content = self.file(found["id"], "gpx")
        points = gpxpy.parse(content.decode()).tracks[0].segments[0].points
        self.assertEqual(len(points), found["channels"][0]["samples"])
        again = self.read(content, "track.gpx")["recording"]
        self.assertEqual(again["begins_at"], found["begins_at"])
        csv = self.read(as_table(Drive()).encode())["recording"]
        self.assertIn("no places", self.answered(csv["id"], "export", {"kind": "gpx"})["problem"]["message"])

    def test_a_large_file_comes_in_pieces_and_the_newest_is_kept(self) -> None:
        rows = "".join(f"{at / 100:.2f},60.25,61.5\n" for at in range(120_000))
        found = self.read(b"time,gps km/h,dash km/h\n" + rows.encode())["recording"]
        first = self.file(found["id"], "csv")
        self.assertEqual(pl.read_csv(first).height, 120_000)
        self.assertGreater(OutPiece.objects.count(), 1)
        self.assertLessEqual(max(len(bytes(piece.content)) for piece in OutPiece.objects.all()), 1_000_000)
        before = Work.objects.get(kind="export").pk
        self.file(found["id"], "parquet")
        self.refused(self.client.get(f"/api/work/{before}/file"), 404)
        self.assertEqual(Work.objects.filter(kind="export").count(), 1)
        reading = Work.objects.get(kind="read_recording").pk
        self.refused(self.client.get(f"/api/work/{reading}/file"), 404)

    def test_texts_out_hold_no_formulas(self) -> None:
        found = self.read(b"time,=1+1 km/h,+gps km/h\n0,1,1\n1,2,2\n")["recording"]
        text = self.file(found["id"], "csv").decode()
        wires = self.read(b"time_s,wire\n0.1,=1+1\n0.2,=1+1\n0.3,=1+1\n", "wires.csv")["recording"]
        text += self.file(wires["id"], "csv").decode()
        self.assertNotIn(",=", text)
        self.assertNotIn(",+", text)

    @override_settings(LARGEST_RECORDING_BYTES=400_000_000)
    def test_a_dump_of_nothing_is_compressed_well(self) -> None:
        """The samples of a quiet channel take little room: Parquet with zstd."""
        rows = "".join(f"{at},50\n" for at in range(100_000)).encode()
        found = self.read(b"time,gps km/h\n" + rows)["recording"]
        stored = sum(len(bytes(item.content)) for item in Samples.objects.filter(recording=found["id"]))
        self.assertLess(stored, len(gzip.compress(rows)) * 1.2)
        self.assertEqual(OriginalPiece.objects.filter(recording=found["id"]).count(), 1)


class Answers(RecordingsTestCase):
    def check(self, drive: Drive, wanted: dict[str, Any] | None = None) -> dict[str, Any]:
        found = self.read(as_table(drive).encode())["recording"]
        return self.answered(found["id"], "check", {"document": DASH, "wanted": wanted or SPEEDS})

    def test_a_drive_proves_something(self) -> None:
        found = self.check(Drive(shown_per_true=1.03))
        self.assertEqual((found["state"], found["kind"]), ("done", "check"))
        self.assertEqual(found["check"]["verdict"], "wrong")
        self.assertAlmostEqual(found["check"]["to_type"]["value"], 23690, delta=120)  # 23000 · 1.03

    def test_the_same_question_is_answered_once(self) -> None:
        found = self.read(as_table(Drive()).encode())["recording"]
        body = {"document": DASH, "wanted": SPEEDS}
        first = self.answered(found["id"], "check", body)
        self.assertEqual(self.answered(found["id"], "check", body)["id"], first["id"])
        other = {"document": document(CAR, readouts__0__current_setting=23100), "wanted": SPEEDS}
        self.assertNotEqual(self.answered(found["id"], "check", other)["id"], first["id"])
        with mock.patch("workshop.work.core_version", return_value="another core"):
            self.assertNotEqual(self.answered(found["id"], "check", body)["id"], first["id"])
        self.assertEqual(Work.objects.filter(kind="check").count(), 3)

    def test_answers_are_said_in_ones_own_units(self) -> None:
        found = self.check(Drive(shown_offset_kmh=3, speeds_kmh=(30.0, 30.0, 60.0, 60.0, 90.0, 90.0)))
        self.assertIn("km/h", found["check"]["check"]["text"])
        answer = self.client.get(f"/api/work/{found['id']}", headers={"X-Speed-Unit": "mph"}).json()
        self.assertIn("mph", answer["check"]["check"]["text"])
        self.assertNotIn("km/h", answer["check"]["check"]["text"])

    def test_what_proves_nothing_says_why(self) -> None:
        found = self.check(Drive(speeds_kmh=(40.0,), hold_s=1))
        self.assertEqual(found["state"], "failed")
        self.assertIn("Too little", found["problem"]["message"])
        missing = self.check(Drive(), {"true_channel": "satellite speed", "shown_channel": "radar"})
        self.assertIn("no speed named radar", missing["problem"]["message"])

    def test_a_passed_road_test_verifies_every_stage(self) -> None:
        verification = {"test": "road", "on": "2026-05-02", "by": "builder", "note": "drive.csv", "value": None}
        verified = self.send("post", "/bench/verify", {"document": DASH, "verification": verification}).json()
        for stage in ("wheel", "drive", "target", "sensor", "signal"):
            self.assertEqual(verified[stage]["verification"]["test"], "road", stage)
        self.assertEqual(verified["readouts"][0]["verification"]["test"], "road")

    def test_a_captured_ring(self) -> None:
        edges = edges_of(Ring(teeth=36, missing=1, turns=30))
        text = "time_s\n" + "".join(f"{at:.6f}\n" for at in edges)
        found = self.read(text.encode(), "ring.csv")["recording"]
        ring = self.answered(found["id"], "ring", {"channel": "pulses"})["ring"]
        self.assertEqual((ring["pulses_per_turn"], ring["positions"], ring["sure"]), (35, 36, True))
        counted = self.answered(found["id"], "ring", {"channel": "pulses", "count": 35})["ring"]
        self.assertEqual(counted["pulses_per_turn"], 35)
        none = self.answered(found["id"], "ring", {"channel": "another"})
        self.assertIn("no times of pulses", none["problem"]["message"])

    def test_reciprocal_runs_slip_and_health(self) -> None:
        water = Drive(speeds_kmh=(10.0,) * 4, hold_s=60, current_kmh=2, shown_per_true=0.95)
        found = self.read(as_table(water).encode(), "runs.csv")["recording"]
        runs = self.answered(found["id"], "reciprocal", SPEEDS)["reciprocal"]
        self.assertAlmostEqual(runs["error_pct"], -5, delta=0.5)
        drive = Drive(driven=True, false_slip_pct=2, dropouts=4, seed=3, hold_s=30)
        found = self.read(as_table(drive).encode(), "slip.csv")["recording"]
        slip = self.answered(found["id"], "slip", {"true_channel": "display", "shown_channel": "driven wheel"})["slip"]
        self.assertAlmostEqual(slip["false_pct"], 2, delta=0.2)
        health = self.answered(found["id"], "health", {"channel": "display"})["health"]
        self.assertEqual(health["kinds"][0]["kind"], "dropout")
        for question, body, message in (
            ("slip", {"true_channel": "display", "shown_channel": "display"}, "Two speeds are needed"),
            ("health", {"channel": "course"}, "no speed named course"),
            ("reciprocal", {"true_channel": "display", "shown_channel": "course"}, "no speed named course"),
        ):
            refused = self.answered(found["id"], question, body)
            self.assertIn(message, refused["problem"]["message"])

    def test_the_report_of_a_drive(self) -> None:
        found = self.read(as_table(Drive(shown_per_true=1.03)).encode())["recording"]
        path = f"/recordings/{found['id']}/report"
        asked = {"document": DASH, "wanted": SPEEDS, "installation": self.installation.pk}
        answer = self.send("post", path, asked)
        text = "".join(page.extract_text() for page in PdfReader(io.BytesIO(answer.content)).pages)
        for words in ("Vehicle: Avocet", "drive.csv", "The display is wrong", "speed changes", "degrees of freedom"):
            self.assertIn(words, text)
        wrong = {"true_channel": "satellite speed", "shown_channel": "radar"}
        self.refused(self.send("post", path, {"document": DASH, "wanted": wrong}), 422)
