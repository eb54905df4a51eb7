"""docs/installation.schema.json is what the model says, and the model agrees with it."""

import json
import re
from pathlib import Path
from unittest import TestCase

import jsonschema

from speedchain.document import fields_by_path
from speedchain.document.schema import installation_schema
from tests.installations import CAR, CYCLE, document

PUBLISHED = Path(__file__).parents[2] / "docs" / "installation.schema.json"


class Schema(TestCase):
    def test_the_published_schema_is_fresh(self) -> None:
        again = "run python -m devtools.generate"
        self.assertEqual(json.loads(PUBLISHED.read_text("utf-8")), installation_schema(), f"run: {again}")

    def test_a_general_purpose_validator_agrees(self) -> None:
        validator = jsonschema.Draft202012Validator(installation_schema())
        for base in (
            CAR,
            CYCLE,
            document(CAR, target__count="48"),
            document(CYCLE, readouts__0__current_setting="2.1 m"),
        ):
            validator.validate(base)
        self.assertFalse(validator.is_valid(document(CAR, colour="red")))
        self.assertFalse(validator.is_valid(document(CAR, version=3)))


SOURCES = Path(__file__).parents[2] / "frontend" / "src" / "places"


class Fields(TestCase):
    """What a front draws a field from."""

    def test_a_field_applies_by_one_of_its_own_part_that_can_be_so(self) -> None:
        schema = installation_schema()
        found = 0
        for definition in schema["$defs"].values():
            for name, field in definition.get("properties", {}).items():
                if (applies := field.get("x-applies")) is not None:
                    other = json.dumps(definition["properties"][applies["field"]])
                    values = other + json.dumps([schema["$defs"].get(key) for key in re.findall(r"defs/(\w+)", other)])
                    self.assertTrue(all(f'"{value}"' in values for value in applies["values"]), name)
                    found += 1
        self.assertGreater(found, 30)

    def test_a_field_says_what_it_takes_and_what_an_empty_one_means(self) -> None:
        fields = fields_by_path()
        tilt, series = fields["placement.tilt_deg"], fields["signal.conditioner.series"]
        self.assertEqual((tilt.unit, tilt.usual, tilt.step, tilt.nullable), ("°", "0", 0.5, False))
        self.assertEqual(
            (series.kind, series.usual, series.applies.values if series.applies else ()),
            ("choice", "E24", ("comparator",)),
        )
        self.assertEqual(fields["signal.lead.pull_up_ohm"].usual, "none")
        self.assertEqual(fields["readouts"].most, 8)
        self.assertEqual(
            (fields["wheel.roll_out.repeats_mm"].unit, fields["wheel.roll_out.repeats_mm"].most), ("mm", 11)
        )
        self.assertTrue(fields["target.ring.module_mm"].machine)
        self.assertTrue(fields["wheel.speed_derived.set_circumference_mm"].machine)
        self.assertFalse(fields["wheel.roll_out.distance_mm"].machine)

    def test_every_quantity_has_a_title_and_limits_and_every_choice_labels(self) -> None:
        for path, field in fields_by_path().items():
            with self.subTest(path):
                self.assertTrue(field.title)
                if field.unit:
                    self.assertIsNotNone(field.minimum)
                if field.kind in ("choice", "number_choice", "flag"):
                    labels = [choice.label for choice in field.choices]
                    self.assertEqual(len(set(labels)), len(labels))
                if field.applies:
                    other = fields_by_path()[f"{path.rpartition('.')[0]}.{field.applies.field}"]
                    self.assertLessEqual(set(field.applies.values), set(other.labels))

    def test_the_front_asks_for_fields_that_exist(self) -> None:
        fields = fields_by_path()
        asked = 0
        for file in SOURCES.rglob("*.tsx"):
            text = file.read_text("utf-8")
            for path in re.findall(r'<Entry(?:Cards)?\s[^>]*?path="([^"]+)"', text, re.S):
                asked += 1
                self.assertIn(re.sub(r"\.\d+", "", path), fields, file.name)
            for group, names in re.findall(r'<Entries\s+of="([^"]+)"\s+names=\{\[([^\]]*)\]\}', text, re.S):
                for name in re.findall(r'"([^"]+)"', names):
                    asked += 1
                    self.assertIn(f"{group}.{name}", fields, file.name)
        self.assertGreater(asked, 90)
