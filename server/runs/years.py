"""The hourly years of a run as they are drawn, on the screen and on paper: edges, lines, the field over depth and time."""

from __future__ import annotations

from functools import lru_cache

import numpy as np
from ninja import Schema
from numpy.typing import NDArray

from core.assembly.model import Model
from core.buildup.model import BuildUp, Place
from core.criteria.findings import Run as Finished
from core.criteria.mould import LIMIT_OF_ROLE, mould_index
from core.criteria.timber import wettest_window
from core.moisture.transient.outcome import Outcome
from core.runs import asked
from server.runs.models import Run

FIELD_ROWS = 150


class LayerEdge(Schema):
    """A layer of the case on the depth axis."""

    layer_id: str
    name: str
    from_mm: float
    to_mm: float
    hatch_material: str
    membrane: bool


class Line(Schema):
    """One series by record, thinned to `every` hours. kind: rh, mould, wood, water, sd."""

    key: str
    name: str
    kind: str
    unit: str
    judged: bool
    limit: float | None
    values: list[float]


def read_years(folder: str, run_id: int) -> tuple[Outcome, Model]:
    """The arrays of a finished run, mapped and not read, with the model they are of. Raises where they are damaged."""
    run = Run.objects.get(pk=run_id)
    as_found = BuildUp.model_validate(run.as_found) if run.as_found else None
    wanted = asked(BuildUp.model_validate(run.build_up), Place.model_validate(run.place), as_found)
    return Outcome.load(run.folder), wanted.model


loaded = lru_cache(maxsize=24)(read_years)  # for pages that ask again and again


def edges_of(outcome: Outcome, model: Model) -> list[LayerEdge]:
    """The layers on the depth axis."""
    edges = []
    for entry, layer in enumerate(outcome.case.layers):
        outer, inner = outcome.entry_faces[entry]
        edges.append(
            LayerEdge(
                layer_id=model.layer_of_entry[entry],
                name=layer.name,
                from_mm=float(outcome.depth[outer] * 1000.0),
                to_mm=float(outcome.depth[inner] * 1000.0),
                # a still air layer has a material of its own for each thickness: its library name is before that
                hatch_material=getattr(layer, "material", "").split("@")[0],
                membrane=layer.kind == "membrane",
            )
        )
    return edges


def lines_of(outcome: Outcome, model: Model, limits: dict[str, float], every: int) -> list[Line]:
    """RH and mould index at every watch point, wood moisture, total water: means over `every` hours."""

    def thin(values: np.ndarray) -> list[float]:
        usable = len(values) // every * every
        return [round(float(v), 4) for v in values[:usable].reshape(-1, every).mean(axis=1)]

    lines: list[Line] = []
    for point in model.watch_points:
        node = outcome.planes[point.name]
        humidity = outcome.rh(node)
        lines.append(Line(key=f"rh:{point.name}", name=point.name, kind="rh", unit="%", judged=point.judged, limit=None, values=thin(np.minimum(humidity, 1.0) * 100)))  # fmt: skip
        index = mould_index(outcome.temperature_c(node), humidity, point.mould_class, outcome.record_step_s)
        lines.append(Line(key=f"mould:{point.name}", name=point.name, kind="mould", unit="index", judged=point.judged, limit=limits.get(LIMIT_OF_ROLE.get(point.role, "")), values=thin(index)))  # fmt: skip
    told = {"solid": "timber.caution_percent", "sheet": "sheet.percent"}
    for layer in model.wood:
        days = wettest_window(Finished(model, outcome), layer)
        hourly = np.repeat(days.percent, 24)[: len(outcome.z)]
        limit = limits.get(told.get(layer.kind, ""))
        lines.append(Line(key=f"wood:{layer.layer_id}", name=layer.name, kind="wood", unit="mass-%", judged=layer.judged, limit=limit, values=thin(hourly)))  # fmt: skip
    total = outcome.layer_water.sum(axis=1)
    lines.append(
        Line(key="water", name="total water", kind="water", unit="kg/m²", judged=True, limit=None, values=thin(total))
    )
    return lines


def field_of(outcome: Outcome, records: NDArray[np.int64]) -> NDArray[np.float64]:
    """RH [record, depth], FIELD_ROWS even steps of depth from outside, between the nodes on straight lines."""
    depths = (np.arange(FIELD_ROWS) + 0.5) / FIELD_ROWS * outcome.depth[-1]
    humidity = np.minimum(outcome.rh(slice(None), records), 1.0)
    nearest = np.clip(np.searchsorted(outcome.depth, depths), 1, len(outcome.depth) - 1)
    left, right = outcome.depth[nearest - 1], outcome.depth[nearest]
    part = np.where(right > left, (depths - left) / np.where(right > left, right - left, 1.0), 0.0)
    return np.asarray(humidity[:, nearest - 1] * (1 - part) + humidity[:, nearest] * part)
