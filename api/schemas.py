"""What the API takes and gives beside the fit document itself."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime
from typing import Annotated, Any, cast

from ninja import Schema
from pydantic import ConfigDict, StringConstraints, TypeAdapter

from speedchain import Evaluation, Fit, read_fit
from speedchain.evidence import Evidence, LinkName
from speedchain.findings import Severity
from speedchain.purposes import VehicleKind
from speedchain.texts import Name, Plain
from workshop.models import FitRecord, Revision, Vehicle

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


class SessionOut(Schema):
    """Who is signed in, and whether the demo workshop can be opened with one press."""

    signed_in: bool
    username: str = ""
    role: str = ""
    workshop: str = ""
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

    @classmethod
    def of(cls, revision: Revision, result: Evaluation) -> FitSummary:
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
