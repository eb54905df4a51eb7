"""Tasks under their name, entries of the audit, outlines of revisions, accounts that may only read."""

from django.conf import settings
from django.db import migrations, models
from django.db.models import Q

ACTIONS = (
    "add_vehicle",
    "change_vehicle",
    "delete_vehicle",
    "save_sheet",
    "save_chart",
    "add_installation",
    "save_installation",
    "fit_tyre",
    "delete_installation",
    "mark_task",
)
STAGES = ("wheel", "drive", "target", "sensor", "signal", "readout")


class Migration(migrations.Migration):
    dependencies = [("workshop", "0007_stages"), migrations.swappable_dependency(settings.AUTH_USER_MODEL)]

    operations = [
        migrations.RemoveConstraint("DueItem", "due_says_what"),
        migrations.RemoveConstraint("DueItem", "due_on_a_known_stage"),
        migrations.RenameModel("DueItem", "Task"),
        migrations.AlterField(
            "Task",
            "installation",
            models.ForeignKey(on_delete=models.CASCADE, related_name="tasks", to="workshop.installationrecord"),
        ),
        migrations.AddConstraint("Task", models.CheckConstraint(condition=~Q(text=""), name="task_has_a_text")),
        migrations.AddConstraint(
            "Task", models.CheckConstraint(condition=Q(stage__in=STAGES), name="task_on_a_known_stage")
        ),
        migrations.AddField("Member", "may_edit", models.BooleanField(default=True)),
        migrations.AddField("Revision", "outline", models.JSONField(null=True)),
        migrations.AddField("Revision", "outline_version", models.CharField(blank=True, max_length=40, default="")),
        migrations.AlterField("Revision", "outline_version", models.CharField(blank=True, max_length=40)),
        migrations.CreateModel(
            "AuditEntry",
            [
                ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
                ("author_role", models.CharField(blank=True, max_length=60)),
                ("at", models.DateTimeField(auto_now_add=True)),
                ("action", models.CharField(max_length=30)),
                ("subject", models.CharField(max_length=200)),
                ("before", models.JSONField(null=True)),
                ("after", models.JSONField(null=True)),
                ("author", models.ForeignKey(null=True, on_delete=models.SET_NULL, to=settings.AUTH_USER_MODEL)),
                (
                    "workshop",
                    models.ForeignKey(on_delete=models.CASCADE, related_name="audit", to="workshop.workshop"),
                ),
            ],
            {
                "ordering": ("-id",),
                "indexes": [models.Index(fields=["workshop", "-id"], name="audit_newest_first")],
                "constraints": [models.CheckConstraint(condition=Q(action__in=ACTIONS), name="audit_action_known")],
            },
        ),
    ]
