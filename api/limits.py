"""What a request may hold, checked before its content is read or parsed: bytes by route, media type, keys, depth."""

from __future__ import annotations

import json
import re
from collections.abc import Callable, Iterator
from typing import Any
from urllib.parse import unquote

from django.conf import settings
from django.http import HttpRequest, HttpResponse
from ninja.errors import HttpError
from ninja.parser import Parser

from api.problems import problem
from speedchain.fields import InputError, text_of

SMALL_BYTES = 8_000
MOST_KEYS = 12_000
DEEPEST = 40
SMALL = re.compile(
    r"^/api/(session.*|tasks/[^/]+|vehicles|vehicles/[^/]+|vehicles/[^/]+/(sheet|recordings|corners)|shelf/[0-9]+)$"
)
"""Routes that take a few short fields. All others take a document at most."""
PIECE = re.compile(r"^/api/recordings/[^/]+/pieces/[^/]+$")
"""Routes that take a piece of a file, as bytes."""
PHOTO = re.compile(r"^/api/sheets/[^/]+/photos/[^/]+/[^/]+$")
"""Routes that take a photo, as bytes."""
TIMELINE = re.compile(r"^/api/vehicles/[^/]+/timeline$")
"""Route that takes a timeline as text."""
UNSTORABLE = re.compile(r"\\u(0000|[dD][89a-fA-F])")
"""Escapes that may stand for what PostgreSQL cannot hold: NUL, and halves of a surrogate pair."""
STRINGS = re.compile(rb'"(?:[^"\\]|\\.)*"')
BRACKETS = re.compile(rb"[\[{]|[\]}]")


def body_limit_bytes(path: str) -> int:
    """The largest body that a route takes [bytes].

    >>> body_limit_bytes("/api/session"), body_limit_bytes("/api/evaluate")
    (8000, 400000)
    """
    if PIECE.match(path):
        return int(settings.LARGEST_PIECE_BYTES)
    if PHOTO.match(path):
        return int(settings.LARGEST_PHOTO_BYTES)
    if TIMELINE.match(path):
        return int(settings.LARGEST_TIMELINE_BYTES)
    return SMALL_BYTES if SMALL.match(path) else int(settings.LARGEST_BODY_BYTES)


def _bytes(path: str) -> bool:
    return PIECE.match(path) is not None or PHOTO.match(path) is not None


class LimitsMiddleware:
    """Refuse a body that is too large (413) or not JSON (415) before a byte of it is read, and say 405 as problem
    details."""

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponse]) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        """Pass on what is within the limits."""
        if any("\0" in value for value in _texts_of(request)):
            return problem(400, "The address or a header of this request contains a NUL character.")
        if request.path.startswith("/api/") and (length := request.META.get("CONTENT_LENGTH")):
            limit = body_limit_bytes(request.path)
            size = int(length) if length.isdigit() else limit + 1
            if size > limit:
                return problem(
                    413, text_of("The body is larger than this route takes: at most {0} bytes.", limit), limit=limit
                )
            taken = "application/octet-stream" if _bytes(request.path) else "application/json"
            if size and request.content_type != taken:
                return problem(415, text_of("This route takes the content type {0}. Send it with that.", taken))
        response = self.get_response(request)
        if response.status_code == 405 and request.path.startswith("/api/"):
            refused = problem(
                405, text_of("{0} is not possible here. Possible: {1}.", request.method, response["Allow"])
            )
            refused["Allow"] = response["Allow"]
            return refused
        return response


def _texts_of(request: HttpRequest) -> Iterator[str]:
    """What a request says beside its body."""
    yield request.path
    yield unquote(request.META.get("QUERY_STRING", ""))
    yield from (value for name, value in request.META.items() if name.startswith("HTTP_"))
    yield from request.COOKIES.values()


class BoundedParser(Parser):
    """Ninja's parser, for JSON of bounded size."""

    def parse_body(self, request: HttpRequest) -> Any:
        """The body as plain data; refused with 400 when it is not JSON, with 413 when it holds too much."""
        body = request.body
        check_structure(body)
        try:
            text = body.decode()
            found = json.loads(text, parse_constant=_no_number)
        except (ValueError, RecursionError) as error:
            raise HttpError(400, text_of("The body is not JSON that can be read: {0}.", str(error)[:120])) from None
        if UNSTORABLE.search(text):
            check_texts(found)
        return found


def _no_number(name: str) -> Any:
    raise ValueError(f"{name} is not a number")


def check_texts(data: Any, path: str = "") -> None:
    """Refuse texts with characters that the database cannot hold, also as names.

    >>> check_texts({"name": "plain", "rows": ["é"]})
    >>> check_texts({"rows": ["a", "b\\ud800"]})
    Traceback (most recent call last):
        ...
    speedchain.fields.errors.InputError: rows.1: This text contains characters that cannot be stored. ...
    """
    if isinstance(data, str):
        if "\0" in data or any("\ud800" <= letter <= "\udfff" for letter in data):
            raise InputError(
                "This text contains characters that cannot be stored.",
                remedy="Type it instead of pasting it.",
                limit="no NUL, no half of a character",
                path=path,
            )
        return
    items = data.items() if isinstance(data, dict) else enumerate(data) if isinstance(data, list) else ()
    for name, value in items:
        check_texts(name, path) if isinstance(name, str) else None
        check_texts(value, f"{path}.{name}" if path else str(name))


def check_structure(body: bytes) -> None:
    """Refuse JSON text with too many keys and items, or too many levels, without parsing it.

    >>> check_structure(b'{"a": [1, 2, 3]}')
    >>> check_structure(b"[" * 50 + b"]" * 50)
    Traceback (most recent call last):
        ...
    ninja.errors.HttpError: The JSON has more than 40 levels.
    """
    bare = STRINGS.sub(b"", body)
    if bare.count(b":") + bare.count(b",") > MOST_KEYS:
        raise HttpError(413, text_of("The JSON has more than {0} keys and items.", MOST_KEYS))
    level = 0
    for bracket in BRACKETS.finditer(bare):
        level += 1 if bracket[0] in b"[{" else -1
        if level > DEEPEST:
            raise HttpError(413, text_of("The JSON has more than {0} levels.", DEEPEST))
