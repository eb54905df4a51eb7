"""An installation over its whole range of speed: shown against true, with its ± and the permitted range."""

from __future__ import annotations

import numpy as np

from speedchain.document import Installation
from speedchain.evaluation import Evaluation
from speedchain.fields import EXACT_PCT, Words, joined, text_of
from speedchain.readout import dial_of, on_the_dial, speed_from_table, table_in_use
from speedchain.regulations import Band
from speedchain.results import result
from speedchain.wheel import growth_factor

POINTS = 61
ROAD_TOP_KMH = 160.0
START_SHARE = 0.05


@result
class Span:
    """Speeds over which the display is outside what is allowed, and on which side."""

    from_kmh: float
    to_kmh: float
    side: Words


@result
class NumberIn:
    """A number that brings the display into the band: nominal, or with all of its ±."""

    text: Words
    unit: Words
    error_pct: float
    surely: bool


@result
class OverSpeed:
    """One readout over speed, as arrays of equal length [km/h]; the band has arrays of its own, or one point."""

    readout: str
    true_kmh: list[float]
    shown_kmh: list[float]
    low_kmh: list[float]
    high_kmh: list[float]
    band: Band | None
    band_true_kmh: list[float]
    band_low_kmh: list[float]
    band_high_kmh: list[float]
    leaves: list[Span]
    may_leave: list[Span]
    numbers: list[NumberIn]
    min_speed_kmh: float
    lowest_by: Words
    text: Words


def over_speed(
    installation: Installation, result_of: Evaluation, place: int = 0, max_speed_kmh: float | None = None
) -> OverSpeed:
    """One readout from a twentieth of the top speed to the top speed.

    shown(v) = v·C(v_check)/C(v)·(shown/true at the check speed): constant unless the tyre grows; above the output limit
    of a converter it stays. ± is k = 2.

    Parameters
    ----------
    The installation and its evaluation; which readout; top speed [km/h], by default the larger of 1.3 × the check
    speeds and, on the road, 160.

    Raises
    ------
    `InputError` when there is no such readout.

    References
    ----------
    UN Regulation 39, 5.4; 49 CFR 393.82; values from memory.
    """
    reader = installation.readout_at(place)
    band = installation.rule
    largest = max(
        installation.check_speed_kmh, *installation.check_speeds_kmh, band.at_kmh or ROAD_TOP_KMH if band else 0
    )
    top = (
        max_speed_kmh or 1.3 * largest if not band or band.at_kmh else max_speed_kmh or max(ROAD_TOP_KMH, 1.3 * largest)
    )
    true = np.linspace(START_SHARE * top, top, POINTS)
    at = np.array([band.at_kmh]) if band and band.at_kmh else true
    readout = result_of.readouts[place]
    factor = growth_factor(installation.wheel, installation.check_speed_kmh)
    u = result_of.chain_expanded_uncertainty_pct / 100

    def per_true(speeds: np.ndarray) -> np.ndarray:
        """Pulses per km at each speed over pulses per km at the check speed."""
        return factor / np.array([growth_factor(installation.wheel, float(v)) for v in speeds])

    ratio = 1 + readout.in_use.error_pct / 100
    converter = installation.signal.converter
    cap = converter.cap_kmh if converter is not None and not reader.before_converter else None
    reached = true if cap is None else np.minimum(true, cap)
    shown = reached * per_true(reached) * ratio
    if readout.table:
        frequencies, speeds = table_in_use(readout.table)
        hertz = true * per_true(true) * readout.delivered_per_km / 3600
        shown = np.array([speed_from_table(float(hz), frequencies, speeds) for hz in hertz])
    shown = on_the_dial(shown, reader.scale_end_kmh, reader.past_end)
    allowed, leaves, may_leave, numbers = np.empty((0, 2)), [], [], []
    if band is not None:
        allowed = np.array([band.allowed_kmh(float(v)) for v in at])
        low, high = allowed.T
        seen = np.interp(at, true, shown)
        leaves = _spans(at, upper=seen, lower=seen, low=low, high=high)
        may_leave = _spans(at, upper=seen * (1 + u), lower=seen * (1 - u), low=low, high=high)
        numbers = (
            []
            if readout.table
            else _numbers(
                installation, result_of=result_of, place=place, run=at * per_true(at), low=low, high=high, u=u
            )
        )
    return OverSpeed(
        readout=readout.name,
        true_kmh=true.tolist(),
        shown_kmh=shown.tolist(),
        low_kmh=(shown * (1 - u)).tolist(),
        high_kmh=(shown * (1 + u)).tolist(),
        band=band,
        band_true_kmh=at.tolist() if band else [],
        band_low_kmh=allowed[:, 0].tolist(),
        band_high_kmh=allowed[:, 1].tolist(),
        leaves=leaves,
        may_leave=may_leave,
        numbers=numbers,
        min_speed_kmh=readout.timing.min_speed_kmh,
        lowest_by=readout.timing.lowest_by,
        text=_text_of(band, leaves, may_leave, numbers),
    )


def _spans(at: np.ndarray, *, upper: np.ndarray, lower: np.ndarray, low: np.ndarray, high: np.ndarray) -> list[Span]:
    slack = EXACT_PCT / 100 * at
    found = []
    for side, outside in ((text_of("below"), lower < low - slack), (text_of("above"), upper > high + slack)):
        edges = np.flatnonzero(np.diff(np.concatenate(([0], outside.astype(int), [0]))))
        for first, after in edges.reshape(-1, 2):
            found.append(Span(from_kmh=float(at[first]), to_kmh=float(at[after - 1]), side=side))
    return found


def _numbers(
    installation: Installation,
    *,
    result_of: Evaluation,
    place: int,
    run: np.ndarray,
    low: np.ndarray,
    high: np.ndarray,
    u: float,
) -> list[NumberIn]:
    """The numbers nearest to true that keep the whole curve inside, nominally and with all of the ±."""
    dial, readout = dial_of(installation.readouts[place]), result_of.readouts[place]
    found = []
    for surely, margin in ((False, 0.0), (True, u)):
        least, most = float(np.max(low / run)) / (1 - margin), float(np.min(high / run)) / (1 + margin)
        wanted = max(least, 1.0) if most >= 1 else most
        below, above, _ = dial.around(dial.exact(readout.delivered_per_km / wanted))
        for value in sorted(
            {below, above}, key=lambda v: abs(readout.delivered_per_km / dial.pulses_per_km(v) - wanted)
        ):
            ratio = readout.delivered_per_km / dial.pulses_per_km(value)
            if least - 1e-9 <= ratio <= most + 1e-9:
                found.append(
                    NumberIn(text=dial.text(value), unit=readout.unit, error_pct=100 * (ratio - 1), surely=surely)
                )
                break
    return found


def _text_of(band: Band | None, leaves: list[Span], may_leave: list[Span], numbers: list[NumberIn]) -> str:
    if band is None:
        return "No legal limits are checked for this installation."

    def spans(listed: list[Span]) -> str:
        return joined(
            ", ",
            [
                text_of("{0} from {1:.0f} to {2:.0f} km/h", span.side, span.from_kmh, span.to_kmh)
                if span.to_kmh > span.from_kmh
                else text_of("{0} at {1:.0f} km/h", span.side, span.from_kmh)
                for span in listed
            ],
        )

    inside = {number.surely: number for number in numbers}
    parts = []
    if leaves:
        parts.append(text_of("Outside {0}: {1}.", band.label, spans(leaves)))
        if False in inside:
            parts.append(text_of("{0}\u00a0{1} brings it inside.", inside[False].text, inside[False].unit))
    elif may_leave:
        parts.append(text_of("Inside {0}, but with its ± partly outside: {1}.", band.label, spans(may_leave)))
    else:
        parts.append(text_of("Inside {0} at every speed, including its ±.", band.label))
    if may_leave:
        if True in inside:
            parts.append(
                text_of("{0}\u00a0{1} keeps it inside, including its ±.", inside[True].text, inside[True].unit)
            )
        else:
            parts.append("No setting keeps it inside including its ±: measure the wheel more accurately first.")
    return joined(" ", [*parts, "Check your local rules."])
