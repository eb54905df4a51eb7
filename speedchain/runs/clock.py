"""Times of a table as loggers write them: numbers, clock times, dates."""

from __future__ import annotations

from collections.abc import Callable

import numpy as np
import polars as pl
from numpy.typing import NDArray

from speedchain.runs.recording import LATEST_S

Array = NDArray[np.float64]
_CLOCK = r"^(?:(\d+):)?(\d{1,2}):(\d\d(?:\.\d+)?)\s*(?:([AaPp])\.?[Mm]\.?)?$"
_THOUSANDS = r"^[-+]?\d{1,3}(,\d{3})+(\.\d+)?$"
_CELL = pl.col("")
_PLAIN = _CELL.str.replace_all(",", "")
_DATES = (
    "%Y-%m-%d %I:%M:%S %p",
    "%m/%d/%Y %I:%M:%S %p",
    "%d/%m/%Y %I:%M:%S %p",
    "%m/%d/%Y %H:%M:%S%.f",
    "%d/%m/%Y %H:%M:%S%.f",
    "%d.%m.%Y %H:%M:%S%.f",
)


def numbers(column: pl.Series, decimal: str) -> Array:
    """Cells as numbers; NaN for what is none."""
    if column.dtype == pl.Float64:
        return column.to_numpy().copy()
    text = column.str.strip_chars()
    if decimal == ",":
        text = text.str.replace(",", ".", literal=True)
    else:
        text = (
            text.to_frame("").select(pl.when(_CELL.str.contains(_THOUSANDS)).then(_PLAIN).otherwise(_CELL)).to_series()
        )
    return text.cast(pl.Float64, strict=False).fill_null(float("nan")).to_numpy().copy()


class Clock:
    """Seconds from numbers, from hours:minutes:seconds (with AM and PM, or minutes:seconds), or from dates with a time:
    the first block tells which."""

    def __init__(self, unit: str, decimal: str) -> None:
        self.scale = {"ms": 1e-3, "us": 1e-6, "µs": 1e-6}.get(unit, 1.0)
        self.decimal = decimal
        self.written: str | None = None
        self.way: Callable[[pl.Series], Array] | None = None
        self.days = 0.0
        self.last = 0.0

    @property
    def plain(self) -> bool:
        """Whether times may be numbers with a decimal point."""
        return self.way in (None, self._number) and self.decimal == "."

    def seconds(self, column: pl.Series) -> Array:
        """The times of a block; NaN where there is none."""
        if self.way is None and column.dtype == pl.Float64:
            self.way = self._number
        elif self.way is None:
            ways = (self._number, self._of_day, self._moment)
            self.way = next((way for way in ways if np.isfinite(way(column)).mean() > 0.5), self._moment)
        found = self.way(column)
        if self.way == self._number:
            there = found[np.isfinite(found)]
            while there.size and there[0] >= LATEST_S:  # since 1970 in ms, µs or ns, whatever the heading says
                self.scale, found, there = self.scale / 1000, found / 1000, there / 1000
        if self.way == self._of_day and found.size:
            at = np.where(np.isfinite(found), np.arange(found.size), -1)
            before = np.maximum.accumulate(at)  # a line without a time is at the time of the one before
            of_day = np.where(before < 0, self.last, found[before])
            days = self.days + np.cumsum(np.diff(of_day, prepend=self.last) < -43_200)
            self.days, self.last = float(days[-1]), float(of_day[-1])
            return np.asarray(found + 86_400 * days)
        return found

    @staticmethod
    def _date_format(text: pl.Series) -> str | None:
        """How dates are written; None for those of ISO 8601, which polars finds by itself."""
        for way in _DATES:
            if text.str.to_datetime(way, strict=False).is_not_null().mean() > 0.5:  # type: ignore[operator]
                return way
        return None

    def _number(self, column: pl.Series) -> Array:
        return numbers(column, self.decimal) * self.scale

    def _of_day(self, column: pl.Series) -> Array:
        text = column.str.strip_chars().str.replace(",", ".", literal=True)
        clock = text.str.extract_groups(_CLOCK).struct.unnest()
        hours, minutes, seconds = [
            clock.to_series(place).cast(pl.Float64, strict=False).fill_null(float("nan")).to_numpy()
            for place in range(3)
        ]
        half = clock.to_series(3).str.to_lowercase().fill_null("").to_numpy()
        hours = np.where(np.isfinite(hours), hours, 0.0)
        hours = np.where(half == "", hours, hours % 12 + np.where(half == "p", 12, 0))
        return np.asarray(hours * 3600 + minutes * 60 + seconds)

    def _moment(self, column: pl.Series) -> Array:
        text = column.str.strip_chars().str.replace(",", ".", literal=True)
        self.written = self.written or self._date_format(text)
        moment = text.str.to_datetime(self.written, strict=False, time_zone="UTC", ambiguous="earliest")
        return (moment.dt.epoch("us").cast(pl.Float64) / 1e6).fill_null(float("nan")).to_numpy().copy()
