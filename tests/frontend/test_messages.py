"""The texts of the interface, as translators get them: `frontend/public/locales/en.json`."""

from __future__ import annotations

import json
import subprocess
from unittest import TestCase

from devtools.steps import FRONTEND, npm

LOCALES = FRONTEND / "public" / "locales"


class Messages(TestCase):
    def test_every_text_of_the_sources_is_listed_and_no_other(self) -> None:
        command, environment = npm("exec", "--", "node", "messages.mjs")
        done = subprocess.run(command, cwd=FRONTEND, env=environment, capture_output=True, text=True, check=True)
        listed = (LOCALES / "en.json").read_text("utf-8")
        self.assertEqual(json.loads(listed), json.loads(done.stdout), "run: node messages.mjs > public/locales/en.json")
        self.assertGreater(len(json.loads(listed)), 500)

    def test_no_translation_has_texts_that_are_gone_or_loses_a_value(self) -> None:
        english = json.loads((LOCALES / "en.json").read_text("utf-8"))
        for file in LOCALES.glob("*.json"):
            translated = json.loads(file.read_text("utf-8"))
            self.assertEqual(set(translated) - set(english), set(), file.name)
            for text, translation in translated.items():
                for place in range(10):
                    self.assertEqual(f"{{{place}}}" in text, f"{{{place}}}" in translation, f"{file.name}: {text}")
