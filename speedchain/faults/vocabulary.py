"""What is seen of a fault, which tests find it, and what a cause is: the vocabulary of the fault finder."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Literal, NamedTuple

from speedchain.advice import Task
from speedchain.fields import StageName, Words, labelled
from speedchain.fitted import Fact

Symptom = Literal[
    "nothing", "half", "double", "drops_low", "drops_high", "drops_bumps", "standstill", "noisy", "in_turns",
    "steady_off", "fault_code", "after_change", "bench_ok",
]  # fmt: skip
SYMPTOMS = labelled(
    Symptom,
    nothing="Nothing is shown",
    half="About half is shown",
    double="About double is shown",
    drops_low="Drops out at low speed",
    drops_high="Drops out at high speed",
    drops_bumps="Drops out on bumps or vibration",
    standstill="Shows a speed at standstill",
    noisy="The shown speed is unsteady",
    in_turns="Right straight ahead, wrong in turns",
    steady_off="Wrong by a steady percentage",
    fault_code=("Fault code", "From brake control, or from a motor that stops helping"),
    after_change="Wrong since a part was changed",
    bench_ok="Right on the bench, wrong in use",
)
Changed = Literal["wheel", "tyre", "ring", "gearing", "battery", "wiring", "display", "sensor"]
CHANGED = labelled(
    Changed,
    wheel="Wheel or rotor",
    tyre="Tyre",
    ring="Ring or magnet",
    gearing="Axle or gearing",
    battery="Battery",
    wiring="Wiring or connector",
    display="Display or controller",
    sensor="Sensor or bracket",
)


class Test(NamedTuple):
    """A test by hand: what to do, what can come out of it (the first is what a healthy installation gives), how long it
    takes, and when it can be done at all. `weight` makes a test dearer than its minutes: it can cost a part or a
    finger.
    """

    code: str
    title: Words
    steps: tuple[Words, ...]
    outcomes: Mapping[str, Words]
    minutes: float
    stage: StageName
    when: tuple[Fact, ...] = ()
    unless: tuple[Fact, ...] = ()
    task: Task = "none"
    weight: float = 1.0

    @property
    def normal(self) -> str:
        """What a healthy installation gives."""
        return next(iter(self.outcomes))


class Cause(NamedTuple):
    """Something that can be wrong: where, what to do about it, how often it is, and what it makes of symptoms and
    tests.

    `symptoms` are chances that a person notes each; `tests` of each outcome that is likely, the rest is shared by the
    others. `ratios` are what is shown over true. `job` is the sheet of the cure, `retest` what proves it.
    """

    code: str
    stage: StageName
    text: Words
    fix: Words
    prior: float
    symptoms: Mapping[Symptom, float]
    tests: Mapping[str, Mapping[str, float]]
    when: tuple[Fact, ...] = ()
    unless: tuple[Fact, ...] = ()
    ratios: tuple[float, ...] = ()
    changed: tuple[Changed, ...] = ()
    minutes: float = 10.0
    job: str = ""
    retest: str = "spin"
