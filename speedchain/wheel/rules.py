"""Rules about the wheel: cautions of its marking, methods that disagree, runs that scatter."""

from __future__ import annotations

import math
from collections.abc import Iterator, Mapping

from speedchain.stages import Finding, FindingCode, finding
from speedchain.wheel.compare import Disagreement
from speedchain.wheel.corrections import new_tread_mm
from speedchain.wheel.marking import parse_marking
from speedchain.wheel.model import Wheel
from speedchain.wheel.repeats import Progress

SCATTER_FACTOR = 3.0
"""Runs that scatter more than this many times what marks and tape explain need a check. Common practice."""


LEAST_DIAMETER_MM: Mapping[str, float] = {
    "car": 400, "motorcycle": 300, "scooter": 150, "sidecar": 300, "atv": 300, "kart": 200, "bicycle": 200,
    "e_bike": 200,
    "velomobile": 200, "cargo_trike": 200, "other": 40,
}  # fmt: skip
"""No wheel of this kind of vehicle is smaller; others 150 mm. Common practice."""

PADDLE_RUN_MM = (60.0, 1000.0)
"""One turn of a paddle wheel is between these; outside, a number is wrong. Common practice."""


def wheel_rules(
    wheel: Wheel,
    disagreements: tuple[Disagreement, ...],
    progress: tuple[Progress, ...],
    *,
    vehicle_kind: str,
    measured_mm: float,
) -> Iterator[Finding]:
    """Findings about the wheel, of the methods in use."""
    diameter_mm = measured_mm / math.pi
    typed = wheel.method in ("entered", "taped_circumference", "chart")
    if typed and vehicle_kind != "boat" and diameter_mm < LEAST_DIAMETER_MM.get(vehicle_kind, 150):
        yield finding(FindingCode.LIKE_A_DIAMETER, circumference_mm=measured_mm, diameter_mm=diameter_mm)
    if vehicle_kind == "boat" and not PADDLE_RUN_MM[0] <= measured_mm <= PADDLE_RUN_MM[1]:
        yield finding(FindingCode.PADDLE_RUN, run_m=measured_mm / 1000)
    now_mm, new_mm = wheel.corrections.tread_now_mm, new_tread_mm(wheel, vehicle_kind)
    if now_mm is not None and now_mm > new_mm:
        yield finding(FindingCode.TREAD_ABOVE_NEW, now_mm=now_mm, new_mm=new_mm)
    if wheel.marking is not None and (caution := parse_marking(wheel.marking.text).caution):
        yield finding(FindingCode.MARKING, caution=caution)
    for item in disagreements:
        if wheel.method in ("combined", item.first, item.second):
            yield item.finding
    roll_out = next((item for item in progress if item.method == "roll_out"), None)
    if roll_out is None or roll_out.scatter_mm is None or wheel.roll_out is None:
        return
    expected_mm = math.sqrt(2) * wheel.roll_out.mark_mm / wheel.roll_out.turns
    if roll_out.scatter_mm > SCATTER_FACTOR * expected_mm:
        yield finding(FindingCode.RUNS_SCATTER, scatter_mm=roll_out.scatter_mm, expected_mm=expected_mm)
