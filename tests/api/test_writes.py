"""One rule for all writes: a key makes a repeat harmless, a version makes a stale one 409, locks make counts exact."""

from __future__ import annotations

from collections.abc import Callable
from threading import Barrier, Thread
from typing import Any
from unittest.mock import patch

from django.db import connection
from django.test import Client, TransactionTestCase

from tests.api.base import ApiTestCase, make_workshop
from tests.installations import CAR, document
from workshop.models import InstallationRecord, Revision, Task, Vehicle, WriteKey

SAVE = {"base_revision": 1, "document": document(CAR, target__count=44)}
TYRE = {"document": CAR, "tyre": {"marking": "215/55R16"}, "base_revision": 1}


class Repeats(ApiTestCase):
    def keyed(self, key: str, method: str, path: str, body: Any = None) -> Any:
        headers = {"Idempotency-Key": key}
        return getattr(self.client, method)(f"/api{path}", body, content_type="application/json", headers=headers)

    def test_a_repeated_creation_makes_one(self) -> None:
        for path, body, kind in (
            ("/vehicles", {"name": "Knot", "kind": "kart"}, Vehicle),
            (f"/vehicles/{self.vehicle.pk}/installations", CAR, InstallationRecord),
        ):
            before = kind.objects.count()
            first, again = (self.keyed(f"key-of-{kind.__name__}", "post", path, body) for _ in range(2))
            self.assertEqual((first.status_code, again.status_code), (201, 201))
            self.assertEqual(first.json(), again.json())
            self.assertEqual(again["Idempotent-Replay"], "true")
            self.assertEqual(kind.objects.count(), before + 1)

    def test_a_repeated_tyre_makes_its_due_items_once(self) -> None:
        path = f"/installations/{self.installation.pk}/tyre"
        first = self.keyed("tyre-0001", "post", path, TYRE)
        tasks = Task.objects.count()
        self.assertGreater(tasks, 0)
        self.assertEqual(self.keyed("tyre-0001", "post", path, TYRE).json(), first.json())
        self.send("post", path, TYRE)  # without a key: it is on already
        self.assertEqual(Task.objects.count(), tasks)
        self.assertEqual(Revision.objects.filter(installation=self.installation).count(), 2)

    def test_a_repeated_deletion_is_no_error(self) -> None:
        path = f"/installations/{self.installation.pk}?base_revision=1"
        self.assertEqual([self.keyed("delete-01", "delete", path).status_code for _ in range(2)], [204, 204])

    def test_a_key_belongs_to_one_request_and_one_account(self) -> None:
        knot = {"name": "Knot", "kind": "kart"}
        self.keyed("one-key-1", "post", "/vehicles", knot)
        self.refused(self.keyed("one-key-1", "post", "/vehicles", {"name": "Ruff", "kind": "kart"}), 422)
        self.refused(self.keyed("?", "post", "/vehicles", knot), 400)
        other = Client()
        other.force_login(self.their_installation.vehicle.workshop.members.get().user)
        made = other.post("/api/vehicles", knot, "application/json", headers={"Idempotency-Key": "one-key-1"})
        self.assertEqual(made.status_code, 201)

    def test_a_refused_write_leaves_its_key_free(self) -> None:
        self.refused(self.keyed("later-key", "post", "/vehicles", {"name": "", "kind": "kart"}), 422)
        self.assertFalse(WriteKey.objects.exists())
        self.assertEqual(
            self.keyed("later-key", "post", "/vehicles", {"name": "Knot", "kind": "kart"}).status_code, 201
        )


class Unreadable(ApiTestCase):
    """One stored document outside today's limits costs itself alone."""

    def setUp(self) -> None:
        super().setUp()
        self.bad = self.send("post", f"/vehicles/{self.vehicle.pk}/installations", CAR).json()["id"]
        Revision.objects.filter(installation=self.bad).update(
            document=document(CAR, target__count=5000), outline_version=""
        )

    def test_the_list_and_the_sheet_go_on_without_it(self) -> None:
        (vehicle,) = self.send("get", "/vehicles").json()["vehicles"]
        self.assertEqual([installation["id"] for installation in vehicle["installations"]], [self.installation.pk])
        (bad,) = vehicle["unreadable"]
        self.assertEqual((bad["id"], bad["name"]), (self.bad, CAR["name"]))
        self.assertIn("target.count", bad["reason"])
        sheet = self.send("get", f"/vehicles/{self.vehicle.pk}/sheet").json()
        self.assertEqual([row["installation"] for row in sheet["sheet"]["rows"]], [self.installation.pk])
        self.assertEqual(sheet["vehicle"]["unreadable"][0]["id"], self.bad)

    def test_a_document_that_cannot_be_computed_does_not_take_the_list_along(self) -> None:
        Revision.objects.update(outline_version="")
        with patch("workshop.outline.evaluate", side_effect=ZeroDivisionError):
            (vehicle,) = self.send("get", "/vehicles").json()["vehicles"]
        self.assertEqual(len(vehicle["unreadable"]), 2)

    def test_it_can_be_taken_out_raw_and_replaced(self) -> None:
        body = self.refused(self.send("get", f"/installations/{self.bad}"), 422)
        self.assertEqual(body["problems"][0]["path"], "target.count")
        raw = self.send("get", f"/installations/{self.bad}/stored")
        self.assertEqual(raw.json()["target"]["count"], 5000)
        self.assertIn("attachment", raw["Content-Disposition"])
        stale = self.send("put", f"/installations/{self.bad}", {"base_revision": 0, "document": CAR})
        self.assertIsNone(self.refused(stale, 409)["theirs"])
        saved = self.send("put", f"/installations/{self.bad}", {"base_revision": 1, "document": CAR})
        self.assertEqual(saved.json()["number"], 2)
        self.assertEqual(self.send("get", f"/installations/{self.bad}").status_code, 200)

    def test_what_can_be_read_but_not_evaluated_can_be_corrected_and_stops_no_tyre(self) -> None:
        bald = document(CAR, wheel={"method": "chart", "chart": {"label": "Mini", "circumference_mm": 40},
                                    "corrections": {"tread_new_mm": 40, "tread_now_mm": 0}})  # fmt: skip
        Revision.objects.filter(installation=self.bad).update(document=bald)
        self.refused(self.send("post", "/evaluate", bald), 422)
        self.assertEqual(self.send("post", f"/installations/{self.installation.pk}/tyre", TYRE).status_code, 200)
        saved = self.send("put", f"/installations/{self.bad}", {"base_revision": 1, "document": CAR})
        self.assertEqual(saved.status_code, 200, saved.content)
        self.assertIn("Replaces a revision that could not be evaluated: shows 100.00", saved.json()["summary"])

    def test_a_tyre_is_changed_beside_it(self) -> None:
        self.assertEqual(self.send("post", f"/installations/{self.installation.pk}/tyre", TYRE).status_code, 200)


class Texts(ApiTestCase):
    def test_files_are_named_in_the_persons_own_script(self) -> None:
        made = self.send(
            "post", f"/vehicles/{self.vehicle.pk}/installations", CAR | {"name": "Передняя ось 前輪"}
        ).json()
        exported = self.send("get", f"/installations/{made['id']}/file")
        self.assertIn("filename*=utf-8''avocet-", exported["Content-Disposition"])
        self.assertIn("%D0%BF%D0%B5%D1%80%D0%B5%D0%B4", exported["Content-Disposition"])

    def test_marks_that_turn_text_are_refused(self) -> None:
        for mark in "\u202e\u2066\u200f":
            body = self.refused(self.send("post", "/vehicles", {"name": f"Knot{mark}tac", "kind": "kart"}), 422)
            self.assertIn("writing direction", body["detail"])
            installation = document(CAR, readouts__0__name=f"D{mark}ash")
            self.refused(self.send("post", "/evaluate", installation), 422)


class Races(TransactionTestCase):
    """Every pair of writes at once, many times: exact counts, and never a failure of ours."""

    def setUp(self) -> None:
        self.user, self.vehicle, self.installation = make_workshop("Ours", "builder")

    def at_once(self, *calls: Callable[[Client], Any]) -> list[int]:
        """The statuses of calls made at the same moment, each by its own client."""
        start, statuses = Barrier(len(calls)), [0] * len(calls)

        def work(place: int, call: Callable[[Client], Any]) -> None:
            client = Client(raise_request_exception=False)
            client.force_login(self.user)
            try:
                start.wait()
                statuses[place] = call(client).status_code
            finally:
                connection.close()

        threads = [Thread(target=work, args=pair) for pair in enumerate(calls)]
        for thread in threads:
            thread.start()
        for thread in threads:
            thread.join()
        return statuses

    def post(self, path: str, body: Any, key: str = "") -> Callable[[Client], Any]:
        headers = {"Idempotency-Key": key} if key else {}
        return lambda client: client.post(f"/api{path}", body, "application/json", headers=headers)

    def test_deleting_against_saving(self) -> None:
        for _ in range(12):
            installation = self.new_installation()
            statuses = self.at_once(
                lambda client, installation=installation: client.delete(
                    f"/api/installations/{installation}?base_revision=1"
                ),
                lambda client, installation=installation: client.put(
                    f"/api/installations/{installation}", SAVE, "application/json"
                ),
            )
            self.assertIn(tuple(statuses), {(204, 404), (409, 200)})

    def test_deleting_a_vehicle_against_adding(self) -> None:
        for n in range(12):
            vehicle = Vehicle.objects.create(workshop=self.vehicle.workshop, name=f"Knot {n}", kind="kart").pk
            statuses = self.at_once(
                lambda client, vehicle=vehicle: client.delete(f"/api/vehicles/{vehicle}?base_version=1"),
                self.post(f"/vehicles/{vehicle}/installations", CAR),
            )
            self.assertEqual(statuses[0], 204)
            self.assertIn(statuses[1], (201, 404))

    def test_the_same_tyre_ten_times_at_once(self) -> None:
        statuses = self.at_once(*[self.post(f"/installations/{self.installation.pk}/tyre", TYRE)] * 10)
        self.assertEqual(set(statuses), {200})
        self.assertEqual(Revision.objects.filter(installation=self.installation).count(), 2)
        self.assertEqual(Task.objects.values("text").distinct().count(), Task.objects.count())

    def test_the_same_creation_ten_times_at_once(self) -> None:
        statuses = self.at_once(*[self.post("/vehicles", {"name": "Ruff", "kind": "kart"}, "ruff-key-1")] * 8)
        self.assertEqual(set(statuses), {201})
        self.assertEqual(Vehicle.objects.filter(name="Ruff").count(), 1)

    def test_counts_are_exact(self) -> None:
        with patch("workshop.installations.MAX_INSTALLATIONS", 4), patch("workshop.vehicles.MAX_VEHICLES", 3):
            made = self.at_once(*[self.post(f"/vehicles/{self.vehicle.pk}/installations", CAR)] * 8)
            self.assertEqual((sorted(made), InstallationRecord.objects.count()), ([201] * 3 + [422] * 5, 4))
            made = self.at_once(*[self.post("/vehicles", {"name": f"K{n}", "kind": "kart"}) for n in range(6)])
            self.assertEqual((sorted(made), Vehicle.objects.count()), ([201] * 2 + [422] * 4, 3))

    def test_of_two_renamings_one_comes_through(self) -> None:
        def rename(name: str) -> Callable[[Client], Any]:
            body = {"base_version": 1, "name": name, "kind": "car"}
            return lambda client: client.put(f"/api/vehicles/{self.vehicle.pk}", body, "application/json")

        self.assertEqual(sorted(self.at_once(rename("Dunlin"), rename("Sanderling"))), [200, 409])

    def new_installation(self) -> int:
        client = Client()
        client.force_login(self.user)
        return int(client.post(f"/api/vehicles/{self.vehicle.pk}/installations", CAR, "application/json").json()["id"])
