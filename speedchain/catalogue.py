"""The words for every choice in the fit document, and the encodings and proofs, as data for any front."""

from __future__ import annotations

from speedchain.evidence import PROVES, LinkName, Test
from speedchain.purposes import PURPOSES, PurposeAdvice
from speedchain.readout import ENCODINGS
from speedchain.results import result
from speedchain.sensor import SEES
from speedchain.wheel.marking import ACCEPTED


@result
class Choice:
    """A code of the document, its words, and a hint."""

    code: str
    label: str
    hint: str = ""


@result
class EncodingChoice:
    """A way of typing the setting in, with its usual range."""

    code: str
    label: str
    unit: str
    minimum: float
    maximum: float
    step: float
    per_turn: bool


@result
class TestChoice:
    """A test and the links it can prove."""

    code: Test
    label: str
    proves: tuple[LinkName, ...]


@result
class SensorChoice:
    """A kind of sensor and the targets it can see."""

    code: str
    label: str
    hint: str
    sees: tuple[str, ...]


@result
class Start:
    """What is usual on a kind of vehicle: where a new fit starts from. Common practice."""

    vehicle_kind: str
    target_kind: str
    sensor_kind: str
    encoding: str


@result
class Catalogue:
    """All choices."""

    purposes: tuple[PurposeAdvice, ...]
    vehicle_kinds: tuple[Choice, ...]
    wheel_methods: tuple[Choice, ...]
    factors: tuple[Choice, ...]
    sources: tuple[Choice, ...]
    drive_kinds: tuple[Choice, ...]
    target_kinds: tuple[Choice, ...]
    sensors: tuple[SensorChoice, ...]
    encodings: tuple[EncodingChoice, ...]
    tests: tuple[TestChoice, ...]
    accepted_markings: str
    starts: tuple[Start, ...]


_VEHICLES = (
    Choice("car", "Car"),
    Choice("motorcycle", "Motorcycle"),
    Choice("sidecar", "Sidecar outfit"),
    Choice("kart", "Kart"),
    Choice("land_yacht", "Land yacht"),
    Choice("bicycle", "Bicycle"),
    Choice("e_bike", "Bicycle with assist motor"),
    Choice("velomobile", "Velomobile"),
    Choice("cargo_trike", "Cargo trike"),
    Choice("boat", "Boat"),
    Choice("other", "Anything else with a wheel"),
)
_METHODS = (
    Choice("marking", "Size marking", "what the sidewall says; quick, 1 to 1.5 %"),
    Choice("taped_diameter", "Tape across the standing wheel", "floor to top; about 0.4 %"),
    Choice("roll_out", "Roll-out", "as driven or ridden; best, below 0.1 %"),
    Choice("typed", "Known circumference", "from a chart, a previous setting, or measured elsewhere"),
)
_FACTORS = (
    Choice("auto", "By tyre: 3.05 for radial car tyres, else π"),
    Choice("etrto_3_05", "3.05 × diameter", "tyre makers' handbook: a loaded radial rolls less than π·D"),
    Choice("pi", "π × diameter", "plain geometry"),
)
_SOURCES = (
    Choice("chart", "Printed chart", "0.7 %"),
    Choice("previous_setting", "Previous setting", "2 %"),
    Choice("measured_elsewhere", "Measured elsewhere", "0.3 %"),
)
_DRIVES = (
    Choice("hub", "Hub, brake disc or rim", "turns with the wheel, 1:1"),
    Choice("axle_ratio", "Driveshaft or gearbox output", "axle ratio: turns of the shaft per turn of the wheel"),
    Choice("sprockets", "Chain or belt shaft", "teeth at the wheel over teeth at the sensed shaft"),
)
_TARGETS = (
    Choice("toothed_ring", "Toothed ring"),
    Choice("slotted_disc", "Slotted disc"),
    Choice("drilled_rotor", "Drilled rotor"),
    Choice("multipole_ring", "Multipole magnetic ring", "count pole pairs"),
    Choice("shaft_reluctor", "Reluctor on a shaft"),
    Choice("bolt_heads", "Bolt heads"),
    Choice("magnets", "Single magnets", "on spokes, rotor or hub"),
    Choice("paddle_magnets", "Paddle magnets"),
)
_SENSORS = {
    "variable_reluctance": ("Variable reluctance (VR)", "2 wires; silent at low speed, tens of volts at high"),
    "hall_switch": ("Hall switch for a magnet", "3 wires; down to standstill"),
    "hall_gear_tooth": ("Hall, gear tooth, single element", "3 wires, needs a pull-up"),
    "hall_differential": ("Hall, differential", "must be clocked with the row of teeth"),
    "magnetoresistive": ("Magnetoresistive, two-wire current", "needs a load resistor"),
    "reed": ("Reed switch", "2 wires; a few hundred pulses a second at most"),
    "paddlewheel": ("Paddlewheel transducer", "flush with the hull"),
    "optical": ("Optical", "keep it clean"),
}
_USUAL = ("toothed_ring", "hall_gear_tooth", "pulses_per_km")
_CYCLE = ("magnets", "reed", "circumference_mm")
_STARTS = {
    "land_yacht": _CYCLE,
    "bicycle": _CYCLE,
    "e_bike": _CYCLE,
    "velomobile": _CYCLE,
    "cargo_trike": _CYCLE,
    "kart": ("magnets", "hall_switch", "circumference_mm"),
    "other": ("magnets", "reed", "circumference_mm"),
    "motorcycle": ("toothed_ring", "hall_gear_tooth", "circumference_mm"),
    "boat": ("paddle_magnets", "paddlewheel", "pulses_per_km"),
}
_TESTS: dict[Test, str] = {
    "second_count": "Counted a second time",
    "measured_distance": "Measured distance",
    "magnet": "Magnet waved past the sensor",
    "spin": "Spin test on the stand",
    "bench": "Signal generator on the bench",
    "road": "Road test, both directions",
    "water": "Water test, both directions",
}


def catalogue() -> Catalogue:
    """Every choice with its words.

    >>> [choice.code for choice in catalogue().drive_kinds]
    ['hub', 'axle_ratio', 'sprockets']
    """
    return Catalogue(
        PURPOSES,
        _VEHICLES,
        _METHODS,
        _FACTORS,
        _SOURCES,
        _DRIVES,
        _TARGETS,
        tuple(SensorChoice(kind, *_SENSORS[kind], SEES[kind]) for kind in SEES),
        tuple(
            EncodingChoice(e.code, e.label, e.kind.unit_words, e.minimum, e.maximum, e.step, e.per_turn)
            for e in ENCODINGS.values()
        ),
        tuple(TestChoice(test, label, PROVES[test]) for test, label in _TESTS.items()),
        ACCEPTED,
        tuple(Start(choice.code, *_STARTS.get(choice.code, _USUAL)) for choice in _VEHICLES),
    )
