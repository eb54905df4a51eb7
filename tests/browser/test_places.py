"""The places beside the main road: empty, missing, on the water, on a chain, in the wrong file."""

from __future__ import annotations

import json
from pathlib import Path
from tempfile import TemporaryDirectory

from django.contrib.auth.models import User
from playwright.sync_api import expect

from tests.browser.base import BrowserTestCase
from workshop.installations import head_of
from workshop.models import InstallationRecord, Member, Workshop


class Places(BrowserTestCase):
    def test_an_empty_workshop_teaches_how_to_begin(self) -> None:
        user = User.objects.create_user("owner", password="tidal flat at noon")
        Member.objects.create(user=user, workshop=Workshop.objects.create(name="My workshop"), role="owner")
        page = self.page
        page.goto(self.address("/"))
        page.get_by_label("Name").fill("owner")
        page.get_by_label("Password").fill("wrong")
        page.get_by_role("button", name="Sign in").click()
        expect(page.get_by_role("alert")).to_contain_text("Name or password is wrong")
        page.get_by_label("Password").fill("tidal flat at noon")
        page.get_by_label("Password").press("Enter")
        expect(page.get_by_text("No vehicle yet")).to_be_visible()
        page.get_by_role("link", name="Start the first installation").click()
        expect(page.get_by_role("heading", name="New installation")).to_be_visible()
        self.menu("Sign out", page)
        expect(page.get_by_role("button", name="Open the demo workshop")).to_be_visible()

    def test_what_is_not_there_says_so(self) -> None:
        page = self.sign_in()
        page.goto(self.address("/installation/999999/wheel"))
        expect(page.get_by_role("alert")).to_contain_text("does not exist in your workshop")
        page.goto(self.address("/nowhere"))
        expect(page.get_by_role("alert")).to_contain_text("Page not found")
        page.get_by_role("link", name="Back to the vehicles").click()
        page.get_by_label("Search vehicles and installations").fill("zzz")
        expect(page.get_by_text("matches “zzz”")).to_be_visible()

    def test_a_boat_has_water_and_a_paddle(self) -> None:
        page = self.sign_in()
        self.open_installation("Grebe")
        expect(page.get_by_role("navigation", name="Stages")).to_contain_text("Paddle")
        expect(self.field("wheel.paddle.pulses_per_nautical_mile")).to_have_value("20000")
        expect(page.get_by_role("img", name="To scale: the paddle")).to_be_visible()
        expect(page.get_by_test_id("next-action")).to_contain_text("Run a known distance in both directions")

    def test_a_new_installation_on_a_chain_of_an_own_vehicle(self) -> None:
        page = self.sign_in()
        page.get_by_role("link", name="New installation on Dotterel").click()
        page.get_by_label("Slip, launch or traction control").check()
        page.get_by_label("Size marking on the sidewall, or the diameter").fill("195/45R14")
        page.get_by_label("Position of the target").select_option("sprockets")
        page.get_by_label("Teeth at the wheel").fill("45")
        page.get_by_label("Teeth at the sensed shaft").fill("15")
        self.field("count").fill("24")
        expect(page.get_by_test_id("preview")).to_contain_text("enter 44448 pulses per km")
        page.get_by_role("button", name="Create installation").click()
        expect(page.get_by_role("button", name="Drive 3")).to_be_visible()
        page.goto(self.address("/"))
        expect(page.get_by_role("article", name="Dotterel").get_by_test_id("installation-row")).to_have_count(5)

    def test_a_brake_control_unit_starts_without_a_setting(self) -> None:
        page = self.sign_in()
        page.get_by_role("link", name="New installation on Dotterel").click()
        page.get_by_label("Brake-control unit (anti-lock)").check()
        page.get_by_label("Size marking on the sidewall, or the diameter").fill("195/45R14")
        self.field("count").fill("44")
        expect(self.field("encoding")).to_have_count(0)
        expect(page.get_by_test_id("preview")).to_contain_text("It cannot be set: it takes 40 to 50 pulses per turn")
        self.field("least-counts").fill("46")
        self.field("most-counts").fill("45")
        expect(page.get_by_text("It cannot accept 46 at least and 45 at most")).to_be_visible()
        self.field("most-counts").fill("52")
        expect(page.get_by_test_id("preview")).to_contain_text("takes 46 to 52 pulses per turn of the wheel; 44 arrive")
        page.get_by_role("button", name="Create installation").click()
        page.get_by_role("button", name="Readout").first.click()
        expect(page.get_by_test_id("counts")).to_contain_text("44")
        expect(page.get_by_test_id("to-type")).to_have_count(0)
        self.enter("readouts.0.least_pulses_per_turn", "40")
        self.expect_saved()
        expect(page.get_by_test_id("change")).to_contain_text("settled findings: 1")
        expect(page.locator("main")).not_to_contain_text("44 arrive")

    def test_a_new_installation_starts_at_round_numbers_of_miles(self) -> None:
        page = self.sign_in()
        self.read_miles()
        page.get_by_role("link", name="New installation on Dotterel").click()
        page.get_by_label("Slip, launch or traction control").check()
        page.get_by_label("Size marking on the sidewall, or the diameter").fill("195/45R14")
        self.field("count").fill("24")
        expect(page.get_by_test_id("preview")).to_contain_text("at 60 mph true")

    def test_vehicles_by_state_purpose_and_kind_and_the_way_back(self) -> None:
        page = self.sign_in()
        rows = page.get_by_test_id("installation-row")
        expect(rows.first).to_have_attribute("data-state", "failed")
        states = [row.get_attribute("data-state") for row in rows.all()]
        self.assertEqual(states.index("blocked"), 1)
        page.get_by_role("button", name="Blocked 4").click()
        expect(rows).to_have_count(4)
        page.get_by_label("Vehicle type", exact=True).select_option("car")
        expect(rows).to_have_count(1)
        page.reload()
        expect(rows).to_have_count(1)
        page.get_by_label("Purpose", exact=True).select_option("water_speed")
        expect(page.get_by_text("Nothing matches.")).to_be_visible()
        page.get_by_role("button", name="Show all").click()
        expect(rows).to_have_count(9)
        page.go_back()
        expect(page.get_by_text("Nothing matches.")).to_be_visible()

    def test_an_installation_is_copied_to_another_corner(self) -> None:
        page = self.sign_in()
        page.get_by_role("button", name="Copy Dash, front wheel").click()
        places = self.field("copy-place").locator("option")  # of a sidecar outfit
        expect(places).to_have_count(8)
        expect(places.filter(has_text="Hull")).to_have_count(0)
        self.field("copy-place").select_option("rear")
        expect(self.field("copy-name")).to_have_value("Dash, front wheel, rear wheel or axle")
        self.field("copy-name").fill("Dash, rear wheel")
        page.get_by_role("button", name="Make the copy").click()
        expect(page.get_by_role("heading", level=1)).to_contain_text("Dash, rear wheel")
        for stage in ("wheel", "target", "sensor", "readout"):
            expect(page.locator(f"[data-stage={stage}]")).to_have_attribute("data-evidence", "assumed")
        self.assertEqual(InstallationRecord.objects.filter(vehicle__name="Turnstone").count(), 2)

    def test_switching_a_method_makes_nothing_up(self) -> None:
        page = self.sign_in()
        self.open_installation("Dotterel")
        page.get_by_role("radio", name="Tape across, standing").check()
        expect(self.field("wheel.taped_diameter.diameter_mm")).to_have_value("")
        expect(page.get_by_text("Still to enter: Wheel: height, floor to top.")).to_be_visible()
        expect(page.get_by_role("alert")).to_have_count(0)
        expect(page.get_by_test_id("save-state")).to_contain_text("Not saved yet: fill in the marked field")
        expect(page.get_by_test_id("shown")).to_contain_text("Last good figures: an entry is missing")
        self.field("wheel.taped_diameter.diameter_mm").fill("a metre")
        expect(page.get_by_role("alert").first).to_contain_text("is not a valid diameter")
        expect(page.get_by_test_id("shown")).to_contain_text("Last good figures: a field needs correcting")
        self.field("wheel.taped_diameter.diameter_mm").fill("52.5 cm")
        expect(page.locator("[data-stage=wheel]")).to_have_attribute("data-evidence", "measured")
        page.get_by_role("radio", name="Size marking").check()
        expect(self.field("wheel.marking.text")).to_have_value("22.0x8.0-15")
        self.expect_saved(3)

    def test_looking_through_alternatives_leaves_nothing_in_the_way(self) -> None:
        """What was begun for another kind and never filled in is not asked for, and does not keep anything from being
        saved."""
        page = self.sign_in()
        self.open_installation("Turnstone", "drive")
        for kind in ("Driveshaft or gearbox output", "Transfer box", "Mechanical cable", "Chain or belt shaft"):
            page.get_by_role("radio", name=kind).check()
            expect(page.get_by_text("Still to enter: Drive")).to_be_visible()
            expect(page.locator("[data-stage=drive]").get_by_role("img", name="an entry is missing")).to_be_visible()
        self.field("drive.sprockets.wheel_teeth").fill("45")
        page.get_by_role("radio", name="Hub, brake disc or rim").check()
        expect(page.get_by_text("Still to enter")).to_have_count(0)
        self.expect_saved()
        page.get_by_role("radio", name="Chain or belt shaft").check()
        self.field("drive.sprockets.wheel_teeth").fill("45")
        self.field("drive.sprockets.shaft_teeth").fill("15")
        page.get_by_role("radio", name="Hub, brake disc or rim").check()
        self.expect_saved()
        page.get_by_role("radio", name="Chain or belt shaft").check()
        expect(self.field("drive.sprockets.shaft_teeth")).to_have_value("15")  # what is complete stays known
        page.locator("[data-stage=target]").click()
        self.field("target.kind").select_option("toothed_ring")
        self.field("target.ring.form").select_option("module")
        expect(page.get_by_text("Still to enter: Target: module.")).to_be_visible()
        self.field("target.kind").select_option("magnets")
        expect(page.get_by_text("Still to enter")).to_have_count(0)
        page.locator("[data-stage=readout]").click()
        for encoding in ("percent_correction", "chart_code", "custom", "frequency_table", "pulses_per_km"):
            self.field("readouts.0.encoding").select_option(encoding)
        page.locator("[data-stage=wheel]").click()
        page.get_by_role("radio", name="Roll-out").check()
        page.get_by_role("radio", name="Comparison with true speed").check()
        page.get_by_role("radio", name="Size marking").check()
        expect(page.get_by_text("Still to enter")).to_have_count(0)
        self.expect_saved()
        document = head_of(self.installation_of("Turnstone")).document
        self.assertEqual((document["drive"]["cable"], document["wheel"]["roll_out"]), (None, None))
        self.assertEqual((document["readouts"][0]["codes"], document["drive"]["sprockets"]["wheel_teeth"]), ([], 45))

    def test_a_sensor_that_is_blind_stands_on_its_link_and_at_the_end(self) -> None:
        page = self.sign_in()
        self.open_installation("Dotterel", "sensor")
        self.field("sensor.kind").select_option("reed")
        end = page.get_by_test_id("shown")
        expect(page.get_by_test_id("shown-kmh")).to_have_text("nothing")
        expect(end).to_contain_text("would show 102 km/h")
        expect(end).to_contain_text("✕ A reed sensor cannot detect this target")
        self.expect_saved()
        self.open_installation("Whimbrel", "readout")
        expect(page.get_by_test_id("would-show")).to_contain_text("± 0.16 %, if 1455")  # nothing is read back yet
        self.open_installation("Dotterel", "sensor")
        expect(page.locator("[data-stage=sensor]").get_by_role("img", name="blocking finding")).to_be_visible()
        expect(page.locator("[data-finding='sensor.blind']")).to_contain_text("Use one of")
        self.expect_saved()
        page.locator("[data-stage=readout]").click()
        expect(page.get_by_test_id("otherwise")).to_contain_text("At the check speed it now shows: nothing")
        page.get_by_role("link", name="Wheelometron, to the vehicles").click()
        row = page.get_by_test_id("installation-row").filter(has_text="A reed sensor cannot detect")
        expect(row).to_contain_text("100 → nothing")
        page.get_by_role("link", name="Dotterel", exact=True).click()
        row = page.get_by_test_id("sheet").get_by_role("row").filter(has_text="rear countershaft")
        expect(row.get_by_test_id("otherwise").first).to_have_text("✕ nothing")
        expect(row).to_contain_text("A reed sensor cannot detect")
        self.open_installation("Dotterel", "sensor")
        self.field("sensor.kind").select_option("variable_reluctance")
        expect(page.get_by_test_id("shown-kmh")).to_have_text("102")
        expect(end).not_to_contain_text("would show")
        expect(end.get_by_role("img", name="Uncertainty ± 3.0 %; after the next step ± 0.39 %")).to_be_visible()

    def test_the_check_speed_moves_the_frequency(self) -> None:
        page = self.sign_in()
        self.open_installation("Dotterel", "signal")
        self.field("check_speed_kmh").fill("60 mph")
        expect(page.get_by_text("= 96.5606 km/h")).to_be_visible()
        expect(page.get_by_text("frequency at 96.5606 km/h")).to_be_visible()
        expect(page.get_by_text("1095 Hz")).to_be_visible()

    def test_importing_over_a_installation_can_be_undone_and_a_wrong_file_says_why(self) -> None:
        page = self.sign_in()
        self.open_installation("Whimbrel")
        with TemporaryDirectory() as folder:
            file = Path(folder) / "letter.json"
            file.write_text("Dear reader", "utf-8")
            with page.expect_file_chooser() as chooser:
                self.menu("Import", page)
            chooser.value.set_files(file)
            expect(page.get_by_text("letter.json is not an installation file")).to_be_visible()
            document = head_of(self.installation_of("Sandpiper")).document
            file.write_text(json.dumps(document), "utf-8")
            with page.expect_file_chooser() as chooser:
                self.menu("Import", page)
            chooser.value.set_files(file)
            asked = page.get_by_test_id("replacing")
            expect(asked).to_contain_text("Replace everything that is entered")
            asked.get_by_role("button", name="Keep as it is").click()
            expect(asked).to_have_count(0)
            with page.expect_file_chooser() as chooser:
                self.menu("Import", page)
            chooser.value.set_files(file)
            asked.get_by_role("button", name="Replace").click()
            self.expect_saved(2)
        self.assertEqual(head_of(self.installation_of("Whimbrel")).document, document)
        page.get_by_role("button", name="Undo").click()
        self.expect_saved(3)
        self.assertEqual(head_of(self.installation_of("Whimbrel")).document["vehicle_kind"], "velomobile")


class Corners(BrowserTestCase):
    def test_one_table_fills_the_corners_at_once(self) -> None:
        dotterel = self.installation_of("Dotterel")
        page = self.sign_in()
        page.goto(self.address(f"/vehicle/{dotterel.vehicle_id}"))
        table = page.get_by_test_id("corners")
        rows = table.locator("[data-testid^=corner-][data-testid$=-count]")
        expect(rows).to_have_count(2)
        rows.nth(0).fill("no teeth")
        table.get_by_role("button", name="Keep all corners").click()
        expect(table.get_by_role("alert")).to_contain_text("count")
        for place, ohms in enumerate(("1.1 kohm", "2.2 kohm")):
            rows.nth(place).fill("")
            table.locator("[data-testid$=-resistance_ohm]").nth(place).fill(ohms)
            table.locator("[data-testid$=-outcome]").nth(place).select_option("agreed")
        table.get_by_role("button", name="Keep all corners").click()
        expect(table.get_by_role("status")).to_contain_text("Kept")
        expect(table).to_contain_text("2200 Ω, the others about 1650 Ω")
        heads = [item.revisions.get(number=item.head).document for item in dotterel.vehicle.installations.all()]
        found = [head["sensor"]["resistance_ohm"] for head in heads if head["purpose"] == "slip_control"]
        self.assertEqual(sorted(found), [1100, 2200])
