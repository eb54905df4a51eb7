"""Rules about the whole installation, the next measurement, and procedures."""

from speedchain.advice.cautions import CAUTIONS, CautionShown, Task, caution_at, cautions_of
from speedchain.advice.next_action import NextAction, next_action
from speedchain.advice.procedures import PROCEDURES, Guide, guide_for, guides_of, guides_with
from speedchain.advice.rules import purpose_rules, shown_rules

__all__ = [
    "CAUTIONS",
    "PROCEDURES",
    "CautionShown",
    "Guide",
    "NextAction",
    "Task",
    "caution_at",
    "cautions_of",
    "guide_for",
    "guides_of",
    "guides_with",
    "next_action",
    "purpose_rules",
    "shown_rules",
]
