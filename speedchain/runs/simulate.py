"""Stand-ins for what is recorded: a drive or water runs by satellite and display, a captured ring; in every format read
here."""

from __future__ import annotations

import io
import struct
from collections.abc import Callable, Mapping
from datetime import UTC, datetime, timedelta
from typing import Any, Literal, NamedTuple

import numpy as np
from numpy.typing import NDArray
from pydantic import Field

from speedchain.fields import KM_PER_NAUTICAL_MILE, Part
from speedchain.runs.fit_file import SEMICIRCLE_DEG
from speedchain.runs.track_files import steps_m

Array = NDArray[np.float64]
WrittenFormat = Literal["csv", "gpx", "nmea", "fit", "candump", "asc", "trc", "blf", "can_csv"]
BEGINS = datetime(2026, 5, 2, 9, 0, tzinfo=UTC)
PLACE_DEG = (54.9, 6.9)
"""A point of open sea: the spit itself is invented."""
_AROUND_DEG = PLACE_DEG[0] + np.array([-0.005, 0.005])
NORTH_M_PER_DEG = 100 * float(steps_m(_AROUND_DEG, np.zeros(2))[0])
EAST_M_PER_DEG = 100 * float(steps_m(np.full(2, PLACE_DEG[0]), np.array([0.0, 0.01]))[0])
"""Of a degree about the place, over the ellipsoid [m]."""
DBC = """VERSION ""
BS_:
BU_: Logger
BO_ 291 Wheels: 8 Logger
 SG_ Display : 0|16@1+ (0.01,0) [0|655.35] "km/h" Logger
 SG_ Driven : 16|16@1+ (0.01,0) [0|655.35] "km/h" Logger
BO_ 517 Satellite: 8 Logger
 SG_ Speed : 0|16@1+ (0.01,0) [0|655.35] "km/h" Logger
 SG_ Course : 16|16@1+ (0.01,0) [0|655.35] "deg" Logger
"""
"""The signals in the logs of a bus that are written here."""
FIT_EPOCH_S = 631_065_600
"""Seconds from 1970 to the beginning of the times of FIT, 1989-12-31."""


class Drive(Part):
    """A drive of steady speeds there and back, and what is wrong with it. On water the current carries the boat
    along."""

    speeds_kmh: tuple[float, ...] = Field((50.0, 50.0, 80.0, 80.0), min_length=1, max_length=40)
    hold_s: float = Field(40.0, ge=1, le=3600)
    change_s: float = Field(15.0, ge=1, le=600)
    rate_hz: float = Field(5.0, gt=0, le=100)
    shown_per_true: float = Field(1.0, gt=0, le=10)
    shown_offset_kmh: float = Field(0.0, ge=-20, le=20)
    shown_late_s: float = Field(0.4, ge=-20, le=20)
    shown_step_kmh: float = Field(0.1, ge=0, le=5)
    wind_pct: float = Field(0.0, ge=-5, le=5, description="How much more is shown there than back.")
    true_noise_kmh: float = Field(0.15, ge=0, le=5)
    shown_noise_kmh: float = Field(0.1, ge=0, le=5)
    course_deg: float = Field(70.0, ge=0, lt=360)
    current_kmh: float = Field(0.0, ge=-20, le=20, description="Along the course, at the beginning.")
    current_change_kmh_h: float = Field(0.0, ge=-40, le=40)
    driven: bool = Field(False, description="Record a driven wheel as well.")
    false_slip_pct: float = Field(0.0, ge=-20, le=20)
    slip_pct_per_m_s2: float = Field(3.0, ge=0, le=50)
    dropouts: int = Field(0, ge=0, le=200, description="Times that the display falls to nothing.")
    doubles: int = Field(0, ge=0, le=200, description="Times that the display shows double.")
    seed: int = Field(0, ge=0, le=2**31 - 1)


class Rows(NamedTuple):
    """A recorded drive: time [s], true, shown and driven speed [km/h], course [°], place [°]."""

    time_s: Array
    true_kmh: Array
    shown_kmh: Array
    driven_kmh: Array
    course_deg: Array
    latitude_deg: Array
    longitude_deg: Array


def rows_of(drive: Drive) -> Rows:
    """One recorded drive; every second speed is driven back.

    Examples
    --------
    >>> rows = rows_of(Drive(shown_per_true=1.02, true_noise_kmh=0, shown_noise_kmh=0, shown_step_kmh=0))
    >>> at = np.argmax(rows.time_s > 50)
    >>> round(float(rows.shown_kmh[at] / rows.true_kmh[at]), 3)
    1.02
    """
    random = np.random.default_rng(drive.seed)
    times, speeds, ways = [0.0], [0.0], [0]
    for place, speed in enumerate(drive.speeds_kmh):
        times += [times[-1] + drive.change_s, times[-1] + drive.change_s + drive.hold_s]
        speeds += [speed, speed]
        ways += [place % 2, place % 2]
    times.append(times[-1] + drive.change_s)
    speeds.append(0.0)
    time_s = np.arange(0.0, times[-1], 1 / drive.rate_hz)
    way = np.interp(time_s, times[: len(ways)], ways)
    really = np.interp(time_s, times, speeds)
    noise = np.zeros(time_s.size)
    kept = float(np.exp(-1 / drive.rate_hz))
    white = random.normal(0, drive.true_noise_kmh * np.sqrt(1 - kept**2), time_s.size)
    for place in range(1, time_s.size):
        noise[place] = kept * noise[place - 1] + white[place]
    late_s = time_s - drive.shown_late_s
    shown = drive.shown_offset_kmh + np.interp(late_s, time_s, really) * drive.shown_per_true * (
        1 + drive.wind_pct / 100 * (0.5 - way)
    )
    shown = np.maximum(shown + random.normal(0, drive.shown_noise_kmh, time_s.size), 0)
    if drive.shown_step_kmh:
        shown = np.round(shown / drive.shown_step_kmh) * drive.shown_step_kmh
    course = (drive.course_deg + 180 * way + random.normal(0, 0.5, time_s.size)) % 360
    speeding = np.maximum(np.gradient(really, time_s) / 3.6, 0)
    driven = shown * (1 + drive.false_slip_pct / 100) * (1 + drive.slip_pct_per_m_s2 / 100 * speeding)
    for count, factor in ((drive.dropouts, 0.0), (drive.doubles, 2.0)):
        for at in random.integers(0, time_s.size, count):
            shown[at : at + max(round(0.4 * drive.rate_hz), 1)] *= factor
    current = drive.current_kmh + drive.current_change_kmh_h * time_s / 3600
    over_ground = np.where(really > 0, really + current * (1 - 2 * way), 0)
    ahead = np.radians(drive.course_deg + 180 * way)
    step_m = over_ground / 3.6 / drive.rate_hz
    latitude = PLACE_DEG[0] + np.cumsum(step_m * np.cos(ahead)) / NORTH_M_PER_DEG
    longitude = PLACE_DEG[1] + np.cumsum(step_m * np.sin(ahead)) / EAST_M_PER_DEG
    return Rows(time_s, np.maximum(over_ground + noise, 0), shown, driven, course, latitude, longitude)


def as_table(drive: Drive) -> str:
    """The same as the text of a CSV file."""
    names = ["time [s]", "satellite speed [km/h]", "display [km/h]", "course [deg]"]
    rows = rows_of(drive)
    columns = [rows.time_s, rows.true_kmh, rows.shown_kmh, rows.course_deg]
    forms = [".2f", ".2f", ".2f", ".1f"]
    if drive.driven:
        names, columns, forms = [*names, "driven wheel [km/h]"], [*columns, rows.driven_kmh], [*forms, ".2f"]
    lines = [",".join(names)]
    lines += [
        ",".join([format(value, form) for value, form in zip(row, forms, strict=True)])
        for row in zip(*columns, strict=True)
    ]
    return "\n".join(lines) + "\n"


def as_gpx(drive: Drive) -> str:
    """The track of a drive as GPX 1.1."""
    rows = rows_of(drive)
    points = "\n".join(
        f'<trkpt lat="{lat:.7f}" lon="{lon:.7f}"><ele>2.0</ele><time>{_iso(at)}</time></trkpt>'
        for at, lat, lon in zip(rows.time_s, rows.latitude_deg, rows.longitude_deg, strict=True)
    )
    head = '<?xml version="1.0" encoding="UTF-8"?>\n<gpx version="1.1" creator="Wheelometron" xmlns="http://www.topografix.com/GPX/1/1">'
    return f"{head}\n<trk><trkseg>\n{points}\n</trkseg></trk></gpx>\n"


def _iso(time_s: float) -> str:
    return (BEGINS + timedelta(seconds=float(time_s))).isoformat(timespec="milliseconds").replace("+00:00", "Z")


def as_nmea(drive: Drive) -> str:
    """The fixes of a drive as RMC and GGA sentences of NMEA 0183."""
    import pynmea2

    rows = rows_of(drive)
    lines = []
    for at, true, course, lat, lon in zip(
        rows.time_s, rows.true_kmh, rows.course_deg, rows.latitude_deg, rows.longitude_deg, strict=True
    ):
        moment = BEGINS + timedelta(seconds=float(at))
        clock = moment.strftime("%H%M%S.") + f"{moment.microsecond // 10_000:02d}"
        place = (*_degrees(lat, 2, "NS"), *_degrees(lon, 3, "EW"))
        knots = f"{true / KM_PER_NAUTICAL_MILE:.3f}"
        lines.append(pynmea2.GGA("GP", "GGA", (clock, *place, "1", "09", "0.9", "2.0", "M", "", "M", "", "")))
        lines.append(
            pynmea2.RMC(
                "GP", "RMC", (clock, "A", *place, knots, f"{course:.1f}", moment.strftime("%d%m%y"), "", "", "A")
            )
        )
    return "".join(f"{line}\r\n" for line in lines)


def _degrees(value: float, digits: int, letters: str) -> tuple[str, str]:
    whole = int(abs(value))
    return f"{whole:0{digits}d}{(abs(value) - whole) * 60:08.5f}", letters[int(value < 0)]


def as_fit(drive: Drive) -> bytes:
    """The records of a drive as a FIT activity: time, place, speed, to the second."""
    rows = rows_of(drive)
    every = max(round(drive.rate_hz), 1)
    body = io.BytesIO()
    # definition of local message 0, little-endian: file_id (0) with its type; of 1: record (20)
    body.write(struct.pack("<BBBHB", 0x40, 0, 0, 0, 1) + bytes([0, 1, 0x00]) + b"\x00\x04")
    body.write(struct.pack("<BBBHB", 0x41, 0, 0, 20, 4))
    body.write(bytes([253, 4, 0x86, 0, 4, 0x85, 1, 4, 0x85, 6, 2, 0x84]))
    for place in range(0, rows.time_s.size, every):
        body.write(
            struct.pack(
                "<BIiiH",
                1,
                int(BEGINS.timestamp() - FIT_EPOCH_S + rows.time_s[place]),
                round(rows.latitude_deg[place] / SEMICIRCLE_DEG),
                round(rows.longitude_deg[place] / SEMICIRCLE_DEG),
                round(rows.true_kmh[place] / 3.6 * 1000),
            )
        )
    data = body.getvalue()
    head = struct.pack("<BBHI4s", 14, 0x20, 2140, len(data), b".FIT")
    head += struct.pack("<H", _fit_crc(head))
    return head + data + struct.pack("<H", _fit_crc(head + data))


def _fit_crc(data: bytes) -> int:
    """CRC-16 with the polynomial 0x8005, reflected, from zero."""
    crc = 0
    for byte in data:
        crc ^= byte
        for _ in range(8):
            crc = (crc >> 1) ^ (0xA001 if crc & 1 else 0)
    return crc


class _Kept(io.BytesIO):
    """Bytes that outlive the writers, which close their file when they are stopped."""

    name = "bus.log"

    def close(self) -> None:
        """Nothing: the content is still wanted."""


def as_bus_log(drive: Drive, kind: str = "candump") -> bytes:
    """A drive as a log of a CAN bus, as python-can writes it; `DBC` describes its signals."""
    import can

    rows = rows_of(drive)
    raw = _Kept()
    text = io.TextIOWrapper(raw, "utf-8", newline="", write_through=True)
    writers: dict[str, Callable[[], Any]] = {
        "candump": lambda: can.CanutilsLogWriter(text),
        "asc": lambda: can.ASCWriter(text),
        "trc": lambda: can.TRCWriter(text),
        "blf": lambda: can.BLFWriter(raw),
        "can_csv": lambda: can.CSVWriter(text),
    }
    writer = writers[kind]()
    channel = 1 if kind == "trc" else "can0"
    for at, true, shown, driven, course in zip(
        rows.time_s, rows.true_kmh, rows.shown_kmh, rows.driven_kmh, rows.course_deg, strict=True
    ):
        moment = BEGINS.timestamp() + float(at)
        for frame_id, values in ((291, (shown, driven)), (517, (true, course))):
            data = struct.pack("<HHI", *[min(round(value * 100), 65_535) for value in values], 0)
            writer.on_message_received(
                can.Message(timestamp=moment, arbitration_id=frame_id, data=data, is_extended_id=False, channel=channel)
            )
    writer.stop()
    return raw.getvalue()


def _text(of: Callable[[Drive], str]) -> Callable[[Drive], bytes]:
    return lambda drive: of(drive).encode()


WRITERS: Mapping[str, Callable[[Drive], bytes]] = {
    "csv": _text(as_table),
    "gpx": _text(as_gpx),
    "nmea": _text(as_nmea),
    "fit": as_fit,
    "candump": as_bus_log,
    "asc": lambda drive: as_bus_log(drive, "asc"),
    "trc": lambda drive: as_bus_log(drive, "trc"),
    "blf": lambda drive: as_bus_log(drive, "blf"),
    "can_csv": lambda drive: as_bus_log(drive, "can_csv"),
}
"""A drive in every format."""


class Ring(Part):
    """A ring that turns past a sensor, and what is wrong with it."""

    teeth: int = Field(40, ge=1, le=400)
    turns: int = Field(40, ge=1, le=100_000)
    turns_per_s: float = Field(4.0, gt=0, le=500)
    speeding_pct: float = Field(20.0, ge=-90, le=500, description="How much faster it turns at the end.")
    missing: int | None = Field(None, ge=1, le=400)
    bent: int | None = Field(None, ge=1, le=400, description="Number of a tooth out of place.")
    bent_pct: float = Field(12.0, ge=-45, le=45)
    runout_deg: float = Field(0.0, ge=0, le=5)
    noise_pct: float = Field(0.8, ge=0, le=20)
    seed: int = Field(0, ge=0, le=2**31 - 1)


def edges_of(ring: Ring) -> Array:
    """Times [s] of one edge of each tooth.

    Examples
    --------
    >>> edges_of(Ring(teeth=4, turns=1, turns_per_s=1, speeding_pct=0, noise_pct=0)).round(3).tolist()
    [0.0, 0.25, 0.5, 0.75]
    """
    random = np.random.default_rng(ring.seed)
    tooth = np.tile(np.arange(ring.teeth), ring.turns)
    place = np.arange(ring.teeth * ring.turns) / ring.teeth
    place = place + ring.runout_deg / 360 * np.sin(2 * np.pi * tooth / ring.teeth)
    if ring.bent is not None:
        place[tooth == ring.bent - 1] += ring.bent_pct / 100 / ring.teeth
    place += random.normal(0, ring.noise_pct / 100 / ring.teeth, place.size)
    kept = np.sort(place[tooth != (ring.missing or 0) - 1])
    # angle = w·t + w·a·t²/2, with the speed rising by a share over the whole
    share = ring.speeding_pct / 100
    whole_s = ring.turns / ring.turns_per_s / (1 + share / 2)
    if share:
        rising = share / whole_s
        found = (np.sqrt(np.maximum(1 + 2 * rising * kept / ring.turns_per_s, 0)) - 1) / rising
    else:
        found = kept / ring.turns_per_s
    return np.asarray(found)


def as_edges(ring: Ring) -> str:
    """A captured ring as CSV: one time in a line."""
    return "time_s\n" + "".join([f"{at:.7f}\n" for at in edges_of(ring)])


def as_dump(ring: Ring) -> str:
    """A captured ring as a value change dump."""
    from vcd import VCDWriter

    edges = edges_of(ring)
    text = io.StringIO()
    with VCDWriter(text, timescale="100 ns", date="") as writer:
        wire = writer.register_var("capture", "sensor", "wire", size=1, init=0)
        falls = np.minimum(edges + 0.4 * np.diff(edges, append=edges[-1] + 0.01), np.append(edges[1:], np.inf))
        for rise, fall in zip(edges - edges[0], falls - edges[0], strict=True):
            writer.change(wire, round(rise * 1e7) + 1, 1)
            writer.change(wire, round(fall * 1e7) + 1, 0)
    return text.getvalue()


SOUND_BEGINS_S = 0.01
"""How long a sound lasts before its first edge."""


def as_sound(ring: Ring, rate_hz: int = 44_100) -> bytes:
    """A captured ring as a sound: a sine whose rising passes of zero are the edges, with some noise."""
    import soundfile

    edges = edges_of(ring) + SOUND_BEGINS_S
    time_s = np.arange(0, edges[-1] + SOUND_BEGINS_S, 1 / rate_hz)
    ends = np.concatenate([[edges[0] - 0.002], edges, [edges[-1] + 0.002]])
    phase = np.interp(time_s, ends, np.concatenate([[-0.25], np.arange(edges.size), [edges.size - 0.75]]))
    noise = np.random.default_rng(ring.seed).normal(0, 0.004, time_s.size)
    file = io.BytesIO()
    soundfile.write(file, 0.6 * np.sin(2 * np.pi * phase) + noise, rate_hz, format="WAV", subtype="PCM_16")
    return file.getvalue()


RINGS: Mapping[str, Callable[[Ring], bytes]] = {
    "edges": lambda ring: as_edges(ring).encode(),
    "vcd": lambda ring: as_dump(ring).encode(),
    "wav": as_sound,
}
"""A captured ring in every format."""
