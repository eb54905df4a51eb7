"""The newest revision can be amended while its author goes on with the same edit."""

from django.db import migrations, models


class Migration(migrations.Migration):
    dependencies = [("workshop", "0009_turns_outside_the_track")]

    operations = [
        migrations.AddField("Revision", "edit_key", models.CharField(blank=True, default="", max_length=40)),
        migrations.AddField("Revision", "amended", models.PositiveIntegerField(default=0)),
        migrations.AddField("Revision", "amended_at", models.DateTimeField(null=True)),
    ]
