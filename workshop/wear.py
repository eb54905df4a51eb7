"""Wear of a vehicle's tyres: the depths that were measured, their forecast, and what is due by it."""

from __future__ import annotations

from django.contrib.auth.models import User

from speedchain import evaluate
from speedchain.fields import InputError, text_of
from speedchain.service import Due, Tread, WearForecast, wear_forecast
from workshop.access import chart_of, editor, vehicle_for
from workshop.audit import record
from workshop.installations import head_of, readable
from workshop.models import DueItem, Vehicle
from workshop.tyres import WEAR
from workshop.use_cases import use_case
from workshop.vehicles import locked_vehicle, refuse_stale

TYRES = ("tyre", "wheel")
"""Parts with which a vehicle is on other tyres."""


def _treads(vehicle: Vehicle) -> list[Tread]:
    """Depths of the tread since wear was last seen to, and since a tyre was fitted: another tyre's depths say
    nothing."""
    rows = vehicle.notes.filter(kind="tread", value__isnull=False, km__isnull=False)
    done = vehicle.due_items.filter(rule=WEAR).exclude(done_at=None).order_by("-done_at").first()
    seen_to = done.done_at.date() if done is not None and done.done_at is not None else None
    since = [day for day in (seen_to, vehicle.tyres_since) if day is not None]
    if since:
        rows = rows.filter(on__gte=max(since))
    return [Tread(km, depth) for km, depth in rows.values_list("km", "value") if km is not None and depth is not None]


def wear_of(user: User, vehicle_id: int) -> WearForecast | None:
    """When wear moves the shown speed, from the tread that was measured; None where too little was."""
    vehicle = vehicle_for(user, vehicle_id)
    rows = _treads(vehicle)
    holder = vehicle.installations.first()
    document = None if holder is None else readable(head_of(holder))
    if document is None:
        return None
    circumference_mm = evaluate(document, chart_of(user)).stages[0].value
    try:
        return wear_forecast(
            rows,
            circumference_mm=circumference_mm,
            limit_pct=vehicle.wear_limit_pct,
        )
    except InputError:
        return None


@use_case("change_due")
def set_wear_limit(user: User, vehicle_id: int, base: int, limit_pct: float) -> None:
    """How much wear may move the shown speed and the false slip, before it is due. Raises `StaleError`."""
    member = editor(user)
    vehicle = locked_vehicle(member, vehicle_id)
    refuse_stale(base, vehicle.wear_limit_version)
    before, vehicle.wear_limit_pct = vehicle.wear_limit_pct, limit_pct
    vehicle.wear_limit_version += 1
    vehicle.save(update_fields=["wear_limit_pct", "wear_limit_version"])
    renew_wear(user, vehicle)
    subject = f"{vehicle.name}: limit of wear"
    record(
        member.workshop,
        member,
        "change_due",
        subject=subject,
        before={"limit_pct": before},
        after={"limit_pct": limit_pct},
    )


def renew_wear(user: User, vehicle: Vehicle) -> None:
    """The due item of the forecast of wear, in place of an open one of before."""
    vehicle.due_items.filter(done_at=None, rule=WEAR).delete()
    found = wear_of(user, vehicle.pk)
    if found is None:
        return
    text = text_of(
        "Wear: the shown speed, and the false slip against a wheel that does not wear, move by {0:g} %. Measure the "
        "circumference and enter the new setting.",
        vehicle.wear_limit_pct,
    )
    DueItem.objects.create(
        vehicle=vehicle,
        text=text,
        rule=WEAR,
        due=Due(at_km=round(min(_treads(vehicle)).km + found.limit_km)).model_dump(mode="json"),
    )
