"""Steps of job sheets as data: what is done, when it applies, what makes it safe, and where a measured value
belongs."""

from __future__ import annotations

from typing import Literal, NamedTuple

from speedchain.advice import Task
from speedchain.fields import StageName, Words, labelled
from speedchain.fitted import Fact

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
Measure = Literal[
    "roll_out", "pressure", "tread", "count", "shaft_turns", "gap", "setting", "shown_speed", "true_speed",
    "resistance",
    "supply", "tyre_code", "odometer",
]  # fmt: skip


class StepTemplate(NamedTuple):
    """One step of a template.

    `text` may hold names of facts in braces. `part` is the heading under which it stands. A `safety` step is skipped
    only with a written reason; `stop` is what follows where a check is answered with no; `second` asks a second person.
    What a person has `written` may hold those names as well; other braces in it are what they are.
    """

    code: str
    text: str
    kind: StepKind = "tick"
    part: str = ""
    when: tuple[Fact, ...] = ()
    unless: tuple[Fact, ...] = ()
    task: Task = "none"
    safety: bool = False
    stop: str = ""
    second: bool = False
    measure: Measure | None = None
    seconds: int = 0
    written: bool = False


class Template(NamedTuple):
    """A job: its title, what to have at hand, for which installations it is offered, and its steps.

    `stage` is the part of an installation from whose page it is offered; `like` the built-in job that it was made from.
    """

    code: str
    title: Words
    needs: Words
    steps: tuple[StepTemplate, ...]
    when: tuple[Fact, ...] = ()
    unless: tuple[Fact, ...] = ()
    stage: StageName | None = None
    like: str = ""
