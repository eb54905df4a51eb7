"""`./test`: set up, then lint, types, contracts and all tests; the last line counts them."""

from __future__ import annotations

import os
import re
import shutil
import subprocess
import sys

from devtools.cluster import Cluster
from devtools.steps import (
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
TEST_ENVIRONMENT = {"WHEELOMETRON_DEMO": "1", "DJANGO_SETTINGS_MODULE": "wheelometron.test_settings"}
PROCESSES = "2"
"""As many as a small machine has cores: with more, browser tests time out on a busy one."""
NODE_CHECKS = {"tsc": "types", "biome": "lint"}


def check(name: str, command: list[str], **options: object) -> bool:
    """Run one check; show what it says only when it fails."""
    step(name)
    done = subprocess.run(command, stdout=subprocess.PIPE, stderr=subprocess.STDOUT, text=True, check=False, **options)  # type: ignore[call-overload]
    if done.returncode != 0:
        say(done.stdout)
        say(f"FAILED: {name}")
    return bool(done.returncode == 0)


def django_tests(environment: dict[str, str], labels: list[str]) -> tuple[int, int, int]:
    """Run Django's test runner; passed, failed and skipped as it reports them."""
    step("Django tests: core, published, API, browser")
    command = [str(PYTHON), "manage.py", "test", "--noinput", "--parallel", PROCESSES, *labels]
    with subprocess.Popen(
        command, cwd=ROOT, env=environment, stdout=subprocess.PIPE, stderr=subprocess.STDOUT, text=True
    ) as process:
        assert process.stdout is not None
        said = []
        for line in process.stdout:
            print(line, end="", flush=True)
            said.append(line)
    text = "".join(said)
    ran = re.search(r"^Ran (\d+) tests? in", text, re.MULTILINE)
    if ran is None:
        return 0, 1, 0
    counts = {
        name: sum(int(n) for n in re.findall(rf"{name}=(\d+)", text)) for name in ("failures", "errors", "skipped")
    }
    failed = counts["failures"] + counts["errors"]
    if process.returncode != 0 and failed == 0:
        failed = 1
    return max(int(ran[1]) - failed - counts["skipped"], 0), failed, counts["skipped"]


def main() -> int:
    """Everything; 0 when nothing failed. Labels given on the command line limit the Django tests."""
    labels = sys.argv[1:]
    cluster: Cluster | None = None
    try:
        debian_packages(
            {"postgresql": postgres_bin() is not None}
            | {
                program: shutil.which(program) is not None
                for program in ("chromium", "gpsbabel", "ngspice", "sigrok-cli")
            }
            | {"nginx-light": shutil.which("nginx") is not None}
        )
        python_packages("test")
        front_end()
        passed = failed = skipped = 0
        if not labels:
            lint = os.environ | {"WHEELOMETRON_SECRET_KEY": "for checks only"}
            results = [
                check(name, [str(PYTHON.parent / command[0]), *command[1:]], cwd=ROOT, env=lint)
                for name, command in CHECKS.items()
            ]
            for name, script in NODE_CHECKS.items():
                command, environment = npm("run", "--silent", script)
                results.append(check(name, command, cwd=FRONTEND, env=environment))
            passed, failed = sum(results), len(results) - sum(results)
        cluster = Cluster.at(ROOT / ".wheelometron-test")
        cluster.start(durable=False)
        good, bad, skipped = django_tests(cluster.environment() | TEST_ENVIRONMENT, labels)
        passed, failed = passed + good, failed + bad
    except SetupError as error:
        say(f"\n{error}")
        passed, failed, skipped = 0, 1, 0
    finally:
        if cluster is not None:
            cluster.stop()
            cluster.remove()
    say(f"{passed} passed, {failed} failed" + (f", {skipped} skipped" if skipped else ""))
    return 1 if failed else 0


if __name__ == "__main__":
    sys.exit(main())
