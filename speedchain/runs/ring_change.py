"""What changed on a ring between two captures."""

from __future__ import annotations

import math

import numpy as np
from numpy.typing import NDArray

from speedchain.fields import Words, joined, text_of
from speedchain.results import result
from speedchain.runs.fingerprint import OUT_PCT, OUT_SIGMA, RUNOUT_FROM, Fingerprint, first_order

Array = NDArray[np.float64]
APART = 0.7
"""The second-best way to lay two fingerprints on each other must be so much worse (best by second). Common practice."""
MOST_NAMED = 3


@result
class ToothChange:
    """A tooth, by its number now, and how much further it is out of place than before [% of the pitch]."""

    number: int
    by_pct: float


@result
class RingChange:
    """Two captures of a ring against each other.

    `turned_by` is how many teeth the numbers moved on (the mark, or the first pulse, was another one); `sure` whether
    no second way fits nearly as well. `runout_deg` is the amplitude of the change of the once-per-turn wave.
    """

    same_count: bool
    turned_by: int
    sure: bool
    teeth: tuple[ToothChange, ...]
    runout_deg: float
    text: Words


def ring_change(now: Fingerprint, before: Fingerprint, *, same_mark: bool = False) -> RingChange:
    """What a ring's fingerprint has that an earlier one did not.

    Without a common mark the earlier one is turned to where the median of |d_now − d_before| is least, once-per-turn
    waves taken out. A tooth has changed where the difference, its once-per-turn wave taken out, is beyond five times
    the scatter of the others and 2 % of the pitch.

    Parameters
    ----------
    Two fingerprints; whether both were numbered from the same mark.

    Examples
    --------
    >>> from speedchain.runs.fingerprint import fingerprint
    >>> even = np.tile(np.ones(12), 20)
    >>> bent = even.copy()
    >>> bent[4::12] += 0.1
    >>> bent[5::12] -= 0.1
    >>> rings = [fingerprint(np.concatenate([[0], np.cumsum(part)]), count=12) for part in (bent, even)]
    >>> found = ring_change(*rings, same_mark=True)
    >>> [(tooth.number, round(tooth.by_pct)) for tooth in found.teeth], found.text
    ([(6, 10)], 'Changed since: tooth 6 by +10.0 % of the pitch.')
    """
    count = now.pulses_per_turn
    if (count, now.positions) != (before.pulses_per_turn, before.positions):
        return RingChange(
            same_count=False,
            turned_by=0,
            sure=True,
            teeth=(),
            runout_deg=0.0,
            text=text_of(
                "Earlier capture: {0} pulses per turn of {1} positions; this one: {2} of {3}.",
                before.pulses_per_turn,
                before.positions,
                count,
                now.positions,
            ),
        )
    here, then = np.array(now.deviation_pct), np.array(before.deviation_pct)
    turned, sure = (0, True) if same_mark else _turned(here, then)
    then = np.roll(then, turned)
    then = then - np.median(then)
    difference = here - then
    wave, amplitude = _wave(difference)
    left = difference - wave
    left -= np.median(left)
    scatter = float(np.median(np.abs(left))) / 0.6745
    own = math.hypot(
        now.scatter_pct / math.sqrt(max(now.turns, 1)), before.scatter_pct / math.sqrt(max(before.turns, 1))
    )
    limit = max(OUT_SIGMA * max(scatter, own), OUT_PCT)
    teeth = tuple(
        [ToothChange(number=int(at) + 1, by_pct=float(left[at])) for at in np.flatnonzero(np.abs(left) > limit)]
    )
    return RingChange(
        same_count=True,
        turned_by=turned,
        sure=sure,
        teeth=teeth if sure else (),
        runout_deg=amplitude / 100 * 360 / now.positions,
        text=_text(teeth, sure),
    )


def _turned(here: Array, then: Array) -> tuple[int, bool]:
    """How far the earlier one is turned to lie on the other, and whether no second way fits nearly as well."""
    of_each = [values - _wave(values)[0] for values in (here, then)]
    turns = np.arange(here.size)
    all_ways = of_each[1][(turns[None, :] - turns[:, None]) % here.size]
    off = np.median(np.abs(of_each[0] - all_ways), axis=1)
    best = int(np.argmin(off))
    return best, bool(off[best] < APART * np.delete(off, best).min(initial=np.inf))


def _wave(difference: Array) -> tuple[Array, float]:
    """The once-per-turn wave of a difference, teeth that stand out counting less, and its amplitude [% of the
    pitch]."""
    count = difference.size
    if count < RUNOUT_FROM:
        return np.zeros(count), 0.0
    turn = 2 * np.pi * np.arange(count) / count
    wave, parts = first_order(np.column_stack([np.ones(count), np.cos(turn), np.sin(turn)]), difference)
    return wave, float(np.hypot(*parts))


def _text(teeth: tuple[ToothChange, ...], sure: bool) -> Words:
    if not sure:
        return (
            "The two captures cannot be aligned: the ring is even, or it is another ring. "
            "Mark a tooth and capture both from the mark."
        )
    if not teeth:
        return "No tooth has changed since."
    said = [text_of("tooth {0} by {1:+.1f} %", tooth.number, tooth.by_pct) for tooth in teeth[:MOST_NAMED]]
    if len(teeth) > MOST_NAMED:
        said.append(text_of("and {0} more", len(teeth) - MOST_NAMED))
    return text_of("Changed since: {0} of the pitch.", joined(", ", said))
