"""The signal part of the installation document: what lies between the sensor and the reader's input."""

from __future__ import annotations

from typing import Literal

from pydantic import Field, field_validator, model_validator

from speedchain.fields import (
    AcVoltage,
    CableTurns,
    Capacitance,
    Carrier,
    Current,
    Frequency,
    Fuse,
    Gap,
    InputError,
    LeadCapacitance,
    LeadLength,
    MotorPulses,
    OffsetVoltage,
    Part,
    PulsesPerKm,
    Resistance,
    ShortText,
    Speed,
    SupplyVoltage,
    TestFrequency,
    Turns,
    Verifiable,
    Verification,
    Voltage,
    Whole,
    check_rising,
    check_verification,
    labelled,
    stated,
    text_of,
)
from speedchain.signal.series import Series

ConditionerKind = Literal["comparator", "vr_converter"]
CONDITIONERS = labelled(
    ConditionerKind,
    comparator=("Comparator", "square output, with threshold and hysteresis"),
    vr_converter=("VR conditioner", "VR-to-square-wave"),
)
Shield = Literal["none", "one_end", "both_ends"]
SHIELDS = labelled(
    Shield,
    none="No shield",
    one_end=("Grounded at one end", "at the reader"),
    both_ends="Grounded at both ends",
)
Drives = Literal["electronic", "mechanical"]
GAUGES = labelled(
    Drives,
    electronic=("Electronic gauge", "counts pulses"),
    mechanical=("Mechanical gauge", "a motor turns its cable"),
)


class VrPoint(Part):
    """One point at which a coil's voltage was measured, the wheel spun by hand or the ring by a drill."""

    measured_vpp: AcVoltage = Field(
        title="Voltage, peak to peak", description="Peak to peak, at the reader's end with everything connected."
    )
    at_hz: TestFrequency = stated(title="At frequency")
    air_gap_mm: Gap | None = stated(
        None,
        step=0.05,
        description="Air gap at the measurement; the air gap entered when empty.",
        title="At air gap",
        when_empty="the air gap entered",
    )


class MeasuredLevels(Part):
    """Levels measured at the end of the lead, turning the wheel slowly."""

    low_v: OffsetVoltage = Field(title="Max. low level", description="Max. low level.")
    high_v: OffsetVoltage = Field(title="Min. high level", description="Min. high level.")

    @model_validator(mode="after")
    def _in_order(self) -> MeasuredLevels:
        remedy = "Swap them, or measure again while the wheel turns."
        check_rising(self.low_v, self.high_v, name="low", unit="V", path="high_v", remedy=remedy)
        return self


class Lead(Part):
    """The wires from the sensor to the reader, and the resistors at their end."""

    length_m: LeadLength = stated(3.0, title="Lead length")
    pf_per_m: LeadCapacitance = Field(
        100.0, title="Lead capacitance", description="Capacitance between the wires. Common practice."
    )
    twisted: bool = stated(False, title="Twisted pair")
    shield: Shield = "none"
    near_ignition: bool = Field(
        False, title="Runs along ignition wires", description="Runs along spark leads or coils."
    )
    pull_up_ohm: Resistance | None = stated(
        None,
        title="Pull-up resistor",
        step=100,
        description="Resistor from the signal to the supply.",
        when_empty="none",
    )
    pull_up_v: Voltage | None = stated(
        None,
        title="Pull-up supply",
        description="Supply the pull-up goes to; the reader's own when empty.",
        hint="of a pull-up outside",
        when_empty="the reader's",
    )
    load_ohm: Resistance | None = stated(
        None, step=10, description="Load of a two-wire current sensor.", title="Load resistor", when_empty="about 100"
    )
    low_ma: Current = stated(7.0, title="Low current")
    high_ma: Current = stated(14.0, title="High current")
    permanent_feed: bool = stated(
        False, description="Permanent battery feed, not switched.", title="Permanent battery feed"
    )
    fuse_a: Fuse | None = stated(None, title="Fuse at the battery", when_empty="none")
    shared: bool = Field(
        False, title="Shared with the brake unit", description="The vehicle's own brake unit reads this sensor too."
    )
    plug: ShortText = stated(
        "", title="Connector", description="Connector at the sensor.", hint="as somebody would order it"
    )
    sealed: bool = stated(False, title="Sealed plug")

    @model_validator(mode="after")
    def _in_order(self) -> Lead:
        check_rising(
            self.low_ma,
            self.high_ma,
            name="low current",
            unit="mA",
            path="high_ma",
            remedy="Swap them, or take 7 and 14 mA.",
        )
        return self


class Conditioner(Part):
    """What makes the signal square: a comparator, or a converter for a coil's voltage."""

    kind: ConditionerKind = stated(start="comparator")
    supply_v: SupplyVoltage = 5.0
    noise_v: Voltage = stated(
        0.05,
        title="Noise voltage",
        step=0.01,
        description="Noise on the signal, peak to peak.",
        applies=("kind", ("comparator",)),
    )
    series: Series = stated("E24", title="Resistor series", applies=("kind", ("comparator",)))
    input_resistor_ohm: Resistance = stated(10_000.0, applies=("kind", ("comparator",)))
    arming_v: AcVoltage = stated(
        0.3,
        title="Arming threshold",
        step=0.05,
        description="Arming threshold of a VR conditioner, peak.",
        applies=("kind", ("vr_converter",)),
    )
    max_input_vpp: AcVoltage | None = stated(
        None,
        title="Max. input, peak to peak",
        step=1,
        description="Max. input voltage, peak to peak; empty when not known.",
        when_empty="not known",
        applies=("kind", ("vr_converter",)),
    )
    biased: bool = stated(
        False,
        title="Coil biased to half of the supply",
        description="The coil is biased to half of the supply.",
        applies=("kind", ("comparator",)),
    )
    clamped: bool = Field(False, title="Input clamp", description="An input clamp limits the voltage.")
    max_frequency_hz: Frequency = stated(10_000.0, title="Max. frequency")
    output_v: SupplyVoltage = Field(5.0, title="Output high level", description="Output high level.")

    @property
    def most_vpp(self) -> float | None:
        """Max. input voltage, peak to peak [V]: of a comparator with a biased coil its supply, which the swing stays
        within."""
        return self.supply_v if self.kind == "comparator" and self.biased else self.max_input_vpp

    def levels_of_coil(self, swing_v: float) -> tuple[float, float]:
        """Levels of a coil's swing, peak to peak [V], at the comparator: around 0 V or half of the supply, and clamped
        to it.

        Examples
        --------
        >>> Conditioner(kind="comparator", biased=True, clamped=True).levels_of_coil(3), Conditioner(
        ...     kind="comparator").levels_of_coil(3)
        ((1.0, 4.0), (-1.5, 1.5))
        """
        middle = self.supply_v / 2 if self.biased else 0.0
        low, high = middle - swing_v / 2, middle + swing_v / 2
        return (max(low, 0.0), min(high, self.supply_v)) if self.biased and self.clamped else (low, high)


class Step(Part):
    """One stage of a ratio converter as it is set: pulses out for pulses in."""

    numerator: Whole = stated(1, title="Setting: pulses out", start=1)
    denominator: Whole = stated(title="Setting: pulses in")


class Converter(Part):
    """A ratio converter: pulses of the sensor in, the pulses a gauge wants out."""

    drives: Drives = stated("electronic", title="Gauge type")
    target_pulses_per_km: PulsesPerKm | None = stated(
        None,
        title="Pulses per km of the gauge",
        description="Pulses per km that the gauge needs.",
        applies=("drives", ("electronic",)),
    )
    cable_turns_per_km: CableTurns | None = stated(
        None,
        title="Cable turns of the gauge per km",
        description="Of a mechanical gauge: turns of its cable.",
        hint="on its face: 621 per km",
        applies=("drives", ("mechanical",)),
    )
    motor_pulses: MotorPulses = stated(
        1.0,
        title="Pulses per motor turn",
        description="Of a mechanical gauge: pulses for one turn of its motor.",
        applies=("drives", ("mechanical",)),
    )
    stages: Literal[1, 2] = stated(
        1, description="Converters in series.", title="Stages in series", labels={"1": "One", "2": "Two"}
    )
    max_numerator: Whole = stated(
        9999, title="Max. numerator", description="1 for a plain divider.", hint="1: a divider"
    )
    max_denominator: Whole = stated(9999, title="Max. denominator")
    setting: tuple[Step, ...] = stated(
        (), max_length=2, description="Current setting; the best ratio when empty.", title="Setting of the converter"
    )
    cap_kmh: Speed | None = stated(
        None,
        title="Output limit",
        step=5,
        description="The output stays constant above this speed.",
        hint="the end of the gauge",
        when_empty="no cap",
    )
    averaged: Turns = Field(1, title="Pulses averaged", description="Pulses averaged.")
    max_input_hz: Frequency = stated(10_000.0, title="Max. input frequency")
    max_output_hz: Frequency = stated(10_000.0, title="Max. output frequency")

    @model_validator(mode="after")
    def _knows_what_is_wanted(self) -> Converter:
        if self.drives == "electronic" and self.target_pulses_per_km is None:
            raise InputError(
                "The pulses per km of the gauge are missing.",
                remedy="Enter them from its data sheet or a bench test.",
                path="target_pulses_per_km",
                missing=True,
            )
        if self.drives == "mechanical" and self.cable_turns_per_km is None:
            raise InputError(
                "The turns per km of the gauge's cable are missing.",
                remedy="They are printed on its face, such as 621 per km or 1000 per mile.",
                path="cable_turns_per_km",
                missing=True,
            )
        for place, step in enumerate(self.setting):
            for name, limit in (("numerator", self.max_numerator), ("denominator", self.max_denominator)):
                if (value := getattr(step, name)) > limit:
                    raise InputError(
                        text_of("This converter cannot be set to {0}.", value),
                        remedy="Read its setting again, or correct its largest number.",
                        limit=text_of("1 to {0}", limit),
                        value=value,
                        path=f"setting.{place}.{name}",
                    )
        return self

    @property
    def wanted(self) -> float:
        """Pulses per km wanted at its output."""
        if self.drives == "mechanical":
            return (self.cable_turns_per_km or 1.0) * self.motor_pulses
        return self.target_pulses_per_km or 1.0


class Analogue(Part):
    """Frequency to voltage: a pulse width that grows with speed, smoothed by resistors and capacitors."""

    pwm_hz: Carrier = stated(1000.0, title="PWM frequency")
    supply_v: SupplyVoltage = stated(5.0, title="Output supply")
    full_scale_kmh: Speed = stated(200.0, title="Full scale (100 % duty)", step=5, description="Speed at 100 % duty.")
    r_ohm: Resistance = stated(10_000.0, title="Resistor per stage", step=1000)
    c_nf: Capacitance = stated(1000.0, title="Capacitor per stage")
    stages: Literal[1, 2] = stated(2, title="Smoothing", labels={"2": "Two stages", "1": "One stage"})
    load_ohm: Resistance | None = stated(
        None, title="Load resistance", step=10, description="Load resistance.", when_empty="nothing"
    )


class Signal(Verifiable):
    """What lies between the sensor and the reader; nothing entered is a wire straight through."""

    vr: VrPoint | None = stated(None, title="Voltage of the coil")
    measured: MeasuredLevels | None = stated(None, title="Measured levels")
    lead: Lead = Lead()
    conditioner: Conditioner | None = None
    converter: Converter | None = None
    analogue: Analogue | None = None

    @field_validator("verification")
    @classmethod
    def _verification(cls, verification: Verification | None) -> Verification | None:
        check_verification("signal", verification)
        return verification
