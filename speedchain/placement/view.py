"""All that is drawn of a placement: the judgement, the tolerance map, the chances and the signal over one turn."""

from __future__ import annotations

import numpy as np

from speedchain.fields import Interval, Words, text_of
from speedchain.placement.evaluate import PlacementDetail, evaluate_placement
from speedchain.placement.geometry import Geometry, geometry_of
from speedchain.placement.model import Placement
from speedchain.placement.probability import Chance, chances
from speedchain.placement.tolerance import ToleranceMap, tolerance_map
from speedchain.results import result
from speedchain.sensor import Facts, Sensor, facts_of
from speedchain.target import Target, chosen_spokes
from speedchain.waveform import Pulses, conditioned, waveform

SCOPE_SAMPLES = 720
MOST_ON_SCOPE = 60
NOISE = 0.03


@result
class Scope:
    """Raw signal in units of what the sensor needs to switch, and what comes out, over a turn or part of it."""

    time_ms: tuple[float, ...]
    raw: tuple[float, ...]
    high: tuple[int, ...]
    switches_at: float
    releases_at: float
    expected: int
    counted: int
    text: Words


@result
class PlacementView:
    """What the bench shows of one placement."""

    detail: PlacementDetail
    facts: Facts
    map: ToleranceMap | None
    chances: tuple[Chance, ...]
    scope: Scope | None
    reach_mm: tuple[float, float]


def magnet_errors_deg(target: Target) -> tuple[float, ...]:
    """How far each magnet sits from even, when the spokes that carry them are chosen [°]."""
    angles = [spoke.angle_deg for spoke in chosen_spokes(target)]
    even = 360 / target.count
    return tuple([(angle - angles[0] - place * even + 180) % 360 - 180 for place, angle in enumerate(angles)])


def pulses_of(geometry: Geometry, detail: PlacementDetail, target: Target) -> Pulses:
    """The signal of a geometry, in units of what its sensor needs."""
    if (passing := detail.magnet_pass) is not None:
        release = passing.release_point_mt / passing.operate_point_mt
        return Pulses(
            target.count,
            profile_turns=tuple((np.asarray(passing.x_mm) / (2 * np.pi * geometry.radius_mm)).tolist()),
            profile=tuple((np.asarray(passing.drive_mt) / passing.operate_point_mt).tolist()),
            angle_errors_deg=magnet_errors_deg(target),
            threshold=(1 + release) / 2,
            hysteresis=1 - release,
            noise=NOISE,
        )
    missing = target.ring.missing_teeth if target.ring else 0
    places = target.count + missing
    return Pulses(
        places,
        missing=tuple(range(places - missing, places)),
        amplitude=detail.strength,
        runout_mm=2 * geometry.moves_mm,
        pitch_mm=0.0 if geometry.optical else geometry.pitch_mm,
        noise=NOISE,
        hysteresis=2.0,
    )


def scope_of(pulses: Pulses, turn_s: float) -> Scope:
    """One turn as a scope shows it; of fine rings as many teeth as can be distinguished, around the furthest point.

    Examples
    --------
    >>> scope_of(Pulses(48, amplitude=2.0, hysteresis=2.0), 0.1).counted
    48
    """
    shown = pulses.count if pulses.count <= MOST_ON_SCOPE else MOST_ON_SCOPE
    turns = shown / pulses.count
    lead = 0.5 / pulses.count
    # Start half a place early, so that the first edge is seen; of a part of a turn show where the gap is widest.
    start = (0.0 if turns == 1 else -turns / 2) - lead
    samples = SCOPE_SAMPLES + 1
    at = np.linspace(start, start + turns, samples)
    result = waveform(pulses, (at - start) * turn_s, turns_per_s=1 / turn_s, start_turns=start)
    high = conditioned(result.raw, pulses.threshold, pulses.hysteresis)
    counted = int(np.count_nonzero(high[1:] & ~high[:-1]))
    expected = shown - len(pulses.missing) if turns == 1 else shown
    if counted == expected:
        words = text_of("{0} of {1} counted", counted, expected)
    elif counted < expected:
        words = text_of("{0} of {1} missed", expected - counted, expected)
    else:
        words = text_of("{0} counted, {1} passed", counted, expected)
    return Scope(
        time_ms=tuple((result.time_s * 1000).round(4).tolist()),
        raw=tuple(result.raw.round(4).tolist()),
        high=tuple(high.astype(int).tolist()),
        switches_at=pulses.threshold + pulses.hysteresis / 2,
        releases_at=pulses.threshold - pulses.hysteresis / 2,
        expected=expected,
        counted=counted,
        text=words,
    )


def reach_mm(geometry: Geometry) -> Interval:
    """How far the element can be moved to either side before the signal is too weak; to the left is negative.

    Of magnets on a wheel this is along the radius. Nothing when it is too weak where it is.
    """
    offsets = np.linspace(0, 30, 31 if geometry.reed else 61)
    gap = geometry.air_gap_mm + geometry.moves_mm
    found = []
    for way in (-1, 1):
        at = geometry.lateral_offset_mm + way * offsets, geometry.clocking_angle_deg, gap
        seen = geometry.closures(*at) == 1 if geometry.reed else geometry.ratio(*at, exact=False) >= 1
        last = offsets.size - 1 if seen.all() else int(np.argmin(seen)) - 1
        found.append(way * float(offsets[max(last, 0)]))
    return Interval(*found)


def view_placement(target: Target, sensor: Sensor, placement: Placement, turn_s: float) -> PlacementView:
    """Everything about one placement; `turn_s` is the time of one turn of the target [s].

    Examples
    --------
    >>> from speedchain.target.model import Ring
    >>> result = view_placement(
    ...     Target(count=48, ring=Ring(diameter_mm=100)), Sensor(kind="hall_gear_tooth"), Placement(air_gap_mm=1), 0.07
    ... )
    >>> result.scope.text, len(result.chances)
    ('48 of 48 counted', 3)
    """
    detail, geometry = evaluate_placement(target, sensor, placement), geometry_of(target, sensor, placement)
    if geometry is None:
        return PlacementView(
            detail=detail, facts=facts_of(sensor), map=None, chances=(), scope=None, reach_mm=(0.0, 0.0)
        )
    return PlacementView(
        detail=detail,
        facts=geometry.facts,
        map=tolerance_map(geometry),
        chances=chances(geometry, sensor, placement),
        scope=scope_of(pulses_of(geometry, detail, target), turn_s),
        reach_mm=reach_mm(geometry),
    )
