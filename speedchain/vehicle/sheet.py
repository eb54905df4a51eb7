"""Several installations on one vehicle: the same speed through each, parity, false slip, and wheels in a turn."""

from __future__ import annotations

import math
from collections.abc import Iterator, Mapping, Sequence
from typing import Any, NamedTuple

from pydantic import model_validator

from speedchain.bench import ShownNow, shown_now
from speedchain.document import Installation
from speedchain.evaluation import Evaluation, evaluate
from speedchain.fields import (
    InputError,
    Part,
    Radius,
    SensedAt,
    Speed,
    Tolerance,
    Track,
    Words,
    codes_of,
    joined,
    label_of,
    stated,
    text_of,
)
from speedchain.results import result
from speedchain.stages import Finding, FindingCode, finding
from speedchain.uncertainty import COVERAGE_FACTOR, Budget, covariance
from speedchain.wheel import CYCLE_CHART, ETRTO_FACTOR, Chart, Wheel, growth_factor, parse_marking, uses_etrto_factor

CURVE_POINTS = 25
LEFT: tuple[SensedAt, ...] = ("front_left", "rear_left")
RIGHT: tuple[SensedAt, ...] = ("front_right", "rear_right")


class SheetSettings(Part):
    """What a vehicle's installations are compared at."""

    speed_kmh: Speed = stated(100.0, step=10)
    tolerance_pct: Tolerance = 1.0
    track_mm: Track | None = None
    radius_m: Radius | None = None

    @model_validator(mode="after")
    def _turn_outside_the_track(self) -> SheetSettings:
        if self.track_mm is not None and self.radius_m is not None and self.radius_m < self.track_mm / 2000:
            raise InputError(
                text_of(
                    "A radius of {0:g} m is less than half the track: the inner wheel would roll backwards.",
                    self.radius_m,
                ),
                remedy="Measure the radius to the middle of the axle.",
                limit=text_of("at least {0:g} m", self.track_mm / 2000),
                value=self.radius_m,
                path="radius_m",
            )
        return self


def settings_from(kept: Mapping[str, Any], installations: Sequence[Installation]) -> SheetSettings:
    """The settings as they are kept; a speed that was never stated is the check speed of the first installation.

    Examples
    --------
    >>> from speedchain.document.installation import example_installation
    >>> settings_from({}, [example_installation().model_copy(update={"check_speed_kmh": 18.52})]).speed_kmh
    18.52
    """
    usual = {"speed_kmh": installations[0].check_speed_kmh} if installations else {}
    return SheetSettings.model_validate(usual | dict(kept))


@result
class ShownBy:
    """One display of an installation, and what it shows; `shown_now` is what comes of it where something is blocked. A
    reader that compares counts shows no speed."""

    name: str
    shows_speed: bool
    shown_now: ShownNow
    shown_kmh: float
    error_pct: float
    number: str
    unit: Words


@result
class SheetRow:
    """One installation at the speed of the sheet; in a left turn its wheel rolls at `turn_kmh`."""

    installation: int
    name: str
    sensed_at: SensedAt
    driven: bool
    pulses_per_turn_of_wheel: float
    circumference_mm: float
    circumference_u_pct: float
    frequency_hz: float
    displays: tuple[ShownBy, ...]
    expanded_uncertainty_pct: float
    turn_kmh: float | None
    turn_shown_kmh: float | None


Pair = tuple[Installation, Evaluation]
SAME_ON_ONE_MARKING = ("make", "marking.diameter", "marking.factor", "deflection", "growth")
"""Inputs of the uncertainty by which all tyres of one marking on a vehicle are off together."""
OWN_TYRE_U_PCT = 0.2
"""How far two tyres of one make and marking differ, at one pressure and load; one standard uncertainty. Common
practice."""


@result
class Parity:
    """Equal counts, and circumferences within the tolerance."""

    counts_equal: bool
    counts: tuple[float, ...]
    spread_pct: float
    tolerance_pct: float
    within: bool
    text: Words


@result
class SlipCurve:
    """False slip of one wheel against a reference that is not driven, over speed, with ± (k = 2)."""

    reference: str
    compared: str
    slip_pct: float
    slip_kmh: float
    expanded_pct: float
    speeds_kmh: tuple[float, ...]
    curve_pct: tuple[float, ...]


@result
class VehicleSheet:
    """All installations of a vehicle at one speed."""

    speed_kmh: float
    rows: tuple[SheetRow, ...]
    parity: Parity | None
    slip: tuple[SlipCurve, ...]
    turn_text: Words
    findings: tuple[Finding, ...]


class TurnSpeeds(NamedTuple):
    """Speeds of the two wheels of an axle in a turn."""

    inner_kmh: float
    outer_kmh: float


def wheel_speeds_in_turn_kmh(speed_kmh: float, track_mm: float, radius_m: float) -> TurnSpeeds:
    """Inner and outer wheel of an axle in a turn: v·(1 ∓ track/(2·radius)).

    Parameters
    ----------
    Speed of the middle of the axle [km/h], track [mm], radius of the middle of the axle [m].

    References
    ----------
    Plane kinematics of a rigid axle line.

    Examples
    --------
    >>> wheel_speeds_in_turn_kmh(20, 1500, 7.5)
    TurnSpeeds(inner_kmh=18.0, outer_kmh=22.0)
    """
    share = track_mm / 1000 / (2 * radius_m)
    return TurnSpeeds(speed_kmh * (1 - share), speed_kmh * (1 + share))


def _turn_kmh(sensed_at: SensedAt, settings: SheetSettings) -> float | None:
    if settings.track_mm is None or settings.radius_m is None or sensed_at == "hull":
        return None
    inner, outer = wheel_speeds_in_turn_kmh(settings.speed_kmh, settings.track_mm, settings.radius_m)
    return inner if sensed_at in LEFT else outer if sensed_at in RIGHT else settings.speed_kmh


def vehicle_sheet(
    installations: tuple[tuple[int, Installation], ...], settings: SheetSettings, chart: Chart = CYCLE_CHART
) -> VehicleSheet:
    """The same true speed through every installation.

    Parameters
    ----------
    Installations with their numbers; speed, tolerance, track and radius; the workshop's cycle chart.

    Returns
    -------
    Frequencies [Hz] and shown speeds [km/h], parity, false slip and the wheels in a left turn.
    """
    names = _distinct([installation for _, installation in installations])
    at = [
        (number, installation.model_copy(update={"check_speed_kmh": settings.speed_kmh, "name": name}))
        for (number, installation), name in zip(installations, names, strict=True)
    ]
    done = [(number, installation, evaluate(installation, chart)) for number, installation in at]
    rows = tuple([_row(number, installation, result, settings) for number, installation, result in done])
    turn_text = ""
    if settings.track_mm is not None and settings.radius_m is not None:
        inner, outer = wheel_speeds_in_turn_kmh(settings.speed_kmh, settings.track_mm, settings.radius_m)
        turn_text = text_of(
            "In a left turn of {0:g} m the inner wheel rolls at {1:.1f} and the outer at {2:.1f} "
            "km/h; a shaft turns at their mean speed.",
            settings.radius_m,
            inner,
            outer,
        )
    wheels = [(installation, result) for _, installation, result in done if installation.vehicle_kind != "boat"]
    equal = _of(wheels, "brake_control")  # nothing else compares wheels by their counts
    parity = _parity(equal, settings.tolerance_pct) if len(equal) > 1 else None
    logged = _of(wheels, "slip_control")
    braked = [pair for pair in equal if compares_counts(pair[0])]
    others = [pair for pair in wheels if not compares_counts(pair[0])]
    slip = (
        *_slip(logged if len(logged) > 1 else others, settings.speed_kmh),
        *_slip(braked, settings.speed_kmh),
    )
    findings = tuple(_rules([installation for installation, _ in wheels], parity, slip))
    return VehicleSheet(
        speed_kmh=settings.speed_kmh, rows=rows, parity=parity, slip=slip, turn_text=turn_text, findings=findings
    )


def _distinct(installations: list[Installation]) -> list[str]:
    """Their names; equal ones with the place that is sensed, and with a number where that is equal too."""
    names = [installation.name for installation in installations]
    if len(set(names)) < len(names):
        names = [
            text_of("{0}, {1}", item.name, label_of(item.sensed_at, codes_of(SensedAt)).lower())
            if names.count(item.name) > 1
            else item.name
            for item in installations
        ]
    return [
        text_of("{0} ({1})", name, names[: place + 1].count(name)) if names.count(name) > 1 else name
        for place, name in enumerate(names)
    ]


def _of(wheels: list[tuple[Installation, Evaluation]], purpose: str) -> list[tuple[Installation, Evaluation]]:
    return [pair for pair in wheels if pair[0].purpose == purpose]


def _row(number: int, installation: Installation, evaluation: Evaluation, settings: SheetSettings) -> SheetRow:
    turn = _turn_kmh(installation.sensed_at, settings)
    displays = tuple(
        [
            ShownBy(
                name=r.name,
                shows_speed=r.entry != "counts",
                shown_now=now,
                shown_kmh=r.shown.shown_kmh,
                error_pct=r.shown.error_pct,
                number=r.in_use.text,
                unit=r.unit,
            )
            for r, now in zip(evaluation.readouts, shown_now(installation, evaluation), strict=True)
        ]
    )
    return SheetRow(
        installation=number,
        name=installation.name,
        sensed_at=installation.sensed_at,
        driven=installation.drive.driven,
        pulses_per_turn_of_wheel=evaluation.pulses_per_turn_of_wheel,
        circumference_mm=evaluation.stages[0].value,
        circumference_u_pct=evaluation.stages[0].relative_standard_uncertainty_pct,
        frequency_hz=evaluation.frequency_hz,
        displays=displays,
        expanded_uncertainty_pct=evaluation.shown.expanded_uncertainty_pct,
        turn_kmh=turn,
        turn_shown_kmh=None if turn is None else evaluation.readouts[0].shown_at_kmh(turn),
    )


def _parity(wheels: list[tuple[Installation, Evaluation]], tolerance_pct: float) -> Parity:
    counts = tuple([result.pulses_per_turn_of_wheel for _, result in wheels])
    lengths = [result.stages[0].value for _, result in wheels]
    equal = max(counts) - min(counts) < 1e-9
    spread_pct = 100 * (max(lengths) / min(lengths) - 1)
    within = spread_pct <= tolerance_pct
    words = text_of(
        "{0}; circumferences differ by {1:.1f} %, within {2:g} %."
        if within
        else "{0}; circumferences differ by {1:.1f} %, more than {2:g} %.",
        "Counts per turn are equal" if equal else "Counts per turn differ",
        spread_pct,
        tolerance_pct,
    )
    return Parity(
        counts_equal=equal,
        counts=counts,
        spread_pct=spread_pct,
        tolerance_pct=tolerance_pct,
        within=within,
        text=words,
    )


def compares_counts(installation: Installation) -> bool:
    """Whether its reader has no setting and compares the counts of the wheels, as a brake-control unit does."""
    return installation.readouts[0].entry == "counts"


def _seen(result: Evaluation, true_kmh: float) -> float:
    """What a reader makes of a speed: what it shows [km/h], or of one that compares counts the pulses of an hour."""
    readout = result.readouts[0]
    return true_kmh * readout.delivered_per_km if readout.entry == "counts" else readout.shown_at_kmh(true_kmh)


def _slip(wheels: list[tuple[Installation, Evaluation]], speed_kmh: float) -> list[SlipCurve]:
    """(shown of the one − shown of the reference)/shown of the reference, while neither slips."""
    references = [pair for pair in wheels if not pair[0].drive.driven]
    compared = [pair for pair in wheels if pair[0].drive.driven] or references[1:]
    found = []
    speeds = tuple([1.5 * speed_kmh * (place + 1) / CURVE_POINTS for place in range(CURVE_POINTS)])
    for reference, ours in references[:1]:
        if _seen(ours, speed_kmh) <= 0:  # a display that shows nothing is no reference
            continue
        for installation, theirs in compared:
            ratio = _seen(theirs, speed_kmh) / _seen(ours, speed_kmh)
            curve = _slip_curve_pct((reference, ours), (installation, theirs), speeds, speed_kmh)
            expanded_pct = _expanded_slip_pct((reference, ours), (installation, theirs))
            slip_pct = 100 * (ratio - 1)
            found.append(
                SlipCurve(
                    reference=reference.name,
                    compared=installation.name,
                    slip_pct=slip_pct,
                    slip_kmh=speed_kmh * slip_pct / 100,
                    expanded_pct=expanded_pct,
                    speeds_kmh=speeds,
                    curve_pct=curve,
                )
            )
    return found


def _expanded_slip_pct(first: Pair, second: Pair) -> float:
    """± of the ratio of two wheels [%, 95.45 %]: U² = U_a² + U_b² − 2·k²·cov(a, b) + 2·(k·u_own)².

    On two tyres of one marking the make, the marking and the deflection are off by the same amount, which the ratio
    does not see; what remains is how far two such tyres differ from each other.

    References
    ----------
    JCGM 100:2008, 5.2.2; coverage simulated in tests/core/test_vehicle.py.
    """
    apart_pct = math.hypot(first[1].chain_expanded_uncertainty_pct, second[1].chain_expanded_uncertainty_pct)
    markings = [item.wheel.marking.text for item, _ in (first, second) if item.wheel.marking is not None]
    if len(markings) < 2 or markings[0] != markings[1]:
        return apart_pct
    ours, theirs = [_of_the_tyre(result.wheel_detail.budget) for _, result in (first, second)]
    shared_pct2 = COVERAGE_FACTOR**2 * covariance(ours, theirs)
    own_pct2 = 2 * (COVERAGE_FACTOR * OWN_TYRE_U_PCT) ** 2 if shared_pct2 else 0.0
    return math.sqrt(max(apart_pct**2 - 2 * shared_pct2 + own_pct2, own_pct2))


def _of_the_tyre(budget: Budget) -> Budget:
    return tuple([part for part in budget if part.source in SAME_ON_ONE_MARKING or part.source.startswith("row.")])


def _factor(installation: Installation) -> float | None:
    """3.05 or π, where the circumference in use is that of a size marking."""
    wheel = installation.wheel
    if wheel.method != "marking" or wheel.marking is None:
        return None
    etrto = uses_etrto_factor(wheel.marking, parse_marking(wheel.marking.text), installation.vehicle_kind)
    return ETRTO_FACTOR if etrto else math.pi


def _slip_curve_pct(reference: Pair, compared: Pair, speeds_kmh: tuple[float, ...], at_kmh: float) -> tuple[float, ...]:
    """False slip over speed: what both readouts show there, and how much either tyre has grown since `at_kmh`."""

    def grown(v: float, wheel: Wheel) -> float:
        return growth_factor(wheel, at_kmh) / growth_factor(wheel, v)

    return tuple(
        [
            100
            * (
                _seen(compared[1], v)
                * grown(v, compared[0].wheel)
                / (_seen(reference[1], v) * grown(v, reference[0].wheel))
                - 1
            )
            for v in speeds_kmh
        ]
    )


def _rules(installations: list[Installation], parity: Parity | None, slip: tuple[SlipCurve, ...]) -> Iterator[Finding]:
    purposes = {installation.purpose for installation in installations}
    if "brake_control" in purposes:
        if parity is not None and not (parity.counts_equal and parity.within):
            yield finding(FindingCode.PARITY, parity=parity.text)
        watched = {installation.sensed_at for installation in installations if installation.purpose == "brake_control"}
        missing = [place.replace("_", " ") for place in (*LEFT, *RIGHT) if place not in watched]
        if missing:
            yield finding(FindingCode.FOUR_WHEELS, places=joined(", ", missing))
    factors: dict[float, str] = {}
    for installation in installations:
        if (factor := _factor(installation)) is not None:
            factors.setdefault(factor, installation.name)
    if len(factors) > 1:
        yield finding(FindingCode.SHEET_FACTORS, first=factors[ETRTO_FACTOR], second=factors[math.pi])
    if "slip_control" not in purposes:
        return
    if not slip:
        yield finding(FindingCode.SLIP_NEEDS_TWO)
    for curve in slip:
        if abs(curve.slip_pct) > curve.expanded_pct:
            yield finding(
                FindingCode.SHEET_FALSE_SLIP,
                compared=curve.compared,
                reference=curve.reference,
                slip_pct=curve.slip_pct,
                slip_kmh=curve.slip_kmh,
            )
