"""A long run on the bench, worked off in pieces, with progress, and to be stopped: true against shown over time."""

from __future__ import annotations

from collections.abc import Callable, Iterator

import numpy as np
from numpy.typing import NDArray
from pydantic import Field

from speedchain.bench.profile import Profile, Travel
from speedchain.bench.simulation import (
    MOST_PULSES,
    Edges,
    Faults,
    Line,
    at_the_reader,
    bounded,
    counts,
    edges_of,
    line_of,
    shown_by,
)
from speedchain.document import Installation
from speedchain.evaluation import Evaluation
from speedchain.fields import InputError, Part, SpanOfTime, Words, joined, text_of
from speedchain.results import result

Array = NDArray[np.float64]
PULSES_AT_ONCE = 20_000
POINTS = 1200
LONGEST_S = 3600.0


class Run(Part):
    """A run: the speed over time, how long, and what is wrong."""

    profile: Profile
    seconds: SpanOfTime = Field(60.0, description="At most one hour.")
    faults: Faults = Faults()


@result
class FailedStretch:
    """A stretch of the run in which pulses were missed or counted too often."""

    from_s: float
    from_kmh: float
    to_kmh: float
    passed: int
    missed: int
    false: int


@result
class RunTold:
    """What came of a run: true and shown speeds over time, and where the counting failed."""

    time_s: tuple[float, ...]
    true_kmh: tuple[float, ...]
    shown_kmh: tuple[tuple[float, ...], ...]
    readers: tuple[str, ...]
    passed: int
    missed: int
    false: int
    stretches: tuple[FailedStretch, ...]
    text: Words


class Stopped(Exception):
    """The run was stopped by whoever asked for it."""


def run_bench(
    installation: Installation, evaluation: Evaluation, asked: Run, going: Callable[[float], bool] = lambda share: True
) -> RunTold:
    """A whole run, piece by piece; `going` receives the share done after each, and ends the run by returning False.

    Parameters
    ----------
    The installation and its evaluation; the run; who receives the progress [0 to 1].

    Raises
    ------
    `InputError` beyond two million pulses or an hour, `Stopped` when asked to stop.

    Examples
    --------
    >>> from speedchain.evaluation import evaluate

    >>> from speedchain.document.installation import example_installation
    >>> installation = example_installation()
    >>> run = Run(profile=Profile.swept(20, 80, 20), seconds=20)
    >>> run_bench(installation, evaluate(installation), run).text
    'All 6916 pulses were counted, from 20 to 80 km/h.'
    """
    line, travel = started(installation, evaluation, asked)
    total = bounded(float(travel.turns[-1]) * line.pulses.count, "run")
    pieces: list[Edges] = []
    stretches: list[FailedStretch] = []
    for piece in in_pieces(line, travel, total, asked.faults.seed):
        pieces.append(piece)
        stretches += _stretches(line, travel, piece, asked.profile)
        if not going(min(len(pieces) * PULSES_AT_ONCE / (total + 1), 1.0)):
            raise Stopped
    edges = chained(pieces)
    time_s = np.linspace(0, asked.seconds, POINTS + 1)[1:]
    shown = [
        shown_by(readout, seen, at_the_reader(line, readout, edges), time_s)
        for readout, seen in zip(installation.readouts, evaluation.readouts, strict=True)
    ]
    counted = [counts(line, travel, piece) for piece in pieces]
    passed, missed = sum([piece.passed for piece in counted]), sum([piece.missed for piece in counted])
    false = sum([piece.false for piece in counted])
    true = asked.profile.at(time_s)
    failing = tuple([item for item in stretches if item.missed or item.false])
    return RunTold(
        time_s=tuple(time_s.round(4).tolist()),
        true_kmh=tuple(true.round(4).tolist()),
        shown_kmh=tuple([tuple(item.round(4).tolist()) for item in shown]),
        readers=tuple([readout.name for readout in installation.readouts]),
        passed=passed,
        missed=missed,
        false=false,
        stretches=failing[:40],
        text=_text_of(passed, missed=missed, false=false, failing=failing, true=true),
    )


def started(installation: Installation, evaluation: Evaluation, asked: Run) -> tuple[Line, Travel]:
    """The line and the travel of a run, refused when it is too long."""
    if not 0 < asked.seconds <= LONGEST_S:
        raise InputError(
            text_of("A run of {0:g} s is not possible.", asked.seconds),
            remedy="Use 60 s.",
            limit=text_of("above 0, at most {0:g} s", LONGEST_S),
            value=asked.seconds,
            path="seconds",
        )
    line = line_of(installation, evaluation, asked.faults)
    return line, line.travel(asked.profile, 0.0, asked.seconds)


def edges_at_once(
    installation: Installation, evaluation: Evaluation, asked: Run, limit: int = MOST_PULSES
) -> tuple[Line, Travel, Edges]:
    """All edges of a run, for files; bounded to `limit` pulses."""
    line, travel = started(installation, evaluation, asked)
    total = bounded(float(travel.turns[-1]) * line.pulses.count, "file", limit)
    return line, travel, chained(list(in_pieces(line, travel, total, asked.faults.seed)))


def in_pieces(line: Line, travel: Travel, total: int, seed: int) -> Iterator[Edges]:
    """The edges of so many pulses, `PULSES_AT_ONCE` at a time, so that memory does not grow with the samples
    between."""
    for first in range(0, total + 1, PULSES_AT_ONCE):
        yield edges_of(line, travel=travel, first=first, last=min(first + PULSES_AT_ONCE, total + 1), seed=seed + first)


def chained(pieces: list[Edges]) -> Edges:
    """Pieces of a run one after the other."""
    return Edges(
        np.concatenate([piece.passed_s for piece in pieces]),
        np.concatenate([piece.given_s for piece in pieces]),
        np.concatenate([piece.width_s for piece in pieces]),
    )


def _stretches(line: Line, travel: Travel, piece: Edges, profile: Profile) -> list[FailedStretch]:
    """Counts of twenty parts of a piece."""
    found = []
    for part in np.array_split(piece.passed_s, 20):
        if part.size < 4:
            continue
        edges_s = piece.given_s[(piece.given_s >= part[0]) & (piece.given_s <= part[-1])]
        passed, _, missed, false = counts(line, travel, Edges(part, edges_s, np.empty(0)))
        from_kmh, to_kmh = profile.at(part[[0, -1]]).tolist()
        found.append(
            FailedStretch(
                from_s=float(part[0]), from_kmh=from_kmh, to_kmh=to_kmh, passed=passed, missed=missed, false=false
            )
        )
    return found


def _text_of(passed: int, *, missed: int, false: int, failing: tuple[FailedStretch, ...], true: Array) -> str:
    lowest, highest = float(true.min()), float(true.max())
    if not missed and not false:
        return text_of("All {0} pulses were counted, from {1:.0f} to {2:.0f} km/h.", passed, lowest, highest)
    speeds = [speed for item in failing for speed in (item.from_kmh, item.to_kmh)] or [lowest, highest]
    parts = [text_of("{0} of {1} pulses missed", missed, passed)] if missed else []
    parts += [text_of("{0} false pulses counted", false)] if false else []
    return text_of("{0}, between {1:.0f} and {2:.0f} km/h.", joined(" and ", parts), min(speeds), max(speeds))
