"""`./test --mutants`: how many small changes of the rules that hurt people most the tests notice. By hand: it takes an
hour.

mutmut changes the core, and what changes a workshop, in a copy of the tree and runs the tests that reach each change;
stryker does the same with the front end's editing and its queue of sheets. What survives is listed by file, and stands
in full in the copy.
"""

from __future__ import annotations

import json
import os
import shutil
import subprocess
from collections import Counter
from collections.abc import Iterator
from dataclasses import dataclass
from pathlib import Path
from tempfile import mkdtemp

from devtools.steps import FRONTEND, PYTHON, ROOT, npm, run, say, step


@dataclass(frozen=True)
class Area:
    """What is changed, and by which tests it is to be noticed."""

    name: str
    source: str
    changed: tuple[str, ...]
    tests: tuple[str, ...]


CORE = Area(
    "the core", "speedchain",
    ("speedchain/regulations/*", "speedchain/readout/*", "speedchain/runs/check.py", "speedchain/jobs/*"),
    tuple(f"tests/core/test_{name}.py" for name in (
        "guards", "readers", "readings", "jobs", "answers", "drives", "runs", "evaluate", "advice", "links",
        "knowledge",
        "findings", "errors", "units",
    )),
)  # fmt: skip
ACTIONS = Area(
    "actions of a workshop", "workshop",
    tuple(f"workshop/{name}.py" for name in (
        "access", "bin", "changes", "faults", "installations", "jobs", "parts", "service", "tyres", "use_cases",
        "vehicles",
        "wear",
    )),
    tuple(f"tests/api/test_{name}.py" for name in (
        "access", "bin", "faults", "guarded", "jobs", "measuring", "service", "services", "use_cases", "workshop",
    )),
)  # fmt: skip
IN_THE_COPY = (
    "speedchain", "tests", "wheelometron", "workshop", "api", "devtools", "docs", "frontend", "demo", "manage.py",
    "conftest.py",
)  # fmt: skip
A_FIFTH = "*__mutmut_*[27]"
"""Of the changes, which are numbered within their function, those that are tried; all of them with `--long`, in many
hours."""
SURVIVED, NOT_REACHED, NOT_TRIED = 0, 33, None
"""How mutmut writes them down."""
STRYKER = ROOT / "devtools" / "stryker"
CONFTEST = """import contextlib, os, django
from django.db import connections
from django.test.utils import setup_test_environment
django.setup()
with contextlib.suppress(RuntimeError):  # mutmut starts pytest several times in one process
    setup_test_environment()
# mutmut forks for each change: two do not share a line to the database
os.register_at_fork(before=connections.close_all)
"""


def mutants(environment: dict[str, str], *, every: bool) -> None:
    """Run both and print the scores, on a database that has nothing in it yet."""
    copy = Path(mkdtemp(prefix="mutants-"))
    say(f"In {copy}; it is left there, with what survived.")
    step("Installing mutmut (pinned, with hashes), beside the environment")
    site = copy / "site"
    command = [str(PYTHON), "-m", "pip", "install", "--quiet", "--disable-pip-version-check", "--require-hashes"]
    run([*command, "--target", str(site), "-r", str(ROOT / "requirements" / "mutants.txt")], "Installing mutmut")
    run([str(PYTHON), "manage.py", "migrate", "--verbosity", "0"], "The tables", cwd=ROOT, env=environment)
    for area in (ACTIONS, CORE):
        _python(copy, area, environment | {"PYTHONPATH": str(site)}, every=every)
    _front_end(copy)


def _tracked() -> Iterator[Path]:
    listed = subprocess.run(["git", "ls-files", "-z"], cwd=ROOT, capture_output=True, check=True).stdout
    return (Path(os.fsdecode(name)) for name in listed.split(b"\0") if name)


def _copied(tree: Path) -> None:
    for file in _tracked():
        (tree / file.parent).mkdir(parents=True, exist_ok=True)
        shutil.copy2(ROOT / file, tree / file)
    (tree / "conftest.py").write_text(CONFTEST)


def _python(copy: Path, area: Area, environment: dict[str, str], *, every: bool) -> None:
    tree = copy / area.source
    _copied(tree)
    settings = {
        "source_paths": [f"{area.source}/"],
        "only_mutate": list(area.changed),
        "also_copy": list(IN_THE_COPY),
        # what hypothesis draws differs from run to run: a change would be killed by chance
        "pytest_add_cli_args": ["-m", "not hypothesis"],
        "pytest_add_cli_args_test_selection": list(area.tests),
    }
    with (tree / "pyproject.toml").open("a") as project:
        project.write(
            "\n[tool.mutmut]\n" + "".join(f"{name} = {json.dumps(value)}\n" for name, value in settings.items())
        )
    step(f"mutmut over {', '.join(area.changed)}")
    log = copy / f"{area.source}.log"
    with log.open("w") as file:
        command = [str(PYTHON), "-m", "mutmut", "run", "--max-children", str(os.cpu_count() or 1)]
        chosen = [] if every else [A_FIFTH]
        subprocess.run(
            [*command, *chosen], cwd=tree, env=environment, stdout=file, stderr=subprocess.STDOUT, check=False
        )
    total: Counter[int | None] = Counter()
    for meta in sorted((tree / "mutants" / area.source).rglob("*.meta")):
        found = Counter(json.loads(meta.read_text())["exit_code_by_key"].values())
        if found:
            total += found
            say(f"  {_score(found)}  {meta.relative_to(tree / 'mutants').with_suffix('')}")
    if not total:
        say(f"  mutmut found nothing to change: see {log}")
    say(f"  {_score(total)}  {area.name}")


def _score(found: Counter[int | None]) -> str:
    tried = sum(found.values()) - found[NOT_REACHED] - found[NOT_TRIED]
    share = 100 * (tried - found[SURVIVED]) / tried if tried else 0.0
    return f"{share:5.1f} % of {tried:4d} killed, {found[NOT_REACHED]:3d} not reached"


def _front_end(copy: Path) -> None:
    step("Installing stryker (npm ci), beside the front end")
    for name in ("package.json", "package-lock.json"):
        shutil.copy2(STRYKER / name, copy / name)
    command, environment = npm("ci", "--no-audit", "--no-fund")
    run(command, "npm ci", cwd=copy, env=environment)
    there = copy / CORE.source / "frontend"
    shutil.copy2(STRYKER / "stryker.config.json", there)
    (there / "node_modules").symlink_to(FRONTEND / "node_modules")
    step("stryker over editing and jobs")
    command, environment = npm("exec", "--offline", "--prefix", str(copy), "--", "stryker", "run")
    subprocess.run(command, cwd=there, env=environment, check=False)
