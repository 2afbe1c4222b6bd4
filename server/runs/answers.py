"""Small answers of runs in a batch: computed by the core, kept as plain data without the hourly arrays."""

from __future__ import annotations

import hashlib
from collections.abc import Callable
from typing import Any

import numpy as np

from core.buildup.model import BuildUp, Place
from core.buildup.to_case import Model
from core.errors import OutOfRange

Progress = Callable[[float, str], None]
Asked = Callable[[], bool]


def plane_of(model: Model, after_layer: str) -> str:
    """Name of the watch point at the inner face of a layer. Raises OutOfRange when it has none."""
    for watch in model.watch_points:
        if watch.after_layer_id == after_layer:
            return watch.name
    raise OutOfRange(f"there is no watch point after layer “{after_layer}”", "choose another plane")


def answer_key(model: Model, kind: str, looked_at: str) -> str:
    """The hash under which an answer is found again: the case and what is looked at in it."""
    return hashlib.sha256(f"{model.case.hash}|{kind}|{looked_at}".encode()).hexdigest()


def brief_answer(
    build_up: BuildUp, place: Place, inputs: dict[str, Any], progress: Progress, asked: Asked
) -> dict[str, Any]:
    """Verdict in short and the plane's daily RH of the last year. inputs: draw, plane (a layer id)."""
    from core.criteria.verdict import judge
    from core.moisture.transient.solve import simulate
    from core.study import drawn_model

    model = drawn_model(build_up, place, inputs["draw"])
    name = plane_of(model, inputs["plane"])
    outcome = simulate(model.case, progress, asked)
    verdict = judge(model, outcome)
    rh = np.minimum(outcome.rh(outcome.planes[name], outcome.last_pass), 1.0)
    daily = rh.reshape(-1, 24).mean(axis=1)
    point = next(p for p in verdict.points if p.name == name)
    return {
        "state": verdict.state,
        "headline": verdict.headline,
        "sentence": verdict.worst.sentence,
        "nearness": verdict.worst.share,
        "criterion": verdict.worst.criterion,
        "plane": name,
        "worst_month": point.worst_month,
        "worst_month_rh": point.worst_month_rh,
        "mould": point.mould_settled,
        "driven_rain_mm": outcome.driven_rain_kg_m2,
        "seconds": outcome.seconds,
        "daily_rh": [round(float(value) * 100.0, 2) for value in daily],
    }


def wetting_answer(
    build_up: BuildUp, place: Place, inputs: dict[str, Any], progress: Progress, asked: Asked
) -> dict[str, Any]:
    """The wetting test of one option. inputs: layer, on, thickness_mm, dose_kg_m2."""
    from core.criteria.wetting import wetting_test

    test = wetting_test(
        build_up,
        place,
        inputs["layer"],
        inputs["on"],
        inputs["thickness_mm"] / 1000.0,
        inputs["dose_kg_m2"],
        progress=progress,
        cancelled=asked,
    )
    return {
        "sentence": test.sentence,
        "days": test.days,
        "back_before_heating": test.back_before_heating,
        "left_g_m2": {str(days): grams for days, grams in test.left_g_m2.items()},
        "drained_kg_m2": test.drained_kg_m2,
        "dose_kg_m2": test.dose_kg_m2,
        "most_rh": test.most_rh,
        "before_rh": test.before_rh,
        "rh": [round(float(value) * 100.0, 1) for value in test.rh],
        "rh_twin": [round(float(value) * 100.0, 1) for value in test.rh_twin],
    }
