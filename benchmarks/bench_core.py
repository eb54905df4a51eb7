"""The core against baselines, each pair in one run: evaluate, the strength map, the waveform."""

from __future__ import annotations

import io
import json
import math
from functools import partial
from itertools import pairwise
from pathlib import Path
from time import perf_counter

import numpy as np
import polars as pl
import pyperf

from speedchain import Installation, evaluate, read_installation
from speedchain.faults import Answer, Seen, next_tests
from speedchain.faults.model import begin
from speedchain.placement.evaluate import evaluate_placement
from speedchain.placement.geometry import Geometry, geometry_of
from speedchain.readout.decode import filtered, speeds_by_period_kmh
from speedchain.runs import SpeedRecord, fingerprint, layout_of, read_table, speed_check
from speedchain.waveform import Pulses, waveform

DEMO = Path(__file__).resolve().parent.parent / "demo"
SAMPLES = 1_000_000
EDGES = 10_000_000


def demo_installation(name: str) -> Installation:
    """The first document of one of the demo's installations."""
    return read_installation(json.loads((DEMO / f"{name}.json").read_text("utf-8"))["first"])


def afresh(installation: Installation) -> None:
    """Evaluate with the placement worked out anew."""
    evaluate_placement.cache_clear()
    evaluate(installation)


def bare_map(sideways: np.ndarray, clocking: np.ndarray) -> np.ndarray:
    """The integral of the strength map over 61 × 61, written down as it stands: chord by chord of a strip of 3 × 0.5
    mm."""
    angle = np.radians(clocking + 0 * sideways)
    cos, sin = np.maximum(np.abs(np.cos(angle)), 1e-9), np.maximum(np.abs(np.sin(angle)), 1e-9)
    far, near = 1.5 * sin + 0.25 * cos, np.abs(1.5 * sin - 0.25 * cos)
    ends = [np.clip(corner, -1.5 - sideways, 1.5 - sideways) for corner in (-far, -near, near, far)]
    total = np.zeros(angle.shape, dtype=complex)
    for low, high in pairwise(ends):
        for node, weight in zip(*np.polynomial.legendre.leggauss(8), strict=True):
            y = (low + high) / 2 + node * (high - low) / 2
            left = np.maximum((-1.5 - y * sin) / cos, (y * cos - 0.25) / sin)
            right = np.minimum((1.5 - y * sin) / cos, (y * cos + 0.25) / sin)
            chord = np.maximum(right - left, 0)
            total += (
                weight * (high - low) / 2 * chord * np.sinc(chord / 6.4) * np.exp(1j * math.pi * (left + right) / 6.4)
            )
    return np.abs(total) / 1.5 * math.exp(-2 * math.pi * 1.0 / 6.4)


def strength_map(geometry: Geometry, sideways: np.ndarray, clocking: np.ndarray) -> np.ndarray:
    """The same by the geometry."""
    return geometry.ratio(sideways, clocking, 1.0)


def drive() -> tuple[SpeedRecord, SpeedRecord]:
    """A million samples of a drive of some 170 steady parts."""
    time_s = np.arange(SAMPLES) / 100
    corners = np.arange(0, 10_060, 30.0)
    speeds = np.repeat(50 + 30 * np.sin(np.arange(corners.size // 2 + 1)), 2)[: corners.size]
    true = np.interp(time_s, corners, speeds)
    noise = np.random.default_rng(0).normal(0, 0.2, SAMPLES)
    return SpeedRecord(time_s, true), SpeedRecord(time_s, 1.02 * true + noise)


def least_squares(true: SpeedRecord, shown: SpeedRecord) -> np.ndarray:
    """The plain line through the same pairs."""
    return np.linalg.lstsq(np.column_stack([np.ones(SAMPLES), true.kmh]), shown.kmh, rcond=None)[0]


def in_turn(loops: int, installation: Installation, *, evaluating: bool) -> float:
    """Time [s] of validating or of evaluating, the two in turn as a request does them."""
    document = installation.model_dump(mode="json")
    total = 0.0
    for _ in range(loops):
        start = perf_counter()
        read = Installation.model_validate(document)
        between = perf_counter()
        evaluate(read)
        total += perf_counter() - between if evaluating else between - start
    return total


def main() -> None:
    """`NAME validate`, `bare map`, `diff and comparison` and `sin and exp` are the baselines of what follows them; so
    are `least squares`, `polars …` and `diff of a ring`."""
    runner = pyperf.Runner()
    for name in ("dotterel-rear", "sandpiper"):
        installation = demo_installation(name)
        runner.bench_time_func(f"{name} validate", partial(in_turn, evaluating=False), installation)
        runner.bench_time_func(f"{name} evaluate", partial(in_turn, evaluating=True), installation)
        runner.bench_func(f"{name} evaluate, placed anew", afresh, installation)
    front = demo_installation("dotterel-front")
    assert front.placement is not None
    geometry = geometry_of(front.target, front.sensor, front.placement)
    assert geometry is not None
    grid = np.linspace(-4, 4, 61)[None, :], np.linspace(-90, 90, 61)[:, None]
    rear = demo_installation("dotterel-rear")
    known, seen = evaluate(rear), Seen(symptoms=("nothing",), answers=(Answer(test="look", outcome="fine"),))
    runner.bench_func(
        "fault: posterior and next test", lambda: next_tests(begin(rear, known, seen)[0], frozenset({"look"}))
    )
    runner.bench_func("bare map", bare_map, *grid)
    runner.bench_func("strength map", strength_map, geometry, *grid)
    times = np.linspace(0, 10, SAMPLES)
    speed = np.linspace(5, 20, SAMPLES)
    teeth = Pulses(48, missing=(3,), runout_mm=0.2, pitch_mm=6, noise=0.05, bounce_s=0.0005)
    magnets = Pulses(3, width_deg=6, angle_errors_deg=(0, 2, -1), noise=0.02, threshold=0.5)
    edges = np.cumsum(np.random.default_rng(1).uniform(0.0005, 0.0015, EDGES))
    runner.bench_func("diff and comparison", lambda: np.diff(edges) < 0.001)
    runner.bench_func("decode ten million edges", speeds_by_period_kmh, edges, 24_000.0)
    runner.bench_func(
        "decode, filtered and averaged", lambda: speeds_by_period_kmh(filtered(edges, 0.0004), 24_000.0, 4)
    )
    true, shown = drive()
    runner.bench_func("least squares", least_squares, true, shown)
    runner.bench_func("speed check", speed_check, true, shown)
    table = "time,gps km/h,dash km/h\n" + "".join(f"{at / 100:.2f},60.0,61.2\n" for at in range(SAMPLES))
    text = table.encode()
    runner.bench_func("polars reads and writes Parquet", lambda: pl.read_csv(text).write_parquet(io.BytesIO()))
    runner.bench_func("a table is read", lambda: read_table(text, layout_of(text)))
    ring = np.cumsum(np.tile([1.0, 1.05, 0.95, *[1.0] * 45], EDGES // 48))
    runner.bench_func("diff of a ring", np.diff, ring)
    runner.bench_func("fingerprint", fingerprint, ring)
    runner.bench_func("sin and exp", lambda: (np.sin(times), np.exp(times)))
    runner.bench_func("waveform of teeth with all faults", lambda: waveform(teeth, times, turns_per_s=speed))
    runner.bench_func("waveform of uneven magnets", lambda: waveform(magnets, times, turns_per_s=speed))


if __name__ == "__main__":
    main()
