"""The document of an installation, version 2: one sensor with its readouts on a vehicle."""

from __future__ import annotations

import json
from typing import Any, Literal

from pydantic import Field, ValidationError, model_validator

from speedchain.document.torques import FASTENERS, Torque
from speedchain.document.upgrade import upgraded
from speedchain.drive import Drive
from speedchain.fields import (
    DocumentError,
    InputError,
    LongText,
    Name,
    Part,
    PartLabel,
    Problem,
    Purpose,
    SensedAt,
    Speed,
    TestRecord,
    VehicleKind,
    labelled,
    problems_from_pydantic,
    stated,
    text_of,
)
from speedchain.knowledge import MOST_OBSERVATIONS, MOST_TURN_COUNTS, Observation, TurnCount
from speedchain.placement import Placement
from speedchain.readout import Readout
from speedchain.regulations import Band, BandCode, rule_for
from speedchain.sensor import Requirements, Sensor, requirements_of
from speedchain.signal import Signal
from speedchain.target import Target
from speedchain.wheel import Wheel

WheelsDriven = Literal["not_stated", "none", "one", "two", "four"]
labelled(
    WheelsDriven,
    not_stated="Not stated",
    none="None",
    one="One wheel",
    two="Two wheels",
    four="Four wheels",
)


class Installation(Part):
    """One sensor-to-readout installation on a vehicle, from the ground to the number on the display."""

    format: Literal["wheelometron-installation"] = "wheelometron-installation"
    version: Literal[2] = 2
    name: Name
    purpose: Purpose
    vehicle_kind: VehicleKind = stated(title="Vehicle type")
    sensed_at: SensedAt = stated(
        "not_stated", description="Which wheel or axle of the vehicle is sensed.", title="Sensed wheel or axle"
    )
    check_speed_kmh: Speed = stated(
        100.0, title="Check speed (true)", step=5, description="True speed at which figures are shown."
    )
    check_speeds_kmh: tuple[Speed, ...] = Field(
        (), title="Additional check speeds (true)", max_length=12, description="Additional check speeds."
    )
    speedometer_rule: BandCode = stated(
        "un_r39",
        description="Rule for the permitted range of a road display. Check your local rules.",
        hint="for a road display; check your local rules",
    )
    wheel: Wheel
    drive: Drive = Drive()
    target: Target
    sensor: Sensor
    placement: Placement | None = Field(None, description="Position of the sensor in front of the target.")
    signal: Signal = Signal()
    readouts: tuple[Readout, ...] = Field(min_length=1, max_length=8)
    turn_counts: tuple[TurnCount, ...] = Field(
        (),
        max_length=MOST_TURN_COUNTS,
        description="Pulses counted over turns of the wheel by hand: drive and target together, newest last.",
    )
    observations: tuple[Observation, ...] = Field(
        (),
        max_length=MOST_OBSERVATIONS,
        description="What was observed of wheel, drive and target together, newest last.",
    )
    test_records: tuple[TestRecord, ...] = Field(
        (), max_length=60, description="Tests by hand and on the bench, newest last."
    )
    torques: tuple[Torque, ...] = Field(
        (),
        title="Torques from the manual",
        max_length=len(FASTENERS),
        description="Torques from the vehicle's manual, one a fastener.",
    )
    wheels_driven: WheelsDriven = Field("not_stated", description="For the supplier of a loom or controller.")
    notes: LongText = ""

    @model_validator(mode="before")
    @classmethod
    def _of_any_version(cls, document: Any) -> Any:
        return upgraded(document)

    @property
    def needs(self) -> Requirements:
        """What the sensor has to do: as entered, or up to the fastest speed to check."""
        return requirements_of(self.sensor, self.vehicle_kind, max(self.check_speed_kmh, *self.check_speeds_kmh, 0.0))

    @property
    def part_labels(self) -> tuple[PartLabel, ...]:
        """The labels of target, sensor and readouts, of those that have one."""
        held = [self.target.part, self.sensor.part, *[readout.part for readout in self.readouts]]
        return tuple([label for label in held if label is not None and label.text])

    def torque_of(self, fastener: str) -> Torque | None:
        """The torque from the manual, where it was asked before."""
        return next((item for item in self.torques if item.fastener == fastener), None)

    def readout_at(self, place: int) -> Readout:
        """One of the readouts, from 0; raises `InputError` where there is none."""
        if not 0 <= place < len(self.readouts):
            raise InputError(
                text_of("There is no readout {0}; this installation has {1}.", place + 1, len(self.readouts)),
                remedy="Choose one of them.",
                limit=text_of("0 to {0}", len(self.readouts) - 1),
                value=place,
                path="readout",
            )
        return self.readouts[place]

    @property
    def rule(self) -> Band | None:
        """The rule for speedometers that applies to what it shows, if any."""
        return rule_for(self.speedometer_rule, self.vehicle_kind, self.purpose)


def read_installation(document: Any) -> Installation:
    """An installation from plain data (as JSON gives it); raises `DocumentError` with every problem in it.

    Examples
    --------
    >>> read_installation({"name": "x"}).name
    Traceback (most recent call last):
        ...
    speedchain.fields.errors.DocumentError: purpose: This field is missing. Add it.; vehicle_kind: This field ...
    """
    try:
        return Installation.model_validate(document)
    except ValidationError as error:
        raise DocumentError(*problems_from_pydantic(error.errors(include_url=False))) from None
    except RecursionError:
        raise DocumentError(
            Problem("", "The document is nested too deeply.", "Use an installation document.")
        ) from None


def read_installation_json(text: str | bytes) -> Installation:
    """An installation from JSON text; raises `DocumentError`.

    Examples
    --------
    >>> read_installation_json("{")
    Traceback (most recent call last):
        ...
    speedchain.fields.errors.DocumentError: This is not JSON: Expecting property name ...
    """
    try:
        document = json.loads(text)
    except json.JSONDecodeError as error:
        message = text_of("This is not JSON: {0}, line {1}.", error.msg, error.lineno)
        raise DocumentError(Problem("", message, "Check brackets, quotes and commas.")) from None
    except UnicodeDecodeError:
        raise DocumentError(Problem("", "This is not text in UTF-8.", "Save the file as UTF-8.")) from None
    except (ValueError, RecursionError):
        message = "This JSON holds a number or a nesting beyond any installation document."
        raise DocumentError(Problem("", message, "Open the file and look for it.")) from None
    return read_installation(document)


def write_installation_json(installation: Installation) -> str:
    """The installation as JSON text, every field written out, for a `*.installation.json` file."""
    return installation.model_dump_json(indent=2) + "\n"


def example_installation() -> Installation:
    """A small installation for examples: 205/55R16, 48 teeth at the hub, pulses per km."""
    return read_installation(
        {
            "name": "Example",
            "purpose": "true_speed",
            "vehicle_kind": "car",
            "wheel": {"method": "marking", "marking": {"text": "205/55R16"}},
            "target": {"count": 48},
            "sensor": {"kind": "hall_gear_tooth"},
            "readouts": [{"name": "Dash", "encoding": "pulses_per_km"}],
        }
    )
