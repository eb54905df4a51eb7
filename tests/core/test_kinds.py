"""Every kind of installation in its own words: what each must be told, and what it must never read. Common practice."""

from __future__ import annotations

import re
from collections.abc import Mapping
from typing import NamedTuple
from unittest import TestCase

from tests.kinds import KINDS, of_kind, texts

CAR_ONLY = r"key out|chocked|jack|Jack|pedal|[Aa]irbag|driveshaft|fuel"
ON_THE_ROAD = r"[Cc]halk wheel|tread|Tyre|\btyre|traffic|[Dd]rive slowly|wheel nut"
AFLOAT = r"propeller|helm|hull|moored|[Gg]rowth|[Ss]alt|bilge|Bilge"
BRAKES = r"rotor|caliper|[Bb]rake control"
ROTOR = r"rotor|braking surface|centre-lock"
LEADS = r"[Pp]lug|\bwire\b|Wire it|[Ss]hield|pull-up|ignition"
MAGNETS = r"loose magnet|compass|[Ss]wallowed|pacemaker"


class Told(NamedTuple):
    """Regular expressions of what stands somewhere, and of what stands nowhere."""

    must: tuple[str, ...]
    never: tuple[str, ...]


TOLD: Mapping[str, Told] = {
    "wired bicycle computer": Told(
        (r"Turn the magnet to the sensor", r"Bring the magnet to the sensor and measure",
            r"Turn it once round and measure again", r"ties by hand only",
            r"along fork or stay, then with the brake line", r"the way its marks say", r"Do not ride",
            r"axle or lever closed", r"Target: 1 magnet$", r"levers firm"),
        (CAR_ONLY, AFLOAT, ROTOR, r"comes nearest|half a turn", r"\btooth|teeth\b(?!, poles)", r"ignition",
            r"Fault code", r"grounds|[Ss]hield", r"Do not drive", r"Threadlocker", r"passenger"),
    ),
    "hub sensor without target": Told(
        (r"Strap the sensor", r"battery the right way round", r"the sensor wakes", r"mode for speed",
            r"lists it as a speed sensor", r"Target: none", r"the rider sits on it", r"strap is loose",
            r"not as one for cadence"),
        (CAR_ONLY, AFLOAT, BRAKES, LEADS, MAGNETS, r"\btooth", r"magnet that|Turn the magnet|the magnet passes",
            r"air gap is too wide", r"\b[Rr]ing\b", r"lead\b"),
    ),
    "e-bike": Told(
        (r"take its battery out", r"never the voltage of the bicycle's battery", r"put the battery back", r"Fault code",
            r"motor stops helping", r"assistance read this", r"rotor"),
        (CAR_ONLY, AFLOAT, r"negative first", r"Do not drive", r"passenger"),
    ),
    "cargo bike": Told((r"levers firm", r"Do not ride"), (CAR_ONLY, AFLOAT, ROTOR, r"ignition", r"Do not drive")),
    "motorcycle, magnet on a rotor bolt": Told(
        (r"Paddock or centre stand", r"key out", r"rotor bolt", r"in braking direction",
            r"set in threadlocker is warmed", r"are to sit in the bolts", r"Caliper bolts", r"lever and pedal firm",
            r"never glue on a rotor", r"Do not ride", r"The rider operates nothing"),
        (r"jack|Jack", AFLOAT, r"\btooth", r"Do not drive\b", r"driver operates", r"spokes: as the plan"),
    ),
    "dirt bike": Told((r"Mark the spokes", r"Paddock or centre stand"),
        (r"jack|Jack", AFLOAT, ROTOR, r"Do not drive\b")),
    "quad": Told((r"bolt head that comes nearest", r"Stand or blocks", r"Target: bolt heads with 4"),
        (r"jack|Jack", AFLOAT, MAGNETS, r"Change of the ring|ring that comes off", r"bent bolt head")),
    "scooter, slotted disc": Told((r"slot that comes nearest", r"strip of card"),
        (r"jack|Jack", AFLOAT, MAGNETS, r"[Pp]ass a magnet by")),
    "sidecar outfit": Told((r"tooth that comes nearest", r"piece of steel"), (r"jack|Jack", AFLOAT, MAGNETS)),
    "kart": Told((r"cannot roll or start", r"magnet that comes nearest"),
        (r"jack|Jack", AFLOAT, r"key out", r"speed limiter", r"\btooth\b")),
    "car wheel hub": Told((r"Jack stands", r"key out; *|key out", r"Mark the first tooth", r"205/55R16",
        r"steering at full lock", r"piece of steel", r"airbag"), (AFLOAT, MAGNETS, r"Do not ride")),
    "car gearbox output": Told((r"Gearbox cool", r"Count the teeth of every part", r"within 200 mm", r"own loom",
        r"Count the turns of the shaft", r"tens of volts", r"Target turns with: driveshaft"),
        (AFLOAT, MAGNETS, r"full lock", r"caliper")),
    "drag car, ring on the shaft": Told((r"turns of the shaft", r"false slip cuts power"),
        (AFLOAT, MAGNETS, r"full lock")),
    "truck, 54 teeth": Told((r"54 per turn", r"Jack stands"), (AFLOAT, MAGNETS)),
    "brake-control swap": Told((r"qualified for brakes", r"Front left: count", r"brake control reports a fault",
        r"safety parts", r"pedal switch on and off, through its relay", r"each rises with its own circuit",
        r"yaw sensor sits level", r"pump cycled", r"Hub nuts"), (AFLOAT, MAGNETS)),
    "tail shaft, cable gauge": Told((r"Set the converter", r"gauge only", r"turns of the shaft"),
        (AFLOAT, ROTOR, r"full lock", r"spokes: as")),
    "gauge from the car's own sensor": Told((r"Set the converter", r"gauge only"), (AFLOAT, MAGNETS)),
    "rail bogie, two channels": Told((r"locked against starting", r"Do not run it", r"tooth that comes nearest"),
        (CAR_ONLY, AFLOAT, MAGNETS, ON_THE_ROAD, r"[Ss]teering", r"[Bb]rakes work", r"Do not drive|Do not ride",
            r"ignition, motor" if False else r"full lock")),
    "paddle in a sealed transducer": Told(  # nothing passes it
        (r"propeller", r"There is nothing to place|Blow or turn the paddle", r"growth|Growth", r"Run there and back"),
        (CAR_ONLY.replace("key out|", ""), ON_THE_ROAD, BRAKES, r"wheels", r"[Ss]teering", r"\btooth", r"Do not drive",
            r"Axle", r"Pass a magnet by the sensor", r"Threadlocker")),
    "paddle with loose magnets": Told((r"propeller", r"from one magnet to the next"),
        (CAR_ONLY.replace("key out|", ""), ON_THE_ROAD, BRAKES, r"wheels", r"\btooth", r"Do not drive")),
    "crank ring": Told((r"Do not run it", r"35 per turn"),
        (AFLOAT, MAGNETS, ON_THE_ROAD, r"jack|Jack", r"full lock", r"[Bb]rakes work")),
    "conveyor roller": Told((r"locked against starting", r"belts", r"time a mark|timed over"),
        (CAR_ONLY, AFLOAT, ON_THE_ROAD, ROTOR, r"[Ss]teering", r"[Bb]rakes work", r"looks like a diameter",
            r"Do not drive|Do not ride")),
    "small rigid wheel": Told((r"roll straight",), (AFLOAT, r"Tyre pressure|working pressure", r"tread depth",
        r"\btooth\b")),
    "land yacht": Told((r"cannot roll or start", r"the brake holds"),
        (CAR_ONLY, AFLOAT.replace("|hull", ""), ROTOR, r"ignition", r"Do not ride")),
}  # fmt: skip


class Kinds(TestCase):
    def test_each_in_its_own_words(self) -> None:
        self.assertEqual(set(TOLD), set(KINDS))
        self.assertGreaterEqual(len(KINDS), 24)
        for name, told in TOLD.items():
            found = texts(of_kind(name))
            lines = [(where, str(line)) for where, there in found.items() for line in there]
            with self.subTest(name):
                for pattern in told.must:
                    self.assertTrue([line for _, line in lines if re.search(pattern, line)], pattern)
                for pattern in told.never:
                    self.assertEqual(
                        [(where, line) for where, line in lines if re.search(pattern, line)][:3], [], pattern
                    )

    def test_no_place_is_left_open_and_nothing_is_said_twice(self) -> None:
        for name in KINDS:
            for where, there in texts(of_kind(name)).items():
                for line in there:
                    with self.subTest(f"{name}, {where}"):
                        self.assertNotRegex(str(line), r"[{}]|_|\b(\w+) \1\b|  +\w| [.,;:]")
