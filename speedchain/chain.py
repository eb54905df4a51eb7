"""The fit document, version 1, and the one door: `evaluate(fit)`."""

from __future__ import annotations

import json
from typing import Any, Literal

from pydantic import Field, TypeAdapter, ValidationError

from speedchain.advice import NextAction, next_action
from speedchain.arrival import Arrival, SignalDetail
from speedchain.bands import BandCode
from speedchain.detective import Belief, beliefs
from speedchain.drive import Drive, DriveDetail, evaluate_drive
from speedchain.errors import FitError, InputError, Problem, problems_from_pydantic
from speedchain.evidence import COVERAGE_FACTOR, Contribution, Part, Trial, combine_pct
from speedchain.findings import Finding
from speedchain.links import Figure, Link
from speedchain.placement import Placement, PlacementDetail, check_placement, check_rates, judge
from speedchain.placement.judge import NOTHING
from speedchain.purposes import ON_THE_ROAD, Purpose, SensedAt, VehicleKind
from speedchain.readout import Readout, ReadoutResult, evaluate_readout
from speedchain.readout.setting import ROAD_PURPOSES
from speedchain.results import result
from speedchain.rules import check_purpose, check_shown
from speedchain.sensor import Needs, Sensor, evaluate_sensor
from speedchain.signal import Signal, evaluate_signal, frequency_hz
from speedchain.target import RingShape, Target, evaluate_target, ring_shape
from speedchain.texts import LongText, Name
from speedchain.units import Speed
from speedchain.wheel import Wheel, WheelDetail, evaluate_wheel, growth_factor
from speedchain.wheel.chart import CYCLE_CHART, Chart

WheelsDriven = Literal["unsaid", "none", "one", "two", "four"]
FORMAT = "wheelometron-fit"
VERSION = 1


class Fit(Part):
    """One sensor-to-readout installation on a vehicle, from the ground to the number on the display."""

    format: Literal["wheelometron-fit"] = "wheelometron-fit"
    version: Literal[1] = 1
    name: Name
    purpose: Purpose
    vehicle_kind: VehicleKind
    sensed_at: SensedAt = Field("unsaid", description="Which wheel or axle of the vehicle is sensed.")
    check_speed_kmh: Speed = Field(100.0, description="The true speed at which everything is shown.")
    check_speeds_kmh: tuple[Speed, ...] = Field((), max_length=12, description="More true speeds to check at.")
    band: BandCode = Field("un_r39", description="What the law allows a road display to show. Check your local rules.")
    wheel: Wheel
    drive: Drive = Drive()
    target: Target
    sensor: Sensor
    placement: Placement | None = Field(None, description="Where the sensor sits before the target.")
    signal: Signal = Signal()
    readouts: tuple[Readout, ...] = Field(min_length=1, max_length=8)
    trials: tuple[Trial, ...] = Field((), max_length=60, description="Tests by hand and on the bench, newest last.")
    wheels_driven: WheelsDriven = Field("unsaid", description="For the supplier of a loom or controller.")
    notes: LongText = ""

    @property
    def needs(self) -> Needs:
        """What the sensor has to do: as entered, or up to the fastest speed to check."""
        if self.sensor.needs is not None:
            return self.sensor.needs
        top_kmh = max(self.check_speed_kmh, *self.check_speeds_kmh, 0.0)
        return Needs.model_construct(lowest_kmh=min(5.0, top_kmh), top_kmh=top_kmh)

    def readout_at(self, place: int) -> Readout:
        """One of the readouts, from 0; raises `InputError` where there is none."""
        if not 0 <= place < len(self.readouts):
            raise InputError(
                f"There is no readout {place + 1}; this fit has {len(self.readouts)}.",
                remedy="Choose one of them.",
                limit=f"0 to {len(self.readouts) - 1}",
                value=place,
                path="readout",
            )
        return self.readouts[place]

    def band_applies(self) -> bool:
        """Whether the law's band is held against this fit: a display read on the road, and a band chosen."""
        return self.band != "none" and self.vehicle_kind in ON_THE_ROAD and self.purpose in ROAD_PURPOSES


@result
class Shown:
    """What the first readout shows at the true speed, with expanded uncertainty (k = 2)."""

    true_kmh: float
    shown_kmh: float
    error_pct: float
    relative_standard_uncertainty_pct: float
    expanded_uncertainty_kmh: float
    expanded_uncertainty_pct: float
    coverage_factor: int


@result
class PulseTimes:
    """Longest pulse, at the lowest speed, and shortest, at the top speed, that the sensor gives [ms]."""

    lowest_kmh: float
    longest_ms: float
    top_kmh: float
    shortest_ms: float
    top_hz: float


@result
class Evaluation:
    """Everything that follows from a fit."""

    links: tuple[Link, ...]
    pulses_per_turn_of_wheel: float
    pulses_per_km: float
    metres_per_pulse: float
    frequency_hz: float
    chain_relative_standard_uncertainty_pct: float
    readouts: tuple[ReadoutResult, ...]
    shown: Shown
    wheel_detail: WheelDetail
    drive_detail: DriveDetail
    ring: RingShape | None
    placement_detail: PlacementDetail
    pulse_times: PulseTimes
    signal_detail: SignalDetail
    beliefs: tuple[Belief, ...]
    contributions: tuple[Contribution, ...]
    next_action: NextAction
    findings: tuple[Finding, ...]


EVALUATION: TypeAdapter[Evaluation] = TypeAdapter(Evaluation)
_SEVERITY = {"blocking": 0, "warning": 1, "note": 2}


def read_fit(document: Any) -> Fit:
    """A fit from plain data (as JSON gives it); raises `FitError` with every problem in it.

    >>> read_fit({"name": "x"}).name
    Traceback (most recent call last):
        ...
    speedchain.errors.FitError: purpose: This field is missing. Add it.; vehicle_kind: This field is missing. Add it.; wheel: This field is missing. Add it.; target: This field is missing. Add it.; sensor: This field is missing. Add it.; readouts: This field is missing. Add it.
    """
    try:
        return Fit.model_validate(document)
    except ValidationError as error:
        raise FitError(*problems_from_pydantic(error.errors(include_url=False))) from None
    except RecursionError:
        raise FitError(Problem("", "The document is nested too deeply.", "Use a fit document.")) from None


def read_fit_json(text: str | bytes) -> Fit:
    """A fit from JSON text; raises `FitError`.

    >>> read_fit_json("{")
    Traceback (most recent call last):
        ...
    speedchain.errors.FitError: This is not JSON: Expecting property name enclosed in double quotes, line 1. Check brackets, quotes and commas.
    """
    try:
        document = json.loads(text)
    except json.JSONDecodeError as error:
        message = f"This is not JSON: {error.msg}, line {error.lineno}."
        raise FitError(Problem("", message, "Check brackets, quotes and commas.")) from None
    except UnicodeDecodeError:
        raise FitError(Problem("", "This is not text in UTF-8.", "Save the file as UTF-8.")) from None
    except (ValueError, RecursionError):
        message = "This JSON holds a number or a nesting beyond any fit document."
        raise FitError(Problem("", message, "Open the file and look for it.")) from None
    return read_fit(document)


def write_fit_json(fit: Fit) -> str:
    """The fit as JSON text, every field written out, for a `*.fit.json` file."""
    return fit.model_dump_json(indent=2) + "\n"


def evaluate(fit: Fit, chart: Chart = CYCLE_CHART) -> Evaluation:
    """Every link's figures and what they come to.

    pulses_per_km = edges × count × ratio × 10⁶/C_mm; f = v/3.6 × pulses_per_km/1000;
    shown/true = pulses per km delivered/told; u² = Σ u_i² (relative), U = 2·u.

    Parameters: a valid `Fit`; the workshop's cycle chart. Returns an `Evaluation`; lengths [mm], speeds [km/h], frequencies [Hz].
    References: unit arithmetic; JCGM 100:2008, 5.1.6 and 6.2.

    >>> result = evaluate(example_fit())
    >>> round(result.pulses_per_km, 1), round(result.shown.shown_kmh, 2)
    (24905.4, 100.0)
    """
    findings: list[Finding] = []
    pulses = float(fit.target.count * fit.target.edges)
    speed_kmh = fit.check_speed_kmh
    wheel, wheel_detail = evaluate_wheel(fit.wheel, fit.vehicle_kind, findings, pulses, speed_kmh, chart)
    drive, drive_detail = evaluate_drive(fit.drive, fit.purpose, findings, wheel.value, speed_kmh)
    turns_per_s = speed_kmh / 3.6 / (wheel.value / 1000) * drive.value
    ring = ring_shape(fit.target)
    target = evaluate_target(fit.target, fit.purpose, findings, ring, turns_per_s)
    gap_measured = fit.placement is not None and fit.placement.measured
    sensor = evaluate_sensor(fit.sensor, fit.target, findings, gap_measured)
    per_turn = target.value * drive.value
    pulses_per_km = per_turn * 1e6 / wheel.value
    chain_u_pct = combine_pct(
        (
            wheel.relative_standard_uncertainty_pct,
            drive.relative_standard_uncertainty_pct,
            target.relative_standard_uncertainty_pct,
        )
    )
    needs = fit.needs
    placed = NOTHING
    if fit.placement is not None:
        placed = judge(fit.target, fit.sensor, fit.placement)
    check_placement(fit.target, ring, fit.sensor, fit.placement, placed, findings)
    top_hz = frequency_hz(needs.top_kmh, pulses_per_km)
    if sensor.value:
        check_rates(fit.sensor, top_hz, needs.top_kmh, fit.sensor.needs, findings)
    signal = evaluate_signal(fit.signal, speed_kmh, pulses_per_km, chain_u_pct)
    arrival = Arrival(fit, pulses_per_km, findings)
    conversion = arrival.conversion()
    signal_detail = arrival.detail(conversion, placed, ring)

    def readout_at(readout: Readout) -> ReadoutResult:
        converted = conversion is not None and not readout.before_converter
        given = pulses_per_km * (conversion.ratio if converted and conversion else 1.0)

        def per_km_at(at_kmh: float) -> float:
            return given * growth_factor(fit.wheel, speed_kmh) / growth_factor(fit.wheel, at_kmh)

        return evaluate_readout(readout, fit.purpose, per_km_at, speed_kmh, findings, fit.check_speeds_kmh)

    readouts = tuple([readout_at(readout) for readout in fit.readouts])
    links = (wheel, drive, target, sensor, signal, _readout_link(readouts[0]))
    shown = _shown(speed_kmh, readouts[0], chain_u_pct)
    check_purpose(fit, chain_u_pct, findings)
    for readout in readouts:
        check_shown(fit, readout, chain_u_pct, chart, findings)
    findings.sort(key=lambda finding: _SEVERITY[finding.severity])
    return Evaluation(
        links,
        per_turn,
        pulses_per_km,
        wheel.value / per_turn / 1000,
        signal.value,
        chain_u_pct,
        readouts,
        shown,
        wheel_detail,
        drive_detail,
        ring,
        placed,
        _pulse_times(needs, placed, wheel.value / drive.value, top_hz),
        signal_detail,
        beliefs(fit, readouts, wheel.value, drive.value, per_turn, chain_u_pct, chart),
        _contributions(links),
        next_action(fit, links, readouts, shown.relative_standard_uncertainty_pct, findings),
        tuple(findings),
    )


def _pulse_times(needs: Needs, placed: PlacementDetail, turn_mm: float, top_hz: float) -> PulseTimes:
    """A pulse's share of a turn of the target over the time that turn takes."""
    longest = placed.long_share * turn_mm / (needs.lowest_kmh / 3.6)
    shortest = placed.short_share * turn_mm / (needs.top_kmh / 3.6)
    return PulseTimes(needs.lowest_kmh, longest, needs.top_kmh, shortest, top_hz)


def _readout_link(readout: ReadoutResult) -> Link:
    u_pct = readout.relative_standard_uncertainty_pct
    figures = (
        Figure("number in use", readout.in_use.value, readout.unit, readout.evidence, 0.0),
        Figure("shown against true", readout.in_use.error_pct, "%", readout.evidence, u_pct),
    )
    return Link("readout", figures, readout.evidence, readout.grounds, u_pct, readout.why)


def _shown(true_kmh: float, readout: ReadoutResult, chain_u_pct: float) -> Shown:
    u_pct = combine_pct((chain_u_pct, readout.relative_standard_uncertainty_pct))
    shown_kmh = readout.in_use.shown_kmh
    expanded_pct = COVERAGE_FACTOR * u_pct
    return Shown(
        true_kmh,
        shown_kmh,
        readout.in_use.error_pct,
        u_pct,
        shown_kmh * expanded_pct / 100,
        expanded_pct,
        COVERAGE_FACTOR,
    )


def _contributions(links: tuple[Link, ...]) -> tuple[Contribution, ...]:
    total = sum([link.relative_standard_uncertainty_pct**2 for link in links])
    parts = [
        Contribution(
            link.link,
            link.relative_standard_uncertainty_pct,
            100 * link.relative_standard_uncertainty_pct**2 / total,
            "steps of the display" if link.link == "readout" else link.grounds,
        )
        for link in links
        if link.relative_standard_uncertainty_pct > 0
    ]
    return tuple(sorted(parts, key=lambda part: -part.share_pct))


def example_fit() -> Fit:
    """A small fit for examples: 205/55R16, 48 teeth at the hub, pulses per km."""
    return read_fit(
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
