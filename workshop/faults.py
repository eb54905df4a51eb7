"""Use cases of the fault finder: a fault is opened, tests are answered from several devices, it is closed with its
cause."""

from __future__ import annotations

from datetime import timedelta
from typing import Literal

from django.contrib.auth.models import User
from django.utils import timezone

from speedchain import Installation, evaluate, read_installation
from speedchain.bench.records import record_test, verify_stage
from speedchain.faults import (
    CANNOT,
    CAUSES,
    OTHER,
    OURS,
    Answer,
    Changed,
    FaultChoices,
    FaultView,
    OwnTable,
    Seen,
    choices_for,
    suggested,
    view_fault,
)
from speedchain.fields import InputError, Outcome, TestRecord, Verification
from speedchain.service import AFTER_JOB, FittedPart, PartKind
from workshop.access import IN_USE, chart_from, chart_of, editor, installation_for, locked_workshop, member_of, one_of
from workshop.audit import record
from workshop.installations import Base, head_of, locked_installation, readable, saved
from workshop.jobs import plan_of
from workshop.models import FaultEntry, FaultRecord, InstallationRecord, Member, Workshop
from workshop.parts import replace_part
from workshop.timeline import fault_text
from workshop.use_cases import use_case
from workshop.vehicles import FullError, refuse_stale

MOST_FAULTS, MOST_ANSWERS = 500, 200
LATELY_DAYS = 30
NOTE, RETEST_NOTE = "while searching a fault", "retest of a fault"
Retest = Literal["agreed", "none"]
CHANGED_BY: dict[PartKind, Changed] = {
    "sensor": "sensor", "ring": "ring", "magnet": "ring", "wheel": "wheel", "tyre": "tyre", "battery": "battery",
    "connector": "wiring", "loom": "wiring", "converter": "display", "display": "display",
}  # fmt: skip
SPIN: dict[str, Outcome] = {"agrees": "agreed", "nothing": "nothing"}
MAGNET: dict[str, Outcome] = {"shows": "agreed", "nothing": "nothing"}


def faults_of(user: User, installation_id: int) -> list[FaultRecord]:
    """The faults of an installation, the newest first."""
    return list(installation_for(user, installation_id).faults.all())


def choices_of(user: User, installation_id: int) -> FaultChoices:
    """What can be chosen for a fault; nothing where the newest revision cannot be read."""
    document = readable(head_of(installation_for(user, installation_id)))
    if document is None:
        return FaultChoices(histories=(), symptoms=(), changed=())
    return choices_for(document, evaluate(document, chart_of(user)))


def suggestion_for(user: User, installation_id: int) -> Seen:
    """What the failed tests of an installation say already, and which parts were changed on it lately."""
    holder = installation_for(user, installation_id)
    document = readable(head_of(holder))
    if document is None:
        return Seen()
    return suggested(document).model_copy(update={"changed": _changed_lately(holder)})


def _changed_lately(holder: InstallationRecord) -> tuple[Changed, ...]:
    """Parts fitted to the installation or its vehicle, and jobs signed on it, within the last weeks."""
    since = timezone.now() - timedelta(days=LATELY_DAYS)
    parts = [
        FittedPart(**row.content) for row in holder.vehicle.parts.all() if row.installation_id in (None, holder.pk)
    ]
    kinds: list[PartKind] = [part.kind for part in parts if part.fitted_on >= since.date()]
    for sheet in holder.sheets.filter(signed_at__gte=since):
        if (template := plan_of(sheet).built_in) in AFTER_JOB:
            kinds.append(AFTER_JOB[template])
    return tuple(dict.fromkeys([CHANGED_BY[kind] for kind in kinds if kind in CHANGED_BY]))


def fault_for(user: User, fault_id: int) -> FaultRecord:
    """One fault of the account's workshop, or `NotFoundError`."""
    mine = FaultRecord.objects.filter(installation__vehicle__workshop__members__user=user, **IN_USE)
    return one_of(mine.select_related("installation__vehicle"), fault_id)


def seen_of(found: FaultRecord) -> Seen:
    """All that was seen, with the answers in the order in which they came."""
    begun = Seen.model_validate(found.seen)
    answers = [Answer.model_validate(content) for content in found.entries.values_list("content", flat=True)]
    return begun.model_copy(update={"answers": (*begun.answers, *answers)})


def table_of(user: User) -> OwnTable:
    """The workshop's own chances and weights."""
    return _table(member_of(user).workshop)


def _table(workshop: Workshop) -> OwnTable:
    return OURS if workshop.fault_table is None else OwnTable.model_validate(workshop.fault_table)


def view_of(user: User, found: FaultRecord) -> FaultView:
    """How far the search is."""
    document = read_installation(found.document)
    return view_fault(document, evaluate(document, chart_of(user)), seen_of(found), table_of(user))


def _checked(member: Member, document: Installation, seen: Seen) -> None:
    """Refuse what the finder cannot take in: an answer to a test that is not there."""
    view_fault(document, evaluate(document, chart_from(member.workshop.cycle_chart)), seen, _table(member.workshop))


@use_case("start_fault")
def start_fault(user: User, installation_id: int, seen: Seen) -> FaultRecord:
    """Open a fault. Raises `InputError` where nothing was seen, or the newest revision cannot be read."""
    member = editor(user)
    locked = locked_installation(member, installation_id)
    head = head_of(locked)
    document = readable(head)
    if document is None:
        raise InputError("The newest revision cannot be read.", remedy="Correct it first.", path="installation")
    if not seen.symptoms and not seen.pairs:
        raise InputError(
            "No symptom is chosen.", remedy="Choose what is seen, or enter a true and a shown speed.", path="symptoms"
        )
    if locked.faults.count() >= MOST_FAULTS:
        raise FullError(MOST_FAULTS, "faults of an installation")
    _checked(member, document, seen)
    made = FaultRecord.objects.create(
        installation=locked, document=document.model_dump(mode="json"), revision=head.number,
        seen=seen.model_dump(mode="json"), created_by_role=member.role,
    )  # fmt: skip
    record(member.workshop, member, "start_fault", subject=f"{locked.vehicle.name}: {fault_text(made)}"[:200])
    return made


@use_case(
    "save_installation",
    no_entry="each answer keeps who gave it, and when",
    no_version="answers are added, each once by its key",
)
def answer_test(user: User, fault_id: int, key: str, answer: Answer) -> FaultRecord:
    """Take the answer to a test in; the same key again counts once, another answer to the same test replaces it.

    A spin or magnet test is recorded on the installation as well, where it is evidence.
    """
    member = editor(user)
    found = _locked(member, fault_id)
    if found.entries.filter(key=key).exists():
        return found
    _refuse_closed(found)
    if found.entries.count() >= MOST_ANSWERS:
        raise FullError(MOST_ANSWERS, "answers of a fault")
    seen = seen_of(found)
    _checked(member, read_installation(found.document), seen.model_copy(update={"answers": (*seen.answers, answer)}))
    made = FaultEntry.objects.create(fault=found, key=key, content=answer.model_dump(mode="json"), by_role=member.role)
    made.applied = _record_on(member, found, answer)
    made.save(update_fields=["applied"])
    return found


def _record_on(member: Member, found: FaultRecord, answer: Answer) -> int | None:
    """Put a spin or magnet test, and a count that agrees, on the installation as evidence; the revision that it
    made."""
    if answer.test not in ("spin", "magnet") and (answer.test, answer.outcome) != ("count", "as_entered"):
        return None
    locked = locked_installation(member, found.installation_id)
    head = head_of(locked)
    document = readable(head)
    if document is None or answer.outcome == CANNOT:
        return None
    evaluation, on = evaluate(document, chart_from(member.workshop.cycle_chart)), timezone.now().date()
    if answer.test == "count":
        counted = Verification(test="second_count", on=on, by=member.role, note=NOTE)
        after = verify_stage(document, evaluation, counted, stage="target")
    else:
        outcome = (SPIN if answer.test == "spin" else MAGNET).get(answer.outcome, "differed")
        entry = TestRecord(test=answer.test, on=on, by=member.role, outcome=outcome, note=NOTE)
        after = record_test(document, evaluation, entry)
    return saved(locked, base=Base(head.number, head.amended), installation=after, member=member).number


@use_case("close_fault", "save_part", "save_installation", no_version="it is closed once")
def close_fault(
    user: User, fault_id: int, cause: str, remark: str, *, retest: Retest = "none", part: FittedPart | None = None
) -> FaultRecord:
    """Close a fault with its cause; none of those that are known needs a remark. Raises `InputError`.

    A part that was replaced is fitted to the installation, in place of the one of its kind, with what is due after it;
    a retest that agreed is recorded there as the test that it is.
    """
    member = editor(user)
    found = _locked(member, fault_id)
    _refuse_closed(found)
    if cause != OTHER and cause not in [item.code for item in CAUSES]:
        raise InputError("There is no such cause.", remedy="Choose one of the list.", path="cause")
    if cause == OTHER and not remark.strip():
        raise InputError("Cause is missing.", remedy="Write it down.", path="remark")
    found.closed_at, found.closed_by_role, found.cause = timezone.now(), member.role, cause
    found.remark, found.retest = remark.strip()[:400], retest
    found.save(update_fields=["closed_at", "closed_by_role", "cause", "remark", "retest"])
    if part is not None:
        replace_part(user, found.installation, part)
    if retest == "agreed":
        _record_retest(member, found, cause)
    subject = f"{found.installation.vehicle.name}: {fault_text(found)}"
    record(member.workshop, member, "close_fault", subject=subject[:200])
    return found


def _record_retest(member: Member, found: FaultRecord, cause: str) -> None:
    locked = locked_installation(member, found.installation_id)
    head = head_of(locked)
    document = readable(head)
    if document is None:
        return
    evaluation, on = evaluate(document, chart_from(member.workshop.cycle_chart)), timezone.now().date()
    kind = next((item.retest for item in CAUSES if item.code == cause), "spin")
    if kind == "spin":
        entry = TestRecord(test="spin", on=on, by=member.role, outcome="agreed", note=RETEST_NOTE)
        after = record_test(document, evaluation, entry)
    else:
        proof = Verification(test="water" if kind == "water" else "road", on=on, by=member.role, note=RETEST_NOTE)
        after = verify_stage(document, evaluation, proof, stage="readout")
    saved(locked, base=Base(head.number, head.amended), installation=after, member=member)


@use_case("delete_fault")
def delete_fault(user: User, fault_id: int) -> None:
    """Remove a fault that was opened by mistake."""
    member = editor(user)
    found = _locked(member, fault_id)
    record(
        member.workshop, member, "delete_fault", subject=f"{found.installation.vehicle.name}: {fault_text(found)}"[:200]
    )
    found.delete()


@use_case("save_fault_table")
def save_table(user: User, table: OwnTable, base: int) -> Workshop:
    """Save the workshop's own chances and weights. Raises `StaleError` when somebody else saved them since."""
    member = editor(user)
    workshop = locked_workshop(member)
    refuse_stale(base, workshop.fault_table_version)
    workshop.fault_table = table.model_dump(mode="json")
    workshop.fault_table_version += 1
    workshop.save(update_fields=["fault_table", "fault_table_version"])
    subject = f"{len(table.weights)} weights, {len(table.chances)} chances"
    record(workshop, member, "save_fault_table", subject=subject)
    return workshop


def _refuse_closed(found: FaultRecord) -> None:
    if found.closed_at is not None:
        raise InputError("The fault is closed.", remedy="Open a new one for what is seen now.", path="fault")


def _locked(member: Member, fault_id: int) -> FaultRecord:
    mine = FaultRecord.objects.filter(installation__vehicle__workshop=member.workshop_id, **IN_USE)
    return one_of(mine.select_for_update(of=("self",)).select_related("installation__vehicle"), fault_id)
