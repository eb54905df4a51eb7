"""What a display may show, by rule: the one place that decides it."""

from speedchain.regulations.speedometer import (
    BANDS,
    SPEEDOMETER_RULES,
    Band,
    BandCode,
    Rounding,
    Side,
    forbids,
    rounding_under,
    rule_for,
    rule_text,
)

__all__ = [
    "BANDS",
    "SPEEDOMETER_RULES",
    "Band",
    "BandCode",
    "Rounding",
    "Side",
    "forbids",
    "rounding_under",
    "rule_for",
    "rule_text",
]
