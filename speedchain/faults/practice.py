"""Practice: a hidden fault, tools that cost minutes, and what an expert would have done.

A case is played by moves: tests, cures, the sensor placed otherwise, a setting entered. It is solved when the display
shows the truth at every speed. Cautions count: a move whose caution was not read costs as much as the accident it
risks.
"""

from __future__ import annotations

from dataclasses import replace
from functools import lru_cache
from typing import Annotated, Any, Literal, NamedTuple

import numpy as np
from pydantic import Field

from speedchain.advice import caution_at
from speedchain.document import Installation, read_installation
from speedchain.evaluation import Evaluation
from speedchain.faults.causes import BY_CODE as CAUSE
from speedchain.faults.inject import PUTS, inject
from speedchain.faults.model import CURE, Answer, Seen
from speedchain.faults.perform import drawn, perform, seen_by, symptoms_shown
from speedchain.faults.policy import RETEST_MINUTES, search
from speedchain.faults.rig import DRIVE_KMH, SLOW_KMH, Rig, display, evaluation_of, moved
from speedchain.faults.table import table_for
from speedchain.faults.tests_by_hand import BY_CODE as TEST
from speedchain.faults.vocabulary import SYMPTOMS
from speedchain.fields import InputError, Part, StageName, Words, joined, text_of
from speedchain.fitted import Fact, applies, fitted, worded, words_for
from speedchain.results import result

PLACE_MINUTES, SET_MINUTES = 6.0, 2.0
CAUTION_MINUTES = 20.0
"""What a caution that was skipped adds. Common practice: an accident takes longer."""
MOST_MOVES = 60
GRADED = 10

BASES: dict[str, dict[str, Any]] = {
    "car": {
        "name": "Dash, front hub", "purpose": "true_speed", "vehicle_kind": "car",
        "wheel": {"method": "entered", "entered": {"circumference_mm": 1935}},
        "target": {"kind": "toothed_ring", "count": 48, "basis": "counted",
            "ring": {"diameter_mm": 98, "face_width_mm": 6, "runout_mm": 0.1}},
        "sensor": {"kind": "hall_gear_tooth", "needs": {"max_speed_kmh": 180, "supply_v": 12}},
        "placement": {"air_gap_mm": 0.9, "air_gap_basis": "measured", "clocking_angle_deg": 90, "lateral_offset_mm": 0},
        "signal": {"lead": {"pull_up_ohm": 2200, "pull_up_v": 5}},
        "readouts": [{"name": "Dash", "encoding": "pulses_per_km"}],
    },
    "bicycle": {
        "name": "Computer, front wheel", "purpose": "cycle_display", "vehicle_kind": "bicycle",
        "wheel": {"method": "entered", "entered": {"circumference_mm": 2105}},
        "target": {"kind": "magnets", "count": 1, "basis": "counted", "magnets": {"form": "disc", "mounted": "spokes"}},
        "sensor": {"kind": "reed", "needs": {"max_speed_kmh": 70}},
        "placement": {"air_gap_mm": 2, "air_gap_basis": "measured", "lateral_offset_mm": 7},
        "readouts": [{"name": "Computer", "encoding": "circumference_mm"}],
    },
    "coil": {
        "name": "Logger, propeller shaft", "purpose": "true_speed", "vehicle_kind": "car",
        "wheel": {"method": "entered", "entered": {"circumference_mm": 1990}},
        "drive": {"kind": "axle_ratio", "driven": True, "axle_ratio": {"ratio": 3.73, "basis": "counted",
            "shaft_turns": 37.3}},
        "target": {"kind": "toothed_ring", "count": 24, "basis": "counted",
            "ring": {"diameter_mm": 84, "face_width_mm": 8}},
        "sensor": {"kind": "variable_reluctance", "needs": {"max_speed_kmh": 190}},
        "placement": {"air_gap_mm": 0.7, "air_gap_basis": "measured", "lateral_offset_mm": 0},
        "signal": {"conditioner": {"kind": "vr_converter", "supply_v": 5, "arming_v": 0.15}},
        "readouts": [{"name": "Logger", "encoding": "pulses_per_km"}],
    },
    "boat": {
        "name": "Speed through water", "purpose": "water_speed", "vehicle_kind": "boat", "sensed_at": "hull",
        "check_speed_kmh": 18,
        "wheel": {"method": "paddle", "paddle": {"pulses_per_nautical_mile": 20000}},
        "target": {"kind": "paddle_magnets", "count": 4, "basis": "counted"},
        "sensor": {"kind": "paddlewheel"}, "readouts": [{"name": "Display", "encoding": "pulses_per_nautical_mile"}],
    },
}  # fmt: skip
"""Healthy installations to put faults into, of nobody."""


class Graded(NamedTuple):
    """A case of a fixed grade: its installation, its hidden cause and seed, and what the customer says."""

    base: str
    cause: str
    seed: int
    sentence: Words


CASES: tuple[Graded, ...] = (
    Graded("bicycle", "reader_battery", 1, "It worked yesterday. Today the display is blank."),
    Graded("car", "tyre_changed", 2, "Since the new tyres the dash is not quite right."),
    Graded("bicycle", "target_moved", 47, "Nothing is shown since I put the wheel back in."),
    Graded("car", "gap_wide", 4, "The display is dead since the bearing was changed."),
    Graded("boat", "paddle_fouled", 5, "The boat is as fast as before, but the display shows less."),
    Graded("car", "clocking", 23, "I fitted a new sensor. It looks centred, but the needle jumps."),
    Graded("coil", "conditioner_destroyed", 7, "After the first fast run nothing is shown any more."),
    Graded("car", "noise_ignition", 8, "It shows a speed while the car stands at the traffic lights."),
    Graded("coil", "wheel_held", 9, "On the stand it shows half. I have checked the count twice."),
    Graded("car", "ground_bad", 47, "Sometimes it is right, sometimes not. I have changed the sensor already."),
)
"""Ten cases, the easy ones first."""


class Move(Part):
    """A move: a test, a cure, the sensor placed otherwise [mm, °], or the setting changed by a factor."""

    kind: Literal["test", "cure", "place", "set"]
    code: Annotated[str, Field(max_length=40)] = ""
    air_gap_mm: Annotated[float, Field(ge=0, le=40)] | None = None
    lateral_offset_mm: Annotated[float, Field(ge=-40, le=40)] | None = None
    clocking_angle_deg: Annotated[float, Field(ge=0, le=180)] | None = None
    factor: Annotated[float, Field(gt=0.001, le=1000)] | None = None
    caution_read: bool = False


@result
class Done:
    """A move that was made, at which stage, what came of it, and its minutes; whether its caution was skipped."""

    stage: StageName
    title: Words
    outcome: Words
    minutes: float
    skipped: bool


@result
class Tool:
    """A test that can be done: at which stage, minutes, steps and caution."""

    code: str
    stage: StageName
    title: Words
    minutes: float
    steps: tuple[Words, ...]
    caution: Words


@result
class Repair:
    """A cure that can be tried, at which stage."""

    code: str
    stage: StageName
    text: Words
    minutes: float


@result
class Play:
    """A case as it stands: what is said and seen, what can be done, what was done, and whether it is solved."""

    sentence: Words
    afloat: bool
    noticed: tuple[Words, ...]
    tools: tuple[Tool, ...]
    repairs: tuple[Repair, ...]
    can_place: bool
    place_caution: Words
    place_minutes: float
    set_minutes: float
    done: tuple[Done, ...]
    minutes: float
    solved: bool
    true_kmh: float
    shown_kmh: float


@result
class Outcome:
    """How a case ended: points of 100, what the cause was, and what an expert would have done."""

    points: int
    solved: bool
    minutes: float
    skipped: int
    caution_minutes: float
    cause: Words
    fix: Words
    expert: tuple[Done, ...]
    expert_minutes: float


@lru_cache(maxsize=8)
def base_of(name: str) -> tuple[Installation, Evaluation]:
    """A healthy installation to practise on, and its evaluation."""
    document = read_installation({"version": 2, **BASES[name]})
    return document, evaluation_of(document)


@lru_cache(maxsize=64)
def case_of(number: int) -> tuple[str, Rig, Seen, Words]:
    """A case by its number: 1 to 10 are graded; any other is the seed of a generated one.

    Examples
    --------
    >>> case_of(1)[3]
    'It worked yesterday. Today the display is blank.'
    """
    if 1 <= number <= GRADED:
        graded = CASES[number - 1]
        random = np.random.default_rng(graded.seed)
        document, _ = base_of(graded.base)
        while True:
            rig = inject(graded.cause, document, random)
            seen = seen_by(rig, random)
            if seen is not None:
                return graded.base, rig, seen, graded.sentence
    random = np.random.default_rng(number)
    base = tuple(BASES)[int(random.integers(len(BASES)))]
    document, _ = base_of(base)
    rig, seen = drawn(table_for(fitted(document)), document, random)
    labels = {item.code: item.label for item in SYMPTOMS}
    return base, rig, seen, text_of("The customer says: {0}.", joined(", ", [labels[code] for code in seen.symptoms]))


def play(number: int, moves: tuple[Move, ...]) -> Play:
    """A case after some moves.

    Raises
    ------
    `InputError` for a move that cannot be made on this installation.
    """
    base, rig, seen, sentence = case_of(number)
    document, _ = base_of(base)
    facts, words = fitted(document), words_for(document)
    done = []
    for place, move in enumerate(moves):
        rig, made = _made(rig, move, facts, random=np.random.default_rng([abs(number), place]))
        done.append(made)
    labels = {item.code: item.label for item in SYMPTOMS}
    drive = display(rig, DRIVE_KMH)
    return Play(
        sentence=sentence,
        afloat="afloat" in facts,
        noticed=tuple([labels[code] for code in seen.symptoms]),
        tools=tuple(
            [
                Tool(
                    code=test.code,
                    stage=test.stage,
                    title=test.title,
                    minutes=test.minutes,
                    steps=tuple([worded(step, words) for step in test.steps]),
                    caution=_caution(facts, test.task),
                )
                for test in table_for(facts).tests
            ]
        ),
        repairs=tuple(
            [
                Repair(code=code, stage=CAUSE[code].stage, text=CAUSE[code].fix, minutes=CAUSE[code].minutes)
                for code in table_for(facts).causes[:-1]
                if code in PUTS
            ]
        ),
        can_place=document.placement is not None,
        place_caution=_caution(facts, "fit_sensor"),
        place_minutes=PLACE_MINUTES,
        set_minutes=SET_MINUTES,
        done=tuple(done),
        minutes=sum(item.minutes for item in done),
        solved=not any(symptoms_shown(rig).values()),
        true_kmh=DRIVE_KMH,
        shown_kmh=round(drive.ratio * DRIVE_KMH, 1),
    )


def _caution(there: frozenset[Fact], task: Any) -> str:
    return caution_at(there, task) if task != "none" else ""


def _made(rig: Rig, move: Move, facts: frozenset[Fact], *, random: np.random.Generator) -> tuple[Rig, Done]:
    """A move made: the rig after it, and what came of it."""
    match move.kind:
        case "test":
            if move.code not in TEST or not applies(TEST[move.code].when, TEST[move.code].unless, facts):
                raise InputError("There is no such test here.", remedy="Choose one of the list.", path="move.code")
            test = TEST[move.code]
            outcome = test.outcomes[perform(rig, move.code, random)]
            skipped = bool(_caution(facts, test.task)) and not move.caution_read
            return rig, _done(test.stage, test.title, outcome, test.minutes, skipped=skipped)
        case "cure":
            if move.code not in CAUSE or not applies(CAUSE[move.code].when, CAUSE[move.code].unless, facts):
                raise InputError("There is no such cure here.", remedy="Choose one of the list.", path="move.code")
            cause = CAUSE[move.code]
            after = Rig(cause="", entered=rig.entered, true=rig.entered) if rig.cause == move.code else rig
            text: Words = (
                "The retest agrees." if not any(symptoms_shown(after).values()) else "No change in the retest."
            )
            return after, _done(cause.stage, cause.fix, text, cause.minutes + RETEST_MINUTES)
        case "place":
            changes = {
                name: value
                for name in ("air_gap_mm", "lateral_offset_mm", "clocking_angle_deg")
                if (value := getattr(move, name)) is not None
            }
            if rig.true.placement is None or not changes:
                raise InputError("Nothing is placed.", remedy="Enter a gap, an offset or an angle.", path="move")
            after = moved(rig, **changes)
            skipped = bool(_caution(facts, "fit_sensor")) and not move.caution_read
            return after, _done("sensor", "Place the sensor", _shows(after), PLACE_MINUTES, skipped=skipped)
        case "set":
            after = replace(rig, setting_factor=rig.setting_factor * (move.factor or 1.0))
            return after, _done("readout", "Enter another setting", _shows(after), SET_MINUTES)


def _shows(rig: Rig) -> Words:
    slow, drive = display(rig, SLOW_KMH), display(rig, DRIVE_KMH)
    if drive.nothing and slow.nothing:
        return "Nothing is shown."
    steady = "unsteady" if drive.unsteady else "steady"
    return text_of("{0:.1f} km/h shown at {1:g} km/h, {2}.", drive.ratio * DRIVE_KMH, DRIVE_KMH, steady)


def _done(stage: StageName, title: Words, outcome: Words, minutes: float, *, skipped: bool = False) -> Done:
    return Done(
        stage=stage,
        title=title,
        outcome=outcome,
        minutes=minutes + (CAUTION_MINUTES if skipped else 0.0),
        skipped=skipped,
    )


def outcome_of(number: int, moves: tuple[Move, ...]) -> Outcome:
    """How a case ended, against the best policy.

    Points = 100 · min(1, expert's minutes / own minutes) when the display shows the truth, else 0.
    """
    base, rig, seen, _ = case_of(number)
    _, evaluation = base_of(base)
    ended = play(number, moves)
    expert, expert_minutes = _expert(number, rig, evaluation, seen)
    skipped = sum(item.skipped for item in ended.done)
    share = min(1.0, expert_minutes / max(ended.minutes, 1.0))
    cause = CAUSE[rig.cause]
    return Outcome(
        points=round(100 * share) if ended.solved else 0,
        solved=ended.solved,
        minutes=ended.minutes,
        skipped=skipped,
        caution_minutes=CAUTION_MINUTES,
        cause=cause.text,
        fix=cause.fix,
        expert=expert,
        expert_minutes=expert_minutes,
    )


def _expert(number: int, rig: Rig, evaluation: Evaluation, seen: Seen) -> tuple[tuple[Done, ...], float]:
    """What the best policy does on the same fault, until it cures it; at last it does, whatever it held for likely."""
    ended = search(rig, evaluation, seen, "best", random=np.random.default_rng([abs(number), 7]))
    steps = []
    for answer in (*ended.answers, Answer(test=CURE + rig.cause, outcome="cured")):
        if answer.test.startswith(CURE):
            cause = CAUSE[answer.test.removeprefix(CURE)]
            said: Words = "The retest agrees." if answer.outcome == "cured" else "No change in the retest."
            steps.append(_done(cause.stage, cause.fix, said, cause.minutes + RETEST_MINUTES))
        else:
            test = TEST[answer.test]
            steps.append(_done(test.stage, test.title, test.outcomes[answer.outcome], test.minutes))
        if answer.test == CURE + rig.cause:
            break
    return tuple(steps), sum(item.minutes for item in steps)
