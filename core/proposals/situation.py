"""What an element is and how it stands, as the flags that the rules of proposals ask for."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal, get_args

import numpy as np
from numpy.typing import NDArray

from core.buildup.anatomy import Anatomy
from core.buildup.make import LOW_SLOPE_DEG, Make, MakeKind
from core.buildup.model import FIBROUS, BuildUp, BuildUpLayer, Limits, Place, is_insulation
from core.buildup.room import room_air
from core.climate.data import monthly_means, shipped
from core.climate.rain import is_rain_face, yearly_driven_rain
from core.materials.library import AirLayer, Sheet, Solid
from core.moisture.gaps import both_ways, gap_sd
from core.physics.constants import ZERO_CELSIUS
from core.physics.moist_air import saturation_pressure
from core.thermal.iso13370 import GroundPlace

MASONRY: tuple[MakeKind, ...] = (
    "solid stone",
    "solid brick",
    "half-timbered",
    "concrete wall",
    "large panel",
    "cavity masonry",
)
Flag = Literal[
    "protected face", "no room outside", "no room above", "little room above", "no room inside", "no room inside for plaster",
    "outside may not be touched", "plaster is off", "rain face", "severe rain", "rain soaked", "humid room", "wet room", "not wet room", "inward drive", "inward all year", "heated now and then", "not cold room", "very cold",
    "cold ground", "wet ground", "dry ground", "standing water", "rising damp", "salts", "joist ends", "evidence of leaks",
    "unexplained evidence", "not ready", "tight outside", "tight deck, shaded", "metal outside", "no metal outside", "lapped on boards", "no underlay",
    "no deck", "solid deck", "inside is not touched", "people stay", "escape route", "still cavity", "moving cavity", "low slope", "bays full", "bays not full", "fill inside", "empty cavity", "no empty cavity", "insulated inside",
    "leaf before the frame", "half-timbered", "vented cladding", "wall of insulation",
]  # fmt: skip
Array = NDArray[np.float64]
LITTLE_OUTSIDE_MM, ROOM_MM, PLASTER_MM, LITTLE_ABOVE_MM = 40.0, 30.0, 20.0, 100.0
FACE_MM = 5.0  # a coat; a face that may grow by less may not change
SEVERE_RAIN_MM, SOAKING_RAIN_MM = 300.0, 200.0  # driven rain on the face in a year, with its factors; ours
SOAKS_FROM_A = 0.008  # kg/(m² s^0.5): 0.5 kg/(m²√h), above which rain goes in deep; ours
TIGHT_COAT_SD_M, TIGHT_SD_M = 2.0, 5.0
VERY_COLD_C, COLD_C = -20.0, -10.0
LINED_M, BODY_M = 0.02, 0.2
# Vapour of the rooms in the three coldest months above that of normal occupancy (EN 15026) [Pa]: humid, wet; ours, from the same
# standard's high occupancy (some 230 Pa above). Vapour outside above that of the rooms in the worst month.
HUMID_PA, WET_PA, INWARD_PA, INWARD_MONTHS = 200.0, 500.0, 150.0, 9
UNHEATED_K = 3.0  # below its set-point a room is not being heated to it
CALLED = {"hollow block": "hollow block wall", "earth wall": "earth wall"}
FLAGS: dict[Flag, str] = {
    "protected face": "it may not grow outside, by its own limit or the brief",
    "no room outside": "less than 40 mm outside to grow into",
    "no room above": "less than 40 mm above to grow into",
    "little room above": "less than 100 mm above to grow into",
    "no room inside": "less than 30 mm of the room to give",
    "no room inside for plaster": "less than 20 mm of the room to give",
    "outside may not be touched": "recorded for the element",
    "plaster is off": "recorded for the element",
    "rain face": "100 mm of driven rain a year or more, with its factors, and no cladding with moving air before it",
    "severe rain": "300 mm of driven rain a year or more, likewise",
    "rain soaked": "200 mm of driven rain a year or more on masonry that draws it, with nothing before it that sheds",
    "humid room": "in the three coldest months the rooms' air holds 200 Pa of vapour or more above that of normal occupancy (EN 15026)",
    "wet room": "the same, by 500 Pa or more: pools, wet rooms, laundries",
    "inward drive": "in some month the air outside holds 150 Pa of vapour or more above the rooms': cooled rooms in humid summers",
    "heated now and then": "3 K below its set-point, or more, for most of its three coldest months",
    "inward all year": "it does so at all in nine months or more: cold rooms",
    "solid deck": "a roof or floor that is a slab, a vault, planks or metal, with no members to fill between",
    "inside is not touched": "recorded for the element",
    "people stay": "somebody lives there during the works",
    "not wet room": "none of those",
    "not cold room": "vapour goes inward in fewer months",
    "escape route": "recorded for the element: nothing that burns lines it",
    "still cavity": "still air between two leaves, and none that moves",
    "moving cavity": "vented or drained air between two leaves",
    "very cold": "coldest 24 hours of -20 °C or below",
    "cold ground": "coldest 24 hours of -10 °C or below",
    "wet ground": "the ground against it is stated wet",
    "dry ground": "the ground against it is not stated wet",
    "standing water": "standing water was seen at it",
    "rising damp": "ground or rising water was confirmed, or a tide mark seen",
    "salts": "salts were confirmed, or efflorescence seen",
    "joist ends": "evidence at a joist end, or soft timber",
    "evidence of leaks": "rain or plumbing was confirmed as a cause, or rain gets in",
    "unexplained evidence": "evidence without a confirmed cause",
    "not ready": "its water items are open, or nobody looked",
    "tight outside": "a coat of sd 2 m or more on its face, or 5 m or more outboard of the bays",
    "tight deck, shaded": "the same, facing north or under gravel",
    "metal outside": "the outermost layer is metal",
    "no metal outside": "the outermost layer is none",
    "lapped on boards": "slates, tiles or shingles as its covering",
    "no underlay": "a lapped covering with no sheet under it",
    "no deck": "nothing solid under its covering",
    "low slope": "a slope below 10°",
    "bays full": "its bays hold insulation, and no still air",
    "bays not full": "its bays hold still air, or nothing is known in them",
    "fill inside": "fibrous insulation inside or between",
    "empty cavity": "still or vented air between two leaves",
    "no empty cavity": "no air between two leaves",
    "insulated inside": "20 mm of insulation or more inboard of its masonry",
    "leaf before the frame": "a leaf of brick or stone before a frame",
    "half-timbered": "masonry or earth between timbers",
    "vented cladding": "a cladding with moving air behind it",
    "wall of insulation": "straw or hemp-lime of 200 mm or more",
}
assert set(FLAGS) == set(get_args(Flag))


@dataclass(frozen=True)
class Stand:
    """What is known of an element beside its layers. causes: mechanisms confirmed; seen: kinds of evidence; parts: of what;
    ground: of a slab whose perimeter is known."""

    place: Place
    limits: Limits
    causes: frozenset[str] = frozenset()
    seen: frozenset[str] = frozenset()
    parts: frozenset[str] = frozenset()
    unexplained: bool = False
    ready: bool = True
    ground: GroundPlace | None = None
    outside_untouchable: bool = False
    plaster_off: bool = False
    inside_untouchable: bool = False
    people_stay: bool = False
    escape_route: bool = False


@dataclass(frozen=True)
class Situation:
    """The make of an element, its flags and the parts of its build-up."""

    make: MakeKind
    flags: frozenset[Flag]
    as_found: BuildUp
    stand: Stand
    anatomy: Anatomy

    @property
    def called(self) -> str:
        """The make in the words of who stands before it: what bears it, where the ways go by a wider make."""
        place = self.anatomy.masonry
        if self.make not in ("solid stone", "solid brick", "concrete wall") or place is None:
            body = max(self.as_found.layers, key=lambda layer: layer.thickness, default=None)
            return (
                "straw wall"
                if self.make == "frame with boards" and body and body.entry.family == "straw"
                else self.make
            )
        return CALLED.get(self.as_found.layers[place].entry.family, self.make)

    def holds(self, when: list[Flag]) -> bool:
        """All of these flags."""
        return set(when) <= self.flags


def situation(as_found: BuildUp, stand: Stand) -> Situation:
    """Make and flags of an element as found."""
    place = stand.place
    anatomy = Anatomy(as_found, place)
    rain = 0.0
    if place.kind == "wall" and place.adjoining == "outside":
        rain = yearly_driven_rain(place.climate, place.facing_deg, place.driven_rain)
    flags = {
        flag
        for flag, holds in [
            *_of_the_stand(stand, 0.0 if anatomy.vented_cladding else rain),
            *_of_the_air(place),
            *_of_the_layers(anatomy, rain),
        ]
        if holds
    }
    return Situation(Make(anatomy).kind, frozenset(flags), as_found, stand, anatomy)


def _of_the_air(place: Place) -> list[tuple[Flag, bool]]:
    """What the vapour of the hours says, inside against outside by month, whatever the room is called: a profile and a measured series
    of the same air are the same."""
    outside_c, outside_pa = (monthly_means(values) for values in _outside(place))
    inside_pa = _room_pa(place)
    usual_pa = _room_pa(place.model_copy(update={"occupancy": "normal"}))
    coldest = np.argsort(outside_c)[:3]
    above = float((inside_pa - usual_pa)[coldest].mean())
    inward = outside_pa - inside_pa
    return [
        ("humid room", above >= HUMID_PA),
        ("wet room", above >= WET_PA),
        ("not wet room", above < WET_PA),
        ("not cold room", bool((inward > 0.0).sum() < INWARD_MONTHS)),
        ("inward drive", float(inward.max()) >= INWARD_PA),
        ("heated now and then", _is_now_and_then(place)),
        ("inward all year", bool((inward > 0.0).sum() >= INWARD_MONTHS)),
    ]


def _of_the_stand(stand: Stand, rain: float) -> list[tuple[Flag, bool]]:
    place, limits = stand.place, stand.limits
    out = limits.outside_mm if limits.outside_mm is not None else 1e9
    room = limits.room_mm if limits.room_mm is not None else 1e9
    design = shipped(place.climate).design_temperature_c
    coldest = design if design is not None else 0.0
    return [
        ("protected face", out < FACE_MM),
        ("no room outside", out < LITTLE_OUTSIDE_MM),
        ("no room above", out < LITTLE_OUTSIDE_MM),
        ("little room above", out < LITTLE_ABOVE_MM),
        ("no room inside", room < ROOM_MM),
        ("no room inside for plaster", room < PLASTER_MM),
        ("outside may not be touched", stand.outside_untouchable),
        ("plaster is off", stand.plaster_off),
        ("inside is not touched", stand.inside_untouchable),
        ("people stay", stand.people_stay),
        ("escape route", stand.escape_route),
        ("rain face", is_rain_face(rain)),
        ("severe rain", rain >= SEVERE_RAIN_MM),
        ("very cold", coldest <= VERY_COLD_C),
        ("cold ground", coldest <= COLD_C),
        ("wet ground", place.ground == "wet"),
        ("dry ground", place.ground != "wet"),
        ("standing water", "standing_water" in stand.seen),
        ("rising damp", bool(stand.causes & {"ground"}) or "tide_mark" in stand.seen),
        ("salts", "salts" in stand.causes or "efflorescence" in stand.seen),
        ("joist ends", "joist end" in stand.parts or "soft_timber" in stand.seen),
        ("evidence of leaks", bool(stand.causes & {"rain", "runoff", "entry", "plumbing"})),
        ("unexplained evidence", stand.unexplained),
        ("not ready", not stand.ready),
        ("low slope", place.kind == "roof" and place.slope_deg < LOW_SLOPE_DEG),
    ]  # fmt: skip


def _sd(layer: BuildUpLayer) -> float:
    entry = layer.entry
    if isinstance(entry, Sheet):
        return entry.sd_most_open
    return entry.mu * layer.thickness if isinstance(entry, Solid) else 0.0


def _fills(layer: BuildUpLayer) -> bool:
    """Whether a layer is loose or fibrous fill."""
    entry = layer.entry
    return isinstance(entry, Solid) and entry.group == "insulation" and entry.family in (*FIBROUS, "straw")


def _outside(place: Place) -> tuple[Array, Array]:
    climate = shipped(place.climate)
    return climate["temperature_c"], climate.vapour_pressure


def _room_pa(place: Place) -> Array:
    """Monthly means of the rooms' vapour pressure [Pa], from the hours: of a profile as of a measured series."""
    inside_c, humidity = room_air(place)
    return monthly_means(humidity * saturation_pressure(inside_c + ZERO_CELSIUS))


def _is_now_and_then(place: Place) -> bool:
    """Whether the room is well below its set-point for most of the three coldest months, by its hours."""
    inside_c, _ = room_air(place)
    cold = monthly_means(np.asarray(inside_c < place.set_point_c - UNHEATED_K, float))
    return bool(np.sort(cold)[-3:].mean() > 0.5)


def _of_the_layers(anatomy: Anatomy, rain: float) -> list[tuple[Flag, bool]]:
    layers, place, make = anatomy.layers, anatomy.place, Make(anatomy).kind
    if not layers:
        return []
    solids = [layer for layer in layers if isinstance(layer.entry, Solid)]
    first = solids[0].entry if solids else None
    skin = layers[anatomy.skin] if anatomy.skin is not None else layers[0]
    empty, bearing = anatomy.bay, anatomy.masonry
    filled = any(_fills(layer) for layer in layers)
    full = empty is None and any(_fills(layer) or (is_insulation(layer) and layer.framing) for layer in layers)
    lined = bearing is not None and any(
        is_insulation(layer) and layer.thickness >= LINED_M for layer in layers[bearing + 1 :]
    )
    north = place.facing_deg >= 315.0 or place.facing_deg <= 45.0
    gravel = any(layer.material == "gravel" for layer in layers[:2])
    still = any(isinstance(layer.entry, AirLayer) and not layer.entry.drains for layer in anatomy.cavity)
    moving = any(isinstance(layer.entry, AirLayer) and layer.entry.drains for layer in anatomy.cavity)
    lets = min((layer.entry.rain_factor for layer in anatomy.coats if isinstance(layer.entry, Sheet)), default=1.0)
    draws = (
        isinstance(first, Solid)
        and (first.a_value_kg_m2s05 or 0.0) >= SOAKS_FROM_A
        and first.weather == "soaks and dries"
    )
    sheet_under = any(isinstance(layer.entry, Sheet) for layer in layers[1:3])
    lapped = isinstance(first, Solid) and first.lapped
    tight = is_tight_outside(anatomy)
    metal = skin.entry.family == "metal sheet"
    return [
        ("rain soaked", draws and lets >= 0.5 and rain >= SOAKING_RAIN_MM and make in MASONRY),
        ("tight outside", tight),
        ("tight deck, shaded", tight and (gravel or (north and place.slope_deg >= LOW_SLOPE_DEG))),
        ("metal outside", metal),
        ("no metal outside", not metal),
        ("lapped on boards", lapped),
        ("no underlay", lapped and place.kind == "roof" and not sheet_under),
        ("no deck", make in ("rafter roof", "metal roof") and not any(isinstance(layer.entry, Solid) and layer.entry.timber for layer in layers[: (empty or 0) + 1])),
        ("solid deck", anatomy.solid_deck),
        ("bays full", full),
        ("bays not full", not full),
        ("fill inside", filled),
        ("empty cavity", still or moving),
        ("still cavity", still and not moving),
        ("moving cavity", moving),
        ("no empty cavity", not (still or moving)),
        ("insulated inside", lined),
        ("half-timbered", make == "half-timbered"),
        ("vented cladding", anatomy.vented_cladding),
        ("wall of insulation", any(layer.entry.family in ("straw", "mineral insulation") and layer.thickness >= BODY_M for layer in layers)),
        ("leaf before the frame", make in ("frame with boards", "steel frame") and any(anatomy.is_leaf(index) for index in range(len(layers)))),
    ]  # fmt: skip


def is_tight_outside(anatomy: Anatomy) -> bool:
    """Whether what lies outside of what could be filled or lined lets next to no vapour out: a coat, tight boards, metal or a sheet, before
    a gap too that vents too little (`core.moisture.gaps`)."""
    layers, place = anatomy.layers, anatomy.place
    coats = [layer for layer in anatomy.coats if isinstance(layer.entry, Sheet) and layer.entry.kind == "coating"]
    if sum(_sd(layer) for layer in coats) >= TIGHT_COAT_SD_M:
        return True
    light = Make(anatomy).kind in (
        "frame with boards",
        "bare cladding",
        "rafter roof",
        "flat roof",
        "metal roof",
        "planted roof",
        "steel frame",
        "knee wall",
    )
    if not light:
        return False
    end = (
        anatomy.bay
        if anatomy.bay is not None
        else next((i for i, o in enumerate(layers) if _fills(o) or is_insulation(o)), anatomy.lining_from)
    )
    way = 0.0
    for layer in layers[:end]:
        entry = layer.entry
        if isinstance(entry, AirLayer) and entry.drains:
            way = both_ways(way, gap_sd(layer, place))
        elif not is_insulation(layer) and entry.group != "masonry":
            way += _sd(layer)
    return way >= TIGHT_SD_M
