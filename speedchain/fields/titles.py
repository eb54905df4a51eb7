"""Titles of fields whose names say them; where one does not, the title stands at the field."""

from __future__ import annotations

UNITS = (
    "mm", "kmh", "pct", "bar", "hz", "km", "us", "ms", "vpp", "v", "ohm", "ma", "nf", "a", "m", "s", "deg", "mt", "c",
    "k",
)  # fmt: skip
"""Suffixes of names that are units: the unit stands beside the field, not in its title."""


def title_of(name: str) -> str:
    """The title of a field, as its name says it, without its unit.

    Examples
    --------
    >>> title_of("air_gap_mm"), title_of("missing_teeth")
    ('Air gap', 'Missing teeth')
    """
    first, _, last = name.rpartition("_")
    words = (first if first and last in UNITS else name).replace("_", " ")
    return words[:1].upper() + words[1:]
