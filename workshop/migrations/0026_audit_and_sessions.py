"""Links and calendars know the session that made them; more actions are audited."""

from django.db import migrations, models
from django.db.models import Q

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
)


class Migration(migrations.Migration):
    dependencies = [("workshop", "0025_layouts")]
    operations = [
        migrations.AddField("pairinglink", "session_key", models.CharField(blank=True, default="", max_length=40)),
        migrations.AddField("calendarfeed", "session_key", models.CharField(blank=True, default="", max_length=40)),
        migrations.RemoveConstraint("auditentry", "audit_action_known"),
        migrations.AddConstraint(
            "auditentry", models.CheckConstraint(condition=Q(action__in=ACTIONS), name="audit_action_known")
        ),
    ]
