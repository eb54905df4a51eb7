"""Rules about the sensor: whether it can detect the target at all, and its ratings."""

from __future__ import annotations

from collections.abc import Iterator

from speedchain.fields import joined
from speedchain.sensor.kinds import facts_of
from speedchain.sensor.model import NO_TARGET, SEES, Facts, Sensor, sees
from speedchain.stages import Finding, FindingCode, finding
from speedchain.target import Target


def sensor_rules(sensor: Sensor, target: Target) -> Iterator[Finding]:
    """Whether this kind of sensor can detect this kind of target."""
    if not sees(sensor.kind, target.kind):
        able = [kind.replace("_", " ") for kind, targets in SEES.items() if target.kind in targets]
        yield finding(
            FindingCode.BLIND,
            sensor=sensor.kind.replace("_", " "),
            target=target.kind.replace("_", " "),
            able=joined(", ", able),
        )


def supply_fits(facts: Facts, supply_v: float) -> bool:
    """Whether a supply lies within the sensor's range; a sensor without a supply takes any.

    Examples
    --------
    >>> supply_fits(facts_of(Sensor(kind="hall_gear_tooth")), 12), supply_fits(facts_of(Sensor(kind="radar")), 5)
    (True, False)
    """
    powered = facts.supply_max_v > 0 and facts.supply_min_v > 0
    return not powered or facts.supply_min_v <= supply_v <= facts.supply_max_v


def rating_rules(sensor: Sensor, *, top_hz: float, max_speed_kmh: float) -> Iterator[Finding]:
    """Whether the sensor's ratings cover frequency, supply and temperature; the last two when they are entered."""
    facts, needs = facts_of(sensor), sensor.needs
    source = "its data" if sensor.facts else "typical value for its kind"
    if top_hz > facts.max_frequency_hz and sensor.kind not in NO_TARGET:
        yield finding(
            FindingCode.SENSOR_TOO_FAST,
            "blocking" if sensor.facts else "warning",
            top_hz=top_hz,
            max_speed_kmh=max_speed_kmh,
            max_hz=facts.max_frequency_hz,
            source=source,
        )
    if needs is None:
        return
    if needs.supply_v is not None and not supply_fits(facts, needs.supply_v):
        yield finding(
            FindingCode.SENSOR_SUPPLY,
            "blocking" if sensor.facts else "warning",
            supply_v=needs.supply_v,
            min_v=facts.supply_min_v,
            max_v=facts.supply_max_v,
            source=source,
        )
    if needs.ambient_max_c is not None and needs.ambient_max_c > facts.temperature_max_c:
        yield finding(FindingCode.TOO_HOT, ambient_c=needs.ambient_max_c, max_c=facts.temperature_max_c, source=source)
