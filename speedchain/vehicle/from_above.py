"""A vehicle seen from above, its front at the top: where its wheels are, and which place each installation senses."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import Literal, get_args

from speedchain.fields import SensedAt, VehicleKind
from speedchain.results import result

Along = Literal["front", "middle", "rear"]
Across = Literal["left", "centre", "right"]

PLACES: Mapping[SensedAt, tuple[Along, Across]] = {
    "front_left": ("front", "left"),
    "front_right": ("front", "right"),
    "rear_left": ("rear", "left"),
    "rear_right": ("rear", "right"),
    "front": ("front", "centre"),
    "rear": ("rear", "centre"),
    "middle": ("middle", "centre"),
    "hull": ("middle", "centre"),
}
"""Where each place is; one that is not stated is nowhere."""
AXLES: Mapping[VehicleKind, tuple[int, int]] = {
    "motorcycle": (1, 1), "scooter": (1, 1), "sidecar": (1, 1), "bicycle": (1, 1), "e_bike": (1, 1),
    "land_yacht": (1, 2), "velomobile": (2, 1), "cargo_trike": (2, 1), "boat": (0, 0),
}  # fmt: skip
"""Wheels in front and at the rear, of kinds that have not two and two. Common practice."""


@result
class WheelAt:
    """A wheel of the vehicle."""

    along: Along
    across: Across


@result
class SensorAt:
    """The place that an installation senses."""

    installation: int
    along: Along
    across: Across


@result
class FromAbove:
    """Wheels of a vehicle, and what is sensed where; an installation whose place is not stated is not among them."""

    wheels: tuple[WheelAt, ...]
    sensors: tuple[SensorAt, ...]


def from_above(kind: VehicleKind, sensed: Sequence[tuple[int, SensedAt]]) -> FromAbove:
    """The vehicle as its kind is usually built, and as what is sensed on it shows it to be.

    A three-wheeler has its two wheels where one of them is sensed; a sidecar is on the right unless a wheel on the left
    is sensed.

    Parameters
    ----------
    Kind of vehicle; installations with the place that each senses.

    Examples
    --------
    >>> seen = from_above("cargo_trike", [(7, "rear_left")])
    >>> [(wheel.along, wheel.across) for wheel in seen.wheels]
    [('front', 'centre'), ('rear', 'left'), ('rear', 'right')]
    >>> seen.sensors
    (SensorAt(installation=7, along='rear', across='left'),)
    """
    sensors = [(number, *PLACES[place]) for number, place in sensed if place in PLACES]
    beside: dict[Along, list[Across]] = {
        along: [across for _, at, across in sensors if at == along and across != "centre"] for along in get_args(Along)
    }
    front, rear = AXLES.get(kind, (2, 2))
    if front + rear == 3 and bool(beside["front"]) != bool(beside["rear"]):
        front, rear = (2, 1) if beside["front"] else (1, 2)
    wheels: list[tuple[Along, Across]] = []
    axles: tuple[tuple[Along, int], ...] = (("front", front), ("rear", rear))
    for along, count in axles:
        if count == 2 or (beside[along] and kind != "sidecar"):
            wheels += [(along, "left"), (along, "right")]
        elif count == 1:
            wheels.append((along, "centre"))
    if kind == "sidecar":
        wheels.append(("rear", "left" if "left" in beside["front"] + beside["rear"] else "right"))
    return FromAbove(
        wheels=tuple([WheelAt(along=along, across=across) for along, across in wheels]),
        sensors=tuple([SensorAt(installation=number, along=along, across=across) for number, along, across in sensors]),
    )
