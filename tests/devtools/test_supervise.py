"""Supervision: started again with growing waits, forgiven after a steady minute, given up with a clear message."""

from __future__ import annotations

from unittest import TestCase
from unittest.mock import patch

from devtools import supervise
from devtools.steps import SetupError
from devtools.supervise import Watch


class Broken:
    """A part that ends at once, or does not even start."""

    name = "database"

    def __init__(self, starts: bool) -> None:
        self.starts, self.running, self.started_at = starts, False, []

    def is_running(self) -> bool:
        return self.running

    def start(self) -> None:
        self.started_at.append(self.clock)
        if not self.starts:
            raise SetupError("the disk is full")
        self.running = True

    def stop(self) -> None:
        self.running = False

    clock = 0.0


class Watching(TestCase):
    def setUp(self) -> None:
        patcher = patch.object(supervise, "say")
        self.say = patcher.start()
        self.addCleanup(patcher.stop)

    def test_waits_grow_and_end_with_the_reason(self) -> None:
        part = Broken(starts=False)
        watch = Watch(part, now=lambda: part.clock)
        with self.assertRaises(SetupError) as caught:
            for _ in range(10_000):
                part.clock += 0.25
                watch.look()
        self.assertIn("database ended 12 times in a row", str(caught.exception))
        self.assertIn("the disk is full", str(caught.exception))
        waits = [round(b - a, 2) for a, b in zip(part.started_at, part.started_at[1:], strict=False)]
        self.assertEqual(waits[:5], [0.75, 1.25, 2.25, 4.25, 8.25], "each wait is twice the last, and a look later")
        self.assertLessEqual(max(waits), 15.5)
        self.assertEqual(len(part.started_at), 12)

    def test_a_steady_minute_forgives(self) -> None:
        part = Broken(starts=True)
        watch = Watch(part, now=lambda: part.clock)
        watch.start()
        for _ in range(40):
            part.running = False
            watch.look()
            self.assertTrue(part.running)
            part.clock += 61
            watch.look()
        self.assertEqual(len(part.started_at), 41)
