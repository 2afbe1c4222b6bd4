"""Figures of schemes: each read as if it were shown, by the same functions that every view takes."""

from __future__ import annotations

import copy

from core.aims import budget_aim
from core.preview import taken
from core.say import Said, join, percent, said, say, small_water
from server.heat.figures import heat
from server.heat.schemas import HeatOut
from server.options.costs import cost_of, money_of, prices_of
from server.options.figures import figures
from server.options.schemas import PreviewOut
from server.projects.models import Choice, Element, Option, Project, Scheme
from server.projects.permissions import CHOICES
from server.runs.batches import MOST_YEARS_BETWEEN
from server.runs.models import Batch, Run
from server.runs.states import Waiting, run_state, test_words
from server.runs.verdicts import Drawn, Kept, limits_of
from server.schemes.schemas import ChoiceRow, OtherOption, PhaseOut, SchemeOut, SchemesOut
from server.states.beyond import beyond_all

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
    return SchemesOut(
        shown_id=shown.pk,
        before_w_k=now.before_w_k,
        before_kwh=now.before_kwh,
        before_load_w=now.before_w,
        schemes=rows,
        choices=[_choice_row(element) for element in _built(others[shown])],
        moved=losses[shown].line.moved,
        line_phase_id=shown.line_phase_id,
    )


def _built(project: Project) -> list[Element]:
    """Elements with layers that are in the heated line after the works of the scheme that is shown."""
    rows = project.here(list(project.elements.prefetch_related("options", *CHOICES, "choices__scheme__phases")))
    return [element for element in rows if element.has_build_up and element.in_line != "before"]


def _choice_row(element: Element) -> ChoiceRow:
    choice = element.choice
    state, words = _between(element, choice)
    years = choice.years_between() if choice is not None else None
    options = [option for option in element.options.all() if option.role == Option.UPGRADE]
    return ChoiceRow(
        option_id=choice.option_id if choice is not None else None,
        others=[OtherOption(id=o.pk, name=o.name) for o in options if choice is None or o.pk != choice.option_id],
        between_id=choice.between_id if choice is not None else None,
        between_phase_id=choice.between_phase_id if choice is not None else None,
        years_between=years,
        years_run=None if years is None else min(years, MOST_YEARS_BETWEEN),
        between_words=words,
        between_state=state,
        element_id=element.pk,
        element=element.name,
        option=choice.option.name if choice is not None and choice.option is not None else "",
        reason=choice.reason if choice is not None else "",
        by=choice.by if choice is not None else "",
        at=choice.at if choice is not None else None,
        phase_id=choice.phase_id if choice is not None else None,
    )


def _between(element: Element, choice: Choice | None) -> tuple[str, list[Said]]:
    """(state, words) of the hourly years of what stands in between and of the choice after it."""
    if choice is None or choice.between_id is None or choice.option_id is None:
        return "", []
    if choice.stages()[0] is None:
        return "not before it", []
    years = choice.years_between()
    if years is None:
        return "years not stated", []
    batch = element.batches.filter(kind=Batch.IN_BETWEEN, option=choice.option_id).first()
    asked = batch.settings if batch is not None else {}
    if batch is None or (asked["option_id"], asked["years"]) != (choice.between_id, min(years, MOST_YEARS_BETWEEN)):
        return "not run", []
    runs = list(batch.runs.order_by("pk"))
    if any(run.status in (Run.WAITING, Run.RUNNING) for run in runs):
        return "running", []
    found = Drawn(batch, runs).by_run
    words = [
        join([said(run.label.split(":")[0].capitalize()), found[run.pk].headline], ": ")
        for run in runs[:2]
        if run.pk in found
    ]
    return ("out of date" if batch.out_of_date else "current" if len(words) == 2 else "failed"), words


def _scheme_out(scheme: Scheme, other: Project, after: HeatOut) -> SchemeOut:
    elements = _built(other)
    chosen = [e for e in elements if e.chosen is not None]
    # reckoned once for the verdicts and for the drying of each phase
    beyond = {**beyond_all(other, False), **beyond_all(other, True)}
    made = {
        e.pk: figures(e, e.as_found.current, e.chosen.current, where=beyond.get(e.pk))
        for e in chosen
        if e.chosen is not None
    }
    states = _states(chosen, made)
    prices, money = prices_of(other), money_of(other)
    # without a money of the project each option has its own, and they are not added up
    costs = [(e.area_built_m2, cost_of(e, e.chosen, prices, money or "?")) for e in chosen if e.chosen is not None]
    low, high = sum(area * one.low for area, one in costs), sum(area * one.high for area, one in costs)
    unpriced = sum(bool(one.unpriced or one.foreign) for _, one in costs)
    return SchemeOut(
        cost_low=low,
        cost_high=high,
        currency=money,
        unpriced=unpriced,
        aim=budget_aim(other.current_brief, low, high, money, unpriced),
        carbon_low=sum(area * one.carbon_low for area, one in costs),
        carbon_high=sum(area * one.carbon_high for area, one in costs),
        id=scheme.pk,
        name=scheme.name,
        note=scheme.note,
        revision=scheme.revision,
        chosen=len(chosen),
        of=len(elements),
        complete=after.complete,
        w_k=after.total.after_w_k,
        like_for_like_w_k=after.line.like_for_like_w_k,
        moved=bool(after.line.moved),
        kwh=after.total.after_kwh,
        load_w=after.total.after_w,
        over=states.count("over a limit"),
        marginal=states.count("marginal"),
        not_run=states.count(""),
        floor_lost_m2=sum(_floor_lost(element) for element in chosen),
        phases=_phases(scheme, other, elements, after, made),
    )


def _states(chosen: list[Element], made: dict[int, PreviewOut]) -> list[str]:
    """The verdict of each choice, "" where its years are not current."""
    found: list[str] = []
    for element in chosen:
        option = element.chosen
        assert option is not None
        as_found = element.as_found.current
        result = made[element.pk]
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
    _, room = taken(element.as_found.current, option.current, element.place)
    return max(room, 0.0) * element.area_built_m2 / STOREY_M


def _least_drying(built: list[Element], known: dict[int, PreviewOut]) -> Said | None:
    """The element of those built that dries least, of what can be told by vapour alone."""
    found: list[tuple[float, Said]] = []
    for element in built:
        made = known.get(element.pk)
        if made is None or not element.as_found.current.is_stated:
            continue
        if made.drying is None or made.drying_left.share is None:
            continue
        words = say(
            "{name}: {total} in half a year, {share} of as found",
            name=element.name, total=small_water(made.drying.total_g_m2), share=percent(made.drying_left.share),
        )  # fmt: skip
        found.append((made.drying.total_g_m2, words))
    return min(found, key=lambda one: one[0])[1] if found else None


def _phases(
    scheme: Scheme, other: Project, elements: list[Element], after: HeatOut, made: dict[int, PreviewOut]
) -> list[PhaseOut]:
    """The heat stair: each phase with the loss once it is built. Choices of no phase belong to the first; what is no choice
    (planned windows, the air target) comes with the last."""
    phases = list(scheme.phases.all())
    of: dict[int, int] = {}
    places = {phase.pk: index for index, phase in enumerate(phases)}
    line = places.get(scheme.line_phase_id or 0, len(phases) - 1)  # in which the heated line is moved
    between: dict[int, int] = {}  # from which phase something else stands
    for element in elements:
        choice = element.choice
        if choice is not None and choice.option_id is not None:
            first, of[element.pk] = choice.stages()
            if first is not None:
                between[element.pk] = first
    until = {row.element_id: row for row in heat(other, between=True).rows} if between else {}
    names = {element.pk: element.name for element in elements}
    found = []
    for number, phase in enumerate(phases):
        last = number == len(phases) - 1
        total = [0.0, 0.0, 0.0]
        for row in after.rows:
            done = last or (row.element_id in of and of[row.element_id] <= number)
            if row.element_id is not None and (row.stands != "both" or row.area_m2 != row.area_after_m2):
                done = number >= line
            values = (
                (row.after_w_k, row.after_kwh, row.after_w) if done else (row.before_w_k, row.before_kwh, row.before_w)
            )
            if not done and row.element_id in between and between[row.element_id] <= number:
                stands = until[row.element_id]
                values = stands.after_w_k, stands.after_kwh, stands.after_w
            total = [a + b for a, b in zip(total, values, strict=True)]
        found.append(
            PhaseOut(
                id=phase.pk,
                name=phase.name,
                starts_on=phase.starts_on,
                years_after=phase.years_after,
                elements=[names[pk] for pk, at in of.items() if at == number]
                + (after.line.moved if number == line else []),
                w_k=total[0],
                kwh=total[1],
                load_w=total[2],
                least_drying=_least_drying([e for e in elements if of.get(e.pk, len(phases)) <= number], made),
            )
        )
    return found
