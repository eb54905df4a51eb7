"""The wheel stage: the circumference by the method in use, as it is now."""

from __future__ import annotations

import math

from speedchain.results import result
from speedchain.stages import Figure, Finding, Stage, raised
from speedchain.uncertainty import Budget, expanded_pct, standard_pct
from speedchain.wheel.chart import CYCLE_CHART, Chart
from speedchain.wheel.combination import all_values, combined
from speedchain.wheel.compare import disagreements
from speedchain.wheel.corrections import Correction, at_a_crawl, corrected, growth_factor
from speedchain.wheel.methods import progresses
from speedchain.wheel.model import Wheel
from speedchain.wheel.repeats import Progress
from speedchain.wheel.rules import wheel_rules


@result
class WheelDetail:
    """What is shown beside the stage: the corrections, how far each measurement has come, and the uncertainty's
    inputs."""

    corrections: tuple[Correction, ...]
    progress: tuple[Progress, ...]
    measured_mm: float
    budget: Budget


@result
class WheelResult:
    """The wheel's stage, detail and findings."""

    stage: Stage
    detail: WheelDetail
    findings: tuple[Finding, ...]


def evaluate_wheel(
    wheel: Wheel,
    *,
    vehicle_kind: str,
    pulses_per_turn: float = 1.0,
    speed_kmh: float = 100.0,
    chart: Chart = CYCLE_CHART,
) -> WheelResult:
    """The circumference [mm] by the method in use, with wear, load and growth.

    Parameters
    ----------
    wheel : the document's wheel.
    vehicle_kind : which decides the factor of a marking and the name of the figure.
    pulses_per_turn : of the target, which a paddle's constant counts.
    speed_kmh : the true speed [km/h], at which a soft tyre has grown.
    chart : the workshop's cycle chart.

    Examples
    --------
    >>> wheel = Wheel(method="marking", marking={"text": "195/45R14", "factor": "pi"})
    >>> round(evaluate_wheel(wheel, vehicle_kind="car").stage.value, 1)
    1668.5
    """
    values = all_values(wheel, vehicle_kind, pulses_per_turn)
    slow = at_a_crawl(wheel, values, vehicle_kind) if len(values) > 1 else {}
    chosen = combined(slow) if wheel.method == "combined" else values[wheel.method]
    now = corrected(wheel, chosen, speed_kmh, vehicle_kind)
    u_pct = standard_pct(now.budget)
    crawl_mm = now.circumference_mm / growth_factor(wheel, speed_kmh)
    evidence, grounds = raised(chosen.evidence, chosen.grounds, wheel.verification, crawl_mm)
    name = "run per turn of the paddle" if vehicle_kind == "boat" else "rolling circumference"
    lengths = {name: now.circumference_mm}
    if vehicle_kind != "boat":  # a paddle's run per turn is no circumference
        lengths["equivalent diameter"] = now.circumference_mm / math.pi
    figures = tuple(
        [
            Figure(name=label, value=value, unit="mm", evidence=evidence, relative_standard_uncertainty_pct=u_pct)
            for label, value in lengths.items()
        ]
    )
    progress = progresses(wheel, vehicle_kind)
    return WheelResult(
        stage=Stage(
            stage="wheel",
            figures=figures,
            evidence=evidence,
            grounds=grounds,
            relative_standard_uncertainty_pct=u_pct,
            coverage_factor=expanded_pct(now.budget) / u_pct,
            why=chosen.why + now.why,
        ),
        detail=WheelDetail(
            corrections=now.corrections, progress=progress, measured_mm=chosen.circumference_mm, budget=now.budget
        ),
        findings=tuple(
            wheel_rules(
                wheel,
                disagreements(wheel, slow, vehicle_kind, chart),
                progress,
                vehicle_kind=vehicle_kind,
                measured_mm=chosen.circumference_mm,
            )
        ),
    )
