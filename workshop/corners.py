"""The corners of a vehicle, filled at once."""

from __future__ import annotations

from collections.abc import Mapping
from contextlib import suppress

from django.contrib.auth.models import User
from django.utils import timezone

from speedchain import evaluate
from speedchain.bench.corners import Corner, CornerEntry, Known, corners_of, with_corner
from speedchain.fields import InputError, SpeedchainError
from workshop.access import NotFoundError, chart_from, chart_of, editor, vehicle_for
from workshop.installations import Base, head_of, locked_installation, readable, saved
from workshop.models import InstallationRecord
from workshop.outline import heads_of
from workshop.use_cases import use_case
from workshop.vehicles import StaleError


def corners_on(user: User, vehicle_id: int) -> tuple[Corner, ...]:
    """The corners of a vehicle that a controller compares; what cannot be read is left out."""
    chart = chart_of(user)
    known = []
    for head in heads_of([vehicle_for(user, vehicle_id)]).order_by("installation_id"):
        document = readable(head)
        with suppress(SpeedchainError):
            if document is not None:
                known.append(Known(head.installation_id, head.number, document, evaluate(document, chart)))
    return corners_of(known)


@use_case("save_installation")
def save_corners(user: User, vehicle_id: int, entries: Mapping[int, tuple[int, CornerEntry]], by: str) -> None:
    """What was found at the corners, each with the revision that was seen; all of it or none.

    Raises
    ------
    `StaleError` where somebody has changed a corner since; `InputError`, `DocumentError`, `NotFoundError`.
    """
    member = editor(user)
    vehicle = vehicle_for(user, vehicle_id)
    chart, on = chart_from(member.workshop.cycle_chart), timezone.now().date()
    mine = set(InstallationRecord.objects.filter(vehicle=vehicle, deleted_at=None).values_list("pk", flat=True))
    if not set(entries) <= mine:
        raise NotFoundError
    for installation_id in sorted(entries):
        locked = locked_installation(member, installation_id)
        head = head_of(locked)
        document = readable(head)
        if document is None:
            raise InputError("The newest revision cannot be read.", remedy="Correct it first.", path="rows")
        revision, entry = entries[installation_id]
        if revision != head.number:
            raise StaleError(revision, head.number, head)
        found = Known(installation_id, head.number, document, evaluate(document, chart))
        after = with_corner(found, entry, by=by.strip() or member.role, on=on)
        saved(locked, base=Base(head.number, head.amended), installation=after, member=member)
