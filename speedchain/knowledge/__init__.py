"""What is known of the chain as a whole: observations, what they depend on, and the estimate with the parts."""

from speedchain.knowledge.estimate import (
    ChainEstimate,
    Weighed,
    estimate_chain,
    known_together,
    with_observed,
)
from speedchain.knowledge.model import (
    MOST_OBSERVATIONS,
    OBSERVATION_KINDS,
    Observation,
    ObservationKind,
)
from speedchain.knowledge.rules import knowledge_rules
from speedchain.knowledge.state import DRIVEN, LEARNED, OF_A_STAGE, OF_THE_CHAIN, stale, state_of
from speedchain.knowledge.turns import MOST_TURN_COUNTS, OF_TURNS, TurnCount, TurnsKnown, turn_rules, with_turns

__all__ = [
    "DRIVEN",
    "LEARNED",
    "MOST_OBSERVATIONS",
    "MOST_TURN_COUNTS",
    "OBSERVATION_KINDS",
    "OF_A_STAGE",
    "OF_THE_CHAIN",
    "OF_TURNS",
    "ChainEstimate",
    "Observation",
    "ObservationKind",
    "TurnCount",
    "TurnsKnown",
    "Weighed",
    "estimate_chain",
    "knowledge_rules",
    "known_together",
    "stale",
    "state_of",
    "turn_rules",
    "with_observed",
    "with_turns",
]
