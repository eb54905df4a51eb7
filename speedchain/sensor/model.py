"""The sensor part of the fit document."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Literal

from pydantic import field_validator

from speedchain.evidence import Proof, Provable, check_proof
from speedchain.target.model import FERROUS, SINGLE_MAGNETS, TargetKind

SensorKind = Literal[
    "variable_reluctance",
    "hall_switch",
    "hall_gear_tooth",
    "hall_differential",
    "magnetoresistive",
    "reed",
    "paddlewheel",
    "optical",
]

SEES: Mapping[SensorKind, tuple[TargetKind, ...]] = {
    "variable_reluctance": FERROUS,
    "hall_switch": (*SINGLE_MAGNETS, "multipole_ring"),
    "hall_gear_tooth": FERROUS,
    "hall_differential": (*FERROUS, "multipole_ring"),
    "magnetoresistive": (*FERROUS, "multipole_ring"),
    "reed": SINGLE_MAGNETS,
    "paddlewheel": ("paddle_magnets",),
    "optical": (*FERROUS, *SINGLE_MAGNETS, "multipole_ring"),
}
"""Which targets a kind of sensor can see: iron for VR and gear-tooth types, magnets for switches. Common practice."""


class Sensor(Provable):
    """The kind of sensor; its body and placement follow with later versions of the document."""

    kind: SensorKind

    @field_validator("proof")
    @classmethod
    def _proof(cls, proof: Proof | None) -> Proof | None:
        check_proof("sensor", proof)
        return proof
