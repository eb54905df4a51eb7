"""The front end's own tests (Vitest, fast-check): they run once, and each of them is a test here."""

from __future__ import annotations

import json
import re
import subprocess
import tempfile
from pathlib import Path
from typing import Any, ClassVar
from unittest import TestCase

from devtools.steps import FRONTEND, npm

LONGEST_S = 400
GROUP, CASE = re.compile(r'^describe\("(.+?)", '), re.compile(r'^  it\("(.+?)", ')
FILES = sorted((FRONTEND / "src").rglob("*.test.ts"))


def cases_in(file: Path) -> list[str]:
    """Full names of the tests in a file, as Vitest reports them."""
    names, group = [], ""
    for line in file.read_text("utf-8").splitlines():
        if found := GROUP.match(line):
            group = found[1]
        elif found := CASE.match(line):
            names.append(f"{group} {found[1]}")
    return names


class FrontEnd(TestCase):
    """Each test is looked up in Vitest's report, by file and name."""

    report: ClassVar[dict[tuple[str, str], dict[str, Any]]]

    @classmethod
    def setUpClass(cls) -> None:
        super().setUpClass()
        with tempfile.TemporaryDirectory() as folder:
            report = Path(folder) / "report.json"
            command, environment = npm("exec", "--", "vitest", "run", "--reporter=json", f"--outputFile={report}")
            done = subprocess.run(
                command, cwd=FRONTEND, env=environment, capture_output=True, text=True, check=False, timeout=LONGEST_S
            )
            if not report.exists():
                raise AssertionError(f"Vitest did not run:\n{done.stdout[-2000:]}\n{done.stderr[-2000:]}")
            found = json.loads(report.read_text("utf-8"))
        cls.report = {
            (str(Path(result["name"]).relative_to(FRONTEND)), one["fullName"]): one
            for result in found["testResults"]
            for one in result["assertionResults"]
        }

    def check(self, file: str, name: str) -> None:
        outcome = self.report.get((file, name), {"status": "not run", "failureMessages": []})
        self.assertEqual(outcome["status"], "passed", f"{name}\n" + "\n".join(outcome["failureMessages"]))

    def test_no_test_is_left_out(self) -> None:
        known = [(str(file.relative_to(FRONTEND)), name) for file in FILES for name in cases_in(file)]
        self.assertEqual(sorted(self.report), sorted(known))


def _method(file: str, name: str) -> Any:
    return lambda self: self.check(file, name)


for _file in FILES:
    _path = str(_file.relative_to(FRONTEND))
    for _name in cases_in(_file):
        _title = re.sub(r"\W+", "_", f"{_file.name.removesuffix('.test.ts')} {_name}".lower()).strip("_")
        setattr(FrontEnd, f"test_{_title}", _method(_path, _name))
