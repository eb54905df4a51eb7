"""Installations as people have them, one of each kind, and every text that each of them meets."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from speedchain import Installation, evaluate, read_installation
from speedchain.advice import cautions_of, guides_of
from speedchain.bench.hand_tests import magnet_test, spin_test
from speedchain.faults import CAUSES, TESTS, Seen, choices_for, table_for, view_fault
from speedchain.fitted import fitted, worded, words_for
from speedchain.jobs import draw_up, offered
from speedchain.wiring import wiring_sheet

RING_48 = {"kind": "toothed_ring", "count": 48, "ring": {"diameter_mm": 98}, "basis": "counted"}
ONE_MAGNET = {"kind": "magnets", "count": 1, "magnets": {"radius_mm": 120, "mounted": "spokes"}, "basis": "counted"}
ROLLED = {"method": "roll_out", "roll_out": {"turns": 3, "distance_mm": 6510}}
CAR_TYRE = {"method": "marking", "marking": {"text": "205/55R16"}}
CYCLE_TYRE = {"method": "marking", "marking": {"text": "28-622"}}


def _of(kind: str, purpose: str, **parts: Any) -> dict[str, Any]:
    return {
        "vehicle_kind": kind,
        "purpose": purpose,
        "readouts": [{"name": "Display", "encoding": "pulses_per_km"}],
    } | parts


KINDS: Mapping[str, dict[str, Any]] = {
    "wired bicycle computer": _of("bicycle", "cycle_display", wheel=CYCLE_TYRE, target=ONE_MAGNET,
        sensor={"kind": "reed"},
        readouts=[{"name": "Display", "encoding": "circumference_mm"}]),
    "hub sensor without target": _of("bicycle", "cycle_display", wheel=CYCLE_TYRE,
        target={"kind": "magnets", "count": 1}, sensor={"kind": "inertial"},
        readouts=[{"name": "Display", "encoding": "circumference_mm"}]),
    "e-bike": _of("e_bike", "cycle_display", wheel=ROLLED,
        target=ONE_MAGNET | {"magnets": {"radius_mm": 75, "mounted": "rotor"}}, sensor={"kind": "reed"},
        readouts=[{"name": "Display", "encoding": "circumference_mm"}]),
    "cargo bike": _of("cargo_trike", "cycle_display", wheel={"method": "marking", "marking": {"text": "47-406"}},
        target=ONE_MAGNET, sensor={"kind": "reed"},
        readouts=[{"name": "Display", "encoding": "circumference_mm"}]),
    "motorcycle, magnet on a rotor bolt": _of("motorcycle", "true_speed",
        wheel={"method": "marking", "marking": {"text": "120/70R17"}},
        target={"kind": "magnets", "count": 1, "magnets": {"radius_mm": 60, "mounted": "rotor"}, "basis": "counted"},
        sensor={"kind": "reed"}),
    "dirt bike": _of("motorcycle", "true_speed", wheel={"method": "marking", "marking": {"text": "80/100-21"}},
        target=ONE_MAGNET, sensor={"kind": "reed"}),
    "quad": _of("atv", "true_speed", wheel={"method": "taped_diameter", "taped_diameter": {"diameter_mm": 620}},
        target={"kind": "bolt_heads", "count": 4, "basis": "counted"}, sensor={"kind": "hall_gear_tooth"}),
    "scooter, slotted disc": _of("scooter", "true_speed",
        wheel={"method": "taped_circumference", "taped_circumference": {"circumference_mm": 1400}},
        target={"kind": "slotted_disc", "count": 20, "ring": {"diameter_mm": 80}, "basis": "counted"},
        sensor={"kind": "optical"}),
    "sidecar outfit": _of("sidecar", "true_speed", wheel={"method": "marking", "marking": {"text": "120/90-18"}},
        target=RING_48, sensor={"kind": "hall_gear_tooth"}),
    "kart": _of("kart", "true_speed", wheel={"method": "entered", "entered": {"circumference_mm": 820}},
        target={"kind": "magnets", "count": 2, "magnets": {"radius_mm": 40}, "basis": "counted"},
        sensor={"kind": "hall_switch"}),
    "car wheel hub": _of("car", "true_speed", wheel=CAR_TYRE, target=RING_48, sensor={"kind": "hall_gear_tooth"}),
    "car gearbox output": _of("car", "gearbox_or_gauge", wheel=CAR_TYRE,
        target={"kind": "toothed_ring", "count": 17, "basis": "counted"}, sensor={"kind": "variable_reluctance"},
        drive={"kind": "axle_ratio", "axle_ratio": {"ratio": 3.73, "basis": "counted"}}),
    "drag car, ring on the shaft": _of("car", "slip_control", wheel=CAR_TYRE,
        target={"kind": "shaft_reluctor", "count": 8, "basis": "counted"}, sensor={"kind": "hall_gear_tooth"},
        drive={"kind": "axle_ratio", "axle_ratio": {"ratio": 4.1, "basis": "counted"}}),
    "truck, 54 teeth": _of("car", "true_speed", wheel={"method": "marking", "marking": {"text": "275/70R22.5"}},
        target=RING_48 | {"count": 54}, sensor={"kind": "variable_reluctance"}),
    "brake-control swap": _of("car", "brake_control", wheel=CAR_TYRE, target=RING_48,
        sensor={"kind": "variable_reluctance"},
        readouts=[{"name": "Brake control", "encoding": "pulses_per_km", "entry": "counts"}]),
    "tail shaft, cable gauge": _of("car", "gearbox_or_gauge", wheel=CAR_TYRE,
        target={"kind": "magnets", "count": 4, "magnets": {"radius_mm": 20}, "basis": "counted"},
        sensor={"kind": "hall_switch"},
        drive={"kind": "axle_ratio", "axle_ratio": {"ratio": 3.9, "basis": "counted"}},
        signal={"converter": {"drives": "mechanical", "cable_turns_per_km": 621}}),
    "gauge from the car's own sensor": _of("car", "gearbox_or_gauge", wheel=CAR_TYRE, target=RING_48,
        sensor={"kind": "magnetoresistive"},
        signal={"converter": {"target_pulses_per_km": 4000}}),
    "rail bogie, two channels": _of("other", "direction",
        wheel={"method": "entered", "entered": {"circumference_mm": 2890}}, target=RING_48 | {"count": 80},
        sensor={"kind": "hall_differential"}, placement={"air_gap_mm": 1.0, "second_channel": {"spacing_mm": 6}}),
    "paddle in a sealed transducer": _of("boat", "water_speed",
        wheel={"method": "paddle", "paddle": {"pulses_per_nautical_mile": 20000}},
        target={"kind": "paddle_magnets", "count": 2}, sensor={"kind": "paddlewheel"},
        readouts=[{"name": "Log", "encoding": "pulses_per_nautical_mile"}]),
    "paddle with loose magnets": _of("boat", "water_speed",
        wheel={"method": "paddle", "paddle": {"pulses_per_nautical_mile": 12000}},
        target={"kind": "paddle_magnets", "count": 4}, sensor={"kind": "reed"},
        readouts=[{"name": "Log", "encoding": "pulses_per_nautical_mile"}]),
    "crank ring": _of("other", "true_speed", wheel={"method": "entered", "entered": {"circumference_mm": 1000}},
        target={"kind": "toothed_ring", "count": 35, "ring": {"diameter_mm": 160, "missing_teeth": 1},
            "basis": "counted"}, sensor={"kind": "variable_reluctance"}),
    "conveyor roller": _of("other", "true_speed", wheel={"method": "entered", "entered": {"circumference_mm": 314}},
        target={"kind": "magnets", "count": 2, "magnets": {"radius_mm": 40}, "basis": "counted"},
        sensor={"kind": "hall_switch"}),
    "small rigid wheel": _of("other", "true_speed", wheel={"method": "taped_diameter",
        "taped_diameter": {"diameter_mm": 200}, "construction": "solid"},
        target={"kind": "magnets", "count": 1, "magnets": {"radius_mm": 60}, "basis": "counted"},
        sensor={"kind": "reed"}),
    "land yacht": _of("land_yacht", "true_speed", wheel={"method": "marking", "marking": {"text": "20x2.25"}},
        target=ONE_MAGNET, sensor={"kind": "reed"}),
}  # fmt: skip
"""Common practice. What is not entered is at its default."""


def of_kind(name: str) -> Installation:
    """One of them."""
    return read_installation({"name": name} | KINDS[name])


def texts(installation: Installation) -> dict[str, list[str]]:
    """All that it is told, by where: sheets, guides, tests by hand, causes, symptoms, cautions, findings, wiring and
    order."""
    evaluation = evaluate(installation)
    facts, words = fitted(installation), words_for(installation)
    table = table_for(facts)
    tests = {test.code: test for test in TESTS}
    causes = {cause.code: cause for cause in CAUSES}
    sheets = {
        f"sheet {offer.template}": [
            " ".join([part for part in (str(step.text), str(step.caution), str(step.stop)) if part])
            for step in draw_up(installation, evaluation, offer.template).steps
        ]
        for offer in offered(installation, evaluation)
    }
    fault = view_fault(installation, evaluation, Seen(symptoms=("nothing",), answers=()))
    return sheets | {
        "tests": [f"{test.title}: {' '.join([*test.steps, str(test.caution)])}".strip() for test in fault.tests],
        "all tests": [
            f"{tests[code].title}: {worded(' '.join(tests[code].steps), words)}"
            for code in table.chances
            if code in tests
        ],
        "causes": [f"{causes[code].text} {causes[code].fix}" for code in table.causes if code in causes],
        "symptoms": [item.label for item in choices_for(installation, evaluation).symptoms],
        "cautions": [item.text for item in cautions_of(fitted(installation))],
        "findings": [f"{item.severity}: {item.message} {item.remedy}" for item in evaluation.findings],
        "next": [evaluation.next_action.action],
        "hand": [*spin_test(installation, evaluation).steps, *magnet_test(installation, evaluation).steps],
        "guides": [f"{guide.title}. {guide.needs} {' '.join(guide.steps)}" for guide in guides_of(installation)],
        "order": [f"{row.asked}: {row.answer}" for row in wiring_sheet(installation, evaluation).order],
    }
