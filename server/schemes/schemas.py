"""Schemes of the building, their phases, what decisions rest on."""

from __future__ import annotations

from datetime import date, datetime
from typing import Annotated, Literal

from ninja import Schema
from pydantic import Field

from core.aims import Aim
from core.say import Said
from server.projects.schemas import Body, Name
from server.survey.schemas import PhotoUids

MOST_SCHEMES, MOST_PHASES = 12, 12
BasisKind = Literal["trial panel", "pull test", "sample", "letter", "calculation", "specification", "other"]


class NewScheme(Body):
    """copy_of: whose choices and phases it begins with; None: none."""

    name: Name
    copy_of: int | None = None


class SchemeBody(Body):
    name: Name
    note: Annotated[str, Field(max_length=4000)] = ""


class PhaseBody(Body):
    """id: of a phase that is there; None for a new one. years_after: how long the state after it lasts until the next."""

    id: int | None = None
    name: Name
    starts_on: date | None = None
    years_after: Annotated[float, Field(ge=0, le=100)] | None = None


class PhasesBody(Body):
    """All phases in order; those left out go. revision: the one the change began from."""

    revision: int
    phases: Annotated[list[PhaseBody], Field(max_length=MOST_PHASES)]


class ShownBody(Body):
    scheme_id: int


class InPhase(Body):
    phase_id: int | None


class BetweenBody(Body):
    """What stands until the choice is built, from which phase on; no option: as found stands."""

    option_id: int | None
    phase_id: int | None = None


class PhaseOut(Schema):
    """w_k, kwh, load_w: of the building once it is built; elements: names of what is done in it. least_drying: of what is built by then, the element
    that dries least, with the share that is left of its drying as found."""

    id: int | None
    name: str
    starts_on: date | None
    years_after: float | None
    elements: list[str]
    w_k: float
    kwh: float
    load_w: float
    least_drying: Said | None = None


class StageOut(Schema):
    """The building once a phase is built, id None as found. rh: of the rooms, mean of the coldest month; measured_n50: by a test between its start and
    the next one's."""

    id: int | None
    name: str
    heating_kwh: float
    heating_peak_w: float
    n50: float | None
    measured_n50: float | None
    rh: float
    month: str
    fresh_m3_h: float
    needed_m3_h: float
    pane_h: float
    warm_h: float
    warm_c: float


class StagesOut(Schema):
    """refused: why there are none, or what they lack."""

    stages: list[StageOut]
    refused: str


class SchemeOut(Schema):
    """One scheme with its figures. complete: every loss is known; like_for_like: what the rooms it heats would have lost as found, None where its line stays; over, marginal, not_run: of its choices, by their verdicts.

    cost_low, cost_high: of the chosen options, over their areas; unpriced: choices in which something has no price, so that it is
    at least that. carbon_*: fossil, of making the new layers [kg CO2e].
    """

    id: int
    name: str
    note: str
    revision: int
    chosen: int
    of: int
    complete: bool
    w_k: float
    like_for_like_w_k: float | None
    moved: bool
    kwh: float
    load_w: float
    over: int
    marginal: int
    not_run: int
    floor_lost_m2: float
    cost_low: float
    cost_high: float
    currency: str
    unpriced: int
    aim: Aim | None
    carbon_low: float
    carbon_high: float
    phases: list[PhaseOut]


class OtherOption(Schema):
    id: int
    name: str


class ChoiceRow(Schema):
    """What the shown scheme does to an element, and in which phase.

    others: the options that could stand until then. years_between: how long the one does that is put there; None where that is
    not stated; years_run: how many of them are computed. between_state: of its hourly years ("" where none stands in between); between_words: their verdicts.
    """

    element_id: int
    element: str
    option: str
    reason: str
    by: str
    at: datetime | None
    phase_id: int | None
    option_id: int | None
    others: list[OtherOption]
    between_id: int | None
    between_phase_id: int | None
    years_between: int | None
    years_run: int | None
    between_words: list[Said]
    between_state: str


class SchemesOut(Schema):
    shown_id: int
    before_w_k: float
    before_kwh: float
    before_load_w: float
    schemes: list[SchemeOut]
    choices: list[ChoiceRow]
    moved: list[str]
    line_phase_id: int | None


class RejectBody(Body):
    """An empty reason takes the rejection back."""

    reason: Annotated[str, Field(max_length=2000)] = ""


class BasisBody(Body):
    element_id: int | None = None
    option_id: int | None = None
    kind: BasisKind
    who: Annotated[str, Field(max_length=150)] = ""
    on: date | None = None
    text: Annotated[str, Field(max_length=4000)] = ""
    answer: Annotated[str, Field(max_length=4000)] = ""
    answered_on: date | None = None
    photos: PhotoUids = []
    base_revision: int | None = None


class BasisOut(Schema):
    uid: str
    revision: int
    element_id: int | None
    option_id: int | None
    kind: BasisKind
    who: str
    on: date | None
    text: str
    answer: str
    answered_on: date | None
    photos: list[str]
    document: str
    size: int
    by: str
