"""The wheel link: the circumference by the method in use, as it is now, and what speaks against it."""

from __future__ import annotations

import math

from speedchain.results import result
from speedchain.stages.findings import Finding
from speedchain.stages.result import Figure, Stage, raised
from speedchain.wheel.chart import CYCLE_CHART, Chart
from speedchain.wheel.combination import all_values, combined
from speedchain.wheel.compare import disagreements
from speedchain.wheel.corrections import Correction, corrected
from speedchain.wheel.marking import parse_marking
from speedchain.wheel.methods import progresses
from speedchain.wheel.model import Wheel
from speedchain.wheel.repeats import Progress

SCATTER_FACTOR = 3.0
"""Runs that scatter more than this many times what marks and tape explain call for a look. Common practice."""


@result
class WheelDetail:
    """What the wheel's place shows beside the link: the corrections, and how far each measurement has come."""

    corrections: tuple[Correction, ...]
    progress: tuple[Progress, ...]
    measured_mm: float


def evaluate_wheel(
    wheel: Wheel,
    vehicle_kind: str,
    findings: list[Finding],
    pulses_per_turn: float = 1.0,
    speed_kmh: float = 100.0,
    chart: Chart = CYCLE_CHART,
) -> tuple[Stage, WheelDetail]:
    """The wheel link by the method in use; disagreements between methods go to `findings`.

    Parameters: the wheel; the kind of vehicle; where findings go; pulses per turn of the target, which a paddle's
    constant counts; the true speed [km/h], at which a soft tyre has grown; the workshop's cycle chart.

    >>> wheel = Wheel(method="marking", marking={"text": "195/45R14", "factor": "pi"})
    >>> round(evaluate_wheel(wheel, "car", [])[0].value, 1)
    1668.5
    """
    values = all_values(wheel, vehicle_kind, pulses_per_turn)
    chosen = combined(values) if wheel.method == "combined" else values[wheel.method]
    now = corrected(wheel, chosen.circumference_mm, chosen.u_pct, speed_kmh)
    evidence = raised(chosen.evidence, wheel.verification is not None)
    name = "run per turn of the paddle" if vehicle_kind == "boat" else "rolling circumference"
    figures = (
        Figure(name, now.circumference_mm, "mm", evidence, now.u_pct),
        Figure("equivalent diameter", now.circumference_mm / math.pi, "mm", evidence, now.u_pct),
    )
    if wheel.marking is not None and (caution := parse_marking(wheel.marking.text).caution):
        findings.append(Finding("wheel.marking", "note", "wheel", caution, "Compare with the tyre's sidewall."))
    for found in disagreements(wheel, values, vehicle_kind, chart):
        if wheel.method in ("combined", found.first, found.second):
            findings.append(Finding("wheel.methods_disagree", "warning", "wheel", found.words, found.remedy))
    progress = progresses(wheel)
    _check_scatter(progress, wheel, findings)
    detail = WheelDetail(now.corrections, progress, chosen.circumference_mm)
    return Stage("wheel", figures, evidence, chosen.grounds, now.u_pct, chosen.why + now.why), detail


def _check_scatter(progress: tuple[Progress, ...], wheel: Wheel, findings: list[Finding]) -> None:
    for one in progress:
        if one.method != "roll_out" or one.scatter_mm is None or wheel.roll_out is None:
            continue
        expected = math.sqrt(2) * wheel.roll_out.mark_mm / wheel.roll_out.turns
        if one.scatter_mm > SCATTER_FACTOR * expected:
            findings.append(
                Finding(
                    "wheel.runs_scatter",
                    "warning",
                    "wheel",
                    f"The runs scatter by {one.scatter_mm:.1f} mm a turn; marks and tape explain {expected:.1f} mm.",
                    "Look for a miscounted turn, a curve in the path or a tyre losing air; roll once more.",
                )
            )
