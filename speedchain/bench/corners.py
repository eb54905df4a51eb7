"""The corners of a vehicle under one brake or slip control, side by side: count, gap, resistance, result."""

from __future__ import annotations

import statistics
from collections import Counter
from collections.abc import Sequence
from datetime import date as Date
from typing import Any, NamedTuple

from speedchain.bench.records import record_test
from speedchain.document import Installation, read_installation
from speedchain.evaluation import Evaluation, evaluate
from speedchain.fields import (
    Count,
    Gap,
    Outcome,
    Part,
    Purpose,
    Resistance,
    SensedAt,
    TestRecord,
    Words,
    stated,
    text_of,
)
from speedchain.results import result

COMPARED: tuple[Purpose, ...] = ("brake_control", "slip_control")
"""Purposes whose controller compares wheels."""
RESISTANCE_SHARE = 0.2
"""By how much a sensor may differ from the middle of its set. Common practice."""


class Known(NamedTuple):
    """An installation with what follows from it."""

    id: int
    revision: int
    installation: Installation
    evaluation: Evaluation


@result
class Corner:
    """One corner as it is known; `wrong` says what does not fit the others, its controller or its permitted gap."""

    installation: int
    revision: int
    name: str
    sensed_at: SensedAt
    count: int
    counted: bool
    accepted: Words
    air_gap_mm: float | None
    permitted_gap: Words
    resistance_ohm: float | None
    outcome: Outcome | None
    wrong: tuple[Words, ...]


class CornerEntry(Part):
    """What was found at a corner; what is None was not looked at."""

    count: Count | None = stated(None, title="Count per turn")
    air_gap_mm: Gap | None = stated(None, step=0.05)
    resistance_ohm: Resistance | None = stated(None, title="Resistance of the sensor")
    outcome: Outcome | None = None


def corners_of(known: Sequence[Known]) -> tuple[Corner, ...]:
    """The corners of a vehicle, each judged against the others.

    Examples
    --------
    >>> corners_of([])
    ()
    """
    compared = [item for item in known if item.installation.purpose in COMPARED]
    counts = Counter([item.installation.target.count for item in compared])
    usual = counts.most_common(1)[0][0] if counts else 0
    equal = any(item.installation.purpose == "brake_control" for item in compared)
    ohms = [ohm for item in compared if (ohm := item.installation.sensor.resistance_ohm) is not None]
    middle = statistics.median(ohms) if len(ohms) > 1 else None
    return tuple([_corner(item, usual=usual if equal else None, middle_ohm=middle) for item in compared])


def _corner(known: Known, *, usual: int | None, middle_ohm: float | None) -> Corner:
    installation, placed = known.installation, known.evaluation.placement_detail
    count, ohm = installation.target.count, installation.sensor.resistance_ohm
    gap_mm = installation.placement.air_gap_mm if installation.placement is not None else None
    window = placed.possible and placed.highest_gap_mm > placed.lowest_gap_mm
    counting = next((item for item in installation.readouts if item.entry == "counts"), None)
    per_turn = known.evaluation.pulses_per_turn_of_wheel
    wrong: list[Words] = []
    if usual is not None and count != usual:
        wrong.append(text_of("{0} are counted here, {1} at the others: false slip in their ratio.", count, usual))
    if counting is not None and not counting.least_pulses_per_turn <= per_turn <= counting.most_pulses_per_turn:
        wrong.append(
            text_of(
                "The controller accepts {0} to {1} per turn.",
                counting.least_pulses_per_turn,
                counting.most_pulses_per_turn,
            )
        )
    if window and gap_mm is not None and not placed.lowest_gap_mm <= gap_mm <= placed.highest_gap_mm:
        wrong.append(text_of("Air gap {0:.2f} mm is outside what is permitted.", gap_mm))
    if ohm is not None and middle_ohm is not None and abs(ohm - middle_ohm) > RESISTANCE_SHARE * middle_ohm:
        wrong.append(text_of("{0:g} Ω, the others about {1:g} Ω: look at sensor, plug and lead.", ohm, middle_ohm))
    spin = next((item for item in reversed(installation.test_records) if item.test == "spin"), None)
    if spin is not None and spin.outcome != "agreed":
        wrong.append("The last spin test did not agree.")
    return Corner(
        installation=known.id,
        revision=known.revision,
        name=installation.name,
        sensed_at=installation.sensed_at,
        count=count,
        counted=installation.target.basis == "counted",
        accepted=""
        if counting is None
        else text_of("{0} to {1}", counting.least_pulses_per_turn, counting.most_pulses_per_turn),
        air_gap_mm=gap_mm,
        permitted_gap=text_of("{0:.2f} to {1:.2f} mm", placed.lowest_gap_mm, placed.highest_gap_mm) if window else "",
        resistance_ohm=ohm,
        outcome=None if spin is None else spin.outcome,
        wrong=tuple(wrong),
    )


def with_corner(known: Known, entry: CornerEntry, *, by: str, on: Date) -> Installation:
    """The installation with what was found at its corner; a result is a spin test.

    Raises
    ------
    `DocumentError` for a value that the document cannot hold.
    """
    document: dict[str, Any] = known.installation.model_dump(mode="json")
    if entry.count is not None:
        document["target"] |= {"count": entry.count, "basis": "counted"}
    if entry.air_gap_mm is not None:
        document["placement"] = (document["placement"] or {}) | {
            "air_gap_mm": entry.air_gap_mm,
            "air_gap_basis": "measured",
        }
    if entry.resistance_ohm is not None:
        document["sensor"]["resistance_ohm"] = entry.resistance_ohm
    found = read_installation(document)
    if entry.outcome is None:
        return found
    return record_test(found, evaluate(found), TestRecord(test="spin", on=on, by=by, outcome=entry.outcome))
