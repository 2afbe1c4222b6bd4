"""Refinement: every wall of a project at double cells and a quarter of the step; what moves, and where."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from typing import Any

import numpy as np

from core.assembly.model import Model
from core.assembly.to_case import model_of, why_no_transient
from core.buildup.model import BuildUp, Place
from core.moisture.transient.outcome import Outcome
from core.moisture.transient.solve import simulate

LIMIT_POINTS = 0.5
QUARTER_STEP_S = 900.0


@dataclass(frozen=True)
class RefineRow:
    """The watch point of an option whose RH moves most, in points of RH (rms over a year)."""

    element: str
    option: str
    plane: str
    points: float


def points_apart(one: Outcome, other: Outcome, plane: str) -> float:
    """Points of RH (rms over the records) between two outcomes of a case at a plane."""
    first, second = (np.minimum(o.rh(o.planes[plane]), 1.0) for o in (one, other))
    return 100.0 * float(np.sqrt(np.mean((first - second) ** 2)))


def movement(model: Model) -> tuple[str, float]:
    """(watch point, rms movement in points of RH) of one year between the usual grid and the refined one."""
    once = model.case.time.model_copy(update={"repeat": "once"})
    case = model.case.model_copy(update={"time": once})
    fine = case.model_copy(update={"time": once.model_copy(update={"largest_step_s": QUARTER_STEP_S})})
    coarse, exact = simulate(case), simulate(fine, refine=2)
    best = ("", 0.0)
    for watch in model.watch_points:
        if watch.role == "face":
            continue
        points = points_apart(coarse, exact, watch.name)
        if points >= best[1]:
            best = (watch.name, points)
    return best


def refine_project(raw: dict[str, Any]) -> Iterator[RefineRow]:
    """Every option with layers of a project file (its JSON), in its place."""
    project = raw["project"]
    for element in raw["elements"]:
        for option in element.get("options", []):
            fields = {name: element[name] for name in PLACE_FIELDS if name in element}
            climate = {
                name: project[name] for name in ("climate", "occupancy", "set_point_c", "start_rh") if name in project
            }
            place = Place.model_validate({**fields, **climate})
            build_up = BuildUp.model_validate(option["build_up"])
            if why_no_transient(build_up, place):
                continue
            plane, points = movement(model_of(build_up, place))
            yield RefineRow(element["name"], option["name"], plane, points)


PLACE_FIELDS = ("kind", "adjoining", "facing_deg", "slope_deg", "factor_b", "exposure")
