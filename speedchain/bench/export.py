"""A run of the bench as a file for other programs: its edges as CSV or as a value change dump."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from speedchain.bench.files import levels_of, table, vcd
from speedchain.bench.run import Run, edges_at_once
from speedchain.bench.simulation import MOST_PULSES, bounded, converted
from speedchain.document import Installation
from speedchain.evaluation import Evaluation


def run_lines(
    kind: str, *, installation: Installation, evaluation: Evaluation, run: Run, most_edges: int = MOST_PULSES
) -> Iterator[str]:
    """The lines of the file, with the edges behind the converter beside those of the sensor where there is one.

    Parameters
    ----------
    "csv" or "vcd"; the installation and its evaluation; the run; how many edges are taken: noise and bounce make
    several of one pulse, a converter many.

    Raises
    ------
    `InputError` beyond that, or beyond half as many pulses.

    Examples
    --------
    >>> from speedchain.bench.profile import Profile
    >>> from speedchain.document.installation import example_installation
    >>> from speedchain.evaluation import evaluate
    >>> example = example_installation()
    >>> run = Run(profile=Profile.swept(36, 36, 1), seconds=0.02)
    >>> list(run_lines("csv", installation=example, evaluation=evaluate(example), run=run))[:2]
    ['time_s,wire', '0.000334599826,sensor']
    """
    line, _, edges = edges_at_once(installation, evaluation, run, min(most_edges, MOST_PULSES))
    behind = np.empty(0)
    if line.ratio is not None:
        behind = converted(edges.given_s, line.ratio, line.cap_hz, line.averaged)
    bounded(edges.given_s.size + behind.size, "file with its false edges", most_edges)
    if kind == "csv":
        times = np.concatenate([behind, edges.given_s])
        order = np.argsort(times, kind="stable")
        rows = ((float(times[at]), "converter" if at < behind.size else "sensor") for at in order)
        return table(["time_s", "wire"], rows)
    signals = {"sensor": levels_of(edges.given_s, edges.width_s)}
    if behind.size:
        signals["converter"] = levels_of(behind, np.append(np.diff(behind), np.inf) / 2)
    return vcd(signals, run.seconds)
