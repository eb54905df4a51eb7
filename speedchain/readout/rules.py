"""Rules about a readout alone: its entry range, what it can hold, and its lowest speed."""

from __future__ import annotations

from collections.abc import Iterator

from speedchain.fields import text_of
from speedchain.readout.evaluate import ReadoutResult
from speedchain.readout.model import Readout
from speedchain.stages import Finding, FindingCode, finding


def _range_rules(readout: Readout, outcome: ReadoutResult) -> Iterator[Finding]:
    """The exact setting against the entry range, or against the usual one where that is not entered."""
    how = readout.how()
    unit = outcome.unit
    said = {"readout": readout.name, "exact": text_of("{0:.6g}\u00a0{1}", outcome.exact, unit)}
    if not outcome.minimum <= outcome.exact <= outcome.maximum:
        yield finding(
            FindingCode.OUT_OF_RANGE_PER_TURN if how.per_turn else FindingCode.OUT_OF_RANGE,
            **said,
            minimum=text_of("{0:g}", outcome.minimum),
            maximum=text_of("{0:g}\u00a0{1}", outcome.maximum, unit),
            nearest=text_of("{0}\u00a0{1}", outcome.nearest.text, unit),
        )
    elif readout.encoding != "chart_code" and not how.minimum <= outcome.exact <= how.maximum:
        low = how.minimum if readout.minimum is None else min(readout.minimum, how.minimum)
        high = how.maximum if readout.maximum is None else max(readout.maximum, how.maximum)
        if not low <= outcome.exact <= high:
            yield finding(
                FindingCode.UNUSUAL_SETTING_PER_TURN if how.per_turn else FindingCode.UNUSUAL_SETTING,
                **said,
                minimum=text_of("{0:g}", how.minimum),
                maximum=text_of("{0:g}\u00a0{1}", how.maximum, unit),
            )


def readout_rules(readout: Readout, outcome: ReadoutResult, *, check_speed_kmh: float) -> Iterator[Finding]:
    """Findings about one readout; speeds [km/h]."""
    name, unit = readout.name, outcome.unit
    if readout.entry == "typed" and readout.encoding != "frequency_table":
        yield from _range_rules(readout, outcome)
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
