"""A recorded drive in the real interface: from the file to the setting, and to a passed road test."""

from __future__ import annotations

from playwright.sync_api import expect

from devtools.browser import PHONE
from speedchain.runs import Drive, as_table
from tests.browser.base import BrowserTestCase


class Recordings(BrowserTestCase):
    def choose(self, drive: Drive, name: str = "drive.csv") -> None:
        file = {"name": name, "mimeType": "text/csv", "buffer": as_table(drive).encode()}
        self.page.get_by_test_id("recording-file").set_input_files(file)  # type: ignore[arg-type]

    def open_check(self, vehicle: str = "Turnstone") -> None:
        self.open_installation(vehicle, "readout")
        self.page.get_by_role("tab", name="Check with a recorded drive").click()
        expect(self.page.get_by_test_id("drive-check")).to_contain_text("The driver operates nothing")

    def test_a_wrong_setting_is_corrected_and_the_next_drive_proves_it(self) -> None:
        page = self.sign_in()
        self.open_check()
        self.choose(Drive(shown_per_true=0.9758, seed=1))  # as its 560 mm make it
        proof = page.get_by_test_id("proof")
        expect(proof).to_contain_text("The display is wrong")
        expect(proof).to_contain_text("Likely causes")
        page.get_by_role("button", name="It is entered").click()
        expect(proof).to_contain_text("The setting was changed since this drive")
        expect(page.get_by_role("button", name="It is entered")).to_have_count(0)
        self.expect_saved()
        self.choose(Drive(seed=2), "second.csv")
        expect(proof).to_contain_text("The display is right")
        expect(page.get_by_role("button", name="of the readout alone")).to_have_count(0)
        page.get_by_role("button", name="Save as passed road test").click()
        expect(page.locator("[data-stage=wheel]")).to_have_attribute("data-evidence", "verified")
        self.expect_saved()
        page.locator("[data-stage=wheel]").click()
        page.locator("[data-stage=readout]").click()
        expect(page.get_by_role("tab", name="Setting to enter")).to_be_visible()
        page.get_by_role("tab", name="Check with a recorded drive").click()
        expect(page.get_by_test_id("drive-check")).to_contain_text("second.csv")  # it is still there

    def test_a_right_display_beside_wrong_entries_proves_the_readout_alone(self) -> None:
        page = self.sign_in()
        self.open_check()
        self.choose(Drive(seed=2))
        expect(page.get_by_test_id("proof")).to_contain_text("is not as entered")
        page.get_by_role("button", name="of the readout alone").click()
        expect(page.locator("[data-stage=readout]")).to_have_attribute("data-evidence", "verified")
        expect(page.locator("[data-stage=wheel]")).to_have_attribute("data-evidence", "measured")

    def test_parts_and_columns_are_decided_by_hand(self) -> None:
        page = self.sign_in()
        self.open_check()
        self.choose(Drive(seed=3))
        expect(page.get_by_test_id("parts-shown")).to_contain_text("4 used")
        expect(page.get_by_role("img", name="Shown and true speed over time")).to_be_visible()
        page.get_by_test_id("parts-shown").click()
        page.get_by_role("button", name="Leave out").first.click()
        expect(page.get_by_test_id("parts-shown")).to_contain_text("3 used")
        expect(page.get_by_test_id("parts")).to_contain_text("left out by hand")
        page.get_by_text("Columns of the file").click()
        page.get_by_test_id("columns.1.unit").select_option("mph")
        expect(page.get_by_test_id("proof")).to_contain_text("The display is wrong: -37")

    def test_what_cannot_be_used_says_what_to_do(self) -> None:
        page = self.sign_in()
        self.open_check()
        file = {"name": "notes.txt", "mimeType": "text/plain", "buffer": b"tyre worn\n"}
        page.get_by_test_id("recording-file").set_input_files(file)  # type: ignore[arg-type]
        expect(page.get_by_role("alert").first).to_contain_text("no rows of numbers")
        self.choose(Drive(speeds_kmh=(40.0,), hold_s=1))
        expect(page.get_by_test_id("drive-check").get_by_role("alert")).to_contain_text("Hold a speed")

    def test_on_the_phone(self) -> None:
        context = self.new_context(PHONE, has_touch=True)
        self.page = context.new_page()
        self.sign_in()
        self.open_check()
        self.choose(Drive(shown_per_true=1.03, seed=1))
        expect(self.page.get_by_test_id("proof")).to_contain_text("Enter")
        wide = self.page.evaluate("document.documentElement.scrollWidth - document.documentElement.clientWidth")
        self.assertEqual(wide, 0)

    def test_a_captured_ring_gives_its_count(self) -> None:
        page = self.sign_in()
        self.open_installation("Turnstone", "target")
        page.get_by_role("tab", name="Captured pulses").click()
        pitches = [1.0, 1.15, 0.85, *[1.0] * 41]
        edges = [0.0]
        for _ in range(20):
            for pitch in pitches:
                edges.append(edges[-1] + pitch)
        text = "time_ms\n" + "".join(f"{at:.4f}\n" for at in edges)
        file = {"name": "ring.csv", "mimeType": "text/csv", "buffer": text.encode()}
        page.get_by_test_id("capture-file").set_input_files(file)  # type: ignore[arg-type]
        expect(page.get_by_test_id("fingerprint")).to_contain_text(
            "44 pulses per turn; tooth 3 is +15.0 % of the pitch"
        )
        page.get_by_role("button", name="Use 44 as the count, instead of 48").click()
        expect(self.field("target.count")).to_have_value("44")
        self.expect_saved()
