"""What a person gets of a rig: the symptoms first, then the outcome of each test, errors included."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Mapping
from dataclasses import replace

import numpy as np

from speedchain.document import Installation
from speedchain.faults.causes import BY_CODE as CAUSE
from speedchain.faults.inject import DRAWS, PUTS, inject
from speedchain.faults.model import Pair, Seen
from speedchain.faults.priors import History, factors_for
from speedchain.faults.rig import (
    DRIVE_KMH,
    SAME,
    SLOW_KMH,
    SPIN_KMH,
    Display,
    Rig,
    display,
    evaluation_of,
    moved,
    path_works,
    strength,
)
from speedchain.faults.table import Table
from speedchain.faults.tests_by_hand import BY_CODE as TEST
from speedchain.faults.vocabulary import Changed, Symptom
from speedchain.fitted import fitted

Random = np.random.Generator
WRONG = 0.04
"""How often a person gets a wrong outcome, whatever the test. Common practice."""
NOTED = 0.85
REMEMBERS = 0.6
ASIDE_MM = 2.0
UNEVEN_MM = 0.45
GAP_READ_MM = 0.1
ROLL_OUT_PCT = 0.6
MISCOUNT = 0.05


def symptoms_shown(rig: Rig) -> dict[Symptom, bool]:
    """Which symptoms are there, from what the display does at standstill, slow, fast, on bumps and in turns."""
    slow, drive = display(rig, SLOW_KMH), display(rig, DRIVE_KMH)
    top = max(rig.entered.needs.max_speed_kmh, 30.0)
    fast, bumps = display(rig, top), display(rig, DRIVE_KMH, bumps=True)
    hot = display(rig, DRIVE_KMH, hot=True)
    spin = display(rig, SPIN_KMH, on_stand=True)
    ratio = drive.ratio
    dead = drive.nothing and slow.nothing and fast.nothing
    steady = not dead and not drive.unsteady
    low = not dead and (slow.nothing or slow.ratio < 0.8 * ratio)
    high = not dead and (fast.nothing or fast.ratio < 0.85 * ratio or hot.nothing)
    controlled = rig.entered.purpose in ("brake_control", "slip_control") or rig.entered.vehicle_kind == "e_bike"
    return {
        "nothing": dead,
        "half": steady and abs(ratio - 0.5) < 0.06,
        "double": not dead and abs(ratio - 2) < 0.25,
        "drops_low": low,
        "drops_high": high,
        "drops_bumps": not dead
        and not drive.unsteady
        and (bumps.nothing or bumps.unsteady or bumps.ratio < 0.85 * ratio),
        "standstill": rig.pickup_hz > 0 and path_works(rig),
        "noisy": drive.unsteady,
        "in_turns": not dead and any(abs(turn - 1) > 0.03 for turn in rig.turns),
        "steady_off": steady and abs(ratio - 1) > SAME and abs(ratio - 0.5) >= 0.06 and abs(ratio - 2) >= 0.25,
        "fault_code": controlled and (dead or rig.unequal or rig.crossed or drive.unsteady),
        "after_change": False,
        "bench_ok": not dead and (hot.nothing or bumps.unsteady) and not spin.unsteady and not spin.nothing,
    }


def seen_by(rig: Rig, random: Random) -> Seen | None:
    """What a person says of it at first; None where there is nothing to notice."""
    there = [name for name, is_there in symptoms_shown(rig).items() if is_there]
    if not there:
        return None
    noted = [name for name in there if random.random() < NOTED] or [there[int(random.integers(len(there)))]]
    changed: list[Changed] = []
    own = CAUSE[rig.cause].changed
    if own and random.random() < REMEMBERS:
        changed.append(own[int(random.integers(len(own)))])
        if random.random() < REMEMBERS:
            noted.append("after_change")
    pairs: tuple[Pair, ...] = ()
    drive = display(rig, DRIVE_KMH)
    if not drive.nothing and not drive.unsteady and not {"drops_low", "drops_high"} & set(noted):
        shown = round(DRIVE_KMH * drive.ratio * float(random.normal(1, 0.008)), 1)
        pairs = (Pair(true_kmh=DRIVE_KMH, shown_kmh=min(shown, 9000.0)),)
    return Seen(symptoms=tuple(noted), changed=tuple(changed), pairs=pairs)


def drawn(table: Table, healthy: Installation, random: Random, history: History | None = None) -> tuple[Rig, Seen]:
    """A rig with a cause of the table, each as likely as another but for what kind and history say, and what is said of
    it."""
    possible = [code for code in table.causes[:-1] if code in PUTS]
    weights = dict.fromkeys(possible, 1.0)
    for item in factors_for(fitted(healthy), history):
        if item.cause in weights:
            weights[item.cause] *= item.factor
    chances = np.array([weights[code] for code in possible])
    while True:
        cause = str(random.choice(possible, p=chances / chances.sum()))
        for rig, seen in noticed(cause, healthy, random):
            return rig, seen if history is None else seen.model_copy(update={"history": history})


def noticed(cause: str, healthy: Installation, random: Random) -> Iterator[tuple[Rig, Seen]]:
    """A rig with this cause of a size that a person notices, and what is said of it; nothing where no size is
    noticed."""
    for _ in range(DRAWS):
        rig = inject(cause, healthy, random)
        seen = seen_by(rig, random)
        if seen is not None:
            yield rig, seen
            return


def perform(rig: Rig, test: str, random: Random) -> str:
    """The outcome of a test as a person reports it."""
    outcomes = tuple(TEST[test].outcomes)
    found = OUTCOMES[test](rig, random)
    if random.random() < WRONG:
        return str(random.choice([name for name in outcomes if name != found]))
    return found


def _look(rig: Rig, random: Random) -> str:
    for what, chance in rig.visible.items():
        if random.random() < chance:
            return what
    return "fine"


def _align(rig: Rig, random: Random) -> str:
    was, now = rig.entered.placement, rig.true.placement
    if was is None or now is None:  # nobody has entered where it sits: by what is wrong alone
        return rig.plain.get("align", "centred")
    beside_mm = abs((now.lateral_offset_mm or 0.0) - (was.lateral_offset_mm or 0.0))
    return "off" if beside_mm + random.normal(0, 0.6) > ASIDE_MM else "centred"


def _gap(rig: Rig, random: Random) -> str:
    placement = rig.true.placement
    if placement is None or placement.air_gap_mm is None:
        return rig.plain.get("gap", "in_window")
    window = evaluation_of(rig.entered).placement_detail
    measured = placement.air_gap_mm + random.normal(0, GAP_READ_MM)
    if placement.air_gap_mm <= 0.05:
        return "touches"
    if rig.faults.runout_mm > UNEVEN_MM:
        return "uneven"
    return "wide" if window.possible and measured > window.highest_gap_mm else "in_window"


def _improves(rig: Rig, better: Rig) -> str:
    if rig.closes_twice:
        return "better"
    before, after = display(rig, SPIN_KMH, on_stand=True), display(better, SPIN_KMH, on_stand=True)
    if (before.nothing and not after.nothing) or (before.unsteady and not after.unsteady):
        return "better"
    gained = strength(better) > 1.3 * strength(rig) and strength(rig) < 1.2
    return "better" if gained and (before.nothing or before.unsteady) else "same"


def _quarter_turn(rig: Rig, random: Random) -> str:
    del random
    placement = rig.true.placement
    if placement is None:
        return "same"
    turned = moved(rig, clocking_angle_deg=90.0 - (placement.clocking_angle_deg or 0.0))
    return "same" if rig.closes_twice else _improves(rig, turned)


def _shift(rig: Rig, random: Random) -> str:
    del random
    was, now = rig.entered.placement, rig.true.placement
    if rig.closes_twice:
        return "better"
    if was is None or now is None:
        return rig.plain.get("shift", "same")
    return _improves(rig, moved(rig, lateral_offset_mm=was.lateral_offset_mm or 0.0))


def _magnet(rig: Rig, random: Random) -> str:
    works = path_works(rig, magnet=True) and rig.supply > 0.55 and not (rig.drops_at == "reader" and rig.low_kmh > 12)
    return "shows" if works and (rig.supply >= 0.9 or random.random() < 0.7) else "nothing"


def _classified(found: Display) -> str:
    if found.nothing:
        return "nothing"
    if found.unsteady:
        return "unsteady"
    for name, ratio, within in (("half", 0.5, 0.06), ("double", 2.0, 0.25)):
        if abs(found.ratio - ratio) < within:
            return name
    return "agrees" if abs(found.ratio - 1) < 0.05 else "off"


def _spin(rig: Rig, random: Random) -> str:
    if rig.turns != (1.0, 1.0) or (rig.dirty and rig.entered.vehicle_kind == "boat"):
        return "agrees" if random.random() < 0.7 else "nothing" if rig.dirty else "agrees"
    return _classified(display(rig, SPIN_KMH, on_stand=True))


def _wiggle(rig: Rig, random: Random) -> str:
    if not path_works(rig, magnet=True) and rig.wire:
        return "same"
    chance = max(rig.loose, 0.25 if not rig.wire and rig.supply >= 0.9 else 0.0)
    return "changes" if random.random() < chance else "same"


def _supply(rig: Rig, random: Random) -> str:
    measured = rig.supply * random.normal(1, 0.02)
    return "right" if measured > 0.9 else "low" if measured > 0.2 else "none"


def _output(rig: Rig, random: Random) -> str:
    del random
    if not (rig.sensor_alive and rig.supply > 0.3 and not rig.shorted and rig.target_there and rig.sees_target):
        return "stays"
    if not rig.pull_up:
        return "stays"
    level = strength(rig) * (rig.supply if rig.supply < 0.9 else 1.0)
    if "output" in rig.plain:  # the coil itself gives too little by hand
        return rig.plain["output"]
    return "switches" if level >= 1 and rig.supply >= 0.8 else "weak" if level > 0.35 else "stays"


def _resistance(rig: Rig, random: Random) -> str:
    del random
    return rig.sensor_output if rig.sensor_output in ("open", "short") else "in_range"


def _setting(rig: Rig, random: Random) -> str:
    if abs(rig.setting_factor - 1) < 0.003:
        return "as_calculated"
    hidden = rig.setting_factor in (0.5, 2.0) and random.random() < 0.4  # pulses per turn are set elsewhere, not seen
    return "as_calculated" if hidden else "differs"


def _count(rig: Rig, random: Random) -> str:
    gone = rig.faults.missing > 0 and rig.pole and not rig.dirty and random.random() < 0.6
    differs = rig.count_factor != 1 or gone
    return "differs" if differs != (random.random() < MISCOUNT) else "as_entered"


def _roll_out(rig: Rig, random: Random) -> str:
    measured_pct = (rig.wheel_factor - 1) * 100 + random.normal(0, ROLL_OUT_PCT)
    return "differs" if abs(measured_pct) > 1.5 else "as_entered"


def _tyre(rig: Rig, random: Random) -> str:
    off = abs(rig.wheel_factor - 1)
    if off < 0.005 or rig.entered.vehicle_kind == "boat":
        return "as_entered"
    if "tyre" in rig.plain:
        return rig.plain["tyre"]
    return "other_tyre" if random.random() < 0.92 else "as_entered"


def _engine_off(rig: Rig, random: Random) -> str:
    del random
    if rig.pickup_hz == 0 or not (rig.reader and rig.conditioner):
        return "nothing"
    return "always" if rig.pickup_always else "with_engine"


def _unplug(rig: Rig, random: Random) -> str:
    return "still" if rig.pickup_hz > 0 and (rig.pickup_always or random.random() < 0.45) else "zero"


def _tie(rig: Rig, random: Random) -> str:
    chance = 0.85 if rig.pickup_by_lead else 0.25
    return "better" if rig.pickup_hz > 0 and random.random() < chance else "same"


def _feed(rig: Rig, random: Random) -> str:
    del random
    if not (rig.reader and rig.battery and rig.conditioner and rig.converter):
        return "nothing"
    factor = rig.setting_factor * rig.converter_factor
    if abs(factor - 1) > 0.02:
        return "factor"
    return "drops" if rig.drops_at and rig.high_kmh < 1e6 else "right"


def _conditioner(rig: Rig, random: Random) -> str:
    at_input = _output(rig, random) == "switches" and rig.wire
    if not at_input:
        return "none"
    return "both" if rig.conditioner and not ("conditioner" in rig.plain and random.random() < 0.65) else "input_only"


def _ratio(rig: Rig, random: Random) -> str:
    if _output(rig, random) != "switches" or not rig.wire or not rig.conditioner:
        return "none"
    if not rig.converter:
        return "input_only"
    return "differs" if abs(rig.converter_factor * random.normal(1, 0.01) - 1) > 0.04 else "as_calculated"


def _threshold(rig: Rig, random: Random) -> str:
    if "threshold" in rig.plain:
        return rig.plain["threshold"]
    weak = rig.low_kmh > 0 and rig.drops_at == ""  # the signal does not reach it at low speed
    return "too_high" if weak and random.random() < 0.5 else "right"


def _straight(rig: Rig, random: Random) -> str:
    del random
    off = [abs(turn - 1) > 0.03 for turn in rig.turns]
    return "turns" if all(off) else "one_turn" if any(off) else "same"


def _speeds(rig: Rig, random: Random) -> str:
    del random
    there = symptoms_shown(rig)
    return (
        "low"
        if there["drops_low"]
        else "high"
        if there["drops_high"]
        else "bumps"
        if there["drops_bumps"]
        else "steady"
    )


def _sensor_at_fault(rig: Rig) -> bool:
    return not rig.sensor_alive or rig.hot or "swap_sensor" in rig.plain


OUTCOMES: Mapping[str, Callable[[Rig, Random], str]] = {
    "look": _look,
    "align": _align,
    "gap": _gap,
    "quarter_turn": _quarter_turn,
    "shift": _shift,
    "magnet": _magnet,
    "spin": _spin,
    "wiggle": _wiggle,
    "supply": _supply,
    "output": _output,
    "resistance": _resistance,
    "setting": _setting,
    "count": _count,
    "all_corners": lambda rig, _: "unequal" if rig.unequal else "equal",
    "ratio": _ratio,
    "roll_out": _roll_out,
    "engine_off": _engine_off,
    "unplug": _unplug,
    "tie": _tie,
    "polarity": lambda rig, _: "same" if rig.polarity else "better",
    "poles": lambda rig, _: "same" if rig.pole else "reversed",
    "feed": _feed,
    "conditioner": _conditioner,
    "battery": lambda rig, _: "good" if rig.battery else "low",
    "other_wheel": lambda rig, _: "held" if rig.one_held else "both",
    "pair": lambda rig, _: "same" if rig.paired else "cured",
    "mode": lambda rig, _: "speed" if rig.mode_right else "another",
    "strap": lambda rig, _: "tight" if rig.strapped else "loose",
    "speeds": _speeds,
    "straight": _straight,
    "seat": lambda rig, _: rig.plain.get("seat", "clear"),
    "clean": lambda rig, _: "cured" if rig.dirty else "same",
    "threshold": _threshold,
    "bracket": lambda rig, _: "moves" if rig.whip_mm > 1 else "stiff",
    "tyre": _tyre,
    "kind": lambda rig, _: rig.plain.get("kind", "fits"),
    "pins": lambda rig, _: rig.plain.get("pins", "as_sheet"),
    "lead": lambda rig, _: "short" if rig.shorted else "fine" if rig.wire else "open",
    "pulled_up": lambda rig, _: "zero" if rig.shorted or not rig.pull_up or not rig.wire else "high",
    "ground": lambda rig, _: rig.plain.get("ground", "small"),
    "shield": lambda rig, _: rig.plain.get("shield", "one_end"),
    "range": lambda rig, _: rig.plain.get("range", "within"),
    "channel": lambda rig, _: "another" if rig.crossed else "own",
    "swap_corners": lambda rig, _: "moves" if _sensor_at_fault(rig) else "stays",
    "swap_sensor": lambda rig, _: "cured" if _sensor_at_fault(rig) else "same",
}
"""The true outcome of each test, from what is physically there."""


def healed(rig: Rig) -> Rig:
    """The same with its cause cured."""
    return replace(Rig(cause="", entered=rig.entered, true=rig.entered))


def cured(rig: Rig, cause: str, random: Random) -> str:
    """Whether the cure of a cause was one, as a person finds by the retest."""
    right = cause == rig.cause
    return "cured" if right != (random.random() < WRONG) else "same"
