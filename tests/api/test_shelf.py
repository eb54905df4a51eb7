"""The parts shelf over the API: put there, taken, relabelled, removed, found by its number; another workshop's stays
its own."""

from __future__ import annotations

from typing import Any

from tests.api.base import ApiTestCase
from tests.installations import CAR, CYCLE, document
from workshop.models import AuditEntry, ShelfRecord

RING = {"name": "Hub ring", "number": "R-36"}


class Shelf(ApiTestCase):
    def put(self, label: dict[str, Any] = RING, **some: Any) -> Any:
        body = {"document": document(CAR, target__count=36), "kind": "target", "label": label} | some
        return self.send("post", "/shelf", body)

    def test_put_there_and_taken(self) -> None:
        made = self.put()
        self.assertEqual(made.status_code, 201, made.content)
        self.assertEqual(made.json()["contents"], "Toothed ring, 36 per turn")
        self.assertEqual([row["id"] for row in self.send("get", "/shelf").json()], [made.json()["id"]])
        taken = self.send("post", f"/shelf/{made.json()['id']}/take", {"document": CYCLE})
        self.assertEqual(taken.status_code, 200, taken.content)
        self.assertEqual((taken.json()["target"]["count"], taken.json()["target"]["part"]["number"]), (36, "R-36"))
        self.assertEqual(AuditEntry.objects.latest("pk").action, "save_shelf_part")

    def test_without_a_name_it_says_which_field(self) -> None:
        refused = self.refused(self.put({"number": "R-36"}), 422)
        self.assertEqual(refused["problems"][0]["path"], "label.name")
        self.assertEqual(ShelfRecord.objects.count(), 0)

    def test_the_same_name_and_number_stand_there_once(self) -> None:
        first = self.put().json()
        again = self.put(document=document(CAR, target__count=40)).json()
        self.assertEqual(
            (again["id"], again["version"], again["contents"]), (first["id"], 2, "Toothed ring, 40 per turn")
        )
        self.assertNotEqual(self.put(RING | {"number": "R-37"}).json()["id"], first["id"])
        self.assertEqual(len(self.send("get", "/shelf").json()), 2)

    def test_one_that_cannot_be_read_costs_itself_alone(self) -> None:
        bad, good = self.put().json()["id"], self.put(RING | {"number": "R-37"}).json()["id"]
        held = ShelfRecord.objects.get(pk=bad)
        held.content["target"]["count"] = 0
        held.save()
        shown = {row["id"]: row for row in self.send("get", "/shelf").json()}
        self.assertEqual([shown[bad]["readable"], shown[good]["readable"]], [False, True])
        self.assertIn("0", shown[bad]["contents"])
        self.refused(self.send("post", f"/shelf/{bad}/take", {"document": CAR}), 422)
        self.assertEqual(self.send("delete", f"/shelf/{bad}").status_code, 204)

    def test_a_part_fitted_on_the_service_page_is_named_in_the_installation(self) -> None:
        made = document(CAR, sensor__part={"name": "Tip sensor", "number": "T-40", "side": "left"})
        path = f"/vehicles/{self.vehicle.pk}"
        holder = self.send("post", f"{path}/installations", made).json()["id"]
        part = {"kind": "sensor", "name": "Tip sensor", "supplier_number": "T-41", "fitted_on": "2026-05-02"}
        self.assertEqual(self.send("post", f"{path}/parts", {"part": part, "installation_id": holder}).status_code, 201)
        label = self.send("get", f"/installations/{holder}").json()["head"]["document"]["sensor"]["part"]
        self.assertEqual((label["number"], label["side"]), ("T-41", ""))
        turned = part | {"supplier_number": "T-\u202e41"}
        refused = self.refused(self.send("post", f"{path}/parts", {"part": turned, "installation_id": holder}), 422)
        self.assertEqual(refused["problems"][0]["path"], "part.supplier_number")

    def test_relabelled_by_one_at_a_time(self) -> None:
        path = f"/shelf/{self.put().json()['id']}"
        kept = self.send("put", path, {"label": RING | {"side": "left"}, "base_version": 1})
        self.assertEqual((kept.json()["version"], kept.json()["label"]["side"]), (2, "left"))
        self.refused(self.send("put", path, {"label": RING, "base_version": 1}), 409)
        self.refused(self.send("put", path, {"label": {"name": ""}, "base_version": 2}), 422)

    def test_a_vehicle_is_found_by_the_number_of_its_part(self) -> None:
        made = document(CAR, target__part={"name": "Hub ring", "number": "R-36"})
        self.assertEqual(self.send("post", f"/vehicles/{self.vehicle.pk}/installations", made).status_code, 201)
        self.assertEqual(len(self.send("get", "/vehicles").json()["vehicles"]), 1)
        for search, found in (("r-36", 1), ("hub R-36", 1), ("R-37", 0)):
            self.assertEqual(self.send("get", f"/vehicles?search={search}").json()["total"], found, search)

    def test_removed_and_not_of_others(self) -> None:
        path = f"/shelf/{self.put().json()['id']}"
        self.client.force_login(self.their_vehicle.workshop.members.get().user)
        self.assertEqual(self.send("get", "/shelf").json(), [])
        self.refused(self.send("delete", path), 404)
        self.refused(self.send("post", f"{path}/take", {"document": CAR}), 404)
        self.client.force_login(self.vehicle.workshop.members.get().user)
        self.assertEqual(self.send("delete", path).status_code, 204)
        self.assertEqual(self.send("get", "/shelf").json(), [])
