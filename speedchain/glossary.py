"""One term for one thing: what each means, and its unit. Shown in the app under Help; docs/glossary.md is made from
it."""

from __future__ import annotations

from speedchain.fields import Words
from speedchain.results import result


@result
class Term:
    """A term, its meaning in one line, and its unit (empty where it has none); a `code` where a page explains it."""

    term: Words
    meaning: Words
    unit: Words
    code: str = ""


TERMS = (
    Term(
        term="installation",
        meaning="one sensor on a vehicle with everything between the ground and the displays that read it",
        unit="",
    ),
    Term(
        term="stage",
        meaning="one of the six parts of an installation: wheel, drive, target, sensor, signal, readout",
        unit="",
    ),
    Term(
        term="evidence",
        meaning="how a figure is known: assumed (formula, label, default), measured, verified (by a test)",
        unit="",
    ),
    Term(term="rolling circumference", meaning="distance the vehicle moves in one turn of the wheel", unit="mm"),
    Term(
        term="roll-out",
        meaning="measuring the rolling circumference by rolling the wheel a counted number of turns",
        unit="mm",
    ),
    Term(term="growth", meaning="increase of the circumference with speed", unit="%"),
    Term(term="target", meaning="what passes the sensor: teeth, slots, magnets, pole pairs, bolt heads", unit=""),
    Term(
        term="target turns per wheel turn",
        meaning="drive ratio between the wheel and the part that carries the target",
        unit="",
    ),
    Term(
        term="pulses per km",
        meaning="edges that the reader counts in one kilometre: edges × count × ratio × 10⁶ / circumference",
        unit="1/km",
    ),
    Term(term="pitch", meaning="distance from one tooth to the next at the sensed diameter", unit="mm"),
    Term(term="module", meaning="pitch / π, of a gear", unit="mm"),
    Term(term="face width", meaning="extent of a tooth across the direction of travel", unit="mm"),
    Term(
        term="runout (TIR)",
        meaning="how far the target runs out of true in one turn: largest minus smallest reading of a dial gauge",
        unit="mm",
    ),
    Term(term="air gap", meaning="distance from the sensor's face to the target", unit="mm"),
    Term(
        term="lateral offset",
        meaning="distance of the sensor's centreline from the middle of the teeth, across the direction of travel",
        unit="mm",
    ),
    Term(
        term="clocking angle",
        meaning="turn of the sensor about its own axis; 0° is the element along the direction of travel",
        unit="°",
    ),
    Term(term="tilt", meaning="lean of the sensor's axis", unit="°"),
    Term(term="element", meaning="the sensitive part inside the sensor's tip", unit=""),
    Term(term="element angle tolerance", meaning="how far the element may be turned inside its body", unit="°"),
    Term(term="fitting tolerance", meaning="how exactly the sensor can be placed by hand", unit="mm"),
    Term(term="overlap", meaning="share of the element's length over the tooth face", unit=""),
    Term(
        term="left by the element's length",
        meaning="share of the signal that is left where the element is long compared with the pitch",
        unit="",
    ),
    Term(
        term="left by the air gap",
        meaning="share of the signal that is left at the air gap, which fades with the gap over the pitch",
        unit="",
    ),
    Term(term="signal margin", meaning="strength of the signal in multiples of the switching level", unit=""),
    Term(term="operate point, release point", meaning="flux density at which a switch closes and opens", unit="mT"),
    Term(term="hysteresis", meaning="difference between the two thresholds of a comparator", unit="V"),
    Term(term="pull-up resistor", meaning="resistor from an open-collector output to a supply", unit="Ω"),
    Term(
        term="VR sensor",
        meaning="variable-reluctance sensor: a coil around a magnet; its voltage grows with speed",
        unit="V",
    ),
    Term(term="VR conditioner", meaning="circuit that turns a VR sensor's sine into a square wave", unit=""),
    Term(term="pulse-ratio converter", meaning="device that gives p pulses for every q it receives", unit=""),
    Term(term="pulse width", meaning="duration of one pulse", unit="ms"),
    Term(term="dead time", meaning="time after an edge during which an input ignores edges", unit="ms"),
    Term(term="gate", meaning="fixed time during which a reader counts edges", unit="s"),
    Term(term="setting", meaning="the number that is entered in a display or controller", unit=""),
    Term(term="setting format", meaning="what the setting stands for: circumference, pulses per km, …", unit=""),
    Term(term="current setting", meaning="the setting as read back from the display", unit=""),
    Term(term="setting to enter", meaning="the setting that this installation needs", unit=""),
    Term(
        term="implied by the setting",
        meaning="circumference and pulses per km that a setting stands for",
        unit="mm, 1/km",
    ),
    Term(term="resolution", meaning="smallest step that a display or a method of counting can show", unit="km/h"),
    Term(term="under-reads", meaning="shows less than the true speed", unit=""),
    Term(term="permitted range", meaning="what a rule allows a speedometer to show at a true speed", unit="km/h"),
    Term(
        term="false slip",
        meaning="slip shown although no wheel slips, because the scales of two wheels differ",
        unit="%",
    ),
    Term(
        term="reciprocal runs",
        meaning="runs in opposite directions over the same course, so that current or slope cancels",
        unit="",
        code="reciprocal_runs",
    ),
    Term(
        term="coast-down",
        meaning="rolling freely, out of gear, from one speed to a lower one: the time tells rolling resistance "
        "and drag",
        unit="s",
        code="coast_down",
    ),
    Term(
        term="dead band",
        meaning="slip, or change of a figure, below which a controller does nothing",
        unit="%",
        code="dead_band",
    ),
    Term(
        term="bead seat",
        meaning="the diameter of the rim on which the tyre's edge sits; tyres and rims of one bead seat fit each other",
        unit="mm",
        code="bead_seat",
    ),
    Term(
        term="kerf",
        meaning="width of the cut that the tool takes away; the drawing is made larger by half of it on each side",
        unit="mm",
    ),
    Term(term="failed", meaning="a test of the stage failed and has not passed since", unit=""),
    Term(term="verified", meaning="a test agreed within its limits", unit=""),
    Term(term="±", meaning="expanded uncertainty, coverage factor k = 2", unit=""),
)


def as_markdown() -> str:
    """The glossary as docs/glossary.md.

    Examples
    --------
    >>> as_markdown().splitlines()[0]
    '# Glossary'
    """
    lines = [f"| {item.term} | {item.meaning} | {item.unit} |".replace("  |", " |") for item in TERMS]
    head = "# Glossary\n\nOne term for one thing, in the app, the code, the file format and the docs.\n\n"
    return head + "| term | meaning | unit |\n|---|---|---|\n" + "\n".join(lines) + "\n"
