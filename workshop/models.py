"""Workshops, their members, vehicles, installations, every saved revision of an installation, and what is tasks."""

from __future__ import annotations

from typing import Any, ClassVar

from django.conf import settings
from django.db import models
from django.db.models import Q
from django.utils import timezone

from speedchain.document.upgrade import VERSION
from speedchain.fields.evidence import STAGES
from speedchain.fields.purposes import VehicleKind
from workshop.texts import GivenField, MessageField

OPEN_STATES = ("waiting", "going")
WORK_STATES = (*OPEN_STATES, "done", "failed", "stopped")
RECORDING_STATES = ("sending", "reading", "ready", "failed")
UNIT_SYSTEMS = ("metric", "imperial", "miles_mm", "nautical")
ACTIONS = (
    "add_vehicle",
    "change_vehicle",
    "delete_vehicle",
    "restore_vehicle",
    "save_sheet",
    "save_chart",
    "add_installation",
    "save_installation",
    "fit_tyre",
    "delete_installation",
    "restore_installation",
    "mark_task",
    "add_recording",
    "delete_recording",
    "restore_recording",
    "start_sheet",
    "sign_sheet",
    "delete_sheet",
    "add_note",
    "delete_note",
    "add_due",
    "change_due",
    "delete_due",
    "save_part",
    "delete_part",
    "start_fault",
    "close_fault",
    "delete_fault",
    "save_fault_table",
    "save_template",
    "delete_template",
    "purge_vehicle",
    "purge_installation",
    "purge_recording",
    "make_link",
    "revoke_link",
    "make_feed",
    "drop_feed",
    "pair_device",
    "remove_device",
    "add_derived",
    "remove_derived",
    "mark_recording",
    "unmark_recording",
    "save_shelf_part",
    "delete_shelf_part",
)
NOTE_KINDS = ("note", "odometer", "hours", "tread")
KINDS: tuple[str, ...] = VehicleKind.__args__  # type: ignore[attr-defined]


class Workshop(models.Model):
    """The people who work on the same vehicles."""

    name = GivenField(max_length=80)
    is_demo = models.BooleanField(default=False)
    cycle_chart = models.JSONField(null=True)
    chart_version = models.PositiveIntegerField(default=1)
    fault_table = models.JSONField(null=True)
    fault_table_version = models.PositiveIntegerField(default=1)
    created_at = models.DateTimeField(auto_now_add=True)

    class Meta:
        constraints = (
            models.CheckConstraint(condition=~Q(name=""), name="workshop_has_a_name"),
            models.UniqueConstraint(fields=["is_demo"], condition=Q(is_demo=True), name="one_demo_workshop"),
        )


class Member(models.Model):
    """An account's place in its workshop."""

    user = models.OneToOneField(settings.AUTH_USER_MODEL, on_delete=models.CASCADE, related_name="member")
    workshop = models.ForeignKey(Workshop, on_delete=models.CASCADE, related_name="members")
    role = GivenField(max_length=60, default="member")
    may_edit = models.BooleanField(default=True)
    units = models.CharField(max_length=10, default="metric")

    class Meta:
        constraints = (models.CheckConstraint(condition=Q(units__in=UNIT_SYSTEMS), name="member_units_known"),)


class Present(models.Manager[Any]):
    """All that is not in the bin."""

    def get_queryset(self) -> models.QuerySet[Any]:
        """Without what was deleted."""
        return super().get_queryset().filter(deleted_at=None)


class Deletable(models.Model):
    """Deleted, it lies in the bin for a while; `everything` finds it there, `objects` does not."""

    deleted_at = models.DateTimeField(null=True)
    deleted_by_role = GivenField(max_length=60, blank=True, default="")

    class Meta:
        abstract = True


class Vehicle(Deletable):
    """What the installations are on. It belongs to one workshop and is invisible to others."""

    workshop = models.ForeignKey(Workshop, on_delete=models.CASCADE, related_name="vehicles")
    name = GivenField(max_length=80)
    kind = models.CharField(max_length=20)
    note = GivenField(max_length=400, blank=True)
    sheet = models.JSONField(default=dict)
    version = models.PositiveIntegerField(default=1)
    sheet_version = models.PositiveIntegerField(default=1)
    wear_limit_pct = models.FloatField(default=0.5)
    wear_limit_version = models.PositiveIntegerField(default=1)
    tyres_since = models.DateField(null=True)
    created_at = models.DateTimeField(auto_now_add=True)

    objects: ClassVar[models.Manager[Vehicle]] = Present()
    everything: ClassVar[models.Manager[Vehicle]] = models.Manager()

    class Meta:
        ordering = ("name", "id")
        constraints = (
            models.UniqueConstraint(
                fields=["workshop", "name"],
                condition=Q(deleted_at=None),
                name="vehicle_name_once_per_workshop",
            ),
            models.CheckConstraint(condition=~Q(name=""), name="vehicle_has_a_name"),
            models.CheckConstraint(condition=Q(kind__in=KINDS), name="vehicle_of_a_known_kind"),
        )


class InstallationRecord(Deletable):
    """One installation on a vehicle; `head` is the number of its newest revision."""

    vehicle = models.ForeignKey(Vehicle, on_delete=models.CASCADE, related_name="installations")
    head = models.PositiveIntegerField(default=0)
    created_at = models.DateTimeField(auto_now_add=True)

    objects: ClassVar[models.Manager[InstallationRecord]] = Present()
    everything: ClassVar[models.Manager[InstallationRecord]] = models.Manager()

    class Meta:
        ordering = ("id",)
        constraints = (models.CheckConstraint(condition=Q(head__gte=0), name="installation_head_not_negative"),)


class Revision(models.Model):
    """One saved state of an installation, followed by the next.

    Only the newest is ever changed, and only while its author goes on with the same edit (`edit_key`) within minutes:
    `amended` counts how often, so that a base is a number *and* that count.
    """

    installation = models.ForeignKey(InstallationRecord, on_delete=models.CASCADE, related_name="revisions")
    number = models.PositiveIntegerField()
    document = models.JSONField()
    author = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.SET_NULL, null=True)
    author_role = GivenField(max_length=60)
    created_at = models.DateTimeField(auto_now_add=True)
    summary: Any = MessageField()
    true_kmh = models.FloatField()
    shown_kmh = models.FloatField()
    shown_before_kmh = models.FloatField(null=True)
    outline = models.JSONField(null=True)
    outline_version = models.CharField(max_length=40, blank=True)
    edit_key = models.CharField(max_length=40, blank=True, default="")
    amended = models.PositiveIntegerField(default=0)
    amended_at = models.DateTimeField(null=True)

    class Meta:
        ordering = ("-number",)
        constraints = (
            models.UniqueConstraint(fields=["installation", "number"], name="revision_number_once_per_installation"),
            models.CheckConstraint(condition=Q(number__gte=1), name="revisions_count_from_one"),
            models.CheckConstraint(
                condition=Q(document__version__in=tuple(range(1, VERSION + 1))), name="revision_document_version"
            ),
            models.CheckConstraint(condition=Q(true_kmh__gt=0, shown_kmh__gte=0), name="revision_speeds_positive"),
            models.CheckConstraint(
                condition=Q(shown_before_kmh__isnull=True) | Q(number__gt=1), name="first_revision_has_no_before"
            ),
        )


class Task(models.Model):
    """Something that has to be done again on an installation, until somebody says it was, or puts it off as a due
    item."""

    installation = models.ForeignKey(InstallationRecord, on_delete=models.CASCADE, related_name="tasks")
    stage = models.CharField(max_length=10)
    text: Any = MessageField()
    after_change = models.BooleanField(default=False)
    """Of a change of what makes the pulses: the next such change puts its own in its place."""
    created_at = models.DateTimeField(default=timezone.now)
    done_at = models.DateTimeField(null=True)
    done_by_role = GivenField(max_length=60, blank=True)
    put_off = models.ForeignKey("DueItem", on_delete=models.SET_NULL, null=True, related_name="+")

    class Meta:
        ordering = ("created_at", "id")
        constraints = (
            models.CheckConstraint(condition=~Q(text=""), name="task_has_a_text"),
            models.CheckConstraint(condition=Q(stage__in=STAGES), name="task_on_a_known_stage"),
        )


class AuditEntry(models.Model):
    """One change: who, when, what, from what to what. Entries are only added."""

    workshop = models.ForeignKey(Workshop, on_delete=models.CASCADE, related_name="audit")
    author = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.SET_NULL, null=True)
    author_role = GivenField(max_length=60, blank=True)
    at = models.DateTimeField(auto_now_add=True)
    action = models.CharField(max_length=30)
    subject = models.CharField(max_length=200)
    before = models.JSONField(null=True)
    after = models.JSONField(null=True)

    class Meta:
        ordering = ("-id",)
        indexes = (models.Index(fields=["workshop", "-id"], name="audit_newest_first"),)
        constraints = (models.CheckConstraint(condition=Q(action__in=ACTIONS), name="audit_action_known"),)


class RecordingRecord(Deletable):
    """A recorded drive, water run or captured ring of a vehicle: its file as it came, and what was read of it.

    It is sent in pieces (`OriginalPiece`), then read into `Samples` of its `version`: the work that read them. `layout`
    is what a worker found of its kind, columns and signals, before it read on.
    """

    vehicle = models.ForeignKey(Vehicle, on_delete=models.CASCADE, related_name="recordings")
    name = GivenField(max_length=120)
    size_bytes = models.PositiveBigIntegerField()
    sha256 = models.CharField(max_length=64, blank=True)
    state = models.CharField(max_length=10, default="sending")
    version = models.PositiveIntegerField(default=0)
    read_as = models.JSONField(default=dict)
    derived: Any = models.JSONField(default=list)
    marks: Any = models.JSONField(default=list)
    layout: Any = models.JSONField(null=True)
    summary: Any = models.JSONField(null=True)
    problem = models.JSONField(null=True)
    created_at = models.DateTimeField(auto_now_add=True)
    created_by_role = GivenField(max_length=60, blank=True)

    objects: ClassVar[models.Manager[RecordingRecord]] = Present()
    everything: ClassVar[models.Manager[RecordingRecord]] = models.Manager()

    class Meta:
        ordering = ("-id",)
        constraints = (
            models.CheckConstraint(condition=Q(state__in=RECORDING_STATES), name="recording_state_known"),
            models.CheckConstraint(
                condition=Q(summary__isnull=False) | ~Q(state="ready"), name="recording_ready_is_read"
            ),
        )


class OriginalPiece(models.Model):
    """A piece of the file of a recording, as it came."""

    recording = models.ForeignKey(RecordingRecord, on_delete=models.CASCADE, related_name="pieces")
    number = models.PositiveIntegerField()
    content = models.BinaryField()

    class Meta:
        ordering = ("number",)
        constraints = (models.UniqueConstraint(fields=["recording", "number"], name="piece_once_per_recording"),)


class Samples(models.Model):
    """Some samples of one stream of a recording, one after the other, as Parquet; the overview has a few for
    drawing."""

    recording = models.ForeignKey(RecordingRecord, on_delete=models.CASCADE, related_name="samples")
    version = models.PositiveIntegerField()
    stream = models.CharField(max_length=500)
    number = models.PositiveIntegerField()
    begins_s = models.FloatField()
    ends_s = models.FloatField()
    count = models.PositiveIntegerField()
    statistics = models.JSONField()
    content = models.BinaryField()
    overview = models.BinaryField()

    class Meta:
        ordering = ("stream", "number")
        constraints = (
            models.UniqueConstraint(fields=["recording", "version", "stream", "number"], name="samples_once"),
        )


class Work(models.Model):
    """Long work: asked for, done beside the requests, kept for a while; of a recording, as long as that.

    `core` is the version of the core that did it, `installation` the one whose document was asked about.
    """

    workshop = models.ForeignKey(Workshop, on_delete=models.CASCADE, related_name="work")
    kind = models.CharField(max_length=20)
    key = models.CharField(max_length=64)
    document = models.JSONField(null=True)
    asked = models.JSONField()
    recording = models.ForeignKey(RecordingRecord, on_delete=models.CASCADE, null=True, related_name="work")
    installation = models.ForeignKey(InstallationRecord, on_delete=models.SET_NULL, null=True, related_name="work")
    core = models.CharField(max_length=12, default="")
    state = models.CharField(max_length=10, default="waiting")
    share = models.FloatField(default=0.0)
    stop_wanted = models.BooleanField(default=False)
    result = models.JSONField(null=True)
    problem = models.JSONField(null=True)
    created_at = models.DateTimeField(auto_now_add=True)
    beat_at = models.DateTimeField(default=timezone.now)

    class Meta:
        ordering = ("-id",)
        indexes = (models.Index(fields=["workshop", "key"], name="work_by_key"),)
        constraints = (
            models.CheckConstraint(condition=Q(state__in=WORK_STATES), name="work_state_known"),
            models.CheckConstraint(condition=Q(share__gte=0, share__lte=1), name="work_share_is_one"),
            models.CheckConstraint(condition=Q(result__isnull=False) | ~Q(state="done"), name="work_done_has_result"),
        )


class OutPiece(models.Model):
    """A piece of a file that work made, to be fetched."""

    work = models.ForeignKey(Work, on_delete=models.CASCADE, related_name="out_pieces")
    number = models.PositiveIntegerField()
    content = models.BinaryField()

    class Meta:
        ordering = ("number",)
        constraints = (models.UniqueConstraint(fields=["work", "number"], name="out_piece_once_per_work"),)


class SheetRecord(models.Model):
    """A job sheet of an installation, drawn up from a revision; what was done are its entries, in the order in which
    they came.

    `drawn_from` is the document that its numbers are of; `signed_at` closes it for good.
    """

    installation = models.ForeignKey(InstallationRecord, on_delete=models.CASCADE, related_name="sheets")
    sheet = models.JSONField()
    revision = models.PositiveIntegerField()
    drawn_from = models.JSONField()
    created_at = models.DateTimeField(auto_now_add=True)
    created_by_role = GivenField(max_length=60, blank=True)
    signed_at = models.DateTimeField(null=True)
    signed_by = GivenField(max_length=60, blank=True, default="")
    remark = GivenField(max_length=400, blank=True, default="")

    class Meta:
        ordering = ("-id",)
        constraints = (
            models.CheckConstraint(condition=Q(signed_at=None) | ~Q(signed_by=""), name="sheet_signed_by_somebody"),
        )


class SheetEntry(models.Model):
    """One entry of a sheet. `applied` is the revision that it made; a `problem` says why it made none."""

    sheet = models.ForeignKey(SheetRecord, on_delete=models.CASCADE, related_name="entries")
    key = models.CharField(max_length=64)
    content = models.JSONField()
    received_at = models.DateTimeField(auto_now_add=True)
    applied = models.PositiveIntegerField(null=True)
    problem = models.JSONField(null=True)

    class Meta:
        ordering = ("id",)
        constraints = (models.UniqueConstraint(fields=["sheet", "key"], name="entry_once_per_sheet"),)


class Photo(models.Model):
    """A photo at a step of a sheet, made smaller and without its place."""

    sheet = models.ForeignKey(SheetRecord, on_delete=models.CASCADE, related_name="photos")
    key = models.CharField(max_length=64)
    step = models.CharField(max_length=40)
    content = models.BinaryField()
    width = models.PositiveIntegerField()
    height = models.PositiveIntegerField()
    created_at = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ("id",)
        constraints = (models.UniqueConstraint(fields=["sheet", "key"], name="photo_once_per_sheet"),)


class OwnTemplate(models.Model):
    """A job of the workshop's own, as people wrote it; sheets that were drawn up from it stay as they are."""

    workshop = models.ForeignKey(Workshop, on_delete=models.CASCADE, related_name="own_templates")
    job = models.JSONField()
    version = models.PositiveIntegerField(default=1)

    class Meta:
        ordering = ("id",)


class ShelfRecord(models.Model):
    """A part on the shelf of the workshop; `content` is the core's `ShelfPart`. What was taken from it stays as it
    is."""

    workshop = models.ForeignKey(Workshop, on_delete=models.CASCADE, related_name="shelf")
    content = models.JSONField()
    version = models.PositiveIntegerField(default=1)

    class Meta:
        ordering = ("id",)


class SheetLink(models.Model):
    """A link under which anybody may read a sheet until it expires, in the `units` of whoever made it.

    Of its secret only the hash is kept.
    """

    sheet = models.ForeignKey(SheetRecord, on_delete=models.CASCADE, related_name="links")
    secret_sha256 = models.CharField(max_length=64, unique=True)
    expires_at = models.DateTimeField()
    units = models.CharField(max_length=10, default="metric")

    class Meta:
        ordering = ("id",)
        constraints = (models.CheckConstraint(condition=Q(units__in=UNIT_SYSTEMS), name="link_units_known"),)


class FaultRecord(models.Model):
    """A fault of an installation and the search for its cause: `seen` is the core's, `document` what was known at its
    start.

    Answers are entries, in the order in which they came; `cause` is what was found when it was closed, `retest`
    whether that was proved: agreed, or none was made.
    """

    installation = models.ForeignKey(InstallationRecord, on_delete=models.CASCADE, related_name="faults")
    document = models.JSONField()
    revision = models.PositiveIntegerField()
    seen = models.JSONField()
    created_at = models.DateTimeField(auto_now_add=True)
    created_by_role = GivenField(max_length=60, blank=True)
    closed_at = models.DateTimeField(null=True)
    closed_by_role = GivenField(max_length=60, blank=True)
    cause = models.CharField(max_length=40, blank=True)
    retest = models.CharField(max_length=10, blank=True)
    remark = GivenField(max_length=400, blank=True)

    class Meta:
        ordering = ("-id",)
        constraints = (
            models.CheckConstraint(
                condition=Q(closed_at=None) | ~Q(cause="") | ~Q(remark=""), name="fault_closed_with_cause_or_remark"
            ),
        )


class FaultEntry(models.Model):
    """The answer to a test of a fault: by whom, when, and the revision that holds it as a test record."""

    fault = models.ForeignKey(FaultRecord, on_delete=models.CASCADE, related_name="entries")
    key = models.CharField(max_length=64)
    content = models.JSONField()
    by_role = GivenField(max_length=60, blank=True)
    at = models.DateTimeField(auto_now_add=True)
    applied = models.PositiveIntegerField(null=True)

    class Meta:
        ordering = ("id",)
        constraints = (models.UniqueConstraint(fields=["fault", "key"], name="fault_entry_once"),)


class PracticeRecord(models.Model):
    """A case of practice that an account plays: its moves; once it has ended, its points and minutes."""

    user = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.CASCADE, related_name="practice")
    case = models.PositiveIntegerField()
    moves: Any = models.JSONField(default=list)
    points = models.PositiveIntegerField(null=True)
    minutes = models.FloatField(null=True)
    created_at = models.DateTimeField(auto_now_add=True)
    ended_at = models.DateTimeField(null=True)

    class Meta:
        ordering = ("-id",)
        constraints = (
            models.CheckConstraint(
                condition=Q(ended_at=None) | Q(points__isnull=False, minutes__isnull=False),
                name="practice_ended_has_points",
            ),
        )


class Note(models.Model):
    """Something written down about a vehicle: a note, a reading of odometer [km], hours or tread [mm]."""

    vehicle = models.ForeignKey(Vehicle, on_delete=models.CASCADE, related_name="notes")
    installation = models.ForeignKey(InstallationRecord, on_delete=models.CASCADE, null=True, related_name="notes_of")
    kind = models.CharField(max_length=10)
    text = GivenField(max_length=400, blank=True)
    value = models.FloatField(null=True)
    km = models.FloatField(null=True)
    on = models.DateField()
    created_by_role = GivenField(max_length=60, blank=True)
    created_at = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ("-on", "-id")
        constraints = (
            models.CheckConstraint(condition=Q(kind__in=NOTE_KINDS), name="note_of_a_known_kind"),
            models.CheckConstraint(condition=Q(value__isnull=False) | ~Q(text=""), name="note_says_something"),
        )


class PartRecord(models.Model):
    """A part of a vehicle or of one of its installations; `content` is the core's `FittedPart`."""

    vehicle = models.ForeignKey(Vehicle, on_delete=models.CASCADE, related_name="parts")
    installation = models.ForeignKey(InstallationRecord, on_delete=models.SET_NULL, null=True, related_name="parts")
    content = models.JSONField()
    version = models.PositiveIntegerField(default=1)
    created_by_role = GivenField(max_length=60, blank=True)
    created_at = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ("id",)


class DueItem(models.Model):
    """Something that is to be done on a vehicle by a date, a distance or hours; `due` is the core's.

    `rule` names the rule that keeps it up to date: `wear` for the forecast of wear.
    """

    vehicle = models.ForeignKey(Vehicle, on_delete=models.CASCADE, related_name="due_items")
    installation = models.ForeignKey(InstallationRecord, on_delete=models.CASCADE, null=True, related_name="due_of")
    text: Any = MessageField()
    rule = models.CharField(max_length=10, blank=True)
    due = models.JSONField()
    assigned_to = GivenField(max_length=60, blank=True)
    reason = GivenField(max_length=240, blank=True)
    done_at = models.DateTimeField(null=True)
    done_by_role = GivenField(max_length=60, blank=True)
    created_at = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ("id",)
        constraints = (models.CheckConstraint(condition=~Q(text=""), name="due_says_something"),)


class CalendarFeed(models.Model):
    """An account's calendar, reached by whoever knows its secret; of that only the hash is kept."""

    user = models.OneToOneField(settings.AUTH_USER_MODEL, on_delete=models.CASCADE, related_name="calendar_feed")
    secret_sha256 = models.CharField(max_length=64, unique=True)
    session_key = models.CharField(max_length=40, blank=True, default="")
    created_at = models.DateTimeField(auto_now_add=True)


class WriteKey(models.Model):
    """A key that a client made for one write, and the answer it got: a repeat gets the same answer."""

    user = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.CASCADE, related_name="write_keys")
    key = models.CharField(max_length=80)
    fingerprint = models.CharField(max_length=64)
    status = models.PositiveSmallIntegerField(default=0)
    content_type = models.CharField(max_length=80, blank=True)
    body = models.BinaryField(default=bytes)
    created_at = models.DateTimeField(auto_now_add=True)

    class Meta:
        constraints = (models.UniqueConstraint(fields=["user", "key"], name="write_key_once_per_user"),)
        indexes = (models.Index(fields=["user", "created_at"], name="write_key_age"),)


class PairingLink(models.Model):
    """A link that signs one device in to an account, once and within minutes; of its secret only the hash is kept."""

    user = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.CASCADE, related_name="pairing_links")
    secret_sha256 = models.CharField(max_length=64, unique=True)
    expires_at = models.DateTimeField()
    session_key = models.CharField(max_length=40, blank=True, default="")

    class Meta:
        ordering = ("-id",)


class Device(models.Model):
    """A phone or tablet that was signed in by a link, as long as its session is."""

    user = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.CASCADE, related_name="devices")
    session_key = models.CharField(max_length=40, unique=True)
    name = GivenField(max_length=80)
    paired_at = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ("-id",)
