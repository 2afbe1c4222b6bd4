"""One row for somebody: to be looked at, or to be changed. What is somebody else's is missing, never forbidden."""

from __future__ import annotations

from django.contrib.auth.models import AbstractBaseUser, AnonymousUser
from django.http import Http404

from server.projects.models import Element, Guarded, Option, Project, Scheme

# What `Element.chosen` and its like read.
CHOICES = ("choices__scheme", "choices__option")
User = AbstractBaseUser | AnonymousUser


def viewable_project(user: User, project_id: int) -> Project:
    return _project(Project.objects.viewable_by(user), project_id)


def editable_project(user: User, project_id: int) -> Project:
    return _project(Project.objects.editable_by(user), project_id)


def viewable_element(user: User, element_id: int) -> Element:
    return _element(Element.objects.viewable_by(user), element_id)


def editable_element(user: User, element_id: int) -> Element:
    return _element(Element.objects.editable_by(user), element_id)


def viewable_option(user: User, option_id: int) -> Option:
    return _option(Option.objects.viewable_by(user), option_id)


def editable_option(user: User, option_id: int) -> Option:
    return _option(Option.objects.editable_by(user), option_id)


def viewable_scheme(user: User, scheme_id: int) -> Scheme:
    return _scheme(Scheme.objects.viewable_by(user), scheme_id)


def editable_scheme(user: User, scheme_id: int) -> Scheme:
    return _scheme(Scheme.objects.editable_by(user), scheme_id)


def _scheme(rows: Guarded, pk: int) -> Scheme:
    row: Scheme | None = rows.select_related("project").filter(pk=pk).first()
    if row is None:
        raise Http404
    return row


def _project(rows: Guarded, pk: int) -> Project:
    row: Project | None = rows.filter(pk=pk).first()
    if row is None:
        raise Http404
    return row


def _element(rows: Guarded, pk: int) -> Element:
    row: Element | None = rows.select_related("project").prefetch_related(*CHOICES).filter(pk=pk).first()
    if row is None:
        raise Http404
    return row


def _option(rows: Guarded, pk: int) -> Option:
    row: Option | None = rows.select_related("element__project").filter(pk=pk).first()
    if row is None:
        raise Http404
    return row
