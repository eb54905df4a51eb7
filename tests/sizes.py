"""How large simulations are: a sample always, the whole with `./test --long`."""

from __future__ import annotations

import os

LONG = os.environ.get("WHEELOMETRON_LONG") == "1"


def sized(whole: int, sample: int) -> int:
    """So many of them in this run."""
    return whole if LONG else sample
