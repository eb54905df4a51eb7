"""The one family of errors the core raises: each names field, limit, value and remedy."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from typing import Any

from speedchain.fields.messages import joined, text_of


@dataclass(frozen=True, slots=True)
class Problem:
    """One thing wrong with one field: where, what, the limit it broke and what to do."""

    path: str
    message: str
    remedy: str = ""
    limit: str = ""
    value: str = ""
    missing: bool = False
    """Nothing was entered yet where something is needed."""

    @property
    def text(self) -> str:
        """Field, problem and remedy in one text."""
        said = text_of("{0}: {1}", self.path, self.message) if self.path else self.message
        return joined(" ", (said, self.remedy)) if self.remedy else said

    def __str__(self) -> str:
        return self.text


class SpeedchainError(ValueError):
    """Base of everything the core raises on purpose.

    >>> str(SpeedchainError(Problem("target.count", "A ring has at least 1 tooth.")))
    'target.count: A ring has at least 1 tooth.'
    """

    def __init__(self, *problems: Problem) -> None:
        self.problems = problems
        super().__init__("; ".join(str(problem) for problem in problems))


class InputError(SpeedchainError):
    """A single value that cannot be used."""

    def __init__(
        self,
        message: str,
        *,
        remedy: str = "",
        limit: str = "",
        value: object = "",
        path: str = "",
        missing: bool = False,
    ) -> None:
        super().__init__(Problem(path, message, remedy, limit, show_value(value), missing))


def check_rising(low: float, high: float, *, name: str, unit: str, path: str, remedy: str) -> None:
    """Refuse two values of which the first is not below the second.

    Examples
    --------
    >>> check_rising(4.0, 1.0, name="level for low", unit="V", path="high_v", remedy="Swap them.")
    Traceback (most recent call last):
        ...
    speedchain.fields.errors.InputError: high_v: A level for low of 4 V is not below 1 V. Swap them.
    """
    if low >= high:
        raise InputError(
            text_of("A {0} of {1:g} {2} is not below {3:g} {2}.", name, low, unit, high),
            remedy=remedy,
            limit=text_of("above {0:g} {1}", low, unit),
            value=high,
            path=path,
        )


class DocumentError(SpeedchainError):
    """An installation document with one or more fields that cannot be used."""


def show_value(value: object) -> str:
    """The value as it goes into a message: short, on one line.

    Examples
    --------
    >>> show_value("9" * 100)
    '999999999999999999999999…'
    """
    try:
        text = " ".join(str(value)[:200].split())
    except ValueError:  # integers of thousands of digits refuse to become text
        return "a number of thousands of digits"
    return text if len(text) <= 24 else text[:24] + "…"


_PLAIN = {
    "missing": ("This field is missing.", "Add it."),
    "extra_forbidden": (
        "There is no such field in version 2 of the installation document.",
        "Remove it, or check its spelling.",
    ),
    "model_type": ("A group of fields is needed.", "Enter an object with named fields."),
    "dict_type": ("A group of fields is needed.", "Enter an object with named fields."),
    "tuple_type": ("A list is needed.", "Enter a list, also for one item."),
    "list_type": ("A list is needed.", "Enter a list, also for one item."),
    "string_type": ("Text is needed.", "Put it in quotes."),
    "bool_parsing": ("Yes or no is needed.", "Enter true or false."),
    "bool_type": ("Yes or no is needed.", "Enter true or false."),
    "int_parsing": ("A whole number is needed.", "Enter digits only."),
    "int_type": ("A whole number is needed.", "Enter digits only."),
    "int_from_float": ("A whole number is needed.", "Remove the fraction."),
    "float_parsing": ("A number is needed.", "Enter digits, with a point for the fraction."),
    "float_type": ("A number is needed.", "Enter digits, with a point for the fraction."),
    "date_parsing": ("This is not a date.", "Enter it as 2026-05-02."),
    "date_type": ("This is not a date.", "Enter it as 2026-05-02."),
    "date_from_datetime_parsing": ("This is not a date.", "Enter it as 2026-05-02."),
    "date_from_datetime_inexact": ("This is not a date.", "Enter it as 2026-05-02."),
    "json_invalid": ("This is not valid JSON.", "Check brackets, quotes and commas."),
}


MOST_PROBLEMS = 40
_BOUNDS = {"greater_than": "gt", "greater_than_equal": "ge", "less_than": "lt", "less_than_equal": "le"}
_BOUND_WORDS = {"gt": "more than", "ge": "at least", "lt": "less than", "le": "at most"}


def problems_from_pydantic(errors: Iterable[Any]) -> list[Problem]:
    """Turn Pydantic's error list into problems in the words of the trade; the first 40 of them, and how many more."""
    listed = list(errors)
    result = listed[:MOST_PROBLEMS]
    problems = [_problem(error) for error in result if not _follows_from_another(error, result)]
    if len(listed) > MOST_PROBLEMS:
        more = text_of("{0} more fields have errors.", len(listed) - MOST_PROBLEMS)
        problems.append(Problem("", more, "Correct those listed, then try again."))
    return problems


def _follows_from_another(error: Any, errors: list[Any]) -> bool:
    """A list is also "too short" when its only item was refused; the item says why."""
    place = error["loc"]
    return error["type"] == "too_short" and any(
        len(other["loc"]) > len(place) and other["loc"][: len(place)] == place for other in errors
    )


def _problem(error: dict[str, Any]) -> Problem:
    path = ".".join(str(part) for part in error["loc"])
    context = error.get("ctx") or {}
    cause = context.get("error")
    if isinstance(cause, SpeedchainError):
        inner = cause.problems[0]
        full = ".".join(part for part in (path, inner.path) if part)
        return Problem(full, inner.message, inner.remedy, inner.limit, inner.value, inner.missing)
    value = show_value(error.get("input", ""))
    kind = error["type"]
    match kind:
        case _ if kind in _PLAIN:
            message, remedy = _PLAIN[kind]
            return Problem(path, message, remedy, "", "" if kind == "missing" else value, kind == "missing")
        case _ if kind in _BOUNDS:
            bound = _BOUNDS[kind]
            limit = text_of("{0} {1}", _BOUND_WORDS[bound], context[bound])
            return Problem(
                path,
                text_of("{0} is outside the limit: {1}.", value, limit),
                text_of("Enter {0}.", limit),
                limit,
                value,
            )
        case "literal_error" | "enum":
            expected = str(context.get("expected", ""))
            return Problem(
                path, f"{value!r} is not one of the choices.", text_of("Use {0}.", expected), expected, value
            )
        case "string_too_long":
            limit = text_of("at most {0} characters", context.get("max_length"))
            return Problem(path, text_of("This text is too long: {0}.", limit), "Shorten it.", limit, value)
        case "too_short":
            return Problem(path, "This list is empty.", "Add at least one.", "at least 1", value)
        case "too_long":
            limit = text_of("at most {0}", context.get("max_length"))
            return Problem(path, text_of("This list is too long: {0}.", limit), "Remove some.", limit, "")
        case "string_too_short":
            return Problem(
                path, "This must not be empty.", "Enter something.", "at least 1 character", value, not value.strip()
            )
        case _:
            return Problem(path, f"{error['msg']}.", "Correct this field.", "", value)
