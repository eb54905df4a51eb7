"""Every quantity of the installation document against every kind of bad input."""

from __future__ import annotations

from typing import Any
from unittest import TestCase

from speedchain import Installation, read_installation
from speedchain.fields.errors import DocumentError
from speedchain.fields.quantities import QuantityKind
from tests.installations import CAR, document

RICH = document(
    CAR,
    check_speed_kmh=100,
    check_speeds_kmh=[50],
    wheel={
        "method": "marking",
        "marking": {"text": "205/55R16", "relative_uncertainty_pct": 1},
        "chart": {"label": "700x28C", "circumference_mm": 1980, "relative_uncertainty_pct": 1},
        "taped_diameter": {"diameter_mm": 630, "repeats_mm": [631], "reading_mm": 2},
        "axle_height": {"axle_height_mm": 305, "unloaded_diameter_mm": 630, "reading_mm": 2},
        "taped_circumference": {"circumference_mm": 1980, "repeats_mm": [1981], "reading_mm": 3},
        "roll_out": {"turns": 3, "distance_mm": 5880, "repeats_mm": [5881], "tape_mm": 2, "mark_mm": 1},
        "speed_derived": {
            "set_circumference_mm": 1980, "shown_kmh": 50, "true_kmh": 50, "shown_km": 1, "true_km": 1, "time_s": 72,
            "shown_step_kmh": 1, "shown_step_km": 0.1, "relative_uncertainty_pct": 1,
        },
        "entered": {"circumference_mm": 1980, "relative_uncertainty_pct": 1},
        "paddle": {"pulses_per_nautical_mile": 20000, "calibration_pct": 1, "relative_uncertainty_pct": 1},
        "measured": {"pressure_bar": 2.2, "tread_depth_mm": 7},
        "corrections": {
            "tread_now_mm": 6, "tread_new_mm": 8, "tread_limit_mm": 1.6, "growth_pct": 1, "growth_at_kmh": 100,
            "other_load": {"turns": 3, "distance_mm": 5860},
        },
    },
    drive={
        "kind": "hub",
        "axle_ratio": {"ratio": 3.73, "wheel_turns": 10, "shaft_turns": 37.3},
        "sprockets": {"wheel_teeth": 45, "shaft_teeth": 15},
        "transfer_box": {"axle_ratio": 4.1, "low_ratio": 2.5},
        "hub_motor": {"gear_ratio": 4.4},
        "cable": {
            "axle_ratio": 3.5, "drive_teeth": 8, "driven_teeth": 20, "min_driven_teeth": 15,
            "max_driven_teeth": 25, "wanted_turns": 1000,
        },
    },
    target={
        "kind": "toothed_ring", "count": 48,
        "ring": {
            "diameter_mm": 98, "module_mm": 2, "tooth_width_mm": 2.9, "tooth_depth_mm": 4, "face_width_mm": 8,
            "runout_mm": 0.1, "missing_teeth": 0,
        },
        "magnets": {
            "diameter_mm": 8, "width_mm": 6, "length_mm": 6, "remanence_mt": 380, "radius_mm": 90, "runout_mm": 0.5,
        },
        "spokes": {
            "holes": 36, "crosses": 3, "flange_diameter_mm": 45, "flange_offset_mm": 34, "flange_thickness_mm": 3,
            "rim_diameter_mm": 600, "chosen": [1],
        },
        "cut": {
            "thickness_mm": 3, "bore_mm": 30, "bolts": 6, "bolt_circle_mm": 44, "bolt_hole_mm": 5.2, "kerf_mm": 0.2,
        },
    },
    sensor={
        "kind": "hall_gear_tooth",
        "facts": {
            "body_diameter_mm": 12, "element_length_mm": 3, "element_width_mm": 0.5, "element_offset_mm": 1,
            "element_angle_tolerance_deg": 10,
            "element_spacing_mm": 2.5, "depth_mm": 1, "supply_min_v": 4.5, "supply_max_v": 24,
            "output": "open_collector",
            "max_frequency_hz": 15000, "rated_air_gap_mm": 1.5, "rated_pitch_mm": 6, "operate_point_mt": 12,
            "release_point_mt": 8,
            "temperature_min_c": -40, "temperature_max_c": 125,
        },
        "element_mark": {"feature": "arrow", "along_mm": 0, "across_mm": 1},
        "resistance_ohm": 1100,
        "maker_gap": {"lowest_mm": 0.2, "highest_mm": 1.5, "by_module": [{"module_mm": 2, "highest_mm": 1.2}]},
        "needs": {"min_speed_kmh": 5, "max_speed_kmh": 200, "supply_v": 12, "ambient_max_c": 90},
    },
    placement={
        "air_gap_mm": 1, "lateral_offset_mm": 0.5, "clocking_angle_deg": 90, "tilt_deg": 2, "fitting_tolerance_mm": 0.5,
        "bearing_play_mm": 0.05,
        "temperature_rise_k": 60, "second_channel": {"spacing_mm": 8}, "original_reach_mm": 27, "reach_mm": 28,
        "bracket": {
            "bolt_spacing_mm": 25, "bolt_hole_mm": 6.5, "reach_mm": 60, "slot_travel_mm": 6, "sensor_hole_mm": 12.2,
            "thickness_mm": 3, "bend_mm": 20, "kerf_mm": 0.1,
        },
    },
    signal={
        "vr": {"measured_vpp": 2, "at_hz": 100, "air_gap_mm": 1},
        "measured": {"low_v": 0.5, "high_v": 4},
        "lead": {
            "length_m": 3, "pf_per_m": 100, "pull_up_ohm": 4700, "pull_up_v": 5, "load_ohm": 100, "low_ma": 7,
            "high_ma": 14, "fuse_a": 3,
        },
        "conditioner": {
            "kind": "comparator", "supply_v": 5, "noise_v": 0.05, "input_resistor_ohm": 10000, "arming_v": 0.3,
            "max_input_vpp": 50,
            "max_frequency_hz": 10000, "output_v": 5,
        },
        "converter": {
            "target_pulses_per_km": 16000, "cable_turns_per_km": 621, "motor_pulses": 200, "max_numerator": 9999,
            "max_denominator": 9999, "setting": [{"numerator": 2, "denominator": 3}], "cap_kmh": 200, "averaged": 2,
            "max_input_hz": 10000, "max_output_hz": 5000,
        },
        "analogue": {"pwm_hz": 1000, "supply_v": 5, "full_scale_kmh": 200, "r_ohm": 10000, "c_nf": 1000,
            "load_ohm": 100000},
    },
    turn_counts=[{"on": "2026-05-02", "wheel_turns": 10, "pulses": 480, "state": {"ratio": 1, "tread_depth_mm": 6}}],
    observations=[
        {
            "kind": "read", "on": "2026-05-02", "pulses_per_km": 24900, "expanded_pct": 1, "at_kmh": 50,
            "shown_kmh": 50,
            "state": {"ratio": 1, "tread_depth_mm": 6},
        },
    ],
    test_records=[{"test": "spin", "on": "2026-05-02", "outcome": "agreed", "expected_kmh": 6.9, "shown_kmh": 7}],
    readouts=[
        {
            "name": "Dash", "encoding": "pulses_per_km", "set_pulses_per_turn": 1, "set_gear_ratio": 1,
            "least_pulses_per_turn": 40, "most_pulses_per_turn": 50,
            "base_pulses_per_km": 500, "current_setting": 24000, "minimum": 1, "maximum": 99999, "display_step_kmh": 1,
            "custom": {"label": "Own", "scale": 1, "minimum": 1, "maximum": 9, "step": 1},
            "table": [{"speed_kmh": 50, "set_frequency_hz": 300}],
            "codes": [{"code": "1", "circumference_mm": 2000}],
            "learning_ride": {"hold_kmh": 40, "within_kmh": 4, "hold_s": 10, "key_off_s": 60},
            "timing": {"gate_s": 0.5, "timer_tick_us": 4, "pulses_averaged": 1, "time_out_s": 2, "minimum_kmh": 2},
            "input": {
                "max_low_v": 0.8, "min_high_v": 2, "max_input_v": 15, "supply_v": 5, "pull_up_ohm": 2200,
                "max_frequency_hz": 9000,
                "min_pulse_us": 20, "dead_time_ms": 0.1,
            },
            "scale_end_kmh": 220,
            "card": [{"speed_kmh": 50, "read_kmh": 51}, {"speed_kmh": 100, "read_kmh": 101}],
        }
    ],
)  # fmt: skip

BAD = [
    "",
    "   ",
    "abc",
    "12 bananas",
    "1e999",
    "-5e9",
    "1" * 1_000_000,
    "\u00a0",
    "10 kg",
    "1,234",
    "12 34",
]


def quantities(place: Any, path: str = "") -> list[str]:
    if isinstance(place, dict):
        return [
            found for name, inner in place.items() for found in quantities(inner, f"{path}__{name}" if path else name)
        ]
    if isinstance(place, list):
        return [found for number, inner in enumerate(place) for found in quantities(inner, f"{path}__{number}")]
    return [path] if isinstance(place, int | float) and not isinstance(place, bool) else []


class EveryQuantity(TestCase):
    def test_the_document_holds_every_quantity_there_is(self) -> None:
        named = {
            path.rsplit("__", 2)[-1] if not path[-1].isdigit() else path.rsplit("__", 2)[-2]
            for path in quantities(RICH)
        }
        for part in _parts(Installation):
            for name, field in part.model_fields.items():
                if any(isinstance(mark, QuantityKind) for mark in field.metadata):
                    self.assertIn(name, named, part.__name__)

    def test_bad_input_is_refused_on_its_field_with_limit_and_remedy(self) -> None:
        read_installation(RICH)
        for path in quantities(RICH):
            for bad in BAD:
                if path.endswith("step"):
                    continue
                with self.subTest(f"{path} {bad[:12]!r}"), self.assertRaises(DocumentError) as caught:
                    read_installation(document(RICH, **{path: bad}))
                problem = caught.exception.problems[0]
                self.assertEqual(problem.path, path.replace("__", "."))
                self.assertTrue(problem.remedy)
                self.assertTrue(problem.limit)
                self.assertLess(len(problem.message), 250)

    def test_plain_numbers_dates_and_choices_say_what_belongs_there(self) -> None:
        for path, bad, word in [
            ("readouts__0__step", "fine", "A number is needed"),
            ("readouts__0__step", 0, "more than 0"),
            ("readouts__0__step", 5000, "at most 1000"),
            ("readouts__0__digits", "many", "A whole number is needed"),
            ("readouts__0__digits", 0, "at least 1"),
            ("readouts__0__digits", 10, "at most 9"),
            ("wheel__measured__on", "yesterday", "not a date"),
            ("wheel__measured__on", "2026-02-30", "not a date"),
            ("speedometer_rule", "ours", "not one of the choices"),
            ("sensed_at", "middle left", "not one of the choices"),
            ("wheel__speed_derived__basis", "guess", "not one of the choices"),
            ("drive__axle_ratio__one_wheel_held", "perhaps", "Yes or no"),
        ]:
            with self.subTest(f"{path} {bad}"), self.assertRaises(DocumentError) as caught:
                read_installation(document(RICH, **{path: bad}))
            problem = caught.exception.problems[0]
            self.assertEqual(problem.path, path.replace("__", "."))
            self.assertIn(word, problem.message)
            self.assertTrue(problem.remedy)

    def test_pasted_spaces_and_commas_are_read(self) -> None:
        for text in ("1 980", "1\u00a0980", "1\u202f980,0", " 1980 mm ", "198 cm", "1,98 m"):
            installation = read_installation(document(RICH, wheel__entered__circumference_mm=text))
            assert installation.wheel.entered is not None
            self.assertEqual(installation.wheel.entered.circumference_mm, 1980)


def _parts(model: Any, seen: set[Any] | None = None) -> set[Any]:
    """The model and every part inside of it."""
    seen = set() if seen is None else seen
    if model in seen or not hasattr(model, "model_fields"):
        return seen
    seen.add(model)
    for field in model.model_fields.values():
        stack = [field.annotation]
        while stack:
            kind = stack.pop()
            stack += list(getattr(kind, "__args__", ()))
            if isinstance(kind, type):
                _parts(kind, seen)
    return seen
