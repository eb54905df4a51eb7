"""Speeds in the texts of an answer come in the unit that the page is read in: the header `X-Speed-Unit`."""

from __future__ import annotations

from collections.abc import Callable
from typing import get_args

from django.http import HttpRequest, HttpResponse

from speedchain.fields import SpeedUnit, speeds_in

UNITS: dict[str, SpeedUnit] = {unit: unit for unit in get_args(SpeedUnit)}


class SpeedUnitMiddleware:
    """Texts in that unit; figures are km/h always, and so are texts without the header or with a unit nobody knows."""

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponse]) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        """Answer with the unit chosen."""
        with speeds_in(UNITS.get(request.headers.get("X-Speed-Unit", ""), "km/h")):
            return self.get_response(request)
