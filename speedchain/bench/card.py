"""The test card: what to feed in, what the needle should say, and what follows from what it did say."""

from __future__ import annotations

import itertools
import math
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from speedchain.bench.simulation import speed_of_hz
from speedchain.document import Installation
from speedchain.evaluation import Evaluation
from speedchain.fields import READ_BY_EYE_PCT, Words, text_of
from speedchain.readout import dial_of, on_the_dial
from speedchain.results import result
from speedchain.signal import best_stages
from speedchain.uncertainty import COVERAGE
from speedchain.wheel import growth_factor

Array = NDArray[np.float64]
LINES = 10
AGREES_PCT = 1.0
"""A reading this near to the expected one agrees, or within two of the display's steps. Common practice."""
FALLS_BACK = 0.25
STILL_STEPS = 1.5
LEAST_STEPS, MOST_STEPS, SCATTERS = 0.1, 10.0, 60
"""Between which multiples of its step a display scatters about the line, before it is read; our allowance. In so many
steps."""


@result
class CardRow:
    """One line of the card: true speed, frequency in and out of the converter, expected and read speed."""

    true_kmh: float
    in_hz: float
    out_hz: float
    expected_kmh: float
    read_kmh: float | None
    residual_kmh: float | None
    used: bool


@result
class CardLine:
    """The line through what was read: read = scale·true + offset, each with its ± (95.45 %), none of two readings;
    where the dial ended."""

    scale: float
    offset_kmh: float
    scale_expanded: float | None
    offset_expanded_kmh: float | None
    residual_kmh: float
    points: int
    scale_end_kmh: float | None
    wraps: bool


@result
class NextSetting:
    """What to do next. A reader: the setting to enter. A gauge behind a converter: its ratio, and what the gauge is now
    known to want, as pulses per km, as turns of its cable, and as the number that stands for the gauge."""

    what: Literal["number", "converter"]
    text: Words
    unit: Words
    number: float
    target_pulses_per_km: float | None
    cable_turns_per_km: float | None
    left_pct: float


@result
class Card:
    """The card of one readout, the speeds of round frequencies at its input, and what follows from its readings."""

    readout: str
    behind_converter: bool
    rows: tuple[CardRow, ...]
    round_hz_kmh: tuple[float, ...]
    line: CardLine | None
    agrees: bool
    next: NextSetting | None
    text: tuple[Words, ...]


def card_speeds_kmh(installation: Installation, place: int) -> tuple[float, ...]:
    """Speeds for a card: those entered, or ten round ones up to the top speed, one beyond the end of the dial.

    Examples
    --------
    >>> from speedchain.document.installation import example_installation
    >>> card_speeds_kmh(example_installation(), 0)
    (10.0, 20.0, 30.0, 40.0, 50.0, 60.0, 70.0, 80.0, 90.0, 100.0)
    """
    readout = installation.readouts[place]
    if readout.card:
        return tuple(sorted({point.speed_kmh for point in readout.card}))
    speeds = _round_lines(installation.needs.max_speed_kmh)
    if readout.scale_end_kmh is not None and speeds[-1] <= readout.scale_end_kmh:
        speeds.append(math.ceil(readout.scale_end_kmh * 1.05))
    return tuple([round(speed, 3) for speed in speeds])


def _round_lines(top: float) -> list[float]:
    """At most ten round numbers, evenly spaced, up to the first that is not below the top."""
    step = top / LINES
    power = 10.0 ** math.floor(math.log10(step))
    step = next(round_ * power for round_ in (1, 2, 2.5, 5, 10) if round_ * power >= step * 0.999)
    return [step * number for number in range(1, LINES + 1) if step * (number - 1) < top * 0.999]


def round_hz_kmh(installation: Installation, evaluation: Evaluation) -> tuple[float, ...]:
    """The true speeds at which round frequencies come from the sensor: v = 3600·f/pulses per km.

    Examples
    --------
    >>> from speedchain.document.installation import example_installation
    >>> from speedchain.evaluation import evaluate
    >>> installation = example_installation()
    >>> [round(v * evaluate(installation).pulses_per_km / 3600, 1)
    ...     for v in round_hz_kmh(installation, evaluate(installation))][:2]
    [100.0, 200.0]
    """
    hz_per_kmh = evaluation.pulses_per_km / 3600
    return tuple([round(hz / hz_per_kmh, 4) for hz in _round_lines(installation.needs.max_speed_kmh * hz_per_kmh)])


def card_of(installation: Installation, evaluation: Evaluation, place: int = 0) -> Card:
    """The card of one readout.

    f_in = v·pulses per km/3600; f_out = K·f_in, up to the cap; expected: as the number in the display makes it.

    Parameters
    ----------
    The installation and its evaluation; which readout.

    Raises
    ------
    `InputError` when there is no such readout.

    References
    ----------
    Unit arithmetic; least squares (any textbook).

    Examples
    --------
    >>> from speedchain.evaluation import evaluate

    >>> from speedchain.document.installation import example_installation
    >>> installation = example_installation()
    >>> card_of(installation, evaluate(installation)).rows[-1].expected_kmh.__round__(2)
    100.0
    """
    readout = installation.readout_at(place)
    seen = evaluation.readouts[place]
    conversion = evaluation.signal_detail.conversion
    behind = conversion is not None and not readout.before_converter
    speeds = np.array(card_speeds_kmh(installation, place))
    here = growth_factor(installation.wheel, installation.check_speed_kmh)
    grown = np.array([here / growth_factor(installation.wheel, speed) for speed in speeds.tolist()])
    in_hz = speeds * evaluation.pulses_per_km * grown / 3600
    out_hz = in_hz * conversion.ratio if behind and conversion else in_hz
    if behind and conversion and conversion.cap_hz is not None:
        out_hz = np.minimum(out_hz, conversion.cap_hz)
    expected = on_the_dial(speed_of_hz(seen, out_hz), readout.scale_end_kmh, readout.past_end)
    read = np.array([_read(installation, place, speed) for speed in speeds.tolist()])
    line, used = _fitted(speeds, read, readout.display_step_kmh)
    rows = tuple(
        [
            CardRow(
                true_kmh=float(speeds[at]), in_hz=float(in_hz[at]), out_hz=float(out_hz[at]),
                expected_kmh=float(expected[at]),
                read_kmh=None if math.isnan(read[at]) else float(read[at]),
                residual_kmh=None if line is None or not used[at]
                    else float(read[at] - line.scale * speeds[at] - line.offset_kmh),
                used=bool(used[at]),
            )
            for at in range(speeds.size)
        ]
    )  # fmt: skip
    off = np.abs(read - expected) > np.maximum(AGREES_PCT / 100 * expected, 2 * readout.display_step_kmh)
    agrees = line is not None and not bool(np.any(off[used]))
    following = None if line is None else _next(installation, evaluation, place, line)
    return Card(
        readout=readout.name,
        behind_converter=behind,
        rows=rows,
        round_hz_kmh=round_hz_kmh(installation, evaluation),
        line=line,
        agrees=agrees,
        next=following,
        text=_text_of(installation, place=place, line=line, agrees=agrees, following=following),
    )


def _read(installation: Installation, place: int, speed_kmh: float) -> float:
    found = next((point.read_kmh for point in installation.readouts[place].card if point.speed_kmh == speed_kmh), None)
    return math.nan if found is None else found


def _fitted(speeds: Array, read: Array, step_kmh: float) -> tuple[CardLine | None, NDArray[np.bool_]]:
    """Scale and offset from the points on the dial: not those below the first movement, nor at or past its end."""
    from scipy.stats import linregress

    there = np.flatnonzero(~np.isnan(read))
    used = np.zeros(speeds.size, dtype=bool)
    end: float | None = None
    wraps = False
    moving = [at for at in there.tolist() if read[at] > 0]
    # nothing is shown below the lowest speed; what is zero later has fallen back
    live = [at for at in there.tolist() if moving and at >= moving[0]]
    for before, at in itertools.pairwise(live):
        if read[at] < FALLS_BACK * read[before]:
            end, wraps = float(read[before]), True
            live = [item for item in live if item < at]
            break
    else:
        last = len(live) - 1
        while last > 0 and _stands(speeds, read, live=live, last=last, step_kmh=step_kmh):
            last -= 1
        if 0 <= last < len(live) - 1:
            end = float(read[live[-1]])
            live = [item for item in live if read[item] < end - step_kmh / 2]
    used[live] = True
    if len(live) < 2:
        return None, np.zeros(speeds.size, dtype=bool)
    fit = linregress(speeds[live], read[live])
    residuals = read[live] - fit.slope * speeds[live] - fit.intercept
    expanded = _expanded(speeds[live], residuals, step_kmh=step_kmh)
    return CardLine(
        scale=float(fit.slope),
        offset_kmh=float(fit.intercept),
        scale_expanded=expanded[0],
        offset_expanded_kmh=expanded[1],
        residual_kmh=float(np.sqrt(np.mean(residuals**2))),
        points=len(live),
        scale_end_kmh=end,
        wraps=wraps,
    ), used


def _expanded(speeds: Array, residuals: Array, *, step_kmh: float) -> tuple[float, float] | tuple[None, None]:
    """± of scale and offset (95.45 %). Two readings show no scatter: then there is none to say.

    References
    ----------
    Least squares (any textbook).
    """
    if speeds.size < 3:
        return None, None
    within = _within_kmh(float((residuals**2).sum()), speeds.size - 2, step_kmh)
    spread = float(((speeds - speeds.mean()) ** 2).sum())
    return (
        within / math.sqrt(spread),
        within * math.sqrt(1 / speeds.size + float(speeds.mean()) ** 2 / spread),
    )


def _within_kmh(squares: float, freedom: int, step_kmh: float) -> float:
    """By how much a reading's worth of a line may be off (95.45 %) [km/h]: normal for a scatter that is known, here
    over all that it may be, each as likely as the residuals make it. Before them it is from a tenth of the display's
    step to ten steps (three times what they show, where that is more), any order of size alike, and s/√12 of the step
    itself; so few readings that lie on a line by chance do not look exact. Where residuals tell, it is Student's factor
    on them.

    References
    ----------
    Bayes' rule with a prior uniform in ln σ, which alone would give Student's t (JCGM 101:2008, 6.4.9.2); the bounds:
    our allowance.
    """
    from scipy.optimize import brentq
    from scipy.special import ndtr

    most = max(MOST_STEPS * step_kmh, 3 * math.sqrt(squares / freedom))
    scatters = np.hypot(np.geomspace(LEAST_STEPS * step_kmh, most, SCATTERS), step_kmh / math.sqrt(12))
    log = -freedom * np.log(scatters) - squares / 2 / scatters**2
    weights = np.exp(log - log.max())
    weights[[0, -1]] /= 2  # trapezoids
    weights /= weights.sum()
    return float(
        brentq(lambda off: float(weights @ (2 * ndtr(off / scatters) - 1)) - COVERAGE, 0.0, 100 * scatters[-1])
    )


def _stands(speeds: Array, read: Array, *, live: list[int], last: int, step_kmh: float) -> bool:
    """Whether a needle has stopped at its `last` live reading: it rose by less than its own step and half of what the
    speed did, or by less than half of what it usually rose before."""
    before, at = live[last - 1], live[last]
    rise, span = read[at] - read[before], speeds[at] - speeds[before]
    if rise < min(STILL_STEPS * step_kmh, 0.5 * span):
        return True
    earlier = live[:last]
    return len(earlier) > 2 and bool(rise < 0.5 * span * np.median(np.diff(read[earlier]) / np.diff(speeds[earlier])))


def _next(installation: Installation, evaluation: Evaluation, place: int, line: CardLine) -> NextSetting | None:
    """The converter's next ratio for a readout behind it; else the next setting to enter."""
    if line.scale <= 0:
        return None
    conversion, converter = evaluation.signal_detail.conversion, installation.signal.converter
    readout, seen = installation.readouts[place], evaluation.readouts[place]
    if seen.table:
        return None
    dial = dial_of(readout)
    if conversion is not None and converter is not None and not readout.before_converter:
        wants = seen.set_pulses_per_km / line.scale
        stages = best_stages(wants / evaluation.pulses_per_km, converter)
        text = " · ".join([f"{stage.numerator}/{stage.denominator}" for stage in stages])
        number = float(f"{dial.around(dial.exact(wants)).nearest:.12g}")
        turns = wants / converter.motor_pulses if converter.drives == "mechanical" else None
        left = stages[-1].error_ppm / 1e4
        return NextSetting(
            what="converter",
            text=text,
            unit="pulses out for pulses in",
            number=number,
            target_pulses_per_km=wants,
            cable_turns_per_km=turns,
            left_pct=left,
        )
    set_per_km = seen.set_pulses_per_km * line.scale
    below, above, near = dial.around(dial.exact(set_per_km))
    value = near if seen.rounding == "nearest" else above if seen.rounding == "up" else below
    left_pct = 100 * (set_per_km / dial.pulses_per_km(value) - 1)
    return NextSetting(
        what="number",
        text=dial.text(value),
        unit=seen.unit,
        number=value,
        target_pulses_per_km=None,
        cable_turns_per_km=None,
        left_pct=left_pct,
    )


def _text_of(
    installation: Installation, *, place: int, line: CardLine | None, agrees: bool, following: NextSetting | None
) -> tuple[str, ...]:
    readout = installation.readouts[place]
    if line is None:
        return ("Enter the readings at two speeds or more.",)
    off_pct = 100 * (line.scale - 1)
    within_pct = None if line.scale_expanded is None else 100 * line.scale_expanded
    if within_pct is None:
        result = [text_of("By two readings it reads {0:+.1f} %; read a third for its ±.", off_pct)]
    elif abs(off_pct) < max(READ_BY_EYE_PCT, within_pct):
        result = [text_of("It reads correctly, ± {0:.1f} %.", max(within_pct, READ_BY_EYE_PCT))]
    else:
        result = [
            text_of(
                "It reads {0:.1f} % {1}, ± {2:.1f} %.",
                abs(off_pct),
                "high" if off_pct > 0 else "low",
                within_pct,
            )
        ]
    if (silent := [point.speed_kmh for point in readout.card if point.read_kmh == 0]) and min(silent) < 0.5 * max(
        [point.speed_kmh for point in readout.card]
    ):
        result.append(text_of("Nothing shown at {0:g} km/h.", min(silent)))
    if abs(line.offset_kmh) > max(line.offset_expanded_kmh or 0.0, readout.display_step_kmh):
        result.append(
            text_of(
                "In addition it is {0:+.1f} km/h off at every speed. No setting corrects this: adjust "
                "the needle on its spindle, or its zero.",
                line.offset_kmh,
            )
        )
    if line.scale_end_kmh is not None:
        what = "drops to zero after" if line.wraps else "stops at"
        result.append(text_of("The needle {0} {1:g} km/h; readings beyond it are not used.", what, line.scale_end_kmh))
        if line.wraps:
            result.append(text_of("Limit the output to {0:g} km/h.", readout.scale_end_kmh or line.scale_end_kmh))
    if agrees:
        result.append("All readings agree with the expected speeds: the test verifies signal and readout.")
    elif following is not None and following.what == "converter":
        result.append(
            text_of(
                "The gauge needs {0:.0f} pulses per km: set the converter to {1}, then repeat the test card.",
                following.target_pulses_per_km,
                following.text,
            )
        )
    elif following is not None:
        result.append(text_of("Enter {0}\u00a0{1}, then repeat the test card.", following.text, following.unit))
    return tuple(result)
