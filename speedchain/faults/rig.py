"""A faulty installation to try things on: what is physically wrong with it, and what every test by hand then gives.

Nothing here knows the table of chances: what is counted comes from the bench's simulation of the sensor as it is
placed, what a meter shows from the supply and wires as they are. The finder is measured, and people practise, on these.
"""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass, field, replace
from functools import lru_cache
from typing import NamedTuple

import numpy as np

from speedchain.bench import Faults, Profile, edges_of, line_of
from speedchain.document import Installation
from speedchain.evaluation import Evaluation, evaluate
from speedchain.placement import Placement

SPIN_KMH, SLOW_KMH, DRIVE_KMH = 7.0, 9.0, 50.0
STEADY = 0.12
"""A reading that moves by more of itself is unsteady. Common practice."""
SAME = 0.012
"""What a person takes for the same ratio. Common practice."""
PULSES = 96
MEANS_OF = 4
NO_FAULTS = Faults()
LOOSE_EVERY_S, LOOSE_FOR_MS = 0.13, 60.0


@dataclass(frozen=True, slots=True)
class Rig:
    """An installation as it truly is, against what was entered about it.

    Shares are of the healthy value; factors multiply what is shown; `low_kmh` and `high_kmh` are where a reader or a
    conditioner lets pulses through. `visible` are chances to see something by looking; `plain` is what tests give whose
    outcome is the very thing that is wrong: a shield's two ends, a tyre's marking. `cause` is its name, for the score
    alone.
    """

    cause: str
    entered: Installation
    true: Installation
    faults: Faults = NO_FAULTS
    target_there: bool = True
    sees_target: bool = True
    sensor_alive: bool = True
    sensor_output: str = "ok"
    supply: float = 1.0
    wire: bool = True
    shorted: bool = False
    pull_up: bool = True
    conditioner: bool = True
    converter: bool = True
    reader: bool = True
    paired: bool = True
    mode_right: bool = True
    strapped: bool = True
    battery: bool = True
    loose: float = 0.0
    whip_mm: float = 0.0
    pickup_hz: float = 0.0
    pickup_always: bool = False
    pickup_by_lead: bool = True
    polarity: bool = True
    pole: bool = True
    dirty: bool = False
    wheel_factor: float = 1.0
    drive_factor: float = 1.0
    count_factor: float = 1.0
    setting_factor: float = 1.0
    converter_factor: float = 1.0
    input_factor: float = 1.0
    closes_twice: bool = False
    one_held: bool = False
    low_kmh: float = 0.0
    high_kmh: float = math.inf
    drops_at: str = ""
    hot: bool = False
    crossed: bool = False
    unequal: bool = False
    turns: tuple[float, float] = (1.0, 1.0)
    jitter: float = 0.0
    visible: Mapping[str, float] = field(default_factory=dict)
    plain: Mapping[str, str] = field(default_factory=dict)


class Display(NamedTuple):
    """What a display shows, over what it should: 0 for nothing, and by how much of itself it moves."""

    ratio: float
    moves: float

    @property
    def nothing(self) -> bool:
        """Whether nothing worth the name is shown."""
        return self.ratio < 0.05

    @property
    def unsteady(self) -> bool:
        """Whether it moves so that a person sees it."""
        return not self.nothing and self.moves > STEADY


@lru_cache(maxsize=4096)
def counted(true: Installation, faults: Faults, kmh: float, gap_more_mm: float = 0.0) -> Display:
    """What share of the pulses is counted at a speed, and how much their spacing moves, by the bench's simulation."""
    if gap_more_mm and true.placement is not None:
        shifted = placed(true.placement, air_gap_mm=min(_gap(true) + gap_more_mm, 40.0))
        true = true.model_copy(update={"placement": shifted})
    evaluation = evaluation_of(true)
    line = line_of(true, evaluation, faults)
    teeth = line.pulses.count
    seconds = (PULSES + 4 * teeth) / max(kmh / 3600 * evaluation.pulses_per_km / line.edges, 0.1)
    travel = line.travel(Profile.swept(kmh, kmh, seconds), 0.0, seconds)
    last = math.floor(float(travel.turns[-1]) * teeth) - 1
    edges = edges_of(line, travel=travel, first=0, last=last, seed=faults.seed)
    passed, given = edges.passed_s, edges.given_s
    if passed.size < 3 or given.size < 3:
        return Display(0.0, 0.0)
    span = passed[-1] - passed[0]
    spacing = np.diff(given)
    share = (
        (given.size - 1)
        / line.edges
        / ((given[-1] - given[0]) if given.size > 1 else span)
        / ((passed.size - 1) / span)
    )
    if given[-1] - given[0] < 0.5 * span:
        share *= (given[-1] - given[0]) / span
    means = np.convolve(spacing, np.ones(MEANS_OF) / MEANS_OF, "valid") if spacing.size > MEANS_OF else spacing
    low, high = np.percentile(means, (5, 95))
    return Display(float(share), float((high - low) / max(float(np.median(means)), 1e-9)))


@lru_cache(maxsize=4096)
def evaluation_of(installation: Installation) -> Evaluation:
    """The evaluation, kept: tests ask for the same one again and again."""
    return evaluate(installation)


def placed(placement: Placement, **changes: float) -> Placement:
    """A placement with changes."""
    return placement.model_copy(update=changes)


def _gap(installation: Installation) -> float:
    placement = installation.placement
    return placement.air_gap_mm if placement is not None and placement.air_gap_mm is not None else 1.0


def path_works(rig: Rig, *, magnet: bool = False) -> bool:
    """Whether a pulse at the sensor reaches the display at all."""
    there = magnet or (rig.target_there and rig.sees_target)
    electric = rig.sensor_alive and rig.supply > 0.3 and rig.wire and not rig.shorted and rig.pull_up
    behind = rig.conditioner and rig.converter and rig.reader and rig.paired and rig.battery and rig.mode_right
    return there and electric and behind and not rig.crossed


def display(rig: Rig, kmh: float, *, bumps: bool = False, on_stand: bool = False, hot: bool = False) -> Display:
    """What the display shows at a true speed, over the truth."""
    if not path_works(rig) or kmh < rig.low_kmh or (hot and rig.hot):
        return Display(0.0, 0.0)
    faults = rig.faults
    if bumps and rig.loose:
        faults = faults.model_copy(update={"open_every_s": LOOSE_EVERY_S, "open_for_ms": LOOSE_FOR_MS})
    if rig.supply < 1:
        faults = faults.model_copy(update={"noise": faults.noise + 1.2 * (1 - rig.supply)})
    if rig.pickup_hz and not on_stand:
        faults = faults.model_copy(update={"noise": faults.noise + 0.35})
    found = counted(rig.true, faults, kmh, rig.whip_mm if bumps else 0.0)
    factor = rig.wheel_factor if not on_stand else 1.0
    factor *= rig.drive_factor * rig.count_factor * rig.setting_factor * rig.converter_factor * rig.input_factor
    if rig.closes_twice:
        factor *= 2
    if rig.one_held:
        factor *= 0.5
    if kmh > rig.high_kmh:
        return Display(found.ratio * factor * 0.5 * rig.high_kmh / kmh, max(found.moves, 0.3))
    return Display(found.ratio * factor, found.moves + rig.jitter)


def strength(rig: Rig) -> float:
    """The sensor's signal over what it needs, as placed; 2 where nothing says what it is."""
    found = evaluation_of(rig.true).placement_detail
    return found.strength if found.possible else 2.0


def moved(rig: Rig, **changes: float) -> Rig:
    """The same with the sensor placed otherwise."""
    if rig.true.placement is None:
        return rig
    return replace(rig, true=rig.true.model_copy(update={"placement": placed(rig.true.placement, **changes)}))
