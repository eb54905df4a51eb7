"""A disk that is really full: said as such, reads go on, nothing is lost, and it goes on once there is space."""

from __future__ import annotations

import os
import shutil
import signal
import subprocess
from typing import Any
from unittest import skipUnless

from devtools.start import healthy
from devtools.steps import wait_until
from tests.devtools.test_start import Person, StartCase, serving
from workshop.storage import LEAST_FREE_BYTES

DISK = "size=360m,mode=755"
NOTE = {"kind": "note", "text": "Cleaned the ring", "on": "2026-05-02"}


@skipUnless(os.geteuid() == 0, "making a small disk needs root")
class FullDisk(StartCase):
    def setUp(self) -> None:
        super().setUp()
        self.home.parent.chmod(0o755)  # otherwise the database, which has an account of its own, is kept elsewhere
        self.home.mkdir()
        subprocess.run(["mount", "-t", "tmpfs", "-o", DISK, "tmpfs", str(self.home)], check=True)
        self.addCleanup(subprocess.run, ["umount", "--lazy", str(self.home)], check=True)

    def fill(self, leave_bytes: int) -> None:
        """Leave so much of the disk."""
        with (self.home / "filler").open("ab") as filler:
            while (left := shutil.disk_usage(self.home).free - leave_bytes) > 0:
                try:
                    filler.write(bytes(min(left, 1 << 20)))
                    filler.flush()
                except OSError:
                    return

    def test_it_is_said_and_reads_go_on(self) -> None:
        started = self.start()
        started.up()
        self.assertTrue((self.home / "postgres").is_dir())
        person = Person(started.port)
        person.ask("POST", "/api/session/demo", {})
        vehicles = person.ask("GET", "/api/vehicles")
        notes = f"/api/vehicles/{vehicles['vehicles'][0]['id']}/notes"
        self.assertEqual(person.ask("POST", notes, NOTE)["text"], NOTE["text"])

        self.fill(LEAST_FREE_BYTES // 2)
        self.says_full(person.ask("POST", notes, NOTE))
        for pid in serving(started.process.pid):
            os.kill(pid, signal.SIGKILL)  # they have to connect anew
        wait_until(lambda: healthy(started.port), 60, "the app")
        for _ in range(8):
            self.assertEqual(person.ask("GET", "/api/vehicles"), vehicles)

        self.fill(0)  # by others: the app takes nothing
        for pid in serving(started.process.pid):
            os.kill(pid, signal.SIGKILL)
        wait_until(lambda: self.answered(person) is not None, 60, "an answer")
        answer = self.answered(person)
        if "vehicles" not in answer:
            self.says_full(answer)

        (self.home / "filler").unlink()
        wait_until(lambda: "vehicles" in (self.answered(person) or {}), 60, "space")
        self.assertEqual(person.ask("GET", "/api/vehicles"), vehicles)
        self.assertEqual(person.ask("POST", notes, NOTE)["text"], NOTE["text"])

    def says_full(self, answer: Any) -> None:
        self.assertEqual(answer["status"], 507, answer)
        self.assertIn("The disk of the server is full. Nothing was changed. Free space on it", answer["detail"])

    def answered(self, person: Person) -> Any:
        """The list of vehicles, or a refusal; None where nobody answers."""
        try:
            return person.ask("GET", "/api/vehicles")
        except (OSError, ValueError):
            return None
