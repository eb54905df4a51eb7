"""Settings and uncertainty against trade values, `pint`, `uncertainties` and Monte Carlo."""

import math
from unittest import TestCase

import numpy as np
import pint
from hypothesis import given
from hypothesis import strategies as st
from uncertainties import ufloat

from speedchain import Evaluation, evaluate
from speedchain.readout import ENCODINGS
from speedchain.readout.encodings import set_pulses_per_km, value_for
from speedchain.signal import frequency_hz
from tests.installations import CAR, CYCLE, installation

ureg = pint.UnitRegistry()
ROLL_OUT = {"method": "roll_out", "roll_out": {"turns": 2, "distance_mm": 3900, "tape_mm": 12, "mark_mm": 8}}
SHAFT = {"kind": "axle_ratio", "axle_ratio": {"ratio": 3.73, "basis": "label"}}


class TradeValues(TestCase):
    def test_three_magnets_without_a_setting(self) -> None:
        """1563 mm with 3 magnets and no pulses-per-turn setting → type 521; common practice."""
        wheel = {"method": "entered", "entered": {"circumference_mm": 1563}}
        result = evaluate(installation(CYCLE, wheel=wheel, target__count=3))
        self.assertEqual(result.readouts[0].to_type.value, 521)

    def test_pulses_per_100_m(self) -> None:
        """46 teeth on 0.612 m → 2392 pulses per 100 m; common practice (teeth/diameter_m × 31.83)."""
        result = set_pulses_per_km(ENCODINGS["teeth_and_diameter"], 46, 612)
        self.assertAlmostEqual(value_for(ENCODINGS["pulses_per_100_m"], 1, result), 2392, delta=1)

    def test_wrong_chart_row(self) -> None:
        """A 25 mm row (2105) for a 28 mm tyre (2136) reads 1.5 % low; common practice."""
        wheel = {"method": "entered", "entered": {"circumference_mm": 2136, "source": "chart"}}
        shown = evaluate(installation(CYCLE, wheel=wheel, readouts__0__current_setting=2105)).shown
        self.assertAlmostEqual(shown.error_pct, -1.5, places=1)

    def test_hertz_per_knot(self) -> None:
        """20 000 pulses per nautical mile are 5.556 Hz per knot; common practice."""
        self.assertAlmostEqual(frequency_hz(1.852, 20000 / 1.852), 5.556, places=3)

    def test_one_tooth_in_48(self) -> None:
        """One tooth wrong in 48 is 2.1 %; common practice."""
        right, wrong = evaluate(installation()), evaluate(installation(target__count=49))
        self.assertAlmostEqual(100 * (wrong.pulses_per_km / right.pulses_per_km - 1), 2.1, places=1)

    def test_three_turns_of_roll_out(self) -> None:
        """Three turns with a 2 mm tape is about 0.05 %; common practice."""
        wheel = {"method": "roll_out", "roll_out": {"turns": 3, "distance_mm": 6000}}
        self.assertAlmostEqual(
            evaluate(installation(wheel=wheel)).stages[0].relative_standard_uncertainty_pct, 0.05, delta=0.01
        )


class AgainstPint(TestCase):
    """Unit arithmetic done by `pint`, a general-purpose library, on the same physical statement."""

    @given(st.floats(200, 4000), st.integers(1, 200), st.floats(0.2, 10), st.floats(1, 300))
    def test_pulses_per_km_and_frequency(self, circumference: float, count: int, ratio: float, speed: float) -> None:
        run = ureg.Quantity(circumference, "mm") / (count * ratio)
        wheel = {"method": "entered", "entered": {"circumference_mm": circumference}}
        drive = {"kind": "axle_ratio", "axle_ratio": {"ratio": ratio}}
        result = evaluate(installation(wheel=wheel, drive=drive, target__count=count, check_speed_kmh=speed))
        self.assertTrue(math.isclose((1 / run).to("1/km").magnitude, result.pulses_per_km, rel_tol=1e-12))
        rate = (ureg.Quantity(speed, "km/h") / run).to("Hz").magnitude
        self.assertTrue(math.isclose(rate, result.frequency_hz, rel_tol=1e-12))
        self.assertTrue(math.isclose(run.to("m").magnitude, result.metres_per_pulse, rel_tol=1e-12))

    def test_both_edges_count_twice(self) -> None:
        self.assertAlmostEqual(
            evaluate(installation(target__edges=2)).pulses_per_km, 2 * evaluate(installation()).pulses_per_km
        )


class Uncertainty(TestCase):
    def evaluated(self, **changes: object) -> Evaluation:
        return evaluate(installation(CAR, wheel=ROLL_OUT, drive=SHAFT, readouts__0__current_setting=92000, **changes))

    def chain(self) -> tuple[float, float]:
        result = self.evaluated()
        return result.shown.shown_kmh, result.shown.expanded_uncertainty_kmh

    def inputs(self) -> dict[str, tuple[float, float]]:
        """The same statement, written out again by hand: value and standard uncertainty of each input."""
        return {
            "start": (0.0, 8.0),
            "end": (0.0, 8.0),
            "tape": (3900.0, 12.0),
            "ratio": (3.73, 0.005 * 3.73),
            "count": (48.0, 1 / math.sqrt(6)),
            "display": (0.0, 1 / math.sqrt(12)),
            "tick": (0.0, self.tick_pct() / math.sqrt(6)),
        }

    @staticmethod
    def tick_pct() -> float:
        """4 µs of the time of one pulse at 100 km/h, either way and most likely none (triangular) [%]."""
        return 100 * (100 / 3.6) / 1.95 * 48 * 3.73 * 4e-6

    def test_against_the_uncertainties_library(self) -> None:
        """First-order propagation by the general-purpose `uncertainties` package (JCGM 100)."""
        x = {name: ufloat(*pair) for name, pair in self.inputs().items()}
        circumference = (x["tape"] + x["end"] - x["start"]) / 2
        shown = 100 * (x["count"] * x["ratio"] * 1e6 / circumference) / 92000
        shown += x["display"] + x["tick"] * (shown.nominal_value / 100)
        result = self.evaluated().shown
        self.assertAlmostEqual(shown.nominal_value, result.shown_kmh, places=9)
        self.assertAlmostEqual(
            100 * shown.std_dev / result.shown_kmh, result.relative_standard_uncertainty_pct, places=6
        )

    def test_against_monte_carlo(self) -> None:
        """Propagation of distributions, JCGM 101:2008: 400 000 draws, seeded; agreement of u within 1 %."""
        rng = np.random.default_rng(20261124)
        n = 400_000
        x = self.inputs()
        distance = rng.normal(*x["tape"], n) + rng.normal(*x["end"], n) - rng.normal(*x["start"], n)
        ratio = rng.normal(*x["ratio"], n)
        count = rng.choice([47, 48, 49], n, p=[1 / 12, 10 / 12, 1 / 12])
        display = rng.uniform(-0.5, 0.5, n)
        shown = 100 * (count * ratio * 1e6 / (distance / 2)) / 92000
        tick = rng.triangular(-self.tick_pct(), 0, self.tick_pct(), n)
        shown = shown * (1 + tick / 100) + display
        value = self.evaluated().shown.shown_kmh
        self.assertAlmostEqual(float(shown.mean()) / value, 1, delta=2e-4)
        u_pct = self.evaluated().shown.relative_standard_uncertainty_pct
        self.assertAlmostEqual(100 * float(shown.std()) / value / u_pct, 1, delta=0.01)

    def test_the_expanded_interval_holds_about_95_percent(self) -> None:
        """k = 2 gives a level of about 95 % for a normal output (JCGM 100:2008, 6.3.3); whole teeth counted wrong 1 in
        6 times are covered as well, by ± one tooth."""
        rng = np.random.default_rng(7)
        x = self.inputs()
        n = 200_000
        shown = 100 * rng.choice([47, 48, 49], n, p=[1 / 12, 10 / 12, 1 / 12]) * rng.normal(*x["ratio"], n) * 1e6
        distance = rng.normal(*x["tape"], n) + rng.normal(*x["end"], n) - rng.normal(*x["start"], n)
        steps = rng.normal(0, 1 / math.sqrt(12), n) + rng.normal(0, self.tick_pct() / math.sqrt(6), n)
        shown = shown / (distance / 2) / 92000 * (1 + steps / 100)
        value, expanded = self.chain()
        inside = float(np.mean(np.abs(shown - value) < expanded))
        self.assertTrue(0.945 < inside < 0.975, inside)
