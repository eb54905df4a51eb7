"""Combined uncertainty of a product, distributions of single readings, and each stage's contribution."""

from __future__ import annotations

import math

from speedchain.fields import StageName, Words
from speedchain.results import result

COVERAGE_FACTOR = 2


@result
class Contribution:
    """One link's part in how unsure the shown speed is."""

    stage: StageName
    relative_standard_uncertainty_pct: float
    share_pct: float
    source: Words


def combine_pct(parts: tuple[float, ...]) -> float:
    """Combined relative standard uncertainty of a product of independent factors.

    u_c/y = sqrt(Σ (u_i/x_i)²)

    Parameters
    ----------
    `parts`, relative standard uncertainties [%].

    Returns
    -------
    The combined one [%].

    References
    ----------
    JCGM 100:2008 (GUM), 5.1.6.

    Examples
    --------
    >>> combine_pct((0.3, 0.4))
    0.5
    """
    return math.sqrt(sum([part * part for part in parts]))


def rectangular(half_width: float) -> float:
    """Standard uncertainty of a value known to lie within ± half_width: half_width/√3.

    References
    ----------
    JCGM 100:2008 (GUM), 4.3.7.

    Examples
    --------
    >>> round(rectangular(1.0), 4)
    0.5774
    """
    return half_width / math.sqrt(3)


def triangular(half_width: float) -> float:
    """Standard uncertainty of a value most likely right and at most ± half_width out: half_width/√6.

    References
    ----------
    JCGM 100:2008 (GUM), 4.3.9.

    Examples
    --------
    >>> round(triangular(1.0), 4)
    0.4082
    """
    return half_width / math.sqrt(6)
