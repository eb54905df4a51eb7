"""The JSON Schema of the installation document: all that a front needs to draw a field."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from functools import cache
from typing import Any, Literal

from speedchain.document.installation import Installation
from speedchain.fields import LABELS, OF_MACHINES, Choice, Words, title_of
from speedchain.results import result


def installation_schema() -> dict[str, Any]:
    """The JSON Schema of the installation document as people may write it (numbers, or text with units).

    Beside the standard keywords a property has `x-unit`, `x-example`, `x-step`, `x-labels` (the label of every choice),
    `x-applies` (the field and the values with which it applies), `x-hint`, `x-when-empty`, `x-start` (what it holds
    when its group is begun) and `x-machine` (a bare number is in the unit of a machine), where it has them.
    """
    schema = Installation.model_json_schema(mode="validation")
    for name, definition in {"Installation": schema, **schema["$defs"]}.items():
        describe_fields(name, definition)
    return {
        "$schema": "https://json-schema.org/draft/2020-12/schema",
        "title": "Wheelometron installation, version 2",
    } | {key: value for key, value in schema.items() if key != "title"}


def describe_fields(part: str, definition: dict[str, Any]) -> None:
    """Add titles, steps of their own and the labels of choices to the properties of one part's definition, in place."""
    for name, field in definition.get("properties", {}).items():
        field.setdefault("title", title_of(name))
        own_step = field.pop("x-own-step", None)
        for node in _nodes(field):
            labels = LABELS.get(frozenset(node["enum"])) if isinstance(node.get("enum"), list) else None
            if labels is not None:
                node["x-labels"] = {item.code: item.label for item in labels}
            if own_step is not None and "x-step" in node:
                node["x-step"] = own_step


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


FieldKind = Literal["quantity", "choice", "number_choice", "flag", "text", "group"]


@result
class Applies:
    """The field of the same part, and its values, with which a field applies."""

    field: str
    values: tuple[str, ...]


@result
class DocumentField:
    """A field of the document, as a front draws it and the logbook names it.

    `path` has no places in lists; `unit` is the one a bare number is in; `machine` says that it is the unit of a part
    or a machine and stays; `most` is how many a list holds; `usual` is what an empty field means; `start` is what it
    holds when its group is begun, or null where it is then left out.
    """

    path: str
    title: Words
    kind: FieldKind
    unit: Words
    machine: bool
    hint: Words
    usual: Words
    step: float
    minimum: float | None
    maximum: float | None
    most: int | None
    nullable: bool
    required: bool
    choices: tuple[Choice, ...]
    applies: Applies | None
    start: Any

    @property
    def labels(self) -> Mapping[str, str]:
        """The label of every choice."""
        return {choice.code: choice.label for choice in self.choices}


UNIT_NAMES: Mapping[str, str] = {
    "1/km": "per km", "1/hm": "per 100 m", "1/nmi": "per nautical mile", "deg": "°", "degC": "°C", "ohm": "Ω",
    "pF": "pF per m", "us": "µs",
}  # fmt: skip
"""Units as they stand beside a field."""


@cache
def fields_by_path() -> Mapping[str, DocumentField]:
    """Every field of the document, by its path without places in lists.

    Examples
    --------
    >>> fields = fields_by_path()
    >>> fields["readouts.current_setting"].title, fields["target.ring.runout_mm"].usual
    ('Current setting', '0.1')
    >>> fields["wheel.roll_out.turns"].start, fields["drive.sprockets.wheel_teeth"].start
    (3, '')
    """
    fields: dict[str, DocumentField] = {}

    def walk(node: Mapping[str, Any], path: str) -> None:
        for meant in _meant(node):
            if "items" in meant:
                walk(meant["items"], path)
            for name, field in meant.get("properties", {}).items():
                inner = f"{path}.{name}" if path else name
                fields[inner] = _field(inner, field, required=name in meant.get("required", ()))
                walk(field, inner)

    walk(_schema(), "")
    return fields


def field_at(path: str) -> DocumentField | None:
    """The field at a dotted path, places in lists included; None where there is no such field.

    Examples
    --------
    >>> field_at("wheel.roll_out.tape_mm").title, field_at("readouts.0.past_end").labels["wraps"]
    ('Tape uncertainty', 'The needle drops to zero')
    """
    return fields_by_path().get(".".join(name for name in path.split(".") if not name.isdigit()))


def _field(path: str, field: Mapping[str, Any], *, required: bool) -> DocumentField:
    nodes = list(_meant(field))
    most = next((node["maxItems"] for node in nodes if "maxItems" in node), None)
    nodes += [inner for node in nodes if "items" in node for inner in _meant(node["items"]) if "x-unit" in inner]
    quantity = next((node for node in nodes if "x-unit" in node), None)
    codes = next((node["enum"] for node in nodes if "enum" in node), None)
    types = {kind for node in nodes for kind in _types(node)}
    labels = LABELS.get(frozenset(codes)) if codes else None
    named: Mapping[str, str] = field.get("x-labels", {})
    match quantity, codes, types:
        case None, [int(), *_], _:
            kind: FieldKind = "number_choice"
            labels = tuple(Choice(code=code, label=label) for code, label in named.items()) or tuple(
                Choice(code=str(code), label=str(code)) for code in codes
            )
        case None, [*_], _:
            kind = "choice"
            labels = labels or tuple(Choice(code=code, label=code.replace("_", " ")) for code in codes)
        case None, None, _ if "boolean" in types:
            kind = "flag"
            no, yes = named.get("false", "No"), named.get("true", "Yes")
            labels = (Choice(code="false", label=no), Choice(code="true", label=yes))
        case None, None, _ if types & {"object", "array"}:
            kind = "group"
        case None, None, _ if types & {"number", "integer"}:
            kind = "quantity"
        case None, None, _:
            kind = "text"
        case _:
            kind = "quantity"
    unit = quantity["x-unit"] if quantity else ""
    begun = "" if required and kind in ("quantity", "text") else None
    applies = field.get("x-applies")
    return DocumentField(
        path=path,
        title=field["title"],
        kind=kind,
        unit=UNIT_NAMES.get(unit, unit),
        machine=field.get("x-machine", quantity is not None and quantity["x-quantity"] in OF_MACHINES),
        hint=field.get("x-hint") or _telling(quantity["x-example"] if quantity else ""),
        usual=field.get("x-when-empty") or _as_entered(field.get("default")),
        step=quantity.get("x-step", 1) if quantity else 1,
        minimum=quantity.get("minimum") if quantity else None,
        maximum=quantity.get("maximum") if quantity else None,
        most=most,
        nullable="null" in types,
        required=required,
        choices=labels or (),
        applies=Applies(field=applies["field"], values=tuple(applies["values"])) if applies else None,
        start=field.get("x-start", begun),
    )


def _types(node: Mapping[str, Any]) -> tuple[str, ...]:
    found = node.get("type", ())
    return (found,) if isinstance(found, str) else tuple(found)


def _telling(example: str) -> str:
    """An example that shows more than digits: other units, fractions, codes of resistors."""
    return example if any(letter.isalpha() or letter == "/" for letter in example) else ""


def _as_entered(default: Any) -> str:
    match default:
        case bool():
            return str(default).lower()
        case int() | float():
            return f"{default:.10g}"
        case str():
            return default
        case _:
            return ""


def _meant(node: Mapping[str, Any]) -> Iterator[dict[str, Any]]:
    """A node with its reference followed and its alternatives listed."""
    if "$ref" in node:
        yield from _meant(_schema()["$defs"][node["$ref"].rpartition("/")[2]])
    for inner in (*node.get("anyOf", ()), *node.get("allOf", ())):
        yield from _meant(inner)
    yield dict(node)
