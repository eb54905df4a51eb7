"""Phones and tablets: a link that signs one in, once and within minutes; each may be signed out again from
elsewhere."""

from __future__ import annotations

from datetime import timedelta

from django.conf import settings
from django.contrib.auth.models import User
from django.contrib.sessions.models import Session
from django.utils import timezone

from speedchain.fields import InputError
from workshop.access import NotFoundError, member_of
from workshop.audit import record
from workshop.links import hashed, new_secret
from workshop.models import CalendarFeed, Device, PairingLink
from workshop.use_cases import use_case

LASTS = timedelta(minutes=10)
MOST_LINKS = 5
PATH = "pair/"


@use_case("make_link", personal=True)
def make_link(user: User, session_key: str = "") -> tuple[PairingLink, str]:
    """A new link for the account, and its address; of several the newest five hold, and none longer than the device
    that made it is signed in.

    Raises `InputError` where the app is not open to the local network.
    """
    if not settings.LAN_ADDRESS:
        raise InputError(
            "Phones cannot reach this machine.", remedy="Stop Wheelometron and start it with ./start --lan.", path="lan"
        )
    secret, member = new_secret(), member_of(user)
    PairingLink.objects.filter(expires_at__lte=timezone.now()).delete()
    mine = PairingLink.objects.filter(user=user)
    mine.filter(pk__in=list(mine.values_list("pk", flat=True)[MOST_LINKS - 1 :])).delete()
    link = PairingLink.objects.create(
        user=user, secret_sha256=hashed(secret), expires_at=timezone.now() + LASTS, session_key=session_key
    )
    record(member.workshop, member, "make_link", subject="Sign-in of a device")
    return link, f"{settings.LAN_ADDRESS}{PATH}{secret}"


def links_of(user: User) -> list[PairingLink]:
    """Links of the account that still hold."""
    return list(PairingLink.objects.filter(user=user, expires_at__gt=timezone.now()))


def devices_of(user: User) -> list[Device]:
    """Devices that are signed in to the account by a link."""
    there = Session.objects.filter(expire_date__gt=timezone.now()).values("session_key")
    return list(Device.objects.filter(user=user, session_key__in=there))


@use_case("revoke_link", personal=True)
def revoke_link(user: User, link_id: int) -> None:
    """Make a link worthless."""
    member = member_of(user)
    record(member.workshop, member, "revoke_link", subject="Sign-in of a device")
    if not PairingLink.objects.filter(user=user, pk=link_id).delete()[0]:
        raise NotFoundError


@use_case(personal=True, no_entry="the device that it pairs is in the audit")
def take_link(secret: str) -> User:
    """The account of a link, which is used up by it. Raises `NotFoundError` for one that does not hold."""
    link = PairingLink.objects.select_for_update().filter(secret_sha256=hashed(secret)).first()
    if link is None or link.expires_at <= timezone.now() or not link.user.is_active:
        raise NotFoundError
    link.delete()
    return link.user


@use_case("pair_device", personal=True)
def keep_device(user: User, session_key: str, name: str) -> Device:
    """Remember a device that was just signed in."""
    member, name = member_of(user), name.strip()[:80] or "Phone"
    record(member.workshop, member, "pair_device", subject=name)
    return Device.objects.create(user=user, session_key=session_key, name=name)


@use_case("remove_device", personal=True)
def remove_device(user: User, device_id: int) -> None:
    """Sign a device out for good; links and the calendar's address that were made on it are worthless from now on."""
    member = member_of(user)
    device = Device.objects.filter(user=user, pk=device_id).first()
    if device is None:
        raise NotFoundError
    Session.objects.filter(session_key=device.session_key).delete()
    PairingLink.objects.filter(user=user, session_key=device.session_key).delete()
    CalendarFeed.objects.filter(user=user, session_key=device.session_key).delete()
    record(member.workshop, member, "remove_device", subject=device.name)
    device.delete()
