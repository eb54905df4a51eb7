"""Service: what is due when, which parts are fitted, and how long a number stays true."""

from speedchain.service.due import Due, DueState, Forecast, Reading, due_state, expected, next_due, reached_on
from speedchain.service.parts import (
    AFTER_JOB,
    BATTERY_STEP,
    PART_KINDS,
    FittedPart,
    FollowUp,
    PartKind,
    follow_ups,
    part_text,
)
from speedchain.service.wear import Tread, WearForecast, wear_forecast

__all__ = [
    "AFTER_JOB",
    "BATTERY_STEP",
    "PART_KINDS",
    "Due",
    "DueState",
    "FittedPart",
    "FollowUp",
    "Forecast",
    "PartKind",
    "Reading",
    "Tread",
    "WearForecast",
    "due_state",
    "expected",
    "follow_ups",
    "next_due",
    "part_text",
    "reached_on",
    "wear_forecast",
]
