"""The front end's types are what the API says, generated anew and compared (the pages of docs/: tests/core)."""

import tempfile
from pathlib import Path
from unittest import TestCase

from devtools.generate import types
from devtools.steps import FRONTEND


class Generated(TestCase):
    def test_the_types_of_the_front_end(self) -> None:
        with tempfile.TemporaryDirectory() as folder:
            made = Path(folder) / "schema.d.ts"
            types(made)
            self.assertEqual(
                made.read_text("utf-8"),
                (FRONTEND / "src/api/schema.d.ts").read_text("utf-8"),
                "run python -m devtools.generate",
            )
