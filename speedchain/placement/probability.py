"""The chance of a clean signal, when nobody knows where in its body the element sits."""

from __future__ import annotations

import math
from dataclasses import replace
from functools import lru_cache

import numpy as np

from speedchain.fields import Interval, Words, text_of
from speedchain.placement.geometry import Geometry
from speedchain.placement.model import Placement
from speedchain.results import result
from speedchain.sensor import Sensor

SAMPLES = 1500
MAGNET_SAMPLES = 300
REED_SAMPLES = 80
SEED = 20_260
KNOWN_SPOT_MM = 0.3
"""How far off the element still is when the sensing element is marked. Common practice."""


@result
class Chance:
    """One way of fitting it: the chance that the weakest signal of a turn is enough, with its 95 % interval."""

    code: str
    label: Words
    chance_pct: float
    low_pct: float
    high_pct: float
    samples: int


@lru_cache(maxsize=4096)
def wilson_interval(hits: int, samples: int) -> Interval:
    """95 % interval of a share of trials.

    References
    ----------
    `scipy.stats`; E. B. Wilson, Journal of the American Statistical Association 22 (1927).

    Examples
    --------
    >>> [round(edge, 3) for edge in wilson_interval(50, 100)]
    [0.404, 0.596]
    """
    from scipy.stats import binomtest

    found = binomtest(hits, samples, p=hits / samples).proportion_ci(
        method="wilson"
    )  # p saves a search for its P value
    return Interval(float(found.low), float(found.high))


def chance_of(
    geometry: Geometry,
    *,
    fitting_tolerance_mm: float,
    element_mm: float,
    element_angle_tolerance_deg: float,
    samples: int,
    seed: int = SEED,
) -> int:
    """How many of the samples give a clean signal.

    The body is off by a rectangular ± `fitting_tolerance_mm`; the element sits anywhere in a disc of radius
    `element_mm` around the spot and turned by a rectangular ± `element_angle_tolerance_deg`. Clean: strength ≥ what is
    needed at the furthest point of a turn; of a reed, that it closes just once.

    References
    ----------
    JCGM 101:2008 (propagation by Monte Carlo); seeded, so that it can be repeated.
    """
    random = np.random.default_rng(seed)
    body = random.uniform(-fitting_tolerance_mm, fitting_tolerance_mm, samples)
    radius = element_mm * np.sqrt(random.uniform(0, 1, samples))
    across = radius * np.sin(random.uniform(0, 2 * math.pi, samples))
    off = random.uniform(-element_angle_tolerance_deg, element_angle_tolerance_deg, samples)
    at = (
        geometry.lateral_offset_mm + body + across,
        geometry.clocking_angle_deg + off,
        geometry.air_gap_mm + geometry.moves_mm,
    )
    clean = geometry.closures(*at) == 1 if geometry.reed else geometry.ratio(*at, exact=False) >= 1
    return int(np.count_nonzero(clean))


def chances(geometry: Geometry, sensor: Sensor, placement: Placement) -> tuple[Chance, ...]:
    """As drawn, after a quarter turn, and with a body of half the size (whose element sits half as far off;
    what holds it is fitted as well as before).

    Examples
    --------
    >>> from speedchain.target.model import Ring

    >>> from speedchain.target.model import Target
    >>> from speedchain.placement.geometry import geometry_of
    >>> parts = Target(count=24, ring=Ring(diameter_mm=100, face_width_mm=2)), Sensor(kind="hall_gear_tooth")
    >>> along, quarter, small = chances(geometry_of(*parts, Placement(clocking_angle_deg=0)), parts[1], Placement())
    >>> along.chance_pct < quarter.chance_pct
    True
    """
    facts = geometry.facts
    element_mm = (
        facts.element_offset_mm
        if sensor.element_mark.feature == "unknown"
        else min(KNOWN_SPOT_MM, facts.element_offset_mm)
    )
    samples = REED_SAMPLES if geometry.reed else (MAGNET_SAMPLES if geometry.magnets else SAMPLES)
    small = replace(geometry, facts=facts.model_copy(update={"body_diameter_mm": facts.body_diameter_mm / 2}))
    ways = (
        ("drawn", "As drawn", geometry, element_mm),
        ("quarter", "After a quarter turn", _turned(geometry), element_mm),
        ("small", text_of("With a body of {0:g} mm", facts.body_diameter_mm / 2), small, element_mm / 2),
    )
    found = []
    for code, label, at, off_mm in ways:
        hits = chance_of(
            at,
            fitting_tolerance_mm=placement.fitting_tolerance_mm,
            element_mm=off_mm,
            element_angle_tolerance_deg=facts.element_angle_tolerance_deg,
            samples=samples,
        )
        low, high = wilson_interval(hits, samples)
        found.append(
            Chance(
                code=code,
                label=label,
                chance_pct=100 * hits / samples,
                low_pct=100 * low,
                high_pct=100 * high,
                samples=samples,
            )
        )
    return tuple(found)


def _turned(geometry: Geometry) -> Geometry:
    return replace(geometry, clocking_angle_deg=geometry.clocking_angle_deg + 90)
