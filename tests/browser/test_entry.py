"""What is known stays known when a method, a format or a sensor is chosen; simple arithmetic is read."""

from __future__ import annotations

import re

from playwright.sync_api import expect

from tests.browser.base import BrowserTestCase


class Entry(BrowserTestCase):
    def test_arithmetic_is_read_and_its_result_stands_beside_it(self) -> None:
        page = self.open_installation("Turnstone")
        self.field("wheel.taped_diameter.diameter_mm").fill("2 × 287")
        expect(page.get_by_text("= 574 mm", exact=True)).to_be_visible()
        self.field("wheel.taped_diameter.diameter_mm").fill("22+5/8 in")
        expect(page.get_by_text("= 574.675 mm", exact=True)).to_be_visible()
        self.field("wheel.taped_diameter.diameter_mm").fill("574/0")
        expect(page.get_by_role("alert").first).to_contain_text("divides by zero")

    def test_the_chart_opens_at_the_row_of_the_marking(self) -> None:
        self.open_installation("Plover")
        expect(self.page.get_by_test_id("method-marking")).to_contain_text("±")  # what is known has come
        self.page.get_by_test_id("method-chart").get_by_role("radio").check()
        expect(self.field("wheel.chart.label")).to_have_value("700x32C")
        expect(self.field("wheel.chart.circumference_mm")).to_have_value("2155")

    def test_a_reader_set_to_teeth_has_those_of_the_target(self) -> None:
        page = self.open_installation("Dotterel", "readout")
        self.field("readouts.0.encoding").select_option("teeth_and_diameter")
        expect(self.field("readouts.0.set_pulses_per_turn")).not_to_have_value("1")
        expect(page.get_by_test_id("to-type")).not_to_have_text("100")

    def test_the_module_of_a_new_ring_is_no_dead_end(self) -> None:
        page = self.open_installation("Turnstone", "target")
        self.field("target.kind").select_option("toothed_ring")
        self.field("target.ring.form").select_option("module")
        self.field("target.ring.module_mm").fill("2")
        expect(page.get_by_text("nearest module of a gear")).to_be_visible()
        expect(page.get_by_role("alert")).to_have_count(0)

    def test_one_press_goes_to_an_entry_that_cannot_be_read(self) -> None:
        page = self.open_installation("Turnstone", "readout")
        page.get_by_text("Pulse timing").click()
        field = self.field("readouts.0.timing.time_out_s")
        field.fill("soon")
        alert = page.get_by_role("alert").filter(has_text="not a valid time-out")
        expect(alert).to_contain_text("soon")
        page.get_by_role("navigation", name="Stages").get_by_role("button").first.click()
        expect(page.get_by_test_id("method-roll_out")).to_be_visible()
        alert.get_by_role("button", name=re.compile("go to Readout: zero time-out")).click()
        expect(field).to_be_focused()
        expect(field).to_be_in_viewport()

    def test_what_the_maker_permits_limits_the_gap(self) -> None:
        page = self.open_installation("Dotterel", "sensor")
        page.get_by_text("Air gap that the maker permits").click()
        self.field("sensor.maker_gap.highest_mm").fill("0.2")
        expect(page.get_by_text("the sensor's maker permits at most 0.20 mm").first).to_be_visible()
        page.get_by_role("button", name="Add a row of the table by module").click()
        self.field("sensor.maker_gap.by_module.0.module_mm").fill("2")
        self.field("sensor.maker_gap.by_module.0.highest_mm").fill("1.5")
        self.field("sensor.maker_gap.highest_mm").fill("")
        expect(page.get_by_text("the sensor's maker permits at most 0.20 mm")).to_have_count(0)

    def test_a_display_keeps_its_settings_card(self) -> None:
        page = self.open_installation("Turnstone", "readout")
        page.get_by_text("Settings card, and where it has its figure from").click()
        page.get_by_role("button", name="+ Clock").click()
        self.field("readouts.0.other_settings.0.set_to").fill("24 h")
        self.expect_saved()
        page.reload()
        expect(self.field("readouts.0.other_settings.0.set_to")).to_have_value("24 h")
        expect(page.get_by_role("button", name="+ Clock")).to_have_count(0)

    def test_a_sensor_without_a_target_is_not_asked_for_teeth(self) -> None:
        page = self.open_installation("Plover", "sensor")
        self.field("sensor.kind").select_option("inertial")
        self.expect_saved(3)
        self.walk(page, page.url.split(self.live_server_url)[-1].replace("/sensor", "/target"))
        expect(page.get_by_text("This sensor needs no target: nothing is counted here.")).to_be_visible()
        expect(self.field("target.kind")).to_have_count(0)

    def test_a_card_of_round_frequencies(self) -> None:
        page = self.open_installation("Turnstone", "bench")
        page.get_by_role("tab", name="Test card").click()
        page.get_by_role("button", name="Use round frequencies").click()
        rows = page.get_by_test_id("card").locator("tbody tr")
        for place in range(3):
            expect(rows.nth(place)).to_contain_text(f"{100 * (place + 1)}.0")

    def test_the_usual_rule_is_said_where_it_is_chosen(self) -> None:
        page = self.sign_in()
        for vehicle, words in (
            ("Turnstone", "UN R39 is usual for this vehicle"),
            ("Plover", "No rule for speedometers is usual"),
        ):
            self.open_installation(vehicle)
            self.menu("Details", page)
            expect(page.get_by_text(words)).to_be_visible()
            self.escape(page)
