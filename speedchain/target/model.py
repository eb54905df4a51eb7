"""The target part of the fit document."""

from __future__ import annotations

from typing import Literal

from pydantic import Field, field_validator

from speedchain.evidence import Proof, Provable, check_proof
from speedchain.units import Count

TargetKind = Literal[
    "toothed_ring",
    "slotted_disc",
    "drilled_rotor",
    "multipole_ring",
    "shaft_reluctor",
    "bolt_heads",
    "magnets",
    "paddle_magnets",
]
CountBasis = Literal["assumed", "counted"]

FERROUS: tuple[TargetKind, ...] = ("toothed_ring", "slotted_disc", "drilled_rotor", "shaft_reluctor", "bolt_heads")
SINGLE_MAGNETS: tuple[TargetKind, ...] = ("magnets", "paddle_magnets")


class Target(Provable):
    """Teeth, slots, holes, poles or magnets, their count per turn, and how many edges of each are counted."""

    kind: TargetKind = "toothed_ring"
    count: Count
    basis: CountBasis = "assumed"
    edges: Literal[1, 2] = Field(1, description="1: one edge of each tooth is counted; 2: both.")

    @field_validator("proof")
    @classmethod
    def _proof(cls, proof: Proof | None) -> Proof | None:
        check_proof("target", proof)
        return proof
