"""Rules about the shown speed: reads low on the road, too high, a neighbour's chart row, off the grid."""

from __future__ import annotations

from typing import TYPE_CHECKING

from speedchain.evidence import COVERAGE_FACTOR
from speedchain.findings import Finding
from speedchain.purposes import ON_THE_ROAD
from speedchain.readout.setting import NEGLIGIBLE_PCT, ROAD_PURPOSES, ReadoutResult
from speedchain.wheel.chart import neighbour_row

if TYPE_CHECKING:
    from speedchain.chain import Fit


def check_shown(fit: Fit, readout: ReadoutResult, chain_u_pct: float, findings: list[Finding]) -> None:
    """Add what there is to say about the number in one readout."""
    error_pct = readout.in_use.error_pct
    expanded_pct = COVERAGE_FACTOR * chain_u_pct
    advised = f"{readout.to_type.value:g} {readout.unit}"
    if (row := _copied_row(fit, readout)) is not None:
        findings.append(
            Finding(
                "readout.chart_neighbour",
                "warning" if abs(error_pct) < expanded_pct else "blocking",
                "readout",
                f"{readout.name}: {readout.in_use.value:g} mm is the chart row of {row}, but the tyre is marked "
                f"{fit.wheel.marking.text if fit.wheel.marking else ''}: the display shows {error_pct:+.1f} %.",
                f"Type {advised}.",
            )
        )
    if error_pct < -NEGLIGIBLE_PCT and fit.purpose in ROAD_PURPOSES:
        surely = -error_pct > expanded_pct
        findings.append(
            Finding(
                "readout.reads_low",
                "blocking" if surely else "warning",
                "readout",
                f"{readout.name} {'reads' if surely else 'may read'} low on the road: {readout.in_use.shown_kmh:.1f} km/h "
                f"shown at {fit.check_speed_kmh:g} km/h true.",
                f"Type {advised}; a road display never shows less than true. Check your local rules.",
            )
        )
    if fit.vehicle_kind in ON_THE_ROAD and fit.purpose in ROAD_PURPOSES:
        _check_band(fit.check_speed_kmh, readout, findings)
    if readout.typed is not None and not _on_grid(readout.typed, readout):
        findings.append(
            Finding(
                "readout.not_enterable",
                "warning",
                "readout",
                f"{readout.name} cannot hold {readout.typed:g} {readout.unit}: it takes {readout.minimum:g} to "
                f"{readout.maximum:g} in steps of {readout.step:g}.",
                "Read the display again.",
            )
        )


def _copied_row(fit: Fit, readout: ReadoutResult) -> str | None:
    if readout.typed is None or fit.wheel.marking is None or readout.encoding != "circumference_mm":
        return None
    row = neighbour_row(fit.wheel.marking.text, readout.typed)
    return row.label if row else None


def _check_band(true_kmh: float, readout: ReadoutResult, findings: list[Finding]) -> None:
    """UN Regulation 39, 5.4: 0 ≤ shown − true ≤ true/10 + 4 km/h; value from memory."""
    over_kmh = readout.in_use.shown_kmh - true_kmh
    allowed_kmh = true_kmh / 10 + 4
    if over_kmh > allowed_kmh:
        findings.append(
            Finding(
                "readout.above_band",
                "warning",
                "readout",
                f"{readout.name} shows {over_kmh:.1f} km/h too much at {true_kmh:g} km/h true; type approval allows "
                f"{allowed_kmh:.1f} km/h (UN Regulation 39).",
                f"Type {readout.to_type.value:g} {readout.unit}. Check your local rules.",
            )
        )


def _on_grid(value: float, readout: ReadoutResult) -> bool:
    places = value / readout.step
    return readout.minimum <= value <= readout.maximum and abs(places - round(places)) < 1e-6 * max(1.0, places)
