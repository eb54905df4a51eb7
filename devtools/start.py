"""`./start`: set up, start the database and the server, keep them running until Ctrl-C."""

from __future__ import annotations

import argparse
import fcntl
import shutil
import signal
import socket
import subprocess
import sys
import time
import urllib.request
from pathlib import Path
from typing import IO

from devtools.cluster import Cluster
from devtools.datafolder import DataFolder, check_folder
from devtools.lan import ANY, Lan
from devtools.lan import DEFAULT_PORT as LAN_PORT
from devtools.steps import (
    PYTHON,
    ROOT,
    SetupError,
    debian_packages,
    front_end,
    postgres_bin,
    python_packages,
    say,
    step,
    wait_until,
)
from devtools.supervise import Database, Process, Watch, open_socket

DEFAULT_PORT = 8417
LOOK_EVERY_S = 0.5


def options() -> argparse.Namespace:
    """The options of `./start`."""
    parser = argparse.ArgumentParser(
        prog="./start", description="Set up Wheelometron and serve it on this machine. Ctrl-C stops all it started."
    )
    parser.add_argument(
        "--port", type=int, help=f"port on 127.0.0.1 (default {DEFAULT_PORT}, or the next free one; 0: any)"
    )
    parser.add_argument("--data", type=Path, default=ROOT / ".wheelometron", help="data folder (default .wheelometron)")
    parser.add_argument("--empty", action="store_true", help="start with an empty workshop instead of demo data")
    parser.add_argument(
        "--lan",
        nargs="?",
        const=ANY,
        metavar="ADDRESS",
        help="serve phones of the local network as well, over TLS, at this private address of the machine or at all",
    )
    parser.add_argument(
        "--lan-port", type=int, default=LAN_PORT, help=f"its port; the next one is used too ({LAN_PORT}; 0: any)"
    )
    parser.add_argument("--lan-demo", action="store_true", help="let phones open the demo workshop without a link")
    asked = parser.parse_args()
    if asked.lan_port and not 1024 <= asked.lan_port < 65535:
        parser.error("--lan-port takes 1024 to 65534, or 0 for any")
    if asked.port and not 1024 <= asked.port <= 65535:
        parser.error("--port takes 1024 to 65535, or 0 for any")
    return asked


def choose_port(asked: int | None) -> socket.socket:
    """A socket on the port asked for, or on the first free one from the default on; it is held from here on."""
    if asked is not None:
        try:
            return open_socket(asked)
        except OSError as error:
            raise SetupError(f"Port {asked} is in use. Choose another with --port, or leave --port out.") from error
    for port in range(DEFAULT_PORT, DEFAULT_PORT + 50):
        try:
            listening = open_socket(port)
        except OSError:
            continue
        if port != DEFAULT_PORT:
            say(f"  Port {DEFAULT_PORT} is in use; using {port}.")
        return listening
    raise SetupError("No free port found. Choose one with --port.")


def lock(home: Path) -> IO[str] | None:
    """The lock on a data folder, or None when another `./start` holds it."""
    home.mkdir(parents=True, exist_ok=True)
    file = (home / "lock").open("a+")
    try:
        fcntl.flock(file, fcntl.LOCK_EX | fcntl.LOCK_NB)
    except OSError:
        file.close()
        return None
    return file


def healthy(port: int) -> bool:
    """Whether the app and its database answer."""
    try:
        with urllib.request.urlopen(f"http://127.0.0.1:{port}/api/health", timeout=2) as answer:
            return bool(answer.status == 200)
    except OSError:
        return False


def launch(asked: argparse.Namespace, home: Path, listening: socket.socket, held: IO[str]) -> None:
    """Everything after the set-up, with an orderly end."""
    database = Database(Cluster.at(home))
    watches: list[Watch] = [Watch(database)]
    try:
        step("Starting the database")
        start_patiently(database)
        environment = database.cluster.environment() | {"WHEELOMETRON_DEMO": "0" if asked.empty else "1"}
        lan = None if asked.lan is None else Lan.prepare(home, asked.lan, asked.lan_port)
        if lan is not None:
            environment |= lan.common()
        step("Preparing tables" + ("" if asked.empty else " and demo data"))
        app = Process.app(listening, environment)
        watch = Watch(app)
        watches.append(watch)
        app.load()  # beside the tables, which takes as long
        prepare = [
            str(PYTHON),
            "manage.py",
            "prepare",
            *(["--owner-file", str(home / "owner.txt")] if asked.empty else []),
        ]
        done = subprocess.run(prepare, cwd=ROOT, env=environment, check=False)
        if done.returncode != 0:
            raise SetupError("The tables could not be prepared.")
        step("Starting the server")
        port = listening.getsockname()[1]
        watch.start()
        if lan is not None:
            for process in lan.processes(environment, demo=asked.lan_demo and not asked.empty):
                watches.append(Watch(process))
                watches[-1].start()
        wait_until(lambda: healthy(port), 120, "The server")
        address = f"http://127.0.0.1:{port}/"
        held.seek(0)
        held.truncate()
        held.write(address)
        held.flush()
        say(f"\nWheelometron is at {address}")
        say(
            f"Sign in with the name and password in {home / 'owner.txt'}."
            if asked.empty
            else "Press “Open the demo workshop” to sign in."
        )
        if lan is not None:
            lan.say(environment)
        say("Ctrl-C stops it.")
        while True:
            time.sleep(LOOK_EVERY_S)
            for watch in watches:
                watch.look()
    finally:
        for name in (signal.SIGINT, signal.SIGTERM):
            signal.signal(name, signal.SIG_IGN)
        for watch in reversed(watches):
            watch.part.stop()
        say("Stopped.")


def start_patiently(database: Database) -> None:
    """Start the database; the last processes of one that was killed may need a moment to end."""
    for last in (False, False, True):
        try:
            database.start()
            return
        except SetupError:
            if last:
                raise
            time.sleep(2)


def stop(*_: object) -> None:
    """Treat a request to end like Ctrl-C."""
    raise KeyboardInterrupt


def main() -> int:
    """Set up and serve; 0 after Ctrl-C, 1 with one clear message when something is in the way."""
    asked = options()
    signal.signal(signal.SIGTERM, stop)
    home = asked.data.resolve()
    try:
        check_folder(home)
        held = lock(home)
        if held is None:
            say(f"Already running at {(home / 'lock').read_text() or 'an address it will print shortly'}")
            return 0
        listening = choose_port(asked.port)
        debian_packages(
            {
                "postgresql": postgres_bin() is not None,
                "nginx-light": asked.lan is None or shutil.which("nginx") is not None,
            }
        )
        DataFolder.open(home)
        python_packages("run")
        front_end()
        launch(asked, home, listening, held)
    except KeyboardInterrupt:
        return 0
    except SetupError as error:
        print(f"\n{error}", file=sys.stderr)
        return 1
    return 0


if __name__ == "__main__":
    sys.exit(main())
