"""The air of the building: tests in a line, the leak ledger with what flows through it, what is stated, another tightness tried."""

from __future__ import annotations

from dataclasses import asdict, replace
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from core.aims import tightness_aim
from core.air_flow.leaks import AirYear, Carried, carried, potential
from core.air_flow.ledger import Ledger, aimed_at
from core.air_flow.order import SealStep, changes_in_the_cold, neutral_height, order_of_sealing
from core.climate.data import Climate, shipped
from core.errors import CoreError
from core.survey.cold import cold_spaces
from core.zones.assemble import HOUSE, USUAL_CHANGES, BuildingYear, State, building_year, infiltration
from core.zones.balance import airing_within, balance, of_coldest_month
from core.zones.stated import FRESH_M3_H, vapour_kg_day
from server.heat.figures import air_of, states
from server.heat.schemas import (
    AiringBody,
    AiringOut,
    AirOut,
    FloorOut,
    LeakRow,
    Named,
    SpaceOut,
    StateAir,
    TestOut,
    TryBody,
    TryOut,
    VapourRow,
    WallLimit,
)
from server.problems import Problem
from server.projects.models import Project
from server.runs.conditions import conditions_of
from server.runs.models import Batch
from server.states.state import (
    Shown,
    ground_of,
    key_of,
    rows_of,
    shown_of,
    tests_of,
)
from server.water.figures import readiness_of

Array = NDArray[np.float64]
OF_THE_AIR: dict[str, Literal["rooms", "leakage"]] = {"indoor moisture": "rooms", "air leakage": "leakage"}


def air_of_project(project: Project) -> AirOut:
    """Everything of the Air sheet. Raises ClimateGone."""
    shown = shown_of(project)
    found, after, made, whence, refused = states(shown)
    climate = shipped(project.climate)
    years = air_of(found, project.climate), air_of(after, project.climate)
    damp = _rooms_rh(found, climate), _rooms_rh(after, climate)
    brief = project.current_brief
    before, then = _state(found, years[0], climate, False), _state(after, years[1], climate, True)
    return AirOut(
        tests=[TestOut(**asdict(test)) for test in tests_of(shown)],
        whence=whence,
        refused=refused,
        rows=_rows(shown, made, years, (found, after), climate, damp) if made is not None else [],
        named=[
            Named(what=what, words=words.strip())
            for what, words in (
                ("flues and appliances", brief.appliances),
                ("fans", brief.fans),
                ("habits", brief.habits),
            )
            if words.strip()
        ],
        words=made.words if made is not None else [],
        before=before,
        after=then,
        same_after=not project.shown_scheme().air,
        spaces=_spaces(shown),
        floors=_floors(shown),
        limits=_limits(shown, made, damp[1], climate),
        people_fresh_m3_h=FRESH_M3_H,
        aim=tightness_aim(brief, before.n50, then.n50),
    )


def _state(state: State, year: AirYear | None, climate: Climate, after: bool) -> StateAir:
    made = state.ledger
    total = (made.total_after if after else made.total_before) if made is not None else None
    return StateAir(
        stated=state.stated,
        q50_m3_h=total,
        n50=total / state.volume_m3 if total is not None and state.volume_m3 else None,
        volume_m3=state.volume_m3,
        changes_1_h=changes_in_the_cold(year, climate, state.heat_to_c)
        if year is not None
        else state.natural_1_h or None,
        neutral_m=neutral_height(year, climate) if year is not None else None,
        vapour=[VapourRow(what=what, kg_day=kg) for what, kg in vapour_kg_day(state.stated.use)],
    )


def _spaces(shown: Shown) -> list[SpaceOut]:
    """The cold spaces of both states, with the usual air changes of each."""
    found: dict[str, SpaceOut] = {}
    for after in (False, True):
        if not shown.shape(after).bodies:
            continue
        for space in cold_spaces(shown.shape(after), shown.geometry(after)):
            known = found.get(space.id)
            stands = "both" if known is not None else "after" if after else "before"
            found[space.id] = SpaceOut(
                id=space.id, name=space.name, kind=space.kind, volume_m3=space.volume_m3, earth_m2=space.area("earth floor"),
                usual_changes=USUAL_CHANGES[space.kind], stands=stands,
            )  # fmt: skip
    return list(found.values())


def _floors(shown: Shown) -> list[FloorOut]:
    """Floors at ground level that ISO 13370 reckons, in either state."""
    stands: dict[str, FloorOut] = {}
    for after in (False, True):
        for row in rows_of(shown, after):
            place = ground_of(shown, row.element, after) if row.element.kind == "floor" else None
            if place is not None and place.depth_m == 0.0:
                stands[row.key] = FloorOut(key=row.key, name=row.element.name, stands=row.stands)
    return list(stands.values())


def _rows(
    shown: Shown, made: Ledger, years: tuple[AirYear | None, AirYear | None], both: tuple[State, State], climate: Climate,
    damp: tuple[Array | None, Array | None],
) -> list[LeakRow]:  # fmt: skip
    """damp: RH of the rooms by the hour in both states; half where it is not known."""
    pks = {key_of(e): e.pk for e in shown.elements}
    potentials = [
        potential(climate, state.heat_to_c, air if air is not None else 0.5)
        for state, air in zip(both, damp, strict=True)
    ]
    found = []
    for row in made.rows:
        flows = [year.outward_m3_h(row.key) if year is not None else (0.0, 0.0) for year in years]
        does = [
            carried(year.parts_of(row.key), air) if year is not None else Carried(0.0, 0.0)
            for year, air in zip(years, potentials, strict=True)
        ]
        at = row.after or row.before
        assert at is not None
        found.append(
            LeakRow(
                key=row.key,
                element_id=pks.get(row.key),
                name=row.name,
                stands=row.stands,
                height_m=at.height_m,
                facing_deg=at.facing_deg,
                to=at.to,
                area_m2=at.area_m2,
                area_before_m2=row.before.area_m2 if row.before is not None else None,
                q50_open=row.open_m3_h,
                q50_before=row.q50_before,
                q50_after=row.q50_after,
                share=row.share,
                typed=row.typed,
                left_typed=row.left_typed,
                words=row.words,
                in_before=flows[0][0],
                out_before=flows[0][1],
                in_after=flows[1][0],
                out_after=flows[1][1],
                before=does[0],
                after=does[1],
            )
        )
    return found


def _rooms_rh(state: State, climate: Climate) -> Array | None:
    """RH of the rooms by the hour; None where the building cannot be reckoned."""
    if not state.parts or state.volume_m3 <= 0.0:
        return None
    try:
        return building_year(state, climate).year.rh[HOUSE]
    except CoreError:
        return None


def _limits(shown: Shown, made: Ledger | None, damp: Array | None, climate: Climate) -> list[WallLimit]:
    """What the chosen options stand to by their studies, the tightest first, beside what the scheme gives them."""
    rows = {row.key: row for row in made.rows} if made is not None else {}
    rooms = None
    if damp is not None:
        rooms = 100.0 * of_coldest_month(damp, climate)
    found: list[WallLimit] = []
    chosen = {element.pk: element for element in shown.elements if element.chosen is not None}
    studied = Batch.objects.filter(element__in=chosen, kind=Batch.STUDY).values_list("element_id", flat=True).distinct()
    for pk in studied:
        element = chosen[pk]
        row = rows.get(key_of(element))
        tight = row.after.q50_m3_h / row.after.area_m2 if row is not None and row.after and row.after.area_m2 else None
        option = element.chosen
        for stands in conditions_of(element):
            if option is None or stands.option_id != option.pk:
                continue
            for one in (each.condition for each in stands.stands):
                if one.name in OF_THE_AIR and one.at_most:
                    what = OF_THE_AIR[one.name]
                    found.append(
                        WallLimit(
                            element_id=pk,
                            element=element.name,
                            option=option.name,
                            what=what,
                            most=one.measure,
                            now=rooms if what == "rooms" else tight,
                            tried=one.tried,
                            out_of_date=stands.out_of_date,
                        )  # fmt: skip
                    )
    return sorted(found, key=lambda one: (one.what != "rooms", one.most))


def year_of(project: Project, after: bool) -> tuple[BuildingYear, State]:
    """The hourly year of one state. Raises Problem where a part of it cannot be reckoned."""
    found, then, _, _, _ = states(shown_of(project))
    state = then if after else found
    if not state.parts or state.volume_m3 <= 0.0:
        raise Problem(
            422, "no_building", "There is nothing to reckon with yet.", "State shape or volume, and constructions."
        )
    return building_year(state, shipped(project.climate)), state


def tried(project: Project, body: TryBody) -> TryOut:
    """The building after the works with another tightness, nothing kept. Raises Problem where it cannot add up."""
    shown = shown_of(project)
    found, after, made, _, refused = states(shown)
    if made is None or not after.volume_m3:
        raise Problem(422, "no_ledger", refused or "There is no ledger yet.", "Add a blower-door test, or type n50.")
    left = {one.key: one.left for one in body.left}
    rows = [replace(row, left_typed=left.get(row.key, row.left_typed)) for row in made.rows]
    target = body.n50 * after.volume_m3 if body.n50 is not None else None
    again = aimed_at(rows, made.total_before, target)
    state = replace(after, ledger=again)
    climate = shipped(project.climate)
    hourly = building_year(found, climate), building_year(state, climate)
    was, now = (balance(year, climate, {}) for year in hourly)
    years = air_of(found, project.climate), air_of(state, project.climate)
    return TryOut(
        n50=again.total_after / after.volume_m3,
        changes_1_h=changes_in_the_cold(years[1], climate, state.heat_to_c) if years[1] is not None else 0.0,
        heating_kwh=now.heating_kwh,
        as_found_kwh=was.heating_kwh,
        rh=now.coldest_rh,
        month=now.coldest_month,
        fresh_m3_h=now.fresh_m3_h,
        needed_m3_h=now.needed_m3_h,
        rows=_rows(shown, again, years, (found, state), climate, (hourly[0].year.rh[HOUSE], hourly[1].year.rh[HOUSE])),
        words=again.words,
        order=_order(shown, again, _open_year(found, after, again, climate), climate, after.heat_to_c),
    )


def _open_year(found: State, after: State, made: Ledger, climate: Climate) -> AirYear | None:
    """Air through the line after the works before anything of it is closed, aired as found."""
    rows = [row.letting(row.open_m3_h) for row in made.rows]
    opened = replace(made, rows=rows, total_after=made.total_open)
    return infiltration(replace(after, stated=found.stated, ledger=opened), climate)


def _order(shown: Shown, made: Ledger, year: AirYear | None, climate: Climate, inside_c: float) -> list[SealStep]:
    """The order of sealing; what may not be covered yet waits."""
    if year is None:
        return []
    ready = readiness_of(shown.project)
    states_of = {key_of(element): ready[element.pk] for element in shown.elements if element.pk in ready}
    wet = {key: state.state for key, state in states_of.items() if not state.may_be_covered}
    return order_of_sealing(made.rows, year, wet, climate, inside_c)


def airing(project: Project, body: AiringBody) -> AiringOut:
    """The least airing in winter that keeps the rooms of the scheme that is shown at or below an RH, and what it costs in heat."""
    _, state = year_of(project, True)
    climate = shipped(project.climate)
    try:
        m3_h, made = airing_within(state, climate, body.most_rh)
    except CoreError as error:
        raise Problem(422, "not_within", str(error), "Choose another limit, or lower what gives off vapour.") from error
    now = building_year(state, climate)
    found = balance(made, climate, {})
    return AiringOut(
        airing_m3_h=m3_h,
        now_m3_h=state.stated.ventilation.airing_m3_h,
        rh=found.coldest_rh,
        month=found.coldest_month,
        more_kwh=made.heating_kwh - now.heating_kwh,
        fresh_m3_h=found.fresh_m3_h,
    )
