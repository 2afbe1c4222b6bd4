"""Small answers of runs in a batch: computed by the core, kept as plain data without the hourly arrays."""

from __future__ import annotations

import hashlib
from collections.abc import Callable
from typing import Any

import numpy as np
from pydantic import BaseModel

from core.assembly.model import Model, StartState
from core.buildup.model import BuildUp, Place
from core.buildup.planes import SensitivePlane
from core.criteria.run_findings import RunFindings
from core.errors import OutOfRange
from core.say import Said

Progress = Callable[[float, str], None]
Asked = Callable[[], bool]


class BriefAnswer(BaseModel):
    """What is kept of one short run: the plane looked at, and its daily RH of the last year [%]."""

    plane: str
    worst_month: str
    worst_month_rh: float
    mould: float
    driven_rain_mm: float
    seconds: float
    daily_rh: list[float]


class WettingAnswer(BaseModel):
    """The wetting test of one option; e: share left by the day, rh and rh_twin [%] at the plane."""

    sentence: Said
    plane: str
    mean_stay_days: float
    half_left_after: float | None
    plane_dry_after: float | None
    left_g: float
    at_heating: float
    outward_g: float
    inward_g: float
    dose_kg_m2: float
    e: list[float]
    rh: list[float]
    rh_twin: list[float]


def plane_of(model: Model, after_layer: str) -> str:
    """Name of the watch point at the inner face of a layer. Raises OutOfRange when it has none."""
    for watch in model.watch_points:
        if watch.after_layer_id == after_layer:
            return watch.name
    raise OutOfRange(f"there is no watch point after layer “{after_layer}”", "choose another plane")


def answer_key(model: Model, kind: str, looked_at: str, found_key: str = "") -> str:
    """The hash under which an answer is found again: the case, what is looked at in it, and what it starts from."""
    return hashlib.sha256(f"{model.case.hash}|{kind}|{looked_at}|{found_key}".encode()).hexdigest()


def brief_answer(
    build_up: BuildUp,
    place: Place,
    inputs: dict[str, Any],
    start: StartState | None,
    progress: Progress,
    asked: Asked,
) -> tuple[RunFindings, dict[str, Any]]:
    """Findings, and the plane's daily RH of the last year. inputs: draw, plane (a layer id), years, runs_on."""
    from core.criteria.run_findings import find_all
    from core.moisture.transient.solve import simulate
    from core.runs import fixed_years, still_moves, until_it_repeats
    from core.study import PASSES, drawn_model

    model = drawn_model(build_up, place, inputs["draw"], start, new=start is not None)
    if inputs.get("years", PASSES) != PASSES:
        model = fixed_years(model, inputs["years"])
    name = plane_of(model, inputs["plane"])
    outcome = simulate(model.case, progress, asked)
    found = find_all(model, outcome)
    if inputs.get("runs_on") and still_moves(found):
        model = until_it_repeats(model)
        outcome = simulate(model.case, progress, asked)
        found = find_all(model, outcome)
    rh = np.minimum(outcome.rh(outcome.planes[name], outcome.last_pass), 1.0)
    point = next(p for p in found.points if p.name == name)
    answer = BriefAnswer(
        plane=name,
        worst_month=point.worst_month,
        worst_month_rh=point.worst_month_rh,
        mould=point.mould,
        driven_rain_mm=outcome.driven_rain_kg_m2,
        seconds=outcome.seconds,
        daily_rh=[round(float(value) * 100.0, 2) for value in rh.reshape(-1, 24).mean(axis=1)],
    )
    return found, answer.model_dump(mode="json")


def wetting_answer(
    build_up: BuildUp, place: Place, inputs: dict[str, Any], progress: Progress, asked: Asked
) -> dict[str, Any]:
    """The wetting test of one option. inputs: plane (layer_id, layer, face, because), on, thickness_mm, dose_kg_m2."""
    from core.criteria.wetting import wetting_test

    test = wetting_test(
        build_up,
        place,
        SensitivePlane(**inputs["plane"]),
        inputs["on"],
        inputs["dose_kg_m2"],
        inputs["thickness_mm"] / 1000.0,
        progress=progress,
        cancelled=asked,
    )
    return WettingAnswer(
        sentence=test.sentence,
        plane=test.plane,
        mean_stay_days=test.mean_stay_days,
        half_left_after=test.half_left_after,
        plane_dry_after=test.plane_dry_after,
        left_g=test.left_g,
        at_heating=test.at_heating,
        outward_g=test.outward_g,
        inward_g=test.inward_g,
        dose_kg_m2=test.dose_kg_m2,
        e=[round(float(value), 4) for value in test.e],
        rh=[round(float(value) * 100.0, 1) for value in test.rh],
        rh_twin=[round(float(value) * 100.0, 1) for value in test.rh_twin],
    ).model_dump(mode="json")
