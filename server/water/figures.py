"""Readiness of every element, and the items that stand before it."""

from __future__ import annotations

from collections import Counter

from django.utils import timezone
from pydantic import ValidationError

from core.errors import CoreError
from core.measure.wood_moisture import MeterReading, corrected_moisture
from core.readiness.reason import (
    ElementWater,
    Readiness,
    readiness,
)
from core.readiness.rules import rules
from core.say import Said, said
from server.projects.models import Project
from server.survey.models import WaterItem
from server.survey.schemas import NamedOut
from server.water.schemas import ElementWaterOut, WaterItemOut, WaterPage

WET_PERCENT = 20.0


def waters(project: Project) -> dict[int, ElementWater]:
    """What readiness looks at, for every element, in a few queries without rows made."""
    pins: Counter[int] = Counter()
    unexplained: Counter[int] = Counter()
    uncovered: Counter[int] = Counter()
    looked: set[int] = set()
    wet: Counter[int] = Counter()
    with_items = set(
        WaterItem.evidence.through.objects.filter(wateritem__project=project).values_list("evidence_id", flat=True)
    )
    for pk, element_id, cause, kind in project.evidence.values_list("pk", "element_id", "cause", "pin__kind"):
        if element_id is None:
            continue
        if kind == "nothing_found":
            looked.add(element_id)
            continue
        pins[element_id] += 1
        unexplained[element_id] += not cause
        uncovered[element_id] += bool(cause) and pk not in with_items
    latest: dict[tuple[int, str], float] = {}
    readings = project.measurements.filter(kind="moisture", element__isnull=False).order_by("measured_on", "pk")
    for element_id, place, data in readings.values_list("element_id", "place", "data"):
        try:
            latest[element_id, place] = corrected_moisture(MeterReading.model_validate(data)).percent
        except (CoreError, ValidationError):
            continue  # the page of readings says why it is worth nothing
    for (element_id, _), percent in latest.items():
        wet[element_id] += percent >= WET_PERCENT
    today = timezone.localdate()
    open_items: Counter[int] = Counter()
    overdue: Counter[int] = Counter()
    unshown: Counter[int] = Counter()
    links = WaterItem.elements.through.objects.filter(wateritem__project=project).values_list(
        "element_id", "wateritem__state", "wateritem__due", "wateritem__shown_by", "wateritem__photos"
    )
    for element_id, state, due, shown_by, photos in links:
        open_items[element_id] += state == WaterItem.OPEN
        overdue[element_id] += state == WaterItem.OPEN and due is not None and due < today
        unshown[element_id] += state == WaterItem.CLOSED and "photo" in shown_by and not photos
    found: dict[int, ElementWater] = {}
    for e in project.elements.prefetch_related("options"):
        layers = e.as_found.current.layers if e.has_build_up else []
        found[e.pk] = ElementWater(
            bool(e.looked_at_by) or e.pk in looked,
            pins[e.pk],
            unexplained[e.pk],
            uncovered[e.pk],
            open_items[e.pk],
            f"ready by override of {e.override_by}: {e.override_reason}" if e.override_reason else "",
            overdue[e.pk],
            unshown[e.pk],
            wet[e.pk],
            sum(layer.known == "assumed" for layer in layers),
            bool(layers) or not e.has_build_up,
        )
    return found


def readiness_of(project: Project) -> dict[int, Readiness]:
    """The state of every element with its reasons."""
    return {pk: readiness(water) for pk, water in waters(project).items()}


def _said(item: WaterItem) -> tuple[Said, Said, str]:
    """Title and what must be shown in both unit systems while they are the remedy's own words, and its school."""
    remedy = next((one for one in rules().remedies if one.id == item.remedy), None)
    title, shown = said(item.title), said(item.shown_by)
    if remedy is None:
        return title, shown, ""
    if remedy.title_said.metric == item.title:
        title = remedy.title_said
    if remedy.shown_by_said.metric == item.shown_by:
        shown = remedy.shown_by_said
    return title, shown, remedy.school


def item_out(item: WaterItem) -> WaterItemOut:
    title_said, shown_by_said, school = _said(item)
    return WaterItemOut(
        title_said=title_said,
        shown_by_said=shown_by_said,
        school=school,
        uid=item.uid,
        revision=item.revision,
        elements=[element.pk for element in item.elements.all()],
        evidence=[row.uid for row in item.evidence.all()],
        remedy=item.remedy,
        stage=item.stage,
        title=item.title,
        shown_by=item.shown_by,
        who=item.who,
        due=item.due,
        state=item.state,
        closed_by=item.closed_by,
        closed_on=item.closed_on,
        reason=item.reason,
        photos=item.photos,
    )


def water_page(project: Project) -> WaterPage:
    all_waters = waters(project)
    order = {stage.id: index for index, stage in enumerate(rules().stages)}
    items = sorted(
        project.water_items.prefetch_related("elements", "evidence"), key=lambda i: (order.get(i.stage, 99), i.pk)
    )
    rows = []
    for element in project.here(list(project.elements.all())):
        water = all_waters[element.pk]
        state = readiness(water)
        rows.append(
            ElementWaterOut(
                element_id=element.pk,
                name=element.name,
                kind=element.kind,
                state=state.state,
                reasons=state.reasons,
                looked_at_by=element.looked_at_by,
                looked_at_on=element.looked_at_on,
                looked_at_note=element.looked_at_note,
                override_by=element.override_by,
                override_reason=element.override_reason,
                override_at=element.override_at,
                pins=water.pins,
                open_items=water.open_items,
            )
        )
    return WaterPage(
        elements=rows,
        items=[item_out(item) for item in items],
        stages=[NamedOut(id=stage.id, name=stage.name) for stage in rules().stages],
    )
