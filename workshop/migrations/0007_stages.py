"""A due item belongs to a stage."""

from django.db import migrations, models


class Migration(migrations.Migration):
    dependencies = [("workshop", "0006_document_version_2")]

    operations = [
        migrations.RemoveConstraint("dueitem", "due_on_a_known_link"),
        migrations.RenameField("dueitem", "link", "stage"),
        migrations.AddConstraint(
            model_name="dueitem",
            constraint=models.CheckConstraint(
                condition=models.Q(("stage__in", ("wheel", "drive", "target", "sensor", "signal", "readout"))),
                name="due_on_a_known_stage",
            ),
        ),
    ]
