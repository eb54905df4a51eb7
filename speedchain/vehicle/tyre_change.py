"""Change the tyre: what every display would show with its setting unchanged, the new numbers, and what must be done
again."""

from __future__ import annotations

from speedchain.document import Installation
from speedchain.evaluation import evaluate
from speedchain.fields import (
    NOTHING_PCT,
    Circumference,
    Part,
    StageName,
    Tread,
    Words,
    joined,
    recased,
    stated,
    text_of,
)
from speedchain.readout import Readout, ReadoutResult
from speedchain.results import result
from speedchain.wheel import (
    CYCLE_CHART,
    TREAD_NEW_MM,
    Chart,
    Circumstances,
    Corrections,
    EnteredCircumference,
    MarkingText,
    SizeMarking,
    Wheel,
)


class NewTyre(Part):
    """The tyre that goes on: its marking, and its circumference where that was measured already."""

    marking: MarkingText
    circumference_mm: Circumference | None = None
    tread_new_mm: Tread | None = stated(None, title="Tread depth when new")


@result
class ReadoutChange:
    """One display: its current setting, what it shows on the new tyre with that, and the new setting.

    A setting that nobody has read back is not known: `now` is empty then, and nothing follows from it. `action` is what
    makes it right on the new tyre, by the way the reader is set; empty where nothing has to be done.
    """

    name: str
    unit: Words
    now: Words
    shown_kmh: float | None
    error_pct: float | None
    new: Words
    action: Words
    table: bool


@result
class FalseSlip:
    """Slip that a slip log would see between this wheel and another while cruising, though there is none."""

    other: str
    slip_pct: float
    slip_kmh: float


@result
class Task:
    """A task: something that has to be done again."""

    stage: StageName
    text: Words


@result
class TyreChange:
    """A change of tyre, before it is made."""

    old_mm: float
    new_mm: float
    change_pct: float
    text: Words
    true_kmh: float
    readouts: tuple[ReadoutChange, ...]
    false_slip: tuple[FalseSlip, ...]
    tasks: tuple[Task, ...]
    after: Installation


def change_tyre(
    installation: Installation, new: NewTyre, others: tuple[Installation, ...] = (), chart: Chart = CYCLE_CHART
) -> TyreChange:
    """What a new tyre on the sensed wheel does.

    Shown with the setting unchanged: pulses per km on the new tyre/pulses per km set now. False slip against another
    wheel of the vehicle, for both were matched before: C_old/C_new − 1 when the driven wheel changes, C_new/C_old − 1
    when the other does.

    Parameters
    ----------
    The installation; the new tyre; other installations on the vehicle, of which those on another axle are compared;
    the workshop's chart.
    """
    before = evaluate(installation, chart)
    after = _fitted(installation, new)
    result_after = evaluate(after, chart)
    old_mm, new_mm = before.stages[0].value, result_after.stages[0].value
    change_pct = 100 * (new_mm / old_mm - 1)
    readouts = tuple(
        [
            ReadoutChange(
                name=was.name,
                unit=was.unit,
                now=was.in_use.text if was.current_setting is not None else "",
                shown_kmh=installation.check_speed_kmh * factor if _is_known(was) else None,
                error_pct=100 * (factor - 1) if _is_known(was) else None,
                new=now.to_type.text,
                action=now.action if _has_to_be_told(now) else "",
                table=bool(now.table),
            )
            for was, now in zip(before.readouts, result_after.readouts, strict=True)
            for factor in ((1 + was.in_use.error_pct / 100) * old_mm / new_mm,)
        ]
    )
    grown = old_mm / new_mm if installation.drive.driven else new_mm / old_mm
    slip_pct = 100 * (grown - 1)
    names = tuple([other.name for other in others if _other_axle(installation, other)])
    false_slip = tuple(
        [
            FalseSlip(other=name, slip_pct=slip_pct, slip_kmh=installation.check_speed_kmh * slip_pct / 100)
            for name in names
        ]
    )
    first = readouts[0]
    becomes = text_of("{0:.0f} mm becomes {1:.0f} mm per turn ({2:+.1f} %)", old_mm, new_mm, change_pct)
    if installation.readouts[0].entry == "counts":
        change = 100 * (old_mm / new_mm - 1)
        words = text_of(
            "{0}: {1} gets {2:.1f} % more pulses than before."
            if change > 0
            else "{0}: {1} gets {2:.1f} % fewer pulses than before.",
            becomes,
            first.name,
            abs(change),
        )
    elif first.shown_kmh is None:
        words = text_of("{0}. The current setting of {1} is not known: read it back.", becomes, first.name)
    else:
        words = text_of(
            "{0}: with its setting unchanged, {1} shows {2:.1f} km/h at {3:g} km/h true.",
            becomes,
            first.name,
            first.shown_kmh,
            installation.check_speed_kmh,
        )
    tasks = _tasks(installation, readouts=readouts, others=names, new=new, moved=abs(change_pct) > NOTHING_PCT)
    return TyreChange(
        old_mm=old_mm,
        new_mm=new_mm,
        change_pct=change_pct,
        text=words,
        true_kmh=installation.check_speed_kmh,
        readouts=readouts,
        false_slip=false_slip,
        tasks=tasks,
        after=after,
    )


def _other_axle(installation: Installation, other: Installation) -> bool:
    """Whether another installation senses wheels that keep their tyre: it is driven where this one is not, or the
    reverse."""
    return other.vehicle_kind != "boat" and other.drive.driven != installation.drive.driven


def _is_known(was: ReadoutResult) -> bool:
    """Whether it is known what a reader counts with: read back, learned, or made so."""
    return was.current_setting is not None or (was.entry != "typed" and was.evidence != "assumed")


def _has_to_be_told(now: ReadoutResult) -> bool:
    """Whether a reader asks for anything on the new tyre: another number, a ride, or parts where it cannot be set."""
    if now.entry == "typed":
        return now.current_setting is None or now.in_use.text != now.to_type.text
    return now.entry == "learned" or (now.entry == "fixed" and abs(now.in_use.error_pct) > NOTHING_PCT)


def _fitted(installation: Installation, new: NewTyre) -> Installation:
    """The installation with the new tyre: what was measured on the old one and what was verified with it is gone."""
    factor = installation.wheel.marking.factor if installation.wheel.marking is not None else "auto"
    known = new.circumference_mm
    new_mm = new.tread_new_mm or TREAD_NEW_MM.get(installation.vehicle_kind, TREAD_NEW_MM["car"])
    wheel = Wheel(
        method="marking" if known is None else "entered",
        marking=SizeMarking(text=new.marking, factor=factor),
        entered=None if known is None else EnteredCircumference(circumference_mm=known, source="measured_elsewhere"),
        measured=Circumstances(),
        corrections=Corrections(
            tread_new_mm=new.tread_new_mm,
            tread_limit_mm=min(installation.wheel.corrections.tread_limit_mm, new_mm),
            growth_pct=installation.wheel.corrections.growth_pct,
            growth_at_kmh=installation.wheel.corrections.growth_at_kmh,
        ),
    )
    readouts = tuple([_with_old_tyre(readout) for readout in installation.readouts])
    observations = tuple([item.model_copy(update={"voided_by": "tyre"}) for item in installation.observations])
    return installation.model_copy(update={"wheel": wheel, "readouts": readouts, "observations": observations})


def _with_old_tyre(readout: Readout) -> Readout:
    """A readout whose test and learning ride were on the old tyre."""
    ride = readout.learning_ride
    if ride is not None and ride.outcome == "learned":
        ride = ride.model_copy(update={"voided_by": "tyre"})
    return readout.model_copy(update={"verification": None, "learning_ride": ride})


def _task_of(readout: Readout, change: ReadoutChange) -> str:
    """What to do with one reader, by the way it is set."""
    if readout.entry == "typed" and not change.table:
        return text_of("{0} into {1} ({2}) and read it back", change.action, change.name, _now(change))
    return text_of("{0}: {1}", change.name, recased(change.action, upper=False))


def _now(change: ReadoutChange) -> str:
    return text_of("now {0}", change.now) if change.now else "current setting not known"


def _tasks(
    installation: Installation,
    *,
    readouts: tuple[ReadoutChange, ...],
    others: tuple[str, ...],
    new: NewTyre,
    moved: bool,
) -> tuple[Task, ...]:
    found = [
        Task(stage="readout", text=_task_of(installation.readouts[place], change))
        for place, change in enumerate(readouts)
        if change.action
    ]
    if new.circumference_mm is None:
        found.append(
            Task(stage="wheel", text=text_of("Roll out the new {0} at working pressure and load", new.marking))
        )
    if installation.wheel.verification is not None or any(
        readout.verification is not None for readout in installation.readouts
    ):
        found.append(Task(stage="readout", text="Verify the display again: the earlier test was on the old tyre"))
    if moved and others and installation.purpose in ("slip_control", "brake_control"):
        names = joined(", ", others)
        found.append(
            Task(
                stage="wheel",
                text=text_of("Match the settings again with {0}; keep the dead band above false slip", names),
            )
        )
    if moved and installation.purpose == "brake_control":
        text = (
            "Check the circumference against the other wheels before relying on brake control; leave it to "
            "qualified hands"
        )
        found.append(Task(stage="wheel", text=text))
    return tuple(found)
