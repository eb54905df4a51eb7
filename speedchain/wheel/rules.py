"""Rules about the wheel: cautions of its marking, methods that disagree, runs that scatter."""

from __future__ import annotations

import math
from collections.abc import Iterator

from speedchain.stages import Finding, FindingCode, finding
from speedchain.wheel.compare import Disagreement
from speedchain.wheel.marking import parse_marking
from speedchain.wheel.model import Wheel
from speedchain.wheel.repeats import Progress

SCATTER_FACTOR = 3.0
"""Runs that scatter more than this many times what marks and tape explain need a check. Common practice."""


def wheel_rules(
    wheel: Wheel, disagreements: tuple[Disagreement, ...], progress: tuple[Progress, ...]
) -> Iterator[Finding]:
    """Findings about the wheel, of the methods in use."""
    if wheel.marking is not None and (caution := parse_marking(wheel.marking.text).caution):
        yield finding(FindingCode.MARKING, caution=caution)
    for item in disagreements:
        if wheel.method in ("combined", item.first, item.second):
            yield item.finding
    roll_out = next((item for item in progress if item.method == "roll_out"), None)
    if roll_out is None or roll_out.scatter_mm is None or wheel.roll_out is None:
        return
    expected_mm = math.sqrt(2) * wheel.roll_out.mark_mm / wheel.roll_out.turns
    if roll_out.scatter_mm > SCATTER_FACTOR * expected_mm:
        yield finding(FindingCode.RUNS_SCATTER, scatter_mm=roll_out.scatter_mm, expected_mm=expected_mm)
