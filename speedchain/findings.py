"""A rule with a limit, once it has something to say: which link, how bad, and what to do."""

from __future__ import annotations

from typing import Literal

from speedchain.evidence import LinkName
from speedchain.results import result

Severity = Literal["blocking", "warning", "note"]


@result
class Finding:
    """What a rule found. `blocking` means the shown speed cannot be trusted until it is mended."""

    code: str
    severity: Severity
    link: LinkName
    message: str
    remedy: str


@result
class WhyStep:
    """One step of the arithmetic: the formula, the same with this fit's numbers, and where it is from."""

    formula: str
    with_numbers: str
    source: str
