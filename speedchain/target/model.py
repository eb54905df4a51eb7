"""The target part of the installation document."""

from __future__ import annotations

import math
from collections.abc import Mapping
from typing import Literal

from pydantic import Field, field_validator, model_validator

from speedchain.fields import (
    BoltCircle,
    Bolts,
    Count,
    Crosses,
    FaceWidth,
    FlangeDiameter,
    FlangeOffset,
    Hole,
    InputError,
    Kerf,
    MagnetRadius,
    MagnetSize,
    MissingTeeth,
    Module,
    Part,
    PartLabel,
    Remanence,
    Runout,
    SpokeHoles,
    TargetDiameter,
    Thickness,
    ToothDepth,
    ToothWidth,
    Verifiable,
    Verification,
    check_verification,
    labelled,
    stated,
    text_of,
)

TargetKind = Literal[
    "toothed_ring",
    "slotted_disc",
    "drilled_rotor",
    "multipole_ring",
    "shaft_reluctor",
    "bolt_heads",
    "magnets",
    "paddle_magnets",
]
TARGET_KINDS = labelled(
    TargetKind,
    toothed_ring="Toothed ring",
    slotted_disc="Slotted disc",
    drilled_rotor="Drilled rotor",
    multipole_ring=("Multipole magnetic ring", "count pole pairs"),
    shaft_reluctor="Reluctor on a shaft",
    bolt_heads="Bolt heads",
    magnets=("Single magnets", "on spokes, rotor or hub"),
    paddle_magnets="Paddle magnets",
)
CountBasis = Literal["assumed", "counted", "captured"]
COUNT_BASES = labelled(
    CountBasis,
    assumed=("Assumed", "from a list or estimated"),
    counted=("Counted", "twice, at the part"),
    captured=("Captured", "counted from the pulses of a recording"),
)
Material = Literal[
    "steel", "cast_iron", "ferritic_stainless", "austenitic_stainless", "aluminium", "titanium", "plastic"
]
MATERIALS = labelled(
    Material,
    steel="Steel",
    cast_iron="Cast iron",
    ferritic_stainless=("Stainless, magnetic", "a magnet sticks to it"),
    austenitic_stainless=("Stainless, not magnetic", "a magnet does not stick"),
    aluminium="Aluminium",
    titanium="Titanium",
    plastic="Plastic",
)
RingForm = Literal["diameter", "module"]
RING_FORMS = labelled(
    RingForm,
    diameter="Diameter at the teeth",
    module="Module of a gear",
)
MagnetForm = Literal["disc", "bolt", "bar"]
MAGNET_FORMS = labelled(
    MagnetForm,
    disc="Disc",
    bolt="Bolt with a magnet",
    bar="Bar",
)
Mounting = Literal["spokes", "rotor", "hub", "glued"]
MOUNTINGS = labelled(
    Mounting,
    spokes="On spokes",
    rotor=("In a brake rotor", "a magnetic bolt"),
    hub="On the hub",
    glued="Glued to rim or shaft",
)
Pole = Literal["unknown", "south", "north"]
POLES = labelled(
    Pole,
    unknown="Not known",
    south="South to the sensor",
    north="North to the sensor",
)
CutForm = Literal["teeth", "slots", "holes"]
CUT_FORMS = labelled(
    CutForm,
    teeth=("Open teeth", "sensed radially or axially"),
    slots=("Slots in a closed rim", "sensed axially"),
    holes=("Drilled holes", "sensed axially"),
)

FERROUS: tuple[TargetKind, ...] = ("toothed_ring", "slotted_disc", "drilled_rotor", "shaft_reluctor", "bolt_heads")
RING_TARGETS: tuple[TargetKind, ...] = (*FERROUS, "multipole_ring")
SINGLE_MAGNETS: tuple[TargetKind, ...] = ("magnets", "paddle_magnets")
FERROMAGNETIC: tuple[Material, ...] = ("steel", "cast_iron", "ferritic_stainless")
EXPANSION_PER_K: Mapping[Material, float] = {
    "steel": 11.7e-6,
    "cast_iron": 10.5e-6,
    "ferritic_stainless": 10.4e-6,
    "austenitic_stainless": 16.5e-6,
    "aluminium": 23.1e-6,
    "titanium": 8.6e-6,
    "plastic": 80e-6,
}
"""Linear thermal expansion [1/K]. Handbook values, from memory."""


class Ring(Part):
    """Teeth, slots, holes or poles around a turn, as measured at the diameter the sensor looks at."""

    form: RingForm = stated(
        "diameter", description="By the diameter at the teeth, or by the module of a gear.", title="Size known by"
    )
    diameter_mm: TargetDiameter | None = stated(
        None,
        step=1,
        description="Diameter at the sensed face of the teeth.",
        title="Diameter where it is sensed",
        applies=("form", ("diameter",)),
    )
    module_mm: Module | None = stated(None, applies=("form", ("module",)))
    tooth_width_mm: ToothWidth | None = stated(
        None,
        description="Along the direction of travel; half a pitch if empty.",
        hint="along the travel",
        when_empty="half the pitch",
    )
    tooth_depth_mm: ToothDepth | None = stated(
        None, description="2.25 modules for a gear; else assumed deep enough.", when_empty="by module, or deep"
    )
    face_width_mm: FaceWidth = Field(10.0, description="Across the direction of travel.")
    material: Material = "steel"
    runout_mm: Runout = stated(
        0.1,
        title="Runout (TIR)",
        description="Total indicator reading (TIR).",
        hint="largest minus smallest reading in one turn",
    )
    missing_teeth: MissingTeeth = 0

    @model_validator(mode="after")
    def _has_a_size(self) -> Ring:
        needed = "module_mm" if self.form == "module" else "diameter_mm"
        if getattr(self, needed) is None:
            words = "module" if self.form == "module" else "diameter at the teeth"
            raise InputError(
                text_of("The {0} is missing.", words),
                remedy="Measure it, or read it off the part.",
                path=needed,
                missing=True,
            )
        return self


class Magnets(Part):
    """Single magnets that pass the sensor with a pole towards it, all on one circle."""

    form: MagnetForm = stated("disc", title="Magnet")
    diameter_mm: MagnetSize = Field(8.0, description="Across a disc or bolt; length along the travel of a bar.")
    width_mm: MagnetSize = stated(6.0, description="Of a bar, across the travel.", applies=("form", ("bar",)))
    length_mm: MagnetSize = stated(
        6.0,
        description="In the direction of magnetisation, towards the sensor.",
        title="Thickness",
        hint="towards the sensor",
    )
    remanence_mt: Remanence = stated(
        380.0,
        description="Ferrite about 380 mT, neodymium about 1200 mT.",
        hint="ferrite 380, neodymium 1200",
    )
    mounted: Mounting = stated("spokes", title="Mounted on")
    radius_mm: MagnetRadius = Field(120.0, title="Radius of the magnets", description="Radius of their circle.")
    pole: Pole = "unknown"
    runout_mm: Runout = stated(
        0.5,
        title="Runout (TIR)",
        description="Total indicator reading (TIR) of the wheel at this radius.",
        hint="largest minus smallest reading in one turn",
    )


class SpokeWheel(Part):
    """A laced wheel: what decides which spokes can carry magnets."""

    holes: SpokeHoles = stated(36, title="Number of spokes")
    crosses: Crosses = stated(3, hint="0 is radial")
    flange_diameter_mm: FlangeDiameter = Field(
        45.0, title="Flange, hole circle", description="Circle of the spoke holes in the hub flange."
    )
    flange_offset_mm: FlangeOffset = Field(
        34.0, title="Flange from the middle", description="From the middle plane of the rim to this flange."
    )
    flange_thickness_mm: Thickness = stated(
        3.0, step=0.1, description="Flange thickness; with the spoke it separates the two planes of spokes."
    )
    rim_diameter_mm: TargetDiameter = Field(
        600.0, title="Rim diameter, inside", description="Diameter at the spoke ends, inside the rim."
    )
    chosen: tuple[Count, ...] = Field((), max_length=24, description="Numbers of the spokes that carry the magnets.")

    @model_validator(mode="after")
    def _laced(self) -> SpokeWheel:
        if self.holes % 4:
            raise InputError(
                text_of("{0} spokes cannot be laced evenly.", self.holes),
                remedy="Count again: both flanges have the same even number of spokes, such as 28, 32 or 36 in all.",
                limit="a multiple of 4",
                value=self.holes,
                path="holes",
            )
        most = self.holes // 8  # beyond it the spoke leaves the hub at more than a right angle, across the flange
        if self.crosses > most:
            raise InputError(
                text_of("{0} crosses need more than {1} spokes.", self.crosses, self.holes),
                remedy="Count how many spokes of the same side one spoke crosses.",
                limit=text_of("at most {0}", most),
                value=self.crosses,
                path="crosses",
            )
        if self.rim_diameter_mm < 1.5 * self.flange_diameter_mm:
            raise InputError(
                text_of(
                    "A rim of {0:g} mm is too small for a flange of {1:g} mm.",
                    self.rim_diameter_mm,
                    self.flange_diameter_mm,
                ),
                remedy="Measure both again.",
                limit=text_of("at least {0:g} mm", 1.5 * self.flange_diameter_mm),
                value=self.rim_diameter_mm,
                path="rim_diameter_mm",
            )
        numbers = [number for number in self.chosen if number > self.holes // 2]
        if numbers:
            raise InputError(
                text_of("There is no spoke {0}: one side has {1}.", numbers[0], self.holes // 2),
                remedy="Choose the spokes in the planner.",
                limit=text_of("1 to {0}", self.holes // 2),
                value=numbers[0],
                path="chosen",
            )
        return self


class RingCut(Part):
    """A ring to be cut from plate: what the drawing for the cutter needs beside count and diameter."""

    form: CutForm = stated("teeth", title="Part to cut")
    thickness_mm: Thickness = stated(3.0, title="Plate thickness")
    bore_mm: Hole = stated(30.0, step=1)
    bolts: Bolts = stated(6, title="Number of bolts")
    bolt_circle_mm: BoltCircle = 44.0
    bolt_hole_mm: Hole = stated(5.2, title="Bolt hole diameter")
    kerf_mm: Kerf = stated(
        0.2, description="Width of the cut; the drawing is offset by half of it.", hint="width of the cut"
    )


class Target(Verifiable):
    """Teeth, slots, holes, poles or magnets, their count per turn, and how many edges of each are counted."""

    kind: TargetKind = stated("toothed_ring", title="Target")
    count: Count = stated(title="Count per turn", hint="Count twice; mark the first.")
    basis: CountBasis = stated("assumed", title="Counted or assumed?")
    edges: Literal[1, 2] = stated(
        1,
        description="1: one edge of each tooth is counted; 2: both.",
        title="Edges of each that the reader counts",
        labels={"1": "One edge", "2": "Both edges"},
    )
    ring: Ring | None = stated(None, applies=("kind", RING_TARGETS))
    magnets: Magnets | None = stated(None, applies=("kind", SINGLE_MAGNETS))
    spokes: SpokeWheel | None = stated(None, applies=("kind", SINGLE_MAGNETS))
    cut: RingCut | None = stated(None, applies=("kind", RING_TARGETS))
    part: PartLabel | None = Field(None, description="Which part it is, to find and order the same one.")

    @field_validator("verification")
    @classmethod
    def _verification(cls, verification: Verification | None) -> Verification | None:
        check_verification("target", verification)
        return verification

    @model_validator(mode="after")
    def _a_gap_between_teeth(self) -> Target:
        ring = self.ring
        if ring is None or ring.tooth_width_mm is None:
            return self
        places = self.count + ring.missing_teeth
        across_mm = ring.diameter_mm if ring.form == "diameter" else (ring.module_mm or 0.0) * (places + 2)
        pitch_mm = math.pi * (across_mm or 0.0) / places
        if ring.tooth_width_mm >= pitch_mm:
            raise InputError(
                text_of("A tooth of {0:.4g} mm leaves no gap: the pitch is {1:.4g} mm.", ring.tooth_width_mm, pitch_mm),
                remedy="Measure one tooth along the direction of travel, and check count and diameter.",
                limit=text_of("below {0:.4g} mm", pitch_mm),
                value=ring.tooth_width_mm,
                path="ring.tooth_width_mm",
            )
        return self

    @model_validator(mode="after")
    def _magnets_on_the_spokes(self) -> Target:
        wheel, magnets = self.spokes, self.magnets
        if not self.single or wheel is None or magnets is None or magnets.mounted != "spokes":
            return self
        low, high = wheel.flange_diameter_mm / 2, wheel.rim_diameter_mm / 2
        if not low <= magnets.radius_mm <= high:
            raise InputError(
                text_of("At a radius of {0:g} mm there is no spoke.", magnets.radius_mm),
                remedy="Measure from the axle to the middle of the magnet, or the rim again.",
                limit=text_of("{0:g} to {1:g} mm", low, high),
                value=magnets.radius_mm,
                path="magnets.radius_mm",
            )
        return self

    @property
    def single(self) -> bool:
        """Whether single magnets pass the sensor, not teeth or poles in a row."""
        return self.kind in SINGLE_MAGNETS

    @property
    def runout_mm(self) -> float:
        """Total indicator reading of what passes the sensor [mm]."""
        part = self.magnets if self.single else self.ring
        return part.runout_mm if part else 0.0
