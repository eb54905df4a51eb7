"""Tracks as GPX 1.0 and 1.1."""

from __future__ import annotations

import math
from collections.abc import Iterator
from datetime import UTC, datetime
from typing import Any, BinaryIO

from speedchain.fields import InputError, text_of
from speedchain.runs.recording import Batches, Piece, Tally, broken
from speedchain.runs.track_files import (
    ACCURACY_PER_DILUTION_M,
    NAMES,
    NAN,
    SENSED,
    SPEED,
    number_in,
    sample_of,
    tidied,
)

DEEPEST, MOST_PARTS = 40, 200
"""Levels of a GPX file, and elements in one of its points."""
GPX_SOURCES = {
    name: text_of("elements {0}", elements)
    for name, elements in {
        SPEED: "speed", SENSED: "TrackPointExtension/speed", "latitude": "lat", "longitude": "lon", "altitude": "ele",
        "course": "course", "accuracy": "accuracy, hdop", "heart rate": "TrackPointExtension/hr", "cadence": "cad",
        "power": "power", "temperature": "TrackPointExtension/atemp",
    }.items()
}  # fmt: skip


def gpx_pieces(file: BinaryIO, tally: Tally) -> Iterator[Piece]:
    """The points of all tracks of a GPX file, with the speed, course and accuracy that some loggers add, and what
    track-point extensions hold: the speed of a sensor, heart rate, cadence, power, temperature.

    Raises
    ------
    `InputError` for broken XML, with its line.
    """
    return tidied(_gpx_samples(file, tally), tally, GPX_SOURCES)


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
            latitude, longitude = number_in(element.get("lat")), number_in(element.get("lon"))
            if not (math.isfinite(time_s) and abs(latitude) <= 90 and abs(longitude) <= 180):
                tally.bad(text_of("point {0}", tally.lines))
                continue
            speed = 3.6 * number_in(found.get("speed"))
            sensed = "speed" in extended
            row = sample_of({
                SPEED: NAN if sensed else speed,
                SENSED: speed if sensed else NAN,
                "latitude": latitude,
                "longitude": longitude,
                "altitude": number_in(found.get("ele")),
                "course": number_in(found.get("course")),
                "accuracy": number_in(found.get("accuracy"))
                if "accuracy" in found
                else ACCURACY_PER_DILUTION_M * number_in(found.get("hdop")),
                "heart rate": number_in(found.get("hr")),
                "cadence": number_in(found.get("cad", found.get("cadence"))),
                "power": number_in(found.get("power", found.get("PowerInWatts"))),
                "temperature": number_in(found.get("atemp")),
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


def _too_wild() -> InputError:
    return InputError(
        "The file is not built as a track is.",
        remedy="Export the track again as GPX.",
        limit=text_of("at most {0} elements in a point, {1} levels", MOST_PARTS, DEEPEST),
        path="file",
    )


def _moment(text: str | None) -> float:
    try:
        found = datetime.fromisoformat((text or "")[:64].strip())
    except ValueError:
        return NAN
    return (found if found.tzinfo else found.replace(tzinfo=UTC)).timestamp()
