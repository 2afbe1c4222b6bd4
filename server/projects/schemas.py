"""Bodies and answers of the API. Unknown fields are refused."""

from __future__ import annotations

from datetime import datetime
from typing import Annotated, Literal

from ninja import Schema
from pydantic import ConfigDict, Field

from core.buildup.model import Adjoining, Exposure, Ground, Kind, NamedLimit, Occupancy
from core.survey.line import Stands
from core.survey.record import BuildingField, FollowingField, FromShape
from core.thermal.iso13370 import Soil

Name = Annotated[str, Field(min_length=1, max_length=120)]
Positive = Annotated[float, Field(gt=0, lt=1e7)]
NonNegative = Annotated[float, Field(ge=0, lt=1e7)]


class Body(Schema):
    model_config = ConfigDict(extra="forbid", allow_inf_nan=False)


MonthDay = Annotated[str, Field(pattern=r"^(0[1-9]|1[0-2])-(0[1-9]|[12]\d|3[01])$")]


class ProjectFields(Body):
    """What a project states of itself; everything may be changed later. works_on: month-day of the works."""

    name: Name
    climate: Annotated[str, Field(pattern=r"^[a-z0-9-]{1,70}$")] = "corrie"
    occupancy: Occupancy = "normal"
    set_point_c: Annotated[float, Field(ge=5, le=30)] = 20.0
    start_rh: Annotated[float, Field(ge=0.3, le=0.99)] = 0.8
    works_on: MonthDay = "05-01"
    soil: Soil = "sand or gravel"
    volume_m3: Positive | None = None
    floor_area_m2: Positive | None = None
    air_kind: Literal["n50", "natural"] = "n50"
    air_value: NonNegative | None = None
    air_value_after: NonNegative | None = None


class ElementFields(Body):
    """One element. Windows and doors state U and g; everything else has a build-up.

    occupancy, set_point_c, absorptance: empty where the project's, or the usual, holds. perimeter_m, depth_m: of a floor
    against the ground, its exposed perimeter and how deep it lies. outside_untouchable, inside_untouchable, plaster_off, escape_route:
    what may be reached, what lies open now, and what faces a way out.
    """

    name: Name
    kind: Kind
    area_m2: Positive
    facing_deg: Annotated[float, Field(ge=0, lt=360)] = 0.0
    slope_deg: Annotated[float, Field(ge=0, le=180)] = 90.0
    adjoining: Adjoining = "outside"
    factor_b: Annotated[float, Field(ge=0, le=1)] = 1.0
    exposure: Exposure = "moderate"
    occupancy: Occupancy | Literal[""] = ""
    set_point_c: Annotated[float, Field(ge=5, le=30)] | None = None
    absorptance: Annotated[float, Field(ge=0, le=1)] | None = None
    ground: Ground = "moist"
    outside_untouchable: bool = False
    plaster_off: bool = False
    inside_untouchable: bool = False
    escape_route: bool = False
    perimeter_m: Positive | None = None
    depth_m: Annotated[float, Field(ge=0, le=10)] | None = None
    room_limit_mm: NonNegative | None = None
    outside_limit_mm: NonNegative | None = None
    named_limits: Annotated[list[NamedLimit], Field(max_length=12)] = []
    target_u_w_m2k: Positive | None = None
    u_w_m2k: Positive | None = None
    g_value: Annotated[float, Field(ge=0, le=1)] | None = None
    planned_u_w_m2k: Positive | None = None
    planned_g_value: Annotated[float, Field(ge=0, le=1)] | None = None


class ElementOut(ElementFields):
    model_config = ConfigDict(extra="ignore", from_attributes=True)
    id: int
    position: int
    chosen_id: int | None
    chosen_reason: str
    chosen_by: str
    chosen_at: datetime | None
    choice_was: str
    shape_key: str
    from_shape: FromShape | None
    typed: list[FollowingField]
    body: str
    in_line: Stands | None
    rain_surveyed: bool


class ProjectOut(ProjectFields):
    model_config = ConfigDict(extra="ignore", from_attributes=True)
    id: int
    changed_at: datetime
    typed: list[BuildingField]
