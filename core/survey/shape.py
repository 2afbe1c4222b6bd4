"""The shape of a building from few dimensions: bodies with a plan outline, storeys, a roof, and what lies below.

Plan: x to the right, y up, in metres. Heights: z in metres above the project's zero, which is a level the
consultant picks (usually the ground at the main door).
"""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field, model_validator

from core.case import Strict

Metres = Annotated[float, Field(gt=0, le=200)]
Id = Annotated[str, Field(min_length=1, max_length=30, pattern=r"^[a-z0-9_]+$")]
Name = Annotated[str, Field(min_length=1, max_length=80)]
RoofForm = Literal["gable", "hip", "lean_to", "flat", "mansard"]
Below = Literal["slab", "void", "cellar", "heated_cellar", "open"]
Terrain = Literal["I", "II", "III", "IV"]
TopographyPosition = Literal["level", "foot", "slope", "crest"]
Coordinate = Annotated[float, Field(ge=-500, le=500)]
TALLEST_M = 100.0  # eaves above the ground; ISO 15927-3 and the drawings go no further
LETTERS = "abcdefghijklmnopqrstuvwxyz"


class Roof(Strict):
    """A roof over one body. Eaves lie at the top of the last storey.

    lean_to: rises from face `low_side`. mansard: steep from the two long sides up to `break_height_m`,
    then at `upper_pitch_deg`. ridge: along the longer side of the outline, or across it.
    room: rooms under the slopes, so that the envelope follows them; else the ceiling is the envelope.
    """

    form: RoofForm = "gable"
    pitch_deg: Annotated[float, Field(ge=0, le=80)] = 40.0
    ridge: Literal["along", "across"] = "along"
    low_side: Annotated[str, Field(pattern="^[a-z]?$")] = ""
    break_height_m: Metres | None = None
    upper_pitch_deg: Annotated[float, Field(gt=0, le=60)] | None = None
    room: bool = False
    eaves_overhang_m: Annotated[float, Field(ge=0, le=5)] = 0.3
    verge_overhang_m: Annotated[float, Field(ge=0, le=5)] = 0.1

    @model_validator(mode="after")
    def _complete(self) -> Roof:
        if self.form in ("gable", "hip", "lean_to", "mansard") and self.pitch_deg <= 0:
            raise ValueError("a sloped roof needs a pitch above 0°; or choose a flat roof")
        if self.form == "lean_to" and not self.low_side:
            raise ValueError("a lean-to roof needs the letter of its low side")
        if self.form == "mansard":
            if self.break_height_m is None or self.upper_pitch_deg is None:
                raise ValueError("a mansard needs the height of its break and the upper pitch")
            if self.upper_pitch_deg >= self.pitch_deg:
                raise ValueError("the upper pitch of a mansard is less than the lower one")
        return self


class Storey(Strict):
    """own_walls: its outer walls are made differently from the storey below, and become elements of their own."""

    name: Name
    height_m: Annotated[float, Field(gt=1, le=30)]
    own_walls: bool = False


class Body(Strict):
    """The main body or a wing. Faces are named a, b, c … after the outline's sides in their order."""

    id: Id
    name: Name
    outline: Annotated[list[tuple[Coordinate, Coordinate]], Field(min_length=3, max_length=24)]
    storeys: Annotated[list[Storey], Field(min_length=1, max_length=12)]
    roof: Roof = Roof()
    level_m: Annotated[float, Field(ge=-20, le=100)] = 0.3
    ground_m: Annotated[float, Field(ge=-20, le=100)] = 0.0
    below: Below = "slab"  # open: outside air, under a part that juts out or stands on posts
    below_height_m: Metres = 0.6
    wall_mm: Annotated[float, Field(gt=0, le=3000)] = 300.0
    heated: bool = True

    @model_validator(mode="after")
    def _closed(self) -> Body:
        from shapely import Polygon

        polygon = Polygon(self.outline)
        if not polygon.is_valid:
            raise ValueError(f"the outline of “{self.name}” crosses itself; put the corners in order round the plan")
        if polygon.area < 0.5:
            raise ValueError(f"the outline of “{self.name}” encloses less than 0.5 m²")
        if self.roof.form == "lean_to" and self.roof.low_side not in self.faces:
            raise ValueError(f"“{self.name}” has no face “{self.roof.low_side}” for the low side of its roof")
        if self.eaves_m - self.ground_m > TALLEST_M:
            raise ValueError(
                f"the eaves of “{self.name}” lie more than {TALLEST_M:g} m above the ground; check the storeys"
            )
        return self

    @property
    def faces(self) -> list[str]:
        return list(LETTERS[: len(self.outline)])

    @property
    def eaves_m(self) -> float:
        """Level of the eaves [m]."""
        return self.level_m + sum(storey.height_m for storey in self.storeys)


class FacePart(Strict):
    """A share of one face that is made differently from the rest: 55 % with a batt, 45 % empty."""

    id: Id
    name: Name
    share: Annotated[float, Field(gt=0, lt=1)]


class FaceParts(Strict):
    """The parts of one face; they make up the whole of it."""

    body: Id
    face: Annotated[str, Field(pattern="^[a-z]$")]
    parts: Annotated[list[FacePart], Field(min_length=2, max_length=6)]

    @model_validator(mode="after")
    def _whole(self) -> FaceParts:
        total = sum(part.share for part in self.parts)
        if abs(total - 1.0) > 1e-6:
            raise ValueError(f"the parts of face {self.face} add up to {total:.0%}, not to the whole face")
        if len({part.id for part in self.parts}) != len(self.parts):
            raise ValueError(f"two parts of face {self.face} share one id")
        return self


class Opening(Strict):
    """Like windows or doors in one face, or in the roof that falls toward it. U and g are estimated from frame and glazing until typed.

    overhang_m: what juts out over its head; horizon_deg: altitude of the skyline in front of it.
    """

    id: Id
    name: Name
    kind: Literal["window", "door"] = "window"
    body: Id
    face: Annotated[str, Field(pattern="^[a-z]$")]
    storey: Annotated[int, Field(ge=0, le=11)] = 0
    count: Annotated[int, Field(ge=1, le=60)] = 1
    width_m: Annotated[float, Field(gt=0, le=20)]
    height_m: Annotated[float, Field(gt=0, le=20)]
    sill_m: Annotated[float, Field(ge=0, le=20)] = 0.9
    at_m: Annotated[float, Field(ge=0, le=200)] | None = None
    frame: Literal["timber", "metal", "metal_broken", "plastic"] = "timber"
    glazing: Literal["single", "double_old", "double_low_e", "triple", "boards"] = "single"
    secondary: Literal["none", "single", "double_low_e"] = "none"
    shading: Literal["none", "reveal", "trees", "buildings", "shutters"] = "none"
    reveal_mm: Annotated[float, Field(ge=0, le=2000)] = 0.0
    margin_mm: Annotated[float, Field(ge=0, le=1000)] = 0.0
    overhang_m: Annotated[float, Field(ge=0, le=10)] = 0.0
    horizon_deg: Annotated[float, Field(ge=0, le=80)] = 0.0
    u_w_m2k: Annotated[float, Field(gt=0, le=10)] | None = None
    g_value: Annotated[float, Field(ge=0, le=1)] | None = None
    in_roof: bool = False

    @model_validator(mode="after")
    def _no_door_in_a_roof(self) -> Opening:
        if self.in_roof and self.kind == "door":
            raise ValueError(f"“{self.name}” lies in the roof and is a window")
        return self

    @property
    def area_m2(self) -> float:
        return self.count * self.width_m * self.height_m


class Site(Strict):
    """What the whole place shares for driven rain (ISO 15927-3): terrain and topography."""

    terrain: Terrain = "III"
    position: TopographyPosition = "level"
    upwind_slope: Annotated[float, Field(ge=0, le=1)] = 0.0


class Shape(Strict):
    """All of the building. outlines: the dimensions as measured; areas: the ones that count for heat."""

    up_bearing_deg: Annotated[float, Field(ge=0, lt=360)] = 0.0
    outlines: Literal["external", "internal"] = "external"
    areas: Literal["internal", "external"] = "internal"
    bodies: Annotated[list[Body], Field(max_length=12)] = []
    parts: Annotated[list[FaceParts], Field(max_length=100)] = []
    openings: Annotated[list[Opening], Field(max_length=400)] = []
    site: Site = Site()

    @model_validator(mode="after")
    def _consistent(self) -> Shape:
        from shapely import Polygon

        bodies = {body.id: body for body in self.bodies}
        if len(bodies) != len(self.bodies):
            raise ValueError("two bodies share one id")
        if len({opening.id for opening in self.openings}) != len(self.openings):
            raise ValueError("two openings share one id")
        entries: list[FaceParts | Opening] = [*self.parts, *self.openings]
        for entry in entries:
            what = entry.name if isinstance(entry, Opening) else "parts"
            if entry.body not in bodies:
                raise ValueError(f"{what}: there is no body “{entry.body}”")
            body = bodies[entry.body]
            if entry.face not in body.faces:
                raise ValueError(f"{what}: “{body.name}” has no face {entry.face}")
            if isinstance(entry, Opening) and entry.storey >= len(body.storeys) + int(body.roof.room):
                raise ValueError(f"{what}: “{body.name}” has no storey {entry.storey}")
        polygons = [(body, Polygon(body.outline)) for body in self.bodies]
        for index, (body, polygon) in enumerate(polygons):
            for other, beyond in polygons[index + 1 :]:
                if polygon.intersection(beyond).area > 0.25 and _levels_overlap(body, other):
                    raise ValueError(f"“{body.name}” and “{other.name}” overlap in the plan; move one of them")
        return self

    def body(self, body_id: str) -> Body:
        return next(body for body in self.bodies if body.id == body_id)


def _levels_overlap(first: Body, second: Body) -> bool:
    return min(first.eaves_m, second.eaves_m) - max(first.level_m, second.level_m) > 0.01
