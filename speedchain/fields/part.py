"""The base of every part of the document."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from pydantic import BaseModel, ConfigDict, Field

from speedchain.fields.titles import title_of


class Part(BaseModel):
    """Base of every part of the installation document: immutable, no unknown fields, finite numbers."""

    model_config = ConfigDict(
        frozen=True,
        extra="forbid",
        allow_inf_nan=False,
        field_title_generator=lambda name, _: title_of(name),
    )


def stated(
    default: Any = ...,
    *,
    title: str | None = None,
    hint: str = "",
    when_empty: str = "",
    start: Any = None,
    labels: Mapping[str, str] | None = None,
    applies: tuple[str, tuple[str, ...]] | None = None,
    machine: bool = False,
    step: float | None = None,
    **field: Any,
) -> Any:
    """A field of a part, with all that a page says of it.

    Parameters
    ----------
    default : what it is without an entry; none where it is needed.
    title : what it is called, where its name alone does not say it (`title_of`).
    hint : what helps to fill it in, where the example of its quantity does not say enough.
    when_empty : what an empty field means, where there is no default.
    start : what it holds when its group of entries is begun; all others that are needed begin empty. Common practice.
    labels : the answers of a question that are not plain no and yes, or of choices that are numbers.
    applies : another field of the part, and its values with which this one applies.
    machine : whether a bare number is in the unit of a machine: what is set in a display, or printed in its chart.
    step : by how much an arrow key changes it, where not by the step of its quantity.
    field : anything else that pydantic's `Field` takes.

    Examples
    --------
    >>> class Cut(Part):
    ...     kerf_mm: float = stated(0.2, hint="width of the cut")
    >>> Cut.model_json_schema()["properties"]["kerf_mm"]["x-hint"]
    'width of the cut'
    """
    said = {
        "x-hint": hint or None,
        "x-when-empty": when_empty or None,
        "x-start": start,
        "x-machine": machine or None,
        "x-own-step": step,
        "x-labels": None if labels is None else dict(labels),
        "x-applies": None if applies is None else {"field": applies[0], "values": list(applies[1])},
    }
    return Field(
        default,
        title=title,
        json_schema_extra={name: value for name, value in said.items() if value is not None},
        **field,
    )
