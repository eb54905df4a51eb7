"""What the list of vehicles shows of an installation, kept with its newest revision.

It is computed anew only when the core or the workshop's chart has changed since.
"""

from __future__ import annotations

import logging
from collections.abc import Iterable
from typing import Any

from django.db.models import F, QuerySet
from procrastinate.contrib.django import app
from pydantic import TypeAdapter

from speedchain import Evaluation, Installation, SpeedchainError, evaluate, read_installation
from speedchain.bench import ShownNow, shown_now
from speedchain.fields import as_data, kept
from speedchain.wheel.chart import Chart
from workshop.access import chart_from
from workshop.core_version import core_version
from workshop.models import Revision, Vehicle, Workshop
from workshop.work import QUEUE

log = logging.getLogger(__name__)
Outline = dict[str, Any]
SHOWN_NOW: TypeAdapter[ShownNow] = TypeAdapter(ShownNow)


def version_of(workshop: Workshop) -> str:
    """What an outline depends on besides its document: the core and the chart."""
    return f"{core_version()}.{workshop.chart_version}"


def outline_from(installation: Installation, result: Evaluation) -> Outline:
    """The outline of an installation and its evaluation."""
    first = result.findings[0] if result.findings else None
    now = shown_now(installation, result)[0]
    return {
        "name": installation.name,
        "purpose": installation.purpose,
        "parts": [" ".join(label.model_dump().values()) for label in installation.part_labels],
        "true_kmh": result.shown.true_kmh,
        "shown_kmh": result.shown.shown_kmh,
        "error_pct": result.shown.error_pct,
        "condition": as_data(result.shown.condition),
        "shown_now": kept(SHOWN_NOW, now),
        "expanded_uncertainty_pct": result.shown.expanded_uncertainty_pct,
        "stages": [{"stage": stage.stage, "evidence": stage.evidence} for stage in result.stages],
        "worst": first.severity if first else None,
        "finding": as_data(first.message) if first else "",
        "next_action": as_data(result.next_action.action),
        "failed": any(stage.evidence == "failed" for stage in result.stages),
        "verified": all(stage.evidence == "verified" for stage in result.stages),
    }


def outlined(heads: QuerySet[Revision], workshop: Workshop) -> dict[int, Revision]:
    """Newest revisions with their outlines, by installation, without documents; one that cannot be computed has a name
    and a `reason` instead."""
    version, chart = version_of(workshop), chart_from(workshop.cycle_chart)
    for head in heads.exclude(outline_version=version):
        as_read = Revision.objects.filter(pk=head.pk, amended=head.amended)  # a save since then brought its own
        as_read.update(outline=_computed(head, chart), outline_version=version)
    return {head.installation_id: head for head in heads.defer("document")}


@app.task(name="refresh_outlines", queue=QUEUE, queueing_lock="refresh_outlines")
def refresh_outlines() -> None:
    """Compute anew what another core or another chart computed, before anybody looks at it."""
    for workshop in Workshop.objects.all():
        outlined(heads_of(Vehicle.objects.filter(workshop=workshop)), workshop)


def heads_of(vehicles: Iterable[Vehicle]) -> QuerySet[Revision]:
    """The newest revision of every installation on these vehicles."""
    present = {"installation__deleted_at": None, "number": F("installation__head")}
    return Revision.objects.filter(installation__vehicle__in=vehicles, **present)


def _computed(head: Revision, chart: Chart) -> Outline:
    name = str(head.document.get("name") or "Without a name")[:80]
    try:
        installation = read_installation(head.document)
        return outline_from(installation, evaluate(installation, chart))
    except SpeedchainError as error:
        return {"name": name, "reason": as_data(error.problems[0].text)}
    except Exception:
        log.exception("installation %s, revision %s", head.installation_id, head.number)
        return {"name": name, "reason": "It cannot be computed."}
