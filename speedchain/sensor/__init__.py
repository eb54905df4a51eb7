"""The sensor: its kind and facts, whether it can see the target, and which one suits."""

from speedchain.sensor.kinds import USUAL, facts_of
from speedchain.sensor.model import NO_TARGET, PAIRED, SEES, Facts, Needs, Sensor, SensorKind
from speedchain.sensor.sight import evaluate_sensor

__all__ = [
    "NO_TARGET",
    "PAIRED",
    "SEES",
    "USUAL",
    "Facts",
    "Needs",
    "Sensor",
    "SensorKind",
    "evaluate_sensor",
    "facts_of",
]
