"""What of an installation speaks for a cause or against it."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from typing import NamedTuple

from speedchain.document import Installation
from speedchain.evaluation import Evaluation
from speedchain.faults.causes import CAUSES
from speedchain.faults.priors import History, factors_for
from speedchain.faults.vocabulary import Changed
from speedchain.fields import StageName, Words, text_of
from speedchain.fitted import applies, fitted

CHANGED_FACTOR = 5.0
UNMEASURED_FACTOR = 1.5
VERIFIED_FACTOR = 0.4
FINDING_FACTOR: Mapping[str, float] = {"blocking": 5.0, "warning": 2.5, "note": 1.3}
"""How much more likely a cause is after a change, where nothing was measured, where a test has passed, and where a rule
of the installation points at it. Common practice."""
POINTS_AT: Mapping[str, tuple[str, ...]] = {
    "wheel.like_a_diameter": ("setting_diameter",),
    "wheel.methods_disagree": ("tyre_changed", "pressure_load"),
    "drive.one_wheel_on_stand": ("wheel_held",),
    "target.brake_control_count": ("counts_unequal", "wrong_count"),
    "target.uneven": ("ring_eccentric", "teeth_damaged"),
    "sensor.blind": ("wrong_sensor",),
    "sensor.supply": ("supply_low", "no_supply"),
    "sensor.too_hot": ("sensor_hot",),
    "placement.bracket": ("bracket_loose",),
    "placement.pole": ("poles_reversed",),
    "placement.double": ("reed_at_end",),
    "placement.reed_end": ("reed_at_end",),
    "placement.no_window": ("gap_wide", "lateral_off"),
    "placement.no_window_off_target": ("lateral_off", "half_aligned"),
    "placement.no_window_magnet": ("half_aligned", "gap_wide"),
    "placement.touches": ("gap_rubs",),
    "placement.too_weak": ("gap_wide", "lateral_off", "clocking"),
    "placement.barely": ("gap_wide", "lateral_off", "half_aligned"),
    "placement.clocked_wrong": ("clocking",),
    "signal.ratio": ("converter_ratio",),
    "signal.comparator": ("threshold_high",),
    "signal.no_pull_up": ("pull_up_missing",),
    "signal.slow_rise": ("slow_edges",),
    "signal.ignition": ("noise_ignition",),
    "signal.shield": ("noise_ignition", "shield_both_ends"),
    "signal.vr_slow": ("coil_weak",),
    "signal.over_driven": ("conditioner_destroyed",),
    "signal.low_level": ("ground_bad", "threshold_low"),
    "signal.high_level": ("threshold_high", "supply_low"),
    "signal.over_voltage": ("conditioner_destroyed", "reader_dead"),
    "signal.too_fast": ("filter_slow", "slow_edges"),
    "signal.short_pulse": ("filter_slow",),
    "signal.bounce": ("reed_stuck",),
    "readout.not_learned": ("not_learned",),
    "readout.fixed_off": ("tyre_changed",),
    "readout.under_reads": ("setting_other",),
    "readout.too_slow": ("time_out_short",),
    "purpose.paddle": ("paddle_fouled", "paddle_in_wash"),
}
"""Findings of the installation, and the causes that they speak for."""


class Reason(NamedTuple):
    """Why a cause is more or less likely on this installation: by what factor, and in words."""

    cause: str
    factor: float
    text: Words


def reasons_for(
    installation: Installation,
    evaluation: Evaluation,
    changed: tuple[Changed, ...] = (),
    history: History | None = None,
) -> Iterator[Reason]:
    """What of this installation, of whether it ever worked, and of what was changed on it, speaks for or against
    causes."""
    yield from _findings(evaluation)
    known = {cause.code for cause in CAUSES if applies(cause.when, cause.unless, fitted(installation))}
    for item in factors_for(fitted(installation), history):
        if item.cause in known:
            yield Reason(*item)
    for cause in CAUSES:
        for what in changed:
            if what in cause.changed:
                yield Reason(cause.code, CHANGED_FACTOR, text_of("the {0} was changed", _noun(what)))
    yield from _unmeasured(installation, evaluation)
    by_stage = {stage.stage: stage for stage in evaluation.stages}
    for cause in CAUSES:
        if by_stage[cause.stage].evidence == "verified" and not changed:
            yield Reason(cause.code, VERIFIED_FACTOR, text_of("the {0} was verified by a test", _stage(cause.stage)))


def _findings(evaluation: Evaluation) -> Iterator[Reason]:
    for finding in evaluation.findings:
        for code in POINTS_AT.get(finding.code, ()):
            yield Reason(code, FINDING_FACTOR[finding.severity], finding.message)


def _unmeasured(installation: Installation, evaluation: Evaluation) -> Iterator[Reason]:
    if not installation.needs.supply_known:
        for code in ("supply_low", "no_supply"):
            yield Reason(code, UNMEASURED_FACTOR, "the supply has not been measured")
    if all(readout.current_setting is None for readout in evaluation.readouts):
        for code in ("setting_other", "setting_unit"):
            yield Reason(code, UNMEASURED_FACTOR, "the setting has not been read back")
    assumed = {stage.stage for stage in evaluation.stages if stage.evidence == "assumed"}
    for stage, codes in (("target", ("wrong_count",)), ("wheel", ("tyre_changed", "pressure_load"))):
        if stage in assumed:
            for code in codes:
                yield Reason(code, UNMEASURED_FACTOR, text_of("the {0} is assumed, not measured", _stage(stage)))


def _noun(what: Changed) -> str:
    return {"display": "display or controller", "ring": "ring or magnet", "gearing": "gearing"}.get(what, what)


def _stage(stage: StageName | str) -> str:
    return {"wheel": "circumference", "target": "count"}.get(stage, stage)
