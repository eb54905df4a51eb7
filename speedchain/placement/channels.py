"""Two channels along one ring: which leads, and how far they are from a quarter of the pitch."""

from __future__ import annotations

import math
from dataclasses import replace
from typing import Literal

from speedchain.fields import Words, text_of
from speedchain.results import result
from speedchain.stages import Finding, FindingCode, finding

Leads = Literal["first", "second", "neither"]
GOOD_DEG = 30.0
DEAD_DEG = 75.0


@result
class Channels:
    """Phase of the second channel behind the first [electrical °], its error from a quarter, and which leads."""

    phase_deg: float
    error_deg: float
    leads: Leads
    good_spacings_mm: tuple[float, ...]
    best_mm: float
    clear: bool
    text: Words

    def finding(self) -> Finding:
        """What is wrong with it, where it is not clear."""
        if self.leads == "neither":
            relation = "in opposite phase" if 90 < self.phase_deg < 270 else "together"
            return finding(
                FindingCode.CHANNELS_TOGETHER, relation=relation, phase_deg=self.phase_deg, best_mm=self.best_mm
            )
        return finding(FindingCode.CHANNELS_CLOSE, error_deg=self.error_deg, best_mm=self.best_mm)


def phase_deg(spacing_mm: float, pitch_mm: float) -> float:
    """Phase of the second channel: 360·frac(s/p) [electrical °], 0 up to 360.

    References
    ----------
    Geometry of quadrature; common practice.

    Examples
    --------
    >>> phase_deg(7.5, 6.0)
    90.0
    """
    return 360 * (spacing_mm / pitch_mm % 1)


def two_channels(spacing_mm: float, pitch_mm: float) -> Channels:
    """Spacing (k ± 1/4)·p is right; the error is 360·(error/p). A tooth passes the first channel first.

    Examples
    --------
    >>> result = two_channels(7.5, 6.0)
    >>> result.error_deg, result.leads
    (0.0, 'first')
    >>> two_channels(6.0, 6.0).leads
    'neither'
    """
    phase = phase_deg(spacing_mm, pitch_mm)
    near = 90.0 if phase < 180 else 270.0
    error = phase - near
    leads: Leads = "neither" if abs(error) > DEAD_DEG else ("first" if near == 90.0 else "second")
    turns = math.floor(spacing_mm / pitch_mm)
    good = sorted([(k + part) * pitch_mm for k in range(max(turns - 1, 0), turns + 2) for part in (0.25, 0.75)])
    near_good = tuple(sorted(sorted(good, key=lambda item: abs(item - spacing_mm))[:4]))
    best = min(good, key=lambda item: abs(item - spacing_mm))
    clear = abs(error) <= GOOD_DEG
    channels = Channels(
        phase_deg=phase,
        error_deg=error,
        leads=leads,
        good_spacings_mm=near_good,
        best_mm=best,
        clear=clear,
        text="",
    )
    text = channels.finding().message
    if clear:
        text = text_of("{0:+.0f}° from a quarter of the pitch. Forwards, the {1} channel leads.", error, leads)
    return replace(channels, text=text)
