"""The balance of the building: what heats it, what it loses, what it needs, before and after; bills beside it; the rooms' air."""

from __future__ import annotations

from django.db import transaction

from core.aims import heat_aim
from core.bills import BillFit, fit_bills
from core.climate.data import shipped
from core.errors import CoreError
from core.say import Said, say, temperature
from core.zones.assemble import State, building_year
from core.zones.balance import Balance, balance, brief_asks, taken_of_spaces, warnings
from core.zones.monthly import monthly_need
from core.zones.stated import Energy
from core.zones.summer import Summer, summer
from server.heat.figures import states
from server.heat.schemas import BalanceOut, BillsBody, CoolingRun, Running
from server.problems import Problem
from server.projects.models import HistoryEntry, Project
from server.projects.permissions import User, editable_project
from server.states.state import rows_of, shown_of

METHOD = (
    "Hourly, in the manner of ISO 52016-1: every element a chain of capacities by its layers, one node of air in each zone, solved together. Hourly and not "
    "monthly, because cold spaces, night air, moisture and the peak need the hours. Other than printed: one surface coefficient (ISO 6946) in place of "
    "radiation and convection apart, layers as they are in place of five nodes. One heated zone. Joints are not in it."
)


def balance_of(project: Project) -> BalanceOut:
    """Both years. Where a part cannot be reckoned the words say which, and no figure is given. Raises ClimateGone."""
    shown = shown_of(project)
    found, after, _, _, refused = states(shown)
    climate = shipped(project.climate)
    names = {part.key: part.name for state in (found, after) for part in state.parts}
    rows = {row.element.pk: row for late in (True, False) for row in rows_of(shown, late)}
    lacking = [
        row.element.name
        for row in rows.values()
        if row.element.has_build_up and not (row.build_up and row.build_up.is_stated)
    ]
    if not found.parts or not after.parts or min(found.volume_m3, after.volume_m3) <= 0.0:
        return BalanceOut(
            refused="State shape or volume, and what the elements are made of.",
            method=METHOD,
            energy=project.current_energy,
        )
    try:
        years = [building_year(state, climate) for state in (found, after)]
        made = [balance(year, climate, names) for year in years]
        months = [monthly_need(year, climate) for year in years]
    except CoreError as error:
        return BalanceOut(refused=error.message, method=METHOD, energy=project.current_energy)
    energy = project.current_energy
    fit: BillFit | None = None
    no_fit = ""
    if energy.bills:
        try:
            fit = fit_bills(energy.bills, climate, made[0].heating_kwh, energy.efficiency_before, energy.base_c)
        except CoreError as error:
            no_fit = error.message
    told: list[Said] = [*brief_asks(project.current_brief, after.stated), *warnings(made[0], made[1], found, after)]
    return BalanceOut(
        refused="",
        method=METHOD,
        before=made[0],
        after=made[1],
        monthly_before=months[0],
        monthly_after=months[1],
        left_out=lacking,
        air_refused=refused if found.ledger is None and not found.natural_1_h else "",
        warnings=told,
        assumed=[*_cooled_assumed(project, after), *taken_of_spaces(after)],
        aim=heat_aim(
            project.current_brief,
            made[0].heating_kwh / found.floor_m2 if found.floor_m2 else None,
            made[1].heating_kwh / after.floor_m2 if after.floor_m2 else None,
        ),
        energy=energy,
        running=_running(made[0], made[1], energy),
        fit=fit,
        no_fit=no_fit,
        floor_before_m2=found.floor_m2,
        floor_after_m2=after.floor_m2,
        set_before_c=found.heat_to_c,
        set_after_c=after.heat_to_c,
    )


def summer_of(project: Project) -> list[Summer]:
    """What one measure each does for the summer of the building after the works. Raises Problem where it cannot be reckoned."""
    _, after, _, _, _ = states(shown_of(project))
    if not after.parts or after.volume_m3 <= 0.0:
        raise Problem(
            422, "no_building", "There is nothing to reckon with yet.", "State shape or volume, and constructions."
        )
    return summer(after, shipped(project.climate))


def _running(before: Balance, after: Balance, energy: Energy) -> Running:
    fuel = before.heating_kwh / energy.efficiency_before, after.heating_kwh / energy.efficiency_after
    price, carbon = energy.price_kwh, energy.carbon_kg_kwh
    then, emits = energy.price_after, energy.carbon_after
    return Running(
        fuel_before_kwh=fuel[0],
        fuel_after_kwh=fuel[1],
        cost_before=_times(fuel[0], price),
        cost_after=_times(fuel[1], then),
        carbon_before_kg=_times(fuel[0], carbon),
        carbon_after_kg=_times(fuel[1], emits),
        another_plant=energy.another_plant,
        cooling=_cooling(before, after, energy),
    )


def _times(kwh: float, each: float | None) -> float | None:
    """Of so many kWh; None where nobody stated what one is."""
    return None if each is None else kwh * each


def _cooled_assumed(project: Project, after: State) -> list[Said]:
    """The set-point of cooling where nobody stated one, but that the rooms are cooled."""
    stated = project.shown_scheme().current_air.use.cool_to_c
    if stated is not None or after.stated.use.cool_to_c is None:
        return []
    return [
        say(
            "The rooms are cooled to {at}, as the walls run: the project says cooled in summer, and no temperature under Air.",
            at=temperature(after.stated.use.cool_to_c),
        )
    ]


def _cooling(before: Balance, after: Balance, energy: Energy) -> CoolingRun | None:
    """What cooling takes, its drying with it; None where nothing is cooled."""
    taken = [(one.cooling_kwh + one.latent_kwh) / energy.cooling_efficiency for one in (before, after)]
    if max(taken) <= 0.0:
        return None
    price, carbon = energy.cooling_price_kwh, energy.cooling_carbon_kg_kwh
    return CoolingRun(
        before_kwh=taken[0],
        after_kwh=taken[1],
        cost_before=_times(taken[0], price),
        cost_after=_times(taken[1], price),
        carbon_before_kg=_times(taken[0], carbon),
        carbon_after_kg=_times(taken[1], carbon),
    )


@transaction.atomic
def change_energy(user: User, project_id: int, body: BillsBody) -> Project:
    project = editable_project(user, project_id)
    before = project.current_energy.model_dump(mode="json")
    project.energy = body.energy.model_dump(mode="json")
    project.save()
    HistoryEntry.write(
        project, user, "change energy", "changed what heats it, prices and bills", project, before, project.energy
    )
    return project
