"""The workshop app."""

from importlib import import_module

from django.apps import AppConfig

WORKING = (
    "workshop.bench",
    "workshop.recordings",
    "workshop.answers",
    "workshop.export",
    "workshop.outline",
)
"""Modules with kinds of work: a worker needs all of them."""


class WorkshopConfig(AppConfig):
    """Vehicles, installations and revisions, each of one workshop."""

    name = "workshop"

    def ready(self) -> None:
        """Make every kind of work known."""
        for module in WORKING:
            import_module(module)
