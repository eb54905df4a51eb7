"""Injected mistakes, and how the core ranks their causes: a fresh, seeded set of installations (tests and truth.py).

Each case draws an installation whose chain is measured, makes one mistake in the arithmetic of its setting (or in its
pulses), rounds what is typed to the display's step, and asks for the causes. The mistakes are made by hand here, from
what people do, not from the core's list of them.
"""

from __future__ import annotations

import math
import zlib
from collections import Counter
from collections.abc import Callable
from contextlib import suppress
from dataclasses import dataclass
from typing import Any

import numpy as np

from speedchain import Evaluation, Installation, evaluate, read_installation
from speedchain.fields import DocumentError
from speedchain.views.implied_setting import implied_settings
from speedchain.views.readings import Readings, diagnose

Rng = np.random.Generator
AXLES = (2.73, 3.08, 3.23, 3.42, 3.55, 3.73, 3.9, 4.1, 4.3, 4.56)


def _base(name: str, wheel_mm: float, **parts: Any) -> dict[str, Any]:
    measured = {"method": "roll_out", "roll_out": {"turns": 3, "distance_mm": 3 * wheel_mm}}
    return {
        "format": "wheelometron-installation", "version": 2, "name": name, "purpose": "true_speed",
        "vehicle_kind": "car", "speedometer_rule": "none", "wheel": measured, "sensor": {"kind": "hall_gear_tooth"},
        "target": {"count": 48, "basis": "counted"}, "readouts": [{"name": "Dash", "encoding": "pulses_per_km"}],
    } | parts  # fmt: skip


def _car(rng: Rng) -> dict[str, Any]:
    encoding = str(rng.choice(["pulses_per_km", "pulses_per_mile", "mm_per_pulse", "pulses_per_100_m", "hz_per_kmh"]))
    count = int(rng.integers(24, 61))
    marking = {"marking": {"text": "205/55R16"}}
    base = _base("Car", float(rng.uniform(1850, 2050)), target={"count": count, "basis": "counted"})
    base["wheel"] |= marking
    base["readouts"] = [{"name": "Dash", "encoding": encoding}]
    return base


def _shaft(rng: Rng) -> dict[str, Any]:
    base = _car(rng)
    base["drive"] = {"kind": "axle_ratio", "axle_ratio": {"ratio": float(rng.choice(AXLES)), "basis": "label"}}
    base["target"] = {"count": int(rng.integers(8, 41)), "basis": "counted"}
    base["readouts"] = [{"name": "Dash", "encoding": "pulses_per_km"}]
    return base


def _cycle(rng: Rng) -> dict[str, Any]:
    base = _base("Cycle", float(rng.uniform(1500, 2300)), vehicle_kind="bicycle", purpose="cycle_display")
    base["sensor"] = {"kind": "reed"}
    base["target"] = {"kind": "magnets", "count": int(rng.choice([1, 1, 2, 3])), "basis": "counted"}
    base["readouts"] = [{"name": "Display", "encoding": "circumference_mm"}]
    return base


def _motorcycle(rng: Rng) -> dict[str, Any]:
    base = _base("Motorcycle", float(rng.uniform(1850, 2050)), vehicle_kind="motorcycle")
    base["target"] = {"kind": "multipole_ring", "count": int(rng.integers(40, 51)), "basis": "counted"}
    base["sensor"] = {"kind": "hall_differential"}
    base["readouts"] = [{"name": "Dash", "encoding": "pulses_per_km"}]
    return base


def _percent(rng: Rng) -> dict[str, Any]:
    base = _base("Percent", float(rng.uniform(1850, 2050)), vehicle_kind="motorcycle")
    base["target"] = {"count": 44, "basis": "counted"}
    true = 44 * 1e6 / (base["wheel"]["roll_out"]["distance_mm"] / 3)
    base_pulses = true * (1 + float(rng.choice([-1, 1]) * rng.uniform(0.02, 0.12)))
    base["readouts"] = [{"name": "Dash", "encoding": "percent_correction", "base_pulses_per_km": round(base_pulses)}]
    return base


def _box(rng: Rng) -> dict[str, Any]:
    base = _shaft(rng)
    low = float(rng.choice([1.94, 2.02, 2.48, 2.72, 3.05, 4.0]))
    box = {"axle_ratio": float(rng.choice(AXLES)), "low_ratio": low, "sensed": "gearbox"}
    base["drive"] = {"kind": "transfer_box", "transfer_box": box | {"range": str(rng.choice(["high", "low"]))}}
    return base


def _converted(rng: Rng) -> dict[str, Any]:
    base = _car(rng)
    up, down = int(rng.integers(1, 10)), int(rng.integers(2, 17))
    if up == down:
        down += 1
    gauge = float(rng.uniform(2000, 9000))
    base["signal"] = {
        "converter": {"target_pulses_per_km": gauge, "setting": [{"numerator": up, "denominator": down}]},
    }
    base["readouts"] = [{"name": "Dash", "encoding": "pulses_per_km"}]
    return base


def _boat(rng: Rng) -> dict[str, Any]:
    base = _base("Boat", 370.4, vehicle_kind="boat")
    calibration = float(rng.choice([-1, 1]) * rng.uniform(2, 12))
    base["wheel"] = {"method": "paddle", "paddle": {"pulses_per_nautical_mile": 20_000, "calibration_pct": calibration}}
    base["target"] = {"kind": "paddle_magnets", "count": 4, "basis": "counted"}
    base["sensor"] = {"kind": "paddlewheel"}
    base["readouts"] = [{"name": "Log", "encoding": "pulses_per_nautical_mile"}]
    return base


def _low(installation: Installation) -> float:
    box = installation.drive.transfer_box
    assert box is not None
    return 1 / box.low_ratio if box.range == "low" else box.low_ratio


def _step(rng: Rng, installation: Installation) -> float:
    converter = installation.signal.converter
    assert converter is not None
    up, down = converter.setting[0].numerator, converter.setting[0].denominator
    others = [(up + 1, down), (up - 1, down), (up, down + 1), (up, down - 1)]
    meant = [(a, b) for a, b in others if a > 0 and b > 0]
    other_up, other_down = meant[int(rng.integers(len(meant)))]
    return up * other_down / (down * other_up)


def _converter_ratio(installation: Installation) -> float:
    converter = installation.signal.converter
    assert converter is not None
    return converter.setting[0].numerator / converter.setting[0].denominator


def _calibration(installation: Installation) -> float:
    paddle = installation.wheel.paddle
    assert paddle is not None
    return 1 + (paddle.calibration_pct or 0) / 100


@dataclass(frozen=True)
class Mistake:
    """A mistake: the codes that name it, the installations in which it is made, and shown/true."""

    code: str
    bases: tuple[Callable[[Rng], dict[str, Any]], ...]
    ratio: Callable[[Rng, Evaluation, Installation], float]
    reading: bool = False


def _count(installation: Installation) -> int:
    return installation.target.count


def _away(rng: Rng, options: tuple[float, ...], value: float) -> float:
    near = [option for option in options if 0.65 < value / option < 1.5 and abs(value / option - 1) > 0.01]
    return value / float(rng.choice(near))


ALL = (_car, _shaft, _motorcycle)
MISTAKES = (
    Mistake("pi", (_cycle,), lambda r, e, i: 1 / math.pi),
    Mistake("radius", (_cycle,), lambda r, e, i: 0.5 / math.pi),
    Mistake("pulses_left_out", ALL, lambda r, e, i: float(_count(i))),
    Mistake("pulses_twice", (_car, _motorcycle), lambda r, e, i: 1 / _count(i)),
    Mistake("tooth", (_car,), lambda r, e, i: _count(i) / (_count(i) + r.choice([-1, 1]))),
    Mistake("ring", (_car,), lambda r, e, i: _count(i) / (_count(i) + r.choice([-6, -4, -3, -2, 2, 3, 4, 6]))),
    Mistake("edges_two", (_car, _shaft), lambda r, e, i: 2.0),
    Mistake("edges_half", (_car, _shaft), lambda r, e, i: 0.5),
    Mistake("poles", (_motorcycle,), lambda r, e, i: float(r.choice([2.0, 0.5]))),
    Mistake("ratio_out", (_shaft,), lambda r, e, i: e.stages[1].value),
    Mistake("ratio_twice", (_shaft,), lambda r, e, i: 1 / e.stages[1].value),
    Mistake("axle_changed", (_shaft,), lambda r, e, i: _away(r, AXLES, e.stages[1].value)),
    Mistake("unit_mile", ALL, lambda r, e, i: float(r.choice([1.609344, 1 / 1.609344]))),
    Mistake("places", (_car, _cycle, _motorcycle), lambda r, e, i: float(r.choice([10.0, 0.1, 100.0, 0.01]))),
    Mistake("inch", (_cycle,), lambda r, e, i: float(r.choice([25.4, 1 / 25.4]))),
    Mistake("sign", (_percent,), lambda r, e, i: (1 - _exact(e) / 100) / (1 + _exact(e) / 100)),
    Mistake("school", (_car,), lambda r, e, i: float(r.choice([math.pi / 3.05, 3.05 / math.pi]))),
    Mistake("other_tyre", (_car, _cycle, _motorcycle), lambda r, e, i: 1 + r.choice([-1, 1]) * r.uniform(0.012, 0.06)),
    Mistake("transfer_range", (_box,), lambda r, e, i: _low(i)),
    Mistake("converter_step", (_converted,), lambda r, e, i: _step(r, i)),
    Mistake("converter_out", (_converted,), lambda r, e, i: _converter_ratio(i)),
    Mistake("converter_inverted", (_converted,), lambda r, e, i: _converter_ratio(i) ** 2),
    Mistake("percentage_out", (_percent,), lambda r, e, i: 1 / (1 + _exact(e) / 100)),
    Mistake("calibration_out", (_boat,), lambda r, e, i: 1 / _calibration(i)),
    Mistake("right", ALL, lambda r, e, i: 1.0),
    Mistake("double", (_cycle,), lambda r, e, i: 2.0, reading=True),
    Mistake("missed_nth", (_car, _shaft), lambda r, e, i: float(r.choice([2 / 3, 3 / 4, 4 / 5])), reading=True),
    Mistake("missed", (_car, _shaft), lambda r, e, i: float(r.uniform(0.6, 0.95)), reading=True),
    Mistake("extra", (_car, _shaft), lambda r, e, i: float(r.uniform(1.08, 1.5)), reading=True),
)


def _exact(evaluation: Evaluation) -> float:
    return evaluation.readouts[0].exact


def _measured(rng: Rng, base: dict[str, Any]) -> dict[str, Any]:
    """What is known of the wheel is off by what its roll-out allows."""
    if "roll_out" not in base["wheel"]:
        return base
    roll = base["wheel"]["roll_out"]
    return base | {
        "wheel": base["wheel"] | {"roll_out": roll | {"distance_mm": float(rng.normal(roll["distance_mm"], 2.5))}}
    }


def _causes(rng: Rng, mistake: Mistake) -> tuple[list[str], float | None]:
    """Codes of the ranked causes, and the share of the first [%] where one is given."""
    base = mistake.bases[int(rng.integers(len(mistake.bases)))](rng)
    truth = evaluate(read_installation(base))
    ratio = float(mistake.ratio(rng, truth, read_installation(base)))
    known = _measured(rng, base)
    if mistake.reading:
        pairs = [
            {"true_kmh": v, "shown_kmh": max(round(v * ratio * rng.normal(1, 0.003)), 1)} for v in (30, 60, 90, 110)
        ]
        installation = read_installation(known)
        found = diagnose(installation, evaluate(installation), Readings.model_validate({"pairs": pairs})).causes
    else:
        first = truth.readouts[0]
        number = _typed(first, ratio, base)
        readout = known["readouts"][0] | {"current_setting": number}
        installation = read_installation(known | {"readouts": [readout]})
        found = implied_settings(installation, evaluate(installation))[0].causes
    return [cause.code for cause in found], found[0].share_pct if found else None


def _typed(first: Any, ratio: float, base: dict[str, Any]) -> float:
    """The number that makes the display show `ratio` times the true speed."""
    if first.encoding == "percent_correction":
        return round(100 * ((1 + first.exact / 100) * ratio - 1), 1)
    direct = first.encoding in (
        "pulses_per_nautical_mile",
        "pulses_per_km",
        "pulses_per_mile",
        "pulses_per_100_m",
        "hz_per_kmh",
    )
    exact = first.exact / ratio if direct else first.exact * ratio
    return float(f"{exact:.6g}") if first.step < 1 else max(round(exact), 1)


def unlisted_sure(cases: int, seed: int = 5) -> float:
    """Of settings that are wrong in a way nobody lists, by any ratio: the share whose first cause is given more than 50
    %."""
    rng, sure = np.random.default_rng(seed), 0
    anything = Mistake("unlisted", ALL, lambda r, e, i: float(math.exp(r.normal(0, 0.5))))
    for _ in range(cases):
        for _attempt in range(50):
            with suppress(DocumentError):
                sure += (_causes(rng, anything)[1] or 0) > 50
                break
    return sure / cases


@dataclass(frozen=True)
class Ranking:
    """Of all cases: the share whose mistake came first, among the first three, and a wrong first above 50 %."""

    cases: int
    first: float
    in_three: float
    wrong_above_half: float
    each: dict[str, float]
    """Share of each mistake's cases in which it comes first."""
    said: tuple[tuple[int, int, float, float], ...]
    """By what the first was given [%], up to: how many, mean of what was said [%], and how often it was right [%]."""
    order_only: tuple[int, float]
    """Where no share was given: how many, and how often the first was right [%]."""
    missed: tuple[tuple[str, str, int], ...]


def ranking(each: int, seed: int = 20261128) -> Ranking:
    """So many cases of every mistake."""
    first = three = wrong = 0
    confused: Counter[tuple[str, str]] = Counter()
    of_each: Counter[str] = Counter()
    shares: list[tuple[float, bool]] = []
    order_only: list[bool] = []
    for mistake in MISTAKES:
        rng = np.random.default_rng([seed, zlib.crc32(mistake.code.encode())])
        for _ in range(each):
            for _attempt in range(50):  # a number that the format does not hold cannot be typed: another case
                with suppress(DocumentError):
                    codes, share = _causes(rng, mistake)
                    break
            top = codes[0] if codes else "none"
            first += top == mistake.code
            of_each[mistake.code] += top == mistake.code
            if share is None:
                order_only.append(top == mistake.code)
            else:
                shares.append((share, top == mistake.code))
            three += mistake.code in codes[:3]
            wrong += top != mistake.code and (share or 0) > 50
            if top != mistake.code:
                confused[(mistake.code, top)] += 1
    cases = each * len(MISTAKES)
    worst = tuple([(made, taken, number) for (made, taken), number in confused.most_common(12)])
    bins = []
    for low, high in ((0, 30), (30, 50), (50, 70), (70, 85), (85, 95), (95, 101)):
        inside = [(said, right) for said, right in shares if low <= said < high]
        if inside:
            means = np.array(inside, dtype=float).mean(axis=0)
            bins.append((min(high, 100), len(inside), float(means[0]), 100 * float(means[1])))
    return Ranking(
        cases,
        first=first / cases,
        in_three=three / cases,
        wrong_above_half=wrong / cases,
        each={mistake.code: of_each[mistake.code] / each for mistake in MISTAKES},
        order_only=(len(order_only), 100 * float(np.mean(order_only))),
        said=tuple(bins),
        missed=worst,
    )
