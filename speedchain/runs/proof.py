"""What a speed check says of one installation: right or not, the setting to enter, and the likely cause."""

from __future__ import annotations

import math
from dataclasses import replace
from datetime import date
from typing import Annotated, Literal

import numpy as np
from numpy.typing import NDArray
from pydantic import Field

from speedchain.document import Installation
from speedchain.evaluation import Evaluation, evaluate
from speedchain.fields import InputError, Part, Words, text_of
from speedchain.observing import CURRENT_U_KMH, SpeedComparison, SpeedPair, observe
from speedchain.readout import Readout
from speedchain.readout import Setting as SettingToEnter
from speedchain.results import result
from speedchain.runs.align import SpeedRecord
from speedchain.runs.check import SpeedCheck, speed_check
from speedchain.runs.recording import Recording
from speedchain.runs.steady import LEAST_KMH
from speedchain.runs.water import DEAD, RUN_BACK, Reciprocal, reciprocal, through_water
from speedchain.uncertainty import COVERAGE_FACTOR, Likely, Verdict, verdict_on
from speedchain.views import causes_of

LEAST_ON_WATER_KMH = 3.0
MOST_SPANS = 100
MOST_EXPANDED_PCT = 5.0
"""A drive that is less sure proves nothing, neither right nor wrong. Common practice."""

ANY_DAY = date(2000, 1, 1)
"""Of a drive that is only tried, not kept."""

Setting = Annotated[float, Field(ge=-1e9, le=1e9)]
Second = Annotated[float, Field(ge=-1e12, le=1e12)]


class TimeSpan(Part):
    """A span of a recording [s], from its beginning."""

    from_s: Second
    to_s: Second


class CheckWanted(Part):
    """Which channels are compared, of which readout, and what is left out or used by hand."""

    true_channel: str = Field(max_length=80)
    shown_channel: str = Field(max_length=80)
    readout: int = Field(0, ge=0, le=7)
    driven_setting: Setting | None = Field(None, description="What was set in the reader on the drive; empty: as now.")
    left_out: tuple[TimeSpan, ...] = Field((), max_length=MOST_SPANS)
    used: tuple[TimeSpan, ...] = Field((), max_length=MOST_SPANS)
    by: Literal["", "whole", "runs"] = Field(
        "", description="The whole drive, or runs there and back; empty: as the recording allows."
    )


ONE_WAY = "Run one way only, or not straight, the current is in it. Run back as well, on the same stretch."
AT_THE_END_KMH = 0.5
"""A needle this near to the end of its scale stands at it. Common practice."""


@result
class Proof:
    """A speed check of an installation.

    `verdict` is on the error that was driven; `to_type` the setting that would make it right, None where it is right or
    where nothing can be typed in. `changed`: another number is in the reader now than on the drive. `conflict`: what
    the drive says against what the installation expects. `runs`: the runs there and back that tell it, where it is
    checked by them; `there_and_back`: that the recording has such runs, and the way of checking can be chosen.
    `usable`: it can be kept among the observations.
    """

    check: SpeedCheck
    runs: Reciprocal | None = None
    there_and_back: bool = False
    usable: bool = True
    expected_error_pct: float
    verdict: Verdict
    text: Words
    to_type: SettingToEnter | None
    changed: bool
    conflict: Words
    action: Words
    causes: tuple[Likely, ...]


def _past_the_end(
    installation: Installation, readout: Readout, true: SpeedRecord, shown: SpeedRecord
) -> list[tuple[float, float]]:
    """Spans [s] in which the display could not follow: at the end of its scale, or with the converter's output held."""
    converter = installation.signal.converter
    spans: list[tuple[float, float]] = []
    if readout.scale_end_kmh is not None:
        near_kmh = readout.scale_end_kmh - max(readout.display_step_kmh, AT_THE_END_KMH)
        spans += _spans(shown.time_s, shown.kmh >= near_kmh)
    if converter is not None and converter.cap_kmh is not None and not readout.before_converter:
        spans += _spans(true.time_s, true.kmh >= converter.cap_kmh - AT_THE_END_KMH)
    return spans


def _spans(time_s: NDArray[np.float64], inside: NDArray[np.bool_]) -> list[tuple[float, float]]:
    edges = np.flatnonzero(np.diff(np.concatenate([[False], inside, [False]]).astype(np.int8)))
    last = time_s.size - 1
    return [
        (float(time_s[begin]), float(time_s[min(end, last)]))
        for begin, end in zip(edges[::2], edges[1::2], strict=True)
    ]


def prove(installation: Installation, evaluation: Evaluation, recorded: Recording, wanted: CheckWanted) -> Proof:
    """Compare two channels of a recording, and say what follows for a readout that was driven with its current setting.

    set_new = delivered = set·shown/true: the reader counted what the ground really gave. The setting is the one that
    the installation asks for with this drive among its observations.

    Raises
    ------
    `InputError` where a channel or the readout is missing, or too little of the drive can be used.
    """
    readout = installation.readout_at(wanted.readout)
    outcome = evaluation.readouts[wanted.readout]
    if wanted.true_channel == wanted.shown_channel:
        raise InputError(
            "A true and a shown speed are needed, each in a column of its own.",
            remedy="Record the satellite speed beside the shown one, or choose another column.",
            path="shown_channel",
        )
    found = {}
    for field, name in (("true_channel", wanted.true_channel), ("shown_channel", wanted.shown_channel)):
        channel = recorded.channel(name)
        if channel is None or channel.quantity != "speed":
            raise InputError(
                text_of("The recording has no speed named {0}.", name),
                remedy="Choose one of its speeds.",
                path=field,
                value=name,
            )
        found[field] = SpeedRecord(channel.time_s, channel.values)
    beyond = _past_the_end(installation, readout, found["true_channel"], found["shown_channel"])
    check, runs, there_and_back = _checked(installation, recorded, tuple(found.values()), wanted, beyond=beyond)
    enough = check is not None and check.expanded_pct <= MOST_EXPANDED_PCT
    if not enough and installation.vehicle_kind == "boat" and recorded.direction() is None:
        raise InputError(
            "Without a heading a current and an error look alike.",
            remedy="Record the course over ground with the speed, or mark a column as the course.",
            path="recording",
        )
    if check is None and beyond:
        raise InputError(
            "Where this drive is steady, the display was at the end of its scale or the converter held its output.",
            remedy="Drive at speeds that the display follows.",
            path="recording",
        )
    if check is None:
        raise InputError(
            "Too little of this drive can be used: little is steady and straight, or nothing was shown.",
            remedy="Hold a speed for ten seconds and more, at least three times, on straight and level ground.",
            path="recording",
        )
    if check.expanded_pct > MOST_EXPANDED_PCT:
        raise _says_too_little(check, runs, afloat=installation.vehicle_kind == "boat")
    error_pct = check.error_pct
    step_pct = 100 * outcome.step / outcome.exact if outcome.exact else 0.0
    verdict = verdict_on(error_pct, check.expanded_pct, step_pct)
    ratio = 1 + error_pct / 100
    driven = readout.current_setting if wanted.driven_setting is None else wanted.driven_setting
    used = _used(installation, evaluation, check, wanted, there_and_back=runs is not None)
    to_type = None
    if verdict == "wrong" and ratio > 0 and readout.entry == "typed" and used is not None:
        after = evaluate(used).readouts[wanted.readout]
        to_type = None if after.table else after.to_type
    causes = causes_of(
        installation, evaluation, wanted.readout, ratio,
        u_pct=check.expanded_pct / COVERAGE_FACTOR,
        chain_u_pct=evaluation.chain_expanded_uncertainty_pct / COVERAGE_FACTOR,
    )  # fmt: skip
    return Proof(
        check=check,
        runs=runs,
        there_and_back=there_and_back,
        usable=used is not None,
        expected_error_pct=outcome.in_use.error_pct,
        verdict=verdict,
        text=_verdict_text(verdict, error_pct, check.expanded_pct),
        to_type=to_type,
        changed=driven != readout.current_setting,
        conflict=_conflict(installation, evaluation, check, expected_pct=outcome.in_use.error_pct)
        if driven == readout.current_setting
        else "",
        action=_action(
            readout,
            outcome.unit,
            to_type,
            asks=verdict == "wrong" and driven is None,
            afloat=installation.vehicle_kind == "boat",
        ),
        causes=causes if verdict == "wrong" else (),
    )


ENTER_AND_DRIVE: Words = "Enter {0}\u00a0{1} into {2} and drive again."
ENTER_AND_RUN: Words = "Enter {0}\u00a0{1} into {2} and run there and back again."


def _action(readout: Readout, unit: str, to_type: SettingToEnter | None, *, asks: bool, afloat: bool) -> str:
    """What to do about a wrong display: what to enter, or to read back what is set, from which that follows."""
    if to_type is not None:
        text = ENTER_AND_RUN if afloat else ENTER_AND_DRIVE
        return text_of(text, to_type.text, unit, readout.name)
    if asks and readout.entry == "typed" and readout.encoding not in ("chart_code", "frequency_table"):
        return text_of(
            "Read back what is set in {0} and enter it as the current setting: the new setting follows from it.",
            readout.name,
        )
    return ""


def _checked(
    installation: Installation,
    recorded: Recording,
    speeds: tuple[SpeedRecord, ...],
    wanted: CheckWanted,
    *,
    beyond: list[tuple[float, float]],
) -> tuple[SpeedCheck | None, Reciprocal | None, bool]:
    """The check of a shown speed, against the speed through the water where runs there and back tell the current: of a
    boat by itself, of any vehicle where it is wanted; these runs, and whether there are any."""
    true, shown = speeds
    course, accuracy = recorded.direction(), recorded.first("accuracy")
    course_deg = course.at(true.time_s) if course else None
    accuracy_m = accuracy.at(true.time_s) if accuracy else None
    left_out = (*[(span.from_s, span.to_s) for span in wanted.left_out], *beyond)
    used = tuple([(span.from_s, span.to_s) for span in wanted.used])
    afloat = installation.vehicle_kind == "boat"
    least_kmh = LEAST_ON_WATER_KMH if afloat else LEAST_KMH
    runs = None
    if course_deg is not None and (afloat or wanted.by == "runs"):
        heading = recorded.first("heading")
        runs = reciprocal(
            true,
            shown,
            course_deg,
            least_kmh=least_kmh,
            heading_deg=None if heading is None or heading is course else heading.at(true.time_s),
            accuracy_m=accuracy_m,
            left_out=left_out,
            used=used,
        )
    there_and_back = runs is not None
    if wanted.by == "runs" and runs is None:
        raise InputError(
            "No two runs in opposite directions with a shown speed are in this recording.",
            remedy=RUN_BACK,
            path="recording",
        )
    runs = None if wanted.by == "whole" else runs
    if runs is not None:
        assert course_deg is not None
        true = through_water(true, course_deg, runs)
    check = speed_check(
        true,
        shown,
        course_deg=course_deg,
        accuracy_m=accuracy_m,
        left_out=left_out,
        used=used,
        display_step_kmh=installation.readouts[wanted.readout].display_step_kmh,
        least_kmh=least_kmh,
    )
    if check is not None and (afloat or runs is not None):
        check = _on_water(check, runs)
    return check, runs, there_and_back


def _on_water(check: SpeedCheck, runs: Reciprocal | None) -> SpeedCheck:
    """What runs there and back say of the display; one way only the current is in it, which nobody knows."""
    if runs is None:
        current_pct = 100 * COVERAGE_FACTOR * CURRENT_U_KMH / check.at_kmh
        return replace(check, expanded_pct=math.hypot(check.expanded_pct, current_pct), advice=ONE_WAY)
    return replace(
        check,
        ratio=1 + runs.error_pct / 100,
        offset_kmh=0.0,
        error_pct=runs.error_pct,
        at_kmh=runs.water_kmh,
        expanded_pct=runs.expanded_pct,
        directions=(),
        text=runs.text,
        advice=runs.advice,
    )


def _says_too_little(check: SpeedCheck, runs: Reciprocal | None, *, afloat: bool) -> InputError:
    """Why a drive proves nothing, and what to do about it."""
    figures = check.error_pct, check.expanded_pct
    dead = any(pair.shown_kmh < DEAD * pair.true_kmh for pair in check.pairs)
    if dead or not afloat:
        text = text_of("The shown speed does not follow the true one: {0:+.0f} %, ± {1:.0f} %.", *figures)
        remedy = "Look for a dead or stuck display and for dropouts: do the magnet test, then drive again."
    elif runs is not None:
        text = text_of("The runs there and back say {0:+.1f} %, ± {1:.0f} % only.", *figures)
        remedy = "Run there and back three times and more, straight, at one speed, a minute each."
    else:
        text = text_of("Run one way only, the current is in it: {0:+.1f} %, ± {1:.0f} %.", *figures)
        remedy = RUN_BACK
    limit = text_of("± {0:g} % at most", MOST_EXPANDED_PCT)
    return InputError(text, remedy=remedy, limit=limit, path="recording")


def comparison_of(check: SpeedCheck, wanted: CheckWanted, on: date, *, there_and_back: bool) -> SpeedComparison:
    """What is kept of a drive when it is used: shown and true at its mean speed, under what was set then; of runs there
    and back on water, true is the speed through it."""
    shown_kmh = check.at_kmh * (1 + check.error_pct / 100)
    return SpeedComparison(
        kind="there_and_back" if there_and_back else "drive",
        on=on,
        readout=wanted.readout,
        setting=wanted.driven_setting,
        pairs=(SpeedPair(true_kmh=check.at_kmh, shown_kmh=shown_kmh),),
        expanded_pct=check.expanded_pct,
    )


def _used(
    installation: Installation, evaluation: Evaluation, check: SpeedCheck, wanted: CheckWanted, *, there_and_back: bool
) -> Installation | None:
    """The installation once it uses this drive; None where it cannot, as when nobody knows what was set."""
    try:
        return observe(installation, evaluation, comparison_of(check, wanted, ANY_DAY, there_and_back=there_and_back))
    except InputError:
        return None


def _conflict(installation: Installation, evaluation: Evaluation, check: SpeedCheck, *, expected_pct: float) -> str:
    """Where the drive is further from what the installation expects than both can be wrong."""
    known_pct = math.hypot(check.expanded_pct, evaluation.chain_expanded_uncertainty_pct)
    if abs(check.error_pct - expected_pct) <= known_pct:
        return ""
    return text_of(
        "The installation expects {0:+.2f} %: its wheel, its drive or its count is not as entered. Use the driven "
        "result, and "
        "correct the installation as well.",
        expected_pct,
    )


def _verdict_text(verdict: Verdict, error_pct: float, expanded_pct: float) -> str:
    match verdict:
        case "right":
            return text_of("The display is right: {0:+.2f} %, ± {1:.2g} %.", error_pct, expanded_pct)
        case "within":
            return text_of(
                "The display agrees within what the drive can tell: {0:+.2f} %, ± {1:.2g} %.", error_pct, expanded_pct
            )
        case "wrong":
            return text_of("The display is wrong: {0:+.2f} %, ± {1:.2g} %.", error_pct, expanded_pct)
