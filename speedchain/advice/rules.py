"""Rules about the whole installation: the purpose, and the number in each readout."""

from __future__ import annotations

from collections.abc import Iterator

from speedchain.document import Installation
from speedchain.readout import NEGLIGIBLE_PCT, ReadoutResult
from speedchain.regulations import BANDS
from speedchain.stages import Finding, FindingCode, Parameter, finding
from speedchain.wheel import Chart, neighbour_row

FALSE_SLIP_PCT = 0.5
"""Above this ± a slip log shows false slip while cruising. Common practice."""


def purpose_rules(installation: Installation, expanded_pct: float) -> Iterator[Finding]:
    """Where the choices work against what the reading is for. Common practice."""
    match installation.purpose:
        case "slip_control" if expanded_pct > FALSE_SLIP_PCT:
            yield finding(FindingCode.FALSE_SLIP, expanded_pct=expanded_pct)
        case "brake_control" if installation.drive.kind != "hub":
            yield finding(FindingCode.BRAKE_AT_WHEEL)
        case "gearbox_or_gauge" if installation.drive.kind == "hub":
            yield finding(FindingCode.SHAFT)
        case "cycle_display" if installation.vehicle_kind in ("e_bike", "cargo_trike"):
            yield finding(FindingCode.ASSIST)
            yield finding(FindingCode.ASSIST_LIMIT)
        case "water_speed" if installation.target.kind != "paddle_magnets":
            yield finding(FindingCode.PADDLE)
        case "direction" if installation.placement is None or installation.placement.second_channel is None:
            yield finding(FindingCode.TWO_CHANNELS)


def shown_rules(
    installation: Installation, readout: ReadoutResult, *, expanded_pct: float, chart: Chart
) -> Iterator[Finding]:
    """What the number in a readout makes it show, against the tyre's chart row and the legal limits."""
    error_pct = readout.in_use.error_pct
    if (row := _copied_row(installation, readout, chart)) is not None:
        yield finding(
            FindingCode.CHART_NEIGHBOUR,
            "warning" if abs(error_pct) < expanded_pct else "blocking",
            readout=readout.name,
            setting=readout.in_use.text,
            row=row,
            marking=installation.wheel.marking.text if installation.wheel.marking else "",
            error_pct=error_pct,
            action=readout.action,
        )
    if installation.band_applies():
        yield from _permitted_range(installation, readout, expanded_pct)


def _copied_row(installation: Installation, readout: ReadoutResult, chart: Chart) -> str | None:
    if readout.current_setting is None or installation.wheel.marking is None or readout.encoding != "circumference_mm":
        return None
    row = neighbour_row(installation.wheel.marking.text, readout.current_setting, chart)
    return row.label if row else None


def _permitted_range(installation: Installation, readout: ReadoutResult, expanded_pct: float) -> Iterator[Finding]:
    """What the rule that applies permits at the check speed, or at the one speed for which it is given."""
    band = BANDS[installation.speedometer_rule]
    true_kmh = installation.check_speed_kmh if band.at_kmh is None else band.at_kmh
    shown_kmh = readout.shown_at_kmh(true_kmh)
    low_kmh, high_kmh = band.allowed_kmh(true_kmh)
    if shown_kmh < low_kmh * (1 - NEGLIGIBLE_PCT / 100):
        sure = 100 * (low_kmh - shown_kmh) / true_kmh > expanded_pct
        shown: dict[str, Parameter] = {
            "readout": readout.name,
            "shown_kmh": shown_kmh,
            "true_kmh": true_kmh,
            "least_kmh": low_kmh,
            "rule": band.label,
            "action": readout.action,
        }
        if sure:
            yield finding(FindingCode.UNDER_READS, **shown)
        else:
            yield finding(FindingCode.MAY_UNDER_READ, expanded_pct=expanded_pct, **shown)
    if shown_kmh > high_kmh:
        yield finding(
            FindingCode.ABOVE_RANGE,
            readout=readout.name,
            over_kmh=shown_kmh - true_kmh,
            true_kmh=true_kmh,
            permitted_kmh=high_kmh - true_kmh,
            rule=band.label,
            action=readout.action,
        )
