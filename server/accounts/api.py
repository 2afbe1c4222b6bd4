"""Sign in and out. Login carries the CSRF check itself: it has no session to hang it on."""

from __future__ import annotations

from typing import Any

from django.contrib.auth import authenticate, login, logout
from django.http import HttpRequest
from django.middleware.csrf import get_token
from django.views.decorators.csrf import csrf_protect
from ninja import Router
from ninja.decorators import decorate_view

from server.problems import Problem
from server.projects.models import name_of
from server.projects.schemas import LoginBody, Person, Session

router = Router(tags=["session"])


def _session(request: HttpRequest) -> Session:
    user: Any = request.user
    person = Person(username=user.username, name=name_of(user)) if user.is_authenticated else None
    return Session(person=person, csrf_token=get_token(request))


@router.get("/session", response=Session, auth=None)
def who(request: HttpRequest) -> Session:
    """Who is signed in, and the CSRF token for what follows."""
    return _session(request)


@router.post("/session", response=Session, auth=None)
@decorate_view(csrf_protect)
def sign_in(request: HttpRequest, body: LoginBody) -> Session:
    user = authenticate(request, username=body.username, password=body.password)
    if user is None:
        raise Problem(401, "wrong_login", "Name or password is not right.", "Check both; capitals count.")
    login(request, user)
    return _session(request)


@router.delete("/session", response=Session)
def sign_out(request: HttpRequest) -> Session:
    logout(request)
    return _session(request)
