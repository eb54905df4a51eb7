"""Use cases of job sheets: drawn up, done entry by entry from several devices, signed."""

from __future__ import annotations

from collections.abc import Sequence
from contextlib import suppress
from datetime import timedelta
from typing import Any, NamedTuple

from django.contrib.auth.models import User
from django.utils import timezone
from pydantic import TypeAdapter

from speedchain import Evaluation, Installation, evaluate, read_installation
from speedchain.bench import record_test
from speedchain.diagnosis import failed_tests
from speedchain.fields import (
    UNIT_SYSTEMS,
    DocumentError,
    InputError,
    Problem,
    SpeedchainError,
    TestRecord,
    UnitSystem,
    as_data,
    kept,
    system_now,
    text_of,
)
from speedchain.jobs import (
    BY_CODE,
    OWN,
    Entry,
    JobSheet,
    Offer,
    OwnJob,
    SheetStep,
    StepRecord,
    before_signing,
    belongs,
    check_entry,
    check_job,
    draw_up,
    draw_up_own,
    offered,
    outcomes_of,
    own_template,
    records_of,
    refreshed,
    with_measured,
    with_torques_of,
)
from speedchain.service import AFTER_JOB, BATTERY_STEP, PartKind
from workshop.access import IN_USE, NotFoundError, chart_from, chart_of, editor, installation_for, member_of, one_of
from workshop.audit import record
from workshop.changes import changed_paths
from workshop.installations import Base, head_of, locked_installation, readable, saved
from workshop.links import hashed, new_secret
from workshop.models import InstallationRecord, Member, OwnTemplate, Photo, SheetEntry, SheetLink, SheetRecord
from workshop.outline import heads_of
from workshop.parts import add_follow_ups, void_by_part
from workshop.photos import Kept, kept_photo
from workshop.use_cases import use_case
from workshop.vehicles import FullError, refuse_stale

SHEET: TypeAdapter[JobSheet] = TypeAdapter(JobSheet)
MOST_SHEETS = 500
MOST_ENTRIES = 2000
MOST_PHOTOS = 60
MOST_LINKS = 20
MOST_TEMPLATES = 200


def offers_of(user: User, installation_id: int) -> tuple[Offer, ...]:
    """The jobs that can be done on an installation; none where its newest revision cannot be read."""
    document = readable(head_of(installation_for(user, installation_id)))
    if document is None:
        return ()
    own = [own_template(item.pk, OwnJob(**item.job)) for item in templates_of(user)]
    return offered(document, evaluate(document, chart_of(user)), own)


def templates_of(user: User) -> list[OwnTemplate]:
    """The workshop's own jobs."""
    return list(OwnTemplate.objects.filter(workshop=member_of(user).workshop))


@use_case("save_template")
def save_template(user: User, job: OwnJob, *, template_id: int | None = None, base: int = 0) -> OwnTemplate:
    """A new job of the workshop's own, or another version of one. Raises `StaleError` when somebody else saved it
    since."""
    member = editor(user)
    check_job(job)
    content = job.model_dump(mode="json")
    record(member.workshop, member, "save_template", subject=job.title)
    if template_id is None:
        if member.workshop.own_templates.count() >= MOST_TEMPLATES:
            raise FullError(MOST_TEMPLATES, "jobs of a workshop's own")
        return OwnTemplate.objects.create(workshop=member.workshop, job=content)
    found = _template(member, template_id)
    refuse_stale(base, found.version)
    found.job, found.version = content, found.version + 1
    found.save()
    return found


@use_case("delete_template")
def delete_template(user: User, template_id: int) -> None:
    """Remove a job of the workshop's own; its sheets stay."""
    member = editor(user)
    found = _template(member, template_id)
    record(member.workshop, member, "delete_template", subject=found.job["title"])
    found.delete()


def _template(member: Member, template_id: int) -> OwnTemplate:
    return one_of(OwnTemplate.objects.select_for_update().filter(workshop=member.workshop), template_id)


def sheets_of(user: User, installation_id: int) -> list[tuple[SheetRecord, tuple[StepRecord, ...]]]:
    """The sheets of an installation, the newest first, and what the steps of each have come to."""
    holder = installation_for(user, installation_id)
    standing = standing_of(holder)
    rows = SheetRecord.objects.filter(installation=holder).prefetch_related("entries")
    return [(found, records_of(current_plan(found, standing), entries_of(found))) for found in rows]


def sheet_for(user: User, sheet_id: int) -> SheetRecord:
    """One sheet of the account's workshop, or `NotFoundError`."""
    mine = SheetRecord.objects.filter(installation__vehicle__workshop__members__user=user, **IN_USE)
    return one_of(mine.select_related("installation__vehicle__workshop"), sheet_id)


def plan_of(found: SheetRecord) -> JobSheet:
    """The steps of a sheet as they were drawn up, or as they stood when it was signed."""
    return SHEET.validate_python(found.sheet)


def entries_of(found: SheetRecord) -> list[Entry]:
    """Its entries, in the order in which they came."""
    return [Entry(**item.content) for item in found.entries.all()]


class Standing(NamedTuple):
    """An installation as it is now, with what other installations of the vehicle lend it, and what follows."""

    document: Installation
    evaluation: Evaluation


def standing_of(holder: InstallationRecord) -> Standing | None:
    """How it stands; None where its newest revision cannot be read or computed."""
    document = readable(head_of(holder))
    if document is None:
        return None
    chart = chart_from(holder.vehicle.workshop.cycle_chart)
    with suppress(SpeedchainError):
        return Standing(_lent(holder, document), evaluate(document, chart))
    return None


def records_for(found: SheetRecord) -> tuple[StepRecord, ...]:
    """What its steps have come to."""
    return records_of(current_plan(found, standing_of(found.installation)), entries_of(found))


@use_case("start_sheet")
def start_sheet(user: User, installation_id: int, template: str) -> SheetRecord:
    """Draw up a sheet from the newest revision. Raises `InputError` for a job that this installation does not have."""
    member = editor(user)
    locked = locked_installation(member, installation_id)
    if locked.sheets.count() >= MOST_SHEETS:
        raise FullError(MOST_SHEETS, "sheets of an installation")
    head = head_of(locked)
    document = _lent(locked, read_installation(head.document))
    evaluation = evaluate(document, chart_of(user))
    number = template.removeprefix(OWN)
    if template.startswith(OWN) and number.isdigit():
        own = _template(member, int(number))
        sheet = draw_up_own(own.pk, OwnJob(**own.job), document, evaluation)
    else:
        sheet = draw_up(document, evaluation, template)
    made = SheetRecord.objects.create(
        installation=locked,
        sheet=kept(SHEET, sheet),
        revision=head.number,
        drawn_from=head.document,
        created_by_role=member.role,
    )
    record(member.workshop, member, "start_sheet", subject=f"{locked.vehicle.name}: {document.name}: {sheet.title}")
    return made


@use_case(
    "save_installation",
    no_entry="each entry keeps who made it, and when",
    no_version="entries are added, each once by its key",
)
def add_entries(user: User, sheet_id: int, entries: Sequence[Entry]) -> SheetRecord:
    """Take entries in, in their order; one that came before counts once.

    A measured value goes into the document as the next revision, unless somebody else has changed the same field since
    the sheet was drawn up: then the entry is kept, with a problem that says what stands there now.

    Raises
    ------
    `InputError` for an entry that the sheet cannot take, or for any once it is signed.
    """
    member = editor(user)
    found = _locked(member, sheet_id)
    plan = plan_of(found)
    known = set(found.entries.values_list("key", flat=True))
    fresh = [entry for entry in entries if entry.key not in known]
    if fresh and found.signed_at is not None:
        raise InputError(
            "The sheet is signed: nothing can be added.",
            remedy="Start a new sheet for what was done since.",
            path="step",
        )
    if len(known) + len(fresh) > MOST_ENTRIES:
        raise FullError(MOST_ENTRIES, "entries of a sheet")
    for entry in fresh:
        step = check_entry(plan, entry)
        made = SheetEntry.objects.create(sheet=found, key=entry.key, content=entry.model_dump(mode="json"))
        if belongs(step, entry, read_installation(found.drawn_from)):
            _apply(member, found, step=step, entry=entry, made=made)
    return found


def current_plan(found: SheetRecord, standing: Standing | None) -> JobSheet:
    """The steps as they follow from the installation now, while the sheet is open; signed, as they stood then."""
    plan = plan_of(found)
    if found.signed_at is not None or standing is None:
        return plan
    try:
        now = _drawn(found, *standing)
    except SpeedchainError:
        return plan
    settled = frozenset(item.code for item in records_of(plan, entries_of(found)) if item.state in ("done", "skipped"))
    return plan if now is None else refreshed(plan, now, settled)


def blocked_of(found: SheetRecord, standing: Standing | None) -> list[str]:
    """What is blocked on the installation now, in words; of a signed sheet nothing."""
    if standing is None or found.signed_at is not None:
        return []
    return [item.message for item in standing.evaluation.findings if item.severity == "blocking"]


def _lent(holder: InstallationRecord, document: Installation) -> Installation:
    """With what was asked of the same axle at another installation of the vehicle."""
    others = [readable(head) for head in heads_of([holder.vehicle]).exclude(installation=holder)]
    return with_torques_of(document, [item for item in others if item is not None])


def _drawn(found: SheetRecord, document: Installation, evaluation: Evaluation) -> JobSheet | None:
    """The same job drawn up now; None for one that has gone, or of before jobs were kept with their sheets."""
    plan = plan_of(found)
    if plan.own is not None:
        return draw_up_own(0, plan.own, document, evaluation)
    return draw_up(document, evaluation, plan.template) if plan.template in BY_CODE else None


def _apply(member: Member, found: SheetRecord, *, step: SheetStep, entry: Entry, made: SheetEntry) -> None:
    locked = locked_installation(member, found.installation_id)
    head = head_of(locked)
    drawn, now = read_installation(found.drawn_from), readable(head)
    chart = chart_from(member.workshop.cycle_chart)
    if now is None:
        made.problem = _said(
            Problem(step.code, "The newest revision cannot be read.", "Correct it, then measure again.")
        )
        made.save(update_fields=["problem"])
        return
    on = timezone.now().date()
    try:
        outside = _is_outside(found, step)
        wanted = with_measured(now, evaluate(now, chart), step, entry, on=on, outside=outside)
        alone = with_measured(drawn, evaluate(drawn, chart), step, entry, on=on, outside=outside)
    except (DocumentError, InputError) as error:
        first = error.problems[0]
        raise InputError(
            first.message, remedy=first.remedy, limit=first.limit, path="value", value=entry.value
        ) from error
    except SpeedchainError as error:
        made.problem = _said(error.problems[0])
        made.save(update_fields=["problem"])
        return
    mine = changed_paths(drawn, alone)
    theirs = [path for path in changed_paths(drawn, now) if path in mine]
    if theirs and changed_paths(now, wanted):
        made.problem = _said(
            Problem(
                step.code,
                text_of("{0} was changed elsewhere since this sheet was drawn up.", theirs[0]),
                "The value is kept here. Enter it in the installation if it is the right one.",
            )
        )
        made.save(update_fields=["problem"])
        return
    revision = saved(locked, base=Base(head.number, head.amended), installation=wanted, member=member)
    made.applied = revision.number
    made.save(update_fields=["applied"])
    found.drawn_from = alone.model_dump(mode="json")
    found.save(update_fields=["drawn_from"])


def _is_outside(found: SheetRecord, step: SheetStep) -> bool:
    """Whether what this step says yes to was written down as something else than expected."""
    if not step.agrees_with:
        return False
    records = records_for(found)
    return any(item.code == step.agrees_with and item.red != "" for item in records)


def _said(problem: Problem) -> dict[str, Any]:
    return {name: as_data(getattr(problem, name)) for name in ("path", "message", "remedy", "limit")}


def add_photo(user: User, sheet_id: int, step: str, *, key: str, data: bytes) -> Photo:
    """A photo at a step; the same key again gives the first."""
    editor(user)
    if (known := sheet_for(user, sheet_id).photos.filter(key=key).first()) is not None:
        return known
    return _keep_photo(
        user, sheet_id, step, key=key, made=kept_photo(data)
    )  # before anything is locked: it takes a while


@use_case(no_entry="a photo is an entry of its sheet")
def _keep_photo(user: User, sheet_id: int, step: str, *, key: str, made: Kept) -> Photo:
    found = _locked(editor(user), sheet_id)
    if (known := found.photos.filter(key=key).first()) is not None:
        return known
    if found.signed_at is not None:
        raise InputError("The sheet is signed.", remedy="Start a new sheet for what was done since.", path="step")
    if step not in [item.code for item in plan_of(found).steps]:
        raise InputError(text_of("The sheet has no step {0}.", step), remedy="Open the sheet again.", path="step")
    if found.photos.count() >= MOST_PHOTOS:
        raise FullError(MOST_PHOTOS, "photos of a sheet")
    return Photo.objects.create(sheet=found, key=key, step=step, **made._asdict())


def photo_for(user: User, sheet_id: int, photo_id: int) -> Photo:
    """A photo of a sheet of the account's workshop."""
    return one_of(sheet_for(user, sheet_id).photos.all(), photo_id)


@use_case("sign_sheet", "save_installation", no_version="it is signed once")
def sign_sheet(user: User, sheet_id: int, by: str, remark: str) -> SheetRecord:
    """Sign a sheet, which closes it. Raises `InputError` with the first thing that stands in the way."""
    member = editor(user)
    found = _locked(member, sheet_id)
    if found.signed_at is not None:
        return found
    if not by.strip():
        raise InputError("Role of the signer is missing.", remedy="Enter a role.", path="by")
    plan = current_plan(found, standing_of(found.installation))
    records = records_of(plan, entries_of(found))
    in_the_way = before_signing(plan, records)
    if in_the_way:
        first = in_the_way[0]
        raise InputError(first.message, remedy=first.remedy, path=f"step.{first.path}")
    found.signed_at, found.signed_by, found.remark = timezone.now(), by.strip()[:60], remark.strip()[:400]
    found.sheet = kept(SHEET, plan)
    found.save(update_fields=["signed_at", "signed_by", "remark", "sheet"])
    _keep_outcomes(member, found, outcomes_of(plan, records, by=found.signed_by, on=timezone.now().date()))
    _follow_up(member, found, plan)
    subject = f"{found.installation.vehicle.name}: {plan.title}"
    record(member.workshop, member, "sign_sheet", subject=subject, after={"by": found.signed_by})
    return found


def _keep_outcomes(member: Member, found: SheetRecord, outcomes: tuple[TestRecord, ...]) -> None:
    """Stages that failed on the sheet stay failed on the installation, until a later sheet finds them as expected."""
    locked = locked_installation(member, found.installation_id)
    head = head_of(locked)
    now = readable(head)
    if now is None:
        return
    earlier = {item.stage for item in failed_tests(now) if item.test == "sheet"}
    worth = [item for item in outcomes if item.outcome != "agreed" or item.stage in earlier]
    changed = now
    for item in worth:
        changed = record_test(changed, evaluate(changed, chart_from(member.workshop.cycle_chart)), item)
    if worth:
        saved(locked, base=Base(head.number, head.amended), installation=changed, member=member)


def _follow_up(member: Member, found: SheetRecord, plan: JobSheet) -> None:
    """What is due after the part that the job has changed."""
    done = {item.code for item in records_for(found) if item.state == "done"}
    kinds: list[PartKind] = [AFTER_JOB[plan.built_in]] if plan.built_in in AFTER_JOB else []
    if BATTERY_STEP in done:
        kinds.append("battery")
    for kind in kinds:
        add_follow_ups(member.user, found.installation.vehicle, found.installation_id, kind, on=timezone.now().date())
        void_by_part(member, found.installation_id, kind, on=found.created_at.date())


@use_case("make_link")
def make_link(user: User, sheet_id: int, days: int) -> tuple[SheetLink, str]:
    """A link under which anybody may read the sheet for some days, and its secret, said once."""
    member = editor(user)
    found = _locked(member, sheet_id)
    if found.links.count() >= MOST_LINKS:
        raise FullError(MOST_LINKS, "links of a sheet")
    secret = new_secret()
    record(member.workshop, member, "make_link", subject=_subject(found), after={"days": days})
    expires = timezone.now() + timedelta(days=days)
    link = SheetLink(sheet=found, secret_sha256=hashed(secret), expires_at=expires, units=system_now().code)
    link.save()
    return link, secret


@use_case("revoke_link")
def revoke_link(user: User, sheet_id: int, link_id: int) -> None:
    """Make a link worthless."""
    member = editor(user)
    found = _locked(member, sheet_id)
    if not found.links.filter(pk=link_id).delete()[0]:
        raise NotFoundError
    record(member.workshop, member, "revoke_link", subject=_subject(found))


def _subject(found: SheetRecord) -> str:
    return f"{found.installation.vehicle.name}: {plan_of(found).title}"


def shared(secret: str) -> tuple[SheetRecord, UnitSystem]:
    """The sheet of a link that holds, and the units in which it was shared, or `NotFoundError`."""
    link = SheetLink.objects.filter(secret_sha256=hashed(secret), expires_at__gt=timezone.now()).first()
    there = {"installation__deleted_at": None, "installation__vehicle__deleted_at": None}
    found = None if link is None else SheetRecord.objects.filter(pk=link.sheet_id, **there).first()
    if link is None or found is None:
        raise NotFoundError
    return found, next(item for item in UNIT_SYSTEMS if item.code == link.units)


@use_case("delete_sheet")
def delete_sheet(user: User, sheet_id: int) -> None:
    """Remove a sheet that is not signed; a signed one stays. Raises `InputError`."""
    member = editor(user)
    found = _locked(member, sheet_id)
    if found.signed_at is not None:
        raise InputError("A signed sheet stays on record.", remedy="Keep it.", path="sheet")
    record(
        member.workshop, member, "delete_sheet", subject=f"{found.installation.vehicle.name}: {plan_of(found).title}"
    )
    found.delete()


def _locked(member: Member, sheet_id: int) -> SheetRecord:
    mine = SheetRecord.objects.filter(installation__vehicle__workshop=member.workshop_id, **IN_USE)
    return one_of(mine.select_for_update(of=("self",)).select_related("installation__vehicle"), sheet_id)
