"""`./start` as a person meets it: up, twice, a busy port, a killed database, a half-made set-up, and all gone after Ctrl-C."""

from __future__ import annotations

import contextlib
import os
import signal
import socket
import subprocess
import time
from pathlib import Path
from tempfile import TemporaryDirectory
from unittest import TestCase

from devtools.cluster import Cluster, free_port, server_pids
from devtools.datafolder import DataFolder
from devtools.start import healthy
from devtools.steps import ROOT, wait_until

CLEAN = {name: value for name, value in os.environ.items() if not name.startswith(("WHEELOMETRON", "DJANGO"))}


class Started:
    """One running `./start` with its own data folder."""

    def __init__(self, home: Path, *options: str) -> None:
        self.home, self.port = home, free_port()
        self.log = home.parent / f"{time.monotonic_ns()}.log"
        command = [str(ROOT / "start"), "--data", str(home), "--port", str(self.port), *options]
        with self.log.open("w") as log:
            self.process = subprocess.Popen(command, stdout=log, stderr=log, env=CLEAN, start_new_session=True)

    def said(self) -> str:
        return self.log.read_text()

    def up(self) -> None:
        wait_until(lambda: "Ctrl-C" in self.said() or self.process.poll() is not None, 180, "start")
        assert healthy(self.port), self.said()

    def end(self, how: int = signal.SIGINT) -> int:
        os.kill(self.process.pid, how)
        return self.process.wait(60)


def web_pids(start: int) -> list[int]:
    """The web processes of a `./start`."""
    children = Path(f"/proc/{start}/task/{start}/children").read_text().split()
    return [int(one) for one in children if b"wheelometron.serve" in Path(f"/proc/{one}/cmdline").read_bytes()]


class Start(TestCase):
    def setUp(self) -> None:
        folder = TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.home = Path(folder.name) / "data"
        self.addCleanup(self.remove_database)

    def remove_database(self) -> None:
        if (self.home / "data.json").exists():
            Cluster.at(self.home).remove()

    def start(self, *options: str) -> Started:
        started = Started(self.home, *options)
        self.addCleanup(lambda: started.process.poll() is None and started.end())
        return started

    def test_a_life(self) -> None:
        first = self.start()
        first.up()
        self.assertIn(f"http://127.0.0.1:{first.port}/", first.said())
        self.assertIn("Open the demo workshop", first.said())

        twice = self.start()
        self.assertEqual(twice.process.wait(60), 0)
        self.assertIn(f"Already running at http://127.0.0.1:{first.port}/", twice.said())

        begun = first.process.pid
        self.assertEqual(first.end(), 0)
        self.assertIn("Stopped.", first.said())
        self.assertFalse(Cluster.at(self.home).is_running())
        self.assertFalse(healthy(first.port))
        self.assertFalse(Path(f"/proc/{begun}").exists())

    def test_database_and_web_processes_killed_come_back(self) -> None:
        running = self.start("--empty")
        running.up()
        cluster = Cluster.at(self.home)
        for again in range(2):  # the second time while it recovers from the first
            wait_until(lambda: bool(server_pids(cluster.files)), 30, "the database")
            os.kill(server_pids(cluster.files)[0], signal.SIGKILL)
            wait_until(lambda: running.said().count("database stopped") > again, 30, "the watch")  # noqa: B023
        wait_until(lambda: healthy(running.port), 60, "the database")
        for number in web_pids(running.process.pid):
            os.kill(number, signal.SIGKILL)
        wait_until(lambda: "web process 2 stopped; starting it again" in running.said(), 30, "the watch")
        wait_until(lambda: healthy(running.port), 60, "the web processes")
        self.assertEqual(running.end(), 0)

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
        web = web_pids(killed.process.pid)
        killed.end(signal.SIGKILL)
        for number in server_pids(files)[:1] + web:
            with contextlib.suppress(ProcessLookupError):
                os.kill(number, signal.SIGKILL)
        again = self.start("--empty")
        again.up()
        self.assertFalse(healthy(killed.port), "the server left behind was not ended")
        self.assertEqual(again.end(signal.SIGTERM), 0)

    def test_start_killed_takes_the_web_processes_along(self) -> None:
        killed = self.start("--empty")
        killed.up()
        killed.end(signal.SIGKILL)
        wait_until(lambda: not healthy(killed.port), 20, "the web processes")
        Cluster.at(self.home).stop()

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
