"""Where a recording was driven, on a plain grid, with the error of the shown speed at each place."""

from __future__ import annotations

import math

import numpy as np
from numpy.typing import NDArray

from speedchain.fields import InputError
from speedchain.results import result
from speedchain.runs import SpeedRecord, lag_between, on_times, steps_m
from workshop.models import RecordingRecord
from workshop.samples import load

Array = NDArray[np.float64]
MOST_POINTS = 1500
LEAST_KMH = 5.0
"""Slower, an error in per cent says nothing."""


@result
class Track:
    """Places in metres east and north of the middle; times from the beginning [s]; the error there [%], where it is
    known (on water the current would be in it); the length of the track [m]."""

    time_s: list[float]
    east_m: list[float]
    north_m: list[float]
    error_pct: list[float | None]
    length_m: float


def track_of(found: RecordingRecord, true: str, shown: str) -> Track:
    """The track of a recording. Raises `InputError` where it holds no places."""
    quantities = {item["quantity"]: item["name"] for item in reversed(found.summary["channels"])}
    if "latitude" not in quantities or "longitude" not in quantities:
        raise InputError("This recording holds no places.", remedy="Record a satellite's places.", path="recording")
    recorded = load(found, [quantities["latitude"], quantities["longitude"], true, shown])
    latitude, longitude = recorded.first("latitude"), recorded.first("longitude")
    assert latitude is not None
    assert longitude is not None
    there = np.isfinite(latitude.values) & np.isfinite(longitude.values)
    if not there.any():
        raise InputError("This recording holds no places.", remedy="Record a satellite's places.", path="recording")
    lat, lon, time_s = latitude.values[there], longitude.values[there], latitude.time_s[there]
    length_m = float(steps_m(lat, lon).sum()) if lat.size > 1 else 0.0
    every = max(-(-lat.size // MOST_POINTS), 1)
    lat, lon, time_s = lat[::every], lon[::every], time_s[::every]
    middle = float(np.median(lat))
    north = float(steps_m(np.array([middle - 0.005, middle + 0.005]), np.zeros(2))[0]) / 0.01
    east = float(steps_m(np.full(2, middle), np.array([0.0, 0.01]))[0]) / 0.01
    turned = (lon - lon[0] + 180) % 360 - 180
    error: list[float | None] = [None] * lat.size
    a, b = recorded.channel(true), recorded.channel(shown)
    on_water = found.vehicle.kind == "boat"  # there the current is in it
    if a is not None and b is not None and true != shown and not on_water:
        lag = lag_between(SpeedRecord(a.time_s, _whole(a.values)), SpeedRecord(b.time_s, _whole(b.values))).lag_s
        true_kmh = on_times(SpeedRecord(a.time_s, a.values), time_s)
        shown_kmh = on_times(SpeedRecord(b.time_s, b.values), time_s + lag)
        error = [
            round(100 * (float(s) / float(v) - 1), 2) if v > LEAST_KMH and math.isfinite(s) else None
            for v, s in zip(true_kmh, shown_kmh, strict=True)
        ]
    return Track(
        time_s=(time_s - found.summary["begins_s"]).round(3).tolist(),
        east_m=((turned - np.median(turned)) * east).round(2).tolist(),
        north_m=((lat - middle) * north).round(2).tolist(),
        error_pct=error,
        length_m=length_m,
    )


def _whole(values: Array) -> Array:
    """Without gaps."""
    there = np.isfinite(values)
    if there.all() or not there.any():
        return np.asarray(np.nan_to_num(values))
    return np.asarray(np.interp(np.arange(values.size), np.flatnonzero(there), values[there]))
