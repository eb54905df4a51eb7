"""`manage.py add_account NAME --workshop WORKSHOP --role ROLE [--read-only]`: a further account."""

from __future__ import annotations

from argparse import ArgumentParser
from getpass import getpass
from typing import Any

from django.contrib.auth.models import User
from django.contrib.auth.password_validation import validate_password
from django.core.exceptions import ValidationError
from django.core.management.base import BaseCommand, CommandError
from django.db import transaction

from workshop.models import Member, Workshop


class Command(BaseCommand):
    """Add an account to a workshop, made if it is not there."""

    help = "Add an account to a workshop."

    def add_arguments(self, parser: ArgumentParser) -> None:
        """Name, workshop, role."""
        parser.add_argument("name")
        parser.add_argument("--workshop", required=True)
        parser.add_argument("--role", default="member")
        parser.add_argument("--read-only", action="store_true", help="the account may change nothing")

    @transaction.atomic
    def handle(self, *args: Any, **options: Any) -> None:
        """Ask for the password and make the account."""
        if User.objects.filter(username=options["name"]).exists():
            raise CommandError(f"There is an account named {options['name']} already.")
        password = getpass("Password: ")
        try:
            validate_password(password)
        except ValidationError as error:
            raise CommandError(" ".join(error.messages)) from None
        workshop, _ = Workshop.objects.get_or_create(name=options["workshop"], is_demo=False)
        user = User.objects.create_user(options["name"], password=password)
        Member.objects.create(user=user, workshop=workshop, role=options["role"], may_edit=not options["read_only"])
