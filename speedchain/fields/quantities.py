"""What the fields of an installation hold: unit, limits and an example, as data. Limits: common practice."""

from __future__ import annotations

import re
from dataclasses import dataclass
from typing import NamedTuple

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
    """What a field holds: its unit, its limits and examples of what people enter."""

    name: str
    unit: str
    minimum: float
    maximum: float
    example: str
    integer: bool = False
    text: str = ""

    @property
    def examples(self) -> str:
        """What people enter, each number with its unit where some read it in another one.

        Examples
        --------
        >>> DIAMETER.examples, RATIO.examples
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


DIAMETER = QuantityKind("diameter", "mm", 10, 6000, "660, 26in, 0.66 m")
CIRCUMFERENCE = QuantityKind("circumference", "mm", 30, 20000, "2105, 2.105 m")
DISTANCE = QuantityKind("distance", "mm", 30, 500000, "6210, 6.21 m")
READING = QuantityKind("reading", "mm", 0.01, 500, "2, 1/16in")
RATIO = QuantityKind("ratio", "", 0.02, 50, "3.73, 41/11")
SPEED = QuantityKind("speed", "km/h", 0.5, 1000, "100, 60 mph, 10 kn")
SPEED_STEP = QuantityKind("speed step", "km/h", 0.001, 10, "1, 0.1, 1 mph")
PERCENT = QuantityKind("percentage", "%", 0.001, 20, "0.7")
COUNT = QuantityKind("count", "", 1, 1000, "48", True)
TURNS = QuantityKind("turns", "", 1, 1000, "3", True)
SET_CIRCUMFERENCE = QuantityKind("circumference setting", "mm", 1, 100_000, "2105, 2.105 m")
SET_DIAMETER = QuantityKind("diameter setting", "mm", 1, 30_000, "612, 0.612 m")
AXLE_HEIGHT = QuantityKind("axle height", "mm", 5, 3000, "305, 12in, 0.305 m")
TAPED_CIRCUMFERENCE = QuantityKind("taped circumference", "mm", 30, 20000, "2105, 2.105 m")
PULSES_PER_NAUTICAL_MILE = QuantityKind(
    "paddle constant",
    "1/nmi",
    100,
    1_000_000,
    "20000, 5.6 Hz/kn",
    text="pulses per nautical mile",
)
CORRECTION = QuantityKind("correction", "%", -50, 50, "2.5, -1")
GROWTH = QuantityKind("growth", "%", 0, 10, "1.5")
TOLERANCE = QuantityKind("tolerance", "%", 0.01, 20, "1")
PRESSURE = QuantityKind("pressure", "bar", 0.1, 20, "2.2, 32 psi, 220 kPa")
TREAD = QuantityKind("tread depth", "mm", 0, 40, "6.5, 8/32in")
SHAFT_TURNS = QuantityKind("number of shaft turns", "", 0.05, 50_000, "37.3")
WANTED_TURNS = QuantityKind("number of cable turns", "", 10, 10_000, "1000, 690")
TRACK = QuantityKind("track", "mm", 50, 5000, "1450, 57in, 1.45 m")
RADIUS = QuantityKind("radius of the turn", "m", 0.5, 10_000, "6, 20 ft")
DISTANCE_STEP = QuantityKind("distance step", "km", 0.001, 1, "0.1, 0.01, 10 m")
DISTANCE_KM = QuantityKind("distance", "km", 0.05, 1000, "1.609, 1 mile, 500 m")
TIME = QuantityKind("time", "s", 0.5, 100_000, "36.0")
GATE = QuantityKind("gate time", "s", 0.001, 60, "0.5, 500 ms")
TIME_OUT = QuantityKind("time-out", "s", 0.01, 600, "2")
TICK = QuantityKind("timer tick", "us", 0.001, 100_000, "4, 1 ms")
FREQUENCY = QuantityKind("frequency", "Hz", 0, 1_000_000, "831, 1.2 kHz")
SCALE = QuantityKind("scale", "", 1e-9, 1e12, "1000")
PULSES_PER_KM = QuantityKind(
    "number of pulses per km",
    "1/km",
    1,
    10_000_000,
    "24903, 40000 per mile",
    text="pulses per km",
)
PULSES_PER_100_M = QuantityKind(
    "number of pulses per 100 m",
    "1/hm",
    0.1,
    1_000_000,
    "2392",
    text="pulses per 100 m",
)
MODULE = QuantityKind("module", "mm", 0.2, 20, "2, 1.5")
TARGET_DIAMETER = QuantityKind("target diameter", "mm", 4, 3000, "98, 3.9in")
TOOTH_WIDTH = QuantityKind("tooth width", "mm", 0.1, 500, "3.2, 1/8in")
TOOTH_DEPTH = QuantityKind("tooth depth", "mm", 0.1, 200, "4.5, 3/16in")
FACE_WIDTH = QuantityKind("face width", "mm", 0.2, 300, "6, 1/4in")
RUNOUT = QuantityKind("runout", "mm", 0, 10, "0.15, 0.006in")
GAP = QuantityKind("air gap", "mm", 0, 100, "1.0, 0.04in")
SIDEWAYS = QuantityKind("sideways offset", "mm", -100, 100, "0.5, -1")
CLOCKING = QuantityKind("clocking angle", "deg", -180, 180, "90", text="°")
LEAN = QuantityKind("lean", "deg", -45, 45, "3", text="°")
BODY_DIAMETER = QuantityKind("body diameter", "mm", 2, 100, "12, 1/2in")
ELEMENT = QuantityKind("element size", "mm", 0.05, 60, "3, 0.5")
ELEMENT_OFFSET = QuantityKind("element offset", "mm", 0, 30, "1")
ELEMENT_ANGLE = QuantityKind("angle tolerance of the element", "deg", 0, 45, "10", text="°")
PLAY = QuantityKind("bearing play", "mm", 0, 5, "0.05")
HEAT_RISE = QuantityKind("heat rise", "K", 0, 600, "80")
ANGLE = QuantityKind("angle", "deg", 0, 360, "120", text="°")
VOLTAGE = QuantityKind("voltage", "V", 0, 60, "12, 3.3")
SUPPLY_VOLTAGE = QuantityKind("supply", "V", 0.5, 60, "5, 12")
TEMPERATURE = QuantityKind("temperature", "degC", -60, 400, "125", text="°C")
FLUX_DENSITY = QuantityKind("operate point", "mT", 0.05, 500, "12, 0.012 T")
REMANENCE = QuantityKind("remanence", "mT", 20, 1600, "380, 1.2 T")
MAGNET_SIZE = QuantityKind("magnet size", "mm", 0.5, 200, "10, 3/8in")
SPOKE_HOLES = QuantityKind("number of spokes", "", 8, 72, "36", True)
CROSSES = QuantityKind("number of crosses", "", 0, 5, "3", True)
FLANGE_DIAMETER = QuantityKind("flange diameter", "mm", 15, 400, "45, 102")
FLANGE_OFFSET = QuantityKind("flange offset", "mm", 0, 200, "34")
REACH = QuantityKind("reach", "mm", 0, 400, "27, 1.06in")
SPACING = QuantityKind("spacing", "mm", 0.1, 1000, "16.4")
THICKNESS = QuantityKind("thickness", "mm", 0.2, 50, "3, 1/8in")
KERF = QuantityKind("kerf", "mm", 0, 6, "0.2")
BOLTS = QuantityKind("number of bolts", "", 0, 24, "6", True)
BOLT_CIRCLE = QuantityKind("bolt circle", "mm", 4, 2000, "44, 1.75in")
HOLE = QuantityKind("hole", "mm", 0.5, 1000, "5.2, 1/4in")
BRACKET_SIZE = QuantityKind("bracket size", "mm", 0, 500, "60")
MISSING_TEETH = QuantityKind("number of missing teeth", "", 0, 12, "1", True)
RADIUS_OF_MAGNETS = QuantityKind("radius of the magnets", "mm", 2, 1500, "120, 5in")
AC_VOLTAGE = QuantityKind("voltage of the sensor", "V", 0.001, 500, "2.4, 350 mV")
TEST_FREQUENCY = QuantityKind("frequency", "Hz", 0.1, 1_000_000, "831, 1.2 kHz")
RESISTANCE = QuantityKind("resistance", "ohm", 1, 10_000_000, "4700, 4k7, 1 kohm", text="Ω")
CAPACITANCE = QuantityKind("capacitance", "nF", 0.001, 1_000_000, "100, 1 uF")
LEAD_CAPACITANCE = QuantityKind("capacitance of the lead", "pF", 0, 5000, "100", text="pF per metre")
LEAD_LENGTH = QuantityKind("length of the lead", "m", 0.05, 50, "3, 10 ft")
CURRENT = QuantityKind("current", "mA", 0, 500, "7, 14")
OFFSET_VOLTAGE = QuantityKind("offset", "V", -30, 30, "0, 1.2")
FUSE = QuantityKind("fuse", "A", 0.05, 100, "3, 500 mA")
SHORTEST_PULSE = QuantityKind("shortest pulse", "us", 0, 1_000_000, "20, 1 ms", text="µs")
HOLD_OFF = QuantityKind("dead time", "ms", 0, 1000, "2, 500 us")
WHOLE = QuantityKind("whole number", "", 1, 65_535, "256", True)
MOTOR_PULSES = QuantityKind("number of pulses per cable turn", "", 0.1, 10_000, "200")
CABLE_TURNS = QuantityKind(
    "number of cable turns",
    "1/km",
    10,
    10_000,
    "621, 1000 per mile",
    text="turns per km",
)
CARRIER = QuantityKind("pulse-width frequency", "Hz", 10, 1_000_000, "1000, 20 kHz")
SHOWN_SPEED = QuantityKind("reading", "km/h", 0, 1500, "98, 61 mph")
SPAN_OF_TIME = QuantityKind("time", "s", 0, 86_400, "10, 2 min")
DROP_OUT = QuantityKind("drop-out", "ms", 0, 10_000, "20, 0.1 s")
BENCH_NOISE = QuantityKind("noise", "", 0, 20, "0.3")
BENCH_WINDOW = QuantityKind("time across the scope", "ms", 0.05, 10_000, "20")
OFFSET_SPEED = QuantityKind("offset", "km/h", -100, 100, "2, -3 mph")
LAG_TIME = QuantityKind("lag", "s", 0, 60, "0.3")
FIX_RATE = QuantityKind("fix rate", "Hz", 0.1, 50, "5")
FIX_NOISE = QuantityKind("noise of the place", "m", 0, 100, "1.5")
SPEED_NOISE = QuantityKind("noise of the speed", "km/h", 0, 20, "0.15")
