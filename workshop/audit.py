"""Who changed what, when, from what to what: one entry for each use case that changed something."""

from __future__ import annotations

from typing import Any

from django.db.models import QuerySet

from workshop.models import AuditEntry, Member, Workshop
from workshop.use_cases import under_way

Change = dict[str, Any] | None


def record(
    workshop: Workshop, member: Member | None, action: str, *, subject: str, before: Change = None, after: Change = None
) -> None:
    """Keep one entry.

    Parameters
    ----------
    workshop, member : where, and by whom; no member for what the program does itself, such as the demo.
    action : what was done, one of `models.ACTIONS`.
    subject : what it was done to, as people call it.
    before, after : the values that changed; of an installation its revision, whose document is kept there.
    """
    under_way().entries.add(action)
    AuditEntry.objects.create(
        workshop=workshop,
        author=member.user if member else None,
        author_role=member.role if member else "",
        action=action,
        subject=subject[:200],
        before=before,
        after=after,
    )


def entries_of(workshop: Workshop, before_id: int | None) -> QuerySet[AuditEntry]:
    """The entries of a workshop, newest first; those older than one of them for the next page."""
    entries = AuditEntry.objects.filter(workshop=workshop).order_by("-id")
    return entries if before_id is None else entries.filter(pk__lt=before_id)
