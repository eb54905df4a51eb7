"""The drive part of the installation document."""

from __future__ import annotations

from typing import Literal, assert_never

from pydantic import Field, field_validator, model_validator

from speedchain.fields import (
    Count,
    InputError,
    Part,
    Ratio,
    ShaftTurns,
    Turns,
    Verifiable,
    Verification,
    WantedTurns,
    check_verification,
    labelled,
    stated,
    text_of,
)

DriveKind = Literal["hub", "axle_ratio", "sprockets", "transfer_box", "hub_motor", "cable"]
DRIVE_KINDS = labelled(
    DriveKind,
    hub=("Hub, brake disc or rim", "turns with the wheel, 1:1"),
    axle_ratio=("Driveshaft or gearbox output", "axle ratio: turns of the shaft per turn of the wheel"),
    sprockets=("Chain or belt shaft", "teeth at the wheel over teeth at the sensed shaft"),
    transfer_box=("Transfer box", "high and low range between gearbox and axle"),
    hub_motor=("Hub motor", "with or without gears inside"),
    cable=("Mechanical cable", "drive gear on the shaft, driven gear on the cable"),
)
RatioBasis = Literal["label", "counted"]
RATIO_BASES = labelled(
    RatioBasis,
    label="Read off a label or list",
    counted="Counted by turning wheel and shaft",
)
Range = Literal["high", "low"]
RANGES = labelled(
    Range,
    high="High",
    low="Low",
)
BoxSide = Literal["gearbox", "axle"]
BOX_SIDES = labelled(
    BoxSide,
    axle="Axle side",
    gearbox="Gearbox side",
)
MotorSide = Literal["wheel", "rotor"]
MOTOR_SIDES = labelled(
    MotorSide,
    rotor="Rotor inside the motor",
    wheel="Wheel",
)
Per = Literal["km", "mile"]
PER = labelled(
    Per,
    mile="mile",
    km="km",
)


class AxleRatio(Part):
    """A final-drive ratio: turns of the shaft per turn of the wheel, read off a label or counted."""

    ratio: Ratio | None = stated(None, title="Axle ratio", step=0.01, applies=("basis", ("label",)))
    basis: RatioBasis = stated("label", title="Source of the ratio")
    wheel_turns: Turns = stated(
        10,
        description="Turns of the wheel over which the shaft was counted.",
        title="Turns of the wheel",
        applies=("basis", ("counted",)),
    )
    shaft_turns: ShaftTurns | None = stated(
        None,
        description="Turns of the shaft counted in that time.",
        title="Turns of the shaft",
        hint="to a twentieth: 37.3",
        applies=("basis", ("counted",)),
    )
    one_wheel_held: bool = stated(
        False, description="One wheel was held: the shaft then turns half as much.", applies=("basis", ("counted",))
    )

    @model_validator(mode="after")
    def _has_a_ratio(self) -> AxleRatio:
        counted = self.basis == "counted" and self.shaft_turns is not None
        if self.ratio is None and not counted:
            needed = "shaft_turns" if self.basis == "counted" else "ratio"
            raise InputError(
                "The ratio is missing.", remedy="Enter it, or count it by turning.", path=needed, missing=True
            )
        if not 0.02 <= self.value <= 50:
            raise InputError(
                text_of(
                    "{0:g} turns of the shaft in {1} of the wheel is {2:.3g}, outside 0.02 to 50.",
                    self.shaft_turns,
                    self.wheel_turns,
                    self.value,
                ),
                remedy="Count again.",
                limit="0.02 to 50",
                value=self.shaft_turns,
                path="shaft_turns",
            )
        return self

    @property
    def value(self) -> float:
        """Turns of the shaft per turn of both wheels; doubled when one wheel was held.

        Examples
        --------
        >>> AxleRatio(basis="counted", wheel_turns=10, shaft_turns=20.5, one_wheel_held=True).value
        4.1
        """
        if self.basis == "counted" and self.shaft_turns is not None:
            return self.shaft_turns / self.wheel_turns * (2 if self.one_wheel_held else 1)
        return self.ratio or 1.0


class Sprockets(Part):
    """A chain or belt: teeth at the wheel and teeth at the sensed shaft."""

    wheel_teeth: Count = stated(title="Teeth at the wheel")
    shaft_teeth: Count = stated(title="Teeth at the sensed shaft")


class TransferBox(Part):
    """A transfer box between gearbox and axle, and on which side of it the target sits."""

    axle_ratio: Ratio
    low_ratio: Ratio = stated(
        description="Turns of the gearbox side per turn of the axle side, in low range.", title="Low range ratio"
    )
    range: Range = stated("high", title="Range driven in", applies=("sensed", ("gearbox",)))
    sensed: BoxSide = stated(
        "axle", description="Side of the box on which the target turns.", title="Side of the transfer box"
    )


class HubMotor(Part):
    """A hub motor; a geared one has a rotor that turns faster than the wheel."""

    gear_ratio: Ratio = stated(
        1.0,
        description="Turns of the rotor per turn of the wheel; 1 without gears.",
        title="Rotor turns per wheel turn",
        hint="1 without gears inside",
        start=1,
    )
    sensed: MotorSide = stated("rotor", title="Target on")
    freewheel: bool = stated(
        True, description="Whether the rotor can stand while the wheel coasts.", applies=("sensed", ("rotor",))
    )


class Cable(Part):
    """A mechanical cable drive: drive gear on the shaft, driven gear on the cable, and what the gauge wants."""

    axle_ratio: Ratio
    drive_teeth: Count = stated(title="Drive gear, teeth")
    driven_teeth: Count = stated(title="Driven gear, teeth")
    min_driven_teeth: Count = Field(12, title="Driven gears, smallest", description="Smallest driven gear available.")
    max_driven_teeth: Count = Field(28, title="Driven gears, largest", description="Largest driven gear available.")
    wanted_turns: WantedTurns = Field(
        1000.0, title="Turns the gauge needs", description="Cable turns that the gauge needs, per km or mile."
    )
    wanted_per: Per = stated("mile", title="Turns counted per")

    @model_validator(mode="after")
    def _a_range(self) -> Cable:
        if self.min_driven_teeth > self.max_driven_teeth:
            raise InputError(
                text_of("No driven gear has {0} to {1} teeth.", self.min_driven_teeth, self.max_driven_teeth),
                remedy="Set the largest number above the smallest.",
                limit=text_of("at least {0}", self.min_driven_teeth),
                value=self.max_driven_teeth,
                path="max_driven_teeth",
            )
        return self


class Drive(Verifiable):
    """Where the target sits, seen from the wheel."""

    kind: DriveKind = stated("hub", title="Position of the target")
    driven: bool = stated(
        False,
        description="Whether the engine, motor or pedals drive the wheel sensed.",
        title="Driven wheel",
        labels={"false": "No", "true": "Yes (engine, motor or pedals)"},
    )
    axle_ratio: AxleRatio | None = stated(None, applies=("kind", ("axle_ratio",)))
    sprockets: Sprockets | None = stated(None, applies=("kind", ("sprockets",)))
    transfer_box: TransferBox | None = stated(None, applies=("kind", ("transfer_box",)))
    hub_motor: HubMotor | None = stated(None, applies=("kind", ("hub_motor",)))
    cable: Cable | None = stated(None, applies=("kind", ("cable",)))

    @field_validator("verification")
    @classmethod
    def _verification(cls, verification: Verification | None) -> Verification | None:
        check_verification("drive", verification)
        return verification

    @model_validator(mode="after")
    def _kind_has_its_entries(self) -> Drive:
        if self.kind != "hub" and self.entry is None:
            words = self.kind.replace("_", " ")
            raise InputError(
                text_of("The drive is by {0}, and its entries are missing.", words),
                remedy="Fill them in, or set the drive to the hub.",
                value=self.kind,
                path=self.kind,
                missing=True,
            )
        return self

    @property
    def entry(self) -> AxleRatio | Sprockets | TransferBox | HubMotor | Cable | None:
        """The entries of the kind in use; None at the hub."""
        match self.kind:
            case "hub":
                return None
            case "axle_ratio":
                return self.axle_ratio
            case "sprockets":
                return self.sprockets
            case "transfer_box":
                return self.transfer_box
            case "hub_motor":
                return self.hub_motor
            case "cable":
                return self.cable
            case other:
                assert_never(other)
