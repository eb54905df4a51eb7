"""Corners side by side: what does not fit the others, and what filling them puts into the documents."""

from __future__ import annotations

from datetime import date
from typing import Any
from unittest import TestCase

from speedchain import evaluate
from speedchain.bench.corners import Corner, CornerEntry, Known, corners_of, with_corner
from tests.installations import CAR, installation

ON = date(2026, 5, 2)
PLACES = ("front_left", "front_right", "rear_left", "rear_right")


def corner(place: int, **changes: Any) -> Known:
    known = installation(
        CAR,
        **{"purpose": "brake_control", "sensed_at": PLACES[place], "name": PLACES[place], "target__count": 48}
        | changes,
    )
    return Known(place, 1, known, evaluate(known))


def wrong(*known: Known) -> dict[int, tuple[str, ...]]:
    return {row.installation: tuple(str(text) for text in row.wrong) for row in corners_of(known) if row.wrong}


class Corners(TestCase):
    def row(self, known: Known) -> Corner:
        return corners_of([known])[0]

    def test_four_equal_corners_say_nothing(self) -> None:
        self.assertEqual(wrong(*[corner(place) for place in range(4)]), {})

    def test_an_unequal_count_is_false_slip_in_its_ratio(self) -> None:
        found = wrong(*[corner(place) for place in range(3)], corner(3, target__count=46))
        self.assertEqual(list(found), [3])
        self.assertIn("46 are counted here, 48 at the others", found[3][0])

    def test_slip_control_may_have_other_counts(self) -> None:
        kinds = [corner(place, purpose="slip_control") for place in range(2)]
        self.assertEqual(wrong(*kinds, corner(2, purpose="slip_control", target__count=60)), {})

    def test_what_the_controller_accepts(self) -> None:
        """40 to 50 per turn: 50 is in, 52 is out."""
        reads = {
            "readouts__0__entry": "counts",
            "readouts__0__least_pulses_per_turn": 40,
            "readouts__0__most_pulses_per_turn": 50,
        }
        self.assertEqual(wrong(corner(0, target__count=50, **reads), corner(1, target__count=50, **reads)), {})
        self.assertIn("accepts 40 to 50", wrong(corner(0, target__count=52, **reads))[0][0])

    def test_a_resistance_off_the_middle_of_its_set(self) -> None:
        """The middle of 1000, 1000, 1200 is 1000 Ω: 1200 is a fifth off and in, 1210 is out."""
        ohms = [corner(0, sensor__resistance_ohm=1000), corner(1, sensor__resistance_ohm=1000)]
        self.assertEqual(wrong(*ohms, corner(2, sensor__resistance_ohm=1200)), {})
        self.assertEqual(list(wrong(*ohms, corner(2, sensor__resistance_ohm=1210))), [2])

    def test_other_installations_are_no_corners(self) -> None:
        self.assertEqual(corners_of([corner(0, purpose="true_speed")]), ())

    def test_filling_one(self) -> None:
        entry = CornerEntry(count="46", air_gap_mm="0.9 mm", resistance_ohm="1k1", outcome="agreed")
        after = with_corner(corner(0), entry, by="mechanic", on=ON)
        self.assertEqual((after.target.count, after.target.basis), (46, "counted"))
        assert after.placement is not None
        self.assertEqual((after.placement.air_gap_mm, after.placement.measured), (0.9, True))
        self.assertEqual(after.sensor.resistance_ohm, 1100)
        self.assertEqual((after.test_records[-1].test, after.test_records[-1].by), ("spin", "mechanic"))
        assert after.target.verification is not None
        self.assertEqual(after.target.verification.value, 46)
        same = with_corner(corner(0), CornerEntry(), by="mechanic", on=ON)
        self.assertEqual(same, corner(0).installation)

    def test_a_spin_that_differed_stands_until_one_agrees(self) -> None:
        after = with_corner(corner(0), CornerEntry(outcome="differed"), by="m", on=ON)
        failed = Known(0, 1, after, evaluate(after))
        self.assertIn("did not agree", str(self.row(failed).wrong[0]))
        again = with_corner(failed, CornerEntry(outcome="agreed"), by="m", on=ON)
        self.assertEqual(self.row(Known(0, 1, again, evaluate(again))).wrong, ())
