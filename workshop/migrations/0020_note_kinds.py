"""Notes of today's kinds; in a migration of its own, since rows cannot be changed and constrained in one transaction."""

from django.db import migrations, models


class Migration(migrations.Migration):
    dependencies = [("workshop", "0019_parts")]

    operations = [
        migrations.AddConstraint(
            model_name="note",
            constraint=models.CheckConstraint(
                condition=models.Q(("kind__in", ("note", "odometer", "hours", "tread"))), name="note_of_a_known_kind"
            ),
        ),
    ]
