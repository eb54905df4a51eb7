"""The jobs, as data. Order and content of the steps: common practice; torques are the vehicle's manual's, never
ours."""

from __future__ import annotations

from speedchain.jobs.steps import StepTemplate as Step
from speedchain.jobs.steps import Template

BEFORE, GROUND, WORK, PROVE, AFTER = "Preparation", "Vehicle on its wheels", "Work", "Verification", "Records"

# fmt: off
READ_SETTINGS = (
    Step("note_setting", "Read the setting of {readout} back and write it down; {setting_now}.", "measure", BEFORE,
        ("typed",), measure="setting"),
    Step("photo_before", "Take a photo of the part as it is now.", "photo", BEFORE),
)
PARTS_IN_HAND = (
    Step("parts_in_hand", "Compare the parts in hand with their names and numbers here: {noted}.", "decide", BEFORE,
        ("labelled",), stop="Another part has another count, gap or supply: correct it under Target, Sensor or "
            "Readout before you fit it."),
)
LIFT = (
    Step("safe_ground", "Firm, level ground; wheels chocked; key out.", "tick", BEFORE, ("key",), safety=True),
    Step("stands_still", "Firm, level ground; it cannot roll or start.", "tick", BEFORE, ("lifted",),
        unless=("key", "cycle"), safety=True),
    Step("battery_out", "Switch the bicycle off and take its battery out.", "tick", BEFORE, ("e_bike",), safety=True),
    Step("locked", "Machine switched off, and locked against starting by the rules of the place.", "tick", BEFORE,
        ("machine",), safety=True),
    Step("lift", "{lift}", "decide", BEFORE, ("lifted",), task="lift", safety=True,
        stop="Lower it and begin again on firm ground."),
    Step("ashore", "Ashore or moored, engine off, key out, propeller out of reach.", "tick", BEFORE, ("afloat",),
        task="spin", safety=True),
)
BATTERY = (
    Step("battery_off", "Disconnect the battery, negative first.", "tick", BEFORE, ("wires", "powered"),
        unless=("cycle", "own_battery", "machine"), task="wire", safety=True),
)
GAP = (
    Step("clearance", "Turn it by hand through a full turn: nothing touches, steering at full lock as well.", "decide",
        WORK, ("steered",), task="fit_sensor", safety=True,
        stop="It does not turn free: stop. Shim or move the sensor before anything turns."),
    Step("clearance_shaft", "Turn it by hand through a full turn: nothing touches.", "decide", WORK, ("on_wheels",),
        unless=("steered",), task="fit_sensor", safety=True,
        stop="It does not turn free: stop. Shim or move the sensor before anything turns."),
    Step("strap", "Strap the sensor tight around the hub, centred, its marked side as its maker says.", "tick", WORK,
        ("no_target",)),
    Step("gap_near", "Find the {one} that comes nearest and set the gap there: {gap}.", "measure", WORK,
        ("gap", "several"), measure="gap"),
    Step("gap_one", "Turn the {one} to the sensor and set the gap: {gap}.", "measure", WORK, ("gap",),
        unless=("several",), measure="gap"),
    Step("gap_far", "Turn on to the {one} furthest away: the gap is still right there ({gap}).", "decide", WORK,
        ("teeth",), stop="It runs out too far: true it or choose a sensor that reaches further."),
    Step("clocking", "{clocking}", "tick", WORK, ("single_element",)),
)
def _entering(part: str) -> tuple[Step, ...]:
    """The setting goes in before the test that needs it."""
    return (
        Step("enter_setting", "Enter {setting} into {readout}.", "tick", part, ("typed",), task="set"),
        Step("read_back", "Read the setting back from the display.", "measure", part, ("typed",), measure="setting"),
        Step("cannot_set", "{readout} cannot be set: what it will show is {shown}.", "tick", part, ("fixed",),
            task="set"),
    )


LEARN = (
    Step("learn", "Do the learning ride of {readout}: its own sheet leads through it.", "tick", AFTER, ("learned",)),
)
SET = (*_entering(AFTER), *LEARN)
PLUG_IN = (
    Step("plug_in", "Plug the sensor in; connect the battery, negative last.", "tick", PROVE, ("wires",),
        unless=("own_battery", "machine", "e_bike")),
    Step("plug_in_e_bike", "Plug the sensor in and put the battery back.", "tick", PROVE, ("wires", "e_bike")),
    Step("plug_in_lead", "Plug the sensor's lead in.", "tick", PROVE, ("wires", "own_battery")),
    Step("plug_in_machine", "Plug the sensor in; the supply is switched on by whoever locked the machine.", "tick",
        PROVE, ("wires", "machine")),
)
TURN = (
    Step("wake", "Spin the wheel for ten seconds: the sensor wakes, and the display shows a speed.", "decide", PROVE,
        ("no_target", "lifted"), task="spin",
        stop="Nothing shown: look at battery, mode and pairing of the sensor before you go on."),
    Step("magnet_test", "Pass {passed} by the sensor: {readout} shows a speed.", "decide", PROVE, ("powered",),
        unless=("no_target", "sealed_paddle"), task="magnet", stop="Nothing shown: look at {feed} before you go on."),
    Step("spin_test", "Turn the {turned} evenly, ten turns in ten seconds. Expected: {spin}. Write down what is shown.",
        "measure", PROVE, ("powered",), unless=("no_target",), task="spin", measure="shown_speed"),
    Step("spin_agrees", "What was shown agrees with what was expected.", "decide", PROVE, ("powered",),
        unless=("no_target",), stop="{find_first}"),
)
SPIN = (*PLUG_IN, *TURN)
SET_AND_SPIN = (*PLUG_IN, *_entering(PROVE), *TURN)
TORQUE_SENSOR = (
    Step("torque_sensor",
        "Tighten the sensor's bolt to the torque of the vehicle's manual. Enter value and unit from the manual.",
        "torque", PROVE, task="fit_sensor", when=("bolted",)),
    Step("tighten_sensor", "Tighten the sensor's clamp or tie; the gap has not moved.", "tick", PROVE, ("cycle",),
        unless=("no_target",)),
)
WHEEL_ON = (
    Step("torque_wheel", "Tighten the wheel in the order and to the torque of the vehicle's manual. Enter value and "
        "unit from the manual.", "torque", AFTER, ("lifted",), unless=("cycle",), safety=True, second=True),
    Step("axle", "Wheel straight in the dropouts; axle or lever closed as its maker says.", "decide", AFTER, ("cycle",),
        safety=True, stop="Do not ride."),
    Step("brakes_work", "Brakes work before anyone moves off: {firm}, wheel free when released.", "decide", AFTER,
        ("lifted",), safety=True, stop="{do_not_drive}. A competent person finishes, bleeds and tests the brakes."),
)
BRAKE_PERSON = (
    Step("brakes_finished", "Work at caliper, disc or brake line was finished, bled and tested by a competent person.",
        "tick", AFTER, ("brakes_near",), task="fit_sensor", safety=True, second=True),
)
LOCKER = (
    Step("warm", "A screw set in threadlocker is warmed before it is undone, not forced; paint, seals and tyre near "
        "by are shielded from the heat.", "tick", WORK, task="heat"),
)
TURN_ROTOR = (
    Step("rotor_play", "Turn the rotor in braking direction to the end of its play and hold it there while its bolts "
        "are tightened.", "tick", PROVE, ("rotor_magnet",)),
)
CALIPER = (
    Step("torque_caliper",
        "Caliper bolts, where they were undone: to the torque of the vehicle's manual. Enter value and unit.", "torque",
        PROVE, ("brakes_near",), task="fit_sensor", safety=True, second=True),
)
ROUTE = (
    Step("route_cycle", "Lay the lead along fork or stay, then with the brake line up to the handlebar.", "tick", WORK,
        ("cycle",)),
    Step("route", "Lay the lead along the vehicle's own loom, away from ignition leads, exhaust and belts.", "tick",
        WORK, ("engine",), unless=("afloat",)),
    Step("route_afloat", "Lay the lead high and dry, away from engine leads and antenna; a loop hangs lower than the "
        "plug, so that water drips off.", "tick", WORK, ("afloat",)),
    Step("route_other", "Lay the lead along the frame, away from motor leads and everything that turns.", "tick", WORK,
        unless=("cycle", "engine", "afloat")),
    Step("slack", "Handlebar or steering from lock to lock, springs from full droop to full bump: the lead is never "
        "pulled tight.", "decide", WORK, ("steered",), safety=True, stop="Lay it again with a loop where it bends."),
    Step("touches", "Turn the {turned} once: the lead touches nothing that turns.", "decide", WORK, unless=("afloat",),
        task="spin", safety=True, stop="Lay it again. {do_not_drive} before it is clear."),
    Step("ties", "Tie it by hand only, a tie every 100 mm; none on the fitting of a brake hose, none so tight that it "
        "dents the lead.", "tick", WORK, ("lifted",)),
    Step("ties_other", "Tie it by hand only, a tie every 100 mm; none so tight that it dents the lead.", "tick", WORK,
        unless=("lifted",)),
)
CUT = (
    Step("cut_ties", "Only now pull the ties tight and cut them flush: no sharp end stays.", "tick", AFTER),
)
BATTERY_IN = (
    Step("battery_way", "Put the battery in the way its marks say; the contacts are clean and dry, the cover's seal "
        "is in its groove.", "tick", WORK),
)
UNITS_AGAIN = (
    Step("units_again", "Set unit, clock and time zone of the display again, and every other setting that it has "
        "lost. Settings card: {card}.", "tick", AFTER, task="set"),
)
FINISH = (
    Step("unit_lamp", "The warning lamp of the vehicle's own brake unit goes out, at a walk at the latest.", "decide",
        AFTER, ("shared",), safety=True,
        stop="{do_not_drive}. Take the connection to its sensor off and have the brake unit read out."),
    Step("leads", "Leads tied clear of {clear_of}; ties trimmed.", "tick", AFTER, ("wires",)),
    Step("photo_after", "Take a photo of the finished work.", "photo", AFTER),
    Step("odometer", "Write the odometer or hours down.", "measure", AFTER, measure="odometer"),
    Step("road_check", "Check it over a known distance or against a satellite soon.", "tick", AFTER,
        unless=("machine",)),
    Step("belt_check", "Check it soon: time a mark over a measured length.", "tick", AFTER, ("machine",)),
)
ROLL_OUT = (
    Step("pressure", "Set the working pressure and load, and write the pressure down.", "measure", GROUND, ("tyre",),
        measure="pressure"),
    Step("roll", "Chalk wheel and floor; roll straight for three turns; tape from mark to mark.", "measure", GROUND,
        ("rolls",), task="roll_out", measure="roll_out"),
)
COUNT = (
    Step("count", "Chalk the first {one} and count once round, then the other way; {count} is entered here.", "measure",
        WORK, ("several",), measure="count"),
    Step("count_one", "Turn it once round and count what passes the sensor; {count} is entered here.", "measure", WORK,
        unless=("several", "no_target"), measure="count"),
)
WIRES = (
    Step("wires", "Wire it as tested, colours alone are no proof: {wires}.", "tick", WORK, ("named_wires",),
        task="wire"),
    Step("wires_unnamed", "Wire it as its maker says, and note what each wire was tested to be.", "tick", WORK,
        ("wires",), unless=("named_wires", "own_battery"), task="wire"),
    Step("levels", "Measure the supply at the plug before the reader is plugged in.", "measure", WORK, ("active",),
        unless=("cycle", "own_battery"), task="wire", measure="supply"),
)

TEMPLATES: tuple[Template, ...] = (
    Template("new_installation", "New installation", "Sensor, target, bracket, tape, chalk, feeler gauge, meter.", (
        *PARTS_IN_HAND, *READ_SETTINGS, *ROLL_OUT, *LIFT, *BATTERY, *COUNT,
        Step("turns", "Count the turns of the shaft for ten turns of the wheel: {ratio}.", "measure", WORK,
            ("driven_shaft",), task="lift", measure="shaft_turns"),
        Step("bracket", "Fit bracket and sensor by hand only: stiff, its bolts cannot fall into the wheel.", "tick",
            WORK, ("bolted",), task="fit_sensor"),
        Step("ties", "Fit the sensor to fork or stay, and the lead along it, with ties by hand only; cut the ties at "
            "the end.", "tick", WORK, ("cycle", "wires"), task="fit_sensor"),
        Step("sensor_mode", "Sensor in the mode for speed, its battery the right way round; paired with the display.",
            "decide", WORK, ("radio",),
            stop="Remove other transmitters and pair again: the sheet Pairing of a wireless sensor leads through it."),
        *GAP, *WIRES, *SET_AND_SPIN, *TORQUE_SENSOR, *BRAKE_PERSON, *WHEEL_ON, *LEARN, *FINISH,
    ), unless=("afloat",), stage="sensor"),
    Template("rotor_bolt_magnet", "Magnet on a rotor bolt",
        "Bolt magnets, threadlocker for their bolts, torque wrench, feeler gauge.", (
        Step("on_rotor", "The magnets are to sit in the bolts of the brake rotor or of its carrier.", "decide", BEFORE,
            stop="Use the sheet New installation: these steps are for the bolts of a rotor."),
        *PARTS_IN_HAND, *READ_SETTINGS, *LIFT, *BATTERY,
        Step("cold", "The rotor is cold, clean and dry; the braking surface stays free.", "decide", WORK,
            task="fit_magnets", safety=True, stop="Wait until it is cold and clean."),
        *LOCKER,
        Step("bolts", "Take one rotor bolt out at a time and fit the magnet's bolt of the same length and grade.",
            "tick", WORK, task="fit_magnets"),
        Step("poles", "All magnets show the sensor the same pole: try them with a compass or a marked magnet.",
            "decide", WORK, stop="Turn the wrong one round."),
        *COUNT, *GAP, *SET_AND_SPIN,
        Step("rotor_play", "Turn the rotor in braking direction to the end of its play and hold it there while its "
            "bolts are tightened.", "tick", PROVE),
        Step("torque_bolts", "Only after the spin test: tighten the rotor bolts to the torque of the vehicle's "
            "manual. Enter value and unit.", "torque", PROVE, task="fit_sensor", safety=True, second=True),
        *CALIPER, *TORQUE_SENSOR, *BRAKE_PERSON, *WHEEL_ON, *LEARN, *FINISH,
    ), when=("magnets", "lifted", "hub_target"), unless=("spokes",), stage="target"),
    Template("spoke_magnets", "Magnets on spokes", "Spoke magnets, tape, marker.", (
        *READ_SETTINGS,
        Step("tight", "No loose or broken spoke; the wheel runs true.", "decide", BEFORE, safety=True,
            stop="Have the wheel trued first."),
        Step("mark", "Mark the spokes: {spokes}.", "tick", WORK, task="fit_magnets"),
        Step("clamp", "Clamp every magnet at the same radius, the same pole to the sensor.", "tick", WORK,
            task="fit_magnets"),
        *COUNT, *GAP, *SET_AND_SPIN, *TORQUE_SENSOR, *LEARN, *FINISH,
    ), when=("spokes",), stage="target"),
    Template("ring_swap", "Change of the ring", "New ring, feeler gauge, torque wrench.", (
        *PARTS_IN_HAND, *READ_SETTINGS, *LIFT,
        Step("old_count", "Count the ring that comes off, for the record: it was entered as {count}.", "tick", WORK,
            task="lift"),
        Step("warm", "A screw set in threadlocker is warmed before it is undone, not forced; seals near by are "
            "shielded from the heat.", "tick", WORK, ("bolted",), task="heat"),
        Step("fit_ring", "Fit the new ring square and clean on its seat; it runs true.", "decide", WORK,
            stop="Seat it again: runout causes speed ripple."),
        *COUNT, *GAP, *SET_AND_SPIN,
        Step("torque_ring", "Tighten the ring's bolts to the torque of the vehicle's manual. Enter value and unit.",
            "torque", PROVE, task="fit_sensor", unless=("cycle",), safety=True),
        Step("everyone", "Everything that reads this {target} gets the new count: displays, limiter, slip control, "
            "brake control.", "decide", AFTER, task="set", unless=("cycle", "machine"), safety=True,
            stop="{do_not_drive} before all of them agree."),
        *BRAKE_PERSON, *WHEEL_ON, *LEARN, *FINISH,
    ), when=("ring", "on_wheels"), stage="target"),
    Template("tyre_change", "Change of the tyre", "New tyre, tape, chalk.", (
        *READ_SETTINGS, *LIFT,
        Step("marking", "Read the marking of the new tyre on both sides.", "tick", WORK),
        Step("direction", "Arrow of rotation the right way round; bead seated all round.", "decide", WORK, safety=True,
            stop="Seat it again before it is inflated further."),
        *WHEEL_ON,
        Step("tread", "Measure the tread depth.", "measure", GROUND, ("tyre",), unless=("cycle",), measure="tread"),
        *ROLL_OUT, *SET,
        Step("others", "Every other display and control of this wheel gets its new setting.", "tick", AFTER,
            ("several_readouts",), task="set"),
        *FINISH,
    ), when=("tyre",), stage="wheel"),
    Template("wheel_swap", "Change of the wheel", "The other wheel with all that is fitted to it, torque wrench.", (
        *READ_SETTINGS, *LIFT,
        Step("target_moved", "The new wheel carries its {target}: moved over from the wheel that came off, or another "
            "one.", "decide", WORK, ("hub_target",), task="fit_magnets", stop="Without that {gone}."),
        Step("pattern", "The rotor's fitting is the same on both: centre-lock or six bolts, and the magnet sits at "
            "the same radius.", "decide", WORK, ("rotor_magnet",),
            stop="A rotor of the other fitting puts the magnet elsewhere: measure the gap and the radius anew."),
        *COUNT, *GAP, *SPIN, *TURN_ROTOR,
        Step("torque_rotor", "Rotor: lock ring or six bolts to the torque on the part or in the manual, in a star. "
            "Enter value and unit.", "torque", PROVE, ("rotor_magnet",), safety=True, second=True),
        *BRAKE_PERSON, *WHEEL_ON,
        *ROLL_OUT, *SET, *FINISH,
    ), when=("lifted",), stage="wheel"),
    Template("brake_control_swap", "Brake-control rings or sensors, four corners",
        "Four equal rings or sensors, torque wrench, a competent person for the brakes.", (
        Step("competent", "A person qualified for brakes is present and signs. Keep to the maker's procedure.", "tick",
            BEFORE, task="brakes", safety=True, second=True),
        *READ_SETTINGS, *PARTS_IN_HAND, *LIFT, *BATTERY,
        Step("count_fl", "Front left: count.", "measure", WORK, task="brakes", measure="count"),
        Step("count_fr", "Front right: count. Equal to the front left.", "decide", WORK, safety=True,
            stop="Unequal counts make the brake control release a wheel. Fit equal rings."),
        Step("count_rl", "Rear left: count. Equal to the front, or as the controller expects.", "decide", WORK,
            safety=True, stop="Fit the ring that the controller expects."),
        Step("count_rr", "Rear right: count. Equal to the rear left.", "decide", WORK, safety=True,
            stop="Fit equal rings."),
        Step("sizes", "All four tyres are of the sizes that the controller expects.", "decide", WORK, safety=True,
            stop="Do not drive with brake control on: it takes a smaller tyre for a slipping one."),
        *GAP, *WIRES, *SPIN,
        Step("torque_hub_nut",
            "Hub nuts to the torque of the vehicle's manual, new ones where it says so. Enter value and unit.",
            "torque", PROVE, task="fit_sensor", safety=True, second=True),
        *CALIPER, *TORQUE_SENSOR,
        Step("pedal_switch", "The controller sees the pedal switch on and off, through its relay where it has one.",
            "decide", PROVE, task="brakes", safety=True,
            stop="Find the wire first: without it the controller does not know that you brake."),
        Step("pressure_sensors",
            "Pressure sensors front and rear: each rises with its own circuit, and is plugged where it belongs.",
            "decide", PROVE, task="brakes", safety=True, stop="Swap the plugs, or have the sensor tested."),
        Step("yaw", "The yaw sensor sits level on its own mounting, its arrow as the controller's maker says.",
            "decide", PROVE, task="brakes", safety=True,
            stop="Turn it: the wrong way round the controller brakes the wrong wheel."),
        Step("bled", "Brakes bled, the controller's pump cycled as its maker says, and tested by the competent "
            "person: pedal firm, no leaks.", "tick", PROVE, task="brakes", safety=True, second=True),
        Step("computer", "The controller's own check shows four equal speeds at a walk and no stored fault.", "decide",
            PROVE, task="brakes", safety=True, stop="Do not drive on the road. Find the corner that differs."),
        *WHEEL_ON, *FINISH,
    ), when=("brake_control",), stage="target"),
    Template("gearbox_output", "Sensor at the gearbox output",
        "Sensor, sealing washer, oil tray, torque wrench, meter.", (
        *PARTS_IN_HAND, *READ_SETTINGS, *LIFT, *BATTERY,
        Step("cool", "Gearbox cool; tray below; the hole clean.", "decide", BEFORE, safety=True,
            stop="Wait: hot oil burns."),
        Step("reach", "Measure the reach of the original from its face to its tip; the new one has the same.", "decide",
            WORK, stop="Too long: it touches the ring. Too short: no signal. Shim or replace it."),
        Step("turns", "Count the turns of the shaft for ten turns of the wheel: {ratio}.", "measure", WORK, task="lift",
            measure="shaft_turns"),
        Step("supplier", "The supplier's questions are answered: the order sheet is with the wiring.", "tick", WORK),
        *COUNT, *WIRES, *SET_AND_SPIN,
        Step("torque_sensor", "Sensor and sealing washer to the torque of the vehicle's manual. Enter value and unit.",
            "torque", PROVE, task="fit_sensor", safety=True),
        Step("oil", "Oil level right; no drip after ten minutes.", "timer", PROVE, seconds=600),
        *LEARN, *FINISH,
    ), when=("driven_shaft",), stage="sensor"),
    Template("gearing_change", "Change of gearing or sprockets",
        "The new parts, torque wrench, what the manual asks for.", (
        *READ_SETTINGS, *LIFT,
        Step("old_ratio", "Write down what comes off: {ratio}.", "tick", BEFORE),
        Step("new_teeth", "Count the teeth of every part that goes on and keep them with the installation, "
            "under Drive.", "decide", WORK, task="lift", stop="Without the count the new setting is a guess."),
        Step("torque_gearing", "Sprocket, flange or cover to the torque of the vehicle's manual. Enter value and unit.",
            "torque", WORK, ("bolted",), safety=True),
        Step("chain", "Chain or belt straight and at its tension; the lever or axle closed.", "decide", WORK,
            ("two_wheels",), safety=True, stop="{do_not_drive}."),
        Step("turns", "Count the turns of the shaft for ten turns of the wheel: {ratio}.", "measure", WORK,
            ("driven_shaft",), task="lift", measure="shaft_turns"),
        *_entering(PROVE), *TURN,
        Step("everyone", "Every other display and control behind this gearing gets its new setting.", "decide", AFTER,
            ("several_readouts",), task="set", stop="{do_not_drive} before all of them agree."),
        *WHEEL_ON, *LEARN, *FINISH,
    ), when=("geared", "on_wheels"), stage="drive"),
    Template("cable_routing", "Cable routing", "Ties, side cutter, sleeve.", (
        *LIFT, *ROUTE, *SPIN, *CUT,
        Step("photo_after", "Take a photo of the finished work.", "photo", AFTER),
    ), when=("wires",), unless=("sealed_paddle",), stage="signal"),
    Template("power_lead", "Power lead, fuse and crimps", "Fuse and holder, crimp tool, heat-shrink, meter.", (
        Step("safe_ground", "Firm, level ground; wheels chocked; key out.", "tick", BEFORE, ("key",), safety=True),
        Step("feed_switched",
            "Take the feed from a circuit that is dead while everything is switched off: measure it before you cut "
            "anything.", "decide", BEFORE, unless=("permanent_feed",), task="wire",
            stop="Find another circuit: this one would drain the battery."),
        Step("feed_live", "This feed is live at all times: the reader draws little enough to stand for weeks, or gets "
            "a switch.", "decide", BEFORE, ("permanent_feed",), task="wire",
            stop="Fit a switch, or take a switched circuit."),
        *BATTERY,
        Step("fuse", "Fit the fuse at the source, within 200 mm of it; its value is that of the thinnest wire behind "
            "it.", "tick", WORK, safety=True),
        Step("crimps", "Every crimp holds a firm pull by hand, is sealed by heat-shrink, and shows no bare strand.",
            "decide", WORK, stop="Cut it off and crimp it again: no soldered joint where it shakes."),
        Step("ground", "Sensor, converter and reader share one ground, on bare metal or at the reader itself.", "tick",
            WORK),
        *PLUG_IN,
        Step("levels", "Measure the supply at the plug before the reader is plugged in.", "measure", PROVE, ("active",),
            measure="supply"),
        Step("levels_running",
            "Outdoors, hands clear of belts and fan: engine at a fast idle, everything switched on; the supply stays "
            "within the range of sensor and reader.", "decide", PROVE, ("engine",),
            stop="Find the drop, or feed it by a lead of its own."),
        Step("photo_after", "Take a photo of the finished work.", "photo", AFTER),
    ), when=("wires", "powered"), unless=("cycle", "own_battery", "machine"), stage="signal"),
    Template("pairing", "Pairing of a wireless sensor", "New battery, a coin for its cover.", (
        *BATTERY_IN,
        Step("mode", "The sensor is in the mode for speed: its light or its display says which; not in the mode for "
            "cadence.", "decide", WORK,
            stop="Switch the mode as its maker says; often by taking the battery out and in."),
        Step("alone", "No other sensor of its kind within ten metres is awake.", "tick", WORK),
        Step("pair", "Wake the sensor and pair it: the display lists it as a speed sensor.", "decide", WORK,
            stop="Battery, mode, then distance; delete an old pairing and begin again."),
        *_entering(WORK), *TURN, *UNITS_AGAIN,
    ), when=("radio",), stage="sensor"),
    Template("battery_change", "Change of the battery", "New battery, cloth.", (
        *READ_SETTINGS,
        Step("battery", "Take the old battery out; the new one is of the same type, and measured.", "tick", WORK),
        *BATTERY_IN, *_entering(AFTER), *UNITS_AGAIN, *TURN,
    ), when=("own_battery",), stage="readout"),
    Template("paddle_through_hull", "Paddle through the hull", "Housing, bung, sealant as its maker says.", (
        *PARTS_IN_HAND, *LIFT,
        Step("bung", "Bung at hand; know how the housing is closed. Bilge watched while it is open.", "tick", BEFORE,
            task="water_test", safety=True),
        Step("where", "Clear water ahead of propeller, keel and other fittings; parallel to the keel.", "decide", WORK,
            stop="Disturbed water falsifies it: choose another place."),
        Step("hole", "Drill from a template; core and laminate sealed.", "tick", WORK, safety=True),
        Step("arrow", "The arrow points ahead; the paddle turns free.", "decide", WORK,
            stop="Turn it before it is tightened."),
        Step("tight", "Afloat: no leak after ten minutes.", "timer", PROVE, safety=True, seconds=600),
        Step("spin_test", "Blow or turn the paddle: the display moves.", "decide", PROVE,
            stop="Look at plug, wire and supply."),
        *SET, *FINISH,
    ), when=("afloat",), stage="sensor"),
    Template("paddle_on_hull", "Paddle on the hull", "Bracket, screws for the hull, sealant.", (
        *PARTS_IN_HAND, *LIFT,
        Step("where", "Below the water at every speed, clear of propeller wash; parallel to the keel.", "decide", WORK,
            stop="Choose another place."),
        Step("fit", "Fit the bracket, holes sealed; it kicks up or breaks away where it must.", "tick", WORK),
        Step("arrow", "The paddle turns free.", "decide", WORK, stop="Clean it."),
        Step("spin_test", "Turn the paddle by hand: the display moves.", "decide", PROVE, task="spin",
            stop="Look at plug, wire and supply."),
        *SET,
        Step("reciprocal", "Run there and back, three times: the water check's sheet leads through it.", "tick", AFTER,
            task="water_test"),
        *FINISH,
    ), when=("afloat", "on_hull"), stage="sensor"),
    Template("gauge_converter", "Gauge through a converter", "Converter, fuse, meter, the card of check speeds.", (
        *PARTS_IN_HAND, *READ_SETTINGS, *BATTERY, *WIRES,
        Step("ratio", "Set the converter: {setting}.", "tick", WORK, task="convert"),
        Step("card", "Drive the gauge from the bench or on the road at each speed of the card and enter what it shows.",
            "tick", PROVE, task="convert"),
        Step("end", "The needle neither stands at its end nor falls back at the highest speed.", "decide", PROVE,
            stop="Choose another ratio: the gauge is over its range."),
        *SET, *FINISH,
    ), when=("converted",), stage="signal"),
    Template("learning_ride", "Learning ride", "A second person, private ground, the reader's instructions.", (
        Step("ground", "Private or closed ground, straight and smooth; a second person reads.", "tick", BEFORE,
            task="drive_test", safety=True),
        Step("pressure", "Tyres at working pressure.", "measure", BEFORE, ("tyre",), measure="pressure"),
        Step("start", "Start the learning as the reader's maker says.", "tick", WORK),
        Step("hold", "Hold the speed until the lamp or display answers; the ride's timer is under Readout.", "timer",
            WORK, task="drive_test", seconds=10),
        Step("wait", "Stop, engine off, wait a minute.", "timer", WORK, ("engine",), seconds=60),
        Step("wait_still", "Stop and wait a minute.", "timer", WORK, unless=("engine",), seconds=60),
        Step("answered", "The reader confirms that it has learned.", "decide", PROVE,
            stop="Do it again from the start."),
        *FINISH,
    ), when=("learned",), stage="readout"),
    Template("road_check", "Road check", "Satellite receiver or phone, a second person.", (
        Step("ground", "Keep to the traffic law. {driver}", "tick", BEFORE, unless=("cycle",), task="drive_test",
            safety=True),
        Step("path", "A quiet road or path; phone or logger records, and is read afterwards.", "tick", BEFORE,
            ("cycle",), task="drive_test", safety=True),
        Step("pressure", "Tyres warm, at working pressure; load as driven. Write the pressure down.", "measure", BEFORE,
            ("tyre",), measure="pressure"),
        Step("record", "Record: hold a steady speed for twenty seconds, three times and more, both ways.", "tick", WORK,
            task="drive_test"),
        Step("true", "True speed that was held.", "measure", WORK, measure="true_speed"),
        Step("shown", "Speed that was shown then.", "measure", WORK, measure="shown_speed"),
        Step("bring_in", "Bring the recording in under Readout, Check with a recorded drive; save the passed test.",
            "tick", PROVE),
        *SET, Step("odometer", "Write the odometer or hours down.", "measure", AFTER, measure="odometer"),
    ), when=("rolls",), stage="readout"),
    Template("water_check", "Water check", "Satellite receiver or phone, a second person, two marks.", (
        Step("look_out", "A look-out; clear water; nobody reads a screen at the helm.", "tick", BEFORE,
            task="water_test", safety=True),
        Step("clean", "Paddle clean and free.", "decide", BEFORE, stop="Clean it: growth slows it."),
        Step("runs", "Run there and back, straight, one throttle, half a minute each at least; a third run also "
            "cancels a current that changes.", "tick", WORK, task="water_test"),
        Step("true", "Mean speed over ground, both ways.", "measure", WORK, measure="true_speed"),
        Step("shown", "Mean shown speed.", "measure", WORK, measure="shown_speed"),
        Step("bring_in", "Bring the recording in; its reciprocal runs give the calibration.", "tick", PROVE),
        *SET,
    ), when=("afloat",), stage="readout"),
    Template("yearly_service", "Yearly service", "Cloth, feeler gauge, meter, battery.", (
        *LIFT,
        Step("clean", "{clean}", "tick", WORK),
        Step("damage", "No damaged {one}, no crack, no worn lead.", "decide", WORK, ("teeth",), safety=True,
            stop="Exchange it first. {do_not_drive}."),
        Step("loose", "No loose {one}, no crack, no worn lead.", "decide", WORK, ("on_wheels",),
            unless=("teeth", "no_target"), safety=True, stop="Exchange it first. {do_not_drive}."),
        *GAP,
        Step("battery", "Battery of sensor and display: new, or measured.", "tick", WORK, ("own_battery",)),
        *SPIN, *WHEEL_ON,
        Step("tread", "Measure the tread depth.", "measure", GROUND, ("tyre",), unless=("cycle",), measure="tread"),
        *ROLL_OUT,
        Step("odometer", "Write the odometer or hours down.", "measure", AFTER, measure="odometer"),
    )),
)
# fmt: on
"""All templates, in the order in which they are offered."""
BY_CODE = {template.code: template for template in TEMPLATES}
WITH_DRAWINGS = ("new_installation", "ring_swap")
"""Jobs on whose paper the ring and the bracket are drawn at full size, where the installation has them."""
