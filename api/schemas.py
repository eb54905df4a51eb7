"""What the API takes and gives beside the fit document itself."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime
from typing import Annotated, Any, Literal, cast

from ninja import Schema
from pydantic import ConfigDict, Field, StringConstraints, TypeAdapter

from speedchain import Evaluation, Fit, read_fit
from speedchain.evidence import Evidence, LinkName
from speedchain.findings import Severity
from speedchain.purposes import VehicleKind
from speedchain.texts import Name, Plain
from speedchain.tyre_change import NewTyre
from speedchain.units import Circumference, Speed
from speedchain.vehicle import SheetSettings, VehicleSheet
from speedchain.wheel.chart import ChartRow
from speedchain.wheel.entries import MarkingText
from workshop.models import DueItem, FitRecord, Revision, Vehicle

Units = Literal["metric", "imperial", "nautical"]

Note = Annotated[str, StringConstraints(strip_whitespace=True, max_length=400), Plain]


class In(Schema):
    """Base of what is taken: unknown fields are refused."""

    model_config = ConfigDict(extra="forbid")


class SignIn(In):
    """Name and password of an account."""

    username: Annotated[str, StringConstraints(max_length=150), Plain]
    password: Annotated[str, StringConstraints(max_length=200), Plain]


class VehicleIn(In):
    """A vehicle as typed."""

    name: Name
    kind: VehicleKind
    note: Note = ""


class SaveIn(In):
    """A changed fit, and the revision the change started from."""

    base_revision: int
    document: Fit


class UnitsIn(In):
    """How a person reads speeds and lengths."""

    units: Units


class OverSpeedIn(In):
    """A document, which of its readouts, and up to which true speed."""

    document: Fit
    readout: Annotated[int, Field(ge=0, le=7)] = 0
    top_kmh: Speed | None = None


class TyreIn(In):
    """A document and the tyre that goes on."""

    document: Fit
    tyre: NewTyre


class TyreFitIn(TyreIn):
    """The same, and the revision the change started from."""

    base_revision: int


class ChartRowIn(In):
    """A row of the cycle chart as typed."""

    label: MarkingText
    circumference_mm: Circumference


class ChartIn(In):
    """The workshop's cycle chart."""

    rows: Annotated[list[ChartRowIn], Field(min_length=1, max_length=200)]


class ChartOut(Schema):
    """The cycle chart, and whether it is the workshop's own."""

    rows: list[ChartRow]
    own: bool


class DueIn(In):
    """Whether a due item is done."""

    done: bool


class DueOut(Schema):
    """Something that has to be done again."""

    id: int
    link: LinkName
    text: str
    created_at: datetime
    done_at: datetime | None
    done_by: str

    @classmethod
    def of(cls, item: DueItem) -> DueOut:
        """From the record."""
        return cls(
            id=item.pk,
            link=cast(LinkName, item.link),
            text=item.text,
            created_at=item.created_at,
            done_at=item.done_at,
            done_by=item.done_by_role,
        )


class SessionOut(Schema):
    """Who is signed in, and whether the demo workshop can be opened with one press."""

    signed_in: bool
    username: str = ""
    role: str = ""
    workshop: str = ""
    units: Units = "metric"
    demo: bool = False


class LinkState(Schema):
    """One link's evidence, for the small speed line in the yard."""

    link: LinkName
    evidence: Evidence


class FitSummary(Schema):
    """A fit in the yard."""

    id: int
    name: str
    purpose: str
    revision: int
    saved_at: datetime
    true_kmh: float
    shown_kmh: float
    error_pct: float
    expanded_uncertainty_pct: float
    links: list[LinkState]
    worst: Severity | None
    finding: str
    next_action: str
    due: list[DueOut]

    @classmethod
    def of(cls, revision: Revision, result: Evaluation, due: list[DueItem]) -> FitSummary:
        """From a revision and its evaluation."""
        first = result.findings[0] if result.findings else None
        return cls(
            id=revision.fit_id,
            name=revision.document["name"],
            purpose=revision.document["purpose"],
            revision=revision.number,
            saved_at=revision.created_at,
            true_kmh=result.shown.true_kmh,
            shown_kmh=result.shown.shown_kmh,
            error_pct=result.shown.error_pct,
            expanded_uncertainty_pct=result.shown.expanded_uncertainty_pct,
            links=[LinkState(link=link.link, evidence=link.evidence) for link in result.links],
            worst=first.severity if first else None,
            finding=first.message if first else "",
            next_action=result.next_action.action,
            due=[DueOut.of(item) for item in due],
        )


class VehicleOut(Schema):
    """A vehicle with its fits."""

    id: int
    name: str
    kind: VehicleKind
    note: str
    fits: list[FitSummary] = []

    @classmethod
    def of(cls, vehicle: Vehicle, fits: list[FitSummary]) -> VehicleOut:
        """From the record."""
        return cls(id=vehicle.pk, name=vehicle.name, kind=cast(VehicleKind, vehicle.kind), note=vehicle.note, fits=fits)


class VehicleSheetOut(Schema):
    """A vehicle, what its fits are compared at, and the comparison."""

    vehicle: VehicleOut
    settings: SheetSettings
    sheet: VehicleSheet


class RevisionLine(Schema):
    """One line of the logbook."""

    number: int
    saved_at: datetime
    author: str
    summary: str
    true_kmh: float
    shown_kmh: float
    shown_before_kmh: float | None

    @classmethod
    def of(cls, revision: Revision) -> RevisionLine:
        """From the record."""
        return cls(**_line(revision))


class RevisionOut(RevisionLine):
    """One revision with its document."""

    document: Fit

    @classmethod
    def of(cls, revision: Revision) -> RevisionOut:
        """From the record."""
        return cls(document=read_fit(revision.document), **_line(revision))


def _line(revision: Revision) -> dict[str, Any]:
    return {
        "number": revision.number,
        "saved_at": revision.created_at,
        "author": revision.author_role,
        "summary": revision.summary,
        "true_kmh": revision.true_kmh,
        "shown_kmh": revision.shown_kmh,
        "shown_before_kmh": revision.shown_before_kmh,
    }


class FitOut(Schema):
    """A fit with its newest revision."""

    id: int
    vehicle_id: int
    vehicle_name: str
    head: RevisionOut

    @classmethod
    def of(cls, record: FitRecord, head: Revision) -> FitOut:
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

    document: Fit
    result: Evaluation


EVALUATED: TypeAdapter[Evaluated] = TypeAdapter(Evaluated)


class ConflictOut(Schema):
    """The answer to a stale save: both documents."""

    type: str
    title: str
    status: int
    detail: str
    base: int
    theirs: RevisionOut
    yours: Fit


class Health(Schema):
    """Whether the app and its database answer."""

    status: str
    database: str
