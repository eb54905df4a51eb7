"""Since when a vehicle is on its tyres, from the tyres and wheels that were entered as parts."""

from datetime import date
from typing import Any

from django.db import migrations, models


def from_parts(apps: Any, _editor: object) -> None:
    """The newest tyre or wheel of each vehicle."""
    newest: dict[int, date] = {}
    for part in apps.get_model("workshop", "PartRecord").objects.filter(content__kind__in=("tyre", "wheel")):
        on = date.fromisoformat(part.content["fitted_on"])
        newest[part.vehicle_id] = max(newest.get(part.vehicle_id, on), on)
    for vehicle, on in newest.items():
        apps.get_model("workshop", "Vehicle")._base_manager.filter(pk=vehicle).update(tyres_since=on)


class Migration(migrations.Migration):
    """The day from which depths of the tread count."""

    dependencies = [("workshop", "0027_miles_and_millimetres")]

    operations = [
        migrations.AddField(model_name="vehicle", name="tyres_since", field=models.DateField(null=True)),
        migrations.RunPython(from_parts, migrations.RunPython.noop),
    ]
