"""The core as a package of its own, its version, and what runs before a commit."""

from __future__ import annotations

import re
import shutil
import subprocess
import sys
from pathlib import Path
from tempfile import TemporaryDirectory
from unittest import TestCase

import speedchain
from devtools.test import CHECKS

ROOT = Path(__file__).resolve().parent.parent.parent


class Package(TestCase):
    def test_it_is_installed_alone_and_computes(self) -> None:
        with TemporaryDirectory() as folder:
            site = Path(folder) / "site"
            command = [
                sys.executable,
                "-m",
                "pip",
                "install",
                "--quiet",
                "--no-deps",
                "--no-build-isolation",
                "--no-index",
            ]
            source = Path(folder) / "source"
            shutil.copytree(ROOT / "speedchain", source / "speedchain", ignore=shutil.ignore_patterns("__pycache__"))
            shutil.copy(ROOT / "pyproject.toml", source)
            subprocess.run([*command, "--target", site, source], check=True, capture_output=True)
            self.assertEqual(
                {found.name for found in site.iterdir() if found.suffix != ".dist-info"}, {"speedchain", "bin"}
            )
            self.assertTrue((site / "speedchain" / "py.typed").exists())
            asked = [sys.executable, "-m", "speedchain", "--version"]
            said = subprocess.run(asked, check=True, capture_output=True, text=True, cwd=site).stdout
            self.assertEqual(said, f"Wheelometron {speedchain.__version__}\n")
            tag = (
                "from speedchain.sheets.fonts import FALLBACKS, letters_of; print(len(letters_of(FALLBACKS[0])) > 1000)"
            )
            said = subprocess.run(
                [sys.executable, "-c", tag], check=True, capture_output=True, text=True, cwd=site
            ).stdout
            self.assertEqual(said, "True\n")

    def test_the_changes_say_this_version(self) -> None:
        self.assertIn(f"\n## {speedchain.__version__}", (ROOT / "CHANGELOG.md").read_text("utf-8"))

    def test_before_a_commit_runs_what_the_tests_run_first(self) -> None:
        hooks = (ROOT / ".pre-commit-config.yaml").read_text("utf-8")
        entries = [entry.split() for entry in re.findall(r"entry: \.venv/bin/([^,]+),", hooks)]
        self.assertEqual(entries, list(CHECKS.values()))
