"""Tyre sizes of cars, motorcycles, karts and what rolls off the road."""

from __future__ import annotations

import re
from collections.abc import Callable

from speedchain.fields import InputError, text_of
from speedchain.wheel.size import MM_PER_INCH, Marking, within

UNWRITTEN_ASPECT_PCT = 82
"""Aspect of a metric tyre whose marking leaves it out, such as 155R13. Common practice."""
WIDE_ASPECT_PCT = 87
"""Aspect of tyres of trucks and tractors whose marking has the width in inches alone, 11R22.5 or 12.4-24: 84 to 90 %.
Common practice; 11R22.5 is 1050 mm across, 12.4-24 1160 mm, from memory."""
LETTERED = {
    "MH": 80, "MJ": 90, "ML": 100, "MM": 90, "MN": 110, "MP": 120, "MR": 120, "MT": 130, "MU": 140, "MV": 150,
}  # fmt: skip
"""Widths of alphanumeric motorcycle sizes [mm]: MT90 is 130/90. Common practice; from memory."""
INCH_SECTION_ASPECT_PCT = 100
"""Aspect of old motorcycle inch sizes such as 3.00-18: about as high as wide. Common practice."""


def read_metric(text: str, match: re.Match[str]) -> Marking:
    """``W/A R r``: D = 25.4·r + 2·W·A/100; with no aspect written, 82 %."""
    written = match["aspect"]
    width, rim_in = float(match["width"]), float(match["rim"])
    aspect = float(written or UNWRITTEN_ASPECT_PCT)
    within(text, "section width", value=width, low=50, high=500, unit="mm")
    within(text, "aspect ratio", value=aspect, low=20, high=110, unit="%")
    within(text, "rim", value=rim_in, low=5, high=30, unit="in")
    rim_mm = rim_in * MM_PER_INCH
    diameter = rim_mm + 2 * width * aspect / 100
    radial = "R" in match["build"]
    return Marking(
        text=text,
        family="metric",
        understood=text_of(
            "{0:g} mm wide, sidewall {1:g} % of that, {2}, {3:g} in rim",
            width,
            aspect,
            "radial" if radial else "diagonal or belted",
            rim_in,
        ),
        diameter_mm=diameter,
        section_mm=width,
        rim_mm=rim_mm,
        radial=radial,
        formula="D = 25.4·rim + 2·width·aspect/100",
        with_numbers=f"D = 25.4 × {rim_in:g} + 2 × {width:g} × {aspect:g}/100 = {diameter:.1f} mm",
        caution="" if written else text_of("No aspect ratio is written; {0} % was understood.", UNWRITTEN_ASPECT_PCT),
    )


def read_inch_diameter_first(text: str, match: re.Match[str]) -> Marking:
    """``D x W - r``: the diameter is written."""
    outer, width, rim_in = float(match["outer"]), float(match["width"]), float(match["rim"])
    within(text, "outer diameter", value=outer, low=6, high=60, unit="in")
    within(text, "width", value=width, low=1.5, high=25, unit="in")
    within(text, "rim", value=rim_in, low=3, high=30, unit="in")
    if rim_in >= outer:
        raise InputError(
            text_of("In “{0}” the rim ({1:g} in) is not smaller than the tyre ({2:g} in).", text, rim_in, outer),
            remedy="Write outer diameter x width - rim.",
            limit=text_of("below {0:g} in", outer),
            value=text,
        )
    diameter, radial = outer * MM_PER_INCH, match["build"] == "R"
    return Marking(
        text=text,
        family="inch_diameter_first",
        understood=text_of(
            "{0:g} in across, {1:g} in wide, {2}, {3:g} in rim",
            outer,
            width,
            "radial" if radial else "diagonal",
            rim_in,
        ),
        diameter_mm=diameter,
        section_mm=width * MM_PER_INCH,
        rim_mm=rim_in * MM_PER_INCH,
        radial=radial,
        formula="D = 25.4·outer diameter in inches",
        with_numbers=f"D = 25.4 × {outer:g} = {diameter:.1f} mm",
    )


def read_inch_section(text: str, match: re.Match[str]) -> Marking:
    """``W - r`` in inches, old motorcycle and scooter sizes: D = 25.4·(r + 2·W)."""
    width, rim_in = float(match["width"]), float(match["rim"])
    within(text, "section width", value=width, low=1.5, high=8, unit="in")
    within(text, "rim", value=rim_in, low=6, high=23, unit="in")
    diameter = MM_PER_INCH * (rim_in + 2 * width * INCH_SECTION_ASPECT_PCT / 100)
    return Marking(
        text=text,
        family="inch_section",
        understood=text_of("{0:g} in wide and about as high, {1:g} in rim", width, rim_in),
        diameter_mm=diameter,
        section_mm=width * MM_PER_INCH,
        rim_mm=rim_in * MM_PER_INCH,
        radial=False,
        formula="D = 25.4·(rim + 2·width)",
        with_numbers=f"D = 25.4 × ({rim_in:g} + 2 × {width:g}) = {diameter:.1f} mm",
    )


def read_two_sections(text: str, match: re.Match[str]) -> Marking:
    """``W/H - r`` in inches, such as 4.80/4.00-8 of trailers and barrows: D = 25.4·(r + 2·H), H the second number."""
    width, height, rim_in = float(match["width"]), float(match["height"]), float(match["rim"])
    within(text, "section width", value=width, low=1.5, high=10, unit="in")
    within(text, "second width", value=height, low=1.5, high=10, unit="in")
    within(text, "rim", value=rim_in, low=2, high=20, unit="in")
    diameter = MM_PER_INCH * (rim_in + 2 * height)
    return Marking(
        text=text,
        family="inch_low_section",
        understood=text_of("{0:g} in wide, {1:g} in high, {2:g} in rim", width, height, rim_in),
        diameter_mm=diameter,
        section_mm=width * MM_PER_INCH,
        rim_mm=rim_in * MM_PER_INCH,
        radial=False,
        formula="D = 25.4·(rim + 2·second width)",
        with_numbers=f"D = 25.4 × ({rim_in:g} + 2 × {height:g}) = {diameter:.1f} mm",
        caution="Such tyres differ by their makers: measure this one.",
    )


def read_wide(text: str, match: re.Match[str]) -> Marking:
    """``W R r`` in whole inches, trucks and tractors: D = 25.4·(r + 2·0.87·W)."""
    width, rim_in = float(match["width"]), float(match["rim"])
    within(text, "section width", value=width, low=6, high=24, unit="in")
    within(text, "rim", value=rim_in, low=12, high=46, unit="in")
    diameter, radial = MM_PER_INCH * (rim_in + 2 * width * WIDE_ASPECT_PCT / 100), match["build"] == "R"
    return Marking(
        text=text,
        family="inch_wide",
        understood=text_of("{0:g} in wide, {1}, {2:g} in rim", width, "radial" if radial else "diagonal", rim_in),
        diameter_mm=diameter,
        section_mm=width * MM_PER_INCH,
        rim_mm=rim_in * MM_PER_INCH,
        radial=radial,
        formula="D = 25.4·(rim + 2·0.87·width)",
        with_numbers=f"D = 25.4 × ({rim_in:g} + 2 × 0.87 × {width:g}) = {diameter:.1f} mm",
        caution=text_of("No aspect ratio is written; {0} % was understood.", WIDE_ASPECT_PCT),
    )


def read_lettered(text: str, match: re.Match[str]) -> Marking:
    """``MT90B16``: the letters stand for a width, the rest is metric."""
    width, aspect, rim_in = LETTERED[match["letters"]], float(match["aspect"]), float(match["rim"])
    within(text, "aspect ratio", value=aspect, low=50, high=110, unit="%")
    within(text, "rim", value=rim_in, low=8, high=23, unit="in")
    rim_mm = rim_in * MM_PER_INCH
    diameter = rim_mm + 2 * width * aspect / 100
    return Marking(
        text=text,
        family="lettered",
        understood=text_of(
            "{0} stands for {1:g} mm wide, sidewall {2:g} % of that, {3:g} in rim",
            match["letters"],
            width,
            aspect,
            rim_in,
        ),
        diameter_mm=diameter,
        section_mm=float(width),
        rim_mm=rim_mm,
        radial=match["build"] == "R",
        formula="D = 25.4·rim + 2·width·aspect/100",
        with_numbers=f"D = 25.4 × {rim_in:g} + 2 × {width:g} × {aspect:g}/100 = {diameter:.1f} mm",
    )


def read_outer_mm(text: str, match: re.Match[str]) -> Marking:
    """``200x50``: small wheels of scooters and barrows, outer diameter and width in millimetres."""
    outer, width = float(match["outer"]), float(match["width"])
    within(text, "outer diameter", value=outer, low=100, high=390, unit="mm")
    within(text, "width", value=width, low=15, high=150, unit="mm")
    if 2 * width >= outer:
        raise InputError(
            text_of("In “{0}” the tyre would be higher than its wheel.", text),
            remedy="Write outer diameter x width, both in millimetres.",
            limit=text_of("a width below {0:g} mm", outer / 2),
            value=text,
        )
    return Marking(
        text=text,
        family="outer_mm",
        understood=text_of("{0:g} mm across, {1:g} mm wide", outer, width),
        diameter_mm=outer,
        section_mm=width,
        rim_mm=outer - 2 * width,
        radial=False,
        formula="D = outer diameter",
        with_numbers=f"D = {outer:g} mm",
    )


def read_diameter(text: str, match: re.Match[str]) -> Marking:
    """``29.5in``, ``12"``, ``200 mm``: the outer diameter alone, as it is written on slicks and rigid wheels or in a
    list."""
    inches = match["unit"] != "MM"
    outer = float(match["outer"]) * (MM_PER_INCH if inches else 1.0)
    within(text, "outer diameter", value=outer, low=50, high=2500, unit="mm")
    return Marking(
        text=text,
        family="diameter",
        understood=text_of("{0:g} in across", float(match["outer"])) if inches else text_of("{0:g} mm across", outer),
        diameter_mm=outer,
        section_mm=0.0,
        rim_mm=0.0,
        radial=False,
        formula="D = 25.4·outer diameter in inches" if inches else "D = outer diameter",
        with_numbers=f"D = 25.4 × {match['outer']} = {outer:.1f} mm" if inches else f"D = {outer:g} mm",
    )


_LOAD = r"(?: ?\(?\d{2,3}(?:/\d{2,3})? ?[A-Z]\d?\)?)?(?: (?:XL|RF|TL|TT))*"

MOTOR_FORMS: tuple[tuple[re.Pattern[str], Callable[[str, re.Match[str]], Marking]], ...] = (
    (
        re.compile(
            r"(?:P|LT|ST|T)? ?(?P<width>\d{1,4}) ?/ ?(?P<aspect>\d{1,3}) ?(?P<build>ZRF|ZR|RF|R|VR|HR|SR|B|D|-) ?"
            r"(?P<rim>\d{1,3}(?:\.\d)?)(?:CP?)?(?: ?(?:M/C)?)?" + _LOAD
        ),
        read_metric,
    ),
    (
        re.compile(r"(?P<width>\d{3})(?P<aspect>) ?(?P<build>R|SR|HR|VR) ?(?P<rim>\d{2}(?:\.\d)?)C?" + _LOAD),
        read_metric,
    ),
    (
        re.compile(
            r"(?:LT|AT|ST)? ?(?P<outer>\d{1,2}(?:\.\d+)?) ?X ?(?P<width>\d{1,2}(?:\.\d+)?) ?(?P<build>R|B|D|-) ?"
            r"(?P<rim>\d{1,2}(?:\.\d)?)(?:LT|NHS|[WS])?" + _LOAD
        ),
        read_inch_diameter_first,
    ),
    (re.compile(r"(?P<width>\d\.\d{1,2}) ?(?:-|H|S|R) ?(?P<rim>\d{1,2})" + _LOAD), read_inch_section),
    (
        re.compile(r"(?P<width>\d{1,2}\.\d{1,2}) ?/ ?(?P<height>\d{1,2}\.\d{1,2}) ?- ?(?P<rim>\d{1,2})" + _LOAD),
        read_two_sections,
    ),
    (
        re.compile(r"(?P<width>\d{1,2}(?:\.\d{1,2})?) ?(?P<build>R|-) ?(?P<rim>\d{2}(?:\.5)?)" + _LOAD),
        read_wide,
    ),
    (
        re.compile(
            rf"(?P<letters>{'|'.join(LETTERED)}) ?(?P<aspect>\d{{2,3}}) ?(?P<build>R|B|-) ?(?P<rim>\d{{2}})" + _LOAD
        ),
        read_lettered,
    ),
    (re.compile(r"(?P<outer>[1-3]\d{2}) ?X ?(?P<width>\d{2,3})"), read_outer_mm),
    (re.compile(r"(?P<outer>\d{1,4}(?:\.\d+)?) ?(?P<unit>INCH(?:ES)?|IN|MM|\"|″)"), read_diameter),
)
