"""Charts on paper: the field over depth and time as a picture that darkens with wetness, lines over the year."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

import numpy as np
from numpy.typing import NDArray
from PIL import Image as Pictures
from reportlab.graphics.charts.lineplots import LinePlot
from reportlab.graphics.shapes import Drawing, Image
from reportlab.lib.colors import Color

from server.dossier.paper import fonts
from server.dossier.paper.page import HEAT, INK, RULE, SOFT, WATER
from server.dossier.paper.shapes import cut, put, rule

LEFT = 92.0
MONTHS = ("J", "F", "M", "A", "M", "J", "J", "A", "S", "O", "N", "D")
STARTS = np.cumsum([0, 31, 28, 31, 30, 31, 30, 31, 31, 30, 31, 30]) * 24.0


@dataclass(frozen=True)
class Series:
    """values over hours; dashed: as found."""

    name: str
    hours: NDArray[np.float64]
    values: NDArray[np.float64]
    dashed: bool = False


# From paper through grey-green and teal to near-black, as on the screen (`web/src/drawing/chart.ts`).
DRIEST = 0.4
STOPS = (
    (0.4, (245, 240, 226)), (0.6, (226, 226, 205)), (0.75, (186, 205, 190)), (0.85, (120, 172, 168)), (0.93, (49, 117, 122)),
    (0.98, (20, 66, 78)), (1.0, (15, 26, 36)),
)  # fmt: skip


def _palette() -> NDArray[np.uint8]:
    """The tone of each of 601 steps of RH from DRIEST to 100 %."""
    at = np.linspace(DRIEST, 1.0, 601)
    stops = [stop for stop, _ in STOPS]
    return np.stack([np.interp(at, stops, [tone[k] for _, tone in STOPS]) for k in range(3)], axis=1).astype(np.uint8)


def field(humidity: NDArray[np.float64], edges: Sequence[tuple[str, float, float]], depth_mm: float, first_hour: float, width: float, high: float = 92.0) -> Drawing:  # fmt: skip
    """RH [record, depth row] of one year, outside on top, with the edges of the layers. edges: name, from, to [mm]."""
    drawing = Drawing(width, high + 16)
    plot = width - LEFT
    index = np.clip((humidity - DRIEST) / (1.0 - DRIEST) * 600.0, 0, 600).astype(int)
    picture = Pictures.fromarray(_palette()[index].transpose(1, 0, 2), "RGB")
    drawing.add(Image(LEFT, 14, plot, high, picture))
    last = high + 30.0
    for name, start, end in edges:
        y = 14 + high * (1 - start / depth_mm)
        if start > 0:
            rule(drawing, LEFT, y, LEFT + plot, y, 0.4, None, INK)
        middle = 14 + high * (1 - (start + end) / 2 / depth_mm) - 2.5
        if end > start and last - middle > 8.0:
            put(drawing, LEFT - 5, middle, cut(name, LEFT - 8, 7), 7, anchor="end", colour=SOFT)
            last = middle
    _months(drawing, LEFT, 14, plot, first_hour)
    return drawing


def _months(drawing: Drawing, x: float, y: float, plot: float, first_hour: float) -> None:
    for start, letter in zip(STARTS, MONTHS, strict=True):
        at = ((start - first_hour) % 8760.0) / 8760.0 * plot
        rule(drawing, x + at, y, x + at, y - 4, 0.6, None, INK)
        if at < plot - 8:
            put(drawing, x + at + 2, y - 10, letter, 7, colour=SOFT)


def lines(series: Sequence[Series], width: float, unit: str, limit: float | None = None, least: float | None = None, most: float | None = None, months_from: float | None = None, high: float = 88.0) -> Drawing:  # fmt: skip
    """Series over hours on one scale, with the limit they are judged by. months_from: hour of the year at their start."""
    drawing = Drawing(width, high + 34)
    plot = width - LEFT
    shown = [one for one in series if len(one.values)]
    low = min([float(one.values.min()) for one in shown] + ([limit] if limit is not None else []))
    top = max([float(one.values.max()) for one in shown] + ([limit] if limit is not None else []))
    low, top = low if least is None else least, top if most is None else most
    if top - low < 1e-9:
        top = low + 1.0
    chart = LinePlot()
    chart.x, chart.y, chart.width, chart.height = LEFT, 16, plot, high
    data: list[list[tuple[float, float]]] = [
        list(zip(one.hours.tolist(), one.values.tolist(), strict=True)) for one in shown
    ]
    end = max(float(one.hours[-1]) for one in shown)
    if limit is not None:
        data.append([(0.0, limit), (end, limit)])
    chart.data = data
    for at, one in enumerate(shown):
        chart.lines[at].strokeColor = SOFT if one.dashed else (INK, WATER, HEAT)[at % 3]
        chart.lines[at].strokeWidth = 1.1
        chart.lines[at].strokeDashArray = [3, 2] if one.dashed else None
    if limit is not None:
        chart.lines[len(shown)].strokeColor = Color(0.54, 0.16, 0.16)
        chart.lines[len(shown)].strokeWidth = 0.8
        chart.lines[len(shown)].strokeDashArray = [6, 2]
    _axis(chart.yValueAxis, low, top)
    _axis(chart.xValueAxis, 0.0, 8760.0 if months_from is not None else end)
    chart.xValueAxis.visibleLabels = chart.xValueAxis.visibleTicks = 0
    drawing.add(chart)
    if months_from is not None:
        _months(drawing, LEFT, 16, plot, months_from)
    put(drawing, 0, 16 + high - 6, unit, 7.5, colour=SOFT)
    x = LEFT
    for at, one in enumerate(shown):
        colour = SOFT if one.dashed else (INK, WATER, HEAT)[at % 3]
        rule(drawing, x, high + 26, x + 16, high + 26, 1.3, (3, 2) if one.dashed else None, colour)
        x += 20 + put(drawing, x + 19, high + 23.5, cut(one.name, plot / 2 - 30, 7.5), 7.5) + 12
    return drawing


def bundle(draws: Sequence[tuple[NDArray[np.float64], bool]], width: float, unit: str, high: float = 96.0) -> Drawing:
    """Daily values of many draws over one another; those that came out over a limit heavier and dashed."""
    drawing = Drawing(width, high + 30)
    chart = LinePlot()
    chart.x, chart.y, chart.width, chart.height = LEFT, 14, width - LEFT, high
    chart.data = [list(enumerate(values.tolist())) for values, _ in draws]
    for at, (_, over) in enumerate(draws):
        chart.lines[at].strokeColor = INK if over else WATER
        chart.lines[at].strokeWidth = 0.8 if over else 0.35
        chart.lines[at].strokeDashArray = [2, 1.5] if over else None
    low = min(float(values.min()) for values, _ in draws)
    _axis(chart.yValueAxis, low, 100.0)
    _axis(chart.xValueAxis, 0.0, float(max(len(values) for values, _ in draws)))
    chart.xValueAxis.visibleLabels = chart.xValueAxis.visibleTicks = 0
    drawing.add(chart)
    put(drawing, 0, 14 + high - 6, unit, 7.5, colour=SOFT)
    rule(drawing, LEFT, high + 22, LEFT + 16, high + 22, 0.6, None, WATER)
    x = LEFT + 20 + put(drawing, LEFT + 19, high + 19.5, "not over a limit", 7.5) + 12
    rule(drawing, x, high + 22, x + 16, high + 22, 1.0, (2, 1.5), INK)
    put(drawing, x + 19, high + 19.5, "over a limit", 7.5)
    return drawing


def _axis(axis: Any, low: float, top: float) -> None:
    axis.valueMin, axis.valueMax = low, top
    axis.strokeColor, axis.strokeWidth = INK, 0.6
    axis.labels.fontName, axis.labels.fontSize = fonts.SANS, 7
    axis.labels.fillColor = SOFT
    axis.gridStrokeColor, axis.gridStrokeWidth = RULE, 0.3
    axis.visibleGrid = 1
    axis.maximumTicks = 5
    axis.labelTextFormat = "%g"
