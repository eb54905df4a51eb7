"""A traction table from measured slip: from which slip on to take torque away, and how much."""

from __future__ import annotations

from typing import Annotated

import numpy as np
from pydantic import Field

from speedchain.fields import Part, Words, text_of
from speedchain.results import result
from speedchain.runs.slip import Slip
from speedchain.runs.steady import LEAST_KMH

MARGIN = 1.2
"""The first cut lies so much above the dead band. Common practice."""
LEAST_PCT = 0.5
"""Slip below this is not worth a cut. Common practice."""
SPAN = 3.0
"""The table ends at so many times its first cut, or at the highest slip that was seen. Common practice."""
HYSTERESIS_KMH = 5.0


class TractionWanted(Part):
    """How much torque may be taken away at most [%], and how many rows the controller's table has."""

    most_cut_pct: Annotated[float, Field(gt=0, le=100)] = 30.0
    rows: Annotated[int, Field(ge=2, le=16)] = 6


@result
class TractionRow:
    """From this slip on [%], take so much torque away [%]."""

    slip_pct: float
    cut_pct: float


@result
class TractionTable:
    """A start for a controller's table: rows, the speed from which it may act, and where a table for low speeds hands
    over to one for high speeds [km/h]; None where nothing slipped."""

    rows: tuple[TractionRow, ...]
    enable_kmh: float
    hand_over_kmh: float | None
    text: Words
    advice: Words


def traction_table(slip: Slip, wanted: TractionWanted) -> TractionTable:
    """A start for a traction table from what slip was measured, as it is once the false slip is corrected.

    The first cut lies 1.2 × above the dead band less the false slip; from there it rises in equal steps to its most at
    three times that, or at the highest slip that was seen. It may act from the speed on below which no slip was
    measured (10 km/h), and a table for low speeds hands over at the middle of the speeds at which slip came.

    Parameters
    ----------
    Measured slip; the most that may be cut [%], and the number of rows.

    References
    ----------
    DOMAIN §9: a dead band beyond false slip and noise; factors: common practice.

    Examples
    --------
    >>> from speedchain.runs.align import SpeedRecord
    >>> from speedchain.runs.slip import slip_of
    >>> t = np.arange(0.0, 100.0, 0.1)
    >>> v = np.full(t.size, 60.0)
    >>> found = traction_table(slip_of(SpeedRecord(t, v), SpeedRecord(t, 1.01 * v)), TractionWanted(rows=3))
    >>> [(round(row.slip_pct, 1), row.cut_pct) for row in found.rows], found.enable_kmh
    ([(0.6, 0.0), (1.2, 15.0), (1.8, 30.0)], 10.0)
    """
    starts = MARGIN * max(slip.dead_band_pct - abs(slip.false_pct), LEAST_PCT)
    highest = max((event.highest_pct - slip.false_pct for event in slip.events), default=0.0)
    ends = max(SPAN * starts, highest)
    rows = [
        TractionRow(slip_pct=float(at), cut_pct=float(cut))
        for at, cut in zip(
            np.linspace(starts, ends, wanted.rows), np.linspace(0, wanted.most_cut_pct, wanted.rows), strict=True
        )
    ]
    hand_over = float(np.median([event.at_kmh for event in slip.events])) if slip.events else None
    return TractionTable(
        rows=tuple(rows),
        enable_kmh=LEAST_KMH,
        hand_over_kmh=hand_over,
        text=text_of(
            "With the false slip corrected: nothing below {0:.1f} % slip, then evenly up to {1:g} % less torque at "
            "{2:.1f} %. "
            "It may act from {3:.0f} km/h on.",
            starts,
            wanted.most_cut_pct,
            ends,
            LEAST_KMH,
        ),
        advice=_advice(slip, hand_over),
    )


def _advice(slip: Slip, hand_over: float | None) -> Words:
    if hand_over is None:
        return "No slip above the dead band in this recording: record hard launches as well."
    share = len([event for event in slip.events if event.at_kmh < hand_over]) / len(slip.events)
    return text_of(
        "Hand over from the table for low speeds to the one for high speeds at {0:.0f} km/h, {1:.0f} km/h apart up "
        "and down; "
        "{2:.0f} % of the slip came below. Times of slip: {3}.",
        hand_over,
        HYSTERESIS_KMH,
        100 * share,
        len(slip.events),
    )
