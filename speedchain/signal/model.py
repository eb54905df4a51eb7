"""The signal part of the fit document."""

from __future__ import annotations

from pydantic import field_validator

from speedchain.evidence import Proof, Provable, check_proof


class Signal(Provable):
    """Wired straight to the reader."""

    @field_validator("proof")
    @classmethod
    def _proof(cls, proof: Proof | None) -> Proof | None:
        check_proof("signal", proof)
        return proof
