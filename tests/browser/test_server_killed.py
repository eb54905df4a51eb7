"""A job sheet goes on while the whole app is killed under it: what was done is kept on the device and sent to the next
one."""

from __future__ import annotations

import os
import signal

from playwright.sync_api import Page, expect

from devtools.browser import PHONE
from devtools.steps import wait_until
from tests.browser.base import browser_of_process
from tests.devtools.test_start import StartCase, Started, healthy, keeper, serving


class ServerKilled(StartCase):
    def killed(self, running: Started) -> None:
        start = running.process.pid
        numbers = [start, keeper(start), *serving(start)]
        for number in numbers:
            os.kill(number, signal.SIGKILL)
        running.process.wait(30)
        wait_until(lambda: not healthy(running.port), 30, "its end")

    def tick(self, page: Page, code: str) -> None:
        step = page.get_by_test_id(f"step-{code}")
        caution = step.get_by_label("I have read the caution")
        if caution.count():
            caution.check()
        step.get_by_role("button", name="Done", exact=True).click()
        expect(step).to_have_attribute("data-state", "done")

    def test_entries_outlive_the_server(self) -> None:
        running = self.start()
        running.up()
        address = f"http://127.0.0.1:{running.port}"
        context = browser_of_process().new_context(viewport=PHONE, has_touch=True)
        self.addCleanup(context.close)
        page = context.new_page()
        page.set_default_timeout(45_000)
        page.goto(address)
        page.get_by_role("button", name="Open the demo workshop").click()
        expect(page.get_by_role("link", name="Turnstone").first).to_be_visible()
        found = page.request.get(f"{address}/api/vehicles?search=Turnstone").json()["vehicles"][0]
        page.goto(f"{address}/installation/{found['installations'][0]['id']}/jobs")
        page.get_by_role("button", name="Change of the tyre", exact=True).click()
        expect(page.get_by_test_id("closing")).to_be_visible()
        page.evaluate("navigator.serviceWorker.ready.then(() => true)")
        page.reload()
        page.wait_for_function("navigator.serviceWorker.controller !== null")
        page.reload()
        expect(page.get_by_test_id("closing")).to_be_visible()
        sheet = page.url
        self.tick(page, "safe_ground")
        expect(page.get_by_test_id("line")).to_have_attribute("data-line", "sent")
        self.killed(running)
        self.tick(page, "marking")
        expect(page.get_by_test_id("line")).to_have_attribute("data-line", "waiting")
        page.reload()
        expect(page.get_by_test_id("step-marking")).to_contain_text("not sent yet")
        again = self.start(port=running.port)
        again.up()
        self.assertEqual(again.port, running.port)
        expect(page.get_by_test_id("line")).to_have_attribute("data-line", "sent", timeout=90_000)
        fresh = page.context.new_page()
        fresh.goto(sheet)
        for code in ("safe_ground", "marking"):
            expect(fresh.get_by_test_id(f"step-{code}")).to_have_attribute("data-state", "done")
            expect(fresh.get_by_test_id(f"step-{code}")).not_to_contain_text("not sent yet")
