"""Files of recordings: what each format may have wrong, and that a piece at a time gives what the whole gives."""

from __future__ import annotations

import io
import re
from unittest import TestCase, mock

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st

from speedchain.fields import InputError
from speedchain.runs import (
    DBC,
    WRITERS,
    Channel,
    ColumnAs,
    Drive,
    ReadAs,
    Recording,
    Ring,
    Tally,
    as_dump,
    as_edges,
    as_sound,
    as_table,
    edges_of,
    format_of,
    known_signals,
    lacking,
    pieces_of,
    read_file,
    role_of,
    rows_of,
    usual_speeds,
    wheel_speeds,
)
from speedchain.runs import table_file as tables

DRIVE = Drive(seed=1, speeds_kmh=(40.0,), hold_s=20)
FILES = {name: write(DRIVE) for name, write in WRITERS.items()} | {
    "edges": as_edges(Ring()).encode(),
    "vcd": as_dump(Ring()).encode(),
    "wav": as_sound(Ring(turns=8)),
}


class Formats(TestCase):
    def test_each_is_recognised(self) -> None:
        found = {name: format_of(data[: tables.HEAD_BYTES]) for name, data in FILES.items()}
        expected = {name: name for name in FILES} | {"csv": "table", "edges": "pulses"}
        self.assertEqual(found, expected)

    def test_every_log_of_a_bus_says_the_same(self) -> None:
        """Written by python-can, a general-purpose library, in five formats; and by hand as a table of hexadecimal
        bytes."""
        first = read_file(FILES["candump"], ReadAs(dbc=DBC))
        frames = [line.split() for line in FILES["candump"].decode().splitlines()]
        rows = [(at.strip("()"), *what.split("#")) for at, _, what, *_ in frames]
        spaced = "\n".join([f"{at};{name};{' '.join(re.findall('..', data))}" for at, name, data in rows])
        parted = "\n".join([f"{at},0x{name},{','.join(re.findall('..', data))}" for at, name, data in rows])
        tables_of_frames = {
            "one column": f"Time;ID;Data\n{spaced}\n",
            "eight": f"Time,CAN ID,{','.join([f'D{n}' for n in range(8)])}\n{parted}\n",
        }
        logs = {name: FILES[name] for name in ("asc", "trc", "blf", "can_csv")}
        for name, data in (logs | {name: text.encode() for name, text in tables_of_frames.items()}).items():
            found = read_file(data, ReadAs(dbc=DBC))
            self.assertEqual([item.name for item in found.channels], [item.name for item in first.channels], name)
            for one, other in zip(found.channels, first.channels, strict=True):
                np.testing.assert_allclose(one.values, other.values, err_msg=name)
                np.testing.assert_allclose(np.diff(one.time_s), np.diff(other.time_s), atol=2e-3, err_msg=name)
            cut = read_file(data[: 2 * len(data) // 3], ReadAs(dbc=DBC))  # a logger that lost its power
            self.assertGreater(cut.channels[0].time_s.size, 0.5 * first.channels[0].time_s.size, name)

    def test_times_as_loggers_write_them(self) -> None:
        def at(*cells: str, heading: str = "time") -> list[float]:
            rows = "".join([f"{cell},60,61\n" for cell in cells])
            return [
                round(float(step), 5)
                for step in np.diff(read_file(f"{heading},dash km/h,gps km/h\n{rows}".encode()).channels[0].time_s)
            ]

        for cells, apart in (
            (("11:59:58 AM", "11:59:59 AM", "12:00:01 PM"), [1, 2]),
            (("11:59:59 p.m.", "12:00:01 a.m."), [2]),
            (("0:59.5", "1:00.0", "1:02.25"), [0.5, 2.25]),
            (("11/30/2026 12:59:59 PM", "11/30/2026 1:00:02 PM"), [3]),
            (("30.11.2026 12:59:59.5", "30.11.2026 13:00:02.0"), [2.5]),
        ):
            self.assertEqual(at(*cells), apart, cells)
        for heading in ("stamp", "time (s)", "x"):  # Unix milliseconds, whatever the heading says
            self.assertEqual(
                at("1777712400000", "1777712400200", "1777712400400", heading=heading), [0.2, 0.2], heading
            )

    def test_a_receiver_without_a_fix_is_a_gap_and_no_bad_line(self) -> None:
        found = read_file(b"time,dash km/h,gps km/h\n0,60,61\n1,60,\n2,60,oops\n3,60,61\n4,6")
        self.assertEqual((found.lines, found.bad_lines), (5, 2))  # the word, and the line that is cut
        true = found.channel("gps")
        assert true is not None
        self.assertEqual(int(np.isfinite(true.values).sum()), 2)

    def test_what_is_none_of_them(self) -> None:
        for data in (b"", b"<html></html>", b"\x00\x01\x02\x03" * 40, b"only words here\nand here\n"):
            with self.subTest(data=data), self.assertRaises(InputError):
                read_file(data)

    @settings(max_examples=60, deadline=None)
    @given(st.sampled_from(sorted(FILES)), st.data())
    def test_a_file_with_any_bytes_in_it_is_read_or_refused(self, name: str, data: st.DataObject) -> None:
        """Bytes overwritten, cut off, or put in: a message, never an exception of a library."""
        content = bytearray(FILES[name])
        for _ in range(data.draw(st.integers(1, 6))):
            at = data.draw(st.integers(0, min(len(content) - 1, 4000)))
            content[at : at + data.draw(st.integers(0, 9))] = data.draw(st.binary(max_size=12))
        cut = data.draw(st.integers(1, len(content)))
        try:
            found = read_file(bytes(content[:cut]), ReadAs(dbc=DBC))
        except InputError as error:
            self.assertTrue(error.problems[0].remedy)
        else:
            for channel in found.channels:
                self.assertTrue(np.all(np.diff(channel.time_s) > 0))

    def test_broken_lines_are_counted_and_the_rest_is_read(self) -> None:
        def damaged(name: str, find: bytes, put: bytes) -> Recording:
            data = FILES[name]
            at = data.index(find, len(data) // 2)
            return read_file(data[:at] + put + data[at + len(find) :], ReadAs(dbc=DBC))

        for name, find, put in (
            ("csv", b"\n", b"\noops,1,2,3\n"),
            ("nmea", b",A,", b",V,"),  # the checksum is wrong now
            ("gpx", b"lat=", b"lax="),
            ("candump", b"#", b"?"),
            ("edges", b"\n", b"\nnothing\n"),
        ):
            with self.subTest(name=name):
                whole, found = read_file(FILES[name], ReadAs(dbc=DBC)), damaged(name, find, put)
                self.assertEqual((whole.bad_lines, found.bad_lines), (0, 1))
                self.assertEqual(len(found.examples), 1)
                self.assertGreaterEqual(found.channels[0].time_s.size, whole.channels[0].time_s.size - 1)

    def test_a_file_cut_off_keeps_what_came_before(self) -> None:
        for name in ("gpx", "fit", "vcd", "candump", "nmea", "csv"):
            with self.subTest(name=name):
                data = FILES[name]
                whole, half = read_file(data, ReadAs(dbc=DBC)), read_file(data[: len(data) // 2], ReadAs(dbc=DBC))
                share = half.channels[0].time_s.size / whole.channels[0].time_s.size
                self.assertTrue(0.35 < share < 0.6, share)

    def test_entities_are_refused(self) -> None:
        bomb = b'<?xml version="1.0"?><!DOCTYPE gpx [<!ENTITY a "aaaa"><!ENTITY b "&a;&a;">]><gpx>&b;</gpx>'
        with self.assertRaisesRegex(InputError, "entities"):
            read_file(bomb)

    def test_a_bus_needs_its_dbc(self) -> None:
        with self.assertRaisesRegex(InputError, "DBC file is needed"):
            read_file(FILES["candump"])
        with self.assertRaisesRegex(InputError, "not a readable DBC"):
            read_file(FILES["candump"], ReadAs(dbc="this is no DBC {"))
        with self.assertRaisesRegex(InputError, "describes no speed"):
            read_file(FILES["candump"], ReadAs(dbc=DBC.replace("km/h", "bar")))
        names = [signal.name for signal in known_signals(ReadAs(dbc=DBC))]
        self.assertIn("Satellite.Course", names)
        chosen = read_file(FILES["candump"], ReadAs(dbc=DBC, signals=("Satellite.Course",)))
        self.assertEqual([(item.name, item.quantity) for item in chosen.channels], [("Satellite.Course", "course")])

    def test_a_quiet_sound_is_refused(self) -> None:
        import soundfile

        file = io.BytesIO()
        soundfile.write(file, np.zeros(44_100), 44_100, format="WAV")
        with self.assertRaisesRegex(InputError, "too weak"):
            read_file(file.getvalue())

    def test_falling_edges_and_levels_of_a_sound(self) -> None:
        edges = edges_of(Ring(turns=8)) + 0.01
        rising = read_file(FILES["wav"]).channels[0].time_s
        falling = read_file(FILES["wav"], ReadAs(rising=False)).channels[0].time_s
        between = np.interp(falling, edges, np.arange(edges.size)) % 1
        self.assertLess(np.abs(np.median(between) - 0.5), 0.01)
        self.assertLessEqual(abs(rising.size - falling.size), 1)
        # a sine of 0.6 passes 0.3 a twelfth of a turn later
        later = read_file(FILES["wav"], ReadAs(threshold=0.3)).channels[0].time_s
        share = np.interp(later[5:-5], edges, np.arange(edges.size)) % 1
        self.assertAlmostEqual(float(np.median(share)), 1 / 12, delta=0.005)

    def test_a_sound_in_blocks_has_the_same_edges(self) -> None:
        """Edges that fall on the border between two blocks are neither lost nor counted twice, to the same time."""
        whole = read_file(FILES["wav"]).channels[0].time_s
        for size in (37, 60, 61, 997):
            with self.subTest(size=size), mock.patch("speedchain.runs.pulse_files.SOUND_BLOCK", size):
                np.testing.assert_allclose(read_file(FILES["wav"]).channels[0].time_s, whole, atol=1e-9)

    def test_edges_of_two_wires(self) -> None:
        found = read_file(b"time_s,wire\n0.1,sensor\n0.15,converter\n0.2,sensor\n0.3,sensor\n")
        self.assertEqual([(item.name, item.time_s.size) for item in found.channels], [("sensor", 3), ("converter", 1)])


class Pieces(TestCase):
    def test_a_table_in_blocks_is_the_table(self) -> None:
        text = as_table(DRIVE)
        rows = text.splitlines()
        broken = "\n".join([*rows[:60], "oops", *rows[60:]]) + "\n"
        for encoding in ("utf-8", "utf-16", "cp1252"):
            data = broken.replace("display", "Gerät").encode(encoding)
            whole = read_file(data)
            before = tables.BLOCK_BYTES
            tables.BLOCK_BYTES = 501
            try:
                tally = Tally()
                pieces = list(pieces_of(io.BytesIO(data), tally))
            finally:
                tables.BLOCK_BYTES = before
            self.assertGreater(len(pieces), 5)
            self.assertEqual((tally.lines, tally.bad_lines), (whole.lines, whole.bad_lines))
            self.assertEqual([str(text) for text in tally.examples], ["line 61"])
            np.testing.assert_array_equal(np.concatenate([item.time_s for item in pieces]), whole.channels[0].time_s)

    def test_midnight_between_blocks_and_a_line_without_a_time(self) -> None:
        lines = ["time,v km/h,gps km/h"] + [f"23:59:{second},50,50" for second in range(40, 60)]
        lines += ["oops,1,1"] + [f"00:00:{second:02d},50,50" for second in range(40)]
        before = tables.BLOCK_BYTES
        tables.BLOCK_BYTES = 64
        try:
            found = read_file(("\n".join(lines) + "\n").encode())
        finally:
            tables.BLOCK_BYTES = before
        np.testing.assert_allclose(np.diff(found.channels[0].time_s), np.ones(59))

    def test_a_first_row_with_one_number_is_a_row(self) -> None:
        """A display that was still dark: neither a line of units, nor lost."""
        found = tables.layout_of(b"time [s],gps [km/h],dash [km/h]\n0.5,,\n1.0,50.2,51\n1.5,50.4,51\n")
        self.assertEqual((found.skipped_lines, [item.unit for item in found.columns]), (1, ["s", "km/h", "km/h"]))
        two = tables.read_table(data := b"time,dash\n0,\n1,51\n2,52\n", tables.layout_of(data))
        self.assertEqual((two.channels[0].time_s.tolist(), two.bad_lines), ([0.0, 1.0, 2.0], 0))
        units = tables.layout_of(b"time,dash\ns,km/h\n0,\n1,51\n")
        self.assertEqual((units.skipped_lines, units.columns[0].unit), (2, "s"))

    def test_a_clock_that_goes_back_is_counted(self) -> None:
        lines = ["time,v km/h,gps km/h"] + [f"{second},50,50" for second in [*range(40), *range(20, 60)]]
        before = tables.BLOCK_BYTES
        tables.BLOCK_BYTES = 400
        try:
            found = read_file(("\n".join(lines) + "\n").encode())
        finally:
            tables.BLOCK_BYTES = before
        self.assertGreater(found.bad_lines, 5)
        self.assertIn("goes back", str(found.examples[0]))

    def test_what_a_person_says_of_the_columns_counts(self) -> None:
        found = read_file(
            b"a,b,c\n0,10,1\n1,20,1\n",
            ReadAs(
                columns=(ColumnAs(meaning="time"), ColumnAs(meaning="speed", unit="m/s"), ColumnAs(meaning="ignored"))
            ),
        )
        self.assertEqual([(item.name, item.values.tolist()) for item in found.channels], [("b", [36.0, 72.0])])

    def test_nmea_over_midnight_without_dates(self) -> None:
        def sentence(body: str) -> str:
            check = 0
            for letter in body:
                check ^= ord(letter)
            return f"${body}*{check:02X}\r\n"

        text = "".join(
            sentence(f"GPGGA,{clock},5454.00,N,00654.{at:02d},E,1,09,0.9,2.0,M,,M,,")
            for at, clock in enumerate(("235958.00", "235959.00", "000000.00", "000001.00"))
        )
        found = read_file(text.encode() + b"$GPGSV,1,1,00*79\r\nnoise\r\n")
        np.testing.assert_allclose(np.diff(found.channels[0].time_s), [1, 1, 1])
        self.assertEqual(found.bad_lines, 1)

    def test_water_runs_are_carried_along(self) -> None:
        rows = rows_of(Drive(speeds_kmh=(10, 10), current_kmh=2, true_noise_kmh=0, shown_noise_kmh=0, hold_s=60))
        there, back = (rows.time_s > 30) & (rows.time_s < 60), (rows.time_s > 100) & (rows.time_s < 140)
        self.assertAlmostEqual(float(rows.true_kmh[there].mean()), 12, places=6)
        self.assertAlmostEqual(float(rows.true_kmh[back].mean()), 8, places=6)
        self.assertAlmostEqual(float(rows.shown_kmh[back].mean()), 10, places=6)


class SpeedFromPlaces(TestCase):
    def test_a_phone_that_gives_no_speed_is_timed_from_place_to_place(self) -> None:
        """0.0005° of a meridian at the equator every 2 s: 55.29 m (110 574 m a degree, WGS 84), 99.5 km/h."""
        rows = "".join(f"{2 * at},,{'60' if at == 3 else ''},{at * 5e-4:.7f},7.0\n" for at in range(8))
        text = "time [s],satellite speed [km/h],display [km/h],latitude [deg],longitude [deg]\n" + rows
        found = read_file(text.encode())
        speed = found.channel("speed from places")
        assert speed is not None
        np.testing.assert_allclose(speed.values[1:], 99.52, atol=0.02)
        self.assertEqual(usual_speeds(found.channels), ("speed from places", "display"))
        with_speed = read_file(text.replace(",,", ",100,").encode())
        self.assertIsNone(with_speed.channel("speed from places"))


class Roles(TestCase):
    """What speeds are for: as the file suggests, or as a person said; what is lacking is said."""

    def speeds(self, *names: str, direction: str = "") -> list[Channel]:
        none = {"time_s": np.empty(0), "values": np.empty(0)}
        made = [Channel(name=name, quantity="speed", unit="km/h", true=name == "gps", **none) for name in names]
        return made + ([Channel(name="d", quantity=direction, unit="°", **none)] if direction else [])  # type: ignore[arg-type]

    def pulses(self) -> list[Channel]:
        return [Channel(name="edge", quantity="pulses", unit="", time_s=np.arange(9.0), values=np.empty(0))]

    def test_what_is_said_goes_before_what_is_guessed(self) -> None:
        there = self.speeds("front", "rear", "gps", "dash")
        self.assertEqual(usual_speeds(there), ("gps", "dash"))
        self.assertEqual(usual_speeds(there, {"rear": "shown"}), ("gps", "rear"))
        self.assertEqual(usual_speeds(there, {"front": "true", "gps": "shown"}), ("front", "gps"))
        self.assertEqual(usual_speeds(there, {"dash": "driven"}), ("gps", "front"))
        self.assertEqual(usual_speeds(self.speeds("rear", "dash")), ("rear", "dash"))
        self.assertEqual(wheel_speeds(there, {"rear": "driven", "front": "free"}), ("front", "rear"))
        self.assertEqual(wheel_speeds(self.speeds("gps", "rear")), ("gps", "rear"))
        roles = {"front": "free"}
        usual = usual_speeds(there, roles)
        self.assertEqual([role_of(item, usual, roles) for item in there], ["free", "driven", "true", "shown"])

    def test_what_is_lacking(self) -> None:
        for channels, roles, afloat, expected in (
            ([], {}, False, ["speed"]),
            (self.speeds("gps"), {}, False, ["shown"]),
            (self.speeds("rear"), {}, False, ["true"]),
            (self.pulses(), {}, False, []),
            (self.speeds("rear"), {"rear": "true"}, False, ["shown"]),
            (self.speeds("gps", "log"), {}, True, ["direction"]),
            (self.speeds("gps", "log", direction="heading"), {}, True, []),
            (self.speeds("gps", "log", direction="course"), {}, True, []),
            (self.speeds("gps"), {}, True, ["shown", "direction"]),
        ):
            with self.subTest(names=[item.name for item in channels], afloat=afloat):
                self.assertEqual([item.code for item in lacking(channels, roles, afloat=afloat)], expected)
