"""A vehicle seen from above: wheels where such vehicles have them, and every sensor at its place."""

from __future__ import annotations

from typing import get_args
from unittest import TestCase

from speedchain.fields import SensedAt, VehicleKind, places_on
from speedchain.vehicle import from_above

AXLES: dict[VehicleKind, str] = {
    "car": "FL FR RL RR", "motorcycle": "FC RC", "scooter": "FC RC", "sidecar": "FC RC RR", "atv": "FL FR RL RR",
    "kart": "FL FR RL RR", "land_yacht": "FC RL RR", "bicycle": "FC RC", "e_bike": "FC RC", "velomobile": "FL FR RC",
    "cargo_trike": "FL FR RC", "boat": "", "other": "FL FR RL RR",
}  # fmt: skip
"""Front and rear; left, centre and right: as each kind is mostly built (common practice)."""


def wheels(kind: VehicleKind, *sensed: SensedAt) -> str:
    seen = from_above(kind, list(enumerate(sensed)))
    return " ".join(sorted([(item.along[0] + item.across[0]).upper() for item in seen.wheels]))


class SeenFromAbove(TestCase):
    def test_wheels_of_every_kind(self) -> None:
        self.assertEqual({kind: wheels(kind) for kind in get_args(VehicleKind)}, AXLES)

    def test_what_is_sensed_shows_where_the_two_wheels_are(self) -> None:
        self.assertEqual(wheels("cargo_trike", "rear_right"), "FC RL RR")
        self.assertEqual(wheels("land_yacht", "front_left"), "FL FR RC")
        self.assertEqual(wheels("cargo_trike", "front_left", "rear_right"), "FL FR RL RR")
        self.assertEqual(wheels("sidecar", "front", "rear_left"), "FC RC RL")
        self.assertEqual(wheels("cargo_trike", "front", "rear"), "FL FR RC")

    def test_every_place_that_is_stated_is_drawn_and_a_wheel_is_under_it(self) -> None:
        for kind in get_args(VehicleKind):
            for place in places_on(kind):
                with self.subTest(f"{kind} {place}"):
                    seen = from_above(kind, [(5, place)])
                    self.assertEqual([item.installation for item in seen.sensors], [5] * (place != "not_stated"))
                    if place.endswith(("left", "right")):
                        (at,) = seen.sensors
                        row = {item.across for item in seen.wheels if item.along == at.along}
                        self.assertTrue(at.across in row or kind == "sidecar", seen)
