"""The request as routes see it once the session has been checked."""

from __future__ import annotations

from django.contrib.auth.models import User
from django.http import HttpRequest


class SignedIn(HttpRequest):
    """A request whose account is known: every route but health and sign-in has one."""

    user: User
    refused_document: dict[str, object]
