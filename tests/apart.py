"""What is run apart in tests: it takes too long, needs too much, fails, or waits."""

from __future__ import annotations

import time
from collections.abc import Iterator


def endless() -> Iterator[int]:
    while True:
        pass


def large() -> Iterator[int]:
    yield len(bytearray(900_000_000))


def failing() -> Iterator[int]:
    yield 1
    raise ZeroDivisionError


def waiting() -> Iterator[int]:
    yield 1
    time.sleep(60)
