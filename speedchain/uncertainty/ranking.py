"""What most likely happened: a ratio that should be 1 against the ratios known mistakes make."""

from __future__ import annotations

import math
from collections.abc import Callable, Iterable
from dataclasses import field

from speedchain.fields import Words
from speedchain.results import result

UNKNOWN_SPREAD = 1.5
"""Spread of ln(ratio) over mistakes nobody listed."""
UNKNOWN_PRIOR = 0.3
FAR = 6.0
"""Ratios further off than so many standard uncertainties are out of the question."""
WORTH_SAYING_PCT = 3.0
CLEAR_PCT = 85.0
"""From here on the first is right nineteen times of twenty although another explains the ratio too: docs/truth.md."""
RIGHT = "right"


@result
class Hypothesis:
    """A mistake: the ratio it makes and how far that spreads [%], how common it is (any positive weight), in words, and
    what to do."""

    code: str
    ratio: float
    prior: float
    text: Words
    fix: Words
    spread_pct: float = 0.0
    decisive: bool = False
    """Something besides the ratio speaks for it, such as a number typed to the digit."""
    one_way: bool = False
    """It only takes away, or only adds: what is off the other way is not from it."""
    ln_ratio: float = field(init=False)
    spread: float = field(init=False)

    def __post_init__(self) -> None:
        """Logarithm and spread once, where mistakes are listed, not for every ratio that is explained."""
        object.__setattr__(self, "ln_ratio", math.log(self.ratio) if self.ratio > 0 else math.inf)
        object.__setattr__(self, "spread", self.spread_pct / 100)


@result
class Likely:
    """A mistake that explains a ratio: its share of the probability [%], and how far the ratio is from the one it makes
    [%]. No share where others explain the ratio as well: only the order is known then."""

    code: str
    text: Words
    fix: Words
    ratio: float
    off_pct: float
    share_pct: float | None


def reach(ratio: float, u_pct: float) -> Callable[[float], bool]:
    """Whether a mistake that makes some ratio can explain the one that was found, with its relative standard
    uncertainty [%]: within six of them. Of a mistake without a spread of its own.

    Examples
    --------
    >>> near = reach(3.15, 0.5)
    >>> near(3.1416), near(2.0)
    (True, False)
    """
    width = FAR * _least(u_pct)
    low, high = ratio * math.exp(-width), ratio * math.exp(width)
    return lambda other: low < other < high


def _least(u_pct: float) -> float:
    return max(u_pct, 0.05) / 100


def likeliest(ratio: float, u_pct: float, hypotheses: Iterable[Hypothesis], most: int = 4) -> tuple[Likely, ...]:
    """The mistakes that explain a ratio, likeliest first.

    share ∝ prior · N(ln(ratio/ratio_i); 0, sqrt(u² + spread²)); a mistake nobody listed has a prior too, spread wide.
    Where another mistake explains the ratio as well (within 2 u), or the first does not, no share is given, unless the
    first is by far the likelier: how common mistakes are is no measurement.

    Parameters
    ----------
    The ratio found; its relative standard uncertainty [%]; the mistakes.

    Returns
    -------
    At most `most`, leaving out what is below 3 %.

    References
    ----------
    Bayes' rule; the weights are common practice.

    Examples
    --------
    >>> pi = Hypothesis(code="pi", ratio=math.pi, prior=1.0, text="a diameter was entered",
    ...     fix="Enter the circumference.")
    >>> two = Hypothesis(code="two", ratio=2.0, prior=1.0, text="both edges are counted", fix="Count one edge.")
    >>> [found.code for found in likeliest(3.15, 0.5, (pi, two))]
    ['pi']
    """
    u = _least(u_pct)
    found_ln = math.log(ratio)
    near = [h for h in hypotheses if abs(found_ln - h.ln_ratio) < FAR * (u + h.spread)]
    scores: dict[str, float] = {}
    first: dict[str, tuple[float, Hypothesis]] = {}
    also, decisive = set(), set()
    for h in near:
        wide = math.hypot(u, h.spread)
        off = abs(found_ln - h.ln_ratio) / wide
        if off >= FAR or (h.one_way and found_ln * h.ln_ratio < 0 and abs(found_ln) > 2 * u):
            continue
        score = h.prior * math.exp(-0.5 * off**2) / wide
        scores[h.text] = scores.get(h.text, 0.0) + score  # one mistake, several ratios: its share is their sum
        if h.text not in first or score > first[h.text][0]:
            first[h.text] = score, h
        if off <= 2:
            also.add(h.text)
        if h.decisive or h.code == RIGHT:
            decisive.add(h.text)
    unknown = UNKNOWN_PRIOR * math.exp(-0.5 * (found_ln / UNKNOWN_SPREAD) ** 2) / UNKNOWN_SPREAD
    total = sum(scores.values()) + unknown
    if not total:
        return ()
    shares = {text: 100 * score / total for text, score in scores.items()}
    worth = sorted([text for text in shares if shares[text] >= WORTH_SAYING_PCT], key=lambda text: -shares[text])[:most]
    if not worth:
        return ()
    said = worth[0] in decisive or also == {worth[0]} or shares[worth[0]] >= CLEAR_PCT
    return tuple([_explaining(ratio, first[text][1], shares[text] if said else None) for text in worth])


def _explaining(ratio: float, mistake: Hypothesis, share_pct: float | None) -> Likely:
    return Likely(
        code=mistake.code,
        text=mistake.text,
        fix=mistake.fix,
        ratio=mistake.ratio,
        off_pct=100 * (ratio / mistake.ratio - 1),
        share_pct=share_pct,
    )
