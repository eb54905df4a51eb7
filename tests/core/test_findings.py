"""Every finding of the registry on either side of its limit, and texts that hold what they need."""

from __future__ import annotations

from pathlib import Path
from typing import Any
from unittest import TestCase

from speedchain import Installation, evaluate
from speedchain.stages.findings import Finding, FindingCode, as_markdown, finding
from speedchain.vehicle.sheet import SheetSettings, vehicle_sheet
from tests.core.test_arrival import COIL, CONVERTER, CURRENT, HALL, REED
from tests.core.test_placement import MAGNETS, RING
from tests.core.test_vehicle import wheel
from tests.installations import CAR, CYCLE, installation

Changes = dict[str, Any]
NEEDS = {"min_speed_kmh": 5, "max_speed_kmh": 200, "supply_v": 12, "ambient_max_c": 80}
NARROW = RING | {"ring": {"diameter_mm": 98, "face_width_mm": 3}}


BOAT = CYCLE | {
    "vehicle_kind": "boat",
    "purpose": "water_speed",
    "wheel": {"method": "paddle", "paddle": {"pulses_per_nautical_mile": 20_000}},
    "target": {"kind": "paddle_magnets", "count": 4},
    "sensor": {"kind": "paddlewheel"},
    "readouts": [{"name": "Log", "encoding": "pulses_per_nautical_mile"}],
}


def pulses_per_mile(number: int) -> Changes:
    return {"wheel": {"method": "paddle", "paddle": {"pulses_per_nautical_mile": number}}}


def needs(**entries: float) -> Changes:
    return {"sensor": {"kind": "paddlewheel", "needs": entries}}


def ring(**entries: Any) -> Changes:
    return {"target": RING | {"ring": {"diameter_mm": 98, **entries}}, "placement": {"air_gap_mm": 0.9}}


def gap(air_gap_mm: float, **entries: Any) -> Changes:
    return {"target": RING, "placement": {"air_gap_mm": air_gap_mm, **entries}}


def magnets(sensor: str, entries: Changes | None = None, **placement: Any) -> Changes:
    target = MAGNETS | {"magnets": {"radius_mm": 90, **(entries or {})}}
    return {"target": target, "sensor": {"kind": sensor}, "placement": {"air_gap_mm": 2, **placement}}


def rolled(*distances_mm: float) -> Changes:
    first, *others = distances_mm
    return {"wheel": {"method": "roll_out", "roll_out": {"turns": 3, "distance_mm": first, "repeats_mm": others}}}


def marked(rolled_mm: float) -> Changes:
    roll_out = {"turns": 3, "distance_mm": 3 * rolled_mm}
    return {"wheel": {"marking": {"text": "205/55R16"}, "method": "roll_out", "roll_out": roll_out}}


def learned(outcome: str) -> Changes:
    return {"readouts__0__entry": "learned", "readouts__0__learning_ride": {"outcome": outcome}}


def fixed(pulses_per_km: float) -> Changes:
    """± 2.9 % of the chain at 24 905 pulses per km: −6.0 % is off, −0.4 % is within."""
    return {"readouts__0__entry": "fixed", "readouts__0__current_setting": pulses_per_km}


def observed(per_km: float, **entries: Any) -> Changes:
    """± 2.9 % of the parts at 24 905 pulses per km, ± 1 % of what was read: apart by more than their root sum of
    squares."""
    return {
        "observations": [{"kind": "read", "on": "2026-05-02", "pulses_per_km": per_km, "expanded_pct": 1} | entries]
    }


def turned(pulses: int) -> Changes:
    """Ten turns of the wheel by hand; 48 teeth are entered."""
    return {"turn_counts": [{"on": "2026-05-02", "wheel_turns": 10, "pulses": pulses}]}


def counted_with(target: str) -> Changes:
    return {
        "target__verification": {"test": "second_count", "on": "2026-05-02", "value": 48, "state": {"target": target}}
    }


def circumference(mm: float) -> Changes:
    """A wheel of 382 mm is none of a car, one of 414 mm may be."""
    return {"wheel": {"method": "entered", "entered": {"circumference_mm": mm}}}


def setting(value: float, **changes: Any) -> Changes:
    return {"readouts__0__current_setting": value} | changes


def converter(**entries: Any) -> Changes:
    return {"signal": {"converter": CONVERTER | entries}}


def reader(**entries: Any) -> Changes:
    return {"readouts__0__input": entries}


def coil(measured_vpp: float, **conditioner: Any) -> Changes:
    point = {"measured_vpp": measured_vpp, "at_hz": 100}
    return {"signal": {"vr": point, "conditioner": {"kind": "vr_converter", **conditioner}}}


def lead(**entries: Any) -> Changes:
    return {"signal": {"lead": entries}}


def gauge(end_kmh: float) -> Changes:
    one = {"name": "Gauge", "encoding": "pulses_per_km", "scale_end_kmh": end_kmh, "past_end": "wraps"}
    return converter() | {"readouts": [one | {"current_setting": 16_000}]}


def record(test: str, outcome: str, *others: str) -> Changes:
    """Records of one test, the newest last."""
    return {"test_records": [{"test": test, "on": "2026-05-02", "outcome": one} for one in (outcome, *others)]}


Code = FindingCode


def permitted(air_gap_mm: float, **maker: float) -> Changes:
    """A gear-tooth sensor before the ring of 48, whose maker states a gap."""
    ring = {"kind": "toothed_ring", "count": 48, "ring": {"diameter_mm": 98}}
    return {"target": ring, "placement": {"air_gap_mm": air_gap_mm}, "sensor__maker_gap": maker}


EITHER_SIDE: dict[FindingCode, tuple[Changes, Changes, Changes]] = {
    Code.TREAD_ABOVE_NEW: (
        CAR, {"wheel__corrections": {"tread_now_mm": 8.1}}, {"wheel__corrections": {"tread_now_mm": 8.0}},
    ),  # new: 8 mm
    Code.PADDLE_RUN: (BOAT, pulses_per_mile(7390), pulses_per_mile(7420)),  # 1852 m · 4/n: 1 m at 7408
    Code.PADDLE_FAST: (BOAT, needs(max_speed_kmh=46), needs(max_speed_kmh=45)),
    Code.PAST_THE_END: (
        CAR, {"readouts__0__scale_end_kmh": 99, "check_speed_kmh": 100},
        {"readouts__0__scale_end_kmh": 101, "check_speed_kmh": 100},
    ),
    Code.BOLT_HEADS: (CAR, {"target__kind": "bolt_heads"}, {}),
    Code.DYNAMO: (CYCLE, {"sensor": {"kind": "variable_reluctance"}}, {
        "sensor": {"kind": "variable_reluctance"}, "signal__vr": {"measured_vpp": 6, "at_hz": 20},
    }),
    Code.OPTICAL_DIRT: (CAR, {"sensor": {"kind": "optical"}}, {"sensor": {"kind": "optical"}, "vehicle_kind": "other"}),
    Code.MAKER_GAP: (CAR, permitted(1.0, lowest_mm=0.5, highest_mm=0.9), permitted(0.9, lowest_mm=0.5, highest_mm=0.9)),
    Code.MAKER_DISAGREES: (CAR, permitted(2.5, lowest_mm=2.4, highest_mm=3.0),
        permitted(1.0, lowest_mm=0.2, highest_mm=3.0)),
    Code.MARKING: (CYCLE, {"wheel__marking__text": "28-620"}, {"wheel__marking__text": "28-622"}),
    # the marking's 1927.3 mm, and together ± 2.0 %: 1966.6 mm
    Code.METHODS_DISAGREE: (CAR, marked(1968), marked(1965)),
    # marks of 1 mm explain √2/3 = 0.47 mm a turn; three times that is what two runs 6 mm apart have: 6/3/√2
    Code.RUNS_SCATTER: (CAR, rolled(6000, 6006.1), rolled(6000, 6005.9)),
    Code.DRIVEN_WHEEL: (CAR, {"drive": {"driven": True}}, {"drive": {"driven": True}, "purpose": "slip_control"}),
    Code.ONE_WHEEL_ON_STAND: (
        CAR,
        {"drive": {"kind": "axle_ratio", "axle_ratio": {"ratio": 3.73}}},
        {"drive": {"kind": "sprockets", "sprockets": {"wheel_teeth": 45, "shaft_teeth": 15}}},
    ),
    Code.RANGE: (
        CAR,
        {"drive": {"kind": "transfer_box", "transfer_box": {"axle_ratio": 4.1, "low_ratio": 2, "sensed": "gearbox"}}},
        {"drive": {"kind": "transfer_box", "transfer_box": {"axle_ratio": 4.1, "low_ratio": 2, "sensed": "axle"}}},
    ),
    Code.FREEWHEEL: (
        CYCLE,
        {"drive": {"kind": "hub_motor", "hub_motor": {"gear_ratio": 5, "freewheel": True}}},
        {"drive": {"kind": "hub_motor", "hub_motor": {"gear_ratio": 5, "freewheel": False}}},
    ),
    Code.DRIVEN_GEAR: (
        CAR,
        {"drive": {"kind": "cable", "cable": {"axle_ratio": 3.5, "drive_teeth": 8, "driven_teeth": 22}}},
        {"drive": {"kind": "cable", "cable": {"axle_ratio": 3.5, "drive_teeth": 8, "driven_teeth": 23}}},
    ),
    Code.BRAKE_CONTROL_COUNT: (
        CAR,
        {"purpose": "brake_control", "target__count": 39},
        {"purpose": "brake_control", "target__count": 40},
    ),
    Code.NOT_FERROUS: (CAR, ring(material="aluminium"), ring(material="steel")),
    Code.MISSING_TOOTH: (CAR, ring(missing_teeth=1), ring(missing_teeth=0)),
    # 1 − exp(−2π·h/p) = 0.85 at h = 0.302 · 6.414 mm = 1.936 mm
    Code.SHALLOW: (CAR, ring(tooth_depth_mm=1.93), ring(tooth_depth_mm=1.95)),
    # half of the rated pitch of a gear-tooth Hall sensor
    Code.TOO_FINE: (CAR, ring(diameter_mm=40), ring(diameter_mm=60)),
    Code.UNEVEN: (
        CYCLE,
        magnets("hall_switch") | {"target": MAGNETS | {"magnets": {"radius_mm": 90},
            "spokes": {"holes": 28, "chosen": [1, 6, 11]}}},
        magnets("hall_switch") | {"target": MAGNETS | {"magnets": {"radius_mm": 90},
            "spokes": {"holes": 36, "chosen": [1, 7, 13]}}},
    ),
    Code.SPIN_FAILED: (CAR, record("spin", "differed"), record("spin", "differed", "agreed")),
    Code.MAGNET_FAILED: (CAR, record("magnet", "nothing"), record("magnet", "differed")),
    Code.SIGNED_RED: (CAR, record("sheet", "differed"), record("sheet", "differed", "agreed")),
    Code.BENCH_FAILED: (CAR, record("bench", "differed"), record("bench", "nothing", "agreed")),
    Code.BLIND: (CAR, {"sensor__kind": "reed"}, {"sensor__kind": "variable_reluctance"}),
    Code.SENSOR_TOO_FAST: (
        CAR,
        {"target__count": 600, "sensor__needs": NEEDS | {"max_speed_kmh": 300}},
        {"target__count": 60, "sensor__needs": NEEDS | {"max_speed_kmh": 300}},
    ),
    Code.SENSOR_SUPPLY: (CAR, {"sensor__needs": NEEDS | {"supply_v": 3}}, {"sensor__needs": NEEDS}),
    Code.TOO_HOT: (CAR, {"sensor__needs": NEEDS | {"ambient_max_c": 126}},
        {"sensor__needs": NEEDS | {"ambient_max_c": 125}}),
    # common practice: whips from 20 times as long as thick
    Code.BRACKET: (
        CAR,
        gap(0.9, bracket={"reach_mm": 61, "thickness_mm": 3}),
        gap(0.9, bracket={"reach_mm": 60, "thickness_mm": 3}),
    ),
    Code.POLE: (CYCLE, magnets("hall_switch", {"pole": "north"}), magnets("hall_switch", {"pole": "south"})),
    Code.POLE_UNKNOWN: (CYCLE, magnets("hall_switch", {"pole": "unknown"}), magnets("hall_switch", {"pole": "south"})),
    Code.DOUBLE: (
        CYCLE,
        magnets("reed", clocking_angle_deg=0, lateral_offset_mm=2),
        magnets("reed", clocking_angle_deg=90, lateral_offset_mm=7),
    ),
    Code.REED_END: (CYCLE, magnets("reed", lateral_offset_mm=0), magnets("reed", lateral_offset_mm=7)),
    Code.NO_WINDOW: (CAR, ring(runout_mm=2), ring(runout_mm=0.5)),
    Code.NO_WINDOW_OFF_TARGET: (
        CAR,
        {"target": NARROW, "placement": {"air_gap_mm": 0.6, "lateral_offset_mm": 4}},
        {"target": NARROW, "placement": {"air_gap_mm": 0.6, "lateral_offset_mm": 0}},
    ),
    Code.NO_WINDOW_MAGNET: (
        CYCLE,
        magnets("hall_switch", {"pole": "south"}, lateral_offset_mm=15),
        magnets("hall_switch", {"pole": "south"}, lateral_offset_mm=0),
    ),
    # 0.05 runout, 0.05 play, 11.7e-6 · 49 · 60 growth and 0.2 clearance: 0.334 mm
    Code.TOUCHES: (CAR, gap(0.33), gap(0.34)),
    Code.TOO_WEAK: (CAR, gap(1.8), gap(1.6)),
    Code.BARELY: (CAR, gap(1.6), gap(1.5)),
    Code.CHANNELS_TOGETHER: (CAR, gap(0.9, second_channel={"spacing_mm": 9.62}),
        gap(0.9, second_channel={"spacing_mm": 8.02})),
    # pitch 6.414 mm: a quarter is 90°, 30° is 0.534 mm
    Code.CHANNELS_CLOSE: (
        CAR,
        gap(0.9, second_channel={"spacing_mm": 6.414 * 1.25 + 0.55}),
        gap(0.9, second_channel={"spacing_mm": 6.414 * 1.25 + 0.52}),
    ),
    Code.CLOCKED_WRONG: (
        CAR,
        gap(0.5, clocking_angle_deg=46) | {"sensor__kind": "hall_differential"},
        gap(0.5, clocking_angle_deg=44) | {"sensor__kind": "hall_differential"},
    ),
    Code.RATIO: (
        HALL,
        converter(target_pulses_per_km=16, max_numerator=1, max_denominator=30),
        converter(target_pulses_per_km=16, max_numerator=1, max_denominator=60, stages=2),
    ),
    # the swing of 0.7 V must be four times the noise, and E24 must keep the thresholds half of the noise inside
    Code.COMPARATOR: (
        CURRENT,
        {"signal": {"lead": {"load_ohm": 100}, "conditioner": {"kind": "comparator", "noise_v": 0.18}}},
        {"signal": {"lead": {"load_ohm": 100}, "conditioner": {"kind": "comparator", "noise_v": 0.07}}},
    ),
    Code.NO_PULL_UP: (HALL, reader(), reader(pull_up_ohm=4700)),
    Code.NO_LOAD: (CURRENT, reader(), reader() | {"signal": {"lead": {"load_ohm": 200}}}),
    Code.MAYBE_TWO_WIRE: (
        HALL,
        {"signal": {"measured": {"low_v": 1.86, "high_v": 3.84}}},
        {"signal": {"measured": {"low_v": 1.0, "high_v": 3.84}}},
    ),
    # 12 V less the 6 V that the sensor needs, over 14 mA: 428.6 Ω
    Code.LOAD_TOO_LARGE: (CURRENT, lead(load_ohm=429), lead(load_ohm=428)),
    Code.SLOW_RISE: (
        HALL,
        lead(pull_up_ohm=47_000, length_m=10),
        lead(pull_up_ohm=2_200, length_m=10),
    ),
    Code.NO_FUSE: (HALL, lead(permanent_feed=True), lead(permanent_feed=True, fuse_a=0.5)),
    Code.IGNITION: (
        HALL,
        lead(near_ignition=True, twisted=True),
        lead(near_ignition=True, twisted=True, shield="one_end"),
    ),
    # what reads along with a brake unit has 100 kΩ and more, and no pull-up of its own
    Code.SHARED_LOADED: (HALL, {"signal": {"lead": {"shared": True},
        "conditioner": {"kind": "comparator", "input_resistor_ohm": 99_000}}}, {
        "signal": {"lead": {"shared": True}, "conditioner": {"kind": "comparator", "input_resistor_ohm": 100_000}},
    }),
    Code.SHIELD: (HALL, lead(shield="both_ends"), lead(shield="one_end")),
    Code.VR_SLOW: (COIL, coil(1, arming_v=0.3), coil(2, arming_v=0.3)),
    # 13.84 times the voltage at 100 Hz, and a finding from 80 % of what is taken
    Code.OVER_DRIVEN: (COIL, coil(2, max_input_vpp=34), coil(2, max_input_vpp=35)),
    # 300 Ω: 2.1 V low and 4.2 V high
    Code.LOW_LEVEL: (CURRENT, lead(load_ohm=300) | reader(max_low_v=2.0, min_high_v=3),
        lead(load_ohm=300) | reader(max_low_v=2.2, min_high_v=3)),
    Code.HIGH_LEVEL: (CURRENT, lead(load_ohm=300) | reader(max_low_v=2.2, min_high_v=4.3),
        lead(load_ohm=300) | reader(max_low_v=2.2, min_high_v=4.1)),
    Code.OVER_VOLTAGE: (
        HALL,
        lead(pull_up_ohm=2200, pull_up_v=12) | reader(max_input_v=11.9),
        lead(pull_up_ohm=2200, pull_up_v=12) | reader(max_input_v=12.1),
    ),
    # 48 teeth on 1927.3 mm at 200 km/h: 1383.6 Hz
    Code.TOO_FAST: (HALL, reader(pull_up_ohm=2200, max_frequency_hz=1383),
        reader(pull_up_ohm=2200, max_frequency_hz=1384)),
    # half of 1/1383.6 s is 361.4 µs
    Code.SHORT_PULSE: (HALL, reader(pull_up_ohm=2200, min_pulse_us=362), reader(pull_up_ohm=2200, min_pulse_us=361)),
    Code.BOUNCE: (REED, reader(pull_up_ohm=47_000, dead_time_ms=0.9), reader(pull_up_ohm=47_000, dead_time_ms=1)),
    # one pulse a millisecond: 126 magnets on 2.1 m at 60 km/h
    Code.BOUNCE_TOO_FAST: (
        REED,
        reader(pull_up_ohm=47_000) | {"target__count": 150},
        reader(pull_up_ohm=47_000) | {"target__count": 100},
    ),
    Code.RATIO_ERROR: (HALL, converter(max_numerator=2, max_denominator=2), converter()),
    Code.WRAPS: (HALL, gauge(199), gauge(200)),
    Code.UNUSUAL_SETTING: (
        CAR,
        circumference(10_001) | {"readouts__0__encoding": "mm_per_pulse", "target__count": 1},
        circumference(9_998) | {"readouts__0__encoding": "mm_per_pulse", "target__count": 1},
    ),
    Code.UNUSUAL_SETTING_PER_TURN: (CYCLE, circumference(10_001), circumference(9_998)),
    Code.OUT_OF_RANGE: (CAR, {"readouts__0__maximum": 24_905}, {"readouts__0__maximum": 24_906}),
    Code.OUT_OF_RANGE_PER_TURN: (CYCLE, {"readouts__0__maximum": 2000}, {"readouts__0__maximum": 2200}),
    Code.CHART_NEIGHBOUR: (CYCLE, setting(2105), setting(2136)),
    # 24905.4 pulses per km, U = 1.7 %
    Code.OBSERVED_OTHERWISE: (CAR, observed(26_400), observed(25_400)),
    # one tooth of 48 is 2.1 %: an assumed count holds as much, and not two
    Code.TURNS_OTHERWISE: (CAR, turned(440), turned(475)),
    Code.OBSERVED_BEFORE: (CAR, observed(24_900, voided_by="tyre"), observed(24_900)),
    Code.TEST_BEFORE: (CAR, counted_with("toothed ring 46 × 1"), counted_with("toothed ring 48 × 1")),
    Code.LEARN_AGAIN: (
        CAR,
        {"readouts__0__entry": "learned", "readouts__0__learning_ride": {"outcome": "learned", "voided_by": "tyre"}},
        learned("learned"),
    ),
    Code.UNDER_READS: (CAR, setting(25_700), setting(25_000)),
    Code.MAY_UNDER_READ: (CAR, setting(24_907), setting(24_905)),
    # UN R39 §5.4 at 100 km/h: 14 km/h (from memory)
    Code.FAR_OFF: (CYCLE, setting(round(2130 * 1.12)), setting(round(2130 * 1.08))),
    Code.ABOVE_RANGE: (CAR, setting(round(24_905.4 / 1.141)), setting(round(24_905.4 / 1.139))),
    Code.NOT_ENTERABLE: (CYCLE, setting(2130.5), setting(2131)),
    Code.TOO_SLOW: (
        CYCLE,
        {"check_speed_kmh": 3, "readouts__0__timing": {"time_out_s": 2}},
        {"check_speed_kmh": 5, "readouts__0__timing": {"time_out_s": 2}},
    ),
    # ± 0.5 %, common practice
    Code.FALSE_SLIP: (
        CAR,
        {"purpose": "slip_control"},
        {"purpose": "slip_control", "target__basis": "counted"} | rolled(6000),
    ),
    Code.BRAKE_AT_WHEEL: (
        CAR,
        {"purpose": "brake_control", "drive": {"kind": "axle_ratio", "axle_ratio": {"ratio": 3.73}}},
        {"purpose": "brake_control"},
    ),
    Code.SHAFT: (
        CAR,
        {"purpose": "gearbox_or_gauge"},
        {"purpose": "gearbox_or_gauge", "drive": {"kind": "axle_ratio", "axle_ratio": {"ratio": 3.73}}},
    ),
    Code.ASSIST: (CYCLE, {"vehicle_kind": "e_bike"}, {"vehicle_kind": "bicycle"}),
    Code.LIKE_A_DIAMETER: (CAR, circumference(1200), circumference(1300)),
    Code.NOT_LEARNED: (CAR, learned("refused"), learned("learned")),
    Code.COUNT_NOT_ACCEPTED: (
        CAR,
        {"readouts__0__entry": "counts", "target__count": 51},
        {"readouts__0__entry": "counts", "target__count": 50},
    ),
    Code.FIXED_OFF: (CAR, fixed(26_500), fixed(25_000)),
    Code.ASSIST_LIMIT: (CYCLE, {"vehicle_kind": "cargo_trike"}, {"vehicle_kind": "velomobile"}),
    Code.PADDLE: (
        CAR,
        {"purpose": "water_speed"},
        {"purpose": "water_speed", "target": {"kind": "paddle_magnets", "count": 4}, "sensor": {"kind": "paddlewheel"}},
    ),
    Code.TWO_CHANNELS: (
        CAR,
        gap(0.9) | {"purpose": "direction"},
        gap(0.9, second_channel={"spacing_mm": 8.02}) | {"purpose": "direction"},
    ),
}  # fmt: skip

NUMBER = {"name": "Logger", "encoding": "pulses_per_km", "current_setting": 24_000}
BRAKES = [
    wheel(place, place, 2000, purpose="brake_control")
    for place in ("front_left", "front_right", "rear_left", "rear_right")
]


def pair(rear_mm: float, **changes: Any) -> list[Installation]:
    rear = wheel("R", "rear", rear_mm, purpose="slip_control", drive={"driven": True}, readouts=[NUMBER])
    return [rear, wheel("F", "front", 2000, purpose="slip_control", readouts=[NUMBER])]


def factors(front: str, rear: str) -> list[Installation]:
    """Two axles by their size marking, each with its own factor."""
    return [
        wheel(name, name, 2000, wheel={"method": "marking", "marking": {"text": "205/55R16", "factor": factor}})
        for name, factor in (("front", front), ("rear", rear))
    ]


SHEETS: dict[FindingCode, tuple[list[Installation], list[Installation]]] = {
    Code.PARITY: ([*BRAKES[:3], wheel("x", "rear_right", 2000, purpose="brake_control", target__count=47)], BRAKES),
    Code.FOUR_WHEELS: (BRAKES[:3], BRAKES),
    Code.SLIP_NEEDS_TWO: (pair(2000)[1:], pair(2000)),
    Code.SHEET_FACTORS: (factors("auto", "pi"), factors("auto", "auto")),
    Code.SHEET_FALSE_SLIP: (pair(2000 / 1.05), pair(2000)),
}


class EitherSide(TestCase):
    def test_every_code_has_a_case(self) -> None:
        self.assertEqual(set(EITHER_SIDE) | set(SHEETS), set(FindingCode))

    def test_each_is_found_on_one_side_of_its_limit_and_not_on_the_other(self) -> None:
        for code, (base, beyond, within) in EITHER_SIDE.items():
            with self.subTest(code):
                found = {one.code: one for one in evaluate(installation(base, **beyond)).findings}
                self.assertIn(code, found)
                self.whole(found[code])
                self.assertNotIn(code, [one.code for one in evaluate(installation(base, **within)).findings])

    def test_a_load_too_large_is_named_and_not_its_consequences(self) -> None:
        """The comparator is not blamed for levels that the sensor cannot make; levels that were measured are
        believed."""
        signal = {"lead": {"load_ohm": 1000}, "conditioner": {"kind": "comparator"}}
        found = evaluate(installation(CURRENT, signal=signal))
        self.assertEqual([one.code for one in found.findings if one.stage == "signal"], [Code.LOAD_TOO_LARGE])
        self.assertEqual(found.next_action.code, Code.LOAD_TOO_LARGE)
        measured = evaluate(installation(CURRENT, signal=signal | {"measured": {"low_v": 0.7, "high_v": 1.4}}))
        self.assertEqual([one.code for one in measured.findings if one.stage == "signal"], [])

    def test_those_of_all_installations_of_a_vehicle(self) -> None:
        for code, sides in SHEETS.items():
            beyond, within = (
                {one.code: one for one in vehicle_sheet(tuple(enumerate(side)), SheetSettings()).findings}
                for side in sides
            )
            with self.subTest(code):
                self.whole(beyond[code])
                self.assertNotIn(code, within)

    def whole(self, found: Finding) -> None:
        """Its parameters are those of the registry, of the right type, and its texts have no gap."""
        expected = found.code.parameters
        self.assertEqual(set(found.parameters), set(expected))
        for name, value in found.parameters.items():
            self.assertIsInstance(value, (int, float) if expected[name] is float else str, name)
        self.assertIn(found.severity, found.code.severities)
        self.assertEqual(found.stage, found.code.stage)
        for text in (found.message, found.remedy):
            self.assertNotRegex(text, r"[{}]|None|nan|inf\b|  ")
            self.assertRegex(text, r"[.!]$")


class Registry(TestCase):
    def test_a_parameter_that_is_missing_is_an_error(self) -> None:
        with self.assertRaises(KeyError):
            finding(FindingCode.TOO_WEAK, weakest_pct=87)

    def test_the_page_of_findings_is_fresh(self) -> None:
        """docs/findings.md is `speedchain.stages.findings.as_markdown()`."""
        page = Path(__file__).resolve().parents[2] / "docs" / "findings.md"
        self.assertEqual(page.read_text(encoding="utf-8"), as_markdown())
