"""The parts shelf: what is on it, what is put there, and what an installation takes from it."""

from __future__ import annotations

from typing import Annotated

from django.utils import timezone
from ninja import Router, Schema
from pydantic import Field

from api.access import SignedIn
from api.described import KEEPS
from api.problems import ProblemOut
from api.schemas import In
from speedchain import Installation
from speedchain.fields import DocumentError, Given, PartLabel, Words
from speedchain.shelf import ShelfKind, contents_of, from_shelf, read_shelf_part, to_shelf
from workshop import shelf
from workshop.models import ShelfRecord

router = Router()
REFUSED = {401: ProblemOut, 404: ProblemOut, 422: ProblemOut}
Place = Annotated[int, Field(ge=0, le=7)]


class ShelfPartOut(Schema):
    """A part on the shelf: its label, and in one line each what else is written on it and what is known of it; of one
    that today's limits refuse: why."""

    id: int
    version: int
    kind: ShelfKind
    label: PartLabel
    details: Words
    contents: Words
    readable: bool

    @classmethod
    def of(cls, found: ShelfRecord) -> ShelfPartOut:
        """From the record."""
        label = PartLabel.model_construct(None, **{name: Given(text) for name, text in found.content["label"].items()})
        try:
            contents, readable = contents_of(read_shelf_part(found.content)), True
        except DocumentError as error:
            contents, readable = error.problems[0].text, False
        return cls.model_construct(
            id=found.pk,
            version=found.version,
            kind=found.content["kind"],
            label=label,
            details=label.details,
            contents=contents,
            readable=readable,
        )


class ToShelfIn(In):
    """A part of a document that is put on the shelf, and what is written on it."""

    document: Installation
    kind: ShelfKind
    label: PartLabel
    readout: Place = 0


class LabelIn(In):
    """What is written on a part, and the version that was seen."""

    label: PartLabel
    base_version: int


class TakeIn(In):
    """A document that gets a part, and which of its readouts."""

    document: Installation
    readout: Place = 0


@router.get("", response={200: list[ShelfPartOut], 401: ProblemOut}, operation_id="listShelf")
def list_shelf(request: SignedIn) -> list[ShelfPartOut]:
    """All parts of the workshop's shelf."""
    return [ShelfPartOut.of(found) for found in shelf.shelf_of(request.user)]


@router.post(
    "", response={201: ShelfPartOut, 409: ProblemOut, **REFUSED}, operation_id="addToShelf", openapi_extra=KEEPS
)
def add(request: SignedIn, body: ToShelfIn) -> tuple[int, ShelfPartOut]:
    """Put the sensor, target or display of a document on the shelf, without what belongs to the installation; one of
    the same name and number is put in place of the one that is there."""
    part = to_shelf(body.document, body.kind, body.label, body.readout)
    return 201, ShelfPartOut.of(shelf.add_to_shelf(request.user, part))


@router.put("/{int:part_id}", response={200: ShelfPartOut, 409: ProblemOut, **REFUSED}, operation_id="relabelPart")
def relabel(request: SignedIn, part_id: int, body: LabelIn) -> ShelfPartOut:
    """Correct what is written on a part."""
    return ShelfPartOut.of(shelf.relabel(request.user, part_id, body.label, body.base_version))


@router.delete("/{int:part_id}", response={204: None, **REFUSED}, operation_id="removeFromShelf")
def remove(request: SignedIn, part_id: int) -> tuple[int, None]:
    """Take a part off the shelf; installations that have it stay as they are."""
    shelf.delete_shelf_part(request.user, part_id)
    return 204, None


@router.post("/{int:part_id}/take", response={200: Installation, **REFUSED}, operation_id="takeFromShelf")
def take(request: SignedIn, part_id: int, body: TakeIn) -> Installation:
    """The document with this part in it."""
    part = shelf.shelf_part(request.user, part_id)
    return from_shelf(body.document, part, on=timezone.now().date(), readout=body.readout)
