"""`./test --mutants`: how many small changes of the rules that hurt people most the tests notice. By hand: it takes an hour.

mutmut changes the core in a copy of the tree and runs the database-free tests that reach each change; stryker does the same
with the front end's editing and its queue of sheets. What survives is listed by file, and stands in full in the copy.
"""

from __future__ import annotations

import json
import os
import shutil
import subprocess
from collections import Counter
from collections.abc import Iterator
from pathlib import Path
from tempfile import mkdtemp

from devtools.steps import FRONTEND, PYTHON, ROOT, npm, run, say, step

CHANGED = ("speedchain/regulations/*", "speedchain/readout/*", "speedchain/runs/check.py", "speedchain/jobs/*")
"""Packages of the core that are changed."""
TESTS = (
    "guards", "readers", "readings", "jobs", "answers", "drives", "runs", "evaluate", "advice", "links", "knowledge", "findings",
    "errors", "units",
)  # fmt: skip
"""Modules of tests/core that are run."""
IN_THE_COPY = ("speedchain", "tests", "wheelometron", "workshop", "devtools", "docs", "frontend", "demo", "manage.py")
KILLED, SURVIVED, NOT_REACHED = 1, 0, 33
"""How mutmut writes them down."""
STRYKER = ROOT / "devtools" / "stryker"


def mutants() -> None:
    """Run both and print the scores."""
    copy = Path(mkdtemp(prefix="mutants-"))
    say(f"In {copy}; it is left there, with what survived.")
    _core(copy)
    _front_end(copy)


def _tracked() -> Iterator[Path]:
    listed = subprocess.run(["git", "ls-files", "-z"], cwd=ROOT, capture_output=True, check=True).stdout
    return (Path(os.fsdecode(name)) for name in listed.split(b"\0") if name)


def _core(copy: Path) -> None:
    step("Installing mutmut (pinned, with hashes), beside the environment")
    site = copy / "site"
    command = [str(PYTHON), "-m", "pip", "install", "--quiet", "--disable-pip-version-check", "--require-hashes"]
    run([*command, "--target", str(site), "-r", str(ROOT / "requirements" / "mutants.txt")], "Installing mutmut")
    tree = copy / "tree"
    for file in _tracked():
        (tree / file.parent).mkdir(parents=True, exist_ok=True)
        shutil.copy2(ROOT / file, tree / file)
    chosen = [f"tests/core/test_{name}.py" for name in TESTS]
    settings = {
        "source_paths": ["speedchain/"],
        "only_mutate": list(CHANGED),
        "also_copy": list(IN_THE_COPY),
        # what hypothesis draws differs from run to run: a change would be killed by chance
        "pytest_add_cli_args": ["-m", "not hypothesis"],
        "pytest_add_cli_args_test_selection": chosen,
    }
    with (tree / "pyproject.toml").open("a") as project:
        project.write(
            "\n[tool.mutmut]\n" + "".join(f"{name} = {json.dumps(value)}\n" for name, value in settings.items())
        )
    step(f"mutmut over {', '.join(CHANGED)}")
    environment = os.environ | {
        "PYTHONPATH": str(site),
        "DJANGO_SETTINGS_MODULE": "wheelometron.test_settings",
        "WHEELOMETRON_SECRET_KEY": "for mutants only",
    }
    with (copy / "mutmut.log").open("w") as log:
        command = [str(PYTHON), "-m", "mutmut", "run", "--max-children", str(os.cpu_count() or 1)]
        subprocess.run(command, cwd=tree, env=environment, stdout=log, stderr=subprocess.STDOUT, check=False)
    total: Counter[int] = Counter()
    for file in sorted((tree / "mutants" / "speedchain").rglob("*.meta")):
        found = Counter(json.loads(file.read_text())["exit_code_by_key"].values())
        if found:
            total += found
            say(f"  {_score(found)}  {file.relative_to(tree / 'mutants').with_suffix('')}")
    if not total:
        say(f"  mutmut found nothing to change: see {copy / 'mutmut.log'}")
    say(f"  {_score(total)}  the core")


def _score(found: Counter[int]) -> str:
    tried = sum(found.values()) - found[NOT_REACHED]
    share = 100 * (tried - found[SURVIVED]) / tried if tried else 0.0
    return f"{share:5.1f} % of {tried:4d} killed, {found[NOT_REACHED]:3d} not reached"


def _front_end(copy: Path) -> None:
    step("Installing stryker (npm ci), beside the front end")
    for name in ("package.json", "package-lock.json"):
        shutil.copy2(STRYKER / name, copy / name)
    command, environment = npm("ci", "--no-audit", "--no-fund")
    run(command, "npm ci", cwd=copy, env=environment)
    there = copy / "tree" / "frontend"
    shutil.copy2(STRYKER / "stryker.config.json", there)
    (there / "node_modules").symlink_to(FRONTEND / "node_modules")
    step("stryker over editing and jobs")
    command, environment = npm("exec", "--offline", "--prefix", str(copy), "--", "stryker", "run")
    subprocess.run(command, cwd=there, env=environment, check=False)
