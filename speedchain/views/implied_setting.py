"""What a number in a display means: what the reader implies with it, how wrong it is, and what most likely happened."""

from __future__ import annotations

import math
from collections.abc import Iterator
from dataclasses import replace

from speedchain.diagnosis import setting_mistakes, setup_of
from speedchain.document import Installation
from speedchain.evaluation import Evaluation
from speedchain.fields import Words, joined, text_of
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
from speedchain.wheel import CYCLE_CHART, Chart, chart_row_of, parse_marking


@result
class ImpliedSetting:
    """What one display implies with the number in it: pulses per km, run per turn of the wheel, error, likely
    causes."""

    readout: int
    pulses_per_km: float
    run_per_turn_mm: float
    diameter_mm: float
    error_pct: float
    verdict: Verdict
    sentence: Words
    text: Words
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
            text = text_of("the setting is the chart row of {0}, but the tyre is {1}", row.label, marking.text)
            yield Hypothesis(
                code="chart",
                ratio=row.circumference_mm / wheel_mm,
                prior=6.0 if exactly else 0.1,
                text=text,
                fix="",
                decisive=exactly,
            )


def _causes(
    installation: Installation, evaluation: Evaluation, readout: ReadoutResult, *, u_pct: float, chart: Chart
) -> tuple[Likely, ...]:
    wheel, drive = evaluation.stages[:2]
    setup = setup_of(installation, readout, ratio=drive.value, ratio_known=drive.evidence != "assumed")
    shown = 1 + readout.in_use.error_pct / 100
    found = likeliest(shown, u_pct, (*setting_mistakes(setup), *_rows(installation, readout, wheel.value, chart)))
    advice = text_of("{0}.", readout.action)
    return tuple(
        [
            replace(
                item,
                fix="Nothing to correct."
                if item.code == "right"
                else joined(" ", [item.fix, advice])
                if item.fix
                else advice,
            )
            for item in found
        ]
    )


def implied_settings(
    installation: Installation, evaluation: Evaluation, chart: Chart = CYCLE_CHART
) -> tuple[ImpliedSetting, ...]:
    """For every display with a number read back: what it implies and what most likely happened.

    run per turn implied = circumference·pulses per km delivered/pulses per km set, behind a converter as before it.

    Examples
    --------
    >>> from speedchain.document.installation import example_installation
    >>> from speedchain.evaluation import evaluate
    >>> implied_settings(example_installation(), evaluate(example_installation()))
    ()
    """
    found = []
    wheel_mm, expanded_pct = evaluation.stages[0].value, evaluation.chain_expanded_uncertainty_pct
    for place, readout in enumerate(evaluation.readouts):
        if readout.current_setting is None or readout.set_pulses_per_km <= 0:
            continue
        result, shown = readout.set_pulses_per_km, 1 + readout.in_use.error_pct / 100
        run = wheel_mm * readout.delivered_per_km / result
        counted = readout.current_setting + (100 if readout.encoding == "percent_correction" else 0)
        whole_step_pct = 100 * readout.step / max(abs(counted), readout.step)
        u_pct = combine_pct((expanded_pct / COVERAGE_FACTOR, min(whole_step_pct / math.sqrt(12), 5.0), 0.1))
        causes: tuple[Likely, ...] = ()
        if shown > 0:
            causes = _causes(installation, evaluation, readout, u_pct=u_pct, chart=chart)
        turning = (
            text_of("one turn of the paddle would be {0:.0f} mm of water.", run)
            if installation.vehicle_kind == "boat"
            else text_of("one turn of the wheel would be {0:.0f} mm, a wheel of {1:.0f} mm.", run, run / math.pi)
        )
        text = text_of(
            "{0}\u00a0{1} sets {2:.6g} pulses per km: {3}", readout.in_use.text, readout.unit, result, turning
        )
        found.append(
            ImpliedSetting(
                readout=place,
                pulses_per_km=result,
                run_per_turn_mm=run,
                diameter_mm=run / math.pi,
                error_pct=readout.in_use.error_pct,
                verdict=verdict_on(readout.in_use.error_pct, expanded_pct, whole_step_pct),
                sentence=sentence_on(readout.in_use.error_pct, expanded_pct, whole_step_pct),
                text=text,
                causes=causes,
            )
        )
    return tuple(found)
