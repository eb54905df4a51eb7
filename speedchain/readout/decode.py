"""What a reader makes of edges: speed from the time between pulses, or from their number in a gate."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

Array = NDArray[np.float64]


def filtered(edges_s: Array, shortest_s: float) -> Array:
    """Edges that an input filter lets through: none sooner after the last one let through than `shortest_s`.

    Only runs of edges that follow each other too soon are walked through one by one.

    >>> filtered(np.array([0.0, 0.0002, 0.1, 0.1001, 0.2]), 0.001).tolist()
    [0.0, 0.1, 0.2]
    """
    if edges_s.size < 2 or shortest_s <= 0:
        return edges_s
    close = np.flatnonzero(np.diff(edges_s) < shortest_s) + 1
    if close.size == 0:
        return edges_s
    keep = np.ones(edges_s.size, dtype=bool)
    last = -1
    for place in close.tolist():
        # The edge before is the last one let through, unless it was dropped itself.
        if keep[place - 1]:
            last = place - 1
        keep[place] = edges_s[place] - edges_s[last] >= shortest_s
    return edges_s[keep]


def speeds_by_period_kmh(edges_s: Array, told_per_km: float, averaged: int = 1, tick_s: float = 0.0) -> Array:
    """Speed at each edge from the `averaged`-th on: v = 3600·k/(told·Δt_k), Δt in whole ticks of the reader's timer.

    Parameters: times of the edges, rising, n [s]; pulses per km the reader was told; pulses averaged k; tick [s].
    Returns n − k speeds [km/h]. Reference: period timing; unit arithmetic.

    >>> speeds_by_period_kmh(np.array([0.0, 0.1, 0.2, 0.4]), 1000.0).round(6).tolist()
    [36.0, 36.0, 18.0]
    """
    spans = edges_s[averaged:] - edges_s[:-averaged]
    if tick_s > 0:
        spans = np.maximum(np.rint(spans / tick_s), 1) * tick_s
    return np.divide(3600.0 * averaged / told_per_km, spans, out=spans)


def speeds_by_gate_kmh(edges_s: Array, told_per_km: float, gate_s: float, until_s: float) -> Array:
    """Speed at the end of each gate: v = 3600·count/(told·gate).

    Gates follow each other from time 0 on; an edge on the border belongs to the later one.
    Returns one speed for each whole gate [km/h]. Reference: frequency counting; unit arithmetic.

    >>> speeds_by_gate_kmh(np.array([0.05, 0.15, 0.25, 0.95]), 1000.0, 0.5, 1.0).round(6).tolist()
    [21.6, 7.2]
    """
    borders = np.arange(int(until_s / gate_s + 1e-9) + 1) * gate_s
    counts = np.diff(np.searchsorted(edges_s, borders))
    return np.asarray(3600.0 * counts / (told_per_km * gate_s))


def shown_at_kmh(
    at_s: Array, renewed_s: Array, speeds_kmh: Array, edges_s: Array, time_out_s: float | None = None
) -> Array:
    """What the display shows at times: the newest speed; 0 before the first, and once no edge came for the time-out.

    Parameters: times asked for [s]; when each speed came up [s]; the speeds [km/h]; the edges [s]; time-out [s].

    >>> edges = np.array([0.0, 0.1, 0.2])
    >>> shown_at_kmh(np.array([0.05, 0.15, 5.0]), edges[1:], np.array([36.0, 36.0]), edges, 2.0).tolist()
    [0.0, 36.0, 0.0]
    """
    newest = np.searchsorted(renewed_s, at_s, side="right") - 1
    shown = np.where(newest >= 0, speeds_kmh[np.maximum(newest, 0)] if speeds_kmh.size else 0.0, 0.0)
    if time_out_s is not None and edges_s.size:
        last = np.searchsorted(edges_s, at_s, side="right") - 1
        since = at_s - edges_s[np.maximum(last, 0)]
        shown = np.where(since > time_out_s, 0.0, shown)
    return shown
