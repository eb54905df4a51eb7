"""A log as a tuner reads it: strips over one time, marks, another log over it, spins to a traction table."""

from __future__ import annotations

import csv
import io
import re
from pathlib import Path

import numpy as np
import polars as pl
from playwright.sync_api import Locator, Page, expect

from devtools.browser import PHONE
from tests.browser.base import BrowserTestCase
from workshop.models import RecordingRecord

SECONDS = 200.0


def log(*, waits_s: float, spin_pct: float) -> bytes:
    """Launches to 100 km/h with wheel spin; in each the supply falls, and the display shows nothing for half a second.
    Written by polars."""
    time_s = np.arange(0.0, SECONDS, 0.1)
    in_run = np.maximum(time_s - waits_s, 0) % 50
    front = np.where(time_s < waits_s, 0, np.interp(in_run, [0, 8, 38, 48, 50], [0, 100, 100, 0, 0]))
    spins = (time_s > waits_s) & (in_run > 4) & (in_run < 6)
    noise = np.random.default_rng(int(waits_s)).normal(0, 0.05, time_s.size)
    return (
        pl.DataFrame(
            {
                "Time [s]": time_s,
                "Front wheel [km/h]": np.maximum(front + noise, 0),
                "Rear wheel [km/h]": np.maximum(front * np.where(spins, 1.01 + spin_pct / 100, 1.01) + noise, 0),
                "Display [km/h]": np.where(spins & (in_run > 4.5) & (in_run < 5), 0, np.round(front)),
                "Throttle [%]": np.where((in_run < 8) & (time_s > waits_s), 100.0, 10.0),
                "Battery [V]": np.where(spins, 11.2, 13.8),
            }
        )
        .write_csv()
        .encode()
    )


class Logs(BrowserTestCase):
    def bring(self, page: Page, name: str, data: bytes) -> None:
        page.get_by_test_id("recording-file").set_input_files(  # type: ignore[arg-type]
            {"name": name, "mimeType": "text/csv", "buffer": data}
        )
        expect(page.get_by_role("heading", name=name, level=1)).to_be_visible()
        expect(page.get_by_test_id("answers")).to_be_visible()

    def strip(self, page: Page, code: str) -> Locator:
        return page.get_by_test_id(f"strip-{code}")

    def two_logs(self) -> Page:
        page = self.sign_in()
        page.get_by_role("link", name="Sandpiper").first.click()
        vehicle = page.url
        self.bring(page, "before.csv", log(waits_s=12, spin_pct=12))
        page.goto(vehicle)
        self.bring(page, "after.csv", log(waits_s=5, spin_pct=6))
        return page

    def test_strips_over_one_time_marks_and_another_log_over_it(self) -> None:
        page = self.two_logs()
        channels = page.get_by_role("group", name="Channels")
        for name in ("Throttle", "Battery"):
            channels.get_by_role("button", name=name).click()
        for code in ("speed", "other Throttle", "other Battery"):
            expect(self.strip(page, code).locator(".u-over")).to_be_visible()
        # pointed at in one strip, the values stand below each: 10 s of 200 are in the second second of a launch
        over = self.strip(page, "other Battery").locator(".u-over")
        width = (over.bounding_box() or {"width": 0})["width"]
        over.hover(position={"x": width * 10.0 / SECONDS, "y": 40})
        expect(page.get_by_test_id("pointed")).to_have_text(re.compile(r"^(9|10)\."))
        expect(self.strip(page, "other Battery").get_by_test_id("legend")).to_contain_text("11.2")
        expect(self.strip(page, "other Throttle").get_by_test_id("legend")).to_contain_text("100")
        # zoomed in one, all are; another recording over it is as far as this one
        page.get_by_test_id("lay-over").locator("summary").click()
        page.get_by_test_id("over-recording").select_option(label="before.csv")
        expect(page.get_by_test_id("laid-over")).to_contain_text("−7.0 s")
        expect(self.strip(page, "other Battery").get_by_test_id("legend")).to_contain_text("Battery, before.csv")
        over.hover(position={"x": width * 10.0 / SECONDS, "y": 40})
        theirs = self.strip(page, "other Battery").get_by_test_id("legend").locator("> span").nth(1)
        expect(theirs).to_contain_text("11.2")
        page.get_by_role("button", name="Shift it by +1.0 s").click()
        expect(page.get_by_text("by hand 1.0 s more")).to_be_visible()
        page.get_by_test_id("over-by").select_option(label="by the time of day")
        expect(page.get_by_test_id("laid-over")).to_contain_text("0.0 s")
        page.get_by_role("button", name="Over distance").click()
        expect(page.get_by_role("group", name="Throttle over distance")).to_be_visible()
        expect(self.strip(page, "speed").get_by_test_id("legend")).to_contain_text("Front wheel, before.csv")
        page.get_by_role("button", name="Over time").click()
        # a press in the plot is where the mark comes; it is there after a reload, with what was chosen
        over.click(position={"x": width * 10.0 / SECONDS, "y": 40})
        page.get_by_test_id("mark-text").fill("short shift")
        page.get_by_role("button", name="Put the mark").click()
        expect(page.get_by_test_id("marks")).to_contain_text("short shift")
        self.assertAlmostEqual(RecordingRecord.objects.get(name="after.csv").marks[0]["at_s"], 10.0, delta=1.0)
        page.reload()
        expect(page.get_by_test_id("marks")).to_contain_text("short shift")
        expect(self.strip(page, "other Throttle").get_by_test_id("legend")).to_contain_text("Throttle, before.csv")
        page.get_by_test_id("mark-at").fill("900")
        page.get_by_test_id("mark-text").fill("too late")
        page.get_by_role("button", name="Put the mark").click()
        expect(page.get_by_test_id("marks").get_by_role("alert")).to_contain_text("The recording is 199.9 s long")
        expect(page.get_by_test_id("mark-text")).to_have_value("too late")
        page.get_by_role("button", name="Remove the mark at").click()
        expect(page.get_by_test_id("marks")).to_contain_text("Marks: 0")

    def test_spins_to_a_table_of_the_controller_and_a_change_of_tune(self) -> None:
        page = self.two_logs()
        page.get_by_role("tab", name="Slip").click()
        expect(page.get_by_test_id("true_channel")).to_have_value("Front wheel")
        expect(page.get_by_test_id("shown_channel")).to_have_value("Rear wheel")
        expect(page.get_by_test_id("answers")).to_contain_text("spins that decide: 4")
        page.get_by_test_id("traction-action").select_option("retard")
        page.get_by_test_id("traction-most").fill("12")
        page.get_by_test_id("traction-spin").select_option("mph")
        page.get_by_test_id("traction-speed").select_option("mph")
        page.get_by_test_id("traction-least").fill("20")
        expect(page.get_by_test_id("traction")).to_contain_text("it may act from 20 km/h on")
        page.get_by_test_id("traction-most").fill("1O")
        expect(page.get_by_test_id("traction").get_by_role("alert")).to_contain_text("holds no number")
        page.get_by_test_id("traction-most").fill("12")
        with page.expect_download() as download:
            page.get_by_role("button", name="The table as CSV").click()
        head, *rows = csv.reader(io.StringIO(Path(download.value.path()).read_text()))
        self.assertEqual(head[0], "front speed, mph \\ spin, mph -> retard, degrees")
        self.assertEqual(rows[0][0], "12.4")
        self.assertEqual(max(float(cell) for row in rows for cell in row[1:]), 12)
        page.get_by_test_id("tune-earlier").select_option(label="before.csv")
        expect(page.get_by_test_id("tune-text")).to_contain_text("In 4 of 4 pairs the highest slip is less than before")
        expect(page.get_by_test_id("tune-text")).to_contain_text("can be chance")

    def test_what_fell_while_the_signal_failed(self) -> None:
        page = self.two_logs()
        page.get_by_role("tab", name="Signal health").click()
        page.get_by_test_id("health-channel").select_option("Display")
        expect(page.get_by_test_id("counted")).to_contain_text("% are missing")
        beside = page.get_by_test_id("beside")
        expect(beside).to_have_count(1)
        expect(beside).to_contain_text("At 4 of 4 events Battery was below 13.8 V")
        expect(beside).to_contain_text("measure it at the sensor's plug under load")
        events = page.get_by_test_id("events")
        events.get_by_role("button", name="in the plot").first.click()
        expect(page.get_by_role("button", name="Show all")).to_be_enabled()

    def test_on_the_phone_a_press_holds_the_values(self) -> None:
        page = self.two_logs()
        address = page.url
        phone = self.new_context(PHONE, has_touch=True, is_mobile=True).new_page()
        self.know(phone)
        phone.goto(address)
        phone.get_by_role("group", name="Channels").get_by_role("button", name="Throttle").tap()
        over = self.strip(phone, "other Throttle").locator(".u-over")
        expect(over).to_be_visible()
        expect(self.strip(phone, "other Throttle").get_by_test_id("legend")).to_contain_text("Throttle")
        over.tap(position={"x": 60, "y": 40})
        expect(self.strip(phone, "speed").get_by_test_id("legend")).to_contain_text("km/h")
        expect(phone.get_by_test_id("mark-at")).not_to_have_value("")
        self.assertLessEqual(phone.evaluate("document.documentElement.scrollWidth"), PHONE["width"])
