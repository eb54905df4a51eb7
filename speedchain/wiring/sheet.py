"""The wiring sheet of an installation, and the order sheet a supplier of looms or controllers asks for."""

from __future__ import annotations

from collections.abc import Mapping
from typing import assert_never

from speedchain.advice import cautions_of
from speedchain.document import Installation, fields_by_path
from speedchain.drive import DriveKind
from speedchain.evaluation import Evaluation
from speedchain.fields import PartLabel, Words, codes_of, joined, label_of, text_of
from speedchain.fitted import Fact, fitted, words_for
from speedchain.results import result
from speedchain.sensor import WORDS, Output, Wire, WireRole, facts_of, supply_fits

USUAL_WIRES: Mapping[Output, tuple[WireRole, ...]] = {
    "sine": ("signal", "signal_return"),
    "contact": ("signal", "ground"),
    "two_wire_current": ("supply", "signal"),
    "open_collector": ("supply", "ground", "signal"),
    "push_pull": ("supply", "ground", "signal"),
    "radio": (),
}


@result
class WireRow:
    """One wire: its pin, colour as tested, what it is, where it goes, and what belongs to it."""

    pin: str
    colour: str
    role: Words
    goes_to: Words
    with_it: Words


@result
class Question:
    """What a supplier asks, and the answer of this installation; `known` is False where somebody has to look."""

    asked: Words
    answer: Words
    known: bool


@result
class WiringSheet:
    """Wires, what to mind, cautions, and the order sheet."""

    title: Words
    wires: tuple[WireRow, ...]
    notes: tuple[Words, ...]
    cautions: tuple[Words, ...]
    order: tuple[Question, ...]


def wiring_sheet(installation: Installation, evaluation: Evaluation) -> WiringSheet:
    """Pins, colours as tested, resistors, twisted pair, shield, ground, fuse and plug; then the order sheet.

    References
    ----------
    Common practice.

    Examples
    --------
    >>> from speedchain.evaluation import evaluate

    >>> from speedchain.document.installation import example_installation
    >>> sheet = wiring_sheet(example_installation(), evaluate(example_installation()))
    >>> [row.role for row in sheet.wires]
    ['Supply', 'Ground', 'Signal']
    """
    output = facts_of(installation.sensor).output
    wires = installation.sensor.wires or tuple([Wire(colour="not noted", role=role) for role in USUAL_WIRES[output]])
    rows = tuple([_row(installation, evaluation, place, wire) for place, wire in enumerate(wires, start=1)])
    return WiringSheet(
        title=text_of("{0}: wiring", installation.name),
        wires=rows,
        notes=_notes(installation, output),
        cautions=_cautions(installation),
        order=_order(installation, evaluation),
    )


def _row(installation: Installation, evaluation: Evaluation, place: int, wire: Wire) -> WireRow:
    signal, lead = installation.signal, installation.signal.lead
    first = installation.readouts[0].name
    device = "the conditioner" if signal.conditioner else "the ratio converter" if signal.converter else first
    goes, with_it = text_of("{0}, signal in", device), ""
    match wire.role:
        case "supply":
            fuse = text_of("fuse {0:g} A at the battery", lead.fuse_a) if lead.fuse_a else "fuse it at the battery"
            goes, with_it = text_of("{0}, regulated", _supply(installation)), fuse
        case "ground":
            goes, with_it = text_of("sensor ground of {0}", device), "never to the chassis at the wheel"
        case "shield":
            goes, with_it = text_of("ground of {0}, this end only", device), "insulated at the sensor"
        case "signal_return":
            goes, with_it = text_of("{0}, signal return", device), "twisted with the signal"
        case "signal" | "second_signal":
            with_it = _at_the_signal(installation, evaluation)
        case "unknown":
            goes, with_it = "test it first", "see “Identify an unknown sensor”"
        case other:
            assert_never(other)
    return WireRow(
        pin=wire.pin or str(place),
        colour=wire.colour or "not noted",
        role=_label("sensor.wires.role", wire.role),
        goes_to=goes,
        with_it=with_it,
    )


def _at_the_signal(installation: Installation, evaluation: Evaluation) -> str:
    """The resistor that the signal needs where it arrives."""
    lead, arriving = installation.signal.lead, evaluation.signal_detail.arriving
    match facts_of(installation.sensor).output:
        case "two_wire_current":
            load = f"{lead.load_ohm:g} Ω" if lead.load_ohm else "about 100 Ω"
            return text_of("load resistor of {0} from here to ground", load)
        case "open_collector" | "contact":
            ohm = arriving.pull_up_ohm
            return text_of("pull-up of {0:g} Ω", ohm) if ohm else text_of("pull-up of {0}", arriving.pull_up_to_fit)
        case "sine" | "push_pull" | "radio":
            return ""
        case other:
            assert_never(other)


ASKED_OF: Mapping[Words, tuple[Fact, ...]] = {
    "Wheels driven": ("lifted",),
    "Axle or chain ratio": ("on_wheels",),
    "Tyre": ("tyre",),
    "Connector at the sensor": ("wires",),
    "Length of the lead": ("wires",),
    "Supply of the sensor": ("wires",),
}
"""Rows that only some installations have; a boat has no axle."""
WITH: Mapping[DriveKind, Words] = {
    "hub": "the wheel",
    "axle_ratio": "driveshaft or gearbox output",
    "sprockets": "the shaft of chain or belt",
    "transfer_box": "the transfer box",
    "hub_motor": "the hub motor",
    "cable": "the speedometer cable",
}


def _target(installation: Installation) -> Words:
    """What the sensor is to see, by name and count."""
    target = installation.target
    words = words_for(installation)
    if "no_target" in fitted(installation):
        return "none: the sensor is strapped to the hub" if installation.sensor.kind == "inertial" else "none: the road"
    if target.kind == "magnets":
        return text_of("{0} {1}", target.count, words["one"] if target.count == 1 else words["ones"])
    return text_of("{0} with {1} {2}", words["target"], target.count, words["ones"])


def _supply(installation: Installation) -> str:
    """The sensor's supply as it is to be connected: the one entered if it lies within the sensor's range, else the
    range."""
    facts, needs = facts_of(installation.sensor), installation.needs
    if facts.supply_max_v == 0 or facts.output == "contact":
        return "none"
    allowed = text_of("{0:g} to {1:g} V", facts.supply_min_v, facts.supply_max_v)
    if not needs.supply_known:
        return allowed
    return (
        f"{needs.supply_v:g} V"
        if supply_fits(facts, needs.supply_v)
        else text_of("{0}, not {1:g} V", allowed, needs.supply_v)
    )


def _part(label: PartLabel | None) -> str:
    return label.text if label is not None else ""


def _label(path: str, code: str) -> str:
    return fields_by_path()[path].labels[code]


def _notes(installation: Installation, output: Output) -> tuple[str, ...]:
    lead = installation.signal.lead
    notes = [text_of("Lead {0:g} m, some {1:.0f} pF.", lead.length_m, lead.length_m * lead.pf_per_m)]
    if output == "sine":
        notes.append("Twist the pair of a coil; swap the two wires if the conditioner misses or doubles teeth.")
    notes.append(
        "Signal and return twisted together." if lead.twisted else "Twist the signal with its ground or return."
    )
    shields = {
        "none": "No shield: acceptable away from ignition wires.",
        "one_end": "Shield grounded at the reader's end only.",
        "both_ends": "Shield grounded at both ends: disconnect it at the sensor, otherwise it carries current.",
    }
    notes.append(shields[lead.shield])
    plug = lead.plug or "not noted"
    notes.append(
        text_of(
            "Connector at the sensor: {0}, sealed."
            if lead.sealed
            else "Connector at the sensor: {0}; use a sealed item outside.",
            plug,
        )
    )
    notes.append(
        "Follow the existing loom; seal every entry through the hull and keep the lead out of the bilge."
        if installation.vehicle_kind == "boat"
        else "Follow the existing loom; leave slack for full steering lock both ways and full travel of the suspension."
    )
    notes.append("Keep away from spark leads and coils; cross them at a right angle.")
    return tuple(notes)


def _cautions(installation: Installation) -> tuple[str, ...]:
    facts, needs = facts_of(installation.sensor), installation.needs
    cautions = [item.text for item in cautions_of(fitted(installation)) if item.task in ("wire", "convert", "brakes")]
    if needs.supply_known and not supply_fits(facts, needs.supply_v):
        cautions.insert(
            0,
            text_of(
                "Do not connect {0:g} V to this sensor: its supply is {1:g} to {2:g} V.",
                needs.supply_v,
                facts.supply_min_v,
                facts.supply_max_v,
            ),
        )
    return tuple(cautions)


def _sources(installation: Installation) -> Words:
    """Where the displays have their figures from, in the chain from the sensor on."""
    said = [
        text_of("{0}: {1}", readout.name, readout.figure_from or text_of("sensor"))
        for readout in installation.readouts
        if readout.figure_from
    ]
    return joined("; ", said) if said else "straight from the sensor"


def _order(installation: Installation, evaluation: Evaluation) -> tuple[Question, ...]:
    facts, lead, there = facts_of(installation.sensor), installation.signal.lead, fitted(installation)
    levels = evaluation.signal_detail.at_reader
    marking = installation.wheel.marking.text if installation.wheel.marking else ""
    driven = "" if installation.wheels_driven == "not_stated" else _label("wheels_driven", installation.wheels_driven)
    needs = installation.sensor.needs
    known_top = needs is not None and needs.max_speed_kmh is not None
    named = [item for item in installation.readouts if _part(item.part)]
    signal: list[Words] = [label_of(facts.output, codes_of(Output))]
    if levels:
        signal.append(text_of("{0:.2g} to {1:.3g} V", levels.low_v, levels.high_v))
    rows = [
        (
            "Sensed shaft or wheel",
            _label("sensed_at", installation.sensed_at) if installation.sensed_at != "not_stated" else "",
        ),
        ("Target", _target(installation)),
        ("Target, name and number", _part(installation.target.part)),
        ("Target turns with", "the paddle" if "afloat" in there else WITH[installation.drive.kind]),
        ("Sensor type", WORDS[installation.sensor.kind].label),
        ("Sensor, name and number", _part(installation.sensor.part)),
        ("Connector at the sensor", lead.plug),
        ("Pulses per turn of the wheel", f"{evaluation.pulses_per_turn_of_wheel:.6g}"),
        ("Pulses per km", f"{evaluation.pulses_per_km:.0f}"),
        ("Signal", joined("; ", signal)),
        ("Supply of the sensor", _supply(installation)),
        ("Wheels driven", driven),
        (
            "Axle or chain ratio",
            "none" if installation.drive.kind == "hub" else text_of("{0:.4g} to 1", evaluation.stages[1].value),
        ),
        (
            "Displays, names and numbers",
            joined("; ", [text_of("{0}: {1}", item.name, _part(item.part)) for item in named]),
        ),
        ("Where the display has its figure from", _sources(installation)),
        ("Tyre", marking),
        ("Rolling circumference", f"{evaluation.stages[0].value:.0f} mm"),
        (
            "Max. speed" if known_top else "Max. speed not stated; check speed",
            f"{installation.needs.max_speed_kmh:g} km/h, {evaluation.pulse_times.top_hz:.0f} Hz",
        ),
        ("Length of the lead", f"{lead.length_m:g} m"),
    ]
    if "no_target" in there:
        rows = [row for row in rows if row[0] != "Target, name and number"]
    rows = [(asked, answer) for asked, answer in rows if not there.isdisjoint(ASKED_OF.get(asked, there))]
    return tuple([Question(asked=asked, answer=answer or "not entered", known=bool(answer)) for asked, answer in rows])
