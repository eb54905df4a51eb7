"""Files made to be slow: what reading costs grows no faster than the file, and what is no drive is refused by name."""

from __future__ import annotations

import struct
import time
from collections.abc import Callable
from contextlib import suppress
from unittest import TestCase

from speedchain.fields import InputError
from speedchain.runs import read_file

POINT = b"<trkpt lat='1' lon='1'><time>2026-01-01T00:00:00Z</time></trkpt>"
GROWING: dict[str, Callable[[int], bytes]] = {
    "spaces after a bracket": lambda n: b"time,v (" + b" " * n + b"\n0,1\n1,2\n",
    "brackets": lambda n: b"time,v" + b"( " * (n // 2) + b"\n0,1\n1,2\n",
    "tabs": lambda n: b"a\tb\n" + b"\t" * n + b"\n0\t1\n1\t2\n",
    "line breaks": lambda n: b"x\n" + b"\n" * n + b"0,1\n",
    "letters": lambda n: b"a" * n + b"\n1\n2\n",
    "letters and commas": lambda n: b"a," * (n // 2) + b"\n1,2\n2,3\n",
    "dollars": lambda n: b"$" * n + b"\n1,2\n2,3\n",
    "a frame without an end": lambda n: b"(1.1) " + b"a" * n + b"\n(1.1) " + b"1 " * (n // 2),
}
"""In the first 65 536 bytes, which decide how a file is read."""
SEGMENTS: dict[str, Callable[[int], bytes]] = {
    "junk in a segment": lambda n: b"<gpx><trk><trkseg>" + b"<x/>" * n + 3 * POINT + b"</trkseg></trk></gpx>",
    "junk and points": lambda n: b"<gpx><trk><trkseg>" + (b"<x/>" + POINT) * n + b"</trkseg></trk></gpx>",
    "points without a segment": lambda n: b"<gpx>" + POINT * n + b"</gpx>",
}


def taken_s(data: bytes) -> float:
    """Computing time, the least of three tries: what else the machine does is left out."""
    tries = []
    for _ in range(3):
        began = time.process_time()
        with suppress(InputError):
            read_file(data)
        tries.append(time.process_time() - began)
    return min(tries)


def sound(channels: int, rate: int) -> bytes:
    """A WAV of 4000 bytes (RIFF: the header as Microsoft and IBM described it in 1991)."""
    data = bytes(4000)
    form = struct.pack("<IHHIIHH", 16, 1, channels, rate, rate * channels * 2 % 2**32, channels * 2, 16)
    return b"RIFF" + struct.pack("<I", 36 + len(data)) + b"WAVEfmt " + form + b"data" + struct.pack("<I", 4000) + data


class Growth(TestCase):
    def test_heads_cost_no_more_than_their_length(self) -> None:
        for name, made in GROWING.items():
            with self.subTest(name):
                small, large = taken_s(made(6_000)), taken_s(made(60_000))
                # ten times as long; a square would be 100 times
                self.assertLess(large, 60 * max(small, 0.004))

    def test_a_track_costs_no_more_than_its_points(self) -> None:
        for name, made in SEGMENTS.items():
            with self.subTest(name):
                small, large = taken_s(made(2_000)), taken_s(made(20_000))
                self.assertLess(large, 60 * max(small, 0.005))


class Refused(TestCase):
    def refused(self, data: bytes, words: str) -> None:
        with self.assertRaisesRegex(InputError, words) as caught:
            read_file(data)
        self.assertTrue(caught.exception.problems[0].remedy)

    def test_tracks_that_are_built_to_be_large(self) -> None:
        self.refused(b"<gpx>" + b"<a>" * 10_000, "not built as a track")
        self.refused(b"<gpx><trkpt lat='1' lon='1'>" + b"<x/>" * 10_000 + b"</trkpt></gpx>", "not built as a track")

    def test_captures_with_thousands_of_wires(self) -> None:
        lines = "".join([f"{at},w{at}\n" for at in range(300)])
        self.refused(f"time_s,wire\n{lines}".encode(), "more than 200 wires")
        wires = "".join([f"$var wire 1 a{at} n{at} $end\n" for at in range(300)])
        self.refused(f"$timescale 1ns $end\n{wires}$enddefinitions $end\n#0\n0a1\n#1\n1a1\n".encode(), "200 wires")

    def test_sounds_whose_header_lies(self) -> None:
        self.refused(sound(1000, 48_000), "1000 channels")
        self.refused(sound(1, 2_000_000_000), "2000000000 samples a second")


class PowerLost(TestCase):
    """What a logger leaves that lost its power: a cut last line, or a block of NULs."""

    def test_a_cut_last_line_is_dropped_and_the_rest_kept(self) -> None:
        for end in (b"3", b'"3","4', b"\0" * 4096):
            with self.subTest(end):
                found = read_file(b"time,gps km/h\n0,10\n1,20\n2,30\n" + end)
                self.assertEqual(found.channels[0].values.tolist(), [10, 20, 30])

    def test_a_last_line_that_is_whole_counts_without_its_line_break(self) -> None:
        self.assertEqual(read_file(b"time,gps km/h\n0,10\n1,20").channels[0].values.tolist(), [10, 20])


class Times(TestCase):
    def test_milliseconds_since_1970_under_any_heading(self) -> None:
        for heading in ("time", "time [ms]", "timestamp (s)"):
            for per_s in (1e3, 1e6, 1e9):
                rows = "".join([f"{(1_764_000_000 + at) * per_s:.0f},50\n" for at in range(10)])
                with self.subTest(heading, per_s=per_s):
                    time_s = read_file(f"{heading},gps km/h\n{rows}".encode()).channels[0].time_s
                    self.assertAlmostEqual(time_s[0], 1_764_000_000, places=3)
                    self.assertAlmostEqual(time_s[-1] - time_s[0], 9, places=3)

    def test_a_time_that_is_none_is_a_bad_line(self) -> None:
        found = read_file(b"time,gps km/h\n0,1\n1e300,2\n2,3\n")
        self.assertEqual((found.channels[0].time_s.tolist(), found.bad_lines), ([0, 2], 1))


class Names(TestCase):
    def test_headings_are_on_one_line_and_not_endless(self) -> None:
        found = read_file(b"time,v\x00\x07 gps [km/h],v" + b"x" * 3000 + b" km/h\n0,1,2\n1,2,3\n")
        names = [item.name for item in found.channels]
        self.assertEqual(names[0], "v gps")
        self.assertLessEqual(max(map(len, names)), 80)

    def test_channels_of_one_name_stay_apart(self) -> None:
        found = read_file(b"time,a km/h,a 2 km/h,a km/h\n0,1,2,3\n1,1,2,3\n")
        self.assertEqual([item.values[0] for item in found.channels], [1, 2, 3])
        self.assertEqual(len({item.name for item in found.channels}), 3)
