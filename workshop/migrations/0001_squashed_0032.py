"""All tables of a first release, in place of the 32 steps that led to them."""

import django.db.models.deletion
import django.utils.timezone
from django.conf import settings
from django.db import migrations, models

import workshop.texts

STORAGE = """
ALTER TABLE workshop_samples ALTER COLUMN content SET STORAGE EXTERNAL;
ALTER TABLE workshop_samples ALTER COLUMN overview SET STORAGE EXTERNAL;
ALTER TABLE workshop_originalpiece ALTER COLUMN content SET COMPRESSION lz4;
"""
"""Parquet and pictures of it are compressed already; files as they came are compressed by the fast method."""


class Migration(migrations.Migration):
    initial = True
    replaces = [
        ("workshop", "0001_first"),
        ("workshop", "0002_due_chart_units"),
        ("workshop", "0003_bench_runs"),
        ("workshop", "0004_versions_and_write_keys"),
        ("workshop", "0005_installations"),
        ("workshop", "0006_document_version_2"),
        ("workshop", "0007_stages"),
        ("workshop", "0008_tasks_audit_outline"),
        ("workshop", "0009_turns_outside_the_track"),
        ("workshop", "0010_amended_revisions"),
        ("workshop", "0011_bin"),
        ("workshop", "0012_recordings_and_work"),
        ("workshop", "0013_results_and_derived"),
        ("workshop", "0014_devices"),
        ("workshop", "0015_bytes_as_they_are"),
        ("workshop", "0016_job_sheets"),
        ("workshop", "0017_service"),
        ("workshop", "0018_links_templates_files"),
        ("workshop", "0019_parts"),
        ("workshop", "0020_note_kinds"),
        ("workshop", "0021_faults"),
        ("workshop", "0022_practice"),
        ("workshop", "0023_wear_limit"),
        ("workshop", "0024_messages"),
        ("workshop", "0025_layouts"),
        ("workshop", "0026_audit_and_sessions"),
        ("workshop", "0027_miles_and_millimetres"),
        ("workshop", "0028_tyres_since"),
        ("workshop", "0029_link_units"),
        ("workshop", "0030_fault_retest"),
        ("workshop", "0031_shelf"),
        ("workshop", "0032_tasks_after_a_change"),
    ]

    dependencies = [
        migrations.swappable_dependency(settings.AUTH_USER_MODEL),
    ]

    operations = [
        migrations.CreateModel(
            name="InstallationRecord",
            fields=[
                ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
                ("deleted_at", models.DateTimeField(null=True)),
                ("deleted_by_role", models.CharField(blank=True, default="", max_length=60)),
                ("head", models.PositiveIntegerField(default=0)),
                ("created_at", models.DateTimeField(auto_now_add=True)),
            ],
            options={
                "ordering": ("id",),
            },
        ),
        migrations.CreateModel(
            name="RecordingRecord",
            fields=[
                ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
                ("deleted_at", models.DateTimeField(null=True)),
                ("deleted_by_role", models.CharField(blank=True, default="", max_length=60)),
                ("name", models.CharField(max_length=120)),
                ("size_bytes", models.PositiveBigIntegerField()),
                ("sha256", models.CharField(blank=True, max_length=64)),
                ("state", models.CharField(default="sending", max_length=10)),
                ("version", models.PositiveIntegerField(default=0)),
                ("read_as", models.JSONField(default=dict)),
                ("derived", models.JSONField(default=list)),
                ("layout", models.JSONField(null=True)),
                ("summary", models.JSONField(null=True)),
                ("problem", models.JSONField(null=True)),
                ("created_at", models.DateTimeField(auto_now_add=True)),
                ("created_by_role", models.CharField(blank=True, max_length=60)),
            ],
            options={
                "ordering": ("-id",),
            },
        ),
        migrations.CreateModel(
            name="Vehicle",
            fields=[
                ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
                ("deleted_at", models.DateTimeField(null=True)),
                ("deleted_by_role", models.CharField(blank=True, default="", max_length=60)),
                ("name", models.CharField(max_length=80)),
                ("kind", models.CharField(max_length=20)),
                ("note", models.CharField(blank=True, max_length=400)),
                ("sheet", models.JSONField(default=dict)),
                ("version", models.PositiveIntegerField(default=1)),
                ("sheet_version", models.PositiveIntegerField(default=1)),
                ("wear_limit_pct", models.FloatField(default=0.5)),
                ("tyres_since", models.DateField(null=True)),
                ("created_at", models.DateTimeField(auto_now_add=True)),
            ],
            options={
                "ordering": ("name", "id"),
            },
        ),
        migrations.CreateModel(
            name="CalendarFeed",
            fields=[
                ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
                ("secret_sha256", models.CharField(max_length=64, unique=True)),
                ("session_key", models.CharField(blank=True, default="", max_length=40)),
                ("created_at", models.DateTimeField(auto_now_add=True)),
                (
                    "user",
                    models.OneToOneField(
                        on_delete=django.db.models.deletion.CASCADE,
                        related_name="calendar_feed",
                        to=settings.AUTH_USER_MODEL,
                    ),
                ),
            ],
        ),
        migrations.CreateModel(
            name="Device",
            fields=[
                ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
                ("session_key", models.CharField(max_length=40, unique=True)),
                ("name", models.CharField(max_length=80)),
                ("paired_at", models.DateTimeField(auto_now_add=True)),
                (
                    "user",
                    models.ForeignKey(
                        on_delete=django.db.models.deletion.CASCADE, related_name="devices", to=settings.AUTH_USER_MODEL
                    ),
                ),
            ],
            options={
                "ordering": ("-id",),
            },
        ),
        migrations.CreateModel(
            name="FaultRecord",
            fields=[
                ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
                ("document", models.JSONField()),
                ("revision", models.PositiveIntegerField()),
                ("seen", models.JSONField()),
                ("created_at", models.DateTimeField(auto_now_add=True)),
                ("created_by_role", models.CharField(blank=True, max_length=60)),
                ("closed_at", models.DateTimeField(null=True)),
                ("closed_by_role", models.CharField(blank=True, max_length=60)),
                ("cause", models.CharField(blank=True, max_length=40)),
                ("retest", models.CharField(blank=True, max_length=10)),
                ("remark", models.CharField(blank=True, max_length=400)),
                (
                    "installation",
                    models.ForeignKey(
                        on_delete=django.db.models.deletion.CASCADE,
                        related_name="faults",
                        to="workshop.installationrecord",
                    ),
                ),
            ],
            options={
                "ordering": ("-id",),
            },
        ),
        migrations.CreateModel(
            name="DueItem",
            fields=[
                ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
                ("text", workshop.texts.MessageField()),
                ("rule", models.CharField(blank=True, max_length=10)),
                ("due", models.JSONField()),
                ("assigned_to", models.CharField(blank=True, max_length=60)),
                ("reason", models.CharField(blank=True, max_length=240)),
                ("done_at", models.DateTimeField(null=True)),
                ("done_by_role", models.CharField(blank=True, max_length=60)),
                ("created_at", models.DateTimeField(auto_now_add=True)),
                (
                    "installation",
                    models.ForeignKey(
                        null=True,
                        on_delete=django.db.models.deletion.CASCADE,
                        related_name="due_of",
                        to="workshop.installationrecord",
                    ),
                ),
                (
                    "vehicle",
                    models.ForeignKey(
                        on_delete=django.db.models.deletion.CASCADE, related_name="due_items", to="workshop.vehicle"
                    ),
                ),
            ],
            options={
                "ordering": ("id",),
            },
        ),
        migrations.CreateModel(
            name="PairingLink",
            fields=[
                ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
                ("secret_sha256", models.CharField(max_length=64, unique=True)),
                ("expires_at", models.DateTimeField()),
                ("session_key", models.CharField(blank=True, default="", max_length=40)),
                (
                    "user",
                    models.ForeignKey(
                        on_delete=django.db.models.deletion.CASCADE,
                        related_name="pairing_links",
                        to=settings.AUTH_USER_MODEL,
                    ),
                ),
            ],
            options={
                "ordering": ("-id",),
            },
        ),
        migrations.CreateModel(
            name="PracticeRecord",
            fields=[
                ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
                ("case", models.PositiveIntegerField()),
                ("moves", models.JSONField(default=list)),
                ("points", models.PositiveIntegerField(null=True)),
                ("minutes", models.FloatField(null=True)),
                ("created_at", models.DateTimeField(auto_now_add=True)),
                ("ended_at", models.DateTimeField(null=True)),
                (
                    "user",
                    models.ForeignKey(
                        on_delete=django.db.models.deletion.CASCADE,
                        related_name="practice",
                        to=settings.AUTH_USER_MODEL,
                    ),
                ),
            ],
            options={
                "ordering": ("-id",),
            },
        ),
        migrations.CreateModel(
            name="OriginalPiece",
            fields=[
                ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
                ("number", models.PositiveIntegerField()),
                ("content", models.BinaryField()),
                (
                    "recording",
                    models.ForeignKey(
                        on_delete=django.db.models.deletion.CASCADE,
                        related_name="pieces",
                        to="workshop.recordingrecord",
                    ),
                ),
            ],
            options={
                "ordering": ("number",),
            },
        ),
        migrations.CreateModel(
            name="Revision",
            fields=[
                ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
                ("number", models.PositiveIntegerField()),
                ("document", models.JSONField()),
                ("author_role", models.CharField(max_length=60)),
                ("created_at", models.DateTimeField(auto_now_add=True)),
                ("summary", workshop.texts.MessageField()),
                ("true_kmh", models.FloatField()),
                ("shown_kmh", models.FloatField()),
                ("shown_before_kmh", models.FloatField(null=True)),
                ("outline", models.JSONField(null=True)),
                ("outline_version", models.CharField(blank=True, max_length=40)),
                ("edit_key", models.CharField(blank=True, default="", max_length=40)),
                ("amended", models.PositiveIntegerField(default=0)),
                ("amended_at", models.DateTimeField(null=True)),
                (
                    "author",
                    models.ForeignKey(
                        null=True, on_delete=django.db.models.deletion.SET_NULL, to=settings.AUTH_USER_MODEL
                    ),
                ),
                (
                    "installation",
                    models.ForeignKey(
                        on_delete=django.db.models.deletion.CASCADE,
                        related_name="revisions",
                        to="workshop.installationrecord",
                    ),
                ),
            ],
            options={
                "ordering": ("-number",),
            },
        ),
        migrations.CreateModel(
            name="Samples",
            fields=[
                ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
                ("version", models.PositiveIntegerField()),
                ("stream", models.CharField(max_length=500)),
                ("number", models.PositiveIntegerField()),
                ("begins_s", models.FloatField()),
                ("ends_s", models.FloatField()),
                ("count", models.PositiveIntegerField()),
                ("statistics", models.JSONField()),
                ("content", models.BinaryField()),
                ("overview", models.BinaryField()),
                (
                    "recording",
                    models.ForeignKey(
                        on_delete=django.db.models.deletion.CASCADE,
                        related_name="samples",
                        to="workshop.recordingrecord",
                    ),
                ),
            ],
            options={
                "ordering": ("stream", "number"),
            },
        ),
        migrations.CreateModel(
            name="SheetRecord",
            fields=[
                ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
                ("sheet", models.JSONField()),
                ("revision", models.PositiveIntegerField()),
                ("drawn_from", models.JSONField()),
                ("created_at", models.DateTimeField(auto_now_add=True)),
                ("created_by_role", models.CharField(blank=True, max_length=60)),
                ("signed_at", models.DateTimeField(null=True)),
                ("signed_by", models.CharField(blank=True, default="", max_length=60)),
                ("remark", models.CharField(blank=True, default="", max_length=400)),
                (
                    "installation",
                    models.ForeignKey(
                        on_delete=django.db.models.deletion.CASCADE,
                        related_name="sheets",
                        to="workshop.installationrecord",
                    ),
                ),
            ],
            options={
                "ordering": ("-id",),
            },
        ),
        migrations.CreateModel(
            name="SheetLink",
            fields=[
                ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
                ("secret_sha256", models.CharField(max_length=64, unique=True)),
                ("expires_at", models.DateTimeField()),
                ("units", models.CharField(default="metric", max_length=10)),
                (
                    "sheet",
                    models.ForeignKey(
                        on_delete=django.db.models.deletion.CASCADE, related_name="links", to="workshop.sheetrecord"
                    ),
                ),
            ],
            options={
                "ordering": ("id",),
            },
        ),
        migrations.CreateModel(
            name="SheetEntry",
            fields=[
                ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
                ("key", models.CharField(max_length=64)),
                ("content", models.JSONField()),
                ("received_at", models.DateTimeField(auto_now_add=True)),
                ("applied", models.PositiveIntegerField(null=True)),
                ("problem", models.JSONField(null=True)),
                (
                    "sheet",
                    models.ForeignKey(
                        on_delete=django.db.models.deletion.CASCADE, related_name="entries", to="workshop.sheetrecord"
                    ),
                ),
            ],
            options={
                "ordering": ("id",),
            },
        ),
        migrations.CreateModel(
            name="Photo",
            fields=[
                ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
                ("key", models.CharField(max_length=64)),
                ("step", models.CharField(max_length=40)),
                ("content", models.BinaryField()),
                ("width", models.PositiveIntegerField()),
                ("height", models.PositiveIntegerField()),
                ("created_at", models.DateTimeField(auto_now_add=True)),
                (
                    "sheet",
                    models.ForeignKey(
                        on_delete=django.db.models.deletion.CASCADE, related_name="photos", to="workshop.sheetrecord"
                    ),
                ),
            ],
            options={
                "ordering": ("id",),
            },
        ),
        migrations.CreateModel(
            name="Task",
            fields=[
                ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
                ("stage", models.CharField(max_length=10)),
                ("text", workshop.texts.MessageField()),
                ("after_change", models.BooleanField(default=False)),
                ("created_at", models.DateTimeField(default=django.utils.timezone.now)),
                ("done_at", models.DateTimeField(null=True)),
                ("done_by_role", models.CharField(blank=True, max_length=60)),
                (
                    "installation",
                    models.ForeignKey(
                        on_delete=django.db.models.deletion.CASCADE,
                        related_name="tasks",
                        to="workshop.installationrecord",
                    ),
                ),
                (
                    "put_off",
                    models.ForeignKey(
                        null=True, on_delete=django.db.models.deletion.SET_NULL, related_name="+", to="workshop.dueitem"
                    ),
                ),
            ],
            options={
                "ordering": ("created_at", "id"),
            },
        ),
        migrations.AddField(
            model_name="recordingrecord",
            name="vehicle",
            field=models.ForeignKey(
                on_delete=django.db.models.deletion.CASCADE, related_name="recordings", to="workshop.vehicle"
            ),
        ),
        migrations.CreateModel(
            name="PartRecord",
            fields=[
                ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
                ("content", models.JSONField()),
                ("created_by_role", models.CharField(blank=True, max_length=60)),
                ("created_at", models.DateTimeField(auto_now_add=True)),
                (
                    "installation",
                    models.ForeignKey(
                        null=True,
                        on_delete=django.db.models.deletion.SET_NULL,
                        related_name="parts",
                        to="workshop.installationrecord",
                    ),
                ),
                (
                    "vehicle",
                    models.ForeignKey(
                        on_delete=django.db.models.deletion.CASCADE, related_name="parts", to="workshop.vehicle"
                    ),
                ),
            ],
            options={
                "ordering": ("id",),
            },
        ),
        migrations.CreateModel(
            name="Note",
            fields=[
                ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
                ("kind", models.CharField(max_length=10)),
                ("text", models.CharField(blank=True, max_length=400)),
                ("value", models.FloatField(null=True)),
                ("km", models.FloatField(null=True)),
                ("on", models.DateField()),
                ("created_by_role", models.CharField(blank=True, max_length=60)),
                ("created_at", models.DateTimeField(auto_now_add=True)),
                (
                    "installation",
                    models.ForeignKey(
                        null=True,
                        on_delete=django.db.models.deletion.CASCADE,
                        related_name="notes_of",
                        to="workshop.installationrecord",
                    ),
                ),
                (
                    "vehicle",
                    models.ForeignKey(
                        on_delete=django.db.models.deletion.CASCADE, related_name="notes", to="workshop.vehicle"
                    ),
                ),
            ],
            options={
                "ordering": ("-on", "-id"),
            },
        ),
        migrations.AddField(
            model_name="installationrecord",
            name="vehicle",
            field=models.ForeignKey(
                on_delete=django.db.models.deletion.CASCADE, related_name="installations", to="workshop.vehicle"
            ),
        ),
        migrations.CreateModel(
            name="Work",
            fields=[
                ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
                ("kind", models.CharField(max_length=20)),
                ("key", models.CharField(max_length=64)),
                ("document", models.JSONField(null=True)),
                ("asked", models.JSONField()),
                ("core", models.CharField(default="", max_length=12)),
                ("state", models.CharField(default="waiting", max_length=10)),
                ("share", models.FloatField(default=0.0)),
                ("stop_wanted", models.BooleanField(default=False)),
                ("result", models.JSONField(null=True)),
                ("problem", models.JSONField(null=True)),
                ("created_at", models.DateTimeField(auto_now_add=True)),
                ("beat_at", models.DateTimeField(default=django.utils.timezone.now)),
                (
                    "installation",
                    models.ForeignKey(
                        null=True,
                        on_delete=django.db.models.deletion.SET_NULL,
                        related_name="work",
                        to="workshop.installationrecord",
                    ),
                ),
                (
                    "recording",
                    models.ForeignKey(
                        null=True,
                        on_delete=django.db.models.deletion.CASCADE,
                        related_name="work",
                        to="workshop.recordingrecord",
                    ),
                ),
            ],
            options={
                "ordering": ("-id",),
            },
        ),
        migrations.CreateModel(
            name="OutPiece",
            fields=[
                ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
                ("number", models.PositiveIntegerField()),
                ("content", models.BinaryField()),
                (
                    "work",
                    models.ForeignKey(
                        on_delete=django.db.models.deletion.CASCADE, related_name="out_pieces", to="workshop.work"
                    ),
                ),
            ],
            options={
                "ordering": ("number",),
            },
        ),
        migrations.CreateModel(
            name="Workshop",
            fields=[
                ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
                ("name", models.CharField(max_length=80)),
                ("is_demo", models.BooleanField(default=False)),
                ("cycle_chart", models.JSONField(null=True)),
                ("chart_version", models.PositiveIntegerField(default=1)),
                ("fault_table", models.JSONField(null=True)),
                ("fault_table_version", models.PositiveIntegerField(default=1)),
                ("created_at", models.DateTimeField(auto_now_add=True)),
            ],
            options={
                "constraints": [
                    models.CheckConstraint(condition=models.Q(("name", ""), _negated=True), name="workshop_has_a_name"),
                    models.UniqueConstraint(
                        condition=models.Q(("is_demo", True)), fields=("is_demo",), name="one_demo_workshop"
                    ),
                ],
            },
        ),
        migrations.AddField(
            model_name="work",
            name="workshop",
            field=models.ForeignKey(
                on_delete=django.db.models.deletion.CASCADE, related_name="work", to="workshop.workshop"
            ),
        ),
        migrations.AddField(
            model_name="vehicle",
            name="workshop",
            field=models.ForeignKey(
                on_delete=django.db.models.deletion.CASCADE, related_name="vehicles", to="workshop.workshop"
            ),
        ),
        migrations.CreateModel(
            name="ShelfRecord",
            fields=[
                ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
                ("content", models.JSONField()),
                ("version", models.PositiveIntegerField(default=1)),
                (
                    "workshop",
                    models.ForeignKey(
                        on_delete=django.db.models.deletion.CASCADE, related_name="shelf", to="workshop.workshop"
                    ),
                ),
            ],
            options={
                "ordering": ("id",),
            },
        ),
        migrations.CreateModel(
            name="OwnTemplate",
            fields=[
                ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
                ("job", models.JSONField()),
                ("version", models.PositiveIntegerField(default=1)),
                (
                    "workshop",
                    models.ForeignKey(
                        on_delete=django.db.models.deletion.CASCADE,
                        related_name="own_templates",
                        to="workshop.workshop",
                    ),
                ),
            ],
            options={
                "ordering": ("id",),
            },
        ),
        migrations.CreateModel(
            name="Member",
            fields=[
                ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
                ("role", models.CharField(default="member", max_length=60)),
                ("may_edit", models.BooleanField(default=True)),
                ("units", models.CharField(default="metric", max_length=10)),
                (
                    "user",
                    models.OneToOneField(
                        on_delete=django.db.models.deletion.CASCADE, related_name="member", to=settings.AUTH_USER_MODEL
                    ),
                ),
                (
                    "workshop",
                    models.ForeignKey(
                        on_delete=django.db.models.deletion.CASCADE, related_name="members", to="workshop.workshop"
                    ),
                ),
            ],
        ),
        migrations.CreateModel(
            name="AuditEntry",
            fields=[
                ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
                ("author_role", models.CharField(blank=True, max_length=60)),
                ("at", models.DateTimeField(auto_now_add=True)),
                ("action", models.CharField(max_length=30)),
                ("subject", models.CharField(max_length=200)),
                ("before", models.JSONField(null=True)),
                ("after", models.JSONField(null=True)),
                (
                    "author",
                    models.ForeignKey(
                        null=True, on_delete=django.db.models.deletion.SET_NULL, to=settings.AUTH_USER_MODEL
                    ),
                ),
                (
                    "workshop",
                    models.ForeignKey(
                        on_delete=django.db.models.deletion.CASCADE, related_name="audit", to="workshop.workshop"
                    ),
                ),
            ],
            options={
                "ordering": ("-id",),
            },
        ),
        migrations.CreateModel(
            name="WriteKey",
            fields=[
                ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
                ("key", models.CharField(max_length=80)),
                ("fingerprint", models.CharField(max_length=64)),
                ("status", models.PositiveSmallIntegerField(default=0)),
                ("content_type", models.CharField(blank=True, max_length=80)),
                ("body", models.BinaryField(default=bytes)),
                ("created_at", models.DateTimeField(auto_now_add=True)),
                (
                    "user",
                    models.ForeignKey(
                        on_delete=django.db.models.deletion.CASCADE,
                        related_name="write_keys",
                        to=settings.AUTH_USER_MODEL,
                    ),
                ),
            ],
        ),
        migrations.CreateModel(
            name="FaultEntry",
            fields=[
                ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
                ("key", models.CharField(max_length=64)),
                ("content", models.JSONField()),
                ("by_role", models.CharField(blank=True, max_length=60)),
                ("at", models.DateTimeField(auto_now_add=True)),
                ("applied", models.PositiveIntegerField(null=True)),
                (
                    "fault",
                    models.ForeignKey(
                        on_delete=django.db.models.deletion.CASCADE, related_name="entries", to="workshop.faultrecord"
                    ),
                ),
            ],
            options={
                "ordering": ("id",),
                "constraints": [models.UniqueConstraint(fields=("fault", "key"), name="fault_entry_once")],
            },
        ),
        migrations.AddConstraint(
            model_name="faultrecord",
            constraint=models.CheckConstraint(
                condition=models.Q(
                    ("closed_at", None),
                    models.Q(("cause", ""), _negated=True),
                    models.Q(("remark", ""), _negated=True),
                    _connector="OR",
                ),
                name="fault_closed_with_cause_or_remark",
            ),
        ),
        migrations.AddConstraint(
            model_name="practicerecord",
            constraint=models.CheckConstraint(
                condition=models.Q(
                    ("ended_at", None), models.Q(("minutes__isnull", False), ("points__isnull", False)), _connector="OR"
                ),
                name="practice_ended_has_points",
            ),
        ),
        migrations.AddConstraint(
            model_name="originalpiece",
            constraint=models.UniqueConstraint(fields=("recording", "number"), name="piece_once_per_recording"),
        ),
        migrations.AddConstraint(
            model_name="revision",
            constraint=models.UniqueConstraint(
                fields=("installation", "number"), name="revision_number_once_per_installation"
            ),
        ),
        migrations.AddConstraint(
            model_name="revision",
            constraint=models.CheckConstraint(condition=models.Q(("number__gte", 1)), name="revisions_count_from_one"),
        ),
        migrations.AddConstraint(
            model_name="revision",
            constraint=models.CheckConstraint(
                condition=models.Q(("document__version__in", (1, 2))), name="revision_document_version"
            ),
        ),
        migrations.AddConstraint(
            model_name="revision",
            constraint=models.CheckConstraint(
                condition=models.Q(("shown_kmh__gte", 0), ("true_kmh__gt", 0)), name="revision_speeds_positive"
            ),
        ),
        migrations.AddConstraint(
            model_name="revision",
            constraint=models.CheckConstraint(
                condition=models.Q(("shown_before_kmh__isnull", True), ("number__gt", 1), _connector="OR"),
                name="first_revision_has_no_before",
            ),
        ),
        migrations.AddConstraint(
            model_name="samples",
            constraint=models.UniqueConstraint(
                fields=("recording", "version", "stream", "number"), name="samples_once"
            ),
        ),
        migrations.AddConstraint(
            model_name="sheetrecord",
            constraint=models.CheckConstraint(
                condition=models.Q(("signed_at", None), models.Q(("signed_by", ""), _negated=True), _connector="OR"),
                name="sheet_signed_by_somebody",
            ),
        ),
        migrations.AddConstraint(
            model_name="sheetlink",
            constraint=models.CheckConstraint(
                condition=models.Q(("units__in", ("metric", "imperial", "miles_mm", "nautical"))),
                name="link_units_known",
            ),
        ),
        migrations.AddConstraint(
            model_name="sheetentry",
            constraint=models.UniqueConstraint(fields=("sheet", "key"), name="entry_once_per_sheet"),
        ),
        migrations.AddConstraint(
            model_name="photo",
            constraint=models.UniqueConstraint(fields=("sheet", "key"), name="photo_once_per_sheet"),
        ),
        migrations.AddConstraint(
            model_name="task",
            constraint=models.CheckConstraint(condition=models.Q(("text", ""), _negated=True), name="task_has_a_text"),
        ),
        migrations.AddConstraint(
            model_name="task",
            constraint=models.CheckConstraint(
                condition=models.Q(("stage__in", ("wheel", "drive", "target", "sensor", "signal", "readout"))),
                name="task_on_a_known_stage",
            ),
        ),
        migrations.AddConstraint(
            model_name="recordingrecord",
            constraint=models.CheckConstraint(
                condition=models.Q(("state__in", ("sending", "reading", "ready", "failed"))),
                name="recording_state_known",
            ),
        ),
        migrations.AddConstraint(
            model_name="recordingrecord",
            constraint=models.CheckConstraint(
                condition=models.Q(
                    ("summary__isnull", False), models.Q(("state", "ready"), _negated=True), _connector="OR"
                ),
                name="recording_ready_is_read",
            ),
        ),
        migrations.AddConstraint(
            model_name="note",
            constraint=models.CheckConstraint(
                condition=models.Q(("kind__in", ("note", "odometer", "hours", "tread"))), name="note_of_a_known_kind"
            ),
        ),
        migrations.AddConstraint(
            model_name="note",
            constraint=models.CheckConstraint(
                condition=models.Q(("value__isnull", False), models.Q(("text", ""), _negated=True), _connector="OR"),
                name="note_says_something",
            ),
        ),
        migrations.AddConstraint(
            model_name="installationrecord",
            constraint=models.CheckConstraint(
                condition=models.Q(("head__gte", 0)), name="installation_head_not_negative"
            ),
        ),
        migrations.AddConstraint(
            model_name="dueitem",
            constraint=models.CheckConstraint(
                condition=models.Q(("text", ""), _negated=True), name="due_says_something"
            ),
        ),
        migrations.AddConstraint(
            model_name="outpiece",
            constraint=models.UniqueConstraint(fields=("work", "number"), name="out_piece_once_per_work"),
        ),
        migrations.AddIndex(
            model_name="work",
            index=models.Index(fields=["workshop", "key"], name="work_by_key"),
        ),
        migrations.AddConstraint(
            model_name="work",
            constraint=models.CheckConstraint(
                condition=models.Q(("state__in", ("waiting", "going", "done", "failed", "stopped"))),
                name="work_state_known",
            ),
        ),
        migrations.AddConstraint(
            model_name="work",
            constraint=models.CheckConstraint(
                condition=models.Q(("share__gte", 0), ("share__lte", 1)), name="work_share_is_one"
            ),
        ),
        migrations.AddConstraint(
            model_name="work",
            constraint=models.CheckConstraint(
                condition=models.Q(
                    ("result__isnull", False), models.Q(("state", "done"), _negated=True), _connector="OR"
                ),
                name="work_done_has_result",
            ),
        ),
        migrations.AddConstraint(
            model_name="vehicle",
            constraint=models.UniqueConstraint(
                condition=models.Q(("deleted_at", None)),
                fields=("workshop", "name"),
                name="vehicle_name_once_per_workshop",
            ),
        ),
        migrations.AddConstraint(
            model_name="vehicle",
            constraint=models.CheckConstraint(
                condition=models.Q(("name", ""), _negated=True), name="vehicle_has_a_name"
            ),
        ),
        migrations.AddConstraint(
            model_name="vehicle",
            constraint=models.CheckConstraint(
                condition=models.Q(
                    (
                        "kind__in",
                        (
                            "car",
                            "motorcycle",
                            "scooter",
                            "sidecar",
                            "atv",
                            "kart",
                            "land_yacht",
                            "bicycle",
                            "e_bike",
                            "velomobile",
                            "cargo_trike",
                            "boat",
                            "other",
                        ),
                    )
                ),
                name="vehicle_of_a_known_kind",
            ),
        ),
        migrations.AddConstraint(
            model_name="member",
            constraint=models.CheckConstraint(
                condition=models.Q(("units__in", ("metric", "imperial", "miles_mm", "nautical"))),
                name="member_units_known",
            ),
        ),
        migrations.AddIndex(
            model_name="auditentry",
            index=models.Index(fields=["workshop", "-id"], name="audit_newest_first"),
        ),
        migrations.AddConstraint(
            model_name="auditentry",
            constraint=models.CheckConstraint(
                condition=models.Q(
                    (
                        "action__in",
                        (
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
                            "save_shelf_part",
                            "delete_shelf_part",
                        ),
                    )
                ),
                name="audit_action_known",
            ),
        ),
        migrations.AddIndex(
            model_name="writekey",
            index=models.Index(fields=["user", "created_at"], name="write_key_age"),
        ),
        migrations.AddConstraint(
            model_name="writekey",
            constraint=models.UniqueConstraint(fields=("user", "key"), name="write_key_once_per_user"),
        ),
        migrations.RunSQL(STORAGE),
    ]
