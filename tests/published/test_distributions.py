"""Standard uncertainties and worked road values against `scipy` and published rules."""

from __future__ import annotations

import math
from unittest import TestCase

import numpy as np
from hypothesis import given
from hypothesis import strategies as st
from scipy import constants, stats

from speedchain import evaluate
from speedchain.fields.parser import parse_quantity
from speedchain.fields.quantities import Circumference, Speed, quantity_of
from speedchain.uncertainty.propagation import combine_pct, rectangular, triangular
from speedchain.wheel.combination import all_values
from speedchain.wheel.entries import RollOut
from speedchain.wheel.model import Wheel
from speedchain.wheel.run import from_roll_out
from tests.installations import installation


class Distributions(TestCase):
    """JCGM 100:2008, 4.3.7 and 4.3.9, against the distributions of `scipy.stats`."""

    @given(st.floats(1e-6, 1e6))
    def test_rectangular_and_triangular(self, half: float) -> None:
        self.assertTrue(math.isclose(rectangular(half), stats.uniform(-half, 2 * half).std(), rel_tol=1e-9))
        self.assertTrue(math.isclose(triangular(half), stats.triang(0.5, -half, 2 * half).std(), rel_tol=1e-9))

    @given(st.lists(st.floats(0, 100), min_size=1, max_size=8))
    def test_quadrature_is_the_euclidean_norm(self, parts: list[float]) -> None:
        self.assertAlmostEqual(combine_pct(tuple(parts)), float(np.linalg.norm(parts)), places=9)


class MonteCarlo(TestCase):
    """JCGM 101:2008: the roll-out and the tape, simulated from their own statements. Seeded."""

    N = 200_000

    def test_roll_out(self) -> None:
        rng = np.random.default_rng(11)
        run = rng.normal(6210, 2, self.N) + rng.normal(0, 1, self.N) - rng.normal(0, 1, self.N)
        u_pct = from_roll_out(RollOut(turns=3, distance_mm=6210)).u_pct
        self.assertAlmostEqual(100 * float(np.std(run / 3)) / 2070 / u_pct, 1, delta=0.01)

    def test_taped_wheels(self) -> None:
        """R_eff = R − share·(R − R_loaded), share a third ± a twelfth (Jazar; from memory): a tape across the standing
        wheel and one round the lifted wheel; the corrections leave no bias. Car radials are flattened by 5 to 8 % of
        their radius, bicycle tyres by 0.5 to 2.5 %."""
        rng = np.random.default_rng(12)
        radius, reading = 330.0, 2.0
        for kind, low, high in (("car", 0.05, 0.08), ("bicycle", 0.005, 0.025)):
            deflection = radius * rng.uniform(low, high, self.N)
            true = 2 * math.pi * (radius - rng.normal(1 / 3, 1 / 12, self.N) * deflection)
            for field, name, taped in (
                ("taped_diameter", "diameter_mm", 2 * radius - deflection),
                ("taped_circumference", "circumference_mm", 2 * math.pi * radius),
            ):
                reads = taped + rng.uniform(-reading, reading, self.N)
                mean = float(np.mean(reads))
                wheel = Wheel.model_validate({"method": field, field: {name: mean, "reading_mm": reading}})
                value = all_values(wheel, kind, 1.0)[field]  # type: ignore[index]
                found = reads * value.circumference_mm / mean
                self.assertAlmostEqual(float(np.mean(found / true)), 1, delta=1e-4, msg=(kind, field))
                self.assertAlmostEqual(
                    100 * float(np.std(found / true)) / value.u_pct, 1, delta=0.03, msg=(kind, field)
                )

    def test_the_effective_radius_is_nearer_the_unloaded_one(self) -> None:
        """π × standing height is short by a third of the deflection; axle height alone by two thirds of 2π·d."""
        radius, deflection = 330.0, 13.0
        effective = radius - deflection / 3
        standing = 2 * radius - deflection
        self.assertAlmostEqual(2 * math.pi * effective - math.pi * standing, math.pi * deflection / 3)


class Units(TestCase):
    """Conversions against the constants of `scipy.constants`, which follow SP 811 and ISO 80000."""

    def test_lengths_and_speeds(self) -> None:
        for text, metres in [("1 in", constants.inch), ("1 ft", constants.foot), ("1 yd", constants.yard)]:
            if metres * 1000 >= quantity_of(Circumference).minimum:
                self.assertAlmostEqual(parse_quantity(quantity_of(Circumference), text), metres * 1000, places=9)
        for text, per_second in [("10 mph", 10 * constants.mph), ("10 kn", 10 * constants.knot), ("36 km/h", 10.0)]:
            self.assertAlmostEqual(parse_quantity(quantity_of(Speed), text), per_second * 3.6, places=9)


class UnRegulation39(TestCase):
    """5.4: 0 ≤ V1 − V2 ≤ V2/10 + 4 km/h at the speeds of its table; from memory. Checked either side of each end."""

    def test_the_band_at_its_test_speeds(self) -> None:
        exact = evaluate(installation()).pulses_per_km
        for true_kmh in (40, 80, 120):
            end = 1 + (true_kmh / 10 + 4) / true_kmh
            for ratio, expected in [
                (0.97, {"readout.under_reads"}),
                (1.001, set()),
                (end - 0.001, {"readout.far_off"}),  # permitted, and yet more than a tenth off
                (end + 0.001, {"readout.above_range", "readout.far_off"}),
            ]:
                with self.subTest(f"{true_kmh} km/h × {ratio:.3f}"):
                    result = evaluate(
                        installation(check_speed_kmh=true_kmh, readouts__0__current_setting=round(exact / ratio))
                    )
                    self.assertEqual({finding.code for finding in result.findings}, expected)

    def test_only_the_rule_that_applies_is_asked_for(self) -> None:
        """Two readouts 3 % low: the European rule forbids it, other rules or vehicles do not (from memory)."""
        low = round(evaluate(installation()).pulses_per_km / 0.97)
        for changes, forbidden in (
            ({}, True),
            ({"speedometer_rule": "none"}, False),
            ({"speedometer_rule": "us_393_82"}, False),
            ({"vehicle_kind": "kart"}, False),
            ({"vehicle_kind": "boat"}, False),
        ):
            with self.subTest(changes):
                result = evaluate(installation(readouts__0__current_setting=low, **changes))
                self.assertEqual("readout.under_reads" in {finding.code for finding in result.findings}, forbidden)

    def test_numbers_are_rounded_upwards_in_speed_only_where_a_rule_forbids_less(self) -> None:
        teeth = 46
        exact = evaluate(installation(target__count=teeth)).readouts[0].exact
        self.assertGreater(exact - math.floor(exact), 0.5)
        for rule, expected in (("un_r39", math.floor(exact)), ("us_393_82", round(exact)), ("none", round(exact))):
            with self.subTest(rule):
                result = evaluate(installation(target__count=teeth, speedometer_rule=rule))
                self.assertEqual(result.readouts[0].to_type.value, expected)

    def test_a_wheel_turned_once_a_second(self) -> None:
        """A wheel turned once a second shows 3.6·C km/h, C in m; common practice."""
        result = evaluate(installation(check_speed_kmh=3.6 * 1.927295))
        self.assertAlmostEqual(result.frequency_hz, 48, places=6)
