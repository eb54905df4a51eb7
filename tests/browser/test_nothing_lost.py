"""Bad input, reload, undo, a stopped server, another tab: nothing typed is lost."""

from playwright.sync_api import Route, expect

from tests.browser.base import BrowserTestCase
from workshop.installations import head_of


class NothingLost(BrowserTestCase):
    def test_text_with_a_unit_is_read_and_its_meaning_shown(self) -> None:
        page = self.sign_in()
        self.open_installation("Turnstone")
        self.field("wheel.taped_diameter.diameter_mm").fill("23.5in")
        expect(page.get_by_text("= 596.9 mm")).to_be_visible()
        self.expect_saved(3)
        self.assertEqual(
            head_of(self.installation_of("Turnstone")).document["wheel"]["taped_diameter"]["diameter_mm"], 596.9
        )

    def test_a_bad_field_says_why_and_the_last_good_result_stays(self) -> None:
        page = self.sign_in()
        self.open_installation("Turnstone")
        before = page.get_by_test_id("shown-kmh").inner_text()
        self.field("wheel.taped_diameter.diameter_mm").fill("61.2 m")
        expect(page.get_by_text("must be 10 to 6000 mm, not 61.2 m").first).to_be_visible()
        expect(page.get_by_test_id("shown")).to_contain_text("Last good figures")
        expect(page.get_by_test_id("shown-kmh")).to_have_text(before)
        expect(page.get_by_test_id("save-state")).to_contain_text("Not saved: correct the marked field")
        page.reload()
        expect(self.field("wheel.taped_diameter.diameter_mm")).to_have_value("61.2 m")
        expect(page.get_by_text("must be 10 to 6000 mm, not 61.2 m").first).to_be_visible()
        self.assertEqual(self.installation_of("Turnstone").head, 2)
        self.field("wheel.taped_diameter.diameter_mm").fill("612")
        self.expect_saved(3)

    def test_a_stage_opened_without_the_server_comes_when_it_is_back(self) -> None:
        page = self.sign_in()
        away = True
        # neither ahead of time nor when it is opened
        for address in ("**/assets/SignalStage-*.js", "**/api/health"):
            page.route(address, lambda route: route.abort() if away else route.continue_())
        self.open_installation("Turnstone", "sensor")
        page.locator("[data-stage=signal]").click()
        expect(page.get_by_text("Opening …")).to_be_visible()
        page.wait_for_timeout(2000)
        expect(page.get_by_test_id("broken")).to_have_count(0)
        away = False
        expect(page.get_by_text("Sensor output:")).to_be_visible()

    def test_undo_and_redo(self) -> None:
        page = self.sign_in()
        self.open_installation("Turnstone", "target")
        self.field("target.count").fill("44")
        expect(page.get_by_test_id("shown-kmh")).to_have_text("89.2")
        page.get_by_role("button", name="Undo").click()
        expect(self.field("target.count")).to_have_value("48")
        expect(page.get_by_test_id("shown-kmh")).to_have_text("97.3")
        page.keyboard.press("Control+Shift+z")
        expect(self.field("target.count")).to_have_value("44")
        page.keyboard.press("Control+z")
        expect(self.field("target.count")).to_have_value("48")

    def test_inside_a_field_undo_takes_back_its_own_text(self) -> None:
        page = self.sign_in()
        self.open_installation("Turnstone", "target")
        self.field("target.count").fill("44")
        self.expect_saved(3)
        count = self.field("target.count")
        count.press("End")
        count.press("Backspace")
        expect(page.get_by_test_id("shown-kmh")).to_have_text("8.1")
        count.press("Control+z")
        expect(count).to_have_value("44")
        self.expect_saved(3)

    def test_a_number_on_its_way_is_no_revision(self) -> None:
        """4 on the way to 46: seen at once, saved when the field is left."""
        page = self.sign_in()
        self.open_installation("Turnstone", "target")
        self.field("target.count").fill("4")
        expect(page.get_by_test_id("shown-kmh")).to_have_text("8.1")
        expect(page.get_by_test_id("save-state")).to_have_text("Not saved yet …")
        page.wait_for_timeout(3000)
        self.assertEqual(self.installation_of("Turnstone").head, 2)
        self.field("target.count").fill("46")
        self.field("target.count").press("Enter")
        expect(page.get_by_test_id("save-state")).to_have_text("Saved, revision 3")

    def test_steps_of_one_field_are_one_revision(self) -> None:
        page = self.sign_in()
        self.open_installation("Turnstone", "target")
        self.field("target.count").focus()
        for _ in range(3):
            page.keyboard.press("ArrowUp")
            page.wait_for_timeout(1200)
        expect(page.get_by_test_id("save-state")).to_have_text("Saved, revision 3")
        self.assertEqual(head_of(self.installation_of("Turnstone")).document["target"]["count"], 51)

    def test_leaving_at_once_saves_what_was_typed(self) -> None:
        page = self.sign_in()
        self.open_installation("Turnstone", "target")
        self.field("target.count").fill("47")
        self.walk(page, "/")
        expect(page.get_by_role("heading", name="Vehicles")).to_be_visible()
        self.open_installation("Turnstone", "target")
        expect(self.field("target.count")).to_have_value("47")
        self.expect_saved(3)

    def test_a_slow_save_and_another_edit_are_no_conflict(self) -> None:
        page = self.sign_in()
        self.open_installation("Turnstone", "target")

        def slowly(route: Route) -> None:
            page.wait_for_timeout(2500)
            route.continue_()

        page.route(
            "**/api/installations/*",
            lambda route: slowly(route) if route.request.method == "PUT" else route.continue_(),
        )
        self.field("target.count").fill("47")
        self.field("target.count").press("Enter")
        expect(page.get_by_test_id("save-state")).to_have_text("Saving …")
        self.field("target.count").fill("46")
        self.field("target.count").press("Enter")
        expect(page.get_by_test_id("save-state")).to_have_text("Saved, revision 3")
        self.assertEqual(head_of(self.installation_of("Turnstone")).document["target"]["count"], 46)

    def test_a_reload_in_the_middle_of_typing(self) -> None:
        page = self.sign_in()
        self.open_installation("Turnstone", "target")
        self.field("target.count").fill("47")
        page.reload()
        expect(self.field("target.count")).to_have_value("47")
        self.expect_saved(3)

    def test_a_server_that_is_away(self) -> None:
        page = self.sign_in()
        self.open_installation("Turnstone", "target")
        away = lambda route: route.abort("connectionrefused")  # noqa: E731
        page.route("**/api/**", away)
        self.field("target.count").fill("46")
        self.field("target.count").press("Enter")
        expect(page.get_by_test_id("save-state")).to_contain_text("Server cannot be reached. Kept on this device")
        page.unroute("**/api/**", away)
        self.expect_saved(3)
        self.assertEqual(head_of(self.installation_of("Turnstone")).document["target"]["count"], 46)

    def test_a_save_whose_answer_was_lost_is_not_saved_twice(self) -> None:
        page = self.sign_in()
        self.open_installation("Turnstone", "target")
        lost: list[int] = []

        def lose_the_answer(route: Route) -> None:
            if route.request.method == "PUT" and not lost:
                lost.append(route.fetch().status)
                route.abort("connectionreset")
            else:
                route.continue_()

        page.route("**/api/installations/*", lose_the_answer)
        self.field("target.count").fill("45")
        self.expect_saved(3)
        self.assertEqual(lost, [200])
        self.assertEqual(self.installation_of("Turnstone").head, 3)

    def test_signed_out_in_the_middle(self) -> None:
        page = self.sign_in()
        self.open_installation("Turnstone", "target")
        held: list[Route] = []
        typed = False
        # what the page still asks for does not say it before something is typed
        page.route("**/api/**", lambda route: route.continue_() if typed else held.append(route))
        self.context.clear_cookies(name="sessionid")
        self.field("target.count").fill("40")
        typed = True
        for route in held:
            route.continue_()
        page.get_by_role("button", name="Open the demo workshop").click()
        expect(self.field("target.count")).to_have_value("40")
        self.expect_saved(3)


class TwoTabs(BrowserTestCase):
    def other_saves(self, **fields: str) -> None:
        """A second tab, opened at the same revision, saves first."""
        self.sign_in()
        self.second = self.context.new_page()
        self.open_installation("Turnstone", "target")
        self.open_installation("Turnstone", "target", self.second)
        for path, value in fields.items():
            self.field(path.replace("__", "."), self.second).fill(value)
        self.expect_saved(3, self.second)

    def conflict(self) -> None:
        self.other_saves(target__count="50")
        self.field("target.count").fill("46")
        self.field("target.count").press("Enter")
        self.dialog = self.page.get_by_role("dialog")
        expect(self.dialog).to_contain_text("Someone else changed the same fields")
        expect(self.dialog.get_by_role("row").filter(has_text="Target: count per turn")).to_contain_text("484650")

    def count(self) -> int:
        number: int = head_of(self.installation_of("Turnstone")).document["target"]["count"]
        return number

    def test_different_fields_are_merged_and_said(self) -> None:
        self.other_saves(target__count="50")
        self.walk(self.page, f"/installation/{self.installation_of('Turnstone').pk}/wheel")
        self.field("wheel.taped_diameter.diameter_mm").fill("600")
        self.expect_saved(4)
        expect(self.page.get_by_test_id("taken")).to_contain_text("Target: count per turn")
        document = head_of(self.installation_of("Turnstone")).document
        self.assertEqual((document["target"]["count"], document["wheel"]["taped_diameter"]["diameter_mm"]), (50, 600))
        self.page.get_by_test_id("taken").get_by_role("button", name="Close").click()
        expect(self.page.get_by_test_id("taken")).to_have_count(0)

    def test_mine_is_saved_as_the_next_revision(self) -> None:
        self.conflict()
        self.assertEqual(self.count(), 50)
        self.dialog.get_by_role("button", name="Save as chosen").click()
        self.expect_saved(4)
        self.assertEqual(self.count(), 46)

    def test_theirs_by_keyboard_and_undo_brings_mine_back(self) -> None:
        self.conflict()
        self.page.get_by_test_id("yours target.count").focus()
        self.page.keyboard.press("ArrowRight")
        expect(self.page.get_by_test_id("theirs target.count")).to_be_checked()
        self.dialog.get_by_role("button", name="Save as chosen").click()
        expect(self.field("target.count")).to_have_value("50")
        self.expect_saved(3)
        self.page.get_by_role("button", name="Redo").is_disabled()


class Bin(BrowserTestCase):
    def test_a_deleted_installation_is_restored_from_the_bin(self) -> None:
        page = self.sign_in()
        self.open_installation("Turnstone", "target")
        path = page.url
        self.menu("Details", page)
        page.get_by_role("button", name="Delete this installation …").click()
        page.get_by_role("button", name="Put installation and logbook into the bin").click()
        expect(page.get_by_role("heading", name="Vehicles")).to_be_visible()
        page.get_by_role("link", name="Bin: what was deleted").click()
        expect(page.get_by_test_id("bin")).to_contain_text("Turnstone: ")
        page.get_by_role("button", name="Restore Turnstone").click()
        expect(page.get_by_text("The bin is empty.")).to_be_visible()
        page.goto(path)
        expect(self.field("target.count")).to_have_value("48")

    def test_a_failed_action_is_said_and_can_be_tried_again(self) -> None:
        page = self.sign_in()
        self.open_installation("Turnstone", "target")
        failing = lambda route: route.fulfill(status=500, json={"detail": "The server failed on this request."})  # noqa: E731
        page.route("**/api/installations/*/revisions/1", failing)
        self.menu("Logbook", page)
        page.get_by_role("button", name="Restore").last.click()
        failure = page.get_by_test_id("failure")
        expect(failure).to_contain_text("Restoring the revision failed")
        expect(failure).to_contain_text("The server failed on this request.")
        page.unroute("**/api/installations/*/revisions/1", failing)
        failure.get_by_role("button", name="Try again").click()
        self.expect_saved(3)
