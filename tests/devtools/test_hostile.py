"""Slow, silent and endless senders against a real `./start`: others go on being served, and the senders are let go."""

from __future__ import annotations

import contextlib
import socket
import ssl
import time
import urllib.error
import urllib.request
from pathlib import Path
from tempfile import TemporaryDirectory
from typing import ClassVar
from unittest import TestCase

from devtools.cluster import Cluster
from tests.devtools.test_lan import lan_port
from tests.devtools.test_start import Started, serving
from wheelometron.lan.certificates import AUTHORITY

REQUEST_S = 20

HEAD = (
    b"POST /api/session HTTP/1.1\r\nHost: 127.0.0.1\r\nContent-Type: application/json\r\nContent-Length: 4000\r\n\r\n"
)
LARGE = (
    b"PUT /api/sheets/1/photos/look/abcdefgh HTTP/1.1\r\nHost: 127.0.0.1\r\nCookie: __Host-sessionid=guessed\r\n"
    b"Content-Type: application/octet-stream\r\nContent-Length: 14000000\r\n\r\n"
)
MOST_OF_A_PHOTO = bytes(1_000_000)


def memory_mb(number: int) -> float:
    status = Path(f"/proc/{number}/status").read_text()
    return int(next(line for line in status.splitlines() if line.startswith("VmRSS")).split()[1]) / 1024


class HostileCase(TestCase):
    """A running app that strangers reach, and how they do."""

    options: ClassVar[tuple[str, ...]] = ()

    server: ClassVar[Started]

    @classmethod
    def setUpClass(cls) -> None:
        """One app for all of them: what one stranger does must not tell on the next."""
        super().setUpClass()
        folder = TemporaryDirectory()
        cls.addClassCleanup(folder.cleanup)
        home = Path(folder.name) / "data"
        cls.server = Started(home, "--empty", *cls.options)
        cls.addClassCleanup(lambda: Cluster.at(home).remove())
        cls.addClassCleanup(cls.server.end)
        cls.server.up()

    def connected(self) -> socket.socket:
        return socket.create_connection(("127.0.0.1", self.server.port), timeout=10)

    def open(self, first: bytes) -> socket.socket:
        sender = self.connected()
        self.addCleanup(sender.close)
        with contextlib.suppress(OSError):  # it may be refused before all is sent
            sender.sendall(first)
        return sender

    def answer(self, path: str = "/api/health") -> bytes:
        """One answer, whole, as somebody else gets it."""
        with self.connected() as person:
            person.settimeout(90)
            person.sendall(f"GET {path} HTTP/1.1\r\nHost: 127.0.0.1\r\nConnection: close\r\n\r\n".encode())
            parts = []
            while part := person.recv(65_536):
                parts.append(part)
        return b"".join(parts)

    def answered_within(self, seconds: float) -> None:
        began = time.monotonic()
        self.assertIn(b" 200 ", self.answer().split(b"\r\n")[0])
        self.assertLess(time.monotonic() - began, seconds)

    def let_go(self, sender: socket.socket) -> None:
        """The answer of the time-out, if any; then the end."""
        sender.settimeout(10)
        with contextlib.suppress(ConnectionError, ssl.SSLError):
            while sender.recv(65_536):
                pass


class Hostile(HostileCase):
    def test_others_are_served_and_senders_let_go(self) -> None:
        for _ in range(8):  # each web process makes the description once, which takes seconds on a busy machine
            self.answer("/api/openapi.json")
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
            self.let_go(sender)
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
        for number in serving(self.server.process.pid):
            self.assertLess(memory_mb(number), 400)


class HostileOverTls(HostileCase):
    """The same promise for whoever is in the local network: nginx before the web process."""

    options = ("--lan", "127.0.0.1", "--lan-port", "0")

    def connected(self) -> socket.socket:
        context = ssl.create_default_context(cafile=str(self.server.home / "tls" / AUTHORITY))
        context.set_alpn_protocols(["h2", "http/1.1"])
        plain = socket.create_connection(("127.0.0.1", lan_port(self.server)), timeout=20)
        return context.wrap_socket(plain, server_hostname="127.0.0.1")

    def test_others_are_served_and_strangers_let_go(self) -> None:
        self.answer("/api/openapi.json")
        # as many as one device may hold: they drip, ask and do not read, say nothing
        dripping = [self.open(HEAD) for _ in range(15)]
        unread = [self.open(b"GET /api/openapi.json HTTP/1.1\r\nHost: 127.0.0.1\r\n\r\n" * 20) for _ in range(10)]
        silent = [self.open(b"GET /api/hea") for _ in range(200)]
        began = time.monotonic()
        while time.monotonic() - began < REQUEST_S + 6:
            for sender in dripping:
                with contextlib.suppress(OSError):
                    sender.sendall(b" ")
            self.answered_within(10)
            time.sleep(1)
        for sender in silent + dripping:
            self.let_go(sender)
        for sender in unread:  # its answers that nobody read are not kept
            self.let_go(sender)

    def test_bodies_of_strangers_are_refused_before_they_are_taken(self) -> None:
        senders = [self.open(LARGE + MOST_OF_A_PHOTO) for _ in range(35)]
        self.answered_within(10)
        for number in serving(self.server.process.pid):
            self.assertLess(memory_mb(number), 400)
        for sender in senders:
            sender.settimeout(10)
            with contextlib.suppress(ConnectionError, ssl.SSLError):
                first = sender.recv(65_536)
                self.assertIn(b" 401 ", first.split(b"\r\n")[0])

    def test_too_many_at_once_from_one_device(self) -> None:
        held = [self.open(HEAD) for _ in range(60)]
        refused = []
        for sender in held[45:]:
            sender.settimeout(10)
            refused.append(sender.recv(4096).split(b"\r\n")[0])
        self.assertTrue(all(b" 429 " in line for line in refused), refused)

    def test_there_is_no_http_2_with_windows_to_be_kept_shut(self) -> None:
        with self.connected() as line:
            assert isinstance(line, ssl.SSLSocket)
            self.assertEqual(line.selected_alpn_protocol(), "http/1.1")
