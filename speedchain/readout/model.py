"""The readout part of the fit document."""

from __future__ import annotations

from typing import Annotated, Any

from pydantic import Field, ValidationInfo, WithJsonSchema, field_validator, model_validator

from speedchain.errors import InputError
from speedchain.evidence import Proof, Provable, check_proof
from speedchain.readout.encodings import ENCODINGS, EncodingCode
from speedchain.texts import Name
from speedchain.units import Count, SpeedStep, parse_quantity

Setting = Annotated[
    float,
    WithJsonSchema(
        {"type": ["number", "string"], "description": "In the unit of the encoding; text with a unit is read."},
        mode="validation",
    ),
]


class Readout(Provable):
    """One controller, dash, gauge or cycle computer on the sensor."""

    name: Name
    encoding: EncodingCode
    told_pulses_per_turn: Count = Field(
        1, description="Pulses per turn (or teeth) the reader is told; 1 where it has no such setting."
    )
    typed: Setting | None = Field(None, description="The number that is in the display now, if it was read back.")
    minimum: Setting | None = Field(None, description="Smallest number the reader takes, if not the usual one.")
    maximum: Setting | None = Field(None, description="Largest number the reader takes, if not the usual one.")
    step: Annotated[float, Field(gt=0, le=1000)] | None = Field(None, description="Step of the number, if not usual.")
    display_step_kmh: SpeedStep = Field(1.0, description="Smallest change of speed the display shows.")

    @field_validator("typed", "minimum", "maximum", mode="before")
    @classmethod
    def _in_the_encodings_unit(cls, value: Any, info: ValidationInfo) -> Any:
        encoding = ENCODINGS.get(info.data.get("encoding", ""))
        return value if value is None or encoding is None else parse_quantity(encoding.kind, value)

    @field_validator("proof")
    @classmethod
    def _proof(cls, proof: Proof | None) -> Proof | None:
        check_proof("readout", proof)
        return proof

    @model_validator(mode="after")
    def _range_is_a_range(self) -> Readout:
        low, high, step = self.limits()
        if low + step > high:
            raise InputError(
                f"The reader's range from {low:g} to {high:g} holds no two numbers {step:g} apart.",
                remedy="Make the largest number larger than the smallest.",
                limit=f"above {low:g}",
                value=high,
                path="maximum",
            )
        return self

    def limits(self) -> tuple[float, float, float]:
        """Smallest and largest number the reader takes, and its step, in the encoding's unit."""
        encoding = ENCODINGS[self.encoding]
        return (
            encoding.minimum if self.minimum is None else self.minimum,
            encoding.maximum if self.maximum is None else self.maximum,
            self.step or encoding.step,
        )
