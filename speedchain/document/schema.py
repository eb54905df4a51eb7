"""The JSON Schema of the installation document: all that a front needs to draw a field."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from functools import cache
from typing import Any

from speedchain.document.installation import Installation
from speedchain.fields import LABELS, STEPS, title_of
from speedchain.results import result
from speedchain.target import RING_TARGETS, SINGLE_MAGNETS

APPLIES: Mapping[str, tuple[str, tuple[str, ...]]] = {
    **{
        f"Drive.{kind}": ("kind", (kind,)) for kind in ("axle_ratio", "sprockets", "transfer_box", "hub_motor", "cable")
    },
    **{f"AxleRatio.{name}": ("basis", ("counted",)) for name in ("wheel_turns", "shaft_turns", "one_wheel_held")},
    "AxleRatio.ratio": ("basis", ("label",)),
    "TransferBox.range": ("sensed", ("gearbox",)),
    "HubMotor.freewheel": ("sensed", ("rotor",)),
    "Target.ring": ("kind", RING_TARGETS),
    "Target.cut": ("kind", RING_TARGETS),
    "Target.magnets": ("kind", SINGLE_MAGNETS),
    "Target.spokes": ("kind", SINGLE_MAGNETS),
    "Ring.diameter_mm": ("form", ("diameter",)),
    "Ring.module_mm": ("form", ("module",)),
    "Magnets.width_mm": ("form", ("bar",)),
    "Readout.base_pulses_per_km": ("encoding", ("percent_correction",)),
    "Readout.table": ("encoding", ("frequency_table",)),
    "Readout.codes": ("encoding", ("chart_code",)),
    "Readout.current_setting_code": ("encoding", ("chart_code",)),
    "Readout.custom": ("encoding", ("custom",)),
    "Timing.gate_s": ("method", ("gate",)),
    "Timing.pulses_averaged": ("method", ("period",)),
    "Timing.timer_tick_us": ("method", ("period",)),
    "Converter.target_pulses_per_km": ("drives", ("electronic",)),
    "Converter.cable_turns_per_km": ("drives", ("mechanical",)),
    "Converter.motor_pulses": ("drives", ("mechanical",)),
    "Conditioner.arming_v": ("kind", ("vr_converter",)),
    "Conditioner.max_input_vpp": ("kind", ("vr_converter",)),
    "Conditioner.clamped": ("kind", ("vr_converter",)),
    "Conditioner.noise_v": ("kind", ("comparator",)),
    "Conditioner.series": ("kind", ("comparator",)),
    "Conditioner.input_resistor_ohm": ("kind", ("comparator",)),
    "SpeedDerived.shown_kmh": ("basis", ("satellite_speed",)),
    "SpeedDerived.true_kmh": ("basis", ("satellite_speed",)),
    "SpeedDerived.shown_km": ("basis", ("measured_distance",)),
    "SpeedDerived.true_km": ("basis", ("measured_distance", "timed_distance")),
    "SpeedDerived.time_s": ("basis", ("timed_distance",)),
}
"""Fields that apply only while another field of the same part has one of some values."""


def installation_schema() -> dict[str, Any]:
    """The JSON Schema of the installation document as people may write it (numbers, or text with units).

    Beside the standard keywords a property has `x-unit`, `x-example`, `x-step`, `x-labels` (the label of every choice)
    and `x-applies` (the field and the values with which it applies), where it has them.
    """
    schema = Installation.model_json_schema(mode="validation")
    for name, definition in {"Installation": schema, **schema["$defs"]}.items():
        describe_fields(name, definition)
    return {
        "$schema": "https://json-schema.org/draft/2020-12/schema",
        "title": "Wheelometron installation, version 2",
    } | {key: value for key, value in schema.items() if key != "title"}


def describe_fields(part: str, definition: dict[str, Any]) -> None:
    """Add steps, labels and conditions to the properties of one part's definition, in place."""
    for name, field in definition.get("properties", {}).items():
        for node in _nodes(field):
            labels = LABELS.get(frozenset(node["enum"])) if isinstance(node.get("enum"), list) else None
            if labels is not None:
                node["x-labels"] = {item.code: item.label for item in labels}
            if "x-unit" in node:
                node["x-step"] = STEPS.get(name, 1)
        if (condition := APPLIES.get(f"{part}.{name}")) is not None:
            field["x-applies"] = {"field": condition[0], "values": list(condition[1])}


def _nodes(field: Any) -> Iterator[dict[str, Any]]:
    if isinstance(field, dict):
        yield field
        for value in field.values():
            yield from _nodes(value)
    elif isinstance(field, list):
        for value in field:
            yield from _nodes(value)


@cache
def _schema() -> dict[str, Any]:
    return installation_schema()


@result
class DocumentField:
    """A field of the document: its title, its unit, and the label of every choice."""

    title: str
    unit: str
    labels: Mapping[str, str]


def field_at(path: str) -> DocumentField:
    """The field at a dotted path; a path that does not exist has its own last name as title.

    Examples
    --------
    >>> field_at("wheel.roll_out.tape_mm").title, field_at("readouts.0.past_end").labels["wraps"]
    ('Tape uncertainty', 'The needle drops to zero')
    """
    nodes: list[dict[str, Any]] = [_schema()]
    field: dict[str, Any] = {}
    for name in path.split("."):
        properties = [node["properties"] for node in nodes if "properties" in node]
        if name.isdigit() and not any(name in item for item in properties):
            nodes = [inner for node in nodes for inner in _meant(node.get("items", {}))]
            continue
        field = next((item[name] for item in properties if name in item), {})
        nodes = list(_meant(field))
    labels: Mapping[str, str] = next((node["x-labels"] for node in nodes if "x-labels" in node), {})
    unit = next((node["x-unit"] for node in nodes if "x-unit" in node), "")
    return DocumentField(title=field.get("title") or title_of(path.rpartition(".")[2]), unit=unit, labels=labels)


def titles_by_path() -> dict[str, str]:
    """The title of every field of the document, by its path without places in lists.

    Examples
    --------
    >>> titles = titles_by_path()
    >>> titles["readouts.current_setting"], titles["target.count"]
    ('Current setting', 'Count per turn')
    """
    titles: dict[str, str] = {}

    def walk(node: Mapping[str, Any], path: str) -> None:
        for meant in _meant(node):
            if "items" in meant:
                walk(meant["items"], path)
            for name, field in meant.get("properties", {}).items():
                inner = f"{path}.{name}" if path else name
                titles[inner] = field.get("title") or title_of(name)
                walk(field, inner)

    walk(_schema(), "")
    return titles


def _meant(node: Mapping[str, Any]) -> Iterator[dict[str, Any]]:
    """A node with its reference followed and its alternatives listed."""
    if "$ref" in node:
        yield from _meant(_schema()["$defs"][node["$ref"].rpartition("/")[2]])
    for inner in (*node.get("anyOf", ()), *node.get("allOf", ())):
        yield from _meant(inner)
    yield dict(node)
