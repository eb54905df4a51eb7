"""What is deleted lies in the bin for a while, where its name is free for others."""

import django.db.models.manager
from django.db import migrations, models
from django.db.models import Q

import workshop.models

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
MANAGERS = [("objects", workshop.models.Present()), ("everything", django.db.models.manager.Manager())]


class Migration(migrations.Migration):
    dependencies = [("workshop", "0010_amended_revisions")]

    operations = [
        *[
            migrations.AddField(model, name, field)
            for model in ("Vehicle", "InstallationRecord")
            for name, field in (
                ("deleted_at", models.DateTimeField(null=True)),
                ("deleted_by_role", models.CharField(blank=True, default="", max_length=60)),
            )
        ],
        migrations.RemoveConstraint("Vehicle", "vehicle_name_once_per_workshop"),
        migrations.AddConstraint(
            "Vehicle",
            models.UniqueConstraint(
                fields=["workshop", "name"], condition=Q(deleted_at=None), name="vehicle_name_once_per_workshop"
            ),
        ),
        migrations.RemoveConstraint("AuditEntry", "audit_action_known"),
        migrations.AddConstraint(
            "AuditEntry", models.CheckConstraint(condition=Q(action__in=ACTIONS), name="audit_action_known")
        ),
    ]
