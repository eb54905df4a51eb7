"""The mistake behind a wrong ratio: shares, order, what is left not_stated."""

from __future__ import annotations

import math
from unittest import TestCase

from hypothesis import given
from hypothesis import strategies as st

from speedchain.uncertainty.ranking import WORTH_SAYING_PCT, Hypothesis, likeliest
from tests.installations import CAR, CYCLE, implied

TWO = Hypothesis(code="two", ratio=2.0, prior=1.0, text="both edges are counted", fix="halve it")
HALF = Hypothesis(code="half", ratio=0.5, prior=1.0, text="one wheel was held", fix="turn both")
NEAR = Hypothesis(code="near", ratio=1.98, prior=0.2, text="something close", fix="look again")


class Shares(TestCase):
    @given(st.floats(0.01, 100), st.floats(0.01, 5))
    def test_shares_are_a_ranked_part_of_the_whole(self, ratio: float, u_pct: float) -> None:
        found = likeliest(ratio, u_pct, (TWO, HALF, NEAR))
        shares = [one.share_pct for one in found if one.share_pct is not None]
        self.assertLessEqual(sum(shares), 100 + 1e-9)
        self.assertEqual(shares, sorted(shares, reverse=True))
        self.assertTrue(all(share >= WORTH_SAYING_PCT for share in shares))
        self.assertIn(len(shares), (0, len(found)))

    def test_two_that_explain_it_as_well_have_an_order_and_no_share(self) -> None:
        """1.99 with ± 2 %: both 2.0 and 1.98 fit. At 1.98 with ± 0.2 % only one does."""
        self.assertEqual([one.share_pct for one in likeliest(1.99, 1.0, (TWO, NEAR))], [None, None])
        self.assertIsNotNone(likeliest(1.98, 0.1, (TWO, NEAR))[0].share_pct)

    def test_the_nearer_wins_when_the_ratio_is_sure_and_the_commoner_when_it_is_not(self) -> None:
        sure = likeliest(1.98, 0.1, (TWO, NEAR))
        self.assertEqual([one.code for one in sure], ["near"])
        unsure = likeliest(1.98, 5.0, (TWO, NEAR))
        self.assertEqual(unsure[0].code, "two")

    def test_one_mistake_with_several_ratios_is_said_once(self) -> None:
        tyres = [
            Hypothesis(code="tyre", ratio=ratio, prior=0.1, text="another tyre", fix="") for ratio in (0.97, 0.98, 0.99)
        ]
        found = likeliest(0.98, 1.0, tyres)
        self.assertEqual([one.code for one in found], ["tyre"])
        self.assertGreater(found[0].share_pct or 0, 50)

    def test_shares_by_hand(self) -> None:
        """Bayes' rule written out: prior·normal density, against the density spread over unlisted mistakes."""
        u, ratio = 0.02, 2.02
        one = math.exp(-0.5 * (math.log(ratio / 2.0) / u) ** 2) / u
        other = 0.3 * math.exp(-0.5 * (math.log(ratio) / 1.5) ** 2) / 1.5
        self.assertAlmostEqual(likeliest(ratio, 2.0, (TWO,))[0].share_pct or 0, 100 * one / (one + other), places=9)


class InAInstallation(TestCase):
    def test_a_worse_known_chain_claims_less(self) -> None:
        """28 mm tyre, the row of 25 mm typed: with the wheel rolled out the row is nearly certain, from the marking
        less so."""
        rolled = {"method": "roll_out", "roll_out": {"turns": 3, "distance_mm": 6408}, "marking": {"text": "28-622"}}
        sure = implied(CYCLE, wheel=rolled, readouts__0__current_setting=2105)[0].causes[0]
        unsure = implied(CYCLE, readouts__0__current_setting=2105)[0].causes[0]
        self.assertEqual((sure.code, unsure.code), ("chart", "chart"))
        self.assertGreater(sure.share_pct or 0, unsure.share_pct or 0)

    def test_every_display_is_read_backwards_on_its_own(self) -> None:
        readouts = [
            {"name": "Right", "encoding": "pulses_per_km", "current_setting": 24905},
            {"name": "Open", "encoding": "pulses_per_km"},
            {"name": "Miles", "encoding": "pulses_per_mile", "current_setting": 24905},
        ]
        found = implied(CAR, readouts=readouts)
        self.assertEqual([one.readout for one in found], [0, 2])
        self.assertEqual([one.causes[0].code for one in found], ["right", "unit_mile"])
        self.assertAlmostEqual(found[1].error_pct, 100 * (1.609344 - 1), places=1)
        self.assertIn("Enter 40081\u00a0pulses per mile", found[1].causes[0].fix)

    def test_a_counted_ring_is_rarely_miscounted(self) -> None:
        for basis, most in (("assumed", 100.0), ("counted", 60.0)):
            found = implied(CAR, target__basis=basis, readouts__0__current_setting=25424)[0]
            tooth = [one.share_pct or 0 for one in found.causes if one.code == "tooth"]
            self.assertLessEqual(sum(tooth), most)
