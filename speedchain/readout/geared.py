"""Readers that are set to a number of teeth and a gear ratio."""

from __future__ import annotations

from speedchain.readout.model import Readout
from speedchain.results import result

RATIO_DIGITS = 5


@result
class GearedSetting:
    """What a reader that asks for teeth and a gear ratio is set to."""

    set_pulses_per_turn: int
    set_gear_ratio: float


def geared_setting(readout: Readout, *, pulses_per_turn: float, ratio: float) -> GearedSetting:
    """The teeth and the ratio of this vehicle, for a readout that has none of its own yet.

    Parameters
    ----------
    pulses_per_turn : of the target.
    ratio : turns of the target for one turn of the wheel.

    Examples
    --------
    >>> geared_setting(Readout(name="Dash", encoding="pulses_per_km"), pulses_per_turn=16, ratio=3.461538)
    GearedSetting(set_pulses_per_turn=16, set_gear_ratio=3.4615)
    >>> geared_setting(Readout(name="Dash", encoding="pulses_per_km", set_gear_ratio=4.1), pulses_per_turn=16,
    ...     ratio=3.46)
    GearedSetting(set_pulses_per_turn=16, set_gear_ratio=4.1)
    """
    own = readout.set_pulses_per_turn, readout.set_gear_ratio
    return GearedSetting(
        set_pulses_per_turn=round(pulses_per_turn) if own[0] == 1 else own[0],
        set_gear_ratio=float(f"{ratio:.{RATIO_DIGITS}g}") if own[1] == 1 else own[1],
    )
