"""Drives to choose from, ways of typing the number in, what is in the display, the law over speed."""

from __future__ import annotations

from playwright.sync_api import expect

from tests.browser.base import BrowserTestCase
from workshop.installations import head_of
from workshop.models import InstallationRecord


class Drives(BrowserTestCase):
    def test_every_arrangement_is_drawn_and_computed(self) -> None:
        self.sign_in()
        page = self.open_installation("Turnstone", "drive")
        for label, fields, ratio in [
            ("Transfer box", {"transfer_box.axle_ratio": "4.1", "transfer_box.low_ratio": "2.5"}, "4.1"),
            ("Hub motor", {"hub_motor.gear_ratio": "4.4"}, "4.4"),
            ("Chain or belt shaft", {"sprockets.wheel_teeth": "42", "sprockets.shaft_teeth": "14"}, "3"),
            ("Driveshaft or gearbox output", {"axle_ratio.ratio": "41/11"}, "3.7273"),
        ]:
            page.get_by_role("radio", name=label).check()
            for name, text in fields.items():
                self.field(f"drive.{name}").fill(text)
            with self.subTest(label):
                expect(page.get_by_role("img", name=f"1 turn of the wheel = {ratio} turns")).to_be_visible()
        expect(page.get_by_text("with one wheel held").first).to_be_visible()
        expect(page.locator("[data-finding='drive.one_wheel_on_stand']")).to_contain_text("shows half, 50 km/h")

    def test_a_ratio_is_counted_with_a_guide(self) -> None:
        self.sign_in()
        page = self.open_installation("Turnstone", "drive")
        page.get_by_role("radio", name="Driveshaft or gearbox output").check()
        self.field("drive.axle_ratio.ratio").fill("3.7")
        self.field("drive.axle_ratio.basis").select_option("counted")
        page.get_by_role("button", name="Show steps", exact=True).click()
        dialog = page.get_by_role("dialog")
        expect(dialog).to_contain_text("Paddock or centre stand on firm ground")
        dialog.get_by_test_id("drive.axle_ratio.shaft_turns").fill("18.65")
        dialog.get_by_test_id("drive.axle_ratio.one_wheel_held").select_option("true")
        dialog.get_by_role("button", name="Close").click()
        expect(page.locator("[data-stage=drive]")).to_contain_text("3.73")
        expect(page.locator("[data-stage=drive]")).to_have_attribute("data-evidence", "measured")

    def test_the_cable_drive_chooses_its_gear(self) -> None:
        self.sign_in()
        record = InstallationRecord.objects.get(revisions__document__name="Old gauge, cable")
        page = self.page
        page.goto(self.address(f"/installation/{record.pk}/drive"))
        expect(page.get_by_test_id("gears").get_by_text("21 best")).to_be_visible()
        self.field("drive.cable.driven_teeth").fill("21")
        expect(page.get_by_test_id("gears").get_by_text("21 best in use")).to_be_visible()
        expect(page.locator("[data-finding='drive.driven_gear']")).to_have_count(0)
        expect(page.get_by_test_id("purpose")).to_contain_text("sense at the output shaft")


class Readouts(BrowserTestCase):
    def test_what_is_in_the_display_is_read_backwards_and_corrected(self) -> None:
        self.sign_in()
        page = self.open_installation("Whimbrel", "readout")
        self.field("readouts.0.current_setting").fill("463")
        implied = page.get_by_test_id("implied")
        expect(implied).to_contain_text("a wheel of 147 mm")
        expect(implied).to_contain_text("the diameter was entered instead of the circumference")
        self.field("readouts.0.current_setting").fill("57.3in")
        expect(implied).to_contain_text("Current setting: right")
        self.field("readouts.0.current_setting").fill("145.5")
        expect(implied).to_contain_text("one place out")
        implied.get_by_role("button", name="Entered 1455").click()
        expect(implied).to_contain_text("Current setting: right")
        expect(page.get_by_test_id("also")).to_have_text("= 57.28 in")

    def test_ways_of_typing_that_need_more(self) -> None:
        self.sign_in()
        page = self.open_installation("Whimbrel", "readout")
        way = self.field("readouts.0.encoding")
        way.select_option("frequency_table")
        expect(page.get_by_label("Current setting (enter 7.6)")).to_be_visible()
        way.select_option("chart_code")
        self.field("readouts.0.codes.0.circumference_mm").fill("1430")
        page.get_by_role("button", name="Add code").click()
        self.field("readouts.0.codes.1.circumference_mm").fill("1460")
        expect(page.get_by_test_id("to-type")).to_have_text("2")
        way.select_option("percent_correction")
        self.field("readouts.0.base_pulses_per_km").fill("700")
        expect(page.get_by_test_id("to-type")).to_have_text("1.8")
        way.select_option("custom")
        self.field("readouts.0.custom.label").fill("Dial units")
        self.field("readouts.0.custom.scale").fill("0.5")
        expect(page.get_by_test_id("to-type")).to_have_text("1375")
        way.select_option("hz_per_knot")
        expect(page.get_by_test_id("to-type")).to_have_text("0.35")
        self.expect_saved()
        readout = head_of(self.installation_of("Whimbrel")).document["readouts"][0]
        self.assertEqual((readout["encoding"], readout["custom"]["label"]), ("hz_per_knot", "Dial units"))

    def test_speeds_read_side_by_side_set_the_display_right_until_the_target_is_another(self) -> None:
        """31.5 shown at 30 with 1455 mm set: 5 % too much, so 1455/1.05 = 1386 mm; read by eye to ± 2.2 %."""
        page = self.open_installation("Whimbrel", "readout")
        self.field("readouts.0.current_setting").fill("1455")
        self.settle(page)  # what follows from it moves the tabs
        page.get_by_role("tab", name="Known from speeds").click()
        expect(page.get_by_test_id("observed")).to_contain_text("Nothing was observed yet")
        expect(page.get_by_role("button", name="Use these speeds")).to_be_disabled()
        for at, (true, shown) in enumerate((("30", "31.5"), ("40", "42"), ("25", "26.25"))):
            if at:
                page.get_by_role("button", name="Another speed").click()
            page.get_by_test_id(f"seen-true-{at}").fill(true)
            page.get_by_test_id(f"seen-shown-{at}").fill(shown)
        page.get_by_role("button", name="Use these speeds").click()
        kept = page.get_by_test_id("observation")
        expect(kept).to_contain_text("with 1455 mm set")
        expect(kept).to_contain_text("721.649 pulses per km")  # 687.285 × 1.05
        page.get_by_role("tab", name="Setting to enter").click()
        self.expect_saved()
        wheel = head_of(self.installation_of("Whimbrel")).document
        self.assertAlmostEqual(wheel["observations"][0]["pulses_per_km"], 1e6 / 1455 * 1.05, places=1)
        self.open_installation("Whimbrel", "target")
        self.field("target.count").fill("2")
        self.expect_saved()
        self.open_installation("Whimbrel", "readout")
        page.get_by_role("tab", name="Known from speeds").click()
        expect(kept).to_contain_text("Does not count: before the change of target")
        page.get_by_role("button", name="It still holds").click()
        expect(kept).not_to_contain_text("Does not count")
        page.get_by_role("button", name="Remove observation").click()
        expect(page.get_by_test_id("observed")).to_contain_text("Nothing was observed yet")

    def test_turns_counted_by_hand_are_kept_and_weighed_against_what_is_entered(self) -> None:
        """48 teeth were counted: 484 pulses in ten turns cannot be, and that is said."""
        page = self.open_installation("Turnstone", "target")
        before = self.field("target.count").input_value()
        self.open_installation("Turnstone", "readout")
        page.get_by_role("tab", name="Known from speeds").click()
        turned = page.get_by_test_id("turns-counted")
        expect(turned.get_by_role("button", name="Use this count")).to_be_disabled()
        self.field("turns-pulses").fill(str(10 * int(before) + 4))
        turned.get_by_role("button", name="Use this count").click()
        expect(turned).to_contain_text(f"{10 * int(before) + 4} pulses in 10 turns of the wheel")
        expect(turned).to_contain_text("Does not count: it disagrees with what is entered")
        expect(page.locator("[data-stage=target]")).to_contain_text("48")
        self.expect_saved()
        kept = head_of(self.installation_of("Turnstone")).document["turn_counts"]
        self.assertEqual([(item["wheel_turns"], item["pulses"]) for item in kept], [(10, 10 * int(before) + 4)])
        self.assertIn("target", kept[0]["state"])
        turned.get_by_role("button", name="Remove count of turns").click()
        expect(turned).not_to_contain_text("turns of the wheel by")
        self.expect_saved()
        self.assertEqual(head_of(self.installation_of("Turnstone")).document["turn_counts"], [])

    def test_another_page_brings_its_comparison_along(self) -> None:
        page = self.sign_in()
        at = self.installation_of("Turnstone").pk
        page.goto(self.address(f"/installation/{at}/readout?view=speeds&kind=distance&seen=48.0:50.4&within=0.4"))
        expect(page.get_by_test_id("seen-shown-0")).to_have_value("50.4")
        page.get_by_role("button", name="Use these speeds").click()
        expect(page.get_by_test_id("observation")).to_contain_text("Measured distance")
        expect(page.get_by_test_id("observation")).to_contain_text("± 0.40 %")

    def test_the_law_over_speed_and_the_number_that_brings_it_in(self) -> None:
        self.sign_in()
        page = self.open_installation("Turnstone", "readout")
        page.get_by_role("tab", name="Over speed").click()
        law = page.get_by_test_id("law")
        expect(law).to_contain_text("Outside UN R39, type approval: below from 10 to 208 km/h")
        expect(law).to_contain_text("576 mm brings it in")
        expect(law).to_contain_text("Check your local rules")
        expect(page.locator("canvas")).to_be_visible()
        self.field("readouts.0.current_setting").fill("580")
        expect(law).to_contain_text("including its ±. Check")
        self.menu("Details", page)
        self.field("speedometer_rule").select_option("us_393_82")
        page.get_by_role("button", name="Close").click()
        expect(page.get_by_text("Allowed at 80 km/h: 72 to 89 km/h")).to_be_visible()

    def test_lowest_speed_and_resolution(self) -> None:
        self.sign_in()
        page = self.open_installation("Whimbrel", "readout")
        page.get_by_role("tab", name="Lowest speed").click()
        expect(page.get_by_test_id("timing")).to_contain_text("1.31 km/h")
        page.get_by_text("Pulse timing").first.click()
        self.field("readouts.0.timing.time_out_s").fill("1 min")
        expect(page.get_by_test_id("timing")).to_contain_text("0.087 km/h")

    def test_check_speeds_and_the_sensed_wheel_are_in_the_details(self) -> None:
        self.sign_in()
        page = self.open_installation("Whimbrel", "readout")
        self.menu("Details", page)
        page.get_by_role("button", name="Add check speed").click()
        self.field("check_speeds_kmh.0").fill("20 mph")
        self.field("sensed_at").select_option("rear_left")
        page.get_by_role("button", name="Close").click()
        expect(page.get_by_test_id("residuals")).to_contain_text("32.19 km/h")
        self.expect_saved()  # one revision or two, as fast as this machine types
        saved = head_of(self.installation_of("Whimbrel")).document
        self.assertEqual((len(saved["check_speeds_kmh"]), saved["sensed_at"]), (1, "rear_left"))

    def test_on_the_water_the_line_speaks_of_water(self) -> None:
        self.sign_in()
        page = self.open_installation("Grebe")
        expect(page.locator("[data-stage=wheel]")).to_contain_text("Paddle")
        expect(page.get_by_role("radio")).to_have_count(2)
        self.field("wheel.paddle.calibration_pct").fill("2.5")
        expect(page.locator("[data-stage=wheel]")).to_contain_text("380")
        expect(page.locator("[data-stage=wheel]")).to_have_attribute("data-evidence", "measured")
        page.keyboard.press("Escape")
        page.locator("[data-stage=readout]").click()
        expect(page.get_by_test_id("to-type")).to_have_text("19500")
