"""The corners of a vehicle under one brake or slip control, filled at once."""

from __future__ import annotations

from typing import Annotated

from ninja import Router, Schema
from pydantic import Field

from api.access import SignedIn
from api.problems import ProblemOut
from api.schemas import In
from speedchain.bench.corners import Corner, CornerEntry
from speedchain.fields.texts import Plain
from workshop.corners import corners_on, save_corners

router = Router()
REFUSED = {401: ProblemOut, 404: ProblemOut, 422: ProblemOut}
MOST_CORNERS = 12


class CornersOut(Schema):
    """The corners side by side."""

    corners: tuple[Corner, ...]


class CornerIn(In):
    """What was found at one corner, and the revision of it that was seen."""

    installation: int
    base_revision: int
    found: CornerEntry


class CornersIn(In):
    """What was found, at as many corners as were looked at, and by whom."""

    corners: Annotated[list[CornerIn], Field(max_length=MOST_CORNERS)]
    by: Annotated[str, Field(max_length=60), Plain] = ""


@router.get("/{int:vehicle_id}/corners", response={200: CornersOut, **REFUSED}, operation_id="corners")
def show(request: SignedIn, vehicle_id: int) -> CornersOut:
    """The corners that a controller compares."""
    return CornersOut.model_construct(corners=corners_on(request.user, vehicle_id))


@router.put(
    "/{int:vehicle_id}/corners", response={200: CornersOut, 409: ProblemOut, **REFUSED}, operation_id="saveCorners"
)
def save(request: SignedIn, vehicle_id: int, body: CornersIn) -> CornersOut:
    """Keep what was found at them, all of it or none."""
    save_corners(
        request.user, vehicle_id, {row.installation: (row.base_revision, row.found) for row in body.corners}, body.by
    )
    return CornersOut.model_construct(corners=corners_on(request.user, vehicle_id))
