"""Will this kind of sensor see this kind of target at all?"""

from __future__ import annotations

from speedchain.fields.evidence import Evidence
from speedchain.sensor.model import NO_TARGET, SEES, Sensor
from speedchain.stages.findings import Finding, WhyStep
from speedchain.stages.result import Figure, Stage, raised
from speedchain.target.model import Target


def evaluate_sensor(sensor: Sensor, target: Target, findings: list[Finding], gap_measured: bool = False) -> Stage:
    """The sensor link: pulses out per pulse of the target, 1 when it sees it and 0 when it cannot; measured once the
    gap is.

    >>> evaluate_sensor(Sensor(kind="reed"), Target(kind="toothed_ring", count=48), []).value
    0.0
    """
    sees = sensor.kind in NO_TARGET or target.kind in SEES[sensor.kind]
    kind, seen = sensor.kind.replace("_", " "), target.kind.replace("_", " ")
    if not sees:
        able = [name.replace("_", " ") for name, targets in SEES.items() if target.kind in targets]
        findings.append(
            Finding(
                "sensor.blind",
                "blocking",
                "sensor",
                f"A {kind} sensor cannot see a target of {seen}.",
                f"Use one of: {', '.join(able)}; or change the target.",
            )
        )
    evidence: Evidence = raised("measured" if gap_measured else "assumed", sensor.verification is not None)
    figure = Figure("pulses out per target pulse", float(sees), "", evidence, 0.0)
    why = (
        WhyStep(
            "one pulse for each that passes", f"{kind} on {seen}", "kinds that installation together: common practice"
        ),
    )
    known = "gap measured" if gap_measured else "kind named"
    grounds = "seen to switch" if sensor.verification is not None else f"{known}, not yet seen to switch"
    return Stage("sensor", (figure,), evidence, grounds, 0.0, why)
