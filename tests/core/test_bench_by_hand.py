"""Tests by hand, the wiring sheet, and the bench on the command line."""

from __future__ import annotations

import contextlib
import io
import json
import subprocess
import sys
import tempfile
from pathlib import Path
from typing import Any
from unittest import TestCase, mock

from speedchain import evaluate, read_installation
from speedchain.__main__ import main
from speedchain.bench.hand_tests import magnet_test, spin_test, waves_for
from speedchain.sensor import USUAL
from speedchain.sheets.pdf import wiring_pdf
from speedchain.wiring import wiring_sheet
from tests.installations import CAR, CYCLE, document, installation

FIT = str(Path(__file__).parent / "version_1" / "plover.fit.json")
MAGNETS = {"kind": "magnets", "count": 3, "magnets": {"radius_mm": 75}}


class ByHand(TestCase):
    def test_a_turn_a_second(self) -> None:
        """3.6·C by hand: 205/55R16 rolls 1.9273 m, so 6.94 km/h."""
        result = spin_test(installation(CAR), evaluate(installation(CAR)))
        self.assertAlmostEqual(result.predictions[0].shown_kmh, 6.94, places=2)
        self.assertEqual(result.predictions[0].hz, 48)

    def test_a_boat_has_a_paddle_and_a_propeller(self) -> None:
        boat = read_installation(json.loads((Path(FIT).parent / "grebe.fit.json").read_text("utf-8")))
        result = spin_test(boat, evaluate(boat))
        self.assertIn("paddle", result.steps[0])
        self.assertIn("propeller", result.caution)

    def test_behind_an_open_differential_half_is_shown(self) -> None:
        driven = installation(CAR, drive={"kind": "axle_ratio", "driven": True, "axle_ratio": {"ratio": 3.5}})
        result = spin_test(driven, evaluate(driven))
        self.assertTrue(any("expect 3.5 km/h" in note for note in result.notes))
        free = installation(CAR, drive={"kind": "axle_ratio", "driven": False, "axle_ratio": {"ratio": 3.5}})
        self.assertFalse(any("differential" in note for note in spin_test(free, evaluate(free)).notes))

    def test_waves_in_a_time(self) -> None:
        """N waves of one magnet are N turns: 10 in 10 s of a 2.1 m wheel are 7.6 km/h."""
        wheel = installation(
            CYCLE, wheel={"method": "entered", "entered": {"circumference_mm": 2100}}, readouts__0__current_setting=2100
        )
        result = magnet_test(wheel, evaluate(wheel), 10, 10)
        self.assertAlmostEqual(result.predictions[0].shown_kmh, 7.56, places=2)
        self.assertGreaterEqual(waves_for(wheel, evaluate(wheel)), 3)

    def test_a_wave_counted_twice(self) -> None:
        twice = installation(CYCLE, target__edges=2)
        self.assertEqual(magnet_test(twice, evaluate(twice), 10, 10).predictions[0].hz, 2)

    def test_why_a_reader_may_show_nothing(self) -> None:
        for timing, words in (
            ({"time_out_s": 0.5}, "longer than its zero time-out"),
            ({"minimum_kmh": 20}, "below its minimum of 20 km/h"),
        ):
            cycle = installation(CYCLE, readouts__0__timing=timing)
            result = magnet_test(cycle, evaluate(cycle), 10, 10).predictions[0]
            self.assertEqual(result.shown_kmh, 0)
            self.assertIn(words, result.text)

    def test_a_fine_ring_is_not_for_a_hand(self) -> None:
        result = magnet_test(installation(CAR), evaluate(installation(CAR)), 40, 10)
        self.assertTrue(any("Do the spin test" in note for note in result.notes))


class Wires(TestCase):
    def test_unknown_wires_are_tested_first_and_a_coil_is_twisted(self) -> None:
        given = installation(
            CAR, sensor={"kind": "variable_reluctance", "wires": [{"colour": "grey"},
                {"colour": "", "role": "shield", "pin": "B2"}]},
            signal={"vr": {"measured_vpp": 2, "at_hz": 100}, "lead": {"permanent_feed": True}}, purpose="brake_control",
        )  # fmt: skip
        sheet = wiring_sheet(given, evaluate(given))
        self.assertEqual([row.pin for row in sheet.wires], ["1", "B2"])
        self.assertEqual(sheet.wires[0].goes_to, "test it first")
        self.assertIn("this end only", sheet.wires[1].goes_to)
        self.assertEqual(len(sheet.cautions), 4)
        self.assertTrue(wiring_pdf(given, sheet).startswith(b"%PDF"))

    def test_a_supply_outside_the_sensor_s_range_is_never_printed_as_its_supply(self) -> None:
        """A sensor of 3.3 to 3.6 V: nothing entered gives its range, 12 V blocks and stands as a caution, 3.3 V is
        fine."""
        facts = USUAL["hall_gear_tooth"].model_dump() | {"supply_min_v": 3.3, "supply_max_v": 3.6}
        for needs, goes_to, blocked in (
            (None, "3.3 to 3.6 V, regulated", False),
            ({"supply_v": 12}, "3.3 to 3.6 V, not 12 V, regulated", True),
            ({"supply_v": 3.3}, "3.3 V, regulated", False),
        ):
            entered = installation(CAR, sensor={"kind": "hall_gear_tooth", "facts": facts, "needs": needs})
            result = evaluate(entered)
            sheet = wiring_sheet(entered, result)
            self.assertEqual(sheet.wires[0].goes_to, goes_to)
            self.assertEqual("Do not connect 12 V" in sheet.cautions[0], blocked)
            self.assertNotEqual({row.asked: row.answer for row in sheet.order}["Supply of the sensor"], "12 V")
            codes = [item.code for item in result.findings if item.severity == "blocking"]
            self.assertEqual("sensor.supply" in codes, blocked)

    def test_what_a_supplier_asks_is_answered_or_marked(self) -> None:
        sheet = wiring_sheet(installation(CAR), evaluate(installation(CAR)))
        unknown = {row.asked for row in sheet.order if not row.known}
        self.assertEqual(
            unknown,
            {
                "Sensed shaft or wheel",
                "Connector at the sensor",
                "Wheels driven",
                "Sensor, name and number",
                "Target, name and number",
                "Displays, names and numbers",
            },
        )
        answers = {row.asked: row.answer for row in sheet.order}
        self.assertEqual(answers["Tyre"], "205/55R16")
        self.assertEqual(answers["Pulses per turn of the wheel"], "48")


class Called:
    """The command line in this process: what a shell would see of it."""

    def __init__(self, *arguments: str, given: str = "") -> None:
        out, errors = io.StringIO(), io.StringIO()
        with (
            contextlib.redirect_stdout(out),
            contextlib.redirect_stderr(errors),
            mock.patch("sys.stdin", io.StringIO(given)),
        ):
            try:
                self.returncode = main(["bench", *arguments])
            except SystemExit as left:
                self.returncode = int(left.code or 0)
        self.stdout, self.stderr = out.getvalue(), errors.getvalue()


class Commands(TestCase):
    def in_a_file(self, given: dict[str, Any], *arguments: str, stdin: str = "") -> Called:
        with tempfile.TemporaryDirectory() as folder:
            file = Path(folder) / "one.installation.json"
            file.write_text(json.dumps(given), "utf-8")
            return Called(arguments[0], str(file), *arguments[1:], given=stdin)

    def test_generator_into_reader_reads_the_speed(self) -> None:
        pulses = self.in_a_file(document(CYCLE, target=MAGNETS), "generator", "--speed", "30", "--seconds", "6")
        self.assertEqual(pulses.returncode, 0, pulses.stderr)
        shown = self.in_a_file(document(CYCLE, target=MAGNETS), "reader", stdin=pulses.stdout)
        last = shown.stdout.splitlines()[-1].split(",")
        self.assertAlmostEqual(float(last[1]), 30, delta=1)

    def test_a_reader_behind_a_converter_listens_to_its_wire(self) -> None:
        given = document(CAR, signal={"converter": {"target_pulses_per_km": 8000}}, readouts__0__current_setting=8000)
        pulses = self.in_a_file(given, "generator", "--speed", "60", "--seconds", "2")
        self.assertIn(",converter", pulses.stdout)
        shown = self.in_a_file(given, "reader", stdin=pulses.stdout).stdout.splitlines()[-1]
        self.assertAlmostEqual(float(shown.split(",")[1]), 60, delta=1)

    def test_faults_of_the_generator(self) -> None:
        clean = self.in_a_file(document(CAR), "generator", "--seconds", "1").stdout.count("\n")
        broken = self.in_a_file(document(CAR), "generator", "--seconds", "1", "--missing", "4").stdout.count("\n")
        self.assertAlmostEqual(broken / clean, 44 / 48, delta=0.03)

    def test_a_frequency_and_a_profile_of_one_s_own(self) -> None:
        asked = self.in_a_file(document(CAR), "generator", "--hz", "100", "--seconds", "2")
        self.assertAlmostEqual(asked.stdout.count("sensor"), 200, delta=1)
        with tempfile.TemporaryDirectory() as folder:
            drive = Path(folder) / "drive.csv"
            drive.write_text("time_s,kmh\n0,0\n2,36\n4,36\n")
            pulses = self.in_a_file(document(CAR), "generator", "--profile", str(drive), "--seconds", "4")
        # 10 m while it speeds up, then 20 m: 24.905 pulses a metre
        self.assertAlmostEqual(pulses.stdout.count("sensor"), 30 * 24.905, delta=2)

    def test_gauge_and_satellite(self) -> None:
        gauge = Called("gauge", "--pulses-per-km", "16000", "--scale-end-kmh", "180", given="hz\n400\n9000\n")
        self.assertEqual(gauge.stdout.splitlines(), ["hz,needle_kmh", "400,90", "9000,180"])
        self.assertEqual(Called("satellite", "--seconds", "2", "--rate-hz", "1").stdout.count("$GPRMC"), 3)

    def test_bad_input_is_one_line_and_exit_2(self) -> None:
        for arguments, stdin, word in (
            (("gauge", "--pulses-per-km", "none"), "hz\n1\n", "pulses_per_km"),
            (("gauge", "--pulses-per-km", "9"), "rpm\n1\n", "no column hz"),
            (("gauge", "--pulses-per-km", "9"), "hz\nfast\n", "not a number"),
            (("gauge", "--pulses-per-km", "9"), "", "no column hz"),
            (("satellite", "--speed", "-4"), "", "must be 0 to 1500"),
            (("satellite", "--seconds", "30000"), "", "more than the limit"),
            (("generator", "/nowhere"), "", "No such file"),
            (("generator", FIT, "--profile", "/nowhere"), "", "No such file"),
            (("generator", FIT, "--hz", "0"), "", "must be 0.1"),
            (("generator", FIT, "--noise", "loud"), "", "not a valid noise"),
            (("reader", FIT, "--readout", "2"), "time_s\n1\n", "no readout 2"),
            (("reader", FIT), "hz\n1\n", "no column time_s"),
            (("fly",), "", "invalid choice"),
        ):
            with self.subTest(arguments):
                done = Called(*arguments, given=stdin)
                self.assertEqual((done.returncode, done.stdout), (2, ""), done.stderr)
                self.assertIn(word, done.stderr)
                self.assertEqual(done.stderr.count("\n"), 1)

    def test_nobody_reads_on_is_no_error(self) -> None:
        with tempfile.TemporaryDirectory() as folder:
            file = Path(folder) / "one.installation.json"
            file.write_text(json.dumps(CAR), "utf-8")
            command = f"{sys.executable} -m speedchain bench generator {file} --seconds 60 | head -2"
            done = subprocess.run(command, shell=True, capture_output=True, text=True, check=False, timeout=60)
        self.assertEqual(done.stderr, "")
        self.assertEqual(done.stdout.count("\n"), 2)
