"""Target, sensor and placement in the browser: the drawings by hand and by keys, and what follows."""

from __future__ import annotations

import io
import re
from pathlib import Path

import ezdxf
from playwright.sync_api import Page, expect

from devtools.browser import PHONE
from speedchain import read_installation
from tests.browser.base import BrowserTestCase
from workshop.installations import head_of
from workshop.models import InstallationRecord


class Sensing(BrowserTestCase):
    def front(self, stage: str = "sensor") -> Page:
        """The installation whose element lies along a narrow ring, off to the side."""
        page = self.sign_in()
        installation = InstallationRecord.objects.get(
            vehicle__name="Dotterel", pk__in=self.named("Slip log, front left")
        )
        self.walk(page, f"/installation/{installation.pk}/{stage}")
        expect(page.locator("[aria-current=page]")).to_have_attribute("data-stage", stage)
        self.installation = installation
        return page

    def named(self, name: str) -> list[int]:
        return [one.pk for one in InstallationRecord.objects.all() if head_of(one).document["name"] == name]

    def test_the_first_wrong_placement_is_corrected_by_the_drawing_s_own_handles(self) -> None:
        page = self.front()
        expect(page.locator("[data-finding='placement.too_weak']")).to_be_visible()
        expect(page.get_by_test_id("placement")).to_contain_text("47 of 48 missed")
        handle = page.get_by_role("slider", name="Lateral offset")
        handle.focus()
        for _ in range(17):
            page.keyboard.press("ArrowDown")
        expect(self.field("placement.lateral_offset_mm")).to_have_value("0")
        expect(page.get_by_test_id("placement")).to_contain_text("48 of 48 counted")
        expect(page.locator("[data-finding='placement.too_weak']")).to_have_count(0)
        page.get_by_role("slider", name="Clocking").focus()
        for _ in range(8):
            page.keyboard.press("Shift+ArrowRight")
        expect(self.field("placement.clocking_angle_deg")).to_have_value("90")
        self.expect_saved()
        before = float(page.get_by_test_id("strength").inner_text().split()[0])
        page.get_by_role("slider", name="Air gap").focus()
        page.keyboard.press("Shift+ArrowDown")
        expect(self.field("placement.air_gap_mm")).to_have_value("0.4")
        stronger = "before => parseFloat(document.querySelector('[data-testid=strength]').textContent) > before"
        page.wait_for_function(stronger, arg=before)
        self.expect_saved()
        self.assertEqual(
            read_installation(
                head_of(InstallationRecord.objects.get(pk=self.installation.pk)).document
            ).placement.air_gap_mm,
            0.4,
        )  # type: ignore[union-attr]

    def test_the_gap_follows_the_hand_and_the_figures_follow_the_drawing(self) -> None:
        page = self.front()
        handle = page.get_by_role("slider", name="Air gap")
        box = handle.locator(".grip").bounding_box()
        assert box is not None
        x, y = box["x"] + box["width"] / 2, box["y"] + box["height"] / 2
        page.mouse.move(x, y)
        page.mouse.down()
        page.mouse.move(x, y - 20, steps=4)
        expect(page.get_by_test_id("placement")).to_contain_text("48 of 48 missed")  # while still held
        page.mouse.up()
        now = float(handle.get_attribute("aria-valuenow") or 0)
        self.assertGreater(now, 1.5)
        expect(self.field("placement.air_gap_mm")).to_have_value(f"{now:g}")
        # to scale: as many millimetres as the ruler says for as many pixels
        ruler = page.get_by_test_id("placement").locator("text", has_text=re.compile(r"^\d+ mm$")).first
        # its figure and its line at one moment: the drawing may still come to rest
        both = "text => [parseFloat(text.textContent), text.previousElementSibling.getBoundingClientRect().width]"
        pixels = 0.0
        for _ in range(100):
            millimetres, width = ruler.evaluate(both)
            pixels = (now - 0.9) * width / millimetres
            if abs(pixels - 20) < 2.5:
                break
            page.wait_for_timeout(100)
        self.assertAlmostEqual(pixels, 20, delta=2.5)
        page.keyboard.press("Control+z")
        expect(self.field("placement.air_gap_mm")).to_have_value("0.9")

    def test_the_second_wrong_placement_a_reed_by_its_middle(self) -> None:
        page = self.open_installation("Whimbrel", "sensor")
        expect(page.locator("[data-finding='placement.reed_end']")).to_contain_text("one of its ends")
        self.field("placement.lateral_offset_mm").fill("7")
        expect(page.locator("[data-finding='placement.reed_end']")).to_have_count(0)
        expect(page.get_by_test_id("placement")).to_contain_text("1 of 1 counted")
        self.field("placement.clocking_angle_deg").fill("0")
        self.field("placement.lateral_offset_mm").fill("2")
        expect(page.locator("[data-finding='placement.double']")).to_be_visible()

    def test_a_quarter_turn_of_a_pair_is_refused_before_it_is_made(self) -> None:
        page = self.open_installation("Turnstone", "sensor")
        page.get_by_role("tab", name="Tolerance").click()
        expect(page.get_by_test_id("chances")).to_contain_text("A quarter turn loses the signal")
        expect(page.get_by_test_id("chances")).to_contain_text("After a quarter turn")
        self.field("placement.clocking_angle_deg").fill("90")
        expect(page.locator("[data-finding='placement.clocked_wrong']")).to_be_visible()

    def test_the_map_moves_the_sensor(self) -> None:
        page = self.front()
        page.get_by_role("tab", name="Tolerance").click()
        place = page.get_by_test_id("tolerance").locator("rect")
        box = place.bounding_box()
        assert box is not None
        page.mouse.click(box["x"] + box["width"] / 2, box["y"] + 2)
        expect(self.field("placement.lateral_offset_mm")).to_have_value("0")
        expect(self.field("placement.clocking_angle_deg")).to_have_value(re.compile("89|90|88"))
        expect(page.get_by_test_id("chances")).to_contain_text(re.compile("As drawn9\\d|As drawn100|As drawn8\\d"))

    def test_the_sensing_spot_is_marked_on_the_tip(self) -> None:
        page = self.front()
        page.get_by_role("button", name="Mark sensing element").click()
        body = page.get_by_role("slider", name="Lateral offset").locator(".panel")
        box = body.bounding_box()
        assert box is not None
        page.mouse.click(box["x"] + box["width"] / 2, box["y"] + box["height"] * 0.7)
        page.get_by_role("tab", name="Data and wires").click()
        expect(self.field("sensor.element_mark.feature")).to_have_value("middle")
        across = float(self.field("sensor.element_mark.across_mm").input_value())
        self.assertAlmostEqual(across, -0.2 * 12, delta=0.4)

    def test_which_sensor_and_its_own_data(self) -> None:
        page = self.front()
        page.get_by_role("tab", name="Sensor choice").click()
        cards = page.get_by_test_id("which-sensor")
        expect(cards.locator("[data-kind=reed]")).to_have_attribute("data-verdict", "does not suit")
        expect(cards).to_contain_text("two opinions in the trade")
        cards.get_by_role("button", name="Use: Variable reluctance").click()
        expect(self.field("sensor.kind")).to_have_value("variable_reluctance")
        page.get_by_role("tab", name="Data and wires").click()
        page.get_by_role("button", name="Enter data sheet values").click()
        self.field("sensor.facts.max_frequency_hz").fill("500")
        expect(page.locator("[data-finding='sensor.too_fast']")).to_contain_text("its data")
        self.field("sensor.facts.body_diameter_mm").fill("1000")
        expect(page.get_by_text("must be 2 to 100 mm").first).to_be_visible()
        self.field("sensor.facts.body_diameter_mm").fill("1/2in")
        expect(page.get_by_text("must be 2 to 100 mm")).to_have_count(
            0
        )  # the line above the page goes, and all moves up
        page.get_by_role("button", name="Show steps: an unknown sensor").click()
        dialog = page.get_by_role("dialog")
        expect(dialog).to_contain_text("3.3 V")
        dialog.get_by_role("button", name="Add wire").click()
        dialog.get_by_test_id("sensor.wires.3.colour").fill("screen")
        dialog.get_by_test_id("sensor.wires.3.role").select_option("shield")
        expect(self.field("sensor.wires.3.role")).to_have_count(2)
        page.keyboard.press("Escape")
        expect(dialog).to_have_count(0)
        expect(self.field("sensor.wires.3.colour")).to_have_value("screen")

    def test_a_target_from_nothing_to_teeth_to_scale(self) -> None:
        page = self.open_installation("Grebe", "sensor")
        expect(page.get_by_test_id("not-placed")).to_contain_text("no placement is needed")
        self.open_installation("Whimbrel", "target")
        self.field("target.kind").select_option("slotted_disc")
        self.field("target.count").fill("24")
        self.field("target.ring.diameter_mm").fill("3.9in")
        expect(page.get_by_text("13.0 mm").first).to_be_visible()
        page.get_by_text("Tooth, depth, runout").click()
        self.field("target.ring.missing_teeth").fill("1")
        expect(page.locator("[data-finding='target.missing_tooth']")).to_be_visible()
        self.field("target.ring.tooth_width_mm").fill("40")
        expect(page.get_by_text("leaves no gap").first).to_be_visible()

    def test_spokes_are_planned_counted_and_used(self) -> None:
        page = self.open_installation("Whimbrel", "target")
        page.get_by_role("tab", name="Spoke planner").click()
        planner = page.get_by_test_id("spoke-planner")
        self.field("target.count").fill("2")
        expect(planner).to_contain_text("2 does not divide 7")
        expect(planner.locator("tbody tr").first).to_contain_text("mm")
        page.get_by_text("The wheel's spokes").click()
        self.field("target.spokes.holes").fill("36")
        self.field("target.count").fill("3")
        expect(planner).to_contain_text("Spokes 1, 7, 13: This one, then count 6 on the same side")
        planner.get_by_role("button", name="Use these spokes").click()
        expect(planner.locator("tbody tr").first).to_contain_text("in use")
        self.field("target.spokes.holes").fill("35")
        expect(page.get_by_text("35 spokes cannot be laced evenly").first).to_be_visible()

    def test_a_ring_and_a_bracket_are_taken_to_the_cutter(self) -> None:
        page = self.front("target")
        page.get_by_role("tab", name="Make your own ring").click()
        with page.expect_download() as download:
            page.get_by_role("button", name="DXF, for the cutter").click()
        drawing = ezdxf.read(io.StringIO(Path(download.value.path()).read_text()))
        (outline,) = drawing.modelspace().query("LWPOLYLINE")
        self.assertEqual(len(outline), 4 * 48)
        self.field("target.cut.bore_mm").fill("95")
        expect(page.get_by_role("alert").filter(has_text="cuts into the teeth")).to_be_visible()
        self.walk(page, f"/installation/{self.installation.pk}/sensor")
        page.get_by_role("tab", name="Bracket and clearance").click()
        with page.expect_download() as download:
            page.get_by_role("button", name="PDF, 1:1 on paper").click()
        self.assertTrue(Path(download.value.path()).read_bytes().startswith(b"%PDF-"))
        page.get_by_label("Clear of the brake caliper").check()
        expect(page.get_by_text("1 of 6 checked")).to_be_visible()
        expect(page.get_by_test_id("mounting")).to_contain_text("never under a vehicle on a jack alone")

    def test_on_the_phone_the_gap_is_set_by_a_thumb(self) -> None:
        context = self.new_context(PHONE, has_touch=True)
        page = self.sign_in(context.new_page())
        self.open_installation("Plover", "sensor", page)
        handle = page.get_by_role("slider", name="Air gap")
        handle.scroll_into_view_if_needed()
        box = handle.locator(".hit").bounding_box()
        assert box is not None
        self.assertGreaterEqual(min(box["width"], box["height"]), 40)
        self.assertLessEqual(page.evaluate("document.documentElement.scrollWidth"), PHONE["width"])
        page.mouse.move(box["x"] + 20, box["y"] + 20)
        page.mouse.down()
        page.mouse.move(box["x"] + 20, box["y"] + 10, steps=3)
        page.mouse.up()
        expect(self.field("placement.air_gap_mm", page)).not_to_have_value("3")
