"""Placement, spokes, sensor choices and parts to make, over the API."""

from __future__ import annotations

import io
from typing import Any

import ezdxf

from tests.api.base import ApiTestCase
from tests.core.test_every_field import RICH
from tests.installations import CAR, CYCLE, document

RING = {"kind": "toothed_ring", "count": 48, "ring": {"diameter_mm": 98}}


class Placement(ApiTestCase):
    def test_the_bench_of_a_document_that_need_not_be_saved(self) -> None:
        result = self.send("post", "/placement", document(CAR, target=RING, placement={"air_gap_mm": "0.9 mm"})).json()
        self.assertTrue(result["detail"]["possible"])
        self.assertEqual(len(result["map"]["ratio"]), 61)
        self.assertEqual([one["code"] for one in result["chances"]], ["drawn", "quarter", "small"])
        self.assertEqual(result["scope"]["text"], "48 of 48 counted")
        self.assertEqual(len(result["scope"]["raw"]), len(result["scope"]["high"]))

    def test_the_scope_runs_at_the_speed_that_is_looked_at(self) -> None:
        spans = [
            self.send("post", "/placement", document(CAR, target=RING, check_speed_kmh=speed)).json()["scope"][
                "time_ms"
            ]
            for speed in (50, 100)
        ]
        self.assertAlmostEqual(spans[0][-1], 2 * spans[1][-1], places=3)

    def test_the_same_question_has_the_same_answer(self) -> None:
        once, again = (self.send("post", "/placement", RICH).content for _ in range(2))
        self.assertEqual(once, again)

    def test_without_a_size_it_says_what_is_missing(self) -> None:
        result = self.send("post", "/placement", CAR).json()
        self.assertIn("diameter or the module", result["detail"]["missing"])
        self.assertIsNone(result["map"])

    def test_a_field_that_cannot_be_used_is_named(self) -> None:
        body = self.refused(self.send("post", "/placement", document(CAR, placement={"air_gap_mm": "wide"})), 422)
        self.assertEqual(body["problems"][0]["path"], "placement.air_gap_mm")


class Advice(ApiTestCase):
    def test_spokes(self) -> None:
        magnets = {"kind": "magnets", "count": 3, "magnets": {"radius_mm": 90}, "spokes": {"holes": 36}}
        result = self.send("post", "/spokes", document(CYCLE, target=magnets)).json()
        self.assertEqual(result["sets"][0]["spokes"], [1, 7, 13])
        self.assertEqual(len(result["spokes"]), 18)
        far = magnets | {"magnets": {"radius_mm": 500}}
        body = self.refused(self.send("post", "/spokes", document(CYCLE, target=far)), 422)
        self.assertEqual(body["problems"][0]["path"], "target.magnets.radius_mm")

    def test_sensor_choices(self) -> None:
        result = self.send("post", "/sensor-choices", document(CAR, target=RING)).json()
        self.assertEqual(result["choices"][0]["kind"], "hall_gear_tooth")
        self.assertEqual(len(result["choices"]), len(self.send("get", "/catalogue").json()["sensors"]))


class Parts(ApiTestCase):
    def file(self, part: str, kind: str, given: Any = RICH) -> Any:
        return self.send("post", f"/{part}/{kind}", given)

    def test_each_part_in_each_format(self) -> None:
        for part in ("ring", "bracket"):
            for kind, begins in (("dxf", b"  0\n"), ("svg", b"<?xml"), ("pdf", b"%PDF-")):
                answer = self.file(part, kind)
                self.assertEqual(answer.status_code, 200)
                self.assertTrue(answer.content.startswith(begins))
                self.assertIn(f'filename="{part}.{kind}"', answer["Content-Disposition"])

    def test_the_ring_has_the_count_of_the_installation(self) -> None:
        drawing = ezdxf.read(io.StringIO(self.file("ring", "dxf").content.decode()))
        (outline,) = drawing.modelspace().query("LWPOLYLINE")
        self.assertEqual(len(outline), 4 * 48)

    def test_what_cannot_be_made_is_refused_in_words(self) -> None:
        body = self.refused(self.file("ring", "dxf", CAR), 422)
        self.assertEqual(body["problems"][0]["path"], "target.ring.diameter_mm")
        body = self.refused(self.file("bracket", "dxf", CAR), 422)
        self.assertEqual(body["problems"][0]["path"], "placement.bracket.reach_mm")
        self.refused(self.file("ring", "exe"), 422)
