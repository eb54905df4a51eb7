"""A distance check: what a display counted against a distance that is known, measured or by satellite."""

from __future__ import annotations

import math
from typing import Annotated

import numpy as np
from numpy.typing import NDArray
from pydantic import Field

from speedchain.fields import InputError, Part, Words, text_of
from speedchain.results import result
from speedchain.runs.align import SpeedRecord
from speedchain.runs.derived import distance_m
from speedchain.runs.proof import TimeSpan
from speedchain.runs.recording import Channel, Recording
from speedchain.runs.track_files import EARTH_A_M, steps_east_north_m
from speedchain.uncertainty import COVERAGE_FACTOR, Verdict, verdict_on

Array = NDArray[np.float64]
PLACES = "places"
MEASURED = "measured"
COUNTED = "counted"
STEP_M = 20.0
"""Places are joined in steps of at least so much: nearer ones scatter more than they move."""
COARSE = 2.0
WINDOW = 256
USUAL_ACCURACY_M = 3.0
"""Of a satellite's place, where the recording does not say. Common practice."""
SOURCE_U_PCT = 0.1
"""Of a satellite's speed. Common practice."""
END_S = 0.5
"""A span that begins or ends on the move is cut so uncertainly, since clocks differ. Common practice."""
LEAST_M = 200.0
LEAST_MEAN_KMH = 1.0


class DistanceWanted(Part):
    """Which distances are compared: of `true` the places, a speed or distance channel, or a measured one [m]; of
    `shown` a speed or distance channel, or what the display counted before and after [m], in steps of so much."""

    true: str = Field(PLACES, max_length=80)
    shown: str = Field(max_length=80)
    measured_m: Annotated[float, Field(gt=0, le=1e7)] | None = None
    measured_expanded_m: Annotated[float, Field(ge=0, le=1e6)] = 1.0
    counted_before_m: Annotated[float, Field(ge=0, le=1e10)] = 0.0
    counted_after_m: Annotated[float, Field(ge=0, le=1e10)] | None = None
    counted_step_m: Annotated[float, Field(gt=0, le=1e5)] = 100.0
    span: TimeSpan | None = None


@result
class Length:
    """A distance [m], its standard uncertainty [m], and how it was found."""

    length_m: float
    u_m: float
    how: Words


@result
class DistanceCheck:
    """Shown against true distance [m]; error and expanded uncertainty in per cent of the true one; mean true speed."""

    true: Length
    shown: Length
    error_pct: float
    expanded_pct: float
    factor: float
    verdict: Verdict
    text: Words
    advice: Words
    at_kmh: float


def track_length(
    latitude_deg: Array, longitude_deg: Array, altitude_m: Array | None = None, *, accuracy_m: float = USUAL_ACCURACY_M
) -> Length:
    """The length of a track on the ground [m], slopes followed, from places joined in steps of at least 20 m.

    d² = ((1 + h/R)·s)² + Δh², s over the WGS 84 ellipsoid. u² = (√2·a)² for its two ends, with the accuracy a of a
    place, plus the square of the difference to joining it in steps twice as long.

    Parameters
    ----------
    Places [°] without gaps; altitudes [m] where there are any; accuracy of a place [m].

    Examples
    --------
    >>> found = track_length(np.linspace(0, 0.01, 200), np.zeros(200))
    >>> round(found.length_m, 1)
    1105.7

    References
    ----------
    Checked against geographiclib in tests/published; the scatter of places and what it adds: common practice.
    """
    fine = _joined(latitude_deg, longitude_deg, altitude_m, STEP_M)
    coarse = _joined(latitude_deg, longitude_deg, altitude_m, COARSE * STEP_M)
    return Length(
        length_m=fine,
        u_m=math.hypot(math.sqrt(2) * accuracy_m, fine - coarse),
        how=text_of("along the satellite's places, in steps of {0:.0f} m", STEP_M),
    )


def _joined(latitude: Array, longitude: Array, altitude: Array | None, step_m: float) -> float:
    east, north = (np.concatenate([[0.0], np.cumsum(part)]) for part in steps_east_north_m(latitude, longitude))
    nodes = _nodes(east, north, step_m)
    flat = np.hypot(np.diff(east[nodes]), np.diff(north[nodes]))
    if altitude is None or not np.isfinite(altitude).any():
        return float(flat.sum())
    there = np.isfinite(altitude)
    heights = np.interp(nodes, np.flatnonzero(there), altitude[there])
    middle = (heights[1:] + heights[:-1]) / 2
    return float(np.hypot(flat * (1 + middle / EARTH_A_M), np.diff(heights)).sum())


def _nodes(east: Array, north: Array, step_m: float) -> NDArray[np.intp]:
    """Each place that is so far from the one before it, and the last place: what scatters about one place is no way."""
    nodes, begin = [0], 1
    while begin < east.size:
        ahead = slice(begin, begin + WINDOW)
        far = np.hypot(east[ahead] - east[nodes[-1]], north[ahead] - north[nodes[-1]]) >= step_m
        if far.any():
            nodes.append(begin + int(np.argmax(far)))
            begin = nodes[-1] + 1
        else:
            begin += WINDOW
    return np.array(nodes if nodes[-1] == east.size - 1 else [*nodes, east.size - 1])


def distance_check(recorded: Recording, wanted: DistanceWanted) -> DistanceCheck:
    """Compare what a display counted, or what its speed adds up to, with a distance that is known.

    error = shown/true − 1; the speed that a display shows and the distance that it counts come from the same setting.

    Raises
    ------
    `InputError` where a channel is missing, or the distance is too short to say anything.

    Examples
    --------
    >>> t = np.arange(0.0, 101.0, 1.0)
    >>> speed = Channel(name="v", quantity="speed", unit="km/h", time_s=t, values=np.full(t.size, 36.0))
    >>> wanted = DistanceWanted(true="measured", measured_m=1020, shown="v")
    >>> found = distance_check(Recording(channels=(speed,), lines=0, bad_lines=0), wanted)
    >>> round(found.shown.length_m), round(found.error_pct, 2)
    (1000, -1.96)
    """
    shown = _counted(wanted) if wanted.shown == COUNTED else _length(recorded, wanted, wanted.shown, "shown")
    if wanted.true == MEASURED:
        if wanted.measured_m is None:
            raise InputError("The measured distance is missing.", remedy="Enter it in metres.", path="measured_m")
        u_m = wanted.measured_expanded_m / COVERAGE_FACTOR
        true = Length(length_m=wanted.measured_m, u_m=u_m, how="measured")
    else:
        true = _length(recorded, wanted, wanted.true, "true")
    if true.length_m < LEAST_M or shown.length_m <= 0:
        raise InputError(
            text_of("{0:.0f} m are too short for a check.", min(true.length_m, shown.length_m)),
            remedy="Drive further: a kilometre and more.",
            limit=text_of("at least {0:.0f} m", LEAST_M),
            path="recording",
        )
    ratio = shown.length_m / true.length_m
    u_pct = 100 * math.hypot(true.u_m / true.length_m, shown.u_m / shown.length_m)
    error_pct, expanded_pct = 100 * (ratio - 1), COVERAGE_FACTOR * u_pct
    verdict = verdict_on(error_pct, expanded_pct, 0.0)
    return DistanceCheck(
        true=true,
        shown=shown,
        error_pct=error_pct,
        expanded_pct=expanded_pct,
        factor=ratio,
        verdict=verdict,
        text=text_of(
            "{0:.0f} m shown on {1:.0f} m: {2:+.2f} %, ± {3:.2g} %.",
            shown.length_m,
            true.length_m,
            error_pct,
            expanded_pct,
        ),
        advice=_advice(verdict, ratio),
        at_kmh=max(3.6 * true.length_m / _seconds(recorded, wanted), LEAST_MEAN_KMH),
    )


def _counted(wanted: DistanceWanted) -> Length:
    """What a display counted, read before and after: each reading is rounded to its step, Δ/√12 each."""
    if wanted.counted_after_m is None or wanted.counted_after_m <= wanted.counted_before_m:
        raise InputError(
            "The display has to count more after the drive than before it.",
            remedy="Enter what it shows before and after the drive.",
            path="counted_after_m",
        )
    return Length(
        length_m=wanted.counted_after_m - wanted.counted_before_m,
        u_m=wanted.counted_step_m / math.sqrt(6),
        how=text_of("read before and after, in steps of {0:.3g} m", wanted.counted_step_m),
    )


def _seconds(recorded: Recording, wanted: DistanceWanted) -> float:
    """How long the shown distance took [s]."""
    channel = recorded.channel(wanted.shown) or recorded.first("latitude") or recorded.channels[0]
    time_s, _ = _cut(channel, wanted.span)
    return max(float(time_s[-1] - time_s[0]), 1.0)


def _advice(verdict: Verdict, ratio: float) -> Words:
    if verdict != "wrong":
        return ""
    return text_of("Multiply the set circumference by {0:.4f}, or the set pulses per km by {1:.4f}.", 1 / ratio, ratio)


def _length(recorded: Recording, wanted: DistanceWanted, name: str, field: str) -> Length:
    if name == PLACES:
        return _of_places(recorded, wanted.span)
    channel = recorded.channel(name)
    if channel is None or channel.quantity not in ("speed", "distance"):
        raise InputError(
            text_of("The recording has no speed or distance named {0}.", name),
            remedy="Choose one of its speeds or distances.",
            path=field,
        )
    time_s, values = _cut(channel, wanted.span)
    if channel.quantity == "distance":
        steps = np.diff(np.unique(values))
        step = float(steps.min()) if steps.size else 0.0
        return Length(
            length_m=float(values[-1] - values[0]),
            u_m=step / math.sqrt(6),
            how=text_of("counted in steps of {0:.3g} m", step),
        )
    along = distance_m(SpeedRecord(time_s, values))
    ends_m = END_S * math.hypot(float(values[0]), float(values[-1])) / 3.6
    source_m = SOURCE_U_PCT / 100 * float(along[-1]) if channel.true else 0.0
    return Length(
        length_m=float(along[-1]), u_m=math.hypot(ends_m, source_m), how=text_of("the speed {0} added up", channel.name)
    )


def _cut(channel: Channel, span: TimeSpan | None) -> tuple[Array, Array]:
    there = np.isfinite(channel.values)
    if span is not None:
        there &= (channel.time_s >= span.from_s) & (channel.time_s <= span.to_s)
    if there.sum() < 2:
        raise InputError(
            text_of("{0} holds nothing in this part.", channel.name), remedy="Choose a longer part.", path="span"
        )
    return channel.time_s[there], channel.values[there]


def _of_places(recorded: Recording, span: TimeSpan | None) -> Length:
    latitude, longitude = recorded.first("latitude"), recorded.first("longitude")
    if latitude is None or longitude is None:
        raise InputError(
            "This recording holds no places.", remedy="Enter a measured distance, or choose a speed.", path="true"
        )
    time_s, lat = _cut(latitude, span)
    lon = longitude.at(time_s)
    altitude, accuracy = recorded.first("altitude"), recorded.first("accuracy")
    known = np.array([]) if accuracy is None else accuracy.values[np.isfinite(accuracy.values)]
    return track_length(
        lat,
        lon,
        None if altitude is None else altitude.at(time_s),
        accuracy_m=float(np.median(known)) if known.size else USUAL_ACCURACY_M,
    )
