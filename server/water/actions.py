"""One action per use case of Water."""

from __future__ import annotations

from django.db import transaction
from django.http import Http404
from django.utils import timezone

from core.readiness.rules import rules
from server.problems import Problem
from server.projects.models import Element, HistoryEntry, name_of
from server.projects.permissions import User, editable_element, editable_project
from server.projects.photos_named import check_photos
from server.survey.evidence import planned_in
from server.survey.models import WaterItem
from server.survey.rows import element_of, row_of
from server.water.schemas import LookedAtBody, OverrideBody, WaterItemBody


@transaction.atomic
def keep_water_item(user: User, project_id: int, uid: str, body: WaterItemBody) -> WaterItem:
    project = editable_project(user, project_id)
    if body.stage not in {stage.id for stage in rules().stages}:
        raise Problem(422, "no_such_stage", f"There is no stage “{body.stage}”.", "Choose one of the list.")
    elements = [element_of(project, pk) for pk in body.elements]
    if not elements:
        raise Problem(422, "no_element", "A water item concerns at least one element.", "Choose the element.")
    row: WaterItem | None = row_of(WaterItem.objects, project, uid, "This water item", body.base_revision)
    fresh = row is None
    if row is None:
        row = WaterItem(project=project, uid=uid)
    else:
        row.revision += 1
    before = row.state
    check_photos(project, body.photos, row.photos)
    evidence = list(project.evidence.filter(uid__in=body.evidence))
    if set(body.evidence) - {entry.uid for entry in evidence}:
        raise Problem(422, "no_such_evidence", "The item names evidence that is not in this project.", "Load it anew.")
    row.stage, row.title, row.shown_by, row.who = body.stage, body.title, body.shown_by, body.who
    row.due, row.reason, row.photos = body.due, body.reason, list(body.photos)
    if body.state != before or fresh:
        if body.state == WaterItem.CLOSED:
            row.close(name_of(user), body.closed_on)
        elif body.state == WaterItem.NOT_NEEDED:
            row.strike_out(name_of(user), body.reason)
        elif body.state == WaterItem.PLANNED:
            row.plan(name_of(user), planned_in([element for element in elements if element is not None]))
        else:
            row.reopen()
    row.save()
    row.elements.set([element for element in elements if element is not None])
    row.evidence.set(evidence)
    what = "add water item" if fresh else f"water item {row.state}" if row.state != before else "change water item"
    HistoryEntry.write(project, user, what, f"“{row.title}” is {row.state}")
    project.save(update_fields=["changed_at"])
    return row


@transaction.atomic
def delete_water_item(user: User, project_id: int, uid: str) -> None:
    row = WaterItem.objects.editable_by(user).filter(project_id=project_id, uid=uid).first()
    if row is None:
        raise Http404
    HistoryEntry.write(row.project, user, "delete water item", f"removed “{row.title}”")
    row.delete()


@transaction.atomic
def note_looked_at(user: User, element_id: int, body: LookedAtBody) -> Element:
    """Somebody looked, and found no more than the pins say."""
    element = editable_element(user, element_id)
    element.looked_at_by = name_of(user) if body.looked_at else ""
    element.looked_at_on = (body.on or timezone.localdate()) if body.looked_at else None
    element.looked_at_note = body.note if body.looked_at else ""
    element.save()
    words = "looked at" if body.looked_at else "took back the look at"
    HistoryEntry.write(element.project, user, "look at element", f"{words} “{element.name}”")
    return element


@transaction.atomic
def override_readiness(user: User, element_id: int, body: OverrideBody) -> Element:
    element = editable_element(user, element_id)
    reason, name = body.reason.strip(), body.name.strip()
    if bool(reason) != bool(name):
        raise Problem(
            422, "override_incomplete", "An override needs the reason and the name of who decided.", "Write both."
        )
    element.override_reason, element.override_by = reason, name
    element.override_at = timezone.now() if reason else None
    element.save()
    words = (
        f"“{element.name}” ready by override of {name}: {reason}"
        if reason
        else f"took back the override of “{element.name}”"
    )
    HistoryEntry.write(element.project, user, "override readiness", words)
    return element
