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
    Choice(code="car", label="Car"),
    Choice(code="motorcycle", label="Motorcycle"),
    Choice(code="scooter", label="Scooter"),
    Choice(code="sidecar", label="Sidecar outfit"),
    Choice(code="atv", label="Quad or ATV"),
    Choice(code="kart", label="Kart"),
    Choice(code="land_yacht", label="Land yacht"),
    Choice(code="bicycle", label="Bicycle"),
    Choice(code="e_bike", label="Bicycle with assist motor"),
    Choice(code="velomobile", label="Velomobile"),
    Choice(code="cargo_trike", label="Cargo trike"),
    Choice(code="boat", label="Boat"),
    Choice(code="other", label="Other vehicle with a wheel"),
)
_METHODS = (
    Choice(code="marking", label="Size marking", hint="from the sidewall; 1 to 1.5 %"),
    Choice(code="chart", label="Cycle chart", hint="a row of the workshop's chart; about 0.7 %"),
    Choice(code="taped_circumference", label="Tape over the tread", hint="wheel lifted; about 0.8 %"),
    Choice(code="axle_height", label="Axle height", hint="loaded and lifted; about 0.5 %"),
    Choice(
        code="taped_diameter", label="Tape across, standing", hint="floor to top of the standing wheel; about 0.4 %"
    ),
    Choice(
        code="speed_derived", label="Comparison with true speed", hint="satellite or measured distance; 0.3 to 0.5 %"
    ),
    Choice(code="roll_out", label="Roll-out", hint="at working load and pressure; below 0.1 %"),
    Choice(code="entered", label="Known circumference", hint="a previous setting, or measured elsewhere"),
    Choice(code="paddle", label="Paddle constant", hint="pulses per nautical mile"),
    Choice(code="combined", label="All methods combined", hint="inverse-variance mean of every method entered"),
)
_ON_CYCLE_TYRES = ("land_yacht", "bicycle", "e_bike", "velomobile", "cargo_trike", "other")
_SPEED_BASES = (
    Choice(code="satellite_speed", label="Satellite speed against the display"),
    Choice(code="measured_distance", label="Measured distance against the display's"),
    Choice(code="timed_distance", label="Measured distance by the clock"),
)
_PLACES = (
    Choice(code="not_stated", label="Not said"),
    Choice(code="front_left", label="Front left wheel"),
    Choice(code="front_right", label="Front right wheel"),
    Choice(code="rear_left", label="Rear left wheel"),
    Choice(code="rear_right", label="Rear right wheel"),
    Choice(code="front", label="Front wheel or axle"),
    Choice(code="rear", label="Rear wheel or axle"),
    Choice(code="middle", label="Shaft or gearbox"),
    Choice(code="hull", label="Hull"),
)
_FACTORS = (
    Choice(code="auto", label="By tyre: 3.05 for radial car tyres, else π"),
    Choice(
        code="etrto_3_05",
        label="3.05 × diameter",
        hint="tyre manufacturers' value: a loaded radial rolls less than π·D",
    ),
    Choice(code="pi", label="π × diameter", hint="plain geometry"),
)
_SOURCES = (
    Choice(code="chart", label="Another printed chart", hint="0.7 %"),
    Choice(code="previous_setting", label="Previous setting", hint="2 %"),
    Choice(code="measured_elsewhere", label="Measured elsewhere", hint="0.3 %"),
)
_DRIVES = (
    Choice(code="hub", label="Hub, brake disc or rim", hint="turns with the wheel, 1:1"),
    Choice(
        code="axle_ratio",
        label="Driveshaft or gearbox output",
        hint="axle ratio: turns of the shaft per turn of the wheel",
    ),
    Choice(code="sprockets", label="Chain or belt shaft", hint="teeth at the wheel over teeth at the sensed shaft"),
    Choice(code="transfer_box", label="Transfer box", hint="high and low range between gearbox and axle"),
    Choice(code="hub_motor", label="Hub motor", hint="with or without gears inside"),
    Choice(code="cable", label="Mechanical cable", hint="drive gear on the shaft, driven gear on the cable"),
)
_TARGETS = (
    Choice(code="toothed_ring", label="Toothed ring"),
    Choice(code="slotted_disc", label="Slotted disc"),
    Choice(code="drilled_rotor", label="Drilled rotor"),
    Choice(code="multipole_ring", label="Multipole magnetic ring", hint="count pole pairs"),
    Choice(code="shaft_reluctor", label="Reluctor on a shaft"),
    Choice(code="bolt_heads", label="Bolt heads"),
    Choice(code="magnets", label="Single magnets", hint="on spokes, rotor or hub"),
    Choice(code="paddle_magnets", label="Paddle magnets"),
)
_MATERIALS = (
    Choice(code="steel", label="Steel"),
    Choice(code="cast_iron", label="Cast iron"),
    Choice(code="ferritic_stainless", label="Stainless, magnetic", hint="a magnet sticks to it"),
    Choice(code="austenitic_stainless", label="Stainless, not magnetic", hint="a magnet does not stick"),
    Choice(code="aluminium", label="Aluminium"),
    Choice(code="titanium", label="Titanium"),
    Choice(code="plastic", label="Plastic"),
)
_MAGNET_FORMS = (
    Choice(code="disc", label="Disc"),
    Choice(code="bolt", label="Bolt with a magnet"),
    Choice(code="bar", label="Bar"),
)
_MOUNTINGS = (
    Choice(code="spokes", label="On spokes"),
    Choice(code="rotor", label="In a brake rotor", hint="a magnetic bolt"),
    Choice(code="hub", label="On the hub"),
    Choice(code="glued", label="Glued to rim or shaft"),
)
_POLES = (
    Choice(code="unknown", label="Not known"),
    Choice(code="south", label="South to the sensor"),
    Choice(code="north", label="North to the sensor"),
)
_SPOTS = (
    Choice(code="unknown", label="Not known", hint="position in the body not known"),
    Choice(code="middle", label="Middle of the tip"),
    Choice(code="round", label="A round feature", hint="may be only the mounting bolt"),
    Choice(code="rectangle", label="A rectangular part", hint="often the element itself"),
    Choice(code="arrow", label="An arrow or line"),
    Choice(code="lower_edge", label="Its lower edge", hint="where a reed ends"),
)
_WIRE_ROLES = (
    Choice(code="unknown", label="Not known"),
    Choice(code="supply", label="Supply"),
    Choice(code="ground", label="Ground"),
    Choice(code="signal", label="Signal"),
    Choice(code="signal_return", label="Signal return", hint="the other wire of a coil"),
    Choice(code="second_signal", label="Second signal"),
    Choice(code="shield", label="Shield"),
)
_WHEELS_DRIVEN = (
    Choice(code="not_stated", label="Not said"),
    Choice(code="none", label="None"),
    Choice(code="one", label="One wheel"),
    Choice(code="two", label="Two wheels"),
    Choice(code="four", label="Four wheels"),
)
_CONDITIONERS = (
    Choice(code="comparator", label="Comparator", hint="square output, with threshold and hysteresis"),
    Choice(code="vr_converter", label="VR conditioner", hint="VR-to-square-wave"),
)
_SHIELDS = (
    Choice(code="none", label="No shield"),
    Choice(code="one_end", label="Grounded at one end", hint="at the reader"),
    Choice(code="both_ends", label="Grounded at both ends"),
)
_GAUGES = (
    Choice(code="electronic", label="Electronic gauge", hint="counts pulses"),
    Choice(code="mechanical", label="Mechanical gauge", hint="a motor turns its cable"),
)
_PAST_ENDS = (
    Choice(code="stops", label="The needle stops"),
    Choice(code="wraps", label="The needle drops to zero"),
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
    Choice(code="teeth", label="Open teeth", hint="sensed radially or axially"),
    Choice(code="slots", label="Slots in a closed rim", hint="sensed axially"),
    Choice(code="holes", label="Drilled holes", hint="sensed axially"),
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
        code=kind,
        label=words.label,
        hint=words.hint,
        wires=words.wires,
        lowest=words.lowest,
        watch=words.watch,
        sees=SEES[kind],
        paired=kind in PAIRED,
        facts=USUAL[kind],
    )


def _kinds_with(code: str, without: tuple[str, ...]) -> tuple[str, ...]:
    if code == "propeller":
        return ("boat",)
    return tuple(choice.code for choice in _VEHICLES if choice.code not in without)


def _start(vehicle_kind: str) -> Start:
    target_kind, sensor_kind, encoding = _STARTS.get(vehicle_kind, _USUAL)
    return Start(vehicle_kind=vehicle_kind, target_kind=target_kind, sensor_kind=sensor_kind, encoding=encoding)


@cache
def catalogue() -> Catalogue:
    """Every choice with its words.

    >>> [choice.code for choice in catalogue().drive_kinds]
    ['hub', 'axle_ratio', 'sprockets', 'transfer_box', 'hub_motor', 'cable']
    """
    return Catalogue(
        purposes=PURPOSES,
        vehicle_kinds=_VEHICLES,
        wheel_methods=tuple(
            MethodChoice(code=one.code, label=one.label, hint=one.hint, vehicle_kinds=_kinds_for(one.code))
            for one in _METHODS
        ),
        factors=_FACTORS,
        sources=_SOURCES,
        drive_kinds=_DRIVES,
        target_kinds=_TARGETS,
        sensors=tuple(_sensor(kind) for kind in SEES),
        encodings=tuple(
            EncodingChoice(
                code=e.code,
                label=e.label,
                unit=e.kind.unit_words,
                minimum=e.minimum,
                maximum=e.maximum,
                step=e.step,
                per_turn=e.per_turn,
                geared=e.geared,
                based=e.based,
            )
            for e in ENCODINGS.values()
        )
        + (
            EncodingChoice(
                code="custom",
                label="Custom format",
                unit="",
                minimum=1,
                maximum=999_999,
                step=1,
                per_turn=False,
                geared=False,
                based=False,
            ),
        ),
        tests=tuple(TestChoice(code=test, label=label, proves=VERIFIES[test]) for test, label in _TESTS.items()),
        accepted_markings=ACCEPTED,
        common_sizes=common_sizes(),
        guides=tuple(GUIDES.values()),
        bands=(
            *[Choice(code=band.code, label=band.label, hint=band.source) for band in BANDS.values()],
            Choice(code="none", label="None"),
        ),
        places=_PLACES,
        speed_bases=_SPEED_BASES,
        starts=tuple(_start(choice.code) for choice in _VEHICLES),
        materials=_MATERIALS,
        magnet_forms=_MAGNET_FORMS,
        mountings=_MOUNTINGS,
        poles=_POLES,
        spots=_SPOTS,
        wire_roles=_WIRE_ROLES,
        wheels_driven=_WHEELS_DRIVEN,
        conditioners=_CONDITIONERS,
        shields=_SHIELDS,
        converter_drives=_GAUGES,
        past_ends=_PAST_ENDS,
        series=tuple(Choice(code=code, label=f"{code}, ± {pct:g} %") for code, pct in TOLERANCE_PCT.items()),
        outputs=tuple(Choice(code=code, label=label) for code, label in OUTPUTS.items()),
        clearances=tuple(
            ClearanceChoice(code=code, label=label, vehicle_kinds=_kinds_with(code, without))
            for code, label, without in _CLEARANCES
        ),
        cut_forms=_CUT_FORMS,
        ring_targets=(*FERROUS, "multipole_ring"),
        glossary=TERMS,
    )
