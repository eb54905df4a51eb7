"""Signing in and out."""

from __future__ import annotations

from datetime import timedelta
from typing import cast

from axes.models import AccessAttempt
from django.conf import settings
from django.contrib.auth import authenticate, login, logout
from django.contrib.auth.models import User
from django.db.models import Sum
from django.http import HttpRequest, HttpResponse
from django.middleware.csrf import get_token
from django.utils import timezone
from ninja import Router
from ninja.errors import HttpError
from ninja.utils import check_csrf

from api.access import SignedIn
from api.pairing import PairIn
from api.problems import ProblemOut, problem
from api.schemas import SessionOut, SignIn, Units, UnitsIn
from api.texts import languages
from workshop.access import NotFoundError
from workshop.models import Member, Workshop
from workshop.pairing import keep_device, take_link
from workshop.vehicles import choose_units

router = Router()
REFUSED = {401: ProblemOut, 403: ProblemOut, 429: ProblemOut}


def _demo_offered() -> bool:
    return settings.DEMO and Workshop.objects.filter(is_demo=True).exists()


def _session(request: HttpRequest) -> SessionOut:
    get_token(request)  # sets the CSRF cookie
    demo = _demo_offered()
    if not request.user.is_authenticated:
        return SessionOut(signed_in=False, demo=demo, languages=languages())
    member = Member.objects.select_related("workshop").filter(user=request.user).first()
    return SessionOut(
        signed_in=True,
        username=request.user.get_username(),
        role=member.role if member else "",
        may_edit=member is not None and member.may_edit,
        workshop=member.workshop.name if member else "",
        units=cast(Units, member.units if member else "metric"),
        demo=demo,
        languages=languages(),
    )


def from_our_page(request: HttpRequest) -> bool:
    """Check the CSRF token; as a route's `auth`, so that it comes before the body is read."""
    if check_csrf(request) is not None:
        raise HttpError(403, "This page was open too long, or is not part of Wheelometron. Reload it and try again.")
    return True


@router.get("", auth=None, response=SessionOut, operation_id="session")
def show(request: HttpRequest) -> SessionOut:
    """Who is signed in; sets the cookie that later writes must echo."""
    return _session(request)


@router.get("/check", response={204: None, **REFUSED}, operation_id="checkSession")
def check(request: SignedIn) -> tuple[int, None]:
    """Whether somebody is signed in: 204, or 401. A proxy asks before it takes a large body."""
    return 204, None


@router.post("", auth=from_our_page, response={200: SessionOut, **REFUSED}, operation_id="signIn")
def sign_in(request: HttpRequest, body: SignIn) -> SessionOut | HttpResponse:
    """Sign in with name and password; failures are counted and slowed."""
    if failures_from(request.META["REMOTE_ADDR"]) >= settings.MOST_FAILURES_OF_AN_ADDRESS:
        return problem(429, "Too many failed sign-ins from this address. Wait 15 minutes, then try again.")
    user = authenticate(request, username=body.username, password=body.password)
    if user is None:
        return problem(401, "Name or password is wrong. Check both, and the Caps Lock key.")
    login(request, user)
    return _session(request)


def failures_from(address: str) -> int:
    """Failed sign-ins from an address of late, whatever the names."""
    late = AccessAttempt.objects.filter(
        ip_address=address, attempt_time__gte=timezone.now() - timedelta(hours=settings.AXES_COOLOFF_TIME)
    )
    return int(late.aggregate(sum=Sum("failures_since_start"))["sum"] or 0)


@router.post(
    "/demo", auth=from_our_page, response={200: SessionOut, 404: ProblemOut, 403: ProblemOut}, operation_id="openDemo"
)
def open_demo(request: HttpRequest) -> SessionOut:
    """Sign in to the demo workshop with one press, where the app was started with demo data."""
    if not _demo_offered():
        raise NotFoundError
    user = User.objects.filter(member__workshop__is_demo=True).order_by("pk").first()
    if user is None:
        raise NotFoundError
    login(request, user, backend="django.contrib.auth.backends.ModelBackend")
    return _session(request)


@router.post(
    "/pair", auth=from_our_page, response={200: SessionOut, 404: ProblemOut, 403: ProblemOut}, operation_id="pair"
)
def pair(request: HttpRequest, body: PairIn) -> SessionOut | HttpResponse:
    """Sign this device in by a link, which is used up by it."""
    try:
        user = take_link(body.secret)
    except NotFoundError:
        return problem(404, "This link was used, or is too old. Make a new one under Menu, Phones and tablets.")
    login(request, user, backend="django.contrib.auth.backends.ModelBackend")
    keep_device(user, request.session.session_key or "", body.name)
    return _session(request)


@router.put("/units", response={200: SessionOut, 401: ProblemOut, 422: ProblemOut}, operation_id="chooseUnits")
def units(request: SignedIn, body: UnitsIn) -> SessionOut:
    """Keep how this person reads speeds and lengths."""
    choose_units(request.user, body.units)
    return _session(request)


@router.delete("", response=SessionOut, operation_id="signOut")
def sign_out(request: HttpRequest) -> SessionOut:
    """Sign out."""
    logout(request)
    return _session(request)
