"""What a display really shows at the check speed: with a blocked or failed stage that is not what its setting says."""

from __future__ import annotations

import math
from collections.abc import Sequence
from typing import Literal

import numpy as np

from speedchain.bench.moment import MOST_LOOKED_AT
from speedchain.bench.profile import Profile
from speedchain.bench.simulation import Faults, at_the_reader, edges_of, line_of, shown_by, speed_of_hz
from speedchain.document import Installation
from speedchain.evaluation import Evaluation
from speedchain.fields import InputError, StageName, Words, text_of
from speedchain.results import result
from speedchain.stages import Finding, FindingCode

ShownKind = Literal["shows", "nothing", "other", "unsteady", "unknown"]
CANNOT_SAY = frozenset({
    FindingCode.TOUCHES, FindingCode.NO_WINDOW, FindingCode.NO_WINDOW_MAGNET,
    FindingCode.MAKER_GAP, FindingCode.MAKER_DISAGREES, FindingCode.SENSOR_SUPPLY,
    FindingCode.RATIO, FindingCode.COMPARATOR, FindingCode.LOAD_TOO_LARGE, FindingCode.SHARED_LOADED,
    FindingCode.OVER_DRIVEN, FindingCode.OVER_VOLTAGE,
    FindingCode.OUT_OF_RANGE, FindingCode.OUT_OF_RANGE_PER_TURN, FindingCode.LEARN_AGAIN,
    FindingCode.COUNT_NOT_ACCEPTED,
    FindingCode.SPIN_FAILED, FindingCode.MAGNET_FAILED, FindingCode.BENCH_FAILED, FindingCode.SIGNED_RED,
})  # fmt: skip
"""What comes of these no calculation says: a part may be destroyed, a number is not known, a test found otherwise."""
AS_SHOWN = frozenset({
    FindingCode.UNDER_READS, FindingCode.CHART_NEIGHBOUR, FindingCode.TWO_CHANNELS, FindingCode.CHANNELS_TOGETHER,
    FindingCode.PARITY,
})  # fmt: skip
"""The display shows its figure all the same: it is the law, the direction or another wheel that blocks."""
LOOK_TURNS, LOOK_S = 2.0, 2.0
"""So many turns of the target and so long a display is looked at."""
LOOKS = 160
GATES = 2.2
"""A display is settled after so many of its gates, or of the pulses that it averages."""
MOST_SETTLING = 40_000
LONGEST_S = 3600.0
UNSTEADY_PCT, OTHER_PCT = 2.0, 0.5
"""Beyond so much of the true speed, and of its own steps, a display swings, or shows another figure."""


@result
class ShownNow:
    """What one readout shows at the check speed: from `low_kmh` to `high_kmh`; what it would show once all is right,
    and the finding that comes between.

    `text` says it in words. `shows`: the figure that its setting gives. `nothing`: 0, or no figure. `other`: another
    figure, steadily. `unsteady`: it swings. `unknown`: it cannot be said.
    """

    kind: ShownKind
    low_kmh: float
    high_kmh: float
    would_kmh: float
    text: Words
    stage: StageName | None = None
    cause: Words = ""
    remedy: Words = ""


def shown_now(installation: Installation, evaluation: Evaluation) -> tuple[ShownNow, ...]:
    """What each readout really shows at the check speed.

    Without a blocking finding that is its figure. With one, the bench drives at the check speed and is looked at: teeth
    that give no signal, pulses that come twice, a filter that takes them away are simulated; what no calculation says
    is `unknown`.

    Parameters
    ----------
    An installation and its evaluation.

    Examples
    --------
    >>> from speedchain.document.installation import example_installation
    >>> from speedchain.evaluation import evaluate
    >>> sound = example_installation()
    >>> reed = sound.model_copy(update={"sensor": sound.sensor.model_copy(update={"kind": "reed"})})
    >>> [(item.kind, round(item.high_kmh), round(item.would_kmh)) for item in shown_now(sound, evaluate(sound))]
    [('shows', 100, 100)]
    >>> [(item.kind, round(item.high_kmh), round(item.would_kmh)) for item in shown_now(reed, evaluate(reed))]
    [('nothing', 0, 100)]
    """
    blocking = [item for item in evaluation.findings if item.severity == "blocking"]
    if not blocking:
        return tuple([_as_set(readout.shown.shown_kmh) for readout in evaluation.readouts])
    return tuple([_shown_now(installation, evaluation, place, blocking) for place in range(len(evaluation.readouts))])


def _as_set(kmh: float) -> ShownNow:
    return ShownNow(kind="shows", low_kmh=kmh, high_kmh=kmh, would_kmh=kmh, text=text_of("{0:.1f} km/h", kmh))


def _in_words(kind: ShownKind, low_kmh: float, high_kmh: float) -> Words:
    match kind:
        case "nothing":
            return "nothing"
        case "unsteady":
            return text_of("unsteady, {0:.0f} to {1:.0f} km/h", low_kmh, high_kmh)
        case "unknown":
            return "not known"
        case _:
            return text_of("{0:.1f} km/h", (low_kmh + high_kmh) / 2)


def _shown_now(installation: Installation, evaluation: Evaluation, place: int, blocking: Sequence[Finding]) -> ShownNow:
    readout, found = installation.readouts[place], evaluation.readouts[place]
    mine = [item for item in blocking if item.parameters.get("readout", readout.name) == readout.name]
    between = [item for item in mine if item.code not in AS_SHOWN]
    would_kmh = found.shown.shown_kmh
    if not between:
        return _as_set(would_kmh)
    looked_at = _looked_at(installation, evaluation, place)
    low_kmh, high_kmh = looked_at or (would_kmh, would_kmh)
    step_kmh, true_kmh = readout.display_step_kmh, installation.check_speed_kmh
    unsteady_kmh = max(2 * step_kmh, true_kmh * UNSTEADY_PCT / 100)
    kind: ShownKind = "shows"
    if high_kmh <= 0:
        kind = "nothing"
    elif high_kmh - low_kmh > unsteady_kmh:
        kind = "unsteady"
    elif abs((low_kmh + high_kmh) / 2 - would_kmh) > max(1.01 * step_kmh, true_kmh * OTHER_PCT / 100):
        kind = "other"
    unsure = [item for item in between if item.code in CANNOT_SAY]
    if kind == "shows" and not unsure and looked_at:
        return _as_set(would_kmh)  # it is blocked at another speed
    if kind == "shows":
        kind = "unknown"
    causes = unsure if kind == "unknown" else [one for one in between if one not in unsure]
    cause = (causes or between)[0]
    return ShownNow(
        kind=kind,
        low_kmh=low_kmh,
        high_kmh=high_kmh,
        would_kmh=would_kmh,
        text=_in_words(kind, low_kmh, high_kmh),
        stage=cause.stage,
        cause=cause.message,
        remedy=cause.remedy,
    )


def _looked_at(installation: Installation, evaluation: Evaluation, place: int) -> tuple[float, float] | None:
    """Lowest and highest speed that a display shows in a steady drive [km/h]; None where that cannot be simulated."""
    kmh = installation.check_speed_kmh
    line = line_of(installation, evaluation, Faults())
    hz = kmh / 3600 * evaluation.pulses_per_km
    turn_s = line.pulses.count * line.edges / hz
    look_s = min(max(LOOK_S, LOOK_TURNS * turn_s), 2 * MOST_LOOKED_AT / hz)
    readout, result_of = installation.readouts[place], evaluation.readouts[place]
    timing = readout.timing
    own_s = GATES * timing.gate_s if timing.method == "gate" else GATES * (timing.pulses_averaged + 2) / hz
    settled_s = max(own_s, timing.time_out_s or 0.0)
    until_s = min(settled_s, MOST_SETTLING / hz) + look_s
    if until_s > LONGEST_S:
        return None
    travel = line.travel(Profile.swept(kmh, kmh, until_s), 0.0, until_s)
    edges = edges_of(line, travel=travel, first=0, last=math.floor(travel.turns[-1] * line.pulses.count), seed=1)
    try:
        counted = at_the_reader(line, readout, edges)
    except InputError:  # a converter that gives out more than a simulation takes
        return None
    if settled_s * hz > MOST_SETTLING and timing.method == "gate":  # so many that their mean is what a gate counts
        mean_kmh = float(speed_of_hz(result_of, np.array([counted.size / until_s]))[0])
        return mean_kmh, mean_kmh
    shown = shown_by(readout, result_of, counted, np.linspace(until_s - look_s, until_s, LOOKS))
    return float(shown.min()), float(shown.max())
