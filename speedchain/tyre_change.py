"""Change the tyre: what every display would show with its number left, the new numbers, and what must be done again."""

from __future__ import annotations

from speedchain.chain import Fit, evaluate
from speedchain.evidence import LinkName, Part
from speedchain.results import result
from speedchain.units import Circumference, Tread
from speedchain.wheel.chart import CYCLE_CHART, Chart
from speedchain.wheel.entries import Circumstances, Corrections, MarkingText, SizeMarking, TypedCircumference
from speedchain.wheel.model import Wheel

NEGLIGIBLE_PCT = 0.05


class NewTyre(Part):
    """The tyre that goes on: its marking, and its circumference where that was measured already."""

    marking: MarkingText
    circumference_mm: Circumference | None = None
    tread_new_mm: Tread = 8.0


@result
class ReadoutChange:
    """One display: its number now, what it shows on the new tyre with that number, and the new number."""

    name: str
    unit: str
    now: str
    shown_kmh: float
    error_pct: float
    new: str


@result
class PhantomSlip:
    """Slip that a slip log would see between this wheel and another while cruising, though there is none."""

    other: str
    slip_pct: float
    slip_kmh: float


@result
class DueItem:
    """Something that has to be done again."""

    link: LinkName
    text: str


@result
class TyreChange:
    """A change of tyre, before it is made."""

    old_mm: float
    new_mm: float
    change_pct: float
    words: str
    true_kmh: float
    readouts: tuple[ReadoutChange, ...]
    phantom: tuple[PhantomSlip, ...]
    due: tuple[DueItem, ...]
    after: Fit


def change_tyre(fit: Fit, new: NewTyre, others: tuple[Fit, ...] = (), chart: Chart = CYCLE_CHART) -> TyreChange:
    """What a new tyre on the sensed wheel does.

    Shown with the number left: pulses per km on the new tyre/pulses per km told now. Phantom slip against another
    wheel of the vehicle: C_old/C_new − 1, for both were matched before.

    Parameters: the fit; the new tyre; other fits on the vehicle, of which those on
    another axle are compared; the workshop's chart.
    """
    before = evaluate(fit, chart)
    after = _fitted(fit, new)
    result_after = evaluate(after, chart)
    old_mm, new_mm = before.links[0].value, result_after.links[0].value
    change_pct = 100 * (new_mm / old_mm - 1)
    readouts = tuple(
        [
            ReadoutChange(
                was.name,
                was.unit,
                was.in_use.text,
                fit.check_speed_kmh * (1 + was.in_use.error_pct / 100) * old_mm / new_mm,
                100 * ((1 + was.in_use.error_pct / 100) * old_mm / new_mm - 1),
                now.to_type.text,
            )
            for was, now in zip(before.readouts, result_after.readouts, strict=True)
        ]
    )
    slip_pct = 100 * (old_mm / new_mm - 1)
    names = tuple([other.name for other in others if _other_axle(fit, other)])
    phantom = tuple([PhantomSlip(name, slip_pct, fit.check_speed_kmh * slip_pct / 100) for name in names])
    words = (
        f"{old_mm:.0f} mm becomes {new_mm:.0f} mm a turn ({change_pct:+.1f} %): with its number left, "
        f"{readouts[0].name} shows {readouts[0].shown_kmh:.1f} at {fit.check_speed_kmh:g} km/h true."
    )
    due = _due(fit, readouts, names, new, abs(change_pct) > NEGLIGIBLE_PCT)
    return TyreChange(old_mm, new_mm, change_pct, words, fit.check_speed_kmh, readouts, phantom, due, after)


def _other_axle(fit: Fit, other: Fit) -> bool:
    """Whether another fit senses wheels that keep their tyre: it is driven where this one is not, or the reverse."""
    return other.vehicle_kind != "boat" and other.drive.driven != fit.drive.driven


def _fitted(fit: Fit, new: NewTyre) -> Fit:
    """The fit with the new tyre: what was measured on the old one and what was proven with it is gone."""
    factor = fit.wheel.marking.factor if fit.wheel.marking is not None else "auto"
    known = new.circumference_mm
    wheel = Wheel(
        method="marking" if known is None else "typed",
        marking=SizeMarking(text=new.marking, factor=factor),
        typed=None if known is None else TypedCircumference(circumference_mm=known, source="measured_elsewhere"),
        measured=Circumstances(),
        corrections=Corrections(
            tread_new_mm=new.tread_new_mm,
            tread_limit_mm=min(fit.wheel.corrections.tread_limit_mm, new.tread_new_mm),
            growth_pct=fit.wheel.corrections.growth_pct,
            growth_at_kmh=fit.wheel.corrections.growth_at_kmh,
        ),
    )
    readouts = tuple([readout.model_copy(update={"proof": None}) for readout in fit.readouts])
    return fit.model_copy(update={"wheel": wheel, "readouts": readouts})


def _due(
    fit: Fit, readouts: tuple[ReadoutChange, ...], others: tuple[str, ...], new: NewTyre, moved: bool
) -> tuple[DueItem, ...]:
    found = [
        DueItem("readout", f"Type {change.new} {change.unit} into {change.name} (now {change.now}) and read it back")
        for change in readouts
        if change.new != change.now
    ]
    if new.circumference_mm is None:
        found.append(DueItem("wheel", f"Roll out the new {new.marking} at working pressure and load"))
    if fit.wheel.proof is not None or any(readout.proof is not None for readout in fit.readouts):
        found.append(DueItem("readout", "Prove the display again: the earlier test was on the old tyre"))
    if moved and others and fit.purpose in ("slip_control", "brake_control"):
        names = ", ".join(others)
        found.append(DueItem("wheel", f"Match the scales again with {names}; keep the dead band above phantom slip"))
    if moved and fit.purpose == "brake_control":
        text = "Check the circumference against the other wheels before the brake control is relied on; qualified hands"
        found.append(DueItem("wheel", text))
    return tuple(found)
