"""Names of files that are handed out."""

from __future__ import annotations

from django.utils.text import slugify

LONGEST = 80


def file_name(title: str, ending: str) -> str:
    """A file's name from what people call the thing, in their own script.

    >>> file_name("Land yacht: Sandpiper / wheel", ".installation.json"), file_name("Песочник", ".pdf"), file_name("?", ".pdf")
    ('land-yacht-sandpiper-wheel.installation.json', 'песочник.pdf', 'installation.pdf')
    """
    return (slugify(title, allow_unicode=True)[:LONGEST].strip("-_") or "installation") + ending
