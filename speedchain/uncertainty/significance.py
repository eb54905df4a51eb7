"""When a difference is one: one rule for every verdict, and one sentence."""

from __future__ import annotations

from typing import Literal

from speedchain.fields import NOTHING_PCT, text_of

Verdict = Literal["right", "within", "wrong"]


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
    'shows 0.07 % less than true, within the uncertainty of ± 1.0 %'
    >>> sentence_on(-2.4, 1.0)
    'shows 2.40 % less than true, beyond the uncertainty of ± 1.0 %'
    """
    verdict = verdict_on(error_pct, expanded_pct, step_pct)
    if verdict == "right":
        return "right"
    known = (
        text_of("the uncertainty of ± {0:.2g} %", expanded_pct)
        if expanded_pct >= 10
        else text_of("the uncertainty of ± {0:.1f} %", expanded_pct)
    )
    return text_of("shows {0}, {1} {2}", against_true(error_pct), "within" if verdict == "within" else "beyond", known)


def against_true(error_pct: float, places: int = 2) -> str:
    """An error as a share of the true speed, in words.

    Examples
    --------
    >>> against_true(5.07, 1), against_true(-0.3)
    ('5.1 % more than true', '0.30 % less than true')
    """
    return text_of("{0} % {1} than true", f"{abs(error_pct):.{places}f}", "less" if error_pct < 0 else "more")
