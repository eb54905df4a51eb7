"""Documents of earlier versions, brought to the present one: the same meaning under the present names."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

FORMAT = "wheelometron-installation"
VERSION = 2
FIRST_FORMAT = "wheelometron-fit"
"""Documents of version 1 said so; later ones have the present format."""

RENAMED: Mapping[str, str] = {
    "band": "speedometer_rule",
    "trials": "test_records",
    "wheel.typed": "entered",
    "drive.cable.least_driven_teeth": "min_driven_teeth",
    "drive.cable.most_driven_teeth": "max_driven_teeth",
    "sensor.facts.body_mm": "body_diameter_mm",
    "sensor.facts.strip_length_mm": "element_length_mm",
    "sensor.facts.strip_width_mm": "element_width_mm",
    "sensor.facts.strip_offset_mm": "element_offset_mm",
    "sensor.facts.crook_deg": "element_angle_tolerance_deg",
    "sensor.facts.pair_mm": "element_spacing_mm",
    "sensor.facts.supply_low_v": "supply_min_v",
    "sensor.facts.supply_high_v": "supply_max_v",
    "sensor.facts.most_hz": "max_frequency_hz",
    "sensor.facts.rated_gap_mm": "rated_air_gap_mm",
    "sensor.facts.operate_mt": "operate_point_mt",
    "sensor.facts.release_mt": "release_point_mt",
    "sensor.facts.coldest_c": "temperature_min_c",
    "sensor.facts.hottest_c": "temperature_max_c",
    "sensor.spot": "element_mark",
    "sensor.needs.lowest_kmh": "min_speed_kmh",
    "sensor.needs.top_kmh": "max_speed_kmh",
    "sensor.needs.hot_c": "ambient_max_c",
    "placement.gap_mm": "air_gap_mm",
    "placement.gap_basis": "air_gap_basis",
    "placement.sideways_mm": "lateral_offset_mm",
    "placement.clocking_deg": "clocking_angle_deg",
    "placement.lean_deg": "tilt_deg",
    "placement.unsure_mm": "fitting_tolerance_mm",
    "placement.heat_rise_k": "temperature_rise_k",
    "placement.second": "second_channel",
    "placement.cleared": "clearances_checked",
    "signal.vr.gap_mm": "air_gap_mm",
    "signal.conditioner.r_in_ohm": "input_resistor_ohm",
    "signal.conditioner.most_vpp": "max_input_vpp",
    "signal.conditioner.most_hz": "max_frequency_hz",
    "signal.converter.wanted_per_km": "target_pulses_per_km",
    "signal.converter.most_numerator": "max_numerator",
    "signal.converter.most_denominator": "max_denominator",
    "signal.converter.set_to": "setting",
    "signal.converter.most_in_hz": "max_input_hz",
    "signal.converter.most_out_hz": "max_output_hz",
    "signal.analogue.full_kmh": "full_scale_kmh",
    "readouts.told_pulses_per_turn": "set_pulses_per_turn",
    "readouts.told_gear_ratio": "set_gear_ratio",
    "readouts.table.typed_hz": "set_frequency_hz",
    "readouts.typed": "current_setting",
    "readouts.typed_code": "current_setting_code",
    "readouts.timing.tick_us": "timer_tick_us",
    "readouts.input.low_v": "max_low_v",
    "readouts.input.high_v": "min_high_v",
    "readouts.input.most_v": "max_input_v",
    "readouts.input.most_hz": "max_frequency_hz",
    "readouts.input.shortest_us": "min_pulse_us",
    "readouts.input.hold_off_ms": "dead_time_ms",
    "readouts.end_kmh": "scale_end_kmh",
}
"""Paths of version 1, without places in lists, and the present name of their last step."""
RENAMED_IN_EVERY_STAGE = {"proof": "verification"}
VALUES: Mapping[str, Mapping[str, str]] = {
    "wheel.method": {"typed": "entered"},
    "sensed_at": {"unsaid": "not_stated"},
    "wheels_driven": {"unsaid": "not_stated"},
}


def upgraded(document: Any) -> Any:
    """A document of any version as one of the present version; what is no document is left for the model to refuse.

    Examples
    --------
    >>> upgraded({"version": 1, "band": "none", "readouts": [{"typed": 2105}]})["readouts"]
    [{'current_setting': 2105}]
    """
    if not isinstance(document, dict) or not _is_first(document):
        return document
    return _renamed(document, "") | {"format": FORMAT, "version": VERSION}


def _is_first(document: dict[str, Any]) -> bool:
    """Version 1 need not be stated: of a document without a version the first names are read too."""
    return bool(document.get("version", 1) == 1 and document.get("format", FIRST_FORMAT) == FIRST_FORMAT)


def _name(path: str, step: str) -> str:
    return RENAMED.get(path) or RENAMED_IN_EVERY_STAGE.get(step, step)


def _renamed(value: Any, path: str) -> Any:
    if isinstance(value, dict):
        inner = {name: f"{path}.{name}".lstrip(".") if isinstance(name, str) else path for name in value}
        return {_name(inner[name], name): _renamed(item, inner[name]) for name, item in value.items()}
    if isinstance(value, list):
        return [_renamed(item, path) for item in value]
    return VALUES.get(path, {}).get(value, value) if isinstance(value, str) else value
