"""Evidence, its causes, and the water items that follow from them."""

from __future__ import annotations

import uuid

from django.db import transaction
from django.http import Http404

from core.assembly.control import control_layers
from core.readiness.reason import facts_of, remedies
from core.readiness.rules import rules
from server.problems import Problem
from server.projects.models import Element, HistoryEntry, name_of
from server.projects.permissions import User, editable_project
from server.projects.photos_named import check_photos
from server.survey.figures import Survey
from server.survey.models import Evidence, WaterItem
from server.survey.rows import element_of, row_of
from server.survey.schemas import CauseBody, EvidenceBody


@transaction.atomic
def keep_evidence(user: User, project_id: int, uid: str, body: EvidenceBody) -> Evidence:
    """A pin, made or changed. Sent twice with the same content it is still one pin and one history entry."""
    project = editable_project(user, project_id)
    element = element_of(project, body.element_id)
    pin = body.pin.model_dump(mode="json")
    row: Evidence | None = Evidence.objects.filter(project=project, uid=uid).first()
    if row is not None and (row.pin, row.element_id, row.photos) == (pin, body.element_id, list(body.photos)):
        return row
    row = row_of(Evidence.objects, project, uid, "This piece of evidence", body.base_revision)
    fresh = row is None
    if row is None:
        row = Evidence(project=project, uid=uid)
    else:
        row.revision += 1
    check_photos(project, body.photos, row.photos)
    row.element, row.pin, row.photos = element, pin, list(body.photos)
    row.save()
    name = rules().kind_name(body.pin.kind)
    where = f" at “{element.name}”" if element else ""
    HistoryEntry.write(project, user, "add evidence" if fresh else "change evidence", f"noted {name}{where}")
    project.save(update_fields=["changed_at"])
    return row


def editable_evidence(user: User, project_id: int, uid: str) -> Evidence:
    row: Evidence | None = Evidence.objects.editable_by(user).filter(project_id=project_id, uid=uid).first()
    if row is None:
        raise Http404
    return row


@transaction.atomic
def delete_evidence(user: User, project_id: int, uid: str) -> None:
    row = editable_evidence(user, project_id, uid)
    HistoryEntry.write(row.project, user, "delete evidence", f"removed {rules().kind_name(row.pin['kind'])}")
    row.delete()


@transaction.atomic
def confirm_cause(user: User, project_id: int, uid: str, body: CauseBody) -> Evidence:
    """Confirm the first proposal, or overrule it with a reason. The remedies become water items of the element."""
    row = editable_evidence(user, project_id, uid)
    names = {mechanism.id for mechanism in rules().mechanisms}
    if body.mechanism and body.mechanism not in names:
        raise Problem(422, "no_such_mechanism", f"There is no mechanism “{body.mechanism}”.", "Choose one of the list.")
    survey = Survey(row.project)
    facts = facts_of(row.seen, survey.of(row))
    first = survey.weighed(row).first  # close ones are told as close
    overruled = bool(body.mechanism) and body.mechanism not in first
    if overruled and not body.reason.strip():
        names_first = " and ".join(rules().mechanism_name(one) for one in first) or "nothing"
        raise Problem(
            422,
            "reason_missing",
            f"The rules point to {names_first} first; overruling them needs a reason.",
            "Write what you saw.",
        )
    row.confirm(body.mechanism, body.reason, name_of(user))
    row.save()
    for item in row.water_items.filter(state=WaterItem.OPEN).exclude(remedy=""):
        if item.evidence.count() == 1 and not item.photos:
            item.delete()  # proposed for the cause that is taken back, untouched so far
        else:
            item.evidence.remove(row)
    if body.mechanism and row.element is not None:
        _propose_items(row, row.element, body.mechanism, facts)
    words = rules().mechanism_name(body.mechanism) if body.mechanism else "no cause"
    HistoryEntry.write(
        row.project, user, "confirm cause", f"{words} for {rules().kind_name(row.pin['kind'])}: {body.reason}"
    )
    return row


def _propose_items(row: Evidence, element: Element, mechanism: str, facts: dict[str, list[str]]) -> None:
    for remedy in remedies(mechanism, facts):
        item = WaterItem.objects.filter(project=row.project, elements=element, remedy=remedy.id).first()
        if item is None:
            item = WaterItem.objects.create(
                project=row.project,
                uid=uuid.uuid4().hex,
                remedy=remedy.id,
                stage=remedy.stage,
                title=remedy.title_said.metric,
                shown_by=remedy.shown_by_said.metric,
                who=remedy.who,
            )
            item.elements.add(element)
        elif item.state != WaterItem.OPEN:
            continue_with = item.evidence.filter(pk=row.pk).exists()
            if not continue_with:
                item.reopen()
                item.revision += 1
                item.save()
        item.evidence.add(row)


def planned_in(elements: list[Element]) -> str:
    """Names of the chosen options that plan an air barrier for every element; refused where one does not."""
    names = []
    for element in elements:
        option = element.chosen
        air = None if option is None else control_layers(option.current, element.place).air
        if option is None or air is None or air.layer_id is None:
            raise Problem(
                422,
                "not_planned",
                f"No chosen option of “{element.name}” plans an airtight layer.",
                "Choose an option with a membrane, plaster or declared air barrier first.",
            )
        names.append(f"“{option.name}”")
    return ", ".join(dict.fromkeys(names))
