"""Who may see what: signed out nothing, signed in only the own workshop, on every route."""

from django.test import Client, override_settings

from api.app import api
from tests.api.base import ApiTestCase
from tests.installations import CAR
from workshop.demo import load_demo
from workshop.models import InstallationRecord, RecordingRecord, SheetRecord, Task, Vehicle, Work

OPEN = {
    ("get", "/api/health"),
    ("get", "/api/session"),
    ("post", "/api/session"),
    ("post", "/api/session/demo"),
    ("post", "/api/session/pair"),
    ("get", "/api/calendar/{secret}.ics"),
    ("get", "/api/shared/{secret}.pdf"),
}
TYRE = {"document": CAR, "tyre": {"marking": "215/55R16"}}
PART = {"part": {"kind": "ring", "name": "x", "fitted_on": "2026-05-02"}}
BODIES = {
    ("put", "/api/vehicles/{vehicle_id}"): {"base_version": 1, "name": "Ours now", "kind": "car"},
    ("put", "/api/vehicles/{vehicle_id}/sheet"): {"base_version": 1, "settings": {"speed_kmh": 50}},
    ("put", "/api/vehicles/{vehicle_id}/corners"): {"corners": []},
    ("post", "/api/vehicles/{vehicle_id}/installations"): CAR,
    ("put", "/api/installations/{installation_id}"): {"base_revision": 1, "document": CAR},
    ("post", "/api/installations/{installation_id}/tyre/preview"): TYRE,
    ("post", "/api/installations/{installation_id}/tyre"): {**TYRE, "base_revision": 1},
    ("post", "/api/installations/{installation_id}/copies"): {"vehicle": 1, "name": "Ours", "sensed_at": "rear"},
    ("put", "/api/tasks/{item_id}"): {"done": True},
    ("post", "/api/vehicles/{vehicle_id}/recordings"): {"name": "ours", "size_bytes": 10},
    ("post", "/api/recordings/{recording_id}/read"): {},
    ("post", "/api/recordings/{recording_id}/plot"): {"channels": ["display"]},
    ("post", "/api/recordings/{recording_id}/check"): {
        "document": CAR,
        "wanted": {"true_channel": "a", "shown_channel": "b"},
    },
    ("post", "/api/recordings/{recording_id}/report"): {
        "document": CAR,
        "wanted": {"true_channel": "a", "shown_channel": "b"},
    },
    ("post", "/api/recordings/{recording_id}/ring"): {"channel": "pulses"},
    ("post", "/api/recordings/{recording_id}/reciprocal"): {"true_channel": "a", "shown_channel": "b"},
    ("post", "/api/recordings/{recording_id}/slip"): {"true_channel": "a", "shown_channel": "b"},
    ("post", "/api/recordings/{recording_id}/health"): {"channel": "a"},
    ("post", "/api/recordings/{recording_id}/coast-down"): {"channel": "a"},
    ("post", "/api/recordings/{recording_id}/distance"): {"true": "places", "shown": "a"},
    ("post", "/api/recordings/{recording_id}/traction"): {"true_channel": "a", "shown_channel": "b"},
    ("post", "/api/recordings/{recording_id}/tune-change"): {"true_channel": "a", "shown_channel": "b", "earlier": 1},
    ("post", "/api/recordings/{recording_id}/marks"): {"at_s": 0, "text": "x"},
    ("post", "/api/recordings/{recording_id}/ring-change"): {"channel": "pulses", "earlier": 1},
    ("post", "/api/recordings/{recording_id}/export"): {"kind": "csv"},
    ("post", "/api/recordings/{recording_id}/derived"): {"kind": "distance", "of": "a"},
    ("post", "/api/installations/{installation_id}/sheets"): {"template": "tyre_change"},
    ("post", "/api/sheets/{sheet_id}/entries"): {
        "entries": [{"key": "k-1234567", "step": "a", "what": "done", "by": "x", "at": "2026-05-02T10:00:00Z"}]
    },
    ("post", "/api/sheets/{sheet_id}/sign"): {"by": "x"},
    ("post", "/api/sheets/{sheet_id}/links"): {"days": 3},
    ("put", "/api/templates/{item_id}"): {"job": {"title": "x", "steps": [{"text": "x"}]}},
    ("post", "/api/vehicles/{vehicle_id}/notes"): {"kind": "note", "text": "x", "on": "2026-05-02"},
    ("post", "/api/vehicles/{vehicle_id}/timeline"): {"file": "date,kind,what\n2026-05-02,note,x\n"},
    ("post", "/api/vehicles/{vehicle_id}/parts"): PART,
    ("put", "/api/vehicles/{vehicle_id}/parts/{part_id}"): PART | {"base_version": 1},
    ("post", "/api/vehicles/{vehicle_id}/due"): {"text": "x", "due": {"at_km": 5}},
    ("put", "/api/due/{item_id}"): {"done": True},
    ("post", "/api/installations/{installation_id}/faults"): {"symptoms": ["nothing"]},
    ("post", "/api/faults/{fault_id}/answers"): {
        "key": "k-1234567",
        "answer": {"test": "look", "outcome": "fine"},
    },
    ("post", "/api/faults/{fault_id}/close"): {"cause": "gap_wide"},
    ("post", "/api/faults/{fault_id}/bench"): {"cause": "gap_wide"},
    ("post", "/api/practice/{practice_id}/moves"): {"count": 0, "move": {"kind": "test", "code": "look"}},
    ("put", "/api/vehicles/{vehicle_id}/wear-limit"): {"limit_pct": 1, "base_version": 1},
    ("put", "/api/fault-table"): {"base_version": 1, "own": {}},
    ("put", "/api/shelf/{part_id}"): {"label": {"name": "x"}, "base_version": 1},
    ("post", "/api/shelf/{part_id}/take"): {"document": CAR},
}


KINDS = {
    "/api/recordings/{recording_id}/pieces/{number}": "application/octet-stream",
    "/api/sheets/{sheet_id}/photos/{step}/{key}": "application/octet-stream",
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
                    work_id=1,
                    recording_id=1,
                    sheet_id=1,
                    photo_id=1,
                    fault_id=1,
                    practice_id=1,
                    part_id=1,
                    link_id=1,
                    place="dash",
                    ending="csv",
                    step="a",
                    key="k-1234567",
                    kind="dxf",
                )
                self.refused(getattr(stranger, method)(address, content_type="application/json"), 401)

    def test_nothing_of_another_workshop_is_there(self) -> None:
        addressed = [(method, path) for method, path in routes() if "_id}" in path]
        self.assertEqual(len(addressed), 99)
        tasks = Task.objects.create(installation=self.their_installation, stage="wheel", text="Roll it out")
        theirs = self.their_vehicle.workshop
        work = Work.objects.create(workshop=theirs, kind="bench_run", document=CAR, asked={}, state="going")
        recording = RecordingRecord.objects.create(vehicle=self.their_vehicle, name="theirs", size_bytes=1)
        sheet = SheetRecord.objects.create(installation=self.their_installation, sheet={}, revision=1, drawn_from=CAR)
        for method, path in addressed:
            with self.subTest(f"{method} {path}"):
                address = path.format(
                    sheet_id=sheet.pk,
                    photo_id=1,
                    fault_id=1,
                    practice_id=1,
                    part_id=1,
                    link_id=1,
                    place="dash",
                    ending="csv",
                    step="a",
                    key="k-1234567",
                    vehicle_id=self.their_vehicle.pk,
                    installation_id=self.their_installation.pk,
                    number=1,
                    item_id=tasks.pk,
                    work_id=work.pk,
                    recording_id=recording.pk,
                    kind="vehicle",
                )
                body = BODIES.get((method, path))
                address += {"delete": "?base_revision=1&base_version=1&at_s=1"}.get(method, "?other=1")
                answer = getattr(self.client, method)(address, body, content_type=KINDS.get(path, "application/json"))
                self.refused(answer, 404)
        self.assertEqual(Vehicle.objects.get(pk=self.their_vehicle.pk).name, "Avocet")
        self.assertEqual(InstallationRecord.objects.get(pk=self.their_installation.pk).head, 1)
        self.assertIsNone(Task.objects.get(pk=tasks.pk).done_at)
        self.assertFalse(Work.objects.get(pk=work.pk).stop_wanted)
        self.assertIsNone(RecordingRecord.objects.get(pk=recording.pk).deleted_at)

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
        self.assertIn("Name or password is wrong", self.refused(self.post("/session", wrong), 401)["detail"])
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
