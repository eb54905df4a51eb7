"""Commands on a document: a test recorded with what it verifies, and what a card advises entered."""

from __future__ import annotations

import math
from typing import Any, get_args
from unittest import TestCase

from speedchain import DocumentError, Installation, evaluate, read_installation
from speedchain.bench.records import MOST_RECORDS, apply_card, record_test, verify_stage
from speedchain.fields import VERIFIES, InputError, Outcome, TestRecord, Verification
from tests.core.test_arrival import CONVERTER, HALL
from tests.installations import CAR, document, installation

TWO = [
    {"name": "Dash", "encoding": "pulses_per_km", "current_setting": 24905},
    {"name": "Logger", "encoding": "pulses_per_km"},
]


def made(test: str = "spin", outcome: str = "agreed", **more: Any) -> TestRecord:
    return TestRecord.model_validate({"test": test, "on": "2026-05-02", "by": "fitter", "outcome": outcome} | more)


def recorded(known: Installation, record: TestRecord) -> Installation:
    return record_test(known, evaluate(known), record)


def verified(known: Installation) -> set[str]:
    stages = {name: getattr(known, name).verification for name in ("wheel", "drive", "target", "sensor", "signal")}
    readouts = {f"readout {place}": item.verification for place, item in enumerate(known.readouts)}
    return {name for name, found in (stages | readouts).items() if found is not None}


class Recording(TestCase):
    def test_one_that_agreed_verifies_what_such_a_test_can(self) -> None:
        known = installation(CAR, readouts=TWO)
        for test in ("magnet", "spin", "bench"):
            expected = {"readout 1" if stage == "readout" else stage for stage in VERIFIES[test]}
            after = recorded(known, made(test, readout=1, note="on stands"))
            self.assertEqual(verified(after), expected, test)
            self.assertEqual(after.test_records[-1].note, "on stands")
            self.assertEqual(evaluate(after).stages[0].evidence, evaluate(known).stages[0].evidence)

    def test_one_that_did_not_agree_is_recorded_and_verifies_nothing(self) -> None:
        known = installation(CAR)
        for outcome in set(get_args(Outcome)) - {"agreed"}:
            after = recorded(known, made(outcome=outcome))
            self.assertEqual((verified(after), len(after.test_records)), (set(), 1))
            self.assertIn("failed", {stage.evidence for stage in evaluate(after).stages})

    def test_everything_else_stays_as_it_was(self) -> None:
        known = installation(CAR, readouts=TWO, notes="Plug behind the seat.")
        after = recorded(known, made("bench"))
        changed = {name for name in type(known).model_fields if getattr(known, name) != getattr(after, name)}
        self.assertEqual(changed, {"test_records", "signal", "readouts"})
        self.assertEqual(after.readouts[1], known.readouts[1])
        self.assertEqual(known.test_records, ())

    def test_the_newest_sixty_are_kept(self) -> None:
        known = installation(CAR)
        for place in range(MOST_RECORDS + 2):
            known = recorded(known, made(outcome="differed", note=str(place)))
        self.assertEqual(len(known.test_records), MOST_RECORDS)
        self.assertEqual([known.test_records[0].note, known.test_records[-1].note], ["2", str(MOST_RECORDS + 1)])

    def test_a_readout_that_is_not_there(self) -> None:
        with self.assertRaises(InputError) as caught:
            recorded(installation(CAR), made(readout=3))
        (problem,) = caught.exception.problems
        self.assertEqual((problem.path, problem.limit), ("readout", "1 to 1"))
        self.assertIn("no readout 4", problem.message)


class WhatWasVerified(TestCase):
    """A test stands for the key figure that it saw: 48 teeth are verified, 46 are not."""

    def evidence(self, known: Installation) -> dict[str, str]:
        return {stage.stage: stage.evidence for stage in evaluate(known).stages}

    def changed(self, known: Installation, **changes: Any) -> Installation:
        return read_installation(document(known.model_dump(mode="json"), **changes))

    def test_a_changed_count_is_no_longer_verified_and_taken_back_it_is(self) -> None:
        known = recorded(installation(CAR, target__basis="counted"), made("spin"))
        self.assertEqual(self.evidence(known)["target"], "verified")
        other = self.changed(known, target__count=46)
        self.assertEqual(self.evidence(other)["target"], "measured")
        self.assertEqual(evaluate(other).stages[2].grounds, "counted; changed since the test of 2026-05-02")
        self.assertEqual(self.evidence(self.changed(other, target__count=48))["target"], "verified")

    def test_each_stage_for_itself(self) -> None:
        base = installation(
            CAR,
            wheel={"method": "entered", "entered": {"circumference_mm": 2000}},
            drive={"kind": "axle_ratio", "axle_ratio": {"ratio": 3.73, "basis": "label"}},
            readouts=[TWO[0]],
        )
        known = base
        for stage in ("wheel", "drive", "target", "readout"):
            road = Verification.model_validate({"test": "road", "on": "2026-05-02"})
            known = verify_stage(known, evaluate(known), road, stage=stage)  # type: ignore[arg-type]
        for stages, changes in (
            ({"wheel"}, {"wheel__entered__circumference_mm": 2010}),
            ({"drive", "readout"}, {"drive__axle_ratio__ratio": 4.1}),  # what a readout shows depends on both
            ({"target", "readout"}, {"target__edges": 2}),
            ({"readout"}, {"readouts__0__current_setting": 24000}),
        ):
            found = self.evidence(self.changed(known, **changes))
            self.assertEqual(
                {name for name in ("wheel", "drive", "target", "readout") if found[name] != "verified"}, stages
            )
            self.assertIn("changed since the test of 2026-05-02", str(evaluate(self.changed(known, **changes)).stages))

    def test_another_check_speed_of_a_soft_tyre_changes_nothing(self) -> None:
        soft = {"method": "entered", "entered": {"circumference_mm": 2000}, "corrections": {"growth_pct": 3}}
        road = Verification.model_validate({"test": "road", "on": "2026-05-02"})
        base = installation(CAR, wheel=soft, check_speed_kmh=200)
        known = verify_stage(base, evaluate(base), road, stage="wheel")
        self.assertEqual(self.evidence(self.changed(known, check_speed_kmh=60))["wheel"], "verified")
        worn = self.changed(known, wheel__measured={"tread_depth_mm": 6}, wheel__corrections__tread_now_mm=3)
        self.assertNotEqual(self.evidence(worn)["wheel"], "verified")

    def test_a_test_from_before_this_was_remembered_is_taken_at_its_word(self) -> None:
        old = installation(CAR, target__verification={"test": "spin", "on": "2026-05-02"}, target__count=46)
        self.assertEqual(self.evidence(old)["target"], "verified")

    def test_a_test_that_cannot_verify_the_stage(self) -> None:
        known = installation(CAR)
        with self.assertRaises(DocumentError) as caught:
            spin = Verification.model_validate({"test": "spin", "on": "2026-05-02"})
            verify_stage(known, evaluate(known), spin, stage="wheel")
        self.assertIn("cannot verify the wheel", str(caught.exception))


class ApplyingACard(TestCase):
    def card(self, scale: float) -> list[dict[str, float]]:
        return [{"speed_kmh": v, "read_kmh": scale * v} for v in (20, 40, 60, 80)]

    def test_a_reader_gets_the_setting_that_shows_the_true_speed(self) -> None:
        """It shows a tenth too much with 24 905: with a tenth more it is right."""
        known = installation(CAR, readouts=[TWO[0] | {"card": self.card(1.1)}])
        after = apply_card(known, evaluate(known), 0)
        self.assertEqual(after.readouts[0].current_setting, math.floor(24_905 * 1.1))  # never under-reads
        self.assertEqual(after.readouts[0].card, ())
        self.assertEqual(after.signal, known.signal)

    def test_a_gauge_behind_a_converter_gets_its_ratio(self) -> None:
        """The needle shows 0.9 of the expected speed: it wants more pulses, so the converter is set for those."""
        gauge = {"name": "Gauge", "encoding": "pulses_per_km", "current_setting": 16_000, "card": self.card(0.9)}
        known = installation(HALL, signal={"converter": CONVERTER}, readouts=[gauge])
        after = apply_card(known, evaluate(known), 0)
        assert after.signal.converter is not None
        self.assertAlmostEqual((after.signal.converter.target_pulses_per_km or 0) / (16_000 / 0.9), 1, places=3)
        self.assertEqual((after.signal.converter.setting, after.readouts[0].card), ((), ()))
        shown = evaluate(after).readouts[0]
        self.assertAlmostEqual(shown.delivered_per_km / (16_000 / 0.9), 1, places=3)

    def test_a_card_without_readings_advises_nothing(self) -> None:
        known = installation(CAR, readouts=TWO)
        with self.assertRaises(InputError) as caught:
            apply_card(known, evaluate(known), 1)
        self.assertEqual(caught.exception.problems[0].path, "readouts.1.card")
        with self.assertRaises(InputError):
            apply_card(known, evaluate(known), 2)
