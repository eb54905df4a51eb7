"""What a request may hold, and that every refusal is problem details, described in OpenAPI."""

from __future__ import annotations

import json
from typing import Any
from unittest.mock import patch

from django.db import InterfaceError, OperationalError
from django.test import Client, override_settings

from api.app import api
from api.limits import check_structure
from tests.api.base import ApiTestCase
from tests.generated import documents
from tests.installations import CAR, document


class Bodies(ApiTestCase):
    def test_a_wide_sign_in_is_refused_before_it_is_read(self) -> None:
        """370 000 unknown keys once took 15 s, 61 MB of answer and 3.4 GB of memory."""
        wide = json.dumps({f"k{n}": 0 for n in range(370_000)})
        stranger = Client(enforce_csrf_checks=True)
        body = self.refused(stranger.post("/api/session", wide, content_type="application/json"), 413)
        self.assertEqual(body["limit"], 8000)

    def test_without_a_token_the_body_is_not_even_parsed(self) -> None:
        stranger = Client(enforce_csrf_checks=True)
        with patch("api.limits.BoundedParser.parse_body") as loads:
            self.refused(stranger.post("/api/session", "{", content_type="application/json"), 403)
        loads.assert_not_called()

    def test_keys_and_levels_are_bounded_before_parsing(self) -> None:
        for body in (
            "[" * 100 + "]" * 100,
            json.dumps({str(n): n for n in range(20_000)}),
            '{"a":' * 41 + "1" + "}" * 41,
        ):
            with self.subTest(body[:20]), patch("api.limits.json") as parser:
                answer = self.client.post("/api/evaluate", body, content_type="application/json")
                self.refused(answer, 413)
                parser.loads.assert_not_called()
        check_structure(json.dumps({"notes": "[{" * 5000 + ":," * 20_000}).encode())  # inside a text they count nothing

    def test_reported_problems_are_bounded(self) -> None:
        body = self.refused(self.send("post", "/evaluate", CAR | {f"k{n}": n for n in range(3000)}), 422)
        self.assertEqual(len(body["problems"]), 41)
        self.assertIn("2960 more", body["problems"][-1]["message"])

    def test_the_largest_document_is_well_within(self) -> None:
        largest = max(len(installation.model_dump_json(indent=2)) for installation in documents(40, seed=9))
        self.assertLess(largest, 100_000)
        notes = document(CAR, notes="家" * 2000, readouts__0__codes=[
            {"code": f"c{n}", "circumference_mm": 2000 + n} for n in range(200)
        ])  # fmt: skip
        self.assertEqual(self.send("post", "/evaluate", notes).status_code, 200)

    def test_other_media_types(self) -> None:
        for kind in ("text/plain", "multipart/form-data; boundary=x", "application/x-www-form-urlencoded"):
            self.refused(self.client.post("/api/evaluate", "{}", content_type=kind), 415)

    def test_methods_that_are_not_possible(self) -> None:
        body = self.refused(self.client.patch("/api/session", "{}", content_type="application/json"), 405)
        self.assertIn("PATCH is not possible here. Possible: ", body["detail"])


class Away(ApiTestCase):
    """The database away is 503 with Retry-After, wherever it is noticed."""

    def away(self, answer: Any) -> None:
        self.refused(answer, 503)
        self.assertGreater(int(answer["Retry-After"]), 0)

    def test_in_a_route(self) -> None:
        for error in (
            OperationalError("the database system is starting up"),
            InterfaceError("connection already closed"),
        ):
            with patch("workshop.installations.read_installation", side_effect=error):
                saved = {"base_revision": 1, "document": CAR | {"name": "Other"}}
                self.away(self.send("put", f"/installations/{self.installation.pk}", saved))

    def test_before_a_route_and_in_the_session(self) -> None:
        self.client.raise_request_exception = False
        with patch("django.db.backends.utils.CursorWrapper.execute", side_effect=OperationalError("gone")):
            self.away(self.client.get("/api/vehicles"))
            self.away(self.client.get("/api/health"))
            self.away(
                self.client.post("/api/vehicles", {}, "application/json", headers={"Idempotency-Key": "12345678"})
            )

    def test_a_failure_of_our_own_is_500_as_problem_details(self) -> None:
        with patch("api.installations.evaluate", side_effect=ZeroDivisionError):
            self.refused(self.send("post", "/evaluate", CAR), 500)


class Described(ApiTestCase):
    def test_every_refusal_is_described_with_its_media_type(self) -> None:
        for path, operations in api.get_openapi_schema()["paths"].items():
            for method, operation in operations.items():
                with self.subTest(f"{method} {path}"):
                    refusals = {status: one for status, one in operation["responses"].items() if int(status) >= 400}
                    wanted = {405, 500, 503} | ({400, 413, 415, 422} if "requestBody" in operation else set())
                    self.assertLessEqual(wanted, {int(status) for status in refusals})
                    for one in refusals.values():
                        self.assertEqual(list(one["content"]), ["application/problem+json"])
                    if "requestBody" in operation:
                        self.assertIn("x-max-bytes", operation["requestBody"]["content"]["application/json"])

    def test_versions_and_keys_of_writes_are_described(self) -> None:
        paths = api.get_openapi_schema()["paths"]
        for path, method in (("/api/installations/{installation_id}", "delete"), ("/api/vehicles/{vehicle_id}", "put")):
            names = [one.get("name") for one in paths[path][method]["parameters"]]
            self.assertIn("Idempotency-Key", names)


class Computing(ApiTestCase):
    """Every computation has a bound that is checked before it starts."""

    def moment(self, **given: Any) -> Any:
        gate = document(CAR, readouts__0__timing={"method": "gate", "gate_s": 0.001})
        moment = {"profile": {"points": [{"at_s": 0, "kmh": 0}]}, "now_s": 86_400} | given
        return self.send("post", "/bench/moment", {"document": gate, "moment": moment})

    def test_a_short_gate_late_in_the_day(self) -> None:
        """2.1 GB once: every gate of the day was counted."""
        import tracemalloc

        tracemalloc.start()
        self.addCleanup(tracemalloc.stop)
        self.assertEqual(self.moment().json()["readers"][0]["shown_kmh"], 0)
        self.assertEqual(
            self.moment(profile={"points": [{"at_s": 0, "kmh": 100}]}).json()["readers"][0]["shown_kmh"], 145
        )
        self.assertLess(tracemalloc.get_traced_memory()[1] / 1e6, 60)

    def test_heavy_requests_stay_small_or_name_the_limit(self) -> None:
        import tracemalloc

        fast = document(CAR, target__count=1000, readouts=[
            {"name": str(n), "encoding": "pulses_per_km", "timing": {"time_out_s": 60, "gate_s": 60}} for n in range(8)
        ])  # fmt: skip
        faults = {"noise": 2, "bounce_ms": 50, "missing": 3, "open_every_s": 1, "open_for_ms": 20}
        profile = {"points": [{"at_s": 0, "kmh": 5}, {"at_s": 3600, "kmh": 1500}]}
        clean, faulty = {"profile": profile, "seconds": 38}, {"profile": profile, "seconds": 38, "faults": faults}

        def moment(kmh: float) -> dict[str, Any]:
            return {"profile": {"points": [{"at_s": 0, "kmh": kmh}]}, "now_s": 60, "faults": faults}

        tracemalloc.start()
        self.addCleanup(tracemalloc.stop)
        for path, name, body, limit in (
            ("/bench/moment", "moment", moment(31), None),
            ("/bench/moment", "moment", moment(1500), "at most 200000"),
            ("/bench/files/csv", "run", clean, None),
            ("/bench/files/vcd", "run", clean, None),
            ("/bench/files/csv", "run", clean | {"seconds": 50}, "at most 80000"),
            ("/bench/files/vcd", "run", faulty, "at most 80000"),  # false edges count as well
            ("/bench/files/nmea", "run", clean | {"seconds": 1439}, None),
            ("/bench/files/nmea", "run", clean | {"seconds": 3600}, "at most 7200"),
        ):
            with self.subTest(f"{path} {limit}"):
                tracemalloc.reset_peak()
                answer = self.send("post", path, {"document": fast, name: body})
                self.assertLess(tracemalloc.get_traced_memory()[1] / 1e6, 200)
                if limit is None:
                    self.assertEqual(answer.status_code, 200, answer.content[:300])
                else:
                    self.assertIn(limit, self.refused(answer, 422)["problems"][0]["limit"])


@override_settings(DEBUG=False)
class Generated(ApiTestCase):
    """Generated valid documents through every route: an answer or a field that is named, never a failure."""

    def test_no_route_fails(self) -> None:
        self.client.raise_request_exception = False
        run = {"profile": {"points": [{"at_s": 0, "kmh": 0}, {"at_s": 5, "kmh": 120}]}, "seconds": 5}
        moment = {"profile": {"points": [{"at_s": 0, "kmh": 60}]}, "now_s": 20}
        for installation in documents(40, seed=4):
            given = installation.model_dump(mode="json")
            routes = [(f"/{path}", given) for path in (
                "evaluate", "compare-methods", "placement", "spokes", "sensor-choices", "ring/dxf", "bracket/svg",
                "signal", "wiring", "wiring/pdf",
            )]  # fmt: skip
            routes += [
                ("/over-speed", {"document": given}), ("/bench/card", {"document": given}),
                ("/bench/card/pdf", {"document": given}), ("/bench/hand", {"document": given}),
                ("/bench/moment", {"document": given, "moment": moment}),
                ("/bench/files/csv", {"document": given, "run": run}),
                (f"/installations/{self.installation.pk}/tyre/preview",
                    {"document": given, "tyre": {"marking": "205/55R16"}}),
                (f"/vehicles/{self.vehicle.pk}/installations", given),
            ]  # fmt: skip
            for path, body in routes:
                answer = self.send("post", path, body)
                if answer.status_code not in (200, 201, 422):
                    self.fail(f"{path} answered {answer.status_code} to {json.dumps(given)}")
                if answer.status_code == 201:
                    self.client.delete(f"/api/installations/{answer.json()['id']}?base_revision=1")
        self.assertEqual(self.send("get", f"/vehicles/{self.vehicle.pk}/sheet").status_code, 200)

    def test_what_once_failed(self) -> None:
        grows = {"growth_pct": 3, "growth_at_kmh": 0.5}
        typed = document(CAR, wheel__corrections=grows, readouts__0__current_setting=25_000)
        self.assertEqual(self.send("post", "/evaluate", typed).status_code, 200)
        grown = document(CAR, wheel__corrections={"growth_pct": 7.7, "growth_at_kmh": 5})
        self.send("post", f"/vehicles/{self.vehicle.pk}/installations", grown)
        self.assertEqual(self.send("get", f"/vehicles/{self.vehicle.pk}/sheet").status_code, 200)
        analogue = {"supply_v": 12, "r_ohm": 10e6, "c_nf": 1e6}
        self.assertEqual(self.send("post", "/signal", document(CAR, signal={"analogue": analogue})).status_code, 200)
        bald = document(CAR, wheel={"method": "chart", "chart": {"label": "Mini", "circumference_mm": 40},
                                    "corrections": {"tread_new_mm": 40, "tread_now_mm": 0}})  # fmt: skip
        body = self.refused(self.send("post", "/evaluate", bald), 422)
        self.assertEqual(body["problems"][0]["path"], "wheel.corrections.tread_now_mm")
