"""A reader whose number cannot be changed: what it shows, and which parts would make it right, solved backwards."""

from __future__ import annotations

import math
from collections.abc import Iterator

from speedchain.document import Installation
from speedchain.fields import Words, recased, text_of
from speedchain.readout import ReadoutResult
from speedchain.regulations import forbids
from speedchain.results import result
from speedchain.signal import best_ratio
from speedchain.stages import Finding, FindingCode, finding
from speedchain.uncertainty import against_true, verdict_on

NEAR_PCT = 3.0
"""Of the counts that a ring can have, those that leave a larger error are not worth a ring. Common practice."""
MOST_TEETH = 400


@result
class Way:
    """One way to make it right: what to fit or set, in short and in full, and the error that is left [%]."""

    code: str
    short: Words
    text: Words
    error_pct: float


@result
class FixedReader:
    """What a reader that cannot be set shows now, and the ways to make it right, the best of each kind."""

    readout: int
    error_pct: float
    text: Words
    ways: tuple[Way, ...]


def fixed_readers(
    installation: Installation, *, readouts: tuple[ReadoutResult, ...], wheel_mm: float, expanded_pct: float
) -> tuple[FixedReader, ...]:
    """For every readout that cannot be set: shown/true = delivered/set, solved for the parts before it.

    Ring: N' = N·set/delivered, a whole number. Converter: K' = K·set/delivered as p/q. Gears of a cable: driven' =
    driven·delivered/set. Wheel: C' = C·delivered/set. Where the rule forbids a display to under-read, so does every
    way.

    Examples
    --------
    >>> from speedchain.document.installation import example_installation
    >>> fixed_readers(example_installation(), readouts=(), wheel_mm=1927.0, expanded_pct=1.0)
    ()
    """
    found = []
    for place, (readout, outcome) in enumerate(zip(installation.readouts, readouts, strict=False)):
        if readout.entry != "fixed":
            continue
        error_pct = outcome.in_use.error_pct
        wanted = outcome.set_pulses_per_km / outcome.delivered_per_km
        right = verdict_on(error_pct, expanded_pct) != "wrong"
        shows = text_of("{0} cannot be set: it shows {1}", readout.name, against_true(error_pct, 1))
        text = (
            text_of("{0}, within the uncertainty of ± {1:.1f} %.", shows, expanded_pct)
            if right
            else text_of("{0}.", shows)
        )
        ways = () if right else tuple(_ways(installation, wanted, wheel_mm))
        found.append(FixedReader(readout=place, error_pct=error_pct, text=text, ways=ways))
    return tuple(found)


def action_of_fixed(readout: ReadoutResult, found: FixedReader) -> str:
    """What to do with a reader that cannot be set, as the beginning of a sentence.

    Examples
    --------
    >>> from speedchain.readout import Readout, evaluate_readout
    >>> fixed = Readout(name="Unit", encoding="pulses_per_km", entry="fixed", current_setting=20000)
    >>> gauge = evaluate_readout(fixed, rule=None, pulses_per_km_at=lambda v: 20000, true_kmh=50)
    >>> action_of_fixed(gauge, FixedReader(readout=0, error_pct=0.0, text="", ways=()))
    'It cannot be set'
    """
    if not found.ways:
        return readout.action
    return text_of("It cannot be set: fit {0}", alternatives([way.short for way in found.ways[:2]]))


def alternatives(texts: list[str]) -> str:
    """One, or one or the other."""
    return text_of("{0}, or {1}", *texts) if len(texts) == 2 else texts[0]


def _ways(installation: Installation, wanted: float, wheel_mm: float) -> list[Way]:
    """The ways to multiply the pulses by `wanted`; none that under-reads where the rule forbids it."""
    ways = []
    rule = installation.rule
    count = installation.target.count
    exact = count * wanted
    teeth = max(round(exact), 1)
    if forbids(rule, 100 * (teeth / exact - 1)):
        teeth += 1
    left_pct = 100 * (teeth / exact - 1)
    name = "magnets" if installation.target.single else "teeth"
    if abs(left_pct) <= NEAR_PCT and teeth <= MOST_TEETH:
        ways.append(
            Way(
                code="ring",
                short=text_of("{0} {1}", teeth, name),
                text=text_of("A target of {0} {1} in place of {2}", teeth, name, count),
                error_pct=left_pct,
            )
        )
    drive = installation.drive
    if drive.cable is not None and drive.kind == "cable":
        wish = drive.cable.driven_teeth / wanted
        driven = max(round(wish), 1)
        if driven > 1 and forbids(rule, 100 * (wish / driven - 1)):
            driven -= 1
        if drive.cable.min_driven_teeth <= driven <= drive.cable.max_driven_teeth:
            left_pct = 100 * (drive.cable.driven_teeth / driven / wanted - 1)
            gear = text_of("a driven gear of {0} teeth", driven)
            ways.append(Way(code="gear", short=gear, text=recased(gear, upper=True), error_pct=left_pct))
    converter = installation.signal.converter
    limits = (converter.max_numerator, converter.max_denominator) if converter is not None else (255, 255)
    if 1 / limits[1] <= wanted <= limits[0]:
        ratio = best_ratio(wanted, *limits)
        ways.append(
            Way(
                code="converter",
                short=text_of("a converter {0}/{1}", ratio.numerator, ratio.denominator),
                text=text_of(
                    "A ratio converter set to {0}/{1}"
                    if converter is None
                    else "A ratio converter set to {0}/{1} more than now",
                    ratio.numerator,
                    ratio.denominator,
                ),
                error_pct=ratio.error_ppm / 10_000,
            )
        )
    tyre_mm = wheel_mm / wanted
    if 0.9 < wanted < 1.1 and installation.vehicle_kind != "boat":
        short = text_of("a tyre of {0:.0f} mm circumference", tyre_mm)
        text = text_of("A tyre of {0:.0f} mm circumference, {1:.0f} mm diameter", tyre_mm, tyre_mm / math.pi)
        ways.append(Way(code="tyre", short=short, text=text, error_pct=0.0))
    ways = [way for way in ways if not forbids(rule, way.error_pct)]
    return sorted(ways, key=lambda way: abs(way.error_pct) > 0.5)


def fixed_reader_rules(
    installation: Installation, found: tuple[FixedReader, ...], *, expanded_pct: float, pulses_per_turn: float
) -> Iterator[Finding]:
    """Findings about readers that take no number: fixed ones that are off, rides that taught nothing, counts that are
    not accepted."""
    for reader in found:
        if reader.ways:
            yield finding(
                FindingCode.FIXED_OFF,
                readout=installation.readouts[reader.readout].name,
                error_pct=reader.error_pct,
                expanded_pct=expanded_pct,
                way=text_of("{0} would leave {1:+.2f} %", reader.ways[0].text, reader.ways[0].error_pct),
            )
    for readout in installation.readouts:
        least, most = readout.least_pulses_per_turn, readout.most_pulses_per_turn
        if readout.entry == "counts" and not least <= pulses_per_turn <= most:
            yield finding(
                FindingCode.COUNT_NOT_ACCEPTED, readout=readout.name, least=least, most=most, pulses=pulses_per_turn
            )
        ride = readout.learning_ride
        if readout.entry == "learned" and ride is not None and ride.outcome == "refused":
            yield finding(FindingCode.NOT_LEARNED, readout=readout.name)
