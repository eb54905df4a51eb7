"""What a test or an observation depends on: the state of the vehicle and its parts then, and what has changed since."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Literal

from pydantic import Field

from speedchain.fields.choice import labelled
from speedchain.fields.part import Part, stated
from speedchain.fields.quantities import Scale, Tread
from speedchain.fields.texts import ShortText

Dependence = Literal["tyre", "pressure", "drive", "target", "sensor", "position", "wiring", "reader", "battery"]
DEPENDENCES = labelled(
    Dependence,
    tyre="Tyre",
    pressure="Pressure",
    drive="Gearing",
    target="Target",
    sensor="Sensor",
    position="Position of the sensor",
    wiring="Wiring",
    reader="Display or controller",
    battery="Battery",
)
BEFORE: Mapping[Dependence, str] = {
    "tyre": "before the change of tyre",
    "pressure": "before the change of pressure",
    "drive": "before the change of gearing",
    "target": "before the change of target",
    "sensor": "before the change of sensor",
    "position": "before the sensor was moved",
    "wiring": "before the change of wiring",
    "reader": "before the change of display or controller",
    "battery": "before the change of battery",
}
BY_PART: tuple[Dependence, ...] = ("reader", "battery")
"""Of these a document states nothing: that they were changed is said by the part that was fitted."""
SAME_RATIO_PCT = 1.0
"""A ratio that is measured again may differ by so much and still be the same gears: neighbouring final drives are 2 %
and more apart. Common practice."""


class State(Part):
    """The state that something was found in; empty where it was not known."""

    tyre: ShortText = ""
    pressure: ShortText = ""
    ratio: Scale | None = stated(
        None, title="Axle ratio", step=0.01, description="Turns of the target per turn of the wheel."
    )
    target: ShortText = ""
    sensor: ShortText = ""
    position: ShortText = ""
    wiring: ShortText = ""
    tread_depth_mm: Tread | None = Field(None, description="Of this only the wear since then follows.")

    def change(self, now: State, depends_on: tuple[Dependence, ...]) -> Dependence | None:
        """The first of the dependences that is another one now; what was not known then, or is not now, has not
        changed.

        Examples
        --------
        >>> then, everything = State(tyre="205/55R16", ratio=3.9), ("tyre", "drive")
        >>> then.change(State(tyre="195/65R15"), everything), then.change(State(ratio=3.91), everything)
        ('tyre', None)
        """
        return next((name for name in depends_on if self._differs(now, name)), None)

    def _differs(self, now: State, name: Dependence) -> bool:
        if name == "drive":
            then, today = self.ratio, now.ratio
            return then is not None and today is not None and abs(today / then - 1) > SAME_RATIO_PCT / 100
        if name in BY_PART:
            return False
        before, after = getattr(self, name), getattr(now, name)
        return bool(before) and bool(after) and before != after
