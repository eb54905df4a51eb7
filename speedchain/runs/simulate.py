"""A stand-in for a drive that is recorded: true speed by satellite, shown speed by the display, with their noise."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray
from pydantic import Field

from speedchain.fields import Part

Array = NDArray[np.float64]


class Drive(Part):
    """A drive of steady speeds there and back, and what is wrong with it."""

    speeds_kmh: tuple[float, ...] = Field((50.0, 50.0, 80.0, 80.0), min_length=1, max_length=40)
    hold_s: float = Field(40.0, ge=1, le=3600)
    change_s: float = Field(15.0, ge=1, le=600)
    rate_hz: float = Field(5.0, gt=0, le=100)
    shown_per_true: float = Field(1.0, gt=0, le=10)
    shown_offset_kmh: float = Field(0.0, ge=-20, le=20)
    shown_late_s: float = Field(0.4, ge=-20, le=20)
    shown_step_kmh: float = Field(0.1, ge=0, le=5)
    wind_pct: float = Field(0.0, ge=-5, le=5, description="How much more is shown there than back.")
    true_noise_kmh: float = Field(0.15, ge=0, le=5)
    shown_noise_kmh: float = Field(0.1, ge=0, le=5)
    course_deg: float = Field(70.0, ge=0, lt=360)
    seed: int = Field(0, ge=0, le=2**31 - 1)


def rows_of(drive: Drive) -> tuple[Array, Array, Array, Array]:
    """Time [s], true and shown speed [km/h], course [°], of one recorded drive; every second speed is driven back.

    Examples
    --------
    >>> time_s, true, shown, course = rows_of(Drive(shown_per_true=1.02, true_noise_kmh=0, shown_noise_kmh=0, shown_step_kmh=0))
    >>> round(float(shown[np.argmax(time_s > 50)] / true[np.argmax(time_s > 50)]), 3)
    1.02
    """
    random = np.random.default_rng(drive.seed)
    times, speeds, ways = [0.0], [0.0], [0]
    for place, speed in enumerate(drive.speeds_kmh):
        times += [times[-1] + drive.change_s, times[-1] + drive.change_s + drive.hold_s]
        speeds += [speed, speed]
        ways += [place % 2, place % 2]
    times.append(times[-1] + drive.change_s)
    speeds.append(0.0)
    time_s = np.arange(0.0, times[-1], 1 / drive.rate_hz)
    way = np.interp(time_s, times[: len(ways)], ways)
    really = np.interp(time_s, times, speeds)
    noise = np.zeros(time_s.size)
    kept = float(np.exp(-1 / drive.rate_hz))
    white = random.normal(0, drive.true_noise_kmh * np.sqrt(1 - kept**2), time_s.size)
    for place in range(1, time_s.size):
        noise[place] = kept * noise[place - 1] + white[place]
    late = np.interp(time_s - drive.shown_late_s, time_s, really)
    shown = drive.shown_offset_kmh + late * drive.shown_per_true * (1 + drive.wind_pct / 100 * (0.5 - way))
    shown = np.maximum(shown + random.normal(0, drive.shown_noise_kmh, time_s.size), 0)
    if drive.shown_step_kmh:
        shown = np.round(shown / drive.shown_step_kmh) * drive.shown_step_kmh
    course = (drive.course_deg + 180 * way + random.normal(0, 0.5, time_s.size)) % 360
    return time_s, np.maximum(really + noise, 0), shown, course


def as_table(drive: Drive) -> str:
    """The same as the text of a CSV file."""
    lines = ["time [s],satellite speed [km/h],display [km/h],course [deg]"]
    lines += [f"{t:.2f},{v:.2f},{s:.2f},{c:.1f}" for t, v, s, c in zip(*rows_of(drive), strict=True)]
    return "\n".join(lines) + "\n"
