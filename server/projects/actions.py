"""One action per use case: checks permission, changes in one transaction, writes one history entry."""

from __future__ import annotations

from collections.abc import Iterable
from typing import Any

from django.contrib.auth.models import AbstractBaseUser, AnonymousUser
from django.db import transaction
from django.http import Http404
from django.utils import timezone

from core.buildup.levers import LEVERS, LeverKey, with_lever
from core.buildup.model import BuildUp
from core.buildup.variants import membrane_variants
from core.climate.data import shipped_names
from core.criteria.judging import checked_limits
from core.criteria.registry import LIMITS
from core.survey.geometry import derive
from core.survey.record import FOLLOWING, FOLLOWING_BUILDING, following
from server.problems import Problem
from server.projects.models import ClimateFile, Element, HistoryEntry, Option, Project, name_of, signed_in
from server.projects.schemas import (
    ElementBody,
    ElementFields,
    GiveBody,
    LimitsBody,
    NewElement,
    NewOption,
    OptionBody,
    ProjectBody,
    ProjectFields,
)

User = AbstractBaseUser | AnonymousUser
NOT_STATED: dict[str, Any] = {"layers": []}  # nobody has said what it is made of; nothing is made up


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


# Fields of a project as people call them.
PROJECT_WORDS = {
    "occupancy": "indoor air",
    "set_point_c": "set point",
    "start_rh": "start of the runs",
    "works_on": "day of the works",
    "volume_m3": "heated volume",
    "floor_area_m2": "floor area",
    "air_kind": "kind of air changes",
    "air_value": "air changes",
    "air_value_after": "air changes aimed at",
}


def check_climate(user: User, fields: ProjectFields, project: Project | None = None) -> None:
    """Climate and indoor series are shipped ones or of this person's own; what a project has already may stay."""
    if project is not None and (project.climate, project.occupancy) == (fields.climate, fields.occupancy):
        return
    own = ClimateFile.objects.visible_to(user)
    if fields.occupancy.startswith("own-") and not own.filter(name=fields.occupancy, kind=ClimateFile.INDOOR).exists():
        raise Problem(422, "no_such_series", "This indoor series is not among your files.", "Import it under Climates.")
    if fields.climate not in shipped_names() and not own.filter(name=fields.climate, kind=ClimateFile.WEATHER).exists():
        raise Problem(
            422,
            "no_such_climate",
            f"There is no climate “{fields.climate}”.",
            f"Choose one of: {', '.join(shipped_names())}, or import your own under Climates.",
        )


@transaction.atomic
def create_project(user: User, fields: ProjectFields) -> Project:
    check_climate(user, fields)
    project = Project.objects.create(owner=signed_in(user), **fields.model_dump())
    HistoryEntry.write(project, user, "create project", f"made “{project.name}”")
    return project


@transaction.atomic
def change_project(user: User, project_id: int, fields: ProjectBody) -> Project:
    """What was changed since the edit began; 409 where another window changed one of the same fields to something else."""
    project = visible_project(user, project_id)
    kept = {name: getattr(project, name) for name in ProjectFields.model_fields}
    sent = fields.model_dump(include=set(ProjectFields.model_fields))
    began = kept if fields.began_from is None else fields.began_from.model_dump()
    mine = {name: value for name, value in sent.items() if fields.began_from is None or value != began[name]}
    for name, value in mine.items():
        if kept[name] not in (began[name], value):
            raise Problem(
                409,
                "changed_meanwhile",
                f"“{PROJECT_WORDS.get(name, name)}” was changed in another window since you began.",
                "Load the page anew to see theirs, then type yours again.",
            )
    check_climate(user, ProjectFields.model_validate({**kept, **mine}), project)
    changed = [name for name, value in mine.items() if kept[name] != value]
    typed = [name for name in FOLLOWING_BUILDING if name in changed and project.current_shape.bodies]
    project.corrected = sorted({*project.typed, *typed})
    for name in changed:
        setattr(project, name, mine[name])
    if project.current_shape.bodies:
        _give_back_to_the_shape(project)
    project.save()
    words = ", ".join(PROJECT_WORDS.get(name, name) for name in changed)
    HistoryEntry.write(project, user, "change project", f"changed {words or 'nothing'}")
    return project


def _give_back_to_the_shape(project: Project) -> None:
    """A figure of the building that was emptied, or typed as the shape has it, follows the shape again."""
    building = derive(project.current_shape)
    for name in project.typed:
        typed, says = getattr(project, name), round(getattr(building, name), 2)
        if typed is None or abs(typed - says) < 0.005:
            setattr(project, name, says)
            project.corrected = [other for other in project.typed if other != name]


@transaction.atomic
def delete_project(user: User, project_id: int) -> None:
    from server.survey.actions import forget_photos

    visible_project(user, project_id).delete()
    transaction.on_commit(lambda: forget_photos(project_id))


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
    project = visible_project(user, project_id)
    check_element(fields)
    values = fields.model_dump(exclude={"build_up"})
    element = Element.objects.create(project=project, position=project.elements.count(), **values)
    if element.has_build_up:
        build_up = fields.build_up or BuildUp.model_validate(NOT_STATED)
        check_photos(project, _layer_photos(build_up))
        Option.objects.create(
            element=element, role=Option.AS_FOUND, name="As found", build_up=build_up.model_dump(mode="json")
        )
    HistoryEntry.write(project, user, "add element", f"added {element.kind} “{element.name}”")
    project.save(update_fields=["changed_at"])
    return element


@transaction.atomic
def change_element(user: User, element_id: int, fields: ElementBody) -> Element:
    """The fields of an element; those that leave what the shape says are kept as typed. 409 when changed meanwhile."""
    element = visible_element(user, element_id)
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
    HistoryEntry.write(element.project, user, "change element", f"changed “{element.name}”")
    element.project.save(update_fields=["changed_at"])
    return element


@transaction.atomic
def delete_element(user: User, element_id: int) -> None:
    """A window or door of the shape leaves the shape too, so that its wall is whole again."""
    from server.survey.actions import close_opening

    element = visible_element(user, element_id)
    HistoryEntry.write(element.project, user, "delete element", f"deleted “{element.name}”")
    key = element.shape_key
    element.delete()
    if key.startswith("opening/"):
        close_opening(element.project, key.removeprefix("opening/"))


@transaction.atomic
def give_construction(user: User, project_id: int, body: GiveBody) -> int:
    """The as-found construction of one element to others of the project; layers keep how they are known, photos stay.

    Refused where one has no layers, or has options drawn on other layers already.
    """
    project = visible_project(user, project_id)
    rows = {element.pk: element for element in project.elements.prefetch_related("options")}
    source = rows.get(body.from_element)
    if source is None or not source.has_build_up or not source.as_found.current.is_stated:
        raise Problem(422, "nothing_to_give", "There is no construction to give.", "State its layers first.")
    given = 0
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
        layers = [{**layer.model_dump(mode="json"), "photo": ""} for layer in source.as_found.current.layers]
        found.build_up, found.draft = {**source.as_found.build_up, "layers": layers}, None
        found.revision += 1
        found.save()
        given += 1
    HistoryEntry.write(
        project, user, "give construction", f"gave the construction of “{source.name}” to {given} elements"
    )
    project.save(update_fields=["changed_at"])
    return given


@transaction.atomic
def edit_limits(user: User, project_id: int, body: LimitsBody) -> Project:
    """Limits that differ from their defaults; verdicts follow at once, without a run."""
    project = visible_project(user, project_id)
    edited = {limit.key: limit.value for limit in body.limits}
    values = checked_limits(LIMITS, edited)  # refuses what is no limit, or out of its range
    defaults = checked_limits(LIMITS, {})
    project.limits = {key: value for key, value in values.items() if value != defaults[key]}
    project.save(update_fields=["limits", "changed_at"])
    HistoryEntry.write(project, user, "edit limits", f"{len(project.limits)} limits differ from their defaults")
    return project


@transaction.atomic
def try_lever(user: User, option_id: int, key: LeverKey) -> Element:
    """A new option: this one with something outside that keeps the rain out."""
    option = visible_option(user, option_id)
    element = option.element
    build_up = with_lever(option.current, key)
    position = max(element.options.values_list("position", flat=True), default=0) + 1
    name = f"{option.name[:70]}, with {LEVERS[key].split(',')[0]}"
    Option.objects.create(
        element=element,
        position=position,
        name=name[:120],
        school=option.school,
        build_up=build_up.model_dump(mode="json"),
    )
    HistoryEntry.write(element.project, user, "try lever", f"added “{name[:120]}” to “{element.name}”")
    return element


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


def _layer_photos(build_up: dict[str, Any] | BuildUp) -> list[str]:
    """The photos that the layers of a build-up name; "" where a layer has none."""
    if isinstance(build_up, BuildUp):
        return [layer.photo for layer in build_up.layers]
    return [layer.get("photo", "") for layer in build_up["layers"]]


def _check_stated(build_up: BuildUp) -> None:
    """Only what was found may be unknown; an option is drawn."""
    if not build_up.is_stated:
        raise Problem(422, "no_layers", "An option without layers is no option.", "Draw its layers.")


@transaction.atomic
def create_option(user: User, element_id: int, fields: NewOption) -> Option:
    element = visible_element(user, element_id)
    _check_stated(fields.build_up)
    if not element.has_build_up:
        raise Problem(422, "no_build_up", f"A {element.kind} has no layers.", "State its U-value in Survey.")
    check_photos(element.project, _layer_photos(fields.build_up), _layer_photos(element.as_found.build_up))
    position = max(element.options.values_list("position", flat=True), default=0) + 1
    option = Option.objects.create(
        element=element,
        position=position,
        name=fields.name,
        school=fields.school,
        build_up=fields.build_up.model_dump(mode="json"),
    )
    HistoryEntry.write(element.project, user, "add option", f"added “{option.name}” to “{element.name}”")
    return option


@transaction.atomic
def compare_membranes(user: User, option_id: int) -> Element:
    """Beside an option, the same with every other inner membrane. What is there already is not made twice."""
    option = visible_option(user, option_id)
    element = option.element
    rows = list(element.options.all())
    known = [[layer.material for layer in row.current.layers] for row in rows]
    position = max(row.position for row in rows)
    made = 0
    for words, build_up in membrane_variants(option.current):
        if [layer.material for layer in build_up.layers] in known:
            continue
        made += 1
        Option.objects.create(
            element=element,
            position=position + made,
            name=f"{option.name[: 118 - len(words)]}: {words}",
            school=option.school,
            build_up=build_up.model_dump(mode="json"),
        )
    if made:
        words = f"set {made} membranes beside “{option.name}” of “{element.name}”"
        HistoryEntry.write(element.project, user, "compare membranes", words)
    return element


@transaction.atomic
def commit_option(user: User, option_id: int, body: OptionBody) -> Option:
    """The edit becomes the option. Refused with 409 when somebody committed in the meantime."""
    option = visible_option(user, option_id)
    if option.revision != body.revision:
        raise Problem(
            409,
            "changed_meanwhile",
            f"“{option.name}” was changed in another window since you began.",
            "Your edit is kept here. Take theirs, or keep yours as a new option.",
            revision=option.revision,
        )
    if option.role != Option.AS_FOUND:
        _check_stated(body.build_up)
    check_photos(option.element.project, _layer_photos(body.build_up), _layer_photos(option.build_up))
    # a body that says nothing of leaks leaves them as they are
    unsaid = {"air_leak", "rain_leak"} - body.build_up.model_fields_set
    kept = {name: option.build_up[name] for name in unsaid if name in option.build_up}
    option.build_up = BuildUp.model_validate({**body.build_up.model_dump(mode="json"), **kept}).model_dump(mode="json")
    option.draft = None
    option.name = body.name or option.name
    option.school = option.school if body.school is None else body.school
    option.revision += 1
    option.save()
    HistoryEntry.write(
        option.element.project, user, "change option", f"changed “{option.name}” of “{option.element.name}”"
    )
    option.element.project.save(update_fields=["changed_at"])
    return option


@transaction.atomic
def keep_draft(user: User, option_id: int, build_up: BuildUp) -> None:
    """What was typed so far; no history entry, because nothing is decided yet."""
    option = visible_option(user, option_id)
    check_photos(option.element.project, _layer_photos(build_up), _layer_photos(option.build_up))
    option.draft = build_up.model_dump(mode="json")
    option.save(update_fields=["draft"])


@transaction.atomic
def delete_option(user: User, option_id: int) -> None:
    option = visible_option(user, option_id)
    if option.role == Option.AS_FOUND:
        raise Problem(422, "as_found", "The as-found build-up cannot be removed.", "Remove the element in Survey.")
    HistoryEntry.write(option.element.project, user, "delete option", f"removed “{option.name}”")
    option.delete()


@transaction.atomic
def choose_option(user: User, element_id: int, option_id: int | None, reason: str) -> Element:
    """Choose an option with the reason, or none again."""
    element = visible_element(user, element_id)
    option: Option | None = None
    if option_id is not None:
        option = element.options.filter(pk=option_id, role=Option.UPGRADE).first()
        if option is None:
            raise Http404
        if not reason.strip():
            raise Problem(422, "reason_missing", "A choice needs its reason.", "Write why this option was chosen.")
    if option:
        element.choose(option, reason.strip(), name_of(user), timezone.now())
    else:
        element.choose(None, "", "", None)
    what = (
        f"chose “{option.name}” for “{element.name}”: {reason}"
        if option
        else f"took back the choice for “{element.name}”"
    )
    HistoryEntry.write(element.project, user, "choose option", what)
    element.project.save(update_fields=["changed_at"])
    return element


def option_values(option: Option) -> dict[str, Any]:
    """Name, role and layers of an option, for the project file."""
    return {
        "role": option.role,
        "name": option.name,
        "school": option.school,
        "build_up": option.build_up,
        "draft": option.draft,
    }
