"""Frost at the footing: what the shape and the balance say of it, and the soil through the year, as found and after."""

from __future__ import annotations

from core.climate.data import shipped
from core.errors import CoreError
from core.footing import Footing, FootingYear, footing_year
from core.say import said, say, temperature
from core.thermal.iso6946 import transmittance
from core.zones.assemble import building_year
from server.heat.figures import states
from server.heat.schemas import FootingAsked, FootingOut, FootingRow
from server.projects.models import Project
from server.states.state import rows_of, shown_of

USUAL_FOUNDING_M = 0.8


def asked_of(project: Project) -> FootingAsked:
    """What is known of the largest heated part: depth of its floor, insulation inside as found and after, how warm it is behind it."""
    shown = shown_of(project)
    bodies = [body for body in shown.after.bodies if body.heated]
    found, after, _, _, _ = states(shown)
    sides = [Footing(founding_m=USUAL_FOUNDING_M, soil=project.soil) for _ in range(2)]
    if not bodies:
        return FootingAsked(before=sides[0], after=sides[1])
    body = max(bodies, key=lambda one: len(one.storeys) * abs(_area(one.outline)))
    depth = max(body.ground_m - (body.level_m - body.below_height_m), 0.0) if body.below != "slab" else 0.0
    for late, state in ((False, found), (True, after)):
        walls, floors = [0.0], [0.0]
        for row in rows_of(shown, late):
            if row.element.body != body.id or row.build_up is None or not row.build_up.is_stated:
                continue
            try:
                made = transmittance(row.build_up, row.element.kind)
            except CoreError:
                continue
            if row.element.kind == "floor":
                floors.append(made.r_insulation)
            elif "/cellar/" in row.key:
                walls.append(made.r_insulation)
        warm = state.heat_to_c
        if any(space.id == f"{body.id}/below" for space in state.spaces):
            year = building_year(state, shipped(project.climate))
            warm = float(year.year.celsius[year.ids.index(f"{body.id}/below")][: 59 * 24].mean())
            floors = [0.0]
        sides[late] = Footing(
            founding_m=max(USUAL_FOUNDING_M, round(depth + 0.2, 2)), floor_m=round(depth, 2), wall_m=body.wall_mm / 1000.0,
            wall_r=round(max(walls), 2), floor_r=round(max(floors), 2), inside_c=round(warm, 1), soil=project.soil,
        )  # fmt: skip
    return FootingAsked(before=sides[0], after=sides[1])


def _area(outline: list[tuple[float, float]]) -> float:
    pairs = zip(outline, outline[1:] + outline[:1], strict=True)
    return 0.5 * sum(x0 * y1 - x1 * y0 for (x0, y0), (x1, y1) in pairs)


def footing_of(project: Project, asked: FootingAsked) -> FootingOut:
    """The coldest soil under the foot and how deep frost goes, as found and after, with snow and without."""
    climate = shipped(project.climate)
    rows = [
        _row(f"{when}, {'snow lies' if snow else 'no snow'}", footing_year(side, climate, snow))
        for when, side in (("as found", asked.before), ("after", asked.after))
        for snow in (False, True)
    ]
    mean = float(climate["temperature_c"].mean())
    note = said("")
    if mean < 0.0:
        note = say(
            "The year's mean outside is {mean}: undisturbed ground stays frozen here. The heat of the house has thawed what it stands on; holding "
            "that heat back lets it freeze again. The engineer first.",
            mean=temperature(mean, 1),
        )
    elif any(row.coldest_c < 0.0 for row in rows):
        note = said(
            "The soil under the foot freezes: it may heave. A skirt, a deeper foot, or less insulation toward it; the engineer decides."
        )
    return FootingOut(asked=asked, rows=rows, note=note)


def _row(name: str, year: FootingYear) -> FootingRow:
    return FootingRow(name=name, coldest_c=year.coldest_c, day=year.day, frost_m=year.frost_m)
