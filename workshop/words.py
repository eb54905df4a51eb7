"""Field paths of the installation document in the words of the trade."""

from __future__ import annotations

_WORDS = {
    "wheel.method": "wheel method",
    "wheel.marking.text": "size marking",
    "wheel.marking.factor": "circumference factor",
    "wheel.taped_diameter.diameter_mm": "taped diameter",
    "wheel.roll_out.distance_mm": "roll-out distance",
    "wheel.roll_out.turns": "roll-out turns",
    "wheel.entered.circumference_mm": "known circumference",
    "wheel.chart.circumference_mm": "chart circumference",
    "wheel.roll_out.repeats_mm": "repeated roll-outs",
    "wheel.taped_diameter.repeats_mm": "repeated readings",
    "wheel.taped_circumference.repeats_mm": "repeated readings",
    "wheel.paddle.calibration_pct": "paddle calibration",
    "current_setting_code": "code in the display",
    "speedometer_rule": "speedometer rule",
    "drive.axle_ratio.ratio": "axle ratio",
    "target.count": "target count",
    "target.basis": "target count",
    "sensor.kind": "sensor",
    "current_setting": "number in the display",
    "set_pulses_per_turn": "pulses per turn set",
    "check_speed_kmh": "check speed",
    "signal.vr": "voltage of the coil",
    "signal.measured": "measured levels",
    "signal.converter": "ratio converter",
    "signal.converter.setting": "setting of the ratio converter",
    "signal.analogue": "frequency to voltage",
    "card": "test card",
    "test_records": "record of tests",
}


def field_words(path: str) -> str:
    """The words for a field; its own name with spaces where none is listed.

    >>> field_words("readouts.0.current_setting"), field_words("drive.sprockets.wheel_teeth")
    ('number in the display', 'wheel teeth')
    """
    first, last = path.split(".", 1)[0], path.rsplit(".", 1)[-1]
    if last == "verification":
        return f"{first.removesuffix('s')} test"
    words = _WORDS.get(path) or _WORDS.get(last) or last
    for unit in (
        "_mm",
        "_kmh",
        "_pct",
        "_bar",
        "_hz",
        "_km",
        "_us",
        "_ms",
        "_v",
        "_vpp",
        "_ohm",
        "_ma",
        "_nf",
        "_a",
        "_m",
    ):
        words = words.removesuffix(unit)
    return words.replace("_", " ")
