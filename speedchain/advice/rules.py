"""Rules about the whole installation: the purpose, and the number in each readout."""

from __future__ import annotations

import math
from collections.abc import Iterator

from speedchain.document import Installation
from speedchain.fields import EXACT_PCT, text_of
from speedchain.readout import ACCEPTED_COUNTS, ReadoutResult
from speedchain.regulations import Band, Side, forbids
from speedchain.results import result
from speedchain.stages import Finding, FindingCode, Parameter, finding
from speedchain.wheel import Chart, growth_factor, neighbour_row

FAR_PCT = 10.0
"""No tyre that fits a wheel differs by so much from another one. Common practice."""
BEYOND_ALL_PCT = 50.0
"""From here on it says nothing by how much more than is permitted: the needle is at its stop."""
FALSE_SLIP_PCT = 0.5
"""Above this ± a slip log shows false slip while cruising. Common practice."""
PADDLE_MOST_KMH = 45.0
"""About 25 knots: beyond, a paddle is often in air. Common practice."""


def purpose_rules(installation: Installation, expanded_pct: float) -> Iterator[Finding]:
    """Where the choices work against what the reading is for. Common practice."""
    sensor, target = installation.sensor.kind, installation.target.kind
    if sensor == "optical" and installation.vehicle_kind not in ("boat", "other") and installation.drive.kind == "hub":
        yield finding(FindingCode.OPTICAL_DIRT)
    if sensor == "variable_reluctance" and target == "magnets" and installation.signal.vr is None:
        yield finding(FindingCode.DYNAMO)
    fastest_kmh = installation.needs.max_speed_kmh
    if target == "paddle_magnets" and fastest_kmh > PADDLE_MOST_KMH:
        yield finding(FindingCode.PADDLE_FAST, max_speed_kmh=fastest_kmh, limit_kmh=PADDLE_MOST_KMH)
    match installation.purpose:
        case "slip_control" if expanded_pct > FALSE_SLIP_PCT:
            yield finding(FindingCode.FALSE_SLIP, expanded_pct=expanded_pct)
        case "brake_control":
            yield from _brake_control(installation)
        case "gearbox_or_gauge" if installation.drive.kind == "hub":
            yield finding(FindingCode.SHAFT)
        case "cycle_display" if installation.vehicle_kind in ("e_bike", "cargo_trike"):
            yield finding(FindingCode.ASSIST)
            yield finding(FindingCode.ASSIST_LIMIT)
        case "water_speed" if installation.target.kind != "paddle_magnets":
            yield finding(FindingCode.PADDLE)
        case "direction" if installation.placement is None or installation.placement.second_channel is None:
            yield finding(FindingCode.TWO_CHANNELS)


def _brake_control(installation: Installation) -> Iterator[Finding]:
    if installation.drive.kind != "hub":
        yield finding(FindingCode.BRAKE_AT_WHEEL)
    low, high = ACCEPTED_COUNTS
    stated = any(readout.entry == "counts" for readout in installation.readouts)
    if not stated and not low <= installation.target.count <= high:
        yield finding(FindingCode.BRAKE_CONTROL_COUNT, count=installation.target.count, min_count=low, max_count=high)


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
    past = _past_the_end(installation, readout)
    yield from past
    far = not past and readout.entry == "typed" and abs(error_pct) > max(FAR_PCT, 2 * expanded_pct)
    rule = installation.rule
    if rule is not None:
        beyond_all = bool(past) or error_pct > BEYOND_ALL_PCT
        yield from _permitted_range(installation, readout, rule, expanded_pct=expanded_pct, beyond_all=beyond_all)
    if far and not forbids(rule, error_pct):
        yield finding(FindingCode.FAR_OFF, readout=readout.name, error_pct=error_pct, action=readout.action)


def _past_the_end(installation: Installation, readout: ReadoutResult) -> list[Finding]:
    """Where the dial ends, or the converter holds its output, below the check speed."""
    entered = next(item for item in installation.readouts if item.name == readout.name)
    converter, true_kmh = installation.signal.converter, installation.check_speed_kmh
    would_kmh, shown_kmh = readout.shown_at_kmh(true_kmh), readout.shown.shown_kmh
    if shown_kmh >= would_kmh * (1 - EXACT_PCT / 100):
        return []
    dial_kmh = math.inf if entered.scale_end_kmh is None else entered.scale_end_kmh * true_kmh / would_kmh
    behind = converter is not None and not entered.before_converter
    held_kmh = (converter.cap_kmh if behind and converter else None) or math.inf
    end_kmh = min(dial_kmh, held_kmh)
    if math.isinf(end_kmh):
        return []
    on_scale = dial_kmh < held_kmh and true_kmh <= (entered.scale_end_kmh or 0.0)
    remedy = (
        text_of("{0}. A gauge that cannot be set needs a ratio converter.", readout.action)
        if on_scale
        else "Check it at a speed that it follows."
    )
    return [
        finding(
            FindingCode.PAST_THE_END,
            readout=readout.name,
            end_kmh=end_kmh,
            true_kmh=true_kmh,
            shown_kmh=shown_kmh,
            remedy=remedy,
        )
    ]


def _copied_row(installation: Installation, readout: ReadoutResult, chart: Chart) -> str | None:
    if readout.current_setting is None or installation.wheel.marking is None or readout.encoding != "circumference_mm":
        return None
    row = neighbour_row(installation.wheel.marking.text, readout.current_setting, chart)
    return row.label if row else None


@result
class _Shown:
    """One true speed, what is shown there, and on which side of what the rule permits that is [km/h]."""

    true_kmh: float
    shown_kmh: float
    low_kmh: float
    high_kmh: float
    side: Side


def _over_the_range(installation: Installation, readout: ReadoutResult, rule: Band) -> tuple[_Shown, ...]:
    """The speeds at which the rule is looked at, as far as the display follows. A soft tyre grows between them."""
    check_kmh = installation.check_speed_kmh
    entered = next(item for item in installation.readouts if item.name == readout.name)
    converter = installation.signal.converter
    cap_kmh = None if converter is None or entered.before_converter else converter.cap_kmh
    limits = (entered.scale_end_kmh, cap_kmh)
    end_kmh = min([installation.needs.max_speed_kmh, *[limit for limit in limits if limit]])
    here = growth_factor(installation.wheel, check_kmh)
    found = []
    for true_kmh in rule.looked_at_kmh(check_kmh, end_kmh):
        shown_kmh = readout.shown_at_kmh(true_kmh) * here / growth_factor(installation.wheel, true_kmh)
        low_kmh, high_kmh = rule.allowed_kmh(true_kmh)
        side = rule.side(true_kmh, shown_kmh)
        found.append(_Shown(true_kmh=true_kmh, shown_kmh=shown_kmh, low_kmh=low_kmh, high_kmh=high_kmh, side=side))
    return tuple(found)


def _permitted_range(
    installation: Installation, readout: ReadoutResult, rule: Band, *, expanded_pct: float, beyond_all: bool
) -> Iterator[Finding]:
    """Where what is shown leaves the rule that applies: at the check speed, else at the first speed at which it does.
    Of one that is off by a half and more it is said that it is, not by how much more than is permitted."""
    speeds = _over_the_range(installation, readout, rule)
    if (at := next((item for item in speeds if item.side == "under"), None)) is not None:
        sure = 100 * (at.low_kmh - at.shown_kmh) / at.true_kmh > expanded_pct
        shown: dict[str, Parameter] = {
            "readout": readout.name,
            "shown_kmh": at.shown_kmh,
            "true_kmh": at.true_kmh,
            "least_kmh": at.low_kmh,
            "rule": rule.label,
            "action": readout.action,
        }
        if sure:
            yield finding(FindingCode.UNDER_READS, **shown)
        else:
            yield finding(FindingCode.MAY_UNDER_READ, expanded_pct=expanded_pct, **shown)
    if not beyond_all and (at := next((item for item in speeds if item.side == "over"), None)) is not None:
        yield finding(
            FindingCode.ABOVE_RANGE,
            readout=readout.name,
            over_kmh=at.shown_kmh - at.true_kmh,
            true_kmh=at.true_kmh,
            permitted_kmh=at.high_kmh - at.true_kmh,
            rule=rule.label,
            action=readout.action,
        )
