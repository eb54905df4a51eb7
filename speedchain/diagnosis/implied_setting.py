"""What a number in a display means: what the reader implies with it, how wrong it is, and what most likely happened."""

from __future__ import annotations

import math
from collections.abc import Iterator

from speedchain.diagnosis.mistakes import Setup, setting_mistakes
from speedchain.document import Installation
from speedchain.readout import ReadoutResult
from speedchain.results import result
from speedchain.uncertainty import (
    COVERAGE_FACTOR,
    Hypothesis,
    Likely,
    Verdict,
    combine_pct,
    likeliest,
    sentence_on,
    verdict_on,
)
from speedchain.wheel import Chart, chart_row_of, parse_marking


@result
class ImpliedSetting:
    """What one display implies with the number in it: pulses per km, run per turn of the wheel, error, likely causes."""

    readout: int
    pulses_per_km: float
    run_per_turn_mm: float
    diameter_mm: float
    error_pct: float
    verdict: Verdict
    sentence: str
    text: str
    causes: tuple[Likely, ...]


def _rows(installation: Installation, readout: ReadoutResult, wheel_mm: float, chart: Chart) -> Iterator[Hypothesis]:
    if installation.wheel.marking is None or readout.encoding != "circumference_mm":
        return
    marking, right = (
        parse_marking(installation.wheel.marking.text),
        chart_row_of(installation.wheel.marking.text, chart),
    )
    for row in chart:
        if row.bead_seat_mm == marking.rim_mm and row != right:
            exactly = readout.current_setting is not None and abs(readout.current_setting - row.circumference_mm) < 0.5
            text = f"the setting is the chart row of {row.label}, but the tyre is {marking.text}"
            yield Hypothesis(
                code="chart",
                ratio=row.circumference_mm / wheel_mm,
                prior=6.0 if exactly else 0.1,
                text=text,
                fix="",
                decisive=exactly,
            )


def setup_of(installation: Installation, readout: ReadoutResult, *, ratio: float, ratio_known: bool) -> Setup:
    """What decides which mistakes are possible at one readout."""
    marking = parse_marking(installation.wheel.marking.text) if installation.wheel.marking is not None else None
    return Setup(
        code=readout.encoding,
        target_kind=installation.target.kind,
        count=installation.target.count,
        edges=installation.target.edges,
        counted=installation.target.basis == "counted",
        set_pulses_per_turn=readout.set_pulses_per_turn or 1,
        drive_kind=installation.drive.kind,
        ratio=ratio,
        ratio_known=ratio_known,
        radial=marking is not None and marking.radial,
        exact_pct=readout.exact if readout.encoding == "percent_correction" else None,
        has_tyre=installation.vehicle_kind != "boat",
    )


def _causes(
    installation: Installation,
    *,
    readout: ReadoutResult,
    wheel_mm: float,
    ratio: float,
    ratio_known: bool,
    u_pct: float,
    chart: Chart,
) -> tuple[Likely, ...]:
    known = setting_mistakes(setup_of(installation, readout, ratio=ratio, ratio_known=ratio_known))
    shown = 1 + readout.in_use.error_pct / 100
    found = likeliest(shown, u_pct, (*known, *_rows(installation, readout, wheel_mm, chart)))
    advice = f"{readout.action}."
    return tuple(
        [
            Likely(
                code=item.code,
                text=item.text,
                fix="Nothing to correct." if item.code == "right" else item.fix + advice,
                ratio=item.ratio,
                off_pct=item.off_pct,
                share_pct=item.share_pct,
            )
            for item in found
        ]
    )


def implied_settings(
    installation: Installation,
    *,
    readouts: tuple[ReadoutResult, ...],
    wheel_mm: float,
    ratio: float,
    ratio_known: bool,
    chain_expanded_pct: float,
    chart: Chart,
) -> tuple[ImpliedSetting, ...]:
    """For every display with a number read back: what it implies and what most likely happened.

    run per turn implied = circumference·pulses per km delivered/pulses per km set, behind a converter as before it.
    """
    found = []
    for place, readout in enumerate(readouts):
        if readout.current_setting is None or readout.set_pulses_per_km <= 0:
            continue
        result, shown = readout.set_pulses_per_km, 1 + readout.in_use.error_pct / 100
        run = wheel_mm * readout.delivered_per_km / result
        step_pct = 100 * readout.step / max(abs(readout.current_setting), readout.step) / math.sqrt(12)
        u_pct = combine_pct((chain_expanded_pct / COVERAGE_FACTOR, min(step_pct, 5.0), 0.1))
        whole_step_pct = 100 * readout.step / max(abs(readout.current_setting), readout.step)
        verdict = verdict_on(readout.in_use.error_pct, chain_expanded_pct, whole_step_pct)
        causes: tuple[Likely, ...] = ()
        if shown > 0:
            causes = _causes(
                installation,
                readout=readout,
                wheel_mm=wheel_mm,
                ratio=ratio,
                ratio_known=ratio_known,
                u_pct=u_pct,
                chart=chart,
            )
        turning = (
            f"one turn of the paddle would be {run:.0f} mm of water."
            if installation.vehicle_kind == "boat"
            else f"one turn of the wheel would be {run:.0f} mm, a wheel of {run / math.pi:.0f} mm."
        )
        text = f"{readout.in_use.text} {readout.unit} sets {result:.6g} pulses per km: {turning}"
        found.append(
            ImpliedSetting(
                readout=place,
                pulses_per_km=result,
                run_per_turn_mm=run,
                diameter_mm=run / math.pi,
                error_pct=readout.in_use.error_pct,
                verdict=verdict,
                sentence=sentence_on(readout.in_use.error_pct, chain_expanded_pct, whole_step_pct),
                text=text,
                causes=causes,
            )
        )
    return tuple(found)
