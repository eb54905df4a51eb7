"""Tracks as NMEA 0183 sentences."""

from __future__ import annotations

import math
from collections.abc import Iterator
from datetime import UTC, datetime
from typing import Any, BinaryIO

from speedchain.fields import KM_PER_NAUTICAL_MILE, text_of
from speedchain.runs.recording import Batches, Piece, Tally, plain_name
from speedchain.runs.track_files import (
    ACCURACY_PER_DILUTION_M,
    NAMES,
    NAN,
    SPEED,
    WATER,
    number_in,
    sample_of,
    tidied,
)

LONGEST_SENTENCE = 1000
"""NMEA 0183 has 82 letters at most; loggers put times and more before them."""
FIXES = ("RMC", "GGA", "VTG")
INSTRUMENTS = ("VHW", "VBW", "HDT", "HDG", "HDM")
MOST_RECEIVERS = 4
NMEA_SOURCES = {
    name: text_of("sentences {0}", sentences)
    for name, sentences in {
        SPEED: "RMC, VTG", WATER: "VHW, VBW", "latitude": "RMC, GGA", "longitude": "RMC, GGA", "altitude": "GGA",
        "course": "RMC, VTG", "heading": "HDT, HDG, VHW", "accuracy": "GGA",
    }.items()
}  # fmt: skip


def nmea_pieces(file: BinaryIO, tally: Tally) -> Iterator[Piece]:
    """The fixes in NMEA 0183 sentences: RMC, GGA and VTG of one time are one sample, with the speed through the water
    (VHW, VBW) and the heading (HDT, HDG, VHW) that come between them; other sentences are passed over.

    A second receiver, which sends a kind of sentence that another has sent before, has channels of its own. Sentences
    with a wrong checksum, or none that can be read, are counted as bad.
    """
    return tidied(_nmea_samples(file, tally), tally, NMEA_SOURCES)


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
            yield from self.batch.add(self.now, sample_of(self.found))
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
                SPEED: number_in(_text(sentence.spd_over_grnd)) * KM_PER_NAUTICAL_MILE,
                "course": number_in(_text(sentence.true_course)),
                "latitude": float(sentence.latitude),
                "longitude": float(sentence.longitude),
            }
        case "VTG":
            found = {
                SPEED: number_in(_text(sentence.spd_over_grnd_kmph)),
                "course": number_in(_text(sentence.true_track)),
            }
        case "GGA" if int(sentence.gps_qual or 0) > 0:
            found = {
                "latitude": float(sentence.latitude),
                "longitude": float(sentence.longitude),
                "altitude": number_in(_text(sentence.altitude)),
                "accuracy": ACCURACY_PER_DILUTION_M * number_in(_text(sentence.horizontal_dil)),
            }
        case "VHW":  # degrees true, degrees magnetic, knots, km/h
            knots = number_in(_text(sentence.water_speed_knots)) * KM_PER_NAUTICAL_MILE
            found = {
                WATER: knots if math.isfinite(knots) else number_in(_text(sentence.water_speed_km)),
                "heading": _either(sentence.heading_true, sentence.heading_magnetic),
            }
        case "VBW" if sentence.data[2] == "A":  # along and across through the water, valid; the same over ground
            along, across = (number_in(sentence.data[place]) for place in (0, 1))
            found = {WATER: math.hypot(along, across if math.isfinite(across) else 0.0) * KM_PER_NAUTICAL_MILE}
        case "HDT" | "HDG" | "HDM":
            found = {"heading": number_in(sentence.data[0])}
        case _:
            pass
    return {name: value for name, value in found.items() if math.isfinite(value)}


def _either(one: object, other: object) -> float:
    found = number_in(_text(one))
    return found if math.isfinite(found) else number_in(_text(other))


def _text(value: object) -> str | None:
    return None if value is None else str(value)
