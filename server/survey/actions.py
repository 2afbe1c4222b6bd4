"""One action per use case of Brief, Survey and Water."""

from __future__ import annotations

import shutil
import uuid
from datetime import date
from typing import IO, Any

from django.db import IntegrityError, transaction
from django.http import Http404
from django.utils import timezone

from core.buildup.control import control_layers
from core.errors import CoreError
from core.measure.blower_door import airtightness
from core.measure.uptake import UptakeReading, together
from core.readiness.reason import facts_of, proposals, remedies
from core.readiness.rules import rules
from core.say import uptake
from core.survey.geometry import Building, Derived, derive
from core.survey.record import FOLLOWING, FollowingField, FromShape
from core.survey.shape import Shape
from server.problems import Problem
from server.projects.actions import NOT_STATED, User, check_photos, forget_photo, visible_element, visible_project
from server.projects.models import Element, HistoryEntry, Option, Project, name_of
from server.survey import photos
from server.survey.models import Evidence, Measurement, Photo, WaterItem, photos_of
from server.survey.schemas import (
    BriefBody,
    CauseBody,
    EvidenceBody,
    LookedAtBody,
    MeasurementBody,
    OverrideBody,
    RainBody,
    ShapeBody,
    WaterItemBody,
)


def _person(user: User) -> str:
    return name_of(user)


def _check_revision(what: str, current: int, begun: int | None) -> None:
    if begun is not None and begun != current:
        raise Problem(
            409,
            "changed_meanwhile",
            f"{what} was changed in another window since you began.",
            "What you typed is kept here. Take theirs, or write yours over it.",
            revision=current,
        )


# --- brief and shape ------------------------------------------------------------------------------


@transaction.atomic
def change_brief(user: User, project_id: int, body: BriefBody) -> Project:
    project = visible_project(user, project_id)
    _check_revision("The brief", project.brief_revision, body.revision)
    project.brief = body.brief.model_dump(mode="json")
    project.brief_revision += 1
    project.save()
    HistoryEntry.write(project, user, "change brief", "changed the brief")
    return project


@transaction.atomic
def change_shape(user: User, project_id: int, body: ShapeBody) -> Project:
    """The shape, and with it every element that follows it. Hand-typed figures stay; vanished elements are kept."""
    project = visible_project(user, project_id)
    _check_revision("The shape", project.shape_revision, body.revision)
    building = derive(body.shape)
    project.shape = body.shape.model_dump(mode="json")
    project.shape_revision += 1
    made, changed, gone = follow_shape(project, body.shape, building)
    project.save()
    words = f"changed the shape: {made} elements new, {changed} changed, {gone} no longer in it"
    HistoryEntry.write(project, user, "change shape", words)
    return project


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
    elements = {element.shape_key: element for element in project.elements.all() if element.shape_key}
    position = project.elements.count()
    made = changed = gone = 0
    for entry in building.elements:
        element = elements.pop(entry.key, None)
        if element is None:
            _make_element(project, entry, position)
            position, made = position + 1, made + 1
        elif _follow(element, entry):
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


def _record(entry: Derived) -> FromShape:
    return FromShape(
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


def _make_element(project: Project, entry: Derived, position: int) -> Element:
    record = _record(entry)
    element = Element(project=project, position=position, kind=entry.kind, shape_key=entry.key)
    element.derived = record.model_dump(mode="json")
    for field in FOLLOWING:
        element.give(field, record.value(field))
    element.save()
    if element.has_build_up:  # a shape says where a wall stands, not what it is made of
        Option.objects.create(element=element, role=Option.AS_FOUND, name="As found", build_up=NOT_STATED)
    return element


def _follow(element: Element, entry: Derived) -> bool:
    """Take the shape's figures where nothing was typed; whether any changed."""
    record = _record(entry)
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
    element = visible_element(user, element_id)
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
    element = visible_element(user, element_id)
    element.rain = None if body.rain is None else body.rain.model_dump(mode="json")
    element.save(update_fields=["rain"])
    HistoryEntry.write(element.project, user, "state exposure", f"stated the exposure of “{element.name}”")
    element.project.save(update_fields=["changed_at"])
    return element


# --- photos ---------------------------------------------------------------------------------------


def keep_photo(
    user: User, project_id: int, uid: str, stream: IO[bytes], size: int, caption: str, taken_on: date | None
) -> Photo:
    """A photo, once: the same uid sent again, or twice at once, changes its words only. Files first, then the row."""
    project = visible_project(user, project_id)
    if not Photo.objects.filter(project=project, uid=uid).exists():
        picture = photos.shrink(stream, size, photos_of(project.pk), uid)
        try:
            return Photo.objects.create(project=project, uid=uid, caption=caption, taken_on=taken_on, **picture.sizes)
        except IntegrityError:
            pass  # the other of two that were sent at once was quicker
    known: Photo = Photo.objects.get(project=project, uid=uid)
    known.caption, known.taken_on = caption or known.caption, taken_on or known.taken_on
    known.save()
    return known


@transaction.atomic
def delete_photo(user: User, project_id: int, uid: str) -> None:
    project = visible_project(user, project_id)
    photo = Photo.objects.filter(project=project, uid=uid).first()
    if photo is None:
        raise Http404
    paths = [photo.path(), photo.path(small=True)]
    photo.delete()
    _forget_in_rows(project, uid)
    transaction.on_commit(lambda: [path.unlink(missing_ok=True) for path in paths])


def _forget_in_rows(project: Project, uid: str) -> None:
    """Pins, water items and layers that named the photo name it no more."""
    rows: list[Any] = [*project.evidence.all(), *project.water_items.all()]
    for row in rows:
        if uid in row.photos:
            row.photos = [name for name in row.photos if name != uid]
            row.revision += 1
            row.save()
    for option in Option.objects.filter(element__project=project):
        if forget_photo(option.build_up, uid) | forget_photo(option.draft, uid):
            option.revision += 1
            option.save()


def forget_photos(project_pk: int) -> None:
    """The files of a deleted project."""
    shutil.rmtree(photos_of(project_pk), ignore_errors=True)


# --- evidence -------------------------------------------------------------------------------------


def _row(rows: Any, project: Project, uid: str, what: str, begun: int | None) -> Any:
    row = rows.filter(project=project, uid=uid).first()
    if row is not None:
        _check_revision(what, row.revision, begun)
    return row


def _element_of(project: Project, element_id: int | None) -> Element | None:
    if element_id is None:
        return None
    element = project.elements.filter(pk=element_id).first()
    if element is None:
        raise Problem(422, "no_such_element", "The element is not part of this project.", "Choose another element.")
    return element


@transaction.atomic
def keep_evidence(user: User, project_id: int, uid: str, body: EvidenceBody) -> Evidence:
    """A pin, made or changed. Sent twice with the same content it is still one pin and one history entry."""
    project = visible_project(user, project_id)
    element = _element_of(project, body.element_id)
    pin = body.pin.model_dump(mode="json")
    row: Evidence | None = Evidence.objects.filter(project=project, uid=uid).first()
    if row is not None and (row.pin, row.element_id, row.photos) == (pin, body.element_id, list(body.photos)):
        return row
    row = _row(Evidence.objects, project, uid, "This piece of evidence", body.base_revision)
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


def visible_evidence(user: User, project_id: int, uid: str) -> Evidence:
    row: Evidence | None = Evidence.objects.visible_to(user).filter(project_id=project_id, uid=uid).first()
    if row is None:
        raise Http404
    return row


@transaction.atomic
def delete_evidence(user: User, project_id: int, uid: str) -> None:
    row = visible_evidence(user, project_id, uid)
    HistoryEntry.write(row.project, user, "delete evidence", f"removed {rules().kind_name(row.pin['kind'])}")
    row.delete()


@transaction.atomic
def confirm_cause(user: User, project_id: int, uid: str, body: CauseBody) -> Evidence:
    """Confirm the first proposal, or overrule it with a reason. The remedies become water items of the element."""
    from server.survey.figures import Survey

    row = visible_evidence(user, project_id, uid)
    names = {mechanism.id for mechanism in rules().mechanisms}
    if body.mechanism and body.mechanism not in names:
        raise Problem(422, "no_such_mechanism", f"There is no mechanism “{body.mechanism}”.", "Choose one of the list.")
    facts = facts_of(row.seen, Survey(row.project).of(row))
    found = proposals(facts)
    first = {proposal.mechanism for proposal in found if proposal.score == found[0].score}  # ties are told as ties
    overruled = bool(body.mechanism) and body.mechanism not in first
    if overruled and not body.reason.strip():
        names_first = " and ".join(p.name for p in found if p.mechanism in first) or "nothing"
        raise Problem(
            422,
            "reason_missing",
            f"The rules point to {names_first} first; overruling them needs a reason.",
            "Write what you saw.",
        )
    row.confirm(body.mechanism, body.reason, _person(user))
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


# --- water ----------------------------------------------------------------------------------------


def _planned_in(elements: list[Element]) -> str:
    """Names of the chosen options that plan an air barrier for every element; refused where one does not."""
    names = []
    for element in elements:
        option = element.chosen
        air = None if option is None else control_layers(option.current, element.kind).air  # type: ignore[arg-type]
        if option is None or air is None or air.layer_id is None:
            raise Problem(
                422,
                "not_planned",
                f"No chosen option of “{element.name}” plans an airtight layer.",
                "Choose an option with a membrane, plaster or declared air barrier first.",
            )
        names.append(f"“{option.name}”")
    return ", ".join(dict.fromkeys(names))


@transaction.atomic
def keep_water_item(user: User, project_id: int, uid: str, body: WaterItemBody) -> WaterItem:
    project = visible_project(user, project_id)
    if body.stage not in {stage.id for stage in rules().stages}:
        raise Problem(422, "no_such_stage", f"There is no stage “{body.stage}”.", "Choose one of the list.")
    elements = [_element_of(project, pk) for pk in body.elements]
    if not elements:
        raise Problem(422, "no_element", "A water item concerns at least one element.", "Choose the element.")
    row: WaterItem | None = _row(WaterItem.objects, project, uid, "This water item", body.base_revision)
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
            row.close(_person(user), body.closed_on)
        elif body.state == WaterItem.NOT_NEEDED:
            row.strike_out(_person(user), body.reason)
        elif body.state == WaterItem.PLANNED:
            row.plan(_person(user), _planned_in([element for element in elements if element is not None]))
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
    row = WaterItem.objects.visible_to(user).filter(project_id=project_id, uid=uid).first()
    if row is None:
        raise Http404
    HistoryEntry.write(row.project, user, "delete water item", f"removed “{row.title}”")
    row.delete()


@transaction.atomic
def note_looked_at(user: User, element_id: int, body: LookedAtBody) -> Element:
    """Somebody looked, and found no more than the pins say."""
    element = visible_element(user, element_id)
    element.looked_at_by = _person(user) if body.looked_at else ""
    element.looked_at_on = (body.on or timezone.localdate()) if body.looked_at else None
    element.looked_at_note = body.note if body.looked_at else ""
    element.save()
    words = "looked at" if body.looked_at else "took back the look at"
    HistoryEntry.write(element.project, user, "look at element", f"{words} “{element.name}”")
    return element


@transaction.atomic
def override_readiness(user: User, element_id: int, body: OverrideBody) -> Element:
    element = visible_element(user, element_id)
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


# --- measurements ---------------------------------------------------------------------------------


@transaction.atomic
def keep_measurement(user: User, project_id: int, uid: str, body: MeasurementBody) -> Measurement:
    project = visible_project(user, project_id)
    data = {
        "blower_door": body.blower_door,
        "thermal": body.thermal,
        "moisture": body.moisture,
        "uptake": body.uptake,
    }[body.kind]
    if data is None:
        raise Problem(422, "no_data", f"There are no readings of kind “{body.kind}”.", "Add the readings.")
    for leak in body.leaks:
        _element_of(project, leak.element_id)
    row: Measurement | None = _row(Measurement.objects, project, uid, "This measurement", body.base_revision)
    fresh = row is None
    if row is None:
        row = Measurement(project=project, uid=uid)
    else:
        row.revision += 1
    row.kind, row.element = body.kind, _element_of(project, body.element_id)
    row.measured_on, row.place, row.instrument, row.note = body.measured_on, body.place, body.instrument, body.note
    row.data = data.model_dump(mode="json")
    row.leaks = [leak.model_dump() for leak in body.leaks]
    row.save()
    names = {
        "blower_door": "a blower-door test",
        "thermal": "a surface temperature",
        "moisture": "a wood moisture",
        "uptake": "a water uptake",
    }
    HistoryEntry.write(project, user, "add measurement" if fresh else "change measurement", f"noted {names[body.kind]}")
    return row


@transaction.atomic
def delete_measurement(user: User, project_id: int, uid: str) -> None:
    row = Measurement.objects.visible_to(user).filter(project_id=project_id, uid=uid).first()
    if row is None:
        raise Http404
    HistoryEntry.write(row.project, user, "delete measurement", "removed a measurement")
    row.delete()


@transaction.atomic
def take_n50(user: User, project_id: int, uid: str) -> Project:
    """The measured n50 becomes the project's air changes as found. Raises Problem where the volume is missing."""
    from core.measure.blower_door import BlowerDoorTest

    project = visible_project(user, project_id)
    row = Measurement.objects.filter(project=project, uid=uid, kind=Measurement.BLOWER_DOOR).first()
    if row is None:
        raise Http404
    result = airtightness(BlowerDoorTest.model_validate(row.data), project.volume_m3, None)
    if result.n50 is None:
        raise Problem(422, "volume_missing", "n50 needs the heated volume.", "Draw the shape, or type the volume.")
    project.air_kind, project.air_value = "n50", round(result.n50.value, 2)
    project.save()
    HistoryEntry.write(project, user, "take n50", f"took n50 {project.air_value:g} 1/h from the blower door")
    return project


@transaction.atomic
def take_uptake(user: User, project_id: int, uid: str) -> Element:
    """What was measured on a layer enters its runs: as found and every option that keeps the layer.

    Several readings of one layer count together. Raises Problem where the reading says nothing of a layer that is there.
    """
    project = visible_project(user, project_id)
    row = project.measurements.filter(uid=uid, kind=Measurement.UPTAKE).select_related("element").first()
    if row is None:
        raise Http404
    from server.survey.figures import uptake_layer, uptakes_of

    try:
        layer, solid = uptake_layer(row.element, UptakeReading.model_validate(row.data).layer)
        found = uptakes_of(row.element).get(layer.id, [])
        a_value = float(f"{together(found):.4g}")
    except CoreError as error:
        raise Problem(422, "no_uptake", str(error), "Correct the reading.") from error
    for option in row.element.options.all():
        changed = False
        for body in (option.build_up, option.draft):
            for one in body["layers"] if body else []:
                if one["id"] == layer.id and one["material"] == layer.material:
                    one["a_value_kg_m2s05"] = a_value
                    changed = True
        if changed:
            option.revision += 1
            option.save()
    HistoryEntry.write(
        project,
        user,
        "take uptake",
        f"took A {uptake(a_value).metric} from {len(found)} reading{'' if len(found) == 1 else 's'} for {solid.name} of “{row.element.name}”",
    )
    project.save(update_fields=["changed_at"])
    return row.element
