"""What was decided about an element, entry by entry with before and after; what was changed is put back by a press."""

from __future__ import annotations

from datetime import datetime

from django.db import transaction
from django.db.models import Q
from django.http import Http404, HttpRequest
from ninja import Router, Schema
from pydantic import ValidationError

from core.buildup.model import BuildUp
from server.options.actions import choose_option
from server.problems import Problem
from server.projects.models import Element, HistoryEntry
from server.projects.permissions import User, editable_element, viewable_element
from server.schemes.actions import reject_option

router = Router(tags=["schemes"])
CHOSE, REJECTED, REMOVED = "choose option", "reject option", "delete option"
MOST = 60


class DecisionOut(Schema):
    """One entry: was and is in words; back: what a press would do, "" where nothing can be put back.

    scheme: whose choice it was, where there are several; a choice of another scheme than the shown one is put back there.
    """

    id: int
    at: datetime
    person: str
    what: str
    was: str
    now: str
    scheme: str
    back: str


def _entries(element: Element) -> list[HistoryEntry]:
    options = list(element.options.values_list("pk", flat=True))
    mine = Q(kind="element", row=element.pk, action__in=(CHOSE, REMOVED)) | Q(
        kind="option", row__in=options, action=REJECTED
    )
    return list(element.project.history.filter(mine)[:MOST])


def decisions_of(element: Element) -> list[DecisionOut]:
    """Newest first. The newest choice is how it stands; an older one can be put back."""
    names = {option.pk: option.name for option in element.options.all()}
    there = set(names.values())
    schemes = {scheme.pk: scheme.name for scheme in element.project.schemes.all()}
    shown = element.project.shown_scheme().pk
    found = []
    for entry in _entries(element):
        before, after = entry.before or {}, entry.after or {}
        was = now = back = scheme = ""
        if entry.action == CHOSE:
            of = _scheme_of(entry, schemes)
            scheme = (
                "" if len(schemes) == 1 and of in schemes else schemes.get(of, "a scheme that is not known any more")
            )
            was, now = (_chosen(values, names) for values in (before, after))
            if of == shown and "option" in before and (before["option"] is None or before["option"] in names):
                back = "Put back what was chosen before"
        elif entry.action == REJECTED:
            was, now = (values.get("rejected") or "not rejected" for values in (before, after))
            back = "Put back" if entry.row in names else ""
        elif isinstance(before.get("option"), dict):
            was, now = str(before["option"].get("name", "")), "removed"
            back = "" if was in there else "Bring it back"
        found.append(
            DecisionOut(
                id=entry.pk,
                at=entry.at,
                person=entry.person,
                what=entry.what,
                was=was,
                now=now,
                scheme=scheme,
                back=back,
            )
        )
    return found


def _scheme_of(entry: HistoryEntry, schemes: dict[int, str]) -> int:
    """The scheme of a choice; 0 where an entry of before says none and there are several it could be of."""
    said = (entry.after or {}).get("scheme")
    if isinstance(said, int):
        return said
    return next(iter(schemes)) if len(schemes) == 1 else 0


def _chosen(values: dict[str, object], names: dict[int, str]) -> str:
    """Only what differs is kept: a choice of the same option for another reason has no option in it."""
    if "option" not in values:
        return f"because: {values['reason']}" if values.get("reason") else "the same"
    pk = values["option"]
    if pk is None:
        return "nothing chosen"
    name = names.get(pk, "an option that is gone") if isinstance(pk, int) else "an option that is gone"
    return f"{name}: {values['reason']}" if values.get("reason") else name


@transaction.atomic
def put_back(user: User, element_id: int, entry_id: int) -> Element:
    """What an entry changed is as it was before it; a new entry says so."""
    element = editable_element(user, element_id)
    entry = next((one for one in _entries(element) if one.pk == entry_id), None)
    if entry is None:
        raise Http404
    before = entry.before or {}
    gone = Problem(409, "cannot_be_put_back", "What was there before is gone.", "Load the page anew.")
    if entry.action == CHOSE:
        pk = before.get("option")
        project = element.project
        of = _scheme_of(entry, {scheme.pk: scheme.name for scheme in project.schemes.all()})
        if of != project.shown_scheme().pk:
            raise Problem(409, "another_scheme", "This was chosen in another scheme.", "Show that scheme first.")
        if "option" not in before or (pk is not None and pk not in set(element.options.values_list("pk", flat=True))):
            raise gone
        return choose_option(user, element.pk, pk, str(before.get("reason") or "put back as it was"))
    if entry.action == REJECTED:
        option = element.options.filter(pk=entry.row or 0).first()
        if option is None:
            raise gone
        reject_option(user, option.pk, str(before.get("rejected") or ""))
        return element
    values = before.get("option")
    if not isinstance(values, dict) or element.options.filter(name=values.get("name")).exists():
        raise gone
    try:
        build_up = BuildUp.model_validate(values["build_up"])
    except (KeyError, ValidationError) as error:
        raise gone from error
    option = element.add_option(str(values["name"])[:120], build_up, str(values.get("school", ""))[:60])
    option.works, option.checks = values.get("works") or [], values.get("checks") or []
    rejected = values.get("rejected") or {}
    option.rejected_reason, option.rejected_by = str(rejected.get("reason", "")), str(rejected.get("by", ""))[:150]
    option.save()
    HistoryEntry.write(element.project, user, "bring back", f"brought back “{option.name}” of “{element.name}”", option)
    return element


@router.get("/elements/{element_id}/decisions", response=list[DecisionOut])
def read_decisions(request: HttpRequest, element_id: int) -> list[DecisionOut]:
    """What was chosen, rejected and removed, by whom and when, with what was before."""
    return decisions_of(viewable_element(request.user, element_id))


@router.post("/elements/{element_id}/decisions/{entry_id}/back", response=list[DecisionOut])
def take_back(request: HttpRequest, element_id: int, entry_id: int) -> list[DecisionOut]:
    return decisions_of(put_back(request.user, element_id, entry_id))
