"""Texts people write: every script on paper, and no invisible marks."""

from __future__ import annotations

import io
from unittest import TestCase

from hypothesis import given
from hypothesis import strategies as st
from pypdf import PdfReader

from speedchain import evaluate
from speedchain.bench.card import card_of
from speedchain.fields import Language, said, speeds_in, spoken_in
from speedchain.fields.errors import InputError
from speedchain.fields.texts import TURNING, plain
from speedchain.sheets.fonts import FALLBACKS, PLAIN, letters_of, runs
from speedchain.sheets.pdf import card_pdf, wiring_pdf
from speedchain.wiring import wiring_sheet
from tests.installations import CAR, installation

NAMES = ("Песочник", "砂の船", "沙船", "모래배", "Άμμος", "Şantiye <&> Ω → ≤")


class Paper(TestCase):
    def test_names_in_every_script_are_on_the_sheets(self) -> None:
        """Read back by pypdf, a general-purpose library."""
        for name in NAMES:
            given_installation = installation(CAR, name=name, readouts__0__name=name)
            result = evaluate(given_installation)
            sheets = (
                card_pdf(given_installation, card_of(given_installation, result)),
                wiring_pdf(given_installation, wiring_sheet(given_installation, result)),
            )
            for sheet in sheets:
                with self.subTest(name):
                    reader = PdfReader(io.BytesIO(sheet))
                    text = "".join(page.extract_text() for page in reader.pages)
                    self.assertIn(name, text)
                    self.assertNotIn("■", text)
                    for page in reader.pages:
                        for font in page["/Resources"]["/Font"].values():
                            described = font.get_object().get("/FontDescriptor")
                            self.assertTrue(described is None or "/FontFile2" in described.get_object())

    def test_a_card_is_in_the_unit_and_the_language_of_its_reader(self) -> None:
        """100 km/h are 62.14 mph; what somebody wrote in the notes stays as it is."""
        given_installation = installation(CAR, notes="Measured at 100 km/h")
        words = {"Test card: {0}": "Prüfkarte: {0}", "True speed": "Wahre Geschwindigkeit"}
        with speeds_in("mph"), spoken_in(Language(code="de", translations=words, decimal=",")):
            sheet = card_pdf(given_installation, card_of(given_installation, evaluate(given_installation)))
        text = " ".join("".join(page.extract_text() for page in PdfReader(io.BytesIO(sheet)).pages).split())
        for words_of in ("Prüfkarte: Dash from the front hub", "Wahre Geschwindigkeit", "62,1 mph", "at 100 km/h"):
            self.assertIn(words_of, text)
        self.assertEqual(text.count("km/h"), 1)

    @given(st.text(max_size=60))
    def test_runs_hold_the_whole_text_each_in_a_font_that_has_it(self, text: str) -> None:
        found = runs(text)
        self.assertEqual("".join(run for _, run in found), text)
        for font, run in found:
            if font in FALLBACKS:
                self.assertTrue(all(ord(letter) in letters_of(font) for letter in run))
                self.assertTrue(all(ord(letter) not in letters_of(PLAIN) for letter in run))


class Minus(TestCase):
    def test_a_hyphen_before_a_number_is_a_minus_and_no_other(self) -> None:
        for text, expected in (
            ("shows -2.4 % at 100 km/h", "shows −2.4 % at 100 km/h"),
            ("-3 °C", "−3 °C"),
            ("(-0.5 %)", "(−0.5 %)"),
            ("+0.5 → -0.38 %", "+0.5 → −0.38 %"),
            ("Set the gap to 0.40-0.76 mm.", "Set the gap to 0.40-0.76 mm."),
            ("failed on 2026-05-02", "failed on 2026-05-02"),
            ("tyre 28-622, 120/70-17", "tyre 28-622, 120/70-17"),
            ("shelf-4", "shelf-4"),
            ("three-pin, 5-way", "three-pin, 5-way"),
        ):
            with self.subTest(text):
                self.assertEqual(said(text), expected)

    def test_units_are_changed_under_a_minus(self) -> None:
        """10 km/h are 6.214 mph, 25.4 mm are one inch."""
        with speeds_in("mph"):
            self.assertEqual(said("off by -10 km/h and -25.4 mm"), "off by −6.21 mph and −1.00 in")


class Marks(TestCase):
    def test_every_mark_and_control_character_is_refused(self) -> None:
        for letter in [*TURNING, *map(chr, range(9)), "\x7f", "\x85", "\ud800"]:
            with self.subTest(ascii(letter)), self.assertRaises(InputError):
                plain(f"a{letter}b")
        for text in ("a\nb", "a\tb", "Ω ± 2 µs", "שלום", "家"):
            self.assertEqual(plain(text), text)
