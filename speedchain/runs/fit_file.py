"""Activities as FIT files."""

from __future__ import annotations

from collections.abc import Iterator
from datetime import datetime
from typing import BinaryIO

from speedchain.fields import text_of
from speedchain.runs.recording import Batches, Piece, Tally, broken
from speedchain.runs.track_files import (
    NAMES,
    NAN,
    SENSED,
    SPEED,
    sample_of,
    tidied,
)

SEMICIRCLE_DEG = 180 / 2**31
WHEEL_SENSORS = ("bike_speed", "bike_speed_cadence", 121, 123)
"""Devices of a FIT activity that measure the speed at a wheel: their names, and their numbers among ANT+ devices."""
FIT_SOURCES = dict.fromkeys(NAMES, text_of("records"))


def fit_pieces(file: BinaryIO, tally: Tally) -> Iterator[Piece]:
    """The records of a FIT activity: speed, place, altitude, accuracy, heart rate, cadence, power, temperature. Where a
    wheel sensor is among its devices, the speed is that of the sensor.

    Raises
    ------
    `InputError` for a broken file.
    """
    return tidied(_fit_samples(file, tally), tally, FIT_SOURCES)


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
                row = sample_of({
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
