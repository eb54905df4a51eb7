"""`python -m benchmarks.bench_routes [HOW_MANY]`: the heaviest valid request of every computing route, in time and
memory.

The core behind each route is called with documents generated from the model (limits included) and with some made to be
heavy; printed are the longest time and the largest peak of memory, beside the limits (1 s, 200 MB) and, as a ratio,
beside validating and evaluating the same document. Documents that a route refuses with a named limit do not count.
"""

from __future__ import annotations

import sys
import time
import tracemalloc
from collections.abc import Callable, Iterator
from contextlib import suppress
from typing import Any

from speedchain import Evaluation, Installation, SpeedchainError, evaluate, read_installation
from speedchain.bench.card import card_of
from speedchain.bench.export import run_lines
from speedchain.bench.hand_tests import magnet_test, spin_test, waves_for
from speedchain.bench.moment import Moment, bench_moment
from speedchain.bench.profile import Profile
from speedchain.bench.run import Run
from speedchain.bench.satellite import Receiver, sentences
from speedchain.bench.simulation import Faults
from speedchain.placement import Placement
from speedchain.placement.view import view_placement
from speedchain.sheets.pdf import card_pdf, wiring_pdf
from speedchain.target.model import Magnets, SpokeWheel
from speedchain.target.spokes import plan_spokes
from speedchain.vehicle.sheet import SheetSettings, vehicle_sheet
from speedchain.vehicle.tyre_change import NewTyre, change_tyre
from speedchain.views.over_speed import over_speed
from speedchain.views.signal import view_signal
from speedchain.wheel import compare
from speedchain.wheel.chart import CYCLE_CHART
from speedchain.wiring import wiring_sheet
from speedchain.workpieces import WRITERS, ring_outline
from tests.generated import documents
from tests.installations import CAR, document

EDGES = 80_000
TRACED = 3
FAULTS = Faults(noise=2, bounce_ms=50, missing=3, open_every_s=1, open_for_ms=20)
SLOW_READER = {"encoding": "pulses_per_km", "timing": {"time_out_s": 60, "gate_s": 60}}
HEAVY = document(CAR, target__count=1000, readouts=[{"name": str(n), **SLOW_READER} for n in range(8)])


def _moment(installation: Installation, evaluation: Evaluation) -> object:
    # as many pulses in the reader's memory as are taken
    kmh = min(3600 * 12_000 / evaluation.pulses_per_km, 1500.0)
    return bench_moment(installation, evaluation, Moment(profile=Profile.swept(kmh, kmh, 1), now_s=60, faults=FAULTS))


def _file(kind: str) -> Callable[[Installation, Evaluation], object]:
    def made(installation: Installation, evaluation: Evaluation) -> object:
        # as many pulses as are taken, clean: faults make several edges of each
        kmh = min(3600 * EDGES / evaluation.pulses_per_km / 61, 1500.0)
        run = Run(profile=Profile.swept(kmh, kmh, 1), seconds=60)
        return "\n".join(run_lines(kind, installation=installation, evaluation=evaluation, run=run, most_edges=EDGES))

    return made


def _placement(installation: Installation, evaluation: Evaluation) -> object:
    turn_s = evaluation.stages[0].value / 1000 / (installation.check_speed_kmh / 3.6) / evaluation.stages[1].value
    return view_placement(installation.target, installation.sensor, installation.placement or Placement(), turn_s)


def _spokes(installation: Installation, evaluation: Evaluation) -> object:
    magnets = installation.target.magnets or Magnets()
    return plan_spokes(
        installation.target.spokes or SpokeWheel(), installation.target.count, magnets.radius_mm, magnets.diameter_mm
    )


ROUTES: dict[str, Callable[[Installation, Evaluation], object]] = {
    "evaluate": lambda installation, evaluation: evaluate(installation),
    "compare-methods": lambda installation, evaluation: compare(installation.wheel, installation.vehicle_kind,
        float(installation.target.count), CYCLE_CHART),
    "over-speed": lambda installation, evaluation: over_speed(installation, evaluation, 0, None),
    "placement": _placement,
    "spokes": _spokes,
    "ring": lambda installation, evaluation: [write(ring_outline(installation.target, installation.sensor.kind))
        for write in WRITERS.values()],
    "signal": view_signal,
    "wiring/pdf": lambda installation, evaluation: wiring_pdf(wiring_sheet(installation, evaluation)),
    "bench/card/pdf": lambda installation, evaluation: card_pdf(installation, card_of(installation, evaluation)),
    "bench/hand": lambda installation, evaluation: (
        waves_for(installation, evaluation, 0, 10.0), spin_test(installation, evaluation, 10, 10.0),
        magnet_test(installation, evaluation, 10, 10.0)
    ),
    "bench/moment": _moment,
    "bench/files/csv": _file("csv"),
    "bench/files/vcd": _file("vcd"),
    "bench/files/nmea": lambda installation, evaluation: sentences(Receiver(), Profile.swept(0, 100, 1439), 1439),
    "tyre/preview": lambda installation, evaluation: change_tyre(installation, NewTyre(marking="205/55R16"),
        (installation,) * 8),
    "vehicle sheet": lambda installation, evaluation: vehicle_sheet(tuple(enumerate([installation] * 8)),
        SheetSettings(), CYCLE_CHART),
}  # fmt: skip


def cases(how_many: int) -> Iterator[tuple[Installation, Evaluation]]:
    """Documents that can be evaluated."""
    for installation in [read_installation(HEAVY), *documents(how_many, seed=7)]:
        try:
            yield installation, evaluate(installation)
        except SpeedchainError:
            continue


def worst(how_many: int) -> dict[str, list[float]]:
    """Longest time [s], largest peak [MB] and longest time over that of an evaluation, by route."""
    found: dict[str, list[float]] = {name: [0.0, 0.0, 0.0] for name in ROUTES}
    for installation, result in cases(0):  # imports, as the server has them made when it starts
        for route in ROUTES.values():
            with suppress(SpeedchainError):
                route(installation, result)
    for traced in (False, True):
        if traced:
            tracemalloc.start()
        for number, (installation, result) in enumerate(cases(how_many)):
            if traced and number > TRACED:  # tracing is slow
                break
            began = time.perf_counter()
            evaluate(read_installation(installation.model_dump(mode="json")))
            base = time.perf_counter() - began
            for name, route in ROUTES.items():
                if traced:
                    tracemalloc.reset_peak()
                began = time.perf_counter()
                try:
                    route(installation, result)
                except SpeedchainError:
                    continue
                took: Any = time.perf_counter() - began
                if traced:
                    found[name][1] = max(found[name][1], tracemalloc.get_traced_memory()[1] / 1e6)
                elif took > found[name][0]:
                    found[name][0], found[name][2] = took, took / base
    return found


def main() -> None:
    """Print the table."""
    how_many = int(sys.argv[1]) if len(sys.argv) > 1 else 200
    print("| route | longest, limit 1 s | times validate + evaluate | peak, limit 200 MB |\n|---|---|---|---|")
    for name, (seconds, megabytes, ratio) in worst(how_many).items():
        print(f"| {name} | {seconds:.2f} s | {ratio:.0f} × | {megabytes:.0f} MB |")


if __name__ == "__main__":
    main()
