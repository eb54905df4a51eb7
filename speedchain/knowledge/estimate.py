"""The chain as one: what its parts say and what was observed of the whole, as a least-squares estimate."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace

from speedchain.fields import State, Verification, Words, joined, recased, text_of
from speedchain.knowledge.model import KIND_LABELS, Observation
from speedchain.knowledge.state import stale, wear_since
from speedchain.results import result
from speedchain.stages import Stage, WhyStep, budget_of, raised
from speedchain.uncertainty import COVERAGE_FACTOR, Budget, Mean, UncertaintyInput, expanded_pct, least_squares_mean

SCALE = "satellite scale"
SCALE_U_PCT = 0.1
"""Standard uncertainty of a satellite's speed, which all drives against it share. Common practice."""
GrowthAt = Callable[[float], float]


@result
class Weighed:
    """An observation in the estimate: its place in the document, what was seen when and where, what it says now, how
    much it counts (0 to 1), how far it is from the estimate [%], and why it does not count, where it does not."""

    place: int
    kind: str
    label: Words
    on: str
    readout: str
    setting: str
    at_kmh: float | None
    shown_kmh: float | None
    pulses_per_km: float
    expanded_pct: float
    weight: float
    deviation_pct: float
    stale: Words
    left_out: bool


@result
class ChainEstimate:
    """Pulses per km of the chain at the check speed by parts and observations together.

    `parts_*` is what wheel, drive and target say alone. `agree` is False where χ² says that they do not belong
    together;
    `explained_by` names the part or the observation that explains it best.
    """

    pulses_per_km: float
    u_pct: float
    expanded_pct: float
    parts_pulses_per_km: float
    parts_expanded_pct: float
    parts_weight: float
    chi_square: float
    agree: bool
    explained_by: Words
    now: State
    observations: tuple[Weighed, ...]

    @property
    def budget(self) -> Budget:
        """The whole chain's ± as one input: two installations share none of what was driven."""
        return (UncertaintyInput(source="observed", u_pct=self.u_pct, coverage_factor=self.expanded_pct / self.u_pct),)

    @property
    def observed(self) -> bool:
        """Whether an observation counts."""
        return any(item.weight > 0 for item in self.observations)


def estimate_chain(
    observations: tuple[Observation, ...],
    *,
    parts: tuple[Stage, ...],
    parts_per_km: float,
    now: State,
    check_kmh: float,
    growth_at: GrowthAt,
) -> ChainEstimate:
    """Pulses per km [1/km] from the parts and from what was observed of the whole.

    x̂ = (1ᵀV⁻¹x)/(1ᵀV⁻¹1) over [parts, observation 1, …]; the relative variance of the parts is Σ u_i² of wheel, drive
    and target, drives against satellite share its scale. Where χ² rejects all of them together and no largest
    consistent subset is clear, observations that agree with each other and are surer than the parts count alone, for
    they saw the whole; of observations that disagree the latest counts, with ± to the far end of each.

    Parameters
    ----------
    The document's observations; stages of wheel, drive and target; what they give at `check_kmh` [km/h]; the state now;
    circumference at a speed over that at a crawl.

    References
    ----------
    Aitken, Proc. R. Soc. Edinburgh 55 (1935); JCGM 100:2008, 5.1.6; Cox, Metrologia 44 (2007) 187; from memory.

    Examples
    --------
    >>> alone = estimate_chain((), parts=(), parts_per_km=1000.0, now=State(), check_kmh=50, growth_at=lambda v: 1.0)
    >>> alone.pulses_per_km, alone.observed
    (1000.0, False)
    """
    own = budget_of(parts)
    circumference_mm = parts[0].value if parts else 1.0
    said, budgets, why = [], [], []
    for item in observations:
        at = growth_at(item.at_kmh) if item.at_kmh is not None else 1.0
        worn = wear_since(item, now, circumference_mm)
        said.append(item.pulses_per_km * at / growth_at(check_kmh) * worn)
        budgets.append(_budget(item, len(said)))
        why.append(stale(item, now))
    fresh = [place for place, reason in enumerate(why) if not reason]
    values = (parts_per_km, *[said[place] for place in fresh])
    inputs = (own, *[budgets[place] for place in fresh])
    mean, weights = together(values, inputs)
    agree = not mean.left_out and mean.consistent if fresh else True
    weighed = dict(zip(fresh, weights[1:], strict=True))
    return ChainEstimate(
        pulses_per_km=mean.value,
        u_pct=100 * mean.u / mean.value,
        expanded_pct=100 * mean.expanded / mean.value,
        parts_pulses_per_km=parts_per_km,
        parts_expanded_pct=expanded_pct(own),
        parts_weight=weights[0],
        chi_square=mean.chi_square,
        agree=agree,
        now=now,
        explained_by="" if agree else _explanation(observations, parts, fresh=fresh, values=values, inputs=inputs),
        observations=tuple(
            [
                Weighed(
                    place=place,
                    kind=item.kind,
                    label=KIND_LABELS[item.kind],
                    on=item.on.isoformat(),
                    readout=item.readout,
                    setting=item.setting,
                    at_kmh=item.at_kmh,
                    shown_kmh=item.shown_kmh,
                    pulses_per_km=said[place],
                    expanded_pct=item.expanded_pct,
                    weight=weighed.get(place, 0.0),
                    deviation_pct=100 * (said[place] / mean.value - 1),
                    stale=why[place],
                    left_out=place in weighed and weighed[place] == 0,
                )
                for place, item in enumerate(observations)
            ]
        ),
    )


def _budget(item: Observation, number: int) -> Budget:
    """Of an observation: the scale that drives against a satellite share, and the rest of its own."""
    u_pct = item.expanded_pct / COVERAGE_FACTOR
    shared_pct = min(SCALE_U_PCT, 0.9 * u_pct) if item.kind in ("drive", "there_and_back") else 0.0
    rest = UncertaintyInput(source=f"observation {number}", u_pct=(u_pct**2 - shared_pct**2) ** 0.5)
    return (UncertaintyInput(source=SCALE, u_pct=shared_pct), rest) if shared_pct else (rest,)


def together(values: tuple[float, ...], inputs: tuple[Budget, ...]) -> tuple[Mean, tuple[float, ...]]:
    """The mean of parts (first) and observations, and every one's weight."""
    if len(values) > 1 and expanded_pct(inputs[0]) == 0:  # parts that nobody doubts: nothing is weighed against them
        inputs = ((UncertaintyInput(source="parts", u_pct=1e-6),), *inputs[1:])
    if len(values) == 1:
        u = values[0] * sum([part.u_pct**2 for part in inputs[0]]) ** 0.5 / 100
        alone = Mean(
            value=values[0], u=u, expanded=values[0] * expanded_pct(inputs[0]) / 100, weights=(1.0,), chi_square=0.0,
            left_out=(), consistent=True,
        )  # fmt: skip
        return alone, (1.0,)
    mean = least_squares_mean(values, inputs)
    if not mean.consistent:
        observed = least_squares_mean(values[1:], inputs[1:])
        if not observed.consistent:
            observed = _latest(values[1:], inputs[1:], observed)
        elif observed.expanded / observed.value > expanded_pct(inputs[0]) / 100:
            return mean, mean.weights
        return replace(observed, consistent=False, chi_square=mean.chi_square), (0.0, *observed.weights)
    return mean, mean.weights


def _latest(values: tuple[float, ...], inputs: tuple[Budget, ...], mean: Mean) -> Mean:
    """The latest of observations that disagree, as a second run corrects the first; ± reaches the far end of each."""
    reach = max(
        [abs(value - values[-1]) + value * expanded_pct(own) / 100 for value, own in zip(values, inputs, strict=True)]
    )
    return replace(
        mean,
        value=values[-1],
        u=reach / COVERAGE_FACTOR,
        expanded=reach,
        weights=(*[0.0] * (len(values) - 1), 1.0),
    )


def _explanation(
    observations: tuple[Observation, ...],
    parts: tuple[Stage, ...],
    *,
    fresh: list[int],
    values: tuple[float, ...],
    inputs: tuple[Budget, ...],
) -> str:
    """The one without which the others fit best: an observation, or of the parts the one that is least sure."""
    without = [
        least_squares_mean((*values[:place], *values[place + 1 :]), (*inputs[:place], *inputs[place + 1 :])).chi_square
        for place in range(len(values))
    ]
    best = min(range(len(values)), key=lambda place: (without[place], place))
    if best > 0 and len(values) > 2:
        item = observations[fresh[best - 1]]
        return text_of("{0} of {1}", KIND_LABELS[item.kind], item.on.isoformat())
    least_sure = max(parts, key=lambda stage: stage.expanded_uncertainty_pct)
    return text_of("{0} ({1}, ± {2:.2g} %)", least_sure.stage, least_sure.grounds, least_sure.expanded_uncertainty_pct)


def with_observed(wheel: Stage, known: ChainEstimate, verification: Verification | None, growth: float) -> Stage:
    """The wheel as the whole chain was observed: with the drive and the target as entered it is the circumference that
    delivers what was observed.

    Drive and target are then known together with it: their ± is in the wheel's. `growth` is the circumference at the
    check speed over that at a crawl, of which a verification keeps the latter.
    """
    factor = known.parts_pulses_per_km / known.pulses_per_km
    names = [
        text_of("{0} × {1}", str(count), recased(label, upper=False)) if count > 1 else recased(label, upper=False)
        for kind, label in KIND_LABELS.items()
        if (count := sum(1 for item in known.observations if item.kind == kind and item.weight > 0))
    ]
    grounds = text_of("observed of the whole chain: {0}", joined(", ", names))
    evidence, grounds = raised("measured", grounds, verification, wheel.value * factor / growth)
    figures = tuple(
        [
            replace(
                figure,
                value=figure.value * factor,
                evidence=evidence,
                relative_standard_uncertainty_pct=known.u_pct,
            )
            for figure in wheel.figures
        ]
    )
    step = WhyStep(
        formula="pulses per km = (1ᵀV⁻¹x)/(1ᵀV⁻¹1)",
        with_numbers=text_of(
            "{0:.1f} from the parts ± {1:.2g} %, {2:.1f} with what was observed ± {3:.2g} %",
            known.parts_pulses_per_km,
            known.parts_expanded_pct,
            known.pulses_per_km,
            known.expanded_pct,
        ),
        source=text_of("least squares of the parts and {0}", joined(", ", names)),
    )
    return replace(
        wheel,
        figures=figures,
        evidence=evidence,
        grounds=grounds,
        relative_standard_uncertainty_pct=known.u_pct,
        coverage_factor=known.expanded_pct / known.u_pct,
        why=(*wheel.why, step),
    )


def known_together(stage: Stage) -> Stage:
    """A drive or target whose ± is in the observed wheel."""
    return replace(stage, relative_standard_uncertainty_pct=0.0)
