"""`python -m devtools.pictures ADDRESS`: the pictures in docs/screenshots, taken anew from a running demo."""

from __future__ import annotations

import sys

from playwright.sync_api import Page, sync_playwright

from devtools.browser import LAPTOP, PHONE, launch
from devtools.steps import ROOT

FOLDER = ROOT / "docs" / "screenshots"


def take(page: Page, name: str) -> None:
    """One picture, once everything has come and settled."""
    page.wait_for_load_state("networkidle")
    page.mouse.move(0, 0)
    page.wait_for_timeout(400)
    page.screenshot(path=FOLDER / f"{name}.png")


def open_installation(page: Page, address: str, installation: str, key: str) -> None:
    """Open an installation from the vehicles page and go to one of its links."""
    page.goto(address)
    page.get_by_test_id("installation-row").filter(has_text=installation).click()
    page.get_by_test_id("shown-kmh").wait_for()
    page.keyboard.press(key)


def installation_pictures(page: Page, address: str) -> None:
    """The links of the demo's installations."""
    open_installation(page, address, "Dash, front wheel", "1")
    take(page, "wheel")
    open_installation(page, address, "Slip log, rear", "1")
    page.get_by_role("tab", name="Change the tyre").click()
    page.get_by_test_id("new-tyre").fill("22.5x8.0-15")
    page.get_by_text("To do after the change").wait_for()
    take(page, "tyre")
    open_installation(page, address, "Slip log, rear", "3")
    take(page, "target")
    open_installation(page, address, "Speed display", "3")
    page.get_by_role("tab", name="Spoke planner").click()
    page.get_by_test_id("spoke-planner").wait_for()
    take(page, "spokes")
    open_installation(page, address, "Slip log, front", "4")
    page.get_by_test_id("placement").wait_for()
    take(page, "placement")
    open_installation(page, address, "Dash, front wheel", "5")
    page.get_by_role("tab", name="Levels").click()
    page.get_by_test_id("resistors").wait_for()
    take(page, "signal")
    open_installation(page, address, "Dash gauge", "b")
    page.get_by_test_id("counts").wait_for()
    page.wait_for_timeout(1000)
    page.get_by_role("button", name="Hold").click()
    take(page, "bench")
    open_installation(page, address, "Hub display", "6")
    take(page, "readout")
    open_installation(page, address, "Dash, front wheel", "6")
    page.get_by_role("tab", name="Over speed").click()
    page.locator("canvas").wait_for()
    take(page, "over-speed")


def fault_pictures(page: Page, address: str) -> None:
    """A search that is half-way, and a case of practice."""
    page.goto(address)
    page.get_by_role("link", name="Plover", exact=True).click()
    page.get_by_role("link", name="Service and timeline").click()
    page.get_by_role("link", name="Open fault").click()
    page.get_by_test_id("causes").wait_for()
    take(page, "fault")
    page.goto(address + "practice")
    page.get_by_role("button", name="Begin case 6").click()
    page.get_by_role("button", name="Sensor").first.click()
    page.get_by_role("button", name="Measure the air gap").click()
    page.get_by_label("Caution read").first.check()
    page.get_by_role("button", name="Do this test").click()
    page.get_by_test_id("made").get_by_role("listitem").wait_for()
    take(page, "practice")


def recording_picture(page: Page) -> None:
    """Strips of a recording, with the values where the plot was pressed."""
    page.get_by_test_id("recordings").get_by_role("link", name="Hill climb").click()
    page.get_by_test_id("channels").wait_for()
    page.get_by_test_id("health").wait_for()
    for button in page.get_by_role("group", name="Channels").get_by_role("button").all()[1:3]:
        button.click()
    page.locator(".u-over").first.click(position={"x": 300, "y": 40})
    page.locator("#plot").evaluate("plot => plot.scrollIntoView()")
    take(page, "recording")


def main() -> None:
    """Take them all."""
    address = sys.argv[1].rstrip("/") + "/"
    FOLDER.mkdir(parents=True, exist_ok=True)
    with sync_playwright() as playwright:
        browser = launch(playwright)
        page = browser.new_context(viewport=LAPTOP, color_scheme="dark").new_page()
        page.goto(address)
        page.get_by_role("button", name="Open the demo workshop").wait_for()
        page.get_by_role("button", name="Open the demo workshop").click()
        page.get_by_role("heading", name="Vehicles").wait_for()
        page.get_by_test_id("installation-row").first.wait_for()
        take(page, "vehicles")
        page.goto(address + "new")
        page.get_by_label("True road speed on a dash").check()
        page.get_by_test_id("vehicle-name").fill("Avocet")
        page.get_by_test_id("marking").fill("205/55R16")
        page.get_by_test_id("count").fill("48")
        page.evaluate("scrollTo(0, 0)")
        take(page, "new-installation")
        installation_pictures(page, address)
        page.goto(address)
        page.get_by_role("link", name="Dotterel", exact=True).click()
        page.locator("canvas").wait_for()
        take(page, "vehicle")
        recording_picture(page)
        page.goto(address)
        page.get_by_role("link", name="Dotterel", exact=True).click()
        page.get_by_role("link", name="Service and timeline").click()
        page.get_by_role("link", name="Job sheet: Change of the ring").wait_for()
        take(page, "service")
        sheet = page.get_by_role("link", name="Job sheet: Change of the ring").get_attribute("href") or ""
        fault_pictures(page, address)
        page.keyboard.press("t")
        open_installation(page, address, "Dash, front wheel", "6")
        page.get_by_role("tab", name="Check with a recorded drive").click()
        page.get_by_test_id("recording-choice").select_option(label="Road to the spit.csv")
        page.get_by_test_id("proof").wait_for()
        take(page, "light")
        phone = browser.new_context(viewport=PHONE, color_scheme="dark", has_touch=True).new_page()
        phone.goto(address)
        phone.get_by_role("button", name="Open the demo workshop").click()
        phone.get_by_role("heading", name="Vehicles").wait_for()
        open_installation(phone, address, "Hub display", "6")
        take(phone, "phone")
        phone.goto(address.rstrip("/") + sheet)
        phone.get_by_test_id("step-fit_ring").scroll_into_view_if_needed()
        take(phone, "sheet")
        browser.close()


if __name__ == "__main__":
    main()
