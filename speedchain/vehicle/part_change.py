"""A part was changed: what was found with the old one says nothing any more."""

from __future__ import annotations

from collections.abc import Mapping
from datetime import date as Date
from typing import Any

from speedchain.diagnosis import depends_on
from speedchain.document import Installation
from speedchain.fields import Dependence, PartLabel, StageName, Verification
from speedchain.knowledge import LEARNED, OF_THE_CHAIN, OF_TURNS
from speedchain.readout import Readout
from speedchain.sensor import Sensor
from speedchain.target import Target

CHANGES: Mapping[str, Dependence] = {
    "tyre": "tyre", "wheel": "tyre", "ring": "target", "magnet": "target", "sensor": "sensor", "loom": "wiring",
    "connector": "wiring", "converter": "wiring", "display": "reader", "battery": "battery",
}  # fmt: skip
"""By kind of part: the dependence that is another one with it."""


def part_changed(installation: Installation, kind: str, on: Date) -> Installation:
    """The installation after a part of this kind was changed: tests, rides and observations from before that day, as
    far as they depend on it, are void.

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
    counts = [
        item.model_copy(update={"voided_by": change}) if change in OF_TURNS and item.on < on else item
        for item in installation.turn_counts
    ]
    readouts = [_readout(readout, change, on) for readout in installation.readouts]
    return installation.model_copy(
        update=update | {"turn_counts": tuple(counts), "observations": tuple(observations), "readouts": tuple(readouts)}
    )


def labelled_by(installation: Installation, kind: str, label: PartLabel) -> Installation:
    """The installation with the name and number of a part of this kind that was fitted now; of several readouts nobody
    knows which one it is.

    Examples
    --------
    >>> from speedchain.document.installation import example_installation
    >>> labelled_by(example_installation(), "ring", PartLabel(name="Hub ring", number="R-36")).target.part.text
    'Hub ring, No. R-36'
    """

    def labelled(held: Sensor | Target | Readout) -> Any:
        known = held.part
        same = known is not None and (known.name, known.number) == (label.name, label.number)
        return held if same else held.model_copy(update={"part": label})

    match kind:
        case "sensor":
            update: dict[str, Any] = {"sensor": labelled(installation.sensor)}
        case "ring" | "magnet":
            update = {"target": labelled(installation.target)}
        case "display" if len(installation.readouts) == 1:
            update = {"readouts": (labelled(installation.readouts[0]),)}
        case _:
            return installation
    return installation.model_copy(update=update)


def settings_forgotten(installation: Installation, of_old: Installation) -> Installation:
    """The installation with a new display in place of the one of `of_old`: a number that is still the old one's is not
    known of the new one. A number that has been entered since stays.

    Examples
    --------
    >>> from speedchain.document.installation import example_installation
    >>> settings_forgotten(example_installation(), example_installation()) == example_installation()
    True
    """
    old = {readout.name: readout for readout in of_old.readouts}
    return installation.model_copy(
        update={"readouts": tuple([_forgotten(readout, old.get(readout.name)) for readout in installation.readouts])}
    )


def _forgotten(readout: Readout, old: Readout | None) -> Readout:
    if old is None or readout.entry == "fixed":  # the number that it is made for is its maker's
        return readout
    update: dict[str, Any] = {
        name: None
        for name in ("current_setting", "current_setting_code")
        if getattr(readout, name) is not None and getattr(readout, name) == getattr(old, name)
    }
    if readout.table and readout.table == old.table:
        update["table"] = tuple([row.model_copy(update={"set_frequency_hz": None}) for row in readout.table])
    return readout.model_copy(update=update)


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
