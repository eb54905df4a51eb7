"""The workshop app."""

from django.apps import AppConfig


class WorkshopConfig(AppConfig):
    """Vehicles, fits and revisions, each of one workshop."""

    name = "workshop"
