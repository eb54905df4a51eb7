"""The words for every choice in the installation document, and the encodings and proofs, as data for any front."""

from __future__ import annotations

from collections.abc import Mapping
from functools import cache
from typing import Any, get_args

from speedchain.document import DocumentField, fields_by_path
from speedchain.fields import (
    EVIDENCES,
    PURPOSES,
    STAGE_LABELS,
    VEHICLE_KINDS,
    VERIFIES,
    Choice,
    PurposeAdvice,
    SensedAt,
    StageName,
    Test,
    VehicleKind,
    Words,
    codes_of,
    label_of,
    places_on,
)
from speedchain.glossary import TERMS, Term
from speedchain.placement import CLEARANCES, NO_CLEARANCE
from speedchain.readout import ENCODINGS
from speedchain.results import result
from speedchain.sensor import PAIRED, SEES, USUAL, WORDS, Facts, SensorKind, facts_asked
from speedchain.target import (
    RING_TARGETS,
)
from speedchain.wheel import ACCEPTED, WHEEL_METHODS, SizeGroup, common_sizes


@result
class MethodChoice:
    """A method for the circumference, and the kinds of vehicle it makes sense on."""

    code: str
    label: Words
    hint: Words
    vehicle_kinds: tuple[str, ...]
    measured: bool


@result
class EncodingChoice:
    """A way of typing the setting in, with its usual range, and the entries of a readout that it needs as they
    begin."""

    code: str
    label: Words
    unit: Words
    minimum: float
    maximum: float
    step: float
    per_turn: bool
    geared: bool
    based: bool
    start: Mapping[str, Any]


@result
class TestChoice:
    """A test, the stages it can verify, and the kinds of vehicle on which it can be done."""

    code: Test
    label: Words
    proves: tuple[StageName, ...]
    vehicle_kinds: tuple[str, ...]


@result
class SensorChoice:
    """A kind of sensor and the targets it can see."""

    code: str
    label: Words
    hint: Words
    wires: Words
    lowest: Words
    watch: Words
    sees: tuple[str, ...]
    paired: bool
    facts: Facts
    asked: tuple[str, ...]
    """The facts that matter for this kind, in the order in which they are shown."""
    usual_offset: Words
    usual_clocking: str


@result
class ClearanceChoice:
    """Something to check for clearance, and the kinds of vehicle that have it."""

    code: str
    label: Words
    vehicle_kinds: tuple[str, ...]


@result
class Start:
    """What is usual on a kind of vehicle: where a new installation starts from. Common practice."""

    vehicle_kind: str
    places: tuple[SensedAt, ...]
    target_kind: str
    sensor_kind: str
    encoding: str
    check_speed: str
    check_speed_mph: str
    display_step: str
    display_step_mph: str


@result
class Catalogue:
    """Every field of the document with its choices, and the choices about which more is known."""

    fields: tuple[DocumentField, ...]
    purposes: tuple[PurposeAdvice, ...]
    wheel_methods: tuple[MethodChoice, ...]
    sensors: tuple[SensorChoice, ...]
    encodings: tuple[EncodingChoice, ...]
    tests: tuple[TestChoice, ...]
    accepted_markings: Words
    common_sizes: tuple[SizeGroup, ...]
    starts: tuple[Start, ...]
    clearances: tuple[ClearanceChoice, ...]
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


_CHECK_SPEEDS = {
    "boat": "10 kn",
    "bicycle": "25",
    "e_bike": "25",
    "cargo_trike": "25",
    "velomobile": "40",
    "scooter": "45",
    "land_yacht": "60",
    "kart": "60",
    "atv": "60",
}
"""The true speed at which a new installation is looked at first, in km/h or with its unit. Common practice."""
_CHECK_SPEEDS_MPH = {
    "boat": "10 kn",
    "bicycle": "15 mph",
    "e_bike": "15 mph",
    "cargo_trike": "15 mph",
    "velomobile": "25 mph",
    "scooter": "30 mph",
    "land_yacht": "40 mph",
    "kart": "40 mph",
    "atv": "40 mph",
}
"""The same for those who read miles: a round number of theirs."""
MEASURED = frozenset({"taped_diameter", "axle_height", "taped_circumference", "roll_out", "speed_derived"})
"""Methods that somebody does on a day: who and when is kept with them."""
_FORMAT_STARTS: Mapping[str, Mapping[str, Any]] = {
    "percent_correction": {"base_pulses_per_km": ""},
    "frequency_table": {"table": [{"speed_kmh": 40}, {"speed_kmh": 80}, {"speed_kmh": 120}]},
    "chart_code": {"codes": [{"code": "1", "circumference_mm": ""}]},
    "custom": {"custom": {"label": "Custom"}},
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
        asked=facts_asked(kind),
        usual_offset="its end at the magnet" if kind == "reed" else "0",
        usual_clocking="0" if kind in PAIRED else "90",
    )


def _kinds_with(code: str) -> tuple[str, ...]:
    if code == "propeller":
        return ("boat",)
    without = NO_CLEARANCE.get(code, ())  # type: ignore[call-overload]
    return tuple(choice.code for choice in VEHICLE_KINDS if choice.code not in without)


def _start(vehicle_kind: VehicleKind) -> Start:
    target_kind, sensor_kind, encoding = _STARTS.get(vehicle_kind, _USUAL)
    return Start(
        vehicle_kind=vehicle_kind,
        places=places_on(vehicle_kind),
        target_kind=target_kind,
        sensor_kind=sensor_kind,
        encoding=encoding,
        check_speed=_CHECK_SPEEDS.get(vehicle_kind, "100"),
        check_speed_mph=_CHECK_SPEEDS_MPH.get(vehicle_kind, "60 mph"),
        display_step="0.1 kn" if vehicle_kind == "boat" else "1",
        display_step_mph="0.1 kn" if vehicle_kind == "boat" else "1 mph",
    )


@cache
def catalogue() -> Catalogue:
    """Every choice with its words.

    Examples
    --------
    >>> kinds = next(field for field in catalogue().fields if field.path == "drive.kind")
    >>> [choice.code for choice in kinds.choices]
    ['hub', 'axle_ratio', 'sprockets', 'transfer_box', 'hub_motor', 'cable']
    """
    return Catalogue(
        fields=tuple(fields_by_path().values()),
        purposes=PURPOSES,
        wheel_methods=tuple(
            MethodChoice(
                code=item.code,
                label=item.label,
                hint=item.hint,
                vehicle_kinds=_kinds_for(item.code),
                measured=item.code in MEASURED,
            )
            for item in WHEEL_METHODS
        ),
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
                start=_FORMAT_STARTS.get(e.code, {}),
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
                start=_FORMAT_STARTS["custom"],
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
        starts=tuple(_start(kind) for kind in get_args(VehicleKind)),
        clearances=tuple(
            ClearanceChoice(code=item.code, label=item.label, vehicle_kinds=_kinds_with(item.code))
            for item in CLEARANCES
        ),
        evidences=EVIDENCES,
        stages=STAGE_LABELS,
        ring_targets=RING_TARGETS,
        glossary=TERMS,
    )
