"""Bodies and answers of the API. Unknown fields are refused."""

from __future__ import annotations

from datetime import datetime
from typing import Annotated, Literal

from ninja import Schema
from pydantic import ConfigDict, Field

from core.brief import LimitSaid
from core.buildup.levers import LeverKey
from core.buildup.model import Adjoining, BuildUp, Exposure, Ground, Kind, LeakPreset, Limits, Occupancy
from core.buildup.planes import SensitivePlane
from core.criteria.judging import State
from core.criteria.run_findings import Balances
from core.criteria.verdict import Verdict
from core.moisture.steady import Condensation, DryingAbility, DryingLeft, FreeDrying, ProfilePlane
from core.moisture.traps import Trap
from core.say import Said
from core.study import UncertainInput
from core.survey.record import BuildingField, FollowingField, FromShape
from core.thermal.iso6946 import Transmittance
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
    climate: Annotated[str, Field(pattern=r"^[a-z0-9-]{1,40}$")] = "corrie"
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


class ProjectBody(ProjectFields):
    """began_from: the fields as they were when the edit began; then only those that differ from it are changed."""

    began_from: ProjectFields | None = None


class ElementFields(Body):
    """One element. Windows and doors state U and g; everything else has a build-up.

    occupancy, set_point_c, absorptance: empty where the project's, or the usual, holds. perimeter_m, depth_m: of a floor
    against the ground, its exposed perimeter and how deep it lies.
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
    perimeter_m: Positive | None = None
    depth_m: Annotated[float, Field(ge=0, le=10)] | None = None
    room_limit_mm: NonNegative | None = None
    outside_limit_mm: NonNegative | None = None
    target_u_w_m2k: Positive | None = None
    u_w_m2k: Positive | None = None
    g_value: Annotated[float, Field(ge=0, le=1)] | None = None
    planned_u_w_m2k: Positive | None = None
    planned_g_value: Annotated[float, Field(ge=0, le=1)] | None = None


class ElementBody(ElementFields):
    """began_from: the fields as they were when the edit began; absent: written over whatever is there now."""

    began_from: ElementFields | None = None


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
    """option_id: the option that is edited; absent for one that is not kept yet."""

    build_up: BuildUp
    typing: Typing | None = None
    option_id: int | None = None


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
    username: Annotated[str, Field(max_length=150)]
    password: Annotated[str, Field(max_length=500)]


class Person(Schema):
    username: str
    name: str


class Session(Schema):
    person: Person | None
    csrf_token: str


class SignedIn(Schema):
    """One sign-in that still holds. key: names it without being the secret of its cookie."""

    key: str
    device: str
    address: str
    since: datetime | None
    seen: datetime
    here: bool


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
    rain_surveyed: bool


class ProjectOut(ProjectFields):
    model_config = ConfigDict(extra="ignore", from_attributes=True)
    id: int
    changed_at: datetime
    typed: list[BuildingField]


class ReadinessOut(Schema):
    """Whether an element may be covered: state and every reason why not."""

    state: str
    reasons: list[str]


class LimitOut(Schema):
    """One limit of a criterion: in force, as it is by default, and why."""

    key: str
    criterion: str
    name: str
    value: float
    default: float
    unit: str
    why: str
    least: float
    most: float


class CriterionOut(Schema):
    key: str
    covers_not: str


class LimitsOut(Schema):
    """covers_not: by criterion, what it looks at and what it does not cover."""

    limits: list[LimitOut]
    criteria: list[CriterionOut]


class EditedLimit(Body):
    key: Annotated[str, Field(max_length=40)]
    value: float


class LimitsBody(Body):
    """The limits that differ from their defaults."""

    limits: Annotated[list[EditedLimit], Field(max_length=60)]


class GiveBody(Body):
    """One construction to many elements: as found, of the element it is taken from."""

    from_element: int
    to_elements: Annotated[list[int], Field(min_length=1, max_length=500)]


class Progress(Schema):
    """How far the steps are that the project page cannot tell by itself. not_stated: elements without layers."""

    brief_missing: list[str]
    survey_missing: list[str]
    not_stated: int
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
    climate_gone: str


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
    over_limits: list[Said]
    drying: DryingAbility | None
    drying_left: DryingLeft
    plane: SensitivePlane | None
    opening_plane: str
    condensation: Condensation | None
    traps: list[Trap]
    profile: list[ProfilePlane]
    free_drying: FreeDrying | None
    leak_preset: LeakPreset
    leak_q50: float
    leak_layer: str
    rain_leak_share: float
    rain_leak_layer: str
    transient_refused: str
    case_hash: str
    ground_u_w_m2k: float | None
    loss_kwh_m2a: float | None


class RunState(Schema):
    """The hourly years of an option: state in words, and what the newest result that fits, or used to, says.

    older: computed with an older solver or older criteria; run it again. before, wait_s: while it waits, how many runs come
    first, and about how long that takes.
    """

    state: Literal["not run", "waiting", "running", "current", "out of date", "failed", "cancelled", "not available"]
    run_id: int | None = None
    progress: float = 0.0
    doing: str = ""
    error: str = ""
    verdict: Verdict | None = None
    balances: Balances | None = None
    wetting_kg_m2: float | None = None
    older: bool = False
    before: int = 0
    wait_s: float | None = None


class WettingWords(Schema):
    """The newest wetting test of an option, in what ranks."""

    mean_stay_days: float
    half_left_after: float | None
    left_g: float
    at_heating: float
    passes: bool
    stale: bool


class TestWords(Schema):
    """What the newest tests say of an option; stale where something changed since."""

    wetting: WettingWords | None = None
    bad_year: State | None = None
    study_over: int = 0
    study_runs: int = 0
    stale: bool = False


class OptionOut(Schema):
    """study: what a study of it asks first, with ranges."""

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
    study: list[UncertainInput]


class Conditions(Schema):
    climate_label: str
    climate_origin: str
    facing: str
    driven_rain_mm: float
    exposure: str
    occupancy: str
    set_point_c: float
    start_rh: float
    works_on: str
    strip: str
    rain_face: bool
    target_u_w_m2k: float | None


class Lever(Schema):
    """Something that keeps the rain out, to be tried with one press."""

    key: LeverKey
    words: str


class Drowned(Schema):
    """Rain drowns every difference between the options: said once, before they are ranked.

    enough: the largest share of today's rain at which the structure comes out of it, where runs found one; asked: those
    runs are under way or done.
    """

    words: Said
    enough: float | None
    asked: bool
    levers: list[Lever]


class Sheet(Schema):
    project: ProjectOut
    element: ElementOut
    siblings: list[int]
    limits: Limits
    limits_said: list[LimitSaid]
    conditions: Conditions
    datum_layer_id: str
    drowned: Drowned | None
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
    note: Said


class Credit(Schema):
    """What one thing takes off the building's loss."""

    what: Said
    w_k: float
    kwh: float


class HeatOut(Schema):
    """missing: what no figure is known for; the total is then of the known parts only. credits: options and air apart."""

    rows: list[HeatRow]
    total: HeatRow
    complete: bool
    credits: list[Credit]
    degree_hours_kh: float
    set_point_c: float
    design_c: float
    climate_label: str
    climate_origin: str
    missing: list[str]
    arithmetic: list[Said]
