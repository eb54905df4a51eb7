"""Sheets to print: the test card and the wiring sheet, as PDF on A4."""

from __future__ import annotations

import io
from collections.abc import Sequence
from datetime import date as Date
from typing import Any, Literal, assert_never

from speedchain.bench import Card
from speedchain.document import Installation
from speedchain.fields import joined, text_of
from speedchain.results import result
from speedchain.sensor import WORDS
from speedchain.sheets.fonts import BOLD, PLAIN, runs, use_family
from speedchain.sheets.wiring import WiringSheet


def _text(words: str) -> str:
    """The words as reportlab's markup, each run in a font that has its letters."""
    marked = []
    for font, run in runs(words):
        plain = run.replace("&", "&amp;").replace("<", "&lt;").replace(">", "&gt;")
        marked.append(plain if font == PLAIN else text_of('<font name="{0}">{1}</font>', font, plain))
    return "".join(marked)


PartKind = Literal["head", "line", "caution", "table"]


def _pdf(title: str, parts: Sequence[tuple[PartKind, Any]]) -> bytes:
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
                rows = [[Paragraph(_text(str(cell)), styles["BodyText"]) for cell in row] for row in content]
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
                words = text_of("<b>Caution:</b> {0}", _text(content))
                story += [Paragraph(words, styles["BodyText"]), Spacer(1, 1 * mm)]
            case other:
                assert_never(other)
    made = io.BytesIO()
    margins = {f"{side}Margin": 15 * mm for side in ("left", "right", "top", "bottom")}
    SimpleDocTemplate(made, pagesize=A4, title=title, author="Wheelometron", invariant=1, **margins).build(story)
    return made.getvalue()


@result
class Heading:
    """What a sheet is of: the vehicle, the revision and its date, and whether it holds changes that are not saved."""

    vehicle: str
    revision: int
    saved_on: Date
    unsaved: bool


def _heading(installation: Installation, heading: Heading | None) -> list[tuple[PartKind, Any]]:
    """Vehicle, installation, revision, parts and notes, at the top of every sheet."""
    parts: list[tuple[PartKind, Any]] = []
    if heading is not None:
        changes = ", with changes that are not saved" if heading.unsaved else ""
        saved = text_of("revision {0} of {1}{2}", heading.revision, heading.saved_on.isoformat(), changes)
        parts.append(
            ("line", text_of("Vehicle: {0}. Installation: {1}, {2}.", heading.vehicle, installation.name, saved))
        )
    parts.append(("line", text_of("Parts: {0}.", joined("; ", _parts(installation)))))
    if installation.notes.strip():
        parts.append(("line", text_of("Notes: {0}", " ".join(installation.notes.split()))))
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
    head = ["True speed, km/h", "Generator, Hz", "Expected, km/h", "Reading"]
    if card.behind_converter:
        head.insert(2, "Converter output, Hz")
    rows: list[list[str]] = [head]
    for row in card.rows:
        cells = [f"{row.true_kmh:g}", f"{row.in_hz:.1f}", f"{row.expected_kmh:.1f}", ""]
        if row.read_kmh is not None:
            cells[-1] = f"{row.read_kmh:g}"
        if card.behind_converter:
            cells.insert(2, f"{row.out_hz:.1f}")
        rows.append(cells)
    parts: list[tuple[PartKind, Any]] = [
        *_heading(installation, heading),
        ("line", text_of("Readout: {0}. Feed the frequencies in at the sensor's connector, lowest first; wait "
"until the needle is steady; read it straight from the front.", card.readout)),
        ("caution", "Unplug the sensor and match the generator's level to it before it is connected."),
        ("table", rows),
        *[("line", words) for words in card.text if card.line],
        ("line", "Tested by: ____________________   on: ____________________"),
    ]  # fmt: skip
    return _pdf(text_of("Test card: {0}", installation.name), parts)


def wiring_pdf(installation: Installation, sheet: WiringSheet, heading: Heading | None = None) -> bytes:
    """The wiring sheet and the supplier's order sheet.

    Examples
    --------
    >>> from speedchain.evaluation import evaluate

    >>> from speedchain.document.installation import example_installation
    >>> from speedchain.sheets.wiring import wiring_sheet
    >>> installation = example_installation()
    >>> wiring_pdf(installation, wiring_sheet(installation, evaluate(installation)))[:5]
    b'%PDF-'
    """
    parts = [*_heading(installation, heading), *[("caution", words) for words in sheet.cautions]]
    if sheet.wires:
        wires = [[row.pin, row.colour, row.role, row.goes_to, row.with_it] for row in sheet.wires]
        parts.append(("table", [["Pin", "Colour", "It is", "Goes to", "With it"], *wires]))
    parts += [("line", words) for words in sheet.notes]
    parts += [
        ("head", "Order sheet"),
        ("table", [["Asked", "Answer"], *[[row.asked, row.answer] for row in sheet.order]]),
    ]
    return _pdf(sheet.title, parts)
