"""`./start` as a person meets it: up, twice, a busy port, a killed database, a half-made set-up, and all gone after
Ctrl-C."""

from __future__ import annotations

import contextlib
import http.client
import json
import os
import re
import signal
import socket
import subprocess
import time
from http.cookies import SimpleCookie
from pathlib import Path
from tempfile import TemporaryDirectory
from typing import Any
from unittest import TestCase

from devtools.cluster import Cluster, server_pids
from devtools.datafolder import DataFolder
from devtools.start import healthy
from devtools.steps import ROOT, wait_until

CLEAN = {name: value for name, value in os.environ.items() if not name.startswith(("WHEELOMETRON", "DJANGO"))}


class Started:
    """One running `./start` with its own data folder."""

    def __init__(self, home: Path, *options: str, port: int | None = None) -> None:
        self.home = home
        self.log = home.parent / f"{time.monotonic_ns()}.log"
        command = [str(ROOT / "start"), "--data", str(home), "--port", str(port or 0), *options]
        with self.log.open("w") as log:
            self.process = subprocess.Popen(command, stdout=log, stderr=log, env=CLEAN, start_new_session=True)

    def said(self) -> str:
        return self.log.read_text()

    @property
    def port(self) -> int:
        """The port that it took."""
        found = re.search(r"(?:is at|running at) http://127\.0\.0\.1:(\d+)/", self.said())
        assert found is not None, self.said()
        return int(found[1])

    def up(self) -> None:
        wait_until(lambda: "Ctrl-C" in self.said() or self.process.poll() is not None, 180, "start")
        wait_until(lambda: healthy(self.port), 60, "the app")

    def end(self, how: int = signal.SIGINT) -> int:
        os.kill(self.process.pid, how)
        return self.process.wait(60)


def children(of: int, module: bytes) -> list[int]:
    """The processes that one started and that run a module."""
    found = Path(f"/proc/{of}/task/{of}/children").read_text().split()
    return [int(one) for one in found if module in Path(f"/proc/{one}/cmdline").read_bytes()]


def keeper(start: int) -> int:
    """Of a `./start` the process that keeps web processes and worker."""
    (found,) = children(start, b"wheelometron.processes")
    return found


def kept(start: int) -> list[int]:
    """Its web processes and its worker."""
    return children(keeper(start), b"wheelometron.processes")


def serving(start: int) -> list[int]:
    """All processes of a `./start` that answer or work: of loopback, of the local network, the worker."""
    return [*kept(start), *children(start, b"wheelometron.serve")]


class Person:
    """Somebody who uses the API of a running app, with cookies."""

    def __init__(self, port: int) -> None:
        self.port, self.cookies = port, SimpleCookie()
        self.ask("GET", "/api/session")

    def ask(self, method: str, path: str, body: object = None) -> Any:
        line = http.client.HTTPConnection("127.0.0.1", self.port, timeout=30)
        headers = {"Cookie": "; ".join(f"{one.key}={one.value}" for one in self.cookies.values())}
        raw = isinstance(body, bytes)
        if body is not None:
            headers["Content-Type"] = "application/octet-stream" if raw else "application/json"
            headers["X-CSRFToken"] = self.cookies["csrftoken"].value
        line.request(method, path, body if raw or body is None else json.dumps(body), headers)  # type: ignore[arg-type]
        answer = line.getresponse()
        for value in answer.headers.get_all("Set-Cookie") or []:
            self.cookies.load(value)
        text = answer.read()
        line.close()
        return json.loads(text) if text else None


class StartCase(TestCase):
    """A data folder of its own, and what is started with it."""

    def setUp(self) -> None:
        folder = TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.home = Path(folder.name) / "data"
        self.addCleanup(self.remove_database)

    def remove_database(self) -> None:
        if (self.home / "data.json").exists():
            Cluster.at(self.home).remove()

    def start(self, *options: str, port: int | None = None) -> Started:
        started = Started(self.home, *options, port=port)
        self.addCleanup(lambda: started.process.poll() is None and started.end())
        return started


def head_of(cluster: Cluster) -> int:
    """The first process of a database that runs, which the others of one that was killed outlive for a moment; or 0."""
    try:
        found = int((cluster.files / "postmaster.pid").read_text().split()[0])
    except (OSError, ValueError, IndexError):
        return 0
    return found if found in server_pids(cluster.files) else 0


class Start(StartCase):
    def test_a_life(self) -> None:
        """Started, started twice, its database and its web processes killed, and ended."""
        first = self.start()
        first.up()
        self.assertIn(f"http://127.0.0.1:{first.port}/", first.said())
        self.assertIn("Open the demo workshop", first.said())

        twice = self.start()
        self.assertEqual(twice.process.wait(60), 0)
        self.assertIn(f"Already running at http://127.0.0.1:{first.port}/", twice.said())

        cluster = Cluster.at(self.home)
        killed = 0
        for again in range(2):  # the second time while it recovers from the first
            wait_until(lambda: head_of(cluster) not in (0, killed), 30, "the database")  # noqa: B023
            killed = head_of(cluster)
            os.kill(killed, signal.SIGKILL)
            wait_until(lambda: first.said().count("database stopped") > again, 60, "the watch")  # noqa: B023
        wait_until(lambda: healthy(first.port), 60, "the database")
        begun = kept(first.process.pid)
        self.assertEqual(len(begun), 3)
        for number in begun:
            os.kill(number, signal.SIGKILL)
        for name in ("web process 2", "worker"):
            wait_until(lambda: f"{name} stopped; starting it again" in first.said(), 30, "the watch")  # noqa: B023
        wait_until(lambda: healthy(first.port), 60, "the web processes")
        begun = kept(first.process.pid)
        os.kill(keeper(first.process.pid), signal.SIGKILL)
        wait_until(lambda: "app stopped; starting it again" in first.said(), 30, "the watch")
        wait_until(lambda: healthy(first.port), 60, "the web processes")
        for number in begun:
            self.assertFalse(Path(f"/proc/{number}").exists(), "it outlived the one that kept it")

        begun = first.process.pid
        self.assertEqual(first.end(), 0)
        self.assertIn("Stopped.", first.said())
        self.assertFalse(Cluster.at(self.home).is_running())
        self.assertFalse(healthy(first.port))
        self.assertFalse(Path(f"/proc/{begun}").exists())


class KilledAtWork(StartCase):
    def test_work_under_way_outlives_database_web_and_worker(self) -> None:
        """A long recording is being read when each of them is killed; it is read to its end, once."""
        running = self.start()
        running.up()
        person = Person(running.port)
        person.ask("POST", "/api/session/demo", {})
        vehicle = person.ask("GET", "/api/vehicles")["vehicles"][0]["id"]
        rows = 1_500_000
        data = b"time,gps km/h,dash km/h\n" + b"".join(b"%.2f,%d,%d\n" % (at / 100, 60, 61) for at in range(rows))
        path = f"/api/vehicles/{vehicle}/recordings"
        recording = person.ask("POST", path, {"name": "long.csv", "size_bytes": len(data)})["id"]
        path = f"/api/recordings/{recording}"
        for number, begin in enumerate(range(0, len(data), 1_000_000)):
            person.ask("PUT", f"{path}/pieces/{number}", data[begin : begin + 1_000_000])
        person.ask("POST", f"{path}/read", {})
        for number in [keeper(running.process.pid), *kept(running.process.pid)]:
            os.kill(number, signal.SIGKILL)
        os.kill(server_pids(Cluster.at(self.home).files)[0], signal.SIGKILL)

        def done() -> bool:
            with contextlib.suppress(OSError, http.client.HTTPException, KeyError):
                return bool(person.ask("GET", path)["recording"]["state"] == "ready")
            return False

        wait_until(done, 120, "the reading")
        shown = person.ask("GET", path)["recording"]
        self.assertEqual([channel["samples"] for channel in shown["channels"]], [rows, rows])
        self.assertEqual(running.end(), 0)


class Killed(StartCase):
    def test_everything_killed_and_an_interrupted_set_up(self) -> None:
        folder = DataFolder.open(self.home)
        folder.claim_unfinished()
        folder.unfinished.mkdir()
        (folder.unfinished / "half").touch()
        killed = self.start("--empty")
        killed.up()
        self.assertIn("owner.txt", killed.said())
        self.assertIn("password: ", (self.home / "owner.txt").read_text())
        files = Cluster.at(self.home).files
        killed.end(signal.SIGKILL)
        wait_until(lambda: not healthy(killed.port), 20, "the web processes, which end with it")
        os.kill(server_pids(files)[0], signal.SIGKILL)
        again = self.start("--empty")
        again.up()
        self.assertFalse(healthy(killed.port), "the server left behind was not ended")
        self.assertEqual(again.end(signal.SIGTERM), 0)

    def test_a_busy_port_and_a_wrong_option(self) -> None:
        with socket.socket() as busy:
            busy.bind(("127.0.0.1", 0))
            busy.listen()
            done = subprocess.run(
                [str(ROOT / "start"), "--data", str(self.home), "--port", str(busy.getsockname()[1])],
                capture_output=True, text=True, env=CLEAN, check=False, timeout=120,
            )  # fmt: skip
        self.assertEqual(done.returncode, 1)
        self.assertIn("is in use. Choose another with --port", done.stderr)
        self.assertEqual([file.name for file in self.home.iterdir()], ["lock"], "something was set up before the check")
        done = subprocess.run([str(ROOT / "start"), "--help"], capture_output=True, text=True, env=CLEAN, check=True)
        for option in ("--port", "--data", "--empty"):
            self.assertIn(option, done.stdout)
