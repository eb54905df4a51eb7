"""A kept radius of less than half the track, which no vehicle can turn in, is dropped from the vehicle sheet."""

from django.db import migrations


def drop_radius(apps, editor):
    for vehicle in apps.get_model("workshop", "Vehicle").objects.filter(sheet__has_key="radius_m"):
        track_mm, radius_m = vehicle.sheet.get("track_mm"), vehicle.sheet["radius_m"]
        if track_mm is not None and radius_m is not None and radius_m < track_mm / 2000:
            vehicle.sheet["radius_m"] = None
            vehicle.save(update_fields=["sheet"])


class Migration(migrations.Migration):
    dependencies = [("workshop", "0008_tasks_audit_outline")]

    operations = [migrations.RunPython(drop_radius, migrations.RunPython.noop)]
