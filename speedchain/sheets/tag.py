"""A tag for sensor, loom or dash: a label with what matters, and a code that opens the installation on a phone."""

from __future__ import annotations

import io
from datetime import date as Date
from typing import Literal

from speedchain.document import Installation
from speedchain.evaluation import Evaluation
from speedchain.fields import Words, said, text_of
from speedchain.jobs import numbers_of
from speedchain.sheets.fonts import BOLD, PLAIN, runs, use_family

TagPlace = Literal["sensor", "loom", "dash"]
WIDTH_MM, HEIGHT_MM = 70.0, 36.0
CODE_MM = 26.0
MARGIN_MM = 2.5
LINE_MM = 4.0
QUIET_MODULES = 4
"""Blank modules around a QR code: ISO/IEC 18004."""


def tag_lines(
    installation: Installation, evaluation: Evaluation, place: TagPlace, *, vehicle: str, revision: int, on: Date
) -> tuple[Words, ...]:
    """What stands on a tag, line by line: of the dash the setting, of the sensor the gap, of the loom the wires.

    Examples
    --------
    >>> from speedchain.document.installation import example_installation
    >>> from speedchain.evaluation import evaluate
    >>> known = example_installation()
    >>> tag_lines(known, evaluate(known), "dash", vehicle="Dotterel", revision=3, on=Date(2026, 5, 2))[2]
    'Set: 24905 pulses per km'
    """
    numbers = numbers_of(installation, evaluation)
    own: dict[TagPlace, tuple[Words, ...]] = {
        "dash": (
            text_of("Set: {0}", numbers["setting"])
            if evaluation.readouts[0].entry == "typed" and not evaluation.readouts[0].table
            else evaluation.readouts[0].action,
            text_of("Wheel: {0:.0f} mm", evaluation.stages[0].value),
            text_of("Count: {0}", numbers["count"]),
        ),
        "sensor": (text_of("Gap: {0}", numbers["gap"]), text_of("Count: {0}", numbers["count"])),
        "loom": (text_of("Count: {0}", numbers["count"]), text_of("Wires: {0}", numbers["wires"])),
    }
    held = {"dash": installation.readouts[0].part, "sensor": installation.sensor.part}.get(place)
    part = (held.text,) if held is not None and held.text else ()
    return (vehicle, installation.name, *own[place], *part, text_of("Revision {0}, {1}", revision, on.isoformat()))


def tag_pdf(lines: tuple[str, ...], address: str) -> bytes:
    """The tag as a PDF of its own size, 70 × 36 mm, with a QR code of the address (ISO/IEC 18004, error level M)."""
    import segno
    from reportlab.lib.units import mm
    from reportlab.pdfgen.canvas import Canvas

    use_family()
    made = io.BytesIO()
    canvas = Canvas(made, pagesize=(WIDTH_MM * mm, HEIGHT_MM * mm), invariant=1)
    canvas.setTitle(said(lines[0]))
    code = [list(row) for row in segno.make(address, error="m").matrix_iter(scale=1, border=QUIET_MODULES)]
    module = CODE_MM / len(code)
    left, top = MARGIN_MM, HEIGHT_MM - (HEIGHT_MM - CODE_MM) / 2
    for down, row in enumerate(code):
        for along, dark in enumerate(row):
            if dark:
                canvas.rect(
                    (left + along * module) * mm,
                    (top - (down + 1) * module) * mm,
                    module * mm,
                    module * mm,
                    stroke=0,
                    fill=1,
                )
    at = HEIGHT_MM - MARGIN_MM - LINE_MM
    begins, width = left + CODE_MM + 1.0, WIDTH_MM - CODE_MM - 2 * MARGIN_MM - 1.0
    for number, line in enumerate(lines):
        for words in _wrapped(said(line), width, number < 2):
            if at < MARGIN_MM:
                break
            _write(canvas, words, begins, at, bold=number < 2)
            at -= LINE_MM
    canvas.showPage()
    canvas.save()
    return made.getvalue()


SIZE_PT = 8.0


def _write(canvas: object, words: str, x_mm: float, y_mm: float, *, bold: bool) -> None:
    from reportlab.lib.units import mm

    text = canvas.beginText(x_mm * mm, y_mm * mm)  # type: ignore[attr-defined]
    for font, run in runs(words):
        text.setFont(BOLD if bold and font == PLAIN else font, SIZE_PT)
        text.textOut(run)
    canvas.drawText(text)  # type: ignore[attr-defined]


def _wrapped(words: str, width_mm: float, bold: bool) -> list[str]:
    """A line in as many as its words need; of two at most."""
    from reportlab.lib.units import mm
    from reportlab.pdfbase.pdfmetrics import stringWidth

    found, line = [], ""
    for word in words.split():
        longer = f"{line} {word}".strip()
        if line and stringWidth(longer, BOLD if bold else PLAIN, SIZE_PT) > width_mm * mm:
            found.append(line)
            line = word
        else:
            line = longer
    return [*found, line][:2]
