"""What recordings prove: speed checks, rings, runs there and back, slip, distances; each is work that is kept with its
result."""

from __future__ import annotations

from typing import Any

from django.contrib.auth.models import User
from pydantic import TypeAdapter

from speedchain import evaluate, read_installation
from speedchain.fields import InputError, kept, text_of
from speedchain.runs import (
    LEAST_ON_WATER_KMH,
    PLACES,
    RUN_BACK,
    Channel,
    CheckWanted,
    CoastDown,
    DatedError,
    DistanceCheck,
    DistanceWanted,
    Drift,
    Fingerprint,
    Health,
    Proof,
    ReadAs,
    Reciprocal,
    Recording,
    RingChange,
    Slip,
    SpeedRecord,
    TractionTable,
    TractionWanted,
    TuneChange,
    coast_down,
    distance_check,
    drift_of,
    fingerprint,
    health_of,
    prove,
    reciprocal,
    ring_change,
    slip_of,
    traction_table,
    tune_change,
    wheel_speeds,
)
from speedchain.wheel.chart import Chart
from workshop.access import member_of, recording_for
from workshop.models import RecordingRecord, Work
from workshop.samples import ChannelFacts, load
from workshop.work import Progress, handles

PROOF: TypeAdapter[Proof] = TypeAdapter(Proof)
FINGERPRINT: TypeAdapter[Fingerprint] = TypeAdapter(Fingerprint)
RING_CHANGE: TypeAdapter[RingChange] = TypeAdapter(RingChange)
RECIPROCAL: TypeAdapter[Reciprocal] = TypeAdapter(Reciprocal)
SLIP: TypeAdapter[Slip] = TypeAdapter(Slip)
TRACTION: TypeAdapter[TractionTable] = TypeAdapter(TractionTable)
TUNE: TypeAdapter[TuneChange] = TypeAdapter(TuneChange)
DISTANCE: TypeAdapter[DistanceCheck] = TypeAdapter(DistanceCheck)
COAST_DOWN: TypeAdapter[CoastDown] = TypeAdapter(CoastDown)
HEALTH: TypeAdapter[Health] = TypeAdapter(Health)
OF_RECORDINGS = (
    "check", "ring", "ring_change", "reciprocal", "slip", "traction", "tune_change", "distance", "coast_down", "health",
)  # fmt: skip
"""Kinds of work that are results of a recording."""
MOST_RESULTS = 30
MOST_BESIDE, MOST_SAMPLES_BESIDE = 12, 10_000_000
"""So many other channels are looked at beside a signal."""


def results_of(user: User, recording_id: int) -> list[Work]:
    """What was asked of a recording and answered, the newest first; the same question of one installation once."""
    found = recording_for(user, recording_id)
    rows = Work.objects.filter(recording=found, kind__in=OF_RECORDINGS, state="done").select_related("installation")
    newest: dict[str, Work] = {}
    for row in rows.order_by("-id"):
        newest.setdefault(f"{row.kind} {row.installation_id} {sorted(row.asked.items())}", row)
    return list(newest.values())[:MOST_RESULTS]


def drift_for(user: User, recording_id: int) -> tuple[Drift | None, list[tuple[RecordingRecord, Reciprocal]]]:
    """How the error on water changed over the vehicle's recordings with runs there and back, the earliest first."""
    vehicle = recording_for(user, recording_id).vehicle
    rows = Work.objects.filter(
        workshop=member_of(user).workshop,
        recording__vehicle=vehicle,
        recording__deleted_at=None,
        recording__summary__isnull=False,
        kind="reciprocal",
        state="done",
    )
    newest = {row.recording_id: row for row in rows.select_related("recording").order_by("id")}
    found = [(row.recording, RECIPROCAL.validate_python(row.result)) for row in newest.values() if row.recording]
    found.sort(key=lambda one: one[0].summary["begins_s"])
    errors = [
        DatedError(one.summary["begins_s"], runs.error_pct, runs.expanded_pct, runs.works_from_kmh)
        for one, runs in found
    ]
    return drift_of(errors), found


@handles("check")
def check(work: Work, chart: Chart, progress: Progress) -> Any:
    """What a recorded drive proves of an installation."""
    installation = read_installation(work.document)
    wanted = CheckWanted(**work.asked)
    recorded = loaded(work, (wanted.true_channel, wanted.shown_channel))
    return kept(PROOF, prove(installation, evaluate(installation, chart), recorded, wanted))


@handles("ring")
def ring(work: Work, chart: Chart, progress: Progress) -> Any:
    """The fingerprint of a captured ring."""
    recorded = loaded(work, (work.asked["channel"],))
    found = fingerprint(_pulses(recorded).time_s, mark_s=work.asked["mark_s"], count=work.asked["count"])
    return kept(FINGERPRINT, found)


@handles("ring_change")
def change_of_ring(work: Work, chart: Chart, progress: Progress) -> Any:
    """What changed on a ring since an earlier capture."""
    asked, vehicle = work.asked, work.recording.vehicle  # type: ignore[union-attr]
    earlier = RecordingRecord.objects.filter(vehicle=vehicle, pk=asked["earlier"], summary__isnull=False).first()
    if earlier is None:
        raise InputError(
            "The earlier capture is not there any more.", remedy="Choose another recording.", path="earlier"
        )
    now = fingerprint(_pulses(loaded(work, (asked["channel"],))).time_s, mark_s=asked["mark_s"], count=asked["count"])
    marked = asked["earlier_mark_s"]
    before = fingerprint(_pulses(load(earlier)).time_s, mark_s=marked, count=asked["count"])
    same_mark = asked["mark_s"] is not None and marked is not None
    return kept(RING_CHANGE, ring_change(now, before, same_mark=same_mark))


def _pulses(recorded: Recording) -> Channel:
    pulses = recorded.first("pulses")
    if pulses is None:
        raise InputError(
            "There are no times of pulses in this file.",
            remedy="Export one line per pulse, with the time of one edge, in seconds.",
            path="file",
        )
    return pulses


@handles("reciprocal")
def reciprocal_runs(work: Work, chart: Chart, progress: Progress) -> Any:
    """What runs there and back say of a display on water."""
    true, shown, recorded = _speeds(work)
    course, accuracy = recorded.direction(), recorded.first("accuracy")
    if course is None:
        raise InputError(
            "The recording holds no heading.",
            remedy="Record the course over ground with the speed, or mark a column as the course.",
            path="recording",
        )
    heading = recorded.first("heading")
    found = reciprocal(
        SpeedRecord(true.time_s, true.values),
        SpeedRecord(shown.time_s, shown.values),
        course.at(true.time_s),
        least_kmh=LEAST_ON_WATER_KMH,
        heading_deg=None if heading is None or heading is course else heading.at(true.time_s),
        accuracy_m=None if accuracy is None else accuracy.at(true.time_s),
    )
    if found is None:
        raise InputError(
            "No two runs in opposite directions with a shown speed are in this recording.",
            remedy=RUN_BACK,
            path="recording",
        )
    return kept(RECIPROCAL, found)


@handles("slip")
def slip(work: Work, chart: Chart, progress: Progress) -> Any:
    """Slip of a driven wheel against a reference."""
    return kept(SLIP, _slip(work))


@handles("traction")
def traction(work: Work, chart: Chart, progress: Progress) -> Any:
    """A start for a traction table from the slip of a recording."""
    wanted = TractionWanted(**{name: work.asked[name] for name in TractionWanted.model_fields})
    return kept(TRACTION, traction_table(_slip(work), wanted))


@handles("tune_change")
def change_of_tune(work: Work, chart: Chart, progress: Progress) -> Any:
    """What became of the spins of an earlier recording of the vehicle."""
    vehicle = work.recording.vehicle  # type: ignore[union-attr]
    earlier = RecordingRecord.objects.filter(vehicle=vehicle, pk=work.asked["earlier"], state="ready").first()
    if earlier is None:
        raise InputError(
            "The earlier recording is not there any more.", remedy="Choose another recording.", path="earlier"
        )
    after = _slip(work)
    channels = [ChannelFacts(**item) for item in earlier.summary["channels"]]
    asked = (work.asked["true_channel"], work.asked["shown_channel"])
    names = asked if set(asked) <= {item.name for item in channels} else wheel_speeds(channels, _roles(earlier))
    if names is None:
        raise InputError(
            "The earlier recording does not hold the two wheels.",
            remedy="Open it, and say in its table which channel is the driven wheel and which the free one.",
            path="earlier",
        )
    recorded = load(earlier, list(names))
    return kept(TUNE, tune_change(_slip_between(_speed(recorded, names[0]), _speed(recorded, names[1])), after))


def _roles(found: RecordingRecord) -> Any:
    return ReadAs(**found.read_as).roles


def _slip(work: Work) -> Slip:
    reference, driven, _ = _speeds(work)
    return _slip_between(reference, driven)


def _slip_between(reference: Channel, driven: Channel) -> Slip:
    found = slip_of(SpeedRecord(reference.time_s, reference.values), SpeedRecord(driven.time_s, driven.values))
    if found is None:
        raise InputError(
            "There is too little cruise in this recording.",
            remedy="Hold a steady speed for ten seconds and more, straight and level.",
            path="recording",
        )
    return found


@handles("distance")
def distance(work: Work, chart: Chart, progress: Progress) -> Any:
    """A shown distance against a known one."""
    wanted = DistanceWanted(**work.asked)
    names = tuple([name for name in (wanted.true, wanted.shown) if name != PLACES])
    return kept(DISTANCE, distance_check(loaded(work, names), wanted))


@handles("coast_down")
def coasting(work: Work, chart: Chart, progress: Progress) -> Any:
    """What the vehicle loses while it rolls."""
    channel = _speed(loaded(work, (work.asked["channel"],)), work.asked["channel"])
    found = coast_down(SpeedRecord(channel.time_s, channel.values))
    if found is None:
        raise InputError(
            "This recording has no coast-down.",
            remedy="Bring it to speed, take out the drive and let it roll for 20 seconds and more, both ways.",
            path="recording",
        )
    return kept(COAST_DOWN, found)


@handles("health")
def health(work: Work, chart: Chart, progress: Progress) -> Any:
    """The health of a recorded speed."""
    name, beside = work.asked["channel"], work.asked["reference"]
    others = _beside(work.recording)  # type: ignore[arg-type]
    recorded = loaded(work, (name, beside, *others))
    channel = _speed(recorded, name)
    also = [item for item in recorded.channels if item.name in others]
    true = _speed(recorded, beside) if beside and beside != name else None
    reference = None if true is None else SpeedRecord(true.time_s, true.values)
    return kept(HEALTH, health_of(SpeedRecord(channel.time_s, channel.values), reference, also))


def _beside(found: RecordingRecord) -> list[str]:
    """The other channels that are looked at beside a signal: the first, as long as they are not too long."""
    names, samples = [], 0
    for item in found.summary["channels"]:
        samples += item["samples"] if item["quantity"] in ("other", "engine") else 0
        if item["quantity"] in ("other", "engine") and samples <= MOST_SAMPLES_BESIDE:
            names.append(item["name"])
    return names[:MOST_BESIDE]


def _speeds(work: Work) -> tuple[Channel, Channel, Recording]:
    true, shown = work.asked["true_channel"], work.asked["shown_channel"]
    if true == shown:
        raise InputError(
            "Two speeds are needed, each in a channel of its own.",
            remedy="Record both, or choose another channel.",
            path="shown_channel",
        )
    recorded = loaded(work, (true, shown))
    return _speed(recorded, true), _speed(recorded, shown), recorded


def _speed(recorded: Recording, name: str) -> Channel:
    channel = recorded.channel(name)
    if channel is None or channel.quantity != "speed":
        raise InputError(
            text_of("The recording has no speed named {0}.", name), remedy="Choose one of its speeds.", path="channel"
        )
    return channel


def loaded(work: Work, names: tuple[str, ...]) -> Recording:
    """The named channels of a recording, with its course, accuracy and place where it has them."""
    found = work.recording
    assert found is not None
    others = ("course", "heading", "accuracy", "latitude", "longitude", "altitude")
    beside = [item["name"] for item in found.summary["channels"] if item["quantity"] in others]
    return load(found, [*names, *beside])
