"""What the API takes and gives beside the installation document itself."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime
from typing import Annotated, Any, Literal, cast, get_args

from ninja import Schema
from pydantic import AfterValidator, ConfigDict, Field, StringConstraints, TypeAdapter, computed_field

from speedchain import Evaluation, Installation, __version__, read_installation
from speedchain.bench import ShownNow
from speedchain.fields import UNIT_SYSTEMS, UnitSystem, Words
from speedchain.fields.evidence import Evidence, StageName
from speedchain.fields.purposes import Purpose, SensedAt, VehicleKind
from speedchain.fields.quantities import Circumference, Speed
from speedchain.fields.texts import Name, Plain
from speedchain.stages.findings import Severity
from speedchain.vehicle import FromAbove
from speedchain.vehicle.sheet import SheetSettings, VehicleSheet
from speedchain.vehicle.tyre_change import NewTyre
from speedchain.views.implied_setting import ImpliedSetting
from speedchain.wheel.chart import ChartRow, with_bead_seat
from speedchain.wheel.entries import MarkingText
from workshop.models import AuditEntry, InstallationRecord, Revision, Task, Vehicle
from workshop.vehicles import MAX_VEHICLES

Units = Literal["metric", "imperial", "miles_mm", "nautical"]

Note = Annotated[str, StringConstraints(strip_whitespace=True, max_length=400), Plain]


class In(Schema):
    """Base of what is taken: unknown fields are refused."""

    model_config = ConfigDict(extra="forbid", allow_inf_nan=False)


class SignIn(In):
    """Name and password of an account."""

    username: Annotated[str, StringConstraints(max_length=150), Plain]
    password: Annotated[str, StringConstraints(max_length=200), Plain]


class VehicleIn(In):
    """A vehicle as typed."""

    name: Name
    kind: VehicleKind
    note: Note = ""


class VehicleChangeIn(VehicleIn):
    """A changed vehicle, and the version the change started from."""

    base_version: int


class SheetIn(In):
    """What the installations are compared at, and the version the change started from."""

    base_version: int
    settings: SheetSettings


class SaveIn(In):
    """A changed installation, and the revision the change started from."""

    base_revision: int
    base_amended: int = 0
    edit_key: Annotated[str, Field(pattern=r"^[A-Za-z0-9-]{0,40}$")] = ""
    document: Installation


class UnitsIn(In):
    """How a person reads speeds and lengths."""

    units: Units


class OverSpeedIn(In):
    """A document, which of its readouts, and up to which true speed."""

    document: Installation
    readout: Annotated[int, Field(ge=0, le=7)] = 0
    max_speed_kmh: Speed | None = None


class TyreIn(In):
    """A document and the tyre that goes on."""

    document: Installation
    tyre: NewTyre


class FitTyreIn(TyreIn):
    """The same, and the revision the change started from."""

    base_revision: int
    base_amended: int = 0


class ChartRowIn(In):
    """A row of the cycle chart as typed."""

    label: Annotated[MarkingText, AfterValidator(with_bead_seat)]
    circumference_mm: Circumference


class ChartIn(In):
    """The workshop's cycle chart."""

    base_version: int
    rows: Annotated[list[ChartRowIn], Field(min_length=1, max_length=200)]


class ChartOut(Schema):
    """The cycle chart, and whether it is the workshop's own."""

    rows: list[ChartRow]
    own: bool
    version: int


class TaskIn(In):
    """Whether a task is done."""

    done: bool


class TaskOut(Schema):
    """A task: something that has to be done again."""

    id: int
    stage: StageName
    text: Words
    created_at: datetime
    done_at: datetime | None
    done_by: str
    put_off: bool

    @classmethod
    def of(cls, item: Task) -> TaskOut:
        """From the record."""
        return cls(
            id=item.pk,
            stage=cast(StageName, item.stage),
            text=item.text,
            created_at=item.created_at,
            done_at=item.done_at,
            done_by=item.done_by_role,
            put_off=item.put_off_id is not None,
        )


class SessionOut(Schema):
    """Who is signed in, and whether the demo workshop can be opened with one press."""

    signed_in: bool
    username: str = ""
    role: str = ""
    workshop: str = ""
    units: Units = "metric"
    may_edit: bool = True
    demo: bool = False
    systems: tuple[UnitSystem, ...] = UNIT_SYSTEMS
    languages: tuple[str, ...] = ()
    """Those that there is a translation for, and English."""
    version: str = __version__


class StageState(Schema):
    """The evidence of one stage, for the small speed line of the vehicles page."""

    stage: StageName
    evidence: Evidence


State = Literal["failed", "blocked", "to_do", "unverified", "verified"]
STATES: tuple[State, ...] = get_args(State)
"""How an installation stands, what is worst first."""
MOST_AT_ONCE = 60


class VehicleQuery(Schema):
    """Which vehicles and installations to list, and which page of them."""

    search: str = Field("", max_length=80)
    kind: VehicleKind | None = None
    purpose: Purpose | None = None
    state: State | None = None
    offset: int = Field(0, ge=0, le=MAX_VEHICLES)
    limit: int = Field(MOST_AT_ONCE, ge=1, le=MOST_AT_ONCE)


class InstallationSummary(Schema):
    """An installation in the vehicles page."""

    id: int
    name: str
    purpose: str
    revision: int
    saved_at: datetime
    true_kmh: float
    shown_kmh: float
    error_pct: float
    condition: Words = ""
    shown_now: ShownNow
    expanded_uncertainty_pct: float
    stages: list[StageState]
    worst: Severity | None
    finding: Words
    next_action: Words
    failed: bool
    verified: bool
    tasks: list[TaskOut]
    open_fault: int | None

    @computed_field
    def state(self) -> State:
        """The worst state that it is in."""
        if self.failed:
            return "failed"
        if self.worst == "blocking":
            return "blocked"
        if self.tasks or self.open_fault is not None:
            return "to_do"
        return "verified" if self.verified else "unverified"

    @classmethod
    def of(cls, revision: Revision, record: InstallationRecord) -> InstallationSummary:
        """From a revision and the outline kept with it; open tasks and faults are those of its record."""
        return cls(
            id=revision.installation_id,
            revision=revision.number,
            saved_at=revision.created_at,
            tasks=[TaskOut.of(item) for item in record.tasks.all()],
            open_fault=next((fault.pk for fault in record.faults.all()), None),
            **(revision.outline or {}),
        )


class UnreadableInstallation(Schema):
    """An installation whose stored document today's limits refuse: what it is called, and why."""

    id: int
    name: str
    revision: int
    reason: Words

    @classmethod
    def of(cls, revision: Revision) -> UnreadableInstallation:
        """From a revision and the outline kept with it."""
        return cls(id=revision.installation_id, revision=revision.number, **(revision.outline or {}))


class VehicleOut(Schema):
    """A vehicle with its installations."""

    id: int
    version: int
    name: str
    kind: VehicleKind
    note: str
    installations: list[InstallationSummary] = []
    unreadable: list[UnreadableInstallation] = []

    @classmethod
    def of(
        cls,
        vehicle: Vehicle,
        installations: Sequence[InstallationSummary] = (),
        unreadable: Sequence[UnreadableInstallation] = (),
    ) -> VehicleOut:
        """From the record."""
        return cls(
            id=vehicle.pk,
            version=vehicle.version,
            name=vehicle.name,
            kind=cast(VehicleKind, vehicle.kind),
            note=vehicle.note,
            installations=list(installations),
            unreadable=list(unreadable),
        )


class VehicleName(Schema):
    """A vehicle to choose."""

    id: int
    name: str
    kind: VehicleKind


class CopyIn(In):
    """Where a copy of an installation goes, and what it is called there."""

    vehicle: int
    name: Name
    sensed_at: SensedAt


class VehiclePage(Schema):
    """Some vehicles of the workshop, those first that need something, and what all that were found come to.

    The counts are of all installations that match, whatever state was asked for.
    """

    vehicles: list[VehicleOut]
    total: int
    installations: int
    failed: int
    blocked: int
    unverified: int
    verified: int
    to_do: int


class VehicleSheetOut(Schema):
    """A vehicle, what its installations are compared at, and the comparison."""

    vehicle: VehicleOut
    version: int
    settings: SheetSettings
    sheet: VehicleSheet
    from_above: FromAbove


class RevisionLine(Schema):
    """One line of the logbook; `amended` says how often its author went on with the same edit."""

    number: int
    amended: int
    saved_at: datetime
    author: str
    summary: Words
    true_kmh: float
    shown_kmh: float
    shown_before_kmh: float | None

    @classmethod
    def of(cls, revision: Revision) -> RevisionLine:
        """From the record."""
        return cls(**_line(revision))


class RevisionOut(RevisionLine):
    """One revision with its document."""

    document: Installation

    @classmethod
    def of(cls, revision: Revision) -> RevisionOut:
        """From the record."""
        return cls(document=read_installation(revision.document), **_line(revision))


def _line(revision: Revision) -> dict[str, Any]:
    return {
        "number": revision.number,
        "amended": revision.amended,
        "saved_at": revision.created_at,
        "author": revision.author_role,
        "summary": revision.summary,
        "true_kmh": revision.true_kmh,
        "shown_kmh": revision.shown_kmh,
        "shown_before_kmh": revision.shown_before_kmh,
    }


class RevisionPage(Schema):
    """Some revisions, the newest first, and whether there are older ones."""

    revisions: list[RevisionLine]
    more: bool


class AuditOut(Schema):
    """One change: who, when, what, from what to what."""

    id: int
    at: datetime
    author: str
    role: str
    action: str
    subject: str
    before: Any
    after: Any

    @classmethod
    def of(cls, entry: AuditEntry) -> AuditOut:
        """From the record."""
        return cls(
            id=entry.pk,
            at=entry.at,
            author=entry.author.get_username() if entry.author else "",
            role=entry.author_role,
            action=entry.action,
            subject=entry.subject,
            before=entry.before,
            after=entry.after,
        )


class AuditPage(Schema):
    """Some entries, the newest first, and whether there are older ones."""

    entries: list[AuditOut]
    more: bool


class InstallationOut(Schema):
    """An installation with its newest revision."""

    id: int
    vehicle_id: int
    vehicle_name: str
    head: RevisionOut

    @classmethod
    def of(cls, record: InstallationRecord, head: Revision) -> InstallationOut:
        """From the records."""
        return cls(
            id=record.pk,
            vehicle_id=record.vehicle_id,
            vehicle_name=record.vehicle.name,
            head=RevisionOut.of(head),
        )


@dataclass(frozen=True, slots=True)
class Evaluated:
    """A document as it was understood (text with units become numbers), and what follows from it."""

    document: Installation
    result: Evaluation
    shown_now: tuple[ShownNow, ...]
    implied_settings: tuple[ImpliedSetting, ...]


EVALUATED: TypeAdapter[Evaluated] = TypeAdapter(Evaluated)


@dataclass(frozen=True, slots=True)
class EvaluatedHead:
    """What follows from the newest revision of an installation, and which one that is."""

    number: int
    amended: int
    evaluated: Evaluated


EVALUATED_HEAD: TypeAdapter[EvaluatedHead] = TypeAdapter(EvaluatedHead)


class ConflictOut(Schema):
    """The answer to a stale save: both documents."""

    type: str
    title: str
    status: int
    detail: str
    base: int
    newest: int
    theirs: RevisionOut | None
    yours: Installation


class Health(Schema):
    """Whether the app and its database answer."""

    status: str
    database: str
