"""The timeline as CSV and JSON, and what of such a file is brought in again."""

from __future__ import annotations

import csv
import io
import json
from datetime import UTC
from typing import Annotated, Any, Literal, NamedTuple

from django.contrib.auth.models import User
from pydantic import Field, TypeAdapter, ValidationError

from speedchain.fields import InputError, text_of
from speedchain.fields.days import Day
from speedchain.fields.errors import problems_from_pydantic
from workshop.access import editor, vehicle_for
from workshop.models import NOTE_KINDS, Note
from workshop.service import add_notes, check_note
from workshop.timeline import timeline_of
from workshop.use_cases import use_case

COLUMNS = ("date", "kind", "what", "by", "installation", "value", "km", "wheel")
FORMULA = ("=", "+", "-", "@", "\t", "\r")
MOST_ROWS = 5000
MOST_LETTERS = 400
TimelineFormat = Literal["csv", "json"]


Number = Annotated[float, Field(ge=0, le=10_000_000, allow_inf_nan=False)]


class Row(NamedTuple):
    """A line of a timeline file; of a reading its value, and of a tread depth the odometer [km]."""

    date: Day
    kind: str
    what: str
    by: str = ""
    installation: str = ""
    value: Number | None = None
    km: Number | None = None
    wheel: str = ""


ROWS: TypeAdapter[Row] = TypeAdapter(Row)


def written(user: User, vehicle_id: int, ending: TimelineFormat) -> bytes:
    """The whole timeline. A note has its own kind (note, odometer, hours, tread), its text and its value."""
    notes = {note.pk: note for note in vehicle_for(user, vehicle_id).notes.all()}
    rows = []
    for item in timeline_of(user, vehicle_id):
        note = notes.get(item.note or 0)
        if note is None:
            rows.append(Row(item.at.astimezone(UTC).date(), item.kind, item.text, item.by, item.name, wheel=item.wheel))
        else:
            rows.append(Row(note.on, note.kind, note.text, item.by, item.name, note.value, note.km, item.wheel))
    if ending == "json":
        listed = [row._asdict() | {"date": row.date.isoformat()} for row in rows]
        return json.dumps({"format": "wheelometron-timeline", "items": listed}, indent=1).encode()
    text = io.StringIO()
    writer = csv.writer(text)
    writer.writerow(COLUMNS)
    for row in rows:
        writer.writerow([_plain("" if cell is None else str(cell)) for cell in row])
    return text.getvalue().encode()


def _plain(cell: str) -> str:
    """What a spreadsheet would take for a formula begins with an apostrophe."""
    return f"'{cell}" if cell.startswith(FORMULA) else cell


def _as_typed(cell: str) -> str:
    return cell[1:] if cell.startswith("'") and cell[1:].startswith(FORMULA) else cell


def rows_in(text: str) -> list[Row]:
    """The lines of a timeline file, CSV or JSON. Raises `InputError` naming the first line that is wrong."""
    if text.lstrip("\ufeff \n\r\t").startswith("{"):
        try:
            found = json.loads(text.lstrip("\ufeff"), parse_constant=_no_number)["items"]
        except (ValueError, KeyError, TypeError, RecursionError) as wrong:
            raise _not_one("It is not a timeline in JSON.") from wrong
        lines: list[Any] = list(found) if isinstance(found, list) else []
    else:
        try:
            reader = csv.DictReader(io.StringIO(text.lstrip("\ufeff")))
            lines = [{name: _as_typed(cell) for name, cell in line.items() if name and cell} for line in reader]
        except (csv.Error, AttributeError, TypeError) as wrong:
            raise _not_one("It is not a timeline in CSV.") from wrong
        if not {"date", "kind", "what"} <= set(reader.fieldnames or ()):
            raise _not_one(text_of("Its first line lacks the columns {0}.", "date, kind, what"))
    if len(lines) > MOST_ROWS:
        raise InputError(
            text_of("The file has {0} lines.", len(lines)),
            remedy="Split it.",
            limit=f"at most {MOST_ROWS}",
            path="file",
        )
    rows = []
    for number, line in enumerate(lines, start=1):
        try:
            rows.append(ROWS.validate_python(_with_text(line)))
        except ValidationError as wrong:
            (first, *_) = problems_from_pydantic(wrong.errors(include_url=False))
            raise InputError(
                text_of("Entry {0}: {1}: {2}", number, first.path, first.message),
                remedy="Correct it in the file and bring it in again.",
                limit=first.limit,
                path="file",
            ) from wrong
    return rows


def _no_number(name: str) -> Any:
    raise ValueError(name)


def _with_text(line: Any) -> Any:
    return {"what": ""} | {name: line[name] for name in COLUMNS if name in line} if isinstance(line, dict) else line


def _not_one(message: str) -> InputError:
    return InputError(message, remedy="Choose a file from Timeline as CSV or Timeline as JSON.", path="file")


@use_case("add_note", no_version="notes are added; what follows from them is reckoned anew")
def bring_in(user: User, vehicle_id: int, text: str) -> tuple[int, int]:
    """Bring a timeline in: how many entries were added, and how many were there already.

    Notes and readings come as they were. What happened elsewhere (revisions, tests, sheets, parts) comes as a note that
    says so: it cannot be done again, but it stays known.
    """
    member = editor(user)
    rows = rows_in(text)
    vehicle = vehicle_for(user, vehicle_id)
    notes = list(vehicle.notes.all())
    known = {_key(note) for note in notes}
    there = {(item.at.astimezone(UTC).date(), item.kind, item.text) for item in timeline_of(user, vehicle_id)}
    added: list[Note] = []
    for number, row in enumerate(rows, start=1):
        if (row.date, row.kind, row.what) in there:
            continue
        values = _as_note(row)
        key = tuple([values[name] for name in ("kind", "text", "value", "km", "on")])
        if key in known:
            continue
        known.add(key)
        try:
            check_note(values)
        except InputError as wrong:
            first = wrong.problems[0]
            raise InputError(
                text_of("Entry {0}: {1}", number, first.message), remedy=first.remedy, path="file"
            ) from wrong
        added.append(Note(vehicle=vehicle, created_by_role=member.role, **values))
    add_notes(user, vehicle, added, held=len(notes))
    return len(added), len(rows) - len(added)


def _as_note(row: Row) -> dict[str, Any]:
    is_note = row.kind in NOTE_KINDS
    what = row.what if is_note else " ".join([row.what, f"({row.installation})" if row.installation else ""])
    return {
        "kind": row.kind if is_note else "note",
        "text": what.strip()[:MOST_LETTERS],
        "value": row.value if is_note else None,
        "km": row.km if is_note else None,
        "on": row.date,
        "installation_id": None,
    }


def _key(note: Note) -> tuple[Any, ...]:
    return (note.kind, note.text, note.value, note.km, note.on)
