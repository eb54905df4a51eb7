"""What is read of a file: run in a process of its own (`workshop.apart`), so that nothing here knows the database."""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import suppress
from pathlib import Path
from typing import Any, BinaryIO

from pydantic import TypeAdapter

from speedchain.fields import InputError, kept
from speedchain.runs import (
    HEAD_BYTES,
    BusSignal,
    Column,
    ReadAs,
    Tally,
    columns_of,
    format_of,
    known_signals,
    pieces_of,
)
from workshop.apart import Limits

COLUMNS: TypeAdapter[tuple[Column, ...]] = TypeAdapter(tuple[Column, ...])
SIGNALS: TypeAdapter[tuple[BusSignal, ...]] = TypeAdapter(tuple[BusSignal, ...])
MEGABYTES = 400
SECONDS, SECONDS_PER_MB = 30, 6


def limits_of(size_bytes: int) -> Limits:
    """What reading a file may take: the slowest kind (FIT) needs some 4 s for a megabyte."""
    return Limits(seconds=SECONDS + SECONDS_PER_MB * size_bytes / 1e6, megabytes=MEGABYTES)


def layout(file: str, read_as: ReadAs) -> Iterator[dict[str, Any]]:
    """What kind of file this is, its columns and the signals of its bus, as plain data."""
    with Path(file).open("rb") as opened:
        head = opened.read(HEAD_BYTES)
    signals: tuple[BusSignal, ...] = ()
    with suppress(InputError):  # of a file that is no DBC; reading on says so
        signals = known_signals(read_as)
    yield {
        "format": format_of(head),
        "columns": kept(COLUMNS, columns_of(head, read_as)),
        "signals": kept(SIGNALS, signals),
    }


def pieces(file: str, read_as: ReadAs) -> Iterator[Any]:
    """The pieces of a file, each with the bytes that were read so far; at the end the tally."""
    tally = Tally()
    with Path(file).open("rb") as opened:
        counted = _Counted(opened)
        for piece in pieces_of(counted, tally, read_as):  # type: ignore[arg-type]
            yield counted.read_bytes, piece
    yield tally


class _Counted:
    """A file that counts what was read of it."""

    def __init__(self, file: BinaryIO) -> None:
        self.file, self.read_bytes = file, 0

    def read(self, size: int = -1) -> bytes:
        """Read on."""
        data = self.file.read(size)
        self.read_bytes += len(data)
        return data

    def readline(self, size: int = -1) -> bytes:
        """The next line, or some of it."""
        data = self.file.readline(size)
        self.read_bytes += len(data)
        return data

    def __getattr__(self, name: str) -> Any:
        return getattr(self.file, name)

    def __iter__(self) -> Any:
        for line in self.file:
            self.read_bytes += len(line)
            yield line
