"""What most likely happened: a ratio that should be 1 against the ratios known mistakes make."""

from __future__ import annotations

import math
from collections.abc import Iterable

from speedchain.results import result, shared

UNKNOWN_SPREAD = 1.5
"""Spread of ln(ratio) over mistakes nobody listed."""
UNKNOWN_PRIOR = 0.05
FAR = 6.0
"""Ratios further off than so many standard uncertainties are out of the question."""
WORTH_SAYING_PCT = 3.0


@shared
class Hypothesis:
    """A mistake: the ratio it makes, how common it is (any positive weight), in words, and what to do."""

    code: str
    ratio: float
    prior: float
    text: str
    fix: str


@result
class Likely:
    """A mistake that installations: its share of the probability [%], and how far the ratio is from the one it makes [%]."""

    code: str
    text: str
    fix: str
    ratio: float
    off_pct: float
    share_pct: float


def likeliest(ratio: float, u_pct: float, hypotheses: Iterable[Hypothesis], most: int = 4) -> tuple[Likely, ...]:
    """The mistakes that explain a ratio, likeliest first.

    share ∝ prior · N(ln(ratio/ratio_i); 0, u); a mistake nobody listed has a prior too, spread wide.

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
    >>> pi = Hypothesis(code="pi", ratio=math.pi, prior=1.0, text="a diameter was entered", fix="Enter the circumference.")
    >>> two = Hypothesis(code="two", ratio=2.0, prior=1.0, text="both edges are counted", fix="Count one edge.")
    >>> [found.code for found in likeliest(3.15, 0.5, (pi, two))]
    ['pi']
    """
    u = max(u_pct, 0.05) / 100
    scored = [
        (h, h.prior * math.exp(-0.5 * (off / u) ** 2) / u)
        for h in hypotheses
        if h.ratio > 0 and abs(off := math.log(ratio / h.ratio)) < FAR * u
    ]
    unknown = UNKNOWN_PRIOR * math.exp(-0.5 * (math.log(ratio) / UNKNOWN_SPREAD) ** 2) / UNKNOWN_SPREAD
    total = sum([score for _, score in scored]) + unknown
    if not total:
        return ()
    found: dict[str, Likely] = {}
    for h, score in sorted(scored, key=lambda pair: -pair[1]):
        share = 100 * score / total
        if (same := found.get(h.text)) is not None:  # one mistake, several ratios: its share is their sum
            found[h.text] = Likely(
                code=same.code,
                text=same.text,
                fix=same.fix,
                ratio=same.ratio,
                off_pct=same.off_pct,
                share_pct=same.share_pct + share,
            )
        else:
            found[h.text] = Likely(
                code=h.code,
                text=h.text,
                fix=h.fix,
                ratio=h.ratio,
                off_pct=100 * (ratio / h.ratio - 1),
                share_pct=share,
            )
    worth = [item for item in found.values() if item.share_pct >= WORTH_SAYING_PCT]
    return tuple(sorted(worth, key=lambda item: -item.share_pct)[:most])
