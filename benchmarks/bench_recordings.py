"""`python -m benchmarks.bench_recordings`: recordings stored, drawn and opened, as ratios; and the memory of an import.

On the database of `./test`, in processes of its own. Three minutes.
"""

from __future__ import annotations

import io
import json
import os
import resource
import statistics
import subprocess
import sys
import time
from collections.abc import Callable
from typing import Any

ROWS = 1_000_000
LARGE_ROWS = 9_000_000
MANY = 20_000_000
ROUNDS = 3


def took_s(do: Callable[[], Any], rounds: int = ROUNDS) -> float:
    """Median of a few rounds."""
    times = []
    for _ in range(rounds):
        begun = time.perf_counter()
        do()
        times.append(time.perf_counter() - begun)
    return statistics.median(times)


def table(rows: int) -> bytes:
    """A logger's table with three speeds."""
    return b"time,gps km/h,dash km/h\n" + b"".join(
        b"%.2f,%.2f,%.2f\n" % (at / 100, 60 + at % 977 / 100, 61 + at % 991 / 100) for at in range(rows)
    )


def kept(data: bytes) -> Any:
    """A recording of the demo with this file, not read yet."""
    from django.conf import settings
    from django.contrib.auth.models import User

    from workshop.models import Vehicle
    from workshop.recordings import add_piece, add_recording

    user = User.objects.get(username="demo")
    made = add_recording(user, Vehicle.objects.filter(workshop__is_demo=True)[0].pk, "bench.csv", len(data))
    size = settings.LARGEST_PIECE_BYTES
    for number, begin in enumerate(range(0, len(data), size)):
        add_piece(user, made.pk, number, data[begin : begin + size])
    return made


def storing() -> dict[str, float]:
    """A million rows read into the database, against Polars reading them and writing Parquet."""
    import polars as pl

    from workshop.models import RecordingRecord, Work
    from workshop.recordings import read_pieces

    data = table(ROWS)
    made = kept(data)
    work = Work(kind="read_recording", recording=made)

    def ours() -> None:
        work.recording = RecordingRecord.objects.get(pk=made.pk)
        read_pieces(work, (), lambda share: True)

    try:
        plain = took_s(lambda: pl.read_csv(data).write_parquet(io.BytesIO(), compression="zstd"))
        return {"polars_s": plain, "stored_s": took_s(ours)}
    finally:
        made.delete()


def memory() -> dict[str, float]:
    """The most memory of a process that reads a file of some 180 MB, beyond what it had before."""
    from django.db import connections

    from workshop.models import Work
    from workshop.recordings import read_pieces

    data = table(LARGE_ROWS)
    made = kept(data)
    size = len(data) / 1e6
    del data
    connections.close_all()  # both begin with one of their own
    child = os.fork()
    if child == 0:
        before = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss
        read_pieces(Work(kind="read_recording", recording=made), (), lambda share: True)
        after = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss
        print(json.dumps({"file_mb": size, "whole_process_mb": after / 1024, "before_mb": before / 1024}), flush=True)
        os._exit(0)
    os.waitpid(child, 0)
    made.delete()
    return {}


def drawing() -> dict[str, float]:
    """Twenty million samples: thinned, against reading them; and the picture of the whole recording."""
    import numpy as np

    from speedchain.runs import ChannelKind, Piece
    from workshop.models import RecordingRecord, Samples
    from workshop.samples import chunks_of, drawn, facts_of, load, samples_from, thinned

    time_s = np.arange(MANY) / 1000
    values = 60 + 10 * np.sin(time_s) + np.random.default_rng(0).normal(0, 0.2, MANY)
    made = kept(b"x")
    try:
        for number, chunk in chunks_of([Piece("", time_s, {"v": values})]):
            samples_from(made, 1, number, chunk).save()
        channels = facts_of(made, 1, {"v": ChannelKind("speed", "km/h")})
        summary = {"channels": [item._asdict() for item in channels], "lines": MANY, "bad_lines": 0, "examples": []}
        RecordingRecord.objects.filter(pk=made.pk).update(version=1, summary=summary, state="ready")
        made.refresh_from_db()
        assert Samples.objects.filter(recording=made).count() == MANY // 100_000
        recorded = load(made).channels[0]
        return {
            "read_s": took_s(lambda: load(made)),
            "thinned_s": took_s(lambda: thinned(recorded.time_s, recorded.values, 1200)),
            "picture_s": took_s(lambda: drawn(made, "v", (0.0, float(time_s[-1])), 1200)),
        }
    finally:
        made.delete()


PARTS = {"storing": storing, "memory": memory, "drawing": drawing}


def main() -> None:
    """Each part in a process of its own."""
    if len(sys.argv) > 1:
        import django

        django.setup()
        print(json.dumps(PARTS[sys.argv[1]]()))
        return
    from benchmarks.bench_app import database

    with database() as environment:
        for part in PARTS:
            done = subprocess.run(
                [sys.executable, "-m", "benchmarks.bench_recordings", part],
                env=environment | {"DJANGO_SETTINGS_MODULE": "wheelometron.settings", "PATH": os.environ["PATH"]},
                check=True,
                stdout=subprocess.PIPE,
                text=True,
            )
            print(part, done.stdout.strip())


if __name__ == "__main__":
    main()
