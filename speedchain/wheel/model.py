"""The wheel part of the installation document: every method's entries are kept, one is in use."""

from __future__ import annotations

from typing import Literal

from pydantic import Field, field_validator, model_validator

from speedchain.fields import InputError, Verifiable, Verification, check_verification, labelled, stated, text_of
from speedchain.wheel.entries import (
    AxleHeight,
    ChartValue,
    Circumstances,
    Corrections,
    EnteredCircumference,
    PaddleConstant,
    RollOut,
    SizeMarking,
    SpeedDerived,
    TapedCircumference,
    TapedDiameter,
)
from speedchain.wheel.marking import parse_marking

SingleMethod = Literal[
    "marking",
    "chart",
    "taped_diameter",
    "axle_height",
    "taped_circumference",
    "roll_out",
    "speed_derived",
    "entered",
    "paddle",
]
WheelMethod = Literal[SingleMethod, "combined"]
WHEEL_METHODS = labelled(
    WheelMethod,
    marking=("Size marking", "from the sidewall; 1 to 1.5 %"),
    chart=("Cycle chart", "a row of the workshop's chart; about 0.7 %"),
    taped_circumference=("Tape over the tread", "wheel lifted; 0.2 % on a cycle, 0.6 % on a car"),
    axle_height=("Axle height", "loaded and lifted; about 0.5 %"),
    taped_diameter=("Tape across, standing", "floor to top of the standing wheel; 0.2 % on a cycle, 0.6 % on a car"),
    speed_derived=("Comparison with true speed", "satellite or measured distance; 0.3 to 0.5 %"),
    roll_out=("Roll-out", "at working load and pressure; below 0.1 %"),
    entered=("Known circumference", "a previous setting, or measured elsewhere"),
    paddle=("Paddle constant", "pulses per nautical mile"),
    combined=("All methods combined", "mean of every method entered, weighted by uncertainty"),
)
Construction = Literal["auto", "radial", "crossply", "motorcycle", "bicycle", "balloon", "solid"]
CONSTRUCTIONS = labelled(
    Construction,
    auto="By vehicle and marking",
    radial=("Radial car tyre", "flattened by 5 to 8 % of its radius"),
    crossply=("Crossply", "2 to 6 %"),
    motorcycle=("Motorcycle tyre", "2 to 5 %"),
    bicycle=("Bicycle tyre", "0.5 to 2.5 %"),
    balloon=("Wide soft tyre", "fat bike, quad; 2 to 8 %"),
    solid=("Solid", "wheel, roller or rail wheel; none"),
)
METHODS: tuple[SingleMethod, ...] = SingleMethod.__args__  # type: ignore[attr-defined]


class Wheel(Verifiable):
    """The wheel that turns the target, or the paddle that does."""

    method: WheelMethod = Field(description="The entries in use; combined: all of them, weighted by uncertainty.")
    construction: Construction = stated(
        "auto",
        description="How the tyre is built: by that, a tape on it is corrected for how far load flattens it.",
        title="Tyre construction",
    )
    marking: SizeMarking | None = None
    chart: ChartValue | None = None
    taped_diameter: TapedDiameter | None = None
    axle_height: AxleHeight | None = None
    taped_circumference: TapedCircumference | None = None
    roll_out: RollOut | None = stated(None, title="Roll-out")
    speed_derived: SpeedDerived | None = None
    entered: EnteredCircumference | None = stated(None, title="Known circumference")
    paddle: PaddleConstant | None = None
    measured: Circumstances = stated(Circumstances(), title="Measured by")
    corrections: Corrections = Corrections()

    @field_validator("verification")
    @classmethod
    def _verification(cls, verification: Verification | None) -> Verification | None:
        check_verification("wheel", verification)
        return verification

    def methods_entered(self) -> tuple[SingleMethod, ...]:
        """The methods that have entries."""
        return tuple([method for method in METHODS if getattr(self, method) is not None])

    @model_validator(mode="after")
    def _method_has_its_entries(self) -> Wheel:
        if self.method == "combined":
            if len(self.methods_entered()) < 2:
                raise InputError(
                    "Fewer than two methods have entries, so there is nothing to combine.",
                    remedy="Fill in another method, or use one alone.",
                    limit="at least 2 methods",
                    value=len(self.methods_entered()),
                    path="method",
                )
        elif getattr(self, self.method) is None:
            words = self.method.replace("_", " ")
            raise InputError(
                text_of("The method in use is “{0}”, and its entries are missing.", words),
                remedy="Fill them in or choose another method.",
                value=self.method,
                path=self.method,
                missing=True,
            )
        return self

    @model_validator(mode="after")
    def _axle_height_has_a_diameter(self) -> Wheel:
        if self.axle_height is None:
            return self
        if (unloaded := self.unloaded_diameter_mm()) is None:
            raise InputError(
                "Axle height needs the diameter without load as well.",
                remedy="Tape it with the wheel lifted, or enter the size marking.",
                path="axle_height.unloaded_diameter_mm",
            )
        ratio = 2 * self.axle_height.axle_height_mm / unloaded
        if not 0.6 <= ratio <= 1.05:
            raise InputError(
                text_of(
                    "An axle {0:g} mm high is {1:.2f} of half the diameter {2:.0f} mm, outside 0.6 to 1.05.",
                    self.axle_height.axle_height_mm,
                    ratio,
                    unloaded,
                ),
                remedy="Measure from the floor to the middle of the axle.",
                limit=text_of("{0:.0f} to {1:.0f} mm", 0.3 * unloaded, 0.525 * unloaded),
                value=self.axle_height.axle_height_mm,
                path="axle_height.axle_height_mm",
            )
        return self

    def unloaded_diameter_mm(self) -> float | None:
        """Diameter without load for the axle-height method [mm]: taped, else the size marking's."""
        if self.axle_height is not None and self.axle_height.unloaded_diameter_mm is not None:
            return self.axle_height.unloaded_diameter_mm
        return parse_marking(self.marking.text).diameter_mm if self.marking is not None else None
