"""Reciprocal runs: the same stretch there and back, so that current, wind or slope cancel."""

from __future__ import annotations

import math
from dataclasses import replace
from typing import Annotated

import numpy as np
from numpy.typing import NDArray
from pydantic import Field

from speedchain.fields import InputError, Part, ShownSpeed, Speed, Words, stated, text_of
from speedchain.results import result
from speedchain.runs.align import SpeedRecord, alike_points, on_times
from speedchain.runs.steady import parts_of
from speedchain.uncertainty import COVERAGE_FACTOR, student_factor

Array = NDArray[np.float64]
LEAST_RUN_S = 20.0
EDGE_S = 4.0
"""Left out at each end of a run, where a display still follows. Common practice."""
STEADY_M_S2 = 0.06
SHORT_GAP_S = 15.0
SAME_WAY_DEG = 30.0
MOST_RUNS = 8
SOURCE_U_PCT = 0.1
CURRENT_U_KMH_H = 4.0
"""By how much a current may change in an hour, where two runs alone cannot tell. Common practice."""
BEND_U_KMH_H = 2.0
"""By how much that change may itself change between the halves of the runs, which three runs cannot tell. Our
allowance."""
ACROSS = 1 / 3
"""Runs are laid along a current within some 18°: so much of it may be across. Common practice."""
MOST_SPREAD_PCT = 5.0
"""Speeds through the water of runs that belong together differ by less. Common practice."""
STRAIGHT_DEG = 6.0
"""A straight run's heading scatters by less. Common practice."""
DEAD = 0.1
"""A display that shows less than this share of the true speed shows nothing. Our allowance."""
APART_S = 300.0
"""Runs by hand whose times nobody noted follow each other so. Common practice."""
READ_U_KMH = 0.1
"""Of a speed over ground that is read from a receiver as the mean of a run. Common practice."""
HELD_S = 3.0
"""What a display shows for less is a dropout, not its beginning. Common practice."""
TAP_U_S = 0.3
"""By how much a press at a mark is early or late. Common practice."""
RUN_BACK = "Run the same stretch both ways, straight, at one speed, half a minute each at least."


@result
class WaterRun:
    """One run [s]: its heading [°], mean speed over ground and mean shown speed [km/h], and how its heading scatters
    [°]."""

    from_s: float
    to_s: float
    course_deg: float
    ground_kmh: float
    shown_kmh: float
    scatter_deg: float
    back: bool
    heading_deg: float | None = None


class RunByHand(Part):
    """One run as it was noted: speed over ground, shown speed [km/h], there or back, and when it began and ended, where
    it was timed [s]."""

    ground_kmh: Speed = stated(title="Speed over ground")
    shown_kmh: ShownSpeed = stated(title="Shown speed")
    back: bool = False
    from_s: Annotated[float, Field(ge=-1e12, le=1e12)] | None = None
    to_s: Annotated[float, Field(ge=-1e12, le=1e12)] | None = None


@result
class Reciprocal:
    """What reciprocal runs say: speed through the water, the shown speed, and the current at the first and the last
    run.

    `error_pct` is shown/through water − 1; the current is positive the way of the first run, and to starboard of
    it across. `works_from_kmh`: where the display begins and stops to show something, where the boat came by it.
    """

    runs: tuple[WaterRun, ...]
    water_kmh: float
    shown_kmh: float
    error_pct: float
    expanded_pct: float
    current_first_kmh: float
    current_last_kmh: float
    current_across_kmh: float = 0.0
    works_from_kmh: float | None = None
    text: Words
    advice: Words


def mean_of_means(speeds: Array) -> float:
    """The speed without a current that changes evenly or more: means of neighbours, and of those again, until one is
    left.

    Two runs: (V₁ + V₂)/2; three: (V₁ + 2V₂ + V₃)/4; four: (V₁ + 3V₂ + 3V₃ + V₄)/8.

    Parameters
    ----------
    Speeds over ground of runs there and back in turn, at even times.

    References
    ----------
    N. Bowditch, The American Practical Navigator (speed trials), from memory.

    Examples
    --------
    >>> mean_of_means(np.array([12.0, 8.5, 11.0]))
    10.0
    """
    values = np.asarray(speeds, dtype=float)
    while values.size > 1:
        values = (values[1:] + values[:-1]) / 2
    return float(values[0])


def reciprocal(
    true: SpeedRecord,
    shown: SpeedRecord,
    course_deg: Array,
    *,
    least_kmh: float,
    heading_deg: Array | None = None,
    accuracy_m: Array | None = None,
    left_out: tuple[tuple[float, float], ...] = (),
    used: tuple[tuple[float, float], ...] = (),
) -> Reciprocal | None:
    """Runs there and back found in a recording, and what they say of a display; None without a pair of them.

    The runs are the steady, straight parts with one course or the opposite one. With a current c(t) = c₀ + c₁·t each
    run has V_i = W·r_i·d_i + c(t_i) in the plane, with r_i the shown speed against its mean and d_i the direction
    through the water: least squares for W, c₀ and, from three runs on, c₁. Where all runs were driven alike at even
    times along the current this is the mean of means. Recorded headings tell d_i, whatever compass and leeway add to
    all of them; without them the boat is taken to head the opposite way on the way back, and a current across the
    courses, of which nothing is seen where these are opposite, is allowed as a third of the one that was found.

    ± comes from the scatter within the runs, or from what the fit leaves where that is more, with Student's factor;
    from a change of the current that two runs cannot show, or a bend of it that more cannot; and from the scale of the
    true speed.

    Parameters
    ----------
    Speed over ground and shown speed; course over ground at the times of the first [°]; least speed that counts
    [km/h]; heading at those times [°]; accuracy of the place at those times [m]; spans [s] that are left
    out, or used, by hand.

    Examples
    --------
    >>> t = np.arange(0.0, 200.0, 1.0)
    >>> way = np.where(t < 100, 0.0, 1.0)
    >>> v = np.where((t > 90) & (t < 110), 0.0, 10 + 2 * (1 - 2 * way))
    >>> found = reciprocal(SpeedRecord(t, v), SpeedRecord(t, np.where(v > 0, 9.5, 0)), 180 * way, least_kmh=3)
    >>> round(found.water_kmh, 2), round(found.error_pct, 1), round(found.current_first_kmh, 1)
    (10.0, -5.0, 2.0)
    """
    true = SpeedRecord(true.time_s, on_times(true, true.time_s))
    shown_kmh = on_times(shown, true.time_s)
    parts = parts_of(
        true.time_s,
        true.kmh,
        shown_kmh,
        course_deg=course_deg,
        accuracy_m=accuracy_m,
        left_out=left_out,
        used=used,
        least_kmh=least_kmh,
        most_acceleration_m_s2=STEADY_M_S2,
    )
    steady = [(part.from_s, part.to_s) for part in parts if part.reason is None]
    spans = [(begin + EDGE_S, end - EDGE_S) for begin, end in _joined(steady, true.time_s, course_deg)]
    runs, noise = _runs(spans, true, shown_kmh, course_deg)
    if heading_deg is not None:
        runs = tuple([_headed(run, true.time_s, heading_deg) for run in runs])
    if not any(run.back for run in runs) or not all(run.shown_kmh > DEAD * run.ground_kmh for run in runs):
        return None
    found = _fitted(runs, noise)
    water = through_water(true, course_deg, found)
    return replace(found, works_from_kmh=works_from(SpeedRecord(true.time_s, water.kmh), shown_kmh))


def works_from(true: SpeedRecord, shown_kmh: Array) -> float | None:
    """The lowest speed at which a display works [km/h]: the median of the speeds at which it begins or stops to show
    something, held for three seconds on either side, below half of the usual speed; None where it never does.

    Examples
    --------
    >>> t = np.arange(0.0, 60.0, 1.0)
    >>> v = np.interp(t, [0, 30, 60], [0, 9, 9])
    >>> round(works_from(SpeedRecord(t, v), np.where(v < 2.0, 0.0, v)), 2)
    1.95
    """
    known = np.isfinite(true.kmh) & np.isfinite(shown_kmh)
    time_s, kmh, shown = true.time_s[known], true.kmh[known], shown_kmh[known]
    if time_s.size < 2:
        return None
    alive = shown > 0
    edges = np.flatnonzero(alive[1:] != alive[:-1]) + 1
    ends = np.concatenate([[time_s[0]], time_s[edges], [time_s[-1]]])
    held = np.diff(ends) >= HELD_S
    usual = float(np.median(kmh[alive])) if alive.any() else 0.0
    at = [
        float(kmh[edge - 1] + kmh[edge]) / 2
        for place, edge in enumerate(edges.tolist())
        if held[place] and held[place + 1] and kmh[edge] < usual / 2
    ]
    return float(np.median(at)) if at else None


def runs_by_hand(runs: tuple[RunByHand, ...], display_step_kmh: float) -> Reciprocal:
    """The same of runs that were noted: speed over ground read or timed between two marks, shown speed, there or back.

    Runs whose times are not known are taken as five minutes apart. Noise of a run: 0.1 km/h of a speed
    that was read, or v·√2·0.3 s/T of one that was timed over T. A display rounds one speed alike in all runs: Δ/√12 of
    its step, once.

    Raises
    ------
    `InputError` without a run each way, or where a display showed nothing.

    Examples
    --------
    >>> there, again = (RunByHand(ground_kmh=ground, shown_kmh=9.5) for ground in (12.0, 11.0))
    >>> back = RunByHand(ground_kmh=8.5, shown_kmh=9.5, back=True)
    >>> found = runs_by_hand((there, back, again), 0.1)
    >>> round(found.water_kmh, 3), round(found.error_pct, 2), round(found.current_first_kmh, 2)
    (10.0, -5.0, 2.0)
    """
    if not {False, True} <= {run.back for run in runs}:
        raise InputError(
            "Runs there and back are needed: one way only, the current is in it.", remedy=RUN_BACK, path="runs"
        )
    dead = next((place for place, run in enumerate(runs) if run.shown_kmh <= DEAD * run.ground_kmh), None)
    if dead is not None:
        raise InputError(
            text_of("The display shows nothing in run {0}.", dead + 1),
            remedy="Look for a dead or stuck display first.",
            path=f"runs.{dead}.shown_kmh",
        )
    noted: list[WaterRun] = []
    noises = []
    for place, run in enumerate(runs):
        timed = run.from_s is not None and run.to_s is not None and run.to_s > run.from_s
        begin, end = (run.from_s, run.to_s) if timed else (APART_S * place, APART_S * place + LEAST_RUN_S)
        assert begin is not None
        assert end is not None
        read_kmh = run.ground_kmh * math.sqrt(2) * TAP_U_S / (end - begin) if timed else READ_U_KMH
        noises.append(read_kmh)
        noted.append(
            WaterRun(
                from_s=begin,
                to_s=end,
                course_deg=180.0 if run.back else 0.0,
                ground_kmh=run.ground_kmh,
                shown_kmh=run.shown_kmh,
                scatter_deg=0.0,
                back=run.back,
            )
        )
    shown_kmh = float(np.mean([run.shown_kmh for run in noted]))
    step_pct = 100 * display_step_kmh / math.sqrt(12) / shown_kmh
    return _fitted(tuple(noted), float(np.mean(noises)), step_pct)


def _fitted(runs: tuple[WaterRun, ...], noise: float, common_pct: float = 0.0) -> Reciprocal:
    """Speed through the water and current of runs there and back, with what each of them is uncertain by, and all of
    them alike.

    V_i·e^{jθ_i} = W·r_i·d_i + c₀ + c₁·t_i in the plane, θ the course and d the direction through the water: ±1, or as
    the headings differ where they were recorded. The speed is |W|; its angle is what compass and leeway turn.
    """
    times = np.array([(run.from_s + run.to_s) / 2 for run in runs])
    times = times - times[0]
    of_shown = np.array([run.shown_kmh for run in runs])
    courses = np.radians([run.course_deg for run in runs])
    ground = np.array([run.ground_kmh for run in runs]) * np.exp(1j * (courses - courses[0]))
    headed = all(run.heading_deg is not None for run in runs)
    headings = np.radians([run.heading_deg or 0.0 for run in runs])
    signs = np.array([-1.0 if run.back else 1.0 for run in runs])
    ahead = np.exp(1j * (headings - headings[0])) if headed else signs.astype(complex)
    mean_shown = float(of_shown.mean())
    columns = [of_shown / mean_shown * ahead, np.ones(len(runs), dtype=complex)]
    if len(runs) > 2:
        columns.append(times.astype(complex))
    design = np.column_stack(columns)
    fitted, *_ = np.linalg.lstsq(design, ground, rcond=None)
    water = float(abs(fitted[0]))
    along = ahead * fitted[0] / water
    left = np.real((ground - design @ fitted) * np.conj(along))
    freedom = len(runs) - design.shape[1]
    inverse = np.linalg.pinv(design.conj().T @ design)
    scatter, factor = _scatter(float(left @ left), freedom, noise)
    unseen = _unseen_kmh(times, np.linalg.pinv(design)[0], run_s=float(np.mean([r.to_s - r.from_s for r in runs])))
    first = complex(fitted[1])
    last = first + (complex(fitted[2]) * float(times[-1]) if len(runs) > 2 else 0.0)
    across_pct = 0.0 if headed else 50 * (ACROSS * ((first + last) / 2).real / water) ** 2
    expanded = math.hypot(
        100 * factor * scatter * math.sqrt(float(inverse[0, 0].real)) / water,
        COVERAGE_FACTOR * 100 * unseen / water,
        COVERAGE_FACTOR * SOURCE_U_PCT,
        COVERAGE_FACTOR * common_pct,
        COVERAGE_FACTOR * across_pct,
    )
    error_pct = 100 * (mean_shown / water - 1)
    return Reciprocal(
        runs=runs,
        water_kmh=water,
        shown_kmh=mean_shown,
        error_pct=error_pct,
        expanded_pct=expanded,
        current_first_kmh=first.real,
        current_last_kmh=last.real,
        current_across_kmh=((first + last) / 2).imag,
        text=text_of(
            "Speed through the water {0:.1f} km/h; the display shows {1:.1f} km/h: {2:+.1f} %, ± {3:.1f} %.",
            water,
            mean_shown,
            error_pct,
            expanded,
        ),
        advice=_advice(runs, of_shown),
    )


def through_water(true: SpeedRecord, course_deg: Array, found: Reciprocal) -> SpeedRecord:
    """Speed through the water: the speed over ground without the current that reciprocal runs found,
    |v − c(t)|, c along the heading of the first run and changing evenly from there to the last.

    Parameters
    ----------
    Speed over ground [km/h] with its heading [°], and what the runs say.

    Examples
    --------
    >>> t = np.arange(0.0, 200.0, 1.0)
    >>> way = np.where(t < 100, 0.0, 1.0)
    >>> over_ground = SpeedRecord(t, 10 + 2 * (1 - 2 * way))
    >>> runs = reciprocal(over_ground, SpeedRecord(t, np.full(200, 9.5)), 180 * way, least_kmh=3)
    >>> through_water(over_ground, 180 * way, runs).kmh[[20, 150]].round(2).tolist()
    [10.0, 10.0]
    """
    first, last = found.runs[0], found.runs[-1]
    at = np.array([(run.from_s + run.to_s) / 2 for run in (first, last)])
    current = np.interp(true.time_s, at, [found.current_first_kmh, found.current_last_kmh])
    beside = np.radians(course_deg - first.course_deg)
    along, across = true.kmh * np.cos(beside) - current, true.kmh * np.sin(beside) - found.current_across_kmh
    through = np.hypot(along, across)
    return SpeedRecord(true.time_s, np.where(np.isfinite(through), through, np.nan))


def _unseen_kmh(times: Array, weights: NDArray[np.complex128], *, run_s: float) -> float:
    """What the current does that the runs cannot show, in the speed through the water, standard [km/h]: of two runs its
    change; of more its bend, c(t) off the straight line by Δrate·T/4 at the middle, of which the mean over a run of
    length L leaves Δrate·(T/4 − L/8), as the fit weighs it."""
    lasted_h = float(times[-1]) / 3600
    if times.size == 2:
        return CURRENT_U_KMH_H * lasted_h / 2
    share = times / float(times[-1])
    bend = BEND_U_KMH_H * np.maximum(lasted_h * share * (1 - share) - run_s / 3600 / 8, 0)
    return float(abs(weights @ bend))


def _scatter(squares: float, freedom: int, noise: float) -> tuple[float, float]:
    """By how much a run's mean scatters [km/h], and the factor to it: what the fit leaves where that is more than the
    noise within runs explains (F test, 5 %), that noise otherwise, which many samples tell."""
    from scipy.special import chdtri

    if freedom > 0 and squares > float(chdtri(freedom, 0.05)) * noise**2:
        return math.sqrt(squares / freedom), student_factor(freedom)
    return noise, COVERAGE_FACTOR


def _joined(spans: list[tuple[float, float]], time_s: Array, course_deg: Array) -> list[tuple[float, float]]:
    """Spans with a short gap between them and one heading are one run: a wave is not its end."""
    found: list[tuple[float, float]] = []
    for begin, end in spans:
        if found and begin - found[-1][1] < SHORT_GAP_S:
            both = [_heading(course_deg[(time_s >= low) & (time_s < high)]) for low, high in (found[-1], (begin, end))]
            if abs((both[1] - both[0] + 180) % 360 - 180) < SAME_WAY_DEG:
                found[-1] = (found[-1][0], end)
                continue
        found.append((begin, end))
    return found


def _headed(run: WaterRun, time_s: Array, heading_deg: Array) -> WaterRun:
    low, high = np.searchsorted(time_s, (run.from_s, run.to_s))
    heading = _heading(heading_deg[low:high])
    return replace(run, heading_deg=heading % 360) if math.isfinite(heading) else run


def _heading(course_deg: Array) -> float:
    ahead = np.radians(course_deg)
    return math.degrees(math.atan2(float(np.nanmean(np.sin(ahead))), float(np.nanmean(np.cos(ahead)))))


def _runs(
    spans: list[tuple[float, float]], true: SpeedRecord, shown_kmh: Array, course_deg: Array
) -> tuple[tuple[WaterRun, ...], float]:
    """Long enough parts along the heading of the first, or against it; and the noise of one run's mean [km/h]."""
    runs: list[WaterRun] = []
    noises = []
    for begin, end in spans:
        if end - begin < LEAST_RUN_S or len(runs) >= MOST_RUNS:
            continue
        low, high = np.searchsorted(true.time_s, (begin, end))
        ahead = np.radians(course_deg[low:high])
        east, north = float(np.nanmean(np.sin(ahead))), float(np.nanmean(np.cos(ahead)))
        course = math.degrees(math.atan2(east, north)) % 360
        off = abs((course - runs[0].course_deg + 180) % 360 - 180) if runs else 0.0
        if min(off, 180 - off) > SAME_WAY_DEG:
            continue
        ratio = shown_kmh[low:high] - true.kmh[low:high]
        noises.append(float(np.std(ratio)) * math.sqrt(min(alike_points(ratio) / ratio.size, 1.0)))
        runs.append(
            WaterRun(
                from_s=begin,
                to_s=end,
                course_deg=course,
                ground_kmh=float(true.kmh[low:high].mean()),
                shown_kmh=float(shown_kmh[low:high].mean()),
                scatter_deg=math.degrees(math.sqrt(max(-2 * math.log(max(math.hypot(east, north), 1e-9)), 0.0))),
                back=off > 90,
            )
        )
    return tuple(runs), float(np.mean(noises)) if noises else 0.0


def _advice(runs: tuple[WaterRun, ...], of_shown: Array) -> Words:
    if max(run.scatter_deg for run in runs) > STRAIGHT_DEG:
        return (
            "A run was not straight: in a turn the wash of the propeller reaches the paddle and falsifies it. "
            "Steer for a mark ahead and run again."
        )
    if float(np.ptp(of_shown)) > MOST_SPREAD_PCT / 100 * float(of_shown.mean()):
        return "The shown speeds of the runs differ much. Leave the throttle where it is for all runs."
    if len(runs) < 3:
        return "Two runs are enough in a steady current. A third run also cancels a current that changes."
    return ""
