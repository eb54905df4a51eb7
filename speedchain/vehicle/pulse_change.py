"""Another ring or gearing, sensor, wiring or tyre by an edit: what has to be entered, tested and learned again."""

from __future__ import annotations

from speedchain.diagnosis import Void
from speedchain.document import Installation
from speedchain.evaluation import Evaluation, evaluate
from speedchain.fields import NOTHING_PCT, recased, text_of
from speedchain.readout import ReadoutResult
from speedchain.uncertainty import verdict_on
from speedchain.vehicle.tyre_change import Task
from speedchain.wheel import CYCLE_CHART, Chart


def pulse_change_tasks(
    before: Installation, after: Installation, chart: Chart = CYCLE_CHART
) -> tuple[Task, ...] | None:
    """The tasks after a change of count, edges or ratio, or of whatever else makes a test void; None where there are
    none.

    Only displays whose setting was read back ask for a new one: one that nobody has set needs no task.

    Examples
    --------
    >>> from speedchain.document.installation import example_installation
    >>> pulse_change_tasks(example_installation(), example_installation()) is None
    True
    """
    was, now = evaluate(before, chart), evaluate(after, chart)
    change_pct = 100 * (now.pulses_per_turn_of_wheel / was.pulses_per_turn_of_wheel - 1)
    again = [item for item in now.voids if item not in was.voids]
    if abs(change_pct) < NOTHING_PCT:
        return _again(after, now, again) or None
    found = [
        Task(
            stage="readout",
            text=text_of(
                "Enter {0}\u00a0{1} into {2} after the change of ring or gearing (now {3}) and read it back",
                readout.to_type.text,
                readout.unit,
                readout.name,
                readout.in_use.text,
            ),
        )
        for readout in now.readouts
        if _has_to_be_entered(readout)
    ]
    if found and (after.target.verification is not None or after.readouts[0].verification is not None):
        found.append(
            Task(
                stage="target",
                text=text_of(
                    "Repeat the spin test after the change of ring or gearing: the earlier test was before it"
                ),
            )
        )
    return (*found, *_again(after, now, [item for item in again if item.ride]))


def _again(after: Installation, now: Evaluation, voids: list[Void]) -> tuple[Task, ...]:
    """What has to be tested or learned again because what it depends on has changed."""
    found = []
    for item in voids:
        if item.ride and item.readout is not None:
            name, action = after.readouts[item.readout].name, recased(now.readouts[item.readout].action, upper=False)
            found.append(Task(stage="readout", text=text_of("{0}, after the change: {1}", name, action)))
        else:
            found.append(
                Task(
                    stage=item.stage,
                    text=text_of("Repeat the test of {0} after the change: it was {1}", item.stage, item.reason),
                )
            )
    return tuple(found)


def _has_to_be_entered(readout: ReadoutResult) -> bool:
    known = readout.entry == "typed" and readout.current_setting is not None
    return known and verdict_on(readout.in_use.error_pct, NOTHING_PCT) == "wrong"
