"""The shape of everything the core returns."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TypeVar, dataclass_transform

T = TypeVar("T")


@dataclass_transform(frozen_default=True, kw_only_default=True)
def result(cls: type[T]) -> type[T]:
    """A dataclass with slots, made by keyword and frozen: caches hand one to many callers."""
    return dataclass(slots=True, frozen=True, kw_only=True)(cls)
