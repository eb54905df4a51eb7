"""Texts of an answer come in the language and with the units that the page is read in.

The language by the header `Accept-Language`, the unit of speeds by `X-Speed-Unit`, that of lengths by `X-Length-Unit`.
"""

from __future__ import annotations

import json
from collections.abc import Callable
from functools import cache
from pathlib import Path
from typing import get_args

from django.conf import settings
from django.http import HttpRequest, HttpResponse
from django.utils.formats import get_format
from django.utils.translation.trans_real import parse_accept_lang_header

from speedchain.fields import ENGLISH, Language, LengthUnit, SpeedUnit, speeds_in, spoken_in

UNITS: dict[str, SpeedUnit] = {unit: unit for unit in get_args(SpeedUnit)}
LENGTHS: dict[str, LengthUnit] = {unit: unit for unit in get_args(LengthUnit)}


class TextsMiddleware:
    """Texts so; figures are km/h always. Without a header, or with one that nobody knows: English, km/h."""

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponse]) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        """Answer in the language and with the unit chosen."""
        unit = UNITS.get(request.headers.get("X-Speed-Unit", ""), "km/h")
        lengths = LENGTHS.get(request.headers.get("X-Length-Unit", ""))
        language = first_known(request.headers.get("Accept-Language", ""))
        with speeds_in(unit, lengths), spoken_in(language):
            return self.get_response(request)


def languages() -> tuple[str, ...]:
    """Their codes, in order."""
    return tuple(sorted(file.stem for file in Path(settings.LOCALES_DIR).glob("*.json")))


def first_known(accepted: str) -> Language:
    """The first language of a header `Accept-Language` that there is a translation for; English where there is none."""
    for code, _ in parse_accept_lang_header(accepted.lower()):
        if code == ENGLISH.code:
            break
        file = Path(settings.LOCALES_DIR) / f"{code}.json"
        if file.is_file():
            return _read(file, file.stat().st_mtime_ns)
    return ENGLISH


@cache
def _read(file: Path, changed_ns: int) -> Language:
    """A translation, read again when its file changed."""
    mark = str(get_format("DECIMAL_SEPARATOR", lang=file.stem, use_l10n=True))
    return Language(code=file.stem, translations=json.loads(file.read_text("utf-8")), decimal=mark)
