"""Secrets of links: said once, kept as their hash alone."""

from __future__ import annotations

import hashlib
import secrets

BYTES = 24


def new_secret() -> str:
    """A secret that nobody guesses."""
    return secrets.token_urlsafe(BYTES)


def hashed(secret: str) -> str:
    """What is kept of it.

    >>> hashed("a")[:8]
    'ca978112'
    """
    return hashlib.sha256(secret.encode()).hexdigest()
