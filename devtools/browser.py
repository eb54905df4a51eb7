"""Debian's Chromium for tests, pictures and benchmarks: its build without a window, which is lighter."""

from __future__ import annotations

import shutil

from playwright.sync_api import Browser, Playwright, ViewportSize

from devtools.steps import BROWSER

LAPTOP: ViewportSize = {"width": 1280, "height": 800}
PHONE: ViewportSize = {"width": 390, "height": 844}
FLAGS = [
    "--no-sandbox", "--disable-gpu", "--disable-quic", "--no-first-run", "--disable-background-networking",
    "--disable-component-update", "--disable-sync",
]  # fmt: skip
WITHOUT = (
    # pages for the address bar: each costs a new window as much as ours does
    "WebUIOmniboxPopup", "WebUIOmniboxAimPopup",
    "AvoidUnnecessaryBeforeUnloadCheckSync", "DestroyProfileOnBrowserClose", "HttpsUpgrades", "LensOverlay",
    "MediaRouter", "OptimizationHints", "PaintHolding", "ThirdPartyStoragePartitioning",  # as Playwright has it
)  # fmt: skip
"""Features of Chromium that are off. The last list on its command line counts, so Playwright's own are named again."""


def launch(playwright: Playwright, *flags: str) -> Browser:
    """Debian's Chromium, without a window."""
    return playwright.chromium.launch(
        executable_path=shutil.which(BROWSER), args=[*FLAGS, *flags, f"--disable-features={','.join(WITHOUT)}"]
    )
