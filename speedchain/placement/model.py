"""The placement part of the installation document: where exactly the sensor sits before the target."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Literal

from pydantic import Field

from speedchain.fields import (
    BracketSize,
    Clocking,
    Gap,
    HeatRise,
    Hole,
    Kerf,
    Lean,
    Part,
    Play,
    Reach,
    ShortText,
    Sideways,
    Spacing,
    Thickness,
    VehicleKind,
    labelled,
    stated,
)

WHIPPY = 20.0
"""Reach over thickness from which a flat bracket whips. Common practice."""

GapBasis = Literal["planned", "measured"]
GAP_BASES = labelled(
    GapBasis,
    planned="Planned",
    measured=("Measured", "feeler gauge, zip tie"),
)
Clearance = Literal["spins_free", "caliper", "disc", "full_lock", "full_bump", "spokes", "bolts", "propeller"]
CLEARANCES = labelled(
    Clearance,
    spins_free="Spins free by hand, all round",
    caliper="Clear of the brake caliper",
    disc="Clear of the brake disc, also when hot",
    full_lock="Clear of the tyre at full lock, both ways",
    full_bump="Clear of the tyre at full bump and droop",
    spokes="Clear of the spokes",
    bolts="Bolts cannot fall into the wheel",
    propeller="Clear of the propeller's wash",
)
NO_CLEARANCE: Mapping[Clearance, tuple[VehicleKind, ...]] = {
    "caliper": ("boat",),
    "disc": ("boat",),
    "full_lock": ("boat",),
    "full_bump": ("boat",),
    "spokes": ("car", "kart", "boat", "atv"),
}
"""Kinds of vehicle on which a clearance is no matter. Common practice."""


class SecondChannel(Part):
    """A second sensor, or a second element, further along the ring."""

    spacing_mm: Spacing = stated(
        title="Distance along the ring",
        step=0.1,
        description="From the first to the second, along the travel.",
        hint="for the direction",
    )


class Bracket(Part):
    """A flat bracket from plate, as a template: bolts at one end, a slot for the sensor at the other."""

    bolts: Literal[1, 2, 3] = stated(2, title="Number of bolts")
    bolt_spacing_mm: BracketSize = 25.0
    bolt_hole_mm: Hole = stated(6.5, title="Bolt hole diameter")
    reach_mm: BracketSize = stated(
        60.0, description="From the line of the bolts to the middle of the slot.", hint="bolts to sensor"
    )
    slot_travel_mm: BracketSize = Field(6.0, description="How far the sensor can be shifted for the gap.")
    sensor_hole_mm: Hole = stated(12.2, title="Sensor hole diameter")
    thickness_mm: Thickness = stated(3.0, title="Plate thickness")
    bend_mm: BracketSize = stated(
        0.0,
        title="Bend position",
        description="A bend line at this distance from the bolts; 0 for none.",
        hint="0 for none",
    )
    kerf_mm: Kerf = 0.0

    @property
    def whips(self) -> bool:
        """Whether it is so long and thin that its whipping is runout. Common practice.

        Examples
        --------
        >>> Bracket(reach_mm=90, thickness_mm=2).whips, Bracket().whips
        (True, False)
        """
        return self.reach_mm > WHIPPY * self.thickness_mm


class Placement(Part):
    """Gap, sideways offset, clocking and lean of the sensor, and what moves before it."""

    air_gap_mm: Gap | None = stated(
        None,
        step=0.05,
        description="At rest, at the nearest edge of the tip.",
        hint="at rest, nearest edge",
        when_empty="middle",
    )
    air_gap_basis: GapBasis = stated("planned", title="Air gap: source")
    lateral_offset_mm: Sideways | None = stated(
        None,
        description="Sensor centreline from the middle of the target's face; when empty 0, and of a reed at magnets "
        "half its "
        "length: its end passes the magnet.",
        hint="sensor centreline from the middle of the teeth",
    )
    clocking_angle_deg: Clocking | None = stated(
        None,
        description="Long axis of the element, or line of the pair, against the direction of travel (0° = along it). "
        "Typical "
        "for its type when empty.",
        hint="0 along the travel, 90 across",
    )
    tilt_deg: Lean = stated(0.0)
    fitting_tolerance_mm: Play = stated(
        0.5, description="Fitting tolerance of the body, to either side.", hint="to either side"
    )
    bearing_play_mm: Play = stated(0.05, step=0.05)
    temperature_rise_k: HeatRise = Field(
        60.0,
        title="Temperature rise of the target",
        description="Temperature rise of the target above the temperature at measurement.",
    )
    second_channel: SecondChannel | None = None
    original_reach_mm: Reach | None = stated(
        None,
        title="Reach of the original",
        description="Mounting face to tip of the original, by caliper.",
        hint="mounting face to tip: 1.06in",
    )
    reach_mm: Reach | None = stated(
        None,
        description="Mounting face to tip of the sensor to be fitted.",
        title="Reach of this sensor",
        hint="by caliper",
    )
    clearances_checked: tuple[Clearance, ...] = Field((), max_length=8, description="Clearances that were checked.")
    bracket: Bracket | None = None
    note: ShortText = ""

    @property
    def measured(self) -> bool:
        """Whether somebody measured the gap."""
        return self.air_gap_mm is not None and self.air_gap_basis == "measured"
