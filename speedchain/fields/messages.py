"""Texts that keep what they were made of, so that they can be said in another language.

A translation is a catalogue: English → translated, as `frontend/public/locales` holds it. Texts without values need no
mark: they are looked up as they stand when they are handed over.
"""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Mapping
from contextlib import contextmanager
from contextvars import ContextVar
from functools import lru_cache
from typing import Any

from speedchain.results import result


class Given(str):
    """What a person gave: a name, a note, a marking. It comes through every text, language and unit as it was written.

    Examples
    --------
    >>> from speedchain.fields.words import said, speeds_in
    >>> with speeds_in("mph"):
    ...     said(text_of("{0}: enter {1:g} km/h", Given("Gauge 120 km/h"), 100))
    'Gauge 120 km/h: enter 62.1 mph'
    """

    __slots__ = ()


class Message(str):
    """A text with the template and the values that it was made of."""

    __slots__ = ("named", "template", "values")

    template: str
    values: tuple[object, ...]
    named: Mapping[str, object]

    def __add__(self, other: str) -> str:
        """One text behind the other."""
        return text_of("{0}{1}", self, other)

    def __radd__(self, other: str) -> str:
        """The same where the first is a plain text."""
        return text_of("{0}{1}", other, self)


def text_of(template: str, *values: object, **named: object) -> str:
    """A text with values in it; `{0}`, `{1:.1f}` … stand for the values, as in `str.format`.

    Examples
    --------
    >>> text_of("Set the gap to {0:.2f} mm.", 0.8)
    'Set the gap to 0.80 mm.'
    """
    if named or 0 in values or Message in map(type, values):  # +0 and −0, or two texts that read alike, are one key
        return _made(template, values, named)
    return _remembered(template, *values)


def _made(template: str, values: tuple[object, ...], named: Mapping[str, object]) -> Message:
    message = Message(template.format(*values, **named))
    message.template, message.values, message.named = template, values, named
    return message


@lru_cache(maxsize=8192, typed=True)
def _remembered(template: str, *values: object) -> Message:
    """Most texts of an evaluation are those of the one before; 1 and 1.0 are not one text."""
    return _made(template, values, {})


def joined(separator: str, texts: Iterable[str]) -> str:
    """Texts one after the other, each still a text of its own for whoever translates them; a word between two of them
    belongs to a whole template, "{0} and {1}".

    Examples
    --------
    >>> joined(", ", ("front", "rear")), joined(" and ", ("front", "rear"))
    ('front, rear', 'front and rear')
    """
    parts = tuple(texts)
    if not any(letter.isalpha() for letter in separator):
        return text_of(separator.join(["{}"] * len(parts)), *parts)
    found = text_of("{}", parts[0]) if parts else ""
    for part in parts[1:]:
        found = text_of(f"{{0}}{separator}{{1}}", found, part)
    return found


def as_data(text: str) -> Any:
    """A text as plain data to be kept, with what it was made of; the other way by `from_data`.

    Examples
    --------
    >>> as_data(text_of("Set the gap to {0:.2f} mm.", 0.8))
    {'template': 'Set the gap to {0:.2f} mm.', 'values': [0.8], 'named': {}}
    >>> as_data(Given("Dash"))
    {'given': 'Dash'}
    >>> from_data(as_data(text_of("{0}: {1}", "Dash", text_of("enter {0:g}", 574))))
    'Dash: enter 574'
    """
    if isinstance(text, Given):
        return {"given": str(text)}
    if not isinstance(text, Message):
        return text
    kept = {name: _plain(value) for name, value in text.named.items()}
    return {"template": text.template, "values": [_plain(value) for value in text.values], "named": kept}


def from_data(data: Any) -> str:
    """The text that was kept by `as_data`."""
    if not isinstance(data, dict):
        return data if isinstance(data, str) else str(data)
    if "given" in data:
        return Given(data["given"])
    made = [from_data(value) if isinstance(value, str | dict) else value for value in data["values"]]
    named = {name: from_data(v) if isinstance(v, str | dict) else v for name, v in data["named"].items()}
    return text_of(data["template"], *made, **named)


def _plain(value: object) -> Any:
    return as_data(value) if isinstance(value, str) else value if isinstance(value, int | float) else str(value)


def recased(text: str, *, upper: bool) -> str:
    """A text with its first letter as it stands at the beginning of a sentence, or within one.

    Examples
    --------
    >>> recased("tape around the tyre", upper=True), recased(text_of("Move it {0:g} mm.", 2), upper=False)
    ('Tape around the tyre', 'move it 2 mm.')
    """
    if isinstance(text, Given):
        return text
    template = text.template if isinstance(text, Message) else text
    first = template[:1].upper() if upper else template[:1].lower()
    changed = first + template[1:]
    return text_of(changed, *text.values, **text.named) if isinstance(text, Message) else changed


@result
class Language:
    """What texts are handed over in: the translation of each English text, and the mark before decimals."""

    code: str
    translations: Mapping[str, str]
    decimal: str = "."


ENGLISH = Language(code="en", translations={})
_language: ContextVar[Language] = ContextVar("language", default=ENGLISH)


@contextmanager
def spoken_in(language: Language) -> Iterator[None]:
    """Within this, texts of the core are handed over in a language; a text that it lacks stays English.

    Examples
    --------
    >>> from speedchain.fields.words import said
    >>> german = Language(code="de", translations={"{0:.1f} mm at the {1}": "{0:.1f} mm {1}", "front": "vorn"},
    ...     decimal=",")
    >>> with spoken_in(german):
    ...     said(text_of("{0:.1f} mm at the {1}", 1.5, "front"))
    '1,5 mm vorn'
    """
    token = _language.set(language)
    try:
        yield
    finally:
        _language.reset(token)


def language_now() -> Language:
    """The language in which texts are handed over now."""
    return _language.get()


def looked_up(text: str) -> str:
    """The translation of a text or template; that of the same text with its other first letter serves as well."""
    language = _language.get()
    if language is ENGLISH:
        return text
    if (found := language.translations.get(text)) is not None:
        return found
    upper = text[:1].isupper()
    found = language.translations.get(recased(text, upper=not upper))
    return text if found is None else recased(found, upper=upper)
