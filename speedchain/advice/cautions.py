"""The registry of cautions: each hazard with the task at which it stands, the stage, and where it can apply."""

from __future__ import annotations

from collections.abc import Callable
from functools import lru_cache
from typing import Literal, NamedTuple

from speedchain.document import Installation
from speedchain.fields import Purpose, StageName, VehicleKind, Words, joined
from speedchain.results import shared
from speedchain.sensor import facts_of
from speedchain.stages import STAND_CAUTION

Task = Literal[
    "none", "roll_out", "lift", "drive_test", "water_test", "spin", "magnet", "identify", "fit_sensor", "fit_magnets",
    "wire", "convert", "set", "brakes",
]  # fmt: skip
CYCLES: tuple[VehicleKind, ...] = ("bicycle", "e_bike", "velomobile", "cargo_trike")
ON_TWO_WHEELS: tuple[VehicleKind, ...] = ("motorcycle", "scooter", "sidecar")
AFLOAT: tuple[VehicleKind, ...] = ("boat",)
LIGHT: tuple[VehicleKind, ...] = ("kart", "land_yacht")


class Hazards(NamedTuple):
    """What an installation has of which a hazard depends; few combinations, so that cautions are looked up."""

    vehicle_kind: VehicleKind
    purpose: Purpose
    magnets: bool
    on_rotor: bool
    placed: bool
    permanent_feed: bool
    coil: bool
    converted: bool


def _hazards(installation: Installation) -> Hazards:
    target, signal = installation.target, installation.signal
    magnets = target.kind == "magnets"
    return Hazards(
        vehicle_kind=installation.vehicle_kind,
        purpose=installation.purpose,
        magnets=magnets,
        on_rotor=magnets and target.magnets is not None and target.magnets.mounted == "rotor",
        placed=installation.placement is not None,
        permanent_feed=signal.lead.permanent_feed,
        coil=facts_of(installation.sensor).output == "sine",
        converted=signal.analogue is not None or signal.converter is not None,
    )


@shared
class Caution:
    """One hazard: the task and stage at which it stands, the kinds of vehicle (empty: all but `never`), and its text.

    `applies` narrows it to installations in which the hazard is there at all.
    """

    code: str
    task: Task
    stage: StageName
    text: Words
    kinds: tuple[VehicleKind, ...] = ()
    never: tuple[VehicleKind, ...] = ()
    applies: Callable[[Hazards], bool] = lambda _: True


@shared
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
        never=(*AFLOAT, *CYCLES),
        text="Level, closed ground; someone at the brakes; hands and feet clear of the wheels.",
    ),
    Caution(
        code="roll_cycle",
        task="roll_out",
        stage="wheel",
        kinds=CYCLES,
        text="Level ground without traffic; brakes at hand.",
    ),
    Caution(
        code="stands",
        task="lift",
        stage="wheel",
        never=(*AFLOAT, *CYCLES, *ON_TWO_WHEELS, *LIGHT),
        text=STAND_CAUTION,
    ),
    Caution(
        code="paddock_stand",
        task="lift",
        stage="wheel",
        kinds=ON_TWO_WHEELS,
        text="Paddock or centre stand on firm ground, the machine secured against tipping. Keep hands, sleeves and leads clear "
        "of wheel, chain and spokes.",
    ),
    Caution(
        code="repair_stand",
        task="lift",
        stage="wheel",
        kinds=CYCLES,
        text="Repair stand, or the wheel held off the ground. Keep fingers clear of spokes, chain and disc.",
    ),
    Caution(
        code="blocks",
        task="lift",
        stage="wheel",
        kinds=LIGHT,
        text="Stand or blocks on firm ground. Keep hands, sleeves and leads clear of everything that turns.",
    ),
    Caution(
        code="observer",
        task="drive_test",
        stage="readout",
        never=AFLOAT,
        text="Closed ground, or an observer who reads: never read a display or laptop while driving.",
    ),
    Caution(
        code="look_out",
        task="water_test",
        stage="readout",
        kinds=AFLOAT,
        text="Keep a look-out; nobody reads a screen at the helm.",
    ),
    Caution(
        code="turning",
        task="spin",
        stage="sensor",
        never=AFLOAT,
        text="Stand clear of a turning wheel, chain and spokes; never let an engine or motor turn it with a hand near.",
    ),
    Caution(
        code="propeller",
        task="spin",
        stage="sensor",
        kinds=AFLOAT,
        text="Take the key out and keep clear of the propeller.",
    ),
    Caution(
        code="strong_magnet",
        task="magnet",
        stage="sensor",
        text="Keep strong magnets away from pacemakers, watches and cards; keep hands out of a wheel that can turn.",
    ),
    Caution(
        code="reversed_supply",
        task="identify",
        stage="sensor",
        text="Never start at battery voltage: reversed supply destroys the sensor before the fuse blows.",
    ),
    Caution(
        code="airbag",
        task="identify",
        stage="sensor",
        kinds=("car",),
        text="Leave airbag and stability-control wiring to qualified hands.",
    ),
    Caution(
        code="torque",
        task="fit_sensor",
        stage="sensor",
        never=AFLOAT,
        text="Threadlocker on bolts that rotate; torque from the vehicle's manual.",
    ),
    Caution(
        code="caliper",
        task="fit_sensor",
        stage="sensor",
        never=AFLOAT,
        applies=lambda hazards: hazards.placed,
        text="Work at caliper, disc or brake line is finished, bled and tested by a competent person before road use.",
    ),
    Caution(
        code="swallowed",
        task="fit_magnets",
        stage="target",
        applies=lambda hazards: hazards.magnets,
        text="A loose magnet can be swallowed by a child or pet: glue and clamp it. Fingers clear of turning spokes.",
    ),
    Caution(
        code="hot_rotor",
        task="fit_magnets",
        stage="target",
        applies=lambda hazards: hazards.on_rotor,
        text="A brake rotor gets hot: glue lets go and a magnet weakens. Use a bolt made for it, never glue on a rotor, and keep "
        "the braking surface free.",
    ),
    Caution(
        code="battery",
        task="wire",
        stage="signal",
        text="Disconnect the battery before wiring. Measure every level before the reader is plugged in.",
    ),
    Caution(
        code="permanent_feed",
        task="wire",
        stage="signal",
        applies=lambda hazards: hazards.permanent_feed,
        text="A permanent feed needs a fuse or fusible link at the battery: without one, a chafed feed can burn.",
    ),
    Caution(
        code="coil_voltage",
        task="wire",
        stage="signal",
        applies=lambda hazards: hazards.coil,
        text="A coil gives tens of volts at speed: do not touch its bare wires; do not connect a tap without a clamp.",
    ),
    Caution(
        code="throttle",
        task="convert",
        stage="signal",
        applies=lambda hazards: hazards.converted,
        text="For a gauge only: a voltage or pulse ratio that drives a throttle or cruise control can make it run away.",
    ),
    Caution(
        code="brake_sensors",
        task="brakes",
        stage="signal",
        applies=lambda hazards: hazards.purpose == "brake_control",
        text="Sensors of a brake-control unit are safety parts: leave their wiring to qualified hands.",
    ),
    Caution(
        code="slip_control",
        task="set",
        stage="readout",
        applies=lambda hazards: hazards.purpose == "slip_control",
        text="Slip control that reads false slip cuts power in a corner: try it on closed ground first, with its smallest effect.",
    ),
    Caution(
        code="limiter",
        task="set",
        stage="readout",
        never=(*AFLOAT, "bicycle", "velomobile", "land_yacht"),
        text="A speed limiter and assistance read this number: a false one may be unlawful and voids approval and insurance.",
    ),
)


def cautions_of(installation: Installation) -> tuple[CautionShown, ...]:
    """The cautions that can apply to an installation, in the order of its steps.

    Examples
    --------
    >>> from speedchain.document.installation import example_installation
    >>> "stands" in [item.code for item in cautions_of(example_installation())]
    True
    """
    return _cautions(_hazards(installation))


@lru_cache(maxsize=256)
def _cautions(hazards: Hazards) -> tuple[CautionShown, ...]:
    kind = hazards.vehicle_kind
    return tuple(
        [
            CautionShown(code=item.code, task=item.task, stage=item.stage, text=item.text)
            for item in CAUTIONS
            if (kind in item.kinds if item.kinds else kind not in item.never) and item.applies(hazards)
        ]
    )


def caution_at(installation: Installation, *tasks: Task) -> str:
    """The text of the cautions at a step; empty where none applies.

    Examples
    --------
    >>> from speedchain.document.installation import example_installation
    >>> caution_at(example_installation(), "drive_test").startswith("Closed ground")
    True
    """
    return joined(" ", [item.text for item in cautions_of(installation) if item.task in tasks])
