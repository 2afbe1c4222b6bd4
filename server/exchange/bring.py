"""Bringing a project file in: read, checked and decoded first, outside any transaction; then written in one short one."""

from __future__ import annotations

import hashlib
import io
import shutil
import tempfile
import zipfile
import zlib
from dataclasses import dataclass
from pathlib import Path
from typing import IO, Any

from django.conf import settings
from django.db import transaction

from core.criteria.judging import checked_limits
from core.criteria.registry import LIMITS
from core.readiness.rules import rules
from server.climates import files as climates
from server.exchange.read import read, read_limited, refuse
from server.exchange.schemas import FileCause, FileChoice, FileElement, FileOption, ProjectFile
from server.files import write_whole
from server.library.own import check_mine, keep_carried, named_by
from server.overview.actions import check_climate
from server.problems import Problem
from server.projects.models import (
    Choice,
    ClimateFile,
    Element,
    HistoryEntry,
    Option,
    Phase,
    Project,
    Scheme,
    signed_in,
)
from server.projects.permissions import User
from server.projects.schemas import ElementFields, ProjectFields
from server.schemes.actions import check_pdf
from server.schemes.models import Basis, document_path
from server.survey import photos
from server.survey.elements import check_element
from server.survey.models import Evidence, Measurement, Photo, WaterItem
from server.survey.photo_rows import forget_photos

MOST_DOCUMENTS = 100 * 1024 * 1024
DAMAGED = (zipfile.BadZipFile, EOFError, OSError, RuntimeError, zlib.error)


@dataclass(frozen=True)
class Incoming:
    """A project file that was found good: its content, its climates as checked bytes, its pictures as files."""

    content: ProjectFile
    climates: list[climates.Hours]
    pictures: dict[str, photos.Picture]
    documents: dict[str, bytes]


def import_file(user: User, stream: IO[bytes], size: int) -> Project:
    """A new project from a project file; all or nothing, the files of its photos too."""
    content = read(stream, size)
    stream.seek(0)
    check(content)
    Path(settings.PHOTOS).mkdir(parents=True, exist_ok=True)
    with tempfile.TemporaryDirectory(prefix="incoming-", dir=settings.PHOTOS) as staging:
        folder = Path(staging) / "photos"
        folder.mkdir()
        brought = _climates_of(user, content, stream)
        pictures = _pictures_of(content, stream, folder)
        return write(user, Incoming(content, brought, pictures, _documents_of(content, stream)), folder)


def write(user: User, incoming: Incoming, folder: Path) -> Project:
    """The rows, and the folder of pictures put in its place: the only part that holds the database."""
    project: Project | None = None
    try:
        with transaction.atomic():
            for hours in incoming.climates:
                climates.keep_row(user, hours)
            keep_carried(user, [(one.entry, one.sheet, one.filled) for one in incoming.content.materials])
            check_climate(user, incoming.content.project)
            check_mine(user, _materials_named(incoming.content))
            project = _write_project(user, incoming)
            for uid, raw in incoming.documents.items():
                write_whole(document_path(project.pk, uid), raw)
            if incoming.pictures:
                forget_photos(project.pk)
                folder.rename(Path(settings.PHOTOS) / str(project.pk))
    except BaseException:
        if project is not None:
            forget_photos(project.pk)
            shutil.rmtree(document_path(project.pk, "x").parent, ignore_errors=True)
        raise
    return project


def check(content: ProjectFile) -> None:
    """What the schema cannot say: that every reference of the file leads to something in the file."""
    checked_limits(LIMITS, {limit.key: limit.value for limit in content.project.limits})
    known = _uids("photos", [photo.uid for photo in content.photos])
    evidence = _uids("pieces of evidence", [entry.uid for entry in content.evidence])
    _uids("water items", [entry.uid for entry in content.water])
    _uids("measurements", [entry.uid for entry in content.measurements])
    for element in content.elements:
        check_element(element)
        _check_options(element, known)
    _check_schemes(content)
    _uids("bases of decisions", [one.uid for one in content.bases])
    for basis in content.bases:
        _there(known, basis.photos, f"What a decision rests on ({basis.uid}) names a photo that is not in the file.")
        _at(content, basis.element, "What a decision rests on")
        if basis.option is not None and (
            basis.element is None or basis.option >= len(content.elements[basis.element].options)
        ):
            raise refuse(f"What a decision rests on ({basis.uid}) points to no option.", "Correct the index.")
    mechanisms = {rule.id for rule in rules().mechanisms}
    stages = {stage.id for stage in rules().stages}
    for entry in content.evidence:
        _there(known, entry.photos, f"Evidence {entry.uid} names a photo that is not in the file.")
        _at(content, entry.element, "A piece of evidence")
        if entry.cause is not None and entry.cause.mechanism and entry.cause.mechanism not in mechanisms:
            raise refuse(f"Evidence {entry.uid}: there is no mechanism “{entry.cause.mechanism}”.", "Correct it.")
    for item in content.water:
        _there(known, item.photos, f"Water item “{item.title}” names a photo that is not in the file.")
        _there(evidence, item.evidence, f"Water item “{item.title}” names evidence that is not there.")
        if item.stage not in stages:
            raise refuse(
                f"Water item “{item.title}” names the stage “{item.stage}”, which is not there.", "Correct it."
            )
        for index in item.elements:
            _at(content, index, "A water item")
    for measurement in content.measurements:
        if getattr(measurement, measurement.kind) is None:
            raise refuse(f"Measurement {measurement.uid} holds no readings of its kind.", "Correct it.")
        _at(content, measurement.element, "A measurement")
        for leak in measurement.leaks:
            _at(content, leak.element, "A leak")


def _check_schemes(content: ProjectFile) -> None:
    """Choices of schemes point to elements, options and phases that are there; one scheme at most is shown."""
    phases = len(content.schemes[0].phases) if content.schemes else 0
    for element in content.elements:
        if element.choice is not None:
            _check_choice(element.choice, element.options, phases, f"The choice of “{element.name}”")
    if sum(scheme.shown for scheme in content.schemes) > 1:
        raise refuse("Two schemes are said to be shown.", "Leave one.")
    for number, scheme in enumerate(content.schemes):
        if number == 0 and scheme.choices:
            raise refuse("The choices of the first scheme stand with the elements.", "Move them there.")
        chosen = [choice.element for choice in scheme.choices]
        if len(set(chosen)) != len(chosen):
            raise refuse(f"The scheme “{scheme.name}” chooses twice for one element.", "Leave one.")
        for choice in scheme.choices:
            _at(content, choice.element, f"A choice of “{scheme.name}”")
            options = content.elements[choice.element].options
            _check_choice(choice, options, len(scheme.phases), f"A choice of “{scheme.name}”")


def _check_choice(choice: FileChoice, options: list[FileOption], phases: int, what: str) -> None:
    """A choice, and what stands until it is built, point to options and phases that are there."""
    for index in (choice.option, choice.between):
        if index is not None and (index >= len(options) or options[index].role == Option.AS_FOUND):
            raise refuse(f"{what} points to no option.", "Correct the index.")
    if any(index is not None and index >= phases for index in (choice.phase, choice.between_phase)):
        raise refuse(f"{what} points to no phase.", "Correct the index.")


def _documents_of(content: ProjectFile, stream: IO[bytes]) -> dict[str, bytes]:
    """PDFs out of the zip, each looked at; together no more than a file may hold."""
    wanted = [basis for basis in content.bases if basis.document]
    if not wanted:
        return {}
    stream.seek(0)
    if not zipfile.is_zipfile(stream):
        raise refuse(
            f"The file names {len(wanted)} documents but holds none.", "Choose the zip, not the project.json alone."
        )
    stream.seek(0)
    found, total = {}, 0
    with zipfile.ZipFile(stream) as archive:
        for basis in wanted:
            what = f"Document “{basis.document[:80]}”"
            try:
                with archive.open(f"documents/{basis.uid}.pdf") as member:
                    raw = read_limited(member, settings.LARGEST_DOCUMENT, what)
            except (KeyError, *DAMAGED) as error:
                raise refuse(f"{what} is not in the zip, or damaged.", "Export the project again.") from error
            total += len(raw)
            if total > MOST_DOCUMENTS:
                raise refuse(f"The documents hold more than {MOST_DOCUMENTS // 1024**2} MB.", "Split the project.")
            try:
                check_pdf(raw)
            except Problem as problem:
                raise refuse(f"{what}: {problem.message}", problem.remedy) from problem
            found[basis.uid] = raw
    return found


def _materials_named(content: ProjectFile) -> set[str]:
    options = [option for element in content.elements for option in element.options]
    return {name for option in options for one in (option.build_up, option.draft) for name in named_by(one)}


def _uids(what: str, uids: list[str]) -> set[str]:
    if len(set(uids)) != len(uids):
        raise refuse(f"Two {what} share one uid.", "Correct the uid.")
    return set(uids)


def _there(known: set[str], named: list[str], message: str) -> None:
    if set(named) - known:
        raise refuse(message, "Export the project again, or take the name out.")


def _at(content: ProjectFile, index: int | None, what: str) -> None:
    if index is not None and index >= len(content.elements):
        raise refuse(f"{what} points to element {index}, which is not there.", "Correct the index.")


def _check_options(element: FileElement, known: set[str]) -> None:
    """One as-found build-up for what has layers, none for windows and doors; layers name photos that are there."""
    found = [option for option in element.options if option.role == Option.AS_FOUND]
    if len(found) != (0 if element.kind in ("window", "door") else 1):
        raise refuse(
            f"Element “{element.name}” has {len(found)} as-found build-ups.",
            "It must have one; windows and doors have none.",
        )
    for option in element.options:
        for build_up in (option.build_up, option.draft):
            named = [layer.photo for layer in build_up.layers if layer.photo] if build_up is not None else []
            _there(known, named, f"A layer of “{element.name}” names a photo that is not in the file.")


def _climates_of(user: User, content: ProjectFile, stream: IO[bytes]) -> list[climates.Hours]:
    """Imported weather and indoor air out of the zip, checked like any climate; those that are known already stay."""
    wanted = {content.project.climate: ClimateFile.WEATHER, content.project.occupancy: ClimateFile.INDOOR}
    wanted |= {name: ClimateFile.INDOOR for one in content.elements for name in (one.beside_found, one.beside_after)}
    found = []
    for name, kind in wanted.items():
        if not name.startswith("own-") or ClimateFile.objects.viewable_by(user).filter(name=name).exists():
            continue
        stream.seek(0)
        if not zipfile.is_zipfile(stream):
            raise refuse(f"The file names the climate “{name}” but holds none.", "Choose the zip.")
        stream.seek(0)
        with zipfile.ZipFile(stream) as archive:
            try:
                with archive.open(f"climates/{name}.csv") as member:
                    raw = read_limited(member, settings.LARGEST_CLIMATE, "The climate")
            except (KeyError, *DAMAGED) as error:
                raise refuse(f"The climate “{name}” is not in the zip.", "Export the project again.") from error
        found.append(climates.checked(raw, kind, name))
    return found


def _pictures_of(content: ProjectFile, stream: IO[bytes], folder: Path) -> dict[str, photos.Picture]:
    """Photos one by one out of the zip; each is read as a picture, so that nothing else gets in."""
    if not content.photos:
        return {}
    stream.seek(0)
    if not zipfile.is_zipfile(stream):
        raise refuse(
            f"The file names {len(content.photos)} photos but holds none.",
            "Choose the zip, not the project.json alone.",
        )
    stream.seek(0)
    pictures = {}
    with zipfile.ZipFile(stream) as archive:
        names = {info.filename: info for info in archive.infolist()}
        for photo in content.photos:
            what = f"Photo “{photo.caption[:80] or photo.uid}”"
            info = names.get(f"photos/{photo.uid}.jpg")
            if info is None:
                raise refuse(f"{what} is not in the zip.", "Export the project again.")
            try:
                with archive.open(info) as member:
                    raw = read_limited(member, settings.LARGEST_PHOTO, what)
                pictures[photo.uid] = photos.shrink(io.BytesIO(raw), len(raw), folder, photo.uid)
            except DAMAGED as error:
                if isinstance(error, OSError) and error.errno is not None:
                    raise  # of the disk, not of the file
                raise refuse("A photo in the zip is damaged.", "Export or copy it again.") from error
            except Problem as problem:
                raise refuse(f"{what}: {problem.message}", problem.remedy) from problem
    return pictures


def _write_project(user: User, incoming: Incoming) -> Project:
    content = incoming.content
    project = Project.objects.create(
        owner=signed_in(user),
        **content.project.model_dump(include=set(ProjectFields.model_fields)),
        corrected=list(content.project.corrected),
        brief=content.brief.model_dump(mode="json"),
        shape=content.shape.model_dump(mode="json"),
        air=content.air.model_dump(mode="json") if content.air is not None else {},
        energy=content.energy.model_dump(mode="json") if content.energy is not None else {},
        rooms=content.rooms.model_dump(mode="json") if content.rooms is not None else {},
        limits={limit.key: limit.value for limit in content.project.limits},
        prices=[price.model_dump(mode="json") for price in content.project.prices],
    )
    elements = [_write_element(project, position, entry) for position, entry in enumerate(content.elements)]
    Photo.objects.bulk_create(
        Photo(
            project=project,
            uid=photo.uid,
            caption=photo.caption,
            taken_on=photo.taken_on,
            **incoming.pictures[photo.uid].sizes,
        )
        for photo in content.photos
    )
    _write_survey(project, content, elements)
    _write_schemes(project, content, elements, incoming.documents)
    HistoryEntry.write(
        project, user, "import project", f"imported “{project.name}” with {len(content.elements)} elements"
    )
    return project


def _write_element(project: Project, position: int, entry: FileElement) -> Element:
    element = Element(
        project=project,
        position=position,
        **entry.model_dump(include=set(ElementFields.model_fields)),
        shape_key=entry.shape_key,
        derived=entry.derived.model_dump(mode="json") if entry.derived is not None else {},
        corrected=list(entry.corrected),
        rain=entry.rain.model_dump(mode="json") if entry.rain else None,
        beside_found=entry.beside_found,
        beside_after=entry.beside_after,
    )
    if entry.looked_at is not None:
        element.looked_at_by, element.looked_at_on = entry.looked_at.by, entry.looked_at.on
        element.looked_at_note = entry.looked_at.note
    if entry.override is not None:
        element.override_by, element.override_reason = entry.override.by, entry.override.reason
        element.override_at = entry.override.at
    element.save()
    options = Option.objects.bulk_create(
        Option(
            element=element,
            role=option.role,
            position=index,
            name=option.name,
            school=option.school,
            build_up=option.build_up.model_dump(mode="json"),
            draft=option.draft.model_dump(mode="json") if option.draft else None,
            rejected_reason=option.rejected.reason if option.rejected else "",
            rejected_by=option.rejected.by if option.rejected else "",
            rejected_at=option.rejected.at if option.rejected else None,
            checks=[check.model_dump(mode="json") for check in option.checks],
            works=[work.model_dump(mode="json") for work in option.works],
        )
        for index, option in enumerate(entry.options)
    )
    choice = entry.choice
    if choice is not None:
        element.choose(options[choice.option], choice.reason, choice.by, choice.at)
    return element


def _write_schemes(
    project: Project, content: ProjectFile, elements: list[Element], documents: dict[str, bytes]
) -> None:
    """Schemes beside the first, phases of all, what decisions rest on. The choices of the first are there already."""
    options = [sorted(element.options.all(), key=lambda option: option.position) for element in elements]
    for position, entry in enumerate(content.schemes):
        scheme, _ = Scheme.objects.update_or_create(
            project=project,
            position=position,
            defaults={
                "name": entry.name,
                "note": entry.note,
                "changes": {} if entry.changes.nothing else entry.changes.model_dump(mode="json"),
                "air": entry.air.model_dump(mode="json") if entry.air is not None else {},
            },
        )
        phases = [
            Phase.objects.create(scheme=scheme, position=index, **phase.model_dump())
            for index, phase in enumerate(entry.phases)
        ]
        if entry.line_phase is not None and entry.line_phase < len(phases):
            scheme.line_phase = phases[entry.line_phase]
            scheme.save(update_fields=["line_phase"])
        if position == 0:
            for index, said in enumerate(content.elements):
                if said.choice is not None:
                    when = _when(said.choice, options[index], phases)
                    Choice.objects.filter(scheme=scheme, element=elements[index]).update(**when)
        for choice in entry.choices:
            option = options[choice.element][choice.option]
            Choice.objects.create(
                scheme=scheme, element=elements[choice.element], option=option, reason=choice.reason, by=choice.by,
                at=choice.at, layers=option.build_up, **_when(choice, options[choice.element], phases),
            )  # fmt: skip
        if entry.shown:
            project.scheme = scheme
            project.save(update_fields=["scheme"])
    for basis in content.bases:
        raw = documents.get(basis.uid, b"")
        Basis.objects.create(
            project=project,
            element=None if basis.element is None else elements[basis.element],
            option=None if basis.element is None or basis.option is None else options[basis.element][basis.option],
            size=len(raw),
            sha256=hashlib.sha256(raw).hexdigest() if raw else "",
            **basis.model_dump(exclude={"element", "option"}),
        )


def _when(choice: FileChoice, options: list[Option], phases: list[Phase]) -> dict[str, Any]:
    """Its phase, and what stands until then from which phase on."""
    return {
        "phase": None if choice.phase is None else phases[choice.phase],
        "between": None if choice.between is None else options[choice.between],
        "between_phase": None if choice.between_phase is None else phases[choice.between_phase],
    }


def _write_survey(project: Project, content: ProjectFile, elements: list[Element]) -> None:
    def at(index: int | None) -> Element | None:
        return None if index is None else elements[index]

    rows: dict[str, Evidence] = {}
    for entry in content.evidence:
        cause = entry.cause or FileCause(mechanism="")
        rows[entry.uid] = Evidence.objects.create(
            project=project,
            uid=entry.uid,
            element=at(entry.element),
            pin=entry.pin.model_dump(mode="json"),
            photos=list(entry.photos),
            cause=cause.mechanism,
            cause_reason=cause.reason,
            cause_by=cause.by,
            cause_at=cause.at,
        )
    for item in content.water:
        made = WaterItem.objects.create(project=project, **item.model_dump(exclude={"elements", "evidence"}))
        made.elements.set([elements[index] for index in item.elements])
        made.evidence.set([rows[uid] for uid in item.evidence])
    for measurement in content.measurements:
        leaks = []
        for leak in measurement.leaks:
            where = at(leak.element)
            leaks.append({"place": leak.place, "size": leak.size, "element_id": where.pk if where else None})
        Measurement.objects.create(
            project=project,
            element=at(measurement.element),
            data=getattr(measurement, measurement.kind).model_dump(mode="json"),
            leaks=leaks,
            **measurement.model_dump(include={"uid", "kind", "measured_on", "place", "instrument", "stage", "note"}),
        )
