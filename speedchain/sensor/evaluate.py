"""The sensor stage: whether this kind of sensor detects this kind of target."""

from __future__ import annotations

from speedchain.fields import Evidence, text_of
from speedchain.results import result
from speedchain.sensor.model import Sensor, sees
from speedchain.sensor.rules import rating_rules, sensor_rules
from speedchain.stages import Figure, Finding, Stage, WhyStep
from speedchain.target import Target


@result
class SensorResult:
    """The sensor's stage and findings."""

    stage: Stage
    findings: tuple[Finding, ...]


def evaluate_sensor(
    sensor: Sensor, *, target: Target, gap_measured: bool = False, top_hz: float = 0.0, max_speed_kmh: float = 0.0
) -> SensorResult:
    """Pulses out per pulse of the target: 1 when the sensor detects it, 0 when it cannot.

    Parameters
    ----------
    sensor, target : of the document.
    gap_measured : whether the air gap was measured; the stage is then measured too.
    top_hz, max_speed_kmh : pulses of the target at top speed [Hz], and that speed [km/h].

    Examples
    --------
    >>> evaluate_sensor(Sensor(kind="reed"), target=Target(kind="toothed_ring", count=48)).stage.value
    0.0
    """
    detects = sees(sensor.kind, target.kind)
    measured: Evidence = "measured" if gap_measured else "assumed"
    evidence: Evidence = "verified" if sensor.verification is not None else measured
    figure = Figure(
        name="pulses out per target pulse",
        value=float(detects),
        unit="",
        evidence=evidence,
        relative_standard_uncertainty_pct=0.0,
    )
    pair = text_of("{0} on {1}", sensor.kind.replace("_", " "), target.kind.replace("_", " "))
    why = (
        WhyStep(
            formula="one pulse per target pulse", with_numbers=pair, source="kinds that work together: common practice"
        ),
    )
    known = "gap measured" if gap_measured else "kind entered"
    grounds = (
        "switching observed" if sensor.verification is not None else text_of("{0}, switching not yet observed", known)
    )
    findings = [*sensor_rules(sensor, target)]
    if detects:
        findings += rating_rules(sensor, top_hz=top_hz, max_speed_kmh=max_speed_kmh)
    return SensorResult(
        stage=Stage(
            stage="sensor",
            figures=(figure,),
            evidence=evidence,
            grounds=grounds,
            relative_standard_uncertainty_pct=0.0,
            why=why,
        ),
        findings=tuple(findings),
    )
