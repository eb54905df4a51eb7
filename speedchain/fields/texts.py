"""Texts people write: trimmed, of bounded length, without control characters."""

from __future__ import annotations

import unicodedata
from typing import Annotated

from pydantic import AfterValidator, StringConstraints

from speedchain.fields.errors import InputError
from speedchain.fields.messages import Given

TURNING = frozenset("\u200e\u200f\u061c\u202a\u202b\u202c\u202d\u202e\u2066\u2067\u2068\u2069")
"""Invisible marks that turn the direction of text: a name could look like another."""


def plain(text: str) -> str:
    """What a person gave, refused when it holds control characters (except line breaks and tabs) or marks that turn its
    direction.

    >>> plain("two lines\\nare fine")
    'two lines\\nare fine'
    """
    if any((unicodedata.category(letter) in ("Cc", "Cs") and letter not in "\n\r\t") for letter in text):
        raise InputError(
            "This text contains control characters, which cannot be stored.",
            remedy="Type it instead of pasting it.",
            limit="letters, digits, signs and line breaks",
            value=text,
        )
    if not TURNING.isdisjoint(text):
        raise InputError(
            "This text contains invisible marks that change the writing direction.",
            remedy="Type it instead of pasting it.",
            limit="text without direction marks",
            value=ascii(text),
        )
    return Given(text)


Plain = AfterValidator(plain)
Name = Annotated[str, StringConstraints(strip_whitespace=True, min_length=1, max_length=80), Plain]
ShortText = Annotated[str, StringConstraints(strip_whitespace=True, max_length=120), Plain]
LongText = Annotated[str, StringConstraints(max_length=2000), Plain]
Pin = Annotated[str, StringConstraints(strip_whitespace=True, max_length=4), Plain]
