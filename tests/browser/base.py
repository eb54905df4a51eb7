"""The real interface in Debian's Chromium, served by Django's live server from the built front end."""

from __future__ import annotations

import os
import time
from concurrent.futures import ThreadPoolExecutor
from typing import Any, ClassVar

from django.apps import apps
from django.contrib.auth.models import User
from django.core import serializers
from django.db import connection, transaction
from django.test import LiveServerTestCase
from playwright.sync_api import Browser, BrowserContext, Locator, Page, Playwright, expect, sync_playwright

from devtools.browser import LAPTOP, launch
from tests.worker import Worker
from workshop.demo import load_demo
from workshop.models import InstallationRecord, RecordingRecord

os.environ["DJANGO_ALLOW_ASYNC_UNSAFE"] = "true"  # Playwright's own loop runs in the tests' thread
expect.set_options(timeout=30_000)  # a machine may be busy; a test that passes does not wait
MOST_WAITS = 100
BUSY = """SELECT count(*) FROM pg_stat_activity
    WHERE datname = current_database() AND pid <> pg_backend_pid() AND state <> 'idle'"""


WORLDS: dict[bool, str] = {}
"""The demo world's rows, with its recordings and without."""


class BrowserTestCase(LiveServerTestCase):
    """Each test has the demo world, and a page signed in to it."""

    recordings: ClassVar[bool] = False
    """Whether the demo world has its recordings."""
    worker: ClassVar[Worker]
    playwright: ClassVar[Playwright]
    browser: ClassVar[Browser]

    @classmethod
    def setUpClass(cls) -> None:
        super().setUpClass()
        cls.worker = Worker().start()
        cls.playwright = sync_playwright().start()
        cls.browser = launch(cls.playwright)

    @classmethod
    def tearDownClass(cls) -> None:
        cls.browser.close()
        cls.playwright.stop()
        cls.worker.stop()
        super().tearDownClass()

    def setUp(self) -> None:
        with ThreadPoolExecutor(1) as pool:  # not in the thread of Playwright's loop, which the queue does not allow
            pool.submit(self.load).result()
        self.context = self.new_context()
        self.page = self.context.new_page()
        self.errors: list[str] = []
        self.page.on("pageerror", lambda error: self.errors.append(str(error)))

    def load(self) -> None:
        """The demo world: lived through once, and put back as it was then for each further test."""
        try:
            kept = WORLDS.get(self.recordings)
            if kept is None:
                load_demo(recordings=self.recordings)
                models = User, *apps.get_app_config("workshop").get_models()
                rows = [row for model in models for row in model._default_manager.order_by("pk")]
                WORLDS[self.recordings] = serializers.serialize("json", rows)
            else:
                with transaction.atomic():
                    for row in serializers.deserialize("json", kept):
                        row.save()
        finally:
            connection.close()

    def tearDown(self) -> None:
        self.assertEqual(self.errors, [], "errors in the page")

    def __getstate__(self) -> dict[str, Any]:
        """What the parallel runner passes on of a test: all but its browser, and what is under way."""
        kept = {
            name: value for name, value in self.__dict__.items() if not type(value).__module__.startswith("playwright")
        }
        return kept | {"_outcome": None, "_cleanups": []}

    def open_recording(self, page: Page, vehicle: str, name: str, answer: str = "") -> None:
        """A recording of the demo world, with one of its answers."""
        found = RecordingRecord.objects.get(vehicle__name=vehicle, name__contains=name)
        page.goto(f"{self.live_server_url}/recording/{found.pk}")
        expect(page.get_by_test_id("answers")).to_be_visible()
        expect(page.locator(".u-over")).to_be_visible()
        if answer:
            tab = page.get_by_role("tab", name=answer)
            tab.click()
            expect(tab).to_have_attribute("aria-selected", "true")
            expect(page.get_by_role("status")).to_have_count(0)

    def new_context(self, viewport: Any = LAPTOP, **options: Any) -> BrowserContext:
        context = self.browser.new_context(
            viewport=viewport, **({"color_scheme": "dark", "service_workers": "block"} | options)
        )
        context.set_default_timeout(45_000)
        self.addCleanup(self.close, context)
        return context

    def _fixture_teardown(self) -> None:
        """Empty the database once no request is at work in it: one that a page gave up goes on in the server."""
        quiet = 0
        for _ in range(MOST_WAITS):
            quiet = 0 if self.is_busy() else quiet + 1
            if quiet == 2:
                break
            time.sleep(0.1)
        super()._fixture_teardown()  # type: ignore[misc]

    @staticmethod
    def is_busy() -> bool:
        with connection.cursor() as cursor:
            cursor.execute(BUSY)
            (count,) = cursor.fetchone()
        return bool(count)

    @staticmethod
    def close(context: BrowserContext) -> None:
        """Without a line, or a page on its way out would still save while the database is made empty."""
        context.set_offline(True)
        context.close()

    def address(self, path: str) -> str:
        return f"{self.live_server_url}{path}"

    def sign_in(self, page: Page | None = None) -> Page:
        page = page or self.page
        page.goto(self.address("/"))
        page.get_by_role("button", name="Open the demo workshop").click()
        expect(page.get_by_role("heading", name="Vehicles")).to_be_visible()
        return page

    def read_miles(self, page: Page | None = None) -> None:
        """Change from km/h to mph, and wait until the account knows it: the next page asks the account."""
        page = page or self.page
        with page.expect_response("**/api/session/units"):
            page.get_by_role("button", name="km/h", exact=True).click()

    def installation_of(self, vehicle: str) -> InstallationRecord:
        """The vehicle's first installation."""
        record = InstallationRecord.objects.filter(vehicle__name=vehicle).order_by("pk").first()
        assert record is not None
        return record

    def open_installation(self, vehicle: str, stage: str = "wheel", page: Page | None = None) -> Page:
        page = page or self.page
        self.walk(page, f"/installation/{self.installation_of(vehicle).pk}/{stage}")
        expect(page.locator("header h1")).to_contain_text(vehicle)  # and not the page before
        if stage == "bench":
            expect(page.get_by_role("tab", name="Scope")).to_be_visible()
        else:
            expect(page.locator("[aria-current=page]")).to_have_attribute("data-stage", stage)
        return page

    def walk(self, page: Page, path: str) -> None:
        """Go there as a link in the app does, without loading the page anew, where the app is open already."""
        if page.url.startswith(self.live_server_url):
            page.evaluate(
                "path => { history.pushState({}, '', path); dispatchEvent(new PopStateEvent('popstate')); }", path
            )
            page.wait_for_function("path => location.pathname === path", arg=path)
        else:
            page.goto(self.address(path))

    def field(self, path: str, page: Page | None = None) -> Locator:
        return (page or self.page).get_by_test_id(path)

    def menu(self, item: str, page: Page | None = None) -> None:
        """Choose something from the menu of the page."""
        page = page or self.page
        page.get_by_role("button", name="Menu").click()
        page.get_by_role("menuitem", name=item).click()

    def enter(self, path: str, value: str, page: Page | None = None) -> None:
        """Type a value and press Enter: it is an edit then."""
        self.field(path, page).fill(value)
        self.field(path, page).press("Enter")

    def expect_saved(self, revision: int | None = None, page: Page | None = None) -> None:
        """The field that is being typed in is left, and a revision is saved."""
        page = page or self.page
        page.evaluate("document.activeElement?.blur()")
        state = page.get_by_test_id("save-state")
        if revision is None:
            expect(state).to_contain_text("Saved, revision")
        else:
            expect(state).to_have_text(f"Saved, revision {revision}")
