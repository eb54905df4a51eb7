"""The real interface in Debian's Chromium, served by Django's live server from the built front end."""

from __future__ import annotations

import os
import time
from concurrent.futures import ThreadPoolExecutor
from typing import Any, ClassVar

from django.conf import settings
from django.contrib.auth import BACKEND_SESSION_KEY, HASH_SESSION_KEY, SESSION_KEY
from django.contrib.auth.models import User
from django.contrib.sessions.backends.db import SessionStore
from django.db import connection
from django.test import LiveServerTestCase
from playwright.sync_api import Browser, BrowserContext, ConsoleMessage, Locator, Page, expect, sync_playwright

from devtools.browser import LAPTOP, launch
from tests.browser.world import end_world, make_world
from tests.worker import Worker, say_what_is_stuck
from workshop.models import InstallationRecord, RecordingRecord

os.environ["DJANGO_ALLOW_ASYNC_UNSAFE"] = "true"  # Playwright's own loop runs in the tests' thread
expect.set_options(timeout=60_000)
"""A machine may be busy, and what a worker held that ended is taken up after half a minute; a test that passes does not
wait."""
BACKEND = "django.contrib.auth.backends.ModelBackend"
SETTLED = """() => new Promise(done => {
    let last = performance.now();
    const asked = () => performance.getEntriesByType('resource').length;
    let known = asked();
    const observer = new MutationObserver(() => { last = performance.now() });
    observer.observe(document, {subtree: true, childList: true, attributes: true, characterData: true});
    const began = last;
    const look = () => {
        const now = performance.now();
        if (asked() !== known) { known = asked(); last = now }
        const moving = document.getAnimations().some(
            a => a.playState === 'running' && Number.isFinite(a.effect.getComputedTiming().endTime));
        if ((moving || now - last < 150) && now - began < 3000) return setTimeout(look, 30);
        observer.disconnect();
        requestAnimationFrame(() => requestAnimationFrame(done));
    };
    setTimeout(look, 30);
})"""
"""No change for 150 ms (an answer that comes is a change as well) and no animation that ends, or three seconds of
something that always moves; and drawn: a busy machine may not have come to the first frame of what has just opened."""
STILL = """{
    const sheet = new CSSStyleSheet();
    sheet.replaceSync(`*, *::before, *::after {
        animation-duration: 1ms !important; animation-delay: 0s !important; transition: none !important; }`);
    document.adoptedStyleSheets = [...document.adoptedStyleSheets, sheet];
}"""
"""What opens and closes is at its end at once: its way there is a third of what a browser computes."""
END_OTHERS = """SELECT pg_terminate_backend(pid, 5000) FROM pg_stat_activity
    WHERE datname = current_database() AND pid <> pg_backend_pid()"""
MOST_WAITS = 100
BUSY = """SELECT count(*) FROM pg_stat_activity
    WHERE datname = current_database() AND pid <> pg_backend_pid() AND state <> 'idle'"""


SHORT_LIVED = (
    "--js-flags=--single-threaded-gc --min-semi-space-size=16",
    # one process for all pages of a context: the next page finds its scripts compiled, a fifth of what a page costs
    "--process-per-site",
)
"""A test's page lives for seconds: to tidy its memory often costs a tenth of what the browser computes."""
USUAL: dict[str, Any] = {"color_scheme": "dark", "service_workers": "block"}


_browsers: list[Browser] = []
_contexts: list[BrowserContext] = []
_holding: list[Page] = []
"""An empty page beside those of the tests, so that their process does not end with them."""


def browser_of_process() -> Browser:
    """One Chromium for all tests of a process."""
    if not _browsers or not _browsers[0].is_connected():
        _browsers[:] = [launch(sync_playwright().start(), *SHORT_LIVED)]
        _contexts.clear()
    return _browsers[0]


def made(browser: Browser, viewport: Any = LAPTOP, **options: Any) -> BrowserContext:
    """A context in which what moves is at its end at once."""
    context = browser.new_context(viewport=viewport, **(USUAL | options))
    context.set_default_timeout(45_000)
    context.add_init_script(STILL)
    return context


def context_of_process(browser: Browser, address: str) -> BrowserContext:
    """One context for all tests that ask for nothing of their own: its cache has the scripts."""
    if not _contexts:
        _contexts.append(made(browser))
        _holding[:] = [_contexts[0].new_page()]
        _holding[0].goto(f"{address}/icon.svg")
    return _contexts[0]


class BrowserTestCase(LiveServerTestCase):
    """Each test has the demo world, and a page signed in to it."""

    recordings: ClassVar[bool] = False
    """Whether the demo world has its recordings."""
    worker: ClassVar[Worker]
    browser: ClassVar[Browser]

    @classmethod
    def setUpClass(cls) -> None:
        super().setUpClass()
        cls.worker = Worker().start()
        cls.browser = browser_of_process()

    @classmethod
    def tearDownClass(cls) -> None:
        cls.worker.stop()
        super().tearDownClass()
        with connection.cursor() as cursor:  # of lines that the browser still holds to a server that is gone
            cursor.execute(END_OTHERS)
        connection.close()

    def setUp(self) -> None:
        with ThreadPoolExecutor(1) as pool:  # not in the thread of Playwright's loop, which the queue does not allow
            pool.submit(self.load).result()
        self.context = context_of_process(self.browser, self.live_server_url)
        self.addCleanup(self.leave, self.context)
        self.page = self.context.new_page()
        self.forget(self.page)
        self.errors: list[str] = []
        self.page.on("pageerror", lambda error: self.errors.append(str(error)))
        self.page.on("console", self.hear)

    def load(self) -> None:
        """The demo world as it was."""
        try:
            make_world(recordings=self.recordings)
        finally:
            connection.close()

    def hear(self, said: ConsoleMessage) -> None:
        """What the policy of the page kept from being done is a fault of ours."""
        if "Content Security Policy" in said.text:
            self.errors.append(said.text)

    def tearDown(self) -> None:
        self.assertEqual(self.errors, [], "errors in the page")

    def __getstate__(self) -> dict[str, Any]:
        """What the parallel runner passes on of a test: not its browser, the handlers in it and what is under way."""
        kept = {
            name: value
            for name, value in self.__dict__.items()
            if not (callable(value) or type(value).__module__.startswith("playwright"))
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
        context = made(self.browser, viewport, **options)
        self.addCleanup(self.close, context)
        return context

    def _fixture_teardown(self) -> None:
        """Empty the database once no request is at work in it: one that a page gave up goes on in the server."""
        say_what_is_stuck()
        quiet = 0
        for _ in range(MOST_WAITS):
            quiet = 0 if self.is_busy() else quiet + 1
            if quiet == 2:
                break
            time.sleep(0.1)
        end_world()

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

    @staticmethod
    def leave(context: BrowserContext) -> None:
        """Close the pages of a test, without a line, and take back what it was signed in with and asked for."""
        context.set_offline(True)
        for page in context.pages:
            if page not in _holding:
                page.close()
        context.set_offline(False)
        context.clear_cookies()
        context.clear_permissions()

    def forget(self, page: Page) -> None:
        """Nothing is kept in the browser from the test before."""
        line = self.context.new_cdp_session(page)
        line.send("Storage.clearDataForOrigin", {"origin": self.live_server_url, "storageTypes": "all"})
        line.detach()

    @staticmethod
    def settle(page: Page) -> None:
        """Wait until the page has asked for nothing and changed nothing for a moment."""
        page.evaluate(SETTLED)

    def escape(self, page: Page | None = None) -> None:
        """Escape from a dialog, once it has the focus: before that it does not listen yet; and wait until it is gone,
        for what is behind it takes no entry before."""
        page = page or self.page
        dialog = page.wait_for_function("() => document.activeElement?.closest('[role=dialog]')")
        page.keyboard.press("Escape")
        page.wait_for_function("dialog => !dialog.isConnected", arg=dialog)

    def address(self, path: str) -> str:
        return f"{self.live_server_url}{path}"

    def sign_in(self, page: Page | None = None) -> Page:
        """As one who signed in to the demo workshop before, at the list of vehicles."""
        page = page or self.page
        self.know(page)
        page.goto(self.address("/"))
        expect(page.get_by_role("heading", name="Vehicles")).to_be_visible()
        return page

    def know(self, page: Page) -> None:
        """A session of the demo workshop in the browser."""
        account = User.objects.get(username="demo")
        session = SessionStore()
        session.update(
            {
                SESSION_KEY: str(account.pk),
                BACKEND_SESSION_KEY: BACKEND,
                HASH_SESSION_KEY: account.get_session_auth_hash(),
            }
        )
        session.save()
        assert session.session_key is not None
        page.context.add_cookies(
            [{"name": settings.SESSION_COOKIE_NAME, "value": session.session_key, "url": self.live_server_url}]
        )

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
        """A stage of the vehicle's first installation; a new page is signed in."""
        page = page or self.page
        if page.url == "about:blank":
            self.know(page)
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
