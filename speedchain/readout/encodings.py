"""The setting formats of readers, as data: set pulses per km = scale·number or scale/number."""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass
from typing import Literal

from speedchain.fields import KM_PER_MILE, KM_PER_NAUTICAL_MILE, MM_PER_INCH, Formula, Words, labelled
from speedchain.fields import quantities as q

EncodingCode = Literal[
    "circumference_mm",
    "circumference_cm",
    "circumference_in",
    "pulses_per_km",
    "pulses_per_mile",
    "pulses_per_100_m",
    "pulses_per_nautical_mile",
    "metres_per_pulse",
    "mm_per_pulse",
    "hz_per_kmh",
    "kmh_per_hz",
    "hz_per_knot",
    "teeth_and_diameter",
    "teeth_and_diameter_in",
    "turns_per_km",
    "turns_per_mile",
    "percent_correction",
    "frequency_table",
    "chart_code",
    "custom",
]


@dataclass(frozen=True, slots=True)
class Encoding:
    """One way of typing the setting in: what the number is, its usual range, step and digits.

    `direct`: the number grows with pulses per km (otherwise it shrinks); `scale` ties the two together. The scale is
    multiplied by what else is set in the reader: pulses per turn (`per_turn`), a gear ratio (`geared`), the pulses per
    km it assumes before correction (`based`). `percent`: 1 + number/100 stands in place of the number. `also`: the same
    number in the other system of units, and the factor to it.
    """

    code: EncodingCode
    label: Words
    kind: q.QuantityKind
    minimum: float
    maximum: float
    step: float
    direct: bool
    scale: float
    formula: Formula
    per_turn: bool = False
    geared: bool = False
    based: bool = False
    percent: bool = False
    also: tuple[str, float] | None = None


def set_pulses_per_km(encoding: Encoding, factor: float, value: float) -> float:
    """Pulses per km [1/km] the reader is set to when `value` is typed in.

    set = scale·factor·x (direct) or scale·factor/x, with x the number or 1 + number/100.

    Examples
    --------
    >>> round(set_pulses_per_km(ENCODINGS["teeth_and_diameter"], 46, 612) / 10, 1)
    2392.5
    """
    x = 1 + value / 100 if encoding.percent else value
    return encoding.scale * factor * x if encoding.direct else encoding.scale * factor / x


def value_for(encoding: Encoding, factor: float, pulses_per_km: float) -> float:
    """The exact number that makes the reader assume `pulses_per_km` [1/km], in its own unit.

    Examples
    --------
    >>> value_for(ENCODINGS["circumference_mm"], 1, 3e6 / 1563)
    521.0
    >>> value_for(ENCODINGS["percent_correction"], 1020, 1000)
    2.0
    """
    scale = encoding.scale * factor
    x = pulses_per_km / scale if encoding.direct else scale / pulses_per_km
    return float(f"{100 * (x - 1):.9g}") if encoding.percent else x


def _kind(name: str, *, unit: str, low: float, high: float, example: str, text: str = "") -> q.QuantityKind:
    return q.QuantityKind(name, unit, low, high, example, text=text)


_CM = _kind("circumference setting", unit="cm", low=0.1, high=10_000, example="210.5, 2.105 m")
_IN = _kind("circumference setting", unit="in", low=0.05, high=4000, example="82.9, 2.105 m")
_DIAMETER_IN = _kind("diameter setting", unit="in", low=0.05, high=1200, example="24.1, 0.612 m")
_PER_MILE = _kind(
    "number of pulses per mile", unit="1/mi", low=1, high=20_000_000, example="40077", text="pulses per mile"
)
_PER_NMI = _kind(
    "number of pulses per nautical mile",
    unit="1/nmi",
    low=1,
    high=20_000_000,
    example="20000",
    text="pulses per nautical mile",
)
_M_PULSE = _kind("run per pulse", unit="m", low=1e-6, high=1000, example="0.0402, 40.2 mm")
_MM_PULSE = _kind("run per pulse", unit="mm", low=1e-3, high=1e6, example="40.2, 0.0402 m")
_HZ_KMH = _kind("frequency per km/h", unit="Hz per km/h", low=1e-6, high=1e5, example="6.918")
_KMH_HZ = _kind("speed per hertz", unit="km/h per Hz", low=1e-6, high=1e5, example="0.1445")
_HZ_KN = _kind("frequency per knot", unit="Hz per kn", low=1e-6, high=1e5, example="5.556")
_TURNS_KM = _kind("instrument constant", unit="1/km", low=1, high=100_000, example="690", text="turns per km")
_TURNS_MILE = _kind("instrument constant", unit="1/mi", low=1, high=100_000, example="1000", text="turns per mile")
_PERCENT = q.QuantityKind("correction", "%", -90, 500, "2.5, -1")

_LISTED = (
    Encoding(
        "circumference_mm", "Circumference in mm", q.SET_CIRCUMFERENCE, 100, 9999, 1, False, 1e6,
        "C_typed = pulses per turn set·10⁶/pulses per km", per_turn=True, also=("in", 1 / MM_PER_INCH),
    ),
    Encoding(
        "circumference_cm", "Circumference in cm", _CM, 10, 999, 1, False, 1e5,
        "C_typed = pulses per turn set·10⁵/pulses per km", per_turn=True, also=("in", 10 / MM_PER_INCH),
    ),
    Encoding(
        "circumference_in", "Circumference in inches", _IN, 4, 400, 0.1, False, 1e6 / MM_PER_INCH,
        "C_typed = pulses per turn set·10⁶/(25.4·pulses per km)", per_turn=True, also=("mm", MM_PER_INCH),
    ),
    Encoding(
        "pulses_per_km", "Pulses per km", q.quantity_of(q.PulsesPerKm), 1, 999_999, 1, True, 1.0,
        "n_typed = pulses per km",
        also=("pulses per mile", KM_PER_MILE),
    ),
    Encoding(
        "pulses_per_mile", "Pulses per mile", _PER_MILE, 1, 999_999, 1, True, 1 / KM_PER_MILE,
        "n_typed = 1.609344·pulses per km", also=("pulses per km", 1 / KM_PER_MILE),
    ),
    Encoding(
        "pulses_per_100_m", "Pulses per 100 m", q.PULSES_PER_100_M, 1, 99_999, 1, True, 10.0,
        "n_typed = pulses per km/10", also=("pulses per mile", 10 * KM_PER_MILE),
    ),
    Encoding(
        "pulses_per_nautical_mile", "Pulses per nautical mile", _PER_NMI, 100, 999_999, 100, True,
        1 / KM_PER_NAUTICAL_MILE, "n_typed = 1.852·pulses per km", also=("pulses per km", 1 / KM_PER_NAUTICAL_MILE),
    ),
    Encoding(
        "metres_per_pulse", "Metres per pulse", _M_PULSE, 0.0001, 100, 0.0001, False, 1000.0,
        "m_typed = 1000/pulses per km", also=("in", 1000 / MM_PER_INCH),
    ),
    Encoding(
        "mm_per_pulse", "Millimetres per pulse", _MM_PULSE, 0.1, 9999, 0.1, False, 1e6, "m_typed = 10⁶/pulses per km",
        also=("in", 1 / MM_PER_INCH),
    ),
    Encoding(
        "hz_per_kmh", "Hz per km/h", _HZ_KMH, 0.001, 1000, 0.001, True, 3600.0, "k_typed = pulses per km/3600",
        also=("Hz per mph", KM_PER_MILE),
    ),
    Encoding(
        "kmh_per_hz", "km/h per Hz", _KMH_HZ, 0.0001, 100, 0.0001, False, 3600.0, "k_typed = 3600/pulses per km",
        also=("mph per Hz", 1 / KM_PER_MILE),
    ),
    Encoding(
        "hz_per_knot", "Hz per knot", _HZ_KN, 0.01, 1000, 0.01, True, 3600.0 / KM_PER_NAUTICAL_MILE,
        "k_typed = 1.852·pulses per km/3600", also=("Hz per km/h", 1 / KM_PER_NAUTICAL_MILE),
    ),
    Encoding(
        "teeth_and_diameter", "Teeth, gear ratio and tyre diameter in mm", q.SET_DIAMETER, 50, 3000, 1, False,
        1e6 / math.pi, "D_typed = teeth·gear ratio·10⁶/(π·pulses per km)", per_turn=True, geared=True,
        also=("in", 1 / MM_PER_INCH),
    ),
    Encoding(
        "teeth_and_diameter_in", "Teeth, gear ratio and tyre diameter in inches", _DIAMETER_IN, 2, 120, 0.1, False,
        1e6 / math.pi / MM_PER_INCH, "D_typed = teeth·gear ratio·10⁶/(25.4·π·pulses per km)", per_turn=True,
        geared=True, also=("mm", MM_PER_INCH),
    ),
    Encoding(
        "turns_per_km", "Instrument constant, turns per km", _TURNS_KM, 50, 5000, 1, True, 1.0,
        "k = pulses per km/pulses per turn", per_turn=True, also=("turns per mile", KM_PER_MILE),
    ),
    Encoding(
        "turns_per_mile", "Instrument constant, turns per mile", _TURNS_MILE, 50, 5000, 1, True, 1 / KM_PER_MILE,
        "k = 1.609344·pulses per km/pulses per turn", per_turn=True, also=("turns per km", 1 / KM_PER_MILE),
    ),
    Encoding(
        "percent_correction", "Percent correction", _PERCENT, -50, 100, 0.1, False, 1.0,
        "p_typed = 100·(pulses per km assumed/pulses per km − 1)", based=True, percent=True,
    ),
    Encoding(
        "frequency_table", "Table of frequency and speed", q.quantity_of(q.Frequency), 0, 20_000, 0.1, True, 3600.0,
        "f_typed = v·pulses per km/3600, for every speed of the table",
    ),
    Encoding(
        "chart_code", "Code number from a printed chart", q.SET_CIRCUMFERENCE, 100, 9999, 1, False, 1e6,
        "the code whose circumference is nearest to pulses per turn set·10⁶/pulses per km", per_turn=True,
    ),
)  # fmt: skip

ENCODINGS: Mapping[str, Encoding] = {encoding.code: encoding for encoding in _LISTED}
"""Generic encodings; ranges, steps and digits are editable in each readout. Common practice."""

labelled(EncodingCode, **{item.code: item.label for item in _LISTED}, custom="Custom format")
