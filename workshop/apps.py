"""The workshop app."""

from django.apps import AppConfig


class WorkshopConfig(AppConfig):
    """Vehicles, installations and revisions, each of one workshop."""

    name = "workshop"
