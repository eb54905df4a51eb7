"""Labels, hints and order of every choice of the document, beside the type that they label."""

from __future__ import annotations

from typing import Any, get_args

from speedchain.fields.words import Words
from speedchain.results import result


@result
class Choice:
    """A code of the document, its label, and a hint."""

    code: str
    label: Words
    hint: Words = ""


LABELS: dict[frozenset[str], tuple[Choice, ...]] = {}
"""Every labelled choice, by its codes: the JSON Schema and the logbook look labels up here."""


def codes_of(literal: Any) -> tuple[str, ...]:
    """The codes of a `Literal`, those of nested ones included.

    Examples
    --------
    >>> from typing import Literal
    >>> codes_of(Literal[Literal["a", "b"], "c"])
    ('a', 'b', 'c')
    """
    return tuple([code for item in get_args(literal) for code in (codes_of(item) or (item,))])


def labelled(literal: Any, /, **labels: str | tuple[str, str]) -> tuple[Choice, ...]:
    """The choices of a `Literal` in the order in which they are shown; a label, or a label with a hint, for each code.

    Raises
    ------
    ValueError : when a code has no label, or a label no code.

    Examples
    --------
    >>> from typing import Literal
    >>> [one.label for one in labelled(Literal["left", "right"], left="Left side", right=("Right side", "from behind"))]
    ['Left side', 'Right side']
    """
    codes = codes_of(literal)
    if set(codes) != set(labels):
        raise ValueError(f"codes and labels differ: {sorted(set(codes) ^ set(labels))}")
    texts = {code: (text, "") if isinstance(text, str) else text for code, text in labels.items()}
    choices = tuple([Choice(code=code, label=label, hint=hint) for code, (label, hint) in texts.items()])
    LABELS[frozenset(codes)] = choices
    return choices


def label_of(code: str, codes: tuple[str, ...]) -> str:
    """The label of one code of a choice; the code itself with spaces where the choice has none.

    Examples
    --------
    >>> label_of("some_code", ("some_code", "other"))
    'some code'
    """
    found = next((item.label for item in LABELS.get(frozenset(codes), ()) if item.code == code), None)
    return found or code.replace("_", " ")
