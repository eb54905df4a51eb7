"""The ways a reader is told its wheel, as data: each is told_ppk = scale · value^±1."""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass
from typing import Literal

from speedchain.units import PULSES_PER_100_M, PULSES_PER_KM, SET_CIRCUMFERENCE, SET_DIAMETER, QuantityKind

EncodingCode = Literal["circumference_mm", "pulses_per_km", "pulses_per_100_m", "teeth_and_diameter"]


@dataclass(frozen=True, slots=True)
class Encoding:
    """One way of typing the setting in: what the number is, its usual range, step and digits.

    `direct`: the number grows with pulses per km (otherwise it shrinks); `scale` ties the two together;
    `per_turn`: the reader is also told pulses per turn, and that multiplies the scale.
    """

    code: EncodingCode
    label: str
    kind: QuantityKind
    minimum: float
    maximum: float
    step: float
    direct: bool
    scale: float
    per_turn: bool
    formula: str

    def told_pulses_per_km(self, value: float, told_pulses_per_turn: int) -> float:
        """Pulses per km [1/km] the reader believes in when `value` is typed in.

        >>> round(ENCODINGS["teeth_and_diameter"].told_pulses_per_km(612, 46) / 10, 1)
        2392.5
        """
        scale = self.scale * told_pulses_per_turn if self.per_turn else self.scale
        return scale * value if self.direct else scale / value

    def value_for(self, pulses_per_km: float, told_pulses_per_turn: int) -> float:
        """The exact number that makes the reader believe in `pulses_per_km` [1/km], in its own unit.

        >>> ENCODINGS["circumference_mm"].value_for(3e6 / 1563, 1)
        521.0
        """
        scale = self.scale * told_pulses_per_turn if self.per_turn else self.scale
        return pulses_per_km / scale if self.direct else scale / pulses_per_km


ENCODINGS: Mapping[str, Encoding] = {
    encoding.code: encoding
    for encoding in (
        Encoding(
            "circumference_mm",
            "Circumference in mm",
            SET_CIRCUMFERENCE,
            100,
            9999,
            1,
            False,
            1e6,
            True,
            "C_typed = pulses per turn told·10⁶/pulses per km",
        ),
        Encoding(
            "pulses_per_km", "Pulses per km", PULSES_PER_KM, 1, 999_999, 1, True, 1.0, False, "n_typed = pulses per km"
        ),
        Encoding(
            "pulses_per_100_m",
            "Pulses per 100 m",
            PULSES_PER_100_M,
            1,
            99_999,
            1,
            True,
            10.0,
            False,
            "n_typed = pulses per km/10",
        ),
        Encoding(
            "teeth_and_diameter",
            "Teeth and tyre diameter in mm",
            SET_DIAMETER,
            50,
            3000,
            1,
            False,
            1e6 / math.pi,
            True,
            "D_typed = teeth told·10⁶/(π·pulses per km)",
        ),
    )
}
"""Generic encodings; ranges and steps are editable in each readout. Common practice."""
