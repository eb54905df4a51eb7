"""A stand-in for a gauge: what its needle says of a pulse frequency, true to scale or not, to the end of its scale."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray
from pydantic import Field

from speedchain.fields import Correction, LagTime, OffsetSpeed, Part, PulsesPerKm, Speed, SpeedStep, stated
from speedchain.readout import PastEnd, on_the_dial

Array = NDArray[np.float64]


class Gauge(Part):
    """A gauge: the pulses per km it was made for, how far off it is, its end, and how slowly its needle follows."""

    pulses_per_km: PulsesPerKm
    scale_pct: Correction = Field(0.0, description="Scale error at every speed.")
    offset_kmh: OffsetSpeed = Field(0.0, description="Offset of the needle at every speed.")
    scale_end_kmh: Speed = stated(200.0, title="End of scale", step=10)
    past_end: PastEnd = stated("stops", title="Past the end of scale")
    lag_s: LagTime = 0.3
    readable_kmh: SpeedStep = stated(1.0, step=1, description="Reading resolution.")


def follows(time_s: Array, value: Array, lag_s: float) -> Array:
    """A first-order lag behind a value sampled evenly, standing at its first value to begin with.

    y += (1 − exp(−Δt/τ))·(x − y).

    Parameters
    ----------
    N times and n values; τ [s].

    Returns
    -------
    N values.

    References
    ----------
    First-order step response.

    Examples
    --------
    >>> follows(np.array([0.0, 1.0, 2.0]), np.array([0.0, 1.0, 1.0]), 1.0).round(3).tolist()
    [0.0, 0.632, 0.865]
    """
    from scipy.signal import lfilter

    if value.size < 2 or lag_s <= 0:
        return value
    share = 1 - np.exp(-(time_s[1] - time_s[0]) / lag_s)
    out, _ = lfilter([share], [1, share - 1], value, zi=[(1 - share) * value[0]])
    return np.asarray(out)


def needle_kmh(gauge: Gauge, hertz: Array, time_s: Array | None = None) -> Array:
    """Where the needle stands for pulse frequencies: settled, or over time.

    v = 3600·f/K·(1 + scale) + offset, to the end of the dial; read to the closest division.

    Parameters
    ----------
    The gauge; frequencies, n [Hz]; their times, even [s], to let the needle lag.

    Returns
    -------
    N [km/h].

    References
    ----------
    Unit arithmetic; common practice for the end of the dial.

    Examples
    --------
    >>> gauge = Gauge(pulses_per_km=16000, scale_end_kmh=180, past_end="wraps")
    >>> needle_kmh(gauge, np.array([0.0, 400.0, 822.0])).tolist()
    [0.0, 90.0, 0.0]
    """
    speed = 3600 * hertz / gauge.pulses_per_km
    speed = np.where(speed > 0, speed * (1 + gauge.scale_pct / 100) + gauge.offset_kmh, 0.0)
    if time_s is not None:
        speed = follows(time_s, speed, gauge.lag_s)
    stands = np.maximum(on_the_dial(speed, gauge.scale_end_kmh, gauge.past_end), 0.0)
    return np.rint(stands / gauge.readable_kmh) * gauge.readable_kmh
