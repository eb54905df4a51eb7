"""Any file of a recording: what kind it is, how it is read, and its pieces."""

from __future__ import annotations

import io
import re
from collections.abc import Iterator, Mapping
from typing import Annotated, BinaryIO, Literal

from pydantic import Field

from speedchain.fields import InputError, Part
from speedchain.runs.can_file import (
    LONGEST_SIGNAL,
    MOST_DBC_BYTES,
    MOST_SIGNALS,
    BusSignal,
    can_pieces,
    is_frames_table,
    signals_of,
)
from speedchain.runs.fit_file import fit_pieces
from speedchain.runs.gpx_file import gpx_pieces
from speedchain.runs.nmea_file import nmea_pieces
from speedchain.runs.pulse_files import dump_pieces, edge_pieces, holds_edges, sound_pieces
from speedchain.runs.recording import Piece, Recording, Tally, in_order, whole
from speedchain.runs.roles import Role
from speedchain.runs.table_file import (
    HEAD_BYTES,
    MOST_COLUMNS,
    UNITS,
    Column,
    Meaning,
    TableLayout,
    layout_of,
    table_pieces,
)
from speedchain.runs.track_files import with_place_speed

Format = Literal["table", "pulses", "gpx", "nmea", "fit", "candump", "asc", "trc", "blf", "can_csv", "vcd", "wav"]
LONGEST_ROLE_NAME = 200
"""Channels that were computed have longer names than those of a file."""
Level = Annotated[float, Field(ge=-1, le=1)]
_CANDUMP = re.compile(r"^\s*\(\d+\.\d+\)\s+\S+\s+[0-9A-F]+#", re.IGNORECASE)
_ASC = re.compile(r"^(date |base (hex|dec)|\s*\d+\.\d+\s+\d+\s+[0-9A-F]+x?\s+(Rx|Tx)\s)", re.IGNORECASE)


class ColumnAs(Part):
    """What a person says a column is."""

    meaning: Meaning
    unit: str = Field("", max_length=24)


class ReadAs(Part):
    """How a file is read, where a person knows better: columns of a table; DBC and signals of a bus; levels of a
    sound."""

    columns: tuple[ColumnAs, ...] | None = Field(None, max_length=MOST_COLUMNS)
    dbc: str = Field("", max_length=MOST_DBC_BYTES)
    signals: tuple[Annotated[str, Field(max_length=LONGEST_SIGNAL)], ...] | None = Field(None, max_length=MOST_SIGNALS)
    threshold: Level | None = Field(None, description="Of a sound; share of full scale.")
    hysteresis: Annotated[float, Field(ge=0, le=2)] | None = None
    rising: bool = True
    roles: Mapping[Annotated[str, Field(max_length=LONGEST_ROLE_NAME)], Role] = Field(
        {}, max_length=MOST_COLUMNS, description="What the speeds of some channels are for."
    )


def format_of(head: bytes) -> Format:
    """What kind of file this is, from its first bytes.

    Raises
    ------
    `InputError` for what is none of them.

    Examples
    --------
    >>> format_of(b"$GPRMC,100000.00,A,"), format_of(b"time,v km/h,gps km/h\\n0,1,1\\n"), format_of(
    ...     b"0.1\\n0.2\\n0.3\\n")
    ('nmea', 'table', 'pulses')
    """
    start = head.lstrip(b"\xef\xbb\xbf \r\n\t")
    if start[:4] == b"RIFF" or start[:4] == b"fLaC":
        return "wav"
    if start[:4] == b"LOGG":
        return "blf"
    if head[8:12] == b".FIT":
        return "fit"
    if start[:1] == b"<":
        if b"<gpx" in start[:4000]:
            return "gpx"
        raise InputError("This file holds no track.", remedy="Export the track as GPX.", path="file")
    text = start[:HEAD_BYTES].decode("latin-1")
    lines = text.splitlines()[:50]
    if re.search(r"^[ \t]*\$(timescale|date|version|var|comment|scope)\b", text, re.MULTILINE):
        return "vcd"
    if any(re.match(r"^[^$]{0,40}\$[A-Z]{2}[A-Z]{3},", line) for line in lines):
        return "nmea"
    if any(_CANDUMP.match(line) for line in lines):
        return "candump"
    if any(_ASC.match(line) for line in lines):
        return "asc"
    if any(line.startswith(";$FILEVERSION=") for line in lines):
        return "trc"
    if lines and is_frames_table(lines[0]):
        return "can_csv"
    return "pulses" if holds_edges(head) else "table"


def layout_as(head: bytes, read_as: ReadAs) -> TableLayout:
    """The layout of a table with what a person says of its columns, where that is of this file."""
    layout = layout_of(head)
    if read_as.columns is None or len(read_as.columns) != len(layout.columns):
        return layout
    columns = [
        Column(
            name=column.name,
            meaning=item.meaning,
            unit=item.unit if item.unit in UNITS.get(item.meaning, (item.unit,)) else next(iter(UNITS[item.meaning])),
            first=column.first,
            true=column.true,
        )
        for column, item in zip(layout.columns, read_as.columns, strict=True)
    ]
    return TableLayout(
        separator=layout.separator,
        decimal=layout.decimal,
        encoding=layout.encoding,
        skipped_lines=layout.skipped_lines,
        columns=tuple(columns),
    )


def pieces_of(file: BinaryIO, tally: Tally, read_as: ReadAs | None = None) -> Iterator[Piece]:
    """The pieces of any file of a recording, one after the other: never the whole of it at once.

    Raises
    ------
    `InputError` for a file that cannot be read; its message names the line where there is one.
    """
    read_as = read_as or ReadAs()
    head = file.read(HEAD_BYTES)
    file.seek(0)
    pieces: Iterator[Piece]
    match format_of(head):
        case "table":
            pieces = with_place_speed(table_pieces(file, layout_as(head, read_as), tally), tally)
        case "pulses":
            pieces = edge_pieces(file, tally)
        case "gpx":
            pieces = gpx_pieces(file, tally)
        case "nmea":
            pieces = nmea_pieces(file, tally)
        case "fit":
            pieces = fit_pieces(file, tally)
        case "candump" | "asc" | "trc" | "blf" | "can_csv" as bus:
            pieces = can_pieces(file, tally, dbc=read_as.dbc, wanted=read_as.signals, kind=bus)
        case "vcd":
            pieces = dump_pieces(file, tally, rising=read_as.rising)
        case "wav":
            pieces = sound_pieces(
                file, tally, threshold=read_as.threshold, hysteresis=read_as.hysteresis, rising=read_as.rising
            )
    return in_order(pieces, tally)


def read_file(data: bytes, read_as: ReadAs | None = None) -> Recording:
    """A whole file that fits into memory.

    Examples
    --------
    >>> read_file(b"$GPVTG,90,T,,M,,N,36.0,K*5B\\n").lines
    1
    """
    tally = Tally()
    return whole(pieces_of(io.BytesIO(data), tally, read_as), tally)


def columns_of(head: bytes, read_as: ReadAs) -> tuple[Column, ...]:
    """The columns of a table as they are read; none for other files."""
    return layout_as(head, read_as).columns if format_of(head) == "table" else ()


def known_signals(read_as: ReadAs) -> tuple[BusSignal, ...]:
    """The signals of the DBC that was given; none without one."""
    return signals_of(read_as.dbc) if read_as.dbc.strip() else ()
