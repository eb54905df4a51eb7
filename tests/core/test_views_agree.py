"""No two views disagree: every quantity that several of them show is the same in each, over installations of every kind.

The views are asked for what they print, and compared with each other; none is computed anew here.
"""

from __future__ import annotations

import re
from collections.abc import Iterator
from datetime import date
from unittest import TestCase

import numpy as np

from speedchain import Evaluation, Installation, evaluate
from speedchain.bench.hand_tests import magnet_test, spin_test
from speedchain.bench.moment import Moment, bench_moment
from speedchain.bench.profile import Profile
from speedchain.jobs import draw_up, numbers_of, offered, text_now
from speedchain.placement.view import view_placement
from speedchain.sheets.tag import tag_lines
from speedchain.sheets.wiring import wiring_sheet
from speedchain.vehicle.sheet import SheetSettings, vehicle_sheet
from speedchain.vehicle.trailer import trailer_card
from speedchain.vehicle.tyre_change import NewTyre, change_tyre
from speedchain.views.over_speed import over_speed
from tests.archetypes import archetypes

ENTERS = re.compile(r"\bEnter [\d.]")
NO_SIGNAL = {"target.not_ferrous", "sensor.blind"}
RANGE = re.compile(r"([\d.]+) to ([\d.]+)\s*mm")


class Agree(TestCase):
    def every(self) -> Iterator[tuple[Installation, Evaluation]]:
        number = 0
        for name, known in archetypes():
            number += 1
            with self.subTest(name):
                yield known, evaluate(known)
        self.assertEqual(number, 168)  # 12 vehicles, 7 readers, twice

    def test_shown_speed(self) -> None:
        """Evaluation, readout table, over speed, vehicle sheet, bench: the needle past the end of its scale stands there."""
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
        """Aluminium before a coil, a tooth before a reed: bench, spin test, placement; a coil answers no hand, steel moves no
        reed."""
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
        for known, found in self.every():
            readout = found.readouts[0]
            spin = spin_test(known, found).predictions[0]
            values = {"count": float(known.target.count), "turns": 10 * found.stages[1].value}
            values["roll"] = 3 * found.stages[0].value
            for offer in offered(known):
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
