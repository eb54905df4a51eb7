"""A recording: channels over time, as they came out of a file or a phone."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from speedchain.results import shared

Array = NDArray[np.float64]
Quantity = Literal["speed", "distance", "latitude", "longitude", "course", "accuracy", "altitude", "other"]


@shared
class Channel:
    """One quantity over the recording's time: what it was called in the file, what it is, and its values.

    Speeds are km/h, distances and accuracies m, angles degrees, whatever unit the file had. NaN where nothing was recorded.
    """

    name: str
    quantity: Quantity
    unit: str
    values: Array


@shared
class Recording:
    """Channels over one time [s] that rises; lines of the file that could not be used are counted, with examples."""

    time_s: Array
    channels: tuple[Channel, ...]
    lines: int
    bad_lines: int
    examples: tuple[str, ...] = ()

    def channel(self, name: str) -> Channel | None:
        """The channel of that name."""
        return next((item for item in self.channels if item.name == name), None)

    def first(self, quantity: Quantity) -> Channel | None:
        """The first channel of a quantity."""
        return next((item for item in self.channels if item.quantity == quantity), None)

    @property
    def seconds(self) -> float:
        """From the first sample to the last [s]."""
        return float(self.time_s[-1] - self.time_s[0]) if self.time_s.size else 0.0


def recording(
    time_s: Array,
    channels: Mapping[str, tuple[Quantity, str, Array]],
    *,
    lines: int = 0,
    bad_lines: int = 0,
    examples: tuple[str, ...] = (),
) -> Recording:
    """A recording in order of time; of samples at one time the first is kept.

    Examples
    --------
    >>> made = recording(np.array([1.0, 0.0, 1.0]), {"v": ("speed", "km/h", np.array([5.0, 4.0, 9.0]))})
    >>> made.time_s.tolist(), made.channels[0].values.tolist()
    ([0.0, 1.0], [4.0, 5.0])
    """
    times, first = np.unique(np.asarray(time_s, dtype=float), return_index=True)
    return Recording(
        time_s=times,
        channels=tuple(
            [
                Channel(name=name, quantity=quantity, unit=unit, values=np.asarray(values, dtype=float)[first])
                for name, (quantity, unit, values) in channels.items()
            ]
        ),
        lines=lines,
        bad_lines=bad_lines,
        examples=examples,
    )
