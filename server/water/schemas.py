"""What the water page asks and answers."""

from __future__ import annotations

from datetime import date, datetime
from typing import Annotated, Literal

from ninja import Schema
from pydantic import Field

from core.say import Said
from server.projects.schemas import Body
from server.survey.schemas import NamedOut, PhotoUids, Uid


class ReadinessOut(Schema):
    """Whether an element may be covered: state and every reason why not."""

    state: str
    reasons: list[str]


class WaterItemBody(Body):
    elements: Annotated[list[int], Field(max_length=200)]
    evidence: Annotated[list[Uid], Field(max_length=200)] = []
    stage: Annotated[str, Field(max_length=20)]
    title: Annotated[str, Field(min_length=1, max_length=300)]
    shown_by: Annotated[str, Field(max_length=400)] = ""
    who: Annotated[str, Field(max_length=120)] = ""
    due: date | None = None
    state: Literal["open", "closed", "not needed", "planned"] = "open"
    closed_on: date | None = None
    reason: Annotated[str, Field(max_length=2000)] = ""
    photos: PhotoUids = []
    base_revision: int | None = None


class WaterItemOut(Schema):
    uid: str
    revision: int
    elements: list[int]
    evidence: list[str]
    remedy: str
    stage: str
    title: str
    shown_by: str
    title_said: Said
    shown_by_said: Said
    school: str
    who: str
    due: date | None
    state: str
    closed_by: str
    closed_on: date | None
    reason: str
    photos: list[str]


class LookedAtBody(Body):
    looked_at: bool
    on: date | None = None
    note: Annotated[str, Field(max_length=2000)] = ""


class OverrideBody(Body):
    """Both empty takes the override back."""

    reason: Annotated[str, Field(max_length=2000)] = ""
    name: Annotated[str, Field(max_length=150)] = ""


class ElementWaterOut(Schema):
    element_id: int
    name: str
    kind: str
    state: str
    reasons: list[str]
    looked_at_by: str
    looked_at_on: date | None
    looked_at_note: str
    override_by: str
    override_reason: str
    override_at: datetime | None
    pins: int
    open_items: int


class WaterPage(Schema):
    elements: list[ElementWaterOut]
    items: list[WaterItemOut]
    stages: list[NamedOut]
