"""Whole jobs at the phone's size, from the sheet to the signature and the tag; and one without network and through a
reload."""

from __future__ import annotations

import io
import re
from concurrent.futures import ThreadPoolExecutor
from datetime import UTC, datetime
from typing import Any

from django.contrib.auth.models import User
from django.contrib.sessions.models import Session
from django.db import connection
from PIL import Image
from playwright.sync_api import Page, Route, expect

from devtools.browser import PHONE
from speedchain import read_installation
from speedchain.jobs import Entry
from tests.browser.base import BrowserTestCase
from tests.installations import CAR, document
from workshop.installations import add_installation
from workshop.jobs import add_entries
from workshop.models import InstallationRecord, Note, SheetRecord, Vehicle


class JobCase(BrowserTestCase):
    def open_job(self, installation: InstallationRecord, title: str, **options: Any) -> Page:
        context = self.new_context(PHONE, has_touch=True, **options)
        self.page = page = context.new_page()
        self.sign_in()
        page.goto(self.address(f"/installation/{installation.pk}/jobs"))
        page.get_by_role("button", name=title, exact=True).click()
        expect(page.get_by_test_id("closing")).to_be_visible()
        return page

    def added(self, base: dict[str, Any]) -> InstallationRecord:
        """A further installation of the hill-climb special."""

        def add() -> int:
            try:
                user = User.objects.get(username="demo")
                vehicle = Vehicle.objects.get(name="Dotterel")
                return add_installation(user, vehicle.pk, read_installation(base)).pk
            finally:
                connection.close()

        with ThreadPoolExecutor(1) as pool:  # not in the thread of Playwright's loop
            return InstallationRecord.objects.get(pk=pool.submit(add).result())

    def do(self, code: str, value: str = "", *, unit: str = "", answer: str = "", checked: str = "") -> None:
        step = self.page.get_by_test_id(f"step-{code}")
        tick = step.get_by_label("I have read the caution")
        if tick.count():
            tick.check()
        if value:
            self.page.get_by_test_id(f"value-{code}").fill(value)
        if unit:
            self.page.get_by_test_id(f"unit-{code}").select_option(unit)
        step.get_by_role("button", name=answer or "Done", exact=True).click()
        expect(step).not_to_have_attribute("data-state", "open")
        if checked:
            expect(step.get_by_test_id("outcome")).not_to_contain_text("not sent yet")
            step.get_by_test_id("checked-by").fill(checked)
            step.get_by_role("button", name="Checked").click()
            expect(step.get_by_test_id("outcome")).to_contain_text(f"checked by {checked}")

    def do_the_rest(self, values: dict[str, str]) -> None:
        """Every step that is open yet, as it comes: yes, done, torque from the manual, checked by another."""
        kept = SheetRecord.objects.latest("pk")
        for step in kept.sheet["steps"]:
            code = step["code"]
            if self.page.get_by_test_id(f"step-{code}").get_attribute("data-state") != "open":
                continue
            checked = "steward" if step["second"] else ""
            match step["kind"]:
                case "photo":
                    continue
                case "torque":
                    self.do(code, "98", unit="N·m", checked=checked)
                case "measure":
                    self.do(code, self.as_expected(kept, code) or values.get(step["measure"], "2"))
                case "decide":
                    self.do(code, answer="Yes", checked=checked)
                case _:
                    self.do(code, checked=checked)

    def as_expected(self, kept: SheetRecord, code: str) -> str:
        """What the sheet expects at a step, now that those before it are done; empty where it expects nothing."""
        expect(self.page.get_by_test_id("line")).to_have_attribute("data-line", "sent")
        steps = self.page.request.get(self.address(f"/api/sheets/{kept.pk}")).json()["steps"]
        found = {step["code"]: step for step in steps}
        expected = found[code]["expected"]
        if expected is None:
            return ""
        if expected["low"] is not None:
            return f"{(expected['low'] + expected['high']) / 2:.6g}"
        entered = re.search(r"Enter ([\d.]+)", found["enter_setting"]["text"])
        return entered[1] if entered else ""

    def sign_and_print_the_tag(self, installation: InstallationRecord) -> None:
        page = self.page
        expect(page.get_by_test_id("line")).to_have_attribute("data-line", "sent")
        page.get_by_role("button", name="Sign as").click()
        expect(page.get_by_test_id("closing")).to_contain_text("✓ Signed")
        page.get_by_role("button", name="Create read-only link").click()
        shared = page.get_by_test_id("share-link").inner_text()
        self.assertEqual(page.request.get(shared).headers["content-type"], "application/pdf")
        page.get_by_role("button", name="Revoke").click()
        expect(page.get_by_test_id("share-link")).to_have_count(0)
        wide = page.evaluate("document.documentElement.scrollWidth - document.documentElement.clientWidth")
        self.assertEqual(wide, 0)
        page.goto(self.address(f"/installation/{installation.pk}/jobs"))
        expect(page.get_by_test_id("sheets")).to_contain_text("Signed")
        with page.expect_download() as download:
            page.get_by_role("button", name="Tag for the sensor").click()
        self.assertEqual(download.value.suggested_filename, "tag-sensor.pdf")


class Jobs(JobCase):
    def test_rotor_bolt_magnet_with_torques_after_the_spin_test(self) -> None:
        plover = self.installation_of("Plover")
        page = self.open_job(plover, "Magnet on a rotor bolt")
        steps = [step["code"] for step in SheetRecord.objects.latest("pk").sheet["steps"]]
        self.assertLess(steps.index("spin_agrees"), steps.index("torque_bolts"))
        page.get_by_role("button", name="Sign as").wait_for()
        expect(page.get_by_role("button", name="Sign as")).to_be_disabled()
        lift = page.get_by_test_id("step-lift")
        expect(lift.get_by_role("button", name="Yes")).to_be_disabled()  # until its caution is read
        self.do("lift", answer="Yes")
        photo = io.BytesIO()
        Image.new("RGB", (2400, 1800), "teal").save(photo, "JPEG")
        file = {"name": "before.jpg", "mimeType": "image/jpeg", "buffer": photo.getvalue()}
        page.get_by_test_id("step-photo_before").get_by_test_id("photo-file").set_input_files(file)  # type: ignore[arg-type]
        expect(page.get_by_role("img", name="Photo at step")).to_be_visible()
        self.do("bolts")
        self.do("poles", answer="No")
        expect(page.get_by_test_id("step-poles")).to_contain_text("Stop. Turn the wrong one round.")
        self.do("poles", answer="Yes")
        count = str(plover.revisions.get(number=plover.head).document["target"]["count"])
        self.do_the_rest({"count": count, "gap": "1.4 mm", "setting": "1600", "roll_out": "4.8 m", "pressure": "3 bar"})
        self.sign_and_print_the_tag(plover)
        plover.refresh_from_db()
        head = plover.revisions.get(number=plover.head).document
        kept = SheetRecord.objects.latest("pk").entries.get(content__step="gap_one", content__what="done")
        self.assertEqual(head["placement"]["air_gap_mm"], float(kept.content["value"]))
        self.assertEqual(head["placement"]["air_gap_basis"], "measured")
        self.assertEqual(head["sensor"]["verification"]["test"], "spin")

    def test_wheel_swap_with_rotor_and_magnet(self) -> None:
        turnstone = self.installation_of("Turnstone")
        page = self.open_job(turnstone, "Change of the wheel")
        self.do("target_moved", answer="No")
        expect(page.get_by_test_id("step-target_moved")).to_contain_text("the display shows nothing")
        expect(page.get_by_test_id("closing")).to_contain_text("Stopped at:")
        self.do("target_moved", answer="Yes")
        self.do_the_rest({"count": "48", "gap": "0.9", "setting": "574", "roll_out": "5.41 m", "pressure": "2.2"})
        self.sign_and_print_the_tag(turnstone)

    def test_brake_control_of_four_corners(self) -> None:
        brakes = self.added(document(CAR, name="Brake control, front left", purpose="brake_control"))
        page = self.open_job(brakes, "Brake-control rings or sensors, four corners")
        self.do("count_fr", answer="No")
        expect(page.get_by_test_id("step-count_fr")).to_contain_text("Fit equal rings")
        self.do("count_fr", answer="Yes")
        self.do_the_rest({"count": "48", "gap": "0.9", "setting": "24905"})
        self.sign_and_print_the_tag(brakes)

    def test_gearbox_output_sensor(self) -> None:
        dotterel = next(
            item
            for item in InstallationRecord.objects.filter(vehicle__name="Dotterel")
            if "countershaft" in item.revisions.get(number=item.head).document["name"]
        )
        self.open_job(dotterel, "Sensor at the gearbox output")
        count = str(dotterel.revisions.get(number=dotterel.head).document["target"]["count"])
        self.do_the_rest({"count": count, "gap": "0.9", "setting": "30000"})
        self.sign_and_print_the_tag(dotterel)

    def test_learning_ride_with_its_timer(self) -> None:
        learned = document(CAR, name="Dash that learns", readouts__0__entry="learned")
        installation = self.added(learned)
        page = self.open_job(installation, "Learning ride")
        hold = page.get_by_test_id("step-hold")
        hold.get_by_role("button", name="Start", exact=True).click()
        expect(hold.get_by_role("timer")).to_contain_text("8 s")
        self.do_the_rest({"pressure": "2.2 bar"})
        self.sign_and_print_the_tag(installation)

    def test_a_safety_step_is_skipped_only_with_a_reason(self) -> None:
        page = self.open_job(self.installation_of("Turnstone"), "Yearly service")
        step = page.get_by_test_id("step-safe_ground")
        step.get_by_role("button", name="Skip").click()
        expect(step.get_by_role("button", name="Skip")).to_be_disabled()
        step.get_by_label("Why is it skipped?").fill("on the lift of the hall")
        step.get_by_role("button", name="Skip").click()
        expect(step).to_have_attribute("data-state", "skipped")
        expect(step.get_by_test_id("outcome")).to_contain_text("on the lift of the hall")
        step.get_by_role("button", name="Undo").click()
        expect(step).to_have_attribute("data-state", "open")

    def test_a_job_of_our_own(self) -> None:
        turnstone = self.installation_of("Turnstone")
        self.page = page = self.new_context(PHONE, has_touch=True).new_page()
        self.sign_in()
        page.goto(self.address(f"/installation/{turnstone.pk}/jobs"))
        page.get_by_role("link", name="The workshop's own jobs").click()
        page.get_by_role("button", name="Write a new job").click()
        page.get_by_label("Title").fill("Wash the sidecar")
        page.get_by_test_id("own-0").fill("No water into the bearings")
        page.get_by_test_id("own-kind-0").select_option("decide")
        page.get_by_label("It protects people").check()
        page.get_by_role("button", name="Save").click()
        expect(page.get_by_role("alert")).to_contain_text("what follows when it fails")
        page.get_by_label("Stop: what follows a no").fill("Let it dry in the sun")
        page.get_by_role("button", name="Save").click()
        expect(page.get_by_test_id("templates")).to_contain_text("Wash the sidecar, steps: 1")
        page.goto(self.address(f"/installation/{turnstone.pk}/jobs"))
        page.get_by_role("button", name="Wash the sidecar").click()
        self.do("s1", answer="No")
        expect(page.get_by_test_id("step-s1")).to_contain_text("Stop. Let it dry in the sun")
        self.do("s1", answer="Yes")
        self.sign_and_print_the_tag(turnstone)

    def test_a_built_in_job_copied_and_started_from_its_stage(self) -> None:
        turnstone = self.installation_of("Turnstone")
        page = self.page
        self.sign_in()
        page.goto(self.address("/jobs"))
        page.get_by_role("button", name="Copy Change of the tyre").click()
        page.get_by_label("Title").fill("Tyre, our way")
        first = page.get_by_test_id("own-step-0")
        expect(first).to_contain_text("Read the setting")
        first.get_by_role("button", name="Change the words").click()
        expect(page.get_by_test_id("own-0")).to_have_value(re.compile(r"\{readout\}"))
        page.get_by_test_id("own-0").fill("Note what {readout} is set to")
        page.get_by_role("button", name="Move step 1 down").click()
        expect(page.get_by_test_id("own-1")).to_have_value("Note what {readout} is set to")
        page.get_by_test_id("own-step-2").get_by_role("button", name="Remove step 3").click()
        expect(page.get_by_test_id("left-out")).to_contain_text("wheels chocked; key out")
        page.get_by_role("button", name="Add a step").click()
        last = page.locator("[data-testid^=own-step-]").count() - 1
        page.get_by_test_id(f"own-{last}").fill("Sweep the floor")
        page.get_by_role("button", name="Save").click()
        expect(page.get_by_test_id("templates")).to_contain_text("Tyre, our way")
        page.goto(self.address(f"/installation/{turnstone.pk}/wheel"))
        page.get_by_test_id("stage-sheets").get_by_role("button", name="Tyre, our way").click()
        expect(page.get_by_test_id("step-note_setting")).to_contain_text("Note what Dash is set to")
        expect(page.get_by_test_id("step-safe_ground")).to_have_count(0)
        expect(page.locator("[data-testid^=step-]").last).to_contain_text("Sweep the floor")
        torque = page.get_by_test_id("step-torque_wheel")
        torque.get_by_test_id("value-torque_wheel").fill("90")
        torque.get_by_test_id("unit-torque_wheel").select_option("N·m")
        torque.get_by_test_id("tool-torque_wheel").fill("torque wrench")
        torque.get_by_role("button", name="Done").click()
        expect(torque.get_by_test_id("outcome")).to_contain_text("90 N·m, torque wrench")
        page.goto(self.address(f"/installation/{turnstone.pk}/wheel"))
        open_sheet = page.get_by_test_id("stage-sheets").get_by_role("link", name="Continue: Tyre, our way")
        expect(open_sheet).to_be_visible()
        page.get_by_test_id("stage-sheets").get_by_role("button", name="Change of the wheel").click()
        expect(page.get_by_test_id("known-torque_wheel")).to_contain_text("90 N·m, from the manual")
        expect(page.get_by_test_id("value-torque_wheel")).to_have_value("90")
        page.get_by_role("button", name="Remove this sheet").click()
        page.get_by_role("button", name="Keep it").click()
        page.get_by_role("button", name="Remove this sheet").click()
        page.get_by_role("button", name="Remove for good").click()
        expect(page.get_by_role("heading", name="Job sheets")).to_be_visible()
        expect(page.get_by_test_id("sheets")).not_to_contain_text("Change of the wheel")

    def test_a_first_visit_says_when_the_sheet_opens_without_network(self) -> None:
        """No page was loaded twice, nothing was looked at before."""
        page = self.open_job(self.installation_of("Turnstone"), "Change of the tyre", service_workers="allow")
        line = page.get_by_test_id("line")
        expect(line).to_have_attribute("data-kept", "true")
        expect(line).to_contain_text("opens without a network")
        page.context.set_offline(True)
        page.reload()
        expect(page.get_by_test_id("closing")).to_be_visible()
        self.do("safe_ground")
        expect(line).to_have_attribute("data-line", "waiting")
        page.context.set_offline(False)
        expect(line).to_have_attribute("data-line", "sent")

    def test_without_network_through_a_reload(self) -> None:
        page = self.open_job(self.installation_of("Turnstone"), "Change of the tyre", service_workers="allow")
        page.evaluate("navigator.serviceWorker.ready.then(() => true)")
        page.reload()  # from here on the app itself is on the device
        expect(page.get_by_test_id("closing")).to_be_visible()
        page.wait_for_function("navigator.serviceWorker.controller !== null")
        page.reload()
        expect(page.get_by_test_id("closing")).to_be_visible()
        page.context.set_offline(True)
        policy = "fetch('/index.html').then(answer => answer.headers.get('content-security-policy'))"
        self.assertIn("default-src 'self'", page.evaluate(policy))  # the page that is kept is bound as well
        self.do("safe_ground")
        expect(page.get_by_test_id("line")).to_have_attribute("data-line", "waiting")
        page.reload()
        expect(page.get_by_test_id("step-safe_ground")).to_have_attribute("data-state", "done")
        expect(page.get_by_test_id("step-safe_ground")).to_contain_text("not sent yet")
        self.do("marking")
        photo = io.BytesIO()
        Image.new("RGB", (300, 200), "olive").save(photo, "JPEG")
        file = {"name": "p.jpg", "mimeType": "image/jpeg", "buffer": photo.getvalue()}
        page.get_by_test_id("step-photo_before").get_by_test_id("photo-file").set_input_files(file)  # type: ignore[arg-type]
        expect(page.get_by_test_id("step-photo_before")).to_have_attribute("data-state", "done")
        self.assertEqual(SheetRecord.objects.latest("pk").entries.count(), 0)
        page.context.set_offline(False)
        expect(page.get_by_test_id("line")).to_have_attribute("data-line", "sent")
        expect(page.get_by_role("img", name="Photo at step")).to_be_visible()
        sheet = SheetRecord.objects.latest("pk")
        steps = [entry.content["step"] for entry in sheet.entries.all()]
        self.assertEqual(steps, ["safe_ground", "marking", "photo_before"])
        self.assertEqual(sheet.photos.count(), 1)

    def test_a_step_that_is_sent_never_looks_open_while_the_sheet_is_read_again(self) -> None:
        page = self.open_job(self.installation_of("Turnstone"), "Change of the tyre")
        held: list[Route] = []
        of_sheet = re.compile(r"/api/sheets/[0-9]+$")

        def hold(route: Route) -> None:
            held.append(route)

        page.route(of_sheet, hold)
        first, second = page.get_by_test_id("step-safe_ground"), page.get_by_test_id("step-marking")
        for code in ("safe_ground", "marking"):
            with page.expect_response("**/entries"):
                self.do(code)
        for _ in range(10):
            page.wait_for_timeout(50)
            self.assertEqual([step.get_attribute("data-state") for step in (first, second)], ["done", "done"])
        self.assertGreater(len(held), 0)
        for route in held:
            route.continue_()
        page.unroute(of_sheet)
        expect(second.get_by_test_id("outcome")).not_to_contain_text("not sent yet")
        expect(page.get_by_test_id("line")).to_have_attribute("data-line", "sent")

    def test_what_the_server_does_not_take_is_said_at_the_step(self) -> None:
        page = self.open_job(self.installation_of("Turnstone"), "Change of the tyre")
        step = page.get_by_test_id("step-roll")
        step.get_by_label("I have read").check() if step.get_by_label("I have read").count() else None
        page.get_by_test_id("value-roll").fill("3 cm")
        step.get_by_role("button", name="Done").click()
        expect(step.get_by_role("alert")).to_contain_text("Check the number of turns")
        with page.expect_response("**/entries"):
            step.get_by_role("button", name="Send again").click()
        expect(step.get_by_role("alert")).to_contain_text("Check the number of turns")
        step.get_by_role("button", name="Keep as a note").click()
        expect(step.get_by_role("alert")).to_have_count(0)
        note = Note.objects.latest("pk")
        self.assertIn("3 cm", note.text)
        self.assertEqual(note.vehicle.name, "Turnstone")
        step.get_by_role("button", name="Done").click()
        step.get_by_role("button", name="Discard").click()
        expect(step.get_by_role("alert")).to_have_count(0)
        self.assertEqual(SheetRecord.objects.latest("pk").entries.count(), 0)

    def test_what_was_done_without_a_line_is_sent_from_any_page(self) -> None:
        page = self.open_job(self.installation_of("Turnstone"), "Change of the tyre")
        statuses = [503]

        def refuse(route: Route) -> None:
            route.fulfill(status=statuses[-1], content_type="application/problem+json", body="{}")

        page.route("**/entries", refuse)
        self.do("safe_ground")
        expect(page.get_by_test_id("line")).to_have_attribute("data-line", "waiting")
        self.walk(page, "/")
        expect(page.get_by_test_id("unsent")).to_have_text("One entry of a job sheet is not sent yet.")
        for status in (408, 425, 429, 500):  # none of them is a refusal
            statuses.append(status)
            with page.expect_response("**/entries"):
                pass
            expect(page.get_by_test_id("unsent")).to_be_visible()
        self.assertEqual(SheetRecord.objects.latest("pk").entries.count(), 0)
        page.unroute("**/entries")
        expect(page.get_by_test_id("unsent")).to_have_count(0)
        self.assertEqual(SheetRecord.objects.latest("pk").entries.count(), 1)

    def test_two_devices_that_measured_one_step_differently_are_asked(self) -> None:
        page = self.open_job(self.installation_of("Turnstone"), "Change of the tyre")
        self.do("pressure", value="2.2 bar")
        expect(page.get_by_test_id("line")).to_have_attribute("data-line", "sent")
        other = {"key": "other-device-1", "step": "pressure", "what": "done", "value": "2.6 bar", "by": "tuner"}
        with ThreadPoolExecutor(1) as pool:
            pool.submit(self.from_another_device, other).result()
        page.reload()
        rivals = page.get_by_test_id("rivals")
        expect(rivals).to_contain_text("Entered differently on several devices. Which one is right?")
        expect(rivals.get_by_role("button", name="Keep 2.6 bar")).to_be_visible()
        rivals.get_by_role("button", name="Keep 2.2 bar").click()
        expect(rivals).to_have_count(0)
        expect(page.get_by_test_id("step-pressure").get_by_test_id("outcome")).to_contain_text("2.2 bar")
        expect(page.get_by_test_id("line")).to_have_attribute("data-line", "sent")
        expect(page.get_by_test_id("step-pressure").get_by_test_id("outcome")).not_to_contain_text("not sent yet")
        self.assertEqual(SheetRecord.objects.latest("pk").entries.count(), 4)  # nothing of it is lost

    def from_another_device(self, content: dict[str, Any]) -> None:
        try:
            sheet = SheetRecord.objects.latest("pk")
            entry = Entry(acknowledged=True, at=datetime(2026, 5, 2, tzinfo=UTC), **content)
            add_entries(User.objects.get(username="demo"), sheet.pk, [entry])
        finally:
            connection.close()

    def test_a_device_that_was_signed_out_elsewhere_keeps_no_sheets(self) -> None:
        page = self.open_job(self.installation_of("Turnstone"), "Change of the tyre")
        kept = """new Promise(done => { const open = indexedDB.open('keyval-store'); open.onsuccess = () => {
            const keys = open.result.transaction('keyval').objectStore('keyval').getAllKeys();
            keys.onsuccess = () => done(
                keys.result.filter(key => String(key).startsWith('wheelometron.sheet')).length) } })"""
        self.assertEqual(page.evaluate(kept), 1)
        Session.objects.all().delete()
        page.reload()
        expect(page.get_by_role("button", name="Open the demo workshop")).to_be_visible()
        self.assertEqual(page.evaluate(kept), 0)


class OnTheWater(JobCase):
    recordings = True

    def test_paddle_on_the_hull(self) -> None:
        grebe = self.installation_of("Grebe")
        page = self.open_job(grebe, "Paddle on the hull")
        sheet = page.url
        # the step says where to: the runs are recorded, and their calibration is entered
        page.goto(self.address(f"/vehicle/{grebe.vehicle_id}"))
        page.get_by_role("link", name="Four runs off the jetty").first.click()
        page.get_by_role("tab", name="Reciprocal runs").click()
        expect(page.get_by_test_id("reciprocal")).to_contain_text("%")
        said = page.get_by_test_id("reciprocal").inner_text()
        self.assertRegex(said, r"4\.[0-9]+ %")  # the demo's paddle shows 0.955 of the true speed
        page.goto(sheet)
        self.do_the_rest({"setting": "5"})
        self.sign_and_print_the_tag(grebe)


class Computing(JobCase):
    def test_without_network_the_number_follows_from_what_was_just_measured(self) -> None:
        """Of the Turnstone's sheet for a tyre: until the roll-out is there the step says after which step; then at
        once."""
        turnstone = self.installation_of("Turnstone")
        page = self.open_job(turnstone, "Change of the tyre")
        enter = page.get_by_test_id("step-enter_setting")
        expect(enter).to_contain_text("The number follows after step")
        page.context.set_offline(True)
        self.do("roll", "5412")
        expect(page.get_by_test_id("line")).to_have_attribute("data-line", "waiting")
        expect(enter).to_contain_text(re.compile(r"Enter 57[45] mm into Dash"))  # 5412 mm/3 turns/π = 574.2, rounded up
        said = enter.inner_text()
        page.context.set_offline(False)
        expect(page.get_by_test_id("line")).to_have_attribute("data-line", "sent")
        expect(enter).to_contain_text(re.search(r"Enter \S+ mm", said)[0])  # type: ignore[index]

    def test_a_value_that_is_not_as_expected_is_red_until_a_reason_is_given(self) -> None:
        page = self.open_job(self.installation_of("Turnstone"), "Change of the tyre")
        self.do("roll", "5412")
        self.do("read_back", "500")
        step = page.get_by_test_id("step-read_back")
        expect(step.get_by_test_id("red")).to_contain_text("Not as expected: 57")
        expect(page.get_by_test_id("closing")).to_contain_text("keep the value with a written reason")
        step.get_by_test_id("kept-because").fill("the display takes no other")
        step.get_by_role("button", name="Keep it").click()
        expect(page.get_by_test_id("closing")).not_to_contain_text("keep the value with a written reason")
        expect(step).to_contain_text("the display takes no other")
        expect(step.get_by_test_id("red")).to_contain_text("Not as expected")
