"""Rules about the target alone: even spacing."""

from __future__ import annotations

from collections.abc import Iterator

from speedchain.stages import Finding, FindingCode, finding
from speedchain.target.model import Target
from speedchain.target.spokes import chosen_spokes, spacing_of_deg, speed_ripple_pct

UNEVEN_PCT = 2.0
"""Speed ripple from which a display is seen to flicker. Common practice."""


def target_rules(target: Target) -> Iterator[Finding]:
    """Findings about the target."""
    if target.kind == "bolt_heads":
        yield finding(FindingCode.BOLT_HEADS)
    spokes = chosen_spokes(target)
    if len(spokes) > 1:
        low_pct, high_pct = speed_ripple_pct(spacing_of_deg(spokes))
        if max(-low_pct, high_pct) > UNEVEN_PCT:
            yield finding(FindingCode.UNEVEN, low_pct=low_pct, high_pct=high_pct)
