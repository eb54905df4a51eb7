"""How likely causes are by whether it ever worked, and on what kind of installation: one table of factors. Common
practice."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from typing import Literal, NamedTuple

from speedchain.fields import Words, labelled
from speedchain.fitted import Fact

History = Literal["never", "before", "changed"]
HISTORIES = labelled(
    History,
    never=("It has never worked", "A new installation, or new to you"),
    before=("It worked, and then failed", "Nobody has worked on it"),
    changed=("It worked until something was changed", "Choose below what was changed"),
)
FITTED_WRONG = (
    "gap_wide", "clocking", "lateral_off", "half_aligned", "reed_at_end", "poles_reversed", "encoder_reversed",
    "wrong_sensor", "pins_swapped", "pull_up_missing", "slow_edges", "coil_polarity", "coil_weak", "threshold_high",
    "threshold_low", "converter_ratio", "converter_cap", "shield_both_ends", "radio_lost", "sensor_mode",
    "setting_other", "setting_unit",
    "setting_diameter", "wrong_count", "edges_half", "edges_double", "not_learned", "wrong_channel", "counts_unequal",
    "filter_slow", "time_out_short", "dial_end", "damping", "wheel_held", "paddle_in_wash", "paddle_off_centre",
    "paddle_skewed",
)  # fmt: skip
"""What is wrong from the first day: how it was fitted, wired or set."""
WORN = (
    "target_lost", "target_moved", "teeth_damaged", "target_dirty", "ring_eccentric", "gap_rubs", "bracket_loose",
    "strap_loose", "sensor_dead",
    "sensor_hot", "reed_stuck", "no_supply", "supply_low", "ground_bad", "signal_open", "signal_short", "plug_loose",
    "conditioner_destroyed", "converter_dead", "reader_dead", "reader_battery", "paddle_fouled", "pressure_load",
)  # fmt: skip
"""What fails in use."""
BY_A_CHANGE = ("tyre_changed", "gearing_changed", "target_left_behind", "rotor_pattern")
"""What only a change brings."""


class _Shift(NamedTuple):
    fitted_wrong: float
    worn: float
    by_a_change: float
    text: Words


BY_HISTORY: Mapping[History, _Shift] = {
    "never": _Shift(3.0, 0.3, 0.2, "it has never worked"),
    "before": _Shift(0.3, 2.0, 0.3, "it worked before, and nothing was changed"),
    "changed": _Shift(1.0, 0.5, 2.0, "it worked until something was changed"),
}
BY_KIND: Mapping[Fact, Mapping[str, float]] = {
    "e_bike": {"half_aligned": 3.0, "gap_wide": 2.0, "target_moved": 2.0},
    "magnets": {"gap_wide": 1.5, "half_aligned": 1.5},
    "afloat": {"paddle_fouled": 2.0},
    "no_target": {"radio_lost": 1.5, "reader_battery": 2.0, "sensor_mode": 2.0},
}
"""What is found first on these, before anything is measured."""


class Factor(NamedTuple):
    """A cause, by what factor it is more or less likely, and why."""

    cause: str
    factor: float
    text: Words


def factors_for(facts: frozenset[Fact], history: History | None) -> Iterator[Factor]:
    """What kind and history of an installation say of causes.

    Examples
    --------
    >>> [item.cause for item in factors_for(frozenset(["afloat"]), None)]
    ['paddle_fouled']
    """
    for fact, causes in BY_KIND.items():
        if fact in facts:
            for cause, factor in causes.items():
                yield Factor(cause, factor, "it is the usual cause on this kind of installation")
    if history is not None:
        shift = BY_HISTORY[history]
        for causes_of, factor in (
            (FITTED_WRONG, shift.fitted_wrong),
            (WORN, shift.worn),
            (BY_A_CHANGE, shift.by_a_change),
        ):
            if factor != 1:
                for cause in causes_of:
                    yield Factor(cause, factor, shift.text)
