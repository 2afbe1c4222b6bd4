"""What a consultant draws: an element in its place, and the layers of one option.

Plain data with units in the names, shared by the API, the project file and the core.
"""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field, model_validator

from core.case import Celsius, DrivenRain, IndoorProfile, NonNegative, Positive, Strict
from core.materials.library import AirLayer, Sheet, Solid, entry_of
from core.quantities import MAX_THICKNESS

Known = Literal["seen", "probed", "drawing", "assumed"]
Exposure = Literal["sheltered", "moderate", "exposed", "severe"]
LeakPreset = Literal["none", "tested tight", "careful", "leaky", "q50"]
# Indoor profiles by the words the survey uses; own-…: a measured series that was imported.
Occupancy = Annotated[str, Field(pattern=r"^(normal|high|bath|cooled|iso13788_[1-5]|own-[0-9a-f]{12})$")]
INDOOR_WORDS = {
    "normal": "normal occupancy (EN 15026)",
    "high": "high occupancy (EN 15026)",
    "bath": "a room with a bath",
    "cooled": "cooled in summer to 23 °C",
    "iso13788_1": "ISO 13788 class 1, stores",
    "iso13788_2": "ISO 13788 class 2, offices, homes with few people",
    "iso13788_3": "ISO 13788 class 3, homes, occupancy not known",
    "iso13788_4": "ISO 13788 class 4, kitchens, canteens, gyms",
    "iso13788_5": "ISO 13788 class 5, laundries, pools",
}
Kind = Literal["wall", "roof", "floor", "window", "door"]
Adjoining = Literal["outside", "ground", "unheated"]
ThicknessMm = Annotated[float, Field(gt=0, le=MAX_THICKNESS * 1000)]

# Air through the element itself at 50 Pa [m³/(h m²)], of which all passes the plane where it cools. Estimates of ours.
LEAK_Q50: dict[LeakPreset, float] = {"none": 0.0, "tested tight": 0.3, "careful": 1.0, "leaky": 3.0}
# One year in ten or so, ours: what “bad year” means wherever it is said.
BAD_YEAR_SHIFT_K, BAD_YEAR_RAIN, BAD_YEAR_RH = -1.5, 1.3, 0.05
BAD_YEAR_WORDS = "a bad year: every hour 1.5 K colder, 30 % more rain, 5 points more RH inside"
# Terrain × obstruction × wall factors of ISO 15927-3 for four words; topography stays 1. The grouping is ours.
EXPOSURE_FACTORS: dict[Exposure, tuple[float, float, float]] = {
    "sheltered": (0.65, 0.3, 0.3),
    "moderate": (0.75, 0.5, 0.4),
    "exposed": (0.9, 0.6, 0.4),
    "severe": (1.0, 1.0, 0.4),
}


class Framing(Strict):
    """A share of the layer's face that is another material: studs, rafters, joists."""

    material: str
    share: Annotated[float, Field(gt=0, lt=1)]


class BuildUpLayer(Strict):
    """One layer. Membranes and coatings have no thickness; everything else must have one.

    start_rh: RH at the start of the hourly years where built-in water makes it wetter than the rest; absent: as the place.
    """

    id: Annotated[str, Field(min_length=1, max_length=40)]
    material: str
    thickness_mm: ThicknessMm | None = None
    known: Known = "assumed"
    framing: Framing | None = None
    existing: bool = False
    start_rh: Annotated[float, Field(ge=0.3, le=1.0)] | None = None
    photo: Annotated[str, Field(max_length=40)] = ""

    @model_validator(mode="after")
    def _thickness_fits(self) -> BuildUpLayer:
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
        return self

    @property
    def entry(self) -> Solid | Sheet | AirLayer:
        return entry_of(self.material)

    @property
    def thickness(self) -> float:
        """m; 0 for membranes and coatings."""
        return (self.thickness_mm or 0.0) / 1000.0


class AirLeakage(Strict):
    """Room air that leaks through the element. after_layer: to the inner face of that layer; absent: by rule."""

    preset: LeakPreset = "none"
    q50_m3_m2h: Annotated[float, Field(gt=0, le=50)] | None = None
    after_layer: str | None = None

    @model_validator(mode="after")
    def _value_given(self) -> AirLeakage:
        if (self.preset == "q50") != (self.q50_m3_m2h is not None):
            raise ValueError("give q50_m3_m2h with the preset “q50”, and only there")
        return self

    @property
    def q50(self) -> float:
        """m³/(h m²) at 50 Pa."""
        return self.q50_m3_m2h if self.q50_m3_m2h is not None else LEAK_Q50[self.preset]


class RainLeakage(Strict):
    """A share of the driven rain that gets in to the inner face of a layer; absent: by rule."""

    share: Annotated[float, Field(ge=0, le=0.2)] = 0.0
    after_layer: str | None = None


class BuildUp(Strict):
    """Layers from outside to inside (roofs and floors: from above… the cold side… to the room)."""

    layers: Annotated[list[BuildUpLayer], Field(min_length=1, max_length=40)]
    air_leak: AirLeakage = AirLeakage()
    rain_leak: RainLeakage = RainLeakage()

    @model_validator(mode="after")
    def _ids(self) -> BuildUp:
        ids = [layer.id for layer in self.layers]
        if len(set(ids)) != len(ids):
            raise ValueError("two layers share one id")
        if not any(layer.thickness_mm for layer in self.layers):
            raise ValueError("a build-up needs at least one layer with thickness")
        for leak in (self.air_leak, self.rain_leak):
            if leak.after_layer is not None and leak.after_layer not in ids:
                raise ValueError(f"a leak goes to layer “{leak.after_layer}”, which is not in the build-up")
        return self

    def leak_layer(self, leak: AirLeakage | RainLeakage) -> str:
        """Id of the layer at whose inner face a leak arrives: the one stated, or by rule.

        Rule: the outer face of the outermost insulation, where leaking air cools and rain that came through stops;
        without insulation the inner face of the outermost layer.
        """
        if leak.after_layer is not None:
            return leak.after_layer
        solid = [i for i, layer in enumerate(self.layers) if not isinstance(layer.entry, Sheet)]
        for index in solid[1:]:
            if self.layers[index].entry.group == "insulation":
                return self.layers[index - 1].id
        return self.layers[solid[0]].id

    @property
    def thickness(self) -> float:
        """m."""
        return sum(layer.thickness for layer in self.layers)


class Place(Strict):
    """Where an element stands: what the core needs to know beside its layers.

    rain_factors: terrain, topography, obstruction and wall factor of ISO 15927-3, where the face was surveyed in
    steps; else the word in `exposure` stands for them.
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

    @property
    def profile(self) -> IndoorProfile:
        """The indoor profile of the hourly years."""
        if self.occupancy in ("normal", "high"):
            return f"en15026_{self.occupancy}"  # type: ignore[return-value]
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


class Limits(Strict):
    """How far an element may grow from the as-found finish [mm]; absent: no limit known."""

    room_mm: NonNegative | None = None
    outside_mm: NonNegative | None = None
    target_u_w_m2k: Positive | None = None


def datum_layer(as_found: BuildUp) -> BuildUpLayer:
    """The layer whose inner face is the datum: the thickest existing solid layer as found."""
    solid = [layer for layer in as_found.layers if isinstance(layer.entry, Solid)]
    existing = [layer for layer in solid if layer.existing] or solid or list(as_found.layers)
    return max(existing, key=lambda layer: layer.thickness)


def growth(as_found: BuildUp, option: BuildUp) -> tuple[float, float]:
    """(growth outside, room lost) of an option [m], both from the as-found finish.

    Negative when the option is thinner on that side. Measured about the datum layer when the option
    still has it, else all of the difference counts to the room.
    """
    datum = datum_layer(as_found).id

    def split(build_up: BuildUp) -> tuple[float, float] | None:
        position = 0.0
        for layer in build_up.layers:
            position += layer.thickness
            if layer.id == datum:
                return position, build_up.thickness - position
        return None

    found, new = split(as_found), split(option)
    if found is None or new is None:
        return 0.0, option.thickness - as_found.thickness
    return new[0] - found[0], new[1] - found[1]
