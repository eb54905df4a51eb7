"""The front end's own tests (Vitest, fast-check), one test case a file and one test for each of theirs."""

from __future__ import annotations

import json
import re
import subprocess
import tempfile
from pathlib import Path
from typing import Any, ClassVar
from unittest import TestCase

from devtools.steps import FRONTEND, npm

LONGEST_S = 240
GROUP, CASE = re.compile(r'^describe\("(.+?)", '), re.compile(r'^  it\("(.+?)", ')


def cases_in(file: Path) -> list[str]:
    """Full names of the tests in a file, as Vitest reports them."""
    names, group = [], ""
    for line in file.read_text("utf-8").splitlines():
        if found := GROUP.match(line):
            group = found[1]
        elif found := CASE.match(line):
            names.append(f"{group} {found[1]}")
    return names


class FrontEndCase(TestCase):
    """One file: it runs once, and each of its tests is looked up in the report."""

    file: ClassVar[Path]
    report: ClassVar[dict[str, dict[str, Any]]]

    @classmethod
    def setUpClass(cls) -> None:
        super().setUpClass()
        with tempfile.TemporaryDirectory() as folder:
            report = Path(folder) / "report.json"
            name = str(cls.file.relative_to(FRONTEND))
            command, environment = npm("exec", "--", "vitest", "run", name, "--reporter=json", f"--outputFile={report}")
            done = subprocess.run(
                command, cwd=FRONTEND, env=environment, capture_output=True, text=True, check=False, timeout=LONGEST_S
            )
            if not report.exists():
                raise AssertionError(f"{name} did not run:\n{done.stdout[-2000:]}\n{done.stderr[-2000:]}")
            found = json.loads(report.read_text("utf-8"))
        cls.report = {one["fullName"]: one for result in found["testResults"] for one in result["assertionResults"]}

    def check(self, name: str) -> None:
        outcome = self.report.get(name, {"status": "not run", "failureMessages": []})
        self.assertEqual(outcome["status"], "passed", f"{name}\n" + "\n".join(outcome["failureMessages"]))

    def check_all_are_known(self) -> None:
        self.assertEqual(sorted(self.report), sorted(cases_in(self.file)))


def case_of(file: Path) -> type[FrontEndCase]:
    """A test case with a method for each test of the file."""
    methods: dict[str, Any] = {"file": file, "__module__": __name__, "__doc__": f"{file.relative_to(FRONTEND)}"}
    for name in cases_in(file):
        method = re.sub(r"\W+", "_", name.lower()).strip("_")
        methods[f"test_{method}"] = lambda self, name=name: self.check(name)
    methods["test_no_test_of_the_file_is_left_out"] = lambda self: self.check_all_are_known()
    title = "".join(part.capitalize() for part in re.split(r"\W+", str(file.relative_to(FRONTEND / "src"))[: -len(".test.ts")]))
    return type(title, (FrontEndCase,), methods)


CASES = {case.__name__: case for case in map(case_of, sorted((FRONTEND / "src").rglob("*.test.ts")))}
globals().update(CASES)
del FrontEndCase
