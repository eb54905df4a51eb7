"""Use cases of installations: add, save, change the tyre, delete, and their tasks."""

from __future__ import annotations

from datetime import timedelta
from typing import Any, NamedTuple, cast

from django.contrib.auth.models import User
from django.db.models import QuerySet
from django.utils import timezone

from speedchain import DocumentError, Evaluation, Installation, SpeedchainError, evaluate, read_installation
from speedchain.fields import SensedAt, VehicleKind
from speedchain.vehicle.copying import copy_installation
from speedchain.vehicle.pulse_change import pulse_change_tasks
from speedchain.vehicle.tyre_change import NewTyre, TyreChange, change_tyre
from speedchain.wheel.chart import Chart
from workshop.access import NotFoundError, chart_from, chart_of, editor, installation_for, vehicle_for
from workshop.audit import record
from workshop.changes import summarise
from workshop.models import InstallationRecord, Member, Revision, Task, Vehicle
from workshop.outline import heads_of, outline_from, version_of
from workshop.tyres import tyres_changed
from workshop.use_cases import under_way, use_case
from workshop.vehicles import FullError, StaleError, locked_vehicle, put_away, refuse_stale

MAX_INSTALLATIONS = 100
AMENDED_WITHIN = timedelta(minutes=5)
"""As long as one edit goes on, with no longer pause than this, it stays one revision."""


@use_case("add_installation")
def add_installation(user: User, vehicle_id: int, installation: Installation) -> InstallationRecord:
    """A new installation with its first revision. Raises `FullError`."""
    member = editor(user)
    vehicle = locked_vehicle(member, vehicle_id)
    if vehicle.installations.count() >= MAX_INSTALLATIONS:
        raise FullError(MAX_INSTALLATIONS, "installations on a vehicle")
    added = InstallationRecord.objects.create(vehicle=vehicle)
    _append(added, before=None, installation=installation, member=member)
    record(member.workshop, member, "add_installation", subject=_subject(added, installation), after={"revision": 1})
    return added


@use_case("add_installation")
def copy_to(user: User, installation_id: int, vehicle_id: int, *, name: str, sensed_at: SensedAt) -> InstallationRecord:
    """A copy of an installation on the same or another vehicle, as a new installation. Raises `FullError`."""
    editor(user)
    original = readable(head_of(installation_for(user, installation_id)))
    vehicle = vehicle_for(user, vehicle_id)
    if original is None:
        raise NotFoundError
    kind = cast(VehicleKind, vehicle.kind)
    copy = copy_installation(original, name=name, sensed_at=sensed_at, vehicle_kind=kind, chart=chart_of(user))
    return add_installation(user, vehicle_id, copy)


class Base(NamedTuple):
    """The revision that a change started from: its number, and how often it had been amended."""

    number: int
    amended: int = 0


@use_case("save_installation")
def save_installation(
    user: User, installation_id: int, base: Base, installation: Installation, edit_key: str = ""
) -> Revision:
    """Save a changed installation as the next revision, or amend the newest when it is the same edit going on.

    The row of the installation is locked, so of two saves from the same base exactly one comes through; the other
    raises `StaleError` with the newest revision. Saving what is there already makes no revision. The newest revision is
    amended when it has this edit key and this author, within minutes: nobody has built on it, or the base would be
    stale.
    """
    member = editor(user)
    locked = locked_installation(member, installation_id)
    return saved(locked, base=base, installation=installation, member=member, edit_key=edit_key)


def saved(
    locked: InstallationRecord,
    *,
    base: Base,
    installation: Installation,
    member: Member,
    action: str = "save_installation",
    edit_key: str = "",
) -> Revision:
    """Save what a locked installation became, in the log of changes as well. Raises `StaleError`."""
    head = locked.revisions.get(number=locked.head)
    before = readable(head)
    if before == installation:
        return head
    under_way().compared = True
    if base != (head.number, head.amended):
        raise StaleError(base.number, locked.head, head)
    if _goes_on(head, member, edit_key):
        revision = _amend(head, installation=installation, member=member)
    else:
        revision = _append(locked, before=before, installation=installation, member=member, edit_key=edit_key)
    record(
        member.workshop,
        member,
        action,
        subject=_subject(locked, installation),
        before={"revision": head.number},
        after={"revision": revision.number, "summary": revision.summary},
    )
    if before is not None:
        if _other_tyre(before, installation) and locked.vehicle.installations.count() == 1:
            tyres_changed(locked.vehicle, timezone.now().date())
        _put_pulse_change_tasks(
            locked, before=before, installation=installation, chart=chart_from(member.workshop.cycle_chart)
        )
    return revision


def _other_tyre(before: Installation, installation: Installation) -> bool:
    """Whether another size is marked on the tyre now; of several wheels, the depths do not say which is meant."""
    was, now = before.wheel.marking, installation.wheel.marking
    return was is not None and now is not None and was.text.strip() != now.text.strip()


def _put_pulse_change_tasks(
    locked: InstallationRecord, *, before: Installation, installation: Installation, chart: Chart
) -> None:
    """Tasks after another ring, gearing or whatever makes a test void, in place of the open ones of an earlier
    change."""
    parts = ("wheel", "drive", "target", "sensor", "placement", "signal")
    if all(getattr(before, name) == getattr(installation, name) for name in parts):
        return
    if _evaluated(before, chart) is None or (tasks := pulse_change_tasks(before, installation, chart)) is None:
        return
    locked.tasks.filter(done_at=None, after_change=True).delete()
    now = timezone.now()
    Task.objects.bulk_create(
        [
            Task(installation=locked, stage=item.stage, text=item.text, after_change=True, created_at=now)
            for item in tasks
        ]
    )


@use_case("delete_installation")
def delete_installation(user: User, installation_id: int, base: int) -> None:
    """Put an installation with its revisions into the bin. Raises `StaleError` when somebody has saved a newer one."""
    member = editor(user)
    locked = locked_installation(member, installation_id)
    refuse_stale(base, locked.head)
    document = locked.revisions.get(number=locked.head).document
    subject = f"{locked.vehicle.name}: {document.get('name') or 'without a name'}"
    record(member.workshop, member, "delete_installation", subject=subject, before={"document": document})
    put_away(locked, member)


def tyre_change(user: User, installation_id: int, installation: Installation, new: NewTyre) -> TyreChange:
    """What a new tyre on this installation's wheel does, against the other installations of the vehicle."""
    vehicles = Vehicle.objects.filter(workshop__members__user=user, installations=installation_id)
    heads = heads_of(vehicles).exclude(installation=installation_id)
    chart = chart_of(user)
    others = [readable(revision) for revision in heads.order_by("installation_id")]
    usable = [item for item in others if item is not None and _evaluated(item, chart) is not None]
    return change_tyre(installation, new, tuple(usable), chart)


@use_case("fit_tyre")
def fit_tyre(user: User, installation_id: int, base: Base, *, installation: Installation, new: NewTyre) -> Revision:
    """Apply the new tyre: the next revision, and a task for all that has to be done again."""
    member = editor(user)
    locked = locked_installation(member, installation_id)
    head = locked.head
    change = tyre_change(user, installation_id, installation, new)
    revision = saved(locked, base=base, installation=change.after, member=member, action="fit_tyre")
    if revision.number == head:  # it is applied already: nothing more to do
        return revision
    now = timezone.now()
    Task.objects.bulk_create(
        [Task(installation=locked, stage=item.stage, text=item.text, created_at=now) for item in change.tasks]
    )
    return revision


def tasks_of(installation: InstallationRecord) -> QuerySet[Task]:
    """The tasks of an installation, open and done; the newest change first, in an order that marking does not
    disturb."""
    return installation.tasks.order_by("-created_at", "id")


@use_case("mark_task", no_version="it is done or it is open")
def mark_task(user: User, task_id: int, done: bool) -> Task:
    """Mark a task as done, or as open again."""
    member = editor(user)
    mine = Task.objects.filter(installation__vehicle__workshop=member.workshop_id)
    task = mine.select_for_update(of=("self",)).filter(pk=task_id).first()
    if task is None:
        raise NotFoundError
    before = task.done_at is not None
    if before == done:
        return task
    task.done_at = timezone.now() if done else None
    task.done_by_role = member.role if done else ""
    task.put_off = None
    task.save(update_fields=["done_at", "done_by_role", "put_off"])
    record(member.workshop, member, "mark_task", subject=task.text, before={"done": before}, after={"done": done})
    return task


def readable(revision: Revision) -> Installation | None:
    """A revision's document, or None when today's rules refuse it."""
    try:
        return read_installation(revision.document)
    except DocumentError:
        return None


def head_of(installation: InstallationRecord) -> Revision:
    """The newest revision of an installation; `NotFoundError` when it was deleted meanwhile."""
    head = installation.revisions.order_by("-number").first()
    if head is None:
        raise NotFoundError
    return head


def locked_installation(member: Member, installation_id: int) -> InstallationRecord:
    """The installation's row, held until the end of the transaction; `NotFoundError` when it was deleted meanwhile."""
    mine = InstallationRecord.objects.filter(vehicle__workshop=member.workshop_id, vehicle__deleted_at=None)
    found = mine.select_for_update(of=("self",)).select_related("vehicle").filter(pk=installation_id).first()
    if found is None:
        raise NotFoundError
    return found


def _goes_on(head: Revision, member: Member, edit_key: str) -> bool:
    """Whether the newest revision is the same edit of the same author, a moment ago."""
    if not edit_key or head.edit_key != edit_key or head.author_id != member.user_id:
        return False
    return timezone.now() - (head.amended_at or head.created_at) <= AMENDED_WITHIN


def _append(
    installation_record: InstallationRecord,
    *,
    before: Installation | None,
    installation: Installation,
    member: Member,
    edit_key: str = "",
) -> Revision:
    installation_record.head += 1
    installation_record.save(update_fields=["head"])
    return Revision.objects.create(
        installation=installation_record,
        number=installation_record.head,
        author=member.user,
        author_role=member.role,
        edit_key=edit_key,
        **_contents(before, installation, member=member, number=installation_record.head),
    )


def _amend(head: Revision, *, installation: Installation, member: Member) -> Revision:
    previous = Revision.objects.filter(installation=head.installation_id, number=head.number - 1).first()
    before = None if previous is None else readable(previous)
    for name, value in _contents(before, installation, member=member, number=head.number).items():
        setattr(head, name, value)
    head.amended, head.amended_at = head.amended + 1, timezone.now()
    head.save()
    return head


def _contents(
    before: Installation | None, installation: Installation, *, member: Member, number: int
) -> dict[str, Any]:
    """What a revision holds beside its number and author."""
    chart = chart_from(member.workshop.cycle_chart)
    now = evaluate(installation, chart)
    was = None if before is None else _evaluated(before, chart)
    return {
        "document": installation.model_dump(mode="json"),
        "summary": summarise(before, installation, was, now, number),
        "true_kmh": now.shown.true_kmh,
        "shown_kmh": now.shown.shown_kmh,
        "shown_before_kmh": was.shown.shown_kmh if was else None,
        "outline": outline_from(installation, now),
        "outline_version": version_of(member.workshop),
    }


def _evaluated(installation: Installation, chart: Chart) -> Evaluation | None:
    """The evaluation of a stored document, or None when today's rules refuse it: it must not stop its correction."""
    try:
        return evaluate(installation, chart)
    except SpeedchainError:
        return None


def _subject(installation_record: InstallationRecord, installation: Installation) -> str:
    return f"{installation_record.vehicle.name}: {installation.name}"
