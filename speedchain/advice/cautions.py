"""The registry of cautions: each hazard with the task at which it stands, the stage, and where it can apply."""

from __future__ import annotations

from functools import lru_cache
from typing import Literal

from speedchain.fields import StageName, Words, joined
from speedchain.fitted import Fact, applies
from speedchain.results import result
from speedchain.stages import STAND_CAUTION

Task = Literal[
    "none", "roll_out", "lift", "drive_test", "water_test", "spin", "magnet", "identify", "fit_sensor", "fit_magnets",
    "wire", "convert", "set", "brakes", "heat",
]  # fmt: skip


@result
class Caution:
    """One hazard: the task and stage at which it stands, the facts of an installation in which it is there, and its
    text."""

    code: str
    task: Task
    stage: StageName
    text: Words
    when: tuple[Fact, ...] = ()
    unless: tuple[Fact, ...] = ()


@result
class CautionShown:
    """A caution as it stands at its step."""

    code: str
    task: Task
    stage: StageName
    text: Words


CAUTIONS: tuple[Caution, ...] = (
    Caution(
        code="roll",
        task="roll_out",
        stage="wheel",
        when=("rolls",),
        unless=("cycle",),
        text="Level, closed ground; someone at the brakes; hands and feet clear of the wheels.",
    ),
    Caution(
        code="roll_cycle",
        task="roll_out",
        stage="wheel",
        when=("cycle",),
        text="Level ground without traffic; brakes at hand.",
    ),
    Caution(
        code="stands",
        task="lift",
        stage="wheel",
        when=("car",),
        text=STAND_CAUTION,
    ),
    Caution(
        code="paddock_stand",
        task="lift",
        stage="wheel",
        when=("two_wheels",),
        text="Paddock or centre stand on firm ground, the machine secured against tipping. Keep hands, sleeves and "
        "leads clear "
        "of wheel, chain and spokes.",
    ),
    Caution(
        code="repair_stand",
        task="lift",
        stage="wheel",
        when=("cycle",),
        text="Repair stand, or the wheel held off the ground. Keep fingers clear of spokes, chain and disc.",
    ),
    Caution(
        code="blocks",
        task="lift",
        stage="wheel",
        when=("lifted",),
        unless=("car", "two_wheels", "cycle"),
        text="Stand or blocks on firm ground. Keep hands, sleeves and leads clear of everything that turns.",
    ),
    Caution(
        code="observer",
        task="drive_test",
        stage="readout",
        when=("on_wheels",),
        unless=("cycle", "two_wheels", "machine"),
        text="Closed ground, or an observer who reads: never read a display or laptop while driving.",
    ),
    Caution(
        code="observer_rider",
        task="drive_test",
        stage="readout",
        when=("two_wheels",),
        text="Closed ground, or a logger that records: never read a display while riding.",
    ),
    Caution(
        code="observer_cycle",
        task="drive_test",
        stage="readout",
        when=("cycle",),
        text="A path without traffic; never read a display while riding in traffic.",
    ),
    Caution(
        code="look_out",
        task="water_test",
        stage="readout",
        when=("afloat",),
        text="Keep a look-out; nobody reads a screen at the helm.",
    ),
    Caution(
        code="turning",
        task="spin",
        stage="sensor",
        when=("lifted",),
        unless=("cycle",),
        text="Stand clear of a turning wheel, chain and spokes; never let an engine or motor turn it with a hand near.",
    ),
    Caution(
        code="turning_cycle",
        task="spin",
        stage="sensor",
        when=("cycle",),
        text="Never reach into a spinning wheel.",
    ),
    Caution(
        code="locked_machine",
        task="spin",
        stage="sensor",
        when=("machine",),
        text="Machine locked against starting; turn it by hand only, and keep sleeves and hands out of rollers and "
        "belts.",
    ),
    Caution(
        code="propeller",
        task="spin",
        stage="sensor",
        when=("afloat",),
        text="Take the key out and keep clear of the propeller.",
    ),
    Caution(
        code="strong_magnet",
        task="magnet",
        stage="sensor",
        when=("by_magnet",),
        text="Keep strong magnets away from pacemakers, watches and cards; keep hands out of a wheel that can turn.",
    ),
    Caution(
        code="reversed_supply",
        task="identify",
        stage="sensor",
        when=("active",),
        text="Never start at battery voltage: reversed supply destroys the sensor before the fuse blows.",
    ),
    Caution(
        code="airbag",
        task="identify",
        stage="sensor",
        when=("car",),
        text="Leave airbag and stability-control wiring to qualified hands.",
    ),
    Caution(
        code="torque",
        task="fit_sensor",
        stage="sensor",
        when=("bolted",),
        text="Threadlocker on bolts that rotate; torque from the vehicle's manual.",
    ),
    Caution(
        code="caliper",
        task="fit_sensor",
        stage="sensor",
        when=("brakes_near",),
        text="Work at caliper, disc or brake line is finished, bled and tested by a competent person before road use.",
    ),
    Caution(
        code="swallowed",
        task="fit_magnets",
        stage="target",
        when=("magnets",),
        text="A loose magnet can be swallowed by a child or pet: glue and clamp it. Fingers clear of everything that "
        "turns.",
    ),
    Caution(
        code="hot_rotor",
        task="fit_magnets",
        stage="target",
        when=("rotor_magnet",),
        text="A brake rotor gets hot: glue lets go and a magnet weakens. Use a bolt made for it, never glue on a "
        "rotor, and keep "
        "the braking surface free.",
    ),
    Caution(
        code="battery",
        task="wire",
        stage="signal",
        when=("wires",),
        unless=("own_battery", "machine"),
        text="Disconnect the battery before wiring. Measure every level before the reader is plugged in.",
    ),
    Caution(
        code="supply_off",
        task="wire",
        stage="signal",
        when=("wires", "machine"),
        text="Switch the supply off before wiring. Measure every level before the reader is plugged in.",
    ),
    Caution(
        code="permanent_feed",
        task="wire",
        stage="signal",
        when=("permanent_feed",),
        text="A permanent feed needs a fuse or fusible link at the battery: without one, a chafed feed can burn.",
    ),
    Caution(
        code="coil_voltage",
        task="wire",
        stage="signal",
        when=("sine",),
        text="A coil gives tens of volts at speed: do not touch its bare wires; do not connect a tap without a clamp.",
    ),
    Caution(
        code="throttle",
        task="convert",
        stage="signal",
        when=("converted",),
        text="For a gauge only: a voltage or pulse ratio that drives a throttle or cruise control can make it "
        "run away.",
    ),
    Caution(
        code="brake_sensors",
        task="brakes",
        stage="signal",
        when=("brake_control",),
        text="Sensors of a brake-control unit are safety parts: leave their wiring to qualified hands.",
    ),
    Caution(
        code="slip_control",
        task="set",
        stage="readout",
        when=("slip_control",),
        text="Slip control that reads false slip cuts power in a corner: try it on closed ground first, with its "
        "smallest effect.",
    ),
    Caution(
        code="shared",
        task="wire",
        stage="signal",
        when=("shared",),
        text="The vehicle's own brake unit reads this sensor: nothing may load its wires. After the work its warning "
        "lamp must go out.",
    ),
    Caution(
        code="heat",
        task="heat",
        stage="target",
        when=("on_wheels",),
        text="Heat: nothing that burns near by; gloves; do not breathe the smoke. Never heat a seal or a bearing.",
    ),
    Caution(
        code="limiter",
        task="set",
        stage="readout",
        when=("limited",),
        text="A speed limiter and assistance read this number: a false one may be unlawful and voids approval and "
        "insurance.",
    ),
)


@lru_cache(maxsize=256)
def cautions_of(there: frozenset[Fact]) -> tuple[CautionShown, ...]:
    """The cautions that can apply where these facts hold, in the order of the steps.

    Examples
    --------
    >>> from speedchain.document.installation import example_installation
    >>> from speedchain.fitted import fitted
    >>> "stands" in [item.code for item in cautions_of(fitted(example_installation()))]
    True
    """
    return tuple(
        [
            CautionShown(code=item.code, task=item.task, stage=item.stage, text=item.text)
            for item in CAUTIONS
            if applies(item.when, item.unless, there)
        ]
    )


def caution_at(there: frozenset[Fact], *tasks: Task) -> str:
    """The text of the cautions at a step; empty where none applies.

    Examples
    --------
    >>> from speedchain.document.installation import example_installation
    >>> from speedchain.fitted import fitted
    >>> caution_at(fitted(example_installation()), "drive_test").startswith("Closed ground")
    True
    """
    return joined(" ", [item.text for item in cautions_of(there) if item.task in tasks])
