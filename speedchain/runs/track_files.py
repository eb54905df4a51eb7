"""Recorded tracks: GPX 1.0 and 1.1, NMEA 0183 sentences, FIT activities."""

from __future__ import annotations

import math
from collections.abc import Iterator, Mapping
from datetime import UTC, datetime
from typing import Any, BinaryIO

import numpy as np
from numpy.typing import NDArray

from speedchain.fields import KM_PER_NAUTICAL_MILE, InputError, Words, text_of
from speedchain.runs.recording import MOST_KMH, Batches, ChannelKind, Piece, Tally, broken, plain_name

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
FIXES = ("RMC", "GGA", "VTG")
INSTRUMENTS = ("VHW", "VBW", "HDT", "HDG", "HDM")
MOST_RECEIVERS = 4
WHEEL_SENSORS = ("bike_speed", "bike_speed_cadence", 121, 123)
"""Devices of a FIT activity that measure the speed at a wheel: their names, and their numbers among ANT+ devices."""
NMEA_SOURCES = {
    name: text_of("sentences {0}", sentences)
    for name, sentences in {
        SPEED: "RMC, VTG", WATER: "VHW, VBW", "latitude": "RMC, GGA", "longitude": "RMC, GGA", "altitude": "GGA",
        "course": "RMC, VTG", "heading": "HDT, HDG, VHW", "accuracy": "GGA",
    }.items()
}  # fmt: skip
GPX_SOURCES = {
    name: text_of("elements {0}", elements)
    for name, elements in {
        SPEED: "speed", SENSED: "TrackPointExtension/speed", "latitude": "lat", "longitude": "lon", "altitude": "ele",
        "course": "course", "accuracy": "accuracy, hdop", "heart rate": "TrackPointExtension/hr", "cadence": "cad",
        "power": "power", "temperature": "TrackPointExtension/atemp",
    }.items()
}  # fmt: skip
FIT_SOURCES = dict.fromkeys(NAMES, text_of("records"))
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


def _tidy(pieces: Iterator[Piece], tally: Tally, sources: Sources) -> Iterator[Piece]:
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


def gpx_pieces(file: BinaryIO, tally: Tally) -> Iterator[Piece]:
    """The points of all tracks of a GPX file, with the speed, course and accuracy that some loggers add, and what
    track-point extensions hold: the speed of a sensor, heart rate, cadence, power, temperature.

    Raises
    ------
    `InputError` for broken XML, with its line.
    """
    return _tidy(_gpx_samples(file, tally), tally, GPX_SOURCES)


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
            extended = {name.lower() for name in _of_extension(element)}
            time_s = _moment(found.get("time"))
            latitude, longitude = _number(element.get("lat")), _number(element.get("lon"))
            if not (math.isfinite(time_s) and abs(latitude) <= 90 and abs(longitude) <= 180):
                tally.bad(text_of("point {0}", tally.lines))
                continue
            speed = 3.6 * _number(found.get("speed"))
            sensed = "speed" in extended
            row = _row({
                SPEED: NAN if sensed else speed,
                SENSED: speed if sensed else NAN,
                "latitude": latitude,
                "longitude": longitude,
                "altitude": _number(found.get("ele")),
                "course": _number(found.get("course")),
                "accuracy": _number(found.get("accuracy"))
                if "accuracy" in found
                else ACCURACY_PER_DILUTION_M * _number(found.get("hdop")),
                "heart rate": _number(found.get("hr")),
                "cadence": _number(found.get("cad", found.get("cadence"))),
                "power": _number(found.get("power", found.get("PowerInWatts"))),
                "temperature": _number(found.get("atemp")),
            })  # fmt: skip
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


def _of_extension(point: Any) -> list[str]:
    """What stands in the track-point extension of a point."""
    within = [part for part in point.iter() if part.tag.rpartition("}")[2] == "TrackPointExtension"]
    return [child.tag.rpartition("}")[2] for part in within for child in part]


def _row(found: Mapping[str, float]) -> Sample:
    return tuple([found.get(name, NAN) for name in NAMES])


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
    """The fixes in NMEA 0183 sentences: RMC, GGA and VTG of one time are one sample, with the speed through the water
    (VHW, VBW) and the heading (HDT, HDG, VHW) that come between them; other sentences are passed over.

    A second receiver, which sends a kind of sentence that another has sent before, has channels of its own. Sentences
    with a wrong checksum, or none that can be read, are counted as bad.
    """
    return _tidy(_nmea_samples(file, tally), tally, NMEA_SOURCES)


class _Receiver:
    """What one receiver says: a sample for each of its times."""

    def __init__(self, stream: str) -> None:
        self.batch = Batches(stream, NAMES)
        self.now: float | None = None
        self.found: dict[str, float] = {}
        self.day, self.last_of_day = 0.0, NAN

    def sample(self) -> Iterator[Piece]:
        """What was said of the time that is over."""
        if self.now is not None and self.found:
            yield from self.batch.add(self.now, _row(self.found))
        self.found = {}

    def at(self, sentence: Any) -> Iterator[Piece]:
        """The time of a sentence; a new one ends the sample before."""
        moment = getattr(sentence, "timestamp", None)
        if moment is None:
            return
        of_day = moment.hour * 3600 + moment.minute * 60 + moment.second + moment.microsecond / 1e6
        dated = getattr(sentence, "datestamp", None)
        if dated is not None:
            self.day = datetime(dated.year, dated.month, dated.day, tzinfo=UTC).timestamp()
        elif of_day < self.last_of_day - 43_200:
            self.day += 86_400
        if of_day != self.last_of_day:
            yield from self.sample()
        self.now, self.last_of_day = self.day + of_day, of_day


def _nmea_samples(file: BinaryIO, tally: Tally) -> Iterator[Piece]:
    import pynmea2

    receivers = {"": _Receiver("")}
    first: dict[str, str] = {}
    for number, raw in enumerate(iter(lambda: file.readline(LONGEST_SENTENCE), b""), 1):
        line = raw.decode("ascii", "replace").strip()
        start = line.find("$")
        if start < 0:
            if line:
                tally.lines += 1
                tally.bad(text_of("line {0}", number))
            continue
        tally.lines += 1
        talker, kind = line[start + 1 : start + 3], line[start + 3 : start + 6]
        if kind not in FIXES + INSTRUMENTS or "*" not in line:
            if "*" not in line:
                tally.bad(text_of("line {0}", number))
            continue
        try:
            sentence = pynmea2.parse(line[start:], check=True)
            values = _of_sentence(sentence)
        except (pynmea2.ParseError, ValueError, TypeError, AttributeError, IndexError):
            tally.bad(text_of("line {0}", number))
            continue
        stream = ""
        if kind in FIXES and first.setdefault(kind, talker) != talker:
            stream = plain_name(talker)
            if stream not in receivers and len(receivers) >= MOST_RECEIVERS:
                tally.bad(text_of("line {0}", number))
                continue
        receiver = receivers.setdefault(stream, _Receiver(stream))
        if kind in FIXES:
            yield from receiver.at(sentence)
        receiver.found |= values
    for receiver in receivers.values():
        yield from receiver.sample()
        yield from receiver.batch.rest()


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
        case "VHW":  # degrees true, degrees magnetic, knots, km/h
            knots = _number(_text(sentence.water_speed_knots)) * KM_PER_NAUTICAL_MILE
            found = {
                WATER: knots if math.isfinite(knots) else _number(_text(sentence.water_speed_km)),
                "heading": _either(sentence.heading_true, sentence.heading_magnetic),
            }
        case "VBW" if sentence.data[2] == "A":  # along and across through the water, valid; the same over ground
            along, across = (_number(sentence.data[place]) for place in (0, 1))
            found = {WATER: math.hypot(along, across if math.isfinite(across) else 0.0) * KM_PER_NAUTICAL_MILE}
        case "HDT" | "HDG" | "HDM":
            found = {"heading": _number(sentence.data[0])}
        case _:
            pass
    return {name: value for name, value in found.items() if math.isfinite(value)}


def _either(one: object, other: object) -> float:
    found = _number(_text(one))
    return found if math.isfinite(found) else _number(_text(other))


def _text(value: object) -> str | None:
    return None if value is None else str(value)


def fit_pieces(file: BinaryIO, tally: Tally) -> Iterator[Piece]:
    """The records of a FIT activity: speed, place, altitude, accuracy, heart rate, cadence, power, temperature. Where a
    wheel sensor is among its devices, the speed is that of the sensor.

    Raises
    ------
    `InputError` for a broken file.
    """
    return _tidy(_fit_samples(file, tally), tally, FIT_SOURCES)


def _fit_samples(file: BinaryIO, tally: Tally) -> Iterator[Piece]:
    import fitdecode

    batch = Batches("", NAMES)
    sensed = False
    try:
        with fitdecode.FitReader(
            file, check_crc=fitdecode.CrcCheck.RAISE, error_handling=fitdecode.ErrorHandling.IGNORE
        ) as reader:
            for frame in reader:
                if frame.frame_type == fitdecode.FIT_FRAME_DATA and frame.name == "device_info" and not batch.times:
                    sensed |= any(field.value in WHEEL_SENSORS for field in frame.fields if "type" in field.name)
                if frame.frame_type != fitdecode.FIT_FRAME_DATA or frame.name != "record":
                    continue
                tally.lines += 1
                values = {field.name: field.value for field in frame.fields if field.value is not None}
                moment = values.get("timestamp")
                if not isinstance(moment, datetime):
                    tally.bad(text_of("record {0}", tally.lines))
                    continue
                speed = 3.6 * _float(values.get("enhanced_speed", values.get("speed")))
                row = _row({
                    SPEED: NAN if sensed else speed,
                    SENSED: speed if sensed else NAN,
                    "latitude": SEMICIRCLE_DEG * _float(values.get("position_lat")),
                    "longitude": SEMICIRCLE_DEG * _float(values.get("position_long")),
                    "altitude": _float(values.get("enhanced_altitude", values.get("altitude"))),
                    "accuracy": _float(values.get("gps_accuracy")),
                    "heart rate": _float(values.get("heart_rate")),
                    "cadence": _float(values.get("cadence")),
                    "power": _float(values.get("power")),
                    "temperature": _float(values.get("temperature")),
                })  # fmt: skip
                yield from batch.add(moment.timestamp(), row)
    except (fitdecode.FitError, ValueError, TypeError, IndexError, KeyError) as error:
        broken(tally, tally.lines + 1, error, remedy="Copy the activity from the device again.")
    yield from batch.rest()


def _float(value: object) -> float:
    return float(value) if isinstance(value, int | float) else NAN
