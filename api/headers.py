"""What browsers may do with an answer: set on every one, be it of the API, a page or a script."""

from __future__ import annotations

from collections.abc import Callable

from csp.constants import NONE
from django.http import HttpRequest, HttpResponse

FILES = f"default-src {NONE}; frame-ancestors {NONE}; sandbox"
"""Of what the API hands out: nothing in it runs, wherever it is opened."""
FEATURES = (
    "camera=(self), geolocation=(self), microphone=(self), screen-wake-lock=(self), accelerometer=(), autoplay=(), "
    "browsing-topics=(), display-capture=(), gyroscope=(), hid=(), magnetometer=(), midi=(), payment=(), serial=(), "
    "usb=(), xr-spatial-tracking=()"
)


class HeadersMiddleware:
    """Answers of the API are kept nowhere between and run nothing; all answers are for our own pages alone."""

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponse]) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        """Add what is missing."""
        response = self.get_response(request)
        response.headers.setdefault("Cross-Origin-Resource-Policy", "same-origin")
        response.headers.setdefault("Permissions-Policy", FEATURES)
        if request.path.startswith("/api/"):
            response.headers.setdefault("Cache-Control", "no-store")
            response.headers.setdefault("Content-Security-Policy", FILES)
        return response
