"""What goes wrong on the way: no server, lists taken apart, entries clearances_checked, a vehicle without
installations, a rich document."""

from __future__ import annotations

from django.contrib.auth.models import User
from playwright.sync_api import expect

from devtools.browser import PHONE
from speedchain import read_installation
from tests.browser.base import BrowserTestCase
from tests.core.test_every_field import RICH
from workshop.installations import add_installation, head_of
from workshop.models import Task, Vehicle


class HardCases(BrowserTestCase):
    def test_the_server_is_away_while_a_tyre_is_changed(self) -> None:
        page = self.open_installation("Plover")
        page.get_by_role("tab", name="Change the tyre").click()
        self.field("new-tyre").fill("50-622")
        result = page.get_by_test_id("tyre-change")
        expect(result).to_contain_text("To do after the change")
        page.context.set_offline(True)
        result.get_by_role("button", name="Apply tyre change").click()
        expect(page.get_by_test_id("away")).to_contain_text("The server cannot be reached. Trying again")
        expect(self.field("new-tyre")).to_have_value("50-622")
        page.context.set_offline(False)
        expect(result).to_contain_text("Tyre change saved")
        self.assertEqual(self.installation_of("Plover").head, 3)
        self.assertEqual(Task.objects.filter(installation=self.installation_of("Plover")).count(), 2)

    def test_lists_are_taken_apart_line_by_line(self) -> None:
        page = self.open_installation("Whimbrel", "readout")
        self.field("readouts.0.encoding").select_option("frequency_table")
        self.settle(page)  # the rows stand before the answer about them
        page.get_by_role("button", name="Remove speed 2").click()
        expect(self.field("readouts.0.table.2.speed_kmh")).to_have_count(0)
        page.get_by_role("button", name="Add check speed").click()
        expect(self.field("readouts.0.table.2.speed_kmh")).to_have_value("160")
        self.field("readouts.0.table.2.speed_kmh").fill("100")
        expect(page.get_by_text("each larger than the one before").first).to_be_visible()
        self.field("readouts.0.table.2.speed_kmh").fill("200")
        expect(page.get_by_text("each larger than the one before")).to_have_count(0)
        page.get_by_role("button", name="Add readout").click()
        page.get_by_role("button", name="Readout 2", exact=True).click()
        page.get_by_role("button", name="Remove Readout 2").click()
        expect(self.field("readouts.0.name")).to_have_value("Computer")
        self.expect_saved()
        readout = head_of(self.installation_of("Whimbrel")).document["readouts"]
        self.assertEqual([point["speed_kmh"] for point in readout[0]["table"]], [40, 120, 200])

    def test_a_method_not_in_use_is_cleared_and_the_quarrel_is_gone(self) -> None:
        page = self.open_installation("Whimbrel")
        expect(page.locator("[data-finding='wheel.methods_disagree']")).to_be_visible()
        page.get_by_role("button", name="Open Size marking").click()
        page.get_by_role("button", name="Clear it").click()
        expect(page.locator("[data-finding='wheel.methods_disagree']")).to_have_count(0)
        expect(page.get_by_test_id("method-marking")).not_to_contain_text("±")
        page.get_by_role("button", name="Undo").click()
        expect(page.get_by_test_id("method-marking")).to_contain_text("1596 ± 48")

    def test_a_ticked_item_can_be_opened_again(self) -> None:
        page = self.open_installation("Dotterel")
        page.get_by_test_id("tasks").get_by_role("button").click()
        box = page.get_by_role("dialog").get_by_role("checkbox").first
        box.click()
        expect(page.get_by_role("dialog")).to_contain_text("by volunteer")
        box.click()
        expect(page.get_by_role("dialog")).not_to_contain_text("by volunteer")
        self.assertEqual(Task.objects.filter(done_at=None).count(), 3)

    def test_the_chart_goes_back_to_the_first(self) -> None:
        page = self.open_installation("Plover")
        page.get_by_role("button", name="Open Cycle chart").click()
        page.get_by_role("button", name="Open the chart").click()
        dialog = page.get_by_role("dialog")
        dialog.get_by_role("button", name="Edit chart").click()
        dialog.get_by_role("button", name="Remove row 1", exact=True).click()
        dialog.get_by_role("button", name="Save chart").click()
        expect(dialog).to_contain_text("Cycle chart of this workshop")
        expect(dialog.get_by_role("button", name="20x1.75")).to_have_count(0)
        dialog.get_by_role("button", name="Restore the original chart").click()
        expect(dialog.get_by_role("button", name="20x1.75")).to_be_visible()
        dialog.get_by_role("button", name="Edit chart").click()
        dialog.get_by_label("Row 1", exact=True).fill("wrong")
        dialog.get_by_role("button", name="Cancel").click()
        expect(dialog.get_by_role("button", name="20x1.75")).to_be_visible()

    def test_a_vehicle_without_installations_teaches_how_to_begin(self) -> None:
        page = self.sign_in()
        workshop = self.installation_of("Plover").vehicle.workshop
        empty = Vehicle.objects.create(workshop=workshop, name="Avocet", kind="scooter")
        self.walk(page, f"/vehicle/{empty.pk}")
        page.get_by_role("link", name="Start an installation on Avocet").click()
        expect(page.get_by_role("heading", name="New installation")).to_be_visible()
        expect(page.get_by_label("Vehicle", exact=True)).to_have_value(str(empty.pk))
        page.goto(self.address("/vehicle/999999"))
        expect(page.get_by_role("alert")).to_contain_text("does not exist in your workshop")

    def test_a_boat_begins_with_its_paddle(self) -> None:
        page = self.sign_in()
        self.walk(page, "/new")
        page.get_by_role("radio", name="Speed through water").check()
        self.field("vehicle-name").fill("Shelduck")
        expect(self.field("vehicle-kind")).to_have_value("boat")
        self.field("count").fill("4")
        expect(page.get_by_test_id("preview")).to_contain_text("enter 20000 pulses per nautical mile")
        self.field("circumference").fill("18 500")
        expect(page.get_by_test_id("preview")).to_contain_text("enter 18500 pulses per nautical mile")
        page.get_by_role("button", name="Create installation").click()
        expect(page.locator("[data-stage=wheel]")).to_contain_text("Paddle")
        self.assertEqual(head_of(self.installation_of("Shelduck")).document["sensed_at"], "hull")

    def test_a_document_with_everything_in_it_opens_at_every_link(self) -> None:
        page = self.sign_in()
        demo = User.objects.get(username="demo")
        record = add_installation(demo, self.installation_of("Plover").vehicle_id, read_installation(RICH))
        for stage in ("wheel", "drive", "target", "sensor", "signal", "readout"):
            self.walk(page, f"/installation/{record.pk}/{stage}")
            expect(page.locator("[aria-current=page]")).to_have_attribute("data-stage", stage)
        self.walk(page, f"/installation/{record.pk}/wheel")
        expect(page.locator("[data-testid^=method-]").filter(has_text="±")).to_have_count(10)
        page.get_by_role("tab", name="Methods compared").click()
        expect(page.get_by_test_id("comparison").get_by_role("img")).to_be_visible()

    def test_a_guide_is_there_without_the_server(self) -> None:
        """It came with the stage; and what is fitted now decides what it says."""
        page = self.page
        with page.expect_response(
            "**/api/guides"
        ) as guides:  # settled is what asks for nothing new: this may be on its way
            self.open_installation("Plover", "target")
        guides.value.finished()
        page.context.set_offline(True)
        page.get_by_role("button", name="Show steps", exact=True).click()
        expect(page.get_by_role("dialog")).to_contain_text("Mark the wheel against a fixed point.")
        self.escape(page)
        page.context.set_offline(False)
        self.field("target.count").fill("3")
        self.field("target.count").press("Enter")
        self.expect_saved()
        page.get_by_role("button", name="Show steps", exact=True).click()
        expect(page.get_by_role("dialog")).to_contain_text("Mark the first magnet with chalk or paint.")

    def test_a_guide_that_did_not_come_says_why(self) -> None:
        page = self.page
        page.route("**/api/guides", lambda route: route.abort())
        self.open_installation("Plover", "target")
        page.get_by_role("button", name="Show steps", exact=True).click()
        expect(page.get_by_role("dialog")).to_contain_text("The server cannot be reached.")
        page.unroute("**/api/guides")
        expect(page.get_by_role("dialog")).to_contain_text("Mark the wheel against a fixed point.")

    def test_a_guide_on_the_phone(self) -> None:
        context = self.new_context(PHONE, has_touch=True)
        page = context.new_page()
        self.sign_in(page)
        self.open_installation("Plover", "wheel", page)
        page.get_by_role("button", name="Show steps", exact=True).click()
        dialog = page.get_by_role("dialog")
        dialog.get_by_test_id("wheel.roll_out.repeats_mm.next").fill("6.46 m")
        dialog.get_by_role("button", name="Add").click()
        expect(dialog.get_by_test_id("progress")).to_contain_text("2 readings")
        wide = dialog.evaluate("node => node.scrollWidth <= node.clientWidth + 1")
        self.assertTrue(wide, "the dialog scrolls sideways")
