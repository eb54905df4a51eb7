"""What recorded tracks may hold, whatever their format: their channels, and a speed from their places."""

from __future__ import annotations

import math
from collections.abc import Iterator, Mapping

import numpy as np
from numpy.typing import NDArray

from speedchain.fields import Words
from speedchain.runs.recording import MOST_KMH, ChannelKind, Piece, Tally

Array = NDArray[np.float64]
NAN = math.nan
ACCURACY_PER_DILUTION_M = 4.0
"""Accuracy of a fix for a dilution of precision of one. Common practice."""
EARTH_A_M, EARTH_E2 = 6_378_137.0, 0.006_694_379_990_14
"""WGS 84: half the equator's diameter, and the square of the eccentricity."""
LONGEST_NUMBER = 64
SPEED = "satellite speed"
PLACE_SPEED = "speed from places"
SENSED = "speed of a sensor"
WATER = "speed through water"
KINDS = {
    SPEED: ChannelKind("speed", "km/h", true=True),
    SENSED: ChannelKind("speed", "km/h"),
    WATER: ChannelKind("speed", "km/h"),
    "latitude": ChannelKind("latitude", "°"),
    "longitude": ChannelKind("longitude", "°"),
    "altitude": ChannelKind("altitude", "m"),
    "course": ChannelKind("course", "°"),
    "heading": ChannelKind("heading", "°"),
    "accuracy": ChannelKind("accuracy", "m"),
    "heart rate": ChannelKind("other", "1/min"),
    "cadence": ChannelKind("other", "1/min"),
    "power": ChannelKind("other", "W"),
    "temperature": ChannelKind("other", "°C"),
}
"""What a track may hold. A speed that stands in a track-point extension, or beside a wheel sensor, is that of a sensor:
the places are the truth for it."""
NAMES = tuple(KINDS)
FROM_PLACES: Words = "latitude and longitude"
Sample = tuple[float, ...]
Sources = Mapping[str, Words]


def steps_m(latitude_deg: Array, longitude_deg: Array) -> Array:
    """Distances from each place to the next [m], over the WGS 84 ellipsoid, for places close together.

    d² = (M·Δφ)² + (N·cos φ·Δλ)², with the radii of curvature M and N halfway.

    Examples
    --------
    >>> steps_m(np.array([0.0, 0.0]), np.array([0.0, 0.01])).round(3).tolist()
    [1113.195]
    """
    return np.hypot(*steps_east_north_m(latitude_deg, longitude_deg))


def steps_east_north_m(latitude_deg: Array, longitude_deg: Array) -> tuple[Array, Array]:
    """From each place to the next, how far east and how far north [m].

    Examples
    --------
    >>> east_m, north_m = steps_east_north_m(np.array([0.0, 0.0]), np.array([0.0, 0.01]))
    >>> east_m.round(3).tolist(), north_m.tolist()
    ([1113.195], [0.0])

    References
    ----------
    Radii of curvature of an ellipsoid of revolution: any textbook of geodesy; checked against geographiclib.
    """
    phi = np.radians(latitude_deg)
    middle = (phi[1:] + phi[:-1]) / 2
    root = 1 - EARTH_E2 * np.sin(middle) ** 2
    north = EARTH_A_M * (1 - EARTH_E2) / root**1.5 * np.diff(phi)
    turned = (np.diff(longitude_deg) + 180) % 360 - 180
    east = EARTH_A_M / np.sqrt(root) * np.cos(middle) * np.radians(turned)
    return east, north


class _PlaceSpeed:
    """Speed [km/h] from each place to the next, piece after piece; not known at the first."""

    def __init__(self) -> None:
        self.last: tuple[float, float, float] | None = None

    def of(self, time_s: Array, latitude_deg: Array, longitude_deg: Array) -> Array:
        """The speed at each of some places, from the one before it."""
        head = [] if self.last is None else [self.last]
        times, latitude, longitude = (
            np.concatenate([[item[place] for item in head], values])
            for place, values in enumerate((time_s, latitude_deg, longitude_deg))
        )
        with np.errstate(divide="ignore", invalid="ignore"):
            speeds = 3.6 * steps_m(latitude, longitude) / np.diff(times)
        self.last = (float(times[-1]), float(latitude[-1]), float(longitude[-1]))
        return possible(speeds if head else np.concatenate([[NAN], speeds]))


def possible(kmh: Array) -> Array:
    """Speeds in place, but for those that no vehicle has."""
    kmh[~(np.abs(kmh) <= MOST_KMH)] = NAN
    return kmh


def tidied(pieces: Iterator[Piece], tally: Tally, sources: Sources) -> Iterator[Piece]:
    """Channels that hold something; a speed from places where the file has none of a satellite. Of each stream: one of
    a second receiver has its name behind those of its channels."""
    there: dict[str, set[str]] = {}
    from_places: dict[str, _PlaceSpeed] = {}
    for piece in pieces:
        values, stream = dict(piece.values), piece.stream
        behind = f", {stream}" if stream else ""
        if stream not in there:
            there[stream] = {name for name, of_channel in values.items() if np.isfinite(of_channel).any()}
            if SPEED not in there[stream] and {"latitude", "longitude"} <= there[stream]:
                from_places[stream] = _PlaceSpeed()
                there[stream] |= {SPEED}
            for name in NAMES:
                if name in there[stream]:
                    placed = name == SPEED and stream in from_places
                    source = FROM_PLACES if placed else sources.get(name, "")
                    true = KINDS[name].true and not stream
                    tally.kinds[name + behind] = KINDS[name]._replace(source=source, true=true)
        if stream in from_places:
            values[SPEED] = from_places[stream].of(piece.time_s, values["latitude"], values["longitude"])
        else:
            values[SPEED] = possible(values[SPEED])
        kept = [name for name in NAMES if name in there[stream]]
        yield Piece(stream, piece.time_s, {name + behind: values[name] for name in kept})


def with_place_speed(pieces: Iterator[Piece], tally: Tally) -> Iterator[Piece]:
    """A table's channels, and a true speed from its places where it holds none.

    Examples
    --------
    >>> tally = Tally(kinds={name: ChannelKind(name, "°") for name in ("latitude", "longitude")})
    >>> places = {"latitude": np.array([0.0, 1e-4]), "longitude": np.zeros(2)}
    >>> [piece.values[PLACE_SPEED].round(1).tolist() for piece in with_place_speed(
    ...     iter([Piece("", np.arange(2.0), places)]), tally)]
    [[nan, 39.8]]
    """
    from_places: _PlaceSpeed | None = None
    first = True
    for piece in pieces:
        names = {kind.quantity: name for name, kind in tally.kinds.items()}
        if first and {"latitude", "longitude"} <= set(names):
            true = [name for name, kind in tally.kinds.items() if kind.quantity == "speed" and kind.true]
            if not any(np.isfinite(piece.values[name]).any() for name in true):
                from_places = _PlaceSpeed()
                tally.kinds |= {name: tally.kinds[name]._replace(true=False) for name in true}
                tally.kinds[PLACE_SPEED] = ChannelKind("speed", "km/h", True, FROM_PLACES)
        first = False
        if from_places is None:
            yield piece
            continue
        latitude, longitude = piece.values[names["latitude"]], piece.values[names["longitude"]]
        speed = from_places.of(piece.time_s, latitude, longitude)
        yield Piece(piece.stream, piece.time_s, dict(piece.values) | {PLACE_SPEED: speed})


def sample_of(found: Mapping[str, float]) -> Sample:
    """A sample of what was found, by the names of the channels."""
    return tuple([found.get(name, NAN) for name in NAMES])


def number_in(text: str | None) -> float:
    """A number of a file; NaN for what is none."""
    try:
        found = float(text) if text and len(text) <= LONGEST_NUMBER else NAN
    except ValueError:
        return NAN
    return found if math.isfinite(found) else NAN
