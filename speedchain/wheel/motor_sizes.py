"""Tyre sizes of cars, motorcycles, karts and what rolls off the road."""

from __future__ import annotations

import re
from collections.abc import Callable

from speedchain.fields import InputError, text_of
from speedchain.wheel.size import MM_PER_INCH, Marking, within

UNWRITTEN_ASPECT_PCT = 82
"""Aspect of a metric tyre whose marking leaves it out, such as 155R13. Common practice."""
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


_LOAD = r"(?: ?\(?\d{2,3}(?:/\d{2,3})? ?[A-Z]\d?\)?)?(?: (?:XL|RF|TL|TT))*"

MOTOR_FORMS: tuple[tuple[re.Pattern[str], Callable[[str, re.Match[str]], Marking]], ...] = (
    (
        re.compile(
            r"(?:P|LT|ST|T)? ?(?P<width>\d{1,4}) ?/ ?(?P<aspect>\d{1,3}) ?(?P<build>ZR|R|VR|HR|SR|B|D|-) ?"
            r"(?P<rim>\d{1,3}(?:\.\d)?)(?: ?(?:M/C)?)?" + _LOAD
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
)
