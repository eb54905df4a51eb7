"""The bin: what was deleted can be restored for thirty days, and is invisible everywhere else meanwhile."""

from __future__ import annotations

from datetime import timedelta
from typing import Any

from django.contrib.auth.models import User
from django.utils import timezone

from tests.api.base import ApiTestCase
from tests.installations import CAR, document
from workshop.bin import KEPT, purge_bins
from workshop.models import AuditEntry, InstallationRecord, Member, Revision, Task, Vehicle


class Bin(ApiTestCase):
    def items(self) -> list[dict[str, Any]]:
        found: list[dict[str, Any]] = self.send("get", "/bin").json()
        return found

    def delete_installation(self) -> None:
        answer = self.send("delete", f"/installations/{self.installation.pk}?base_revision=1")
        self.assertEqual(answer.status_code, 204, answer.content)

    def delete_vehicle(self) -> None:
        answer = self.send("delete", f"/vehicles/{self.vehicle.pk}?base_version=1")
        self.assertEqual(answer.status_code, 204, answer.content)

    def restore(self, kind: str, item_id: int) -> Any:
        return self.send("post", f"/bin/{kind}/{item_id}", {})

    def test_an_installation_goes_there_and_comes_back_as_it_was(self) -> None:
        self.send(
            "put", f"/installations/{self.installation.pk}",
            {"base_revision": 1, "document": document(CAR, target__count=44)},
        )  # fmt: skip
        before = self.send("get", f"/installations/{self.installation.pk}").json()
        answer = self.send("delete", f"/installations/{self.installation.pk}?base_revision=2")
        self.assertEqual(answer.status_code, 204)
        (item,) = self.items()
        self.assertEqual((item["kind"], item["name"], item["vehicle"]), ("installation", CAR["name"], "Avocet"))
        self.assertEqual(item["deleted_by"], "builder")
        self.assertEqual(self.restore("installation", item["id"]).status_code, 204)
        self.assertEqual(self.send("get", f"/installations/{self.installation.pk}").json(), before)
        self.assertEqual(self.items(), [])

    def test_in_the_bin_it_is_nowhere_else(self) -> None:
        Task.objects.create(installation=self.installation, stage="wheel", text="Measure again")
        self.delete_installation()
        path = f"/installations/{self.installation.pk}"
        for method, way in (
            ("get", path),
            ("get", f"{path}/revisions"),
            ("get", f"{path}/tasks"),
            ("get", f"{path}/file"),
        ):
            self.refused(self.send(method, way), 404)
        self.refused(self.send("put", path, {"base_revision": 1, "document": CAR}), 404)
        page = self.send("get", "/vehicles").json()
        self.assertEqual(page["vehicles"][0]["installations"], [])
        self.assertEqual((page["installations"], page["to_do"], page["unverified"]), (0, 0, 0))
        self.assertEqual(self.send("get", "/vehicles?search=front+hub").json()["total"], 0)
        self.assertEqual(self.send("get", f"/vehicles/{self.vehicle.pk}/sheet").json()["sheet"]["rows"], [])

    def test_a_vehicle_takes_its_installations_along_and_back(self) -> None:
        self.delete_vehicle()
        self.assertEqual(self.send("get", "/vehicles").json()["total"], 0)
        self.assertEqual(self.send("get", "/vehicles/names").json(), [])
        self.refused(self.send("get", f"/installations/{self.installation.pk}"), 404)
        self.refused(self.send("post", f"/vehicles/{self.vehicle.pk}/installations", CAR), 404)
        (item,) = self.items()
        self.assertEqual((item["kind"], item["name"]), ("vehicle", "Avocet"))
        self.assertEqual(self.restore("vehicle", item["id"]).status_code, 204)
        self.assertEqual(len(self.send("get", "/vehicles").json()["vehicles"][0]["installations"]), 1)

    def test_its_name_is_free_meanwhile_and_is_asked_for_again(self) -> None:
        self.delete_vehicle()
        self.assertEqual(self.send("post", "/vehicles", {"name": "Avocet", "kind": "car"}).status_code, 201)
        self.refused(self.restore("vehicle", self.vehicle.pk), 409)
        self.assertEqual(len(self.items()), 1)

    def test_after_thirty_days_it_is_gone_for_good(self) -> None:
        self.delete_installation()
        for age, left in ((KEPT - timedelta(hours=1), 1), (KEPT + timedelta(hours=1), 0)):
            InstallationRecord.everything.filter(pk=self.installation.pk).update(deleted_at=timezone.now() - age)
            self.assertEqual(len(self.items()), left)
        self.refused(self.restore("installation", self.installation.pk), 404)
        purge_bins()
        self.assertFalse(Revision.objects.filter(installation=self.installation.pk).exists())
        self.refused(self.restore("installation", self.installation.pk), 404)

    def test_the_bin_of_another_workshop_is_not_mine(self) -> None:
        self.delete_vehicle()
        self.client.force_login(User.objects.get(username="stranger"))
        self.assertEqual(self.items(), [])
        self.refused(self.restore("vehicle", self.vehicle.pk), 404)
        self.assertFalse(Vehicle.objects.filter(pk=self.vehicle.pk).exists())

    def test_who_may_only_read_restores_nothing(self) -> None:
        self.delete_vehicle()
        Member.objects.filter(user=self.user).update(may_edit=False)
        self.assertEqual(len(self.items()), 1)
        self.refused(self.restore("vehicle", self.vehicle.pk), 403)

    def test_what_is_not_in_the_bin_cannot_be_restored(self) -> None:
        self.refused(self.restore("vehicle", self.vehicle.pk), 404)
        self.refused(self.restore("installation", self.installation.pk), 404)
        self.refused(self.restore("workshop", 1), 422)

    def test_it_is_on_record(self) -> None:
        self.delete_installation()
        self.restore("installation", self.installation.pk)
        actions = AuditEntry.objects.order_by("pk").values_list("action", "subject")
        self.assertEqual(
            list(actions)[-2:],
            [("delete_installation", f"Avocet: {CAR['name']}"), ("restore_installation", f"Avocet: {CAR['name']}")],
        )
