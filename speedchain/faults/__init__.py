"""The fault finder: from what is seen to the cause, by the test that tells most for its minutes."""

from speedchain.faults.causes import CAUSES, OTHER
from speedchain.faults.model import CANNOT, CURE, SEEN_IN_A_RUN, Answer, Pair, Seen, next_tests, posterior_of, suggested
from speedchain.faults.practice import CASES, GRADED, MOST_MOVES, Move, Outcome, Play, outcome_of, play
from speedchain.faults.show import OnTheBench, show_on_bench
from speedchain.faults.table import OURS, OwnTable, chances_of, table_for
from speedchain.faults.tests_by_hand import FIXED_ORDER, TESTS
from speedchain.faults.view import FaultChoices, FaultView, choices_for, view_fault
from speedchain.faults.vocabulary import CHANGED, SYMPTOMS, Cause, Changed, Symptom, Test

__all__ = [
    "CANNOT",
    "CASES",
    "CAUSES",
    "CHANGED",
    "CURE",
    "FIXED_ORDER",
    "GRADED",
    "MOST_MOVES",
    "OTHER",
    "OURS",
    "SEEN_IN_A_RUN",
    "SYMPTOMS",
    "TESTS",
    "Answer",
    "Cause",
    "Changed",
    "FaultChoices",
    "FaultView",
    "Move",
    "OnTheBench",
    "Outcome",
    "OwnTable",
    "Pair",
    "Play",
    "Seen",
    "Symptom",
    "Test",
    "chances_of",
    "choices_for",
    "next_tests",
    "outcome_of",
    "play",
    "posterior_of",
    "show_on_bench",
    "suggested",
    "table_for",
    "view_fault",
]
