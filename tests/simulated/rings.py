"""Captured pulses of rings, made independently of the core: uneven teeth, runout, a changing speed, noise of the edges."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

Array = NDArray[np.float64]


@dataclass(frozen=True)
class Made:
    """A ring that was made, and what is wrong with it; teeth from 0."""

    count: int
    bent: int
    off_pitch: float
    edges_s: Array


def made(random: np.random.Generator, least: int = 3, most: int = 120) -> Made:
    """One capture of 10 to 40 turns of a ring with one tooth 8 to 25 % of the pitch out of place."""
    count, turns = int(random.integers(least, most + 1)), int(random.integers(10, 41))
    bent, off = int(random.integers(count)), float(random.choice([-1, 1]) * random.uniform(0.08, 0.25))
    angle = (np.arange(count) + random.normal(0, 0.003, count)) / count
    angle += random.uniform(0, 0.03) / 6 * np.sin(2 * np.pi * angle + random.uniform(0, 6)) / max(count, 6)
    angle[bent] += off / count
    angles = (angle[None, :] + np.arange(turns)[:, None]).ravel()
    turns_per_s = random.uniform(2, 20)
    grid = np.linspace(0, 1.6 * turns / turns_per_s, 20_000)
    share = grid * turns_per_s / turns
    speed = turns_per_s * (1 + random.uniform(-0.3, 0.5) * share + 0.02 * np.sin(6 * np.pi * share))
    turned = np.concatenate([[0.0], np.cumsum((speed[1:] + speed[:-1]) / 2 * np.diff(grid))])
    times = np.interp(angles[angles < turned[-1]], turned, grid)
    noise = random.normal(0, 0.01, times.size) / count / turns_per_s
    return Made(count=count, bent=bent, off_pitch=off, edges_s=np.sort(times + noise))
