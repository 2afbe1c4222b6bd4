"""A project as its open file: plain data, and the zip with photos and climates, written as a stream."""

from __future__ import annotations

import json
import shutil
import tempfile
import zipfile
from typing import IO, Any

from server.climates import files as climates
from server.exchange.schemas import ProjectFile
from server.library.own import carried
from server.options.actions import option_values
from server.problems import Problem
from server.projects.models import Choice, Option, Project
from server.projects.permissions import CHOICES
from server.projects.schemas import ElementFields, ProjectFields
from server.schemes.models import Basis
from server.survey.models import Evidence

CHUNK = 1024 * 1024


def _plain(row: Any, names: tuple[str, ...]) -> dict[str, Any]:
    return {name: getattr(row, name) for name in names}


def document(project: Project) -> dict[str, Any]:
    """The project as plain data, in the order of the file."""
    elements = []
    rows = list(project.elements.prefetch_related("options", "choices__scheme__phases", *CHOICES))
    index = {element.pk: number for number, element in enumerate(rows)}
    photos = set(project.photos.values_list("uid", flat=True))
    option_ids: dict[int, list[int]] = {}
    for element in rows:
        options = sorted(element.options.all(), key=lambda o: (o.role != Option.AS_FOUND, o.position, o.pk))
        values = _plain(element, (*ElementFields.model_fields, "shape_key", "rain", "beside_found", "beside_after"))
        values["derived"], values["corrected"] = element.from_shape, element.typed
        values["options"] = [
            {
                **option_values(option),
                "build_up": _with_known_photos(option.build_up, photos),
                "draft": _with_known_photos(option.draft, photos),
            }
            for option in options
        ]
        ids = option_ids[element.pk] = [option.pk for option in options]
        values["choice"] = next(
            (_choice_values(c, ids) for c in element.choices.all() if c.scheme.position == 0 and c.option_id in ids),
            None,
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
            **_plain(project, tuple(ProjectFields.model_fields)),
            "corrected": project.typed,
            "prices": project.prices,
            "limits": [{"key": key, "value": value} for key, value in sorted(project.limits.items())],
        },
        "materials": carried(project),
        "brief": project.brief,
        "shape": project.current_shape,
        "air": project.current_air if project.air else None,
        "energy": project.current_energy if project.energy else None,
        "rooms": project.current_rooms if project.rooms else None,
        "elements": elements,
        "schemes": _schemes(project, index, option_ids),
        "bases": [_basis_values(row, index, option_ids, photos) for row in project.bases.order_by("pk")],
        "photos": [_plain(photo, ("uid", "caption", "taken_on")) for photo in project.photos.all()],
        "evidence": [_evidence_values(row, index, photos) for row in project.evidence.all()],
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
                    ),
                ),
                "photos": _known(row.photos, photos),
                "elements": sorted(index[element.pk] for element in row.elements.all()),
                "evidence": [evidence.uid for evidence in row.evidence.all()],
            }
            for row in project.water_items.prefetch_related("elements", "evidence")
        ],
        "measurements": [
            {
                **_plain(row, ("uid", "kind", "measured_on", "place", "instrument", "stage", "note")),
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


def _choice_values(choice: Choice, option_ids: list[int]) -> dict[str, Any]:
    phases = [phase.pk for phase in choice.scheme.phases.all()]
    return {
        "option": option_ids.index(choice.option_id or 0),
        "reason": choice.reason,
        "by": choice.by,
        "at": choice.at,
        "phase": phases.index(choice.phase_id) if choice.phase_id in phases else None,
        "between": option_ids.index(choice.between_id) if choice.between_id in option_ids else None,
        "between_phase": phases.index(choice.between_phase_id) if choice.between_phase_id in phases else None,
    }


def _schemes(project: Project, index: dict[int, int], option_ids: dict[int, list[int]]) -> list[dict[str, Any]]:
    """Schemes in order; the choices of the first stand with the elements."""
    found = []
    for scheme in project.schemes.prefetch_related("phases", "choices__scheme__phases"):
        choices = []
        for choice in scheme.choices.all():
            ids = option_ids.get(choice.element_id, [])
            if scheme.position and choice.option_id in ids:
                choices.append({"element": index[choice.element_id], **_choice_values(choice, ids)})
        phase_ids = [phase.pk for phase in scheme.phases.all()]
        found.append(
            {
                "changes": scheme.current_changes,
                "air": scheme.current_air if scheme.air else None,
                "line_phase": phase_ids.index(scheme.line_phase_id) if scheme.line_phase_id in phase_ids else None,
                "name": scheme.name,
                "note": scheme.note,
                "shown": scheme.pk == project.scheme_id,
                "phases": [_plain(phase, ("name", "starts_on", "years_after")) for phase in scheme.phases.all()],
                "choices": sorted(choices, key=lambda one: int(one["element"])),
            }
        )
    first = found[0] if len(found) == 1 else {}
    own = first and (first["phases"] or first["note"] or not first["changes"].nothing or first["air"] is not None)
    return [] if first and not own and first["name"] == "Proposal" else found


def _basis_values(
    row: Basis, index: dict[int, int], option_ids: dict[int, list[int]], photos: set[str]
) -> dict[str, Any]:
    ids = option_ids.get(row.element_id or -1, [])
    return {
        **_plain(row, ("uid", "kind", "who", "on", "text", "answer", "answered_on", "document", "by")),
        "element": index.get(row.element_id or -1),
        "option": ids.index(row.option_id) if row.option_id in ids else None,
        "photos": _known(row.photos, photos),
    }


def _known(named: list[str], photos: set[str]) -> list[str]:
    """Of the photos a row names those that are there."""
    return [uid for uid in named if uid in photos]


def _with_known_photos(build_up: dict[str, Any] | None, photos: set[str]) -> dict[str, Any] | None:
    if build_up is None:
        return None
    layers = [{**layer, "photo": ""} if layer.get("photo", "") not in photos else layer for layer in build_up["layers"]]
    return {**build_up, "layers": layers}


def _evidence_values(row: Evidence, index: dict[int, int], photos: set[str]) -> dict[str, Any]:
    cause = {"mechanism": row.cause, "reason": row.cause_reason, "by": row.cause_by, "at": row.cause_at}
    return {
        "uid": row.uid,
        "element": index.get(row.element_id or -1),
        "pin": row.pin,
        "photos": _known(row.photos, photos),
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
                    422,
                    "photo_missing",
                    f"The file of photo “{photo.caption or photo.uid}” is missing.",
                    "Remove the photo.",
                )
            info = zipfile.ZipInfo(f"photos/{photo.uid}.jpg", date_time=(1980, 1, 1, 0, 0, 0))
            with archive.open(info, "w") as member, open(photo.path(), "rb") as source:  # JPEG: stored as it is
                shutil.copyfileobj(source, member, CHUNK)
        for row in project.bases.exclude(document=""):
            if not row.path.exists():
                raise Problem(
                    422,
                    "document_gone",
                    f"The file of “{row.document}” is missing.",
                    "Attach it again, or remove the entry.",
                )
            info = zipfile.ZipInfo(f"documents/{row.uid}.pdf", date_time=(1980, 1, 1, 0, 0, 0))
            with archive.open(info, "w") as member, open(row.path, "rb") as source:
                shutil.copyfileobj(source, member, CHUNK)
        for name in climate_names(project):
            info = zipfile.ZipInfo(f"climates/{name}.csv", date_time=(1980, 1, 1, 0, 0, 0))
            info.compress_type = zipfile.ZIP_DEFLATED
            if not climates.there(name):
                raise Problem(422, "climate_gone", project.climate_gone, "Then export again.")
            archive.writestr(info, climates.path_of(name).read_bytes())
    out.seek(0)
    return out


def climate_names(project: Project) -> list[str]:
    """Imported climates and indoor series the project uses."""
    beside = project.elements.exclude(beside_found="", beside_after="").values_list("beside_found", "beside_after")
    names = dict.fromkeys([project.climate, project.occupancy, *(name for pair in beside for name in pair)])
    return [name for name in names if name.startswith("own-")]
