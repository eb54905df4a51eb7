"""Other tyres on a vehicle: what was measured of the tyres before says nothing of them."""

from __future__ import annotations

from datetime import date as Date

from workshop.models import DueItem, Vehicle

WEAR = "wear"
"""The rule of a due item that the forecast of wear keeps up to date."""


def tyres_changed(vehicle: Vehicle, on: Date) -> None:
    """Depths of the tread count from this day on, and what is due by the forecast of before is not due any more."""
    if vehicle.tyres_since is None or vehicle.tyres_since < on:
        vehicle.tyres_since = on
        vehicle.save(update_fields=["tyres_since"])
        DueItem.objects.filter(vehicle=vehicle, done_at=None, rule=WEAR).delete()
