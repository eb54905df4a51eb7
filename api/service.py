"""Service: what is due, notes and readings, the timeline of a vehicle, and the calendar."""

from __future__ import annotations

from datetime import UTC, datetime, timedelta
from typing import Annotated, Any, Literal, cast

from django.conf import settings
from django.http import HttpRequest, HttpResponse
from django.utils import timezone
from icalendar import Calendar, Event
from ninja import Query, Router, Schema
from pydantic import Field

from api.access import SignedIn
from api.described import a_file
from api.files import file_answer
from api.problems import ProblemOut
from api.schemas import In
from speedchain.fields import Choice, InputError, Words
from speedchain.fields.days import Day
from speedchain.fields.texts import Plain
from speedchain.service import PART_KINDS, Due, DueState, FittedPart, Forecast, WearForecast, expected
from speedchain.sheets.pdf import trailer_pdf
from speedchain.vehicle.trailer import trailer_card
from workshop import parts, service, timeline_files, wear
from workshop.access import chart_of, vehicle_for
from workshop.installations import readable
from workshop.models import Note, PartRecord
from workshop.outline import heads_of
from workshop.service import DueShown
from workshop.timeline import ItemKind, TimelineItem, timeline_of
from workshop.timeline_files import TimelineFormat

of_vehicle = Router()
router = Router()
calendar_router = Router()
REFUSED = {401: ProblemOut, 404: ProblemOut, 422: ProblemOut}
MOST_SHOWN = 200
NoteKind = Literal["note", "odometer", "hours", "tread"]
TIMELINE_MEDIA = {"csv": "text/csv", "json": "application/json"}
LARGEST_TIMELINE = settings.LARGEST_TIMELINE_LETTERS


class NoteIn(In):
    """Something to be written down; of a reading its number: km, hours, or mm of tread at an odometer [km]."""

    kind: NoteKind
    text: Annotated[str, Field(max_length=400), Plain] = ""
    value: Annotated[float, Field(ge=0, le=10_000_000)] | None = None
    km: Annotated[float, Field(ge=0, le=10_000_000)] | None = None
    on: Day
    installation_id: int | None = None


class TimelineIn(In):
    """A timeline file, CSV or JSON, as text."""

    file: Annotated[str, Field(max_length=LARGEST_TIMELINE)]


class PartIn(In):
    """A part, and the installation it belongs to."""

    part: FittedPart
    installation_id: int | None = None


class ChangedPartIn(PartIn):
    """Another version of a part, and the one that it started from."""

    base_version: int


class PartOut(Schema):
    """A part that is kept."""

    id: int
    version: int
    part: FittedPart
    installation: int | None

    @classmethod
    def of(cls, found: PartRecord) -> PartOut:
        """From the record."""
        return cls(
            id=found.pk, version=found.version, part=FittedPart(**found.content), installation=found.installation_id
        )


class InstallationName(Schema):
    """An installation to choose."""

    id: int
    name: str


class PartsOut(Schema):
    """All parts of a vehicle, the installations they can belong to, and the kinds there are."""

    items: list[PartOut]
    installations: list[InstallationName]
    kinds: tuple[Choice, ...]


class NoteOut(NoteIn):
    """A note that is kept."""

    id: int

    @classmethod
    def of(cls, found: Note) -> NoteOut:
        """From the record."""
        return cls(
            id=found.pk, kind=cast(NoteKind, found.kind), text=found.text, value=found.value, km=found.km, on=found.on,
            installation_id=found.installation_id,
        )  # fmt: skip


class Brought(Schema):
    """How many entries were brought in, and how many were there already."""

    added: int
    known: int


class ItemOut(Schema):
    """Something that happened; `name` is the installation's, `wheel` where it senses."""

    at: datetime
    kind: ItemKind
    text: Words
    by: str
    installation: int | None
    name: str
    wheel: Words
    link: str
    note: int | None


class TimelineOut(Schema):
    """The latest first; whether there are more."""

    items: list[ItemOut]
    more: bool


class DueIn(In):
    """What is to be done, when, and by whom (a role); in place of an open task, where one is put off."""

    text: Annotated[str, Field(max_length=240), Plain]
    due: Due
    assigned_to: Annotated[str, Field(max_length=60), Plain] = ""
    installation_id: int | None = None
    task_id: int | None = None
    reason: Annotated[str, Field(max_length=240), Plain] = ""


class DueChangeIn(In):
    """Done, or put off to a date with a reason."""

    done: bool = False
    postponed_to: Day | None = None
    reason: Annotated[str, Field(max_length=240), Plain] = ""


class DueOut(Schema):
    """A due item: its state, and when its distance or hours will be reached."""

    id: int
    text: Words
    due: Due
    assigned_to: str
    reason: str
    installation: int | None
    state: DueState
    forecast: Forecast | None
    expected: Forecast | None

    @classmethod
    def of(cls, shown: DueShown) -> DueOut:
        """From what is shown."""
        item = shown.item
        return cls.model_construct(
            id=item.pk, text=item.text, due=shown.due, assigned_to=item.assigned_to, reason=item.reason,
            installation=item.installation_id, state=shown.state, forecast=shown.forecast,
            expected=expected(shown.due, shown.forecast),
        )  # fmt: skip


class ServiceOut(Schema):
    """What is due on a vehicle, and when wear moves what its display shows."""

    items: list[DueOut]
    wear: WearForecast | None
    wear_limit_pct: float
    wear_limit_version: int
    odometer_km: float | None


class WearLimitIn(In):
    """How much of the shown speed wear may move before it is due."""

    limit_pct: Annotated[float, Field(ge=0.1, le=5)]
    base_version: int


class FeedOut(Schema):
    """Whether there is a calendar; its address is said once, when it is made."""

    exists: bool
    address: str = ""


@of_vehicle.get("/{vehicle_id}/timeline", response={200: TimelineOut, **REFUSED}, operation_id="showTimeline")
def show_timeline(
    request: SignedIn,
    vehicle_id: int,
    search: Annotated[str, Query(max_length=100)] = "",
    kind: ItemKind | None = None,
    offset: Annotated[int, Query(ge=0, le=100_000)] = 0,
) -> TimelineOut:
    """All that happened to a vehicle, the latest first."""
    found = timeline_of(request.user, vehicle_id, search, kind)
    shown = found[offset : offset + MOST_SHOWN]
    return TimelineOut(items=[_item(item) for item in shown], more=len(found) > offset + MOST_SHOWN)


def _item(item: TimelineItem) -> ItemOut:
    return ItemOut(**{name: getattr(item, name) for name in ItemOut.model_fields})


@of_vehicle.get(
    "/{vehicle_id}/timeline/{ending}",
    response={200: bytes, **REFUSED},
    operation_id="timelineFile",
    openapi_extra=a_file("text/csv", "application/json"),
)
def timeline_file(request: SignedIn, vehicle_id: int, ending: TimelineFormat) -> HttpResponse:
    """The timeline as CSV or JSON; both can be brought in again."""
    content = timeline_files.written(request.user, vehicle_id, ending)
    return file_answer(content, TIMELINE_MEDIA[ending], f"timeline.{ending}")


@of_vehicle.post("/{vehicle_id}/notes", response={201: NoteOut, **REFUSED}, operation_id="addNote")
def add_note(request: SignedIn, vehicle_id: int, body: NoteIn) -> tuple[int, NoteOut]:
    """Write something down."""
    return 201, NoteOut.of(service.add_note(request.user, vehicle_id, **body.model_dump()))


@of_vehicle.post("/{vehicle_id}/timeline", response={200: Brought, **REFUSED}, operation_id="bringTimelineIn")
def bring_in(request: SignedIn, vehicle_id: int, body: TimelineIn) -> Brought:
    """Bring a timeline in; what is there already is left. What cannot be done again comes as a note."""
    added, known = timeline_files.bring_in(request.user, vehicle_id, body.file)
    return Brought(added=added, known=known)


@of_vehicle.get("/{vehicle_id}/parts", response={200: PartsOut, **REFUSED}, operation_id="showParts")
def show_parts(request: SignedIn, vehicle_id: int) -> PartsOut:
    """The parts of a vehicle, those that are fitted first."""
    heads = heads_of([vehicle_for(request.user, vehicle_id)]).order_by("installation_id")
    return PartsOut(
        items=[PartOut.of(found) for found in parts.parts_of(request.user, vehicle_id)],
        installations=[InstallationName(id=head.installation_id, name=head.document.get("name", "")) for head in heads],
        kinds=PART_KINDS,
    )


@of_vehicle.post("/{vehicle_id}/parts", response={201: PartOut, **REFUSED}, operation_id="addPart")
def add_part(request: SignedIn, vehicle_id: int, body: PartIn) -> tuple[int, PartOut]:
    """A new part; what is due after it comes on the list."""
    made = parts.add_part(request.user, vehicle_id, body.part, installation_id=body.installation_id)
    return 201, PartOut.of(made)


@of_vehicle.put("/{vehicle_id}/parts/{part_id}", response={200: PartOut, **REFUSED}, operation_id="changePart")
def change_part(request: SignedIn, vehicle_id: int, part_id: int, body: ChangedPartIn) -> PartOut:
    """Another version of a part, for example the day on which it was removed."""
    found = parts.change_part(
        request.user,
        vehicle_id,
        part_id,
        body.part,
        base=body.base_version,
        installation_id=body.installation_id,
    )
    return PartOut.of(found)


@router.delete("/parts/{part_id}", response={204: None, **REFUSED}, operation_id="deletePart")
def delete_part(request: SignedIn, part_id: int) -> tuple[int, None]:
    """Remove a part that was entered by mistake."""
    parts.delete_part(request.user, part_id)
    return 204, None


@of_vehicle.get(
    "/{vehicle_id}/trailer-card",
    response={200: bytes, **REFUSED},
    operation_id="trailerCard",
    openapi_extra=a_file("application/pdf"),
)
def trailer(request: SignedIn, vehicle_id: int) -> HttpResponse:
    """All wheels with all readers: settings now and worn, on paper."""
    vehicle = vehicle_for(request.user, vehicle_id)
    heads = heads_of([vehicle]).order_by("installation_id")
    known = [found for head in heads if (found := readable(head)) is not None]
    rows = trailer_card(known, chart_of(request.user))
    content = trailer_pdf(vehicle.name, rows, timezone.now().date())
    return file_answer(content, "application/pdf", "trailer-card.pdf")


@router.delete("/notes/{item_id}", response={204: None, **REFUSED}, operation_id="deleteNote")
def delete_note(request: SignedIn, item_id: int) -> tuple[int, None]:
    """Remove a note."""
    service.delete_note(request.user, item_id)
    return 204, None


@of_vehicle.get("/{vehicle_id}/due", response={200: ServiceOut, **REFUSED}, operation_id="showDue")
def show_due(request: SignedIn, vehicle_id: int) -> ServiceOut:
    """What is due, the most pressing first."""
    vehicle = vehicle_for(request.user, vehicle_id)
    return ServiceOut.model_construct(
        items=[DueOut.of(shown) for shown in service.due_of(request.user, vehicle_id)],
        wear=wear.wear_of(request.user, vehicle_id),
        wear_limit_pct=vehicle.wear_limit_pct,
        wear_limit_version=vehicle.wear_limit_version,
        odometer_km=next((reading.value for reading in reversed(service.readings_of(vehicle, "odometer"))), None),
    )


@of_vehicle.post("/{vehicle_id}/due", response={201: ServiceOut, **REFUSED}, operation_id="addDue")
def add_due(request: SignedIn, vehicle_id: int, body: DueIn) -> tuple[int, ServiceOut]:
    """Something to be done by a date, a distance or hours."""
    service.add_due(
        request.user,
        vehicle_id,
        body.text,
        due=body.due,
        assigned_to=body.assigned_to,
        installation_id=body.installation_id,
        task_id=body.task_id,
        reason=body.reason,
    )
    return 201, show_due(request, vehicle_id)


@of_vehicle.put("/{vehicle_id}/wear-limit", response={200: ServiceOut, **REFUSED}, operation_id="setWearLimit")
def set_wear_limit(request: SignedIn, vehicle_id: int, body: WearLimitIn) -> ServiceOut:
    """How much wear may move the shown speed; what is due by it is reckoned again."""
    wear.set_wear_limit(request.user, vehicle_id, body.base_version, body.limit_pct)
    return show_due(request, vehicle_id)


@router.put("/due/{item_id}", response={200: ServiceOut, **REFUSED}, operation_id="changeDue")
def change_due(request: SignedIn, item_id: int, body: DueChangeIn) -> ServiceOut:
    """Done, or put off."""
    if body.done:
        found = service.finish_due(request.user, item_id)
    elif body.postponed_to is None:
        raise InputError(
            "Neither done nor a new date.",
            remedy="Mark it as done, or enter a date.",
            path="postponed_to",
            missing=True,
        )
    else:
        found = service.postpone_due(request.user, item_id, body.postponed_to, body.reason)
    return show_due(request, found.vehicle_id)


@router.delete("/due/{item_id}", response={204: None, **REFUSED}, operation_id="deleteDue")
def delete_due(request: SignedIn, item_id: int) -> tuple[int, None]:
    """Remove what need not be done."""
    service.delete_due(request.user, item_id)
    return 204, None


@calendar_router.get("", response={200: FeedOut, **REFUSED}, operation_id="showFeed")
def show_feed(request: SignedIn) -> FeedOut:
    """Whether this account has a calendar."""
    return FeedOut(exists=service.has_feed(request.user))


@calendar_router.post("", response={201: FeedOut, **REFUSED}, operation_id="makeFeed")
def make_feed(request: SignedIn) -> tuple[int, FeedOut]:
    """A calendar with a private address; an earlier address is worthless from now on."""
    secret = service.make_feed(request.user, request.session.session_key or "")
    base = settings.LAN_ADDRESS or request.build_absolute_uri("/")
    return 201, FeedOut(exists=True, address=f"{base}api/calendar/{secret}.ics")


@calendar_router.delete("", response={204: None, **REFUSED}, operation_id="dropFeed")
def drop_feed(request: SignedIn) -> tuple[int, None]:
    """Make its address worthless."""
    service.drop_feed(request.user)
    return 204, None


@calendar_router.get(
    "/{secret}.ics",
    auth=None,
    response={200: bytes, 404: ProblemOut},
    operation_id="readFeed",
    openapi_extra=a_file("text/calendar"),
)
def read_feed(request: HttpRequest, secret: str) -> HttpResponse:
    """What is due, as iCalendar (RFC 5545), for whoever knows the address."""
    return file_answer(as_calendar(service.feed_items(secret)), "text/calendar", "wheelometron.ics")


def as_calendar(found: list[DueShown]) -> bytes:
    """Whole-day events: on the date, or on the day on which distance or hours will be reached; every so many months
    again."""
    made = Calendar()
    made.add("prodid", "-//Wheelometron//due//EN")
    made.add("version", "2.0")
    for shown in found:
        on = shown.due.on or (shown.forecast.on if shown.forecast else None)
        if on is None:
            continue
        event: Any = Event()
        event.add("uid", f"due-{shown.item.pk}@wheelometron")
        event.add("dtstamp", shown.item.created_at.astimezone(UTC))
        event.add("dtstart", on)
        event.add("dtend", on + timedelta(days=1))
        event.add("summary", f"{shown.item.vehicle.name}: {shown.item.text}")
        if shown.item.assigned_to:
            event.add("description", f"For: {shown.item.assigned_to}")
        if shown.due.every_months:
            event.add("rrule", {"freq": "monthly", "interval": shown.due.every_months})
        made.add_component(event)
    return bytes(made.to_ical())
