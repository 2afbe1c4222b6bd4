"""The open project file: a zip with project.json, or a bare project.json. Read with limits, written as a stream."""

from __future__ import annotations

import io
import json
import shutil
import tempfile
import zipfile
from datetime import date, datetime
from typing import IO, Annotated, Any, Literal

from django.conf import settings
from django.db import transaction
from pydantic import ConfigDict, Field, ValidationError, model_validator

from core.brief import Brief
from core.buildup.model import BuildUp
from core.case import describe_problems
from core.criteria.judging import checked_limits
from core.criteria.registry import LIMITS
from core.measure.blower_door import BlowerDoorTest
from core.measure.thermal import ThermalReading
from core.measure.uptake import UptakeReading
from core.measure.wood_moisture import MeterReading
from core.readiness.reason import Pin
from core.readiness.rules import rules
from core.survey.exposure import FaceExposure
from core.survey.shape import Shape
from server.problems import Problem
from server.projects import climates
from server.projects.actions import User, _check_element, check_climate, option_values
from server.projects.models import ClimateFile, Element, HistoryEntry, Option, Project, signed_in
from server.projects.schemas import Body, EditedLimit, ElementFields, Name, ProjectFields
from server.survey.actions import add_photo, forget_photos
from server.survey.models import Evidence, Measurement, WaterItem
from server.survey.schemas import Uid

LARGEST_RATIO = 200
CHUNK = 1024 * 1024


class FileOption(Body):
    role: Literal["as_found", "option"]
    name: Name
    school: Annotated[str, Field(max_length=60)] = ""
    build_up: BuildUp
    draft: BuildUp | None = None


class FileChoice(Body):
    option: int = Field(ge=0, description="index among the element's options")
    reason: str
    by: str = ""
    at: datetime | None = None


class FileLookedAt(Body):
    by: str
    on: date | None = None
    note: str = ""


class FileOverride(Body):
    by: str
    reason: str
    at: datetime | None = None


class FileElement(ElementFields):
    options: list[FileOption] = []
    choice: FileChoice | None = None
    shape_key: Annotated[str, Field(max_length=120)] = ""
    derived: dict[str, Any] = {}
    corrected: list[str] = []
    rain: FaceExposure | None = None
    looked_at: FileLookedAt | None = None
    override: FileOverride | None = None


class FilePhoto(Body):
    """The picture itself lies in the zip as photos/<uid>.jpg."""

    uid: Uid
    caption: Annotated[str, Field(max_length=300)] = ""
    taken_on: date | None = None


class FileCause(Body):
    mechanism: str
    reason: str = ""
    by: str = ""
    at: datetime | None = None


class FileEvidence(Body):
    uid: Uid
    element: int | None = Field(default=None, ge=0, description="index among the elements")
    pin: Pin
    photos: list[Uid] = []
    cause: FileCause | None = None


class FileWaterItem(Body):
    uid: Uid
    elements: list[int]
    evidence: list[Uid] = []
    remedy: str = ""
    stage: str
    title: str
    shown_by: str = ""
    who: str = ""
    due: date | None = None
    state: Literal["open", "closed", "not needed", "planned"] = "open"
    closed_by: str = ""
    closed_on: date | None = None
    reason: str = ""
    photos: list[Uid] = []


class FileLeak(Body):
    place: str
    element: int | None = None
    size: Literal["small", "medium", "large"] = "medium"


class FileMeasurement(Body):
    uid: Uid
    kind: Literal["blower_door", "thermal", "moisture", "uptake"]
    element: int | None = None
    measured_on: date | None = None
    place: str = ""
    instrument: str = ""
    note: str = ""
    blower_door: BlowerDoorTest | None = None
    thermal: ThermalReading | None = None
    moisture: MeterReading | None = None
    uptake: UptakeReading | None = None
    leaks: list[FileLeak] = []


class FileProject(ProjectFields):
    corrected: list[str] = []
    limits: Annotated[list[EditedLimit], Field(max_length=60)] = []


class ProjectFile(Body):
    """project.json, version 3. Its JSON Schema is docs/project.schema.json.

    Version 1 had no survey. Up to version 2 a build-up that said nothing of leaks was written with “none”, which nobody
    had chosen: read as *by rule*.
    """

    model_config = ConfigDict(extra="forbid", allow_inf_nan=False)
    format: Literal["wendrick-project"] = "wendrick-project"
    version: Literal[1, 2, 3] = 3
    project: FileProject
    brief: Brief = Brief()
    shape: Shape = Shape()
    elements: Annotated[list[FileElement], Field(max_length=2000)]
    photos: Annotated[list[FilePhoto], Field(max_length=5000)] = []
    evidence: Annotated[list[FileEvidence], Field(max_length=5000)] = []
    water: Annotated[list[FileWaterItem], Field(max_length=5000)] = []
    measurements: Annotated[list[FileMeasurement], Field(max_length=2000)] = []

    @model_validator(mode="before")
    @classmethod
    def _older(cls, raw: Any) -> Any:
        return _leaks_by_rule(raw)


def _leaks_by_rule(raw: Any) -> Any:
    """Build-ups of a file up to version 2: leaks that were only written out as defaults are by rule."""
    if isinstance(raw, dict) and raw.get("version", 1) in (1, 2) and isinstance(raw.get("elements"), list):
        for element in raw["elements"]:
            for option in element.get("options", []) if isinstance(element, dict) else []:
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


def _plain(row: Any, names: tuple[str, ...]) -> dict[str, Any]:
    return {name: getattr(row, name) for name in names}


def document(project: Project) -> dict[str, Any]:
    """The project as plain data, in the order of the file."""
    elements = []
    rows = list(project.elements.prefetch_related("options"))
    index = {element.pk: number for number, element in enumerate(rows)}
    for element in rows:
        options = sorted(element.options.all(), key=lambda o: (o.role != Option.AS_FOUND, o.position, o.pk))
        values = _plain(element, (*ElementFields.model_fields, "shape_key", "derived", "corrected", "rain"))
        values["options"] = [option_values(option) for option in options]
        ids = [option.pk for option in options]
        values["choice"] = (
            {
                "option": ids.index(element.chosen_id),
                "reason": element.chosen_reason,
                "by": element.chosen_by,
                "at": element.chosen_at,
            }
            if element.chosen_id is not None
            else None
        )
        if element.looked_at_by:
            values["looked_at"] = {
                "by": element.looked_at_by,
                "on": element.looked_at_on,
                "note": element.looked_at_note,
            }
        if element.override_reason:
            values["override"] = {
                "by": element.override_by,
                "reason": element.override_reason,
                "at": element.override_at,
            }
        elements.append(values)
    raw = {
        "project": {
            **_plain(project, (*ProjectFields.model_fields, "corrected")),
            "limits": [{"key": key, "value": value} for key, value in sorted(project.limits.items())],
        },
        "brief": project.brief,
        "shape": project.shape,
        "elements": elements,
        "photos": [_plain(photo, ("uid", "caption", "taken_on")) for photo in project.photos.all()],
        "evidence": [_evidence_values(row, index) for row in project.evidence.all()],
        "water": [
            {
                **_plain(
                    row,
                    (
                        "uid",
                        "remedy",
                        "stage",
                        "title",
                        "shown_by",
                        "who",
                        "due",
                        "state",
                        "closed_by",
                        "closed_on",
                        "reason",
                        "photos",
                    ),
                ),
                "elements": sorted(index[element.pk] for element in row.elements.all()),
                "evidence": [evidence.uid for evidence in row.evidence.all()],
            }
            for row in project.water_items.prefetch_related("elements", "evidence")
        ],
        "measurements": [
            {
                **_plain(row, ("uid", "kind", "measured_on", "place", "instrument", "note")),
                "element": index.get(row.element_id or -1),
                row.kind: row.data,
                "leaks": [
                    {"place": leak["place"], "size": leak["size"], "element": index.get(leak.get("element_id") or -1)}
                    for leak in row.leaks
                ],
            }
            for row in project.measurements.all()
        ],
    }
    return ProjectFile.model_validate(raw).model_dump(mode="json")


def _evidence_values(row: Evidence, index: dict[int, int]) -> dict[str, Any]:
    cause = {"mechanism": row.cause, "reason": row.cause_reason, "by": row.cause_by, "at": row.cause_at}
    return {
        "uid": row.uid,
        "element": index.get(row.element_id or -1),
        "pin": row.pin,
        "photos": row.photos,
        "cause": cause if row.cause else None,
    }


def write(project: Project) -> IO[bytes]:
    """A temporary file holding the zip, at its start; the caller closes it."""
    out = tempfile.TemporaryFile()  # noqa: SIM115  (the caller closes it)
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as archive:
        info = zipfile.ZipInfo("project.json", date_time=(1980, 1, 1, 0, 0, 0))
        info.compress_type = zipfile.ZIP_DEFLATED
        archive.writestr(info, json.dumps(document(project), indent=1, ensure_ascii=False, sort_keys=True))
        for photo in project.photos.all():
            if not photo.path().exists():
                raise Problem(
                    500,
                    "photo_missing",
                    f"The file of photo “{photo.caption or photo.uid}” is missing.",
                    "Remove the photo.",
                )
            info = zipfile.ZipInfo(f"photos/{photo.uid}.jpg", date_time=(1980, 1, 1, 0, 0, 0))
            with archive.open(info, "w") as member, open(photo.path(), "rb") as source:  # JPEG: stored as it is
                shutil.copyfileobj(source, member, CHUNK)
        for name in climate_names(project):
            info = zipfile.ZipInfo(f"climates/{name}.csv", date_time=(1980, 1, 1, 0, 0, 0))
            info.compress_type = zipfile.ZIP_DEFLATED
            archive.writestr(info, climates.path_of(name).read_bytes())
    out.seek(0)
    return out


def climate_names(project: Project) -> list[str]:
    """Imported climates and indoor series the project uses."""
    return [name for name in (project.climate, project.occupancy) if name.startswith("own-")]


def _refuse(message: str, remedy: str) -> Problem:
    return Problem(422, "file_refused", message, f"{remedy} Nothing was changed.")


def _read_limited(stream: IO[bytes], limit: int, what: str) -> bytes:
    parts, total = [], 0
    while chunk := stream.read(CHUNK):
        total += len(chunk)
        if total > limit:
            raise _refuse(f"{what} holds more than {limit // CHUNK} MB.", "Export the project again, or split it.")
        parts.append(chunk)
    return b"".join(parts)


def read(stream: IO[bytes], size: int) -> ProjectFile:
    """A checked project file. Raises Problem for a truncated, oversized, bomb-like or wrong file."""
    if size > settings.LARGEST_IMPORT:
        raise _refuse(
            f"The file is larger than {settings.LARGEST_IMPORT // CHUNK} MB.", "Remove photos or split the project."
        )
    stream.seek(0)
    head = stream.read(4)
    stream.seek(0)
    if head[:2] == b"PK":
        raw = _read_zip(stream)
    else:
        raw = _read_limited(stream, settings.LARGEST_PROJECT_JSON, "project.json")
    try:
        return ProjectFile.model_validate_json(raw)
    except ValidationError as error:
        raise _refuse(
            f"The project file does not fit its schema:\n{describe_problems(error)}", "Correct the place named."
        ) from error


def _read_zip(stream: IO[bytes]) -> bytes:
    try:
        with zipfile.ZipFile(stream) as archive:
            names = archive.namelist()
            if "project.json" not in names:
                raise _refuse("The zip holds no project.json.", "Choose a file that Wendrick exported.")
            for info in archive.infolist():
                if info.file_size > LARGEST_RATIO * max(info.compress_size, 1):
                    raise _refuse(
                        f"“{info.filename}” unpacks to more than {LARGEST_RATIO} times its size.",
                        "Such a file is not opened; export the project again.",
                    )
                if info.filename != "project.json" and not info.filename.startswith(("photos/", "climates/")):
                    raise _refuse(
                        f"The zip holds “{info.filename}”, which does not belong there.",
                        "Choose a file that Wendrick exported.",
                    )
            with archive.open("project.json") as member:
                return _read_limited(member, settings.LARGEST_PROJECT_JSON, "project.json")
    # RuntimeError: a password, or a compression that zipfile does not know
    except (zipfile.BadZipFile, EOFError, OSError, RuntimeError) as error:
        raise _refuse("The file is cut off or damaged; it cannot be unpacked.", "Export or copy it again.") from error


def import_file(user: User, stream: IO[bytes], size: int) -> Project:
    """A new project from a project file; all or nothing, the files of its photos too."""
    content = read(stream, size)
    stream.seek(0)
    project: Project | None = None
    try:
        with transaction.atomic():
            _bring_climates(user, content, stream)
            project = import_project(user, content)
            _bring_photos(project, content, stream)
    except BaseException:
        if project is not None:
            forget_photos(project.pk)
        raise
    return project


def _bring_climates(user: User, content: ProjectFile, stream: IO[bytes]) -> None:
    """Imported weather and indoor air out of the zip, checked like any climate; those that are known already stay."""
    wanted = {content.project.climate: ClimateFile.WEATHER, content.project.occupancy: ClimateFile.INDOOR}
    for name, kind in wanted.items():
        if not name.startswith("own-") or ClimateFile.objects.visible_to(user).filter(name=name).exists():
            continue
        stream.seek(0)
        if not zipfile.is_zipfile(stream):
            raise _refuse(f"The file names the climate “{name}” but holds none.", "Choose the zip.")
        stream.seek(0)
        with zipfile.ZipFile(stream) as archive:
            try:
                with archive.open(f"climates/{name}.csv") as member:
                    raw = _read_limited(member, climates.LARGEST, "The climate")
            except (KeyError, zipfile.BadZipFile, EOFError, OSError) as error:
                raise _refuse(f"The climate “{name}” is not in the zip.", "Export the project again.") from error
        climates.keep(user, raw, kind, name)


def _bring_photos(project: Project, content: ProjectFile, stream: IO[bytes]) -> None:
    """Photos one by one out of the zip; each is read as a picture, so that nothing else gets in."""
    if not content.photos:
        return
    if not zipfile.is_zipfile(stream):
        raise _refuse(
            f"The file names {len(content.photos)} photos but holds none.",
            "Choose the zip, not the project.json alone.",
        )
    stream.seek(0)
    with zipfile.ZipFile(stream) as archive:
        names = {info.filename: info for info in archive.infolist()}
        for photo in content.photos:
            info = names.get(f"photos/{photo.uid}.jpg")
            if info is None:
                raise _refuse(f"Photo “{photo.caption or photo.uid}” is not in the zip.", "Export the project again.")
            if info.file_size > settings.LARGEST_PHOTO:
                raise _refuse(f"Photo “{photo.caption or photo.uid}” is too large.", "Export the project again.")
            try:
                with archive.open(info) as member:
                    raw = io.BytesIO(member.read())
                add_photo(project, photo.uid, raw, info.file_size, photo.caption, photo.taken_on)
            except (zipfile.BadZipFile, EOFError, OSError) as error:
                raise _refuse("A photo in the zip is damaged.", "Export or copy it again.") from error
            except Problem as problem:
                raise _refuse(f"Photo “{photo.caption or photo.uid}”: {problem.message}", problem.remedy) from problem


@transaction.atomic
def import_project(user: User, content: ProjectFile) -> Project:
    """A new project from checked content, without the files of its photos."""
    check_climate(user, content.project)
    limits = {limit.key: limit.value for limit in content.project.limits}
    checked_limits(LIMITS, limits)
    project = Project.objects.create(
        owner=signed_in(user),
        **{name: getattr(content.project, name) for name in (*ProjectFields.model_fields, "corrected")},
        brief=content.brief.model_dump(mode="json"),
        shape=content.shape.model_dump(mode="json"),
        limits=limits,
    )
    elements: list[Element] = []
    for position, entry in enumerate(content.elements):
        _check_element(entry)
        element = Element.objects.create(
            project=project,
            position=position,
            **{name: getattr(entry, name) for name in ElementFields.model_fields},
            shape_key=entry.shape_key,
            derived=entry.derived,
            corrected=entry.corrected,
            rain=entry.rain.model_dump(mode="json") if entry.rain else None,
        )
        elements.append(element)
        if entry.looked_at is not None:
            element.looked_at_by, element.looked_at_on = entry.looked_at.by, entry.looked_at.on
            element.looked_at_note = entry.looked_at.note
        if entry.override is not None:
            element.override_by, element.override_reason = entry.override.by, entry.override.reason
            element.override_at = entry.override.at
        element.save()
        _bring_options(element, entry)
    _bring_survey(project, content, elements)
    HistoryEntry.write(
        project, user, "import project", f"imported “{project.name}” with {len(content.elements)} elements"
    )
    return project


def _bring_options(element: Element, entry: FileElement) -> None:
    found = [option for option in entry.options if option.role == Option.AS_FOUND]
    if len(found) != (1 if element.has_build_up else 0):
        raise _refuse(
            f"Element “{element.name}” has {len(found)} as-found build-ups.",
            "It must have one; windows and doors have none.",
        )
    options = [
        Option.objects.create(
            element=element,
            role=option.role,
            position=index,
            name=option.name,
            school=option.school,
            build_up=option.build_up.model_dump(mode="json"),
            draft=option.draft.model_dump(mode="json") if option.draft else None,
        )
        for index, option in enumerate(entry.options)
    ]
    if entry.choice is not None:
        if entry.choice.option >= len(options) or options[entry.choice.option].role == Option.AS_FOUND:
            raise _refuse(f"The choice of “{element.name}” points to no option.", "Correct the index.")
        choice = entry.choice
        element.choose(options[choice.option], choice.reason, choice.by, choice.at)


def _bring_survey(project: Project, content: ProjectFile, elements: list[Element]) -> None:
    def element_at(index: int | None, what: str) -> Element | None:
        if index is None:
            return None
        if not 0 <= index < len(elements):
            raise _refuse(f"{what} points to element {index}, which is not there.", "Correct the index.")
        return elements[index]

    for what, uids in (
        ("photos", [photo.uid for photo in content.photos]),
        ("evidence", [entry.uid for entry in content.evidence]),
        ("water items", [entry.uid for entry in content.water]),
        ("measurements", [entry.uid for entry in content.measurements]),
    ):
        if len(set(uids)) != len(uids):
            raise _refuse(f"Two {what} share one uid.", "Correct the uid.")
    mechanisms = {rule.id for rule in rules().mechanisms}
    rows: dict[str, Evidence] = {}
    for entry in content.evidence:
        cause = entry.cause or FileCause(mechanism="")
        if cause.mechanism and cause.mechanism not in mechanisms:
            raise _refuse(f"Evidence {entry.uid}: there is no mechanism “{cause.mechanism}”.", "Correct it.")
        rows[entry.uid] = Evidence.objects.create(
            project=project,
            uid=entry.uid,
            element=element_at(entry.element, "A piece of evidence"),
            pin=entry.pin.model_dump(mode="json"),
            photos=list(entry.photos),
            cause=cause.mechanism,
            cause_reason=cause.reason,
            cause_by=cause.by,
            cause_at=cause.at,
        )
    stages = {stage.id for stage in rules().stages}
    for item in content.water:
        if item.stage not in stages or set(item.evidence) - set(rows):
            raise _refuse(f"Water item “{item.title}” names a stage or evidence that is not there.", "Correct it.")
        made = WaterItem.objects.create(project=project, **item.model_dump(exclude={"elements", "evidence"}))
        made.elements.set([e for e in (element_at(i, "A water item") for i in item.elements) if e is not None])
        made.evidence.set([rows[uid] for uid in item.evidence])
    for measurement in content.measurements:
        data = getattr(measurement, measurement.kind)
        if data is None:
            raise _refuse(f"Measurement {measurement.uid} holds no readings of its kind.", "Correct it.")
        leaks = []
        for leak in measurement.leaks:
            at = element_at(leak.element, "A leak")
            leaks.append({"place": leak.place, "size": leak.size, "element_id": at.pk if at else None})
        Measurement.objects.create(
            project=project,
            element=element_at(measurement.element, "A measurement"),
            data=data.model_dump(mode="json"),
            leaks=leaks,
            **measurement.model_dump(include={"uid", "kind", "measured_on", "place", "instrument", "note"}),
        )
