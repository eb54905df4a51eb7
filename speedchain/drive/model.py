"""The drive part of the fit document."""

from __future__ import annotations

from typing import Literal

from pydantic import Field, field_validator, model_validator

from speedchain.errors import InputError
from speedchain.evidence import Part, Proof, Provable, check_proof
from speedchain.units import Count, Ratio, Turns

DriveKind = Literal["hub", "axle_ratio", "sprockets"]
RatioBasis = Literal["label", "counted"]


class AxleRatio(Part):
    """A final-drive ratio: turns of the shaft per turn of the wheel."""

    ratio: Ratio
    basis: RatioBasis = "label"
    wheel_turns: Turns = Field(10, description="Turns of the wheel over which the ratio was counted.")


class Sprockets(Part):
    """A chain or belt: teeth at the wheel and teeth at the sensed shaft."""

    wheel_teeth: Count
    shaft_teeth: Count


class Drive(Provable):
    """Where the target sits, seen from the wheel."""

    kind: DriveKind = "hub"
    driven: bool = Field(False, description="Whether the engine, motor or pedals drive the wheel sensed.")
    axle_ratio: AxleRatio | None = None
    sprockets: Sprockets | None = None

    @field_validator("proof")
    @classmethod
    def _proof(cls, proof: Proof | None) -> Proof | None:
        check_proof("drive", proof)
        return proof

    @model_validator(mode="after")
    def _kind_has_its_entries(self) -> Drive:
        if self.kind != "hub" and getattr(self, self.kind) is None:
            words = self.kind.replace("_", " ")
            raise InputError(
                f"The drive is by {words}, but its entries are missing.",
                remedy="Fill them in, or set the drive to the hub.",
                value=self.kind,
                path=self.kind,
            )
        return self
