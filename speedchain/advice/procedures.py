"""How to take each measurement: steps, what to mind, and what is needed, by what is fitted. Common practice."""

from __future__ import annotations

from collections.abc import Mapping
from typing import NamedTuple

from speedchain.advice.cautions import Task
from speedchain.document import Installation
from speedchain.fields import Words, text_of
from speedchain.fitted import Fact, applies, fitted, worded, words_for
from speedchain.results import result

ROLL_OUT_TURNS = 3
RATIO_TURNS = 10


@result
class Guide:
    """One measurement: its steps in order, the tasks whose cautions stand beside them, and what to have at hand."""

    code: str
    title: Words
    needs: Words
    steps: tuple[Words, ...]
    tasks: tuple[Task, ...]


class GuideStep(NamedTuple):
    """A step, and the facts with which it applies."""

    text: Words
    when: tuple[Fact, ...] = ()
    unless: tuple[Fact, ...] = ()


class Procedure(NamedTuple):
    """A measurement for every kind of installation: its texts name what is fitted in braces."""

    title: Words
    needs: Words
    steps: tuple[GuideStep, ...]
    tasks: tuple[Task, ...] = ()
    when: tuple[Fact, ...] = ()
    unless: tuple[Fact, ...] = ()


_S = GuideStep
# fmt: off
PROCEDURES: dict[str, Procedure] = {
    "marking": Procedure("Read the size marking", "A light and a rag.", (
        _S("Wipe the sidewall and find the size, such as 205/55R16.", unless=("cycle",)),
        _S("Wipe the sidewall and find the size, such as 28-622.", ("cycle",)),
        _S("Trust the ETRTO number: width - bead seat.", ("cycle",)),
        _S("Read both sides: a tyre can be marked twice in different notations."),
    ), (), ("tyre",)),
    "roll_out": Procedure("Roll-out", "Chalk, a tape, level ground, a helper.", (
        _S("Pump the tyre to its working pressure; the rider sits on it, the load as ridden.", ("cycle", "tyre")),
        _S("Set the working pressure and load: rider or driver on board, fuel as driven.", ("engine", "tyre")),
        _S("Set the working pressure and load, as it is used.", ("tyre",), unless=("cycle", "engine")),
        _S("Load it as it is used.", unless=("tyre",)),
        _S("Chalk a line across the tyre and the floor where they touch.", ("tyre",)),
        _S("Chalk a line across the wheel and the floor where they touch.", unless=("tyre",)),
        _S(text_of("Roll straight ahead until the chalk has come down {0} times; mark the floor again.",
            ROLL_OUT_TURNS)),
        _S("Tape from mark to mark and enter turns and distance."),
        _S("Repeat the roll-out: the scatter of two or more runs is part of the uncertainty."),
    ), ("roll_out",), ("rolls",)),
    "taped_diameter": Procedure("Tape across the standing wheel", "A tape or a square, level floor.", (
        _S("Stand the vehicle on its wheel at working pressure and load.", ("tyre",)),
        _S("Stand it on its wheel, loaded as it is used.", unless=("tyre",)),
        _S("Lay a straight edge level on top of the tyre.", ("tyre",)),
        _S("Lay a straight edge level on top of the wheel.", unless=("tyre",)),
        _S("Tape from the floor to the straight edge, beside the wheel and upright."),
        _S("Take it again a quarter turn of the wheel further on."),
    ), ("lift",), ("rolls",)),
    "axle_height": Procedure("Axle height", "A tape, level floor, a stand for the second reading.", (
        _S("Loaded as driven, tape from the floor to the middle of the axle.", unless=("cycle",)),
        _S("With the rider on it, tape from the floor to the middle of the axle.", ("cycle",)),
        _S("Lift the wheel clear and tape across it for the diameter without load."),
        _S("Enter both: the rolling radius lies between the two."),
    ), ("lift",), ("rolls",)),
    "taped_circumference": Procedure("Tape round the {turned}", "A soft tape or a strip of paper.", (
        _S("{lift}", ("lifted",)),
        _S("{free}", ("machine",)),
        _S("Lay the tape once round the middle of the tread, without twist.", ("tyre",)),
        _S("Lay the tape once round its middle, without twist.", unless=("tyre",)),
        _S("Read where it meets itself; take it again beside the first place."),
    ), ("lift",), ("on_wheels",)),
    "speed_derived": Procedure("Compare with a satellite or a measured distance",
        "A satellite receiver, or a measured distance.", (
        _S("Note the current setting of the display."),
        _S("Ride straight and level at a steady speed, both ways.", ("cycle",)),
        _S("Ride straight and level at a steady speed, both ways, by the front wheel where it is sensed.",
            ("two_wheels",)),
        _S("Run there and back at a steady speed, on one course and its opposite.", ("afloat",)),
        _S("Let it run at a steady speed and time a mark over a measured length.", ("machine",)),
        _S("Drive straight and level at a steady speed, in both directions, on the non-driven wheel.",
           unless=("cycle", "two_wheels", "afloat", "machine")),
        _S("Enter the shown and the true value: speed, distance, or distance and time."),
    ), ("drive_test",)),
    "paddle": Procedure("Run a known distance in both directions",
        "Two marks a known distance apart, slack water if there is any.", (
        _S("Find two marks a known distance apart, in water without current if there is any."),
        _S("Run straight from one to the other and back at the same engine speed, clear of other boats."),
        _S("Average the two speeds and enter 100·(true/shown − 1) as the calibration."),
    ), ("water_test",), ("afloat",)),
    "ratio": Procedure("Count a ratio by turning", "Chalk, and a helper who counts.", (
        _S("Lift both driven wheels so that they turn together. Or hold one wheel and enter that: the shaft then "
            "turns half as far.",
           ("car",)),
        _S("{lift}", ("lifted",), unless=("car",)),
        _S("Lock the machine against starting; it is turned by hand.", ("machine",)),
        _S("Chalk the shaft and the wheel, each against a fixed point.", unless=("cycle",)),
        _S("Chalk the wheel, and what turns faster or slower than it, each against a fixed point.", ("cycle",)),
        _S(text_of("Turn the wheel {0} times by hand; count turns of the shaft, to a twentieth of a turn.",
            RATIO_TURNS)),
        _S("Enter both counts; more turns reduce the uncertainty."),
    ), ("lift",), ("geared",)),
    "count": Procedure("Count the {ones}", "Chalk or paint.", (
        _S("{free}"),
        _S("Mark the first {one} with chalk or paint.", ("several",)),
        _S("Count once round, then a second time the other way.", ("several",)),
        _S("Mark the wheel against a fixed point.", unless=("several",)),
        _S("Turn it once round and count what passes the sensor; then once more the other way.", unless=("several",)),
        _S("Enter the count and set it to “Counted”."),
    ), ("lift",), (), ("no_target", "sealed_paddle")),
    "unknown_sensor": Procedure("Identify an unknown sensor",
        "A current-limited supply, a meter, a magnet and a piece of steel.", (
        _S("Two wires that connect while a magnet is near, and not without it: a reed. It needs no supply."),
        _S("With two wires measure the resistance: a few hundred ohms to a few thousand is a coil (VR)."),
        _S("A coil gives an alternating voltage when steel passes it; it needs no supply."),
        _S("With three wires start at the lowest plausible supply, 3.3 V, limited to 20 mA."),
        _S("Try pairs as supply and ground; a few milliamperes is normal; if it is more, disconnect and swap them."),
        _S("The third wire is the signal: a pull-up of 10 kΩ to the supply, and watch it while steel or a magnet "
            "passes."),
        _S("No signal at 3.3 V: try 5 V, then the vehicle's voltage through a fuse.",
            unless=("own_battery", "machine", "e_bike")),
        _S("No signal at 3.3 V: try 5 V, then the voltage of its own supply.", ("own_battery",)),
        _S("No signal at 3.3 V: try 5 V and 12 V; never the voltage of the bicycle's battery.", ("e_bike",)),
        _S("No signal at 3.3 V: try 5 V, then the machine's own low voltage; never the mains.", ("machine",)),
        _S("Write down the colour and role of each wire. Colours alone are no proof."),
    ), ("identify",), ("wires",)),
    "gap": Procedure("Set the gap", "A feeler gauge, or a zip tie or card of known thickness; a marker.", (
        _S("Turn the {turned} by hand and find the {one} that comes nearest.", ("several",)),
        _S("Turn the {one} to the sensor.", unless=("several",)),
        _S("Set the gap there, at the low end of the permitted range; tighten by hand only."),
        _S("Turn to the {one} furthest away and check that the gap is still in the permitted range.", ("several",)),
        _S("Line up the sensing element with the middle of the {ones}.", ("teeth",)),
        _S("Line up the sensing element with the middle of the path of the {one}.", unless=("teeth",)),
        _S("Spin it by hand, look for rubbing, then a spin test; tighten to torque only after it.", ("bolted",)),
        _S("Turn it by hand, look for rubbing, then a spin test; tighten clamp or ties only after it.",
            unless=("bolted",)),
        _S("Check again after trimming ties and leads.", ("wires",)),
    ), ("lift", "fit_sensor"), ("gap",)),
    "spokes": Procedure("Put magnets on spokes", "Magnets, tape, a marker.", (
        _S("Mark the spoke of the first magnet with tape where it meets the rim."),
        _S("Count spokes of the same side only, where they meet the rim, as the plan says.", ("several",)),
        _S("Clamp every magnet at the same radius, the same pole towards the sensor.", ("several",)),
        _S("Clamp the magnet where it passes the marked point of the sensor.", unless=("several",)),
        _S("Spin the wheel slowly: each passes at the same gap, none touches fork, brake or another spoke."),
        _S("Tighten, spin, check again after the first ride.", ("cycle",)),
        _S("Tighten, spin, check again after the first run.", unless=("cycle",)),
    ), ("fit_magnets",), ("spokes",)),
}
# fmt: on
"""Every measurement that has a guide, by its code."""


def guides_of(installation: Installation) -> tuple[Guide, ...]:
    """All guides that an installation may need.

    Examples
    --------
    >>> from speedchain.document import example_installation
    >>> [guide.code for guide in guides_of(example_installation())][-3:]
    ['count', 'unknown_sensor', 'gap']
    """
    facts, words = fitted(installation), words_for(installation)
    return tuple([_guide(code, facts, words) for code in guides_with(facts)])


def guides_with(facts: frozenset[Fact]) -> tuple[str, ...]:
    """The codes of the guides that an installation with some facts may need.

    Examples
    --------
    >>> guides_with(frozenset(["afloat", "no_target"]))
    ('speed_derived', 'paddle')
    """
    return tuple([code for code, item in PROCEDURES.items() if applies(item.when, item.unless, facts)])


def guide_for(installation: Installation, code: str) -> Guide:
    """The guide to a measurement on an installation: the steps that apply, in its own words.

    Examples
    --------
    >>> from speedchain.document import example_installation
    >>> guide_for(example_installation(), "count").title
    'Count the teeth'
    """
    return _guide(code, fitted(installation), words_for(installation))


def _guide(code: str, facts: frozenset[Fact], words: Mapping[str, Words]) -> Guide:
    procedure = PROCEDURES[code]
    return Guide(
        code=code,
        title=worded(procedure.title, words),
        needs=procedure.needs,
        steps=tuple([worded(step.text, words) for step in procedure.steps if applies(step.when, step.unless, facts)]),
        tasks=procedure.tasks,
    )
