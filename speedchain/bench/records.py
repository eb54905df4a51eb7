"""What is done with the outcome of a test: recorded with what it verifies, or what a card says entered."""

from __future__ import annotations

from typing import Any

from speedchain.bench.card import card_of
from speedchain.diagnosis import state_now
from speedchain.document import Installation, read_installation
from speedchain.evaluation import Evaluation
from speedchain.fields import VERIFIES, InputError, StageName, TestRecord, Verification, text_of
from speedchain.wheel import growth_factor

MOST_RECORDS = 60


def record_test(installation: Installation, evaluation: Evaluation, record: TestRecord) -> Installation:
    """The installation with a test in its records; one that agreed verifies the stages that such a test can.

    Of the readouts only the one that was looked at; of the records the newest sixty are kept.

    Raises
    ------
    `InputError` when there is no such readout.

    Examples
    --------
    >>> from speedchain.document.installation import example_installation
    >>> record = TestRecord(test="bench", on="2026-05-02", outcome="agreed")
    >>> from speedchain.evaluation import evaluate
    >>> after = record_test(example_installation(), evaluate(example_installation()), record)
    >>> after.signal.verification.test, after.readouts[0].verification.test, after.target.verification
    ('bench', 'bench', None)
    """
    _check_readout(installation, record.readout)
    document: dict[str, Any] = installation.model_dump(mode="json")
    dumped = record.model_dump(mode="json")
    document["test_records"] = [*document["test_records"], dumped][-MOST_RECORDS:]
    if record.outcome == "agreed" and record.test != "sheet":
        verification = Verification(test=record.test, on=record.on, by=record.by, note=record.note)
        for stage in VERIFIES[record.test]:
            _verify(document, installation, evaluation, verification, stage=stage, readout=record.readout)
    return read_installation(document)


def verify_stage(
    installation: Installation,
    evaluation: Evaluation,
    verification: Verification,
    *,
    stage: StageName | None = None,
    readout: int = 0,
) -> Installation:
    """The installation with one stage verified by a test, together with the key figure that it verified; without a
    stage, with all that such a test can verify.

    Raises
    ------
    `InputError` when there is no such readout, or such a test cannot verify the stage.

    Examples
    --------
    >>> from speedchain.document.installation import example_installation
    >>> from speedchain.evaluation import evaluate
    >>> known, count = example_installation(), Verification(test="second_count", on="2026-05-02")
    >>> verify_stage(known, evaluate(known), count, stage="target").target.verification.value
    48.0
    """
    _check_readout(installation, readout)
    document: dict[str, Any] = installation.model_dump(mode="json")
    for which in (stage,) if stage is not None else VERIFIES[verification.test]:
        _verify(document, installation, evaluation, verification, stage=which, readout=readout)
    return read_installation(document)


def _verify(
    document: dict[str, Any],
    installation: Installation,
    evaluation: Evaluation,
    verification: Verification,
    *,
    stage: StageName,
    readout: int,
) -> None:
    wheel, drive, target = evaluation.stages[:3]
    values: dict[StageName, float] = {
        "wheel": wheel.value / growth_factor(installation.wheel, installation.check_speed_kmh),
        "drive": drive.value,
        "target": target.value,
        "readout": evaluation.readouts[readout].in_use.value,
    }
    part = document["readouts"][readout] if stage == "readout" else document[stage]
    found_in = {"value": values.get(stage), "state": state_now(installation).model_dump(mode="json")}
    part["verification"] = verification.model_dump(mode="json") | found_in


def apply_card(installation: Installation, evaluation: Evaluation, readout: int) -> Installation:
    """The installation after what its test card advises was entered, and the card cleared for the next pass.

    A gauge behind a converter: what the gauge wants, with the best ratio for it. A reader: the setting.

    Raises
    ------
    `InputError` when there is no such readout, or its card advises nothing.

    Examples
    --------
    >>> from speedchain.document.installation import example_installation
    >>> from speedchain.evaluation import evaluate
    >>> known = example_installation()
    >>> read = [{"speed_kmh": v, "read_kmh": 1.1 * v} for v in (20, 40, 60, 80)]
    >>> dash = known.readouts[0].model_copy(update={"current_setting": 24905.0})
    >>> carded = read_installation(known.model_dump() | {"readouts": [dash.model_dump() | {"card": read}]})
    >>> apply_card(carded, evaluate(carded), 0).readouts[0].current_setting
    27395.0
    """
    _check_readout(installation, readout)
    advised = card_of(installation, evaluation, readout).next
    if advised is None:
        raise InputError(
            "The card has no readings to follow.",
            remedy="Enter at least two readings.",
            path=f"readouts.{readout}.card",
        )
    document: dict[str, Any] = installation.model_dump(mode="json")
    converter = document["signal"]["converter"]
    if advised.target_pulses_per_km is not None and converter is not None:
        converter["setting"] = []
        if advised.cable_turns_per_km is not None:
            converter["cable_turns_per_km"] = advised.cable_turns_per_km
        else:
            converter["target_pulses_per_km"] = advised.target_pulses_per_km
    document["readouts"][readout] |= {"current_setting": advised.number, "card": []}
    return read_installation(document)


def _check_readout(installation: Installation, readout: int) -> None:
    if readout >= len(installation.readouts):
        raise InputError(
            text_of("There is no readout {0}.", readout + 1),
            remedy="Choose one of those listed.",
            limit=text_of("1 to {0}", len(installation.readouts)),
            value=readout + 1,
            path="readout",
        )
