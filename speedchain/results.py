"""The shape of everything the core returns."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TypeVar, dataclass_transform

T = TypeVar("T")


@dataclass_transform(frozen_default=True)
def result(cls: type[T]) -> type[T]:
    """A dataclass with slots that the type checker holds to be frozen.

    Freezing at run time would make each of the some forty objects of an evaluation three times as dear
    (benchmarks/), so the checker alone stands guard.
    """
    return dataclass(slots=True)(cls)
