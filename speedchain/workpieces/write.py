"""Outlines as DXF, SVG and a 1:1 PDF with a check ruler."""

from __future__ import annotations

import io
import math
from collections.abc import Callable, Mapping
from typing import Literal
from xml.etree import ElementTree

from speedchain.fields import InputError
from speedchain.workpieces.outline import Outline, arc_of, edges

Format = Literal["dxf", "svg", "pdf"]
MEDIA: Mapping[Format, str] = {"dxf": "image/vnd.dxf", "svg": "image/svg+xml", "pdf": "application/pdf"}
RULER_MM = 100.0
MARGIN_MM = 12.0
OVERLAP_MM = 10.0
HEAD_MM = 42.0
MOST_SHEETS = 24


def as_dxf(outline: Outline) -> bytes:
    """DXF R2010 in millimetres by `ezdxf`: contours and holes on the layer CUT, marks and words on MARK."""
    from ezdxf import units
    from ezdxf.enums import TextEntityAlignment
    from ezdxf.filemanagement import new

    document = new("R2010", units=units.MM)
    document.layers.add("CUT", color=7)
    document.layers.add("MARK", color=1)
    space = document.modelspace()
    for contour in outline.contours:
        space.add_lwpolyline(contour, format="xyb", close=True, dxfattribs={"layer": "CUT"})
    for circle in outline.circles:
        space.add_circle((circle.x, circle.y), circle.radius, dxfattribs={"layer": "CUT"})
    for x1, y1, x2, y2 in outline.marks:
        space.add_line((x1, y1), (x2, y2), dxfattribs={"layer": "MARK"})
    for x, y, text in outline.labels:
        label = space.add_text(text, height=2.5, dxfattribs={"layer": "MARK"})
        label.set_placement((x, y), align=TextEntityAlignment.BOTTOM_CENTER)
    stream = io.StringIO()
    document.write(stream)
    return stream.getvalue().encode()


def as_svg(outline: Outline) -> bytes:
    """SVG in millimetres: one user unit is one millimetre, y turned down."""
    left, bottom, right, top = outline.box
    left, bottom, right, top = left - 2, bottom - 2, right + 2, top + 2
    width, height = right - left, top - bottom
    root = ElementTree.Element(
        "svg",
        xmlns="http://www.w3.org/2000/svg",
        width=f"{width:.3f}mm",
        height=f"{height:.3f}mm",
        viewBox=f"{left:.3f} {-top:.3f} {width:.3f} {height:.3f}",
    )
    ElementTree.SubElement(root, "title").text = outline.title
    ElementTree.SubElement(root, "desc").text = "; ".join(outline.facts)
    cut = ElementTree.SubElement(root, "g", {"id": "CUT", "fill": "none", "stroke": "black", "stroke-width": "0.1"})
    for contour in outline.contours:
        steps = [f"M{contour[0][0]:.4f} {-contour[0][1]:.4f}"]
        for start, end in edges(contour):
            if not start[2]:
                steps.append(f"L{end[0]:.4f} {-end[1]:.4f}")
                continue
            radius, sweep = arc_of(start, end).radius, 4 * math.atan(start[2])
            flags = f"{int(abs(sweep) > math.pi)} {int(sweep < 0)}"
            steps.append(f"A{radius:.4f} {radius:.4f} 0 {flags} {end[0]:.4f} {-end[1]:.4f}")
        ElementTree.SubElement(cut, "path", d="".join(steps) + "Z")
    for circle in outline.circles:
        at = {"cx": f"{circle.x:.4f}", "cy": f"{-circle.y:.4f}", "r": f"{circle.radius:.4f}"}
        ElementTree.SubElement(cut, "circle", at)
    mark = ElementTree.SubElement(root, "g", {"id": "MARK", "fill": "none", "stroke": "red", "stroke-width": "0.1"})
    for x1, y1, x2, y2 in outline.marks:
        at = {"x1": f"{x1:.4f}", "y1": f"{-y1:.4f}", "x2": f"{x2:.4f}", "y2": f"{-y2:.4f}"}
        ElementTree.SubElement(mark, "line", at)
    return bytes(ElementTree.tostring(root, encoding="utf-8", xml_declaration=True))


def as_pdf(outline: Outline) -> bytes:
    """A4 sheets at 1:1 by `reportlab`: one when it installations, else sheets that overlap by 10 mm; a ruler on
    each."""
    from reportlab.lib.pagesizes import A4
    from reportlab.lib.units import mm
    from reportlab.pdfgen import canvas

    left, bottom, right, top = outline.box
    page_w, page_h = A4[0] / mm, A4[1] / mm
    free_w, free_h = page_w - 2 * MARGIN_MM, page_h - 2 * MARGIN_MM - HEAD_MM
    across = _sheets(right - left, free_w)
    down = _sheets(top - bottom, free_h)
    if across * down > MOST_SHEETS:
        raise InputError(
            f"At full size this takes {across * down} sheets of paper.",
            remedy="Take the DXF or SVG to the cutter.",
            limit=f"at most {MOST_SHEETS} sheets",
            value=across * down,
        )
    stream = io.BytesIO()
    page = canvas.Canvas(stream, pagesize=A4, invariant=1)
    page.setTitle(outline.title)
    page.setAuthor("Wheelometron")
    page.beginForm("part", left - 5, bottom - 5, right + 5, top + 5)  # drawn once, shown on every sheet
    _draw(page, outline)
    page.endForm()
    for row in range(down):
        for column in range(across):
            _head(page, outline, row * across + column + 1, across * down)
            page.saveState()
            clip = page.beginPath()
            clip.rect(MARGIN_MM * mm, MARGIN_MM * mm, free_w * mm, free_h * mm)
            page.clipPath(clip, stroke=1 if across * down > 1 else 0)
            single_x = (free_w - (right - left)) / 2 if across == 1 else 0.0
            single_y = (free_h - (top - bottom)) / 2 if down == 1 else 0.0
            x = MARGIN_MM + single_x - left - column * (free_w - OVERLAP_MM)
            y = MARGIN_MM + single_y - bottom - row * (free_h - OVERLAP_MM)
            page.translate(x * mm, y * mm)
            page.scale(mm, mm)
            page.doForm("part")
            page.restoreState()
            page.showPage()
    page.save()
    return stream.getvalue()


def _sheets(size_mm: float, free_mm: float) -> int:
    return 1 if size_mm <= free_mm else math.ceil((size_mm - OVERLAP_MM) / (free_mm - OVERLAP_MM))


def _head(page: object, outline: Outline, number: int, of: int) -> None:
    """Title, facts and the ruler."""
    from reportlab.lib.pagesizes import A4
    from reportlab.lib.units import mm
    from reportlab.pdfgen.canvas import Canvas

    assert isinstance(page, Canvas)
    top = A4[1] - MARGIN_MM * mm
    page.setFont("Helvetica-Bold", 13)
    page.drawString(MARGIN_MM * mm, top - 10, outline.title + (f", sheet {number} of {of}" if of > 1 else ""))
    page.setFont("Helvetica", 8.5)
    for place, fact in enumerate(outline.facts):
        page.drawString(MARGIN_MM * mm, top - 22 - 10 * place, fact)
    page.drawString(
        MARGIN_MM * mm, top - 56, "Print at 100 % (actual size). This ruler has to measure 100 mm; if not, print again."
    )
    y = top - 82
    page.setLineWidth(0.4)
    page.line(MARGIN_MM * mm, y, (MARGIN_MM + RULER_MM) * mm, y)
    for mark_mm in range(int(RULER_MM) + 1):
        size = 9 if mark_mm % 10 == 0 else (6 if mark_mm % 5 == 0 else 3)
        x = (MARGIN_MM + mark_mm) * mm
        page.line(x, y, x, y + size)
        if mark_mm % 10 == 0:
            page.drawCentredString(x, y + 11, str(mark_mm))


def _draw(page: object, outline: Outline) -> None:
    from reportlab.pdfgen.canvas import Canvas

    assert isinstance(page, Canvas)
    page.setLineWidth(0.15)
    for contour in outline.contours:
        path = page.beginPath()
        path.moveTo(contour[0][0], contour[0][1])
        for start, end in edges(contour):
            if not start[2]:
                path.lineTo(end[0], end[1])
                continue
            x, y, radius, start_deg, sweep_deg = arc_of(start, end)
            path.arcTo(x - radius, y - radius, x + radius, y + radius, start_deg, sweep_deg)
        path.close()
        page.drawPath(path)
    for circle in outline.circles:
        page.circle(circle.x, circle.y, circle.radius)
        page.line(circle.x - 2, circle.y, circle.x + 2, circle.y)
        page.line(circle.x, circle.y - 2, circle.x, circle.y + 2)
    page.setDash(1.5, 1)
    for x1, y1, x2, y2 in outline.marks:
        page.line(x1, y1, x2, y2)
    page.setDash()
    page.setFont("Helvetica", 3)
    for x, y, text in outline.labels:
        page.drawCentredString(x, y, text)


WRITERS: Mapping[Format, Callable[[Outline], bytes]] = {"dxf": as_dxf, "svg": as_svg, "pdf": as_pdf}
