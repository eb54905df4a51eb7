"""`./test`: set up, then lint, types, contracts and all tests; the last line counts them.

What needs neither database nor browser runs beside the rest, at a lower priority: browser tests wait most of their
time.
"""

from __future__ import annotations

import argparse
import json
import os
import re
import shutil
import subprocess
import sys
import time
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass, field
from pathlib import Path
from tempfile import TemporaryDirectory

from devtools.cluster import Cluster
from devtools.mutants import mutants
from devtools.steps import (
    BROWSER,
    FRONTEND,
    PYTHON,
    ROOT,
    SetupError,
    debian_packages,
    front_end,
    npm,
    postgres_bin,
    python_packages,
    say,
    step,
)

CHECKS = {
    "ruff check": ["ruff", "check", "."],
    "ruff format": ["ruff", "format", "--check", "."],
    "mypy": ["mypy"],
    "import contracts": ["lint-imports"],
}
NODE_CHECKS = {"tsc": "types", "biome": "lint"}
TEST_ENVIRONMENT = {"WHEELOMETRON_DEMO": "1", "DJANGO_SETTINGS_MODULE": "wheelometron.test_settings"}
BESIDE = ("tests.core", "tests.published", "tests.frontend")
"""Tests that need neither database nor browser."""
STARTING = ("tests.devtools",)
"""Tests that start the app: they need no database of the tests' own, and wait most of their time."""
PAGES = ("tests.browser",)
DATABASE = "WHEELOMETRON_TEST_DATABASE"
"""Names the tests' own database: two runs of Django's runner on one server have each their own."""
BROWSERS = 2
"""As many as two cores carry without a test timing out: browser tests wait a third of their time, which the rest
uses."""
NICE = 5
SLOWEST = 10


@dataclass
class Outcome:
    """What a part came to: how many passed, failed and were skipped, and how long it took."""

    name: str
    passed: int = 0
    failed: int = 0
    skipped: int = 0
    seconds: float = 0.0
    took: dict[str, float] = field(default_factory=dict)


def check(name: str, command: list[str], folder: Path, environment: dict[str, str]) -> bool:
    """Run one check; show what it says only when it fails."""
    done = subprocess.run(
        ["nice", "-n", str(NICE), *command],
        cwd=folder,
        env=environment,
        stdout=subprocess.PIPE,
        stderr=subprocess.STDOUT,
        text=True,
        check=False,
    )
    if done.returncode != 0:
        say(f"{done.stdout}\nFAILED: {name}")
    return done.returncode == 0


def checks() -> Outcome:
    """Linters, types and contracts."""
    began = time.monotonic()
    lint = os.environ | {"WHEELOMETRON_SECRET_KEY": "for checks only"}
    results = [
        check(name, [str(PYTHON.parent / command[0]), *command[1:]], ROOT, lint) for name, command in CHECKS.items()
    ]
    for name, script in NODE_CHECKS.items():
        command, environment = npm("run", "--silent", script)
        results.append(check(name, command, FRONTEND, environment))
    return Outcome("linters and types", sum(results), len(results) - sum(results), 0, time.monotonic() - began)


def django_tests(
    name: str,
    environment: dict[str, str],
    labels: list[str],
    *,
    processes: int = 1,
    beside: bool = False,
    quiet: bool = False,
) -> Outcome:
    """Run Django's test runner; what is run `beside` others at a lower priority, or is `quiet`, says what it has to say
    at its end."""
    quiet = quiet or beside
    began = time.monotonic()
    with TemporaryDirectory() as folder:
        took = Path(folder) / "took.json"
        command = [str(PYTHON), "manage.py", "test", "--noinput", "--parallel", str(processes), *labels]
        with subprocess.Popen(
            ["nice", "-n", str(NICE), *command] if beside else command,
            cwd=ROOT,
            env=environment | {"WHEELOMETRON_TOOK": str(took)},
            stdout=subprocess.PIPE,
            stderr=subprocess.STDOUT,
            text=True,
        ) as process:
            assert process.stdout is not None
            said = []
            for line in process.stdout:
                if not quiet:
                    print(line, end="", flush=True)
                said.append(line)
        seconds = json.loads(took.read_text()) if took.exists() else {}
    text = "".join(said)
    if quiet and process.returncode != 0:
        say(text)
    ran = re.search(r"^Ran (\d+) tests? in", text, re.MULTILINE)
    if ran is None:
        return Outcome(name, 0, 1, 0, time.monotonic() - began)
    counts = {key: sum(int(n) for n in re.findall(rf"{key}=(\d+)", text)) for key in ("failures", "errors", "skipped")}
    failed = counts["failures"] + counts["errors"]
    if process.returncode != 0 and failed == 0:
        failed = 1
    passed = max(int(ran[1]) - failed - counts["skipped"], 0)
    return Outcome(name, passed, failed, counts["skipped"], time.monotonic() - began, seconds)


def everything(environment: dict[str, str]) -> list[Outcome]:
    """All checks and tests: those with a browser or the database, and the others beside them."""
    with ThreadPoolExecutor(2) as pool:
        step(
            "Browser; beside it what starts the app, then the API; and, at a lower priority, linters and types, then "
            "core"
        )
        first, second = pool.submit(_beside, environment), pool.submit(_without_a_page, environment)
        last = django_tests("browser", environment, list(PAGES), processes=BROWSERS)
        return [*first.result(), *second.result(), last]


def _beside(environment: dict[str, str]) -> list[Outcome]:
    """What needs neither database nor app, one after the other: it has what the others leave of two cores."""
    linted = checks()  # first: they fail soonest
    return [linted, django_tests("core, published, front end", environment, list(BESIDE), beside=True)]


def _without_a_page(environment: dict[str, str]) -> list[Outcome]:
    """What starts the app, which waits most of its time and needs no database of the tests' own; then the API."""
    started = django_tests("start", environment, list(STARTING), quiet=True)
    there = [f"tests.{item.name}" for item in sorted((ROOT / "tests").iterdir()) if (item / "__init__.py").exists()]
    others = [label for label in there if label not in (*BESIDE, *STARTING, *PAGES, "tests.simulated")]
    return [started, django_tests("API", environment | {DATABASE: "test_api"}, others, quiet=True)]


def summary(outcomes: list[Outcome], set_up_s: float) -> None:
    """The slowest tests, and the time by part."""
    took = {name: seconds for outcome in outcomes for name, seconds in outcome.took.items()}
    say(f"\nThe slowest {SLOWEST} of {len(took)} tests:")
    for name, seconds in sorted(took.items(), key=lambda item: -item[1])[:SLOWEST]:
        say(f"  {seconds:6.1f} s  {name}")
    say("Time by part (they run beside each other):")
    for name, seconds in (("set-up", set_up_s), *[(outcome.name, outcome.seconds) for outcome in outcomes]):
        say(f"  {seconds:6.0f} s  {name}")


def options() -> tuple[argparse.Namespace, list[str]]:
    """The options of `./test`, and the labels that limit the Django tests."""
    parser = argparse.ArgumentParser(prog="./test", description="Set up and run every check and test.")
    parser.add_argument("--long", action="store_true", help="simulations and fuzzing at their full size")
    parser.add_argument(
        "--mutants", action="store_true", help="change the rules and see what the tests notice (an hour)"
    )
    parser.add_argument("labels", nargs="*", help="only these tests, such as tests.core")
    asked = parser.parse_args()
    return asked, asked.labels


def main() -> int:
    """Everything; 0 when nothing failed. Labels given on the command line limit the Django tests."""
    asked, labels = options()
    cluster: Cluster | None = None
    began = time.monotonic()
    os.environ.pop("PYTHONDONTWRITEBYTECODE", None)  # of a hundred processes each would compile all of ours anew
    try:
        programs = (BROWSER, "gpsbabel", "ngspice", "sigrok-cli")
        debian_packages(
            {"postgresql": postgres_bin() is not None, "nginx-light": shutil.which("nginx") is not None}
            | {program: shutil.which(program) is not None for program in programs}
        )
        python_packages("test")
        front_end()
        cluster = Cluster.at(ROOT / ".wheelometron-test")
        cluster.start(durable=False)
        environment = cluster.environment() | TEST_ENVIRONMENT | ({"WHEELOMETRON_LONG": "1"} if asked.long else {})
        if asked.mutants:
            mutants(environment, every=asked.long)
            return 0
        set_up_s = time.monotonic() - began
        outcomes = [django_tests("tests", environment, labels, processes=2)] if labels else everything(environment)
        summary(outcomes, set_up_s)
    except SetupError as error:
        say(f"\n{error}")
        outcomes = [Outcome("set-up", failed=1)]
    finally:
        if cluster is not None:
            cluster.stop()
            cluster.remove()
    passed, failed, skipped = (sum(getattr(one, name) for one in outcomes) for name in ("passed", "failed", "skipped"))
    say(f"{passed} passed, {failed} failed" + (f", {skipped} skipped" if skipped else ""))
    return 1 if failed else 0


if __name__ == "__main__":
    sys.exit(main())
