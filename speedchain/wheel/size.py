"""What every notation of a tyre size comes to: one wheel's nominal geometry."""

from __future__ import annotations

from typing import Literal

from speedchain.fields import InputError
from speedchain.results import shared

MM_PER_INCH = 25.4

Family = Literal["metric", "inch_diameter_first", "inch_section", "etrto", "french", "inch_decimal", "inch_fraction"]


@shared
class Marking:
    """What a size marking says: nominal geometry [mm], the words to show beside it, any doubt about it,
    and the bead seats [mm] the same size means in the other inch notation."""

    text: str
    family: Family
    understood: str
    diameter_mm: float
    section_mm: float
    rim_mm: float
    radial: bool
    formula: str
    with_numbers: str
    caution: str = ""
    other_rims_mm: tuple[int, ...] = ()


def within(text: str, what: str, *, value: float, low: float, high: float, unit: str) -> None:
    """Refuse a part of a marking that no tyre has. Raises `InputError`."""
    if not low <= value <= high:
        raise InputError(
            f"In “{text}” the {what} is {value:g} {unit}; tyres have {low:g} to {high:g} {unit}.",
            remedy="Read the marking again.",
            limit=f"{low:g} to {high:g} {unit}",
            value=text,
        )
