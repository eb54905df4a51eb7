"""A traction table from measured slip, in the axes that the controller has; and what a change of tune did to spins."""

from __future__ import annotations

import csv
import io
from dataclasses import replace
from typing import Annotated, Literal

import numpy as np
from numpy.typing import NDArray
from pydantic import Field

from speedchain.fields import Part, Words, text_of
from speedchain.results import result
from speedchain.runs.slip import LOW_KMH, Slip, SlipEvent
from speedchain.runs.table_file import SPEED_UNITS

Array = NDArray[np.float64]
Action = Literal["torque", "retard", "cut"]
SpinUnit = Literal["%", "km/h", "mph", "kn"]
MARGIN = 1.2
"""The first step lies so much above the threshold of a spin. Common practice."""
LEAST_PCT = 0.5
"""Slip below this is not worth a step. Common practice."""
SPAN = 3.0
"""The table ends at so many times its first step, or at the highest slip that was seen. Common practice."""
HYSTERESIS_KMH = 5.0
FASTEST = 1.1
"""The last speed of the table is so many times the highest at which it spun. Common practice."""
ALIKE_KMH, ALIKE = 8.0, 0.15
"""Spins of two recordings are of one place of the drive within 8 km/h, or 15 % of the speed. Common practice."""
LEAST_PAIRS = 6
"""Of fewer pairs even the same sign in all is within chance (0.5⁵·2 = 6 %)."""
CHANCE = 0.05
_STEPS: dict[Action, float] = {"torque": 1.0, "retard": 0.5, "cut": 1.0}
"""How finely a controller takes it: per cent of torque, degrees of retard, per cent of cut. Common practice."""
_HEADS: dict[Action, str] = {"torque": "torque less by, %", "retard": "retard, degrees", "cut": "cut, %"}


class TractionWanted(Part):
    """The axes of the controller's table: what it does and how much of it at most (per cent, or degrees of retard), the
    unit of spin and of the front wheels' speed, how many columns of spin and rows of speed, and from which speed on it
    may act [km/h]."""

    action: Action = "torque"
    most: Annotated[float, Field(gt=0, le=100)] = 30.0
    spin_in: SpinUnit = "%"
    speed_in: Literal["km/h", "mph", "kn"] = "km/h"
    columns: Annotated[int, Field(ge=2, le=16)] = 6
    rows: Annotated[int, Field(ge=1, le=16)] = 4
    least_kmh: Annotated[float, Field(ge=0, le=300)] = 10.0


@result
class TractionTable:
    """A start for a controller's table, of shape `speeds` × `spins`, in the units that were asked for; the speed at
    which a table for low speeds hands over to one for high speeds [km/h], None where nothing spun; as CSV."""

    speeds: tuple[float, ...] = ()
    spins: tuple[float, ...] = ()
    cells: tuple[tuple[float, ...], ...] = ()
    action: Action = "torque"
    spin_in: SpinUnit = "%"
    speed_in: str = "km/h"
    decided: int = 0
    small: int = 0
    hand_over_kmh: float | None = None
    csv: str = ""
    text: Words = ""
    advice: Words = ""


def traction_table(slip: Slip, wanted: TractionWanted) -> TractionTable:
    """A start for a traction table from what slip was measured, as it is once the false slip is corrected.

    The first step lies 1.2 × above the threshold of a spin; from there the action rises evenly to its most at three
    times that, or at the highest slip of the spins at about that speed, or of the nearest one:
    a = most·(s − s₀)/(s₁ − s₀), in steps that a controller takes. Spin as a speed is s·v/100 of the speed v of its
    row. Below the least speed it does nothing.

    Parameters
    ----------
    Measured slip; the axes of the table.

    References
    ----------
    DOMAIN §9: a dead band beyond false slip and noise; factors: common practice.

    Examples
    --------
    >>> from speedchain.runs.align import SpeedRecord
    >>> from speedchain.runs.slip import slip_of
    >>> t = np.arange(0.0, 100.0, 0.1)
    >>> v = np.full(t.size, 60.0)
    >>> slip = slip_of(SpeedRecord(t, v), SpeedRecord(t, 1.01 * v))
    >>> found = traction_table(slip, TractionWanted(columns=3, rows=1))
    >>> [round(at, 1) for at in found.spins], found.cells
    ([0.6, 1.2, 1.8], ((0.0, 15.0, 30.0),))
    """
    spins = slip.spins
    unit = SPEED_UNITS[wanted.speed_in]
    starts = MARGIN * max(slip.threshold_pct, LEAST_PCT)
    fastest = max([FASTEST * event.at_kmh for event in spins] or [4 * LOW_KMH])
    speeds_kmh = np.linspace(wanted.least_kmh, max(fastest, wanted.least_kmh + 1.0), wanted.rows)
    ends = np.array([_ends(slip, speed, starts, speeds_kmh) for speed in speeds_kmh])
    if wanted.spin_in == "%":
        columns = np.linspace(starts, ends.max(), wanted.columns)
        slip_pct = np.broadcast_to(columns, (speeds_kmh.size, columns.size))
    else:
        of_spin = SPEED_UNITS[wanted.spin_in]
        moving = np.maximum(speeds_kmh, 1.0)
        columns = np.linspace(starts * moving[0], (ends * moving).max(), wanted.columns) / 100 / of_spin
        slip_pct = 100 * columns * of_spin / moving[:, None]
    share = np.clip((slip_pct - starts) / (ends - starts)[:, None], 0, 1)
    step = _STEPS[wanted.action]
    cells = np.floor(wanted.most * share / step + 0.5) * step
    hand_over = float(np.median([event.at_kmh for event in spins])) if spins else None
    small = sum(event.kind == "spin" for event in slip.events) - len(spins)
    table = TractionTable(
        speeds=_floats(speeds_kmh / unit),
        spins=_floats(columns),
        cells=tuple([_floats(row) for row in np.minimum(cells, wanted.most)]),
        action=wanted.action,
        spin_in=wanted.spin_in,
        speed_in=wanted.speed_in,
        decided=len(spins),
        small=small,
        hand_over_kmh=hand_over,
        text=text_of(
            "With the false slip corrected: nothing below {0:.1f} % slip, then evenly up to the most at {1:.1f} %; "
            "it may act from {2:.0f} km/h on.",
            starts,
            float(ends.max()),
            wanted.least_kmh,
        ),
        advice=_advice(spins, hand_over, small),
    )
    return replace(table, csv=_as_csv(table))


def _floats(values: Array) -> tuple[float, ...]:
    return tuple([float(value) for value in values])


def _ends(slip: Slip, speed_kmh: float, starts: float, speeds_kmh: Array) -> float:
    """At which slip the action is at its most in the row of a speed: the highest of the spins of that row, or of the
    one nearest to it."""
    spins = slip.spins
    mine = [event for event in spins if np.abs(speeds_kmh - event.at_kmh).min() == abs(speed_kmh - event.at_kmh)]
    nearest = sorted(spins, key=lambda event: abs(event.at_kmh - speed_kmh))[:1]
    return max([SPAN * starts, *[event.highest_pct - slip.false_pct for event in mine or nearest]])


def _as_csv(table: TractionTable) -> str:
    """The table with its axes: spin to the right, the front wheels' speed down."""
    text = io.StringIO()
    rows = csv.writer(text)
    head = f"front speed, {table.speed_in} \\ spin, {table.spin_in} -> {_HEADS[table.action]}"
    rows.writerow([head, *[f"{spin:.2f}" for spin in table.spins]])
    for speed, cells in zip(table.speeds, table.cells, strict=True):
        rows.writerow([f"{speed:.1f}", *[f"{cell:g}" for cell in cells]])
    return text.getvalue()


def _advice(spins: tuple[SlipEvent, ...], hand_over: float | None, small: int) -> Words:
    if hand_over is None and small:
        return text_of("Spins: {0}, too short or too small to decide anything. Record hard launches as well.", small)
    if hand_over is None:
        return "No slip above the dead band in this recording: record hard launches as well."
    share = len([event for event in spins if event.at_kmh < hand_over]) / len(spins)
    return text_of(
        "Hand over from the table for low speeds to the one for high speeds at {0:.0f} km/h, {1:.0f} km/h apart up "
        "and down; {2:.0f} % of the spins came below. Spins that decide: {3}; too short or too small: {4}.",
        hand_over,
        HYSTERESIS_KMH,
        100 * share,
        len(spins),
        small,
    )


@result
class SpinPair:
    """A spin before a change and the one at about the same speed after it: highest slip [%] and how long [s]."""

    at_kmh: float
    before_pct: float
    after_pct: float
    before_s: float
    after_s: float


@result
class TuneChange:
    """What became of the spins: the pairs, how many have no partner, the chance that no change does as much."""

    pairs: tuple[SpinPair, ...]
    before_alone: int
    after_alone: int
    chance: float | None
    text: Words


def tune_change(before: Slip, after: Slip) -> TuneChange:
    """Spins of a recording before a change of tune with those after it, paired by the speed at which they began.

    Each spin takes the nearest of the other recording within 8 km/h or 15 %, the nearest pairs first. The chance is
    that of the sign test: P = 2·Σ_{i≤k} C(n, i)/2ⁿ, with k the fewer of better and worse.

    References
    ----------
    W. J. Dixon, A. M. Mood, Journal of the American Statistical Association 41 (1946), 557 (the sign test), from
    memory.

    Examples
    --------
    >>> from speedchain.runs.align import SpeedRecord
    >>> from speedchain.runs.slip import slip_of
    >>> t = np.arange(0.0, 200.0, 0.1)
    >>> v = 40 + 20 * np.sin(t / 10)
    >>> spun = np.where((t % 63 > 4) & (t % 63 < 6), 1.2, 1.0)
    >>> one, two = (slip_of(SpeedRecord(t, v), SpeedRecord(t, v * (1 + share * (spun - 1)))) for share in (1.0, 0.5))
    >>> found = tune_change(one, two)
    >>> [(round(pair.before_pct), round(pair.after_pct)) for pair in found.pairs][0], found.before_alone
    ((20, 10), 0)
    """
    from scipy.stats import binomtest

    one, two = before.spins, after.spins
    near = sorted(
        (abs(a.from_kmh - b.from_kmh), i, j)
        for i, a in enumerate(one)
        for j, b in enumerate(two)
        if abs(a.from_kmh - b.from_kmh) <= max(ALIKE_KMH, ALIKE * a.from_kmh)
    )
    partner: dict[int, int] = {}
    for _, i, j in near:
        if i not in partner and j not in partner.values():
            partner[i] = j
    pairs = [
        SpinPair(
            at_kmh=one[i].from_kmh,
            before_pct=one[i].highest_pct - before.false_pct,
            after_pct=two[j].highest_pct - after.false_pct,
            before_s=one[i].seconds,
            after_s=two[j].seconds,
        )
        for i, j in sorted(partner.items(), key=lambda item: one[item[0]].from_kmh)
    ]
    less = sum(pair.after_pct < pair.before_pct for pair in pairs)
    more = sum(pair.after_pct > pair.before_pct for pair in pairs)
    chance = float(binomtest(less, less + more).pvalue) if less + more else None
    return TuneChange(
        pairs=tuple(pairs),
        before_alone=len(one) - len(pairs),
        after_alone=len(two) - len(pairs),
        chance=chance,
        text=_changed(pairs, less, chance, (len(one), len(two))),
    )


def _changed(pairs: list[SpinPair], less: int, chance: float | None, spins: tuple[int, int]) -> Words:
    if not pairs or chance is None:
        return text_of(
            "Spins before: {0}, after: {1}; none at about the same speed. Drive the same way again to compare.", *spins
        )
    ratio = 100 * (float(np.median([pair.after_pct / pair.before_pct for pair in pairs])) - 1)
    if len(pairs) < LEAST_PAIRS or chance > CHANCE:
        return text_of(
            "In {0} of {1} pairs the highest slip is less than before, {2:+.0f} % in the middle. That can be chance "
            "({3:.0f} %): record more launches.",
            less,
            len(pairs),
            ratio,
            100 * chance,
        )
    return text_of(
        "In {0} of {1} pairs the highest slip is less than before, {2:+.0f} % in the middle. Chance alone does as "
        "much in {3:.1f} % of cases.",
        less,
        len(pairs),
        ratio,
        100 * chance,
    )
