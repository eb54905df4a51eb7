"""Files of recordings, read a second time by programs and libraries that are not ours: gpsbabel, gpxpy, sigrok-cli,
geographiclib.

The files come from the stand-ins (`speedchain.runs.simulate`), written by pynmea2, python-can, pyvcd and soundfile, or,
for GPX and FIT, by hand.
"""

from __future__ import annotations

import csv
import io
import math
import struct
import subprocess
import tempfile
from datetime import UTC, datetime, timedelta
from pathlib import Path
from unittest import TestCase
from xml.etree.ElementTree import Element, SubElement

import gpxpy
import numpy as np
import pynmea2
from crccheck.crc import CrcArc
from geographiclib.geodesic import Geodesic

from speedchain.runs import (
    DBC,
    WRITERS,
    Drive,
    ReadAs,
    Recording,
    Ring,
    as_dump,
    as_sound,
    edges_of,
    fingerprint,
    read_file,
    rows_of,
    steps_m,
    track_length,
    usual_speeds,
)

DRIVE = Drive(seed=5, speeds_kmh=(40.0, 70.0), hold_s=30)


def read(format_name: str, drive: Drive = DRIVE, read_as: ReadAs | None = None) -> Recording:
    return read_file(WRITERS[format_name](drive), read_as)


def babel(format_name: str, data: bytes) -> list[dict[str, float]]:
    """The points that gpsbabel reads in a file: latitude, longitude, seconds of the day."""
    with tempfile.TemporaryDirectory() as folder:
        source = Path(folder) / "source"
        source.write_bytes(data)
        made = subprocess.run(
            ["gpsbabel", "-t", "-i", format_name, "-f", str(source), "-o", "gpx", "-F", "-"],
            check=True,
            capture_output=True,
            text=True,
        ).stdout
    return [
        {
            "latitude": point.latitude,
            "longitude": point.longitude,
            "time_s": point.time.timestamp(),  # type: ignore[union-attr]
            "altitude": point.elevation or 0.0,
        }
        for track in gpxpy.parse(made).tracks
        for segment in track.segments
        for point in segment.points
    ]


def activity() -> bytes:
    """A ride of a minute as a FIT activity: 10 m/s by the wheel's sensor, 0.0001° of a meridian a second."""
    body = struct.pack("<BBBHB", 0x40, 0, 0, 0, 1) + bytes([0, 1, 0x00]) + b"\x00\x04"
    body += struct.pack("<BBBHB", 0x41, 0, 0, 23, 3) + bytes([253, 4, 0x86, 1, 1, 0x02, 25, 1, 0x00])
    fields = [253, 4, 0x86, 0, 4, 0x85, 1, 4, 0x85, 6, 2, 0x84, 3, 1, 0x02, 4, 1, 0x02, 7, 2, 0x84]
    body += struct.pack("<BBBHB", 0x42, 0, 0, 20, 7) + bytes(fields)
    begins = 1_100_000_000
    body += struct.pack("<BIBB", 1, begins, 123, 1)
    for at in range(60):
        place = [round(degrees / (180 / 2**31)) for degrees in (45 + at * 1e-4, 8.0)]
        body += struct.pack("<BIiiHBBH", 2, begins + at, *place, 10_000, 140 + at % 3, 88, 210 + at)
    head = struct.pack("<BBHI4s", 14, 0x20, 2140, len(body), b".FIT")
    head += struct.pack("<H", crc16(head))
    return head + body + struct.pack("<H", crc16(head + body))


def crc16(data: bytes) -> int:
    """CRC-16/ARC by a general library."""
    return int(CrcArc.calc(data))


def written_by_babel(format_name: str, data: bytes, out: str) -> str:
    """A file as gpsbabel writes it in another format."""
    with tempfile.TemporaryDirectory() as folder:
        source = Path(folder) / "source"
        source.write_bytes(data)
        command = ["gpsbabel", "-t", "-i", format_name, "-f", str(source), "-o", out, "-F", "-"]
        return subprocess.run(command, check=True, capture_output=True, text=True).stdout


def format_with_ending(ending: str) -> str:
    """What gpsbabel calls the format of files with this ending."""
    listed = subprocess.run(["gpsbabel", "-^3"], check=True, capture_output=True, text=True).stdout
    rows = [line.split("\t") for line in listed.splitlines()]
    return next(row[2] for row in rows if len(row) > 3 and row[3] == ending)


class Tracks(TestCase):
    def same(self, found: Recording, other: list[dict[str, float]], *, place_deg: float, time_s: float) -> None:
        latitude, longitude = found.channel("latitude"), found.channel("longitude")
        assert latitude is not None
        assert longitude is not None
        self.assertEqual(latitude.values.size, len(other))
        self.assertGreater(len(other), 50)
        for channel, name, within in (
            (latitude.values, "latitude", place_deg),
            (longitude.values, "longitude", place_deg),
            (latitude.time_s, "time_s", time_s),
        ):
            np.testing.assert_allclose(channel, [point[name] for point in other], rtol=0, atol=within)

    def test_gpx_against_gpxpy(self) -> None:
        data = WRITERS["gpx"](DRIVE)
        points = gpxpy.parse(data.decode()).tracks[0].segments[0].points
        other = [
            {"latitude": item.latitude, "longitude": item.longitude, "time_s": item.time.timestamp()}  # type: ignore[union-attr]
            for item in points
        ]
        self.same(read_file(data), other, place_deg=1e-9, time_s=1e-3)

    def test_nmea_and_fit_against_gpsbabel(self) -> None:
        self.same(read("nmea"), babel("nmea", WRITERS["nmea"](DRIVE)), place_deg=2e-7, time_s=2e-3)
        self.same(read("fit"), babel(format_with_ending("fit"), WRITERS["fit"](DRIVE)), place_deg=2e-7, time_s=1e-3)

    def test_a_speed_of_a_sensor_is_held_against_the_places(self) -> None:
        """A track written by gpxpy, with the extension of a track point as bicycle computers fill it: 36 km/h of the
        wheel where the places say 0.0001° of a meridian a second, 40 km/h (111 km a degree)."""
        name = "{http://example.org/TrackPointExtension/v2}"
        track = gpxpy.gpx.GPX()
        track.nsmap["ext"] = name.strip("{}")
        segment = gpxpy.gpx.GPXTrackSegment()
        for at in range(60):
            moment = datetime(2026, 5, 2, 10, 0, tzinfo=UTC) + timedelta(seconds=at)
            point = gpxpy.gpx.GPXTrackPoint(45 + at * 1e-4, 8.0, time=moment)
            extension = Element(f"{name}TrackPointExtension")
            for child, value in (("hr", 140 + at % 3), ("cad", 90), ("speed", 10), ("atemp", 21)):
                SubElement(extension, name + child).text = str(value)
            point.extensions.append(extension)
            segment.points.append(point)
        track.tracks.append(gpxpy.gpx.GPXTrack())
        track.tracks[0].segments.append(segment)
        found = read_file(track.to_xml("1.1").encode())
        means = {item.name: round(float(np.nanmean(item.values)), 1) for item in found.channels}
        self.assertEqual(means["speed of a sensor"], 36.0)
        self.assertAlmostEqual(means["satellite speed"], 40.0, delta=0.1)
        self.assertEqual([means[name] for name in ("heart rate", "cadence", "temperature")], [141.0, 90.0, 21.0])
        self.assertEqual(usual_speeds(found.channels), ("satellite speed", "speed of a sensor"))

    def test_instruments_on_a_boat(self) -> None:
        """Sentences written by pynmea2: 6 kn over ground, 5.4 kn through the water (VHW) or 5.4 along and 0.4 across
        (VBW), heading 85 °; a second receiver on the same line, over midnight, has channels of its own."""
        for spoken in (
            pynmea2.VHW("VW", "VHW", ("085.0", "T", "", "M", "5.40", "N", "10.00", "K")),
            pynmea2.VBW("II", "VBW", ("5.40", "0.40", "A", "6.0", "0.0", "A")),
        ):
            lines = []
            for at in range(40):
                of_day = (86_390 + at) % 86_400
                moment = f"{of_day // 3600:02d}{of_day // 60 % 60:02d}{of_day % 60:02d}.00"
                day = "010526" if at < 10 else "020526"
                for talker, knots in (("GP", "6.00"), ("GL", "6.10")):
                    fix = (moment, "A", "5000.000", "N", "00800.000", "E", knots, "090.0", day, "", "", "A")
                    lines.append(str(pynmea2.RMC(talker, "RMC", fix)))
                lines.append(str(spoken))
                lines.append(str(pynmea2.HDT("HE", "HDT", ("085.0", "T"))))
            found = read_file("\r\n".join(lines).encode())
            means = {item.name: round(float(np.nanmean(item.values)), 3) for item in found.channels}
            with self.subTest(spoken.sentence_type):
                self.assertEqual(found.bad_lines, 0)
                across = 0.4 if spoken.sentence_type == "VBW" else 0.0
                self.assertAlmostEqual(means["speed through water"], 1.852 * math.hypot(5.4, across), places=3)
                self.assertEqual((means["heading"], means["course"]), (85.0, 90.0))
                self.assertAlmostEqual(means["satellite speed"], 6 * 1.852, places=3)
                self.assertAlmostEqual(means["satellite speed, GL"], 6.1 * 1.852, places=3)
                self.assertEqual(usual_speeds(found.channels), ("satellite speed", "speed through water"))
                np.testing.assert_allclose(np.diff(found.channels[0].time_s), 1)

    def test_what_a_bicycle_computer_records_against_gpsbabel(self) -> None:
        """A FIT activity with the wheel's sensor among its devices, by hand: numbers of fields and devices from the
        format's public profile, from memory; heart rate, cadence and power as gpsbabel reads them."""
        data = activity()
        found = read_file(data)
        self.assertEqual(usual_speeds(found.channels), ("satellite speed", "speed of a sensor"))
        rows = list(csv.DictReader(io.StringIO(written_by_babel(format_with_ending("fit"), data, "unicsv"))))
        for name, theirs in (("heart rate", "Heartrate"), ("cadence", "Cadence"), ("power", "Power")):
            channel = found.channel(name)
            assert channel is not None
            np.testing.assert_allclose(channel.values, [float(row[theirs]) for row in rows])
        speed = found.channel("speed of a sensor")
        assert speed is not None
        np.testing.assert_allclose(speed.values, 36.0)

    def test_a_speed_from_places_is_the_speed_that_was_driven(self) -> None:
        quiet = DRIVE.model_copy(update={"true_noise_kmh": 0.0})
        rows = rows_of(quiet)
        speed = read("gpx", quiet).channel("satellite speed")
        assert speed is not None
        steady = (rows.time_s > 20) & (rows.time_s < 40)
        # a minute of latitude is taken for a nautical mile by the stand-in: 0.3 % at 55° north
        np.testing.assert_allclose(speed.values[steady].mean(), 40, rtol=0.005)
        self.assertLess(np.std(speed.values[steady]), 0.5)

    def test_distances_against_karneys_geodesics(self) -> None:
        """C. F. F. Karney, Journal of Geodesy 87 (2013), 43, in geographiclib."""
        random = np.random.default_rng(1)
        for _ in range(200):
            lat, lon = random.uniform(-80, 80), random.uniform(-180, 180)
            other = lat + random.uniform(-1e-3, 1e-3), lon + random.uniform(-1e-3, 1e-3)
            expected = Geodesic.WGS84.Inverse(lat, lon, *other)["s12"]
            found = steps_m(np.array([lat, other[0]]), np.array([lon, other[1]]))[0]
            self.assertAlmostEqual(found / expected, 1, delta=2e-6)
        across = steps_m(np.array([0.0, 0.0]), np.array([179.9995, -179.9995]))[0]
        self.assertAlmostEqual(across / Geodesic.WGS84.Inverse(0, 179.9995, 0, -179.9995)["s12"], 1, delta=1e-6)


class Buses(TestCase):
    def test_logs_of_a_bus_hold_what_was_sent(self) -> None:
        """The values of the messages by hand: 16 bits, little-endian, a hundredth each (the DBC's own line)."""
        rows = rows_of(DRIVE)
        for name in ("candump", "asc"):
            with self.subTest(name=name):
                found = read(name, read_as=ReadAs(dbc=DBC))
                display, course = found.channel("Wheels.Display"), found.channel("Satellite.Course")
                assert display is not None
                self.assertIsNone(course)
                np.testing.assert_allclose(display.values, np.round(rows.shown_kmh, 2), atol=0.006)
                np.testing.assert_allclose(np.diff(display.time_s), np.diff(rows.time_s), atol=2e-4)
                self.assertEqual(usual_speeds(found.channels), ("Satellite.Speed", "Wheels.Display"))
        raw = WRITERS["candump"](DRIVE).decode().splitlines()[200]
        payload = bytes.fromhex(raw.split("#")[1].split()[0])
        first = struct.unpack("<H", payload[:2])[0] / 100
        self.assertAlmostEqual(first, round(rows.shown_kmh[100], 2), delta=0.006)

    def test_units_of_signals(self) -> None:
        miles = DBC.replace('"km/h"', '"mph"')
        found = read("candump", read_as=ReadAs(dbc=miles)).channel("Wheels.Display")
        assert found is not None
        # 1 mile is 1609.344 m: international agreement of 1959
        np.testing.assert_allclose(found.values.max(), rows_of(DRIVE).shown_kmh.max() * 1.609344, rtol=1e-3)


class Pulses(TestCase):
    ring = Ring(teeth=24, turns=30, bent=7, seed=2)

    def test_a_dump_against_sigrok(self) -> None:
        data = as_dump(self.ring)
        with tempfile.TemporaryDirectory() as folder:
            source = Path(folder) / "capture.vcd"
            source.write_text(data)
            made = subprocess.run(
                ["sigrok-cli", "-I", "vcd:downsample=10", "-i", str(source), "-O", "csv:header=false:label=off"],
                check=True,
                capture_output=True,
                text=True,
            ).stdout
        levels = [int(row[0]) for row in csv.reader(io.StringIO(made)) if row and row[0] in ("0", "1")]
        rises = np.flatnonzero(np.diff(levels) == 1) + 1  # one sample is 10 · 100 ns
        found = read_file(data.encode()).channels[0].time_s
        # the first pulse begins with the first sample or before it
        self.assertLessEqual(abs(found.size - rises.size), 1)
        np.testing.assert_allclose(found[-rises.size :], rises * 1e-6, atol=3e-6)

    def test_a_sound_and_a_dump_have_the_edges_of_the_ring(self) -> None:
        edges = edges_of(self.ring)
        dump = read_file(as_dump(self.ring).encode()).channels[0].time_s
        np.testing.assert_allclose(np.diff(dump), np.diff(edges), atol=2e-7)
        sound = read_file(as_sound(self.ring)).channels[0].time_s
        self.assertEqual(sound.size, edges.size)
        # noise of 0.004 against a slope of 0.6·2π per tooth: 0.1 % of a tooth each, some 4 µs at 180 Hz
        self.assertLess(np.std(sound - edges), 1.5e-5)
        for found in (dump, sound):
            print_of_ring = fingerprint(found, count=24)
            self.assertEqual([flaw.flaw for flaw in print_of_ring.flaws], ["out_of_place"])

    def test_the_length_of_a_track_against_karneys_geodesics(self) -> None:
        """A winding road in the hills, summed step by step over geodesics and heights; with places that scatter, within
        ±."""
        random = np.random.default_rng(9)
        held = 0
        for _ in range(20):
            lat0, lon0 = random.uniform(-60, 60), random.uniform(-170, 170)
            s = np.linspace(0, 1, 900)
            latitude, longitude = lat0 + 0.02 * s + 0.002 * np.sin(9 * s), lon0 + 0.015 * s
            height = 400 + 60 * np.sin(5 * s)
            expected = 0.0
            for a, b, c, d, e, f in zip(
                latitude, longitude, height, latitude[1:], longitude[1:], height[1:], strict=False
            ):
                flat = Geodesic.WGS84.Inverse(a, b, d, e)["s12"] * (1 + (c + f) / 2 / 6_371_000)
                expected += float(np.hypot(flat, f - c))
            plain = track_length(latitude, longitude, height)
            self.assertAlmostEqual(plain.length_m / expected, 1, delta=3e-4)
            # a satellite's places wander together: an error that changes within half a minute, and a little of their
            # own
            wander = np.zeros((2, s.size))
            for at in range(1, s.size):
                wander[:, at] = 0.99 * wander[:, at - 1] + random.normal(0, 0.3, 2)
            wander += random.normal(0, 0.3, wander.shape)
            noisy = track_length(latitude + wander[0] / 111_000, longitude + wander[1] / 111_000, height)
            held += abs(noisy.length_m - expected) < 2 * noisy.u_m
        self.assertGreaterEqual(held, 18)
