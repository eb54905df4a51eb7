"""A VR sensor's voltage over speed and gap, from one measured point; where it is enough, and where it is too much."""

from __future__ import annotations

import math

from speedchain.results import result


@result
class VrRange:
    """Tooth frequencies and peak-to-peak voltages at the lowest usable, and at the top speed."""

    lowest_hz: float
    at_top_vpp: float
    too_much_from_hz: float | None


def vr_voltage_vpp(
    measured_vpp: float, *, measured_hz: float, at_hz: float, pitch_mm: float, measured_gap_mm: float, air_gap_mm: float
) -> float:
    """V_pp = V_ref·(f/f_ref)·exp(−2π·(g − g_ref)/p).

    Parameters
    ----------
    One measured point [V peak to peak, Hz, gap in mm]; frequency [Hz], pitch and gap [mm] asked for.

    Returns
    -------
    [V peak to peak].

    References
    ----------
    Induction (Faraday); spacing loss (Wallace 1951, from memory).

    Examples
    --------
    >>> round(vr_voltage_vpp(2.0, measured_hz=100, at_hz=1000, pitch_mm=6.0, measured_gap_mm=1.0, air_gap_mm=1.0), 3)
    20.0
    """
    return measured_vpp * at_hz / measured_hz * math.exp(-2 * math.pi * (air_gap_mm - measured_gap_mm) / pitch_mm)


def vr_range(
    measured_vpp: float,
    *,
    measured_hz: float,
    top_hz: float,
    arming_v: float,
    max_input_vpp: float | None,
    gap_factor: float = 1.0,
) -> VrRange:
    """Lowest frequency at which the peak passes the arming threshold, and from where it is too much for the input.

    f_low = f_ref·2·V_arm/(V_ref·k); f_high = f_ref·V_max/(V_ref·k), k the factor of the gap.

    Parameters
    ----------
    Measured point [V pp, Hz], top frequency [Hz], arming threshold [V from the middle], most the input takes [V
    pp].

    References
    ----------
    Common practice.

    Examples
    --------
    >>> result = vr_range(2.0, measured_hz=100, top_hz=1500, arming_v=0.5, max_input_vpp=20.0)
    >>> result.lowest_hz, result.at_top_vpp, result.too_much_from_hz
    (50.0, 30.0, 1000.0)
    """
    per_hz = measured_vpp * gap_factor / measured_hz
    at_top = per_hz * top_hz
    too_much = max_input_vpp / per_hz if max_input_vpp is not None and at_top > max_input_vpp else None
    return VrRange(lowest_hz=2 * arming_v / per_hz, at_top_vpp=at_top, too_much_from_hz=too_much)
