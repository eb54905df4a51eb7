"""What each method for the circumference asks for: one part of the document per method."""

from __future__ import annotations

from typing import Annotated, Literal, assert_never

from pydantic import AfterValidator, Field, StringConstraints, model_validator

from speedchain.fields import (
    Circumference,
    Correction,
    Day,
    Diameter,
    Distance,
    DistanceKm,
    DistanceStep,
    Given,
    Growth,
    HeightOfAxle,
    InputError,
    Name,
    Part,
    Percent,
    Pressure,
    PulsesPerNauticalMile,
    Reading,
    ShortText,
    Speed,
    SpeedStep,
    TapedRound,
    Time,
    Tread,
    Turns,
    labelled,
    stated,
    text_of,
)
from speedchain.wheel.marking import MAX_MARKING, parse_marking

Factor = Literal["auto", "pi", "etrto_3_05"]
FACTORS = labelled(
    Factor,
    auto="By tyre: 3.05 for radial car tyres, else π",
    etrto_3_05=("3.05 × diameter", "tyre manufacturers' value: a loaded radial rolls less than π·D"),
    pi=("π × diameter", "plain geometry"),
)
Source = Literal["chart", "previous_setting", "measured_elsewhere"]
SOURCES = labelled(
    Source,
    chart=("Another printed chart", "0.7 %"),
    previous_setting=("Previous setting", "2 %"),
    measured_elsewhere=("Measured elsewhere", "0.3 %"),
)
SpeedBasis = Literal["satellite_speed", "measured_distance", "timed_distance"]
SPEED_BASES = labelled(
    SpeedBasis,
    satellite_speed="Satellite speed against the display",
    measured_distance="Measured distance against the display's",
    timed_distance="Measured distance by the clock",
)
MAX_REPEATS = 11


def _check_marking(text: str) -> str:
    parse_marking(text)
    return Given(text)


MarkingText = Annotated[str, StringConstraints(strip_whitespace=True), AfterValidator(_check_marking)]


class SizeMarking(Part):
    """What the sidewall says, and which school turns diameter into rolling circumference."""

    text: MarkingText = stated(
        description=text_of("The size marking, at most {0} characters.", MAX_MARKING),
        title="Size marking on the sidewall",
    )
    factor: Factor = Field(
        "auto", title="Factor from diameter", description="auto: 3.05 for radial car tyres, π for all others."
    )
    relative_uncertainty_pct: Percent | None = None


class ChartValue(Part):
    """A row of the workshop's cycle chart."""

    label: Name = stated(description="The row as printed, such as 700x28C.", title="Chart row")
    circumference_mm: Circumference = stated(machine=True)
    relative_uncertainty_pct: Percent | None = None


class TapedDiameter(Part):
    """Floor to top of the standing wheel, once or several times."""

    diameter_mm: Diameter = stated(title="Height, floor to top")
    repeats_mm: tuple[Diameter, ...] = Field(
        (), title="Repeat readings", max_length=MAX_REPEATS, description="The same reading again."
    )
    reading_mm: Reading = Field(
        2.0, title="Reading uncertainty ±", description="How far out the tape reading can be, either way."
    )


class AxleHeight(Part):
    """Floor to the middle of the axle, under load, and the diameter without load."""

    axle_height_mm: HeightOfAxle = stated(title="Axle height, loaded")
    unloaded_diameter_mm: Diameter | None = stated(
        None,
        title="Diameter, wheel lifted",
        description="Taped with the wheel lifted; if missing, the size marking's.",
        hint="Empty: from the marking.",
    )
    reading_mm: Reading = Field(
        2.0, title="Reading uncertainty ±", description="How far out the reading can be, either way."
    )


class TapedCircumference(Part):
    """A tape laid once round the tread, once or several times."""

    circumference_mm: TapedRound = stated(title="Circumference over the tread")
    repeats_mm: tuple[TapedRound, ...] = Field(
        (), title="Repeat readings", max_length=MAX_REPEATS, description="The same reading again."
    )
    reading_mm: Reading = Field(
        3.0, title="Reading uncertainty ±", description="How far out the tape reading can be, either way."
    )


class RollOut(Part):
    """Mark tyre and floor, roll a number of turns as it is driven or ridden, tape the distance; repeat."""

    turns: Turns = stated(start=3)
    distance_mm: Distance
    repeats_mm: tuple[Distance, ...] = Field(
        (), title="Repeat readings", max_length=MAX_REPEATS, description="The same roll again."
    )
    tape_mm: Reading = Field(
        2.0, title="Tape uncertainty", description="Standard uncertainty of the tape over the distance."
    )
    mark_mm: Reading = Field(1.0, title="Mark uncertainty", description="Standard uncertainty of setting each mark.")

    @model_validator(mode="after")
    def _plausible(self) -> RollOut:
        for place, distance in enumerate((self.distance_mm, *self.repeats_mm)):
            if not 30 <= distance / self.turns <= 20000:
                raise InputError(
                    text_of(
                        "{0:g} mm in {1} turns is {2:g} mm per turn, outside 30 to 20000 mm.",
                        distance,
                        self.turns,
                        distance / self.turns,
                    ),
                    remedy="Check the number of turns and the unit of the distance.",
                    limit="30 to 20000 mm per turn",
                    value=distance,
                    path="distance_mm" if place == 0 else f"repeats_mm.{place - 1}",
                )
        return self


_NEEDS = {
    "satellite_speed": ("true_kmh", "shown_kmh"),
    "measured_distance": ("true_km", "shown_km"),
    "timed_distance": ("true_km", "time_s", "shown_kmh"),
}


class SpeedDerived(Part):
    """The circumference that was set, put right by what was shown against what was true."""

    set_circumference_mm: Circumference = stated(
        title="Setting at the comparison", description="The setting of the display when it was compared.", machine=True
    )
    basis: SpeedBasis = stated("satellite_speed", title="Compared with", start="satellite_speed")
    shown_kmh: Speed | None = stated(None, title="Reading", applies=("basis", ("satellite_speed",)))
    true_kmh: Speed | None = stated(None, title="True speed", applies=("basis", ("satellite_speed",)))
    shown_km: DistanceKm | None = stated(None, title="Counted distance", applies=("basis", ("measured_distance",)))
    true_km: DistanceKm | None = stated(
        None, title="True distance", applies=("basis", ("measured_distance", "timed_distance"))
    )
    time_s: Time | None = stated(None, title="Time taken", applies=("basis", ("timed_distance",)))
    shown_step_kmh: SpeedStep = Field(
        1.0, title="Resolution of the display", description="Resolution of the display whose speed was read."
    )
    shown_step_km: DistanceStep = Field(
        0.01, title="Resolution of the distance", description="Resolution of the display whose distance was read."
    )
    relative_uncertainty_pct: Percent | None = None

    @model_validator(mode="after")
    def _has_what_its_basis_needs(self) -> SpeedDerived:
        for name in _NEEDS[self.basis]:
            if getattr(self, name) is None:
                words = self.basis.replace("_", " ")
                raise InputError(
                    text_of("By {0}, this field is needed.", words), remedy="Fill it in.", path=name, missing=True
                )
        if not 0.2 <= self.true_over_shown() <= 5:
            raise InputError(
                text_of("True over shown is {0:.3g}, outside 0.2 to 5.", self.true_over_shown()),
                remedy="Check both values and their units.",
                limit="0.2 to 5",
                value=self.true_over_shown(),
                path=_NEEDS[self.basis][0],
            )
        return self

    def true_over_shown(self) -> float:
        """By how much the set circumference has to grow.

        Examples
        --------
        >>> entry = SpeedDerived(set_circumference_mm=2000, true_kmh=101, shown_kmh=100)
        >>> entry.true_over_shown()
        1.01
        """
        if self.basis == "measured_distance":
            return (self.true_km or 0) / (self.shown_km or 1)
        if self.basis == "timed_distance":
            return (self.true_km or 0) / (self.time_s or 1) * 3600 / (self.shown_kmh or 1)
        return (self.true_kmh or 0) / (self.shown_kmh or 1)

    def at_kmh(self) -> float:
        """The speed at which the comparison was made [km/h]; 0 where a distance alone was measured.

        Examples
        --------
        >>> SpeedDerived(set_circumference_mm=2000, true_kmh=101, shown_kmh=100).at_kmh()
        101.0
        """
        match self.basis:
            case "satellite_speed":
                return self.true_kmh or 0.0
            case "timed_distance":
                return (self.true_km or 0.0) / (self.time_s or 1.0) * 3600
            case "measured_distance":
                return 0.0
            case other:
                assert_never(other)


class EnteredCircumference(Part):
    """A circumference known from elsewhere; on water, the run per turn of the paddle."""

    circumference_mm: Circumference
    source: Source = "previous_setting"
    relative_uncertainty_pct: Percent | None = None


class PaddleConstant(Part):
    """A paddle's pulses per nautical mile, and the percentage it was put right by on the water."""

    pulses_per_nautical_mile: PulsesPerNauticalMile = stated(20_000.0, start=20000)
    calibration_pct: Correction | None = stated(
        None,
        step=0.1,
        description="100·(true/shown − 1) from a run both ways; missing while not calibrated.",
        hint="100·(true/shown − 1), after a run both ways",
    )
    relative_uncertainty_pct: Percent | None = None


class Circumstances(Part):
    """Who measured the wheel, when, and in what state it was."""

    by: ShortText = Field("", title="Done by (role)", description="A role, not a name.")
    on: Day | None = stated(None, title="Date", hint="2026-05-02")
    pressure_bar: Pressure | None = None
    load: ShortText = stated("", description="Load carried: rider, driver, fuel, luggage.", hint="driver, half a tank")
    tread_depth_mm: Tread | None = None


class OtherLoad(Part):
    """A second roll-out, at another pressure or load."""

    turns: Turns = stated(title="Second roll-out: turns", start=3)
    distance_mm: Distance
    load: ShortText = stated("", title="Pressure or load")
    applies: bool = stated(
        False,
        title="Used in this state",
        description="Whether the vehicle is driven or ridden like this.",
        labels={"false": "No, only to know the difference", "true": "Yes, use this"},
    )


class Corrections(Part):
    """What moves the circumference away from what was measured."""

    tread_now_mm: Tread | None = stated(None, title="Tread depth now")
    tread_new_mm: Tread | None = stated(
        None,
        title="Tread depth when new",
        description="Tread depth of the new tyre; if missing, typical of the kind of vehicle.",
        when_empty="by vehicle type",
    )
    tread_limit_mm: Tread = stated(
        1.6, title="Tread depth at the wear limit", step=0.1, description="Tread depth at which it is changed."
    )
    growth_pct: Growth | None = stated(
        None,
        title="Growth with speed",
        description="Growth of the circumference at the speed below.",
        hint="soft slicks; your own figure",
    )
    growth_at_kmh: Speed = stated(100.0, title="Growth at speed", step=10)
    other_load: OtherLoad | None = None
