"""The trailer card: every wheel that is owned with every reader, its setting with new and with worn tread."""

from __future__ import annotations

from collections.abc import Sequence

from speedchain.document import Installation, read_installation
from speedchain.evaluation import evaluate
from speedchain.fields import InputError, SpeedchainError, Words, joined, text_of
from speedchain.readout import ReadoutResult
from speedchain.results import result
from speedchain.wheel import CYCLE_CHART, Chart

WORN_MM = 1.6
"""Least tread of car tyres in most places; check your local rules."""
MOST_ROWS = 400


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

    Raises
    ------
    `InputError` where more than `MOST_ROWS` rows come of them.

    Examples
    --------
    >>> from speedchain.document.installation import example_installation
    >>> trailer_card([example_installation()])[0].now
    '24905 pulses per km'
    """
    count = len(installations) * sum(len(item.readouts) for item in installations)
    if count > MOST_ROWS:
        raise InputError(
            text_of("The card would have {0} rows: every wheel with every reader.", count),
            remedy="Put installations that are not used into the bin, or print the card of each.",
            limit=text_of("at most {0} rows", MOST_ROWS),
        )
    return tuple(
        [
            TrailerRow(
                wheel=_wheel(of_wheel),
                reader=text_of("{0} ({1})", readout.name, of_reader.name),
                now=now,
                worn=worn,
            )
            for of_wheel in installations
            for of_reader in installations
            for readout, now, worn in zip(
                of_reader.readouts,
                _settings(of_wheel, of_reader, chart=chart, worn=False),
                _settings(of_wheel, of_reader, chart=chart, worn=True),
                strict=True,
            )
        ]
    )


def _wheel(installation: Installation) -> Words:
    marking = installation.wheel.marking
    return text_of("{0}, {1}", installation.name, marking.text) if marking is not None else installation.name


def _settings(of_wheel: Installation, of_reader: Installation, *, chart: Chart, worn: bool) -> list[Words]:
    document = of_reader.model_dump(mode="json") | {"wheel": of_wheel.wheel.model_dump(mode="json"), "observations": []}
    if worn:
        document["wheel"]["corrections"] |= {"tread_now_mm": WORN_MM}
    try:
        readouts = evaluate(read_installation(document), chart).readouts
    except SpeedchainError:
        return ["" for _ in of_reader.readouts]
    return [_setting(found) for found in readouts]


def _setting(found: ReadoutResult) -> Words:
    """What is entered: of a table every row; where nothing is entered, what is done instead."""
    if found.entry != "typed":
        return found.action
    if found.table:
        rows = [text_of("{0:g} Hz at {1:g} km/h", row.to_type_hz, row.speed_kmh) for row in found.table]
        return joined("; ", rows)
    return text_of("{0} {1}", found.to_type.text, found.unit)
