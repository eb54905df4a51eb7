"""How to take each measurement: steps, what to mind, and what is needed. Common practice."""

from __future__ import annotations

from speedchain.drive import STAND_CAUTION
from speedchain.results import result

ROLL_OUT_TURNS = 3
RATIO_TURNS = 10


@result
class Guide:
    """One measurement: its steps in order, the caution that stands beside them, and what to have at hand."""

    code: str
    title: str
    needs: str
    steps: tuple[str, ...]
    caution: str


ROLL_CAUTION = "Level, closed ground; someone at the brakes; hands and feet clear of the wheels."
WATER_CAUTION = "Keep a look-out; nobody reads a screen at the helm."
DRIVE_CAUTION = "Closed ground, or an observer who reads: never read a display or laptop while driving."

GUIDES: dict[str, Guide] = {
    guide.code: guide
    for guide in (
        Guide(
            "marking",
            "Read the size marking",
            "A light and a rag.",
            (
                "Wipe the sidewall and find the size, such as 205/55R16 or 28-622.",
                "On a cycle tyre trust the ETRTO number: width - bead seat.",
                "Read both sides: a tyre can be marked twice in different notations.",
            ),
            "",
        ),
        Guide(
            "roll_out",
            "Roll-out",
            "Chalk, a tape, level ground, a helper.",
            (
                "Set the working pressure and load: rider or driver on board, fuel as driven.",
                "Chalk a line across the tyre and the floor where they touch.",
                f"Roll straight ahead until the chalk has come down {ROLL_OUT_TURNS} times; mark the floor again.",
                "Tape from mark to mark and enter turns and distance.",
                "Roll it again for the scatter: two runs that agree are worth more than one.",
            ),
            ROLL_CAUTION,
        ),
        Guide(
            "taped_diameter",
            "Tape across the standing wheel",
            "A tape or a square, level floor.",
            (
                "Stand the vehicle on its wheel at working pressure and load.",
                "Lay a straight edge level on top of the tyre.",
                "Tape from the floor to the straight edge, beside the tyre and upright.",
                "Take it again a quarter turn of the wheel further on.",
            ),
            "Never under a vehicle on a jack alone; chock the wheels.",
        ),
        Guide(
            "axle_height",
            "Axle height",
            "A tape, level floor, a jack stand for the second reading.",
            (
                "Loaded as driven, tape from the floor to the middle of the axle.",
                "Lift the wheel clear and tape across it for the diameter without load.",
                "Enter both: the rolling radius lies between the two.",
            ),
            STAND_CAUTION,
        ),
        Guide(
            "taped_circumference",
            "Tape round the tread",
            "A soft tape or a strip of paper.",
            (
                "Lift the wheel so that it turns free.",
                "Lay the tape once round the middle of the tread, without twist.",
                "Read where it meets itself; take it again beside the first place.",
            ),
            STAND_CAUTION,
        ),
        Guide(
            "speed_derived",
            "Compare with a satellite or a measured distance",
            "A satellite receiver, or a distance you trust.",
            (
                "Note what the display is told now.",
                "Drive straight and level at a steady speed, in both directions, on the non-driven wheel.",
                "Enter what was shown and what was true: speed, distance, or distance and time.",
            ),
            DRIVE_CAUTION,
        ),
        Guide(
            "paddle",
            "Run a known distance both ways",
            "Two marks a known distance apart, slack water if there is any.",
            (
                "Find two marks a known distance apart, in water without current if there is any.",
                "Run straight from one to the other and back at the same engine speed, clear of other traffic.",
                "Average the two speeds and enter 100·(true/shown − 1) as the calibration.",
            ),
            WATER_CAUTION,
        ),
        Guide(
            "ratio",
            "Count a ratio by turning",
            "Chalk, and a helper who counts.",
            (
                "Lift both driven wheels so that they turn together, or hold one and say so: the shaft then turns half.",
                "Chalk the shaft and the wheel, each against something that stands still.",
                f"Turn the wheel {RATIO_TURNS} times by hand; count turns of the shaft, to a twentieth of a turn.",
                "Enter both counts; more turns make it surer.",
            ),
            STAND_CAUTION,
        ),
        Guide(
            "count",
            "Count the target",
            "Chalk or paint.",
            (
                "Mark the first tooth with chalk or paint.",
                "Count once round, then a second time the other way.",
                "Enter the count and say it was counted.",
            ),
            STAND_CAUTION,
        ),
    )
}
