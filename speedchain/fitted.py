"""What is fitted: the facts of an installation on which its steps, tests, causes, symptoms and cautions depend, and the
words for its parts. Derived here alone; the rules only name them."""

from __future__ import annotations

from collections.abc import Mapping
from functools import lru_cache
from typing import Literal, NamedTuple

from speedchain.document import Installation
from speedchain.drive import DriveKind
from speedchain.fields import Purpose, VehicleKind, Words, text_of
from speedchain.sensor import NO_TARGET, Output, SensorKind, facts_of
from speedchain.target import TargetKind

Fact = Literal[
    # the vehicle
    "afloat", "on_wheels", "cycle", "e_bike", "two_wheels", "car", "road", "key", "engine", "machine", "lifted",
    "rolls",
    "steered", "tyre", "assisted", "limited", "own_battery", "fault_codes",
    # the target
    "teeth", "ring", "magnets", "several", "spokes", "rotor_magnet", "brakes_near", "multipole", "several_magnets",
    "poles",
    # the sensor and where it sits
    "no_target", "powered", "single_element", "wires", "radio", "active", "reed", "coil", "two_wires", "pull_up",
    "bolted",
    "gap", "by_steel", "by_magnet", "named_wires", "hub_target", "geared", "driven_shaft", "differential", "on_hull",
    "sealed_paddle",
    # the signal and the readers
    "conditioner", "converter", "converted", "typed", "learned", "fixed", "several_readouts", "length_setting",
    "shielded", "noisy",
    # what it is for
    "brake_control", "slip_control", "several_corners", "permanent_feed", "placed", "sine", "shared", "labelled",
]  # fmt: skip
CYCLES: tuple[VehicleKind, ...] = ("bicycle", "e_bike", "velomobile", "cargo_trike")
ENGINES: tuple[VehicleKind, ...] = ("car", "motorcycle", "scooter", "sidecar", "atv", "boat", "kart")
KEYS: tuple[VehicleKind, ...] = ("car", "motorcycle", "scooter", "sidecar", "atv")
TWO_WHEELS: tuple[VehicleKind, ...] = ("motorcycle", "scooter", "sidecar")
ON_THE_ROAD: tuple[VehicleKind, ...] = ("car", "motorcycle", "scooter", "sidecar")
OWN_BATTERY: tuple[VehicleKind, ...] = ("bicycle", "velomobile", "cargo_trike", "land_yacht")
"""Kinds whose display has a battery of its own. Common practice."""
TEETH: tuple[TargetKind, ...] = (
    "toothed_ring", "slotted_disc", "drilled_rotor", "multipole_ring", "shaft_reluctor", "bolt_heads",
)  # fmt: skip
SHAFTS: tuple[DriveKind, ...] = ("axle_ratio", "transfer_box", "sprockets")
BY_STEEL: tuple[SensorKind, ...] = ("variable_reluctance", "hall_gear_tooth", "hall_differential", "magnetoresistive")
"""Sensors that answer a piece of steel."""
BY_MAGNET: tuple[SensorKind, ...] = ("reed", "hall_switch")
LENGTHS = ("circumference", "metres", "mm_per", "teeth_and_diameter")


class _Known(NamedTuple):
    """What the facts follow from; few combinations, so that they are looked up."""

    vehicle: VehicleKind
    purpose: Purpose
    rolls: bool
    tyre: bool
    drive: DriveKind
    driven: bool
    target: TargetKind
    several: bool
    mounted: str
    laced: bool
    sensor: SensorKind
    output: Output
    supply: bool
    named_wires: bool
    hull: bool
    conditioner: bool
    converter: bool
    analogue: bool
    readers: tuple[tuple[str, str], ...]
    permanent_feed: bool
    shared: bool
    placed: bool
    labelled: bool


def fitted(installation: Installation) -> frozenset[Fact]:
    """The facts that hold of an installation.

    Examples
    --------
    >>> from speedchain.document.installation import example_installation
    >>> found = fitted(example_installation())
    >>> "teeth" in found, "afloat" in found, "key" in found
    (True, False, True)
    """
    target, wheel = installation.target, installation.wheel
    wheeled = wheel.marking is not None or wheel.method == "roll_out" or wheel.construction != "auto"
    rolls = installation.vehicle_kind != "boat" and (installation.vehicle_kind != "other" or wheeled)
    return _facts(
        _Known(
            vehicle=installation.vehicle_kind,
            purpose=installation.purpose,
            rolls=rolls,
            tyre=rolls and wheel.construction != "solid",
            drive=installation.drive.kind,
            driven=installation.drive.driven,
            target=target.kind,
            several=target.count > 1,
            mounted="" if target.magnets is None else target.magnets.mounted,
            laced=target.spokes is not None,
            sensor=installation.sensor.kind,
            output=facts_of(installation.sensor).output,
            supply=facts_of(installation.sensor).supply_max_v > 0,
            named_wires=bool(installation.sensor.wires),
            hull=installation.sensed_at == "hull",
            conditioner=installation.signal.conditioner is not None,
            converter=installation.signal.converter is not None,
            analogue=installation.signal.analogue is not None,
            readers=tuple([(readout.entry, readout.encoding) for readout in installation.readouts]),
            permanent_feed=installation.signal.lead.permanent_feed,
            shared=installation.signal.lead.shared,
            placed=installation.placement is not None,
            labelled=bool(installation.part_labels),
        )
    )


@lru_cache(maxsize=512)
def _facts(known: _Known) -> frozenset[Fact]:
    kind, sensor = known.vehicle, known.sensor
    afloat, cycle, machine = kind == "boat", kind in CYCLES, kind == "other" and not known.rolls
    blind, radio = sensor in NO_TARGET, known.output == "radio"
    magnets, hub = known.target == "magnets" and not blind, known.drive == "hub"
    teeth = known.target in TEETH and not blind
    rotor = magnets and known.mounted == "rotor"
    entries = {entry for entry, _ in known.readers}
    found: dict[Fact, bool] = {
        "afloat": afloat,
        "on_wheels": not afloat,
        "cycle": cycle,
        "e_bike": kind == "e_bike",
        "two_wheels": kind in TWO_WHEELS,
        "car": kind == "car",
        "road": kind in ON_THE_ROAD,
        "key": kind in KEYS,
        "engine": kind in ENGINES,
        "machine": machine,
        "lifted": not afloat and not machine,
        "rolls": known.rolls,
        "steered": known.rolls and hub,
        "tyre": known.tyre,
        "assisted": kind == "e_bike",
        "limited": kind in (*KEYS, "e_bike", "cargo_trike"),
        "own_battery": kind in OWN_BATTERY,
        "fault_codes": kind in ("e_bike", "car") or known.purpose == "brake_control",
        "teeth": teeth,
        "ring": teeth and known.target not in ("bolt_heads", "drilled_rotor"),
        "magnets": magnets,
        "several": known.several and not blind,
        "spokes": magnets and hub and not rotor and (known.laced or known.mounted in ("", "spokes")) and not machine,
        "rotor_magnet": rotor,
        "brakes_near": not afloat and not machine and hub and (rotor or teeth),
        "multipole": known.target == "multipole_ring" and not blind,
        "several_magnets": magnets and known.several,
        "poles": (known.target == "multipole_ring" and not blind) or (magnets and known.several),
        "no_target": blind,
        "powered": sensor != "inertial",
        "single_element": sensor == "hall_gear_tooth",
        "wires": not radio,
        "radio": radio,
        "named_wires": known.named_wires and not radio,
        "active": known.supply and sensor != "reed" and not radio,
        "reed": sensor == "reed",
        "coil": sensor == "variable_reluctance",
        "two_wires": sensor in ("reed", "variable_reluctance"),
        "pull_up": known.output == "open_collector",
        "bolted": not cycle and not afloat,
        "gap": not blind and not afloat,
        "by_steel": sensor in BY_STEEL,
        "by_magnet": sensor in BY_MAGNET,
        "hub_target": hub,
        "geared": not hub,
        "driven_shaft": known.drive in SHAFTS,
        "differential": known.drive in ("axle_ratio", "transfer_box", "cable") and known.driven,
        "on_hull": afloat and known.hull,
        "sealed_paddle": sensor == "paddlewheel",
        "conditioner": known.conditioner,
        "converter": known.converter,
        "converted": known.converter or known.analogue,
        "typed": "typed" in entries,
        "learned": "learned" in entries,
        "fixed": "fixed" in entries,
        "several_readouts": len(known.readers) > 1,
        "length_setting": any(encoding.startswith(LENGTHS) for _, encoding in known.readers),
        "noisy": kind in (*ENGINES, "e_bike", "other"),
        "shielded": not radio and not (cycle and sensor == "reed"),
        "brake_control": known.purpose == "brake_control",
        "slip_control": known.purpose == "slip_control",
        "permanent_feed": known.permanent_feed,
        "shared": known.shared,
        "placed": known.placed,
        "labelled": known.labelled,
        "sine": known.output == "sine",
        "several_corners": known.purpose in ("brake_control", "slip_control"),
    }
    return frozenset([fact for fact, holds in found.items() if holds])


ONE: Mapping[TargetKind, Words] = {
    "toothed_ring": text_of("tooth"),
    "slotted_disc": text_of("slot"),
    "drilled_rotor": text_of("hole"),
    "multipole_ring": text_of("pole"),
    "shaft_reluctor": text_of("tooth"),
    "bolt_heads": "bolt head",
    "magnets": text_of("magnet"),
    "paddle_magnets": text_of("magnet"),
}
"""One of what the sensor counts."""
SEVERAL: Mapping[TargetKind, Words] = {
    "toothed_ring": text_of("teeth"),
    "slotted_disc": text_of("slots"),
    "drilled_rotor": text_of("holes"),
    "multipole_ring": text_of("poles"),
    "shaft_reluctor": text_of("teeth"),
    "bolt_heads": "bolt heads",
    "magnets": text_of("magnets"),
    "paddle_magnets": text_of("magnets"),
}
TARGETS: Mapping[TargetKind, Words] = {
    "toothed_ring": text_of("ring"),
    "slotted_disc": "slotted disc",
    "drilled_rotor": "drilled rotor",
    "multipole_ring": "magnetic ring",
    "shaft_reluctor": "ring on the shaft",
    "bolt_heads": "bolt heads",
    "magnets": text_of("magnet"),
    "paddle_magnets": text_of("paddle"),
}


Drawn = Literal["teeth", "slots", "holes", "poles", "bolts", "magnet", "paddle", "none"]
"""How what passes the sensor is drawn."""
DRAWN: Mapping[TargetKind, Drawn] = {
    "toothed_ring": "teeth", "slotted_disc": "slots", "drilled_rotor": "holes", "multipole_ring": "poles",
    "shaft_reluctor": "teeth", "bolt_heads": "bolts", "magnets": "magnet", "paddle_magnets": "paddle",
}  # fmt: skip


def drawn_as(installation: Installation) -> Drawn:
    """What passes the sensor, as it is drawn.

    Examples
    --------
    >>> from speedchain.document.installation import example_installation
    >>> drawn_as(example_installation())
    'teeth'
    """
    return "none" if installation.sensor.kind in NO_TARGET else DRAWN[installation.target.kind]


FIRM: Mapping[VehicleKind, Words] = {
    "car": "pedal firm",
    "kart": "pedal firm",
    "land_yacht": "the brake holds",
}
"""What firm brakes are, where it is not a lever and a pedal."""


def applies(when: tuple[Fact, ...], unless: tuple[Fact, ...], facts: frozenset[Fact]) -> bool:
    """Whether a rule applies: where all of `when` hold and none of `unless`.

    Examples
    --------
    >>> applies(("cycle",), ("e_bike",), frozenset(["cycle"])), applies(("cycle",), (), frozenset())
    (True, False)
    """
    return facts.issuperset(when) and facts.isdisjoint(unless)


def worded(text: Words, words: Mapping[str, Words]) -> Words:
    """A text with the words of an installation in the places that it names.

    Examples
    --------
    >>> str(worded("Turn the {turned} once.", {"turned": "paddle", "one": "magnet"}))
    'Turn the paddle once.'
    """
    used = {name: there for name, there in words.items() if f"{{{name}}}" in text}
    return text_of(text, **used) if used else text


def words_for(installation: Installation) -> dict[str, Words]:
    """The words for the parts of an installation, by the names that stand in texts: {one}, {turned} …

    Examples
    --------
    >>> from speedchain.document.installation import example_installation
    >>> found = words_for(example_installation())
    >>> found["one"], found["turned"], found["passed"]
    ('tooth', 'wheel', 'a piece of steel')
    """
    facts, kind = fitted(installation), installation.target.kind
    return {
        "one": ONE[kind],
        "ones": SEVERAL[kind],
        "target": text_of("sensor") if "no_target" in facts else TARGETS[kind],
        "turned": _first(facts, afloat=text_of("paddle"), machine="wheel or roller", rest=text_of("wheel")),
        "passed": _first(facts, by_steel="a piece of steel", rest="a magnet")
        if installation.sensor.kind != "optical"
        else "a strip of card",
        "bring": text_of("Bring the {0} that comes nearest to the sensor", ONE[kind])
        if "several" in facts
        else text_of("Bring the {0} to the sensor", ONE[kind]),
        "again": "Turn on by half a turn and measure again." if "several" in facts
            else "Turn it once round and measure again.",
        "do_not_drive": _first(
            facts, afloat="Do not sail", machine="Do not run it", cycle="Do not ride", two_wheels="Do not ride",
            rest="Do not drive"
        ),
        "off": _first(
            facts, afloat="Engine off, key out.", machine="Machine switched off and locked against starting.",
            e_bike="Bicycle switched off, battery out.",
            cycle="Bicycle in a stand.", key="Stop, key out.", rest="Stop; it cannot roll.",
        ),
        "free": _first(
            facts, afloat="Ashore, reach the paddle from outside, the propeller made safe.",
            machine="Lock the machine against starting; turn it by hand.",
            rest="Raise the wheel so that it turns free.",
        ),
        "parts": "battery and strap" if "no_target" in facts else "battery and fixing" if "radio" in facts
            else "lead and connector",
        "still": _first(
            facts, afloat="Boat moored, gear in neutral, display on.", machine="Machine stands still, display on.",
            rest="Vehicle stands, transmission in neutral, display on.",
        ),
        "raise": _first(
            facts, afloat="Turn the paddle evenly, once a second.", machine="Turn it by hand, evenly, once a second.",
            rest="Raise the wheel; turn it evenly, once a second.",
        ),
        "lift": "Lift the wheel so that it turns free." if "cycle" in facts
            else "Lift the wheel: it stands firm when you push it.",
        "find_first": _first(
            facts, afloat="Find the fault first.", cycle="Do not ride: find the fault first.",
            machine="Do not run it: find the fault first.",
            two_wheels="Do not ride, and torque nothing: find the fault first.",
            rest="Do not drive, and torque nothing: find the fault first.",
        ),
        "clear_of": _first(
            facts, afloat="propeller and moving parts", machine="everything that turns",
            cycle="spokes, chain, disc and handlebar",
            two_wheels="wheel, chain, disc and steering", engine="wheel, driveshaft, disc and steering",
            rest="wheel and steering",
        ),
        "firm": FIRM.get(installation.vehicle_kind, "levers firm" if "cycle" in facts else "lever and pedal firm"),
        "driver": _first(
            facts, two_wheels="The rider operates nothing; a logger or phone records.",
            rest="The driver operates nothing; a passenger or the logger records.",
        ),
        "feed": _first(facts, own_battery="lead and battery", rest="plug, wire and supply"),
        "reading": _first(
            facts, cycle="Record it with phone or logger and read it afterwards.",
            two_wheels="A logger records the display.", rest="A passenger or a logger watches the display."
        ),
        "resistance": "With a magnet before it, then without." if "reed" in facts else "Compare with its data sheet.",
        "clean": _first(
            facts, afloat="Remove growth and dirt until the paddle turns free.",
            no_target="Clean the sensor and its battery's contacts.",
            rest=text_of("Clean {0} and sensor; no chips of metal on any magnet.", TARGETS[kind]),
        ),
        "gone": _first(
            facts, brake_control="brake control reports a fault",
            e_bike="nothing is shown and the motor stops helping", rest="the display shows nothing",
        ),
    }  # fmt: skip


def _first(facts: frozenset[Fact], *, rest: Words, **by_fact: Words) -> Words:
    """The words of the first fact that holds, else the rest."""
    return next((words for fact, words in by_fact.items() if fact in facts), rest)
