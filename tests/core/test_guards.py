"""Limits and rules that stand in few places, each with its number said here: changed in the code, one of these fails."""

from __future__ import annotations

from datetime import UTC, datetime, timedelta
from datetime import date as Date
from typing import Any
from unittest import TestCase

import numpy as np

from speedchain.fields import InputError
from speedchain.jobs import Entry, JobSheet, SheetStep, before_signing, check_entry, records_of
from speedchain.runs.steady import parts_of
from speedchain.service import Due, due_state

TODAY = Date(2026, 11, 29)


class DueDates(TestCase):
    def state(self, days: int) -> str:
        return due_state(Due(on=TODAY + timedelta(days=days)), today=TODAY, km=None, hours=None)

    def test_today_is_soon_and_yesterday_is_overdue(self) -> None:
        self.assertEqual([self.state(days) for days in (-1, 0, 1)], ["overdue", "soon", "soon"])

    def test_fourteen_days_ahead_are_soon_and_fifteen_are_later(self) -> None:
        self.assertEqual([self.state(days) for days in (13, 14, 15)], ["soon", "soon", "later"])

    def test_a_twentieth_of_a_distance_ahead_is_soon(self) -> None:
        states = [due_state(Due(at_km=1000), today=TODAY, km=km, hours=None) for km in (949, 951, 999, 1000)]
        self.assertEqual(states, ["later", "soon", "soon", "overdue"])


class Steady(TestCase):
    def used_s(self, acceleration_m_s2: float) -> float:
        """How much of 60 s that speed up evenly is used."""
        time_s = np.arange(0, 60, 0.5)
        kmh = 50 + 3.6 * acceleration_m_s2 * time_s
        return sum(part.to_s - part.from_s for part in parts_of(time_s, kmh, kmh) if part.reason is None)

    def test_a_quarter_of_a_metre_per_second_squared_is_the_limit(self) -> None:
        self.assertGreater(self.used_s(0.24), 50)
        self.assertEqual(self.used_s(0.26), 0)


def step(**more: Any) -> SheetStep:
    plain: dict[str, Any] = {
        "code": "lift", "kind": "tick", "part": "", "text": "Lift the wheel.", "caution": "", "safety": False, "stop": "",
        "second": False, "measure": None, "unit": "", "seconds": 0,
    }  # fmt: skip
    return SheetStep(**(plain | more))


def entry(what: Any = "done", by: str = "builder", **more: Any) -> Entry:
    return Entry(
        key=f"key-{what}-{by}-{len(more)}", step="lift", what=what, by=by, at=datetime(2026, 5, 2, tzinfo=UTC), **more
    )


def sheet(one: SheetStep) -> JobSheet:
    return JobSheet(template="t", title="", needs="", steps=(one,))


class Sheets(TestCase):
    def test_a_safety_step_needs_its_caution_read(self) -> None:
        plan = sheet(step(safety=True, caution="Jack stands on firm ground."))
        with self.assertRaisesRegex(InputError, "caution is not acknowledged"):
            check_entry(plan, entry())
        self.assertEqual(check_entry(plan, entry(acknowledged=True)).code, "lift")

    def test_a_safety_step_is_skipped_with_a_reason_alone(self) -> None:
        plan = sheet(step(safety=True))
        with self.assertRaisesRegex(InputError, "only with a reason"):
            check_entry(plan, entry("skipped"))
        check_entry(plan, entry("skipped", reason="done on the other stand"))

    def test_nothing_is_signed_while_a_step_that_protects_people_is_open(self) -> None:
        plan = sheet(step(safety=True))
        self.assertEqual(len(before_signing(plan, records_of(plan, []))), 1)
        self.assertEqual(before_signing(plan, records_of(plan, [entry(acknowledged=True)])), ())

    def test_what_was_skipped_cannot_be_checked(self) -> None:
        plan = sheet(step(second=True))
        entries = [entry("skipped", reason="not fitted"), entry("checked", by="steward")]
        self.assertEqual(records_of(plan, entries)[0].checked_by, "")
        entries = [entry(), entry("checked", by="steward")]
        self.assertEqual(records_of(plan, entries)[0].checked_by, "steward")

    def test_a_check_does_not_outlive_what_it_checked(self) -> None:
        plan = sheet(step(second=True))
        entries = [entry(), entry("checked", by="steward"), entry("undone"), entry(by="tuner")]
        self.assertEqual(records_of(plan, entries)[0].checked_by, "")

    def test_two_devices_that_measured_differently_keep_both_until_one_is_chosen(self) -> None:
        plan = sheet(step(kind="measure", unit="mm"))
        first, second = entry(value="1.4 mm"), entry(by="tuner", value="1.6 mm")
        found = records_of(plan, [first, second])
        self.assertEqual([(one.value, one.by) for one in found[0].rivals], [("1.4 mm", "builder"), ("1.6 mm", "tuner")])
        (problem,) = before_signing(plan, found)
        self.assertIn("Several outcomes", problem.message)
        chosen = [first, second, entry("undone"), entry(by="steward", value="1.4 mm")]
        self.assertEqual((records_of(plan, chosen)[0].rivals, before_signing(plan, records_of(plan, chosen))), ((), ()))

    def test_the_same_outcome_twice_is_no_difference(self) -> None:
        plan = sheet(step(kind="measure", unit="mm"))
        self.assertEqual(records_of(plan, [entry(value="1.4"), entry(by="tuner", value="1.4 ")])[0].rivals, ())

    def test_an_answer_and_its_opposite_are_rivals(self) -> None:
        plan = sheet(step(kind="decide"))
        found = records_of(plan, [entry(answer=True), entry(by="tuner", answer=False)])
        self.assertEqual([one.value for one in found[0].rivals], ["yes", "no"])

    def test_a_value_has_one_unit(self) -> None:
        plan = sheet(step(kind="measure", unit="mm"))
        for typed, shown in (("1.4", ("1.4", "mm")), ("1.4 mm", ("1.4 mm", "")), ("0.06 in", ("0.06 in", ""))):
            (found,) = records_of(plan, [entry(value=typed)])
            self.assertEqual((found.value, found.unit), shown)
