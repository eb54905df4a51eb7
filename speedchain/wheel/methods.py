"""Every method's way to the rolling circumference, and where each measurement stands."""

from __future__ import annotations

from typing import assert_never

from speedchain.wheel.deflection import deflection_of
from speedchain.wheel.model import SingleMethod, Wheel
from speedchain.wheel.nominal import from_chart, from_entered, from_marking
from speedchain.wheel.repeats import Progress
from speedchain.wheel.run import from_paddle, from_roll_out, from_speed_derived, roll_out_progress
from speedchain.wheel.taped import (
    across_progress,
    from_axle_height,
    from_taped_circumference,
    from_taped_diameter,
    round_progress,
)
from speedchain.wheel.value import Value


def by_method(wheel: Wheel, method: SingleMethod, vehicle_kind: str, pulses_per_turn: float) -> Value:
    """What one method says.

    Raises
    ------
    `ValueError` when the method has no entries.

    Examples
    --------
    >>> wheel = Wheel(method="entered", entered={"circumference_mm": 2105})
    >>> by_method(wheel, "entered", "bicycle", 1).circumference_mm
    2105.0
    """
    match method:
        case "marking" if wheel.marking is not None:
            return from_marking(wheel.marking, vehicle_kind)
        case "chart" if wheel.chart is not None:
            return from_chart(wheel.chart)
        case "taped_diameter" if wheel.taped_diameter is not None:
            return from_taped_diameter(wheel.taped_diameter, deflection_of(wheel, vehicle_kind))
        case "axle_height" if wheel.axle_height is not None:
            return from_axle_height(wheel)
        case "taped_circumference" if wheel.taped_circumference is not None:
            return from_taped_circumference(wheel.taped_circumference, deflection_of(wheel, vehicle_kind))
        case "roll_out" if wheel.roll_out is not None:
            return from_roll_out(wheel.roll_out)
        case "speed_derived" if wheel.speed_derived is not None:
            return from_speed_derived(wheel.speed_derived)
        case "entered" if wheel.entered is not None:
            return from_entered(wheel.entered)
        case "paddle" if wheel.paddle is not None:
            return from_paddle(wheel.paddle, pulses_per_turn)
        case (
            "marking" | "chart" | "taped_diameter" | "axle_height" | "taped_circumference" | "roll_out"
            | "speed_derived" | "entered" | "paddle"
        ):  # fmt: skip
            raise ValueError(f"{method} has no entries")
        case other:
            assert_never(other)


def progresses(wheel: Wheel, vehicle_kind: str) -> tuple[Progress, ...]:
    """Where each measurement that can be repeated stands.

    Examples
    --------
    >>> wheel = Wheel(method="taped_diameter", taped_diameter={"diameter_mm": 660, "repeats_mm": [662]})
    >>> progresses(wheel, "car")[0].readings
    2
    """
    found = []
    if wheel.taped_diameter is not None:
        found.append(across_progress(wheel.taped_diameter, deflection_of(wheel, vehicle_kind)))
    if wheel.taped_circumference is not None:
        found.append(round_progress(wheel.taped_circumference, deflection_of(wheel, vehicle_kind)))
    if wheel.roll_out is not None:
        found.append(roll_out_progress(wheel.roll_out))
    return tuple(found)
