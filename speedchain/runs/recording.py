"""A recording: channels, each over its own time, as they came out of a file or a phone."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Mapping
from dataclasses import dataclass, field
from typing import Literal, NamedTuple

import numpy as np
from numpy.typing import NDArray

from speedchain.fields import InputError, Words, text_of
from speedchain.results import result

Array = NDArray[np.float64]
Quantity = Literal[
    "speed", "distance", "latitude", "longitude", "altitude", "course", "heading", "accuracy", "frequency", "engine",
    "pulses", "other",
]  # fmt: skip
MOST_DAYS = 31.0
MOST_KMH = 2000.0
"""A faster sample is a fault of the record, and counts as not recorded."""
MOST_EXAMPLES = 5
MOST_STREAMS = 200
"""Wires, messages of a bus and the like that one file may hold."""
LONGEST_NAME = 80
LATEST_S = 253_402_300_800.0
"""The year 10 000, in seconds from 1970: a later time is none."""
MOST_LINES_LOST = 2
"""A damaged file from which less was read holds nothing."""


def plain_name(text: str) -> str:
    """What a file calls something, as it can be kept and shown: on one line, without control characters, not endless.

    Examples
    --------
    >>> plain_name("  Dash\\x00 speed\\n[km/h] "), len(plain_name("x" * 500))
    ('Dash speed [km/h]', 80)
    """
    kept = "".join([letter if letter.isprintable() else " " for letter in text[: 4 * LONGEST_NAME]])
    return " ".join(kept.split())[:LONGEST_NAME].strip()


class ChannelKind(NamedTuple):
    """What a channel holds: its quantity, its unit, whether it is taken for the true speed until a person says
    otherwise, and where in the file it is from."""

    quantity: Quantity
    unit: str
    true: bool = False
    source: Words = ""


class Piece(NamedTuple):
    """A while of one stream of a file: times [s] that rise, and values of its channels. A stream of pulses has none."""

    stream: str
    time_s: Array
    values: Mapping[str, Array]


@dataclass(slots=True)
class Tally:
    """What a file turned out to hold while it is read: its channels by name, and the lines that could not be used."""

    kinds: dict[str, ChannelKind] = field(default_factory=dict)
    lines: int = 0
    bad_lines: int = 0
    examples: list[Words] = field(default_factory=list)
    begins_s: float | None = None
    ends_s: float | None = None

    def bad(self, where: Words, count: int = 1) -> None:
        """Count what could not be used; the first few are kept as examples."""
        self.bad_lines += count
        if len(self.examples) < MOST_EXAMPLES:
            self.examples.append(where)


@result
class Channel:
    """One quantity: what it was called in the file, what it is, its times [s], which rise, and its values at them.

    Speeds are km/h, distances, altitudes and accuracies m, angles degrees, frequencies Hz, whatever unit the file had.
    NaN where nothing was recorded. A channel of pulses has times and no values.
    """

    name: str
    quantity: Quantity
    unit: str
    time_s: Array
    values: Array
    true: bool = False
    source: Words = ""

    def at(self, time_s: Array) -> Array:
        """The values at other times, along straight lines between samples; angles the short way round.

        Examples
        --------
        >>> turning = Channel(name="c", quantity="course", unit="°", time_s=np.array([0.0, 2.0]),
        ...     values=np.array([350.0, 10.0]))
        >>> turning.at(np.array([1.0])).round(6).tolist()
        [0.0]
        """
        if time_s is self.time_s:
            return self.values
        there = np.isfinite(self.values)
        if not there.any():
            return np.full(time_s.size, np.nan)
        values = self.values[there]
        if self.quantity in ("course", "heading"):
            found = np.interp(time_s, self.time_s[there], np.unwrap(values, period=360))
            return np.asarray(found % 360)
        return np.interp(time_s, self.time_s[there], values)


@result
class Recording:
    """The channels of a recording; lines of the file that could not be used are counted, with examples."""

    channels: tuple[Channel, ...]
    lines: int
    bad_lines: int
    examples: tuple[Words, ...] = ()

    def channel(self, name: str) -> Channel | None:
        """The channel of that name."""
        return next((item for item in self.channels if item.name == name), None)

    def first(self, quantity: Quantity) -> Channel | None:
        """The first channel of a quantity."""
        return next((item for item in self.channels if item.quantity == quantity), None)

    def direction(self) -> Channel | None:
        """Where it went: its course over ground, or its heading where that was not recorded."""
        return self.first("course") or self.first("heading")


def in_order(pieces: Iterable[Piece], tally: Tally) -> Iterator[Piece]:
    """Pieces whose times rise, within each and from one to the next of its stream.

    A piece is sorted; of samples at one time the first is kept; samples from before the last piece, and those whose
    time is beyond the year 10 000, count as bad.

    Raises
    ------
    `InputError` where the times span more than 31 days, or the streams are too many.
    """
    last: dict[str, float] = {}
    for piece in pieces:
        stream, times, values = piece
        if not times.size:
            continue
        if stream not in last and len(last) >= MOST_STREAMS:
            raise InputError(
                text_of("The file holds more than {0} wires or messages.", MOST_STREAMS),
                remedy="Export those that are needed alone.",
                limit=text_of("at most {0}", MOST_STREAMS),
                path="file",
            )
        if not (np.abs(times) < LATEST_S).all():
            known = np.abs(times) < LATEST_S
            tally.bad(text_of("{0}: times that are none", stream), int((~known).sum()))
            times, values = times[known], {name: of_channel[known] for name, of_channel in values.items()}
            if not times.size:
                continue
        kept: NDArray[np.intp] | slice = slice(None)
        if times.size > 1 and not np.all(times[1:] > times[:-1]):
            times, kept = np.unique(times, return_index=True)
        if (before := last.get(stream)) is not None and times[0] <= before:
            late = int(np.searchsorted(times, before, side="right"))
            tally.bad(text_of("{0}: the time goes back after {1:.3f} s", stream, before), late)
            kept = np.arange(times.size)[late:] if isinstance(kept, slice) else kept[late:]
            times = times[late:]
            if not times.size:
                continue
        last[stream] = float(times[-1])
        tally.begins_s = float(times[0]) if tally.begins_s is None else min(tally.begins_s, float(times[0]))
        tally.ends_s = float(times[-1]) if tally.ends_s is None else max(tally.ends_s, float(times[-1]))
        if not tally.ends_s - tally.begins_s <= MOST_DAYS * 86_400:
            raise InputError(
                text_of("The times span more than {0:.0f} days.", MOST_DAYS),
                remedy="Check which column is the time, and its unit.",
                limit=text_of("at most {0:.0f} days", MOST_DAYS),
                path="columns",
            )
        yield Piece(stream, times, {name: of_channel[kept] for name, of_channel in values.items()})


def broken(tally: Tally, line: int, error: Exception, *, remedy: str) -> None:
    """A file that ends or is damaged in the middle: what came before is kept, and the place is counted as bad.

    Raises
    ------
    `InputError` where nothing came before.
    """
    where = text_of("broken from line {0} on", line)
    if tally.lines < MOST_LINES_LOST:
        raise InputError(text_of("The file is broken in line {0}.", line), remedy=remedy, path="file") from error
    tally.bad(where)


def whole(pieces: Iterable[Piece], tally: Tally) -> Recording:
    """All pieces of a file as one recording.

    Examples
    --------
    >>> tally = Tally(kinds={"v": ChannelKind("speed", "km/h")})
    >>> made = whole([Piece("", np.array([1.0, 0.0, 1.0]), {"v": np.array([5.0, 4.0, 9.0])})], tally)
    >>> made.channels[0].time_s.tolist(), made.channels[0].values.tolist()
    ([0.0, 1.0], [4.0, 5.0])
    """
    parts: dict[str, list[Piece]] = {}
    for piece in in_order(pieces, tally):
        parts.setdefault(piece.stream, []).append(piece)
    channels = []
    for stream, found in parts.items():
        times = np.concatenate([piece.time_s for piece in found])
        for name in found[0].values or (stream,):
            kind = tally.kinds[name]
            channels.append(
                Channel(
                    name=name,
                    quantity=kind.quantity,
                    unit=kind.unit,
                    time_s=times,
                    values=np.concatenate([piece.values[name] for piece in found]) if found[0].values else np.empty(0),
                    true=kind.true,
                    source=kind.source,
                )
            )
    return Recording(
        channels=tuple(channels), lines=tally.lines, bad_lines=tally.bad_lines, examples=tuple(tally.examples)
    )


class Batches:
    """Samples that come one by one, as pieces of a stream.

    Examples
    --------
    >>> batches = Batches("", ("v",), 2)
    >>> [piece.time_s.tolist() for at in range(3) for piece in batches.add(float(at), (1.0,))]
    [[0.0, 1.0]]
    >>> [piece.time_s.tolist() for piece in batches.rest()]
    [[2.0]]
    """

    def __init__(self, stream: str, names: tuple[str, ...], size: int = 50_000) -> None:
        self.stream, self.names, self.size = stream, names, size
        self.times: list[float] = []
        self.rows: list[tuple[float, ...]] = []

    def add(self, time_s: float, row: tuple[float, ...] = ()) -> Iterator[Piece]:
        """Add a sample; a full piece comes out now and then."""
        self.times.append(time_s)
        if self.names:
            self.rows.append(row)
        if len(self.times) >= self.size:
            yield from self.rest()

    def rest(self) -> Iterator[Piece]:
        """What has been added since."""
        if not self.times:
            return
        columns = np.array(self.rows, dtype=float).T if self.names else ()
        yield Piece(self.stream, np.array(self.times), dict(zip(self.names, columns, strict=True)))
        self.times, self.rows = [], []
