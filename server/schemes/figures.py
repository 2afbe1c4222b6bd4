"""Figures of schemes: each read as if it were shown, by the same functions that every view takes."""

from __future__ import annotations

import copy

from core.buildup.model import growth
from server.heat.figures import heat
from server.heat.schemas import HeatOut
from server.options.figures import figures
from server.projects.models import Element, Project, Scheme
from server.projects.permissions import CHOICES
from server.runs.states import Waiting, run_state, test_words
from server.runs.verdicts import Kept, limits_of
from server.schemes.schemas import ChoiceRow, PhaseOut, SchemeOut, SchemesOut

STOREY_M = 2.5  # of wall height for a metre of floor edge; floor lost is room lost × area / this


def as_shown(project: Project, scheme: Scheme) -> Project:
    """The project as it is with another scheme shown; nothing is kept."""
    other = copy.copy(project)
    other._state = copy.copy(project._state)
    other._state.fields_cache = {**project._state.fields_cache, "scheme": scheme}
    other.scheme_id = scheme.pk
    if hasattr(other, "_prefetched_objects_cache"):
        other._prefetched_objects_cache = {}
    return other


def schemes_of(project: Project) -> SchemesOut:
    shown = project.shown_scheme()
    others = {scheme: as_shown(project, scheme) for scheme in project.schemes.all()}
    losses = {scheme: heat(other) for scheme, other in others.items()}
    rows = [_scheme_out(scheme, other, losses[scheme]) for scheme, other in others.items()]
    now = losses[shown].total  # before the works every scheme is the same
    shown_rows = list(others[shown].elements.prefetch_related("options", *CHOICES))
    return SchemesOut(
        shown_id=shown.pk,
        before_w_k=now.before_w_k,
        before_kwh=now.before_kwh,
        before_load_w=now.before_w,
        schemes=rows,
        choices=[_choice_row(element) for element in shown_rows if element.has_build_up],
    )


def _choice_row(element: Element) -> ChoiceRow:
    choice = element.choice
    return ChoiceRow(
        element_id=element.pk,
        element=element.name,
        option=choice.option.name if choice is not None and choice.option is not None else "",
        reason=choice.reason if choice is not None else "",
        by=choice.by if choice is not None else "",
        at=choice.at if choice is not None else None,
        phase_id=choice.phase_id if choice is not None else None,
    )


def _scheme_out(scheme: Scheme, other: Project, after: HeatOut) -> SchemeOut:
    elements = [e for e in other.elements.prefetch_related("options", *CHOICES) if e.has_build_up]
    chosen = [e for e in elements if e.chosen is not None]
    states = _states(chosen)
    return SchemeOut(
        id=scheme.pk,
        name=scheme.name,
        note=scheme.note,
        revision=scheme.revision,
        chosen=len(chosen),
        of=len(elements),
        complete=after.complete,
        w_k=after.total.after_w_k,
        kwh=after.total.after_kwh,
        load_w=after.total.after_w,
        over=states.count("over a limit"),
        marginal=states.count("marginal"),
        not_run=states.count(""),
        floor_lost_m2=sum(_floor_lost(element) for element in chosen),
        phases=_phases(scheme, elements, after),
    )


def _states(chosen: list[Element]) -> list[str]:
    """The verdict of each choice, "" where its years are not current."""
    found: list[str] = []
    for element in chosen:
        option = element.chosen
        assert option is not None
        as_found = element.as_found.current
        result = figures(element, as_found, option.current)
        runs = list(option.runs.years())
        kept = Kept({run.case_hash for run in runs} | {run.found_key for run in runs})
        tests = test_words(element, option, limits_of(element.project))
        state = run_state(
            element, option, as_found, result.case_hash, result.transient_refused, runs, kept, tests, Waiting()
        )
        found.append(state.verdict.state if state.state == "current" and state.verdict is not None else "")
    return found


def _floor_lost(element: Element) -> float:
    """Floor that a wall's option takes [m²]; 0 for roofs and floors."""
    option = element.chosen
    if option is None or element.kind != "wall" or not element.as_found.current.is_stated:
        return 0.0
    _, room = growth(element.as_found.current, option.current)
    return max(room, 0.0) * element.area_m2 / STOREY_M


def _phases(scheme: Scheme, elements: list[Element], after: HeatOut) -> list[PhaseOut]:
    """The heat stair: each phase with the loss once it is built. Choices of no phase belong to the first; what is no choice
    (planned windows, the air target) comes with the last."""
    phases = list(scheme.phases.all())
    of: dict[int, int] = {}
    for element in elements:
        choice = element.choice
        if choice is not None and choice.option_id is not None:
            of[element.pk] = next((i for i, phase in enumerate(phases) if phase.pk == choice.phase_id), 0)
    names = {element.pk: element.name for element in elements}
    found = []
    for number, phase in enumerate(phases):
        last = number == len(phases) - 1
        total = [0.0, 0.0, 0.0]
        for row in after.rows:
            done = last or (row.element_id in of and of[row.element_id] <= number)
            values = (
                (row.after_w_k, row.after_kwh, row.after_w) if done else (row.before_w_k, row.before_kwh, row.before_w)
            )
            total = [a + b for a, b in zip(total, values, strict=True)]
        found.append(
            PhaseOut(
                id=phase.pk,
                name=phase.name,
                starts_on=phase.starts_on,
                years_after=phase.years_after,
                elements=[names[pk] for pk, at in of.items() if at == number],
                w_k=total[0],
                kwh=total[1],
                load_w=total[2],
            )
        )
    return found
