"""The parts shelf: a sensor put there from one vehicle, taken on another, named on its order sheet and found in the
list."""

from playwright.sync_api import expect

from devtools.browser import PHONE
from tests.browser.base import BrowserTestCase


class Shelf(BrowserTestCase):
    def test_from_one_vehicle_to_another(self) -> None:
        page = self.open_installation("Whimbrel", "sensor")
        page.get_by_text("Part, and the parts shelf").click()
        page.get_by_role("button", name="Put on the shelf").click()
        expect(page.get_by_text("The part has no name. Enter its name.")).to_be_visible()
        for name, text in (("name", "Spoke reed"), ("number", "SPIT-77")):
            field = self.field(f"sensor.part.{name}")
            field.fill(text)
            field.press("Enter")
        expect(page.get_by_text("Part: Spoke reed, SPIT-77")).to_be_visible()
        page.get_by_role("button", name="Put on the shelf").click()
        expect(page.get_by_text("On the shelf: Spoke reed")).to_be_visible()

        self.open_installation("Plover", "sensor")
        page.get_by_text("Part, and the parts shelf").click()
        page.get_by_role("button", name="Choose from the shelf").click()
        page.get_by_label("Search by name, number or connector").fill("spit reed")
        expect(page.get_by_test_id("on-the-shelf").get_by_role("button")).to_have_count(1)
        page.get_by_role("button", name="Take Spoke reed").click()
        expect(page.get_by_text("Part: Spoke reed, SPIT-77")).to_be_visible()
        expect(self.field("sensor.kind")).to_have_value("reed")

        self.open_installation("Plover", "signal")
        page.get_by_role("tab", name="Wires and order sheet").click()
        expect(page.get_by_text("Spoke reed, No. SPIT-77")).to_be_visible()

        expect(page.get_by_text("Saved, revision")).to_be_visible()
        page.goto(self.address("/"))
        page.get_by_label("Search vehicles and installations").fill("spit-77")
        expect(page.get_by_role("link", name="Plover").first).to_be_visible()
        expect(page.get_by_role("link", name="Grebe")).to_have_count(0)

    def test_on_the_phone_it_is_corrected_and_taken_off(self) -> None:
        page = self.sign_in(self.new_context(PHONE, has_touch=True).new_page())
        page.goto(self.address("/shelf"))
        row = page.get_by_test_id("shelf").locator("div", has_text="Tip sensor").last
        expect(row).to_be_visible()
        page.get_by_role("button", name="Change").first.click()
        page.get_by_label("Name", exact=True).fill("")
        page.get_by_role("button", name="Save", exact=True).click()
        expect(page.get_by_text("The part has no name. Enter its name.")).to_be_visible()
        page.get_by_label("Name", exact=True).fill("Tip sensor, long")
        page.get_by_role("button", name="Save", exact=True).click()
        expect(page.get_by_label("Name", exact=True)).to_have_count(0)
        page.get_by_role("button", name="Remove Tip sensor, long").click()
        page.get_by_role("button", name="Keep it").click()
        expect(page.get_by_text("Tip sensor, long")).to_be_visible()
        page.get_by_role("button", name="Remove Tip sensor, long").click()
        page.get_by_role("button", name="Remove for good: Tip sensor, long").click()
        expect(page.get_by_text("Tip sensor, long")).to_have_count(0)
        self.assertLessEqual(page.evaluate("document.documentElement.scrollWidth"), PHONE["width"])
