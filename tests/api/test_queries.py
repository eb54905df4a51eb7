"""How many queries an answer takes: as many with much as with little, and never many."""

from __future__ import annotations

from collections.abc import Iterator
from datetime import date
from typing import Any

from django.contrib.auth.models import User
from django.db import connection
from django.test import TestCase
from django.test.utils import CaptureQueriesContext

from tests.api.test_access import routes
from workshop.demo import load_demo
from workshop.models import (
    DueItem,
    FaultRecord,
    InstallationRecord,
    Note,
    PartRecord,
    RecordingRecord,
    Revision,
    SheetRecord,
    ShelfRecord,
    Task,
    Vehicle,
)

MORE = 12
"""So many more of everything."""
MOST = 20
"""Queries of one answer."""


class Queries(TestCase):
    @classmethod
    def setUpTestData(cls) -> None:
        load_demo(recordings=False)

    def setUp(self) -> None:
        self.client.force_login(User.objects.get(username="demo"))

    def test_no_more_with_much(self) -> None:
        ids = {
            "vehicle_id": Vehicle.objects.get(name="Turnstone").pk,
            "installation_id": InstallationRecord.objects.get(vehicle__name="Turnstone").pk,
            "sheet_id": SheetRecord.objects.values_list("pk", flat=True).first(),
            "fault_id": FaultRecord.objects.values_list("pk", flat=True).first(),
        }
        addresses = [
            path.format(**ids)
            for method, path in routes()
            if method == "get" and not {part.split("}")[0] for part in path.split("{")[1:]} - set(ids)
        ]
        little = dict(self.counted(addresses))
        self.add_much(ids["vehicle_id"], ids["installation_id"])
        much = dict(self.counted(addresses))
        self.assertGreater(len(much), 30)
        grown = {address: (little[address], count) for address, count in much.items() if count > little[address]}
        self.assertEqual(grown, {})
        self.assertEqual({address: count for address, count in much.items() if count > MOST}, {})

    def counted(self, addresses: list[str]) -> Iterator[tuple[str, int]]:
        for address in addresses:
            self.client.get(address)  # the first time what is kept of the core is made
            with CaptureQueriesContext(
                connection,
            ) as queries:
                answer = self.client.get(address)
            if answer.status_code == 200:
                yield address, len(queries)

    def add_much(self, vehicle_id: int, installation_id: int) -> None:
        """More of everything that a workshop has."""
        for number in range(MORE):
            self.copied(Vehicle.objects.get(pk=vehicle_id), name=f"Turnstone {number}")
        holders = [self.copied(InstallationRecord.objects.get(pk=installation_id)) for _ in range(MORE)]
        holders += [
            self.copied(InstallationRecord.objects.get(pk=installation_id), vehicle=vehicle)
            for vehicle in Vehicle.objects.filter(name__startswith="Turnstone ")
        ]
        revision = Revision.objects.filter(installation_id=installation_id).latest("number")
        for holder in holders:
            self.copied(revision, installation=holder)
        here = [*holders[:MORE], InstallationRecord.objects.get(pk=installation_id)]
        for holder in here:
            for model in (SheetRecord, FaultRecord):
                for row in model.objects.all()[:2]:
                    self.copied(row, installation=holder)
            Task.objects.create(installation=holder, stage="wheel", text="Roll it out")
            PartRecord.objects.create(
                vehicle_id=vehicle_id, installation=holder, content=PartRecord.objects.all()[0].content
            )
            for on in (date(2026, 1, 1), date(2026, 2, 1)):
                Note.objects.create(vehicle_id=vehicle_id, installation=holder, kind="note", text="x", on=on)
            DueItem.objects.create(vehicle_id=vehicle_id, installation=holder, text="x", due={"on": "2026-12-01"})
            RecordingRecord.objects.create(vehicle_id=vehicle_id, name="x", size_bytes=1)
        for row in ShelfRecord.objects.all():
            self.copied(row)

    @staticmethod
    def copied(row: Any, **changes: Any) -> Any:
        row.pk = None
        row._state.adding = True
        for name, value in changes.items():
            setattr(row, name, value)
        row.save()
        return row
