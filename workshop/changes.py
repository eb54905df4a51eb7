"""What changed between two installation documents, in words short enough for a logbook line."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from typing import Any

from speedchain import Evaluation, Installation
from speedchain.bench import shown_now
from speedchain.document import field_at
from speedchain.fields import joined, recased, text_of, title_of
from speedchain.fields.evidence import STAGES

MAX_NAMED = 3
Change = tuple[str, Any, Any]
"""Path of the field, value before, value after; None where it was not there."""


def changed_fields(before: Any, after: Any, path: str = "") -> Iterator[Change]:
    """Every leaf that differs between two plain documents.

    >>> list(changed_fields({"a": {"b": 1}}, {"a": {"b": 2}}))
    [('a.b', 1, 2)]
    """
    if before == after:
        return
    if isinstance(before, dict) and isinstance(after, dict):
        for key in {**before, **after}:
            yield from changed_fields(before.get(key), after.get(key), f"{path}.{key}" if path else key)
    elif isinstance(before, list) and isinstance(after, list) and len(before) == len(after):
        for place, (old, new) in enumerate(zip(before, after, strict=True)):
            yield from changed_fields(old, new, f"{path}.{place}")
    else:
        yield path, before, after


def changed_paths(before: Installation, after: Installation) -> list[str]:
    """The fields that differ between two installations, but for the list of their tests, which only grows."""
    changes = changed_fields(before.model_dump(mode="json"), after.model_dump(mode="json"))
    return [path for path, _, _ in changes if path != "test_records"]


def summarise(
    before: Installation | None, after: Installation, was: Evaluation | None, now: Evaluation, number: int = 1
) -> str:
    """One line: what changed, and what it did to the shown speed; `number` is that of the revision."""
    if before is None or was is None:
        begins = "First saved" if number == 1 else "Replaces a revision that could not be evaluated"
        really = shown_now(after, now)[0]
        if really.kind != "shows":
            return text_of("{0}: at {1:g} km/h true it shows {2}.", begins, now.shown.true_kmh, really.text)
        return text_of("{0}: shows {1:.2f} km/h at {2:g} km/h true.", begins, now.shown.shown_kmh, now.shown.true_kmh)
    changes = list(changed_fields(before.model_dump(mode="json"), after.model_dump(mode="json")))
    named = joined("; ", [_told(change, first=at == 0) for at, change in enumerate(changes[:MAX_NAMED])] or ["Nothing"])
    comes_to = effect(was, now)
    earlier, later = shown_now(before, was)[0], shown_now(after, now)[0]
    if earlier.kind != later.kind:
        comes_to = text_of("{0} Before it showed {1}, now {2}.", comes_to, earlier.text, later.text)
    if len(changes) > MAX_NAMED:
        return text_of("{0} and {1} more. {2}", named, len(changes) - MAX_NAMED, comes_to)
    return text_of("{0}. {1}", named, comes_to)


def effect(was: Evaluation, now: Evaluation) -> str:
    """What a change did to the shown speed, or that it did nothing."""
    old, new = was.shown, now.shown
    advised, advises = was.readouts[0].to_type.value, now.readouts[0].to_type.value
    said = (
        "Shown speed unchanged."
        if abs(old.error_pct - new.error_pct) < 0.005
        else text_of("Shown against true {0:+.2f} % → {1:+.2f} %.", old.error_pct, new.error_pct)
    )
    if advised == advises:
        return said
    return text_of("{0} Setting to enter {1:g} → {2:g}.", said, advised, advises)


def _told(change: Change, *, first: bool) -> str:
    path, old, new = change
    field = field_at(path)
    stage = path.partition(".")[0]
    name = field.title if field else title_of(path.rpartition(".")[2])
    words = recased(name, upper=first)
    if stage in STAGES:
        words = text_of("{0}: {1}", recased(stage, upper=first), recased(name, upper=False))
    if isinstance(new, dict | list) or isinstance(old, dict | list):
        return text_of("{0} {1}", words, "removed" if new is None else "entered" if old is None else "changed")
    labels = field.labels if field else {}
    return text_of("{0} {1} → {2}", words, _short(old, labels), _short(new, labels))


def _short(value: Any, labels: Mapping[str, str]) -> str:
    if value is None or value == "":
        return "none"
    if isinstance(value, bool):
        return "yes" if value else "no"
    if isinstance(value, float):
        return f"{value:.6g}"
    text = labels.get(str(value), str(value))
    return text if len(text) <= 40 else text[:39] + "…"
