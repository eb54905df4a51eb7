"""`python -m wheelometron.processes --socket N`: what `./start` runs, two web processes and a worker.

The app is loaded once, while the database is being prepared; each process is then a fork of it, so that they share its
memory and one that ends is there again at once. It waits for a line on its standard input before it begins, and ends
with all of its processes when that input closes.
"""

from __future__ import annotations

import argparse
import asyncio
import gc
import os
import signal
import socket
import sys
import time
from collections.abc import Callable
from dataclasses import dataclass
from multiprocessing import connection, get_context
from multiprocessing.process import BaseProcess
from typing import Any

from wheelometron.parent import end_with

WEB_PROCESSES = 2
FIRST_WAIT_S = 0.5
MOST_FAILURES = 8
STEADY_S = 60.0
END_S = 10.0
forked: Any = get_context("fork")


@dataclass
class Member:
    """One process, and how often it ended soon after its start."""

    name: str
    run: Callable[[], None]
    process: BaseProcess | None = None
    failures: int = 0
    started_at: float = 0.0
    try_at: float = 0.0

    def start(self, alive: tuple[int, int]) -> None:
        """Fork it; it ends when the other end of the pipe `alive` closes, however its parent ends."""
        reading, writing = alive

        def run() -> None:
            os.close(writing)
            end_with(reading)
            for name in (signal.SIGINT, signal.SIGTERM):
                signal.signal(name, signal.SIG_DFL)
            self.run()

        self.started_at = time.monotonic()
        self.process = forked.Process(target=run, name=self.name)
        self.process.start()

    def ended(self) -> None:
        """Say that it ended; the first time it is started again at once, then after longer and longer waits."""
        if time.monotonic() - self.started_at > STEADY_S:
            self.failures = 0
        self.failures += 1
        if self.failures > MOST_FAILURES:
            sys.exit(f"The {self.name} ended {MOST_FAILURES} times in a row.")
        self.process = None
        wait_s = 0.0 if self.failures == 1 else FIRST_WAIT_S * 2 ** (self.failures - 2)
        self.try_at = time.monotonic() + wait_s
        print(f"· The {self.name} stopped; starting it again …", flush=True)


def load() -> None:
    """The app, its work, and what the first requests would wait for."""
    from django.db import connections

    from wheelometron.warm import warm_up
    from wheelometron.wsgi import application  # noqa: F401
    from workshop.queue import work  # noqa: F401

    warm_up()
    connections.close_all()
    gc.collect()
    gc.freeze()  # what is loaded stays; it is shared as long as nobody looks through it


def work_on() -> None:
    """Be a worker."""
    from workshop.queue import work

    asyncio.run(work())


def keep(members: list[Member]) -> None:
    """Keep all of them running."""
    alive = os.pipe()
    while True:
        now = time.monotonic()
        for one in members:
            if one.process is None and one.try_at <= now:
                one.start(alive)
        waits = [one.try_at - now for one in members if one.process is None]
        running = {one.process.sentinel: one for one in members if one.process is not None}
        for sentinel in connection.wait(list(running), timeout=max(0.0, min(waits)) if waits else None):
            running[sentinel].ended()  # type: ignore[index]


def end(members: list[Member]) -> None:
    """Ask all of them to end, and insist after a while."""
    processes = [one.process for one in members if one.process is not None]
    for process in processes:
        process.terminate()
    until = time.monotonic() + END_S
    for process in processes:
        process.join(max(0.0, until - time.monotonic()))
        if process.is_alive():
            process.kill()


def main() -> None:
    """Load, wait for the word, and keep the processes until asked to stop."""
    from wheelometron.serve import listen_on, prepare_process, serve

    parser = argparse.ArgumentParser()
    parser.add_argument("--socket", type=int, required=True, help="file number of the listening socket")
    listening: socket.socket = listen_on(parser.parse_args().socket)
    signal.signal(signal.SIGTERM, lambda *_: sys.exit(0))
    prepare_process()
    load()
    if not os.read(0, 1):
        return
    members = [
        *[Member(f"web process {number}", lambda: serve(listening)) for number in range(1, WEB_PROCESSES + 1)],
        Member("worker", work_on),
    ]
    end_with(0)
    try:
        keep(members)
    finally:
        end(members)


if __name__ == "__main__":
    main()
