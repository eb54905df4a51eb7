"""The disk that the database writes to: what PostgreSQL says of it, and what is left on it."""

from __future__ import annotations

import shutil

from django.conf import settings
from django.db import OperationalError

DISK_FULL = "53100"
"""PostgreSQL's error code (SQLSTATE) for a disk that is full; class 53 is insufficient resources."""
LEAST_FREE_BYTES = 64 * 1024 * 1024
"""With less left nothing new is taken. On a disk that is full to the last byte PostgreSQL lets nobody in any more, not
even to read; with four segments of its log to spare (16 MB each) it goes on."""


class NoSpaceError(OperationalError):
    """The disk has too little space left for anything new."""

    sqlstate = DISK_FULL


def disk_is_full(error: BaseException | None) -> bool:
    """Whether an error of the database, or what it came from, is that its disk is full.

    >>> disk_is_full(ValueError("no")), disk_is_full(NoSpaceError())
    (False, True)
    """
    while error is not None:
        if getattr(error, "sqlstate", None) == DISK_FULL:
            return True
        error = error.__cause__
    return False


def is_nearly_full() -> bool:
    """Whether the disk of the database has too little space left; of a database elsewhere nothing is known."""
    if not settings.DATABASE_FOLDER:
        return False
    try:
        return shutil.disk_usage(settings.DATABASE_FOLDER).free < LEAST_FREE_BYTES
    except OSError:
        return False


def refuse_without_space() -> None:
    """Raise `NoSpaceError` where nothing new can be kept."""
    if is_nearly_full():
        raise NoSpaceError
