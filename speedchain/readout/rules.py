"""Rules about a readout alone: its entry range, what it can hold, and its lowest speed."""

from __future__ import annotations

from collections.abc import Iterator

from speedchain.readout.entry_range import dial_of
from speedchain.readout.evaluate import ReadoutResult
from speedchain.readout.model import Readout
from speedchain.stages import Finding, FindingCode, finding


def readout_rules(readout: Readout, outcome: ReadoutResult, *, check_speed_kmh: float) -> Iterator[Finding]:
    """Findings about one readout; speeds [km/h]."""
    name, unit = readout.name, outcome.unit
    if readout.encoding != "frequency_table" and not outcome.minimum <= outcome.exact <= outcome.maximum:
        dial = dial_of(readout)
        yield finding(
            FindingCode.OUT_OF_RANGE_PER_TURN if dial.encoding.per_turn else FindingCode.OUT_OF_RANGE,
            readout=name,
            exact=f"{outcome.exact:.6g}\u00a0{unit}",
            minimum=f"{outcome.minimum:g}",
            maximum=f"{outcome.maximum:g}\u00a0{unit}",
            nearest=f"{outcome.nearest.text}\u00a0{unit}",
        )
    if not outcome.can_hold_current:
        yield finding(
            FindingCode.NOT_ENTERABLE,
            readout=name,
            setting=outcome.current_setting or 0.0,
            unit=unit,
            minimum=outcome.minimum,
            maximum=outcome.maximum,
            step=outcome.step,
        )
    if outcome.timing.min_speed_kmh > check_speed_kmh:
        yield finding(
            FindingCode.TOO_SLOW,
            readout=name,
            min_kmh=outcome.timing.min_speed_kmh,
            cause=outcome.timing.lowest_by,
            true_kmh=check_speed_kmh,
        )
