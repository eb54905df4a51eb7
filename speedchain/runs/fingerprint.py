"""The fingerprint of a ring: how many pulses a turn has, and which tooth is missing, bent or out of place."""

from __future__ import annotations

import math
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from speedchain.fields import InputError, Words, joined, text_of
from speedchain.results import result
from speedchain.runs.turn_count import MOST_PULSES, Counted, count_of

Array = NDArray[np.float64]
Flaw = Literal["missing", "out_of_place"]
LEAST_TURNS = 2
"""Turns from which the teeth of a known count can be compared."""
MOST_LOG_ODDS = 30.0
"""Larger odds are said as these."""
GAP = 1.5
"""An interval so many times the usual one has a missing tooth in it."""
RUNOUT_FROM = 8
"""With fewer teeth runout and a tooth out of place look the same: then none is looked for."""
OUT_SIGMA = 5.0
OUT_PCT = 2.0
"""A tooth is out of place beyond five times the scatter of the others and 2 % of the pitch. Common practice."""


@result
class ToothFlaw:
    """A flaw: the tooth's number from the mark (1 is the first after it), and how far it is off [% of the pitch].

    Of a missing tooth, the one before it.
    """

    number: int
    flaw: Flaw
    off_pct: float


@result
class Fingerprint:
    """What the intervals between pulses say of a ring.

    `pulses_per_turn` comes with its odds against `next_count`; `positions` counts the missing teeth as well.
    `deviation_pct` is each pulse's place against an even ring [% of the pitch], the first order (runout) left in;
    `runout_deg` the amplitude of that first order, `runout_at` the pulse at which it is greatest.
    `ripple_pct` is how much a reader that times single pulses wavers, greatest by least. `slips` says that pulses are
    missing or there are too many: the teeth are then measured over the longest part without.
    """

    pulses_per_turn: int
    positions: int
    next_count: int
    odds: float
    sure: bool
    turns: float
    deviation_pct: tuple[float, ...]
    scatter_pct: float
    runout_deg: float
    runout_at: int
    flaws: tuple[ToothFlaw, ...]
    ripple_pct: float
    slips: bool
    text: Words


def fingerprint(edges_s: Array, *, mark_s: float | None = None, count: int | None = None) -> Fingerprint:
    """The fingerprint of a ring from the times of its pulses, one edge of each.

    The count comes from the lag at which the pattern of the intervals comes again (`turn_count`). Over the longest
    stretch without a slip each interval is then divided by the turn around it, so that the speed falls out, even while
    it changes, and their means, scaled so that they close the turn, place the teeth.

    Parameters
    ----------
    Times of one edge of every pulse [s], rising; when the chalk mark passed [s], the first pulse otherwise; pulses per
    turn where they are known.

    Raises
    ------
    `InputError` for too few pulses, or times that do not rise.

    References
    ----------
    Limits: common practice; how often they are right: docs/truth.md.

    Examples
    --------
    >>> ring = np.concatenate([[0], np.cumsum(np.tile([1.0, 1.0, 1.0, 1.0, 1.0, 2.0], 30))])
    >>> found = fingerprint(ring)
    >>> found.pulses_per_turn, found.positions, found.sure, found.text
    (6, 7, True, '6 pulses per turn; 1 missing of 7, after tooth 6.')
    """
    edges = np.asarray(edges_s, dtype=float)
    if edges.size > 1 and not np.all(np.diff(edges) > 0):
        raise InputError("The times of the pulses must rise.", remedy="Sort them, and remove doubles.", path="edges_s")
    known = None if count is None else Counted(count, count, MOST_LOG_ODDS, True, (0, min(edges.size - 1, MOST_PULSES)))
    counted = count_of(edges) if known is None else known
    if counted is None or edges.size <= LEAST_TURNS * counted.per_turn:
        raise InputError(
            text_of("{0} pulses are less than {1} turns.", edges.size, LEAST_TURNS),
            remedy="Record more turns, at a speed that changes little.",
            limit=text_of("at least {0} turns", LEAST_TURNS),
            path="edges_s",
        )
    first = 0 if mark_s is None else int(np.searchsorted(edges, mark_s))
    return _described(edges, counted, first)


def _against_turn(edges: Array, count: int) -> tuple[Array, int]:
    """Every interval times the count, by the turn around it, and the place of the first of them."""
    intervals = np.diff(edges)
    # the turn whose middle is the middle of the interval: of an even count, the mean of the two beside it
    before, after = (count - 1) // 2, count // 2
    if count % 2:
        turn = edges[count:] - edges[:-count]
        return intervals[before : intervals.size - after] * count / turn, before
    turns = edges[count:] - edges[:-count]
    middle = (turns[1:] + turns[:-1]) / 2
    begin = count // 2
    return intervals[begin : begin + middle.size] * count / middle, begin


def _described(edges: Array, counted: Counted, first: int) -> Fingerprint:
    count = counted.per_turn
    begin, end = counted.stretch
    if end - begin < LEAST_TURNS * count:
        begin, end = 0, min(edges.size - 1, MOST_PULSES)
    here = first if begin <= first <= end else begin
    ratio, middle = _against_turn(edges[begin : end + 1], count)
    # interval i lies between pulse i and pulse i + 1; number 1 is the first pulse after the mark
    number = (begin + middle + np.arange(ratio.size) - here) % count
    seen = np.bincount(number, minlength=count)
    mean = np.bincount(number, ratio, count) / np.maximum(seen, 1)
    mean = mean * count / mean.sum()  # the means of a speed that changes do not close the turn by themselves
    spread = np.sqrt(np.maximum(np.bincount(number, (ratio - mean[number]) ** 2, count) / seen, 0))
    usual = float(np.median(mean))
    empty = np.where(mean > GAP * usual, np.round(mean / usual) - 1, 0).astype(int)
    positions = count + int(empty.sum())
    # where each pulse is, in pitches of the whole ring, against where it would be on an even one
    pitch = mean * positions / count
    at = np.concatenate([[0.0], np.cumsum(pitch)[:-1]])
    even = np.concatenate([[0], np.cumsum(1 + empty)[:-1]])
    off = at - even
    off -= np.median(off)
    waves = np.column_stack(
        [np.ones(count), np.cos(2 * np.pi * even / positions), np.sin(2 * np.pi * even / positions)]
    )
    smooth, wave = first_order(waves, off)
    left = off - smooth
    scatter = float(np.median(np.abs(left))) / 0.6745
    noise = float(np.median(spread)) / math.sqrt(max(ratio.size / count, 1))
    limit = max(OUT_SIGMA * max(scatter, noise), OUT_PCT / 100)
    flaws = [
        ToothFlaw(number=int(place) + 1, flaw="missing", off_pct=100.0 * float(empty[place]))
        for place in np.flatnonzero(empty)
    ]
    flaws += [
        ToothFlaw(number=int(place) + 1, flaw="out_of_place", off_pct=100 * float(left[place]))
        for place in np.flatnonzero(np.abs(left) > limit)
        if count > 2
    ]
    full = mean[empty == 0]
    slips = begin > 0 or end < min(edges.size - 1, MOST_PULSES)
    return Fingerprint(
        pulses_per_turn=count,
        positions=positions,
        next_count=counted.following,
        odds=math.exp(min(max(counted.log_odds, 0.0), MOST_LOG_ODDS)),
        sure=counted.sure,
        turns=(edges.size - 1) / count,
        deviation_pct=tuple([round(100 * float(value), 4) for value in off]),
        scatter_pct=100 * float(np.median(spread)),
        runout_deg=float(np.hypot(*wave)) * 360 / positions,
        runout_at=round((math.atan2(wave[1], wave[0]) / (2 * math.pi) % 1) * positions) % positions + 1,
        flaws=tuple(sorted(flaws, key=lambda item: item.number)),
        ripple_pct=100 * float(full.max() / full.min() - 1) if full.size else 0.0,
        slips=slips,
        text=_text(counted, positions, flaws, renumbered=slips and here != first),
    )


def first_order(waves: Array, off: Array) -> tuple[Array, Array]:
    """The once-per-turn wave in the places, teeth that are out of place counting less (Huber)."""
    if off.size < RUNOUT_FROM:
        return np.full(off.size, float(np.median(off))), np.zeros(2)
    weights: Array = np.ones(off.size)
    found: Array = np.zeros(3)
    for _ in range(30):
        root = np.sqrt(weights)
        found = np.asarray(np.linalg.lstsq(waves * root[:, None], off * root, rcond=None)[0], dtype=np.float64)
        left = np.abs(off - waves @ found)
        scale = max(float(np.median(left)) / 0.6745, 1e-9)
        weights = np.minimum(1.0, (1.345 * scale / np.maximum(left, 1e-15)) ** 2)
    return waves @ found, found[1:]


def _text(counted: Counted, positions: int, flaws: list[ToothFlaw], *, renumbered: bool) -> str:
    count, following = counted.per_turn, counted.following
    if not counted.sure:
        return text_of(
            "Not sure: {0} pulses per turn fit best, {1} next. Record more turns, or mark a tooth and count.",
            count,
            following,
        )
    said = [text_of("{0} pulses per turn", count)]
    if positions != count:
        before = joined(", ", [str(tooth.number) for tooth in flaws if tooth.flaw == "missing"])
        said.append(text_of("{0} missing of {1}, after tooth {2}", positions - count, positions, before))
    bent = [tooth for tooth in flaws if tooth.flaw == "out_of_place"]
    for tooth in bent[:3]:
        said.append(text_of("tooth {0} is {1:+.1f} % of the pitch out of place", tooth.number, tooth.off_pct))
    if len(bent) > 3:
        said.append(text_of("and {0} more", len(bent) - 3))
    if renumbered and flaws:
        said.append("teeth are numbered from the first pulse of the longest part without lost or extra pulses")
    return text_of("{0}.", joined("; ", said))
