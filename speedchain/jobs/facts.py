"""The words and numbers of an installation in the texts of its job sheets."""

from __future__ import annotations

from speedchain.bench import shown_now, spin_test
from speedchain.document import Installation
from speedchain.evaluation import Evaluation
from speedchain.fields import Gap, Words, joined, quantity_of, text_of
from speedchain.fitted import words_for
from speedchain.placement import maker_window
from speedchain.sensor import facts_of
from speedchain.target import chosen_spokes, numbering
from speedchain.wiring import wiring_sheet

TEN_TURNS = 10
TEN_S = 10.0


def numbers_of(installation: Installation, evaluation: Evaluation) -> dict[str, Words]:
    """The numbers of an installation in words, by the names that stand in the steps' texts.

    Examples
    --------
    >>> from speedchain.document.installation import example_installation
    >>> from speedchain.evaluation import evaluate
    >>> found = numbers_of(example_installation(), evaluate(example_installation()))
    >>> found["count"], found["setting"]
    ('48 per turn', '24905 pulses per km')
    """
    readout = evaluation.readouts[0]
    current = readout.current_setting
    drive = evaluation.stages[1]
    return words_for(installation) | {
        "readout": readout.name,
        "unit": readout.unit,
        "action": readout.action,
        "setting": text_of("{0} {1}", readout.to_type.text, readout.unit),
        "setting_now": "not read back yet"
        if current is None
        else text_of("{0:g} {1} is entered here", current, readout.unit),
        "shown": text_of("{0} at {1:g} km/h", shown_now(installation, evaluation)[0].text, evaluation.shown.true_kmh),
        "count": text_of("{0} per turn", installation.target.count),
        "ratio": text_of("{0:.4g} turns per turn of the wheel are entered", drive.value),
        "gap": _gap(installation, evaluation),
        "clocking": _clocking(installation),
        "spin": _spin(installation, evaluation),
        "wires": _wires(installation, evaluation),
        "spokes": _spokes(installation),
        "card": _card(installation),
        "noted": joined("; ", [label.text for label in installation.part_labels]),
    }


def _gap(installation: Installation, evaluation: Evaluation) -> Words:
    found = evaluation.placement_detail
    if found.possible and found.highest_gap_mm > found.lowest_gap_mm:
        return text_of("{0:.2f} to {1:.2f} mm", found.lowest_gap_mm, found.highest_gap_mm)
    maker = maker_window(installation.sensor, installation.target)
    if maker is not None and maker.highest_mm < quantity_of(Gap).maximum:
        return text_of("{0:.2f} to {1:.2f} mm", maker.lowest_mm, maker.highest_mm)
    rated = facts_of(installation.sensor).rated_air_gap_mm
    if rated > 0:
        return text_of("as the sensor's maker says, at most {0:g} mm", rated)
    return "as the sensor's maker says"


def _clocking(installation: Installation) -> Words:
    angle = installation.placement.clocking_angle_deg if installation.placement is not None else None
    if angle is None:
        return "Turn the sensor's body until the signal is strongest: try a quarter turn first, then shift it sideways."
    return text_of("Turn the sensor's body to {0:g}° against the direction of travel.", angle)


def _spin(installation: Installation, evaluation: Evaluation) -> Words:
    found = spin_test(installation, evaluation, TEN_TURNS, TEN_S)
    return (
        joined("; ", list(dict.fromkeys([item.text for item in found.predictions])))
        if found.predictions
        else "the display moves"
    )


def _wires(installation: Installation, evaluation: Evaluation) -> Words:
    rows = wiring_sheet(installation, evaluation).wires
    said = [text_of("{0}: {1}, to {2}", row.colour or row.pin, row.role, row.goes_to) for row in rows]
    return joined("; ", said) if said else "no wire is entered yet"


def _card(installation: Installation) -> Words:
    """The settings card of the readouts: what else is entered in each."""
    several = len(installation.readouts) > 1
    said = [
        text_of("{0}: {1}: {2}", readout.name, kept.name, kept.set_to)
        if several
        else text_of("{0}: {1}", kept.name, kept.set_to)
        for readout in installation.readouts
        for kept in readout.other_settings
    ]
    return joined("; ", said) if said else "none kept yet; write them down under Readout"


def _spokes(installation: Installation) -> Words:
    numbers = chosen_spokes(installation.target)
    if not numbers:
        return "as the plan under Target says"
    wheel = installation.target.spokes
    assert wheel is not None
    return text_of("{0} ({1})", joined(", ", [str(item.number) for item in numbers]), numbering(wheel))
