"""The permitted air gap: what the calculation allows, within what the sensor's maker permits."""

from __future__ import annotations

from speedchain.fields import Gap, quantity_of
from speedchain.results import result
from speedchain.sensor import Sensor
from speedchain.target import Target, ring_shape


@result
class GapWindow:
    """A range of gaps [mm]."""

    lowest_mm: float
    highest_mm: float


def maker_window(sensor: Sensor, target: Target) -> GapWindow | None:
    """What the maker permits before this target, as it is set; None where nothing was entered.

    Examples
    --------
    >>> sensor = Sensor(kind="reed", maker_gap={"lowest_mm": 1, "highest_mm": 2})
    >>> maker_window(sensor, Target(kind="magnets", count=1))
    GapWindow(lowest_mm=1.0, highest_mm=2.0)
    """
    if sensor.maker_gap is None:
        return None
    shape = ring_shape(target)
    found = sensor.maker_gap.window_mm(None if shape is None else shape.module_mm)
    return None if found is None else GapWindow(lowest_mm=found[0], highest_mm=found[1])


def within(model: GapWindow, maker: GapWindow | None) -> GapWindow:
    """The gaps that both allow. Where the calculation sees no signal in them the maker is believed, who has tried it;
    that nothing touches is geometry, so the smallest gap of the calculation always holds.

    Examples
    --------
    >>> maker = GapWindow(lowest_mm=1, highest_mm=3)
    >>> within(GapWindow(lowest_mm=0.5, highest_mm=1.8), maker), within(GapWindow(lowest_mm=0.5, highest_mm=0.9), maker)
    (GapWindow(lowest_mm=1, highest_mm=1.8), GapWindow(lowest_mm=1, highest_mm=3))
    >>> within(GapWindow(lowest_mm=0.5, highest_mm=1.8), GapWindow(lowest_mm=0, highest_mm=0.3))
    GapWindow(lowest_mm=0.5, highest_mm=0.3)
    """
    if maker is None:
        return model
    lowest_mm, highest_mm = max(model.lowest_mm, maker.lowest_mm), min(model.highest_mm, maker.highest_mm)
    if highest_mm <= lowest_mm and maker.highest_mm < quantity_of(Gap).maximum:
        highest_mm = maker.highest_mm
    return GapWindow(lowest_mm=lowest_mm, highest_mm=highest_mm)
