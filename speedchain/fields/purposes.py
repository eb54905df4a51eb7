"""What a reading is for decides where to sense. Common practice."""

from __future__ import annotations

from typing import Literal

from speedchain.fields.choice import labelled
from speedchain.fields.words import Words
from speedchain.results import result

Purpose = Literal[
    "true_speed", "slip_control", "brake_control", "gearbox_or_gauge", "cycle_display", "water_speed", "direction"
]
VehicleKind = Literal[
    "car",
    "motorcycle",
    "scooter",
    "sidecar",
    "atv",
    "kart",
    "land_yacht",
    "bicycle",
    "e_bike",
    "velomobile",
    "cargo_trike",
    "boat",
    "other",
]
VEHICLE_KINDS = labelled(
    VehicleKind,
    car="Car",
    motorcycle="Motorcycle",
    scooter="Scooter",
    sidecar="Sidecar outfit",
    atv="Quad or ATV",
    kart="Kart",
    land_yacht="Land yacht",
    bicycle="Bicycle",
    e_bike="Bicycle with assist motor",
    velomobile="Velomobile",
    cargo_trike="Cargo trike",
    boat="Boat",
    other="Other vehicle with a wheel",
)

SensedAt = Literal[
    "not_stated", "front_left", "front_right", "rear_left", "rear_right", "front", "rear", "middle", "hull"
]
SENSED_AT = labelled(
    SensedAt,
    not_stated="Not stated",
    front_left="Front left wheel",
    front_right="Front right wheel",
    rear_left="Rear left wheel",
    rear_right="Rear right wheel",
    front="Front wheel or axle",
    rear="Rear wheel or axle",
    middle="Shaft or gearbox",
    hull="Hull",
)

IN_LINE: tuple[VehicleKind, ...] = ("motorcycle", "scooter", "bicycle", "e_bike")


def places_on(kind: VehicleKind) -> tuple[SensedAt, ...]:
    """Where a kind of vehicle can be sensed: a hull is a boat's, left and right are of vehicles with wheels side by
    side.

    Examples
    --------
    >>> places_on("boat"), places_on("bicycle")
    (('not_stated', 'hull'), ('not_stated', 'front', 'rear', 'middle'))
    """
    if kind == "boat":
        return ("not_stated", "hull")
    if kind in IN_LINE:
        return ("not_stated", "front", "rear", "middle")
    return (
        "not_stated", "front_left", "front_right", "rear_left", "rear_right", "front", "rear", "middle",
    )  # fmt: skip


ROAD_PURPOSES: tuple[Purpose, ...] = ("true_speed", "gearbox_or_gauge")
"""Purposes whose display is read on the road, where a rule may say what it has to show."""
ON_THE_ROAD: tuple[VehicleKind, ...] = ("car", "motorcycle", "scooter", "sidecar")


@result
class PurposeAdvice:
    """A purpose in words, the place to sense that suits it, why, and how the setting usually comes into its reader."""

    code: Purpose
    label: Words
    sense_at: Words
    why: Words
    entry: str = "typed"
    vehicle_kind: VehicleKind | None = None
    """Where one kind of vehicle is meant, or nearly always is."""


PURPOSES = (
    PurposeAdvice(
        code="true_speed",
        label="True road speed on a dash",
        sense_at="a wheel that is not driven",
        why="A driven wheel reads 1 to 3 % high under power, far more when it spins.",
    ),
    PurposeAdvice(
        code="slip_control",
        label="Slip, launch or traction control",
        sense_at="one driven wheel and one that is not, with matched scales",
        why="Slip is a small difference of two large numbers: a 1.5 % tyre error is 1.5 % of false slip.",
    ),
    PurposeAdvice(
        code="brake_control",
        label="Brake-control unit (anti-lock)",
        sense_at="all four wheels, with equal counts",
        why="The unit compares wheels: ring diameters may differ, counts may not.",
        entry="counts",
        vehicle_kind="car",
    ),
    PurposeAdvice(
        code="gearbox_or_gauge",
        label="Gearbox controller or original gauge",
        sense_at="the output shaft or the final drive",
        why="One reading serves both driven wheels; it needs the axle ratio.",
    ),
    PurposeAdvice(
        code="cycle_display",
        label="Cycle computer or hub display",
        sense_at="any wheel with magnet or ring",
        why="An assist motor needs the sensor its maker uses: no magnet seen is a fault code and no assistance.",
        vehicle_kind="bicycle",
    ),
    PurposeAdvice(
        code="water_speed",
        label="Speed through water",
        sense_at="a paddle flush with the hull, clear of propeller wash",
        why="Speed through water is not speed over ground where there is current.",
        vehicle_kind="boat",
    ),
    PurposeAdvice(
        code="direction",
        label="Direction of travel",
        sense_at="two channels a quarter pitch apart",
        why="Which channel leads tells the direction.",
    ),
)

labelled(Purpose, **{item.code: item.label for item in PURPOSES})
