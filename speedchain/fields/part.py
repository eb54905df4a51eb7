"""The base of every part of the document."""

from __future__ import annotations

from pydantic import BaseModel, ConfigDict

from speedchain.fields.titles import title_of


class Part(BaseModel):
    """Base of every part of the installation document: immutable, no unknown fields, finite numbers."""

    model_config = ConfigDict(
        frozen=True,
        extra="forbid",
        allow_inf_nan=False,
        field_title_generator=lambda name, _: title_of(name),
    )
