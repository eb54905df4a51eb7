"""Tyre sizes of cycles: ETRTO, French, and the two inch notations that mean different rims."""

from __future__ import annotations

import re
from collections.abc import Callable
from fractions import Fraction

from speedchain.fields import InputError, joined, text_of
from speedchain.wheel.size import MM_PER_INCH, Family, Marking, within

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

INCH_DECIMAL_BEAD_SEATS_MM = {
    "12": 203, "14": 254, "16": 305, "18": 355, "20": 406, "22": 457, "24": 507, "26": 559, "27.5": 584,
    "28": 622, "29": 622,
}  # fmt: skip
"""Inch sizes with a decimal width, such as 26x2.1 → bead seat. ISO 5775 / ETRTO; values from memory."""

INCH_FRACTION_BEAD_SEATS_MM = {
    ("12 1/2", "2 1/4"): 203, ("12 1/2", "1 3/8"): 239, ("16", "1 1/2"): 330, ("16", "1 3/8"): 349,
    ("16", "1 3/4"): 317, ("18", "1 3/8"): 400,
    ("20", "1 1/8"): 451, ("20", "1 1/4"): 451, ("20", "1 3/8"): 451, ("20", "1 3/4"): 419,
    ("24", "1"): 520, ("24", "1 1/8"): 520, ("24", "1 3/8"): 540, ("24", "1 1/4"): 547,
    ("26", "1"): 571, ("26", "1 1/4"): 597, ("26", "1 3/8"): 590, ("26", "1 1/2"): 584, ("26", "1 3/4"): 571,
    ("27", "1"): 630, ("27", "1 1/8"): 630, ("27", "1 1/4"): 630,
    ("28", "1 1/2"): 635, ("28", "1 5/8"): 622,
}  # fmt: skip
"""Inch sizes with a fraction, such as 26x1 3/8 → bead seat. ISO 5775 / ETRTO; values from memory."""


def _cycle(
    text: str,
    *,
    family: Family,
    width: float,
    rim: int,
    understood: str,
    caution: str = "",
    other_rims: tuple[int, ...] = (),
) -> Marking:
    within(text, "tyre width", value=width, low=15, high=130, unit="mm")
    diameter = rim + 2 * width
    return Marking(
        text=text,
        family=family,
        understood=understood,
        diameter_mm=diameter,
        section_mm=width,
        rim_mm=float(rim),
        radial=False,
        formula="D = bead seat + 2·width",
        with_numbers=text_of("D = {0} + 2 × {1:g} = {2:g} mm", rim, width, diameter),
        caution=caution,
        other_rims_mm=other_rims,
    )


def read_etrto(text: str, match: re.Match[str]) -> Marking:
    """``W-B``: D = B + 2·W."""
    rim = int(match["rim"])
    within(text, "bead seat", value=rim, low=200, high=700, unit="mm")
    nearest = min(ISO_5775_BEAD_SEATS_MM, key=lambda seat: abs(seat - rim))
    caution = (
        ""
        if nearest == rim
        else text_of("{0}\u00a0mm is not a bead seat in ISO 5775; the nearest is {1}\u00a0mm.", rim, nearest)
    )
    understood = text_of("{0:g} mm wide on a {1}\u00a0mm bead seat", float(match["width"]), rim)
    return _cycle(text, family="etrto", width=float(match["width"]), rim=rim, understood=understood, caution=caution)


def read_french(text: str, match: re.Match[str]) -> Marking:
    """``700x28C``, ``650B x 47``: nominal size and letter stand for a bead seat."""
    nominal, letter = match["nominal"], match["letter"] or match["late_letter"]
    caution = ""
    if not letter:
        letter = {"700": "C", "650": "B"}.get(nominal, "A")
        rim = FRENCH_BEAD_SEATS_MM.get((nominal, letter))
        caution = text_of("No rim letter is written; {0}{1} ({2}\u00a0mm bead seat) is assumed.", nominal, letter, rim)
    rim = FRENCH_BEAD_SEATS_MM.get((nominal, letter))
    if rim is None:
        known = joined(", ", [size + mark for size, mark in FRENCH_BEAD_SEATS_MM])
        raise InputError(
            text_of("“{0}{1}” is not a French rim size.", nominal, letter),
            remedy=text_of("Known: {0}.", known),
            limit=known,
            value=text,
        )
    width = float(match["width"])
    understood = text_of("{0:g} mm wide on {1}{2}, a {3}\u00a0mm bead seat", width, nominal, letter, rim)
    return _cycle(text, family="french", width=width, rim=rim, understood=understood, caution=caution)


def read_inch_decimal(text: str, match: re.Match[str]) -> Marking:
    """``26x2.1``: the decimal says which rim; says too what a fraction would have meant."""
    nominal, width_in = match["nominal"], float(match["width"])
    rim = INCH_DECIMAL_BEAD_SEATS_MM.get(nominal)
    if rim is None:
        raise _unknown(text, text_of("{0} in with a decimal width", nominal), list(INCH_DECIMAL_BEAD_SEATS_MM))
    understood = text_of("{0:g} in wide with a decimal, so on a {1}\u00a0mm bead seat", width_in, rim)
    others = _other_seats(nominal, rim, "fraction")
    return _cycle(
        text,
        family="inch_decimal",
        width=width_in * MM_PER_INCH,
        rim=rim,
        understood=understood,
        caution=_other_notation(others, "fraction"),
        other_rims=others,
    )


def read_inch_fraction(text: str, match: re.Match[str]) -> Marking:
    """``26x1 3/8``: the fraction says which rim; says too what a decimal would have meant."""
    nominal, width = match["nominal"], " ".join(match["width"].split())
    rim = INCH_FRACTION_BEAD_SEATS_MM.get((nominal, width))
    if rim is None:
        raise _unknown(text, f"{nominal}x{width}", [f"{size}x{part}" for size, part in INCH_FRACTION_BEAD_SEATS_MM])
    whole, _, part = width.partition(" ")
    width_mm = float((int(whole) + Fraction(part or 0)) * Fraction("25.4"))
    understood = text_of("{0} in wide with a fraction, so on a {1}\u00a0mm bead seat", width, rim)
    others = _other_seats(nominal, rim, "decimal")
    return _cycle(
        text,
        family="inch_fraction",
        width=width_mm,
        rim=rim,
        understood=understood,
        caution=_other_notation(others, "decimal"),
        other_rims=others,
    )


def read_small_outer(text: str, match: re.Match[str]) -> Marking:
    """``8 1/2x2``, ``10x2.5``: wheels of small scooters, outer diameter and width in inches. Common practice."""
    outer_in, width_in = (_inches(match[name]) for name in ("nominal", "width"))
    if 2 * width_in >= outer_in:
        raise _unknown(text, text_of("a width of {0:g} in", width_in), ["8 1/2x2", "10x2.5"])
    outer = outer_in * MM_PER_INCH
    return Marking(
        text=text,
        family="inch_diameter_first",
        understood=text_of("{0:g} in across, {1:g} in wide", outer_in, width_in),
        diameter_mm=outer,
        section_mm=width_in * MM_PER_INCH,
        rim_mm=outer - 2 * width_in * MM_PER_INCH,
        radial=False,
        formula="D = 25.4·outer diameter in inches",
        with_numbers=f"D = 25.4 × {outer_in:g} = {outer:.1f} mm",
        caution="Such tyres differ by their makers: measure this one.",
    )


def _inches(text: str) -> float:
    """8 1/2, or 2.5."""
    return float(sum(Fraction(part) for part in text.split()))


def _other_seats(nominal: str, rim: int, other: str) -> tuple[int, ...]:
    if other == "decimal":
        found = {INCH_DECIMAL_BEAD_SEATS_MM[nominal]} if nominal in INCH_DECIMAL_BEAD_SEATS_MM else set()
    else:
        found = {seat for (size, _), seat in INCH_FRACTION_BEAD_SEATS_MM.items() if size == nominal}
    return tuple(sorted(found - {rim}))


def _other_notation(others: tuple[int, ...], other: str) -> str:
    seats = joined(" or ", [f"{seat}" for seat in others])
    return text_of("With a {0} it is another rim: {1}\u00a0mm bead seat.", other, seats) if seats else ""


def _unknown(text: str, what: str, known: list[str]) -> InputError:
    return InputError(
        text_of("In “{0}”, {1} is not a known size.", text, what),
        remedy="Enter the ETRTO number moulded beside it, such as 54-559.",
        limit=joined(", ", known),
        value=text,
    )


CYCLE_FORMS: tuple[tuple[re.Pattern[str], Callable[[str, re.Match[str]], Marking]], ...] = (
    (re.compile(r"(?P<width>\d{2,3}) ?- ?(?P<rim>\d{3})"), read_etrto),
    (
        re.compile(r"(?P<nominal>\d{3}) ?(?P<letter>[A-D])? ?[X-] ?(?P<width>\d{2,3}) ?(?P<late_letter>[A-D])?"),
        read_french,
    ),
    (
        re.compile(r"(?P<nominal>[5-9](?:\.\d| 1/2)?|1[01](?:\.\d)?) ?X ?(?P<width>\d(?:\.\d{1,3}| \d/\d)?)"),
        read_small_outer,
    ),
    (re.compile(r"(?P<nominal>\d{2}(?:\.\d)?) ?X ?(?P<width>\d\.\d{1,3})"), read_inch_decimal),
    (
        re.compile(r"(?P<nominal>\d{2}(?: 1/2)?) ?X ?(?P<width>\d(?: \d/\d)?)(?: ?X ?\d(?: \d/\d)?)?"),
        read_inch_fraction,
    ),
)
