"""What a stranger sent is read in a process of its own, with limits of time and memory.

A file that needs more ends that process alone: who asked gets an `InputError` that names the limit. Such processes are
kept for the next file, end with the process that started them, and know no database.
"""

from __future__ import annotations

import os
import resource
import signal
import socket
import subprocess
import sys
import threading
import time
import traceback
from collections.abc import Callable, Iterator
from contextlib import suppress
from importlib import import_module
from multiprocessing.connection import Connection
from pathlib import Path
from typing import Any, NamedTuple

from speedchain.fields import InputError, text_of

LONGER = 4
"""On a busy machine a second of computing takes so many seconds at most."""
BEGINS_S = 120
LOOK_S = 0.5
MOST_USES = 40
ROOT = Path(__file__).resolve().parent.parent
MEMORY_LIMIT = "memory"


class Limits(NamedTuple):
    """Seconds of computing, and megabytes beside what the process needs itself."""

    seconds: float
    megabytes: float


class TooMuchError(InputError):
    """What was sent needs more time or memory than may be."""


class _Child:
    """A process that waits for something to read."""

    def __init__(self) -> None:
        ours, theirs = socket.socketpair()
        with theirs:
            self.process = subprocess.Popen(
                [sys.executable, "-m", "workshop.apart", str(theirs.fileno())],
                cwd=ROOT,
                stdin=subprocess.DEVNULL,
                pass_fds=(theirs.fileno(),),
                env=os.environ | {"POLARS_MAX_THREADS": "1", "OPENBLAS_NUM_THREADS": "1"},
            )
        self.line = Connection(ours.detach())
        self.uses = 0

    def end(self) -> int:
        """End it; how it ended."""
        self.line.close()
        if self.process.poll() is None:
            with suppress(subprocess.TimeoutExpired):
                self.process.wait(0.2)
            self.process.kill()
        return self.process.wait()


_waiting: list[_Child] = []
_lock = threading.Lock()
os.register_at_fork(after_in_child=_waiting.clear)


def apart(
    function: str,
    *arguments: Any,
    limits: Limits,
    path: str,
    remedy: str,
    going: Callable[[], object] = lambda: None,
) -> Iterator[Any]:
    """What a generator function yields, run in a process of its own.

    Parameters
    ----------
    function : "module:name"; the module must not need the database.
    path, remedy : field and remedy that the refusal names.
    going : called about twice a second while nothing comes; it may raise, which ends the process.

    Raises
    ------
    `TooMuchError` past the limits; `InputError` as the function raises it; `RuntimeError` where it fails.
    """
    with _lock:
        child = _waiting.pop() if _waiting else None
    child = child or _Child()
    until = time.monotonic() + BEGINS_S
    try:
        child.line.send((function, arguments, limits))
        while True:
            while not child.line.poll(LOOK_S):
                going()
                if time.monotonic() > until:
                    raise _too_long(limits, path, remedy)
            kind, value = child.line.recv()
            if kind == "end":
                break
            if kind == "begun":
                until = time.monotonic() + LONGER * limits.seconds
                continue
            if kind == MEMORY_LIMIT:
                raise _too_large(limits, path, remedy)
            if kind == "refused":
                raise value
            if kind == "broken":
                raise RuntimeError(f"{function} failed apart:\n{value}")
            yield value
    except (EOFError, ConnectionError) as error:
        ended = child.end()
        raise (_too_long if ended == -signal.SIGXCPU else _too_large)(limits, path, remedy) from error
    except BaseException:
        child.process.kill()
        child.end()
        raise
    child.uses += 1
    if child.uses >= MOST_USES:
        child.end()
        return
    with _lock:
        _waiting.append(child)


def one_apart(function: str, *arguments: Any, limits: Limits, path: str, remedy: str) -> Any:
    """The only thing that a generator function yields, run in a process of its own."""
    (found,) = apart(function, *arguments, limits=limits, path=path, remedy=remedy)
    return found


def _too_long(limits: Limits, path: str, remedy: str) -> TooMuchError:
    limit = text_of("at most {0:.0f} s of computing time", limits.seconds)
    return TooMuchError("Reading this file takes too long.", remedy=remedy, limit=limit, path=path)


def _too_large(limits: Limits, path: str, remedy: str) -> TooMuchError:
    limit = text_of("at most {0:.0f} MB of memory", limits.megabytes)
    return TooMuchError("Reading this file needs too much memory.", remedy=remedy, limit=limit, path=path)


def _bounded(limits: Limits) -> None:
    used = resource.getrusage(resource.RUSAGE_SELF)
    end_s = int(used.ru_utime + used.ru_stime + limits.seconds) + 1
    resource.setrlimit(resource.RLIMIT_CPU, (end_s, resource.RLIM_INFINITY))
    held = next(line for line in Path("/proc/self/status").read_text().splitlines() if line.startswith("VmData"))
    most = int(held.split()[1]) * 1024 + int(limits.megabytes * 1e6)
    resource.setrlimit(resource.RLIMIT_DATA, (most, resource.RLIM_INFINITY))


def main() -> None:
    """Read what comes, until the other end closes."""
    signal.signal(signal.SIGINT, signal.SIG_IGN)
    resource.setrlimit(resource.RLIMIT_CORE, (0, 0))
    line = Connection(int(sys.argv[1]))
    for name in ("speedchain.runs", "polars", "PIL.Image"):
        import_module(name)
    with suppress(EOFError, ConnectionError):
        while True:
            function, arguments, limits = line.recv()
            module, name = function.split(":")
            run = getattr(import_module(module), name)
            _bounded(limits)
            line.send(("begun", None))
            try:
                for found in run(*arguments):
                    line.send(("found", found))
                line.send(("end", None))
            except InputError as error:
                line.send(("refused", error))
            except MemoryError:
                line.send((MEMORY_LIMIT, None))
                return
            except Exception:  # a fault of our own, which the other end reports
                line.send(("broken", traceback.format_exc()))


if __name__ == "__main__":
    main()
