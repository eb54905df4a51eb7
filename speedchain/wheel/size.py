"""What every notation of a tyre size comes to: one wheel's nominal geometry."""

from __future__ import annotations

from typing import Literal

from speedchain.fields import Formula, InputError, Words, text_of
from speedchain.results import result

MM_PER_INCH = 25.4

Family = Literal[
    "metric", "inch_diameter_first", "inch_section", "inch_low_section", "inch_wide", "lettered", "outer_mm", "etrto",
    "french",
    "inch_decimal", "inch_fraction", "diameter",
]  # fmt: skip


@result
class Marking:
    """What a size marking says: nominal geometry [mm], the words to show beside it, any doubt about it,
    and the bead seats [mm] the same size means in the other inch notation."""

    text: str
    family: Family
    understood: Words
    diameter_mm: float
    section_mm: float
    rim_mm: float
    radial: bool
    formula: Formula
    with_numbers: Formula
    caution: Words = ""
    other_rims_mm: tuple[int, ...] = ()


def within(text: str, what: str, *, value: float, low: float, high: float, unit: str) -> None:
    """Refuse a part of a marking that no tyre has. Raises `InputError`."""
    if not low <= value <= high:
        raise InputError(
            text_of(
                "In “{0}” the {1} is {2:g} {3}; tyres have {4:g} to {5:g} {3}.", text, what, value, unit, low, high
            ),
            remedy="Read the marking again.",
            limit=text_of("{0:g} to {1:g} {2}", low, high, unit),
            value=text,
        )
