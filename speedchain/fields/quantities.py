"""What the fields of an installation hold: unit, limits and an example, as data. Limits: common practice."""

from __future__ import annotations

import re
from dataclasses import dataclass
from functools import partial
from typing import Annotated, Any, NamedTuple, get_args

from pydantic import BeforeValidator, GetCoreSchemaHandler, GetJsonSchemaHandler, WithJsonSchema

from speedchain.fields.messages import text_of

IN_OTHER_UNITS = ("mm", "km/h")
"""A bare number of these is taken in the unit that a person reads: an example states its own."""
OF_MACHINES = frozenset({"module", "circumference setting", "diameter setting"})
"""Quantities that are numbers of a part or a machine: they stay in their own unit, whatever a person reads."""
_BARE = re.compile(r"-?\d+(?:\.\d+)?")


class Interval(NamedTuple):
    """From a low to a high end, both in the unit of the function that returns it."""

    low: float
    high: float


@dataclass(frozen=True, slots=True)
class QuantityKind:
    """What a number of the document is, typed by a person: its unit, its limits, examples of what people enter, and by
    how much an arrow key changes it. As the annotation of a field it has it read by the one parser, and drawn."""

    name: str
    unit: str
    minimum: float
    maximum: float
    example: str
    integer: bool = False
    text: str = ""
    step: float = 1

    def __get_pydantic_core_schema__(self, source: Any, handler: GetCoreSchemaHandler) -> Any:
        """Read it by the one parser."""
        from speedchain.fields.parser import parse_count, parse_quantity  # which knows quantities

        read = parse_count if self.integer else parse_quantity
        return BeforeValidator(partial(read, self)).__get_pydantic_core_schema__(source, handler)

    def __get_pydantic_json_schema__(self, core_schema: Any, handler: GetJsonSchemaHandler) -> Any:
        """Number or text, with unit and limits as data and in words, so that any front can draw the field."""
        description = text_of(
            "{0}; a bare number is in {1}. Text such as {2} is accepted.",
            self.limit, self.unit or "plain units", self.examples,
        )  # fmt: skip
        schema = {
            "type": ["integer" if self.integer else "number", "string"],
            "description": description,
            "minimum": self.minimum,
            "maximum": self.maximum,
            "x-quantity": self.name,
            "x-unit": self.unit,
            "x-example": self.examples,
            "x-step": self.step,
        }
        return WithJsonSchema(schema, mode="validation").__get_pydantic_json_schema__(core_schema, handler)

    @property
    def examples(self) -> str:
        """What people enter, each number with its unit where some read it in another one.

        Examples
        --------
        >>> quantity_of(Diameter).examples, quantity_of(Ratio).examples
        ('660 mm, 26in, 0.66 m', '3.73, 41/11')
        """
        if self.unit not in IN_OTHER_UNITS:
            return self.example
        parts = [
            f"{part}{self._space}{self.unit}" if _BARE.fullmatch(part) else part for part in self.example.split(", ")
        ]
        return ", ".join(parts)

    @property
    def _space(self) -> str:
        """Before a unit that stays, whatever a person reads, a no-break space."""
        return "\u00a0" if self.name in OF_MACHINES else " "

    @property
    def limit(self) -> str:
        """The limits as text: ``10 to 6000 mm``."""
        return text_of("{0:g} to {1:g}{2}{3}", self.minimum, self.maximum, self._space, self.unit_name).strip()

    @property
    def unit_name(self) -> str:
        """The unit as people say it: ``pulses per km`` for 1/km."""
        return self.text or self.unit


def quantity_of(annotation: Any) -> QuantityKind:
    """The quantity of one of the types below.

    Examples
    --------
    >>> quantity_of(Gap).limit
    '0 to 100 mm'
    """
    return next(one for one in get_args(annotation) if isinstance(one, QuantityKind))


Diameter = Annotated[float, QuantityKind("diameter", "mm", 10, 6000, "660, 26in, 0.66 m")]
Circumference = Annotated[float, QuantityKind("circumference", "mm", 30, 20000, "2105, 2.105 m")]
Distance = Annotated[float, QuantityKind("distance", "mm", 30, 500000, "6210, 6.21 m")]
Reading = Annotated[float, QuantityKind("reading", "mm", 0.01, 500, "2, 1/16in", step=0.5)]
Ratio = Annotated[float, QuantityKind("ratio", "", 0.02, 50, "3.73, 41/11")]
Speed = Annotated[float, QuantityKind("speed", "km/h", 0.5, 1000, "100, 60 mph, 10 kn")]
SpeedStep = Annotated[float, QuantityKind("speed step", "km/h", 0.001, 10, "1, 0.1, 1 mph", step=0.1)]
Percent = Annotated[float, QuantityKind("percentage", "%", 0.001, 20, "0.7")]
Count = Annotated[int, QuantityKind("count", "", 1, 1000, "48", integer=True)]
Turns = Annotated[int, QuantityKind("turns", "", 1, 1000, "3", integer=True)]
SET_CIRCUMFERENCE = QuantityKind("circumference setting", "mm", 1, 100_000, "2105, 2.105 m")
SET_DIAMETER = QuantityKind("diameter setting", "mm", 1, 30_000, "612, 0.612 m")
HeightOfAxle = Annotated[float, QuantityKind("axle height", "mm", 5, 3000, "305, 12in, 0.305 m")]
TapedRound = Annotated[float, QuantityKind("taped circumference", "mm", 30, 20000, "2105, 2.105 m")]
PulsesPerNauticalMile = Annotated[
    float,
    QuantityKind(
        "paddle constant", "1/nmi", 100, 1_000_000, "20000, 5.6 Hz/kn", text="pulses per nautical mile", step=100
    ),
]
Correction = Annotated[float, QuantityKind("correction", "%", -50, 50, "2.5, -1")]
Growth = Annotated[float, QuantityKind("growth", "%", 0, 10, "1.5", step=0.1)]
Tolerance = Annotated[float, QuantityKind("tolerance", "%", 0.01, 20, "1")]
Pressure = Annotated[float, QuantityKind("pressure", "bar", 0.1, 20, "2.2, 32 psi, 220 kPa", step=0.1)]
Tread = Annotated[float, QuantityKind("tread depth", "mm", 0, 40, "6.5, 8/32in", step=0.5)]
ShaftTurns = Annotated[float, QuantityKind("number of shaft turns", "", 0.05, 50_000, "37.3", step=0.05)]
WantedTurns = Annotated[float, QuantityKind("number of cable turns", "", 10, 10_000, "1000, 690", step=10)]
Track = Annotated[float, QuantityKind("track", "mm", 50, 5000, "1450, 57in, 1.45 m")]
Radius = Annotated[float, QuantityKind("radius of the turn", "m", 0.5, 10_000, "6, 20 ft")]
DistanceStep = Annotated[float, QuantityKind("distance step", "km", 0.001, 1, "0.1, 0.01, 10 m", step=0.01)]
DistanceKm = Annotated[float, QuantityKind("distance", "km", 0.05, 1000, "1.609, 1 mile, 500 m", step=0.1)]
Time = Annotated[float, QuantityKind("time", "s", 0.5, 100_000, "36.0", step=0.1)]
Gate = Annotated[float, QuantityKind("gate time", "s", 0.001, 60, "0.5, 500 ms", step=0.1)]
TimeOut = Annotated[float, QuantityKind("time-out", "s", 0.01, 600, "2", step=0.5)]
Tick = Annotated[float, QuantityKind("timer tick", "us", 0.001, 100_000, "4, 1 ms")]
Frequency = Annotated[float, QuantityKind("frequency", "Hz", 0, 1_000_000, "831, 1.2 kHz")]
Scale = Annotated[float, QuantityKind("scale", "", 1e-9, 1e12, "1000")]
PulsesPerKm = Annotated[
    float, QuantityKind("number of pulses per km", "1/km", 1, 10_000_000, "24903, 40000 per mile", text="pulses per km")
]
PULSES_PER_100_M = QuantityKind("number of pulses per 100 m", "1/hm", 0.1, 1_000_000, "2392", text="pulses per 100 m")
Module = Annotated[float, QuantityKind("module", "mm", 0.2, 20, "2, 1.5", step=0.25)]
TargetDiameter = Annotated[float, QuantityKind("target diameter", "mm", 4, 3000, "98, 3.9in", step=10)]
ToothWidth = Annotated[float, QuantityKind("tooth width", "mm", 0.1, 500, "3.2, 1/8in", step=0.1)]
ToothDepth = Annotated[float, QuantityKind("tooth depth", "mm", 0.1, 200, "4.5, 3/16in", step=0.1)]
FaceWidth = Annotated[float, QuantityKind("face width", "mm", 0.2, 300, "6, 1/4in", step=0.5)]
Runout = Annotated[float, QuantityKind("runout", "mm", 0, 10, "0.15, 0.006in", step=0.05)]
Gap = Annotated[float, QuantityKind("air gap", "mm", 0, 100, "1.0, 0.04in")]
Sideways = Annotated[float, QuantityKind("sideways offset", "mm", -100, 100, "0.5, -1", step=0.1)]
Clocking = Annotated[float, QuantityKind("clocking angle", "deg", -180, 180, "90", text="°", step=5)]
Lean = Annotated[float, QuantityKind("lean", "deg", -45, 45, "3", text="°", step=0.5)]
BodyDiameter = Annotated[float, QuantityKind("body diameter", "mm", 2, 100, "12, 1/2in")]
ElementSize = Annotated[float, QuantityKind("element size", "mm", 0.05, 60, "3, 0.5")]
ElementOffset = Annotated[float, QuantityKind("element offset", "mm", 0, 30, "1")]
ElementAngle = Annotated[float, QuantityKind("angle tolerance of the element", "deg", 0, 45, "10", text="°")]
Play = Annotated[float, QuantityKind("bearing play", "mm", 0, 5, "0.05", step=0.1)]
HeatRise = Annotated[float, QuantityKind("heat rise", "K", 0, 600, "80", step=10)]
Angle = Annotated[float, QuantityKind("angle", "deg", 0, 360, "120", text="°")]
Voltage = Annotated[float, QuantityKind("voltage", "V", 0, 60, "12, 3.3")]
SupplyVoltage = Annotated[float, QuantityKind("supply", "V", 0.5, 60, "5, 12")]
Temperature = Annotated[float, QuantityKind("temperature", "degC", -60, 400, "125", text="°C")]
FluxDensity = Annotated[float, QuantityKind("operate point", "mT", 0.05, 500, "12, 0.012 T")]
Remanence = Annotated[float, QuantityKind("remanence", "mT", 20, 1600, "380, 1.2 T", step=20)]
MagnetSize = Annotated[float, QuantityKind("magnet size", "mm", 0.5, 200, "10, 3/8in")]
SpokeHoles = Annotated[int, QuantityKind("number of spokes", "", 8, 72, "36", step=4, integer=True)]
Crosses = Annotated[int, QuantityKind("number of crosses", "", 0, 5, "3", integer=True)]
FlangeDiameter = Annotated[float, QuantityKind("flange diameter", "mm", 15, 400, "45, 102")]
FlangeOffset = Annotated[float, QuantityKind("flange offset", "mm", 0, 200, "34")]
Reach = Annotated[float, QuantityKind("reach", "mm", 0, 400, "27, 1.06in")]
Spacing = Annotated[float, QuantityKind("spacing", "mm", 0.1, 1000, "16.4")]
Thickness = Annotated[float, QuantityKind("thickness", "mm", 0.2, 50, "3, 1/8in", step=0.5)]
Kerf = Annotated[float, QuantityKind("kerf", "mm", 0, 6, "0.2", step=0.05)]
Bolts = Annotated[int, QuantityKind("number of bolts", "", 0, 24, "6", integer=True)]
BoltCircle = Annotated[float, QuantityKind("bolt circle", "mm", 4, 2000, "44, 1.75in")]
Hole = Annotated[float, QuantityKind("hole", "mm", 0.5, 1000, "5.2, 1/4in", step=0.1)]
BracketSize = Annotated[float, QuantityKind("bracket size", "mm", 0, 500, "60")]
MissingTeeth = Annotated[int, QuantityKind("number of missing teeth", "", 0, 12, "1", integer=True)]
MagnetRadius = Annotated[float, QuantityKind("radius of the magnets", "mm", 2, 1500, "120, 5in", step=5)]
AcVoltage = Annotated[float, QuantityKind("voltage of the sensor", "V", 0.001, 500, "2.4, 350 mV", step=0.1)]
TestFrequency = Annotated[float, QuantityKind("frequency", "Hz", 0.1, 1_000_000, "831, 1.2 kHz", step=10)]
Resistance = Annotated[float, QuantityKind("resistance", "ohm", 1, 10_000_000, "4700, 4k7, 1 kohm", text="Ω")]
Capacitance = Annotated[float, QuantityKind("capacitance", "nF", 0.001, 1_000_000, "100, 1 uF", step=100)]
LeadCapacitance = Annotated[
    float, QuantityKind("capacitance of the lead", "pF", 0, 5000, "100", text="pF per metre", step=10)
]
LeadLength = Annotated[float, QuantityKind("length of the lead", "m", 0.05, 50, "3, 10 ft", step=0.5)]
Current = Annotated[float, QuantityKind("current", "mA", 0, 500, "7, 14")]
OffsetVoltage = Annotated[float, QuantityKind("offset", "V", -30, 30, "0, 1.2", step=0.1)]
Fuse = Annotated[float, QuantityKind("fuse", "A", 0.05, 100, "3, 500 mA")]
ShortestPulse = Annotated[float, QuantityKind("shortest pulse", "us", 0, 1_000_000, "20, 1 ms", text="µs")]
HoldOff = Annotated[float, QuantityKind("dead time", "ms", 0, 1000, "2, 500 us")]
Whole = Annotated[int, QuantityKind("whole number", "", 1, 65_535, "256", integer=True)]
MotorPulses = Annotated[float, QuantityKind("number of pulses per cable turn", "", 0.1, 10_000, "200")]
CableTurns = Annotated[
    float, QuantityKind("number of cable turns", "1/km", 10, 10_000, "621, 1000 per mile", text="turns per km")
]
Carrier = Annotated[float, QuantityKind("pulse-width frequency", "Hz", 10, 1_000_000, "1000, 20 kHz", step=100)]
ShownSpeed = Annotated[float, QuantityKind("reading", "km/h", 0, 1500, "98, 61 mph")]
SpanOfTime = Annotated[float, QuantityKind("time", "s", 0, 86_400, "10, 2 min")]
DropOut = Annotated[float, QuantityKind("drop-out", "ms", 0, 10_000, "20, 0.1 s")]
BenchNoise = Annotated[float, QuantityKind("noise", "", 0, 20, "0.3")]
BenchWindow = Annotated[float, QuantityKind("time across the scope", "ms", 0.05, 10_000, "20")]
OffsetSpeed = Annotated[float, QuantityKind("offset", "km/h", -100, 100, "2, -3 mph")]
LagTime = Annotated[float, QuantityKind("lag", "s", 0, 60, "0.3")]
FixRate = Annotated[float, QuantityKind("fix rate", "Hz", 0.1, 50, "5")]
FixNoise = Annotated[float, QuantityKind("noise of the place", "m", 0, 100, "1.5")]
SpeedNoise = Annotated[float, QuantityKind("noise of the speed", "km/h", 0, 20, "0.15")]
