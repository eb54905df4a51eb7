"""How long a channel was at each value."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from speedchain.results import result

Array = NDArray[np.float64]
BINS = 40
LONGEST_S = 5.0
"""A longer step between two samples is a gap, and counts as this. Common practice."""


@result
class Histogram:
    """Edges of equal bins, one more than bins, and the time spent in each [s]."""

    edges: tuple[float, ...]
    seconds: tuple[float, ...]


def histogram(time_s: Array, values: Array, bins: int = BINS) -> Histogram:
    """Seconds at each value: every sample counts for half the time to each of its neighbours.

    Examples
    --------
    >>> histogram(np.arange(4.0), np.array([1.0, 1.0, 3.0, 3.0]), 2)
    Histogram(edges=(1.0, 2.0, 3.0), seconds=(1.5, 1.5))
    """
    there = np.isfinite(values)
    time_s, values = time_s[there], values[there]
    if time_s.size < 2:
        return Histogram(edges=(), seconds=())
    half = np.minimum(np.diff(time_s), LONGEST_S) / 2
    weights = np.concatenate([half, [0.0]]) + np.concatenate([[0.0], half])
    seconds, edges = np.histogram(values, bins=bins, weights=weights)
    return Histogram(edges=tuple(edges.tolist()), seconds=tuple(seconds.tolist()))
