"""The mistakes people make with a setting or a sensor, and the shown/true that each would make. Common practice."""

from __future__ import annotations

import math
from collections.abc import Iterator
from functools import lru_cache
from typing import Any

from speedchain.document import Installation
from speedchain.fields import KM_PER_MILE, KM_PER_NAUTICAL_MILE, MM_PER_INCH, text_of
from speedchain.readout import ReadoutResult
from speedchain.results import result
from speedchain.uncertainty import Hypothesis
from speedchain.wheel import ETRTO_FACTOR, parse_marking

LENGTHS = ("circumference", "metres", "mm_per", "teeth_and_diameter")
AXLE_RATIOS = (
    2.41, 2.56, 2.73, 2.93, 3.07, 3.15, 3.23, 3.31, 3.42, 3.54, 3.64, 3.73, 3.91, 4.1, 4.3, 4.44, 4.56, 4.88, 5.13,
)  # fmt: skip
"""Final-drive ratios of cars, whose gears are changed for each other. Common practice."""
AXLE_CHANGES = (0.6, 1.6)
"""New over old ratio beyond which nobody changes an axle. Common practice."""
OTHER_TYRE_SPREAD_PCT = 4.0
"""How far another tyre of the same vehicle is off, one standard deviation. Common practice."""
AXLE_SPREAD_PCT = 0.3
"""How far an axle's real ratio, a fraction of whole teeth, is from the one it is sold by, one standard deviation. Our
allowance."""
SWAPPED_TEETH = 8
MOST_STEP = 100
"""A converter's numbers beyond this are typed from a calculation, and not one beside another. Common practice."""


@result
class Setup:
    """What decides which mistakes are possible, and their ratios: a format, a target, a drive, and what is set."""

    code: str
    target_kind: str
    count: int
    edges: int
    counted: bool
    set_pulses_per_turn: int
    drive_kind: str
    ratio: float
    ratio_known: bool
    radial: bool
    exact_pct: float | None
    has_tyre: bool = True
    low_range: float = 1.0
    """Turns of the sensed side of a transfer box in low range over those in high range; 1 where it makes no
    difference."""
    in_low: bool = False
    step_up: int = 1
    step_down: int = 1
    """Pulses out and in of the converter before this display."""
    calibration_pct: float = 0.0
    """Of a paddle."""


def setup_of(installation: Installation, readout: ReadoutResult, *, ratio: float, ratio_known: bool) -> Setup:
    """What decides which mistakes are possible at one readout."""
    marking = parse_marking(installation.wheel.marking.text) if installation.wheel.marking is not None else None
    return Setup(
        code=readout.encoding,
        target_kind=installation.target.kind,
        count=installation.target.count,
        edges=installation.target.edges,
        counted=installation.target.basis != "assumed",
        set_pulses_per_turn=readout.set_pulses_per_turn or 1,
        drive_kind=installation.drive.kind,
        ratio=ratio,
        ratio_known=ratio_known,
        radial=marking is not None and marking.radial,
        exact_pct=readout.exact if readout.encoding == "percent_correction" else None,
        has_tyre=installation.vehicle_kind != "boat",
        **_box(installation),
        **_converter(installation, readout),
        calibration_pct=_calibration_pct(installation),
    )


def _calibration_pct(installation: Installation) -> float:
    paddle = installation.wheel.paddle if installation.wheel.method == "paddle" else None
    return (paddle.calibration_pct or 0.0) if paddle is not None else 0.0


def _box(installation: Installation) -> dict[str, Any]:
    box = installation.drive.transfer_box
    if installation.drive.kind != "transfer_box" or box is None or box.sensed != "gearbox":
        return {}
    return {"low_range": box.low_ratio, "in_low": box.range == "low"}


def _converter(installation: Installation, readout: ReadoutResult) -> dict[str, Any]:
    converter = installation.signal.converter
    before = any(item.before_converter for item in installation.readouts if item.name == readout.name)
    if converter is None or before or len(converter.setting) != 1:
        return {}
    return {"step_up": converter.setting[0].numerator, "step_down": converter.setting[0].denominator}


@lru_cache(maxsize=512)
def setting_mistakes(setup: Setup) -> tuple[Hypothesis, ...]:
    """Every mistake that fits the setup; the first is that there is none.

    Examples
    --------
    >>> setup = Setup(code="pulses_per_km", target_kind="toothed_ring", count=48, edges=1, counted=True,
    ...     set_pulses_per_turn=1, drive_kind="hub", ratio=1.0, ratio_known=True, radial=False, exact_pct=None)
    >>> [item.ratio for item in setting_mistakes(setup) if item.code == "pulses_left_out"]
    [48.0]
    """
    return (
        Hypothesis(code="right", ratio=1.0, prior=2.0, text="the setting is right, within the uncertainty", fix=""),
        *_lengths(setup),
        *_counts(setup),
        *_edges(setup),
        *_drives(setup),
        *_units(setup.code, afloat=not setup.has_tyre),
        *_tyres(setup),
        *_percentages(setup),
        *_ranges(setup),
        *_converters(setup),
    )


def _lengths(setup: Setup) -> Iterator[Hypothesis]:
    if setup.code.startswith("circumference"):
        text = "the diameter was entered instead of the circumference"
        yield Hypothesis(code="pi", ratio=1 / math.pi, prior=1.0, text=text, fix="")
        text = "the radius was entered instead of the circumference"
        yield Hypothesis(code="radius", ratio=0.5 / math.pi, prior=0.2, text=text, fix="")
    if setup.code.startswith("teeth"):
        text = "the circumference was entered instead of the diameter"
        yield Hypothesis(code="pi", ratio=math.pi, prior=1.0, text=text, fix="")
        text = "the radius was entered instead of the diameter"
        yield Hypothesis(code="radius", ratio=0.5, prior=0.5, text=text, fix="")


def _counts(setup: Setup) -> Iterator[Hypothesis]:
    count, name = setup.count, "magnets" if "magnets" in setup.target_kind else "teeth"
    per_turn = count * setup.edges
    if per_turn > 1:
        if setup.set_pulses_per_turn == 1:
            text = text_of("the {0} pulses per turn were left out of the setting", per_turn)
            yield Hypothesis(code="pulses_left_out", ratio=float(per_turn), prior=1.0, text=text, fix="")
            text = text_of("the setting was divided by the {0} pulses per turn once too often", per_turn)
            yield Hypothesis(code="pulses_twice", ratio=1 / per_turn, prior=0.3, text=text, fix="")
        else:
            text = text_of("the reader is set to 1 pulse per turn, not to {0}", setup.set_pulses_per_turn)
            yield Hypothesis(
                code="pulses_left_out", ratio=float(setup.set_pulses_per_turn), prior=0.5, text=text, fix=""
            )
    most = min(SWAPPED_TEETH, count - 1)
    for out in [step for step in range(-most, SWAPPED_TEETH + 1) if step]:
        other = count + out
        if abs(out) == 1:
            one = text_of("one more") if out > 0 else text_of("one fewer")
            if setup.step_up != setup.step_down:
                text = text_of("the setting or the converter is for {0} {1}, {2} than {3}", other, name, one, count)
            else:
                text = text_of("the setting is for {0} {1}, {2} than {3}", other, name, one, count)
            prior = 0.05 if setup.counted else 0.4
            yield Hypothesis(code="tooth", ratio=count / other, prior=prior, text=text, fix="Count again.")
        elif count >= 12:
            text = text_of("the setting is for a ring of {0} {1}, and this one has {2}", other, name, count)
            prior = 0.012 if setup.counted else 0.03
            yield Hypothesis(code="ring", ratio=count / other, prior=prior, text=text, fix="Count again.")


def _edges(setup: Setup) -> Iterator[Hypothesis]:
    if setup.target_kind == "multipole_ring":
        text = "pole pairs were set and every pole counts, or the other way round"
        yield Hypothesis(code="poles", ratio=2.0, prior=1.0, text=text, fix="")
        yield Hypothesis(code="poles", ratio=0.5, prior=1.0, text=text, fix="")
        return
    text = "half the pulses are set: both edges are counted, or a divider is set"
    yield Hypothesis(code="edges_two", ratio=2.0, prior=0.5, text=text, fix="")
    text = "twice the pulses are set: one edge is counted, or a divider is set"
    yield Hypothesis(code="edges_half", ratio=0.5, prior=0.5, text=text, fix="")


def _drives(setup: Setup) -> Iterator[Hypothesis]:
    ratio = setup.ratio
    if abs(ratio - 1) > 0.01:
        text = text_of("the drive ratio {0:.4g} was left out", ratio)
        yield Hypothesis(code="ratio_out", ratio=ratio, prior=0.8, text=text, fix="")
        text = text_of("the drive ratio {0:.4g} was divided out", ratio)
        yield Hypothesis(code="ratio_twice", ratio=1 / ratio, prior=0.4, text=text, fix="")
    if setup.drive_kind in ("axle_ratio", "transfer_box", "cable"):
        for other in AXLE_RATIOS:
            change = ratio / other
            if AXLE_CHANGES[0] < change < AXLE_CHANGES[1] and abs(change - 1) > 0.004:
                text = text_of("the setting is for an axle ratio of {0:g}, and this one is {1:.4g}", other, ratio)
                prior = 0.02 if setup.ratio_known else 0.05
                yield Hypothesis(
                    code="axle_changed", ratio=change, prior=prior, spread_pct=AXLE_SPREAD_PCT, text=text, fix=""
                )


def _units(code: str, *, afloat: bool) -> Iterator[Hypothesis]:
    at_sea = 0.2 if afloat else 0.02
    for unit, factor, prior, names in (
        ("unit_mile", KM_PER_MILE, 0.5, ("mile", "kilometre")),
        ("unit_nautical_mile", KM_PER_NAUTICAL_MILE, at_sea, ("nautical mile", "kilometre")),
        ("unit_nautical_mile", KM_PER_NAUTICAL_MILE / KM_PER_MILE, at_sea, ("nautical mile", "mile")),
    ):
        text = text_of("{0} and {1} were mixed up, in the setting or in the display's unit", *names)
        yield Hypothesis(code=unit, ratio=factor, prior=prior, text=text, fix="")
        yield Hypothesis(code=unit, ratio=1 / factor, prior=prior, text=text, fix="")
    for factor, text in (
        (10.0, "the decimal point is one place out"),
        (100.0, "metres and centimetres were mixed up, or the decimal point is two places out"),
        (1000.0, "metres and millimetres were mixed up"),
    ):
        yield Hypothesis(code="places", ratio=factor, prior=0.4, text=text, fix="")
        yield Hypothesis(code="places", ratio=1 / factor, prior=0.4, text=text, fix="")
    if code.startswith(LENGTHS):
        for factor, text in ((MM_PER_INCH, "inches and millimetres"), (2.54, "inches and centimetres")):
            yield Hypothesis(code="inch", ratio=factor, prior=0.3, text=text_of("{0} were mixed up", text), fix="")
            yield Hypothesis(code="inch", ratio=1 / factor, prior=0.3, text=text_of("{0} were mixed up", text), fix="")


def _tyres(setup: Setup) -> Iterator[Hypothesis]:
    if setup.radial:
        text = "the setting is from π × diameter; a loaded radial rolls 3.05 × diameter"
        yield Hypothesis(code="school", ratio=math.pi / ETRTO_FACTOR, prior=0.5, text=text, fix="")
        text = "the setting is from 3.05 × diameter"
        yield Hypothesis(code="school", ratio=ETRTO_FACTOR / math.pi, prior=0.3, text=text, fix="")
    if setup.has_tyre:
        text = "the setting belongs to another tyre, such as the previous one"
        yield Hypothesis(code="other_tyre", ratio=1.0, prior=0.5, spread_pct=OTHER_TYRE_SPREAD_PCT, text=text, fix="")


def _percentages(setup: Setup) -> Iterator[Hypothesis]:
    if setup.exact_pct is not None and abs(setup.exact_pct) > 0.2 and abs(setup.exact_pct) < 99:
        text = "the sign of the percentage is wrong"
        ratio = (1 - setup.exact_pct / 100) / (1 + setup.exact_pct / 100)
        yield Hypothesis(code="sign", ratio=ratio, prior=1.0, text=text, fix="")
        text = "the percentage was left out"
        ratio = 1 / (1 + setup.exact_pct / 100)
        yield Hypothesis(code="percentage_out", ratio=ratio, prior=1.0, text=text, fix="")
    if abs(setup.calibration_pct) > 0.2:
        text = text_of("the calibration of {0:+g} % was left out", setup.calibration_pct)
        ratio = 1 / (1 + setup.calibration_pct / 100)
        yield Hypothesis(code="calibration_out", ratio=ratio, prior=1.0, text=text, fix="")


def _ranges(setup: Setup) -> Iterator[Hypothesis]:
    if setup.low_range != 1:
        driven, entered = ("high", "low") if setup.in_low else ("low", "high")
        text = text_of("the transfer box is in {0} range, and the setting is for {1} range", driven, entered)
        ratio = 1 / setup.low_range if setup.in_low else setup.low_range
        yield Hypothesis(code="transfer_range", ratio=ratio, prior=1.0, text=text, fix="")


def _converters(setup: Setup) -> Iterator[Hypothesis]:
    """The converter set a step beside, upside down, or left out: as set now over as it was meant."""
    up, down = setup.step_up, setup.step_down
    if up == down:
        return
    text = text_of("the converter's ratio {0}/{1} was left out of the setting", up, down)
    yield Hypothesis(code="converter_out", ratio=up / down, prior=0.5, text=text, fix="")
    text = text_of("the converter's ratio {0}/{1} is upside down", up, down)
    yield Hypothesis(code="converter_inverted", ratio=(up / down) ** 2, prior=0.5, text=text, fix="")
    for other_up, other_down in ((up + 1, down), (up - 1, down), (up, down + 1), (up, down - 1)):
        if other_up > 0 and other_down > 0 and max(up, down) <= MOST_STEP:
            text = text_of("the converter is set to {0}/{1}, and {2}/{3} is meant", up, down, other_up, other_down)
            ratio = up * other_down / (down * other_up)
            yield Hypothesis(code="converter_step", ratio=ratio, prior=0.3, text=text, fix="")


def pulse_faults(count: int, contact: bool = False) -> Iterator[Hypothesis]:
    """What a sensor or an input does to the pulses, as a reading shows it: missed and double counts.

    A `contact` bounces, and a reed may close twice.

    Examples
    --------
    >>> [round(item.ratio, 3) for item in pulse_faults(48)][:2]
    [0.979, 0.5]
    """
    if count > 2:
        text = "one pulse in every turn is missed: a bent or missing tooth, or a weak magnet"
        yield Hypothesis(code="missed_tooth", ratio=(count - 1) / count, prior=0.3, text=text, fix="")
    for nth in (2, 3, 4, 5):
        text = text_of("every {0} pulse is missed", ("second", "third", "fourth", "fifth")[nth - 2])
        yield Hypothesis(code="missed_nth", ratio=(nth - 1) / nth, prior=0.3 / nth, text=text, fix="")
    text = "pulses count double: contact bounce, two closures of a reed, or noise at the threshold"
    yield Hypothesis(code="double", ratio=2.0, prior=2.0 if contact else 0.4, text=text, fix="")
    text = "pulses are missed at random: weak signal, a loose connector, or an input that is too slow"
    yield Hypothesis(code="missed", ratio=0.8, prior=1.8, spread_pct=20.0, one_way=True, text=text, fix="")
    text = "false pulses are counted: noise, ignition pick-up, or a threshold too low"
    yield Hypothesis(code="extra", ratio=1.2, prior=1.0, spread_pct=20.0, one_way=True, text=text, fix="")
