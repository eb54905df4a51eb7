"""What a page asks for is shown as on its way, as failed, or as it is: no view reads an answer without saying which."""

from __future__ import annotations

import re
from unittest import TestCase

from devtools.steps import FRONTEND

SOURCES = FRONTEND / "src"
SAYS = re.compile(r"<(Pending|Failing|State)\b|\.error\b|\berror\b[^;]*\} = use")
WITHOUT = {
    "useSession": "who is signed in: the gate of the app says what is wrong with it",
    "useCatalogue": "words of choices: the pages that need them wait for them at their gate",
    "useVehicleNames": "a vehicle's name beside what is looked at",
    "useJobs": "jobs offered beside a stage: their own page says what is wrong",
    "useInstallation": "of which vehicle: the page of the installation says what is wrong",
    "useComparison": "figures beside the entries of a wheel: the comparison beside them says what is wrong",
    "usePictures": "small pictures in a table of channels, which stands without them",
    "useResults": "what was computed before, below what is computed now",
}
"""Hooks whose answer may be missing without a word, and why."""


def hooks() -> set[str]:
    """The hooks that ask the server for something to be shown."""
    found: set[str] = set()
    for path in SOURCES.rglob("*.ts"):
        text = path.read_text("utf-8")
        starts = [match.start() for match in re.finditer(r"^export ", text, re.MULTILINE)] + [len(text)]
        for begin, end in zip(starts, starts[1:], strict=False):
            part = text[begin:end]
            name = re.match(r"export (?:const|function) (use\w+)", part)
            if name and re.search(r"\buse(Infinite)?Query\(", part) and "useMutation" not in part:
                found.add(name[1])
    return found


class Answers(TestCase):
    def test_every_view_that_reads_an_answer_says_where_it_is(self) -> None:
        asked = hooks()
        self.assertGreater(len(asked), 25)
        silent = []
        for path in sorted(SOURCES.rglob("*.tsx")):
            text = path.read_text("utf-8")
            used = {name for name in asked - set(WITHOUT) if re.search(rf"\b{name}\(", text)}
            if used and not SAYS.search(text):
                silent.append((path.relative_to(SOURCES).as_posix(), sorted(used)))
        self.assertEqual(silent, [], "\n".join(map(str, silent)))
