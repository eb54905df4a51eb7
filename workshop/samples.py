"""Samples in the database: chunks of a stream as Parquet, each with its statistics and a few points for drawing."""

from __future__ import annotations

import io
from collections.abc import Iterable, Iterator, Mapping, Sequence
from typing import Any, NamedTuple

import numpy as np
import polars as pl
from numpy.typing import NDArray

from speedchain.fields import as_data, from_data
from speedchain.runs import Channel, ChannelKind, Piece, Recording
from workshop.models import RecordingRecord, Samples

Array = NDArray[np.float64]
MOST_ROWS = 100_000
OVERVIEW_POINTS = 400
"""Of each channel in a chunk: so many draw it when the whole recording is looked at."""
FEW_ROWS = 2_000
"""A chunk of so many rows is its own overview."""
READ_WHOLE = 12
"""Of so many chunks at most a picture is drawn from the samples themselves."""
TIME = "time_s"
RATE = "rate"


class ChannelFacts(NamedTuple):
    """What is known of a channel without its samples."""

    name: str
    quantity: str
    unit: str
    true: bool
    stream: str
    samples: int
    from_s: float
    to_s: float
    least: float | None
    greatest: float | None
    missing: int = 0
    source: Any = ""
    """Where in the file it is from, as plain data of a text."""


def chunks_of(pieces: Iterable[Piece]) -> Iterator[tuple[int, Piece]]:
    """Pieces of any length as pieces of at most 100 000 rows, numbered within their stream."""
    waiting: dict[str, list[Piece]] = {}
    numbers: dict[str, int] = {}

    def joined(stream: str) -> Piece:
        parts = waiting.pop(stream)
        if len(parts) == 1:
            return parts[0]
        return Piece(
            stream,
            np.concatenate([part.time_s for part in parts]),
            {name: np.concatenate([part.values[name] for part in parts]) for name in parts[0].values},
        )

    def numbered(stream: str) -> int:
        numbers[stream] = numbers.get(stream, -1) + 1
        return numbers[stream]

    for piece in pieces:
        waiting.setdefault(piece.stream, []).append(piece)
        if sum(part.time_s.size for part in waiting[piece.stream]) < MOST_ROWS:
            continue
        whole = joined(piece.stream)
        full = whole.time_s.size // MOST_ROWS * MOST_ROWS
        for begin in range(0, full, MOST_ROWS):
            yield numbered(piece.stream), _cut(whole, begin, begin + MOST_ROWS)
        if full < whole.time_s.size:
            waiting[piece.stream] = [_cut(whole, full, whole.time_s.size)]
    for stream in list(waiting):
        yield numbered(stream), joined(stream)


def _cut(piece: Piece, begin: int, end: int) -> Piece:
    values = {name: of_channel[begin:end] for name, of_channel in piece.values.items()}
    return Piece(piece.stream, piece.time_s[begin:end], values)


def samples_from(recording: RecordingRecord, version: int, number: int, piece: Piece) -> Samples:
    """One chunk, ready to be stored."""
    drawn = piece.values or {RATE: rates(piece.time_s)}
    statistics = {}
    for name, values in drawn.items():
        there = values[np.isfinite(values)]
        least, greatest = (float(there.min()), float(there.max())) if there.size else (None, None)
        statistics[name] = {"least": least, "greatest": greatest, "missing": int(values.size - there.size)}
    return Samples(
        recording=recording,
        version=version,
        stream=piece.stream,
        number=number,
        begins_s=float(piece.time_s[0]),
        ends_s=float(piece.time_s[-1]),
        count=piece.time_s.size,
        statistics=statistics,
        content=_parquet(pl.DataFrame({TIME: piece.time_s, **piece.values})),
        overview=b"" if piece.time_s.size <= FEW_ROWS else _parquet(_overview(piece.time_s, drawn)),
    )


def _parquet(frame: pl.DataFrame) -> bytes:
    file = io.BytesIO()
    frame.write_parquet(file, compression="zstd", compression_level=1, statistics=False)
    return file.getvalue()


def _overview(time_s: Array, drawn: Mapping[str, Array]) -> pl.DataFrame:
    parts = []
    for name, values in drawn.items():
        at = thinned(time_s, values, OVERVIEW_POINTS)
        parts.append(pl.DataFrame({TIME: time_s[at], "value": values[at]}).with_columns(pl.lit(name).alias("channel")))
    return pl.concat(parts)


def thinned(time_s: Array, values: Array, points: int) -> NDArray[np.intp]:
    """Places of the samples that draw a curve with so many points: extremes are kept, gaps as well."""
    if time_s.size <= points:
        return np.arange(time_s.size)
    from tsdownsample import NaNMinMaxLTTBDownsampler

    even = max(points // 2 * 2, 4)
    sampler: Any = NaNMinMaxLTTBDownsampler
    return np.asarray(sampler().downsample(time_s, np.ascontiguousarray(values), n_out=even))


def rates(time_s: Array) -> Array:
    """Pulses a second, from each to the next [Hz]."""
    if time_s.size < 2:
        return np.full(time_s.size, np.nan)
    rates = 1 / np.diff(time_s)
    return np.append(rates, rates[-1])


def facts_of(
    recording: RecordingRecord, version: int, kinds: dict[str, ChannelKind], *, stream: str | None = None
) -> list[ChannelFacts]:
    """What the stored chunks hold, by channel; of one stream, or of all."""
    found: dict[str, ChannelFacts] = {}
    rows = Samples.objects.filter(recording=recording, version=version).order_by("stream", "number")
    rows = rows if stream is None else rows.filter(stream=stream)
    for chunk in rows.values("stream", "begins_s", "ends_s", "count", "statistics"):
        names = [chunk["stream"]] if RATE in chunk["statistics"] else list(chunk["statistics"])
        for name in names:
            kind = kinds[name]
            numbers = chunk["statistics"].get(name) or chunk["statistics"][RATE]
            before = found.get(name)
            found[name] = ChannelFacts(
                name=name,
                quantity=kind.quantity,
                unit=kind.unit or ("Hz" if kind.quantity == "pulses" else ""),
                true=kind.true,
                stream=chunk["stream"],
                samples=chunk["count"] + (before.samples if before else 0),
                from_s=before.from_s if before else chunk["begins_s"],
                to_s=chunk["ends_s"],
                least=_lesser(before.least if before else None, numbers["least"], min),
                greatest=_lesser(before.greatest if before else None, numbers["greatest"], max),
                missing=numbers.get("missing", 0) + (before.missing if before else 0),
                source=as_data(kind.source),
            )
    order = list(kinds)
    return sorted(found.values(), key=lambda item: order.index(item.name))


def _lesser(one: float | None, other: float | None, choose: Any) -> float | None:
    if one is None or other is None:
        return one if other is None else other
    return float(choose(one, other))


def load(recording: RecordingRecord, names: Sequence[str] | None = None) -> Recording:
    """Channels with all their samples; all of them without names."""
    facts = [ChannelFacts(**item) for item in recording.summary["channels"]]
    wanted = [item for item in facts if names is None or item.name in names]
    channels = []
    for stream in dict.fromkeys(item.stream for item in wanted):
        here = [item for item in wanted if item.stream == stream]
        columns = [TIME, *[item.name for item in here if item.quantity != "pulses"]]
        chunks = _chunks(recording, stream)
        frames = [pl.read_parquet(io.BytesIO(content), columns=columns) for content in chunks]
        frame = pl.concat(frames, rechunk=True)
        time_s = frame[TIME].to_numpy()
        channels += [
            Channel(
                name=item.name,
                quantity=item.quantity,  # type: ignore[arg-type]
                unit=item.unit,
                time_s=time_s,
                values=np.empty(0) if item.quantity == "pulses" else frame[item.name].to_numpy(),
                true=item.true,
                source=from_data(item.source),
            )
            for item in here
        ]
    summary = recording.summary
    return Recording(
        channels=tuple(channels),
        lines=summary["lines"],
        bad_lines=summary["bad_lines"],
        examples=tuple(summary["examples"]),
    )


def _chunks(recording: RecordingRecord, stream: str) -> Iterator[bytes]:
    rows = Samples.objects.filter(recording=recording, version=recording.version, stream=stream).order_by("number")
    for content in rows.values_list("content", flat=True).iterator(chunk_size=8):
        yield bytes(content)


def drawn(recording: RecordingRecord, name: str, span: tuple[float, float], points: int) -> tuple[Array, Array]:
    """A channel between two times with at most so many points: times [s] and values; of pulses their rate [Hz]."""
    item = next(ChannelFacts(**facts) for facts in recording.summary["channels"] if facts["name"] == name)
    rows = Samples.objects.filter(
        recording=recording,
        version=recording.version,
        stream=item.stream,
        ends_s__gte=span[0],
        begins_s__lte=span[1],
    ).order_by("number")
    pulses = item.quantity == "pulses"
    times, values = [], []
    if rows.count() <= READ_WHOLE:
        for content in rows.values_list("content", flat=True):
            frame = pl.read_parquet(io.BytesIO(bytes(content)), columns=[TIME] if pulses else [TIME, name])
            times.append(frame[TIME].to_numpy())
            values.append(rates(times[-1]) if pulses else frame[name].to_numpy())
    else:
        column = RATE if pulses else name
        for chunk_id, overview in rows.values_list("pk", "overview"):  # not the samples, which are large
            if overview:
                frame = pl.read_parquet(io.BytesIO(bytes(overview))).filter(pl.col("channel") == column)
                times.append(frame[TIME].to_numpy())
                values.append(frame["value"].to_numpy())
            else:
                content = Samples.objects.values_list("content", flat=True).get(pk=chunk_id)
                frame = pl.read_parquet(io.BytesIO(bytes(content)))
                times.append(frame[TIME].to_numpy())
                values.append(rates(times[-1]) if pulses else frame[name].to_numpy())
    if not times:
        return np.empty(0), np.empty(0)
    time_s, found = np.concatenate(times), np.concatenate(values)
    first, last = np.searchsorted(time_s, span)
    first, last = max(int(first) - 1, 0), int(last) + 1  # one beyond each end, so that lines go on to the edge
    time_s, found = time_s[first:last], found[first:last]
    at = thinned(time_s, found, points)
    return time_s[at], found[at]
