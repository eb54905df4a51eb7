"""The version of the core: stored figures that another core computed are computed anew."""

from __future__ import annotations

import hashlib
from functools import cache
from pathlib import Path

import speedchain


@cache
def core_version() -> str:
    """Twelve hexadecimal digits of the SHA-256 over the core's sources, so that no change of them is forgotten."""
    sources = sorted(Path(speedchain.__file__).parent.rglob("*.py"))
    return hashlib.sha256(b"\0".join(path.read_bytes() for path in sources)).hexdigest()[:12]
