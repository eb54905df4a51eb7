"""The texts of the interface, as translators get them: `frontend/public/locales/en.json`."""

from __future__ import annotations

import json
import re
from unittest import TestCase

from devtools.messages import LOCALES, catalogue

VALUE = re.compile(r"\{\w*(?::[^}]*)?\}")


class Messages(TestCase):
    def test_every_text_of_the_sources_is_listed_and_no_other(self) -> None:
        listed = json.loads((LOCALES / "en.json").read_text("utf-8"))
        self.assertEqual(listed, catalogue(), "run: python -m devtools.messages")
        self.assertGreater(len(listed), 2000)

    def test_each_is_a_whole_text(self) -> None:
        """Nothing that is put behind another text: its place in the sentence is another in another language."""
        listed = json.loads((LOCALES / "en.json").read_text("utf-8"))
        self.assertEqual([text for text in listed if re.search(r"^[\s,;:.)]|[\s,(]$", text)], [])

    def test_no_translation_has_texts_that_are_gone_or_loses_a_value(self) -> None:
        english = json.loads((LOCALES / "en.json").read_text("utf-8"))
        for file in LOCALES.glob("*.json"):
            translated = json.loads(file.read_text("utf-8"))
            self.assertEqual(set(translated) - set(english), set(), file.name)
            for text, translation in translated.items():
                said = set(VALUE.findall(text)), set(VALUE.findall(translation))
                self.assertEqual(*said, f"{file.name}: {text}")
