"""The job as a person does it: from the first page to the number, and to mending what is wrong."""

import json
from pathlib import Path
from tempfile import TemporaryDirectory

from playwright.sync_api import expect

from speedchain import read_installation
from tests.browser.base import BrowserTestCase
from workshop.installations import head_of


class TheJob(BrowserTestCase):
    def test_from_purpose_to_the_number_to_type(self) -> None:
        page = self.sign_in()
        page.get_by_role("button", name="New installation", exact=True).click()
        page.get_by_label("True road speed on a dash").check()
        expect(page.get_by_test_id("advice")).to_contain_text("Sense at a wheel that is not driven")
        self.field("vehicle-name").fill("Avocet")
        self.field("marking").fill("205/55R16")
        expect(page.get_by_test_id("preview")).to_contain_text("the count of the target")
        self.field("count").fill("48")
        expect(page.get_by_test_id("preview")).to_contain_text("enter 24905 pulses per km")
        self.field("driven").select_option("true")
        expect(page.get_by_test_id("preview")).to_contain_text("! A driven wheel reads 1 to 3 % high")
        self.field("driven").select_option("false")
        self.field("sensed-at").select_option("front_left")
        self.field("count").fill("4 8 teeth")
        expect(page.get_by_test_id("preview")).to_contain_text("Last good figures")
        expect(page.get_by_test_id("preview")).to_contain_text("enter 24905 pulses per km")
        self.field("count").fill("48")
        expect(page.get_by_test_id("preview")).not_to_contain_text("Last good figures")
        page.get_by_role("button", name="Create installation").click()
        expect(page.get_by_test_id("shown-kmh")).to_have_text("100")
        expect(page.get_by_test_id("next-action")).to_contain_text("Count the teeth twice")
        page.locator("[data-stage=readout]").click()
        expect(page.get_by_test_id("to-type")).to_have_text("24905")
        self.assertEqual(self.installation_of("Avocet").head, 1)
        self.assertEqual(head_of(self.installation_of("Avocet")).document["sensed_at"], "front_left")

    def test_a_new_installation_says_what_is_missing_and_keeps_what_was_typed(self) -> None:
        page = self.sign_in()
        page.goto(self.address("/new"))
        self.field("marking").fill("205/5R16")
        page.get_by_role("button", name="Create installation").click()
        expect(page.get_by_text("tyres have 20 to 110 %")).to_be_visible()
        expect(page.get_by_test_id("preview")).to_contain_text("Still to enter: what the reading is for")
        page.reload()
        expect(self.field("marking")).to_have_value("205/5R16")

    def test_the_real_mistake_is_pointed_out_and_corrected(self) -> None:
        page = self.sign_in()
        expect(page.get_by_test_id("vehicles-state")).to_have_text(
            "All 9Failed 1Blocked 4To do 2Not verified 8Verified 1"
        )
        page.get_by_test_id("installation-row").filter(has_text="chart row of 700x28C").click()
        expect(page.get_by_test_id("shown")).to_contain_text("Blocked at Readout")
        page.get_by_role("button", name="Go to the readout").click()
        expect(page.get_by_test_id("to-type")).to_have_text("2154")
        self.field("readouts.0.current_setting").fill("2154")
        expect(page.get_by_test_id("shown")).not_to_contain_text("Blocked")
        expect(page.get_by_test_id("change")).to_contain_text("24.79 → 25 km/h")
        self.expect_saved(3)
        self.assertEqual(head_of(self.installation_of("Plover")).document["readouts"][0]["current_setting"], 2154)

    def test_why_shows_the_formula_with_this_installations_numbers(self) -> None:
        page = self.open_installation("Dotterel")
        page.get_by_role("button", name="Why?").click()
        expect(page.get_by_test_id("why")).to_contain_text("D = 25.4 × 22 = 558.8 mm")
        expect(page.get_by_test_id("why")).to_contain_text("the other factor gives 1704.3 mm")

    def test_the_steps_stand_with_their_caution(self) -> None:
        page = self.open_installation("Dotterel")
        page.get_by_role("button", name="Show steps: Roll the wheel").click()
        dialog = page.get_by_role("dialog")
        expect(dialog).to_contain_text("someone at the brakes")
        expect(dialog).to_contain_text("Chalk a line across the tyre")

    def test_a_test_that_agreed_makes_the_line_double(self) -> None:
        page = self.open_installation("Whimbrel")
        page.get_by_role("button", name="Record a passed test").click()
        page.get_by_role("button", name="Save test, dated today").click()
        expect(page.locator("[data-stage=wheel]")).to_have_attribute("data-evidence", "verified")
        self.expect_saved()

    def test_a_second_readout_has_its_own_number(self) -> None:
        page = self.open_installation("Whimbrel", "readout")
        page.get_by_role("button", name="Add readout").click()
        expect(page.get_by_role("button", name="Readout 2", exact=True)).to_have_attribute("aria-pressed", "true")
        self.field("readouts.1.encoding").select_option("pulses_per_km")
        expect(page.get_by_test_id("to-type")).to_have_text("687")

    def test_export_and_import(self) -> None:
        page = self.open_installation("Sandpiper")
        with page.expect_download() as started:
            self.menu("Export", page)
        self.assertTrue(started.value.suggested_filename.endswith(".installation.json"))
        with TemporaryDirectory() as folder:
            file = Path(folder) / "sandpiper.installation.json"
            started.value.save_as(file)
            exported = read_installation(json.loads(file.read_text("utf-8")))
            self.assertEqual(exported.readouts[0].current_setting, 521)
            page.goto(self.address("/"))
            card = page.get_by_role("article", name="Plover")
            with page.expect_file_chooser() as chooser:
                card.get_by_role("button", name="Edit").click()
                page.get_by_role("button", name="Import an installation file").click()
            chooser.value.set_files(file)
            expect(card.get_by_test_id("installation-row")).to_have_count(2)
            file.write_text('{"name": "half an installation"}', "utf-8")
            with page.expect_file_chooser() as chooser:
                card.get_by_role("button", name="Edit").click()
                page.get_by_role("button", name="Import an installation file").click()
            chooser.value.set_files(file)
            expect(page.get_by_role("dialog").get_by_role("alert")).to_contain_text("purpose: This field is missing")

    def test_the_logbook_brings_an_earlier_state_back(self) -> None:
        page = self.open_installation("Sandpiper")
        self.menu("Logbook", page)
        expect(page.get_by_role("dialog")).to_contain_text("Wheel: method Size marking → Roll-out")
        page.get_by_role("button", name="Restore").last.click()
        self.expect_saved(5)
        self.assertEqual(head_of(self.installation_of("Sandpiper")).document["wheel"]["method"], "marking")

    def test_the_details_of_a_installation_and_of_a_vehicle(self) -> None:
        page = self.open_installation("Whimbrel")
        self.menu("Details", page)
        self.field("name").fill("Cycle computer, right front")
        page.get_by_label("Notes").fill("Magnet at the valve.")
        page.get_by_role("button", name="Close").click()
        self.expect_saved()  # one revision or two, as fast as this machine types
        document = head_of(self.installation_of("Whimbrel")).document
        self.assertEqual((document["name"], document["notes"]), ("Cycle computer, right front", "Magnet at the valve."))
        page.goto(self.address("/"))
        page.get_by_role("article", name="Whimbrel").get_by_role("button", name="Edit").click()
        self.field("edit-name").fill("Grebe")
        page.get_by_role("button", name="Save").click()
        expect(page.get_by_text("Choose another name")).to_be_visible()
        self.field("edit-name").fill("Curlew")
        page.get_by_role("button", name="Save").click()
        expect(page.get_by_role("article", name="Curlew")).to_be_visible()

    def test_deleting_asks_first(self) -> None:
        page = self.sign_in()
        page.get_by_role("article", name="Grebe").get_by_role("button", name="Edit").click()
        page.get_by_role("button", name="Delete this vehicle …").click()
        page.get_by_role("button", name="Cancel").click()
        page.get_by_role("button", name="Close").click()
        expect(page.get_by_role("article")).to_have_count(6)
        page.get_by_role("article", name="Grebe").get_by_role("button", name="Edit").click()
        page.get_by_role("button", name="Delete this vehicle …").click()
        page.get_by_role("button", name="Delete", exact=True).click()
        expect(page.get_by_role("article")).to_have_count(5)
