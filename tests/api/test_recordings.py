"""Recorded drives over the API: a file is read, compared, and not kept."""

from __future__ import annotations

from base64 import b64encode
from typing import Any

import numpy as np

from speedchain.runs import Drive, as_table
from tests.api.base import ApiTestCase
from tests.installations import CAR, document

DASH = document(CAR, readouts__0__current_setting=23000)


def asked(data: bytes, **more: Any) -> dict[str, Any]:
    return {"document": DASH, "file": b64encode(data).decode()} | more


class Recordings(ApiTestCase):
    def check(self, drive: Drive, **more: Any) -> dict[str, Any]:
        found: dict[str, Any] = self.send("post", "/recordings/check", asked(as_table(drive).encode(), **more)).json()
        return found

    def test_a_drive_is_read_and_proves_something(self) -> None:
        found = self.check(Drive(shown_per_true=1.03))
        self.assertEqual(found["speeds"], ["satellite speed", "display"])
        self.assertEqual((found["lines"], found["bad_lines"]), (1175, 0))
        self.assertEqual(found["proof"]["verdict"], "wrong")
        self.assertAlmostEqual(found["proof"]["to_type"]["value"], 23690, delta=120)  # 23000 · 1.03
        self.assertEqual(len(found["drawn"]["time_s"]), len(found["drawn"]["shown_kmh"]))
        self.assertLessEqual(len(found["drawn"]["time_s"]), 1200)

    def test_columns_and_channels_as_a_person_says(self) -> None:
        columns = [{"meaning": "time"}, {"meaning": "speed", "unit": "mph"}, {"meaning": "speed", "unit": "mph"}]
        found = self.check(Drive(), columns=[*columns, {"meaning": "ignored"}])
        self.assertAlmostEqual(max(v for v in found["drawn"]["true_kmh"] if v), 80 * 1.609344, delta=2)
        self.assertEqual(found["proof"]["check"]["directions"], [])
        swapped = {"true_channel": "display", "shown_channel": "satellite speed"}
        found = self.check(Drive(shown_per_true=1.03), wanted=swapped)
        self.assertLess(found["proof"]["check"]["error_pct"], -2)

    def test_what_proves_nothing_is_shown_all_the_same(self) -> None:
        found = self.check(Drive(speeds_kmh=(40.0,), hold_s=1))
        self.assertIsNone(found["proof"])
        self.assertIn("Too little", found["refused"]["message"])
        self.assertGreater(len(found["drawn"]["time_s"]), 10)
        none = self.check(Drive(), columns=[{"meaning": "ignored"}] * 4)
        self.assertEqual(len(none["columns"]), 4)
        self.assertIn("A column for the time", none["refused"]["message"])

    def test_what_is_no_recording_is_refused(self) -> None:
        for data in (b"", b"\x89PNG\r\n\x1a\n" + bytes(200), b"no numbers\nhere\n"):
            with self.subTest(data[:8]):
                answer = self.client.post("/api/recordings/check", asked(data), content_type="application/json")
                self.assertIn("no rows of numbers", self.refused(answer, 422)["detail"])
        wrong = {"document": DASH, "file": "not base64!"}
        answer = self.client.post("/api/recordings/check", wrong, content_type="application/json")
        self.refused(answer, 422)

    def test_a_large_file_is_taken_and_a_larger_one_is_not(self) -> None:
        rows = "".join(f"{at / 100:.2f},60.0,61.2\n" for at in range(120_000))
        found = self.send("post", "/recordings/check", asked(b"time,gps km/h,dash km/h\n" + rows.encode())).json()
        self.assertAlmostEqual(found["proof"]["check"]["error_pct"], 2, delta=0.1)
        answer = self.client.post("/api/recordings/check", "x" * 27_000_001, content_type="application/json")
        self.assertIn("at most 27000000 bytes", self.refused(answer, 413)["detail"])

    def test_a_passed_road_test_verifies_every_stage(self) -> None:
        verification = {"test": "road", "on": "2026-05-02", "by": "builder", "note": "drive.csv", "value": None}
        verified = self.send("post", "/bench/verify", {"document": DASH, "verification": verification}).json()
        for stage in ("wheel", "drive", "target", "sensor", "signal"):
            self.assertEqual(verified[stage]["verification"]["test"], "road", stage)
        self.assertEqual(verified["readouts"][0]["verification"]["test"], "road")

    def test_a_captured_ring(self) -> None:
        edges = np.concatenate([[0.0], np.cumsum(np.tile([1.0] * 34 + [2.0], 20))]) * 0.001
        text = "time_s\n" + "".join(f"{at:.6f}\n" for at in edges)
        found = self.send("post", "/recordings/ring", {"file": b64encode(text.encode()).decode()}).json()
        self.assertEqual((found["pulses_per_turn"], found["positions"], found["sure"]), (35, 36, True))
        short = {"file": b64encode(b"0\n1\n2\n").decode()}
        answer = self.client.post("/api/recordings/ring", short, content_type="application/json")
        self.assertIn("less than 4 turns", self.refused(answer, 422)["detail"])
