"""What a request may hold, checked before its content is read or parsed: bytes by route, media type, keys, depth."""

from __future__ import annotations

import json
import re
from collections.abc import Callable
from typing import Any

from django.conf import settings
from django.http import HttpRequest, HttpResponse
from ninja.errors import HttpError
from ninja.parser import Parser

from api.problems import problem
from speedchain.fields import text_of

SMALL_BYTES = 8_000
MOST_KEYS = 12_000
DEEPEST = 40
SMALL = re.compile(r"^/api/(session.*|tasks/[^/]+|vehicles|vehicles/[^/]+|vehicles/[^/]+/(sheet|recordings))$")
"""Routes that take a few short fields. All others take a document at most."""
PIECE = re.compile(r"^/api/recordings/[^/]+/pieces/[^/]+$")
"""Routes that take a piece of a file, as bytes."""
PHOTO = re.compile(r"^/api/sheets/[^/]+/photos/[^/]+/[^/]+$")
"""Routes that take a photo, as bytes."""
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
    return SMALL_BYTES if SMALL.match(path) else int(settings.LARGEST_BODY_BYTES)


def _bytes(path: str) -> bool:
    return PIECE.match(path) is not None or PHOTO.match(path) is not None


class LimitsMiddleware:
    """Refuse a body that is too large (413) or not JSON (415) before a byte of it is read, and say 405 as problem details."""

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponse]) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        """Pass on what is within the limits."""
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


class BoundedParser(Parser):
    """Ninja's parser, for JSON of bounded size."""

    def parse_body(self, request: HttpRequest) -> Any:
        """The body as plain data; refused with 400 when it is not JSON, with 413 when it holds too much."""
        body = request.body
        check_structure(body)
        try:
            return json.loads(body)
        except (ValueError, RecursionError) as error:
            raise HttpError(400, text_of("The body is not JSON that can be read: {0}.", str(error)[:120])) from None


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
