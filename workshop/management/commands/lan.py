"""`manage.py lan`: certificates for the local network, and what a person at the terminal needs to bring a phone in."""

from __future__ import annotations

import io
from argparse import ArgumentParser
from typing import Any

import segno
from django.conf import settings
from django.contrib.auth.models import User
from django.core.management.base import BaseCommand

from workshop.pairing import LASTS, make_link


class Command(BaseCommand):
    """Two QR codes: how to trust this machine, and a link that signs a phone in."""

    help = "Print how a phone trusts this machine and signs in."
    requires_system_checks: list[str] = []

    def add_arguments(self, parser: ArgumentParser) -> None:
        """Where the page about trust is, and the fingerprint that it shows."""
        parser.add_argument("--trust", required=True)
        parser.add_argument("--fingerprint", required=True)

    def handle(self, *args: Any, **options: Any) -> None:
        """Print them."""
        self.stdout.write(f"Phones of this network reach Wheelometron at {settings.LAN_ADDRESS}")
        self.stdout.write(f"\n1. Trust this machine, once for each phone: {options['trust']}")
        self.stdout.write(code_of(options["trust"]))
        self.stdout.write(f"The certificate's fingerprint (SHA-256), to compare:\n{options['fingerprint']}")
        user = User.objects.filter(member__isnull=False, is_active=True).order_by("pk").first()
        if user is None:
            return
        _, address = make_link(user)
        minutes = int(LASTS.total_seconds() // 60)
        self.stdout.write(f"\n2. Sign one phone in as {user.get_username()}, within {minutes} minutes: {address}")
        self.stdout.write(code_of(address))
        self.stdout.write("More links, and devices to sign out: Menu, Phones and tablets.")


def code_of(address: str) -> str:
    """A QR code in letters of the terminal."""
    drawn = io.StringIO()
    segno.make(address, error="l").terminal(drawn, border=2, compact=True)
    return drawn.getvalue()
