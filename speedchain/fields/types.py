"""The types of the installation document's numbers: each is read by `parse_quantity` and says its limits in the
schema."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import UTC, date, datetime
from functools import partial
from typing import Annotated, Any

from pydantic import AfterValidator, BeforeValidator, GetCoreSchemaHandler, GetJsonSchemaHandler, WithJsonSchema

from speedchain.fields import quantities as q
from speedchain.fields.errors import InputError
from speedchain.fields.messages import text_of
from speedchain.fields.parser import parse_count, parse_quantity


@dataclass(frozen=True, slots=True)
class Typed:
    """Marks a number of the document as a quantity of one kind, typed by a person."""

    kind: q.QuantityKind

    def __get_pydantic_core_schema__(self, source: Any, handler: GetCoreSchemaHandler) -> Any:
        """Read it by the one parser."""
        read = parse_count if self.kind.integer else parse_quantity
        return BeforeValidator(partial(read, self.kind)).__get_pydantic_core_schema__(source, handler)

    def __get_pydantic_json_schema__(self, core_schema: Any, handler: GetJsonSchemaHandler) -> Any:
        """Number or text, with unit and limits as data and in words, so that any front can draw the field."""
        kind = self.kind
        number = "integer" if kind.integer else "number"
        description = text_of(
            "{0}; a bare number is in {1}. Text such as {2} is accepted.",
            kind.limit,
            kind.unit or "plain units",
            kind.examples,
        )
        schema = {
            "type": [number, "string"],
            "description": description,
            "minimum": kind.minimum,
            "maximum": kind.maximum,
            "x-quantity": kind.name,
            "x-unit": kind.unit,
            "x-example": kind.examples,
        }
        return WithJsonSchema(schema, mode="validation").__get_pydantic_json_schema__(core_schema, handler)


FIRST_DAY, LAST_DAY = date(1900, 1, 1), date(2199, 12, 31)


def _of_these_times(day: date) -> date:
    if not FIRST_DAY <= day <= LAST_DAY:
        raise InputError(
            "This date is too far away.",
            remedy="Enter it as 2026-05-02.",
            limit=f"{FIRST_DAY} to {LAST_DAY}",
            value=day,
        )
    return day


def _moment_of_these_times(moment: datetime) -> datetime:
    _of_these_times(moment.date())
    return moment if moment.tzinfo else moment.replace(tzinfo=UTC)


Day = Annotated[date, AfterValidator(_of_these_times)]
Moment = Annotated[datetime, AfterValidator(_moment_of_these_times)]
Diameter = Annotated[float, Typed(q.DIAMETER)]
Circumference = Annotated[float, Typed(q.CIRCUMFERENCE)]
Distance = Annotated[float, Typed(q.DISTANCE)]
Reading = Annotated[float, Typed(q.READING)]
Ratio = Annotated[float, Typed(q.RATIO)]
Speed = Annotated[float, Typed(q.SPEED)]
SpeedStep = Annotated[float, Typed(q.SPEED_STEP)]
Percent = Annotated[float, Typed(q.PERCENT)]
Count = Annotated[int, Typed(q.COUNT)]
Turns = Annotated[int, Typed(q.TURNS)]
HeightOfAxle = Annotated[float, Typed(q.AXLE_HEIGHT)]
TapedRound = Annotated[float, Typed(q.TAPED_CIRCUMFERENCE)]
PulsesPerNauticalMile = Annotated[float, Typed(q.PULSES_PER_NAUTICAL_MILE)]
PulsesPerKm = Annotated[float, Typed(q.PULSES_PER_KM)]
Correction = Annotated[float, Typed(q.CORRECTION)]
Growth = Annotated[float, Typed(q.GROWTH)]
Tolerance = Annotated[float, Typed(q.TOLERANCE)]
Pressure = Annotated[float, Typed(q.PRESSURE)]
Tread = Annotated[float, Typed(q.TREAD)]
ShaftTurns = Annotated[float, Typed(q.SHAFT_TURNS)]
WantedTurns = Annotated[float, Typed(q.WANTED_TURNS)]
Track = Annotated[float, Typed(q.TRACK)]
Radius = Annotated[float, Typed(q.RADIUS)]
DistanceStep = Annotated[float, Typed(q.DISTANCE_STEP)]
DistanceKm = Annotated[float, Typed(q.DISTANCE_KM)]
Time = Annotated[float, Typed(q.TIME)]
Gate = Annotated[float, Typed(q.GATE)]
TimeOut = Annotated[float, Typed(q.TIME_OUT)]
Tick = Annotated[float, Typed(q.TICK)]
Frequency = Annotated[float, Typed(q.FREQUENCY)]
Scale = Annotated[float, Typed(q.SCALE)]
Module = Annotated[float, Typed(q.MODULE)]
TargetDiameter = Annotated[float, Typed(q.TARGET_DIAMETER)]
ToothWidth = Annotated[float, Typed(q.TOOTH_WIDTH)]
ToothDepth = Annotated[float, Typed(q.TOOTH_DEPTH)]
FaceWidth = Annotated[float, Typed(q.FACE_WIDTH)]
Runout = Annotated[float, Typed(q.RUNOUT)]
Gap = Annotated[float, Typed(q.GAP)]
Sideways = Annotated[float, Typed(q.SIDEWAYS)]
Clocking = Annotated[float, Typed(q.CLOCKING)]
Lean = Annotated[float, Typed(q.LEAN)]
BodyDiameter = Annotated[float, Typed(q.BODY_DIAMETER)]
ElementSize = Annotated[float, Typed(q.ELEMENT)]
ElementOffset = Annotated[float, Typed(q.ELEMENT_OFFSET)]
ElementAngle = Annotated[float, Typed(q.ELEMENT_ANGLE)]
Play = Annotated[float, Typed(q.PLAY)]
HeatRise = Annotated[float, Typed(q.HEAT_RISE)]
Angle = Annotated[float, Typed(q.ANGLE)]
Voltage = Annotated[float, Typed(q.VOLTAGE)]
SupplyVoltage = Annotated[float, Typed(q.SUPPLY_VOLTAGE)]
Temperature = Annotated[float, Typed(q.TEMPERATURE)]
FluxDensity = Annotated[float, Typed(q.FLUX_DENSITY)]
Remanence = Annotated[float, Typed(q.REMANENCE)]
MagnetSize = Annotated[float, Typed(q.MAGNET_SIZE)]
FlangeDiameter = Annotated[float, Typed(q.FLANGE_DIAMETER)]
FlangeOffset = Annotated[float, Typed(q.FLANGE_OFFSET)]
Reach = Annotated[float, Typed(q.REACH)]
Spacing = Annotated[float, Typed(q.SPACING)]
Thickness = Annotated[float, Typed(q.THICKNESS)]
Kerf = Annotated[float, Typed(q.KERF)]
BoltCircle = Annotated[float, Typed(q.BOLT_CIRCLE)]
Hole = Annotated[float, Typed(q.HOLE)]
BracketSize = Annotated[float, Typed(q.BRACKET_SIZE)]
MagnetRadius = Annotated[float, Typed(q.RADIUS_OF_MAGNETS)]
SpokeHoles = Annotated[int, Typed(q.SPOKE_HOLES)]
Crosses = Annotated[int, Typed(q.CROSSES)]
Bolts = Annotated[int, Typed(q.BOLTS)]
MissingTeeth = Annotated[int, Typed(q.MISSING_TEETH)]
AcVoltage = Annotated[float, Typed(q.AC_VOLTAGE)]
TestFrequency = Annotated[float, Typed(q.TEST_FREQUENCY)]
Resistance = Annotated[float, Typed(q.RESISTANCE)]
Capacitance = Annotated[float, Typed(q.CAPACITANCE)]
LeadCapacitance = Annotated[float, Typed(q.LEAD_CAPACITANCE)]
LeadLength = Annotated[float, Typed(q.LEAD_LENGTH)]
Current = Annotated[float, Typed(q.CURRENT)]
OffsetVoltage = Annotated[float, Typed(q.OFFSET_VOLTAGE)]
Fuse = Annotated[float, Typed(q.FUSE)]
ShortestPulse = Annotated[float, Typed(q.SHORTEST_PULSE)]
HoldOff = Annotated[float, Typed(q.HOLD_OFF)]
Whole = Annotated[int, Typed(q.WHOLE)]
MotorPulses = Annotated[float, Typed(q.MOTOR_PULSES)]
CableTurns = Annotated[float, Typed(q.CABLE_TURNS)]
Carrier = Annotated[float, Typed(q.CARRIER)]
ShownSpeed = Annotated[float, Typed(q.SHOWN_SPEED)]
SpanOfTime = Annotated[float, Typed(q.SPAN_OF_TIME)]
DropOut = Annotated[float, Typed(q.DROP_OUT)]
BenchNoise = Annotated[float, Typed(q.BENCH_NOISE)]
BenchWindow = Annotated[float, Typed(q.BENCH_WINDOW)]
OffsetSpeed = Annotated[float, Typed(q.OFFSET_SPEED)]
LagTime = Annotated[float, Typed(q.LAG_TIME)]
FixRate = Annotated[float, Typed(q.FIX_RATE)]
FixNoise = Annotated[float, Typed(q.FIX_NOISE)]
SpeedNoise = Annotated[float, Typed(q.SPEED_NOISE)]
