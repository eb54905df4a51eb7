"""Ways to search for a cause: by what a test tells for its minutes, in the practised order, or at random; on a rig."""

from __future__ import annotations

from typing import Literal, NamedTuple

import numpy as np

from speedchain.document import Installation
from speedchain.evaluation import Evaluation
from speedchain.faults.causes import BY_CODE as CAUSE
from speedchain.faults.causes import OTHER
from speedchain.faults.model import CURE, Answer, Posterior, Seen, begin, fixed_next, is_found, next_tests
from speedchain.faults.perform import cured, perform
from speedchain.faults.rig import Rig
from speedchain.faults.tests_by_hand import BY_CODE as TEST
from speedchain.faults.vocabulary import Test

Policy = Literal["best", "fixed", "random"]
RETEST_MINUTES = 4.0
MOST_STEPS = 30
"""Tests after which the best way stops with the cause that is then first."""
MOST_OF_OTHERS = 60


class Search(NamedTuple):
    """A search that has ended: the cause that was first, its chance, the answers in their order, minutes, and which
    cause was first at every step with what chance."""

    cause: str
    chance: float
    answers: tuple[Answer, ...]
    minutes: float
    first_causes: tuple[tuple[str, float], ...]


def search(rig: Rig, evaluation: Evaluation, seen: Seen, policy: Policy, *, random: np.random.Generator) -> Search:
    """Search for the cause of a rig until one is found, by a policy; where no test is left, the cure of the first is
    tried."""
    answers: list[Answer] = list(seen.answers)
    minutes = 0.0
    first_causes: list[tuple[str, float]] = []
    most = MOST_STEPS if policy == "best" else MOST_OF_OTHERS
    while True:
        posterior, _ = begin(rig.entered, evaluation, seen.model_copy(update={"answers": tuple(answers)}))
        chances = posterior.chances
        first = int(chances.argmax())
        first_causes.append((posterior.table.causes[first], float(chances[first])))
        if is_found(posterior) or len(answers) >= most:
            break
        done = frozenset(answer.test for answer in answers)
        test = _chosen(posterior, done, policy, random)
        if test is not None:
            answers.append(Answer(test=test.code, outcome=perform(rig, test.code, random)))
            minutes += TEST[test.code].minutes
            continue
        cause = _untried(posterior, done)
        if cause is None:
            break
        answers.append(Answer(test=f"{CURE}{cause}", outcome=cured(rig, cause, random)))
        minutes += CAUSE[cause].minutes + RETEST_MINUTES
    return Search(*first_causes[-1], tuple(answers), minutes, tuple(first_causes))


def _chosen(posterior: Posterior, done: frozenset[str], policy: Policy, random: np.random.Generator) -> Test | None:
    match policy:
        case "best":
            tests = next_tests(posterior, done)
            return tests[0][0] if tests else None
        case "fixed":
            return fixed_next(posterior, done)
        case "random":
            left = [test for test in posterior.table.tests if test.code not in done]
            return left[int(random.integers(len(left)))] if left else None


def _untried(posterior: Posterior, done: frozenset[str]) -> str | None:
    order = [posterior.table.causes[place] for place in posterior.chances.argsort()[::-1]]
    return next((code for code in order if code != OTHER and f"{CURE}{code}" not in done), None)


def healthy(installation: Installation) -> Installation:
    """The same without its failed tests: what a rig begins from."""
    return installation.model_copy(update={"test_records": ()})
