"""`python -m speedchain`: JSON out, exit 2 and one clear line on bad input."""

import json
import subprocess
import sys
import tempfile
from pathlib import Path
from unittest import TestCase

from tests.installations import CAR, document


def run(*arguments: str, given: str = "") -> subprocess.CompletedProcess[str]:
    command = [sys.executable, "-m", "speedchain", *arguments]
    return subprocess.run(command, input=given, capture_output=True, text=True, check=False, timeout=60)


class CommandLine(TestCase):
    def test_evaluate_a_file(self) -> None:
        with tempfile.TemporaryDirectory() as folder:
            file = Path(folder) / "front.installation.json"
            file.write_text(json.dumps(CAR), "utf-8")
            done = run("evaluate", str(file))
        self.assertEqual(done.returncode, 0, done.stderr)
        self.assertAlmostEqual(json.loads(done.stdout)["pulses_per_km"], 24905.37, places=1)

    def test_wheel_and_schema(self) -> None:
        self.assertEqual(json.loads(run("wheel", "205/55R16").stdout)["diameter_mm"], 631.9)
        self.assertIn("properties", json.loads(run("schema").stdout))

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
