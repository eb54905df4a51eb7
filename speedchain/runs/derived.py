"""Channels that follow from others: acceleration, distance, slip, ratio, speed from pulses by an installation; and
shown speeds that a person noted at some moments."""

from __future__ import annotations

from typing import Annotated, Literal

import numpy as np
from numpy.typing import NDArray
from pydantic import Field

from speedchain.evaluation import Evaluation
from speedchain.fields import InputError, Part, text_of
from speedchain.runs.align import SpeedRecord, lag_between, on_times, recorded_part
from speedchain.runs.recording import MOST_KMH, Channel, ChannelKind, Quantity, Recording
from speedchain.runs.steady import LEAST_KMH

Array = NDArray[np.float64]
DerivedKind = Literal["acceleration", "distance", "slip", "ratio", "wheel_speed", "noted"]
ACCELERATION_OVER_S = 1.0
"""A change of speed is taken over so long, so that the noise of single samples is no acceleration. Common practice."""
LONGEST_NAME = 200
TWO_SPEEDS = ("slip", "ratio")
HELD_S = 3.0
"""A speed that was noted was shown for so long before and after. Common practice."""
NOTED = "shown, by hand"
MOST_NOTED = 200


class Noted(Part):
    """What a display showed at a moment of the recording [s, since 1970 or as the recording counts]."""

    at_s: Annotated[float, Field(ge=-1e12, le=1e12)]
    shown_kmh: Annotated[float, Field(ge=0, le=MOST_KMH)]


class Derived(Part):
    """A channel that follows from others; of a wheel speed, by which installation."""

    kind: DerivedKind
    of: str = Field(max_length=LONGEST_NAME)
    against: str = Field("", max_length=LONGEST_NAME)
    by: str = Field(
        "", max_length=LONGEST_NAME, description="The installation and its revision, as said on the screen."
    )
    kmh_per_hz: Annotated[float, Field(gt=0, le=1e6)] | None = None
    pulses_per_turn: Annotated[float, Field(gt=0, le=1e6)] | None = None
    noted: tuple[Noted, ...] = Field((), max_length=MOST_NOTED)

    def name(self) -> str:
        """What the channel is called.

        Examples
        --------
        >>> Derived(kind="slip", of="rear", against="front").name()
        'slip of rear against front'
        """
        match self.kind:
            case "slip":
                name = f"slip of {self.of} against {self.against}"
            case "ratio":
                name = f"{self.of} by {self.against}"
            case "wheel_speed":
                name = f"speed from {self.of}, {self.by}"
            case "noted":
                name = NOTED
            case "acceleration" | "distance":
                name = f"{self.kind} from {self.of}"
        return name[:LONGEST_NAME]


def wheel_speed_by(evaluation: Evaluation, of: str, by: str) -> Derived:
    """Speed from pulses as an installation makes it: v = 3600·f/(pulses per km), averaged over whole turns of its ring.

    Examples
    --------
    >>> from speedchain.document.installation import example_installation
    >>> from speedchain.evaluation import evaluate
    >>> round(wheel_speed_by(evaluate(example_installation()), "edges", "Dash, revision 1").kmh_per_hz, 5)
    0.14455
    """
    per_km, per_turn = evaluation.pulses_per_km, evaluation.pulses_per_turn_of_wheel
    return Derived(kind="wheel_speed", of=of, by=by[:LONGEST_NAME], kmh_per_hz=3600 / per_km, pulses_per_turn=per_turn)


def derive(recorded: Recording, wanted: Derived) -> tuple[Channel, ChannelKind]:
    """The channel that is asked for, over the times of the one that it follows from.

    acceleration = Δv/Δt over 1 s [m/s²]; distance = ∫ v dt [m], straight through gaps; slip = 100·(v/v_reference − 1)
    [%] and ratio = v/v_reference after the lag between both, where the reference moves; wheel speed v = (km/h per
    Hz)·n/(t[i + n] − t[i]) over the n pulses of a turn, at the middle of it, or (km/h per Hz)·f; noted: what was shown,
    3 s before and after each moment.

    Raises
    ------
    `InputError` where a channel is missing or is of another kind.

    Examples
    --------
    >>> t = np.arange(0.0, 10.0, 0.5)
    >>> speed = Channel(name="v", quantity="speed", unit="km/h", time_s=t, values=3.6 * t)
    >>> made, _ = derive(Recording(channels=(speed,), lines=0, bad_lines=0), Derived(kind="acceleration", of="v"))
    >>> made.values.round(3)[:3].tolist(), made.unit
    ([1.0, 1.0, 1.0], 'm/s²')
    """
    if wanted.kind == "wheel_speed":
        return _wheel_speed(recorded, wanted)
    of = _speed(recorded, wanted.of, "of")
    quantity: Quantity = "other"
    match wanted.kind:
        case "acceleration":
            values, unit = _acceleration(of), "m/s²"
        case "distance":
            values, unit, quantity = distance_m(of), "m", "distance"
        case "noted":
            values, unit, quantity = _held(of.time_s, wanted.noted), "km/h", "speed"
        case "slip" | "ratio":
            ratio = _ratio(of, _speed(recorded, wanted.against, "against"))
            values, unit = (100 * (ratio - 1), "%") if wanted.kind == "slip" else (ratio, "")
    return _made(wanted, ChannelKind(quantity, unit), of.time_s, values)


def _held(time_s: Array, noted: tuple[Noted, ...]) -> Array:
    if not noted:
        raise InputError("No shown speed was entered.", remedy="Enter a time and what was shown then.", path="noted")
    values = np.full(time_s.size, np.nan)
    for item in noted:
        within = np.abs(time_s - item.at_s) <= HELD_S
        if not within.any():
            raise InputError(
                text_of("Nothing was recorded at {0:.1f} s.", item.at_s - float(time_s[0])),
                remedy="Enter a time within the recording.",
                limit=text_of("0 to {0:.1f} s", float(time_s[-1] - time_s[0])),
                path="noted",
            )
        values[within] = item.shown_kmh
    return values


def _made(wanted: Derived, kind: ChannelKind, time_s: Array, values: Array) -> tuple[Channel, ChannelKind]:
    channel = Channel(name=wanted.name(), quantity=kind.quantity, unit=kind.unit, time_s=time_s, values=values)
    return channel, kind


def _speed(recorded: Recording, name: str, field: str) -> SpeedRecord:
    channel = recorded.channel(name)
    if channel is None or channel.quantity != "speed":
        raise InputError(
            text_of("The recording has no speed named {0}.", name), remedy="Choose one of its speeds.", path=field
        )
    if not np.isfinite(channel.values).any():
        raise InputError(text_of("{0} holds no speed at all.", name), remedy="Choose another speed.", path=field)
    return SpeedRecord(channel.time_s, channel.values)


def _acceleration(of: SpeedRecord) -> Array:
    first, last = of.time_s[0], of.time_s[-1]
    back = np.maximum(of.time_s - ACCELERATION_OVER_S / 2, first)
    on = np.minimum(of.time_s + ACCELERATION_OVER_S / 2, last)
    with np.errstate(invalid="ignore", divide="ignore"):
        return np.asarray((on_times(of, on) - on_times(of, back)) / 3.6 / (on - back))


def distance_m(of: SpeedRecord) -> Array:
    """The distance covered at each time of a record [m]: ∫ v dt by trapezoids, straight through what was not recorded.

    Examples
    --------
    >>> distance_m(SpeedRecord(np.array([0.0, 1.0, 2.0]), np.array([36.0, np.nan, 36.0]))).round(6).tolist()
    [0.0, 10.0, 20.0]
    """
    kmh = np.interp(of.time_s, *recorded_part(of))
    steps = (kmh[1:] + kmh[:-1]) / 2 / 3.6 * np.diff(of.time_s)
    return np.concatenate([[0.0], np.cumsum(steps)])


def _ratio(of: SpeedRecord, against: SpeedRecord) -> Array:
    lag_s = lag_between(against, of).lag_s
    reference = on_times(against, of.time_s - lag_s)
    with np.errstate(invalid="ignore", divide="ignore"):
        return np.where(reference >= LEAST_KMH, of.kmh / reference, np.nan)


def _wheel_speed(recorded: Recording, wanted: Derived) -> tuple[Channel, ChannelKind]:
    channel = recorded.channel(wanted.of)
    factor, per_turn = wanted.kmh_per_hz, wanted.pulses_per_turn
    if channel is None or channel.quantity not in ("pulses", "frequency") or factor is None or per_turn is None:
        raise InputError(
            text_of("The recording has no pulses or frequency named {0}.", wanted.of),
            remedy="Choose a channel of pulses or of a frequency.",
            path="of",
        )
    kind = ChannelKind("speed", "km/h")
    if channel.quantity == "frequency":
        return _made(wanted, kind, channel.time_s, factor * channel.values)
    turn = max(round(per_turn), 1)
    edges = channel.time_s
    if edges.size <= turn:
        raise InputError(
            text_of("{0} pulses are less than a turn of the wheel.", edges.size),
            remedy="Record more turns.",
            limit=text_of("more than {0} pulses", turn),
            path="of",
        )
    return _made(wanted, kind, (edges[turn:] + edges[:-turn]) / 2, factor * turn / (edges[turn:] - edges[:-turn]))
