"""The core against baselines, each pair in one run: evaluate, the strength map, the waveform."""

from __future__ import annotations

import json
import math
from itertools import pairwise
from pathlib import Path

import numpy as np
import pyperf

from speedchain import Installation, evaluate, read_installation
from speedchain.placement.evaluate import evaluate_placement
from speedchain.placement.geometry import Geometry, geometry_of
from speedchain.readout.decode import filtered, speeds_by_period_kmh
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
    """The integral of the strength map over 61 × 61, written down as it stands: chord by chord of a strip of 3 × 0.5 mm."""
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


def main() -> None:
    """`NAME validate`, `bare map`, `diff and comparison` and `sin and exp` are the baselines of what follows them."""
    runner = pyperf.Runner()
    for name in ("dotterel-rear", "sandpiper"):
        installation = demo_installation(name)
        runner.bench_func(f"{name} validate", Installation.model_validate, installation.model_dump(mode="json"))
        runner.bench_func(f"{name} evaluate", evaluate, installation)
        runner.bench_func(f"{name} evaluate, placed anew", afresh, installation)
    front = demo_installation("dotterel-front")
    assert front.placement is not None
    geometry = geometry_of(front.target, front.sensor, front.placement)
    assert geometry is not None
    grid = np.linspace(-4, 4, 61)[None, :], np.linspace(-90, 90, 61)[:, None]
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
    runner.bench_func("sin and exp", lambda: (np.sin(times), np.exp(times)))
    runner.bench_func("waveform of teeth with all faults", lambda: waveform(teeth, times, turns_per_s=speed))
    runner.bench_func("waveform of uneven magnets", lambda: waveform(magnets, times, turns_per_s=speed))


if __name__ == "__main__":
    main()
