"""From what was seen to the causes, and to the test that tells most for its minutes.

p(c | e) ∝ w(c) · Π p(e | c), with weights w moved by what is known of the installation; the gain of a test is the
expected fall of the entropy of p(c), in bits (Shannon 1948, from memory; checked against `scipy.stats.entropy` and
`pgmpy`'s elimination in the tests).
"""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from typing import Annotated, Literal

import numpy as np
from numpy.typing import NDArray
from pydantic import Field

from speedchain.diagnosis import failed_tests
from speedchain.document import Installation
from speedchain.evaluation import Evaluation
from speedchain.faults.causes import BY_CODE as CAUSE
from speedchain.faults.causes import OTHER
from speedchain.faults.facts import Reason, reasons_for
from speedchain.faults.priors import History
from speedchain.faults.table import OURS, OwnTable, Table, table_for
from speedchain.faults.tests_by_hand import BY_CODE as TEST
from speedchain.faults.tests_by_hand import FIXED_ORDER
from speedchain.faults.vocabulary import Changed, Symptom, Test
from speedchain.fields import InputError, Part, stated, text_of
from speedchain.fitted import fitted
from speedchain.runs import EventKind

Array = NDArray[np.float64]
CANNOT = "cannot"
"""The outcome of a test that cannot be done here."""
CURE = "cure:"
"""Before the code of a cause: its cure was tried."""
NOTED, NOT_NOTED = 0.92, 0.04
"""Chance that a symptom of a cause is noted, as a share of its own chance, and that one is noted without it."""
CURED_IF_RIGHT, CURED_IF_WRONG = 0.93, 0.06
FOUND = 0.95
"""From here on a cause is taken for found: its cure is tried and proved."""
DOUBT = 0.35
"""From here on none of the known causes fits the answers."""
LEAST_GAIN_BITS = 0.01
HALF_RATIO, STILL, SCATTER = 0.5, 0.02, 0.08
SPREADS: Mapping[str, tuple[float, float]] = {
    "tyre_changed": (0.0, 0.04), "pressure_load": (0.0, 0.012), "gearing_changed": (0.0, 0.25),
    "wrong_count": (0.0, 0.25),
    "setting_other": (0.0, 0.5), "not_learned": (0.0, 0.12), "converter_ratio": (0.0, 0.5),
    "paddle_fouled": (-0.12, 0.1), "paddle_skewed": (-0.05, 0.06), "teeth_damaged": (-0.03, 0.03),
    "poles_reversed": (-0.4, 0.2), "target_lost": (-0.4, 0.3), "gap_wide": (-0.5, 0.5), "half_aligned": (-0.5, 0.5),
    "damping": (0.0, 0.03), "noise_ignition": (0.2, 0.2), "counts_unequal": (0.0, 0.25),
}  # fmt: skip
"""Mean and standard deviation of ln(shown/true) where a cause has no ratio of its own. Common practice."""
RATIO_SIGMA = 0.02
UNTOUCHED = 0.7
"""How often a cause without a ratio of its own leaves the ratio as it is. Common practice."""
BROAD = 1.2
FEW = 8
"""Up to so many teeth or magnets one that is missing has a ratio of its own: (n − 1)/n."""
LACKING = ("target_lost", "poles_reversed", "teeth_damaged")
"""Causes by which one or two of the target are not counted."""

SEEN_IN_A_RUN: Mapping[EventKind, Symptom] = {
    "dropout": "drops_bumps",
    "half": "half",
    "double": "double",
    "spike": "noisy",
    "stuck": "nothing",
    "low": "drops_low",
    "high": "drops_high",
    "ripple": "noisy",
}
"""The symptom that an event in a recorded drive is. Common practice."""


class Answer(Part):
    """What came out of a test: its code, or `cure:` and a cause; the outcome, or `cannot`."""

    test: Annotated[str, Field(max_length=60)]
    outcome: Annotated[str, Field(max_length=30)]


class Pair(Part):
    """A true speed and what was shown then [km/h]."""

    true_kmh: Annotated[float, Field(gt=0, le=1500)] = stated(title="True speed")
    shown_kmh: Annotated[float, Field(ge=0, le=9999)] = stated(title="Reading")


class Seen(Part):
    """All that is known of a fault."""

    symptoms: Annotated[tuple[Symptom, ...], Field(max_length=13)] = ()
    history: History | None = None
    changed: Annotated[tuple[Changed, ...], Field(max_length=9)] = ()
    pairs: Annotated[tuple[Pair, ...], Field(max_length=20)] = ()
    answers: Annotated[tuple[Answer, ...], Field(max_length=200)] = ()


State = Literal["open", "found", "contradicts", "exhausted"]


class Posterior:
    """The chances of all causes after what was seen, and what each answer made of them."""

    def __init__(self, table: Table, log_weights: Array) -> None:
        self.table = table
        self.log = log_weights.copy()
        self.parts: list[tuple[str, Array]] = []
        self.answers: tuple[Answer, ...] = ()
        self.pairs: tuple[Pair, ...] = ()

    def add(self, what: str, chances: Array) -> None:
        """Take a piece of evidence in: its chance under each cause."""
        part = np.log(chances)
        self.log += part
        self.parts.append((what, part))

    @property
    def chances(self) -> Array:
        """The chances of the causes; their sum is 1."""
        return normalised(self.log)


def normalised(log: Array) -> Array:
    """Chances from their logarithms, up to a constant."""
    raw = np.exp(log - log.max())
    return np.asarray(raw / raw.sum())


def posterior_of(table: Table, seen: Seen, reasons: Sequence[Reason] = (), count: int = 0) -> Posterior:
    """The posterior after all that was seen, of a target of some count (0: not known). Raises `InputError` for an
    answer to a test that is not there."""
    log = np.log(table.weights)
    for reason in reasons:
        if reason.cause in table.place:
            log[table.place[reason.cause]] += math.log(reason.factor)
    posterior = Posterior(table, log)
    for symptom in seen.symptoms:
        posterior.add(f"symptom:{symptom}", _symptom(table, symptom))
    if seen.pairs:
        posterior.add("pairs", ratio_chances(table, seen.pairs, count))
    posterior.answers, posterior.pairs = newest(seen.answers), seen.pairs
    for answer in posterior.answers:
        if answer.outcome != CANNOT:
            posterior.add(answer.test, answer_chances(table, answer))
    return posterior


def newest(answers: Sequence[Answer]) -> tuple[Answer, ...]:
    """The last answer to each test, in the order in which they were given: a test that is repeated replaces its
    outcome."""
    last = {answer.test: answer for answer in answers}
    return tuple([answer for answer in answers if last[answer.test] is answer])


def _symptom(table: Table, symptom: Symptom) -> Array:
    own = [CAUSE[code].symptoms.get(symptom, 0.0) for code in table.causes[:-1]]
    return np.asarray(NOT_NOTED + (NOTED - NOT_NOTED) * np.array([*own, 0.25]))


def answer_chances(table: Table, answer: Answer) -> Array:
    """The chance of an answer under each cause."""
    if answer.test.startswith(CURE):
        code = answer.test.removeprefix(CURE)
        if code not in table.place or answer.outcome not in ("cured", "same"):
            raise InputError(text_of("There is no cure {0}.", code), remedy="Choose one of the list.", path="answers")
        cured = np.full(len(table.causes), CURED_IF_WRONG)
        cured[table.place[code]] = CURED_IF_RIGHT
        return cured if answer.outcome == "cured" else 1 - cured
    if answer.test not in table.chances or answer.outcome not in TEST[answer.test].outcomes:
        raise InputError(
            text_of("The test {0} with the outcome {1} is not possible here.", answer.test, answer.outcome),
            remedy="Choose one of the tests and outcomes that are offered.",
            path="answers",
        )
    return np.asarray(table.chances[answer.test][tuple(TEST[answer.test].outcomes).index(answer.outcome)])


def symptoms_of(pairs: Sequence[Pair]) -> tuple[Symptom, ...]:
    """What some pairs of true and shown speed look like.

    Examples
    --------
    >>> symptoms_of([Pair(true_kmh=50, shown_kmh=0)]), symptoms_of([Pair(true_kmh=50, shown_kmh=25.3)])
    (('nothing',), ('half',))
    """
    ratios = np.array([pair.shown_kmh / pair.true_kmh for pair in pairs])
    if ratios.size == 0:
        return ()
    if np.all(ratios < STILL):
        return ("nothing",)
    if ratios.size > 1 and np.ptp(ratios) > SCATTER:
        order = np.argsort([pair.true_kmh for pair in pairs])
        rising = np.diff(ratios[order])
        return ("drops_high",) if np.all(rising <= 0) else ("drops_low",) if np.all(rising >= 0) else ("noisy",)
    mean = float(ratios.mean())
    if abs(mean / HALF_RATIO - 1) < 2 * SCATTER / 2:
        return ("half",)
    return ("double",) if abs(mean * HALF_RATIO - 1) < SCATTER else ("steady_off",)


def ratios_of_few(code: str, count: int) -> tuple[float, ...]:
    """The ratios that a cause brings to a target of few teeth or magnets.

    Examples
    --------
    >>> ratios_of_few("target_lost", 2), ratios_of_few("wrong_count", 2), ratios_of_few("target_lost", 48)
    ((0.5,), (0.5, 1.5, 2.0), ())
    """
    if not 2 <= count <= FEW:
        return ()
    if code in LACKING:
        return tuple([(count - lost) / count for lost in (1, 2) if lost < count])
    if code == "wrong_count":
        return tuple([(count + more) / count for more in (-2, -1, 1, 2) if count + more >= 1])
    return ()


def ratio_chances(table: Table, pairs: Sequence[Pair], count: int = 0) -> Array:
    """How well the ratio shown/true fits each cause, as a density of its logarithm against a broad one.

    Pairs that scatter, or show nothing, are a symptom and not a ratio.
    """
    (kind,) = symptoms_of(pairs)
    if kind not in ("half", "double", "steady_off"):
        return _symptom(table, kind)
    log_ratio = math.log(float(np.mean([pair.shown_kmh / pair.true_kmh for pair in pairs])))
    found = []
    for code in table.causes[:-1]:
        cause = CAUSE[code]
        if cause.ratios:
            found.append(
                max(_density(log_ratio, math.log(ratio), RATIO_SIGMA) for ratio in cause.ratios) / len(cause.ratios)
            )
        elif few := ratios_of_few(code, count):
            found.append(max(_density(log_ratio, math.log(ratio), RATIO_SIGMA) for ratio in few) / len(few))
        elif code in SPREADS:
            found.append(_density(log_ratio, *SPREADS[code]))
        else:
            found.append(
                UNTOUCHED * _density(log_ratio, 0.0, RATIO_SIGMA) + (1 - UNTOUCHED) * _density(log_ratio, 0.0, BROAD)
            )
    broad = _density(log_ratio, 0.0, BROAD)
    return np.asarray(np.maximum(np.array([*found, broad]), 0.02 * broad))


def _density(x: float, mean: float, sigma: float) -> float:
    return math.exp(-(((x - mean) / sigma) ** 2) / 2) / (sigma * math.sqrt(2 * math.pi))


def next_tests(posterior: Posterior, done: frozenset[str]) -> list[tuple[Test, float]]:
    """The tests that are left, the one that tells most for its minutes and risk first; with their gain in bits."""
    gains = posterior.table.gains_bits(posterior.chances)
    left = [
        (test, float(gain)) for test, gain in zip(posterior.table.tests, gains, strict=True) if test.code not in done
    ]
    worth = [(test, gain) for test, gain in left if gain > LEAST_GAIN_BITS]
    return sorted(worth, key=lambda item: -item[1] / (item[0].minutes * item[0].weight))


def fixed_next(posterior: Posterior, done: frozenset[str]) -> Test | None:
    """The next test of the practised order."""
    here = {test.code: test for test in posterior.table.tests}
    return next((here[code] for code in FIXED_ORDER if code in here and code not in done), None)


def is_found(posterior: Posterior) -> bool:
    """Whether a cause is taken for found: never from what is seen alone, before any test."""
    return bool(posterior.answers) and float(posterior.chances.max()) >= FOUND


def state_of(posterior: Posterior, tests: Sequence[tuple[Test, float]]) -> State:
    """Whether a cause is found, the answers contradict each other, or nothing is left to test."""
    chances = posterior.chances
    if chances[-1] >= DOUBT or posterior.table.causes[int(chances.argmax())] == OTHER:
        return "contradicts"
    if is_found(posterior):
        return "found"
    return "open" if tests else "exhausted"


def begin(
    installation: Installation, evaluation: Evaluation, seen: Seen, own: OwnTable = OURS
) -> tuple[Posterior, tuple[Reason, ...]]:
    """The posterior about an installation, and why it began where it did."""
    table = table_for(fitted(installation), own)
    reasons = tuple(reasons_for(installation, evaluation, seen.changed, seen.history))
    return posterior_of(table, seen, reasons, installation.target.count), reasons


def suggested(installation: Installation) -> Seen:
    """What the failed tests of an installation say already: a spin test's outcome and its pair of speeds."""
    answers, pairs, symptoms = [], [], []
    for record in failed_tests(installation):
        if record.outcome == "nothing":
            symptoms.append("nothing")
        if record.test in ("spin", "magnet") and record.outcome == "nothing":
            answers.append(Answer(test=record.test, outcome="nothing"))
        if record.expected_kmh and record.shown_kmh is not None:
            pairs.append(Pair(true_kmh=record.expected_kmh, shown_kmh=record.shown_kmh))
    noticed = symptoms_of(pairs) if pairs and not symptoms else tuple(dict.fromkeys(symptoms))
    return Seen(symptoms=noticed, pairs=tuple(pairs), answers=tuple(answers))
