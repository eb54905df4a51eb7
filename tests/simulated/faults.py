"""Faulty installations, drawn and searched by each policy: how often the right cause is first, in how many minutes, and
whether a chance that is given is one.

The rigs come from the bench's simulation (`speedchain.faults.rig`), not from the table of chances; people err in 4 % of
the tests. The installations are the demo's, with their own mistakes taken out.
"""

from __future__ import annotations

import json
from collections import Counter
from functools import lru_cache
from pathlib import Path
from typing import Any, NamedTuple, get_args

import numpy as np

from speedchain import Evaluation, Installation, evaluate, read_installation
from speedchain.faults import table_for
from speedchain.faults.inject import PUTS
from speedchain.faults.model import CURE, Answer, Seen
from speedchain.faults.perform import cured, drawn, noticed
from speedchain.faults.policy import Policy, Search, healthy, search
from speedchain.faults.priors import History
from speedchain.faults.rig import Rig
from speedchain.fitted import fitted
from tests.kinds import KINDS, of_kind

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
HALF = 0.5
MOST_CURES = 5
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
        rig, seen = drawn(table_for(fitted(document)), document, random)
        ended = search(rig, evaluation, seen, policy, random=random)
        found.append(
            Result(rig.cause, ended.cause, ended.chance, ended.minutes, len(ended.answers), ended.first_causes)
        )
    return found


class Cell(NamedTuple):
    """One kind of installation and one answer to whether it ever worked: how often the right cause came first, how
    often it was the right one whose cure and retest ended the search, and how often a wrong one ended it with more than
    50 %."""

    installation: str
    history: History
    right: float
    proved: float
    wrong_above_half: float


def cells(each: int) -> list[Cell]:
    """Searches by the best way on every kind of installation after every answer, the causes as likely as that answer
    makes them."""
    found = []
    for place, name in enumerate(KINDS):
        document = healthy(of_kind(name))
        table, evaluation = table_for(fitted(document)), evaluate(document)
        for history in get_args(History):
            shares = []
            for seed in range(each):
                random = np.random.default_rng([seed, place])
                rig, seen = drawn(table, document, random, history)
                first, last = to_its_retest(rig, evaluation, seen, random)
                proved = last.cause == rig.cause
                shares.append((first.cause == rig.cause, proved, not proved and last.chance > HALF))
            found.append(Cell(name, history, *[float(share) for share in np.mean(shares, axis=0)]))
    return found


class Mistaken(NamedTuple):
    """A cause that was there on a kind of installation: how often it came first, and the wrong one that did so most
    often."""

    installation: str
    cause: str
    searches: int
    right: float
    wrong: str
    taken: float


def mistaken(each: int, only: frozenset[tuple[str, str]] | None = None) -> list[Mistaken]:
    """Every cause in turn on every kind of installation, however rare it is there; or `only` some of these pairs."""
    found = []
    for place, name in enumerate(KINDS):
        document = healthy(of_kind(name))
        table, evaluation = table_for(fitted(document)), evaluate(document)
        for cause in table.causes[:-1]:
            if cause not in PUTS or (only is not None and (name, cause) not in only):
                continue
            first: Counter[str] = Counter()
            for seed in range(each):
                random = np.random.default_rng([seed, place, *cause.encode()])
                for rig, seen in noticed(cause, document, random):
                    first[search(rig, evaluation, seen, "best", random=random).cause] += 1
            searches = first.total()
            if searches:
                right = first.pop(cause, 0)
                ((wrong, times),) = first.most_common(1) or [("", 0)]
                found.append(Mistaken(name, cause, searches, right / searches, wrong, times / searches))
    return found


def to_its_retest(rig: Rig, evaluation: Evaluation, seen: Seen, random: np.random.Generator) -> tuple[Search, Search]:
    """The search until a cause is found, and until the cure of one is proved by its retest; a retest errs as a test
    does."""
    first = last = search(rig, evaluation, seen, "best", random=random)
    for _ in range(MOST_CURES):
        outcome = cured(rig, last.cause, random)
        if outcome == "cured":
            break
        answers = (*last.answers, Answer(test=f"{CURE}{last.cause}", outcome=outcome))
        last = search(rig, evaluation, seen.model_copy(update={"answers": answers}), "best", random=random)
    return first, last


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
