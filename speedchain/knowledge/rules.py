"""Rules about what was observed of the chain."""

from __future__ import annotations

from collections.abc import Iterator

from speedchain.knowledge.estimate import ChainEstimate
from speedchain.stages import Finding, FindingCode, finding


def knowledge_rules(known: ChainEstimate) -> Iterator[Finding]:
    """Findings where parts and observations disagree, or where observations are older than a change."""
    if not known.agree:
        counted = [item for item in known.observations if not item.stale]
        observed = max(counted, key=lambda item: (item.weight, -item.expanded_pct)).pulses_per_km
        yield finding(
            FindingCode.OBSERVED_OTHERWISE,
            observed_per_km=observed,
            parts_per_km=known.parts_pulses_per_km,
            difference_pct=100 * (observed / known.parts_pulses_per_km - 1),
            explained_by=known.explained_by,
        )
    old = [item for item in known.observations if item.stale]
    if old:
        yield finding(FindingCode.OBSERVED_BEFORE, count=len(old), total=len(known.observations), reason=old[-1].stale)
