"""What the options sheet asks and answers."""

from __future__ import annotations

from datetime import datetime
from typing import Annotated, Literal

from ninja import Schema
from pydantic import Field

from core.brief import LimitSaid
from core.buildup.anatomy import LayerRoles
from core.buildup.levers import LeverKey
from core.buildup.model import BuildUp, LeakPreset, Limits
from core.buildup.planes import SensitivePlane
from core.moisture.steady import Condensation, DryingAbility, DryingLeft, FreeDrying, ProfilePlane
from core.moisture.traps import Trap
from core.preview import OverLimit
from core.proposals.propose import Proposals
from core.say import Said
from core.study import UncertainInput
from core.thermal.iso6946 import Transmittance
from core.thermal.ladder import Ladder
from server.projects.schemas import Body, ElementOut, Name, ProjectOut
from server.runs.schemas import RunState, TestWords


class ChoiceSeen(Body):
    """The choice as it stood on the screen of who chooses now; scheme: the one that was shown, None where there was none yet."""

    scheme: int | None
    option_id: int | None
    reason: Annotated[str, Field(max_length=2000)]


class ChoiceBody(Body):
    """seen: refused with 409 where it is not so any more; without it nothing is compared."""

    option_id: int | None
    reason: Annotated[str, Field(max_length=2000)] = ""
    seen: ChoiceSeen | None = None


class AccessBody(Body):
    """outside_untouchable: by the neighbour, the protection, the scaffold; inside_untouchable: by panelling, paintings, a tenant;
    plaster_off: the inner face lies open; escape_route: nothing that burns may face it."""

    outside_untouchable: bool
    plaster_off: bool
    inside_untouchable: bool
    escape_route: bool


class WayRun(Schema):
    """The years of one way: waiting, running, done, cancelled, failed, or not asked for."""

    way: str
    status: str
    progress: float
    doing: str
    error: str


class ProposalsOut(Schema):
    """What could be done, and how far each way's years are."""

    proposals: Proposals
    runs: list[WayRun]
    trouble: str


class SpreadBody(Body):
    """To which elements of the same project."""

    elements: Annotated[list[int], Field(min_length=1, max_length=200)]


class SpreadOut(Schema):
    """What became of one element: its new option with its U and its own limits, or why there is none."""

    element_id: int
    name: str
    option_id: int | None
    u_w_m2k: float | None
    over_limits: list[OverLimit]
    refused: str


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


class DrawnBody(Body):
    """An option as it is drawn now, kept or not."""

    build_up: BuildUp


class SinceOut(Schema):
    """What changed since the newest run that is not of what is drawn, and what that run said; empty without one."""

    changed: list[Said]
    was: Said | None
    at: datetime | None


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


class OutwardOut(Schema):
    """U to the outside air through the ground, or a space that is not heated, and how it was found."""

    u_w_m2k: float
    words: Said


class PreviewOut(Schema):
    """Figures of one build-up; SI with the unit in the name where it crosses the border. cautions: of its materials and its work.
    comes_off: layers of as found that are not in it any more."""

    build_up: BuildUp
    thermal: Transmittance | None
    refused: str
    thickness_mm: float
    room_lost_mm: float
    growth_outside_mm: float
    over_limits: list[OverLimit]
    added_kg_m2: float
    background: list[Said]
    matched: list[Said]
    comes_off: list[str]
    roles: list[LayerRoles]
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
    outward: OutwardOut | None
    loss_kwh_m2a: float | None
    ladder: Ladder | None
    cautions: list[Said]


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
    rejected_by: str
    rejected_reason: str
    rejected_at: datetime | None


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
