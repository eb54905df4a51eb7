"""Simulated coverage of every method for the circumference and of their combinations (used by tests and by
truth.py)."""

from __future__ import annotations

import math
import zlib
from collections.abc import Callable
from dataclasses import dataclass, replace
from typing import Any

import numpy as np
from scipy import stats

from speedchain.uncertainty import least_squares_mean
from speedchain.wheel.combination import all_values
from speedchain.wheel.model import Wheel
from speedchain.wheel.taped import from_axle_height
from speedchain.wheel.value import Value

Rng = np.random.Generator
TRUE_MM = 2000.0
FLATTENED: dict[str, tuple[float, float]] = {"car": (0.05, 0.08), "motorcycle": (0.02, 0.05), "bicycle": (0.005, 0.025)}
"""Deflection over radius. Car radials: the trade's range; the others: our allowance. Stated here again."""


@dataclass(frozen=True)
class Truth:
    """One true wheel: its circumference on the road, the tyre's deflection over its radius and how much of that it
    loses in rolling, and its make."""

    rng: Rng
    deflection: float
    share: float
    make: float
    diameter: float

    @classmethod
    def drawn(cls, rng: Rng, kind: str = "bicycle", at: float | None = None) -> Truth:
        """A wheel of a kind of vehicle, flattened by anything in its range or `at`; a third ± a twelfth of it is
        lost."""
        low, high = FLATTENED[kind]
        deflection = float(rng.uniform(low, high)) if at is None else at
        rest = math.sqrt((1.5 / math.sqrt(3)) ** 2 - 0.5**2)
        share = float(rng.normal(1 / 3, 1 / 12))
        return cls(rng, deflection, share, float(rng.normal(0, 0.5)), float(rng.normal(0, rest)))

    @property
    def radius_mm(self) -> float:
        """R of the tyre without load: C = 2π·(R − share·d)."""
        return TRUE_MM / (2 * math.pi) / (1 - self.share * self.deflection)


def _readings(value: float, sigma: float, uniform: float, truth: Truth, readings: int, scatter: float) -> list[float]:
    """Readings of a value: errors as stated when the scatter is 1, normal with so many times their σ above it."""
    if scatter == 1 and uniform:
        return (value + truth.rng.uniform(-uniform, uniform, readings)).tolist()  # type: ignore[no-any-return]
    sigma = sigma or uniform / math.sqrt(3)
    return (value + truth.rng.normal(0, scatter * sigma, readings)).tolist()  # type: ignore[no-any-return]


def _roll_out(truth: Truth, readings: int, scatter: float) -> dict[str, Any]:
    tape = float(truth.rng.normal(0, 2.0))
    first, *more = _readings(3 * TRUE_MM + tape, math.sqrt(2) * 1.0, 0.0, truth, readings, scatter)
    return {"turns": 3, "distance_mm": first, "repeats_mm": more}


def _across(truth: Truth, readings: int, scatter: float) -> dict[str, Any]:
    height = truth.radius_mm * (2 - truth.deflection)
    first, *more = _readings(height, 0.0, 2.0, truth, readings, scatter)
    return {"diameter_mm": first, "repeats_mm": more}


def _round(truth: Truth, readings: int, scatter: float) -> dict[str, Any]:
    first, *more = _readings(2 * math.pi * truth.radius_mm, 0.0, 3.0, truth, readings, scatter)
    return {"circumference_mm": first, "repeats_mm": more}


def _axle(truth: Truth, readings: int, scatter: float) -> dict[str, Any]:
    radius = truth.radius_mm
    loaded = radius * (1 - truth.deflection) + float(truth.rng.uniform(-2, 2))
    return {"axle_height_mm": loaded, "unloaded_diameter_mm": 2 * radius + float(truth.rng.uniform(-2, 2))}


def _chart(truth: Truth, readings: int, scatter: float) -> dict[str, Any]:
    own = float(truth.rng.normal(0, math.sqrt(0.7**2 - 0.5**2)))
    return {"label": "row", "circumference_mm": TRUE_MM * (1 + (truth.make + own) / 100)}


def _elsewhere(truth: Truth, readings: int, scatter: float) -> dict[str, Any]:
    return {"circumference_mm": TRUE_MM * (1 + float(truth.rng.normal(0, 0.003))), "source": "measured_elsewhere"}


def _compared(truth: Truth, readings: int, scatter: float) -> dict[str, Any]:
    """20 to 30 km/h on a display of whole km/h, set to 2050 mm."""
    true_kmh = float(truth.rng.uniform(20, 30))
    shown = round(true_kmh * 2050 / TRUE_MM)
    return {
        "set_circumference_mm": 2050,
        "true_kmh": true_kmh * (1 + float(truth.rng.normal(0, 0.005))),
        "shown_kmh": shown,
    }


@dataclass(frozen=True)
class Method:
    """How a method's entries come about from the truth, and the most that its ± may cover."""

    field: str
    entries: Callable[[Truth, int, float], dict[str, Any]]
    most: float = 0.985


METHODS = {
    "roll_out": Method("roll_out", _roll_out),
    "taped_diameter": Method("taped_diameter", _across, 0.999),
    "taped_circumference": Method("taped_circumference", _round, 0.999),
    "axle_height": Method("axle_height", _axle),
    "chart": Method("chart", _chart),
    "speed_derived": Method("speed_derived", _compared, 0.999),
    "entered": Method("entered", _elsewhere),
}


def _seeded(*what: object) -> Rng:
    return np.random.default_rng(zlib.crc32(repr(what).encode()))


def _covers(value: Value) -> bool:
    return abs(value.circumference_mm - TRUE_MM) <= value.expanded_pct / 100 * value.circumference_mm


def coverage_of_tape(field: str, kind: str, *, at: float | None = None, axle: bool = False, samples: int) -> float:
    """The share of wheels of a kind of vehicle whose circumference a tape covers, by construction or with the axle's
    height."""
    rng, inside = _seeded("tape", field, kind, at, axle), 0
    for _ in range(samples):
        truth = Truth.drawn(rng, kind, at)
        parts = {name: METHODS[name].entries(truth, 1, 1.0) for name in (field, *(["axle_height"] if axle else []))}
        wheel = Wheel.model_validate({"method": field, **parts})
        inside += _covers(all_values(wheel, kind, 1.0)[field])  # type: ignore[index]
    return inside / samples


def coverage_of_method(method: Method, *, readings: int, scatter: float, samples: int) -> float:
    """The share of experiments whose truth lies within ± of one method alone."""
    rng, inside = _seeded(method.field, readings, scatter), 0
    for _ in range(samples):
        entries = method.entries(Truth.drawn(rng), readings, scatter)
        wheel = Wheel.model_validate({"method": method.field, method.field: entries})
        inside += _covers(all_values(wheel, "bicycle", 1.0)[method.field])  # type: ignore[index]
    return inside / samples


def naive_coverage(rule: str, *, readings: int, scatter: float, samples: int) -> float:
    """The same for a roll-out with rules that are not used: k = 2, or one k from effective degrees of freedom."""
    rng, inside = _seeded("naive", rule, readings, scatter), 0
    level = 2 * stats.norm.cdf(2) - 1
    for _ in range(samples):
        entries = _roll_out(Truth.drawn(rng), readings, scatter)
        runs = np.array([entries["distance_mm"], *entries["repeats_mm"]])
        own = max(float(runs.std(ddof=1)), math.sqrt(2)) / math.sqrt(readings)
        u = math.hypot(2.0, own)
        k = 2.0 if rule == "k = 2" else stats.t.ppf((1 + level) / 2, u**4 / (own**4 / (readings - 1)))
        inside += abs(float(runs.mean()) - 3 * TRUE_MM) <= k * u
    return inside / samples


@dataclass(frozen=True)
class Combination:
    """Methods measured on one wheel, of which one may be off, and what the ± of their mean is to cover."""

    fields: tuple[str, ...]
    outlier: str = ""
    off: float = 1.0
    least: float = 0.93
    most: float = 0.985


COMBINATIONS = {
    "roll-out and tape across": Combination(("roll_out", "taped_diameter")),
    "tape across and tape round (one deflection)": Combination(("taped_diameter", "taped_circumference"), most=0.999),
    "one chart row, typed and chosen": Combination(("chart", "copy")),
    "marking and axle height on its diameter": Combination(("marking", "axle_on_marking")),
    "marking, chart and axle height": Combination(("marking", "chart", "axle_on_marking")),
    "five methods": Combination(("roll_out", "taped_diameter", "chart", "marking", "entered")),
    "four methods, the chart 3 % off": Combination(("roll_out", "taped_diameter", "chart", "entered"), "chart", 1.03),
    "four methods, the roll-out 3 % off": Combination(
        ("roll_out", "taped_diameter", "chart", "entered"), "roll_out", 0.97
    ),
    "two methods, one 3 % off": Combination(("roll_out", "entered"), "roll_out", 1.03, most=1.0),
}

MARKING = {"text": "28-622", "factor": "pi"}
_OFF = {"roll_out": "distance_mm", "chart": "circumference_mm"}


def _marking_value(truth: Truth, wheel: Wheel) -> tuple[float, Value]:
    """The true circumference of a wheel with this marking: make, diameter and factor off as the core allows."""
    value = all_values(wheel, "bicycle", 1.0)["marking"]
    factor = truth.rng.normal(0, math.sqrt(1.5**2 - (1.5 / math.sqrt(3)) ** 2))
    return value.circumference_mm / (1 + (truth.make + truth.diameter + factor) / 100), value


def coverage_of_combination(combination: Combination, *, samples: int) -> float:
    """The share of experiments whose truth lies within ± of the mean of several methods."""
    rng, inside = _seeded(combination.fields, combination.outlier), 0
    for _ in range(samples):
        truth = Truth.drawn(rng)
        entries: dict[str, Any] = {}
        for name in combination.fields:
            if name == "copy":
                entries["entered"] = {
                    "circumference_mm": round(entries["chart"]["circumference_mm"], 1), "source": "chart"
                }  # fmt: skip
                continue
            if name in METHODS:
                entries[name] = METHODS[name].entries(truth, 1, 1.0)
            if name == combination.outlier:
                entries[name][_OFF[name]] *= combination.off
        inside += _mean_covers(truth, entries, combination.fields)
    return inside / samples


def _mean_covers(truth: Truth, entries: dict[str, Any], fields: tuple[str, ...]) -> bool:
    values, true_mm = [], TRUE_MM
    if "marking" in fields:
        true_mm, marking = _marking_value(truth, Wheel.model_validate({"method": "marking", "marking": MARKING}))
        values.append(marking)
    if "axle_on_marking" in fields:
        values.append(_axle_height_on(truth, true_mm))
    if entries:  # of a wheel of TRUE_MM: scaled to the one that the marking is of
        wheel = Wheel.model_validate({"method": next(iter(entries)), **entries})
        for value in all_values(wheel, "bicycle", 1.0).values():
            values.append(replace(value, circumference_mm=value.circumference_mm * true_mm / TRUE_MM))
    mean = least_squares_mean(
        tuple([value.circumference_mm for value in values]), tuple([value.budget for value in values])
    )
    return abs(mean.value - true_mm) <= mean.expanded


def _axle_height_on(truth: Truth, true_mm: float) -> Value:
    """The axle height of the true tyre, evaluated with the marking's diameter in place of its own.

    The marking says D_nominal; the tyre's own is D_nominal less make and diameter, and its effective radius follows.
    """
    nominal_mm = 622 + 2 * 28
    radius = nominal_mm / 2 / (1 + (truth.make + truth.diameter) / 100)
    effective = true_mm / (2 * math.pi)
    loaded = radius - (radius - effective) / truth.share + float(truth.rng.uniform(-2, 2))
    wheel = Wheel.model_construct(
        method="axle_height",
        marking=Wheel.model_validate({"method": "marking", "marking": MARKING}).marking,
        axle_height=_AxleHeight(loaded),
    )
    return from_axle_height(wheel)


class _AxleHeight:
    """An axle height outside what the document accepts: a drawn tyre's factor may put it above its own radius."""

    unloaded_diameter_mm = None
    reading_mm = 2.0

    def __init__(self, axle_height_mm: float) -> None:
        self.axle_height_mm = axle_height_mm
