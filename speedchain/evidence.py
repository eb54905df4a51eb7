"""How sure a figure is: evidence, tests that prove, and the combination of uncertainties."""

from __future__ import annotations

import math
from collections.abc import Mapping
from datetime import date as Date
from typing import Literal

from pydantic import BaseModel, ConfigDict, Field

from speedchain.errors import InputError
from speedchain.results import result
from speedchain.texts import ShortText
from speedchain.units import ShownSpeed

Evidence = Literal["assumed", "measured", "proven"]
LinkName = Literal["wheel", "drive", "target", "sensor", "signal", "readout"]
Test = Literal["second_count", "measured_distance", "magnet", "spin", "bench", "road", "water"]

Outcome = Literal["agreed", "differed", "nothing"]

LINKS: tuple[LinkName, ...] = ("wheel", "drive", "target", "sensor", "signal", "readout")
COVERAGE_FACTOR = 2

PROVES: Mapping[Test, tuple[LinkName, ...]] = {
    "second_count": ("drive", "target"),
    "measured_distance": ("wheel",),
    "magnet": ("sensor", "signal"),
    "spin": ("drive", "target", "sensor", "signal", "readout"),
    "bench": ("signal", "readout"),
    "road": LINKS,
    "water": LINKS,
}
"""What each test can prove. A spin test compares shown speed with turns per second through the *same*
circumference, so it says nothing of the wheel; a bench generator never sees the target. Common practice."""


class Part(BaseModel):
    """Base of every part of the fit document: immutable, no unknown fields, finite numbers."""

    model_config = ConfigDict(frozen=True, extra="forbid", allow_inf_nan=False)


class Proof(Part):
    """A test that agreed: what kind, when, by whom (a role, not a name)."""

    test: Test
    on: Date
    by: ShortText = ""
    note: ShortText = ""


class Trial(Part):
    """A test by hand or on the bench, whatever came of it: when, by whom, what was expected and what was seen."""

    test: Literal["magnet", "spin", "bench"]
    on: Date
    by: ShortText = ""
    readout: int = Field(0, ge=0, le=7)
    outcome: Outcome
    expected_kmh: ShownSpeed | None = None
    shown_kmh: ShownSpeed | None = None
    note: ShortText = ""


class Provable(Part):
    """A link that a test can prove."""

    proof: Proof | None = Field(default=None, description="The test that proved this link, if any.")


def check_proof(link: LinkName, proof: Proof | None) -> None:
    """Refuse a proof that cannot prove this link.

    >>> check_proof("wheel", Proof(test="spin", on="2026-05-01"))
    Traceback (most recent call last):
        ...
    speedchain.errors.InputError: test: A spin test cannot prove the wheel. Use measured distance, road or water.
    """
    if proof is None or link in PROVES[proof.test]:
        return
    able = [test.replace("_", " ") for test, links in PROVES.items() if link in links]
    test = proof.test.replace("_", " ")
    raise InputError(
        f"A {test} test cannot prove the {link}.",
        remedy=f"Use {', '.join(able[:-1])} or {able[-1]}.",
        limit=", ".join(able),
        value=test,
        path="test",
    )


@result
class Contribution:
    """One link's part in how unsure the shown speed is."""

    link: LinkName
    relative_standard_uncertainty_pct: float
    share_pct: float
    source: str


def combine_pct(parts: tuple[float, ...]) -> float:
    """Combined relative standard uncertainty of a product of independent factors.

    u_c/y = sqrt(Σ (u_i/x_i)²)

    Parameters: `parts`, relative standard uncertainties [%]. Returns the combined one [%].
    References: JCGM 100:2008 (GUM), 5.1.6.

    >>> combine_pct((0.3, 0.4))
    0.5
    """
    return math.sqrt(sum([part * part for part in parts]))


def rectangular(half_width: float) -> float:
    """Standard uncertainty of a value known to lie within ± half_width: half_width/√3.

    References: JCGM 100:2008 (GUM), 4.3.7.

    >>> round(rectangular(1.0), 4)
    0.5774
    """
    return half_width / math.sqrt(3)


def triangular(half_width: float) -> float:
    """Standard uncertainty of a value most likely right and at most ± half_width out: half_width/√6.

    References: JCGM 100:2008 (GUM), 4.3.9.

    >>> round(triangular(1.0), 4)
    0.4082
    """
    return half_width / math.sqrt(6)
