"""What every stage yields: findings, and a result of one shape."""

from speedchain.stages.findings import STAND_CAUTION, Finding, FindingCode, Parameter, WhyStep, finding
from speedchain.stages.result import Figure, Grounded, Stage, raised

__all__ = [
    "STAND_CAUTION",
    "Figure",
    "Finding",
    "FindingCode",
    "Grounded",
    "Parameter",
    "Stage",
    "WhyStep",
    "finding",
    "raised",
]
