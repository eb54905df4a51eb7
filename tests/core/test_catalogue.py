"""The catalogue names every choice of the document, and no other."""

from __future__ import annotations

from pathlib import Path
from typing import Any, get_args
from unittest import TestCase

from speedchain import evaluate
from speedchain.catalogue import catalogue
from speedchain.document import fields_by_path
from speedchain.drive.model import DriveKind
from speedchain.fields.evidence import STAGES, Test
from speedchain.fields.purposes import Purpose, SensedAt, VehicleKind
from speedchain.glossary import TERMS, as_markdown
from speedchain.readout.encodings import EncodingCode
from speedchain.regulations.speedometer import BandCode
from speedchain.sensor import SensorKind
from speedchain.target.model import TargetKind
from speedchain.wheel.entries import Factor, Source, SpeedBasis
from speedchain.wheel.model import WheelMethod
from tests.installations import CAR, installation


class Choices(TestCase):
    def test_codes_and_words_agree_with_the_document(self) -> None:
        choices, fields = catalogue(), fields_by_path()
        for listed, literal in [
            (choices.purposes, Purpose),
            (fields["vehicle_kind"].choices, VehicleKind),
            (choices.wheel_methods, WheelMethod),
            (fields["wheel.marking.factor"].choices, Factor),
            (fields["wheel.entered.source"].choices, Source),
            (fields["drive.kind"].choices, DriveKind),
            (fields["target.kind"].choices, TargetKind),
            (choices.sensors, SensorKind),
            (choices.encodings, EncodingCode),
            (choices.tests, Test),
            (fields["speedometer_rule"].choices, BandCode),
            (fields["sensed_at"].choices, SensedAt),
            (fields["wheel.speed_derived.basis"].choices, SpeedBasis),
        ]:
            with self.subTest(str(literal)[:40]):
                self.assertEqual(sorted(one.code for one in listed), sorted(get_args(literal)))
                labels = [one.label for one in listed]
                self.assertEqual(len(set(labels)), len(labels))
                self.assertTrue(all(labels))

    def test_every_start_is_a_installation_whose_sensor_sees_its_target(self) -> None:
        for start in catalogue().starts:
            changes: dict[str, Any] = {
                "vehicle_kind": start.vehicle_kind,
                "target__kind": start.target_kind,
                "sensor__kind": start.sensor_kind,
                "readouts__0__encoding": start.encoding,
                "wheel": {"method": "entered", "entered": {"circumference_mm": 2000}},
            }
            with self.subTest(start.vehicle_kind):
                result = evaluate(installation(CAR, **changes))
                self.assertNotIn("sensor.blind", [finding.code for finding in result.findings])

    def test_methods_are_offered_where_they_make_sense(self) -> None:
        offered = {
            kind.code: {one.code for one in catalogue().wheel_methods if kind.code in one.vehicle_kinds}
            for kind in fields_by_path()["vehicle_kind"].choices
        }
        self.assertEqual(offered["boat"], {"paddle", "entered"})
        self.assertNotIn("chart", offered["car"])
        self.assertIn("chart", offered["velomobile"])
        for kind, methods in offered.items():
            self.assertIn("entered", methods)
            self.assertEqual("roll_out" in methods, kind != "boat")

    def test_every_common_size_can_be_read_and_is_sorted_into_its_kind(self) -> None:
        groups = catalogue().common_sizes
        self.assertGreaterEqual(len(groups), 10)
        for group in groups:
            self.assertTrue(group.look.endswith("."))
            self.assertGreaterEqual(len(group.sizes), 4)
            for size in group.sizes:
                self.assertGreater(size.diameter_mm, 100)

    def test_every_link_can_be_proven_by_some_test(self) -> None:
        for stage in STAGES:
            able = [test.code for test in catalogue().tests if stage in test.proves]
            self.assertIn("road", able)
            self.assertIn("water", able)

    def test_every_purpose_says_where_to_sense_and_why(self) -> None:
        for purpose in catalogue().purposes:
            self.assertTrue(purpose.sense_at)
            self.assertTrue(purpose.why.endswith("."))


class Glossary(TestCase):
    def test_the_page_in_docs_is_fresh_and_every_term_has_one_line(self) -> None:
        """docs/glossary.md is `speedchain.glossary.as_markdown()`."""
        page = Path(__file__).resolve().parents[2] / "docs" / "glossary.md"
        self.assertEqual(page.read_text("utf-8"), as_markdown())
        terms = [one.term for one in TERMS]
        self.assertEqual(len(terms), len(set(terms)))
        for one in TERMS:
            self.assertNotIn("\n", one.meaning)
            self.assertTrue(one.meaning)
