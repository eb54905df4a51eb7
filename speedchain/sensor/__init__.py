"""The sensor: its kind and facts, whether it can see the target, and which one suits."""

from speedchain.sensor.evaluate import SensorResult, evaluate_sensor
from speedchain.sensor.kinds import USUAL, facts_of
from speedchain.sensor.model import NO_TARGET, PAIRED, SEES, Facts, Needs, Sensor, SensorKind

__all__ = [
    "NO_TARGET",
    "PAIRED",
    "SEES",
    "USUAL",
    "Facts",
    "Needs",
    "Sensor",
    "SensorKind",
    "SensorResult",
    "evaluate_sensor",
    "facts_of",
]
