"""Parts that were fitted, as their owner knows them, and what is due after a part or a wheel was changed."""

from __future__ import annotations

from collections.abc import Mapping
from datetime import date as Date
from datetime import timedelta
from typing import Annotated, Literal, NamedTuple

from dateutil.relativedelta import relativedelta
from pydantic import Field

from speedchain.fields import Day, Part, Plain, Words, codes_of, joined, label_of, labelled, text_of
from speedchain.service.due import Due

PartKind = Literal[
    "sensor",
    "ring",
    "magnet",
    "wheel",
    "tyre",
    "battery",
    "connector",
    "loom",
    "converter",
    "display",
    "brake",
    "other",
]
PART_KINDS = labelled(
    PartKind,
    sensor="Sensor",
    ring="Ring or encoder",
    magnet="Magnet",
    wheel="Wheel",
    tyre="Tyre",
    battery="Battery",
    connector="Connector",
    loom="Loom or lead",
    converter="Converter",
    display="Display or controller",
    brake="Brake part",
    other="Other part",
)


class FittedPart(Part):
    """A part: supplier and number are its owner's own text; `pins` says what each pin of a connector was tested to
    be."""

    kind: PartKind
    name: Annotated[str, Field(max_length=120), Plain]
    supplier: Annotated[str, Field(max_length=80), Plain] = ""
    supplier_number: Annotated[str, Field(max_length=80), Plain] = ""
    pins: Annotated[str, Field(max_length=240), Plain] = ""
    fitted_on: Day
    removed_on: Day | None = None
    note: Annotated[str, Field(max_length=240), Plain] = ""


class FollowUp(NamedTuple):
    """Something that is due after a change."""

    text: Words
    due: Due


RULES: Mapping[PartKind, tuple[tuple[Words, int], ...]] = {
    "sensor": (("New sensor: check the air gap and the plug again.", 30),),
    "ring": (
        ("New ring: enter its count in every display and controller that reads it.", 0),
        ("New ring: check the air gap and the bolts again.", 30),
    ),
    "magnet": (("New magnet: check that it is tight and check the air gap again.", 14),),
    "wheel": (
        ("Other wheel: check that its magnet or ring is fitted, and do the spin test.", 0),
        ("Other wheel: measure its rolling circumference and check the setting.", 7),
    ),
    "tyre": (("New tyre: measure the rolling circumference again, once it has run in.", 14),),
    "converter": (("New converter: test its output on the bench before driving.", 0),),
    "display": (("New display or controller: enter the setting and read it back.", 0),),
    "battery": (("New battery: read the setting of the display back, and do the spin test.", 0),),
    "brake": (
        ("Brake opened: before anyone drives, a competent person bleeds and tests it.", 0),
        ("Brake opened: check that the sensor and its lead are where they were.", 0),
    ),
    "connector": (("New connector: test its pins and wiggle it with the display on.", 0),),
    "loom": (("New loom: check that it is clear of wheel, chain and steering.", 7),),
}
"""By kind of part: what to do, and within how many days. Common practice."""
BATTERY_MONTHS: Mapping[bool, int] = {False: 24, True: 12}
"""A battery is due again after so many months; sooner on the water. Common practice."""
AFTER_JOB: Mapping[str, PartKind] = {
    "new_installation": "sensor",
    "gearbox_output": "sensor",
    "rotor_bolt_magnet": "magnet",
    "spoke_magnets": "magnet",
    "ring_swap": "ring",
    "tyre_change": "tyre",
    "wheel_swap": "wheel",
}
"""Which part a signed job has changed."""
BATTERY_STEP = "battery"


def follow_ups(kind: PartKind, on: Date, *, afloat: bool = False) -> tuple[FollowUp, ...]:
    """What is due after a part of this kind was fitted on a date; a battery is due again and again.

    Examples
    --------
    >>> [item.due.on.isoformat() for item in follow_ups("wheel", Date(2026, 5, 1))]
    ['2026-05-01', '2026-05-08']
    >>> follow_ups("battery", Date(2026, 5, 1))[0].due.on
    datetime.date(2028, 5, 1)
    """
    if kind == "battery":
        months = BATTERY_MONTHS[afloat]
        again = Due(on=on + relativedelta(months=months), every_months=months)
        return (FollowUp("Replace the battery of sensor or display.", again), *_once(kind, on))
    return _once(kind, on)


def _once(kind: PartKind, on: Date) -> tuple[FollowUp, ...]:
    return tuple([FollowUp(text, Due(on=on + timedelta(days=days))) for text, days in RULES.get(kind, ())])


def part_text(part: FittedPart) -> str:
    """A part in one line.

    Examples
    --------
    >>> part_text(FittedPart(kind="ring", name="40 teeth", supplier_number="R-40", fitted_on=Date(2026, 5, 1)))
    'Ring or encoder: 40 teeth, number R-40'
    """
    number = text_of("number {0}", part.supplier_number) if part.supplier_number else ""
    pins = text_of("pins {0}", part.pins) if part.pins else ""
    rest = [text for text in (part.name, part.supplier, number, pins, part.note) if text]
    return text_of("{0}: {1}", label_of(part.kind, codes_of(PartKind)), joined(", ", rest))
