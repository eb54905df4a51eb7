"""What is usual for each kind of sensor: where the facts of a sensor start from. Common practice, from memory.

Every one of these numbers is to be replaced by the data of the sensor in the hand.
"""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from speedchain.fields import Words, labelled
from speedchain.results import result
from speedchain.sensor.model import PAIRED, Facts, Sensor, SensorKind


def _facts(body: float, strip: tuple[float, float, float, float], supply: tuple[float, float], **more: Any) -> Facts:
    """Body, strip (length, width, offset, angle tolerance), supply; lengths in mm."""
    length, width, offset, angle_tolerance = strip
    return Facts(
        body_diameter_mm=body,
        element_length_mm=length,
        element_width_mm=width,
        element_offset_mm=offset,
        element_angle_tolerance_deg=angle_tolerance,
        supply_min_v=supply[0],
        supply_max_v=supply[1],
        **more,
    )


USUAL: Mapping[SensorKind, Facts] = {
    "variable_reluctance": _facts(
        12, (3, 3, 0.2, 0), (0, 0), output="sine", max_frequency_hz=20_000, rated_air_gap_mm=1.0, rated_pitch_mm=6.3,
        temperature_max_c=150
    ),
    "hall_switch": _facts(
        12, (0.3, 0.3, 1.0, 10), (3.8, 24), output="open_collector", max_frequency_hz=10_000, rated_air_gap_mm=3,
        rated_pitch_mm=20,
        depth_mm=1.0, operate_point_mt=12, release_point_mt=8, unipolar=True,
    ),
    "hall_gear_tooth": _facts(
        12, (3, 0.5, 1.2, 15), (4.5, 24), output="open_collector", max_frequency_hz=15_000, rated_air_gap_mm=1.8,
        rated_pitch_mm=6.3
    ),
    "hall_differential": _facts(
        12, (0.3, 0.3, 0.5, 5), (4.5, 24), output="open_collector", max_frequency_hz=20_000, rated_air_gap_mm=2.0,
        rated_pitch_mm=5.0, element_spacing_mm=2.5, temperature_max_c=150,
    ),
    "magnetoresistive": _facts(
        12, (0.3, 0.3, 0.5, 5), (6, 20), output="two_wire_current", max_frequency_hz=10_000, rated_air_gap_mm=2.0,
        rated_pitch_mm=4.5, element_spacing_mm=2.3, temperature_max_c=150,
    ),
    "reed": _facts(
        10, (14, 1, 1.0, 5), (0, 24), output="contact", max_frequency_hz=400, rated_air_gap_mm=3, rated_pitch_mm=30,
        depth_mm=3.0, operate_point_mt=3.0, release_point_mt=1.6, temperature_min_c=-30, temperature_max_c=100,
    ),
    "inertial": _facts(
        38, (1, 1, 0, 0), (0, 0), output="radio", max_frequency_hz=40, rated_air_gap_mm=0, rated_pitch_mm=1,
        temperature_min_c=-10,
        temperature_max_c=50,
    ),
    "paddlewheel": _facts(
        40, (1, 1, 0, 0), (4.5, 16), output="open_collector", max_frequency_hz=1000, rated_air_gap_mm=0,
        rated_pitch_mm=20,
        temperature_min_c=0, temperature_max_c=60,
    ),
    "optical": _facts(
        12, (1.5, 1.5, 0.5, 0), (4.5, 24), output="push_pull", max_frequency_hz=5000, rated_air_gap_mm=6,
        rated_pitch_mm=6,
        temperature_min_c=-20, temperature_max_c=60,
    ),
    "radar": _facts(
        60, (1, 1, 0, 0), (9, 32), output="push_pull", max_frequency_hz=10_000, rated_air_gap_mm=0, rated_pitch_mm=1,
        temperature_max_c=70
    ),
}  # fmt: skip


def facts_of(sensor: Sensor) -> Facts:
    """The facts of this sensor, or the usual ones of its kind.

    Examples
    --------
    >>> facts_of(Sensor(kind="reed")).output
    'contact'
    """
    return sensor.facts or USUAL[sensor.kind]


def facts_asked(kind: SensorKind) -> tuple[str, ...]:
    """The names of the facts that matter for a kind, in the order in which they are shown.

    The spacing of two elements for a differential one alone; switching levels and depth where a field switches it.

    Examples
    --------
    >>> "element_spacing_mm" in facts_asked("hall_differential"), "operate_point_mt" in facts_asked(
    ...     "variable_reluctance")
    (True, False)
    """
    switches = ("operate_point_mt", "release_point_mt", "depth_mm")
    left = set() if USUAL[kind].operate_point_mt is not None else set(switches)
    left |= {"unipolar", *(() if kind in PAIRED else ("element_spacing_mm",))}
    return tuple([name for name in Facts.model_fields if name not in left])


@result
class KindWords:
    """A kind of sensor in words: its wires, how slow it can read, and what to watch. Common practice."""

    label: Words
    hint: Words
    wires: Words
    lowest: Words
    watch: Words


WORDS: Mapping[SensorKind, KindWords] = {
    "variable_reluctance": KindWords(
        label="Variable reluctance (VR)",
        hint="2 wires; no signal at low speed, tens of volts at high speed",
        wires="2, and a shield",
        lowest="limited: the voltage rises with the tooth frequency",
        watch="tens of volts at top speed: check the input it drives; check polarity; the air gap is critical",
    ),
    "hall_switch": KindWords(
        label="Hall switch for a magnet",
        hint="3 wires; down to standstill",
        wires="3",
        lowest="standstill",
        watch="magnetic pole and operate point",
    ),
    "hall_gear_tooth": KindWords(
        label="Hall, gear tooth, single element",
        hint="3 wires, needs a pull-up",
        wires="3, open collector",
        lowest="near standstill",
        watch="position and angle of the element in the body",
    ),
    "hall_differential": KindWords(
        label="Hall, differential",
        hint="clocking angle 0° (strip along the teeth)",
        wires="3, or 2 by current",
        lowest="near standstill",
        watch="clocking angle 0°: a quarter turn loses the signal",
    ),
    "magnetoresistive": KindWords(
        label="Magnetoresistive, two-wire current",
        hint="needs a load resistor",
        wires="2; 7 mA low, 14 mA high",
        lowest="near standstill",
        watch="needs a load resistor; clocking angle 0°",
    ),
    "reed": KindWords(
        label="Reed switch",
        hint="2 wires; a few hundred pulses a second at most",
        wires="2",
        lowest="standstill",
        watch="bounces for up to 1 ms; counts double when both lobes of the field close it",
    ),
    "inertial": KindWords(
        label="Strapped to the hub, wireless",
        hint="no target, no wires; circumference only",
        wires="none",
        lowest="a few km/h",
        watch="set it to speed, not cadence; check its battery",
    ),
    "paddlewheel": KindWords(
        label="Paddlewheel transducer",
        hint="flush with the hull",
        wires="3",
        lowest="1.2 mph clean, 2 mph fouled",
        watch="flush with the hull, clear of propeller wash, straight running only",
    ),
    "optical": KindWords(
        label="Optical", hint="keep it clean", wires="3 or more", lowest="standstill", watch="dirt and sunlight"
    ),
    "radar": KindWords(
        label="Radar to the ground",
        hint="no target; looks at the ground",
        wires="3 or more",
        lowest="a few km/h",
        watch="dirt, spray and its angle to the ground",
    ),
}

SENSOR_KINDS = labelled(SensorKind, **{kind: (words.label, words.hint) for kind, words in WORDS.items()})
