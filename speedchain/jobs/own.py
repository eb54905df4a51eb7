"""A workshop's own jobs: steps that people write, beside those that ship."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field, model_validator

from speedchain.fields import InputError, Part
from speedchain.jobs.steps import StepTemplate, Template

OWN = "own-"
MOST_STEPS = 60
OwnKind = Literal["tick", "decide", "torque", "photo", "timer"]


class OwnStep(Part):
    """A step: what is done, how, under which heading; a check says what follows where it is answered with no."""

    text: Annotated[str, Field(min_length=1, max_length=300)]
    kind: OwnKind = "tick"
    part: Annotated[str, Field(max_length=60)] = ""
    safety: bool = False
    stop: Annotated[str, Field(max_length=300)] = ""
    second: bool = False
    seconds: Annotated[int, Field(ge=0, le=86_400)] = 0

    @model_validator(mode="after")
    def _whole(self) -> OwnStep:
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
    """A job of the workshop's own."""

    title: Annotated[str, Field(min_length=1, max_length=80)]
    needs: Annotated[str, Field(max_length=300)] = ""
    steps: tuple[OwnStep, ...] = Field(min_length=1, max_length=MOST_STEPS)


def own_template(number: int, job: OwnJob) -> Template:
    """The same as a template; braces in its texts are what they are.

    Examples
    --------
    >>> own_template(7, OwnJob(title="Wash", steps=(OwnStep(text="Rinse {it}"),))).steps[0].text
    'Rinse {it}'
    """
    return Template(
        code=f"{OWN}{number}",
        title=job.title,
        needs=job.needs,
        steps=tuple(
            [
                StepTemplate(
                    code=f"s{place + 1}",
                    text=step.text,
                    kind=step.kind,
                    part=step.part,
                    safety=step.safety,
                    stop=step.stop,
                    second=step.second,
                    seconds=step.seconds,
                )
                for place, step in enumerate(job.steps)
            ]
        ),
    )
