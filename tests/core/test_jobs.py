"""Job sheets: what is on them for which installation, what counts as done, and what must be in the way of signing."""

from __future__ import annotations

import io
import json
import re
from datetime import date, datetime
from pathlib import Path
from typing import Any
from unittest import TestCase

import pypdfium2
from pypdf import PdfReader

from speedchain.bench import record_test
from speedchain.document import Installation, read_installation
from speedchain.evaluation import evaluate
from speedchain.fields import DocumentError, InputError, said
from speedchain.fitted import fitted
from speedchain.jobs import (
    BY_CODE,
    TEMPLATES,
    Entry,
    JobSheet,
    OwnJob,
    OwnStep,
    before_signing,
    belongs,
    check_entry,
    check_job,
    draw_up,
    draw_up_own,
    offered,
    outcomes_of,
    own_template,
    records_of,
    said_of,
    setting_law,
    text_now,
    with_measured,
)
from speedchain.sheets.pdf import JobHeading, job_pdf, parts_to_make
from speedchain.wiring import wiring_sheet
from tests.installations import CAR, document, installation

DEMO = [file for file in sorted((Path(__file__).resolve().parents[2] / "demo").glob("*.json")) if file.stem != "world"]
AT = datetime(2026, 5, 2, 10, 0)
NUMBERS = iter(range(10_000))


def entry(step: str, what: str = "done", by: str = "mechanic", **changes: Any) -> Entry:
    return Entry(key=f"key-{next(NUMBERS):06d}", step=step, what=what, by=by, at=AT, **changes)  # type: ignore[arg-type]


def demo(name: str) -> Installation:
    file = next(file for file in DEMO if file.stem.startswith(name))
    return read_installation(json.loads(file.read_text("utf-8"))["first"])


def sheet_of(installation: Installation, template: str) -> JobSheet:
    return draw_up(installation, evaluate(installation), template)


def done(sheet: JobSheet) -> list[Entry]:
    """All steps done, by a mechanic, and checked by a steward."""
    made = []
    for step in sheet.steps:
        value = {"measure": "1", "torque": "100"}.get(step.kind, "")
        answer = True if step.kind == "decide" else None
        made.append(
            entry(step.code, value=value, unit="N·m" if step.kind == "torque" else "", answer=answer, acknowledged=True)
        )
        if step.second:
            made.append(entry(step.code, "checked", by="steward"))
    return made


class Sheets(TestCase):
    def setUp(self) -> None:
        self.car = read_installation(CAR)
        self.cycle, self.boat = (demo(name) for name in ("sandpiper", "grebe"))

    def test_every_job_of_every_demo_installation_can_be_drawn_up(self) -> None:
        drawn = set()
        for file in DEMO:
            installation = read_installation(json.loads(file.read_text("utf-8"))["first"])
            for offer in offered(installation, evaluate(installation)):
                sheet = sheet_of(installation, offer.template)
                drawn.add(offer.template)
                codes = [step.code for step in sheet.steps]
                self.assertEqual(len(codes), len(set(codes)), f"{offer.template}: a step twice")
                self.assertGreater(len(codes), 3)
                for step in sheet.steps:
                    self.assertNotIn("{", said(step.text), f"{offer.template}: {step.code}")
        self.assertGreaterEqual(len(drawn), 9, drawn)

    def test_the_issues_jobs_are_all_there_and_no_torque_is_ours(self) -> None:
        self.assertEqual(len(TEMPLATES), 20)
        for template in TEMPLATES:
            codes = [step.code for step in template.steps]
            self.assertEqual(len(codes), len(set(codes)), template.code)
            for step in template.steps:
                if step.kind == "torque":
                    self.assertIsNone(re.search(r"\d", step.text), step.text)
                if step.kind == "decide" and step.safety:
                    self.assertTrue(step.stop, f"{template.code}: {step.code} has no stop")

    def test_a_built_in_job_copied_and_changed(self) -> None:
        """Its steps keep measure, caution, law and expectation; words of ones own take its numbers; other braces
        stay."""
        base = sheet_of(self.car, "tyre_change")
        steps = [OwnStep(like=step.code) for step in BY_CODE["tyre_change"].steps]
        enter = [step.like for step in steps].index("enter_setting")
        steps[enter] = OwnStep(like="enter_setting", text="Type {setting} into {readout} {twice}.")
        job = OwnJob(like="tyre_change", title="Ours", steps=(OwnStep(text="Wash {it}"), *steps))
        copy = draw_up_own(7, job, self.car, evaluate(self.car))
        self.assertEqual([step.code for step in copy.steps], ["s1", *[step.code for step in base.steps]])
        for mine, theirs in zip(copy.steps[1:], base.steps, strict=True):
            same = ("kind", "caution", "safety", "stop", "second", "measure", "unit", "law", "expected", "agrees_with")
            self.assertEqual(
                [getattr(mine, name) for name in same], [getattr(theirs, name) for name in same], mine.code
            )
        typed = next(step for step in copy.steps if step.code == "enter_setting")
        rolled = 3 * evaluate(self.car).stages[0].value
        number = f"{evaluate(self.car).readouts[0].to_type.value:g}"
        self.assertEqual(text_now(typed, copy, {"roll": rolled}), f"Type {number} pulses per km into Dash {{twice}}.")
        self.assertEqual((copy.steps[0].text, copy.built_in), ("Wash {it}", "tyre_change"))
        boat = [offer.template for offer in offered(self.boat, evaluate(self.boat), [own_template(7, job)])]
        self.assertNotIn("own-7", boat)  # where the built-in job is not offered, its copy is not
        for wrong, path in (
            (OwnJob(like="gone", title="x", steps=(OwnStep(text="y"),)), "like"),
            (OwnJob(like="tyre_change", title="x", steps=(OwnStep(like="gone"),)), "steps.0.like"),
            (OwnJob(title="x", steps=(OwnStep(like="roll"),)), "steps.0.like"),
        ):
            with self.assertRaises(InputError) as caught:
                check_job(wrong)
            self.assertEqual(caught.exception.problems[0].path, path)
        with self.assertRaises(ValueError):
            OwnJob(like="tyre_change", title="x", steps=(OwnStep(like="roll"), OwnStep(like="roll")))

    def test_the_settings_card_restores_a_display(self) -> None:
        kept = [{"name": "Unit", "set_to": "km/h"}, {"name": "Alarm", "set_to": "120"}]
        cycle = self.cycle.model_dump(mode="json")
        cycle["readouts"][0] |= {"other_settings": kept, "figure_from": "Bus"}
        known = read_installation(cycle)
        sheet = sheet_of(known, "battery_change")
        again = next(step for step in sheet.steps if step.code == "units_again")
        self.assertIn("Settings card: Unit: km/h; Alarm: 120.", again.text)
        bare = next(step for step in sheet_of(self.cycle, "battery_change").steps if step.code == "units_again")
        self.assertIn("none kept yet", bare.text)
        asked = {row.asked: row.answer for row in wiring_sheet(known, evaluate(known)).order}
        name = known.readouts[0].name
        self.assertEqual(asked["Where the display has its figure from"], f"{name}: Bus")

    def test_what_an_installation_waits_for_is_offered_first(self) -> None:
        def first(known: Installation) -> list[str]:
            return [offer.template for offer in offered(known, evaluate(known)) if offer.fits]

        fresh = installation(CAR)
        self.assertEqual(first(fresh), ["new_installation"])
        set_up = installation(CAR, readouts__0__current_setting=24905)
        self.assertEqual(first(set_up), [])
        learning = installation(CAR, readouts__0__entry="learned", readouts__0__current_setting=None)
        self.assertIn("learning_ride", first(learning))
        self.assertEqual(
            {stage for offer in offered(fresh, evaluate(fresh)) if (stage := offer.stage)},
            {"wheel", "target", "sensor", "signal", "readout"},
        )

    def test_only_what_applies(self) -> None:
        jobs = {
            name: [offer.template for offer in offered(item, evaluate(item))]
            for name, item in (("car", self.car), ("boat", self.boat))
        }
        self.assertIn("tyre_change", jobs["car"])
        self.assertNotIn("water_check", jobs["car"])
        self.assertIn("water_check", jobs["boat"])
        self.assertNotIn("tyre_change", jobs["boat"])
        with self.assertRaises(InputError) as caught:
            sheet_of(self.boat, "tyre_change")
        self.assertEqual(caught.exception.problems[0].path, "template")
        self.assertIn("spokes", fitted(self.cycle))
        whimbrel = sheet_of(demo("whimbrel"), "tyre_change")
        self.assertNotIn("torque_wheel", [step.code for step in whimbrel.steps])

    def test_hazards_come_first_and_the_spin_test_before_the_torque(self) -> None:
        magnet = document(
            CAR, target={"kind": "magnets", "count": 5, "magnets": {"mounted": "rotor"}}, sensor={"kind": "hall_switch"}
        )
        codes = [step.code for step in sheet_of(read_installation(magnet), "rotor_bolt_magnet").steps]
        order = [
            "safe_ground",
            "lift",
            "cold",
            "bolts",
            "clearance",
            "spin_test",
            "spin_agrees",
            "torque_bolts",
            "torque_wheel",
        ]
        places = [codes.index(code) for code in order]
        self.assertEqual(places, sorted(places))

    def test_its_numbers_are_those_of_the_installation(self) -> None:
        evaluation = evaluate(self.car)
        text = {step.code: said(step.text) for step in draw_up(self.car, evaluation, "new_installation").steps}
        self.assertIn(evaluation.readouts[0].to_type.text, text["enter_setting"])
        self.assertIn(f"{self.car.target.count} per turn", text["count"])
        metres = evaluation.stages[0].value / 1000
        self.assertIn(f"{3.6 * metres:.1f}", text["spin_test"])  # a turn a second

    def test_brake_control_asks_for_equal_counts_and_a_second_person(self) -> None:
        brakes = read_installation(document(CAR, purpose="brake_control"))
        sheet = sheet_of(brakes, "brake_control_swap")
        safety = {step.code for step in sheet.steps if step.safety}
        self.assertTrue({"competent", "count_fr", "count_rr", "sizes", "bled", "computer"} <= safety)
        self.assertTrue(all(step.second for step in sheet.steps if step.code in ("competent", "bled", "torque_hubs")))


class Doing(TestCase):
    def setUp(self) -> None:
        self.car = read_installation(CAR)
        self.sheet = sheet_of(self.car, "tyre_change")

    def problem(self, made: Entry) -> str:
        with self.assertRaises(InputError) as caught:
            check_entry(self.sheet, made)
        return caught.exception.problems[0].path

    def test_all_done_and_checked_can_be_signed(self) -> None:
        entries = done(self.sheet)
        for made in entries:
            check_entry(self.sheet, made)
        self.assertEqual(before_signing(self.sheet, records_of(self.sheet, entries)), ())

    def test_what_is_missing_stands_in_the_way(self) -> None:
        entries = done(self.sheet)
        for left, remedy in (
            (("lift", "done"), "skip it with a written reason"),
            (("torque_wheel", "checked"), "second person"),
        ):
            without = [made for made in entries if (made.step, made.what) != left]
            (found,) = before_signing(self.sheet, records_of(self.sheet, without))
            self.assertEqual(found.path, left[0])
            self.assertIn(remedy, found.remedy)

    def test_a_step_that_only_helps_may_stay_open(self) -> None:
        entries = [made for made in done(self.sheet) if made.step != "photo_after"]
        self.assertEqual(before_signing(self.sheet, records_of(self.sheet, entries)), ())

    def test_a_check_answered_with_no_stops(self) -> None:
        entries = [*done(self.sheet), entry("brakes_work", answer=False, acknowledged=True)]
        (found,) = before_signing(self.sheet, records_of(self.sheet, entries))
        self.assertIn("competent person", found.remedy)
        entries.append(entry("brakes_work", answer=True, acknowledged=True))
        self.assertEqual(before_signing(self.sheet, records_of(self.sheet, entries)), ())

    def test_entries_that_cannot_be_taken_name_their_field(self) -> None:
        self.assertEqual(self.problem(entry("gone")), "step")
        self.assertEqual(self.problem(entry("marking", by=" ")), "by")
        self.assertEqual(self.problem(entry("lift", "skipped")), "reason")
        self.assertEqual(self.problem(entry("lift", answer=True)), "acknowledged")
        self.assertEqual(self.problem(entry("direction", acknowledged=True)), "answer")
        self.assertEqual(self.problem(entry("tread")), "value")
        self.assertEqual(self.problem(entry("torque_wheel", value="100", unit="bar")), "unit")
        self.assertEqual(self.problem(entry("torque_wheel", value="tight", unit="N·m")), "value")
        check_entry(self.sheet, entry("lift", "skipped", reason="done on the pit"))

    def test_taken_back_it_is_open_and_its_check_is_gone(self) -> None:
        entries = [*done(self.sheet), entry("torque_wheel", "undone")]
        record = next(item for item in records_of(self.sheet, entries) if item.code == "torque_wheel")
        self.assertEqual((record.state, record.checked_by), ("open", ""))

    def test_the_order_is_that_of_coming_whatever_the_clocks_say(self) -> None:
        late, early = datetime(2031, 1, 1), datetime(1999, 1, 1)
        first = entry("tread", value="3").model_copy(update={"at": late})
        second = entry("tread", value="5").model_copy(update={"at": early})
        record = next(item for item in records_of(self.sheet, [first, second]) if item.code == "tread")
        self.assertEqual(record.value, "5")

    def test_what_was_measured_goes_into_the_document(self) -> None:
        step = next(item for item in self.sheet.steps if item.measure == "setting")
        made = entry(step.code, value="23000")
        self.assertTrue(belongs(step, made, self.car))
        after = with_measured(self.car, evaluate(self.car), step, made, on=date(2026, 5, 2))
        self.assertEqual(after.readouts[0].current_setting, 23000)
        with self.assertRaises(DocumentError):
            with_measured(self.car, evaluate(self.car), step, entry(step.code, value="a lot"), on=date(2026, 5, 2))
        new = sheet_of(self.car, "new_installation")
        spin = next(item for item in new.steps if item.code == "spin_agrees")
        proved = with_measured(
            self.car, evaluate(self.car), spin, entry("spin_agrees", answer=True), on=date(2026, 5, 2)
        )
        self.assertEqual(proved.sensor.verification.test if proved.sensor.verification else None, "spin")
        failed = with_measured(
            self.car, evaluate(self.car), spin, entry("spin_agrees", answer=False), on=date(2026, 5, 2)
        )
        self.assertEqual(failed.test_records[-1].outcome, "differed")

    def test_a_ring_and_a_bracket_follow_at_full_size(self) -> None:
        """Read back by pypdfium2: the ring's diameter on paper, 1 pt = 25.4/72 mm (PDF 32000-1, 8.3.2.3)."""
        drawn = document(
            CAR, target__ring={"diameter_mm": 98}, target__cut={}, placement={"air_gap_mm": 0.9, "bracket": {}}
        )
        parts = parts_to_make(read_installation(drawn))
        self.assertEqual(len(parts), 2)
        self.assertEqual(parts_to_make(self.car), ())
        self.assertEqual(parts_to_make(read_installation(document(CAR, target__cut={"bore_mm": 300}))), ())
        heading = JobHeading(
            vehicle="Dotterel", installation="Dash", revision=3, signed_on=None, signed_by="", remark=""
        )
        words = [""] * len(self.sheet.steps)
        plain = len(PdfReader(io.BytesIO(job_pdf(self.sheet, words, heading))).pages)
        pages = pypdfium2.PdfDocument(job_pdf(self.sheet, words, heading, parts))
        self.assertEqual(len(pages), plain + 2)
        ring = pages[plain]
        self.assertIn("100 mm", ring.get_textpage().get_text_range())
        self.assertAlmostEqual(ring.get_width() * 25.4 / 72, 210, delta=0.5)
        mm = 4 * 72 / 25.4  # pixels
        below_the_head = ring.render(scale=4, grayscale=True).to_numpy()[round(56 * mm) :]
        dark = (below_the_head < 128).any(axis=0).nonzero()[0]
        self.assertAlmostEqual((dark[-1] - dark[0]) / mm, 98, delta=0.6)

    def test_on_paper(self) -> None:
        entries = done(self.sheet)[:4]
        records = records_of(self.sheet, entries)
        words = [said_of(step, item) for step, item in zip(self.sheet.steps, records, strict=True)]
        heading = JobHeading(
            vehicle="Dotterel", installation="Dash", revision=3, signed_on=None, signed_by="", remark=""
        )
        text = "".join(page.extract_text() for page in PdfReader(io.BytesIO(job_pdf(self.sheet, words, heading))).pages)
        for said_there in (
            "Change of the tyre",
            "Vehicle: Dotterel",
            "mechanic",
            "[ ] yes",
            "Caution:",
            "Signed by: ___",
        ):
            self.assertIn(said_there, re.sub(r"\s+", " ", text))


class Computed(TestCase):
    """A step's number follows from the steps before it."""

    def sheet(self, known: Installation, job: str = "new_installation") -> JobSheet:
        return draw_up(known, evaluate(known), job)

    def entries(self, **values: str) -> list[Entry]:
        at = datetime(2026, 5, 2)
        return [
            Entry(key=f"key-{step.replace('_', '-')}-x", step=step, what="done", value=value, by="fitter", at=at)
            for step, value in values.items()
        ]

    def test_the_law_is_what_evaluate_says(self) -> None:
        """Of each kind of setting, for measured values that the law was not made from."""
        for changes in (
            {},
            {"readouts__0__encoding": "circumference_mm"},
            {"readouts__0__encoding": "circumference_mm", "readouts__0__set_pulses_per_turn": 48},
            {"readouts__0__encoding": "pulses_per_mile", "speedometer_rule": "none"},
            {"drive": {"kind": "axle_ratio", "axle_ratio": {"ratio": 3.73}}},
        ):
            with self.subTest(changes):
                known = installation(CAR, **changes)
                inputs: list[tuple[str, Any]] = [("roll", "roll_out"), ("count", "count")]
                if "drive" in changes:
                    inputs.append(("turns", "shaft_turns"))
                law = setting_law(known, tuple(inputs))
                assert law is not None
                for roll, count, turns in ((5700.0, 46, 35.5), (6123.0, 50, 41.0)):
                    values = {"roll": roll, "count": float(count), "turns": turns}
                    document = known.model_dump(mode="json")
                    document["wheel"] |= {"method": "roll_out", "roll_out": {"turns": 3, "distance_mm": roll}}
                    document["target"] |= {"count": count, "basis": "counted"}
                    if "drive" in changes:
                        counted = {"basis": "counted", "wheel_turns": 10, "shaft_turns": turns}
                        document["drive"]["axle_ratio"] = counted
                    asked = evaluate(Installation.model_validate(document)).readouts[0]
                    self.assertEqual(law.number(values), asked.to_type.value)

    def test_where_it_is_no_product_of_powers_there_is_no_law(self) -> None:
        percent = {"readouts__0__encoding": "percent_correction", "readouts__0__base_pulses_per_km": 24_000}
        learned = {"readouts__0__entry": "learned"}
        for changes in (percent, learned):
            self.assertIsNone(setting_law(installation(CAR, **changes), (("roll", "roll_out"),)))

    def test_the_setting_waits_for_what_it_hangs_on_and_then_says_it(self) -> None:
        """5700 mm for three turns: 48 × 10⁶/1900 = 25 263.2 pulses per km, rounded down."""
        sheet = self.sheet(installation(CAR))
        step = next(item for item in sheet.steps if item.code == "enter_setting")
        roll = [item.code for item in sheet.steps].index("roll") + 1
        self.assertIn(f"after step {max(roll, 10)}" if roll > 10 else "after step", text_now(step, sheet, {}))
        self.assertIn("25263", text_now(step, sheet, {"roll": 5700.0, "count": 48.0}))

    def test_the_setting_goes_in_before_the_test_that_needs_it(self) -> None:
        for job in ("new_installation", "ring_swap"):
            codes = [item.code for item in self.sheet(installation(CAR), job).steps]
            self.assertLess(codes.index("enter_setting"), codes.index("spin_test"))
            self.assertLess(codes.index("count"), codes.index("enter_setting"))

    def test_a_value_that_is_not_as_expected_is_red_and_in_the_way_until_a_reason_is_given(self) -> None:
        sheet = self.sheet(installation(CAR))
        entries = self.entries(roll="5700", count="48", read_back="25363", spin_test="12 km/h")
        records = {item.code: item for item in records_of(sheet, entries)}
        self.assertIn("25263", records["read_back"].red)
        self.assertIn("read it back", records["read_back"].red)
        self.assertTrue(records["spin_test"].red)
        self.assertEqual(records["roll"].red, "")  # 1.4 % from what the marking says
        problems = {item.path for item in before_signing(sheet, tuple(records.values()))}
        self.assertTrue({"read_back", "spin_test"} <= problems)
        kept = [item.model_copy(update={"reason": "the display rounds"}) for item in entries]
        problems = {item.path for item in before_signing(sheet, records_of(sheet, kept))}
        self.assertFalse({"read_back", "spin_test"} & problems)
        right = {
            item.code: item for item in records_of(sheet, self.entries(roll="5.7 m", count="48", read_back="25263"))
        }
        self.assertEqual((right["read_back"].red, right["roll"].number), ("", 5700.0))

    def test_a_miscounted_roll_out_is_red(self) -> None:
        """Four turns in place of three: a third more."""
        sheet = self.sheet(installation(CAR))
        records = {item.code: item for item in records_of(sheet, self.entries(roll="7708 mm"))}
        self.assertIn("Count the turns", records["roll"].red)

    def test_yes_against_what_was_written_down_is_red(self) -> None:
        sheet = self.sheet(installation(CAR))
        yes = Entry(key="key-agrees-1", step="spin_agrees", what="done", answer=True, by="x", at=datetime(2026, 5, 2))
        for shown, red in (("12", True), ("6.9", False)):
            records = {item.code: item for item in records_of(sheet, [*self.entries(spin_test=shown), yes])}
            self.assertEqual(records["spin_agrees"].red != "", red)

    def test_signing_with_a_red_value_leaves_its_stage_failed(self) -> None:
        known = installation(CAR)
        sheet = self.sheet(known)
        records = records_of(sheet, self.entries(roll="5700", count="48", read_back="25363"))
        outcomes = outcomes_of(sheet, records, by="fitter", on=date(2026, 5, 2))
        self.assertEqual(
            {item.stage: item.outcome for item in outcomes if item.outcome != "agreed"}, {"readout": "differed"}
        )
        for item in outcomes:
            known = record_test(known, evaluate(known), item)
        found = evaluate(known)
        self.assertEqual(found.stages[5].evidence, "failed")
        self.assertIn("test.signed_red", [item.code for item in found.findings])
        again = outcomes_of(
            sheet,
            records_of(sheet, self.entries(roll="5700", count="48", read_back="25263")),
            by="x",
            on=date(2026, 5, 3),
        )
        for item in again:
            known = record_test(known, evaluate(known), item)
        self.assertNotEqual(evaluate(known).stages[5].evidence, "failed")
