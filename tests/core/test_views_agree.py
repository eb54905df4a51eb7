"""No two views disagree: every quantity that several of them show is the same in each, over installations of every
kind.

The views are asked for what they print, and compared with each other; none is computed anew here.
"""

from __future__ import annotations

import io
import re
from collections.abc import Iterator
from datetime import date
from typing import ClassVar
from unittest import TestCase

import numpy as np
from pypdf import PdfReader

from speedchain import Evaluation, Installation, evaluate
from speedchain.bench.card import card_of
from speedchain.bench.hand_tests import magnet_test, spin_test
from speedchain.bench.moment import Moment, bench_moment
from speedchain.bench.profile import Profile
from speedchain.faults import show_on_bench
from speedchain.jobs import draw_up, numbers_of, offered, text_now
from speedchain.placement.view import view_placement
from speedchain.runs import Channel, CheckWanted, Recording, prove
from speedchain.sheets.pdf import JobHeading, job_pdf, trailer_pdf, wiring_pdf
from speedchain.sheets.tag import tag_lines
from speedchain.target.model import SpokeWheel
from speedchain.target.spokes import chosen_spokes, plan_spokes, spacing_of_deg
from speedchain.vehicle.pulse_change import pulse_change_tasks
from speedchain.vehicle.sheet import SheetSettings, vehicle_sheet
from speedchain.vehicle.trailer import trailer_card
from speedchain.vehicle.tyre_change import NewTyre, change_tyre
from speedchain.views.over_speed import over_speed
from speedchain.views.readings import Readings, diagnose
from speedchain.wiring import wiring_sheet
from tests.archetypes import archetypes
from tests.installations import CAR, CYCLE, installation
from tests.sizes import sized

ENTERS = re.compile(r"\bEnter [\d.]")
NO_SIGNAL = {"target.not_ferrous", "sensor.blind"}
RANGE = re.compile(r"([\d.]+) to ([\d.]+)\s*mm")


class Agree(TestCase):
    evaluated: ClassVar[tuple[tuple[str, Installation, Evaluation], ...]]

    @classmethod
    def setUpClass(cls) -> None:
        super().setUpClass()
        cls.evaluated = tuple([(name, known, evaluate(known)) for name, known in archetypes()])

    def every(self, step: int = 1) -> Iterator[tuple[Installation, Evaluation]]:
        self.assertEqual(len(self.evaluated), 192)  # 12 vehicles, 8 readers, twice
        for name, known, found in self.evaluated[::step]:
            with self.subTest(name):
                yield known, found

    def test_shown_speed(self) -> None:
        """Evaluation, readout table, over speed, vehicle sheet, bench: the needle past the end of its scale stands
        there."""
        for known, found in self.every():
            readout, speed = found.readouts[0], known.check_speed_kmh
            end = known.readouts[0].scale_end_kmh or float("inf")
            self.assertAlmostEqual(found.shown.shown_kmh, readout.in_use.shown_kmh)
            self.assertAlmostEqual(readout.residuals[0].shown_kmh, readout.in_use.shown_kmh, places=6)
            over = over_speed(known, found)
            if speed <= max(over.true_kmh):
                at = float(np.interp(speed, over.true_kmh, over.shown_kmh))
                self.assertAlmostEqual(at, min(readout.in_use.shown_kmh, end), delta=0.005 * speed + 0.05)
            sheet = vehicle_sheet(((1, known),), SheetSettings(speed_kmh=speed))
            self.assertAlmostEqual(sheet.rows[0].displays[0].shown_kmh, readout.in_use.shown_kmh, places=6)
            self.assertAlmostEqual(
                sheet.rows[0].expanded_uncertainty_pct, found.shown.expanded_uncertainty_pct, places=6
            )
            self.assertAlmostEqual(sheet.rows[0].circumference_mm, found.stages[0].value)

    def test_a_sensor_that_gets_no_signal_gets_none_anywhere(self) -> None:
        """Aluminium before a coil, a tooth before a reed: bench, spin test, placement; a coil answers no hand, steel
        moves no reed."""
        for known, found in self.every():
            speed = known.check_speed_kmh
            frame = bench_moment(known, found, Moment(profile=Profile.swept(speed, speed, 30), now_s=20))
            blind = NO_SIGNAL & {str(item.code) for item in found.findings}
            spin, magnet = spin_test(known, found), magnet_test(known, found)
            if blind:
                self.assertEqual((frame.counted, spin.predictions[0].shown_kmh), (0, 0.0))
                self.assertFalse(found.placement_detail.enough)
            elif not any(item.severity == "blocking" and item.stage in ("sensor", "signal") for item in found.findings):
                step = max(known.readouts[0].display_step_kmh, 1.0)
                end = known.readouts[0].scale_end_kmh or float("inf")
                wanted = min(found.readouts[0].in_use.shown_kmh, end)
                self.assertAlmostEqual(frame.readers[0].shown_kmh, wanted, delta=0.02 * wanted + step)
            if known.sensor.kind == "variable_reluctance":
                self.assertEqual(magnet.predictions[0].shown_kmh, 0.0)
            if known.sensor.kind == "reed":
                self.assertNotIn("screwdriver", " ".join(magnet.steps))

    def test_permitted_gap(self) -> None:
        """Placement, its findings, sheets and tag: the same two numbers, neither beyond what is permitted."""
        for known, found in self.every():
            detail = found.placement_detail
            assert known.placement is not None
            seen = view_placement(known.target, known.sensor, known.placement, 0.05).detail
            self.assertEqual((seen.lowest_gap_mm, seen.highest_gap_mm), (detail.lowest_gap_mm, detail.highest_gap_mm))
            said = RANGE.search(str(numbers_of(known, found)["gap"]))
            if said is None:
                continue
            low, high = float(said[1]), float(said[2])
            self.assertTrue(detail.lowest_gap_mm <= low < high <= detail.highest_gap_mm, (said[0], detail))
            for item in found.findings:
                told = RANGE.search(item.remedy)
                if told and "gap" in item.remedy.lower():
                    self.assertEqual((float(told[1]), float(told[2])), (low, high), item.remedy)
            tag = tag_lines(known, found, "sensor", vehicle="V", revision=1, on=date(2026, 5, 2))
            self.assertTrue(any(said[0] in line for line in tag), tag)

    def test_setting(self) -> None:
        """Readout, next action, findings, sheets with their laws, tag, trailer card, tyre change, order sheet."""
        for known, found in self.every():
            readout = found.readouts[0]
            typed = readout.entry == "typed" and not readout.table
            tag = tag_lines(known, found, "dash", vehicle="V", revision=1, on=date(2026, 5, 2))
            self.assertTrue(any((readout.to_type.text if typed else readout.action) in line for line in tag), tag)
            said = [found.next_action.action, *(f"{item.message} {item.remedy}" for item in found.findings)]
            if known.vehicle_kind != "boat":
                said += [item.text for item in change_tyre(known, NewTyre(marking="28-622")).tasks]
            if readout.entry != "typed":
                self.assertFalse([text for text in said if ENTERS.search(text)])
            if typed and not found.known.observed:
                self.assertIn(readout.to_type.text, trailer_card([known])[0].now)
            order = {str(item.asked): str(item.answer) for item in wiring_sheet(known, found).order}
            self.assertEqual(order["Pulses per km"], f"{found.pulses_per_km:.0f}")

    def test_sheets(self) -> None:
        """The number of every sheet is the page's; what is measured as it was known gives the same again."""
        for known, found in self.every(sized(1, 5)):
            readout = found.readouts[0]
            spin = spin_test(known, found).predictions[0]
            values = {"count": float(known.target.count), "turns": 10 * found.stages[1].value}
            values |= {"roll": 3 * found.stages[0].value, "count_one": float(known.target.count)}
            for offer in offered(known, found):
                sheet = draw_up(known, found, offer.template)
                for step in sheet.steps:
                    text = str(step.text)
                    self.assertNotRegex(text, r"mm mm|km/h km/h|kn kn")
                    if step.code == "enter_setting":
                        self.assertIn(readout.to_type.text, text)
                        if step.law is not None:
                            number = step.law.number(values)
                            assert number is not None
                            self.assertAlmostEqual(number, readout.to_type.value, delta=step.law.step * 1.01)
                            self.assertIn(f"{number:.10g}", text_now(step, sheet, values))
                    if step.code == "spin_test" and step.expected is not None:
                        assert step.expected.low is not None
                        assert step.expected.high is not None
                        self.assertTrue(step.expected.low <= spin.shown_kmh <= step.expected.high)
                    if readout.entry != "typed":
                        self.assertNotIn(step.code, ("enter_setting", "read_back", "note_setting"))

    def test_blocked(self) -> None:
        """What blocks stands first everywhere; a legal verdict never prints a number beside an equal limit."""
        for _, found in self.every():
            blocking = [item.code for item in found.findings if item.severity == "blocking"]
            if blocking:
                self.assertIn(found.next_action.code, blocking)
            for item in found.findings:
                told = re.search(r"(\d[\d.]*) too much; ([\d.]+) permitted", f"{item.message} {item.remedy}")
                if told:
                    self.assertGreater(float(told[1]), float(told[2]))

    def test_pull_up(self) -> None:
        """Signal, finding, wiring sheet: the same words."""
        seen = 0
        for known, found in self.every():
            fit = str(found.signal_detail.arriving.pull_up_to_fit)
            missing = [item for item in found.findings if str(item.code) == "signal.no_pull_up"]
            if missing:
                seen += 1
                self.assertIn(fit, missing[0].remedy)
                self.assertTrue(any(fit in row.with_it for row in wiring_sheet(known, found).wires), fit)
        self.assertGreater(seen, 3)

    def test_lowest_speed(self) -> None:
        """Readout and over speed; below it the bench shows nothing."""
        for known, found in self.every():
            lowest = found.readouts[0].timing.min_speed_kmh
            self.assertEqual(over_speed(known, found).min_speed_kmh, lowest)
            slow = [item for item in found.findings if str(item.code) == "readout.too_slow"]
            self.assertEqual(bool(slow), lowest > known.check_speed_kmh)

    def test_fault_finder(self) -> None:
        """A cause that halves the pulses shows what the page says at half the speed, with what is set and to the end of
        the scale; one that stops them shows nothing."""
        seen = 0
        for known, found in self.every():
            for cause, share in (("edges_half", 0.5), ("edges_double", 2.0)):
                shown = show_on_bench(cause, known)
                if shown.unsteady or shown.shown_kmh == 0:
                    continue
                page = over_speed(known, found, max_speed_kmh=50.0 * share).shown_kmh[-1]
                self.assertAlmostEqual(shown.shown_kmh, page, delta=0.03 * page + 0.1)
                seen += 1
            self.assertEqual(show_on_bench("signal_open", known).shown_kmh, 0)
        self.assertGreater(seen, 100)

    def test_card_readings_and_a_change_of_the_count(self) -> None:
        """The test card expects what the page shows over speed; readings that are the page's own find the page's error;
        a change of the count asks for the number that the page then asks for."""
        asked = 0
        for known, found in self.every():
            readout = found.readouts[0]
            card = [row for row in card_of(known, found).rows if row.true_kmh >= readout.timing.min_speed_kmh]
            for row in card:
                page = over_speed(known, found, max_speed_kmh=row.true_kmh).shown_kmh[-1]
                self.assertAlmostEqual(row.expected_kmh, page, delta=0.002 * page + 0.02)
            pairs = [{"true_kmh": row.true_kmh, "shown_kmh": row.expected_kmh} for row in card if row.expected_kmh > 0]
            if len(pairs) > 2 and not readout.table and known.readouts[0].scale_end_kmh is None:
                read = diagnose(known, found, Readings.model_validate({"pairs": pairs[:12]}))
                self.assertAlmostEqual(100 * (read.ratio - 1), readout.in_use.error_pct, delta=0.5)
            more = known.model_copy(
                update={"target": known.target.model_copy(update={"count": known.target.count * 2})}
            )
            for task in pulse_change_tasks(known, more) or ():
                if task.stage == "readout" and ENTERS.search(task.text) and readout.entry == "typed":
                    self.assertIn(evaluate(more).readouts[0].to_type.text, task.text)
                    asked += 1
        self.assertGreater(asked, 10)

    def test_converter(self) -> None:
        """Signal, its stages and the test card convert by one ratio, and the number to enter is that of what leaves
        it."""
        for up, down in ((1, 2), (5, 12), (9, 4)):
            converter = {"target_pulses_per_km": 4000, "setting": [{"numerator": up, "denominator": down}]}
            known = installation(CAR, signal={"converter": converter})
            found = evaluate(known)
            conversion = found.signal_detail.conversion
            assert conversion is not None
            self.assertAlmostEqual(conversion.ratio, up / down)
            self.assertEqual([(stage.numerator, stage.denominator) for stage in conversion.stages], [(up, down)])
            for row in card_of(known, found).rows:
                self.assertAlmostEqual(row.out_hz / row.in_hz, up / down)
            self.assertAlmostEqual(
                found.readouts[0].exact, found.pulses_per_km * up / down, delta=1e-6 * found.pulses_per_km
            )

    def test_spoke_numbers(self) -> None:
        """Planner, drawing and sheet number the spokes of the sensor's side, and say so in the same words."""
        for holes, count in ((28, 2), (32, 4), (36, 3)):
            wheel = SpokeWheel(holes=holes)
            best = plan_spokes(wheel, count, 120.0).sets[0]
            target = {"kind": "magnets", "count": count, "magnets": {"radius_mm": 120, "mounted": "spokes"},
                "spokes": {"holes": holes, "chosen": list(best.spokes)}}  # fmt: skip
            known = installation(CYCLE, target=target)
            drawn = chosen_spokes(known.target)
            self.assertEqual([spoke.number for spoke in drawn], sorted(best.spokes))
            text = str(numbers_of(known, evaluate(known))["spokes"])
            numbers, said = text.split(" (")
            self.assertEqual([int(number) for number in numbers.split(", ")], sorted(best.spokes), text)
            self.assertEqual(said, f"{plan_spokes(wheel, count, 120.0).numbering})")
            (in_use,) = [item for item in plan_spokes(known.target.spokes or wheel, count, 120.0).sets if item.in_use]
            self.assertEqual(sorted(in_use.spokes), sorted(best.spokes))
            self.assertAlmostEqual(max(in_use.spacing_deg), max(spacing_of_deg(drawn)))

    def test_recordings(self) -> None:
        """A drive, on water there and back, on which the reader shows what the page says proves just that, and asks for
        the page's own setting."""
        seconds = np.arange(0.0, 240.0, 1.0)
        seen = 0
        for known, found in self.every():
            readout, speed = found.readouts[0], known.check_speed_kmh
            if readout.entry == "counts" or readout.in_use.shown_kmh <= 0:
                continue
            ratio = 1 + readout.in_use.error_pct / 100
            if readout.shown.shown_kmh < 0.999 * speed * ratio:  # the dial has ended: driven where it follows
                speed = 0.9 * readout.shown.shown_kmh / ratio
            afloat = known.vehicle_kind == "boat"
            turning = speed / 4 if afloat else speed
            true = np.interp(seconds, [0, 20, 115, 120, 125, 240], [0, speed, speed, turning, speed, speed])
            shown = true * ratio
            columns = [
                Channel(name=name, quantity="speed", unit="km/h", time_s=seconds, values=values)
                for name, values in (("gps", true), ("dash", shown))
            ]
            if afloat:
                course = np.where(seconds < 120, 30.0, 210.0)
                columns.append(Channel(name="course", quantity="course", unit="°", time_s=seconds, values=course))
            drive = Recording(channels=tuple(columns), lines=240, bad_lines=0)
            proof = prove(known, found, drive, CheckWanted(true_channel="gps", shown_channel="dash"))
            self.assertEqual(proof.expected_error_pct, readout.in_use.error_pct)
            self.assertAlmostEqual(proof.check.error_pct, readout.in_use.error_pct, delta=0.05)
            self.assertEqual(proof.conflict, "")
            if proof.to_type is not None and readout.current_setting is not None:
                seen += 1
                step_pct = 100 * readout.step / abs(readout.to_type.value)
                off_pct = 100 * (proof.to_type.value / readout.to_type.value - 1)
                self.assertLessEqual(abs(off_pct), step_pct + 0.5)  # the drive moves the chain within its own ±
        self.assertGreater(seen, 20)

    def test_printed(self) -> None:
        """Sheets, order sheet and trailer card on paper say the setting, or what to do, as the page does; knots on a
        boat."""
        for known, found in self.every(sized(1, 23)):
            readout = found.readouts[0]
            typed = readout.entry == "typed" and not readout.table
            asked = f"{readout.to_type.text} {readout.unit}".strip() if typed else readout.action
            heading = JobHeading(
                vehicle="V", installation=known.name, revision=1, signed_on=None, signed_by="", remark=""
            )
            for offer in offered(known, found):
                sheet = draw_up(known, found, offer.template)
                if any(step.code == "enter_setting" for step in sheet.steps):
                    printed = words_of(job_pdf(sheet, [""] * len(sheet.steps), heading))
                    self.assertIn(readout.to_type.text, printed)
            self.assertIn(f"{found.pulses_per_km:.0f}", words_of(wiring_pdf(known, wiring_sheet(known, found))))
            if not found.known.observed:
                rows = trailer_card([known])
                printed = words_of(trailer_pdf("V", rows, date(2026, 5, 2)))
                for row in readout.table:
                    self.assertIn(f"{row.to_type_hz:g} Hz at {row.speed_kmh:g} km/h", printed)
                if not readout.table:
                    self.assertIn(" ".join(asked.split()), printed)


def words_of(pdf: bytes) -> str:
    """The words of a PDF, by pypdf."""
    pages = PdfReader(io.BytesIO(pdf)).pages
    return " ".join(" ".join(page.extract_text() for page in pages).split())
