"""What every use case of the workshop promises: a permission, an entry of the audit, figures computed once, pages."""

from __future__ import annotations

from typing import Any
from unittest.mock import patch

from speedchain import evaluate
from tests.api.base import ApiTestCase, make_workshop
from tests.api.test_access import BODIES, KINDS, routes
from tests.installations import CAR, CYCLE, document
from workshop.core_version import core_version
from workshop.models import ACTIONS, AuditEntry, Member, RecordingRecord, Revision, SheetRecord, Task, Vehicle, Work
from workshop.outline import refresh_outlines

TYRE = {"document": CAR, "tyre": {"marking": "215/55R16"}, "base_revision": 1}
ROWS = [{"label": "700x28C", "circumference_mm": 2136}]


IN_TEST_GUARDED = {
    "purge_vehicle", "purge_installation", "purge_recording", "make_link", "revoke_link", "make_feed", "drop_feed",
    "pair_device", "remove_device", "add_derived", "remove_derived", "mark_recording", "unmark_recording",
}  # fmt: skip
"""What tests/api/test_guarded.py sees in the audit."""


class Audit(ApiTestCase):
    """Who, when, what, before and after."""

    def entries(self) -> list[dict[str, Any]]:
        listed: list[dict[str, Any]] = self.send("get", "/audit").json()["entries"]
        return listed

    def test_every_use_case_leaves_one_entry(self) -> None:
        vehicle, installation = f"/vehicles/{self.vehicle.pk}", f"/installations/{self.installation.pk}"
        changed = document(CAR, target__count=44)
        steps: list[tuple[str, str, Any, str]] = [
            ("post", "/vehicles", {"name": "Knot", "kind": "car"}, "add_vehicle"),
            ("put", vehicle, {"base_version": 1, "name": "Avocet 2", "kind": "car", "note": ""}, "change_vehicle"),
            ("put", f"{vehicle}/sheet", {"base_version": 1, "settings": {"speed_kmh": 50}}, "save_sheet"),
            ("put", "/chart", {"base_version": 1, "rows": ROWS}, "save_chart"),
            ("post", f"{vehicle}/installations", CYCLE, "add_installation"),
            ("post", f"{installation}/tyre", TYRE, "fit_tyre"),
            ("put", installation, {"base_revision": 2, "document": changed}, "save_installation"),
        ]
        for method, path, body, action in steps:
            with self.subTest(action):
                count = AuditEntry.objects.count()
                self.assertLess(self.send(method, path, body).status_code, 300)
                self.assertEqual(AuditEntry.objects.count(), count + 1)
                entry = self.entries()[0]
                self.assertEqual((entry["action"], entry["author"], entry["role"]), (action, "builder", "builder"))
                self.assertTrue(entry["subject"] and entry["after"])
        task = Task.objects.first()
        assert task is not None
        self.send("put", f"/tasks/{task.pk}", {"done": True})
        self.assertEqual(self.entries()[0]["after"], {"done": True})
        self.send("delete", f"{installation}?base_revision=3")
        self.assertEqual(self.entries()[0]["before"]["document"]["target"]["count"], 44)
        self.send("post", f"/bin/installation/{self.installation.pk}", {})
        self.assertEqual(self.entries()[0]["subject"], f"Avocet 2: {CAR['name']}")
        self.send("delete", f"{vehicle}?base_version=2")
        self.assertEqual(self.entries()[0]["before"]["name"], "Avocet 2")
        self.send("post", f"/bin/vehicle/{self.vehicle.pk}", {})
        self.assertEqual(self.entries()[0]["subject"], "Avocet 2")
        made = self.send("post", f"{vehicle}/recordings", {"name": "drive.csv", "size_bytes": 3}).json()
        path = f"/recordings/{made['id']}"
        self.client.put(f"/api{path}/pieces/0", b"1\n2", "application/octet-stream")
        self.send("post", f"{path}/read", {})
        self.send("delete", path)
        self.send("post", f"/bin/recording/{made['id']}", {})
        job = {"job": {"title": "x", "steps": [{"text": "x"}]}}
        own = self.send("post", "/templates", job).json()
        self.send("delete", f"/templates/{own['id']}")
        note = self.send("post", f"{vehicle}/notes", {"kind": "note", "text": "x", "on": "2026-05-02"}).json()
        self.send("delete", f"/notes/{note['id']}")
        part = {"part": {"kind": "ring", "name": "x", "fitted_on": "2026-05-02"}}
        part_id = self.send("post", f"{vehicle}/parts", part).json()["id"]
        self.send("delete", f"/parts/{part_id}")
        self.faults()
        due = self.send("post", f"{vehicle}/due", {"text": "x", "due": {"at_km": 5}}).json()["items"][0]
        self.send("put", f"/due/{due['id']}", {"done": True})
        self.send("delete", f"/due/{due['id']}")
        begun = self.send(
            "post", f"/installations/{self.installation.pk}/sheets", {"template": "yearly_service"}
        ).json()
        for step in begun["steps"]:
            common = {"step": step["code"], "by": "builder", "at": "2026-05-02T10:00:00Z"}
            skipped = common | {
                "key": f"key-{step['code']:0>8}"[:60].replace("_", "-"),
                "what": "skipped",
                "reason": "demo",
            }
            self.send("post", f"/sheets/{begun['id']}/entries", {"entries": [skipped]})
        self.send("post", f"/sheets/{begun['id']}/sign", {"by": "builder"})
        again = self.send(
            "post", f"/installations/{self.installation.pk}/sheets", {"template": "yearly_service"}
        ).json()
        self.send("delete", f"/sheets/{again['id']}")
        self.assertEqual(self.entries()[0]["subject"], "Avocet 2: Yearly service")
        self.assertEqual({entry["action"] for entry in self.entries()} | IN_TEST_GUARDED, set(ACTIONS))

    def shelf(self) -> None:
        part = {"document": CAR, "kind": "target", "label": {"name": "x"}}
        self.send("delete", f"/shelf/{self.send('post', '/shelf', part).json()['id']}")

    def faults(self) -> None:
        self.shelf()
        faults = f"/installations/{self.installation.pk}/faults"
        for last in ("close", ""):
            fault = self.send("post", faults, {"symptoms": ["nothing"]}).json()["id"]
            if last:
                self.send("post", f"/faults/{fault}/close", {"cause": "gap_wide"})
            else:
                self.send("delete", f"/faults/{fault}")
        self.send("put", "/fault-table", {"base_version": 1, "own": {}})

    def test_what_changes_nothing_or_is_refused_leaves_none(self) -> None:
        count = AuditEntry.objects.count()
        path = f"/installations/{self.installation.pk}"
        self.send("put", path, {"base_revision": 1, "document": CAR})
        self.refused(self.send("put", path, {"base_revision": 9, "document": CYCLE}), 409)
        self.refused(self.send("put", path, {"base_revision": 1, "document": document(CAR, target__count=0)}), 422)
        self.assertEqual(AuditEntry.objects.count(), count)

    def test_pages_and_other_workshops(self) -> None:
        first = self.send("get", "/audit?limit=1").json()
        self.assertEqual((len(first["entries"]), first["more"]), (1, True))
        rest = self.send("get", f"/audit?limit=1&before={first['entries'][0]['id']}").json()
        self.assertEqual(([one["action"] for one in rest["entries"]], rest["more"]), (["add_vehicle"], False))
        self.refused(self.send("get", "/audit?limit=0"), 422)


class ReadOnly(ApiTestCase):
    def test_an_account_that_may_read_only_changes_nothing(self) -> None:
        Member.objects.filter(user=self.user).update(may_edit=False)
        self.assertFalse(self.send("get", "/session").json()["may_edit"])
        task = Task.objects.create(installation=self.installation, stage="wheel", text="Roll it out")
        bodies = BODIES | {
            ("post", "/api/vehicles"): {"name": "Knot", "kind": "car"},
            ("put", "/api/chart"): {"base_version": 1, "rows": ROWS},
            ("post", "/api/bench/runs"): {"document": CAR, "run": {"profile": {"points": []}, "seconds": 1}},
        }
        writes = [
            (method, path) for method, path in routes() if method in ("put", "delete") or (method, path) in bodies
        ]
        reads = (
            "preview",
            "/session",
            "/units",
            "/pairing/",  # of the account itself
            "/calendar",
            "/bench/",
            "{fault_id}/bench",
            "/practice",  # of the account itself
            "/plot",
            "/check",
            "/ring",
            "/reciprocal",
            "/slip",
            "/traction",
            "/distance",
            "/coast-down",
            "/export",
            "/health",
            "/tune-change",
            "/report",
            "/take",
        )
        recording = RecordingRecord.objects.create(vehicle=self.vehicle, name="ours", size_bytes=1)
        work = Work.objects.create(workshop=self.vehicle.workshop, kind="bench_run", asked={})
        sheet = SheetRecord.objects.create(installation=self.installation, sheet={}, revision=1, drawn_from=CAR)
        tried = 0
        for method, path in writes:
            if any(part in path for part in reads):
                continue
            with self.subTest(f"{method} {path}"):
                address = path.format(
                    sheet_id=sheet.pk,
                    link_id=1,
                    fault_id=1,
                    part_id=1,
                    step="a",
                    key="k-1234567",
                    vehicle_id=self.vehicle.pk,
                    installation_id=self.installation.pk,
                    item_id=task.pk,
                    recording_id=recording.pk,
                    work_id=work.pk,
                    number=1,
                ) + {"delete": "?base_revision=1&base_version=1&at_s=1"}.get(method, "")
                answer = getattr(self.client, method)(
                    address, bodies.get((method, path)), content_type=KINDS.get(path, "application/json")
                )
                self.assertIn("may read only", self.refused(answer, 403)["detail"])
                tried += 1
        self.assertGreaterEqual(tried, 9)
        self.assertEqual(Vehicle.objects.filter(workshop=self.vehicle.workshop).count(), 1)
        self.assertEqual(self.send("get", "/vehicles").json()["vehicles"][0]["installations"][0]["revision"], 1)


class Outlines(ApiTestCase):
    """What the list shows is computed when it changes, not when it is looked at."""

    def shown(self) -> float:
        value: float = self.send("get", "/vehicles").json()["vehicles"][0]["installations"][0]["shown_kmh"]
        return value

    def test_the_list_evaluates_nothing_that_has_not_changed(self) -> None:
        with patch("workshop.outline.evaluate", side_effect=AssertionError):
            self.assertAlmostEqual(self.shown(), 100, delta=0.01)
        changed = document(CAR, readouts__0__current_setting=25_000)
        self.send("put", f"/installations/{self.installation.pk}", {"base_revision": 1, "document": changed})
        with patch("workshop.outline.evaluate", side_effect=AssertionError):
            self.assertAlmostEqual(self.shown(), 99.62, places=2)

    def test_another_core_or_another_chart_computes_it_anew_once(self) -> None:
        stored = Revision.objects.get(installation=self.installation).outline_version
        self.assertEqual(stored, f"{core_version()}.1")
        with patch("workshop.outline.evaluate", side_effect=evaluate) as computing:
            self.send("put", "/chart", {"base_version": 1, "rows": ROWS})
            self.shown()
            self.assertEqual(computing.call_count, 1)
            with patch("workshop.outline.core_version", return_value="another"):
                self.shown()
                self.shown()
            self.assertEqual(computing.call_count, 2)
        self.assertEqual(Revision.objects.get(installation=self.installation).outline_version, "another.2")

    def test_a_save_while_the_list_computes_is_not_overwritten(self) -> None:
        """The same person amends the revision after it was read, and before its figure is kept."""
        changed = document(CAR, readouts__0__current_setting=25_000)
        path, key = f"/installations/{self.installation.pk}", "edit-1"
        self.send("put", path, {"base_revision": 1, "document": CAR | {"notes": "a"}, "edit_key": key})
        amending = {"base_revision": 2, "base_amended": 0, "document": changed, "edit_key": key}

        def saved_meanwhile(*arguments: Any) -> Any:
            found = evaluate(*arguments)
            with patch("workshop.outline.evaluate", evaluate):
                self.assertEqual(self.send("put", path, amending).json()["amended"], 1)
            return found

        with patch("workshop.outline.core_version", return_value="another"):
            with patch("workshop.outline.evaluate", side_effect=saved_meanwhile):
                self.assertAlmostEqual(self.shown(), 99.62, places=2)
            self.assertAlmostEqual(self.shown(), 99.62, places=2)

    def test_after_an_update_a_worker_does_it_before_anybody_looks(self) -> None:
        with patch("workshop.outline.core_version", return_value="another"):
            refresh_outlines()
            with patch("workshop.outline.evaluate", side_effect=AssertionError):
                self.shown()
        versions = Revision.objects.values_list("outline_version", flat=True)
        self.assertEqual(set(versions), {"another.1"})  # of every workshop


class Pages(ApiTestCase):
    def test_vehicles_by_page_and_by_search(self) -> None:
        for name in ("Knot", "Dunlin", "Ruff"):
            self.send("post", "/vehicles", {"name": name, "kind": "car", "note": f"the {name.lower()}'s note"})
        first = self.send("get", "/vehicles?limit=3").json()
        self.assertEqual([one["name"] for one in first["vehicles"]], ["Avocet", "Dunlin", "Knot"])
        self.assertEqual((first["total"], first["installations"], first["unverified"]), (4, 1, 1))
        rest = self.send("get", "/vehicles?limit=3&offset=3").json()["vehicles"]
        self.assertEqual([one["name"] for one in rest], ["Ruff"])
        for search, names in (
            ("ruff", ["Ruff"]),
            ("FRONT hub", ["Avocet"]),
            ("dunlin note", ["Dunlin"]),
            ("no such", []),
        ):
            found = self.send("get", f"/vehicles?search={search}").json()
            self.assertEqual([one["name"] for one in found["vehicles"]], names, search)
        for wrong in ("limit=0", "limit=501", "offset=-1", f"search={'x' * 81}"):
            self.refused(self.send("get", f"/vehicles?{wrong}"), 422)

    def test_revisions_by_page_without_their_documents(self) -> None:
        for number, count in enumerate((44, 45, 46), start=1):
            body = {"base_revision": number, "document": document(CAR, target__count=count)}
            self.send("put", f"/installations/{self.installation.pk}", body)
        path = f"/installations/{self.installation.pk}/revisions"
        first = self.send("get", f"{path}?limit=3").json()
        self.assertEqual(([one["number"] for one in first["revisions"]], first["more"]), ([4, 3, 2], True))
        self.assertNotIn("document", first["revisions"][0])
        rest = self.send("get", f"{path}?limit=3&before=2").json()
        self.assertEqual(([one["number"] for one in rest["revisions"]], rest["more"]), ([1], False))

    def test_another_workshop_s_entries_are_not_there(self) -> None:
        make_workshop("Third", "third")
        subjects = [one["subject"] for one in self.send("get", "/audit").json()["entries"]]
        self.assertEqual(len(subjects), 2)
