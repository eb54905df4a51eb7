"""The readout part of the installation document."""

from __future__ import annotations

import math
from functools import lru_cache
from itertools import pairwise
from typing import Annotated, Any, Literal, NamedTuple

from pydantic import Field, ValidationInfo, WithJsonSchema, field_validator, model_validator

from speedchain.fields import (
    Circumference,
    Count,
    Day,
    Dependence,
    Frequency,
    Gate,
    HoldOff,
    InputError,
    Name,
    Part,
    PartLabel,
    PulsesPerKm,
    QuantityKind,
    Ratio,
    Resistance,
    Scale,
    ShortestPulse,
    ShortText,
    ShownSpeed,
    SpanOfTime,
    Speed,
    SpeedStep,
    State,
    SupplyVoltage,
    Tick,
    TimeOut,
    Turns,
    Verifiable,
    Verification,
    Voltage,
    check_rising,
    check_verification,
    joined,
    labelled,
    parse_quantity,
    stated,
    text_of,
)
from speedchain.readout.encodings import ENCODINGS, Encoding, EncodingCode

NumberTyped = Annotated[
    float,
    WithJsonSchema(
        {"type": ["number", "string"], "description": "In the unit of the encoding; text with a unit is read."},
        mode="validation",
    ),
]
Step = Annotated[float, Field(gt=0, le=1000)]
TimingMethod = Literal["gate", "period"]
TIMING_METHODS = labelled(
    TimingMethod,
    period="Period (times the pulses)",
    gate="Gate (counts pulses)",
)
PastEnd = Literal["stops", "wraps"]
PAST_ENDS = labelled(
    PastEnd,
    stops="The needle stops",
    wraps="The needle drops to zero",
)


class CustomEncoding(Part):
    """A way of typing the setting in that is not in the list, tied to pulses per km by one factor."""

    label: Name = stated(title="Name of the setting", start="Custom")
    unit: ShortText = ""
    direct: bool = stated(
        True,
        description="The setting increases with pulses per km: set = scale·number, else scale/number.",
        title="With more pulses per km the setting is",
        labels={"false": "smaller", "true": "larger"},
    )
    scale: Scale = stated(1.0, hint="set = scale × number, or scale / number")
    per_turn: bool = stated(
        False,
        description="Pulses per turn are also set in the reader, which multiplies the scale.",
        title="Pulses per turn set too?",
        labels={"false": "No", "true": "Yes, they multiply the scale"},
    )
    minimum: Scale = stated(1.0, title="Smallest setting")
    maximum: Scale = stated(999_999.0, title="Largest setting")
    step: Step = stated(1.0, title="Step of the setting")

    def encoding(self) -> Encoding:
        """The same as one of the listed encodings.

        Examples
        --------
        >>> CustomEncoding(label="Divider", direct=False, scale=1000).encoding().formula
        'number = 1000/pulses per km'
        """
        kind = QuantityKind(text_of("number “{0}”", self.label), self.unit, 1e-9, 1e12, f"{self.minimum:g}")
        result = f"{self.scale:g}{'·pulses per turn result' if self.per_turn else ''}"
        formula = (
            text_of("number = pulses per km/{0}", result)
            if self.direct
            else text_of("number = {0}/pulses per km", result)
        )
        return Encoding(
            "custom", self.label, kind, self.minimum, self.maximum, self.step, self.direct, self.scale, formula,
            per_turn=self.per_turn,
        )  # fmt: skip


class TablePoint(Part):
    """One speed of a frequency table, and the frequency that stands in it now."""

    speed_kmh: Speed = stated(step=10)
    set_frequency_hz: Frequency | None = stated(None, title="Current setting", step=0.1)


class Code(Part):
    """One line of a printed chart: the code to type, and the circumference it stands for."""

    code: Annotated[Name, Field(max_length=12)]
    circumference_mm: Circumference = stated(machine=True)


class Timing(Part):
    """How the reader makes a speed of pulses, and when it gives up."""

    method: TimingMethod = stated("period")
    gate_s: Gate = stated(0.5, description="Gate time, for a reader that counts.", applies=("method", ("gate",)))
    timer_tick_us: Tick = stated(
        4.0,
        description="Timer tick, for a reader that times pulses [µs].",
        applies=("method", ("period",)),
    )
    pulses_averaged: Turns = stated(1, applies=("method", ("period",)))
    time_out_s: TimeOut | None = stated(
        None,
        title="Zero time-out",
        description="Zero is shown after this time without a pulse.",
        hint="without a pulse",
    )
    minimum_kmh: Speed | None = stated(
        None, title="Minimum speed shown", description="Minimum speed shown.", hint="its own minimum"
    )


class Input(Part):
    """The reader's input, where the pulses arrive."""

    max_low_v: Voltage = stated(0.8, step=0.1, description="Max. low level.", title="Max. low level")
    min_high_v: Voltage = stated(2.0, title="Min. high level", step=0.1, description="Min. high level.")
    max_input_v: Voltage | None = stated(
        None, title="Max. input voltage", description="Max. input voltage.", when_empty="not known"
    )
    supply_v: SupplyVoltage = Field(5.0, description="Supply of the reader and of its pull-up.")
    pull_up_ohm: Resistance | None = stated(
        None, step=100, description="Internal pull-up, if any.", title="Internal pull-up", when_empty="none"
    )
    max_frequency_hz: Frequency | None = stated(
        None, title="Max. frequency", description="Max. frequency.", when_empty="not known"
    )
    min_pulse_us: ShortestPulse = Field(0.0, title="Min. pulse width", description="Min. pulse width.")
    dead_time_ms: HoldOff = stated(0.0, description="Dead time after a pulse.", hint="after a pulse none is counted")

    @model_validator(mode="after")
    def _in_order(self) -> Input:
        remedy = "Swap them, or use the data sheet of the reader."
        check_rising(self.max_low_v, self.min_high_v, name="level for low", unit="V", path="min_high_v", remedy=remedy)
        return self


class CardPoint(Part):
    """One line of a test card: the true speed the generator stood for, and what the needle said."""

    speed_kmh: Speed = stated(step=10)
    read_kmh: ShownSpeed | None = None


Entry = Literal["typed", "fixed", "learned", "counts"]
ENTRIES = labelled(
    Entry,
    typed="Number entered by hand",
    fixed=("Cannot be set", "made for one number: a gauge without a setting"),
    learned=("Learned on a ride", "no number to enter"),
    counts=("Cannot be set, compares counts", "brake-control unit: it takes a range of counts per turn"),
)
ACCEPTED_COUNTS = (40, 50)
"""Pulses per turn that common replacement brake-control units take, equal at all wheels. Common practice."""
RideOutcome = Literal["learned", "refused"]
RIDE_OUTCOMES = labelled(
    RideOutcome,
    learned="Learned",
    refused="Not learned",
)


class LearningRide(Part):
    """The ride on which a reader learns its setting: the speed held, how long, the wait with the key off, the
    outcome."""

    hold_kmh: Speed = stated(40.0, description="Speed to hold, by the reader's manual.", title="Speed to hold")
    within_kmh: Speed = stated(5.0, description="How far off the speed may be while it is held.", title="Held within ±")
    hold_s: SpanOfTime = stated(10.0, description="How long it is held.", title="Hold for")
    key_off_s: SpanOfTime = stated(
        60.0, description="Wait with the key off afterwards.", title="Key off afterwards for"
    )
    outcome: RideOutcome | None = stated(None, description="What came of it; empty until it was done.")
    on: Day | None = stated(None, title="Date")
    by: ShortText = stated("", title="Done by (role)")
    state: State | None = Field(None, description="What it was learned with.")
    voided_by: Dependence | None = Field(None, description="The change after which it has to be learned again.")


class EntryLimits(NamedTuple):
    """Smallest and largest number that can be entered, and its step, in the encoding's unit."""

    minimum: float
    maximum: float
    step: float


class KeptSetting(Part):
    """One more setting of a display, as it is entered there: alarm, shift light, clock, unit, source wheel."""

    name: Annotated[Name, Field(max_length=60)]
    set_to: ShortText = ""


class Readout(Verifiable):
    """One controller, dash, gauge or cycle computer on the sensor."""

    name: Name
    encoding: EncodingCode = stated(title="Setting format")
    entry: Entry = stated("typed", description="How the setting is entered in the reader.", title="Entry method")
    learning_ride: LearningRide | None = Field(None, description="The ride on which it learns its setting.")
    set_pulses_per_turn: Count = stated(
        1,
        description="Pulses per turn (or teeth) set in the reader; 1 where it has no such setting.",
        title="Pulses per turn set in the reader",
        hint="1 where it has no such setting",
    )
    set_gear_ratio: Ratio = stated(
        1.0,
        step=0.01,
        description="Gear ratio set in the reader, where it asks for one.",
        title="Gear ratio set in the reader",
        hint="1 where it has no such setting",
    )
    least_pulses_per_turn: Count = Field(
        ACCEPTED_COUNTS[0],
        title="Pulses per turn accepted, least",
        description="Fewest pulses per turn that it accepts.",
    )
    most_pulses_per_turn: Count = Field(
        ACCEPTED_COUNTS[1], title="Pulses per turn accepted, most", description="Most pulses per turn that it accepts."
    )
    base_pulses_per_km: PulsesPerKm | None = stated(
        None,
        title="Pulses per km at 0 %",
        description="Pulses per km at 0 % correction.",
        applies=("encoding", ("percent_correction",)),
    )
    custom: CustomEncoding | None = stated(None, title="Custom format", applies=("encoding", ("custom",)))
    table: tuple[TablePoint, ...] = stated(
        (),
        max_length=24,
        description="Speeds of a frequency table, rising.",
        applies=("encoding", ("frequency_table",)),
    )
    codes: tuple[Code, ...] = stated(
        (),
        title="Printed chart of codes",
        max_length=200,
        description="A printed chart of codes.",
        applies=("encoding", ("chart_code",)),
    )
    current_setting: NumberTyped | None = stated(
        None,
        description="Current setting, read back from the display.",
        hint="Leave empty until read back.",
    )
    current_setting_code: ShortText | None = stated(
        None,
        title="Current code",
        description="Current code, read back from the display.",
        applies=("encoding", ("chart_code",)),
    )
    minimum: NumberTyped | None = Field(None, title="Smallest setting", description="Smallest setting, if not typical.")
    maximum: NumberTyped | None = Field(None, title="Largest setting", description="Largest setting, if not typical.")
    step: Step | None = Field(None, title="Step of the setting", description="Step of the setting, if not typical.")
    digits: Annotated[int, Field(ge=1, le=9)] | None = Field(None, description="Digits of the setting.")
    display_step_kmh: SpeedStep = Field(1.0, title="Display resolution", description="Resolution of the display.")
    timing: Timing = Timing()
    input: Input | None = None
    before_converter: bool = stated(
        False,
        description="Connected before the ratio converter.",
        title="Connected",
        labels={"false": "After the converter", "true": "Before the converter, at the sensor"},
    )
    scale_end_kmh: Speed | None = stated(
        None, title="End of scale", step=10, description="End of scale.", when_empty="no end"
    )
    past_end: PastEnd = Field("stops", title="Past the end of scale", description="Behaviour past the end of scale.")
    figure_from: ShortText = Field(
        "",
        title="Has its figure from",
        description="From where it has its figure, if not from the sensor: a controller, a bus.",
    )
    other_settings: tuple[KeptSetting, ...] = Field(
        (),
        title="Settings card",
        max_length=40,
        description="Settings card: all else that is entered in it, to restore it after a flat battery.",
    )
    card: tuple[CardPoint, ...] = Field((), title="Test card", max_length=24, description="Readings on the bench.")
    part: PartLabel | None = Field(None, description="Which part it is, to find and order the same one.")

    @field_validator("current_setting", "minimum", "maximum", mode="before")
    @classmethod
    def _in_the_encodings_unit(cls, value: Any, info: ValidationInfo) -> Any:
        code, custom = info.data.get("encoding", ""), info.data.get("custom")
        if value is None or not code:
            return value
        if code != "custom":
            return parse_quantity(ENCODINGS[code].kind, value)
        return parse_quantity(custom.encoding().kind, value) if custom is not None else None

    @field_validator("verification")
    @classmethod
    def _verification(cls, verification: Verification | None) -> Verification | None:
        check_verification("readout", verification)
        return verification

    @model_validator(mode="after")
    def _encoding_has_what_it_needs(self) -> Readout:
        if self.encoding == "custom" and self.custom is None:
            raise InputError(
                "The custom setting format is not described.", remedy="Fill it in.", path="custom", missing=True
            )
        if self.encoding == "percent_correction" and self.base_pulses_per_km is None:
            raise InputError(
                "A percent correction needs the pulses per km the reader assumes at 0 %.",
                remedy="Use the data sheet of the reader, or compare once at 0 %.",
                path="base_pulses_per_km",
                missing=True,
            )
        if self.entry == "fixed" and self.current_setting is None and not self.table and not self.codes:
            raise InputError(
                "A reader that cannot be set needs the number it is made for.",
                remedy="Take it from its data sheet, or from what it shows on the bench at a known frequency.",
                path="current_setting",
                missing=True,
            )
        if self.entry == "counts" and self.least_pulses_per_turn > self.most_pulses_per_turn:
            raise InputError(
                text_of(
                    "It cannot accept {0} at least and {1} at most.",
                    self.least_pulses_per_turn,
                    self.most_pulses_per_turn,
                ),
                remedy="Read the range in the data sheet of the unit again.",
                limit=text_of("at least {0}", self.least_pulses_per_turn),
                value=self.most_pulses_per_turn,
                path="most_pulses_per_turn",
            )
        if self.encoding == "frequency_table":
            speeds = [point.speed_kmh for point in self.table]
            if len(speeds) < 2 or any(b <= a for a, b in pairwise(speeds)):
                raise InputError(
                    "A table needs at least two speeds, each larger than the one before.",
                    remedy="Add speeds, or put them in order.",
                    limit="2 to 24 rising speeds",
                    path="table",
                )
        if self.encoding == "chart_code":
            self._check_codes()
        return self

    def _check_codes(self) -> None:
        if not self.codes:
            raise InputError("The chart has no codes.", remedy="Copy its lines.", limit="1 to 200 codes", path="codes")
        names = [code.code for code in self.codes]
        if len(set(names)) < len(names):
            twice = next(name for name in names if names.count(name) > 1)
            raise InputError(text_of("Code {0} is in the chart twice.", twice), remedy="Remove one.", path="codes")
        if self.current_setting_code is not None and self.current_setting_code not in names:
            raise InputError(
                text_of("Code {0} is not in the chart.", self.current_setting_code),
                remedy="Read the display again, or add the line to the chart.",
                limit=joined(", ", names),
                value=self.current_setting_code,
                path="current_setting_code",
            )

    @model_validator(mode="after")
    def _range_is_a_range(self) -> Readout:
        low, high, step = self.limits()
        if low + step > high:
            raise InputError(
                text_of("The reader's range from {0:g} to {1:g} has no two settings {2:g} apart.", low, high, step),
                remedy="Set the largest number above the smallest.",
                limit=text_of("above {0:g}", low),
                value=high,
                path="maximum",
            )
        return self

    def how(self) -> Encoding:
        """The encoding, listed or the reader's own."""
        if self.encoding == "custom" and self.custom is not None:
            return self.custom.encoding()
        return ENCODINGS[self.encoding]

    def factor(self) -> float:
        """What else is set in the reader, multiplied together."""
        how = self.how()
        result = self.set_pulses_per_turn if how.per_turn else 1
        geared = self.set_gear_ratio if how.geared else 1.0
        return result * geared * ((self.base_pulses_per_km or 1.0) if how.based else 1.0)

    def limits(self) -> EntryLimits:
        """Smallest and largest number the reader takes, and its step, in the encoding's unit.

        An end that is not entered is not known: what is usual limits nothing, and what the field holds stands.

        Examples
        --------
        >>> Readout(name="Dash", encoding="circumference_mm", maximum=2500).limits()
        EntryLimits(minimum=1, maximum=2500.0, step=1)
        """
        how = self.how()
        step = self.step or how.step
        usual = how if self.encoding in ("custom", "frequency_table") else how.kind
        largest = usual.maximum if self.maximum is None else self.maximum
        if self.digits is not None:
            most = float(f"{(10**self.digits - 1) * 10.0 ** -decimals(step):.12g}")
            largest = min(largest, most)
        return EntryLimits(usual.minimum if self.minimum is None else self.minimum, largest, step)


@lru_cache(maxsize=64)
def decimals(step: float) -> int:
    """Decimal places of a step.

    Examples
    --------
    >>> decimals(1), decimals(0.1), decimals(0.25), decimals(100)
    (0, 1, 2, 0)
    """
    text = f"{step:.9f}".rstrip("0")
    return len(text) - text.index(".") - 1 if step < math.inf else 0
