"""The words for every choice in the fit document, and the encodings and proofs, as data for any front."""

from __future__ import annotations

from functools import cache

from speedchain.bands import BANDS
from speedchain.evidence import PROVES, LinkName, Test
from speedchain.guides import GUIDES, Guide
from speedchain.purposes import PURPOSES, PurposeAdvice
from speedchain.readout import ENCODINGS
from speedchain.results import result
from speedchain.sensor import SEES
from speedchain.wheel.marking import ACCEPTED
from speedchain.wheel.sizes_by_kind import SizeGroup, common_sizes


@result
class Choice:
    """A code of the document, its words, and a hint."""

    code: str
    label: str
    hint: str = ""


@result
class MethodChoice:
    """A way of knowing the circumference, and the kinds of vehicle it makes sense on."""

    code: str
    label: str
    hint: str
    vehicle_kinds: tuple[str, ...]


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
    geared: bool
    based: bool


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
    wheel_methods: tuple[MethodChoice, ...]
    factors: tuple[Choice, ...]
    sources: tuple[Choice, ...]
    drive_kinds: tuple[Choice, ...]
    target_kinds: tuple[Choice, ...]
    sensors: tuple[SensorChoice, ...]
    encodings: tuple[EncodingChoice, ...]
    tests: tuple[TestChoice, ...]
    accepted_markings: str
    common_sizes: tuple[SizeGroup, ...]
    guides: tuple[Guide, ...]
    bands: tuple[Choice, ...]
    places: tuple[Choice, ...]
    speed_bases: tuple[Choice, ...]
    starts: tuple[Start, ...]


_VEHICLES = (
    Choice("car", "Car"),
    Choice("motorcycle", "Motorcycle"),
    Choice("scooter", "Scooter"),
    Choice("sidecar", "Sidecar outfit"),
    Choice("atv", "Quad or ATV"),
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
    Choice("chart", "Cycle chart", "a row of the workshop's chart; about 0.7 %"),
    Choice("taped_circumference", "Tape round the tread", "wheel lifted; about 0.8 %"),
    Choice("axle_height", "Axle height", "loaded and lifted; about 0.5 %"),
    Choice("taped_diameter", "Tape across, standing", "floor to top of the standing wheel; about 0.4 %"),
    Choice("speed_derived", "Compared with true speed", "satellite or measured distance; 0.3 to 0.5 %"),
    Choice("roll_out", "Roll-out", "as driven or ridden; best, below 0.1 %"),
    Choice("typed", "Known circumference", "a previous setting, or measured elsewhere"),
    Choice("paddle", "Paddle constant", "pulses per nautical mile"),
    Choice("combined", "All of them together", "inverse-variance mean of every method entered"),
)
_ON_CYCLE_TYRES = ("land_yacht", "bicycle", "e_bike", "velomobile", "cargo_trike", "other")
_SPEED_BASES = (
    Choice("satellite_speed", "Satellite speed against the display"),
    Choice("measured_distance", "Measured distance against the display's"),
    Choice("timed_distance", "Measured distance by the clock"),
)
_PLACES = (
    Choice("unsaid", "Not said"),
    Choice("front_left", "Front left wheel"),
    Choice("front_right", "Front right wheel"),
    Choice("rear_left", "Rear left wheel"),
    Choice("rear_right", "Rear right wheel"),
    Choice("front", "Front wheel or axle"),
    Choice("rear", "Rear wheel or axle"),
    Choice("middle", "Shaft or gearbox"),
    Choice("hull", "Hull"),
)
_FACTORS = (
    Choice("auto", "By tyre: 3.05 for radial car tyres, else π"),
    Choice("etrto_3_05", "3.05 × diameter", "tyre makers' handbook: a loaded radial rolls less than π·D"),
    Choice("pi", "π × diameter", "plain geometry"),
)
_SOURCES = (
    Choice("chart", "Another printed chart", "0.7 %"),
    Choice("previous_setting", "Previous setting", "2 %"),
    Choice("measured_elsewhere", "Measured elsewhere", "0.3 %"),
)
_DRIVES = (
    Choice("hub", "Hub, brake disc or rim", "turns with the wheel, 1:1"),
    Choice("axle_ratio", "Driveshaft or gearbox output", "axle ratio: turns of the shaft per turn of the wheel"),
    Choice("sprockets", "Chain or belt shaft", "teeth at the wheel over teeth at the sensed shaft"),
    Choice("transfer_box", "Transfer box", "high and low range between gearbox and axle"),
    Choice("hub_motor", "Hub motor", "with or without gears inside"),
    Choice("cable", "Mechanical cable", "drive gear on the shaft, driven gear on the cable"),
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
    "boat": ("paddle_magnets", "paddlewheel", "pulses_per_nautical_mile"),
    "scooter": ("toothed_ring", "hall_gear_tooth", "circumference_mm"),
    "atv": ("magnets", "hall_switch", "circumference_mm"),
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


def _kinds_for(method: str) -> tuple[str, ...]:
    """A paddle is for boats, the cycle chart for cycle tyres; what is known already is for all."""
    kinds = tuple(choice.code for choice in _VEHICLES)
    if method == "typed":
        return kinds
    if method == "paddle":
        return ("boat",)
    return _ON_CYCLE_TYRES if method == "chart" else tuple(kind for kind in kinds if kind != "boat")


@cache
def catalogue() -> Catalogue:
    """Every choice with its words.

    >>> [choice.code for choice in catalogue().drive_kinds]
    ['hub', 'axle_ratio', 'sprockets', 'transfer_box', 'hub_motor', 'cable']
    """
    return Catalogue(
        PURPOSES,
        _VEHICLES,
        tuple(MethodChoice(one.code, one.label, one.hint, _kinds_for(one.code)) for one in _METHODS),
        _FACTORS,
        _SOURCES,
        _DRIVES,
        _TARGETS,
        tuple(SensorChoice(kind, *_SENSORS[kind], SEES[kind]) for kind in SEES),
        tuple(
            EncodingChoice(
                e.code, e.label, e.kind.unit_words, e.minimum, e.maximum, e.step, e.per_turn, e.geared, e.based
            )
            for e in ENCODINGS.values()
        )
        + (EncodingChoice("custom", "A way of your own", "", 1, 999_999, 1, False, False, False),),
        tuple(TestChoice(test, label, PROVES[test]) for test, label in _TESTS.items()),
        ACCEPTED,
        common_sizes(),
        tuple(GUIDES.values()),
        (*[Choice(band.code, band.label, band.source) for band in BANDS.values()], Choice("none", "None")),
        _PLACES,
        _SPEED_BASES,
        tuple(Start(choice.code, *_STARTS.get(choice.code, _USUAL)) for choice in _VEHICLES),
    )
