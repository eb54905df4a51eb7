"""A needle: where its scale ends, and what it does beyond."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from speedchain.readout.model import PastEnd

Array = NDArray[np.float64]


def on_the_dial(shown_kmh: Array, scale_end_kmh: float | None, past_end: PastEnd) -> Array:
    """What the dial shows where the reader would show these speeds: it stops at the end, or drops to zero.

    Parameters
    ----------
    Speeds before the end is minded, n [km/h]; end of the scale [km/h], None for none.

    Returns
    -------
    N speeds [km/h].

    References
    ----------
    Common practice.

    Examples
    --------
    >>> on_the_dial(np.array([100.0, 250.0]), 200.0, "stops").tolist()
    [100.0, 200.0]
    >>> on_the_dial(np.array([100.0, 250.0]), 200.0, "wraps").tolist()
    [100.0, 0.0]
    """
    if scale_end_kmh is None:
        return shown_kmh
    return np.where(shown_kmh > scale_end_kmh, scale_end_kmh if past_end == "stops" else 0.0, shown_kmh)
