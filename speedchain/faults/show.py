"""A cause on the bench: what scope and display would show with it."""

from __future__ import annotations

import numpy as np

from speedchain.bench import BenchFrame, Moment, Profile, bench_moment
from speedchain.document import Installation
from speedchain.faults.inject import PUTS, inject
from speedchain.faults.rig import DRIVE_KMH, display, evaluation_of, path_works
from speedchain.fields import InputError, Words, text_of
from speedchain.results import result
from speedchain.views import over_speed

AT_S = 3.0


@result
class OnTheBench:
    """A cause put into the simulated bench: the frame of its scope, and what the display shows at a true speed."""

    true_kmh: float
    shown_kmh: float
    unsteady: bool
    text: Words
    frame: BenchFrame


def show_on_bench(cause: str, installation: Installation, *, kmh: float = DRIVE_KMH, seed: int = 1) -> OnTheBench:
    """What a cause would look like on this installation.

    Examples
    --------
    >>> from speedchain.document.installation import example_installation
    >>> show_on_bench("edges_half", example_installation()).shown_kmh
    25.0
    """
    if cause not in PUTS:
        raise InputError(text_of("There is no cause {0}.", cause), remedy="Choose one of the list.", path="cause")
    rig = inject(cause, installation, np.random.default_rng(seed))
    found = display(rig, kmh)
    shown_kmh = _shown_at(installation, found.ratio * kmh)
    moment = Moment(profile=Profile.swept(kmh, kmh, 2 * AT_S), now_s=AT_S, faults=rig.faults)
    frame = bench_moment(rig.true, evaluation_of(rig.true), moment)
    if not path_works(rig):
        text: Words = (
            "No pulse reaches the display. The scope shows the sensor as it would be with the target in place."
        )
    elif found.unsteady:
        text = "The shown speed is unsteady."
    else:
        text = text_of("{0:.3g} km/h shown at {1:g} km/h.", shown_kmh, kmh)
    return OnTheBench(true_kmh=kmh, shown_kmh=round(shown_kmh, 1), unsteady=found.unsteady, text=text, frame=frame)


def _shown_at(installation: Installation, counted_kmh: float) -> float:
    """What the display shows of pulses that are those of a speed, with the number that is set in it and the end of its
    scale."""
    if counted_kmh < 1:
        return 0.0
    return over_speed(installation, evaluation_of(installation), max_speed_kmh=counted_kmh).shown_kmh[-1]
