"""Shapes that every drawing on paper is made of: labels in the right face, hatches, numbered marks. Points, y upward."""

from __future__ import annotations

import math
from collections.abc import Iterator

from reportlab.graphics.shapes import Circle, Drawing, Group, Line, PolyLine, Rect, String
from reportlab.lib.colors import Color, HexColor
from reportlab.pdfbase.pdfmetrics import stringWidth

from server.dossier.paper import fonts
from server.dossier.paper.page import INK, RULE, SOFT

GROUNDS = {
    "rubble": "#E3D9C2", "ashlar": "#EAE2CF", "brick": "#E6D3C4", "dots": "#F1ECDF", "hatchdots": "#EFE8D8", "concrete": "#DEDCD4",
    "fibre": "#F8F1D8", "woodfibre": "#EFE0C0", "foam": "#F3F0E4", "wood": "#E8D3AE", "sheet": "#E5DAC0", "slate": "#C9CCD0",
    "glass": "#E9EFF0", "air": "#FFFFFF", "coating": "#C9BFA8",
}  # fmt: skip
THIN = HexColor("#8C8470")


def put(drawing: Drawing | Group, x: float, y: float, text: str, size: float = 8, face: str = fonts.SANS, anchor: str = "start", colour: Color = INK) -> float:  # fmt: skip
    """A label with its baseline at y; its width."""
    parts = fonts.pieces(text, face)
    wide = sum(stringWidth(piece, own, size) for own, piece in parts)
    at = x - (wide if anchor == "end" else wide / 2 if anchor == "middle" else 0.0)
    for own, piece in parts:
        drawing.add(String(at, y, piece, fontName=own, fontSize=size, fillColor=colour))
        at += stringWidth(piece, own, size)
    return wide


def cut(text: str, room: float, size: float, face: str = fonts.SANS) -> str:
    """A text short enough for its room, with an ellipsis where something was cut."""
    if stringWidth(text, face, size) <= room:
        return text
    while text and stringWidth(text + "…", face, size) > room:
        text = text[:-1]
    return text + "…"


def numbered(drawing: Drawing | Group, x: float, y: float, number: str, solid: bool = False) -> None:
    """A number in a ring; solid: paper on ink."""
    drawing.add(Circle(x, y, 6.2, fillColor=INK if solid else HexColor("#FFFFFF"), strokeColor=INK, strokeWidth=0.9))
    put(drawing, x, y - 2.7, number, 7.5, fonts.BOLD, "middle", HexColor("#FFFFFF") if solid else INK)


def hatched(drawing: Drawing | Group, hatch: str, x: float, y: float, w: float, h: float) -> None:
    """A layer in section, by general drafting habit: what it is shows in grey too."""
    drawing.add(Rect(x, y, w, h, fillColor=HexColor(GROUNDS.get(hatch, "#EFE8D8")), strokeColor=None))
    for line in _lines(hatch, w, h):
        drawing.add(PolyLine([(x + a, y + b) for a, b in line], strokeColor=THIN, strokeWidth=0.45))
    drawing.add(Rect(x, y, w, h, fillColor=None, strokeColor=INK, strokeWidth=0.7))


def _lines(hatch: str, w: float, h: float) -> Iterator[list[tuple[float, float]]]:
    if hatch in ("brick", "rubble", "ashlar", "concrete"):
        yield from _diagonals(w, h, {"brick": 5.5, "rubble": 9.0, "ashlar": 7.0, "concrete": 12.0}[hatch])
        if hatch == "rubble":
            yield from (list(reversed(line)) for line in _courses(w, h, 14.0))
    elif hatch in ("fibre", "woodfibre"):
        yield from _waves(w, h, 6.0 if hatch == "fibre" else 3.6)
    elif hatch == "wood":
        yield from ([(0.0, y), (w, y + 0.6)] for y in _steps(h - 1, 3.2))
    elif hatch in ("sheet", "slate"):
        yield from ([(x, 0.0), (x, h)] for x in _steps(w, 2.2))
    elif hatch == "foam":
        yield from _diagonals(w, h, 8.0)
        yield from ([(w - a, b) for a, b in line] for line in _diagonals(w, h, 8.0))
    elif hatch in ("dots", "hatchdots"):
        yield from ([(x, y), (x + 0.7, y + 0.5)] for y in _steps(h, 5.0) for x in _steps(w - 1, 4.0))


def _steps(length: float, by: float) -> list[float]:
    return [by * (k + 0.5) for k in range(max(0, int(length / by)))]


def _courses(w: float, h: float, by: float) -> Iterator[list[tuple[float, float]]]:
    yield from ([(0.0, y), (w, y)] for y in _steps(h, by))


def _diagonals(w: float, h: float, by: float) -> Iterator[list[tuple[float, float]]]:
    """Lines at 45°, cut at the edges."""
    for k in range(int((w + h) / by) + 1):
        c = k * by
        x0, x1 = max(0.0, c - h), min(w, c)
        if x1 > x0:
            yield [(x0, c - x0), (x1, c - x1)]


def _waves(w: float, h: float, by: float) -> Iterator[list[tuple[float, float]]]:
    """A zigzag from bottom to top, as insulation is drawn."""
    if w < 2.0:
        return
    count = max(2, int(h / by))
    yield [(w * (0.08 if k % 2 else 0.92), h * k / count) for k in range(count + 1)]


def arrow(drawing: Drawing | Group, x: float, y: float, dx: float, dy: float, width: float, length: float, colour: Color, solid: bool) -> None:  # fmt: skip
    """An arrow along a direction, as wide as asked."""
    from reportlab.graphics.shapes import Polygon

    norm = math.hypot(dx, dy) or 1.0
    nx, ny = dx / norm, dy / norm
    half, wide = width / 2, width / 2 + 3
    head = min(length * 0.45, width * 0.45 + 5)

    def on(along: float, across: float) -> tuple[float, float]:
        return x + nx * along - ny * across, y + ny * along + nx * across

    points = [on(2, -half), on(length - head, -half), on(length - head, -wide), on(length, 0), on(length - head, wide), on(length - head, half), on(2, half)]  # fmt: skip
    flat = [value for point in points for value in point]
    drawing.add(Polygon(flat, fillColor=colour if solid else None, strokeColor=colour, strokeWidth=0.8))


def scale_bar(drawing: Drawing, x: float, y: float, length: float, words: str) -> None:
    drawing.add(PolyLine([(x, y + 3), (x, y), (x + length, y), (x + length, y + 3)], strokeColor=INK, strokeWidth=0.7))
    put(drawing, x + length + 4, y, words, 7, colour=SOFT)


def rule(drawing: Drawing | Group, x0: float, y0: float, x1: float, y1: float, width: float = 0.5, dash: tuple[float, ...] | None = None, colour: Color = RULE) -> None:  # fmt: skip
    drawing.add(
        Line(x0, y0, x1, y1, strokeColor=colour, strokeWidth=width, strokeDashArray=list(dash) if dash else None)
    )
