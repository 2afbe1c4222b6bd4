"""The brief, the shape, and the elements that follow from it."""

from __future__ import annotations

from django.db import transaction

from core.errors import CoreError
from core.survey.geometry import Building, Derived, derive
from core.survey.line import Changes, Move, changes_between, geometries, moved_words, with_changes
from core.survey.record import FOLLOWING, FollowingField, FromShape
from core.survey.shape import Shape
from server.problems import Problem
from server.projects.models import NOT_STATED, Element, HistoryEntry, Option, Project, Scheme
from server.projects.permissions import User, editable_element, editable_project, editable_scheme
from server.survey.rows import check_revision
from server.survey.schemas import BriefBody, RainBody, ShapeBody


@transaction.atomic
def change_brief(user: User, project_id: int, body: BriefBody) -> Project:
    project = editable_project(user, project_id)
    check_revision("The brief", project.brief_revision, body.revision)
    project.brief = body.brief.model_dump(mode="json")
    project.brief_revision += 1
    project.save()
    HistoryEntry.write(project, user, "change brief", "changed the brief")
    return project


@transaction.atomic
def change_shape(user: User, project_id: int, body: ShapeBody) -> Project:
    """The shape, and with it every element that follows it. Hand-typed figures stay; vanished elements are kept."""
    project = editable_project(user, project_id)
    check_revision("The shape", project.shape_revision, body.revision)
    building = derive(body.shape)
    project.shape = body.shape.model_dump(mode="json")
    project.shape_revision += 1
    made, changed, gone = follow_shape(project, body.shape, building)
    project.save()
    words = f"changed the shape: {made} elements new, {changed} changed, {gone} no longer in it"
    HistoryEntry.write(project, user, "change shape", words)
    return project


@transaction.atomic
def change_line(user: User, scheme_id: int, changes: Changes, revision: int | None) -> Scheme:
    """What a scheme makes of the shape. Refused where it does not close, or was changed meanwhile (409)."""
    scheme = editable_scheme(user, scheme_id)
    check_revision("The shape of the scheme", scheme.changes_revision, revision)
    project, found = scheme.project, scheme.project.current_shape
    both = geometries(found, changes)  # refuses
    before = moved_words(found, scheme.current_changes)
    scheme.changes = changes.model_dump(mode="json") if not changes.nothing else {}
    scheme.changes_revision += 1
    scheme.save(update_fields=["changes", "changes_revision"])
    follow_line(project, found, both.found)
    after = moved_words(found, changes)
    words = f"heated line of “{scheme.name}”: {'; '.join(after) or 'as found'}"
    HistoryEntry.write(project, user, "move line", words, scheme, {"line": before}, {"line": after})
    project.save(update_fields=["changed_at"])
    return scheme


@transaction.atomic
def move_line(user: User, scheme_id: int, move: Move) -> Scheme:
    """One space taken in or left out in a scheme; where that is as found, nothing of it is kept."""
    scheme = editable_scheme(user, scheme_id)
    found, kept = scheme.project.current_shape, scheme.current_changes
    moves = [one for one in kept.moves if (one.body, one.space) != (move.body, move.space)]
    drawn, _ = with_changes(found, kept.model_copy(update={"moves": [*moves, move]}))
    return change_line(user, scheme_id, changes_between(found, drawn), None)


def draw_line(user: User, scheme_id: int, shape: Shape, revision: int | None) -> Scheme:
    """The whole shape of a scheme as somebody drew it: what differs from as found is kept."""
    scheme = editable_scheme(user, scheme_id)
    return change_line(user, scheme_id, changes_between(scheme.project.current_shape, shape), revision)


def close_opening(project: Project, opening_id: str) -> None:
    """Take an opening out of the shape; its wall and the figures of the building follow."""
    shape = project.current_shape
    left = [one for one in shape.openings if one.id != opening_id]
    if len(left) == len(shape.openings):
        return
    shape = shape.model_copy(update={"openings": left})
    project.shape, project.shape_revision = shape.model_dump(mode="json"), project.shape_revision + 1
    follow_shape(project, shape, derive(shape))
    project.save()


def follow_shape(project: Project, shape: Shape, building: Building) -> tuple[int, int, int]:
    """(new, changed, gone). Figures of the building follow too, unless they were typed.

    What is no longer in the shape goes, unless somebody's work hangs on it: then it stays, marked, and out of the heat.
    """
    if shape.bodies:
        if "volume_m3" not in project.typed:
            project.volume_m3 = round(building.volume_m3, 2)
        if "floor_area_m2" not in project.typed:
            project.floor_area_m2 = round(building.floor_area_m2, 2)
    return follow_line(project, shape, building)


def follow_line(project: Project, shape: Shape, building: Building) -> tuple[int, int, int]:
    """(new, changed, gone) elements, from the shape as found and what each scheme makes of it. A scheme whose shape does not close any
    more adds nothing, and says so where it is shown."""
    elements = {element.shape_key: element for element in project.elements.all() if element.shape_key}
    position = project.elements.count()
    made = changed = gone = 0
    wanted = {entry.key: (entry, False) for entry in building.elements}
    for scheme in project.schemes.all():
        try:
            after = geometries(shape, scheme.current_changes).after
        except CoreError:
            continue
        for entry in after.elements:
            wanted.setdefault(entry.key, (entry, True))
    for entry, only_after in wanted.values():
        element = elements.pop(entry.key, None)
        if element is None:
            _make_element(project, entry, position, only_after)
            position, made = position + 1, made + 1
        elif _follow(element, entry, only_after):
            changed += 1
    for element in elements.values():
        if not element.carries_work:
            element.delete()
            gone += 1
        elif element.in_shape and element.from_shape is not None:
            element.derived = element.from_shape.model_copy(update={"gone": True}).model_dump(mode="json")
            element.save(update_fields=["derived"])
            gone += 1
    return made, changed, gone


def follow_schemes(project: Project) -> None:
    """What only a scheme had that is gone now goes too, unless somebody's work hangs on it. A shape that does not close changes nothing."""
    try:
        building = derive(project.current_shape)
    except CoreError:
        return
    if building.elements:
        follow_line(project, project.current_shape, building)


def _record(entry: Derived, only_after: bool) -> FromShape:
    return FromShape(
        only_after=only_after,
        name=entry.name[:120],
        area_m2=round(entry.net_area_m2, 3),
        facing_deg=entry.facing_deg,
        slope_deg=entry.slope_deg,
        adjoining=entry.adjoining,
        factor_b=entry.factor_b,
        u_w_m2k=entry.u_w_m2k,
        g_value=entry.g_value,
        body=entry.body,
        face=entry.face,
        gross_area_m2=round(entry.gross_area_m2, 3),
        openings_m2=round(entry.openings_m2, 3),
        perimeter_m=None if entry.perimeter_m is None else round(entry.perimeter_m, 3),
        height_m=None if entry.height_m is None else round(entry.height_m, 3),
        arithmetic=entry.arithmetic.metric,
    )


def _make_element(project: Project, entry: Derived, position: int, only_after: bool) -> Element:
    record = _record(entry, only_after)
    element = Element(project=project, position=position, kind=entry.kind, shape_key=entry.key)
    element.derived = record.model_dump(mode="json")
    for field in FOLLOWING:
        element.give(field, record.value(field))
    element.save()
    if element.has_build_up:  # a shape says where a wall stands, not what it is made of
        Option.objects.create(element=element, role=Option.AS_FOUND, name="As found", build_up=NOT_STATED)
    return element


def _follow(element: Element, entry: Derived, only_after: bool) -> bool:
    """Take the shape's figures where nothing was typed; whether any changed."""
    record = _record(entry, only_after)
    changed = element.from_shape != record
    element.derived = record.model_dump(mode="json")
    for field in FOLLOWING:
        value = record.value(field)
        if field in element.typed or (value is None and field in ("u_w_m2k", "g_value")):
            continue
        if getattr(element, field) != value:
            element.give(field, value)
            changed = True
    if changed:
        element.save()
    return changed


@transaction.atomic
def follow_again(user: User, element_id: int, field: FollowingField) -> Element:
    """Give up a hand-typed figure: the element takes the shape's again."""
    element = editable_element(user, element_id)
    record = element.from_shape
    if field not in element.typed or record is None:
        raise Problem(422, "not_typed", f"“{field}” of “{element.name}” was not typed by hand.", "Nothing to give up.")
    element.corrected = [name for name in element.typed if name != field]
    element.give(field, record.value(field))
    element.save()
    HistoryEntry.write(element.project, user, "follow shape", f"“{element.name}” takes {field} from the shape again")
    return element


@transaction.atomic
def state_rain(user: User, element_id: int, body: RainBody) -> Element:
    element = editable_element(user, element_id)
    element.rain = None if body.rain is None else body.rain.model_dump(mode="json")
    element.save(update_fields=["rain"])
    HistoryEntry.write(element.project, user, "state exposure", f"stated the exposure of “{element.name}”")
    element.project.save(update_fields=["changed_at"])
    return element
