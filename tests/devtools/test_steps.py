"""The set-up's own rules: what it asks for, what it refuses, what it skips."""

from __future__ import annotations

import socket
from pathlib import Path
from tempfile import TemporaryDirectory
from unittest import TestCase
from unittest.mock import patch

from devtools import start, steps


class Packages(TestCase):
    def test_somebody_who_may_not_install_is_told_what_to_ask_for(self) -> None:
        with patch("devtools.steps.os.geteuid", return_value=1000), self.assertRaises(steps.SetupError) as caught:
            steps.debian_packages({"postgresql": False, "chromium": True})
        self.assertIn("apt-get install postgresql", str(caught.exception))
        self.assertNotIn("chromium", str(caught.exception))

    def test_nothing_is_installed_when_nothing_is_missing(self) -> None:
        with patch("devtools.steps.run") as run:
            steps.debian_packages({"postgresql": True})
        run.assert_not_called()

    def test_root_installs_only_what_is_missing(self) -> None:
        with (
            patch("devtools.steps.os.geteuid", return_value=0),
            patch("devtools.steps.shutil.which", return_value="/usr/bin/apt-get"),
            patch("devtools.steps.run") as run,
        ):
            steps.debian_packages({"postgresql": True, "chromium": False})
        self.assertEqual(run.call_args.args[0][-1], "chromium")

    def test_a_command_that_fails_shows_what_it_said(self) -> None:
        with self.assertRaises(steps.SetupError) as caught:
            steps.run(["sh", "-c", "echo the disk is full; exit 3"], "Building")
        self.assertIn("Building failed:\nthe disk is full", str(caught.exception))

    def test_a_broken_python_is_noticed(self) -> None:
        self.assertTrue(steps.works(steps.PYTHON))
        self.assertFalse(steps.works(Path("/nowhere/python")))
        self.assertFalse(steps.works(Path("/bin/false")))

    def test_the_stamp_changes_with_content_and_name(self) -> None:
        with TemporaryDirectory(dir=steps.ROOT / ".venv") as folder:
            one, two = Path(folder) / "one", Path(folder) / "two"
            one.write_text("a")
            two.write_text("a")
            first = steps.digest([one])
            self.assertNotEqual(first, steps.digest([two]))
            one.write_text("b")
            self.assertNotEqual(first, steps.digest([one]))


class Ports(TestCase):
    def test_the_next_free_port_is_taken_unless_one_was_asked_for(self) -> None:
        with socket.socket() as busy:
            busy.bind(("127.0.0.1", 0))
            busy.listen()
            port = busy.getsockname()[1]
            with (
                patch("devtools.start.DEFAULT_PORT", port),
                patch("devtools.start.say") as say,
                start.choose_port(None) as next_one,
            ):
                self.assertGreater(next_one.getsockname()[1], port)
            self.assertIn("in use", say.call_args.args[0])
            with self.assertRaisesRegex(steps.SetupError, "Choose another with --port"):
                start.choose_port(port)

    def test_a_port_that_was_taken_is_held_for_whoever_serves_on_it(self) -> None:
        with start.choose_port(0) as held, self.assertRaisesRegex(steps.SetupError, "in use"):
            start.choose_port(held.getsockname()[1])

    def test_a_data_folder_is_held_by_one(self) -> None:
        with TemporaryDirectory() as folder:
            held = start.lock(Path(folder))
            assert held is not None
            self.assertIsNone(start.lock(Path(folder)))
            held.close()
            again = start.lock(Path(folder))
            assert again is not None
            again.close()
