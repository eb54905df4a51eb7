"""Logs of a CAN bus (candump, ASC, TRC, BLF, CSV): the signals that a DBC file describes."""

from __future__ import annotations

import base64
import binascii
import csv
import io
import logging
import re
from collections.abc import Iterator
from typing import Any, BinaryIO, Literal

from speedchain.fields import InputError, text_of
from speedchain.results import result
from speedchain.runs.recording import Batches, ChannelKind, Piece, Quantity, Tally, broken
from speedchain.runs.table_file import SPEED_UNITS, is_time, spelled

MOST_DBC_BYTES = 300_000
MOST_SIGNALS = 40
LONGEST_SIGNAL = 160
BusFormat = Literal["candump", "asc", "trc", "blf", "can_csv"]
_ID = re.compile(r"^(can[ _]?|arbitration[ _]?|message[ _]?)?id( ?\(hex\))?$", re.IGNORECASE)
_DATA = re.compile(r"^(data|payload|bytes)( ?\(hex\))?$", re.IGNORECASE)
_BYTE = re.compile(r"^(data|d|byte|b)[ _]?([0-7])$", re.IGNORECASE)
_TRUE = re.compile(r"gps|gnss|sat", re.IGNORECASE)
_QUANTITIES: dict[str, Quantity] = {"hz": "frequency", "°": "course", "m": "distance"}


@result
class BusSignal:
    """A signal of a bus: `message.signal`, its unit, and whether it seems to be a speed."""

    name: str
    unit: str
    speed: bool


def signals_of(dbc: str) -> tuple[BusSignal, ...]:
    """The signals that a DBC describes.

    Raises
    ------
    `InputError` for what is no DBC.

    Examples
    --------
    >>> found = signals_of('BO_ 291 Wheels: 8 U\\n SG_ FrontLeft : 0|16@1+ (0.01,0) [0|655] "km/h" U\\n')
    >>> found[0].name, found[0].unit, found[0].speed
    ('Wheels.FrontLeft', 'km/h', True)
    """
    return tuple(
        [
            BusSignal(
                name=f"{message.name}.{signal.name}",
                unit=spelled(signal.unit or ""),
                speed=spelled(signal.unit or "") in SPEED_UNITS,
            )
            for message in _database(dbc).messages
            for signal in message.signals
            if len(message.name) + len(signal.name) < LONGEST_SIGNAL
        ]
    )


def _database(dbc: str) -> Any:
    import cantools

    try:
        return cantools.database.load_string(dbc, "dbc", strict=False)
    except Exception as error:  # the parser's errors have no common class
        raise InputError(
            "This file is not a readable DBC file.",
            remedy="Choose the DBC file that belongs to this bus.",
            path="dbc",
        ) from error


def can_pieces(
    file: BinaryIO, tally: Tally, *, dbc: str, wanted: tuple[str, ...] | None = None, kind: BusFormat = "candump"
) -> Iterator[Piece]:
    """The wanted signals of a log, one stream a message; without a choice those that are speeds.

    Frames that the DBC does not describe are passed over; those that cannot be decoded are counted as bad.

    Raises
    ------
    `InputError` without a DBC, without a wanted signal in it, or for a broken log.
    """
    if not dbc.strip():
        raise InputError(
            "A DBC file is needed: it says which bits of which message are a speed.",
            remedy="Choose the DBC file of this bus.",
            path="dbc",
        )
    database = _database(dbc)
    chosen = wanted or tuple([signal.name for signal in signals_of(dbc) if signal.speed])
    by_id: dict[int, tuple[Any, tuple[str, ...], list[float], Batches]] = {}
    for message in database.messages:
        taken = [signal for signal in message.signals if f"{message.name}.{signal.name}" in chosen][:MOST_SIGNALS]
        if not taken:
            continue
        names = tuple([f"{message.name}.{signal.name}" for signal in taken])
        factors = []
        for name, signal in zip(names, taken, strict=True):
            unit, source = spelled(signal.unit or ""), text_of("message {0:X}", message.frame_id)
            factors.append(SPEED_UNITS.get(unit, 1.0))
            tally.kinds[name] = (
                ChannelKind("speed", "km/h", _TRUE.search(name) is not None, source)
                if unit in SPEED_UNITS
                else ChannelKind(_QUANTITIES.get(unit, "other"), unit, source=source)
            )
        by_id[message.frame_id] = (
            message,
            tuple([signal.name for signal in taken]),
            factors,
            Batches(message.name, names),
        )
    if not by_id:
        raise InputError(
            "The DBC file describes no speed.",
            remedy="Choose signals, or the DBC file that belongs to this bus.",
            path="signals",
        )
    yield from _frames(file, tally, by_id, kind=kind)


def _frames(file: BinaryIO, tally: Tally, by_id: dict[int, Any], *, kind: BusFormat) -> Iterator[Piece]:
    lines: Any = _Counted(file, tally)
    logging.getLogger("can").setLevel(logging.CRITICAL)  # broken lines are counted here, not logged
    source: Any = None
    reader: Any = None
    broken_at = -1
    while True:
        try:
            if reader is None:
                if source is None or kind != "can_csv":
                    source = _reader(kind, file, lines)
                reader = iter(source)
            frame = next(reader)
        except StopIteration:
            break
        except Exception as error:  # a broken line: the readers raise what Python raises
            if lines.number == broken_at or kind == "blf":
                broken(tally, tally.lines, error, remedy="Export the log again.")
                break
            broken_at, reader = lines.number, None
            tally.bad(text_of("line {0}", lines.number))
            continue
        if kind == "blf":
            tally.lines += 1
        found = by_id.get(frame.arbitration_id)
        if found is None or frame.is_error_frame or frame.is_remote_frame:
            continue
        message, names, factors, batch = found
        try:
            values = message.decode(bytes(frame.data), decode_choices=False)
            row = tuple([float(values[name]) * factor for name, factor in zip(names, factors, strict=True)])
        except Exception:  # a frame that is too short, or another multiplexer
            tally.bad(text_of("line {0}", lines.number))
            continue
        yield from batch.add(frame.timestamp, row)
    for _, _, _, batch in by_id.values():
        yield from batch.rest()


def _reader(kind: BusFormat, file: BinaryIO, lines: Any) -> Any:
    import can

    match kind:
        case "candump":
            return can.CanutilsLogReader(lines)
        case "asc":
            return can.ASCReader(lines)
        case "trc":
            return can.TRCReader(lines)
        case "blf":
            return can.BLFReader(file)
        case "can_csv":
            return _RowsOfFrames(lines)


def is_frames_table(heading: str) -> bool:
    """Whether this is the heading of a table of frames: their identifiers and their bytes.

    Examples
    --------
    >>> is_frames_table("Time,ID,DLC,D0,D1"), is_frames_table("timestamp;arbitration_id;data"), is_frames_table(
    ...     "time,v")
    (True, True, False)
    """
    names = [name.strip(' "') for name in re.split(r"[,;\t]", heading)]
    return any(map(_ID.match, names)) and (any(map(_DATA.match, names)) or any(map(_BYTE.match, names)))


class _RowsOfFrames:
    """Frames in a table: time [s], identifier (hexadecimal), bytes as hexadecimal in one column or eight, or as
    Base64."""

    def __init__(self, lines: Any) -> None:
        self.lines = lines
        first = lines.readline()
        self.mark = next((mark for mark in ";\t" if mark in first), ",")
        self.heading = [name.strip(' "\r\n') for name in first.split(self.mark)]

    def __iter__(self) -> Iterator[Any]:
        import can

        names = self.heading
        at_id = next(place for place, name in enumerate(names) if _ID.match(name))
        at_data = next((place for place, name in enumerate(names) if _DATA.match(name)), None)
        at_bytes = [place for place, name in enumerate(names) if _BYTE.match(name)]
        at_time = next((place for place, name in enumerate(names) if is_time(name)), 0)
        for line in iter(self.lines.readline, ""):
            row = next(csv.reader([line], delimiter=self.mark), [])
            if not any(cell.strip() for cell in row):
                continue
            number = int(row[at_id].strip().rstrip("hx"), 16)
            data = (
                b"".join([bytes([int(row[place], 16)]) for place in at_bytes if row[place].strip()])
                if at_data is None
                else _bytes_of(row[at_data])
            )
            yield can.Message(
                timestamp=float(row[at_time].replace(",", ".")),
                arbitration_id=number,
                data=data,
                is_extended_id=number > 0x7FF,
            )


def _bytes_of(cell: str) -> bytes:
    """Bytes of a cell: hexadecimal with or without spaces, else Base64 as python-can writes it."""
    plain = re.sub(r"[\s:\-]|0x", "", cell)
    try:
        return bytes.fromhex(plain)
    except ValueError:
        try:
            return base64.b64decode(cell, validate=True)
        except binascii.Error:
            raise ValueError(cell) from None


class _Counted(io.TextIOBase):
    """The lines of a file, counted."""

    def __init__(self, file: BinaryIO, tally: Tally) -> None:
        self.text = io.TextIOWrapper(file, "latin-1")
        self.tally = tally
        self.number = 0

    def readline(self, size: int | None = -1, /) -> str:  # type: ignore[override]
        """The next line."""
        line = self.text.readline()
        if line:
            self.number += 1
            self.tally.lines += 1
        return line

    def __next__(self) -> str:  # type: ignore[override]
        line = self.readline()
        if not line:
            raise StopIteration
        return line
