"""What the fields of a fit hold: unit, limits, the reason for them and an example, as data."""

from __future__ import annotations

from dataclasses import dataclass


@dataclass(frozen=True, slots=True)
class QuantityKind:
    """What a field holds: its unit, its limits and why they stand where they do."""

    name: str
    unit: str
    minimum: float
    maximum: float
    reason: str
    example: str
    integer: bool = False
    words: str = ""

    @property
    def limit(self) -> str:
        """The limits as text: ``10 to 6000 mm``."""
        return f"{self.minimum:g} to {self.maximum:g} {self.unit_words}".strip()

    @property
    def unit_words(self) -> str:
        """The unit as people say it: ``pulses per km`` for 1/km."""
        return self.words or self.unit


DIAMETER = QuantityKind(
    "diameter", "mm", 10, 6000, "no wheel a sensor is fitted to is smaller or larger", "660, 26in, 0.66 m"
)
CIRCUMFERENCE = QuantityKind(
    "circumference", "mm", 30, 20000, "no wheel or paddle rolls less or more in one turn", "2105, 2.105 m"
)
DISTANCE = QuantityKind(
    "distance", "mm", 30, 500000, "a roll-out is taped: from one small wheel to half a kilometre", "6210, 6.21 m"
)
READING = QuantityKind("reading", "mm", 0.01, 500, "no tape is read closer, none so badly", "2, 1/16in")
RATIO = QuantityKind("ratio", "", 0.02, 50, "no drive gears up or down further in one go", "3.73, 41/11")
SPEED = QuantityKind("speed", "km/h", 0.5, 1000, "slower is standing, faster is flying", "100, 60 mph, 10 kn")
SPEED_STEP = QuantityKind("speed step", "km/h", 0.001, 10, "displays step in thousandths to tens", "1, 0.1, 1 mph")
PERCENT = QuantityKind("percentage", "%", 0.001, 20, "closer is not known, worse is a guess", "0.7")
COUNT = QuantityKind(
    "count", "", 1, 1000, "a target has at least one tooth, and no speed ring has more than 1000", "48", True
)
TURNS = QuantityKind("turns", "", 1, 1000, "whole turns, and at least one", "3", True)
SET_CIRCUMFERENCE = QuantityKind(
    "circumference setting", "mm", 1, 100_000, "no reader is told less or more", "2105, 2.105 m"
)
SET_DIAMETER = QuantityKind("diameter setting", "mm", 1, 30_000, "no reader is told less or more", "612, 0.612 m")
AXLE_HEIGHT = QuantityKind(
    "axle height", "mm", 5, 3000, "half of the smallest to half of the largest wheel", "305, 12in, 0.305 m"
)
TAPED_CIRCUMFERENCE = QuantityKind(
    "taped circumference", "mm", 30, 20000, "no wheel is smaller or larger round its tread", "2105, 2.105 m"
)
PULSES_PER_NAUTICAL_MILE = QuantityKind(
    "paddle constant",
    "1/nmi",
    100,
    1_000_000,
    "paddles give hundreds to a million pulses in a nautical mile",
    "20000",
    words="pulses per nautical mile",
)
CORRECTION = QuantityKind("correction", "%", -50, 50, "more than half is another part, not a correction", "2.5, -1")
GROWTH = QuantityKind("growth", "%", 0, 10, "no tyre grows by more than a tenth", "1.5")
TOLERANCE = QuantityKind("tolerance", "%", 0.01, 20, "closer is not known, wider is no parity", "1")
PRESSURE = QuantityKind("pressure", "bar", 0.1, 20, "tyres hold from a tenth to twenty bar", "2.2, 32 psi, 220 kPa")
TREAD = QuantityKind("tread depth", "mm", 0, 40, "a bald tyre has 0, none has more than 40", "6.5, 8/32in")
SHAFT_TURNS = QuantityKind(
    "number of shaft turns", "", 0.05, 50_000, "a count by hand, to a twentieth of a turn", "37.3"
)
WANTED_TURNS = QuantityKind(
    "number of cable turns", "", 10, 10_000, "gauges want hundreds of turns per km or mile", "1000, 690"
)
TRACK = QuantityKind("track", "mm", 50, 5000, "from a toy to the widest vehicle", "1450, 57in, 1.45 m")
RADIUS = QuantityKind("radius of the turn", "m", 0.5, 10_000, "tighter is on the spot, wider is straight", "6, 20 ft")
DISTANCE_KM = QuantityKind("distance", "km", 0.05, 1000, "shorter than 50 m proves nothing", "1.609, 1 mile, 500 m")
TIME = QuantityKind("time", "s", 0.5, 100_000, "a stop-watch is not read closer than half a second", "36.0")
GATE = QuantityKind(
    "gate time", "s", 0.001, 60, "readers count for a thousandth of a second to a minute", "0.5, 500 ms"
)
TIME_OUT = QuantityKind("time-out", "s", 0.01, 600, "readers wait from a hundredth of a second to ten minutes", "2")
TICK = QuantityKind(
    "timer tick", "us", 0.001, 100_000, "timers tick from a billionth to a tenth of a second", "4, 1 ms"
)
FREQUENCY = QuantityKind(
    "frequency", "Hz", 0, 1_000_000, "from standstill to a million pulses a second", "831, 1.2 kHz"
)
SCALE = QuantityKind("scale", "", 1e-9, 1e12, "the factor between the number and pulses per km", "1000")
PULSES_PER_KM = QuantityKind(
    "number of pulses per km",
    "1/km",
    1,
    10_000_000,
    "readers count from one to ten million",
    "24903",
    words="pulses per km",
)
PULSES_PER_100_M = QuantityKind(
    "number of pulses per 100 m",
    "1/hm",
    0.1,
    1_000_000,
    "readers count from a tenth to a million",
    "2392",
    words="pulses per 100 m",
)
