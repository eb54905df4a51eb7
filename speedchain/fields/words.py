"""Texts that the core writes: their speeds can be said in another unit when they are handed over."""

from __future__ import annotations

import math
import re
from collections.abc import Iterator
from contextlib import contextmanager
from contextvars import ContextVar
from decimal import Decimal
from typing import Annotated, Literal

from pydantic import PlainSerializer

from speedchain.fields.constants import KM_PER_MILE, KM_PER_NAUTICAL_MILE

SpeedUnit = Literal["km/h", "mph", "kn"]
KMH_PER: dict[SpeedUnit, float] = {"km/h": 1.0, "mph": KM_PER_MILE, "kn": KM_PER_NAUTICAL_MILE}
LEAST_DIGITS = 3

_unit: ContextVar[SpeedUnit] = ContextVar("speed_unit", default="km/h")
_EXPONENT = re.compile(r"(?<![\w.])\d(?:\.\d+)?e[+-]\d{2,3}\b")
_NUMBER = r"[-−+]?\d+(?:\.\d+)?"
_SPEEDS = re.compile(rf"((?:{_NUMBER}(?:,| to| and| or) )*{_NUMBER})( true)? km/h(?! per)")


@contextmanager
def speeds_in(unit: SpeedUnit) -> Iterator[None]:
    """Within this, texts of the core are handed over with their speeds in a unit; the results themselves stay in km/h.

    Examples
    --------
    >>> with speeds_in("kn"):
    ...     said("From 10 to 20 km/h.")
    'From 5.4 to 10.8 kn.'
    """
    token = _unit.set(unit)
    try:
        yield
    finally:
        _unit.reset(token)


def said(text: str) -> str:
    """A text with its speeds in the unit asked for by `speeds_in`, with as many digits as they have, and at least three.

    Frequencies per speed (Hz per km/h) and what is no number stay.

    Examples
    --------
    >>> with speeds_in("mph"):
    ...     said("13.8 km/h shown at 100 km/h, 6.918 Hz per km/h")
    '8.57 mph shown at 62.1 mph, 6.918 Hz per km/h'
    """
    text = without_exponents(text)
    unit = _unit.get()
    if unit == "km/h" or "km/h" not in text:
        return text
    return _SPEEDS.sub(lambda found: f"{re.sub(_NUMBER, _converted, found[1])}{found[2] or ''} {unit}", text)


def without_exponents(text: str) -> str:
    """A text whose large and small numbers are written out: nobody types 1.08e+04 into a display.

    Examples
    --------
    >>> without_exponents("= 1.08e+04 pulses per km, 2.9e-05 s")
    '= 10800 pulses per km, 0.000029 s'
    """
    if "e+" not in text and "e-0" not in text and "e-1" not in text:
        return text
    return _EXPONENT.sub(lambda found: f"{Decimal(found[0]):f}", text)


def _converted(number: re.Match[str]) -> str:
    text = number[0].replace("−", "-")
    value = float(text) / KMH_PER[_unit.get()]
    digits = max(len(text.strip("+-").replace(".", "").lstrip("0")), LEAST_DIGITS)
    places = max(digits - 1 - math.floor(math.log10(abs(value))), 0) if value else 0
    shown = f"{value:{'+' if text[0] == '+' else ''}.{places}f}"
    shown = shown.rstrip("0").rstrip(".") if "." in shown else shown
    return shown.replace("-", "−") if "−" in number[0] else shown


Words = Annotated[str, PlainSerializer(said, return_type=str)]
"""A text of the core in a result. Names that people gave are plain `str`: nobody's words are changed."""
