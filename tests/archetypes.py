"""Installations of every kind, for what has to hold of them all: vehicle × target × sensor × reader × what is known."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any, NamedTuple

from speedchain import Installation, evaluate, read_installation
from speedchain.observing import SpeedComparison, SpeedPair, observe

VEHICLES: tuple[tuple[str, str, dict[str, Any]], ...] = (
    ("car", "true_speed", {"method": "marking", "marking": {"text": "205/55R16"}}),
    ("car", "slip_control", {"method": "roll_out", "roll_out": {"turns": 3, "distance_mm": 5790}}),
    ("car", "brake_control", {"method": "entered", "entered": {"circumference_mm": 1980}}),
    ("motorcycle", "true_speed", {"method": "marking", "marking": {"text": "120/70R17"}}),
    ("scooter", "true_speed", {"method": "taped_circumference", "taped_circumference": {"circumference_mm": 1400}}),
    ("atv", "true_speed", {"method": "taped_diameter", "taped_diameter": {"diameter_mm": 620}}),
    ("kart", "true_speed", {"method": "entered", "entered": {"circumference_mm": 820}}),
    ("bicycle", "cycle_display", {"method": "marking", "marking": {"text": "28-622"}}),
    ("e_bike", "cycle_display", {"method": "roll_out", "roll_out": {"turns": 3, "distance_mm": 6510}}),
    ("cargo_trike", "cycle_display", {"method": "marking", "marking": {"text": "47-406"}}),
    ("land_yacht", "true_speed", {"method": "marking", "marking": {"text": "20x2.25"}}),
    ("boat", "water_speed", {"method": "paddle", "paddle": {"pulses_per_nautical_mile": 20000}}),
)
TARGETS: tuple[dict[str, Any], ...] = (
    {"kind": "magnets", "count": 1, "basis": "counted"},
    {"kind": "magnets", "count": 4, "magnets": {"radius_mm": 90}},
    {"kind": "toothed_ring", "count": 48, "ring": {"diameter_mm": 98}},
    {"kind": "toothed_ring", "count": 36, "ring": {"diameter_mm": 90, "material": "aluminium"}},
    {"kind": "toothed_ring", "count": 24, "edges": 2, "basis": "counted"},
    {"kind": "paddle_magnets", "count": 2},
)
SENSORS: tuple[dict[str, Any], ...] = (
    {"kind": "reed"},
    {"kind": "hall_gear_tooth"},
    {"kind": "variable_reluctance"},
    {"kind": "magnetoresistive"},
)
READERS: tuple[dict[str, Any], ...] = (
    {"encoding": "pulses_per_km"},
    {"encoding": "circumference_mm"},
    {"encoding": "circumference_mm", "entry": "learned"},
    {"encoding": "pulses_per_km", "entry": "fixed", "current_setting": 9000, "input": {}},
    {"encoding": "pulses_per_km", "entry": "counts"},
    {"encoding": "frequency_table", "table": [{"speed_kmh": 20}, {"speed_kmh": 120}]},
    {"encoding": "pulses_per_km", "scale_end_kmh": 80},
    {"encoding": "teeth_and_diameter", "set_pulses_per_turn": 48},
)
KNOWN = ("assumed", "read_back", "observed")


class Archetype(NamedTuple):
    """One of them, by name."""

    name: str
    installation: Installation


def archetypes() -> Iterator[Archetype]:
    """Every vehicle with every reader, targets and sensors in turn, what is known in turn; one that is refused is a
    mistake here."""
    number = 0
    for vehicle, purpose, wheel in VEHICLES:
        for reader in READERS:
            for again in range(2):
                target = TARGETS[-1] if vehicle == "boat" else TARGETS[number % (len(TARGETS) - 1)]
                sensor = SENSORS[(number // 2 + again) % len(SENSORS)]
                if vehicle == "boat":
                    sensor = {"kind": "paddlewheel"}
                known = KNOWN[(number + again) % len(KNOWN)]
                number += 1
                name = f"{vehicle} {purpose}, {target['kind']} {target['count']}, {sensor['kind']}, {reader}, {known}"
                document = {
                    "name": name[:80], "vehicle_kind": vehicle, "purpose": purpose, "wheel": wheel, "target": target,
                    "sensor": sensor, "readouts": [{"name": "Dash"} | reader], "placement": {"air_gap_mm": 0.9},
                    "check_speed_kmh": 18 if vehicle == "boat" else 30 if "cycle" in purpose else 100,
                }  # fmt: skip
                yield Archetype(name, _knowing(read_installation(document), known))


def _knowing(made: Installation, known: str) -> Installation:
    readout = made.readouts[0]
    if known == "assumed" or readout.entry != "typed" or readout.table:
        return made
    document = made.model_dump(mode="json")
    document["readouts"][0]["current_setting"] = evaluate(made).readouts[0].to_type.value
    made = read_installation(document)
    if known == "read_back":
        return made
    pair = SpeedPair(true_kmh=made.check_speed_kmh, shown_kmh=1.02 * made.check_speed_kmh)
    seen = SpeedComparison(kind="drive", on="2026-05-02", pairs=(pair,), expanded_pct=0.3)
    return observe(made, evaluate(made), seen)
