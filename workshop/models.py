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

RUN_STATES = ("waiting", "going", "done", "failed", "stopped")
UNIT_SYSTEMS = ("metric", "imperial", "nautical")
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
)
KINDS: tuple[str, ...] = VehicleKind.__args__  # type: ignore[attr-defined]


class Workshop(models.Model):
    """The people who work on the same vehicles."""

    name = models.CharField(max_length=80)
    is_demo = models.BooleanField(default=False)
    cycle_chart = models.JSONField(null=True)
    chart_version = models.PositiveIntegerField(default=1)
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
    role = models.CharField(max_length=60, default="member")
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
    deleted_by_role = models.CharField(max_length=60, blank=True, default="")

    class Meta:
        abstract = True


class Vehicle(Deletable):
    """What the installations are on. It belongs to one workshop and is invisible to others."""

    workshop = models.ForeignKey(Workshop, on_delete=models.CASCADE, related_name="vehicles")
    name = models.CharField(max_length=80)
    kind = models.CharField(max_length=20)
    note = models.CharField(max_length=400, blank=True)
    sheet = models.JSONField(default=dict)
    version = models.PositiveIntegerField(default=1)
    sheet_version = models.PositiveIntegerField(default=1)
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
    author_role = models.CharField(max_length=60)
    created_at = models.DateTimeField(auto_now_add=True)
    summary = models.CharField(max_length=400)
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
    """A task: something that has to be done again on an installation, until somebody says it was."""

    installation = models.ForeignKey(InstallationRecord, on_delete=models.CASCADE, related_name="tasks")
    stage = models.CharField(max_length=10)
    text = models.CharField(max_length=240)
    created_at = models.DateTimeField(default=timezone.now)
    done_at = models.DateTimeField(null=True)
    done_by_role = models.CharField(max_length=60, blank=True)

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
    author_role = models.CharField(max_length=60, blank=True)
    at = models.DateTimeField(auto_now_add=True)
    action = models.CharField(max_length=30)
    subject = models.CharField(max_length=200)
    before = models.JSONField(null=True)
    after = models.JSONField(null=True)

    class Meta:
        ordering = ("-id",)
        indexes = (models.Index(fields=["workshop", "-id"], name="audit_newest_first"),)
        constraints = (models.CheckConstraint(condition=Q(action__in=ACTIONS), name="audit_action_known"),)


class BenchRun(models.Model):
    """A long run on the simulated bench: asked for, worked off beside the requests, kept for a while."""

    workshop = models.ForeignKey(Workshop, on_delete=models.CASCADE, related_name="bench_runs")
    document = models.JSONField()
    asked = models.JSONField()
    state = models.CharField(max_length=10, default="waiting")
    share = models.FloatField(default=0.0)
    stop_wanted = models.BooleanField(default=False)
    result = models.JSONField(null=True)
    message = models.CharField(max_length=400, blank=True)
    created_at = models.DateTimeField(auto_now_add=True)
    beat_at = models.DateTimeField(default=timezone.now)

    class Meta:
        ordering = ("-id",)
        constraints = (
            models.CheckConstraint(condition=Q(state__in=RUN_STATES), name="bench_run_state_known"),
            models.CheckConstraint(condition=Q(share__gte=0, share__lte=1), name="bench_run_share_is_one"),
            models.CheckConstraint(
                condition=Q(result__isnull=False) | ~Q(state="done"), name="bench_run_done_has_result"
            ),
        )


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
