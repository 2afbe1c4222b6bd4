"""What an element is and how it stands, as the flags that the rules of proposals ask for."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal, get_args

from core.buildup.model import FIBROUS, LOAD_BEARING_M, BuildUp, BuildUpLayer, Limits, Place, is_insulation
from core.climate.data import shipped
from core.climate.rain import is_rain_face, yearly_driven_rain
from core.materials.library import AirLayer, Sheet, Solid
from core.readiness.make import made_of
from core.thermal.iso13370 import GroundPlace

MakeKind = Literal[
    "not stated", "solid stone", "solid brick", "concrete wall", "cavity masonry", "log", "bare cladding", "frame with boards",
    "steel frame", "cellar wall", "knee wall", "rafter roof", "flat roof", "ceiling under attic", "floor over void",
    "floor over open air", "slab", "half-timbered",
]  # fmt: skip
MASONRY: tuple[MakeKind, ...] = ("solid stone", "solid brick", "half-timbered", "concrete wall", "cavity masonry")
Flag = Literal[
    "protected face", "no room outside", "no room above", "little room above", "no room inside", "no room inside for plaster",
    "outside may not be touched", "plaster is off", "rain face", "severe rain", "rain soaked", "humid room", "cooled, humid summer", "very cold",
    "cold ground", "wet ground", "dry ground", "standing water", "rising damp", "salts", "joist ends", "evidence of leaks",
    "unexplained evidence", "not ready", "tight outside", "tight deck, shaded", "metal outside", "no metal outside", "lapped on boards", "thatch", "no underlay",
    "no deck", "low slope", "bays full", "bays not full", "fill inside", "empty cavity", "no empty cavity", "insulated inside",
    "leaf before the frame", "half-timbered", "vented cladding", "wall of insulation",
]  # fmt: skip
LITTLE_OUTSIDE_MM, ROOM_MM, PLASTER_MM, LITTLE_ABOVE_MM = 40.0, 30.0, 20.0, 100.0
FACE_MM = 5.0  # a coat; a face that may grow by less may not change
SEVERE_RAIN_MM, SOAKING_RAIN_MM = 300.0, 200.0  # driven rain on the face in a year, with its factors; ours
SOAKS_FROM_A = 0.008  # kg/(m² s^0.5): 0.5 kg/(m²√h), above which rain goes in deep; ours
TIGHT_COAT_SD_M, TIGHT_SD_M = 2.0, 5.0
VERY_COLD_C, COLD_C = -20.0, -10.0
LOW_SLOPE_DEG = 10.0
LINED_M, BODY_M = 0.02, 0.2
INFILL = ("stone", "brick", "hollow block", "concrete", "earth wall", "soil", "mortar and plaster")
HUMID = ("high", "bath", "kitchen", "iso13788_4", "iso13788_5")
CALLED = {"hollow block": "hollow block wall", "earth wall": "earth wall"}
FLAGS: dict[Flag, str] = {
    "protected face": "it may not grow outside, by its own limit or the brief",
    "no room outside": "less than 40 mm outside to grow into",
    "no room above": "less than 40 mm above to grow into",
    "little room above": "less than 100 mm above to grow into",
    "no room inside": "less than 30 mm of the room to give",
    "no room inside for plaster": "less than 20 mm of the room to give",
    "outside may not be touched": "so said of the element",
    "plaster is off": "so said of the element",
    "rain face": "100 mm of driven rain a year or more, with its factors, and no cladding with moving air before it",
    "severe rain": "300 mm of driven rain a year or more, likewise",
    "rain soaked": "200 mm of driven rain a year or more on masonry that draws it, with nothing before it that sheds",
    "humid room": "high occupancy, bath, kitchen, or class 4 and 5 of ISO 13788",
    "cooled, humid summer": "the rooms are cooled in summer",
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
    "thatch": "reed or straw as its covering",
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


@dataclass(frozen=True)
class Situation:
    """The make of an element, its flags and the parts of its build-up."""

    make: MakeKind
    flags: frozenset[Flag]
    as_found: BuildUp
    stand: Stand

    @property
    def called(self) -> str:
        """The make in the words of who stands before it: what bears it, where the ways go by a wider make."""
        place = self.as_found.masonry
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
    make = make_of(as_found, place)
    rain = 0.0
    if place.kind == "wall" and place.adjoining == "outside":
        rain = yearly_driven_rain(place.climate, place.facing_deg, place.driven_rain)
    flags = {
        flag
        for flag, holds in [
            *_of_the_stand(stand, 0.0 if vented_cladding(as_found) else rain),
            *_of_the_layers(as_found, place, make, rain),
        ]
        if holds
    }
    return Situation(make, frozenset(flags), as_found, stand)


def make_of(as_found: BuildUp, place: Place) -> MakeKind:
    """What kind of wall, roof or floor it is, as the ways name them."""
    if not as_found.is_stated:
        return "not stated"
    if place.kind == "floor":
        found: dict[str, MakeKind] = {"ground": "slab", "unheated": "floor over void", "outside": "floor over open air"}
        return found[place.adjoining]
    if place.kind == "roof":
        if place.adjoining == "unheated":
            return "ceiling under attic"
        return "flat roof" if place.slope_deg < LOW_SLOPE_DEG else "rafter roof"
    return _wall(as_found, place)


def _wall(as_found: BuildUp, place: Place) -> MakeKind:
    made, cladding, _ = made_of(as_found)
    if place.adjoining == "ground":
        return "cellar wall"
    if place.adjoining == "unheated" and made == "frame":
        return "knee wall"
    solids = [layer for layer in as_found.layers if isinstance(layer.entry, Solid)]
    steel = any(layer.entry.family == "metal sheet" and layer.material != "glass" for layer in solids)
    panel = any(layer.material == "concrete_precast" for layer in solids)
    if panel or (made == "metal") or (steel and made == "not stated"):
        return "steel frame"
    if made == "log":
        return "log"
    if half_timber(as_found) is not None:
        return "half-timbered"
    if len(leaves(as_found)) >= 2:
        return "cavity masonry"
    if made in ("masonry", "concrete"):
        bearing = next(
            layer for layer in as_found.layers if layer.entry.group == "masonry" and layer.thickness >= LOAD_BEARING_M
        )
        family = bearing.entry.family
        if family in ("brick", "hollow block"):
            return "solid brick"
        return "concrete wall" if family == "concrete" else "solid stone"
    inboard = [
        layer for layer in as_found.layers[as_found.weather_side or 1 :] if not isinstance(layer.entry, AirLayer)
    ]
    bare = len(solids) == 1 and isinstance(solids[0].entry, Solid) and solids[0].entry.lapped
    return "bare cladding" if bare or (cladding == "boards" and not inboard) else "frame with boards"


def half_timber(as_found: BuildUp) -> int | None:
    """Place of masonry or earth between timbers, None without."""
    for index, layer in enumerate(as_found.layers):
        framing = layer.framing
        if framing is not None and layer.thickness >= LOAD_BEARING_M and layer.entry.family in INFILL:
            return index
    return None


def leaves(as_found: BuildUp) -> list[int]:
    """Places of leaves of masonry (80 mm or more) with air or insulation between them; one or none without."""
    found: list[int] = []
    apart = False
    for index, layer in enumerate(as_found.layers):
        if isinstance(layer.entry, AirLayer) or is_insulation(layer):
            apart = True
        elif isinstance(layer.entry, Solid) and layer.entry.group == "masonry" and layer.thickness >= LOAD_BEARING_M:
            if found and not apart:
                found[-1] = index
            else:
                found.append(index)
            apart = False
    return found


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
        ("rain face", is_rain_face(rain)),
        ("severe rain", rain >= SEVERE_RAIN_MM),
        ("humid room", place.occupancy in HUMID),
        ("cooled, humid summer", place.occupancy == "cooled"),
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


def covering(as_found: BuildUp) -> int:
    """How many of the outer layers are covering, cladding and its gap, and sheets under them."""
    count = 0
    for index, layer in enumerate(as_found.layers):
        entry = layer.entry
        sheds = isinstance(entry, Solid) and (entry.lapped or entry.family == "metal sheet")
        behind = index > 0 and isinstance(entry, Sheet | AirLayer) and not _is_bay(as_found, index)
        if not (sheds or behind):
            break
        count = index + 1
    return max(count, as_found.weather_side)


def vented_cladding(as_found: BuildUp) -> bool:
    """Whether what stands before the wall has moving air behind it."""
    return any(
        isinstance(layer.entry, AirLayer) and layer.entry.drains for layer in as_found.layers[: as_found.weather_side]
    )


def _is_bay(as_found: BuildUp, index: int) -> bool:
    """Whether an air layer is the space between members: framed, or still."""
    layer = as_found.layers[index]
    return isinstance(layer.entry, AirLayer) and (layer.framing is not None or not layer.entry.drains)


def bay(as_found: BuildUp) -> int | None:
    """Place of the empty bay: still air between members, else the thickest still air of 40 mm or more."""
    found = [index for index in range(len(as_found.layers)) if _is_bay(as_found, index)]
    framed = [index for index in found if as_found.layers[index].framing is not None]
    wide = [index for index in found if as_found.layers[index].thickness >= 0.04]
    return framed[0] if framed else max(wide, key=lambda index: as_found.layers[index].thickness, default=None)


def _of_the_layers(as_found: BuildUp, place: Place, make: MakeKind, rain: float) -> list[tuple[Flag, bool]]:
    if not as_found.is_stated:
        return []
    layers = as_found.layers
    outer = layers[0]
    solids = [layer for layer in layers if isinstance(layer.entry, Solid)]
    first = solids[0].entry if solids else None
    coats = []
    for layer in layers:
        if not isinstance(layer.entry, Sheet):
            break
        coats.append(layer)
    cover = covering(as_found)
    empty = bay(as_found)
    filled = any(_fills(layer) for layer in layers)
    full = empty is None and any(_fills(layer) or (is_insulation(layer) and layer.framing) for layer in layers)
    bearing = as_found.masonry
    lined = bearing is not None and any(
        is_insulation(layer) and layer.thickness >= LINED_M for layer in layers[bearing + 1 :]
    )
    light = make in ("frame with boards", "rafter roof", "flat roof", "steel frame", "knee wall")
    outboard = layers[cover if light and make != "flat roof" else 0 : empty if empty is not None else len(layers)]
    behind = sum(
        _sd(layer) for layer in outboard if light and not is_insulation(layer) and layer.entry.group != "masonry"
    )
    tight = sum(_sd(layer) for layer in coats) >= TIGHT_COAT_SD_M or behind >= TIGHT_SD_M
    north = place.facing_deg >= 315.0 or place.facing_deg <= 45.0
    gravel = any(layer.material == "gravel" for layer in layers[:2])
    two = leaves(as_found)
    between = layers[two[0] + 1 : two[1]] if len(two) >= 2 else []
    air_between = any(isinstance(layer.entry, AirLayer) for layer in between)
    lets = min((layer.entry.rain_factor for layer in coats if isinstance(layer.entry, Sheet)), default=1.0)
    draws = (
        isinstance(first, Solid)
        and (first.a_value_kg_m2s05 or 0.0) >= SOAKS_FROM_A
        and first.weather == "soaks and dries"
    )
    sheet_under = any(isinstance(layer.entry, Sheet) for layer in layers[1:3])
    lapped = isinstance(first, Solid) and first.lapped
    return [
        ("rain soaked", draws and lets >= 0.5 and rain >= SOAKING_RAIN_MM and make in MASONRY),
        ("tight outside", tight),
        ("tight deck, shaded", tight and (gravel or (north and place.slope_deg >= LOW_SLOPE_DEG))),
        ("metal outside", outer.entry.family == "metal sheet"),
        ("no metal outside", outer.entry.family != "metal sheet"),
        ("thatch", any(layer.material == "thatch" for layer in as_found.layers[:2])),
        ("lapped on boards", lapped),
        ("no underlay", lapped and place.kind == "roof" and not sheet_under),
        ("no deck", make == "rafter roof" and not any(isinstance(layer.entry, Solid) and layer.entry.timber for layer in layers[: (empty or 0) + 1])),
        ("bays full", full),
        ("bays not full", not full),
        ("fill inside", filled),
        ("empty cavity", air_between),
        ("no empty cavity", not air_between),
        ("insulated inside", lined),
        ("half-timbered", make == "half-timbered"),
        ("vented cladding", vented_cladding(as_found)),
        ("wall of insulation", any(layer.entry.family in ("straw", "mineral insulation") and layer.thickness >= BODY_M for layer in layers)),
        ("leaf before the frame", make in ("frame with boards", "steel frame") and any(as_found.is_leaf(index) for index in range(len(layers)))),
    ]  # fmt: skip
