"""Practice on the phone, and the workshop's own fault table."""

from __future__ import annotations

from playwright.sync_api import expect

from devtools.browser import PHONE
from tests.browser.base import BrowserTestCase


class Practice(BrowserTestCase):
    def test_a_graded_case_from_the_sentence_to_the_points(self) -> None:
        page = self.sign_in(self.new_context(PHONE, has_touch=True).new_page())
        page.goto(self.address("/practice"))
        page.get_by_role("button", name="Begin case 1", exact=True).click()
        expect(page.get_by_text("Today the display is blank")).to_be_visible()
        page.get_by_role("button", name="Readout").click()
        page.get_by_role("group", name="Tests").get_by_role("button", name="battery").click()
        page.get_by_role("button", name="Do this test").click()
        expect(page.get_by_test_id("made")).to_contain_text("Empty or low")
        expect(page.get_by_test_id("ways").get_by_role("img", name="Your way so far")).to_be_visible()
        expect(page.get_by_role("button", name="Readout")).to_contain_text("looked at")
        page.get_by_test_id("repair").select_option("reader_battery")
        page.get_by_role("button", name="Apply the cure and retest").click()
        expect(page.get_by_test_id("figures")).to_contain_text("The shown speed is right")
        page.reload()
        page.get_by_role("button", name="End the case").click()
        expect(page.get_by_test_id("outcome")).to_contain_text("points")
        expect(page.get_by_test_id("ways").get_by_role("img", name="an expert's")).to_be_visible()
        expect(page.get_by_test_id("expert").get_by_role("listitem")).not_to_have_count(0)
        wide = page.evaluate("document.documentElement.scrollWidth - document.documentElement.clientWidth")
        self.assertEqual(wide, 0)
        page.get_by_role("link", name="All cases").click()
        expect(page.get_by_test_id("progress")).to_contain_text("1 cases ended")
        expect(page.get_by_role("img", name="Points of the last 1 cases")).to_be_visible()
        expect(page.get_by_test_id("graded")).to_contain_text("points")

    def test_the_sensor_is_placed_and_a_skipped_caution_costs(self) -> None:
        page = self.sign_in(self.new_context(PHONE, has_touch=True).new_page())
        page.goto(self.address("/practice"))
        page.get_by_role("button", name="Begin case 6").click()
        page.get_by_role("button", name="Visual inspection").click()
        page.get_by_role("button", name="Do this test").click()
        expect(page.get_by_test_id("made")).to_contain_text("its caution was skipped")
        page.get_by_role("button", name="Sensor", exact=False).first.click()
        page.get_by_text("Place the sensor, 6 min").click()
        page.get_by_label("Clocking angle").fill("90")
        page.get_by_label("Lateral offset").fill("0")
        page.get_by_role("button", name="Apply", exact=True).click()
        expect(page.get_by_test_id("made")).to_contain_text("km/h, steady")

    def test_a_workshop_enters_its_own_figures(self) -> None:
        page = self.sign_in()
        page.goto(self.address("/fault-table"))
        page.get_by_test_id("table-cause").select_option("ground_bad")
        page.get_by_test_id("table-weight").fill("0")
        page.get_by_role("button", name="Save own figures").click()
        expect(page.get_by_role("alert")).to_be_visible()
        page.get_by_test_id("table-weight").fill("7,5")
        page.get_by_role("button", name="Save own figures").click()
        expect(page.get_by_text("✓ Saved")).to_be_visible()
        page.reload()
        page.get_by_test_id("table-cause").select_option("ground_bad")
        expect(page.get_by_test_id("table-weight")).to_have_value("7.50")
        page.get_by_role("button", name="Use typical values").click()
        expect(page.get_by_test_id("table-weight")).to_have_value("1.00")
