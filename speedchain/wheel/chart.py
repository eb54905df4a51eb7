"""The printed chart of cycle tyre circumferences people copy from. Common practice, values from memory."""

from __future__ import annotations

from speedchain.results import result
from speedchain.wheel.marking import parse_marking


@result
class ChartRow:
    """One row: the marking as printed, its ETRTO size and the circumference beside it [mm]."""

    label: str
    width_mm: float
    bead_seat_mm: int
    circumference_mm: float


CYCLE_CHART = (
    ChartRow("20x1.75", 47, 406, 1515),
    ChartRow("26x2.1", 54, 559, 2068),
    ChartRow("700x23C", 23, 622, 2096),
    ChartRow("700x25C", 25, 622, 2105),
    ChartRow("700x28C", 28, 622, 2136),
    ChartRow("700x32C", 32, 622, 2155),
    ChartRow("700x35C", 35, 622, 2168),
    ChartRow("29x2.2", 56, 622, 2298),
)
"""Common practice; values from memory."""


def chart_row_of(marking_text: str) -> ChartRow | None:
    """The row that belongs to a marking, or None when the chart has none.

    >>> chart_row_of("28-622").circumference_mm
    2136
    """
    marking = parse_marking(marking_text)
    for row in CYCLE_CHART:
        if row.bead_seat_mm == marking.rim_mm and row.width_mm == marking.section_mm:
            return row
    return None


def neighbour_row(marking_text: str, circumference_mm: float) -> ChartRow | None:
    """The *wrong* row a typed circumference was copied from: same rim, another width, same number.

    Parameters: the tyre's marking; `circumference_mm`, what was typed [mm].
    Returns the row, or None when the number is the right row's or no row's.

    >>> neighbour_row("28-622", 2105).label
    '700x25C'
    >>> neighbour_row("28-622", 2136) is None
    True
    """
    marking = parse_marking(marking_text)
    for row in CYCLE_CHART:
        same_rim = row.bead_seat_mm == marking.rim_mm
        if same_rim and row.width_mm != marking.section_mm and abs(row.circumference_mm - circumference_mm) < 0.5:
            return row
    return None
