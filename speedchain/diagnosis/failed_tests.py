"""Tests that failed: which stages they put in doubt until the same test passes, and what to do next."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import replace

from speedchain.document import Installation
from speedchain.fields import VERIFIES, Outcome, StageName, TestRecord, text_of
from speedchain.stages import Finding, FindingCode, Stage, finding

FOLLOWS: Mapping[tuple[str, Outcome], str] = {
    (
        "spin",
        "agreed",
    ): "Drive, target, sensor, signal and readout are verified. The circumference is not verified: the test "
    "turns the same wheel.",
    (
        "spin",
        "differed",
    ): "Wrong by a whole factor: check count, edges and setting. Wrong by a few per cent: the speed was not "
    "one turn per second; time ten turns. Unsteady: check air gap, connector and noise.",
    (
        "spin",
        "nothing",
    ): "Do the magnet test next: it separates a gap fault from a wiring fault. Check the minimum speed of the "
    "reader too.",
    ("magnet", "agreed"): "Sensor, wiring and reader work. The remaining cause is the air gap or the sensor position.",
    (
        "magnet",
        "differed",
    ): "Some speed is shown: sensor, wiring and reader work. Check the air gap and the sensor position. A "
    "difference of 20 % is normal by hand.",
    (
        "magnet",
        "nothing",
    ): "No signal. Check in this order: connector, wiring, supply and output of the sensor. Then replace the sensor.",
    ("bench", "agreed"): "Signal and readout are verified.",
    (
        "bench",
        "differed",
    ): "Check the setting, the converter ratio and the scale of the gauge. Then repeat the test card.",
    ("bench", "nothing"): "Check in this order: level of the generator, connector, wiring, input of the reader.",
}
"""What follows from the outcome of a test. Common practice."""
CODES = {
    "spin": FindingCode.SPIN_FAILED,
    "magnet": FindingCode.MAGNET_FAILED,
    "bench": FindingCode.BENCH_FAILED,
}


def failed_tests(installation: Installation) -> tuple[TestRecord, ...]:
    """The newest record of every test that did not pass, of each readout; a later pass of the same test clears it.

    A magnet passed by hand that shows some speed has done its work, whatever the speed.
    """
    newest = {(record.test, record.readout, record.stage): record for record in installation.test_records}
    return tuple([record for record in newest.values() if not _passed(record)])


def _passed(record: TestRecord) -> bool:
    return record.outcome == "agreed" or (record.test == "magnet" and record.outcome == "differed")


def failed_stages(failed: tuple[TestRecord, ...]) -> frozenset[StageName]:
    """Every stage that a failed test is about."""
    return frozenset(stage for record in failed for stage in _stages_of(record))


def _stages_of(record: TestRecord) -> tuple[StageName, ...]:
    if record.test == "sheet":
        return (record.stage,) if record.stage is not None else ()
    return VERIFIES[record.test]


def with_failures(stages: tuple[Stage, ...], failed: tuple[TestRecord, ...]) -> tuple[Stage, ...]:
    """The stages with those marked that a failed test is about: a failure outranks every other evidence."""
    doubtful = failed_stages(failed)
    if not doubtful:
        return stages
    return tuple([stage.failed() if stage.stage in doubtful else stage for stage in stages])


def failure_rules(installation: Installation, failed: tuple[TestRecord, ...]) -> Iterator[Finding]:
    """One finding for every test that failed."""
    for record in failed:
        if record.test == "sheet":
            said = finding(FindingCode.SIGNED_RED, date=record.on.isoformat(), note=record.note)
            yield replace(said, stage=record.stage or said.stage)
            continue
        name = installation.readouts[record.readout].name if record.readout < len(installation.readouts) else "Readout"
        outcome = "nothing shown"
        if record.outcome == "differed":
            outcome = "a different speed shown"
            if record.expected_kmh is not None and record.shown_kmh is not None:
                outcome = text_of("{0:g} km/h shown, {1:.3g} km/h expected", record.shown_kmh, record.expected_kmh)
        yield finding(
            CODES[record.test],
            readout=name,
            date=record.on.isoformat(),
            outcome=outcome,
            remedy=FOLLOWS[record.test, record.outcome],
        )
