"""Sheets to print: the test card, the wiring sheet and the report of a drive, as PDF on A4."""

from __future__ import annotations

import io
from collections.abc import Sequence
from contextlib import suppress
from datetime import date as Date
from typing import Any, Literal, assert_never

from speedchain.bench import Card
from speedchain.document import Installation
from speedchain.fields import InputError, codes_of, joined, label_of, said, text_of
from speedchain.jobs import JobSheet, SheetStep
from speedchain.results import result
from speedchain.runs import Proof, Reciprocal, SpeedCheck
from speedchain.sensor import WORDS
from speedchain.service import FittedPart, PartKind
from speedchain.sheets.fonts import BOLD, PLAIN, runs, use_family
from speedchain.uncertainty import COVERAGE_FACTOR, Likely
from speedchain.vehicle import WORN_MM, TrailerRow
from speedchain.wiring import WiringSheet
from speedchain.workpieces import WRITERS, Outline, bracket_outline, ring_outline


def _text(words: str) -> str:
    """The words as they are handed over, as reportlab's markup: each run in a font that has its letters."""
    marked = []
    for font, run in runs(said(words)):
        plain = run.replace("&", "&amp;").replace("<", "&lt;").replace(">", "&gt;")
        marked.append(plain if font == PLAIN else text_of('<font name="{0}">{1}</font>', font, plain))
    return "".join(marked)


Piece = Literal["head", "line", "caution", "table"]


def _as_written(text: str) -> str:
    """What somebody wrote, whose numbers keep their units: see `speedchain.fields.words`."""
    return "\u00a0".join(text.split())


def _pdf(title: str, parts: Sequence[tuple[Piece, Any]]) -> bytes:
    """Parts one after the other: ("head", words), ("line", words), ("caution", words) or ("table", rows)."""
    from reportlab.lib import colors
    from reportlab.lib.pagesizes import A4
    from reportlab.lib.styles import ParagraphStyle, getSampleStyleSheet
    from reportlab.lib.units import mm
    from reportlab.platypus import Paragraph, SimpleDocTemplate, Spacer, Table, TableStyle

    use_family()
    styles = getSampleStyleSheet()
    for style in styles.byName.values():
        if isinstance(style, ParagraphStyle):
            style.fontName = PLAIN if style.name == "BodyText" else BOLD
    story: list[Any] = [Paragraph(_text(title), styles["Title"])]
    for kind, content in parts:
        match kind:
            case "table":
                rows = [[Paragraph(_text(cell), styles["BodyText"]) for cell in row] for row in content]
                grid = Table(rows, repeatRows=1, colWidths=[180 * mm / len(content[0])] * len(content[0]))
                grid.setStyle(
                    TableStyle(
                        [
                            ("GRID", (0, 0), (-1, -1), 0.4, colors.grey),
                            ("BACKGROUND", (0, 0), (-1, 0), colors.whitesmoke),
                            ("VALIGN", (0, 0), (-1, -1), "MIDDLE"),
                        ]
                    )
                )
                story += [grid, Spacer(1, 4 * mm)]
            case "head":
                story.append(Paragraph(_text(content), styles["Heading2"]))
            case "line":
                story += [Paragraph(_text(content), styles["BodyText"]), Spacer(1, 1 * mm)]
            case "caution":
                words = f"<b>{_text('Caution')}:</b> {_text(content)}"
                story += [Paragraph(words, styles["BodyText"]), Spacer(1, 1 * mm)]
            case other:
                assert_never(other)
    made = io.BytesIO()
    margins = {f"{side}Margin": 15 * mm for side in ("left", "right", "top", "bottom")}
    SimpleDocTemplate(made, pagesize=A4, title=said(title), author="Wheelometron", invariant=1, **margins).build(story)
    return made.getvalue()


@result
class Heading:
    """What a sheet is of: the vehicle, the revision and its date, and whether it holds changes that are not saved."""

    vehicle: str
    revision: int
    saved_on: Date
    unsaved: bool


def _heading(installation: Installation, heading: Heading | None) -> list[tuple[Piece, Any]]:
    """Vehicle, installation, revision, parts and notes, at the top of every sheet."""
    parts: list[tuple[Piece, Any]] = []
    if heading is not None:
        saved = text_of(
            "revision {0} of {1}, with changes that are not saved" if heading.unsaved else "revision {0} of {1}",
            heading.revision,
            heading.saved_on.isoformat(),
        )
        parts.append(
            ("line", text_of("Vehicle: {0}. Installation: {1}, {2}.", heading.vehicle, installation.name, saved))
        )
    parts.append(("line", text_of("Parts: {0}.", joined("; ", _parts(installation)))))
    if installation.notes.strip():
        parts.append(("line", text_of("Notes: {0}", _as_written(installation.notes))))
    return parts


def _parts(installation: Installation) -> list[str]:
    """What the installation is made of."""
    target, lead, signal = installation.target, installation.signal.lead, installation.signal
    found = [
        text_of("{0}, {1} per turn", target.kind.replace("_", " "), target.count),
        text_of("{0} sensor", WORDS[installation.sensor.kind].label),
    ]
    if installation.wheel.marking is not None:
        found.insert(0, text_of("tyre {0}", installation.wheel.marking.text))
    found += [label.text for label in installation.part_labels]
    if lead.plug:
        found.append(text_of("connector {0}", lead.plug))
    for ohm, name in ((lead.pull_up_ohm, "pull-up resistor"), (lead.load_ohm, "load resistor")):
        if ohm is not None:
            found.append(text_of("{0} {1:g} Ω", name, ohm))
    if signal.conditioner is not None:
        found.append("comparator" if signal.conditioner.kind == "comparator" else "VR conditioner")
    if signal.converter is not None:
        found.append("ratio converter")
    if lead.fuse_a is not None:
        found.append(text_of("fuse {0:g} A", lead.fuse_a))
    return found


def _cause(cause: Likely) -> str:
    if cause.share_pct is None:
        return text_of("Likely cause: {0}.", cause.text)
    return text_of("Likely cause: {0} ({1:.0f} %).", cause.text, cause.share_pct)


def _kmh(speed_kmh: float) -> str:
    """A speed, handed over in the unit of whoever reads it."""
    return text_of("{0:g} km/h", speed_kmh)


def card_pdf(installation: Installation, card: Card, heading: Heading | None = None) -> bytes:
    """The test card, with room to write what the needle says.

    Examples
    --------
    >>> from speedchain.bench.card import card_of
    >>> from speedchain.evaluation import evaluate
    >>> from speedchain.document.installation import example_installation
    >>> installation = example_installation()
    >>> card_pdf(installation, card_of(installation, evaluate(installation)))[:5]
    b'%PDF-'
    """
    head = ["True speed", "Generator", "Expected", "Reading"]
    if card.behind_converter:
        head.insert(2, "Converter output")
    rows: list[list[str]] = [head]
    for row in card.rows:
        cells = [_kmh(row.true_kmh), text_of("{0:.1f} Hz", row.in_hz), _kmh(round(row.expected_kmh, 1)), ""]
        if row.read_kmh is not None:
            cells[-1] = _kmh(row.read_kmh)
        if card.behind_converter:
            cells.insert(2, text_of("{0:.1f} Hz", row.out_hz))
        rows.append(cells)
    parts: list[tuple[Piece, Any]] = [
        *_heading(installation, heading),
        ("line", text_of("Readout: {0}. Feed the frequencies in at the sensor's connector, lowest first; wait "
"until the needle is steady; read it straight from the front.", card.readout)),
        ("caution", "Unplug the sensor and match the generator's level to it before it is connected."),
        ("table", rows),
        *[("line", words) for words in card.text if card.line],
        ("line", "Tested by: ____________________   on: ____________________"),
    ]  # fmt: skip
    return _pdf(text_of("Test card: {0}", installation.name), parts)


def wiring_pdf(
    installation: Installation, sheet: WiringSheet, heading: Heading | None = None, fitted: Sequence[FittedPart] = ()
) -> bytes:
    """The wiring sheet and the supplier's order sheet, with the parts that are fitted and their numbers.

    Examples
    --------
    >>> from speedchain.evaluation import evaluate

    >>> from speedchain.document.installation import example_installation
    >>> from speedchain.wiring import wiring_sheet
    >>> installation = example_installation()
    >>> wiring_pdf(installation, wiring_sheet(installation, evaluate(installation)))[:5]
    b'%PDF-'
    """
    parts = [*_heading(installation, heading), *[("caution", words) for words in sheet.cautions]]
    if sheet.wires:
        wires = [[row.pin, row.colour, row.role, row.goes_to, row.with_it] for row in sheet.wires]
        parts.append(("table", [["Pin", "Colour", "Function", "Connect to", "Notes"], *wires]))
    parts += [("line", words) for words in sheet.notes]
    parts += [
        ("head", "Order sheet"),
        ("table", [["Question", "Answer"], *[[row.asked, row.answer] for row in sheet.order]]),
    ]
    if fitted:
        rows = [
            [label_of(part.kind, codes_of(PartKind)), part.name, part.supplier, part.supplier_number, part.pins]
            for part in fitted
        ]
        parts += [
            ("head", "Parts fitted"),
            ("table", [["Part", "Name", "Supplier", "Supplier's number", "Pins as tested"], *rows]),
        ]
    return _pdf(sheet.title, parts)


REASONS: dict[str, str] = {
    "not_recorded": "not recorded",
    "slow": "slow",
    "speed_changes": "speed changes",
    "turn": "turn",
    "poor_fix": "poor fix",
    "short": "short",
    "by_hand": "left out by hand",
}


def drive_pdf(installation: Installation, proof: Proof, heading: Heading | None, *, recording: str) -> bytes:
    """The report of a recorded drive: what it proves, what was used of it, and how sure it is.

    Examples
    --------
    >>> from speedchain.document.installation import example_installation
    >>> from speedchain.evaluation import evaluate
    >>> from speedchain.runs import CheckWanted, Drive, as_table, prove, read_file
    >>> example = example_installation()
    >>> wanted = CheckWanted(true_channel="satellite speed", shown_channel="display")
    >>> proof = prove(example, evaluate(example), read_file(as_table(Drive()).encode()), wanted)
    >>> drive_pdf(example, proof, None, recording="drive.csv")[:5]
    b'%PDF-'
    """
    check = proof.check
    begins = check.parts[0].from_s if check.parts else 0.0
    rows = [["From", "To", "True speed", "Shown speed", "Used"]]
    for part in check.parts:
        pairs = [pair for pair in check.pairs if part.from_s - 0.01 <= pair.from_s and pair.to_s <= part.to_s + 0.01]
        used = part.reason is None and len(pairs) > 0
        rows.append(
            [
                text_of("{0:.0f} s", part.from_s - begins),
                text_of("{0:.0f} s", part.to_s - begins),
                _kmh(round(sum(pair.true_kmh for pair in pairs) / len(pairs), 2)) if used else "",
                _kmh(round(sum(pair.shown_kmh for pair in pairs) / len(pairs), 2)) if used else "",
                "yes" if part.reason is None else REASONS[part.reason],
            ]
        )
    lines = [
        proof.text,
        check.text,
        text_of(
            "{0:.0f} s of steady driving; the shown speed comes {1:.2f} s late, ± {2:.2f} s. Expected from the "
            "installation: {3:+.2f} %.",
            check.steady_s,
            check.lag.lag_s,
            COVERAGE_FACTOR * check.lag.u_s,
            proof.expected_error_pct,
        ),
        _covers(check) if proof.runs is None else _on_water(proof.runs),
        *[
            text_of("Heading {0:.0f}°: {1:+.2f} %, ± {2:.2g} %.", way.course_deg, way.error_pct, way.expanded_pct)
            for way in check.directions
        ],
        proof.action,
        proof.conflict,
        check.advice,
        *[_cause(cause) for cause in proof.causes[:3]],
    ]
    parts: list[tuple[Piece, Any]] = [
        *_heading(installation, heading),
        ("line", text_of("Recording: {0}.", recording)),
        *[("line", words) for words in lines if words],
        ("table", rows),
        ("line", "Driven by: ____________________   on: ____________________"),
    ]
    return _pdf(text_of("Check with a recorded drive: {0}", installation.name), parts)


def _covers(check: SpeedCheck) -> str:
    return text_of(
        "± covers 95.45 %: factor {0:.2f}, {1:.0f} degrees of freedom.", check.coverage_factor, check.degrees_of_freedom
    )


def _on_water(runs: Reciprocal) -> str:
    return text_of(
        "± covers 95.45 %: {0} runs there and back; true speed is through the water, current {1:.1f} km/h along the "
        "first run at first, {2:.1f} km/h at last.",
        len(runs.runs),
        runs.current_first_kmh,
        runs.current_last_kmh,
    )


@result
class JobHeading:
    """What a job sheet is of, and who signed it when."""

    vehicle: str
    installation: str
    revision: int
    signed_on: Date | None
    signed_by: str
    remark: str


def job_pdf(
    sheet: JobSheet,
    outcomes: Sequence[str],
    heading: JobHeading,
    drawn: Sequence[Outline] = (),
    *,
    first: Sequence[str] = (),
) -> bytes:
    """A job sheet on A4: each step with its caution, a box to tick or its outcome, in the order of the steps.

    What has to be read `first` stands at its top; the parts that are `drawn` follow at full size, each with its ruler.
    """
    parts: list[tuple[Piece, Any]] = [
        (
            "line",
            text_of(
                "Vehicle: {0}. Installation: {1}, revision {2}.",
                heading.vehicle,
                heading.installation,
                heading.revision,
            ),
        ),
        ("line", text_of("Tools and parts: {0}", sheet.needs)),
        *[("caution", text) for text in first],
    ]
    part: str = ""
    rows: list[list[str]] = []
    for step, done in zip(sheet.steps, outcomes, strict=True):
        if step.part != part:
            if rows:
                parts.append(("table", [["Step", "Done"], *rows]))
            part, rows = step.part, []
            parts.append(("head", part))
        text = text_of("{0} Caution: {1}", step.text, step.caution) if step.caution and step.safety else step.text
        rows.append([text, done or _box(step)])
    if rows:
        parts.append(("table", [["Step", "Done"], *rows]))
    cautions = dict.fromkeys([step.caution for step in sheet.steps if step.caution and not step.safety])
    parts += [("caution", text) for text in cautions]
    if heading.signed_on is None:
        parts.append(("line", "Signed by: ____________________ on: ____________________"))
    else:
        parts.append(("line", text_of("Signed by {0} on {1}.", heading.signed_by, heading.signed_on.isoformat())))
    if heading.remark:
        parts.append(("line", text_of("Remark: {0}", _as_written(heading.remark))))
    parts.append(("line", "Local codes and licensed practice come first. Torques are those of the vehicle's manual."))
    return _with_drawings(_pdf(sheet.title, parts), drawn)


def _with_drawings(sheet: bytes, drawn: Sequence[Outline]) -> bytes:
    from pypdf import PdfWriter

    if not drawn:
        return sheet
    writer = PdfWriter(clone_from=io.BytesIO(sheet))
    for outline in drawn:
        writer.append(io.BytesIO(WRITERS["pdf"](outline)))
    made = io.BytesIO()
    writer.write(made)
    return made.getvalue()


def parts_to_make(installation: Installation) -> tuple[Outline, ...]:
    """The ring and the bracket that are drawn in the installation, as finished parts; none that cannot be made.

    Examples
    --------
    >>> from speedchain.document.installation import example_installation
    >>> parts_to_make(example_installation())
    ()
    """
    found = []
    if installation.target.cut is not None:
        with suppress(InputError):
            found.append(ring_outline(installation.target, installation.sensor.kind, kerf=False))
    if installation.placement is not None and installation.placement.bracket is not None:
        with suppress(InputError):
            found.append(bracket_outline(installation.placement.bracket, kerf=False))
    return tuple(found)


def _box(step: SheetStep) -> str:
    match step.kind:
        case "measure" | "torque":
            return text_of("________ {0}", step.unit)
        case "decide":
            return "[  ] yes   [  ] no"
        case "tick" | "photo" | "timer":
            return "[  ]"


def trailer_pdf(vehicle: str, rows: Sequence[TrailerRow], on: Date) -> bytes:
    """The trailer card on A4: wheel by wheel, what each reader is set to."""
    parts: list[tuple[Piece, Any]] = [("line", text_of("{0}, {1}", vehicle, on.isoformat()))]
    for wheel in dict.fromkeys([row.wheel for row in rows]):
        parts.append(("head", wheel))
        table = [["Reader", "Setting now", text_of("Setting worn to {0:g} mm", WORN_MM)]]
        table += [[row.reader, row.now or "-", row.worn or "-"] for row in rows if row.wheel == wheel]
        parts.append(("table", table))
    return _pdf("Trailer card", parts)
