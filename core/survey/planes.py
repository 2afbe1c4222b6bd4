"""Plan outlines, roof planes and wall elevations as plain geometry. Areas by Shapely; lengths in metres."""

from __future__ import annotations

import math
from dataclasses import dataclass

from shapely import Point, Polygon, box
from shapely.geometry.base import BaseGeometry

from core.errors import OutOfRange
from core.survey.shape import Body, Shape

FAR = 1e4
Points = list[tuple[float, float]]


@dataclass(frozen=True)
class Edge:
    """One side of an outline. start → end in the typed order; (nx, ny) points outward."""

    letter: str
    start: tuple[float, float]
    end: tuple[float, float]
    nx: float
    ny: float

    @property
    def length(self) -> float:
        return math.dist(self.start, self.end)

    def at(self, s: float) -> tuple[float, float]:
        """The plan point s metres from the start."""
        share = s / self.length
        return (
            self.start[0] + share * (self.end[0] - self.start[0]),
            self.start[1] + share * (self.end[1] - self.start[1]),
        )

    def along(self, point: tuple[float, float]) -> float:
        """Projection of a plan point on the side [m from the start]."""
        ux, uy = (self.end[0] - self.start[0]) / self.length, (self.end[1] - self.start[1]) / self.length
        return (point[0] - self.start[0]) * ux + (point[1] - self.start[1]) * uy

    def before(self, point: tuple[float, float]) -> float:
        """Signed distance of a point outward from the side's line [m]."""
        return (point[0] - self.start[0]) * self.nx + (point[1] - self.start[1]) * self.ny


@dataclass(frozen=True)
class RoofPlane:
    """z = a x + b y + c over its part of the plan; falls toward the side `letter`."""

    key: str
    letter: str
    a: float
    b: float
    c: float

    def z(self, point: tuple[float, float]) -> float:
        return self.a * point[0] + self.b * point[1] + self.c

    @property
    def slope_deg(self) -> float:
        return math.degrees(math.atan(math.hypot(self.a, self.b)))

    def bearing_deg(self, up_bearing: float) -> float:
        """Compass bearing that the slope faces; 0 for a level roof."""
        if math.hypot(self.a, self.b) < 1e-9:
            return 0.0
        return bearing(-self.a, -self.b, up_bearing)


def bearing(nx: float, ny: float, up_bearing: float) -> float:
    """Compass bearing of a plan direction, when the top of the plan faces `up_bearing` [°]."""
    return round((up_bearing + math.degrees(math.atan2(nx, ny))) % 360.0, 6) % 360.0


def edges_of(outline: Points) -> list[Edge]:
    """The sides with outward normals, whichever way round the outline was typed."""
    area = sum(x0 * y1 - x1 * y0 for (x0, y0), (x1, y1) in zip(outline, outline[1:] + outline[:1], strict=True))
    turn = 1.0 if area > 0 else -1.0
    found = []
    for index, (start, end) in enumerate(zip(outline, outline[1:] + outline[:1], strict=True)):
        length = math.dist(start, end)
        if length < 1e-6:
            raise OutOfRange("two corners of the outline are the same point", f"corner {index + 1}")
        nx, ny = turn * (end[1] - start[1]) / length, -turn * (end[0] - start[0]) / length
        found.append(Edge(chr(97 + index), start, end, nx, ny))
    return found


def offset(outline: Points, inward: float) -> Points:
    """The outline with every side moved inward [m] (outward when negative), corners mitred.

    Raises OutOfRange when nothing is left, or the sides no longer close.
    """
    if inward == 0.0:
        return list(outline)
    edges = edges_of(outline)
    moved: Points = []
    for before, edge in zip(edges[-1:] + edges[:-1], edges, strict=True):
        d0 = before.nx * before.start[0] + before.ny * before.start[1] - inward
        d1 = edge.nx * edge.start[0] + edge.ny * edge.start[1] - inward
        det = before.nx * edge.ny - edge.nx * before.ny
        if abs(det) < 1e-9:  # two sides in one line
            moved.append((edge.start[0] - inward * edge.nx, edge.start[1] - inward * edge.ny))
        else:
            moved.append(((d0 * edge.ny - d1 * before.ny) / det, (before.nx * d1 - edge.nx * d0) / det))
    turned = any(
        (b[0] - a[0]) * (edge.end[0] - edge.start[0]) + (b[1] - a[1]) * (edge.end[1] - edge.start[1]) <= 0
        for edge, a, b in zip(edges, moved, moved[1:] + moved[:1], strict=True)
    )
    if turned or not Polygon(moved).is_valid:
        raise OutOfRange(f"walls of {abs(inward) * 1000:.0f} mm leave no room inside the outline; check its dimensions")
    return moved


def outline_of(shape: Shape, body: Body, kind: str) -> Points:
    """The outline of a body in "internal" or "external" dimensions, whichever way it was measured."""
    wall = body.wall_mm / 1000.0
    if shape.outlines == kind:
        return list(body.outline)
    return offset(list(body.outline), wall if kind == "internal" else -wall)


def half_plane(a: float, b: float, c: float) -> Polygon:
    """A square of FAR metres filling a·x + b·y ≤ c."""
    norm = math.hypot(a, b)
    ux, uy = a / norm, b / norm
    x0, y0 = ux * c / norm, uy * c / norm
    return Polygon(
        [
            (x0 - uy * FAR, y0 + ux * FAR),
            (x0 + uy * FAR, y0 - ux * FAR),
            (x0 + uy * FAR - ux * FAR, y0 - ux * FAR - uy * FAR),
            (x0 - uy * FAR - ux * FAR, y0 + ux * FAR - uy * FAR),
        ]
    )


def clipped(region: BaseGeometry, a: float, b: float, c: float) -> BaseGeometry:
    """The part of a region where a·x + b·y ≤ c."""
    if math.hypot(a, b) < 1e-12:
        return region if c >= 0 else Polygon()
    return region.intersection(half_plane(a, b, c))


# --- roofs ----------------------------------------------------------------------------------------


def roof_planes(body: Body, outline: Points) -> list[RoofPlane]:
    """The planes of the roof over an outline; the roof is the lowest of them at every point.

    Raises OutOfRange where the form does not fit the outline, with what to do.
    """
    roof, eaves, edges = body.roof, body.eaves_m, edges_of(outline)
    if roof.form == "flat":
        return [RoofPlane("roof", "", 0.0, 0.0, eaves)]
    rise = math.tan(math.radians(roof.pitch_deg))
    if roof.form == "lean_to":
        low = next(edge for edge in edges if edge.letter == roof.low_side)
        if max(low.before(point) for point in outline) > 1e-6:
            raise OutOfRange(
                f"face {low.letter} of “{body.name}” is not at the lowest side of the plan", "choose another low side"
            )
        return [_rising(low, rise, eaves, f"roof/{low.letter}")]
    if roof.form == "hip":
        if not _convex(outline):
            raise OutOfRange(
                f"a hip roof over “{body.name}” needs an outline without inner corners",
                "draw the wing as a body of its own",
            )
        return [_rising(edge, rise, eaves, f"roof/{edge.letter}") for edge in edges]
    sides = _ridge_sides(body, outline, edges)
    if roof.form == "gable":
        return [_rising(edge, rise, eaves, f"roof/{edge.letter}") for edge in sides]
    assert roof.break_height_m is not None and roof.upper_pitch_deg is not None
    upper = math.tan(math.radians(roof.upper_pitch_deg))
    planes = []
    for edge in sides:
        planes.append(_rising(edge, rise, eaves, f"roof/{edge.letter}/lower"))
        run = roof.break_height_m / rise
        planes.append(
            _rising(edge, upper, eaves + roof.break_height_m - upper * run, f"roof/{edge.letter}/upper", edge.letter)
        )
    span = abs(sides[1].before(sides[0].start))
    if 2.0 * roof.break_height_m / rise >= span:
        raise OutOfRange(
            f"the break of the mansard over “{body.name}” lies above its ridge", "lower the break or steepen the roof"
        )
    return planes


def _rising(edge: Edge, rise: float, eaves: float, key: str, letter: str = "") -> RoofPlane:
    """A plane at `eaves` above the side's line, rising inward."""
    a, b = -rise * edge.nx, -rise * edge.ny
    return RoofPlane(key, letter or edge.letter, a, b, eaves - a * edge.start[0] - b * edge.start[1])


def _convex(outline: Points) -> bool:
    polygon = Polygon(outline)
    return bool(polygon.convex_hull.area - polygon.area < 1e-6)


def _ridge_sides(body: Body, outline: Points, edges: list[Edge]) -> tuple[Edge, Edge]:
    """The two outermost sides that run with the ridge: opposite, parallel, farthest apart."""
    across = body.roof.ridge == "across"
    best: tuple[float, float, Edge, Edge] | None = None
    for index, first in enumerate(edges):
        for second in edges[index + 1 :]:
            if first.nx * second.nx + first.ny * second.ny > -0.99999:
                continue
            if max(max(first.before(p), second.before(p)) for p in outline) > 1e-6:
                continue  # something stands out beyond this side
            span = abs(second.before(first.start))
            run = Polygon(outline).area / span
            key = (span if across else -span, run)
            if best is None or key > best[:2]:
                best = (*key, first, second)
    if best is None:
        raise OutOfRange(
            f"a ridge over “{body.name}” needs two parallel outer sides",
            "draw it as two bodies, or choose a hip or flat roof",
        )
    return best[2], best[3]


def regions(planes: list[RoofPlane], outline: Points) -> list[tuple[RoofPlane, BaseGeometry]]:
    """Each plane with the part of the plan where it is the lowest; parts under 1 cm² are left out."""
    found = []
    for plane in planes:
        region: BaseGeometry = Polygon(outline)
        for other in planes:
            if other is not plane:
                region = clipped(region, plane.a - other.a, plane.b - other.b, other.c - plane.c)
        if region.area > 1e-4:
            found.append((plane, region))
    return found


def roof_z(planes: list[RoofPlane], point: tuple[float, float]) -> float:
    """Height of the roof over a plan point [m]."""
    return min(plane.z(point) for plane in planes)


def volume_above(planes: list[RoofPlane], outline: Points, level: float) -> float:
    """Volume between a level and the roof [m³]; exact, since each plane is linear over its part."""
    total = 0.0
    for plane, region in regions(planes, outline):
        centre: Point = region.centroid
        total += region.area * (plane.z((centre.x, centre.y)) - level)
    return total


def area_with_headroom(planes: list[RoofPlane], outline: Points, level: float, headroom: float) -> float:
    """Plan area where the roof stands at least `headroom` above a level [m²]."""
    region: BaseGeometry = Polygon(outline)
    for plane in planes:
        region = clipped(region, -plane.a, -plane.b, plane.c - level - headroom)
    return float(region.area)


def elevation(edge: Edge, planes: list[RoofPlane], bottom: float) -> BaseGeometry:
    """The wall over one side from `bottom` up to the roof, as a polygon in (s, z)."""
    top = max(roof_z(planes, edge.start), roof_z(planes, edge.end), bottom) + FAR / 10
    wall: BaseGeometry = box(0.0, bottom, edge.length, top)
    for plane in planes:
        # z ≤ a x(s) + b y(s) + c, linear in s
        z0, z1 = plane.z(edge.start), plane.z(edge.end)
        wall = clipped(wall, -(z1 - z0) / edge.length, 1.0, z0)
    return wall
