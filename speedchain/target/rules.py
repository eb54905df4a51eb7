"""Rules about the target alone: its count for brake control, and even spacing."""

from __future__ import annotations

from collections.abc import Iterator

from speedchain.stages import Finding, FindingCode, finding
from speedchain.target.model import Target
from speedchain.target.spokes import chosen_spokes, spacing_of_deg, speed_ripple_pct

BRAKE_CONTROL_TEETH = (40, 50)
"""Teeth per turn that common replacement brake-control units need, equal at all wheels. Common practice."""
UNEVEN_PCT = 2.0
"""Speed ripple from which a display is seen to flicker. Common practice."""


def target_rules(target: Target, purpose: str) -> Iterator[Finding]:
    """Findings about the target."""
    low, high = BRAKE_CONTROL_TEETH
    if purpose == "brake_control" and not low <= target.count <= high:
        yield finding(FindingCode.BRAKE_CONTROL_COUNT, count=target.count, min_count=low, max_count=high)
    spokes = chosen_spokes(target)
    if len(spokes) > 1:
        low_pct, high_pct = speed_ripple_pct(spacing_of_deg(spokes))
        if max(-low_pct, high_pct) > UNEVEN_PCT:
            yield finding(FindingCode.UNEVEN, low_pct=low_pct, high_pct=high_pct)
