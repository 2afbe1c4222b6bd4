"""Bodies and answers of the API. Unknown fields are refused."""

from __future__ import annotations

from datetime import datetime
from typing import Annotated, Any, Literal

from ninja import Schema
from pydantic import ConfigDict, Field

from core.buildup.model import Adjoining, BuildUp, Exposure, Kind, Limits, Occupancy
from core.moisture.steady import Condensation, DryingAbility, FreeDrying, ProfilePlane
from core.moisture.traps import Trap
from core.thermal.iso6946 import Transmittance

Name = Annotated[str, Field(min_length=1, max_length=120)]
Positive = Annotated[float, Field(gt=0, lt=1e7)]
NonNegative = Annotated[float, Field(ge=0, lt=1e7)]


class Body(Schema):
    model_config = ConfigDict(extra="forbid", allow_inf_nan=False)


class ProjectFields(Body):
    """What a project states of itself; everything may be changed later."""

    name: Name
    climate: str = "corrie"
    occupancy: Occupancy = "normal"
    set_point_c: Annotated[float, Field(ge=5, le=30)] = 20.0
    start_rh: Annotated[float, Field(ge=0.3, le=0.99)] = 0.8
    volume_m3: Positive | None = None
    floor_area_m2: Positive | None = None
    air_kind: Literal["n50", "natural"] = "n50"
    air_value: NonNegative | None = None
    air_value_after: NonNegative | None = None


class ElementFields(Body):
    """One element. Windows and doors state U and g; everything else has a build-up."""

    name: Name
    kind: Kind
    area_m2: Positive
    facing_deg: Annotated[float, Field(ge=0, lt=360)] = 0.0
    slope_deg: Annotated[float, Field(ge=0, le=180)] = 90.0
    adjoining: Adjoining = "outside"
    factor_b: Annotated[float, Field(ge=0, le=1)] = 1.0
    exposure: Exposure = "moderate"
    room_limit_mm: NonNegative | None = None
    outside_limit_mm: NonNegative | None = None
    target_u_w_m2k: Positive | None = None
    u_w_m2k: Positive | None = None
    g_value: Annotated[float, Field(ge=0, le=1)] | None = None
    planned_u_w_m2k: Positive | None = None
    planned_g_value: Annotated[float, Field(ge=0, le=1)] | None = None


class NewElement(ElementFields):
    build_up: BuildUp | None = None


class ChoiceBody(Body):
    option_id: int | None
    reason: Annotated[str, Field(max_length=2000)] = ""


class Typing(Body):
    """A thickness as it is being typed: parsed by the core, never by the browser."""

    layer_id: str
    text: Annotated[str, Field(max_length=40)]
    unit: Literal["mm", "in"] = "mm"


class PreviewBody(Body):
    build_up: BuildUp
    typing: Typing | None = None


class NewOption(Body):
    name: Name
    school: Annotated[str, Field(max_length=60)] = ""
    build_up: BuildUp


class OptionBody(Body):
    """Commit of an option; `revision` is the one the edit began from."""

    revision: int
    name: Name | None = None
    school: Annotated[str, Field(max_length=60)] | None = None
    build_up: BuildUp


class DraftBody(Body):
    build_up: BuildUp


class LoginBody(Body):
    username: str
    password: str


class Person(Schema):
    username: str
    name: str


class Session(Schema):
    person: Person | None
    csrf_token: str


class ElementOut(ElementFields):
    model_config = ConfigDict(extra="ignore", from_attributes=True)
    id: int
    position: int
    chosen_id: int | None
    chosen_reason: str
    chosen_by: str
    chosen_at: datetime | None
    shape_key: str
    derived: dict[str, Any]
    corrected: list[str]
    body: str
    rain_surveyed: bool


class ProjectOut(ProjectFields):
    model_config = ConfigDict(extra="ignore", from_attributes=True)
    id: int
    changed_at: datetime
    corrected: list[str]


class ReadinessOut(Schema):
    """Whether an element may be covered: state and every reason why not."""

    state: str
    reasons: list[str]


class Progress(Schema):
    """How far the steps are that the project page cannot tell by itself."""

    brief_missing: list[str]
    bodies: int
    evidence: int
    unexplained: int


class HistoryOut(Schema):
    person: str
    action: str
    what: str
    at: datetime


class ProjectPage(Schema):
    project: ProjectOut
    elements: list[ElementOut]
    history: list[HistoryOut]
    readiness: dict[int, ReadinessOut]
    progress: Progress


class ProjectListed(Schema):
    id: int
    name: str
    climate: str
    elements: int
    chosen: int
    changed_at: datetime


class PreviewOut(Schema):
    """Figures of one build-up; SI with the unit in the name where it crosses the border."""

    build_up: BuildUp
    thermal: Transmittance | None
    refused: str
    thickness_mm: float
    room_lost_mm: float
    growth_outside_mm: float
    over_limits: list[str]
    drying: DryingAbility | None
    drying_plane: str
    condensation: Condensation | None
    traps: list[Trap]
    profile: list[ProfilePlane]
    free_drying: FreeDrying | None
    leak_layer: str
    rain_leak_layer: str
    transient_refused: str
    case_hash: str
    loss_kwh_m2a: float | None


class RunState(Schema):
    """The hourly years of an option: state in words, and the newest result that fits or used to."""

    state: Literal["not run", "waiting", "running", "current", "out of date", "failed", "cancelled", "not available"]
    run_id: int | None
    progress: float
    doing: str
    error: str
    verdict: dict[str, Any] | None
    summary: dict[str, Any] | None


class TestWords(Schema):
    """What the newest tests say of an option as it is; empty where there is none, stale where something changed since.

    caution: why a verdict within limits is only marginal, or empty.
    """

    wetting: str = ""
    bad_year: str = ""
    study: str = ""
    stale: bool = False
    caution: str = ""


class OptionOut(Schema):
    id: int
    role: str
    position: int
    name: str
    school: str
    revision: int
    build_up: BuildUp
    draft: BuildUp | None
    figures: PreviewOut
    run: RunState
    tests: TestWords


class Conditions(Schema):
    climate_label: str
    climate_origin: str
    facing: str
    driven_rain_mm: float
    exposure: str
    occupancy: str
    set_point_c: float
    start_rh: float
    target_u_w_m2k: float | None


class Sheet(Schema):
    project: ProjectOut
    element: ElementOut
    siblings: list[int]
    limits: Limits
    limits_said: dict[str, str]
    conditions: Conditions
    datum_layer_id: str
    options: list[OptionOut]


class HeatRow(Schema):
    element_id: int | None
    name: str
    kind: str
    area_m2: float | None
    factor_b: float | None
    u_before: float | None
    u_after: float | None
    before_w_k: float
    after_w_k: float
    before_kwh: float
    after_kwh: float
    before_w: float
    after_w: float
    note: str


class HeatOut(Schema):
    rows: list[HeatRow]
    total: HeatRow
    degree_hours_kh: float
    set_point_c: float
    design_c: float
    climate_label: str
    climate_origin: str
    missing: list[str]
    arithmetic: list[str]
