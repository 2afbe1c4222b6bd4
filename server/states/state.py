"""From rows to the building in one state: as found, or after the works of the scheme that is shown."""

from __future__ import annotations

from dataclasses import dataclass, replace
from functools import lru_cache

from core.air_flow.leaks import BY_TERRAIN
from core.air_flow.ledger import LeakPlace, Ledger, guess_of, joints, ledger
from core.buildup.model import BuildUp, absorptance_of
from core.climate.data import shipped
from core.climate.indoor import COOLED_C
from core.climate.sun import Shade
from core.errors import CoreError
from core.measure.blower_door import BlowerDoorTest, airtightness
from core.survey.cold import ColdSpace, cold_spaces
from core.survey.geometry import Building, Derived
from core.survey.line import Changes, Geometries, geometries, with_changes
from core.survey.openings import SHADING
from core.survey.shape import Opening, Shape
from core.thermal.iso6946 import transmittance
from core.thermal.iso13370 import EdgeInsulation, GroundPlace
from core.zones.assemble import Part, State
from core.zones.stated import AirStated
from server.projects.lines import line_after, measured_in
from server.projects.lines import sizes as sizes_of
from server.projects.models import Element, Option, Project
from server.projects.permissions import CHOICES
from server.states.damp import damp_ground
from server.survey.models import Measurement
from server.survey.schemas import Leak

NEW_GLASS_U = 2.0
COOLED, UNCOOLED = "cooled", "normal"  # indoor air of the walls' hourly years


@dataclass(frozen=True)
class Row:
    """An element with what stands there in one state. stands: in the line before, after, or both."""

    element: Element
    stands: str
    area_m2: float
    build_up: BuildUp | None
    option: Option | None
    key: str


@dataclass(frozen=True)
class Shown:
    """A project as the heat of it is reckoned: both geometries, both shapes, elements in order."""

    project: Project
    both: Geometries
    found: Shape
    after: Shape
    elements: list[Element]
    refused: str

    def shape(self, after: bool) -> Shape:
        return self.after if after else self.found

    def geometry(self, after: bool) -> Building:
        return self.both.after if after else self.both.found


def key_of(element: Element) -> str:
    """The name of an element in the ledger: its place in the shape, or its own name where it has none."""
    return element.shape_key or f"hand:{element.name}"[:130]


def shown_of(project: Project) -> Shown:
    """Both geometries of the scheme that is shown. A shape that does not close says why, and everything is by hand."""
    elements = list(project.elements.prefetch_related("options", *CHOICES))
    for element in elements:
        element.project = project
    found = project.current_shape
    refused = ""
    try:
        both = project.geometries()
        changes = project.shown_scheme().current_changes
        after = found if both.lost and both.after is both.found else with_changes(found, changes)[0]
    except CoreError as error:
        refused, found, after = error.message, Shape(), Shape()
        both = geometries(found, Changes())
    return Shown(project, both, found, after, elements, refused)


def rows_of(shown: Shown, after: bool, between: bool = False) -> list[Row]:
    """What is in the heated line in one state. between: what stands until the choice is built, where something does."""
    found = []
    for element in shown.elements:
        stands = element.stands(shown.both) if not shown.refused else "both"
        if stands is None or stands == ("before" if after else "after"):
            continue
        area = element.area_after(shown.both) if after and not shown.refused else element.area_m2
        build_up, option = None, None
        if element.has_build_up:
            build_up = element.as_found.current
            if after:
                option = element.chosen
                if between and element.choice is not None and element.choice.between is not None:
                    option = element.choice.between
                build_up = option.current if option is not None else build_up
        found.append(Row(element, stands, area, build_up, option, key_of(element)))
    return found


def side_of(element: Element, borders: dict[str, str]) -> str:
    """ "outside", "ground", or the id of the cold space it faces; "unheated" where the shape knows none."""
    if element.shape_key in borders:
        return borders[element.shape_key]
    return element.adjoining


def state_of(shown: Shown, after: bool, with_ledger: Ledger | None = None, between: bool = False) -> State:
    """The building in one state, elements that cannot be reckoned left out (the table of heat says which and why)."""
    project = shown.project
    shape, geometry = shown.shape(after), shown.geometry(after)
    spaces = cold_spaces(shape, geometry) if shape.bodies else []
    borders = {key: space.id for space in spaces for key in space.borders}
    openings = {f"opening/{one.id}": one for one in shape.openings}
    stated = cooled_as_walls(project, project.shown_scheme().current_air if after else project.current_air)
    parts, skins = [], {}
    for row in rows_of(shown, after, between):
        part = _part(shown, row, after, borders, stated, openings)
        if part is not None:
            parts.append(part)
    for element in shown.elements:
        if element.has_build_up and element.shape_key and element.as_found.current.is_stated:
            # what is chosen for a wall or slope inside of the line does not go on over the cold space beside it
            skins[element.shape_key] = element.as_found.current
    volume, floor = sizes(shown, after)
    return State(
        parts, _known(spaces), with_ledger, after, stated, volume, floor, project.set_point_c, project.soil,  # type: ignore[arg-type]
        BY_TERRAIN[shape.site.terrain], natural(project, after), skins,
        wind_m_s=_wind(project.climate), damp=damp_ground(project, spaces, after),
    )  # fmt: skip


def cooled_as_walls(project: Project, stated: AirStated) -> AirStated:
    """*Cooled in summer* is one statement: where the walls' rooms are, the building's are too, at the temperature the walls run with."""
    if project.occupancy != COOLED or stated.use.cool_to_c is not None:
        return stated
    return stated.model_copy(update={"use": stated.use.model_copy(update={"cool_to_c": COOLED_C})})


@lru_cache(maxsize=16)
def _wind(climate: str) -> float:
    return float(shipped(climate)["wind_speed_m_s"].mean())


def _known(spaces: list[ColdSpace]) -> list[ColdSpace]:
    return [space for space in spaces if space.volume_m3 > 0.1 and space.skins]


def natural(project: Project, after: bool) -> float:
    """Air changes [1/h] that were typed as they are; 0 where a test says, or nothing does."""
    if project.air_kind != "natural":
        return 0.0
    value = project.air_value_after if after and project.air_value_after is not None else project.air_value
    return value or 0.0


def sizes(shown: Shown, after: bool) -> tuple[float, float]:
    """(volume m³, floor m²) of the heated line."""
    return sizes_of(shown.project, shown.both, after)


def _part(
    shown: Shown, row: Row, after: bool, borders: dict[str, str], stated: AirStated, openings: dict[str, Opening]
) -> Part | None:  # fmt: skip
    element = row.element
    side = side_of(element, borders)
    u, g = element.u_w_m2k, element.g_value
    if not element.has_build_up:
        if after:
            u = element.planned_u_w_m2k or u
            g = element.planned_g_value if element.planned_g_value is not None else g
        if u is None:
            return None
    elif row.build_up is None or not row.build_up.is_stated:
        return None
    opening = openings.get(element.shape_key)
    typed_b = element.factor_b if "factor_b" in element.typed or not element.shape_key else None
    if side in ("unheated", "ground") and typed_b is None:
        typed_b = element.factor_b
    return Part(
        row.key, element.name, element.kind, side, max(row.area_m2, 1e-6), element.facing_deg, element.slope_deg, row.build_up,
        None if element.has_build_up else u, g, _constant_shading(opening),
        _absorptance(row), typed_b, ground_of(shown, element, after), edge=edge_of(stated, row.key, element.kind),
        shade=shade_of(opening), shutters=opening is not None and opening.shading == "shutters",
    )  # fmt: skip


def _absorptance(row: Row) -> float:
    """Of the sun: a skin that an option brings has its own colour, what stands there that of the element."""
    place = row.element.place
    if row.build_up is None or not row.build_up.is_stated:
        return place.absorptance
    return absorptance_of(row.build_up, place, row.option is not None)


def _constant_shading(opening: Opening | None) -> float:
    """Share of the sun that passes at all hours. A reveal of a known depth is reckoned by the hour instead."""
    if opening is None or (opening.shading == "reveal" and opening.reveal_mm > 0.0):
        return 1.0
    return SHADING[opening.shading]


def shade_of(opening: Opening | None) -> Shade | None:
    """What stands before each window of an opening; None where nothing does."""
    if opening is None or not (opening.reveal_mm or opening.overhang_m or opening.horizon_deg):
        return None
    return Shade(opening.width_m, opening.height_m, opening.reveal_mm / 1000.0, opening.overhang_m, opening.horizon_deg)


def ground_of(shown: Shown, element: Element, after: bool) -> GroundPlace | None:
    """Size, perimeter, soil and depth for ISO 13370 in one state; None where they are not known."""
    if element.adjoining != "ground" or element.kind == "roof":
        return None
    entries = shown.both.after_by_key if after else shown.both.before_by_key
    entry = entries.get(element.shape_key)
    bodies = {body.id: body for body in shown.shape(after).bodies}
    body = bodies.get(element.body)
    wall = body.wall_mm / 1000.0 if body is not None else 0.4
    depth = element.depth_m
    if depth is None and body is not None and body.below == "heated_cellar":
        depth = max(body.ground_m - (body.level_m - body.below_height_m), 0.0)
    if element.kind == "wall":
        if not depth:
            return None
        return GroundPlace(
            area_m2=1.0, perimeter_m=1.0, wall_m=wall, soil=shown.project.soil, depth_m=depth, floor_r_m2k_w=_floor_r(shown, element.body, after),
        )  # fmt: skip
    perimeter = element.perimeter_m or (entry.perimeter_m if entry is not None else None)
    area = element.area_after(shown.both) if after and not shown.refused else element.area_m2
    if not perimeter or area <= 0.0:
        return None
    return GroundPlace(area_m2=area, perimeter_m=perimeter, wall_m=wall, soil=shown.project.soil, depth_m=depth or 0.0)


def _floor_r(shown: Shown, body: str, after: bool) -> float:
    """R of the layers of the floor on the ground in this part of the house [m²K/W]; 0 where it is not stated or cannot be reckoned."""
    floors = [e for e in shown.elements if (e.kind, e.adjoining, e.body) == ("floor", "ground", body)]
    found = []
    for row in rows_of(replace(shown, elements=floors), after):
        if row.build_up is None:
            continue
        try:
            made = transmittance(row.build_up, "floor")
        except CoreError:
            continue
        found.append((row.area_m2, max(made.r_effective - made.internal_surface - made.external_surface, 0.0)))
    area = sum(one for one, _ in found)
    return sum(one * r for one, r in found) / area if area > 0.0 else 0.0


def edge_of(stated: AirStated, key: str, kind: str) -> EdgeInsulation | None:
    """The strip along the edge of a slab, where one is stated."""
    return next((one.strip for one in stated.edges if one.key == key), None) if kind == "floor" else None


# --- leaks ----------------------------------------------------------------------------------------


@dataclass(frozen=True)
class Tested:
    """A blower-door test in the line of tests: q50 [m³/h], n50 by the volume it was measured in, where that is known."""

    uid: str
    stage: str
    on: str
    q50_m3_h: float
    n50: float | None
    valid: bool


def tests_of(shown: Shown) -> list[Tested]:
    """Every test that can be read, the oldest first."""
    found = []
    rows = list(shown.project.measurements.filter(kind=Measurement.BLOWER_DOOR))
    sides = measured_in(shown.project) if rows else ()
    for row in rows:
        line = sides[line_after(shown.project, row.stage, row.measured_on)]
        try:
            result = airtightness(BlowerDoorTest.model_validate(row.data), line.volume_m3, None)
        except (CoreError, ValueError):
            continue  # its own row says why
        n50 = result.n50.value if result.n50 is not None else None
        on = row.measured_on.isoformat() if row.measured_on else ""
        found.append(Tested(row.uid, row.stage, on, result.q50.value, n50, result.valid))
    return found


def totals(shown: Shown, tests: list[Tested]) -> tuple[float | None, str, float | None, str]:
    """(q50 as found, whence, q50 after, whence) [m³/h]; None where nothing says."""
    project = shown.project
    volume = {after: sizes(shown, after)[0] for after in (False, True)}
    early = [test for test in tests if test.stage == "as found"]
    before: float | None = None
    words = "nothing says how tight it is: add a blower-door test, or type n50"
    if early:
        before, words = early[-1].q50_m3_h, f"blower door{', ' + early[-1].on if early[-1].on else ''}"
    elif project.air_kind == "n50" and project.air_value and volume[False]:
        before, words = (
            project.air_value * volume[False],
            f"n50 {project.air_value:g} 1/h typed",
        )
    last = [test for test in tests if test.stage == "at the end"]
    after: float | None = None
    later = "no target is typed: as found"
    if shown.found != shown.after:
        later = "no target is typed: what stays leaks as found, what comes in by the guess of its kind"
    if last:
        after, later = last[-1].q50_m3_h, f"blower door at the end{', ' + last[-1].on if last[-1].on else ''}"
    elif project.air_kind == "n50" and project.air_value_after is not None and volume[True]:
        after = project.air_value_after * volume[True]
        later = f"n50 {project.air_value_after:g} 1/h aimed at"
    return before, words, after, later


def leak_places(shown: Shown, after: bool = False) -> list[LeakPlace]:
    """The rows of the ledger in one state: every element of its line, where it stands and what it leaks to."""
    shape, geometry = shown.shape(after), shown.geometry(after)
    spaces = cold_spaces(shape, geometry) if shape.bodies else []
    borders = {key: space.id for space in spaces for key in space.borders}
    derived = shown.both.after_by_key if after else shown.both.before_by_key
    built = {body.id for body in shown.found.bodies}
    found_leaks: dict[int, list[str]] = {}
    for row in shown.project.measurements.filter(kind=Measurement.BLOWER_DOOR):
        for raw in row.leaks:
            leak = Leak.model_validate(raw)
            if leak.element_id is not None:
                found_leaks.setdefault(leak.element_id, []).append(leak.size)
    places = []
    for row in rows_of(shown, after):
        element = row.element
        height, spread, over = _height(derived.get(element.shape_key), element)
        glass = element.u_w_m2k
        if row.stands == "after" and element.planned_u_w_m2k is not None:
            glass = element.planned_u_w_m2k
        level = element.kind in ("roof", "floor")
        places.append(
            LeakPlace(
                row.key,
                element.name,
                guess_of(row.build_up, element.kind, element.adjoining, (glass or 9.0) < NEW_GLASS_U),
                row.area_m2,
                height,
                None if level else element.facing_deg,
                over,
                side_of(element, borders),
                tuple(found_leaks.get(element.pk, [])),  # type: ignore[arg-type]
                spread_m=spread,
                new=row.stands == "after" and (element.body not in built or not element.has_build_up),
            )  # fmt: skip
        )
    return [*places, *joints(shape)] if shown.project.current_air.joints else places


def _height(entry: Derived | None, element: Element) -> tuple[float, float, bool]:
    """(height of its middle above the shape's zero, how far it reaches upward, whether it lies at the top)."""
    top = element.kind == "roof" or (element.kind == "window" and element.slope_deg < 90.0)
    if entry is None:
        return {"roof": 3.0, "floor": 0.0}.get(element.kind, 1.5), 0.0, top
    return round(0.5 * (entry.low_m + entry.high_m), 2), round(entry.high_m - entry.low_m, 2), top


def ledger_of(shown: Shown) -> tuple[Ledger | None, str, str]:
    """(the ledger, whence the sum as found, whence the one after). Raises OutOfRange where what is typed cannot add up."""
    project = shown.project
    before, words, after, later = totals(shown, tests_of(shown))
    if before is None or not shown.elements:
        return None, words if before is None else "there is no element that could leak", later
    if not shown.found.bodies:
        return None, "leaks have no height nor face without the shape: draw it under Survey", later
    stated = {line.key: line for line in project.current_air.ledger}
    for line in project.shown_scheme().current_air.ledger:  # what is left after the works is of the scheme
        base = stated.get(line.key, line)
        stated[line.key] = base.model_copy(update={"left": line.left})
    places = leak_places(shown), leak_places(shown, True)
    return ledger(places[0], list(stated.values()), before, after, places[1]), words, later


def air_lines(stated: AirStated) -> AirStated:
    """As it is kept: rows that say nothing are left out."""
    lines = [
        line
        for line in stated.ledger
        if line.q50_m3_h is not None or line.height_m is not None or line.left is not None
    ]
    return stated.model_copy(update={"ledger": lines})
