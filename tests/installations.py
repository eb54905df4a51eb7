"""Installation documents for tests, as plain data."""

from __future__ import annotations

from copy import deepcopy
from typing import Any

from speedchain import Installation, evaluate, read_installation
from speedchain.views import ImpliedSetting, implied_settings

CAR = {
    "name": "Dash from the front hub",
    "purpose": "true_speed",
    "vehicle_kind": "car",
    "wheel": {"method": "marking", "marking": {"text": "205/55R16"}},
    "target": {"kind": "toothed_ring", "count": 48},
    "sensor": {"kind": "hall_gear_tooth"},
    "readouts": [{"name": "Dash", "encoding": "pulses_per_km"}],
}
CYCLE = {
    "name": "Cycle computer",
    "purpose": "cycle_display",
    "vehicle_kind": "bicycle",
    "wheel": {"method": "marking", "marking": {"text": "28-622"}},
    "target": {"kind": "magnets", "count": 1, "basis": "counted"},
    "sensor": {"kind": "reed"},
    "readouts": [{"name": "Computer", "encoding": "circumference_mm"}],
}


def document(base: dict[str, Any], **changes: Any) -> dict[str, Any]:
    """A copy of a document with some values replaced: `wheel__method="entered"` reaches inside."""
    copy = deepcopy(base)
    for path, value in changes.items():
        place: Any = copy
        *way, last = [int(step) if step.isdigit() else step for step in path.split("__")]
        for step in way:
            place = place[step] if isinstance(place, list) else place.setdefault(step, {})
        place[last] = value
    return copy


def installation(base: dict[str, Any] = CAR, **changes: Any) -> Installation:
    """The same, read into an installation."""
    return read_installation(document(base, **changes))


def implied(base: dict[str, Any], **changes: Any) -> tuple[ImpliedSetting, ...]:
    """What the settings in the displays of an installation imply."""
    known = installation(base, **changes)
    return implied_settings(known, evaluate(known))
