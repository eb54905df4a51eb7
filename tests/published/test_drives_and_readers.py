"""Drives, readers and the law against standards, brute force, kinematics and event simulation."""

from __future__ import annotations

import math
from unittest import TestCase

import numpy as np
from hypothesis import given
from hypothesis import strategies as st

from speedchain import evaluate
from speedchain.drive.gears import cable_turns_per_km, driven_gears
from speedchain.drive.model import Cable
from speedchain.drive.ratio import shaft_turns
from speedchain.readout.encodings import ENCODINGS, value_for
from speedchain.readout.table import speed_from_table
from speedchain.readout.timing import gate_resolution_kmh, lowest_by_time_out_kmh, period_resolution_kmh
from speedchain.regulations.speedometer import BANDS
from speedchain.vehicle.sheet import SheetSettings, wheel_speeds_in_turn_kmh
from speedchain.views.over_speed import over_speed
from tests.installations import installation


class SaeJ678(TestCase):
    """SAE J678: speedometer take-offs turn 1000 times a mile, 1000 rpm at 60 mph; value from memory."""

    def test_a_thousand_turns_a_mile_is_a_thousand_rpm_at_sixty(self) -> None:
        per_km = 1000 / 1.609344
        self.assertAlmostEqual(per_km * 60 * 1.609344 / 60, 1000)
        self.assertAlmostEqual(value_for(ENCODINGS["turns_per_mile"], 1, per_km), 1000)

    @given(
        st.floats(1200, 2600), st.floats(2, 6), st.integers(5, 30), st.integers(500, 1500),
        st.integers(8, 20), st.integers(1, 25),
    )  # fmt: skip
    def test_the_driven_gear_by_brute_force(
        self, mm: float, ratio: float, drive: int, wanted: int, least: int, more: int
    ) -> None:
        """Every gear that can be had is counted out over a mile of road; none is nearer than the one advised."""
        cable = Cable(
            axle_ratio=ratio, drive_teeth=drive, driven_teeth=least, min_driven_teeth=least,
            max_driven_teeth=least + more, wanted_turns=wanted,
        )  # fmt: skip
        best = next(gear for gear in driven_gears(cable, mm) if gear.best)
        turns = {t: 1_609_344 / mm * ratio * drive / t for t in range(least, least + more + 1)}
        self.assertAlmostEqual(abs(turns[best.teeth] - wanted), min(abs(n - wanted) for n in turns.values()))
        self.assertAlmostEqual(best.turns_per_mile, turns[best.teeth])

    def test_a_worked_cable_drive(self) -> None:
        """k = w turns a km stamped on the dial; 2 m wheel, axle 3.5, 8 on 20 teeth gives 700; common practice."""
        self.assertAlmostEqual(cable_turns_per_km(2000, 3.5, 8, 20), 700)


class Differential(TestCase):
    """Kinematics of a bevel differential, solved as linear equations by `numpy`: the textbook statement."""

    @given(st.floats(2, 6), st.floats(-50, 50), st.floats(-50, 50))
    def test_shaft_from_the_gear_train(self, ratio: float, left: float, right: float) -> None:
        """Unknown: carrier, spider, shaft. left = carrier + spider; right = carrier − spider; shaft = ratio·carrier."""
        equations = np.array([[1, 1, 0], [1, -1, 0], [-ratio, 0, 1]])
        carrier, _, shaft = np.linalg.solve(equations, [left, right, 0])
        self.assertAlmostEqual(shaft_turns(ratio, left, right), shaft)
        self.assertAlmostEqual(carrier, (left + right) / 2)

    def test_one_wheel_held(self) -> None:
        """The shaft turns half as much for the wheel that is free; common practice."""
        self.assertEqual(shaft_turns(4.1, 1, 0) / shaft_turns(4.1, 1, 1), 0.5)

    def test_a_turn_is_outside_half_the_track(self) -> None:
        self.assertEqual(SheetSettings(track_mm=1500, radius_m=0.75).radius_m, 0.75)
        with self.assertRaisesRegex(ValueError, "roll backwards"):
            SheetSettings(track_mm=1500, radius_m=0.74)

    @given(st.floats(5, 60), st.floats(100, 2500), st.floats(3, 500))
    def test_wheels_in_a_turn_by_arcs(self, speed: float, track: float, radius: float) -> None:
        """Arc lengths of concentric circles over the same angle."""
        inner, outer = wheel_speeds_in_turn_kmh(speed, track, radius)
        angle = 0.3
        arcs = [angle * (radius + side * track / 2000) for side in (-1, 0, 1)]
        self.assertAlmostEqual(inner, speed * arcs[0] / arcs[1])
        self.assertAlmostEqual(outer, speed * arcs[2] / arcs[1])


class Readers(TestCase):
    def test_the_table_against_numpy(self) -> None:
        """`numpy.interp` between the points."""
        hz, kmh = [0.0, 83.0, 410.0, 980.0], [0.0, 20.0, 90.0, 200.0]
        for at in np.linspace(0, 980, 57):
            self.assertAlmostEqual(speed_from_table(float(at), hz, kmh), float(np.interp(at, hz, kmh)))

    def test_counting_in_a_gate_against_an_event_simulation(self) -> None:
        """Pulses laid out on the time axis and counted: neighbouring counts are one resolution apart."""
        ppk, gate = 24_000.0, 0.5
        seen = set()
        for speed in np.linspace(99, 101, 400):
            pulses = np.arange(0.123, 1000, 3600 / (speed * ppk))
            seen.add(int(np.count_nonzero((pulses >= 10) & (pulses < 10 + gate))))
        steps = np.diff(sorted(seen)) * 3600 / (ppk * gate)
        self.assertTrue(np.all(steps > 0))
        self.assertAlmostEqual(float(steps.min()), gate_resolution_kmh(ppk, gate))

    def test_one_pulse_moves_what_is_shown_by_the_set_number(self) -> None:
        """24 000 pulses per km arrive, 12 000 are set: a display that counts shows twice the speed, in steps twice as
        wide."""
        shown = evaluate(
            installation(
                readouts__0__current_setting=12_000,
                readouts__0__timing={"method": "gate"},
                readouts__0__display_step_kmh=0.1,
            )
        )
        outcome = shown.readouts[0]
        self.assertAlmostEqual(outcome.timing.resolution_kmh, 3600 / (12_000 * 0.5))
        coarse = evaluate(installation(readouts__0__current_setting=12_000, readouts__0__timing={"method": "gate"}))
        self.assertEqual(coarse.readouts[0].timing.resolution_kmh, 1.0)  # a step of the display hides what is finer
        self.assertAlmostEqual(
            outcome.timing.min_speed_kmh, 3600 / (outcome.delivered_per_km * 0.5)
        )  # of the true speed

    def test_timing_pulses_against_a_timer_that_ticks(self) -> None:
        """A counter of whole ticks: one tick more or less moves the shown speed by the stated resolution."""
        speed, ppk, tick = 100.0, 24_000.0, 4e-6
        ticks = round(3600 / (speed * ppk) / tick)
        shown = [3600 / (ppk * n * tick) for n in (ticks, ticks + 1)]
        self.assertAlmostEqual((shown[0] - shown[1]) / period_resolution_kmh(speed, ppk, 4.0), 1, delta=0.01)

    def test_the_time_out_against_the_gap_between_pulses(self) -> None:
        for speed in (3.5, 3.7):
            gap = 2.0 / (speed / 3.6)
            self.assertEqual(gap < 2.0, speed > lowest_by_time_out_kmh(500, 2.0))

    def test_paddle(self) -> None:
        """20 000 pulses per nautical mile are 5.556 Hz per knot, said as 5.6; common practice."""
        self.assertAlmostEqual(value_for(ENCODINGS["hz_per_knot"], 1, 20_000 / 1.852), 5.556, places=3)

    def test_pulses_per_100_m_from_teeth_over_diameter(self) -> None:
        """teeth/diameter_m × 31.83; common practice."""
        ppk = 46 * 1e6 / (math.pi * 612)
        self.assertAlmostEqual(value_for(ENCODINGS["pulses_per_100_m"], 1, ppk), 46 / 0.612 * 31.83, delta=0.2)


class Law(TestCase):
    def test_un_regulation_39_worked_values(self) -> None:
        """0 ≤ V1 − V2 ≤ V2/10 + 4 at the test speeds 40, 80 and 120 km/h; value from memory."""
        for true, most in ((40, 48), (80, 92), (120, 136)):
            self.assertEqual(BANDS["un_r39"].allowed_kmh(true), (true, most))
        self.assertEqual(BANDS["un_r39_cars_made"].allowed_kmh(80)[1], 94)
        self.assertEqual(BANDS["un_r39_motorcycles_made"].allowed_kmh(80)[1], 96)

    def test_49_cfr_393_82(self) -> None:
        """± 5 mph at 50 mph; value from memory."""
        low, high = BANDS["us_393_82"].allowed_kmh(50 * 1.609344)
        self.assertAlmostEqual(low / 1.609344, 45)
        self.assertAlmostEqual(high / 1.609344, 55)
        for number, inside in ((1.09, True), (1.11, False), (0.91, True), (0.89, False)):
            lorry = installation(
                speedometer_rule="us_393_82", target__basis="counted", readouts__0__current_setting=24905.4 / number
            )
            self.assertEqual(over_speed(lorry, evaluate(lorry)).leaves == [], inside, number)

    def test_every_number_offered_is_inside_at_every_speed(self) -> None:
        for typed in (20_000, 23_000, 24_905, 26_000, 40_000):
            car = installation(target__basis="counted", readouts__0__current_setting=typed)
            for number in over_speed(car, evaluate(car)).numbers:
                corrected = installation(target__basis="counted", readouts__0__current_setting=float(number.text))
                result = over_speed(corrected, evaluate(corrected))
                self.assertEqual(result.leaves, [])
                self.assertEqual(result.may_leave == [], number.surely)
