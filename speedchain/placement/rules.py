"""Rules about target, sensor and placement together: what gives no signal, can touch, or counts twice."""

from __future__ import annotations

from collections.abc import Iterator

from speedchain.fields import Gap, Words, quantity_of, text_of
from speedchain.placement.evaluate import PlacementDetail
from speedchain.placement.geometry import CLEARANCE_MM, MOST_OF_RATED
from speedchain.placement.model import Placement
from speedchain.placement.strength import depth_share
from speedchain.sensor import PAIRED, Sensor, detects, facts_of, sees
from speedchain.stages import Finding, FindingCode, Severity, finding
from speedchain.target import Magnets, RingShape, Target

COMFORTABLE = 1.3
"""Below this margin a signal is there, but dirt and a knock are enough to lose it. Common practice."""
ACROSS_DEG = 45.0
SHALLOW = 0.85
FINE = 0.5
"""A pitch below this share of the rated one is small for a sensor. Common practice."""
DEEP = 0.37
"""Depth over pitch from which a tooth counts as deep: 1 − exp(−2π·0.37) = 0.90. Our approximation."""


def placement_rules(
    target: Target, *, shape: RingShape | None, sensor: Sensor, placement: Placement | None, detail: PlacementDetail
) -> Iterator[Finding]:
    """Findings about target, sensor and placement; none about a placement that nobody entered."""
    yield from _ring_rules(target, shape, sensor)
    if placement is None:
        return
    if (bracket := placement.bracket) is not None and bracket.whips:
        yield finding(FindingCode.BRACKET, reach_mm=bracket.reach_mm, thickness_mm=bracket.thickness_mm)
    if not detail.possible:
        return
    off_deg = abs((detail.clocking_angle_deg + 90) % 180 - 90)
    if sensor.kind in PAIRED and off_deg > ACROSS_DEG:
        yield finding(FindingCode.CLOCKED_WRONG, angle_deg=off_deg)
    magnets = target.magnets if target.single else None
    unipolar = facts_of(sensor).unipolar
    if magnets is not None and unipolar and magnets.pole == "north":
        yield finding(FindingCode.POLE)
        return
    if magnets is not None:
        yield from _magnet_rules(magnets, unipolar, detail)
    yield from _gap_rules(target, sensor, detail)
    channels = detail.channels
    if channels is not None and not channels.clear:
        yield channels.finding()


def _magnet_rules(magnets: Magnets, unipolar: bool, detail: PlacementDetail) -> Iterator[Finding]:
    if unipolar and magnets.pole == "unknown":
        yield finding(FindingCode.POLE_UNKNOWN)
    if detail.magnet_pass and detail.magnet_pass.closures > 1 and detail.enough:
        yield finding(FindingCode.DOUBLE, closures=detail.magnet_pass.closures)


def _gap_rules(target: Target, sensor: Sensor, detail: PlacementDetail) -> Iterator[Finding]:
    yield from _maker_rules(detail)
    low_mm, high_mm = detail.lowest_gap_mm, detail.highest_gap_mm
    touching_mm, weak_mm = detail.model_window.lowest_mm, detail.model_window.highest_mm
    if detail.maker_window is not None and (weak_mm < touching_mm or high_mm <= low_mm):
        return  # what the calculation finds against it is said beside the maker's range
    if high_mm < low_mm:
        if sensor.kind == "reed":
            yield finding(FindingCode.REED_END, shift_mm=facts_of(sensor).element_length_mm / 2)
        elif target.single:
            yield finding(FindingCode.NO_WINDOW_MAGNET, lowest_mm=low_mm, highest_mm=max(high_mm, 0.0))
        elif detail.allowed_gap_mm <= 0:
            yield finding(FindingCode.NO_WINDOW_OFF_TARGET)
        else:
            yield finding(FindingCode.NO_WINDOW, lowest_mm=low_mm, highest_mm=max(high_mm, 0.0))
    elif detail.air_gap_mm < touching_mm:
        yield finding(
            FindingCode.TOUCHES,
            air_gap_mm=detail.air_gap_mm,
            movement_mm=detail.moves_mm + detail.heat_mm,
            least_mm=CLEARANCE_MM,
            lowest_mm=low_mm,
            highest_mm=high_mm,
        )
    elif not detail.enough:
        yield finding(
            FindingCode.TOO_WEAK,
            weakest_pct=100 * detail.weakest,
            air_gap_mm=detail.air_gap_mm,
            lowest_mm=low_mm,
            highest_mm=high_mm,
            beyond=_beyond_rated(sensor, detail),
        )
    elif detail.weakest < COMFORTABLE:
        yield finding(FindingCode.BARELY, margin=detail.weakest)


def _maker_rules(detail: PlacementDetail) -> Iterator[Finding]:
    """What the maker permits limits, whatever the calculation says; where they disagree, that is said."""
    maker = detail.maker_window
    if maker is None:
        return
    least_mm, most_mm = maker.lowest_mm, maker.highest_mm
    if detail.gap_given and not least_mm <= detail.air_gap_mm <= most_mm:
        yield finding(
            FindingCode.MAKER_GAP,
            air_gap_mm=detail.air_gap_mm,
            permitted=_range(least_mm, most_mm),
        )
    touching_mm, weak_mm = detail.model_window.lowest_mm, detail.model_window.highest_mm
    if weak_mm < least_mm or touching_mm > most_mm or weak_mm < touching_mm:
        calculated = _range(touching_mm, weak_mm) if touching_mm < weak_mm else text_of("no gap at all")
        none = detail.highest_gap_mm <= detail.lowest_gap_mm
        severity: Severity = "blocking" if none else "warning"
        yield finding(FindingCode.MAKER_DISAGREES, severity, permitted=_range(least_mm, most_mm), calculated=calculated)


def _range(low_mm: float, high_mm: float) -> Words:
    if high_mm >= quantity_of(Gap).maximum:
        return text_of("at least {0:.2f} mm", low_mm)
    return text_of("{0:.2f} to {1:.2f} mm", low_mm, high_mm) if low_mm else text_of("at most {0:.2f} mm", high_mm)


def _beyond_rated(sensor: Sensor, detail: PlacementDetail) -> Words:
    """Where in the range; and where the rating says nothing any more, a test does."""
    furthest_mm = detail.air_gap_mm + detail.moves_mm
    if detail.magnet_pass is not None or furthest_mm <= MOST_OF_RATED * facts_of(sensor).rated_air_gap_mm:
        return "Aim for the middle."
    return text_of(
        "Beyond {0:g} × the rated air gap the calculation does not hold: if it works there, do the spin test and "
        "record it "
        "under Sensor.",
        MOST_OF_RATED,
    )


def _ring_rules(target: Target, shape: RingShape | None, sensor: Sensor) -> Iterator[Finding]:
    ring = target.ring
    if ring is None or shape is None:
        return
    if sees(sensor.kind, target.kind) and not detects(sensor.kind, target):
        yield finding(FindingCode.NOT_FERROUS, material=ring.material.replace("_", " "))
    if ring.missing_teeth:
        yield finding(
            FindingCode.MISSING_TOOTH,
            places=shape.places,
            missing=ring.missing_teeth,
            teeth=target.count,
            dip_pct=100 / (1 + ring.missing_teeth),
        )
    if sensor.kind not in (*PAIRED, "hall_gear_tooth", "variable_reluctance"):
        return
    pitch_mm, facts = shape.pitch_mm, facts_of(sensor)
    cut = target.kind != "bolt_heads"  # nobody makes a head higher
    if cut and shape.depth_mm is not None and (share := float(depth_share(shape.depth_mm, pitch_mm))) < SHALLOW:
        yield finding(
            FindingCode.SHALLOW,
            depth_mm=shape.depth_mm,
            pitch_mm=pitch_mm,
            share_pct=100 * share,
            deep_mm=DEEP * pitch_mm,
        )
    if pitch_mm < FINE * facts.rated_pitch_mm:
        yield finding(
            FindingCode.TOO_FINE,
            pitch_mm=pitch_mm,
            rated_gap_mm=facts.rated_air_gap_mm,
            rated_pitch_mm=facts.rated_pitch_mm,
        )
