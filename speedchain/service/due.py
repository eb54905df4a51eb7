"""What is due: by a date, a distance or hours; once, or again and again."""

from __future__ import annotations

import math
from collections.abc import Sequence
from datetime import date as Date
from datetime import timedelta
from typing import Annotated, Literal, NamedTuple

import numpy as np
from dateutil.relativedelta import relativedelta
from pydantic import Field

from speedchain.fields import Day, Part, stated
from speedchain.results import result
from speedchain.uncertainty import student_factor

DueState = Literal["overdue", "soon", "later"]
SOON_DAYS = 14
SOON_SHARE = 0.05
"""A distance or hours are due soon within a twentieth of them. Common practice."""
MOST_AHEAD_DAYS = 3650


class Due(Part):
    """When something is due: on a date, at a reading of the odometer [km] or of the hours; and after how much again."""

    on: Day | None = stated(None, title="Date")
    at_km: Annotated[float, Field(ge=0, le=10_000_000)] | None = None
    at_hours: Annotated[float, Field(ge=0, le=1_000_000)] | None = None
    every_months: Annotated[int, Field(ge=1, le=240)] | None = None
    every_km: Annotated[float, Field(gt=0, le=1_000_000)] | None = None
    every_hours: Annotated[float, Field(gt=0, le=100_000)] | None = None


class Reading(NamedTuple):
    """A reading of an odometer or hour meter on a date."""

    on: Date
    value: float


@result
class Forecast:
    """When a reading will be reached: the day, and how many days earlier or later it may be."""

    on: Date
    within_days: int


def expected(due: Due, forecast: Forecast | None) -> Forecast | None:
    """The day that comes first: the one that is planned, or the one that is forecast.

    Examples
    --------
    >>> expected(Due(on=Date(2026, 5, 1)), Forecast(on=Date(2026, 6, 1), within_days=9))
    Forecast(on=datetime.date(2026, 5, 1), within_days=0)
    """
    planned = [] if due.on is None else [Forecast(on=due.on, within_days=0)]
    return min([*planned, *([forecast] if forecast else [])], key=lambda one: one.on, default=None)


def due_state(
    due: Due, *, today: Date, km: float | None, hours: float | None, forecast: Forecast | None = None
) -> DueState:
    """Whether it is overdue, due soon, or later: whichever of date, distance and hours comes first. What a forecast
    reaches within the next days is due soon: only a reading makes it overdue.

    Examples
    --------
    >>> due_state(Due(on=Date(2026, 5, 1), at_km=5000), today=Date(2026, 4, 1), km=4900, hours=None)
    'soon'
    >>> due_state(Due(at_km=5000), today=Date(2026, 4, 1), km=5000, hours=None)
    'overdue'
    """
    states: list[DueState] = []
    if due.on is not None:
        left = (due.on - today).days
        states.append("overdue" if left < 0 else "soon" if left <= SOON_DAYS else "later")
    for limit, now in ((due.at_km, km), (due.at_hours, hours)):
        if limit is not None and now is not None:
            states.append("overdue" if now >= limit else "soon" if now >= limit * (1 - SOON_SHARE) else "later")
    if forecast is not None and (forecast.on - today).days <= SOON_DAYS:
        states.append("soon")
    order: tuple[DueState, ...] = ("overdue", "soon", "later")
    return min(states, key=order.index, default="later")


def next_due(due: Due, *, done_on: Date, km: float | None, hours: float | None) -> Due | None:
    """When it is due again, counted from when it was done; None for what is done once.

    Examples
    --------
    >>> next_due(Due(on=Date(2026, 1, 31), every_months=1), done_on=Date(2026, 1, 31), km=None, hours=None).on
    datetime.date(2026, 2, 28)
    """
    changes: dict[str, Date | float] = {}
    if due.every_months is not None:
        changes["on"] = done_on + relativedelta(months=due.every_months)
    if due.every_km is not None:
        changes["at_km"] = (km if km is not None else due.at_km or 0.0) + due.every_km
    if due.every_hours is not None:
        changes["at_hours"] = (hours if hours is not None else due.at_hours or 0.0) + due.every_hours
    if not changes:
        return None
    return Due(**(due.model_dump(include={"every_months", "every_km", "every_hours"}) | changes))


def reached_on(readings: Sequence[Reading], limit: float) -> Forecast | None:
    """The day on which a reading reaches a limit; None where the readings do not rise.

    Use differs from day to day and adds up, so that the reading walks about its mean rate: it starts again from the
    last one. rate = (last − first)/days, variance of a day's use s² = Σ (Δ − rate·Δt)²/Δt/(n − 2); day = last + (limit
    − last)/rate = last + T, u² = s²·(T + T²/days)/rate², with Student's factor. With two readings no scatter is known,
    and a quarter of the time ahead is taken.

    References
    ----------
    Brownian motion with drift, its maximum-likelihood drift and variance: any textbook of stochastic processes; from
    memory. Coverage simulated in tests/core/test_service.py.

    Examples
    --------
    >>> found = reached_on([Reading(Date(2026, 1, 1), 0), Reading(Date(2026, 1, 11), 500),
    ...     Reading(Date(2026, 1, 21), 1000)], 2000)
    >>> found.on, found.within_days
    (datetime.date(2026, 2, 10), 0)
    """
    points = sorted(readings)
    if len(points) < 2 or points[-1].on == points[0].on:
        return None
    days = np.array([(item.on - points[0].on).days for item in points], dtype=float)
    values = np.array([item.value for item in points], dtype=float)
    apart, used = np.diff(days), np.diff(values)
    rate = float(values[-1] - values[0]) / float(days[-1])
    if rate <= 0:
        return None
    ahead = (limit - float(values[-1])) / rate
    if days[-1] + ahead > MOST_AHEAD_DAYS:
        return None
    if len(points) > 2:
        steps = np.maximum(apart, 0.5)  # two readings of one day are half a day apart
        variance = float(((used - rate * apart) ** 2 / steps).sum()) / (len(points) - 2)
        u_days = math.sqrt(variance * (abs(ahead) + ahead**2 / float(days[-1]))) / rate
        within = student_factor(len(points) - 2) * u_days
    else:
        within = abs(ahead) / 4
    at = days[-1] + ahead
    return Forecast(on=points[0].on + timedelta(days=round(at)), within_days=math.ceil(within - 1e-6))
