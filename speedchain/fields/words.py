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
from functools import lru_cache
from string import Formatter
from typing import Annotated, Any, Literal, NamedTuple

from pydantic import PlainSerializer, PlainValidator, TypeAdapter, WithJsonSchema

from speedchain.fields.constants import KM_PER_MILE, KM_PER_NAUTICAL_MILE, MM_PER_INCH
from speedchain.fields.messages import Given, Message, as_data, from_data, language_now, looked_up
from speedchain.results import result

SpeedUnit = Literal["km/h", "mph", "kn"]
LengthUnit = Literal["mm", "in"]
KMH_PER: dict[SpeedUnit, float] = {"km/h": 1.0, "mph": KM_PER_MILE, "kn": KM_PER_NAUTICAL_MILE}
LEAST_DIGITS = 3


SystemCode = Literal["metric", "imperial", "miles_mm", "nautical"]


@result
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
_PLACES = "\ue000-\uf8ff"
"""Letters that no text of ours uses: each stands for a value while a template is read."""
_PLACE = re.compile(f"([{_PLACES}])")
_SIGNED_ZERO = re.compile(r"(?<![\w.])[-+](0(?:\.0+)?)(?![\d.])")
"""A sign before nothing says nothing: -0.00 %."""
_MINUS = re.compile(rf"(?<![\w.,)%°{_PLACES}-])-(?=[\d{_PLACES}])")
"""A hyphen before a number, where it is no range, date or name: a minus sign."""
_DECIMALS = re.compile(r"(?<![\w.])(\d+)\.(?=\d+(?!\w|\.\d))")
"""The point of a number that stands alone: none of a marking (26x2.1) or a version (v1.5)."""
_NUMBER = r"[-−+]?\d+(?:\.\d+)?"
_ONE = rf"(?:{_NUMBER}|[-−+]?[{_PLACES}])"
_LIST = rf"((?:{_ONE}(?:,| to| and| or| ±) )*{_ONE})"
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
    """The system of units in which texts are handed over now; the first with its speeds, where none has its lengths
    too.

    Examples
    --------
    >>> with speeds_in("kn"):
    ...     system_now().code
    'nautical'
    """
    return min(UNIT_SYSTEMS, key=lambda item: (item.speed_unit != _unit.get(), item.length_unit != _length.get()))


def said(text: str) -> str:
    """A text as it is handed over: in the language asked for by `spoken_in`, its speeds and lengths in the units asked
    for by `speeds_in`, in as many digits as they have there, and at least three.

    What is read is the template, never the finished text: a value is converted and written as the number that it is,
    and what a person gave (`Given`) is handed on as it stands; so is what was said once. Frequencies per speed (Hz per
    km/h) and the numbers of machines stay.

    Examples
    --------
    >>> from speedchain.fields.messages import text_of
    >>> with speeds_in("mph"):
    ...     said(text_of("{0:.1f} km/h shown, {1:.3f} Hz per km/h", 13.8, 6.918)), said(
    ...         "Set the gap to 0.80 to 1.20 mm.")
    ('8.57 mph shown, 6.918 Hz per km/h', 'Set the gap to 0.0315 to 0.0472 in.')
    >>> with speeds_in("mph"):
    ...     said(text_of("{0:.1f} mm", 0.25)), said(text_of("{0:.1f} km/h", 0.44))
    ('0.00984 in', '0.273 mph')
    >>> said(text_of("The display is right: {0:+.2f} %, ± 0.2 %; {1:+.2f} % stays.", -0.001, -0.05))
    'The display is right: 0.00 %, ± 0.2 %; −0.05 % stays.'
    >>> with speeds_in("mph"):
    ...     said("Enter 2154\\u00a0mm: 1562 mm per turn")
    'Enter 2154 mm: 61.50 in per turn'
    """
    return Given(_rendered(text, _Ways(_unit.get(), _length.get(), language_now().decimal), None))


def said_formula(text: str) -> str:
    """The same for a formula with its numbers, which is worked out in millimetres and stays in them."""
    return Given(_rendered(text, _Ways(_unit.get(), "mm", language_now().decimal), None))


class _Ways(NamedTuple):
    """The units and the mark before decimals in which texts are written."""

    speed: SpeedUnit
    length: LengthUnit
    decimal: str


class _Value(NamedTuple):
    """A value's place in a template: its name there, how it is written, and the size of the unit that it gets."""

    name: str
    spec: str
    size: float | None


def _rendered(text: str, ways: _Ways, size: float | None) -> str:
    if isinstance(text, Given):
        return str(text)
    if not isinstance(text, Message):
        found = looked_up(text)
        return "".join([str(piece) for piece in _pieces(_escaped(found), ways, size)])
    pieces = _pieces(looked_up(text.template), ways, size)
    return "".join([piece if isinstance(piece, str) else _written(piece, text, ways) for piece in pieces])


def _escaped(text: str) -> str:
    return text.replace("{", "{{").replace("}", "}}") if "{" in text or "}" in text else text


@lru_cache(maxsize=16384)
def _pieces(template: str, ways: _Ways, size: float | None) -> tuple[str | _Value, ...]:
    """The texts of a template, written in these ways, and the values between them. Where the template stands before a
    unit that was converted (as a range does), `size` is that unit's, for every number in it."""
    shape, values = _shape(without_exponents(template))
    sizes: dict[str, float] = {}
    if size is not None:
        shape = _converted(shape, size, sizes)
    if ways.speed != "km/h" and "km/h" in shape:
        one = KMH_PER[ways.speed]
        shape = _SPEEDS.sub(lambda found: f"{_converted(found[1], one, sizes)}{found[2] or ''} {ways.speed}", shape)
    if ways.length == "in" and " mm" in shape:
        shape = _LENGTHS.sub(lambda found: f"{_converted(found[1], MM_PER_INCH, sizes)} in", shape)
    pieces: list[str | _Value] = []
    for piece in _PLACE.split(_signed(shape)):
        if piece in values:
            name, spec = values[piece]
            pieces.append(_Value(name, spec, sizes.get(piece)))
        elif piece:
            pieces.append(_marked(piece, ways.decimal).replace("\u00a0", " "))
    return tuple(pieces)


def _shape(template: str) -> tuple[str, dict[str, tuple[str, str]]]:
    """A template with a letter for each value, and the name and the form of each."""
    shape = ""
    values: dict[str, tuple[str, str]] = {}
    for place, (literal, name, spec, _) in enumerate(Formatter().parse(template)):
        shape += literal
        if name is not None:
            letter = chr(ord(_PLACES[0]) + place)
            values[letter] = name or str(len(values)), spec or ""
            shape += letter
    return shape, values


def _converted(numbers: str, size: float, sizes: dict[str, float]) -> str:
    for letter in _PLACE.findall(numbers):
        sizes[letter] = size
    return re.sub(_NUMBER, lambda number: _number(number[0], float(number[0].replace("−", "-")) / size, size), numbers)


def _written(place: _Value, text: Message, ways: _Ways) -> str:
    value = text.values[int(place.name)] if place.name.isdigit() else text.named[place.name]
    if isinstance(value, str):
        return _rendered(value, ways, place.size)
    number = format(value, place.spec)
    if place.size is not None and isinstance(value, int | float):
        number = _number(number, value / place.size, place.size)
    return _marked(_signed(number), ways.decimal)


def _signed(text: str) -> str:
    """A text whose numbers are written out, with a sign that is a minus and none before zero."""
    return _MINUS.sub("−", _SIGNED_ZERO.sub(r"\1", without_exponents(text)))


def _marked(text: str, decimal: str) -> str:
    return text if decimal == "." else _DECIMALS.sub(rf"\1{decimal}", text)


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


def _number(written: str, value: float, size: float) -> str:
    """A value in another unit, with the digits of the number as it was written, its sign and its kind of minus."""
    digits = max(len(without_exponents(written).strip("+-−").replace(".", "").lstrip("0")), LEAST_DIGITS)
    places = max(digits - 1 - math.floor(math.log10(abs(value))), 0) if value else 0
    shown = f"{value:{'+' if written[0] == '+' else ''}.{places}f}"
    shown = shown.rstrip("0").rstrip(".") if "." in shown and size != MM_PER_INCH else shown
    return shown.replace("-", "−") if "−" in written else shown


_keeping: ContextVar[bool] = ContextVar("keeping", default=False)


def kept(adapter: TypeAdapter[Any], value: object) -> Any:
    """A result as plain data to be kept: its texts with what they were made of, to be said later in any language and
    unit.

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
