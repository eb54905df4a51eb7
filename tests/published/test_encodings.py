"""Every way of typing the setting in against `pint`, a general-purpose library of units, on the same physical
statement."""

from __future__ import annotations

import math
from unittest import TestCase

import numpy as np
import pint
from hypothesis import given
from hypothesis import strategies as st

from speedchain import evaluate
from speedchain.readout.encodings import ENCODINGS, set_pulses_per_km, value_for
from speedchain.views.over_speed import over_speed
from tests.installations import CYCLE, implied, installation

ureg = pint.UnitRegistry()


def quantity(value: float, unit: str) -> pint.Quantity:
    return ureg.Quantity(value, unit)


def expected(run_mm: float, teeth: int, ratio: float) -> dict[str, float]:
    """The number of each way for a wheel that runs `run_mm` a turn with `teeth`·`ratio` pulses a turn, by `pint`."""
    run = quantity(run_mm, "mm")
    per_pulse = run / (teeth * ratio)
    per_length = 1 / per_pulse
    diameter = run / math.pi
    speed = quantity(1, "km/h")
    return {
        "circumference_mm": run.to("mm").magnitude,
        "circumference_cm": run.to("cm").magnitude,
        "circumference_in": run.to("inch").magnitude,
        "pulses_per_km": per_length.to("1/km").magnitude,
        "pulses_per_mile": per_length.to("1/mile").magnitude,
        "pulses_per_100_m": (per_length * quantity(100, "m")).to("").magnitude,
        "pulses_per_nautical_mile": per_length.to("1/nautical_mile").magnitude,
        "metres_per_pulse": per_pulse.to("m").magnitude,
        "mm_per_pulse": per_pulse.to("mm").magnitude,
        "hz_per_kmh": (speed * per_length).to("Hz").magnitude,
        "kmh_per_hz": (quantity(1, "Hz") * per_pulse).to("km/h").magnitude,
        "hz_per_knot": (quantity(1, "knot") * per_length).to("Hz").magnitude,
        "teeth_and_diameter": diameter.to("mm").magnitude,
        "teeth_and_diameter_in": diameter.to("inch").magnitude,
        "turns_per_km": (1 / run).to("1/km").magnitude,
        "turns_per_mile": (1 / run).to("1/mile").magnitude,
    }


class AgainstPint(TestCase):
    @given(st.floats(200, 6000), st.integers(1, 200), st.floats(0.2, 10))
    def test_every_number_is_the_physical_statement(self, run_mm: float, teeth: int, ratio: float) -> None:
        pulses_per_km = 1e6 / run_mm * teeth * ratio
        for code, number in expected(run_mm, teeth, ratio).items():
            encoding = ENCODINGS[code]
            result = (teeth * ratio if encoding.per_turn else 1.0) if not encoding.geared else teeth * ratio
            self.assertTrue(math.isclose(value_for(encoding, result, pulses_per_km), number, rel_tol=1e-9), code)
            self.assertTrue(
                math.isclose(set_pulses_per_km(encoding, result, number), pulses_per_km, rel_tol=1e-9), code
            )

    def test_no_way_is_left_out(self) -> None:
        """Tables, codes and percentages have checks of their own (test_drives_and_readers, tests/core)."""
        self.assertEqual(
            set(ENCODINGS) - set(expected(2000, 1, 1)), {"percent_correction", "frequency_table", "chart_code"}
        )

    def test_the_other_system_of_units_beside_the_number(self) -> None:
        units = {"in": "inch", "mm": "mm", "pulses per mile": "1/mile", "pulses per km": "1/km",
                 "turns per mile": "1/mile", "turns per km": "1/km"}  # fmt: skip
        own = {
            "circumference_mm": "mm", "circumference_cm": "cm", "circumference_in": "inch", "pulses_per_km": "1/km",
            "pulses_per_mile": "1/mile", "pulses_per_nautical_mile": "1/nautical_mile", "metres_per_pulse": "m",
            "mm_per_pulse": "mm", "teeth_and_diameter": "mm", "teeth_and_diameter_in": "inch",
            "turns_per_km": "1/km", "turns_per_mile": "1/mile",
        }  # fmt: skip
        for code, unit in own.items():
            also = ENCODINGS[code].also
            assert also is not None
            with self.subTest(code):
                self.assertAlmostEqual(quantity(1, unit).to(units[also[0]]).magnitude / also[1], 1, places=12)


class PercentByHand(TestCase):
    def test_a_display_that_reads_three_percent_low_is_corrected_by_three_percent(self) -> None:
        """Common practice: shown 97 at 100 true needs +3.09 %, for 97 × 1.0309 = 100."""
        result = value_for(ENCODINGS["percent_correction"], 1000 / 0.97, 1000.0)
        self.assertAlmostEqual(97 * (1 + result / 100), 100)


class SureNumbers(TestCase):
    def test_the_sure_number_is_inside_the_law_as_often_as_k_2_says(self) -> None:
        """JCGM 101: draw the circumference with its uncertainty; with the number offered for all of its ± the display
        reads below true in about 2.3 % of draws (one side of k = 2), with the nominal one in about half."""
        wheel = {"method": "entered", "entered": {"circumference_mm": 2000, "relative_uncertainty_pct": 1.0}}
        car = installation(wheel=wheel, target__basis="counted", readouts__0__current_setting=26_000)
        numbers = {one.surely: float(one.text) for one in over_speed(car, evaluate(car)).numbers}
        rng = np.random.default_rng(8)
        true_ppk = 48e6 / (2000 * (1 + 0.01 * rng.standard_normal(100_000)))
        below = {surely: float(np.mean(true_ppk / number < 1)) for surely, number in numbers.items()}
        self.assertAlmostEqual(below[True], 0.023, delta=0.004)
        self.assertAlmostEqual(below[False], 0.5, delta=0.01)


class Chart(TestCase):
    def test_a_neighbours_row_reads_as_much_wrong_as_the_rows_differ(self) -> None:
        """25 mm row for a 28 mm tyre: 2105/2136 = −1.5 %; common practice."""
        rolled = {
            "method": "chart",
            "chart": {"label": "700x28C", "circumference_mm": 2136},
            "marking": {"text": "28-622"},
        }
        evaluation = evaluate(installation(CYCLE, wheel=rolled, readouts__0__current_setting=2105))
        self.assertAlmostEqual(evaluation.shown.error_pct, -1.5, places=1)
        found = implied(CYCLE, wheel=rolled, readouts__0__current_setting=2105)[0]
        self.assertEqual(found.causes[0].code, "chart")
