"""A phone is signed in by a link from the app, and signed out again from there."""

from __future__ import annotations

from django.test import override_settings
from playwright.sync_api import expect

from devtools.browser import PHONE
from tests.browser.base import BrowserTestCase


class Phones(BrowserTestCase):
    def test_a_phone_is_brought_in_and_put_out(self) -> None:
        with override_settings(LAN_ADDRESS=f"{self.live_server_url}/"):
            page = self.sign_in()
            self.menu("Phones and tablets")
            expect(page.get_by_test_id("devices")).to_contain_text("None.")
            page.get_by_role("button", name="Create link").click()
            expect(page.get_by_role("img", name="QR code of the link")).to_be_visible()
            link = page.get_by_test_id("pair-link").inner_text()
            phone = self.new_context(PHONE, has_touch=True).new_page()
            phone.goto(link)
            phone.get_by_label("Name of this device").fill("Pit phone")
            phone.get_by_role("button", name="Sign in").click()
            expect(phone.get_by_role("heading", name="Vehicles")).to_be_visible()
            expect(page.get_by_test_id("devices")).to_contain_text("Pit phone")
            expect(page.get_by_test_id("pair-link")).to_have_count(0)  # it is used up
            page.get_by_role("button", name="Sign Pit phone out").click()
            expect(page.get_by_test_id("devices")).to_contain_text("None.")
            phone.reload()
            expect(phone.get_by_role("heading", name="Your workshop")).to_be_visible()
            phone.goto(link)
            phone.get_by_role("button", name="Sign in").click()
            expect(phone.get_by_role("alert")).to_contain_text("was used")

    def test_without_a_network_it_says_how(self) -> None:
        page = self.sign_in()
        self.menu("Phones and tablets")
        expect(page.get_by_text("./start --lan")).to_be_visible()
