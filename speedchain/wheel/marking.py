"""Size markings: what is moulded on the sidewall → diameter, with what was understood."""

from __future__ import annotations

import re
from collections.abc import Callable
from functools import lru_cache
from typing import Literal

from speedchain.errors import InputError
from speedchain.results import result

MM_PER_INCH = 25.4
MAX_MARKING = 40

Family = Literal["metric", "inch_diameter_first", "etrto", "french"]

ACCEPTED = (
    "205/55R16, 190/55ZR17, 120/70-17 (metric); 31x10.50R15, 25x8-12 (inch, diameter first); "
    "28-622 (ETRTO); 700x28C, 650B x 47 (French)"
)

ISO_5775_BEAD_SEATS_MM = (
    203, 239, 251, 254, 279, 288, 298, 305, 317, 330, 337, 340, 349, 355, 357, 369, 381, 387, 390, 400, 406, 419,
    428, 432, 438, 440, 451, 457, 484, 489, 490, 498, 501, 507, 520, 531, 534, 540, 541, 547, 559, 560, 565, 571,
    584, 585, 587, 590, 597, 609, 622, 630, 635, 642,
)  # fmt: skip
"""Nominal bead-seat diameters in use for cycle tyres. ISO 5775 / ETRTO; values from memory."""

FRENCH_BEAD_SEATS_MM = {
    ("700", "A"): 642, ("700", "B"): 635, ("700", "C"): 622, ("700", "D"): 587,
    ("650", "A"): 590, ("650", "B"): 584, ("650", "C"): 571, ("600", "A"): 541,
    ("550", "A"): 490, ("500", "A"): 440, ("450", "A"): 390, ("400", "A"): 340,
}  # fmt: skip
"""French letter sizes → bead seat. ISO 5775 / ETRTO; values from memory."""


@result
class Marking:
    """What a size marking says: one wheel's nominal geometry [mm] and the words to show beside it."""

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


@lru_cache(maxsize=4096)
def parse_marking(text: str) -> Marking:
    """Read a size marking.

    Metric ``W/A R r``: D = 25.4·r + 2·W·A/100; inch diameter first: D = 25.4·d;
    ETRTO ``W-B`` and French: D = B + 2·W (a cycle tyre is about as high as it is wide).

    Parameters: `text`, the marking (at most 40 characters). Returns a `Marking` [mm].
    Raises `InputError` showing the accepted forms.
    References: metric form, UN Regulation 30 (D = d + 2H); ISO 5775-1 for ETRTO; common practice.

    >>> m = parse_marking("205/55R16 91V")
    >>> round(m.diameter_mm, 1), m.radial
    (631.9, True)
    >>> parse_marking("28-622").diameter_mm
    678.0
    >>> round(parse_marking("29.5x10.5-15").diameter_mm, 1)
    749.3
    """
    if len(text) > MAX_MARKING:
        raise _unread(text, f"This marking has {len(text)} characters; the limit is {MAX_MARKING}.")
    return _parse(" ".join(text.upper().replace("×", "X").replace("*", "X").replace(",", ".").split()))


def _parse(text: str) -> Marking:
    if not text:
        raise _unread(text, "The size marking is empty.")
    for pattern, read in _FORMS:
        if match := pattern.fullmatch(text):
            return read(text, match)
    if re.fullmatch(r"\d{2}(\.\d+)? ?X ?\d[\d. /]*", text):
        raise InputError(
            f"“{text}” is an inch cycle size; its decimal and fraction forms fit different rims.",
            remedy="Type the ETRTO number moulded beside it, such as 54-559, or tape the wheel.",
            limit=ACCEPTED,
            value=text,
        )
    raise _unread(text, f"“{text}” is not a size marking that can be read.")


def _unread(text: str, message: str) -> InputError:
    return InputError(message, remedy=f"Write it as {ACCEPTED}.", limit=ACCEPTED, value=text)


def _within(text: str, what: str, value: float, low: float, high: float, unit: str) -> None:
    if not low <= value <= high:
        raise InputError(
            f"In “{text}” the {what} is {value:g} {unit}; tyres have {low:g} to {high:g} {unit}.",
            remedy="Read the marking again.",
            limit=f"{low:g} to {high:g} {unit}",
            value=text,
        )


def _metric(text: str, match: re.Match[str]) -> Marking:
    width, aspect, rim_in = float(match["width"]), float(match["aspect"]), float(match["rim"])
    _within(text, "section width", width, 50, 500, "mm")
    _within(text, "aspect ratio", aspect, 20, 110, "%")
    _within(text, "rim", rim_in, 5, 30, "in")
    rim_mm = rim_in * MM_PER_INCH
    diameter = rim_mm + 2 * width * aspect / 100
    radial = "R" in match["build"]
    return Marking(
        text,
        "metric",
        f"{width:g} mm wide, sidewall {aspect:g} % of that, {'radial' if radial else 'diagonal or belted'}, "
        f"{rim_in:g} in rim",
        diameter,
        width,
        rim_mm,
        radial,
        "D = 25.4·rim + 2·width·aspect/100",
        f"D = 25.4 × {rim_in:g} + 2 × {width:g} × {aspect:g}/100 = {diameter:.1f} mm",
    )


def _inch_diameter_first(text: str, match: re.Match[str]) -> Marking:
    outer, width, rim_in = float(match["outer"]), float(match["width"]), float(match["rim"])
    _within(text, "outer diameter", outer, 6, 60, "in")
    _within(text, "width", width, 1.5, 25, "in")
    _within(text, "rim", rim_in, 3, 30, "in")
    if rim_in >= outer:
        raise InputError(
            f"In “{text}” the rim ({rim_in:g} in) is not smaller than the tyre ({outer:g} in).",
            remedy="Write outer diameter x width - rim.",
            limit=f"below {outer:g} in",
            value=text,
        )
    diameter, radial = outer * MM_PER_INCH, match["build"] == "R"
    return Marking(
        text,
        "inch_diameter_first",
        f"{outer:g} in across, {width:g} in wide, {'radial' if radial else 'diagonal'}, {rim_in:g} in rim",
        diameter,
        width * MM_PER_INCH,
        rim_in * MM_PER_INCH,
        radial,
        "D = 25.4·outer diameter in inches",
        f"D = 25.4 × {outer:g} = {diameter:.1f} mm",
    )


def _cycle(text: str, family: Family, width: float, rim: int, words: str, caution: str) -> Marking:
    _within(text, "tyre width", width, 15, 130, "mm")
    diameter = rim + 2 * width
    return Marking(
        text,
        family,
        words,
        diameter,
        width,
        float(rim),
        False,
        "D = bead seat + 2·width",
        f"D = {rim} + 2 × {width:g} = {diameter:g} mm",
        caution,
    )


def _etrto(text: str, match: re.Match[str]) -> Marking:
    rim = int(match["rim"])
    _within(text, "bead seat", rim, 200, 700, "mm")
    nearest = min(ISO_5775_BEAD_SEATS_MM, key=lambda seat: abs(seat - rim))
    caution = "" if nearest == rim else f"{rim} mm is not a bead seat in ISO 5775; the nearest is {nearest} mm."
    words = f"{float(match['width']):g} mm wide on a {rim} mm bead seat"
    return _cycle(text, "etrto", float(match["width"]), rim, words, caution)


def _french(text: str, match: re.Match[str]) -> Marking:
    nominal, letter = match["nominal"], match["letter"] or match["late_letter"]
    caution = ""
    if not letter:
        letter = {"700": "C", "650": "B"}.get(nominal, "A")
        rim = FRENCH_BEAD_SEATS_MM.get((nominal, letter))
        caution = f"No rim letter is written; {nominal}{letter} ({rim} mm bead seat) was understood."
    rim = FRENCH_BEAD_SEATS_MM.get((nominal, letter))
    if rim is None:
        known = ", ".join(size + mark for size, mark in FRENCH_BEAD_SEATS_MM)
        raise InputError(
            f"“{nominal}{letter}” is not a French rim size.", remedy=f"Known are {known}.", limit=known, value=text
        )
    width = float(match["width"])
    words = f"{width:g} mm wide on {nominal}{letter}, a {rim} mm bead seat"
    return _cycle(text, "french", width, rim, words, caution)


_FORMS: tuple[tuple[re.Pattern[str], Callable[[str, re.Match[str]], Marking]], ...] = (
    (
        re.compile(
            r"(?:P|LT|ST|T)? ?(?P<width>\d{1,4}) ?/ ?(?P<aspect>\d{1,3}) ?(?P<build>ZR|R|VR|HR|SR|B|D|-) ?"
            r"(?P<rim>\d{1,3}(?:\.\d)?)(?: ?(?:M/C)?)?(?: ?\(?\d{2,3}(?:/\d{2,3})? ?[A-Z]\d?\)?)?(?: (?:XL|RF|TL|TT))*"
        ),
        _metric,
    ),
    (
        re.compile(
            r"(?:LT)?(?P<outer>\d{1,2}(?:\.\d+)?) ?X ?(?P<width>\d{1,2}(?:\.\d+)?) ?(?P<build>R|B|D|-) ?"
            r"(?P<rim>\d{1,2}(?:\.\d)?)(?:LT)?(?: ?\d{2,3} ?[A-Z]\d?)?"
        ),
        _inch_diameter_first,
    ),
    (re.compile(r"(?P<width>\d{2,3}) ?- ?(?P<rim>\d{3})"), _etrto),
    (
        re.compile(r"(?P<nominal>\d{3}) ?(?P<letter>[A-D])? ?X ?(?P<width>\d{2,3}) ?(?P<late_letter>[A-D])?"),
        _french,
    ),
)
