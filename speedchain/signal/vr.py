"""A VR sensor's voltage over speed and gap, from one measured point; where it is enough, and where it is too much."""

from __future__ import annotations

from speedchain.results import result


@result
class VrRange:
    """Tooth frequencies and peak-to-peak voltages at the lowest usable, and at the top speed."""

    lowest_hz: float
    at_top_vpp: float
    too_much_from_hz: float | None


def vr_voltage_vpp(measured_vpp: float, *, measured_hz: float, at_hz: float, gap_factor: float = 1.0) -> float:
    """V_pp = V_ref·(f/f_ref)·k, with k = exp(−2π·(g − g_ref)/p) the factor of the gap.

    Parameters
    ----------
    One measured point [V peak to peak, Hz]; the frequency asked for [Hz]; the factor of the gap (`spacing_loss`).

    Returns
    -------
    The voltage at that frequency [V peak to peak].

    References
    ----------
    Induction (Faraday).

    Examples
    --------
    >>> vr_voltage_vpp(2.0, measured_hz=100, at_hz=1000)
    20.0
    """
    return measured_vpp * at_hz / measured_hz * gap_factor


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
    per_hz = vr_voltage_vpp(measured_vpp, measured_hz=measured_hz, at_hz=1.0, gap_factor=gap_factor)
    at_top = per_hz * top_hz
    too_much = max_input_vpp / per_hz if max_input_vpp is not None and at_top > max_input_vpp else None
    return VrRange(lowest_hz=2 * arming_v / per_hz, at_top_vpp=at_top, too_much_from_hz=too_much)
