"""When a difference is one: one rule for every verdict, and one sentence."""

from __future__ import annotations

from typing import Literal

Verdict = Literal["right", "within", "wrong"]
NOTHING_PCT = 0.05
"""Below this no display of speed shows a difference. Common practice."""


def verdict_on(error_pct: float, expanded_pct: float, step_pct: float = 0.0) -> Verdict:
    """Whether an error is nothing, within what is known, or wrong.

    Wrong when |error| > U + half a step: what the expanded uncertainty and the resolution of the setting explain is no
    mistake.

    Parameters
    ----------
    The error, its relative expanded uncertainty, and the step of the setting, all in [%] of the value.

    References
    ----------
    JCGM 100:2008, 6.2 (expanded uncertainty); the rule itself: common practice.

    Examples
    --------
    >>> verdict_on(-0.07, 1.0), verdict_on(0.01, 1.0), verdict_on(-2.4, 1.0), verdict_on(-0.3, 0.2, 0.5)
    ('within', 'right', 'wrong', 'within')
    """
    if abs(error_pct) < NOTHING_PCT:
        return "right"
    return "wrong" if abs(error_pct) > expanded_pct + step_pct / 2 else "within"


def sentence_on(error_pct: float, expanded_pct: float, step_pct: float = 0.0) -> str:
    """The verdict in words.

    Examples
    --------
    >>> sentence_on(-0.07, 1.0)
    'error -0.07 %, within the uncertainty of ± 1.0 %'
    >>> sentence_on(-2.4, 1.0)
    'error -2.40 %, beyond the uncertainty of ± 1.0 %'
    """
    verdict = verdict_on(error_pct, expanded_pct, step_pct)
    if verdict == "right":
        return "right"
    known = (
        f"the uncertainty of ± {expanded_pct:.2g} %"
        if expanded_pct >= 10
        else f"the uncertainty of ± {expanded_pct:.1f} %"
    )
    return f"error {error_pct:+.2f} %, {'within' if verdict == 'within' else 'beyond'} {known}"
