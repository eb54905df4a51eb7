"""The served app: p95 of the evaluate request, and key press to new figure in Chromium, in one run.

Starts its own server on loopback on the database of `./test`; bounded in count and time.
"""

from __future__ import annotations

import http.client
import json
import os
import statistics
import subprocess
import time
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path
from typing import Any

from playwright.sync_api import Page, sync_playwright

from devtools.browser import launch
from devtools.cluster import Cluster, free_port
from devtools.start import healthy
from devtools.steps import PYTHON, ROOT, wait_until
from devtools.supervise import WEB_PROCESSES, Web, open_socket
from tests.installations import CAR, CYCLE, document

NINE_METHODS = {
    "method": "combined",
    "marking": {"text": "205/55R16"},
    "chart": {"label": "700x28C", "circumference_mm": 1950},
    "taped_diameter": {"diameter_mm": 622, "repeats_mm": [621, 623]},
    "axle_height": {"axle_height_mm": 302, "unloaded_diameter_mm": 632},
    "taped_circumference": {"circumference_mm": 1968},
    "roll_out": {"turns": 3, "distance_mm": 5860, "repeats_mm": [5858, 5861]},
    "speed_derived": {"set_circumference_mm": 1985, "shown_kmh": 100, "true_kmh": 98.4},
    "entered": {"circumference_mm": 1960},
}
PLACED = document(
    CAR, target={"kind": "toothed_ring", "count": 48, "ring": {"diameter_mm": 98}}, placement={"air_gap_mm": 0.9}
)
REED = document(
    CYCLE,
    target={"kind": "magnets", "count": 3, "magnets": {"radius_mm": 90}},
    placement={"air_gap_mm": 2, "lateral_offset_mm": 7},
)
CONNECTIONS = 8
REQUESTS = 250
ROUNDS = 3
KEYS = 40
BENCH_S = 10


def serve(port: int, environment: dict[str, str]) -> list[Web]:
    """The web processes as `./start` runs them."""
    listening = open_socket(port)
    processes = [Web(number, listening, environment) for number in range(1, WEB_PROCESSES + 1)]
    for process in processes:
        process.start()
    return processes


def session(port: int) -> dict[str, str]:
    """The headers of an account signed in to the demo workshop."""
    cookies: dict[str, str] = {}

    def call(method: str, path: str) -> None:
        connection = http.client.HTTPConnection("127.0.0.1", port, timeout=20)
        headers = {"Cookie": "; ".join(f"{k}={v}" for k, v in cookies.items()), "Content-Type": "application/json"}
        connection.request(method, path, headers=headers | {"X-CSRFToken": cookies.get("csrftoken", "")})
        answer = connection.getresponse()
        answer.read()
        for name, value in answer.getheaders():
            if name.lower() == "set-cookie":
                key, _, rest = value.partition("=")
                cookies[key] = rest.split(";")[0]

    call("GET", "/api/session")
    call("POST", "/api/session/demo")
    joined = "; ".join(f"{k}={v}" for k, v in cookies.items())
    return {"Cookie": joined, "X-CSRFToken": cookies["csrftoken"], "Content-Type": "application/json"}


def timings_ms(
    port: int, path: str, headers: dict[str, str], body: bytes, method: str = "POST", connections: int = CONNECTIONS
) -> list[float]:
    """REQUESTS requests on each of some kept-alive connections."""

    def one(_: int) -> list[float]:
        connection = http.client.HTTPConnection("127.0.0.1", port, timeout=20)
        taken = []
        for _ in range(REQUESTS):
            begun = time.perf_counter()
            connection.request(method, path, body=body or None, headers=headers)
            answer = connection.getresponse()
            answer.read()
            taken.append(1000 * (time.perf_counter() - begun))
            if answer.status != 200:
                raise SystemExit(f"{path} answered {answer.status}")
        return taken

    with ThreadPoolExecutor(connections) as pool:
        return [taken for part in pool.map(one, range(connections)) for taken in part]


def p95(values: list[float]) -> float:
    """The 95th percentile."""
    return statistics.quantiles(values, n=20)[-1]


def eight_installations(port: int, headers: dict[str, str]) -> str:
    """The path of the sheet of a vehicle with eight installations, made for this run."""

    def send(method: str, path: str, body: object) -> Any:
        connection = http.client.HTTPConnection("127.0.0.1", port, timeout=20)
        connection.request(method, path, body=json.dumps(body), headers=headers)
        return json.loads(connection.getresponse().read())

    name = f"Bench {time.time_ns()}"
    vehicle = send("POST", "/api/vehicles", {"name": name, "kind": "car"})["id"]
    for _ in range(8):
        send("POST", f"/api/vehicles/{vehicle}/installations", CAR)
    return f"/api/vehicles/{vehicle}/sheet"


def wider_requests(port: int, headers: dict[str, str], body: bytes) -> None:
    """Comparing all methods, and the vehicle sheet with eight installations, against evaluate; one connection, medians."""
    methods = json.dumps(document(CAR, wheel=NINE_METHODS)).encode()
    sheet = eight_installations(port, headers)
    asked = {
        "evaluate": ("POST", "/api/evaluate", body),
        "evaluate, placed": ("POST", "/api/evaluate", json.dumps(PLACED).encode()),
        "compare all methods": ("POST", "/api/compare-methods", methods),
        "speed plot": ("POST", "/api/over-speed", json.dumps({"document": CAR}).encode()),
        "sheet of 8 installations": ("GET", sheet, b""),
        "placement before teeth": ("POST", "/api/placement", json.dumps(PLACED).encode()),
        "placement of a reed": ("POST", "/api/placement", json.dumps(REED).encode()),
    }
    taken: dict[str, list[float]] = {name: [] for name in asked}
    for _ in range(ROUNDS):
        for name, (method, path, sent) in asked.items():
            taken[name].append(statistics.median(timings_ms(port, path, headers, sent, method, connections=1)))
    plain = statistics.median(taken.pop("evaluate"))
    placed = statistics.median(taken.pop("evaluate, placed"))
    for name, values in taken.items():
        ms = statistics.median(values)
        base, limit = (placed, 2) if name.startswith("placement") else (plain, 4)
        print(f"{name}: {ms:.1f} ms / evaluate {base:.1f} ms = {ms / base:.2f} (limit {limit})")


def key_to_figure_ms(page: Page, port: int) -> list[float]:
    """Press a key in the count of the target and wait, in the page itself, for the shown figure to change."""
    page.goto(f"http://127.0.0.1:{port}/")
    page.get_by_role("button", name="Open the demo workshop").click()
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
        page.wait_for_timeout(400)
    return [float(taken) for taken in page.evaluate("window.taken")]


def dragging(page: Page, port: int) -> tuple[float, float]:
    """Drag the gap for two seconds: frames a second meanwhile, and median ms from a move to the next new figure."""
    page.goto(f"http://127.0.0.1:{port}/")
    page.get_by_test_id("installation-row").filter(has_text="Slip log, front").click()
    page.get_by_test_id("shown-kmh").wait_for()
    page.keyboard.press("4")
    grip = page.get_by_role("slider", name="Air gap").locator(".grip")
    page.wait_for_timeout(1000)
    box = grip.bounding_box()
    assert box is not None
    x, y = box["x"] + box["width"] / 2, box["y"] + box["height"] / 2
    page.mouse.move(x, y)
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
    return float(frames), statistics.median(lags)


def running_bench(page: Page, port: int, servers: list[Web]) -> tuple[float, float]:
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


def cpu_s(servers: list[Web]) -> float:
    """Seconds of processor that a server and its workers have used."""
    ticks = 0
    for server in servers:
        assert server.process is not None
        _, _, rest = Path(f"/proc/{server.process.pid}/stat").read_text().rpartition(")")
        fields = rest.split()
        ticks += int(fields[11]) + int(fields[12])
    return ticks / os.sysconf("SC_CLK_TCK")


def script_kb() -> float:
    """Gzipped script that the first view (the vehicles page) loads."""
    assets = ROOT / "frontend" / "dist" / "assets"
    later = (
        "InstallationPlace",
        "BenchPlace",
        "NewInstallationPlace",
        "useEvaluation",
        "VehiclePlace",
        "Plot",
        "SizeSheet",
    )
    return sum(f.stat().st_size for f in Path(assets).glob("*.js.gz") if not f.name.startswith(later)) / 1000


def main() -> None:
    """Print the figures as ratios."""
    cluster = Cluster.at(ROOT / ".wheelometron-test")
    cluster.start()
    environment = cluster.environment() | {
        "WHEELOMETRON_DEMO": "1",
        "DJANGO_SETTINGS_MODULE": "benchmarks.baseline_settings",
    }
    subprocess.run([str(PYTHON), "manage.py", "prepare"], cwd=ROOT, env=environment, check=True)
    port = free_port()
    servers = serve(port, environment)
    try:
        wait_until(lambda: healthy(port), 30, "The server")
        headers, body = session(port), json.dumps(CAR).encode()
        ratios = []
        for _ in range(ROUNDS):
            base = p95(timings_ms(port, "/baseline/validate", headers, body))
            ours = p95(timings_ms(port, "/api/evaluate", headers, body))
            ratios.append(ours / base)
            print(f"p95 evaluate {ours:.1f} ms / validate only {base:.1f} ms = {ours / base:.2f}")
        wider_requests(port, headers, body)
        print(f"evaluate request, p95 ratio, median of {ROUNDS}: {statistics.median(ratios):.2f} (limit 2.5)")
        with sync_playwright() as playwright:
            browser = launch(playwright)
            page = browser.new_page()
            taken = key_to_figure_ms(page, port)
            frames, lag = dragging(page, port)
            pictures, cores = running_bench(page, port, servers)
            browser.close()
        print(f"dragging: {frames:.0f} frames a second (at least 30), figures {lag:.0f} ms behind (limit 150)")
        print(f"bench: {pictures:.1f} pictures a second (20 asked for), {cores:.2f} cores of the server (limit 1)")
        print(f"key press to new figure: median {statistics.median(taken):.0f} ms of {len(taken)} (limit 200)")
        print(f"script of the first view: {script_kb():.0f} kB gzipped (limit 300)")
    finally:
        for server in servers:
            server.stop()
        cluster.stop()


if __name__ == "__main__":
    main()
