"""Every finding of the core: its code, stage, severity, text and parameters. Rules return findings made here."""

from __future__ import annotations

import re
from enum import StrEnum
from string import Formatter
from typing import Literal

from speedchain.fields import Formula, StageName, Words, text_of
from speedchain.results import result

Severity = Literal["blocking", "warning", "note"]
Parameter = int | float | str

STAND_CAUTION = (
    "Jack stands on firm ground, never under a vehicle on a jack alone; chock the wheels that stay down. "
    "Keep hands, sleeves and leads clear of everything that turns."
)
_QUALIFIED = "Leave brake-control work to qualified hands."
_LOCAL = "Check your local rules."
_DATA: tuple[Severity, ...] = ("blocking", "warning")


class FindingCode(StrEnum):
    """The registry: each code with its severities (the first is the usual one), stage, message and remedy.

    Texts follow "what is wrong, with the numbers" and "what to do". Their parameters are named with units; those with a
    number format are numbers, the others text.
    """

    severities: tuple[Severity, ...]
    stage: StageName
    message: str
    remedy: str

    def __new__(
        cls, code: str, severities: tuple[Severity, ...], stage: StageName, message: str, remedy: str
    ) -> FindingCode:
        member = str.__new__(cls, code)
        member._value_ = code
        member.severities, member.stage, member.message, member.remedy = severities, stage, message, remedy
        return member

    # wheel
    MARKING = (
        "wheel.marking", ("note",), "wheel",
        "{caution}",
        "Compare with the tyre's sidewall.",
    )  # fmt: skip
    LIKE_A_DIAMETER = (
        "wheel.like_a_diameter", ("warning",), "wheel",
        "A circumference of {circumference_mm:.0f} mm is a wheel of {diameter_mm:.0f} mm: it looks like a diameter.",
        "If it is one, multiply it by 3.14, or use “Tape across, standing”.",
    )  # fmt: skip
    TREAD_ABOVE_NEW = (
        "wheel.tread_above_new", ("warning",), "wheel",
        "Tread depth {now_mm:g} mm is more than the {new_mm:g} mm of the new tyre: the wheel is then larger than new.",
        "Measure again, in a main groove. If it is right, enter the tread depth of the new tyre.",
    )  # fmt: skip
    PADDLE_RUN = (
        "wheel.paddle_run", ("warning",), "wheel",
        "One turn of the paddle would be {run_m:.3g} m of water; paddle wheels make 0.1 to 0.8 m.",
        "Check the pulses per nautical mile, and the number of magnets.",
    )  # fmt: skip
    METHODS_DISAGREE = (
        "wheel.methods_disagree", ("warning",), "wheel",
        "{first} {first_mm:.0f} mm is {difference_pct:+.1f} % from {second} {second_mm:.0f} mm; their uncertainties "
        "allow "
        "± {allowed_pct:.1f} %. {cause}",
        "{remedy}",
    )  # fmt: skip
    RUNS_SCATTER = (
        "wheel.runs_scatter", ("warning",), "wheel",
        "Roll-out runs scatter by {scatter_mm:.1f} mm per turn; marks and tape explain {expected_mm:.1f} mm.",
        "Check for a miscounted turn, a curved path or a tyre losing air. Repeat the roll-out.",
    )  # fmt: skip
    OBSERVED_OTHERWISE = (
        "wheel.observed_otherwise", ("warning",), "wheel",
        "Observed {observed_per_km:.6g} pulses per km; the parts as entered give {parts_per_km:.6g} "
        "({difference_pct:+.1f} %), more than their uncertainties allow. What explains it best: {explained_by}.",
        "Check that one first, then the setting and the direction at the comparison. What is observed of the whole "
        "chain "
        "counts where it is surer.",
    )  # fmt: skip
    TURNS_OTHERWISE = (
        "target.turns_otherwise", ("warning",), "target",
        "Turns counted by hand give {counted:.4g} pulses per turn of the wheel; drive and target as entered give "
        "{entered:.4g} ({difference_pct:+.1f} %), more than their uncertainties allow.",
        "Count the target again with the first one marked, and read the ratio again. If one wheel was held, enter it "
        "so.",
    )  # fmt: skip
    OBSERVED_BEFORE = (
        "wheel.observed_before", ("note",), "wheel",
        "{count:d} of {total:d} observations do not count any more: {reason}.",
        "Observe again, or confirm under Readout that they still hold.",
    )  # fmt: skip
    # drive
    DRIVEN_WHEEL = (
        "drive.driven_wheel", ("warning",), "drive",
        "A driven wheel reads 1 to 3 % high while cruising, and far more when it spins.",
        "Sense a wheel that is not driven if you need the true speed of the vehicle.",
    )  # fmt: skip
    ONE_WHEEL_ON_STAND = (
        "drive.one_wheel_on_stand", ("note",), "drive",
        "On a stand with one wheel held, the free wheel at {speed_kmh:g} km/h turns the shaft at half speed: the "
        "display "
        "shows half, {half_kmh:g} km/h and its own error.",
        f"Let both wheels turn together, or expect half. {STAND_CAUTION}",
    )  # fmt: skip
    RANGE = (
        "drive.range", ("warning",), "drive",
        "The target sits before the transfer box: in {other_range} range the display reads {factor:.2f} times as much.",
        "Sense the axle side, or enter the setting for the range you drive in.",
    )  # fmt: skip
    FREEWHEEL = (
        "drive.freewheel", ("warning",), "drive",
        "The rotor of a geared hub motor stops while the wheel coasts: the display then shows 0.",
        "Sense the wheel itself if the speed while coasting matters.",
    )  # fmt: skip
    DRIVEN_GEAR = (
        "drive.driven_gear", ("warning",), "drive",
        "The gauge is {used_error_pct:+.1f} % off the true speed with {used_teeth:d} teeth, {best_error_pct:+.1f} % "
        "with "
        "{best_teeth:d} teeth.",
        "Use the {best_teeth:d}-tooth driven gear. Check first that it meshes in this housing.",
    )  # fmt: skip
    # target
    BRAKE_CONTROL_COUNT = (
        "target.brake_control_count", ("warning",), "target",
        "{count:d} teeth: common brake-control units need {min_count:d} to {max_count:d} per turn, equal at every "
        "wheel.",
        f"Check what the unit accepts before you fit it. {_QUALIFIED}",
    )  # fmt: skip
    NOT_FERROUS = (
        "target.not_ferrous", ("blocking",), "target",
        "A target of {material} is not magnetic: the sensor cannot detect the teeth.",
        "Use steel, or put magnets on it. Test with a magnet: it must stick.",
    )  # fmt: skip
    MISSING_TOOTH = (
        "target.missing_tooth", ("warning",), "target",
        "{places:d}−{missing:d} ring, {teeth:d} teeth on {places:d} positions: once per turn, a reader that times "
        "single pulses drops to "
        "{dip_pct:.0f} % of the speed.",
        "Use an even ring for speed, not a crank trigger ring; or average over whole turns.",
    )  # fmt: skip
    SHALLOW = (
        "target.shallow", ("warning",), "target",
        "Teeth {depth_mm:.2g} mm deep at {pitch_mm:.3g} mm pitch give {share_pct:.0f} % of the signal of deep teeth.",
        "Cut them {deep_mm:.2g} mm deep or more, or reduce the air gap.",
    )  # fmt: skip
    TOO_FINE = (
        "target.too_fine", ("warning",), "target",
        "Tooth pitch {pitch_mm:.2g} mm is small for this sensor: it is rated {rated_gap_mm:g} mm air gap at "
        "{rated_pitch_mm:g} mm pitch.",
        "Use fewer teeth or a larger ring: the smaller the pitch, the smaller the air gap must be.",
    )  # fmt: skip
    BOLT_HEADS = (
        "target.bolt_heads", ("note",), "target",
        "Bolt heads are seldom evenly spaced or equally high: single pulses differ, and a low head can be missed.",
        "Set the gap at the highest head and turn the wheel by hand: every head must give one pulse. Average over "
        "whole turns.",
    )  # fmt: skip
    UNEVEN = (
        "target.uneven", ("warning",), "target",
        "The magnets are not evenly spaced: a reader that times single pulses swings from {low_pct:+.1f} to "
        "{high_pct:+.1f} %.",
        "Choose a better set in the spoke planner, average over whole turns, or use fewer magnets.",
    )  # fmt: skip
    # sensor
    DYNAMO = (
        "sensor.dynamo", ("note",), "sensor",
        "A coil that magnets pass is a dynamo: its voltage rises in proportion to the speed, and nothing else tells "
        "how high.",
        "Spin the wheel, measure peak to peak at a known frequency, and enter both under Signal.",
    )  # fmt: skip
    OPTICAL_DIRT = (
        "sensor.optical_dirt", ("warning",), "sensor",
        "An optical sensor at a wheel meets dust, spray and sunlight: it goes blind, or counts what is not there.",
        "Shield it and clean it often, or use a Hall sensor, which dirt does not reach.",
    )  # fmt: skip
    BLIND = (
        "sensor.blind", ("blocking",), "sensor",
        "A {sensor} sensor cannot detect this target: {target}.",
        "Use one of: {able}; or change the target.",
    )  # fmt: skip
    SENSOR_TOO_FAST = (
        "sensor.too_fast", _DATA, "sensor",
        "Target frequency {top_hz:.0f} Hz at {max_speed_kmh:g} km/h is above the sensor's max. frequency {max_hz:g} Hz "
        "({source}).",
        "Use fewer teeth or magnets, or a sensor with a higher max. frequency.",
    )  # fmt: skip
    SENSOR_SUPPLY = (
        "sensor.supply", _DATA, "sensor",
        "Supply {supply_v:g} V is outside the sensor's {min_v:g} to {max_v:g} V ({source}).",
        "Do not connect it. Use a regulated supply of the right voltage, or another sensor; fuse it at the battery.",
    )  # fmt: skip
    TOO_HOT = (
        "sensor.too_hot", ("warning",), "sensor",
        "Up to {ambient_c:g} °C at the sensor; its max. operating temperature is {max_c:g} °C ({source}).",
        "Move it away from brake disc and exhaust, shield it, or use a sensor rated higher.",
    )  # fmt: skip
    # placement
    BRACKET = (
        "placement.bracket", ("note",), "sensor",
        "A bracket {reach_mm:g} mm long of {thickness_mm:g} mm plate vibrates, and the air gap changes with it.",
        "Use thicker plate, a shorter reach, or a folded edge.",
    )  # fmt: skip
    POLE = (
        "placement.pole", ("blocking",), "sensor",
        "A unipolar switch does not respond to a north pole.",
        "Turn the magnet over: its south pole must face the marked side of the sensor.",
    )  # fmt: skip
    POLE_UNKNOWN = (
        "placement.pole_unknown", ("note",), "sensor",
        "This switch responds to one pole only; the pole that faces it is not known.",
        "Before gluing, pass the magnet by the sensor both ways round. Then enter the pole under Target.",
    )  # fmt: skip
    DOUBLE = (
        "placement.double", ("blocking",), "sensor",
        "The switch closes {closures:d} times per magnet: both lobes of the field work it.",
        "Move the reed so that only one end passes the magnet, or turn it across the direction of travel.",
    )  # fmt: skip
    REED_END = (
        "placement.reed_end", ("blocking",), "sensor",
        "A reed closes when one of its ends passes the magnet; with its middle over the path it stays open.",
        "Shift it by about {shift_mm:.2g} mm along its length, so that one end passes the middle of the magnet.",
    )  # fmt: skip
    NO_WINDOW = (
        "placement.no_window", ("blocking",), "sensor",
        "No air gap works: below {lowest_mm:.2f} mm it can touch, above {highest_mm:.2f} mm the signal is too weak.",
        "Reduce the runout, use fewer and coarser teeth, or a sensor rated for this pitch.",
    )  # fmt: skip
    NO_WINDOW_OFF_TARGET = (
        "placement.no_window_off_target", ("blocking",), "sensor",
        "No air gap works: the sensing element is not over the teeth, or its clocking angle is wrong.",
        "Centre the element over the teeth and check the clocking angle.",
    )  # fmt: skip
    NO_WINDOW_MAGNET = (
        "placement.no_window_magnet", ("blocking",), "sensor",
        "No air gap works: below {lowest_mm:.2f} mm it can touch, above {highest_mm:.2f} mm the field is too weak.",
        "Use a stronger magnet, or centre the sensor on its path.",
    )  # fmt: skip
    TOUCHES = (
        "placement.touches", ("blocking",), "sensor",
        "Air gap {air_gap_mm:.2f} mm can close: runout, play and heat take {movement_mm:.2f} mm, and {least_mm:g} mm "
        "must "
        "remain.",
        "Set the gap to {lowest_mm:.2f} to {highest_mm:.2f} mm. Turn the wheel one full turn by hand.",
    )  # fmt: skip
    TOO_WEAK = (
        "placement.too_weak", ("blocking",), "sensor",
        "Signal too weak: {weakest_pct:.0f} % of the switching level at {air_gap_mm:.2f} mm air gap.",
        "Set the gap to {lowest_mm:.2f} to {highest_mm:.2f} mm. {beyond}",
    )  # fmt: skip
    MAKER_GAP = (
        "placement.maker_gap", ("blocking",), "sensor",
        "Air gap {air_gap_mm:.2f} mm: the sensor's maker permits {permitted}.",
        "Set the gap within the maker's range, or enter the range that the maker states for this target.",
    )  # fmt: skip
    MAKER_DISAGREES = (
        "placement.maker_disagrees", ("blocking", "warning"), "sensor",
        "The sensor's maker permits {permitted}; by the calculation it works, and cannot touch, at {calculated}.",
        "Keep to the maker's range as far as nothing can touch, and do the spin test there; check the data of sensor "
        "and target.",
    )  # fmt: skip
    BARELY = (
        "placement.barely", ("note",), "sensor",
        "Signal margin {margin:.2f} × the switching level at the furthest point of a turn: dirt or a knock can lose "
        "it.",
        "Reduce the gap, or centre the sensing element on the target.",
    )  # fmt: skip
    CHANNELS_TOGETHER = (
        "placement.channels_together", ("blocking",), "sensor",
        "Both channels switch {relation}, {phase_deg:.0f}° apart: the direction is unknown.",
        "Set the two channels {best_mm:.2f} mm apart.",
    )  # fmt: skip
    CHANNELS_CLOSE = (
        "placement.channels_close", ("warning",), "sensor",
        "The second channel is {error_deg:+.0f}° from a quarter of the pitch: little margin to tell the direction.",
        "Set the two channels {best_mm:.2f} mm apart.",
    )  # fmt: skip
    CLOCKED_WRONG = (
        "placement.clocked_wrong", ("blocking",), "sensor",
        "A differential sensor at a clocking angle of {angle_deg:.0f}° has the same field at both elements: no output.",
        "Set the clocking angle to 0° (strip along the teeth). A quarter turn loses the signal.",
    )  # fmt: skip
    # signal
    RATIO = ("signal.ratio", ("blocking",), "signal", "{problem}", "{remedy}")
    COMPARATOR = ("signal.comparator", ("blocking",), "signal", "{problem}", "{remedy}")
    NO_PULL_UP = (
        "signal.no_pull_up", ("blocking",), "signal",
        "No pull-up resistor: this output only pulls the signal low.",
        "Fit a pull-up from the signal to the reader's supply: {resistance}. More lets noise in and does not keep a "
        "contact "
        "clean.",
    )  # fmt: skip
    NO_LOAD = (
        "signal.no_load", ("blocking",), "signal",
        "A two-wire sensor gives a current; without a load resistor there is no voltage.",
        "Fit about 100 Ω from its second wire to ground: 7 and 14 mA then give 0.7 and 1.4 V.",
    )  # fmt: skip
    LOAD_TOO_LARGE = (
        "signal.load_too_large", ("blocking",), "signal",
        "At {high_ma:g} mA the load resistor of {load_ohm:g} Ω leaves {sensor_v:.3g} V for the sensor; it needs "
        "{min_v:g} V.",
        "Use a load resistor of max. {largest_ohm:g} Ω, or a higher supply within the sensor's range.",
    )  # fmt: skip
    MAYBE_TWO_WIRE = (
        "signal.maybe_two_wire", ("note",), "signal",
        "A measured low level of {low_v:g} V is high for an open collector, which pulls below 1 V.",
        "Check the sensor: with two wires only, it may be a two-wire current sensor. Check the ground connection too.",
    )  # fmt: skip
    SLOW_RISE = (
        "signal.slow_rise", ("warning",), "signal",
        "Rise time {rise_us:.3g} µs with this lead and pull-up; a tenth of the shortest period is {tenth_us:.3g} µs.",
        "Use a pull-up of max. {largest_ohm:g} Ω, or a shorter lead.",
    )  # fmt: skip
    NO_FUSE = (
        "signal.no_fuse", ("warning",), "signal",
        "Permanent battery feed, and no fuse is entered.",
        "Fit a fuse at the battery, rated for the wire: a chafed feed without a fuse can burn.",
    )  # fmt: skip
    IGNITION = (
        "signal.ignition", ("warning",), "signal",
        "The lead runs along ignition wires and is not twisted and shielded.",
        "Move it away. Otherwise twist the pair and shield it, with the shield grounded at the reader's end only.",
    )  # fmt: skip
    SHIELD = (
        "signal.shield", ("note",), "signal",
        "A shield grounded at both ends carries current and adds hum.",
        "Ground it at the reader's end only.",
    )  # fmt: skip
    SHARED_LOADED = (
        "signal.shared_loaded", ("blocking",), "signal",
        "The vehicle's own brake unit reads this sensor, and {load} loads it: the unit may miss pulses or report a "
        "fault.",
        "Take the signal through a buffer, a comparator with an input of {buffer_ohm:g} Ω and more, without a pull-up "
        "or load "
        "of your own; or fit a sensor of its own.",
    )  # fmt: skip
    VR_SLOW = (
        "signal.vr_slow", _DATA, "signal",
        "Below {min_kmh:.3g} km/h the coil gives less than {arming_v:g} V peak, which {reader} needs; required from "
        "{required_kmh:g} km/h.",
        "Reduce the air gap, use more teeth, or use a Hall sensor, which works down to standstill.",
    )  # fmt: skip
    OVER_DRIVEN = (
        "signal.over_driven", _DATA, "signal",
        "At {max_speed_kmh:g} km/h the coil gives {top_vpp:.3g} V peak to peak; max. input {max_vpp:g} V, reached at "
        "{from_kmh:.0f} km/h.",
        "Fit an input clamp before you drive that fast, increase the gap, or use a Hall sensor. Over-voltage destroys "
        "the "
        "conditioner.",
    )  # fmt: skip
    LOW_LEVEL = (
        "signal.low_level", ("blocking",), "signal",
        "{readout}: signal low {low_v:.2f} V is above its max. low level {max_low_v:g} V.",
        "Use a comparator with its threshold between the levels, or a smaller load resistor.",
    )  # fmt: skip
    HIGH_LEVEL = (
        "signal.high_level", ("blocking",), "signal",
        "{readout}: signal high {high_v:.2f} V is below its min. high level {min_high_v:g} V.",
        "Use a comparator, a larger load resistor, or a pull-up to the reader's supply.",
    )  # fmt: skip
    OVER_VOLTAGE = (
        "signal.over_voltage", ("blocking",), "signal",
        "{readout}: signal high {high_v:.3g} V is above its max. input voltage {max_v:g} V.",
        "Before you connect it, pull up to the reader's own supply, or fit a divider or level shifter.",
    )  # fmt: skip
    TOO_FAST = (
        "signal.too_fast", ("blocking",), "signal",
        "{part}: {top_hz:.0f} Hz at {max_speed_kmh:g} km/h is above its max. frequency {max_hz:.4g} Hz.",
        "Use fewer teeth or magnets, divide the pulses, or shorten its filter and dead time.",
    )  # fmt: skip
    SHORT_PULSE = (
        "signal.short_pulse", ("blocking",), "signal",
        "{part}: a pulse lasts {shortest_us:.3g} µs at {max_speed_kmh:g} km/h; its min. pulse width is {least_us:.4g} "
        "µs.",
        "Shorten its filter, or use a wider tooth or magnet.",
    )  # fmt: skip
    BOUNCE = (
        "signal.bounce", ("warning",), "signal",
        "A contact bounces for up to {bounce_ms:g} ms: {readout} may count it more than once.",
        "Set a dead time of {bounce_ms:g} to {most_ms:.3g} ms.",
    )  # fmt: skip
    BOUNCE_TOO_FAST = (
        "signal.bounce_too_fast", ("warning",), "signal",
        "A contact bounces for up to {bounce_ms:g} ms, and pulses come every {period_ms:.3g} ms at top speed: "
        "{readout} may "
        "count a pulse more than once.",
        "Use fewer magnets, or a Hall switch, which does not bounce.",
    )  # fmt: skip
    RATIO_ERROR = (
        "signal.ratio_error", ("warning",), "signal",
        "Converter ratio {ratio} is {error_pct:+.2f} % off the ratio that the gauge needs.",
        "Use the best ratio, allow larger numbers, or use two stages.",
    )  # fmt: skip
    WRAPS = (
        "signal.wraps", ("warning",), "signal",
        "{readout}: the needle drops to zero above {end_kmh:g} km/h; required up to {max_speed_kmh:g} km/h.",
        "Set the converter's output limit to {end_kmh:g} km/h.",
    )  # fmt: skip
    # readout
    OUT_OF_RANGE = (
        "readout.out_of_range", ("blocking",), "readout",
        "{readout}: setting {exact} is outside its entry range, {minimum} to {maximum}.",
        "Change the count of the target, or use another setting format. The nearest possible setting is {nearest}.",
    )  # fmt: skip
    OUT_OF_RANGE_PER_TURN = (
        "readout.out_of_range_per_turn", ("blocking",), "readout",
        "{readout}: setting {exact} is outside its entry range, {minimum} to {maximum}.",
        "Change the pulses per turn set in it, or use another setting format. The nearest possible setting is "
        "{nearest}.",
    )  # fmt: skip
    UNUSUAL_SETTING = (
        "readout.unusual_setting", ("warning",), "readout",
        "{readout}: setting {exact} is outside of what such displays usually take, {minimum} to {maximum}; its own "
        "entry "
        "range is not entered.",
        "Check the count of the target and the setting format. If both are right, enter the smallest and largest "
        "setting.",
    )  # fmt: skip
    UNUSUAL_SETTING_PER_TURN = (
        "readout.unusual_setting_per_turn", ("warning",), "readout",
        "{readout}: setting {exact} is outside of what such displays usually take, {minimum} to {maximum}; its own "
        "entry "
        "range is not entered.",
        "Check the pulses per turn set in it. If they are right, enter the smallest and largest setting.",
    )  # fmt: skip
    CHART_NEIGHBOUR = (
        "readout.chart_neighbour", _DATA, "readout",
        "{readout}: {setting}\u00a0mm is the chart row of {row}, but the tyre is marked {marking}: the display shows "
        "{error_pct:+.1f} %.",
        "{action}.",
    )  # fmt: skip
    NOT_LEARNED = (
        "readout.not_learned", ("warning",), "readout",
        "{readout} did not learn its setting on the last ride.",
        "Repeat the ride as its manual says: speed held, seconds, wait with the key off. Then read a speed beside a "
        "true one.",
    )  # fmt: skip
    FIXED_OFF = (
        "readout.fixed_off", ("warning",), "readout",
        "{readout} cannot be set; its error of {error_pct:+.1f} % of the true speed is beyond the uncertainty of ± "
        "{expanded_pct:.1f} %.",
        "{way}.",
    )  # fmt: skip
    TEST_BEFORE = (
        "readout.test_before", ("warning",), "readout",
        "The test of {stages} of {date} was {reason}: it verifies nothing any more.",
        "Repeat it, and record it again.",
    )  # fmt: skip
    LEARN_AGAIN = (
        "readout.learn_again", ("blocking",), "readout",
        "{readout} learned its setting {reason}.",
        "{action}.",
    )  # fmt: skip
    COUNT_NOT_ACCEPTED = (
        "readout.count_not_accepted", ("blocking",), "readout",
        "{readout} takes {least:d} to {most:d} pulses per turn of the wheel; {pulses:g} arrive.",
        f"Use a ring whose count it takes, the same at every wheel. {_QUALIFIED}",
    )  # fmt: skip
    UNDER_READS = (
        "readout.under_reads", ("blocking",), "readout",
        "{readout} under-reads: {shown_kmh:.1f} km/h shown at {true_kmh:.4g} km/h true; {rule} requires "
        "{least_kmh:.4g} km/h "
        "or more.",
        f"{{action}}. {_LOCAL}",
    )  # fmt: skip
    MAY_UNDER_READ = (
        "readout.may_under_read", ("note",), "readout",
        "{readout} may under-read: {shown_kmh:.1f} km/h shown at {true_kmh:.4g} km/h true, ± {expanded_pct:.1f} %; "
        "{rule} "
        "requires {least_kmh:.4g} km/h or more.",
        f"{{action}}. {_LOCAL}",
    )  # fmt: skip
    ABOVE_RANGE = (
        "readout.above_range", ("warning",), "readout",
        "{readout} shows {over_kmh:.1f} km/h too much at {true_kmh:.4g} km/h true; {permitted_kmh:.1f} km/h is "
        "permitted "
        "({rule}).",
        f"{{action}}. {_LOCAL}",
    )  # fmt: skip
    FAR_OFF = (
        "readout.far_off", ("warning",), "readout",
        "{readout} shows {error_pct:+.0f} % against the true speed: no tyre is that far off. A setting, a count or a "
        "unit is another one.",
        "{action}. If that is what is set, check the count and the ratio.",
    )  # fmt: skip
    PAST_THE_END = (
        "readout.past_the_end", ("warning",), "readout",
        "{readout} follows only up to {end_kmh:.4g} km/h true: at {true_kmh:.4g} km/h it shows {shown_kmh:.4g} km/h.",
        "{remedy}",
    )  # fmt: skip
    NOT_ENTERABLE = (
        "readout.not_enterable", ("warning",), "readout",
        "{readout} cannot hold {setting:g}\u00a0{unit}: entry range {minimum:g} to {maximum:g}, resolution {step:g}.",
        "Read the setting from the display again.",
    )  # fmt: skip
    TOO_SLOW = (
        "readout.too_slow", ("blocking",), "readout",
        "{readout} shows nothing below {min_kmh:.1f} km/h, because of {cause}; the check speed is {true_kmh:g} km/h.",
        "Use more teeth or magnets, or a longer zero time-out.",
    )  # fmt: skip
    # purpose
    FALSE_SLIP = (
        "purpose.false_slip", ("note",), "wheel",
        "The uncertainty of ± {expanded_pct:.1f} % appears as false slip in a slip log while cruising.",
        "Roll out both wheels that are compared. Set the dead band above what is left.",
    )  # fmt: skip
    BRAKE_AT_WHEEL = (
        "purpose.brake_at_wheel", ("warning",), "drive",
        "A brake-control unit compares the four wheels; a shaft turns at the mean speed of two.",
        f"Sense every wheel, with equal counts. {_QUALIFIED}",
    )  # fmt: skip
    SHAFT = (
        "purpose.shaft", ("note",), "drive",
        "Gearbox controllers and gauges expect the output shaft, which turns with both driven wheels.",
        "Sense the shaft and enter the axle ratio, or check that the controller accepts a wheel.",
    )  # fmt: skip
    ASSIST = (
        "purpose.assist", ("note",), "sensor",
        "An assist motor needs its maker's sensor and magnet; without them it shows a fault and gives no assistance.",
        "Leave the maker's sensor in place. Feeding an assist motor a false speed may be unlawful.",
    )  # fmt: skip
    ASSIST_LIMIT = (
        "purpose.assist_limit", ("note",), "readout",
        "Pedal assistance ends at a speed set by law: 25 km/h in the EU, 20 mph in many other places; the motor reads "
        "it "
        "from this sensor.",
        f"Enter the true circumference. A false one may be unlawful and voids approval and insurance. {_LOCAL}",
    )  # fmt: skip
    PADDLE = (
        "purpose.paddle", ("warning",), "target",
        "Speed through water is measured with a paddle, not with a part that turns on the ground.",
        "Use a paddle flush with the hull, clear of propeller wash.",
    )  # fmt: skip
    PADDLE_FAST = (
        "purpose.paddle_fast", ("warning",), "target",
        "Required up to {max_speed_kmh:g} km/h: from about {limit_kmh:.0f} km/h air under the hull reaches a paddle, "
        "and it reads low "
        "or stops.",
        "Fit it where the hull stays wet at speed, clear of strakes and seams. Compare at top speed, or show "
        "satellite speed up "
        "there.",
    )  # fmt: skip
    TWO_CHANNELS = (
        "purpose.two_channels", ("blocking",), "target",
        "One channel cannot tell forwards from backwards.",
        "Fit a second channel a quarter of the pitch further along: the channel that leads gives the direction.",
    )  # fmt: skip
    # tests
    SPIN_FAILED = (
        "test.spin_failed", ("blocking",), "target",
        "Spin test of {readout} failed on {date}: {outcome}.",
        "{remedy}",
    )  # fmt: skip
    MAGNET_FAILED = (
        "test.magnet_failed", ("blocking",), "sensor",
        "Magnet test of {readout} failed on {date}: {outcome}.",
        "{remedy}",
    )  # fmt: skip
    BENCH_FAILED = (
        "test.bench_failed", ("blocking",), "readout",
        "Bench test of {readout} failed on {date}: {outcome}.",
        "{remedy}",
    )  # fmt: skip
    SIGNED_RED = (
        "test.signed_red", ("blocking",), "readout",
        "A job sheet was signed on {date} with a value that is not as expected: {note}.",
        "Put it right and measure again on a new sheet.",
    )  # fmt: skip
    # all installations of a vehicle
    PARITY = (
        "sheet.parity", ("blocking",), "target",
        "The wheels do not match for a brake-control unit: {parity}",
        f"Fit rings of equal count and tyres of one size. {_QUALIFIED}",
    )  # fmt: skip
    FOUR_WHEELS = (
        "sheet.four_wheels", ("note",), "sensor",
        "A brake-control unit watches all four wheels; not recorded here: {places}.",
        "Add an installation for each wheel.",
    )  # fmt: skip
    SLIP_NEEDS_TWO = (
        "sheet.slip_needs_two", ("warning",), "drive",
        "Slip needs two wheels to compare: one driven and one not driven.",
        "Add the other installation, and enter under Drive which wheel is driven.",
    )  # fmt: skip
    SHEET_FACTORS = (
        "sheet.factors", ("warning",), "wheel",
        "{first} rolls 3.05 × diameter and {second} π × diameter: a false slip of 3 % between them.",
        "Use the same factor at both, or roll both wheels out.",
    )  # fmt: skip
    SHEET_FALSE_SLIP = (
        "sheet.false_slip", ("warning",), "readout",
        "{compared} against {reference}: {slip_pct:+.1f} % false slip while cruising, {slip_kmh:+.1f} km/h.",
        "Match the settings of both. Set the dead band above the remaining difference and the noise.",
    )  # fmt: skip

    @property
    def parameters(self) -> dict[str, type[float] | type[str]]:
        """What the texts need: a number where the template formats one, else text.

        Examples
        --------
        >>> FindingCode.TOUCHES.parameters["air_gap_mm"], FindingCode.BLIND.parameters["able"]
        (<class 'float'>, <class 'str'>)
        """
        pieces = [piece for text in (self.message, self.remedy) for piece in Formatter().parse(text)]
        return {name: float if _NUMBER.search(form or "") else str for _, name, form, _ in pieces if name is not None}


_NUMBER = re.compile("[dgf]$")


@result
class Finding:
    """What a rule found. `blocking` means the shown speed cannot be trusted until it is corrected."""

    code: FindingCode
    severity: Severity
    stage: StageName
    parameters: dict[str, Parameter]
    message: Words
    remedy: Words


def finding(code: FindingCode, severity: Severity | None = None, /, **parameters: Parameter) -> Finding:
    """A finding with its texts filled in.

    Parameters
    ----------
    code : which of the registry.
    severity : one that the registry allows for it; its usual one when left out.
    parameters : what the registry's texts need, neither more nor less.

    Raises
    ------
    KeyError : when a parameter is missing.

    Examples
    --------
    >>> finding(FindingCode.TOO_WEAK, weakest_pct=87, air_gap_mm=0.9, lowest_mm=0.4, highest_mm=0.76, beyond="").message
    'Signal too weak: 87 % of the switching level at 0.90 mm air gap.'
    """
    return Finding(
        code=code,
        severity=severity or code.severities[0],
        stage=code.stage,
        parameters=parameters,
        message=text_of(code.message, **parameters),
        remedy=text_of(code.remedy, **parameters),
    )


@result
class WhyStep:
    """One step of the arithmetic: the formula, the same with this installation's numbers, and where it is from."""

    formula: Formula
    with_numbers: Formula
    source: Words


def as_markdown() -> str:
    """The registry as docs/findings.md.

    Examples
    --------
    >>> as_markdown().splitlines()[0]
    '# Findings'
    """
    rows = [
        f"| `{code}` | {code.stage} | {', '.join(code.severities)} | {code.message} | {code.remedy} |"
        for code in FindingCode
    ]
    return (
        "# Findings\n\nEvery finding of the core: its code, the stage it stands on, how severe it is, what it says "
        "and what to "
        "do.\nParameters stand in braces; units are in their names. Generated from `speedchain/stages/findings.py`.\n"
        "`blocking` means that the shown speed cannot be trusted until it is corrected.\n\n"
        "| code | stage | severity | message | remedy |\n|---|---|---|---|---|\n"
        + "\n".join(rows).replace("\u00a0", " ")
        + "\n"
    )
