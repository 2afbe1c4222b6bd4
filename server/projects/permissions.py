"""Who may see what: somebody else's is missing, never forbidden."""

from __future__ import annotations

from django.contrib.auth.models import AbstractBaseUser, AnonymousUser
from django.http import Http404

from server.projects.models import Element, Option, Project

User = AbstractBaseUser | AnonymousUser


def visible_project(user: User, project_id: int) -> Project:
    """The project, or 404 whether it is missing or somebody else's."""
    project = Project.objects.visible_to(user).filter(pk=project_id).first()
    if project is None:
        raise Http404
    return project


def visible_element(user: User, element_id: int) -> Element:
    element = Element.objects.visible_to(user).select_related("project").filter(pk=element_id).first()
    if element is None:
        raise Http404
    return element


def visible_option(user: User, option_id: int) -> Option:
    option = Option.objects.visible_to(user).select_related("element__project").filter(pk=option_id).first()
    if option is None:
        raise Http404
    return option
