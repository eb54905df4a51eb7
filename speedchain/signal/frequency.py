"""Pulse frequency over speed."""

from __future__ import annotations


def frequency_hz(speed_kmh: float, pulses_per_km: float) -> float:
    """f = v/3.6 · pulses_per_km/1000.

    Parameters
    ----------
    `speed_kmh` [km/h], `pulses_per_km` [1/km].

    Returns
    -------
    The pulse frequency [Hz].

    References
    ----------
    Unit arithmetic.

    Examples
    --------
    >>> frequency_hz(36, 1000)
    10.0
    """
    return speed_kmh / 3.6 * pulses_per_km / 1000
