"""Captured pulses of rings, made independently of the core: uneven teeth, runout, a changing speed, noise of the
edges."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from speedchain.fields import InputError
from speedchain.runs import fingerprint

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


SPECIAL = ((60, 2), (36, 1))
"""Rings with missing teeth: positions, and how many of them are empty."""
RATES = (0.001, 0.01)


@dataclass(frozen=True)
class Captured:
    """A capture as they come: pulses per turn, turns, whether no pulse was lost or added, whether its teeth differ
    enough from each other to be told apart, and whether none of them is bent."""

    count: int
    turns: float
    clean: bool
    told_apart: bool
    edges_s: Array


def captured(random: np.random.Generator) -> Captured:
    """6 to 120 teeth or 60−2 and 36−1; 0.4 to 50 turns; pitch errors, runout, a speed that changes up to five times and
    wobbles; half of them with extra, lost or double edges, one in a thousand or in a hundred."""
    positions, empty = (int(random.integers(6, 121)), 0) if random.random() < 0.8 else SPECIAL[int(random.integers(2))]
    error = 10 ** random.uniform(-3.7, -1.7)  # of the pitch
    noise = 10 ** random.uniform(-4, -2)
    place = (np.arange(positions) + random.normal(0, error, positions)) / positions
    place = place + random.uniform(0, 0.03) / 6 * np.sin(2 * np.pi * place + random.uniform(0, 6)) / max(positions, 6)
    place = place[: positions - empty]
    turns = 10 ** random.uniform(np.log10(0.4), np.log10(50))
    begin = random.uniform(0, 1)
    angles = (place[None, :] + np.arange(int(turns) + 3)[:, None]).ravel()
    angles = angles[(angles >= begin) & (angles < begin + turns)] - begin
    grid = np.linspace(0, turns, 40_000)
    along = grid / turns
    speed = 5.0 * (random.uniform(1, 5) ** (random.choice([-1, 1]) * along))
    wobble = random.uniform(0, 0.03) * np.sin(2 * np.pi * grid / random.uniform(0.3, 3.0) + random.uniform(0, 6))
    pace = 1 / (speed * (1 + wobble))
    at = np.concatenate([[0.0], np.cumsum((pace[1:] + pace[:-1]) / 2 * np.diff(grid))])
    times = np.interp(angles, grid, at)
    pitch_s = np.interp(angles, grid, pace) / positions
    times = np.sort(times + random.normal(0, noise, times.size) * pitch_s)
    clean = random.random() < 0.5
    if not clean and times.size > 3:
        times = _with_slips(times, pitch_s, random)
    return Captured(
        count=positions - empty,
        turns=turns,
        clean=clean,
        told_apart=error > 3 * noise or empty > 0,
        edges_s=times,
    )


@dataclass
class Tally:
    """What became of captures: how many were sure, how many of them right; of the clean ones of three turns and more
    whose teeth can be told apart how many were sure; how many clean rings were said to have a bent tooth that they have
    not."""

    captures: int = 0
    sure: int = 0
    right: int = 0
    clean: int = 0
    clean_sure: int = 0
    flawed: int = 0

    @property
    def wrong(self) -> int:
        """Sure and wrong."""
        return self.sure - self.right


def tally(captures: int, seed: int) -> Tally:
    """Fingerprints of so many captures, by the core."""
    random = np.random.default_rng(seed)
    found = Tally(captures=captures)
    for _ in range(captures):
        capture = captured(random)
        try:
            seen = fingerprint(capture.edges_s)
        except InputError:
            seen = None
        sure = seen is not None and seen.sure
        right = seen is not None and sure and seen.pulses_per_turn == capture.count
        found.sure, found.right = found.sure + sure, found.right + right
        if capture.clean and capture.told_apart and capture.turns >= 3:
            found.clean, found.clean_sure = found.clean + 1, found.clean_sure + sure
        if seen is not None and right and capture.clean:
            found.flawed += any(tooth.flaw == "out_of_place" for tooth in seen.flaws)
    return found


def _with_slips(times: Array, pitch_s: Array, random: np.random.Generator) -> Array:
    kind, rate = random.choice(["extra", "lost", "double"]), float(random.choice(RATES))
    slip = random.random(times.size) < rate
    match kind:
        case "lost":
            return times[~slip]
        case "extra":
            more = times[slip] + random.uniform(0.1, 0.9, int(slip.sum())) * pitch_s[slip]
        case _:
            more = times[slip] + random.uniform(0.01, 0.1, int(slip.sum())) * pitch_s[slip]
    return np.sort(np.concatenate([times, more]))
