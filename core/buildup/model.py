"""What a consultant draws: an element in its place, and the layers of one option.

Plain data with units in the names, shared by the API, the project file and the core.
"""

from __future__ import annotations

import math
from typing import Annotated, Any, Literal

from pydantic import Field, model_validator

from core.case import Celsius, DrivenRain, IndoorProfile, NonNegative, Positive, Strict
from core.materials.library import AirLayer, Sheet, Solid, entry_of
from core.quantities import MAX_THICKNESS
from core.say import read_quantities

Known = Literal["seen", "probed", "drawing", "assumed"]
Exposure = Literal["sheltered", "moderate", "exposed", "severe"]
LeakPreset = Literal["by rule", "none", "tested tight", "careful", "leaky", "q50"]
Strip = Literal["whole", "top", "middle", "foot"]
Ground = Literal["moist", "wet"]
MetalKind = Literal["iron", "steel, galvanised", "stainless steel", "other"]
StatedRole = Literal["", "weather skin", "sheathing", "structure", "lining", "soil or ballast"]
MetalPart = Literal["fixings", "ties", "plates", "studs", "lintel", "cramps"]
# Indoor profiles by the words the survey uses; own-…: a measured series that was imported.
Occupancy = Annotated[
    str,
    Field(
        pattern=r"^(normal|high|bath|kitchen|cellar|cooled|now_and_then|iso13788_[1-5]|own-[0-9a-f]{12}([0-9a-f]{52})?)$"
    ),
]
INDOOR_WORDS = {
    "normal": "normal occupancy (EN 15026)",
    "high": "high occupancy (EN 15026)",
    "bath": "a room with a bath",
    "kitchen": "a kitchen (ISO 13788 class 4)",
    "cellar": "a heated cellar (ISO 13788 class 2)",
    "cooled": "cooled in summer",
    "now_and_then": "heated intermittently: a church, a hall",
    "iso13788_1": "ISO 13788 class 1, stores",
    "iso13788_2": "ISO 13788 class 2, offices, homes with few people",
    "iso13788_3": "ISO 13788 class 3, homes, occupancy not known",
    "iso13788_4": "ISO 13788 class 4, kitchens, canteens, gyms",
    "iso13788_5": "ISO 13788 class 5, laundries, pools",
}
ROOMS: dict[str, IndoorProfile] = {"kitchen": "iso13788_4", "cellar": "iso13788_2"}
Kind = Literal["wall", "roof", "floor", "window", "door"]
Adjoining = Literal["outside", "ground", "unheated"]
NamedLimitKind = Literal[
    "stair", "door swing", "radiator", "headroom", "fittings", "eaves", "verge", "sill", "pipes", "boundary", "weight"
]
LimitSide = Literal["room", "outside", "weight"]
# On which side a named limit binds, and its words.
LIMIT_SIDES: dict[NamedLimitKind, tuple[LimitSide, str]] = {
    "stair": ("room", "the stair"),
    "door swing": ("room", "the swing of a door"),
    "radiator": ("room", "the radiator and its pipes"),
    "headroom": ("room", "the headroom"),
    "fittings": ("room", "what is built in"),
    "eaves": ("outside", "the eaves at the fascia"),
    "verge": ("outside", "the verge"),
    "sill": ("outside", "the sill’s projection"),
    "pipes": ("outside", "down pipes and vents"),
    "boundary": ("outside", "the boundary"),
    "weight": ("weight", "what it may carry"),
}
LEAST_THICKNESS = 1e-6  # m: a film of a micrometre
ThicknessMm = Annotated[float, Field(ge=LEAST_THICKNESS * 1000, le=MAX_THICKNESS * 1000)]

# Air through the element itself at 50 Pa [m³/(h m²)]. Estimates of ours.
LEAK_Q50: dict[LeakPreset, float] = {"none": 0.0, "tested tight": 0.3, "careful": 1.0, "leaky": 3.0}
# The share of it that passes through the insulation to the cold plane and wets it; the rest goes by edges and gaps that
# stay warm. A twentieth, with ten either way: all of it would bring 0.4 to 7 kg/m² a year, far more than walls are found to take.
ACTIVE_SHARE, ACTIVE_RANGE = 0.05, (0.005, 0.5)
ABOVE_NEUTRAL_M = 2.0  # of a leak where no ledger says where it stands in its house
OPEN_FACE_SD_M = 0.5  # a sheet on the cold face up to this lets leaking air out
# Of the rain that falls on a slope, what a covering without an underlay lets through to its boards; an estimate, ten either way.
OPEN_COVERING_LEAK = 0.001
# Of the driven rain, what a filled cavity lets across by ties and mortar behind a leaf that is rained on; an estimate, ten either way.
FILL_CARRIES = 0.005
WORKS_ON = "05-01"
FIBROUS = ("fibrous insulation", "plant and animal fibre", "wood fibre")
LOAD_BEARING_M, SHEATHING_M = 0.08, 0.009
STEEPEST_ROOF_DEG = 85.0
U_SLACK = 0.005  # W/(m² K): half of the last digit that is shown
LEAF_M = 0.13  # a leaf of brick or stone before something else is no thicker
# One year in ten or so, ours: what “bad year” means wherever it is said.
BAD_YEAR_SHIFT_K, BAD_YEAR_RAIN, BAD_YEAR_RH = -1.5, 1.3, 0.05
BAD_YEAR_WORDS = read_quantities("a bad year: every hour {1.5 K} colder, 30 % more rain, 5 points more RH inside")
# Terrain × obstruction × wall factors of ISO 15927-3 for four words; topography stays 1. The grouping is ours.
EXPOSURE_FACTORS: dict[Exposure, tuple[float, float, float]] = {
    "sheltered": (0.65, 0.3, 0.3),
    "moderate": (0.75, 0.5, 0.4),
    "exposed": (0.9, 0.6, 0.4),
    "severe": (1.0, 1.0, 0.4),
}


class Framing(Strict):
    """A share of the layer's face that is another material: studs, rafters, joists.

    Stated by share, or by spacing and width, from which the share follows: width / spacing, and plates and headers beside it.
    flange_mm, web_mm: of a metal stud, whose share is its web's; its flanges enter the method for light steel.
    """

    material: str
    share: Annotated[float, Field(gt=0, lt=1)]
    spacing_mm: Annotated[float, Field(ge=50, le=3000)] | None = None
    width_mm: Annotated[float, Field(gt=0, le=1000)] | None = None
    plates: Annotated[float, Field(ge=0, le=0.3)] = 0.0
    flange_mm: Annotated[float, Field(ge=10, le=120)] | None = None
    web_mm: Annotated[float, Field(gt=0, le=10)] | None = None

    @model_validator(mode="before")
    @classmethod
    def _share(cls, raw: Any) -> Any:
        """The share that spacing and width give; one that is typed beside them gives way."""
        if not isinstance(raw, dict) or raw.get("spacing_mm") is None:
            return raw
        width = raw.get("web_mm") if raw.get("web_mm") is not None else raw.get("width_mm")
        numbers = (raw["spacing_mm"], width, raw.get("plates") or 0.0)
        if not all(isinstance(one, int | float) and not isinstance(one, bool) for one in numbers):
            return raw  # said by the fields
        return {**raw, "share": min(numbers[1] / numbers[0] + numbers[2], 0.99) if numbers[0] > 0 else raw.get("share")}

    @model_validator(mode="after")
    def _whole(self) -> Framing:
        if (self.flange_mm is None) != (self.web_mm is None):
            raise ValueError("a metal stud has the width of its flange and the thickness of its web; give both")
        if self.web_mm is not None and self.spacing_mm is None:
            raise ValueError("a metal stud needs its spacing")
        if self.spacing_mm is not None and self.width_mm is None and self.web_mm is None:
            raise ValueError("a spacing needs the width of the members")
        return self


class Product(Strict):
    """How a layer of insulation is built in otherwise than its label says.

    labelled_mm: the thickness it was sold in, where it is squeezed into less. settled: share of the height that a fill has sunk.
    ageing: conductivity over that of the label, once its gas is gone.
    """

    labelled_mm: ThicknessMm | None = None
    settled: Annotated[float, Field(ge=0, le=0.4)] = 0.0
    ageing: Annotated[float, Field(ge=1, le=1.6)] = 1.0


class Metal(Strict):
    """Metal that the survey states at the inner face of a layer."""

    part: MetalPart = "fixings"
    kind: MetalKind = "iron"


class Fixings(Strict):
    """Fixings through a layer of insulation, ISO 6946 Annex F: their number, metal and section, and how deep they go.

    depth_share: 1 all through; less for recessed ones.
    """

    per_m2: Annotated[float, Field(gt=0, le=50)]
    conductivity_w_mk: Annotated[float, Field(gt=1, le=400)] = 50.0
    section_mm2: Annotated[float, Field(gt=0, le=500)] = 20.0
    depth_share: Annotated[float, Field(gt=0, le=1)] = 1.0


class InvertedRoof(Strict):
    """Rain that runs between the insulation and the membrane below it, ISO 6946 Annex F: mean rain of the heating season
    [mm a day], and the standard's factor of drainage × (0.04 for one layer butt-jointed with open covering)."""

    rain_mm_day: Annotated[float, Field(ge=0, le=30)]
    factor: Annotated[float, Field(ge=0, le=0.1)] = 0.04


class Uneven(Strict):
    """A background that is not flat: how far its hollows stand back from its plane and over which share of the face, and how far a
    belled foot or a plinth stands proud of it, toward the room and outside. chamfered: what is put on follows the foot, or it is dressed back."""

    hollow_mm: Annotated[float, Field(ge=0, le=200)] = 0.0
    share: Annotated[float, Field(ge=0, le=0.9)] = 0.0
    proud_mm: Annotated[float, Field(ge=0, le=400)] = 0.0
    proud_outside_mm: Annotated[float, Field(ge=0, le=400)] = 0.0
    chamfered: bool = False

    @property
    def mean_m(self) -> float:
        """What fills the hollows, as a mean over the whole face [m]."""
        return self.hollow_mm * self.share / 1000.0


class BuildUpLayer(Strict):
    """One layer. Membranes and coatings have no thickness; everything else must have one.

    start_rh: RH on the day of the works where built-in water makes it wetter than by rule. frost_proof: the stone is
    known to stand frost while wet. fixings, gaps (level 0 to 2 of ISO 6946), inverted: corrections of its U. metal: what lies at its inner face. air_barrier: declared to be the air barrier.
    a_value_kg_m2s05: uptake measured on this wall, in place of the library's. product: what differs from its label.
    carries: it braces or carries, so that taking it out is the engineer's. sheds_water: declared to be the line that sheds water.
    uneven: of masonry and plaster. goes_round: the room's air gets behind the boards before this still gap (dabs, battens, sockets). meets: another background in the same face. role: what it is, where its look suggests something else.
    absorptance: of the sun, of its colour, where it is the outermost.
    """

    id: Annotated[str, Field(min_length=1, max_length=40)]
    material: str
    thickness_mm: ThicknessMm | None = None
    known: Known = "assumed"
    framing: Framing | None = None
    existing: bool = False
    start_rh: Annotated[float, Field(ge=0.3, le=1.0)] | None = None
    photo: Annotated[str, Field(max_length=40)] = ""
    frost_proof: bool = False
    metal: Metal | None = None
    air_barrier: bool = False
    fixings: Fixings | None = None
    gaps: Annotated[int, Field(ge=0, le=2)] = 0
    inverted: InvertedRoof | None = None
    a_value_kg_m2s05: Annotated[float, Field(gt=0, le=2)] | None = None
    product: Product | None = None
    carries: bool = False
    sheds_water: bool = False
    uneven: Uneven | None = None
    meets: Literal["", "stone", "brick", "concrete", "timber", "steel"] = ""
    role: StatedRole = ""
    goes_round: bool = False
    absorptance: Annotated[float, Field(ge=0, le=1)] | None = None

    @model_validator(mode="after")
    def _fits(self) -> BuildUpLayer:
        from core.errors import CaseRefused

        try:
            entry = entry_of(self.material)
            frame = entry_of(self.framing.material) if self.framing is not None else None
        except CaseRefused as error:
            raise ValueError(error.message) from error
        if isinstance(entry, Sheet) and (self.thickness_mm is not None or self.framing is not None):
            raise ValueError(f"{entry.name} has no thickness and no framing of its own; leave both empty")
        if not isinstance(entry, Sheet) and self.thickness_mm is None:
            raise ValueError(f"{entry.name} needs a thickness in mm")
        if frame is not None and not isinstance(frame, Solid):
            raise ValueError(f"{frame.name} cannot be framing")
        corrected = self.fixings is not None or self.gaps > 0 or self.inverted is not None or self.product is not None
        if corrected and not (isinstance(entry, Solid) and entry.group == "insulation"):
            raise ValueError(
                f"{entry.name} is no insulation: fixings, gaps, inverted roofs and what differs from its label belong to one"
            )
        if self.product is not None and self.product.labelled_mm is not None:
            if self.product.labelled_mm < (self.thickness_mm or 0.0):
                raise ValueError(
                    f"{entry.name} cannot be pulled thicker than the {self.product.labelled_mm:g} mm it is sold in"
                )
            if entry.family not in FIBROUS:
                raise ValueError(f"{entry.name} is not squeezed; only fibre is")
        if self.goes_round and (not isinstance(entry, AirLayer) or entry.drains):
            raise ValueError(f"{entry.name} is no still gap that the room's air could go round in")
        if self.uneven is not None and entry.group not in ("masonry", "plaster"):
            raise ValueError(f"{entry.name} is no ground that could be uneven; masonry and plaster are")
        if self.a_value_kg_m2s05 is not None and not (isinstance(entry, Solid) and entry.a_value_kg_m2s05 is not None):
            raise ValueError(f"{entry.name} draws no water; a measured uptake belongs to a capillary layer")
        return self

    @property
    def entry(self) -> Solid | Sheet | AirLayer:
        return entry_of(self.material)

    @property
    def thickness(self) -> float:
        """m; 0 for membranes and coatings."""
        return (self.thickness_mm or 0.0) / 1000.0


class HouseOfLeak(Strict):
    """What the whole house adds to the pressure at a leak: the share of the open wind that reaches it, and what wind and fans keep inside at its neutral height
    against outside (`core.physics.leak.InsidePressure`)."""

    wind_factor: Annotated[float, Field(ge=0, le=1.5)]
    coefficient: Annotated[float, Field(ge=-2, le=2)] = 0.0
    swing: Annotated[float, Field(ge=0, le=2)] = 0.0
    swing_from_deg: Annotated[float, Field(ge=0, lt=360)] = 0.0
    steady_pa: Annotated[float, Field(ge=-200, le=200)] = 0.0


class AirLeakage(Strict):
    """Room air that leaks through the element. after_layer: to the inner face of that layer; absent: by rule.

    from_ledger: the q50 is the building's, shared by its ledger; above_neutral_m: of the highest part of the element, 2 m where it is not known; house: what
    the ledger knows of the whole house beside it.
    “by rule”: framed and lined elements leak as carefully built ones do, until a test or the survey says otherwise;
    “none” has to be chosen.
    """

    preset: LeakPreset = "by rule"
    q50_m3_m2h: Annotated[float, Field(gt=0, le=50)] | None = None
    after_layer: str | None = None
    from_ledger: bool = False
    above_neutral_m: Annotated[float, Field(ge=-50, le=50)] | None = None
    house: HouseOfLeak | None = None

    @model_validator(mode="after")
    def _value_given(self) -> AirLeakage:
        if (self.preset == "q50") != (self.q50_m3_m2h is not None):
            raise ValueError("give q50_m3_m2h with the preset “q50”, and only there")
        if self.from_ledger and self.preset != "q50":
            raise ValueError("a leak from the ledger has its q50")
        return self


class RainLeakage(Strict):
    """A share of the rain that gets in: driven rain of a wall, falling rain of a roof. Absent: by rule.

    By rule a wall has none but across a filled cavity in the rain (FILL_CARRIES), and a roof whose covering lies on boards without an
    underlay OPEN_COVERING_LEAK.
    """

    share: Annotated[float, Field(ge=0, le=0.2)] | None = None
    after_layer: str | None = None


def is_insulation(layer: BuildUpLayer) -> bool:
    """Whether a layer insulates."""
    return isinstance(layer.entry, Solid) and layer.entry.group == "insulation"


def bears(layer: BuildUpLayer) -> bool:
    """Whether a layer bears or sheathes: masonry, logs and solid timber, wood-based sheets; never what is lapped, or a finish."""
    entry = layer.entry
    if not isinstance(entry, Solid) or entry.lapped or entry.group == "insulation" or entry.family == "soil":
        return False
    if entry.group == "masonry":
        return layer.thickness >= LOAD_BEARING_M
    return entry.timber is not None and layer.thickness >= SHEATHING_M


def is_metal_framed(layer: BuildUpLayer) -> bool:
    """Whether the members of a layer are of metal."""
    if layer.framing is None:
        return False
    return layer.framing.web_mm is not None or entry_of(layer.framing.material).family == "metal sheet"


def is_wooden(layer: BuildUpLayer) -> bool:
    """Whether a layer is wood, or has members of wood in it."""
    if layer.framing is not None and not is_metal_framed(layer):
        return True
    return isinstance(layer.entry, Solid) and layer.entry.timber is not None


class BuildUp(Strict):
    """Layers from outside to inside (roofs and floors: from above… the cold side… to the room). None: not stated."""

    layers: Annotated[list[BuildUpLayer], Field(max_length=40)]
    air_leak: AirLeakage = AirLeakage()
    rain_leak: RainLeakage = RainLeakage()

    @model_validator(mode="after")
    def _ids(self) -> BuildUp:
        ids = [layer.id for layer in self.layers]
        if len(set(ids)) != len(ids):
            raise ValueError("two layers share one id")
        if self.layers and not any(layer.thickness_mm for layer in self.layers):
            raise ValueError("a build-up needs at least one layer with thickness")
        for leak in (self.air_leak, self.rain_leak):
            if leak.after_layer is not None and leak.after_layer not in ids:
                raise ValueError(f"a leak goes to layer “{leak.after_layer}”, which is not in the build-up")
        return self

    @property
    def is_stated(self) -> bool:
        """Whether anybody stated its layers; an element that a shape gave has none until then."""
        return bool(self.layers)

    def index(self, layer_id: str) -> int:
        """Place of a layer. Raises KeyError."""
        for index, layer in enumerate(self.layers):
            if layer.id == layer_id:
                return index
        raise KeyError(layer_id)

    @property
    def thickness(self) -> float:
        """m."""
        return sum(layer.thickness for layer in self.layers)


class Place(Strict):
    """Where an element stands: what the core needs to know beside its layers.

    rain_factors: terrain, topography, obstruction and wall factor of ISO 15927-3, where the face was surveyed in
    steps; else the word in `exposure` stands for them. strip: which height of the face they are of. absorptance: of the
    sun on the outer face. works_on: month-day on which the works are done; every run starts there. active_share: of the
    air that leaks, what wets the cold plane. beside_found, beside_after: series of the air of the cold space it faces, as found and after
    the works; without one it lies between inside and outside by factor b.
    """

    kind: Kind = "wall"
    adjoining: Adjoining = "outside"
    facing_deg: Annotated[float, Field(ge=0, lt=360)] = 0.0
    slope_deg: Annotated[float, Field(ge=0, le=180)] = 90.0
    factor_b: Annotated[float, Field(ge=0, le=1)] = 1.0
    exposure: Exposure = "moderate"
    rain_factors: tuple[NonNegative, NonNegative, NonNegative, NonNegative] | None = None
    climate: str = "corrie"
    occupancy: Occupancy = "normal"
    set_point_c: Annotated[Celsius, Field(ge=5, le=30)] = 20.0
    start_rh: Annotated[float, Field(ge=0.3, le=0.99)] = 0.8
    bad_year: bool = False
    extra_rh: Annotated[float, Field(ge=-0.2, le=0.2)] = 0.0
    rain_scale: Annotated[float, Field(ge=0, le=5)] = 1.0
    active_share: Annotated[float, Field(ge=0, le=1)] = ACTIVE_SHARE
    absorptance: Annotated[float, Field(ge=0, le=1)] = 0.6
    strip: Strip = "whole"
    ground: Ground = "moist"
    works_on: Annotated[str, Field(pattern=r"^\d{2}-\d{2}$")] = WORKS_ON
    beside_found: Annotated[str, Field(max_length=80)] = ""
    beside_after: Annotated[str, Field(max_length=80)] = ""

    @property
    def profile(self) -> IndoorProfile:
        """The indoor profile of the hourly years."""
        if self.occupancy in ("normal", "high"):
            return f"en15026_{self.occupancy}"  # type: ignore[return-value]
        if self.occupancy in ROOMS:
            return ROOMS[self.occupancy]
        return "measured" if self.occupancy.startswith("own-") else self.occupancy  # type: ignore[return-value]

    @property
    def driven_rain(self) -> DrivenRain:
        """The factors as the hourly years take them."""
        if self.rain_factors is not None:
            terrain, topography, obstruction, wall = self.rain_factors
        else:
            (terrain, obstruction, wall), topography = EXPOSURE_FACTORS[self.exposure], 1.0
        return DrivenRain(
            terrain_factor=terrain * self.rain_scale,
            topography_factor=topography,
            obstruction_factor=obstruction,
            wall_factor=wall,
        )


class NamedLimit(Strict):
    """What leaves an element only so much. most: mm from the as-found finish; of a weight kg/m² added."""

    kind: NamedLimitKind
    most: Annotated[float, Field(ge=0, le=3000)]
    note: Annotated[str, Field(max_length=300)] = ""

    @property
    def side(self) -> LimitSide:
        return LIMIT_SIDES[self.kind][0]

    @property
    def words(self) -> str:
        return LIMIT_SIDES[self.kind][1] + (f" ({self.note})" if self.note else "")


def at_fascia(kind: Kind, slope_deg: float) -> float:
    """What a millimetre square to a roof slope is at its fascia, which stands upright; 1 for all else."""
    lies = kind == "roof" and 0.0 < slope_deg < STEEPEST_ROOF_DEG
    return 1.0 / math.cos(math.radians(slope_deg)) if lies else 1.0


class Limits(Strict):
    """How far an element may grow from the as-found finish [mm]; absent: no limit known.

    named: what of it has a name; room_mm and outside_mm are the tightest on their side, with a name or without.
    weight_kg_m2: what may be added. reveal_mm: what fits on the reveals of its openings.
    """

    room_mm: NonNegative | None = None
    outside_mm: NonNegative | None = None
    target_u_w_m2k: Positive | None = None
    weight_kg_m2: NonNegative | None = None
    reveal_mm: NonNegative | None = None
    named: Annotated[list[NamedLimit], Field(max_length=12)] = []

    def reached_by(self, u: float | None) -> bool:
        """Whether a U [W/(m² K)] meets the target to the last digit that is shown; without a target or a U nothing does."""
        return self.target_u_w_m2k is not None and u is not None and u <= self.target_u_w_m2k + U_SLACK


def absorptance_of(build_up: BuildUp, place: Place, new: bool) -> float:
    """Of the sun, of the face in the weather: as its layer says; of a layer that is new the usual colour of its material; else as the place says of what stands there.

    new: the build-up is one to come, so that a layer that does not exist brings its own colour.
    """
    for layer in build_up.layers:
        if layer.absorptance is not None:
            return layer.absorptance
        if not new or layer.existing:
            break
        if layer.entry.absorptance is not None:
            return layer.entry.absorptance
        if layer.thickness_mm is not None:
            break  # only a coat shows what it lies on
    return place.absorptance


def mass(build_up: BuildUp) -> float:
    """kg/m² of the layers that have a thickness, members by their share."""
    total = 0.0
    for layer in build_up.layers:
        density = layer.entry.density_kg_m3 if isinstance(layer.entry, Solid) else 0.0
        if layer.framing is not None:
            members = entry_of(layer.framing.material)
            share = layer.framing.share
            density = share * (members.density_kg_m3 if isinstance(members, Solid) else 0.0) + (1 - share) * density
        total += density * layer.thickness
    return total


def brought(as_found: BuildUp, option: BuildUp) -> list[BuildUpLayer]:
    """Layers that an option brings: of another material than stands there as found, or not there at all."""
    there = {layer.id: layer.material for layer in as_found.layers}
    return [layer for layer in option.layers if there.get(layer.id) != layer.material]
