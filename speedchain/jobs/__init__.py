"""Job sheets: drawn up from an installation, done step by step, signed."""

from speedchain.jobs.facts import conditions_of, numbers_of
from speedchain.jobs.law import Law, Power, setting_law
from speedchain.jobs.measured import belongs, with_measured
from speedchain.jobs.own import OWN, OwnJob, OwnStep, own_template
from speedchain.jobs.record import (
    Entry,
    StepRecord,
    before_signing,
    check_entry,
    outcomes_of,
    records_of,
    said_of,
    text_now,
)
from speedchain.jobs.sheet import TORQUE_UNITS, JobSheet, Offer, SheetStep, draw_up, offered, refreshed, sheet_of
from speedchain.jobs.steps import STEP_KINDS, StepTemplate, Template
from speedchain.jobs.templates import BY_CODE, TEMPLATES, WITH_DRAWINGS

__all__ = [
    "BY_CODE",
    "OWN",
    "STEP_KINDS",
    "TEMPLATES",
    "TORQUE_UNITS",
    "WITH_DRAWINGS",
    "Entry",
    "JobSheet",
    "Law",
    "Offer",
    "OwnJob",
    "OwnStep",
    "Power",
    "SheetStep",
    "StepRecord",
    "StepTemplate",
    "Template",
    "before_signing",
    "belongs",
    "check_entry",
    "conditions_of",
    "draw_up",
    "numbers_of",
    "offered",
    "outcomes_of",
    "own_template",
    "records_of",
    "refreshed",
    "said_of",
    "setting_law",
    "sheet_of",
    "text_now",
    "with_measured",
]
