"""The speed check: shown against true speed over a recorded drive, how sure, and what it says of the setting."""

from __future__ import annotations

import itertools
import math
from typing import Literal, NamedTuple

import numpy as np
from numpy.typing import NDArray

from speedchain.fields import Words, joined, text_of
from speedchain.results import result
from speedchain.runs.align import Lag, SpeedRecord, alike_points, lag_between, on_times
from speedchain.runs.regression import Line, line_through
from speedchain.runs.steady import LEAST_KMH, DrivePart, parts_of
from speedchain.uncertainty import COVERAGE_FACTOR, student_factor

Array = NDArray[np.float64]
Units = Literal["blocks", "parts"]
STANDING_KMH = 1.0
BLOCK_S = 4.0
ALIKE = 6.0
"""A block is so many times as long as samples are alike: then one block says little of the next. Common practice."""
BETTER = 6.0
"""How much smaller AICc must be for an offset to be believed. Common practice."""
OFFSET_SURE = 0.995
"""One-sided level of the t test that an offset has to pass as well, since parts are few. Common practice."""
RANGE_FOR_OFFSET = 1.5
"""Highest by lowest speed from which an offset is distinguished from a ratio. Common practice."""
SOURCE_U_PCT = 0.1
"""Standard uncertainty of the scale of a satellite speed over a steady part. Common practice."""
WANTED_PCT = 0.5
LEAST_UNITS = 3
ENOUGH_PARTS = 3
"""From so many parts on a part is one observation: blocks of one part share its slope, wind and warmth."""
OPPOSITE_DEG = 50.0
ROUNDED = 1e-9
"""Ratios that scatter by less differ by the rounding of the arithmetic alone, and are not alike over any time."""


@result
class CheckPair:
    """Mean true and shown speed of a while [km/h], its heading [°] where known, and how much it counts (0 to 1)."""

    from_s: float
    to_s: float
    true_kmh: float
    shown_kmh: float
    course_deg: float | None
    weight: float


@result
class Direction:
    """What the drive in one direction says: shown/true − 1, and how sure [%]."""

    course_deg: float
    error_pct: float
    expanded_pct: float


@result
class SpeedCheck:
    """Shown against true speed: shown = offset + ratio·true.

    `error_pct` is shown/true − 1 at the mean speed of what was used; `expanded_pct` its expanded uncertainty (95.45 %).
    `needed_s` of steady driving would bring ± 0.5 %; None where the source of the true speed is not sure enough.
    """

    lag: Lag
    parts: tuple[DrivePart, ...]
    pairs: tuple[CheckPair, ...]
    ratio: float
    offset_kmh: float
    error_pct: float
    at_kmh: float
    expanded_pct: float
    coverage_factor: float
    degrees_of_freedom: float
    units: Units
    steady_s: float
    needed_s: float | None
    directions: tuple[Direction, ...]
    text: Words
    advice: Words


def speed_check(
    true: SpeedRecord,
    shown: SpeedRecord,
    *,
    course_deg: Array | None = None,
    accuracy_m: Array | None = None,
    left_out: tuple[tuple[float, float], ...] = (),
    used: tuple[tuple[float, float], ...] = (),
    display_step_kmh: float = 0.0,
    source_u_pct: float = SOURCE_U_PCT,
    least_kmh: float = LEAST_KMH,
) -> SpeedCheck | None:
    """What a drive says of a display, or None where too little of it can be used.

    The clocks are aligned; steady, straight parts with a good fix are cut into blocks as long as neighbouring samples
    are alike; a line goes through their means by total least squares with robust weights, through zero unless Akaike's
    criterion demands an offset. Where the two directions of a drive differ, their mean counts. A part is one
    observation where there are three or more; otherwise a block is.

    u² = t²·s²/n + (2·u_source)²: the statistical part with Student's factor for the blocks or parts that there are.

    Parameters
    ----------
    Two records; course [°] and accuracy [m] at the true record's times; spans [s] left out, or used, by hand; step of
    the display [km/h]; standard uncertainty of the true speed's scale [%]; least speed that counts [km/h].

    References
    ----------
    JCGM 100:2008, 4.2 and G.3; K.-Y. Liang, S. L. Zeger, Biometrika 73 (1986), 13 (sums over parts); N. Sugiura,
    Communications in Statistics A7 (1978), 13 (AICc), from memory.

    Examples
    --------
    >>> t = np.arange(0.0, 300.0, 1.0)
    >>> v = np.interp(t, [0, 20, 300], [0, 60, 60])
    >>> found = speed_check(SpeedRecord(t, v), SpeedRecord(t, 1.02 * v))
    >>> round(found.ratio, 4), found.needed_s
    (1.02, 4.0)
    """
    lag = lag_between(true, shown)
    true = SpeedRecord(true.time_s, on_times(true, true.time_s))  # single lost samples are bridged
    shown_kmh = on_times(shown, true.time_s + lag.lag_s)
    parts = parts_of(
        true.time_s,
        true.kmh,
        shown_kmh,
        course_deg=course_deg,
        accuracy_m=accuracy_m,
        left_out=left_out,
        used=used,
        least_kmh=least_kmh,
    )
    blocks = _blocks(parts, true, shown_kmh, display_step_kmh)
    if len(blocks.true) < LEAST_UNITS or not blocks.shown.any():
        return None
    directions, of_direction = _directions(blocks, true, course_deg, source_u_pct)
    if _differ(directions):
        blocks = _without_direction(blocks, directions, of_direction)
    line, scatter, freedom, units = _line(blocks)
    at_kmh = float(np.average(blocks.true, weights=line.weights))
    factor = student_factor(freedom)
    u_line = _u_at(line, at_kmh) * scatter
    of_shown = max(line.offset + line.ratio * at_kmh, 1e-9)
    statistical_pct = 100 * factor * u_line / of_shown
    expanded = math.hypot(statistical_pct, COVERAGE_FACTOR * source_u_pct)
    steady_s = float(sum(part.to_s - part.from_s for part in parts if part.reason is None))
    error_pct = 100 * (of_shown / at_kmh - 1)
    needed_s = _needed_s(steady_s, statistical_pct, source_u_pct)
    return SpeedCheck(
        lag=lag,
        parts=parts,
        pairs=tuple(
            [
                CheckPair(
                    from_s=begin,
                    to_s=end,
                    true_kmh=float(blocks.true[place]),
                    shown_kmh=float(blocks.shown[place]),
                    course_deg=_mean_course(true.time_s, course_deg, begin, end),
                    weight=float(line.weights[place]),
                )
                for place, (begin, end) in enumerate(blocks.spans)
            ]
        ),
        ratio=line.ratio,
        offset_kmh=line.offset,
        error_pct=error_pct,
        at_kmh=at_kmh,
        expanded_pct=expanded,
        coverage_factor=factor,
        degrees_of_freedom=freedom,
        units=units,
        steady_s=steady_s,
        needed_s=needed_s,
        directions=directions,
        text=_text(line, at_kmh, error_pct, expanded),
        advice=_advice(directions, expanded, steady_s=steady_s, needed_s=needed_s, course_known=course_deg is not None),
    )


class _Blocks(NamedTuple):
    true: Array
    shown: Array
    u_true: Array
    u_shown: Array
    part: NDArray[np.int64]
    spans: list[tuple[float, float]]


def _within(time_s: Array, begin: float, end: float) -> slice:
    """The samples from a time to another, that one left out."""
    first, last = np.searchsorted(time_s, (begin, end))
    return slice(int(first), int(last))


def _blocks(parts: tuple[DrivePart, ...], true: SpeedRecord, shown_kmh: Array, step_kmh: float) -> _Blocks:
    """Means over blocks of the parts in use, each with the standard uncertainty that its samples' scatter gives it."""
    spans = [(part.from_s, part.to_s) for part in parts if part.reason is None]
    apart = [
        shown_kmh[here] / np.maximum(true.kmh[here], STANDING_KMH)
        for here in (_within(true.time_s, *span) for span in spans)
    ]
    left = np.concatenate([ratio - ratio.mean() for ratio in apart]) if apart else np.empty(0)
    tells = left.size > 2 and float(np.abs(left).max()) > ROUNDED
    alike = alike_points(left, left.size / len(apart)) if tells else 1.0
    step_s = float(np.median(np.diff(true.time_s)))
    length_s = max(BLOCK_S, ALIKE * alike * step_s)
    rows: list[tuple[float, float, float, float, int, tuple[float, float]]] = []
    for place, (begin, end) in enumerate(spans):
        count = max(int((end - begin) / length_s), 1)
        edges = [*[begin + at * (end - begin) / count for at in range(count)], end]  # the last is none by rounding
        for low, high in itertools.pairwise(edges):
            here = _within(true.time_s, low, high)
            size = here.stop - here.start
            mean, other = (float(values[here].mean()) if size else 0.0 for values in (true.kmh, shown_kmh))
            if mean < STANDING_KMH:
                continue  # nothing can be compared while it stands, even where a person wants it
            left_kmh = shown_kmh[here] - other / mean * true.kmh[here]  # their mean is zero
            noise = math.sqrt(float(left_kmh @ left_kmh) / size) if size > 2 else 0.0
            own = noise * math.sqrt(min(alike / max(size, 1), 1.0))
            rows.append((mean, other, own, math.hypot(own, step_kmh / math.sqrt(12)), place, (low, high)))
    if not rows:
        empty = np.empty(0)
        return _Blocks(empty, empty, empty, empty, np.empty(0, dtype=np.int64), [])
    mean_of, other_of, own_of, shown_of, part, spans_of = zip(*rows, strict=True)
    # a block whose few samples happen to agree is no better known than the rest
    least = max(float(np.median(own_of)), 1e-4)
    return _Blocks(
        np.array(mean_of),
        np.array(other_of),
        np.maximum(np.array(own_of), least) / math.sqrt(2),
        np.maximum(np.array(shown_of), least) / math.sqrt(2),
        np.array(part, dtype=np.int64),
        list(spans_of),
    )


def _tells_offset(blocks: _Blocks) -> bool:
    return blocks.true.size >= 6 and float(blocks.true.max()) >= RANGE_FOR_OFFSET * float(blocks.true.min())


def _line(blocks: _Blocks) -> tuple[Line, float, float, Units]:
    """The line, by how much what counts as one observation scatters about it, degrees of freedom, and what that is."""
    from scipy.special import stdtrit

    columns = blocks.true, blocks.shown, blocks.u_true, blocks.u_shown
    through = line_through(*columns, through_zero=True)
    if _tells_offset(blocks):
        free = line_through(*columns, through_zero=False)
        scatter, freedom, units = _scatter(blocks, free, 2)
        alone = freedom + 2
        if alone > 4 and scatter > 0:
            # the scatter is taken from the data, so χ² is in units of the larger line's own
            gain = (through.chi2 - free.chi2) / scatter**2
            demanded = BETTER + 2 + 12 / (alone - 3) - 4 / (alone - 2)
            if gain > max(demanded, float(stdtrit(freedom, OFFSET_SURE)) ** 2):
                return free, scatter, freedom, units
    return through, *_scatter(blocks, through, 1)


def _scatter(blocks: _Blocks, line: Line, fitted: int) -> tuple[float, float, Units]:
    """Residuals of a part are drawn in by its own pull at the line, √(1 − h), and long parts are fewer than they
    look."""
    groups = np.unique(blocks.part)
    spare = len(groups) - fitted
    if len(groups) >= ENOUGH_PARTS and spare >= 2 and line.z.size > len(groups):
        says = (blocks.true / np.hypot(blocks.u_shown, line.ratio * blocks.u_true)) ** 2
        share = np.array([says[blocks.part == group].sum() for group in groups]) / says.sum()
        x = np.sqrt(says)
        pulls = np.array([float(line.pulls[blocks.part == group] @ x[blocks.part == group]) for group in groups])
        variance = float((pulls**2 / (1 - share)).sum() / says.sum()) * (len(groups) - 1) / spare
        return math.sqrt(variance), max(1 / float((share**2).sum()) - fitted, 2.0), "parts"
    return line.scatter(fitted), max(line.z.size - fitted, 1), "blocks"


def _u_at(line: Line, at_kmh: float) -> float:
    if line.offset == 0:
        return line.u_ratio * at_kmh
    return math.sqrt(max(line.u_offset**2 + (at_kmh * line.u_ratio) ** 2 + 2 * at_kmh * line.covariance, 0.0))


def _needed_s(steady_s: float, statistical_pct: float, source_u_pct: float) -> float | None:
    left = WANTED_PCT**2 - (COVERAGE_FACTOR * source_u_pct) ** 2
    if left <= 0:
        return None
    return max(steady_s * statistical_pct**2 / left, BLOCK_S)


def _mean_course(time_s: Array, course_deg: Array | None, begin: float, end: float) -> float | None:
    if course_deg is None:
        return None
    here = course_deg[_within(time_s, begin, end)]
    here = here[np.isfinite(here)]
    if not here.size:
        return None
    angle = np.radians(here)
    return float(np.degrees(np.arctan2(np.sin(angle).mean(), np.cos(angle).mean())) % 360)


def _directions(
    blocks: _Blocks, true: SpeedRecord, course_deg: Array | None, source_u_pct: float
) -> tuple[tuple[Direction, ...], NDArray[np.int64]]:
    """The two directions of a drive there and back, or the one that it has; and which each block is of (−1:
    neither)."""
    of = np.full(len(blocks.spans), -1)
    if course_deg is None:
        return (), of
    courses = [_mean_course(true.time_s, course_deg, begin, end) for begin, end in blocks.spans]
    known = np.array([np.nan if course is None else course for course in courses])
    if not np.isfinite(known).any():
        return (), of
    double = np.radians(2 * known[np.isfinite(known)])
    axis = float(np.degrees(np.arctan2(np.sin(double).mean(), np.cos(double).mean())) / 2 % 180)
    # beside a line that may have an offset: what differs by speed is no difference of direction
    columns = blocks.true, blocks.shown, blocks.u_true, blocks.u_shown
    line = line_through(*columns, through_zero=not _tells_offset(blocks))
    left = blocks.shown / np.maximum(line.offset + line.ratio * blocks.true, 1e-9)
    overall = float((blocks.shown / blocks.true).mean())
    found: list[Direction] = []
    for heading in (axis, axis + 180):
        near = np.abs((known - heading + 180) % 360 - 180) < OPPOSITE_DEG
        if near.sum() >= LEAST_UNITS:
            ratios = overall * left[near]
            u_pct = 100 * float(ratios.std(ddof=1)) / math.sqrt(near.sum())
            of[near] = len(found)
            found.append(
                Direction(
                    course_deg=heading,
                    error_pct=100 * (float(ratios.mean()) - 1),
                    expanded_pct=math.hypot(
                        student_factor(int(near.sum()) - 1) * u_pct, COVERAGE_FACTOR * source_u_pct
                    ),
                )
            )
    return tuple(found), of


def _differ(directions: tuple[Direction, ...]) -> bool:
    if len(directions) < 2:
        return False
    first, second = directions
    return abs(first.error_pct - second.error_pct) > math.hypot(first.expanded_pct, second.expanded_pct)


def _without_direction(blocks: _Blocks, directions: tuple[Direction, ...], of: NDArray[np.int64]) -> _Blocks:
    """What slope or wind adds there it takes away on the way back: both directions count alike."""
    mean = sum(item.error_pct for item in directions) / 2
    by = np.array([*((1 + mean / 100) / (1 + item.error_pct / 100) for item in directions), 1.0])
    return blocks._replace(shown=blocks.shown * by[of])


def _text(line: Line, at_kmh: float, error_pct: float, expanded_pct: float) -> str:
    if line.offset == 0:
        return text_of("It shows {0:+.2f} % against true, ± {1:.2g} %.", error_pct, expanded_pct)
    return text_of(
        "It shows {0:.4f} × true {1} {2:.2f} km/h: a ratio and an offset. At {3:.0f} km/h that is {4:+.2f} %, ± "
        "{5:.2g} %.",
        line.ratio,
        "+" if line.offset > 0 else "−",
        abs(line.offset),
        at_kmh,
        error_pct,
        expanded_pct,
    )


def _advice(
    directions: tuple[Direction, ...],
    expanded_pct: float,
    *,
    steady_s: float,
    needed_s: float | None,
    course_known: bool,
) -> str:
    said = []
    if course_known and len(directions) == 1:
        said.append("Driven in one direction only: drive back as well, so that slope and wind cancel.")
    if _differ(directions):
        apart = abs(directions[0].error_pct - directions[1].error_pct)
        said.append(text_of("The two directions differ by {0:.2f} %, by slope or wind: their mean counts.", apart))
    if expanded_pct > WANTED_PCT:
        if needed_s is None:
            said.append("A more exact source of the true speed is needed for ± 0.5 %.")
        elif needed_s > steady_s:
            said.append(
                text_of("Drive steadily for {0:.0f} minutes in all to know it to ± 0.5 %.", math.ceil(needed_s / 60))
            )
    return joined(" ", said)
