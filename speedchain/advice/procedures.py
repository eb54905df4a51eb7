"""How to take each measurement: steps, what to mind, and what is needed. Common practice."""

from __future__ import annotations

from speedchain.advice.cautions import Task
from speedchain.fields import Words, text_of
from speedchain.results import result

ROLL_OUT_TURNS = 3
RATIO_TURNS = 10


@result
class Guide:
    """One measurement: its steps in order, the tasks whose cautions stand beside them, and what to have at hand."""

    code: str
    title: Words
    needs: Words
    steps: tuple[Words, ...]
    tasks: tuple[Task, ...]


GUIDES: dict[str, Guide] = {
    guide.code: guide
    for guide in (
        Guide(
            code="marking",
            title="Read the size marking",
            needs="A light and a rag.",
            steps=(
                "Wipe the sidewall and find the size, such as 205/55R16 or 28-622.",
                "On a cycle tyre trust the ETRTO number: width - bead seat.",
                "Read both sides: a tyre can be marked twice in different notations.",
            ),
            tasks=(),
        ),
        Guide(
            code="roll_out",
            title="Roll-out",
            needs="Chalk, a tape, level ground, a helper.",
            steps=(
                "Set the working pressure and load: rider or driver on board, fuel as driven.",
                "Chalk a line across the tyre and the floor where they touch.",
                text_of(
                    "Roll straight ahead until the chalk has come down {0} times; mark the floor again.", ROLL_OUT_TURNS
                ),
                "Tape from mark to mark and enter turns and distance.",
                "Repeat the roll-out: the scatter of two or more runs is part of the uncertainty.",
            ),
            tasks=("roll_out",),
        ),
        Guide(
            code="taped_diameter",
            title="Tape across the standing wheel",
            needs="A tape or a square, level floor.",
            steps=(
                "Stand the vehicle on its wheel at working pressure and load.",
                "Lay a straight edge level on top of the tyre.",
                "Tape from the floor to the straight edge, beside the tyre and upright.",
                "Take it again a quarter turn of the wheel further on.",
            ),
            tasks=("lift",),
        ),
        Guide(
            code="axle_height",
            title="Axle height",
            needs="A tape, level floor, a jack stand for the second reading.",
            steps=(
                "Loaded as driven, tape from the floor to the middle of the axle.",
                "Lift the wheel clear and tape across it for the diameter without load.",
                "Enter both: the rolling radius lies between the two.",
            ),
            tasks=("lift",),
        ),
        Guide(
            code="taped_circumference",
            title="Tape over the tread",
            needs="A soft tape or a strip of paper.",
            steps=(
                "Lift the wheel so that it turns free.",
                "Lay the tape once round the middle of the tread, without twist.",
                "Read where it meets itself; take it again beside the first place.",
            ),
            tasks=("lift",),
        ),
        Guide(
            code="speed_derived",
            title="Compare with a satellite or a measured distance",
            needs="A satellite receiver, or a measured distance.",
            steps=(
                "Note the current setting of the display.",
                "Drive straight and level at a steady speed, in both directions, on the non-driven wheel.",
                "Enter the shown and the true value: speed, distance, or distance and time.",
            ),
            tasks=("drive_test",),
        ),
        Guide(
            code="paddle",
            title="Run a known distance in both directions",
            needs="Two marks a known distance apart, slack water if there is any.",
            steps=(
                "Find two marks a known distance apart, in water without current if there is any.",
                "Run straight from one to the other and back at the same engine speed, clear of other traffic.",
                "Average the two speeds and enter 100·(true/shown − 1) as the calibration.",
            ),
            tasks=("water_test",),
        ),
        Guide(
            code="ratio",
            title="Count a ratio by turning",
            needs="Chalk, and a helper who counts.",
            steps=(
                "Lift both driven wheels so that they turn together. Or hold one wheel and enter that: the shaft then turns half as far.",
                "Chalk the shaft and the wheel, each against a fixed point.",
                text_of(
                    "Turn the wheel {0} times by hand; count turns of the shaft, to a twentieth of a turn.", RATIO_TURNS
                ),
                "Enter both counts; more turns reduce the uncertainty.",
            ),
            tasks=("lift",),
        ),
        Guide(
            code="count",
            title="Count the target",
            needs="Chalk or paint.",
            steps=(
                "Mark the first tooth with chalk or paint.",
                "Count once round, then a second time the other way.",
                "Enter the count and set it to “Counted”.",
            ),
            tasks=("lift",),
        ),
        Guide(
            code="unknown_sensor",
            title="Identify an unknown sensor",
            needs="A current-limited supply, a meter, a magnet and a piece of steel.",
            steps=(
                "With two wires measure the resistance: a few hundred ohms to a few thousand is a coil (VR).",
                "A coil gives an alternating voltage when steel passes it; it needs no supply.",
                "With three wires start at the lowest plausible supply, 3.3 V, limited to 20 mA.",
                "Try pairs as supply and ground; a few milliamperes is normal; if it is more, disconnect and swap them.",
                "The third wire is the signal: a pull-up of 10 kΩ to the supply, and watch it while steel or a magnet passes.",
                "No signal at 3.3 V: try 5 V, then the vehicle's voltage through a fuse.",
                "Write down the colour and role of each wire. Colours alone are no proof.",
            ),
            tasks=("identify",),
        ),
        Guide(
            code="gap",
            title="Set the gap",
            needs="A feeler gauge, or a zip tie or card of known thickness; a marker.",
            steps=(
                "Turn the wheel by hand and find the tooth or position that comes nearest.",
                "Set the gap there, at the low end of the permitted range; tighten by hand only.",
                "Turn to the position furthest away and check that the gap is still in the permitted range.",
                "Line up the sensing element with the middle of the teeth, or of the magnet's path.",
                "Spin it by hand, look for rubbing, then a spin test; tighten to torque only after it.",
                "Check again after trimming ties and leads.",
            ),
            tasks=("lift", "fit_sensor"),
        ),
        Guide(
            code="spokes",
            title="Put magnets on spokes",
            needs="Magnets, tape, a marker.",
            steps=(
                "Mark the spoke of the first magnet with tape where it meets the rim.",
                "Count spokes of the same side only, where they meet the rim, as the plan says.",
                "Clamp every magnet at the same radius, the same pole towards the sensor.",
                "Spin the wheel slowly: each passes at the same gap, none touches fork, brake or another spoke.",
                "Tighten, spin, check again after the first ride.",
            ),
            tasks=("fit_magnets",),
        ),
    )
}
