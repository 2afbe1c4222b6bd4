"""Bodies and answers of the survey's API."""

from __future__ import annotations

from datetime import date, datetime
from typing import Annotated, Any, Literal

from ninja import Schema
from pydantic import Field

from core.brief import Brief
from core.buildup.model import BuildUp, BuildUpLayer
from core.measure.blower_door import AirtightnessResult, BlowerDoorTest
from core.measure.thermal import EstimatedU, ThermalReading
from core.measure.uptake import MeasuredUptake, UptakeReading
from core.measure.wood_moisture import CorrectedMoisture, MeterReading
from core.readiness.reason import Pin
from core.readiness.weigh import LookTaken, NextLook, Proposal
from core.say import Said
from core.survey.drawings import Elevation
from core.survey.exposure import ExposureSteps, FaceExposure
from core.survey.geometry import Derived
from core.survey.line import LineSpace, Move, Stands
from core.survey.record import BuildingField, FollowingField
from core.survey.shape import Shape
from server.projects.schemas import Body, ElementFields

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
    """climate: the name of the one that is computed with, in words beside it."""

    revision: int
    brief: Brief
    missing: list[str]
    climate: str
    climate_words: str
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
    """stands: in the heated line before the works, after them, or both."""

    element: Derived
    net_area_m2: float
    element_id: int | None
    stands: Stands = "both"


class Disagreement(Schema):
    """A figure typed by hand where the shape says something else."""

    element_id: int | None
    name: str
    field: FollowingField | BuildingField
    by_hand: float
    shape_says: float


class ShapeTotals(Schema):
    volume_m3: float
    floor_area_m2: float
    envelope_m2: float


class ShapeOut(Schema):
    """Of the building as found, or of a scheme. spaces: what the heated line can take in; moved: what the scheme does to it; lost: changes that have
    no place any more; found: the totals as found, where it is a scheme's.
    """

    scheme_id: int | None = None
    spaces: list[LineSpace] = []
    moved: list[str] = []
    lost: list[str] = []
    found: ShapeTotals | None = None
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


class LineBody(Body):
    """One space taken into the heated line of a scheme, or out of it."""

    move: Move


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
    first: list[str]
    other: float
    next_look: NextLook | None
    looked: list[LookTaken]
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


class Leak(Body):
    place: Annotated[str, Field(min_length=1, max_length=200)]
    element_id: int | None = None
    size: Literal["small", "medium", "large"] = "medium"


Stage = Literal["as found", "during the works", "at the end"]


class MeasurementBody(Body):
    """stage: of the works, for a blower-door test."""

    kind: Literal["blower_door", "thermal", "moisture", "uptake"]
    stage: Stage = "as found"
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
    """layer: the name of the layer an uptake was measured on; in_runs: the A-value that its runs take now. volume: of the heated line that a
    blower door was measured in."""

    uid: str
    revision: int
    kind: str
    element_id: int | None
    measured_on: date | None
    place: str
    instrument: str
    stage: Stage
    note: str
    blower_door: BlowerDoorTest | None
    thermal: ThermalReading | None
    moisture: MeterReading | None
    uptake: UptakeReading | None
    leaks: list[dict[str, Any]]
    volume_m3: float | None
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
    species: list[NamedOut]
    layers: list[UptakeLayer]


class GaugeOut(Schema):
    """What an attached gauge read, and what it calls itself."""

    name: str
    test: BlowerDoorTest


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
    alike: str


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


class ElementBody(ElementFields):
    """began_from: the fields as they were when the edit began; absent: written over whatever is there now."""

    began_from: ElementFields | None = None


class NewElement(ElementFields):
    build_up: BuildUp | None = None


class GiveBody(Body):
    """One construction to many elements: as found, of the element it is taken from."""

    from_element: int
    to_elements: Annotated[list[int], Field(min_length=1, max_length=500)]
