"""Signal and bench: what is shown beside the evaluation, the running bench, cards, tests by hand, files and long
runs."""

from __future__ import annotations

import io
from typing import Annotated, Literal

from django.core.cache import caches
from django.http import HttpResponse
from ninja import Router, Schema
from pydantic import Field, TypeAdapter

from api.access import SignedIn
from api.described import KEEPS, a_file
from api.files import file_answer, heading_of
from api.problems import ProblemOut, problem
from api.schemas import In
from api.work import WorkOut
from speedchain import Evaluation, Installation, evaluate
from speedchain.bench.card import Card, card_of
from speedchain.bench.export import run_lines
from speedchain.bench.hand_tests import HandTest, magnet_test, spin_test, waves_for
from speedchain.bench.moment import BenchFrame, Moment, bench_moment
from speedchain.bench.records import apply_card, record_test, verify_stage
from speedchain.bench.run import Run
from speedchain.bench.satellite import Receiver, sentences
from speedchain.fields import StageName, TestRecord, Verification
from speedchain.fields.quantities import SpanOfTime, Turns
from speedchain.observing import SpeedComparison, observe
from speedchain.runs import Reciprocal, RunByHand, runs_by_hand
from speedchain.sheets.pdf import card_pdf, wiring_pdf
from speedchain.views.readings import Diagnosis, Readings, diagnose
from speedchain.views.signal import SignalView, view_signal
from speedchain.wiring import WiringSheet, wiring_sheet
from workshop import bench
from workshop.access import chart_of
from workshop.parts import fitted_on

router = Router()
REFUSED = {401: ProblemOut, 422: ProblemOut}
FRAME: TypeAdapter[BenchFrame] = TypeAdapter(BenchFrame)
FileKind = Literal["csv", "vcd", "nmea"]
MOST_EDGES_IN_A_FILE = 80_000
USUAL_TURNS, USUAL_SECONDS = 10, 10.0
"""Of a test by hand. Common practice."""
MEDIA = {"csv": "text/csv", "vcd": "text/plain", "nmea": "text/plain"}


class MomentIn(In):
    """The moment of the bench, and a document that the client calls by a key of its own.

    The document comes once for each change; afterwards its key says which one is meant.
    """

    key: Annotated[str, Field(pattern=r"^[A-Za-z0-9-]{8,80}$")] | None = None
    document: Installation | None = None
    moment: Moment


class CardIn(In):
    """A document, and which of its readouts."""

    document: Installation
    readout: Annotated[int, Field(ge=0, le=7)] = 0


class RecordIn(In):
    """A document, and a test that was made."""

    document: Installation
    record: TestRecord


class VerifyIn(In):
    """A document, a test that agreed, and the stage that it verified; without one, all that such a test can verify."""

    document: Installation
    verification: Verification
    stage: StageName | None = None
    readout: Annotated[int, Field(ge=0, le=7)] = 0


class ObserveIn(In):
    """A document, and shown against true speed on one of its readouts."""

    document: Installation
    comparison: SpeedComparison


class HandIn(In):
    """A document; turns or waves, and in how long. Empty: ten turns, and as many waves as surely show, in ten
    seconds."""

    document: Installation
    turns: Turns | None = None
    waves: Turns | None = None
    seconds: SpanOfTime | None = None


class HandOut(Schema):
    """Both tests by hand, and how many waves bring a reading that is surely seen."""

    spin: HandTest
    magnet: HandTest
    waves: int
    turns: int
    seconds: float


class ReadingsIn(In):
    """A document, and what one of its displays showed at several true speeds."""

    document: Installation
    readings: Readings


class RunIn(In):
    """A document and the run."""

    document: Installation
    run: Run


@router.post("/signal", response={200: SignalView, **REFUSED}, operation_id="signal")
def show_signal(request: SignedIn, document: Installation) -> SignalView:
    """A coil over speed and the two ways with it, ways to the ratio and its error over the range, the smoothing."""
    return view_signal(document, evaluate(document, chart_of(request.user)))


@router.post("/wiring", response={200: WiringSheet, **REFUSED}, operation_id="wiring")
def show_wiring(request: SignedIn, document: Installation) -> WiringSheet:
    """The wiring sheet, and the order sheet for a supplier."""
    return wiring_sheet(document, evaluate(document, chart_of(request.user)))


@router.post(
    "/wiring/pdf",
    response={200: bytes, 404: ProblemOut, **REFUSED},
    operation_id="wiringPdf",
    openapi_extra=a_file("application/pdf"),
)
def print_wiring(request: SignedIn, document: Installation, installation_id: int | None = None) -> HttpResponse:
    """Both on paper, with the vehicle and revision of a stored installation above them."""
    heading = heading_of(request, installation_id, document)
    fitted = [] if installation_id is None else fitted_on(request.user, installation_id)
    content = wiring_pdf(document, show_wiring(request, document), heading, fitted)
    return file_answer(content, "application/pdf", "wiring.pdf")


@router.post("/bench/moment", response={200: BenchFrame, 409: ProblemOut, **REFUSED}, operation_id="benchMoment")
def show_moment(request: SignedIn, body: MomentIn) -> HttpResponse:
    """The running bench at one moment; asked for twenty times a second.

    409 when the document of that key is not known here, or not any more: send it again.
    """
    place = f"{request.user.pk}.{body.key}"
    known: tuple[Installation, Evaluation] | None
    if body.document is not None:
        known = (body.document, evaluate(body.document, chart_of(request.user)))
        if body.key:
            caches["bench"].set(place, known)
    else:
        known = caches["bench"].get(place) if body.key else None
    if known is None:
        return problem(409, "The document of this key is not known here. Send the document again.")
    return HttpResponse(FRAME.dump_json(bench_moment(*known, body.moment)), content_type="application/json")


@router.post("/bench/card", response={200: Card, **REFUSED}, operation_id="benchCard")
def show_card(request: SignedIn, body: CardIn) -> Card:
    """The test card of one readout, and what follows from what its needle said."""
    return card_of(body.document, evaluate(body.document, chart_of(request.user)), body.readout)


@router.post(
    "/bench/card/pdf",
    response={200: bytes, 404: ProblemOut, **REFUSED},
    operation_id="benchCardPdf",
    openapi_extra=a_file("application/pdf"),
)
def print_card(request: SignedIn, body: CardIn, installation_id: int | None = None) -> HttpResponse:
    """The same on paper."""
    heading = heading_of(request, installation_id, body.document)
    return file_answer(card_pdf(body.document, show_card(request, body), heading), "application/pdf", "test-card.pdf")


@router.post("/bench/card/apply", response={200: Installation, **REFUSED}, operation_id="applyCard")
def enter_card(request: SignedIn, body: CardIn) -> Installation:
    """The document after what its card advises was entered."""
    return apply_card(body.document, evaluate(body.document, chart_of(request.user)), body.readout)


@router.post("/bench/record", response={200: Installation, **REFUSED}, operation_id="recordTest")
def record(request: SignedIn, body: RecordIn) -> Installation:
    """The document with a test in its records, and what that test verifies."""
    return record_test(body.document, evaluate(body.document, chart_of(request.user)), body.record)


@router.post("/bench/verify", response={200: Installation, **REFUSED}, operation_id="verifyStage")
def verify(request: SignedIn, body: VerifyIn) -> Installation:
    """The document with one stage verified by a test that agreed, or all that such a test can verify."""
    evaluation = evaluate(body.document, chart_of(request.user))
    return verify_stage(body.document, evaluation, body.verification, stage=body.stage, readout=body.readout)


@router.post("/bench/observe", response={200: Installation, **REFUSED}, operation_id="observeChain")
def keep_comparison(request: SignedIn, body: ObserveIn) -> Installation:
    """The document with a comparison of shown and true speed among its observations, or the reader's own number
    found."""
    return observe(body.document, evaluate(body.document, chart_of(request.user)), body.comparison)


class ReciprocalIn(In):
    """Runs there and back that were noted, and the step of the display."""

    runs: Annotated[tuple[RunByHand, ...], Field(min_length=2, max_length=12)]
    display_step_kmh: Annotated[float, Field(ge=0, le=50)] = 0.0


@router.post("/bench/reciprocal", response={200: Reciprocal, **REFUSED}, operation_id="runsByHand")
def show_runs(request: SignedIn, body: ReciprocalIn) -> Reciprocal:
    """What runs there and back say of a display, as they were noted."""
    return runs_by_hand(body.runs, body.display_step_kmh)


@router.post("/bench/hand", response={200: HandOut, **REFUSED}, operation_id="benchHand")
def show_hand(request: SignedIn, body: HandIn) -> HandOut:
    """What to expect of a wheel turned by hand and of a magnet waved past."""
    evaluation = evaluate(body.document, chart_of(request.user))
    turns = USUAL_TURNS if body.turns is None else body.turns
    seconds = USUAL_SECONDS if body.seconds is None else body.seconds
    waves = waves_for(body.document, evaluation, 0, seconds) if body.waves is None else body.waves
    return HandOut.model_construct(
        spin=spin_test(body.document, evaluation, turns, seconds),
        magnet=magnet_test(body.document, evaluation, waves, seconds),
        waves=waves,
        turns=turns,
        seconds=seconds,
    )


@router.post("/bench/readings", response={200: Diagnosis, **REFUSED}, operation_id="benchReadings")
def diagnose_readings(request: SignedIn, body: ReadingsIn) -> Diagnosis:
    """The pattern of readings beside the true speed, and its likely causes."""
    return diagnose(body.document, evaluate(body.document, chart_of(request.user)), body.readings)


@router.post(
    "/bench/files/{kind}",
    response={200: bytes, **REFUSED},
    operation_id="benchFile",
    openapi_extra=a_file("text/csv", "text/plain"),
)
def benchfile_answer(request: SignedIn, kind: FileKind, body: RunIn) -> HttpResponse:
    """The pulses of a run as CSV or VCD, or what a satellite receiver would say of it, as NMEA 0183."""
    if kind == "nmea":
        receiver = Receiver(seed=body.run.faults.seed)
        sent = "".join([f"{line}\r\n" for line in sentences(receiver, body.run.profile, body.run.seconds)])
        return file_answer(sent.encode(), MEDIA[kind], "bench.nmea")
    evaluation = evaluate(body.document, chart_of(request.user))
    lines = run_lines(
        kind, installation=body.document, evaluation=evaluation, run=body.run, most_edges=MOST_EDGES_IN_A_FILE
    )
    text = io.StringIO()
    text.writelines(f"{row}\n" for row in lines)
    return file_answer(text.getvalue().encode(), MEDIA[kind], f"bench.{kind}")


@router.post("/bench/runs", response={202: WorkOut, **REFUSED}, operation_id="startRun", openapi_extra=KEEPS)
def start_run(request: SignedIn, body: RunIn) -> tuple[int, WorkOut]:
    """Start a long run; it goes on beside the requests."""
    return 202, WorkOut.of(bench.start_run(request.user, body.document, body.run))
