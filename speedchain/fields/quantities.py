"""What the fields of an installation hold: unit, limits, the reason for them and an example, as data."""

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
    "circumference setting", "mm", 1, 100_000, "no reader takes less or more", "2105, 2.105 m"
)
SET_DIAMETER = QuantityKind("diameter setting", "mm", 1, 30_000, "no reader takes less or more", "612, 0.612 m")
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
    "24903, 40000 per mile",
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
MODULE = QuantityKind("module", "mm", 0.2, 20, "finer teeth are not cut, coarser ones are no speed ring", "2, 1.5")
TARGET_DIAMETER = QuantityKind(
    "target diameter", "mm", 4, 3000, "from the rotor of a small motor to the largest wheel", "98, 3.9in"
)
TOOTH_WIDTH = QuantityKind("tooth width", "mm", 0.1, 500, "narrower is no tooth, wider no ring", "3.2, 1/8in")
TOOTH_DEPTH = QuantityKind("tooth depth", "mm", 0.1, 200, "shallower is a scratch, deeper a spoke", "4.5, 3/16in")
FACE_WIDTH = QuantityKind("face width", "mm", 0.2, 300, "narrower is foil, wider is no ring", "6, 1/4in")
RUNOUT = QuantityKind("runout", "mm", 0, 10, "a true part has 0; beyond 10 mm nothing passes a sensor", "0.15, 0.006in")
GAP = QuantityKind("air gap", "mm", 0, 100, "0 touches; further off no magnet is seen", "1.0, 0.04in")
SIDEWAYS = QuantityKind("sideways offset", "mm", -100, 100, "further off the sensor sits at another part", "0.5, -1")
CLOCKING = QuantityKind("clocking angle", "deg", -180, 180, "half a turn either way is all there is", "90", words="°")
LEAN = QuantityKind("lean", "deg", -45, 45, "leaning further a sensor points elsewhere", "3", words="°")
BODY_DIAMETER = QuantityKind("body diameter", "mm", 2, 100, "sensors are 2 to 100 mm across", "12, 1/2in")
ELEMENT = QuantityKind("element size", "mm", 0.05, 60, "elements are from 0.05 to 60 mm long", "3, 0.5")
ELEMENT_OFFSET = QuantityKind("element offset", "mm", 0, 30, "the element is inside its body", "1")
CROOK = QuantityKind("crookedness", "deg", 0, 45, "more is a quarter turn, not a fault of potting", "10", words="°")
PLAY = QuantityKind("bearing play", "mm", 0, 5, "more is a loose wheel", "0.05")
HEAT_RISE = QuantityKind("heat rise", "K", 0, 600, "from none to a glowing disc", "80")
ANGLE = QuantityKind("angle", "deg", 0, 360, "a turn has 360°", "120", words="°")
VOLTAGE = QuantityKind("voltage", "V", 0, 60, "from none to the most a vehicle's loom should carry", "12, 3.3")
SUPPLY_VOLTAGE = QuantityKind("supply", "V", 0.5, 60, "with less nothing works, more no loom should carry", "5, 12")
TEMPERATURE = QuantityKind("temperature", "degC", -60, 400, "from arctic to a hot brake", "125", words="°C")
FLUX_DENSITY = QuantityKind("operate point", "mT", 0.05, 500, "switches work from 0.05 to 500 mT", "12, 0.012 T")
REMANENCE = QuantityKind("remanence", "mT", 20, 1600, "from rubber magnets to the strongest there are", "380, 1.2 T")
MAGNET_SIZE = QuantityKind("magnet size", "mm", 0.5, 200, "smaller gets lost, larger is dangerous", "10, 3/8in")
SPOKE_HOLES = QuantityKind("number of spokes", "", 8, 72, "wheels are laced with 8 to 72 spokes", "36", True)
CROSSES = QuantityKind("number of crosses", "", 0, 5, "0 is radial; more than 5 is not laced", "3", True)
FLANGE_DIAMETER = QuantityKind("flange diameter", "mm", 15, 400, "hubs and hub motors are 15 to 400 mm", "45, 102")
FLANGE_OFFSET = QuantityKind("flange offset", "mm", 0, 200, "from the middle of the wheel to the flange", "34")
REACH = QuantityKind("reach", "mm", 0, 400, "from the mounting face to the tip", "27, 1.06in")
SPACING = QuantityKind("spacing", "mm", 0.1, 1000, "two sensors sit 0.1 mm to 1 m apart", "16.4")
THICKNESS = QuantityKind("thickness", "mm", 0.2, 50, "from foil to a plate no cutter takes", "3, 1/8in")
KERF = QuantityKind("kerf", "mm", 0, 6, "cuts are up to 6 mm wide", "0.2")
BOLTS = QuantityKind("number of bolts", "", 0, 24, "rings have up to 24 bolts", "6", True)
BOLT_CIRCLE = QuantityKind("bolt circle", "mm", 4, 2000, "inside of any ring", "44, 1.75in")
HOLE = QuantityKind("hole", "mm", 0.5, 1000, "from a pin to a large hub", "5.2, 1/4in")
BRACKET_SIZE = QuantityKind("bracket size", "mm", 0, 500, "a longer bracket whips", "60")
MISSING_TEETH = QuantityKind("number of missing teeth", "", 0, 12, "a crank ring misses one or two", "1", True)
RADIUS_OF_MAGNETS = QuantityKind("radius of the magnets", "mm", 2, 1500, "inside of any wheel", "120, 5in")
AC_VOLTAGE = QuantityKind(
    "voltage of the sensor", "V", 0.001, 500, "a coil gives a millivolt to hundreds of volts", "2.4, 350 mV"
)
TEST_FREQUENCY = QuantityKind(
    "frequency", "Hz", 0.1, 1_000_000, "slower is standing, faster no sensor follows", "831, 1.2 kHz"
)
RESISTANCE = QuantityKind(
    "resistance", "ohm", 1, 10_000_000, "from a load resistor to a pull-up nobody needs", "4700, 4k7, 1 kohm", words="Ω"
)
CAPACITANCE = QuantityKind("capacitance", "nF", 0.001, 1_000_000, "from a picofarad to a thousand µF", "100, 1 uF")
LEAD_CAPACITANCE = QuantityKind(
    "capacitance of the lead", "pF", 0, 5000, "leads have some 50 to 300 pF in a metre", "100", words="pF per metre"
)
LEAD_LENGTH = QuantityKind("length of the lead", "m", 0.05, 50, "from a pigtail to the length of a boat", "3, 10 ft")
CURRENT = QuantityKind("current", "mA", 0, 500, "sensors draw up to half an ampere", "7, 14")
OFFSET_VOLTAGE = QuantityKind("offset", "V", -30, 30, "an offset is smaller than the supply", "0, 1.2")
FUSE = QuantityKind("fuse", "A", 0.05, 100, "sensor feeds are fused with a few ampere", "3, 500 mA")
SHORTEST_PULSE = QuantityKind(
    "shortest pulse", "us", 0, 1_000_000, "filters pass pulses of nothing to a second", "20, 1 ms", words="µs"
)
HOLD_OFF = QuantityKind("dead time", "ms", 0, 1000, "no debouncing lasts longer than a second", "2, 500 us")
WHOLE = QuantityKind("whole number", "", 1, 65_535, "converters count with whole numbers from 1 up", "256", True)
MOTOR_PULSES = QuantityKind(
    "number of pulses per cable turn", "", 0.1, 10_000, "a motor takes a pulse or thousands for one turn", "200"
)
CABLE_TURNS = QuantityKind(
    "number of cable turns",
    "1/km",
    10,
    10_000,
    "gauges want hundreds of turns a km",
    "621, 1000 per mile",
    words="turns per km",
)
CARRIER = QuantityKind(
    "pulse-width frequency", "Hz", 10, 1_000_000, "slower ripples, faster is not made", "1000, 20 kHz"
)
SHOWN_SPEED = QuantityKind("reading", "km/h", 0, 1500, "a needle shows nothing less and nothing more", "98, 61 mph")
SPAN_OF_TIME = QuantityKind("time", "s", 0, 86_400, "nothing on the bench lasts longer than a day", "10, 2 min")
DROP_OUT = QuantityKind("drop-out", "ms", 0, 10_000, "a loose plug opens for a moment", "20, 0.1 s")
BENCH_NOISE = QuantityKind("noise", "", 0, 20, "more than twenty times the signal is no signal", "0.3")
BENCH_WINDOW = QuantityKind("time across the scope", "ms", 0.05, 10_000, "shorter shows nothing, longer is a run", "20")
OFFSET_SPEED = QuantityKind("offset", "km/h", -100, 100, "a needle further off has fallen off", "2, -3 mph")
LAG_TIME = QuantityKind("lag", "s", 0, 60, "no needle follows slower than a minute", "0.3")
FIX_RATE = QuantityKind("fix rate", "Hz", 0.1, 50, "receivers fix every ten seconds to fifty times a second", "5")
FIX_NOISE = QuantityKind("noise of the place", "m", 0, 100, "worse is no fix", "1.5")
SPEED_NOISE = QuantityKind("noise of the speed", "km/h", 0, 20, "worse is no fix", "0.15")
