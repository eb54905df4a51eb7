"""The sensor: its kind and facts, whether it can see the target, and which one suits."""

from speedchain.sensor.evaluate import SensorResult, evaluate_sensor
from speedchain.sensor.kinds import USUAL, WORDS, facts_asked, facts_of
from speedchain.sensor.model import (
    NO_TARGET,
    OUTPUTS,
    PAIRED,
    SEES,
    SPOT_FEATURES,
    WIRE_ROLES,
    Facts,
    MakerGap,
    Needs,
    Output,
    Sensor,
    SensorKind,
    Wire,
    WireRole,
    detects,
    sees,
)
from speedchain.sensor.requirements import Requirements, requirements_of
from speedchain.sensor.rules import supply_fits

__all__ = [
    "NO_TARGET",
    "OUTPUTS",
    "PAIRED",
    "SEES",
    "SPOT_FEATURES",
    "USUAL",
    "WIRE_ROLES",
    "WORDS",
    "Facts",
    "MakerGap",
    "Needs",
    "Output",
    "Requirements",
    "Sensor",
    "SensorKind",
    "SensorResult",
    "Wire",
    "WireRole",
    "detects",
    "evaluate_sensor",
    "facts_asked",
    "facts_of",
    "requirements_of",
    "sees",
    "supply_fits",
]
