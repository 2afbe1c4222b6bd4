"""`alike`: what must stay the same, and what must never get bolder, tried on random elements.

The same: roles, make, ways and the words of the control lines, when a lining is added to bare cladding, a material is entered as one's own
with the same values, the room's air is measured and not named, the facing is mirrored in a year without wind, or a thickness differs by a
millimetre. Never bolder: more rain, a damper room, less room, a protected face, evidence of damp offer no way that was refused before, and
take back no doubt.
"""

from __future__ import annotations

import hashlib
from collections.abc import Callable, Iterator
from dataclasses import dataclass, replace
from pathlib import Path
from typing import Any

import numpy as np

from core.assembly.control import control_layers
from core.assembly.roles import roles_of
from core.buildup.anatomy import Anatomy
from core.buildup.make import Make
from core.buildup.model import BuildUp, BuildUpLayer, Framing, Limits, Place
from core.buildup.room import room_air
from core.climate.data import shipped
from core.errors import CoreError
from core.materials.library import Solid, entry_of, know
from core.materials.own import own_id
from core.moisture.traps import traps
from core.proposals.propose import possible_ways
from core.proposals.situation import Situation, Stand, situation

# Materials that are told by what they are and not by their values; one's own copy of them is another thing.
BY_NAME = frozenset({
    "thatch", "gravel", "concrete_precast", "logs", "dimpled_sheet", "spray_foam_closed", "spray_foam_open", "hemp_lime", "concrete", "osb",
    "plywood", "pur_foam",
})  # fmt: skip
ONLY_WHERE_IT_IS_WORSE = frozenset({"wet_room", "cold_room", "cellar_inside_drained"})  # made for just that


@dataclass(frozen=True)
class Element:
    """One random element."""

    build_up: BuildUp
    stand: Stand


@dataclass(frozen=True)
class Otherwise:
    """What did not hold: the element's number, the property, and what differed."""

    number: int
    what: str
    words: str


def random_element(number: int) -> Element:
    """A wall, roof, floor or cellar wall of layers that are found, in some climate and room."""
    rng = np.random.default_rng(number)

    def pick(*rows: Any) -> Any:
        return rows[int(rng.integers(len(rows)))]

    kind, adjoining, slope = pick(
        ("wall", "outside", 90.0), ("wall", "outside", 90.0), ("wall", "outside", 90.0), ("wall", "ground", 90.0), ("wall", "unheated", 90.0),
        ("roof", "outside", 40.0), ("roof", "outside", 3.0), ("roof", "unheated", 0.0), ("floor", "unheated", 0.0), ("floor", "ground", 0.0),
        ("floor", "outside", 0.0),
    )  # fmt: skip
    place = Place(
        kind=kind, adjoining=adjoining, slope_deg=slope, facing_deg=float(rng.integers(0, 360)),
        climate=pick("corrie", "millrace", "tarn", "ostmoor", "sollera", "karrental"), exposure=pick("sheltered", "moderate", "exposed"),
        occupancy=pick("normal", "normal", "normal", "cooled"), ground=pick("moist", "moist", "wet"),
    )  # fmt: skip
    limits = Limits(
        room_mm=pick(None, 200.0, 100.0), outside_mm=pick(None, 300.0, 150.0), target_u_w_m2k=pick(None, 0.25, 0.4)
    )
    return Element(BuildUp(layers=_layers(rng, kind, adjoining, pick)), Stand(place, limits))


def _layers(rng: np.random.Generator, kind: str, adjoining: str, pick: Callable[..., Any]) -> list[BuildUpLayer]:
    """Outside to inside: what meets the weather or the earth, what bears, what lines it."""
    outer: list[tuple[Any, ...]]
    body: list[tuple[Any, ...]]
    if kind == "wall" and adjoining == "ground":
        outer = pick([], [("liquid_waterproof",)])
        body = pick([("concrete", 250)], [("sandstone_rubble", 500)], [("brick_ordinary", 330)])
    elif kind == "wall":
        outer = pick(
            [], [("limewash",)], [("oil_paint",)], [("lime_render", 20)], [("larch_boards", 22), ("air_ventilated", 30)],
            [("weatherboards", 20)], [("weatherboards", 20), ("building_paper",)], [("brick_ordinary", 102), ("air_vented", 40)],
            [("profiled_sheet", 1), ("air_drained", 25)], [("fibre_cement", 8), ("air_ventilated", 25)],
        )  # fmt: skip
        body = pick(
            [("sandstone_rubble", 500)], [("brick_old", 330)], [("cob", 550)], [("logs", 180)], [("concrete", 200)],
            [("sarking_boards", 22), ("air_unventilated", 140, 0.12)], [("osb", 15), ("mineral_fibre_040", 95, 0.12)], [("air_unventilated", 95, 0.15)],
            [("brick_ordinary", 102), ("air_unventilated", 60), ("brick_ordinary", 102)], [("straw_bale", 400)],
        )  # fmt: skip
    elif kind == "roof" and adjoining == "outside":
        outer = pick(
            [("slate", 8)],
            [("clay_tiles", 15), ("air_ventilated", 40), ("felt",)],
            [("bitumen_sheet",)],
            [("zinc_seamed", 1)],
            [("rubber_sheet",)],
        )
        body = pick(
            [("sarking_boards", 22), ("air_unventilated", 160, 0.1)],
            [("concrete", 180)],
            [("sarking_boards", 24), ("mineral_fibre_040", 150, 0.1)],
        )
    elif kind == "roof":
        outer, body = [], pick([("air_unventilated", 150, 0.1)], [("mineral_fibre_040", 100, 0.1)])
    elif adjoining == "ground":
        outer, body = (
            [("earth", 300)],
            pick([("concrete", 100)], [("polyethylene",), ("concrete", 100)], [("stone_flags", 60)]),
        )
    else:
        outer, body = [], pick([("oak_floor", 22)], [("air_vented", 150, 0.12), ("oak_floor", 22)], [("concrete", 180)])
    inner = pick(
        [],
        [("lime_plaster", 20)],
        [("gypsum_board", 12.5)],
        [("lath_plaster", 22)],
        [("mineral_fibre_035", 60), ("gypsum_board", 12.5)],
        [("vinyl_wallcovering",)],
    )
    rows = [*outer, *body, *inner]
    if not any(isinstance(entry_of(row[0]), Solid) for row in rows):
        rows.append(("gypsum_board", 12.5))
    return [
        BuildUpLayer(
            id=f"l{i}", material=row[0], thickness_mm=row[1] if len(row) > 1 else None, existing=True, known="seen",
            framing=Framing(material="softwood", share=row[2]) if len(row) > 2 else None,
        )
        for i, row in enumerate(rows)
    ]  # fmt: skip


def ways_of(at: Situation) -> dict[str, frozenset[str]]:
    """Ways that no rule refuses, with their doubts and what must be true first."""
    return {
        way.id: frozenset(line.words for line in [*way.doubts, *way.first] if at.holds(line.when))
        for way in possible_ways(at)
    }


def _said_of(build_up: BuildUp, place: Place) -> tuple[Any, ...]:
    """Roles by layer, make and words, as somebody reads them; ids and thicknesses left out."""
    control = control_layers(build_up, place)
    roles = tuple(tuple(sorted(one.roles)) for one in roles_of(build_up, place))
    lines = tuple(one.layer_id for one in (control.rain, control.air, control.vapour, control.heat))
    closed = tuple((trap.outer, trap.inner, trap.tight) for trap in traps(build_up, place))
    return Make(Anatomy(build_up, place)).kind, roles, lines, closed


def _without_vapour(said: tuple[Any, ...]) -> tuple[Any, ...]:
    make, roles, lines, closed = said
    return (
        make,
        tuple(tuple(role for role in each if role != "vapour line") for each in roles),
        (*lines[:2], lines[3]),
        closed,
    )


def _changed(layer: BuildUpLayer, **more: Any) -> BuildUpLayer:
    return layer.model_copy(update=more)


def _own(element: Element, rng: np.random.Generator) -> BuildUp | None:
    """One solid as a material of one's own with the same values; None where each of them is told by its name."""
    places = [
        i
        for i, layer in enumerate(element.build_up.layers)
        if isinstance(layer.entry, Solid) and layer.material not in BY_NAME
    ]
    if not places:
        return None
    at = places[int(rng.integers(len(places)))]
    layer = element.build_up.layers[at]
    assert isinstance(layer.entry, Solid)
    copy = layer.entry.model_copy(update={"id": "", "note": "entered by hand"})
    copy = copy.model_copy(update={"id": own_id(copy)})
    know(copy)
    layers = list(element.build_up.layers)
    layers[at] = _changed(layer, material=copy.id)
    return element.build_up.model_copy(update={"layers": layers})


def _a_millimetre(element: Element, rng: np.random.Generator) -> BuildUp | None:
    places = [i for i, layer in enumerate(element.build_up.layers) if (layer.thickness_mm or 0.0) >= 15.0]
    if not places:
        return None
    at = places[int(rng.integers(len(places)))]
    layers = list(element.build_up.layers)
    layers[at] = _changed(layers[at], thickness_mm=(layers[at].thickness_mm or 0.0) + 1.0)
    return element.build_up.model_copy(update={"layers": layers})


def measured_in(folder: Path) -> Callable[[Place], Place]:
    """Places with the air of their rooms as a series that somebody measured, kept in a folder that WENDRICK_CLIMATES names."""

    def same(place: Place) -> Place:
        climate = shipped(place.climate)
        name = "own-" + hashlib.sha256(f"{place.climate} {place.occupancy}".encode()).hexdigest()[:12]
        path = folder / f"{name}.csv"
        if not path.exists():
            inside_c, humidity = room_air(place)
            head = f"# label: air of a room\n# origin: measured\n# latitude_deg: {climate.latitude}\n# longitude_deg: {climate.longitude}\n# utc_offset_h: {climate.utc_offset}\n"
            rows = "".join(f"{t!r},{h!r}\n" for t, h in zip(inside_c.tolist(), humidity.tolist(), strict=True))
            path.write_text(f"{head}temperature_c,relative_humidity\n{rows}", encoding="utf-8")
        return place.model_copy(update={"occupancy": name})

    return same


def alike(count: int, measured: Callable[[Place], Place] | None = None, first: int = 0) -> Iterator[Otherwise]:
    """What did not hold on so many elements, from number `first` on. measured: the same place with its room's air as a measured series."""
    for number in range(first, first + count):
        element = random_element(number)
        try:
            yield from _one(number, element, measured)
        except CoreError as error:
            yield Otherwise(number, "it is refused", error.message)


def _one(number: int, element: Element, measured: Callable[[Place], Place] | None) -> Iterator[Otherwise]:
    rng = np.random.default_rng(10**6 + number)
    place, stand = element.stand.place, element.stand
    before, at = _said_of(element.build_up, place), situation(element.build_up, stand)
    ways = ways_of(at)
    same: dict[str, BuildUp | None] = {
        "an own material of the same values": _own(element, rng),
        "a millimetre": _a_millimetre(element, rng),
    }
    for what, build_up in same.items():
        if build_up is None:
            continue
        after = _said_of(build_up, place)
        if what == "a millimetre":  # of two layers as tight as each other the thicker is the vapour line
            after, before_it = _without_vapour(after), _without_vapour(before)
        else:
            before_it = before
        if after != before_it:
            yield Otherwise(number, what, f"{before_it} → {after}")
        if ways_of(situation(build_up, stand)) != ways:
            yield Otherwise(number, what, "other ways")
    mirrored = place.model_copy(update={"facing_deg": (360.0 - place.facing_deg) % 360.0})
    if _said_of(element.build_up, mirrored)[:3] != before[:3]:
        yield Otherwise(number, "the mirrored facing", "other roles")
    if at.make == "bare cladding":
        lined = element.build_up.model_copy(
            update={
                "layers": [
                    *element.build_up.layers,
                    BuildUpLayer(id="lining", material="gypsum_board", thickness_mm=12.5, existing=True),
                ]
            }
        )
        if Make(Anatomy(lined, place)).kind != at.make:
            yield Otherwise(number, "a lining", f"{at.make} → {Make(Anatomy(lined, place)).kind}")
    if measured is not None:
        other = situation(element.build_up, replace(stand, place=measured(place)))
        if ways_of(other) != ways:
            yield Otherwise(number, "a measured series of the same air", str(sorted(other.flags ^ at.flags)))
    worse: dict[str, Stand] = {
        "more rain": replace(stand, place=place.model_copy(update={"exposure": "severe"})),
        "a damper room": replace(stand, place=place.model_copy(update={"occupancy": "iso13788_5"})),
        "less room": replace(stand, limits=stand.limits.model_copy(update={"room_mm": 10.0})),
        "a protected face": replace(stand, limits=stand.limits.model_copy(update={"outside_mm": 0.0})),
        "evidence of damp": replace(stand, causes=frozenset({"rain", "ground"}), seen=frozenset({"tide_mark", "efflorescence"}), ready=False),
        "the inside is not touched": replace(stand, inside_untouchable=True),
        "an escape route": replace(stand, escape_route=True),
    }  # fmt: skip
    for what, then in worse.items():
        if what == "a damper room" and at.holds(["inward drive"]):
            continue  # a damper room takes the inward drive away: what was a doubt of it is none
        after_ways = ways_of(situation(element.build_up, then))
        bolder = set(after_ways) - set(ways) - ONLY_WHERE_IT_IS_WORSE
        if bolder:
            yield Otherwise(number, what, f"offers {', '.join(sorted(bolder))}")
        lost = [way for way, words in after_ways.items() if way in ways and ways[way] - words]
        if lost:
            yield Otherwise(number, what, f"takes back a doubt of {', '.join(sorted(lost))}")
