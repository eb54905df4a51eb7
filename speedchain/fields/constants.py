"""Units that are exact by definition. Reference: the international yard and nautical mile; `scipy.constants` in the
tests."""

from __future__ import annotations

KM_PER_MILE = 1.609344
KM_PER_NAUTICAL_MILE = 1.852
MM_PER_INCH = 25.4
