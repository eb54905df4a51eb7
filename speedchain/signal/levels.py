"""Levels: thresholds between them, load and pull-up resistors, and the comparator that makes them square."""

from __future__ import annotations

import itertools
import math
from functools import lru_cache

from speedchain.fields import InputError, text_of
from speedchain.results import result
from speedchain.signal.series import TOLERANCE_PCT, Series, below, nearest

CURRENT_LOW_MA = 7.0
CURRENT_HIGH_MA = 14.0
"""Levels of two-wire current sensors. Common practice."""

USUAL_PULL_UP_OHM = (1_000.0, 10_000.0)
"""Least and most pull-up on an open collector or a contact. Common practice."""


@result
class Levels:
    """Low and high level of a signal [V]."""

    low_v: float
    high_v: float

    @property
    def swing_v(self) -> float:
        """High less low."""
        return self.high_v - self.low_v


@result
class Comparator:
    """A comparator with a divider for its threshold and a resistor of feedback, with the values bought.

    Supply → r1 → reference ← r2 ← ground; the reference goes to the inverting input, the signal through `r_in`
    to the other one, which `r_feedback` pulls with the output. Thresholds as they come out, and their spread
    with the tolerance of the series [V].
    """

    r1_ohm: float
    r2_ohm: float
    input_resistor_ohm: float
    r_feedback_ohm: float
    rising_v: float
    falling_v: float
    rising_low_v: float
    rising_high_v: float
    falling_low_v: float
    falling_high_v: float


LEAST_HYSTERESIS = 0.1
"""Smallest hysteresis as a share of the swing. Common practice."""
HYSTERESES = 8
"""How many hystereses are tried between half of the swing and the smallest."""


def threshold_v(low_v: float, high_v: float) -> float:
    """Mid-way between the highest low and the lowest high.

    References
    ----------
    Common practice; levels of 1.86 and 3.84 V give 2.85 V.

    Examples
    --------
    >>> round(threshold_v(1.86, 3.84), 3)
    2.85
    """
    return (low_v + high_v) / 2


def current_levels(
    load_ohm: float, low_ma: float = CURRENT_LOW_MA, high_ma: float = CURRENT_HIGH_MA, offset_v: float = 0.0
) -> Levels:
    """Levels over the load resistor of a two-wire current sensor: I·R + offset.

    Examples
    --------
    >>> result = current_levels(100)
    >>> result.low_v, result.high_v
    (0.7, 1.4)
    """
    return Levels(low_v=low_ma * load_ohm / 1000 + offset_v, high_v=high_ma * load_ohm / 1000 + offset_v)


def rise_time_s(pull_up_ohm: float, capacitance_f: float) -> float:
    """10 to 90 % rise of an open collector with a pull-up: ln 9·R·C, about 2.2·R·C.

    References
    ----------
    First-order step response.

    Examples
    --------
    >>> f"{rise_time_s(10_000, 1e-9):.3g}"
    '2.2e-05'
    """
    return math.log(9) * pull_up_ohm * capacitance_f


def largest_pull_up_ohm(top_hz: float, capacitance_f: float, series: Series = "E24") -> float:
    """Largest pull-up of the series whose rise is at most a tenth of the shortest period. Common practice.

    Examples
    --------
    >>> largest_pull_up_ohm(1000, 1e-9)
    43000.0
    """
    most = 1 / (10 * top_hz * math.log(9) * capacitance_f)
    return below(most, series)


def pull_up_range(largest_ohm: float | None) -> str:
    """The pull-up to fit on an open collector or a contact: 1 to 10 kΩ, and no more than the lead and the speed let it
    be.

    Below 1 kΩ an output has to sink too much; above 10 kΩ too little current keeps a contact clean, and noise comes in.
    Common practice.

    Examples
    --------
    >>> pull_up_range(None), pull_up_range(4300.0), pull_up_range(680.0)
    ('1 to 10 kΩ', '1 to 4.3 kΩ', 'at most 680 Ω')
    """
    most = min(largest_ohm or USUAL_PULL_UP_OHM[1], USUAL_PULL_UP_OHM[1])
    if most <= USUAL_PULL_UP_OHM[0]:
        return text_of("at most {0:g} Ω", most)
    return text_of("1 to {0:.3g} kΩ", most / 1000)


def thresholds_v(
    supply_v: float, *, r1: float, r2: float, r_in: float, r_feedback: float, out_low_v: float, out_high_v: float
) -> tuple[float, float]:
    """Rising and falling threshold of the comparator: the input at which both of its inputs are equal.

    V_ref = V·r2/(r1 + r2); rising = V_ref + (V_ref − out_low)·r_in/r_fb; falling = V_ref − (out_high −
    V_ref)·r_in/r_fb.

    References
    ----------
    Kirchhoff's laws at the non-inverting input.

    Examples
    --------
    >>> [round(v, 2) for v in thresholds_v(5, r1=10e3, r2=10e3, r_in=10e3, r_feedback=100e3, out_low_v=0, out_high_v=5)]
    [2.75, 2.25]
    """
    reference = supply_v * r2 / (r1 + r2)
    share = r_in / r_feedback
    return reference + (reference - out_low_v) * share, reference - (out_high_v - reference) * share


@lru_cache(maxsize=256)
def design_comparator(
    levels: Levels, *, noise_v: float, supply_v: float, series: Series = "E24", input_resistor_ohm: float = 10_000
) -> Comparator:
    """Resistors for a threshold mid-way and a hysteresis of up to half the swing, larger than twice the noise.

    With every combination of the resistors' tolerances both thresholds lie between the levels, half of the noise
    inside.

    Raises
    ------
    `InputError` when the noise leaves no room, the threshold lies outside the supply, the signal swings below ground,
    or the tolerances of the series are too large.

    References
    ----------
    Common practice; values of IEC 60063.

    Examples
    --------
    >>> result = design_comparator(Levels(low_v=1.86, high_v=3.84), noise_v=0.1, supply_v=5.0)
    >>> 2.85 < result.rising_v < 3.6, 2.1 < result.falling_v < 2.85
    (True, True)
    """
    middle = threshold_v(levels.low_v, levels.high_v)
    if levels.low_v < 0:
        raise InputError(
            text_of(
                "The signal swings from {0:.2f} to {1:.2f} V, below ground: a comparator on one supply cannot take it.",
                levels.low_v,
                levels.high_v,
            ),
            remedy="Use a VR conditioner, or bias the coil to half of the supply and clamp it.",
            limit="0 V and above",
            value=levels.low_v,
            path="signal.comparator.levels",
        )
    if levels.swing_v <= 4 * noise_v:
        raise InputError(
            text_of("A swing of {0:.2f} V is less than four times the noise of {1:.2f} V.", levels.swing_v, noise_v),
            remedy="Reduce the air gap, shield the lead, or filter the noise.",
            limit=text_of("more than {0:.2f} V", 4 * noise_v),
            value=levels.swing_v,
            path="signal.comparator.noise_v",
        )
    if not 0.05 * supply_v < middle < 0.95 * supply_v:
        raise InputError(
            text_of("The threshold of {0:.2f} V is outside the supply of {1:g} V.", middle, supply_v),
            remedy="Use a higher supply, or divide the signal.",
            limit=text_of("{0:.2f} to {1:.2f} V", 0.05 * supply_v, 0.95 * supply_v),
            value=middle,
            path="signal.comparator.supply_v",
        )
    least_v = max(2 * noise_v, LEAST_HYSTERESIS * levels.swing_v)
    for part in range(HYSTERESES + 1):  # from half of the swing down
        hysteresis_v = levels.swing_v / 2 + (least_v - levels.swing_v / 2) * part / HYSTERESES
        found = _designed(
            middle, hysteresis_v=hysteresis_v, supply_v=supply_v, series=series, input_resistor_ohm=input_resistor_ohm
        )
        inside = levels.low_v + noise_v / 2 < found.falling_low_v and found.rising_high_v < levels.high_v - noise_v / 2
        if inside and found.rising_low_v - found.falling_high_v > noise_v:
            return found
    raise InputError(
        text_of(
            "No resistors of {0} keep the thresholds between {1:.2f} and {2:.2f} V at every tolerance.",
            series,
            levels.low_v,
            levels.high_v,
        ),
        remedy="Use resistors with a smaller tolerance (E96), a larger load resistor, or less noise.",
        limit="thresholds between the levels",
        value=levels.swing_v,
        path="signal.comparator.series",
    )


def _designed(
    middle_v: float, *, hysteresis_v: float, supply_v: float, series: Series, input_resistor_ohm: float
) -> Comparator:
    """Resistors of the series nearest to a threshold and a hysteresis, with the thresholds at every corner of
    tolerance."""
    r_feedback = nearest(input_resistor_ohm * supply_v / hysteresis_v, series)
    share = input_resistor_ohm / r_feedback
    # rising + falling = 2·V_ref·(1 + share) − supply·share
    reference = (2 * middle_v + supply_v * share) / (2 * (1 + share))
    r2 = nearest(10_000.0, series)
    r1 = nearest(r2 * (supply_v / reference - 1), series)

    def at(a: float, b: float, c: float, d: float) -> tuple[float, float]:
        return thresholds_v(
            supply_v,
            r1=r1 * a,
            r2=r2 * b,
            r_in=input_resistor_ohm * c,
            r_feedback=r_feedback * d,
            out_low_v=0.0,
            out_high_v=supply_v,
        )

    rising, falling = at(1, 1, 1, 1)
    spread = TOLERANCE_PCT[series] / 100
    corners = [at(*corner) for corner in itertools.product((1 - spread, 1 + spread), repeat=4)]
    rises, falls = zip(*corners, strict=True)
    return Comparator(
        r1_ohm=r1,
        r2_ohm=r2,
        input_resistor_ohm=input_resistor_ohm,
        r_feedback_ohm=r_feedback,
        rising_v=rising,
        falling_v=falling,
        rising_low_v=min(rises),
        rising_high_v=max(rises),
        falling_low_v=min(falls),
        falling_high_v=max(falls),
    )
