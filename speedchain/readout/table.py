"""Two- or N-point tables of frequency and speed, as some readers keep them."""

from __future__ import annotations

import math
from bisect import bisect_right
from collections.abc import Callable

from speedchain.readout.model import Readout
from speedchain.results import result


@result
class TableRow:
    """One speed: exact frequency, the setting to enter, and what is typed now [Hz]."""

    speed_kmh: float
    exact_hz: float
    to_type_hz: float
    set_frequency_hz: float | None


def speed_from_table(hz: float, frequencies_hz: list[float], speeds_kmh: list[float]) -> float:
    """Speed a reader shows from its table: straight lines between the points, the end lines go on outside.

    Parameters
    ----------
    The frequency [Hz]; rising frequencies [Hz] and their speeds [km/h], at least two.

    Returns
    -------
    The speed [km/h], never below 0. Common practice; checked against `numpy.interp`.

    Examples
    --------
    >>> speed_from_table(150, [100, 200], [40, 80])
    60.0
    """
    place = min(max(bisect_right(frequencies_hz, hz), 1), len(frequencies_hz) - 1)
    (f1, f2), (v1, v2) = frequencies_hz[place - 1 : place + 1], speeds_kmh[place - 1 : place + 1]
    if f2 == f1:
        return v2
    return max(0.0, v1 + (hz - f1) / (f2 - f1) * (v2 - v1))


def table_rows(readout: Readout, pulses_per_km: float, rounding: str, step: float) -> tuple[TableRow, ...]:
    """The frequencies to type for every speed of the table: f = v·pulses per km/3600, on the reader's step.

    Examples
    --------
    >>> readout = Readout(name="Dash", encoding="frequency_table", table=[{"speed_kmh": 36}, {"speed_kmh": 72}])
    >>> [row.to_type_hz for row in table_rows(readout, 1000, "nearest", 0.1)]
    [10.0, 20.0]
    """
    turn: Callable[[float], int] = {"down": math.floor, "up": math.ceil}.get(rounding, round)
    rows = []
    for point in readout.table:
        exact = point.speed_kmh * pulses_per_km / 3600
        places = float(f"{exact / step:.9g}")
        rows.append(
            TableRow(
                speed_kmh=point.speed_kmh,
                exact_hz=exact,
                to_type_hz=float(f"{turn(places) * step:.12g}"),
                set_frequency_hz=point.set_frequency_hz,
            )
        )
    return tuple(rows)


def table_in_use(rows: tuple[TableRow, ...]) -> tuple[list[float], list[float]]:
    """Frequencies and speeds as they stand in the reader: typed where read back, else advised; in rising order."""
    pairs = sorted(
        [(row.to_type_hz if row.set_frequency_hz is None else row.set_frequency_hz, row.speed_kmh) for row in rows]
    )
    return [pair[0] for pair in pairs], [pair[1] for pair in pairs]
