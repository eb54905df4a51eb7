"""Keyboard, addresses, phone, what is shipped."""

import gzip
import io
import re
from contextlib import suppress
from itertools import pairwise
from pathlib import Path

from playwright.sync_api import Error as PlaywrightError
from playwright.sync_api import Request, Route, expect
from pypdf import PdfReader

from devtools.browser import PHONE
from devtools.steps import FRONTEND
from tests.browser.base import BrowserTestCase
from tests.browser.test_scan import STAGES
from workshop.installations import head_of


class Keyboard(BrowserTestCase):
    def test_the_line_by_keys_alone(self) -> None:
        page = self.sign_in()
        self.open_installation("Turnstone")
        for number, stage in enumerate(STAGES, start=1):
            page.keyboard.press(str(number))
            expect(page.locator("[aria-current=page]")).to_have_attribute("data-stage", stage)
        page.keyboard.press("n")
        expect(page.locator("[aria-current=page]")).to_have_attribute("data-stage", "wheel")
        page.keyboard.press("w")
        expect(page.get_by_test_id("why")).to_be_visible()
        page.keyboard.press("y")
        expect(page.get_by_role("heading", name="Vehicles")).to_be_visible()
        page.keyboard.press("/")
        page.keyboard.type("whimb")
        expect(page.get_by_role("article")).to_have_count(1)

    def test_a_new_page_begins_at_its_heading_and_keys_lead_to_field_and_drawing(self) -> None:
        page = self.sign_in()
        page.get_by_role("link", name="Dotterel", exact=True).press("Enter")
        expect(page.get_by_role("heading", name="Dotterel", level=1)).to_be_focused()
        page.keyboard.press("e")
        expect(self.field("sheet-speed_kmh")).to_be_focused()
        self.open_installation("Dotterel", "sensor")
        expect(page.get_by_test_id("placement")).to_be_visible()
        page.keyboard.press("d")
        expect(page.get_by_role("slider").first).to_be_focused()

    def test_single_keys_can_be_switched_off(self) -> None:
        """WCAG 2.1.4: speech and a hand on the keys must not press buttons."""
        page = self.sign_in()
        self.open_installation("Turnstone")
        page.keyboard.press("?")
        page.get_by_role("button", name="Keys without Ctrl: on, switch off").click()
        page.get_by_role("button", name="Close").click()
        page.keyboard.press("3")
        page.wait_for_timeout(300)
        expect(page.locator("[aria-current=page]")).to_have_attribute("data-stage", "wheel")
        self.menu("Keys and help")
        page.get_by_role("button", name="Keys without Ctrl: off, switch on").click()
        page.get_by_role("button", name="Close").click()
        page.keyboard.press("3")
        expect(page.locator("[aria-current=page]")).to_have_attribute("data-stage", "target")

    def test_a_handle_goes_to_its_limits_and_says_so_once(self) -> None:
        page = self.sign_in()
        self.open_installation("Dotterel", "sensor")
        tilt = page.get_by_role("slider", name="Tilt of the sensor")
        expect(tilt).to_have_attribute("aria-orientation", "horizontal")
        expect(page.get_by_role("slider", name="Air gap")).to_have_attribute("aria-orientation", "vertical")
        tilt.focus()
        for key, value in (("PageUp", "5"), ("End", "30"), ("Home", "-30"), ("PageDown", "-30")):
            page.keyboard.press(key)
            expect(tilt).to_have_attribute("aria-valuenow", value)
        expect(page.locator("[aria-live=polite]:not([data-scope=toast])")).to_have_count(1)
        expect(page.get_by_test_id("announced")).to_contain_text("shown, plus or minus")

    def test_a_decimal_comma_is_stepped_as_one(self) -> None:
        page = self.sign_in()
        self.open_installation("Turnstone", "sensor")
        gap = self.field("placement.air_gap_mm")
        gap.fill("1,25")
        gap.press("ArrowUp")
        expect(gap).to_have_value("1,3")
        expect(page.locator("[data-stage=sensor]")).not_to_contain_text("is not a")

    def test_nudging_a_number(self) -> None:
        page = self.sign_in()
        self.open_installation("Turnstone", "target")
        self.field("target.count").focus()
        page.keyboard.press("ArrowUp")
        expect(self.field("target.count")).to_have_value("49")
        page.keyboard.press("Shift+ArrowDown")
        expect(self.field("target.count")).to_have_value("39")

    def test_a_page_in_miles_per_hour_has_no_other_speeds(self) -> None:
        """Figures and sentences alike; beside numbers that pass between people and machines the other unit stands
        too."""
        page = self.sign_in()
        self.read_miles(page)
        expect(page.get_by_role("button", name="mph, in", exact=True)).to_be_visible()
        for vehicle in ("Dotterel", "Sandpiper", "Turnstone"):
            for stage in ("wheel", "drive", "target", "sensor", "signal", "readout"):
                self.open_installation(vehicle, stage)
                with self.subTest(f"{vehicle}, {stage}"):
                    self.assertEqual(self.speeds_in_kmh(), [])
        self.open_installation("Sandpiper", "signal")
        for tab in page.get_by_role("tab").all():
            tab.click()
            self.settle(page)
            self.assertEqual(self.speeds_in_kmh(), [], tab.inner_text())
        self.menu("Logbook")
        logbook = page.get_by_role("dialog")
        expect(logbook).to_contain_text(re.compile(r"shown speed \S+ mph"))
        self.assertEqual(re.findall(r".{0,40}\d km/h", logbook.inner_text()), [])

    def test_units_changed_while_the_catalogue_is_on_its_way(self) -> None:
        """A slow line: what was asked for in km/h is given up, and asked for in mph."""
        page = self.page
        held: list[Route] = []
        asked: list[str] = []

        def hold(route: Route) -> None:
            asked.append(route.request.headers["x-speed-unit"])
            if held:
                route.continue_()
            else:
                held.append(route)

        page.route("**/api/catalogue", hold)
        self.sign_in()
        self.read_miles(page)
        with suppress(PlaywrightError):  # given up by the page already
            held[0].continue_()
        self.open_installation("Sandpiper", "signal")
        self.assertEqual(self.speeds_in_kmh(), [])
        self.assertEqual((asked[0], set(asked[1:])), ("km/h", {"mph"}))  # a slow page may ask a second time

    def test_after_a_reload_everything_is_asked_in_the_units_of_the_device(self) -> None:
        """Not once in km/h and then again: the catalogue is large."""
        page = self.sign_in()
        self.read_miles(page)
        expect(page.get_by_role("button", name="mph, in", exact=True)).to_be_visible()
        self.open_installation("Turnstone", "signal")
        self.settle(page)
        asked: list[tuple[str, str]] = []

        def keep(request: Request) -> None:
            if "/api/" in request.url and request.resource_type == "fetch":
                asked.append((request.headers.get("x-speed-unit", ""), request.url.split("/api/")[1]))

        page.on("request", keep)
        page.reload()
        expect(page.get_by_role("button", name="mph, in", exact=True)).to_be_visible()
        self.settle(page)
        self.assertEqual({unit for unit, _ in asked}, {"mph"}, asked)
        self.assertEqual(len([path for _, path in asked if path.startswith("catalogue")]), 1)

    def test_lengths_are_read_and_typed_in_inches(self) -> None:
        """All of a view in one system; a setting of a machine, a module and a bead seat keep their own unit."""
        page = self.sign_in()
        self.read_miles(page)
        self.open_installation("Dotterel", "sensor")
        gap = self.field("placement.air_gap_mm")
        expect(gap).to_have_value("0.0315")
        main = page.locator("main")
        self.assertEqual(re.findall(r".{0,30}\d mm\b.{0,20}", main.inner_text()), [])
        self.enter("placement.air_gap_mm", "0.02")
        self.expect_saved()
        self.assertAlmostEqual(head_of(self.installation_of("Dotterel")).document["placement"]["air_gap_mm"], 0.508)
        gap.press("ArrowUp")
        expect(gap).to_have_value("0.022")
        self.open_installation("Turnstone", "readout")
        expect(page.get_by_test_id("to-type")).to_have_text("576")
        expect(main).to_contain_text("576 mm")
        expect(self.field("readouts.0.current_setting")).to_have_value("560")
        self.enter("readouts.0.current_setting", "576")
        self.expect_saved()
        self.assertEqual(head_of(self.installation_of("Turnstone")).document["readouts"][0]["current_setting"], 576)

    def test_a_speed_is_typed_in_the_unit_of_the_page(self) -> None:
        page = self.sign_in()
        self.read_miles(page)
        self.open_installation("Turnstone", "readout")
        speed = self.field("check_speed_kmh")
        expect(speed).to_have_value("62.14")
        self.enter("check_speed_kmh", "60")
        expect(speed).to_have_value("60")
        self.expect_saved(3)
        document = head_of(self.installation_of("Turnstone")).document
        self.assertAlmostEqual(document["check_speed_kmh"], 60 * 1.609344)
        self.enter("check_speed_kmh", "80 km/h")
        expect(page.get_by_test_id("shown")).to_contain_text("49.71 →")
        self.expect_saved(3)

    def speeds_in_kmh(self, unit: str = "mph") -> list[str]:
        expect(self.page.get_by_text(unit).first).to_be_visible()
        for _ in range(80):  # the page is there before the examples of its entries in another unit
            text = self.page.locator("main").inner_text()
            if not (found := re.findall(r".{0,40}\d km/h(?!\)| per).{0,20}", text)):
                break
            self.page.wait_for_timeout(250)
        return found

    def test_a_boat_is_read_in_knots(self) -> None:
        page = self.sign_in()
        self.open_installation("Grebe", "readout")
        expect(page.get_by_role("button", name="kn", exact=True)).to_be_visible()
        expect(page.get_by_test_id("shown")).to_contain_text("kn")
        self.assertEqual(self.speeds_in_kmh("kn"), [])
        self.walk(page, "/")
        expect(page.get_by_role("button", name="km/h", exact=True)).to_be_visible()
        expect(page.get_by_role("article", name="Grebe")).to_contain_text("10 →")
        expect(page.get_by_role("article", name="Plover")).to_contain_text("km/h")

    def test_units_belong_to_the_vehicle_and_to_this_device(self) -> None:
        """Miles with millimetres on one vehicle; the next one, the list and another device stay as they were."""
        page = self.sign_in()
        other = self.sign_in(self.new_context().new_page())
        self.open_installation("Dotterel", "sensor")
        page.get_by_role("button", name="km/h", exact=True).click()
        with page.expect_response("**/api/evaluate*"):
            page.get_by_role("button", name="mph, in", exact=True).click()
        expect(page.get_by_role("button", name="mph, mm", exact=True)).to_be_visible()
        expect(self.field("placement.air_gap_mm")).to_have_value("0.8")
        self.settle(page)
        text = page.locator("main").inner_text()
        self.assertEqual(re.findall(r".{0,30}\d in\b.{0,20}|.{0,40}\d km/h(?!\)| per).{0,20}", text), [])
        self.assertIn("mph", text)
        self.open_installation("Turnstone", "readout")
        expect(page.get_by_test_id("shown")).to_contain_text("km/h")
        self.walk(page, "/")
        expect(page.get_by_role("article", name="Dotterel")).to_contain_text("mph")
        expect(page.get_by_role("article", name="Turnstone")).not_to_contain_text("mph")
        page.get_by_role("button", name="km/h", exact=True).click()
        expect(page.get_by_role("article", name="Turnstone")).to_contain_text("mph")
        other.reload()
        expect(other.get_by_role("article", name="Turnstone")).to_contain_text("km/h")
        expect(other.get_by_role("button", name="km/h", exact=True)).to_be_visible()

    def test_units_flip_by_one_key_and_are_kept(self) -> None:
        page = self.sign_in()
        self.open_installation("Turnstone", "readout")
        expect(page.get_by_test_id("shown")).to_contain_text("100 →97.3km/h")
        page.keyboard.press("u")
        expect(page.get_by_test_id("shown")).to_contain_text("62.14 →60.5mph")
        expect(page.locator("[data-stage=wheel]")).to_contain_text("71.2in")
        expect(page.get_by_test_id("to-type")).to_have_text("576")
        page.reload()
        expect(page.get_by_test_id("shown")).to_contain_text("mph")
        page.keyboard.press("u")
        expect(page.locator("[data-stage=wheel]")).to_contain_text("1808mm")
        expect(page.get_by_test_id("shown")).to_contain_text("mph")
        page.keyboard.press("u")
        expect(page.get_by_test_id("shown")).to_contain_text("kn")

    def test_the_theme_is_kept(self) -> None:
        page = self.sign_in()
        page.keyboard.press("t")
        expect(page.locator("html")).to_have_class("light")
        page.reload()
        expect(page.locator("html")).to_have_class("light")


class Addresses(BrowserTestCase):
    """Stages, tabs and dialogs have addresses and titles; Back leads out of them; the keyboard can skip the bar."""

    def test_back_goes_through_stages_tabs_and_dialogs(self) -> None:
        page = self.sign_in()
        self.open_installation("Plover")
        page.get_by_role("tab", name="Methods compared").click()
        self.assertTrue(page.url.endswith("/wheel?view=methods"), page.url)
        page.locator("[data-stage=target]").click()
        expect(page.locator("[aria-current=page]")).to_have_attribute("data-stage", "target")
        self.menu("Logbook")
        expect(page.get_by_role("dialog")).to_contain_text("First saved")
        page.go_back()
        expect(page.get_by_role("dialog")).to_have_count(0)
        page.go_back()
        expect(page.get_by_role("tab", name="Methods compared")).to_have_attribute("aria-selected", "true")
        page.reload()
        expect(page.get_by_role("tab", name="Methods compared")).to_have_attribute("aria-selected", "true")
        page.go_back()
        expect(page.get_by_role("tab", name="On the ground")).to_have_attribute("aria-selected", "true")
        page.go_back()
        expect(page.get_by_role("heading", name="Vehicles")).to_be_visible()

    def test_every_dialog_has_an_address_and_closing_it_goes_back(self) -> None:
        page = self.page
        self.sign_in()
        plover = self.installation_of("Plover")
        for place, openers, address in (
            ("/", ("Edit",), "open=edit-"),
            ("/", ("Copy Hub display, front left",), f"open=copy-{plover.pk}"),
            ("/new", ("Find the size",), "open=size"),
            (f"/installation/{plover.pk}/wheel", ("Open Cycle chart", "Open the chart"), "open=cycle-chart"),
            (f"/installation/{plover.pk}/target", ("Show steps",), "open=count"),
            (f"/installation/{plover.pk}/readout", ("Next: ",), "open=next"),
            (f"/fault/{plover.faults.get().pk}", ("Show on the bench: ",), "open=bench-"),
        ):
            with self.subTest(address):
                page.goto(self.address(place))
                for opener in openers:
                    page.get_by_role("button", name=opener, exact=not opener.endswith(" ")).first.click()
                dialog = page.get_by_role("dialog")
                expect(dialog).to_be_visible()
                self.assertIn(address, page.url)
                page.reload()
                expect(dialog).to_be_visible()
                page.go_back()
                expect(dialog).to_have_count(0)
                self.assertEqual(page.url, self.address(place))
                page.go_forward()
                expect(dialog).to_be_visible()
                before = page.evaluate("history.length")
                self.escape(page)
                expect(dialog).to_have_count(0)
                expect(page).to_have_url(self.address(place))
                self.assertEqual(page.evaluate("history.length"), before)

    def test_pages_have_titles(self) -> None:
        page = self.sign_in()
        expect(page).to_have_title("Vehicles – Wheelometron")
        self.open_installation("Turnstone", "readout")
        expect(page).to_have_title("Turnstone / Dash, front wheel, readout – Wheelometron")
        self.walk(page, "/bin")
        expect(page).to_have_title("Bin – Wheelometron")

    def test_the_bar_is_skipped_by_one_key(self) -> None:
        page = self.sign_in()
        self.open_installation("Turnstone")
        page.reload()
        expect(page.locator("[data-stage=wheel]")).to_be_visible()
        page.keyboard.press("Tab")
        expect(page.get_by_role("link", name="Skip to the main content")).to_be_focused()
        page.keyboard.press("Enter")
        page.keyboard.press("Tab")
        expect(page.locator("[data-stage=wheel]")).to_be_focused()


class Focus(BrowserTestCase):
    def test_a_dialog_gives_the_focus_back(self) -> None:
        page = self.sign_in()
        self.open_installation("Plover")
        page.get_by_role("button", name="Menu").click()
        page.get_by_role("menuitem", name="Logbook").click()
        expect(page.get_by_role("dialog")).to_be_visible()
        self.escape(page)
        expect(page.get_by_role("button", name="Menu")).to_be_focused()
        page.get_by_test_id("next-action").press("Enter")
        expect(page.get_by_role("dialog")).to_be_visible()
        self.escape(page)
        expect(page.get_by_test_id("next-action")).to_be_focused()


class Tabs(BrowserTestCase):
    def test_the_views_of_a_link_by_arrow_keys(self) -> None:
        page = self.sign_in()
        self.open_installation("Plover")
        page.get_by_role("tab", name="On the ground").focus()
        for name in ("Methods compared", "Wear, load, growth", "Change the tyre", "On the ground"):
            page.keyboard.press("ArrowRight")
            expect(page.get_by_role("tab", name=name)).to_have_attribute("aria-selected", "true")

    def test_no_two_tabs_lie_on_one_another_on_a_phone(self) -> None:
        context = self.new_context(PHONE, has_touch=True)
        page = context.new_page()
        self.sign_in(page)
        for stage in ("wheel", "readout"):
            self.open_installation("Plover", stage, page)
            tabs = page.get_by_role("tab")
            boxes = [tabs.nth(place).bounding_box() for place in range(tabs.count())]
            for one, other in pairwise([box for box in boxes if box]):
                apart = other["x"] >= one["x"] + one["width"] - 1 or other["y"] >= one["y"] + one["height"] - 1
                self.assertTrue(apart, f"{one} {other}")
            for row in page.get_by_role("tablist").all():
                box = row.bounding_box()
                assert box is not None
                self.assertLessEqual(box["x"] + box["width"], PHONE["width"])
            last = tabs.last
            last.click()
            expect(last).to_be_in_viewport(ratio=0.99)


class Numbers(BrowserTestCase):
    def test_no_field_clips_eight_digits(self) -> None:
        """Beside however long a unit, on a laptop and on the smallest phone."""
        page = self.sign_in()
        for width in (1280, 320):
            page.set_viewport_size({"width": width, "height": 800})
            self.open_installation("Grebe", "readout")
            self.field("readouts.0.current_setting").fill("12345678")
            clipped = page.evaluate(
                """() => [...document.querySelectorAll('input[inputmode=decimal]')].filter(e => e.checkVisibility())
                    .map(e => { e.value = '12345678'; return [e.dataset.testid, e.clientWidth, e.scrollWidth] })
                    .filter(([, has, needs]) => needs > has)"""
            )
            self.assertEqual(clipped, [], width)


class Phone(BrowserTestCase):
    def setUp(self) -> None:
        super().setUp()
        self.context = self.new_context(PHONE, has_touch=True)
        self.page = self.context.new_page()

    def test_the_line_stays_on_top_and_the_number_is_first(self) -> None:
        self.sign_in()
        self.open_installation("Plover", "readout")
        number = self.page.get_by_test_id("to-type")
        number.scroll_into_view_if_needed()
        self.page.mouse.wheel(0, 2000)
        self.page.wait_for_timeout(200)
        line = self.page.get_by_role("navigation", name="Stages").bounding_box()
        assert line is not None
        self.assertLess(line["y"], 20)
        self.page.mouse.wheel(0, -4000)
        self.page.wait_for_timeout(400)
        typed = self.field("readouts.0.current_setting").bounding_box()
        large = number.bounding_box()
        assert typed is not None
        assert large is not None
        self.assertLess(large["y"], typed["y"])


class Paper(BrowserTestCase):
    def test_a_page_is_printed_light_with_its_figures_and_without_its_buttons(self) -> None:
        page = self.open_installation("Dotterel", "readout")
        expect(page.get_by_test_id("to-type")).to_be_visible()
        text = "".join(part.extract_text() for part in PdfReader(io.BytesIO(page.pdf(print_background=True))).pages)
        self.assertIn("40796", text)
        self.assertIn("Dotterel / Slip log", text.replace("\n", " "))
        self.assertIn("exact 40795.9", text.replace("\n", " "))
        for pressed in ("Menu", "Add readout", "Go to the wheel"):
            self.assertNotIn(pressed, text)
        self.assertEqual(page.evaluate("document.documentElement.className"), "dark")


class Shipped(BrowserTestCase):
    def test_nothing_comes_from_elsewhere(self) -> None:
        asked: list[str] = []
        self.page.on("request", lambda request: asked.append(request.url))
        self.sign_in()
        self.open_installation("Plover")
        self.assertGreater(len(asked), 5)
        self.assertEqual([url for url in asked if not url.startswith((self.live_server_url, "data:", "blob:"))], [])

    def test_a_page_asks_for_everything_at_once(self) -> None:
        """The page, its scripts, then session, installation, words, figures and the stage's script beside each other:
        no answer comes before all have been asked for."""
        self.sign_in()
        self.open_installation("Plover")
        pk = self.installation_of("Plover").pk
        wanted = ("/api/session", "/api/catalogue", f"/installations/{pk}", f"/installations/{pk}/evaluated", ".js")
        asked: list[str] = []
        held: list[Route] = []
        posted: list[str] = []

        def hold(route: Route) -> None:
            asked.append(route.request.url)
            held.append(route)
            if all(any(url.endswith(end) for url in asked) for end in wanted):
                while held:
                    held.pop().continue_()

        page = self.context.new_page()
        page.on("request", lambda request: posted.append(request.url) if request.method == "POST" else None)
        page.route(re.compile(r"/api/|/SensorStage-.*\.js"), hold)
        page.goto(f"{self.live_server_url}/installation/{pk}/sensor")
        expect(page.get_by_test_id("shown-kmh")).to_be_visible()
        self.assertEqual([url for url in posted if url.endswith("/api/evaluate")], [])

    def test_the_first_view_stays_light(self) -> None:
        """At most 220 kB of script, gzipped, for signing in and the vehicles."""
        sizes: dict[str, int] = {}

        def note(url: str) -> None:
            if url.endswith(".js"):
                sizes[url] = len(gzip.compress((FRONTEND / "dist" / "assets" / Path(url).name).read_bytes()))

        self.page.on("response", lambda response: note(response.url))
        self.sign_in()
        self.page.wait_for_load_state("networkidle")
        self.assertGreater(sum(sizes.values()), 50_000)
        self.assertLess(sum(sizes.values()), 220_000)
