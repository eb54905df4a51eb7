"""A workshop with an account, a vehicle and an installation, and a stranger's workshop beside it."""

from __future__ import annotations

from typing import Any

from django.contrib.auth.models import User
from django.test import TestCase

from speedchain import read_installation
from tests.installations import CAR
from workshop.installations import add_installation
from workshop.models import InstallationRecord, Member, Vehicle, Workshop
from workshop.vehicles import add_vehicle


def make_workshop(name: str, username: str) -> tuple[User, Vehicle, InstallationRecord]:
    workshop = Workshop.objects.create(name=name)
    user = User.objects.create_user(username, password="a long pass phrase")
    Member.objects.create(user=user, workshop=workshop, role="builder")
    vehicle = add_vehicle(user, "Avocet", "car")
    return user, vehicle, add_installation(user, vehicle.pk, read_installation(CAR))


class ApiTestCase(TestCase):
    def setUp(self) -> None:
        self.user, self.vehicle, self.installation = make_workshop("Ours", "builder")
        _, self.their_vehicle, self.their_installation = make_workshop("Theirs", "stranger")
        self.client.force_login(self.user)

    def send(self, method: str, path: str, body: Any = None) -> Any:
        call = getattr(self.client, method)
        return call(f"/api{path}", body, content_type="application/json") if body is not None else call(f"/api{path}")

    def refused(self, answer: Any, status: int) -> dict[str, Any]:
        """The problem details of a refusal (RFC 9457)."""
        self.assertEqual(answer.status_code, status, answer.content)
        self.assertEqual(answer["Content-Type"], "application/problem+json")
        body: dict[str, Any] = answer.json()
        self.assertEqual(body["status"], status)
        self.assertTrue(body["title"] and body["detail"] and body["type"])
        return body
