"""An installation copied to another corner or vehicle: what was decided goes along, what was measured or tested does
not."""

from __future__ import annotations

from speedchain.document import Installation
from speedchain.evaluation import evaluate
from speedchain.fields import PartLabel, SensedAt, VehicleKind
from speedchain.wheel import CYCLE_CHART, Chart, EnteredCircumference, Wheel

DIGITS_MM = 1


def copy_installation(
    installation: Installation,
    *,
    name: str,
    sensed_at: SensedAt,
    vehicle_kind: VehicleKind,
    chart: Chart = CYCLE_CHART,
) -> Installation:
    """A copy for another place, in which nothing claims to be measured, counted, tested or read back.

    The circumference comes from the marking or chart row where there is one, else from what the original came to, as
    a previous setting. Part data, count, ratio, planned placement, wiring and formats of the readers go along.

    Examples
    --------
    >>> from speedchain.document.installation import example_installation
    >>> copy = copy_installation(
    ...     example_installation(), name="Rear right", sensed_at="rear_right", vehicle_kind="car"
    ... )
    >>> copy.name, copy.sensed_at, copy.target.basis, copy.readouts[0].current_setting
    ('Rear right', 'rear_right', 'assumed', None)
    """
    unproved = {"verification": None}
    unchecked = {"air_gap_basis": "planned", "clearances_checked": ()}
    placement = installation.placement and installation.placement.model_copy(update=unchecked)
    readouts = tuple(
        [
            readout.model_copy(
                update={
                    **unproved,
                    "card": (),
                    "learning_ride": None,
                    **({} if readout.entry == "fixed" else {"current_setting": None, "current_setting_code": None}),
                }
            )
            for readout in installation.readouts
        ]
    )
    return installation.model_copy(
        update={
            "name": name,
            "sensed_at": sensed_at,
            "vehicle_kind": vehicle_kind,
            "wheel": _nominal(installation, chart),
            "drive": installation.drive.model_copy(update=unproved),
            "target": installation.target.model_copy(
                update={**unproved, "basis": "assumed", "part": _of_any_side(installation.target.part)}
            ),
            "sensor": installation.sensor.model_copy(
                update={**unproved, "resistance_ohm": None, "part": _of_any_side(installation.sensor.part)}
            ),
            "placement": placement,
            "signal": installation.signal.model_copy(update={**unproved, "measured": None, "vr": None}),
            "readouts": readouts,
            "turn_counts": (),
            "observations": (),
            "test_records": (),
            "torques": (),
        }
    )


def _of_any_side(label: PartLabel | None) -> PartLabel | None:
    """The same part for another place: which side it is made for may differ there."""
    return label and label.model_copy(update={"side": ""})


def _nominal(installation: Installation, chart: Chart) -> Wheel:
    wheel = installation.wheel
    kept = {"corrections": wheel.corrections.model_copy(update={"other_load": None, "tread_now_mm": None})}
    if wheel.paddle is not None:
        return Wheel(method="paddle", paddle=wheel.paddle.model_copy(update={"calibration_pct": None}))
    if wheel.marking is not None:
        return Wheel(method="marking", marking=wheel.marking, **kept)
    if wheel.chart is not None:
        return Wheel(method="chart", chart=wheel.chart, **kept)
    circumference_mm = evaluate(installation, chart).stages[0].figures[0].value
    return Wheel(
        method="entered", entered=EnteredCircumference(circumference_mm=round(circumference_mm, DIGITS_MM)), **kept
    )
