"""The numbers that can be typed into one reader, and what it implies with each."""

from __future__ import annotations

import math
from typing import NamedTuple

from speedchain.readout.encodings import Encoding, set_pulses_per_km, value_for
from speedchain.readout.model import Readout, decimals
from speedchain.results import result


class Nearest(NamedTuple):
    """Enterable numbers around an exact one: just below (or equal), just above (or equal), nearest."""

    below: float
    above: float
    nearest: float


@result
class Dial:
    """Where the number is typed: the encoding, what else is set, the range, and a list where only codes can be
    typed."""

    encoding: Encoding
    factor: float
    minimum: float
    maximum: float
    step: float
    digits: int | None
    codes: tuple[tuple[float, str], ...] = ()

    def pulses_per_km(self, value: float) -> float:
        """Pulses per km the reader is set to."""
        return set_pulses_per_km(self.encoding, self.factor, value)

    def exact(self, pulses_per_km: float) -> float:
        """The number it should assume, before rounding."""
        return value_for(self.encoding, self.factor, pulses_per_km)

    def around(self, exact: float) -> Nearest:
        """The enterable numbers just below (or equal), just above (or equal), and nearest."""
        if not self.codes:
            return nearest_enterable(exact, self.minimum, self.maximum, self.step)
        values = [value for value, _ in self.codes]
        below = max([value for value in values if value <= exact], default=values[0])
        above = min([value for value in values if value >= exact], default=values[-1])
        return Nearest(below, above, below if exact - below <= above - exact else above)

    def text(self, value: float) -> str:
        """The number as the reader shows it: its decimals, its digits, or the code."""
        if self.codes:
            return next((code for known, code in self.codes if known == value), f"{value:g}")
        places = decimals(self.step)
        if places == 0 and value == int(value):
            text = str(int(value))
        elif abs(round(value, places) - value) < 1e-9 * max(1.0, abs(value)):
            text = f"{value:.{places}f}"
        else:
            text = f"{value:g}"
        return text.zfill(self.digits + (1 if places else 0)) if self.digits and value >= 0 else text

    def takes(self, value: float) -> bool:
        """Whether the reader can hold the number."""
        if self.codes:
            return any(value == known for known, _ in self.codes)
        places = value / self.step
        return self.minimum <= value <= self.maximum and abs(places - round(places)) < 1e-6 * max(1.0, abs(places))


def dial_of(readout: Readout) -> Dial:
    """The dial of a readout.

    Examples
    --------
    >>> dial = dial_of(Readout(name="Dash", encoding="circumference_mm", digits=4))
    >>> dial.text(521)
    '0521'
    """
    low, high, step = readout.limits()
    codes: tuple[tuple[float, str], ...] = ()
    if readout.encoding == "chart_code":
        codes = tuple(sorted([(code.circumference_mm, code.code) for code in readout.codes]))
        low, high = codes[0][0], codes[-1][0]
    return Dial(
        encoding=readout.how(),
        factor=readout.factor(),
        minimum=low,
        maximum=high,
        step=step,
        digits=readout.digits,
        codes=codes,
    )


def nearest_enterable(exact: float, minimum: float, maximum: float, step: float) -> Nearest:
    """The enterable numbers around an exact one: just below (or equal), just above (or equal), nearest.

    The enterable numbers are k·step within minimum … maximum. Outside, the nearer end stands for all three.

    Examples
    --------
    >>> nearest_enterable(2072.4, 100, 9999, 1)
    Nearest(below=2072.0, above=2073.0, nearest=2072.0)
    >>> nearest_enterable(12000, 100, 9999, 1).nearest
    9999.0
    >>> nearest_enterable(2.0, 1e-9, 100, 6).below
    6.0
    """
    lowest, highest = minimum / step, maximum / step
    first, last = math.ceil(lowest - 1e-9 * abs(lowest)), math.floor(highest + 1e-9 * abs(highest))
    place = exact / step
    whole = round(place)
    if abs(place - whole) < 1e-9 * max(1.0, abs(place)):
        low = high = whole
    else:
        low, high = math.floor(place), math.ceil(place)
    low, high = min(max(low, first), last), min(max(high, first), last)
    below = _on_grid(low, step)
    above = below if high == low else _on_grid(high, step)
    return Nearest(below, above, below if place - low <= high - place else above)


def _on_grid(count: int, step: float) -> float:
    return float(f"{count * step:.12g}")
