"""Drives as they are recorded, made here apart from the stand-ins of the app: a satellite receiver that is late and
smooths, with noise that is alike for seconds, a clock that drifts, gaps; a display that is late, smooths and steps;
holds that are not quite steady, and turns between them."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from speedchain.runs import Channel, Recording

Array = NDArray[np.float64]
FINE_S = 0.05


@dataclass(frozen=True)
class Driven:
    """A recording, and what the display really shows too much [%]."""

    recorded: Recording
    error_pct: float
    step_kmh: float


def smoothed(values: Array, over_s: float) -> Array:
    """A first-order lag (RC) of so many seconds."""
    from scipy.signal import lfilter

    share = FINE_S / (over_s + FINE_S)
    found, _ = lfilter([share], [1, share - 1], values, zi=[values[0] * (1 - share)])
    return np.asarray(found)


def alike(random: np.random.Generator, size: int, sigma: float, over_s: float) -> Array:
    """Noise that is alike for so many seconds (Gauss-Markov)."""
    from scipy.signal import lfilter

    kept = np.exp(-FINE_S / over_s)
    return np.asarray(lfilter([np.sqrt(1 - kept**2)], [1, -kept], random.normal(0, sigma, size)))


def driven(seed: int, error_pct: float | None = None) -> Driven:
    """One drive, drawn."""
    random = np.random.default_rng(seed)
    error = float(random.uniform(-8, 8)) if error_pct is None else error_pct
    holds = int(random.integers(3, 9))
    speeds = random.uniform(25, 120, holds)
    times, targets, courses = [0.0], [0.0], [random.uniform(0, 360)]
    for speed in speeds:
        ramp = max(abs(speed - targets[-1]) / 3.6 / random.uniform(0.6, 2.0), 4.0)
        times += [times[-1] + ramp, times[-1] + ramp + random.uniform(15, 60)]
        targets += [speed, speed]
        turn = random.choice([0.0, 180.0, random.uniform(-90, 90)], p=[0.5, 0.25, 0.25])
        courses += [courses[-1] + turn, courses[-1] + turn]
    times.append(times[-1] + 25)
    targets.append(0.0)
    courses.append(courses[-1])
    at = np.arange(0.0, times[-1], FINE_S)
    speed = np.interp(at, times, targets)
    speed = np.maximum(speed * (1 + alike(random, at.size, random.uniform(0.001, 0.006), 8.0)), 0)  # foot and slope
    course = np.interp(at, times, courses)

    late_s, smooth_s = random.uniform(0.1, 1.2), random.uniform(0.1, 1.5)
    received = smoothed(np.interp(at - late_s, at, speed), smooth_s)
    received = received * (1 + random.normal(0, 0.001))  # of its scale, as the formulas allow for it
    received = received + alike(random, at.size, random.uniform(0.03, 0.25), random.uniform(0.5, 5))
    display = smoothed(np.interp(at - random.uniform(0.1, 1.0), at, speed), random.uniform(0.1, 1.0))
    step = float(random.choice([0.1, 0.1, 1.0]))
    display = np.floor(display * (1 + error / 100) / step + 0.5) * step

    of_receiver = np.arange(0.0, at[-1], 1 / float(random.choice([1.0, 5.0, 10.0])))
    of_display = np.arange(0.0, at[-1], 1 / float(random.choice([2.0, 5.0, 10.0])))
    true = np.interp(of_receiver, at, received)
    for _ in range(int(random.integers(0, 3))):  # tunnels
        begin = random.uniform(0, at[-1])
        true[(of_receiver > begin) & (of_receiver < begin + random.uniform(2, 15))] = np.nan
    shown = display[np.searchsorted(at, of_display).clip(0, at.size - 1)]
    drift = 1 + random.normal(0, 30e-6)  # of the display's clock
    channels = (
        Channel(name="true", quantity="speed", unit="km/h", time_s=of_receiver, values=true, true=True),
        Channel(name="shown", quantity="speed", unit="km/h", time_s=of_display * drift, values=shown),
        Channel(
            name="course", quantity="course", unit="°", time_s=of_receiver,
            values=(np.interp(of_receiver, at, course) + random.normal(0, 1.0, of_receiver.size)) % 360,
        ),
    )  # fmt: skip
    return Driven(Recording(channels=channels, lines=of_display.size, bad_lines=0), error, step)


@dataclass(frozen=True)
class Wheels:
    """Speeds of a reference and of a driven wheel, and how much the second is really too fast without slip [%]."""

    reference: tuple[Array, Array]
    driven: tuple[Array, Array]
    false_pct: float


def wheels(seed: int) -> Wheels:
    """One log of two wheels, drawn: the driven one is late, slips under power, a little at cruise as well (0.1 points,
    standard, of each log), and both are counted by rings that step."""
    random = np.random.default_rng(seed)
    times, targets = [0.0], [20.0]
    for speed in random.uniform(30, 140, int(random.integers(4, 9))):
        ramp = max(abs(speed - targets[-1]) / 3.6 / random.uniform(0.8, 4.0), 2.0)
        times += [times[-1] + ramp, times[-1] + ramp + random.uniform(8, 40)]
        targets += [speed, speed]
    at = np.arange(0.0, times[-1], FINE_S)
    speed = np.interp(at, times, targets) * (1 + alike(random, at.size, random.uniform(0.001, 0.004), 8.0))
    false = float(random.uniform(-4, 4))
    power = np.maximum(np.gradient(speed, FINE_S) / 3.6, 0)
    slip = random.uniform(0, 3) * smoothed(power, 0.3) * (power > 0.3) + random.normal(0, 0.1)
    driven_kmh = speed * (1 + (false + slip) / 100)
    late_s = random.uniform(-0.2, 0.4)
    sampled = np.arange(0.0, at[-1] - 1, 1 / float(random.choice([10.0, 20.0])))
    step, sigma = float(random.choice([0.02, 0.1])), random.uniform(0.02, 0.2)

    def logged(values: Array, late: float) -> tuple[Array, Array]:
        there = np.interp(sampled - late, at, values) + random.normal(0, sigma, sampled.size)
        return sampled, np.round(np.maximum(there, 0) / step) * step

    return Wheels(logged(speed, 0.0), logged(driven_kmh, late_s), false)
