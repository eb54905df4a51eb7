"""Recordings from tables of text (CSV): separator, decimal mark, heading and units are found; bad lines are counted."""

from __future__ import annotations

import csv
import io
import re
from collections.abc import Mapping
from typing import Literal

import numpy as np
import polars as pl
from numpy.typing import NDArray

from speedchain.fields import KM_PER_MILE, KM_PER_NAUTICAL_MILE, InputError, text_of
from speedchain.results import result
from speedchain.runs.recording import Quantity, Recording, recording

Array = NDArray[np.float64]
Meaning = Literal["time", "speed", "course", "accuracy", "ignored"]
MOST_BYTES = 200_000_000
HEAD_BYTES = 65_536
MOST_HEADINGS = 40
MOST_COLUMNS = 200
MOST_DAYS = 31.0
MOST_KMH = 2000.0
"""A faster sample is a fault of the record, and counts as not recorded."""
SHOWN_ROWS = 5
SPEED_UNITS: Mapping[str, float] = {
    "km/h": 1.0,
    "mph": KM_PER_MILE,
    "m/s": 3.6,
    "kn": KM_PER_NAUTICAL_MILE,
}
_SPELLED = {
    "kmh": "km/h", "kph": "km/h", "km/hr": "km/h", "mi/h": "mph", "ms-1": "m/s", "mps": "m/s", "knots": "kn", "kt": "kn", "kts": "kn", "knot": "kn",
}  # fmt: skip
_UNIT = re.compile(r"[(\[]\s*([^)\]]+?)\s*[)\]]|[_\s](km/?h|kmh|kph|mph|m/s|kn|knots|ms|s|deg|m)$", re.IGNORECASE)
_TIME = re.compile(r"\b(time|timestamp|seconds|elapsed|t)\b|^(time|utc)", re.IGNORECASE)
_SPEED = re.compile(r"speed|velocity|^v\b|km/?h|mph|knots", re.IGNORECASE)
_COURSE = re.compile(r"course|heading|bearing", re.IGNORECASE)
_ACCURACY = re.compile(r"accuracy", re.IGNORECASE)
_TRUE = re.compile(r"gps|gnss|sat|true|reference", re.IGNORECASE)


@result
class Column:
    """A column of a table: its heading, what it seems to be, its unit, and its first values."""

    name: str
    meaning: Meaning
    unit: str
    first: tuple[str, ...]
    true: bool


@result
class TableLayout:
    """How a table is written: separator, decimal mark, encoding, lines before the values, columns."""

    separator: str
    decimal: Literal[".", ","]
    encoding: str
    skipped_lines: int
    columns: tuple[Column, ...]

    def first(self, meaning: Meaning, *, true: bool | None = None) -> Column | None:
        """The first column of a meaning; of a true speed or of another where asked."""
        return next((item for item in self.columns if item.meaning == meaning and true in (None, item.true)), None)


def layout_of(data: bytes) -> TableLayout:
    """How a table is written, from its first lines.

    Raises
    ------
    `InputError` for what is no table of text.

    Examples
    --------
    >>> found = layout_of(b"Time [s];Dash [km/h];GPS speed [m/s]\\n0,0;50,1;13,9\\n0,5;50,3;14,0\\n")
    >>> found.separator, found.decimal, [(item.name, item.meaning, item.unit, item.true) for item in found.columns]
    (';', ',', [('Time', 'time', 's', False), ('Dash', 'speed', 'km/h', False), ('GPS speed', 'speed', 'm/s', True)])
    """
    encoding, text = _text(data[:HEAD_BYTES])
    lines = text.splitlines()[:MOST_HEADINGS]
    if len(data) > HEAD_BYTES:
        lines = lines[:-1] or lines
    separator = max(";\t,|", key=lambda mark: _lines_alike(lines, mark))  # the first of equals
    rows = list(csv.reader(lines, delimiter=separator))
    decimal: Literal[".", ","] = (
        "." if separator == "," else "," if re.search(r"(^|;|\t|\|)\s*-?\d+,\d+", text) else "."
    )
    first = next((place for place, row in enumerate(rows) if _numeric(row, decimal) and len(row) > 1), None)
    if first is None:
        raise InputError(
            "There are no rows of numbers in the first lines of this file.",
            remedy="Export the recording as text: one row per sample, columns for time, shown speed and true speed.",
            path="file",
        )
    width = len(rows[first])
    if width > MOST_COLUMNS:
        raise InputError(
            text_of("The table has {0} columns.", width),
            remedy="Export the time and the speeds alone.",
            limit=text_of("at most {0} columns", MOST_COLUMNS),
            path="file",
        )
    before = [row for row in rows[:first] if len(row) == width and any(cell.strip() for cell in row)]
    names = before[0] if before else [text_of("Column {0}", place + 1) for place in range(width)]
    units = before[1] if len(before) > 1 else [""] * width
    columns = []
    for place in range(width):
        name, unit = _named(names[place], units[place])
        columns.append(
            Column(
                name=name or text_of("Column {0}", place + 1),
                meaning=_meaning(name, unit, place),
                unit=unit,
                first=tuple([row[place].strip() for row in rows[first : first + SHOWN_ROWS] if place < len(row)]),
                true=_TRUE.search(name) is not None,
            )
        )
    return TableLayout(
        separator=separator, decimal=decimal, encoding=encoding, skipped_lines=first, columns=tuple(columns)
    )


def read_table(data: bytes, layout: TableLayout) -> Recording:
    """The recording in a table: time, speeds in km/h, courses, accuracies; lines without a time are counted as bad.

    Raises
    ------
    `InputError` without a time or without a speed, or beyond 200 MB.

    Examples
    --------
    >>> text = b"time,dash mph,gps mph\\n0,62.14,60\\n1,oops,61\\nlost\\n2,63,61.5\\n"
    >>> found = read_table(text, layout_of(text))
    >>> found.time_s.tolist(), round(float(found.channels[0].values[0]), 1), found.bad_lines
    ([0.0, 1.0, 2.0], 100.0, 2)
    """
    if len(data) > MOST_BYTES:
        raise InputError(
            text_of("The file has {0:.0f} MB.", len(data) / 1e6),
            remedy="Cut the recording into shorter ones.",
            limit=text_of("at most {0:.0f} MB", MOST_BYTES / 1e6),
            path="file",
        )
    time = layout.first("time")
    if time is None or layout.first("speed") is None:
        raise InputError(
            "A column for the time and one for a speed are needed.",
            remedy="Say which columns they are.",
            path="columns",
        )
    names = [str(place) for place in range(len(layout.columns))]
    table = _frame(data, layout.encoding, layout.separator, skipped_lines=layout.skipped_lines, names=names)
    places = {id(column): str(place) for place, column in enumerate(layout.columns)}
    time_s = _times(table[places[id(time)]], time.unit, layout.decimal)
    good = np.isfinite(time_s)
    if good.any() and not np.ptp(time_s[good]) <= MOST_DAYS * 86_400:
        raise InputError(
            text_of("The times of {0} span more than {1:.0f} days.", time.name, MOST_DAYS),
            remedy="Check which column is the time, and its unit.",
            limit=text_of("at most {0:.0f} days", MOST_DAYS),
            path="columns",
        )
    channels: dict[str, tuple[Quantity, str, Array]] = {}
    meanings: Mapping[str, tuple[Quantity, str]] = {
        "speed": ("speed", "km/h"),
        "course": ("course", "°"),
        "accuracy": ("accuracy", "m"),
    }
    unread = np.zeros(time_s.size, dtype=bool)
    for column in layout.columns:
        if column.meaning not in meanings:
            continue
        values = _numbers(table[places[id(column)]], layout.decimal)
        if column.meaning == "speed":
            values = values * SPEED_UNITS[column.unit]
            values[np.abs(values) > MOST_KMH] = np.nan
        unread |= ~np.isfinite(values)
        name = column.name if column.name not in channels else f"{column.name} {len(channels) + 1}"
        channels[name] = (*meanings[column.meaning], values[good])
    bad = ~good | unread
    lines = np.flatnonzero(bad)[:SHOWN_ROWS] + layout.skipped_lines + 1
    return recording(
        time_s[good],
        channels,
        lines=int(time_s.size),
        bad_lines=int(bad.sum()),
        examples=tuple([text_of("line {0}", int(line)) for line in lines]),
    )


def read_edges(data: bytes) -> Array:
    """Times [s] of pulses from a text file: its column of times, or its first column of numbers, one pulse in a line.

    Raises
    ------
    `InputError` for what holds no times.

    Examples
    --------
    >>> read_edges(b"time_ms\\n0\\n1.5\\n2.5\\n").tolist(), read_edges(b"0.001\\n0.002\\n0.004\\n").tolist()
    ([0.0, 0.0015, 0.0025], [0.001, 0.002, 0.004])
    """
    encoding, text = _text(data[:HEAD_BYTES])
    lines = text.splitlines()[:MOST_HEADINGS]
    mark = max(";\t,|", key=lambda one: _lines_alike(lines, one))
    one_column = lines and all(re.fullmatch(r"\s*-?\d+,\d+\s*", line) for line in lines[1:] or lines)
    if one_column or not _lines_alike(lines, mark):  # with one column, a comma stands before decimals
        mark = "\t"
    decimal = "," if mark != "," and re.search(r"\d,\d", text) else "."
    heading = next(csv.reader(lines, delimiter=mark), [""])
    headed = not _is_number(heading[0] if heading else "", decimal)
    place = next((at for at, name in enumerate(heading) if headed and _TIME.search(name.replace("_", " "))), 0)
    names = [str(at) for at in range(max(len(heading), 1))]
    table = _frame(data, encoding, mark, skipped_lines=int(headed), names=names)
    times = _numbers(table[names[place]], decimal)
    times = times[np.isfinite(times)]
    if times.size < 2:
        raise InputError(
            "There are no times of pulses in this file.",
            remedy="Export one line per pulse, with the time of one edge, in seconds.",
            path="file",
        )
    name = heading[place].strip().lower() if headed else ""
    return times / (1e6 if re.search(r"(us|µs)\W*$", name) else 1000 if re.search(r"ms\W*$", name) else 1)


def _is_number(cell: str, decimal: str) -> bool:
    try:
        float(cell.replace(decimal, "."))
    except ValueError:
        return False
    return True


def usual_speeds(layout: TableLayout, recorded: Recording) -> tuple[str, str]:
    """Names of the true and the shown speed until a person says otherwise: a satellite's, and the first other one.

    Where there is one speed alone it is both.
    """
    names = [item.name for item in recorded.channels if item.quantity == "speed"]
    column = layout.first("speed", true=True)
    true = column.name if column is not None and column.name in names else names[-1]
    return true, next((name for name in names if name != true), true)


def _text(data: bytes) -> tuple[str, str]:
    for encoding in ("utf-16",) if data[:2] in (b"\xff\xfe", b"\xfe\xff") else ("utf-8", "cp1252"):
        try:
            return encoding, data.decode("utf-8-sig" if encoding == "utf-8" else encoding)
        except UnicodeDecodeError as error:
            if encoding == "utf-8" and error.start > len(data) - 4:  # a letter cut in two at the end of the head
                return encoding, data[: error.start].decode("utf-8-sig")
    raise InputError("This file is not text.", remedy="Export the recording as text (CSV).", path="file")


def _lines_alike(lines: list[str], mark: str) -> int:
    """How many lines have the same number of columns with this separator, where it is more than one."""
    counts = [len(row) for row in csv.reader(lines, delimiter=mark)]
    return max((counts.count(width) for width in counts if width > 1), default=0)


def _numeric(row: list[str], decimal: str) -> bool:
    there = [cell for cell in row if cell.strip()]
    count = sum(re.fullmatch(rf"\s*[-+]?\d[\d:TZ\-+{re.escape(decimal)}eE ]*", cell) is not None for cell in there)
    return count >= max(2, len(there) / 2)


def _named(name: str, below: str) -> tuple[str, str]:
    """A heading without its unit, and the unit."""
    found = _UNIT.search(name.strip())
    unit = (found[1] or found[2]) if found else below.strip(" []()")
    bare = (name[: found.start()] + name[found.end() :]).strip(" _") if found else name.strip()
    plain = unit.lower()
    return bare or name.strip(), _SPELLED.get(plain, plain)


def _meaning(name: str, unit: str, place: int) -> Meaning:
    if unit in SPEED_UNITS:
        return "speed"
    if _COURSE.search(name):
        return "course"
    if _ACCURACY.search(name):
        return "accuracy"
    if _TIME.search(name) or (place == 0 and unit in ("s", "ms")):
        return "time"
    return "ignored"


def _frame(data: bytes, encoding: str, separator: str, *, skipped_lines: int, names: list[str]) -> pl.DataFrame:
    """The cells of a table as text."""
    try:
        return pl.read_csv(
            io.BytesIO(data if encoding == "utf-8" else data.decode(encoding, "replace").encode()),
            has_header=False,
            separator=separator,
            skip_rows=skipped_lines,
            schema=dict.fromkeys(names, pl.String),
            truncate_ragged_lines=True,
            encoding="utf8-lossy",
            raise_if_empty=False,
        )
    except pl.exceptions.PolarsError as error:
        raise InputError(
            "This file cannot be read as a table.",
            remedy="Export the recording as text (CSV), one row per sample.",
            path="file",
        ) from error


def _numbers(column: pl.Series, decimal: str) -> Array:
    text = column.str.strip_chars()
    if decimal == ",":
        text = text.str.replace(",", ".", literal=True)
    return text.cast(pl.Float64, strict=False).fill_null(float("nan")).to_numpy().copy()


def _times(column: pl.Series, unit: str, decimal: str) -> Array:
    """Seconds from numbers, from hours:minutes:seconds, or from dates with a time."""
    values = _numbers(column, decimal)
    if np.isfinite(values).mean() > 0.5:
        return values / 1000 if unit == "ms" else values
    text = column.str.strip_chars().str.replace(",", ".", literal=True)
    clock = text.str.extract_groups(r"^(\d+):(\d\d):(\d\d(?:\.\d+)?)$").struct.unnest()
    parts = [
        clock.to_series(place).cast(pl.Float64, strict=False).fill_null(float("nan")).to_numpy() for place in range(3)
    ]
    of_day = parts[0] * 3600 + parts[1] * 60 + parts[2]
    if np.isfinite(of_day).mean() > 0.5:
        days = np.concatenate([[0.0], np.cumsum(np.diff(np.nan_to_num(of_day, nan=0.0)) < -43_200)])
        return np.asarray(of_day + 86_400 * days)
    moment = text.str.to_datetime(strict=False, time_zone="UTC", ambiguous="earliest")
    return (moment.dt.epoch("us").cast(pl.Float64) / 1e6).fill_null(float("nan")).to_numpy().copy()
