"""The demo world: one workshop, six vehicles, each installation in its own state of evidence."""

from __future__ import annotations

import json
from copy import deepcopy
from pathlib import Path
from typing import Any

from django.contrib.auth.models import User
from django.db import transaction

from speedchain import read_installation
from speedchain.vehicle.sheet import SheetSettings
from speedchain.vehicle.tyre_change import NewTyre
from workshop.installations import Base, add_installation, fit_tyre, save_installation
from workshop.models import Member, Vehicle, Workshop
from workshop.vehicles import add_vehicle, save_sheet

FOLDER = Path(__file__).resolve().parent.parent / "demo"


def patched(document: dict[str, Any], changes: dict[str, Any]) -> dict[str, Any]:
    """A copy of a document with the values at dotted paths replaced.

    >>> patched({"a": [{"b": 1}]}, {"a.0.b": 2})
    {'a': [{'b': 2}]}
    """
    copy = deepcopy(document)
    for path, value in changes.items():
        place: Any = copy
        *way, last = path.split(".")
        for name in way:
            place = place[int(name)] if isinstance(place, list) else place.setdefault(name, {})
        place[last] = value
    return copy


@transaction.atomic
def load_demo() -> bool:
    """Make the demo workshop; False when it is there already and left as it is."""
    if Workshop.objects.filter(is_demo=True).exists():
        return False
    world = json.loads((FOLDER / "world.json").read_text("utf-8"))
    workshop = Workshop.objects.create(name=world["workshop"], is_demo=True)
    user = User.objects.create(username="demo")
    user.set_unusable_password()
    user.save()
    Member.objects.create(user=user, workshop=workshop, role=world["role"])
    for described in world["vehicles"]:
        vehicle = add_vehicle(user, described["name"], described["kind"], described["note"])
        sheet = SheetSettings(**described.get("sheet", {})).model_dump(mode="json")
        save_sheet(user, vehicle.pk, vehicle.sheet_version, sheet)
        for name in described["installations"]:
            history = json.loads((FOLDER / f"{name}.json").read_text("utf-8"))
            _relive(vehicle, history["first"], history["then"], user)
    return True


def _relive(vehicle: Vehicle, document: dict[str, Any], then: list[dict[str, Any]], user: User) -> None:
    """One installation's history: its first document, then changes of fields and of tyres."""
    record = add_installation(user, vehicle.pk, read_installation(document))
    for number, changes in enumerate(then, start=1):
        if "tyre" in changes:
            revision = fit_tyre(
                user, record.pk, Base(number), installation=read_installation(document), new=NewTyre(**changes["tyre"])
            )
            document = revision.document
        else:
            document = patched(document, changes)
            save_installation(user, record.pk, Base(number), read_installation(document))
