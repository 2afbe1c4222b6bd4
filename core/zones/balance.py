"""What an hourly year of the building answers: months, needs, hours too warm, fresh air, warnings."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from core.brief import Brief
from core.climate.data import DAYS_IN_MONTHS, MONTHS, Climate
from core.errors import OutOfRange
from core.say import Said, air_flow, percent, said, say
from core.zones.assemble import HOUSE, BuildingYear, State, building_year, with_airing
from core.zones.stated import FRESH_M3_H, AirStated, vapour_kg_day

Array = NDArray[np.float64]
MOST_AIRING = 2000.0
ENOUGH = 0.95  # of the fresh air needed: closer than that nobody knows it
DAMP_RH = 0.45  # below it no wall is the worse for it
FLUE_PA = 4.0  # what an open flue in a house stands, as codes commonly say


def monthly(values: Array) -> list[float]:
    """Means of the months of an hourly year."""
    ends = np.cumsum(DAYS_IN_MONTHS) * 24
    return [float(values[end - days * 24 : end].mean()) for end, days in zip(ends, DAYS_IN_MONTHS, strict=True)]


def coldest_month(climate: Climate) -> int:
    """Number of the month with the lowest mean temperature, 0 to 11."""
    return int(np.argmin(monthly(climate["temperature_c"])))


def of_coldest_month(values: Array, climate: Climate) -> float:
    """Mean of hourly values over the coldest month."""
    return monthly(values)[coldest_month(climate)]


@dataclass(frozen=True)
class SpaceYear:
    """One zone: monthly means, its coldest and dampest month, hours over 80 % and 95 % RH, most condensate on its roof or what ran off its panes [kg]."""

    id: str
    name: str
    celsius: list[float]
    rh: list[float]
    coldest_c: float
    warmest_c: float
    dampest: str
    over_80_h: float
    over_95_h: float
    condensed_kg: float
    ran_off_kg: float


@dataclass(frozen=True)
class Item:
    """One line of the balance [kWh a year], positive into the rooms. key: an element's, or "" """

    key: str
    name: str
    kwh: float


@dataclass(frozen=True)
class Balance:
    """A year of a building in one state. closure: gains, losses and needs against what is stored, over their turnover. latent_kwh: to dry the air while cooling.

    fresh_m3_h: of the heating season; needed_m3_h: for the people who live there; coldest_rh: of the rooms in the coldest month; pane_h: hours in which
    the coldest pane is wet; warm_h: above warm_c.
    """

    heating_kwh: float
    cooling_kwh: float
    latent_kwh: float
    heating_peak_w: float
    cooling_peak_w: float
    peak_day: str
    items: list[Item]
    closure: float
    water_closure: float
    zones: list[SpaceYear]
    warm_h: float
    warm_c: float
    fresh_m3_h: float
    fresh_monthly: list[float]
    needed_m3_h: float
    coldest_month: str
    coldest_rh: float
    pane_h: float
    vapour_kg_day: float
    heating_monthly_kwh: list[float]


def _day(hour: int) -> str:
    day = hour // 24
    for month, days in zip(MONTHS, DAYS_IN_MONTHS, strict=True):
        if day < days:
            return f"{day + 1} {month}"
        day -= days
    return ""


def balance(made: BuildingYear, climate: Climate, names: dict[str, str]) -> Balance:
    """names: of parts by their key."""
    year = made.year
    items = [
        Item(key, names.get(key, key), float(year.by_chain_w[index].sum()) / 1000.0)
        for index, key in enumerate(made.chain_keys)
        if key in names
    ]
    words = {"leaks": "air through leaks", "airing": "airing", "balanced": "the ventilation unit"}
    for index, key in enumerate(made.flow_keys):
        if key in words or key.endswith(":down"):
            where = (
                ""
                if key in words
                else next((n for i, n in zip(made.ids, made.names, strict=True) if key == f"{i}:down"), "")
            )
            kwh = float(year.by_flow_w[index].sum()) / 1000.0
            if abs(kwh) > 0.5:
                items.append(Item("", words.get(key, f"air drawn from the {where}"), kwh))
    items.append(Item("", "sun through glass", float(made.solar_w.sum()) / 1000.0))
    items.append(Item("", "people and appliances", float(made.inner_w.sum()) / 1000.0))
    cold = coldest_month(climate)
    rh = monthly(year.rh[HOUSE])
    fresh = made.fresh_m3_h()
    below = climate["temperature_c"] < 12.0
    zones = [_space(made, index) for index in range(len(made.ids))]
    stated = made.state.stated
    heat_months = [
        mean * days * 24 / 1000.0 for mean, days in zip(monthly(year.heating_w[HOUSE]), DAYS_IN_MONTHS, strict=True)
    ]
    return Balance(
        made.heating_kwh, made.cooling_kwh, made.latent_kwh, made.heating_peak_w, made.cooling_peak_w,
        _day(int(np.argmax(year.heating_w[HOUSE]))), items, year.heat_closure, year.water_closure, zones,
        float((year.celsius[HOUSE] > stated.use.warm_c).sum()), stated.use.warm_c, float(fresh[below].mean()) if below.any() else float(fresh.mean()), monthly(fresh),
        stated.use.people * FRESH_M3_H, MONTHS[cold], rh[cold], float((year.ran_off_kg[HOUSE] > 1e-6).sum()),
        _vapour(stated), heat_months,
    )  # fmt: skip


def _vapour(stated: AirStated) -> float:
    return sum(kg for _, kg in vapour_kg_day(stated.use))


def _space(made: BuildingYear, index: int) -> SpaceYear:
    year = made.year
    t, rh = year.celsius[index], year.rh[index]
    months = monthly(rh)
    return SpaceYear(
        made.ids[index], made.names[index], monthly(t), months, float(t.min()), float(t.max()), MONTHS[int(np.argmax(months))],
        float((rh > 0.8).sum()), float((rh > 0.95).sum()), float(year.condensed_kg[index].max()), float(year.ran_off_kg[index].sum()),
    )  # fmt: skip


def airing_within(state: State, climate: Climate, most_rh: float) -> tuple[float, BuildingYear]:
    """(least winter airing [m³/h], its year) that keeps the rooms' mean of the coldest month at or below an RH. Raises OutOfRange where none does."""
    cold = coldest_month(climate)

    def of(m3_h: float) -> tuple[float, BuildingYear]:
        made = building_year(with_airing(state, m3_h), climate)
        return monthly(made.year.rh[HOUSE])[cold], made

    low, high = 0.0, 50.0
    at_low, made = of(low)
    if at_low <= most_rh:
        return 0.0, made
    at_high, made = of(high)
    while at_high > most_rh:
        if high >= MOST_AIRING:
            raise OutOfRange(
                f"no airing up to {MOST_AIRING:g} m³/h brings {MONTHS[cold]} to {most_rh:.0%}: the air outside is too damp, or too much vapour is given off",
                "lower what gives off vapour",
            )
        low, high = high, min(high * 2.0, MOST_AIRING)
        at_high, made = of(high)
    while high - low > 1.0:
        middle = 0.5 * (low + high)
        at, now = of(middle)
        if at <= most_rh:
            high, made = middle, now
        else:
            low = middle
    return math.ceil(high), made


def flue_pressure_pa(state: State) -> float:
    """What the fans press the house down by in still air [Pa]: (fans / q50)^(1/n) × 50."""
    if state.ledger is None:
        return 0.0
    q50 = state.ledger.total_after if state.after else state.ledger.total_before
    fans = state.stated.ventilation.extract_m3_h + state.stated.ventilation.kitchen_fan_m3_h
    return float(50.0 * (fans / q50) ** (1.0 / 0.65)) if q50 > 0.0 else 1e6 if fans else 0.0


def brief_asks(brief: Brief, stated: AirStated) -> list[Said]:
    """What the Brief names and the air of the building does not have yet."""
    words = []
    appliances, fans = (_named(text) for text in (brief.appliances, brief.fans))
    if appliances and not stated.ventilation.open_flue:
        words.append(
            said(
                f"The Brief names “{appliances}”; none is stated with an open flue under Air. Tick it there if one draws its air from the rooms."
            )
        )
    air = stated.ventilation
    if fans and not (air.extract_m3_h or air.kitchen_fan_m3_h or air.balanced_m3_h):
        words.append(said(f"The Brief names “{fans}”; no fan is stated under Air."))
    return words


def _named(text: str) -> str:
    """What a field of the Brief names; nothing where it says that there is none."""
    words = text.strip()
    return "" if words.lower().rstrip(".") in ("none", "no", "nothing", "-", "–") else words


def taken_of_spaces(state: State) -> list[Said]:
    """What nobody stated of the cold spaces and their earth."""
    words = []
    damp = {one.space for one in state.damp}
    for space in state.spaces:
        if space.kind not in ("void", "cellar", "part") or not space.area("earth floor"):
            continue
        taken = []
        if state.stated.space(space.id).sheet is None:
            bare = space.kind == "void" or space.id in damp
            taken.append("bare earth, no sheet on it" if bare else "a slab or sheet on its earth")
        if space.id not in damp:
            taken.append("no ground water near its floor")
        if taken:
            words.append(said(f"{space.name}: {', '.join(taken)}."))
    return words


def _damp(found: State, then: State) -> Said:
    """Which evidence of wet ground is in the balance, and where."""
    names = {space.id: space.name for space in found.spaces} | {part.key: part.name for part in found.parts}
    seen: dict[str, list[str]] = {}
    for one in found.damp:
        said_of = seen.setdefault(names.get(one.space or one.part, "the rooms"), [])
        said_of += [one.seen] if one.seen not in said_of else []
    at = [f"{' and '.join(signs)} in {place}" for place, signs in seen.items()]
    gone = "; its water items are closed, so that it is not in the figures after" if not then.damp else ""
    listed = ", ".join(at)
    return said(
        f"{listed[0].upper()}{listed[1:]}: its ground is taken as wet and gives off vapour all year, an estimate{gone}."
    )


def warnings(before: Balance, after: Balance, found: State, then: State) -> list[Said]:
    """What the air after the works asks for. Local code and licensed practice rule."""
    words: list[Said] = [_damp(found, then)] if found.damp else []
    if after.needed_m3_h and after.fresh_m3_h < ENOUGH * after.needed_m3_h:
        words.append(
            say(
                "Too little fresh air in the heating season: {is_} of {need} for the people who live there. Airing or a unit has to bring the rest.",
                is_=air_flow(after.fresh_m3_h),
                need=air_flow(after.needed_m3_h),
            )  # fmt: skip
        )
    if then.stated.ventilation.open_flue:
        pressed = flue_pressure_pa(then), flue_pressure_pa(found)
        words.append(
            said(
                "An open-flued appliance draws its air from the rooms. "
                + (
                    f"The fans press them down by {pressed[0]:.1f} Pa after ({pressed[1]:.1f} Pa as found); {FLUE_PA:g} Pa is what such a flue commonly stands. "
                    if pressed[0] >= 0.05
                    else "No fan is stated that would press on it; a kitchen fan or a dryer does. "
                )
                + (
                    "It may spill its gases: room-sealed, or an air inlet of its own, before any sealing. "
                    if pressed[0] > FLUE_PA
                    else ""
                )
                + "Who is licensed for it decides, and tests it with every fan on."
            )
        )
    if then.stated.ventilation.radon and after.fresh_m3_h < 0.8 * before.fresh_m3_h:
        words.append(
            said(
                f"Radon: {1.0 - after.fresh_m3_h / before.fresh_m3_h:.0%} less air dilutes it. Measure for a season before and after; seal the floor first, "
                "vent what lies under it."
            )
        )
    if after.coldest_rh > before.coldest_rh + 0.05 and after.coldest_rh > DAMP_RH:
        panes = ""
        if before.pane_h > after.pane_h + 24.0:
            panes = (
                f" The old panes dried them: wet {before.pane_h:.0f} hours a year as found, {after.pane_h:.0f} after."
            )
        words.append(
            say(
                "The rooms get damper: {before} → {after} RH on average in {month}.{panes}",
                before=percent(before.coldest_rh),
                after=percent(after.coldest_rh),
                month=after.coldest_month,
                panes=panes,
            )  # fmt: skip
        )
    was = {zone.id: zone for zone in before.zones[1:]}
    cold = MONTHS.index(after.coldest_month)
    for zone in after.zones[1:]:
        old = was.get(zone.id)
        if old is None:
            continue
        pieces = []
        if zone.over_95_h > old.over_95_h + 24.0:
            pieces.append(f"{old.over_95_h:.0f} → {zone.over_95_h:.0f} hours over 95 % RH")
        if zone.condensed_kg > old.condensed_kg + 0.5:
            pieces.append(f"at most {old.condensed_kg:.1f} → {zone.condensed_kg:.1f} kg of water under its roof")
        if not pieces:
            continue
        colder = zone.celsius[cold] < old.celsius[cold] - 0.5
        first = (
            "a sheet on its earth first, and see whether its vents bring more than they take"
            if zone.id.endswith("/below")
            else "close what leads into it from the rooms first"
        )
        name = zone.name[0].upper() + zone.name[1:]
        words.append(
            said(
                f"{name} gets wetter: {', '.join(pieces)}. {'It is colder than it was: ' if colder else 'So '}{first}."
            )
        )
    return words
