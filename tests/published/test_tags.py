"""Tags: the code is read by OpenCV from the printed page, the text by pypdf."""

from __future__ import annotations

import io
from datetime import date
from unittest import TestCase

import cv2
import numpy as np
import pypdfium2
from pypdf import PdfReader

from speedchain.document.installation import example_installation
from speedchain.evaluation import evaluate
from speedchain.sheets.tag import HEIGHT_MM, WIDTH_MM, TagPlace, tag_lines, tag_pdf

ADDRESS = "https://192.168.178.123:8443/installation/123456"


class Tags(TestCase):
    def made(self, place: TagPlace, name: str = "Dash") -> bytes:
        known = example_installation().model_copy(update={"name": name})
        lines = tag_lines(known, evaluate(known), place, vehicle="Dotterel", revision=12, on=date(2026, 5, 2))
        return tag_pdf(lines, ADDRESS)

    def test_the_code_opens_the_installation(self) -> None:
        for place in ("sensor", "loom", "dash"):
            for dpi in (203, 300):  # what label printers have
                page = pypdfium2.PdfDocument(self.made(place))[0].render(scale=dpi / 72).to_numpy()  # type: ignore[arg-type]
                grey = cv2.cvtColor(np.asarray(page), cv2.COLOR_BGR2GRAY)
                read, *_ = cv2.QRCodeDetector().detectAndDecode(grey)
                self.assertEqual(read, ADDRESS, f"{place} at {dpi} dots an inch")

    def test_its_text_and_size(self) -> None:
        reader = PdfReader(io.BytesIO(self.made("dash")))
        text = reader.pages[0].extract_text()
        for words in ("Dotterel", "Dash", "Set: 24905 pulses per km", "48 per turn", "Revision 12, 2026-05-02"):
            self.assertIn(words, text)
        box = reader.pages[0].mediabox
        self.assertAlmostEqual(float(box.width) / 72 * 25.4, WIDTH_MM, places=2)
        self.assertAlmostEqual(float(box.height) / 72 * 25.4, HEIGHT_MM, places=2)

    def test_any_script_and_any_length(self) -> None:
        for name in (
            "Скорость колеса",
            "速度计",
            "A name that is much too long for one line of a label of this size, and on",
        ):
            text = PdfReader(io.BytesIO(self.made("sensor", name))).pages[0].extract_text()
            self.assertIn(name.split()[0], text)
