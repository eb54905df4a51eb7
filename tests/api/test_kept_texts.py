"""Texts that are kept with what they were made of: in the database, in backups, and those that were plain text
before."""

from __future__ import annotations

from django.core import serializers
from django.db import IntegrityError, transaction

from speedchain.fields import Given, Language, said, speeds_in, spoken_in, text_of
from speedchain.fields.messages import Message
from tests.api.base import ApiTestCase
from workshop.models import Revision, Task

GERMAN = Language(code="de", translations={"Enter {0:g} km/h into {1}": "{0:g} km/h in {1} eingeben"})


class KeptTexts(ApiTestCase):
    def kept(self, text: str) -> Task:
        made = Task.objects.create(installation=self.installation, stage="readout", text=text)
        return Task.objects.get(pk=made.pk)

    def test_a_text_of_a_rule_is_read_in_another_language_and_unit(self) -> None:
        found = self.kept(text_of("Enter {0:g} km/h into {1}", 100.0, "Dash")).text
        self.assertEqual(found, "Enter 100 km/h into Dash")
        with spoken_in(GERMAN), speeds_in("mph"):
            self.assertEqual(said(found), "62.1 mph in Dash eingeben")

    def test_what_a_person_wrote_stays_a_plain_text(self) -> None:
        for written in ("Clean the paddle", 'He said "stop", {0} times \\', "Ω ≤ 砂の船", "null", "12", "{}"):
            with self.subTest(written):
                found = self.kept(written).text
                self.assertEqual(found, written)
                self.assertNotIsInstance(found, Message)

    def test_what_a_person_gave_stays_theirs(self) -> None:
        found = self.kept(Given("Set it to 100 km/h")).text
        self.assertIsInstance(found, Given)
        with spoken_in(GERMAN), speeds_in("mph"):
            self.assertEqual(said(found), "Set it to 100 km/h")

    def test_a_task_is_shown_in_the_unit_of_its_reader(self) -> None:
        self.kept(text_of("Enter {0:g} km/h into {1}", 100.0, "Dash"))
        path = f"/api/installations/{self.installation.pk}/tasks"
        for unit, text in (("km/h", "Enter 100 km/h into Dash"), ("mph", "Enter 62.1 mph into Dash")):
            (task,) = self.client.get(path, headers={"X-Speed-Unit": unit}).json()
            self.assertEqual(task["text"], text)

    def test_a_backup_by_django_s_serializers_keeps_template_and_values(self) -> None:
        made = self.kept(text_of("Enter {0:g} km/h into {1}", 100.0, "Dash"))
        plain = self.kept("Clean the paddle")
        backup = serializers.serialize("json", [made, plain])
        Task.objects.all().delete()
        for item in serializers.deserialize("json", backup):
            item.save()
        found = Task.objects.get(pk=made.pk).text
        self.assertIsInstance(found, Message)
        self.assertEqual((found.template, found.values), ("Enter {0:g} km/h into {1}", (100.0, "Dash")))
        self.assertEqual(Task.objects.get(pk=plain.pk).text, "Clean the paddle")

    def test_a_text_is_never_empty(self) -> None:
        with self.assertRaises(IntegrityError), transaction.atomic():
            self.kept("")

    def test_the_logbook_is_read_in_another_unit(self) -> None:
        """100.0015 km/h, as the rounded setting makes them, are 62.138 mph."""
        first = Revision.objects.get(installation=self.installation, number=1)
        with speeds_in("mph"):
            self.assertEqual(said(first.summary), "First saved: shows 62.138 mph at 62.1 mph true.")

    def test_logbook_and_timeline_come_in_the_unit_of_their_reader(self) -> None:
        timeline = f"/api/vehicles/{self.vehicle.pk}/timeline?kind=revision"
        logbook = f"/api/installations/{self.installation.pk}/revisions"
        for unit, shown in (
            ("km/h", "100.00 km/h at 100 km/h"),
            ("mph", "62.138 mph at 62.1 mph"),
            ("kn", "53.996 kn at 54 kn"),
        ):
            headers = {"X-Speed-Unit": unit}
            (item,) = self.client.get(timeline, headers=headers).json()["items"]
            (line,) = self.client.get(logbook, headers=headers).json()["revisions"]
            for text in (item["text"], line["summary"]):
                self.assertIn(shown, text)
                self.assertEqual(text.count("km/h"), 2 * (unit == "km/h"))
