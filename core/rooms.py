"""Rooms of a building: heat load of each after EN 12831-1, as far as it is certain, and which of them get too little fresh air.

A room names the areas of elements that bound it. What no room names is listed, and what is not in the load is said: inner walls between rooms of
different temperature, joints, reheat, a margin. The standard's text is not at hand; factors as commonly printed.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Annotated, Literal

import numpy as np
from pydantic import Field, model_validator
from shapely import Polygon

from core.air_flow.leaks import AirYear
from core.case import Strict
from core.climate.data import Climate
from core.physics.constants import AIR_DENSITY, AIR_WH_M3K
from core.say import Said, air_flow, area, join, said, say
from core.survey.geometry import HEADROOM_M, Building, Derived
from core.survey.planes import area_with_headroom, edges_of, outline_of, roof_planes
from core.survey.shape import Body, Shape
from core.thermal.iso6946 import transmittance
from core.zones.assemble import FRAME_SHARE, GLASS_G, Part, State, ground_heat, sol_air_c, window_sun
from core.zones.factors import part_u, space_losses
from core.zones.stated import FRESH_M3_H, PERSON_W, RoomAir

RoomUse = Literal["living", "bedroom", "kitchen", "bath", "toilet", "hall", "store", "work", "other"]
LEAST_CHANGES = 0.5  # 1/h of a room that people stay in, hygienic minimum as commonly printed
STAYED_IN: frozenset[RoomUse] = frozenset({"living", "bedroom", "kitchen", "bath", "work"})
GROUND_SWING = 1.45  # f_θ,ann: what the yearly wave adds to the mean
BATH_C = 24.0
# m³/h while it is used: EN 16798-1, middle class (kitchen 20 l/s, bath 15, toilet 10), as remembered.
EXTRACT_M3_H: dict[RoomUse, float] = {"kitchen": 72.0, "bath": 54.0, "toilet": 36.0}
LEAST_FLOOR_M2 = 2.0
NEAR = 0.02  # of an element's area: closer than that nobody measures it
ENOUGH = 0.9


class RoomFace(Strict):
    """What of an element bounds a room: its key in the ledger, the area inside [m²]."""

    key: Annotated[str, Field(min_length=1, max_length=130)]
    area_m2: Annotated[float, Field(gt=0, le=1e4)]


class RoomStated(Strict):
    """level_m: of its floor above the shape's zero, None where the air through a tall wall is taken as its mean; set_c: None for the usual one; people: who stay there at once; leaks: rows of the ledger that are no element and open into it."""

    id: Annotated[str, Field(min_length=1, max_length=40, pattern="^[a-z0-9_-]+$")]
    name: Annotated[str, Field(min_length=1, max_length=80)]
    use: RoomUse = "other"
    floor_m2: Annotated[float, Field(gt=0, le=1e4)]
    height_m: Annotated[float, Field(gt=0.5, le=30)] = 2.5
    level_m: Annotated[float, Field(ge=-30, le=150)] | None = None
    set_c: Annotated[float, Field(ge=5, le=30)] | None = None
    people: Annotated[float, Field(ge=0, le=500)] = 0.0
    stands: Literal["both", "before", "after"] = "both"
    faces: Annotated[list[RoomFace], Field(max_length=60)] = []
    leaks: Annotated[list[Annotated[str, Field(max_length=130)]], Field(max_length=20)] = []

    @property
    def volume_m3(self) -> float:
        return self.floor_m2 * self.height_m


class Rooms(Strict):
    """design_c: outside, where the local annex says another than the climate's coldest day."""

    rooms: Annotated[list[RoomStated], Field(max_length=120)] = []
    design_c: Annotated[float, Field(ge=-60, le=20)] | None = None

    @model_validator(mode="after")
    def _once(self) -> Rooms:
        ids = [room.id for room in self.rooms]
        if len(set(ids)) != len(ids):
            raise ValueError("two rooms share one id")
        for room in self.rooms:
            keys = [face.key for face in room.faces]
            if len(set(keys)) != len(keys):
                raise ValueError(f"“{room.name}” names one element twice")
        return self


@dataclass(frozen=True)
class RoomFaceLoss:
    """One face at the design hour [W]: area, U, and the temperature difference that counts, with its words."""

    key: str
    name: str
    area_m2: float
    u_w_m2k: float
    kelvin: float
    watts: float
    words: Said


@dataclass(frozen=True)
class RoomLoad:
    """One room in one state. leaks_in, leaks_out: of the heating season [m³/h]; cold_in: of the coldest day; fresh: leaks, airing, supply; needed: for
    its people. lacking: what is wrong with its air, and what is not known of its load. cooling_w: most that cooling takes out in an hour of the year, nothing
    stored; None where it is not cooled."""

    id: str
    name: str
    set_c: float
    faces: list[RoomFaceLoss]
    through_w: float
    air_m3_h: float
    air_words: Said
    air_w: float
    leaks_in: float
    leaks_out: float
    cold_in: float
    fresh_m3_h: float
    needed_m3_h: float
    lacking: list[Said]
    unknown: list[Said]
    watts: float
    cooling_w: float | None = None


@dataclass(frozen=True)
class Unroomed:
    """What of an element no room names [m²], negative where rooms name more than there is; the load it stands for [W]."""

    key: str
    name: str
    area_m2: float
    of_m2: float
    watts: float


@dataclass(frozen=True)
class RoomLoads:
    rooms: list[RoomLoad]
    left: list[Unroomed]
    design_c: float
    mean_c: float
    supplied_m3_h: float
    unit_m3_h: float
    watts: float


def set_point(room: RoomStated, usual_c: float) -> float:
    return room.set_c if room.set_c is not None else BATH_C if room.use == "bath" else usual_c


def coldest_day(climate: Climate) -> slice:
    """The 24 hours with the lowest mean, midnight to midnight."""
    days = climate["temperature_c"].reshape(-1, 24).mean(axis=1)
    first = int(np.argmin(days)) * 24
    return slice(first, first + 24)


def room_loads(
    stated: Rooms, state: State, climate: Climate, year: AirYear | None, before_m2: Mapping[str, float], here: Mapping[str, str],
    elsewhere: frozenset[str] = frozenset(),
) -> RoomLoads:  # fmt: skip
    """Of a state. before_m2: areas of elements as found, by key: what a room has of one goes with the shape. here: names of the elements of the line in
    this state; elsewhere: keys that are of the other state only."""
    design = stated.design_c if stated.design_c is not None else climate.design_temperature_c
    mean = float(climate["temperature_c"].mean())
    maker = _Maker(state, design, mean, climate, year, here, elsewhere)
    of = {air.id: air for air in state.stated.rooms}
    stand = [room for room in stated.rooms if room.stands != ("before" if state.after else "after")]
    floors = sum(room.floor_m2 for room in stand)
    rooms, used = [], dict.fromkeys(maker.parts, 0.0)
    for room in stand:
        faces = {}
        for face in room.faces:
            part = maker.parts.get(face.key)
            if part is None:
                faces[face.key] = face.area_m2
                continue
            was = before_m2.get(face.key, part.area_m2)
            faces[face.key] = face.area_m2 * (part.area_m2 / was if was > 0.0 else 1.0)
            used[face.key] += faces[face.key]
        air = of.get(room.id, RoomAir(id=room.id))
        airing = air.airing_m3_h
        if airing is None:
            airing = state.stated.ventilation.airing_m3_h * room.floor_m2 / floors
        rooms.append(maker.room(room, faces, air, airing))
    left = []
    for key, part in maker.parts.items():
        rest = part.area_m2 - used[key]
        if abs(rest) > NEAR * part.area_m2:
            loss = maker.face(key, rest, state.heat_to_c)
            left.append(Unroomed(key, part.name, rest, part.area_m2, loss.watts if loss is not None else 0.0))
    supplied = sum(of[room.id].supply_m3_h for room in stated.rooms if room.id in of)
    watts = sum(room.watts for room in rooms)
    return RoomLoads(rooms, left, design, mean, supplied, state.stated.ventilation.balanced_m3_h, watts)


class _Maker:
    def __init__(
        self, state: State, design_c: float, mean_c: float, climate: Climate, year: AirYear | None, here: Mapping[str, str],
        elsewhere: frozenset[str],
    ) -> None:  # fmt: skip
        self.state, self.design, self.mean, self.here, self.elsewhere = state, design_c, mean_c, here, elsewhere
        self.parts: dict[str, Part] = {part.key: part for part in state.parts}
        self.spaces = space_losses(state)
        self.year, self.climate = year, climate
        self.season, self.cold = climate["temperature_c"] < 12.0, coldest_day(climate)
        if not self.season.any():
            self.season = np.ones(climate.hours, bool)

    def through(self, key: str, room: RoomStated) -> tuple[float, float, float] | None:
        """(in and out of the season, in on the coldest day) [m³/h] of a whole leak, if all of it lay at the height of this room; None without one."""
        if self.year is None:
            return None
        heights = [leak.height_m for leak in self.year.leaks if leak.key == key]
        if not heights:
            return None
        parts = self.year.parts_of(key) / AIR_DENSITY
        mine = list(range(len(heights)))
        if room.level_m is not None:
            low, high = room.level_m - 0.1, room.level_m + room.height_m + 0.1
            middle = 0.5 * (low + high)
            mine = [at for at in mine if low <= heights[at] <= high] or [
                min(mine, key=lambda at: abs(heights[at] - middle))
            ]
        flow = parts[mine] * (len(heights) / len(mine))
        mild = flow[:, self.season]
        return (
            float(np.maximum(mild, 0.0).sum(axis=0).mean()), float(np.maximum(-mild, 0.0).sum(axis=0).mean()),
            float(np.maximum(flow[:, self.cold], 0.0).sum(axis=0).mean()),
        )  # fmt: skip

    def face(self, key: str, area_m2: float, inside_c: float) -> RoomFaceLoss | None:
        part = self.parts.get(key)
        if part is None:
            return None
        kelvin = inside_c - self.design
        if part.build_up is not None and part.ground is not None:
            heat = ground_heat(part, transmittance(part.build_up, part.kind))
            if heat is not None:
                u = heat.steady / part.area_m2
                kelvin = GROUND_SWING * (inside_c - self.mean)
                words = said(f"U to the outside by ISO 13370; {GROUND_SWING:g} × the difference to the year's mean")
                return RoomFaceLoss(key, part.name, area_m2, u, kelvin, area_m2 * u * kelvin, words)
        u_own = part_u(part)
        if u_own is None:
            return None
        b, words = 1.0, said("to the outside air")
        if part.side in self.spaces:
            b = self.spaces[part.side].b
            words = said(f"to the {self.spaces[part.side].name}, b {b:.2f}")
        elif part.b is not None and part.b != 1.0:
            b, words = part.b, said(f"a constant factor b of {part.b:g}")
        return RoomFaceLoss(key, part.name, area_m2, u_own, kelvin * b, area_m2 * u_own * kelvin * b, words)

    def room(self, room: RoomStated, faces: dict[str, float], air: RoomAir, airing: float) -> RoomLoad:
        state = self.state
        inside = set_point(room, state.heat_to_c)
        losses, unknown = [], []
        for key, size in faces.items():
            loss = self.face(key, size, inside)
            if loss is not None:
                losses.append(loss)
            elif key in self.here:
                unknown.append(said(f"{self.here[key]}: its U is not known"))
            elif key not in self.elsewhere:
                unknown.append(said(f"“{key}” is not there any more: name what bounds it now"))
        into = out = cold = 0.0
        for key, size in [*faces.items(), *((key, 0.0) for key in room.leaks)]:
            found = self.through(key, room)
            if found is None:
                continue
            part = self.parts.get(key)
            share = 1.0 if part is None else min(size / part.area_m2, 1.0)
            if part is not None and part.side in self.spaces:
                out += share * found[1]  # air out of a cold space is no fresh air
                cold += share * found[2]
                continue
            into, out, cold = into + share * found[0], out + share * found[1], cold + share * found[2]
        recovered = state.stated.ventilation.heat_recovered
        ventilation = cold + airing + air.supply_m3_h * (1.0 - recovered)
        least = LEAST_CHANGES * room.volume_m3 if room.use in STAYED_IN else 0.0
        supplied = air.supply_m3_h * recovered  # what arrives warm counts for the minimum
        taken = max(ventilation, least - supplied)
        words = (
            say("the hygienic minimum, {n} changes an hour: leaks and airing bring {is_}", n=f"{LEAST_CHANGES:g}", is_=air_flow(ventilation))
            if taken > ventilation
            else say("leaks of the coldest day {leaks}, airing {airing}, supply {supply}", leaks=air_flow(cold), airing=air_flow(airing), supply=air_flow(air.supply_m3_h))
        )  # fmt: skip
        if self.year is None:
            unknown.append(said("there is no leak ledger: air by the hygienic minimum and what is stated"))
        fresh = into + airing + air.supply_m3_h
        needed = room.people * FRESH_M3_H
        through = sum(loss.watts for loss in losses)
        warming = AIR_WH_M3K * taken * (inside - self.design)
        return RoomLoad(
            room.id, room.name, inside, losses, through, taken, words,
            warming, into, out, cold, fresh, needed, self._lacking(room, air, into, out, fresh, needed), unknown, through + warming,
            self.cooling(room, faces, into + airing + air.supply_m3_h * (1.0 - recovered)),
        )  # fmt: skip

    def cooling(self, room: RoomStated, faces: dict[str, float], outside_m3_h: float) -> float | None:
        """Most in an hour: sun through its windows, what comes through its faces (of opaque ones a day's mean of sun and air), outside air, people,
        appliances. Nothing is stored, so that it is above what the building takes at once."""
        use = self.state.stated.use
        if use.cool_to_c is None:
            return None
        climate = self.climate
        warmer = climate["temperature_c"] - use.cool_to_c
        total = np.full(climate.hours, room.people * PERSON_W + use.appliances_w_m2 * room.floor_m2)
        for key, size in faces.items():
            part = self.parts.get(key)
            if part is None or part.side == "ground":
                continue
            u = part_u(part) or 0.0
            if part.build_up is None:
                gain = (1.0 - FRAME_SHARE) * (part.g_value or 0.0) * GLASS_G * part.sun
                total += size * (
                    (gain * window_sun(climate, part) if part.side == "outside" and gain else 0.0) + u * warmer
                )
                continue
            outer = climate["temperature_c"]
            if part.side == "outside":
                outer = sol_air_c(climate, part.facing_deg, part.slope_deg, part.absorptance)
            days = np.repeat(outer.reshape(-1, 24).mean(axis=1), 24)
            b = self.spaces[part.side].b if part.side in self.spaces else 1.0
            total += size * u * b * (days - use.cool_to_c)
        total += AIR_WH_M3K * outside_m3_h * warmer
        return max(float(total.max()), 0.0)

    def _lacking(
        self, room: RoomStated, air: RoomAir, into: float, out: float, fresh: float, needed: float
    ) -> list[Said]:
        words: list[Said] = []
        if needed > 0.0 and fresh < ENOUGH * needed:
            why = said("")
            if self.year is not None and out > into:
                why = said(": its leaks let used air out more than fresh air in")
            words.append(
                say("{is_} of fresh air, {need} needed{why}", is_=air_flow(fresh), need=air_flow(needed), why=why)
            )
        wanted = EXTRACT_M3_H.get(room.use, 0.0)
        if wanted > 0.0 and air.extract_m3_h < ENOUGH * wanted:
            what = {"kitchen": "vapour of cooking", "bath": "vapour of washing", "toilet": "its air"}[room.use]
            have = (
                say("{has} taken out", has=air_flow(air.extract_m3_h))
                if air.extract_m3_h > 0.0
                else said("nothing takes it out")
            )
            words.append(
                say("{what}: {have}, {need} usual while it is used", what=what, have=have, need=air_flow(wanted))
            )
        return words


# --- a first proposal -----------------------------------------------------------------------------


def proposed(shape: Shape, geometry: Building) -> list[RoomStated]:
    """One room for each storey of each heated part, its walls by the share of its height: to be named, split and corrected."""
    found: list[RoomStated] = []
    for body in (one for one in shape.bodies if one.heated):
        levels = _levels(shape, body)
        level = body.level_m - (body.below_height_m if levels[0][0] == "cellar" else 0.0)
        for number, (_, name, height, floor) in enumerate(levels):
            faces: list[RoomFace] = []
            for entry in (one for one in geometry.elements if one.body == body.id):
                share = _share(shape, body, entry, number, levels)
                if share > 0.0 and entry.net_area_m2 * share > 0.005:
                    faces.append(RoomFace(key=entry.key, area_m2=round(entry.net_area_m2 * share, 2)))
            found.append(
                RoomStated(
                    id=f"{body.id}-{number}"[:40].lower(),
                    name=f"{body.name}, {name}"[:80],
                    use="other",
                    level_m=round(level, 2),
                    floor_m2=round(max(floor, 0.1), 1),
                    height_m=round(max(height, 0.6), 2),
                    faces=faces,
                )  # fmt: skip
            )
            level += height
    return found


_Level = tuple[str, str, float, float]


def _levels(shape: Shape, body: Body) -> list[_Level]:
    """(kind, name, height, floor) of what can be stood in, from the bottom."""
    outline = outline_of(shape, body, shape.areas)
    plan = Polygon(outline).area
    levels: list[_Level] = []
    if body.below == "heated_cellar" and body.below_height_m >= HEADROOM_M:
        levels.append(("cellar", "cellar", body.below_height_m, plan))
    levels += [("storey", storey.name, storey.height_m, plan) for storey in body.storeys]
    if body.roof.room and body.roof.form != "flat":
        planes = roof_planes(body, outline)
        floor = area_with_headroom(planes, outline, body.eaves_m, HEADROOM_M)
        if floor > LEAST_FLOOR_M2:  # else the roof is over the room below
            levels.append(("attic", "attic", 2.2, floor))
    return levels


def _share(shape: Shape, body: Body, entry: Derived, number: int, levels: list[_Level]) -> float:
    """Which share of an element bounds a level."""
    first, top = next(at for at, one in enumerate(levels) if one[0] == "storey"), len(levels) - 1
    opening = next((one for one in shape.openings if entry.key == f"opening/{one.id}"), None)
    if opening is not None:
        return float(number == (top if opening.in_roof else min(first + opening.storey, top)))
    if "/cellar/" in entry.key or entry.kind == "floor":
        return float(number == 0)
    if entry.kind == "roof":
        return float(number == top)
    pieces = entry.key.split("/")
    begins = int(pieces[2]) if len(pieces) >= 3 and pieces[2].isdigit() else 0
    ends = min((at for at in _cuts(body) if at > begins), default=len(body.storeys))
    run = range(first + begins, first + ends)
    heights = sum(levels[at][2] for at in run)
    gable = 0.0
    if levels[top][0] == "attic" and ends == len(body.storeys):
        edge = next(one for one in edges_of(outline_of(shape, body, shape.areas)) if one.letter == entry.face)
        gable = max(1.0 - edge.length * heights / entry.gross_area_m2, 0.0)
        if number == top:
            return gable if gable > 0.01 else 0.0
    return (1.0 - gable) * levels[number][2] / heights if number in run else 0.0


def _cuts(body: Body) -> list[int]:
    return [0, *(at for at, storey in enumerate(body.storeys) if at and storey.own_walls)]


def words_of_left(left: Unroomed) -> Said:
    """What no room has, or rooms have twice."""
    if left.area_m2 < 0.0:
        return say("{name}: rooms name {over} more than there is", name=left.name, over=area(-left.area_m2))
    return join(
        [left.name, said(": "), say("{rest} of {all} in no room", rest=area(left.area_m2), all=area(left.of_m2))], ""
    )
