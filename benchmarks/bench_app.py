"""The served app: requests against an endpoint that only validates, in one run; `bench_pages` has the browser.

Starts its own server on loopback on the database of `./test`; bounded in count and time.
"""

from __future__ import annotations

import http.client
import json
import statistics
import subprocess
import time
from collections.abc import Iterator
from concurrent.futures import ThreadPoolExecutor
from contextlib import contextmanager
from typing import Any

from devtools.cluster import Cluster
from devtools.start import healthy
from devtools.steps import PYTHON, ROOT, wait_until
from devtools.supervise import Process, open_socket
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


@contextmanager
def database() -> Iterator[dict[str, str]]:
    """The database of `./test` with the demo; the environment in which the app finds it."""
    cluster = Cluster.at(ROOT / ".wheelometron-test")
    cluster.start()
    try:
        environment = cluster.environment() | {"WHEELOMETRON_DEMO": "1"}
        subprocess.run([str(PYTHON), "manage.py", "prepare"], cwd=ROOT, env=environment, check=True)
        yield environment
    finally:
        cluster.stop()


@contextmanager
def served(environment: dict[str, str], settings: str) -> Iterator[int]:
    """The app on a free port, as `./start` runs it."""
    listening = open_socket(0)
    port = listening.getsockname()[1]
    app = Process.app(listening, environment | {"DJANGO_SETTINGS_MODULE": settings})
    app.start()
    try:
        wait_until(lambda: healthy(port), 120, "The server")
        yield port
    finally:
        app.stop()


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
    """Comparing all methods, and the vehicle sheet with eight installations, against evaluate; one connection,
    medians."""
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


def main() -> None:
    """Print the figures as ratios."""
    with database() as environment, served(environment, "benchmarks.baseline_settings") as port:
        headers, body = session(port), json.dumps(CAR).encode()
        ratios = []
        for _ in range(ROUNDS):
            base = p95(timings_ms(port, "/baseline/validate", headers, body))
            ours = p95(timings_ms(port, "/api/evaluate", headers, body))
            ratios.append(ours / base)
            print(f"p95 evaluate {ours:.1f} ms / validate only {base:.1f} ms = {ours / base:.2f}")
        wider_requests(port, headers, body)
        print(f"evaluate request, p95 ratio, median of {ROUNDS}: {statistics.median(ratios):.2f} (limit 2.5)")


if __name__ == "__main__":
    main()
