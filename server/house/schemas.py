"""The section of the house as it is answered."""

from __future__ import annotations

from typing import Literal

from ninja import Schema

from core.assembly.control import ControlLayers
from core.readiness.reason import Readiness
from core.say import Said
from core.survey.drawings import DrawnLine, Joint, Room


class HouseBand(Schema):
    """A band of the section with what the three lenses show. element_id null: drawn, but no element of the survey."""

    id: str
    kind: str
    body: str
    polygon: list[tuple[float, float]]
    outer: tuple[tuple[float, float], tuple[float, float]]
    inner: tuple[tuple[float, float], tuple[float, float]]
    normal: tuple[float, float]
    element_id: int | None
    name: str
    before_w_k: float | None
    after_w_k: float | None
    control: ControlLayers | None
    control_of: str
    hatch: str
    depths: dict[str, float]


class HouseListed(Schema):
    element_id: int | None
    name: str
    kind: str
    before_w_k: float
    after_w_k: float


class HouseElement(Schema):
    """years: state of the as-found years, so that *not run* is told apart from *dry*."""

    element_id: int
    years: str
    name: str
    kind: str
    readiness: Readiness
    as_found: str
    chosen: str
    verdict: str
    worst: str
    wet: float | None


class JointLine(Schema):
    """A joint of one element: with what, and which of rain, air, vapour and heat stop there, and why."""

    joint: str
    other: str
    stops: list[Said]


class HousePin(Schema):
    uid: str
    kind: str
    element_id: int | None
    at: tuple[float, float] | None
    explained: bool


class Break(Schema):
    """Where a control layer stops at a joint, or is not known to be carried. key: of the joint, whatever the cut."""

    number: int
    key: str
    joint: str
    at: tuple[float, float]
    line: str
    words: Said
    stops: bool


Face = tuple[tuple[float, float], tuple[float, float]]


class HouseSpace(Schema):
    """A space that the line of the shown scheme takes in or leaves out. inside_before: as found, None where it is new; at: where it is named in the cut."""

    body: str
    space: Literal["attic", "below", "body"]
    name: str
    inside: bool
    inside_before: bool | None
    why_not: str
    at: tuple[float, float] | None


class HeatedLine(Schema):
    """before, after: inner faces along the cut. moved: what the scheme does to it; lost: changes that have no place any more."""

    scheme_id: int
    scheme: str
    before: list[Face]
    after: list[Face]
    spaces: list[HouseSpace]
    moved: list[str]
    lost: list[str]


class HouseOut(Schema):
    """years_to_come: hourly years of the project that wait or run."""

    axis: Literal["x", "y"]
    at_m: float
    range_m: tuple[float, float]
    extent: tuple[float, float, float, float]
    left: str
    right: str
    bands: list[HouseBand]
    joints: list[Joint]
    rooms: list[Room]
    lines: list[DrawnLine]
    elements: list[HouseElement]
    listed: list[HouseListed]
    total_before_w_k: float | None
    total_after_w_k: float | None
    like_for_like_w_k: float | None
    chosen: int
    missing: list[str]
    pins: list[HousePin]
    breaks: list[Break]
    outlines: list[tuple[str, list[tuple[float, float]]]]
    not_in_the_shape: list[HouseElement]
    refused: str
    line: HeatedLine
    years_to_come: int
