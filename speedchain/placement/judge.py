"""What follows from a placement: strength, gap window, alignment, pulses and channels. Cheap enough for every edit."""

from __future__ import annotations

import math
from dataclasses import replace

import numpy as np

from speedchain.placement.channels import Channels, two_channels
from speedchain.placement.model import Placement
from speedchain.placement.scene import Scene, scene_of, why_no_scene
from speedchain.placement.strength import aperture_loss, axial_capture, spacing_loss
from speedchain.results import result
from speedchain.sensor import Sensor
from speedchain.target.model import Target

PROFILE_POINTS = 161


@result
class Factor:
    """One factor of the strength, 0 to 1, in words."""

    name: str
    value: float
    words: str


@result
class Pass:
    """One pass of a magnet: field along the travel [mT], how often the switch works, how long it stays on."""

    x_mm: tuple[float, ...]
    drive_mt: tuple[float, ...]
    operate_mt: float
    release_mt: float
    closures: int
    dwell_mm: float
    dwell_deg: float
    lateral_mm: float


@result
class PlacementDetail:
    """The placement as drawn. Ratios: strength over what the sensor needs; lengths in mm."""

    possible: bool
    missing: str
    gap_mm: float
    gap_given: bool
    strength: float
    weakest: float
    factors: tuple[Factor, ...]
    pitch_mm: float
    allowed_gap_mm: float
    lowest_gap_mm: float
    highest_gap_mm: float
    moves_mm: float
    heat_mm: float
    element_sideways_mm: float
    target_sideways_mm: float
    magnet_pass: Pass | None
    channels: Channels | None
    longest_pulse_ms: float
    shortest_pulse_ms: float
    advice: tuple[str, ...]


NOTHING = PlacementDetail(
    False, "", 0.0, False, 0.0, 0.0, (), 0.0, 0.0, 0.0, 0.0, 0.0, 0.0, 0.0, 0.0, None, None, 0.0, 0.0, ()
)


def closures_of(drive_mt: np.ndarray, operate_mt: float, release_mt: float) -> tuple[int, np.ndarray]:
    """How often a switch with hysteresis works along a pass, and where it is on.

    >>> closures_of(np.array([0, 5, 2, 5, 0, 5, 0.0]), 4, 1)[0]
    2
    """
    state = np.where(drive_mt >= operate_mt, 1, np.where(drive_mt < release_mt, 0, -1))
    state[0] = max(state[0], 0)
    known = np.maximum.accumulate(np.where(state >= 0, np.arange(state.size), 0))
    on = state[known] == 1
    return int(np.count_nonzero(on[1:] & ~on[:-1]) + on[0]), on


def magnet_pass(scene: Scene) -> Pass:
    """The pass of one magnet at the drawn place, at the gap of rest."""
    assert scene.magnets is not None
    facts, magnets = scene.facts, scene.magnets
    operate = facts.operate_mt or 5.0
    release = facts.release_mt or operate / 2
    reach = 2.5 * max(magnets.diameter_mm, scene.gap_mm + facts.depth_mm) + facts.strip_length_mm
    x = np.linspace(-reach, reach, PROFILE_POINTS)
    drive = scene.drive_mt(x, scene.sideways_mm, scene.clocking_deg, scene.gap_mm)
    closures, on = closures_of(drive, operate, release)
    dwell = float(np.count_nonzero(on)) * (x[1] - x[0])
    offsets = np.linspace(0, 40, 81)
    seen = scene.ratio(scene.sideways_mm + offsets, scene.clocking_deg, scene.gap_mm, exact=False) >= 1
    lateral = float(offsets[int(np.argmin(seen))] if not seen.all() else offsets[-1]) if seen[0] else 0.0
    return Pass(
        tuple(x.tolist()),
        tuple(drive.tolist()),
        operate,
        release,
        closures,
        dwell,
        math.degrees(dwell / scene.radius_mm),
        lateral,
    )


def _factors(scene: Scene) -> tuple[Factor, ...]:
    """The parts of the strength, so that the weak one can be seen."""
    shape, facts = scene.shape, scene.facts
    if shape is None:
        return ()
    gap = float(scene.element_gap_mm(scene.gap_mm))
    angle = math.radians(scene.clocking_deg)
    parts = []
    if not scene.optical:
        words = f"{gap:.2f} mm of gap at {shape.pitch_mm:.2f} mm from tooth to tooth"
        parts.append(Factor("spacing", float(spacing_loss(gap, shape.pitch_mm)), words))
        parts.append(Factor("depth", scene.depth, "deep enough" if scene.depth > 0.95 else "shallow teeth"))
    seen = float(scene.without_gap(scene.sideways_mm, scene.clocking_deg)) / scene.depth
    if scene.paired:
        pair = facts.pair_mm or facts.body_mm / 5
        share = abs(math.sin(math.pi * pair * math.cos(angle) / shape.pitch_mm))
        parts.append(Factor("pair", share, f"its two elements lie {abs(pair * math.cos(angle)):.2f} mm apart along the row"))
        parts.append(Factor("capture", seen / share if share > 0.05 else seen, "share of the elements over the face"))
    else:
        along = facts.strip_length_mm * abs(math.cos(angle))
        across = facts.strip_length_mm * abs(math.sin(angle)) + facts.strip_width_mm * abs(math.cos(angle))
        aperture = float(aperture_loss(along, shape.pitch_mm)) * float(
            aperture_loss(facts.strip_width_mm * abs(math.sin(angle)), shape.pitch_mm)
        )
        capture = float(axial_capture(scene.sideways_mm, across, shape.face_mm))
        parts.append(Factor("aperture", aperture, f"the element covers {along:.2f} mm of the travel"))
        parts.append(Factor("capture", capture, f"share of its {across:.2f} mm over a face of {shape.face_mm:g} mm"))
    return tuple(parts)


def _advice(scene: Scene, placement: Placement, low: float, high: float) -> tuple[str, ...]:
    """How to reach the gap: shims, spokes, reach. Common practice."""
    found = []
    if high >= low and placement.gap_mm is not None:
        if placement.gap_mm > high:
            out = placement.gap_mm - (low + high) / 2
            found.append(
                f"Too far by {placement.gap_mm - high:.2f} mm: bring it {out:.1f} mm closer, with a shim (washers, a "
                "rubber pad) under the sensor"
                + (" or a spoke nearer to it." if scene.magnets and scene.magnets.mounted == "spokes" else ".")
            )
        elif placement.gap_mm < low:
            out = (low + high) / 2 - placement.gap_mm
            found.append(f"Too close by {low - placement.gap_mm:.2f} mm: shim it out by {out:.1f} mm.")
    if placement.original_reach_mm is not None and placement.reach_mm is not None:
        more = placement.reach_mm - placement.original_reach_mm
        if abs(more) < 0.05:
            found.append("It reaches as far as the original.")
        elif more > 0:
            found.append(f"It reaches {more:.2f} mm further than the original: shim its mounting face out by as much.")
        else:
            found.append(f"It reaches {-more:.2f} mm less than the original: take as much off the boss, or move it in.")
    return tuple(found)


def judge(
    target: Target,
    sensor: Sensor,
    placement: Placement,
    circumference_mm: float,
    ratio: float,
    speeds_kmh: tuple[float, float],
) -> PlacementDetail:
    """The placement of a sensor before its target.

    Parameters: the parts of the document; rolling circumference [mm]; turns of the target per turn of the
    wheel; lowest and top speed [km/h]. Returns `PlacementDetail`.

    >>> from speedchain.target.model import Ring
    >>> target = Target(count=48, ring=Ring(diameter_mm=100))
    >>> told = judge(target, Sensor(kind="hall_gear_tooth"), Placement(gap_mm=1.0), 1930, 1.0, (5, 200))
    >>> round(told.strength, 2), round(told.allowed_gap_mm, 2)
    (2.31, 1.87)
    """
    scene = scene_of(target, sensor, placement)
    if scene is None:
        return replace(NOTHING, missing=why_no_scene(target, sensor))
    strength = float(scene.ratio(scene.sideways_mm, scene.clocking_deg, scene.gap_mm))
    weakest = float(scene.ratio(scene.sideways_mm, scene.clocking_deg, scene.gap_mm + scene.moves_mm))
    allowed = scene.allowed_gap_mm()
    low, high = scene.lowest_gap_mm, allowed - scene.moves_mm
    passing = magnet_pass(scene) if scene.magnets else None
    turn_s = [circumference_mm / 1000 / (speed / 3.6) / ratio for speed in speeds_kmh]
    if passing:
        shares = [passing.dwell_mm / (2 * math.pi * scene.radius_mm)] * 2
    else:
        assert scene.shape is not None
        shares = [max(scene.shape.tooth_mm, scene.shape.gap_mm), min(scene.shape.tooth_mm, scene.shape.gap_mm)]
        shares = [share / (math.pi * scene.shape.diameter_mm) for share in shares]
    channels = two_channels(placement.second.spacing_mm, _channel_pitch_mm(scene, target)) if placement.second else None
    return PlacementDetail(
        True,
        "",
        scene.gap_mm,
        scene.gap_given,
        strength,
        weakest,
        _factors(scene),
        _channel_pitch_mm(scene, target),
        allowed,
        low,
        high,
        scene.moves_mm,
        scene.heat_mm,
        scene.sideways_mm,
        -sensor.spot.across_mm + (scene.facts.strip_length_mm / 2 if scene.reed else 0.0),
        passing,
        channels,
        1000 * shares[0] * turn_s[0],
        1000 * shares[1] * turn_s[1],
        _advice(scene, placement, low, high),
    )


def _channel_pitch_mm(scene: Scene, target: Target) -> float:
    return scene.pitch_mm / (target.count if scene.magnets else 1)
