"""Steps of job sheets as data: what is done, when it applies, what makes it safe, and where a measured value belongs."""

from __future__ import annotations

from typing import Literal, NamedTuple

from speedchain.advice import Task
from speedchain.fields import Words, labelled

StepKind = Literal["tick", "decide", "measure", "torque", "photo", "timer"]
STEP_KINDS = labelled(
    StepKind,
    tick="Task",
    decide="Check: yes or no",
    measure="Measure",
    torque="Torque",
    photo="Photo",
    timer="Timer",
)
When = Literal[
    "on_wheels", "afloat", "cycle", "road", "brakes_near", "brake_control", "rotor_magnet", "magnets", "spokes", "teeth",
    "driven_shaft", "typed", "learned", "fixed", "converted", "wires", "powered", "single_element", "several_readouts",
    "soft_tyre", "on_hull", "through_hull", "reed_or_magnet",
]  # fmt: skip
"""What an installation has on which a step depends; see `speedchain.jobs.facts`."""
Measure = Literal[
    "roll_out", "pressure", "tread", "count", "shaft_turns", "gap", "setting", "shown_speed", "true_speed", "resistance",
    "supply", "tyre_code", "odometer",
]  # fmt: skip


class StepTemplate(NamedTuple):
    """One step of a template.

    `text` may hold names of facts in braces. `part` is the heading under which it stands. A `safety` step is skipped only
    with a written reason; `stop` is what follows where a check is answered with no; `second` asks a second person.
    """

    code: str
    text: str
    kind: StepKind = "tick"
    part: str = ""
    when: tuple[When, ...] = ()
    unless: tuple[When, ...] = ()
    task: Task = "none"
    safety: bool = False
    stop: str = ""
    second: bool = False
    measure: Measure | None = None
    seconds: int = 0


class Template(NamedTuple):
    """A job: its title, what to have at hand, for which installations it is offered, and its steps."""

    code: str
    title: Words
    needs: Words
    steps: tuple[StepTemplate, ...]
    when: tuple[When, ...] = ()
    unless: tuple[When, ...] = ()
