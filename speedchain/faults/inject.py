"""Put a cause into a healthy installation: what is then physically wrong, with sizes drawn at random."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import replace
from functools import lru_cache

import numpy as np

from speedchain.bench import Faults
from speedchain.document import Installation
from speedchain.faults.rig import Rig, evaluation_of, moved, placed, strength
from speedchain.fields import KM_PER_MILE

Random = np.random.Generator
Put = Callable[[Rig, Random], Rig]
TOO_WEAK = 1.1
OFFSETS_MM = tuple(np.arange(0.5, 8, 0.05).round(2).tolist())
DRAWS = 12
"""How often a size is drawn again where a fault of it would not be noticed."""


def _few(random: Random, low: float, high: float) -> float:
    """A factor off by a few per cent, either way."""
    return float(1 + random.choice((-1, 1)) * random.uniform(low, high))


def _gap_out(rig: Rig, random: Random) -> Rig:
    gap = evaluation_of(rig.entered).placement_detail.highest_gap_mm
    return _weaker(moved(rig, air_gap_mm=round(min(max(gap, 0.5) * random.uniform(1.1, 2.2) + 0.2, 20.0), 2)), random)


def _weaker(rig: Rig, random: Random) -> Rig:
    """What a marginal signal gives: pulses are missed by noise; without a placement a part is missed at random."""
    if evaluation_of(rig.true).placement_detail.possible:
        return replace(
            rig, faults=Faults(noise=round(float(random.uniform(0.15, 0.45)), 3), seed=int(random.integers(2**31)))
        )
    return replace(rig, jitter=float(random.uniform(0.2, 0.5)), input_factor=float(random.uniform(0.4, 0.9)))


def _aside(rig: Rig, random: Random) -> Rig:
    offset = rig.true.placement.lateral_offset_mm if rig.true.placement is not None else None
    side = float(random.choice((-1, 1)) * random.uniform(3, 9))
    return _weaker(
        replace(moved(rig, lateral_offset_mm=round((offset or 0.0) + side, 2)), visible={"moved": 0.3}), random
    )


@lru_cache(maxsize=32)
def _where_turning_helps(document: Installation) -> tuple[float, ...]:
    """Lateral offsets at which a strip along the ring is too weak and a strip across it is not [mm]."""
    rig = Rig(cause="clocking", entered=document, true=document)
    along = [moved(rig, clocking_angle_deg=0.0, lateral_offset_mm=float(place)) for place in OFFSETS_MM]
    return tuple(
        [
            float(place)
            for place, one in zip(OFFSETS_MM, along, strict=True)
            if strength(one) < TOO_WEAK < strength(moved(one, clocking_angle_deg=90.0))
        ]
    )


def _clocked(rig: Rig, random: Random) -> Rig:
    offsets = _where_turning_helps(rig.true)
    offset = offsets[int(random.integers(len(offsets)))] if offsets else 0.0
    along = moved(rig, clocking_angle_deg=0.0, lateral_offset_mm=round(offset, 2))
    return replace(
        along, faults=Faults(noise=round(float(random.uniform(0.1, 0.3)), 3), seed=int(random.integers(2**31)))
    )


def _with(**changes: object) -> Put:
    return lambda rig, _: replace(rig, **changes)  # type: ignore[arg-type]


def _teeth(rig: Rig, random: Random) -> Rig:
    count = rig.true.target.count
    gone = int(random.integers(1, min(3, max(count - 1, 2))))
    return replace(
        rig, faults=Faults(missing=min(gone, count - 1)), visible={"damaged": float(random.uniform(0.55, 0.95))}
    )


def _eccentric(rig: Rig, random: Random) -> Rig:
    return replace(rig, faults=Faults(runout_mm=round(float(random.uniform(0.6, 2.0)), 2), noise=0.12,
        seed=int(random.integers(2**31))), jitter=0.15, visible={"moved": 0.2})  # fmt: skip


def _other_count(rig: Rig, random: Random) -> Rig:
    count = rig.true.target.count
    other = count + int(random.choice((-1, 1)) * random.integers(1, max(count // 4, 2)))
    return replace(rig, count_factor=max(other, 1) / count)


def _loose(rig: Rig, random: Random) -> Rig:
    return replace(rig, loose=float(random.uniform(0.6, 1.0)), visible={"damaged": 0.15})


def _pickup(rig: Rig, random: Random) -> Rig:
    return replace(rig, pickup_hz=float(random.uniform(15, 120)), jitter=float(random.uniform(0, 0.25)))


def _dead(rig: Rig, random: Random) -> Rig:
    return replace(
        rig, sensor_alive=False, sensor_output=str(random.choice(("open", "short", "ok"), p=(0.6, 0.25, 0.15)))
    )


def _unit(rig: Rig, random: Random) -> Rig:
    return replace(rig, setting_factor=float(random.choice((KM_PER_MILE, 1 / KM_PER_MILE, 10.0, 0.1))))


def _drive(rig: Rig, random: Random) -> Rig:
    return replace(rig, drive_factor=float(random.choice((0.78, 0.84, 0.89, 0.94, 1.06, 1.12, 1.19, 1.28))))


def _reed_ends(rig: Rig, random: Random) -> Rig:
    del random
    found = replace(rig, closes_twice=True)
    return replace(found, true=found.true.model_copy(update={
        "placement": placed(found.true.placement,
            lateral_offset_mm=0.0)})) if found.true.placement else found  # fmt: skip


def _top_kmh(rig: Rig) -> float:
    return max(rig.entered.needs.max_speed_kmh, 20.0)


def _high(rig: Rig, random: Random) -> Rig:
    return replace(rig, high_kmh=float(random.uniform(0.35, 0.75)) * _top_kmh(rig))


def _low(rig: Rig, random: Random) -> Rig:
    return replace(rig, low_kmh=float(random.uniform(7.5, 18)))


def _both(*puts: Put) -> Put:
    def put(rig: Rig, random: Random) -> Rig:
        for one in puts:
            rig = one(rig, random)
        return rig

    return put


PUTS: Mapping[str, Put] = {
    "tyre_changed": lambda rig, random: replace(rig, wheel_factor=_few(random, 0.02, 0.09)),
    "pressure_load": lambda rig, random: replace(rig, wheel_factor=_few(random, 0.015, 0.03)),
    "paddle_fouled": lambda rig, random: replace(
        rig, wheel_factor=float(random.uniform(0.7, 0.95)), dirty=True, visible={"dirty": 0.85}
    ),
    "paddle_in_wash": lambda rig, random: replace(
        rig, turns=(float(random.uniform(0.7, 0.92)), float(random.uniform(0.7, 0.92)))
    ),
    "paddle_off_centre": lambda rig, random: replace(rig, turns=(float(random.uniform(0.82, 0.94)), 1.0)),
    "paddle_skewed": lambda rig, random: replace(
        rig, wheel_factor=float(random.uniform(0.88, 0.97)), visible={"moved": 0.45}
    ),
    "wheel_held": _with(one_held=True),
    "gearing_changed": _drive,
    "target_left_behind": _with(target_there=False, visible={"missing": 0.8}),
    "target_lost": lambda rig, random: (
        replace(rig, faults=Faults(missing=1), visible={"bare": 0.8, "missing": 0.2})
        if rig.true.target.count > 1
        else replace(rig, target_there=False, visible={"bare": 0.8, "missing": 0.2})
    ),
    "target_moved": lambda rig, random: replace(
        _aside(rig, random), visible={"moved": float(random.uniform(0.35, 0.75))}
    ),
    "rotor_pattern": _both(_gap_out, lambda rig, random: replace(_aside(rig, random),
        sees_target=bool(random.random() > 0.75))),
    "poles_reversed": lambda rig, random: replace(rig, pole=False, faults=Faults(missing=1)),
    "teeth_damaged": _teeth,
    "ring_eccentric": _eccentric,
    "target_dirty": lambda rig, random: replace(rig, dirty=True,
        faults=Faults(missing=min(2, rig.true.target.count - 1), noise=0.2), jitter=0.2, visible={"dirty": 0.8}),
    "wrong_count": _other_count,
    "encoder_reversed": _with(sees_target=False, pole=False),
    "gap_wide": lambda rig, random: replace(_gap_out(rig, random), visible={"moved": 0.3}),
    "gap_rubs": lambda rig, random: replace(moved(rig, air_gap_mm=0.0), jitter=float(random.uniform(0.15, 0.5)),
        sensor_alive=bool(random.random() > 0.35), visible={"damaged": 0.6}),
    "clocking": _clocked,
    "lateral_off": _aside,
    "half_aligned": lambda rig, random: replace(_aside(rig, random), whip_mm=0.6, visible={"moved": 0.3}),
    "reed_at_end": _reed_ends,
    "bracket_loose": lambda rig, random: replace(rig, loose=float(random.uniform(0.1, 0.4)), whip_mm=3.0,
        visible={"moved": 0.7}),
    "sensor_dead": _dead,
    "sensor_hot": _with(hot=True),
    "reed_stuck": lambda rig, random: replace(rig, input_factor=float(random.uniform(1.6, 2.2)),
        jitter=float(random.uniform(0, 0.3)), sensor_output=str(random.choice(("short", "ok")))),
    "wrong_sensor": _with(sees_target=False),
    "no_supply": _with(supply=0.0),
    "supply_low": lambda rig, random: replace(rig, supply=float(random.uniform(0.4, 0.75)), jitter=0.2),
    "ground_bad": lambda rig, random: replace(rig, supply=float(random.uniform(0.35, 0.8)),
        loose=float(random.uniform(0.2, 0.6)), jitter=0.25),
    "signal_open": _with(wire=False, visible={"damaged": 0.3}),
    "signal_short": _with(shorted=True, visible={"damaged": 0.4}),
    "plug_loose": _loose,
    "pins_swapped": lambda rig, random: replace(rig, supply=float(random.choice((0.0, 0.25))), sensor_alive=True,
        wire=False),
    "pull_up_missing": _with(pull_up=False),
    "slow_edges": _high,
    "noise_ignition": _pickup,
    "shield_both_ends": lambda rig, random: replace(_pickup(rig, random), pickup_by_lead=False),
    "coil_polarity": lambda rig, random: replace(rig, polarity=False, jitter=float(random.uniform(0.15, 0.4))),
    "coil_weak": _low,
    "conditioner_destroyed": _with(conditioner=False),
    "threshold_high": _low,
    "threshold_low": lambda rig, random: replace(rig, pickup_hz=float(random.uniform(10, 60)),
        pickup_always=bool(random.random() > 0.5), pickup_by_lead=False, input_factor=float(random.uniform(1.1, 2.0)),
        jitter=0.25),
    "converter_dead": _with(converter=False),
    "converter_ratio": lambda rig, random: replace(rig, converter_factor=float(
        random.choice((0.5, 0.8, 1.25, 1.5, 2.0)) * random.uniform(0.95, 1.05))),
    "converter_cap": lambda rig, random: replace(_high(rig, random), drops_at="converter"),
    "radio_lost": _with(paired=False),
    "sensor_mode": _with(mode_right=False),
    "strap_loose": lambda rig, random: replace(rig, strapped=False, loose=float(random.uniform(0.2, 0.6)),
        jitter=float(random.uniform(0.15, 0.4)), visible={"moved": 0.4}),
    "setting_other": lambda rig, random: replace(rig, setting_factor=float(
        np.exp(random.choice((-1, 1)) * random.uniform(0.08, 0.6)))),
    "setting_unit": _unit,
    "setting_diameter": lambda rig, random: replace(rig, setting_factor=float(random.choice((1 / np.pi, np.pi)))),
    "edges_half": _with(setting_factor=0.5),
    "edges_double": _with(setting_factor=2.0),
    "not_learned": lambda rig, random: replace(rig, setting_factor=_few(random, 0.04, 0.25)),
    "reader_dead": _with(reader=False),
    "reader_battery": _with(battery=False),
    "wrong_channel": _with(crossed=True),
    "counts_unequal": lambda rig, random: replace(_other_count(rig, random), unequal=True),
    "filter_slow": lambda rig, random: replace(_high(rig, random), drops_at="reader"),
    "time_out_short": lambda rig, random: replace(_low(rig, random), drops_at="reader"),
    "dial_end": lambda rig, random: replace(_high(rig, random), drops_at="reader"),
    "damping": lambda rig, random: replace(rig, jitter=float(random.uniform(0.15, 0.4))),
}  # fmt: skip
"""What each cause does, physically. Sizes: common practice."""


PLAIN: Mapping[str, Mapping[str, str]] = {
    "gap_wide": {"gap": "wide"},
    "rotor_pattern": {"align": "off"},
    "target_moved": {"align": "off", "shift": "better"},
    "ring_eccentric": {"gap": "uneven"},
    "gap_rubs": {"gap": "touches"},
    "lateral_off": {"align": "off", "shift": "better"},
    "half_aligned": {"align": "off", "shift": "better"},
    "coil_weak": {"output": "weak"},
    "pressure_load": {"tyre": "other_pressure"},
    "threshold_low": {"threshold": "too_low"},
    "threshold_high": {"threshold": "too_high", "conditioner": "input_only"},
    "paddle_in_wash": {"seat": "wash"},
    "paddle_off_centre": {"seat": "aside"},
    "paddle_skewed": {"seat": "skewed"},
    "wrong_sensor": {"kind": "does_not"},
    "pins_swapped": {"pins": "swapped"},
    "wrong_channel": {"pins": "swapped"},
    "ground_bad": {"ground": "large"},
    "shield_both_ends": {"shield": "both_ends"},
    "dial_end": {"range": "beyond"},
    "reed_stuck": {"swap_sensor": "cured", "swap_corners": "moves"},
}
"""What a test gives at once, because it looks at the very thing that is wrong."""


def inject(cause: str, healthy: Installation, random: Random) -> Rig:
    """A healthy installation with a cause in it."""
    rig = Rig(cause=cause, entered=healthy, true=healthy, plain=PLAIN.get(cause, {}))
    return PUTS[cause](rig, random)
