"""The table of chances: of every outcome of every test where a cause is there; a workshop may enter its own."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from functools import lru_cache
from typing import Annotated

import numpy as np
from numpy.typing import NDArray
from pydantic import Field, model_validator

from speedchain.faults.causes import BY_CODE as CAUSE
from speedchain.faults.causes import CAUSES, OTHER
from speedchain.faults.tests_by_hand import BY_CODE as TEST
from speedchain.faults.tests_by_hand import TESTS
from speedchain.faults.vocabulary import Cause, Test
from speedchain.fields import InputError, Part, text_of
from speedchain.fitted import Fact, applies

Array = NDArray[np.float64]
NORMAL = 0.93
"""Chance that a test gives its normal outcome where the cause does not touch it. Common practice."""
ERROR = 0.03
"""Chance that a person gets any outcome whatever, by an error. Common practice."""
OTHER_WEIGHT = 0.02
"""How likely it is before any answer that none of the known causes is there."""

Chance = Annotated[float, Field(ge=0.01, le=0.99)]
Weight = Annotated[float, Field(ge=0.01, le=100)]


class OwnChance(Part):
    """The chance of an outcome of a test where a cause is there, as a workshop knows it."""

    cause: str
    test: str
    outcome: str
    chance: Chance

    @model_validator(mode="after")
    def _known(self) -> OwnChance:
        if self.cause not in CAUSE:
            raise InputError(
                text_of("There is no cause {0}.", self.cause), remedy="Choose one of the list.", path="cause"
            )
        if self.test not in TEST or self.outcome not in TEST[self.test].outcomes:
            raise InputError(
                text_of("The test {0} has no outcome {1}.", self.test, self.outcome),
                remedy="Choose one of the list.",
                path="outcome",
            )
        return self


class OwnWeight(Part):
    """How often a cause is there before any test, compared with others, as a workshop knows it."""

    cause: str
    weight: Weight

    @model_validator(mode="after")
    def _known(self) -> OwnWeight:
        if self.cause not in CAUSE:
            raise InputError(
                text_of("There is no cause {0}.", self.cause), remedy="Choose one of the list.", path="cause"
            )
        return self


class OwnTable(Part):
    """A workshop's own chances and weights, in place of ours."""

    chances: Annotated[tuple[OwnChance, ...], Field(max_length=2000)] = ()
    weights: Annotated[tuple[OwnWeight, ...], Field(max_length=200)] = ()


OURS = OwnTable()


@dataclass(frozen=True, slots=True)
class Table:
    """For one kind of installation: its causes (the last is none of them), its tests, and the chances of each outcome
    [outcomes × causes]; which outcomes of each test a cause that can be here leads to, or a healthy installation."""

    causes: tuple[str, ...]
    weights: Array
    tests: tuple[Test, ...]
    chances: Mapping[str, Array]
    possible: Mapping[str, frozenset[str]]
    place: Mapping[str, int]
    stacked: Array
    begins: NDArray[np.int64]
    certain: Array

    def gains_bits(self, chances: Array) -> Array:
        """What each test is expected to tell [bits]: I(c; o) = Σ p(c)·p(o | c)·log₂ p(o | c) − Σ p(o)·log₂ p(o).

        The first sum is linear in p(c), so all tests take one product of matrices. Checked against
        `scipy.stats.entropy`.

        Parameters
        ----------
        Chances of the causes, n.

        Returns
        -------
        Gains, one a test [bits].

        References
        ----------
        Mutual information: Shannon, 1948 (from memory).
        """
        total = self.stacked @ chances
        return np.asarray(self.certain @ chances - np.add.reduceat(total * np.log2(total), self.begins))


@lru_cache(maxsize=64)
def table_for(facts: frozenset[Fact], own: OwnTable = OURS) -> Table:
    """The table of an installation with some facts.

    Examples
    --------
    >>> found = table_for(frozenset({"wires", "active", "typed"}))
    >>> found.chances["supply"].sum(axis=0).round(6).max()
    np.float64(1.0)
    """
    causes = tuple([cause for cause in CAUSES if applies(cause.when, cause.unless, facts)])
    tests = tuple([test for test in TESTS if applies(test.when, test.unless, facts)])
    own_weights = {item.cause: item.weight for item in own.weights}
    own_chances: dict[tuple[str, str], dict[str, float]] = {}
    for item in own.chances:
        own_chances.setdefault((item.cause, item.test), {})[item.outcome] = item.chance
    weights = np.array([own_weights.get(cause.code, cause.prior) for cause in causes])
    weights = np.append(weights, OTHER_WEIGHT * weights.sum())
    chances = {
        test.code: np.column_stack(
            [
                _column(test, own_chances.get((cause.code, test.code)) or cause.tests.get(test.code, {}))
                for cause in causes
            ]
            + [np.full(len(test.outcomes), 1 / len(test.outcomes))]
        )
        for test in tests
    }
    codes = (*[cause.code for cause in causes], OTHER)
    stacked = np.vstack([chances[test.code] for test in tests])
    begins = np.cumsum([0] + [len(test.outcomes) for test in tests[:-1]])
    certain = np.add.reduceat(stacked * np.log2(stacked), begins, axis=0)
    places = {code: place for place, code in enumerate(codes)}
    said = {
        test.code: frozenset([test.normal]).union(
            *[cause.tests.get(test.code, ()) for cause in causes],
            *[own_chances.get((cause.code, test.code), ()) for cause in causes],
        )
        for test in tests
    }
    return Table(codes, weights, tests, chances, said, places, stacked, begins, certain)


def chances_of(test: Test, cause: Cause) -> dict[str, float]:
    """Our chances of each outcome of a test where a cause is there."""
    return dict(zip(test.outcomes, _column(test, cause.tests.get(test.code, {})).tolist(), strict=True))


def _column(test: Test, said: Mapping[str, float]) -> Array:
    """The chances of all outcomes: those that are said, the rest shared by the others; a person's error on top."""
    outcomes = tuple(test.outcomes)
    known = {name: said[name] for name in outcomes if name in said} or {test.normal: NORMAL}
    total = sum(known.values())
    if total > 1:
        known = {name: value / total for name, value in known.items()}
    others = [name for name in outcomes if name not in known]
    rest = max(1 - sum(known.values()), 0.0)
    column = np.array([known.get(name, rest / len(others) if others else 0.0) for name in outcomes])
    column /= column.sum()
    return np.asarray((1 - ERROR) * column + ERROR / len(outcomes))
