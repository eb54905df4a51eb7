"""Keep what `./start` runs alive: each part is started again when it ends, with back-off, until it truly cannot run."""

from __future__ import annotations

import contextlib
import os
import select
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
BACKLOG = 1024


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
    handle: int | None = None
    """Of its first process (pidfd): the kernel says at once when that has ended, without a look at all processes."""

    def is_running(self) -> bool:
        """Whether it runs."""
        return self.handle is not None and not select.select([self.handle], [], [], 0)[0]

    def start(self) -> None:
        """Start it, on the port it had."""
        self.cluster.start(self.cluster.port or None)
        if self.handle is not None:
            os.close(self.handle)
        self.handle = self.cluster.open_handle()

    def stop(self) -> None:
        """Stop it."""
        self.cluster.stop()


@dataclass
class Process:
    """A process of ours, with the sockets it listens on. It ends by itself when we do: its standard input closes."""

    name: str
    environment: dict[str, str]
    command: tuple[str, ...]
    listening: tuple[socket.socket, ...] = ()
    process: subprocess.Popen[bytes] | None = None

    @classmethod
    def web(cls, name: str, listening: socket.socket, environment: dict[str, str]) -> Process:
        """One web process on a socket."""
        command = (str(PYTHON), "-m", "wheelometron.serve", "--socket", str(listening.fileno()))
        return cls(f"web process {name}", environment, command, (listening,))

    @classmethod
    def app(cls, listening: socket.socket, environment: dict[str, str]) -> Process:
        """All web processes on a socket and a worker, in one that keeps them."""
        command = (str(PYTHON), "-m", "wheelometron.processes", "--socket", str(listening.fileno()))
        return cls("app", environment, command, (listening,))

    def is_running(self) -> bool:
        """Whether it runs; one that ended is collected here."""
        return self.process is not None and self.process.poll() is None

    def load(self) -> None:
        """Have it load what it needs; one that waits for the word begins with `start`."""
        self.process = subprocess.Popen(
            self.command,
            cwd=ROOT,
            env=self.environment,
            stdin=subprocess.PIPE,
            pass_fds=[one.fileno() for one in self.listening],
            start_new_session=True,
        )

    def start(self) -> None:
        """Start it, or give the word to one that is loaded."""
        if not self.is_running():
            self.load()
        assert self.process is not None
        assert self.process.stdin is not None
        with contextlib.suppress(BrokenPipeError):  # it has ended already, which the next look sees
            self.process.stdin.write(b"\n")
            self.process.stdin.flush()

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
                    f"The {self.part.name} ended {MOST_FAILURES} times in a row and cannot be kept running. "
                    f"{self.last_error}"
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


def open_socket(port: int, address: str = "127.0.0.1") -> socket.socket:
    """A socket that processes share, taken before the set-up so that nobody else takes it meanwhile; of port 0, a free
    one."""
    listening = socket.socket()
    try:
        listening.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
        listening.bind((address, port))
        listening.listen(BACKLOG)  # from now on nobody else can take it; who comes early waits
    except OSError:
        listening.close()
        raise
    return listening
