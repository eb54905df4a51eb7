"""The sensor before the target: one model of signal strength for teeth, poles and magnets."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace
from functools import lru_cache
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from speedchain.placement.field import along_blade_mt, field_mt
from speedchain.placement.model import Placement
from speedchain.placement.permitted import GapWindow, maker_window, within
from speedchain.placement.strength import (
    Array,
    Value,
    aperture_loss,
    bias_modulation,
    pair_strength,
    spacing_loss,
    strip_strength,
    tooth_share,
)
from speedchain.sensor import NO_TARGET, PAIRED, SEES, Facts, Sensor, detects, facts_of
from speedchain.target import (
    EXPANSION_PER_K,
    FERROUS,
    Magnets,
    RingShape,
    Target,
    chosen_spokes,
    plane_spread_mm,
    ring_shape,
)

CLEARANCE_MM = 0.2
"""What has to be left between tip and target when everything moves the wrong way. Common practice."""
FURTHEST_GAP_MM = 60.0
PASS_POINTS = 11
GAP_STEPS = 49
COUNT_POINTS = 15
MAGNET_SENSORS = ("hall_switch", "reed")
MOST_OF_RATED, MOST_WHEN_SEEN = 2.0, 10.0
"""Nothing is claimed beyond so many times the rated air gap: the rating is the only thing known, unless the signal was
seen with the target as it is fitted. Common practice."""
SEEN_IN = ("spin", "road", "water")
"""Tests that show the signal of the sensor in front of its own target."""
BEYOND_RATED = 0.99


class Strengths(NamedTuple):
    """Signal over the switching level: as drawn at rest, and at the furthest point of a turn."""

    drawn: float
    weakest: float


@dataclass(frozen=True, slots=True)
class Geometry:
    """Everything the strength depends on. `ratio` 1 is just enough, 2 is twice what the sensor needs.

    `bias_body_mm` is the body whose bias magnet the rating is of: a smaller body is compared with the same rating.
    """

    facts: Facts
    paired: bool
    reed: bool
    shape: RingShape | None
    magnets: Magnets | None
    optical: bool
    required: float
    biased: bool
    bias_body_mm: float
    air_gap_mm: float
    gap_given: bool
    signal_seen: bool
    lateral_offset_mm: float
    clocking_angle_deg: float
    tilt_deg: float
    moves_mm: float
    heat_mm: float
    radius_mm: float
    seen: float = 0.0

    @property
    def pitch_mm(self) -> float:
        """From tooth to tooth; for magnets, from one to the next along their circle."""
        return self.shape.pitch_mm if self.shape else 2 * math.pi * self.radius_mm

    def element_gap_mm(self, air_gap_mm: Value, tilt_deg: float | None = None) -> Array:
        """Gap in the middle of the tip: at its nearest edge it is less by half the body's sine of the lean."""
        lean = math.radians(abs(self.tilt_deg if tilt_deg is None else tilt_deg))
        return np.asarray(air_gap_mm) + self.facts.body_diameter_mm / 2 * math.sin(lean)

    def without_gap(self, lateral_offset_mm: Value, clocking_angle_deg: Value) -> Array:
        """Aperture × capture × width of teeth or poles at a place; what the gap leaves comes on top."""
        shape, facts = self._shape(), self.facts
        if self.paired:
            seen = pair_strength(
                lateral_offset_mm,
                clocking_angle_deg,
                element_spacing_mm=facts.apart_mm,
                element_mm=facts.element_length_mm,
                pitch_mm=shape.pitch_mm,
                face_mm=shape.face_mm,
            )
        else:
            seen = strip_strength(
                lateral_offset_mm,
                clocking_angle_deg,
                length_mm=facts.element_length_mm,
                width_mm=facts.element_width_mm,
                pitch_mm=shape.pitch_mm,
                face_mm=shape.face_mm,
            )
        return np.asarray(seen * (self.tooth_width_factor if self.biased else 1.0))

    def gap_factor(self, element_gap_mm: Value) -> Array:
        """What the gap leaves of the signal: of poles the spacing loss, of iron before a bias magnet its image too."""
        pitch_mm, depth_mm = self._shape().pitch_mm, self._shape().depth_mm
        if self.biased:
            return bias_modulation(
                element_gap_mm, pitch_mm=pitch_mm, depth_mm=depth_mm, body_diameter_mm=self.bias_body_mm
            )
        return spacing_loss(element_gap_mm, pitch_mm)

    @property
    def tooth_width_factor(self) -> float:
        """What the width of the teeth leaves; those of a gear widen from tip to pitch circle: their mean width
        counts."""
        shape = self._shape()
        width = (shape.tooth_mm + shape.pitch_mm / 2) / 2 if shape.gear else shape.tooth_mm
        return tooth_share(width, shape.pitch_mm)

    @property
    def most_gap_mm(self) -> float:
        """Largest gap of which anything is claimed, in the middle of the tip."""
        return (MOST_WHEN_SEEN if self.signal_seen else MOST_OF_RATED) * self.facts.rated_air_gap_mm

    def _claimed(self, ratio: Array, element_gap_mm: Value) -> Array:
        return np.where(np.asarray(element_gap_mm) <= self.most_gap_mm, ratio, np.minimum(ratio, BEYOND_RATED))

    def ratio(
        self, lateral_offset_mm: Value, clocking_angle_deg: Value, air_gap_mm: Value, exact: bool = True
    ) -> Array:
        """Strength over what the sensor needs; sideways offset of the element [mm], clocking [°], gap [mm]."""
        gap = self.element_gap_mm(air_gap_mm)
        if self.magnets is not None:
            drive = self.drive_mt(self._passing(), lateral_offset_mm, clocking_angle_deg, air_gap_mm, exact=exact)
            return np.asarray(drive.max(axis=0) / self.required)
        seen = self.without_gap(lateral_offset_mm, clocking_angle_deg)
        if self.optical:
            return np.where(gap <= self.facts.rated_air_gap_mm, seen / self.required, 0.0)
        return self._claimed(seen * self.gap_factor(gap) / self.required, gap)

    def drive_mt(
        self,
        x_mm: Value,
        lateral_offset_mm: Value,
        clocking_angle_deg: Value,
        air_gap_mm: Value,
        *,
        exact: bool = True,
    ) -> Array:
        """Field that works the switch with the magnet at x, the first axis, along the travel [mT]."""
        magnets = self._magnets()
        gap = self.element_gap_mm(air_gap_mm) + self.facts.depth_mm
        shape = np.broadcast_shapes(np.shape(lateral_offset_mm), np.shape(clocking_angle_deg), gap.shape)
        sideways, clocking = np.broadcast_to(lateral_offset_mm, shape), np.broadcast_to(clocking_angle_deg, shape)
        x = np.asarray(x_mm, dtype=float).reshape((-1,) + (1,) * len(shape))
        if self.reed:
            return np.abs(
                along_blade_mt(
                    magnets,
                    x,
                    sideways,
                    gap,
                    clocking_angle_deg=clocking,
                    blade_mm=self.facts.element_length_mm,
                    exact=exact,
                )
            )
        field = field_mt(magnets, x, sideways, gap) * math.cos(math.radians(self.tilt_deg))
        if not self.facts.unipolar:
            return np.abs(field)
        return -field if magnets.pole == "north" else field

    @property
    def release_point_mt(self) -> float:
        """Field at which a switch lets go again; half of the operate point when nobody knows [mT]."""
        return self.facts.release_point_mt or self.required / 2

    def passes(
        self, lateral_offset_mm: Value, clocking_angle_deg: Value, air_gap_mm: Value
    ) -> tuple[Array, NDArray[np.int64]]:
        """The field over whole passes, along the first axis [mT], and how often the switch works in each.

        1 is right, 2 counts double. Only reeds can work twice.
        """
        reach = self.facts.element_length_mm / 2 + self.facts.body_diameter_mm
        x = np.linspace(-reach, reach, COUNT_POINTS)
        drive = self.drive_mt(x, lateral_offset_mm, clocking_angle_deg, air_gap_mm, exact=False)
        return drive, closures_of(drive, self.required, self.release_point_mt)[0]

    def closures(self, lateral_offset_mm: Value, clocking_angle_deg: Value, air_gap_mm: Value) -> NDArray[np.int64]:
        """How often the switch works in one pass."""
        return self.passes(lateral_offset_mm, clocking_angle_deg, air_gap_mm)[1]

    def allowed_gap_mm(self) -> float:
        """Largest gap at which the strength is just enough where it is drawn; negative when there is none."""
        if self.magnets is not None:
            gaps = np.linspace(0, math.sqrt(FURTHEST_GAP_MM), GAP_STEPS) ** 2
            ratios = self.ratio(self.lateral_offset_mm, self.clocking_angle_deg, gaps, exact=False)
            enough = np.flatnonzero(ratios >= 1)
            if not enough.size:
                return -1.0
            last = int(enough[-1])
            if last == gaps.size - 1:
                return FURTHEST_GAP_MM
            share = (ratios[last] - 1) / (ratios[last] - ratios[last + 1])
            return float(gaps[last] + share * (gaps[last + 1] - gaps[last]))
        seen = self.seen
        if self.optical:
            return self.facts.rated_air_gap_mm if seen >= self.required else -1.0
        if seen * float(self.gap_factor(0.0)) < self.required:
            return -1.0
        if seen * float(self.gap_factor(self.most_gap_mm)) >= self.required:
            return self.most_gap_mm - float(self.element_gap_mm(0.0))
        from scipy.optimize import brentq

        allowed = brentq(lambda gap: seen * float(self.gap_factor(gap)) - self.required, 0.0, self.most_gap_mm)
        return float(allowed) - float(self.element_gap_mm(0.0))

    def strengths(self) -> Strengths:
        """Signal over the switching level, at rest and at its weakest."""
        gaps = np.array([self.air_gap_mm, self.air_gap_mm + self.moves_mm])
        if self.magnets is not None or self.optical:
            ratios = self.ratio(self.lateral_offset_mm, self.clocking_angle_deg, gaps)
        else:
            gaps = self.element_gap_mm(gaps)
            ratios = self._claimed(self.seen * self.gap_factor(gaps) / self.required, gaps)
        return Strengths(*ratios.tolist())

    @property
    def lowest_gap_mm(self) -> float:
        """Smallest gap at rest: half the runout, play, heat and the clearance."""
        return self.moves_mm + self.heat_mm + CLEARANCE_MM

    def _passing(self) -> Array:
        """Places along the pass at which the greatest drive can be: over the middle for a Hall switch."""
        if not self.reed:
            return np.zeros(1)
        half = self.facts.element_length_mm
        return np.linspace(-half, half, PASS_POINTS)

    def _shape(self) -> RingShape:
        assert self.shape is not None
        return self.shape

    def _magnets(self) -> Magnets:
        assert self.magnets is not None
        return self.magnets


def closures_of(
    drive_mt: Array, operate_point_mt: float, release_point_mt: float
) -> tuple[NDArray[np.int64], NDArray[np.int64]]:
    """How often a switch with hysteresis works along the first axis, and at how many samples it is on.

    Examples
    --------
    >>> closures_of(np.array([0, 5, 2, 5, 0, 5, 0.0]), 4, 1)
    (np.int64(2), np.int64(4))
    """
    places = np.arange(drive_mt.shape[0]).reshape((-1,) + (1,) * (drive_mt.ndim - 1))
    above = drive_mt >= operate_point_mt
    last = np.maximum.accumulate(np.where(above | (drive_mt < release_point_mt), places, 0), axis=0)
    on = np.take_along_axis(above, last, axis=0)
    return np.count_nonzero(on[1:] & ~on[:-1], axis=0) + on[0], np.count_nonzero(on, axis=0)


@lru_cache(maxsize=256)
def required_strength(facts: Facts, paired: bool, biased: bool) -> float:
    """What a sensor needs: what it gets, well placed, at its rated gap and pitch.

    Aperture at p_r, with the strip across the row, or the pair along it, × what the rated gap leaves; of deep teeth as
    wide as their gaps.

    References
    ----------
    The makers' rating is taken as the limit; common practice.

    Examples
    --------
    >>> from speedchain.sensor import USUAL
    >>> round(required_strength(USUAL["hall_differential"], True, False), 4)
    0.0805
    """
    pitch = facts.rated_pitch_mm
    if paired:
        seen = float(
            pair_strength(
                0.0,
                0.0,
                element_spacing_mm=facts.apart_mm,
                element_mm=facts.element_length_mm,
                pitch_mm=pitch,
                face_mm=1e6,
            )
        )
    else:
        seen = float(aperture_loss(facts.element_width_mm, pitch))
    gap_mm = facts.rated_air_gap_mm
    if biased:
        left = bias_modulation(gap_mm, pitch_mm=pitch, depth_mm=None, body_diameter_mm=facts.body_diameter_mm)
    else:
        left = spacing_loss(gap_mm, pitch)
    return max(seen * float(left), 1e-12)


def right_clocking_deg(sensor: Sensor) -> float:
    """How a kind of sensor is turned: a pair along the row, everything else across it. Common practice.

    Examples
    --------
    >>> right_clocking_deg(Sensor(kind="hall_differential")), right_clocking_deg(Sensor(kind="reed"))
    (0.0, 90.0)
    """
    return 0.0 if sensor.kind in PAIRED else 90.0


def why_no_geometry(target: Target, sensor: Sensor) -> str:
    """What is missing before a sensor can be placed, in words; empty when nothing is."""
    if sensor.kind in NO_TARGET or sensor.kind == "paddlewheel":
        return "This sensor type has no target: no placement is needed."
    if target.kind == "paddle_magnets":
        return "The magnets of a paddle are fixed by its manufacturer: there is nothing to place."
    if target.kind not in SEES[sensor.kind]:
        return "This sensor type cannot detect this target. Change the sensor or the target."
    if not detects(sensor.kind, target):
        return "A target that is not magnetic gives this sensor no signal, at any gap. Change the sensor or the target."
    if target.single and target.magnets is None:
        return "Enter the size and radius of the magnets under Target."
    if target.single and sensor.kind == "variable_reluctance":
        return (
            "A coil that magnets pass is a dynamo: measure its voltage with the wheel spun, and enter it under Signal."
        )
    if target.single and sensor.kind not in MAGNET_SENSORS:
        return "Placement at magnets is computed for Hall switches and reeds only."
    if not target.single and target.ring is None:
        return "Enter the diameter or the module of the ring under Target."
    return ""


def geometry_of(target: Target, sensor: Sensor, placement: Placement) -> Geometry | None:
    """The geometry of an installation, or None when something is missing (`why_no_geometry` says what).

    Examples
    --------
    >>> from speedchain.target.model import Ring
    >>> target = Target(count=48, ring=Ring(diameter_mm=100))
    >>> geometry = geometry_of(target, Sensor(kind="hall_gear_tooth"), Placement(air_gap_mm=1.0))
    >>> round(float(geometry.ratio(geometry.lateral_offset_mm, geometry.clocking_angle_deg, geometry.air_gap_mm)), 2)
    4.28
    """
    if why_no_geometry(target, sensor):
        return None
    facts, shape = facts_of(sensor), ring_shape(target)
    magnets = target.magnets if target.single else None
    paired, optical = sensor.kind in PAIRED, sensor.kind == "optical"
    radius = magnets.radius_mm if magnets else (shape.diameter_mm / 2 if shape else 0.0)
    expansion = EXPANSION_PER_K[target.ring.material] if shape and target.ring else 0.0
    spread = plane_spread_mm(chosen_spokes(target)) if magnets else 0.0
    moves = (target.runout_mm + spread) / 2 + placement.bearing_play_mm
    heat = expansion * radius * placement.temperature_rise_k
    if magnets:
        required = facts.operate_point_mt or 5.0
    elif optical:
        required = 0.5
    else:
        required = required_strength(facts, paired, target.kind in FERROUS)
    clocking_deg = right_clocking_deg(sensor) if placement.clocking_angle_deg is None else placement.clocking_angle_deg
    offset_mm = placement.lateral_offset_mm
    if offset_mm is None:  # as people fit it: the mark opposite the magnet, which on a reed is its end
        end_mm = facts.element_length_mm / 2 * abs(math.sin(math.radians(clocking_deg)))
        offset_mm = end_mm if magnets and sensor.kind == "reed" else 0.0
    geometry = Geometry(
        facts=facts,
        paired=paired,
        reed=sensor.kind == "reed",
        shape=shape,
        magnets=magnets,
        optical=optical,
        required=required,
        bias_body_mm=facts.body_diameter_mm,
        biased=shape is not None and not optical and target.kind in FERROUS,
        air_gap_mm=placement.air_gap_mm or 0.0,
        gap_given=placement.air_gap_mm is not None,
        signal_seen=sensor.verification is not None and sensor.verification.test in SEEN_IN,
        lateral_offset_mm=offset_mm + sensor.element_mark.across_mm,
        clocking_angle_deg=clocking_deg,
        tilt_deg=placement.tilt_deg,
        moves_mm=moves,
        heat_mm=heat,
        radius_mm=radius,
    )
    if shape:
        geometry = replace(
            geometry, seen=float(geometry.without_gap(geometry.lateral_offset_mm, geometry.clocking_angle_deg))
        )
    if geometry.gap_given:
        return geometry
    highest = geometry.allowed_gap_mm() - moves
    window = within(GapWindow(lowest_mm=geometry.lowest_gap_mm, highest_mm=highest), maker_window(sensor, target))
    middle = (window.lowest_mm + window.highest_mm) / 2
    air_gap_mm = middle if window.highest_mm > window.lowest_mm else window.lowest_mm
    return replace(geometry, air_gap_mm=round(air_gap_mm, 2))
