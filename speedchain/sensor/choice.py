"""Which kind of sensor suits: ranked, with reasons, and where practice disagrees."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from typing import Literal

from speedchain.fields import Words, codes_of, label_of, text_of
from speedchain.results import result
from speedchain.sensor.kinds import USUAL, WORDS
from speedchain.sensor.model import NO_TARGET, SEES, Facts, Output, SensorKind
from speedchain.sensor.requirements import Requirements
from speedchain.target import FERROUS, TargetKind

Verdict = Literal["suits", "with limits", "does not suit"]

SILENT_BELOW_HZ: Mapping[SensorKind, float] = {"variable_reluctance": 30.0}
"""Below this tooth frequency a VR sensor gives too little to be read. Common practice; it depends on gap and size."""
SILENT_BELOW_KMH: Mapping[SensorKind, float] = {"inertial": 3.0, "paddlewheel": 1.9, "radar": 2.0}
"""Lowest speed of kinds whose rate does not decide. Common practice."""
_LIKING: Mapping[SensorKind, int] = {
    "hall_gear_tooth": 5,
    "hall_differential": 4,
    "magnetoresistive": 3,
    "hall_switch": 4,
    "reed": 3,
    "variable_reluctance": 1,
    "inertial": 0,
    "paddlewheel": 5,
    "optical": -2,
    "radar": -3,
}
"""How readily a kind is taken when several would do. Common practice."""


@result
class SensorAdvice:
    """One kind: whether it suits, why, and what speaks against it."""

    kind: SensorKind
    label: Words
    verdict: Verdict
    score: int
    reasons: tuple[Words, ...]
    against: tuple[Words, ...]


@result
class School:
    """One side where practitioners disagree, with this installation's numbers."""

    title: Words
    text: Words


@result
class SensorChoices:
    """All kinds, the best first, and the two schools about a VR sensor where it can be one."""

    lowest_hz: float
    top_hz: float
    choices: tuple[SensorAdvice, ...]
    schools: tuple[School, ...]


def choose_sensor(target_kind: TargetKind, purpose: str, pulses_per_km: float, needs: Requirements) -> SensorChoices:
    """Every kind compared with target, purpose, lowest and top speed, supply and heat.

    Parameters
    ----------
    What passes the sensor; the purpose's code; pulses per km [1/km]; needs [km/h, V, °C].

    References
    ----------
    Common practice.

    Examples
    --------
    >>> from speedchain.sensor.model import Sensor
    >>> from speedchain.sensor.requirements import requirements_of
    >>> result = choose_sensor("toothed_ring", "true_speed", 25_000, requirements_of(Sensor(kind="reed"), "car", 200.0))
    >>> result.choices[0].kind
    'hall_gear_tooth'
    """
    per_kmh = pulses_per_km / 3600
    lowest_hz, top_hz = per_kmh * needs.min_speed_kmh, per_kmh * needs.max_speed_kmh
    choices = [
        _judge(kind, target_kind=target_kind, purpose=purpose, top_hz=top_hz, per_kmh=per_kmh, needs=needs)
        for kind in USUAL
    ]
    choices.sort(key=lambda item: (-item.score, item.kind))
    schools: tuple[School, ...] = ()
    if target_kind in FERROUS:
        silent_kmh = SILENT_BELOW_HZ["variable_reluctance"] / per_kmh
        schools = (
            School(
                title="Keep the VR sensor and add a VR conditioner",
                text=text_of(
                    "No mechanical change, and it tolerates heat. With this ring it works from about {0:.1f} "
                    "km/h up; the VR conditioner needs a regulated supply and a clamp, since at {1:g} km/h "
                    "({2:.0f} Hz) the coil gives tens of volts.",
                    silent_kmh,
                    needs.max_speed_kmh,
                    top_hz,
                ),
            ),
            School(
                title="Replace it with a Hall sensor",
                text=text_of(
                    "It reads down to standstill ({0:.1f} Hz at {1:g} km/h is no problem) and its output is "
                    "square; it needs a supply, a pull-up and a place below its max. temperature. Often "
                    "cheaper overall, because fault-finding on VR conditioners takes hours.",
                    lowest_hz,
                    needs.min_speed_kmh,
                ),
            ),
        )
    return SensorChoices(lowest_hz=lowest_hz, top_hz=top_hz, choices=tuple(choices), schools=schools)


@dataclass(slots=True)
class _Notes:
    """What was found for one kind: for it, to mind, and what rules it out."""

    reasons: list[str] = field(default_factory=list)
    care: list[str] = field(default_factory=list)
    never: list[str] = field(default_factory=list)


def _judge(
    kind: SensorKind,
    *,
    target_kind: TargetKind,
    purpose: str,
    top_hz: float,
    per_kmh: float,
    needs: Requirements,
) -> SensorAdvice:
    notes, words = _Notes(), WORDS[kind]
    _check_target(kind, target_kind, notes)
    _check_speed(kind, top_hz=top_hz, per_kmh=per_kmh, needs=needs, notes=notes)
    _check_place(USUAL[kind], needs, notes)
    _check_purpose(kind, purpose, top_hz, notes)
    verdict: Verdict = "does not suit" if notes.never else ("with limits" if notes.care else "suits")
    score = _LIKING[kind] - 4 * len(notes.care) - 100 * len(notes.never)
    reasons = (*notes.reasons, text_of("output: {0}", label_of(USUAL[kind].output, codes_of(Output))))
    return SensorAdvice(
        kind=kind,
        label=words.label,
        verdict=verdict,
        score=score,
        reasons=reasons,
        against=(*notes.never, *notes.care, words.watch),
    )


def _check_target(kind: SensorKind, target_kind: TargetKind, notes: _Notes) -> None:
    if kind in NO_TARGET:
        notes.care.append("needs no target; check that the reader accepts its output")
    elif target_kind in SEES[kind]:
        notes.reasons.append(text_of("detects {0}", target_kind.replace("_", " ")))
    else:
        notes.never.append(text_of("cannot detect {0}", target_kind.replace("_", " ")))


def _check_speed(kind: SensorKind, *, top_hz: float, per_kmh: float, needs: Requirements, notes: _Notes) -> None:
    silent_kmh = SILENT_BELOW_KMH.get(kind, SILENT_BELOW_HZ.get(kind, 0.0) / per_kmh)
    if silent_kmh > needs.min_speed_kmh:
        notes.never.append(
            text_of("no signal below about {0:.1f} km/h; {1:g} km/h is required", silent_kmh, needs.min_speed_kmh)
        )
    elif silent_kmh:
        notes.reasons.append(text_of("reads from about {0:.1f} km/h", silent_kmh))
    else:
        notes.reasons.append("reads down to standstill")
    if kind in NO_TARGET:
        return
    max_frequency_hz = USUAL[kind].max_frequency_hz
    if top_hz > max_frequency_hz:
        notes.never.append(text_of("max. frequency {0:g} Hz; max. speed gives {1:.0f} Hz", max_frequency_hz, top_hz))
    else:
        notes.reasons.append(text_of("handles {0:.0f} Hz at max. speed", top_hz))


def _check_place(facts: Facts, needs: Requirements, notes: _Notes) -> None:
    if facts.supply_min_v == 0:
        notes.reasons.append("needs no supply")
    elif needs.supply_v == 0:
        notes.never.append("needs a supply")
    elif not facts.supply_min_v <= needs.supply_v <= facts.supply_max_v:
        notes.care.append(
            text_of("supply {0:g} to {1:g} V: a regulator is needed", facts.supply_min_v, facts.supply_max_v)
        )
    if not needs.ambient_known:
        notes.care.append("temperature at the sensor not entered, not checked")
    elif needs.ambient_max_c > facts.temperature_max_c:
        notes.never.append(
            text_of(
                "max. operating temperature {0:g} °C; required {1:g} °C", facts.temperature_max_c, needs.ambient_max_c
            )
        )


def _check_purpose(kind: SensorKind, purpose: str, top_hz: float, notes: _Notes) -> None:
    if purpose == "direction" and kind in ("reed", "inertial", "radar", "paddlewheel"):
        notes.never.append("two of them do not give a clean direction signal")
    if purpose in ("slip_control", "brake_control") and kind in ("reed", "inertial", "optical"):
        notes.care.append("too coarse to compare wheels")
    if purpose == "water_speed" and kind != "paddlewheel":
        notes.never.append("does not turn in the water")
    if kind == "reed" and top_hz > 100:
        notes.care.append("its contact bounces for up to 1 ms")
