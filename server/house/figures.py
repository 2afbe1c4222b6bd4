"""The house section with everything its three lenses show."""

from __future__ import annotations

from typing import Any, Literal

from django.db.models import Prefetch

from core.assembly.continuity import JointSide, stops
from core.assembly.control import ControlLayers, control_layers
from core.brief import facing_word
from core.buildup.model import BuildUp
from core.errors import CoreError
from core.preview import case_state
from core.readiness.reason import (
    PinPlace,
    Readiness,
)
from core.say import say
from core.survey.drawings import Band, Section, best_cut, best_cuts, section, space_marks
from core.survey.geometry import derive
from core.survey.line import moved_words, spaces
from core.survey.planes import outline_of
from core.survey.shape import Shape
from server.heat.figures import heat as heat_of
from server.heat.schemas import HeatOut
from server.house.schemas import (
    Break,
    Face,
    HeatedLine,
    HouseBand,
    HouseElement,
    HouseListed,
    HouseOut,
    HousePin,
    HouseSpace,
    JointLine,
)
from server.projects.models import Element, Option, Project
from server.projects.permissions import CHOICES
from server.runs.models import Run
from server.runs.states import Waiting, run_state, test_words
from server.runs.verdicts import Kept, limits_of
from server.states.state import Shown, shown_of
from server.water.figures import readiness_of


def _shown_build_up(element: Element) -> tuple[BuildUp | None, str]:
    """The chosen option's layers, else the as-found ones, and whose they are."""
    if not element.has_build_up:
        return None, ""
    if element.chosen is not None:
        return element.chosen.current, element.chosen.name
    found = element.as_found
    return (found.current, "as found") if found.current.is_stated else (None, "")


def _depths(build_up: BuildUp, control: ControlLayers) -> dict[str, float]:
    """Where each control layer lies in the build-up: 0 at the outer face, 1 at the inner one; absent where none."""
    total = build_up.thickness or 1.0
    found: dict[str, float] = {}
    for name in ("rain", "air", "vapour", "heat"):
        wanted = getattr(control, name).layer_id
        position = 0.0
        for layer in build_up.layers:
            if layer.id == wanted:
                found[name] = (position + layer.thickness / 2.0) / total
            position += layer.thickness
    return found


def _house_element(element: Element, state: Readiness, kept: Kept, queue: Waiting) -> HouseElement:
    found_words = chosen_name = verdict_words = worst = years = ""
    wet: float | None = None
    limits = limits_of(element.project)
    for option in sorted(element.options.all(), key=lambda o: o.role != Option.AS_FOUND):
        is_found = option.role == Option.AS_FOUND
        if not is_found and option.pk != element.chosen_id:
            continue
        as_found = element.as_found.current
        refused, case_hash = case_state(option.current, element.place, None if is_found else as_found)
        tests = test_words(element, option, limits)
        run = run_state(element, option, as_found, case_hash, refused, list(option.runs.all()), kept, tests, queue)
        current = run.verdict if run.state == "current" else None
        words = "construction not stated" if not option.current.is_stated else f"years {run.state}"
        if current is not None:
            point = current.worst_point
            wet = point.worst_month_rh
            worst = f"{point.name}, {point.worst_month}"
            words = current.as_found_words.metric if is_found else current.headline.metric
        if is_found:
            found_words, years = words, run.state if option.current.is_stated else "not stated"
        else:
            chosen_name, verdict_words = option.name, words
    return HouseElement(
        element_id=element.pk,
        years=years,
        name=element.name,
        kind=element.kind,
        readiness=state,
        as_found=found_words,
        chosen=chosen_name,
        verdict=verdict_words,
        worst=worst,
        wet=wet,
    )


def house(project: Project, axis: Literal["x", "y"] | None, at: float | None, after: bool = False) -> HouseOut:
    """The section with everything the lenses show. after: of the shape that the shown scheme makes."""
    seen = shown_of(project)
    shape = seen.shape(after)
    elements = project.here(
        list(project.elements.prefetch_related(Prefetch("options__runs", Run.objects.years()), *CHOICES))
    )
    by_key = _by_place(seen, elements, after)
    states = readiness_of(project)
    heat: HeatOut | None = None
    missing = [project.climate_gone]
    if not project.climate_gone:
        heat = heat_of(project)
        missing = heat.missing
    rows = heat.rows if heat is not None else []
    losses = {row.element_id: row for row in rows if row.element_id is not None}
    shown = {element.pk: _shown_build_up(element) for element in elements}
    thickness = {
        key: build_up.thickness
        for key, element in by_key.items()
        for build_up, _ in (shown[element.pk],)
        if build_up is not None
    }
    refused = ""
    drawn = Section([], [], [], [], (0.0, 0.0, 1.0, 1.0), 270.0, 90.0)
    best_axis, best_at = best_cut(shape)
    axis = axis or best_axis
    at = best_at if at is None else at
    try:
        drawn = section(shape, axis, at, thickness)
    except CoreError as error:
        refused = str(error)
    bands: list[HouseBand] = []
    for band in drawn.bands:
        element_of_band = next((by_key[key] for key in band.keys if key in by_key), None)
        bands.append(_house_band(band, element_of_band, losses, shown))
    in_section = {band.element_id for band in bands} - {None}
    listed = [
        HouseListed(
            element_id=row.element_id,
            name=row.name,
            kind=row.kind,
            before_w_k=row.before_w_k,
            after_w_k=row.after_w_k,
        )
        for row in rows
        if row.element_id not in in_section and (row.element_id is not None or row.before_w_k > 0)
    ]
    runs = [run for element in elements for option in element.options.all() for run in option.runs.all()]
    kept = Kept({run.case_hash for run in runs} | {run.found_key for run in runs})
    queue = Waiting()
    house_elements = [_house_element(element, states[element.pk], kept, queue) for element in elements]
    outside = [
        e for e, row in zip(house_elements, elements, strict=True) if row.stands(seen.both) is None or not row.shape_key
    ]
    return HouseOut(
        axis=axis,
        at_m=at,
        range_m=_range(shape, axis),
        extent=drawn.extent,
        left=facing_word(drawn.left_bearing),
        right=facing_word(drawn.right_bearing),
        bands=bands,
        joints=drawn.joints,
        rooms=drawn.rooms,
        lines=drawn.lines,
        elements=house_elements,
        listed=listed,
        total_before_w_k=heat.total.before_w_k if heat is not None and rows else None,
        total_after_w_k=heat.total.after_w_k if heat is not None and rows else None,
        like_for_like_w_k=heat.line.like_for_like_w_k if heat is not None and rows else None,
        chosen=sum(element.chosen_id is not None and element.in_line != "before" for element in elements),
        missing=missing,
        pins=_pins(project, drawn, bands, axis, at),
        breaks=_breaks(drawn, bands),
        outlines=[(body.name, outline_of(shape, body, "external")) for body in shape.bodies],
        not_in_the_shape=outside,
        refused=refused or seen.refused,
        line=_line(seen, axis, at, after, thickness),
        years_to_come=sum(run.status in (Run.WAITING, Run.RUNNING) for run in runs),
    )


def _by_place(seen: Shown, elements: list[Element], after: bool) -> dict[str, Element]:
    """The elements of one line by the place of the shape that they stand at."""
    by_key = {element.shape_key: element for element in elements if element.shape_key}
    if not after:
        return {key: one for key, one in by_key.items() if one.stands(seen.both) != "after"}
    key_of = seen.both.key_after
    here = {key: by_key[key_of(key)] for key in _places(seen.after) if key_of(key) in by_key}
    return {key: one for key, one in here.items() if one.stands(seen.both) != "before"}


def _places(shape: Shape) -> list[str]:
    """Keys of the elements of a shape as it draws them."""
    try:
        return [entry.key for entry in derive(shape).elements]
    except CoreError:
        return []


def _line(seen: Shown, axis: Literal["x", "y"], at: float, after: bool, thickness: dict[str, float]) -> HeatedLine:
    """The inner faces of both lines along the same cut, and the spaces that can be moved."""
    faces: list[list[Face]] = []
    for shape in (seen.found, seen.after):
        try:
            bands = section(shape, axis, at, thickness).bands
        except CoreError:
            bands = []
        heated = {body.id for body in shape.bodies if body.heated}
        faces.append([band.inner for band in bands if band.body in heated])
    drawn = seen.shape(after)
    marks = {(mark.body, mark.space): mark.at for mark in space_marks(drawn, axis, at)}
    found = {(one.body, one.space): one for one in spaces(seen.found)}
    scheme = seen.project.shown_scheme()
    return HeatedLine(
        scheme_id=scheme.pk,
        scheme=scheme.name,
        before=faces[0],
        after=faces[1],
        spaces=[
            HouseSpace(
                body=one.body,
                space=one.space,
                name=(was or one).name,
                inside=one.inside,
                inside_before=was.inside if was is not None else None,
                why_not=one.why_not,
                at=marks.get((one.body, one.space)),
            )  # fmt: skip
            for one in spaces(seen.after)
            for was in (found.get((one.body, one.space)),)
        ],
        moved=moved_words(seen.found, scheme.current_changes),
        lost=list(seen.both.lost),
    )


def joints_of(element: Element, build_up: BuildUp) -> list[JointLine]:
    """The joints of an element in the best cuts both ways, as they would be with other layers: where its lines stop.

    The neighbours as the House shows them. Empty for an element that the shape does not have.
    """
    project = element.project
    seen = shown_of(project)
    elements = project.here(seen.elements)
    after = element.stands(seen.both) == "after"
    shape = seen.shape(after)
    shown: dict[int, tuple[BuildUp | None, str]] = {}
    for one in elements:
        shown[one.pk] = (build_up, "") if one.pk == element.pk else _shown_build_up(one)
    by_key = _by_place(seen, elements, after)
    thickness = {key: made.thickness for key, one in by_key.items() if (made := shown[one.pk][0]) is not None}
    found: dict[tuple[str, str], JointLine] = {}
    for axis, at in best_cuts(shape):
        try:
            drawn = section(shape, axis, at, thickness)
        except CoreError:
            continue  # the House says why
        bands = [_house_band(b, next((by_key[k] for k in b.keys if k in by_key), None), {}, shown) for b in drawn.bands]
        by_id = {band.id: band for band in bands}
        stops = {(stop.key, stop.line): stop.words for stop in _breaks(drawn, bands)}
        for joint in drawn.joints:
            sides = [by_id[joint.first], by_id[joint.second]]
            if element.pk not in (sides[0].element_id, sides[1].element_id):
                continue
            other = next((side for side in sides if side.element_id != element.pk), sides[1])
            row = found.setdefault((joint.name, other.name), JointLine(joint=joint.name, other=other.name, stops=[]))
            for (key, line), words in stops.items():
                words = say("{line} stops: {why}", line=line, why=words)
                if key == joint.key and words not in row.stops:
                    row.stops.append(words)
    return list(found.values())


def _house_band(band: Band, element: Element | None, losses: dict[Any, Any], shown: dict[int, Any]) -> HouseBand:
    row = losses.get(element.pk) if element else None
    control: ControlLayers | None = None
    whose, hatch, depths = "", "", {}
    if element is not None and shown[element.pk][0] is not None and shown[element.pk][0].is_stated:
        build_up, whose = shown[element.pk]
        control = control_layers(build_up, element.place)
        depths = _depths(build_up, control)
        hatch = max(build_up.layers, key=lambda layer: layer.thickness).entry.hatch
    return HouseBand(
        id=band.id,
        kind=band.kind,
        body=band.body,
        polygon=band.polygon,
        outer=band.outer,
        inner=band.inner,
        normal=band.normal,
        element_id=element.pk if element else None,
        name=element.name if element else "",
        before_w_k=row.before_w_k if row else None,
        after_w_k=row.after_w_k if row else None,
        control=control,
        control_of=whose,
        hatch=hatch,
        depths=depths,
    )


def _range(shape: Shape, axis: str) -> tuple[float, float]:
    index = 1 if axis == "x" else 0
    values = [point[index] for body in shape.bodies for point in body.outline] or [0.0, 1.0]
    return min(values), max(values)


def _breaks(drawn: Section, bands: list[HouseBand]) -> list[Break]:
    """At every joint each control layer is followed: it stops where one side has none.

    Where both sides have it, it is not known to be carried across: that is drawn in Junctions.
    """
    by_id = {band.id: band for band in bands}
    found: list[Break] = []
    number = 0
    for joint in drawn.joints:
        first, second = by_id[joint.first], by_id[joint.second]
        if first.control is None or second.control is None:
            continue
        lacking = stops(JointSide(first.name, first.control), JointSide(second.name, second.control))
        number += bool(lacking)
        for one in lacking:
            found.append(
                Break(
                    number=number,
                    key=joint.key,
                    joint=joint.name,
                    at=joint.at,
                    line=one.line,
                    words=one.words,
                    stops=True,
                )
            )
    return found


def _pins(project: Project, drawn: Section, bands: list[HouseBand], axis: str, at: float) -> list[HousePin]:
    """Pins with a place in the section: those set on it, and those of an element whose band is cut, at their height."""
    by_element = {band.element_id: band for band in bands if band.element_id is not None}
    found = []
    for row in project.evidence.all():
        place = PinPlace.model_validate(row.pin["place"])
        where: tuple[float, float] | None = None
        band = by_element.get(row.element_id)
        if place.view == "section":
            where = (place.x_m, place.y_m)
        elif band is not None:
            (x0, z0), (x1, z1) = band.inner if row.pin["side"] == "inside" else band.outer
            share = 0.5
            if band.kind == "wall" and place.view == "elevation" and abs(z1 - z0) > 0.01:
                share = min(max((place.y_m - z0) / (z1 - z0), 0.0), 1.0)
            where = (x0 + share * (x1 - x0), z0 + share * (z1 - z0))
        found.append(
            HousePin(uid=row.uid, kind=row.pin["kind"], element_id=row.element_id, at=where, explained=bool(row.cause))
        )
    return found
