"""Rows that are written on site: found, checked for a change meanwhile."""

from __future__ import annotations

from typing import Any

from server.problems import Problem
from server.projects.models import Element, Project


def check_revision(what: str, current: int, begun: int | None) -> None:
    if begun is not None and begun != current:
        raise Problem(
            409,
            "changed_meanwhile",
            f"{what} was changed in another window since you began.",
            "What you typed is kept here. Take theirs, or write yours over it.",
            revision=current,
        )


def row_of(rows: Any, project: Project, uid: str, what: str, begun: int | None) -> Any:
    row = rows.filter(project=project, uid=uid).first()
    if row is not None:
        check_revision(what, row.revision, begun)
    return row


def element_of(project: Project, element_id: int | None) -> Element | None:
    if element_id is None:
        return None
    element = project.elements.filter(pk=element_id).first()
    if element is None:
        raise Problem(422, "no_such_element", "The element is not part of this project.", "Choose another element.")
    return element
