"""The drawings of the application on paper, from the core's own geometry: strips, section with its lenses, faces with pins."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass
from typing import Literal

from reportlab.graphics.shapes import Drawing, Polygon, PolyLine, Rect
from reportlab.lib.colors import HexColor

from core.buildup.model import BuildUp
from core.materials.library import Sheet
from core.say import length, thickness
from core.survey.drawings import Elevation
from server.dossier.paper import fonts
from server.dossier.paper.page import HEAT, INK, SOFT, Words
from server.dossier.paper.shapes import arrow, cut, hatched, numbered, put, rule, scale_bar
from server.house.schemas import HouseOut

Lens = Literal["heat", "damp", "layers"]
WHITE = HexColor("#FFFFFF")
# From dry to wet; each step is darker, so that it reads in grey.
WET = [HexColor(c) for c in ("#FBF9F3", "#E4E3D6", "#C2CFC2", "#8FB1A8", "#4F8A87", "#1F6A70", "#123F46")]
LINES = (
    ("rain", None, 1.2),
    ("air", (5.0, 3.0), 1.2),
    ("vapour", (1.0, 2.5), 1.4),
    ("heat", (8.0, 2.0, 1.5, 2.0), 1.6),
)


@dataclass(frozen=True)
class StripRow:
    """One build-up to be drawn; numbers: number its layers, for a list beside it."""

    name: str
    build_up: BuildUp
    numbers: bool = False


def _outside_of(build_up: BuildUp, datum: str) -> float | None:
    """mm from its outer face to the datum; None where the datum layer is not in it."""
    depth = 0.0
    for layer in build_up.layers:
        depth += layer.thickness_mm or 0.0
        if layer.id == datum:
            return depth
    return None


def strips(
    rows: Sequence[StripRow],
    datum: str,
    width: float,
    words: Callable[[Words], str],
    ends: tuple[str, str],
    limits: tuple[float | None, float | None] = (None, None),
    high: float = 46.0,
) -> Drawing:
    """Build-ups under each other on one datum and one scale, outside on the left. limits: room and outside [mm]."""
    rows = [row for row in rows if row.build_up.layers]
    found = rows[0].build_up
    whole = found.thickness * 1000.0
    found_out = _outside_of(found, datum) or whole
    outs = [_outside_of(row.build_up, datum) or found_out for row in rows]
    ins = [row.build_up.thickness * 1000.0 - out for row, out in zip(rows, outs, strict=True)]
    room, outside = limits
    most_out = max([*outs, found_out + outside if outside is not None else 0.0, 1.0])
    most_in = max([*ins, whole - found_out + room if room is not None else 0.0, 1.0])
    per_mm = min((width - 8.0) / (most_out + most_in), 0.9)
    at_datum = 4.0 + most_out * per_mm
    step = high + 30.0
    drawing = Drawing(width, step * len(rows) + 32.0)
    top = drawing.height - 12.0
    put(drawing, 0, top, ends[0], 7, fonts.BOLD, colour=SOFT)
    put(drawing, at_datum + most_in * per_mm, top, ends[1], 7, fonts.BOLD, "end", SOFT)
    for limit, sign in ((outside, -1.0), (room, 1.0)):
        if limit is not None:
            x = at_datum + sign * ((found_out if sign < 0 else whole - found_out) + limit) * per_mm
            rule(drawing, x, 4, x, top - 4, 0.8, (4, 2), INK)
    rule(drawing, at_datum, 2, at_datum, top - 4, 0.6, (1.5, 1.5), INK)
    for index, (row, out) in enumerate(zip(rows, outs, strict=True)):
        y = drawing.height - 20.0 - step * (index + 1) + 12.0
        put(drawing, 6, y + high + 5, cut(row.name, width, 8.5, fonts.BOLD), 8.5, fonts.BOLD)
        _strip(drawing, row, at_datum - out * per_mm, y, per_mm, high)
    bar = 100.0 if words(thickness(0.1)).endswith("mm") else 101.6
    scale_bar(drawing, at_datum + most_in * per_mm - bar * per_mm - 40, 1, bar * per_mm, words(thickness(bar / 1000.0)))
    return drawing


def _strip(drawing: Drawing, row: StripRow, x: float, y: float, per_mm: float, high: float) -> None:
    last = -20.0
    for number, layer in enumerate(row.build_up.layers, 1):
        mm = layer.thickness_mm or 0.0
        w = mm * per_mm
        if mm == 0.0 or w < 0.8 or isinstance(layer.entry, Sheet):  # not to scale: a heavy line that sticks out
            rule(drawing, x, y - 3, x, y + high + 3, 1.6, (3, 1.2) if layer.known == "assumed" else None, INK)
            centre = x
        else:
            hatched(drawing, layer.entry.hatch, x, y, w, high)
            if layer.framing is not None:
                drawing.add(Rect(x, y, w, high * 0.2, fillColor=HexColor("#E8D3AE"), strokeColor=INK, strokeWidth=0.5))
            if layer.known == "assumed" and layer.existing:
                drawing.add(
                    Rect(x, y, w, high, fillColor=None, strokeColor=INK, strokeWidth=0.9, strokeDashArray=[3, 2])
                )
            centre = x + w / 2
        if row.numbers:
            centre = max(centre, last + 13.5)
            numbered(drawing, centre, y - 9, str(number))
            last = centre
        x += w


def section(house: HouseOut, lens: Lens, numbers: Mapping[int, int],
    wet: Mapping[int, float | None], width: float, words: Callable[[Words], str], high: float = 250.0) -> Drawing:  # fmt: skip
    """The section along the cut. numbers: of the elements, for the table under it; breaks of the lens Layers have their own.

    wet: RH of the wettest month at the worst point, for the lens Damp.
    """
    x0, z0, x1, z1 = house.extent
    # arrows need room on all sides, numbers a little
    side, below, above = (58.0, 62.0, 56.0) if lens == "heat" else (46.0, 32.0, 44.0)
    scale = min((width - 2 * side) / max(x1 - x0, 0.1), (high - below - above + 18.0) / max(z1 - z0, 0.1))
    left = (width - (x1 - x0) * scale) / 2 - x0 * scale
    drawing = Drawing(width, (z1 - z0) * scale + below + above)
    base = below - z0 * scale

    def at(point: Sequence[float]) -> tuple[float, float]:
        return left + point[0] * scale, base + point[1] * scale

    put(drawing, 0, drawing.height - 10, house.left, 7.5, fonts.BOLD, colour=SOFT)
    put(drawing, width, drawing.height - 10, house.right, 7.5, fonts.BOLD, "end", SOFT)
    for line in house.lines:
        points = [at(p) for p in line.points]
        heavy = {"ground": 1.4, "roof outline": 1.0}.get(line.kind, 0.5)
        dash = [3, 2] if line.kind == "below" else None
        drawing.add(PolyLine(points, strokeColor=INK if heavy > 0.9 else SOFT, strokeWidth=heavy, strokeDashArray=dash))
    most = max([band.before_w_k or 0.0 for band in house.bands], default=0.0) or 1.0
    led: dict[int, tuple[float, int]] = {}
    for index, band in enumerate(house.bands):
        fill = HexColor("#EFE8D8")
        if lens == "damp":
            fill = _tone(wet.get(band.element_id or -1))
        elif band.element_id is None:
            fill = HexColor("#F6F3EA")
        corners = [value for point in band.polygon for value in at(point)]
        drawing.add(Polygon(corners, fillColor=fill, strokeColor=INK, strokeWidth=0.8))
        size = abs(band.outer[1][0] - band.outer[0][0]) + abs(band.outer[1][1] - band.outer[0][1])
        if band.element_id is not None and size > led.get(band.element_id, (0.0, 0))[0]:
            led[band.element_id] = (size, index)
        if lens == "layers":
            _control(drawing, band.outer, band.inner, band.depths, at)
    for room in house.rooms:
        x, y = at(room.at)
        put(drawing, x, y, cut(room.name, 80, 7.5), 7.5, anchor="middle", colour=SOFT)
    for element_id, (_, index) in led.items():
        band = house.bands[index]
        x, y = at(((band.outer[0][0] + band.outer[1][0]) / 2, (band.outer[0][1] + band.outer[1][1]) / 2))
        nx, ny = band.normal
        away = 11.0
        if lens == "heat" and band.before_w_k:
            widest = 20.0
            before, after = (max(v / most * widest, 0.8) for v in (band.before_w_k, band.after_w_k or band.before_w_k))
            long = 16.0 + before * 0.6
            arrow(drawing, x, y, nx, ny, before, long, HEAT, False)
            arrow(drawing, x, y, nx, ny, after, long - (4.0 if before - after > 0.4 else 0.0), HEAT, True)
            away = long + 8.0
        if element_id in numbers:
            numbered(drawing, x + nx * away, y + ny * away, str(numbers[element_id]))
    if lens == "layers":
        for number, where in {one.number: one.at for one in house.breaks}.items():
            numbered(drawing, *at(where), str(number), solid=True)
    two = words(length(2.0, 0))
    scale_bar(drawing, 2, 4, 2.0 * scale, two)
    return drawing


def _tone(wet: float | None) -> HexColor:
    if wet is None:
        return WHITE
    return WET[min(6, max(0, int((wet - 0.6) / 0.06)))]


def _control(drawing: Drawing, outer: Sequence[Sequence[float]], inner: Sequence[Sequence[float]], depths: Mapping[str, float], at: Callable[[Sequence[float]], tuple[float, float]]) -> None:  # fmt: skip
    for name, dash, width in LINES:
        depth = depths.get(name)
        if depth is None:
            continue
        ends = [at([a + (b - a) * depth for a, b in zip(p, q, strict=True)]) for p, q in zip(outer, inner, strict=True)]
        rule(drawing, *ends[0], *ends[1], width, dash, INK if name in ("rain", "air") else SOFT)


@dataclass(frozen=True)
class FacePin:
    """A numbered pin on a face [m from its left end seen from outside, level]. explained: its cause is confirmed."""

    number: int
    x: float
    z: float
    explained: bool


def face(elevation: Elevation, pins: Sequence[FacePin], width: float, words: Callable[[Words], str], high: float = 210.0) -> Drawing:  # fmt: skip
    """A face seen from outside with its openings and numbered pins."""
    lowest = min(elevation.bottom, *(z for _, z in elevation.outline))
    highest = max(z for _, z in elevation.outline)
    left = min(x for x, _ in elevation.outline)
    right = max(x for x, _ in elevation.outline)
    scale = min((width - 20) / max(right - left, 0.1), (high - 40) / max(highest - lowest, 0.1))
    drawing = Drawing(width, (highest - lowest) * scale + 40)
    x_at = (width - (right - left) * scale) / 2 - left * scale
    z_at = 20 - lowest * scale

    def at(x: float, z: float) -> tuple[float, float]:
        return x_at + x * scale, z_at + z * scale

    corners = [value for x, z in elevation.outline for value in at(x, z)]
    drawing.add(Polygon(corners, fillColor=HexColor("#F6F2E6"), strokeColor=INK, strokeWidth=1.0))
    for level in elevation.levels[1:]:
        rule(drawing, *at(left, level), *at(right, level), 0.4, (2, 2), SOFT)
    for opening in elevation.openings:
        x, z, w, h = opening.rect
        px, pz = at(x, z)
        drawing.add(Rect(px, pz, w * scale, h * scale, fillColor=WHITE, strokeColor=INK, strokeWidth=0.7))
        if opening.kind == "door":
            rule(drawing, px, pz, px + w * scale, pz + h * scale, 0.4, None, SOFT)
    gx, gz = at(left, elevation.ground)
    rule(drawing, gx - 14, gz, at(right, 0)[0] + 14, gz, 1.3, None, INK)
    for pin in pins:
        x, z = at(pin.x, pin.z)
        drawing.add(Polygon([x, z, x - 4, z + 8, x + 4, z + 8], fillColor=INK if pin.explained else WHITE, strokeColor=INK, strokeWidth=0.9))  # fmt: skip
        numbered(drawing, x, z + 14, str(pin.number), solid=pin.explained)
    scale_bar(drawing, 2, 3, 2.0 * scale, words(length(2.0, 0)))
    return drawing
