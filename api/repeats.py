"""A key made by the client makes a repeated write harmless: the header `Idempotency-Key`.

The first request with a key does its work and keeps its answer with it, in one transaction. A repeat, be it later or at
the same moment, gets that answer; the same key with another request is refused. Answers are kept for a day, up to a
size and a number; of a larger one the repeat is answered with 409: done already.
"""

from __future__ import annotations

import hashlib
import re
from collections.abc import Callable
from datetime import timedelta

from django.db import transaction
from django.http import HttpRequest, HttpResponse
from django.utils import timezone

from api.problems import problem
from workshop.models import WriteKey

KEY = re.compile(r"^[A-Za-z0-9-]{8,80}$")
KEPT = timedelta(days=1)
WRITES = ("POST", "PUT", "DELETE")
LARGEST_KEPT_BYTES = 400_000
MOST_KEPT = 1000
SECRETS = re.compile(r"^/api/(session|pairing|calendar|sheets/[^/]+/links)\b")
"""Routes whose answers hold a secret that is said once: they are kept nowhere. A repeat makes another one."""


class RepeatsMiddleware:
    """Answer a repeated write with the answer of the first."""

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponse]) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        """Pass on requests without a key."""
        key = request.headers.get("Idempotency-Key")
        if (
            key is None
            or request.method not in WRITES
            or not request.user.is_authenticated
            or SECRETS.match(request.path)
        ):
            return self.get_response(request)
        if not KEY.match(key):
            return problem(400, "Idempotency-Key must be 8 to 80 letters, digits or hyphens.")
        fingerprint = hashlib.sha256(
            f"{request.method} {request.get_full_path()}\n".encode() + request.body
        ).hexdigest()
        with transaction.atomic():
            # waits here while another request with the same key is at work
            WriteKey.objects.bulk_create(
                [WriteKey(user=request.user, key=key, fingerprint=fingerprint)], ignore_conflicts=True
            )
            record = WriteKey.objects.select_for_update().get(user=request.user, key=key)
            if record.status or record.fingerprint != fingerprint:
                return _again(record, fingerprint)
            response = self.get_response(request)
            if 200 <= response.status_code < 300:
                kept = b"" if response.streaming else bytes(response.content)
                record.status, record.body = response.status_code, kept if len(kept) <= LARGEST_KEPT_BYTES else b""
                record.content_type = response.headers.get("Content-Type", "")
                record.save(update_fields=["status", "body", "content_type"])
                mine = WriteKey.objects.filter(user=request.user)
                mine.filter(created_at__lt=timezone.now() - KEPT).delete()
                too_many = list(mine.order_by("-pk").values_list("pk", flat=True)[MOST_KEPT : 2 * MOST_KEPT])
                mine.filter(pk__in=too_many).delete()
            else:
                transaction.set_rollback(True)
        return response


def _again(record: WriteKey, fingerprint: str) -> HttpResponse:
    if record.fingerprint != fingerprint:
        return problem(422, "This Idempotency-Key was used for another request. Make a new key for every write.")
    if not record.body and record.status != 204:
        return problem(409, "This was done already. Reload to see it.")
    answer = HttpResponse(bytes(record.body), status=record.status, content_type=record.content_type)
    answer["Idempotent-Replay"] = "true"
    return answer
