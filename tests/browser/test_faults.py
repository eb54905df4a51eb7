"""From a symptom to the cause, the cure and the retest, on the phone."""

from __future__ import annotations

from concurrent.futures import ThreadPoolExecutor
from typing import Any

from django.contrib.auth.models import User
from django.db import connection
from playwright.sync_api import Page, expect

from devtools.browser import PHONE
from speedchain import read_installation
from speedchain.faults.causes import REPLACED
from tests.browser.base import BrowserTestCase
from tests.installations import CAR, CYCLE, document
from workshop.installations import add_installation
from workshop.models import FaultRecord, InstallationRecord, Vehicle


class Faults(BrowserTestCase):
    def added(self, base: dict[str, Any], vehicle: str = "Dotterel") -> InstallationRecord:
        """A further installation."""

        def add() -> int:
            try:
                user = User.objects.get(username="demo")
                return add_installation(user, Vehicle.objects.get(name=vehicle).pk, read_installation(base)).pk
            finally:
                connection.close()

        with ThreadPoolExecutor(1) as pool:  # not in the thread of Playwright's loop
            return InstallationRecord.objects.get(pk=pool.submit(add).result())

    def start(
        self,
        installation: InstallationRecord,
        *symptoms: str,
        changed: str = "",
        history: str = "",
        pair: tuple[str, str] | None = None,
    ) -> Page:
        self.page = page = self.new_context(PHONE, has_touch=True).new_page()
        self.sign_in()
        page.goto(self.address(f"/installation/{installation.pk}/faults"))
        for symptom in symptoms:
            page.get_by_role("checkbox", name=symptom).check()
        if history:
            page.get_by_role("radio", name=history).check()
        if changed:
            page.get_by_role("checkbox", name=changed, exact=True).check()
        if pair:
            page.get_by_test_id("fault-true").fill(pair[0])
            page.get_by_test_id("fault-shown").fill(pair[1])
        page.get_by_role("button", name="Find the cause").click()
        expect(page.get_by_test_id("causes")).to_be_visible()
        return page

    def search(self, outcomes: dict[str, str], cause: str, most: int = 14) -> None:
        """Do the tests that are proposed, each with its outcome or else the normal one, until the cause is found."""
        page = self.page
        state = page.get_by_test_id("fault-state")
        for number in range(most):
            if state.get_attribute("data-state") in ("found", "exhausted"):
                break
            test = page.get_by_test_id("next-test").locator("[data-test]").first
            code = test.get_attribute("data-test") or ""
            choices = test.locator("[data-outcome]")
            wanted = outcomes.get(code) or choices.first.get_attribute("data-outcome")
            test.locator(f"[data-outcome={wanted}]").click()
            expect(page.get_by_test_id("done").get_by_role("listitem")).to_have_count(number + 1)
        expect(page.get_by_test_id("cure")).to_be_visible()
        expect(page.locator("[data-cause]").first).to_have_attribute("data-cause", cause)

    def cure_and_close(self, cause: str) -> None:
        page = self.page
        wide = page.evaluate("document.documentElement.scrollWidth - document.documentElement.clientWidth")
        self.assertEqual(wide, 0)
        page.get_by_role("button", name="Retest passed: cured").click()
        expect(page.get_by_test_id("done")).to_contain_text("it is cured")
        expect(page.get_by_test_id("close-retest")).to_have_value("agreed")
        expect(page.get_by_test_id("close-part")).to_have_value(REPLACED.get(cause, "none"))
        page.get_by_role("button", name="Close with this cause").click()
        expect(page.get_by_text("Closed fault")).to_contain_text("The retest agreed")
        self.assertEqual(FaultRecord.objects.latest("pk").cause, cause)

    def test_a_dead_display_after_a_wheel_swap(self) -> None:
        self.start(self.installation_of("Plover"), "Nothing is shown", changed="Wheel or rotor")
        self.search({"look": "missing", "magnet": "shows", "spin": "nothing", "output": "stays"}, "target_left_behind")
        expect(self.page.get_by_test_id("cure")).to_contain_text("Fit the magnet or ring to this wheel")
        self.cure_and_close("target_left_behind")

    def test_one_that_has_never_worked(self) -> None:
        """Fitted wrong before anything has failed: gap and alignment first; nothing is asked of what was changed."""
        page = self.start(self.installation_of("Plover"), "Nothing is shown", history="It has never worked")
        expect(page.get_by_test_id("causes").locator("[data-cause]").first).to_have_attribute("data-cause", "gap_wide")
        expect(page.get_by_test_id("causes")).to_contain_text("it has never worked")
        page.go_back()
        expect(page.get_by_role("heading", name="Changed before the fault began")).to_be_visible()
        page.get_by_role("radio", name="It has never worked").check()
        expect(page.get_by_role("heading", name="Changed before the fault began")).to_have_count(0)

    def test_a_noisy_single_element_sensor(self) -> None:
        base = document(CAR, target__ring={"diameter_mm": 98, "face_width_mm": 6}, placement={"air_gap_mm": 0.9})
        self.start(self.added(base), "The shown speed is unsteady", changed="Sensor or bracket")
        turned = {"quarter_turn": "same", "shift": "better", "align": "off", "spin": "unsteady", "output": "weak"}
        self.search(turned, "lateral_off")
        self.cure_and_close("lateral_off")

    def test_a_strip_along_a_narrow_ring_is_turned_by_a_quarter(self) -> None:
        page = self.start(self.added(document(CAR)), "The shown speed is unsteady", changed="Sensor or bracket")
        heading = page.get_by_role("heading", level=1).inner_text()
        page.goto(self.address("/"))
        page.get_by_role("article", name="Dotterel").get_by_role("link", name="Open fault of").last.click()
        expect(page.get_by_role("heading", level=1, name=heading)).to_be_visible()
        self.search({"quarter_turn": "better", "spin": "unsteady", "output": "weak"}, "clocking")
        self.cure_and_close("clocking")

    def test_25_shown_as_10_under_vibration(self) -> None:
        page = self.start(self.installation_of("Plover"), "Drops out on bumps", pair=("25", "10"))
        expect(page.get_by_role("heading", level=1)).to_contain_text("10 km/h shown at 25 km/h")
        self.search(
            {"align": "off", "shift": "better", "spin": "unsteady", "speeds": "bumps", "output": "weak"}, "half_aligned"
        )
        self.cure_and_close("half_aligned")

    def test_half_speed_on_a_stand_with_one_wheel_held(self) -> None:
        base = document(CAR, drive={"kind": "axle_ratio", "driven": True, "axle_ratio": {"ratio": 3.73}})
        self.start(self.added(base), "About half is shown", pair=("10", "5"))
        self.search({"other_wheel": "held", "spin": "half"}, "wheel_held")
        self.cure_and_close("wheel_held")

    def test_steady_5_percent_after_a_tyre_change(self) -> None:
        self.start(
            self.installation_of("Turnstone"), "Wrong by a steady percentage", changed="Tyre", pair=("100", "105")
        )
        self.search({"tyre": "other_tyre", "roll_out": "differs"}, "tyre_changed")
        self.cure_and_close("tyre_changed")

    def test_a_speed_at_standstill(self) -> None:
        page = self.start(self.added(document(CAR)), "Shows a speed at standstill")
        self.search({"engine_off": "with_engine", "tie": "better", "unplug": "still"}, "noise_ignition")
        expect(page.locator("[data-cause=noise_ignition]")).to_contain_text("only with the engine running")
        self.cure_and_close("noise_ignition")

    def test_a_converter_destroyed_by_over_voltage(self) -> None:
        rear = next(
            item
            for item in InstallationRecord.objects.filter(vehicle__name="Dotterel")
            if item.revisions.get(number=item.head).document["signal"].get("conditioner")
        )
        self.start(rear, "Nothing is shown")
        self.search({"conditioner": "input_only", "magnet": "nothing", "spin": "nothing", "feed": "nothing"},
            "conditioner_destroyed")  # fmt: skip
        self.cure_and_close("conditioner_destroyed")

    def test_a_boat_fine_straight_and_wrong_in_turns(self) -> None:
        self.start(self.installation_of("Grebe"), "Right straight ahead, wrong in turns")
        self.search({"straight": "one_turn", "seat": "aside"}, "paddle_off_centre")
        self.cure_and_close("paddle_off_centre")

    def test_it_survives_a_reload_and_two_devices(self) -> None:
        page = self.start(self.added(document(CYCLE), "Whimbrel"), "Nothing is shown")
        page.get_by_test_id("next-test").locator("[data-outcome]").first.click()
        expect(page.get_by_test_id("done").get_by_role("listitem")).to_have_count(1)
        page.reload()
        expect(page.get_by_test_id("done").get_by_role("listitem")).to_have_count(1)
        other = self.sign_in(self.new_context(PHONE).new_page())
        other.goto(page.url)
        other.get_by_test_id("next-test").locator("[data-outcome]").first.click()
        expect(page.get_by_test_id("done").get_by_role("listitem")).to_have_count(2)
        page.get_by_role("button", name="Cannot be done here").first.click()
        expect(page.get_by_test_id("done")).to_contain_text("cannot be done here")

    def test_what_was_entered_outlives_a_reload_and_only_what_applies_is_asked(self) -> None:
        grebe = self.installation_of("Grebe")
        self.page = page = self.new_context(PHONE, has_touch=True).new_page()
        self.sign_in()
        page.goto(self.address(f"/installation/{grebe.pk}/faults"))
        expect(page.get_by_role("checkbox", name="Right straight ahead")).to_be_visible()
        expect(page.get_by_role("checkbox", name="Tyre", exact=True)).to_have_count(0)  # a boat has none
        page.get_by_role("checkbox", name="Wrong by a steady percentage").check()
        page.get_by_test_id("fault-true").fill("10")
        page.get_by_test_id("fault-shown").fill("8,5")
        page.reload()
        expect(page.get_by_test_id("fault-shown")).to_have_value("8,5")
        page.get_by_role("button", name="Find the cause").click()
        expect(page.get_by_role("heading", level=1)).to_contain_text(
            "Wrong by a steady percentage, 8.5 kn shown at 10 kn"
        )
        self.assertEqual(page.evaluate("window.scrollY"), 0)  # the next test is what is seen first
        expect(page.get_by_test_id("causes")).to_contain_text("Shown over true speed 0.85")
        page.context.set_offline(True)
        page.get_by_test_id("next-test").locator("[data-outcome]").first.click()
        expect(page.get_by_role("status").filter(has_text="Sending the answer")).to_be_visible()
        page.context.set_offline(False)
        expect(page.get_by_test_id("done").get_by_role("listitem")).to_have_count(1)

    def test_events_of_a_drive_lead_here(self) -> None:
        grebe = self.installation_of("Whimbrel")
        page = self.sign_in()
        page.goto(self.address(f"/installation/{grebe.pk}/faults?run=double"))
        expect(page.get_by_role("checkbox", name="About double is shown")).to_be_checked()
        page.goto(self.address(f"/installation/{grebe.pk}/faults?pair=20:40.2&pair=30:60"))
        expect(page.get_by_test_id("fault-true-1")).to_have_value("30")
        expect(page.get_by_test_id("fault-shown")).to_have_value("40.20")

    def test_a_cause_on_the_bench_and_a_fault_that_is_something_else(self) -> None:
        page = self.start(self.installation_of("Turnstone"), "About double is shown")
        page.get_by_role("button", name="Show on the bench").first.click()
        expect(page.get_by_test_id("on-bench")).to_contain_text("km/h")
        self.escape(page)
        page.get_by_text("Close the fault").click()
        page.get_by_test_id("close-cause").select_option("other")
        page.get_by_role("button", name="Close with this cause").click()
        expect(page.get_by_test_id("close-fault").get_by_role("alert")).to_contain_text("Write it down")
        page.get_by_test_id("close-remark").fill("A second magnet was stuck to the rim")
        page.get_by_role("button", name="Close with this cause").click()
        expect(page.get_by_text("A second magnet was stuck to the rim")).to_be_visible()

    def test_a_failed_test_leads_here(self) -> None:
        page = self.open_installation("Whimbrel", "target")
        page.get_by_role("link", name="Find the cause").first.click()
        expect(page.get_by_test_id("new-fault")).to_be_visible()
        expect(page.get_by_role("checkbox", checked=True)).not_to_have_count(0)  # what the failed test says already
        page.get_by_role("button", name="Find the cause").click()
        expect(page.get_by_test_id("causes")).to_be_visible()
