"""The ring's geometry: pitch, module, tooth and gap at the diameter the sensor looks at."""

from __future__ import annotations

import math
from bisect import bisect
from itertools import pairwise

from speedchain.results import result
from speedchain.target.model import Target

PRESSURE_ANGLE_DEG = 20.0
DEPTH_IN_MODULES = 2.25
ISO_54_MODULES_MM = (1, 1.25, 1.5, 2, 2.5, 3, 4, 5, 6, 8, 10, 12, 16, 20)
"""Series I of ISO 54 (DIN 780), from 1 mm up. Value quoted from memory."""
_BETWEEN = [math.sqrt(a * b) for a, b in pairwise(ISO_54_MODULES_MM)]


@result
class RingShape:
    """The ring at its sensed face [mm]; `depth_mm` is None where nobody measured it."""

    diameter_mm: float
    places: int
    pitch_mm: float
    module_mm: float
    nearest_module_mm: float
    tooth_mm: float
    air_gap_mm: float
    depth_mm: float | None
    face_mm: float
    gear: bool


def gear_outside_diameter_mm(module_mm: float, teeth: int) -> float:
    """Outside diameter of a spur gear: m·(N + 2).

    References
    ----------
    DIN 867 / ISO 53 (addendum of one module).

    Examples
    --------
    >>> gear_outside_diameter_mm(2, 48)
    100
    """
    return module_mm * (teeth + 2)


def involute(angle_rad: float) -> float:
    """inv α = tan α − α."""
    return math.tan(angle_rad) - angle_rad


def gear_tip_thickness_mm(module_mm: float, teeth: int) -> float:
    """Thickness of an unshifted involute tooth at its tip: d_a·(π/(2N) + inv α − inv α_a), cos α_a = d·cos α/d_a.

    Parameters
    ----------
    Module [mm], number of teeth.

    Returns
    -------
    [mm].

    References
    ----------
    DIN 3960 for the basic rack of DIN 867, pressure angle 20°. Value quoted from memory.

    Examples
    --------
    >>> round(gear_tip_thickness_mm(2, 48), 2)
    1.55
    """
    pitch_mm, tip_mm = module_mm * teeth, gear_outside_diameter_mm(module_mm, teeth)
    angle = math.radians(PRESSURE_ANGLE_DEG)
    at_tip = math.acos(pitch_mm * math.cos(angle) / tip_mm)
    return tip_mm * (math.pi / (2 * teeth) + involute(angle) - involute(at_tip))


def ring_shape(target: Target) -> RingShape | None:
    """Pitch p = π·D/N, module m = p/π, tooth and gap at the sensed face; None when no ring is entered.

    N counts every place, those of missing teeth too. Of a gear given by its module D = m·(N + 2) and the
    depth is 2.25·m.

    References
    ----------
    DIN 867 / ISO 53; ISO 54.

    Examples
    --------
    >>> from speedchain.target.model import Ring
    >>> shape = ring_shape(Target(count=48, ring=Ring(diameter_mm=100)))
    >>> round(shape.pitch_mm, 3), round(shape.air_gap_mm, 3)
    (6.545, 3.272)
    """
    ring = target.ring
    if ring is None or target.single:
        return None
    places = target.count + ring.missing_teeth
    gear = ring.form == "module"
    if gear:
        module_mm = ring.module_mm or 0.0
        diameter_mm = gear_outside_diameter_mm(module_mm, places)
        tooth_mm = ring.tooth_width_mm or gear_tip_thickness_mm(module_mm, places)
        depth_mm = ring.tooth_depth_mm or DEPTH_IN_MODULES * module_mm
    else:
        diameter_mm = ring.diameter_mm or 0.0
        module_mm = diameter_mm / places
        tooth_mm = ring.tooth_width_mm or math.pi * diameter_mm / places / 2
        depth_mm = ring.tooth_depth_mm or 0.0
    pitch_mm = math.pi * diameter_mm / places
    as_gear_mm = module_mm if gear else diameter_mm / (places + 2)  # measured over the tips
    nearest = ISO_54_MODULES_MM[bisect(_BETWEEN, as_gear_mm)]
    return RingShape(
        diameter_mm=diameter_mm,
        places=places,
        pitch_mm=pitch_mm,
        module_mm=module_mm,
        nearest_module_mm=nearest,
        tooth_mm=tooth_mm,
        air_gap_mm=pitch_mm - tooth_mm,
        depth_mm=depth_mm or None,
        face_mm=ring.face_width_mm,
        gear=gear,
    )


def surface_speed_m_s(diameter_mm: float, turns_per_s: float) -> float:
    """Speed of the teeth past the sensor: π·D·n/1000 [m/s].

    Examples
    --------
    >>> round(surface_speed_m_s(100, 10), 3)
    3.142
    """
    return math.pi * diameter_mm * turns_per_s / 1000
