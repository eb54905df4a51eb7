"""A workshop's own jobs: steps that people write, and built-in jobs that they change, beside those that ship."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Annotated, Literal

from pydantic import Field, model_validator

from speedchain.fields import InputError, Part, Plain, text_of
from speedchain.jobs.steps import StepTemplate, Template
from speedchain.jobs.templates import BY_CODE

OWN = "own-"
MOST_STEPS = 60
OwnKind = Literal["tick", "decide", "torque", "photo", "timer"]
Code = Annotated[str, Field(pattern="^[a-z_]*$", max_length=40)]


class OwnStep(Part):
    """A step: what is done, how, under which heading; a check says what follows where it is answered with no.

    A step `like` one of the built-in job does, measures and cautions as that does; words of its own stand in place of
    its text. `safety` and `second` add to it.
    """

    like: Code = ""
    text: Annotated[str, Field(max_length=300), Plain] = ""
    kind: OwnKind = "tick"
    part: Annotated[str, Field(max_length=60), Plain] = ""
    safety: bool = False
    stop: Annotated[str, Field(max_length=300), Plain] = ""
    second: bool = False
    seconds: Annotated[int, Field(ge=0, le=86_400)] = 0

    @model_validator(mode="after")
    def _whole(self) -> OwnStep:
        if self.like:
            return self
        if not self.text.strip():
            raise InputError("The step says nothing.", remedy="Write what is to be done.", path="text")
        if self.kind == "decide" and self.safety and not self.stop.strip():
            raise InputError(
                "A check that protects people says what follows when it fails.", remedy="Write it down.", path="stop"
            )
        if self.kind == "timer" and not self.seconds:
            raise InputError(
                "The timer has no time.", remedy="Enter its seconds.", limit="at least 1 s", path="seconds"
            )
        return self


class OwnJob(Part):
    """A job of the workshop's own, or a built-in one that it was made `like`."""

    like: Code = ""
    title: Annotated[str, Field(min_length=1, max_length=80), Plain]
    needs: Annotated[str, Field(max_length=300), Plain] = ""
    steps: tuple[OwnStep, ...] = Field(min_length=1, max_length=MOST_STEPS)

    @model_validator(mode="after")
    def _no_step_twice(self) -> OwnJob:
        codes = [step.like for step in self.steps if step.like]
        if twice := next((code for code in codes if codes.count(code) > 1), None):
            raise InputError(
                text_of("The built-in step {0} stands there twice.", twice),
                remedy="Take one of them out.",
                path="steps",
            )
        return self


def check_job(job: OwnJob) -> None:
    """Raises `InputError` for a built-in job, or a step of it, that there is not."""
    base = BY_CODE.get(job.like) if job.like else None
    if job.like and base is None:
        raise InputError(
            text_of("There is no built-in job {0}.", job.like), remedy="Copy one of the list.", path="like"
        )
    known = {step.code for step in base.steps} if base else set()
    for place, step in enumerate(job.steps):
        if step.like and step.like not in known:
            raise InputError(
                text_of("The built-in job has no step {0}.", step.like),
                remedy="Write the step yourself, or take it out.",
                path=f"steps.{place}.like",
            )


def own_template(number: int, job: OwnJob) -> Template:
    """The same as a template. A built-in step that is no more is left out.

    Examples
    --------
    >>> own_template(7, OwnJob(title="Wash", steps=(OwnStep(text="Rinse {it}"),))).steps[0].text
    'Rinse {it}'
    >>> own_template(8, OwnJob(like="tyre_change", title="Tyres", steps=(OwnStep(like="marking"),))).when
    ('tyre',)
    """
    base = BY_CODE.get(job.like)
    known = {step.code: step for step in base.steps} if base else {}
    steps = [_own_step(place, step, known) for place, step in enumerate(job.steps)]
    return Template(
        code=f"{OWN}{number}",
        title=job.title,
        needs=job.needs,
        steps=tuple([step for step in steps if step is not None]),
        when=base.when if base else (),
        unless=base.unless if base else (),
        stage=base.stage if base else None,
        like=job.like,
    )


def _own_step(place: int, step: OwnStep, known: Mapping[str, StepTemplate]) -> StepTemplate | None:
    if step.like:
        base = known.get(step.like)
        if base is None:
            return None
        changed = base._replace(safety=base.safety or step.safety, second=base.second or step.second)
        changed = changed._replace(part=step.part) if step.part else changed
        return changed._replace(text=step.text, written=True) if step.text.strip() else changed
    return StepTemplate(
        code=f"s{place + 1}",
        text=step.text,
        kind=step.kind,
        part=step.part,
        safety=step.safety,
        stop=step.stop,
        second=step.second,
        seconds=step.seconds,
        written=True,
    )
