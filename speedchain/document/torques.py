"""Torques as the vehicle's manual gives them, asked once and kept with the installation; none of them is ours."""

from __future__ import annotations

from typing import Annotated, Literal, get_args

from pydantic import Field

from speedchain.fields import Day, Part, ShortText, labelled, stated

Fastener = Literal[
    "torque_sensor", "torque_wheel", "torque_bolts", "torque_rotor", "torque_caliper", "torque_hub_nut", "torque_ring",
    "torque_gearing",
]  # fmt: skip
"""What is tightened: the step of the job sheets that tightens it."""
labelled(
    Fastener,
    torque_sensor="Bolt of the sensor",
    torque_wheel="Wheel",
    torque_bolts="Rotor bolts with magnets",
    torque_rotor="Rotor",
    torque_caliper="Caliper bolts",
    torque_hub_nut="Hub nuts",
    torque_ring="Bolts of the ring",
    torque_gearing="Sprocket, flange or cover",
)
TorqueUnit = Literal["N·m", "lbf·ft", "lbf·in", "kgf·m"]
FASTENERS: frozenset[str] = frozenset(get_args(Fastener))
TORQUE_UNITS: tuple[TorqueUnit, ...] = get_args(TorqueUnit)
MOST_TORQUE = 100_000.0


class Torque(Part):
    """A torque from the manual, and the tool that it is tightened with."""

    fastener: Fastener
    torque: Annotated[float, Field(gt=0, le=MOST_TORQUE)] = stated(title="Torque")
    unit: TorqueUnit
    tool: ShortText = ""
    by: ShortText = stated("", title="Done by (role)")
    on: Day | None = stated(None, title="Date")
