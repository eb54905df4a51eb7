"""The wheel part of the fit document: every method's entries are kept, one is in use."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import AfterValidator, Field, StringConstraints, field_validator, model_validator

from speedchain.errors import InputError
from speedchain.evidence import Part, Proof, Provable, check_proof
from speedchain.units import Circumference, Diameter, Distance, Percent, Reading, Turns
from speedchain.wheel.marking import MAX_MARKING, parse_marking

WheelMethod = Literal["marking", "taped_diameter", "roll_out", "typed"]
Factor = Literal["auto", "pi", "etrto_3_05"]
Source = Literal["chart", "previous_setting", "measured_elsewhere"]


def _check_marking(text: str) -> str:
    parse_marking(text)
    return text


MarkingText = Annotated[str, StringConstraints(strip_whitespace=True), AfterValidator(_check_marking)]


class SizeMarking(Part):
    """What the sidewall says, and which school turns diameter into rolling circumference."""

    text: MarkingText = Field(description=f"The size marking, at most {MAX_MARKING} characters.")
    factor: Factor = Field("auto", description="auto: 3.05 for radial car tyres, π for all others.")
    relative_uncertainty_pct: Percent | None = None


class TapedDiameter(Part):
    """Floor to top of the standing wheel."""

    diameter_mm: Diameter
    reading_mm: Reading = Field(2.0, description="How far out the tape reading can be, either way.")


class RollOut(Part):
    """Mark tyre and floor, roll a number of turns as it is driven or ridden, tape the distance."""

    turns: Turns
    distance_mm: Distance
    tape_mm: Reading = Field(2.0, description="Standard uncertainty of the tape over the distance.")
    mark_mm: Reading = Field(1.0, description="Standard uncertainty of setting each mark.")

    @model_validator(mode="after")
    def _plausible(self) -> RollOut:
        circumference = self.distance_mm / self.turns
        if not 30 <= circumference <= 20000:
            raise InputError(
                f"{self.distance_mm:g} mm in {self.turns} turns is {circumference:g} mm a turn, outside 30 to 20000 mm.",
                remedy="Check the number of turns and the unit of the distance.",
                limit="30 to 20000 mm a turn",
                value=self.distance_mm,
                path="distance_mm",
            )
        return self


class TypedCircumference(Part):
    """A circumference known from elsewhere; on water, the run per turn of the paddle."""

    circumference_mm: Circumference
    source: Source = "previous_setting"
    relative_uncertainty_pct: Percent | None = None


class Wheel(Provable):
    """The wheel that turns the target, or the paddle that does."""

    method: WheelMethod
    marking: SizeMarking | None = None
    taped_diameter: TapedDiameter | None = None
    roll_out: RollOut | None = None
    typed: TypedCircumference | None = None

    @field_validator("proof")
    @classmethod
    def _proof(cls, proof: Proof | None) -> Proof | None:
        check_proof("wheel", proof)
        return proof

    @model_validator(mode="after")
    def _method_has_its_entries(self) -> Wheel:
        if getattr(self, self.method) is None:
            words = self.method.replace("_", " ")
            raise InputError(
                f"The method in use is “{words}”, but its entries are missing.",
                remedy="Fill them in or choose another method.",
                value=self.method,
                path=self.method,
            )
        return self
