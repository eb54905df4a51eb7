"""The printed chart of cycle tyre circumferences people copy from. Common practice, values from memory."""

from __future__ import annotations

from speedchain.fields import InputError, text_of
from speedchain.results import result
from speedchain.wheel.marking import parse_marking


@result
class ChartRow:
    """One row: the marking as printed, its ETRTO size and the circumference beside it [mm]."""

    label: str
    width_mm: float
    bead_seat_mm: int
    circumference_mm: float


Chart = tuple[ChartRow, ...]

CYCLE_CHART: Chart = (
    ChartRow(label="20x1.75", width_mm=47, bead_seat_mm=406, circumference_mm=1515),
    ChartRow(label="26x2.1", width_mm=54, bead_seat_mm=559, circumference_mm=2068),
    ChartRow(label="700x23C", width_mm=23, bead_seat_mm=622, circumference_mm=2096),
    ChartRow(label="700x25C", width_mm=25, bead_seat_mm=622, circumference_mm=2105),
    ChartRow(label="700x28C", width_mm=28, bead_seat_mm=622, circumference_mm=2136),
    ChartRow(label="700x32C", width_mm=32, bead_seat_mm=622, circumference_mm=2155),
    ChartRow(label="700x35C", width_mm=35, bead_seat_mm=622, circumference_mm=2168),
    ChartRow(label="29x2.2", width_mm=56, bead_seat_mm=622, circumference_mm=2298),
)
"""Common practice; values from memory. What a workshop starts from; it may edit its own."""


SAME_WIDTH_MM = 3.0
"""An inch size and its millimetre size differ by up to this, 1.75 in being sold as 47 mm."""


def with_bead_seat(label: str) -> str:
    """A row's marking, refused where it says no bead seat: a diameter alone is no row of a chart.

    Examples
    --------
    >>> with_bead_seat("700x28C")
    '700x28C'
    """
    if not parse_marking(label).rim_mm:
        raise InputError(
            text_of("“{0}” is not a size marking with a bead seat.", label),
            remedy="Write it as 28-622 or 700x28C.",
            value=label,
        )
    return label


def chart_row(label: str, circumference_mm: float) -> ChartRow:
    """A row from its printed marking, which says width and bead seat.

    Examples
    --------
    >>> chart_row("700x28C", 2136).bead_seat_mm
    622
    """
    marking = parse_marking(label)
    return ChartRow(
        label=label, width_mm=marking.section_mm, bead_seat_mm=round(marking.rim_mm), circumference_mm=circumference_mm
    )


def chart_row_of(marking_text: str, chart: Chart = CYCLE_CHART) -> ChartRow | None:
    """The row that belongs to a marking, or None when the chart has none.

    Examples
    --------
    >>> chart_row_of("28-622").circumference_mm
    2136
    """
    marking = parse_marking(marking_text)
    same_rim = [row for row in chart if row.bead_seat_mm == marking.rim_mm]
    nearest = min(same_rim, key=lambda row: abs(row.width_mm - marking.section_mm), default=None)
    return nearest if nearest and abs(nearest.width_mm - marking.section_mm) <= SAME_WIDTH_MM else None


def neighbour_row(marking_text: str, circumference_mm: float, chart: Chart = CYCLE_CHART) -> ChartRow | None:
    """The *wrong* row a typed circumference was copied from: same rim, another width, same number.

    Parameters
    ----------
    The tyre's marking; `circumference_mm`, what was typed [mm].

    Returns
    -------
    The row, or None when the number is the right row's or no row's. Of two rows equally near, neither is wrong.

    Examples
    --------
    >>> neighbour_row("28-622", 2105).label
    '700x25C'
    >>> neighbour_row("28-622", 2136), neighbour_row("30-622", 2136), neighbour_row("30-622", 2155)
    (None, None, None)
    """
    right, marking = chart_row_of(marking_text, chart), parse_marking(marking_text)
    off_mm = abs(right.width_mm - marking.section_mm) if right else 0.0
    for row in chart:
        as_near = right is not None and abs(row.width_mm - marking.section_mm) <= off_mm
        if row.bead_seat_mm == marking.rim_mm and not as_near and abs(row.circumference_mm - circumference_mm) < 0.5:
            return row
    return None
