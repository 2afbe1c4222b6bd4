"""The building between phases: need, air and humidity of the rooms once each phase is built, before the next one is."""

from __future__ import annotations

from dataclasses import replace

from core.air_flow.ledger import Ledger
from core.climate.data import shipped
from core.errors import CoreError
from core.zones.assemble import Part, State, building_year
from core.zones.balance import balance
from server.heat.figures import states
from server.projects.models import Project
from server.schemes.schemas import StageOut, StagesOut
from server.states.state import key_of, rows_of, shown_of, state_of, tests_of


def stages_of(project: Project) -> StagesOut:
    """As found, after each phase of the scheme that is shown. What is no choice (planned windows, the ventilation and use after the works) comes
    with the last phase; leaks go with their elements, those of no element with the last."""
    shown = shown_of(project)
    found, after, _, _, refused = states(shown)
    scheme = project.shown_scheme()
    phases = list(scheme.phases.all())
    if not phases or not found.parts or not after.parts or min(found.volume_m3, after.volume_m3) <= 0.0:
        return StagesOut(stages=[], refused=refused if phases else "")
    until = state_of(shown, True, after.ledger, between=True)
    places = {phase.pk: index for index, phase in enumerate(phases)}
    last = len(phases) - 1
    line = places.get(scheme.line_phase_id or 0, last)
    built: dict[str, tuple[int | None, int]] = {}
    for element in shown.elements:
        choice = element.choice
        if choice is not None and choice.option_id is not None:
            built[key_of(element)] = choice.stages()
    moved = {row.key for late in (False, True) for row in rows_of(shown, late) if row.stands != "both"}
    sides = [found]
    for number in range(len(phases)):
        base = after if number >= line or number == last else found
        sides.append(_stage(base, (found, after, until), built, moved, number, last))
    climate = shipped(project.climate)
    tests = tests_of(shown)
    rows = []
    names = ["as found", *(phase.name for phase in phases)]
    starts = [None, *(phase.starts_on for phase in phases)]
    for at, (state, name) in enumerate(zip(sides, names, strict=True)):
        try:
            made = balance(building_year(state, climate), climate, {})
        except CoreError as error:
            return StagesOut(stages=[], refused=error.message)
        begins, ends = starts[at], starts[at + 1] if at < last + 1 else None
        measured = [
            test.n50 for test in tests
            if begins is not None and test.on >= begins.isoformat() and (ends is None or test.on < ends.isoformat())
        ]  # fmt: skip
        total = None
        if state.ledger is not None:
            total = state.ledger.total_after if state.after else state.ledger.total_before
        rows.append(
            StageOut(
                id=phases[at - 1].pk if at else None,
                name=name,
                heating_kwh=made.heating_kwh,
                heating_peak_w=made.heating_peak_w,
                n50=total / state.volume_m3 if total is not None else None,
                measured_n50=measured[-1] if measured else None,
                rh=made.coldest_rh,
                month=made.coldest_month,
                fresh_m3_h=made.fresh_m3_h,
                needed_m3_h=made.needed_m3_h,
                pane_h=made.pane_h,
                warm_h=made.warm_h,
                warm_c=made.warm_c,
            )
        )
    return StagesOut(stages=rows, refused=refused if found.ledger is None and not found.natural_1_h else "")


def _stage(
    base: State, sides: tuple[State, State, State], built: dict[str, tuple[int | None, int]], moved: set[str], number: int, last: int
) -> State:  # fmt: skip
    """The state once this phase is built: its shape is that of base, each element stands as it does by then."""
    found, after, until = ({part.key: part for part in side.parts} for side in sides)

    def of(part: Part) -> Part:
        first, at = built.get(part.key, (None, last))
        stands = found
        if number >= at or part.key in moved:
            stands = after
        elif first is not None and number >= first:
            stands = until
        own = stands.get(part.key, part)
        return replace(part, build_up=own.build_up, u_w_m2k=own.u_w_m2k, g_value=own.g_value, edge=own.edge)

    ledger = sides[1].ledger
    if ledger is not None:
        ledger = _leaks(ledger, built, number, last, base.after)
    stated = sides[1].stated if number == last else sides[0].stated
    natural = sides[1].natural_1_h if number == last else sides[0].natural_1_h
    return replace(
        base, parts=[of(part) for part in base.parts], ledger=ledger, after=True, stated=stated, natural_1_h=natural
    )


def _leaks(ledger: Ledger, built: dict[str, tuple[int | None, int]], number: int, last: int, moved: bool) -> Ledger:
    """The leaks once this phase is built: what is not built yet lets through what it did. moved: the line is that after the works."""
    rows = []
    for row in ledger.rows:
        left = row.q50_after / row.open_m3_h if row.open_m3_h > 0.0 else 1.0
        share = left if number >= built.get(row.key, (None, last))[1] else 1.0
        here = row if moved else replace(row, after=row.before)
        rows.append(here.letting((row.open_m3_h if moved else row.q50_before) * share))
    return Ledger(rows, ledger.total_before, ledger.total_open, sum(row.q50_after for row in rows), ledger.words)
