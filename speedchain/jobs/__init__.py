"""Job sheets: drawn up from an installation, done step by step, signed."""

from speedchain.jobs.facts import numbers_of
from speedchain.jobs.into import with_torques_of
from speedchain.jobs.law import Law, Power, setting_law
from speedchain.jobs.measured import belongs, with_measured
from speedchain.jobs.own import OWN, OwnJob, OwnStep, check_job, own_template
from speedchain.jobs.record import (
    Entry,
    StepRecord,
    before_signing,
    check_entry,
    on_paper,
    outcomes_of,
    records_of,
    said_of,
    text_now,
)
from speedchain.jobs.sheet import JobSheet, Offer, SheetStep, draw_up, draw_up_own, offered, refreshed, sheet_of
from speedchain.jobs.steps import STEP_KINDS, StepKind, StepTemplate, Template
from speedchain.jobs.templates import BY_CODE, TEMPLATES, WITH_DRAWINGS

__all__ = [
    "BY_CODE",
    "OWN",
    "STEP_KINDS",
    "TEMPLATES",
    "WITH_DRAWINGS",
    "Entry",
    "JobSheet",
    "Law",
    "Offer",
    "OwnJob",
    "OwnStep",
    "Power",
    "SheetStep",
    "StepKind",
    "StepRecord",
    "StepTemplate",
    "Template",
    "before_signing",
    "belongs",
    "check_entry",
    "check_job",
    "draw_up",
    "draw_up_own",
    "numbers_of",
    "offered",
    "on_paper",
    "outcomes_of",
    "own_template",
    "records_of",
    "refreshed",
    "said_of",
    "setting_law",
    "sheet_of",
    "text_now",
    "with_measured",
    "with_torques_of",
]
