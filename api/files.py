"""Files that are handed out: their names, and what stands above them."""

from __future__ import annotations

from django.http import HttpResponse
from django.utils.text import slugify

from api.access import SignedIn
from speedchain import Installation
from speedchain.sheets.pdf import Heading
from workshop.access import installation_for
from workshop.installations import head_of, readable

LONGEST = 80


def file_name(title: str, ending: str) -> str:
    """A file's name from what people call the thing, in their own script.

    >>> file_name("Land yacht: Sandpiper / wheel", ".installation.json"), file_name("Песочник", ".pdf"), file_name("?",
    ...     ".pdf")
    ('land-yacht-sandpiper-wheel.installation.json', 'песочник.pdf', 'installation.pdf')
    """
    return (slugify(title, allow_unicode=True)[:LONGEST].strip("-_") or "installation") + ending


def heading_of(request: SignedIn, installation_id: int | None, document: Installation) -> Heading | None:
    """Of the installation's newest revision."""
    if installation_id is None:
        return None
    record = installation_for(request.user, installation_id)
    head = head_of(record)
    return Heading(
        vehicle=record.vehicle.name,
        revision=head.number,
        saved_on=head.created_at.date(),
        unsaved=readable(head) != document,
    )


def file_answer(content: bytes, media: str, name: str) -> HttpResponse:
    """A file to be kept under a name."""
    response = HttpResponse(content, content_type=media, headers={"Cache-Control": "no-store"})
    response["Content-Disposition"] = f'attachment; filename="{name}"'
    return response
