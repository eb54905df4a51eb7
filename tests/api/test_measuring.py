"""Methods compared, speed plotted, tyres changed, things due, the chart, the vehicle sheet and units, over the API."""

from __future__ import annotations

from django.test import Client

from tests.api.base import ApiTestCase, make_workshop
from tests.fits import CAR, CYCLE, document

THREE = {
    "method": "roll_out",
    "marking": {"text": "205/55R16"},
    "taped_diameter": {"diameter_mm": 624},
    "roll_out": {"turns": 3, "distance_mm": "5.88 m"},
}


class Methods(ApiTestCase):
    def test_all_methods_of_a_document_that_need_not_be_saved(self) -> None:
        told = self.send("post", "/compare-methods", document(CAR, wheel=THREE)).json()
        self.assertEqual([line["method"] for line in told["lines"]], ["marking", "taped_diameter", "roll_out"])
        self.assertEqual([line["in_use"] for line in told["lines"]], [False, False, True])
        self.assertTrue(told["agree"])

    def test_a_field_that_cannot_be_used_is_named(self) -> None:
        body = self.refused(self.send("post", "/compare-methods", document(CAR, wheel__marking__text="?")), 422)
        self.assertEqual(body["problems"][0]["path"], "wheel.marking.text")

    def test_over_speed(self) -> None:
        told = self.send("post", "/over-speed", {"document": CAR, "readout": 0, "top_kmh": "100 mph"}).json()
        self.assertAlmostEqual(told["true_kmh"][-1], 160.9344)
        self.assertEqual(len(told["true_kmh"]), len(told["band_low_kmh"]))
        self.refused(self.send("post", "/over-speed", {"document": CAR, "readout": 1}), 422)
        self.refused(self.send("post", "/over-speed", {"document": CAR, "top_kmh": "fast"}), 422)


class Chart(ApiTestCase):
    def test_a_workshops_own_chart_is_used_and_can_be_put_back(self) -> None:
        first = self.send("get", "/chart").json()
        self.assertFalse(first["own"])
        cycle = document(CYCLE, readouts__0__typed=2222)
        codes = lambda: [f["code"] for f in self.send("post", "/evaluate", cycle).json()["result"]["findings"]]  # noqa: E731
        self.assertNotIn("readout.chart_neighbour", codes())
        rows = [{"label": "700x28C", "circumference_mm": 2136}, {"label": "40-622", "circumference_mm": "222.2 cm"}]
        self.assertTrue(self.send("put", "/chart", {"rows": rows}).json()["own"])
        self.assertIn("readout.chart_neighbour", codes())
        stranger = Client()
        stranger.force_login(make_workshop("Third", "third")[0])
        self.assertFalse(stranger.get("/api/chart").json()["own"])
        self.assertEqual(self.send("delete", "/chart").json(), first)

    def test_a_row_that_cannot_be_read_is_named_and_nothing_is_lost(self) -> None:
        rows = [{"label": "700x28C", "circumference_mm": 2136}, {"label": "wide", "circumference_mm": 2136}]
        body = self.refused(self.send("put", "/chart", {"rows": rows}), 422)
        self.assertTrue(body["problems"][0]["path"].endswith("rows.1.label"))
        self.assertFalse(self.send("get", "/chart").json()["own"])


class Tyre(ApiTestCase):
    def test_preview_changes_nothing_and_fitting_makes_revision_and_due_items(self) -> None:
        given = {"document": CAR, "tyre": {"marking": "215/55R16"}}
        told = self.send("post", f"/fits/{self.fit.pk}/tyre/preview", given).json()
        self.assertGreater(told["change_pct"], 1)
        self.assertEqual(self.send("get", f"/fits/{self.fit.pk}").json()["head"]["number"], 1)
        saved = self.send("post", f"/fits/{self.fit.pk}/tyre", {**given, "base_revision": 1})
        self.assertEqual(saved.json()["number"], 2)
        self.assertEqual(saved.json()["document"]["wheel"]["marking"]["text"], "215/55R16")
        due = self.send("get", f"/fits/{self.fit.pk}/due").json()
        self.assertEqual([item["text"] for item in due], [item["text"] for item in told["due"]])
        yard = self.send("get", "/vehicles").json()[0]["fits"][0]
        self.assertEqual(len(yard["due"]), len(due))
        ticked = self.send("put", f"/due/{due[0]['id']}", {"done": True}).json()
        self.assertEqual((ticked["done_by"], ticked["done_at"] is None), ("builder", False))
        self.assertEqual(len(self.send("get", "/vehicles").json()[0]["fits"][0]["due"]), len(due) - 1)
        self.assertIsNone(self.send("put", f"/due/{due[0]['id']}", {"done": False}).json()["done_at"])

    def test_a_stale_change_is_refused_and_leaves_no_due_items(self) -> None:
        given = {"document": CAR, "tyre": {"marking": "215/55R16"}, "base_revision": 0}
        body = self.refused(self.send("post", f"/fits/{self.fit.pk}/tyre", given), 409)
        self.assertEqual(body["theirs"]["number"], 1)
        self.assertEqual(self.send("get", f"/fits/{self.fit.pk}/due").json(), [])

    def test_an_unreadable_tyre_is_named(self) -> None:
        given = {"document": CAR, "tyre": {"marking": "big"}}
        body = self.refused(self.send("post", f"/fits/{self.fit.pk}/tyre/preview", given), 422)
        self.assertTrue(body["problems"][0]["path"].endswith("tyre.marking"))


class Sheet(ApiTestCase):
    def test_settings_are_kept_and_every_fit_is_there(self) -> None:
        path = f"/vehicles/{self.vehicle.pk}/sheet"
        other = self.send("post", f"/vehicles/{self.vehicle.pk}/fits", document(CAR, wheel=THREE)).json()
        told = self.send("get", path).json()
        self.assertEqual([row["fit"] for row in told["sheet"]["rows"]], [self.fit.pk, other["id"]])
        self.assertEqual(told["sheet"]["speed_kmh"], 100)
        kept = {"speed_kmh": "50 mph", "tolerance_pct": 0.5, "track_mm": "57in", "radius_m": 6}
        self.send("put", path, kept)
        told = self.send("get", path).json()
        self.assertAlmostEqual(told["settings"]["speed_kmh"], 80.4672)
        self.assertAlmostEqual(told["settings"]["track_mm"], 1447.8)
        self.assertIn("left turn", told["sheet"]["turn_words"])
        body = self.refused(self.send("put", path, {"track_mm": "wide"}), 422)
        self.assertTrue(body["problems"][0]["path"].endswith("track_mm"))

    def test_a_vehicle_without_fits_has_an_empty_sheet(self) -> None:
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
