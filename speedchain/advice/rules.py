"""Rules about the whole installation: the purpose, and the number in each readout."""

from __future__ import annotations

from collections.abc import Iterator

from speedchain.document import Installation
from speedchain.readout import NEGLIGIBLE_PCT, ReadoutResult
from speedchain.regulations import BANDS
from speedchain.results import result
from speedchain.stages import Finding, FindingCode, Parameter, finding
from speedchain.wheel import Chart, growth_factor, neighbour_row

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


TEST_SPEEDS_KMH = (40.0, 80.0, 120.0)
"""Speeds at which UN R39 §5.3 tests a speedometer; values from memory."""


@result
class _Shown:
    """One true speed, what is shown there, and what the rule permits there [km/h]."""

    true_kmh: float
    shown_kmh: float
    low_kmh: float
    high_kmh: float

    @property
    def under(self) -> bool:
        """Whether less is shown than the rule permits."""
        return self.shown_kmh < self.low_kmh * (1 - NEGLIGIBLE_PCT / 100)

    @property
    def over(self) -> bool:
        """Whether more is shown than the rule permits."""
        return self.shown_kmh > self.high_kmh


def _over_the_range(installation: Installation, readout: ReadoutResult) -> tuple[_Shown, ...]:
    """The check speed first, then the rule's own test speeds and the fastest, as far as the display follows.

    A rule that is given for one speed is looked at there alone. A soft tyre grows between the speeds.
    """
    band = BANDS[installation.speedometer_rule]
    check_kmh = installation.check_speed_kmh
    speeds: tuple[float, ...] = (check_kmh if band.at_kmh is None else band.at_kmh,)
    if band.at_kmh is None:
        entered = next(item for item in installation.readouts if item.name == readout.name)
        converter = installation.signal.converter
        cap_kmh = None if converter is None or entered.before_converter else converter.cap_kmh
        limits = (entered.scale_end_kmh, cap_kmh)
        end_kmh = min([installation.needs.max_speed_kmh, *[limit for limit in limits if limit]])
        speeds += tuple([v for v in (*TEST_SPEEDS_KMH, end_kmh) if v <= end_kmh and v != check_kmh])
    here = growth_factor(installation.wheel, check_kmh)
    found = []
    for true_kmh in speeds:
        low_kmh, high_kmh = band.allowed_kmh(true_kmh)
        grown = here / growth_factor(installation.wheel, true_kmh)
        found.append(
            _Shown(
                true_kmh=true_kmh,
                shown_kmh=readout.shown_at_kmh(true_kmh) * grown,
                low_kmh=low_kmh,
                high_kmh=high_kmh,
            )
        )
    return tuple(found)


def _permitted_range(installation: Installation, readout: ReadoutResult, expanded_pct: float) -> Iterator[Finding]:
    """Where what is shown leaves the rule that applies: at the check speed, else at the first speed at which it does."""
    rule, speeds = BANDS[installation.speedometer_rule].label, _over_the_range(installation, readout)
    if (at := next((item for item in speeds if item.under), None)) is not None:
        sure = 100 * (at.low_kmh - at.shown_kmh) / at.true_kmh > expanded_pct
        shown: dict[str, Parameter] = {
            "readout": readout.name,
            "shown_kmh": at.shown_kmh,
            "true_kmh": at.true_kmh,
            "least_kmh": at.low_kmh,
            "rule": rule,
            "action": readout.action,
        }
        if sure:
            yield finding(FindingCode.UNDER_READS, **shown)
        else:
            yield finding(FindingCode.MAY_UNDER_READ, expanded_pct=expanded_pct, **shown)
    if (at := next((item for item in speeds if item.over), None)) is not None:
        yield finding(
            FindingCode.ABOVE_RANGE,
            readout=readout.name,
            over_kmh=at.shown_kmh - at.true_kmh,
            true_kmh=at.true_kmh,
            permitted_kmh=at.high_kmh - at.true_kmh,
            rule=rule,
            action=readout.action,
        )
