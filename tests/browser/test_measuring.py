"""The wheel measured in several ways, compared with each other, corrected, and changed for another."""

from __future__ import annotations

import re

from django.contrib.auth.models import User
from playwright.sync_api import expect

from speedchain import read_installation
from tests.browser.base import BrowserTestCase
from workshop.installations import Base, head_of, save_installation
from workshop.models import InstallationRecord, Task

FRONT = "Slip log, front left"


class Methods(BrowserTestCase):
    def open_front(self) -> InstallationRecord:
        self.sign_in()
        record = InstallationRecord.objects.get(revisions__document__name=FRONT)
        self.page.goto(self.address(f"/installation/{record.pk}/wheel"))
        expect(self.page.get_by_test_id("shown-kmh")).to_be_visible()
        return record

    def test_looking_at_a_method_uses_it_not(self) -> None:
        page = self.open_installation("Turnstone")
        record = self.installation_of("Turnstone")
        used = page.locator(".method-row[data-used=true]")
        before = used.get_attribute("data-testid")
        row = page.get_by_test_id("method-marking")
        row.get_by_role("button", name="Size marking", exact=True).click()
        expect(self.field("wheel.marking.text")).to_be_visible()
        expect(used).to_have_attribute("data-testid", before or "")
        record.refresh_from_db()
        self.assertEqual(head_of(record).document["wheel"]["method"], (before or "").removeprefix("method-"))
        row.get_by_role("radio").check()
        expect(used).to_have_attribute("data-testid", "method-marking")

    def test_three_methods_that_disagree_and_the_likely_cause(self) -> None:
        self.open_front()
        page = self.page
        expect(page.get_by_test_id("method-marking")).to_contain_text("1620 ± 32")
        expect(page.get_by_test_id("method-roll_out")).to_contain_text("1665 ± 1.6")
        page.get_by_role("tab", name="Methods compared").click()
        result = page.get_by_test_id("comparison")
        expect(result).to_contain_text("but the methods do not agree")
        expect(result).to_contain_text("the tyre on the wheel does not match the marking")
        expect(result.get_by_role("img", name="All methods on one axis")).to_be_visible()
        expect(result).to_contain_text("In use: 3.05, default")

    def test_a_method_is_entered_without_being_used_then_used(self) -> None:
        record = self.open_front()
        page = self.page
        page.get_by_role("button", name="Open Axle height").click()
        self.field("wheel.axle_height.axle_height_mm").fill("9.8 in")
        expect(page.get_by_test_id("method-axle_height")).to_contain_text("±")
        expect(page.get_by_test_id("would-show")).to_contain_text("would show 100.0 km/h")
        self.field("wheel.axle_height.axle_height_mm").fill("9.8 km")
        expect(page.get_by_test_id("shown")).to_contain_text("Last good figures")
        expect(page.get_by_text("must be 5 to 3000 mm")).to_have_count(2)
        expect(page.get_by_test_id("method-roll_out")).to_contain_text("1665 ± 1.6")
        self.field("wheel.axle_height.axle_height_mm").fill("250")
        page.get_by_role("button", name="Use this").click()
        expect(page.locator("[data-stage=wheel]")).to_contain_text("16")
        page.get_by_role("radio", name="All methods combined").check()
        self.expect_saved()
        wheel = head_of(InstallationRecord.objects.get(pk=record.pk)).document["wheel"]
        self.assertEqual((wheel["method"], wheel["axle_height"]["axle_height_mm"]), ("combined", 250))

    def test_a_guided_roll_out_with_repeats(self) -> None:
        record = self.open_front()
        page = self.page
        page.get_by_role("button", name="Show steps", exact=True).click()
        dialog = page.get_by_role("dialog")
        expect(dialog).to_contain_text("Level, closed ground")
        dialog.get_by_role("checkbox").nth(1).check()
        expect(dialog.get_by_test_id("progress")).to_contain_text("1 reading: mean 1665 mm per turn")
        dialog.get_by_test_id("wheel.roll_out.repeats_mm.next").fill("4.992 m")
        dialog.get_by_role("button", name="Add").click()
        expect(dialog.get_by_test_id("progress")).to_contain_text("2 readings: mean 1664.5 mm per turn, scatter 0.7 mm")
        expect(dialog.get_by_test_id("progress")).to_contain_text("One more turn: ±")
        dialog.get_by_role("button", name="Close").click()
        self.expect_saved(2)
        wheel = head_of(InstallationRecord.objects.get(pk=record.pk)).document["wheel"]
        self.assertEqual(wheel["roll_out"]["repeats_mm"], [4992])

    def test_wear_and_growth_are_in_the_figure(self) -> None:
        self.open_front()
        page = self.page
        page.get_by_role("tab", name="Wear, load, growth").click()
        self.field("wheel.corrections.growth_pct").fill("1")
        expect(page.get_by_text("so 1 % at 100 km/h")).to_be_visible()
        expect(page.locator("[data-stage=wheel]")).to_contain_text("1682")
        page.get_by_role("button", name="Roll out at another pressure or load").click()
        self.field("wheel.corrections.other_load.distance_mm").fill("4950")
        expect(page.get_by_text("Other pressure or load")).to_be_visible()

    def test_the_chart_of_the_workshop(self) -> None:
        self.sign_in()
        page = self.open_installation("Plover")
        page.get_by_role("button", name="Open Cycle chart").click()
        page.get_by_role("button", name="Open the chart").click()
        dialog = page.get_by_role("dialog")
        expect(dialog).to_contain_text("values from memory")
        dialog.get_by_role("button", name="Edit chart").click()
        dialog.get_by_role("button", name="Add row").click()
        dialog.get_by_label("Row 9", exact=True).fill("32 inches")
        dialog.get_by_label("Circumference").last.fill("2160")
        dialog.get_by_role("button", name="Save chart").click()
        expect(dialog.get_by_text("is not a size marking")).to_be_visible()
        dialog.get_by_label("Row 9", exact=True).fill("32-622")
        dialog.get_by_role("button", name="Save chart").click()
        expect(dialog).to_contain_text("Cycle chart of this workshop")
        dialog.get_by_role("button", name="32-622").click()
        expect(page.get_by_test_id("method-chart")).to_contain_text("2160 ± 30")

    def test_the_size_is_found_by_the_kind_of_wheel(self) -> None:
        self.sign_in()
        page = self.page
        page.goto(self.address("/new"))
        page.get_by_role("button", name="Find the size").click()
        dialog = page.get_by_role("dialog")
        dialog.get_by_role("button", name="Kart").click()
        dialog.get_by_role("button", name="11x6.00-5").click()
        expect(self.field("marking")).to_have_value("11x6.00-5")


class Tyre(BrowserTestCase):
    def test_a_new_tyre_is_looked_at_put_on_and_what_is_due_ticked_off(self) -> None:
        self.sign_in()
        page = self.open_installation("Plover")
        page.get_by_role("tab", name="Change the tyre").click()
        self.field("new-tyre").fill("huge")
        expect(page.get_by_test_id("tyre-change")).to_contain_text("is not a size marking")
        self.field("new-tyre").fill("50-622")
        result = page.get_by_test_id("tyre-change")
        expect(result).to_contain_text("2154 mm becomes 2268 mm per turn (+5.3 %)")
        expect(result).to_contain_text("Roll out the new 50-622")
        self.assertEqual(self.installation_of("Plover").head, 2)
        result.get_by_role("button", name="Apply tyre change").click()
        expect(result).to_contain_text("Tyre change saved")
        self.expect_saved(3)
        expect(page.locator("[data-stage=wheel]")).to_have_attribute("data-evidence", "assumed")
        tasks = page.get_by_test_id("tasks")
        expect(tasks).to_contain_text("to do")
        tasks.get_by_role("button").click()
        expect(page.get_by_role("dialog")).to_contain_text("Enter 2268 mm into Hub display (now 2136)")
        boxes = page.get_by_role("dialog").get_by_role("checkbox")
        expect(boxes).to_have_count(2)
        for place in range(2):
            boxes.nth(place).click()
            expect(page.get_by_role("dialog").get_by_text("done ")).to_have_count(place + 1)
        page.get_by_role("button", name="Close").click()
        expect(tasks).to_contain_text("Nothing to do")
        self.assertEqual(Task.objects.filter(installation=self.installation_of("Plover"), done_at=None).count(), 0)
        page.get_by_role("button", name="Undo").click()
        expect(page.locator("[data-stage=wheel]")).to_contain_text("2154")

    def test_a_marking_that_cannot_be_read_leaves_the_last_good_figures_marked_stale(self) -> None:
        self.sign_in()
        page = self.open_installation("Plover")
        page.get_by_role("tab", name="Change the tyre").click()
        result = page.get_by_test_id("tyre-change")
        self.field("new-tyre").fill("50-622")
        expect(result).to_contain_text("(+5.3 %)")
        self.field("new-tyre").fill("50-62")
        expect(result).to_contain_text("Last good figures")
        expect(result).to_contain_text("(+5.3 %)")
        expect(result.get_by_role("button", name="Apply tyre change")).to_be_disabled()
        self.field("new-tyre").fill("40-622")
        expect(result).not_to_contain_text("Last good figures")
        expect(result).to_contain_text("(+2.4 %)")

    def test_somebody_saved_before_the_tyre_went_on(self) -> None:
        self.sign_in()
        page = self.open_installation("Plover")
        page.get_by_role("tab", name="Change the tyre").click()
        self.field("new-tyre").fill("50-622")
        result = page.get_by_test_id("tyre-change")
        expect(result).to_contain_text("To do after the change")
        record = self.installation_of("Plover")
        elsewhere = head_of(record).document
        demo = User.objects.get(username="demo")
        save_installation(demo, record.pk, Base(2), read_installation(elsewhere | {"notes": "Saved at the stand."}))
        result.get_by_role("button", name="Apply tyre change").click()
        expect(result).to_contain_text("version 3 is newer")
        self.assertEqual(self.installation_of("Plover").head, 3)
        self.assertEqual(Task.objects.filter(installation=record).count(), 0)

    def test_the_list_shows_the_tasks(self) -> None:
        self.sign_in()
        expect(self.page.get_by_test_id("vehicles-state")).to_contain_text("To do 2")
        expect(self.page.get_by_test_id("installation-tasks")).to_contain_text("Enter 40796 pulses per km into Logger")


class Vehicle(BrowserTestCase):
    def test_speed_and_track_are_typed_in_the_units_of_the_page(self) -> None:
        page = self.sign_in()
        vehicle = self.installation_of("Dotterel").vehicle
        self.read_miles()
        page.goto(self.address(f"/vehicle/{vehicle.pk}"))
        speed, track = self.field("sheet-speed_kmh"), self.field("sheet-track_mm")
        expect(speed).to_have_value("62.14")
        expect(track).to_have_value("51.9685")
        speed.fill("50")
        track.fill("60")
        page.wait_for_timeout(1500)
        vehicle.refresh_from_db()
        self.assertAlmostEqual(vehicle.sheet["speed_kmh"], 50 * 1.609344)
        self.assertAlmostEqual(vehicle.sheet["track_mm"], 1524)
        expect(speed).to_have_value("50")
        sent: list[str] = []
        page.on("request", lambda request: sent.append(request.url) if request.method == "PUT" else None)
        speed.fill("0")
        expect(page.get_by_text("must be 0.311 to 621").first).to_be_visible()
        page.wait_for_timeout(2000)
        self.assertEqual(len(sent), 1)  # what is refused is not sent over and over

    def test_all_installations_at_one_speed(self) -> None:
        self.sign_in()
        page = self.page
        page.get_by_role("link", name="Dotterel", exact=True).click()
        rows = page.get_by_test_id("sheet").get_by_role("row")
        expect(rows).to_have_count(5)
        expect(rows.nth(2)).to_contain_text("801")
        seen = page.get_by_test_id("from-above")
        expect(seen.get_by_role("link", name=FRONT)).to_contain_text("nothing")
        expect(seen.get_by_role("link", name=FRONT)).to_contain_text("Blocked")
        expect(seen.get_by_role("img")).to_have_accessible_name(
            re.compile("front at the top.*Old gauge, cable, Shaft or gearbox: 107 km/h, Not verified")
        )
        expect(page.get_by_test_id("slip")).to_contain_text("+1.70 %")
        self.field("sheet-speed_kmh").fill("70 mph")
        expect(rows.nth(2)).to_contain_text("902")
        expect(seen.get_by_role("link", name="Old gauge")).to_contain_text("121 km/h")
        self.field("sheet-radius_m").fill("in circles")
        expect(page.get_by_text("is not a valid radius of the turn")).to_be_visible()
        expect(rows.nth(2)).to_contain_text("902")
        self.field("sheet-radius_m").fill("4")
        expect(page.get_by_text("In a left turn of 4 m")).to_be_visible()
        page.reload()
        expect(self.field("sheet-radius_m")).to_have_value("4")
        page.get_by_test_id("sheet").get_by_role("link", name=FRONT).click()
        expect(page.get_by_test_id("shown-kmh")).to_be_visible()
        page.keyboard.press("v")
        expect(page.get_by_role("heading", name="Dotterel")).to_be_visible()

    def test_units_follow_the_person_to_another_device(self) -> None:
        self.sign_in()
        self.page.keyboard.press("u")
        expect(self.page.get_by_role("button", name="mph")).to_be_visible()
        other = self.new_context().new_page()
        self.sign_in(other)
        expect(other.get_by_role("button", name="mph")).to_be_visible()
