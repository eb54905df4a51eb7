"""The tests' runner: Django's, with the longest classes first, and what every test took."""

from __future__ import annotations

import gc
import json
import os
import time
from pathlib import Path
from typing import Any
from unittest import TestCase, TextTestResult

from django.db import connection
from django.test.runner import DiscoverRunner, ParallelTestSuite, RemoteTestResult, RemoteTestRunner

END_OTHERS = """SELECT pg_terminate_backend(pid, 5000) FROM pg_stat_activity
    WHERE starts_with(datname, current_database()) AND pid <> pg_backend_pid()"""
SLOW = {"tests.devtools": 40, "tests.browser": 10}
"""How many times as long as another a test takes: the longest classes begin first, so that none is left alone at the
end."""


class Remote(RemoteTestResult):
    """In a process of the pool: passes on what a test took."""

    began_s = 0.0

    def startTest(self, test: TestCase) -> None:  # noqa: N802
        super().startTest(test)
        self.began_s = time.monotonic()

    def stopTest(self, test: TestCase) -> None:  # noqa: N802
        self.events.append(("took", self.test_index, time.monotonic() - self.began_s))
        super().stopTest(test)


class RemoteRunner(RemoteTestRunner):
    resultclass = Remote


class Timed(TextTestResult):
    """Keeps what every test took, by name."""

    def __init__(self, *arguments: Any, **named: Any) -> None:
        super().__init__(*arguments, **named)
        self.seconds: dict[str, float] = {}
        self.began_s: dict[str, float] = {}

    def startTest(self, test: TestCase) -> None:  # noqa: N802
        super().startTest(test)
        self.began_s[test.id()] = time.monotonic()

    def stopTest(self, test: TestCase) -> None:  # noqa: N802
        super().stopTest(test)
        self.seconds.setdefault(test.id(), time.monotonic() - self.began_s[test.id()])

    def took(self, test: TestCase, seconds: float) -> None:
        self.seconds[test.id()] = seconds


class Suite(ParallelTestSuite):
    runner_class = RemoteRunner

    def __init__(self, subsuites: list[Any], *arguments: Any, **named: Any) -> None:
        longest_first = sorted(subsuites, key=_weight, reverse=True)
        super().__init__(longest_first, *arguments, **named)


def _weight(suite: Any) -> int:
    module = type(next(iter(suite))).__module__
    factor = next((factor for package, factor in SLOW.items() if module.startswith(package)), 1)
    return int(suite.countTestCases()) * factor


class Runner(DiscoverRunner):
    """Django's runner; with `WHEELOMETRON_TOOK` it writes what every test took into that file, as JSON."""

    parallel_test_suite = Suite

    def get_resultclass(self) -> type[TextTestResult] | None:
        return super().get_resultclass() or Timed

    def run_suite(self, suite: Any, **named: Any) -> Any:
        """What is loaded by now stays: to look through it again and again is a tenth of what the tests compute."""
        gc.collect()
        gc.freeze()
        gc.set_threshold(50_000, 20, 20)
        return super().run_suite(suite, **named)

    def teardown_databases(self, old_config: Any, **named: Any) -> None:
        if old_config:  # what a worker or a browser still holds open does not keep the tests' databases
            with connection.cursor() as cursor:
                cursor.execute(END_OTHERS)
            connection.close()  # Django may look for it in another context than this one, and not find it
        super().teardown_databases(old_config, **named)

    def suite_result(self, suite: Any, result: Any, **named: Any) -> Any:
        if (file := os.environ.get("WHEELOMETRON_TOOK")) and isinstance(result, Timed):
            Path(file).write_text(json.dumps(result.seconds))
        return super().suite_result(suite, result, **named)
