"""The parts shelf of a workshop: sensors, targets and displays, entered once with what is known of them and taken from
there."""

from __future__ import annotations

from datetime import date as Date
from typing import Any, Literal

from pydantic import ValidationError, model_validator

from speedchain.document import Installation, read_installation
from speedchain.fields import (
    DocumentError,
    InputError,
    Part,
    PartLabel,
    Words,
    codes_of,
    joined,
    label_of,
    labelled,
    problems_from_pydantic,
    text_of,
)
from speedchain.readout import ENCODINGS, Readout
from speedchain.sensor import WORDS, Sensor, facts_of
from speedchain.target import Target, TargetKind
from speedchain.vehicle import part_changed

ShelfKind = Literal["sensor", "target", "readout"]
SHELF_KINDS = labelled(ShelfKind, sensor="Sensor", target="Ring or magnet", readout="Display or controller")
OF_THE_PLACE: dict[ShelfKind, tuple[str, ...]] = {
    "sensor": ("verification", "needs", "resistance_ohm", "part"),
    "target": ("verification", "spokes", "part"),
    "readout": (
        "verification", "name", "current_setting", "current_setting_code", "before_converter", "figure_from",
        "other_settings", "card", "part",
    ),
}  # fmt: skip
"""What belongs to one installation and not to the part: tests, measurements, settings, where it is connected."""
OF_ITS_SEAT = ("radius_mm", "mounted", "runout_mm")
"""What of magnets, and of a ring the runout, belongs to the wheel that they are on."""
SAME: dict[ShelfKind, tuple[str, ...]] = {
    "sensor": ("kind",),
    "target": ("kind", "count"),
    "readout": ("encoding", "entry"),
}
"""What two parts have in common that may be the same one."""
CHANGED: dict[ShelfKind, tuple[str, ...]] = {
    "sensor": ("sensor",),
    "target": ("ring", "magnet"),
    "readout": ("display",),
}
"""Kinds of part, as the service page names them, that are another one with it."""


FOUND_WITH_IT: dict[str, Any] = {
    "resistance_ohm": None, "current_setting": None, "current_setting_code": None, "card": [], "other_settings": [],
}  # fmt: skip
"""What was measured of the old part, or entered in it."""


class ShelfPart(Part):
    """A part on the shelf: its label, and what the document knows of such a part."""

    kind: ShelfKind
    label: PartLabel
    sensor: Sensor | None = None
    target: Target | None = None
    readout: Readout | None = None

    @model_validator(mode="after")
    def _is_one_thing(self) -> ShelfPart:
        if not self.label.name:
            raise InputError("The part has no name.", remedy="Enter its name.", path="label.name", missing=True)
        held = [name for name in OF_THE_PLACE if getattr(self, name) is not None]
        if held != [self.kind]:
            raise InputError(
                "A part on the shelf is a sensor, a target or a display, and holds the data of that alone.",
                remedy="Put it on the shelf from an installation that has it.",
                path="kind",
            )
        return self


def read_shelf_part(data: dict[str, Any]) -> ShelfPart:
    """A part of the shelf from plain data; raises `DocumentError`.

    Examples
    --------
    >>> read_shelf_part({"kind": "target", "label": {}, "target": {"count": 48}})
    Traceback (most recent call last):
        ...
    speedchain.fields.errors.DocumentError: label.name: The part has no name. Enter its name.
    """
    try:
        return ShelfPart.model_validate(data)
    except ValidationError as error:
        raise DocumentError(*problems_from_pydantic(error.errors(include_url=False))) from None


def to_shelf(installation: Installation, kind: ShelfKind, label: PartLabel, readout: int = 0) -> ShelfPart:
    """The sensor, target or display of an installation as a part for the shelf, without what belongs to the place.

    Raises
    ------
    `InputError` when there is no such readout; `DocumentError` when the part has no name.

    Examples
    --------
    >>> from speedchain.document import example_installation
    >>> to_shelf(example_installation(), "target", PartLabel(name="Hub ring")).target.count
    48
    """
    held = _held(installation, kind, readout)
    content = held.model_dump(mode="json", exclude=_of_the_place(kind, held))
    if kind == "readout":
        content["name"] = label.name[:80] or held.name
        if content["learning_ride"]:
            content["learning_ride"] |= {"outcome": None, "on": None, "by": "", "state": None, "voided_by": None}
        if content["table"]:
            content["table"] = [row | {"set_frequency_hz": None} for row in content["table"]]
    return read_shelf_part({"kind": kind, "label": label.model_dump(), kind: content})


def from_shelf(installation: Installation, part: ShelfPart, *, on: Date, readout: int = 0) -> Installation:
    """The installation with a part from the shelf in the place of the one that it has.

    Where that is another part, what was found with the old one says nothing any more: tests, its resistance, its
    setting.

    Raises
    ------
    `InputError` when there is no such readout; `DocumentError` when the installation cannot have such a part.

    Examples
    --------
    >>> from speedchain.document import example_installation
    >>> known = example_installation()
    >>> ring = to_shelf(known, "target", PartLabel(name="Hub ring", number="R-36"))
    >>> taken = from_shelf(known, ring, on=Date(2026, 5, 2)).target
    >>> taken.count, taken.part.text
    (48, 'Hub ring, No. R-36')
    """
    kind, new = part.kind, getattr(part, part.kind)
    label = (
        part.label.model_copy(update={"plug": ""}) if kind == "sensor" else part.label
    )  # its connector is the lead's
    held = _held(installation, kind, readout)
    another = (held.part is not None and held.part != label) or any(
        getattr(held, name) != getattr(new, name) for name in SAME[kind]
    )
    if another:
        for changed in CHANGED[kind]:
            installation = part_changed(installation, changed, on)
        held = _held(installation, kind, readout)
    kept = held.model_dump(mode="json", include=_of_the_place(kind, new))
    if another:
        kept |= {name: value for name, value in FOUND_WITH_IT.items() if name in kept}
    content = new.model_dump(mode="json") | kept | {"part": label.model_dump()}
    if kind == "target":
        _seated(content, held)
    document: dict[str, Any] = installation.model_dump(mode="json")
    if kind == "readout":
        document["readouts"][readout] = content
    else:
        document[kind] = content
    if kind == "sensor" and part.label.plug:
        document["signal"]["lead"]["plug"] = part.label.plug
    return read_installation(document)


def _of_the_place(kind: ShelfKind, part: Any) -> set[str]:
    """What stays with the installation; the number that a reader is made for goes with it."""
    made_for = {"current_setting", "current_setting_code"} if getattr(part, "entry", "") == "fixed" else set()
    return set(OF_THE_PLACE[kind]) - made_for


def _held(installation: Installation, kind: ShelfKind, readout: int) -> Any:
    return installation.readout_at(readout) if kind == "readout" else getattr(installation, kind)


def _seated(content: dict[str, Any], held: Target) -> None:
    """A target on this wheel: where its magnets sit, and how true it runs, is the wheel's."""
    for name in ("magnets", "ring"):
        here = getattr(held, name)
        if content[name] and here is not None:
            seat = here.model_dump(mode="json")
            content[name] |= {key: seat[key] for key in OF_ITS_SEAT if key in seat}


def contents_of(part: ShelfPart) -> Words:
    """What is known of a part, in one line.

    Examples
    --------
    >>> from speedchain.document import example_installation
    >>> contents_of(to_shelf(example_installation(), "target", PartLabel(name="Hub ring")))
    'Toothed ring, 48 per turn'
    """
    if part.target is not None:
        return text_of("{0}, {1} per turn", label_of(part.target.kind, codes_of(TargetKind)), part.target.count)
    if part.readout is not None:
        return _of_readout(part.readout)
    assert part.sensor is not None
    facts, gap = facts_of(part.sensor), part.sensor.maker_gap
    parts = [WORDS[part.sensor.kind].label]
    if facts.supply_max_v > 0:
        parts.append(text_of("supply {0:g} to {1:g} V", facts.supply_min_v, facts.supply_max_v))
    if gap is not None and gap.highest_mm is not None:
        parts.append(text_of("gap {0:g} to {1:g} mm", gap.lowest_mm or 0.0, gap.highest_mm))
    return joined(", ", parts)


def _of_readout(readout: Readout) -> Words:
    if readout.custom is not None:
        return readout.custom.label
    return ENCODINGS[readout.encoding].label if readout.encoding in ENCODINGS else readout.encoding
