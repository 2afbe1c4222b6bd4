"""Bodies and answers of the survey's API."""

from __future__ import annotations

from datetime import date, datetime
from typing import Annotated, Any, Literal

from ninja import Schema
from pydantic import Field

from core.brief import Brief
from core.buildup.control import ControlLayers
from core.buildup.model import BuildUpLayer
from core.measure.blower_door import AirtightnessResult, BlowerDoorTest
from core.measure.thermal import EstimatedU, ThermalReading
from core.measure.uptake import MeasuredUptake, UptakeReading
from core.measure.wood_moisture import CorrectedMoisture, MeterReading
from core.readiness.reason import Pin, Proposal, Readiness
from core.say import Said
from core.survey.drawings import DrawnLine, Elevation, Joint, Room
from core.survey.exposure import ExposureSteps, FaceExposure
from core.survey.geometry import Derived
from core.survey.record import BuildingField, FollowingField
from core.survey.shape import Shape
from server.projects.schemas import Body

Uid = Annotated[str, Field(min_length=8, max_length=40, pattern=r"^[A-Za-z0-9_-]+$")]
PhotoUids = Annotated[list[Uid], Field(max_length=40)]


class BriefBody(Body):
    """`revision` is the one the edit began from; null overwrites."""

    revision: int | None
    brief: Brief


class NamedOut(Schema):
    id: str
    name: str


class BriefOut(Schema):
    revision: int
    brief: Brief
    missing: list[str]
    example_targets: dict[str, dict[str, float]]
    example_note: str
    affected: list[Said]
    bodies: list[NamedOut]


class ShapeBody(Body):
    revision: int | None
    shape: Shape


class ShapePreviewBody(Body):
    shape: Shape


class DerivedOut(Schema):
    element: Derived
    net_area_m2: float
    element_id: int | None


class Disagreement(Schema):
    """A figure typed by hand where the shape says something else."""

    element_id: int | None
    name: str
    field: FollowingField | BuildingField
    by_hand: float
    shape_says: float


class ShapeOut(Schema):
    revision: int
    shape: Shape
    derived: list[DerivedOut]
    volume_m3: float
    floor_area_m2: float
    footprint_m2: float
    envelope_m2: float
    notes: list[Said]
    arithmetic: list[Said]
    refused: str
    elevations: list[Elevation]
    disagreements: list[Disagreement]
    gone: list[int]


class RainBody(Body):
    rain: FaceExposure | None


class FaceRain(Schema):
    element_id: int
    name: str
    facing: str
    exposure: str
    rain: FaceExposure | None
    suggested: FaceExposure
    steps: ExposureSteps
    product: float
    driven_rain_mm: float | None  # None: the hours of the climate are gone
    rain_face: bool
    rain_face_from_mm: float
    strip: str


class PhotoOut(Schema):
    uid: str
    caption: str
    taken_on: date | None
    width: int
    height: int
    size: int


class EvidenceBody(Body):
    """A pin as it was written on site. base_revision: what the edit began from; null for a new one or to overwrite."""

    element_id: int | None = None
    pin: Pin
    photos: PhotoUids = []
    base_revision: int | None = None


class CauseBody(Body):
    mechanism: Annotated[str, Field(max_length=30)]
    reason: Annotated[str, Field(max_length=2000)] = ""


class EvidenceOut(Schema):
    uid: str
    revision: int
    element_id: int | None
    pin: Pin
    photos: list[str]
    proposals: list[Proposal]
    surface_rh: float | None
    wood: CorrectedMoisture | None
    cause: str
    cause_reason: str
    cause_by: str
    cause_at: datetime | None
    items: int


class EvidencePage(Schema):
    evidence: list[EvidenceOut]
    photos: list[PhotoOut]
    kinds: list[NamedOut]
    mechanisms: list[NamedOut]
    species: list[NamedOut]
    section_cut: tuple[str, float] | None


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


class Leak(Body):
    place: Annotated[str, Field(min_length=1, max_length=200)]
    element_id: int | None = None
    size: Literal["small", "medium", "large"] = "medium"


class MeasurementBody(Body):
    kind: Literal["blower_door", "thermal", "moisture", "uptake"]
    element_id: int | None = None
    measured_on: date | None = None
    place: Annotated[str, Field(max_length=200)] = ""
    instrument: Annotated[str, Field(max_length=120)] = ""
    note: Annotated[str, Field(max_length=2000)] = ""
    blower_door: BlowerDoorTest | None = None
    thermal: ThermalReading | None = None
    moisture: MeterReading | None = None
    uptake: UptakeReading | None = None
    leaks: Annotated[list[Leak], Field(max_length=100)] = []
    base_revision: int | None = None


class MeasurementOut(Schema):
    """layer: the name of the layer an uptake was measured on; in_runs: the A-value that its runs take now."""

    uid: str
    revision: int
    kind: str
    element_id: int | None
    measured_on: date | None
    place: str
    instrument: str
    note: str
    blower_door: BlowerDoorTest | None
    thermal: ThermalReading | None
    moisture: MeterReading | None
    uptake: UptakeReading | None
    leaks: list[dict[str, Any]]
    airtightness: AirtightnessResult | None
    estimated_u: EstimatedU | None
    computed_u_w_m2k: float | None
    corrected: CorrectedMoisture | None
    measured: MeasuredUptake | None
    layer: str
    in_runs_kg_m2s05: float | None
    refused: str


class UptakeLayer(Schema):
    """A layer as found that draws water: one to measure uptake on."""

    element_id: int
    layer_id: str
    name: str


class MeasurementPage(Schema):
    measurements: list[MeasurementOut]
    volume_m3: float | None
    envelope_m2: float | None
    species: list[NamedOut]
    layers: list[UptakeLayer]


class PasteBody(Body):
    text: Annotated[str, Field(max_length=100_000)]
    flow_unit: Literal["m3/h", "l/s", "cfm"] = "m3/h"


class MadeLayer(Schema):
    layer: BuildUpLayer
    name: str
    sd_m: float
    tight: bool


class MadeElement(Schema):
    element_id: int
    option_id: int
    revision: int
    name: str
    kind: str
    layers: list[MadeLayer]
    drafted: bool
    stated: bool
    finish_stated: bool


class OpeningUp(Schema):
    """A layer that is only assumed: where to open, and what hangs on it."""

    element_id: int
    element: str
    layer_id: str
    layer: str
    because: str


class MadePage(Schema):
    elements: list[MadeElement]
    opening_up: list[OpeningUp]


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


class HousePin(Schema):
    uid: str
    kind: str
    element_id: int | None
    at: tuple[float, float] | None
    explained: bool


class Break(Schema):
    """Where a control layer stops at a joint, or is not known to be carried."""

    number: int
    joint: str
    at: tuple[float, float]
    line: str
    words: Said
    stops: bool


class HouseOut(Schema):
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
    missing: list[str]
    pins: list[HousePin]
    breaks: list[Break]
    outlines: list[tuple[str, list[tuple[float, float]]]]
    not_in_the_shape: list[HouseElement]
    refused: str
