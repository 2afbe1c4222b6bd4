"""Photos that layers and rows name."""

from __future__ import annotations

from collections.abc import Iterable
from typing import Any

from core.buildup.model import BuildUp
from server.problems import Problem
from server.projects.models import Project


def forget_photo(build_up: dict[str, Any] | None, uid: str) -> bool:
    """Take a photo off the layers of a kept build-up, in place; whether one named it."""
    layers = [layer for layer in (build_up or {}).get("layers", []) if layer.get("photo") == uid]
    for layer in layers:
        layer["photo"] = ""
    return bool(layers)


def check_photos(project: Project, named: Iterable[str], before: Iterable[str] = ()) -> None:
    """Photos that a row or a layer names are photos of its project; what stood there before may stay."""
    fresh = set(named) - set(before) - {""}
    if fresh - set(project.photos.filter(uid__in=fresh).values_list("uid", flat=True)):
        raise Problem(422, "no_such_photo", "A photo is named that is not in this project.", "Take the photo again.")


def layer_photos(build_up: dict[str, Any] | BuildUp) -> list[str]:
    """The photos that the layers of a build-up name; "" where a layer has none."""
    if isinstance(build_up, BuildUp):
        return [layer.photo for layer in build_up.layers]
    return [layer.get("photo", "") for layer in build_up["layers"]]
