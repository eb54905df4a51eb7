"""Sheets to print: the test card and the wiring sheet, as PDF on A4."""

from __future__ import annotations

import io
from collections.abc import Sequence
from typing import Any

from speedchain.bench import Card
from speedchain.document import Installation
from speedchain.sheets.fonts import BOLD, PLAIN, runs, use_family
from speedchain.sheets.wiring import WiringSheet


def _text(words: str) -> str:
    """The words as reportlab's markup, each run in a font that has its letters."""
    marked = []
    for font, run in runs(words):
        plain = run.replace("&", "&amp;").replace("<", "&lt;").replace(">", "&gt;")
        marked.append(plain if font == PLAIN else f'<font name="{font}">{plain}</font>')
    return "".join(marked)


def _pdf(title: str, parts: Sequence[tuple[str, Any]]) -> bytes:
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
        if kind == "table":
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
        elif kind == "head":
            story.append(Paragraph(_text(content), styles["Heading2"]))
        else:
            words = f"<b>Caution:</b> {_text(content)}" if kind == "caution" else _text(content)
            story += [Paragraph(words, styles["BodyText"]), Spacer(1, 1 * mm)]
    made = io.BytesIO()
    margins = {f"{side}Margin": 15 * mm for side in ("left", "right", "top", "bottom")}
    SimpleDocTemplate(made, pagesize=A4, title=title, author="Wheelometron", invariant=1, **margins).build(story)
    return made.getvalue()


def card_pdf(installation: Installation, card: Card) -> bytes:
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
    parts: list[tuple[str, Any]] = [
        ("line", f"Readout: {card.readout}. Feed the frequencies in at the sensor's connector, lowest first; wait until the "
         "needle is steady; read it straight from the front."),
        ("caution", "Unplug the sensor and match the generator's level to it before it is connected."),
        ("table", rows),
        *[("line", words) for words in card.text if card.line],
        ("line", "Tested by: ____________________   on: ____________________"),
    ]  # fmt: skip
    return _pdf(f"Test card: {installation.name}", parts)


def wiring_pdf(sheet: WiringSheet) -> bytes:
    """The wiring sheet and the supplier's order sheet.

    Examples
    --------
    >>> from speedchain.evaluation import evaluate

    >>> from speedchain.document.installation import example_installation
    >>> from speedchain.sheets.wiring import wiring_sheet
    >>> wiring_pdf(wiring_sheet(example_installation(), evaluate(example_installation())))[:5]
    b'%PDF-'
    """
    wires = [[row.pin, row.colour, row.role, row.goes_to, row.with_it] for row in sheet.wires]
    parts: list[tuple[str, Any]] = [
        *[("caution", words) for words in sheet.cautions],
        *([("table", [["Pin", "Colour", "It is", "Goes to", "With it"], *wires])] if wires else []),
        *[("line", words) for words in sheet.notes],
        ("head", "Order sheet"),
        ("table", [["Asked", "Answer"], *[[row.asked, row.answer] for row in sheet.order]]),
    ]
    return _pdf(sheet.title, parts)
