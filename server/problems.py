"""Errors as the interface shows them: problem+json with a stable code, a sentence, and what to do."""

from __future__ import annotations

import errno
import json
import logging
import sys
from typing import Any

from django.core.exceptions import BadRequest, RequestDataTooBig, SuspiciousOperation
from django.db import OperationalError
from django.http import Http404, HttpRequest, HttpResponse, JsonResponse, UnreadablePostError
from django.http.multipartparser import MultiPartParserError
from ninja import NinjaAPI
from ninja.errors import AuthenticationError, HttpError, ValidationError
from pydantic import ValidationError as ModelError

from core.case import describe_problems
from core.errors import CoreError

log = logging.getLogger(__name__)
# A refusal names what is wrong; it never sends back what was sent.
LONGEST_MESSAGE, LONGEST_WORDS, LARGEST_LINES = 1000, 300, 1200
NO_ROOM = (errno.ENOSPC, errno.EDQUOT, errno.EFBIG)


class Problem(Exception):
    """A refusal with a status, a stable code, a sentence for people and what to do about it."""

    def __init__(self, status: int, code: str, message: str, remedy: str = "", **extra: Any) -> None:
        self.status, self.code, self.message, self.remedy, self.extra = status, code, message, remedy, extra
        super().__init__(message)


def _cut(text: str, most: int) -> str:
    """At most so many characters, and none that cannot be sent."""
    text = text.encode("utf-8", "replace").decode()
    return text if len(text) <= most else f"{text[: most - 1]}…"


def respond(status: int, code: str, message: str, remedy: str = "", **extra: Any) -> HttpResponse:
    """The response of a problem."""
    more = {key: _cut(value, LONGEST_WORDS) if isinstance(value, str) else value for key, value in extra.items()}
    body = {"code": code, "message": _cut(message, LONGEST_MESSAGE), "remedy": _cut(remedy, LONGEST_WORDS), **more}
    return JsonResponse(body, status=status, content_type="application/problem+json")


# What a refusal of the framework says, by its status.
OF_STATUS = {
    400: ("bad_request", "The request could not be read.", "Load the page anew and try again."),
    401: ("signed_out", "You are not signed in.", "Sign in; what you typed is kept in this window."),
    403: ("stale_page", "This page was opened before the last sign-in.", "Load the page anew."),
    404: ("not_found", "There is nothing here, or it is not yours.", "Go back to your projects."),
    405: ("not_allowed", "This cannot be done here.", "Load the page anew and try again."),
    413: ("too_large", "This is too large; it was not read.", "Send something smaller."),
    500: (
        "fault",
        "The program failed at this; it is written in its log.",
        "What was kept before is as it was. Try again.",
    ),
}


def _within(lines: list[str]) -> str:
    """As many lines as an answer of a reasonable size holds; how many more there are is said."""
    size = 0
    kept: list[str] = []
    for line in lines:
        size += len(json.dumps(line))
        if size > LARGEST_LINES and kept:
            return "\n".join([*kept, f"… and {len(lines) - len(kept)} more"])
        kept.append(line)
    return "\n".join(kept)


def of_status(status: int) -> HttpResponse:
    """The problem of a status that the framework gave."""
    return respond(status, *OF_STATUS.get(status, OF_STATUS[400]))


def of_the_machine(error: BaseException) -> Problem | None:
    """What a full disk, read-only data or a busy database say to people; None for anything else."""
    words = str(error).lower()
    database = isinstance(error, OperationalError)
    if (isinstance(error, OSError) and error.errno in NO_ROOM) or (
        database and ("full" in words or "disk i/o" in words)
    ):
        return Problem(
            507,
            "no_room",
            "The disk of the server is full, or fails; this was not kept.",
            "Everything kept before is there. Tell whoever runs the server, and try again.",
        )
    if (isinstance(error, OSError) and error.errno in (errno.EROFS, errno.EACCES, errno.EPERM)) or (
        database and ("readonly" in words or "unable to open" in words)
    ):
        return Problem(
            503,
            "read_only",
            "The data of the server cannot be written at present; this was not kept.",
            "Everything kept before is there. Tell whoever runs the server, and try again.",
        )
    if database and "locked" in words:
        return Problem(503, "busy", "The server is busy with something large.", "Try again in a moment.")
    return None


def failed(request: HttpRequest) -> HttpResponse:
    """What Django answers where something failed outside the API's own handlers: a session that could not be kept, say."""
    error = sys.exc_info()[1]
    known = of_the_machine(error) if error is not None else None
    if known is not None:
        return respond(known.status, known.code, known.message, known.remedy)
    return of_status(500)


def install(api: NinjaAPI) -> None:
    """One handler for each family of errors."""

    @api.exception_handler(Problem)
    def _problem(request: HttpRequest, error: Problem) -> HttpResponse:
        return respond(error.status, error.code, error.message, error.remedy, **error.extra)

    @api.exception_handler(CoreError)
    def _core(request: HttpRequest, error: CoreError) -> HttpResponse:
        return respond(422, error.code, error.message, where=error.where)

    @api.exception_handler(ModelError)
    def _model(request: HttpRequest, error: ModelError) -> HttpResponse:
        return respond(
            422, "invalid", _within(describe_problems(error).split("\n")), "Correct the value named and try again."
        )

    @api.exception_handler(ValidationError)
    def _validation(request: HttpRequest, error: ValidationError) -> HttpResponse:
        lines = []
        for each in error.errors[:12]:
            place = ".".join(str(part) for part in each["loc"][2:]) or ".".join(str(part) for part in each["loc"])
            lines.append(f"{_cut(place, 80)}: {_cut(str(each['msg']).removeprefix('Value error, '), LONGEST_WORDS)}")
        return respond(422, "invalid", _within(lines), "Correct the value named and try again.")

    @api.exception_handler(Http404)
    def _missing(request: HttpRequest, error: Http404) -> HttpResponse:
        return of_status(404)

    @api.exception_handler(AuthenticationError)
    def _stranger(request: HttpRequest, error: AuthenticationError) -> HttpResponse:
        return of_status(401)

    @api.exception_handler(HttpError)
    def _unreadable(request: HttpRequest, error: HttpError) -> HttpResponse:
        return of_status(error.status_code)

    @api.exception_handler(Exception)
    def _anything(request: HttpRequest, error: Exception) -> HttpResponse:
        if isinstance(error, RequestDataTooBig):
            return of_status(413)
        if isinstance(error, SuspiciousOperation | BadRequest | MultiPartParserError | UnreadablePostError):
            return of_status(400)
        if isinstance(error, OverflowError) and "SQLite INTEGER" in str(error):
            return of_status(404)  # no row has such a number
        known = of_the_machine(error)
        if known is not None:
            log.warning("%s %s: %s", request.method, request.path, error)
            return respond(known.status, known.code, known.message, known.remedy)
        log.exception("%s %s", request.method, request.path)
        return of_status(500)
