"""From pulses per km to the setting to enter, and back to what the display shows."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from typing import Literal, assert_never

import numpy as np

from speedchain.fields import EXACT_PCT, Evidence, Words, text_of
from speedchain.readout.encodings import Encoding
from speedchain.readout.entry_range import Dial, dial_of
from speedchain.readout.gauge_end import on_the_dial
from speedchain.readout.model import Entry, LearningRide, Readout
from speedchain.readout.table import TableRow, speed_from_table, table_in_use, table_rows
from speedchain.readout.timing import TimingResult, timing_of
from speedchain.regulations import Band, Rounding, rounding_under
from speedchain.results import result
from speedchain.stages import Grounded, WhyStep, raised

Reads = Literal["over", "under", "true"]
PulsesPerKmAt = Callable[[float], float]
"""Pulses per km at a true speed [km/h]; constant unless the tyre grows."""


@result
class Setting:
    """One number that could be typed in, as the reader writes it, and what the display would then show."""

    value: float
    text: str
    shown_kmh: float
    error_pct: float
    reads: Reads


@result
class Residual:
    """True and shown speed, and their difference."""

    true_kmh: float
    shown_kmh: float
    error_kmh: float
    error_pct: float


NO_PERCENTAGE = 99.9
"""A percentage this far off is not rounded: at −100 % nothing would be shown."""


@result
class ReadoutResult:
    """A readout's setting to enter, its neighbours, and the number that is in it now."""

    name: str
    encoding: str
    entry: Entry
    label: Words
    unit: Words
    set_pulses_per_turn: int | None
    set_gear_ratio: float | None
    minimum: float
    maximum: float
    step: float
    exact: float
    rounding: Rounding
    nearest: Setting
    below: Setting
    above: Setting
    to_type: Setting
    in_use: Setting
    also: Words
    current_setting: float | None
    can_hold_current: bool
    delivered_per_km: float
    set_pulses_per_km: float
    residuals: tuple[Residual, ...]
    table: tuple[TableRow, ...]
    timing: TimingResult
    evidence: Evidence
    grounds: Words
    relative_standard_uncertainty_pct: float
    why: tuple[WhyStep, ...]
    action: Words
    """What corrects it, as the beginning of a sentence."""

    @property
    def shown(self) -> Residual:
        """What it really shows at the check speed: at the end of its scale, or with the output held, less than its
        setting says."""
        return self.residuals[0]

    def shown_at_kmh(self, true_kmh: float) -> float:
        """What it shows at another true speed [km/h]: from its table, which need not be a line through zero, or in
        proportion; the growth of a soft tyre between the speeds is left out."""
        if self.table:
            return speed_from_table(true_kmh * self.delivered_per_km / 3600, *table_in_use(self.table))
        return true_kmh * (1 + self.in_use.error_pct / 100)


def action_of(readout: Readout, to_type: str, unit: str) -> str:
    """What to do with a reader so that it shows the true speed, by the way it is set: a number, a table, a ride, or not
    at all.

    Examples
    --------
    >>> action_of(Readout(name="Dash", encoding="circumference_mm"), "2031", "mm")
    'Enter 2031\xa0mm'
    >>> action_of(Readout(name="Dash", encoding="circumference_mm", entry="learned"), "2031", "mm")
    'Do the learning ride: hold 40\xa0km/h for 10\xa0s, then 60\xa0s with the key off'
    """
    match readout.entry:
        case "typed" if readout.encoding == "frequency_table":
            return "Enter the frequencies of its table"
        case "typed" if readout.encoding == "chart_code":
            return text_of("Enter code {0}", to_type)
        case "typed":
            return text_of("Enter {0}\u00a0{1}", to_type, unit) if unit else text_of("Enter {0}", to_type)
        case "fixed":
            return "It cannot be set"
        case "counts":
            return text_of(
                "It cannot be set: it takes {0} to {1} pulses per turn, the same at every wheel",
                readout.least_pulses_per_turn,
                readout.most_pulses_per_turn,
            )
        case "learned":
            ride = readout.learning_ride or LearningRide()
            return text_of(
                "Do the learning ride: hold {0:g}\u00a0km/h for {1:g}\u00a0s, then {2:g}\u00a0s with the key off",
                ride.hold_kmh,
                ride.hold_s,
                ride.key_off_s,
            )
        case other:
            assert_never(other)


def also_written(encoding: Encoding, value: float) -> str:
    """The number in the other system of units, for those who think in it.

    Examples
    --------
    >>> from speedchain.readout.encodings import ENCODINGS
    >>> also_written(ENCODINGS["circumference_mm"], 2105)
    '82.87\\xa0in'
    """
    if not encoding.also:
        return ""
    unit, factor = encoding.also
    other = value * factor
    if other >= 1000:
        return text_of("{0:.0f}\u00a0{1}", float(f"{other:.4g}"), unit)
    return text_of("{0:.4g}\u00a0{1}", other, unit)


def reads(error_pct: float) -> Reads:
    """Whether a display reads over, under or true.

    Examples
    --------
    >>> reads(-1.0)
    'under'
    """
    return "true" if abs(error_pct) < EXACT_PCT else "over" if error_pct > 0 else "under"


def _setting(dial: Dial, value: float, pulses_per_km: float, true_kmh: float) -> Setting:
    ratio = pulses_per_km / dial.pulses_per_km(value)
    error_pct = 100 * (ratio - 1)
    return Setting(
        value=value, text=dial.text(value), shown_kmh=true_kmh * ratio, error_pct=error_pct, reads=reads(error_pct)
    )


def _current_setting(readout: Readout) -> float | None:
    if readout.encoding != "chart_code":
        return readout.current_setting
    return next((code.circumference_mm for code in readout.codes if code.code == readout.current_setting_code), None)


def evaluate_readout(
    readout: Readout,
    *,
    rule: Band | None,
    pulses_per_km_at: PulsesPerKmAt,
    true_kmh: float,
    check_speeds_kmh: tuple[float, ...] = (),
    cap_kmh: float | None = None,
) -> ReadoutResult:
    """Setting to enter for the pulses per km delivered, and shown speed at `true_kmh` [km/h] and the check speeds.

    shown/true = pulses per km delivered/pulses per km set; above `cap_kmh`, the output limit of a converter before it,
    what is shown stays. A display stepping by s adds s/√12 to the
    standard uncertainty (JCGM 100:2008, F.2.2.1).

    Examples
    --------
    >>> readout = Readout(name="Cycle computer", encoding="circumference_mm")
    >>> evaluate_readout(
    ...     readout, rule=None, pulses_per_km_at=lambda v: 3e6 / 1563, true_kmh=30
    ... ).to_type.value
    521.0
    """
    dial, pulses_per_km = dial_of(readout), pulses_per_km_at(true_kmh)
    encoding, unit = dial.encoding, dial.encoding.kind.unit_name
    rounding = rounding_under(rule, direct=encoding.direct)
    if readout.encoding == "frequency_table":
        return _table(
            readout,
            dial=dial,
            rounding=rounding,
            pulses_per_km_at=pulses_per_km_at,
            true_kmh=true_kmh,
            check_speeds_kmh=check_speeds_kmh,
        )
    exact = dial.exact(pulses_per_km)
    below, above, near = dial.around(exact)
    low = _setting(dial, below, pulses_per_km, true_kmh)
    high = low if above == below else _setting(dial, above, pulses_per_km, true_kmh)
    nearest = low if near == below else high
    to_type = nearest if rounding == "nearest" else high if rounding == "up" else low
    current_setting = _current_setting(readout)
    if readout.entry in ("learned", "counts"):  # it learns the pulses that come, exactly, or compares them alone
        current_setting = None
        tidy = float(f"{exact:.6g}")
        near = encoding.percent and abs(tidy) >= NO_PERCENTAGE  # −100 % would be no speed at all
        to_type = _setting(dial, exact if near else tidy, pulses_per_km, true_kmh)
    in_use = to_type if current_setting is None else _setting(dial, current_setting, pulses_per_km, true_kmh)
    result = dial.pulses_per_km(in_use.value)

    def shown_at(v_kmh: float) -> float:
        seen_kmh = v_kmh if cap_kmh is None else min(v_kmh, cap_kmh)
        return _ends(readout, seen_kmh * pulses_per_km_at(seen_kmh) / result)

    rows = [_residual(v, shown_at(v)) for v in (true_kmh, *check_speeds_kmh)]
    in_use = replace(in_use, shown_kmh=rows[0].shown_kmh)
    evidence, grounds = _evidence(readout, current_setting is not None, in_use.value)
    why = (
        WhyStep(
            formula=encoding.formula,
            with_numbers=text_of("exact: {0:.6g}\u00a0{1}", exact, unit),
            source=text_of("{0:.1f} pulses per km", pulses_per_km),
        ),
        WhyStep(
            formula="shown/true = pulses per km delivered/set",
            with_numbers=f"{pulses_per_km:.1f} / {result:.1f} = {1 + in_use.error_pct / 100:.5f}",
            source=text_of("with {0}\u00a0{1} in the display", in_use.text, unit),
        ),
    )
    timing, u_pct = _timed(readout, true_kmh, pulses_per_km, shown_to_true=pulses_per_km / result)
    return ReadoutResult(
        name=readout.name,
        encoding=encoding.code,
        entry=readout.entry,
        label=encoding.label,
        unit=unit,
        set_pulses_per_turn=readout.set_pulses_per_turn if encoding.per_turn else None,
        set_gear_ratio=readout.set_gear_ratio if encoding.geared else None,
        minimum=dial.minimum,
        maximum=dial.maximum,
        step=dial.step,
        exact=exact,
        rounding=rounding,
        nearest=nearest,
        below=low,
        above=high,
        to_type=to_type,
        in_use=in_use,
        also=also_written(encoding, to_type.value),
        current_setting=current_setting,
        can_hold_current=current_setting is None or dial.takes(current_setting),
        delivered_per_km=pulses_per_km,
        set_pulses_per_km=result,
        residuals=tuple(rows),
        table=(),
        timing=timing,
        evidence=evidence,
        grounds=grounds,
        relative_standard_uncertainty_pct=u_pct,
        why=why,
        action=action_of(readout, to_type.text, unit),
    )


def _timed(
    readout: Readout, true_kmh: float, pulses_per_km: float, *, shown_to_true: float
) -> tuple[TimingResult, float]:
    """How the reader times its pulses, and how far one figure of it is off, standard [% of what is shown]."""
    timing = timing_of(
        readout.timing,
        true_kmh,
        pulses_per_km,
        shown_to_true=shown_to_true,
        display_step_kmh=readout.display_step_kmh,
    )
    return timing, 100 * timing.u_kmh / max(true_kmh * shown_to_true, 1e-9)


def _ends(readout: Readout, shown_kmh: float) -> float:
    """What the dial shows at its end."""
    if readout.scale_end_kmh is None:
        return shown_kmh
    return float(on_the_dial(np.array([shown_kmh]), readout.scale_end_kmh, readout.past_end)[0])


def _residual(true_kmh: float, shown_kmh: float) -> Residual:
    return Residual(
        true_kmh=true_kmh,
        shown_kmh=shown_kmh,
        error_kmh=shown_kmh - true_kmh,
        error_pct=100 * (shown_kmh / true_kmh - 1),
    )


def _evidence(readout: Readout, read_back: bool, in_use: float) -> Grounded:
    evidence, grounds = _entered(readout, read_back)
    verified = readout.verification is not None and readout.verification.holds_for(in_use)
    return raised(evidence, "verified by a test" if verified else grounds, readout.verification, in_use)


def _entered(readout: Readout, read_back: bool) -> tuple[Evidence, str]:
    if readout.entry == "learned":
        ride = readout.learning_ride
        done = ride is not None and ride.outcome == "learned"
        return ("measured", "learned on a ride") if done else ("assumed", "learning ride not done")
    if readout.entry == "fixed":
        return "measured", "fixed by its manufacturer"
    if readout.entry == "counts":
        return "measured", "compares the counts of the wheels; it has no setting"
    if read_back:
        return "measured", "read back from the display"
    return "assumed", "setting advised, not yet read back"


def _table(
    readout: Readout,
    *,
    dial: Dial,
    rounding: Rounding,
    pulses_per_km_at: PulsesPerKmAt,
    true_kmh: float,
    check_speeds_kmh: tuple[float, ...],
) -> ReadoutResult:
    """A frequency table: the setting to enter is that of the speed nearest to the true one; the rest are its rows."""
    pulses_per_km = pulses_per_km_at(true_kmh)
    rows = table_rows(readout, pulses_per_km, rounding, dial.step)
    at = min(rows, key=lambda row: abs(row.speed_kmh - true_kmh))
    frequencies, speeds = table_in_use(rows)
    shown = [
        (v, speed_from_table(v * pulses_per_km_at(v) / 3600, frequencies, speeds))
        for v in (true_kmh, *check_speeds_kmh)
    ]
    error_pct = 100 * (shown[0][1] / true_kmh - 1)
    read_back = all(row.set_frequency_hz is not None for row in rows)

    def setting(value: float, shown_kmh: float) -> Setting:
        error = 100 * (shown_kmh / true_kmh - 1)
        return Setting(value=value, text=dial.text(value), shown_kmh=shown_kmh, error_pct=error, reads=reads(error))

    advised = setting(
        at.to_type_hz,
        speed_from_table(
            true_kmh * pulses_per_km / 3600, [row.to_type_hz for row in rows], [row.speed_kmh for row in rows]
        ),
    )
    in_use = setting(at.set_frequency_hz if at.set_frequency_hz is not None else at.to_type_hz, shown[0][1])
    evidence, grounds = _evidence(readout, read_back, in_use.value)
    why = (
        WhyStep(
            formula=dial.encoding.formula,
            with_numbers=text_of("{0} speeds, straight lines between them", len(rows)),
            source="common practice",
        ),
        WhyStep(
            formula="shown/true",
            with_numbers=f"{shown[0][1]:.3f} / {true_kmh:g} = {1 + error_pct / 100:.5f}",
            source="from the table in use",
        ),
    )
    timing, u_pct = _timed(readout, true_kmh, pulses_per_km, shown_to_true=shown[0][1] / true_kmh)
    return ReadoutResult(
        name=readout.name,
        encoding=dial.encoding.code,
        entry=readout.entry,
        label=dial.encoding.label,
        unit=text_of("Hz at {0:g} km/h", at.speed_kmh),
        set_pulses_per_turn=None,
        set_gear_ratio=None,
        minimum=dial.minimum,
        maximum=dial.maximum,
        step=dial.step,
        exact=at.exact_hz,
        rounding=rounding,
        nearest=advised,
        below=advised,
        above=advised,
        to_type=advised,
        in_use=in_use,
        also="",
        current_setting=at.set_frequency_hz,
        can_hold_current=True,
        delivered_per_km=pulses_per_km,
        set_pulses_per_km=pulses_per_km * true_kmh / max(shown[0][1], 1e-9),
        residuals=tuple([_residual(true, _ends(readout, seen)) for true, seen in shown]),
        table=rows,
        timing=timing,
        evidence=evidence,
        grounds=grounds,
        relative_standard_uncertainty_pct=u_pct,
        why=why,
        action=action_of(readout, advised.text, ""),
    )
