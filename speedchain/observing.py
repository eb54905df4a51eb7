"""From a comparison of shown and true speed to what is kept of it: an observation of the chain, or a reader's own
number."""

from __future__ import annotations

import math
from dataclasses import replace
from typing import Annotated, Any, Literal

from pydantic import Field, ValidationError, WithJsonSchema

from speedchain.diagnosis import state_now
from speedchain.document import Installation, read_installation
from speedchain.evaluation import Evaluation
from speedchain.fields import (
    Day,
    DocumentError,
    InputError,
    Part,
    Percent,
    ShortText,
    ShownSpeed,
    Speed,
    parse_quantity,
    problems_from_pydantic,
    stated,
    text_of,
)
from speedchain.knowledge import MOST_OBSERVATIONS, Observation, ObservationKind
from speedchain.readout import Readout, dial_of, speed_from_table
from speedchain.results import result
from speedchain.uncertainty import COVERAGE_FACTOR, student_factor

READ_U_KMH = 0.3
"""Standard uncertainty of a speed that is read by eye beside another one: 1 km/h steps, s/√12. Common practice."""
SOURCE_U_PCT = 0.2
"""Standard uncertainty of the scale of what is held true, and of holding still while both are read. Common practice."""
CURRENT_U_KMH = 0.9
"""Standard uncertainty of a speed over ground as one through the water, one way only: half a knot of current. Common
practice."""
LARGEST_EXPANDED_PCT = 20.0
SMALLEST_EXPANDED_PCT = 0.01
LEAST_RATIO, MOST_RATIO = 0.2, 5.0


class SpeedPair(Part):
    """True and shown speed at one moment."""

    true_kmh: Speed = stated(title="True speed")
    shown_kmh: ShownSpeed = stated(title="Reading")


class SpeedComparison(Part):
    """Shown against true speed, at one or several speeds, with what was set in the readout then."""

    kind: ObservationKind
    on: Day = stated(title="Date")
    by: ShortText = stated("", title="Done by (role)")
    note: ShortText = ""
    recording: str = Field("", pattern="^([0-9a-f]{64})?$", description="SHA-256 of the recording.")
    readout: int = Field(0, ge=0, le=7)
    setting: Annotated[
        float | str | None, WithJsonSchema({"anyOf": [{"type": "number"}, {"type": "string"}, {"type": "null"}]})
    ] = Field(None, description="What was set in the readout then; empty: what is set now. Of a chart, the code.")
    pairs: tuple[SpeedPair, ...] = Field(min_length=1, max_length=12)
    expanded_pct: Percent | None = Field(
        None, description="Expanded uncertainty of shown/true, where it was worked out; empty: from the pairs."
    )
    of: Literal["chain", "reader"] = Field(
        "chain",
        description="chain: what wheel, drive and target deliver; reader: the number that the reader is made for.",
    )


@result
class Compared:
    """What a comparison comes to: shown/true, ± [%], mean true and shown speed [km/h]."""

    ratio: float
    expanded_pct: float
    true_kmh: float
    shown_kmh: float


def compared(comparison: SpeedComparison, display_step_kmh: float, current_u_kmh: float = 0.0) -> Compared:
    """Shown/true of the pairs and its ±: the mean of the ratios, by their scatter and by how exactly both are read.

    u² = max(s²/n·(t/2)², Σ(u_i²)/n²) + u_source², with u_i of reading the true speed (0.3 km/h) and the display's step.

    Raises
    ------
    `InputError` where nothing was shown, or so slow that it says nothing.

    Examples
    --------
    >>> pair = SpeedPair(true_kmh=50, shown_kmh=55)
    >>> seen = compared(SpeedComparison(kind="read", on="2026-05-01", pairs=(pair,)), 1.0)
    >>> round(seen.ratio, 3), round(seen.expanded_pct, 1)
    (1.1, 1.6)
    """
    ratios = [pair.shown_kmh / pair.true_kmh for pair in comparison.pairs]
    for place, ratio in enumerate(ratios):
        if not LEAST_RATIO <= ratio <= MOST_RATIO:
            raise InputError(
                text_of("Shown over true is {0:.3g}, outside {1:g} to {2:g}.", ratio, LEAST_RATIO, MOST_RATIO),
                remedy="Check both speeds. A display that shows nothing is a fault to find, not a setting.",
                limit=text_of("{0:g} to {1:g}", LEAST_RATIO, MOST_RATIO),
                value=ratio,
                path=f"pairs.{place}.shown_kmh",
            )
    n = len(ratios)
    ratio = math.fsum(ratios) / n
    true_kmh = math.fsum([pair.true_kmh for pair in comparison.pairs]) / n
    expanded_pct = comparison.expanded_pct or math.hypot(
        _expanded_pct(comparison, ratios, display_step_kmh), 100 * COVERAGE_FACTOR * current_u_kmh / true_kmh
    )
    if expanded_pct > LARGEST_EXPANDED_PCT:
        raise InputError(
            text_of("At this speed the comparison is good to ± {0:.0f} % only.", expanded_pct),
            remedy="Compare at a higher speed.",
            limit=text_of("± {0:g} % at most", LARGEST_EXPANDED_PCT),
            path="pairs.0.true_kmh",
        )
    return Compared(
        ratio=ratio,
        expanded_pct=max(expanded_pct, SMALLEST_EXPANDED_PCT),
        true_kmh=true_kmh,
        shown_kmh=true_kmh * ratio,
    )


def _expanded_pct(comparison: SpeedComparison, ratios: list[float], display_step_kmh: float) -> float:
    n, mean = len(ratios), math.fsum(ratios) / len(ratios)
    read2 = math.fsum(
        [
            (READ_U_KMH / pair.true_kmh) ** 2 + (display_step_kmh / math.sqrt(12) / max(pair.shown_kmh, 0.1)) ** 2
            for pair in comparison.pairs
        ]
    ) / (n * n)
    expanded2 = COVERAGE_FACTOR**2 * read2
    if n > 2:
        scatter2 = math.fsum([(ratio / mean - 1) ** 2 for ratio in ratios]) / (n - 1) / n
        expanded2 = max(expanded2, student_factor(n - 1) ** 2 * scatter2)
    return 100 * math.sqrt(expanded2 + (COVERAGE_FACTOR * SOURCE_U_PCT / 100) ** 2)


def _setting_of(readout: Readout, comparison: SpeedComparison) -> float | None:
    """The number that was set at the comparison, in the unit of the setting format."""
    given = comparison.setting
    if readout.encoding == "chart_code":
        code = readout.current_setting_code if given is None else str(given)
        return next((item.circumference_mm for item in readout.codes if item.code == code), None)
    if given is None or given == "":
        return readout.current_setting
    try:
        return parse_quantity(readout.how().kind, given)
    except InputError as error:
        raise DocumentError(*[replace(problem, path="setting") for problem in error.problems]) from None


def delivered_per_km(
    installation: Installation, evaluation: Evaluation, comparison: SpeedComparison
) -> tuple[float, str]:
    """Pulses per km that wheel, drive and target delivered at the comparison, and what was set then, in words.

    set pulses per km × shown/true, before a converter; from a table the frequency at which it shows that speed.

    Raises
    ------
    `InputError` where what was set is not known.
    """
    readout = installation.readout_at(comparison.readout)
    outcome = evaluation.readouts[comparison.readout]
    seen = compared(comparison, readout.display_step_kmh)
    conversion = evaluation.signal_detail.conversion
    ratio = conversion.ratio if conversion is not None and not readout.before_converter else 1.0
    if readout.entry == "learned":
        raise InputError(
            text_of("{0} learns its setting, so what was set is not known.", readout.name),
            remedy="If it shows a wrong speed, do the learning ride again.",
            path="readout",
        )
    if readout.entry == "counts":
        raise InputError(
            text_of("{0} compares the counts of the wheels; it has no setting.", readout.name),
            remedy="Compare a display that shows a speed.",
            path="readout",
        )
    if readout.encoding == "frequency_table":
        points = [(point.speed_kmh, point.set_frequency_hz) for point in readout.table]
        known = [(speed, hz) for speed, hz in points if hz is not None]
        if len(known) < len(points):
            raise InputError(
                "The table is not read back from the reader: one of its frequencies is not known.",
                remedy="Enter the frequencies that are set.",
                path=f"readouts.{comparison.readout}.table",
            )
        hz = speed_from_table(seen.shown_kmh, [speed for speed, _ in known], [hz for _, hz in known])
        return hz * 3600 / seen.true_kmh / ratio, "the table as it stands"
    number = _setting_of(readout, comparison)
    if number is None:
        raise InputError(
            text_of("What was set in {0} at the comparison is not known.", readout.name),
            remedy="Enter the setting that was in the reader then.",
            path="setting",
            missing=True,
        )
    dial = dial_of(readout)
    per_km = dial.pulses_per_km(number)
    if not per_km > 0:
        raise InputError(
            text_of("With {0:g} set the reader shows nothing.", number),
            remedy="Read the setting again.",
            value=number,
            path="setting",
        )
    return per_km * seen.ratio / ratio, text_of("{0}\u00a0{1}", dial.text(number), outcome.unit)


def observation_of(installation: Installation, evaluation: Evaluation, comparison: SpeedComparison) -> Observation:
    """What is kept of a comparison.

    Examples
    --------
    >>> from speedchain.document.installation import example_installation
    >>> from speedchain.evaluation import evaluate
    >>> pair = SpeedPair(true_kmh=100, shown_kmh=94.96)
    >>> drive = SpeedComparison(kind="drive", on="2026-05-01", setting=20000, pairs=(pair,), expanded_pct=0.2)
    >>> round(observation_of(example_installation(), evaluate(example_installation()), drive).pulses_per_km)
    18992
    """
    readout = installation.readout_at(comparison.readout)
    drifts = installation.vehicle_kind == "boat" and comparison.kind == "read"
    seen = compared(comparison, readout.display_step_kmh, CURRENT_U_KMH if drifts else 0.0)
    per_km, setting = delivered_per_km(installation, evaluation, comparison)
    try:
        return _observation(installation, comparison, seen, per_km=per_km, setting=str(setting))
    except ValidationError as error:
        raise DocumentError(*problems_from_pydantic(error.errors(include_url=False))) from None


def _observation(
    installation: Installation, comparison: SpeedComparison, seen: Compared, *, per_km: float, setting: str
) -> Observation:
    readout = installation.readout_at(comparison.readout)
    return Observation(
        kind=comparison.kind,
        on=comparison.on,
        by=comparison.by,
        note=comparison.note,
        recording=comparison.recording,
        pulses_per_km=per_km,
        expanded_pct=seen.expanded_pct,
        at_kmh=seen.true_kmh,
        shown_kmh=seen.shown_kmh,
        readout=readout.name,
        setting=setting,
        state=state_now(installation),
    )


def observe(installation: Installation, evaluation: Evaluation, comparison: SpeedComparison) -> Installation:
    """The installation after a comparison: with an observation of the chain, or with the reader's own number found.

    The same recording of the same readout is kept once; of all observations the newest forty.

    Raises
    ------
    `InputError` where there is no such readout, what was set is not known, or nothing was shown.

    Examples
    --------
    >>> from speedchain.document.installation import example_installation
    >>> from speedchain.evaluation import evaluate
    >>> pair = SpeedPair(true_kmh=100, shown_kmh=94.96)
    >>> drive = SpeedComparison(kind="drive", on="2026-05-01", setting=20000, pairs=(pair,), expanded_pct=0.2)
    >>> after = observe(example_installation(), evaluate(example_installation()), drive)
    >>> evaluate(after).readouts[0].to_type.text
    '18992'
    """
    document: dict[str, Any] = installation.model_dump(mode="json")
    if comparison.of == "reader":
        document["readouts"][comparison.readout]["current_setting"] = _own_number(installation, evaluation, comparison)
        return read_installation(document)
    found = observation_of(installation, evaluation, comparison).model_dump(mode="json")
    kept = [
        item
        for item in document["observations"]
        if not (found["recording"] and (item["recording"], item["readout"]) == (found["recording"], found["readout"]))
    ]
    document["observations"] = [*kept, found][-MOST_OBSERVATIONS:]
    return read_installation(document)


def _own_number(installation: Installation, evaluation: Evaluation, comparison: SpeedComparison) -> float:
    """The number that a reader behaves as if it had: what arrives × true/shown, as its setting format writes it.

    A gauge without a setting that shows 85 at 75 true is made for 75/85 of the pulses per km that arrive.
    """
    readout = installation.readout_at(comparison.readout)
    if readout.entry != "fixed" or readout.encoding in ("frequency_table", "chart_code"):
        raise InputError(
            text_of("{0} is no reader with one number of its own.", readout.name),
            remedy="Enter the comparison as known from speeds: then the wheel is found from it.",
            path="of",
        )
    seen = compared(comparison, readout.display_step_kmh)
    arriving = evaluation.readouts[comparison.readout].delivered_per_km
    return float(f"{dial_of(readout).exact(arriving / seen.ratio):.5g}")
