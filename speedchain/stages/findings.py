"""A rule with a limit, once it has something to say: which link, how bad, and what to do."""

from __future__ import annotations

from typing import Literal

from speedchain.fields.evidence import StageName
from speedchain.results import result

Severity = Literal["blocking", "warning", "note"]


@result
class Finding:
    """What a rule found. `blocking` means the shown speed cannot be trusted until it is corrected."""

    code: str
    severity: Severity
    stage: StageName
    message: str
    remedy: str


@result
class WhyStep:
    """One step of the arithmetic: the formula, the same with this installation's numbers, and where it is from."""

    formula: str
    with_numbers: str
    source: str
