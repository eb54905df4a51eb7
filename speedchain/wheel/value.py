"""What one method for the circumference yields."""

from __future__ import annotations

from speedchain.fields import Evidence, Words
from speedchain.results import result
from speedchain.stages import WhyStep
from speedchain.uncertainty import Budget, expanded_pct, standard_pct


@result
class Value:
    """What one method says: circumference [mm], the inputs of its uncertainty, evidence, grounds, arithmetic."""

    circumference_mm: float
    budget: Budget
    evidence: Evidence
    grounds: Words
    why: tuple[WhyStep, ...]
    at_kmh: float = 0.0
    """The speed at which it is valid: a soft tyre has grown by then."""

    @property
    def u_pct(self) -> float:
        """Relative standard uncertainty [%]."""
        return standard_pct(self.budget)

    @property
    def expanded_pct(self) -> float:
        """Relative expanded uncertainty, 95.45 % [%]."""
        return expanded_pct(self.budget)
