"""Typed quantities: what is read, what is refused, and with which words."""

import math
import re
from typing import Annotated, get_origin
from unittest import TestCase

from hypothesis import given
from hypothesis import strategies as st

from speedchain.catalogue import catalogue
from speedchain.fields import quantities as q
from speedchain.fields import said, speeds_in
from speedchain.fields.errors import InputError, SpeedchainError
from speedchain.fields.parser import parse_count, parse_quantity
from speedchain.fields.quantities import quantity_of
from tests.installations import CAR, installation

CIRCUMFERENCE, COUNT, DIAMETER, RATIO, READING, SPEED = map(
    quantity_of, (q.Circumference, q.Count, q.Diameter, q.Ratio, q.Reading, q.Speed)
)
KINDS = [quantity_of(one) for one in vars(q).values() if get_origin(one) is Annotated]
KINDS += [one for one in vars(q).values() if isinstance(one, q.QuantityKind)]


class Reading(TestCase):
    def test_what_people_write_is_read(self) -> None:
        for kind, text, expected in [
            (DIAMETER, "660", 660),
            (DIAMETER, " 660 mm ", 660),
            (DIAMETER, "29.5in", 749.3),
            (DIAMETER, '26"', 660.4),
            (DIAMETER, "26″", 660.4),
            (DIAMETER, "2ft", 609.6),
            (DIAMETER, "2'", 609.6),
            (DIAMETER, '26 7/8"', 682.625),
            (DIAMETER, "0,66 m", 660),
            (DIAMETER, "66 cm", 660),
            (DIAMETER, "660\u00a0mm", 660),
            (DIAMETER, "+660", 660),
            (DIAMETER, "26+7/8 in", 682.625),
            (CIRCUMFERENCE, "660*3.14", 2072.4),
            (CIRCUMFERENCE, "660,5 × 3,14", 2073.97),
            (CIRCUMFERENCE, "(2100 - 12)/2", 1044),
            (CIRCUMFERENCE, "2*41 in", 2082.8),
            (CIRCUMFERENCE, "2.1 m", 2100),
            (CIRCUMFERENCE, "2 105", 2105),
            (CIRCUMFERENCE, "2\u202f105\u202fmm", 2105),
            (CIRCUMFERENCE, "2.105e3", 2105),
            (READING, "1/16 in", 1.5875),
            (RATIO, "41/11", 41 / 11),
            (SPEED, "60 mph", 96.56064),
            (SPEED, "10 kn", 18.52),
            (SPEED, "100kmh", 100),
            (SPEED, "30 m/s", 108),
            (COUNT, "48", 48),
        ]:
            with self.subTest(text):
                self.assertAlmostEqual(parse_quantity(kind, text), expected, places=9)

    def test_a_count_is_an_int(self) -> None:
        self.assertIs(type(parse_count(COUNT, "48.0")), int)


class Examples(TestCase):
    def test_every_example_is_taken_whatever_units_a_person_reads(self) -> None:
        """A page adds the reader's unit to a bare number: 2105 would be 2105 inches there."""
        kinds = KINDS
        self.assertGreater(len(kinds), 80)
        for unit, lengths in (("km/h", "mm"), ("mph", "in"), ("mph", "mm"), ("kn", "mm")):
            own = {"km/h": unit, "mm": lengths}
            with speeds_in(unit, lengths):
                for kind in kinds:
                    for example in said(kind.examples).split(", "):
                        mine = "" if kind.name in q.OF_MACHINES else own.get(kind.unit, "")
                        typed = f"{example} {mine}" if re.fullmatch(r"[\d.,]+", example) else example
                        value = parse_quantity(kind, typed)
                        self.assertTrue(kind.minimum <= value <= kind.maximum, f"{kind.name}: {typed}")

    def test_a_number_of_a_machine_keeps_its_unit(self) -> None:
        with speeds_in("mph"):
            self.assertEqual(said(q.SET_CIRCUMFERENCE.limit), "1 to 100000 mm")
            self.assertEqual(said(q.SET_CIRCUMFERENCE.examples), "2105 mm, 2.105 m")
            self.assertEqual(said(quantity_of(q.Track).limit), "1.97 to 196.9 in")


class Refusing(TestCase):
    def refused(self, kind: object, value: object, *words: str) -> None:
        with self.subTest(str(type(value))), self.assertRaises(InputError) as caught:
            parse_quantity(kind, value)  # type: ignore[arg-type]
        problem = caught.exception.problems[0]
        for word in words:
            self.assertIn(word, f"{problem.message} {problem.limit}")
        self.assertTrue(problem.remedy, "no remedy")
        self.assertLess(len(problem.message), 200)

    def test_nonsense_names_limit_and_remedy(self) -> None:
        self.refused(DIAMETER, "61.2 m", "61.2 m", "Diameter must be 10 to 6000 mm")
        self.refused(DIAMETER, 0, "10 to 6000 mm")
        self.refused(DIAMETER, "-660", "10 to 6000 mm")
        self.refused(DIAMETER, math.nan, "finite")
        self.refused(DIAMETER, math.inf, "finite")
        self.refused(DIAMETER, 10**400, "finite")
        self.refused(COUNT, 10**5000, "finite")
        self.refused(DIAMETER, "1e400", "finite")
        self.refused(COUNT, 1001, "1 to 1000")
        self.refused(COUNT, "48.5", "whole")
        self.refused(COUNT, "48 mm", "without a unit")
        self.refused(DIAMETER, "wide", "not a valid diameter")
        self.refused(DIAMETER, "", "empty")
        self.refused(DIAMETER, "\u00a0", "empty")
        self.refused(DIAMETER, "660 V", "not a unit of diameter")
        self.refused(DIAMETER, "660 parrots", "not a unit of diameter")
        self.refused(DIAMETER, "1/0", "zero")
        self.refused(DIAMETER, True, "number")
        self.refused(DIAMETER, [660], "number")
        self.refused(DIAMETER, "9" * 1_000_000, "1000000 characters")

    def test_an_ambiguous_comma_is_not_guessed(self) -> None:
        self.refused(CIRCUMFERENCE, "2,105", "2.105", "2105")

    def test_arithmetic_is_not_run(self) -> None:
        self.refused(DIAMETER, "9**9**9", "Diameter")
        self.refused(DIAMETER, "__import__('os')", "not a valid diameter")


class Properties(TestCase):
    @given(st.one_of(st.text(max_size=80), st.floats(), st.integers(), st.booleans(), st.none(), st.binary()))
    def test_nothing_but_its_own_errors(self, value: object) -> None:
        for kind in (DIAMETER, COUNT, SPEED, RATIO):
            try:
                number = parse_quantity(kind, value)
            except SpeedchainError:
                continue
            self.assertTrue(kind.minimum <= number <= kind.maximum)

    @given(
        st.floats(10, 6000), st.sampled_from([("mm", 1.0), ("in", 25.4), ("m", 1000.0), ("ft", 304.8), ("cm", 10.0)])
    )
    def test_unit_round_trips(self, millimetres: float, unit: tuple[str, float]) -> None:
        name, size = unit
        text = f"{millimetres / size:.15g} {name}"
        try:
            self.assertTrue(math.isclose(parse_quantity(DIAMETER, text), millimetres, rel_tol=1e-11))
        except InputError:  # the division can land a last bit outside the limits
            self.assertTrue(millimetres < 10.0001 or millimetres > 5999.99)


class KindsOfTheMeasuring(TestCase):
    def test_what_people_write_for_each(self) -> None:
        for kind, text, value in [
            (quantity_of(q.Pressure), "32 psi", 2.206),
            (quantity_of(q.Pressure), "220 kPa", 2.2),
            (quantity_of(q.Tread), "8/32in", 6.35),
            (quantity_of(q.Track), "4 ft", 1219.2),
            (quantity_of(q.Radius), "20 ft", 6.096),
            (quantity_of(q.DistanceKm), "1 mile", 1.609344),
            (quantity_of(q.DistanceKm), "500 m", 0.5),
            (quantity_of(q.Time), "1 min", 60),
            (quantity_of(q.Gate), "250 ms", 0.25),
            (quantity_of(q.Tick), "1 ms", 1000),
            (quantity_of(q.Frequency), "1.2 kHz", 1200),
            (quantity_of(q.Correction), "−2,5 %", -2.5),
            (quantity_of(q.ShaftTurns), "37 3/10", 37.3),
            (quantity_of(q.HeightOfAxle), "12 in", 304.8),
            (quantity_of(q.PulsesPerNauticalMile), "20 000", 20000),
        ]:
            with self.subTest(text):
                self.assertAlmostEqual(parse_quantity(kind, text), value, places=3)

    def test_a_unit_of_another_kind_is_refused_by_name(self) -> None:
        for kind, text in [
            (quantity_of(q.Pressure), "2.2 mm"),
            (quantity_of(q.Time), "3 km"),
            (quantity_of(q.Frequency), "50 km/h"),
            (quantity_of(q.Radius), "6 s"),
            (quantity_of(q.Correction), "2 mm"),
            (quantity_of(q.ShaftTurns), "37 turns"),
        ]:
            with self.subTest(text), self.assertRaises(InputError) as caught:
                parse_quantity(kind, text)
            self.assertIn(kind.name, caught.exception.problems[0].message.lower())

    def test_every_kind_says_its_limit_and_an_example_that_is_read(self) -> None:
        kinds = KINDS
        self.assertGreater(len(kinds), 30)
        for kind in kinds:
            with self.subTest(kind.name):
                self.assertIn(f"{kind.minimum:g} to {kind.maximum:g}", kind.limit)
                for example in kind.example.split(", "):
                    parse_quantity(kind, example)
                for outside in (kind.minimum - 1, kind.maximum * 1.01 + 1):
                    with self.assertRaises(InputError):
                        parse_quantity(kind, outside)


class Limits(TestCase):
    def test_both_ends_of_every_limit_are_taken_as_they_are_shown(self) -> None:
        """500 mm are 19.685 in: "19.7 in", as the limit is shown, is 500 mm, and 19.8 in is refused."""
        kinds = [kind for kind in KINDS if kind.unit in q.IN_OTHER_UNITS]
        seen = 0
        for speed, length in (("mph", "in"), ("mph", "mm"), ("kn", "mm"), ("kn", "in")):
            with speeds_in(speed, length):  # type: ignore[arg-type]
                for kind in kinds:
                    low, high, unit = re.findall(r"^(\S+) to (\S+) (\S+)", said(kind.limit))[0]
                    for end, bound in ((low, kind.minimum), (high, kind.maximum)):
                        value = parse_quantity(kind, f"{end.replace('−', '-')} {unit}")
                        self.assertAlmostEqual(value, bound, delta=0.005 * abs(bound))
                        seen += 1
        self.assertGreater(seen, 200)
        for kind, text in ((READING, "19.8 in"), (READING, "500.1 mm"), (SPEED, "630 mph"), (SPEED, "0.3 mph")):
            with self.assertRaises(InputError):
                parse_quantity(kind, text)


class Starts(TestCase):
    def test_a_new_installation_starts_at_round_numbers_of_ones_own_unit(self) -> None:
        """60 mph and 1 mph are 96.56 and 1.609 km/h (1 mile = 1.609344 km, exact), never 62.1371; on the water
        knots."""
        starts = {item.vehicle_kind: item for item in catalogue().starts}
        for kind, check, check_mph, step_mph in (
            ("car", "100", "60 mph", "1 mph"),
            ("bicycle", "25", "15 mph", "1 mph"),
            ("boat", "10 kn", "10 kn", "0.1 kn"),
        ):
            found = starts[kind]
            self.assertEqual(
                (found.check_speed, found.check_speed_mph, found.display_step_mph), (check, check_mph, step_mph)
            )
        known = installation(CAR, check_speed_kmh=starts["car"].check_speed_mph)
        self.assertAlmostEqual(known.check_speed_kmh, 60 * 1.609344)
