"""Who knocks: the client's address behind stated proxies, devices that a person has signed in from, and how many tries an address or a name has."""

from __future__ import annotations

import hashlib
from collections.abc import Callable, Mapping
from datetime import timedelta
from typing import Any

from axes.models import AccessAttempt  # type: ignore[import-untyped]
from django.conf import settings
from django.contrib.auth.models import User
from django.db.models import Sum
from django.http import HttpRequest, HttpResponse
from django.http.response import HttpResponseBase
from django.utils import timezone

DEVICE_AGE = timedelta(days=400)  # the most that browsers keep a cookie
SALT = "wendrick.device"


class BehindProxies:
    """Middleware, the first: behind PROXIES trusted proxies the client is the one that the outermost of them saw.

    Each proxy appends the address that it was asked from to X-Forwarded-For, so that the last PROXIES entries are theirs and what stands before them may be
    anything. Without proxies, or with fewer entries than there are proxies, the connection's own address stays.
    """

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponseBase]) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponseBase:
        seen = [one.strip() for one in request.META.get("HTTP_X_FORWARDED_FOR", "").split(",") if one.strip()]
        if 0 < settings.PROXIES <= len(seen):
            request.META["REMOTE_ADDR"] = seen[-settings.PROXIES][:45]
        return self.get_response(request)


def _cookie_of(username: str) -> str:
    return f"known-{hashlib.sha256(username.encode()).hexdigest()[:16]}"


def remember_device(response: HttpResponse, user: User) -> None:
    """This browser has been signed in from by this person, until the password changes."""
    response.set_signed_cookie(
        _cookie_of(user.username), user.get_session_auth_hash()[:16], salt=SALT + user.username, max_age=int(DEVICE_AGE.total_seconds()), httponly=True,
        secure=settings.HTTPS, samesite="Lax",
    )  # fmt: skip


def known_device(request: HttpRequest, credentials: Mapping[str, Any] | None) -> bool:
    """Whether this browser is one that the person who is named has signed in from. Such a one is never locked out by what others try."""
    name = str((credentials or {}).get("username", ""))
    told = request.get_signed_cookie(_cookie_of(name), default=None, salt=SALT + name)
    user = User.objects.filter(username=name).first() if told else None
    return user is not None and told == user.get_session_auth_hash()[:16]


def tried_too_often(request: HttpRequest, username: str) -> bool:
    """Whether a name, from wherever, or an address, for whatever names, has had too many wrong passwords of late. One name from one address waits by
    AXES_FAILURE_LIMIT; this is for who spreads the tries."""
    lately = AccessAttempt.objects.filter(attempt_time__gt=timezone.now() - settings.AXES_COOLOFF_TIME)
    for field, value, most in (
        ("username", username, settings.MOST_TRIES_OF_A_NAME),
        ("ip_address", request.META.get("REMOTE_ADDR", ""), settings.MOST_TRIES_OF_AN_ADDRESS),
    ):
        tries = lately.filter(**{field: value}).aggregate(tries=Sum("failures_since_start"))["tries"] or 0
        if tries >= most:
            return True
    return False
