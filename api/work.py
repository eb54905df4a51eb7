"""Long work: how far it is, and what came of it, whatever was asked for."""

from __future__ import annotations

from typing import Any, Literal, cast

from django.http import StreamingHttpResponse
from ninja import Router, Schema

from api.access import SignedIn
from api.described import a_file
from api.problems import FieldProblem, ProblemOut
from speedchain.bench.run import RunTold
from speedchain.fields import from_data, said
from speedchain.runs import (
    CoastDown,
    DistanceCheck,
    Fingerprint,
    Health,
    Proof,
    Reciprocal,
    RingChange,
    Slip,
    TractionTable,
    TuneChange,
)
from workshop import work
from workshop.access import NotFoundError
from workshop.answers import (
    COAST_DOWN,
    DISTANCE,
    FINGERPRINT,
    HEALTH,
    PROOF,
    RECIPROCAL,
    RING_CHANGE,
    SLIP,
    TRACTION,
    TUNE,
)
from workshop.bench import RUN_TOLD
from workshop.export import pieces_out
from workshop.models import Work

router = Router()
REFUSED = {401: ProblemOut, 404: ProblemOut}
WorkState = Literal["waiting", "going", "done", "failed", "stopped"]
WorkKind = Literal[
    "bench_run",
    "read_recording",
    "derive",
    "export",
    "check",
    "ring",
    "ring_change",
    "reciprocal",
    "slip",
    "traction",
    "tune_change",
    "distance",
    "coast_down",
    "health",
]
ADAPTERS: dict[str, Any] = {
    "bench_run": RUN_TOLD,
    "check": PROOF,
    "ring": FINGERPRINT,
    "ring_change": RING_CHANGE,
    "reciprocal": RECIPROCAL,
    "slip": SLIP,
    "traction": TRACTION,
    "tune_change": TUNE,
    "distance": DISTANCE,
    "coast_down": COAST_DOWN,
    "health": HEALTH,
}


class WorkOut(Schema):
    """Long work: its state, the share that is done, why it failed, and its result under the name of its kind."""

    id: int
    kind: WorkKind
    state: WorkState
    share: float
    problem: FieldProblem | None = None
    bench_run: RunTold | None = None
    check: Proof | None = None
    ring: Fingerprint | None = None
    ring_change: RingChange | None = None
    reciprocal: Reciprocal | None = None
    slip: Slip | None = None
    traction: TractionTable | None = None
    tune_change: TuneChange | None = None
    distance: DistanceCheck | None = None
    coast_down: CoastDown | None = None
    health: Health | None = None

    @classmethod
    def of(cls, found: Work) -> WorkOut:
        """From the record."""
        adapter = ADAPTERS.get(found.kind)
        results = {} if found.result is None or adapter is None else {found.kind: adapter.validate_python(found.result)}
        return cls.model_construct(
            id=found.pk,
            kind=cast(WorkKind, found.kind),
            state=cast(WorkState, found.state),
            share=found.share,
            problem=problem_from(found.problem),
            **results,
        )


def problem_from(kept: dict[str, Any] | None) -> FieldProblem | None:
    """What was wrong, in the language asked for."""
    if kept is None:
        return None
    texts: dict[str, Any] = {name: said(from_data(kept[name])) for name in ("message", "remedy", "limit")}
    return FieldProblem(path=kept["path"], **texts)


@router.get("/{work_id}", response={200: WorkOut, **REFUSED}, operation_id="showWork")
def show_work(request: SignedIn, work_id: int) -> WorkOut:
    """How far it is, and what came of it."""
    return WorkOut.of(work.work_of(request.user, work_id))


@router.delete("/{work_id}", response={200: WorkOut, **REFUSED}, operation_id="stopWork")
def stop_work(request: SignedIn, work_id: int) -> WorkOut:
    """Stop it."""
    return WorkOut.of(work.stop_work(request.user, work_id))


@router.get(
    "/{work_id}/file",
    response={200: bytes, **REFUSED},
    operation_id="fetchFile",
    openapi_extra=a_file("application/octet-stream"),
)
def fetch_file(request: SignedIn, work_id: int) -> StreamingHttpResponse:
    """The file that work made."""
    found = work.work_of(request.user, work_id)
    if found.kind != "export" or found.state != "done" or found.result is None:
        raise NotFoundError
    answer = StreamingHttpResponse(pieces_out(found), content_type="application/octet-stream")
    answer["Content-Disposition"] = _attached(found.result["name"])
    return answer


def _attached(name: str) -> str:
    plain = "".join(letter if letter.isalnum() or letter in " ._-" else "_" for letter in name)
    return f'attachment; filename="{plain.encode("ascii", "replace").decode()}"'
