"""A stand-in for a satellite receiver: NMEA 0183 sentences of a straight run, with the noise of its fixes."""

from __future__ import annotations

import math
from datetime import UTC, datetime, timedelta

import numpy as np
import pynmea2
from numpy.typing import NDArray
from pydantic import Field

from speedchain.bench.profile import Profile
from speedchain.fields import KM_PER_NAUTICAL_MILE, Angle, FixNoise, FixRate, InputError, Part, SpanOfTime, SpeedNoise

Array = NDArray[np.float64]
METRES_PER_DEGREE = 60_000 * KM_PER_NAUTICAL_MILE
"""A minute of latitude is a nautical mile, near enough for a stand-in."""
MOST_FIXES = 7_200
START = datetime(2026, 5, 2, 9, 0, tzinfo=UTC)
PLACE_DEG = (54.9, 6.9)
"""A point of open sea: the spit itself is invented."""


class Receiver(Part):
    """A receiver: fixes a second, the noise of place and speed, and the course it is driven."""

    rate_hz: FixRate = 5.0
    place_noise_m: FixNoise = Field(1.5, description="Standard deviation of the place, each way.")
    speed_noise_kmh: SpeedNoise = Field(0.15, description="Standard deviation of the speed.")
    course_deg: Angle = 90.0
    fix_lost_from_s: SpanOfTime | None = None
    fix_lost_for_s: SpanOfTime = 0.0
    seed: int = Field(0, ge=0, le=2**31 - 1)


def _degrees(value: float, digits: int, positive: str, negative: str) -> tuple[str, str]:
    whole = int(abs(value))
    minutes = (abs(value) - whole) * 60
    return f"{whole:0{digits}d}{minutes:08.5f}", positive if value >= 0 else negative


def sentences(receiver: Receiver, profile: Profile, seconds: float) -> list[str]:
    """RMC, VTG and GGA for every fix of a straight run at a profile's speed.

    Parameters
    ----------
    The receiver; true speed over time; length [s].

    Returns
    -------
    Sentences with checksum, without line ends.

    Raises
    ------
    `InputError` beyond 7200 fixes.

    References
    ----------
    NMEA 0183, sentences by `pynmea2`.

    Examples
    --------
    >>> result = sentences(Receiver(speed_noise_kmh=0, rate_hz=1), Profile.swept(18.52, 18.52, 1), 1.0)
    >>> len(result), result[0].split(",")[7], result[1].split(",")[7]
    (6, '10.000', '18.520')
    """
    fixes = int(seconds * receiver.rate_hz) + 1
    if fixes > MOST_FIXES:
        raise InputError(
            f"{fixes} fixes are more than the limit.",
            remedy="Use a shorter time, or fewer fixes per second.",
            limit=f"at most {MOST_FIXES}",
            value=fixes,
            path="seconds",
        )
    from scipy.integrate import cumulative_trapezoid

    time_s = np.arange(fixes) / receiver.rate_hz
    random = np.random.default_rng(receiver.seed)
    speed = profile.at(time_s)
    path_m = cumulative_trapezoid(speed / 3.6, time_s, initial=0.0)
    course = math.radians(receiver.course_deg)
    noise = random.normal(0, receiver.place_noise_m, (2, fixes)) if receiver.place_noise_m else np.zeros((2, fixes))
    north = path_m * math.cos(course) + noise[0]
    east = path_m * math.sin(course) + noise[1]
    seen = np.maximum(speed + random.normal(0, 1, fixes) * receiver.speed_noise_kmh, 0)
    result = []
    for place, second in enumerate(time_s.tolist()):
        lost = receiver.fix_lost_from_s
        good = lost is None or not lost <= second < lost + receiver.fix_lost_for_s
        latitude = PLACE_DEG[0] + north[place] / METRES_PER_DEGREE
        longitude = PLACE_DEG[1] + east[place] / (METRES_PER_DEGREE * math.cos(math.radians(PLACE_DEG[0])))
        result += _fix(
            START + timedelta(seconds=second),
            latitude=latitude,
            longitude=longitude,
            kmh=float(seen[place]),
            course_deg=receiver.course_deg,
            good=good,
        )
    return result


def _fix(at: datetime, *, latitude: float, longitude: float, kmh: float, course_deg: float, good: bool) -> list[str]:
    clock = at.strftime("%H%M%S.") + f"{at.microsecond // 10_000:02d}"
    if not good:
        nowhere = ("", "", "", "")
        fields = (
            pynmea2.RMC("GP", "RMC", (clock, "V", *nowhere, "", "", f"{at:%d%m%y}", "", "", "N")),
            pynmea2.VTG("GP", "VTG", ("", "T", "", "M", "", "N", "", "K", "N")),
            pynmea2.GGA("GP", "GGA", (clock, *nowhere, "0", "00", "", "", "M", "", "M", "", "")),
        )
        return [str(sentence) for sentence in fields]
    place = (*_degrees(latitude, 2, "N", "S"), *_degrees(longitude, 3, "E", "W"))
    knots, course = f"{kmh / KM_PER_NAUTICAL_MILE:.3f}", f"{course_deg:.1f}"
    fields = (
        pynmea2.RMC("GP", "RMC", (clock, "A", *place, knots, course, f"{at:%d%m%y}", "", "", "A")),
        pynmea2.VTG("GP", "VTG", (course, "T", "", "M", knots, "N", f"{kmh:.3f}", "K", "A")),
        pynmea2.GGA("GP", "GGA", (clock, *place, "1", "09", "1.0", "2.0", "M", "", "M", "", "")),
    )
    return [str(sentence) for sentence in fields]
