"""Recordings from tables of text (CSV): separator, decimal mark, heading and units are found; bad lines are counted."""

from __future__ import annotations

import codecs
import csv
import io
import re
from collections.abc import Iterator, Mapping
from dataclasses import replace
from typing import BinaryIO, Literal

import numpy as np
import polars as pl
from numpy.typing import NDArray

from speedchain.fields import KM_PER_MILE, KM_PER_NAUTICAL_MILE, InputError, text_of
from speedchain.results import result
from speedchain.runs.clock import Clock, numbers
from speedchain.runs.recording import (
    MOST_EXAMPLES,
    MOST_KMH,
    ChannelKind,
    Piece,
    Quantity,
    Recording,
    Tally,
    plain_name,
    whole,
)

Array = NDArray[np.float64]
Meaning = Literal[
    "time",
    "speed",
    "distance",
    "frequency",
    "engine",
    "course",
    "heading",
    "accuracy",
    "latitude",
    "longitude",
    "altitude",
    "other",
    "ignored",
]
QUANTITIES: Mapping[str, tuple[Quantity, str]] = {
    "speed": ("speed", "km/h"),
    "distance": ("distance", "m"),
    "frequency": ("frequency", "Hz"),
    "engine": ("engine", "rpm"),
    "other": ("other", ""),
    "course": ("course", "°"),
    "heading": ("heading", "°"),
    "accuracy": ("accuracy", "m"),
    "latitude": ("latitude", "°"),
    "longitude": ("longitude", "°"),
    "altitude": ("altitude", "m"),
}
BLOCK_BYTES = 4_000_000
LONGEST_LINE_BYTES = 8_000_000
HEAD_BYTES = 65_536
MOST_HEADINGS = 40
MOST_COLUMNS = 200
SHOWN_ROWS = 5
BLANKS = " "
"""What parts the cells of a table that is lined up by blanks, as many as it takes."""
_MANY_BLANKS = re.compile(rb"(?m)(?<=\S)[ \t]+(?=\S)")
LEAST_STEP_MS = 5.0
"""Whole numbers that rise by so much and more from row to row are no seconds. Our allowance."""
A_DATE_S = 1e8
"""A larger number is a moment, since 1970."""
SPEED_UNITS: Mapping[str, float] = {
    "km/h": 1.0,
    "mph": KM_PER_MILE,
    "m/s": 3.6,
    "kn": KM_PER_NAUTICAL_MILE,
}
UNITS: Mapping[str, Mapping[str, float]] = {
    "time": {"s": 1.0, "ms": 1e-3, "µs": 1e-6},
    "speed": SPEED_UNITS,
    "distance": {"m": 1.0, "km": 1000.0, "mi": 1000 * KM_PER_MILE, "nmi": 1000 * KM_PER_NAUTICAL_MILE},
    "engine": {"rpm": 1.0, "Hz": 60.0},
}
"""Units to choose from, by what a column is: how many seconds, km/h, metres or turns a minute one of them has."""
_SPELLED = {
    "hz": "Hz", "miles": "mi", "mile": "mi", "nm": "nmi", "kmh": "km/h", "kph": "km/h", "km/hr": "km/h", "mi/h": "mph",
    "ms-1": "m/s", "mps": "m/s", "knots": "kn", "kt": "kn", "kts": "kn", "knot": "kn", "deg": "°", "us": "µs",
    "1/min": "rpm", "min-1": "rpm", "r/min": "rpm", "sec": "s", "seconds": "s", "milliseconds": "ms", "millis": "ms",
} | {unit.lower(): unit for units in UNITS.values() for unit in units}  # fmt: skip
_UNIT = re.compile(
    r"[(\[]([^()\[\]]+)[)\]]|[_\s](km/?h|kmh|kph|mph|m/s|kn|knots|ms|s|deg|m|km|mi|nmi|hz)$", re.IGNORECASE
)
_TIME = re.compile(r"\b(time|timestamp|seconds|elapsed|t)\b|^(time|utc)", re.IGNORECASE)
_DISTANCE = re.compile(r"distance|odometer|\bodo\b|\btrip\b|mileage", re.IGNORECASE)
_FREQUENCY = re.compile(r"frequency|\bfreq\b|pulses per second", re.IGNORECASE)
_ENGINE = re.compile(r"\brpm\b|engine[ _]?(speed|turns)|crank[ _]?speed", re.IGNORECASE)
_COURSE = re.compile(r"course|\bcog\b|track angle", re.IGNORECASE)
_HEADING = re.compile(r"heading|bearing|\bhdg\b|compass", re.IGNORECASE)
_SPEED = re.compile(r"speed|velocity|\bsog\b|\bstw\b|\bmph\b|km/?h", re.IGNORECASE)
_NO_SPEED = re.compile(r"wind|fan|engine|crank|turbo|shaft|sensor supply", re.IGNORECASE)
_ACCURACY = re.compile(r"accuracy", re.IGNORECASE)
_PLACE: Mapping[Meaning, re.Pattern[str]] = {
    "latitude": re.compile(r"^lat(itude)?\b", re.IGNORECASE),
    "longitude": re.compile(r"^lon(gitude)?\b|^lng\b", re.IGNORECASE),
    "altitude": re.compile(r"^alt(itude)?\b|^elevation\b", re.IGNORECASE),
}
_TRUE = re.compile(r"gps|gnss|sat|true|reference", re.IGNORECASE)


@result
class Column:
    """A column of a table: its heading, what it seems to be, its unit, and its first values.

    `unit_guessed`: the file does not say the unit.
    """

    name: str
    meaning: Meaning
    unit: str
    first: tuple[str, ...]
    true: bool
    unit_guessed: bool = False


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
    encoding, text = text_of_head(data[:HEAD_BYTES])
    lines = text.splitlines()[:MOST_HEADINGS]
    if len(data) > HEAD_BYTES:
        lines = lines[:-1] or lines
    separator = max(";\t,|", key=lambda mark: lines_alike(lines, mark))  # the first of equals
    if not lines_alike(lines, separator):
        separator = BLANKS
    rows = rows_of(lines, separator)
    decimal = _decimal_of(rows, separator, text)
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
    while first and len(rows[first - 1]) == width and _numeric(rows[first - 1], decimal, least=1, share=1.0):
        first -= 1  # the display was still dark: a row of values, though there is one number in it
    before = [row for row in rows[:first] if len(row) == width and any(cell.strip() for cell in row)]
    names = before[0] if before else [text_of("Column {0}", place + 1) for place in range(width)]
    units = before[1] if len(before) > 1 else [""] * width
    columns = []
    for place in range(width):
        name, unit = _named(plain_name(names[place]), plain_name(units[place]))
        meaning = _meaning(name, unit, place)
        guessed = meaning in ("speed", "engine") and unit not in UNITS[meaning]
        columns.append(
            Column(
                name=name or text_of("Column {0}", place + 1),
                meaning=meaning,
                unit=next(iter(UNITS[meaning])) if guessed else unit,
                first=tuple([plain_name(row[place]) for row in rows[first : first + SHOWN_ROWS] if place < len(row)]),
                true=_TRUE.search(name) is not None,
                unit_guessed=guessed,
            )
        )
    if not any(column.meaning == "time" for column in columns):
        columns = _with_time(columns, decimal)
    columns = [_kept(_timed(column, decimal), decimal) for column in columns]
    return TableLayout(
        separator=separator, decimal=decimal, encoding=encoding, skipped_lines=first, columns=tuple(columns)
    )


def _with_time(columns: list[Column], decimal: str) -> list[Column]:
    """A table without a heading for the time: the first column of rising moments is one, whatever it is called."""
    for place, column in enumerate(columns):
        moments = Clock(column.unit, decimal).seconds(pl.Series(column.first, dtype=pl.String))
        if column.meaning == "ignored" and len(moments) > 1 and bool((np.diff(moments) > 0).all()):
            return [*columns[:place], replace(column, meaning="time"), *columns[place + 1 :]]
    return columns


def _timed(column: Column, decimal: str) -> Column:
    """A time whose unit the file does not say: whole numbers that rise by five and more are milliseconds."""
    if column.meaning != "time" or column.unit in UNITS["time"]:
        return column
    values = numbers(pl.Series(column.first, dtype=pl.String), decimal)
    if not np.isfinite(values).all():
        return column  # times of day, or dates
    whole_steps = values.size > 1 and bool((values == np.round(values)).all())
    in_ms = whole_steps and float(np.median(np.diff(values))) >= LEAST_STEP_MS and float(values.max()) < A_DATE_S
    return replace(column, unit="ms" if in_ms else "s", unit_guessed=True)


def _kept(column: Column, decimal: str) -> Column:
    """A column of numbers that nothing else is known of is a channel as well."""
    if column.meaning != "ignored" or not column.first:
        return column
    there = [cell for cell in column.first if cell.strip()]
    of_number = np.isfinite(numbers(pl.Series(there, dtype=pl.String), decimal))
    return replace(column, meaning="other") if there and bool(of_number.all()) else column


def table_pieces(file: BinaryIO, layout: TableLayout, tally: Tally) -> Iterator[Piece]:
    """The recording in a table, block after block: time, speeds in km/h, courses, accuracies and more.

    Lines without a time, and cells that are no number, are counted as bad; an empty cell is a gap: a receiver without a
    fix.

    Raises
    ------
    `InputError` without a time or without anything to read beside it.
    """
    time = layout.first("time")
    wanted = [(str(place), column) for place, column in enumerate(layout.columns) if column.meaning in QUANTITIES]
    if time is None or not wanted:
        raise InputError(
            "A column for the time and one for a speed are needed.",
            remedy="Say which columns they are.",
            path="columns",
        )
    place_of_time = str(next(place for place, column in enumerate(layout.columns) if column is time))
    names: dict[str, str] = {}
    for place, column in wanted:
        numbered = (f"{column.name} {number}" for number in range(2, MOST_COLUMNS + 2))
        name = next(name for name in (column.name, *numbered) if name not in tally.kinds)
        names[place] = name
        quantity, unit = QUANTITIES[column.meaning]
        unit = column.unit if quantity == "other" else unit
        tally.kinds[name] = ChannelKind(quantity, unit, column.true, text_of("column {0}", int(place) + 1))
    columns = [str(place) for place in range(len(layout.columns))]
    clock = Clock(time.unit, layout.decimal)
    skipped = layout.skipped_lines
    for block in blocks_of(file, layout.encoding):
        if _is_cut(block, layout):
            tally.bad(text_of("line {0}, which is cut", tally.lines + 1))
            tally.lines += 1
            continue
        table = _plain_numbers(block, layout.separator, skipped_lines=skipped, names=columns) if clock.plain else None
        if table is None:
            table = cells(block, layout.separator, skipped_lines=skipped, names=columns)
        time_s = clock.seconds(table[place_of_time])
        good = np.isfinite(time_s)
        bad = ~good
        values: dict[str, Array] = {}
        for place, column in wanted:
            found = numbers(table[place], layout.decimal)
            if column.meaning in UNITS:
                found *= UNITS[column.meaning].get(column.unit, 1.0)
            if column.meaning == "speed":
                found[np.abs(found) > MOST_KMH] = np.nan
            bad |= ~np.isfinite(found) & _written(table[place])
            values[names[place]] = found
        tally.lines += skipped
        if bad.any():
            for line in np.flatnonzero(bad)[:MOST_EXAMPLES]:
                tally.bad(text_of("line {0}", tally.lines + int(line) + 1), 0)
            tally.bad_lines += int(bad.sum())
        tally.lines += int(time_s.size)
        skipped = 0
        if bad.any():
            time_s, values = time_s[good], {name: of_channel[good] for name, of_channel in values.items()}
        yield Piece("", time_s, values)
    tally.lines -= layout.skipped_lines


def _is_cut(block: bytes, layout: TableLayout) -> bool:
    """Whether this is the file's last line, broken off: a logger that lost its power."""
    if block.endswith(b"\n"):
        return False
    if layout.separator == BLANKS:
        return len(block.rpartition(b"\n")[2].split()) < len(layout.columns)
    cells_there = block.count(layout.separator.encode()) + 1
    return cells_there < len(layout.columns) or block.count(b'"') % 2 == 1


def read_table(data: bytes, layout: TableLayout) -> Recording:
    """The whole recording in a table.

    Raises
    ------
    `InputError` without a time or without a speed.

    Examples
    --------
    >>> text = b"time,dash mph,gps mph\\n0,62.14,60\\n1,oops,61\\nlost\\n2,63,61.5\\n"
    >>> found = read_table(text, layout_of(text))
    >>> found.channels[0].time_s.tolist(), round(float(found.channels[0].values[0]), 1), found.bad_lines
    ([0.0, 1.0, 2.0], 100.0, 2)
    """
    tally = Tally()
    return whole(table_pieces(io.BytesIO(data), layout, tally), tally)


def text_of_head(data: bytes) -> tuple[str, str]:
    """The encoding of the head of a file, and its text."""
    for encoding in ("utf-16",) if data[:2] in (b"\xff\xfe", b"\xfe\xff") else ("utf-8", "cp1252"):
        try:
            return encoding, data.decode("utf-8-sig" if encoding == "utf-8" else encoding)
        except UnicodeDecodeError as error:
            if encoding == "utf-8" and error.start > len(data) - 4:  # a letter cut in two at the end of the head
                return encoding, data[: error.start].decode("utf-8-sig")
    raise InputError("This file is not text.", remedy="Export the recording as text (CSV).", path="file")


def rows_of(lines: list[str], separator: str) -> list[list[str]]:
    """The cells of some lines."""
    if separator == BLANKS:
        return [line.split() for line in lines]
    return list(csv.reader(lines, delimiter=separator))


def _decimal_of(rows: list[list[str]], separator: str, text: str) -> Literal[".", ","]:
    """The decimal mark: where commas part the cells, a comma within quoted ones; a comma before three digits with a
    point after them parts thousands."""
    if separator != ",":
        return "," if re.search(r"(^|[;\t| ]) *-?\d+,\d", text) else "."
    cells = [cell.strip() for row in rows for cell in row]
    commas = sum(re.fullmatch(r"-?\d+,\d+", cell) is not None for cell in cells)
    points = sum(re.fullmatch(r"-?[\d,]*\d\.\d+", cell) is not None for cell in cells)
    return "," if commas > points else "."


def lines_alike(lines: list[str], mark: str) -> int:
    """How many lines have the same number of columns with this separator, where it is more than one."""
    counts = [len(row) for row in rows_of(lines, mark)]
    return max((counts.count(width) for width in counts if width > 1), default=0)


def _numeric(row: list[str], decimal: str, least: int = 2, share: float = 0.5) -> bool:
    """Whether so many of a row's filled cells, and such a share of them, are numbers."""
    there = [cell for cell in row if cell.strip()]
    count = sum(
        re.fullmatch(rf"\s*[-+]?\d[\d:/TZ\-+{re.escape(decimal)}eE ]*([AaPp]\.?[Mm]\.?)?\s*", cell) is not None
        for cell in there
    )
    return count >= max(least, share * len(there))


def spelled(unit: str) -> str:
    """A unit as it is written here.

    >>> spelled("KPH"), spelled("knots"), spelled("bar"), spelled("V")
    ('km/h', 'kn', 'bar', 'V')
    """
    return _SPELLED.get(unit.strip().lower(), unit.strip())


def is_time(name: str) -> bool:
    """Whether a heading is of a time."""
    return _TIME.search(name) is not None


def _named(name: str, below: str) -> tuple[str, str]:
    """A heading without its unit, and the unit."""
    if spelled(name) in UNITS["time"]:
        return name.strip(), spelled(name)  # a heading that is a unit of time alone
    found = _UNIT.search(name.strip())
    unit = (found[1] or found[2]).strip() if found else below.strip(" []()")
    bare = (name[: found.start()] + name[found.end() :]).strip(" _") if found else name.strip()
    return bare or name.strip(), spelled(unit)


def _meaning(name: str, unit: str, place: int) -> Meaning:
    if unit in SPEED_UNITS:
        return "speed"
    if spelled(name) in UNITS["time"]:
        return "time"
    if unit in UNITS["distance"] and _DISTANCE.search(name):
        return "distance"
    if unit == "rpm" or _ENGINE.search(name):
        return "engine"
    if unit == "Hz" or _FREQUENCY.search(name):
        return "frequency"
    if _COURSE.search(name):
        return "course"
    if _HEADING.search(name):
        return "heading"
    if _ACCURACY.search(name):
        return "accuracy"
    for meaning, pattern in _PLACE.items():
        if pattern.search(name):
            return meaning
    if _TIME.search(name) or (place == 0 and unit in UNITS["time"]):
        return "time"
    if unit in ("", "-") and _SPEED.search(name) and not _NO_SPEED.search(name):
        return "speed"
    return "ignored"


def blocks_of(file: BinaryIO, encoding: str) -> Iterator[bytes]:
    """A file of text in blocks of whole lines, as UTF-8."""
    decoder = None if encoding == "utf-8" else codecs.getincrementaldecoder(encoding)("replace")
    rest = b""
    while raw := file.read(BLOCK_BYTES):
        decoded = raw if decoder is None else decoder.decode(raw).encode()
        block = rest + decoded.replace(b"\0", b"")  # a logger that lost its power leaves them
        end = block.rfind(b"\n") + 1
        if not end and len(block) > LONGEST_LINE_BYTES:
            raise InputError(
                "This file has no line breaks.", remedy="Export it as text, one row per sample.", path="file"
            )
        rest = block[end:]
        if end:
            yield block[:end]
    rest += b"" if decoder is None else decoder.decode(b"", True).encode()
    if rest:
        yield rest


def cells(block: bytes, separator: str, *, skipped_lines: int, names: list[str]) -> pl.DataFrame:
    """The cells of a table as text."""
    if separator == BLANKS:
        block, separator = _MANY_BLANKS.sub(b"\t", block), "\t"
    try:
        return pl.read_csv(
            io.BytesIO(block),
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


def _plain_numbers(block: bytes, separator: str, *, skipped_lines: int, names: list[str]) -> pl.DataFrame | None:
    """The cells of a block of numbers alone, read at once; None where something else is among them."""
    if separator == BLANKS:
        return None
    try:
        found = pl.read_csv(
            block,
            has_header=False,
            separator=separator,
            skip_rows=skipped_lines,
            schema=dict.fromkeys(names, pl.Float64),
        )
    except pl.exceptions.PolarsError:
        return None
    return None if any(count for count in found.null_count().row(0)) else found


def _written(column: pl.Series) -> NDArray[np.bool_]:
    """Whether anything stands in each cell."""
    if column.dtype == pl.Float64:
        return np.ones(len(column), dtype=bool)
    return (column.str.strip_chars().fill_null("") != "").to_numpy()
