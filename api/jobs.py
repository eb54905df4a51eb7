"""Job sheets: offered, drawn up, done entry by entry, with photos, signed, printed."""

from __future__ import annotations

from contextlib import suppress
from dataclasses import replace
from datetime import datetime
from functools import cache
from typing import Annotated, Any

from django.conf import settings
from django.http import HttpRequest, HttpResponse
from django.utils import timezone
from ninja import Path, Router, Schema
from pydantic import Field

from api.access import SignedIn
from api.described import a_file
from api.files import file_answer
from api.problems import FieldProblem, ProblemOut
from api.schemas import In
from api.work import problem_from
from speedchain import evaluate, read_installation
from speedchain.document import TORQUE_UNITS, example_installation
from speedchain.fields import DocumentError, InputError, Words, said, speeds_in, text_of
from speedchain.fields.texts import Plain
from speedchain.fitted import worded
from speedchain.jobs import (
    TEMPLATES,
    WITH_DRAWINGS,
    Entry,
    Offer,
    OwnJob,
    SheetStep,
    StepKind,
    StepRecord,
    before_signing,
    numbers_of,
    on_paper,
    records_of,
    said_of,
    text_now,
)
from speedchain.sheets.pdf import JobHeading, job_pdf, parts_to_make
from speedchain.sheets.tag import TagPlace, tag_lines, tag_pdf
from speedchain.workpieces import Outline
from workshop import jobs
from workshop.access import chart_of, installation_for
from workshop.installations import head_of, readable
from workshop.models import OwnTemplate, Photo, SheetRecord

router = Router()
of_installation = Router()
shared_router = Router()
templates_router = Router()
REFUSED = {401: ProblemOut, 404: ProblemOut, 422: ProblemOut}
MOST_AT_ONCE = 200
PathKey = Annotated[str, Path(pattern="^[A-Za-z0-9-]{8,64}$")]
PathName = Annotated[str, Path(max_length=40)]


class JobIn(In):
    """Which job."""

    template: Annotated[str, Field(min_length=1, max_length=40)]


class EntriesIn(In):
    """Entries, in the order in which they were made."""

    entries: Annotated[list[Entry], Field(min_length=1, max_length=MOST_AT_ONCE)]


class SignatureIn(In):
    """Who signs, and what is to be remembered."""

    by: Annotated[str, Field(max_length=60), Plain]
    remark: Annotated[str, Field(max_length=400), Plain] = ""


class ShareIn(In):
    """For how many days."""

    days: Annotated[int, Field(ge=1, le=90)] = 30


class SheetLinkOut(Schema):
    """A link that holds."""

    id: int
    expires_at: datetime


class NewSheetLink(SheetLinkOut):
    """A new one: its address is said once."""

    address: str


class JobSummary(Schema):
    """A sheet in a list: how far it is, and whether it is signed."""

    id: int
    template: str
    title: Words
    created_at: datetime
    created_by: str
    steps: int
    settled: int
    stopped: bool
    signed_at: datetime | None
    signed_by: str

    @classmethod
    def of(cls, found: SheetRecord, records: tuple[StepRecord, ...]) -> JobSummary:
        """From the record."""
        plan = jobs.plan_of(found)
        return cls.model_construct(
            id=found.pk,
            template=plan.template,
            title=plan.title,
            created_at=found.created_at,
            created_by=found.created_by_role,
            steps=len(plan.steps),
            settled=sum(item.state in ("done", "skipped") for item in records),
            stopped=any(item.state == "stopped" for item in records),
            signed_at=found.signed_at,
            signed_by=found.signed_by,
        )


class JobsOut(Schema):
    """Jobs that an installation has, and its sheets."""

    offers: tuple[Offer, ...]
    sheets: list[JobSummary]


class PhotoOut(Schema):
    """A photo: its step and size [px]."""

    id: int
    key: str
    step: str
    width: int
    height: int

    @classmethod
    def of(cls, found: Photo) -> PhotoOut:
        """From the record."""
        return cls(id=found.pk, key=found.key, step=found.step, width=found.width, height=found.height)


class NotApplied(Schema):
    """A value that was kept on the sheet and not taken into the installation, and why."""

    step: str
    problem: FieldProblem


class JobSheetOut(Schema):
    """A sheet: its steps, what they have come to, and what stands in the way of signing."""

    id: int
    installation: int
    vehicle: str
    vehicle_id: int
    afloat: bool
    name: str
    revision: int
    title: Words
    needs: Words
    created_at: datetime
    created_by: str
    steps: tuple[SheetStep, ...]
    blocked: list[Words]
    records: tuple[StepRecord, ...]
    keys: list[str]
    photos: list[PhotoOut]
    links: list[SheetLinkOut]
    not_applied: list[NotApplied]
    in_the_way: list[FieldProblem]
    signed_at: datetime | None
    signed_by: str
    remark: str
    torque_units: tuple[str, ...] = TORQUE_UNITS

    @classmethod
    def of(cls, found: SheetRecord) -> JobSheetOut:
        """From the record."""
        standing = jobs.standing_of(found.installation)
        plan = jobs.current_plan(found, standing)
        records = records_of(plan, jobs.entries_of(found))
        values = {item.code: item.number for item in records if item.number is not None}
        entries = list(found.entries.all())
        last = {item.content["step"]: item for item in entries}
        in_the_way = [] if found.signed_at else before_signing(plan, records)
        return cls.model_construct(
            id=found.pk,
            installation=found.installation_id,
            vehicle=found.installation.vehicle.name,
            vehicle_id=found.installation.vehicle_id,
            afloat=found.drawn_from.get("vehicle_kind") == "boat",
            name=found.drawn_from.get("name", ""),
            revision=found.revision,
            title=plan.title,
            needs=plan.needs,
            created_at=found.created_at,
            created_by=found.created_by_role,
            steps=tuple([replace(step, text=text_now(step, plan, values)) for step in plan.steps]),
            blocked=jobs.blocked_of(found, standing),
            records=records,
            keys=[item.key for item in entries],
            links=[
                SheetLinkOut(id=item.pk, expires_at=item.expires_at)
                for item in found.links.filter(expires_at__gt=timezone.now())
            ],
            photos=[PhotoOut.of(item) for item in found.photos.defer("content")],
            not_applied=[
                NotApplied.model_construct(step=step, problem=problem)
                for step, item in last.items()
                if (problem := problem_from(item.problem)) is not None
            ],
            in_the_way=[
                FieldProblem.model_construct(
                    path=item.path,
                    message=said(item.message),
                    remedy=said(item.remedy),
                    limit="",
                    value="",
                    missing=False,
                )
                for item in in_the_way
            ],
            signed_at=found.signed_at,
            signed_by=found.signed_by,
            remark=found.remark,
            torque_units=TORQUE_UNITS,
        )


class OwnTemplateOut(Schema):
    """A job of the workshop's own, and its version."""

    id: int
    version: int
    job: OwnJob

    @classmethod
    def of(cls, found: OwnTemplate) -> OwnTemplateOut:
        """From the record."""
        return cls(id=found.pk, version=found.version, job=OwnJob(**found.job))


class OwnTemplateIn(In):
    """A job as it is to be, and the version that it was made from."""

    job: OwnJob
    base_version: int = 0


class BuiltInStep(Schema):
    """A step of a built-in job: its text, whose names in braces are filled in from the installation, and how it reads
    for one."""

    code: str
    text: Words
    example: Words
    kind: StepKind
    part: Words
    safety: bool
    second: bool


class BuiltInJob(Schema):
    """A job that ships, to be copied and changed."""

    code: str
    title: Words
    needs: Words
    steps: list[BuiltInStep]


@templates_router.get("/built-in", response=list[BuiltInJob], operation_id="listBuiltIn")
def list_built_in(request: SignedIn) -> list[BuiltInJob]:
    """The jobs that ship."""
    words = _example_words()
    return [
        BuiltInJob(
            code=item.code,
            title=item.title,
            needs=item.needs,
            steps=[BuiltInStep(**step._asdict(), example=worded(step.text, words)) for step in item.steps],
        )
        for item in TEMPLATES
    ]


@cache
def _example_words() -> dict[str, Words]:
    example = example_installation()
    return numbers_of(example, evaluate(example))


@templates_router.get("", response={200: list[OwnTemplateOut], **REFUSED}, operation_id="listTemplates")
def list_templates(request: SignedIn) -> list[OwnTemplateOut]:
    """The workshop's own jobs."""
    return [OwnTemplateOut.of(found) for found in jobs.templates_of(request.user)]


@templates_router.post("", response={201: OwnTemplateOut, **REFUSED}, operation_id="addTemplate")
def add_template(request: SignedIn, body: OwnTemplateIn) -> tuple[int, OwnTemplateOut]:
    """A new job."""
    return 201, OwnTemplateOut.of(jobs.save_template(request.user, body.job))


@templates_router.put(
    "/{item_id}", response={200: OwnTemplateOut, 409: ProblemOut, **REFUSED}, operation_id="saveTemplate"
)
def save_template(request: SignedIn, item_id: int, body: OwnTemplateIn) -> OwnTemplateOut:
    """Another version of a job; sheets that were drawn up stay as they are."""
    return OwnTemplateOut.of(jobs.save_template(request.user, body.job, template_id=item_id, base=body.base_version))


@templates_router.delete("/{item_id}", response={204: None, **REFUSED}, operation_id="deleteTemplate")
def delete_template(request: SignedIn, item_id: int) -> tuple[int, None]:
    """Remove a job; its sheets stay."""
    jobs.delete_template(request.user, item_id)
    return 204, None


@of_installation.get("/{installation_id}/jobs", response={200: JobsOut, **REFUSED}, operation_id="showJobs")
def show_jobs(request: SignedIn, installation_id: int) -> JobsOut:
    """What can be done on it, and what is or was."""
    return JobsOut.model_construct(
        offers=jobs.offers_of(request.user, installation_id),
        sheets=[JobSummary.of(*found) for found in jobs.sheets_of(request.user, installation_id)],
    )


@of_installation.post("/{installation_id}/sheets", response={201: JobSheetOut, **REFUSED}, operation_id="startSheet")
def start(request: SignedIn, installation_id: int, body: JobIn) -> tuple[int, JobSheetOut]:
    """Draw a sheet up from the newest revision."""
    return 201, JobSheetOut.of(jobs.start_sheet(request.user, installation_id, body.template))


@router.get("/{sheet_id}", response={200: JobSheetOut, **REFUSED}, operation_id="showSheetRecord")
def show(request: SignedIn, sheet_id: int) -> JobSheetOut:
    """A sheet, and how far it is."""
    return JobSheetOut.of(jobs.sheet_for(request.user, sheet_id))


@router.post("/{sheet_id}/entries", response={200: JobSheetOut, **REFUSED}, operation_id="addEntries")
def add_entries(request: SignedIn, sheet_id: int, body: EntriesIn) -> JobSheetOut:
    """Add what was done; an entry that came before counts once."""
    return JobSheetOut.of(jobs.add_entries(request.user, sheet_id, body.entries))


@router.put("/{sheet_id}/photos/{step}/{key}", response={200: PhotoOut, **REFUSED}, operation_id="addPhoto")
def add_photo(request: SignedIn, sheet_id: int, step: PathName, key: PathKey) -> PhotoOut:
    """A photo at a step, as bytes; it is turned upright, made smaller, and its place is removed."""
    return PhotoOut.of(jobs.add_photo(request.user, sheet_id, step, key=key, data=request.body))


@router.get(
    "/{sheet_id}/photos/{photo_id}",
    response={200: bytes, **REFUSED},
    operation_id="showPhoto",
    openapi_extra=a_file("image/jpeg"),
)
def show_photo(request: SignedIn, sheet_id: int, photo_id: int) -> HttpResponse:
    """A photo, as JPEG."""
    found = jobs.photo_for(request.user, sheet_id, photo_id)
    answer = HttpResponse(bytes(found.content), content_type="image/jpeg")
    answer["Cache-Control"] = "private, max-age=31536000, immutable"
    return answer


@router.post("/{sheet_id}/sign", response={200: JobSheetOut, **REFUSED}, operation_id="signSheet")
def sign(request: SignedIn, sheet_id: int, body: SignatureIn) -> JobSheetOut:
    """Sign it, which closes it."""
    return JobSheetOut.of(jobs.sign_sheet(request.user, sheet_id, body.by, body.remark))


@router.delete("/{sheet_id}", response={204: None, **REFUSED}, operation_id="deleteSheet")
def delete(request: SignedIn, sheet_id: int) -> tuple[int, None]:
    """Remove one that is not signed."""
    jobs.delete_sheet(request.user, sheet_id)
    return 204, None


@router.post("/{sheet_id}/links", response={201: NewSheetLink, **REFUSED}, operation_id="shareSheet")
def share(request: SignedIn, sheet_id: int, body: ShareIn) -> tuple[int, NewSheetLink]:
    """A link for a customer or steward: the sheet as PDF, for some days, to be read by whoever has it."""
    link, secret = jobs.make_link(request.user, sheet_id, body.days)
    base = settings.LAN_ADDRESS or request.build_absolute_uri("/")
    return 201, NewSheetLink(id=link.pk, expires_at=link.expires_at, address=f"{base}api/shared/{secret}.pdf")


@router.delete("/{sheet_id}/links/{link_id}", response={204: None, **REFUSED}, operation_id="revokeSheetLink")
def revoke(request: SignedIn, sheet_id: int, link_id: int) -> tuple[int, None]:
    """Make a link worthless."""
    jobs.revoke_link(request.user, sheet_id, link_id)
    return 204, None


@shared_router.get(
    "/{secret}.pdf",
    auth=None,
    response={200: bytes, 404: ProblemOut},
    operation_id="readShared",
    openapi_extra=a_file("application/pdf"),
)
def read_shared(request: HttpRequest, secret: str) -> HttpResponse:
    """A sheet, for whoever has its link."""
    found, units = jobs.shared(secret)
    with speeds_in(units.speed_unit, units.length_unit):
        return _printed(found)


@router.get(
    "/{sheet_id}/pdf",
    response={200: bytes, **REFUSED},
    operation_id="sheetPdf",
    openapi_extra=a_file("application/pdf"),
)
def pdf(request: SignedIn, sheet_id: int) -> HttpResponse:
    """The sheet on paper, with what was done, or boxes to tick."""
    return _printed(jobs.sheet_for(request.user, sheet_id))


def _printed(found: SheetRecord) -> HttpResponse:
    standing = jobs.standing_of(found.installation)
    plan = jobs.current_plan(found, standing)
    records = records_of(plan, jobs.entries_of(found))
    values = {item.code: item.number for item in records if item.number is not None}
    plan = replace(plan, steps=tuple([replace(step, text=on_paper(step, plan, values)) for step in plan.steps]))
    outcomes: list[Any] = [said_of(step, item) for step, item in zip(plan.steps, records, strict=True)]
    heading = JobHeading(
        vehicle=found.installation.vehicle.name,
        installation=found.drawn_from.get("name", ""),
        revision=found.revision,
        signed_on=found.signed_at.date() if found.signed_at else None,
        signed_by=found.signed_by,
        remark=found.remark,
    )
    drawn: tuple[Outline, ...] = ()
    if plan.built_in in WITH_DRAWINGS:
        with suppress(DocumentError):
            drawn = parts_to_make(read_installation(found.drawn_from))
    blocked = [text_of("Blocked: {0}", text) for text in jobs.blocked_of(found, standing)]
    reds = [text_of("Not as expected at step {0}.", place + 1) for place, item in enumerate(records) if item.red]
    made = job_pdf(plan, outcomes, heading, drawn, first=(*blocked, *reds))
    return file_answer(made, "application/pdf", "job-sheet.pdf")


@of_installation.get(
    "/{installation_id}/tag/{place}",
    response={200: bytes, **REFUSED},
    operation_id="tagPdf",
    openapi_extra=a_file("application/pdf"),
)
def tag(request: SignedIn, installation_id: int, place: TagPlace) -> HttpResponse:
    """A label for sensor, loom or dash; its code opens this installation on a phone of the network."""
    holder = installation_for(request.user, installation_id)
    head = head_of(holder)
    document = readable(head)
    if document is None:
        raise InputError("The newest revision cannot be read.", remedy="Correct it first.", path="installation")
    lines = tag_lines(
        document,
        evaluate(document, chart_of(request.user)),
        place,
        vehicle=holder.vehicle.name,
        revision=head.number,
        on=head.created_at.date(),
    )
    base = settings.LAN_ADDRESS or request.build_absolute_uri("/")
    return file_answer(tag_pdf(lines, f"{base}installation/{installation_id}"), "application/pdf", f"tag-{place}.pdf")
