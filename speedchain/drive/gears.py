"""Driven gears of a mechanical cable drive: which one makes the gauge read truest."""

from __future__ import annotations

from speedchain.drive.model import Cable
from speedchain.fields import KM_PER_MILE
from speedchain.results import result


@result
class Gear:
    """One driven gear: cable turns it gives per km and mile, and how much the gauge over-reads with it [%]."""

    teeth: int
    turns_per_km: float
    turns_per_mile: float
    error_pct: float
    in_use: bool
    best: bool


def cable_turns_per_km(circumference_mm: float, axle_ratio: float, drive_teeth: int, driven_teeth: int) -> float:
    """Cable turns per km = wheel turns per km × axle ratio × drive teeth/driven teeth.

    Parameters
    ----------
    Circumference [mm], ratio, teeth.

    Returns
    -------
    Turns of the cable per km.

    References
    ----------
    SAE J678 for the 1000 turns per mile many gauges want (value from memory); common practice.

    Examples
    --------
    >>> round(cable_turns_per_km(2000, 3.5, 8, 20), 1)
    700.0
    """
    return 1e6 / circumference_mm * axle_ratio * drive_teeth / driven_teeth


def wanted_turns_per_km(cable: Cable) -> float:
    """Cable turns per km the gauge wants; 1000 a mile is 621.4 a km.

    Examples
    --------
    >>> round(wanted_turns_per_km(Cable(axle_ratio=3.5, drive_teeth=8, driven_teeth=20)), 1)
    621.4
    """
    return cable.wanted_turns / (KM_PER_MILE if cable.wanted_per == "mile" else 1)


def driven_gears(cable: Cable, circumference_mm: float) -> tuple[Gear, ...]:
    """Every driven gear that can be had, with its error; `best` has the least |error|.

    error = turns given/turns wanted − 1.

    Raises
    ------
    nothing: the model holds the range of gears.

    Examples
    --------
    >>> gears = driven_gears(Cable(axle_ratio=3.5, drive_teeth=8, driven_teeth=20), 2000)
    >>> [(gear.teeth, round(gear.error_pct, 1)) for gear in gears if gear.best]
    [(23, -2.0)]
    """
    wanted = wanted_turns_per_km(cable)
    listed = sorted({*range(cable.min_driven_teeth, cable.max_driven_teeth + 1), cable.driven_teeth})
    rows = []
    for teeth in listed:
        turns = cable_turns_per_km(circumference_mm, cable.axle_ratio, cable.drive_teeth, teeth)
        rows.append((teeth, turns, 100 * (turns / wanted - 1)))
    can_be_had = [row for row in rows if cable.min_driven_teeth <= row[0] <= cable.max_driven_teeth]
    best = min(can_be_had, key=lambda row: abs(row[2]))[0]
    near = [row for row in rows if abs(row[0] - best) <= 4 or row[0] == cable.driven_teeth]
    return tuple(
        [
            Gear(
                teeth=teeth,
                turns_per_km=turns,
                turns_per_mile=turns * KM_PER_MILE,
                error_pct=error,
                in_use=teeth == cable.driven_teeth,
                best=teeth == best,
            )
            for teeth, turns, error in near
        ]
    )
