"""A flat sensor bracket: bolts at one end, a slot for the sensor at the other."""

from __future__ import annotations

from speedchain.fields import InputError, text_of
from speedchain.placement import Bracket
from speedchain.workpieces.outline import Circle, Outline, Vertex, bulge

EDGE_MM = 6.0
CORNER_MM = 6.0


def bracket_outline(bracket: Bracket, kerf: bool = True) -> Outline:
    """The contour of a bracket: x along the bolts, y towards the sensor; the slot's length is the gap travel.

    Raises
    ------
    `InputError` where bolts and slot run into each other.

    References
    ----------
    Plane geometry; edges of 6 mm are common practice.

    Examples
    --------
    >>> plan = bracket_outline(Bracket())
    >>> len(plan.circles), len(plan.contours)
    (2, 2)
    """
    half_kerf = bracket.kerf_mm / 2 if kerf else 0.0
    if bracket.bolts > 1 and bracket.bolt_spacing_mm < bracket.bolt_hole_mm + 2:
        raise InputError(
            text_of("Bolt holes {0:g} mm apart run into each other.", bracket.bolt_spacing_mm),
            remedy="Set them further apart.",
            limit=text_of("at least {0:g} mm", bracket.bolt_hole_mm + 2),
            value=f"{bracket.bolt_spacing_mm:g} mm",
            path="placement.bracket.bolt_spacing_mm",
        )
    least = (bracket.bolt_hole_mm + bracket.sensor_hole_mm + bracket.slot_travel_mm) / 2 + 3
    if bracket.reach_mm < least:
        raise InputError(
            text_of("With a reach of {0:g} mm the slot runs into the bolts.", bracket.reach_mm),
            remedy="Make it reach further, or shorten the slot.",
            limit=text_of("at least {0:.1f} mm", least),
            value=f"{bracket.reach_mm:g} mm",
            path="placement.bracket.reach_mm",
        )
    row = bracket.bolt_spacing_mm * (bracket.bolts - 1)
    half = max(row + bracket.bolt_hole_mm, bracket.sensor_hole_mm) / 2 + EDGE_MM + half_kerf
    low = -bracket.bolt_hole_mm / 2 - EDGE_MM - half_kerf
    slot = bracket.slot_travel_mm / 2
    high = bracket.reach_mm + slot + bracket.sensor_hole_mm / 2 + EDGE_MM + half_kerf
    hole = bracket.sensor_hole_mm / 2 - half_kerf
    bolts = [-row / 2 + place * bracket.bolt_spacing_mm for place in range(bracket.bolts)]
    circles = [Circle(x, 0.0, bracket.bolt_hole_mm / 2 - half_kerf) for x in bolts]
    contours = [_rounded(half, low, high)]
    if slot > 0:
        contours.append(_slot(hole, bracket.reach_mm - slot, bracket.reach_mm + slot))
    else:
        circles.append(Circle(0.0, bracket.reach_mm, hole))
    marks = ((-half, bracket.bend_mm, half, bracket.bend_mm),) if bracket.bend_mm else ()
    return Outline(
        "Sensor bracket",
        (
            text_of(
                "{0} bolts of {1:g} mm, {2:g} mm apart; reach {3:g} mm",
                bracket.bolts,
                bracket.bolt_hole_mm,
                bracket.bolt_spacing_mm,
                bracket.reach_mm,
            ),
            text_of(
                "sensor hole {0:g} mm with {1:g} mm of travel; plate {2:g} mm",
                bracket.sensor_hole_mm,
                bracket.slot_travel_mm,
                bracket.thickness_mm,
            ),
            text_of("kerf {0:g} mm is allowed for", bracket.kerf_mm) if half_kerf else "drawn as the finished part",
        ),
        tuple(contours),
        tuple(circles),
        marks=marks,
        labels=((0.0, bracket.bend_mm + 1, "bend"),) if bracket.bend_mm else (),
    )


def _rounded(half: float, low: float, high: float) -> tuple[Vertex, ...]:
    corner = bulge(1.5707963267948966)
    r = CORNER_MM
    return (
        (-half + r, low, 0.0),
        (half - r, low, corner),
        (half, low + r, 0.0),
        (half, high - r, corner),
        (half - r, high, 0.0),
        (-half + r, high, corner),
        (-half, high - r, 0.0),
        (-half, low + r, corner),
    )


def _slot(radius: float, low: float, high: float) -> tuple[Vertex, ...]:
    return ((radius, low, 0.0), (radius, high, 1.0), (-radius, high, 0.0), (-radius, low, 1.0))
