"""From the shape to elements: areas, facings, slopes, perimeter, volume, floor area, each with its arithmetic."""

from __future__ import annotations

import math
from dataclasses import dataclass, field

from shapely import Polygon, box
from shapely.geometry.base import BaseGeometry

from core.buildup.model import Adjoining, Kind
from core.errors import OutOfRange
from core.say import Said, read_quantities, said
from core.survey.openings import window_values
from core.survey.planes import (
    Edge,
    Points,
    RoofPlane,
    area_with_headroom,
    bearing,
    edges_of,
    elevation,
    outline_of,
    regions,
    roof_planes,
    volume_above,
)
from core.survey.shape import Body, FacePart, Opening, Shape

# Headroom above which the floor of an attic room is counted; local rules differ.
HEADROOM_M = 1.5
# Typical reduction factors of the neighbours, to be replaced by ISO 13370 or ISO 13789 where it matters.
FACTOR_GROUND, FACTOR_VOID, FACTOR_UNHEATED, FACTOR_ATTIC = 0.5, 0.8, 0.8, 0.9
SAME_LINE_M = 0.05


@dataclass(frozen=True)
class Derived:
    """One element that follows from the shape. Areas in m²; the net area is what counts for heat. low_m, high_m: between which heights it lies."""

    key: str
    name: str
    kind: Kind
    adjoining: Adjoining
    body: str
    face: str
    facing_deg: float
    slope_deg: float
    gross_area_m2: float
    openings_m2: float
    factor_b: float
    arithmetic: Said
    perimeter_m: float | None = None
    height_m: float | None = None
    u_w_m2k: float | None = None
    g_value: float | None = None
    low_m: float = 0.0
    high_m: float = 0.0

    @property
    def net_area_m2(self) -> float:
        return self.gross_area_m2 - self.openings_m2


@dataclass(frozen=True)
class Building:
    """Everything derived from a shape. notes: what was not counted, in words."""

    elements: list[Derived]
    volume_m3: float
    floor_area_m2: float
    footprint_m2: float
    envelope_m2: float
    notes: list[Said] = field(default_factory=list)
    arithmetic: list[Said] = field(default_factory=list)


@dataclass(frozen=True)
class _Wall:
    """A wall of a body, counted: its side, and its extent in (s, z) along that side."""

    body: Body
    edge: Edge
    extent: BaseGeometry


def derive(shape: Shape) -> Building:
    """All elements of a shape. Raises OutOfRange with the body's name where a form does not fit."""
    walls = [wall for body in shape.bodies for wall in _walls(shape, body, shape.areas)]
    # What stands against what is judged by the outer faces, so that a corner's own thickness is no gap.
    outer = [wall for body in shape.bodies for wall in _walls(shape, body, "external")]
    elements: list[Derived] = []
    notes: list[Said] = []
    for body in shape.bodies:
        if not body.heated:
            notes.append(
                said(f"“{body.name}” is not heated: it is drawn, and what adjoins it adjoins an unheated space")
            )
            continue
        own = [wall for wall in walls if wall.body is body]
        for wall in own:
            elements += _wall_elements(shape, wall, outer)
        elements += _roof_elements(shape, body)
        elements += _floor_elements(shape, body, own, outer)
    elements += [_opening_element(shape, o) for o in shape.openings if shape.body(o.body).heated]
    for key in [e.key for e in elements if e.net_area_m2 <= 0 and e.kind in ("wall", "roof", "floor")]:
        element = next(e for e in elements if e.key == key)
        raise OutOfRange(
            f"the openings of {element.name} are larger ({element.openings_m2:.1f} m²) than the wall "
            f"({element.gross_area_m2:.1f} m²)",
            "correct an opening or the outline",
        )
    if _roofs_meet(shape):
        notes.append(
            said("where the roof of one body runs into that of another, the valley is not cut out: correct by hand")
        )
    return _totals(shape, elements, notes)


def _counted(shape: Shape, body: Body) -> Points:
    return outline_of(shape, body, shape.areas)


def envelope_planes(body: Body, outline: Points) -> list[RoofPlane]:
    """The planes that bound the heated space: the roof, or a level ceiling at the eaves."""
    if body.roof.room or body.roof.form == "flat":
        return roof_planes(body, outline)
    return [RoofPlane("ceiling", "", 0.0, 0.0, body.eaves_m)]


def _bottom(body: Body) -> float:
    """Where the outer walls that face air begin: the lowest floor, or the ground beside a heated cellar."""
    return body.level_m


def _walls(shape: Shape, body: Body, measured: str) -> list[_Wall]:
    outline = outline_of(shape, body, measured)
    planes = envelope_planes(body, outline)
    return [_Wall(body, edge, elevation(edge, planes, _bottom(body))) for edge in edges_of(outline)]


def _against(wall: _Wall, other: _Wall) -> BaseGeometry | None:
    """The part of another wall that lies against this one, in this wall's (s, z); None when they do not meet."""
    if other.body is wall.body or wall.edge.nx * other.edge.nx + wall.edge.ny * other.edge.ny > -0.9999:
        return None
    reach = (wall.body.wall_mm + other.body.wall_mm) / 1000.0 + SAME_LINE_M
    if abs(wall.edge.before(other.edge.start)) > reach or wall.edge.before(other.edge.start) < -SAME_LINE_M:
        return None
    s0, s1 = wall.edge.along(other.edge.start), wall.edge.along(other.edge.end)
    mirrored = Polygon(
        [(s0 + (s1 - s0) * s / other.edge.length, z) for s, z in getattr(other.extent, "exterior", other.extent).coords]
    )
    common = wall.extent.intersection(mirrored)
    return common if common.area > 1e-6 else None


def _wall_elements(shape: Shape, wall: _Wall, walls: list[_Wall]) -> list[Derived]:
    body, edge = wall.body, wall.edge
    facing = bearing(edge.nx, edge.ny, shape.up_bearing_deg)
    open_air = wall.extent
    found: list[Derived] = []
    for other in walls:
        common = _against(wall, other)
        if common is None:
            continue
        open_air = open_air.difference(common)
        if not other.body.heated:
            found.append(
                Derived(
                    key=f"{body.id}/{edge.letter}/to_{other.body.id}",
                    name=f"{body.name}, wall to {other.body.name}",
                    kind="wall",
                    adjoining="unheated",
                    body=body.id,
                    face=edge.letter,
                    facing_deg=facing,
                    slope_deg=90.0,
                    gross_area_m2=common.area,
                    openings_m2=0.0,
                    factor_b=FACTOR_UNHEATED,
                    arithmetic=read_quantities(
                        f"{{{common.area:.2f} m²}} lie against “{other.body.name}”, which is not heated"
                    ),
                    low_m=common.bounds[1],
                    high_m=common.bounds[3],
                )
            )
    if open_air.area < 1e-4:
        return found
    cuts = _storey_cuts(body)
    openings = [o for o in shape.openings if o.body == body.id and o.face == edge.letter and not o.in_roof]
    for index, (low, high, storey) in enumerate(cuts):
        extent = open_air.intersection(box(-1.0, low, edge.length + 1.0, high)) if len(cuts) > 1 else open_air
        if extent.area < 1e-4:
            continue
        opened = sum(o.area_m2 for o in openings if _cut_of(body, o) == index)
        height = extent.bounds[3] - extent.bounds[1]
        words = f"{{{edge.length:.2f} m}} long, up to {{{height:.2f} m}} high: {{{extent.area:.2f} m²}} gross"
        lost = wall.extent.area - open_air.area
        if lost > 1e-4 and len(cuts) == 1:
            words += f" after {{{lost:.2f} m²}} against other bodies"
        base = f"{body.id}/{edge.letter}" + (f"/{storey}" if len(cuts) > 1 else "")
        name = f"{body.name}, face {edge.letter}" + (f", {body.storeys[storey].name}" if len(cuts) > 1 else "")
        for part, share in _parts(shape, body.id, edge.letter):
            of_it = f" × {share:.0%} {part.name}" if part else ""
            found.append(
                Derived(
                    key=base + (f"/{part.id}" if part else ""),
                    name=name + (f", {part.name}" if part else ""),
                    kind="wall",
                    adjoining="outside",
                    body=body.id,
                    face=edge.letter,
                    facing_deg=facing,
                    slope_deg=90.0,
                    gross_area_m2=extent.area * share,
                    openings_m2=opened * share,
                    factor_b=1.0,
                    arithmetic=read_quantities(f"{words}{of_it}, less {{{opened * share:.2f} m²}} of openings"),
                    height_m=height,
                    low_m=extent.bounds[1],
                    high_m=extent.bounds[3],
                )
            )
    return found


def _storey_cuts(body: Body) -> list[tuple[float, float, int]]:
    """(low, high, first storey) of each run of storeys whose walls are made alike; the last goes up to the roof."""
    cuts: list[tuple[float, float, int]] = []
    low, level, first = -math.inf, body.level_m, 0
    for index, storey in enumerate(body.storeys):
        if index and storey.own_walls:
            cuts.append((low, level, first))
            low, first = level, index
        level += storey.height_m
    cuts.append((low, math.inf, first))
    return [(max(a, -1e3), min(b, 1e3), c) for a, b, c in cuts]


def _cut_of(body: Body, opening: Opening) -> int:
    starts = [first for _, _, first in _storey_cuts(body)]
    return max(index for index, first in enumerate(starts) if opening.storey >= first)


def _parts(shape: Shape, body: str, face: str) -> list[tuple[FacePart | None, float]]:
    for entry in shape.parts:
        if entry.body == body and entry.face == face:
            return [(part, part.share) for part in entry.parts]
    return [(None, 1.0)]


def _roof_elements(shape: Shape, body: Body) -> list[Derived]:
    outline = _counted(shape, body)
    rooflights = [o for o in shape.openings if o.body == body.id and o.in_roof]
    if not (body.roof.room or body.roof.form == "flat"):
        if rooflights:
            raise OutOfRange(
                f"“{rooflights[0].name}” lies in the roof, and the attic of “{body.name}” is outside of the heated line",
                "take the attic in, or leave the rooflight out",
            )
        area = Polygon(outline).area
        return [
            Derived(
                key=f"{body.id}/ceiling",
                name=f"{body.name}, ceiling under the roof",
                kind="roof",
                adjoining="unheated",
                body=body.id,
                face="",
                facing_deg=0.0,
                slope_deg=0.0,
                gross_area_m2=area,
                openings_m2=0.0,
                factor_b=FACTOR_ATTIC,
                arithmetic=read_quantities(f"plan area {{{area:.2f} m²}}; the attic above is not heated"),
                low_m=body.eaves_m,
                high_m=body.eaves_m,
            )
        ]
    found = []
    planes = regions(roof_planes(body, outline), outline)
    letters = {plane.letter for plane, _ in planes}
    for light in rooflights:
        if letters != {""} and light.face not in letters:
            raise OutOfRange(
                f"“{light.name}”: no part of the roof falls toward face {light.face}", "choose another face"
            )
    first: set[str] = set()
    for plane, region in planes:
        slope = plane.slope_deg
        area = region.area / math.cos(math.radians(slope))
        lights = [o for o in rooflights if plane.letter in ("", o.face)] if plane.letter not in first else []
        first.add(plane.letter)  # where a slope has two parts its rooflights lie in the first
        opened = sum(o.area_m2 for o in lights)
        part = " lower" if plane.key.endswith("/lower") else " upper" if plane.key.endswith("/upper") else ""
        found.append(
            Derived(
                key=f"{body.id}/{plane.key}",
                name=f"{body.name},{part} roof" + (f" over {plane.letter}" if plane.letter else ""),
                kind="roof",
                adjoining="outside",
                body=body.id,
                face=plane.letter,
                facing_deg=plane.bearing_deg(shape.up_bearing_deg),
                slope_deg=round(slope, 6),
                gross_area_m2=area,
                openings_m2=opened,
                factor_b=1.0,
                arithmetic=read_quantities(
                    f"plan {{{region.area:.2f} m²}} / cos {slope:.1f}° = {{{area:.2f} m²}}, overhangs not counted"
                    + (f", less {{{opened:.2f} m²}} of rooflights" if opened else "")
                ),
                low_m=min(plane.z(point) for point in _corners(region)),
                high_m=max(plane.z(point) for point in _corners(region)),
            )
        )
    return found


def _floor_elements(shape: Shape, body: Body, own: list[_Wall], walls: list[_Wall]) -> list[Derived]:
    outline = _counted(shape, body)
    area = Polygon(outline).area
    perimeter = sum(wall.edge.length for wall in own) - sum(_shared_length(wall, walls) for wall in own)
    adjoining: dict[str, tuple[Adjoining, float, str]] = {
        "slab": ("ground", FACTOR_GROUND, "floor on the ground"),
        "void": ("unheated", FACTOR_VOID, "floor over the void"),
        "cellar": ("unheated", FACTOR_UNHEATED, "floor over the cellar"),
        "heated_cellar": ("ground", FACTOR_GROUND, f"{_below_word(body)} floor"),
        "open": ("outside", 1.0, "floor over open air"),
    }
    neighbour, factor, words = adjoining[body.below]
    bottom = body.level_m - (body.below_height_m if body.below == "heated_cellar" else 0.0)
    found = [
        Derived(
            key=f"{body.id}/floor",
            name=f"{body.name}, {words}",
            kind="floor",
            adjoining=neighbour,
            body=body.id,
            face="",
            facing_deg=0.0,
            slope_deg=0.0,
            gross_area_m2=area,
            openings_m2=0.0,
            factor_b=factor,
            arithmetic=read_quantities(
                f"plan {{{area:.2f} m²}}; {{{perimeter:.2f} m}} of its edge face outside (B′ = A / ½P = {_b_dash(area, perimeter)})"
            ),
            perimeter_m=perimeter,
            low_m=bottom,
            high_m=bottom,
        )
    ]
    if body.below == "heated_cellar":
        found += _cellar_walls(shape, body, own)
    return found


def _below_word(body: Body) -> str:
    """What a heated space below is called: too low to stand in, it is a void."""
    return "cellar" if body.below_height_m >= HEADROOM_M else "void"


def _b_dash(area: float, perimeter: float) -> str:
    return f"{area / (0.5 * perimeter):.2f} m" if perimeter > 0.01 else "none: no edge faces outside"


def _cellar_walls(shape: Shape, body: Body, own: list[_Wall]) -> list[Derived]:
    low, high = body.level_m - body.below_height_m, body.level_m
    ground = min(max(body.ground_m, low), high)
    found = []
    for wall in own:
        letter, length = wall.edge.letter, wall.edge.length
        facing = bearing(wall.edge.nx, wall.edge.ny, shape.up_bearing_deg)
        spans: list[tuple[str, str, Adjoining, float, float]] = [
            ("ground", "below ground", "ground", ground - low, FACTOR_GROUND),
            ("air", "above ground", "outside", high - ground, 1.0),
        ]
        for key, words, adjoining, height, factor in spans:
            if height < 0.01:
                continue
            found.append(
                Derived(
                    key=f"{body.id}/cellar/{letter}/{key}",
                    name=f"{body.name}, {_below_word(body)} wall {letter} {words}",
                    kind="wall",
                    adjoining=adjoining,
                    body=body.id,
                    face=letter,
                    facing_deg=facing,
                    slope_deg=90.0,
                    gross_area_m2=length * height,
                    openings_m2=0.0,
                    factor_b=factor,
                    arithmetic=read_quantities(f"{{{length:.2f} m}} × {{{height:.2f} m}} {words}"),
                    height_m=height,
                    low_m=low if key == "ground" else ground,
                    high_m=ground if key == "ground" else high,
                )
            )
    return found


def _shared_length(wall: _Wall, walls: list[_Wall]) -> float:
    """Length of a side that lies against another heated body at floor level."""
    total = 0.0
    for other in walls:
        common = _against(wall, other) if other.body.heated else None
        if common is not None:
            total += common.bounds[2] - common.bounds[0]
    return min(total, wall.edge.length)


def _opening_element(shape: Shape, opening: Opening) -> Derived:
    body = shape.body(opening.body)
    outline = outline_of(shape, body, "external")
    edge = next(e for e in edges_of(outline) if e.letter == opening.face)
    facing, slope = bearing(edge.nx, edge.ny, shape.up_bearing_deg), 90.0
    if opening.in_roof:
        plane, region = next(
            (p, r) for p, r in regions(roof_planes(body, outline), outline) if p.letter in ("", opening.face)
        )
        facing, slope = plane.bearing_deg(shape.up_bearing_deg), round(plane.slope_deg, 6)
    values = window_values(opening)
    low = body.level_m + sum(storey.height_m for storey in body.storeys[: opening.storey])
    low += 0.0 if opening.kind == "door" else opening.sill_m
    high = low + opening.height_m
    if opening.in_roof:
        low = high = sum(plane.z(point) for point in _corners(region)) / len(_corners(region))
    return Derived(
        key=f"opening/{opening.id}",
        name=opening.name,
        kind=opening.kind,
        adjoining="outside",
        body=opening.body,
        face=opening.face,
        facing_deg=facing,
        slope_deg=slope,
        gross_area_m2=opening.area_m2,
        openings_m2=0.0,
        factor_b=1.0,
        arithmetic=read_quantities(f"{opening.count} × {{{opening.width_m:.2f} m}} × {{{opening.height_m:.2f} m}}; ")
        + values.words,
        u_w_m2k=round(values.u_w_m2k, 3),
        g_value=round(values.g_value, 3),
        low_m=low,
        high_m=high,
    )


def _roofs_meet(shape: Shape) -> bool:
    """Two pitched roofs over bodies that touch, one eaves below the other's ridge."""
    pitched = [b for b in shape.bodies if b.roof.form != "flat"]
    for index, first in enumerate(pitched):
        for second in pitched[index + 1 :]:
            a, b = Polygon(first.outline), Polygon(second.outline)
            if a.distance(b) < 1.0 and {first.roof.form, second.roof.form} != {"lean_to"}:
                ridge = [_ridge(shape, body) for body in (first, second)]
                if min(ridge) > max(first.eaves_m, second.eaves_m) + 0.05:
                    return True
    return False


def _ridge(shape: Shape, body: Body) -> float:
    outline = outline_of(shape, body, "external")
    planes = roof_planes(body, outline)
    return max(plane.z(point) for plane, region in regions(planes, outline) for point in _corners(region))


def _corners(region: BaseGeometry) -> Points:
    parts = getattr(region, "geoms", [region])
    return [(x, y) for part in parts if isinstance(part, Polygon) for x, y in part.exterior.coords]


def _totals(shape: Shape, elements: list[Derived], notes: list[Said]) -> Building:
    volume = floor = footprint = 0.0
    arithmetic = [said(f"{shape.areas.capitalize()} dimensions; heights floor to floor, as typed.")]
    for body in shape.bodies:
        outline = _counted(shape, body)
        area = Polygon(outline).area
        footprint += Polygon(outline_of(shape, body, "external")).area
        if not body.heated:
            continue
        height = body.eaves_m - body.level_m
        own = area * height
        words = f"{body.name}: {{{area:.2f} m²}} × {{{height:.2f} m}}"
        counted = area * len(body.storeys)
        if body.roof.room and body.roof.form != "flat":
            planes = roof_planes(body, outline)
            attic = volume_above(planes, outline, body.eaves_m)
            usable = area_with_headroom(planes, outline, body.eaves_m, HEADROOM_M)
            own, counted = own + attic, counted + usable
            words += (
                f" + {{{attic:.2f} m³}} under the roof; {{{usable:.2f} m²}} of it with {{{HEADROOM_M:g} m}} of headroom"
            )
        if body.below == "heated_cellar":
            own += area * body.below_height_m
            counted += area if body.below_height_m >= HEADROOM_M else 0.0  # a void that is warmed is no floor
            words += f" + cellar {{{area:.2f} m²}} × {{{body.below_height_m:.2f} m}}"
        volume, floor = volume + own, floor + counted
        arithmetic.append(read_quantities(f"{words} = {{{own:.1f} m³}}, floor {{{counted:.1f} m²}}"))
    envelope = sum(e.net_area_m2 for e in elements)
    return Building(elements, volume, floor, footprint, envelope, notes, arithmetic)
