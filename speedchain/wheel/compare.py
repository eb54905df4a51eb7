"""All methods side by side: each with its ±, the combination, and who disagrees with whom and why."""

from __future__ import annotations

import math
from collections.abc import Callable, Iterator, Mapping
from itertools import combinations

from speedchain.fields import NOTHING_PCT, Evidence, Words, joined, recased, text_of
from speedchain.results import result
from speedchain.stages import Finding, FindingCode, finding
from speedchain.uncertainty import COVERAGE_FACTOR, Hypothesis, Likely, Mean, covariance, likeliest, reach
from speedchain.wheel.chart import CYCLE_CHART, Chart, ChartRow, chart_row_of
from speedchain.wheel.combination import AGREE_WITHIN, all_values, mean_of
from speedchain.wheel.corrections import at_a_crawl, new_tread_mm
from speedchain.wheel.deflection import deflection_of
from speedchain.wheel.entries import SizeMarking
from speedchain.wheel.marking import parse_marking
from speedchain.wheel.model import SingleMethod, Wheel
from speedchain.wheel.nominal import ETRTO_FACTOR, uses_etrto_factor
from speedchain.wheel.taped import round_factor, standing_factor
from speedchain.wheel.value import Value

METHOD_LABELS: dict[str, str] = {
    "marking": "size marking",
    "chart": "cycle chart",
    "taped_diameter": "tape across the standing wheel",
    "axle_height": "axle height",
    "taped_circumference": "tape over the tread",
    "roll_out": "roll-out",
    "speed_derived": "speed comparison",
    "entered": "known circumference",
    "paddle": "paddle constant",
}
_NEW = ("marking", "chart")
_TAPES = ("taped_diameter", "taped_circumference")
OTHER_TYRE_SPREAD_PCT = 3.0
"""How far another tyre on the same rim is off, one standard deviation. Common practice."""
FURTHER = 0.04
"""How much further off its construction's usual deflection a tyre may be, over its radius. Our allowance."""
_ROLLED = ("roll_out", "speed_derived")
_ON_THE_VEHICLE = ("taped_diameter", "axle_height", "taped_circumference", "roll_out", "speed_derived")


@result
class MethodLine:
    """One method, at a crawl and worn as now: circumference and ± (95.45 %, by its k) [mm], evidence, grounds, weight
    in the mean [%], deviation from the mean [half of ±], and whether the mean leaves it out."""

    method: SingleMethod
    label: Words
    circumference_mm: float
    u_pct: float
    expanded_mm: float
    coverage_factor: float
    evidence: Evidence
    grounds: Words
    in_use: bool
    weight_pct: float
    deviation: float
    left_out: bool


@result
class Disagreement:
    """Two methods that differ by more than twice their joint uncertainty, and the likely causes."""

    first: SingleMethod
    second: SingleMethod
    difference_pct: float
    allowed_pct: float
    causes: tuple[Likely, ...]
    finding: Finding


@result
class Comparison:
    """Every method on one axis, the least-squares mean, which methods disagree, and the marking's row of the chart."""

    lines: tuple[MethodLine, ...]
    combined_mm: float
    combined_expanded_mm: float
    chi_square: float
    text: Words
    agree: bool
    disagreements: tuple[Disagreement, ...]
    schools: Words
    chart_row: ChartRow | None


def compare(wheel: Wheel, vehicle_kind: str, pulses_per_turn: float = 1.0, chart: Chart = CYCLE_CHART) -> Comparison:
    """All methods with entries against each other.

    Examples
    --------
    >>> wheel = Wheel(method="roll_out", roll_out={"turns": 3, "distance_mm": 6210}, marking={"text": "700x28C"})
    >>> result = compare(wheel, "bicycle")
    >>> [line.method for line in result.lines], round(result.combined_mm), result.agree
    (['marking', 'roll_out'], 2070, True)
    """
    values = at_a_crawl(wheel, all_values(wheel, vehicle_kind, pulses_per_turn), vehicle_kind)
    mean = mean_of(values)
    lines = tuple(
        [
            MethodLine(
                method=method,
                label=METHOD_LABELS[method],
                circumference_mm=value.circumference_mm,
                u_pct=value.u_pct,
                expanded_mm=value.expanded_pct / 100 * value.circumference_mm,
                coverage_factor=value.expanded_pct / value.u_pct,
                evidence=value.evidence,
                grounds=value.grounds,
                in_use=method == wheel.method,
                weight_pct=100 * weight,
                deviation=COVERAGE_FACTOR * (100 * (1 - mean.value / value.circumference_mm)) / value.expanded_pct,
                left_out=place in mean.left_out,
            )
            for place, ((method, value), weight) in enumerate(zip(values.items(), mean.weights, strict=True))
        ]
    )
    found = disagreements(wheel, values, vehicle_kind, chart)
    return Comparison(
        lines=lines,
        combined_mm=mean.value,
        combined_expanded_mm=mean.expanded,
        chi_square=mean.chi_square,
        text=_text_of(mean, values),
        agree=not found,
        disagreements=found,
        schools=_schools(wheel, vehicle_kind),
        chart_row=None if wheel.marking is None else chart_row_of(wheel.marking.text, chart),
    )


def _text_of(mean: Mean, values: Mapping[SingleMethod, Value]) -> str:
    """What the mean is made of, and whether its methods agree."""
    methods = list(values)
    if mean.left_out:
        names = joined(", ", [METHOD_LABELS[methods[place]] for place in mean.left_out])
        return text_of("without {0}: the other methods agree with each other and not with it.", names)
    if not mean.consistent:
        return "but the methods do not agree: the ± reaches the far end of each. Find the wrong one before you use it."
    copies = [METHOD_LABELS[method] for method, weight in zip(methods, mean.weights, strict=True) if not weight]
    agree: Words = "weighted by their uncertainty and what they share; they agree."
    if not copies:
        return agree
    return joined(" ", [agree, text_of("Counted once, because it repeats another method: {0}.", joined(", ", copies))])


def _schools(wheel: Wheel, vehicle_kind: str) -> str:
    if wheel.marking is None:
        return ""
    marking = parse_marking(wheel.marking.text)
    pi, handbook = math.pi * marking.diameter_mm, ETRTO_FACTOR * marking.diameter_mm
    used = "3.05" if uses_etrto_factor(wheel.marking, marking, vehicle_kind) else "π"
    reason = {
        "3.05": "a loaded radial rolls less than π·D, and tyre manufacturers specify 3.05·D at 60 km/h",
        "π": "3.05 is for radial car tyres; cycle, motorcycle and diagonal tyres roll close to π·D",
    }[used]
    return text_of(
        "π·D = {0:.1f} mm, 3.05·D = {1:.1f} mm (−2.9 %). In use: {2}, {3}: {4}.",
        pi,
        handbook,
        used,
        "chosen" if wheel.marking.factor != "auto" else "default",
        reason,
    )


def disagreements(
    wheel: Wheel, values: dict[SingleMethod, Value], vehicle_kind: str, chart: Chart = CYCLE_CHART
) -> tuple[Disagreement, ...]:
    """Every pair of methods that differs by more than twice the standard uncertainty of the difference.

    u²(a − b) = u_a² + u_b² − 2·cov(a, b): what both share cannot make them differ.
    """
    found = []
    for (first, a), (second, b) in combinations(values.items(), 2):
        difference_pct = 100 * (a.circumference_mm / b.circumference_mm - 1)
        own_pct2 = (a.expanded_pct**2 + b.expanded_pct**2) / COVERAGE_FACTOR**2
        joint_pct = math.sqrt(max(own_pct2 - 2 * covariance(a.budget, b.budget), NOTHING_PCT**2))
        if abs(difference_pct) <= AGREE_WITHIN * joint_pct:
            continue
        ratio = a.circumference_mm / b.circumference_mm
        hypotheses = _hypotheses(
            wheel,
            first=(first, a),
            other=(second, b),
            vehicle_kind=vehicle_kind,
            chart=chart,
            near=reach(ratio, joint_pct),
        )
        causes = likeliest(ratio, joint_pct, hypotheses, most=3)
        allowed_pct = AGREE_WITHIN * joint_pct
        found.append(
            Disagreement(
                first=first,
                second=second,
                difference_pct=difference_pct,
                allowed_pct=allowed_pct,
                causes=causes,
                finding=finding(
                    FindingCode.METHODS_DISAGREE,
                    first=recased(METHOD_LABELS[first], upper=True),
                    first_mm=a.circumference_mm,
                    difference_pct=difference_pct,
                    second=METHOD_LABELS[second],
                    second_mm=b.circumference_mm,
                    allowed_pct=allowed_pct,
                    cause=text_of("Most likely: {0}.", causes[0].text) if causes else "No usual mistake explains it.",
                    remedy=causes[0].fix if causes else _arbiter(first, second),
                ),
            )
        )
    return tuple(found)


def _arbiter(first: SingleMethod, second: SingleMethod) -> str:
    """What decides between two methods when no mistake explains them: what rolls; and never a tape alone against
    paper."""
    pair = (first, second)
    if "roll_out" in pair:
        return (
            "Repeat the roll-out." if not set(pair) & set(_NEW) else "Read the marking again, or repeat the roll-out."
        )
    if "axle_height" in pair or not set(pair) & set(_TAPES):
        return "Roll the wheel out: that decides between them."
    return "Measure the axle height, or roll the wheel out: a tape depends on how far the tyre is flattened."


def _hypotheses(
    wheel: Wheel,
    *,
    first: tuple[SingleMethod, Value],
    other: tuple[SingleMethod, Value],
    vehicle_kind: str,
    chart: Chart,
    near: Callable[[float], bool],
) -> list[Hypothesis]:
    """The mistakes that could make first/second what it is; each is stated for the method it would be in. Those that
    are out of the question are not put into words."""
    found: list[Hypothesis] = []
    for (method, value), against, near_it, sign in (
        (first, other[0], near, 1),
        (other, first[0], lambda ratio: near(1 / ratio), -1),
    ):
        for ratio, code, prior, text, fix in _mistakes(
            wheel, method=method, value=value, against=against, vehicle_kind=vehicle_kind, chart=chart, near=near_it
        ):
            found.append(Hypothesis(code=f"{method}.{code}", ratio=ratio**sign, prior=prior, text=text, fix=fix))
    if first[0] in _NEW and other[0] in _ON_THE_VEHICLE:
        tread_mm = new_tread_mm(wheel, vehicle_kind)
        for lost, word in ((round(0.4 * tread_mm, 1), "half"), (round(0.75 * tread_mm, 1), "nearly")):
            ratio = 1 / (1 - 2 * math.pi * lost / first[1].circumference_mm)
            if not near(ratio):
                continue
            text = text_of("the tyre is {0} worn: {1:g} mm of tread lost", word, lost)
            found.append(
                Hypothesis(
                    code="worn",
                    ratio=ratio,
                    prior=0.5,
                    text=text,
                    fix="Use what was measured, and enter the tread depth.",
                )
            )
        text = "the tyre on the wheel does not match the marking"
        fix = "Roll the wheel out: that decides between them." if other[0] in _TAPES else "Read the sidewall again."
        found.append(
            Hypothesis(code="other_tyre", ratio=1.0, prior=0.6, spread_pct=OTHER_TYRE_SPREAD_PCT, text=text, fix=fix)
        )
    return found


def _mistakes(
    wheel: Wheel,
    *,
    method: SingleMethod,
    value: Value,
    against: SingleMethod,
    vehicle_kind: str,
    chart: Chart,
    near: Callable[[float], bool],
) -> Iterator[tuple[float, str, float, Words, Words]]:
    """Ratio of what the method says to the truth if the mistake was made, code, prior, words, fix; of the ratios that
    are near. A method that rolls the wheel can blame a marking's factor; a tape, which depends on deflection,
    cannot."""
    label = METHOD_LABELS[method]
    if method in ("entered", "chart", "taped_circumference", "speed_derived") and near(1 / math.pi):
        text = text_of("a diameter was entered at the {0}", label)
        yield 1 / math.pi, "pi", 0.5, text, "Enter the circumference."
    if method == "taped_diameter":
        if near(math.pi):
            yield math.pi, "pi", 0.5, "a circumference was entered as the diameter", "Enter floor to top."
        if near(0.5):
            yield 0.5, "radius", 0.5, "a radius was entered as the diameter", "Enter floor to top."
    if method in _TAPES:
        yield from _flattened(wheel, method, vehicle_kind, near)
    if method == "roll_out" and wheel.roll_out is not None:
        turns = wheel.roll_out.turns
        for rolled in (turns + 1, turns - 1):
            if rolled > 0 and near(rolled / turns):
                text = text_of("{0} turns were rolled, {1} counted", rolled, turns)
                yield rolled / turns, "turns", 1.0, text, "Repeat the roll-out and count aloud."
    if method == "marking" and wheel.marking is not None:
        yield from _markings(wheel.marking, vehicle_kind, rolled=against in _ROLLED, near=near)
    if method in ("chart", "entered"):
        yield from _rows(chart, value.circumference_mm, near)
    for factor, name in ((10.0, "ten"), (2.54, "2.54")):
        if near(factor):
            text = text_of("the {0} is in a unit {1} times smaller than assumed", label, name)
            yield factor, "unit", 0.1, text, "Check the unit that was entered."


def _flattened(
    wheel: Wheel, method: SingleMethod, vehicle_kind: str, near: Callable[[float], bool]
) -> Iterator[tuple[float, str, float, Words, Words]]:
    """A tyre flattened more or less than its construction lets expect."""
    deflection = deflection_of(wheel, vehicle_kind)
    factor = standing_factor if method == "taped_diameter" else round_factor
    for true_share in (deflection.share - FURTHER, deflection.share + FURTHER):
        ratio = factor(deflection.share) / factor(true_share)
        if true_share < 0 or not near(ratio):
            continue
        text = text_of(
            "the tyre is flattened {0} than the tape allows for", "more" if true_share > deflection.share else "less"
        )
        fix = "Measure the axle height, standing and lifted, or use the roll-out."
        yield ratio, "flattened", 1.0, text, fix


def _markings(
    given: SizeMarking, vehicle_kind: str, *, rolled: bool, near: Callable[[float], bool]
) -> Iterator[tuple[float, str, float, Words, Words]]:
    """Mistakes with a size marking: another notation, the other factor."""
    marking = parse_marking(given.text)
    for rim in marking.other_rims_mm:
        ratio = marking.diameter_mm / (rim + 2 * marking.section_mm)
        if near(ratio):
            text = text_of("{0} is a different notation: the rim is a {1}\u00a0mm bead seat", marking.text, rim)
            fix = "Decimal and fraction are different rims: read the ETRTO number moulded beside it."
            yield ratio, "notation", 1.5, text, fix
    etrto = uses_etrto_factor(given, marking, vehicle_kind)
    ratio = ETRTO_FACTOR / math.pi if etrto else math.pi / ETRTO_FACTOR
    if rolled and vehicle_kind == "car" and not (etrto and marking.radial) and near(ratio):
        text = text_of(
            "this tyre rolls closer to the factor {0} than to {1}", "π" if etrto else "3.05", "3.05" if etrto else "π"
        )
        yield ratio, "school", 0.4, text, "Choose the other factor at the size marking."


def _rows(
    chart: Chart, circumference_mm: float, near: Callable[[float], bool]
) -> Iterator[tuple[float, str, float, Words, Words]]:
    """Mistakes with a chart: the row of another tyre on the same rim."""
    for row in chart:
        if abs(row.circumference_mm - circumference_mm) >= 0.5:
            continue
        for other in chart:
            ratio = row.circumference_mm / other.circumference_mm
            if other != row and other.bead_seat_mm == row.bead_seat_mm and near(ratio):
                text = text_of("the row of {0} was used instead of {1}", row.label, other.label)
                yield ratio, "row", 0.8, text, text_of("Use the row of {0}.", other.label)
