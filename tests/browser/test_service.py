"""Service of a vehicle on the phone: what is due, notes, the timeline, the calendar."""

from __future__ import annotations

import json
from pathlib import Path

from playwright.sync_api import Page, expect

from devtools.browser import PHONE
from tests.browser.base import BrowserTestCase


class Service(BrowserTestCase):
    def open_service(self, vehicle: str = "Dotterel") -> Page:
        self.page = page = self.new_context(PHONE, has_touch=True).new_page()
        self.sign_in()
        page.goto(self.address(f"/vehicle/{self.installation_of(vehicle).vehicle_id}"))
        page.get_by_role("link", name="Service and timeline").click()
        expect(page.get_by_test_id("timeline")).to_contain_text("Revision 1")
        return page

    def test_of_two_who_set_the_limit_the_second_keeps_what_was_typed(self) -> None:
        page = self.open_service()
        other = page.context.new_page()
        page.wait_for_url("**/service")
        other.goto(page.url)
        for one, limit in ((page, "0.8"), (other, "0.9")):
            one.get_by_test_id("wear-limit").fill(limit)
        page.get_by_role("button", name="Set the limit").click()
        expect(page.get_by_test_id("due")).to_contain_text("move by 0.8 %")
        again = other.get_by_role("button", name="Set the limit")
        again.click()
        expect(other.get_by_role("alert").filter(has_text="Someone else set 0.8 % meanwhile")).to_be_visible()
        expect(other.get_by_test_id("wear-limit")).to_have_value("0.9")
        again.click()
        expect(other.get_by_test_id("due")).to_contain_text("move by 0.9 %")

    def test_due_done_and_put_off(self) -> None:
        page = self.open_service()
        due = page.get_by_test_id("due")
        expect(due).to_contain_text("Countershaft sensor: gap and plug")
        expect(due).to_contain_text("reached about")
        expect(page.get_by_test_id("wear")).to_contain_text("mm less tread in 1000 km")
        expect(due.get_by_role("img", name="the limit of 0.5 % is reached 628 km after the first")).to_be_visible()
        expect(page.get_by_test_id("due-line").get_by_role("img", name="3 items over time")).to_be_visible()
        expect(due).to_contain_text("Wear: the shown speed")
        page.get_by_test_id("wear-limit").fill("0,8")
        page.get_by_role("button", name="Set the limit").click()
        expect(due).to_contain_text("move by 0.8 %")
        expect(due.get_by_role("img", name="the limit of 0.8 %")).to_be_visible()
        page.get_by_text("Add a due item").click()
        page.get_by_role("button", name="Add", exact=True).click()
        expect(due.get_by_role("alert")).to_contain_text("Write it down")
        page.get_by_test_id("due-text").fill("Look at the chain")
        page.get_by_test_id("due-km").fill("4000")
        page.get_by_role("button", name="Add", exact=True).click()
        expect(due.locator("[data-state=overdue]")).to_contain_text("Look at the chain")
        page.get_by_role("button", name="Done: Look at the chain").click()
        expect(due).not_to_contain_text("Look at the chain")
        expect(page.get_by_test_id("timeline")).to_contain_text("Done: Look at the chain")
        due.get_by_role("button", name="Postpone").first.click()
        due.get_by_label("To", exact=True).fill("2031-01-02")
        due.get_by_label("Why").fill("waits for parts")
        due.get_by_role("button", name="Postpone").first.click()
        expect(due).to_contain_text("waits for parts")

    def test_notes_are_written_found_taken_out_and_brought_in(self) -> None:
        page = self.open_service("Grebe")
        page.get_by_test_id("note-kind").select_option("hours")
        page.get_by_test_id("note-value").fill("152,5")
        page.get_by_role("button", name="Add to the timeline").click()
        timeline = page.get_by_test_id("timeline")
        expect(timeline).to_contain_text("Hours 152.5")
        page.get_by_test_id("timeline-search").fill("paddle scrubbed")
        expect(timeline.get_by_role("listitem")).to_have_count(1)
        page.get_by_test_id("timeline-search").fill("")
        page.get_by_test_id("timeline-kind").select_option("note")
        expect(timeline.get_by_role("listitem")).to_have_count(3)
        with page.expect_download() as download:
            page.get_by_role("link", name="Timeline as JSON").click()
        kept = Path(download.value.path()).read_bytes()
        self.assertIn("hours", [item["kind"] for item in json.loads(kept)["items"]])
        page.get_by_role("button", name="Remove Hours 152.5.").click()
        page.get_by_role("button", name="Keep it").click()
        page.get_by_role("button", name="Remove Hours 152.5.").click()
        page.get_by_role("button", name="Remove for good").click()
        expect(timeline.get_by_role("listitem")).to_have_count(2)
        file = {"name": "timeline.json", "mimeType": "application/json", "buffer": kept}
        page.get_by_test_id("timeline-file").set_input_files(file)  # type: ignore[arg-type]
        expect(timeline).to_contain_text("1 entries imported,")
        wide = page.evaluate("document.documentElement.scrollWidth - document.documentElement.clientWidth")
        self.assertEqual(wide, 0)

    def test_a_part_is_fitted_and_what_follows_is_due(self) -> None:
        page = self.open_service("Turnstone")
        parts = page.get_by_test_id("parts")
        page.get_by_text("Add a part").click()
        page.get_by_test_id("part-kind").select_option("wheel")
        page.get_by_role("button", name="Add the part").click()
        expect(parts.get_by_role("alert")).to_contain_text("Enter its name")
        page.get_by_test_id("part-name").fill("Spare front wheel, studs")
        page.get_by_test_id("part-number").fill("cellar 3")
        page.get_by_role("button", name="Add the part").click()
        expect(parts).to_contain_text("Wheel: Spare front wheel, studs")
        expect(parts).to_contain_text("supplier's number cellar 3")
        expect(page.get_by_test_id("due")).to_contain_text("check that its magnet or ring is fitted")
        expect(page.get_by_test_id("timeline")).to_contain_text("Fitted: Wheel: Spare front wheel")
        parts.get_by_role("button", name="Removed today: Spare front wheel").click()
        expect(parts).to_contain_text("removed on")
        wide = page.evaluate("document.documentElement.scrollWidth - document.documentElement.clientWidth")
        self.assertEqual(wide, 0)

    def test_a_finding_and_a_task_are_put_on_the_list(self) -> None:
        page = self.open_service("Whimbrel")
        page.goto(self.address(f"/installation/{self.installation_of('Whimbrel').pk}/sensor"))
        finding = page.locator("[data-finding='placement.reed_end']")
        said = finding.inner_text().split("\n")[0].split(": ", 1)[1]
        finding.get_by_role("button", name="Add to the list").click()
        finding.get_by_label("For (role)").fill("engineer")
        finding.get_by_role("button", name="Add to the list", exact=True).click()
        expect(finding).to_contain_text("On the vehicle's list")
        page.goto(self.address(f"/vehicle/{self.installation_of('Whimbrel').vehicle_id}/service"))
        expect(page.get_by_test_id("due")).to_contain_text(said[:40])
        expect(page.get_by_test_id("due")).to_contain_text("for: engineer")

    def test_a_calendar_is_made_and_revoked(self) -> None:
        page = self.open_service("Grebe")
        page.get_by_role("button", name="Create address").click()
        address = page.get_by_test_id("feed-address").inner_text()
        self.assertIn("Clean the paddle", page.request.get(address).text())
        page.get_by_role("button", name="Revoke the address").click()
        expect(page.get_by_test_id("feed-address")).to_have_count(0)
        self.assertEqual(page.request.get(address).status, 404)
