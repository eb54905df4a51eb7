"""Texts in other languages: what a text was made of goes with it, through sums, lists and storage."""

from __future__ import annotations

import json
import string
from unittest import TestCase

from hypothesis import given
from hypothesis import strategies as st

from speedchain import evaluate
from speedchain.fields import (
    Given,
    Language,
    as_data,
    from_data,
    joined,
    recased,
    said,
    speeds_in,
    spoken_in,
    text_of,
)
from speedchain.stages import FindingCode
from tests.core.test_placement import RING
from tests.installations import CAR, installation

GERMAN = Language(
    code="de",
    translations={
        "Set the gap to {0:.2f} mm.": "Luftspalt auf {0:.2f} mm einstellen.",
        "{0} shows {1:.1f} km/h": "{0} zeigt {1:.1f} km/h",
        "front": "vorn",
        "Read it back": "Zurücklesen",
        "{1} before {0}": "{1} vor {0}",
    },
    decimal=",",
)


class Messages(TestCase):
    def test_values_and_texts_within_texts_are_translated(self) -> None:
        with spoken_in(GERMAN):
            self.assertEqual(said(text_of("Set the gap to {0:.2f} mm.", 0.8)), "Luftspalt auf 0,80 mm einstellen.")
            self.assertEqual(said(text_of("{0} shows {1:.1f} km/h", "front", 99.5)), "vorn zeigt 99,5 km/h")
            self.assertEqual(said(text_of("{1} before {0}", "front", 2)), "2 vor vorn")
        self.assertEqual(said(text_of("Set the gap to {0:.2f} mm.", 0.8)), "Set the gap to 0.80 mm.")

    def test_a_text_that_nobody_translated_stays_english_and_its_numbers_do_not(self) -> None:
        with spoken_in(GERMAN):
            self.assertEqual(said("Tyre at 2.5 bar"), "Tyre at 2,5 bar")

    def test_what_was_said_is_not_read_again(self) -> None:
        """100 km/h are 62.1 mph; the gauge keeps its name, whoever hands the text on."""
        with speeds_in("mph"):
            once = said(text_of("{0} shows {1:g} km/h", Given("Gauge 120 km/h"), 100))
            self.assertEqual(once, "Gauge 120 km/h shows 62.1 mph")
            self.assertEqual(said(once), once)
            self.assertEqual(said(text_of("Blocked: {0}", once)), f"Blocked: {once}")

    def test_units_and_language_together(self) -> None:
        with spoken_in(GERMAN), speeds_in("mph"):
            self.assertEqual(said(text_of("{0} shows {1:.1f} km/h", "Dash", 100)), "Dash zeigt 62,14 mph")

    def test_sums_lists_and_first_letters_keep_what_they_were_made_of(self) -> None:
        gap = text_of("Set the gap to {0:.2f} mm.", 1)
        with spoken_in(GERMAN):
            self.assertEqual(said("front" + gap), "vornLuftspalt auf 1,00 mm einstellen.")
            self.assertEqual(said(gap + "front"), "Luftspalt auf 1,00 mm einstellen.vorn")
            self.assertEqual(said(joined(", ", ("front", gap))), "vorn, Luftspalt auf 1,00 mm einstellen.")
            self.assertEqual(said(recased(gap, upper=False)), "luftspalt auf 1,00 mm einstellen.")
            self.assertEqual(said("read it back"), "zurücklesen")

    def test_texts_that_are_remembered_are_not_mixed_up(self) -> None:
        """1 and 1.0, and +0 and −0, are equal and read differently."""
        self.assertEqual([text_of("{0}", value) for value in (1, 1.0, True)], ["1", "1.0", "True"])
        self.assertEqual([text_of("{0:+.0f}", value) for value in (0.0, -0.0)], ["+0", "-0"])

    @given(st.lists(st.text(string.ascii_letters + " .,", max_size=8), max_size=5), st.floats(0.1, 1e6))
    def test_what_was_kept_as_json_comes_back(self, words: list[str], number: float) -> None:
        text = text_of("{0}: {1:.3g} ({name})", joined(" | ", words), number, name=text_of("{0}", number))
        again = from_data(json.loads(json.dumps(as_data(text))))
        self.assertEqual(again, text)
        with spoken_in(Language(code="xx", translations={"{0}: {1:.3g} ({name})": "<{name}/{1:.3g}/{0}>"})):
            self.assertEqual(said(again), said(text))
            self.assertTrue(said(again).startswith("<"))

    def test_a_finding_of_an_evaluation_is_translated_by_its_template(self) -> None:
        result = evaluate(installation(CAR, target=RING, placement={"air_gap_mm": 3.0}))
        weak = next(found for found in result.findings if found.code == FindingCode.TOO_WEAK)
        template = "Signal too weak: {weakest_pct:.0f} % of the switching level at {air_gap_mm:.2f} mm air gap."
        with spoken_in(
            Language(code="xx", translations={template: "{air_gap_mm:.2f} mm: {weakest_pct:.0f} %"}, decimal=",")
        ):
            self.assertRegex(said(weak.message), r"^3,00 mm: \d+ %$")
