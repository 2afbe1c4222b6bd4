"""`practice`: constructions that practice calls sound or unsound in their climate, and what the verdict says of each.

Where practice is divided the reason says so. The table stands in docs/verification.md with the reason wherever the verdict disagrees. The same for twelve build-ups under the wetting test, at half and double the dose.
"""

from __future__ import annotations

from collections.abc import Iterator
from concurrent.futures import ProcessPoolExecutor
from dataclasses import dataclass
from multiprocessing import get_context
from typing import Any

from core.buildup.model import BuildUp, BuildUpLayer, Framing, Place
from core.buildup.planes import faces_room, sensitive_plane
from core.climate.data import shipped
from core.criteria.judging import checked_limits
from core.criteria.registry import LIMITS
from core.criteria.stated import stated
from core.criteria.verdict import Tested, verdict
from core.criteria.wetting import wetting_test
from core.moisture.steady import DryingAbility, drying_ability
from core.runs import bay_years, settle, years_of

Rows = tuple[tuple[Any, ...], ...]


def build_up(*rows: tuple[Any, ...]) -> BuildUp:
    """Rows of (id, material, mm, framing share of softwood)."""
    layers = []
    for own, material, *rest in rows:
        framing = Framing(material="softwood", share=rest[1]) if len(rest) > 1 else None
        layers.append(BuildUpLayer(id=own, material=material, thickness_mm=rest[0] if rest else None, framing=framing))
    return BuildUp(layers=layers)


@dataclass(frozen=True)
class Practice:
    """One construction: what is there, what is done, and what practice says of it."""

    name: str
    sound: bool
    because: str
    place: Place
    found: Rows
    option: Rows


def wall(climate: str, facing: float = 0.0, exposure: str = "sheltered", **more: Any) -> Place:
    return Place(climate=climate, facing_deg=facing, exposure=exposure, **more)


BOARD = ("board", "gypsum_board", 12.5)
CLAD: Rows = (("clad", "larch_boards", 22), ("gap", "air_ventilated", 30))
UNDER: Rows = (*CLAD, ("under", "membrane_open"))
STONE: Rows = (("stone", "sandstone_rubble", 500), ("plaster", "lime_plaster", 20))
BRICK: Rows = (("brick", "brick_old", 330), ("plaster", "lime_plaster", 15))
LOGS: Rows = (("logs", "logs", 180),)
FRAME: Rows = (("fill", "air_unventilated", 140, 0.1), BOARD)
FILL = ("fill", "mineral_fibre_035", 140, 0.1)
CELLULOSE = ("fill", "cellulose_dense", 240, 0.1)
OSB = ("osb", "osb", 15)
TIGHT = ("sheet", "membrane_tight")
VARIABLE = ("sheet", "membrane_variable_medium")
RETARDER = ("sheet", "membrane_retarder")
ROOF = Place(kind="roof", slope_deg=40, facing_deg=0, climate="ostmoor")
WET_ROOF = ROOF.model_copy(update={"climate": "corrie"})
RAFTERS = ("rafters", "wood_fibre_batt", 200, 0.1)
VOID = Place(kind="floor", adjoining="unheated", factor_b=0.8, slope_deg=0, climate="corrie")
SLAB = Place(kind="floor", adjoining="ground", factor_b=0.5, slope_deg=0, climate="ostmoor")

PRACTICE: tuple[Practice, ...] = (
    Practice("log wall, wood fibre outside behind boards", True, "warm logs, open outward", wall("tarn"), LOGS, (*UNDER, ("fibre", "wood_fibre_board", 120), *LOGS)),
    Practice("brick, wood fibre outside with lime render", True, "open outward, brick warm", wall("ostmoor"), BRICK, (("paint", "silicate_paint"), ("render", "lime_render", 12), ("fibre", "wood_fibre_board", 120), ("bed", "lime_adhesive", 8), *BRICK)),
    Practice("brick, mineral fibre outside with render", True, "usual", wall("ostmoor", 270, "moderate"), BRICK, (("paint", "silicate_paint"), ("render", "lime_render", 12), ("fibre", "mineral_fibre_035", 160), ("bed", "lime_adhesive", 8), *BRICK)),
    Practice("brick, foam outside with render", True, "usual; slow to dry", wall("ostmoor", 270, "moderate"), BRICK, (("render", "lime_render", 10), ("foam", "eps_035", 140), ("bed", "lime_adhesive", 8), *BRICK)),
    Practice("rubble, mineral fibre behind slates on battens", True, "rain kept off, vented", wall("corrie", 290, "exposed"), STONE, (("slate", "slate", 8), ("gap", "air_ventilated", 30), ("under", "membrane_open"), ("fibre", "mineral_fibre_035", 120, 0.08), *STONE)),
    Practice("brick on a dry face, calcium silicate inside", True, "capillary-active, moderate", wall("ostmoor"), BRICK, (*BRICK, ("bed", "lime_adhesive", 8), ("casi", "calcium_silicate", 50))),
    Practice("brick on a dry face, 60 wood fibre inside in lime", True, "practice divided on more than 80", wall("ostmoor"), BRICK, (*BRICK, ("bed", "lime_adhesive", 8), ("fibre", "wood_fibre_board", 60), ("finish", "lime_plaster", 10))),
    Practice("rubble on a sheltered face, 40 insulating lime plaster", True, "thin and open", wall("corrie", 45), STONE, (STONE[0], ("warm", "insulating_lime_plaster", 40), ("finish", "lime_plaster", 5))),
    Practice("brick on a dry face, 50 fibre with variable membrane", True, "divided: a capillary board is preferred by many", wall("ostmoor"), BRICK, (*BRICK, ("wool", "mineral_fibre_035", 50, 0.06), VARIABLE, BOARD)),
    Practice("frame, cellulose, open outside, variable membrane", True, "usual", wall("ostmoor"), (*UNDER, ("boards", "sarking_boards", 22), *FRAME), (*UNDER, ("boards", "sarking_boards", 22), CELLULOSE, VARIABLE, BOARD)),
    Practice("frame, wood fibre outside the boards, batt inside", True, "warm sheathing", wall("tarn"), (*CLAD, ("boards", "sarking_boards", 22), *FRAME), (*UNDER, ("over", "wood_fibre_board", 80), ("boards", "sarking_boards", 22), FILL, VARIABLE, BOARD)),
    Practice("frame behind a drained and vented brick leaf, felt on boards", True, "usual where rain drives", wall("millrace", 200, "moderate"), (("leaf", "brick_hard", 100), ("gap", "air_vented", 40), ("felt", "building_paper"), ("boards", "sarking_boards", 22), *FRAME), (("leaf", "brick_hard", 100), ("gap", "air_vented", 40), ("felt", "building_paper"), ("boards", "sarking_boards", 22), FILL, VARIABLE, BOARD)),
    Practice("double frame of 300, OSB as air barrier in the middle", True, "two thirds of R outside it", wall("tarn"), (*UNDER, ("boards", "sarking_boards", 22), *FRAME), (*UNDER, ("boards", "sarking_boards", 22), ("outer", "cellulose_dense", 200, 0.06), OSB, ("inner", "wood_fibre_batt", 90, 0.1), BOARD)),
    Practice("hemp lime round a frame, lime both sides", True, "open", wall("corrie", 45), (("render", "lime_render", 20), ("hemp", "hemp_lime", 200), ("in", "lime_plaster", 15)), (("paint", "silicate_paint"), ("render", "lime_render", 20), ("hemp", "hemp_lime", 300), ("in", "lime_plaster", 15))),
    Practice("roof over rafters and between, wood fibre, variable membrane", True, "usual", ROOF, (("tiles", "clay_tiles", 15), ("gap", "air_ventilated", 50), ("deck", "sarking_boards", 22), ("rafters", "air_unventilated", 150, 0.1), BOARD), (("tiles", "clay_tiles", 15), ("gap", "air_ventilated", 50), ("open", "membrane_open"), ("over", "wood_fibre_board", 60), RAFTERS, VARIABLE, BOARD)),
    Practice("slates and boards kept, vent above a batt, variable membrane", True, "usual where boards stay", WET_ROOF, (("slate", "slate", 8), ("deck", "sarking_boards", 22), ("rafters", "air_unventilated", 150, 0.1), BOARD), (("slate", "slate", 8), ("under", "membrane_open"), ("deck", "sarking_boards", 22), ("vent", "air_ventilated", 50), ("open", "wood_fibre_board", 22), RAFTERS, VARIABLE, BOARD)),
    Practice("cold attic, cellulose on the ceiling with a retarder, vented", True, "usual", WET_ROOF, (("slate", "slate", 8), ("under", "felt"), ("deck", "sarking_boards", 22), ("attic", "air_ventilated", 300), ("ceiling", "gypsum_board", 12.5)), (("slate", "slate", 8), ("under", "felt"), ("deck", "sarking_boards", 22), ("attic", "air_ventilated", 300), ("fill", "cellulose_dense", 300), RETARDER, ("ceiling", "gypsum_board", 12.5))),
    Practice("flat roof, foam over the deck and its sheet", True, "warm deck", ROOF.model_copy(update={"slope_deg": 2.0}), (("bitumen", "bitumen_sheet"), ("deck", "sarking_boards", 24), ("joists", "air_unventilated", 200, 0.1), BOARD), (("bitumen", "bitumen_sheet"), ("foam", "pur_foam", 140), TIGHT, ("deck", "sarking_boards", 24), ("joists", "air_unventilated", 200, 0.1), BOARD)),
    Practice("slab: membrane, foam, concrete", True, "usual", SLAB, (("earth", "earth", 300), ("slab", "concrete", 100)), (("earth", "earth", 300), TIGHT, ("foam", "xps_034", 100), ("slab", "concrete", 100))),
    Practice("floor over a vented void, batts held by an open net", True, "usual with an airtight layer above", VOID, (("floor", "oak_floor", 22),), (("net", "membrane_open"), ("batt", "wood_fibre_batt", 150, 0.1), ("sheet", "membrane_variable_weak"), ("floor", "oak_floor", 22))),
    Practice("concrete wall, mineral fibre outside behind a vented cladding", True, "usual", wall("ostmoor", 270, "exposed"), (("concrete", "concrete", 180),), (("clad", "larch_boards", 22), ("gap", "air_ventilated", 40), ("under", "membrane_open"), ("fibre", "mineral_fibre_035", 160), ("concrete", "concrete", 180))),
    Practice("limewash on a soaked face, nothing else", True, "as found, cared for", wall("corrie", 290, "exposed"), STONE, (("wash", "limewash"), *STONE)),
    Practice("logs, 50 wood fibre inside, no sheet, mild cold", True, "divided: thin lining inside logs", wall("ostmoor"), LOGS, (*LOGS, ("fibre", "wood_fibre_batt", 50, 0.08), ("sheet", "membrane_variable_weak"), ("lining", "softwood", 18))),
    Practice("cellar wall, foam outside below ground", True, "warm wall", wall("ostmoor", 0, adjoining="ground", factor_b=0.6), (("wall", "concrete", 250),), (("foam", "xps_034", 120), ("bitumen", "bitumen_sheet"), ("wall", "concrete", 250))),
    Practice("hot dry summer, adobe-like wall of clay brick, lime render", True, "as found, usual there", wall("sollera", 270), (("brick", "brick_old", 400), ("in", "clay_plaster", 20)), (("render", "lime_render", 20), ("brick", "brick_old", 400), ("in", "clay_plaster", 20))),
    Practice("rain-soaked rubble, 140 fibre and plastic sheet inside", False, "cold, wet, closed", wall("corrie", 290, "severe"), STONE, (*STONE, ("wool", "mineral_fibre_035", 140, 0.1), TIGHT, BOARD)),
    Practice("cooled house in a humid summer, plastic sheet inside brick", False, "summer vapour stops at the sheet", wall("millrace", 180, "moderate", occupancy="cooled"), BRICK, (*BRICK, ("wool", "mineral_fibre_035", 90, 0.1), TIGHT, BOARD)),
    Practice("OSB outside, 140 fibre, no retarder, cold", False, "cold sheet takes the room's vapour", wall("ostmoor"), (*CLAD, OSB, *FRAME), (*CLAD, OSB, FILL, BOARD)),
    Practice("foam outside and plastic inside, OSB between", False, "a trap", wall("ostmoor"), (("render", "cement_render", 12), ("foam", "xps_034", 60), OSB, *FRAME), (("render", "cement_render", 12), ("foam", "xps_034", 60), OSB, FILL, TIGHT, BOARD)),
    Practice("unvented bitumen roof, boards, fibre, plastic below", False, "a trap", ROOF.model_copy(update={"slope_deg": 2.0}), (("bitumen", "bitumen_sheet"), ("deck", "sarking_boards", 24), ("joists", "air_unventilated", 200, 0.1), BOARD), (("bitumen", "bitumen_sheet"), ("deck", "sarking_boards", 24), ("fill", "mineral_fibre_035", 200, 0.1), TIGHT, BOARD)),
    Practice("wood fibre left open to the weather", False, "nothing covers it", wall("ostmoor", 270, "moderate"), BRICK, (("fibre", "wood_fibre_board", 100), ("bed", "lime_adhesive", 8), *BRICK)),
    Practice("closed foam under leaky slates, between rafters", False, "rain that leaks in stays in the boards", WET_ROOF, (("slate", "slate", 8), ("deck", "sarking_boards", 22), ("rafters", "air_unventilated", 150, 0.1), BOARD), (("slate", "slate", 8), ("deck", "sarking_boards", 22), ("foam", "spray_foam_closed", 150, 0.1), BOARD)),
    Practice("brick leaf tight against sheathing, sun after rain", False, "drives its water into the boards", wall("millrace", 200, "exposed"), (("leaf", "brick_old", 100), ("paper", "building_paper"), OSB, *FRAME), (("leaf", "brick_old", 100), ("paper", "building_paper"), OSB, FILL, TIGHT, BOARD)),
    Practice("slab insulated without a membrane, wood floor on it", False, "soil water reaches the wood", SLAB.model_copy(update={"ground": "wet"}), (("earth", "earth", 300), ("floor", "oak_floor", 22)), (("earth", "earth", 300), ("slab", "concrete", 80), ("floor", "oak_floor", 22))),
    Practice("vinyl paper on a lined rain wall", False, "closes the way inward", wall("corrie", 290, "exposed"), STONE, (*STONE, ("fibre", "wood_fibre_board", 60), ("finish", "lime_plaster", 10), ("vinyl", "vinyl_wallcovering"))),
)  # fmt: skip


@dataclass(frozen=True)
class Said:
    """What the verdict says of one row. wrong: sound and refused, or unsound and passed without a word."""

    row: Practice
    state: str
    headline: str
    sentence: str

    @property
    def wrong(self) -> bool:
        return self.state == ("over a limit" if self.row.sound else "within limits")


def rows_of_practice() -> tuple[Practice, ...]:
    from core.cases.practice_more import MORE

    return (*PRACTICE, *MORE)


def judged(number: int) -> Said:
    """One row with its verdict: as found runs first, the option from it, through the bay and through the members; of what practice refuses and
    the usual year passes, the bad year too."""
    row = rows_of_practice()[number]
    found, option = build_up(*row.found), build_up(*row.option)
    settled = settle(found, row.place)
    facts = stated(option, found, row.place, shipped(row.place.climate), False)
    before = settled.findings if settled is not None else None
    limits = checked_limits(LIMITS, {})
    findings = years_of(option, row.place, settled)
    said = verdict(findings, before, facts, limits)
    if said.state == "within limits" and not row.sound:  # the bad year is looked at before anything is passed
        bad = bay_years(option, row.place.model_copy(update={"bad_year": True}), settled, 2)
        said = verdict(findings, before, facts, limits, Tested(bad_year=verdict(bad, before, facts, limits).state))
    return Said(row, said.state, said.headline.metric, said.worst.sentence.metric if said.worst else "")


def practice(processes: int = 2) -> Iterator[Said]:
    """Every row, in order, some at a time."""
    with ProcessPoolExecutor(processes, mp_context=get_context("spawn")) as pool:
        yield from pool.map(judged, range(len(rows_of_practice())))


# --- the wetting test ----------------------------------------------------------------------------------

_RAIN = wall("corrie", 290, "exposed")
_COLD = wall("ostmoor")
TWELVE: tuple[tuple[str, Place, Rows, Rows], ...] = (
    ("rubble, bare", _RAIN, STONE, STONE),
    ("rubble, wood fibre and lime render outside", _RAIN, STONE, (("render", "lime_render", 12), ("fibre", "wood_fibre_board", 100), ("bed", "lime_adhesive", 8), *STONE)),
    ("rubble, calcium silicate 50 inside", _RAIN, STONE, (*STONE, ("bed", "lime_adhesive", 8), ("casi", "calcium_silicate", 50))),
    ("rubble, wood fibre 60 in lime inside", _RAIN, STONE, (*STONE, ("bed", "lime_adhesive", 8), ("fibre", "wood_fibre_board", 60), ("finish", "lime_plaster", 10))),
    ("rubble, fibre 80 and variable membrane inside", _RAIN, STONE, (*STONE, ("wool", "mineral_fibre_035", 80), VARIABLE, BOARD)),
    ("rubble, fibre 80 and plastic sheet inside", _RAIN, STONE, (*STONE, ("wool", "mineral_fibre_035", 80), TIGHT, BOARD)),
    ("brick, bare", _COLD, BRICK, BRICK),
    ("brick, foam 60 inside", _COLD, BRICK, (*BRICK, ("foam", "pur_foam", 60), BOARD)),
    ("frame, open outside, fill and variable membrane", _COLD, (*UNDER, ("boards", "sarking_boards", 22), *FRAME), (*UNDER, ("boards", "sarking_boards", 22), FILL, VARIABLE, BOARD)),
    ("frame, foam 60 outside the sheathing, plastic inside", _COLD, (("render", "cement_render", 12), ("foam", "xps_034", 60), OSB, *FRAME), (("render", "cement_render", 12), ("foam", "xps_034", 60), OSB, FILL, TIGHT, BOARD)),
    ("logs, bare", wall("tarn"), LOGS, LOGS),
    ("logs, wood fibre outside behind boards", wall("tarn"), LOGS, (*UNDER, ("fibre", "wood_fibre_board", 120), *LOGS)),
)  # fmt: skip


@dataclass(frozen=True)
class Stay:
    """Mean stay in days at half, whole and double the dose, and the drying ability; None where the plane is the room's own face."""

    name: str
    plane: str
    days: tuple[float, float, float]
    drying: DryingAbility | None


def wetted() -> Iterator[Stay]:
    """The twelve build-ups at the plane of what is there."""
    for name, place, found, option in TWELVE:
        plane, one = sensitive_plane(build_up(*found), place), build_up(*option)
        assert plane is not None
        days = [wetting_test(one, place, plane, dose_kg_m2=dose).mean_stay_days for dose in (0.5, 1.0, 2.0)]
        drying = None if faces_room(one, plane) else drying_ability(one, place, shipped(place.climate), plane)
        yield Stay(name, plane.words, (days[0], days[1], days[2]), drying)
