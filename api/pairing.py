"""Phones and tablets of the local network: links that sign one in, and the devices that were."""

from __future__ import annotations

from datetime import datetime
from typing import Annotated

import segno
from django.conf import settings
from ninja import Router, Schema
from pydantic import Field

from api.access import SignedIn
from api.described import KEEPS
from api.problems import ProblemOut
from speedchain.fields.texts import Plain
from workshop import pairing

router = Router()
REFUSED = {401: ProblemOut, 404: ProblemOut, 422: ProblemOut}


class PairIn(Schema):
    """The secret of a link, and what the device is called."""

    secret: Annotated[str, Field(min_length=1, max_length=100)]
    name: Annotated[str, Field(max_length=80), Plain] = ""


class LinkOut(Schema):
    """A link that still holds; its address is given once, when it is made."""

    id: int
    expires_at: datetime


class NewLinkOut(LinkOut):
    """A new link: its address, and the same as a QR code (an SVG image as a data address)."""

    address: str
    code: str


class DeviceOut(Schema):
    """A device that is signed in."""

    id: int
    name: str
    paired_at: datetime


class PairingOut(Schema):
    """Where phones reach the app (empty where they do not), links that hold, devices that are signed in."""

    lan_address: str
    links: list[LinkOut]
    devices: list[DeviceOut]


@router.get("", response={200: PairingOut, **REFUSED}, operation_id="showPairing")
def show(request: SignedIn) -> PairingOut:
    """Links and devices of this account."""
    return PairingOut(
        lan_address=settings.LAN_ADDRESS,
        links=[LinkOut(id=link.pk, expires_at=link.expires_at) for link in pairing.links_of(request.user)],
        devices=[
            DeviceOut(id=device.pk, name=device.name, paired_at=device.paired_at)
            for device in pairing.devices_of(request.user)
        ],
    )


@router.post("/links", response={201: NewLinkOut, **REFUSED}, operation_id="makeLink", openapi_extra=KEEPS)
def make_link(request: SignedIn) -> tuple[int, NewLinkOut]:
    """A link that signs one device in to this account, once and within ten minutes."""
    link, address = pairing.make_link(request.user, request.session.session_key or "")
    code = segno.make(address, error="m").svg_data_uri(scale=6, border=4, light="#ffffff", dark="#000000")
    return 201, NewLinkOut(id=link.pk, expires_at=link.expires_at, address=address, code=code)


@router.delete("/links/{item_id}", response={204: None, **REFUSED}, operation_id="revokeLink")
def revoke(request: SignedIn, item_id: int) -> tuple[int, None]:
    """Make a link worthless."""
    pairing.revoke_link(request.user, item_id)
    return 204, None


@router.delete("/devices/{item_id}", response={204: None, **REFUSED}, operation_id="removeDevice")
def remove(request: SignedIn, item_id: int) -> tuple[int, None]:
    """Sign a device out."""
    pairing.remove_device(request.user, item_id)
    return 204, None
