"""Keep what `./start` runs alive: each part is started again when it ends, with back-off, until it truly cannot run."""

from __future__ import annotations

import signal
import socket
import subprocess
import time
from collections.abc import Callable
from dataclasses import dataclass
from typing import Protocol

from devtools.cluster import Cluster
from devtools.steps import PYTHON, ROOT, SetupError, say

FIRST_WAIT_S = 0.5
LONGEST_WAIT_S = 15.0
MOST_FAILURES = 12
STEADY_S = 60.0
WEB_PROCESSES = 2


class Part(Protocol):
    """Something that runs beside us: the database, or a web process."""

    name: str

    def is_running(self) -> bool:
        """Whether it runs."""

    def start(self) -> None:
        """Start it; raises `SetupError` when it does not come up."""

    def stop(self) -> None:
        """Stop it in order."""


@dataclass
class Database:
    """The database server, always on the same port."""

    cluster: Cluster
    name: str = "database"

    def is_running(self) -> bool:
        """Whether it runs."""
        return self.cluster.is_running()

    def start(self) -> None:
        """Start it, on the port it had."""
        self.cluster.start(self.cluster.port or None)

    def stop(self) -> None:
        """Stop it."""
        self.cluster.stop()


@dataclass
class Process:
    """A process of ours. It ends by itself when we do: its standard input closes."""

    name: str
    environment: dict[str, str]
    module: str
    listening: socket.socket | None = None
    arguments: tuple[str, ...] = ()
    process: subprocess.Popen[bytes] | None = None

    @classmethod
    def web(cls, number: int, listening: socket.socket, environment: dict[str, str]) -> Process:
        """One web process on the common socket."""
        return cls(f"web process {number}", environment, "wheelometron.serve", listening)

    @classmethod
    def worker(cls, environment: dict[str, str]) -> Process:
        """One worker of the queue."""
        return cls("worker", environment, "wheelometron.worker")

    @classmethod
    def lan(cls, arguments: tuple[str, ...], environment: dict[str, str]) -> Process:
        """The web process for the local network."""
        return cls("web process for the local network", environment, "wheelometron.lan.serve", arguments=arguments)

    def is_running(self) -> bool:
        """Whether it runs; one that ended is collected here."""
        return self.process is not None and self.process.poll() is None

    def start(self) -> None:
        """Start it."""
        files = () if self.listening is None else (self.listening.fileno(),)
        command = [str(PYTHON), "-m", self.module, *[part for file in files for part in ("--socket", str(file))]]
        command += self.arguments
        self.process = subprocess.Popen(
            command, cwd=ROOT, env=self.environment, stdin=subprocess.PIPE, pass_fds=files, start_new_session=True
        )

    def stop(self) -> None:
        """Ask it to end; insist after a while."""
        if self.process is None or self.process.poll() is not None:
            return
        self.process.send_signal(signal.SIGTERM)
        try:
            self.process.wait(10)
        except subprocess.TimeoutExpired:
            self.process.kill()
            self.process.wait()


@dataclass
class Watch:
    """One part under watch: when to try again, and how often it failed in a row."""

    part: Part
    now: Callable[[], float] = time.monotonic
    failures: int = 0
    started_at: float = 0.0
    try_at: float | None = None
    last_error: str = ""

    def start(self) -> None:
        """Start the part the first time."""
        self.started_at = self.now()
        self.part.start()

    def look(self) -> None:
        """Start the part again if it ended and its wait is over. Raises `SetupError` when it failed too often."""
        if self.part.is_running():
            if self.failures and self.now() - self.started_at > STEADY_S:
                self.failures = 0
            self.try_at = None
            return
        if self.try_at is None:
            self.failures += 1
            if self.failures > MOST_FAILURES:
                raise SetupError(
                    f"The {self.part.name} ended {MOST_FAILURES} times in a row and cannot be kept running. {self.last_error}"
                )
            wait = 0.0 if self.failures == 1 else min(FIRST_WAIT_S * 2 ** (self.failures - 2), LONGEST_WAIT_S)
            self.try_at = self.now() + wait
            say(f"· The {self.part.name} stopped; starting it again" + (f" in {wait:g} s …" if wait else " …"))
        if self.now() < self.try_at:
            return
        self.try_at = None
        self.started_at = self.now()
        try:
            self.part.start()
        except SetupError as error:
            self.last_error = str(error)
            say(f"  The {self.part.name} did not start: {self.last_error.strip().splitlines()[-1][:200]}")


def open_socket(port: int) -> socket.socket:
    """The socket that all web processes share, taken before the set-up so that nobody else takes it meanwhile."""
    listening = socket.socket()
    listening.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
    listening.bind(("127.0.0.1", port))
    return listening
