"""The fingerprint of a ring: how many pulses a turn has, and which tooth is missing, bent or out of place."""

from __future__ import annotations

import math
from typing import Literal, NamedTuple

import numpy as np
from numpy.typing import NDArray

from speedchain.fields import InputError, Words, joined, text_of
from speedchain.results import result

Array = NDArray[np.float64]
Flaw = Literal["missing", "out_of_place"]
MOST_COUNT = 120
LEAST_TURNS = 4
ENOUGH_PULSES = 20_000
"""The count is found from so many."""
MOST_MEASURED = 1_000_000
BLOCKS = 10
"""The teeth are measured over all pulses, or over so many in blocks spread over the whole capture."""
SURE_ODDS = 100.0
"""Odds against the next best count from which a count is called sure. Common practice."""
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
    `ripple_pct` is how much a reader that times single pulses wavers, greatest by least.
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
    text: Words


class _Counted(NamedTuple):
    count_per_turn: int
    following: int
    odds: float
    sure: bool


def fingerprint(edges_s: Array, *, mark_s: float | None = None, count: int | None = None) -> Fingerprint:
    """The fingerprint of a ring from the times of its pulses, one edge of each.

    Each interval is divided by the turn around it, so that the speed falls out, even while it changes. Of the counts 1 to
    120 the one is taken whose folding explains most: L(N) = n/2·ln(Σr²/Σ(r − mean of its place)²) − (N − 1)/2·ln n, with r
    the interval against its turn, or where a single place differs, k·m²/(2·s²) − ln N − ln n/2, with m its mean over k turns;
    the odds against the next best are e^(L − L′). Multiples explain as much and cost more.

    Parameters
    ----------
    Times of one edge of every pulse [s], rising; when the chalk mark passed [s], the first pulse otherwise; pulses per
    turn where they are known.

    Raises
    ------
    `InputError` for fewer than four turns, or times that do not rise.

    References
    ----------
    G. Schwarz, Annals of Statistics 6 (1978), 461 (the cost of a parameter), from memory; the limits: common practice.

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
    most = min(MOST_COUNT, (edges.size - 1) // LEAST_TURNS)
    if most < 1 or (count is not None and count > most):
        raise InputError(
            text_of("{0} pulses are less than {1} turns.", edges.size, LEAST_TURNS),
            remedy="Record more turns, at a speed that changes little.",
            limit=text_of("at least {0} turns", LEAST_TURNS),
            path="edges_s",
        )
    some = edges[:ENOUGH_PULSES]
    scores = {n: _score(some, n) for n in range(1, most + 1)} if count is None else {count: math.inf}
    best = max(scores, key=lambda n: scores[n])
    others = {n: score for n, score in scores.items() if n != best}
    following = max(others, key=lambda n: others[n]) if others else best
    odds = math.exp(min(scores[best] - others[following], MOST_LOG_ODDS)) if others else math.exp(MOST_LOG_ODDS)
    if count is None and (smaller := _smallest_period(some, best)) != best:
        best, following = smaller, best
    sure = count is not None or (odds >= SURE_ODDS and max(scores.values()) > math.log(SURE_ODDS))
    first = 0 if mark_s is None else int(np.searchsorted(edges, mark_s))
    return _described(edges, _Counted(best, following, odds, sure), first)


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


def _score(edges: Array, count: int) -> float:
    ratio, _ = _against_turn(edges, count)
    ratio = ratio[: ratio.size // count * count]
    if count == 1 or ratio.size < 3 * count:
        return 0.0
    r = ratio.reshape(-1, count) - 1
    place = r.mean(axis=0)
    left = float(((r - place) ** 2).sum()) * r.size / max(r.size - count, 1)
    whole = float((r**2).sum())
    floor = 1e-18 * r.size
    every = r.size / 2 * math.log((whole + floor) / (left + floor)) - (count - 1) / 2 * math.log(r.size)
    # a single tooth that differs costs one parameter and the choice of its place
    turns = r.shape[0]
    one = turns * float((place**2).max()) / 2 / ((left + floor) / r.size) - math.log(count) - math.log(r.size) / 2
    return max(every, one)


def _smallest_period(edges: Array, count: int) -> int:
    """The smallest divisor that says as much: a pattern that comes twice in a turn is one of half the count."""
    ratio, _ = _against_turn(edges, count)
    r = ratio[: ratio.size // count * count].reshape(-1, count)
    place, u = r.mean(axis=0), float(r.std(axis=0, ddof=1).mean()) / math.sqrt(r.shape[0])
    for divisor in (n for n in range(2, count) if count % n == 0):
        pattern = place.reshape(-1, divisor)
        freedom = count - divisor
        chi2 = float(((pattern - pattern.mean(axis=0)) ** 2).sum()) / max(u, 1e-12) ** 2
        if chi2 < freedom + 4 * math.sqrt(2 * freedom):
            return divisor
    return count


def _blocks(edges: Array, count: int) -> list[tuple[int, Array]]:
    """All pulses, or as many as are measured, in blocks; each with the place of its first."""
    if edges.size <= MOST_MEASURED:
        return [(0, edges)]
    size = max(MOST_MEASURED // BLOCKS, LEAST_TURNS * count + 1)
    return [(int(at), edges[at : at + size]) for at in np.linspace(0, edges.size - size, BLOCKS).astype(int)]


def _described(edges: Array, counted: _Counted, first: int) -> Fingerprint:
    count = counted.count_per_turn
    parts, numbers = [], []
    for place, block in _blocks(edges, count):
        of_block, begin = _against_turn(block, count)
        parts.append(of_block)
        # interval i lies between pulse i and pulse i + 1; number 1 is the first pulse after the mark
        numbers.append((place + begin + np.arange(of_block.size) - first) % count)
    ratio, number = np.concatenate(parts), np.concatenate(numbers)
    seen = np.bincount(number, minlength=count)
    mean = np.bincount(number, ratio, count) / seen
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
    return Fingerprint(
        pulses_per_turn=count,
        positions=positions,
        next_count=counted.following,
        odds=counted.odds,
        sure=counted.sure,
        turns=(edges.size - 1) / count,
        deviation_pct=tuple([round(100 * float(value), 4) for value in off]),
        scatter_pct=100 * float(np.median(spread)),
        runout_deg=float(np.hypot(*wave)) * 360 / positions,
        runout_at=round((math.atan2(wave[1], wave[0]) / (2 * math.pi) % 1) * positions) % positions + 1,
        flaws=tuple(sorted(flaws, key=lambda item: item.number)),
        ripple_pct=100 * float(full.max() / full.min() - 1) if full.size else 0.0,
        text=_text(counted, positions, flaws),
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


def _text(counted: _Counted, positions: int, flaws: list[ToothFlaw]) -> str:
    count, following = counted.count_per_turn, counted.following
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
    return text_of("{0}.", joined("; ", said))
