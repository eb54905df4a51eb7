"""Simulated coverage of ± that are made of more than one measurement (used by tests and by truth.py); seeded."""

from __future__ import annotations

import math
from collections.abc import Callable, Mapping
from datetime import date, timedelta

import numpy as np

from speedchain.bench.card import _fitted
from speedchain.runs import Drive, SpeedRecord, reciprocal, rows_of, slip_of
from speedchain.service.due import Reading, reached_on
from speedchain.uncertainty import UncertaintyInput, expanded_pct

START = date(2026, 5, 1)


def forecast(samples: int) -> float:
    """Daily use drawn anew each day (gamma), the odometer read 3 to 12 times in four months: the day of a limit."""
    random = np.random.default_rng(11)
    held = tried = 0
    for _ in range(samples):
        use = random.gamma(float(random.uniform(0.3, 3)), 20, 1500)
        way = np.concatenate([[0], np.cumsum(use)])
        read = np.sort(random.choice(np.arange(1, 121), int(random.integers(3, 13)), replace=False))
        readings = [Reading(START + timedelta(days=int(day)), float(way[day])) for day in read]
        limit = float(way[read[-1]] + random.uniform(20, 80) * use.mean())
        found = reached_on(readings, limit)
        if found is not None:
            tried += 1
            held += abs((found.on - START).days - int(np.searchsorted(way, limit))) <= found.within_days
    return held / tried


def bending_current(samples: int) -> float:
    """Three runs of ten minutes in a current that changes at one rate until the middle and at another after it: the two
    rates are 2 km/h an hour apart, one standard deviation."""
    random = np.random.default_rng(8)
    held = 0
    for seed in range(samples):
        error, first = float(random.uniform(-8, 8)), float(random.normal(0, 4))
        second = first + float(random.normal(0, 2))
        rows = rows_of(
            Drive(
                seed=seed, shown_per_true=1 + error / 100, current_kmh=0.0, speeds_kmh=(10.0, 10.0, 10.0), hold_s=600,
                change_s=20, shown_step_kmh=0,
            )
        )  # fmt: skip
        hours = rows.time_s / 3600
        half = float(hours[-1]) / 2
        current = np.where(hours < half, first * hours, first * half + second * (hours - half))
        ahead = np.where(np.cos(np.radians(rows.course_deg - rows.course_deg[0])) > 0, 1.0, -1.0)
        true = SpeedRecord(rows.time_s, rows.true_kmh + ahead * current)
        found = reciprocal(true, SpeedRecord(rows.time_s, rows.shown_kmh), rows.course_deg, least_kmh=3)
        assert found is not None
        assert len(found.runs) == 3
        held += abs(found.error_pct - error) <= found.expanded_pct
    return held / samples


def false_slip(samples: int) -> float:
    """A driven wheel that slips 0.1 points, one standard deviation, at cruise: air drag and bends."""
    held, random = 0, np.random.default_rng(6)
    for seed in range(samples):
        false, driving = (seed % 9 - 4) / 2, float(random.normal(0, 0.1))
        rows = rows_of(
            Drive(
                driven=True, speeds_kmh=(50.0, 90.0, 60.0, 110.0), hold_s=30, change_s=10, seed=seed,
                false_slip_pct=false + driving, shown_step_kmh=0,
            )
        )  # fmt: skip
        found = slip_of(SpeedRecord(rows.time_s, rows.true_kmh), SpeedRecord(rows.time_s, rows.driven_kmh))
        assert found is not None
        held += abs(found.false_pct - false) <= found.false_expanded_pct
    return held / samples


def assumed_tooth(count: int, u_pct: float, samples: int) -> float:
    """A ring of so many teeth, one more or one less with 1/12 each, beside a wheel known to u."""
    random = np.random.default_rng(23)
    tooth = random.choice([-1, 0, 1], samples, p=[1 / 12, 10 / 12, 1 / 12]) * 100 / count
    part = UncertaintyInput(source="target", u_pct=100 / count / math.sqrt(6), coverage_factor=math.sqrt(6), whole=True)
    within = expanded_pct((UncertaintyInput(source="wheel", u_pct=u_pct), part))
    return float(np.mean(np.abs(tooth + random.normal(0, u_pct, samples)) <= within))


def counted_in_a_gate(samples: int) -> float:
    """3 magnets on 2 m, 1 s gate, at any speed from 30 to 90 km/h: whole pulses, of which the gate holds one more or
    less."""
    random = np.random.default_rng(4)
    per_s = random.uniform(30, 90, samples) / 3.6 / 2 * 3
    counted = np.floor(per_s + random.uniform(0, 1, samples))
    u_kmh = 2.4 / math.sqrt(6)  # one pulse is 2.4 km/h; triangular, as tests/core/test_links.py has it of the core
    return float(np.mean(np.abs(counted - per_s) * 2.4 <= 2 * u_kmh))


def card(readings: int, samples: int) -> float:
    """A display that shows 1.03 times the frequency's speed, read to whole km/h, its needle with a scatter of 0.1 to 10
    km/h, any order of size alike: its scale."""
    random = np.random.default_rng(readings)
    held = tried = 0
    for _ in range(samples):
        speeds = np.linspace(30.0, 130.0, readings)
        scatter = float(np.exp(random.uniform(np.log(0.1), np.log(10))))
        read = np.round(1.03 * speeds + random.uniform(0.5, 1.5) + random.normal(0, scatter, readings))
        line, _ = _fitted(speeds, read, 1.0)
        if line is not None and line.scale_expanded is not None:
            tried += 1
            held += abs(line.scale - 1.03) <= line.scale_expanded
    return held / tried if tried else math.nan


BOUNDS: Mapping[str, Callable[[int], float]] = {
    "a forecast from an odometer": forecast,
    "three runs in a current that bends": lambda samples: bending_current(max(samples // 10, 100)),
    "false slip at cruise": lambda samples: false_slip(max(samples // 10, 100)),
    "an assumed ring of 48, wheel ± 1 %": lambda samples: assumed_tooth(48, 0.5, 20 * samples),
    "an assumed ring of 48, wheel ± 2 %": lambda samples: assumed_tooth(48, 1.0, 20 * samples),
    "an assumed ring of 12, wheel ± 0.1 %": lambda samples: assumed_tooth(12, 0.05, 20 * samples),
    "a gate of 1 s, 3 magnets": lambda samples: counted_in_a_gate(20 * samples),
    "a test card of 3 readings": lambda samples: card(3, samples),
    "a test card of 4 readings": lambda samples: card(4, samples),
    "a test card of 5 readings": lambda samples: card(5, samples),
}
"""What each covers of so many samples; two readings of a card show no scatter and get no ±."""
