"""What a number in a display means: what the reader implies with it, how wrong it is, and what most likely happened."""

from __future__ import annotations

import math
from collections.abc import Iterator
from functools import lru_cache

from speedchain.document import Installation
from speedchain.fields import KM_PER_MILE, KM_PER_NAUTICAL_MILE, MM_PER_INCH
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
from speedchain.wheel import ETRTO_FACTOR, Chart, chart_row_of, parse_marking

LENGTHS = ("circumference", "metres", "mm_per", "teeth_and_diameter")


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


@lru_cache(maxsize=512)
def _common(
    code: str, *, target_kind: str, per_turn: int, counted: bool, result: int, ratio: float, radial: bool
) -> tuple[Hypothesis, ...]:
    """Known mistakes with this kind of number, and the shown/true each would make. Common practice."""
    return tuple(
        _mistakes(
            code, target_kind=target_kind, per_turn=per_turn, counted=counted, result=result, ratio=ratio, radial=radial
        )
    )


def _mistakes(
    code: str, *, target_kind: str, per_turn: int, counted: bool, result: int, ratio: float, radial: bool
) -> Iterator[Hypothesis]:
    yield Hypothesis(code="right", ratio=1.0, prior=2.0, text="the setting is right, within the uncertainty", fix="")
    if code.startswith("circumference"):
        yield Hypothesis(
            code="pi",
            ratio=1 / math.pi,
            prior=1.0,
            text="the diameter was entered instead of the circumference",
            fix="",
        )
        yield Hypothesis(
            code="radius",
            ratio=0.5 / math.pi,
            prior=0.2,
            text="the radius was entered instead of the circumference",
            fix="",
        )
    if code.startswith("teeth"):
        yield Hypothesis(
            code="pi", ratio=math.pi, prior=1.0, text="the circumference was entered instead of the diameter", fix=""
        )
        yield Hypothesis(
            code="radius", ratio=0.5, prior=0.5, text="the radius was entered instead of the diameter", fix=""
        )
    if per_turn > 1:
        name = "magnets" if "magnets" in target_kind else "teeth"
        if result == 1 and per_turn < 50:
            text = f"the whole circumference was entered, but {per_turn} {name} pass per turn"
            yield Hypothesis(code="magnets", ratio=float(per_turn), prior=1.0, text=text, fix="")
            text = f"the setting was divided by the {per_turn} {name} once too often"
            yield Hypothesis(code="magnets_twice", ratio=1 / per_turn, prior=0.3, text=text, fix="")
        for out, more in ((1, "more"), (-1, "fewer")):
            text = f"the setting is for {per_turn + out} {name}, one {more} than {per_turn}"
            prior = 0.05 if counted else 0.4
            yield Hypothesis(
                code="tooth", ratio=per_turn / (per_turn + out), prior=prior, text=text, fix="Count again. "
            )
    yield Hypothesis(
        code="edges_two",
        ratio=2.0,
        prior=0.5,
        text="half the pulses are set: both edges are counted, or a divider is set",
        fix="",
    )
    yield Hypothesis(
        code="edges_half",
        ratio=0.5,
        prior=0.5,
        text="twice the pulses are set: one edge is counted, or a divider is set",
        fix="",
    )
    if abs(ratio - 1) > 0.01:
        yield Hypothesis(
            code="ratio_out", ratio=ratio, prior=0.8, text=f"the drive ratio {ratio:.4g} was left out", fix=""
        )
        yield Hypothesis(
            code="ratio_twice", ratio=1 / ratio, prior=0.4, text=f"the drive ratio {ratio:.4g} was divided out", fix=""
        )
    yield from _units(code)
    if radial:
        text = "the setting is from π × diameter; a loaded radial rolls 3.05 × diameter"
        yield Hypothesis(code="school", ratio=math.pi / ETRTO_FACTOR, prior=0.5, text=text, fix="")
        yield Hypothesis(
            code="school", ratio=ETRTO_FACTOR / math.pi, prior=0.3, text="the setting is from 3.05 × diameter", fix=""
        )
    for other in (0.955, 0.975, 1.025, 1.045):
        text = "the setting belongs to another tyre, such as the previous one"
        yield Hypothesis(code="other_tyre", ratio=other, prior=0.12, text=text, fix="")


def _units(code: str) -> Iterator[Hypothesis]:
    for factor, unit, other in (
        (KM_PER_MILE, "mile", "kilometre"),
        (KM_PER_NAUTICAL_MILE, "nautical mile", "kilometre"),
        (KM_PER_NAUTICAL_MILE / KM_PER_MILE, "nautical mile", "mile"),
    ):
        text = f"{unit} and {other} were mixed up, in the setting or in the display's unit"
        prior = 0.5 if unit == "mile" else 0.2
        yield Hypothesis(code=f"unit_{unit}", ratio=factor, prior=prior, text=text, fix="")
        yield Hypothesis(code=f"unit_{unit}", ratio=1 / factor, prior=prior, text=text, fix="")
    for factor, text in (
        (10.0, "the decimal point is one place out"),
        (100.0, "metres and centimetres were mixed up, or the decimal point is two places out"),
        (1000.0, "metres and millimetres were mixed up"),
    ):
        yield Hypothesis(code="places", ratio=factor, prior=0.4, text=text, fix="")
        yield Hypothesis(code="places", ratio=1 / factor, prior=0.4, text=text, fix="")
    if code.startswith(LENGTHS):
        for factor, text in ((MM_PER_INCH, "inches and millimetres"), (2.54, "inches and centimetres")):
            yield Hypothesis(code="inch", ratio=factor, prior=0.3, text=f"{text} were mixed up", fix="")
            yield Hypothesis(code="inch", ratio=1 / factor, prior=0.3, text=f"{text} were mixed up", fix="")


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
                code="chart", ratio=row.circumference_mm / wheel_mm, prior=6.0 if exactly else 0.1, text=text, fix=""
            )


def _causes(
    installation: Installation, *, readout: ReadoutResult, wheel_mm: float, ratio: float, u_pct: float, chart: Chart
) -> tuple[Likely, ...]:
    marking = parse_marking(installation.wheel.marking.text) if installation.wheel.marking is not None else None
    known = _common(
        readout.encoding,
        target_kind=installation.target.kind,
        per_turn=installation.target.count * installation.target.edges,
        counted=installation.target.basis == "counted",
        result=readout.set_pulses_per_turn or 1,
        ratio=ratio,
        radial=marking is not None and marking.radial,
    )
    shown = 1 + readout.in_use.error_pct / 100
    found = likeliest(shown, u_pct, (*known, *_rows(installation, readout, wheel_mm, chart)))
    advice = f"Enter {readout.to_type.text} {readout.unit}."
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
    per_turn: float,
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
            causes = _causes(installation, readout=readout, wheel_mm=wheel_mm, ratio=ratio, u_pct=u_pct, chart=chart)
        text = (
            f"{readout.in_use.text} {readout.unit} sets {result:.6g} pulses per km: one turn of the wheel "
            f"would be {run:.0f} mm, a wheel of {run / math.pi:.0f} mm."
        )
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
