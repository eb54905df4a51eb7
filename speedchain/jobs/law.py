"""How a setting follows from what is measured on a sheet: a product of powers, so that a phone can fill it in at
once."""

from __future__ import annotations

import math
from collections.abc import Mapping
from datetime import date as Date

from speedchain.document import Installation
from speedchain.evaluation import evaluate
from speedchain.fields import SpeedchainError
from speedchain.jobs.into import ROLLED_TURNS, SHAFT_WHEEL_TURNS, put_into
from speedchain.jobs.steps import Measure
from speedchain.readout import dial_of, nearest_enterable
from speedchain.results import result

ANY_DAY = Date(2000, 1, 1)
NEAR_A_POWER = 1e-3
"""An exponent that is further from a whole number is none: the setting does not follow as a product of powers then."""
NEAR_THE_LAW = 1e-6


@result
class Power:
    """A step whose value counts, and with which exponent."""

    step: str
    exponent: int


@result
class Law:
    """setting = factor · Π value^exponent, then rounded to a number that the reader takes.

    Values are in the unit of their step [mm, count, turns]; `rounding` is up, down or nearest, onto multiples of `step`
    within `minimum` and `maximum`.
    """

    factor: float
    powers: tuple[Power, ...]
    rounding: str
    step: float
    minimum: float
    maximum: float

    def number(self, values: Mapping[str, float]) -> float | None:
        """The setting, or None while a value is missing.

        Examples
        --------
        >>> law = Law(
        ...     factor=1 / 3, powers=(Power(step="roll", exponent=1),
        ...         ), rounding="up", step=1.0, minimum=100, maximum=9999
        ... )
        >>> law.number({"roll": 5791.0}), law.number({})
        (1931.0, None)
        """
        if any(power.step not in values for power in self.powers):
            return None
        exact = self.factor * math.prod([values[power.step] ** power.exponent for power in self.powers])
        around = nearest_enterable(exact, self.minimum, self.maximum, self.step)
        return {"up": around.above, "down": around.below}.get(self.rounding, around.nearest)


def setting_law(installation: Installation, inputs: tuple[tuple[str, Measure], ...]) -> Law | None:
    """The law of the first readout's setting in the steps that measure what it depends on; None where there is none.

    The exponents are ∂ln(setting)/∂ln(value) between two values of each input, whole numbers; the factor from one
    evaluation; a third evaluation, of all inputs moved, has to agree.

    Examples
    --------
    >>> from speedchain.document.installation import example_installation
    >>> law = setting_law(example_installation(), (("roll", "roll_out"), ("count", "count")))
    >>> [(power.step, power.exponent) for power in law.powers]
    [('roll', -1), ('count', 1)]
    """
    readout = installation.readouts[0]
    dial = dial_of(readout)
    if readout.entry != "typed" or readout.encoding == "frequency_table" or dial.codes or not inputs:
        return None
    start = {code: _begin(installation, measure) for code, measure in inputs}
    try:
        base = _exact(installation, inputs, start)
        powers = []
        for code, measure in inputs:
            moved = _exact(installation, inputs, start | {code: _moved(measure, start[code])})
            exponent = math.log(moved / base) / math.log(_moved(measure, start[code]) / start[code])
            if abs(exponent - round(exponent)) > NEAR_A_POWER:
                return None
            powers.append(Power(step=code, exponent=round(exponent)))
        factor = base / math.prod([start[power.step] ** power.exponent for power in powers])
        third = {code: _moved(measure, start[code]) for code, measure in inputs}
        found = factor * math.prod([third[power.step] ** power.exponent for power in powers])
        if abs(found / _exact(installation, inputs, third) - 1) > NEAR_THE_LAW:
            return None
    except (SpeedchainError, ValueError):
        return None
    return Law(
        factor=factor,
        powers=tuple([power for power in powers if power.exponent]),
        rounding=evaluate(installation).readouts[0].rounding,
        step=dial.step,
        minimum=dial.minimum,
        maximum=dial.maximum,
    )


def _begin(installation: Installation, measure: Measure) -> float:
    """A value of each measure near what is known."""
    known = evaluate(installation)
    if measure == "roll_out":
        return float(round(ROLLED_TURNS * known.stages[0].value))
    if measure == "count":
        return float(installation.target.count)
    return SHAFT_WHEEL_TURNS * known.stages[1].value


def _moved(measure: Measure, value: float) -> float:
    return value + max(round(0.1 * value), 1) if measure == "count" else 1.02 * value


def _exact(installation: Installation, inputs: tuple[tuple[str, Measure], ...], values: Mapping[str, float]) -> float:
    changed = installation
    for code, measure in inputs:
        number = values[code]
        typed = str(round(number)) if measure == "count" else repr(number)
        changed = put_into(changed, measure, typed, by="", on=ANY_DAY)
    return evaluate(changed).readouts[0].exact
