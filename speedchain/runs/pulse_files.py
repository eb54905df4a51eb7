"""Captured pulses: times of edges from text (CSV), a value change dump (VCD), or a sound (WAV)."""

from __future__ import annotations

import csv
import io
import re
from collections.abc import Iterator
from typing import BinaryIO, NamedTuple, cast

import numpy as np
from numpy.typing import NDArray

from speedchain.fields import InputError, text_of
from speedchain.runs.clock import numbers
from speedchain.runs.recording import Batches, ChannelKind, Piece, Tally, broken, plain_name, whole
from speedchain.runs.table_file import (
    HEAD_BYTES,
    MOST_HEADINGS,
    blocks_of,
    cells,
    is_time,
    lines_alike,
    text_of_head,
)

Array = NDArray[np.float64]
PULSES = ChannelKind("pulses", "")
SOUND_BLOCK = 1 << 18
SOUND_LOOK_S = 10.0
SOUND_LOOK = 2_000_000
MOST_WIRES = 200
MOST_SOUND_CHANNELS = 8
LOWEST_RATE_HZ, HIGHEST_RATE_HZ = 100, 2_000_000
LONGEST_RISE = 100_000
LEAST_SWING = 1e-4
"""Of full scale: a sound that swings less holds no signal."""
USUAL_HYSTERESIS = 0.2
"""Share of the swing. Common practice."""
_SCALE = {"s": 1.0, "ms": 1e-3, "us": 1e-6, "µs": 1e-6, "ns": 1e-9}


class _EdgeLayout(NamedTuple):
    encoding: str
    separator: str
    decimal: str
    headed: bool
    names: tuple[str, ...]
    time: int
    scale: float
    wire: int | None


def _edge_layout(head: bytes) -> _EdgeLayout:
    encoding, text = text_of_head(head)
    lines = text.splitlines()[:MOST_HEADINGS]
    mark = max(";\t,|", key=lambda one: lines_alike(lines, one))
    one_column = lines and all(re.fullmatch(r"-?\d+,\d+", line.strip()) for line in lines[1:] or lines)
    before, comma, _ = lines[0].rpartition(",") if lines else ("", "", "")
    one_column = one_column and not (comma and re.search(r"[^\W\d]", before))  # two headings are two columns
    if one_column or not lines_alike(lines, mark):  # with one column, a comma stands before decimals
        mark = "\t"
    decimal = "," if mark != "," and re.search(r"\d,\d", text) else "."
    heading = [cell.strip() for cell in next(csv.reader(lines, delimiter=mark), [""])] or [""]
    headed = not _is_number(heading[0], decimal)
    place = next((at for at, name in enumerate(heading) if headed and is_time(name.replace("_", " "))), 0)
    unit = re.search(r"(ns|us|µs|ms|s)\W*$", heading[place].lower()) if headed else None
    wire = next(
        (at for at, name in enumerate(heading) if headed and re.search(r"wire|channel|signal", name, re.I)), None
    )
    return _EdgeLayout(
        encoding=encoding,
        separator=mark,
        decimal=decimal,
        headed=headed,
        names=tuple([str(at) for at in range(len(heading))]),
        time=place,
        scale=_SCALE[unit[1]] if unit else 1.0,
        wire=wire,
    )


def holds_edges(head: bytes) -> bool:
    """Whether a text file has one time in a line and no other number: pulses, not samples.

    Examples
    --------
    >>> holds_edges(b"time_ms\\n0\\n1.5\\n"), holds_edges(b"time_s,wire\\n0.1,sensor\\n0.2,sensor\\n"), holds_edges(
    ...     b"t,v\\n0,1\\n1,2\\n")
    (True, True, False)
    """
    layout = _edge_layout(head[:HEAD_BYTES])
    _, text = text_of_head(head[:HEAD_BYTES])
    rows = list(csv.reader(text.splitlines()[int(layout.headed) : MOST_HEADINGS], delimiter=layout.separator))
    several = any(
        _is_number(cell, layout.decimal) for row in rows for place, cell in enumerate(row) if place != layout.time
    )
    times = [row for row in rows if len(row) > layout.time and _is_number(row[layout.time], layout.decimal)]
    return not several and len(times) >= 2


def edge_pieces(file: BinaryIO, tally: Tally) -> Iterator[Piece]:
    """Pulses from a text file: its column of times, or its first column of numbers, one pulse in a line, by wire."""
    head = file.read(HEAD_BYTES)
    file.seek(0)
    layout = _edge_layout(head)
    skipped = int(layout.headed)
    for block in blocks_of(file, layout.encoding):
        table = cells(block, layout.separator, skipped_lines=skipped, names=list(layout.names))
        times = numbers(table[layout.names[layout.time]], layout.decimal) * layout.scale
        good = np.isfinite(times)
        tally.lines += skipped
        for line in np.flatnonzero(~good):
            tally.bad(text_of("line {0}", tally.lines + int(line) + 1))
        tally.lines += times.size
        skipped = 0
        if layout.wire is None:
            tally.kinds["pulses"] = PULSES
            yield Piece("pulses", times[good], {})
            continue
        wires = table[layout.names[layout.wire]].fill_null("").to_numpy()
        for wire in dict.fromkeys(wires[good]):
            name = plain_name(str(wire)) or "pulses"
            tally.kinds[name] = PULSES
            yield Piece(name, times[good & (wires == wire)], {})


def read_edges(data: bytes) -> Array:
    """Times [s] of the pulses in a text file.

    Raises
    ------
    `InputError` for what holds no times.

    Examples
    --------
    >>> read_edges(b"time_ms\\n0\\n1.5\\n2.5\\n").tolist(), read_edges(b"0.001\\n0.002\\n0.004\\n").tolist()
    ([0.0, 0.0015, 0.0025], [0.001, 0.002, 0.004])
    """
    tally = Tally()
    found = whole(edge_pieces(io.BytesIO(data), tally), tally)
    if not found.channels or found.channels[0].time_s.size < 2:
        raise InputError(
            "There are no times of pulses in this file.",
            remedy="Export one line per pulse, with the time of one edge, in seconds.",
            path="file",
        )
    return found.channels[0].time_s


def dump_pieces(file: BinaryIO, tally: Tally, *, rising: bool = True) -> Iterator[Piece]:
    """Pulses from a value change dump (IEEE 1364): one edge of each of its wires.

    Raises
    ------
    `InputError` for a broken file, with its line.
    """
    from vcd.reader import TokenKind, VCDParseError, tokenize

    scale, wanted, names = 1e-9, "1" if rising else "0", dict[str, str]()
    batches: dict[str, Batches] = {}
    levels: dict[str, str] = {}
    now = 0.0
    try:
        for token in tokenize(cast(io.BufferedIOBase, file)):
            match token.kind:
                case TokenKind.TIMESCALE:
                    scale = token.timescale.magnitude * _SCALE.get(token.timescale.unit.value, 1e-12)
                case TokenKind.VAR if len(names) >= MOST_WIRES:
                    raise InputError(
                        text_of("The capture has more than {0} wires.", MOST_WIRES),
                        remedy="Export the wire of the sensor alone.",
                        limit=text_of("at most {0} wires", MOST_WIRES),
                        path="file",
                    )
                case TokenKind.VAR if token.var.size == 1:
                    names[token.var.id_code] = plain_name(token.var.reference)
                case TokenKind.CHANGE_TIME:
                    now = token.time_change * scale
                case TokenKind.CHANGE_SCALAR:
                    code, value = token.scalar_change.id_code, token.scalar_change.value
                    tally.lines += 1
                    before = levels.get(code)
                    levels[code] = value
                    if value == wanted and before not in (None, value) and code in names:
                        name = names[code]
                        tally.kinds[name] = PULSES
                        batches.setdefault(name, Batches(name, ()))
                        yield from batches[name].add(now)
                case _:
                    pass
    except InputError:
        raise
    except (VCDParseError, ValueError, KeyError) as error:
        where = getattr(error, "loc", None)
        broken(tally, where.line if where else tally.lines, error, remedy="Export the capture again as a VCD file.")
    for batch in batches.values():
        yield from batch.rest()


def sound_pieces(
    file: BinaryIO,
    tally: Tally,
    *,
    threshold: float | None = None,
    hysteresis: float | None = None,
    rising: bool = True,
) -> Iterator[Piece]:
    """Pulses from a sound: where each of its channels passes a threshold, with the time between samples by a straight
    line.

    An edge counts once the signal has been beyond threshold ∓ hysteresis/2 on the other side before. Levels are shares
    of full scale; empty, the threshold lies halfway between the 2 and the 98 % quantile of the first ten seconds, and
    the hysteresis is a fifth of their distance.

    Raises
    ------
    `InputError` for what is no sound, or hardly swings.
    """
    import soundfile

    try:
        sound = soundfile.SoundFile(file)
    except (soundfile.LibsndfileError, RuntimeError) as error:
        raise InputError(
            "This sound cannot be read.", remedy="Record it as WAV, without compression.", path="file"
        ) from error
    if not (1 <= sound.channels <= MOST_SOUND_CHANNELS and LOWEST_RATE_HZ <= sound.samplerate <= HIGHEST_RATE_HZ):
        raise InputError(
            text_of("This sound has {0} channels at {1} samples a second.", sound.channels, sound.samplerate),
            remedy="Record it with one or two channels, at 8000 to 192 000 samples a second.",
            limit=text_of(
                "1 to {0} channels, {1} to {2} samples a second", MOST_SOUND_CHANNELS, LOWEST_RATE_HZ, HIGHEST_RATE_HZ
            ),
            path="file",
        )
    look = sound.read(min(int(SOUND_LOOK_S * sound.samplerate), SOUND_LOOK), always_2d=True)
    sound.seek(0)
    names = ["sound"] if sound.channels == 1 else [f"sound {place + 1}" for place in range(sound.channels)]
    edges = []
    for place in range(sound.channels):
        low, high = np.quantile(look[:, place], (0.02, 0.98)) if look.size else (0.0, 0.0)
        swing = float(high - low)
        if swing < LEAST_SWING:
            continue
        level = float(low + high) / 2 if threshold is None else threshold
        width = USUAL_HYSTERESIS * swing if hysteresis is None else hysteresis
        sign = 1.0 if rising else -1.0
        edges.append((place, _Schmitt(sign * level, width, sign)))
        tally.kinds[names[place]] = PULSES
    if not edges:
        raise InputError(
            "The recorded signal is too weak.",
            remedy="Raise the recording level, or bring the sensor nearer.",
            path="file",
        )
    begin = 0
    while (block := sound.read(SOUND_BLOCK, always_2d=True)).size:
        tally.lines += len(block)
        for place, trigger in edges:
            yield Piece(names[place], (begin + trigger.passed(block[:, place])) / sound.samplerate, {})
        begin += len(block)


class _Schmitt:
    """A threshold with hysteresis over blocks of samples."""

    def __init__(self, level: float, width: float, sign: float) -> None:
        self.level, self.width, self.sign = level, width, sign
        self.tail: Array = np.empty(0)
        """Samples of earlier blocks from the last one that was not above the threshold."""
        self.armed = False

    def passed(self, samples: Array) -> Array:
        """Places of the edges in a block, in samples from its beginning; the first may lie before it."""
        offset = self.tail.size
        values = np.concatenate([self.tail, self.sign * samples])
        new = values[offset:]
        state = np.where(new >= self.level + self.width / 2, 1, np.where(new <= self.level - self.width / 2, -1, 0))
        at = np.flatnonzero(state)
        kinds = state[at]
        before = np.concatenate([[-1 if self.armed else 1], kinds[:-1]])
        fired = at[(kinds == 1) & (before == -1)] + offset
        if at.size:
            self.armed = bool(kinds[-1] == -1)
        under = np.flatnonzero(values <= self.level)
        self.tail = values[under[-1] if under.size else -1 :][-LONGEST_RISE:]
        places = []
        for place in fired:
            first = place
            while first > 0 and values[first - 1] > self.level:  # back to where the threshold itself was passed
                first -= 1
            rise = values[first] - values[first - 1] if first > 0 else 0.0
            share = (values[first] - self.level) / rise if rise > 0 else 0.0
            places.append(first - offset - min(max(share, 0.0), 1.0))
        return np.array(places)


def _is_number(cell: str, decimal: str) -> bool:
    try:
        float(cell.replace(decimal, "."))
    except ValueError:
        return False
    return True
