"""Texts people write: trimmed, of bounded length, without control characters."""

from __future__ import annotations

from typing import Annotated

from pydantic import AfterValidator, StringConstraints

from speedchain.errors import InputError


def plain(text: str) -> str:
    """The text, refused when it holds control characters other than line breaks and tabs.

    >>> plain("two lines\\nare fine")
    'two lines\\nare fine'
    """
    if any(ord(letter) < 32 and letter not in "\n\r\t" for letter in text):
        raise InputError(
            "This text holds control characters that cannot be kept.",
            remedy="Type it again instead of pasting it.",
            limit="letters, digits, signs and line breaks",
            value=text,
        )
    return text


Plain = AfterValidator(plain)
Name = Annotated[str, StringConstraints(strip_whitespace=True, min_length=1, max_length=80), Plain]
ShortText = Annotated[str, StringConstraints(strip_whitespace=True, max_length=120), Plain]
LongText = Annotated[str, StringConstraints(max_length=2000), Plain]
Pin = Annotated[str, StringConstraints(strip_whitespace=True, max_length=4), Plain]
