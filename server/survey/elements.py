"""Elements by hand, and one construction given to many."""

from __future__ import annotations

from typing import Any

from django.db import transaction

from core.buildup.model import BuildUp
from core.survey.record import FOLLOWING, following
from server.library.own import check_materials
from server.problems import Problem
from server.projects.models import NOT_STATED, Element, HistoryEntry, Option
from server.projects.permissions import User, editable_element, editable_project
from server.projects.photos_named import check_photos, layer_photos
from server.projects.schemas import ElementFields
from server.survey.schemas import ElementBody, GiveBody, NewElement
from server.survey.shape import close_opening


def check_element(fields: ElementFields) -> None:
    if fields.kind in ("window", "door") and fields.u_w_m2k is None:
        raise Problem(422, "u_missing", f"A {fields.kind} needs its U-value.", "Type U of frame and glass together.")
    if fields.occupancy.startswith("own-"):
        raise Problem(422, "own_series", "A measured indoor series belongs to the project.", "Set it in the project.")
    if fields.adjoining == "outside" and fields.factor_b != 1.0:
        raise Problem(
            422, "factor_b", "Factor b belongs to ground or an unheated space; outside it is 1.", "Set b to 1."
        )


@transaction.atomic
def create_element(user: User, project_id: int, fields: NewElement) -> Element:
    project = editable_project(user, project_id)
    check_element(fields)
    values = fields.model_dump(exclude={"build_up"})
    element = Element.objects.create(project=project, position=project.elements.count(), **values)
    if element.has_build_up:
        build_up = fields.build_up or BuildUp.model_validate(NOT_STATED)
        check_photos(project, layer_photos(build_up))
        check_materials(project, build_up)
        Option.objects.create(
            element=element, role=Option.AS_FOUND, name="As found", build_up=build_up.model_dump(mode="json")
        )
    HistoryEntry.write(project, user, "add element", f"added {element.kind} “{element.name}”")
    project.save(update_fields=["changed_at"])
    return element


@transaction.atomic
def change_element(user: User, element_id: int, fields: ElementBody) -> Element:
    """The fields of an element; those that leave what the shape says are kept as typed. 409 when changed meanwhile."""
    element = editable_element(user, element_id)
    check_element(fields)
    began = fields.began_from
    if began is not None and any(getattr(element, name) != value for name, value in began.model_dump().items()):
        raise Problem(
            409,
            "changed_meanwhile",
            f"“{element.name}” was changed in another window since you began.",
            "What you typed is kept here. Take theirs, or write yours over it.",
        )
    if (fields.kind in ("window", "door")) == element.has_build_up:
        raise Problem(
            422,
            "kind",
            "A window or door cannot become a wall, roof or floor, nor the other way round.",
            "Add a new element.",
        )
    before = {name: getattr(element, name) for name in ElementFields.model_fields}
    record = element.from_shape
    for name, value in fields.model_dump(exclude={"began_from"}).items():
        if record is not None and name in FOLLOWING:
            typed = value is not None and value != getattr(element, name) or name in element.typed
            element.corrected = [other for other in element.typed if other != name]
            says = record.value(name)
            if value is None:
                value = says
            elif typed and value != says:
                element.corrected = following([*element.typed, name])
        setattr(element, name, value)
    element.save()
    after = {name: getattr(element, name) for name in before}
    HistoryEntry.write(element.project, user, "change element", f"changed “{element.name}”", element, before, after)
    element.project.save(update_fields=["changed_at"])
    return element


@transaction.atomic
def delete_element(user: User, element_id: int) -> None:
    """A window or door of the shape leaves the shape too, so that its wall is whole again."""
    element = editable_element(user, element_id)
    HistoryEntry.write(element.project, user, "delete element", f"deleted “{element.name}”")
    key = element.shape_key
    element.delete()
    if key.startswith("opening/"):
        close_opening(element.project, key.removeprefix("opening/"))


GAVE = "give construction"


@transaction.atomic
def give_construction(user: User, project_id: int, body: GiveBody) -> HistoryEntry:
    """The as-found construction of one element to others of the project, there only assumed: nobody looked at it. Photos stay.

    What was typed of it and is not committed yet is committed first, since that is what one sees. Refused where one has no layers, or has
    options drawn on other layers already. The history entry has what stood before, so that it can be taken back.
    """
    project = editable_project(user, project_id)
    rows = {element.pk: element for element in project.elements.prefetch_related("options")}
    source = rows.get(body.from_element)
    if source is not None and source.has_build_up:
        _commit_draft(user, source)
    if source is None or not source.has_build_up or not source.as_found.current.is_stated:
        raise Problem(422, "nothing_to_give", "There is no construction to give.", "State its layers first.")
    before: dict[str, Any] = {}
    after: dict[str, Any] = {}
    for pk in dict.fromkeys(body.to_elements):
        element = rows.get(pk)
        if element is None or not element.has_build_up:
            raise Problem(422, "no_build_up", "One of the elements has no layers.", "Choose walls, roofs and floors.")
        if element.pk == source.pk:
            continue
        if len(element.options.all()) > 1:
            raise Problem(
                409,
                "has_options",
                f"“{element.name}” has options drawn on its own layers.",
                "Remove them first, or state its layers by hand.",
            )
        found = element.as_found
        layers = [
            {**layer.model_dump(mode="json"), "photo": "", "known": "assumed"}
            for layer in source.as_found.current.layers
        ]
        before[str(found.pk)] = {"build_up": found.build_up, "draft": found.draft}
        found.build_up, found.draft = {**source.as_found.build_up, "layers": layers}, None
        found.revision += 1
        found.save()
        after[str(found.pk)] = {"build_up": found.build_up, "draft": None}
    words = f"gave the construction of “{source.name}” to {len(after)} {'element' if len(after) == 1 else 'elements'}"
    entry = HistoryEntry.write(project, user, GAVE, words)
    entry.before, entry.after = before, after
    entry.save(update_fields=["before", "after"])
    project.save(update_fields=["changed_at"])
    return entry


@transaction.atomic
def take_construction_back(user: User, project_id: int, entry_id: int) -> int:
    """What stood before a construction was given, again; refused where one of the elements was changed since."""
    project = editable_project(user, project_id)
    entry = project.history.filter(pk=entry_id, action=GAVE).first()
    if entry is None or entry.before is None or entry.after is None:
        raise Problem(404, "nothing_given", "There is nothing to take back here.", "Load the page anew.")
    options = {
        str(option.pk): option for option in Option.objects.filter(element__project=project, pk__in=entry.before)
    }
    for key, stood in entry.after.items():
        option = options.get(key)
        if option is None or option.build_up != stood["build_up"] or option.draft is not None:
            name = "One of the elements" if option is None else f"“{option.element.name}”"
            raise Problem(
                409,
                "changed_meanwhile",
                f"{name} was changed since.",
                "State its layers by hand, or leave it as it is.",
            )
    for key, option in options.items():
        option.build_up, option.draft = entry.before[key]["build_up"], entry.before[key]["draft"]
        option.revision += 1
        option.save()
    HistoryEntry.write(project, user, "take construction back", f"took back: {entry.what}")
    project.save(update_fields=["changed_at"])
    return len(options)


def _commit_draft(user: User, element: Element) -> None:
    """What was typed of its construction, committed."""
    found = element.as_found
    if found.draft is None:
        return
    before = {"build_up": found.build_up}
    found.build_up, found.draft = BuildUp.model_validate(found.draft).model_dump(mode="json"), None
    found.revision += 1
    found.save()
    words = f"changed “{found.name}” of “{element.name}”"
    HistoryEntry.write(element.project, user, "change option", words, found, before, {"build_up": found.build_up})
