"""What every stage yields: findings, and a result of one shape."""

from speedchain.stages.findings import STAND_CAUTION, Finding, FindingCode, Parameter, Severity, WhyStep, finding
from speedchain.stages.result import Figure, Grounded, Stage, budget_of, raised

__all__ = [
    "STAND_CAUTION",
    "Figure",
    "Finding",
    "FindingCode",
    "Grounded",
    "Parameter",
    "Severity",
    "Stage",
    "WhyStep",
    "budget_of",
    "finding",
    "raised",
]
