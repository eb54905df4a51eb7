"""Channels of a recording as CSV or Parquet, with the corrected speed beside the shown one."""

from __future__ import annotations

import io
import math
import tempfile
from collections.abc import Iterator
from datetime import UTC, datetime
from typing import Any, BinaryIO

import numpy as np
import polars as pl

from speedchain.fields import InputError
from speedchain.wheel.chart import Chart
from workshop.models import OutPiece, RecordingRecord, Samples, Work
from workshop.samples import TIME
from workshop.work import Progress, handles

CORRECTED = "corrected"
PIECE_BYTES = 1_000_000
A_DATE_S = 1e8
"""Times from here on are seconds since 1970; smaller ones count from the recording's own beginning."""


def _frames(found: RecordingRecord, shown: str, ratio: float) -> Iterator[pl.DataFrame]:
    """All chunks, one after the other, each with the columns of every stream: what is not in it is empty."""
    facts = found.summary["channels"]
    names = [item["name"] for item in facts if item["quantity"] != "pulses"]
    headings = {item["name"]: _heading(item["name"], item["unit"]) for item in facts}
    pulses = any(item["quantity"] == "pulses" for item in facts)
    rows = Samples.objects.filter(recording=found, version=found.version).order_by("begins_s", "stream", "number")
    for stream, content in rows.values_list("stream", "content").iterator(chunk_size=4):
        frame = pl.read_parquet(io.BytesIO(bytes(content)))
        columns = [frame[TIME].alias("time [s]")]
        if pulses:
            columns.append(pl.Series("wire", [_safe(stream)] * frame.height, dtype=pl.String))
        for name in names:
            values = frame[name] if name in frame.columns else pl.Series(np.full(frame.height, np.nan))
            columns.append(values.alias(headings[name]))
            if name == shown:
                columns.append((values / ratio).alias(_heading(f"{name} {CORRECTED}", "km/h")))
        yield pl.DataFrame(columns).with_columns(pl.col(pl.Float64).fill_nan(None))


def _heading(name: str, unit: str) -> str:
    """A name as a heading. What a spreadsheet would take for a formula begins with an apostrophe."""
    return f"{_safe(name)} [{unit}]" if unit else _safe(name)


def _safe(name: str) -> str:
    return f"'{name}" if name[:1] in "=+-@\t" else name


def as_csv(found: RecordingRecord, shown: str = "", ratio: float = 1.0) -> Iterator[bytes]:
    """The lines of a CSV file."""
    for place, frame in enumerate(_frames(found, shown, ratio)):
        yield frame.write_csv(include_header=place == 0).encode()


def as_gpx(found: RecordingRecord, shown: str = "", ratio: float = 1.0) -> Iterator[bytes]:
    """The track as GPX 1.1, with the times where the recording has a date; with the corrected speed [m/s] as an
    extension where a shown one is named and recorded with the places."""
    names = {item["quantity"]: item["name"] for item in reversed(found.summary["channels"])}
    yield (
        b'<?xml version="1.0" encoding="UTF-8"?>\n<gpx version="1.1" creator="Wheelometron" '
        b'xmlns="http://www.topografix.com/GPX/1/1">\n<trk><trkseg>\n'
    )
    latitude, longitude, altitude = (names.get(quantity) for quantity in ("latitude", "longitude", "altitude"))
    rows = Samples.objects.filter(recording=found, version=found.version).order_by("begins_s", "number")
    for content in rows.values_list("content", flat=True).iterator(chunk_size=4):
        frame = pl.read_parquet(io.BytesIO(bytes(content)))
        if latitude not in frame.columns or longitude not in frame.columns:
            continue
        for row in frame.iter_rows(named=True):
            lat, lon = row[latitude], row[longitude]
            if not (math.isfinite(lat) and math.isfinite(lon)):
                continue
            height = row.get(altitude) if altitude else None
            ele = f"<ele>{height:.2f}</ele>" if height is not None and math.isfinite(height) else ""
            when = datetime.fromtimestamp(row[TIME], UTC).isoformat(timespec="milliseconds").replace("+00:00", "Z")
            time = f"<time>{when}</time>" if row[TIME] > A_DATE_S else ""
            kmh = row.get(shown)
            speed = (
                f"<extensions><speed>{kmh / ratio / 3.6:.3f}</speed></extensions>" if kmh and math.isfinite(kmh) else ""
            )
            yield f'<trkpt lat="{lat:.8f}" lon="{lon:.8f}">{ele}{time}{speed}</trkpt>\n'.encode()
    yield b"</trkseg></trk></gpx>\n"


def as_parquet(found: RecordingRecord, shown: str = "", ratio: float = 1.0) -> BinaryIO:
    """One Parquet file, on disk where it is large."""
    file = tempfile.SpooledTemporaryFile(max_size=8_000_000)  # noqa: SIM115
    pl.concat(list(_frames(found, shown, ratio))).write_parquet(file, compression="zstd")
    file.seek(0)
    return file  # type: ignore[return-value]


@handles("export")
def export(work: Work, chart: Chart, progress: Progress) -> Any:
    """Channels of a recording as a file, made in pieces; of one recording the newest file is kept."""
    found, asked = work.recording, work.asked
    assert found is not None
    kind, shown, ratio = asked["kind"], asked["shown"], asked["ratio"]
    content: Iterator[bytes]
    match kind:
        case "csv":
            content = as_csv(found, shown, ratio)
        case "gpx":
            if not any(item["quantity"] == "latitude" for item in found.summary["channels"]):
                raise InputError(
                    "This recording holds no places.", remedy="Record a satellite's places.", path="recording"
                )
            content = as_gpx(found, shown, ratio)
        case _:
            file = as_parquet(found, shown, ratio)
            content = iter(lambda: file.read(PIECE_BYTES), b"")
    OutPiece.objects.filter(work=work).delete()
    number = size = 0
    waiting = bytearray()
    chunks = max(Samples.objects.filter(recording=found, version=found.version).count(), 1)
    for done, part in enumerate(content):
        waiting += part
        while len(waiting) >= PIECE_BYTES:
            OutPiece.objects.create(work=work, number=number, content=bytes(waiting[:PIECE_BYTES]))
            del waiting[:PIECE_BYTES]
            number, size = number + 1, size + PIECE_BYTES
        progress(min(done / chunks, 1.0) if kind == "csv" else 0.5)
    OutPiece.objects.create(work=work, number=number, content=bytes(waiting))
    Work.objects.filter(recording=found, kind="export").exclude(pk=work.pk).delete()
    return {"name": f"{found.name.rsplit('.', 1)[0]}.{kind}", "bytes": size + len(waiting)}


def pieces_out(work: Work) -> Iterator[bytes]:
    """The file that work made, piece after piece."""
    for content in OutPiece.objects.filter(work=work).order_by("number").values_list("content", flat=True).iterator(4):
        yield bytes(content)
