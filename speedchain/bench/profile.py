"""True speed over time: held, swept, or as a list of points."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from pydantic import Field, field_validator

from speedchain.fields import InputError, Part, ShownSpeed, SpanOfTime, stated, text_of

Array = NDArray[np.float64]
STEPS = 4000


class ProfilePoint(Part):
    """True speed at a time."""

    at_s: SpanOfTime = stated(title="Time")
    kmh: ShownSpeed


class Profile(Part):
    """A speed profile: straight between its points, held before the first and after the last."""

    points: tuple[ProfilePoint, ...] = Field(min_length=1, max_length=400)

    @field_validator("points")
    @classmethod
    def _rising(cls, points: tuple[ProfilePoint, ...]) -> tuple[ProfilePoint, ...]:
        for place in range(1, len(points)):
            if points[place].at_s < points[place - 1].at_s:
                raise InputError(
                    text_of("The time {0:g} s comes after {1:g} s.", points[place].at_s, points[place - 1].at_s),
                    remedy="Put the points in order of time.",
                    limit=text_of("at least {0:g} s", points[place - 1].at_s),
                    value=points[place].at_s,
                    path=f"{place}.at_s",
                )
        return points

    def at(self, times_s: Array) -> Array:
        """Speed at times [km/h].

        Examples
        --------
        >>> Profile.swept(0, 100, 10).at(np.array([5.0])).tolist()
        [50.0]
        """
        return np.interp(times_s, [item.at_s for item in self.points], [item.kmh for item in self.points])

    @classmethod
    def swept(cls, from_kmh: float, to_kmh: float, seconds: float) -> Profile:
        """From one speed to another in a time."""
        return cls(points=(ProfilePoint(at_s=0, kmh=from_kmh), ProfilePoint(at_s=seconds, kmh=to_kmh)))


@dataclass(frozen=True, slots=True)
class Travel:
    """Time and the turns of the target that have passed, on one grid fine enough to go either way."""

    time_s: Array
    turns: Array
    turns_per_s: Array

    def when(self, turns: Array) -> Array:
        """The times at which turns are reached; turns never reached get the end's time."""
        return np.interp(turns, self.turns, self.time_s)


def travel_of(profile: Profile, from_s: float, to_s: float, turns_per_km_at: Array | float) -> Travel:
    """Turns of the target over time: ∫ v/3.6·turns per km/1000 dt, by the trapezium rule on the profile's own points
    too.

    Parameters
    ----------
    The profile; beginning and end [s]; turns per km, at each of the profile's points or one [1/km].

    Returns
    -------
    A grid of time [s], turns, and turns a second.

    Examples
    --------
    >>> round(float(travel_of(Profile.swept(36, 36, 10), 0.0, 10.0, 100.0).turns[-1]), 9)
    10.0
    """
    corners = np.array([item.at_s for item in profile.points])
    inside = corners[(corners > from_s) & (corners < to_s)]
    time_s = np.union1d(np.linspace(from_s, to_s, STEPS + 1), inside)
    per_km = np.interp(time_s, corners, np.broadcast_to(turns_per_km_at, corners.shape))
    rate = profile.at(time_s) / 3600 * per_km
    turns = np.concatenate([[0.0], np.cumsum((rate[1:] + rate[:-1]) / 2 * np.diff(time_s))])
    return Travel(time_s, turns, rate)
