"""`./start` as a person meets it: up, twice, a busy port, a killed database, a half-made set-up, and all gone after Ctrl-C."""

from __future__ import annotations

import os
import signal
import socket
import subprocess
import time
from pathlib import Path
from tempfile import TemporaryDirectory
from unittest import TestCase

from house.cluster import Cluster, free_port
from house.start import healthy
from house.steps import ROOT, wait_until

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
        wait_until(lambda: "Ctrl-C" in self.said() or self.process.poll() is not None, 90, "start")
        assert healthy(self.port), self.said()

    def end(self, how: int = signal.SIGINT) -> int:
        os.kill(self.process.pid, how)
        return self.process.wait(60)


class Start(TestCase):
    def setUp(self) -> None:
        folder = TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.home = Path(folder.name) / "data"
        self.addCleanup(lambda: Cluster.at(self.home).tidy())

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

        cluster = Cluster.at(self.home)
        cluster._program("pg_ctl", "kill", "QUIT", (cluster.files / "postmaster.pid").read_text().split()[0])
        wait_until(lambda: "starting it again" in first.said(), 30, "the watch")
        wait_until(lambda: healthy(first.port), 30, "the database")

        begun = first.process.pid
        self.assertEqual(first.end(), 0)
        self.assertIn("Stopped.", first.said())
        self.assertFalse(cluster.is_running())
        self.assertFalse(healthy(first.port))
        self.assertFalse(Path(f"/proc/{begun}").exists())

    def test_after_a_kill_and_a_half_made_set_up(self) -> None:
        Cluster.at(self.home).files.mkdir(parents=True, exist_ok=True)
        (Cluster.at(self.home).files / "half").touch()
        killed = self.start("--empty")
        killed.up()
        self.assertIn("owner.txt", killed.said())
        self.assertIn("password: ", (self.home / "owner.txt").read_text())
        killed.end(signal.SIGKILL)
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
        self.assertFalse(Cluster.at(self.home).is_running())
        done = subprocess.run([str(ROOT / "start"), "--help"], capture_output=True, text=True, env=CLEAN, check=True)
        for option in ("--port", "--data", "--empty"):
            self.assertIn(option, done.stdout)
