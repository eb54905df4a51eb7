"""Rules about the whole installation: the purpose, the shown speed, and the number in the display."""

from __future__ import annotations

from speedchain.document.installation import Installation
from speedchain.fields.evidence import StageName
from speedchain.readout import ReadoutResult
from speedchain.readout.setting import NEGLIGIBLE_PCT, ROAD_PURPOSES
from speedchain.regulations.speedometer import BANDS
from speedchain.stages.findings import Finding, Severity
from speedchain.uncertainty.propagation import COVERAGE_FACTOR
from speedchain.wheel.chart import Chart, neighbour_row

PHANTOM_PCT = 0.5
"""Above this ± a slip log sees slip that is not there while cruising. Common practice."""


def check_purpose(installation: Installation, chain_u_pct: float, findings: list[Finding]) -> None:
    """Say where the choices work against what the reading is for. Common practice."""
    expanded_pct = COVERAGE_FACTOR * chain_u_pct
    if installation.purpose == "slip_control" and expanded_pct > PHANTOM_PCT:
        _add(
            findings,
            "purpose.false_slip",
            "note",
            "wheel",
            f"The ± {expanded_pct:.1f} % of this installation is false slip to a slip log: it would see slip while cruising.",
            "Roll out both wheels that are compared, and keep the dead band above what is left.",
        )
    if installation.purpose == "brake_control" and installation.drive.kind != "hub":
        _add(
            findings,
            "purpose.brake_at_wheel",
            "warning",
            "drive",
            "A brake-control unit compares the four wheels; a shaft turns with the mean of two.",
            "Sense at every wheel, with equal counts. Leave brake control to qualified hands.",
        )
    if installation.purpose == "gearbox_or_gauge" and installation.drive.kind == "hub":
        _add(
            findings,
            "purpose.shaft",
            "note",
            "drive",
            "Gearbox controllers and gauges expect the output shaft, which turns with both driven wheels.",
            "Sense the shaft and enter the axle ratio, or check that the controller takes a wheel.",
        )
    if installation.purpose == "cycle_display" and installation.vehicle_kind in ("e_bike", "cargo_trike"):
        _add(
            findings,
            "purpose.assist",
            "note",
            "sensor",
            "An assist motor needs the sensor and magnet its maker uses: not seen is a fault code and no assistance.",
            "Leave the maker's sensor in place. Feeding an assist motor another speed may be unlawful.",
        )
    if installation.purpose == "water_speed" and installation.target.kind != "paddle_magnets":
        _add(
            findings,
            "purpose.paddle",
            "warning",
            "target",
            "Speed through water is taken by a paddle; what turns on the ground says nothing of it.",
            "Use a paddle flush with the hull, clear of propeller wash.",
        )
    if installation.purpose == "direction" and (
        installation.placement is None or installation.placement.second_channel is None
    ):
        _add(
            findings,
            "purpose.two_channels",
            "note",
            "target",
            "One channel cannot tell forwards from backwards.",
            "Installation a second one, a quarter of the pitch further along; whichever leads tells the direction.",
        )


def check_shown(
    installation: Installation, readout: ReadoutResult, chain_u_pct: float, chart: Chart, findings: list[Finding]
) -> None:
    """Add what there is to say about the number in one readout."""
    error_pct = readout.in_use.error_pct
    expanded_pct = COVERAGE_FACTOR * chain_u_pct
    advised = f"{readout.to_type.text} {readout.unit}"
    if (row := _copied_row(installation, readout, chart)) is not None:
        _add(
            findings,
            "readout.chart_neighbour",
            "warning" if abs(error_pct) < expanded_pct else "blocking",
            "readout",
            f"{readout.name}: {readout.in_use.text} mm is the chart row of {row}, but the tyre is marked "
            f"{installation.wheel.marking.text if installation.wheel.marking else ''}: the display shows {error_pct:+.1f} %.",
            f"Type {advised}.",
        )
    if error_pct < -NEGLIGIBLE_PCT and installation.purpose in ROAD_PURPOSES:
        surely = -error_pct > expanded_pct
        _add(
            findings,
            "readout.reads_low",
            "blocking" if surely else "warning",
            "readout",
            f"{readout.name} {'reads' if surely else 'may read'} low on the road: {readout.in_use.shown_kmh:.1f} km/h "
            f"shown at {installation.check_speed_kmh:g} km/h true.",
            f"Type {advised}; a road display never shows less than true. Check your local rules.",
        )
    if installation.band_applies():
        _check_band(installation, readout, findings)
    if not readout.can_hold_current:
        _add(
            findings,
            "readout.not_enterable",
            "warning",
            "readout",
            f"{readout.name} cannot hold {readout.current_setting:g} {readout.unit}: it takes {readout.minimum:g} to "
            f"{readout.maximum:g} in steps of {readout.step:g}.",
            "Read the display again.",
        )
    if readout.timing.min_speed_kmh > installation.check_speed_kmh:
        _add(
            findings,
            "readout.too_slow",
            "blocking",
            "readout",
            f"{readout.name} shows nothing below {readout.timing.min_speed_kmh:.1f} km/h, because of "
            f"{readout.timing.lowest_by}; the speed to check is {installation.check_speed_kmh:g} km/h.",
            "Use more teeth or magnets, or a longer time-out.",
        )


def _copied_row(installation: Installation, readout: ReadoutResult, chart: Chart) -> str | None:
    if readout.current_setting is None or installation.wheel.marking is None or readout.encoding != "circumference_mm":
        return None
    row = neighbour_row(installation.wheel.marking.text, readout.current_setting, chart)
    return row.label if row else None


def _check_band(installation: Installation, readout: ReadoutResult, findings: list[Finding]) -> None:
    band, true_kmh = BANDS[installation.speedometer_rule], installation.check_speed_kmh
    if band.at_kmh is not None:
        true_kmh = band.at_kmh
    shown_kmh = true_kmh * (1 + readout.in_use.error_pct / 100)
    allowed_kmh = band.allowed_kmh(true_kmh)[1]
    if shown_kmh > allowed_kmh:
        _add(
            findings,
            "readout.above_band",
            "warning",
            "readout",
            f"{readout.name} shows {shown_kmh - true_kmh:.1f} km/h too much at {true_kmh:.4g} km/h true; "
            f"{allowed_kmh - true_kmh:.1f} km/h are allowed ({band.label}).",
            f"Type {readout.to_type.text} {readout.unit}. Check your local rules.",
        )


def _add(findings: list[Finding], code: str, severity: Severity, stage: StageName, message: str, remedy: str) -> None:
    findings.append(Finding(code, severity, stage, message, remedy))
