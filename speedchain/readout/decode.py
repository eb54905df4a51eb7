"""What a reader makes of edges: speed from the time between pulses, or from their number in a gate."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

Array = NDArray[np.float64]


def filtered(edges_s: Array, shortest_s: float) -> Array:
    """Edges that an input filter lets through: none sooner after the last one let through than `shortest_s`.

    Only runs of edges that follow each other too soon are walked through one by one.

    Examples
    --------
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


def speeds_by_period_kmh(edges_s: Array, set_per_km: float, averaged: int = 1, tick_s: float = 0.0) -> Array:
    """Speed at each edge from the `averaged`-th on: v = 3600·k/(set·Δt_k), Δt in whole ticks of the reader's timer.

    Parameters
    ----------
    Times of the edges, rising, n [s]; pulses per km the reader is set to; pulses averaged k; tick [s].

    Returns
    -------
    N − k speeds [km/h].

    References
    ----------
    Period timing; unit arithmetic.

    Examples
    --------
    >>> speeds_by_period_kmh(np.array([0.0, 0.1, 0.2, 0.4]), 1000.0).round(6).tolist()
    [36.0, 36.0, 18.0]
    """
    spans = edges_s[averaged:] - edges_s[:-averaged]
    if tick_s > 0:
        spans = np.maximum(np.rint(spans / tick_s), 1) * tick_s
    return np.divide(3600.0 * averaged / set_per_km, spans, out=spans)


def gated_hz(at_s: Array, edges_s: Array, gate_s: float, time_out_s: float | None = None) -> Array:
    """Frequency a gate counter shows at times: edges in the newest whole gate over its length.

    Gates follow each other from time 0 on; the first that counts is the first to begin after the first edge. Only the
    gates that are asked for are counted, so memory does not grow with the time.

    Parameters
    ----------
    Times asked for [s]; edges, rising [s]; gate [s]; time without an edge after which 0 is shown [s].

    References
    ----------
    Frequency counting.

    Examples
    --------
    >>> gated_hz(np.array([0.4, 1.2, 9e4]), np.array([0.05, 0.55, 0.75, 0.95]), 0.5).tolist()
    [0.0, 6.0, 0.0]
    """
    if edges_s.size == 0:
        return np.zeros(at_s.size)
    gate = np.floor(at_s / gate_s + 1e-9) - 1
    counts = np.searchsorted(edges_s, (gate + 1) * gate_s) - np.searchsorted(edges_s, gate * gate_s)
    hertz = np.where(gate * gate_s >= np.ceil(edges_s[0] / gate_s) * gate_s, counts / gate_s, 0.0)
    return _timed_out(hertz, at_s, edges_s, time_out_s)


def _timed_out(shown: Array, at_s: Array, edges_s: Array, time_out_s: float | None) -> Array:
    """Values shown, and 0 once no edge came for the time-out."""
    if time_out_s is None or not edges_s.size:
        return shown
    last = np.searchsorted(edges_s, at_s, side="right") - 1
    return np.where(at_s - edges_s[np.maximum(last, 0)] > time_out_s, 0.0, shown)


def shown_at_kmh(
    at_s: Array, *, renewed_s: Array, speeds_kmh: Array, edges_s: Array, time_out_s: float | None = None
) -> Array:
    """What the display shows at times: the newest speed; 0 before the first, and once no edge came for the time-out.

    Parameters
    ----------
    Times asked for [s]; when each speed came up [s]; the speeds [km/h]; the edges [s]; time-out [s].

    Examples
    --------
    >>> edges = np.array([0.0, 0.1, 0.2])
    >>> shown_at_kmh(np.array([0.05, 0.15, 5.0]), renewed_s=edges[1:], speeds_kmh=np.array([36.0, 36.0]), edges_s=edges,
    ...     time_out_s=2.0).tolist()
    [0.0, 36.0, 0.0]
    """
    newest = np.searchsorted(renewed_s, at_s, side="right") - 1
    shown = np.where(newest >= 0, speeds_kmh[np.maximum(newest, 0)] if speeds_kmh.size else 0.0, 0.0)
    return _timed_out(shown, at_s, edges_s, time_out_s)
