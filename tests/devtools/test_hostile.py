"""Slow, silent and endless senders against a real `./start`: others go on being served, and the senders are let go."""

from __future__ import annotations

import contextlib
import socket
import time
import urllib.error
import urllib.request
from pathlib import Path
from tempfile import TemporaryDirectory
from unittest import TestCase

from devtools.cluster import Cluster
from tests.devtools.test_start import Started, web_pids
from wheelometron.serve import REQUEST_S

HEAD = (
    b"POST /api/session HTTP/1.1\r\nHost: 127.0.0.1\r\nContent-Type: application/json\r\nContent-Length: 4000\r\n\r\n"
)


def memory_mb(number: int) -> float:
    status = Path(f"/proc/{number}/status").read_text()
    return int(next(line for line in status.splitlines() if line.startswith("VmRSS")).split()[1]) / 1024


class Hostile(TestCase):
    def setUp(self) -> None:
        folder = TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        home = Path(folder.name) / "data"
        self.server = Started(home, "--empty")
        self.addCleanup(lambda: Cluster.at(home).remove())
        self.addCleanup(self.server.end)
        self.server.up()

    def open(self, first: bytes) -> socket.socket:
        sender = socket.create_connection(("127.0.0.1", self.server.port), timeout=10)
        self.addCleanup(sender.close)
        sender.sendall(first)
        return sender

    def answered_within(self, seconds: float) -> None:
        began = time.monotonic()
        with urllib.request.urlopen(f"http://127.0.0.1:{self.server.port}/api/health", timeout=30) as answer:
            self.assertEqual(answer.status, 200)
        self.assertLess(time.monotonic() - began, seconds)

    def test_others_are_served_and_senders_let_go(self) -> None:
        for _ in range(8):  # each web process makes the description once, which takes seconds on a busy machine
            with urllib.request.urlopen(f"http://127.0.0.1:{self.server.port}/api/openapi.json", timeout=60) as answer:
                self.assertEqual(answer.status, 200)
        silent = [self.open(b"GET /api/hea") for _ in range(40)]
        dripping = [self.open(HEAD) for _ in range(64)]
        unread = [self.open(b"GET /api/openapi.json HTTP/1.1\r\nHost: 127.0.0.1\r\n\r\n" * 50) for _ in range(8)]
        began = time.monotonic()
        while time.monotonic() - began < REQUEST_S + 6:
            for sender in dripping:
                with contextlib.suppress(OSError):
                    sender.sendall(b" ")
            self.answered_within(20)
            time.sleep(1)
        for sender in silent + dripping:
            sender.settimeout(5)
            with contextlib.suppress(ConnectionError):
                while sender.recv(4096):
                    pass  # the answer of the time-out, if any; then the end
        self.assertEqual(len(unread), 8)

    def test_a_body_that_is_too_large_is_not_waited_for(self) -> None:
        sender = self.open(HEAD.replace(b"4000", b"900000000"))
        sender.settimeout(5)
        answer = sender.recv(4096)
        self.assertIn(b"413", answer.split(b"\r\n")[0])
        self.assertIn(b"application/problem+json", answer)

    def test_wide_bodies_leave_the_workers_small(self) -> None:
        wide = b'{"k":0,' * 57_000
        for path in ("session", "evaluate") * 10:
            request = urllib.request.Request(
                f"http://127.0.0.1:{self.server.port}/api/{path}", wide, {"Content-Type": "application/json"}
            )
            with self.assertRaises(urllib.error.HTTPError) as caught:
                urllib.request.urlopen(request, timeout=10)
            self.assertIn(caught.exception.code, (401, 403, 413))
        for number in web_pids(self.server.process.pid):
            self.assertLess(memory_mb(number), 400)
