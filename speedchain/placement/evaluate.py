"""What follows from a placement: strength, gap window, alignment, pulses and channels. Cheap enough for every edit."""

from __future__ import annotations

import math
from dataclasses import replace
from functools import lru_cache

import numpy as np

from speedchain.fields import Words, text_of
from speedchain.placement.channels import Channels, two_channels
from speedchain.placement.geometry import Geometry, closures_of, geometry_of, why_no_geometry
from speedchain.placement.model import Placement
from speedchain.placement.permitted import GapWindow, maker_window, within
from speedchain.placement.strength import aperture_loss, axial_capture, bias_modulation, image_field, spacing_loss
from speedchain.results import result
from speedchain.sensor import Sensor
from speedchain.target import Target

PROFILE_POINTS = 121
WORTH_IT = 1.15
"""What a turn or a shift has to bring to be advised. Common practice."""


@result
class Factor:
    """One factor of the strength, 0 to 1, in words."""

    name: str
    value: float
    text: Words


@result
class Pass:
    """One pass of a magnet: field along the travel [mT], how often the switch works, how long it stays on."""

    x_mm: tuple[float, ...]
    drive_mt: tuple[float, ...]
    operate_point_mt: float
    release_point_mt: float
    closures: int
    dwell_mm: float
    dwell_deg: float


@result
class PlacementDetail:
    """The placement as drawn. Ratios: strength over what the sensor needs; lengths in mm."""

    possible: bool
    missing: Words
    air_gap_mm: float
    gap_given: bool
    strength: float
    weakest: float
    enough: bool
    factors: tuple[Factor, ...]
    pitch_mm: float
    allowed_gap_mm: float
    lowest_gap_mm: float
    highest_gap_mm: float
    model_window: GapWindow
    maker_window: GapWindow | None
    moves_mm: float
    heat_mm: float
    element_sideways_mm: float
    clocking_angle_deg: float
    target_sideways_mm: float
    magnet_pass: Pass | None
    channels: Channels | None
    long_share: float
    short_share: float
    advice: tuple[Words, ...]


NOTHING = PlacementDetail(
    possible=False,
    missing="",
    air_gap_mm=0.0,
    gap_given=False,
    strength=0.0,
    weakest=0.0,
    enough=False,
    factors=(),
    pitch_mm=0.0,
    allowed_gap_mm=0.0,
    lowest_gap_mm=0.0,
    highest_gap_mm=0.0,
    model_window=GapWindow(lowest_mm=0.0, highest_mm=0.0),
    maker_window=None,
    moves_mm=0.0,
    heat_mm=0.0,
    element_sideways_mm=0.0,
    clocking_angle_deg=0.0,
    target_sideways_mm=0.0,
    magnet_pass=None,
    channels=None,
    long_share=0.0,
    short_share=0.0,
    advice=(),
)


def magnet_pass(geometry: Geometry) -> Pass:
    """The pass of one magnet at the drawn place, at the gap of rest."""
    assert geometry.magnets is not None
    facts, magnets = geometry.facts, geometry.magnets
    operate, release = geometry.required, geometry.release_point_mt
    reach = 2.5 * max(magnets.diameter_mm, geometry.air_gap_mm + facts.depth_mm) + facts.element_length_mm
    x = np.linspace(-reach, reach, PROFILE_POINTS)
    drive = geometry.drive_mt(
        x, geometry.lateral_offset_mm, geometry.clocking_angle_deg, geometry.air_gap_mm, exact=False
    )
    closures, on = closures_of(drive, operate, release)
    dwell = float(on * (x[1] - x[0]))
    return Pass(
        x_mm=tuple(x.tolist()),
        drive_mt=tuple(drive.tolist()),
        operate_point_mt=operate,
        release_point_mt=release,
        closures=int(closures),
        dwell_mm=dwell,
        dwell_deg=math.degrees(dwell / geometry.radius_mm),
    )


def _factors(geometry: Geometry) -> tuple[Factor, ...]:
    """The parts of the strength, so that the weak one can be seen."""
    shape, facts = geometry.shape, geometry.facts
    if shape is None:
        return ()
    gap = float(geometry.element_gap_mm(geometry.air_gap_mm))
    angle = math.radians(geometry.clocking_angle_deg)
    parts = []
    if not geometry.optical:
        words = text_of("{0:.2f} mm air gap at {1:.2f} mm pitch", gap, shape.pitch_mm)
        parts.append(Factor(name="left by the air gap", value=float(spacing_loss(gap, shape.pitch_mm)), text=words))
    if geometry.biased:
        parts += _iron_factors(geometry, gap)
    if geometry.paired:
        pair = facts.apart_mm
        share = abs(math.sin(math.pi * pair * math.cos(angle) / shape.pitch_mm))
        parts.append(
            Factor(
                name="pair",
                value=share,
                text=text_of(
                    "its two elements are {0:.2f} mm apart along the direction of travel", abs(pair * math.cos(angle))
                ),
            )
        )
        ends_mm = np.array([-0.5, 0.5]) * pair * math.sin(angle)
        over = axial_capture(geometry.lateral_offset_mm + ends_mm, facts.element_length_mm, shape.face_mm)
        parts.append(Factor(name="overlap", value=float(over.mean()), text="share of the elements over the face"))
    else:
        along = facts.element_length_mm * abs(math.cos(angle))
        across = facts.element_length_mm * abs(math.sin(angle)) + facts.element_width_mm * abs(math.cos(angle))
        aperture = float(aperture_loss(along, shape.pitch_mm)) * float(
            aperture_loss(facts.element_width_mm * abs(math.sin(angle)), shape.pitch_mm)
        )
        capture = float(axial_capture(geometry.lateral_offset_mm, across, shape.face_mm))
        parts.append(
            Factor(
                name="left by the element's length",
                value=aperture,
                text=text_of("{0:.2f} mm of the element lie along the direction of travel", along),
            )
        )
        parts.append(
            Factor(
                name="overlap",
                value=capture,
                text=text_of("share of its {0:.2f} mm over a face of {1:g} mm", across, shape.face_mm),
            )
        )
    return tuple(parts)


def _iron_factors(geometry: Geometry, gap_mm: float) -> list[Factor]:
    """What iron adds to the spacing loss: the bias field that comes back, the depth and the width of the teeth."""
    shape = geometry.shape
    assert shape is not None
    body_mm = geometry.bias_body_mm
    deep = bias_modulation(gap_mm, pitch_mm=shape.pitch_mm, depth_mm=None, body_diameter_mm=body_mm)
    depth = float(geometry.gap_factor(gap_mm) / deep)
    return [
        Factor(
            name="bias field",
            value=float(image_field(gap_mm, body_mm) / image_field(0.0, body_mm)),
            text=text_of(
                "field of the sensor's own magnet, reflected by the target at {0:.2f} mm, compared with 0 mm", gap_mm
            ),
        ),
        Factor(name="tooth depth", value=depth, text="deep enough" if depth > 0.95 else "shallow teeth"),
        Factor(
            name="tooth width",
            value=geometry.tooth_width_factor,
            text=text_of("teeth {0:.2g} mm wide at {1:.3g} mm pitch", shape.tooth_mm, shape.pitch_mm),
        ),
    ]


def _advice(geometry: Geometry, placement: Placement, low: float, high: float) -> tuple[str, ...]:
    """How to get more signal and reach the gap: turn, centre, shims, spokes, reach. Common practice, in that order."""
    found = []
    if geometry.shape and not geometry.optical:
        gain = float(geometry.gap_factor(geometry.element_gap_mm(geometry.air_gap_mm))) / geometry.required
        right = 0.0 if geometry.paired else 90.0
        turned = float(geometry.without_gap(geometry.lateral_offset_mm, right))
        centred = float(geometry.without_gap(0.0, geometry.clocking_angle_deg))
        if turned > WORTH_IT * geometry.seen:
            words = "along the direction of travel, 0°" if geometry.paired else "across the direction of travel, 90°"
            found.append(
                text_of("Turned {0}, the signal margin would be {1:.2f} × the switching level.", words, turned * gain)
            )
        if centred > WORTH_IT * geometry.seen:
            found.append(
                text_of(
                    "With the element centred, the signal margin would be {0:.2f} × the switching level.",
                    centred * gain,
                )
            )
    if high >= low and placement.air_gap_mm is not None:
        if placement.air_gap_mm > high:
            out = placement.air_gap_mm - (low + high) / 2
            found.append(
                text_of(
                    "Move the sensor {0:.1f} mm closer, to {1:.2f} mm, the middle of its range: with a shim "
                    "(washers, a rubber pad) under it or a spoke nearer to it."
                    if geometry.magnets and geometry.magnets.mounted == "spokes"
                    else "Move the sensor {0:.1f} mm closer, to {1:.2f} mm, the middle of its range: with a shim "
                    "(washers, a rubber pad) under it.",
                    out,
                    (low + high) / 2,
                )
            )
        elif placement.air_gap_mm < low:
            out = (low + high) / 2 - placement.air_gap_mm
            found.append(
                text_of(
                    "Shim the sensor out by {0:.1f} mm, to {1:.2f} mm, the middle of its range.", out, (low + high) / 2
                )
            )
    if placement.original_reach_mm is not None and placement.reach_mm is not None:
        more = placement.reach_mm - placement.original_reach_mm
        if abs(more) < 0.05:
            found.append("Same reach as the original.")
        elif more > 0:
            found.append(
                text_of("Reach {0:.2f} mm longer than the original: shim the mounting face out by this amount.", more)
            )
        else:
            found.append(
                text_of(
                    "Reach {0:.2f} mm shorter than the original: machine the boss down by this amount, or "
                    "move the sensor in.",
                    -more,
                )
            )
    return tuple(found)


@lru_cache(maxsize=512)
def evaluate_placement(target: Target, sensor: Sensor, placement: Placement) -> PlacementDetail:
    """The placement of a sensor before its target; remembered, since most edits of an installation are about something
    else.

    `lowest_gap_mm` and `highest_gap_mm` are the gaps at rest that both the calculation (`model_window`) and the maker
    permit.

    `long_share` and `short_share` are the longer and shorter part of a turn that one pulse takes.

    Examples
    --------
    >>> from speedchain.target.model import Ring
    >>> target = Target(count=48, ring=Ring(diameter_mm=100))
    >>> result = evaluate_placement(target, Sensor(kind="hall_gear_tooth"), Placement(air_gap_mm=1.0))
    >>> round(result.strength, 2), round(result.allowed_gap_mm, 2)
    (4.28, 1.84)
    """
    geometry = geometry_of(target, sensor, placement)
    if geometry is None:
        return replace(NOTHING, missing=why_no_geometry(target, sensor))
    strength, weakest = geometry.strengths()
    allowed = geometry.allowed_gap_mm()
    model = _as_read(geometry.lowest_gap_mm, allowed - geometry.moves_mm)
    maker = maker_window(sensor, target)
    window = within(model, maker)
    passing = magnet_pass(geometry) if geometry.magnets else None
    if passing:
        widths = [passing.dwell_mm, passing.dwell_mm]
    else:
        assert geometry.shape is not None
        widths = sorted([geometry.shape.air_gap_mm, geometry.shape.tooth_mm])
    pitch_mm = _channel_pitch_mm(geometry, target)
    return PlacementDetail(
        possible=True,
        missing="",
        air_gap_mm=geometry.air_gap_mm,
        gap_given=geometry.gap_given,
        strength=strength,
        weakest=weakest,
        enough=weakest >= 1,
        factors=_factors(geometry),
        pitch_mm=pitch_mm,
        allowed_gap_mm=allowed,
        lowest_gap_mm=window.lowest_mm,
        highest_gap_mm=window.highest_mm,
        model_window=model,
        maker_window=maker,
        moves_mm=geometry.moves_mm,
        heat_mm=geometry.heat_mm,
        element_sideways_mm=geometry.lateral_offset_mm,
        clocking_angle_deg=geometry.clocking_angle_deg,
        target_sideways_mm=-sensor.element_mark.across_mm
        + (geometry.facts.element_length_mm / 2 if geometry.reed else 0.0),
        magnet_pass=passing,
        channels=two_channels(placement.second_channel.spacing_mm, pitch_mm) if placement.second_channel else None,
        long_share=widths[1] / (2 * math.pi * geometry.radius_mm),
        short_share=widths[0] / (2 * math.pi * geometry.radius_mm),
        advice=_advice(geometry, placement, window.lowest_mm, window.highest_mm),
    )


def _as_read(low_mm: float, high_mm: float) -> GapWindow:
    """A window of gaps as it is read on a gauge: whole hundredths, and never beyond what is permitted."""
    low, high = math.ceil(100 * low_mm - 1e-9) / 100, math.floor(100 * high_mm + 1e-9) / 100
    return GapWindow(lowest_mm=low, highest_mm=high) if low < high else GapWindow(lowest_mm=low_mm, highest_mm=high_mm)


def _channel_pitch_mm(geometry: Geometry, target: Target) -> float:
    return geometry.pitch_mm / (target.count if geometry.magnets else 1)
