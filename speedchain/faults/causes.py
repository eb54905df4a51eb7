"""The causes that the fault finder knows, over all stages and kinds of vehicle.

Weights and chances are common practice, rounded: what mechanics find first, and what a test gives when a cause is there.
A workshop may enter its own (`speedchain.faults.table`).
"""

from __future__ import annotations

import math
from collections.abc import Mapping

from speedchain.faults.vocabulary import Cause
from speedchain.fields import KM_PER_MILE
from speedchain.service import PartKind

NONE_BEFORE = {"conditioner": {"none": 0.9}, "ratio": {"none": 0.9}}
DEAD = {"spin": {"nothing": 0.95}} | NONE_BEFORE
NO_SIGNAL = {"spin": {"nothing": 0.95}, "magnet": {"nothing": 0.95}, "output": {"stays": 0.9}} | NONE_BEFORE
BEHIND = {"spin": {"nothing": 0.95}, "magnet": {"nothing": 0.95}}
ODD = {"spin": {"off": 0.9}}
WEAK = {"spin": {"unsteady": 0.55, "nothing": 0.3, "off": 0.1}}

# fmt: off
CAUSES: tuple[Cause, ...] = (
    # wheel
    Cause("tyre_changed", "wheel", "The setting belongs to another tyre.", "Measure the rolling circumference and enter the new setting.",
          2.0, {"steady_off": 0.9, "after_change": 0.5}, {"tyre": {"other_tyre": 0.9}, "roll_out": {"differs": 0.9}, "spin": {"agrees": 0.9}},
          when=("tyre",), changed=("tyre", "wheel"), job="tyre_change", retest="road", minutes=15),
    Cause("pressure_load", "wheel", "Tyre pressure or load is not as it was measured.", "Set the working pressure and load; measure the circumference again.",
          0.8, {"steady_off": 0.8}, {"tyre": {"other_pressure": 0.9}, "roll_out": {"differs": 0.7}, "spin": {"agrees": 0.9}}, when=("tyre",), job="tyre_change", retest="road"),
    Cause("paddle_fouled", "wheel", "Growth or dirt slows the paddle.", "Clean the paddle; coat or check it before each run.",
          3.0, {"steady_off": 0.7, "nothing": 0.3, "noisy": 0.2, "drops_low": 0.5}, {"look": {"dirty": 0.85}, "clean": {"cured": 0.92}, "spin": {"agrees": 0.5, "nothing": 0.3}, "straight": {"same": 0.9}},
          when=("afloat",), job="yearly_service", retest="water", minutes=5),
    Cause("paddle_in_wash", "wheel", "The paddle runs in the wash of propeller, keel or fittings.", "Move the paddle to undisturbed water.",
          1.5, {"in_turns": 0.7, "noisy": 0.4, "drops_high": 0.4}, {"seat": {"wash": 0.85}, "straight": {"turns": 0.78, "one_turn": 0.12}, "spin": {"agrees": 0.93}},
          when=("afloat",), job="paddle_on_hull", retest="water", minutes=60),
    Cause("paddle_off_centre", "wheel", "The paddle sits off the centreline: the hull turns around it.", "Correct for turns, or use two paddles; compare straight runs only.",
          1.0, {"in_turns": 0.9}, {"seat": {"aside": 0.9}, "straight": {"one_turn": 0.82, "turns": 0.13}, "spin": {"agrees": 0.93}}, when=("afloat",), retest="water", minutes=30),
    Cause("paddle_skewed", "wheel", "The paddle is not parallel to the flow.", "Align the paddle with the flow.",
          1.0, {"steady_off": 0.8, "in_turns": 0.3}, {"look": {"moved": 0.5}, "seat": {"skewed": 0.85}, "straight": {"same": 0.8, "one_turn": 0.12}, "spin": {"agrees": 0.93}}, when=("afloat",), retest="water", minutes=20),
    # drive
    Cause("wheel_held", "drive", "One driven wheel stands still: the shaft before the differential turns half as fast.", "Let both wheels turn, or compare with half the speed.",
          1.5, {"half": 0.95}, {"other_wheel": {"held": 0.95}, "spin": {"half": 0.95}, "setting": {"as_calculated": 0.93}}, when=("differential",), ratios=(0.5,), retest="spin", minutes=2),
    Cause("gearing_changed", "drive", "The axle or chain ratio was changed, and the setting was not.", "Count the ratio and enter the new setting.",
          1.5, {"steady_off": 0.9, "after_change": 0.6}, {"spin": {"off": 0.85}, "setting": {"as_calculated": 0.85}, "count": {"as_entered": 0.93}}, when=("geared",), changed=("gearing",), job="new_installation", retest="spin"),
    # target
    Cause("target_left_behind", "target", "The magnet or ring is on the wheel that was taken off.", "Fit the magnet or ring to this wheel, at the same radius and air gap.",
          2.5, {"nothing": 0.95, "fault_code": 0.5, "after_change": 0.5}, DEAD | {"look": {"missing": 0.84}, "magnet": {"shows": 0.95}, "output": {"stays": 0.95}},
          when=("hub_target", "gap", "lifted"), changed=("wheel",), job="wheel_swap", minutes=15),
    Cause("target_lost", "target", "A magnet has fallen off.", "Fit a new magnet and secure it.",
          1.5, {"fault_code": 0.7, "nothing": 0.7, "noisy": 0.3, "steady_off": 0.3, "half": 0.1}, {"look": {"bare": 0.75, "missing": 0.12}, "magnet": {"shows": 0.95}, "spin": {"nothing": 0.6, "off": 0.2, "half": 0.1}, "count": {"differs": 0.6}}, when=("magnets",), unless=("afloat",), job="spoke_magnets"),
    Cause("target_moved", "target", "The magnet has slipped: it passes beside the sensor.", "Set it back to the sensor's radius and tighten it.",
          2.0, {"fault_code": 0.6, "nothing": 0.6, "drops_bumps": 0.4, "noisy": 0.3}, {"look": {"moved": 0.55}, "align": {"off": 0.85}, "magnet": {"shows": 0.95}, "spin": {"nothing": 0.6, "unsteady": 0.25}, "shift": {"better": 0.4}}, when=("magnets",), unless=("afloat", "rotor_magnet"), job="spoke_magnets"),
    Cause("rotor_pattern", "target", "The other wheel's rotor carries the target at another radius.", "Move the target or the sensor to the same radius; measure the gap again.",
          0.7, {"nothing": 0.8, "fault_code": 0.5, "after_change": 0.5}, {"align": {"off": 0.85}, "look": {"moved": 0.3}, "magnet": {"shows": 0.95}, "spin": {"nothing": 0.75, "unsteady": 0.15}, "gap": {"wide": 0.5}},
          when=("rotor_magnet",), changed=("wheel",), job="wheel_swap", minutes=25),
    Cause("poles_reversed", "target", "One magnet is the other way round.", "Turn it so that all show the sensor the same pole.",
          1.0, {"steady_off": 0.4, "half": 0.3, "noisy": 0.5}, {"poles": {"reversed": 0.95}, "spin": {"off": 0.45, "half": 0.2, "unsteady": 0.3}, "count": {"as_entered": 0.9}}, when=("several_magnets",), unless=("afloat",), job="rotor_bolt_magnet"),
    Cause("teeth_damaged", "target", "A tooth is bent or missing.", "Replace the ring.",
          1.2, {"noisy": 0.7, "drops_high": 0.1, "steady_off": 0.3, "half": 0.08, "fault_code": 0.4}, {"look": {"damaged": 0.75}, "spin": {"unsteady": 0.45, "agrees": 0.25, "off": 0.18, "half": 0.08}, "count": {"differs": 0.55}, "gap": {"uneven": 0.3}}, when=("teeth",), job="ring_swap", minutes=40),
    Cause("ring_eccentric", "target", "The ring runs out: the air gap changes around the turn.", "Seat the ring again or true it; then set the gap at its highest point.",
          1.0, {"noisy": 0.8, "drops_low": 0.2, "drops_high": 0.2}, {"gap": {"uneven": 0.88}, "spin": {"unsteady": 0.7}, "look": {"moved": 0.2}}, when=("teeth",), job="ring_swap", minutes=30),
    Cause("target_dirty", "target", "Metal chips or dirt bridge the target or the sensor's magnet.", "Clean both; find out where the chips come from.",
          1.2, {"noisy": 0.7, "steady_off": 0.2, "double": 0.15}, {"look": {"dirty": 0.8}, "clean": {"cured": 0.92}, "spin": {"unsteady": 0.75}}, when=("teeth",), job="yearly_service", minutes=5),
    Cause("wrong_count", "target", "The target has another count than is set.", "Count it and enter the new setting in everything that reads it.",
          1.5, {"steady_off": 0.9, "half": 0.06, "after_change": 0.4, "fault_code": 0.4}, {"count": {"differs": 0.94}, "all_corners": {"equal": 0.8}, "spin": {"off": 0.8, "half": 0.07, "double": 0.05}, "setting": {"as_calculated": 0.93}}, when=("several",), unless=("afloat",), changed=("ring", "wheel"), job="ring_swap"),
    Cause("encoder_reversed", "target", "The magnetic encoder faces away from the sensor.", "Turn the bearing or the ring so that its magnetised face is at the sensor.",
          1.0, {"nothing": 0.95, "fault_code": 0.6, "after_change": 0.4}, DEAD | {"magnet": {"shows": 0.93}, "output": {"stays": 0.9}, "poles": {"reversed": 0.5}}, when=("multipole",), changed=("wheel", "ring"), job="ring_swap", minutes=40),
    # placement
    Cause("gap_wide", "sensor", "The air gap is too wide.", "Set the gap within the permitted range.",
          3.0, {"fault_code": 0.5, "nothing": 0.35, "drops_low": 0.4, "drops_bumps": 0.4, "noisy": 0.5, "drops_high": 0.1}, WEAK | {"gap": {"wide": 0.92}, "look": {"moved": 0.35}, "magnet": {"shows": 0.96}, "align": {"centred": 0.9}, "output": {"weak": 0.6, "stays": 0.3}}, when=("gap",), changed=("sensor", "wheel", "ring"), job="yearly_service"),
    Cause("gap_rubs", "sensor", "The sensor touches the target and its tip is worn.", "Shim the sensor out, check its tip, replace it when it is worn through.",
          1.0, {"noisy": 0.6, "nothing": 0.4}, {"gap": {"touches": 0.92}, "magnet": {"shows": 0.65, "nothing": 0.32}, "look": {"damaged": 0.6}, "spin": {"unsteady": 0.5, "nothing": 0.35}}, when=("gap", "teeth"), changed=("sensor", "ring"), job="yearly_service"),
    Cause("clocking", "sensor", "The strip in the sensor lies along a narrow ring.", "Turn the sensor a quarter turn and set the gap again.",
          2.0, {"noisy": 0.8, "nothing": 0.4, "drops_low": 0.3, "drops_bumps": 0.4}, WEAK | {"quarter_turn": {"better": 0.88}, "align": {"centred": 0.75}, "magnet": {"shows": 0.95}, "shift": {"better": 0.35}, "gap": {"in_window": 0.93}}, when=("single_element",), changed=("sensor",), minutes=6),
    Cause("lateral_off", "sensor", "The sensing point passes beside the ring.", "Shift the sensor until the sensing point passes the middle.",
          2.0, {"fault_code": 0.4, "noisy": 0.7, "nothing": 0.5, "drops_bumps": 0.4, "drops_low": 0.2}, WEAK | {"align": {"off": 0.8}, "shift": {"better": 0.88}, "quarter_turn": {"better": 0.4}, "magnet": {"shows": 0.95}, "gap": {"in_window": 0.93}, "look": {"moved": 0.25}}, when=("gap", "teeth"), changed=("sensor",), minutes=8),
    Cause("half_aligned", "sensor", "The magnet passes beside the sensing point or only its edge.", "Line the magnet up with the sensing point, which may not be the round feature.",
          2.0, {"fault_code": 0.6, "drops_bumps": 0.5, "noisy": 0.6, "drops_high": 0.2, "nothing": 0.3}, {"align": {"off": 0.85}, "look": {"moved": 0.35}, "shift": {"better": 0.8}, "spin": {"unsteady": 0.5, "agrees": 0.15, "nothing": 0.25, "off": 0.1}, "speeds": {"bumps": 0.7}, "magnet": {"shows": 0.96}}, when=("magnets", "gap"), minutes=8),
    Cause("reed_at_end", "sensor", "The magnet passes the reed so that it closes twice.", "Shift the sensor so that the magnet passes one end of the reed.",
          1.5, {"double": 0.9, "steady_off": 0.2}, {"spin": {"double": 0.85}, "align": {"off": 0.6}, "shift": {"better": 0.85}, "setting": {"as_calculated": 0.93}}, when=("reed",), ratios=(2.0,), minutes=6),
    Cause("bracket_loose", "sensor", "The bracket is loose or bends.", "Tighten or stiffen the bracket; set the gap again.",
          1.5, {"drops_bumps": 0.85, "noisy": 0.6, "bench_ok": 0.3}, {"bracket": {"moves": 0.92}, "look": {"moved": 0.7}, "speeds": {"bumps": 0.8}, "spin": {"agrees": 0.6, "unsteady": 0.35}, "gap": {"wide": 0.35, "in_window": 0.5}, "wiggle": {"changes": 0.3}}, when=("gap",), changed=("sensor",)),
    # sensor
    Cause("sensor_dead", "sensor", "The sensor is defective.", "Replace the sensor; find out what destroyed it.",
          1.5, {"nothing": 0.95, "fault_code": 0.5}, NO_SIGNAL | {"swap_sensor": {"cured": 0.96}, "swap_corners": {"moves": 0.95}, "resistance": {"open": 0.6, "short": 0.25}, "supply": {"right": 0.95}}, job="new_installation", minutes=25),
    Cause("sensor_hot", "sensor", "The sensor fails when it is hot.", "Fit a sensor for this temperature, or keep heat away from it.",
          0.6, {"drops_high": 0.5, "bench_ok": 0.8, "noisy": 0.3}, {"swap_sensor": {"cured": 0.85}, "spin": {"agrees": 0.85}, "speeds": {"high": 0.6}}, unless=("afloat", "reed", "cycle"), job="new_installation", minutes=25),
    Cause("reed_stuck", "sensor", "The reed sticks or bounces.", "Replace the reed; raise the reader's filter time if it has one.",
          1.0, {"double": 0.7, "nothing": 0.2, "noisy": 0.5}, {"spin": {"double": 0.6, "unsteady": 0.25}, "swap_sensor": {"cured": 0.92}, "resistance": {"short": 0.4}, "align": {"centred": 0.9}, "shift": {"same": 0.85}}, when=("reed",), ratios=(2.0,), minutes=15),
    Cause("wrong_sensor", "sensor", "This kind of sensor does not see this target.", "Choose a kind of sensor that fits the target.",
          0.6, {"nothing": 0.9, "after_change": 0.3}, DEAD | {"kind": {"does_not": 0.9}, "magnet": {"shows": 0.7}, "output": {"stays": 0.9}, "swap_sensor": {"same": 0.9}}, when=("gap",), changed=("sensor", "ring"), job="new_installation", minutes=25),
    # wires and supply
    Cause("no_supply", "signal", "The sensor gets no supply.", "Find the open fuse, feed or connector; find out why the fuse blew.",
          1.5, {"nothing": 0.95, "fault_code": 0.5}, NO_SIGNAL | {"supply": {"none": 0.95}, "swap_sensor": {"same": 0.95}}, when=("active", "wires"), changed=("wiring", "battery"), minutes=12),
    Cause("supply_low", "signal", "The sensor's supply is too low.", "Feed it from a supply within the range of its data.",
          1.0, {"nothing": 0.4, "noisy": 0.6, "drops_low": 0.2, "bench_ok": 0.3}, {"supply": {"low": 0.93}, "output": {"weak": 0.7}, "spin": {"unsteady": 0.5, "nothing": 0.4}, "magnet": {"nothing": 0.4}}, when=("active", "wires"), changed=("wiring", "battery"), minutes=15),
    Cause("ground_bad", "signal", "The sensor's ground is bad.", "Give sensor and reader one common ground.",
          1.0, {"noisy": 0.7, "nothing": 0.35, "drops_bumps": 0.3, "standstill": 0.2}, {"ground": {"large": 0.9}, "supply": {"low": 0.6, "none": 0.2}, "wiggle": {"changes": 0.4}, "spin": {"unsteady": 0.6, "nothing": 0.25}, "output": {"weak": 0.5}}, when=("wires", "shielded"), changed=("wiring",), minutes=12),
    Cause("signal_open", "signal", "The signal wire is open.", "Repair the wire; support it where it moved.",
          1.5, {"nothing": 0.95, "fault_code": 0.5}, BEHIND | NONE_BEFORE | {"lead": {"open": 0.94}, "pulled_up": {"zero": 0.9}, "output": {"switches": 0.92}, "wiggle": {"changes": 0.25}, "look": {"damaged": 0.35}, "feed": {"right": 0.9}, "resistance": {"in_range": 0.9}, "swap_sensor": {"same": 0.95}, "supply": {"right": 0.95}}, when=("wires",), changed=("wiring",), minutes=15),
    Cause("signal_short", "signal", "The signal wire is shorted to ground or supply.", "Repair the wire where it chafed.",
          0.8, {"nothing": 0.95, "fault_code": 0.5}, BEHIND | NONE_BEFORE | {"lead": {"short": 0.94}, "pulled_up": {"zero": 0.7}, "output": {"stays": 0.9}, "look": {"damaged": 0.45}, "swap_sensor": {"same": 0.95}, "resistance": {"in_range": 0.85}, "supply": {"right": 0.85}}, when=("wires",), changed=("wiring",), minutes=15),
    Cause("plug_loose", "signal", "A connector makes bad contact.", "Clean or replace the contacts; lock and seal the connector.",
          2.5, {"fault_code": 0.4, "drops_bumps": 0.85, "noisy": 0.6, "nothing": 0.3, "bench_ok": 0.4}, {"wiggle": {"changes": 0.85}, "speeds": {"bumps": 0.8}, "spin": {"agrees": 0.45, "unsteady": 0.4, "nothing": 0.15}, "look": {"damaged": 0.2}}, when=("wires",), changed=("wiring", "sensor"), minutes=10),
    Cause("pins_swapped", "signal", "Wires are swapped at the connector.", "Wire it as tested: colours alone are no proof.",
          1.0, {"nothing": 0.95, "after_change": 0.5}, NO_SIGNAL | {"pins": {"swapped": 0.93}, "lead": {"open": 0.45}, "supply": {"none": 0.5, "low": 0.3}, "look": {"fine": 0.85}, "swap_sensor": {"same": 0.9}}, when=("active", "wires"), changed=("wiring", "sensor"), minutes=12),
    Cause("pull_up_missing", "signal", "The pull-up resistor is missing.", "Fit the pull-up resistor to the reader's supply.",
          1.2, {"nothing": 0.95, "after_change": 0.3}, BEHIND | NONE_BEFORE | {"pulled_up": {"zero": 0.95}, "output": {"stays": 0.75, "weak": 0.2}, "supply": {"right": 0.95}, "swap_sensor": {"same": 0.95}, "feed": {"right": 0.9}}, when=("pull_up",), changed=("wiring", "display"), minutes=10),
    Cause("slow_edges", "signal", "Pull-up and lead make the edges too slow for high frequencies.", "Use a smaller pull-up resistor or a shorter lead.",
          0.8, {"noisy": 0.4, "drops_high": 0.95, "bench_ok": 0.2}, {"speeds": {"high": 0.9}, "spin": {"agrees": 0.93}, "feed": {"right": 0.85}, "output": {"switches": 0.9}}, when=("pull_up",), minutes=10),
    Cause("noise_ignition", "signal", "The lead picks up ignition or motor noise.", "Lay the lead away from ignition and motor cables; twist and shield it, grounded at one end.",
          2.0, {"standstill": 0.85, "noisy": 0.7, "double": 0.1, "bench_ok": 0.4}, {"engine_off": {"with_engine": 0.92}, "tie": {"better": 0.85}, "unplug": {"still": 0.45}, "spin": {"agrees": 0.6, "unsteady": 0.35}}, when=("wires", "noisy"), changed=("wiring",), minutes=15),
    Cause("shield_both_ends", "signal", "The shield is grounded at both ends and carries current.", "Ground the shield at the reader's end only.",
          0.6, {"noisy": 0.75, "standstill": 0.75, "bench_ok": 0.35}, {"shield": {"both_ends": 0.93}, "engine_off": {"with_engine": 0.85, "always": 0.07}, "tie": {"same": 0.75}, "unplug": {"still": 0.42}, "spin": {"agrees": 0.55, "unsteady": 0.4}}, when=("wires", "shielded"), changed=("wiring",), minutes=10),
    Cause("coil_polarity", "signal", "The coil's two wires are swapped.", "Swap the two wires.",
          0.8, {"noisy": 0.7, "steady_off": 0.2, "after_change": 0.3}, {"polarity": {"better": 0.9}, "spin": {"unsteady": 0.55, "agrees": 0.35}}, when=("coil",), changed=("wiring", "sensor"), minutes=3),
    Cause("coil_weak", "signal", "The coil's voltage is too low at low speed.", "Reduce the air gap, or set the conditioner's threshold lower.",
          1.2, {"drops_low": 0.95}, {"threshold": {"too_high": 0.5, "right": 0.4}, "speeds": {"low": 0.93}, "spin": {"nothing": 0.6, "unsteady": 0.25}, "output": {"weak": 0.7}, "gap": {"wide": 0.3, "in_window": 0.6}, "feed": {"right": 0.93}}, when=("coil",), minutes=12),
    Cause("conditioner_destroyed", "signal", "The conditioner's input was destroyed by over-voltage.", "Replace the conditioner; add the input resistor or clamp that its data ask for.",
          1.2, {"nothing": 0.95, "drops_high": 0.2}, BEHIND | {"conditioner": {"input_only": 0.94}, "ratio": {"none": 0.9}, "output": {"switches": 0.93}, "swap_sensor": {"same": 0.95}, "feed": {"nothing": 0.6}, "resistance": {"in_range": 0.95}}, when=("conditioner",), minutes=20),
    Cause("threshold_high", "signal", "The conditioner's threshold is too high.", "Lower the threshold; check it at the lowest speed.",
          0.8, {"drops_low": 0.9, "noisy": 0.3}, {"threshold": {"too_high": 0.9}, "speeds": {"low": 0.93}, "conditioner": {"input_only": 0.6, "both": 0.35}, "spin": {"nothing": 0.55, "unsteady": 0.3}, "output": {"switches": 0.85}}, when=("conditioner",), changed=("display", "wiring"), minutes=8),
    Cause("threshold_low", "signal", "The conditioner's threshold or hysteresis is too low.", "Raise the threshold or the hysteresis above the noise.",
          0.8, {"standstill": 0.7, "noisy": 0.6, "double": 0.4}, {"threshold": {"too_low": 0.9}, "engine_off": {"with_engine": 0.45, "always": 0.35}, "unplug": {"still": 0.6}, "spin": {"double": 0.35, "unsteady": 0.5}, "tie": {"same": 0.7}}, when=("conditioner",), minutes=8),
    Cause("converter_dead", "signal", "The pulse converter gives nothing.", "Check its supply and its ground; replace it.",
          0.8, {"nothing": 0.95}, BEHIND | {"output": {"switches": 0.93}, "ratio": {"input_only": 0.93}, "feed": {"nothing": 0.9}, "swap_sensor": {"same": 0.95}}, when=("converter",), changed=("display", "wiring"), minutes=20),
    Cause("converter_ratio", "signal", "The pulse converter's ratio is wrong.", "Set the ratio that is calculated and read it back.",
          1.2, {"steady_off": 0.65, "half": 0.2, "double": 0.2, "after_change": 0.3}, {"spin": {"off": 0.55, "half": 0.18, "double": 0.18}, "ratio": {"differs": 0.93}, "feed": {"factor": 0.92}, "setting": {"as_calculated": 0.9}}, when=("converter",), changed=("display", "ring"), minutes=6),
    Cause("converter_cap", "signal", "The converter reaches its highest output frequency.", "Raise the limit, or choose a smaller ratio and setting.",
          0.6, {"noisy": 0.4, "drops_high": 0.9}, {"speeds": {"high": 0.9}, "feed": {"drops": 0.9}, "spin": {"agrees": 0.94}}, when=("converter",), minutes=8),
    Cause("radio_lost", "signal", "Sensor and display are not paired, or another transmitter disturbs them.", "Pair them again; keep other transmitters away.",
          2.0, {"nothing": 0.8, "noisy": 0.4, "drops_bumps": 0.1}, BEHIND | {"pair": {"cured": 0.93}, "battery": {"good": 0.93}}, when=("radio",), changed=("battery", "display"), minutes=3),
    Cause("sensor_mode", "sensor", "The sensor is in another mode: for cadence, or asleep.", "Switch it to the mode for speed as its maker says; wake it by a turn of the wheel.",
          2.0, {"nothing": 0.85, "steady_off": 0.15, "after_change": 0.3}, BEHIND | {"mode": {"another": 0.94}, "pair": {"same": 0.9}, "battery": {"good": 0.93}}, when=("no_target", "radio"), changed=("battery", "sensor"), minutes=2),
    Cause("strap_loose", "sensor", "The strap is loose: the sensor slides or turns on the hub.", "Strap it tight around the middle of the hub, its marked side as its maker says.",
          1.5, {"noisy": 0.7, "drops_bumps": 0.5, "nothing": 0.1}, {"strap": {"loose": 0.94}, "look": {"moved": 0.4}, "spin": {"unsteady": 0.6, "agrees": 0.3}}, when=("no_target",), changed=("sensor", "wheel"), minutes=2),
    # readout
    Cause("setting_other", "readout", "The setting is not the calculated one, or it was lost with the battery.", "Enter the setting and read it back.",
          3.0, {"steady_off": 0.95, "after_change": 0.3}, ODD | {"setting": {"differs": 0.95}, "feed": {"factor": 0.85}, "count": {"as_entered": 0.95}}, when=("typed",), changed=("battery", "display"), minutes=3),
    Cause("setting_unit", "readout", "Mile and kilometre, or another unit, are mixed up.", "Choose the unit of the display and enter the setting again.",
          1.5, {"steady_off": 0.9, "after_change": 0.2}, ODD | {"setting": {"differs": 0.85}, "feed": {"factor": 0.9}}, when=("typed",), changed=("battery", "display"), ratios=(KM_PER_MILE, 1 / KM_PER_MILE, KM_PER_MILE**2, 10.0, 0.1, 25.4, 1 / 25.4), minutes=3),
    Cause("setting_diameter", "readout", "The diameter was entered instead of the circumference.", "Enter the circumference: π times the diameter.",
          1.0, {"steady_off": 0.7, "half": 0.1}, ODD | {"setting": {"differs": 0.93}, "feed": {"factor": 0.85}}, when=("length_setting",), ratios=(1 / math.pi, math.pi), minutes=3),
    Cause("edges_half", "readout", "The reader counts one edge and is set for two.", "Set the pulses per turn that the reader counts.",
          1.2, {"half": 0.95}, {"spin": {"half": 0.93}, "setting": {"differs": 0.6}, "other_wheel": {"both": 0.95}, "feed": {"factor": 0.9}, "poles": {"same": 0.93}}, when=("typed",), unless=("no_target",), ratios=(0.5,), changed=("display",), minutes=3),
    Cause("edges_double", "readout", "The reader counts two edges and is set for one.", "Set the pulses per turn that the reader counts.",
          1.2, {"double": 0.95}, {"spin": {"double": 0.93}, "setting": {"differs": 0.6}, "feed": {"factor": 0.9}, "align": {"centred": 0.93}}, when=("typed",), unless=("no_target",), ratios=(2.0,), changed=("display",), minutes=3),
    Cause("not_learned", "readout", "The display has not learned the new target or tyre.", "Do the learning ride.",
          2.0, {"steady_off": 0.8, "after_change": 0.8, "fault_code": 0.3}, {"spin": {"off": 0.6, "agrees": 0.3}}, when=("learned",), changed=("tyre", "ring", "wheel", "display"), job="learning_ride", retest="road", minutes=15),
    Cause("reader_dead", "readout", "The display or its input is defective, or the wrong input is selected.", "Select the right input; feed it from a generator; repair or replace it.",
          1.0, {"nothing": 0.95, "fault_code": 0.3}, BEHIND | {"feed": {"nothing": 0.94}, "output": {"switches": 0.93}, "swap_sensor": {"same": 0.95}, "conditioner": {"both": 0.92}, "supply": {"right": 0.9}}, changed=("display",), minutes=30),
    Cause("reader_battery", "readout", "The battery of display or sensor is empty.", "Replace the battery; enter the setting again if it was lost.",
          2.5, {"nothing": 0.85, "noisy": 0.3, "drops_bumps": 0.1}, BEHIND | {"battery": {"low": 0.95}, "swap_sensor": {"same": 0.85}}, when=("own_battery",), minutes=3),
    Cause("wrong_channel", "readout", "The inputs of two corners are swapped.", "Connect each corner to its own input.",
          0.8, {"fault_code": 0.6, "after_change": 0.5, "in_turns": 0.3}, {"channel": {"another": 0.94}, "swap_corners": {"stays": 0.9}, "spin": {"nothing": 0.85}, "magnet": {"nothing": 0.85}, "output": {"switches": 0.93}}, when=("several_corners",), changed=("wiring",), minutes=10),
    Cause("counts_unequal", "readout", "The corners have rings of unequal counts.", "Fit equal rings, or those that the controller expects. Do not drive with brake control on.",
          1.0, {"fault_code": 0.9, "steady_off": 0.6, "after_change": 0.5}, {"count": {"differs": 0.9}, "all_corners": {"unequal": 0.94}, "spin": {"agrees": 0.5, "off": 0.45}, "swap_corners": {"stays": 0.9}}, when=("brake_control",), changed=("ring", "wheel"), job="brake_control_swap", minutes=60),
    Cause("filter_slow", "readout", "The reader's input filter is too slow for the top frequency.", "Shorten the filter time, or use fewer pulses per turn.",
          0.8, {"noisy": 0.4, "drops_high": 0.95}, {"speeds": {"high": 0.92}, "feed": {"drops": 0.93}, "spin": {"agrees": 0.94}}, unless=("radio",), changed=("display", "ring"), minutes=5),
    Cause("time_out_short", "readout", "The reader's zero time-out is shorter than the time between pulses at low speed.", "Lengthen its time-out, or use more pulses per turn.",
          1.0, {"drops_low": 0.95}, {"speeds": {"low": 0.93}, "spin": {"nothing": 0.45, "agrees": 0.35, "unsteady": 0.15}, "output": {"switches": 0.93}, "magnet": {"shows": 0.7}}, changed=("display",), minutes=5),
    Cause("dial_end", "readout", "The speed is beyond the end of the dial or of the entry range.", "Choose another range or another display.",
          0.5, {"noisy": 0.4, "drops_high": 0.9}, {"range": {"beyond": 0.94}, "speeds": {"high": 0.85}, "feed": {"drops": 0.85}, "spin": {"agrees": 0.95}}, minutes=10),
    Cause("damping", "readout", "The reading is damped too little for this target.", "Average over one turn of the target.",
          0.7, {"noisy": 0.9}, {"spin": {"unsteady": 0.75}, "feed": {"right": 0.9}, "gap": {"in_window": 0.9}, "tie": {"same": 0.9}}, unless=("no_target",), changed=("display",), minutes=5),
)
# fmt: on
BY_CODE = {cause.code: cause for cause in CAUSES}
REPLACED: Mapping[str, PartKind] = {
    "target_lost": "magnet", "teeth_damaged": "ring", "counts_unequal": "ring", "gap_rubs": "sensor", "sensor_dead": "sensor",
    "sensor_hot": "sensor", "reed_stuck": "sensor", "wrong_sensor": "sensor", "signal_open": "loom", "signal_short": "loom",
    "plug_loose": "connector", "conditioner_destroyed": "converter", "converter_dead": "converter", "reader_dead": "display",
    "reader_battery": "battery",
}  # fmt: skip
"""What the cure of a cause usually replaces. Common practice."""
OTHER = "other"
"""None of those that are known."""
