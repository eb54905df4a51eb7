"""The page that says how a phone trusts this machine, over plain HTTP, and the certificate to be trusted."""

from __future__ import annotations

from pathlib import Path

from cryptography import x509
from cryptography.hazmat.primitives import serialization
from csp.constants import NONCE, NONE
from csp.decorators import csp
from django.conf import settings
from django.http import Http404, HttpRequest, HttpResponse
from django.shortcuts import render

from wheelometron.lan.certificates import AUTHORITY, fingerprint_of

MEDIA = "application/x-x509-ca-cert"
POLICY = {"default-src": [NONE], "style-src": [NONCE], "base-uri": [NONE], "frame-ancestors": [NONE]}


def _authority() -> x509.Certificate:
    file = Path(settings.LAN_FOLDER, AUTHORITY)
    if not settings.LAN_ADDRESS or not file.is_file():
        raise Http404
    return x509.load_pem_x509_certificate(file.read_bytes())


@csp(POLICY)
def page(request: HttpRequest) -> HttpResponse:
    """How to trust it, in steps."""
    said = {"fingerprint": fingerprint_of(_authority()), "address": settings.LAN_ADDRESS}
    return render(request, "trust.html", said | {"nonce": request.csp_nonce})  # type: ignore[attr-defined]


def certificate(request: HttpRequest) -> HttpResponse:
    """The authority's certificate, in the form that phones install."""
    answer = HttpResponse(_authority().public_bytes(serialization.Encoding.DER), content_type=MEDIA)
    answer["Content-Disposition"] = 'attachment; filename="wheelometron.crt"'
    return answer
