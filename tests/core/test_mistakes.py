"""The registry of mistakes: each is possible where people can make it, with the ratio that it makes."""

from __future__ import annotations

import math
from typing import Any
from unittest import TestCase

from hypothesis import given
from hypothesis import strategies as st

from speedchain.diagnosis import Setup, pulse_faults, setting_mistakes

HUB: dict[str, Any] = {
    "code": "pulses_per_km", "target_kind": "toothed_ring", "count": 48, "edges": 1, "counted": True,
    "set_pulses_per_turn": 1, "drive_kind": "hub", "ratio": 1.0, "ratio_known": True, "radial": False,
    "exact_pct": None,
}  # fmt: skip


def ratios(**changes: Any) -> dict[str, list[float]]:
    found: dict[str, list[float]] = {}
    for item in setting_mistakes(Setup(**HUB | changes)):
        found.setdefault(item.code, []).append(item.ratio)
    return found


class Possible(TestCase):
    def test_lengths_are_confused_where_a_length_is_entered(self) -> None:
        self.assertNotIn("pi", ratios())
        self.assertAlmostEqual(ratios(code="circumference_mm")["pi"][0], 1 / math.pi)
        self.assertAlmostEqual(ratios(code="teeth_and_diameter")["pi"][0], math.pi)
        self.assertIn("inch", ratios(code="mm_per_pulse"))
        self.assertNotIn("inch", ratios(code="hz_per_kmh"))

    def test_pulses_per_turn_are_left_out_at_any_count(self) -> None:
        for count, edges in ((2, 1), (48, 1), (200, 2)):
            self.assertEqual(ratios(count=count, edges=edges)["pulses_left_out"], [count * edges])
        self.assertEqual(ratios(set_pulses_per_turn=48)["pulses_left_out"], [48])
        self.assertNotIn("pulses_left_out", ratios(count=1))

    def test_one_tooth_is_one_of_the_teeth_however_many_edges_are_counted(self) -> None:
        for edges in (1, 2):
            found = sorted(ratios(edges=edges)["tooth"])
            self.assertAlmostEqual(found[0], 48 / 49)
            self.assertAlmostEqual(found[1], 48 / 47)

    def test_rings_are_changed_by_several_teeth_and_axles_for_each_other(self) -> None:
        self.assertIn(48 / 44, ratios()["ring"])
        self.assertNotIn("ring", ratios(count=3))  # three magnets are no ring
        self.assertNotIn("axle_changed", ratios())
        shaft = ratios(drive_kind="axle_ratio", ratio=3.73)
        self.assertTrue(any(abs(item - 3.73 / 4.1) < 1e-9 for item in shaft["axle_changed"]))
        self.assertTrue(all(abs(item - 1) > 0.004 for item in shaft["axle_changed"]))
        self.assertEqual(shaft["ratio_out"], [3.73])

    def test_poles_and_pole_pairs_in_place_of_edges(self) -> None:
        poles = ratios(target_kind="multipole_ring")
        self.assertEqual(sorted(poles["poles"]), [0.5, 2.0])
        self.assertNotIn("edges_two", poles)

    def test_the_sign_of_a_percentage(self) -> None:
        """Exact is +4 %, −4 % is set: 0.96/1.04."""
        self.assertAlmostEqual(ratios(code="percent_correction", exact_pct=4.0)["sign"][0], 0.96 / 1.04)
        self.assertNotIn("sign", ratios(code="percent_correction", exact_pct=0.1))

    def test_another_tyre_is_anywhere_near_and_none_afloat(self) -> None:
        tyres = [item for item in setting_mistakes(Setup(**HUB)) if item.code == "other_tyre"]
        self.assertEqual((tyres[0].ratio, tyres[0].spread_pct), (1.0, 4.0))
        self.assertNotIn("other_tyre", ratios(has_tyre=False))
        self.assertAlmostEqual(ratios(radial=True)["school"][0], math.pi / 3.05)

    @given(st.integers(1, 400), st.sampled_from([1, 2]), st.floats(0.1, 20), st.booleans())
    def test_every_ratio_is_positive_and_every_text_its_own(
        self, count: int, edges: int, ratio: float, counted: bool
    ) -> None:
        found = setting_mistakes(
            Setup(
                **HUB | {"count": count, "edges": edges, "ratio": ratio, "counted": counted, "drive_kind": "axle_ratio"}
            )
        )
        self.assertEqual((found[0].code, found[0].ratio), ("right", 1.0))
        for item in found:
            self.assertGreater(item.ratio, 0)
            self.assertGreater(item.prior, 0)
        codes: dict[str, str] = {}
        for item in found:  # one text never stands for two mistakes
            self.assertEqual(codes.setdefault(item.text, item.code), item.code)

    def test_faults_of_pulses(self) -> None:
        faults = {item.code: item for item in pulse_faults(48)}
        self.assertAlmostEqual(faults["missed_tooth"].ratio, 47 / 48)
        self.assertNotIn("missed_tooth", [item.code for item in pulse_faults(1)])
        bouncing = {item.code: item.prior for item in pulse_faults(1, contact=True)}
        self.assertGreater(bouncing["double"], faults["double"].prior)
