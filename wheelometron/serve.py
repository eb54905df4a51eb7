"""`python -m wheelometron.serve --socket N`: one web process, with waitress, on a socket that `./start` opened.

waitress reads a request whole before a thread works on it, so that slow senders cost memory and not threads.
Two limits are ours: a request must be complete within `REQUEST_S` of its first byte (by default the time starts anew
with every byte), and refusals are problem details. The process ends when its standard input closes: with `./start`.
"""

from __future__ import annotations

import argparse
import json
import logging
import resource
import signal
import socket
import sys
import threading
import time
from typing import Any

from django.conf import settings
from waitress.channel import HTTPChannel
from waitress.server import create_server
from waitress.task import ErrorTask

from wheelometron.parent import end_with
from wheelometron.warm import warm_up

THREADS = 4
REQUEST_S = 20
CONNECTIONS = 800
AT_ONCE = 4
OPEN_FILES = 4096
TITLES = {400: "Bad request", 413: "Too large", 431: "Too large", 500: "Server error", 501: "Not supported"}


class ProblemTask(ErrorTask):
    """A refusal before the app sees the request, as problem details (RFC 9457)."""

    def execute(self) -> None:
        """Write it."""
        error: Any = self.request.error  # type: ignore[attr-defined]
        body = json.dumps({
            "type": "about:blank", "title": TITLES.get(error.code, "Error"), "status": error.code,
            "detail": f"{error.reason}: {error.body}.", "problems": [],
        }).encode()  # fmt: skip
        self.status = f"{error.code} {error.reason}"
        self.response_headers = [("Content-Type", "application/problem+json")]
        self.set_close_on_finish()
        self.content_length = len(body)
        self.write(body)


class Channel(HTTPChannel):
    """A connection whose time runs from the first byte of a request, or from its opening."""

    error_task_class = ProblemTask
    begun_at: float | None = None
    requests_lock: threading.Lock

    def handle_read(self) -> None:
        """Read on; the time of an unfinished request does not start anew."""
        if self.request is None:
            self.begun_at = time.time()
        super().handle_read()
        if self.request is not None and self.begun_at is not None:
            self.last_activity = self.begun_at

    def received(self, data: bytes) -> bool:
        """Take in what was read. Of many requests sent at once only the first few are answered, then it ends: their
        answers would pile up behind a reader that does not read, and hold the thread."""
        taken = bool(super().received(data))
        with self.requests_lock:
            if len(self.requests) > AT_ONCE:
                kept: Any = self.requests[:AT_ONCE]
                kept[-1].headers["CONNECTION"] = "close"
                self.requests = kept
        return taken


def behind_proxy() -> dict[str, Any]:
    """From which proxy addresses and the scheme of requests are taken; from none unless the settings name one."""
    if not settings.TRUSTED_PROXY:
        return {}
    return {
        "trusted_proxy": settings.TRUSTED_PROXY,
        "trusted_proxy_count": 1,
        "trusted_proxy_headers": {"x-forwarded-for", "x-forwarded-proto"},
    }


def listen_on(number: int) -> socket.socket:
    """The listening socket of a file number that was handed over."""
    return socket.socket(fileno=number)


def prepare_process() -> None:
    """As many open files as connections need; a full queue of requests is no news."""
    hard = resource.getrlimit(resource.RLIMIT_NOFILE)[1]
    resource.setrlimit(resource.RLIMIT_NOFILE, (min(OPEN_FILES, hard) if hard > 0 else OPEN_FILES, hard))
    logging.getLogger("waitress.queue").setLevel(logging.ERROR)


def serve(listening: socket.socket) -> None:
    """Answer requests on a socket until asked to stop."""
    from wheelometron.wsgi import application

    signal.signal(signal.SIGTERM, lambda *_: sys.exit(0))
    server: Any = create_server(
        application,
        sockets=[listening],
        threads=THREADS,
        connection_limit=CONNECTIONS,
        channel_timeout=REQUEST_S,
        cleanup_interval=2,
        asyncore_use_poll=True,
        max_request_header_size=32_768,
        max_request_body_size=settings.LARGEST_REQUEST_BYTES,
        expose_tracebacks=False,
        ident=None,
        clear_untrusted_proxy_headers=True,
        **behind_proxy(),
    )
    server.channel_class = Channel
    server.run()


def main() -> None:
    """Serve until asked to stop, or until the standard input closes."""
    parser = argparse.ArgumentParser()
    parser.add_argument("--socket", type=int, required=True, help="file number of the listening socket")
    listening = listen_on(parser.parse_args().socket)
    prepare_process()
    end_with()
    threading.Thread(target=warm_up, daemon=True).start()
    serve(listening)


if __name__ == "__main__":
    main()
