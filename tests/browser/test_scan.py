"""Every view by axe-core, a general-purpose checker of WCAG rules, in both themes and on the phone, which it fits."""

from playwright.sync_api import Locator, expect

from devtools.browser import LAPTOP, PHONE
from devtools.steps import FRONTEND
from tests.browser.base import BrowserTestCase

AXE = FRONTEND / "node_modules" / "axe-core" / "axe.min.js"
STAGES = ("wheel", "drive", "target", "sensor", "signal", "readout")
TABS = (
    ("Plover", "wheel", "Methods compared"),
    ("Plover", "wheel", "Wear, load, growth"),
    ("Plover", "wheel", "Change the tyre"),
    ("Sandpiper", "target", "Spoke planner"),
    ("Dotterel", "target", "Make your own ring"),
    ("Turnstone", "target", "Captured pulses"),
    ("Turnstone", "readout", "Check with a recorded drive"),
    ("Turnstone", "sensor", "Tolerance"),
    ("Turnstone", "sensor", "Sensor choice"),
    ("Turnstone", "sensor", "Data and wires"),
    ("Turnstone", "sensor", "Bracket and clearance"),
    ("Turnstone", "signal", "Levels"),
    ("Turnstone", "signal", "Pulse-ratio converter"),
    ("Turnstone", "signal", "Frequency to voltage"),
    ("Turnstone", "signal", "Wires and order sheet"),
    ("Turnstone", "bench", "Scope"),
    ("Turnstone", "bench", "Test card"),
    ("Turnstone", "bench", "Hand tests"),
    ("Turnstone", "bench", "Recorded run"),
    ("Turnstone", "readout", "Over speed"),
    ("Turnstone", "readout", "Lowest speed"),
)
DIALOGS = (
    ("Plover", "wheel", ("Show steps",)),
    ("Sandpiper", "sensor", ("Show steps",)),
    ("Plover", "wheel", ("Open Cycle chart", "Open the chart")),
    ("Plover", "wheel", ("Open Size marking", "Find the size")),
)
RUN_AXE = """async ([only, part]) => (await axe.run(part ?? document, {runOnly: only})).violations
    .filter(v => ['moderate', 'serious', 'critical'].includes(v.impact))
    .map(v => `${v.id}: ${v.nodes.slice(0, 3).map(n => n.target + ' ' + n.failureSummary).join(' | ')}`)"""
WCAG = ["wcag2a", "wcag2aa", "wcag21a", "wcag21aa"]
SPILLED = """() => [...document.querySelectorAll('section')].flatMap(
    section => [...section.querySelectorAll('div, table')]
    .filter(e => e.getBoundingClientRect().right > section.getBoundingClientRect().right + 1)
    .map(e => e.outerHTML.slice(0, 90)))"""
SMALL = """() => [...document.querySelectorAll(
    'button, a:not([href="#chakra-skip-nav"]), input:not([type=radio]), select')]
    .filter(e => e.offsetParent && (e.closest('label') ?? e).getBoundingClientRect().height < 28)
    .map(e => e.outerHTML.slice(0, 90))"""
TINY = """() => [...document.querySelectorAll('svg text')]
    .map(e => [e.textContent, parseFloat(getComputedStyle(e).fontSize)
        * Math.hypot(e.getScreenCTM().a, e.getScreenCTM().b)])
    .filter(([, px]) => px < 11)"""
FAULTS_ON_A_PHONE = {"outside of its panel": SPILLED, "small to press": SMALL, "texts of drawings": TINY}


class Scan(BrowserTestCase):
    """axe-core, a general-purpose checker of WCAG rules: each view is opened once, and looked at in the dark theme, in
    the light theme (where only colours differ, so only contrast) and on the phone, where nothing scrolls sideways."""

    def setUp(self) -> None:
        super().setUp()
        context = self.new_context(bypass_csp=True)
        context.add_init_script(path=AXE)
        self.view = context.new_page()

    def check(self, what: str, part: Locator | None = None) -> None:
        """Look at a view, or at one part of it where the rest was looked at before."""
        page = self.view
        for where, only in (("dark", WCAG), ("light", ["color-contrast"]), ("phone", WCAG)):
            if where == "phone":
                page.set_viewport_size(PHONE)
            page.evaluate(
                "theme => { document.documentElement.className = theme }", "light" if where == "light" else "dark"
            )
            self.settle(page)
            with self.subTest(f"{what}, {where}"):
                found = page.evaluate(RUN_AXE, [only, part and part.element_handle()])
                self.assertEqual(len(found), 0, "\n".join(found))
        with self.subTest(f"{what} fits a phone"):
            self.assertLessEqual(page.evaluate("document.documentElement.scrollWidth"), PHONE["width"])
            self.assertEqual(
                {name: found for name, look in FAULTS_ON_A_PHONE.items() if (found := page.evaluate(look))}, {}
            )
        page.set_viewport_size(LAPTOP)


RECORDINGS = (
    ("Dotterel", "Hill climb", "Signal health"),
    ("Dotterel", "Hill climb", "Slip"),
    ("Grebe", "Four runs", "Reciprocal runs"),
    ("Whimbrel", "phone", ""),
)
"""Recordings of the demo world, and the answer that is looked at."""


class ScanRecordings(Scan):
    recordings = True

    def test_recordings(self) -> None:
        page = self.view
        self.sign_in(page)
        for vehicle, name, answer in RECORDINGS:
            self.open_recording(page, vehicle, name, answer)
            self.check(name)


class ScanPlaces(Scan):
    def test_places_and_stages(self) -> None:
        page = self.view
        page.goto(self.address("/"))
        expect(page.get_by_role("button", name="Open the demo workshop")).to_be_visible()
        self.check("sign-in")
        self.sign_in(page)
        self.check("vehicles")
        page.goto(self.address("/new"))
        page.get_by_label("True road speed on a dash").check()
        page.get_by_role("button", name="Create installation").click()
        self.check("new installation")
        for stage in STAGES:
            self.open_installation("Plover", stage, page)
            page.keyboard.press("w")
            self.check(stage)
        page.goto(self.address(f"/vehicle/{self.installation_of('Dotterel').vehicle_id}"))
        expect(page.get_by_role("heading", name="False slip")).to_be_visible()
        self.check("vehicle sheet")


class ScanFaults(Scan):
    def test_service_faults_and_practice(self) -> None:
        page = self.view
        self.sign_in(page)
        page.goto(self.address(f"/vehicle/{self.installation_of('Turnstone').vehicle_id}/service"))
        expect(page.get_by_test_id("parts")).to_be_visible()
        self.check("service")
        page.goto(self.address(f"/installation/{self.installation_of('Plover').pk}/faults"))
        expect(page.get_by_test_id("new-fault")).to_be_visible()
        self.check("faults")
        page.get_by_role("link", name="Open fault").click()
        expect(page.get_by_test_id("causes")).to_be_visible()
        self.check("a fault")
        page.goto(self.address("/fault-table"))
        expect(page.get_by_test_id("fault-table")).to_be_visible()
        self.check("fault table")
        page.goto(self.address("/practice"))
        page.get_by_role("button", name="Begin case 6").click()
        expect(page.get_by_test_id("moves")).to_be_visible()
        self.check("practice")


class ScanTabs(Scan):
    def test_tabs(self) -> None:
        self.sign_in(self.view)
        for vehicle, stage, tab in TABS:
            self.open_installation(vehicle, stage, self.view)
            self.view.get_by_role("tab", name=tab).click()
            self.check(tab, self.view.get_by_role("tabpanel").first)


class ScanDialogs(Scan):
    def test_dialogs(self) -> None:
        page = self.view
        self.sign_in(page)
        for vehicle, stage, openers in DIALOGS:
            self.open_installation(vehicle, stage, page)
            for opener in openers:
                page.get_by_role("button", name=opener, exact=True).first.click()
            expect(page.get_by_role("dialog")).to_be_visible()
            self.check(openers[-1])
            page.keyboard.press("Escape")
            expect(page.get_by_role("dialog")).to_have_count(0)
        self.open_installation("Dotterel", "wheel", page)
        page.get_by_test_id("tasks").get_by_role("button").click()
        self.scan_dialog("tasks", "To do")
        page.get_by_role("button", name="Menu").click()
        expect(page.get_by_role("menuitem", name="Details")).to_be_visible()
        self.check("menu")
        page.get_by_role("menuitem", name="Details").click()
        self.scan_dialog("details", "Details")
        page.keyboard.press("?")
        self.scan_dialog("help", "Keys")
        page.keyboard.press("l")
        self.scan_dialog("logbook", "Logbook")

    def scan_dialog(self, what: str, title: str) -> None:
        """The one of that title: not another that is on its way out yet."""
        dialog = self.view.get_by_role("dialog")
        expect(dialog.get_by_role("heading", name=title)).to_be_visible()
        self.check(what)
        self.view.keyboard.press("Escape")
        expect(dialog).to_have_count(0)
