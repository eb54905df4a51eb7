"""How long a setting stays true: tread that wears makes the wheel smaller, and the display show more."""

from __future__ import annotations

import math
from collections.abc import Sequence
from typing import NamedTuple

import numpy as np

from speedchain.fields import InputError, Words, text_of
from speedchain.results import result
from speedchain.uncertainty import COVERAGE_FACTOR, student_factor

LEAST_TREAD_MM = 1.6
"""Legal least tread depth of car tyres in most places (UN R30 wear marks); check your local rules."""
READING_U_MM = 0.2
"""Of a tread gauge. Common practice."""
LOOK_AHEAD = 1.5
"""How far the curve of a forecast goes on: so many times the distance to the limit."""
CURVE_POINTS = 31


class Tread(NamedTuple):
    """Tread depth [mm] at a distance driven [km]."""

    km: float
    depth_mm: float


@result
class WearReading:
    """A reading, and by how much the display shows more there than at the first [%]."""

    km: float
    depth_mm: float
    more_pct: float


@result
class WearPoint:
    """Of the forecast: how much more the display shows at a distance [%], and ± of it (95 %)."""

    km: float
    more_pct: float
    expanded_pct: float


@result
class WearForecast:
    """When wear has moved the shown speed by a limit: distance [km] and its expanded uncertainty [km].

    `per_1000_km_mm` is the wear; `worn_out_km` the distance at which the least tread depth is reached. `readings` and
    `curve` are what was measured and how it goes on, over the distance driven.
    """

    per_1000_km_mm: float
    limit_pct: float
    limit_km: float
    expanded_km: float
    worn_out_km: float
    readings: tuple[WearReading, ...]
    curve: tuple[WearPoint, ...]
    text: Words


def wear_forecast(readings: Sequence[Tread], *, circumference_mm: float, limit_pct: float) -> WearForecast:
    """The distance at which wear has moved the shown speed by `limit_pct` since the first reading.

    depth = d₀ − w·km by least squares; a tread of Δ less makes the circumference 2π·Δ shorter, so the display shows
    2π·Δ/C more: km = limit·C/(2π·w). u(km)/km = u(w)/w, u(w) from the scatter, at least the gauge's own 0.2 mm.

    What the display shows more at a distance is 100·2π·w·(km − km₀)/C, ± 100·2π·k·u(w)·(km − km₀)/C.

    Parameters
    ----------
    Readings over the distance driven [km], [mm]; circumference at the first [mm]; limit [%].

    Raises
    ------
    `InputError` for fewer than two distances, or a tread that does not wear.

    Examples
    --------
    >>> found = wear_forecast([Tread(0, 8.0), Tread(10_000, 6.0)], circumference_mm=2000, limit_pct=0.5)
    >>> round(found.per_1000_km_mm, 3), round(found.limit_km), round(found.worn_out_km)
    (0.2, 7958, 32000)
    """
    points = sorted(readings)
    if len(points) < 2 or points[-1].km <= points[0].km:
        raise InputError(
            "Wear needs readings at two distances.",
            remedy="Measure the tread again after some distance.",
            limit="at least two readings",
            path="readings",
        )
    km, depth = (np.array(values, dtype=float) for values in zip(*points, strict=True))
    slope, begin = np.polyfit(km, depth, 1)
    wear = -float(slope)
    if wear <= 0:
        raise InputError(
            "The tread does not wear in these readings.", remedy="Check the depths and distances.", path="readings"
        )
    spread = math.sqrt(float(((km - km.mean()) ** 2).sum()))
    left = depth - begin - slope * km
    freedom = len(points) - 2
    scatter = math.sqrt(float(left @ left) / freedom) if freedom > 0 else 0.0
    u, factor = READING_U_MM / spread, float(COVERAGE_FACTOR)
    if scatter > READING_U_MM:
        u, factor = scatter / spread, student_factor(freedom)
    lost_mm = limit_pct / 100 * circumference_mm / (2 * math.pi)
    limit_km = lost_mm / wear
    expanded = factor * u / wear * limit_km
    worn_out = (float(begin) - LEAST_TREAD_MM) / wear
    first, pct_per_mm = float(km[0]), 100 * 2 * math.pi / circumference_mm
    end = max(float(km[-1]), first + LOOK_AHEAD * limit_km)
    return WearForecast(
        per_1000_km_mm=1000 * wear,
        limit_pct=limit_pct,
        limit_km=limit_km,
        expanded_km=expanded,
        worn_out_km=worn_out,
        readings=tuple(
            [
                WearReading(km=at, depth_mm=deep, more_pct=pct_per_mm * (float(begin) - wear * first - deep))
                for at, deep in points
            ]
        ),
        curve=tuple(
            [
                WearPoint(
                    km=at,
                    more_pct=pct_per_mm * wear * (at - first),
                    expanded_pct=pct_per_mm * factor * u * (at - first),
                )
                for at in np.linspace(first, end, CURVE_POINTS).tolist()
            ]
        ),
        text=text_of(
            "{0:.2f} mm less tread in 1000 km: {1:.0f} km after the first reading, ± {2:.0f} km, the display shows "
            "{3:g} % more.",
            1000 * wear,
            limit_km,
            expanded,
            limit_pct,
        ),
    )
