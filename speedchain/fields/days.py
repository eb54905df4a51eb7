"""Days and moments of the document, within these times."""

from __future__ import annotations

from datetime import UTC, date, datetime
from typing import Annotated

from pydantic import AfterValidator

from speedchain.fields.errors import InputError

FIRST_DAY, LAST_DAY = date(1900, 1, 1), date(2199, 12, 31)


def _of_these_times(day: date) -> date:
    if not FIRST_DAY <= day <= LAST_DAY:
        raise InputError(
            "This date is too far away.",
            remedy="Enter it as 2026-05-02.",
            limit=f"{FIRST_DAY} to {LAST_DAY}",
            value=day,
        )
    return day


def _moment_of_these_times(moment: datetime) -> datetime:
    _of_these_times(moment.date())
    return moment if moment.tzinfo else moment.replace(tzinfo=UTC)


Day = Annotated[date, AfterValidator(_of_these_times)]
Moment = Annotated[datetime, AfterValidator(_moment_of_these_times)]
