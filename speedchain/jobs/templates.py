"""The jobs, as data. Order and content of the steps: common practice; torques are the vehicle's manual's, never ours."""

from __future__ import annotations

from speedchain.jobs.steps import StepTemplate as Step
from speedchain.jobs.steps import Template

BEFORE, GROUND, WORK, PROVE, AFTER = "Preparation", "Vehicle on its wheels", "Work", "Verification", "Records"

# fmt: off
READ_SETTINGS = (
    Step("note_setting", "Read the setting of {readout} back and write it down; {setting_now}.", "measure", BEFORE, ("typed",), measure="setting"),
    Step("photo_before", "Take a photo of the part as it is now.", "photo", BEFORE),
)
LIFT = (
    Step("safe_ground", "Firm, level ground; wheels chocked; key out.", "tick", BEFORE, ("on_wheels",), safety=True),
    Step("lift", "Lift the wheel. On a car: on stands, never on the jack alone. It stands firm when you push it.", "decide", BEFORE, ("on_wheels",), task="lift", safety=True, stop="Lower it and begin again on firm ground."),
    Step("ashore", "Ashore or moored, engine off, key out, propeller out of reach.", "tick", BEFORE, ("afloat",), task="spin", safety=True),
)
BATTERY = (
    Step("battery_off", "Disconnect the battery, negative first.", "tick", BEFORE, ("wires", "powered"), unless=("cycle",), task="wire", safety=True),
)
GAP = (
    Step("clearance", "Turn it by hand through a full turn: nothing touches, steering at full lock as well.", "decide", WORK, ("on_wheels",), task="fit_sensor", safety=True, stop="It does not turn free: stop. Shim or move the sensor before anything turns."),
    Step("gap_near", "Find the tooth or magnet that comes nearest and set the gap there: {gap}.", "measure", WORK, measure="gap"),
    Step("gap_far", "Turn on to the one furthest away: the gap is still within {gap}.", "decide", WORK, ("teeth",), stop="The ring runs out too far: true it or choose a sensor that reaches further."),
    Step("clocking", "{clocking}", "tick", WORK, ("single_element",)),
)
def _entering(part: str) -> tuple[Step, ...]:
    """The setting goes in before the test that needs it."""
    return (
        Step("enter_setting", "Enter {setting} into {readout}.", "tick", part, ("typed",), task="set"),
        Step("read_back", "Read the setting back from the display.", "measure", part, ("typed",), measure="setting"),
        Step("cannot_set", "{readout} cannot be set: what it will show is {shown}.", "tick", part, ("fixed",), task="set"),
    )


LEARN = (
    Step("learn", "Do the learning ride of {readout}: its own sheet leads through it.", "tick", AFTER, ("learned",)),
)
SET = (*_entering(AFTER), *LEARN)
PLUG_IN = (
    Step("plug_in", "Plug the sensor in; connect the battery, negative last.", "tick", PROVE, ("wires",)),
)
TURN = (
    Step("magnet_test", "Pass a magnet or a piece of steel by the sensor: the display moves.", "decide", PROVE, ("powered",), task="magnet", stop="Nothing shown: look at plug, wire and supply before you go on."),
    Step("spin_test", "Turn the wheel evenly, ten turns in ten seconds. Expected: {spin}. Write down what is shown.", "measure", PROVE, ("powered",), task="spin", measure="shown_speed"),
    Step("spin_agrees", "What was shown agrees with what was expected.", "decide", PROVE, ("powered",), stop="Do not torque and do not drive: find the fault first."),
)
SPIN = (*PLUG_IN, *TURN)
SET_AND_SPIN = (*PLUG_IN, *_entering(PROVE), *TURN)
TORQUE_SENSOR = (
    Step("torque_sensor", "Tighten the sensor's bolt to the torque of the vehicle's manual. Enter value and unit from the manual.", "torque", PROVE, task="fit_sensor", unless=("cycle", "afloat")),
    Step("tighten_sensor", "Tighten the sensor's clamp or tie; the gap has not moved.", "tick", PROVE, ("cycle",)),
)
WHEEL_ON = (
    Step("torque_wheel", "Tighten the wheel in the order and to the torque of the vehicle's manual. Enter value and unit from the manual.", "torque", AFTER, ("on_wheels",), unless=("cycle",), safety=True, second=True),
    Step("axle", "Wheel straight in the dropouts; axle or lever closed as its maker says.", "decide", AFTER, ("cycle",), safety=True, stop="Do not ride."),
    Step("brakes_work", "Brakes work before anyone moves off: lever or pedal firm, wheel free when released.", "decide", AFTER, ("on_wheels",), safety=True, stop="Do not drive. A competent person finishes, bleeds and tests the brakes."),
)
BRAKE_PERSON = (
    Step("brakes_finished", "Work at caliper, disc or brake line was finished, bled and tested by a competent person.", "tick", AFTER, ("brakes_near",), task="fit_sensor", safety=True, second=True),
)
FINISH = (
    Step("leads", "Leads tied clear of wheel, chain, disc and steering; ties trimmed.", "tick", AFTER, ("wires",)),
    Step("photo_after", "Take a photo of the finished work.", "photo", AFTER),
    Step("odometer", "Write the odometer or hours down.", "measure", AFTER, measure="odometer"),
    Step("road_check", "Check it over a known distance or against a satellite soon.", "tick", AFTER),
)
ROLL_OUT = (
    Step("pressure", "Set the working pressure and load, and write the pressure down.", "measure", GROUND, ("on_wheels",), measure="pressure"),
    Step("roll", "Chalk tyre and floor; roll straight for three turns; tape from mark to mark.", "measure", GROUND, ("on_wheels",), task="roll_out", measure="roll_out"),
)
COUNT = (
    Step("count", "Chalk the first one and count once round, then the other way; {count} is entered here.", "measure", WORK, measure="count"),
)
WIRES = (
    Step("wires", "Wire it as tested, colours alone are no proof: {wires}.", "tick", WORK, ("wires",), task="wire"),
    Step("levels", "Measure the supply at the plug before the reader is plugged in.", "measure", WORK, ("wires", "powered"), unless=("cycle",), task="wire", measure="supply"),
)

TEMPLATES: tuple[Template, ...] = (
    Template("new_installation", "New installation", "Sensor, target, bracket, tape, chalk, feeler gauge, meter.", (
        *READ_SETTINGS, *ROLL_OUT, *LIFT, *BATTERY, *COUNT,
        Step("turns", "Count the turns of the shaft for ten turns of the wheel: {ratio}.", "measure", WORK, ("driven_shaft",), task="lift", measure="shaft_turns"),
        Step("bracket", "Fit bracket and sensor by hand only: stiff, its bolts cannot fall into the wheel.", "tick", WORK, ("on_wheels",), task="fit_sensor"),
        *GAP, *WIRES, *SET_AND_SPIN, *TORQUE_SENSOR, *BRAKE_PERSON, *WHEEL_ON, *LEARN, *FINISH,
    ), unless=("afloat",)),
    Template("rotor_bolt_magnet", "Magnet on a rotor bolt", "Bolt magnets, threadlocker for their bolts, torque wrench, feeler gauge.", (
        *READ_SETTINGS, *LIFT, *BATTERY,
        Step("cold", "The rotor is cold, clean and dry; the braking surface stays free.", "decide", WORK, task="fit_magnets", safety=True, stop="Wait until it is cold and clean."),
        Step("bolts", "Take one rotor bolt out at a time and fit the magnet's bolt of the same length and grade.", "tick", WORK, task="fit_magnets"),
        Step("poles", "All magnets show the sensor the same pole: try them with a compass or a marked magnet.", "decide", WORK, stop="Turn the wrong one round."),
        *COUNT, *GAP, *SET_AND_SPIN,
        Step("torque_bolts", "Only after the spin test: tighten the rotor bolts to the torque of the vehicle's manual. Enter value and unit.", "torque", PROVE, task="fit_sensor", safety=True, second=True),
        *TORQUE_SENSOR, *BRAKE_PERSON, *WHEEL_ON, *LEARN, *FINISH,
    ), when=("magnets", "on_wheels"), unless=("spokes",)),
    Template("spoke_magnets", "Magnets on spokes", "Spoke magnets, tape, marker.", (
        *READ_SETTINGS,
        Step("tight", "No loose or broken spoke; the wheel runs true.", "decide", BEFORE, safety=True, stop="Have the wheel trued first."),
        Step("mark", "Mark the spokes: {spokes}.", "tick", WORK, task="fit_magnets"),
        Step("clamp", "Clamp every magnet at the same radius, the same pole to the sensor.", "tick", WORK, task="fit_magnets"),
        *COUNT, *GAP, *SET_AND_SPIN, *TORQUE_SENSOR, *LEARN, *FINISH,
    ), when=("spokes",)),
    Template("ring_swap", "Change of the ring", "New ring, feeler gauge, torque wrench.", (
        *READ_SETTINGS, *LIFT,
        Step("old_count", "Count the ring that comes off, for the record: it was entered as {count}.", "tick", WORK, task="lift"),
        Step("fit_ring", "Fit the new ring square and clean on its seat; it runs true.", "decide", WORK, stop="Seat it again: runout causes speed ripple."),
        *COUNT, *GAP, *SET_AND_SPIN,
        Step("torque_ring", "Tighten the ring's bolts to the torque of the vehicle's manual. Enter value and unit.", "torque", PROVE, task="fit_sensor", unless=("cycle",), safety=True),
        Step("everyone", "Everything that reads this ring gets the new count: displays, limiter, slip control, brake control.", "decide", AFTER, task="set", safety=True, stop="Do not drive before all of them agree."),
        *BRAKE_PERSON, *WHEEL_ON, *LEARN, *FINISH,
    ), when=("teeth", "on_wheels")),
    Template("tyre_change", "Change of the tyre", "New tyre, tape, chalk.", (
        *READ_SETTINGS, *LIFT,
        Step("marking", "Read the marking of the new tyre on both sides.", "tick", WORK),
        Step("direction", "Arrow of rotation the right way round; bead seated all round.", "decide", WORK, safety=True, stop="Seat it again before it is inflated further."),
        *WHEEL_ON,
        Step("tread", "Measure the tread depth.", "measure", GROUND, ("on_wheels",), measure="tread"),
        *ROLL_OUT, *SET,
        Step("others", "Every other display and control of this wheel gets its new setting.", "tick", AFTER, ("several_readouts",), task="set"),
        *FINISH,
    ), when=("on_wheels",)),
    Template("wheel_swap", "Wheel swap with rotor and magnet", "Wheel with rotor, magnet or ring of the other wheel, torque wrench.", (
        *READ_SETTINGS, *LIFT,
        Step("target_moved", "The new wheel carries its magnet or ring: moved over from the wheel that came off, or another one.", "decide", WORK, task="fit_magnets", stop="Without it the display shows nothing and brake control reports a fault: fit it first."),
        Step("pattern", "The rotor's fitting is the same on both: centre-lock or six bolts, and the target sits at the same radius.", "decide", WORK, stop="A rotor of the other fitting puts the target elsewhere: measure the gap and the radius anew."),
        *COUNT, *GAP, *SPIN,
        Step("torque_rotor", "Rotor: lock ring or six bolts to the torque on the part or in the manual, in a star. Enter value and unit.", "torque", PROVE, safety=True, second=True),
        *BRAKE_PERSON, *WHEEL_ON,
        *ROLL_OUT, *SET, *FINISH,
    ), when=("on_wheels",)),
    Template("brake_control_swap", "Brake-control rings or sensors, four corners", "Four equal rings or sensors, torque wrench, a competent person for the brakes.", (
        Step("competent", "A person qualified for brakes is present and signs. Keep to the maker's procedure.", "tick", BEFORE, task="brakes", safety=True, second=True),
        *READ_SETTINGS, *LIFT, *BATTERY,
        Step("count_fl", "Front left: count.", "measure", WORK, task="brakes", measure="count"),
        Step("count_fr", "Front right: count. Equal to the front left.", "decide", WORK, safety=True, stop="Unequal counts make the brake control release a wheel. Fit equal rings."),
        Step("count_rl", "Rear left: count. Equal to the front, or as the controller expects.", "decide", WORK, safety=True, stop="Fit the ring that the controller expects."),
        Step("count_rr", "Rear right: count. Equal to the rear left.", "decide", WORK, safety=True, stop="Fit equal rings."),
        Step("sizes", "All four tyres are of the sizes that the controller expects.", "decide", WORK, safety=True, stop="Do not drive with brake control on: it takes a smaller tyre for a slipping one."),
        *GAP, *WIRES, *SPIN,
        Step("torque_hubs", "Hubs, calipers and sensors to the torques of the vehicle's manual. Enter value and unit.", "torque", PROVE, task="fit_sensor", safety=True, second=True),
        Step("bled", "Brakes bled and tested by the competent person: pedal firm, no leaks.", "tick", PROVE, task="brakes", safety=True, second=True),
        Step("computer", "The controller's own check shows four equal speeds at a walk and no stored fault.", "decide", PROVE, task="brakes", safety=True, stop="Do not drive on the road. Find the corner that differs."),
        *WHEEL_ON, *FINISH,
    ), when=("brake_control",)),
    Template("gearbox_output", "Sensor at the gearbox output", "Sensor, sealing washer, oil tray, torque wrench, meter.", (
        *READ_SETTINGS, *LIFT, *BATTERY,
        Step("cool", "Gearbox cool; tray below; the hole clean.", "decide", BEFORE, safety=True, stop="Wait: hot oil burns."),
        Step("reach", "Measure the reach of the original from its face to its tip; the new one has the same.", "decide", WORK, stop="Too long: it touches the ring. Too short: no signal. Shim or replace it."),
        Step("turns", "Count the turns of the shaft for ten turns of the wheel: {ratio}.", "measure", WORK, task="lift", measure="shaft_turns"),
        Step("supplier", "The supplier's questions are answered: the order sheet is with the wiring.", "tick", WORK),
        *COUNT, *WIRES, *SET_AND_SPIN,
        Step("torque_sensor", "Sensor and sealing washer to the torque of the vehicle's manual. Enter value and unit.", "torque", PROVE, task="fit_sensor", safety=True),
        Step("oil", "Oil level right; no drip after ten minutes.", "timer", PROVE, seconds=600),
        *LEARN, *FINISH,
    ), when=("driven_shaft",)),
    Template("paddle_through_hull", "Paddle through the hull", "Housing, bung, sealant as its maker says.", (
        *LIFT,
        Step("bung", "Bung at hand; know how the housing is closed. Bilge watched while it is open.", "tick", BEFORE, task="water_test", safety=True),
        Step("where", "Clear water ahead of propeller, keel and other fittings; parallel to the keel.", "decide", WORK, stop="Disturbed water falsifies it: choose another place."),
        Step("hole", "Drill from a template; core and laminate sealed.", "tick", WORK, safety=True),
        Step("arrow", "The arrow points ahead; the paddle turns free.", "decide", WORK, stop="Turn it before it is tightened."),
        Step("tight", "Afloat: no leak after ten minutes.", "timer", PROVE, safety=True, seconds=600),
        Step("spin_test", "Blow or turn the paddle: the display moves.", "decide", PROVE, stop="Look at plug, wire and supply."),
        *SET, *FINISH,
    ), when=("afloat", "through_hull")),
    Template("paddle_on_hull", "Paddle on the hull", "Bracket, screws for the hull, sealant.", (
        *LIFT,
        Step("where", "Below the water at every speed, clear of propeller wash; parallel to the keel.", "decide", WORK, stop="Choose another place."),
        Step("fit", "Fit the bracket, holes sealed; it kicks up or breaks away where it must.", "tick", WORK),
        Step("arrow", "The paddle turns free.", "decide", WORK, stop="Clean it."),
        Step("spin_test", "Turn the paddle by hand: the display moves.", "decide", PROVE, task="spin", stop="Look at plug, wire and supply."),
        *SET,
        Step("reciprocal", "Run there and back, three times: the water check's sheet leads through it.", "tick", AFTER, task="water_test"),
        *FINISH,
    ), when=("afloat", "on_hull")),
    Template("gauge_converter", "Gauge through a converter", "Converter, fuse, meter, the card of check speeds.", (
        *READ_SETTINGS, *BATTERY, *WIRES,
        Step("ratio", "Set the converter: {setting}.", "tick", WORK, task="convert"),
        Step("card", "Drive the gauge from the bench or on the road at each speed of the card and enter what it shows.", "tick", PROVE, task="convert"),
        Step("end", "The needle neither stands at its end nor falls back at the highest speed.", "decide", PROVE, stop="Choose another ratio: the gauge is over its range."),
        *SET, *FINISH,
    ), when=("converted",)),
    Template("learning_ride", "Learning ride", "A second person, private ground, the reader's instructions.", (
        Step("ground", "Private or closed ground, straight and smooth; a second person reads.", "tick", BEFORE, task="drive_test", safety=True),
        Step("pressure", "Tyres at working pressure.", "measure", BEFORE, measure="pressure"),
        Step("start", "Start the learning as the reader's maker says.", "tick", WORK),
        Step("hold", "Hold the speed until the lamp or display answers; the ride's timer is under Readout.", "timer", WORK, task="drive_test", seconds=10),
        Step("wait", "Stop, engine off, wait a minute.", "timer", WORK, seconds=60),
        Step("answered", "The reader confirms that it has learned.", "decide", PROVE, stop="Do it again from the start."),
        *FINISH,
    ), when=("learned",)),
    Template("road_check", "Road check", "Satellite receiver or phone, a second person.", (
        Step("ground", "Keep to the traffic law. The driver operates nothing; a passenger or the logger records.", "tick", BEFORE, task="drive_test", safety=True),
        Step("pressure", "Tyres warm, at working pressure; load as driven. Write the pressure down.", "measure", BEFORE, measure="pressure"),
        Step("record", "Record: hold a steady speed for twenty seconds, three times and more, both ways.", "tick", WORK, task="drive_test"),
        Step("true", "True speed that was held.", "measure", WORK, measure="true_speed"),
        Step("shown", "Speed that was shown then.", "measure", WORK, measure="shown_speed"),
        Step("bring_in", "Bring the recording in under Readout, Check with a recorded drive; save the passed test.", "tick", PROVE),
        *SET, Step("odometer", "Write the odometer or hours down.", "measure", AFTER, measure="odometer"),
    ), when=("on_wheels",)),
    Template("water_check", "Water check", "Satellite receiver or phone, a second person, two marks.", (
        Step("look_out", "A look-out; clear water; nobody reads a screen at the helm.", "tick", BEFORE, task="water_test", safety=True),
        Step("clean", "Paddle clean and free.", "decide", BEFORE, stop="Clean it: growth slows it."),
        Step("runs", "Run there and back, straight, one throttle, half a minute each at least; a third run also cancels a current that changes.", "tick", WORK, task="water_test"),
        Step("true", "Mean speed over ground, both ways.", "measure", WORK, measure="true_speed"),
        Step("shown", "Mean shown speed.", "measure", WORK, measure="shown_speed"),
        Step("bring_in", "Bring the recording in; its reciprocal runs give the calibration.", "tick", PROVE),
        *SET,
    ), when=("afloat",)),
    Template("yearly_service", "Yearly service", "Cloth, feeler gauge, meter, battery.", (
        *LIFT,
        Step("clean", "Clean sensor, target and plug; no chips of metal on the magnet.", "tick", WORK),
        Step("damage", "No bent tooth, no crack, no loose magnet, no worn lead.", "decide", WORK, ("on_wheels",), safety=True, stop="Exchange it before it is driven."),
        *GAP,
        Step("battery", "Battery of sensor and display: new, or measured.", "tick", WORK, ("cycle",)),
        *SPIN, *WHEEL_ON,
        Step("tread", "Measure the tread depth.", "measure", GROUND, ("soft_tyre",), measure="tread"),
        *ROLL_OUT,
        Step("odometer", "Write the odometer or hours down.", "measure", AFTER, measure="odometer"),
    )),
)
# fmt: on
"""All templates, in the order in which they are offered."""
BY_CODE = {template.code: template for template in TEMPLATES}
WITH_DRAWINGS = ("new_installation", "ring_swap")
"""Jobs on whose paper the ring and the bracket are drawn at full size, where the installation has them."""
