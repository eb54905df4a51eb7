"""Where a measured value goes in the document."""

from __future__ import annotations

from collections.abc import Callable
from datetime import date as Date
from typing import Any

from speedchain.document import Installation, read_installation
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
