"""How many pulses a turn has, from intervals alone: the lag at which their pattern comes again, passing over single
slips."""

from __future__ import annotations

import math
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

Array = NDArray[np.float64]
MOST_COUNT = 120
MOST_PULSES = 6_000
"""The count is found from so many of the first pulses."""
AROUND = 5
"""An interval is compared with a parabola through so many around it: what is slower than that is speed, not teeth."""
LEAST_TURNS = 2.2
"""In less a pattern has hardly come again."""
SHIFTS = (-2, -1, 1, 2)
"""By so many places the pattern may be off behind a slip."""
SHIFT_COST = 8.0
BLOCK = 16
STRAY = 0.02
"""Share of pairs that belong to no pattern. Common practice."""
TEMPER = 0.5
"""Neighbouring intervals share an edge: two of them say hardly more than one."""
SURE = 9.0
"""Logarithm of the odds, for the pattern and against every other count, from which a count is sure."""
DIVISOR_SHARE, PLAIN_SHARE, DOUBTFUL_SHARE = 0.55, 0.75, 0.3
"""A divisor that says so much of it is the count: a pattern that comes again every turn does so every second turn too.
With less than three quarters, or where a smaller divisor still says three tenths, it is not sure."""
MOST_SHIFTED = 0.25
"""Where more of the blocks are off by a place, as many pulses are missing from every turn, and the lag is not the
count."""
MOST_SLIPS = 0.6
"""Lost and extra pulses a turn: with more of them a neighbouring count may fit better than the right one."""
ALIKE = 0.3
SAME_PATTERN = 0.5
"""Correlation of the patterns at beginning and end from which they are the same. Common practice."""
MOST_OF_LINES = 8
"""The pattern of few teeth is hardly more than one line of the spectrum anyway."""
ONE_LINE = 0.8
"""From this share on one line of the spectrum is all there is: speed that wavers, or too few teeth to tell. Common
practice."""
SURE_OF_HALF = 2.5
T_FREEDOM = 4.0
T_TOP = math.gamma((T_FREEDOM + 1) / 2) / (math.sqrt(T_FREEDOM * math.pi) * math.gamma(T_FREEDOM / 2))
"""Student's t: scatter is not the same at every speed, so large deviations are less rare than a normal law has them."""
OUTSTANDING = 4.0
"""A deviation of so many times the usual one stands out. Common practice."""
LEAST_PATTERN = 1e-5
"""Intervals are equal that differ by less than this share: no clock of a capture is finer. Common practice."""


class Counted(NamedTuple):
    """A count, the next best one, the logarithm of the odds between them, whether it is sure, and the longest stretch
    of intervals without a slip: its first, and the one after its last."""

    per_turn: int
    following: int
    log_odds: float
    sure: bool
    stretch: tuple[int, int]


def deviations(edges_s: Array) -> Array:
    """ln(interval) less the parabola through the five around it, of which a speed that changes leaves next to nothing.

    References
    ----------
    A. Savitzky, M. J. E. Golay, Analytical Chemistry 36 (1964), 1627; scipy.signal.savgol_filter.

    Examples
    --------
    >>> deviations(np.geomspace(1.0, 3.0, 12)).round(9).tolist() == [0.0] * 11
    True
    """
    from scipy.signal import savgol_filter

    logs = np.log(np.maximum(np.diff(edges_s), 1e-12))
    if logs.size < AROUND:
        return np.zeros(0)
    return np.asarray(logs - savgol_filter(logs, AROUND, 2, mode="interp"))


def count_of(edges_s: Array) -> Counted | None:
    """The count per turn; None where there are too few pulses for any.

    For every lag N the logarithm of the likelihood ratio is added up, that a deviation is the one N pulses before with
    the scatter of such pairs, against that it is any of the deviations there are:

        L(N) = ½·Σ ln[((1 − ε)·t₄((d_i+N − d_i)/σ_N)/σ_N + ε·p(d_i+N)) / p(d_i+N)]

    block by block, where a block may be off by one or two places at the cost of 8: behind an extra or a lost pulse. Of
    lags that say as much the smallest is the count. It is sure if the odds are e⁹ and more for the pattern and against
    every count that is no multiple, both halves of the capture say so too, and there are 2.2 turns.

    References
    ----------
    Likelihood ratio of a repeated against an independent sequence, any textbook; limits by simulation
    (tests/published/test_fingerprint.py).

    Examples
    --------
    >>> teeth = np.array([1.0, 1.02, 0.99, 1.01, 0.97, 1.03, 1.0, 0.96])
    >>> found = count_of(np.cumsum(np.tile(teeth, 10)))
    >>> found.per_turn, found.sure
    (8, True)
    """
    d = deviations(edges_s[:MOST_PULSES])
    most = min(MOST_COUNT, int(d.size / LEAST_TURNS))
    if most < 1:
        return None
    ratios = _ratios(d, most)
    lags = list(range(1, most + 1))
    scored = {lag: _scored(ratios, lag, d.size) for lag in lags}
    scored = {lag: _beyond_the_filter(scored, lag) for lag in lags}
    best = max(lags, key=lambda lag: scored[lag].whole)
    top = scored[best].whole
    # the smallest divisor that says as much, for every multiple repeats as well
    best = next((lag for lag in lags if best % lag == 0 and scored[lag].whole >= DIVISOR_SHARE * top), best)
    plain = scored[best].whole >= PLAIN_SHARE * top and not any(
        scored[lag].whole > DOUBTFUL_SHARE * top for lag in range(2, best) if best % lag == 0
    )
    others = [lag for lag in lags if lag % best] or lags
    following = max(others, key=lambda lag: scored[lag].whole)
    found = scored[best]
    log_odds = found.whole - max(scored[following].whole, 0.0) if following != best else found.whole
    halves = [_best_of_half(scored, at) for at in (0, 1)]
    agree = all(
        found.halves[at] >= SURE_OF_HALF and (lag % best == 0 or found.halves[at] >= 0.9 * scored[lag].halves[at])
        for at, lag in enumerate(halves)
    )
    stretch = _longest(found, best, d.size)
    doubts = (
        not plain,
        np.count_nonzero(found.shifts) > MOST_SHIFTED * found.shifts.size,
        _slips(d, best) > MOST_SLIPS * d.size / best,
        _wavers(d, best),
        not _comes_again(d[slice(*stretch)], best),
        log_odds < SURE or found.whole < SURE + math.log(most) or not agree,
    )
    sure = not any(doubts)
    return Counted(best, following, log_odds, sure, stretch)


def _best_of_half(scored: dict[int, _Scored], at: int) -> int:
    return max(scored, key=lambda lag: scored[lag].halves[at])


def _longest(found: _Scored, lag: int, size: int) -> tuple[int, int]:
    """The longest run of blocks that are not shifted, with the turn that they are compared with."""
    off = np.pad(found.shifts != 0, 2)
    beside = off[:-2] | off[1:-1] | off[2:]  # a slip may lie in a block that is not shifted yet, or no more
    kept = np.flatnonzero(np.diff(np.concatenate(([1], beside[1:-1].astype(int), [1]))))
    if kept.size < 2:
        return 0, size
    runs = kept.reshape(-1, 2)
    first, after = runs[int(np.argmax(runs[:, 1] - runs[:, 0]))]
    last = size if after == found.shifts.size else min(int(after) * found.block + lag, size)
    return int(first) * found.block, last


def _comes_again(d: Array, lag: int) -> bool:
    """Whether a stretch ends with the pattern with which it began, at the same places: one that wanders is no
    ring's."""
    turns = d.size // lag
    if turns < 2:
        return False
    folded, some = d[: turns * lag].reshape(turns, lag), max(turns // 4, 1)
    first, last = folded[:some].mean(axis=0), folded[-some:].mean(axis=0)
    both = float(np.linalg.norm(first) * np.linalg.norm(last))
    return both > 0 and float(first @ last) >= SAME_PATTERN * both


def _wavers(d: Array, count: int) -> bool:
    """Whether a single line is all there is in the spectrum of the deviations, and not one of few teeth: speed that
    wavers."""
    power = np.abs(np.fft.rfft(d * np.hanning(d.size))) ** 2
    at = int(power.argmax())
    if power[max(at - 2, 0) : at + 3].sum() < ONE_LINE * power.sum():
        return False
    turns = at * count / d.size  # of the line in a turn: whole, where it belongs to the teeth
    return count > MOST_OF_LINES or abs(turns - round(turns)) * d.size > 0.6 * count


def _slips(d: Array, lag: int) -> int:
    """How many places stand out that come again neither a turn before nor a turn after, a place or two aside."""
    usual = _scale(d)
    out = np.flatnonzero(np.abs(d) > OUTSTANDING * usual)
    alone = np.ones(out.size, dtype=bool)
    for shift in (0, *SHIFTS):
        for way in (-lag + shift, lag + shift):
            there = (out + way >= 0) & (out + way < d.size)
            near = np.abs(d[np.clip(out + way, 0, d.size - 1)] - d[out]) < ALIKE * np.abs(d[out])
            alone &= ~(there & near)
    places = out[alone]
    return int(places.size and 1 + np.count_nonzero(np.diff(places) > AROUND))


class _Scored(NamedTuple):
    whole: float
    halves: tuple[float, float]
    shifts: NDArray[np.int64]
    block: int


NOTHING = _Scored(-math.inf, (-math.inf, -math.inf), np.zeros(0, dtype=np.int64), BLOCK)


def _beyond_the_filter(scored: dict[int, _Scored], lag: int) -> _Scored:
    """Deviations less than a filter's width apart resemble each other by it: there a multiple has to say the same."""
    if lag >= AROUND:
        return scored[lag]
    further = lag * -(-AROUND // lag)
    return min(scored[lag], scored[further], key=lambda item: item.whole) if further in scored else NOTHING


def _ratios(d: Array, most: int) -> dict[int, Array]:
    """For every lag the tempered ratio of each pair.

    Of the usual deviations a share ρ comes again and the rest is chance, so the next one is expected at ρ·d; what
    stands out (a missing tooth) is expected as it was.
    """
    usual = _scale(d)
    stands_out = np.abs(d) > OUTSTANDING * usual
    pairs = {}
    for lag in range(1, min(most + max(SHIFTS), d.size - 1) + 1):
        apart = _scale(d[lag:] - d[:-lag])
        again = min(max(1 - apart**2 / (2 * usual**2), 0.0), 1.0)
        pairs[lag] = (again, apart)
    width = max(1.06 * min([apart for _, apart in pairs.values()]), LEAST_PATTERN)
    by_chance = _density(d, width)
    ratios = {}
    for lag, (again, apart) in pairs.items():
        before, out = d[:-lag], stands_out[:-lag]
        sigma = np.where(out, apart, max(usual * math.sqrt(1 - again**2), apart / 2))
        off = (d[lag:] - np.where(out, before, again * before)) / sigma
        same = T_TOP / sigma * (1 + off**2 / T_FREEDOM) ** (-(T_FREEDOM + 1) / 2)
        ratios[lag] = TEMPER * np.log((1 - STRAY) * same / by_chance[lag:] + STRAY)
    return ratios


def _scale(values: Array) -> float:
    """Their standard deviation, by the median of what they are: single large ones do not count."""
    return max(1.4826 * float(np.median(np.abs(values))), LEAST_PATTERN)


def _density(d: Array, width: float) -> Array:
    """How dense the deviations lie at each of them, it alone left out and counted as one half."""
    ordered = np.sort(d)
    near = np.searchsorted(ordered, d + width, side="right") - np.searchsorted(ordered, d - width, side="left")
    return np.asarray((near - 0.5) / (2 * width * d.size))


def _scored(ratios: dict[int, Array], lag: int, size: int) -> _Scored:
    """A lag's score over blocks, each at its best shift; none where most blocks are shifted."""
    block = max(BLOCK, lag // 2)
    length = size - lag
    starts = np.arange(0, max(length - block // 2, 1), block)
    plain = np.add.reduceat(ratios[lag], starts)
    best, shifts = plain.copy(), np.zeros(plain.size, dtype=np.int64)
    for shift in SHIFTS:
        other = ratios.get(lag + shift)
        if other is None or lag + shift < 1 or other.size <= starts[-1]:
            continue
        sums = np.add.reduceat(other[:length] if other.size >= length else other, starts) - SHIFT_COST
        better = sums > best
        best[better], shifts[better] = sums[better], shift
    if np.count_nonzero(shifts) > 0.5 * shifts.size:
        best, shifts = plain, np.zeros(plain.size, dtype=np.int64)
    half = (best.size + 1) // 2
    return _Scored(float(best.sum()), (float(best[:half].sum()), float(best[best.size - half :].sum())), shifts, block)
