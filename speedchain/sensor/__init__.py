"""The sensor: its kind, and whether that kind can see the target."""

from speedchain.sensor.model import SEES, Sensor, SensorKind
from speedchain.sensor.sight import evaluate_sensor

__all__ = ["SEES", "Sensor", "SensorKind", "evaluate_sensor"]
