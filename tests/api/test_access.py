"""Who may see what: signed out nothing, signed in only the own workshop, on every route."""

from django.test import Client, override_settings

from api.app import api
from tests.api.base import ApiTestCase
from tests.installations import CAR
from workshop.demo import load_demo
from workshop.models import BenchRun, InstallationRecord, Task, Vehicle

OPEN = {("get", "/api/health"), ("get", "/api/session"), ("post", "/api/session"), ("post", "/api/session/demo")}
TYRE = {"document": CAR, "tyre": {"marking": "215/55R16"}}
BODIES = {
    ("put", "/api/vehicles/{vehicle_id}"): {"base_version": 1, "name": "Ours now", "kind": "car"},
    ("put", "/api/vehicles/{vehicle_id}/sheet"): {"base_version": 1, "settings": {"speed_kmh": 50}},
    ("post", "/api/vehicles/{vehicle_id}/installations"): CAR,
    ("put", "/api/installations/{installation_id}"): {"base_revision": 1, "document": CAR},
    ("post", "/api/installations/{installation_id}/tyre/preview"): TYRE,
    ("post", "/api/installations/{installation_id}/tyre"): {**TYRE, "base_revision": 1},
    ("post", "/api/installations/{installation_id}/copies"): {"vehicle": 1, "name": "Ours", "sensed_at": "rear"},
    ("put", "/api/tasks/{item_id}"): {"done": True},
}


def routes() -> list[tuple[str, str]]:
    """Every method and path of the API, from its own OpenAPI description."""
    paths = api.get_openapi_schema()["paths"]
    return [(method, path) for path, methods in paths.items() for method in methods]


class Access(ApiTestCase):
    def test_every_route_but_the_open_ones_asks_to_sign_in(self) -> None:
        stranger = Client()
        closed = [route for route in routes() if route not in OPEN]
        self.assertGreater(len(closed), 10)
        for method, path in closed:
            with self.subTest(f"{method} {path}"):
                address = path.format(
                    vehicle_id=self.vehicle.pk,
                    installation_id=self.installation.pk,
                    number=1,
                    item_id=1,
                    run_id=1,
                    kind="dxf",
                )
                self.refused(getattr(stranger, method)(address, content_type="application/json"), 401)

    def test_nothing_of_another_workshop_is_there(self) -> None:
        addressed = [(method, path) for method, path in routes() if "_id}" in path]
        self.assertEqual(len(addressed), 21)
        tasks = Task.objects.create(installation=self.their_installation, stage="wheel", text="Roll it out")
        run = BenchRun.objects.create(workshop=self.their_vehicle.workshop, document=CAR, asked={}, state="going")
        for method, path in addressed:
            with self.subTest(f"{method} {path}"):
                address = path.format(
                    vehicle_id=self.their_vehicle.pk,
                    installation_id=self.their_installation.pk,
                    number=1,
                    item_id=tasks.pk,
                    run_id=run.pk,
                    kind="vehicle",
                )
                body = BODIES.get((method, path))
                address += {"delete": "?base_revision=1&base_version=1"}.get(method, "")
                answer = getattr(self.client, method)(address, body, content_type="application/json")
                self.refused(answer, 404)
        self.assertEqual(Vehicle.objects.get(pk=self.their_vehicle.pk).name, "Avocet")
        self.assertEqual(InstallationRecord.objects.get(pk=self.their_installation.pk).head, 1)
        self.assertIsNone(Task.objects.get(pk=tasks.pk).done_at)
        self.assertFalse(BenchRun.objects.get(pk=run.pk).stop_wanted)

    def test_the_list_holds_only_ours(self) -> None:
        self.assertEqual([one["id"] for one in self.send("get", "/vehicles").json()["vehicles"]], [self.vehicle.pk])


class SigningIn(ApiTestCase):
    def setUp(self) -> None:
        super().setUp()
        self.client = Client(enforce_csrf_checks=True)
        self.client.get("/api/session")

    def post(self, path: str, body: object = None, token: bool = True) -> object:
        headers = {"X-CSRFToken": self.client.cookies["csrftoken"].value} if token else {}
        return self.client.post(f"/api{path}", body or {}, content_type="application/json", headers=headers)

    def test_in_and_out(self) -> None:
        answer = self.post("/session", {"username": "builder", "password": "a long pass phrase"})
        self.assertEqual(answer.json()["workshop"], "Ours")
        self.assertTrue(self.client.get("/api/session").json()["signed_in"])
        token = {"X-CSRFToken": self.client.cookies["csrftoken"].value}
        self.assertFalse(self.client.delete("/api/session", headers=token).json()["signed_in"])
        self.assertEqual(self.client.get("/api/vehicles").status_code, 401)

    def test_a_wrong_password_and_too_many_of_them(self) -> None:
        wrong = {"username": "builder", "password": "guess"}
        self.assertIn("do not belong together", self.refused(self.post("/session", wrong), 401)["detail"])
        for _ in range(8):
            last = self.post("/session", wrong)
        self.assertIn("Wait 15 minutes", self.refused(last, 429)["detail"])
        right = {"username": "builder", "password": "a long pass phrase"}
        self.assertEqual(self.post("/session", right).status_code, 429)

    def test_a_forged_write_is_refused(self) -> None:
        right = {"username": "builder", "password": "a long pass phrase"}
        self.refused(self.post("/session", right, token=False), 403)
        self.post("/session", right)
        self.assertEqual(self.client.post("/api/vehicles", {}, content_type="application/json").status_code, 403)
        self.assertEqual(Vehicle.objects.count(), 2)

    def test_the_demo_opens_with_one_press_only_where_it_was_asked_for(self) -> None:
        self.refused(self.post("/session/demo"), 404)
        load_demo()
        with override_settings(DEMO=False):
            self.refused(self.post("/session/demo"), 404)
        with override_settings(DEMO=True):
            self.assertEqual(self.post("/session/demo").json()["workshop"], "Cormorant Spit Speed Week")
        self.assertEqual(len(self.client.get("/api/vehicles").json()["vehicles"]), 6)
