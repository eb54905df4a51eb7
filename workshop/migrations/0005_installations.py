"""Fits are called installations."""

import django.db.models.deletion
from django.db import migrations, models


class Migration(migrations.Migration):
    dependencies = [("workshop", "0004_versions_and_write_keys")]

    operations = [
        migrations.RenameModel("FitRecord", "InstallationRecord"),
        migrations.RenameField("Revision", "fit", "installation"),
        migrations.RenameField("DueItem", "fit", "installation"),
        migrations.AlterField(
            model_name="installationrecord",
            name="vehicle",
            field=models.ForeignKey(
                on_delete=django.db.models.deletion.CASCADE, related_name="installations", to="workshop.vehicle"
            ),
        ),
    ]
