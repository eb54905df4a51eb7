"""A part was changed: what was found with the old one says nothing any more."""

from __future__ import annotations

from collections.abc import Mapping
from datetime import date as Date
from typing import Any

from speedchain.diagnosis import depends_on
from speedchain.document import Installation
from speedchain.fields import Dependence, StageName, Verification
from speedchain.knowledge import LEARNED, OF_THE_CHAIN
from speedchain.readout import Readout

CHANGES: Mapping[str, Dependence] = {
    "tyre": "tyre", "wheel": "tyre", "ring": "target", "magnet": "target", "sensor": "sensor", "loom": "wiring",
    "connector": "wiring", "converter": "wiring",
}  # fmt: skip
"""By kind of part: the dependence that is another one with it."""


def part_changed(installation: Installation, kind: str, on: Date) -> Installation:
    """The installation after a part of this kind was changed: tests, rides and observations from before that day, as far
    as they depend on it, are void.

    Examples
    --------
    >>> from speedchain.document.installation import example_installation
    >>> part_changed(example_installation(), "tyre", Date(2026, 5, 2)) == example_installation()
    True
    """
    change = CHANGES.get(kind)
    if change is None:
        return installation
    update: dict[str, Any] = {}
    for stage in ("wheel", "drive", "target", "sensor", "signal"):
        part = getattr(installation, stage)
        update[stage] = part.model_copy(update={"verification": _voided(stage, part.verification, change, on)})
    observations = [
        item.model_copy(update={"voided_by": change}) if change in OF_THE_CHAIN and item.on < on else item
        for item in installation.observations
    ]
    readouts = [_readout(readout, change, on) for readout in installation.readouts]
    return installation.model_copy(update=update | {"observations": tuple(observations), "readouts": tuple(readouts)})


def _readout(readout: Readout, change: Dependence, on: Date) -> Readout:
    update: dict[str, Any] = {"verification": _voided("readout", readout.verification, change, on)}
    ride = readout.learning_ride
    if ride is not None and ride.outcome == "learned" and change in LEARNED and (ride.on is None or ride.on < on):
        update["learning_ride"] = ride.model_copy(update={"voided_by": change})
    return readout.model_copy(update=update)


def _voided(stage: StageName, found: Verification | None, change: Dependence, on: Date) -> Verification | None:
    if found is None or found.on >= on or change not in depends_on(stage, found):
        return found
    return found.model_copy(update={"voided_by": change})
