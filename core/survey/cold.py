"""The spaces beside the heated ones: attics, voids, cellars, parts that are not heated. Their skins, volume, and what borders on them.

Pure geometry from the shape. A skin that is an element of its own (a roof slope that a scheme takes in) is named by its key.
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Literal

from shapely import Polygon

from core.survey.geometry import (
    Building,
    _against,
    _counted,
    _ridge,
    _shared_length,
    _walls,
    derive,
    envelope_planes,
)
from core.survey.planes import bearing, edges_of, elevation, regions, roof_planes, volume_above
from core.survey.shape import Body, Shape

SkinKind = Literal["roof", "wall", "earth floor", "earth wall"]
ColdKind = Literal["attic", "void", "cellar", "part"]


@dataclass(frozen=True)
class Skin:
    """A face of the space to the outside air or to the earth [m²]. key: the element it is, or would be inside of the line."""

    kind: SkinKind
    area_m2: float
    facing_deg: float
    slope_deg: float
    key: str


@dataclass(frozen=True)
class ColdSpace:
    """id: main/attic. borders: keys of the elements of the heated line that face it; low_m, high_m: its heights above the shape's zero.

    depth_m: how far its floor lies below the ground outside; perimeter_m: of its floor, where it faces outside.
    """

    id: str
    kind: ColdKind
    name: str
    body: str
    volume_m3: float
    floor_m2: float
    perimeter_m: float
    low_m: float
    high_m: float
    depth_m: float
    wall_m: float
    skins: tuple[Skin, ...]
    borders: tuple[str, ...]

    def area(self, *kinds: SkinKind) -> float:
        return sum(skin.area_m2 for skin in self.skins if skin.kind in kinds)


def cold_spaces(shape: Shape, building: Building | None = None) -> list[ColdSpace]:
    """Every space that is not heated and lies at the building. Raises OutOfRange where the shape does not close."""
    made = building or derive(shape)
    keys = [entry.key for entry in made.elements]
    found: list[ColdSpace] = []
    for body in shape.bodies:
        if not body.heated:
            found.append(_part(shape, body, keys))
            continue
        if not (body.roof.room or body.roof.form == "flat"):
            found.append(_attic(shape, body, keys))
        if body.below in ("void", "cellar"):
            found.append(_below(shape, body, keys))
    return found


def _slopes(shape: Shape, body: Body) -> list[Skin]:
    outline = _counted(shape, body)
    return [
        Skin(
            "roof",
            region.area / math.cos(math.radians(plane.slope_deg)),
            plane.bearing_deg(shape.up_bearing_deg),
            plane.slope_deg,
            f"{body.id}/{plane.key}",
        )
        for plane, region in regions(roof_planes(body, outline), outline)
    ]


def _attic(shape: Shape, body: Body, keys: list[str]) -> ColdSpace:
    outline = _counted(shape, body)
    planes = roof_planes(body, outline)
    gables = []
    for edge in edges_of(outline):
        area = (
            elevation(edge, planes, body.level_m).area
            - elevation(edge, envelope_planes(body, outline), body.level_m).area
        )
        if area > 0.01:
            facing = bearing(edge.nx, edge.ny, shape.up_bearing_deg)
            gables.append(Skin("wall", area, facing, 90.0, f"{body.id}/{edge.letter}"))
    volume = volume_above(planes, outline, body.eaves_m)
    floor = Polygon(outline).area
    # the mean height of a roof is a third (hip) to a half (gable) of its ridge; for the stack the ridge counts
    top = _ridge(shape, body)
    return ColdSpace(
        f"{body.id}/attic", "attic", f"attic of {body.name}", body.id, volume, floor, 0.0, body.eaves_m, top, 0.0,
        body.wall_mm / 1000.0, (*_slopes(shape, body), *gables), tuple(k for k in keys if k == f"{body.id}/ceiling"),
    )  # fmt: skip


def _below(shape: Shape, body: Body, keys: list[str]) -> ColdSpace:
    outline = _counted(shape, body)
    own = [wall for wall in _walls(shape, body, shape.areas)]
    outer = [wall for other in shape.bodies for wall in _walls(shape, other, "external")]
    floor = Polygon(outline).area
    low, high = body.level_m - body.below_height_m, body.level_m
    ground = min(max(body.ground_m, low), high)
    skins = [Skin("earth floor", floor, 0.0, 0.0, f"{body.id}/floor/ground")]
    perimeter = 0.0
    for wall in own:
        length = wall.edge.length - _shared_length(wall, outer)
        if length < 0.01:
            continue
        perimeter += length
        facing = bearing(wall.edge.nx, wall.edge.ny, shape.up_bearing_deg)
        base = f"{body.id}/cellar/{wall.edge.letter}"
        if ground - low > 0.01:
            skins.append(Skin("earth wall", length * (ground - low), facing, 90.0, f"{base}/ground"))
        if high - ground > 0.01:
            # the wall of the house goes on down: its layers are taken until the scheme makes it an element of its own
            skins.append(Skin("wall", length * (high - ground), facing, 90.0, f"{body.id}/{wall.edge.letter}"))
    kind: ColdKind = "void" if body.below == "void" else "cellar"
    name = f"void under {body.name}" if kind == "void" else f"cellar of {body.name}"
    borders = tuple(k for k in keys if k in (f"{body.id}/floor", f"{body.id}/floor/unheated"))
    return ColdSpace(
        f"{body.id}/below", kind, name, body.id, floor * body.below_height_m, floor, perimeter, low, high,
        max(body.ground_m - low, 0.0), body.wall_mm / 1000.0, tuple(skins), borders,
    )  # fmt: skip


def _part(shape: Shape, body: Body, keys: list[str]) -> ColdSpace:
    outline = _counted(shape, body)
    planes = roof_planes(body, outline)
    outer = [wall for other in shape.bodies for wall in _walls(shape, other, "external")]
    floor = Polygon(outline).area
    skins = _slopes(shape, body)
    perimeter = 0.0
    for wall, out in zip(_walls(shape, body, shape.areas), _walls(shape, body, "external"), strict=True):
        whole = elevation(wall.edge, planes, body.level_m)
        share, length = 1.0, wall.edge.length
        for other in outer:
            common = _against(out, other) if other.body is not body and other.body.heated else None
            if common is not None:
                share -= common.area / max(elevation(out.edge, planes, body.level_m).area, 1e-9)
                length -= common.bounds[2] - common.bounds[0]
        facing = bearing(wall.edge.nx, wall.edge.ny, shape.up_bearing_deg)
        if whole.area * share > 0.05:
            skins.append(Skin("wall", whole.area * share, facing, 90.0, f"{body.id}/{wall.edge.letter}"))
        perimeter += max(length, 0.0)
    if body.below == "slab":
        skins.append(Skin("earth floor", floor, 0.0, 0.0, f"{body.id}/floor"))
    top = _ridge(shape, body)
    height = body.eaves_m - body.level_m
    return ColdSpace(
        f"{body.id}/part", "part", body.name, body.id, floor * height + volume_above(planes, outline, body.eaves_m), floor,
        perimeter, body.level_m, top, 0.0, body.wall_mm / 1000.0, tuple(skins),
        tuple(k for k in keys if k.endswith(f"/to_{body.id}")),
    )  # fmt: skip
