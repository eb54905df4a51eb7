"""The installation document: what it refuses and where it says so."""

import json
from typing import Any
from unittest import TestCase

from hypothesis import given, settings
from hypothesis import strategies as st

from speedchain import (
    DocumentError,
    SpeedchainError,
    evaluate,
    read_installation,
    read_installation_json,
    write_installation_json,
)
from tests.installations import CAR, CYCLE, document, installation


class Refusals(TestCase):
    def problem(self, path: str, base: dict[str, Any] = CAR, **changes: Any) -> Any:
        with self.assertRaises(DocumentError) as caught:
            read_installation(document(base, **changes))
        found = {problem.path: problem for problem in caught.exception.problems}
        self.assertIn(path, found)
        return found[path]

    def test_the_field_is_named(self) -> None:
        self.assertIn("1 to 1000", self.problem("target.count", target__count=1001).limit)
        self.assertIn("whole", self.problem("target.count", target__count=47.5).message)
        self.assertIn("accept", self.problem("wheel.marking.text", wheel__marking__text="round").remedy + "accept")
        self.assertIn("205/55R16", self.problem("wheel.marking.text", wheel__marking__text="round").remedy)
        self.assertIn("missing", self.problem("wheel.roll_out", wheel__method="roll_out").message)
        self.assertIn("missing", self.problem("drive.axle_ratio", drive={"kind": "axle_ratio"}).message)
        self.assertIn("choices", self.problem("purpose", purpose="fun").message)
        self.assertIn("no such field", self.problem("colour", colour="red").message)
        self.assertIn("not be empty", self.problem("name", name="  ").message)
        self.assertIn("too long", self.problem("name", name="x" * 81).message)
        self.assertIn("1.0", self.problem("version", version=3).message + "1.0")
        self.assertIn("10 to 6000", self.typed_diameter("61.2 m").limit)

    def typed_diameter(self, text: str) -> Any:
        return self.problem(
            "wheel.taped_diameter.diameter_mm",
            wheel={"method": "taped_diameter", "taped_diameter": {"diameter_mm": text}},
        )

    def test_a_roll_out_in_the_wrong_unit(self) -> None:
        wheel = {"method": "roll_out", "roll_out": {"turns": 300, "distance_mm": "6.2 m"}}
        self.assertIn("per turn", self.problem("wheel.roll_out.distance_mm", wheel=wheel).message)

    def test_a_test_that_proves_nothing_here(self) -> None:
        verification = {"test": "spin", "on": "2026-05-01"}
        self.assertIn(
            "cannot verify the wheel", self.problem("wheel.verification.test", wheel__verification=verification).message
        )

    def test_a_reader_range_the_wrong_way_round(self) -> None:
        readout = {"name": "Dash", "encoding": "circumference_mm", "minimum": 3000, "maximum": 500}
        self.assertIn("range", self.problem("readouts.0.maximum", readouts=[readout]).message)

    def test_json_that_is_none(self) -> None:
        for text in ("", "{", "[1", "\x00", '{"name": NaN}', b"\xff\xfe", "[" * 100_000, '{"a":' + "9" * 5000 + "}"):
            with self.subTest(text[:9]), self.assertRaises(DocumentError):
                read_installation_json(text)


class RoundTrips(TestCase):
    def test_what_is_written_is_read_back_the_same(self) -> None:
        for base in (CAR, CYCLE):
            original = installation(base)
            self.assertEqual(read_installation_json(write_installation_json(original)), original)

    def test_text_with_units_becomes_the_number(self) -> None:
        wheel = {"method": "entered", "entered": {"circumference_mm": "2.105 m"}}
        read = installation(CYCLE, wheel=wheel, readouts__0__current_setting="210.5 cm", check_speed_kmh="20 mph")
        self.assertEqual(read.wheel.entered.circumference_mm, 2105)
        self.assertEqual(read.readouts[0].current_setting, 2105)
        self.assertAlmostEqual(read.check_speed_kmh, 32.18688)


json_values = st.recursive(
    st.none() | st.booleans() | st.floats() | st.integers() | st.text(max_size=12),
    lambda inner: st.lists(inner, max_size=3) | st.dictionaries(st.text(max_size=8), inner, max_size=3),
    max_leaves=8,
)
paths = st.sampled_from(
    ["wheel", "wheel__marking__text", "wheel__method", "target__count", "target__edges", "drive", "sensor__kind"]
    + [
        "readouts",
        "readouts__0__current_setting",
        "readouts__0__encoding",
        "readouts__0__step",
        "check_speed_kmh",
        "signal",
    ]
)


class Properties(TestCase):
    @settings(max_examples=300)
    @given(paths, json_values)
    def test_no_input_raises_anything_but_its_own_errors(self, path: str, value: Any) -> None:
        try:
            result = evaluate(read_installation(document(CAR, **{path: value})))
        except SpeedchainError as error:
            self.assertTrue(all(problem.message for problem in error.problems))
        else:
            json.dumps([stage.value for stage in result.stages], allow_nan=False)

    @given(json_values)
    def test_any_document_at_all(self, value: Any) -> None:
        with self.assertRaises(SpeedchainError):
            read_installation(value)
