"""`manage.py prepare`: tables, and either the demo world or an owner's account."""

from __future__ import annotations

import secrets
from argparse import ArgumentParser
from contextlib import suppress
from pathlib import Path
from typing import Any

from django.conf import settings
from django.contrib.auth.models import User
from django.core.management import call_command
from django.core.management.base import BaseCommand, CommandError
from django.db import connection, transaction
from django.db.migrations.loader import MigrationLoader
from django.db.migrations.recorder import MigrationRecorder
from procrastinate.exceptions import AlreadyEnqueued

from workshop.demo import load_demo
from workshop.models import Member, Workshop
from workshop.outline import refresh_outlines
from workshop.recordings import see_layouts


class Command(BaseCommand):
    """Bring the database to where the app can serve from it."""

    help = "Create or migrate the tables; load the demo world, or make the owner's account."
    requires_system_checks: list[str] = []

    def add_arguments(self, parser: ArgumentParser) -> None:
        """The owner's file, for a start without demo data."""
        parser.add_argument("--owner-file", type=Path, help="where to write name and password of a first account")

    def handle(self, *args: Any, **options: Any) -> None:
        """Do it; running it again changes nothing."""
        refuse_other_states()
        call_command("migrate", interactive=False, verbosity=0)
        if settings.DEMO:
            load_demo()
        for task in (refresh_outlines, see_layouts):  # the core may be another one since
            with suppress(AlreadyEnqueued), transaction.atomic():
                task.defer()
        if options["owner_file"] is not None and not User.objects.filter(username="owner").exists():
            make_owner(options["owner_file"])


def refuse_other_states() -> None:
    """Tables that this version cannot bring to where it needs them are left as they are.

    Raises `CommandError` where they come from a newer version, or from a step on the way to the first release: the
    single steps of that way are in one migration now, which stands for all of them or for none.
    """
    done = {name for app, name in MigrationRecorder(connection).applied_migrations() if app == "workshop"}
    known = MigrationLoader(None, ignore_no_migrations=True).disk_migrations.items()
    here = {key[1]: [name for _, name in migration.replaces] for key, migration in known if key[0] == "workshop"}
    if unknown := sorted(done - here.keys() - {name for names in here.values() for name in names}):
        raise CommandError(
            f"This data folder was written by a newer version (its step {unknown[-1]} is not known here). Start it "
            f"with that "
            "version or a newer one. Nothing was changed."
        )
    for name, replaced in here.items():
        if name not in done and replaced and 0 < len(done.intersection(replaced)) < len(replaced):
            raise CommandError(
                f"This data folder was last opened by a version of before 0.1.0 (its step {max(done)}). Start it once "
                f"with the "
                "version that CHANGELOG.md names for this, then with this one. Nothing was changed."
            )


@transaction.atomic
def make_owner(file: Path) -> None:
    """The first account of a first workshop, its password written to a file only the owner can read."""
    password = secrets.token_urlsafe(12)
    workshop = Workshop.objects.create(name="My workshop")
    user = User.objects.create_user("owner", password=password)
    Member.objects.create(user=user, workshop=workshop, role="owner")
    file.touch(mode=0o600)
    file.write_text(f"name: owner\npassword: {password}\n", "utf-8")
