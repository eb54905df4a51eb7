"""What a job sheet takes from its installation: which steps apply, and the numbers in their texts."""

from __future__ import annotations

from speedchain.bench import spin_test
from speedchain.document import Installation
from speedchain.evaluation import Evaluation
from speedchain.fields import Words, joined, text_of
from speedchain.jobs.steps import When
from speedchain.sensor import facts_of
from speedchain.sheets import wiring_sheet
from speedchain.target import chosen_spokes

CYCLES = ("bicycle", "e_bike", "velomobile", "cargo_trike")
TEETH = ("toothed_ring", "slotted_disc", "drilled_rotor", "multipole_ring", "shaft_reluctor", "bolt_heads")
SINGLE = ("hall_gear_tooth",)
SHAFTS = ("axle_ratio", "transfer_box", "sprockets")
TEN_TURNS = 10
TEN_S = 10.0


def conditions_of(installation: Installation) -> frozenset[When]:
    """What the installation has on which steps depend.

    Examples
    --------
    >>> from speedchain.document.installation import example_installation
    >>> sorted(conditions_of(example_installation()))
    ['brakes_near', 'on_wheels', 'powered', 'road', 'single_element', 'soft_tyre', 'teeth', 'typed']
    """
    kind, target, sensor = installation.vehicle_kind, installation.target, installation.sensor
    entries = {readout.entry for readout in installation.readouts}
    magnets = target.kind == "magnets"
    rotor = magnets and target.magnets is not None and target.magnets.mounted == "rotor"
    mounted = "spokes" if target.magnets is None else target.magnets.mounted
    spokes = magnets and installation.drive.kind == "hub" and (target.spokes is not None or mounted == "spokes")
    afloat, cycle = kind == "boat", kind in CYCLES
    found: dict[When, bool] = {
        "on_wheels": not afloat,
        "afloat": afloat,
        "cycle": cycle,
        "road": kind in ("car", "motorcycle", "scooter", "sidecar"),
        "brakes_near": not afloat and (rotor or target.kind in TEETH) and installation.drive.kind == "hub",
        "brake_control": installation.purpose == "brake_control",
        "rotor_magnet": rotor,
        "magnets": magnets,
        "spokes": spokes and not rotor,
        "teeth": target.kind in TEETH,
        "driven_shaft": installation.drive.kind in SHAFTS,
        "typed": "typed" in entries,
        "learned": "learned" in entries,
        "fixed": "fixed" in entries,
        "converted": installation.signal.converter is not None or installation.signal.analogue is not None,
        "wires": bool(sensor.wires),
        "powered": sensor.kind not in ("inertial",),
        "single_element": sensor.kind in SINGLE,
        "several_readouts": len(installation.readouts) > 1,
        "soft_tyre": not afloat,
        "on_hull": afloat and installation.sensed_at == "hull",
        "through_hull": afloat,
        "reed_or_magnet": magnets,
    }
    return frozenset([name for name, there in found.items() if there])


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
    return {
        "readout": readout.name,
        "unit": readout.unit,
        "action": readout.action,
        "setting": text_of("{0} {1}", readout.to_type.text, readout.unit),
        "setting_now": "not read back yet"
        if current is None
        else text_of("{0:g} {1} is entered here", current, readout.unit),
        "shown": text_of("{0:.1f} km/h at {1:g} km/h", evaluation.shown.shown_kmh, evaluation.shown.true_kmh),
        "count": text_of("{0} per turn", installation.target.count),
        "ratio": text_of("{0:.4g} turns per turn of the wheel are entered", drive.value),
        "gap": _gap(installation, evaluation),
        "clocking": _clocking(installation),
        "spin": _spin(installation, evaluation),
        "wires": _wires(installation, evaluation),
        "spokes": _spokes(installation),
    }


def _gap(installation: Installation, evaluation: Evaluation) -> Words:
    found = evaluation.placement_detail
    if found.possible and found.highest_gap_mm > found.lowest_gap_mm:
        return text_of("{0:.2f} to {1:.2f} mm", found.lowest_gap_mm, found.highest_gap_mm)
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
    return joined("; ", [item.text for item in found.predictions]) if found.predictions else "the display moves"


def _wires(installation: Installation, evaluation: Evaluation) -> Words:
    rows = wiring_sheet(installation, evaluation).wires
    said = [text_of("{0}: {1}, to {2}", row.colour or row.pin, row.role, row.goes_to) for row in rows]
    return joined("; ", said) if said else "no wire is entered yet"


def _spokes(installation: Installation) -> Words:
    numbers = chosen_spokes(installation.target)
    if not numbers:
        return "as the plan under Target says"
    return text_of(
        "numbers {0}, counted on both sides from the valve", joined(", ", [str(item.number) for item in numbers])
    )
