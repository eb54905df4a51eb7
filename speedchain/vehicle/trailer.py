"""The trailer card: every wheel that is owned with every reader, its setting with new and with worn tread."""

from __future__ import annotations

from collections.abc import Sequence

from speedchain.document import Installation, read_installation
from speedchain.evaluation import evaluate
from speedchain.fields import SpeedchainError, Words, text_of
from speedchain.results import result
from speedchain.wheel import CYCLE_CHART, Chart

WORN_MM = 1.6
"""Least tread of car tyres in most places; check your local rules."""


@result
class TrailerRow:
    """One wheel with one reader: the settings as the wheel is now, and worn down to the least tread; empty where they
    cannot be computed."""

    wheel: Words
    reader: Words
    now: Words
    worn: Words


def trailer_card(installations: Sequence[Installation], chart: Chart = CYCLE_CHART) -> tuple[TrailerRow, ...]:
    """Each installation's readers with each installation's wheel: what would be entered then.

    Parameters
    ----------
    The installations of a vehicle; the workshop's cycle chart.

    Examples
    --------
    >>> from speedchain.document.installation import example_installation
    >>> trailer_card([example_installation()])[0].now
    '24905 pulses per km'
    """
    rows = []
    for of_wheel in installations:
        for of_reader in installations:
            for place, readout in enumerate(of_reader.readouts):
                rows.append(
                    TrailerRow(
                        wheel=_wheel(of_wheel),
                        reader=text_of("{0} ({1})", readout.name, of_reader.name),
                        now=_setting(of_wheel, of_reader, place, chart=chart, worn=False),
                        worn=_setting(of_wheel, of_reader, place, chart=chart, worn=True),
                    )
                )
    return tuple(rows)


def _wheel(installation: Installation) -> Words:
    marking = installation.wheel.marking
    return text_of("{0}, {1}", installation.name, marking.text) if marking is not None else installation.name


def _setting(of_wheel: Installation, of_reader: Installation, place: int, *, chart: Chart, worn: bool) -> Words:
    document = of_reader.model_dump(mode="json") | {"wheel": of_wheel.wheel.model_dump(mode="json"), "observations": []}
    if worn:
        document["wheel"]["corrections"] |= {"tread_now_mm": WORN_MM}
    try:
        found = evaluate(read_installation(document), chart).readouts[place]
    except SpeedchainError:
        return ""
    return text_of("{0} {1}", found.to_type.text, found.unit) if found.entry == "typed" else found.action
