"""An uncertainty budget: the inputs of a figure, what two figures share, and the coverage factor of few readings."""

from __future__ import annotations

import math
from collections.abc import Iterable
from functools import lru_cache

from speedchain.fields import Words
from speedchain.results import result
from speedchain.uncertainty.propagation import COVERAGE_FACTOR

COVERAGE = math.erf(math.sqrt(2))
"""The probability that ± 2 standard uncertainties of a normal distribution cover: 95.45 %. JCGM 100:2008, Table G.2."""


@result
class UncertaintyInput:
    """One input of a figure: what it is, how far it moves the figure [%, one standard uncertainty, signed], and its k.

    Two figures that name the same `source` share that input: both are off together, by their signs. A `whole` one, such
    as a tooth, is off by k·u either way or not at all.
    """

    source: Words
    u_pct: float
    coverage_factor: float = COVERAGE_FACTOR
    whole: bool = False


Budget = tuple[UncertaintyInput, ...]


@lru_cache(maxsize=64)
def student_factor(degrees_of_freedom: int) -> float:
    """Coverage factor for 95.45 % of a mean whose scatter was seen in few readings: t_p(ν).

    References
    ----------
    JCGM 100:2008, G.3 and Table G.2; `scipy.special.stdtrit`.

    Examples
    --------
    >>> round(student_factor(1), 2), round(student_factor(4), 2)
    (13.97, 2.87)
    """
    from scipy.special import stdtrit

    return float(stdtrit(degrees_of_freedom, (1 + COVERAGE) / 2))


def standard_pct(budget: Budget) -> float:
    """Combined relative standard uncertainty [%]: sqrt(Σ u_i²).

    References
    ----------
    JCGM 100:2008, 5.1.6.

    Examples
    --------
    >>> standard_pct((UncertaintyInput(source="tape", u_pct=0.3), UncertaintyInput(source="marks", u_pct=-0.4)))
    0.5
    """
    return math.sqrt(sum([part.u_pct**2 for part in budget]))


def expanded_pct(budget: Budget) -> float:
    """Relative expanded uncertainty [%]: sqrt(Σ (k_i·u_i)²), each input with its own coverage factor.

    With inputs of many degrees of freedom this is 2·u. The effective degrees of freedom of Welch and Satterthwaite
    (JCGM 100:2008, G.4) would give one k for the sum; with one degree of freedom (two readings) that covers 88 % where
    95 % is claimed (tests/published/test_coverage.py), so the k of each input is used instead. With a whole step t,
    there or not, it is the interval that holds 95.45 % of the mixture of N(−t, u), N(0, u) and N(t, u).

    Examples
    --------
    >>> round(expanded_pct((UncertaintyInput(source="tape", u_pct=0.3), UncertaintyInput(source="marks", u_pct=0.4))),
    ...     9)
    1.0
    >>> tooth = UncertaintyInput(source="tooth", u_pct=2 / 6**0.5, coverage_factor=6**0.5, whole=True)
    >>> round(expanded_pct((tooth,)), 3), round(expanded_pct((tooth, UncertaintyInput(source="tape", u_pct=0.3))), 3)
    (2.0, 2.181)
    """
    smooth = math.sqrt(sum([(part.coverage_factor * part.u_pct) ** 2 for part in budget if not part.whole]))
    whole = [part for part in budget if part.whole and part.u_pct]
    return _with_whole(smooth, whole[0]) if whole else smooth


def _with_whole(smooth_pct: float, step: UncertaintyInput) -> float:
    """± [%] of what is spread by ± `smooth_pct`, and off by a whole step either way with a chance of 1/(2k²) each."""
    from scipy.optimize import brentq

    size, chance = abs(step.coverage_factor * step.u_pct), 1 / (2 * step.coverage_factor**2)
    u = max(smooth_pct / COVERAGE_FACTOR, 1e-6 * size)

    def within(reach: float, at: float) -> float:
        return 0.5 * (math.erf((reach - at) / (u * math.sqrt(2))) + math.erf((reach + at) / (u * math.sqrt(2))))

    def beyond(reach: float) -> float:
        return (1 - 2 * chance) * within(reach, 0) + 2 * chance * within(reach, size) - COVERAGE

    return float(brentq(beyond, 0, size + 3 * u))


def covariance(first: Budget, second: Budget) -> float:
    """Covariance of two figures [%²]: Σ u_i·u_j over the inputs that they share, each at k/2 standard uncertainties.

    References
    ----------
    JCGM 100:2008, 5.2.2 and F.1.2.3.

    Examples
    --------
    >>> a = (UncertaintyInput(source="make", u_pct=0.5), UncertaintyInput(source="row", u_pct=0.4))
    >>> covariance(a, (UncertaintyInput(source="make", u_pct=0.5),))
    0.25
    """
    return sum([_effective(a) * _effective(b) for a in first for b in second if a.source == b.source])


def _effective(part: UncertaintyInput) -> float:
    return part.u_pct * part.coverage_factor / COVERAGE_FACTOR


def scaled(budget: Iterable[UncertaintyInput], factor: float) -> Budget:
    """The same inputs, each moving the figure by so many times as much.

    Examples
    --------
    >>> scaled((UncertaintyInput(source="make", u_pct=0.5),), 2)[0].u_pct
    1.0
    """
    return tuple(
        [
            UncertaintyInput(
                source=part.source, u_pct=part.u_pct * factor, coverage_factor=part.coverage_factor, whole=part.whole
            )
            for part in budget
        ]
    )


def one_input(source: str, u_pct: float) -> Budget:
    """A budget of a single input.

    Examples
    --------
    >>> standard_pct(one_input("label", 0.5))
    0.5
    """
    return (UncertaintyInput(source=source, u_pct=u_pct),)
