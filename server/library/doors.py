"""Own materials that a request names, in its path or anywhere in its body, are the person's, whatever the route does with them.

The core finds an own material by the hash of its content, whoever's it is; so who names it is asked here, once, where requests come in.
"""

from __future__ import annotations

import json
from collections.abc import Callable, Iterator
from typing import Any

from django.contrib.auth.models import User
from django.http import HttpRequest
from django.http.response import HttpResponseBase

from core.materials.library import is_own
from server.front import READS
from server.library.models import Edition
from server.library.own import named_by
from server.problems import of_status, respond
from server.projects.models import Option

SUFFIX = "@"  # a still air layer or a material as built has an id of its own behind it


def strings_of(value: Any) -> Iterator[str]:
    """Every string in a body, keys of objects too. Recursion is as deep as JSON was read."""
    if isinstance(value, str):
        yield value
    elif isinstance(value, dict):
        for key, one in value.items():
            yield from strings_of(key)
            yield from strings_of(one)
    elif isinstance(value, list):
        for one in value:
            yield from strings_of(one)


def foreign(user: User, body: Any) -> set[str]:
    """Ids of own materials in a body that are neither this person's nor stand in a build-up of theirs already."""
    named = {one.partition(SUFFIX)[0] for one in strings_of(body)}
    named = {one for one in named if is_own(one)}
    if named:
        named -= set(Edition.objects.viewable_by(user).filter(key__in=named).values_list("key", flat=True))
    if named:
        for build_up, draft in Option.objects.viewable_by(user).values_list("build_up", "draft").iterator():
            named -= named_by(build_up) | named_by(draft)
    return named


class OnesOwn:
    """Middleware; stands behind the front door, so that what it reads is somebody's and within its size. Forms are files, which are read by rules of their own."""

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponseBase]) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponseBase:
        return self.get_response(request)

    def process_view(
        self, request: HttpRequest, view: Any, args: Any, kwargs: dict[str, Any]
    ) -> HttpResponseBase | None:
        user = request.user
        if not isinstance(user, User):
            return None
        asked = [*map(str, kwargs.values()), *map(str, request.GET.values())]
        if any(map(is_own, asked)) and foreign(user, asked):
            return of_status(404)
        if request.method in READS or request.content_type == "multipart/form-data":
            return None
        raw = request.body
        if b"own-" not in raw and b"\\u" not in raw:
            return None
        try:
            body = json.loads(raw)
        except (ValueError, RecursionError):
            return None  # the route says what is wrong with it
        if foreign(user, body):
            return respond(
                422, "no_such_material", "A material is named that is not in the library.", "Choose another one."
            )
        return None
