"""The sensor part of the installation document."""

from __future__ import annotations

from collections.abc import Mapping
from itertools import pairwise
from typing import Literal

from pydantic import Field, field_validator, model_validator

from speedchain.fields import (
    BodyDiameter,
    ElementAngle,
    ElementOffset,
    ElementSize,
    FluxDensity,
    Frequency,
    Gap,
    InputError,
    Module,
    Part,
    PartLabel,
    Pin,
    Resistance,
    ShortText,
    Sideways,
    Spacing,
    Speed,
    Temperature,
    Verifiable,
    Verification,
    Voltage,
    check_rising,
    check_verification,
    labelled,
    quantity_of,
    stated,
    text_of,
)
from speedchain.target import FERROMAGNETIC, FERROUS, SINGLE_MAGNETS, Target, TargetKind

SensorKind = Literal[
    "variable_reluctance",
    "hall_switch",
    "hall_gear_tooth",
    "hall_differential",
    "magnetoresistive",
    "reed",
    "inertial",
    "paddlewheel",
    "optical",
    "radar",
]
Output = Literal["sine", "open_collector", "push_pull", "two_wire_current", "contact", "radio"]
OUTPUTS = labelled(
    Output,
    sine="alternating voltage, rising with speed",
    open_collector="open collector, needs a pull-up",
    push_pull="push-pull",
    two_wire_current="two-wire current, needs a load resistor",
    contact="switch contact",
    radio="radio",
)
SpotFeature = Literal["unknown", "middle", "round", "rectangle", "arrow", "lower_edge"]
SPOT_FEATURES = labelled(
    SpotFeature,
    unknown=("Not known", "position in the body not known"),
    middle="Middle of the tip",
    round=("A round feature", "may be only the mounting bolt"),
    rectangle=("A rectangular part", "often the element itself"),
    arrow="An arrow or line",
    lower_edge=("Lower edge", "where a reed ends"),
)
WireRole = Literal["unknown", "supply", "ground", "signal", "signal_return", "second_signal", "shield"]
WIRE_ROLES = labelled(
    WireRole,
    unknown="Not known",
    supply="Supply",
    ground="Ground",
    signal="Signal",
    signal_return=("Signal return", "the other wire of a coil"),
    second_signal="Second signal",
    shield="Shield",
)

SEES: Mapping[SensorKind, tuple[TargetKind, ...]] = {
    "variable_reluctance": (*FERROUS, "magnets"),
    "hall_switch": (*SINGLE_MAGNETS, "multipole_ring"),
    "hall_gear_tooth": FERROUS,
    "hall_differential": (*FERROUS, "multipole_ring"),
    "magnetoresistive": (*FERROUS, "multipole_ring"),
    "reed": SINGLE_MAGNETS,
    "inertial": (),
    "paddlewheel": ("paddle_magnets",),
    "optical": (*FERROUS, *SINGLE_MAGNETS, "multipole_ring"),
    "radar": (),
}
"""Which targets a kind of sensor can see: iron for VR and gear-tooth types, magnets for switches; a coil that magnets
pass is a dynamo. Common practice."""

NO_TARGET: tuple[SensorKind, ...] = ("inertial", "radar")
"""Kinds that look at no target: one is strapped to the hub and turns with it, the other looks at the ground."""


def sees(sensor: SensorKind, target: TargetKind) -> bool:
    """Whether a kind of sensor detects a kind of target; one without a target needs none.

    Examples
    --------
    >>> sees("reed", "magnets"), sees("reed", "toothed_ring"), sees("radar", "toothed_ring")
    (True, False, True)
    """
    return sensor in NO_TARGET or target in SEES[sensor]


def detects(sensor: SensorKind, target: Target) -> bool:
    """Whether a sensor gets any signal of a target at all: it detects its kind, and a ring is of a material that it
    feels.

    Examples
    --------
    >>> aluminium = Target(count=36, ring={"diameter_mm": 90, "material": "aluminium"})
    >>> detects("hall_gear_tooth", aluminium), detects("optical", aluminium)
    (False, True)
    """
    if not sees(sensor, target.kind):
        return False
    ring = target.ring
    return (
        sensor in NO_TARGET
        or sensor == "optical"
        or target.kind not in FERROUS
        or ring is None
        or ring.material in FERROMAGNETIC
    )


PAIRED: tuple[SensorKind, ...] = ("hall_differential", "magnetoresistive")
"""Kinds with two elements that compare neighbouring places: they clocking angle 0° (strip along the teeth)."""


class Facts(Part):
    """What is known of a sensor: body, the element hidden inside, supply, limits. Lengths in mm."""

    body_diameter_mm: BodyDiameter = Field(description="Diameter of the body at the tip.")
    element_length_mm: ElementSize = Field(description="Length of the element inside; of a pair: of each element.")
    element_width_mm: ElementSize
    element_offset_mm: ElementOffset = Field(
        title="Element offset, max.", description="Max. offset of the element from the sensor centreline."
    )
    element_angle_tolerance_deg: ElementAngle = Field(description="Angle tolerance of the element in its body.")
    element_spacing_mm: Spacing | None = Field(None, description="Distance of the two elements of a differential type.")
    depth_mm: Gap = Field(0.0, description="From the tip to the element inside; matters for magnets.")
    supply_min_v: Voltage
    supply_max_v: Voltage
    output: Output
    max_frequency_hz: Frequency = stated(title="Max. frequency")
    rated_air_gap_mm: Gap = Field(description="Rated air gap …")
    rated_pitch_mm: Spacing = Field(description="… at this pitch.")
    operate_point_mt: FluxDensity | None = None
    release_point_mt: FluxDensity | None = None
    unipolar: bool = Field(False, description="Responds to one pole only.")
    temperature_min_c: Temperature = -40.0
    temperature_max_c: Temperature = 125.0

    @model_validator(mode="after")
    def _in_order(self) -> Facts:
        for low, high, words in (
            ("supply_min_v", "supply_max_v", "supply"),
            ("temperature_min_c", "temperature_max_c", "temperature"),
            ("release_point_mt", "operate_point_mt", "operate point"),
            ("element_width_mm", "element_length_mm", "length of the element"),
        ):
            least, most = getattr(self, low), getattr(self, high)
            if least is not None and most is not None and least > most:
                raise InputError(
                    text_of("The {0} must rise: {1:g} to {2:g} does not.", words, least, most),
                    remedy="Set the second number above the first.",
                    limit=text_of("at least {0:g}", least),
                    value=most,
                    path=high,
                )
        return self

    @property
    def apart_mm(self) -> float:
        """Distance of the two elements of a pair; a fifth of the body when nobody knows it. Our allowance."""
        return self.element_spacing_mm or self.body_diameter_mm / 5


class ElementMark(Part):
    """Where on the tip the sensing element is, and which feature of the body shows it."""

    feature: SpotFeature = stated("unknown", title="Marked by")
    along_mm: Sideways = Field(
        0.0,
        title="Along the direction of travel",
        description="From the sensor centreline, along the direction of travel.",
    )
    across_mm: Sideways = Field(
        0.0,
        title="Across the direction of travel",
        description="From the sensor centreline, across the direction of travel.",
    )


class Wire(Part):
    """One wire of an unknown sensor, as tested."""

    colour: ShortText
    role: WireRole = "unknown"
    pin: Pin = Field("", description="Pin at the connector; position in the list when empty.")


class Needs(Part):
    """What the sensor has to do here; what is empty follows from the installation (`requirements_of`)."""

    min_speed_kmh: Speed | None = Field(None, title="Min. speed", description="Min. speed to be read.")
    max_speed_kmh: Speed | None = stated(
        None, title="Max. speed", step=10, description="Max. speed to be read; the fastest check speed when empty."
    )
    supply_v: Voltage | None = stated(
        None,
        description="Supply at the sensor; 0 for none; not checked when empty.",
        title="Supply at the sensor",
        hint="0 for none",
        when_empty="not checked",
    )
    ambient_max_c: Temperature | None = stated(
        None,
        title="Max. temperature",
        step=5,
        description="Max. temperature at the sensor; not checked when empty.",
        when_empty="not checked",
    )

    @model_validator(mode="after")
    def _in_order(self) -> Needs:
        if self.min_speed_kmh is not None and self.max_speed_kmh is not None:
            check_rising(
                self.min_speed_kmh,
                self.max_speed_kmh,
                name="min. speed",
                unit="km/h",
                path="max_speed_kmh",
                remedy="Swap them, or leave them empty.",
            )
        return self


class GapByModule(Part):
    """A row of a maker's table: the largest gap permitted before teeth of a module."""

    module_mm: Module
    highest_mm: Gap = stated(title="Largest permitted")


class MakerGap(Part):
    """The air gap that the sensor's maker permits, as it is set: at least, at most, or at most by the module of the
    teeth."""

    lowest_mm: Gap | None = Field(None, title="Smallest permitted", description="Smallest gap that the maker permits.")
    highest_mm: Gap | None = Field(None, title="Largest permitted", description="Largest gap that the maker permits.")
    by_module: tuple[GapByModule, ...] = Field(
        (), max_length=12, description="The maker's table: largest gap by module."
    )

    @model_validator(mode="after")
    def _in_order(self) -> MakerGap:
        for highest in (self.highest_mm, *[row.highest_mm for row in self.by_module]):
            if self.lowest_mm is not None and highest is not None:
                check_rising(
                    self.lowest_mm,
                    highest,
                    name="smallest gap",
                    unit="mm",
                    path="highest_mm",
                    remedy="Swap them, or leave one empty.",
                )
        return self

    def window_mm(self, module_mm: float | None) -> tuple[float, float] | None:
        """The smallest and the largest gap permitted before teeth of a module [mm]; None where the maker says nothing.

        Between two rows of the table the gap is interpolated, below the first it falls with the module, above the last
        it stays. Common practice.

        Examples
        --------
        >>> table = MakerGap(lowest_mm=0.2, by_module=({"module_mm": 1, "highest_mm": 0.8},
        ...     {"module_mm": 2, "highest_mm": 1.6}))
        >>> table.window_mm(1.5), table.window_mm(0.5), table.window_mm(4)
        ((0.2, 1.2), (0.2, 0.4), (0.2, 1.6))
        """
        limits = [self.highest_mm] if self.highest_mm is not None else []
        if self.by_module and module_mm is not None:
            rows = sorted([(0.0, 0.0), *[(row.module_mm, row.highest_mm) for row in self.by_module]])
            limits.append(_between(rows, module_mm))
        if not limits:
            return None if self.lowest_mm is None else (self.lowest_mm, quantity_of(Gap).maximum)
        return self.lowest_mm or 0.0, min(limits)


def _between(rows: list[tuple[float, float]], at: float) -> float:
    """The value at a place by the rows around it; past the last row that row's."""
    for (low, first), (high, second) in pairwise(rows):
        if at <= high:
            return round(first + (second - first) * (at - low) / (high - low), 9) if high > low else second
    return rows[-1][1]


class Sensor(Verifiable):
    """The kind of sensor, what is known of it, its sensing element and its wires."""

    kind: SensorKind = stated(title="Sensor type")
    facts: Facts | None = Field(
        None,
        title="Data sheet values",
        description="Data sheet values of this sensor; typical values of its type when empty.",
    )
    resistance_ohm: Resistance | None = Field(
        None, title="Resistance of the sensor", description="Measured at its connector, unplugged."
    )
    maker_gap: MakerGap | None = Field(
        None, title="Permitted by the maker", description="The air gap that the sensor's maker permits."
    )
    element_mark: ElementMark = stated(ElementMark(), title="Sensing element")
    wires: tuple[Wire, ...] = Field((), max_length=8)
    needs: Needs | None = stated(None, title="Requirements")
    part: PartLabel | None = Field(None, description="Which part it is, to find and order the same one.")

    @field_validator("verification")
    @classmethod
    def _verification(cls, verification: Verification | None) -> Verification | None:
        check_verification("sensor", verification)
        return verification
