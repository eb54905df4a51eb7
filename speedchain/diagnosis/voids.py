"""What a change has made void: tests that verify nothing any more, rides on which another wheel was learned."""

from __future__ import annotations

import math
from collections.abc import Iterator, Mapping
from typing import Any

from speedchain.document import Installation
from speedchain.fields import BEFORE, STAGE_LABELS, Dependence, StageName, State, Verification, Words, joined
from speedchain.knowledge import DRIVEN, LEARNED, OF_A_STAGE, state_of
from speedchain.readout import LearningRide, Readout
from speedchain.results import result
from speedchain.stages import Finding, FindingCode, finding

LABELS: Mapping[str, str] = {choice.code: choice.label for choice in STAGE_LABELS}


@result
class Void:
    """A test, or a learning ride, that a change has made void; `readout` is its place where it is of a readout."""

    stage: StageName
    readout: int | None
    ride: bool
    on: str
    reason: Words


def state_now(installation: Installation) -> State:
    """The state of an installation's parts now."""
    return state_of(
        installation.wheel,
        installation.drive,
        installation.target,
        sensor=installation.sensor,
        placement=installation.placement,
        signal=installation.signal,
    )


def voided_test(stage: StageName, verification: Verification | None, now: State) -> Dependence | None:
    """The change that made a test of a stage void, if any."""
    if verification is None:
        return None
    if verification.voided_by is not None or verification.state is None:
        return verification.voided_by
    return verification.state.change(now, depends_on(stage, verification))


def depends_on(stage: StageName, verification: Verification) -> tuple[Dependence, ...]:
    """What a test of a stage depends on: of a readout on the tyre as well, where it was driven."""
    driven = stage == "readout" and verification.test in DRIVEN
    return ("tyre", *OF_A_STAGE[stage]) if driven else OF_A_STAGE[stage]


def voided_ride(ride: LearningRide | None, now: State) -> Dependence | None:
    """The change after which a reader has to learn again, if any."""
    if ride is None or ride.outcome != "learned":
        return None
    return ride.voided_by or (ride.state.change(now, LEARNED) if ride.state is not None else None)


def without_void(installation: Installation, now: State) -> tuple[Installation, tuple[Void, ...]]:
    """The installation as far as it still holds, and what does not.

    Examples
    --------
    >>> from speedchain.document.installation import example_installation
    >>> known = example_installation()
    >>> without_void(known, state_now(known))[1]
    ()
    """
    found: list[Void] = []
    update: dict[str, Any] = {}
    for stage in ("wheel", "drive", "target", "sensor", "signal"):
        part = getattr(installation, stage)
        change = voided_test(stage, part.verification, now)
        if change is not None:
            found.append(_void(stage, None, part.verification.on.isoformat(), change))
            update[stage] = part.model_copy(update={"verification": _of_old(stage, part.verification)})
    readouts = []
    for place, readout in enumerate(installation.readouts):
        kept, voids = _readout_without(readout, place, now)
        readouts.append(kept)
        found += voids
    if not found:
        return installation, ()
    return installation.model_copy(update=update | {"readouts": tuple(readouts)}), tuple(found)


def _readout_without(readout: Readout, place: int, now: State) -> tuple[Readout, list[Void]]:
    found = []
    if (change := voided_test("readout", readout.verification, now)) is not None and readout.verification is not None:
        found.append(_void("readout", place, readout.verification.on.isoformat(), change))
        readout = readout.model_copy(update={"verification": _of_old("readout", readout.verification)})
    ride = readout.learning_ride
    if ride is not None and readout.entry == "learned" and (change := voided_ride(ride, now)) is not None:
        found.append(_void("readout", place, ride.on.isoformat() if ride.on else "", change, ride=True))
        readout = readout.model_copy(update={"learning_ride": ride.model_copy(update={"outcome": None})})
    return readout, found


def _of_old(stage: StageName, verification: Verification) -> Verification | None:
    """A test that says nothing of the stage as it is; where the stage keeps a figure, its grounds go on to name the
    test."""
    return None if stage in ("sensor", "signal") else verification.model_copy(update={"value": math.nan})


def _void(stage: StageName, readout: int | None, on: str, change: Dependence, *, ride: bool = False) -> Void:
    return Void(stage=stage, readout=readout, ride=ride, on=on, reason=BEFORE[change])


def void_rules(installation: Installation, voids: tuple[Void, ...], actions: tuple[str, ...]) -> Iterator[Finding]:
    """Findings about what has to be tested or learned again; `actions` say what to do with each reader."""
    for place, readout in enumerate(installation.readouts):
        for void in voids:
            if void.ride and void.readout == place:
                yield finding(FindingCode.LEARN_AGAIN, readout=readout.name, reason=void.reason, action=actions[place])
    tests = {(void.on, void.reason): [] for void in voids if not void.ride}  # type: dict[tuple[str, str], list[str]]
    for void in voids:
        if not void.ride and LABELS[void.stage] not in tests[void.on, void.reason]:
            tests[void.on, void.reason].append(LABELS[void.stage])
    for (on, reason), stages in tests.items():
        yield finding(FindingCode.TEST_BEFORE, stages=joined(", ", stages), date=on, reason=reason)
