"""What is stated of the air, and what the walls take of it: leaks from the ledger, the rooms' air, the air of cold spaces."""

from __future__ import annotations

import io
from dataclasses import asdict
from typing import Any

import numpy as np
from django.db import transaction

from core.air_flow.leaks import AirYear, HouseAt, house_at
from core.air_flow.order import neutral_height
from core.buildup.model import ABOVE_NEUTRAL_M, AirLeakage, HouseOfLeak
from core.climate.data import Climate, shipped
from core.climate.importer import Report
from core.physics.leak import InsidePressure
from core.zones.assemble import BuildingYear, State
from server.climates.files import checked, keep_row
from server.heat.air import year_of
from server.heat.figures import air_of, states
from server.heat.schemas import (
    AirBody,
)
from server.problems import Problem
from server.projects.models import Element, HistoryEntry, Option, Project
from server.projects.permissions import User, editable_project
from server.states.state import (
    COOLED,
    UNCOOLED,
    air_lines,
    key_of,
    ledger_of,
    shown_of,
)

LEAST_Q50 = 0.005  # m³/(h m²): below it an element leaks nothing that counts


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
    houses: dict[tuple[str, bool], HouseAt] = {}  # the same for every option of an element in one state
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
            side = row.key, at is row.after
            if q50 >= LEAST_Q50 and side not in houses:
                year, state = (years[1], after) if at is row.after else (years[0], found)
                houses[side] = _house_of(row.key, at.slices[-1], year, climate, state)
            differs = _give(option, q50, houses[side] if q50 >= LEAST_Q50 else None)
            if differs is not None:
                changed[f"{element.name}: {option.name}"] = differs
    words = f"{len(changed)} build-ups take their leaks from the ledger"
    before, after_it = ({name: pair[side] for name, pair in changed.items()} for side in (0, 1))
    HistoryEntry.write(project, user, "take leaks", words, None, before, after_it)
    project.save(update_fields=["changed_at"])
    return len(changed)


def _house_of(key: str, height_m: float, year: AirYear | None, climate: Climate, state: State) -> HouseAt:
    """What the house does to a leak; for one that lets nothing through in that state (all of it is closed) its height alone."""
    if year is None:
        return HouseAt(ABOVE_NEUTRAL_M, state.wind_factor, InsidePressure())
    if any(leak.key == key for leak in year.leaks):
        return house_at(year, key, climate, state.heat_to_c, state.wind_factor)
    return HouseAt(round(height_m - neutral_height(year, climate), 2), state.wind_factor, InsidePressure())


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
