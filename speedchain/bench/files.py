"""What the bench hands to other tools: value change dumps (IEEE 1364) and tables (RFC 4180)."""

from __future__ import annotations

import csv
from collections.abc import Iterator, Mapping, Sequence
from io import StringIO
from itertools import islice

import numpy as np
from numpy.typing import NDArray
from vcd import VCDWriter

from speedchain.fields import InputError

Array = NDArray[np.float64]
TICK_S = 1e-6
MOST_CHANGES = 2_000_000
LINES_AT_ONCE = 50_000


def levels_of(rising_s: Array, width_s: Array) -> tuple[Array, Array]:
    """Times of all changes and the level after each: up at an edge, down after its width, before the next edge.

    Examples
    --------
    >>> levels_of(np.array([1.0, 2.0]), np.array([0.25, 9.0]))[0].tolist()
    [1.0, 1.25, 2.0, 2.999]
    """
    if rising_s.size == 0:
        return np.empty(0), np.empty(0)
    spans = np.diff(rising_s)
    room = np.append(spans, spans[-1] if spans.size else 1.0) * 0.999
    down = rising_s + np.minimum(width_s, room)
    return np.column_stack([rising_s, down]).ravel(), np.tile([1.0, 0.0], rising_s.size)


def vcd(signals: Mapping[str, tuple[Array, Array]], until_s: float) -> Iterator[str]:
    """A value change dump with a tick of 1 µs, line by line.

    Parameters
    ----------
    For each wire, times of its changes, rising [s], and levels after them (0 or 1); the end [s].

    Yields
    ------
    Lines.

    Raises
    ------
    `InputError` beyond two million changes.

    References
    ----------
    IEEE 1364, value change dump, written by `pyvcd`.

    Examples
    --------
    >>> result = list(vcd({"sensor": (np.array([0.001]), np.array([1.0]))}, 0.002))
    >>> result[-3:]
    ['#1000', '1!', '#2000']
    """
    total = sum([times.size for times, _ in signals.values()])
    if total > MOST_CHANGES:
        raise InputError(
            f"{total} changes are more than the limit for one file.",
            remedy="Use a shorter time or a lower speed.",
            limit=f"at most {MOST_CHANGES}",
            value=total,
            path="seconds",
        )
    ticks = np.concatenate([np.rint(times / TICK_S) for times, _ in signals.values()]).astype(np.int64)
    levels = np.concatenate([level for _, level in signals.values()]).astype(np.int64)
    wires = np.repeat(np.arange(len(signals)), [times.size for times, _ in signals.values()])
    order = np.argsort(ticks, kind="stable")
    end = round(until_s / TICK_S)
    order = order[ticks[order] <= end]
    page = StringIO()
    with VCDWriter(page, timescale="1 us", date="", version="", init_timestamp=0) as writer:
        names = [writer.register_var("bench", "_".join(name.split()), "wire", size=1, init=0) for name in signals]
        for some in np.array_split(order, order.size // LINES_AT_ONCE + 1):
            for sample, level, wire in zip(
                ticks[some].tolist(), levels[some].tolist(), wires[some].tolist(), strict=True
            ):
                writer.change(names[wire], sample, level)
            writer.flush()
            yield from _taken(page)
        writer.close(end)
    yield from _taken(page)


def _taken(page: StringIO) -> list[str]:
    """The lines written so far, which are removed from the page."""
    lines = page.getvalue().splitlines()
    page.seek(0)
    page.truncate()
    return lines


def table(columns: Sequence[str], rows: Iterator[Sequence[object]]) -> Iterator[str]:
    """Comma-separated lines with a head.

    Examples
    --------
    >>> list(table(["time_s", "shown_kmh"], iter([(0.5, 50.25)])))
    ['time_s,shown_kmh', '0.5,50.25']
    """
    page = StringIO()
    writer = csv.writer(page, lineterminator="\n")
    writer.writerow(columns)
    while some := list(islice(rows, LINES_AT_ONCE)):
        writer.writerows([[f"{cell:.9g}" if type(cell) is float else cell for cell in row] for row in some])
        yield from _taken(page)
    yield from _taken(page)
