"""What is due when, against python-dateutil; forecasts against worked lines and NumPy's covariance."""

from __future__ import annotations

import calendar
import math
from datetime import date, timedelta
from unittest import TestCase

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st

from speedchain.fields import InputError, said
from speedchain.service import PART_KINDS, Due, Forecast, due_state, follow_ups, next_due, reached_on, wear_forecast
from speedchain.service.due import Reading
from speedchain.service.wear import Tread

TODAY = date(2026, 5, 2)


class Dues(TestCase):
    @given(st.dates(date(1990, 1, 1), date(2080, 12, 31)), st.integers(1, 240))
    @settings(max_examples=300)
    def test_months_later_is_the_same_day_or_the_last(self, day: date, months: int) -> None:
        """By `calendar` of the standard library."""
        years, month = divmod(day.month - 1 + months, 12)
        last = calendar.monthrange(day.year + years, month + 1)[1]
        again = next_due(Due(on=day, every_months=months), done_on=day, km=None, hours=None)
        assert again is not None
        self.assertEqual(again.on, date(day.year + years, month + 1, min(day.day, last)))

    def test_whichever_comes_first(self) -> None:
        due = Due(on=TODAY + timedelta(days=60), at_km=10_000)
        for km, state in ((5000.0, "later"), (9600.0, "soon"), (10_000.0, "overdue"), (None, "later")):
            self.assertEqual(due_state(due, today=TODAY, km=km, hours=None), state)
        self.assertEqual(due_state(due, today=TODAY + timedelta(days=61), km=0, hours=None), "overdue")
        soon = Forecast(on=TODAY + timedelta(days=5), within_days=3)
        self.assertEqual(due_state(Due(at_km=9000), today=TODAY, km=100, hours=None, forecast=soon), "soon")
        self.assertEqual(due_state(Due(at_hours=100), today=TODAY, km=None, hours=99), "soon")
        self.assertEqual(due_state(Due(), today=TODAY, km=None, hours=None), "later")

    def test_again_and_once(self) -> None:
        due = Due(on=TODAY, at_km=5000, every_months=12, every_km=5000)
        again = next_due(due, done_on=TODAY + timedelta(days=10), km=5200, hours=None)
        assert again is not None
        self.assertEqual((again.on, again.at_km, again.every_km), (date(2027, 5, 12), 10_200, 5000))
        self.assertIsNone(next_due(Due(on=TODAY), done_on=TODAY, km=None, hours=None))


class Forecasts(TestCase):
    def test_a_day_by_hand(self) -> None:
        """0, 400, 1000, 1300 km after 0, 10, 40, 50 days: 26 km a day; left over 140, −180, 40 km; s² = 140²/10 +
        180²/30 + 40²/10 over two degrees of freedom = 1600; 1300 km more in 50 days: u = √(1600·(50 + 50²/50))/26 =
        15.4 days; the factor of two degrees of freedom is 4.53 (JCGM 100, Table G.2): 69.6."""
        readings = [
            Reading(TODAY + timedelta(days=d), v) for d, v in ((0, 0.0), (10, 400.0), (40, 1000.0), (50, 1300.0))
        ]
        found = reached_on(readings, 2600)
        assert found is not None
        self.assertEqual(found.on, TODAY + timedelta(days=100))
        self.assertEqual(found.within_days, 70)

    def test_what_does_not_move_has_no_day(self) -> None:
        self.assertIsNone(reached_on([Reading(TODAY, 5.0)], 10))
        self.assertIsNone(reached_on([Reading(TODAY, 5.0), Reading(TODAY + timedelta(days=9), 5.0)], 10))

    def test_a_worked_wear_with_its_uncertainty(self) -> None:
        """8 mm new, 2 mm less after 10 000 km, 2000 mm round: 0.5 % are 1.592 mm of tread, 7958 km. Two readings of a
        gauge of 0.2 mm over a spread of 7071 km: u(w) = 2.83·10⁻⁵ mm/km, U = 2·7958·2.83·10⁻⁵/2·10⁻⁴ = 2251 km."""
        found = wear_forecast([Tread(0, 8), Tread(10_000, 6)], circumference_mm=2000, limit_pct=0.5)
        self.assertAlmostEqual(found.limit_km, 0.005 * 2000 / (2 * math.pi) / 2e-4)
        self.assertAlmostEqual(found.expanded_km, 2251, delta=1)
        self.assertIn("7958 km after the first reading, ± 2251 km", said(found.text))

    def test_its_curve_meets_the_limit_and_goes_through_the_readings(self) -> None:
        """C = 2000 mm: a tread of 1 mm less shows 100·2π/2000 = 0.314 % more."""
        found = wear_forecast([Tread(1000, 8), Tread(6000, 7), Tread(11_000, 6)], circumference_mm=2000, limit_pct=0.5)
        km, more, within = (
            np.array([getattr(point, name) for point in found.curve]) for name in ("km", "more_pct", "expanded_pct")
        )
        self.assertEqual(km[0], 1000)
        self.assertAlmostEqual(float(np.interp(0.5, more, km)), 1000 + found.limit_km)
        self.assertAlmostEqual(
            float(np.interp(1000 + found.limit_km, km, within)), 0.5 * found.expanded_km / found.limit_km
        )
        for reading, expected in zip(found.readings, (0, 0.314159, 0.628319), strict=True):
            self.assertAlmostEqual(reading.more_pct, expected, places=6)
        self.assertGreaterEqual(km[-1], 11_000)

    def test_its_uncertainty_holds_the_truth(self) -> None:
        random = np.random.default_rng(3)
        held = 0
        for _ in range(200):
            wear = float(random.uniform(1e-4, 4e-4))
            km = np.linspace(0, 15_000, int(random.integers(2, 7)))
            depth = 8 - wear * km + random.normal(0, 0.2, km.size)
            readings = [Tread(float(a), float(b)) for a, b in zip(km, depth, strict=True)]
            found = wear_forecast(readings, circumference_mm=1900, limit_pct=0.5)
            true = 0.005 * 1900 / (2 * math.pi) / wear
            held += abs(found.limit_km - true) < found.expanded_km
        self.assertGreaterEqual(held, 184)
        self.assertLess(held, 200)

    def test_what_says_nothing_of_wear_is_refused(self) -> None:
        for readings in ([Tread(0, 8)], [Tread(0, 8), Tread(0, 7)], [Tread(0, 6), Tread(5000, 7)]):
            with self.assertRaises(InputError) as caught:
                wear_forecast(readings, circumference_mm=2000, limit_pct=1)
            self.assertEqual(caught.exception.problems[0].path, "readings")


class FollowUps(TestCase):
    """Intervals are common practice; the last day of February by hand."""

    def test_a_battery_is_due_by_the_calendar_and_sooner_on_the_water(self) -> None:
        on = date(2024, 2, 29)
        for afloat, months, day in ((False, 24, date(2026, 2, 28)), (True, 12, date(2025, 2, 28))):
            found, read_back = follow_ups("battery", on, afloat=afloat)
            self.assertEqual(found.due.on, day)
            self.assertEqual((read_back.due.on, "read the setting" in read_back.text), (on, True))
            self.assertEqual(found.due.every_months, months)

    def test_what_changes_the_count_is_due_at_once(self) -> None:
        for kind in ("ring", "wheel", "display", "converter", "battery", "brake"):
            self.assertEqual(min(item.due.on for item in follow_ups(kind, date(2026, 5, 1))), date(2026, 5, 1))
        self.assertEqual(follow_ups("other", date(2026, 5, 1)), ())
        self.assertEqual(len({kind.code for kind in PART_KINDS}), 12)
