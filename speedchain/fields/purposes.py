"""What a reading is for decides where to sense. Common practice."""

from __future__ import annotations

from typing import Literal

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

SensedAt = Literal[
    "not_stated", "front_left", "front_right", "rear_left", "rear_right", "front", "rear", "middle", "hull"
]

ON_THE_ROAD: tuple[VehicleKind, ...] = ("car", "motorcycle", "scooter", "sidecar")


@result
class PurposeAdvice:
    """A purpose in words, the place to sense that suits it, and why."""

    code: Purpose
    label: str
    sense_at: str
    why: str


PURPOSES = (
    PurposeAdvice(
        "true_speed",
        "True road speed on a dash",
        "a wheel that is not driven",
        "A driven wheel reads 1 to 3 % high under power, far more when it spins.",
    ),
    PurposeAdvice(
        "slip_control",
        "Slip, launch or traction control",
        "one driven wheel and one that is not, with matched scales",
        "Slip is a small difference of two large numbers: a 1.5 % tyre error is 1.5 % of false slip.",
    ),
    PurposeAdvice(
        "brake_control",
        "Brake-control unit (anti-lock)",
        "all four wheels, with equal counts",
        "The unit compares wheels: ring diameters may differ, counts may not.",
    ),
    PurposeAdvice(
        "gearbox_or_gauge",
        "Gearbox controller or original gauge",
        "the output shaft or the final drive",
        "One reading serves both driven wheels; it needs the axle ratio.",
    ),
    PurposeAdvice(
        "cycle_display",
        "Cycle computer or hub display",
        "any wheel with magnet or ring",
        "An assist motor needs the sensor its maker uses: no magnet seen is a fault code and no assistance.",
    ),
    PurposeAdvice(
        "water_speed",
        "Speed through water",
        "a paddle flush with the hull, clear of propeller wash",
        "Speed through water is not speed over ground where there is current.",
    ),
    PurposeAdvice(
        "direction",
        "Direction of travel",
        "two channels a quarter pitch apart",
        "Which channel leads tells the direction.",
    ),
)
