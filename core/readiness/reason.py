"""Pins with what the survey says around them as facts; from a confirmed mechanism to remedies; the readiness of an element."""

from __future__ import annotations

import math
from dataclasses import dataclass
from datetime import date
from typing import Annotated, Literal

from pydantic import Field, model_validator

from core.buildup.make import Cladding, Gap, Made
from core.case import Celsius, Strict
from core.measure.wood_moisture import MeterReading, corrected_moisture
from core.physics.constants import ZERO_CELSIUS
from core.physics.moist_air import saturation_pressure
from core.readiness.clues import table
from core.readiness.patterns import Sign, patterns
from core.readiness.rules import FACTS, Facts, Remedy, rules

View = Literal["elevation", "plan", "section"]
Comes = Literal[
    "not_known", "after_rain", "cold_spells", "humid_heat", "after_use", "always", "damp_weather", "dry_weather",
    "clear_nights", "after_thaw",
]  # fmt: skip
Part = Literal[
    "face", "joist end", "sill", "socket or pipe", "partition", "post or plate", "lap or seam", "tie or tray"
]  # fmt: skip
SaltSource = Literal["none", "flue", "byre", "ground", "gypsum", "road"]
Extent = Literal["spot", "patch", "band", "whole"]
EvidenceKind = Literal[
    "efflorescence",
    "spalling",
    "tide_mark",
    "peeling_paint",
    "paint_lifted",
    "stain",
    "damp_smell",
    "mould",
    "soft_timber",
    "swollen_sheet",
    "rust",
    "frost",
    "condensation",
    "animals",
    "damp",
    "algae",
    "cracks",
    "hollow",
    "lifted",
    "standing_water",
    "vegetation",
    "insects",
    "old_holes",
    "ghosting",
    "dust_marks",
    "nothing_found",
]
State = Literal["not looked at", "open", "ready", "ready by override"]
MAY_BE_COVERED: tuple[State, ...] = ("ready", "ready by override")

FOOT_M, LOW_M, TOP_M, CORNER_M, OPENING_M, NEAR_M = 0.5, 1.2, 0.8, 0.6, 0.7, 2.0


class Readings(Strict):
    """What was read at a place of evidence."""

    wood: MeterReading | None = None
    surface_c: Celsius | None = None
    surface_rh: Annotated[float, Field(ge=0, le=1)] | None = None
    air_c: Celsius | None = None
    air_rh: Annotated[float, Field(ge=0, le=1)] | None = None


class PinPlace(Strict):
    """Where a pin stands: on an elevation (x from the left seen from outside, z), in the plan (x, y), in the section (s, z)."""

    view: View = "elevation"
    body: Annotated[str, Field(max_length=30)] = ""
    face: Annotated[str, Field(max_length=1)] = ""
    x_m: Annotated[float, Field(ge=-500, le=500)] = 0.0
    y_m: Annotated[float, Field(ge=-500, le=500)] = 0.0


class Pin(Strict):
    """One piece of evidence as it was seen. layer_id, depth_mm: inside which layer, how far from its outer face.

    looks: what was looked at since, look to its outcome, as `core.readiness.clues` has them.
    """

    kind: EvidenceKind
    place: PinPlace = PinPlace()
    side: Literal["outside", "inside"] = "outside"
    extent: Extent = "patch"
    size_m2: Annotated[float, Field(gt=0, le=10000)] | None = None
    comes: Comes = "not_known"
    pipes_near: bool = False
    wet_work: bool = False
    part: Part = "face"
    salt_source: SaltSource = "none"
    layer_id: Annotated[str, Field(max_length=40)] = ""
    depth_mm: Annotated[float, Field(ge=0, le=3000)] | None = None
    seen_on: date | None = None
    note: Annotated[str, Field(max_length=2000)] = ""
    readings: Readings = Readings()
    looks: Annotated[dict[str, str], Field(max_length=40)] = {}

    @model_validator(mode="after")
    def _known_looks(self) -> Pin:
        for look, outcome in self.looks.items():
            row = table().look(look)
            if row is None or outcome not in {one.id for one in row.outcomes}:
                raise ValueError(f"no look “{look[:40]}” with the outcome “{outcome[:40]}”")
        return self


@dataclass(frozen=True)
class Surroundings:
    """What the rest of the survey says about the place of a pin."""

    element: str = "wall"
    adjoining: str = "outside"
    ground_m: float = 0.0
    eaves_m: float | None = None
    face_width_m: float | None = None
    openings: tuple[tuple[float, float, float, float], ...] = ()  # left, bottom, width, height
    rain_face: bool = False
    overhang_m: float = 0.0
    gutters_faulty: bool = False
    splash: bool = False
    sprinklers: bool = False
    reservoir: bool = False
    inner_sheet: bool = False
    leak_near: bool = False
    neighbours: tuple[str, ...] = ()
    floors_m: tuple[float, ...] = ()
    heated: bool = True
    joist_wall_rained: bool | None = None
    made: Made = "not stated"
    cladding: Cladding = "none"
    gap: Gap = "none"
    tight_coat: bool = False
    thin_render: bool = False
    signs: tuple[Sign, ...] = ()  # the other pins on elevations, with their height above the ground


def surface_humidity(readings: Readings) -> float | None:
    """RH at the surface: as read, or from the room's vapour and the surface temperature; None when not known."""
    if readings.surface_rh is not None:
        return readings.surface_rh
    if readings.surface_c is None or readings.air_c is None or readings.air_rh is None:
        return None
    vapour = readings.air_rh * saturation_pressure(readings.air_c + ZERO_CELSIUS)
    return float(min(vapour / saturation_pressure(readings.surface_c + ZERO_CELSIUS), 1.0))


def season_of(day: date | None, latitude: float = 50.0) -> str:
    """Season of a day by whole months."""
    if day is None:
        return "not known"
    month = day.month if latitude >= 0 else (day.month + 5) % 12 + 1
    return ("winter", "spring", "summer", "autumn")[(month % 12) // 3]


def facts_of(pin: Pin, around: Surroundings) -> Facts:
    """The facts that the rules look at."""
    place = pin.place
    facts: dict[str, list[str]] = {fact: [values[0]] for fact, (_, values) in FACTS.items() if values}
    facts |= {
        "kind": [pin.kind],
        "element": [around.element],
        "adjoining": [around.adjoining],
        "side": [pin.side],
        "extent": [pin.extent],
        "comes": [pin.comes],
        "season": [season_of(pin.seen_on)],
        "near": list(around.neighbours),
        "rain_face": ["yes" if around.rain_face else "no"],
        "gutters": ["faulty" if around.gutters_faulty else "sound"],
        "splash": ["yes" if around.splash else "no"],
        "sprinklers": ["yes" if around.sprinklers else "no"],
        "reservoir": ["yes" if around.reservoir else "no"],
        "inner_sheet": ["yes" if around.inner_sheet else "no"],
        "leak_near": ["yes" if around.leak_near else "no"],
        "pipes": ["yes" if pin.pipes_near else "no"],
        "wet_work": ["yes" if pin.wet_work else "no"],
        "part": [pin.part],
        "salt_source": [pin.salt_source],
        "room": ["heated" if around.heated else "unheated"],
        "make": [around.made],
        "cladding": [around.cladding],
        "gap": [around.gap],
        "tight_coat": ["yes" if around.tight_coat else "no"],
        "thin_render": ["yes" if around.thin_render else "no"],
    }
    if place.view == "elevation":
        facts["pattern"] = patterns(sign_of(pin, around.ground_m), around.signs, around.openings)
    if around.joist_wall_rained is not None and pin.part == "joist end":
        facts["joist_in"] = ["rain wall" if around.joist_wall_rained else "other wall"]
    below = [level for level in around.floors_m if level <= place.y_m + 0.05]
    if pin.side == "inside" and place.view != "plan" and below:
        facts["over_floor"] = ["foot" if place.y_m - max(below) <= FOOT_M else "middle"]
    if place.view == "plan" and around.element == "floor":
        facts["height"] = ["foot"]
    if place.view != "plan":
        height = place.y_m - around.ground_m
        facts["height"] = ["foot" if height <= FOOT_M else "low" if height <= LOW_M else "middle"]
        if around.eaves_m is not None and height > LOW_M and place.y_m >= around.eaves_m - TOP_M:
            facts["height"] = ["top"]
        if around.eaves_m is not None and around.overhang_m >= 0.3:
            sheltered = around.eaves_m - place.y_m <= around.overhang_m
            facts["eaves_shelter"] = ["yes" if sheltered else "no"]
    if place.view == "elevation" and around.face_width_m is not None:
        ends = min(place.x_m, around.face_width_m - place.x_m)
        facts["corner"] = ["yes" if ends <= CORNER_M else "no"]
        facts["opening"] = [_at_opening(place, around)]
    wood = pin.readings.wood
    if wood is not None:
        facts["wood"] = ["wet" if corrected_moisture(wood).percent > 20.0 else "dry"]
    humidity = surface_humidity(pin.readings)
    if humidity is not None:
        facts["surface_rh"] = ["high" if humidity >= 0.8 else "low"]
    return facts


def sign_of(pin: Pin, ground_m: float) -> Sign:
    """A pin on an elevation as a sign of a pattern."""
    at = pin.place
    return Sign(pin.kind, pin.side, at.body, at.face, at.x_m, at.y_m, at.y_m - ground_m)


def _at_opening(place: PinPlace, around: Surroundings) -> str:
    for left, bottom, width, height in around.openings:
        beside = left - OPENING_M <= place.x_m <= left + width + OPENING_M
        within = left - 0.2 <= place.x_m <= left + width + 0.2
        if within and bottom - 2.0 * OPENING_M <= place.y_m <= bottom:
            return "under_sill"
        if within and bottom + height <= place.y_m <= bottom + height + OPENING_M:
            return "head"
        if beside and bottom - OPENING_M <= place.y_m <= bottom + height + 0.3:
            return "beside"
    return "none"


def remedies(mechanism: str, facts: Facts) -> list[Remedy]:
    """The remedies of a confirmed mechanism at this place, in the order of the work. Never empty.

    Where no remedy's conditions fit the place, all of the mechanism are given, for the consultant to strike out.
    """
    rows = rules()
    order = {stage.id: index for index, stage in enumerate(rows.stages)}
    of_mechanism = [remedy for remedy in rows.remedies if mechanism in remedy.mechanisms]
    fitting = [remedy for remedy in of_mechanism if remedy.fits(facts)] or of_mechanism
    return sorted(fitting, key=lambda remedy: order[remedy.stage])


@dataclass(frozen=True)
class Readiness:
    """State of an element with every reason why; the reasons are empty when it is ready."""

    state: State
    reasons: list[str]

    @property
    def may_be_covered(self) -> bool:
        return self.state in MAY_BE_COVERED


@dataclass(frozen=True)
class ElementWater:
    """What readiness looks at: counts, and the override's words when there is one."""

    looked_at: bool
    pins: int
    unexplained: int
    uncovered: int
    open_items: int
    override: str = ""
    overdue: int = 0
    unshown: int = 0
    wet_readings: int = 0
    assumed: int = 0
    stated: bool = True


def readiness(water: ElementWater) -> Readiness:
    """The first rule of the table that fits, with the reasons of every later one of the same state."""
    facts: Facts = {
        "override": ["yes" if water.override else "no"],
        "looked_at": ["yes" if water.looked_at else "no"],
        "evidence": ["some" if water.pins else "none"],
        "unexplained": ["some" if water.unexplained else "none"],
        "uncovered": ["some" if water.uncovered else "none"],
        "items": ["some open" if water.open_items else "none open"],
        "overdue": ["some" if water.overdue else "none"],
        "unshown": ["some" if water.unshown else "none"],
        "readings": ["some wet" if water.wet_readings else "none"],
        "assumed": ["some" if water.assumed else "none"],
        "construction": ["stated" if water.stated else "not stated"],
    }
    fitting = [rule for rule in rules().readiness if rule.fits(facts)]
    first = fitting[0]
    if first.state == "ready by override":
        return Readiness("ready by override", [water.override])
    counts = {
        "unexplained": f"{_count(water.unexplained, 'piece')} of evidence without a confirmed cause",
        "uncovered": f"{_count(water.uncovered, 'confirmed cause')} without a water item",
        "items": f"{_count(water.open_items, 'water item')} open",
        "overdue": f"{_count(water.overdue, 'water item')} past their date",
        "unshown": f"{_count(water.unshown, 'water item')} closed without what had to be shown",
        "readings": f"{_count(water.wet_readings, 'reading')} wet, with no later dry one",
        "assumed": f"{_count(water.assumed, 'layer')} only assumed",
    }
    reasons = []
    for rule in fitting:
        if rule.state == first.state and first.state != "ready":
            reasons += [counts.get(fact, rule.because) for fact in list(rule.when)[:1]]
    return Readiness(first.state, reasons)  # type: ignore[arg-type]


def _count(number: int, noun: str) -> str:
    return f"{number} {noun}{'' if number == 1 else 's'}"


def near(first: Pin, second: Pin) -> bool:
    """Two pins on the same side of the same view and face, no more than 2 m apart."""
    one, other = first.place, second.place
    same = (one.view, one.body, one.face, first.side) == (other.view, other.body, other.face, second.side)
    return same and math.hypot(one.x_m - other.x_m, one.y_m - other.y_m) <= NEAR_M
