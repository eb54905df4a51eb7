"""What recordings prove: asked as work, and kept with the recording."""

from __future__ import annotations

from datetime import datetime
from typing import Annotated, Any, cast

from django.http import HttpResponse
from ninja import Router, Schema
from pydantic import Field

from api.access import SignedIn
from api.described import a_file
from api.files import file_answer, heading_of
from api.problems import ProblemOut
from api.recordings import ChannelName
from api.schemas import In
from api.work import ADAPTERS, WorkKind, WorkOut
from speedchain import Installation, evaluate
from speedchain.fields import Words
from speedchain.runs import CheckWanted, DistanceWanted, Drift, TractionWanted, prove
from speedchain.sheets.pdf import drive_pdf
from workshop import answers
from workshop.access import chart_of, installation_for, recording_read
from workshop.core_version import core_version
from workshop.models import RecordingRecord, Work
from workshop.samples import load
from workshop.work import start_work

router = Router()
REFUSED = {401: ProblemOut, 404: ProblemOut, 422: ProblemOut}
Seconds = Annotated[float, Field(ge=-1e12, le=1e12)]
Count = Annotated[int, Field(ge=1, le=120)]


class CheckIn(In):
    """A document, what is compared, and whose document it is, where it is kept."""

    document: Installation
    wanted: CheckWanted
    installation: int | None = None


class SpeedsIn(In):
    """Two speeds that are compared."""

    true_channel: ChannelName
    shown_channel: ChannelName


class TractionIn(SpeedsIn, TractionWanted):
    """Two speeds, and the axes of the controller's table."""


class TuneIn(SpeedsIn):
    """Two speeds, and the recording before the change."""

    earlier: int


class ChannelIn(In):
    """One speed."""

    channel: ChannelName


class HealthIn(ChannelIn):
    """One speed, and the true one beside it, where there is one."""

    reference: ChannelName = ""


class RingIn(In):
    """A channel of pulses, when the mark passed, and the count where it is known."""

    channel: ChannelName
    mark_s: Seconds | None = None
    count: Count | None = None


class RingChangeIn(RingIn):
    """The same, and an earlier recording of the ring with the time of its mark."""

    earlier: int
    earlier_mark_s: Seconds | None = None


class ResultOut(Schema):
    """A result that is kept with its recording.

    `revision` is the newest one whose document it holds for; None where the installation was changed since.
    `same_core`: the core that computed it is the one that runs now.
    """

    id: int
    kind: WorkKind
    at: datetime
    text: Words
    installation: int | None
    name: str
    revision: int | None
    same_core: bool

    @classmethod
    def of(cls, found: Work) -> ResultOut:
        """From the record."""
        holder = found.installation
        revision = None if holder is None else holder.revisions.filter(document=found.document).first()
        return cls.model_construct(
            id=found.pk,
            kind=cast(WorkKind, found.kind),
            at=found.created_at,
            text=ADAPTERS[found.kind].validate_python(found.result).text,
            installation=found.installation_id,
            name="" if found.document is None else found.document["name"],
            revision=revision.number if revision is not None and holder and revision.number == holder.head else None,
            same_core=found.core == core_version(),
        )


class DatedRuns(Schema):
    """Runs there and back in one recording."""

    recording: int
    name: str
    at_s: float
    error_pct: float
    expanded_pct: float
    works_from_kmh: float | None


class DriftOut(Schema):
    """How the error of a display on water changed between recordings."""

    drift: Drift | None
    runs: list[DatedRuns]


@router.get("/{recording_id}/results", response={200: list[ResultOut], **REFUSED}, operation_id="listResults")
def list_results(request: SignedIn, recording_id: int) -> list[ResultOut]:
    """What the recording was asked and what it answered, the newest first."""
    return [ResultOut.of(found) for found in answers.results_of(request.user, recording_id)]


@router.get("/{recording_id}/drift", response={200: DriftOut, **REFUSED}, operation_id="showDrift")
def show_drift(request: SignedIn, recording_id: int) -> DriftOut:
    """The change of the error over the vehicle's recordings with runs there and back."""
    drift, found = answers.drift_for(request.user, recording_id)
    return DriftOut.model_construct(
        drift=drift,
        runs=[
            DatedRuns(
                recording=one.pk,
                name=one.name,
                at_s=one.summary["begins_s"],
                error_pct=runs.error_pct,
                expanded_pct=runs.expanded_pct,
                works_from_kmh=runs.works_from_kmh,
            )
            for one, runs in found
        ],
    )


@router.post("/{recording_id}/check", response={202: WorkOut, **REFUSED}, operation_id="checkRecording")
def check(request: SignedIn, recording_id: int, body: CheckIn) -> tuple[int, WorkOut]:
    """Compare the shown with the true speed; the same question again gets the same answer at once."""
    holder = None if body.installation is None else installation_for(request.user, body.installation)
    found = recording_read(request.user, recording_id)
    asked = body.wanted.model_dump(mode="json")
    work = start_work(
        request.user, "check", asked, document=body.document, recording=found, installation=holder, again=False
    )
    return 202, WorkOut.of(work)


@router.post(
    "/{recording_id}/report",
    response={200: bytes, **REFUSED},
    operation_id="drivePdf",
    openapi_extra=a_file("application/pdf"),
)
def report(request: SignedIn, recording_id: int, body: CheckIn) -> HttpResponse:
    """What the drive proves, on paper."""
    found = recording_read(request.user, recording_id)
    recorded = load(found)
    proof = prove(body.document, evaluate(body.document, chart_of(request.user)), recorded, body.wanted)
    heading = heading_of(request, body.installation, body.document)
    content = drive_pdf(body.document, proof, heading, recording=found.name)
    return file_answer(content, "application/pdf", "drive.pdf")


@router.post("/{recording_id}/ring", response={202: WorkOut, **REFUSED}, operation_id="fingerprintRing")
def ring(request: SignedIn, recording_id: int, body: RingIn) -> tuple[int, WorkOut]:
    """The fingerprint of a captured ring."""
    return 202, _asked(request, recording_id, "ring", body)


@router.post("/{recording_id}/ring-change", response={202: WorkOut, **REFUSED}, operation_id="compareRings")
def ring_change(request: SignedIn, recording_id: int, body: RingChangeIn) -> tuple[int, WorkOut]:
    """What changed on a ring since an earlier capture."""
    return 202, _asked(request, recording_id, "ring_change", body)


@router.post("/{recording_id}/reciprocal", response={202: WorkOut, **REFUSED}, operation_id="reciprocalRuns")
def reciprocal(request: SignedIn, recording_id: int, body: SpeedsIn) -> tuple[int, WorkOut]:
    """What runs there and back say of a display on water."""
    return 202, _asked(request, recording_id, "reciprocal", body)


@router.post("/{recording_id}/slip", response={202: WorkOut, **REFUSED}, operation_id="slip")
def slip(request: SignedIn, recording_id: int, body: SpeedsIn) -> tuple[int, WorkOut]:
    """Slip of a driven wheel (shown) against a reference (true)."""
    return 202, _asked(request, recording_id, "slip", body)


@router.post("/{recording_id}/traction", response={202: WorkOut, **REFUSED}, operation_id="tractionTable")
def traction(request: SignedIn, recording_id: int, body: TractionIn) -> tuple[int, WorkOut]:
    """A start for a traction table from that slip."""
    return 202, _asked(request, recording_id, "traction", body)


@router.post("/{recording_id}/tune-change", response={202: WorkOut, **REFUSED}, operation_id="compareTunes")
def tune_change(request: SignedIn, recording_id: int, body: TuneIn) -> tuple[int, WorkOut]:
    """What became of the spins of an earlier recording."""
    return 202, _asked(request, recording_id, "tune_change", body)


@router.post("/{recording_id}/distance", response={202: WorkOut, **REFUSED}, operation_id="checkDistance")
def distance(request: SignedIn, recording_id: int, body: DistanceWanted) -> tuple[int, WorkOut]:
    """A shown distance against a known one."""
    return 202, _asked(request, recording_id, "distance", body)


@router.post("/{recording_id}/coast-down", response={202: WorkOut, **REFUSED}, operation_id="coastDown")
def coast_down(request: SignedIn, recording_id: int, body: ChannelIn) -> tuple[int, WorkOut]:
    """What the vehicle loses while it rolls."""
    return 202, _asked(request, recording_id, "coast_down", body)


@router.post("/{recording_id}/health", response={202: WorkOut, **REFUSED}, operation_id="signalHealth")
def health(request: SignedIn, recording_id: int, body: HealthIn) -> tuple[int, WorkOut]:
    """Dropouts, doubles and spikes of a recorded speed."""
    return 202, _asked(request, recording_id, "health", body)


def _asked(request: SignedIn, recording_id: int, kind: str, body: Any) -> WorkOut:
    found: RecordingRecord = recording_read(request.user, recording_id)
    return WorkOut.of(start_work(request.user, kind, body.model_dump(mode="json"), recording=found, again=False))
