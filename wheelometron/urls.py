"""The API under /api/, how to trust this machine under /trust/, and the single page for every other path."""

from __future__ import annotations

from django.conf import settings
from django.http import FileResponse, HttpRequest, HttpResponse
from django.http.response import HttpResponseBase
from django.urls import path, re_path

from api.app import api
from wheelometron.lan import trust

NOT_BUILT = "The interface is not built yet. Run ./start, which builds it.\n"


def page(request: HttpRequest) -> HttpResponseBase:
    """The single page; its router reads the path."""
    index = settings.FRONTEND_DIST / "index.html"
    if not index.is_file():
        return HttpResponse(NOT_BUILT, status=503, content_type="text/plain")
    response = FileResponse(index.open("rb"), content_type="text/html; charset=utf-8")
    response["Cache-Control"] = "no-cache"
    return response


handler400 = "api.problems.bad_request"
handler404 = "api.problems.no_route"
handler500 = "api.problems.failed"
urlpatterns = [
    path("api/", api.urls),
    path("trust/", trust.page),
    path("trust/wheelometron.crt", trust.certificate),
    re_path(r"^(?!api/|assets/|trust/).*$", page),
]
