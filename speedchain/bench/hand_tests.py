"""Tests by hand: a wheel turned once a second, a magnet or a screwdriver waved past the sensor."""

from __future__ import annotations

import math
from dataclasses import replace

import numpy as np

from speedchain.advice import caution_at
from speedchain.bench.simulation import speed_of_hz
from speedchain.diagnosis import FOLLOWS
from speedchain.document import Installation
from speedchain.evaluation import Evaluation
from speedchain.fields import InputError, Outcome, Words, text_of
from speedchain.fitted import fitted, words_for
from speedchain.results import result
from speedchain.sensor import SensorKind, detects

MOST_WAVES = 1000
BY_HAND_HZ = 4.0
"""Faster no hand waves. Common practice."""
MOST_SECONDS = 600
MOVED_BY_MAGNETS: tuple[SensorKind, ...] = ("reed", "hall_switch")
"""Sensors that steel does not move."""


@result
class Prediction:
    """What one readout should show, and in words why it may show nothing."""

    readout: str
    hz: float
    shown_kmh: float
    text: Words


@result
class HandTest:
    """A test by hand: what to do, what to expect, the caution, and what follows from each outcome."""

    test: str
    steps: tuple[Words, ...]
    caution: Words
    predictions: tuple[Prediction, ...]
    notes: tuple[Words, ...]
    follows: dict[Outcome, str]


def _follows(test: str) -> dict[Outcome, str]:
    return {outcome: text for (of, outcome), text in FOLLOWS.items() if of == test}


def spin_test(installation: Installation, evaluation: Evaluation, turns: int = 10, seconds: float = 10.0) -> HandTest:
    """What to expect of a wheel turned n times in s seconds: v = 3.6·C·n/s [km/h], C in m.

    With a differential between wheel and sensor and the other wheel held, the shaft turns half as fast:
    half of it is shown.

    Raises
    ------
    `InputError` for no turns or no time.

    References
    ----------
    Kinematics of the differential (the shaft turns with the mean of both wheels), any textbook.

    Examples
    --------
    >>> from speedchain.evaluation import evaluate

    >>> from speedchain.document.installation import example_installation
    >>> installation = example_installation()
    >>> round(spin_test(installation, evaluate(installation)).predictions[0].shown_kmh, 1)
    6.9
    """
    _check(turns, seconds)
    wheel_m = evaluation.stages[0].value / 1000
    true_kmh = 3.6 * wheel_m * turns / seconds
    notes = [text_of("One turn per second is {0:.2f} km/h.", 3.6 * wheel_m)]
    if installation.drive.kind in ("axle_ratio", "transfer_box", "cable") and installation.drive.driven:
        notes.append(
            text_of(
                "The target is before the differential. If the other wheel stands still, the shaft turns "
                "half as fast: expect {0:.1f} km/h. With a locked differential both wheels turn, and the "
                "full speed is shown.",
                true_kmh / 2,
            )
        )
    hz = true_kmh * evaluation.pulses_per_km / 3600
    predictions = _predictions(installation, evaluation, hz)
    if not detects(installation.sensor.kind, installation.target):
        predictions = _nothing(predictions, "this sensor does not detect this target: zero")
    words = words_for(installation)
    return HandTest(
        test="spin",
        steps=(
            words["free"],
            text_of(
                "Turn it {0} times in {1:g} s, evenly: mark the {2} and use a watch.", turns, seconds, words["turned"]
            ),
            "Read the display while it turns. Do this before the final torque."
            if "bolted" in fitted(installation)
            else "Read the display while it turns.",
        ),
        caution=caution_at(fitted(installation), "lift", "spin"),
        predictions=predictions,
        notes=tuple(notes),
        follows=_follows("spin"),
    )


def magnet_test(installation: Installation, evaluation: Evaluation, waves: int = 10, seconds: float = 10.0) -> HandTest:
    """What to expect of N waves in M seconds: f = N·edges/M, v = 3600·f/set.

    Examples
    --------
    >>> from speedchain.evaluation import evaluate

    >>> from speedchain.document.installation import example_installation
    >>> installation = example_installation()
    >>> result = magnet_test(installation, evaluate(installation), 200, 10).predictions[0]
    >>> result.hz, round(result.shown_kmh, 2)
    (20.0, 2.89)
    """
    _check(waves, seconds)
    by_magnet = installation.sensor.kind in MOVED_BY_MAGNETS or installation.target.single
    by_magnet = by_magnet or installation.target.kind == "multipole_ring"
    tip = "a magnet" if by_magnet else "a screwdriver's steel tip"
    predictions = _predictions(installation, evaluation, waves * installation.target.edges / seconds)
    if "no_target" in fitted(installation) or "sealed_paddle" in fitted(installation):
        predictions = _nothing(predictions, "nothing passes this sensor: do the spin test")
    elif installation.sensor.kind == "variable_reluctance":
        predictions = _nothing(predictions, "a coil gives too little at the speed of a hand: zero. Do the spin test")
    return HandTest(
        test="magnet",
        steps=(
            "Switch the display on; leave the sensor connected.",
            text_of("Pass {0} by the tip of the sensor {1} times in {2:g} s, within 1 mm.", tip, waves, seconds),
            "Watch for any speed at all.",
        ),
        caution=caution_at(fitted(installation), "magnet"),
        predictions=predictions,
        notes=(
            text_of(
                "Each pass equals one {0}."
                if installation.target.edges == 1
                else "Each pass, counted twice, equals one {0}.",
                words_for(installation)["one"],
            ),
            *_too_fine(installation, evaluation),
        ),
        follows=_follows("magnet"),
    )


def _nothing(predictions: tuple[Prediction, ...], why: str) -> tuple[Prediction, ...]:
    """The same where nothing can come of it."""
    return tuple([replace(item, hz=0.0, shown_kmh=0.0, text=why) for item in predictions])


def _too_fine(installation: Installation, evaluation: Evaluation) -> tuple[str, ...]:
    readout, seen = installation.readouts[0], evaluation.readouts[0]
    at_most = BY_HAND_HZ * installation.target.edges * 3600 / seen.set_pulses_per_km
    if at_most > max(readout.display_step_kmh, readout.timing.minimum_kmh or 0.0):
        return ()
    return (
        text_of(
            "Too slow by hand for {0}: four passes per second give {1:.2g} km/h. Do the spin test.",
            readout.name,
            at_most,
        ),
    )


def _check(number: int, seconds: float) -> None:
    for value, most, path in ((number, MOST_WAVES, "number"), (seconds, MOST_SECONDS, "seconds")):
        if not 0 < value <= most:
            raise InputError(
                text_of(
                    "{0:g} is not a valid {1} for a hand test.",
                    value,
                    "number of turns or passes" if path == "number" else "time",
                ),
                remedy="Do ten in ten seconds.",
                limit=text_of("above 0, at most {0}", most),
                value=value,
                path=path,
            )


def _predictions(installation: Installation, evaluation: Evaluation, sensor_hz: float) -> tuple[Prediction, ...]:
    conversion = evaluation.signal_detail.conversion
    predictions = []
    for readout, seen in zip(installation.readouts, evaluation.readouts, strict=True):
        behind = conversion is not None and not readout.before_converter
        hz = sensor_hz * (conversion.ratio if behind and conversion else 1.0)
        shown = float(speed_of_hz(seen, np.array([hz]))[0])
        timing = readout.timing
        words = text_of("shows {0:.3g} km/h", shown)
        floor = max(timing.minimum_kmh or 0.0, 0.0)
        if timing.time_out_s is not None and hz * timing.time_out_s < 1:
            shown, words = (
                0.0,
                text_of(
                    "a pulse every {0:.2g} s is longer than its zero time-out of {1:g} s: zero",
                    1 / hz,
                    timing.time_out_s,
                ),
            )
        elif shown < floor:
            shown, words = 0.0, text_of("below its minimum of {0:g} km/h: zero", floor)
        elif shown < readout.display_step_kmh / 2:
            shown, words = 0.0, text_of("{0:.2g} km/h is below its resolution: zero, or unsteady", shown)
        predictions.append(Prediction(readout=readout.name, hz=hz, shown_kmh=shown, text=words))
    return tuple(predictions)


def waves_for(installation: Installation, evaluation: Evaluation, place: int = 0, seconds: float = 10.0) -> int:
    """How many waves in a time bring a reading that is surely seen, as far as a hand can: at most four a second.

    Surely seen: two of the display's steps, above its floor, two pulses in its time-out.

    Examples
    --------
    >>> from speedchain.evaluation import evaluate

    >>> from speedchain.document.installation import example_installation
    >>> waves_for(example_installation(), evaluate(example_installation()))
    40
    """
    readout, seen = installation.readouts[place], evaluation.readouts[place]
    wanted = max(2 * readout.display_step_kmh, 1.2 * (readout.timing.minimum_kmh or 0.0))
    needed = math.ceil(wanted * seen.set_pulses_per_km / 3600 * seconds / installation.target.edges)
    if readout.timing.time_out_s is not None:
        needed = max(needed, math.ceil(2 * seconds / readout.timing.time_out_s / installation.target.edges))
    return max(min(needed, math.floor(BY_HAND_HZ * seconds)), 1)
