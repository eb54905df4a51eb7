"""Broken drafts, files, documents, panels, and a database that is away: each costs itself alone."""

from __future__ import annotations

import json
from copy import deepcopy
from typing import Any

from django.contrib.auth.models import User
from playwright.sync_api import Route, expect

from tests.browser.base import BrowserTestCase
from workshop.installations import head_of
from workshop.models import Member, Revision, Vehicle, Workshop


class BrokenThings(BrowserTestCase):
    def keep(self, account: str, content: Any, tab: str = "gone") -> None:
        """Put a draft on the device as a tab that is gone would have left it."""
        key = f"wheelometron.edits.{account}.{self.installation_of('Turnstone').pk}.{tab}"
        text = content if isinstance(content, str) else json.dumps(content)
        self.page.evaluate("([key, text]) => localStorage.setItem(key, text)", [key, text])

    def draft(self, **changes: Any) -> dict[str, Any]:
        document = head_of(self.installation_of("Turnstone")).document
        base = {"number": 2, "amended": 0, "document": document}
        return {"base": base, "sent": document, "touched": 0, "sending": None, "document": deepcopy(document) | changes}

    def test_a_broken_draft_is_set_aside_and_offered_as_a_file(self) -> None:
        for broken in ("{", "null", "7", self.draft(readouts=None), self.draft(wheel=[]), {"base": 2, "document": 5}):
            with self.subTest(str(broken)[:30]):
                page = self.sign_in() if self.page.url == "about:blank" else self.page
                self.walk(page, "/")
                expect(page.get_by_role("heading", name="Vehicles")).to_be_visible()
                self.keep("demo", broken)
                self.open_installation("Turnstone", "target")
                bar = page.get_by_test_id("broken-draft")
                expect(bar).to_contain_text("cannot be used. The saved version is shown")
                with page.expect_download() as download:
                    bar.get_by_role("button", name="Save the draft as a file").click()
                text = broken if isinstance(broken, str) else json.dumps(broken)
                self.assertEqual(download.value.path().read_text(), text)
                expect(self.field("target.count")).to_have_value("48")
                page.reload()
                expect(self.field("target.count")).to_have_value("48")
                expect(page.get_by_test_id("broken-draft")).to_have_count(0)

    def test_a_draft_with_a_wrong_value_is_still_taken_up(self) -> None:
        page = self.sign_in()
        draft = self.draft()
        draft["document"]["target"]["count"] = "4O"
        self.keep("demo", draft)
        self.open_installation("Turnstone", "target")
        expect(self.field("target.count")).to_have_value("4O")
        expect(page.get_by_test_id("save-state")).to_contain_text("Not saved: correct the marked field")

    def test_a_draft_belongs_to_the_account_that_made_it(self) -> None:
        page = self.open_installation("Turnstone", "target")
        page.route(
            "**/api/installations/*",
            lambda route: route.abort() if route.request.method == "PUT" else route.continue_(),
        )
        self.enter("target.count", "41")
        expect(page.get_by_test_id("save-state")).to_contain_text("Kept on this device")
        self.menu("Sign out", page)
        other = User.objects.create_user("other", password="a long pass phrase")
        Member.objects.create(user=other, workshop=Workshop.objects.get(is_demo=True), role="helper")
        page.unroute_all()
        page.get_by_label("Name").fill("other")
        page.get_by_label("Password").fill("a long pass phrase")
        page.get_by_role("button", name="Sign in", exact=True).click()
        expect(page.get_by_role("heading", name="Vehicles")).to_be_visible()
        self.page.wait_for_timeout(12_500)  # until a draft counts as left behind
        self.open_installation("Turnstone", "target")
        expect(self.field("target.count")).to_have_value("48")
        self.assertEqual(self.installation_of("Turnstone").head, 2)
        self.menu("Sign out", page)
        page.get_by_role("button", name="Open the demo workshop").click()
        expect(page.get_by_role("heading", name="Vehicles")).to_be_visible()
        self.open_installation("Turnstone", "target")
        expect(self.field("target.count")).to_have_value("41")
        self.expect_saved(3)
        self.assertEqual(
            Revision.objects.get(installation=self.installation_of("Turnstone"), number=3).author_role, "volunteer"
        )

    def test_importing_what_is_no_document(self) -> None:
        page = self.open_installation("Turnstone", "target")
        for content, words in (
            ('{"hello": 1}', "This file cannot be used. name: This field is missing"),
            ("[]", "holds no JSON"),
        ):
            with page.expect_file_chooser() as chooser:
                self.menu("Import", page)
            chooser.value.set_files({"name": "x.json", "mimeType": "application/json", "buffer": content.encode()})
            expect(page.get_by_role("alert").filter(has_text=words)).to_be_visible()
            expect(self.field("target.count")).to_have_value("48")
        self.assertEqual(self.installation_of("Turnstone").head, 2)

    def test_a_database_that_is_away_is_waited_for(self) -> None:
        page = self.open_installation("Turnstone", "target")
        tries: list[str] = []

        def hiccup(route: Route) -> None:
            tries.append(route.request.headers["idempotency-key"] if route.request.method == "PUT" else "")
            if route.request.method == "PUT" and len(tries) < 3:
                body = json.dumps({"status": 503, "title": "x", "detail": "x", "problems": []})
                route.fulfill(
                    status=503, headers={"Retry-After": "1"}, content_type="application/problem+json", body=body
                )
            else:
                route.continue_()

        page.route("**/api/installations/*", hiccup)
        self.enter("target.count", "46")
        expect(page.get_by_test_id("save-state")).to_contain_text("Server cannot be reached. Kept on this device")
        self.expect_saved(3)
        self.assertEqual(len({key for key in tries if key}), 1, "a repeat has the key of the first try")

    def test_a_failure_of_the_server_is_named_and_tried_again(self) -> None:
        page = self.open_installation("Turnstone", "target")
        failed: list[int] = []

        def fail(route: Route) -> None:
            if route.request.method == "PUT" and not failed:
                failed.append(1)
                route.fulfill(status=500, content_type="application/problem+json", body='{"detail": "It failed."}')
            else:
                route.continue_()

        page.route("**/api/installations/*", fail)
        self.enter("target.count", "46")
        expect(page.get_by_test_id("save-state")).to_contain_text(
            "the server failed. Kept on this device, trying again"
        )
        expect(page.get_by_test_id("save-state")).to_have_text("Saved, revision 3", timeout=40_000)

    def test_a_part_that_cannot_be_read_says_so_and_heals_by_itself(self) -> None:
        """A view is failed at one route: it says so, looks neither empty nor at work, and heals once that answers."""
        page = self.sign_in()
        dotterel, installation = Vehicle.objects.get(name="Dotterel").pk, self.installation_of("Dotterel").pk
        for path, route, whole in (
            ("/", "**/api/vehicles?*", "Hill-climb special"),
            ("/bin", "**/api/bin", "The bin is empty."),
            (f"/vehicle/{dotterel}", "**/sheet", "through every installation"),
            (f"/vehicle/{dotterel}/service", "**/due", "Worn out at about"),
            (f"/installation/{installation}/sensor", "**/api/placement", "Signal margin"),
            (f"/installation/{installation}/readout?view=speed", "**/api/over-speed", "with its ± as a band"),
        ):
            page.route(route, lambda one: one.fulfill(status=500, json={"detail": "It failed."}))
            page.goto(self.address(path))
            with self.subTest(path=path):
                expect(page.get_by_test_id("failing")).to_have_text(
                    "The server failed at a part of this page. Trying again …"
                )
                expect(page.locator("main")).not_to_contain_text(whole)
                page.unroute(route)
                expect(page.locator("main")).to_contain_text(whole)
                expect(page.get_by_test_id("failing")).to_have_count(0)

    def test_a_document_at_which_the_evaluation_fails_is_saved_all_the_same(self) -> None:
        page = self.open_installation("Turnstone", "target")
        page.route("**/api/evaluate", lambda one: one.fulfill(status=500, json={"detail": "It failed."}))
        self.enter("target.count", "46")
        expect(page.get_by_test_id("shown")).to_contain_text("Last good figures: the server failed, trying again")
        expect(page.get_by_role("alert")).to_have_count(0)
        self.expect_saved(3)
        page.unroute("**/api/evaluate")
        expect(page.get_by_test_id("shown")).not_to_contain_text("Last good figures")
        self.assertEqual(head_of(self.installation_of("Turnstone")).document["target"]["count"], 46)

    def test_an_unreadable_document_costs_itself_alone(self) -> None:
        installation = self.installation_of("Turnstone")
        document = head_of(installation).document | {"check_speed_kmh": 1e9}
        Revision.objects.filter(installation=installation, number=installation.head).update(
            document=document, outline_version=""
        )
        page = self.sign_in()
        card = page.get_by_role("article", name="Turnstone")
        expect(card.get_by_test_id("unreadable")).to_contain_text("This installation cannot be opened. check_speed_kmh")
        expect(page.get_by_test_id("installation-row")).to_have_count(8)
        with page.expect_download() as download:
            card.get_by_role("link", name="Download the stored file").click()
        self.assertEqual(json.loads(download.value.path().read_text())["check_speed_kmh"], 1e9)
        page.goto(self.address(f"/installation/{installation.pk}/wheel"))
        expect(page.get_by_role("link", name="Download the stored file")).to_be_visible()
        expect(page.get_by_role("link", name="Back to the vehicles")).to_be_visible()

    def test_a_panel_that_fails_fails_alone(self) -> None:
        page = self.sign_in()
        page.route(
            "**/api/placement", lambda route: route.fulfill(status=200, content_type="application/json", body="{}")
        )
        self.walk(page, f"/installation/{self.installation_of('Dotterel').pk}/sensor")
        expect(page.get_by_test_id("broken")).to_contain_text("This view cannot be shown. What you entered is kept")
        expect(page.get_by_test_id("shown-kmh")).to_be_visible()
        page.unroute_all()
        page.keyboard.press("1")
        expect(self.field("wheel.marking.text")).to_be_visible()
        self.errors.clear()

    def test_a_page_that_fails_leaves_the_rest_of_the_app(self) -> None:
        page = self.sign_in()
        page.route(
            "**/api/vehicles?*", lambda route: route.fulfill(status=200, content_type="application/json", body="{}")
        )
        page.reload()
        expect(page.get_by_test_id("broken")).to_contain_text("This page cannot be shown")
        page.unroute_all()
        page.get_by_role("link", name="Wheelometron, to the vehicles").wait_for()
        page.get_by_role("button", name="Try again").click()
        page.reload()
        expect(page.get_by_role("heading", name="Vehicles")).to_be_visible()
        self.errors.clear()

    def test_a_broken_form_kept_in_the_tab_and_one_of_another_account(self) -> None:
        page = self.sign_in()
        for broken in ("{", "null", '{"touched": 5}', '{"gears": null}', '{"count": {}}'):
            page.evaluate("text => sessionStorage.setItem('wheelometron.new.demo', text)", broken)
            self.walk(page, "/")
            expect(page.get_by_role("heading", name="Vehicles")).to_be_visible()
            self.walk(page, "/new")
            expect(page.get_by_role("heading", name="New installation")).to_be_visible()
            expect(self.field("count")).to_have_value("")
        self.field("count").fill("47")
        page.evaluate(
            "sessionStorage.setItem('wheelometron.new.other', sessionStorage.getItem('wheelometron.new.demo'))"
        )
        page.evaluate("sessionStorage.removeItem('wheelometron.new.demo')")
        page.reload()
        expect(self.field("count")).to_have_value("")

    def test_a_device_that_keeps_nothing(self) -> None:
        context = self.new_context()
        context.add_init_script(
            "for (const name of ['getItem', 'setItem', 'removeItem']) "
            "Storage.prototype[name] = () => { throw new DOMException('no', 'SecurityError') }"
        )
        page = context.new_page()
        page.on("pageerror", lambda error: self.errors.append(str(error)))
        self.sign_in(page)
        self.open_installation("Turnstone", "target", page)
        self.enter("target.count", "46", page)
        self.expect_saved(3, page)
