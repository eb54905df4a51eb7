"""What was observed of the chain as a whole: a drive, a measured distance, speeds read by eye."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Literal

from pydantic import Field

from speedchain.fields import (
    Day,
    Dependence,
    Part,
    Percent,
    PulsesPerKm,
    ShortText,
    ShownSpeed,
    Speed,
    State,
    labelled,
    stated,
)

ObservationKind = Literal["drive", "distance", "there_and_back", "read"]
OBSERVATION_KINDS = labelled(
    ObservationKind,
    drive=("Recorded drive", "shown against true speed over a drive"),
    distance=("Measured distance", "pulses or shown distance over marks"),
    there_and_back=("Runs there and back", "shown against true speed on water"),
    read=("Speeds read by eye", "true and shown speed at the same moment"),
)
KIND_LABELS: Mapping[str, str] = {choice.code: choice.label for choice in OBSERVATION_KINDS}
MOST_OBSERVATIONS = 40


class Observation(Part):
    """Pulses per km of the whole chain, found by comparing a readout with the truth.

    pulses per km = set pulses per km × shown/true, before a converter. A calibration is so always relative to the
    setting under which the speed was shown.
    """

    kind: ObservationKind
    on: Day = stated(title="Date")
    by: ShortText = Field("", title="Done by (role)", description="A role, not a name.")
    pulses_per_km: PulsesPerKm = Field(description="Delivered by wheel, drive and target together, before a converter.")
    expanded_pct: Percent = Field(description="Expanded uncertainty (95.45 %) [%].")
    at_kmh: Speed | None = Field(None, description="True speed at which it was found; empty: at a crawl.")
    shown_kmh: ShownSpeed | None = stated(None, title="Reading")
    readout: ShortText = Field("", description="The readout that was compared.")
    setting: ShortText = Field("", description="What was set in it then, with its unit.")
    state: State = State()
    voided_by: Dependence | None = Field(None, description="The change after which it says nothing any more.")
    recording: str = Field("", pattern="^([0-9a-f]{64})?$", description="SHA-256 of the recording.")
    note: ShortText = ""
