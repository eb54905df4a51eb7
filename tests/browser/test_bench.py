"""Signal and bench in the browser: levels and rates, converter and cap, the scope, test card, tests by hand, long
runs."""

from __future__ import annotations

import re
from pathlib import Path

from playwright.sync_api import Page, expect

from devtools.browser import PHONE
from speedchain import read_installation
from tests.browser.base import BrowserTestCase
from workshop.installations import head_of
from workshop.models import InstallationRecord, Work


class Bench(BrowserTestCase):
    def at(self, name: str, stage: str, viewport: dict[str, int] | None = None) -> Page:
        """An installation of the demo by its name, at a link or on the bench."""
        if viewport:
            self.page.set_viewport_size(viewport)  # type: ignore[arg-type]
        page = self.sign_in()
        self.installation = next(
            one for one in InstallationRecord.objects.all() if head_of(one).document["name"] == name
        )
        self.walk(page, f"/installation/{self.installation.pk}/{stage}")
        expect(page.get_by_test_id("shown-kmh")).to_be_visible()
        return page

    def saved(self) -> object:
        return read_installation(head_of(InstallationRecord.objects.get(pk=self.installation.pk)).document)

    def test_levels_of_a_two_wire_sensor_and_what_is_missing(self) -> None:
        page = self.at("Dash, front wheel", "signal")
        page.get_by_role("tab", name="Levels").click()
        expect(page.get_by_test_id("levels")).to_have_text("0.70 … 1.40 V")
        expect(page.get_by_test_id("resistors")).to_contain_text("Output back to the input")
        self.field("signal.lead.load_ohm").fill("2R2")
        expect(page.locator("[data-finding='signal.comparator']")).to_contain_text("less than four times the noise")
        self.field("signal.lead.load_ohm").fill("220")
        expect(page.get_by_test_id("levels")).to_have_text("1.54 … 3.08 V")
        page.get_by_role("group", name="Signal conditioning").get_by_text("None", exact=True).click()
        expect(page.locator("[data-finding='signal.low_level']")).to_contain_text("is above its max. low level")
        self.field("signal.lead.load_ohm").fill("")
        expect(page.locator("[data-finding='signal.no_load']")).to_contain_text("about 100 Ω")
        page.get_by_role("tab", name="Wires").click()
        expect(page.get_by_test_id("wiring")).to_contain_text("load resistor of about 100 Ω from here to ground")
        with page.expect_download() as download:
            page.get_by_role("button", name="Both sheets as PDF").click()
        self.assertTrue(Path(download.value.path()).read_bytes().startswith(b"%PDF"))

    def test_a_converter_about_to_be_over_driven(self) -> None:
        page = self.at("Slip log, rear countershaft", "signal")
        found = page.locator("[data-finding='signal.over_driven']")
        expect(found).to_contain_text("Warning")
        page.get_by_role("tab", name="Levels").click()
        expect(page.get_by_test_id("coil-ways")).to_contain_text("Replace it with a Hall sensor")
        self.field("signal.conditioner.max_input_vpp").fill("20")
        expect(found).to_contain_text("Blocked")
        self.field("signal.conditioner.clamped").select_option("true")
        expect(found).to_have_count(0)
        self.field("signal.vr.measured_vpp").fill("minus two")
        expect(page.get_by_role("alert").first).to_contain_text("is not a valid voltage of the sensor")

    def test_a_gauge_that_falls_back_is_capped_and_its_ratio_set(self) -> None:
        page = self.at("Dash gauge, through a converter", "signal")
        expect(page.get_by_test_id("rates")).to_contain_text("Converter output")
        page.get_by_role("tab", name="Ratio").click()
        expect(page.get_by_test_id("ratio")).to_have_text("169/203")
        expect(page.locator("[data-finding='signal.wraps']")).to_be_visible()
        self.field("signal.converter.cap_kmh").fill("180")
        expect(page.locator("[data-finding='signal.wraps']")).to_have_count(0)
        page.get_by_role("button", name="Apply 1/1").first.click()
        expect(page.locator("[data-finding='signal.ratio_error']")).to_contain_text("+20.12 %")
        page.get_by_role("button", name="Use the best ratio", exact=True).click()
        expect(page.get_by_test_id("ratio")).to_have_text("169/203")
        self.field("signal.converter.max_denominator").fill("1")
        self.field("signal.converter.max_numerator").fill("1")
        self.field("signal.converter.target_pulses_per_km").fill("160000")
        expect(page.locator("[data-finding='signal.ratio']")).to_contain_text("outside the range of this converter")

    def test_the_scope_follows_the_slider_and_the_faults(self) -> None:
        page = self.at("Dash gauge, through a converter", "bench")
        expect(page.get_by_test_id("counts")).to_contain_text("0 missed, 0 false")
        readers = page.get_by_test_id("readers")
        expect(readers).to_contain_text("444.5 Hz")
        slider = page.get_by_role("slider", name="True speed")
        slider.focus()
        for _ in range(10):
            page.keyboard.press("ArrowLeft")
        expect(page.get_by_test_id("true")).to_have_text("90.0 km/h")
        expect(readers.get_by_role("img", name="Gauge shows 90 km/h")).to_be_visible()
        slider.fill("200")
        expect(readers.get_by_role("img", name="Gauge shows 0 km/h")).to_be_visible()
        before = page.get_by_test_id("between").inner_text()
        page.get_by_role("slider", name="Cursor 2").focus()
        page.keyboard.press("Shift+ArrowRight")
        expect(page.get_by_test_id("between")).not_to_have_text(before)
        page.get_by_role("slider", name="Noise").fill("1.5")
        expect(page.get_by_test_id("counts")).not_to_contain_text(" 0 missed, 0 false")
        page.get_by_role("button", name="Hold").click()
        held = page.get_by_test_id("counts").inner_text()
        slider.fill("20")
        page.wait_for_timeout(400)
        self.assertEqual(page.get_by_test_id("counts").inner_text(), held)
        page.get_by_role("button", name="Run").click()
        expect(page.get_by_test_id("true")).to_have_text("20.0 km/h")
        page.keyboard.press("5")
        expect(page.locator("[aria-current=page]")).to_have_attribute("data-stage", "signal")
        page.keyboard.press("b")
        expect(page.get_by_test_id("running")).to_be_visible()

    def test_what_the_needle_said_is_typed_and_put_right(self) -> None:
        page = self.at("Dash gauge, through a converter", "bench")
        page.get_by_role("tab", name="Test card").click()
        card = page.get_by_test_id("card")
        expect(card).to_contain_text("It reads 4.2 % high")
        expect(card).to_contain_text("drops to zero after 168 km/h")
        page.get_by_role("button", name="Limit the output to 180 km/h").click()
        page.get_by_role("button", name="Converter set to 199/249").click()
        expect(card).to_contain_text("Enter the readings")
        for speed in (20, 60, 100, 140):
            page.get_by_test_id(f"read-{speed}").fill(str(speed))
        expect(card).to_contain_text("It reads correctly")
        page.get_by_test_id("read-140").fill("a lot")
        expect(card.get_by_role("alert")).to_contain_text("“a lot” is not a valid reading")
        page.get_by_test_id("read-140").fill("87 mph")
        expect(page.get_by_test_id("card-line")).to_contain_text("1.000")
        page.get_by_test_id("trial-by").fill("race engineer")
        self.settle(page)  # the card's answer about the last reading moves what is below it
        page.get_by_role("button", name="Record: signal and readout verified").click()
        expect(page.get_by_test_id("test_records")).to_contain_text("Bench test")
        expect(page.locator("[data-stage=signal]")).to_have_attribute("data-evidence", "verified")
        self.expect_saved()
        installation = self.saved()
        self.assertEqual(installation.readouts[0].verification.by, "race engineer")  # type: ignore[attr-defined]
        self.assertAlmostEqual(installation.signal.converter.target_pulses_per_km, 15360, delta=1)  # type: ignore[attr-defined]
        with page.expect_download() as download:
            page.get_by_role("button", name="Card as PDF").click()
        self.assertTrue(Path(download.value.path()).read_bytes().startswith(b"%PDF"))

    def test_tests_by_hand_are_foretold_and_recorded(self) -> None:
        page = self.at("Hub display, front left", "bench")
        page.get_by_role("tab", name="Hand tests").click()
        expect(page.get_by_test_id("spin")).to_contain_text("Never reach into a spinning wheel")
        ten = page.get_by_test_id("spin-shows").first.inner_text()
        page.get_by_test_id("hand-turns").fill("20")
        expect(page.get_by_test_id("spin-shows").first).not_to_have_text(ten)
        page.get_by_test_id("hand-seconds").fill("0")
        expect(page.get_by_test_id("by-hand").get_by_role("alert")).to_contain_text("Do ten in ten seconds")
        page.get_by_test_id("hand-seconds").fill("20")
        expect(page.get_by_test_id("spin-shows").first).to_have_text(ten)
        page.get_by_test_id("magnet").get_by_role("button", name="Nothing shown").click()
        expect(page.get_by_test_id("magnet")).to_contain_text("connector, wiring, supply")
        page.get_by_test_id("spin").get_by_role("button", name="Agreed").click()
        for stage in ("drive", "target", "readout"):
            expect(page.locator(f"[data-stage={stage}]")).to_have_attribute("data-evidence", "verified")
        for stage in ("sensor", "signal"):
            expect(page.locator(f"[data-stage={stage}]")).to_have_attribute("data-evidence", "failed")
        page.get_by_test_id("magnet").get_by_role("button", name="Agreed").click()
        for stage in ("sensor", "signal"):
            expect(page.locator(f"[data-stage={stage}]")).to_have_attribute("data-evidence", "verified")
        expect(page.get_by_test_id("test_records")).to_contain_text("nothing shown")
        self.expect_saved()
        self.assertEqual([one.outcome for one in self.saved().test_records], ["nothing", "agreed", "agreed"])  # type: ignore[attr-defined]

    def test_a_failed_test_stands_until_the_same_test_passes(self) -> None:
        page = self.at("Slip log, front left", "bench")
        page.get_by_role("tab", name="Hand tests").click()
        page.get_by_test_id("spin").get_by_role("button", name="Nothing shown").click()
        for stage, failed in (("wheel", False), ("drive", True), ("target", True), ("sensor", True), ("readout", True)):
            stroke = page.locator(f"[data-stage={stage}]").get_by_role("img", name="failed")
            expect(stroke).to_have_count(1 if failed else 0)
        expect(page.get_by_test_id("next-action")).to_contain_text("Do the magnet test next")
        self.expect_saved()
        page.get_by_role("link", name="Wheelometron, to the vehicles").click()
        expect(page.get_by_test_id("vehicles-state")).to_contain_text("Failed 2")  # with the demo's own
        page.go_back()
        page.get_by_role("tab", name="Hand tests").click()
        page.get_by_test_id("spin").get_by_role("button", name="Agreed").click()
        expect(page.locator("[data-evidence=failed]")).to_have_count(0)
        expect(page.locator("[data-stage=target]")).to_have_attribute("data-evidence", "verified")

    def test_a_long_run_its_end_its_stop_and_its_files(self) -> None:
        page = self.at("Slip log, front left", "bench")
        page.get_by_role("tab", name="Recorded run").click()
        page.get_by_role("button", name="Start run").click()
        expect(page.get_by_test_id("run-result")).to_contain_text("pulses missed", timeout=30_000)
        page.get_by_test_id("run-seconds").fill("7200")
        page.get_by_role("button", name="Start run").click()
        expect(page.get_by_test_id("long-run").get_by_role("alert")).to_contain_text("Use 60 s")
        page.get_by_test_id("run-seconds").fill("900")
        page.get_by_test_id("run-to").fill("80")
        page.get_by_role("button", name="Start run").click()
        expect(page.get_by_label("Progress of the run")).to_be_visible()
        page.get_by_role("button", name="Stop", exact=True).click()
        expect(page.get_by_text("The run was stopped.")).to_be_visible()
        self.assertEqual(Work.objects.order_by("pk").last().state, "stopped")  # type: ignore[union-attr]
        page.get_by_test_id("run-seconds").fill("2")
        for name, begins in (("CSV", b"time_s,wire"), ("VCD", b"$timescale"), ("NMEA", b"$GPRMC")):
            with page.expect_download() as download:
                page.get_by_role("button", name=re.compile(f"^{name}")).click()
            self.assertTrue(Path(download.value.path()).read_bytes().startswith(begins))

    def test_the_bench_on_the_phone(self) -> None:
        page = self.at("Speed through water", "bench", PHONE)
        expect(page.get_by_test_id("counts")).to_contain_text("0 missed")
        for tab in ("Test card", "Hand tests", "Recorded run", "Scope"):
            page.get_by_role("tab", name=tab).click()
            page.wait_for_timeout(200)
            self.assertLessEqual(page.evaluate("document.documentElement.scrollWidth"), PHONE["width"], tab)
        page.get_by_role("button", name="Sweep").click()
        expect(page.get_by_role("button", name="Stop the sweep")).to_be_visible()
        page.keyboard.press("5")
        for tab in ("Frequencies", "Levels", "Pulse-ratio", "Frequency to voltage", "Wires"):
            page.get_by_role("tab", name=tab).click()
            page.wait_for_timeout(200)
            self.assertLessEqual(page.evaluate("document.documentElement.scrollWidth"), PHONE["width"], tab)
