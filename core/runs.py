"""One option's hourly years from the works on: as found until it settles, then the option from how that stands.

As found starts at the place's RH on the day of the works and runs until its year repeats. An option's existing layers start
from there; new ones as they are delivered.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, replace

import numpy as np

from core.assembly.to_case import LayerState, Model, StartState, model_of, run_key, why_no_transient
from core.buildup.model import BuildUp, Place
from core.moisture.transient.outcome import Outcome
from core.moisture.transient.solve import Progress, simulate
from core.moisture.transient.tables import SUCTION_UNIT


@dataclass(frozen=True)
class Asked:
    """What is to be run: the option's model and key, and the as-found model and key it starts from (None: as found itself)."""

    build_up: BuildUp
    place: Place
    model: Model
    key: str
    as_found: BuildUp | None
    found_model: Model | None
    found_key: str | None


def asked(build_up: BuildUp, place: Place, as_found: BuildUp | None, title: str = "") -> Asked:
    """Raises NotAvailableYet and CaseRefused as `model_of`. An as-found build-up that cannot run is no start."""
    model = model_of(build_up, place, title, new=as_found is not None)
    if as_found is None or why_no_transient(as_found, place):
        return Asked(build_up, place, model, model.case.hash, None, None, None)
    found = model_of(as_found, place, "as found")
    return Asked(build_up, place, model, run_key(model.case, found.case), as_found, found, found.case.hash)


def start_from(found: Model, outcome: Outcome) -> StartState:
    """How every layer stands at the end of the last year of as found, which is the day of the works."""
    state: StartState = {}
    for entry in outcome.solid_entries:
        outer, inner = outcome.entry_faces[entry]
        nodes = np.arange(outer, inner + 1)
        depth = outcome.depth[nodes] - outcome.depth[outer]
        kelvin = np.asarray(outcome.temperature[-1, nodes], float)
        suction = np.maximum(SUCTION_UNIT * np.sinh(np.asarray(outcome.z[-1, nodes], float)), 0.0)
        state[found.layer_of_entry[entry]] = LayerState(
            tuple(round(float(x), 6) for x in depth),
            tuple(round(float(t) - 273.15, 3) for t in kelvin),
            tuple(float(f"{s:.6g}") for s in suction),
        )
    return state


def started_model(asked_for: Asked, found: Outcome | None) -> Model:
    """The option's model with its start written out, so that its case file stands alone."""
    if asked_for.found_model is None or found is None:
        return asked_for.model
    start = start_from(asked_for.found_model, found)
    return model_of(asked_for.build_up, asked_for.place, asked_for.model.case.title, start=start, new=True)


def run_years(
    asked_for: Asked,
    found: Outcome | None = None,
    progress: Progress | None = None,
    cancelled: Callable[[], bool] | None = None,
) -> tuple[Model, Outcome, Outcome | None]:
    """The option's model as it started, its outcome, and that of as found (given, or computed here first)."""
    report = progress or (lambda share, what: None)
    if asked_for.found_model is not None and found is None:
        found = simulate(
            asked_for.found_model.case, lambda s, what: report(0.5 * s, f"as found first: {what}"), cancelled
        )
        model = started_model(asked_for, found)
        return model, simulate(model.case, lambda s, what: report(0.5 + 0.5 * s, what), cancelled), found
    model = started_model(asked_for, found)
    return model, simulate(model.case, report, cancelled), found


def carried(start: StartState, before: BuildUp, after: BuildUp) -> StartState:
    """Of how the layers of `before` stand, what is still there in `after`: the same layer of the same material."""
    stays = {layer.id: layer.material for layer in after.layers}
    return {
        layer.id: start[layer.id]
        for layer in before.layers
        if layer.id in start and stays.get(layer.id) == layer.material
    }


def after_years_between(
    between: BuildUp,
    place: Place,
    start: StartState,
    years: int,
    option: BuildUp,
    progress: Progress | None = None,
    cancelled: Callable[[], bool] | None = None,
) -> StartState:
    """How the layers that stay stand after a state between two phases that lasted whole years.

    start: of as found on the day of its works; what `between` brings begins as delivered. The option's works begin on the
    same day of a later year.
    """
    model = fixed_years(model_of(between, place, "in between", start=start, new=True), years)
    outcome = simulate(model.case, progress or (lambda share, what: None), cancelled)
    return carried(start_from(model, outcome), between, option)


def fixed_years(model: Model, years: int) -> Model:
    """The same for a fixed number of years."""
    time = model.case.time.model_copy(update={"repeat": "fixed", "fixed_passes": years})
    return replace(model, case=model.case.model_copy(update={"time": time}))
