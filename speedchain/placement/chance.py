"""The chance of a clean signal, when nobody knows where in its body the element sits."""

from __future__ import annotations

import math
from dataclasses import replace

import numpy as np

from speedchain.placement.model import Placement
from speedchain.placement.scene import Scene
from speedchain.results import result
from speedchain.sensor import Sensor

SAMPLES = 1500
MAGNET_SAMPLES = 300
REED_SAMPLES = 80
SEED = 20_260
KNOWN_SPOT_MM = 0.3
"""How far off the element still is when the sensing spot is marked. Common practice."""


@result
class Chance:
    """One way of fitting it: the chance that the weakest signal of a turn is enough, with its 95 % interval."""

    code: str
    label: str
    chance_pct: float
    low_pct: float
    high_pct: float
    samples: int


def wilson_interval(hits: int, samples: int) -> tuple[float, float]:
    """95 % interval of a share: (p + z²/2n ± z·sqrt(p(1−p)/n + z²/4n²))/(1 + z²/n), z = 1.96.

    References: E. B. Wilson, Journal of the American Statistical Association 22 (1927).

    >>> [round(edge, 3) for edge in wilson_interval(50, 100)]
    [0.404, 0.596]
    """
    z, p = 1.959964, hits / samples
    middle = p + z * z / (2 * samples)
    half = z * math.sqrt(p * (1 - p) / samples + z * z / (4 * samples * samples))
    return max((middle - half) / (1 + z * z / samples), 0.0), min((middle + half) / (1 + z * z / samples), 1.0)


def chance_of(
    scene: Scene, unsure_mm: float, element_mm: float, crook_deg: float, samples: int, seed: int = SEED
) -> int:
    """How many of the samples give a clean signal.

    The body is off by a rectangular ± `unsure_mm`; the element sits anywhere in a disc of radius `element_mm`
    around the spot and crooked by a rectangular ± `crook_deg`. Clean: strength ≥ what is needed at the furthest
    point of a turn; of a reed, that it closes just once. Reference: JCGM 101:2008 (propagation by Monte Carlo); seeded, so that it can be repeated.
    """
    random = np.random.default_rng(seed)
    body = random.uniform(-unsure_mm, unsure_mm, samples)
    radius = element_mm * np.sqrt(random.uniform(0, 1, samples))
    across = radius * np.sin(random.uniform(0, 2 * math.pi, samples))
    crook = random.uniform(-crook_deg, crook_deg, samples)
    at = scene.sideways_mm + body + across, scene.clocking_deg + crook, scene.gap_mm + scene.moves_mm
    clean = scene.closures(*at) == 1 if scene.reed else scene.ratio(*at, exact=False) >= 1
    return int(np.count_nonzero(clean))


def chances(scene: Scene, sensor: Sensor, placement: Placement) -> tuple[Chance, ...]:
    """As drawn, after a quarter turn, and with a body of half the size (whose element sits half as far off).

    >>> from speedchain.target.model import Ring, Target
    >>> from speedchain.placement.scene import scene_of
    >>> parts = Target(count=24, ring=Ring(diameter_mm=100, face_width_mm=2)), Sensor(kind="hall_gear_tooth")
    >>> along, quarter, small = chances(scene_of(*parts, Placement(clocking_deg=0)), parts[1], Placement())
    >>> along.chance_pct < quarter.chance_pct
    True
    """
    facts = scene.facts
    element_mm = (
        facts.strip_offset_mm if sensor.spot.feature == "unknown" else min(KNOWN_SPOT_MM, facts.strip_offset_mm)
    )
    samples = REED_SAMPLES if scene.reed else (MAGNET_SAMPLES if scene.magnets else SAMPLES)
    small = replace(scene, facts=facts.model_copy(update={"body_mm": facts.body_mm / 2}))
    ways = (
        ("drawn", "As drawn", scene, element_mm, placement.unsure_mm),
        ("quarter", "After a quarter turn", _turned(scene), element_mm, placement.unsure_mm),
        ("small", f"With a body of {facts.body_mm / 2:g} mm", small, element_mm / 2, placement.unsure_mm / 2),
    )
    found = []
    for code, label, at, off_mm, unsure_mm in ways:
        hits = chance_of(at, unsure_mm, off_mm, facts.crook_deg, samples)
        low, high = wilson_interval(hits, samples)
        found.append(Chance(code, label, 100 * hits / samples, 100 * low, 100 * high, samples))
    return tuple(found)


def _turned(scene: Scene) -> Scene:
    return replace(scene, clocking_deg=scene.clocking_deg + 90)
