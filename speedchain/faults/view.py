"""What the fault finder shows: the causes with their reasons, the next tests with what each outcome would mean, and the
way on."""

from __future__ import annotations

import math
from collections.abc import Sequence

import numpy as np

from speedchain.advice import caution_at
from speedchain.document import Installation
from speedchain.evaluation import Evaluation
from speedchain.faults.causes import BY_CODE as CAUSE
from speedchain.faults.causes import OTHER, REPLACED
from speedchain.faults.facts import Reason
from speedchain.faults.model import (
    CANNOT,
    CURE,
    Answer,
    Posterior,
    Seen,
    State,
    begin,
    fixed_next,
    newest,
    next_tests,
    normalised,
    state_of,
)
from speedchain.faults.priors import HISTORIES
from speedchain.faults.table import OURS, OwnTable, table_for
from speedchain.faults.tests_by_hand import BY_CODE as TEST
from speedchain.faults.vocabulary import CHANGED, SYMPTOMS, Test
from speedchain.fields import Choice, StageName, Words, text_of
from speedchain.fitted import fitted, worded, words_for
from speedchain.results import result
from speedchain.service import PartKind

SHOWN_CAUSES = 8
SHOWN_TESTS = 4
SPEAKS_FOR, SPEAKS_AGAINST = math.log(1.6), math.log(0.5)
MOST_REASONS = 4
DOUBTFUL = 0.08
"""An answer that was so unlikely, after all the others, is doubtful."""
RETESTS: dict[str, Words] = {
    "spin": "Do the spin test again.",
    "road": "Check it on the road, at a steady speed both ways.",
    "water": "Run both ways and compare with speed over ground.",
}
STATES: dict[State, tuple[Words, Words]] = {
    "open": ("", "Do the next test."),
    "found": ("The cause is found.", "Do what cures it, then prove it by the retest."),
    "contradicts": (
        "The answers do not fit any cause on the list.",
        "Repeat the doubtful test, or look further: two causes at once, or one that is not listed.",
    ),
    "exhausted": ("No test that is left separates the causes.", "Try the cure of the first one, then retest."),
}


@result
class CauseShown:
    """A cause, how likely it is, why, and what cures it."""

    code: str
    stage: StageName
    text: Words
    chance_pct: float
    because: tuple[Words, ...]
    against: tuple[Words, ...]
    fix: Words
    minutes: float
    job: str
    retest: Words
    replaces: PartKind | None


@result
class OutcomeShown:
    """An outcome of a test, how likely it is, and which cause would then be first."""

    code: str
    label: Words
    chance_pct: float
    leads_to: Words


@result
class TestShown:
    """A test: what to do, its caution, the outcomes that there can be here, minutes, and what it is expected to tell
    [bits]."""

    code: str
    title: Words
    stage: StageName
    steps: tuple[Words, ...]
    caution: Words
    outcomes: tuple[OutcomeShown, ...]
    minutes: float
    gain_bits: float


@result
class AnswerShown:
    """A test that was done, in words."""

    test: str
    title: Words
    outcome: Words
    doubtful: bool


@result
class FaultView:
    """How far the search is."""

    state: State
    text: Words
    action: Words
    causes: tuple[CauseShown, ...]
    other_pct: float
    tests: tuple[TestShown, ...]
    fixed: TestShown | None
    done: tuple[AnswerShown, ...]
    minutes: float


@result
class FaultChoices:
    """The symptoms and changes that some cause of an installation can have."""

    histories: tuple[Choice, ...]
    symptoms: tuple[Choice, ...]
    changed: tuple[Choice, ...]


def choices_for(installation: Installation, evaluation: Evaluation) -> FaultChoices:
    """What can be chosen for a fault of an installation: a boat has no tyre, and nothing else is wrong in turns alone.

    Examples
    --------
    >>> from speedchain.document.installation import example_installation
    >>> from speedchain.evaluation import evaluate
    >>> example = example_installation()
    >>> "in_turns" in [item.code for item in choices_for(example, evaluate(example)).symptoms]
    False
    """
    facts = fitted(installation)
    known = [CAUSE[code] for code in table_for(facts).causes[:-1]]
    seen = {
        symptom for cause in known for symptom in cause.symptoms if symptom != "fault_code" or "fault_codes" in facts
    }
    moved = {what for cause in known for what in cause.changed}
    return FaultChoices(
        histories=HISTORIES,
        symptoms=tuple([item for item in SYMPTOMS if item.code in seen]),
        changed=tuple([item for item in CHANGED if item.code in moved]),
    )


def view_fault(installation: Installation, evaluation: Evaluation, seen: Seen, own: OwnTable = OURS) -> FaultView:
    """What is known of a fault, and what to do next.

    Examples
    --------
    >>> from speedchain.document.installation import example_installation
    >>> from speedchain.evaluation import evaluate
    >>> example = example_installation()
    >>> found = view_fault(example, evaluate(example), Seen(symptoms=("nothing",),
    ...     answers=(Answer(test="supply", outcome="none"),)))
    >>> found.causes[0].code, found.done[0].outcome
    ('no_supply', 'None')
    """
    posterior, reasons = begin(installation, evaluation, seen, own)
    done = frozenset(answer.test for answer in seen.answers)
    tests = next_tests(posterior, done)
    state = state_of(posterior, tests)
    order = posterior.chances.argsort()[::-1]
    causes = [posterior.table.causes[place] for place in order if posterior.table.causes[place] != OTHER][:SHOWN_CAUSES]
    fixed = fixed_next(posterior, done)
    text, action = STATES[state]
    if state == "found":
        text = text_of("The cause is most likely found: {0}", CAUSE[causes[0]].text)
    return FaultView(
        state=state,
        text=text,
        action=action,
        causes=tuple([_cause(posterior, code, reasons) for code in causes]),
        other_pct=float(posterior.chances[-1]) * 100,
        tests=tuple([_test(installation, posterior, test, gain) for test, gain in tests[:SHOWN_TESTS]]),
        fixed=None
        if fixed is None
        else _test(installation, posterior, fixed, next((gain for test, gain in tests if test is fixed), 0.0)),
        done=_done(posterior, seen),
        minutes=sum(_minutes(answer) for answer in newest(seen.answers)),
    )


def _minutes(answer: Answer) -> float:
    if answer.outcome == CANNOT:
        return 0.0
    return CAUSE[answer.test.removeprefix(CURE)].minutes if answer.test.startswith(CURE) else TEST[answer.test].minutes


def _cause(posterior: Posterior, code: str, reasons: Sequence[Reason]) -> CauseShown:
    place, cause = posterior.table.place[code], CAUSE[code]
    before = normalised(posterior.log - sum((part for _, part in posterior.parts), np.zeros(posterior.log.size)))
    weighed = []
    for what, part in posterior.parts:
        weight = float(part[place] - math.log(float((before * np.exp(part)).sum())))
        weighed.append((weight, _evidence(posterior, what)))
    weighed += [(math.log(reason.factor), reason.text) for reason in reasons if reason.cause == code]
    weighed.sort(key=lambda item: -item[0])
    return CauseShown(
        code=code,
        stage=cause.stage,
        text=cause.text,
        chance_pct=float(posterior.chances[place]) * 100,
        because=tuple([text for weight, text in weighed if weight > SPEAKS_FOR][:MOST_REASONS]),
        against=tuple([text for weight, text in reversed(weighed) if weight < SPEAKS_AGAINST][:MOST_REASONS]),
        fix=cause.fix,
        minutes=cause.minutes,
        job=cause.job,
        retest=RETESTS[cause.retest],
        replaces=REPLACED.get(code),
    )


def _evidence(posterior: Posterior, what: str) -> Words:
    """A piece of evidence in words."""
    answers = {answer.test: answer for answer in posterior.answers}
    if what.startswith("symptom:"):
        return next(item.label for item in SYMPTOMS if item.code == what.removeprefix("symptom:"))
    if what == "pairs":
        ratios = [pair.shown_kmh / pair.true_kmh for pair in posterior.pairs]
        return text_of("Shown over true speed {0:.2f}", sum(ratios) / len(ratios))
    return text_of("{0}: {1}", *_said(answers[what]))


def _said(answer: Answer) -> tuple[Words, Words]:
    if answer.test.startswith(CURE):
        outcome = {"cured": "it is cured", "same": "no change", CANNOT: "cannot be done here"}[answer.outcome]
        return text_of("Cure tried: {0}", CAUSE[answer.test.removeprefix(CURE)].text), outcome
    test = TEST[answer.test]
    return test.title, "cannot be done here" if answer.outcome == CANNOT else test.outcomes[answer.outcome]


def _test(installation: Installation, posterior: Posterior, test: Test, gain: float) -> TestShown:
    words = words_for(installation)
    table = posterior.table.chances[test.code]
    joint = table * posterior.chances
    outcomes = []
    for row, (code, label) in enumerate(test.outcomes.items()):
        if code not in posterior.table.possible[test.code]:
            continue
        total = float(joint[row].sum())
        first = posterior.table.causes[int(joint[row][:-1].argmax())]
        share = float(joint[row].max() / total) * 100 if total > 0 else 0.0
        leads = text_of("then most likely: {0} ({1:.0f}\u00a0%)", CAUSE[first].text, share)
        outcomes.append(OutcomeShown(code=code, label=label, chance_pct=total * 100, leads_to=leads))
    return TestShown(
        code=test.code,
        title=test.title,
        stage=test.stage,
        steps=tuple([worded(step, words) for step in test.steps]),
        caution=caution_at(fitted(installation), test.task) if test.task != "none" else "",
        outcomes=tuple(outcomes),
        minutes=test.minutes,
        gain_bits=gain,
    )


def _done(posterior: Posterior, seen: Seen) -> tuple[AnswerShown, ...]:
    parts = dict(posterior.parts)
    shown = []
    for answer in newest(seen.answers):
        title, outcome = _said(answer)
        part = parts.get(answer.test)
        doubtful = part is not None and float((normalised(posterior.log - part) * np.exp(part)).sum()) < DOUBTFUL
        shown.append(AnswerShown(test=answer.test, title=title, outcome=outcome, doubtful=doubtful))
    return tuple(shown)
