"""The shape of everything the core returns."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TypeVar, dataclass_transform

T = TypeVar("T")


@dataclass_transform(frozen_default=True, kw_only_default=True)
def result(cls: type[T]) -> type[T]:
    """A dataclass with slots, made by keyword, that the type checker holds to be frozen.

    Freezing at run time would make each of the some forty objects of an evaluation take three times as long
    (benchmarks/), so the checker alone stands guard.
    """
    return dataclass(slots=True, kw_only=True)(cls)


@dataclass_transform(frozen_default=True, kw_only_default=True)
def shared(cls: type[T]) -> type[T]:
    """The same, frozen at run time as well: for results that a cache hands to more than one caller."""
    return dataclass(slots=True, frozen=True, kw_only=True)(cls)
