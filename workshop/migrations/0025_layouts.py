"""What a worker found of a recording's file is kept with it; names of streams may be longer."""

from django.db import migrations, models


class Migration(migrations.Migration):
    dependencies = [("workshop", "0024_messages")]
    operations = [
        migrations.AddField("recordingrecord", "layout", models.JSONField(null=True)),
        migrations.AlterField("samples", "stream", models.CharField(max_length=500)),
    ]
