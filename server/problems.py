"""Errors as the interface shows them: problem+json with a stable code, a sentence, and what to do."""

from __future__ import annotations

from typing import Any

from django.http import Http404, HttpRequest, HttpResponse, JsonResponse
from ninja import NinjaAPI
from ninja.errors import AuthenticationError, ValidationError
from pydantic import ValidationError as ModelError

from core.case import describe_problems
from core.errors import CoreError


class Problem(Exception):
    """A refusal with a status, a stable code, a sentence for people and what to do about it."""

    def __init__(self, status: int, code: str, message: str, remedy: str = "", **extra: Any) -> None:
        self.status, self.code, self.message, self.remedy, self.extra = status, code, message, remedy, extra
        super().__init__(message)


def respond(status: int, code: str, message: str, remedy: str = "", **extra: Any) -> HttpResponse:
    """The response of a problem."""
    body = {"code": code, "message": message, "remedy": remedy, **extra}
    return JsonResponse(body, status=status, content_type="application/problem+json")


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
        return respond(422, "invalid", describe_problems(error), "Correct the value named and try again.")

    @api.exception_handler(ValidationError)
    def _validation(request: HttpRequest, error: ValidationError) -> HttpResponse:
        lines = []
        for each in error.errors[:12]:
            place = ".".join(str(part) for part in each["loc"][2:]) or ".".join(str(part) for part in each["loc"])
            lines.append(f"{place}: {str(each['msg']).removeprefix('Value error, ')}")
        return respond(422, "invalid", "\n".join(lines), "Correct the value named and try again.")

    @api.exception_handler(Http404)
    def _missing(request: HttpRequest, error: Http404) -> HttpResponse:
        return respond(404, "not_found", "There is nothing here, or it is not yours.", "Go back to your projects.")

    @api.exception_handler(AuthenticationError)
    def _stranger(request: HttpRequest, error: AuthenticationError) -> HttpResponse:
        return respond(401, "signed_out", "You are not signed in.", "Sign in; what you typed is kept in this window.")
