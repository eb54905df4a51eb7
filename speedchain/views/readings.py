"""What readings beside the true speed say: their pattern over speed, and the likely causes of it."""

from __future__ import annotations

import math
from dataclasses import replace
from itertools import pairwise
from typing import Literal

import numpy as np
from numpy.typing import NDArray
from pydantic import Field, model_validator

from speedchain.diagnosis import pulse_faults, setting_mistakes, setup_of
from speedchain.document import Installation
from speedchain.evaluation import Evaluation
from speedchain.fields import InputError, Part, Words, text_of
from speedchain.observing import SpeedPair
from speedchain.results import result
from speedchain.sensor import facts_of
from speedchain.uncertainty import COVERAGE_FACTOR, Hypothesis, Likely, likeliest

Pattern = Literal["constant", "offset", "saturating", "falling"]
BETTER = 6.0
"""How much smaller χ² + 2·parameters must be for a pattern to be preferred to a constant ratio (AIC). Common
practice."""
TRUE_SPEED_U_PCT = 0.5
"""Standard uncertainty of the true speed of one pair. Common practice."""

Array = NDArray[np.float64]


class Readings(Part):
    """Readings of one display at several true speeds."""

    readout: int = Field(0, ge=0, le=7)
    pairs: tuple[SpeedPair, ...] = Field(min_length=1, max_length=12)

    @model_validator(mode="after")
    def _each_speed_once(self) -> Readings:
        speeds = sorted([pair.true_kmh for pair in self.pairs])
        for low, high in pairwise(speeds):
            if low == high:
                raise InputError(
                    text_of("{0:g} km/h is entered twice.", low),
                    remedy="Enter the mean of both readings.",
                    path="pairs",
                )
        return self


@result
class Diagnosis:
    """The pattern of the readings: shown/true (below its end, if any), offset and end [km/h], text, likely causes."""

    pattern: Pattern
    ratio: float
    offset_kmh: float
    end_kmh: float | None
    text: Words
    causes: tuple[Likely, ...]


def causes_of(
    installation: Installation,
    evaluation: Evaluation,
    readout: int,
    ratio: float,
    *,
    u_pct: float,
    chain_u_pct: float = 0.0,
) -> tuple[Likely, ...]:
    """The likely causes of shown/true, with what corrects each.

    Parameters
    ----------
    An installation and its evaluation; place of the readout; shown/true; its standard uncertainty [%], and, where that
    is not in it, that of what the installation makes of wheel, drive and count [%].
    """
    outcome = evaluation.readouts[readout]
    drive = evaluation.stages[1]
    setup = setup_of(installation, outcome, ratio=drive.value, ratio_known=drive.evidence != "assumed")
    hypotheses: tuple[Hypothesis, ...] = (
        *setting_mistakes(setup),
        *pulse_faults(installation.target.count, facts_of(installation.sensor).output == "contact"),
    )
    if chain_u_pct > max(u_pct, abs(outcome.in_use.error_pct)):  # another setting than the calculated one is in it
        text = text_of("no fault: the calculated setting can be wrong by ± {0:.2g} %", COVERAGE_FACTOR * chain_u_pct)
        fix = "Use this result."
        hypotheses += (Hypothesis(code="unsure", ratio=1.0, prior=2.0, spread_pct=chain_u_pct, text=text, fix=fix),)
    correction = text_of("{0}.", outcome.action)
    return tuple(
        [
            replace(cause, fix=cause.fix or ("Nothing to correct." if cause.code == "right" else correction))
            for cause in likeliest(ratio, u_pct, hypotheses)
        ]
    )


def diagnose(installation: Installation, evaluation: Evaluation, readings: Readings) -> Diagnosis:
    """Which pattern fits readings best, and which mistakes make it.

    shown = r·true; r·true + b; min(r·true, end); r·true·(1 − s·true): weighted least squares with the step of the
    display and 0.5 % of the true speed, the pattern with the smallest χ² + 2·parameters. The causes of a constant ratio
    are ranked as for a setting, with faults of the pulses beside them; a pattern has causes of its own.

    Raises
    ------
    `InputError` when there is no such readout.

    References
    ----------
    H. Akaike, IEEE Transactions on Automatic Control 19 (1974), from memory; the causes: common practice.
    """
    readout = installation.readout_at(readings.readout)
    evaluation.readouts[readings.readout]
    pairs = sorted([(pair.true_kmh, pair.shown_kmh) for pair in readings.pairs])
    true, shown = (np.array(column, dtype=float) for column in zip(*pairs, strict=True))
    sigma = np.hypot(readout.display_step_kmh / math.sqrt(12), TRUE_SPEED_U_PCT / 100 * np.maximum(shown, 1.0))
    fits = {
        "constant": _constant(true, shown, sigma),
        "offset": _offset(true, shown, sigma),
        "saturating": _saturating(true, shown, sigma),
        "falling": _falling(true, shown, sigma),
    }
    best: Pattern = "constant"
    least = fits["constant"].score
    for pattern in ("offset", "saturating", "falling"):
        if (score := fits[pattern].score) < min(least, fits["constant"].score - BETTER):
            best, least = pattern, score
    fit = fits[best]
    u_pct = math.hypot(
        100 * fit.ratio_u / max(fit.ratio, 1e-6), evaluation.chain_expanded_uncertainty_pct / COVERAGE_FACTOR
    )
    if fit.ratio <= 0:
        raise InputError(
            "The display showed nothing at any speed.",
            remedy="Do the magnet test: it tells sensor, wire and reader apart.",
            path="pairs.0.shown_kmh",
        )
    causes = causes_of(installation, evaluation, readings.readout, fit.ratio, u_pct=u_pct)
    return Diagnosis(
        pattern=best,
        ratio=fit.ratio,
        offset_kmh=fit.offset_kmh,
        end_kmh=fit.end_kmh,
        text=_text(best, fit),
        causes=causes if best == "constant" else (*_of_pattern(best, fit), *causes[:2]),
    )


@result
class _Fit:
    """A pattern through the readings: ratio and its standard error, offset, end, and χ² + 2·parameters."""

    ratio: float
    ratio_u: float
    score: float
    offset_kmh: float = 0.0
    end_kmh: float | None = None
    falls_pct: float = 0.0


def _constant(true: Array, shown: Array, sigma: Array) -> _Fit:
    weight = (true / sigma) ** 2
    ratio = float((true * shown / sigma**2).sum() / weight.sum())
    chi = float((((shown - ratio * true) / sigma) ** 2).sum())
    return _Fit(ratio=ratio, ratio_u=1 / math.sqrt(float(weight.sum())), score=chi + 2)


def _solved(columns: list[Array], shown: Array, sigma: Array) -> tuple[Array, float, float]:
    """Weighted least squares: the solution, χ², and the standard error of the first unknown."""
    system = np.column_stack(columns) / sigma[:, None]
    found = np.linalg.lstsq(system, shown / sigma, rcond=None)[0]
    chi = float(((system @ found - shown / sigma) ** 2).sum())
    error = math.sqrt(float(np.linalg.pinv(system.T @ system)[0, 0]))
    return np.asarray(found, dtype=np.float64), chi, error


_WORSE = _Fit(ratio=0.0, ratio_u=0.0, score=math.inf)


def _offset(true: Array, shown: Array, sigma: Array) -> _Fit:
    if true.size < 3:
        return _WORSE
    (ratio, offset), chi, error = _solved([true, np.ones_like(true)], shown, sigma)
    return _Fit(ratio=float(ratio), ratio_u=error, score=chi + 4, offset_kmh=float(offset))


def _falling(true: Array, shown: Array, sigma: Array) -> _Fit:
    if true.size < 3:
        return _WORSE
    (ratio, bend), chi, error = _solved([true, true**2], shown, sigma)
    falls_pct = -100 * float(bend) * float(true.max()) / float(ratio) if ratio else 0.0
    return _Fit(ratio=float(ratio), ratio_u=error, score=chi + 4, falls_pct=falls_pct)


def _saturating(true: Array, shown: Array, sigma: Array) -> _Fit:
    """A constant ratio up to some reading, the same speed from there on: every place of the bend is tried."""
    best = _WORSE
    for below in range(1, true.size - 1):
        below_fit = _constant(true[:below], shown[:below], sigma[:below])
        end = float(np.average(shown[below:], weights=1 / sigma[below:] ** 2))
        chi = below_fit.score - 2 + float((((shown[below:] - end) / sigma[below:]) ** 2).sum())
        if end <= below_fit.ratio * true[below] * 1.001 and chi + 4 < best.score:
            best = _Fit(ratio=below_fit.ratio, ratio_u=below_fit.ratio_u, score=chi + 4, end_kmh=end)
    return best


def _text(pattern: Pattern, fit: _Fit) -> str:
    off_pct = 100 * (fit.ratio - 1)
    match pattern:
        case "constant":
            return text_of("The display shows {0:.4g} times the true speed ({1:+.1f} %).", fit.ratio, off_pct)
        case "offset":
            return text_of(
                "The display is {0:+.1f} km/h off at every speed, and shows {1:.4g} times the true speed "
                "on top: no setting alone corrects this.",
                fit.offset_kmh,
                fit.ratio,
            )
        case "saturating":
            return text_of("The display follows up to {0:.0f} km/h and stays there.", fit.end_kmh)
        case "falling":
            more = "less" if fit.falls_pct > 0 else "more"
            return text_of("The faster, the {0}: {1:.0f} % at the highest speed entered.", more, abs(fit.falls_pct))


def _of_pattern(pattern: Pattern, fit: _Fit) -> tuple[Likely, ...]:
    causes = {
        "offset": (
            ("offset", "the needle or the table of the display has an offset",
                "Adjust the needle, or enter a table of speeds."),
        ),
        "saturating": (
            (
                "limit",
                "an input cannot follow the frequency, or the output limit or the end of the scale is reached",
                "Compare the frequency there with max. frequency and output limit of every stage under Signal.",
            ),
        ),
        "falling": (
            ("missed", "pulses are missed, more of them the faster it turns: weak signal, slow rise or a filter",
                "Check air gap, pull-up and the input's filter."),
        )
        if fit.falls_pct > 0
        else (
            ("growth", "the tyre grows with speed, or false pulses come with speed",
                "Enter the growth of the tyre; check shielding and ignition wires."),
        ),
    }[pattern]  # fmt: skip
    return tuple(
        [
            Likely(code=code, text=text, fix=fix, ratio=fit.ratio, off_pct=0.0, share_pct=None)
            for code, text, fix in causes
        ]
    )
