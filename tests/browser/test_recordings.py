"""A recorded drive in the real interface: from the file to the setting, and to a passed road test."""

from __future__ import annotations

from datetime import UTC, datetime, timedelta
from pathlib import Path

import gpxpy
from playwright.sync_api import Page, Route, expect

from devtools.browser import PHONE
from speedchain.runs import DBC, WRITERS, Drive, Ring, as_edges, as_table
from tests.browser.base import BrowserTestCase
from workshop.installations import head_of


class Recordings(BrowserTestCase):
    @staticmethod
    def point(page: Page, x: int, y: int) -> None:
        """Point at the plot; one that is not drawn yet hears it once it is."""
        for step in range(20):
            page.locator(".u-over").first.hover(position={"x": x + step % 2, "y": y})
            if page.get_by_test_id("pointed").inner_text():
                return
            page.wait_for_timeout(250)

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
        expect(proof).to_contain_text("Likely cause")
        page.get_by_role("button", name="Use this drive").click()
        expect(proof).to_contain_text("This drive is in use")
        expect(page.locator("[data-stage=wheel]")).to_have_attribute("data-evidence", "measured")
        page.get_by_role("button", name="Entered ").click()
        expect(proof).to_contain_text("The setting was changed since this drive")
        expect(page.get_by_role("button", name="Entered ")).to_have_count(0)
        self.expect_saved()
        self.choose(Drive(seed=2), "second.csv")
        expect(proof).to_contain_text("The display is right")
        expect(page.get_by_role("button", name="of the readout alone")).to_have_count(0)
        page.get_by_role("button", name="Save as passed road test").click()
        expect(page.locator("[data-stage=wheel]")).to_have_attribute("data-evidence", "verified")
        self.expect_saved()
        page.get_by_role("button", name="1 Wheel").click()
        expect(page.get_by_role("link", name="second.csv")).to_be_visible()  # the test says with what it was passed
        page.go_back()
        page.reload()  # the recording is kept, and its address says which it is
        expect(page.get_by_test_id("recording-choice")).to_contain_text("second.csv")
        expect(proof).to_contain_text("The display is right")

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
        expect(page.get_by_role("group", name="Shown and true speed over time")).to_be_visible()
        page.get_by_test_id("parts-shown").click()
        page.get_by_role("button", name="Leave out", exact=True).first.click()
        expect(page.get_by_test_id("parts-shown")).to_contain_text("3 used")
        expect(page.get_by_test_id("parts")).to_contain_text("left out by hand")
        page.get_by_test_id("how-read").click()
        expect(page.get_by_test_id("channels.1.comes-to")).to_contain_text("to 80")
        page.get_by_test_id("channels.1.unit").select_option("mph")
        expect(page.get_by_test_id("channels.1.comes-to")).to_contain_text("to 129")  # tried before it is saved
        page.get_by_test_id("channels.3.meaning").select_option(label="Not used")
        page.get_by_role("button", name="Save and read again").click()  # two choices, one save: both hold
        expect(page.get_by_test_id("channels.3.unit")).to_have_count(0)
        expect(page.get_by_test_id("channels.1.unit")).to_have_value("mph")
        expect(page.get_by_test_id("proof")).to_contain_text("The display is wrong: −37")

    def test_a_track_without_a_shown_speed_leads_to_the_setting(self) -> None:
        """A GPX track, written by gpxpy, four steady speeds; what the display showed is typed in at its page."""
        track = gpxpy.gpx.GPX()
        track.tracks.append(gpxpy.gpx.GPXTrack())
        segment = gpxpy.gpx.GPXTrackSegment()
        track.tracks[0].segments.append(segment)
        latitude = 45.0
        for at in range(240):
            moment = datetime(2026, 5, 2, 10, 0, tzinfo=UTC) + timedelta(seconds=at)
            segment.points.append(gpxpy.gpx.GPXTrackPoint(latitude, 8.0, time=moment))
            latitude += (40 + 20 * (at // 60)) / 3.6 / 111_132  # metres of a degree at 45° (WGS 84)
        page = self.sign_in()
        self.open_check()
        content = track.to_xml().encode()
        file = {"name": "ride.gpx", "mimeType": "application/gpx+xml", "buffer": content}
        page.get_by_test_id("recording-file").set_input_files(file)  # type: ignore[arg-type]
        expect(page.get_by_test_id("lacks-shown")).to_contain_text("the speed that the display shows")
        self.settle(page)  # what has just been read is still being drawn above the link
        page.get_by_role("link", name="Enter shown speeds").click()
        expect(page.get_by_test_id("by-hand")).to_be_visible()
        for place, step in enumerate(range(4)):
            if place == 3:
                page.get_by_role("button", name="Another moment").click()
            page.get_by_test_id(f"by-hand-at-{place}").fill(str(60 * step + 30))
            page.get_by_test_id(f"by-hand-shown-{place}").fill(f"{1.05 * (40 + 20 * step):.1f}")
        expect(page.get_by_test_id("by-hand")).to_contain_text("true 100")
        page.get_by_role("button", name="Save the shown speeds").click()
        expect(page.get_by_test_id("by-hand-saved")).to_contain_text("Saved: 4 shown speeds")
        page.get_by_role("button", name="km/h", exact=True).click()
        page.reload()
        expect(page.get_by_test_id("by-hand-shown-0")).to_have_value(
            "26.09759"
        )  # 42 km/h; none is lost with the next save
        page.get_by_test_id("by-hand-at-3").fill("")
        expect(page.get_by_role("button", name="Save the shown speeds")).to_be_disabled()
        page.get_by_test_id("by-hand-at-3").fill("211")
        page.get_by_role("button", name="Save the shown speeds").click()
        expect(page.get_by_test_id("by-hand-saved")).to_contain_text("Saved: 4 shown speeds, the last at 211.0 s")
        page.get_by_test_id("answers").get_by_role("link").first.click()
        expect(page.get_by_test_id("proof")).to_contain_text("+5")

    def test_runs_without_a_file_timed_with_two_presses(self) -> None:
        """On the phone: half a nautical mile in 180 s there is 10 kn, in 225 s back 8 kn: 9 kn through the water; the
        display shows 9.45, 5 % too much."""
        page = self.new_context(PHONE, has_touch=True).new_page()
        page.clock.install()
        self.sign_in(page)
        self.open_installation("Grebe", "readout", page)
        page.get_by_role("tab", name="Known from speeds").click()
        self.field("marks-distance", page).fill("0.5")
        for place, (seconds, shown) in enumerate(((180, "9.45"), (225, "9.45"))):
            page.get_by_role("button", name="At the first mark").click()
            page.clock.fast_forward(1000 * seconds)
            if place == 0:
                page.reload()  # the press at the first mark is kept
            page.get_by_role("button", name="At the second mark").click()
            self.field(f"run-shown-{place}", page).fill(shown)
        there, back = (float(self.field(f"run-ground-{place}", page).input_value()) for place in (0, 1))
        self.assertAlmostEqual(there, 10, delta=0.4)  # a busy machine presses later than the clock was set to
        self.assertAlmostEqual(back, 8, delta=0.3)
        expect(page.get_by_test_id("runs-answer")).to_contain_text("Speed through the water")
        self.field("runs-setting", page).fill("20000")
        page.get_by_role("button", name="Use these runs").click()
        expect(page.get_by_test_id("observation")).to_contain_text("with 20000 pulses per nautical mile set")
        self.expect_saved(page=page)
        (kept,) = head_of(self.installation_of("Grebe")).document["observations"]
        self.assertEqual(kept["kind"], "there_and_back")
        self.assertAlmostEqual(kept["shown_kmh"] / kept["at_kmh"], 2 * 9.45 / (there + back), delta=0.001)

    def test_an_event_is_shown_in_the_plot(self) -> None:
        page = self.sign_in()
        self.open_check()
        self.choose(Drive(dropouts=3, seed=4))
        page.get_by_role("link", name="Look at the recording").click()
        page.get_by_role("tab", name="Signal health").click()
        events = page.get_by_test_id("events")
        expect(events.get_by_role("row").nth(2)).to_contain_text("dropout")
        expect(page.get_by_role("button", name="Show all")).to_be_disabled()
        events.get_by_role("button", name="in the plot").nth(1).click()
        expect(page.get_by_role("button", name="Show all")).to_be_enabled()
        page.reload()  # the address says what is shown
        expect(page.get_by_role("button", name="Show all")).to_be_enabled()

    def test_what_cannot_be_used_says_what_to_do(self) -> None:
        page = self.sign_in()
        self.open_check()
        file = {"name": "notes.txt", "mimeType": "text/plain", "buffer": b"tyre worn\n"}
        page.get_by_test_id("recording-file").set_input_files(file)  # type: ignore[arg-type]
        expect(page.get_by_role("alert").first).to_contain_text("no rows of numbers")
        self.choose(Drive(speeds_kmh=(40.0,), hold_s=1))
        expect(page.get_by_test_id("drive-check").get_by_role("alert")).to_contain_text("Hold a speed")

    def test_a_boat_in_a_current_from_the_file_to_the_setting(self) -> None:
        """Four runs in 0.9 kn; the log shows 3 % too much of the speed through the water. One way only says so."""
        page = self.sign_in()
        self.open_installation("Grebe", "readout")
        self.enter("readouts.0.current_setting", "20000")
        self.expect_saved()
        page.get_by_role("tab", name="Check with a recorded drive").click()
        expect(page.get_by_test_id("drive-check")).to_contain_text("Keep a lookout")
        knots = 1.852
        runs = {"shown_per_true": 1.03, "current_kmh": 0.9 * knots, "true_noise_kmh": 0.05, "shown_noise_kmh": 0.05}
        self.choose(Drive(speeds_kmh=(6 * knots,), hold_s=120, **runs), "out.csv")  # type: ignore[arg-type]
        expect(page.get_by_test_id("drive-check").get_by_role("alert")).to_contain_text(
            "Run the same stretch both ways"
        )
        page.get_by_test_id("recording-choice").wait_for()
        self.choose(Drive(speeds_kmh=(6 * knots,) * 3, hold_s=60, **runs), "three runs.csv")  # type: ignore[arg-type]
        proof = page.get_by_test_id("proof")
        expect(proof).to_contain_text("Speed through the water 6")
        expect(proof).to_contain_text("kn; the display shows 6.1")
        expect(page.get_by_test_id("current")).to_contain_text("0.9 kn at first")
        page.get_by_role("button", name="Use this drive").click()
        expect(proof).to_contain_text("This drive is in use")
        self.expect_saved()
        kept = head_of(self.installation_of("Grebe")).document["observations"][-1]
        self.assertEqual(kept["kind"], "there_and_back")

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
        page = self.open_installation("Turnstone", "target")
        page.get_by_role("tab", name="Captured pulses").click()
        pitches = [1.0, 1.15, 0.85, *[1.0] * 41]
        edges = [0.0]
        for _ in range(20):
            for pitch in pitches:
                edges.append(edges[-1] + pitch)
        text = "time_ms\n" + "".join(f"{at:.4f}\n" for at in edges)
        file = {"name": "ring.csv", "mimeType": "text/csv", "buffer": text.encode()}
        page.get_by_test_id("recording-file").set_input_files(file)  # type: ignore[arg-type]
        expect(page.get_by_test_id("fingerprint")).to_contain_text(
            "44 pulses per turn; tooth 3 is +15.0 % of the pitch"
        )
        page.get_by_role("button", name="Use 44 as the count, instead of 48").click()
        expect(self.field("target.count")).to_have_value("44")
        expect(page.get_by_text("counted from recorded pulses").first).to_be_visible()
        self.expect_saved()
        page.get_by_test_id("ring-count").fill("40")
        expect(page.get_by_test_id("fingerprint")).to_contain_text("40 pulses per turn")

    def test_a_span_is_left_out_by_a_drag(self) -> None:
        page = self.sign_in()
        self.open_check()
        self.choose(Drive(seed=3))
        expect(page.get_by_test_id("parts-shown")).to_contain_text("4 used")
        page.get_by_role("button", name="Leave out a span").click()
        over = page.locator(".u-over").bounding_box()
        assert over is not None
        y = over["y"] + over["height"] / 2
        page.mouse.move(over["x"] + 2, y)
        page.mouse.down()
        page.mouse.move(over["x"] + over["width"] * 0.28, y, steps=6)
        page.mouse.up()
        # 220 s are seen; the first hold lasts from 15 to 55 s
        expect(page.get_by_test_id("parts-shown")).to_contain_text("3 used")
        page.get_by_test_id("parts-shown").click()
        expect(page.get_by_test_id("parts")).to_contain_text("left out by hand")

    def test_a_recording_is_brought_in_looked_at_and_taken_out_again(self) -> None:
        page = self.sign_in()
        page.get_by_role("link", name="Sandpiper").first.click()
        page.get_by_test_id("recordings").wait_for()
        data = WRITERS["nmea"](Drive(seed=4))
        page.get_by_test_id("recording-file").set_input_files(  # type: ignore[arg-type]
            {"name": "beach.nmea", "mimeType": "text/plain", "buffer": data}
        )
        expect(page.get_by_role("heading", name="beach.nmea")).to_be_visible()
        plot = page.get_by_role("group", name="Speed over time")
        expect(plot).to_be_visible()
        expect(page.get_by_role("img", name="The track,")).to_be_visible()
        over = page.locator(".u-over")
        self.point(page, 200, 100)
        expect(page.get_by_test_id("legend")).to_contain_text("satellite speed")
        expect(page.get_by_test_id("legend")).to_contain_text("km/h")
        expect(page.get_by_test_id("here")).to_have_count(1)
        expect(page.get_by_role("button", name="Show all")).to_be_disabled()
        over.dblclick(position={"x": 300, "y": 100})
        page.keyboard.down("Control")
        page.mouse.wheel(0, -400)
        page.keyboard.up("Control")
        expect(page.get_by_role("button", name="Show all")).to_be_enabled()
        plot.press("Home")
        expect(page.get_by_role("button", name="Show all")).to_be_disabled()
        plot.press("+")
        expect(page.get_by_role("button", name="Show all")).to_be_enabled()
        page.get_by_role("button", name="Altitude").click()
        expect(page.get_by_role("group", name="Altitude over time")).to_be_visible()
        with page.expect_download() as download:
            page.get_by_role("link", name="Original file").click()
        self.assertEqual(Path(download.value.path()).read_bytes(), data)
        with page.expect_download() as download:
            page.get_by_role("button", name="The track as GPX").click()
        self.assertIn(b"<trkpt", Path(download.value.path()).read_bytes())
        page.get_by_role("button", name="Move to the bin").click()
        expect(page.get_by_test_id("recordings")).not_to_contain_text("beach.nmea")
        page.goto(f"{self.live_server_url}/bin")
        page.get_by_role("button", name="Restore Sandpiper: beach.nmea").click()
        expect(page.get_by_text("The bin is empty.")).to_be_visible()

    def test_a_log_of_a_bus_asks_for_its_dbc(self) -> None:
        page = self.sign_in()
        self.open_check()
        file = {"name": "bus.log", "mimeType": "text/plain", "buffer": WRITERS["candump"](Drive(seed=1))}
        page.get_by_test_id("recording-file").set_input_files(file)  # type: ignore[arg-type]
        expect(page.get_by_role("alert")).to_contain_text("A DBC file is needed")
        page.get_by_test_id("dbc-file").set_input_files(  # type: ignore[arg-type]
            {"name": "bus.dbc", "mimeType": "text/plain", "buffer": DBC.encode()}
        )
        expect(page.get_by_test_id("proof")).to_be_visible()
        expect(page.get_by_test_id("shown_channel")).to_have_value("Wheels.Display")

    def test_a_line_that_breaks_while_a_file_is_sent(self) -> None:
        page = self.sign_in()
        self.open_check()
        lost = []

        def lose(route: Route) -> None:
            lost.append(route.request.url)
            route.abort() if len(lost) < 3 else route.continue_()

        page.route("**/pieces/*", lose)
        self.choose(Drive(seed=2))
        expect(page.get_by_test_id("proof")).to_be_visible()
        self.assertEqual(len(lost), 3)

    def test_recorded_with_the_phone_through_a_reload_and_a_lost_line(self) -> None:
        context = self.new_context(PHONE, has_touch=True, permissions=["geolocation"])
        self.page = page = context.new_page()
        self.sign_in()
        vehicle = self.installation_of("Whimbrel").vehicle_id
        page.goto(f"{self.live_server_url}/vehicle/{vehicle}/record")
        expect(page.get_by_text("Only a passenger touches this")).to_be_visible()
        page.get_by_role("button", name="Start recording").click()
        for place in range(6):
            context.set_geolocation({"latitude": 54.9 + place * 1e-4, "longitude": 6.9, "accuracy": 4})
            page.wait_for_timeout(150)
        page.get_by_role("button", name="The display shows 40 now").click()
        expect(page.get_by_text("1 marks")).to_be_visible()
        page.reload()
        expect(page.get_by_text("1 marks kept on this device")).to_be_visible()
        page.route("**/api/vehicles/*/recordings", lambda route: route.abort())
        page.get_by_role("button", name="Send it to the workshop").click()
        expect(page.get_by_role("alert")).to_contain_text("It is kept on this device")
        page.unroute("**/api/vehicles/*/recordings")
        page.get_by_role("button", name="Send it to the workshop").click()
        expect(page.get_by_role("heading", name="Phone,")).to_be_visible()
        expect(page.get_by_role("button", name="Accuracy of the fix")).to_be_visible()
        page.goto(f"{self.live_server_url}/vehicle/{vehicle}/record")
        expect(page.get_by_text("0 fixes")).to_be_visible()

    def test_derived_channels_distance_and_results_that_are_kept(self) -> None:
        page = self.sign_in()
        page.get_by_role("link", name="Sandpiper").first.click()
        page.get_by_test_id("recordings").wait_for()
        data = as_table(Drive(seed=4, driven=True, false_slip_pct=1.2)).encode()
        page.get_by_test_id("recording-file").set_input_files(  # type: ignore[arg-type]
            {"name": "both wheels.csv", "mimeType": "text/csv", "buffer": data}
        )
        expect(page.get_by_role("group", name="Speed over time")).to_be_visible()
        page.get_by_test_id("derive").locator("summary").click()
        page.get_by_test_id("derive-kind").select_option("slip")
        page.get_by_test_id("derive-of").select_option("driven wheel")
        page.get_by_role("button", name="Add channel").click()
        name = "slip of driven wheel against satellite speed"
        page.get_by_role("button", name=name, exact=True).click()
        expect(page.get_by_role("group", name=f"{name} over time")).to_be_visible()
        page.get_by_role("button", name="Over distance").click()
        plot = page.get_by_role("group", name=f"{name} over distance")
        expect(plot).to_be_visible()
        self.point(page, 300, 80)
        expect(page.get_by_test_id("pointed")).to_contain_text(" m, ")
        plot.press("+")
        expect(page.get_by_role("button", name="Show all")).to_be_enabled()
        page.get_by_role("button", name="Histogram").click()
        expect(page.get_by_role("img", name=f"How long {name}")).to_be_visible()
        page.get_by_role("tab", name="Slip").click()
        expect(page.get_by_test_id("traction")).to_contain_text("nothing below")
        page.get_by_role("tab", name="Distance").click()
        page.get_by_test_id("distance-metres").fill("3300")
        expect(page.get_by_test_id("distance")).to_contain_text("m shown on 3300 m")
        page.get_by_role("tab", name="Coast-down").click()
        expect(page.get_by_role("alert")).to_contain_text("let it roll")
        page.get_by_role("button", name="Passing 60 now").click()
        page.get_by_role("button", name="Passing 50 now").click()
        page.get_by_role("button", name="File it in the timeline").click()
        expect(page.get_by_test_id("coast-timer")).to_contain_text("It is in the timeline")
        page.get_by_role("button", name=f"Remove {name}").click()
        expect(page.get_by_test_id("derive")).to_contain_text("Derived channels: 0")
        page.reload()
        page.get_by_test_id("earlier").locator("summary").click()
        expect(page.get_by_test_id("earlier")).to_contain_text("Traction table")
        expect(page.get_by_test_id("earlier")).to_contain_text("m shown on 3300 m")

    def test_a_ring_is_compared_with_an_earlier_capture(self) -> None:
        page = self.open_installation("Turnstone", "target")
        page.get_by_role("tab", name="Captured pulses").click()
        for name, ring in (
            ("spring.csv", Ring(teeth=48, seed=1, bent=30)),
            ("autumn.csv", Ring(teeth=48, seed=2, bent=5)),
        ):
            page.get_by_test_id("recording-file").set_input_files(  # type: ignore[arg-type]
                {"name": name, "mimeType": "text/csv", "buffer": as_edges(ring).encode()}
            )
            expect(page.get_by_test_id("recording-choice")).to_contain_text(name)
            expect(page.get_by_test_id("fingerprint")).to_contain_text("48 pulses")
        expect(page.get_by_test_id("fingerprint")).to_contain_text("tooth 5")
        page.get_by_test_id("ring-mark").fill("0")
        page.get_by_test_id("ring-earlier").select_option(label="spring.csv")
        expect(page.get_by_test_id("ring-change")).to_contain_text("Mark a tooth")  # but for one tooth the ring is even
        page.get_by_label("Chalk mark passed then at, s").fill("0")
        expect(page.get_by_test_id("ring-changed")).to_contain_text("tooth 5 by +")
