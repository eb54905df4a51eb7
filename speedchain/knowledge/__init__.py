"""What is known of the chain as a whole: observations, what they depend on, and the estimate with the parts."""

from speedchain.knowledge.estimate import ChainEstimate, Weighed, estimate_chain, known_together, with_observed
from speedchain.knowledge.model import (
    MOST_OBSERVATIONS,
    OBSERVATION_KINDS,
    Observation,
    ObservationKind,
)
from speedchain.knowledge.rules import knowledge_rules
from speedchain.knowledge.state import DRIVEN, LEARNED, OF_A_STAGE, OF_THE_CHAIN, stale, state_of

__all__ = [
    "DRIVEN",
    "LEARNED",
    "MOST_OBSERVATIONS",
    "OBSERVATION_KINDS",
    "OF_A_STAGE",
    "OF_THE_CHAIN",
    "ChainEstimate",
    "Observation",
    "ObservationKind",
    "Weighed",
    "estimate_chain",
    "knowledge_rules",
    "known_together",
    "stale",
    "state_of",
    "with_observed",
]
