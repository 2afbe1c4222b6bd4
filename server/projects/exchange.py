"""The open project file: a zip with project.json, or a bare project.json. Read with limits, written as a stream."""

from __future__ import annotations

import json
import tempfile
import zipfile
from datetime import datetime
from typing import IO, Annotated, Any, Literal

from django.conf import settings
from django.db import transaction
from pydantic import ConfigDict, Field, ValidationError

from core.buildup.model import BuildUp
from core.case import describe_problems
from server.problems import Problem
from server.projects.actions import User, _check_climate, _check_element, option_values
from server.projects.models import Element, HistoryEntry, Option, Project, signed_in
from server.projects.schemas import Body, ElementFields, Name, ProjectFields

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


class FileElement(ElementFields):
    options: list[FileOption] = []
    choice: FileChoice | None = None


class ProjectFile(Body):
    """project.json, version 1. Its JSON Schema is docs/project.schema.json."""

    model_config = ConfigDict(extra="forbid", allow_inf_nan=False)
    format: Literal["wendrick-project"] = "wendrick-project"
    version: Literal[1] = 1
    project: ProjectFields
    elements: Annotated[list[FileElement], Field(max_length=2000)]


def document(project: Project) -> dict[str, Any]:
    """The project as plain data, in the order of the file."""
    elements = []
    for element in project.elements.all():
        options = sorted(element.options.all(), key=lambda o: (o.role != Option.AS_FOUND, o.position, o.pk))
        values = {name: getattr(element, name) for name in ElementFields.model_fields}
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
        elements.append(values)
    raw = {"project": {name: getattr(project, name) for name in ProjectFields.model_fields}, "elements": elements}
    return ProjectFile.model_validate(raw).model_dump(mode="json")


def write(project: Project) -> IO[bytes]:
    """A temporary file holding the zip, at its start; the caller closes it."""
    out = tempfile.TemporaryFile()  # noqa: SIM115  (the caller closes it)
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as archive:
        info = zipfile.ZipInfo("project.json", date_time=(1980, 1, 1, 0, 0, 0))
        info.compress_type = zipfile.ZIP_DEFLATED
        archive.writestr(info, json.dumps(document(project), indent=1, ensure_ascii=False, sort_keys=True))
    out.seek(0)
    return out


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
                if info.filename != "project.json" and not info.filename.startswith("photos/"):
                    raise _refuse(
                        f"The zip holds “{info.filename}”, which does not belong there.",
                        "Choose a file that Wendrick exported.",
                    )
            with archive.open("project.json") as member:
                return _read_limited(member, settings.LARGEST_PROJECT_JSON, "project.json")
    except (zipfile.BadZipFile, EOFError, OSError, NotImplementedError, RuntimeError) as error:
        raise _refuse("The file is cut off or damaged; it cannot be unpacked.", "Export or copy it again.") from error


@transaction.atomic
def import_project(user: User, content: ProjectFile) -> Project:
    """A new project from a file; all or nothing."""
    _check_climate(content.project)
    project = Project.objects.create(owner=signed_in(user), **content.project.model_dump())
    for position, entry in enumerate(content.elements):
        _check_element(entry)
        fields = {name: getattr(entry, name) for name in ElementFields.model_fields}
        element = Element.objects.create(project=project, position=position, **fields)
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
            element.chosen = options[entry.choice.option]
            element.chosen_reason, element.chosen_by = entry.choice.reason, entry.choice.by
            element.chosen_at = entry.choice.at
            element.save()
    HistoryEntry.write(
        project, user, "import project", f"imported “{project.name}” with {len(content.elements)} elements"
    )
    return project
