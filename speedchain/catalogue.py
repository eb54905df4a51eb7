"""The words for every choice in the installation document, and the encodings and proofs, as data for any front."""

from __future__ import annotations

from functools import cache

from speedchain.advice.procedures import GUIDES, Guide
from speedchain.fields.evidence import VERIFIES, StageName, Test
from speedchain.fields.purposes import PURPOSES, PurposeAdvice
from speedchain.glossary import TERMS, Term
from speedchain.readout import ENCODINGS
from speedchain.regulations.speedometer import BANDS
from speedchain.results import result
from speedchain.sensor import PAIRED, SEES, USUAL, Facts, SensorKind
from speedchain.sensor.kinds import OUTPUTS, WORDS
from speedchain.signal.series import TOLERANCE_PCT
from speedchain.target.model import FERROUS
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
    """A method for the circumference, and the kinds of vehicle it makes sense on."""

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
    proves: tuple[StageName, ...]


@result
class SensorChoice:
    """A kind of sensor and the targets it can see."""

    code: str
    label: str
    hint: str
    wires: str
    lowest: str
    watch: str
    sees: tuple[str, ...]
    paired: bool
    facts: Facts


@result
class ClearanceChoice:
    """Something to check for clearance, and the kinds of vehicle that have it."""

    code: str
    label: str
    vehicle_kinds: tuple[str, ...]


@result
class Start:
    """What is usual on a kind of vehicle: where a new installation starts from. Common practice."""

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
    materials: tuple[Choice, ...]
    magnet_forms: tuple[Choice, ...]
    mountings: tuple[Choice, ...]
    poles: tuple[Choice, ...]
    spots: tuple[Choice, ...]
    wire_roles: tuple[Choice, ...]
    wheels_driven: tuple[Choice, ...]
    conditioners: tuple[Choice, ...]
    shields: tuple[Choice, ...]
    converter_drives: tuple[Choice, ...]
    past_ends: tuple[Choice, ...]
    series: tuple[Choice, ...]
    outputs: tuple[Choice, ...]
    clearances: tuple[ClearanceChoice, ...]
    cut_forms: tuple[Choice, ...]
    ring_targets: tuple[str, ...]
    glossary: tuple[Term, ...]


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
    Choice("other", "Other vehicle with a wheel"),
)
_METHODS = (
    Choice("marking", "Size marking", "from the sidewall; 1 to 1.5 %"),
    Choice("chart", "Cycle chart", "a row of the workshop's chart; about 0.7 %"),
    Choice("taped_circumference", "Tape over the tread", "wheel lifted; about 0.8 %"),
    Choice("axle_height", "Axle height", "loaded and lifted; about 0.5 %"),
    Choice("taped_diameter", "Tape across, standing", "floor to top of the standing wheel; about 0.4 %"),
    Choice("speed_derived", "Comparison with true speed", "satellite or measured distance; 0.3 to 0.5 %"),
    Choice("roll_out", "Roll-out", "at working load and pressure; below 0.1 %"),
    Choice("entered", "Known circumference", "a previous setting, or measured elsewhere"),
    Choice("paddle", "Paddle constant", "pulses per nautical mile"),
    Choice("combined", "All methods combined", "inverse-variance mean of every method entered"),
)
_ON_CYCLE_TYRES = ("land_yacht", "bicycle", "e_bike", "velomobile", "cargo_trike", "other")
_SPEED_BASES = (
    Choice("satellite_speed", "Satellite speed against the display"),
    Choice("measured_distance", "Measured distance against the display's"),
    Choice("timed_distance", "Measured distance by the clock"),
)
_PLACES = (
    Choice("not_stated", "Not said"),
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
    Choice("etrto_3_05", "3.05 × diameter", "tyre manufacturers' value: a loaded radial rolls less than π·D"),
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
_MATERIALS = (
    Choice("steel", "Steel"),
    Choice("cast_iron", "Cast iron"),
    Choice("ferritic_stainless", "Stainless, magnetic", "a magnet sticks to it"),
    Choice("austenitic_stainless", "Stainless, not magnetic", "a magnet does not stick"),
    Choice("aluminium", "Aluminium"),
    Choice("titanium", "Titanium"),
    Choice("plastic", "Plastic"),
)
_MAGNET_FORMS = (Choice("disc", "Disc"), Choice("bolt", "Bolt with a magnet"), Choice("bar", "Bar"))
_MOUNTINGS = (
    Choice("spokes", "On spokes"),
    Choice("rotor", "In a brake rotor", "a magnetic bolt"),
    Choice("hub", "On the hub"),
    Choice("glued", "Glued to rim or shaft"),
)
_POLES = (
    Choice("unknown", "Not known"),
    Choice("south", "South to the sensor"),
    Choice("north", "North to the sensor"),
)
_SPOTS = (
    Choice("unknown", "Not known", "position in the body not known"),
    Choice("middle", "Middle of the tip"),
    Choice("round", "A round feature", "may be only the mounting bolt"),
    Choice("rectangle", "A rectangular part", "often the element itself"),
    Choice("arrow", "An arrow or line"),
    Choice("lower_edge", "Its lower edge", "where a reed ends"),
)
_WIRE_ROLES = (
    Choice("unknown", "Not known"),
    Choice("supply", "Supply"),
    Choice("ground", "Ground"),
    Choice("signal", "Signal"),
    Choice("signal_return", "Signal return", "the other wire of a coil"),
    Choice("second_signal", "Second signal"),
    Choice("shield", "Shield"),
)
_WHEELS_DRIVEN = (
    Choice("not_stated", "Not said"),
    Choice("none", "None"),
    Choice("one", "One wheel"),
    Choice("two", "Two wheels"),
    Choice("four", "Four wheels"),
)
_CONDITIONERS = (
    Choice("comparator", "Comparator", "square output, with threshold and hysteresis"),
    Choice("vr_converter", "VR conditioner", "VR-to-square-wave"),
)
_SHIELDS = (
    Choice("none", "No shield"),
    Choice("one_end", "Grounded at one end", "at the reader"),
    Choice("both_ends", "Grounded at both ends"),
)
_GAUGES = (
    Choice("electronic", "Electronic gauge", "counts pulses"),
    Choice("mechanical", "Mechanical gauge", "a motor turns its cable"),
)
_PAST_ENDS = (
    Choice("stops", "The needle stops"),
    Choice("wraps", "The needle drops to zero"),
)
_CLEARANCES = (
    ("spins_free", "Spins free by hand, all round", ()),
    ("caliper", "Clear of the brake caliper", ("boat",)),
    ("disc", "Clear of the brake disc, also when hot", ("boat",)),
    ("full_lock", "Clear of the tyre at full lock, both ways", ("boat",)),
    ("full_bump", "Clear of the tyre at full bump and droop", ("boat",)),
    ("spokes", "Clear of the spokes", ("car", "kart", "boat", "atv")),
    ("bolts", "Bolts cannot fall into the wheel", ()),
    ("propeller", "Clear of the propeller's wash", ()),
)
_CUT_FORMS = (
    Choice("teeth", "Open teeth", "sensed radially or axially"),
    Choice("slots", "Slots in a closed rim", "sensed axially"),
    Choice("holes", "Drilled holes", "sensed axially"),
)
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
    "second_count": "Counted twice",
    "measured_distance": "Measured distance",
    "magnet": "Magnet passed by the sensor",
    "spin": "Spin test on the stand",
    "bench": "Signal generator on the bench",
    "road": "Road test, both directions",
    "water": "Water test, both directions",
}


def _kinds_for(method: str) -> tuple[str, ...]:
    """A paddle is for boats, the cycle chart for cycle tyres; what is known already is for all."""
    kinds = tuple(choice.code for choice in _VEHICLES)
    if method == "entered":
        return kinds
    if method == "paddle":
        return ("boat",)
    return _ON_CYCLE_TYRES if method == "chart" else tuple(kind for kind in kinds if kind != "boat")


def _sensor(kind: SensorKind) -> SensorChoice:
    words = WORDS[kind]
    return SensorChoice(
        kind, words.label, words.hint, words.wires, words.lowest, words.watch, SEES[kind], kind in PAIRED, USUAL[kind]
    )


def _kinds_with(code: str, without: tuple[str, ...]) -> tuple[str, ...]:
    if code == "propeller":
        return ("boat",)
    return tuple(choice.code for choice in _VEHICLES if choice.code not in without)


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
        tuple(_sensor(kind) for kind in SEES),
        tuple(
            EncodingChoice(
                e.code, e.label, e.kind.unit_words, e.minimum, e.maximum, e.step, e.per_turn, e.geared, e.based
            )
            for e in ENCODINGS.values()
        )
        + (EncodingChoice("custom", "Custom format", "", 1, 999_999, 1, False, False, False),),
        tuple(TestChoice(test, label, VERIFIES[test]) for test, label in _TESTS.items()),
        ACCEPTED,
        common_sizes(),
        tuple(GUIDES.values()),
        (*[Choice(band.code, band.label, band.source) for band in BANDS.values()], Choice("none", "None")),
        _PLACES,
        _SPEED_BASES,
        tuple(Start(choice.code, *_STARTS.get(choice.code, _USUAL)) for choice in _VEHICLES),
        _MATERIALS,
        _MAGNET_FORMS,
        _MOUNTINGS,
        _POLES,
        _SPOTS,
        _WIRE_ROLES,
        _WHEELS_DRIVEN,
        _CONDITIONERS,
        _SHIELDS,
        _GAUGES,
        _PAST_ENDS,
        tuple(Choice(code, f"{code}, ± {pct:g} %") for code, pct in TOLERANCE_PCT.items()),
        tuple(Choice(code, label) for code, label in OUTPUTS.items()),
        tuple(ClearanceChoice(code, label, _kinds_with(code, without)) for code, label, without in _CLEARANCES),
        _CUT_FORMS,
        (*FERROUS, "multipole_ring"),
        TERMS,
    )
