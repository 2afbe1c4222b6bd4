"""What every request passes first and every answer passes last.

Before anything of a body is read: is somebody signed in, and is it not too large? On the way back: private answers are kept by
no cache, and a refusal of the framework itself becomes problem+json like all others.
"""

from __future__ import annotations

import re
from collections.abc import Callable
from urllib.parse import unquote

from django.conf import settings
from django.contrib.auth.models import User
from django.http import HttpRequest, HttpResponse
from django.http.response import HttpResponseBase

from server.problems import of_status, respond
from server.projects.models import name_of

FORM_OVERHEAD = 64 * 1024
LARGEST_LOGIN = 16 * 1024
READS = ("GET", "HEAD", "OPTIONS")
OPEN_TO_STRANGERS = ("/api/session",)


def largest_body(path: str) -> int:
    """The most bytes a request to a path may carry."""
    for pattern, most in (
        (r"/api/session", LARGEST_LOGIN),
        (r"/api/projects/import", settings.LARGEST_IMPORT + FORM_OVERHEAD),
        (r"/api/projects/\d+/photos/[^/]+", settings.LARGEST_PHOTO + FORM_OVERHEAD),
        (r"/api/projects/\d+/bases/[^/]+/document", settings.LARGEST_DOCUMENT + FORM_OVERHEAD),
        (r"/api/climates(/look)?", settings.LARGEST_CLIMATE + FORM_OVERHEAD),
    ):
        if re.fullmatch(pattern, path):
            return most
    return settings.LARGEST_BODY


class FrontDoor:
    """Middleware; stands behind sessions and authentication, before anything that reads a body."""

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponseBase]) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponseBase:
        if not request.path.startswith("/api/"):
            # pages, the interface's files and /health are read; nothing of a body is, whatever it is sent to
            return self.get_response(request) if request.method in READS else of_status(405)
        answer = self._refused(request) or self._as_problem(self.get_response(request))
        if "Cache-Control" not in answer:
            answer["Cache-Control"] = "no-store"
        return answer

    def _refused(self, request: HttpRequest) -> HttpResponse | None:
        if (another := self._another(request)) is not None:
            return another
        if request.method in READS:
            return None
        if request.path not in OPEN_TO_STRANGERS and not request.user.is_authenticated:
            return of_status(401)
        return self._too_large(request)

    @staticmethod
    def _another(request: HttpRequest) -> HttpResponse | None:
        """A window that was opened by one person does not work for the next who signs in in the same browser."""
        told = request.headers.get("X-Person")
        if told is None or request.path in OPEN_TO_STRANGERS or not isinstance(request.user, User):
            return None
        if unquote(told) == request.user.username:
            return None
        return respond(
            401,
            "another_person",
            f"{name_of(request.user)} signed in in this browser meanwhile.",
            "Sign in again; what you typed is kept in this window.",
        )

    @staticmethod
    def _too_large(request: HttpRequest) -> HttpResponse | None:
        length = request.META.get("CONTENT_LENGTH") or "0"
        most = largest_body(request.path)
        if not length.isdecimal() or int(length) > most:
            size = f"{most // 1024**2} MB" if most >= 1024**2 else f"{most // 1024} kB"
            return respond(413, "too_large", f"This is larger than {size}; it was not read.", "Send something smaller.")
        return None

    @staticmethod
    def _as_problem(answer: HttpResponseBase) -> HttpResponseBase:
        if answer.status_code < 400 or answer.headers.get("Content-Type", "").startswith("application/problem+json"):
            return answer
        problem = of_status(answer.status_code)
        if "Allow" in answer:
            problem["Allow"] = answer["Allow"]
        return problem
