"""The app in Chromium: key press to figure, drags, the running bench, script, and Lighthouse beside an empty page.

The empty page has the same stack (React, Chakra with our theme, router, query) and no more; it is built and measured in
the same run. Starts its own servers on loopback; wants a quiet machine. Lighthouse is installed on the first run from
`web/package-lock.json`.
"""

from __future__ import annotations

import gzip
import json
import os
import shutil
import statistics
import subprocess
import sys
import tempfile
import time
from pathlib import Path
from typing import Any

from playwright.sync_api import BrowserContext, Page, sync_playwright

from benchmarks.bench_app import database, served
from devtools.browser import FLAGS, launch
from devtools.cluster import free_port
from devtools.steps import FRONTEND, ROOT, npm
from devtools.supervise import Process

KEYS = 40
DRAGS = 5
BENCH_S = 10
WEB = ROOT / "benchmarks" / "web"
EMPTY = FRONTEND / "empty" / "dist"
CATEGORIES = ("performance", "accessibility", "best-practices", "seo")


def key_to_figure_ms(page: Page, port: int, added_latency_ms: float = 0) -> list[float]:
    """Press a key in the count of the target and wait, in the page itself, for the shown figure to change."""
    page.goto(f"http://127.0.0.1:{port}/")
    network = page.context.new_cdp_session(page)
    network.send("Network.enable")
    network.send(
        "Network.emulateNetworkConditions",
        {"offline": False, "latency": added_latency_ms, "downloadThroughput": -1, "uploadThroughput": -1},
    )
    page.get_by_test_id("installation-row").filter(has_text="Dash, front wheel").click()
    page.get_by_test_id("shown-kmh").wait_for()
    page.keyboard.press("3")
    field = page.get_by_test_id("target.count")
    field.focus()
    page.evaluate(
        """() => {
            window.taken = [];
            const shown = document.querySelector('[data-testid=shown-kmh]');
            let begun = 0;
            addEventListener('keydown', () => { begun = performance.now(); }, true);
            new MutationObserver(() => requestAnimationFrame(() => window.taken.push(performance.now() - begun)))
                .observe(shown, {characterData: true, childList: true, subtree: true});
        }"""
    )
    for press in range(KEYS):
        page.keyboard.press("ArrowUp" if press % 2 else "ArrowDown")
        page.wait_for_timeout(400 + added_latency_ms)
    network.detach()
    return [float(taken) for taken in page.evaluate("window.taken")]


def dragging(page: Page, port: int, *, held: bool = True) -> tuple[float, float]:
    """Drag the gap for two seconds: frames a second meanwhile, and median ms from a move to the next new figure.

    Not `held`, the same moves drag nothing: what this machine can do at best.
    """
    page.goto(f"http://127.0.0.1:{port}/")
    page.get_by_test_id("installation-row").filter(has_text="Slip log, front").click()
    page.get_by_test_id("shown-kmh").wait_for()
    page.keyboard.press("4")
    grip = page.get_by_role("slider", name="Air gap").locator(".grip")
    page.get_by_test_id("placement.air_gap_mm").fill("0.9")  # where every run begins
    page.keyboard.press("Enter")
    page.wait_for_timeout(1500)
    box = grip.bounding_box()
    assert box is not None
    x, y = box["x"] + box["width"] / 2, box["y"] + box["height"] / 2
    page.mouse.move(x, y)
    if held:
        page.mouse.down()
    page.evaluate(
        """() => {
            window.frames_ = 0; window.begun_ = performance.now(); window.lags_ = []; window.moved_ = 0;
            const count = () => { window.frames_++; requestAnimationFrame(count); };
            requestAnimationFrame(count);
            addEventListener('pointermove', () => { if (!window.moved_) window.moved_ = performance.now(); }, true);
            new MutationObserver(() => requestAnimationFrame(() => {
                if (window.moved_) window.lags_.push(performance.now() - window.moved_);
                window.moved_ = 0;
            })).observe(document.querySelector('[data-testid=strength]'),
                {characterData: true, childList: true, subtree: true});
        }"""
    )
    for step in range(120):
        page.mouse.move(x, y - 15 - 14 * ((step % 40) / 20 - 1))
        page.wait_for_timeout(8)
    frames = page.evaluate("1000 * window.frames_ / (performance.now() - window.begun_)")
    lags = [float(lag) for lag in page.evaluate("window.lags_")]
    page.mouse.up()
    return float(frames), statistics.median(lags) if lags else 0.0


def running_bench(page: Page, port: int, servers: list[Process]) -> tuple[float, float]:
    """The bench of the hill-climb's gauge for some seconds: pictures a second, and the server's cores meanwhile."""
    page.goto(f"http://127.0.0.1:{port}/")
    page.get_by_test_id("installation-row").filter(has_text="Dash gauge").click()
    page.get_by_test_id("shown-kmh").wait_for()
    taken: list[float] = []
    page.on("response", lambda answer: taken.append(time.monotonic()) if "/bench/moment" in answer.url else None)
    page.keyboard.press("b")
    page.get_by_test_id("counts").wait_for()
    page.get_by_role("button", name="Sweep").click()
    page.wait_for_timeout(2000)
    taken.clear()
    begun, cpu = time.monotonic(), cpu_s(servers)
    page.wait_for_timeout(BENCH_S * 1000)
    lasted = time.monotonic() - begun
    return len(taken) / lasted, (cpu_s(servers) - cpu) / lasted


def cpu_s(servers: list[Process]) -> float:
    """Seconds of processor that a server and its workers have used."""
    ticks = 0
    for server in servers:
        assert server.process is not None
        _, _, rest = Path(f"/proc/{server.process.pid}/stat").read_text().rpartition(")")
        fields = rest.split()
        ticks += int(fields[11]) + int(fields[12])
    return ticks / os.sysconf("SC_CLK_TCK")


def first_view_kb(page: Page, url: str, dist: Path) -> dict[str, float]:
    """Gzipped script that a page loads before it is seen, by file."""
    names: list[str] = []
    page.on(
        "response", lambda answer: names.append(answer.url.rpartition("/")[2]) if answer.url.endswith(".js") else None
    )
    page.goto(url)
    page.get_by_role("heading", level=1).wait_for()
    page.wait_for_load_state("networkidle")
    return {name: len(gzip.compress((dist / "assets" / name).read_bytes(), 9)) / 1000 for name in names}


def node(*arguments: str, folder: Path) -> str:
    """Run npm in a folder; its output."""
    command, environment = npm(*arguments)
    environment["CHROME_PATH"] = shutil.which("chromium") or ""
    done = subprocess.run(command, cwd=folder, env=environment, capture_output=True, text=True, check=False)
    if done.returncode != 0:
        raise SystemExit(f"npm {' '.join(arguments[:4])} failed:\n{done.stdout[-2000:]}{done.stderr[-2000:]}")
    return done.stdout


def lighthouse(port: int, url: str, *, mobile: bool) -> dict[str, Any]:
    """The report of one page in a browser that is open on a debugging port, signed in as it is."""
    with tempfile.TemporaryDirectory() as folder:
        report = Path(folder) / "report.json"
        preset = () if mobile else ("--preset=desktop",)
        node(
            "exec", "--", "lighthouse", url, f"--port={port}", "--output=json", f"--output-path={report}", "--quiet",
            "--disable-storage-reset", f"--only-categories={','.join(CATEGORIES)}", *preset, folder=WEB,
        )  # fmt: skip
        found: dict[str, Any] = json.loads(report.read_text("utf-8"))
        return found


def scores(context: BrowserContext, debugging_port: int, pages: dict[str, str]) -> None:
    """Print the four scores of each page, on desktop and on a phone, the median of three runs for performance."""
    for mobile in (False, True):
        for name, url in pages.items():
            reports = [lighthouse(debugging_port, url, mobile=mobile) for _ in range(3)]
            found = {
                category: round(100 * statistics.median(report["categories"][category]["score"] for report in reports))
                for category in CATEGORIES
            }
            blocking = statistics.median(report["audits"]["total-blocking-time"]["numericValue"] for report in reports)
            print(f"{'mobile' if mobile else 'desktop'} {name}: {found}, blocking {blocking:.0f} ms")


def build_empty_page() -> None:
    """An empty page of the same stack."""
    if not (WEB / "node_modules").is_dir():
        node("install", "--no-audit", "--no-fund", folder=WEB)
    node("exec", "--", "vite", "build", "--config", "empty/vite.config.ts", folder=FRONTEND)
    subprocess.run([sys.executable, "-m", "whitenoise.compress", "--quiet", str(EMPTY)], check=True)


def main() -> None:
    """Print the figures."""
    build_empty_page()
    with (
        database() as environment,
        served(environment, "wheelometron.settings") as (port, servers),
        sync_playwright() as playwright,
    ):
        base = f"http://127.0.0.1:{port}"
        browser = launch(playwright)
        with served(environment, "benchmarks.empty_settings") as (empty_port, _):
            empty = first_view_kb(browser.new_page(), f"http://127.0.0.1:{empty_port}/", EMPTY)
        ours = first_view_kb(browser.new_page(), base, FRONTEND / "dist")
        print(
            f"script of the first view: {sum(ours.values()):.0f} kB gzipped; stack alone {sum(empty.values()):.0f} kB"
        )
        for name, size in sorted(ours.items(), key=lambda item: -item[1])[:8]:
            print(f"  {size:6.1f} {name}")
        page = browser.new_page()
        page.goto(base)
        page.get_by_role("button", name="Open the demo workshop").click()
        page.get_by_test_id("installation-row").first.wait_for()
        for latency_ms, limit_ms in ((0, 80), (150, 250)):
            taken = key_to_figure_ms(page, port, latency_ms)
            print(
                f"key press to new figure, {latency_ms} ms added: median {statistics.median(taken):.0f} ms of "
                f"{len(taken)} (limit {limit_ms})"
            )
        drags = [dragging(page, port) for _ in range(DRAGS)]
        frames, lag = (statistics.median(column) for column in zip(*drags, strict=True))
        most, _ = dragging(page, port, held=False)
        print(
            f"dragging: {frames:.1f} frames a second, {most:.1f} where nothing is dragged (60); figures {lag:.0f} ms "
            f"behind (limit 150)"
        )
        pictures, cores = running_bench(page, port, servers)
        print(f"bench: {pictures:.1f} pictures a second (20 asked for), {cores:.2f} cores of the server (limit 1)")
        browser.close()
        with (
            served(environment, "benchmarks.empty_settings") as (empty_port, _),
            tempfile.TemporaryDirectory() as profile,
        ):
            debugging_port = free_port()
            context = playwright.chromium.launch_persistent_context(
                profile,
                executable_path=shutil.which("chromium"),
                args=[*FLAGS, f"--remote-debugging-port={debugging_port}"],
            )
            page = context.new_page()
            page.goto(base)
            page.get_by_role("button", name="Open the demo workshop").wait_for()
            scores(context, debugging_port, {"empty": f"http://127.0.0.1:{empty_port}/", "sign-in": base})
            page.get_by_role("button", name="Open the demo workshop").click()
            page.get_by_test_id("installation-row").first.wait_for()
            link = page.get_by_test_id("installation-row").first.get_attribute("href")
            scores(context, debugging_port, {"vehicles": base, "installation": f"{base}{link}"})
            context.close()


if __name__ == "__main__":
    main()
