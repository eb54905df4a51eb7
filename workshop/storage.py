"""What PostgreSQL says of the disk it writes to."""

from __future__ import annotations

DISK_FULL = "53100"
"""PostgreSQL's error code (SQLSTATE) for a disk that is full; class 53 is insufficient resources."""


def disk_is_full(error: BaseException | None) -> bool:
    """Whether an error of the database, or what it came from, is that its disk is full.

    >>> disk_is_full(ValueError("no"))
    False
    """
    while error is not None:
        if getattr(error, "sqlstate", None) == DISK_FULL:
            return True
        error = error.__cause__
    return False
