"""Readiness of every element, and the items that stand before it."""

from __future__ import annotations

from collections import Counter

from core.readiness.reason import (
    ElementWater,
    Readiness,
    readiness,
)
from core.readiness.rules import rules
from server.projects.models import Project
from server.survey.models import WaterItem
from server.survey.schemas import (
    ElementWaterOut,
    NamedOut,
    WaterItemOut,
    WaterPage,
)


def waters(project: Project) -> dict[int, ElementWater]:
    """What readiness looks at, for every element, in four queries without rows made."""
    pins: Counter[int] = Counter()
    unexplained: Counter[int] = Counter()
    uncovered: Counter[int] = Counter()
    with_items = set(
        WaterItem.evidence.through.objects.filter(wateritem__project=project).values_list("evidence_id", flat=True)
    )
    for pk, element_id, cause in project.evidence.values_list("pk", "element_id", "cause"):
        if element_id is None:
            continue
        pins[element_id] += 1
        unexplained[element_id] += not cause
        uncovered[element_id] += bool(cause) and pk not in with_items
    links = WaterItem.elements.through.objects.filter(wateritem__project=project, wateritem__state=WaterItem.OPEN)
    open_items: Counter[int] = Counter(links.values_list("element_id", flat=True))
    return {
        e.pk: ElementWater(
            bool(e.looked_at_by),
            pins[e.pk],
            unexplained[e.pk],
            uncovered[e.pk],
            open_items[e.pk],
            f"ready by override of {e.override_by}: {e.override_reason}" if e.override_reason else "",
        )
        for e in project.elements.all()
    }


def readiness_of(project: Project) -> dict[int, Readiness]:
    """The state of every element with its reasons."""
    return {pk: readiness(water) for pk, water in waters(project).items()}


def item_out(item: WaterItem) -> WaterItemOut:
    return WaterItemOut(
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
    for element in project.elements.all():
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
