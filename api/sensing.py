"""Target, sensor and placement: what is drawn and advised beside the evaluation, and parts to make."""

from __future__ import annotations

from django.http import HttpResponse
from ninja import Router
from pydantic import TypeAdapter

from api.access import SignedIn
from api.described import a_file
from api.problems import ProblemOut
from speedchain import Installation, evaluate
from speedchain.fields.errors import InputError
from speedchain.placement import Placement
from speedchain.placement.view import PlacementView, view_placement
from speedchain.sensor.choice import SensorChoices, choose_sensor
from speedchain.target.model import Magnets, SpokeWheel
from speedchain.target.spokes import SpokePlan, plan_spokes
from speedchain.workpieces import MEDIA, WRITERS, Format, Outline, bracket_outline, ring_outline
from workshop.access import chart_of

router = Router()
REFUSED = {401: ProblemOut, 422: ProblemOut}
PLACEMENT: TypeAdapter[PlacementView] = TypeAdapter(PlacementView)


@router.post("/placement", response={200: PlacementView, **REFUSED}, operation_id="placement")
def show_placement(request: SignedIn, document: Installation) -> HttpResponse:
    """The bench: strength as drawn, tolerance map, chances and the signal, at the speed that is looked at."""
    result = evaluate(document, chart_of(request.user))
    turn_s = result.stages[0].value / 1000 / (document.check_speed_kmh / 3.6) / result.stages[1].value
    view = view_placement(document.target, document.sensor, document.placement or Placement(), turn_s)
    return HttpResponse(PLACEMENT.dump_json(view), content_type="application/json")


@router.post("/spokes", response={200: SpokePlan, **REFUSED}, operation_id="spokes")
def show_spokes(request: SignedIn, document: Installation) -> SpokePlan:
    """Which spokes carry the magnets best."""
    magnets = document.target.magnets or Magnets()
    wheel = document.target.spokes or SpokeWheel()
    return plan_spokes(wheel, document.target.count, magnets.radius_mm, magnets.diameter_mm)


@router.post("/sensor-choices", response={200: SensorChoices, **REFUSED}, operation_id="sensorChoices")
def show_choices(request: SignedIn, document: Installation) -> SensorChoices:
    """Every kind of sensor for this target, speed, supply and heat, the best first."""
    result = evaluate(document, chart_of(request.user))
    return choose_sensor(
        document.target.kind, document.purpose, result.pulses_per_km / document.target.edges, document.needs
    )


@router.post(
    "/ring/{kind}",
    response={200: bytes, **REFUSED},
    operation_id="ringFile",
    openapi_extra=a_file("image/vnd.dxf", "image/svg+xml", "application/pdf"),
)
def ring_file(request: SignedIn, kind: Format, document: Installation) -> HttpResponse:
    """The ring as DXF or SVG for the cutter, with kerf, or as a 1:1 PDF of the finished part."""
    return _file(ring_outline(document.target, document.sensor.kind, kerf=kind != "pdf"), kind, "ring")


@router.post(
    "/bracket/{kind}",
    response={200: bytes, **REFUSED},
    operation_id="bracketFile",
    openapi_extra=a_file("image/vnd.dxf", "image/svg+xml", "application/pdf"),
)
def bracket_file(request: SignedIn, kind: Format, document: Installation) -> HttpResponse:
    """The sensor bracket as DXF, SVG or a 1:1 PDF to cut from cardboard first."""
    bracket = document.placement.bracket if document.placement else None
    if bracket is None:
        raise InputError(
            "There is no bracket yet.", remedy="Enter its sizes at the sensor.", path="placement.bracket.reach_mm"
        )
    return _file(bracket_outline(bracket, kerf=kind != "pdf"), kind, "bracket")


def _file(outline: Outline, kind: Format, name: str) -> HttpResponse:
    response = HttpResponse(WRITERS[kind](outline), content_type=MEDIA[kind])
    response["Content-Disposition"] = f'attachment; filename="{name}.{kind}"'
    return response
