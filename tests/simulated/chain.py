"""Chains and what was observed of them, drawn from what each states of itself: whether ± holds the truth."""

from __future__ import annotations

import math
from collections.abc import Mapping
from typing import NamedTuple

import numpy as np

from speedchain.fields import State
from speedchain.knowledge import ChainEstimate, Observation, estimate_chain
from speedchain.stages import Figure, Stage

PER_KM = 25_000.0


def part(name: str, u_pct: float) -> Stage:
    figure = Figure(name=name, value=1.0, unit="", evidence="measured", relative_standard_uncertainty_pct=u_pct)
    return Stage(
        stage=name, figures=(figure,), evidence="measured", grounds="", relative_standard_uncertainty_pct=u_pct, why=()
    )  # type: ignore[arg-type]


def read(per_km: float, expanded_pct: float, kind: str = "read") -> Observation:
    return Observation(kind=kind, on="2026-05-01", pulses_per_km=float(per_km), expanded_pct=float(expanded_pct))  # type: ignore[arg-type]


def estimate(us_pct: tuple[float, float, float], parts_per_km: float, *seen: Observation) -> ChainEstimate:
    names = ("wheel", "drive", "target")
    return estimate_chain(
        seen,
        parts=tuple([part(name, u) for name, u in zip(names, us_pct, strict=True)]),
        parts_per_km=parts_per_km,
        now=State(),
        check_kmh=50.0,
        growth_at=lambda _: 1.0,
    )


class Case(NamedTuple):
    """How many observations there are, and by how much the parts, or the first observation, are wrong [%]."""

    count: int
    part_off_pct: float = 0.0
    seen_off_pct: float = 0.0


CASES: Mapping[str, Case] = {
    "one observation": Case(1),
    "two observations": Case(2),
    "four observations": Case(4),
    "one observation, the parts 8 % wrong": Case(1, part_off_pct=8),
    "four observations, the parts 8 % wrong": Case(4, part_off_pct=8),
    "four observations, one of them 5 % wrong": Case(4, seen_off_pct=5),
    "two observations, one of them 5 % wrong": Case(2, seen_off_pct=5),
}


def coverage_of_chain(case: Case, samples: int) -> float:
    """Share of chains whose ± holds the truth: parts of 0.2 to 1 % each, observations of 0.1 to 0.3 %, one u each."""
    random = np.random.default_rng(11)
    inside = 0
    for _ in range(samples):
        us = random.uniform(0.2, 1.0, 3)
        own = random.uniform(0.1, 0.3, case.count)
        parts = PER_KM * (1 + float(random.normal(0, math.hypot(*us))) / 100 + case.part_off_pct / 100)
        seen = [PER_KM * (1 + float(random.normal(0, u)) / 100) for u in own]
        if case.seen_off_pct:
            seen[0] *= 1 + case.seen_off_pct / 100
        found = estimate(tuple(us), parts, *[read(x, 2 * u) for x, u in zip(seen, own, strict=True)])
        inside += abs(found.pulses_per_km / PER_KM - 1) <= found.expanded_pct / 100
    return inside / samples
