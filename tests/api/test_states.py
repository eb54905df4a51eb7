"""Databases of other versions: the last state of before the steps were made one goes on, all others are left alone."""

from __future__ import annotations

from django.core.management import CommandError, call_command
from django.db import connection
from django.db.migrations.loader import MigrationLoader
from django.db.migrations.recorder import MigrationRecorder
from django.test import override_settings

from tests.api.base import ApiTestCase
from workshop.models import InstallationRecord

LAST_STEP = "0032_tasks_after_a_change"


class States(ApiTestCase):
    def said_to_be_at(self, *steps: str) -> None:
        """The tables as they are, with other steps on record."""
        recorder = MigrationRecorder(connection)
        recorder.migration_qs.filter(app="workshop").delete()
        for step in steps:
            recorder.record_applied("workshop", step)

    def steps(self) -> set[str]:
        return {name for app, name in MigrationRecorder(connection).applied_migrations() if app == "workshop"}

    def single_steps(self) -> list[str]:
        """Of a folder that was opened by the last version with single steps."""
        squashed = MigrationLoader(None, ignore_no_migrations=True).disk_migrations["workshop", "0001_squashed_0032"]
        return [name for _, name in squashed.replaces]

    @override_settings(DEMO=False)
    def test_the_last_single_step_goes_on_with_all_that_it_has(self) -> None:
        steps = self.single_steps()
        self.assertEqual((len(steps), steps[0], steps[-1]), (32, "0001_first", LAST_STEP))
        connection.check_constraints()  # nothing is pending when the tables are changed
        call_command("migrate", "workshop", "0001_squashed_0032", verbosity=0)
        self.said_to_be_at(*steps)
        before = list(InstallationRecord.objects.values_list("pk", "head"))
        call_command("prepare")
        self.assertLess({"0001_squashed_0032", "0002_versions_of_parts_and_wear"}, self.steps())
        self.assertEqual(list(InstallationRecord.objects.values_list("pk", "head")), before)
        self.assertEqual(len(before), 2)

    def test_a_step_on_the_way_is_refused_in_words_and_left_as_it_is(self) -> None:
        self.said_to_be_at(*self.single_steps()[:20])
        with self.assertRaisesMessage(CommandError, "version of before 0.1.0 (its step 0020_note_kinds)"):
            call_command("prepare")
        self.assertEqual(len(self.steps()), 20)

    def test_a_newer_database_is_refused_in_words(self) -> None:
        self.said_to_be_at("0001_squashed_0032", "0009_of_the_future")
        with self.assertRaisesMessage(CommandError, "newer version (its step 0009_of_the_future is not known here)"):
            call_command("prepare")
        self.assertEqual(len(self.steps()), 2)
