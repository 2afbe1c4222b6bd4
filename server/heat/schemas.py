"""Heat as it is answered."""

from __future__ import annotations

from typing import Annotated, Literal

from ninja import Schema
from pydantic import Field

from core.aims import Aim
from core.air_flow.leaks import Carried
from core.air_flow.order import SealStep
from core.bills import BillFit
from core.footing import Footing
from core.rooms import RoomLoads, Rooms
from core.say import Said
from core.zones.balance import Balance
from core.zones.factors import SpaceLoss
from core.zones.monthly import MonthlyNeed
from core.zones.stated import AirStated, Energy, RoomAir
from server.projects.schemas import Body


class LineOut(Schema):
    """Both heated lines. after_on_floor_before: the loss after on the floor that was heated before; like_for_like: what the rooms heated after would
    have lost with the fabric and air as found, None where the line stays."""

    moved: list[str]
    lost: list[str]
    volume_before_m3: float
    volume_after_m3: float
    floor_before_m2: float
    floor_after_m2: float
    before_w_m2k: float | None
    after_w_m2k: float | None
    after_on_floor_before_w_m2k: float | None
    like_for_like_w_k: float | None


class HeatRow(Schema):
    """stands: in the heated line before the works, after them, or both; its area is 0 where it is not."""

    element_id: int | None
    name: str
    kind: str
    stands: str
    area_m2: float | None
    area_after_m2: float | None
    factor_b: float | None
    factor_after: float | None
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
    line: LineOut
    spaces_before: list[SpaceLoss]
    spaces_after: list[SpaceLoss]


class TestOut(Schema):
    """A blower-door test in the line of tests."""

    uid: str
    stage: str
    on: str
    q50_m3_h: float
    n50: float | None
    valid: bool


class LeakRow(Schema):
    """One row of the ledger. stands: in the line before the works, after them, or both. height, face, area, to (outside, or the id of a cold space): after the works where it stands
    then; area_before: as found. q50_open: after them with nothing closed. in_*, out_*: mean flow over the year [m³/h]; before, after: what it could dry and wet at most [kg/a]."""

    key: str
    element_id: int | None
    name: str
    stands: str
    height_m: float
    facing_deg: float | None
    to: str
    area_m2: float | None
    area_before_m2: float | None
    q50_open: float
    q50_before: float
    q50_after: float
    share: float
    typed: bool
    left_typed: float | None
    words: str
    in_before: float
    out_before: float
    in_after: float
    out_after: float
    before: Carried
    after: Carried


class VapourRow(Schema):
    what: str
    kg_day: float


class StateAir(Schema):
    """Of one state. changes_1_h: by leaks, of the heating season; neutral_m: height at which no air passes, in the middle of cold hours."""

    stated: AirStated
    q50_m3_h: float | None
    n50: float | None
    volume_m3: float
    changes_1_h: float | None
    neutral_m: float | None
    vapour: list[VapourRow]


class SpaceOut(Schema):
    id: str
    name: str
    kind: str
    volume_m3: float
    earth_m2: float
    usual_changes: float
    stands: str


class FloorOut(Schema):
    """A floor on the ground that may have insulation along its edge: its key in what is stated."""

    key: str
    name: str
    stands: str


class WallLimit(Schema):
    """What a chosen option stands to, by its newest study: rooms at most so damp in the coldest month, or a leakage at most [m³/(h m²) at 50 Pa].

    now: what the scheme gives it, None where that is not known; tried: no draw failed, so that it is only the end of what was tried.
    """

    element_id: int
    element: str
    option: str
    what: Literal["rooms", "leakage"]
    most: float
    now: float | None
    tried: bool
    out_of_date: bool


class Named(Schema):
    """What the Brief says of air, in its own words."""

    what: str
    words: str


class AirOut(Schema):
    """whence: where the sums of the ledger come from; refused: why there is none. same_after: nothing is stated of the scheme, so that it is as found."""

    tests: list[TestOut]
    whence: str
    refused: str
    rows: list[LeakRow]
    named: list[Named]
    words: list[Said]
    before: StateAir
    after: StateAir
    same_after: bool
    spaces: list[SpaceOut]
    floors: list[FloorOut]
    limits: list[WallLimit]
    aim: Aim | None
    people_fresh_m3_h: float


class AirBody(Body):
    """began: as it was when one began; refused with 409 where it is not so any more."""

    after: bool
    air: AirStated
    began: AirStated | None = None


class HouseAirBody(Body):
    after: bool


class Taken(Schema):
    changed: int


class AiringBody(Body):
    most_rh: Annotated[float, Field(ge=0.2, le=0.9)]


class AiringOut(Schema):
    """more_kwh: of heat, against what is stated now."""

    airing_m3_h: float
    now_m3_h: float
    rh: float
    month: str
    more_kwh: float
    fresh_m3_h: float


class Left(Body):
    key: Annotated[str, Field(min_length=1, max_length=130)]
    left: Annotated[float, Field(ge=0, le=1)]


class TryBody(Body):
    """A tightness or closed leaks that nobody keeps: n50 aimed at, and what is left of rows."""

    n50: Annotated[float, Field(ge=0, le=100)] | None = None
    left: Annotated[list[Left], Field(max_length=600)] = []


class TryOut(Schema):
    """Of the building after the works with it. order: in which to close the leaks."""

    n50: float
    changes_1_h: float
    heating_kwh: float
    as_found_kwh: float
    rh: float
    month: str
    fresh_m3_h: float
    needed_m3_h: float
    rows: list[LeakRow]
    words: list[Said]
    order: list[SealStep]


class BoundOut(Schema):
    """What may bound a room: an element's key in the ledger, or a leak that is no element."""

    key: str
    name: str
    area_m2: float


class LeftOut(Schema):
    words: Said
    watts: float


class RoomsState(Schema):
    """Of one state. whole_w: the design load of the whole by H and the set-point, as Loss shows it; usual_c: the set-point of a room that says none."""

    loads: RoomLoads
    left: list[LeftOut]
    whole_w: float
    usual_c: float


class RoomsStated(Body):
    """Rooms, and the air of each as found and in the scheme that is shown; a room of which nothing is said is left out of those."""

    rooms: Rooms
    air_found: Annotated[list[RoomAir], Field(max_length=120)] = []
    air_after: Annotated[list[RoomAir], Field(max_length=120)] = []


class RoomsOut(Schema):
    """bounds: elements of either state; leaks: rows of the ledger that are no element; moved: the scheme has another shape."""

    stated: RoomsStated
    refused: str
    before: RoomsState | None
    after: RoomsState | None
    bounds: list[BoundOut]
    leaks: list[BoundOut]
    moved: bool


class RoomsBody(Body):
    """began: as they were when one began; refused with 409 where they are not so any more."""

    stated: RoomsStated
    began: RoomsStated | None = None


class CoolingRun(Schema):
    """Electricity of cooling and drying [kWh], and what it costs and emits."""

    before_kwh: float
    after_kwh: float
    cost_before: float | None
    cost_after: float | None
    carbon_before_kg: float | None
    carbon_after_kg: float | None


class Running(Schema):
    """Of heating, by the need and the efficiencies that were stated. cooling: None where nothing is cooled."""

    fuel_before_kwh: float
    fuel_after_kwh: float
    cost_before: float | None
    cost_after: float | None
    carbon_before_kg: float | None
    carbon_after_kg: float | None
    another_plant: bool
    cooling: CoolingRun | None


class BalanceOut(Schema):
    """refused: why there are no figures. left_out: elements of which nothing is stated."""

    refused: str
    method: str
    before: Balance | None = None
    after: Balance | None = None
    monthly_before: MonthlyNeed | None = None
    monthly_after: MonthlyNeed | None = None
    left_out: list[str] = []
    air_refused: str = ""
    warnings: list[Said] = []
    aim: Aim | None = None
    assumed: list[Said] = []
    energy: Energy
    running: Running | None = None
    fit: BillFit | None = None
    no_fit: str = ""
    floor_before_m2: float = 0.0
    floor_after_m2: float = 0.0
    set_before_c: float = 0.0
    set_after_c: float = 0.0


class BillsBody(Body):
    energy: Energy


class FootingAsked(Body):
    """The section across the wall at its foot, as found and after."""

    before: Footing
    after: Footing


class FootingRow(Schema):
    """day: of the year, 0 the first of January."""

    name: str
    coldest_c: float
    day: int
    frost_m: float


class FootingOut(Schema):
    asked: FootingAsked
    rows: list[FootingRow]
    note: Said
