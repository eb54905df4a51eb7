"""Recorded tracks: GPX 1.0 and 1.1, NMEA 0183 sentences, FIT activities."""

from __future__ import annotations

import math
from collections.abc import Iterator
from datetime import UTC, datetime
from typing import Any, BinaryIO

import numpy as np
from numpy.typing import NDArray

from speedchain.fields import KM_PER_NAUTICAL_MILE, InputError, text_of
from speedchain.runs.recording import MOST_KMH, Batches, ChannelKind, Piece, Tally, broken

Array = NDArray[np.float64]
NAN = math.nan
ACCURACY_PER_DILUTION_M = 4.0
"""Accuracy of a fix for a dilution of precision of one. Common practice."""
SEMICIRCLE_DEG = 180 / 2**31
EARTH_A_M, EARTH_E2 = 6_378_137.0, 0.006_694_379_990_14
"""WGS 84: half the equator's diameter, and the square of the eccentricity."""
LONGEST_NUMBER = 64
LONGEST_SENTENCE = 1000
"""NMEA 0183 has 82 letters at most; loggers put times and more before them."""
DEEPEST, MOST_PARTS = 40, 200
"""Levels of a GPX file, and elements in one of its points."""
SPEED = "satellite speed"
PLACE_SPEED = "speed from places"
KINDS = {
    SPEED: ChannelKind("speed", "km/h", true=True),
    "latitude": ChannelKind("latitude", "°"),
    "longitude": ChannelKind("longitude", "°"),
    "altitude": ChannelKind("altitude", "m"),
    "course": ChannelKind("course", "°"),
    "accuracy": ChannelKind("accuracy", "m"),
}
NAMES = tuple(KINDS)
Sample = tuple[float, ...]


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


def _tidy(pieces: Iterator[Piece], tally: Tally) -> Iterator[Piece]:
    """Channels that hold something; a speed from places where the file has none."""
    there: set[str] | None = None
    from_places: _PlaceSpeed | None = None
    for piece in pieces:
        values = dict(piece.values)
        if there is None:
            there = {name for name, of_channel in values.items() if np.isfinite(of_channel).any()}
            if SPEED not in there and {"latitude", "longitude"} <= there:
                from_places = _PlaceSpeed()
                there |= {SPEED}
            tally.kinds |= {name: KINDS[name] for name in NAMES if name in there}
        if from_places is None:
            values[SPEED] = possible(values[SPEED])
        else:
            values[SPEED] = from_places.of(piece.time_s, values["latitude"], values["longitude"])
        yield Piece("", piece.time_s, {name: values[name] for name in NAMES if name in there})


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
                tally.kinds[PLACE_SPEED] = ChannelKind("speed", "km/h", True)
        first = False
        if from_places is None:
            yield piece
            continue
        latitude, longitude = piece.values[names["latitude"]], piece.values[names["longitude"]]
        speed = from_places.of(piece.time_s, latitude, longitude)
        yield Piece(piece.stream, piece.time_s, dict(piece.values) | {PLACE_SPEED: speed})


def gpx_pieces(file: BinaryIO, tally: Tally) -> Iterator[Piece]:
    """The points of all tracks of a GPX file, with the speed, course and accuracy that some loggers add.

    Raises
    ------
    `InputError` for broken XML, with its line.
    """
    return _tidy(_gpx_samples(file, tally), tally)


def _gpx_samples(file: BinaryIO, tally: Tally) -> Iterator[Piece]:
    from xml.etree.ElementTree import Element, ParseError

    from defusedxml import DefusedXmlException
    from defusedxml.ElementTree import iterparse

    batch = Batches("", NAMES)
    opened: list[Element] = []
    point: Element | None = None
    try:
        for event, element in iterparse(file, events=("start", "end"), forbid_dtd=True):
            name = element.tag.rpartition("}")[2]
            if event == "start":
                if len(opened) >= DEEPEST:
                    raise _too_wild()
                opened.append(element)
                point = element if point is None and name == "trkpt" else point
                continue
            opened.pop()
            if point is not None and len(point) > MOST_PARTS:
                raise _too_wild()
            if point is not None and element is not point:
                continue
            if opened:
                opened[-1].clear()  # what was read is let go, so that the tree stays as small as one point
            if point is None:
                continue
            point = None
            tally.lines += 1
            found = {child.tag.rpartition("}")[2]: child.text for child in element.iter()}
            time_s = _moment(found.get("time"))
            latitude, longitude = _number(element.get("lat")), _number(element.get("lon"))
            if not (math.isfinite(time_s) and abs(latitude) <= 90 and abs(longitude) <= 180):
                tally.bad(text_of("point {0}", tally.lines))
                continue
            row = (
                3.6 * _number(found.get("speed")),
                latitude,
                longitude,
                _number(found.get("ele")),
                _number(found.get("course")),
                _number(found.get("accuracy"))
                if "accuracy" in found
                else ACCURACY_PER_DILUTION_M * _number(found.get("hdop")),
            )
            yield from batch.add(time_s, row)
    except ParseError as error:
        broken(tally, error.position[0], error, remedy="Export the track again as GPX.")
    except DefusedXmlException as error:
        raise InputError(
            "The file declares entities of its own, which are not read.",
            remedy="Export the track again as GPX.",
            path="file",
        ) from error
    yield from batch.rest()


def _too_wild() -> InputError:
    return InputError(
        "The file is not built as a track is.",
        remedy="Export the track again as GPX.",
        limit=text_of("at most {0} elements in a point, {1} levels", MOST_PARTS, DEEPEST),
        path="file",
    )


def _number(text: str | None) -> float:
    try:
        found = float(text) if text and len(text) <= LONGEST_NUMBER else NAN
    except ValueError:
        return NAN
    return found if math.isfinite(found) else NAN


def _moment(text: str | None) -> float:
    try:
        found = datetime.fromisoformat((text or "")[:64].strip())
    except ValueError:
        return NAN
    return (found if found.tzinfo else found.replace(tzinfo=UTC)).timestamp()


def nmea_pieces(file: BinaryIO, tally: Tally) -> Iterator[Piece]:
    """The fixes in NMEA 0183 sentences: RMC, GGA and VTG of one time are one sample; other sentences are passed over.

    Sentences with a wrong checksum, or none that can be read, are counted as bad.
    """
    return _tidy(_nmea_samples(file, tally), tally)


def _nmea_samples(file: BinaryIO, tally: Tally) -> Iterator[Piece]:
    import pynmea2

    batch = Batches("", NAMES)
    now: float | None = None
    found: dict[str, float] = {}
    day, last_of_day = 0.0, NAN

    def sample() -> Iterator[Piece]:
        if now is not None and found:
            yield from batch.add(now, tuple([found.get(name, NAN) for name in NAMES]))

    for number, raw in enumerate(iter(lambda: file.readline(LONGEST_SENTENCE), b""), 1):
        line = raw.decode("ascii", "replace").strip()
        start = line.find("$")
        if start < 0:
            if line:
                tally.lines += 1
                tally.bad(text_of("line {0}", number))
            continue
        tally.lines += 1
        if line[start + 3 : start + 6] not in ("RMC", "GGA", "VTG") or "*" not in line:
            if "*" not in line:
                tally.bad(text_of("line {0}", number))
            continue
        try:
            sentence = pynmea2.parse(line[start:], check=True)
            values = _of_sentence(sentence)
        except (pynmea2.ParseError, ValueError, TypeError, AttributeError):
            tally.bad(text_of("line {0}", number))
            continue
        moment = getattr(sentence, "timestamp", None)
        if moment is not None:
            of_day = moment.hour * 3600 + moment.minute * 60 + moment.second + moment.microsecond / 1e6
            dated = getattr(sentence, "datestamp", None)
            if dated is not None:
                day = datetime(dated.year, dated.month, dated.day, tzinfo=UTC).timestamp()
            elif of_day < last_of_day - 43_200:
                day += 86_400
            if of_day != last_of_day:
                yield from sample()
                found = {}
            now, last_of_day = day + of_day, of_day
        found |= values
    yield from sample()
    yield from batch.rest()


def _of_sentence(sentence: Any) -> dict[str, float]:
    """What a sentence says, in km/h, degrees and metres; nothing of one without a fix."""
    found: dict[str, float] = {}
    match sentence.sentence_type:
        case "RMC" if sentence.status == "A":
            found = {
                SPEED: _number(_text(sentence.spd_over_grnd)) * KM_PER_NAUTICAL_MILE,
                "course": _number(_text(sentence.true_course)),
                "latitude": float(sentence.latitude),
                "longitude": float(sentence.longitude),
            }
        case "VTG":
            found = {SPEED: _number(_text(sentence.spd_over_grnd_kmph)), "course": _number(_text(sentence.true_track))}
        case "GGA" if int(sentence.gps_qual or 0) > 0:
            found = {
                "latitude": float(sentence.latitude),
                "longitude": float(sentence.longitude),
                "altitude": _number(_text(sentence.altitude)),
                "accuracy": ACCURACY_PER_DILUTION_M * _number(_text(sentence.horizontal_dil)),
            }
        case _:
            pass
    return {name: value for name, value in found.items() if math.isfinite(value)}


def _text(value: object) -> str | None:
    return None if value is None else str(value)


def fit_pieces(file: BinaryIO, tally: Tally) -> Iterator[Piece]:
    """The records of a FIT activity: speed, place, altitude, accuracy.

    Raises
    ------
    `InputError` for a broken file.
    """
    return _tidy(_fit_samples(file, tally), tally)


def _fit_samples(file: BinaryIO, tally: Tally) -> Iterator[Piece]:
    import fitdecode

    batch = Batches("", NAMES)
    try:
        with fitdecode.FitReader(
            file, check_crc=fitdecode.CrcCheck.RAISE, error_handling=fitdecode.ErrorHandling.IGNORE
        ) as reader:
            for frame in reader:
                if frame.frame_type != fitdecode.FIT_FRAME_DATA or frame.name != "record":
                    continue
                tally.lines += 1
                values = {field.name: field.value for field in frame.fields if field.value is not None}
                moment = values.get("timestamp")
                if not isinstance(moment, datetime):
                    tally.bad(text_of("record {0}", tally.lines))
                    continue
                row = (
                    3.6 * _float(values.get("enhanced_speed", values.get("speed"))),
                    SEMICIRCLE_DEG * _float(values.get("position_lat")),
                    SEMICIRCLE_DEG * _float(values.get("position_long")),
                    _float(values.get("enhanced_altitude", values.get("altitude"))),
                    NAN,
                    _float(values.get("gps_accuracy")),
                )
                yield from batch.add(moment.timestamp(), row)
    except (fitdecode.FitError, ValueError, TypeError, IndexError, KeyError) as error:
        broken(tally, tally.lines + 1, error, remedy="Copy the activity from the device again.")
    yield from batch.rest()


def _float(value: object) -> float:
    return float(value) if isinstance(value, int | float) else NAN
