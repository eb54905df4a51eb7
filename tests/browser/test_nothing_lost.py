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

    def test_undo_and_redo(self) -> None:
        page = self.sign_in()
        self.open_installation("Turnstone", "target")
        self.field("target.count").fill("44")
        expect(page.get_by_test_id("shown-kmh")).to_have_text("89.4")
        page.keyboard.press("Control+z")
        expect(self.field("target.count")).to_have_value("48")
        expect(page.get_by_test_id("shown-kmh")).to_have_text("97.6")
        page.keyboard.press("Control+Shift+z")
        expect(self.field("target.count")).to_have_value("44")
        page.get_by_role("button", name="Undo").click()
        expect(self.field("target.count")).to_have_value("48")

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
        self.context.clear_cookies(name="sessionid")
        self.field("target.count").fill("40")
        page.get_by_role("button", name="Open the demo workshop").click()
        expect(self.field("target.count")).to_have_value("40")
        self.expect_saved(3)


class TwoTabs(BrowserTestCase):
    def conflict(self) -> None:
        self.sign_in()
        self.second = self.context.new_page()
        self.open_installation("Turnstone", "target")
        self.open_installation("Turnstone", "target", self.second)
        self.field("target.count", self.second).fill("50")
        self.expect_saved(3, self.second)
        self.field("target.count").fill("46")
        self.dialog = self.page.get_by_role("dialog")
        expect(self.dialog).to_contain_text("Someone else saved a newer revision")
        expect(self.dialog.get_by_role("row").filter(has_text="target count")).to_contain_text("4650")

    def test_keep_mine_saves_it_as_the_next_revision(self) -> None:
        self.conflict()
        self.dialog.get_by_role("button", name="Save my version as the next revision").click()
        self.expect_saved(4)
        self.assertEqual(head_of(self.installation_of("Turnstone")).document["target"]["count"], 46)

    def test_take_theirs_and_undo_brings_mine_back(self) -> None:
        self.conflict()
        self.dialog.get_by_role("button", name="Use revision 3").click()
        expect(self.field("target.count")).to_have_value("50")
        self.expect_saved(3)
        self.page.get_by_role("button", name="Undo").click()
        expect(self.field("target.count")).to_have_value("46")
        self.expect_saved(4)
