"""Texts that the core writes, as they are handed over: in a language, with speeds and lengths in other units.

A number with a no-break space before its unit belongs to a machine or a part (a setting, a bead seat) and stays.
"""

from __future__ import annotations

import math
import re
from collections.abc import Iterator
from contextlib import contextmanager
from contextvars import ContextVar
from decimal import Decimal
from typing import Annotated, Any, Literal

from pydantic import PlainSerializer, PlainValidator, TypeAdapter, WithJsonSchema

from speedchain.fields.constants import KM_PER_MILE, KM_PER_NAUTICAL_MILE, MM_PER_INCH
from speedchain.fields.messages import as_data, from_data, translated, with_decimals
from speedchain.results import shared

SpeedUnit = Literal["km/h", "mph", "kn"]
LengthUnit = Literal["mm", "in"]
KMH_PER: dict[SpeedUnit, float] = {"km/h": 1.0, "mph": KM_PER_MILE, "kn": KM_PER_NAUTICAL_MILE}
LEAST_DIGITS = 3


SystemCode = Literal["metric", "imperial", "miles_mm", "nautical"]


@shared
class UnitSystem:
    """How a person reads speeds and lengths; a factor is how many km/h, or mm, the unit is. Exact by definition."""

    code: SystemCode
    label: str
    speed_unit: SpeedUnit
    speed_kmh: float
    length_unit: LengthUnit
    length_mm: float


_SYSTEMS: tuple[tuple[SystemCode, str, SpeedUnit, LengthUnit], ...] = (
    ("metric", "km/h", "km/h", "mm"),
    ("imperial", "mph, in", "mph", "in"),
    ("miles_mm", "mph, mm", "mph", "mm"),
    ("nautical", "kn", "kn", "mm"),
)
UNIT_SYSTEMS = tuple(
    [
        UnitSystem(
            code=code, label=label, speed_unit=speed, speed_kmh=KMH_PER[speed], length_unit=length,
            length_mm=MM_PER_INCH if length == "in" else 1.0,
        )
        for code, label, speed, length in _SYSTEMS
    ]
)  # fmt: skip

_unit: ContextVar[SpeedUnit] = ContextVar("speed_unit", default="km/h")
_length: ContextVar[LengthUnit] = ContextVar("length_unit", default="mm")
_EXPONENT = re.compile(r"(?<![\w.])\d(?:\.\d+)?e[+-]\d{2,3}\b")
_SIGNED_ZERO = re.compile(r"(?<![\w.])[-+](0(?:\.0+)?)(?![\d.])")
"""A sign before nothing says nothing: -0.00 %."""
_MINUS = re.compile(r"(?<![\w.,)%°-])-(?=\d)")
"""A hyphen before a number, where it is no range, date or name: a minus sign."""
_NUMBER = r"[-−+]?\d+(?:\.\d+)?"
_LIST = rf"((?:{_NUMBER}(?:,| to| and| or| ±) )*{_NUMBER})"
_SPEEDS = re.compile(rf"{_LIST}( true)? km/h(?! per)")
_LENGTHS = re.compile(rf"(?<![\w.]){_LIST}() mm\b(?!/)")


@contextmanager
def speeds_in(unit: SpeedUnit, lengths: LengthUnit | None = None) -> Iterator[None]:
    """Within this, texts of the core are handed over with their speeds in a unit; the results themselves stay in km/h.

    Lengths are in millimetres; beside miles per hour in inches, unless it is said otherwise.

    Examples
    --------
    >>> with speeds_in("kn"):
    ...     said("From 10 to 20 km/h.")
    'From 5.4 to 10.8 kn.'
    >>> with speeds_in("mph", "mm"):
    ...     said("A gap of 0.80 mm at 100 km/h.")
    'A gap of 0.80 mm at 62.1 mph.'
    """
    token, of_lengths = _unit.set(unit), _length.set(lengths or ("in" if unit == "mph" else "mm"))
    try:
        yield
    finally:
        _length.reset(of_lengths)
        _unit.reset(token)


def system_now() -> UnitSystem:
    """The system of units in which texts are handed over now; the first with its speeds, where none has its lengths too.

    Examples
    --------
    >>> with speeds_in("kn"):
    ...     system_now().code
    'nautical'
    """
    return min(UNIT_SYSTEMS, key=lambda item: (item.speed_unit != _unit.get(), item.length_unit != _length.get()))


def said(text: str) -> str:
    """A text with its speeds and lengths in the units asked for by `speeds_in`, in as many digits as they have, and at
    least three.

    Frequencies per speed (Hz per km/h), what is no number, and the numbers of machines stay.

    Examples
    --------
    >>> with speeds_in("mph"):
    ...     said("13.8 km/h shown at 100 km/h, 6.918 Hz per km/h"), said("Set the gap to 0.80 to 1.20 mm.")
    ('8.57 mph shown at 62.1 mph, 6.918 Hz per km/h', 'Set the gap to 0.0315 to 0.0472 in.')
    >>> said("The display is right: -0.00 %, ± 0.2 %; +0.5 % and -0.05 % stay.")
    'The display is right: 0.00 %, ± 0.2 %; +0.5 % and −0.05 % stay.'
    >>> with speeds_in("mph"):
    ...     said("Enter 2154\\u00a0mm: 1562 mm per turn")
    'Enter 2154 mm: 61.50 in per turn'
    """
    return _in_units(text, with_lengths=True)


def said_formula(text: str) -> str:
    """The same for a formula with its numbers, which is worked out in millimetres and stays in them."""
    return _in_units(text, with_lengths=False)


def _in_units(text: str, *, with_lengths: bool) -> str:
    text = _SIGNED_ZERO.sub(r"\1", without_exponents(translated(text)))
    unit = _unit.get()
    if unit != "km/h" and "km/h" in text:
        text = _SPEEDS.sub(lambda found: _converted(found, KMH_PER[unit], unit), text)
    if _length.get() == "in" and with_lengths and " mm" in text:
        text = _LENGTHS.sub(lambda found: _converted(found, MM_PER_INCH, "in"), text)
    return _MINUS.sub("−", with_decimals(text.replace("\u00a0", " ")))


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


def _converted(found: re.Match[str], size: float, unit: str) -> str:
    return f"{re.sub(_NUMBER, lambda number: _number(number, size), found[1])}{found[2] or ''} {unit}"


def _number(number: re.Match[str], size: float) -> str:
    text = number[0].replace("−", "-")
    value = float(text) / size
    digits = max(len(text.strip("+-").replace(".", "").lstrip("0")), LEAST_DIGITS)
    places = max(digits - 1 - math.floor(math.log10(abs(value))), 0) if value else 0
    shown = f"{value:{'+' if text[0] == '+' else ''}.{places}f}"
    shown = shown.rstrip("0").rstrip(".") if "." in shown and size != MM_PER_INCH else shown
    return shown.replace("-", "−") if "−" in number[0] else shown


_keeping: ContextVar[bool] = ContextVar("keeping", default=False)


def kept(adapter: TypeAdapter[Any], value: object) -> Any:
    """A result as plain data to be kept: its texts with what they were made of, to be said later in any language and unit.

    The adapter's `validate_python` makes the result of it again.

    Examples
    --------
    >>> from speedchain.fields.messages import text_of
    >>> adapter = TypeAdapter(Words)
    >>> data = kept(adapter, text_of("{0:g} km/h", 100.0))
    >>> data["values"]
    [100.0]
    >>> with speeds_in("mph"):
    ...     adapter.dump_python(adapter.validate_python(data))
    '62.1 mph'
    """
    token = _keeping.set(True)
    try:
        return adapter.dump_python(value, mode="json")
    finally:
        _keeping.reset(token)


def _handed(text: str) -> Any:
    return as_data(text) if _keeping.get() else said(text)


def _handed_formula(text: str) -> Any:
    return as_data(text) if _keeping.get() else said_formula(text)


_STRING = WithJsonSchema({"type": "string"})
Words = Annotated[str, PlainValidator(from_data), PlainSerializer(_handed), _STRING]
"""A text of the core in a result. Names that people gave are plain `str`: nobody's words are changed."""
Formula = Annotated[str, PlainValidator(from_data), PlainSerializer(_handed_formula), _STRING]
"""A formula with its numbers: its lengths stay in millimetres, in which it is worked out."""
