"""The air of the building: tests in a line, the leak ledger with what flows through it, what is stated, what the walls take of it."""

from __future__ import annotations

import io
from dataclasses import asdict, replace
from typing import Any, Literal

import numpy as np
from django.db import transaction
from numpy.typing import NDArray

from core.aims import tightness_aim
from core.building.answers import airing_within, balance, monthly
from core.building.leaks import AirYear, Carried, HouseAt, carried, house_at, potential
from core.building.ledger import Ledger, aimed_at
from core.building.stated import FRESH_M3_H, vapour_kg_day
from core.building.whole import HOUSE, USUAL_CHANGES, BuildingYear, State, building_year, infiltration
from core.buildup.model import AirLeakage, HouseOfLeak
from core.climate.data import Climate, shipped
from core.climate.importer import Report
from core.errors import CoreError
from core.physics.constants import AIR_KWH_KGK
from core.survey.cold import cold_spaces
from server.building.state import (
    COOLED,
    UNCOOLED,
    Shown,
    air_lines,
    ground_of,
    key_of,
    ledger_of,
    rows_of,
    shown_of,
    tests_of,
)
from server.climates.files import checked, keep_row
from server.heat.figures import air_of, states, weighted
from server.heat.schemas import (
    AirBody,
    AiringBody,
    AiringOut,
    AirOut,
    FloorOut,
    LeakRow,
    Named,
    SealStep,
    SpaceOut,
    StateAir,
    TestOut,
    TryBody,
    TryOut,
    VapourRow,
    WallLimit,
)
from server.problems import Problem
from server.projects.models import Element, HistoryEntry, Option, Project
from server.projects.permissions import User, editable_project
from server.runs.conditions import conditions_of
from server.runs.models import Batch
from server.water.figures import readiness_of

Array = NDArray[np.float64]
OF_THE_AIR: dict[str, Literal["rooms", "leakage"]] = {"indoor moisture": "rooms", "air leakage": "leakage"}
LEAST_Q50 = 0.005  # m³/(h m²): below it an element leaks nothing that counts


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
        changes_1_h=weighted(year, climate, state.heat_to_c) if year is not None else state.natural_1_h or None,
        neutral_m=float(np.median(year.neutral_m[climate["temperature_c"] < 10.0])) if year is not None else None,
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
        rooms = 100.0 * monthly(damp)[int(np.argmin(monthly(climate["temperature_c"])))]
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


@transaction.atomic
def change_air(user: User, project_id: int, body: AirBody) -> Project:
    """What is stated as found, or in the scheme that is shown. 409 where it was changed since one began; refused where it cannot add up."""
    project = editable_project(user, project_id)
    scheme = project.shown_scheme()
    now = scheme.current_air if body.after else project.current_air
    if body.began is not None and body.began != now:
        raise Problem(
            409,
            "changed_meanwhile",
            "The air was changed in another window since you began.",
            "Load the page anew to see theirs, then type yours again.",
        )
    walls = _walls_cooled(project, body)
    kept = air_lines(body.air).model_dump(mode="json")
    if body.after:
        scheme.air = kept
        scheme.save(update_fields=["air"])
    else:
        project.air = kept
    project.save()
    ledger_of(shown_of(project))  # refuses
    where = f"after the works in “{scheme.name}”" if body.after else "as found"
    HistoryEntry.write(
        project,
        user,
        "change air",
        f"changed air and use {where}{walls}",
        project,
        now.model_dump(mode="json"),
        body.air.model_dump(mode="json"),
    )
    return project


def _walls_cooled(project: Project, body: AirBody) -> str:
    """Rooms that are cooled, or not any more, are so in the walls' hourly years too; what else is stated of their air stays. In words for the history."""
    cooled = body.air.use.cool_to_c is not None
    other = project.current_air if body.after else project.shown_scheme().current_air
    if cooled and project.occupancy == UNCOOLED:
        project.occupancy = COOLED
        return "; the walls run cooled in summer"
    was = (project.shown_scheme().current_air if body.after else project.current_air).use.cool_to_c is not None
    if was and not cooled and project.occupancy == COOLED and other.use.cool_to_c is None:
        project.occupancy = UNCOOLED
        return "; the walls run as not cooled"
    return ""


@transaction.atomic
def take_leaks(user: User, project_id: int) -> int:
    """Every layered element's hourly years take its leak from the ledger: as found its share of the test, its options what is left.

    Leaks that somebody stated otherwise stay. Answers how many build-ups changed.
    """
    project = editable_project(user, project_id)
    shown = shown_of(project)
    made, _, _ = ledger_of(shown)
    if made is None:
        raise Problem(422, "no_ledger", "There is no ledger yet.", "Add a blower-door test, or type n50.")
    found, after, _, _, _ = states(shown)
    years = air_of(found, project.climate), air_of(after, project.climate)
    climate = shipped(project.climate)
    rows = {row.key: row for row in made.rows}
    changed: dict[str, tuple[Any, Any]] = {}
    for element in shown.elements:
        row = rows.get(key_of(element))
        if row is None or not element.has_build_up:
            continue
        for option in element.options.all():
            late = option.role == Option.UPGRADE
            # what is in one line only leaks there, as found with nothing closed
            at = row.at(late) or row.at(not late)
            if at is None or not at.area_m2:
                continue
            q50 = (row.open_m3_h if at is row.after and not late else at.q50_m3_h) / at.area_m2
            year, state = (years[1], after) if at is row.after else (years[0], found)
            house = house_at(year, row.key, climate, state.heat_to_c, state.wind_factor) if year is not None else None
            differs = _give(option, q50, house if q50 >= LEAST_Q50 else None)
            if differs is not None:
                changed[f"{element.name}: {option.name}"] = differs
    words = f"{len(changed)} build-ups take their leaks from the ledger"
    before, after_it = ({name: pair[side] for name, pair in changed.items()} for side in (0, 1))
    HistoryEntry.write(project, user, "take leaks", words, None, before, after_it)
    project.save(update_fields=["changed_at"])
    return len(changed)


def _give(option: Option, q50: float, house: HouseAt | None) -> tuple[dict[str, Any], dict[str, Any]] | None:
    """The leak of a build-up before and after, None where it stays. What was chosen by hand stays; a draft keeps all else that is in it."""
    built = option.build_up
    leak = built.get("air_leak") or {}
    if leak.get("preset", "by rule") != "by rule" and not leak.get("from_ledger"):
        return None
    after_layer = leak.get("after_layer")
    if house is None:
        fresh = AirLeakage(preset="none", after_layer=after_layer)
    else:
        keeps = house.inside
        fresh = AirLeakage(
            preset="q50",
            q50_m3_m2h=float(f"{min(q50, 50.0):.3g}"),
            after_layer=after_layer,
            from_ledger=True,
            above_neutral_m=house.above_neutral_m,
            house=HouseOfLeak(
                wind_factor=house.wind_factor,
                coefficient=keeps.coefficient,
                swing=keeps.swing,
                swing_from_deg=keeps.swing_from_deg,
                steady_pa=keeps.steady_pa,
            ),
        )
    wanted = fresh.model_dump(mode="json")
    if fresh == AirLeakage.model_validate(leak):
        return None
    option.build_up = {**built, "air_leak": wanted}
    if option.draft is not None:
        drafted = option.draft.get("air_leak") or {}
        if drafted.get("preset", "by rule") == "by rule" or drafted.get("from_ledger"):
            there = any(layer["id"] == drafted.get("after_layer") for layer in option.draft["layers"])
            option.draft = {
                **option.draft,
                "air_leak": {**wanted, "after_layer": drafted.get("after_layer") if there else None},
            }
    option.revision += 1
    option.save(update_fields=["build_up", "draft", "revision"])
    return leak, wanted


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
        changes_1_h=weighted(years[1], climate, state.heat_to_c) if years[1] is not None else 0.0,
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
    """Leaks in the order in which sealing leaves no wall without drying: first where room air goes out at the top, which wets and dries nothing;
    then what draws air in; last what belongs to an element whose water items are open: its draught dries it until they are closed."""
    if year is None:
        return []
    ready = readiness_of(shown.project)
    pks = {key_of(element): element.pk for element in shown.elements}
    below = np.maximum(inside_c - climate["temperature_c"], 0.0)
    found = []
    for row in made.rows:
        flows = year.parts_of(row.key)
        if not flows.any():
            continue
        come_in = float((np.maximum(flows, 0.0) * below).sum()) * AIR_KWH_KGK
        inward, outward = year.outward_m3_h(row.key)
        state = ready.get(pks.get(row.key, -1))
        waits = state is not None and not state.state.startswith("ready") and inward > outward
        if waits:
            words = f"its water items are not closed ({state.state if state else ''}): the air it draws in dries it until they are"
        elif outward >= inward:
            words = "room air goes out here and wets what it cools at; nothing dries by it"
        else:
            words = "outside air is drawn in here; nothing is known that needs it to dry"
        # as much comes in elsewhere as goes out here: half of the heat is counted for each
        leaving = float((np.maximum(-flows, 0.0) * below).sum()) * AIR_KWH_KGK
        found.append(
            (
                waits,
                -(outward - inward),
                SealStep(key=row.key, name=row.name, saves_kwh=0.5 * (come_in + leaving), waits=waits, words=words),
            )
        )
    return [step for _, _, step in sorted(found, key=lambda one: (one[0], one[1]))]


@transaction.atomic
def take_house_air(user: User, project_id: int, after: bool) -> Project:
    """The rooms' air as it was reckoned becomes the measured indoor series of the project: every wall's hourly years run with it."""
    project = editable_project(user, project_id)
    made, _ = year_of(project, after)
    when = "after the works" if after else "as found"
    project.occupancy = _series(user, made, 0, f"Rooms of {project.name[:40]}, {when}")
    project.save()
    HistoryEntry.write(project, user, "take house air", f"the walls take the rooms' air {when}, as it was reckoned")
    return project


def _series(user: User, made: BuildingYear, zone: int, label: str) -> str:
    """The air of one zone as a series of this person's; its name."""
    out = io.StringIO()
    out.write(f"# label: {label[:80]}\n# origin: computed by the balance of the building, not measured\n")
    out.write("# latitude_deg: 0\n# longitude_deg: 0\n# utc_offset_h: 0\ntemperature_c,relative_humidity\n")
    celsius, rh = made.year.celsius[zone], np.clip(made.year.rh[zone], 0.01, 0.99)
    np.savetxt(out, np.stack([celsius, rh], axis=1), delimiter=",", fmt="%.5g")
    report = Report(hours=8760, estimated=["temperature and RH, by the hourly balance of the building"])
    report.mean_temperature_c, report.mean_rh = float(celsius.mean()), float(rh.mean())
    row = keep_row(user, checked(out.getvalue().encode(), "indoor"), file_name="computed", report=asdict(report))
    return str(row.name)


@transaction.atomic
def take_space_air(user: User, project_id: int) -> int:
    """Elements that face a cold space run with its air as it was reckoned: as found with that of before, options with that of after the works.

    Answers how many elements took it. What is not of a space of the shape keeps its factor b.
    """
    project = editable_project(user, project_id)
    shown = shown_of(project)
    taken: dict[int, dict[str, str]] = {}
    for after, field in ((False, "beside_found"), (True, "beside_after")):
        made, state = year_of(project, after)
        when = "after the works" if after else "as found"
        keys = {key_of(element): element.pk for element in shown.elements}
        for number, space in enumerate(state.spaces, start=1):
            mine = [part for part in state.parts if part.side == space.id and part.build_up is not None]
            if not mine:
                continue
            name = _series(
                user, made, number, f"{space.name[0].upper()}{space.name[1:]} of {project.name[:30]}, {when}"
            )
            for part in mine:
                taken.setdefault(keys[part.key], {})[field] = name
    for pk, values in taken.items():
        # what stands in one state only faces the same air in both, so that it can be run
        one = next(iter(values.values()))
        Element.objects.filter(pk=pk).update(**{"beside_found": one, "beside_after": one, **values})
    HistoryEntry.write(
        project, user, "take space air", f"{len(taken)} elements take the air of the cold space they face"
    )
    project.save(update_fields=["changed_at"])
    return len(taken)


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
