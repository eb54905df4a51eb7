"""Valid documents drawn at random from the model itself: every field, limits included; seeds make them repeatable."""

from __future__ import annotations

import math
import random
import types
from collections.abc import Iterator, Sequence
from typing import Annotated, Any, Literal, Union, get_args, get_origin

from pydantic import BaseModel
from pydantic.fields import FieldInfo

from speedchain import DocumentError, Installation, read_installation
from speedchain.fields.quantities import QuantityKind

MARKINGS = ("205/55R16", "28-622", "26x2.1", "29.5x10.5-15", "190/55ZR17", "10x4.50-5", "20x1 1/8", "700x28C")
NAMES = ("Avocet", "x", "Дом 家")


class Drawn:
    """Draws values for the fields of a model."""

    def __init__(self, seed: int, wild: float = 0.3, names: Sequence[str] = NAMES) -> None:
        self.random = random.Random(seed)
        self.wild = wild
        """Share of numbers at or beside a limit."""
        self.names = names
        """What people call things."""

    def model(self, model: type[BaseModel]) -> dict[str, Any]:
        """A group of fields; those with a default are left out half of the time."""
        drawn: dict[str, Any] = {}
        for name, field in model.model_fields.items():
            if name in ("format", "version") or (not field.is_required() and self.random.random() < 0.5):
                continue
            drawn[name] = self.field(name, field)
        return drawn

    def field(self, name: str, field: FieldInfo) -> Any:
        """A value for one field."""
        if name == "text":
            return self.random.choice(MARKINGS)
        longest = next((one.max_length for one in field.metadata if getattr(one, "max_length", None)), None)
        return self.value(field.annotation, tuple(field.metadata), longest)

    def value(self, kind: Any, marks: tuple[Any, ...] = (), longest: int | None = None) -> Any:
        """A value of a type."""
        origin = get_origin(kind)
        if origin is Annotated:
            inner, *more = get_args(kind)
            return self.value(inner, (*marks, *more), longest)
        if origin in (Union, types.UnionType):
            return self.value(self.random.choice(get_args(kind)), marks, longest)
        if origin is Literal:
            return self.random.choice(get_args(kind))
        if origin is tuple:
            return [self.value(get_args(kind)[0]) for _ in range(self.random.randint(0, min(longest or 3, 4)))]
        if kind is type(None):
            return None
        if isinstance(kind, type) and issubclass(kind, BaseModel):
            return self.model(kind)
        return self.plain(kind, marks)

    def plain(self, kind: Any, marks: tuple[Any, ...]) -> Any:
        """A number within its limits, a date, a truth or a text."""
        typed = next((one for one in marks if isinstance(one, QuantityKind)), None)
        if typed is not None:
            return self.number(typed.minimum, typed.maximum, typed.integer)
        if kind is int:
            low = next((one.ge for one in marks if getattr(one, "ge", None) is not None), 0)
            high = next((one.le for one in marks if getattr(one, "le", None) is not None), 10)
            return self.random.randint(low, high)
        if kind is float:
            return self.random.uniform(0.1, 10)
        if kind is bool:
            return self.random.random() < 0.5
        return "2026-05-02" if getattr(kind, "__name__", "") == "date" else self.random.choice(self.names)

    def number(self, low: float, high: float, whole: bool) -> float:
        """Between the limits: at them, near them, or spread over their decades."""
        if self.random.random() < self.wild:
            drawn = self.random.choice((low, high))
        elif low > 0:
            drawn = min(math.exp(self.random.uniform(math.log(low), math.log(high))), high)
        else:
            drawn = self.random.uniform(low, high)
        return round(drawn) if whole else drawn


def repaired(drawn: Drawn, document: dict[str, Any], tries: int = 60) -> Installation | None:
    """The document as an installation, its refused fields drawn anew, added or left out until the rules between fields
    agree."""
    for _ in range(tries):
        try:
            return read_installation(document)
        except DocumentError as error:
            for problem in error.problems:
                _repair(drawn, document, [step for step in problem.path.split(".") if step])
    return None


def _repair(drawn: Drawn, document: Any, path: list[str]) -> None:
    place, model = document, Installation
    for depth, step in enumerate(path):
        if step.isdigit() and isinstance(place, list):
            if int(step) >= len(place):
                return
            if depth == len(path) - 1 or not isinstance(place[int(step)], dict):
                del place[int(step)]
                return
            place = place[int(step)]
            continue
        field = model.model_fields.get(step)
        if field is None or not isinstance(place, dict):
            return
        inner = _inner(field.annotation)
        last = depth == len(path) - 1 or not isinstance(place.get(step), dict | list)
        if last:
            if step in place and not field.is_required() and drawn.random.random() < 0.6:
                del place[step]
            else:
                value = drawn.field(step, field)
                place[step] = value if value is not None or inner is None else drawn.model(inner)
            return
        place, model = place[step], inner or model


def _inner(kind: Any) -> type[BaseModel] | None:
    """The model inside an optional, a list or an annotation."""
    if isinstance(kind, type) and issubclass(kind, BaseModel):
        return kind
    return next((found for one in get_args(kind) if (found := _inner(one)) is not None), None)


def documents(how_many: int, seed: int = 0, wild: float = 0.3, names: Sequence[str] = NAMES) -> Iterator[Installation]:
    """So many valid documents; those whose fields cannot be brought to agree are drawn anew."""
    found, at = 0, seed * 1_000_000
    while found < how_many:
        at += 1
        drawn = Drawn(at, wild, names)
        document = {"name": f"Drawn {at}", **drawn.model(Installation)}
        document["wheel"].setdefault("marking", {"text": "205/55R16"})
        installation = repaired(drawn, document)
        if installation is not None:
            found += 1
            yield installation
