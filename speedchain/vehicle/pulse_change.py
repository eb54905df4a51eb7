"""Another ring or gearing: what has to be entered and tested again."""

from __future__ import annotations

from speedchain.document import Installation
from speedchain.evaluation import evaluate
from speedchain.fields import text_of
from speedchain.readout import ReadoutResult
from speedchain.uncertainty import verdict_on
from speedchain.vehicle.tyre_change import NEGLIGIBLE_PCT, Task
from speedchain.wheel import CYCLE_CHART, Chart

AFTER = "after the change of ring or gearing"
"""What every such task says, so that a later change takes its place."""


def pulse_change_tasks(
    before: Installation, after: Installation, chart: Chart = CYCLE_CHART
) -> tuple[Task, ...] | None:
    """The tasks after a change of count, edges or ratio; None where the pulses per turn of the wheel are the same.

    Only displays whose setting was read back ask for a new one: one that nobody has set needs no task.

    Examples
    --------
    >>> from speedchain.document.installation import example_installation
    >>> pulse_change_tasks(example_installation(), example_installation()) is None
    True
    """
    was, now = evaluate(before, chart), evaluate(after, chart)
    change_pct = 100 * (now.pulses_per_turn_of_wheel / was.pulses_per_turn_of_wheel - 1)
    if abs(change_pct) < NEGLIGIBLE_PCT:
        return None
    found = [
        Task(
            stage="readout",
            text=text_of(
                "Enter {0}\u00a0{1} into {2} {3} (now {4}) and read it back",
                readout.to_type.text,
                readout.unit,
                readout.name,
                AFTER,
                readout.in_use.text,
            ),
        )
        for readout in now.readouts
        if _has_to_be_entered(readout)
    ]
    if found and (after.target.verification is not None or after.readouts[0].verification is not None):
        found.append(
            Task(stage="target", text=text_of("Repeat the spin test {0}: the earlier test was before it", AFTER))
        )
    return tuple(found)


def _has_to_be_entered(readout: ReadoutResult) -> bool:
    known = readout.entry == "typed" and readout.current_setting is not None
    return known and verdict_on(readout.in_use.error_pct, NEGLIGIBLE_PCT) == "wrong"
