"""Readings and their cause, readers that take no number, and cautions where their hazard is."""

from __future__ import annotations

from playwright.sync_api import expect

from devtools.browser import PHONE
from tests.browser.base import BrowserTestCase
from workshop.installations import head_of


class Readings(BrowserTestCase):
    def test_a_verified_stage_that_is_changed_says_so(self) -> None:
        """48 poles were counted by a spin test; 46 were not."""
        page = self.open_installation("Turnstone", "target")
        stage = page.locator("[data-stage=target]")
        expect(stage).to_have_attribute("data-evidence", "verified")
        self.enter("target.count", "46")
        expect(stage).to_have_attribute("data-evidence", "measured")
        expect(page.get_by_text("changed since. Repeat the test.").first).to_be_visible()
        page.get_by_role("button", name="Remove test").first.click()
        page.get_by_role("button", name="Record a passed test").first.click()
        page.get_by_role("button", name="Save test, dated today").first.click()
        expect(stage).to_have_attribute("data-evidence", "verified")
        self.enter("target.count", "47")
        expect(stage).to_have_attribute("data-evidence", "measured")
        page.get_by_role("button", name="Undo").click()
        expect(stage).to_have_attribute("data-evidence", "verified")
        self.expect_saved()
        verification = head_of(self.installation_of("Turnstone")).document["target"]["verification"]
        self.assertEqual(verification["value"], 46)

    def open_readings(self) -> None:
        self.open_installation("Turnstone", "bench")
        self.page.get_by_role("tab", name="Find the cause").click()

    def test_pairs_of_speeds_name_the_mistake(self) -> None:
        self.open_readings()
        page = self.page
        expect(page.get_by_test_id("readings")).to_contain_text("No pair entered yet.")
        expect(page.get_by_test_id("cautions").last).to_contain_text("never read a display while riding")
        for place, speed in enumerate((30, 60, 90)):
            self.field(f"true-{place}").fill(str(speed))
            self.field(f"shown-{place}").fill(str(round(speed * 1.609)))
        result = page.get_by_test_id("readings")
        expect(result).to_contain_text("times the true speed")
        expect(result).to_contain_text("mile and kilometre were mixed up")

    def test_a_limit_is_told_from_a_wrong_setting(self) -> None:
        self.open_readings()
        page = self.page
        page.get_by_role("button", name="Add a pair").click()
        page.get_by_role("button", name="Add a pair").click()
        for place, (true, shown) in enumerate(((20, 20), (40, 40), (60, 60), (80, 62), (100, 62))):
            self.field(f"true-{place}").fill(str(true))
            self.field(f"shown-{place}").fill(str(shown))
        expect(page.get_by_test_id("readings")).to_contain_text("follows up to 62 km/h and stays there")
        self.field("true-0").fill("fast")
        expect(page.get_by_role("alert")).to_contain_text("Enter a value such as")

    def test_on_the_phone_nothing_is_cut_off(self) -> None:
        self.page.set_viewport_size(PHONE)
        self.open_readings()
        page = self.page
        expect(page.get_by_test_id("readings")).to_be_visible()
        self.assertLessEqual(page.evaluate("document.documentElement.scrollWidth"), 390)


class NothingToEnter(BrowserTestCase):
    def test_a_fixed_reader_shows_what_would_make_it_right(self) -> None:
        page = self.open_installation("Turnstone", "readout")
        self.field("readouts.0.entry").select_option("fixed")
        self.field("readouts.0.current_setting").fill("536")
        expect(page.get_by_test_id("fixed")).to_contain_text("cannot be set: it shows")
        expect(page.get_by_test_id("fixed")).to_contain_text("in place of 48")
        expect(page.get_by_test_id("fixed")).to_contain_text("A ratio converter set to")
        expect(page.get_by_test_id("implied")).to_have_count(0)

    def test_a_learning_ride_is_recorded(self) -> None:
        page = self.sign_in()
        record = self.installation_of("Turnstone")
        self.open_installation("Turnstone", "readout")
        self.field("readouts.0.entry").select_option("learned")
        expect(self.field("readouts.0.current_setting")).to_have_count(0)
        expect(page.get_by_text("Learning ride", exact=True)).to_be_visible()
        self.field("readouts.0.learning_ride.hold_kmh").fill("25 mph")
        self.field("readouts.0.learning_ride.outcome").select_option("refused")
        expect(page.get_by_text("did not learn its setting on the last ride").first).to_be_visible()
        self.field("readouts.0.learning_ride.outcome").select_option("learned")
        expect(page.get_by_text("did not learn its setting on the last ride")).to_have_count(0)
        for _ in range(40):
            page.wait_for_timeout(250)
            ride = head_of(self.installation_of("Turnstone")).document["readouts"][0].get("learning_ride")
            if ride and ride["outcome"] == "learned":
                break
        self.assertEqual((ride or {}).get("outcome"), "learned")
        self.assertAlmostEqual((ride or {})["hold_kmh"], 40.2336, places=3)
        self.assertGreaterEqual(head_of(record).number, 1)

    def test_a_timer_leads_through_a_learning_ride(self) -> None:
        page = self.open_installation("Turnstone", "readout")
        self.field("readouts.0.entry").select_option("learned")
        for name, value in (("hold_s", "2"), ("key_off_s", "1")):
            self.field(f"readouts.0.learning_ride.{name}").fill(value)
            self.field(f"readouts.0.learning_ride.{name}").press("Enter")
        ride = page.get_by_test_id("ride")
        expect(ride).to_contain_text("Hold 40 km/h for 2 s")
        page.get_by_role("button", name="Start the timer").click()
        expect(ride).to_contain_text("watch the display")
        expect(ride).to_contain_text("Did it learn?")
        ride.get_by_role("button", name="Learned", exact=True).click()
        expect(self.field("readouts.0.learning_ride.outcome")).to_have_value("learned")
        self.expect_saved()


class Supply(BrowserTestCase):
    def test_one_supply_on_both_pages_and_on_the_sheet(self) -> None:
        page = self.open_installation("Turnstone", "signal")
        self.settle(page)
        self.enter("sensor.needs.supply_v", "2")
        page.get_by_role("tab", name="Wires and order sheet").click()
        expect(page.get_by_text("Do not connect 2 V to this sensor").first).to_be_visible()
