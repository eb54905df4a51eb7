"""Debian's Chromium for tests, pictures and benchmarks."""

from __future__ import annotations

import shutil

from playwright.sync_api import Browser, Playwright, ViewportSize

LAPTOP: ViewportSize = {"width": 1280, "height": 800}
PHONE: ViewportSize = {"width": 390, "height": 844}
FLAGS = [
    "--no-sandbox", "--disable-gpu", "--disable-quic", "--no-first-run", "--disable-background-networking",
    "--disable-component-update", "--disable-sync",
]  # fmt: skip


def launch(playwright: Playwright) -> Browser:
    """Debian's Chromium, without a window."""
    return playwright.chromium.launch(executable_path=shutil.which("chromium"), args=FLAGS)
