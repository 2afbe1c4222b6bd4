"""Brief and shape: what follows from the outlines, and what was typed by hand beside it."""

from __future__ import annotations

from core.brief import EXAMPLE_NOTE, EXAMPLE_TARGETS, missing_in
from core.climate.data import shipped
from core.errors import CoreError
from core.say import Said, said, say
from core.survey.drawings import elevations, overlapping
from core.survey.geometry import Building, derive
from core.survey.line import changes_between, geometries, moved_words, spaces, with_changes
from core.survey.shape import Shape
from server.projects.models import Element, Project, Scheme
from server.survey.schemas import (
    BriefOut,
    DerivedOut,
    Disagreement,
    NamedOut,
    ShapeOut,
    ShapeTotals,
)


def brief_out(project: Project) -> BriefOut:
    brief = project.current_brief
    affected: list[Said] = []
    for element in project.here(list(project.elements.all())):
        if not element.has_build_up:
            continue
        _, rows = element.limits_said()
        affected += [
            say("{name}: {words}", name=element.name, words=row.words) for row in rows if row.field != "target_u_w_m2k"
        ]
    return BriefOut(
        revision=project.brief_revision,
        brief=brief,
        missing=missing_in(brief, project.climate),
        climate=project.climate,
        climate_words=_climate_words(project),
        example_targets=EXAMPLE_TARGETS,
        example_note=EXAMPLE_NOTE,
        affected=affected,
        bodies=[NamedOut(id=body.id, name=body.name) for body in project.current_shape.bodies],
    )


def _climate_words(project: Project) -> str:
    try:
        climate = shipped(project.climate)
    except CoreError as error:
        return error.message
    return f"{climate.label}, {climate.origin}"


def scheme_shape_out(scheme: Scheme, drawn: Shape | None = None) -> ShapeOut:
    """The shape of a scheme, as it is kept or as it is being drawn, beside the building as found."""
    project, found = scheme.project, scheme.project.current_shape
    changes = scheme.current_changes
    lost: list[str] = []
    try:
        if drawn is not None:
            changes = changes_between(found, drawn)
        shape, lost = with_changes(found, changes)
        both = geometries(found, changes)
    except CoreError as error:
        out = shape_out(project, found if drawn is None else drawn)
        return out.model_copy(
            update={"scheme_id": scheme.pk, "revision": scheme.changes_revision, "refused": error.message}
        )
    out = shape_out(project, shape)
    rows = {element.shape_key: element.pk for element in project.elements.all() if element.shape_key}
    gone = [entry for key, entry in both.before_by_key.items() if both.stands(key) == "before"]
    derived = [
        DerivedOut(
            element=entry,
            net_area_m2=entry.net_area_m2,
            element_id=rows.get(entry.key),
            stands=both.stands(entry.key) or "both",
        )
        for entry in [*both.after.elements, *gone]
    ]
    totals = ShapeTotals(
        volume_m3=both.found.volume_m3, floor_area_m2=both.found.floor_area_m2, envelope_m2=both.found.envelope_m2
    )
    return out.model_copy(
        update={
            "scheme_id": scheme.pk,
            "revision": scheme.changes_revision,
            "derived": derived,
            "moved": moved_words(found, changes),
            "lost": lost,
            "found": totals,
            "disagreements": [],
            "gone": [],
        }
    )


def shape_out(project: Project, shape: Shape | None = None) -> ShapeOut:
    """The shape and all that follows; a shape that cannot be derived says why, and keeps its outlines."""
    shown = shape or project.current_shape
    refused, drawn = project.shape_refused if shape is None else "", []
    try:
        building = derive(shown)
        drawn = elevations(shown)
    except CoreError as error:
        building, refused = Building([], 0.0, 0.0, 0.0, 0.0), str(error)
    rows = {element.shape_key: element for element in project.elements.all() if element.shape_key}
    return ShapeOut(
        spaces=spaces(shown),
        revision=project.shape_revision,
        shape=shown,
        derived=[
            DerivedOut(
                element=entry,
                net_area_m2=entry.net_area_m2,
                element_id=rows[entry.key].pk if entry.key in rows else None,
            )
            for entry in building.elements
        ],
        volume_m3=building.volume_m3,
        floor_area_m2=building.floor_area_m2,
        footprint_m2=building.footprint_m2,
        envelope_m2=building.envelope_m2,
        notes=[*building.notes, *map(said, overlapping(shown))] if not refused else building.notes,
        arithmetic=building.arithmetic,
        refused=refused,
        elevations=drawn,
        disagreements=_disagreements(project, rows, building),
        gone=[row.pk for row in rows.values() if not row.in_shape],
    )


def _disagreements(project: Project, rows: dict[str, Element], building: Building) -> list[Disagreement]:
    """Hand-typed figures that differ from the shape's."""
    found = []
    by_key = {entry.key: entry for entry in building.elements}
    for key, row in rows.items():
        for name in row.typed:
            if key not in by_key:
                continue
            says = by_key[key].net_area_m2 if name == "area_m2" else getattr(by_key[key], name, None)
            own = getattr(row, name)
            if isinstance(says, int | float) and isinstance(own, int | float) and abs(says - own) > 0.005:
                found.append(
                    Disagreement(element_id=row.pk, name=row.name, field=name, by_hand=own, shape_says=round(says, 3))
                )
    if building.elements:
        for figure in project.typed:
            own, says = getattr(project, figure), getattr(building, figure)
            if own is not None and abs(own - says) > 0.05:
                found.append(
                    Disagreement(
                        element_id=None, name=project.name, field=figure, by_hand=own, shape_says=round(says, 2)
                    )
                )
    return found
