"""Fonts of the printed sheets: Latin, Greek, Cyrillic, then Chinese and Japanese, then Korean. Shipped, and embedded in
every PDF."""

from __future__ import annotations

from functools import cache
from pathlib import Path

FOLDER = Path(__file__).resolve().parent
PLAIN, BOLD = "DejaVuSans", "DejaVuSans-Bold"
FALLBACKS = ("DroidSansFallbackFull", "NanumGothicCoding")
"""Asked in this order for letters that the first font lacks."""


@cache
def letters_of(name: str) -> frozenset[int]:
    """Register a shipped font with reportlab; the letters it has, as code points."""
    from reportlab.pdfbase import pdfmetrics
    from reportlab.pdfbase.ttfonts import TTFont

    font = TTFont(name, str(FOLDER / f"{name}.ttf"))
    pdfmetrics.registerFont(font)
    return frozenset(font.face.charToGlyph)


def use_family() -> None:
    """Register plain and bold as one family, so that reportlab finds the bold of the plain."""
    from reportlab.lib.fonts import addMapping

    for bold, name in ((0, PLAIN), (1, BOLD)):
        letters_of(name)
        for italic in (0, 1):
            addMapping(PLAIN, bold, italic, name)


def runs(text: str) -> list[tuple[str, str]]:
    """The text in runs of one font each; a letter that no font has stays in the first.

    Examples
    --------
    >>> runs("Gap 1 мм"), runs("3 歯")
    ([('DejaVuSans', 'Gap 1 мм')], [('DejaVuSans', '3 '), ('DroidSansFallbackFull', '歯')])
    """
    found: list[tuple[str, str]] = []
    for letter in text:
        name = PLAIN
        if ord(letter) not in letters_of(PLAIN):
            name = next((item for item in FALLBACKS if ord(letter) in letters_of(item)), PLAIN)
        if found and found[-1][0] == name:
            found[-1] = (name, found[-1][1] + letter)
        else:
            found.append((name, letter))
    return found
