"""Faulty installations, drawn and searched by each policy: how often the right cause is first, in how many minutes, and
whether a chance that is given is one.

The rigs come from the bench's simulation (`speedchain.faults.rig`), not from the table of chances; people err in 4 % of the
tests. The installations are the demo's, with their own mistakes taken out.
"""

from __future__ import annotations

import json
from functools import lru_cache
from pathlib import Path
from typing import Any, NamedTuple

import numpy as np

from speedchain import Evaluation, Installation, evaluate, read_installation
from speedchain.faults import facts_for, table_for
from speedchain.faults.perform import drawn
from speedchain.faults.policy import Policy, healthy, search

DEMO = Path(__file__).resolve().parent.parent.parent / "demo"
HEALED: dict[str, dict[str, Any]] = {
    "dotterel-front": {"clocking_angle_deg": 90.0, "lateral_offset_mm": 0.0},
    "dotterel-rear": {},
    "dotterel-dash": {},
    "turnstone": {},
    "whimbrel": {"lateral_offset_mm": 7.0},
    "plover": {},
    "sandpiper": {},
    "grebe": {},
}
"""Documents, and what of their placement is put right first."""
BINS = ((0.0, 0.5), (0.5, 0.65), (0.65, 0.75), (0.75, 0.85), (0.85, 0.95), (0.95, 1.0))


class Result(NamedTuple):
    """The cause that was there, the one found, its chance, and the minutes and tests that it took."""

    there: str
    found: str
    chance: float
    minutes: float
    tests: int
    first_causes: tuple[tuple[str, float], ...]


class Bin(NamedTuple):
    """Causes that came first with a chance in a range: how many, the mean chance, and the share that was right."""

    low: float
    high: float
    count: int
    given: float
    right: float


@lru_cache(maxsize=1)
def bases() -> tuple[tuple[Installation, Evaluation], ...]:
    """The installations that faults are put into."""
    found = []
    for name, changes in HEALED.items():
        document = read_installation(json.loads((DEMO / f"{name}.json").read_text("utf-8"))["first"])
        if changes and document.placement is not None:
            document = document.model_copy(update={"placement": document.placement.model_copy(update=changes)})
        document = healthy(document)
        found.append((document, evaluate(document)))
    return tuple(found)


def results(policy: Policy, cases: int) -> list[Result]:
    """Search each case; the same seeds for every policy."""
    found = []
    for seed in range(cases):
        random = np.random.default_rng(seed)
        document, evaluation = bases()[seed % len(HEALED)]
        rig, seen = drawn(table_for(facts_for(document, evaluation)), document, random)
        ended = search(rig, evaluation, seen, policy, random=random)
        found.append(
            Result(rig.cause, ended.cause, ended.chance, ended.minutes, len(ended.answers), ended.first_causes)
        )
    return found


def right_share(found: list[Result]) -> float:
    """How often the cause that was there came first."""
    return float(np.mean([item.there == item.found for item in found]))


def mean_minutes(found: list[Result]) -> float:
    """Mean minutes of a search."""
    return float(np.mean([item.minutes for item in found]))


def reliability(found: list[Result]) -> list[Bin]:
    """Of the causes that were first at any step, by the chance they were given: how many were right."""
    pairs = [(chance, cause == item.there) for item in found for cause, chance in item.first_causes]
    bins = []
    for low, high in BINS:
        inside = [(chance, right) for chance, right in pairs if low <= chance < high or chance == high == 1.0]
        if inside:
            given, right = np.mean(inside, axis=0)
            bins.append(Bin(low, high, len(inside), float(given), float(right)))
    return bins
