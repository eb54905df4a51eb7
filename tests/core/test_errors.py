"""Every way a document can be wrong is told in the words of the trade: field, limit, remedy."""

from __future__ import annotations

from typing import Any
from unittest import TestCase

from speedchain.document.installation import read_installation
from speedchain.fields.errors import DocumentError, InputError, Problem, SpeedchainError, show_value
from tests.installations import CAR, document


def problems(**changes: Any) -> dict[str, Problem]:
    try:
        read_installation(document(CAR, **changes))
    except DocumentError as error:
        return {problem.path: problem for problem in error.problems}
    return {}


class Translation(TestCase):
    def test_each_kind_of_mistake(self) -> None:
        for changes, path, word in [
            ({"wheel": 7}, "wheel", "group of fields"),
            ({"wheel": None}, "wheel", "group of fields"),
            ({"readouts": {}}, "readouts", "list"),
            ({"readouts": []}, "readouts", "at least one"),
            ({"readouts": [CAR["readouts"][0]] * 9}, "readouts", "at most 8"),
            ({"name": 7}, "name", "quotes"),
            ({"name": ""}, "name", "empty"),
            ({"notes": "x" * 2001}, "notes", "at most 2000"),
            ({"target__edges": 3}, "target.edges", "1 or 2"),
            ({"drive": {"driven": "perhaps"}}, "drive.driven", "true or false"),
            ({"drive__gears": 5}, "drive.gears", "spelling"),
            ({"wheel__verification": {"test": "road", "on": "yesterday"}}, "wheel.verification.on", ""),
            ({"readouts__0__step": 0}, "readouts.0.step", ""),
            ({"format": "other"}, "format", "wheelometron-installation"),
        ]:
            with self.subTest(str(changes)[:60]):
                found = problems(**changes)
                self.assertIn(path, found)
                problem = found[path]
                self.assertIn(word, f"{problem.message} {problem.remedy} {problem.limit}")
                self.assertTrue(problem.message.endswith("."))
                self.assertTrue(problem.remedy)

    def test_all_mistakes_at_once_and_none_twice(self) -> None:
        found = problems(name="", target__count=0, wheel__marking__text="x", readouts__0__current_setting="no")
        self.assertEqual(set(found), {"name", "target.count", "wheel.marking.text", "readouts.0.current_setting"})

    def test_a_list_is_not_called_short_when_its_item_was_refused(self) -> None:
        self.assertEqual(set(problems(readouts__0__current_setting="no")), {"readouts.0.current_setting"})

    def test_values_in_messages_stay_short_and_on_one_line(self) -> None:
        self.assertEqual(show_value("a\nb\tc"), "a b c")
        self.assertEqual(len(show_value("x" * 10**6)), 25)
        self.assertEqual(show_value(10**5000), "a number of thousands of digits")

    def test_one_family(self) -> None:
        for error in (
            InputError("Wrong."),
            DocumentError(Problem("a", "Wrong.")),
            SpeedchainError(Problem("", "Wrong.")),
        ):
            self.assertIsInstance(error, SpeedchainError)
            self.assertIsInstance(error, ValueError)
        self.assertEqual(
            str(DocumentError(Problem("a", "One."), Problem("b", "Two.", "Mend."))), "a: One.; b: Two. Mend."
        )


class Shared(TestCase):
    def test_what_a_cache_hands_out_cannot_be_changed_by_its_caller(self) -> None:
        from dataclasses import FrozenInstanceError

        from speedchain.placement import Placement
        from speedchain.placement.evaluate import evaluate_placement
        from speedchain.signal.ratio import best_ratio
        from speedchain.wheel.marking import parse_marking
        from tests.installations import CAR, installation

        car = installation(CAR, target__ring={"diameter_mm": 98}, placement={"air_gap_mm": 0.9})
        assert isinstance(car.placement, Placement)
        placed = evaluate_placement(car.target, car.sensor, car.placement)
        self.assertIs(placed, evaluate_placement(car.target, car.sensor, car.placement))
        for value, name in (
            (placed, "air_gap_mm"),
            (best_ratio(0.87, 100, 100), "numerator"),
            (parse_marking("28-622"), "rim_mm"),
        ):
            with self.subTest(type(value).__name__), self.assertRaises((FrozenInstanceError, AttributeError)):
                setattr(value, name, 1)
