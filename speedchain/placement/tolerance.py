"""The tolerance map: strength over sideways offset and clocking, with the place of the sensor in it."""

from __future__ import annotations

import numpy as np

from speedchain.placement.geometry import Geometry
from speedchain.results import result

STEPS = 61
MAGNET_STEPS = 25
REED_STEPS = 13


@result
class ToleranceMap:
    """Ratios (strength over need, at the furthest point of a turn): one row for each clocking angle.

    `double` is 1 where a reed would count twice; empty for everything else.
    """

    lateral_offset_mm: tuple[float, ...]
    clocking_angle_deg: tuple[float, ...]
    ratio: tuple[tuple[float, ...], ...]
    double: tuple[tuple[int, ...], ...]
    at_sideways_mm: float
    at_clocking_deg: float
    share_pct: float


def tolerance_map(geometry: Geometry) -> ToleranceMap:
    """Strength over offset × clocking. `share_pct` is the part of the map with enough signal.

    Examples
    --------
    >>> from speedchain.placement.model import Placement
    >>> from speedchain.placement.geometry import geometry_of
    >>> from speedchain.sensor import Sensor
    >>> from speedchain.target.model import Ring
    >>> from speedchain.target.model import Target
    >>> parts = Target(count=48, ring=Ring(diameter_mm=100)), Sensor(kind="hall_gear_tooth"), Placement(air_gap_mm=1)
    >>> result = tolerance_map(geometry_of(*parts))
    >>> len(result.ratio), len(result.ratio[0])
    (61, 61)
    """
    steps = REED_STEPS if geometry.reed else (MAGNET_STEPS if geometry.magnets else STEPS)
    reach = map_reach_mm(geometry)
    sideways = np.linspace(-reach, reach, steps)
    clocking = np.linspace(-90, 90, steps)
    at = sideways[None, :], clocking[:, None], geometry.air_gap_mm + geometry.moves_mm
    if geometry.reed:
        drive, closures = geometry.passes(*at)
        ratio, double = drive.max(axis=0) / geometry.required, closures > 1
    else:
        ratio = np.broadcast_to(geometry.ratio(*at, exact=False), (steps, steps))
        double = np.zeros((0, 0), dtype=bool)
    good = (ratio >= 1) & ~double if geometry.reed else ratio >= 1
    return ToleranceMap(
        lateral_offset_mm=tuple(sideways.round(3).tolist()),
        clocking_angle_deg=tuple(clocking.tolist()),
        ratio=tuple(map(tuple, np.minimum(ratio, 99).round(3).tolist())),
        double=tuple(map(tuple, double.astype(int).tolist())),
        at_sideways_mm=geometry.lateral_offset_mm,
        at_clocking_deg=(geometry.clocking_angle_deg + 90) % 180 - 90 if geometry.clocking_angle_deg != 90 else 90.0,
        share_pct=float(100 * np.mean(good)),
    )


def map_reach_mm(geometry: Geometry) -> float:
    """How far to the sides the map goes: past the edge of the face, or of what the magnet reaches."""
    if geometry.shape is not None:
        return float(np.clip(geometry.shape.face_mm / 2 + geometry.facts.element_length_mm, 2, 60))
    return float(np.clip(geometry.facts.element_length_mm + 10, 8, 60))
