"""Channels of a recording that follow from others: kept beside those of the file, and computed again with every
reading."""

from __future__ import annotations

from typing import Any

import numpy as np
from django.contrib.auth.models import User
from django.db import transaction

from speedchain.fields import InputError, text_of
from speedchain.runs import Derived, Piece, derive
from speedchain.wheel.chart import Chart
from workshop.access import (
    NotFoundError,
    editor,
    locked_recording,
    locked_workshop,
    recording_for,
    recording_read,
)
from workshop.audit import record
from workshop.models import RecordingRecord, Samples, Work
from workshop.samples import chunks_of, facts_of, load, samples_from
from workshop.use_cases import use_case
from workshop.work import Progress, handles, start_work

MOST_DERIVED = 12


@use_case("add_derived", no_version="the channel is there or it is not")
def add_derived(user: User, recording_id: int, wanted: Derived) -> Work:
    """Have a channel computed and kept.

    Raises `InputError` where its name is taken, or the recording has as many as may be.
    """
    member = editor(user)
    locked_workshop(member)
    found = locked_recording(recording_read(user, recording_id))
    asked = wanted.model_dump(mode="json")
    known = [Derived(**item) for item in found.derived]
    if wanted not in known:
        if wanted.kind == "noted" and wanted.name() in names_of(found):  # what was noted is written anew
            _forget(found, wanted.name())
        if wanted.name() in {item["name"] for item in found.summary["channels"]} | set(names_of(found)):
            raise InputError(
                text_of("The recording has a channel named {0} already.", wanted.name()),
                remedy="Remove that one first.",
                path="of",
            )
        if len(found.derived) >= MOST_DERIVED:
            raise InputError(
                text_of("The recording has {0} derived channels.", MOST_DERIVED),
                remedy="Remove one first.",
                limit=text_of("at most {0}", MOST_DERIVED),
                path="kind",
            )
        found.derived = [*found.derived, asked]
        found.save(update_fields=["derived"])
        record(member.workshop, member, "add_derived", subject=f"{found.vehicle.name}: {found.name}: {wanted.name()}")
    return start_work(user, "derive", asked, recording=found)


def names_of(found: RecordingRecord) -> list[str]:
    """What its derived channels are called."""
    return [Derived(**item).name() for item in found.derived]


@use_case("remove_derived", no_version="the channel is there or it is not")
def remove_derived(user: User, recording_id: int, name: str) -> RecordingRecord:
    """Remove a derived channel. Raises `NotFoundError` where there is none of that name."""
    member = editor(user)
    found = locked_recording(recording_for(user, recording_id))
    if name not in names_of(found):
        raise NotFoundError
    record(member.workshop, member, "remove_derived", subject=f"{found.vehicle.name}: {found.name}: {name}")
    _forget(found, name)
    return found


def _forget(found: RecordingRecord, name: str) -> None:
    found.derived = [item for item in found.derived if Derived(**item).name() != name]
    if found.summary is not None:
        channels = [item for item in found.summary["channels"] if item["name"] != name]
        found.summary = found.summary | {"channels": channels}
    Samples.objects.filter(recording=found, stream=name).delete()
    found.save(update_fields=["derived", "summary"])


@handles("derive")
def derive_channel(work: Work, chart: Chart, progress: Progress) -> Any:
    """Compute a channel and keep it; one that cannot be computed is forgotten."""
    found = work.recording
    assert found is not None
    wanted = Derived(**work.asked)
    try:
        _keep(found, wanted)
    except InputError:
        with transaction.atomic():
            _forget(locked_recording(found), wanted.name())
        raise
    return {"name": wanted.name()}


def derive_again(found: RecordingRecord) -> None:
    """Compute all derived channels after a new reading; those whose channels are gone are forgotten."""
    for item in list(found.derived):
        found.refresh_from_db()
        try:
            _keep(found, Derived(**item))
        except InputError:
            _forget(found, Derived(**item).name())


def _keep(found: RecordingRecord, wanted: Derived) -> None:
    channel, kind = derive(load(found, [wanted.of, wanted.against]), wanted)
    if not np.isfinite(channel.values).any():
        raise InputError(text_of("{0} holds nothing.", channel.name), remedy="Choose other channels.", path="of")
    chunks = chunks_of([Piece(channel.name, channel.time_s, {channel.name: channel.values})])
    made = [samples_from(found, found.version, number, piece) for number, piece in chunks]
    with transaction.atomic():
        latest = locked_recording(found)
        if latest.version != found.version or wanted not in [Derived(**item) for item in latest.derived]:
            return  # read anew meanwhile, which computes it as well, or not wanted any more
        Samples.objects.filter(recording=latest, stream=channel.name).delete()
        Samples.objects.bulk_create(made)
        (facts,) = facts_of(latest, latest.version, {channel.name: kind}, stream=channel.name)
        others = [item for item in latest.summary["channels"] if item["name"] != channel.name]
        latest.summary = latest.summary | {"channels": [*others, facts._asdict()]}
        latest.save(update_fields=["summary"])
