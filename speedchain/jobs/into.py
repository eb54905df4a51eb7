"""Where a measured value goes in the document."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping
from datetime import date as Date
from typing import Any

from speedchain.document import Installation, Torque, read_installation
from speedchain.fields import SensedAt
from speedchain.jobs.steps import Measure

ROLLED_TURNS = 3
SHAFT_WHEEL_TURNS = 10
Document = dict[str, Any]


def _roll_out(document: Document, value: str, by: str, on: Date) -> None:
    wheel = document["wheel"]
    wheel["roll_out"] = {"turns": ROLLED_TURNS, "distance_mm": value}
    wheel["method"] = "roll_out"
    wheel["verification"] = None
    wheel["measured"] |= {"by": by, "on": on.isoformat()}


def _pressure(document: Document, value: str, by: str, on: Date) -> None:
    document["wheel"]["measured"] |= {"pressure_bar": value}


def _tread(document: Document, value: str, by: str, on: Date) -> None:
    document["wheel"]["corrections"] |= {"tread_now_mm": value}


def _count(document: Document, value: str, by: str, on: Date) -> None:
    document["target"] |= {"count": value, "basis": "counted"}


def _gap(document: Document, value: str, by: str, on: Date) -> None:
    if document["placement"] is None:
        document["placement"] = {}
    document["placement"] |= {"air_gap_mm": value, "air_gap_basis": "measured"}


def _setting(document: Document, value: str, by: str, on: Date) -> None:
    document["readouts"][0]["current_setting"] = value


def _shaft_turns(document: Document, value: str, by: str, on: Date) -> None:
    drive = document["drive"]
    held = (drive["axle_ratio"] or {}).get("one_wheel_held", False)
    drive["axle_ratio"] = {
        "basis": "counted", "wheel_turns": SHAFT_WHEEL_TURNS, "shaft_turns": value, "one_wheel_held": held,
    }  # fmt: skip


OF_THE_WHEEL = frozenset(("torque_wheel", "torque_rotor", "torque_caliper", "torque_hub_nut"))
"""Fasteners that are the vehicle's own: their torque is the same whatever is sensed at that wheel."""


AXLES: Mapping[SensedAt, str] = {
    "front_left": "front", "front_right": "front", "front": "front", "rear_left": "rear", "rear_right": "rear",
    "rear": "rear",
}  # fmt: skip
"""The wheels of an axle are fastened alike. Common practice."""


def with_torques_of(installation: Installation, others: Iterable[Installation]) -> Installation:
    """The installation with the torques of the wheel's own fasteners that were asked at another one of the same axle.

    Examples
    --------
    >>> from speedchain.document import example_installation
    >>> with_torques_of(example_installation(), [example_installation()]) == example_installation()
    True
    """
    known = {item.fastener for item in installation.torques}
    lent = {
        item.fastener: item
        for other in others
        if installation.sensed_at in AXLES and AXLES[installation.sensed_at] == AXLES.get(other.sensed_at)
        for item in other.torques
        if item.fastener in OF_THE_WHEEL and item.fastener not in known
    }
    return installation.model_copy(update={"torques": (*installation.torques, *lent.values())})


def put_torque(installation: Installation, torque: Torque) -> Installation:
    """The installation with a torque from the manual, in place of an earlier one of the same fastener."""
    others = [item for item in installation.torques if item.fastener != torque.fastener]
    return installation.model_copy(update={"torques": (*others, torque)})


INTO: dict[Measure, Callable[[Document, str, str, Date], None]] = {
    "roll_out": _roll_out,
    "pressure": _pressure,
    "tread": _tread,
    "count": _count,
    "gap": _gap,
    "shaft_turns": _shaft_turns,
    "setting": _setting,
}
"""Measured values that the document holds; the others stay on the sheet."""


def put_into(installation: Installation, measure: Measure, value: str, *, by: str, on: Date) -> Installation:
    """The installation with one measured value in it. Raises `DocumentError` for a value that it cannot hold."""
    document: Document = installation.model_dump(mode="json")
    INTO[measure](document, value, by, on)
    return read_installation(document)
