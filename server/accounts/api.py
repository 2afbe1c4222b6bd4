"""Sign in and out, and the sign-ins that still hold. Login carries the CSRF check itself: it has no session to hang it on."""

from __future__ import annotations

import hashlib
from typing import Any

from django.conf import settings
from django.contrib.auth import authenticate, login, logout
from django.http import Http404, HttpRequest, HttpResponse
from django.middleware.csrf import get_token
from django.utils import timezone
from django.views.decorators.csrf import csrf_protect
from ninja import Router
from ninja.decorators import decorate_view
from qsessions.models import Session as StoredSession  # type: ignore[import-untyped]

from server.accounts.doors import known_device, remember_device, tried_too_often
from server.accounts.schemas import LoginBody, Person, Session, SignedIn
from server.problems import Problem
from server.projects.models import name_of, signed_in

router = Router(tags=["session"])


def _session(request: HttpRequest) -> Session:
    user: Any = request.user
    person = Person(username=user.username, name=name_of(user)) if user.is_authenticated else None
    return Session(person=person, csrf_token=get_token(request), stand_ins=settings.STAND_INS)


@router.get("/session", response=Session, auth=None)
def who(request: HttpRequest) -> Session:
    """Who is signed in, and the CSRF token for what follows."""
    return _session(request)


@router.post("/session", response=Session, auth=None)
@decorate_view(csrf_protect)
def sign_in(request: HttpRequest, response: HttpResponse, body: LoginBody) -> Session:
    """Wrong passwords make a name wait at an address; many of them the name everywhere, or the address. A device that the person signed in from never waits."""
    known = known_device(request, {"username": body.username})
    waits = not known and tried_too_often(request, body.username)
    user = None if waits else authenticate(request, username=body.username, password=body.password)
    if waits or getattr(request, "axes_locked_out", False):
        raise Problem(429, "too_many_tries", "Too many wrong passwords for this name.", "Wait five minutes.")
    if user is None:
        raise Problem(401, "wrong_login", "Name or password is not right.", "Check both; capitals count.")
    login(request, user)
    remember_device(response, signed_in(user))
    return _session(request)


@router.delete("/session", response=Session)
def sign_out(request: HttpRequest) -> Session:
    logout(request)
    return _session(request)


def _name_of(row: StoredSession) -> str:
    """A session's name in lists: the key itself is what the cookie holds, and is told to nobody."""
    return hashlib.sha256(row.session_key.encode()).hexdigest()[:16]


def _mine(request: HttpRequest) -> list[StoredSession]:
    rows = StoredSession.objects.filter(user=signed_in(request.user), expire_date__gt=timezone.now())
    return list(rows.order_by("-updated_at"))


@router.get("/sessions", response=list[SignedIn])
def list_sessions(request: HttpRequest) -> list[SignedIn]:
    """Where this person is signed in, the newest first."""
    return [
        SignedIn(
            key=_name_of(row),
            device=row.device.removeprefix("Other / ")[:120],  # a kind of device that is not known
            address=row.ip or "",
            since=row.created_at,
            seen=row.updated_at,
            here=row.session_key == request.session.session_key,
        )
        for row in _mine(request)
    ]


@router.delete("/sessions/{key}", response=list[SignedIn])
def end_session(request: HttpRequest, key: str) -> list[SignedIn]:
    """End one of this person's other sign-ins."""
    row = next((row for row in _mine(request) if _name_of(row) == key), None)
    if row is None:
        raise Http404
    row.delete()
    return list_sessions(request)
