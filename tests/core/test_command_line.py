"""`python -m speedchain`: JSON out, exit 2 and one clear line on bad input."""

import io
import json
import subprocess
import sys
import tempfile
from contextlib import redirect_stderr, redirect_stdout
from pathlib import Path
from unittest import TestCase
from unittest.mock import patch

from speedchain.__main__ import main
from tests.installations import CAR, document


def run(*arguments: str, given: str = "") -> subprocess.CompletedProcess[str]:
    """The command as it answers, in this process: only one of these tests starts a program of its own."""
    said, complained, asked = (
        io.TextIOWrapper(io.BytesIO(), "utf-8"),
        io.StringIO(),
        io.TextIOWrapper(io.BytesIO(given.encode())),
    )
    with redirect_stdout(said), redirect_stderr(complained), patch.object(sys, "stdin", asked):
        try:
            code = main(arguments)
        except SystemExit as end:  # argparse ends so
            code = int(end.code or 0)
        said.flush()
        out = said.buffer.getvalue().decode("utf-8", "surrogateescape")
    return subprocess.CompletedProcess(arguments, code, out, complained.getvalue())


def written(*arguments: str) -> bytes:
    """Standard output as bytes."""
    return run(*arguments).stdout.encode("utf-8", "surrogateescape")


class CommandLine(TestCase):
    def test_evaluate_a_file(self) -> None:
        with tempfile.TemporaryDirectory() as folder:
            file = Path(folder) / "front.installation.json"
            file.write_text(json.dumps(CAR), "utf-8")
            command = [sys.executable, "-m", "speedchain", "evaluate", str(file)]
            done = subprocess.run(command, capture_output=True, text=True, check=False, timeout=240)
        self.assertEqual(done.returncode, 0, done.stderr)
        self.assertAlmostEqual(json.loads(done.stdout)["pulses_per_km"], 24905.37, places=1)

    def test_wheel_and_schema(self) -> None:
        self.assertEqual(json.loads(run("wheel", "205/55R16").stdout)["diameter_mm"], 631.9)
        self.assertIn("properties", json.loads(run("schema").stdout))

    def test_a_drive_is_simulated_and_checked(self) -> None:
        known = document(CAR, readouts__0__current_setting=23000)
        with tempfile.TemporaryDirectory() as folder:
            installation, drive = Path(folder) / "dash.installation.json", Path(folder) / "drive.csv"
            installation.write_text(json.dumps(known), "utf-8")
            drive.write_text(run("run", "simulate", "--shown-per-true", "1.03").stdout, "utf-8")
            done = run("run", "check", str(installation), str(drive))
            wrong = run("run", "check", str(installation), str(drive), "--true", "odometer")
            away = run("run", "check", str(installation), str(Path(folder) / "nothing.csv"))
        proof = json.loads(done.stdout)
        self.assertEqual(proof["verdict"], "wrong")
        self.assertAlmostEqual(proof["check"]["error_pct"], 3, delta=proof["check"]["expanded_pct"])
        for refused, word in ((wrong, "odometer"), (away, "cannot be read")):
            self.assertEqual((refused.returncode, refused.stdout), (2, ""))
            self.assertIn(word, refused.stderr)

    def test_recordings_are_simulated_imported_and_asked_for_slip(self) -> None:
        with tempfile.TemporaryDirectory() as folder:
            (Path(folder) / "bus.dbc").write_bytes(written("run", "simulate", "--format", "dbc"))
            for name in ("nmea", "candump", "wav"):  # the others are read the same way: test_recording_files
                with self.subTest(name=name):
                    file = Path(folder) / f"recording.{name}"
                    file.write_bytes(written("run", "simulate", "--format", name, "--seed", "1"))
                    found = json.loads(run("run", "import", str(file), "--dbc", str(Path(folder) / "bus.dbc")).stdout)
                    quantities = {channel["quantity"] for channel in found["channels"]}
                    self.assertTrue({"speed", "pulses"} & quantities)
                    self.assertEqual(found["bad_lines"], 0)
            log, dbc = str(Path(folder) / "recording.candump"), str(Path(folder) / "bus.dbc")
            slip = run("run", "slip", log, "--dbc", dbc, "--driven", "Wheels.Driven")
            self.assertAlmostEqual(json.loads(slip.stdout)["false_pct"], 0, delta=0.3)
            refused = run("run", "slip", log)
            self.assertEqual(refused.returncode, 2)
            self.assertIn("DBC", refused.stderr)

    def test_columns_are_named(self) -> None:
        with tempfile.TemporaryDirectory() as folder:
            table, fit = Path(folder) / "drive.csv", Path(folder) / "a.installation.json"
            rows = "".join([f"{0.2 * n:.1f},{60 + n % 2},{60 + n % 2},7\n" for n in range(300)])
            table.write_text(f"a,b,c,d\n{rows}", "utf-8")
            fit.write_text(json.dumps(document(CAR, readouts__0__current_setting=25_000)), "utf-8")
            named = ("--time", "a", "--true", "c", "--shown", "b")
            found = json.loads(run("run", "import", str(table), *named).stdout)
            self.assertEqual(
                [(item["name"], item["quantity"]) for item in found["channels"]],
                [("b", "speed"), ("c", "speed"), ("d", "other")],
            )
            self.assertEqual(run("run", "check", str(fit), str(table), *named).returncode, 0)
            for arguments, said in (
                ((), "The recording holds no speed. Name its columns"),
                (("--true", "z"), "no column named z. Choose one of: a, b, c, d"),
            ):
                refused = run("run", "check", str(fit), str(table), *arguments)
                self.assertEqual((refused.returncode, said in refused.stderr), (2, True), refused.stderr)
            empty = Path(folder) / "empty.nmea"
            empty.write_text("$GPTXT,01,01,02,nothing here*00\n", "utf-8")
            refused = run("run", "import", str(empty))
            self.assertEqual((refused.returncode, refused.stdout), (2, ""), refused.stderr)

    def test_the_fingerprint_of_a_ring(self) -> None:
        edges = [turn * 7 + place for turn in range(20) for place in range(6)]
        with tempfile.TemporaryDirectory() as folder:
            capture = Path(folder) / "ring.csv"
            capture.write_text("time_ms\n" + "".join(f"{at}\n" for at in edges), "utf-8")
            found = json.loads(run("run", "fingerprint", str(capture)).stdout)
        self.assertEqual((found["pulses_per_turn"], found["positions"]), (6, 7))

    def test_bad_input_is_one_line_and_exit_2(self) -> None:
        bad = json.dumps(document(CAR, target__count=0, wheel__marking__text="round"))
        for arguments, given, word in [
            (("evaluate", "/nowhere/at.all"), "", "No such file"),
            (("evaluate", "-"), bad, "target.count"),
            (("evaluate", "-"), "{", "JSON"),
            (("wheel", "round"), "", "205/55R16"),
            (("fly",), "", "invalid choice"),
        ]:
            with self.subTest(arguments):
                done = run(*arguments, given=given)
                self.assertEqual((done.returncode, done.stdout), (2, ""))
                self.assertIn(word, done.stderr)
                self.assertEqual(done.stderr.count("\n"), 1)
