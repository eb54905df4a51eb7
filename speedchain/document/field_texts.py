"""What stands at a field beside its unit and limits: titles by part, hints, what an empty field means, how entries start."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

TITLES_IN: Mapping[str, str] = {
    "Analogue.stages": "Smoothing",
    "Analogue.supply_v": "Output supply",
    "AxleHeight.axle_height_mm": "Axle height, loaded",
    "AxleRatio.basis": "Source of the ratio",
    "AxleRatio.shaft_turns": "Turns of the shaft",
    "AxleRatio.wheel_turns": "Turns of the wheel",
    "Bracket.sensor_hole_mm": "Sensor hole diameter",
    "Bracket.thickness_mm": "Plate thickness",
    "Cable.drive_teeth": "Drive gear, teeth",
    "Cable.driven_teeth": "Driven gear, teeth",
    "ChartValue.label": "Chart row",
    "Converter.setting": "Setting of the converter",
    "Converter.stages": "Stages in series",
    "CustomEncoding.direct": "With more pulses per km the setting is",
    "CustomEncoding.label": "Name of the setting",
    "CustomEncoding.per_turn": "Pulses per turn set too?",
    "Drive.driven": "Driven wheel",
    "Drive.kind": "Position of the target",
    "HubMotor.gear_ratio": "Rotor turns per wheel turn",
    "HubMotor.sensed": "Target on",
    "Input.max_low_v": "Max. low level",
    "Input.pull_up_ohm": "Internal pull-up",
    "Installation.sensed_at": "Sensed wheel or axle",
    "Installation.vehicle_kind": "Vehicle type",
    "Lead.load_ohm": "Load resistor",
    "Lead.permanent_feed": "Permanent battery feed",
    "Lead.sealed": "Sealed plug",
    "Lead.twisted": "Twisted pair",
    "LearningRide.hold_kmh": "Speed to hold",
    "LearningRide.within_kmh": "Held within ±",
    "LearningRide.hold_s": "Hold for",
    "LearningRide.key_off_s": "Key off afterwards for",
    "LearningRide.outcome": "Outcome",
    "Magnets.form": "Magnet",
    "Magnets.length_mm": "Thickness",
    "Magnets.mounted": "Mounted on",
    "Needs.supply_v": "Supply at the sensor",
    "OtherLoad.load": "Pressure or load",
    "OtherLoad.turns": "Second roll-out: turns",
    "Placement.air_gap_basis": "Air gap is",
    "Placement.reach_mm": "Reach of this sensor",
    "Readout.before_converter": "Connected",
    "Readout.entry": "Entry method",
    "Readout.set_gear_ratio": "Gear ratio set in the reader",
    "Readout.set_pulses_per_turn": "Pulses per turn set in the reader",
    "Ring.diameter_mm": "Diameter where it is sensed",
    "Ring.form": "Size known by",
    "RingCut.form": "Part to cut",
    "RingCut.thickness_mm": "Plate thickness",
    "Sensor.kind": "Sensor type",
    "SizeMarking.text": "Size marking on the sidewall",
    "SpeedDerived.basis": "Compared with",
    "Sprockets.shaft_teeth": "Teeth at the sensed shaft",
    "Sprockets.wheel_teeth": "Teeth at the wheel",
    "Step.denominator": "Setting: pulses in",
    "Step.numerator": "Setting: pulses out",
    "TapedCircumference.circumference_mm": "Circumference over the tread",
    "TapedDiameter.diameter_mm": "Height, floor to top",
    "Target.basis": "Counted or assumed?",
    "Target.edges": "Edges of each that the reader counts",
    "Target.kind": "Target",
    "Timing.method": "Method",
    "TransferBox.low_ratio": "Low range ratio",
    "TransferBox.range": "Range driven in",
    "TransferBox.sensed": "Side of the transfer box",
    "VrPoint.air_gap_mm": "At air gap",
    "Wheel.construction": "Tyre construction",
    "Wheel.measured": "Measured by",
}
"""Titles of fields whose name alone does not say it, by part and name."""

HINTS: Mapping[str, str] = {
    "AxleHeight.unloaded_diameter_mm": "Empty: from the marking.",
    "AxleRatio.shaft_turns": "to a twentieth: 37.3",
    "Bracket.bend_mm": "0 for none",
    "Bracket.reach_mm": "bolts to sensor",
    "Circumstances.load": "driver, half a tank",
    "Circumstances.on": "2026-05-02",
    "Converter.cable_turns_per_km": "on its face: 621 per km",
    "Converter.cap_kmh": "the end of the gauge",
    "Converter.max_numerator": "1: a divider",
    "Corrections.growth_pct": "soft slicks; your own figure",
    "CustomEncoding.scale": "set = scale × number, or scale / number",
    "HubMotor.gear_ratio": "1 without gears inside",
    "Installation.speedometer_rule": "for a road display; check your local rules",
    "Input.dead_time_ms": "after a pulse none is counted",
    "Lead.plug": "as somebody would order it",
    "PartLabel.side": "left or right of case or vehicle, if it matters",
    "Lead.pull_up_v": "of a pull-up outside",
    "Magnets.length_mm": "towards the sensor",
    "Magnets.remanence_mt": "ferrite 380, neodymium 1200",
    "Needs.supply_v": "0 for none",
    "PaddleConstant.calibration_pct": "100·(true/shown − 1), after a run both ways",
    "Placement.air_gap_mm": "at rest, nearest edge",
    "Placement.clocking_angle_deg": "0 along the travel, 90 across",
    "Placement.fitting_tolerance_mm": "to either side",
    "Placement.lateral_offset_mm": "sensor centreline from the middle of the teeth",
    "Placement.original_reach_mm": "mounting face to tip: 1.06in",
    "Placement.reach_mm": "by caliper",
    "Readout.current_setting": "Leave empty until read back.",
    "Readout.set_gear_ratio": "1 where it has no such setting",
    "Readout.set_pulses_per_turn": "1 where it has no such setting",
    "Ring.tooth_width_mm": "along the travel",
    "Magnets.runout_mm": "largest minus smallest reading in one turn",
    "Ring.runout_mm": "largest minus smallest reading in one turn",
    "RingCut.kerf_mm": "width of the cut",
    "SecondChannel.spacing_mm": "for the direction",
    "SpokeWheel.crosses": "0 is radial",
    "Target.count": "Count twice; mark the first.",
    "Timing.minimum_kmh": "its own minimum",
    "Timing.time_out_s": "without a pulse",
}
"""What helps to fill a field in, where the example of its quantity does not say enough."""

WHEN_EMPTY: Mapping[str, str] = {
    "Analogue.load_ohm": "nothing",
    "Conditioner.max_input_vpp": "not known",
    "Converter.cap_kmh": "no cap",
    "Corrections.tread_new_mm": "by vehicle type",
    "Input.max_frequency_hz": "not known",
    "Input.max_input_v": "not known",
    "Input.pull_up_ohm": "none",
    "Lead.fuse_a": "none",
    "Lead.load_ohm": "about 100",
    "Lead.pull_up_ohm": "none",
    "Lead.pull_up_v": "the reader's",
    "Needs.ambient_max_c": "not checked",
    "Needs.supply_v": "not checked",
    "Placement.air_gap_mm": "middle",
    "Readout.scale_end_kmh": "no end",
    "Ring.tooth_depth_mm": "by module, or deep",
    "Ring.tooth_width_mm": "half the pitch",
    "VrPoint.air_gap_mm": "the air gap entered",
}
"""What an empty field means, where there is no default."""

YES_NO: Mapping[str, tuple[str, str]] = {
    "CustomEncoding.direct": ("smaller", "larger"),
    "CustomEncoding.per_turn": ("No", "Yes, they multiply the scale"),
    "Drive.driven": ("No", "Yes (engine, motor or pedals)"),
    "OtherLoad.applies": ("No, only to know the difference", "Yes, use this"),
    "Readout.before_converter": ("After the converter", "Before the converter, at the sensor"),
}
"""The two answers to a question, where they are not plain no and yes."""

COUNTED: Mapping[str, Mapping[int, str]] = {
    "Analogue.stages": {2: "Two stages", 1: "One stage"},
    "Converter.stages": {1: "One", 2: "Two"},
    "Target.edges": {1: "One edge", 2: "Both edges"},
}
"""The labels of choices that are numbers."""

STARTS: Mapping[str, Any] = {
    "Conditioner.kind": "comparator",
    "CustomEncoding.label": "Custom",
    "HubMotor.gear_ratio": 1,
    "OtherLoad.turns": 3,
    "PaddleConstant.pulses_per_nautical_mile": 20_000,
    "RollOut.turns": 3,
    "SpeedDerived.basis": "satellite_speed",
    "Step.numerator": 1,
}
"""What a field holds when its group of entries is begun; all others that are needed begin empty. Common practice."""

MACHINE_FIELDS = frozenset(
    {"SpeedDerived.set_circumference_mm", "Code.circumference_mm", "ChartValue.circumference_mm"}
)
"""The same of single fields: what is set in a display, or printed in its chart."""
