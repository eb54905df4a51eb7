"""The fault finder's arithmetic: posteriors against an enumeration by hand, the gain of a test against
`scipy.stats.entropy`."""

from __future__ import annotations

import itertools
from unittest import TestCase

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.stats import entropy

from speedchain.faults import CAUSES, TESTS, Answer, Seen, posterior_of, table_for
from speedchain.faults.model import NOT_NOTED, NOTED
from speedchain.fitted import fitted
from tests.installations import CYCLE, installation


class Arithmetic(TestCase):
    """Bayes' rule and mutual information, done again by other means."""

    @settings(max_examples=40, deadline=None)
    @given(st.integers(0, 2**32 - 1), st.floats(0.05, 5))
    def test_gain_is_scipys_entropy_before_and_after(self, seed: int, spread: float) -> None:
        """`scipy.stats.entropy`, base 2, of the prior and of each posterior."""
        document = installation(CYCLE)
        table = table_for(fitted(document))
        chances = np.random.default_rng(seed).dirichlet(np.full(len(table.causes), spread))
        for test, gain in zip(table.tests, table.gains_bits(chances), strict=True):
            expected = entropy(chances, base=2)
            for row in table.chances[test.code]:
                joint = row * chances
                expected -= joint.sum() * entropy(joint / joint.sum(), base=2)
            self.assertAlmostEqual(gain, expected, places=9, msg=test.code)

    def test_the_posterior_is_an_enumeration_by_hand(self) -> None:
        """Every cause in turn, product of its own chances by plain floats."""
        document = installation(CYCLE)
        table = table_for(fitted(document))
        seen = Seen(
            symptoms=("nothing", "after_change"),
            answers=(Answer(test="look", outcome="missing"), Answer(test="magnet", outcome="shows")),
        )
        products = []
        for place, code in enumerate(table.causes):
            product = float(table.weights[place])
            cause = next((item for item in CAUSES if item.code == code), None)
            for symptom in seen.symptoms:
                own = 0.25 if cause is None else cause.symptoms.get(symptom, 0.0)
                product *= NOT_NOTED + (NOTED - NOT_NOTED) * own
            for answer in seen.answers:
                test = next(item for item in TESTS if item.code == answer.test)
                product *= float(table.chances[answer.test][list(test.outcomes).index(answer.outcome)][place])
            products.append(product)
        np.testing.assert_allclose(posterior_of(table, seen).chances, np.array(products) / sum(products), rtol=1e-9)

    def test_the_order_of_answers_does_not_matter_and_a_repeat_replaces(self) -> None:
        table = table_for(fitted(installation()))
        answers = [
            Answer(test="gap", outcome="wide"),
            Answer(test="magnet", outcome="shows"),
            Answer(test="look", outcome="fine"),
        ]
        found = [
            posterior_of(table, Seen(symptoms=("noisy",), answers=tuple(order))).chances
            for order in itertools.permutations(answers)
        ]
        for other in found[1:]:
            np.testing.assert_allclose(other, found[0], rtol=1e-9)
        again = (*answers, Answer(test="gap", outcome="in_window"))
        replaced = (answers[1], answers[2], Answer(test="gap", outcome="in_window"))
        np.testing.assert_allclose(
            posterior_of(table, Seen(answers=again)).chances, posterior_of(table, Seen(answers=replaced)).chances
        )
