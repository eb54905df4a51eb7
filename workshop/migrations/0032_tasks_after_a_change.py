from typing import Any

from django.db import migrations, models


def mark(apps: Any, schema_editor: Any) -> None:
    """Open tasks that say of themselves that they follow a change."""
    tasks = apps.get_model("workshop", "Task").objects.filter(done_at=None)
    marked = [task.pk for task in tasks if "after the change" in str(task.text)]
    tasks.filter(pk__in=marked).update(after_change=True)


class Migration(migrations.Migration):
    dependencies = [("workshop", "0031_shelf")]

    operations = [
        migrations.AddField(model_name="task", name="after_change", field=models.BooleanField(default=False)),
        migrations.RunPython(mark, migrations.RunPython.noop),
    ]
