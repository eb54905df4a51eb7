"""What people type → one number in the field's unit.

A bare number takes the field's unit; anything else is converted by `pint`. Decimal commas, simple arithmetic,
fractions (``26 7/8"``), thin and non-breaking spaces are read; nonsense is refused with the limit.
"""

from __future__ import annotations

import ast
import math
import operator
import re
from collections.abc import Callable
from fractions import Fraction
from functools import cache, lru_cache
from typing import Any

import pint

from speedchain.fields.errors import InputError
from speedchain.fields.messages import text_of
from speedchain.fields.quantities import QuantityKind

MAX_TEXT = 60
AS_SHOWN = 0.005
"""Relative: half of the last of three digits."""


@cache
def registry() -> pint.UnitRegistry[Any]:
    """The unit registry with the trade's short forms of speed added."""
    ureg: pint.UnitRegistry[Any] = pint.UnitRegistry(autoconvert_offset_to_baseunit=False)
    ureg.define("@alias kilometer_per_hour = kmh")
    ureg.define("@alias knot = kts")
    ureg.define("hm = 100 * meter")
    return ureg


_NUMBER = re.compile(
    r"""^(?P<sign>[+\-−]?)
    (?: (?P<whole>\d+)[ ]+(?P<fraction>\d+/\d+)     # 26 7/8
      | (?P<lone_fraction>\d+/\d+)                  # 7/8
      | (?P<decimal>\d{1,3}(?:[ ]\d{3})+(?:[.,]\d+)?|\d*[.,]?\d+(?:[eE][+\-]?\d+)?|\d+[.,]) )
    [ ]*(?P<unit>[^\d].*)?$""",
    re.VERBOSE,
)
_SUM = re.compile(
    r"""(?P<sum>[(]?[ ]*\d[\d.,]*                      # a number, and at least one operation
        (?:[ ]*[*×·÷+][ ]*[(]?[ ]*\d[\d.,]*[)]? | [ ]*/[ ]*\d[\d.,]*[)]? | [ ]+[-−][ ]+\d[\d.,]*[)]?)+)
    [ ]*(?P<unit>[^\d*×·÷+()/ ].*)?""",
    re.VERBOSE,
)
_ONE_FRACTION = re.compile(r"\d+/\d+(?![\d ]*[*×·÷+/])")
_GROUPED = re.compile(r"\b[1-9]\d{0,2},\d{3}\b")
_OPERATIONS: dict[type[ast.operator], Callable[[float, float], float]] = {
    ast.Add: operator.add, ast.Sub: operator.sub, ast.Mult: operator.mul, ast.Div: operator.truediv,
}  # fmt: skip
_WRITTEN_OHMS = re.compile(r"(\d+)([RkKM])(\d*)")
_PER = re.compile(r"(?:1?/|per )[ ]*([A-Za-z]+)")
_HZ_PER = re.compile(r"Hz (?:per |/ ?)([a-z]+)")
_UNIT = re.compile(r"[A-Za-zµ%]+(?:/[A-Za-z]+)?")
_QUOTES = {'"': "in", "″": "in", "”": "in", "''": "in", "'": "ft", "′": "ft", "’": "ft"}


def parse_quantity(kind: QuantityKind, value: object) -> float:
    """One typed value as a plain number in the field's unit.

    Parameters
    ----------
    `kind`, what the field holds; `value`, a number or text (at most 60 characters).

    Returns
    -------
    The number [the field's unit], inside the field's limits.

    Raises
    ------
    `InputError` naming what was typed, the limit and the remedy.

    References
    ----------
    Conversions by `pint` (1 in = 25.4 mm exactly, 1 kn = 1.852 km/h exactly).

    Examples
    --------
    >>> from speedchain.fields.quantities import Diameter, PulsesPerKm, PulsesPerNauticalMile, Speed, quantity_of
    >>> parse_quantity(quantity_of(Diameter), "29.5in")
    749.3
    >>> parse_quantity(quantity_of(Diameter), '26 7/8"')
    682.625
    >>> parse_quantity(quantity_of(Diameter), "26+7/8 in"), parse_quantity(quantity_of(Diameter), "2 × 330")
    (682.625, 660.0)
    >>> parse_quantity(quantity_of(Speed), "10 kn")
    18.52
    >>> round(parse_quantity(quantity_of(PulsesPerKm), "40000 per mile"), 1)
    24854.8
    >>> parse_quantity(quantity_of(PulsesPerNauticalMile), "5.6 Hz per knot")
    20160.0
    >>> parse_quantity(quantity_of(Diameter), "61.2 m")
    Traceback (most recent call last):
        ...
    speedchain.fields.errors.InputError: Diameter must be 10 to 6000 mm, not 61.2 m. Enter ...
    """
    if type(value) is float or type(value) is int:
        number = _finite(kind, value)
    elif isinstance(value, str):
        if len(value) > MAX_TEXT:
            raise _unusable(
                kind, value, text_of("This text has {0} characters; the limit is {1}.", len(value), MAX_TEXT)
            )
        number = _parse_text(kind, value)
    else:
        raise _unusable(kind, value, text_of("{0} must be a number.", _name(kind)))
    if not kind.minimum <= number <= kind.maximum:
        raise InputError(
            text_of("{0} must be {1}, not {2}.", _name(kind), kind.limit, _typed(value, kind)),
            remedy=_remedy(kind),
            limit=kind.limit,
            value=value,
        )
    if kind.integer and number != int(number):
        raise _unusable(kind, value, text_of("{0} must be a whole number, not {1}.", _name(kind), _typed(value, kind)))
    return number


def parse_count(kind: QuantityKind, value: object) -> int:
    """Like `parse_quantity`, for whole numbers.

    Examples
    --------
    >>> from speedchain.fields.quantities import Count, quantity_of
    >>> parse_count(quantity_of(Count), "48")
    48
    """
    return int(parse_quantity(kind, value))


@lru_cache(maxsize=4096)
def _parse_text(kind: QuantityKind, text: str) -> float:
    tidy = " ".join(text.split())  # also folds non-breaking and thin spaces
    if not tidy:
        raise _unusable(kind, text, text_of("The {0} is empty.", kind.name), missing=True)
    if kind.unit == "ohm":
        tidy = _ohms(tidy)
    if (found := _SUM.fullmatch(tidy)) is not None and not _ONE_FRACTION.match(tidy):
        tidy = f"{_calculated(kind, text, found['sum'])!r} {found['unit'] or ''}".strip()
    match = _NUMBER.match(tidy)
    if match is None:
        raise _unusable(kind, text, text_of("“{0}” is not a valid {1}.", tidy[:24], kind.name))
    number = _number(kind, text, match)
    unit = (match["unit"] or "").strip()
    return _convert(kind, text, number, unit) if unit else number


def _calculated(kind: QuantityKind, text: str, expression: str) -> float:
    """Simple arithmetic, as people write it: 660*3.14, 26+7/8, 3 × 2070, (2100 - 12)/3.

    The tree is that of Python's own parser; numbers and the four operations are all that is carried out.
    """
    if (grouped := _GROUPED.search(expression)) is not None:
        point, whole = grouped[0].replace(",", "."), grouped[0].replace(",", "")
        raise _unusable(
            kind,
            text,
            text_of("“{0}” can be read as {1} or as {2}.", grouped[0], point, whole),
            "Write one of the two.",
        )
    plain = expression.replace("×", "*").replace("·", "*").replace("÷", "/").replace("−", "-").replace(",", ".")
    try:
        return _finite(kind, _carried_out(ast.parse(plain.strip(), mode="eval").body))
    except (SyntaxError, ValueError, ZeroDivisionError, OverflowError, RecursionError):
        raise _unusable(kind, text, text_of("“{0}” cannot be calculated.", expression.strip()[:24])) from None


def _carried_out(node: ast.expr) -> float:
    match node:
        case ast.Constant(value=int() | float() as value) if not isinstance(value, bool):
            return float(value)
        case ast.BinOp(left=left, op=operation, right=right) if type(operation) in _OPERATIONS:
            return _OPERATIONS[type(operation)](_carried_out(left), _carried_out(right))
        case ast.UnaryOp(op=ast.USub(), operand=operand):
            return -_carried_out(operand)
        case _:
            raise ValueError("only numbers and + - * / are read")


def _ohms(text: str) -> str:
    """Resistances as they are printed on parts and plans, 4k7 or 4.7 kΩ, in plain units.

    Examples
    --------
    >>> _ohms("4k7"), _ohms("2M"), _ohms("10 kΩ")
    ('4.7 kohm', '2.0 Mohm', '10 kohm')
    """
    if (found := _WRITTEN_OHMS.fullmatch(text)) is not None:
        prefix = {"R": "", "K": "k"}.get(found[2], found[2])
        return text_of("{0}.{1} {2}ohm", found[1], found[3] or 0, prefix)
    return text.replace("Ω", "ohm")


def _number(kind: QuantityKind, text: str, match: re.Match[str]) -> float:
    if (fraction := match["fraction"] or match["lone_fraction"]) is not None:
        try:
            number = float(Fraction(fraction) + int(match["whole"] or 0))
        except (ZeroDivisionError, OverflowError):
            raise _unusable(kind, text, text_of("“{0}” divides by zero or is too large.", fraction)) from None
    else:
        decimal = match["decimal"]
        if re.fullmatch(r"[1-9]\d{0,2},\d{3}", decimal):
            point, plain = decimal.replace(",", "."), decimal.replace(",", "")
            raise _unusable(
                kind,
                text,
                text_of("“{0}” can be read as {1} or as {2}.", decimal, point, plain),
                "Write one of the two.",
            )
        number = _finite(kind, float(decimal.replace(" ", "").replace(",", ".")))
    return -number if match["sign"] in {"-", "−"} else number


def _convert(kind: QuantityKind, text: str, number: float, unit: str) -> float:
    unit = _QUOTES.get(unit, unit)
    unit = _HZ_PER.sub(r"Hz/\1", unit)
    if unit in (kind.unit, kind.text):
        return number
    if kind.unit.startswith("1/") and (per := _PER.fullmatch(unit)) is not None:
        unit = f"1/{per[1]}"
    elif kind.unit in {"", "%"} or not _UNIT.fullmatch(unit):
        wanted = text_of("must be in {0}", kind.unit) if kind.unit else "must be a number without a unit"
        raise _unusable(kind, text, text_of("{0} {1}, not “{2}”.", _name(kind), wanted, unit[:16]))
    ureg = registry()
    try:
        converted = ureg.Quantity(number, ureg.parse_units(unit)).to(kind.unit).magnitude
    except (pint.PintError, AttributeError, TypeError, ValueError, OverflowError, ArithmeticError):
        raise _unusable(kind, text, text_of("“{0}” is not a unit of {1}.", unit[:16], kind.name)) from None
    return _at_a_limit(kind, float(f"{_finite(kind, converted):.12g}"))  # drops the last-bit noise of the conversion


def _at_a_limit(kind: QuantityKind, value: float) -> float:
    """A limit is taken as it is shown in another unit, with three digits: 19.7 in of at most 500 mm is 500 mm."""
    bound = min(max(value, kind.minimum), kind.maximum)
    return bound if abs(value - bound) <= AS_SHOWN * abs(bound) else value


def _finite(kind: QuantityKind, value: float) -> float:
    try:
        number = float(value)
    except OverflowError:
        number = math.inf
    if not math.isfinite(number):
        raise _unusable(kind, value, text_of("{0} must be a finite number.", _name(kind)))
    return number


def _typed(value: object, kind: QuantityKind) -> str:
    if isinstance(value, str):
        return " ".join(value.split())[:24]
    return (
        text_of("{0:g} {1}", value, kind.unit).strip()
        if isinstance(value, float)
        else text_of("{0} {1}", str(value)[:24], kind.unit).strip()
    )


def _name(kind: QuantityKind) -> str:
    return kind.name[:1].upper() + kind.name[1:]


def _remedy(kind: QuantityKind) -> str:
    return text_of("Enter a value such as {0}.", kind.examples)


def _unusable(
    kind: QuantityKind, value: object, message: str, remedy: str = "", *, missing: bool = False
) -> InputError:
    return InputError(message, remedy=remedy or _remedy(kind), limit=kind.limit, value=value, missing=missing)
