"""The app's routes and one more: an endpoint that only validates the body of an evaluate request."""

from __future__ import annotations

from django.http import HttpResponse
from django.urls import path
from ninja import NinjaAPI
from ninja.security import SessionAuth

from api.access import SignedIn
from speedchain import Installation
from wheelometron.urls import urlpatterns as app

baseline = NinjaAPI(title="Baseline", version="baseline", docs_url=None, auth=SessionAuth())


@baseline.post("/validate")
def validate(request: SignedIn, document: Installation) -> HttpResponse:
    """Validate and say so."""
    return HttpResponse(b"{}", content_type="application/json")


urlpatterns = [path("baseline/", baseline.urls), *app]
