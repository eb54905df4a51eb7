"""One term for one thing: what each means, and its unit. Shown in the app under Help; docs/glossary.md is made from it."""

from __future__ import annotations

from speedchain.results import result


@result
class Term:
    """A term, its meaning in one line, and its unit (empty where it has none)."""

    term: str
    meaning: str
    unit: str


TERMS = (
    Term(
        "installation", "one sensor on a vehicle with everything between the ground and the displays that read it", ""
    ),
    Term("stage", "one of the six parts of an installation: wheel, drive, target, sensor, signal, readout", ""),
    Term("evidence", "how a figure is known: assumed (formula, label, default), measured, verified (by a test)", ""),
    Term("rolling circumference", "way the vehicle moves in one turn of the wheel", "mm"),
    Term("roll-out", "measuring the rolling circumference by rolling the wheel a counted number of turns", "mm"),
    Term("growth", "increase of the circumference with speed", "%"),
    Term("target", "what passes the sensor: teeth, slots, magnets, pole pairs, bolt heads", ""),
    Term("target turns per wheel turn", "drive ratio between the wheel and the part that carries the target", ""),
    Term(
        "pulses per km",
        "edges that the reader counts in one kilometre: edges × count × ratio × 10⁶ / circumference",
        "1/km",
    ),
    Term("pitch", "distance from one tooth to the next at the sensed diameter", "mm"),
    Term("module", "pitch / π, of a gear", "mm"),
    Term("face width", "extent of a tooth across the direction of travel", "mm"),
    Term("runout (TIR)", "total indicator reading of the target as it turns", "mm"),
    Term("air gap", "distance from the sensor's face to the target", "mm"),
    Term(
        "lateral offset",
        "distance of the sensor's centreline from the middle of the teeth, across the direction of travel",
        "mm",
    ),
    Term(
        "clocking angle", "turn of the sensor about its own axis; 0° is the element along the direction of travel", "°"
    ),
    Term("tilt", "lean of the sensor's axis", "°"),
    Term("element", "the sensitive part inside the sensor's tip", ""),
    Term("element angle tolerance", "how far the element may be turned inside its body", "°"),
    Term("fitting tolerance", "how exactly the sensor can be placed by hand", "mm"),
    Term("overlap", "share of the element's length over the tooth face", ""),
    Term("aperture loss", "loss of signal because the element is wide compared with the pitch", ""),
    Term("spacing loss", "loss of signal because of the air gap compared with the pitch", ""),
    Term("signal margin", "strength of the signal in multiples of the switching level", ""),
    Term("operate point, release point", "flux density at which a switch closes and opens", "mT"),
    Term("hysteresis", "difference between the two thresholds of a comparator", "V"),
    Term("pull-up resistor", "resistor from an open-collector output to a supply", "Ω"),
    Term("VR sensor", "variable-reluctance sensor: a coil around a magnet; its voltage grows with speed", "V"),
    Term("VR conditioner", "circuit that turns a VR sensor's sine into a square wave", ""),
    Term("pulse-ratio converter", "device that gives p pulses for every q it receives", ""),
    Term("pulse width", "duration of one pulse", "ms"),
    Term("dead time", "time after an edge during which an input ignores edges", "ms"),
    Term("gate", "fixed time during which a reader counts edges", "s"),
    Term("setting", "the number that is entered in a display or controller", ""),
    Term("setting format", "what the setting stands for: circumference, pulses per km, …", ""),
    Term("current setting", "the setting as read back from the display", ""),
    Term("setting to enter", "the setting that this installation needs", ""),
    Term("implied by the setting", "circumference and pulses per km that a setting stands for", "mm, 1/km"),
    Term("resolution", "smallest step that a display or a method of counting can show", "km/h"),
    Term("under-reads", "shows less than the true speed", ""),
    Term("permitted range", "what a rule allows a speedometer to show at a true speed", "km/h"),
    Term("false slip", "slip shown although no wheel slips, because the scales of two wheels differ", "%"),
    Term("reciprocal runs", "runs in opposite directions over the same course, so that current or slope cancels", ""),
    Term("verified", "a test agreed within its limits", ""),
    Term("±", "expanded uncertainty, coverage factor k = 2", ""),
)


def as_markdown() -> str:
    """The glossary as docs/glossary.md.

    >>> as_markdown().splitlines()[0]
    '# Glossary'
    """
    lines = [f"| {one.term} | {one.meaning} | {one.unit} |".replace("  |", " |") for one in TERMS]
    head = "# Glossary\n\nOne term for one thing, in the app, the code, the file format and the docs.\n\n"
    return head + "| term | meaning | unit |\n|---|---|---|\n" + "\n".join(lines) + "\n"
