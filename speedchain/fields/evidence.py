"""Evidence: what a stage is known by, and the tests that verify it."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Literal

from pydantic import Field

from speedchain.fields.choice import labelled
from speedchain.fields.days import Day
from speedchain.fields.errors import InputError
from speedchain.fields.messages import joined, text_of
from speedchain.fields.part import Part, stated
from speedchain.fields.quantities import ShownSpeed
from speedchain.fields.state import Dependence, State
from speedchain.fields.texts import ShortText
from speedchain.fields.tolerances import NOTHING_PCT

Evidence = Literal["assumed", "measured", "verified", "failed"]
EVIDENCES = labelled(
    Evidence,
    assumed=("Assumed", "label, formula or default"),
    measured=("Measured", "taped, rolled or counted"),
    verified=("Verified", "by a test"),
    failed=("Failed", "a test failed and has not passed since"),
)
StageName = Literal["wheel", "drive", "target", "sensor", "signal", "readout"]
STAGE_LABELS = labelled(
    StageName,
    wheel="Wheel",
    drive="Drive",
    target="Target",
    sensor="Sensor",
    signal="Signal",
    readout="Readout",
)
Test = Literal["second_count", "measured_distance", "magnet", "spin", "bench", "road", "water"]
TESTS = labelled(
    Test,
    second_count="Counted twice",
    measured_distance="Measured distance",
    magnet="Magnet passed by the sensor",
    spin="Spin test on the stand",
    bench="Signal generator on the bench",
    road="Road test, both directions",
    water="Water test, both directions",
)

Outcome = Literal["agreed", "differed", "nothing"]
OUTCOMES = labelled(
    Outcome,
    agreed="Agreed",
    differed="Differed",
    nothing="Nothing shown",
)

STAGES: tuple[StageName, ...] = ("wheel", "drive", "target", "sensor", "signal", "readout")

VERIFIES: Mapping[Test, tuple[StageName, ...]] = {
    "second_count": ("drive", "target"),
    "measured_distance": ("wheel",),
    "magnet": ("sensor", "signal"),
    "spin": ("drive", "target", "sensor", "signal", "readout"),
    "bench": ("signal", "readout"),
    "road": STAGES,
    "water": STAGES,
}
"""What each test can verify. A spin test compares shown speed with turns per second through the *same*
circumference, so it says nothing of the wheel; a bench generator never sees the target. Common practice."""


class Verification(Part):
    """A test that agreed: what kind, when, by whom (a role, not a name), and which key figure of the stage it
    verified."""

    test: Test
    on: Day = stated(title="Date")
    by: ShortText = stated("", title="Done by (role)")
    note: ShortText = ""
    value: float | None = Field(
        None,
        title="Verified value",
        description="Key figure of the stage when it was verified: of the wheel at a crawl [mm], turns of the target, "
        "pulses per turn, the setting. Once that has changed the test says nothing of it any more.",
    )
    recording: str = Field(
        "", pattern="^([0-9a-f]{64})?$", description="SHA-256 of the recording that shows it, where there is one."
    )

    state: State | None = Field(None, description="What the test depends on, as it was then.")
    voided_by: Dependence | None = Field(None, description="The change after which it verifies nothing any more.")

    def holds_for(self, value: float) -> bool:
        """Whether the stage still is what was verified; a test without a value is taken at its word.

        Examples
        --------
        >>> found = Verification(test="spin", on="2026-05-01", value=48)
        >>> found.holds_for(48.0), found.holds_for(46.0)
        (True, False)
        """
        return self.value is None or abs(value - self.value) <= NOTHING_PCT / 100 * abs(self.value)


class TestRecord(Part):
    """A test by hand or on the bench, whatever came of it: when, by whom, what was expected and what was seen."""

    test: Literal["magnet", "spin", "bench", "sheet"]
    stage: StageName | None = Field(None, description="Of a sheet: the stage whose step was not as expected.")
    on: Day = stated(title="Date")
    by: ShortText = stated("", title="Done by (role)")
    readout: int = Field(0, ge=0, le=7)
    outcome: Outcome
    expected_kmh: ShownSpeed | None = None
    shown_kmh: ShownSpeed | None = stated(None, title="Reading")
    note: ShortText = ""


class Verifiable(Part):
    """A stage that a test can verify."""

    verification: Verification | None = Field(default=None, description="The test that verified this stage, if any.")


def check_verification(stage: StageName, verification: Verification | None) -> None:
    """Refuse a verification that cannot verify this stage.

    Examples
    --------
    >>> check_verification("wheel", Verification(test="spin", on="2026-05-01"))
    Traceback (most recent call last):
        ...
    speedchain.fields.errors.InputError: test: A spin test cannot verify the wheel. Use measured ...
    """
    if verification is None or stage in VERIFIES[verification.test]:
        return
    able = [test.replace("_", " ") for test, stages in VERIFIES.items() if stage in stages]
    test = verification.test.replace("_", " ")
    raise InputError(
        text_of("A {0} test cannot verify the {1}.", test, stage),
        remedy=text_of("Use {0} or {1}.", joined(", ", able[:-1]), able[-1]),
        limit=joined(", ", able),
        value=test,
        path="test",
    )
