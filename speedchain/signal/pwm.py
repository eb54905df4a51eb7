"""Frequency to voltage: a pulse-width signal smoothed by one or two RC stages."""

from __future__ import annotations

import math

import numpy as np
from numpy.typing import NDArray

from speedchain.results import result

POINTS = 400
SETTLED = 0.01

Array = NDArray[np.float64]


@result
class Smoothed:
    """What comes out: mean, ripple peak to peak [V], cut-off [Hz], time to settle within 1 % [s]."""

    mean_v: float
    ripple_vpp: float
    cutoff_hz: float
    settling_s: float
    loading_pct: float


def ladder(ohm: float, farad: float, stages: int, load_ohm: float = math.inf) -> tuple[Array, Array]:
    """State equations of RC stages in a row with a load at the end: dv/dt = A·v + B·u.

    C·dv_i/dt = (v_{i−1} − v_i)/R − (v_i − v_{i+1})/R, and v_n/R_load at the last.

    References
    ----------
    Kirchhoff's laws.

    Examples
    --------
    >>> ladder(1000.0, 1e-6, 1)[0].round(6).tolist()
    [[-1000.0]]
    """
    a = np.zeros((stages, stages))
    for place in range(stages):
        a[place, place] -= 1 / ohm
        if place:
            a[place, place - 1] = 1 / ohm
        if place < stages - 1:
            a[place, place] -= 1 / ohm
            a[place, place + 1] = 1 / ohm
    a[-1, -1] -= 1 / load_ohm
    b = np.zeros(stages)
    b[0] = 1 / ohm
    return a / farad, b / farad


def smoothed(
    supply_v: float,
    *,
    duty: float,
    pwm_hz: float,
    ohm: float,
    farad: float,
    stages: int = 2,
    load_ohm: float = math.inf,
) -> Smoothed:
    """The steady state of a pulse-width signal behind RC stages.

    Over one period the states follow exp(A·t); the period's end equals its beginning. Settling: when the step response
    has come within 1 % of its end. Cut-off: where the gain has fallen by 3 dB.

    References
    ----------
    Linear state equations, with `scipy.linalg.expm`.

    Examples
    --------
    >>> result = smoothed(5.0, duty=0.5, pwm_hz=1000.0, ohm=10_000.0, farad=1e-6, stages=1)
    >>> round(result.mean_v, 3), round(result.ripple_vpp, 4), round(result.cutoff_hz, 2)
    (2.5, 0.125, 15.92)
    """
    from scipy.linalg import expm

    a, b = ladder(ohm, farad, stages, load_ohm)
    rest = -np.linalg.solve(a, b) * supply_v
    period = 1 / pwm_hz
    on, off = expm(a * duty * period), expm(a * (1 - duty) * period)
    # v(T) = off·(rest + on·(v − rest)) = v
    start = np.linalg.solve(np.eye(stages) - off @ on, off @ (rest - on @ rest))
    values = [start[-1]]
    state = start
    step_on, step_off = expm(a * duty * period / POINTS), expm(a * (1 - duty) * period / POINTS)
    for _ in range(POINTS):
        state = rest + step_on @ (state - rest)
        values.append(state[-1])
    for _ in range(POINTS):
        state = step_off @ state
        values.append(state[-1])
    gain = 1 / (1 + stages * ohm / load_ohm)
    slowest = -max(np.linalg.eigvals(a).real)
    return Smoothed(
        mean_v=supply_v * duty * gain,
        ripple_vpp=float(max(values) - min(values)),
        cutoff_hz=_cutoff_hz(a, b, slowest),
        settling_s=_settling_s(a, b),
        loading_pct=100 * (gain - 1),
    )


def _settling_s(a: Array, b: Array) -> float:
    """When a step has come within 1 %: Σ c_i·exp(λ_i·t) = 1 %, the c_i those of the output in the roots of A.

    The response of resistors and capacitors in a row rises steadily, so the first such time is the only one.
    """
    from scipy.optimize import brentq

    roots, vectors = np.linalg.eig(a)
    end = -np.linalg.solve(a, b)
    shares = vectors[-1] * np.linalg.solve(vectors, end) / end[-1]
    slowest = -max(roots.real)

    def left(seconds: float) -> float:
        return float((shares * np.exp(roots * seconds)).real.sum()) - SETTLED

    return float(brentq(left, 0.0, 10 * math.log(1 / SETTLED) / slowest, rtol=1e-12))


def _cutoff_hz(a: Array, b: Array, slowest: float) -> float:
    """The frequency at which the gain is 1/√2 of the gain at rest."""
    from scipy.optimize import brentq

    def gain(hz: float) -> float:
        jw = 2j * math.pi * hz * np.eye(len(b))
        return float(abs(np.linalg.solve(jw - a, b)[-1]))

    wanted = gain(0.0) / math.sqrt(2)
    return float(brentq(lambda hz: gain(hz) - wanted, 0.0, 10 * slowest, rtol=1e-12))
