"""The open project file as data: every field with its bounds, because anybody may have written it."""

from __future__ import annotations

from datetime import date, datetime
from typing import Annotated, Any, Literal

from pydantic import ConfigDict, Field, field_validator, model_validator

from core.brief import Brief
from core.buildup.model import BuildUp
from core.costs import Price, Work
from core.errors import OutOfRange
from core.materials.library import Sheet, Solid, know
from core.materials.own import DataSheet, sealed
from core.measure.blower_door import BlowerDoorTest
from core.measure.thermal import ThermalReading
from core.measure.uptake import UptakeReading
from core.measure.wood_moisture import MeterReading
from core.readiness.reason import Pin
from core.rooms import Rooms
from core.study import ConditionCheck
from core.survey.exposure import FaceExposure
from core.survey.line import Changes
from core.survey.record import FOLLOWING, FOLLOWING_BUILDING, BuildingField, FollowingField, FromShape
from core.survey.shape import Shape
from core.zones.stated import AirStated, Energy
from server.options.costs import MOST_PRICES, MOST_WORKS
from server.options.schemas import EditedLimit
from server.projects.schemas import Body, ElementFields, Name, ProjectFields
from server.schemes.schemas import MOST_PHASES, MOST_SCHEMES, BasisKind
from server.survey.schemas import PhotoUids, Stage, Uid

MOST_OWN_MATERIALS = 500
MOST_ELEMENTS, MOST_OPTIONS, MOST_ROWS = 2000, 60, 5000
Reason = Annotated[str, Field(max_length=2000)]
Person = Annotated[str, Field(max_length=150)]
Beside = Annotated[str, Field(pattern=r"^(own-[a-z0-9]{1,64})?$")]
Index = Annotated[int, Field(ge=0, lt=MOST_ROWS)]


class FileRejection(Body):
    reason: Reason
    by: Person = ""
    at: datetime | None = None


class FileOption(Body):
    role: Literal["as_found", "option"]
    name: Name
    school: Annotated[str, Field(max_length=60)] = ""
    build_up: BuildUp
    draft: BuildUp | None = None
    rejected: FileRejection | None = None
    checks: Annotated[list[ConditionCheck], Field(max_length=20)] = []
    works: Annotated[list[Work], Field(max_length=MOST_WORKS)] = []


class FileChoice(Body):
    option: int = Field(ge=0, le=MOST_OPTIONS, description="index among the element's options")
    reason: Reason
    by: Person = ""
    at: datetime | None = None
    phase: Annotated[int, Field(ge=0, lt=MOST_PHASES)] | None = Field(
        default=None, description="index among the phases"
    )
    between: int | None = Field(
        default=None, ge=0, le=MOST_OPTIONS, description="index of the option that stands until then"
    )
    between_phase: Annotated[int, Field(ge=0, lt=MOST_PHASES)] | None = None


class FilePhase(Body):
    name: Name
    starts_on: date | None = None
    years_after: Annotated[float, Field(ge=0, le=100)] | None = None


class FileSchemeChoice(FileChoice):
    element: Index


class FileScheme(Body):
    """The choices of the first scheme stand with the elements; those of the others here."""

    name: Name
    note: Annotated[str, Field(max_length=4000)] = ""
    shown: bool = False
    changes: Changes = Changes()
    air: AirStated | None = None
    line_phase: Annotated[int, Field(ge=0, lt=MOST_PHASES)] | None = None
    phases: Annotated[list[FilePhase], Field(max_length=MOST_PHASES)] = []
    choices: Annotated[list[FileSchemeChoice], Field(max_length=MOST_ELEMENTS)] = []


class FileBasis(Body):
    """What a decision rests on. document: the name of a PDF, which lies in the zip as documents/<uid>.pdf."""

    uid: Uid
    element: Index | None = None
    option: int | None = Field(default=None, ge=0, le=MOST_OPTIONS, description="index among the element's options")
    kind: BasisKind
    who: Person = ""
    on: date | None = None
    text: Annotated[str, Field(max_length=4000)] = ""
    answer: Annotated[str, Field(max_length=4000)] = ""
    answered_on: date | None = None
    photos: PhotoUids = []
    document: Annotated[str, Field(max_length=200)] = ""
    by: Person = ""


class FileLookedAt(Body):
    by: Person
    on: date | None = None
    note: Reason = ""


class FileOverride(Body):
    by: Person
    reason: Reason
    at: datetime | None = None


class FileElement(ElementFields):
    options: Annotated[list[FileOption], Field(max_length=MOST_OPTIONS + 1)] = []
    choice: FileChoice | None = None
    shape_key: Annotated[str, Field(max_length=120)] = ""
    derived: FromShape | None = None
    corrected: Annotated[list[FollowingField], Field(max_length=len(FOLLOWING))] = []
    rain: FaceExposure | None = None
    beside_found: Beside = ""
    beside_after: Beside = ""
    looked_at: FileLookedAt | None = None
    override: FileOverride | None = None

    @field_validator("derived", mode="before")
    @classmethod
    def _none(cls, said: Any) -> Any:
        """Up to version 3 an element that no shape made was written with an empty record."""
        return None if said == {} else said


class FilePhoto(Body):
    """The picture itself lies in the zip as photos/<uid>.jpg."""

    uid: Uid
    caption: Annotated[str, Field(max_length=300)] = ""
    taken_on: date | None = None


class FileCause(Body):
    mechanism: Annotated[str, Field(max_length=30)]
    reason: Reason = ""
    by: Person = ""
    at: datetime | None = None


class FileEvidence(Body):
    uid: Uid
    element: Index | None = Field(default=None, description="index among the elements")
    pin: Pin
    photos: PhotoUids = []
    cause: FileCause | None = None


class FileWaterItem(Body):
    uid: Uid
    elements: Annotated[list[Index], Field(max_length=MOST_ELEMENTS)]
    evidence: Annotated[list[Uid], Field(max_length=MOST_ROWS)] = []
    remedy: Annotated[str, Field(max_length=40)] = ""
    stage: Annotated[str, Field(max_length=20)]
    title: Annotated[str, Field(min_length=1, max_length=300)]
    shown_by: Annotated[str, Field(max_length=400)] = ""
    who: Annotated[str, Field(max_length=120)] = ""
    due: date | None = None
    state: Literal["open", "closed", "not needed", "planned"] = "open"
    closed_by: Person = ""
    closed_on: date | None = None
    reason: Reason = ""
    photos: PhotoUids = []


class FileLeak(Body):
    place: Annotated[str, Field(max_length=200)]
    element: Index | None = None
    size: Literal["small", "medium", "large"] = "medium"


class FileMeasurement(Body):
    uid: Uid
    kind: Literal["blower_door", "thermal", "moisture", "uptake"]
    element: Index | None = None
    measured_on: date | None = None
    place: Annotated[str, Field(max_length=200)] = ""
    instrument: Annotated[str, Field(max_length=120)] = ""
    stage: Stage = "as found"
    note: Reason = ""
    blower_door: BlowerDoorTest | None = None
    thermal: ThermalReading | None = None
    moisture: MeterReading | None = None
    uptake: UptakeReading | None = None
    leaks: Annotated[list[FileLeak], Field(max_length=100)] = []


class FileMaterial(Body):
    """A material of somebody's own that a build-up of the file has: its values, and the data sheet it was typed from."""

    entry: Annotated[Solid | Sheet, Field(discriminator="kind")]
    sheet: DataSheet | None = None
    filled: Annotated[dict[str, Annotated[str, Field(max_length=200)]], Field(max_length=40)] = {}


class FileProject(ProjectFields):
    corrected: Annotated[list[BuildingField], Field(max_length=len(FOLLOWING_BUILDING))] = []
    limits: Annotated[list[EditedLimit], Field(max_length=60)] = []
    prices: Annotated[list[Price], Field(max_length=MOST_PRICES)] = []


class ProjectFile(Body):
    """project.json, version 4. Its JSON Schema is docs/project.schema.json.

    Version 1 had no survey; up to version 3 there was one scheme, no own materials and nothing a decision rested on. Up to version 2 a build-up that said nothing of leaks was written with “none”, which nobody
    had chosen: read as *by rule*.
    """

    model_config = ConfigDict(extra="forbid", allow_inf_nan=False)
    format: Literal["wendrick-project"] = "wendrick-project"
    version: Literal[1, 2, 3, 4] = 4
    project: FileProject
    brief: Brief = Brief()
    shape: Shape = Shape()
    materials: Annotated[list[FileMaterial], Field(max_length=MOST_OWN_MATERIALS)] = []
    elements: Annotated[list[FileElement], Field(max_length=MOST_ELEMENTS)]
    air: AirStated | None = None
    energy: Energy | None = None
    rooms: Rooms | None = None
    schemes: Annotated[list[FileScheme], Field(max_length=MOST_SCHEMES)] = []
    bases: Annotated[list[FileBasis], Field(max_length=MOST_ROWS)] = []
    photos: Annotated[list[FilePhoto], Field(max_length=MOST_ROWS)] = []
    evidence: Annotated[list[FileEvidence], Field(max_length=MOST_ROWS)] = []
    water: Annotated[list[FileWaterItem], Field(max_length=MOST_ROWS)] = []
    measurements: Annotated[list[FileMeasurement], Field(max_length=2000)] = []

    @model_validator(mode="before")
    @classmethod
    def _older(cls, raw: Any) -> Any:
        _know_materials(raw)
        return _leaks_by_rule(raw)


def _know_materials(raw: Any) -> None:
    """The file's own materials, before its build-ups are read; an id that is not the hash of its content is refused."""
    rows = raw.get("materials") if isinstance(raw, dict) else None
    for number, row in enumerate(rows[:MOST_OWN_MATERIALS] if isinstance(rows, list) else []):
        entry = row.get("entry") if isinstance(row, dict) else None
        if not isinstance(entry, dict):
            continue  # said by the schema
        try:
            found = sealed(entry)
        except OutOfRange as error:
            raise ValueError(f"material {number}: {error.message}") from error
        if found.id != entry.get("id"):
            raise ValueError(f"material {number} (“{found.name}”) was changed after it was exported; export it again")
        know(found)


def _leaks_by_rule(raw: Any) -> Any:
    """Build-ups of a file up to version 2: leaks that were only written out as defaults are by rule."""
    if isinstance(raw, dict) and raw.get("version", 1) in (1, 2) and isinstance(raw.get("elements"), list):
        for element in raw["elements"]:
            options = element.get("options") if isinstance(element, dict) else None
            for option in options if isinstance(options, list) else []:
                for key in ("build_up", "draft"):
                    unsaid_leaks(option.get(key) if isinstance(option, dict) else None)
    return raw


def unsaid_leaks(build_up: Any) -> None:
    """In place: “none” and a share of 0 as older versions wrote them become *by rule*."""
    if not isinstance(build_up, dict):
        return
    air, rain = build_up.get("air_leak"), build_up.get("rain_leak")
    if isinstance(air, dict) and air.get("preset", "none") == "none":
        build_up["air_leak"] = {**air, "preset": "by rule"}
    if isinstance(rain, dict) and not rain.get("share"):
        build_up["rain_leak"] = {**rain, "share": None}
