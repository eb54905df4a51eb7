"""Parquet and pictures of it are compressed already; files as they came are compressed by the fast method."""

from django.db import migrations

FORWARD = """
ALTER TABLE workshop_samples ALTER COLUMN content SET STORAGE EXTERNAL;
ALTER TABLE workshop_samples ALTER COLUMN overview SET STORAGE EXTERNAL;
ALTER TABLE workshop_originalpiece ALTER COLUMN content SET COMPRESSION lz4;
"""
BACK = """
ALTER TABLE workshop_samples ALTER COLUMN content SET STORAGE EXTENDED;
ALTER TABLE workshop_samples ALTER COLUMN overview SET STORAGE EXTENDED;
ALTER TABLE workshop_originalpiece ALTER COLUMN content SET COMPRESSION default;
"""


class Migration(migrations.Migration):
    dependencies = [("workshop", "0014_devices")]
    operations = [migrations.RunSQL(FORWARD, BACK)]
