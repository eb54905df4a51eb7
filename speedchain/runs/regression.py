"""A line through pairs that are uncertain both ways, with the pairs that do not fit counting less."""

from __future__ import annotations

import math

import numpy as np
from numpy.typing import NDArray

from speedchain.results import result

Array = NDArray[np.float64]
HUBER = 1.345
"""Beyond so many standard deviations a pair counts less: 95 % efficient for normal scatter (Huber)."""
ROUNDS = 60


@result
class Line:
    """shown = offset + ratio·true: both with standard uncertainties and covariance, χ², and the weight of every pair.

    The uncertainties are those of the pairs as given; `scatter` multiplies them where the pairs scatter otherwise.
    """

    ratio: float
    offset: float
    u_ratio: float
    u_offset: float
    covariance: float
    chi2: float
    weights: Array
    z: Array
    """Standardised distance of every pair."""

    def scatter(self, fitted: int) -> float:
        """How much the pairs scatter, in units of their own uncertainties, those that count less included.

        s² = Σ(w·z)²/(n − p)/m², m the share of pairs that count in full.

        References
        ----------
        P. J. Huber, Annals of Statistics 1 (1973), 799: variance of a robust regression, from memory.
        """
        return math.sqrt(float((self.pulls**2).sum()) / max(self.z.size - fitted, 1))

    @property
    def pulls(self) -> Array:
        """How much each pair pulls at the line: w·z/m, m the share of pairs that count in full."""
        return self.weights * self.z / max(float(np.mean(self.weights >= 1)), 0.5)


def line_through(
    true: Array, shown: Array, u_true: Array, u_shown: Array, *, through_zero: bool, robust: bool = True
) -> Line:
    """The line of least Σ w·(shown − a − r·true)²/(u_shown² + r²·u_true²): weighted total least squares.

    With `robust`, w = min(1, 1.345/|z|) of the standardised distance z, found anew until it rests.

    Parameters
    ----------
    Pairs of equal length in one unit, and their standard uncertainties; whether the line goes through zero.

    Examples
    --------
    >>> x = np.array([20.0, 50.0, 80.0])
    >>> found = line_through(x, 1.02 * x, np.full(3, 0.1), np.full(3, 0.1), through_zero=True)
    >>> round(found.ratio, 6)
    1.02

    References
    ----------
    D. York et al., American Journal of Physics 72 (2004), 367 (errors in both variables); P. J. Huber, Annals of
    Mathematical Statistics 35 (1964), 73. From memory.
    """
    weights = np.ones(true.size)
    ratio = float(shown @ true / (true @ true))
    offset = 0.0
    spread = 1.0
    for _ in range(ROUNDS):
        before = ratio, offset
        ratio, offset = _york((true, shown, u_true, u_shown), weights, ratio, through_zero)
        if robust and true.size > 2:
            z = np.abs(shown - offset - ratio * true) / np.sqrt(u_shown**2 + (ratio * u_true) ** 2)
            # scatter beyond what the pairs' own uncertainties say is no reason to leave half of them out
            spread = max(float(np.median(z)) / 0.6745, 1.0)
            weights = np.minimum(1.0, HUBER * spread / np.maximum(z, 1e-12))
        if abs(ratio - before[0]) < 1e-12 * abs(ratio) and abs(offset - before[1]) < 1e-10:
            break
    variance = u_shown**2 + (ratio * u_true) ** 2
    w = 1 / variance  # what all pairs together say; `scatter` brings in that some count less
    left = shown - offset - ratio * true
    adjusted = true + ratio * u_true**2 / variance * left
    if through_zero:
        u_ratio, u_offset, covariance = 1 / math.sqrt(float(w @ adjusted**2)), 0.0, 0.0
    else:
        mean = float(w @ adjusted / w.sum())
        about = float(w @ (adjusted - mean) ** 2)
        u_ratio = 1 / math.sqrt(about) if about > 0 else math.inf
        u_offset = math.sqrt(1 / float(w.sum()) + (mean * u_ratio) ** 2)
        covariance = -mean * u_ratio**2
    return Line(
        ratio=ratio,
        offset=offset,
        u_ratio=u_ratio,
        u_offset=u_offset,
        covariance=covariance,
        chi2=float((weights * w) @ left**2),
        weights=weights,
        z=left / np.sqrt(variance),
    )


def _york(
    pairs: tuple[Array, Array, Array, Array], weights: Array, ratio: float, through_zero: bool
) -> tuple[float, float]:
    true, shown, u_true, u_shown = pairs
    offset = 0.0
    for _ in range(ROUNDS):
        w = weights / (u_shown**2 + (ratio * u_true) ** 2)
        x_mean, y_mean = (0.0, 0.0) if through_zero else (float(w @ true / w.sum()), float(w @ shown / w.sum()))
        x, y = true - x_mean, shown - y_mean
        beta = (w / np.maximum(weights, 1e-12)) * (x * u_shown**2 + ratio * y * u_true**2)
        down = float(w @ (beta * x))
        if down == 0:
            break
        before, ratio = ratio, float(w @ (beta * y)) / down
        offset = y_mean - ratio * x_mean
        if abs(ratio - before) <= 1e-14 * abs(ratio):
            break
    return ratio, offset
