"""docs/installation.schema.json is what the model says, and the model agrees with it."""

import json
from pathlib import Path
from unittest import TestCase

import jsonschema

from speedchain.document.schema import installation_schema
from tests.installations import CAR, CYCLE, document

PUBLISHED = Path(__file__).parents[2] / "docs" / "installation.schema.json"


class Schema(TestCase):
    def test_the_published_schema_is_fresh(self) -> None:
        again = "python -m speedchain schema > docs/installation.schema.json"
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
