"""A ring to be cut from plate: teeth, slots or holes of the right count, with kerf."""

from __future__ import annotations

import math

from speedchain.fields import InputError, text_of
from speedchain.sensor import PAIRED, SensorKind
from speedchain.target import RingCut, Target, ring_shape
from speedchain.workpieces.outline import Circle, Outline, Vertex, bulge

TOOTH_SHARE = 0.5
NARROW_TOOTH_SHARE = 0.45
DEPTH_IN_PITCHES = 0.5
WEB_MM = 1.5


def tooth_share(kind: SensorKind) -> float:
    """Tooth over pitch that suits a sensor: half for pairs, a little less for single elements. Common practice."""
    return TOOTH_SHARE if kind in PAIRED else NARROW_TOOTH_SHARE


def _refuse(path: str, *, message: str, remedy: str, limit: str, value: float) -> InputError:
    return InputError(message, remedy=remedy, limit=limit, value=f"{value:g} mm", path=path)


def ring_outline(target: Target, sensor_kind: SensorKind, kerf: bool = True) -> Outline:
    """The contour of the ring: tooth width for the sensor unless measured, depth half a pitch unless given.

    With `kerf` outsides grow and holes shrink by half the cut's width, so that the part comes out true.

    Raises
    ------
    `InputError` where bore, bolts and teeth do not leave material between them.

    References
    ----------
    Plane geometry; depth from the spacing loss (half a pitch leaves 4 % of the modulation).

    Examples
    --------
    >>> from speedchain.target.model import Ring
    >>> plan = ring_outline(Target(count=48, ring=Ring(diameter_mm=98), cut=RingCut()), "hall_gear_tooth")
    >>> len(plan.contours[0]), len(plan.circles)
    (192, 7)
    """
    cut, shape = target.cut or RingCut(), ring_shape(target)
    if shape is None:
        raise _refuse(
            "target.ring.diameter_mm",
            message="The ring has no diameter yet.",
            remedy="Enter it at the target.",
            limit="4 to 3000 mm",
            value=0,
        )
    measured_mm = target.ring.tooth_width_mm if target.ring else None
    tooth_mm = measured_mm or tooth_share(sensor_kind) * shape.pitch_mm
    depth_mm = shape.depth_mm or DEPTH_IN_PITCHES * shape.pitch_mm
    half_kerf = cut.kerf_mm / 2 if kerf else 0.0
    outer = shape.diameter_mm / 2
    root = outer - depth_mm
    _check(cut, root)
    if shape.pitch_mm - tooth_mm <= cut.kerf_mm:
        raise _refuse(
            "target.cut.kerf_mm",
            message=text_of("Gaps of {0:.2f} mm are narrower than the cut.", shape.pitch_mm - tooth_mm),
            remedy="Use fewer teeth, a larger ring or a finer cut.",
            limit=text_of("below {0:.2f} mm", shape.pitch_mm - tooth_mm),
            value=cut.kerf_mm,
        )
    widest_mm = max(tooth_mm, shape.pitch_mm - tooth_mm) + 2 * half_kerf
    if widest_mm >= 2 * root:
        raise _refuse(
            "target.count",
            message=text_of(
                "With {0} places on {1:g} mm a tooth or gap would be {2:.1f} mm wide, wider than the ring.",
                shape.places,
                shape.diameter_mm,
                widest_mm,
            ),
            remedy="Use at least 3 teeth, or enter the tooth width.",
            limit=text_of("teeth and gaps below {0:.1f} mm", 2 * root),
            value=widest_mm,
        )
    circles = [Circle(0, 0, cut.bore_mm / 2 - half_kerf)]
    for bolt in range(cut.bolts):
        angle = 2 * math.pi * bolt / cut.bolts
        at = cut.bolt_circle_mm / 2
        circles.append(Circle(at * math.sin(angle), at * math.cos(angle), cut.bolt_hole_mm / 2 - half_kerf))
    contours: list[tuple[Vertex, ...]] = []
    rim = outer
    if cut.form == "teeth":
        contours.append(_teeth(shape.places, outer + half_kerf, root + half_kerf, tooth_mm + 2 * half_kerf))
    else:
        air_gap_mm = shape.pitch_mm - tooth_mm
        middle = outer - depth_mm / 2
        rim = outer + max(2.0, depth_mm / 2)
        for place in range(shape.places):
            angle = 2 * math.pi * place / shape.places
            if cut.form == "holes":
                radius = min(air_gap_mm, depth_mm) / 2 - half_kerf
                circles.append(Circle(middle * math.sin(angle), middle * math.cos(angle), radius))
            else:
                contours.append(_slot(angle, root + half_kerf, outer - half_kerf, air_gap_mm - 2 * half_kerf))
        circles.append(Circle(0, 0, rim + half_kerf))
    return Outline(
        text_of("Ring, {0} {1}", target.count, cut.form),
        (
            text_of(
                "{0} {1}, {2:.4g} mm at the sensed edge, pitch {3:.3f} mm",
                target.count,
                cut.form,
                shape.diameter_mm,
                shape.pitch_mm,
            ),
            text_of(
                "{0} {1:.2f} mm, depth {2:.2f} mm, plate {3:g} mm",
                "tooth" if cut.form == "teeth" else "land",
                tooth_mm,
                depth_mm,
                cut.thickness_mm,
            ),
            text_of("kerf {0:g} mm is allowed for", cut.kerf_mm) if half_kerf else "drawn as the finished part",
        ),
        tuple(contours),
        tuple(circles),
        marks=((0.0, root - 3, 0.0, root - 1),),
        labels=((0.0, root - 6, "1"),),
    )


def _check(cut: RingCut, root: float) -> None:
    if cut.bore_mm / 2 + WEB_MM > root:
        raise _refuse(
            "target.cut.bore_mm",
            message=text_of(
                "A bore of {0:g} mm cuts into the teeth, whose root is at {1:.1f} mm.", cut.bore_mm, 2 * root
            ),
            remedy="Make the bore smaller or the ring larger.",
            limit=text_of("at most {0:.1f} mm", 2 * (root - WEB_MM)),
            value=cut.bore_mm,
        )
    if not cut.bolts:
        return
    least = cut.bore_mm + cut.bolt_hole_mm + 2 * WEB_MM
    most = 2 * root - cut.bolt_hole_mm - 2 * WEB_MM
    if not least <= cut.bolt_circle_mm <= most:
        raise _refuse(
            "target.cut.bolt_circle_mm",
            message=text_of("Bolt holes on {0:g} mm run into the bore or the teeth.", cut.bolt_circle_mm),
            remedy="Change bolt circle, bore or ring.",
            limit=text_of("{0:.1f} to {1:.1f} mm", least, most) if least <= most else "none with this bore and ring",
            value=cut.bolt_circle_mm,
        )
    apart = cut.bolt_circle_mm * math.sin(math.pi / cut.bolts) if cut.bolts > 1 else math.inf
    if apart < cut.bolt_hole_mm + WEB_MM:
        raise _refuse(
            "target.cut.bolts",
            message=text_of("{0} holes of {1:g} mm run into each other.", cut.bolts, cut.bolt_hole_mm),
            remedy="Use fewer or smaller holes.",
            limit=text_of("at least {0:g} mm apart", cut.bolt_hole_mm + WEB_MM),
            value=apart,
        )


def _polar(radius: float, clockwise: float) -> tuple[float, float]:
    return radius * math.sin(clockwise), radius * math.cos(clockwise)


def _teeth(places: int, outer: float, root: float, tooth: float) -> tuple[Vertex, ...]:
    """Straight-flanked teeth: each flank runs parallel to its tooth's middle line."""
    at_tip, at_root = math.asin(tooth / 2 / outer), math.asin(min(tooth / 2 / root, 1.0))
    found: list[Vertex] = []
    step = 2 * math.pi / places
    for place in range(places):
        middle = place * step
        found.append((*_polar(root, middle - at_root), 0.0))
        found.append((*_polar(outer, middle - at_tip), -bulge(2 * at_tip)))
        found.append((*_polar(outer, middle + at_tip), 0.0))
        found.append((*_polar(root, middle + at_root), -bulge(step - 2 * at_root)))
    return tuple(found)


def _slot(middle: float, root: float, outer: float, width: float) -> tuple[Vertex, ...]:
    at_root, at_tip = math.asin(width / 2 / root), math.asin(width / 2 / outer)
    return (
        (*_polar(root, middle - at_root), 0.0),
        (*_polar(outer, middle - at_tip), -bulge(2 * at_tip)),
        (*_polar(outer, middle + at_tip), 0.0),
        (*_polar(root, middle + at_root), bulge(2 * at_root)),
    )
