"""The words for every choice in the installation document, and the encodings and proofs, as data for any front."""

from __future__ import annotations

from functools import cache

from speedchain.advice import GUIDES, Guide
from speedchain.document import WHEELS_DRIVEN, titles_by_path
from speedchain.drive import BOX_SIDES, DRIVE_KINDS, MOTOR_SIDES, PER, RANGES, RATIO_BASES
from speedchain.fields import (
    EVIDENCES,
    OUTCOMES,
    PURPOSES,
    SENSED_AT,
    STAGE_LABELS,
    VEHICLE_KINDS,
    VERIFIES,
    Choice,
    PurposeAdvice,
    StageName,
    Test,
    Words,
    codes_of,
    label_of,
)
from speedchain.glossary import TERMS, Term
from speedchain.placement import CLEARANCES, GAP_BASES, NO_CLEARANCE
from speedchain.readout import ENCODINGS, ENTRIES, PAST_ENDS, RIDE_OUTCOMES, TIMING_METHODS
from speedchain.regulations import SPEEDOMETER_RULES
from speedchain.results import shared
from speedchain.sensor import OUTPUTS, PAIRED, SEES, SPOT_FEATURES, USUAL, WIRE_ROLES, WORDS, Facts, SensorKind
from speedchain.signal import CONDITIONERS, GAUGES, SERIES, SHIELDS
from speedchain.target import (
    COUNT_BASES,
    CUT_FORMS,
    MAGNET_FORMS,
    MATERIALS,
    MOUNTINGS,
    POLES,
    RING_FORMS,
    RING_TARGETS,
    TARGET_KINDS,
)
from speedchain.wheel import ACCEPTED, FACTORS, SOURCES, SPEED_BASES, WHEEL_METHODS, SizeGroup, common_sizes


@shared
class MethodChoice:
    """A method for the circumference, and the kinds of vehicle it makes sense on."""

    code: str
    label: str
    hint: Words
    vehicle_kinds: tuple[str, ...]


@shared
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


@shared
class TestChoice:
    """A test, the stages it can verify, and the kinds of vehicle on which it can be done."""

    code: Test
    label: str
    proves: tuple[StageName, ...]
    vehicle_kinds: tuple[str, ...]


@shared
class SensorChoice:
    """A kind of sensor and the targets it can see."""

    code: str
    label: str
    hint: Words
    wires: str
    lowest: Words
    watch: Words
    sees: tuple[str, ...]
    paired: bool
    facts: Facts


@shared
class ClearanceChoice:
    """Something to check for clearance, and the kinds of vehicle that have it."""

    code: str
    label: str
    vehicle_kinds: tuple[str, ...]


@shared
class Start:
    """What is usual on a kind of vehicle: where a new installation starts from. Common practice."""

    vehicle_kind: str
    target_kind: str
    sensor_kind: str
    encoding: str


@shared
class FieldTitle:
    """What a field of the document is called; its path has no places in lists."""

    path: str
    title: str


@shared
class Catalogue:
    """All choices, and the title of every field by its path."""

    titles: tuple[FieldTitle, ...]
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
    entries: tuple[Choice, ...]
    ride_outcomes: tuple[Choice, ...]
    series: tuple[Choice, ...]
    outputs: tuple[Choice, ...]
    clearances: tuple[ClearanceChoice, ...]
    cut_forms: tuple[Choice, ...]
    ratio_bases: tuple[Choice, ...]
    ranges: tuple[Choice, ...]
    box_sides: tuple[Choice, ...]
    motor_sides: tuple[Choice, ...]
    turns_per: tuple[Choice, ...]
    count_bases: tuple[Choice, ...]
    ring_forms: tuple[Choice, ...]
    timing_methods: tuple[Choice, ...]
    gap_bases: tuple[Choice, ...]
    outcomes: tuple[Choice, ...]
    evidences: tuple[Choice, ...]
    stages: tuple[Choice, ...]
    ring_targets: tuple[str, ...]
    glossary: tuple[Term, ...]


_ON_CYCLE_TYRES = ("land_yacht", "bicycle", "e_bike", "velomobile", "cargo_trike", "other")
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


def _kinds_tested(test: Test) -> tuple[str, ...]:
    """The road is for what rolls, the water for what floats."""
    kinds = tuple([choice.code for choice in VEHICLE_KINDS])
    match test:
        case "water":
            return ("boat",)
        case "road" | "measured_distance":
            return tuple([kind for kind in kinds if kind != "boat"])
        case _:
            return kinds


def _kinds_for(method: str) -> tuple[str, ...]:
    """A paddle is for boats, the cycle chart for cycle tyres; what is known already is for all."""
    kinds = tuple(choice.code for choice in VEHICLE_KINDS)
    match method:
        case "entered":
            return kinds
        case "paddle":
            return ("boat",)
        case "chart":
            return _ON_CYCLE_TYRES
        case _:
            return tuple([kind for kind in kinds if kind != "boat"])


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


def _kinds_with(code: str) -> tuple[str, ...]:
    if code == "propeller":
        return ("boat",)
    without = NO_CLEARANCE.get(code, ())  # type: ignore[call-overload]
    return tuple(choice.code for choice in VEHICLE_KINDS if choice.code not in without)


def _start(vehicle_kind: str) -> Start:
    target_kind, sensor_kind, encoding = _STARTS.get(vehicle_kind, _USUAL)
    return Start(vehicle_kind=vehicle_kind, target_kind=target_kind, sensor_kind=sensor_kind, encoding=encoding)


@cache
def catalogue() -> Catalogue:
    """Every choice with its words.

    Examples
    --------
    >>> [choice.code for choice in catalogue().drive_kinds]
    ['hub', 'axle_ratio', 'sprockets', 'transfer_box', 'hub_motor', 'cable']
    """
    return Catalogue(
        titles=tuple([FieldTitle(path=path, title=title) for path, title in titles_by_path().items()]),
        purposes=PURPOSES,
        vehicle_kinds=VEHICLE_KINDS,
        wheel_methods=tuple(
            MethodChoice(code=item.code, label=item.label, hint=item.hint, vehicle_kinds=_kinds_for(item.code))
            for item in WHEEL_METHODS
        ),
        factors=FACTORS,
        sources=SOURCES,
        drive_kinds=DRIVE_KINDS,
        target_kinds=TARGET_KINDS,
        sensors=tuple(_sensor(kind) for kind in SEES),
        encodings=tuple(
            EncodingChoice(
                code=e.code,
                label=e.label,
                unit=e.kind.unit_name,
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
        tests=tuple(
            TestChoice(
                code=test, label=label_of(test, codes_of(Test)), proves=proves, vehicle_kinds=_kinds_tested(test)
            )
            for test, proves in VERIFIES.items()
        ),
        accepted_markings=ACCEPTED,
        common_sizes=common_sizes(),
        guides=tuple(GUIDES.values()),
        bands=SPEEDOMETER_RULES,
        places=SENSED_AT,
        speed_bases=SPEED_BASES,
        starts=tuple(_start(choice.code) for choice in VEHICLE_KINDS),
        materials=MATERIALS,
        magnet_forms=MAGNET_FORMS,
        mountings=MOUNTINGS,
        poles=POLES,
        spots=SPOT_FEATURES,
        wire_roles=WIRE_ROLES,
        wheels_driven=WHEELS_DRIVEN,
        conditioners=CONDITIONERS,
        shields=SHIELDS,
        converter_drives=GAUGES,
        past_ends=PAST_ENDS,
        entries=ENTRIES,
        ride_outcomes=RIDE_OUTCOMES,
        series=SERIES,
        outputs=OUTPUTS,
        clearances=tuple(
            ClearanceChoice(code=item.code, label=item.label, vehicle_kinds=_kinds_with(item.code))
            for item in CLEARANCES
        ),
        cut_forms=CUT_FORMS,
        ratio_bases=RATIO_BASES,
        ranges=RANGES,
        box_sides=BOX_SIDES,
        motor_sides=MOTOR_SIDES,
        turns_per=PER,
        count_bases=COUNT_BASES,
        ring_forms=RING_FORMS,
        timing_methods=TIMING_METHODS,
        gap_bases=GAP_BASES,
        outcomes=OUTCOMES,
        evidences=EVIDENCES,
        stages=STAGE_LABELS,
        ring_targets=RING_TARGETS,
        glossary=TERMS,
    )
