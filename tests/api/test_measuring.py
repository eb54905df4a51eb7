"""Methods compared, speed plotted, tyres changed, tasks, the chart, the vehicle sheet and units, over the API."""

from __future__ import annotations

import json

from django.db import connection
from django.test import Client
from django.test.utils import CaptureQueriesContext

from speedchain import read_installation
from tests.api.base import ApiTestCase, make_workshop
from tests.core.test_every_field import RICH
from tests.installations import CAR, CYCLE, document

THREE = {
    "method": "roll_out",
    "marking": {"text": "205/55R16"},
    "taped_diameter": {"diameter_mm": 614},
    "roll_out": {"turns": 3, "distance_mm": "5.88 m"},
}


class Methods(ApiTestCase):
    def test_all_methods_of_a_document_that_need_not_be_saved(self) -> None:
        result = self.send("post", "/compare-methods", document(CAR, wheel=THREE)).json()
        self.assertEqual([line["method"] for line in result["lines"]], ["marking", "taped_diameter", "roll_out"])
        self.assertEqual([line["in_use"] for line in result["lines"]], [False, False, True])
        self.assertTrue(result["agree"])

    def test_a_field_that_cannot_be_used_is_named(self) -> None:
        body = self.refused(self.send("post", "/compare-methods", document(CAR, wheel__marking__text="?")), 422)
        self.assertEqual(body["problems"][0]["path"], "wheel.marking.text")

    def test_over_speed(self) -> None:
        result = self.send("post", "/over-speed", {"document": CAR, "readout": 0, "max_speed_kmh": "100 mph"}).json()
        self.assertAlmostEqual(result["true_kmh"][-1], 160.9344)
        self.assertEqual(len(result["true_kmh"]), len(result["band_low_kmh"]))
        self.refused(self.send("post", "/over-speed", {"document": CAR, "readout": 1}), 422)
        self.refused(self.send("post", "/over-speed", {"document": CAR, "max_speed_kmh": "fast"}), 422)


class Chart(ApiTestCase):
    def test_a_workshops_own_chart_is_used_and_can_be_put_back(self) -> None:
        first = self.send("get", "/chart").json()
        self.assertFalse(first["own"])
        cycle = document(CYCLE, readouts__0__current_setting=2222)
        codes = lambda: [f["code"] for f in self.send("post", "/evaluate", cycle).json()["result"]["findings"]]  # noqa: E731
        self.assertNotIn("readout.chart_neighbour", codes())
        rows = [{"label": "700x28C", "circumference_mm": 2136}, {"label": "40-622", "circumference_mm": "222.2 cm"}]
        self.assertTrue(self.send("put", "/chart", {"base_version": 1, "rows": rows}).json()["own"])
        self.refused(self.send("put", "/chart", {"base_version": 1, "rows": rows[:1]}), 409)
        self.assertIn("readout.chart_neighbour", codes())
        stranger = Client()
        stranger.force_login(make_workshop("Third", "third")[0])
        self.assertFalse(stranger.get("/api/chart").json()["own"])
        self.refused(self.send("delete", "/chart?base_version=1"), 409)
        self.assertEqual(self.send("delete", "/chart?base_version=2").json(), {**first, "version": 3})

    def test_a_row_that_cannot_be_read_is_named_and_nothing_is_lost(self) -> None:
        rows = [{"label": "700x28C", "circumference_mm": 2136}, {"label": "wide", "circumference_mm": 2136}]
        body = self.refused(self.send("put", "/chart", {"base_version": 1, "rows": rows}), 422)
        self.assertTrue(body["problems"][0]["path"].endswith("rows.1.label"))
        self.assertFalse(self.send("get", "/chart").json()["own"])


class Tyre(ApiTestCase):
    def test_preview_changes_nothing_and_fitting_makes_revision_and_due_items(self) -> None:
        given = {"document": CAR, "tyre": {"marking": "215/55R16"}}
        result = self.send("post", f"/installations/{self.installation.pk}/tyre/preview", given).json()
        self.assertGreater(result["change_pct"], 1)
        self.assertEqual(self.send("get", f"/installations/{self.installation.pk}").json()["head"]["number"], 1)
        saved = self.send("post", f"/installations/{self.installation.pk}/tyre", {**given, "base_revision": 1})
        self.assertEqual(saved.json()["number"], 2)
        self.assertEqual(saved.json()["document"]["wheel"]["marking"]["text"], "215/55R16")
        tasks = self.send("get", f"/installations/{self.installation.pk}/tasks").json()
        self.assertEqual([item["text"] for item in tasks], [item["text"] for item in result["tasks"]])
        vehicles = self.send("get", "/vehicles").json()["vehicles"][0]["installations"][0]
        self.assertEqual(len(vehicles["tasks"]), len(tasks))
        ticked = self.send("put", f"/tasks/{tasks[0]['id']}", {"done": True}).json()
        self.assertEqual((ticked["done_by"], ticked["done_at"] is None), ("builder", False))
        self.assertEqual(
            len(self.send("get", "/vehicles").json()["vehicles"][0]["installations"][0]["tasks"]), len(tasks) - 1
        )
        self.assertIsNone(self.send("put", f"/tasks/{tasks[0]['id']}", {"done": False}).json()["done_at"])

    def test_a_stale_change_is_refused_and_leaves_no_due_items(self) -> None:
        given = {"document": CAR, "tyre": {"marking": "215/55R16"}, "base_revision": 0}
        body = self.refused(self.send("post", f"/installations/{self.installation.pk}/tyre", given), 409)
        self.assertEqual(body["theirs"]["number"], 1)
        self.assertEqual(self.send("get", f"/installations/{self.installation.pk}/tasks").json(), [])

    def test_an_unreadable_tyre_is_named(self) -> None:
        given = {"document": CAR, "tyre": {"marking": "big"}}
        body = self.refused(self.send("post", f"/installations/{self.installation.pk}/tyre/preview", given), 422)
        self.assertTrue(body["problems"][0]["path"].endswith("tyre.marking"))


class Sheet(ApiTestCase):
    def test_settings_are_kept_and_every_installation_is_there(self) -> None:
        path = f"/vehicles/{self.vehicle.pk}/sheet"
        other = self.send("post", f"/vehicles/{self.vehicle.pk}/installations", document(CAR, wheel=THREE)).json()
        result = self.send("get", path).json()
        self.assertEqual([row["installation"] for row in result["sheet"]["rows"]], [self.installation.pk, other["id"]])
        self.assertEqual(result["sheet"]["speed_kmh"], 100)
        kept = {"speed_kmh": "50 mph", "tolerance_pct": 0.5, "track_mm": "57in", "radius_m": 6}
        self.assertEqual(self.send("put", path, {"base_version": 1, "settings": kept}).json()["version"], 2)
        self.refused(self.send("put", path, {"base_version": 1, "settings": kept | {"track_mm": 1500}}), 409)
        result = self.send("get", path).json()
        self.assertAlmostEqual(result["settings"]["speed_kmh"], 80.4672)
        self.assertAlmostEqual(result["settings"]["track_mm"], 1447.8)
        self.assertIn("left turn", result["sheet"]["turn_text"])
        body = self.refused(self.send("put", path, {"base_version": 2, "settings": {"track_mm": "wide"}}), 422)
        self.assertTrue(body["problems"][0]["path"].endswith("track_mm"))
        inside = {"base_version": 2, "settings": {"track_mm": 1500, "radius_m": 0.6}}
        body = self.refused(self.send("put", path, inside), 422)
        self.assertTrue(body["problems"][0]["path"].endswith("radius_m"))
        self.assertEqual(body["problems"][0]["limit"], "at least 0.75 m")

    def test_seen_from_above_at_the_check_speed_until_another_is_stated(self) -> None:
        made = self.send("post", "/vehicles", {"name": "Knot", "kind": "land_yacht"}).json()
        given = document(CAR, vehicle_kind="land_yacht", sensed_at="rear_left", check_speed_kmh=60)
        other = self.send("post", f"/vehicles/{made['id']}/installations", given).json()
        result = self.send("get", f"/vehicles/{made['id']}/sheet").json()
        self.assertEqual(result["sheet"]["speed_kmh"], 60)
        self.assertEqual(
            result["from_above"]["sensors"], [{"installation": other["id"], "along": "rear", "across": "left"}]
        )
        self.assertEqual(len(result["from_above"]["wheels"]), 3)
        self.assertEqual([item["state"] for item in result["vehicle"]["installations"]], ["unverified"])
        path = f"/vehicles/{made['id']}/sheet"
        for version, given in ((1, {"speed_kmh": 40}), (2, {"track_mm": 1500})):
            answer = self.send("put", path, {"base_version": version, "settings": given}).json()
            self.assertEqual(answer["settings"]["speed_kmh"], given.get("speed_kmh", 60))

    def test_a_vehicle_without_installations_has_an_empty_sheet(self) -> None:
        empty = self.send("post", "/vehicles", {"name": "Knot", "kind": "kart"}).json()
        self.assertEqual(self.send("get", f"/vehicles/{empty['id']}/sheet").json()["sheet"]["rows"], [])


class UnitsOfAPerson(ApiTestCase):
    def test_units_belong_to_the_account(self) -> None:
        self.assertEqual(self.send("get", "/session").json()["units"], "metric")
        self.assertEqual(self.send("put", "/session/units", {"units": "nautical"}).json()["units"], "nautical")
        again = Client()
        again.force_login(self.user)
        self.assertEqual(again.get("/api/session").json()["units"], "nautical")
        self.refused(self.send("put", "/session/units", {"units": "furlongs"}), 422)


class Hostile(ApiTestCase):
    """What nobody types by accident: refused with the field, never a 500, and nothing is kept."""

    def test_texts_that_cannot_be_kept(self) -> None:
        for path, text in [
            ("wheel__measured__load", "full\x00tank"),
            ("wheel__measured__by", "x" * 10**5),
            ("wheel__chart", {"label": "a\x00", "circumference_mm": 2000}),
            ("readouts__0__custom", {"label": "\x07", "scale": 1}),
            ("readouts__0__codes", [{"code": "1" * 13, "circumference_mm": 2000}]),
            ("readouts__0__current_setting_code", "c" * 10**5),
        ]:
            answer = self.send(
                "put",
                f"/installations/{self.installation.pk}",
                {"base_revision": 1, "document": document(CAR, **{path: text})},
            )
            with self.subTest(path):
                body = self.refused(answer, 422)
                self.assertTrue(body["problems"][0]["path"].startswith(f"document.{path.replace('__', '.')}"))
        self.assertEqual(self.send("get", f"/installations/{self.installation.pk}").json()["head"]["number"], 1)

    def test_lists_that_are_too_long(self) -> None:
        for path, many in [
            ("check_speeds_kmh", [50] * 13),
            ("wheel__taped_diameter", {"diameter_mm": 630, "repeats_mm": [630] * 12}),
            ("readouts__0__table", [{"speed_kmh": v} for v in range(1, 40)]),
            ("readouts__0__codes", [{"code": str(n), "circumference_mm": 2000} for n in range(201)]),
            ("readouts", [CAR["readouts"][0]] * 9),
        ]:
            with self.subTest(path):
                body = self.refused(self.send("post", "/evaluate", document(CAR, **{path: many})), 422)
                self.assertIn("too long", body["problems"][0]["message"])
        rows = [{"label": "28-622", "circumference_mm": 2100}] * 201
        self.refused(self.send("put", "/chart", {"base_version": 1, "rows": rows}), 422)
        self.refused(self.send("put", "/chart", {"base_version": 1, "rows": []}), 422)

    def test_things_of_the_wrong_kind(self) -> None:
        for path, body in [
            ("/over-speed", {"document": CAR, "readout": -1}),
            ("/over-speed", {"document": CAR, "readout": 10**30}),
            ("/over-speed", {"document": 7}),
            ("/compare-methods", []),
            (f"/installations/{self.installation.pk}/tyre/preview", {"document": CAR}),
            (
                f"/installations/{self.installation.pk}/tyre/preview",
                {"document": CAR, "tyre": {"marking": "28-622", "colour": "red"}},
            ),
            (
                f"/installations/{self.installation.pk}/tyre",
                {"document": CAR, "tyre": {"marking": "28-622"}, "base_revision": "new"},
            ),
        ]:
            with self.subTest(f"{path} {str(body)[:40]}"):
                self.refused(self.send("post", path, body), 422)
        self.refused(self.send("put", f"/tasks/{10**30}", {"done": True}), 404)
        self.refused(self.send("put", "/tasks/1", {"done": "perhaps"}), 422)
        self.refused(
            self.send(
                "put", f"/vehicles/{self.vehicle.pk}/sheet", {"base_version": 1, "settings": {"speed_kmh": None}}
            ),
            422,
        )

    def test_a_rich_document_survives_the_database_and_a_file(self) -> None:
        saved = self.send("put", f"/installations/{self.installation.pk}", {"base_revision": 1, "document": RICH})
        self.assertEqual(saved.status_code, 200, saved.content)
        exported = json.loads(self.send("get", f"/installations/{self.installation.pk}/file").content)
        again = self.send("post", f"/vehicles/{self.vehicle.pk}/installations", exported).json()
        self.assertEqual(read_installation(again["head"]["document"]), read_installation(RICH))
        line = self.send("get", f"/installations/{self.installation.pk}/revisions").json()["revisions"][0]
        self.assertIn("entered", line["summary"])


class Logbook(ApiTestCase):
    def test_changes_are_told_in_the_words_of_the_trade(self) -> None:
        base = document(CAR, wheel=THREE)
        self.send("put", f"/installations/{self.installation.pk}", {"base_revision": 1, "document": base})
        for number, (path, value, words) in enumerate(
            [
                ("wheel__roll_out__repeats_mm", [5882], "Wheel: repeat readings changed"),
                ("wheel__measured", {"pressure_bar": 2.2}, "Wheel: pressure none → 2.2"),
                ("wheel__corrections", {"growth_pct": 1}, "Wheel: growth with speed none → 1"),
                ("band", "none", "Speedometer rule UN R39, type approval → None"),
                ("sensed_at", "rear", "Sensed wheel or axle Not stated → Rear wheel or axle"),
                ("readouts__0__timing", {"time_out_s": 2}, "none → 2"),
            ],
            start=2,
        ):
            base = document(base, **{path: value})
            saved = self.send(
                "put", f"/installations/{self.installation.pk}", {"base_revision": number, "document": base}
            ).json()
            with self.subTest(path):
                self.assertIn(words, saved["summary"])


class Queries(ApiTestCase):
    """How often the database is asked does not grow with what is in the workshop."""

    def count(self, method: str, path: str, body: object = None) -> int:
        with CaptureQueriesContext(connection) as asked:
            self.assertEqual(self.send(method, path, body).status_code, 200)
        return len(asked)

    def test_yard_and_sheet_ask_as_often_for_one_installation_as_for_nine(self) -> None:
        paths = ("/vehicles", f"/vehicles/{self.vehicle.pk}/sheet")
        before = [self.count("get", path) for path in paths]
        for _ in range(8):
            self.send("post", f"/vehicles/{self.vehicle.pk}/installations", CAR)
        self.assertEqual([self.count("get", path) for path in paths], before)

    def test_evaluating_asks_for_the_account_and_the_chart_only(self) -> None:
        self.assertLessEqual(self.count("post", "/evaluate", CAR), 3)
        self.assertLessEqual(self.count("post", "/compare-methods", document(CAR, wheel=THREE)), 3)
