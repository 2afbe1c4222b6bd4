"""The drawings that follow from the shape: the section along a cut, and the elevation of a face. Metres, z upward.

Pure geometry: what is drawn where, and which element each band is. The look belongs to the interface.
"""

from __future__ import annotations

import math
from dataclasses import dataclass, field, replace
from typing import Literal

from shapely import LineString, Polygon
from shapely.geometry.base import BaseGeometry
from shapely.ops import nearest_points

from core.survey.geometry import _storey_cuts, envelope_planes
from core.survey.planes import (
    Edge,
    Points,
    RoofPlane,
    edges_of,
    elevation,
    outline_of,
    roof_planes,
    roof_z,
)
from core.survey.shape import Body, Opening, Shape

# Thicknesses are drawn as 0.08 m + 1.25 times the real one, so that a sheet of tin is still seen.
DRAWN_LEAST, DRAWN_TIMES = 0.08, 1.25
INNER_FLOOR_M = 0.16

BandKind = Literal["wall", "roof", "floor", "ceiling"]


@dataclass(frozen=True)
class Band:
    """A strip of the section. keys: the derived elements it may be, in order of preference.

    polygon: corners (s, z) [m]; centre and normal: where its arrow starts, and outward.
    outer and inner: the two long sides, each from `start` to `end`, for lines that follow a control layer.
    """

    id: str
    keys: list[str]
    kind: BandKind
    body: str
    polygon: Points
    outer: tuple[tuple[float, float], tuple[float, float]]
    inner: tuple[tuple[float, float], tuple[float, float]]
    normal: tuple[float, float]
    share: float = 1.0

    @property
    def centre(self) -> tuple[float, float]:
        (x0, z0), (x1, z1) = self.outer
        return ((x0 + x1) / 2.0, (z0 + z1) / 2.0)


@dataclass(frozen=True)
class Joint:
    """Where two bands meet, in the order of the round: floor, right wall, roof, left wall.

    key: its kind and the elements it joins. It stays when thicknesses, heights or the place of the cut change.
    """

    name: str
    first: str
    second: str
    at: tuple[float, float]
    key: str


@dataclass(frozen=True)
class Room:
    name: str
    at: tuple[float, float]


@dataclass(frozen=True)
class DrawnLine:
    """A line that is no element. kind: ground, inner floor, inner wall, ceiling, below, roof outline."""

    kind: str
    points: Points


@dataclass(frozen=True)
class Section:
    """The section along a cut; `left` and `right` name the bearings of its ends."""

    bands: list[Band]
    joints: list[Joint]
    rooms: list[Room]
    lines: list[DrawnLine]
    extent: tuple[float, float, float, float]
    left_bearing: float
    right_bearing: float
    bodies: list[str] = field(default_factory=list)


def drawn(thickness: float) -> float:
    """The drawn thickness of a real one [m]."""
    return DRAWN_LEAST + DRAWN_TIMES * thickness


def best_cut(shape: Shape) -> tuple[Literal["x", "y"], float]:
    """The cut that meets the most bodies, across the ridge of the largest; through its middle when it can."""
    if not shape.bodies:
        return "x", 0.0
    return best_cuts(shape)[0]


def best_cuts(shape: Shape) -> list[tuple[Literal["x", "y"], float]]:
    """The best cut each way, the better first; none without a body."""
    if not shape.bodies:
        return []
    main = max(shape.bodies, key=lambda body: Polygon(body.outline).area)
    x0, y0, x1, y1 = Polygon(main.outline).bounds
    across: Literal["x", "y"] = "y" if (x1 - x0 >= y1 - y0) == (main.roof.ridge == "along") else "x"
    other: Literal["x", "y"] = "y" if across == "x" else "x"
    found: list[tuple[float, Literal["x", "y"], float]] = []
    for axis in (across, other):
        low, high = (y0, y1) if axis == "x" else (x0, x1)
        middle = (low + high) / 2.0
        scored = []
        for share in (0.5, 0.37, 0.63, 0.2, 0.8):
            at = low + share * (high - low)
            met = sum(1 for body in shape.bodies if _intervals(body.outline, axis, at))
            scored.append((met - abs(at - middle) / (high - low) * 0.1 - (0.3 if axis != across else 0.0), at))
        best = max(scored, key=lambda one: one[0])
        found.append((best[0], axis, best[1]))
    found.sort(key=lambda one: -one[0])
    return [(axis, round(at, 3)) for _, axis, at in found]


def _cut_line(axis: str, at: float) -> LineString:
    return LineString([(-1e4, at), (1e4, at)] if axis == "x" else [(at, -1e4), (at, 1e4)])


def _intervals(outline: Points, axis: str, at: float) -> list[tuple[float, float]]:
    """Where the cut runs inside an outline, as ranges of s (x or y) [m]."""
    cut = Polygon(outline).intersection(_cut_line(axis, at))
    parts = getattr(cut, "geoms", [cut])
    index = 0 if axis == "x" else 1
    found = []
    for part in parts:
        if isinstance(part, LineString) and part.length > 0.05:
            ends = sorted(point[index] for point in part.coords)
            found.append((ends[0], ends[-1]))
    return sorted(found)


def _point(axis: str, at: float, s: float) -> tuple[float, float]:
    return (s, at) if axis == "x" else (at, s)


def section(shape: Shape, axis: Literal["x", "y"], at: float, thickness: dict[str, float] | None = None) -> Section:
    """The section along the plan line y = at (axis "x") or x = at (axis "y").

    thickness: real thickness of elements by key [m]; where it is not known the body's wall thickness or 0.25 m.
    Looking so that s grows to the right. Outer dimensions.
    """
    known = thickness or {}
    pieces = [
        (body, s0, s1) for body in shape.bodies for s0, s1 in _intervals(outline_of(shape, body, "external"), axis, at)
    ]
    pieces.sort(key=lambda piece: piece[1])
    bands: list[Band] = []
    joints: list[Joint] = []
    rooms: list[Room] = []
    lines: list[DrawnLine] = []
    for index, (body, s0, s1) in enumerate(pieces):
        drawer = _BodyDrawer(shape, body, axis, at, s0, s1, index, known)
        left = [p for p in pieces if p[0] is not body and abs(p[2] - s0) < _reach(p[0], body)]
        right = [p for p in pieces if p[0] is not body and abs(p[1] - s1) < _reach(p[0], body)]
        drawer.draw(left[0][0] if left else None, right[0][0] if right else None)
        bands += drawer.bands
        joints += drawer.joints
        rooms += drawer.rooms
        lines += drawer.lines
    joints = _told_apart([*joints, *_abutments(bands)])
    lines += _ground(pieces)
    xs = [x for band in bands for x, _ in band.polygon] or [0.0, 1.0]
    zs = [z for band in bands for _, z in band.polygon] + [z for line in lines for _, z in line.points] or [0.0, 1.0]
    turn = 90.0 if axis == "x" else 0.0
    return Section(
        bands,
        joints,
        rooms,
        lines,
        (min(xs), min(zs), max(xs), max(zs)),
        (shape.up_bearing_deg + turn + 180.0) % 360.0,
        (shape.up_bearing_deg + turn) % 360.0,
        sorted({body.id for body, _, _ in pieces}),
    )


def _reach(first: Body, second: Body) -> float:
    return (first.wall_mm + second.wall_mm) / 1000.0 + 0.05


def _ground(pieces: list[tuple[Body, float, float]]) -> list[DrawnLine]:
    """The ground beside and between the bodies."""
    if not pieces:
        return []
    found = []
    first, last = pieces[0], pieces[-1]
    found.append(DrawnLine("ground", [(first[1] - 3.0, first[0].ground_m), (first[1], first[0].ground_m)]))
    for (before, _, end), (after, start, _) in zip(pieces, pieces[1:], strict=False):
        if start - end > 0.1:
            found.append(DrawnLine("ground", [(end, before.ground_m), (start, after.ground_m)]))
    right = max(piece[2] for piece in pieces)
    found.append(DrawnLine("ground", [(right, last[0].ground_m), (right + 3.0, last[0].ground_m)]))
    return found


class _BodyDrawer:
    """Draws one body between s0 and s1 of the cut."""

    def __init__(
        self, shape: Shape, body: Body, axis: str, at: float, s0: float, s1: float, index: int, known: dict[str, float]
    ) -> None:
        self.shape, self.body, self.axis, self.at = shape, body, axis, at
        self.s0, self.s1, self.index, self.known = s0, s1, index, known
        self.outline = outline_of(shape, body, "external")
        self.roof = roof_planes(body, self.outline)
        self.bands: list[Band] = []
        self.joints: list[Joint] = []
        self.rooms: list[Room] = []
        self.lines: list[DrawnLine] = []

    def draw(self, left: Body | None, right: Body | None) -> None:
        body = self.body
        below = self._below()
        right_walls = self._wall(self.s1, 1.0, right)
        slopes = self._roof(left, right)
        left_walls = self._wall(self.s0, -1.0, left)
        ring = [*below, *right_walls, *reversed(slopes), *reversed(left_walls)]
        self.bands += ring
        pairs = list(zip(ring, ring[1:] + ring[:1], strict=True)) if len(ring) > 1 else []
        for first, second in pairs:
            at = _nearest(first, second)
            if at is not None:
                self.joints.append(_joint(_joint_name(first, second), first, second, at))
        level = body.level_m
        middle = (self.s0 + self.s1) / 2.0
        for number, storey in enumerate(body.storeys):
            self.rooms.append(Room(storey.name, (middle, level + storey.height_m / 2.0)))
            level += storey.height_m
            attic = body.roof.room and body.roof.form in ("gable", "hip", "mansard")
            if number < len(body.storeys) - 1 or attic:
                self.lines.append(DrawnLine("inner floor", [(self.s0, level), (self.s1, level)]))
        if body.roof.room and body.roof.form in ("gable", "hip", "mansard"):
            top = max(roof_z(self.roof, _point(self.axis, self.at, s)) for s in self._breaks())
            if top - level > 1.2:
                self.rooms.append(Room("attic room", (middle, level + 0.4 * (top - level))))

    # --- parts ------------------------------------------------------------------------------------

    def _edge_at(self, s: float) -> Edge:
        """The outline's side that the cut meets at s: the one whose line passes nearest and does not run along the cut."""
        point = _point(self.axis, self.at, s)
        across = [
            edge
            for edge in edges_of(self.outline)
            if -1e-6 <= edge.along(point) <= edge.length + 1e-6 and abs(edge.before(point)) < 1e-6
        ]
        index = 0 if self.axis == "x" else 1
        return max(across, key=lambda edge: abs((edge.nx, edge.ny)[index]))

    def _thickness(self, keys: list[str], default: float) -> float:
        return next((self.known[key] for key in keys if key in self.known), default)

    def _wall(self, s: float, side: float, neighbour: Body | None) -> list[Band]:
        """The outer wall at one end, from below upward.

        Against a heated neighbour an inner wall is drawn; against one that is not, the wall to it is a band.
        """
        body, edge = self.body, self._edge_at(s)
        point = _point(self.axis, self.at, s)
        top = min(roof_z(envelope_planes(body, self.outline), point), roof_z(self.roof, point))
        gone: tuple[float, float] | None = None
        if neighbour is not None:
            roof = roof_planes(neighbour, outline_of(self.shape, neighbour, "external"))
            gone = (neighbour.level_m, min(roof_z(roof, point), top))
        cold = neighbour is not None and body.heated and not neighbour.heated
        found = []
        spans = self._wall_spans(edge.letter, top)
        for low, high, own_keys, share in spans:
            pieces = [(a, b, own_keys) for a, b in _minus((low, high), gone)]
            if cold and neighbour is not None and gone is not None and "/cellar/" not in own_keys[0]:
                a, b = max(low, gone[0]), min(high, gone[1])
                if b - a > 0.05:
                    pieces.append((a, b, [f"{body.id}/{edge.letter}/to_{neighbour.id}"]))
            for a, b, keys in sorted(pieces):
                thickness = drawn(self._thickness(keys, body.wall_mm / 1000.0))
                inner = s - side * thickness
                found.append(
                    Band(
                        id=f"{body.id}{self.index}:{keys[0]}:{a:.2f}",
                        keys=keys,
                        kind="wall",
                        body=body.id,
                        polygon=[(s, a), (s, b), (inner, b), (inner, a)],
                        outer=((s, a), (s, b)) if side > 0 else ((s, b), (s, a)),
                        inner=((inner, a), (inner, b)) if side > 0 else ((inner, b), (inner, a)),
                        normal=(side, 0.0),
                        share=share,
                    )
                )
        if (
            gone is not None
            and not cold
            and gone[1] - gone[0] > 0.05
            and body.eaves_m >= (neighbour.eaves_m if neighbour else 0.0)
        ):
            t = drawn(body.wall_mm / 1000.0)
            low, high = max(gone[0], body.level_m), gone[1]
            self.lines.append(
                DrawnLine("inner wall", [(s, low), (s, high), (s - side * t, high), (s - side * t, low), (s, low)])
            )
        return found

    def _wall_spans(self, letter: str, top: float) -> list[tuple[float, float, list[str], float]]:
        """(low, high, element keys, share of the face) from the cellar upward."""
        body = self.body
        spans: list[tuple[float, float, list[str], float]] = []
        if body.below == "heated_cellar":
            low, ground = body.level_m - body.below_height_m, min(max(body.ground_m, -1e3), body.level_m)
            ground = max(ground, low)
            base = f"{body.id}/cellar/{letter}"
            spans += [(low, ground, [f"{base}/ground"], 1.0), (ground, body.level_m, [f"{base}/air"], 1.0)]
        cuts = _storey_cuts(body)
        parts = next((p.parts for p in self.shape.parts if p.body == body.id and p.face == letter), [])
        for low, high, storey in cuts:
            base = f"{body.id}/{letter}" + (f"/{storey}" if len(cuts) > 1 else "")
            a, b = max(low, body.level_m), min(high, top)
            if not parts:
                spans.append((a, b, [base], 1.0))
            level = a
            for part in parts:  # drawn one above another, as high as their share
                spans.append((level, level + part.share * (b - a), [f"{base}/{part.id}"], part.share))
                level += part.share * (b - a)
        return [span for span in spans if span[1] - span[0] > 0.02]

    def _breaks(self) -> list[float]:
        """s of the ends and of every kink of the roof along the cut."""
        index = 0 if self.axis == "x" else 1
        s = {self.s0, self.s1}
        for i, first in enumerate(self.roof):
            for second in self.roof[i + 1 :]:
                slope = (first.a - second.a, first.b - second.b)[index]
                if abs(slope) < 1e-9:
                    continue
                base = first.z(_point(self.axis, self.at, 0.0)) - second.z(_point(self.axis, self.at, 0.0))
                kink = -base / slope
                if self.s0 + 1e-6 < kink < self.s1 - 1e-6:
                    point = _point(self.axis, self.at, kink)
                    if abs(roof_z(self.roof, point) - first.z(point)) < 1e-6:
                        s.add(round(kink, 9))
        return sorted(s)

    def _lowest(self, s: float) -> RoofPlane:
        point = _point(self.axis, self.at, s)
        return min(self.roof, key=lambda plane: plane.z(point))

    def _roof(self, left: Body | None, right: Body | None) -> list[Band]:
        """Roof bands from left to right; over an unheated attic the ceiling is the band and the roof an outline."""
        body = self.body
        stops = self._breaks()
        profile = [(s, roof_z(self.roof, _point(self.axis, self.at, s))) for s in stops]
        follows = body.roof.room or body.roof.form == "flat"
        found = []
        for (a, za), (b, zb) in zip(profile, profile[1:], strict=False):
            plane = self._lowest((a + b) / 2.0)
            key = f"{body.id}/{plane.key}"
            rise = (zb - za) / (b - a)
            if a == self.s0 and left is None and rise > 0.02:
                a, za = a - body.roof.eaves_overhang_m, za - body.roof.eaves_overhang_m * rise
            if b == self.s1 and right is None and rise < -0.02:
                b, zb = b + body.roof.eaves_overhang_m, zb + body.roof.eaves_overhang_m * rise
            length = math.hypot(b - a, zb - za)
            nx, nz = -(zb - za) / length, (b - a) / length
            t = drawn(self._thickness([key], 0.25))
            top = [(a + nx * 0.0, za + t / nz), (b, zb + t / nz)]
            polygon = [(a, za), (b, zb), top[1], top[0]]
            if not follows:
                self.lines.append(DrawnLine("roof outline", [(a, za), (b, zb)]))
                for s, z in ((a, za), (b, zb)):  # a gable that stands up at the end of the cut
                    if s in (self.s0, self.s1) and z - body.eaves_m > 0.1:
                        self.lines.append(DrawnLine("roof outline", [(s, body.eaves_m), (s, z)]))
                continue
            found.append(
                Band(
                    id=f"{body.id}{self.index}:{plane.key}:{a:.2f}",
                    keys=[key],
                    kind="roof",
                    body=body.id,
                    polygon=polygon,
                    outer=(top[0], top[1]),
                    inner=((a, za), (b, zb)),
                    normal=(nx, nz),
                )
            )
        if not follows:
            keys = [f"{body.id}/ceiling"]
            t = drawn(self._thickness(keys, 0.2))
            z = body.eaves_m
            found.append(
                Band(
                    id=f"{body.id}{self.index}:ceiling",
                    keys=keys,
                    kind="ceiling",
                    body=body.id,
                    polygon=[(self.s0, z), (self.s1, z), (self.s1, z + t), (self.s0, z + t)],
                    outer=((self.s0, z + t), (self.s1, z + t)),
                    inner=((self.s0, z), (self.s1, z)),
                    normal=(0.0, 1.0),
                )
            )
        return found

    def _below(self) -> list[Band]:
        body = self.body
        keys = [f"{body.id}/floor"]
        t = drawn(self._thickness(keys, 0.2))
        level = body.level_m
        bottom = level
        if body.below not in ("slab", "open"):
            bottom = level - body.below_height_m
        if body.below == "heated_cellar":
            self.rooms.append(Room("cellar", ((self.s0 + self.s1) / 2.0, level - body.below_height_m / 2.0)))
            self.lines.append(DrawnLine("inner floor", [(self.s0, level), (self.s1, level)]))
            level = bottom
        elif body.below in ("void", "cellar"):
            self.lines.append(
                DrawnLine("below", [(self.s0, level - t), (self.s0, bottom), (self.s1, bottom), (self.s1, level - t)])
            )
            if body.below == "cellar":
                self.rooms.append(Room("cellar", ((self.s0 + self.s1) / 2.0, (level + bottom) / 2.0)))
        return [
            Band(
                id=f"{body.id}{self.index}:floor",
                keys=keys,
                kind="floor",
                body=body.id,
                polygon=[(self.s0, level), (self.s1, level), (self.s1, level - t), (self.s0, level - t)],
                outer=((self.s0, level - t), (self.s1, level - t)),
                inner=((self.s0, level), (self.s1, level)),
                normal=(0.0, -1.0),
            )
        ]


def _minus(span: tuple[float, float], gone: tuple[float, float] | None) -> list[tuple[float, float]]:
    """What is left of a range when another is taken out."""
    if gone is None:
        return [span]
    parts = [(span[0], min(span[1], gone[0])), (max(span[0], gone[1]), span[1])]
    return [(a, b) for a, b in parts if b - a > 0.05]


def _nearest(first: Band, second: Band) -> tuple[float, float] | None:
    """The middle of the closest corners of two bands; None when they stand more than 1 m apart."""
    pairs = [(math.dist(p, q), p, q) for p in first.polygon for q in second.polygon]
    distance, p, q = min(pairs)
    return None if distance > 1.0 else ((p[0] + q[0]) / 2.0, (p[1] + q[1]) / 2.0)


def _abutments(bands: list[Band]) -> list[Joint]:
    """Where the roof of one body comes against a wall or roof of another."""
    found: dict[frozenset[str], tuple[float, Joint]] = {}
    for roof in (band for band in bands if band.kind == "roof"):
        for other in (band for band in bands if band.body != roof.body and band.kind in ("wall", "roof")):
            p, q = (point.coords[0] for point in nearest_points(Polygon(roof.polygon), Polygon(other.polygon)))
            wall = other.kind == "wall"
            distance = math.dist(p, q) + (0.0 if wall else 0.5)  # a wall comes first
            pair = frozenset((roof.body, other.body))
            if distance < 0.9 and (pair not in found or distance < found[pair][0]):
                at = ((p[0] + q[0]) / 2.0, (p[1] + q[1]) / 2.0)
                found[pair] = (distance, _joint("roof meets wall" if wall else "roofs meet", roof, other, at))
    return [joint for _, joint in found.values()]


def _joint(name: str, first: Band, second: Band, at: tuple[float, float]) -> Joint:
    keys = sorted((first.keys[0], second.keys[0]))
    return Joint(name, first.id, second.id, at, f"{name}: {keys[0]} + {keys[1]}")


def _told_apart(joints: list[Joint]) -> list[Joint]:
    """The cut may meet the same two elements more than once: those are counted from the left."""
    seen: dict[str, int] = {}
    told: dict[Joint, Joint] = {}
    for joint in sorted(joints, key=lambda one: (one.at, one.key)):
        seen[joint.key] = seen.get(joint.key, 0) + 1
        told[joint] = joint if seen[joint.key] == 1 else replace(joint, key=f"{joint.key} ({seen[joint.key]})")
    return [told[joint] for joint in joints]


def _joint_name(first: Band, second: Band) -> str:
    kinds = {first.kind, second.kind}
    if kinds == {"wall", "roof"}:
        return "eaves" if abs((first if first.kind == "roof" else second).normal[0]) > 0.05 else "roof edge"
    if kinds == {"roof"}:
        return "ridge" if first.normal[0] * second.normal[0] < 0 else "roof break"
    if kinds == {"wall", "ceiling"}:
        return "ceiling edge"
    if "floor" in kinds:
        return "foot of the wall"
    return "storey change"


@dataclass(frozen=True)
class SpaceMark:
    """Where a space of the heated line is named in the section."""

    body: str
    space: Literal["attic", "below", "body"]
    at: tuple[float, float]


def space_marks(shape: Shape, axis: Literal["x", "y"], at: float) -> list[SpaceMark]:
    """Every space that the cut meets, where its name has room."""
    found = []
    for body in shape.bodies:
        for s0, s1 in _intervals(outline_of(shape, body, "external"), axis, at):
            middle = 0.5 * (s0 + s1)
            found.append(SpaceMark(body.id, "body", (middle, 0.5 * (body.level_m + body.eaves_m))))
            if body.roof.form != "flat":
                planes = roof_planes(body, outline_of(shape, body, "external"))
                spots = [s0 + (s1 - s0) * i / 10.0 for i in range(1, 10)]
                top = max(spots, key=lambda s: (roof_z(planes, _point(axis, at, s)), -abs(s - middle)))
                rise = roof_z(planes, _point(axis, at, top)) - body.eaves_m
                if rise > 0.8:
                    found.append(SpaceMark(body.id, "attic", (top, body.eaves_m + 0.35 * rise)))
            if body.below in ("void", "cellar", "heated_cellar"):
                found.append(SpaceMark(body.id, "below", (middle, body.level_m - 0.5 * body.below_height_m)))
    return found


# --- elevations -----------------------------------------------------------------------------------


@dataclass(frozen=True)
class DrawnOpening:
    """One window or door on an elevation: left, bottom, width, height [m]."""

    id: str
    name: str
    kind: str
    rect: tuple[float, float, float, float]


@dataclass(frozen=True)
class Elevation:
    """A face seen from outside: x from its left end, z upward [m]. levels: floors, from below."""

    body: str
    face: str
    outline: Points
    openings: list[DrawnOpening]
    levels: list[float]
    ground: float
    bottom: float
    eaves: float
    width: float
    keys: list[str]


def elevation_of(shape: Shape, body_id: str, letter: str) -> Elevation:
    """The elevation of one face, down to the ground or the cellar floor."""
    body = shape.body(body_id)
    outline = outline_of(shape, body, "external")
    edge = next(e for e in edges_of(outline) if e.letter == letter)
    bottom = min(body.ground_m, body.level_m)
    wall: BaseGeometry = elevation(edge, roof_planes(body, outline), bottom)
    # seen from outside the start of a side lies on the left when the outward normal is to its right
    ux, uy = (edge.end[0] - edge.start[0]) / edge.length, (edge.end[1] - edge.start[1]) / edge.length
    flip = ux * edge.ny - uy * edge.nx > 0
    length = edge.length
    corners = [((length - s if flip else s), z) for s, z in getattr(wall, "exterior", wall).coords]
    levels, level = [body.level_m], body.level_m
    for storey in body.storeys:
        level += storey.height_m
        levels.append(level)
    mine = [one for one in shape.openings if one.body == body_id and one.face == letter and not one.in_roof]
    openings = _drawn_openings(mine, length, levels)
    keys = [f"{body_id}/{letter}"]
    return Elevation(body_id, letter, corners, openings, levels, body.ground_m, bottom, body.eaves_m, length, keys)


def _drawn_openings(openings: list[Opening], length: float, levels: list[float]) -> list[DrawnOpening]:
    """Those whose place is known where they are; the others of a storey spread evenly, beside what stands there."""
    found: list[DrawnOpening] = []
    for opening in openings:
        if opening.at_m is not None:
            for index in range(opening.count):
                x = opening.at_m + index * max(opening.width_m * 2.0, opening.width_m + 0.1)
                found.append(_drawn(opening, min(max(x, 0.0), max(length - opening.width_m, 0.0)), levels))
    for storey in sorted({opening.storey for opening in openings}):
        row = [o for o in openings if o.storey == storey and o.at_m is None for _ in range(o.count)]
        gap = (length - sum(o.width_m for o in row)) / (len(row) + 1)
        x = gap
        for opening in row:
            found.append(_beside(opening, max(x, 0.0), length, levels, found))
            x += opening.width_m + gap
    return found


def _drawn(opening: Opening, x: float, levels: list[float]) -> DrawnOpening:
    z = levels[min(opening.storey, len(levels) - 1)] + (0.0 if opening.kind == "door" else opening.sill_m)
    return DrawnOpening(opening.id, opening.name, opening.kind, (x, z, opening.width_m, opening.height_m))


def _beside(opening: Opening, x: float, length: float, levels: list[float], others: list[DrawnOpening]) -> DrawnOpening:
    """At the free place nearest to x; at x itself where the face has none."""
    room = max(length - opening.width_m, 0.0)
    for away in (step * 0.05 for step in range(int(length / 0.05) + 1)):
        for at in (x + away, x - away):
            one = _drawn(opening, at, levels)
            if 0.0 <= at <= room and not any(overlap(one, other) for other in others):
                return one
    return _drawn(opening, min(x, room), levels)


def overlap(first: DrawnOpening, second: DrawnOpening) -> bool:
    """Whether two openings of one face lie on each other by more than a centimetre."""
    (x, z, w, h), (x2, z2, w2, h2) = first.rect, second.rect
    return min(x + w, x2 + w2) - max(x, x2) > 0.01 and min(z + h, z2 + h2) - max(z, z2) > 0.01


def overlapping(shape: Shape) -> list[str]:
    """One sentence for each pair of openings that were typed onto each other."""
    found = []
    for face in elevations(shape):
        names = {o.id: o.name for o in shape.openings}
        pairs = {
            tuple(sorted((first.id, second.id)))
            for i, first in enumerate(face.openings)
            for second in face.openings[i + 1 :]
            if overlap(first, second)
        }
        for one, other in sorted(pairs):
            found.append(
                f"“{names[one]}” and “{names[other]}” lie on each other in face {face.face}: type their places"
            )
    return found


def elevations(shape: Shape) -> list[Elevation]:
    """Every face of every body."""
    return [elevation_of(shape, body.id, letter) for body in shape.bodies for letter in body.faces]
