"""One option's hourly years from the works on: as found until it settles, then the option from how that stands.

As found starts at the place's RH on the day of the works and runs until its year repeats. An option's existing layers start
from there; new ones as they are delivered.
"""

from __future__ import annotations

from collections.abc import Callable
from contextlib import suppress
from dataclasses import dataclass, replace

import numpy as np

from core.assembly.model import LayerState, Model, StartState
from core.assembly.to_case import found_model, model_of, run_key
from core.buildup.growth import aligned
from core.buildup.members import member_path
from core.buildup.model import BuildUp, Place
from core.buildup.spent import spent
from core.criteria.accumulation import AccumulationFinding
from core.criteria.run_findings import RunFindings, find_all
from core.errors import CoreError
from core.moisture.transient.outcome import Outcome
from core.moisture.transient.solve import Progress, simulate
from core.moisture.transient.tables import SUCTION_UNIT
from core.physics.constants import ZERO_CELSIUS


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
    if as_found is not None:
        build_up = aligned(as_found, build_up)
    model = model_of(build_up, place, title, new=as_found is not None)
    found = found_model(as_found, place)
    if as_found is None or found is None:
        return Asked(build_up, place, model, model.case.hash, None, None, None)
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
            tuple(round(float(t) - ZERO_CELSIUS, 3) for t in kelvin),
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


@dataclass(frozen=True)
class Found:
    """As found once it has settled: its findings, and how its layers stand, through the bay and through the members."""

    findings: RunFindings
    start: StartState
    member_start: StartState | None


def settle(
    as_found: BuildUp, place: Place, progress: Progress | None = None, cancelled: Callable[[], bool] | None = None
) -> Found | None:
    """As found run until it settles, on both paths. None where it cannot be run."""
    model = found_model(as_found, place)
    if model is None:
        return None
    report = progress or (lambda share, what: None)
    other = member_path(as_found)
    beside = found_model(other, place) if other is not None else None
    outcome = simulate(model.case, lambda s, what: report(0.5 * s, what), cancelled)
    member: RunFindings | None = None
    member_start: StartState | None = None
    if beside is not None:
        through = simulate(beside.case, lambda s, what: report(0.5 + 0.5 * s, what), cancelled)
        member, member_start = find_all(beside, through), start_from(beside, through)
    return Found(find_all(model, outcome, member), start_from(model, outcome), member_start)


def years_of(
    build_up: BuildUp,
    place: Place,
    found: Found | None,
    progress: Progress | None = None,
    cancelled: Callable[[], bool] | None = None,
    stages: int | None = None,
) -> RunFindings:
    """Findings of an option's years until they repeat, with those beside. stages: of each step; None as the sheet runs it."""
    report = progress or (lambda share, what: None)
    member, worn = beside_findings(build_up, place, found, lambda s, what: report(0.5 * s, what), cancelled, stages)
    model = _staged(model_of(build_up, place, start=found.start if found is not None else None, new=True), stages)
    return find_all(model, simulate(model.case, lambda s, what: report(0.5 + 0.5 * s, what), cancelled), member, worn)


def stages_of(build_up: BuildUp, place: Place) -> int:
    """The most stages in a step that the sheet takes on any of its paths."""
    most = 1
    for one in (build_up, member_path(build_up), spent(build_up, place)):
        with suppress(CoreError):  # a path that cannot be run is left out of its findings too
            most = max(most, model_of(one, place, new=True).case.time.stages if one is not None else 1)
    return most


def bay_years(
    build_up: BuildUp,
    place: Place,
    found: Found | None,
    years: int | None,
    progress: Progress | None = None,
    cancelled: Callable[[], bool] | None = None,
) -> RunFindings:
    """Findings of so many years of an option through its bay (None: until they repeat), in one stage an hour: for a search, whose answer is run again as it is judged."""
    model = _staged(model_of(build_up, place, start=found.start if found is not None else None, new=True), 1)
    if years is not None:
        model = fixed_years(model, years)
    return find_all(model, simulate(model.case, progress or (lambda share, what: None), cancelled))


def beside_findings(
    build_up: BuildUp,
    place: Place,
    found: Found | None,
    progress: Progress | None = None,
    cancelled: Callable[[], bool] | None = None,
    stages: int | None = None,
) -> tuple[RunFindings | None, RunFindings | None]:
    """Findings (through the members, with the coat spent that keeps the rain off); None for what it has not, or what cannot be run."""
    start = found.start if found is not None else None
    member_start = (found.member_start or found.start) if found is not None else None
    report = progress or (lambda share, what: None)
    first: Progress = lambda s, what: report(0.5 * s, f"through the members: {what}")  # noqa: E731
    then: Progress = lambda s, what: report(0.5 + 0.5 * s, f"with its coat spent: {what}")  # noqa: E731
    return (
        _findings_of(member_path(build_up), place, member_start, first, cancelled, stages),
        _findings_of(spent(build_up, place), place, start, then, cancelled, stages),
    )


def _findings_of(
    other: BuildUp | None,
    place: Place,
    start: StartState | None,
    progress: Progress,
    cancelled: Callable[[], bool] | None,
    stages: int | None,
) -> RunFindings | None:
    if other is None:
        return None
    try:
        model = _staged(model_of(other, place, start=start, new=True), stages)
    except CoreError:
        return None
    return find_all(model, simulate(model.case, progress, cancelled))


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


def until_it_repeats(model: Model) -> Model:
    """The same until its year repeats, whatever number of years it had."""
    time = model.case.time.model_copy(update={"repeat": "until_settled"})
    return replace(model, case=model.case.model_copy(update={"time": time}))


STILL_MOVES = 0.005  # of the water a year; a short run that still gathers or dries by more says nothing of what stays


def still_moves(findings: RunFindings) -> float:
    """By what share of it the water of so few years still rises a year (falls: below 0); 0 where that leaves nothing open."""
    [gathered] = findings.of("accumulation")
    assert isinstance(gathered, AccumulationFinding)
    return 0.0 if gathered.settled or abs(gathered.rise) <= STILL_MOVES else gathered.rise


def _staged(model: Model, stages: int | None) -> Model:
    """The same with so many stages in a step; None: as it is."""
    if stages is None:
        return model
    time = model.case.time.model_copy(update={"stages": stages})
    return replace(model, case=model.case.model_copy(update={"time": time}))
